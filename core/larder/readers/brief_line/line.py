"""The grammar of a brief in one line.

The line falls into clauses at commas and at each new count of people. A clause is about people (``4 edit
seats play 2 streams 220 Mb/s``), what is shot (``20 h a week``), kept (``8 TB today``), until when
(``3 years``), money (``9000 EUR``), the room (``quiet, closet``) or the line outside (``50 Mb/s up``). Every
word is taken once; one that no clause takes is named. What nobody said is assumed and told, with the words
that say it.
"""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.problems import refusals
from larder.base.units import day_text
from larder.plan.brief import Shoot
from larder.plan.formats import Format, rates_of
from larder.plan.new_item import fresh_id

from .footage import footage_in
from .people import People, SeatMaker
from .reading import Reading
from .said import BriefFile, BriefLine, Understood, Unknown, assumed
from .tokens import LONGEST_LINE, Token, tokens_of
from .topics import TOPICS, Weekly, months_on, strange, weekly
from .words import count_of, is_strange, names_people, no_word, size_text

YEARS_AHEAD = 3
MOST_HOURS_A_WEEK = 10_000
NO_FORMAT = "a rate such as 220 Mb/s, or a frame such as 4K 10-bit 422"


def understand(line: str, today: date, currency: str = "EUR") -> BriefLine:
    """What ``line`` says of a brief on ``today``; sums without a currency are in ``currency``."""
    reading = _Line("" if len(line) > LONGEST_LINE else line, today, currency)
    if len(line) > LONGEST_LINE:
        sentence = f"The line has {len(line)} characters: at most {LONGEST_LINE} are read."
        reading.unknown.append(Unknown(words="", start=0, end=0, sentence=sentence))
    for clause in _clauses(list(tokens_of(reading.line))):
        reading.take(clause)
    return reading.brief_line()


def footage_of(text: str, taken: tuple[str, ...]) -> tuple[Format, tuple[str, ...]]:
    """(the format that ``text`` says, what nobody said of it); raises :class:`Refused` where it says none."""
    if len(text) > LONGEST_LINE:
        raise Refused("format", f"{len(text)} characters", f"at most {LONGEST_LINE}")
    footage, rest = footage_in([token for token in tokens_of(text) if token.kind != "comma"])
    odd = next((token for token in rest if is_strange(token)), None)
    if odd is not None:
        raise Refused("format", text, no_word(odd, "format"))
    if footage.twice:
        raise Refused(
            "format", text, f"one figure for each thing: “{footage.twice[0][0].text}” is a second one"
        )
    if not footage or footage.problem:
        raise Refused("format", text, footage.problem or NO_FORMAT)
    try:
        made, left = footage.formatted(taken)
    except ValidationError as error:
        raise Refused("format", text, refusals(error, footage.said)[0].sentence) from None
    return made, tuple(each.said for each in left)


def _clauses(tokens: list[Token]) -> list[list[Token]]:
    """The tokens between commas; a count before a role, after another role, begins a clause as well.

    So does a sum, a span or so many bytes or hours after *and*.
    """
    clauses: list[list[Token]] = [[]]
    for n, token in enumerate(tokens):
        following = tokens[n + 1 : n + 2]
        counts = count_of(token) is not None and following and names_people(following[0])
        another = counts and any(names_people(t) for t in clauses[-1])
        if token.kind == "comma" or another or _begins_another(clauses[-1], token):
            clauses.append([])
        if token.kind != "comma":
            clauses[-1].append(token)
    return [clause for clause in clauses if clause]


_BEGINNING = ("size", "money", "hours", "span", "noise", "watts", "date")


def _begins_another(before: list[Token], token: Token) -> bool:
    return bool(before) and before[-1].word == "and" and token.kind in _BEGINNING


class _Line(Reading):
    """The line as a whole: clauses about people and footage wait until every format in it is known."""

    def __init__(self, line: str, today: date, currency: str) -> None:
        super().__init__(line, today, currency)
        self._people: list[tuple[People, int]] = []
        self._weekly: list[Weekly] = []
        self._goes_on = False
        """Whether the clause before was about people, so that one without a role is about them too."""

    def take(self, tokens: list[Token]) -> None:
        """One clause: the first topic that takes it, else it is about people, else its words are named."""
        brought = weekly(self, tokens)
        if brought is not None:
            self._weekly += [brought] if brought.at >= 0 else []
            self._goes_on = False
        elif any(topic(self, tokens) for topic in TOPICS):
            self._goes_on = False
        else:
            self._about_people(tokens)

    def _about_people(self, tokens: list[Token]) -> None:
        goes_on = not any(names_people(token) for token in tokens)
        if goes_on and not self._goes_on:
            strange(self, tokens)
            return
        people, at = self._people[-1] if goes_on else (People(), -1)
        rest = people.take(tokens)
        self.otherwise(people.twice)
        self.otherwise(people.footage.twice)
        self.only(rest)
        if sum(is_strange(token) for token in rest) == len(tokens):
            return
        if people.count == 0:
            self.refuse(tokens, f"“{self.text(tokens)}”: nobody is no seat; leave it out.")
            return
        self._goes_on = True
        if goes_on:
            end = tokens[-1].end
            before = self.understood[at]
            longer = {"words": self.line[before.start : end], "end": end}
            self.understood[at] = before.model_copy(update=longer)
        else:
            self._people.append((people, self.tell(tokens, "")))

    def brief_line(self) -> BriefLine:
        """Everything together: formats, seats, then what is shot in them, then what nobody said."""
        maker = SeatMaker(self)
        # What is played far away is no footage of the house: it comes last.
        for people, at in sorted(self._people, key=lambda each: each[0].is_far):
            if people.footage and people.work not in ("ingest", "photo"):
                self.format_of(people.footage, at, None)
        for people, at in self._people:
            maker.add(people, at)
        shoots = self._shoots()
        if "horizon_date" not in self.fields:
            self._assume_horizon()
        brief = BriefFile.model_validate(
            {"budget": Decimal(0)}
            | self.fields
            | {
                "seats": [seat.model_dump() for seat in maker.seats],
                "shoots": shoots,
                "limits": {"room": self.room, "line": self.outside},
                "currency": self.currency,
                "formats": [each.model_dump() for each in self.formats],
            }
        )
        understood = tuple(part for part in self.understood if part.meaning)
        return BriefLine(brief=brief, understood=understood, unknown=tuple(dict.fromkeys(self.unknown)))

    def _assume_horizon(self) -> None:
        day = self.fields["horizon_date"] = months_on(self.today, 12 * YEARS_AHEAD)
        years = f"{YEARS_AHEAD} years"
        left = assumed(years, years, str(YEARS_AHEAD))
        meaning = f"must last until {day_text(day)}"
        self.understood.append(Understood(words="", start=0, end=0, meaning=meaning, assumed=(left,)))

    def _shoots(self) -> list[dict[str, Any]]:
        """What is shot is of the format that is said with it, else of the first that people play."""
        shoots: list[dict[str, Any]] = []
        first = self.first_played()
        for each in self._weekly:
            if not each.footage and first is None:
                said = "20 h a week of 220 Mb/s" if each.hours else "200 GB stills a week"
                self.lacks(each.at, f"say of what, such as {said}, or who plays what")
                continue
            found = self.format_of(each.footage, each.at, first)
            if found is not None:
                shoots += self._shoot(each, len(shoots), *found)
        return shoots

    def _shoot(self, each: Weekly, n: int, media: Format, left: tuple[Any, ...]) -> list[dict[str, Any]]:
        rate = rates_of(media)[0]
        hours = each.hours or each.size_bytes / 3600 / rate
        if hours > MOST_HOURS_A_WEEK:
            self.lacks(
                each.at, f"{hours:,.0f} hours a week are more than the {MOST_HOURS_A_WEEK:,} that can be said"
            )
            return []
        said_hours = f"{hours:,.0f}" if hours >= 100 else f"{hours:.3g}"
        share = "all kept" if each.kept_ratio == 1 else f"{each.kept_ratio * 100:.0f} % kept"
        a_week = size_text(hours * 3600 * rate * each.kept_ratio)
        if not each.says_kept:
            left = (*left, assumed("all kept", "100% kept", "100"))
        result = {
            "meaning": f"{said_hours} h a week of {media.name}, {share}: {a_week} a week",
            "assumed": left,
        }
        self.understood[each.at] = self.understood[each.at].model_copy(update=result)
        name = f"Shot {n + 1}" if n else "Shot"
        shoot = Shoot(
            id=fresh_id(name, ()),
            name=name,
            format_id=media.id,
            hours_per_week=hours,
            kept_ratio=each.kept_ratio,
        )
        return [shoot.model_dump()]
