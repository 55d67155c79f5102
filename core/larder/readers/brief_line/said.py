"""What a line came to: its parts with their meaning, what was assumed beside them, and the brief."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from larder.base.errors import Refused, RefusedMany
from larder.base.fields import Currency, DistinctIds, labelled
from larder.base.results import Result
from larder.plan.brief import Brief
from larder.plan.formats import Format
from larder.plan.glossary import JsonSchema, schema_of


class BriefFile(Brief):
    """A brief by itself: as in the plan file, with the formats that it uses and its currency."""

    currency: Annotated[Currency, labelled("Currency")] = "EUR"
    formats: Annotated[tuple[Format, ...], DistinctIds, Field(max_length=500)] = ()


class Assumed(Result):
    """What nobody said: ``words`` say it, and are changed from ``value_start`` to ``value_end`` of them."""

    said: str
    words: str
    value_start: int
    value_end: int


class Understood(Result):
    """A part of the line, from ``start`` to ``end``; an empty one is what the whole line left unsaid."""

    words: str
    start: int
    end: int
    meaning: str
    assumed: tuple[Assumed, ...] = ()


class Unknown(Result):
    """A part of the line that cannot be taken, and a sentence that names it."""

    words: str
    start: int
    end: int
    sentence: str


class BriefLine(Result):
    """The line understood. ``brief`` holds what could be taken of it."""

    brief: BriefFile
    understood: tuple[Understood, ...]
    unknown: tuple[Unknown, ...]


def brief_schema() -> JsonSchema:
    """The JSON Schema of a brief by itself."""
    return schema_of(BriefFile)


def assumed(said: str, words: str, value: str) -> Assumed:
    """``words`` would say it; ``value`` in them is what one would change."""
    at = words.index(value)
    return Assumed(said=f"{said} assumed", words=words, value_start=at, value_end=at + len(value))


def brief_of(line: BriefLine) -> BriefFile:
    """The brief of a line that was understood; raises :class:`RefusedMany` naming the words that were not."""
    if line.unknown:
        raise RefusedMany([NotAWord(each) for each in line.unknown])
    return line.brief


class NotAWord(Refused):
    """Words of a line that cannot be taken; the sentence was built where they were read."""

    def __init__(self, unknown: Unknown) -> None:
        super().__init__("brief", unknown.words, unknown.sentence)

    @property
    def sentence(self) -> str:
        return self.accepted
