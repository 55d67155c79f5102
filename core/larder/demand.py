"""How much is asked at once: the seats' rates as a distribution, not a sum times a guess.

Each seat is at its peak with its own probability, and with a small probability all are (a shared
deadline). Exact sums up to 4,096 combinations; beyond that a grid of 1 MB/s, with the rounding bound stated:
summed shift by shift or, where there are very many seats, by the product of the classes' transforms.
"""

from __future__ import annotations

import math
from collections import defaultdict
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from .errors import Refused
from .units import MB

EXACT_COMBINATIONS = 4_096
GRID_BYTES_PER_S = MB
MOST_GRID_CELLS = 4_000_000
MOST_SHIFTED_CELLS = 20_000_000
"""Additions up to which shifting beats transforming."""
FEW_SEATS = 60
_ROUNDING = 1e-12
"""Slack on a cumulated probability, so that a level met exactly is met in floating point."""


@dataclass(frozen=True)
class SeatClass:
    """``count`` alike seats, each asking ``bytes_per_s`` with ``probability``, else nothing."""

    name: str
    count: int
    bytes_per_s: float
    probability: float


@dataclass(frozen=True)
class Load:
    """The distribution of the seats' joint demand: ascending ``values`` (bytes/s) and their odds.

    ``error_bound_bytes_per_s`` is 0 where sums are exact.
    """

    values: NDArray[np.float64]
    odds: NDArray[np.float64]
    mean_bytes_per_s: float
    max_bytes_per_s: float
    error_bound_bytes_per_s: float

    @cached_property
    def _cumulated(self) -> NDArray[np.float64]:
        return np.cumsum(self.odds)

    def quantile(self, level: float) -> float:
        """Smallest x with P(X ≤ x) ≥ ``level`` (0 to 1), bytes/s."""
        index = int(np.searchsorted(self._cumulated, level - _ROUNDING, side="left"))
        return float(self.values[min(index, len(self.values) - 1)])


@lru_cache(maxsize=512)
def joint_load(seats: tuple[SeatClass, ...], common_probability: float = 0.0) -> Load:
    """The load of ``seats``; with ``common_probability`` all peak together.

    Raises :class:`Refused` for a negative count or rate, or a probability outside 0 to 1.
    """
    _check(seats, common_probability)
    busy = [s for s in seats if s.count and s.bytes_per_s > 0]
    most = float(sum(s.count * s.bytes_per_s for s in busy))
    independent_mean = sum(s.count * s.bytes_per_s * s.probability for s in busy)
    # Who never peaks adds nothing, and who always does adds the same to every sum.
    certain = sum(s.count * s.bytes_per_s for s in busy if s.probability == 1)
    varying = [s for s in busy if 0 < s.probability < 1]
    combinations = math.prod(s.count + 1 for s in varying)
    exact = combinations <= EXACT_COMBINATIONS
    values, odds, bound = _exact_sums(varying) if exact else _grid_sums(varying)
    values = values + certain
    values, odds = _with_common_peak(values, odds, most, common_probability)
    return Load(
        values=values,
        odds=odds,
        mean_bytes_per_s=(1 - common_probability) * independent_mean + common_probability * most,
        max_bytes_per_s=most,
        error_bound_bytes_per_s=bound,
    )


def _binomial(count: int, probability: float) -> list[float]:
    """P(k of ``count`` seats are at their peak), k = 0 … count."""
    if count <= FEW_SEATS:
        rest = 1 - probability
        return [math.comb(count, k) * probability**k * rest ** (count - k) for k in range(count + 1)]
    # Binomial coefficients of many seats leave floating point; repeated convolution does not.
    odds = np.ones(1)
    for _ in range(count):
        odds = np.convolve(odds, (1 - probability, probability))
    return [float(each) for each in odds]


def _exact_sums(
    seats: list[SeatClass],
) -> tuple[NDArray[np.float64], NDArray[np.float64], float]:
    """Every sum that can come about; a table of a few thousand is quicker filled than arrays are set up."""
    sums = {0.0: 1.0}
    for seat in seats:
        chances = _binomial(seat.count, seat.probability)
        busy = [(k * seat.bytes_per_s, odds) for k, odds in enumerate(chances)]
        joint: dict[float, float] = defaultdict(float)
        for value, odds in sums.items():
            for more, chance in busy:
                joint[value + more] += odds * chance
        sums = joint
    values = sorted(sums)
    return np.array(values), np.array([sums[value] for value in values]), 0.0


def _grid_sums(
    seats: list[SeatClass],
) -> tuple[NDArray[np.float64], NDArray[np.float64], float]:
    cells = [round(s.bytes_per_s / GRID_BYTES_PER_S) for s in seats]
    length = 1 + sum(c * s.count for c, s in zip(cells, seats, strict=True))
    if length > MOST_GRID_CELLS:
        raise Refused("seats", f"{length} MB/s in all", f"a joint peak up to {MOST_GRID_CELLS} MB/s")
    shifts = sum(s.count + 1 for s in seats)
    odds = (_by_shifts if shifts * length <= MOST_SHIFTED_CELLS else _by_transforms)(seats, cells, length)
    bound = sum(
        s.count * abs(s.bytes_per_s - c * GRID_BYTES_PER_S) for c, s in zip(cells, seats, strict=True)
    )
    values = np.arange(length, dtype=np.float64) * GRID_BYTES_PER_S
    return values, odds / odds.sum(), float(bound)


def _by_shifts(seats: list[SeatClass], cells: list[int], length: int) -> NDArray[np.float64]:
    """Class after class, the odds so far moved up by each number of busy seats: quick for hundreds."""
    odds = np.zeros(length)
    odds[0], top = 1.0, 1
    for cell, seat in zip(cells, seats, strict=True):
        so_far, odds = odds[:top].copy(), np.zeros(length)
        for busy, chance in enumerate(_binomial(seat.count, seat.probability)):
            odds[busy * cell : busy * cell + top] += chance * so_far
        top += seat.count * cell
    return odds


def _by_transforms(seats: list[SeatClass], cells: list[int], length: int) -> NDArray[np.float64]:
    """The product of the classes' transforms, turned back."""
    # A power of two keeps the transform quick whatever the sum; sums below it cannot wrap around.
    size = 1 << (length - 1).bit_length()
    frequencies = np.arange(size // 2 + 1)
    transform = np.ones(len(frequencies), dtype=complex)
    for cell, seat in zip(cells, seats, strict=True):
        turn = np.exp(-2j * np.pi * ((frequencies * cell) % size) / size)
        transform *= (1 - seat.probability + seat.probability * turn) ** seat.count
    return np.clip(np.fft.irfft(transform, n=size)[:length], 0.0, None)


def _with_common_peak(
    values: NDArray[np.float64], odds: NDArray[np.float64], most: float, probability: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    if probability == 0:
        return values, odds
    if values[-1] >= most:
        mixed = odds * (1 - probability)
        mixed[int(np.searchsorted(values, most))] += probability
        return values, mixed
    return np.append(values, most), np.append(odds * (1 - probability), probability)


def _check(seats: tuple[SeatClass, ...], common_probability: float) -> None:
    if not 0 <= common_probability <= 1:
        raise Refused("common", common_probability, "a probability from 0 to 1")
    for seat in seats:
        if not 0 <= seat.count <= 10_000:
            raise Refused(f"{seat.name}: count", seat.count, "a whole number from 0 to 10000")
        if not 0 <= seat.bytes_per_s <= 10**13:
            raise Refused(f"{seat.name}: bytes_per_s", seat.bytes_per_s, "a rate from 0 to 10^13 bytes/s")
        if not 0 <= seat.probability <= 1:
            raise Refused(f"{seat.name}: probability", seat.probability, "a number from 0 to 1")
