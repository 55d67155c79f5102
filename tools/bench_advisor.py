"""Rows of the bench about the advisor: candidates and their exact front, the cheapest, the first advice."""

from __future__ import annotations

import time
from dataclasses import dataclass
from statistics import median

import numpy as np

from bench_core import seconds
from larder.asks.advisor.advise import advise, advisor_of
from larder.asks.advisor.search import choices_for
from larder.base.memo import forget_all
from larder.laws.front import Halves, Wanted, cheapest_pair, front_of_pairs
from larder.laws.tests.test_front import by_solver, halves
from larder.plan.bundle import Bundle

FRONT_OF, LOOKED_AT = 2_900, 10_000
"""Halves of each kind: 8.4 million pairs, and 100 million."""
APART = 120
"""As many of each kind as are crossed by plain objects, to tell what one candidate costs so."""
BRIEFS = 100
LOOSE = Wanted(0.5, 1e-3, np.array([9_000.0, 400.0]))


@dataclass(frozen=True)
class _Candidate:
    cost: float
    space: float
    speed: float
    odds: float


def _apart(a: Halves, b: Halves, wanted: Wanted) -> list[_Candidate]:
    """Every pair as an object, those that keep to it kept, and scanned for the undominated ones."""
    kept = []
    for i in range(len(a)):
        for j in range(len(b)):
            m, n = a.measures, b.measures
            pair = _Candidate(
                m.cost[i] + n.cost[j],
                m.space[i] + n.space[j],
                min(m.speed[i], n.speed[j]),
                max(m.odds[i], n.odds[j]),
            )
            fits = all(a.taken[k, i] + b.taken[k, j] <= wanted.limits[k] for k in range(len(wanted.limits)))
            if fits and pair.speed >= wanted.speed and pair.odds <= wanted.odds:
                kept.append(pair)
    best: list[_Candidate] = []
    for one in sorted(kept, key=lambda p: (p.cost, -p.space, -p.speed, p.odds)):
        if not any(o.space >= one.space and o.speed >= one.speed and o.odds <= one.odds for o in best):
            best.append(one)
    return best


def _ms(began: float) -> float:
    return (time.perf_counter() - began) * 1000


def crossed(each: int, repeats: int) -> tuple[list[float], float]:
    """(milliseconds of the exact front of ``each`` × ``each`` candidates, those of an object for each)."""
    rng = np.random.default_rng(18)
    a, b = halves(rng, each), halves(rng, each)
    times = [seconds(lambda: front_of_pairs(a, b, LOOSE)) * 1000 for _ in range(repeats)]
    few = np.arange(APART)
    return times, seconds(lambda: _apart(a.at(few), b.at(few), LOOSE)) * 1000 * (each / APART) ** 2


def cheapest() -> tuple[list[float], list[float]]:
    """(milliseconds of the cheapest on 100 briefs, those of a solver); raises where they differ."""
    rng = np.random.default_rng(2027)
    ours, theirs = [], []
    for _ in range(BRIEFS):
        a, b = halves(rng, int(rng.integers(100, 900))), halves(rng, int(rng.integers(100, 900)))
        limits = np.array([rng.uniform(1500, 5000), rng.uniform(60, 250)])
        wanted = Wanted(float(rng.uniform(0, 2)), float(10 ** rng.uniform(-10, -4)), limits)
        began = time.perf_counter()
        pair = cheapest_pair(a, b, wanted)
        ours.append(_ms(began))
        began = time.perf_counter()
        least = by_solver(a, b, wanted)
        theirs.append(_ms(began))
        cost = None if pair is None else float(a.measures.cost[pair[0]] + b.measures.cost[pair[1]])
        if (cost is None) != (least is None) or (cost is not None and abs(cost - (least or 0)) > 1e-6):
            raise AssertionError(f"the cheapest costs {cost} and by the solver {least}")
    return ours, theirs


def first_advice(bundle: Bundle) -> tuple[list[float], float]:
    """(milliseconds of the first advice, cold; those of the whole one, with why the others lose)."""

    def cold(*, losers: bool) -> float:
        forget_all()
        for kept in (advise, advisor_of, choices_for):
            kept.cache_clear()
        return seconds(lambda: advise(bundle, losers=losers)) * 1000

    return [cold(losers=False) for _ in range(3)], median(cold(losers=True) for _ in range(3))
