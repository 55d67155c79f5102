"""How much is asked at once: the seats' rates as a distribution, not a sum times a guess.

Each seat is at its peak with its own probability, and with a small probability all are (a shared deadline).
Alike seats are merged first. Exact sums up to 4,096 combinations; beyond that a lattice of 16,384 cells from
nothing to the sum of all, on which ``k`` busy seats of a group are split between two neighbouring cells so
that the mean is kept. Whatever is asked, the work is bounded by the lattice and not by the seats.
"""

from __future__ import annotations

import heapq
import math
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from larder.base.errors import Refused
from larder.base.memo import remembered

EXACT_COMBINATIONS = 4_096
LATTICE_CELLS = 16_384
FEWEST_CELLS, MOST_WORK = 2_048, 400_000
"""Cells times groups up to which the lattice keeps all its cells: some 24 groups of alike seats."""
MULTIPLIED_OUT = 250
"""Products for each cell of the result up to which multiplying out beats transforming."""
FEW_SEATS = 60
MOVED_SEATS = 12
"""Seats of a group up to which it is cheaper to move the others' odds by each of its sums."""
MOST_SEATS_A_CLASS = 10_000
MOST_CLASSES = 2_000
MOST_SEATS = 100_000
MOST_BYTES_PER_S = 1e24
KEPT_BYTES = 24_000_000
_ROUNDING = 1e-12
"""Slack on a cumulated probability, so that a level met exactly is met in floating point."""
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class SeatClass:
    """``count`` alike seats, each asking ``bytes_per_s`` with ``probability``, else nothing."""

    name: str = field(compare=False)
    count: int
    bytes_per_s: float
    probability: float


@dataclass(frozen=True)
class Load:
    """The distribution of the seats' joint demand: ascending ``values`` (bytes/s) and their odds.

    ``error_bound_bytes_per_s`` is 0 where sums are exact; on the lattice it is a cell for every group of
    seats, and a quantile is raised by it, so that it is never below the true one.
    """

    values: Floats
    odds: Floats
    mean_bytes_per_s: float
    max_bytes_per_s: float
    error_bound_bytes_per_s: float

    @cached_property
    def _cumulated(self) -> Floats:
        return np.cumsum(self.odds)

    def quantile(self, level: float) -> float:
        """Smallest x with P(X ≤ x) ≥ ``level`` (0 to 1), bytes/s."""
        index = int(np.searchsorted(self._cumulated, level - _ROUNDING, side="left"))
        value = float(self.values[min(index, len(self.values) - 1)])
        return min(value + self.error_bound_bytes_per_s, max(self.max_bytes_per_s, 0.0))


@dataclass(frozen=True)
class _Group:
    """Alike seats of all classes together."""

    bytes_per_s: float
    probability: float
    count: int


@remembered(KEPT_BYTES, lambda load, *_: 1_000 + 3 * load.odds.nbytes)
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
    groups = _merged(s for s in busy if 0 < s.probability < 1)
    values, odds, bound = _sums(groups)
    values, odds = _with_common_peak(values + certain, odds, most, common_probability)
    return Load(
        values=values,
        odds=odds,
        mean_bytes_per_s=(1 - common_probability) * independent_mean + common_probability * most,
        max_bytes_per_s=most,
        error_bound_bytes_per_s=bound,
    )


def load_at_most(seats: tuple[SeatClass, ...], common_probability: float, level: float) -> float:
    """A bound that :func:`joint_load`'s quantile at ``level`` never exceeds, bytes/s, without any sum.

    Mean + √(ln(1/(1 − level)) ÷ 2 · Σ rate²) for sums of independent bounded terms (W. Hoeffding, 1963),
    and never more than all at once.
    """
    busy = [s for s in seats if s.count and s.bytes_per_s > 0]
    beyond = 1 - level / (1 - common_probability) if common_probability < 1 else 0.0
    if beyond <= 0:
        return float(sum(s.count * s.bytes_per_s for s in busy))
    varying = [s for s in busy if 0 < s.probability < 1]
    most = float(sum(s.count * s.bytes_per_s for s in busy if s.probability > 0))
    mean = sum(s.count * s.bytes_per_s * s.probability for s in busy)
    spread = sum(s.count * s.bytes_per_s**2 for s in varying)
    raised = len(varying) * sum(s.count * s.bytes_per_s for s in varying) / FEWEST_CELLS
    return min(most, mean + math.sqrt(-math.log(beyond) / 2 * spread) + raised)


def _merged(seats: Iterable[SeatClass]) -> tuple[_Group, ...]:
    counts: dict[tuple[float, float], int] = defaultdict(int)
    for seat in seats:
        counts[seat.bytes_per_s, seat.probability] += seat.count
    return tuple(_Group(rate, odds, count) for (rate, odds), count in counts.items())


def _sums_bytes(sums: tuple[Floats, Floats, float], _: tuple[_Group, ...]) -> int:
    return 500 + 2 * sums[0].nbytes


@remembered(KEPT_BYTES, _sums_bytes)
def _sums(groups: tuple[_Group, ...]) -> tuple[Floats, Floats, float]:
    """(values, their odds, error bound) of what the groups ask together."""
    return _exact_sums(groups) if _are_few(groups) else _lattice_sums(groups)


def _are_few(groups: tuple[_Group, ...]) -> bool:
    """Whether every sum can be listed; the product is not reckoned further than needed."""
    combinations = 1
    for group in groups:
        combinations *= group.count + 1
        if combinations > EXACT_COMBINATIONS:
            return False
    return True


def binomial(count: int, probability: float) -> Floats:
    """P(k of ``count`` seats are at their peak), k = 0 … count; ``probability`` above 0 and below 1.

    For many seats from the likeliest number outwards, each chance by its ratio to its neighbour: no
    coefficient and no power is formed then, which would leave floating point.
    """
    if count <= FEW_SEATS:
        rest = 1 - probability
        chances = [math.comb(count, k) * probability**k * rest ** (count - k) for k in range(count + 1)]
        return np.array(chances)
    mode = min(int((count + 1) * probability), count)
    k = np.arange(count, dtype=np.float64)
    with np.errstate(under="ignore"):
        ratios = (count - k) / (k + 1) * (probability / (1 - probability))
        odds = np.empty(count + 1)
        odds[mode] = 1.0
        odds[mode + 1 :] = np.cumprod(ratios[mode:])
        odds[:mode] = np.cumprod(1 / ratios[:mode][::-1])[::-1]
        return odds / float(odds.sum())


def _exact_sums(groups: tuple[_Group, ...]) -> tuple[Floats, Floats, float]:
    """Every sum that can come about; a table of a few thousand is quicker filled than arrays are set up."""
    sums = {0.0: 1.0}
    for group in groups:
        chances = binomial(group.count, group.probability).tolist()
        busy = [(k * group.bytes_per_s, odds) for k, odds in enumerate(chances)]
        joint: dict[float, float] = defaultdict(float)
        for value, odds in sums.items():
            for more, chance in busy:
                joint[value + more] += odds * chance
        sums = joint
    values = sorted(sums)
    return np.array(values), np.array([sums[value] for value in values]), 0.0


def _lattice_sums(groups: tuple[_Group, ...]) -> tuple[Floats, Floats, float]:
    """The sums on the lattice: large groups multiplied out, the two shortest rows first; then the small ones.

    A group of few seats has few sums, so that moving all others by each of them beats a transform.
    """
    cell, is_exact = _cell(groups)
    rows = [_row(group, cell) for group in groups if group.count > MOVED_SEATS]
    heap = [(len(row), number, row) for number, row in enumerate(rows or [np.ones(1)])]
    heapq.heapify(heap)
    for number in range(len(heap), 2 * len(heap) - 1):
        row = _convolved(heapq.heappop(heap)[2], heapq.heappop(heap)[2])
        heapq.heappush(heap, (len(row), number, row))
    odds = heap[0][2]
    few = (group for group in groups if group.count <= MOVED_SEATS)
    for group in sorted(few, key=lambda group: group.count * group.bytes_per_s):
        odds = _moved(odds, group, cell)
    values = np.arange(len(odds), dtype=np.float64) * cell
    return values, odds / odds.sum(), 0.0 if is_exact else len(groups) * cell


def _cell(groups: tuple[_Group, ...]) -> tuple[float, bool]:
    """(cell in bytes/s, whether every sum falls on one): a common measure of all rates where it is coarse."""
    most = sum(group.count * group.bytes_per_s for group in groups)
    if all(group.bytes_per_s.is_integer() for group in groups):
        measure = math.gcd(*(int(group.bytes_per_s) for group in groups))
        if most <= measure * LATTICE_CELLS:
            return float(measure), True
    # Many groups are summed on a coarser lattice, so that no brief takes long.
    cells = LATTICE_CELLS
    while cells > FEWEST_CELLS and cells * len(groups) > MOST_WORK:
        cells //= 2
    # A row takes a cell or two more than its part of the sum: with these all fit a transform of ``cells``.
    return most / max(cells - 2 * len(groups), cells // 2), False


def _split(group: _Group, cell: float) -> tuple[NDArray[np.int64], Floats, Floats]:
    """(cells, odds there, odds in the next) of a group's sums, split so that the mean is kept."""
    odds = binomial(group.count, group.probability)
    at = np.arange(group.count + 1) * (group.bytes_per_s / cell)
    low = at.astype(np.int64)
    above = (at - low) * odds
    return low, odds - above, above


def _moved(others: Floats, group: _Group, cell: float) -> Floats:
    """The odds of ``others`` and a group together: others moved by each of the group's sums, by its odds."""
    low, here, above = _split(group, cell)
    row = np.zeros(len(others) + int(low[-1]) + 1)
    for at, odds, more in zip(low.tolist(), here.tolist(), above.tolist(), strict=True):
        row[at : at + len(others)] += others * odds
        if more:
            row[at + 1 : at + 1 + len(others)] += others * more
    return row


def _row(group: _Group, cell: float) -> Floats:
    """The odds of one group's sums over the cells."""
    low, here, above = _split(group, cell)
    length = int(low[-1]) + 2
    row: Floats = np.bincount(low, here, length).astype(np.float64)
    row += np.bincount(low + 1, above, length)
    return row


def _convolved(one: Floats, other: Floats) -> Floats:
    """The odds of the sum of two independent rows."""
    length = len(one) + len(other) - 1
    if len(one) * len(other) <= MULTIPLIED_OUT * length:
        return np.convolve(one, other)
    # Small factors keep the transform quick; sums below its size cannot wrap around.
    size = 1 << (length - 1).bit_length()
    size = size * 3 // 4 if length <= size * 3 // 4 else size
    product = np.fft.rfft(one, size) * np.fft.rfft(other, size)
    return np.clip(np.fft.irfft(product, size)[:length], 0.0, None)


def _with_common_peak(values: Floats, odds: Floats, most: float, probability: float) -> tuple[Floats, Floats]:
    if probability == 0:
        return values, odds
    mixed, at = odds * (1 - probability), int(np.searchsorted(values, most))
    if at < len(values) and values[at] == most:
        mixed[at] += probability
        return values, mixed
    return np.insert(values, at, most), np.insert(mixed, at, probability)


def _check(seats: tuple[SeatClass, ...], common_probability: float) -> None:
    if not 0 <= common_probability <= 1:
        raise Refused("common", common_probability, "a probability from 0 to 1")
    if len(seats) > MOST_CLASSES:
        raise Refused("seats", f"{len(seats)} classes", f"at most {MOST_CLASSES} classes of seats")
    if (count := sum(seat.count for seat in seats)) > MOST_SEATS:
        raise Refused("seats", f"{count} in all", f"at most {MOST_SEATS} seats")
    for seat in seats:
        if not 0 <= seat.count <= MOST_SEATS_A_CLASS:
            wanted = f"a whole number from 0 to {MOST_SEATS_A_CLASS}"
            raise Refused(f"{seat.name}: count", seat.count, wanted)
        if not 0 <= seat.bytes_per_s <= MOST_BYTES_PER_S:
            raise Refused(f"{seat.name}: bytes_per_s", seat.bytes_per_s, "a rate from 0 to 10^24 bytes/s")
        if not 0 <= seat.probability <= 1:
            raise Refused(f"{seat.name}: probability", seat.probability, "a number from 0 to 1")
