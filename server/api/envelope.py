"""One shape for every error: a code, a sentence, and the problems field by field."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import BaseModel

from accounts.scope import NotAllowed, NotHere
from larder.errors import Refused, RefusedMany, shown
from larder.glossary import label_at
from larder.stock_csv import RowFault
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
    "refused", "clash", "nothing-to-do", "stale", "not-signed-in", "not-allowed", "not-here", "bad-request"
]


class ErrorOut(BaseModel):
    """The envelope. ``clashes`` and ``head`` come with the code ``clash`` only."""

    code: Code
    sentence: str
    problems: list[Problem] = []
    clashes: list[ClashOut] = []
    head: int | None = None


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


def _http(error: HttpError) -> tuple[int, ErrorOut]:
    if error.status_code == 400:  # Ninja's word for a body that is no JSON
        return _refused([problem_of(Refused("request body", "what was sent", "a JSON object"))])
    code: Code = "not-allowed" if error.status_code == 403 else "bad-request"
    return error.status_code, ErrorOut(code=code, sentence=str(error).rstrip(".") + ".")


def _plain(status: int, code: Code, sentence: str) -> Callable[[Any], tuple[int, ErrorOut]]:
    return lambda _: (status, ErrorOut(code=code, sentence=sentence))


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
    AuthenticationError: _plain(401, "not-signed-in", "Sign in first."),
    HttpError: _http,
}


def install(api: NinjaAPI) -> None:
    """Teach ``api`` to answer every exception of the table with the envelope."""

    def handler(request: HttpRequest, error: Exception) -> HttpResponse:
        answer = next(ANSWERS[kind] for kind in type(error).__mro__ if kind in ANSWERS)
        status, body = answer(error)
        return api.create_response(request, body, status=status)

    for kind in ANSWERS:
        api.add_exception_handler(kind, handler)


def _request_problem(fault: dict[str, Any]) -> Problem:
    """A fault that Ninja found in path, query or body, before the core was asked."""
    where = [str(part) for part in fault["loc"] if part not in ("body", "path", "query", "file", "form")]
    field = "/".join(where[1:] if len(where) > 1 else where) or "request"
    value = shown(fault.get("input")).strip('"')[:60]
    accepted = str(fault["msg"]).removeprefix("Input should be ").rstrip(".")
    accepted = accepted[:1].lower() + accepted[1:]
    sentence = Refused(field, value, accepted).sentence
    return Problem(field=field, value=value, accepted=accepted, sentence=sentence)
