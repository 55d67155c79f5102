"""The WSGI application that gunicorn serves."""

import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[2] / "core"))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "grandlarder.settings.production")

from django.core.wsgi import get_wsgi_application

application = get_wsgi_application()
