"""How much is asked at once: the seats' rates as a distribution, not a sum times a guess.

Each seat is at its peak with its own probability; with a small probability a rush, a shared deadline, lifts
everybody's to at least the rush's odds.
Alike seats are merged first. Exact sums up to 4,096 combinations; beyond that a lattice of 16,384 cells from
nothing to the sum of all, on which ``k`` busy seats of a group are split between two neighbouring cells so
that the mean is kept. Whatever is asked, the work is bounded by the lattice and not by the seats.
"""

from __future__ import annotations

import heapq
import math
from collections import defaultdict
from collections.abc import Iterable, Sequence
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
GROUPS_WITH_ROOM = 64
MULTIPLIED_OUT = 250
"""Products for each cell of the result up to which multiplying out beats transforming."""
FEW_SEATS = 60
MOST_LISTED = 20_000
"""Ways for a group to share out over its outcomes up to which each is looked at."""
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
    """``count`` alike seats, each asking ``bytes_per_s`` with ``probability``, else nothing.

    ``here`` are the odds that what it asks at its peak is asked of what is looked at: its bytes lie in this
    pool, its flow runs over this link. ``otherwise`` are further amounts with odds of their own, of which
    one comes about instead. A rush makes it busy more often, and no likelier to be here.
    """

    name: str = field(compare=False)
    count: int
    bytes_per_s: float
    probability: float
    here: float = 1.0
    otherwise: tuple[tuple[float, float], ...] = ()

    @cached_property
    def outcomes(self) -> tuple[tuple[float, float], ...]:
        """(bytes/s, odds) of all that one of them may ask; what is left of the odds asks nothing."""
        merged: dict[float, float] = {}
        for rate, here in ((self.bytes_per_s, self.here), *self.otherwise):
            if rate > 0 and self.probability * here > 0:
                merged[rate] = merged.get(rate, 0.0) + self.probability * here
        return tuple(sorted(merged.items()))

    @cached_property
    def mean_bytes_per_s(self) -> float:
        """What one of them asks on average."""
        return sum(rate * odds for rate, odds in self.outcomes)

    @cached_property
    def most_bytes_per_s(self) -> float:
        """The most that one of them may ask."""
        return max(self.bytes_per_s, *(rate for rate, _ in self.otherwise), 0.0)


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
    """Alike seats of all classes together; each asks one of ``outcomes`` (bytes/s, odds), else nothing."""

    outcomes: tuple[tuple[float, float], ...]
    count: int

    @property
    def most(self) -> float:
        """Bytes/s that all of them ask at most."""
        return self.count * self.outcomes[-1][0]

    @property
    def combinations(self) -> int:
        """In how many ways they may share out over their outcomes."""
        return math.comb(self.count + len(self.outcomes), len(self.outcomes))

    @property
    def is_listed(self) -> bool:
        """Whether every way is looked at by itself; else seat after seat is added on the lattice."""
        return self.count == 1 or len(self.outcomes) == 1 or self.combinations <= MOST_LISTED

    def sums(self) -> tuple[Floats, Floats]:
        """(bytes/s, odds) of every way they may share out."""
        (rate, odds), *rest = self.outcomes
        if odds >= 1:
            # What is left for the others is below what a double tells from nothing.
            return np.array([self.count * rate]), np.ones(1)
        chances = binomial(self.count, odds)
        if not rest:
            return np.arange(self.count + 1, dtype=np.float64) * rate, chances
        values, found = [], []
        for k, chance in enumerate(chances.tolist()):
            left = tuple((other, min(each / (1 - odds), 1.0)) for other, each in rest)
            more = _Group(left, self.count - k)
            sums, likely = more.sums() if more.count else (np.zeros(1), np.ones(1))
            values.append(sums + k * rate)
            found.append(likely * chance)
        return np.concatenate(values), np.concatenate(found)


@dataclass(frozen=True)
class Rush:
    """With ``probability`` a shared deadline lifts everybody's odds to at least ``odds``."""

    probability: float = 0.0
    odds: float = 1.0

    def lifted(self, seats: tuple[SeatClass, ...]) -> tuple[SeatClass, ...]:
        """The seats while it lasts."""
        return tuple(
            SeatClass(
                seat.name,
                seat.count,
                seat.bytes_per_s,
                max(seat.probability, self.odds),
                seat.here,
                seat.otherwise,
            )
            for seat in seats
        )

    def mean_odds(self, odds: float) -> float:
        """How much of the time somebody with ``odds`` is at the peak, who has some."""
        lifted = max(odds, self.odds) if odds else 0.0
        return (1 - self.probability) * odds + self.probability * lifted


NO_RUSH = Rush()


@remembered(KEPT_BYTES, lambda load, *_: 1_000 + 3 * load.odds.nbytes)
def joint_load(seats: tuple[SeatClass, ...], rush: Rush = NO_RUSH) -> Load:
    """The load of ``seats``, mixed with what it is in a ``rush``.

    Raises :class:`Refused` for a negative count or rate, or a probability outside 0 to 1.
    """
    _check(seats, rush)
    usual = _load(seats)
    if rush.probability == 0:
        return usual
    rushed = _load(rush.lifted(seats))
    values, odds = _mixed(usual, rushed, rush.probability)
    rest = 1 - rush.probability
    return Load(
        values=values,
        odds=odds,
        mean_bytes_per_s=rest * usual.mean_bytes_per_s + rush.probability * rushed.mean_bytes_per_s,
        max_bytes_per_s=rushed.max_bytes_per_s,
        error_bound_bytes_per_s=max(usual.error_bound_bytes_per_s, rushed.error_bound_bytes_per_s),
    )


def joint_quantile(seats: tuple[SeatClass, ...], rush: Rush, level: float) -> float:
    """The quantile of :func:`joint_load` at ``level`` (0 to 1), bytes/s, without arrays for one seat."""
    if len(seats) != 1 or seats[0].count != 1:
        return joint_load(seats, rush).quantile(level)
    usual, rushed = seats[0].outcomes, rush.lifted(seats)[0].outcomes
    chances = {rate: odds * (1 - rush.probability) for rate, odds in usual}
    for rate, odds in rushed:
        chances[rate] = chances.get(rate, 0.0) + odds * rush.probability
    below, found = 1 - sum(chances.values()), 0.0
    for rate in sorted(chances):
        if below >= level - _ROUNDING:
            break
        below, found = below + chances[rate], rate
    return found


def few_enough(counts: Sequence[int]) -> bool:
    """Whether all ways in which seats of these classes may be busy are few enough to be listed."""
    return math.prod(count + 1 for count in counts) <= EXACT_COMBINATIONS


def quantiles_of_many(
    counts: Sequence[int], odds: Sequence[float], amounts: Floats, rush: Rush, level: float
) -> Floats:
    """The quantile of :func:`joint_load` at ``level`` (0 to 1) for many amounts at once.

    ``amounts`` has a row a case and a column a class: what one of its ``counts`` seats asks at its peak,
    which it is at with its ``odds``. Every state is listed, so they must be :func:`few_enough`.
    """
    ways = [np.arange(count + 1, dtype=np.float64) for count in counts]
    states = np.stack([each.ravel() for each in np.meshgrid(*ways, indexing="ij")])
    usual = _state_odds(counts, odds)
    lifted = _state_odds(counts, [max(odd, rush.odds) for odd in odds])
    chances = (1 - rush.probability) * usual + rush.probability * lifted
    loads = amounts @ states
    order = np.argsort(loads, axis=1, kind="stable")
    reached = np.cumsum(chances[order], axis=1) >= level - _ROUNDING
    # Where rounding leaves the sum below the level, the largest is meant.
    at = np.where(reached.any(axis=1), reached.argmax(axis=1), states.shape[1] - 1)
    rows = np.arange(len(loads))
    found: Floats = loads[rows, order[rows, at]]
    return found


def _state_odds(counts: Sequence[int], odds: Sequence[float]) -> Floats:
    """How likely each state is, in the order in which they are listed."""
    found = np.ones(1)
    for count, each in zip(counts, odds, strict=True):
        certain = np.eye(count + 1)[count if each >= 1 else 0]
        chances = binomial(count, each) if 0 < each < 1 else certain
        found = np.multiply.outer(found, chances).ravel()
    return found


def _load(seats: tuple[SeatClass, ...]) -> Load:
    """The load without any rush. Who never peaks adds nothing, who always does the same to every sum."""
    busy = [s for s in seats if s.count and s.most_bytes_per_s > 0]
    certain = sum(s.count * s.bytes_per_s for s in busy if _is_certain(s))
    values, odds, bound = _sums(_merged(s for s in busy if not _is_certain(s)))
    return Load(
        values=values + certain,
        odds=odds,
        mean_bytes_per_s=float(sum(s.count * s.mean_bytes_per_s for s in busy)),
        max_bytes_per_s=float(sum(s.count * s.most_bytes_per_s for s in busy)),
        error_bound_bytes_per_s=bound,
    )


def _is_certain(seat: SeatClass) -> bool:
    return len(seat.outcomes) == 1 and seat.outcomes[0][1] == 1


def all_at_once(seats: tuple[SeatClass, ...]) -> float:
    """What everybody asks together at most, bytes/s."""
    return sum(seat.count * seat.most_bytes_per_s for seat in seats)


def busiest_of(
    asked: Sequence[tuple[SeatClass, ...]], rush: Rush, level: float, least: float = 0.0
) -> tuple[int, float]:
    """(which of ``asked`` asks most at ``level``, how much), bytes/s; only above ``least`` is looked.

    The bound of each orders them; one that cannot exceed what is found is not summed. Of equals the first.
    """
    found, where = least, -1
    most = [all_at_once(seats) for seats in asked]
    if len(asked) > 1:
        most = [
            min(each, load_at_most(seats, rush, level)) if each > least else each
            for each, seats in zip(most, asked, strict=True)
        ]
    for n in sorted(range(len(asked)), key=lambda n: -most[n]):
        if most[n] < least or (where != -1 and most[n] <= found):
            break
        quantile = joint_quantile(asked[n], rush, level)
        if quantile > found or (quantile == found and n < where):
            found, where = quantile, n
    return where, found


def load_at_most(seats: tuple[SeatClass, ...], rush: Rush, level: float) -> float:
    """A bound that :func:`joint_load`'s quantile at ``level`` never exceeds, bytes/s, without any sum.

    What may lie beyond is shared evenly between the usual load and the rush, and the quantile of the mixture
    is then at most the larger of theirs; or the rush lies beyond as a whole.
    """
    chance = rush.probability
    if chance == 0:
        return _at_most(seats, 1 - level)
    beyond = (1 - level) / 2
    usual = _at_most(seats, beyond / (1 - chance)) if chance < 1 else 0.0
    shared = max(usual, _at_most(rush.lifted(seats), beyond / chance))
    without = 1 - level / (1 - chance) if chance < 1 else 0.0
    return min(shared, _at_most(seats, without)) if without > 0 else shared


def _at_most(seats: tuple[SeatClass, ...], beyond: float) -> float:
    """What is exceeded with probability ``beyond`` at most, bytes/s.

    Mean + √(ln(1/beyond) ÷ 2 · Σ rate²) for sums of independent bounded terms (W. Hoeffding, 1963), and
    never more than all at once.
    """
    busy = [s for s in seats if s.count and s.outcomes]
    most = float(sum(s.count * s.most_bytes_per_s for s in busy))
    if beyond >= 1:
        return 0.0
    varying = [s for s in busy if not _is_certain(s)]
    mean = sum(s.count * s.mean_bytes_per_s for s in busy)
    spread = sum(s.count * s.most_bytes_per_s**2 for s in varying)
    cells = sum(1 if _Group(s.outcomes, s.count).is_listed else s.count for s in varying)
    raised = cells * sum(s.count * s.most_bytes_per_s for s in varying) / FEWEST_CELLS
    return min(most, mean + math.sqrt(-math.log(beyond) / 2 * spread) + raised)


def _merged(seats: Iterable[SeatClass]) -> tuple[_Group, ...]:
    counts: dict[tuple[tuple[float, float], ...], int] = defaultdict(int)
    for seat in seats:
        if seat.outcomes:
            counts[seat.outcomes] += seat.count
    return tuple(_Group(outcomes, count) for outcomes, count in counts.items())


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
        combinations *= group.combinations
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
    """Every sum that can come about, each once."""
    values, odds = np.zeros(1), np.ones(1)
    for group in groups:
        amounts, chances = group.sums()
        values = np.add.outer(values, amounts).ravel()
        odds = np.multiply.outer(odds, chances).ravel()
    once, at = np.unique(values, return_inverse=True)
    return once, np.bincount(at, odds, len(once)).astype(np.float64), 0.0


def _lattice_sums(groups: tuple[_Group, ...]) -> tuple[Floats, Floats, float]:
    """The sums on the lattice: large groups multiplied out, the two shortest rows first; then the small ones.

    A group of few seats has few sums, so that moving all others by each of them beats a transform.
    """
    cell, is_exact = _cell(groups)
    rows = [_row(group, cell) for group in groups if not _is_moved(group)]
    heap = [(len(row), number, row) for number, row in enumerate(rows or [np.ones(1)])]
    heapq.heapify(heap)
    for number in range(len(heap), 2 * len(heap) - 1):
        row = _convolved(heapq.heappop(heap)[2], heapq.heappop(heap)[2])
        heapq.heappush(heap, (len(row), number, row))
    odds = heap[0][2]
    few = (group for group in groups if _is_moved(group))
    odds = _moved(odds, sorted(few, key=lambda group: group.most), cell)
    values = np.arange(len(odds), dtype=np.float64) * cell
    cells = sum(1 if group.is_listed else group.count for group in groups)
    return values, odds / odds.sum(), 0.0 if is_exact else cells * cell


def _is_moved(group: _Group) -> bool:
    return group.combinations <= MOVED_SEATS + 1


def _cell(groups: tuple[_Group, ...]) -> tuple[float, bool]:
    """(cell in bytes/s, whether every sum falls on one): a common measure of all rates where it is coarse."""
    most = sum(group.most for group in groups)
    rates = [rate for group in groups for rate, _ in group.outcomes]
    if all(rate.is_integer() for rate in rates):
        measure = math.gcd(*(int(rate) for rate in rates))
        if most <= measure * LATTICE_CELLS:
            return float(measure), True
    # Many groups are summed on a coarser lattice, so that no brief takes long.
    cells = LATTICE_CELLS
    while cells > FEWEST_CELLS and cells * len(groups) > MOST_WORK:
        cells //= 2
    # A row takes a cell or two more than its part of the sum: with these all fit a transform of ``cells``. Up
    # to so many groups the cell is the same, so that a rush falls on the lattice of what is usual.
    return most / max(cells - 2 * max(len(groups), GROUPS_WITH_ROOM), cells // 2), False


def _split(group: _Group, cell: float) -> tuple[NDArray[np.int64], Floats, Floats]:
    """(cells, odds there, odds in the next) of a group's sums, split so that the mean is kept."""
    values, odds = group.sums()
    at = values / cell
    low = at.astype(np.int64)
    above = (at - low) * odds
    return low, odds - above, above


def _moved(others: Floats, groups: Sequence[_Group], cell: float) -> Floats:
    """The odds of ``others`` and the groups together: moved by each of a group's sums, by its odds.

    Two rows are filled in turn, and one holds what is added: rows made anew for each would cost as much as
    all the adding.
    """
    split = [_split(group, cell) for group in groups]
    size = len(others) + sum(int(low.max()) + 1 for low, _, _ in split)
    now, then, part = np.zeros(size), np.empty(size), np.empty(size)
    length = len(others)
    now[:length] = others
    for low, here, above in split:
        longer = length + int(low.max()) + 1
        then[:longer] = 0.0
        for at, odds, more in zip(low.tolist(), here.tolist(), above.tolist(), strict=True):
            np.multiply(now[:length], odds, out=part[:length])
            then[at : at + length] += part[:length]
            if more:
                np.multiply(now[:length], more, out=part[:length])
                then[at + 1 : at + 1 + length] += part[:length]
        now, then, length = then, now, longer
    return now[:length]


def _row(group: _Group, cell: float) -> Floats:
    """The odds of one group's sums over the cells."""
    if not group.is_listed:
        return _powered(_row(_Group(group.outcomes, 1), cell), group.count)
    low, here, above = _split(group, cell)
    length = int(low.max()) + 2
    row: Floats = np.bincount(low, here, length).astype(np.float64)
    row += np.bincount(low + 1, above, length)
    return row


def _powered(one: Floats, count: int) -> Floats:
    """The odds of the sum of ``count`` like rows, by doubling."""
    found = np.ones(1)
    while count:
        if count & 1:
            found = _convolved(found, one)
        count >>= 1
        one = _convolved(one, one) if count else one
    return found


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


def _mixed(usual: Load, rushed: Load, probability: float) -> tuple[Floats, Floats]:
    """The two distributions as one, ascending; a value that both have may stand there twice."""
    shorter, longer = sorted((usual, rushed), key=lambda load: len(load.values))
    if np.array_equal(shorter.values, longer.values[: len(shorter.values)]):
        share = {id(usual): 1 - probability, id(rushed): probability}
        odds = longer.odds * share[id(longer)]
        odds[: len(shorter.odds)] += shorter.odds * share[id(shorter)]
        return longer.values, odds
    values = np.concatenate([usual.values, rushed.values])
    odds = np.concatenate([usual.odds * (1 - probability), rushed.odds * probability])
    order = np.argsort(values, kind="stable")  # two sorted runs, which are merged in one pass
    return values[order], odds[order]


def _check(seats: tuple[SeatClass, ...], rush: Rush) -> None:
    for name, given in (("common", rush.probability), ("rush", rush.odds)):
        if not 0 <= given <= 1:
            raise Refused(name, given, "a probability from 0 to 1")
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
        here = seat.here + sum(odds for _, odds in seat.otherwise)
        for name, odds in (("probability", seat.probability), ("here", here)):
            if not 0 <= odds <= 1 + _ROUNDING:
                raise Refused(f"{seat.name}: {name}", odds, "a number from 0 to 1")
