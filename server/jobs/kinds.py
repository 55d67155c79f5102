"""The kinds of long work there are: how a part is worked out by its number, and how parts are summed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from larder.asks.rehearsal.failures import parse_failure
from larder.asks.rehearsal.many_days import DayFigures, ManyDays
from larder.asks.safeguard import LivedPart, PoolLived
from larder.readers.plan_file import bundle_from

Json = dict[str, Any]


@dataclass(frozen=True)
class Work:
    """A job's work made ready: a part by its number, and all parts summed."""

    part: Callable[[int], Json]
    summed: Callable[[Iterable[Json]], Json]


def _rehearse_days(asked: Json) -> Work:
    failures = [parse_failure(text) for text in asked["fails"]]
    many = ManyDays(bundle_from(asked["document"]), asked["seed"], failures)
    return Work(
        part=lambda number: many.day(number).model_dump(mode="json"),
        summed=lambda parts: many.summed(map(DayFigures.model_validate, parts)).model_dump(mode="json"),
    )


def _lifetimes(asked: Json) -> Work:
    lived = PoolLived(bundle_from(asked["document"]), asked["pool_id"], asked["seed"])
    return Work(
        part=lambda number: lived.part(number).model_dump(mode="json"),
        summed=lambda parts: lived.summed(map(LivedPart.model_validate, parts)).model_dump(mode="json"),
    )


REHEARSE_DAYS, LIFETIMES = "rehearse-days", "lifetimes"
KINDS: Mapping[str, Callable[[Json], Work]] = {REHEARSE_DAYS: _rehearse_days, LIFETIMES: _lifetimes}
"""By name; each is made ready from what was asked, by whichever worker, as often as one likes."""
