"""Put the API together."""

from __future__ import annotations

import json
from functools import cache
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.parser import Parser
from ninja.security import django_auth

from larder.base.guard import Wanted, guarded_json

from . import envelope
from .catalogue import router as catalogue
from .plans import router as plans
from .sessions import router as sessions
from .standards import router as standards
from .stock import router as stock

BODY = Wanted("request body", "a JSON object as this page sends it", settings.DATA_UPLOAD_MAX_MEMORY_SIZE)


class GuardedParser(Parser):
    """What is sent as JSON passes the same guard as a file does."""

    def parse_body(self, request: HttpRequest) -> Any:
        return guarded_json(request.body, BODY)


api = NinjaAPI(
    title="Grand Larder",
    version="1",
    description="Plans of shared storage: asked, saved, merged, explained.",
    docs_url=None,
    openapi_url=None,
    parser=GuardedParser(),
    auth=django_auth,
    urls_namespace="api",
)
envelope.install(api)


@cache
def openapi() -> bytes:
    """The API's own description; two seconds of work, done once."""
    return json.dumps(api.get_openapi_schema(path_prefix="/api/"), separators=(",", ":")).encode()


@api.get("/openapi.json", include_in_schema=False)
def get_openapi(request: HttpRequest) -> HttpResponse:  # noqa: ARG001
    """The description for those who are signed in."""
    return HttpResponse(openapi(), content_type="application/json")


api.add_router("", sessions)
api.add_router("", plans)
api.add_router("", catalogue)
api.add_router("", standards)
api.add_router("", stock)
