"""What can go wrong with a question: every error carries its values and builds its own sentence."""

from __future__ import annotations

from dataclasses import dataclass


class LarderError(ValueError):
    """Base class of everything the core refuses."""


@dataclass(eq=False)
class Refused(LarderError):
    """One value that cannot be used.

    ``field`` is what the person knows it by, ``value`` what was given, ``accepted`` what would be
    right, as a noun phrase ("a whole number from 0 to 24"). Not frozen: Python itself writes an
    exception's traceback.
    """

    field: str
    value: object
    accepted: str
    label: str = ""
    """The field's name in words, where ``field`` is a path."""

    @property
    def sentence(self) -> str:
        return f"{self.label or self.field} cannot be {shown(self.value)}: accepted is {self.accepted}."

    def __str__(self) -> str:
        return self.sentence


class RefusedMany(LarderError):
    """A document with several faults; ``problems`` holds one :class:`Refused` for each."""

    def __init__(self, problems: list[Refused]) -> None:
        self.problems = problems
        super().__init__(problems[0].sentence)


def shown(value: object) -> str:
    """A value as a short quotation for a sentence, never longer than a line."""
    if value is None:
        return "empty"
    text = value if isinstance(value, str) else repr(value)
    text = " ".join(text.split())
    return f'"{text[:57]}..."' if len(text) > 60 else f'"{text}"'
