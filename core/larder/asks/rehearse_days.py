"""Many drawn days of a plan: how bad a day is as a rule, and how bad the worst of twenty."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np

from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import judge

from .movers import goes_on_always
from .rehearse import Failure, Rehearsal, rehearsed

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


def rehearse_days(
    bundle: Bundle,
    days: int,
    seed: int,
    failure: Failure | None = None,
    goes_on: Callable[[], bool] = goes_on_always,
) -> RehearsedDays:
    """Days that are drawn by ``seed`` and their number, so that any of them can be drawn alone.

    Raises :class:`Refused` for a number of days that is none.
    """
    if not 1 <= days <= MOST_DAYS:
        raise Refused("days", days, f"a whole number from 1 to {MOST_DAYS}")
    judged = judge(bundle, PARTS)
    seen: list[Rehearsal] = []
    for n in range(days):
        if seen and not goes_on():
            break
        seen.append(rehearsed(judged, failure, np.random.default_rng([seed, n])))
    whole = [day.unwatchable_s for day in seen]
    return RehearsedDays(
        days=len(seen),
        seed=seed,
        unwatchable_p50_s=quantile(whole, 0.5),
        unwatchable_p95_s=quantile(whole, 0.95),
        seats=tuple(_seats(seen)),
        jobs=tuple(_jobs(seen)),
        dirty_bytes_max=max(day.dirty_bytes_max for day in seen),
        conservation_error_bytes=max(day.conservation_error_bytes for day in seen),
    )


def quantile(values: Sequence[float], level: float) -> Quantile:
    """The order statistic at ``level``; its interval by the normal limit of the binomial ranks."""
    ordered, last = sorted(values), len(values) - 1
    middle, spread = last * level, _SPREAD * math.sqrt(len(values) * level * (1 - level))
    low, high = max(math.floor(middle - spread), 0), min(math.ceil(middle + spread), last)
    return Quantile(value=ordered[round(middle)], low=ordered[low], high=ordered[high])


def _seats(seen: list[Rehearsal]) -> list[SeatDays]:
    names = {seat.id: seat.name for seat in seen[0].seats}
    found = []
    for seat_id, name in names.items():
        worst = [max(s.unwatchable_s for s in day.seats if s.id == seat_id) for day in seen]
        found.append(SeatDays(id=seat_id, name=name, p50=quantile(worst, 0.5), p95=quantile(worst, 0.95)))
    return found


def _jobs(seen: list[Rehearsal]) -> list[JobDays]:
    found = []
    for n, job in enumerate(seen[0].jobs):
        done = [(day.jobs[n].done_s, day.begins_s + SECONDS_A_DAY) for day in seen]
        times = [ends if at is None else at for at, ends in done]
        late = sum(day.jobs[n].late_s > 0 for day in seen)
        p50, p95 = quantile(times, 0.5), quantile(times, 0.95)
        found.append(JobDays(id=job.id, name=job.name, p50=p50, p95=p95, late_days=late))
    return found
