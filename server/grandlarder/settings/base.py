"""What holds everywhere. Everything that differs between machines comes from the environment."""

from __future__ import annotations

import ipaddress
import os
from datetime import timedelta
from pathlib import Path

from csp.constants import NONE, SELF
from django.core.exceptions import ImproperlyConfigured

ROOT = Path(__file__).resolve().parents[3]
FRONTEND_DIST = ROOT / "frontend" / "dist"

SECRET_KEY = os.environ.get("LARDER_SECRET_KEY", "")
DEBUG = False
ALLOWED_HOSTS = [host for host in os.environ.get("LARDER_HOSTS", "").split(",") if host]
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("LARDER_ORIGINS", "").split(",") if o]

# Addresses or networks of proxies that may say who the client is and whether it came over HTTPS.
TRUSTED_PROXIES = [proxy for proxy in os.environ.get("LARDER_PROXIES", "").split(",") if proxy]
try:
    for _proxy in TRUSTED_PROXIES:
        ipaddress.ip_network(_proxy)
except ValueError as _fault:
    _words = f"LARDER_PROXIES must list addresses or networks, joined by commas: {_fault}."
    raise ImproperlyConfigured(_words) from None

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "accounts",
    "plans",
    "stock",
    "procrastinate.contrib.django",
    "jobs",
    "grandlarder",
]
MIDDLEWARE = [
    "grandlarder.middleware.trusted_proxy",
    "grandlarder.middleware.private_answers",
    "grandlarder.middleware.plain_requests",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "grandlarder.urls"
WSGI_APPLICATION = "grandlarder.wsgi.application"
TEMPLATES: list[dict[str, object]] = []

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("LARDER_DB_NAME", "grandlarder"),
        "USER": os.environ.get("LARDER_DB_USER", "grandlarder"),
        "PASSWORD": os.environ.get("LARDER_DB_PASSWORD", ""),
        "HOST": os.environ.get("LARDER_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("LARDER_DB_PORT", "5432"),
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        "OPTIONS": {"connect_timeout": 5},
        "ATOMIC_REQUESTS": False,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "accounts.Person"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
# Some wrong passwords for one name from one address, or many from one address, close that door for a while;
# it opens by itself. The same name from another address is not shut out.
AXES_FAILURE_LIMIT = "accounts.throttle.failure_limit"
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_COOLOFF_TIME = timedelta(minutes=5)
AXES_RESET_COOL_OFF_ON_FAILURE_DURING_LOCKOUT = False
AXES_RESET_ON_SUCCESS = True
AXES_CLIENT_IP_CALLABLE = "accounts.throttle.client_address"
AXES_VERBOSE = False
AXES_DISABLE_ACCESS_LOG = True
AXES_ENABLE_ADMIN = False
SILENCED_SYSTEM_CHECKS = ["axes.W002"]  # the API answers a lock itself, in its envelope
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": "django.contrib.auth.password_validation.MinimumLengthValidator",
        "OPTIONS": {"min_length": 10},
    },
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"
USE_I18N = False

STATIC_URL = "/static/"
STATIC_ROOT = Path(os.environ.get("LARDER_STATIC_ROOT", ROOT / ".state" / "static"))
STATICFILES_DIRS = [FRONTEND_DIST] if FRONTEND_DIST.exists() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
# Vite puts a hash into every asset's name, so they may be kept for ever.
WHITENOISE_IMMUTABLE_FILE_TEST = r"/assets/.+-[\w-]{8}\."

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
# Cookies know no port: two clones on one host tell theirs apart by name.
COOKIE_PREFIX = os.environ.get("LARDER_COOKIE_PREFIX", "larder")
SESSION_COOKIE_NAME = f"{COOKIE_PREFIX}_session"
CSRF_COOKIE_NAME = f"{COOKIE_PREFIX}_csrf"
SEAL_COOKIE_NAME = f"{COOKIE_PREFIX}_seal"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_HTTPONLY = True
CSRF_FAILURE_VIEW = "grandlarder.page.forged"

DATA_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 50

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        # Refusals are answers, not faults; a fault has its own line with the reference that was given.
        "django.request": {"level": "CRITICAL"},
        "django.security": {"level": "CRITICAL"},
        "axes": {"level": "ERROR"},
        "waitress.queue": {"level": "ERROR"},
    },
}
