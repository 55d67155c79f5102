"""Which of many designs are worth a thought: the exact Pareto front over four measures.

Cost adds up and less is better; space adds up and more is better; the slower part is the speed of both, the
likelier loss the odds of both. A design is dominated by one that is no worse in any measure and better in
one; of designs that are equal in all four the first stays.

Pairs are never stored: they are looked at block by block, and what a coarse table of a sample's front already
dominates is dropped. What is left is swept once in the order of cost, with a tree of prefix maxima over the
ranks of speed and odds (H. T. Kung, F. Luccio and F. P. Preparata, *On Finding the Maxima of a Set of
Vectors*, 1975, for the sweep; P. M. Fenwick, 1994, for the tree).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Index = NDArray[np.int64]
BLOCK = 1 << 16
"""Pairs looked at at once: they stay in the nearest cache."""
SWEPT = 2048
SWEPT_AT = 400_000
"""Pairs that may be undominated, from which on they are swept and known."""
SAMPLE = 40000
CROSSED_FIRST, CROSSED_TIMES = 64, 4
CELLS = 48
"""Cells of the coarse table along cost, speed and odds."""


@dataclass(frozen=True)
class Measures:
    """Four measures of many designs, an entry a design: cost, space, speed, odds of a loss."""

    cost: Floats
    space: Floats
    speed: Floats
    odds: Floats

    def __len__(self) -> int:
        return len(self.cost)

    def at(self, index: Index) -> Measures:
        """Those of some of them."""
        return Measures(self.cost[index], self.space[index], self.speed[index], self.odds[index])


@dataclass(frozen=True)
class Halves:
    """One half of many designs: its measures, and what it takes of each limit, a row a limit."""

    measures: Measures
    taken: Floats

    def __len__(self) -> int:
        return len(self.measures)

    def at(self, index: Index) -> Halves:
        """Some of them."""
        return Halves(self.measures.at(index), self.taken[:, index])


@dataclass(frozen=True)
class Wanted:
    """What a design must keep to: at least ``speed``, at most ``odds``, and each limit with both halves."""

    speed: float
    odds: float
    limits: Floats


def keeps(halves: Halves, wanted: Wanted) -> NDArray[np.bool_]:
    """Which halves keep to what is wanted by themselves: no pair with another one does."""
    measures = halves.measures
    kept = np.asarray((halves.taken <= wanted.limits[:, None]).all(axis=0), bool)
    kept &= (measures.speed >= wanted.speed) & (measures.odds <= wanted.odds)
    return kept


def front(measures: Measures) -> Index:
    """The designs that no other one dominates, by rising cost."""
    order = np.lexsort(
        (np.arange(len(measures)), measures.odds, -measures.speed, -measures.space, measures.cost)
    )
    sorted_ = measures.at(order)
    tree = _PrefixMaxima(sorted_.speed, sorted_.odds)
    found: list[Index] = []
    for start in range(0, len(order), SWEPT):
        block = np.arange(start, min(start + SWEPT, len(order)))
        left = block[tree.most(block) < sorted_.space[block]]
        left = left[_among_themselves(sorted_.at(left))]
        tree.raise_to(left, sorted_.space[left])
        found.append(left)
    return order[np.concatenate(found)] if found else order


def _among_themselves(block: Measures) -> NDArray[np.bool_]:
    """Which of few designs, by rising cost, no earlier one of them dominates or equals."""
    worse = (block.space[:, None] >= block.space) & (block.speed[:, None] >= block.speed)
    worse &= block.odds[:, None] <= block.odds
    return ~np.asarray(np.triu(worse, 1).any(axis=0), bool)


class _PrefixMaxima:
    """The most space among designs at least as quick and at most as likely lost, as they are put in."""

    def __init__(self, speed: Floats, odds: Floats) -> None:
        quick, self._quick = np.unique(-speed, return_inverse=True)
        sure, self._sure = np.unique(odds, return_inverse=True)
        self._rows, self._columns = len(quick) + 1, len(sure) + 1
        self._tree = np.full(self._rows * self._columns, -np.inf)

    def most(self, at: Index) -> Floats:
        """For each of these designs; below all numbers where there is none yet."""
        found = np.full(len(at), -np.inf)
        columns = list(_down(self._sure[at] + 1))
        for row in _down(self._quick[at] + 1):
            start = row * self._columns
            for column in columns:
                np.maximum(found, self._tree[start + column], out=found)
        return found

    def raise_to(self, at: Index, space: Floats) -> None:
        """Put designs in."""
        columns = list(_up(self._sure[at] + 1, self._columns))
        for row in _up(self._quick[at] + 1, self._rows):
            start = row * self._columns
            for column in columns:
                inside = np.flatnonzero((row < self._rows) & (column < self._columns))
                np.maximum.at(self._tree, (start + column)[inside], space[inside])


def _down(rank: Index) -> Iterator[Index]:
    """The nodes whose ranges make up all ranks to this one; 0 is the empty one."""
    while rank.any():
        yield rank
        rank = rank & (rank - 1)


def _up(rank: Index, end: int) -> Iterator[Index]:
    """The nodes that a rank is in."""
    while (rank < end).any():
        yield rank
        rank = rank + (rank & -rank)


def front_of_pairs(first: Halves, second: Halves, wanted: Wanted) -> tuple[Index, Index]:
    """The undominated pairs that keep to what is wanted, as places in both halves, by rising cost.

    Space and cost must be finite. Of pairs that are equal in all measures that with the first places stays.
    """
    places = (np.flatnonzero(keeps(first, wanted)), np.flatnonzero(keeps(second, wanted)))
    a, b = first.at(places[0]), second.at(places[1])
    if not len(a) or not len(b):
        return np.empty(0, np.int64), np.empty(0, np.int64)
    binding = a.taken.max(axis=1) + b.taken.max(axis=1) > wanted.limits
    limits = wanted.limits[binding]
    a, b = Halves(a.measures, a.taken[binding]), Halves(b.measures, b.taken[binding])
    coarse = _Coarse.of(a.measures, b.measures, _sampled(a, b, limits))
    found: list[Index] = []
    step = max(BLOCK // len(b), 1)
    for start in range(0, len(a), step):
        found.append(_survivors(a, b, limits, coarse, slice(start, start + step)))
        if sum(map(len, found)) > SWEPT_AT and start + step < len(a):
            # What is known by now dominates more than the sample did.
            found = [_best_of(a, b, np.concatenate(found))]
            coarse = _Coarse.of(a.measures, b.measures, _joined_at(a, b, found[0]))
    best = _best_of(a, b, np.concatenate(found))
    return places[0][best // len(b)], places[1][best % len(b)]


def _joined_at(a: Halves, b: Halves, pairs: Index) -> Measures:
    """Of pairs that are numbered row by row."""
    return joined(a.measures.at(pairs // len(b)), b.measures.at(pairs % len(b)))


def _best_of(a: Halves, b: Halves, pairs: Index) -> Index:
    """The undominated ones of some pairs, by rising cost; of equals the first."""
    pairs = np.sort(pairs)
    return pairs[front(_joined_at(a, b, pairs))]


def joined(a: Measures, b: Measures) -> Measures:
    """Of designs made of two halves each."""
    return Measures(
        a.cost + b.cost, a.space + b.space, np.minimum(a.speed, b.speed), np.maximum(a.odds, b.odds)
    )


def _within(a: Halves, b: Halves, limits: Floats) -> NDArray[np.bool_]:
    """Which designs keep to all limits."""
    inside = np.ones(np.broadcast_shapes(a.measures.cost.shape, b.measures.cost.shape), bool)
    for row, limit in enumerate(limits):
        inside &= a.taken[row] + b.taken[row] <= limit
    return inside


def _sampled(a: Halves, b: Halves, limits: Floats) -> Measures:
    """The front of some pairs, drawn the same way each time."""
    count = min(SAMPLE, len(a) * len(b))
    drawn = np.random.default_rng(20_261_126).choice(len(a) * len(b), count, replace=len(a) * len(b) > SAMPLE)
    i, j = a.at(drawn // len(b)), b.at(drawn % len(b))
    pairs = joined(i.measures, j.measures).at(np.flatnonzero(_within(i, j, limits)))
    return pairs.at(front(pairs))


@dataclass(frozen=True)
class _Coarse:
    """What a sample's front dominates, by cells of cost, speed and odds; the cells of both halves.

    ``most`` has for each cell the most space of a design that is cheaper than all in it, and no slower and no
    likelier lost than any.
    """

    cheapest: float
    cells_a_cost: float
    speed: tuple[Index, Index]
    odds: tuple[Index, Index]
    most: Floats

    @classmethod
    def of(cls, a: Measures, b: Measures, known: Measures) -> _Coarse:
        """The table of what is ``known``."""
        cheapest = float(a.cost.min() + b.cost.min())
        dearest = float(a.cost.max() + b.cost.max())
        cells_a_cost = (CELLS - 1) / (dearest - cheapest) if dearest > cheapest else 0.0
        speed, odds = _Cells.of(a.speed, b.speed), _Cells.of(a.odds, b.odds)
        most = np.full((CELLS + 1, len(speed.largest), len(odds.smallest)), -np.inf)
        slower = np.searchsorted(speed.largest, known.speed, "right") - 1
        likelier = np.searchsorted(odds.smallest, known.odds, "left")
        dearer = ((known.cost - cheapest) * cells_a_cost).astype(np.int64) + 1
        says = (slower >= 0) & (likelier < len(odds.smallest))
        np.maximum.at(most, (dearer[says], slower[says], likelier[says]), known.space[says])
        np.maximum.accumulate(most, axis=0, out=most)
        most = np.maximum.accumulate(most[:, ::-1], axis=1)[:, ::-1]
        most = np.maximum.accumulate(most, axis=2)
        return cls(cheapest, cells_a_cost, speed.cells, odds.cells, most)

    def lets(self, rows: slice, cost: Floats, space: Floats) -> NDArray[np.bool_]:
        """Which pairs of some rows with all of the second half may be undominated."""
        at = ((cost - self.cheapest) * self.cells_a_cost).astype(np.int64)
        at *= self.most.shape[1]
        at += np.minimum(self.speed[0][rows, None], self.speed[1])
        at *= self.most.shape[2]
        at += np.maximum(self.odds[0][rows, None], self.odds[1])
        lets: NDArray[np.bool_] = self.most.ravel()[at] < space
        return lets


@dataclass(frozen=True)
class _Cells:
    """Values of two halves sorted into cells by rank, and what of each cell is the smallest and largest."""

    cells: tuple[Index, Index]
    smallest: Floats
    largest: Floats

    @classmethod
    def of(cls, a: Floats, b: Floats) -> _Cells:
        values = np.unique(np.concatenate((a, b)))
        starts = values[:: -(-len(values) // CELLS)]
        ends = np.append(values[np.searchsorted(values, starts[1:], "left") - 1], values[-1])
        cells = tuple(np.searchsorted(starts, each, "right") - 1 for each in (a, b))
        return cls((cells[0], cells[1]), starts, ends)


def _survivors(a: Halves, b: Halves, limits: Floats, coarse: _Coarse, rows: slice) -> Index:
    """The pairs of some rows that keep to the limits and that the coarse table does not dominate."""
    cost = a.measures.cost[rows, None] + b.measures.cost
    space = a.measures.space[rows, None] + b.measures.space
    left = np.flatnonzero(coarse.lets(rows, cost, space)) + rows.start * len(b)
    found: Index = left[_within(a.at(left // len(b)), b.at(left % len(b)), limits)]
    return found


def cheapest_pair(first: Halves, second: Halves, wanted: Wanted) -> tuple[int, int] | None:
    """The pair that costs least of those that keep to what is wanted, by index in both; None for none.

    Exact: the cheapest of each are crossed first, and more only until none that is left can be cheaper.
    """
    places = (np.flatnonzero(keeps(first, wanted)), np.flatnonzero(keeps(second, wanted)))
    if not len(places[0]) or not len(places[1]):
        return None
    a_at, b_at = (
        at[np.argsort(half.measures.cost[at], kind="stable")]
        for at, half in zip(places, (first, second), strict=True)
    )
    a, b = first.at(a_at), second.at(b_at)
    looked, best, found = 0, np.inf, None
    while looked < max(len(a), len(b)):
        looked = max(looked * CROSSED_TIMES, CROSSED_FIRST)
        ours, theirs = a.at(np.arange(min(looked, len(a)))), b.at(np.arange(min(looked, len(b))))
        columns = Halves(
            Measures(*(column[:, None] for column in _columns(ours.measures))), ours.taken[:, :, None]
        )
        cost = np.where(
            _within(columns, theirs, wanted.limits),
            columns.measures.cost + theirs.measures.cost,
            np.inf,
        )
        at = int(np.argmin(cost))
        best = float(cost.flat[at])
        found = (int(a_at[at // len(theirs)]), int(b_at[at % len(theirs)])) if best < np.inf else None
        beyond = [
            half.measures.cost[looked] + other.measures.cost[0]
            for half, other in ((a, b), (b, a))
            if looked < len(half)
        ]
        if best <= min(beyond, default=np.inf):
            break
    return found


def _columns(measures: Measures) -> tuple[Floats, Floats, Floats, Floats]:
    return measures.cost, measures.space, measures.speed, measures.odds
