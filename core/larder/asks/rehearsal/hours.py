"""Who is at work when on one day, and when cards come in: as the timetable says, else spread or drawn.

Parts of the day follow one another from the beginning of the day on. A seat that the timetable does not know
is at its peak for its odds' part of each; on the ordinary day in one spell, the seats of a class one after
the other, on a drawn day in spells of an hour on average. Cards come in when a third of the part that most
stations work in is over. Services run evenly through their part, as Speed has them.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

import numpy as np

from larder.laws.demand import Rush
from larder.plan.day_parts import DayPart
from larder.plan.timetable import Timetable
from larder.stages.loads import Asking

SPELL_S = 3600.0
"""How long a seat works at its peak in one go on average, on a drawn day. A stated assumption."""
CARDS_COME_AT = 1 / 3
"""Of the part of the day in which cards come in. On a drawn day any time before twice that."""


@dataclass(frozen=True)
class PeakSession:
    """One of those who ask, by its place among them, is at its peak; seconds from the day's beginning."""

    n: int
    starts_s: float
    stops_s: float


@dataclass(frozen=True)
class Hours:
    """``sessions`` of (place among those who ask, which of its class), and when cards come in."""

    sessions: dict[tuple[int, int], tuple[PeakSession, ...]]
    cards_at_s: dict[tuple[int, int], float]
    services: tuple[PeakSession, ...]
    ends_s: float


def parts_in_time(parts: tuple[DayPart, ...]) -> Iterator[tuple[DayPart, float, float]]:
    """(part, from, to), seconds from the day's beginning."""
    at = 0.0
    for part in parts:
        yield part, at, at + part.hours * 3600
        at += part.hours * 3600


@dataclass(frozen=True)
class Household:
    """Who asks, in which parts of the day, how a rush lifts the odds, and what the timetable fixes.

    ``stations`` are the ids of those whose work is to copy cards.
    """

    asking: tuple[Asking, ...]
    parts: tuple[DayPart, ...]
    stations: Collection[str]
    rush: Rush
    timetable: Timetable


def hours_of(house: Household, random: np.random.Generator | None = None) -> Hours:
    """The ordinary day, or one that is drawn; on a drawn day there may be a rush in any part of it.

    What the timetable says stands on every day.
    """
    timed = list(parts_in_time(house.parts))
    rush = house.rush
    rushes = {part.id for part in house.parts if random is not None and random.random() < rush.probability}
    fixed = {session.seat_id for session in house.timetable.sessions}
    sessions: dict[tuple[int, int], tuple[PeakSession, ...]] = {}
    cards: dict[tuple[int, int], float] = {}
    services: list[PeakSession] = []
    for n, one in enumerate(house.asking):
        odds = [_odds(one, part, rush, rushes) for part, _, _ in timed]
        spans = [(start, stop, share) for (_, start, stop), share in zip(timed, odds, strict=True)]
        if one.is_service:
            services += [PeakSession(n, start, stop) for start, stop, share in spans if share]
            continue
        for k in range(one.count):
            if one.id in house.stations:
                cards[n, k] = _cards_at(max(spans, key=lambda span: span[2]), random)
            elif one.id in fixed:
                sessions[n, k] = tuple(_said(house.timetable, one.id, n, k))
            else:
                late = k / (one.count - 1) if one.count > 1 else 0.5
                sessions[n, k] = tuple(s for span in spans for s in _spells(n, *span, late, random))
    return Hours(sessions, cards, tuple(services), timed[-1][2])


def _said(timetable: Timetable, seat_id: str, n: int, k: int) -> Iterator[PeakSession]:
    """What the timetable says of one seat, in order and without overlaps."""
    spans = sorted(
        (timetable.into_day(session.from_minute) * 60.0, timetable.ends_into_day(session.to_minute) * 60.0)
        for session in timetable.sessions
        if (session.seat_id, session.number) == (seat_id, k + 1)
    )
    until = 0.0
    for start, stop in spans:
        if stop > max(start, until):
            yield PeakSession(n, max(start, until), stop)
            until = stop


def _odds(one: Asking, part: DayPart, rush: Rush, rushes: Collection[str]) -> float:
    own = one.odds.get(part.id, 0.0)
    return max(own, rush.odds) if own and part.id in rushes else own


def _cards_at(span: tuple[float, float, float], random: np.random.Generator | None) -> float:
    start, stop, _ = span
    share = CARDS_COME_AT if random is None else float(random.uniform(0, 2 * CARDS_COME_AT))
    return start + share * (stop - start)


def _spells(
    n: int, start: float, stop: float, odds: float, late: float, random: np.random.Generator | None
) -> Iterator[PeakSession]:
    if random is None:
        return _even(n, odds, start, stop, late)
    return _drawn(n, odds, start, stop, random)


def _even(n: int, odds: float, start: float, stop: float, share: float) -> Iterator[PeakSession]:
    """One spell as long as the odds, begun as late as the ``share`` of what is left over."""
    length = odds * (stop - start)
    if length > 1:
        begins = start + share * (stop - start - length)
        yield PeakSession(n, begins, begins + length)


def _drawn(
    n: int, odds: float, start: float, stop: float, random: np.random.Generator
) -> Iterator[PeakSession]:
    """Spells and pauses of random lengths, in which the seat is at peak for its odds on average."""
    if odds <= 0:
        return
    if odds >= 1:
        yield PeakSession(n, start, stop)
        return
    pause = SPELL_S * (1 - odds) / odds
    at, works = start, random.random() < odds
    while at < stop:
        until = min(at + random.exponential(SPELL_S if works else pause), stop)
        if works and until - at > 1:
            yield PeakSession(n, at, until)
        at, works = until, not works
