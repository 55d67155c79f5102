"""What ./test uses: as the demo, with cheap password hashing and a key that is worth nothing."""

from .base import *

SECRET_KEY = "only-for-tests"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
TEST_RUNNER = "grandlarder.testing.CountedRunner"
