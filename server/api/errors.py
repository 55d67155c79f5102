"""What every exception is answered with: an app's says so itself, the framework's are told here."""

from __future__ import annotations

import logging
import secrets
from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from django.core.exceptions import RequestDataTooBig, TooManyFieldsSent, TooManyFilesSent
from django.db import IntegrityError, InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, RawPostDataException, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from larder.base.errors import Refused, RefusedMany, shown

from .envelope import STALE_TOKEN, Answered, Code, ErrorOut, Problem, problem_of

log = logging.getLogger("larder")


def _refused(problems: list[Problem]) -> tuple[int, ErrorOut]:
    return 422, ErrorOut(code="refused", sentence=problems[0].sentence, problems=problems)


_CODES: dict[int, Code] = {429: "locked-out"}


def _http(error: HttpError) -> tuple[int, ErrorOut]:
    if error.status_code == 400:  # Ninja's word for whatever was wrong with a body
        cause = next((kind for kind in type(error.__cause__).__mro__ if kind in ANSWERS), None)
        return ANSWERS[cause](error.__cause__) if cause else _no_json()
    if error.status_code == 403:  # the only one is about the token, Ninja's own or the sign-in's
        return 403, ErrorOut(code="not-allowed", sentence=STALE_TOKEN)
    code: Code = _CODES.get(error.status_code, "bad-request")
    return error.status_code, ErrorOut(code=code, sentence=str(error).rstrip(".") + ".")


def _plain(status: int, code: Code, sentence: str) -> Callable[[Any], tuple[int, ErrorOut]]:
    return lambda _: (status, ErrorOut(code=code, sentence=sentence))


def _taken(error: IntegrityError, taken: Mapping[str, str]) -> tuple[int, ErrorOut]:
    """Two made the same thing at once, and the database let one of them."""
    diagnosis = getattr(error.__cause__, "diag", None)
    what = taken.get(getattr(diagnosis, "constraint_name", None) or "")
    if what is None:
        raise error
    sentence = f"Somebody else made {what} at the same moment; nothing of this request was kept."
    return 409, ErrorOut(code="taken", sentence=sentence)


def _unavailable(error: Exception) -> tuple[int, ErrorOut]:
    log.error("the database does not answer: %s", " ".join(str(error).split())[:300])
    sentence = "The database does not answer at the moment; nothing was changed. Try again in a few seconds."
    return 503, ErrorOut(code="unavailable", sentence=sentence)


def _no_json() -> tuple[int, ErrorOut]:
    return _refused([problem_of(Refused("request body", "what was sent", "a JSON object"))])


def unforeseen(request: HttpRequest, error: BaseException | None) -> tuple[int, ErrorOut]:
    """A fault of our own: the log has the reason under the reference that the answer gives."""
    if isinstance(error, OperationalError | InterfaceError):
        return _unavailable(error)
    reference = secrets.token_hex(4)
    log.error("fault %s at %s %s", reference, request.method, request.path, exc_info=error)
    sentence = f"The server made a mistake; nothing was changed. Its log tells the reason under {reference}."
    return 500, ErrorOut(code="fault", sentence=sentence, reference=reference)


ANSWERS: dict[type[Exception], Callable[[Any], tuple[int, ErrorOut]]] = {
    Refused: lambda error: _refused([problem_of(error)]),
    RefusedMany: lambda error: _refused([problem_of(p) for p in error.problems]),
    ValidationError: lambda error: _refused([_request_problem(fault) for fault in error.errors]),
    Answered: lambda error: (error.status, error.envelope()),
    OperationalError: _unavailable,
    InterfaceError: _unavailable,
    RawPostDataException: lambda _: _no_json(),
    UnreadablePostError: _plain(400, "bad-request", "The request ended before all of it had come."),
    RequestDataTooBig: _plain(413, "too-large", "The request is too large: accepted are at most 6 MB."),
    TooManyFieldsSent: _plain(400, "bad-request", "The form has too many fields: accepted are at most 50."),
    TooManyFilesSent: _plain(400, "bad-request", "The form has too many files: accepted are at most 100."),
    MultiPartParserError: _plain(
        400, "bad-request", "The form cannot be read: accepted is multipart form data."
    ),
    AuthenticationError: _plain(401, "not-signed-in", "Sign in first."),
    HttpError: _http,
}


def install(api: NinjaAPI, taken: Mapping[str, str]) -> None:
    """Teach ``api`` to answer every exception of the table with the envelope.

    ``taken`` says by the name of a unique constraint what two have made at once.
    """
    answers = ANSWERS | {IntegrityError: partial(_taken, taken=taken)}

    def handler(request: HttpRequest, error: Exception) -> HttpResponse:
        answer = next(answers[kind] for kind in type(error).__mro__ if kind in answers)
        status, body = answer(error)
        return api.create_response(request, body, status=status)

    def fault(request: HttpRequest, error: Exception) -> HttpResponse:
        status, body = unforeseen(request, error)
        return api.create_response(request, body, status=status)

    def guarded(request: HttpRequest, error: Exception) -> HttpResponse:
        try:
            return handler(request, error)
        except Exception as other:  # noqa: BLE001  (whatever it is, the answer is the envelope)
            return fault(request, other)

    for kind in answers:
        api.add_exception_handler(kind, guarded)
    api.add_exception_handler(Exception, fault)


def _request_problem(fault: dict[str, Any]) -> Problem:
    """A fault that Ninja found in path, query or body, before the core was asked."""
    where = [str(part) for part in fault["loc"] if part not in ("body", "path", "query", "file", "form")]
    field = "/".join(where[1:] if len(where) > 1 else where) or "request"
    value = shown(fault.get("input")).strip('"')[:60]
    accepted = str(fault["msg"]).removeprefix("Input should be ").rstrip(".")
    accepted = accepted[:1].lower() + accepted[1:]
    sentence = Refused(field, value, accepted).sentence
    return Problem(field=field, value=value, accepted=accepted, sentence=sentence)
