"""The kinds of long work there are: how a part is worked out by its number, and how parts are summed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from larder.asks.advisor.advise import AdviceInParts, AdvicePart
from larder.asks.advisor.more import MoreInParts
from larder.asks.advisor.why_not import pointed_at, why_not
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
    check: Callable[[], object] | None = None
    """Refuses what no part could be worked out of; the first part does where nothing quicker can."""


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


def _advice(asked: Json) -> Work:
    whole = AdviceInParts(bundle_from(asked["document"]))
    return Work(
        part=lambda number: whole.part(number).model_dump(mode="json"),
        summed=lambda parts: whole.summed(map(AdvicePart.model_validate, parts)).model_dump(mode="json"),
        check=lambda: None,
    )


def _more(asked: Json) -> Work:
    whole = MoreInParts(bundle_from(asked["document"]))

    def part(number: int) -> Json:
        told = whole.part(number)
        return {} if told is None else told.model_dump(mode="json")

    return Work(part, lambda parts: {"told": [each for each in parts if each]}, check=lambda: None)


def _why_not(asked: Json) -> Work:
    bundle, of = bundle_from(asked["document"]), asked["of"]
    return Work(
        part=lambda _: why_not(bundle, of).model_dump(mode="json"),
        summed=lambda parts: next(iter(parts)),
        check=lambda: pointed_at(bundle, of),
    )


REHEARSE_DAYS, LIFETIMES = "rehearse-days", "lifetimes"
ADVICE, MORE, WHY_NOT = "advice", "more", "why-not"
AWAITED = frozenset({ADVICE, MORE, WHY_NOT})
"""Kinds of which a plan has one open at a time, that somebody sits and waits for."""
KINDS: Mapping[str, Callable[[Json], Work]] = {
    REHEARSE_DAYS: _rehearse_days,
    LIFETIMES: _lifetimes,
    ADVICE: _advice,
    MORE: _more,
    WHY_NOT: _why_not,
}
"""By name; each is made ready from what was asked, by whichever worker, as often as one likes."""
