"""What can go wrong with a question: every error carries its values and builds its own sentence."""

from __future__ import annotations

from dataclasses import dataclass

LARGEST_SAID = 10**40
"""Longer numbers are not written out: Python itself refuses to from 4,300 digits on."""


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
    if isinstance(value, int) and not isinstance(value, bool) and abs(value) >= LARGEST_SAID:
        return '"a number of very many digits"'
    text = value if isinstance(value, str) else repr(value)
    return f'"{shortened(text, 60)}"'


def shortened(text: str, longest: int) -> str:
    """``text`` on one line of at most ``longest`` signs, all of which can be printed and sent."""
    line = " ".join(text[: 20 * longest].split())
    line = "".join(sign if sign.isprintable() else "\ufffd" for sign in line)
    return f"{line[: longest - 3]}..." if len(line) > longest else line
