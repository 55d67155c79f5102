"""What ./test uses: as the demo, with cheap password hashing and a key that is worth nothing."""

from .base import *

SECRET_KEY = "only-for-tests"
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "testserver"]
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    # Refusals are what many tests are about; only real faults are worth a line.
    "loggers": {"django.request": {"handlers": ["console"], "level": "ERROR", "propagate": False}},
}
