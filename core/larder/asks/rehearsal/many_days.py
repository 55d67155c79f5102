"""Many drawn days of a plan: how bad a day is as a rule, and how bad the worst of twenty."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence

import numpy as np

from larder.asks.movers import goes_on_always
from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import judge

from .failures import Failure
from .rehearse import Rehearsal, RehearsedJob, before_it_begins, rehearsed

MOST_DAYS = 2_000
_SPREAD = 1.96
"""Standard deviations on either side of nineteen in twenty."""


class Quantile(Result):
    """A quantile of the days, and the two order statistics between which it lies nineteen times in twenty."""

    value: float
    low: float
    high: float


class SeatDays(Result):
    """Seconds in a day that the worst seat of a class was unwatchable."""

    id: str
    name: str
    p50: Quantile
    p95: Quantile


class JobDays(Result):
    """Clock times at which a copy was done, a day after it all began where it was not; and how often late."""

    id: str
    name: str
    p50: Quantile
    p95: Quantile
    late_days: int


class RehearsedDays(Result):
    """So many drawn days; ``unwatchable_s`` of all seats together, ``days`` fewer where it was cut short."""

    days: int
    seed: int
    unwatchable_p50_s: Quantile
    unwatchable_p95_s: Quantile
    seats: tuple[SeatDays, ...]
    jobs: tuple[JobDays, ...]
    dirty_bytes_max: float
    conservation_error_bytes: float


class DayFigures(Result):
    """What many days are summed from: one drawn day's figures, by its number under the seed.

    ``unwatchable_s`` is of all seats together, ``seats`` has that of the worst of each class; ``jobs`` are
    (clock time of its end or of the day's, seconds late).
    """

    number: int
    unwatchable_s: float
    seats: dict[str, float]
    jobs: dict[str, tuple[float, float]]
    dirty_bytes_max: float
    conservation_error_bytes: float


class ManyDays:
    """Draws days of a plan, each by itself, so that they may be drawn in any order and place, and sums them.

    Raises :class:`Refused` as a rehearsal does.
    """

    def __init__(self, bundle: Bundle, seed: int, failures: Iterable[Failure] = ()) -> None:
        self.judged, self.seed, self.failures = judge(bundle, PARTS), seed, tuple(failures)

    def check(self) -> None:
        """Raises :class:`Refused` for what no day could be drawn of, before any is."""
        before_it_begins(self.judged, self.failures, np.random.default_rng([self.seed, 0]))

    def day(self, number: int) -> DayFigures:
        """The day of this number."""
        result = self._drawn(number)
        worst: dict[str, float] = {}
        for seat in result.seats:
            worst[seat.id] = max(worst.get(seat.id, 0.0), seat.unwatchable_s)
        ends_s = result.begins_s + SECONDS_A_DAY
        return DayFigures(
            number=number,
            unwatchable_s=result.unwatchable_s,
            seats=worst,
            jobs={
                key: (ends_s if job.done_s is None else job.done_s, job.late_s)
                for key, job in _by_key(result.jobs).items()
            },
            dirty_bytes_max=result.dirty_bytes_max,
            conservation_error_bytes=result.conservation_error_bytes,
        )

    def _drawn(self, number: int) -> Rehearsal:
        return rehearsed(self.judged, self.failures, np.random.default_rng([self.seed, number]))

    def summed(self, days: Iterable[DayFigures]) -> RehearsedDays:
        """What so many days come to, in whatever order they were drawn; at least one."""
        seen = sorted(days, key=lambda day: day.number)
        like = self._drawn(seen[0].number)
        names = {seat.id: seat.name for seat in like.seats}
        whole = [day.unwatchable_s for day in seen]
        seats = []
        for seat_id, name in names.items():
            worst = [day.seats[seat_id] for day in seen]
            result = SeatDays(id=seat_id, name=name, p50=quantile(worst, 0.5), p95=quantile(worst, 0.95))
            seats.append(result)
        jobs = []
        for key, job in _by_key(like.jobs).items():
            # With homes that are drawn there may be days on which a job has no way.
            ends = [day.jobs[key] for day in seen if key in day.jobs]
            done, late = [at for at, _ in ends], sum(late > 0 for _, late in ends)
            p50, p95 = quantile(done, 0.5), quantile(done, 0.95)
            jobs.append(JobDays(id=job.id, name=job.name, p50=p50, p95=p95, late_days=late))
        return RehearsedDays(
            days=len(seen),
            seed=self.seed,
            unwatchable_p50_s=quantile(whole, 0.5),
            unwatchable_p95_s=quantile(whole, 0.95),
            seats=tuple(seats),
            jobs=tuple(jobs),
            dirty_bytes_max=max(day.dirty_bytes_max for day in seen),
            conservation_error_bytes=max(day.conservation_error_bytes for day in seen),
        )


def _by_key(jobs: Iterable[RehearsedJob]) -> dict[str, RehearsedJob]:
    """Jobs by id and a number: a service runs in several parts of the day, a class has many stations."""
    found: dict[str, RehearsedJob] = {}
    for job in jobs:
        alike = sum(each.id == job.id for each in found.values())
        found[f"{job.id} {alike + 1}"] = job
    return found


def rehearse_days(
    bundle: Bundle,
    days: int,
    seed: int,
    failures: Iterable[Failure] = (),
    goes_on: Callable[[], bool] = goes_on_always,
) -> RehearsedDays:
    """Days that are drawn by ``seed`` and their number, so that any of them can be drawn alone.

    Raises :class:`Refused` for a number of days that is none, and as a rehearsal does.
    """
    if not 1 <= days <= MOST_DAYS:
        raise Refused("days", days, f"a whole number from 1 to {MOST_DAYS}")
    many = ManyDays(bundle, seed, failures)
    seen: list[DayFigures] = []
    for n in range(days):
        if seen and not goes_on():
            break
        seen.append(many.day(n))
    return many.summed(seen)


def quantile(values: Sequence[float], level: float) -> Quantile:
    """The order statistic at ``level``; its interval by the normal limit of the binomial ranks."""
    ordered, last = sorted(values), len(values) - 1
    middle, spread = last * level, _SPREAD * math.sqrt(len(values) * level * (1 - level))
    low, high = max(math.floor(middle - spread), 0), min(math.ceil(middle + spread), last)
    return Quantile(value=ordered[round(middle)], low=ordered[low], high=ordered[high])
