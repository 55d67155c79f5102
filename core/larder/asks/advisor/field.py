"""All designs of one shape on one network, as columns: which keep to the needs, and which are worth it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from decimal import Decimal
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from larder.laws.layout import Family
from larder.plan.bundle import Bundle
from larder.stages.reuse import largest_lots, lies_idle
from larder.stages.stage import Judged

from .design import Design, PoolChoice, Shape
from .ground import Ground
from .halves import BoxTable, fares_of
from .needs import NEED_IDS, Mark, NeedId
from .options import Tier
from .pools import PoolTable
from .undominated import best_boxes

Mask = NDArray[np.bool_]
Index = NDArray[np.int64]
Floats = NDArray[np.float64]
Bits = NDArray[np.uint32]
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
