"""One shape for every error: a code, a sentence, and the problems field by field."""

from __future__ import annotations

import logging
import secrets
from collections.abc import Callable
from typing import Any, Literal

from django.core.exceptions import RequestDataTooBig, TooManyFieldsSent, TooManyFilesSent
from django.db import IntegrityError, InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse, RawPostDataException, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import BaseModel

from accounts.scope import NotAllowed, NotHere
from larder.base.errors import Refused, RefusedMany, shown
from larder.plan.glossary import label_at
from larder.readers.stock_csv import RowFault
from plans.actions import Clashing, NothingToDo
from plans.standards import StandardsMoved
from stock.actions import FaultyRows


class Problem(BaseModel):
    """One refused value; ``field`` is the path in the plan, or the name in the request."""

    field: str
    value: str
    accepted: str
    sentence: str


class ClashOut(BaseModel):
    """The same field changed twice; values as they stand in the document."""

    path: str
    label: str
    base: Any = None
    mine: Any = None
    theirs: Any = None


Code = Literal[
    "refused", "clash", "nothing-to-do", "stale", "taken", "not-signed-in", "locked-out", "not-allowed",
    "not-here", "bad-request", "too-large", "unavailable", "fault",
]  # fmt: skip
STALE_TOKEN = "The page's token is missing or old: reload the page and try again."  # noqa: S105
log = logging.getLogger("larder")


class ErrorOut(BaseModel):
    """The envelope. ``clashes`` and ``head`` come with the code ``clash``, ``reference`` with ``fault``."""

    code: Code
    sentence: str
    problems: list[Problem] = []
    clashes: list[ClashOut] = []
    head: int | None = None
    reference: str | None = None


ALWAYS: dict[int, Any] = {400: ErrorOut, 413: ErrorOut, 503: ErrorOut}
"""What any request may be answered with, before its endpoint is asked."""
ERRORS = ALWAYS | {401: ErrorOut, 403: ErrorOut, 404: ErrorOut, 422: ErrorOut}
"""What any endpoint of a studio may answer besides its own."""


def problem_of(refused: Refused) -> Problem:
    """A core refusal for the wire."""
    return Problem(
        field=refused.field,
        value=shown(refused.value).strip('"'),
        accepted=refused.accepted,
        sentence=refused.sentence,
    )


def _refused(problems: list[Problem]) -> tuple[int, ErrorOut]:
    return 422, ErrorOut(code="refused", sentence=problems[0].sentence, problems=problems)


def _row_problem(fault: RowFault) -> Problem:
    field = f"line {fault.line}, {fault.column}"
    return Problem(field=field, value="", accepted="", sentence=f"Line {fault.line}: {fault.sentence}")


def _clash(error: Clashing) -> tuple[int, ErrorOut]:
    document = error.head.document
    clashes = [
        ClashOut(path=c.path, label=label_at(c.path, document), base=c.base, mine=c.mine, theirs=c.theirs)
        for c in error.clashes
    ]
    sentence = "Somebody else changed the same field meanwhile; choose which value stays."
    return 409, ErrorOut(code="clash", sentence=sentence, clashes=clashes, head=error.head.number)


def _not_allowed(error: NotAllowed) -> tuple[int, ErrorOut]:
    sentence = f"Your role in this studio is {error.role.value}; this needs {error.needed.value}."
    return 403, ErrorOut(code="not-allowed", sentence=sentence)


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


TAKEN = {
    "one_device_per_serial_in_a_studio": "a device with this serial",
    "one_box_per_label_in_a_studio": "a box with this label",
    "one_manifest_per_material_on_a_device": "a manifest of this material on the device",
    "one_revision_per_number": "this revision",
}


def _taken(error: IntegrityError) -> tuple[int, ErrorOut]:
    """Two made the same thing at once, and the database let one of them."""
    diagnosis = getattr(error.__cause__, "diag", None)
    what = TAKEN.get(getattr(diagnosis, "constraint_name", None) or "")
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
    FaultyRows: lambda error: _refused([_row_problem(fault) for fault in error.inventory.faults[:100]]),
    Clashing: _clash,
    NothingToDo: _plain(409, "nothing-to-do", "There is no change of yours left to take back or bring back."),
    StandardsMoved: _plain(
        409, "stale", "Somebody made other values the studio's meanwhile; look at them and decide anew."
    ),
    NotHere: _plain(404, "not-here", "There is no such thing in this studio."),
    NotAllowed: _not_allowed,
    IntegrityError: _taken,
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


def install(api: NinjaAPI) -> None:
    """Teach ``api`` to answer every exception of the table with the envelope."""

    def handler(request: HttpRequest, error: Exception) -> HttpResponse:
        answer = next(ANSWERS[kind] for kind in type(error).__mro__ if kind in ANSWERS)
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

    for kind in ANSWERS:
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
