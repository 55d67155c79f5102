"""What a day begins with: the flows, whose they are, what takes in writes, and the resources that all cross.

It stands on the flows, homes and hops that Speed is judged by; nothing is modelled twice. Seats at their peak
are sessions with a player each; what is copied is a job.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from larder.asks.share_out import COPIES_REQUESTS, PLAYERS_REQUESTS, HomeFlow, flows_of, level_of
from larder.base.errors import Refused
from larder.base.units import SECONDS_A_DAY
from larder.laws.fluid_day import Buffer, Flow
from larder.plan.caches import Cache
from larder.plan.seats import IngestSeat
from larder.plan.timetable import JobKind
from larder.stages.ingest import INGEST
from larder.stages.pool import PoolResult
from larder.stages.pool_setting import SETTINGS
from larder.stages.stage import Judged
from larder.stages.tiers import TIERS
from larder.stages.trouble import kept_in

from .hours import Hours, Household, hours_of
from .nightly_copies import with_nightly_copies
from .resources import Costs, DayResources

MOST_SEATS = 200
"""Each seat is a flow of its own: with more of them a day would take too long to be waited for."""
SHORTEST_RUN_S = 900.0
"""Destage runs follow one another no closer than this; oftener is as good as always."""
COPIES_LEVEL, LEFT_OVER_LEVEL = 1, 2
"""Playback that switches put first is served before copies, a rebuild or scrub by what is left over."""
AS_FAST_AS_THE_WAY = 1e12
"""Bytes/s that no way carries: a job that only its way holds back."""
LOST_SHARE = 1e-9
"""What is left of what is gone: nothing is divided by nothing."""
Kind = Literal["service"] | JobKind


def degraded_share(pool: PoolResult) -> float | None:
    """What a pool with a dead disk keeps of its speed; None where its bytes are lost."""
    kept = kept_in(pool, "a dead disk", 0.0)
    return None if kept is None else max(min(kept), LOST_SHARE)


@dataclass(frozen=True)
class Hold:
    """What takes in a pool's writes before its drives do."""

    id: str
    name: str
    kind: Literal["write-back", "staging", "memory"]
    pool_id: str
    capacity_bytes: float


@dataclass(frozen=True)
class Job:
    """A job's flows, by their places, and what is told of it; times from the day's beginning."""

    id: str
    name: str
    kind: Kind
    size_bytes: float
    starts_s: float
    deadline_s: float
    flows: tuple[int, ...]
    pool_id: str = ""


class SetUp:
    """What is set up for a day. Raises :class:`Refused` for more seats than a day can have."""

    def __init__(self, judged: Judged, random: np.random.Generator | None = None) -> None:
        self.judged, self.random = judged, random
        self.resources = DayResources(judged)
        self.situation = self.resources.situation
        plan = judged.bundle.plan
        self.timetable = with_nightly_copies(judged)
        self.begins_s = self.timetable.begins_minute * 60.0
        self.pools = {pool.id: pool for pool in self.situation.work.cold}
        self.stations = {s.id: s for s in plan.brief.seats if isinstance(s, IngestSeat) and s.count}
        self.first = {s.id for s in plan.wiring.switches if s.puts_playback_first}
        self.flows: list[Flow] = []
        self.seats: dict[tuple[int, int], list[int]] = {}
        self.jobs: list[Job] = []
        self.left_out: list[str] = []
        self.holds: list[Hold] = []
        self.buffers: list[Buffer] = []
        self.buffer_of: dict[str, int] = {}
        self.holds_at: dict[str, int] = {}
        """The place of the flash that takes in a pool's writes."""
        self._inside: dict[str, Costs] = {}
        work = self.situation.work
        seats = sum(one.count for one in work.asking if not one.is_service)
        if seats > MOST_SEATS:
            raise Refused("seats", f"{seats} seats", f"at most {MOST_SEATS} seats in a day that is rehearsed")
        standard = work.standard
        house = Household(work.asking, standard.parts, self.stations, standard.rush, self.timetable)
        self.hours: Hours = hours_of(house, random)

    def into_day(self, clock_s: float) -> float:
        """Seconds from the day's beginning: an earlier time of the clock is of the next morning."""
        return (clock_s - self.begins_s) % SECONDS_A_DAY

    def hold_back(self, destaged_s: dict[str, tuple[float, ...]]) -> None:
        """Caches, staging and memory; staging is emptied at these times, else when the work is done."""
        caches = {c.pool_id: c for c in self.judged.bundle.plan.caches if c.mode in ("write-back", "staging")}
        for pool_id, cache in caches.items():
            flash = self.resources.flash(cache)
            self._inside[pool_id], self.holds_at[pool_id] = flash, flash[0][0]
            kind: Literal["write-back", "staging"] = "staging" if cache.mode == "staging" else "write-back"
            runs = (destaged_s.get(pool_id) or tuple(self._runs(cache))) if kind == "staging" else None
            self._hold(Hold(cache.id, cache.name, kind, pool_id, float(cache.usable_bytes)), runs)
        for box in self.judged.of(TIERS).enclosures:
            homes = {pool_id: setting.homes for pool_id, setting in self.judged.of(SETTINGS).items()}
            behind = [p for p in self.pools if p not in caches and homes[p] and homes[p][0][0] == box.id]
            for pool_id in behind if box.memory else ():
                share = (box.memory.write_buffer_bytes if box.memory else 0) / len(behind)
                self._inside[pool_id] = ()
                name = f"Memory of {box.name}"
                self._hold(Hold(f"memory-{pool_id}"[:40], name, "memory", pool_id, share), None)

    def _hold(self, hold: Hold, runs: tuple[float, ...] | None) -> None:
        """Dirty bytes go to the drives as people's copies do."""
        self.buffer_of[hold.pool_id] = len(self.buffers)
        drives = self.resources.drives(hold.pool_id, reads=False, cold=True)
        self.holds.append(hold)
        self.buffers.append(
            Buffer(hold.capacity_bytes, drives, weight=COPIES_REQUESTS, level=COPIES_LEVEL, runs=runs)
        )

    def _runs(self, cache: Cache) -> Iterator[float]:
        """When the work of the day is done, and as often before and after as it is emptied."""
        every = max(cache.emptied_every_hours * 3600, SHORTEST_RUN_S)
        first = self.hours.ends_s % every
        yield from (first + n * every for n in range(math.ceil((SECONDS_A_DAY - first) / every)))

    def sessions(self) -> None:
        """Everybody who plays, when it is time."""
        player_s = self.judged.bundle.house_rules.player_seconds
        for (n, k), spells in self.hours.sessions.items():
            self.seats[n, k] = []
            for own in self.own(n, k):
                found = self.flow(own, k) if spells else None
                if found is None:
                    continue
                found = replace(found, player_s=player_s if own.is_paced else None)
                self.seats[n, k] += [
                    self.add(replace(found, starts_s=spell.starts_s, stops_s=spell.stops_s))
                    for spell in spells
                ]

    def own(self, n: int, k: int) -> Iterator[HomeFlow]:
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

    def flow(self, flow: HomeFlow, k: int, starts_s: float = 0.0, size: float = math.inf) -> Flow | None:
        """A session, or a job of so many bytes; None where it has no way."""
        reads = flow.way == 0
        way = self.resources.way(flow.n, k, flow.pool_id, reads=reads)
        if way is None:
            return None
        return Flow(
            costs=(*way, *self.at_pool(flow.pool_id, reads=reads)),
            cap_bytes_per_s=flow.rate,
            starts_s=starts_s,
            size_bytes=size,
            weight=PLAYERS_REQUESTS if flow.is_paced else COPIES_REQUESTS,
            level=level_of(flow, self.situation, self.first),
            through=self.through(flow.pool_id, reads=reads),
        )

    def at_pool(self, pool_id: str, *, reads: bool) -> Costs:
        """What a byte takes at its home: of the drives, or of what takes it in before them."""
        if not reads and pool_id in self._inside:
            return self._inside[pool_id]
        return self.resources.drives(pool_id, reads=reads)

    def through(self, pool_id: str, *, reads: bool) -> int:
        """The number of the buffer that a byte is written into, -1 for none."""
        return -1 if reads else self.buffer_of.get(pool_id, -1)

    def add(self, flow: Flow) -> int:
        """Its number among the flows."""
        self.flows.append(flow)
        return len(self.flows) - 1

    def cards(self, listed: set[str]) -> None:
        """A shooting day's cards, shared by what the stations read; not of stations that are listed."""
        ingest, rules = self.judged.of(INGEST), self.judged.bundle.house_rules
        if not ingest.stations_bytes_per_s:
            return
        for (n, k), at in self.hours.cards_at_s.items():
            one = self.situation.work.asking[n]
            station = self.stations[one.id]
            if one.id in listed:
                continue
            source = station.readers * station.card_bytes_per_s
            size = ingest.bytes_per_day * source / ingest.stations_bytes_per_s
            name = f"{one.name} {k + 1}" if one.count > 1 else one.name
            self.card((n, k), (one.id, name), size, at, at + rules.cards_safe_hours_max * 3600)

    def card(
        self, who: tuple[int, int], called: tuple[str, str], size: float, at: float, deadline: float
    ) -> None:
        """One that is written to every copy here, and read back as the station does."""
        n, k = who
        one = self.situation.work.asking[n]
        moved = size * self.stations[one.id].copies_here
        places = [
            self.add(found)
            for own in self.own(n, k)
            if moved > 0 and (found := self.flow(own, k, at, moved)) is not None
        ]
        if places:
            self.jobs.append(Job(*called, "cards", moved, at, deadline, tuple(places)))

    def services(self) -> None:
        """Evenly through their part of the day."""
        for session in self.hours.services:
            one = self.situation.work.asking[session.n]
            length, places, size = session.stops_s - session.starts_s, [], 0.0
            for own in self.own(session.n, 0):
                moved = own.rate * length
                found = self.flow(own, 0, session.starts_s, moved)
                if found is not None:
                    places.append(self.add(found))
                    size += moved
            if places:
                result = (size, session.starts_s, session.stops_s, tuple(places))
                self.jobs.append(Job(one.id, one.name, "service", *result))

    def rebuild_of(self, pool_id: str, called: tuple[str, str], at_s: float, by_s: float) -> int | None:
        """The number of a rebuild's flow, which takes what people leave; None where nothing is left of it."""
        pool = self.pools[pool_id]
        alone, terms = pool.rebuild_alone_seconds, pool.rebuild_terms
        if not alone or terms is None:
            return None
        size = max(terms.member_bytes * terms.allocated_share, 1.0)
        degraded = degraded_share(pool) or LOST_SHARE
        return self.left_over(pool_id, (*called, "rebuild"), size, alone * degraded, (at_s, by_s))

    def left_over(
        self,
        pool_id: str,
        called: tuple[str, str, Kind],
        size: float,
        alone_s: float,
        when: tuple[float, float],
    ) -> int:
        """A flow of so many bytes that lasts ``alone_s`` with all that a whole pool's drives have."""
        at = self.resources.drive_time(pool_id)
        cost = self.resources.drives_of(pool_id) * alone_s / size
        place = self.add(
            Flow(
                costs=((at, cost),),
                cap_bytes_per_s=size / alone_s,
                starts_s=when[0],
                size_bytes=size,
                level=LEFT_OVER_LEVEL,
            )
        )
        self.jobs.append(Job(*called, size, *when, (place,), pool_id))
        return place
