"""Serve the built frontend's page; every address of the interface is the same file."""

from __future__ import annotations

import sys

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import csrf_exempt, ensure_csrf_cookie
from django.views.decorators.http import require_safe

from api.envelope import STALE_TOKEN, Code, ErrorOut
from api.errors import unforeseen

NOT_BUILT = "The frontend is not built yet. Run ./start, or npm run build in frontend/."


@require_safe
@ensure_csrf_cookie
def page(_request: HttpRequest) -> HttpResponse:
    """The page, never cached, so that a new release's scripts are found."""
    try:
        html = (settings.FRONTEND_DIST / "index.html").read_bytes()
    except OSError:
        return HttpResponse(NOT_BUILT, content_type="text/plain", status=503)
    return HttpResponse(html, headers={"Cache-Control": "no-cache"})


def _enveloped(status: int, code: Code, sentence: str) -> JsonResponse:
    return JsonResponse(ErrorOut(code=code, sentence=sentence).model_dump(), status=status)


@csrf_exempt
def nothing_here(_request: HttpRequest, exception: object = None) -> JsonResponse:  # noqa: ARG001
    """An address that nothing answers, in the API's own envelope."""
    return _enveloped(404, "not-here", "There is nothing at this address.")


def bad_request(_request: HttpRequest, exception: object = None) -> JsonResponse:  # noqa: ARG001
    """What Django itself refuses: a host that is not ours, a form that is none."""
    return _enveloped(400, "bad-request", "The request cannot be read: accepted is one like this page's own.")


def forged(_request: HttpRequest, reason: str = "", exception: object = None) -> JsonResponse:  # noqa: ARG001
    """A change without the page's token."""
    return _enveloped(403, "not-allowed", STALE_TOKEN)


def fault(request: HttpRequest) -> JsonResponse:
    """What nobody foresaw, with a reference that stands in the log beside the reason."""
    status, body = unforeseen(request, sys.exc_info()[1])
    return JsonResponse(body.model_dump(), status=status)
