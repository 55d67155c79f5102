"""A band around what a brief expects, narrowed by what was read from the storage since.

What comes in is ``level`` times what the brief expects, and every week by its own chance more or less:

    Δseen = level · Δexpected + noise,  Var(noise) = spread² · Σ (a week's intake)²

The level is normal about 1 before anything was read, and once in ten plans wide of it; the spread of a week
is log-normal about the house's own figure. Readings update both by Bayes' rule: the level in closed form, the
rest on a grid. Increments far outside all others (a disk emptied, an archive poured in) are left out of the
slope by their median and median deviation; they stay in the level of the day.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
EIGHT_IN_TEN = 1.2815515655446004
"""Standard deviations on either side that hold 80 %: from P10 to P90."""
DRAWS = 2_000
SPREAD_GRID, SPREAD_OCTAVES, SPREAD_SIGMA = 33, 5.0, 1.0
"""Spreads tried, from 2^-5 to 2^5 of the house's figure, which is right within a factor of two (one
sigma)."""
WIDE_TIMES, WIDE_ODDS = 4.0, 0.1
"""Once in so many plans a brief is wide of what comes: its level is so many times as uncertain."""
FEWEST_FOR_OUTLIERS, OUTLIER_DEVIATIONS = 5, 8.0
MEDIAN_TO_SIGMA = 1.4826
"""A normal's standard deviation over its median absolute deviation."""


@dataclass(frozen=True)
class Level:
    """What is known of the level: a mixture of normals, one for each spread of a week that is possible.

    ``left_out`` are the places of the increments that no slope follows.
    """

    weights: Array
    spreads: Array
    means: Array
    sigmas: Array
    left_out: tuple[int, ...] = ()

    @property
    def mean(self) -> float:
        """The level to expect, a ratio to what the brief brings."""
        return float(self.weights @ self.means)

    @property
    def sigma(self) -> float:
        """Its standard deviation, a ratio as well."""
        second = self.weights @ (self.sigmas**2 + self.means**2)
        return math.sqrt(max(float(second) - self.mean**2, 0.0))


def level_of(
    expected_bytes: Array,
    seen_bytes: Array,
    noise_bytes: Array,
    *,
    level_sigma: float,
    week_spread: float,
) -> Level:
    """The level after increments were seen; none leave what is believed at first.

    ``noise_bytes`` is √Σ(a week's intake)² of every increment; ``level_sigma`` and ``week_spread`` are
    standard deviations in parts of what is expected.
    """
    octaves = np.tile(np.linspace(-SPREAD_OCTAVES, SPREAD_OCTAVES, SPREAD_GRID), 2)
    spreads = week_spread * np.exp2(octaves)
    is_wide = np.arange(2 * SPREAD_GRID) >= SPREAD_GRID
    left_out = _outliers(expected_bytes, seen_bytes, noise_bytes)
    kept = np.setdiff1d(np.arange(len(seen_bytes)), left_out)
    e, s, v = (each[kept] for each in (expected_bytes, seen_bytes, noise_bytes))
    # Of a zero expected week nothing is learnt; a sliver of noise keeps it from dividing by nothing.
    v = np.maximum(v, 1e-9 * max(float(np.max(np.abs(s), initial=0.0)), 1.0))
    variances = (spreads[:, None] * v[None, :]) ** 2
    prior = np.where(is_wide, level_sigma * WIDE_TIMES, level_sigma) ** -2.0
    precision = prior + (e**2 / variances).sum(axis=1)
    means = (prior + (e * s / variances).sum(axis=1)) / precision
    # log p(seen | spread), the level integrated out.
    fit = (s**2 / variances).sum(axis=1) + prior - means**2 * precision
    log_odds = -0.5 * (fit + np.log(variances).sum(axis=1) + np.log(precision / prior))
    log_odds += np.log(np.where(is_wide, WIDE_ODDS, 1 - WIDE_ODDS)) - 0.5 * (octaves / SPREAD_SIGMA) ** 2
    weights = np.exp(log_odds - log_odds.max())
    return Level(weights / weights.sum(), spreads, means, precision**-0.5, tuple(left_out.tolist()))


def _outliers(expected: Array, seen: Array, noise: Array) -> NDArray[np.int64]:
    """Places of increments that lie far off the median of all, by their own noise."""
    if len(seen) < FEWEST_FOR_OUTLIERS:
        return np.array([], dtype=np.int64)
    total = np.abs(expected).sum()
    slope = np.median(seen[expected != 0] / expected[expected != 0]) if total else 0.0
    off = (seen - slope * expected) / np.maximum(noise, 1e-9 * max(float(np.abs(seen).max()), 1.0))
    middle = np.median(off)
    deviation = MEDIAN_TO_SIGMA * np.median(np.abs(off - middle))
    far = np.abs(off - middle) > OUTLIER_DEVIATIONS * max(float(deviation), 1e-6)
    found: NDArray[np.int64] = np.nonzero(far)[0] if deviation > 0 else np.array([], dtype=np.int64)
    return found


@lru_cache(maxsize=8)
def _chances(points: int) -> tuple[Array, Array, NDArray[np.float32]]:
    """(which spread, where in the level, noise by point) of every draw: the same ones for every plan.

    Draws come in pairs of opposite luck, so that the middle of the band is what is expected; the same luck
    for every plan lets nudges move a band smoothly.
    """
    luck, half = np.random.default_rng(1988), DRAWS // 2
    strata = (luck.permutation(half) + 0.5) / half
    level, noise = luck.standard_normal(half), luck.standard_normal((half, points)).astype(np.float32)
    return np.tile(strata, 2), np.concatenate((level, -level)), np.concatenate((noise, -noise))


def drawn_paths(level: Level, start: Array, slope: Array, weekly: Array) -> NDArray[np.float32]:
    """``DRAWS`` courses of what lies there, bytes, on as many days as ``start`` has.

    ``start`` is what lies there whatever comes, ``slope`` what a level of 1 adds until each day; ``weekly``
    is (weeks, days): what of each week's intake lies there on each day, whose chance is shared by all days. A
    level below 0 is none: what is emptied for good is no growth.
    """
    which, where, noise = _chances(len(start))
    at = np.minimum(np.searchsorted(np.cumsum(level.weights), which), len(level.weights) - 1)
    levels = np.maximum(level.means[at] + level.sigmas[at] * where, 0.0)
    shared = weekly.T @ weekly
    largest = float(shared.diagonal().max(initial=0.0))
    luck: NDArray[np.float32] = np.zeros(1, dtype=np.float32)
    if largest > 0:
        root = np.linalg.cholesky(shared / largest + 1e-9 * np.eye(len(start)))
        by_day = (root * np.sqrt(largest)).astype(np.float32)
        luck = (noise @ by_day.T) * level.spreads[at].astype(np.float32)[:, None]
    paths = start[None, :].astype(np.float32) + np.outer(levels, slope).astype(np.float32) + luck
    found: NDArray[np.float32] = np.maximum(paths, np.float32(0.0))
    return found


def band(paths: NDArray[np.float32]) -> tuple[Array, Array, Array]:
    """(P10, P50, P90) of the courses on every day, bytes."""
    low, middle, high = (round(share * (len(paths) - 1)) for share in (0.1, 0.5, 0.9))
    ranked = np.partition(np.ascontiguousarray(paths.T), (low, middle, high), axis=1)
    return tuple(ranked[:, at].astype(np.float64) for at in (low, middle, high))  # type: ignore[return-value]


def first_day(days: Array, course_bytes: Array, capacity_bytes: float) -> float:
    """The day on which a course first reaches a capacity; infinite where it never does.

    Between two days it goes in a straight line.
    """
    above = course_bytes - capacity_bytes
    full = np.nonzero(above >= 0)[0]
    if not len(full):
        return float(np.inf)
    at = int(full[0])
    if at == 0:
        return float(days[0])
    rise = above[at] - above[at - 1]
    return float(days[at - 1] - above[at - 1] / rise * (days[at] - days[at - 1]))
