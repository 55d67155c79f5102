"""Put the API together."""

from __future__ import annotations

from ninja import NinjaAPI
from ninja.security import django_auth

from . import envelope
from .catalogue import router as catalogue
from .plans import router as plans
from .sessions import router as sessions
from .standards import router as standards
from .stock import router as stock

api = NinjaAPI(
    title="Grand Larder",
    version="1",
    description="Plans of shared storage: asked, saved, merged, explained.",
    docs_url=None,
    auth=django_auth,
    urls_namespace="api",
)
envelope.install(api)
api.add_router("", sessions)
api.add_router("", plans)
api.add_router("", catalogue)
api.add_router("", standards)
api.add_router("", stock)
