"""All designs of one shape on one network, as columns: which keep to the needs, and which are worth it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from decimal import Decimal
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from larder.base.units import TB
from larder.laws.layout import Family
from larder.plan.bundle import Bundle
from larder.stages.stage import Judged

from .design import Choices, Design, PoolChoice, Shape
from .ground import Ground, ground_of
from .halves import BoxTable, box_table, fares_of
from .needs import Mark, NeedId
from .options import Tier
from .pools import PoolTable, pool_tables

Mask = NDArray[np.bool_]
Index = NDArray[np.int64]
Floats = NDArray[np.float64]


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
    """

    ground: Ground
    network_at: int
    kinds: tuple[str, ...]
    first: BoxTable
    second: BoxTable | None
    count: int
    _fares: dict[int, tuple[Floats, Floats]] = field(default_factory=dict)
    _best: dict[tuple[int, bytes], Mask] = field(default_factory=dict)
    _far: dict[tuple[int, Mark], dict[NeedId, Floats]] = field(default_factory=dict)
    _space: dict[tuple[int, tuple[float, ...], Mark], Floats] = field(default_factory=dict)
    _alone: dict[tuple[Any, ...], Mask] = field(default_factory=dict)

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

    def best(self, which: int, rows: Index, best_of: Callable[[Field, int, Index], Mask]) -> Mask:
        """Which of these rows none of them is as good as in everything; asked once."""
        key = (which, rows.tobytes())
        if key not in self._best:
            self._best[key] = best_of(self, which, rows)
        return self._best[key]

    def far(self, which: int, keeping_at: int, mark: Mark) -> dict[NeedId, Floats]:
        """As :func:`far_of`, with what hangs on how copies are kept; asked once."""
        if (which, mark) not in self._far:
            self._far[which, mark] = far_of(self, which, mark)
        terms, table = self.ground.terms(keeping_at), self.tables[which]
        key = (which, terms.needed, mark)
        if key not in self._space:
            self._space[key] = _far_from_space(self, table, terms.needed, mark)
        return {
            "copies": np.full(len(table), float(len(terms.lacking))),
            "prices": np.full(len(table), float(terms.unpriced_switches)),
            "space": self._space[key],
            "faults": _stripes(self, table) * (not terms.is_nightly),
            **self._far[which, mark],
        }

    def alone(self, which: int, keeping_at: int, mark: Mark, let_go: frozenset[NeedId]) -> Mask:
        """Which rows keep to what each must keep to by itself, without speed and caches' wear; asked once."""
        terms = self.ground.terms(keeping_at)
        key = (which, terms._replace(capex=Decimal(0)), mark, let_go)
        if key not in self._alone:
            kept = np.ones(len(self.tables[which]), bool)
            for need, far in self.far(which, keeping_at, mark).items():
                if need not in let_go:
                    kept &= far <= 0
            self._alone[key] = kept
        return self._alone[key]

    def held_against(self, bundle: Bundle) -> Field:
        """The same designs held against other needs; what they come to for people stays known."""
        judged = Judged(bundle, self.ground.judged.results)
        return replace(self, ground=replace(self.ground, judged=judged), _far={}, _space={}, _alone={})

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
    found["skill"] = np.maximum(asked - of.ground.skill_there, 0).astype(np.float64)
    if limits.ready_by is not None:
        late = table.lead_days - max((limits.ready_by - bundle.as_of).days, 0)
        found["ready"] = np.maximum(late, 0) / 7
    return found


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
    """Every field that the options allow."""
    found = [
        (network_at, kinds, ground)
        for shape, kinds in KINDS
        for network_at in range(len(choices.networks))
        if (ground := ground_of(choices, shape, kinds, network_at)) is not None
    ]
    if not found:
        return
    streams = [ground.streams(tier) for _, _, ground in found for tier in ground.tiers]
    tables = pool_tables(choices.options, bundle.house_rules, streams, found[0][2].inside_seats)
    known: dict[tuple[Shape, tuple[str, ...]], Ground] = {}
    for network_at, kinds, alone in found:
        ground = alone.beside(known.setdefault((alone.shape, kinds), alone))
        pools = [
            _of_kind(ground, tables[ground.streams(tier)], tier, kind)
            for tier, kind in zip(ground.tiers, kinds, strict=True)
        ]
        yield _field(ground, network_at, kinds, pools)


def _of_kind(ground: Ground, table: PoolTable, tier: Tier, kind: str) -> PoolTable:
    """Pools of one kind of drive; what is many times too large for its tier is no design for it."""
    kinds = np.array([drive.model.kind == kind for drive in ground.choices.options.drives])
    needed = [ground.terms(at).needed[ground.tiers.index(tier)] for at in range(len(ground.choices.keepings))]
    most = max(max(needed) * MOST_TIMES_NEEDED, LARGEST_FOR_ANYONE_BYTES)
    return table.at(np.flatnonzero(kinds[table.drive_at] & (table.plannable_bytes <= most)))


def _field(ground: Ground, network_at: int, kinds: tuple[str, ...], pools: list[PoolTable]) -> Field:
    if ground.shape == "one pool":
        pool, cache_at, count = _with_caches(ground, pools[0], kinds[0])
        table = box_table(ground, ("work",), (pool,), cache_at)
        return Field(ground, network_at, kinds, table, None, count)
    if ground.shape == "two boxes":
        first, second = (
            box_table(ground, (tier,), (pool,)) for tier, pool in zip(ground.tiers, pools, strict=True)
        )
        return Field(ground, network_at, kinds, first, second, len(first) * len(second))
    pairs, count = _in_one_box(ground, pools[0], pools[1])
    return Field(ground, network_at, kinds, box_table(ground, ("work", "archive"), pairs), None, count)


def _viable(ground: Ground, pool: PoolTable, tier: Tier) -> Mask:
    """Pools that keep to what no cache and no second pool can mend: space, dead drives, the budget."""
    options, bundle = ground.choices.options, ground.judged.bundle
    terms = [ground.terms(at) for at in range(len(ground.choices.keepings))]
    needed = min(each.needed[ground.tiers.index(tier)] for each in terms)
    kept: Mask = pool.plannable_bytes >= needed
    kept &= pool.survives >= bundle.house_rules.failures_survived_min
    if bundle.plan.brief.budget:
        left = float(bundle.plan.brief.budget - min(each.capex for each in terms))
        boxes = np.array([float(options.boxes[place.box_at].price) for place in options.places])
        drives = np.array([float(drive.price) for drive in options.drives])[pool.drive_at]
        kept &= boxes[pool.place_at] + drives * (pool.drives + pool.cold_spares) <= left
    return kept


def _with_caches(ground: Ground, pool: PoolTable, kind: str) -> tuple[PoolTable, NDArray[np.int64], int]:
    """Every pool bare; viable pools of disks also with each cache that their box takes; how many in all."""
    options = ground.choices.options
    bare = np.full(len(pool), -1)
    if kind != "hdd" or not options.caches:
        return pool, bare, len(pool)
    viable, count = _viable(ground, pool, "work"), len(pool)
    rows, which = [np.arange(len(pool))], [bare]
    box_of = np.array([place.box_at for place in options.places])[pool.place_at]
    for cache_at, cache in enumerate(options.caches):
        takes = np.array(
            [
                [options.takes_cache(box_at, layout, cache) for layout in options.layouts]
                for box_at in range(len(options.boxes))
            ]
        )[box_of, pool.layout_at]
        at = np.flatnonzero(takes & viable)
        count += int(takes.sum())
        rows.append(at)
        which.append(np.full(len(at), cache_at))
    return pool.at(np.concatenate(rows)), np.concatenate(which), count


def _in_one_box(
    ground: Ground, work: PoolTable, archive: PoolTable
) -> tuple[tuple[PoolTable, PoolTable], int]:
    """Every pair of viable pools that goes into one box, as rows; and how many pairs there are in all."""
    options = ground.choices.options
    box_of = np.array([place.box_at for place in options.places])
    viable = (_viable(ground, work, "work"), _viable(ground, archive, "archive"))
    rows: list[tuple[Index, Index]] = []
    count = 0
    for box_at in range(len(options.boxes)):
        here = [np.flatnonzero(box_of[table.place_at] == box_at) for table in (work, archive)]
        count += len(here[0]) * len(here[1])
        ours, theirs = (at[kept[at]] for at, kept in zip(here, viable, strict=True))
        i, j = (each.ravel() for each in np.meshgrid(ours, theirs, indexing="ij"))
        apart = work.place_at[i] != archive.place_at[j]
        bays = options.boxes[box_at].holds_drives.bays
        fits = apart | (work.drives[i] + archive.drives[j] <= bays)
        rows.append((i[fits], j[fits]))
    i, j = (np.concatenate([pair[n] for pair in rows]) for n in range(2))
    return (work.at(i), archive.at(j)), count
