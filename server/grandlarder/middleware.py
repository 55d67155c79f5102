"""What every request passes first: signs that nothing can store, headers only a proxy may set, caching."""

from __future__ import annotations

import ipaddress
from collections.abc import Callable
from urllib.parse import unquote_to_bytes

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse

from api.envelope import ErrorOut

Answer = Callable[[HttpRequest], HttpResponse]
_PROXY_HEADERS = ("HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_HOST")


def plain_requests(get_response: Answer) -> Answer:
    """Refuse a request with a NUL or another control character in its path, query or cookies."""

    def middleware(request: HttpRequest) -> HttpResponse:
        for where, said in (
            ("path", request.path_info),
            ("query", unquote_to_bytes(request.META.get("QUERY_STRING", "")).decode("latin-1")),
            ("cookie", unquote_to_bytes(request.META.get("HTTP_COOKIE", "")).decode("latin-1")),
        ):
            if any(sign < " " or sign == "\x7f" for sign in said):
                sentence = f"The request's {where} cannot hold a control character: accepted is plain text."
                body = ErrorOut(code="bad-request", sentence=sentence)
                return JsonResponse(body.model_dump(), status=400)
        return get_response(request)

    return middleware


def trusted_proxy(get_response: Answer) -> Answer:
    """Believe what a proxy says of the client only where the proxy is one of ours (``LARDER_PROXIES``).

    The client's address is then the last one that the proxy has added.
    """
    networks = [ipaddress.ip_network(each) for each in settings.TRUSTED_PROXIES]

    def middleware(request: HttpRequest) -> HttpResponse:
        if not any(_address(request.META.get("REMOTE_ADDR", "")) in network for network in networks):
            for header in _PROXY_HEADERS:
                request.META.pop(header, None)
        elif client := request.META.get("HTTP_X_FORWARDED_FOR", "").rpartition(",")[2].strip():
            request.META["REMOTE_ADDR"] = client
        return get_response(request)

    return middleware


def _address(text: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address:
    try:
        return ipaddress.ip_address(text)
    except ValueError:
        return ipaddress.IPv6Address(0)  # what has no address is no proxy of ours


def private_answers(get_response: Answer) -> Answer:
    """What the API answers is one person's and of this moment: nobody keeps it on the way."""

    def middleware(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if request.path_info.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response

    return middleware
