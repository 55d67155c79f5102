"""One shape for every error: a code, a sentence, and the problems field by field."""

from __future__ import annotations

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from larder.errors import Refused, RefusedMany, shown
from larder.glossary import label_at
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import BaseModel

from accounts.scope import NotAllowed, NotHere
from plans.actions import Clashing, NothingToDo


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
    "refused", "clash", "nothing-to-do", "not-signed-in", "not-allowed", "not-here", "bad-request"
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


def install(api: NinjaAPI) -> None:
    """Teach ``api`` to answer every exception with the envelope."""

    def answer(request: HttpRequest, status: int, error: ErrorOut) -> HttpResponse:
        return api.create_response(request, error, status=status)

    @api.exception_handler(Refused)
    def refused(request: HttpRequest, error: Refused) -> HttpResponse:
        return many(request, RefusedMany([error]))

    @api.exception_handler(RefusedMany)
    def many(request: HttpRequest, error: RefusedMany) -> HttpResponse:
        problems = [problem_of(p) for p in error.problems]
        body = ErrorOut(code="refused", sentence=problems[0].sentence, problems=problems)
        return answer(request, 422, body)

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        problems = [_request_problem(fault) for fault in error.errors]
        body = ErrorOut(code="refused", sentence=problems[0].sentence, problems=problems)
        return answer(request, 422, body)

    @api.exception_handler(Clashing)
    def clash(request: HttpRequest, error: Clashing) -> HttpResponse:
        clashes = [
            ClashOut(
                path=c.path,
                label=label_at(c.path, error.head.document),
                base=c.base,
                mine=c.mine,
                theirs=c.theirs,
            )
            for c in error.clashes
        ]
        sentence = "Somebody else changed the same field meanwhile; choose which value stays."
        body = ErrorOut(code="clash", sentence=sentence, clashes=clashes, head=error.head.number)
        return answer(request, 409, body)

    @api.exception_handler(NothingToDo)
    def nothing(request: HttpRequest, error: NothingToDo) -> HttpResponse:
        sentence = "There is no change of yours left to take back or bring back."
        return answer(request, 409, ErrorOut(code="nothing-to-do", sentence=sentence))

    @api.exception_handler(NotHere)
    def not_here(request: HttpRequest, error: NotHere) -> HttpResponse:
        sentence = "There is no such thing in this studio."
        return answer(request, 404, ErrorOut(code="not-here", sentence=sentence))

    @api.exception_handler(NotAllowed)
    def not_allowed(request: HttpRequest, error: NotAllowed) -> HttpResponse:
        sentence = f"Your role in this studio is {error.role.value}; this needs {error.needed.value}."
        return answer(request, 403, ErrorOut(code="not-allowed", sentence=sentence))

    @api.exception_handler(AuthenticationError)
    def not_signed_in(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return answer(request, 401, ErrorOut(code="not-signed-in", sentence="Sign in first."))

    @api.exception_handler(HttpError)
    def http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
        code: Code = "not-allowed" if error.status_code == 403 else "bad-request"
        sentence = str(error).rstrip(".") + "."
        return answer(request, error.status_code, ErrorOut(code=code, sentence=sentence))


def _request_problem(fault: dict[str, Any]) -> Problem:
    """A fault that Ninja found in path, query or body, before the core was asked."""
    where = [str(part) for part in fault["loc"] if part not in ("body", "path", "query", "file", "form")]
    field = "/".join(where[1:] if len(where) > 1 else where) or "request"
    value = shown(fault.get("input")).strip('"')[:60]
    accepted = str(fault["msg"]).removeprefix("Input should be ").rstrip(".")
    accepted = accepted[:1].lower() + accepted[1:]
    sentence = Refused(field, value, accepted).sentence
    return Problem(field=field, value=value, accepted=accepted, sentence=sentence)
