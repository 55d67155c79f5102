"""The HTTP API put together: one Ninja instance, one error envelope, the routers of the apps."""

from __future__ import annotations

import json
from functools import cache
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.parser import Parser
from ninja.security import django_auth

import plans.models
import stock.models
from accounts.router import router as accounts
from advice.router import router as advice
from api import errors
from jobs.router import router as jobs_of
from larder.base.guard import Wanted, guarded_json
from plans.catalogue_router import router as catalogue
from plans.comparing import router as comparing
from plans.paper_router import router as paper
from plans.questions import router as questions
from plans.router import router as plans_of
from plans.standards_router import router as standards
from stock.find_router import router as find
from stock.router import router as stock_of

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
errors.install(api, plans.models.TAKEN | stock.models.TAKEN)


@cache
def openapi() -> bytes:
    """The API's own description; two seconds of work, done once."""
    return json.dumps(api.get_openapi_schema(path_prefix="/api/"), separators=(",", ":")).encode()


@api.get("/openapi.json", include_in_schema=False)
def get_openapi(request: HttpRequest) -> HttpResponse:  # noqa: ARG001
    """The description for those who are signed in."""
    return HttpResponse(openapi(), content_type="application/json")


for router in (
    accounts,
    plans_of,
    questions,
    advice,
    comparing,
    paper,
    catalogue,
    standards,
    stock_of,
    find,
    jobs_of,
):
    api.add_router("", router)
