"""What holds everywhere. Everything that differs between machines comes from the environment."""

from __future__ import annotations

import os
from pathlib import Path

from csp.constants import NONE, SELF

ROOT = Path(__file__).resolve().parents[3]
FRONTEND_DIST = ROOT / "frontend" / "dist"

SECRET_KEY = os.environ.get("LARDER_SECRET_KEY", "")
DEBUG = False
ALLOWED_HOSTS = [host for host in os.environ.get("LARDER_HOSTS", "").split(",") if host]
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("LARDER_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "csp",
    "accounts",
    "plans",
    "stock",
    "grandlarder",
]
MIDDLEWARE = [
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
        "ATOMIC_REQUESTS": False,
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "accounts.Person"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
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
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"

DATA_UPLOAD_MAX_MEMORY_SIZE = 6_000_000
FILE_UPLOAD_MAX_MEMORY_SIZE = 2_000_000
DATA_UPLOAD_MAX_NUMBER_FIELDS = 50

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
