"""Ranks the culprits by how well each explains what was seen, and names what would tell the first two apart.

Each reading is taken as what a culprit predicts times a log-normal error; a culprit's own spread is added to
that of measuring (naive Bayes on log rates; the readings' errors are independent).
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import rate_text
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import judge

from .culprits import Culprit, culprits_of
from .house import Limit, house_at
from .readings import READINGS, WORDS, Reading, Seen

MEASURED_SPREAD = 0.1
"""Of a reading from one time to the next."""
MOST_TOLD = 6
LEAST_TOLD = 0.005
TELLS_APART = 0.25
"""Two predictions tell culprits apart where they differ by more than a quarter."""


class Compared(Result):
    """A reading beside what the plan gives and what the culprit would; in bytes/s or frames/s."""

    reading: Reading
    words: str
    planned: float
    seen: float | None
    explained: float


class Suspect(Result):
    """A culprit with how likely it is among all, 0 to 1, and the test that shows it directly."""

    id: str
    name: str
    test: str
    odds: float
    readings: tuple[Compared, ...]


class Diagnosis(Result):
    """What the way's hops give one stream, the suspects by their odds, and what to measure next.

    ``next_reading`` is null where nothing that is left would tell the first two apart.
    """

    seat_id: str
    limits: tuple[Limit, ...]
    suspects: tuple[Suspect, ...]
    next_reading: Reading | None
    next_words: str


def diagnose(bundle: Bundle, seat_id: str, seen: Seen) -> Diagnosis:
    """Raises :class:`Refused` for a seat that is not there or reaches nothing, and for no reading."""
    given = seen.given()
    if not given:
        raise Refused("seen", "nothing", "at least one reading, such as a file copied from the storage")
    place = house_at(judge(bundle, PARTS), seat_id)
    culprits = list(culprits_of(place.house, place.context))
    planned = place.house.readings()
    for name in ("frames", "frames_from_local"):
        if name in given and not place.house.need:
            raise Refused(name, given[name], "nothing: this seat plays no footage")
    for name, value in given.items():
        if math.isinf(planned[name]):
            raise Refused(name, value, "nothing: no wire and no drive is in the way of that at this seat")
    logs = [math.log(culprit.prior) + _log_likelihood(culprit, planned, given) for culprit in culprits]
    highest = max(logs)
    weights = [math.exp(log - highest) for log in logs]
    total = sum(weights)
    ranked = sorted(zip(culprits, weights, strict=True), key=lambda each: -each[1])
    suspects = tuple(
        Suspect(
            id=culprit.id,
            name=culprit.name,
            test=culprit.test,
            odds=weight / total,
            readings=tuple(_compared(culprit, planned, given)),
        )
        for n, (culprit, weight) in enumerate(ranked)
        if n < 2 or (n < MOST_TOLD and weight / total > LEAST_TOLD)
    )
    reading, words = _next(ranked[0][0], ranked[1][0], given)
    return Diagnosis(
        seat_id=seat_id, limits=place.limits, suspects=suspects, next_reading=reading, next_words=words
    )


def _log_likelihood(culprit: Culprit, planned: dict[Reading, float], given: dict[Reading, float]) -> float:
    """A reading that the culprit does not touch has the spread of measuring alone."""
    predicted = culprit.house.readings()
    total = 0.0
    for name, value in given.items():
        spread = math.hypot(MEASURED_SPREAD, culprit.spread if _touches(culprit, name, planned) else 0.0)
        off = math.log(value / max(predicted[name], 1e-9)) / spread
        total -= off * off / 2 + math.log(spread)
    return total


def _touches(culprit: Culprit, name: Reading, planned: dict[Reading, float]) -> bool:
    return not math.isclose(culprit.house.readings()[name], planned[name], rel_tol=1e-9)


def _compared(
    culprit: Culprit, planned: dict[Reading, float], given: dict[Reading, float]
) -> Iterator[Compared]:
    explained = culprit.house.readings()
    for name in READINGS:
        is_finite = math.isfinite(planned[name]) and math.isfinite(explained[name])
        if is_finite and (name in given or not math.isclose(explained[name], planned[name], rel_tol=1e-6)):
            yield Compared(
                reading=name,
                words=WORDS[name],
                planned=planned[name],
                seen=given.get(name),
                explained=explained[name],
            )


def _next(first: Culprit, second: Culprit, given: dict[Reading, float]) -> tuple[Reading | None, str]:
    """The reading in which the first two differ most, of those that nobody has taken yet."""
    one, two = first.house.readings(), second.house.readings()
    apart = {
        name: abs(math.log(max(one[name], 1e-9) / max(two[name], 1e-9)))
        for name in READINGS
        if name not in given and 0 < max(one[name], two[name]) < math.inf
    }
    best = max(apart, key=lambda name: apart[name], default=None)
    if best is None or apart[best] < TELLS_APART:
        return None, f"{first.test} It is the quickest way to be sure."
    result = [_said(best, each[best]) for each in (one, two)]
    return best, (
        f"Measure {WORDS[best]}: about {result[0]} speaks for the first, about {result[1]} for the second."
    )


def _said(name: Reading, value: float) -> str:
    return f"{value:.0f} frames a second" if name.startswith("frames") else rate_text(value)
