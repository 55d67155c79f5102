"""A day of the plan, rehearsed: who would see frames drop, when and because of what; which copy is late.

It stands on the flows, homes and hops that Speed is judged by; nothing is modelled twice. Seats at their peak
are sessions with a player each, cards and services are jobs with a deadline, a write-back cache fills and
drains, and a disk may die at any minute, after which its pool is degraded or rebuilds beside the people.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple

import numpy as np

from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY
from larder.laws.fluid_day import Buffer, Change, Flow, FluidDay, fluid_day
from larder.plan.bundle import Bundle
from larder.plan.seats import IngestSeat
from larder.stages.ingest import INGEST
from larder.stages.pool_setting import SETTINGS
from larder.stages.registry import PARTS
from larder.stages.stage import Judged, judge
from larder.stages.trouble import Trouble, kept_in
from larder.stages.wiring import WIRING

from .day_resources import DayResources
from .share_out import COPIES_REQUESTS, PLAYERS_REQUESTS, HomeFlow, flows_of, level_of
from .timetable import BEGINS_S, Timetable, timetable_of

PLAYER_S = 2.0
"""A player holds so much footage before it stands. A stated assumption."""
ON_TIME_S = 60.0
"""A job that ends within a minute of its deadline is in time."""
LOST_SHARE = 1e-9
"""What is left of a pool whose bytes are lost."""
MOST_SEATS = 200
"""Each seat is a flow of its own: with more of them a day would take too long to be waited for."""


class Span(Result):
    """From one clock time to another, seconds."""

    from_s: float
    to_s: float


class RehearsedSeat(Result):
    """How the day was for one seat, seconds; at peak in ``sessions``, standing in ``spells``, clock times.

    ``unwatchable_s`` is playing time from an empty player until it is filled again, ``frozen_s`` what of it
    was missed. ``blamed_hop_id`` is null where nothing stood.
    """

    id: str
    name: str
    number: int
    at_peak_s: float
    unwatchable_s: float
    frozen_s: float
    blamed_hop_id: str | None
    blamed_name: str
    spells: tuple[Span, ...]
    sessions: tuple[Span, ...]


class RehearsedJob(Result):
    """A copy: from when, by when, and when it was done, clock times in seconds; null where it was not.

    ``late_s`` is beyond its deadline; of one that was not done, until a day after it all began.
    """

    id: str
    name: str
    kind: Literal["cards", "service"]
    bytes: float
    starts_s: float
    deadline_s: float
    done_s: float | None
    late_s: float


class RehearsedCache(Result):
    """How full a write-back cache became, and from when on it was full; null where it never was."""

    id: str
    name: str
    holds_bytes: int
    dirty_bytes_max: float
    full_s: float | None


class Rehearsal(Result):
    """One day. ``dirty_bytes_max`` is of all caches together; what came in is held or has gone out.

    ``left_out`` names those who have no way to what they work on: they play nothing, and are in no figure.
    """

    begins_s: float
    left_out: tuple[str, ...]
    seats: tuple[RehearsedSeat, ...]
    jobs: tuple[RehearsedJob, ...]
    caches: tuple[RehearsedCache, ...]
    unwatchable_s: float
    frozen_s: float
    dirty_bytes_max: float
    conservation_error_bytes: float


@dataclass(frozen=True)
class Failure:
    """A disk of a pool dies at so many seconds after the day has begun."""

    pool_id: str
    at_s: float

    @classmethod
    def at_clock(cls, pool_id: str, clock_s: float) -> Failure:
        """It dies at a time of day, seconds from midnight: the day begins in the morning, and ends in it."""
        return cls(pool_id, (clock_s - BEGINS_S) % SECONDS_A_DAY)


@dataclass(frozen=True)
class _Job:
    """A job's flows, by their places, and what is told of it."""

    id: str
    name: str
    kind: Literal["cards", "service"]
    size_bytes: float
    starts_s: float
    deadline_s: float
    flows: tuple[int, ...]


class SetUp:
    """What is set up for a day: the flows, whose they are, the buffers and the resources."""

    def __init__(self, judged: Judged, random: np.random.Generator | None = None) -> None:
        self.judged, self.random = judged, random
        self.resources = DayResources(judged)
        self.situation = self.resources.situation
        plan = judged.bundle.plan
        self.stations = {s.id: s for s in plan.brief.seats if isinstance(s, IngestSeat) and s.count}
        self.caches = {c.pool_id: c for c in plan.caches if c.mode == "write-back"}
        self.first = {s.id for s in plan.wiring.switches if s.puts_playback_first}
        self.flows: list[Flow] = []
        self.seats: dict[tuple[int, int], list[int]] = {}
        self.jobs: list[_Job] = []
        self.buffer_of = {pool_id: n for n, pool_id in enumerate(self.caches)}
        # Dirty bytes go to the drives as people's copies do.
        self.buffers = [
            Buffer(
                float(cache.usable_bytes),
                self.resources.drives(pool_id, reads=False, cold=True),
                weight=COPIES_REQUESTS,
            )
            for pool_id, cache in self.caches.items()
        ]

    def set_up(self) -> Timetable:
        """All flows of the day."""
        work = self.situation.work
        seats = sum(one.count for one in work.asking if not one.is_service)
        if seats > MOST_SEATS:
            raise Refused("seats", f"{seats} seats", f"at most {MOST_SEATS} seats in a day that is rehearsed")
        standard = work.standard
        times = timetable_of(work.asking, standard.parts, self.stations, standard.rush, self.random)
        for (n, k), spells in times.sessions.items():
            self.seats[n, k] = []
            for own in self._own(n, k):
                found = self._flow(own, k) if spells else None
                if found is not None:
                    self.seats[n, k] += [
                        self._add(replace(found, starts_s=spell.starts_s, stops_s=spell.stops_s))
                        for spell in spells
                    ]
        self._cards(times)
        self._services(times)
        return times

    def _own(self, n: int, k: int) -> Iterator[HomeFlow]:
        """What one of a class moves, its bytes in one pool of each tier: drawn, or in turn by shares."""
        one = self.situation.work.asking[n]
        at = (k + 0.5) / max(one.count, 1) if self.random is None else self.random.random()
        flows = list(flows_of(self.situation, n))
        for homes in (self.situation.work.work_homes[n], self.situation.work.archive_homes[n]):
            reached, chosen = 0.0, ""
            for pool_id, odds in homes.items():
                reached += odds
                chosen = pool_id
                if at < reached:
                    break
            taken = [flow for flow in flows if flow.pool_id == chosen and flow.pool_id in homes]
            flows = [flow for flow in flows if flow.pool_id not in homes]
            yield from (replace(flow, odds=1.0) for flow in taken)

    def _flow(self, flow: HomeFlow, k: int, starts_s: float = 0.0, size: float = math.inf) -> Flow | None:
        """A session, or a job of so many bytes; None where it has no way."""
        reads = flow.way == 0
        way = self.resources.way(flow.n, k, flow.pool_id, reads=reads)
        if way is None:
            return None
        through = -1 if reads else self.buffer_of.get(flow.pool_id, -1)
        if through >= 0:
            inside = self.resources.flash(self.caches[flow.pool_id])
        else:
            inside = self.resources.drives(flow.pool_id, reads=reads)
        return Flow(
            costs=(*way, *inside),
            cap_bytes_per_s=flow.rate,
            starts_s=starts_s,
            size_bytes=size,
            weight=PLAYERS_REQUESTS if flow.is_paced else COPIES_REQUESTS,
            level=level_of(flow, self.situation, self.first),
            through=through,
            player_s=PLAYER_S if flow.is_paced and math.isinf(size) else None,
        )

    def _add(self, flow: Flow) -> int:
        self.flows.append(flow)
        return len(self.flows) - 1

    def _cards(self, times: Timetable) -> None:
        """A shooting day's cards, shared by what the stations read; written, and read back as they are."""
        ingest, rules = self.judged.of(INGEST), self.judged.bundle.house_rules
        if not ingest.stations_bytes_per_s:
            return
        for (n, k), at in times.cards_at_s.items():
            one = self.situation.work.asking[n]
            station = self.stations[one.id]
            source = station.readers * station.card_bytes_per_s
            size = ingest.bytes_per_day * source / ingest.stations_bytes_per_s * station.copies_here
            places = [
                self._add(found)
                for own in self._own(n, k)
                if size > 0 and (found := self._flow(own, k, at, size)) is not None
            ]
            if places:
                deadline = at + rules.cards_safe_hours_max * 3600
                self.jobs.append(_Job(one.id, self._called(n, k), "cards", size, at, deadline, tuple(places)))

    def _services(self, times: Timetable) -> None:
        for session in times.services:
            one = self.situation.work.asking[session.n]
            length, places, size = session.stops_s - session.starts_s, [], 0.0
            for own in self._own(session.n, 0):
                moved = own.rate * length
                found = self._flow(own, 0, session.starts_s, moved)
                if found is not None:
                    places.append(self._add(found))
                    size += moved
            if places:
                told = (size, session.starts_s, session.stops_s, tuple(places))
                self.jobs.append(_Job(one.id, one.name, "service", *told))

    def _called(self, n: int, k: int) -> str:
        one = self.situation.work.asking[n]
        return f"{one.name} {k + 1}" if one.count > 1 else one.name

    def changes(self, failure: Failure | None) -> tuple[Change, ...]:
        """A pool from the minute on in which its disk dies: degraded, or rebuilding while that takes."""
        if failure is None:
            return ()
        pool = next((p for p in self.situation.work.cold if p.id == failure.pool_id), None)
        if pool is None:
            known = ", ".join(p.id for p in self.situation.work.cold) or "there is none yet"
            raise Refused("fail", failure.pool_id, f"the id of a pool ({known})")
        share = self.judged.of(SETTINGS)[pool.id].rebuild_share
        rebuilds = pool.spares + pool.shared_spares > 0 and pool.rebuild_seconds is not None
        trouble: Trouble = "a rebuild" if rebuilds else "a dead disk"
        kept = max(min(kept_in(pool, trouble, share) or (0.0,)), LOST_SHARE)
        at = self.resources.pool(pool.id)
        whole = self.resources.capacities[at]
        found = [Change(failure.at_s, {at: whole * kept})]
        if rebuilds and pool.rebuild_seconds is not None:
            found.append(Change(failure.at_s + pool.rebuild_seconds, {at: whole}))
        return tuple(found)


def rehearse(bundle: Bundle, failure: Failure | None = None, seed: int | None = None) -> Rehearsal:
    """The ordinary day, or with a ``seed`` one that is drawn. Raises :class:`Refused` for no pool of it."""
    return rehearsed(judge(bundle, PARTS), failure, None if seed is None else np.random.default_rng(seed))


def rehearsed(
    judged: Judged, failure: Failure | None = None, random: np.random.Generator | None = None
) -> Rehearsal:
    """The same of a plan that is judged already, drawn from ``random`` where that is given."""
    return told_of(gone_by(judged, failure, random))


class GoneBy(NamedTuple):
    """A day as it went by: what was set up, who worked when, what broke, and what became of the flows."""

    stage: SetUp
    times: Timetable
    changes: tuple[Change, ...]
    day: FluidDay


def gone_by(judged: Judged, failure: Failure | None, random: np.random.Generator | None = None) -> GoneBy:
    """Let a day go by. Raises :class:`Refused` for a pool that there is not, and for too many seats."""
    stage = SetUp(judged, random)
    times = stage.set_up()
    changes = stage.changes(failure)
    day = fluid_day(stage.flows, stage.buffers, stage.resources.capacities, SECONDS_A_DAY, changes)
    return GoneBy(stage, times, changes, day)


def told_of(gone: GoneBy) -> Rehearsal:
    """What is told of a day that went by."""
    stage, times, _, day = gone
    judged = stage.judged
    names = {hop.id: hop.name for hop in judged.of(WIRING).hops}
    names |= {cache.id: cache.name for cache in judged.bundle.plan.caches}
    seats = tuple(_seat(stage, day, names, times, key) for key in stage.seats)
    caches = tuple(_caches(stage, day))
    return Rehearsal(
        begins_s=BEGINS_S,
        left_out=tuple(dict.fromkeys(each.name for each in judged.of(WIRING).unreached)),
        seats=seats,
        jobs=tuple(_job(job, day) for job in stage.jobs),
        caches=caches,
        unwatchable_s=sum(seat.unwatchable_s for seat in seats),
        frozen_s=sum(seat.frozen_s for seat in seats),
        dirty_bytes_max=sum(cache.dirty_bytes_max for cache in caches),
        conservation_error_bytes=day.conservation_error_bytes,
    )


def _seat(
    stage: SetUp, day: FluidDay, names: dict[str, str], times: Timetable, key: tuple[int, int]
) -> RehearsedSeat:
    """A seat stands while any of what it plays does."""
    own = [day.flows[at] for at in stage.seats[key]]
    spells = _joined(sorted(spell for told in own for spell in told.spells))
    blamed: dict[int, float] = {}
    for told in own:
        for at, seconds in told.blamed.items():
            if at >= 0:
                blamed[at] = blamed.get(at, 0.0) + seconds
    worst = max(blamed, key=lambda at: blamed[at], default=None)
    # What is missed of several streams is counted once, of the one that misses most.
    frozen = max((told.frozen_s for told in own), default=0.0)
    hop_id = None
    if worst is not None:
        beyond = worst - len(stage.resources.hop_ids)
        hop_id = list(stage.caches.values())[beyond].id if beyond >= 0 else stage.resources.hop_ids[worst]
    one = stage.situation.work.asking[key[0]]
    return RehearsedSeat(
        id=one.id,
        name=one.name,
        number=key[1] + 1,
        at_peak_s=sum(s.stops_s - s.starts_s for s in times.sessions[key]),
        unwatchable_s=sum(to - since for since, to in spells),
        frozen_s=frozen,
        blamed_hop_id=hop_id,
        blamed_name=names.get(hop_id or "", ""),
        spells=_on_the_clock(spells),
        sessions=_on_the_clock([(s.starts_s, s.stops_s) for s in times.sessions[key]]),
    )


def _on_the_clock(spans: list[tuple[float, float]]) -> tuple[Span, ...]:
    return tuple(Span(from_s=since + BEGINS_S, to_s=to + BEGINS_S) for since, to in spans)


def _joined(spells: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Spells without overlaps."""
    found: list[tuple[float, float]] = []
    for since, to in spells:
        if found and since <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], to))
        elif to > since:
            found.append((since, to))
    return found


def _job(job: _Job, day: FluidDay) -> RehearsedJob:
    ends = [day.flows[at].done_s for at in job.flows]
    done = None if any(end is None for end in ends) else max(end for end in ends if end is not None)
    late = (SECONDS_A_DAY if done is None else done) - job.deadline_s
    return RehearsedJob(
        id=job.id,
        name=job.name,
        kind=job.kind,
        bytes=job.size_bytes,
        starts_s=job.starts_s + BEGINS_S,
        deadline_s=job.deadline_s + BEGINS_S,
        done_s=None if done is None else done + BEGINS_S,
        late_s=late if late > ON_TIME_S else 0.0,
    )


def _caches(stage: SetUp, day: FluidDay) -> Iterator[RehearsedCache]:
    for n, cache in enumerate(stage.caches.values()):
        holds = stage.buffers[n].capacity_bytes
        full = next((m.at_s for m in day.moments if m.dirty_bytes[n] >= holds), None)
        yield RehearsedCache(
            id=cache.id,
            name=cache.name,
            holds_bytes=round(holds),
            dirty_bytes_max=day.dirty_bytes_max[n],
            full_s=None if full is None else full + BEGINS_S,
        )
