"""A line while it is read: what has been said so far, what it was taken as, and what could not be taken."""

from __future__ import annotations

from datetime import date
from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.problems import refusals
from larder.plan.formats import Format

from .footage import Footage
from .said import Assumed, Understood, Unknown
from .tokens import Token
from .words import is_strange, no_word

PROXY_ID = "proxy"
SAY_A_FORMAT = "say what they play, such as 220 Mb/s or 4K 10-bit 422"


class Reading:
    """The state of one line; clauses add to it."""

    def __init__(self, line: str, today: date, currency: str) -> None:
        self.line, self.today, self.currency = line, today, currency
        self.fields: dict[str, Any] = {}
        self.room: dict[str, Any] = {}
        self.outside: dict[str, Any] = {}
        self.formats: list[Format] = []
        self.understood: list[Understood] = []
        self.unknown: list[Unknown] = []
        self._said: set[str] = set()

    def text(self, tokens: list[Token]) -> str:
        """The words of the line, without the *and* that leads to the next clause."""
        return self.line[tokens[0].start : _trimmed(tokens)[-1].end]

    def tell(self, tokens: list[Token], meaning: str, *left: Assumed) -> int:
        """What the words were taken as; its index among all, to be told better later."""
        start, end = tokens[0].start, _trimmed(tokens)[-1].end
        part = Understood(words=self.line[start:end], start=start, end=end, meaning=meaning, assumed=left)
        self.understood.append(part)
        return len(self.understood) - 1

    def refuse(self, tokens: list[Token], sentence: str) -> None:
        """The words cannot be taken, as the sentence says."""
        start, end = tokens[0].start, tokens[-1].end
        self.unknown.append(Unknown(words=self.line[start:end], start=start, end=end, sentence=sentence))

    def first_played(self) -> Format | None:
        """The first footage of the line: neither sound nor the proxies that are sent far away."""
        footage = (f for f in self.formats if f.kind in ("class", "computed") and f.id != PROXY_ID)
        return next(footage, None)

    def lacks(self, at: int, what: str) -> None:
        """A part lacks something, unless one of its words was named already."""
        part = self.understood[at]
        if not any(part.start <= each.start < part.end for each in self.unknown):
            sentence = f"“{part.words}”: {what}."
            self.unknown.append(Unknown(words=part.words, start=part.start, end=part.end, sentence=sentence))

    def only(self, tokens: list[Token], *known: str) -> bool:
        """Whether nothing is said besides what is known; else the other words are named."""
        strange = [token for token in tokens if is_strange(token, *known)]
        for token in strange:
            self.refuse([token], no_word(token))
        return not strange

    def otherwise(self, twice: list[list[Token]]) -> None:
        """Words that say otherwise than others before them: none of the two is guessed to be meant."""
        for tokens in twice:
            self.refuse(
                tokens, f"“{self.text(tokens)}” says otherwise than what stands before it: leave one."
            )
        twice.clear()

    def once(self, tokens: list[Token], what: str) -> bool:
        """Whether ``what`` is said for the first time; a second time is refused."""
        if what in self._said:
            self.refuse(tokens, f"“{self.text(tokens)}” says {what} a second time.")
            return False
        self._said.add(what)
        return True

    def format_of(
        self, footage: Footage, at: int, otherwise: Format | None
    ) -> tuple[Format, tuple[Assumed, ...]] | None:
        """The format that was said, with what was assumed of it; else ``otherwise``; else it is told."""
        if not footage:
            if otherwise is None:
                self.lacks(at, SAY_A_FORMAT)
                return None
            return otherwise, ()
        if footage.problem:
            self.lacks(at, footage.problem)
            return None
        try:
            made, left = footage.formatted(each.id for each in self.formats)
        except (Refused, ValidationError) as error:
            faults = [error] if isinstance(error, Refused) else refusals(error, footage.said)
            self.lacks(at, faults[0].sentence.rstrip("."))
            return None
        same = next((each for each in self.formats if each.name == made.name), None)
        if same is None:
            self.formats.append(made)
        return same or made, left


def _trimmed(tokens: list[Token]) -> list[Token]:
    return tokens[:-1] if len(tokens) > 1 and tokens[-1].word == "and" else tokens
