"""All designs of one shape on one network, as columns: which keep to the needs, and which are worth it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from decimal import Decimal
from typing import Any, NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from larder.base.units import TB
from larder.laws.layout import Family
from larder.plan.bundle import Bundle
from larder.stages.reuse import largest_lots, lies_idle
from larder.stages.stage import Judged

from .design import Choices, Design, PoolChoice, Shape
from .ground import Ground, ground_of
from .halves import BoxTable, box_table, fares_of
from .mixed_sets import with_mixed_sets
from .needs import NEED_IDS, Mark, NeedId
from .options import Tier
from .pools import PoolTable, pool_tables
from .undominated import best_boxes, best_pools

Mask = NDArray[np.bool_]
Index = NDArray[np.int64]
Floats = NDArray[np.float64]
Bits = NDArray[np.uint32]
T = TypeVar("T")


BITS: dict[NeedId, np.uint32] = {need: np.uint32(1 << n) for n, need in enumerate(NEED_IDS)}


def _bits(needs: frozenset[NeedId]) -> np.uint32:
    return np.uint32(sum(int(BITS[need]) for need in needs))


class Spot(NamedTuple):
    """A design as rows of a field's tables, and the way it is copied; ``cost`` is that of five years."""

    field_at: int
    keeping_at: int
    first: int
    second: int
    cost: float


@dataclass(frozen=True)
class Field:
    """One shape on one network; ``second`` is None where a row of ``first`` is a whole design.

    ``count`` designs there are in all, those included that cannot serve and were left out of the tables.
    Pools count as equal, for others that share a box or a cache, that differ by less than ``within``.
    """

    ground: Ground
    network_at: int
    kinds: tuple[str, ...]
    first: BoxTable
    second: BoxTable | None
    count: int
    within: float = 0.0
    _fares: dict[int, tuple[Floats, Floats]] = field(default_factory=dict)
    _best: dict[tuple[int, bytes], Mask] = field(default_factory=dict)
    _far: dict[tuple[int, Mark], dict[NeedId, Floats]] = field(default_factory=dict)
    _space: dict[tuple[int, tuple[float, ...], Mark], Floats] = field(default_factory=dict)
    _missed: dict[tuple[Any, ...], Bits] = field(default_factory=dict)

    @property
    def shape(self) -> Shape:
        return self.ground.shape

    @property
    def tables(self) -> tuple[BoxTable, ...]:
        return (self.first,) if self.second is None else (self.first, self.second)

    def known(self, which: int) -> tuple[Floats, Floats]:
        """What every row of a table comes to for people, and its cache's years; NaN until it is asked for."""
        if which not in self._fares:
            count = len(self.tables[which])
            self._fares[which] = (np.full(count, np.nan), np.full(count, np.nan))
        return self._fares[which]

    def ask(self, which: int, rows: Index) -> None:
        """Find out what these rows come to."""
        ratio, years = self.known(which)
        new = rows[np.isnan(ratio[rows])]
        if len(new):
            ratio[new], years[new] = fares_of(self.ground, self.tables[which].at(new))

    def best(self, which: int, rows: Index) -> Mask:
        """Which of these rows none of them is as good as in everything; asked once.

        Boxes with two pools were sorted out before.
        """
        key = (which, rows.tobytes())
        if key not in self._best:
            table = self.tables[which]
            is_pair = len(table.pools) > 1
            options = self.ground.choices.options
            self._best[key] = np.ones(len(rows), bool) if is_pair else best_boxes(options, table.at(rows))
        return self._best[key]

    def far(self, which: int, keeping_at: int, mark: Mark) -> dict[NeedId, Floats]:
        """As :func:`far_of`, with what hangs on how copies are kept; asked once."""
        if (which, mark) not in self._far:
            self._far[which, mark] = far_of(self, which, mark)
        terms, table = self.ground.terms(keeping_at), self.tables[which]
        key = (which, terms.needed, mark)
        if key not in self._space:
            self._space[key] = _far_from_space(self, table, terms.needed, mark)

        def alike(far: float) -> Floats:
            return np.broadcast_to(np.float64(far), (len(table),))

        return {
            "copies": alike(len(terms.lacking)),
            "prices": alike(terms.unpriced_switches),
            "space": self._space[key],
            "faults": alike(0) if terms.is_nightly else _stripes(self, table),
            **self._far[which, mark],
        }

    def alone(self, which: int, keeping_at: int, mark: Mark, let_go: frozenset[NeedId]) -> Mask:
        """Which rows keep to what each must keep to by itself, without speed and caches' wear."""
        key = (which, self.ground.terms(keeping_at)._replace(capex=Decimal(0)), mark)
        if key not in self._missed:
            missed = np.zeros(len(self.tables[which]), np.uint32)
            for need, far in self.far(which, keeping_at, mark).items():
                missed |= np.where(far > 0, BITS[need], np.uint32(0))
            self._missed[key] = missed
        kept: Mask = self._missed[key] & ~_bits(let_go) == 0
        return kept

    def held_against(self, bundle: Bundle) -> Field:
        """The same designs held against other needs; what they come to for people stays known."""
        judged = Judged(bundle, self.ground.judged.results)
        return replace(self, ground=replace(self.ground, judged=judged), _far={}, _space={}, _missed={})

    def design(self, spot: Spot) -> Design:
        """The design that two rows are."""
        rows = (spot.first, spot.second)
        pools = [
            self._choice(tier, pool, row, int(table.cache_at[row]))
            for table, row in zip(self.tables, rows, strict=False)
            for tier, pool in zip(table.tiers, table.pools, strict=True)
        ]
        return Design(self.shape, tuple(pools), self.network_at, spot.keeping_at)

    def _choice(self, tier: Tier, pool: PoolTable, row: int, cache_at: int) -> PoolChoice:
        options = self.ground.choices.options
        cache = options.caches[cache_at] if cache_at >= 0 and tier == "work" else None
        place = options.places[pool.place_at[row]]
        return PoolChoice(
            tier, place.box_at, place.slot, int(pool.drive_at[row]), options.layouts[pool.layout_at[row]],
            int(pool.members[row]), int(pool.hot_spares[row]), int(pool.cold_spares[row]), cache,
        )  # fmt: skip


def far_of(of: Field, which: int, mark: Mark) -> dict[NeedId, Floats]:
    """How far every row of a table is from what it must keep to by itself, by need; 0 where it does.

    Without what hangs on how copies are kept, which is space and the copies themselves.
    """
    table, bundle = of.tables[which], of.ground.judged.bundle
    rules, limits = bundle.house_rules, bundle.plan.brief.limits
    with np.errstate(divide="ignore"):
        found: dict[NeedId, Floats] = {
            "failures": np.maximum(rules.failures_survived_min - table.survives, 0).astype(np.float64),
            "odds": np.maximum(np.log(table.odds * mark.one_in), 0.0),
            "exposure": table.hangs.astype(np.float64),
            "wear": np.maximum(np.log(rules.flash_service_years_min / table.flash_years), 0.0),
            "supply": np.maximum(np.log(table.carried * 100 / rules.supply_percent_max), 0.0),
        }
    asked = np.maximum(table.skill, of.ground.skill)
    found["stock"] = _leaves_stock(of, table)
    found["skill"] = np.maximum(asked - of.ground.skill_there, 0).astype(np.float64)
    if limits.ready_by is not None:
        late = table.lead_days - max((limits.ready_by - bundle.as_of).days, 0)
        found["ready"] = np.maximum(late, 0) / 7
    return found


def _leaves_stock(of: Field, table: BoxTable) -> Floats:
    """Rows that buy drives while most of the stock of their kind lies idle, where it is to be used first."""
    bundle, options = of.ground.judged.bundle, of.ground.choices.options
    far = np.zeros(len(table))
    if bundle.plan.brief.limits.reuse != "first":
        return far
    sizes = np.array([drive.mean_bytes for drive in options.drives])
    largest = largest_lots(bundle.facts.stock.reusable)
    of_kind = np.array([largest[drive.model.kind] for drive in options.drives])
    for pool in table.pools:
        used = sizes[pool.drive_at] * pool.from_stock(options)
        far = np.maximum(far, lies_idle(pool.bought(options), used, of_kind[pool.drive_at]))
    return far


def _stripes(of: Field, table: BoxTable) -> Floats:
    """Rows with a stripe in them, which wants a copy every night."""
    is_stripe = [layout.family is Family.STRIPE for layout in of.ground.choices.options.layouts]
    striped = np.array(is_stripe, np.float64)
    found: Floats = np.maximum.reduce([striped[pool.layout_at] for pool in table.pools])
    return found


def _far_from_space(of: Field, table: BoxTable, needed: tuple[float, ...], mark: Mark) -> Floats:
    far = np.zeros(len(table))
    for tier, pool in zip(table.tiers, table.pools, strict=True):
        need = needed[of.ground.tiers.index(tier)]
        if need:
            far += np.maximum(-np.log(pool.plannable_bytes / need / mark.ratio), 0.0)
    return far


MOST_TIMES_NEEDED, LARGEST_FOR_ANYONE_BYTES = 4.0, 24 * TB
"""What is larger than so many times the need serves nobody better, but for the smallest houses."""
KINDS: tuple[tuple[Shape, tuple[str, ...]], ...] = (
    ("one pool", ("hdd",)),
    ("one pool", ("ssd",)),
    ("two boxes", ("ssd", "hdd")),
    ("one box", ("ssd", "hdd")),
)
"""Shapes, and the kinds of drives of their tiers: what is worked on is on flash where tiers are apart."""


def fields_of(choices: Choices, bundle: Bundle) -> Iterator[Field]:
    """Every field that the options allow; what does not hang on the network is made once for all of them."""
    found = [
        (network_at, kinds, ground)
        for shape, kinds in KINDS
        for network_at in range(len(choices.networks))
        if (ground := ground_of(choices, shape, kinds, network_at)) is not None
    ]
    if not found:
        return
    streams = [ground.streams(tier) for _, _, ground in found for tier in ground.tiers]
    inside = found[0][2].inside_seats
    pools = pool_tables(choices.options, bundle.house_rules, streams, inside)
    pools = with_mixed_sets(pools, choices, bundle, inside)
    known: dict[tuple[Shape, tuple[str, ...]], tuple[Ground, _Tables]] = {}
    for network_at, kinds, alone in found:
        key = (alone.shape, kinds)
        if key not in known:
            grounds = [ground for _, others, ground in found if (ground.shape, others) == key]
            known[key] = (alone, _tables(grounds, kinds, pools))
        first, tables = known[key]
        yield Field(alone.beside(first), network_at, kinds, *tables)


class _Tables(NamedTuple):
    """The tables of a shape, and how many designs there are on each network."""

    first: BoxTable
    second: BoxTable | None
    designs: int
    within: float = 0.0


class _Least(NamedTuple):
    """What no design of a shape does without, on whichever network: bytes by tier, and money."""

    needed: dict[Tier, float]
    most_needed: dict[Tier, float]
    capex: Decimal


def _tables(grounds: list[Ground], kinds: tuple[str, ...], by_streams: dict[int, PoolTable]) -> _Tables:
    ground = grounds[0]
    terms = [each.terms(at) for each in grounds for at in range(len(each.choices.keepings))]
    needed = {tier: [each.needed[n] for each in terms] for n, tier in enumerate(ground.tiers)}
    least = _Least(
        {tier: min(each) for tier, each in needed.items()},
        {tier: max(each) for tier, each in needed.items()},
        min(each.capex for each in terms),
    )
    pools = [
        _of_kind(ground, by_streams[ground.streams(tier)], kind, least.most_needed[tier])
        for tier, kind in zip(ground.tiers, kinds, strict=True)
    ]
    if ground.shape == "one pool":
        pool, cache_at, count, within = _with_caches(ground, pools[0], kinds[0], least)
        return _Tables(box_table(ground, ("work",), (pool,), cache_at), None, count, within)
    if ground.shape == "two boxes":
        first, second = (
            box_table(ground, (tier,), (pool,)) for tier, pool in zip(ground.tiers, pools, strict=True)
        )
        return _Tables(first, second, len(first) * len(second))
    pairs, count, within = _in_one_box(ground, pools[0], pools[1], least)
    return _Tables(box_table(ground, ("work", "archive"), pairs), None, count, within)


def _of_kind(ground: Ground, table: PoolTable, kind: str, needed: float) -> PoolTable:
    """Pools of one kind of drive; what is many times too large for its tier is no design for it."""
    kinds = np.array([drive.model.kind == kind for drive in ground.choices.options.drives])
    most = max(needed * MOST_TIMES_NEEDED, LARGEST_FOR_ANYONE_BYTES)
    return table.at(np.flatnonzero(kinds[table.drive_at] & (table.plannable_bytes <= most)))


def _viable(ground: Ground, pool: PoolTable, tier: Tier, least: _Least) -> Mask:
    """Pools that keep to what no cache and no second pool can mend: space, dead drives, the budget."""
    options, bundle = ground.choices.options, ground.judged.bundle
    kept: Mask = pool.plannable_bytes >= least.needed[tier]
    kept &= pool.survives >= bundle.house_rules.failures_survived_min
    if bundle.plan.brief.budget:
        left = float(bundle.plan.brief.budget - least.capex)
        boxes = np.array([float(options.boxes[place.box_at].price) for place in options.places])
        drives = np.array([float(drive.price) for drive in options.drives])[pool.drive_at]
        kept &= boxes[pool.place_at] + drives * pool.bought(options) <= left
    return kept


MOST_ROWS = 800_000
"""Pools with a cache, and pairs of pools in one box, that a table has."""
STEPS = (0.0, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 3.0, 10.0)
"""By how much pools may differ that count as equal where there are more; the first that is enough."""


def _with_caches(
    ground: Ground, pool: PoolTable, kind: str, least: _Least
) -> tuple[PoolTable, Index, int, float]:
    """Every pool bare; the best viable pools of disks also with each cache that their box takes.

    And how many there are in all, and what counted as equal.
    """
    options = ground.choices.options
    bare = np.full(len(pool), -1)
    if kind != "hdd" or not options.caches:
        return pool, bare, len(pool), 0.0
    takes = np.array(
        [
            [
                [options.takes_cache(box_at, layout, cache) for layout in options.layouts]
                for box_at in range(len(options.boxes))
            ]
            for cache in options.caches
        ]
    )[:, _box_of(ground, pool), pool.layout_at]
    kept, within = _narrowed(
        np.flatnonzero(_viable(ground, pool, "work", least)),
        lambda rows: int(takes[:, rows].sum()),
        lambda rows, within: rows[best_pools(ground, "work", pool.at(rows), within)],
    )
    which, rows = np.nonzero(takes[:, kept])
    count = len(pool) + int(takes.sum())
    return pool.at(np.append(np.arange(len(pool)), kept[rows])), np.append(bare, which), count, within


def _narrowed(rows: T, count: Callable[[T], int], narrower: Callable[[T, float], T]) -> tuple[T, float]:
    """Rows of which there are not too many, and by how much those differ that counted as equal for it."""
    within = 0.0
    for step in STEPS:
        if count(rows) <= MOST_ROWS:
            break
        rows, within = narrower(rows, step), step
    return rows, within


def _box_of(ground: Ground, pool: PoolTable) -> Index:
    found: Index = np.array([place.box_at for place in ground.choices.options.places])[pool.place_at]
    return found


def _in_one_box(
    ground: Ground, work: PoolTable, archive: PoolTable, least: _Least
) -> tuple[tuple[PoolTable, PoolTable], int, float]:
    """Every pair of the best viable pools that goes into one box, as rows.

    And how many pairs there are in all, and what counted as equal.
    """
    tables, boxes = (work, archive), len(ground.choices.options.boxes)
    box_of = [_box_of(ground, table) for table in tables]

    def pairs(rows: list[Index]) -> int:
        ours, theirs = (np.bincount(of[at], minlength=boxes) for of, at in zip(box_of, rows, strict=True))
        return int((ours * theirs).sum())

    def narrower(rows: list[Index], within: float) -> list[Index]:
        return [
            at[best_pools(ground, tier, table.at(at), within)]
            for tier, table, at in zip(ground.tiers, tables, rows, strict=True)
        ]

    viable = [
        np.flatnonzero(_viable(ground, table, tier, least))
        for tier, table in zip(ground.tiers, tables, strict=True)
    ]
    rows, within = _narrowed(viable, pairs, narrower)
    i, j = _together(ground, tables, rows)
    return (work.at(i), archive.at(j)), pairs([np.arange(len(table)) for table in tables]), within


def _together(ground: Ground, tables: tuple[PoolTable, PoolTable], rows: list[Index]) -> tuple[Index, Index]:
    """All pairs of these rows that are in the same box and find a bay each."""
    work, archive = tables
    box_of = [_box_of(ground, table) for table in tables]
    found = [(np.empty(0, np.int64), np.empty(0, np.int64))]
    for box_at, box in enumerate(ground.choices.options.boxes):
        here = [at[of[at] == box_at] for of, at in zip(box_of, rows, strict=True)]
        i, j = (each.ravel() for each in np.meshgrid(*here, indexing="ij"))
        apart = work.place_at[i] != archive.place_at[j]
        fits = apart | (work.drives[i] + archive.drives[j] <= box.holds_drives.bays)
        found.append((i[fits], j[fits]))
    return np.concatenate([pair[0] for pair in found]), np.concatenate([pair[1] for pair in found])
