"""What ./start uses: loopback over plain HTTP, with the demo studio and its sign-in."""

from .base import *
from .base import SECRET_KEY

if not SECRET_KEY:
    raise RuntimeError("LARDER_SECRET_KEY is set by ./start; run that.")
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
