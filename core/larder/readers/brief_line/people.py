"""Clauses about people: how many, what they do, and what of it nobody said.

A clause is read word after word into :class:`People`; once the whole line is read, and all formats in it are
known, each becomes a class of seats.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from larder.base.problems import refusals
from larder.base.units import MBIT, rate_text
from larder.plan.formats import ClassFormat, Format, rates_of
from larder.plan.new_item import fresh_id
from larder.plan.seats import FootageSeat, IngestSeat, PhotoSeat, RemoteSeat

from .footage import Footage
from .reading import PROXY_ID, Reading
from .said import Assumed, assumed
from .tokens import Token
from .words import (
    FAR_WORDS,
    ROLES,
    SEAT_WORDS,
    count_of,
    counted,
    names_people,
    share_of,
    size_text,
)

USUAL_PEAK_PERCENT = {"edit": 60, "colour": 50, "photo": 40, "ingest": 30, "render": 90}
OTHER_PEAK_PERCENT = 50
USUAL_PICTURES_PER_S, USUAL_PICTURE_MB, USUAL_CARD_MB_PER_S = 1.5, 40, 180
USUAL_LINE_MBIT_PER_S, USUAL_ROUND_TRIP_MS = 50, 30.0
PROXY = ClassFormat(id=PROXY_ID, kind="class", name="H.264 proxy, 10 Mb/s", bytes_per_s=10 * MBIT)
AnySeat = FootageSeat | PhotoSeat | IngestSeat | RemoteSeat


@dataclass
class People:
    """What a clause says of them; None is not said. ``twice`` is what says otherwise than before."""

    count: int | None = None
    work: str = ""
    name: str = ""
    is_far: bool = False
    is_inside: bool = False
    writes: bool = False
    streams: int | None = None
    angles: int | None = None
    peak_percent: float | None = None
    archive_percent: float | None = None
    readers: int | None = None
    picture_bytes: int | None = None
    pictures_per_s: float | None = None
    way: str = ""
    line_bytes_per_s: float | None = None
    round_trip_ms: float | None = None
    hours_a_day: float | None = None
    footage: Footage = field(default_factory=Footage)
    twice: list[list[Token]] = field(default_factory=list)

    def take(self, tokens: list[Token]) -> list[Token]:
        """Everything that is said of people and of what they play; the tokens that are neither are left."""
        rest: list[Token] = []
        at = 0
        while at < len(tokens):
            before = self._said()
            taken = next((n for rule in _RULES if (n := rule(self, tokens, at))), 0)
            if any(getattr(self, name) != value for name, value in before.items()):
                self.twice.append(tokens[at : at + taken])
                self.__dict__ |= before
            taken = taken or self.footage.take(tokens, at)
            if not taken:
                rest.append(tokens[at])
            at += taken or 1
        return rest

    def _said(self) -> dict[str, Any]:
        """What is said already."""
        apart = ("footage", "twice")
        said = ((name, value) for name, value in vars(self).items() if name not in apart)
        return {name: value for name, value in said if value not in (None, "") and value is not False}


Rule = Callable[[People, list[Token], int], int]
"""How many tokens from a place on it takes in."""


def _following(tokens: list[Token], at: int, count: int = 1) -> list[str]:
    return [t.word for t in tokens[at + 1 : at + 1 + count]]


def _role(people: People, tokens: list[Token], at: int) -> int:
    """A count before a role or seats; a role; a word for seats or for being far away."""
    token, near = tokens[at], tokens[at + 1 : at + 3]
    counts = near and (names_people(near[0]) or (near[0].word in FAR_WORDS and names_people(near[-1])))
    if people.count is None and counts and (count := count_of(token)) is not None:
        people.count = count
        return 1
    if token.word in ROLES:
        people.work, people.name = ROLES[token.word]
    people.is_far = people.is_far or token.word in FAR_WORDS
    return int(token.word in ROLES or token.word in FAR_WORDS or token.word in SEAT_WORDS)


_COUNTED = {
    "stream": "streams", "streams": "streams", "layer": "streams", "layers": "streams", "angle": "angles",
    "angles": "angles", "camera": "angles", "cameras": "angles", "reader": "readers", "readers": "readers",
    "card": "readers", "cards": "readers",
}  # fmt: skip


def _counts(people: People, tokens: list[Token], at: int) -> int:
    """``2 streams``, ``4 angles``, ``3 readers``."""
    count, words = count_of(tokens[at]), _following(tokens, at)
    if count is None or not words or words[0] not in _COUNTED:
        return 0
    setattr(people, _COUNTED[words[0]], count)
    return 2


def _share(people: People, tokens: list[Token], at: int) -> int:
    """``at peak 60 %``, ``60 % of the time``, ``20 % from the archive``."""
    if tokens[at].word in ("peak", "busy"):
        return 1
    share, words = share_of(tokens[at]), _following(tokens, at, 3)
    if share is None:
        return 0
    if "archive" in words:
        people.archive_percent = share
        return words.index("archive") + 2
    people.peak_percent = share
    return next((words.index(word) + 2 for word in ("time", "day") if word in words), 1)


def _pictures(people: People, tokens: list[Token], at: int) -> int:
    """``60MB raw`` of photo seats, ``2 pictures a second``."""
    token, words = tokens[at], _following(tokens, at, 4)
    if token.kind == "size" and people.work == "photo":
        people.picture_bytes = token.value
        return 2 if words[:1] and words[0] in ("raw", "raws", "picture", "pictures", "files", "images") else 1
    if token.kind != "number":
        return 0
    skipped = 1 if words[:1] and words[0] in ("pictures", "images") else 0
    if words[skipped : skipped + 2] in (["a", "second"], ["per", "second"], ["/", "s"]):
        people.pictures_per_s = float(token.value)
        return skipped + 3
    return 0


def _is_rate(tokens: list[Token], at: int) -> bool:
    return at < len(tokens) and tokens[at].kind == "rate"


_WAYS = {
    "proxies": "proxies",
    "proxy": "proxies",
    "files": "files",
    "control": "remote control",
    "screen": "remote control",
}


def _far(people: People, tokens: list[Token], at: int) -> int:
    """How somebody far away works, and over which line."""
    if not people.is_far:
        return 0
    token, words = tokens[at], _following(tokens, at, 2)
    if token.word in _WAYS:
        people.way = _WAYS[token.word]
    elif token.word == "line" and tokens[at + 1 : at + 2] and tokens[at + 1].kind == "rate":
        people.line_bytes_per_s = tokens[at + 1].value
        return 2
    elif token.kind == "rate" and words[:1] and words[0] in ("line", "down") and not _is_rate(tokens, at + 2):
        people.line_bytes_per_s = token.value
        return 2
    elif token.kind == "ms":
        people.round_trip_ms = token.value
    elif token.kind == "hours" and "day" in words:
        people.hours_a_day = token.value
        return words.index("day") + 2
    else:
        return 0
    return 1


def _doing(people: People, tokens: list[Token], at: int) -> int:
    """Who writes, and who sits inside the box."""
    if tokens[at].word in ("write", "writes", "writing", "record", "records", "recording"):
        people.writes = True
        return 1
    if tokens[at].word != "inside":
        return 0
    people.is_inside = True
    return 3 if _following(tokens, at, 2) == ["the", "box"] else 1


_RULES: tuple[Rule, ...] = (_role, _counts, _share, _pictures, _far, _doing)


class SeatMaker:
    """Makes classes of seats of what clauses said; what a seat lacks is told at its part of the line."""

    def __init__(self, reading: Reading) -> None:
        self.reading = reading
        self.seats: list[AnySeat] = []
        self._left: list[Assumed] = []

    def add(self, people: People, at: int) -> None:
        """One more class of seats, of the clause ``at`` its place among the parts of the line."""
        self._left = []
        work = "remote" if people.is_far else people.work
        make = {"photo": self._photo, "ingest": self._ingest, "remote": self._remote}.get(work, self._footage)
        try:
            made = make(people, at, self._base(people))
        except ValidationError as error:
            fault = refusals(error, {})[0]
            field_name, _, said = fault.sentence.partition(" cannot be ")
            self.reading.lacks(at, f"{field_name.replace('_', ' ')} cannot be {said.rstrip('.')}")
            return
        if made is None:
            return
        seat, meaning = made
        self.seats.append(seat)
        part = self.reading.understood[at]
        result = {"meaning": f"{counted(seat.count, 'seat')}, {meaning}", "assumed": tuple(self._left)}
        self.reading.understood[at] = part.model_copy(update=result)

    def _base(self, people: People) -> dict[str, Any]:
        name = f"{people.name or 'Seats'}{' far away' if people.is_far else ''}"
        names = [seat.name for seat in self.seats]
        name = next(n for n in (name, *(f"{name} {k}" for k in range(2, len(names) + 3))) if n not in names)
        usual = USUAL_PEAK_PERCENT.get(people.work, OTHER_PEAK_PERCENT)
        percent = self._or(people.peak_percent, usual, "at peak {} % of the day", "at peak {}%")
        return {
            "id": fresh_id(name, [seat.id for seat in self.seats]),
            "name": name,
            "count": 1 if people.count is None else people.count,
            "probability": percent / 100,
        }

    def _or(self, said: float | None, usual: float, words: str, typed: str) -> float:
        """What was said, or what is usual, which is told."""
        if said is not None:
            return said
        shown = f"{usual:g}"
        self._left.append(assumed(words.format(shown), typed.format(shown), shown))
        return usual

    def _played(self, people: People, at: int, otherwise: Format | None) -> Format | None:
        """The format that was said, else another of the line, which is told; None where that is missing."""
        found = self.reading.format_of(people.footage, at, otherwise)
        if found is None:
            return None
        media, left = found
        if not people.footage:
            words = f"{rates_of(media)[0] / MBIT:.7g} Mb/s"
            self._left.append(assumed(media.name, words, words))
        self._left += left
        return media

    def _footage(self, people: People, at: int, base: dict[str, Any]) -> tuple[AnySeat, str] | None:
        media = self._played(people, at, self.reading.first_played())
        if media is None:
            return None
        streams = round(self._or(people.streams, 1, "{} stream", "{} stream"))
        writes = people.writes or people.work == "render"
        seat = FootageSeat(
            **base, kind="footage", direction="write" if writes else "read", streams=streams,
            angles=1 if people.angles is None else people.angles, format_id=media.id,
            archive_share=(people.archive_percent or 0) / 100, seated=_seated(people),
        )  # fmt: skip
        at_once = seat.streams * seat.angles
        meaning = f"{'writing' if writes else 'playing'} {counted(at_once, 'stream')} of {media.name}"
        meaning += f": {rate_text(at_once * rates_of(media)[1])} each"
        if people.archive_percent:
            meaning += f", {people.archive_percent:.3g} % of it from the archive"
        return seat, meaning

    def _photo(self, people: People, _: int, base: dict[str, Any]) -> tuple[AnySeat, str]:
        size_mb = None if people.picture_bytes is None else people.picture_bytes / 1e6
        size = round(self._or(size_mb, USUAL_PICTURE_MB, "{} MB a picture", "{}MB raw") * 1e6)
        a_second = self._or(people.pictures_per_s, USUAL_PICTURES_PER_S, "{} a second", "{} a second")
        seat = PhotoSeat(
            **base, kind="photo", image_bytes=size, images_per_s=a_second, seated=_seated(people)
        )
        of = f"{a_second:g} pictures a second of {size_text(size)}"
        return seat, f"going through {of}: {rate_text(a_second * size)} each"

    def _ingest(self, people: People, _: int, base: dict[str, Any]) -> tuple[AnySeat, str]:
        readers = round(self._or(people.readers, 1, "{} card reader", "{} reader"))
        said = people.footage.said.get("bytes_per_s")
        of_card = self._or(said and said / 1e6, USUAL_CARD_MB_PER_S, "{} MB/s a card", "{} MB/s") * 1e6
        seat = IngestSeat(
            **base, kind="ingest", readers=readers, card_bytes_per_s=of_card, seated=_seated(people)
        )
        return seat, f"copying {counted(readers, 'card')} at once of {rate_text(of_card)}, and reading back"

    def _remote(self, people: People, at: int, base: dict[str, Any]) -> tuple[AnySeat, str] | None:
        way, otherwise = people.way or "proxies", self.reading.first_played()
        if not people.way:
            self._left.append(assumed("by proxies", "by proxies", "proxies"))
        if way == "proxies" and not people.footage:
            if PROXY not in self.reading.formats:
                self.reading.formats.append(PROXY)
            otherwise = PROXY
        media = self._played(people, at, otherwise)
        if media is None:
            return None
        said = people.line_bytes_per_s
        mbit = None if said is None else said / MBIT
        line = self._or(mbit, USUAL_LINE_MBIT_PER_S, "a line of {} Mb/s", "line {} Mb/s")
        seat = RemoteSeat.model_validate(
            base
            | {
                "kind": "remote",
                "way": way,
                "format_id": media.id,
                "down_bytes_per_s": line * MBIT,
                "round_trip_ms": USUAL_ROUND_TRIP_MS
                if people.round_trip_ms is None
                else people.round_trip_ms,
                "footage_hours_per_day": 1.0 if people.hours_a_day is None else people.hours_a_day,
            }
        )
        return seat, f"far away, by {way} of {media.name}, over a line of {line:g} Mb/s"


def _seated(people: People) -> Any:
    return "inside" if people.is_inside else "office"
