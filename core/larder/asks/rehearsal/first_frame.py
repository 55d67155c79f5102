"""How long a jump takes in the course of a day: the worst moment of every seat that plays."""

from __future__ import annotations

import math
from collections import Counter

from larder.laws.device import VISIT_BYTES
from larder.laws.first_frame import first_frame_seconds
from larder.laws.fluid_day import FluidDay, Moment, capacities_over
from larder.plan.seats import RemoteSeat
from larder.stages.small_files import OFFICE_ROUND_TRIP_SECONDS

from .set_up import AS_FAST_AS_THE_WAY, SetUp


class FirstFrames:
    """Asked for one seat after the other; what a moment's drives serve is looked up once."""

    def __init__(self, stage: SetUp, day: FluidDay) -> None:
        self.stage, self.day = stage, day
        seats = stage.judged.bundle.plan.brief.seats
        self._round_trip_s = {s.id: s.round_trip_ms / 1e3 for s in seats if isinstance(s, RemoteSeat)}
        self._pool_at = stage.resources.pools_crossed()
        self._pool_of = [self._pool(n) for n in range(len(stage.flows))]
        self._capacities = list(capacities_over(stage.resources.capacities, day))
        self._streams = [
            Counter(own for rate, own in zip(moment.rates, self._pool_of, strict=True) if rate > 0)
            for moment in day.moments
        ]

    def worst(self, key: tuple[int, int]) -> tuple[float, float] | None:
        """(seconds, when) of the worst moment; None where nothing is read, or nothing comes."""
        stage = self.stage
        reading = [n for n in stage.seats[key] if stage.flows[n].player_s is not None and self._pool_of[n]]
        trip = self._round_trip_s.get(stage.situation.work.asking[key[0]].id, OFFICE_ROUND_TRIP_SECONDS)
        found: tuple[float, float] | None = None
        for at, moment in enumerate(self.day.moments):
            for n in reading:
                flow = stage.flows[n]
                if not flow.starts_s <= moment.at_s < flow.stops_s or moment.rates[n] <= 0:
                    continue
                seconds = self._of(at, moment, n, trip)
                if math.isfinite(seconds) and (found is None or seconds > found[0]):
                    found = seconds, moment.at_s
        return found

    def _of(self, at: int, moment: Moment, n: int, trip_s: float) -> float:
        pool_id = self._pool_of[n]
        pool = self.stage.pools[pool_id]
        place = next(at for at, own in self._pool_at.items() if own == pool_id)
        capacities = self._capacities[at]
        busy = min(moment.used[place] / capacities[place], 1.0)
        turn_s = pool.drive_latency_seconds
        if pool.drive_kind == "hdd":
            turn_s = VISIT_BYTES / pool.as_hop.read_bytes_per_s
        costs = self.stage.flows[n].costs
        free = min(((capacities[h] - moment.used[h]) / cost for h, cost in costs), default=AS_FAST_AS_THE_WAY)
        return first_frame_seconds(
            trip_s,
            turn_s,
            busy * (self._streams[at][pool_id] - 1),
            self.stage.flows[n].cap_bytes_per_s,
            moment.rates[n] + max(free, 0.0),
        )

    def _pool(self, n: int) -> str:
        """The pool whose drives a flow reads or writes; empty where a cache takes it in."""
        return next((self._pool_at[h] for h, _ in self.stage.flows[n].costs if h in self._pool_at), "")
