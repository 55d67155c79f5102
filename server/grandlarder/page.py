"""Serve the built frontend's page; every address of the interface is the same file."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.csrf import csrf_exempt, ensure_csrf_cookie
from django.views.decorators.http import require_safe

from api.envelope import ErrorOut

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


@csrf_exempt
def nothing_here(_request: HttpRequest) -> JsonResponse:
    """An address below /api/ that nothing answers, in the API's own envelope."""
    body = ErrorOut(code="not-here", sentence="There is nothing at this address of the API.")
    return JsonResponse(body.model_dump(), status=404)
