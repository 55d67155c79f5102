"""A rehearsed day to look at: its lanes over time, the account in words, and what would have helped."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from larder.base.patch import Operation
from larder.base.results import Result
from larder.laws.fluid_day import FluidDay, Moment
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import Judged, judge
from larder.stages.wiring import WIRING

from .cheapest_change import judged_with, trials
from .movers import goes_on_always
from .rehearse import Failure, GoneBy, Rehearsal, RehearsedSeat, SetUp, gone_by, rehearsed, told_of
from .timetable import BEGINS_S

MOST_HOPS, LEAST_USED = 8, 0.02
"""So many hops are drawn, the fullest, and none that is hardly used."""
MOST_TOLD = 3
"""So many seats, late copies and full caches are told in words; the rest are counted."""
MOST_HELP = 6
NOTHING_TO_REHEARSE = "There is nothing to rehearse yet: somebody has to work, and on some storage."


class HopLane(Result):
    """How much of a hop is used, 0 to 1, of its fullest member and direction, from moment to moment."""

    id: str
    name: str
    used: tuple[float, ...]


class CacheLane(Result):
    """Dirty bytes at the moments."""

    id: str
    name: str
    dirty_bytes: tuple[float, ...]


class SeatLane(Result):
    """What a seat asks and gets from moment to moment, bytes/s; in the order of the day's seats."""

    asked_bytes_per_s: tuple[float, ...]
    got_bytes_per_s: tuple[float, ...]


class DrawnDay(Result):
    """The day, its account, and the lanes; between ``moments_s``, clock times, all rates stand still."""

    day: Rehearsal
    account: tuple[str, ...]
    moments_s: tuple[float, ...]
    hops: tuple[HopLane, ...]
    caches: tuple[CacheLane, ...]
    seats: tuple[SeatLane, ...]


class Helped(Result):
    """A single change, and how the same day would have been with it, seconds."""

    words: str
    patch: tuple[Operation, ...]
    unwatchable_s: float
    late_s: float


def drawn_day(bundle: Bundle, failure: Failure | None = None) -> DrawnDay:
    """The ordinary day of a plan. Raises :class:`Refused` for a pool that there is not."""
    judged = judge(bundle, PARTS)
    gone = gone_by(judged, failure)
    stage, day, told = gone.stage, gone.day, told_of(gone)
    return DrawnDay(
        day=told,
        account=tuple(_account(judged, told, failure)),
        moments_s=tuple(moment.at_s + BEGINS_S for moment in day.moments),
        hops=tuple(_hops(gone)),
        caches=tuple(
            CacheLane(id=cache.id, name=cache.name, dirty_bytes=tuple(m.dirty_bytes[n] for m in day.moments))
            for n, cache in enumerate(stage.caches.values())
        ),
        seats=tuple(_seat(own, stage, day) for own in stage.seats.values()),
    )


def helped(
    bundle: Bundle, failure: Failure | None = None, goes_on: Callable[[], bool] = goes_on_always
) -> tuple[Helped, ...]:
    """The same day with each single change that wiring knows for the seat that stands longest, best first."""
    judged = judge(bundle, PARTS)
    now = rehearsed(judged, failure)
    worst = max(now.seats, key=lambda seat: seat.unwatchable_s, default=None)
    if worst is None or not worst.unwatchable_s:
        return ()
    found = []
    for trial in trials(judged, worst.id):
        if not goes_on():
            break
        after = judged_with(judged, trial.patch)
        if after is None:
            continue
        day = rehearsed(after, failure)
        late = sum(job.late_s for job in day.jobs)
        if day.unwatchable_s < now.unwatchable_s - 1:
            found.append(
                Helped(words=trial.words, patch=trial.patch, unwatchable_s=day.unwatchable_s, late_s=late)
            )
    return tuple(sorted(found, key=lambda each: (each.unwatchable_s, each.late_s))[:MOST_HELP])


def _hops(gone: GoneBy) -> list[HopLane]:
    """The fullest hops; a pool in trouble is held against what it has left."""
    stage, _, changes, day = gone
    names = {hop.id: hop.name for hop in stage.judged.of(WIRING).hops}
    places: dict[str, list[int]] = {}
    for at, hop_id in enumerate(stage.resources.hop_ids):
        if hop_id in names:
            places.setdefault(hop_id, []).append(at)

    def share(moment: Moment, at: int) -> float:
        """Of what the resource has at that moment."""
        capacity = stage.resources.capacities[at]
        for change in changes:
            if change.at_s <= moment.at_s + 1e-6:
                capacity = change.capacities.get(at, capacity)
        return min(moment.used[at] / capacity, 1.0)

    lanes = [
        HopLane(
            id=hop_id,
            name=names[hop_id],
            used=tuple(max(share(moment, at) for at in own) for moment in day.moments),
        )
        for hop_id, own in places.items()
    ]
    fullest = sorted(lanes, key=lambda lane: -max(lane.used))
    return [lane for lane in fullest[:MOST_HOPS] if max(lane.used) >= LEAST_USED]


def _seat(own: list[int], stage: SetUp, day: FluidDay) -> SeatLane:
    def asked(at_s: float) -> float:
        flows = (stage.flows[n] for n in own)
        return sum(flow.cap_bytes_per_s for flow in flows if flow.starts_s <= at_s < flow.stops_s)

    return SeatLane(
        asked_bytes_per_s=tuple(asked(moment.at_s) for moment in day.moments),
        got_bytes_per_s=tuple(sum(moment.rates[n] for n in own) for moment in day.moments),
    )


def clock(seconds: float) -> str:
    """A time of day."""
    minutes = round(seconds / 60)
    return f"{minutes // 60 % 24:02d}:{minutes % 60:02d}"


def _account(judged: Judged, told: Rehearsal, failure: Failure | None) -> Iterator[str]:
    if failure is not None:
        pool = next(p for p in judged.bundle.plan.pools if p.id == failure.pool_id)
        yield f"A disk of {pool.name} dies at {clock(failure.at_s + BEGINS_S)}."
    yield from _standing(told)
    for cache in told.caches:
        if cache.full_s is not None:
            since = clock(cache.full_s)
            yield f"{cache.name} is full at {since}; from then on copies go in as it is drained."
    for name in told.left_out[:MOST_TOLD]:
        yield f"{name} has no way to the storage and plays nothing."
    yield from _copies(judged, told)


def _standing(told: Rehearsal) -> Iterator[str]:
    standing = sorted((s for s in told.seats if s.unwatchable_s > 0), key=lambda s: -s.unwatchable_s)
    for seat in standing[:MOST_TOLD]:
        yield _stood(seat, many=sum(each.id == seat.id for each in told.seats) > 1)
    rest = len(standing) - MOST_TOLD
    if rest > 0:
        yield f"So {'is' if rest == 1 else 'are'} {rest} more, for less long."


def _copies(judged: Judged, told: Rehearsal) -> Iterator[str]:
    """Late ones; where there are none, that all is well, or that there is nothing that could be."""
    late = [job for job in told.jobs if job.late_s > 0]
    for job in late[:MOST_TOLD]:
        done = f"done at {clock(job.done_s)}" if job.done_s is not None else "not done a day later"
        yield f"{job.name} is {done}, {_minutes(job.late_s)} after its deadline."
    works = any(seat.sessions for seat in told.seats)
    if not judged.bundle.plan.pools or not (works or told.jobs):
        yield NOTHING_TO_REHEARSE
    elif not told.unwatchable_s and not late:
        yield from _all_well(told, works=works)
    elif not late and told.jobs:
        last = max(told.jobs, key=lambda job: job.done_s or 0.0)
        yield f"Every copy is in time, the last at {clock(last.done_s or 0.0)}."


def _all_well(told: Rehearsal, *, works: bool) -> Iterator[str]:
    who = "Nobody else" if told.left_out else "Nobody"
    seen = f"{who} sees a frame drop" if works else ""
    copies = "every copy is in time" if told.jobs else ""
    said = ", and ".join(part for part in (seen, copies) if part)
    yield f"{said[:1].upper()}{said[1:]}."


def _stood(seat: RehearsedSeat, *, many: bool) -> str:
    name = f"{seat.name} {seat.number}" if many else seat.name
    longest = max(seat.spells, key=lambda spell: spell.to_s - spell.from_s)
    when = f"from {clock(longest.from_s)} to {clock(longest.to_s)}"
    if len(seat.spells) > 1:
        when = f"most of it {when}"
    held = f"{seat.blamed_name} holds it back" if seat.blamed_name else "it is held back"
    return f"{name} is unwatchable for {_minutes(seat.unwatchable_s)}, {when}: {held}."


def _minutes(seconds: float) -> str:
    minutes = max(round(seconds / 60), 1)
    return "a minute" if minutes == 1 else f"{minutes} minutes"
