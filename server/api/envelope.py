"""One shape for every error: a code, a sentence, and the problems field by field."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel

from larder.base.errors import Refused, shown


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


class Answered(Exception):
    """What an app refuses: an exception that knows what it is answered as."""

    status: int
    code: Code
    sentence: str

    def envelope(self) -> ErrorOut:
        """The answer's body."""
        return ErrorOut(code=self.code, sentence=self.sentence)
