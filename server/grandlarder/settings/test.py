"""What ./test uses: as the demo, with cheap password hashing and a key that is worth nothing."""

from .base import *

SECRET_KEY = "only-for-tests"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
TEST_RUNNER = "grandlarder.testing.TimedRunner"
# Every worker of ./test has a database of its own, copied from one that is migrated already.
DATABASES["default"]["TEST"] = {
    "NAME": os.environ.get("LARDER_TEST_DB"),
    "TEMPLATE": os.environ.get("LARDER_TEST_DB_TEMPLATE"),
}
