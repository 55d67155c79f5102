"""A rehearsed day to look at: its lanes over time."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from typing import Literal

from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY
from larder.laws.fluid_day import FluidDay, capacities_over
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.wiring import WIRING

from .account import account_of
from .failures import Failure, is_lost, is_spared
from .rehearse import GoneBy, Rehearsal, gone_by, rehearsal_of
from .set_up import SetUp

MOST_HOPS, LEAST_USED = 40, 0.02
"""So many hops are told, the fullest first, and none that is hardly used."""


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


class PoolState(Result):
    """What is the matter with a pool from one clock time to another."""

    id: str
    state: Literal["degraded", "rebuilding", "scrubbed", "lost"]
    from_s: float
    to_s: float


class DrawnDay(Result):
    """The day, its account, and the lanes; between ``moments_s``, clock times, all rates stand still."""

    day: Rehearsal
    account: tuple[str, ...]
    moments_s: tuple[float, ...]
    hops: tuple[HopLane, ...]
    caches: tuple[CacheLane, ...]
    seats: tuple[SeatLane, ...]
    pools: tuple[PoolState, ...]


def drawn_day(bundle: Bundle, failures: Iterable[Failure] = ()) -> DrawnDay:
    """The ordinary day of a plan, with what breaks in it. Raises as :func:`rehearse`."""
    judged, failures = judge(bundle, PARTS), tuple(failures)
    gone = gone_by(judged, failures)
    stage, day, result = gone.stage, gone.day, rehearsal_of(gone)
    return DrawnDay(
        day=result,
        account=tuple(account_of(judged, result, failures)),
        moments_s=tuple(moment.at_s + stage.begins_s for moment in day.moments),
        hops=tuple(_hops(gone)),
        caches=tuple(
            CacheLane(id=hold.id, name=hold.name, dirty_bytes=tuple(m.dirty_bytes[n] for m in day.moments))
            for n, hold in enumerate(stage.holds)
            if hold.kind != "memory"
        ),
        seats=tuple(_seat(own, stage, day) for own in stage.seats.values()),
        pools=tuple(_states(gone, failures)),
    )


def _hops(gone: GoneBy) -> list[HopLane]:
    """The fullest hops; a pool in trouble is held against what it has left."""
    stage, day = gone
    capacities = list(capacities_over(stage.resources.capacities, day))
    names = {hop.id: hop.name for hop in stage.judged.of(WIRING).hops}
    places: dict[str, list[int]] = {}
    for at, hop_id in enumerate(stage.resources.hop_ids):
        if hop_id in names:
            places.setdefault(hop_id, []).append(at)

    def share(n: int, at: int) -> float:
        """Of what the resource has at that moment."""
        return round(min(day.moments[n].used[at] / capacities[n][at], 1.0), 4)

    lanes = [
        HopLane(
            id=hop_id,
            name=names[hop_id],
            used=tuple(max(share(n, at) for at in own) for n in range(len(day.moments))),
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


def _states(gone: GoneBy, failures: Iterable[Failure]) -> Iterator[PoolState]:
    """Pools with a dead disk, and what is done to their drives meanwhile."""
    stage, day = gone
    for job in stage.jobs:
        if job.kind in ("scrub", "rebuild"):
            ends = day.flows[job.flows[0]].done_s
            yield PoolState(
                id=job.pool_id,
                state="rebuilding" if job.kind == "rebuild" else "scrubbed",
                from_s=job.starts_s + stage.begins_s,
                to_s=(SECONDS_A_DAY if ends is None else ends) + stage.begins_s,
            )
    deaths: Counter[str] = Counter()
    for failure in sorted(failures, key=lambda each: stage.into_day(each.clock_s)):
        if failure.of == "disk":
            deaths[failure.id] += 1
            pool = stage.pools[failure.id]
            lost = is_lost(pool, deaths[failure.id])
            if lost or not is_spared(pool, deaths[failure.id]):
                yield PoolState(
                    id=failure.id,
                    state="lost" if lost else "degraded",
                    from_s=stage.into_day(failure.clock_s) + stage.begins_s,
                    to_s=SECONDS_A_DAY + stage.begins_s,
                )
