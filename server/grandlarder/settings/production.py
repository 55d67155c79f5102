"""Safe by default: HTTPS only, and no start without a secret key and host names."""

from django.core.exceptions import ImproperlyConfigured

from .base import *
from .base import ALLOWED_HOSTS, SECRET_KEY

if len(SECRET_KEY) < 50:
    raise ImproperlyConfigured("LARDER_SECRET_KEY must be set to a random text of 50 characters or more.")
if any("*" in host for host in ALLOWED_HOSTS):
    raise ImproperlyConfigured("LARDER_HOSTS cannot be *: it must list the host names to answer to.")
if not ALLOWED_HOSTS:
    raise ImproperlyConfigured("LARDER_HOSTS must list the host names to answer to, joined by commas.")

SECURE_SSL_REDIRECT = True
# The header reaches Django only from a proxy in LARDER_PROXIES: the middleware takes everybody else's away.
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
SECURE_HSTS_SECONDS = 365 * 24 * 3600
SECURE_HSTS_INCLUDE_SUBDOMAINS = True
SECURE_HSTS_PRELOAD = True
SESSION_COOKIE_SECURE = True
CSRF_COOKIE_SECURE = True
