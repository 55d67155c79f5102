"""All designs of one shape on one network, as columns: which keep to the needs, which is cheapest, which worth it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from larder.base.units import DAYS_A_YEAR
from larder.laws.front import Halves, Measures, Wanted, cheapest_pair, front_of_pairs, joined
from larder.plan.bundle import Bundle
from larder.stages.costs import YEARS
from larder.stages.power import HOURS_A_DAY

from .design import Choices, Design, PoolChoice, Shape
from .ground import Ground, Terms, ground_of
from .halves import BoxTable, box_table, ratios_of
from .needs import Mark, NeedId, closet_watts
from .options import Tier
from .pools import PoolTable, pool_table

Mask = NDArray[np.bool_]
ADDED: tuple[NeedId, ...] = ("budget", "circuit", "air", "noise", "upkeep")
"""Needs that both halves take of together, in the order of the limits."""
SLACK = 1e-9
"""Of a limit, so that a sum in another order is no miss."""


class Spot(NamedTuple):
    """A design as rows of a field's tables, and the way it is copied; ``cost`` is that of five years."""

    field_at: int
    keeping_at: int
    first: int
    second: int
    cost: float


@dataclass(frozen=True)
class Field:
    """One shape on one network; ``second`` is None where a row of ``first`` is a whole design."""

    ground: Ground
    network_at: int
    kinds: tuple[str, ...]
    first: BoxTable
    second: BoxTable | None
    _ratios: dict[int, NDArray[np.float64]] = field(default_factory=dict)

    @property
    def shape(self) -> Shape:
        return self.ground.shape

    @property
    def tables(self) -> tuple[BoxTable, ...]:
        return (self.first,) if self.second is None else (self.first, self.second)

    def __len__(self) -> int:
        """How many designs there are, each with one way to keep copies."""
        return len(self.first) * (1 if self.second is None else len(self.second))

    def ratio(self, which: int, rows: NDArray[np.int64]) -> NDArray[np.float64]:
        """What these rows of a table come to for people; asked once for each."""
        table = self.tables[which]
        if which not in self._ratios:
            self._ratios[which] = np.full(len(table), np.nan)
        known = self._ratios[which]
        new = rows[np.isnan(known[rows])]
        if len(new):
            known[new] = ratios_of(self.ground, table.at(new))
        return known[rows]

    def design(self, spot: Spot) -> Design:
        """The design that two rows are."""
        rows = (spot.first, spot.second)
        pools = [
            self._choice(tier, pool, row)
            for table, row in zip(self.tables, rows, strict=False)
            for tier, pool in zip(table.tiers, table.pools, strict=True)
        ]
        return Design(self.shape, tuple(pools), self.network_at, spot.keeping_at)

    def _choice(self, tier: Tier, pool: PoolTable, row: int) -> PoolChoice:
        options = self.ground.choices.options
        place = options.places[pool.place_at[row]]
        return PoolChoice(
            tier, place.box_at, place.slot, int(pool.drive_at[row]), options.layouts[pool.layout_at[row]],
            int(pool.members[row]), int(pool.hot_spares[row]), int(pool.cold_spares[row]),
        )  # fmt: skip


class Asked(NamedTuple):
    """Which designs of a field are looked at: rows, the way of copies, the mark, needs that are let go."""

    masks: tuple[Mask, ...]
    keeping_at: int
    mark: Mark
    let_go: frozenset[NeedId] = frozenset()


@dataclass(frozen=True)
class Crossing:
    """Both halves of what is asked for, ready to be crossed: the rows they are, and what they must keep to."""

    rows: tuple[NDArray[np.int64], NDArray[np.int64]]
    halves: tuple[Halves, Halves]
    wanted: Wanted


def crossing_of(of: Field, asked: Asked) -> Crossing:
    """The rows that keep to all that each must keep to alone, with their measures and what they add up to."""
    terms, rows = of.ground.terms(asked.keeping_at), []
    for which, (table, mask) in enumerate(zip(of.tables, asked.masks, strict=True)):
        kept = np.flatnonzero(mask & _alone(of, table, terms, asked))
        if "speed" not in asked.let_go and len(kept):
            kept = kept[of.ratio(which, kept) >= asked.mark.ratio]
        rows.append(kept)
    halves = [
        _halves(of, which, table, at) for which, (table, at) in enumerate(zip(of.tables, rows, strict=True))
    ]
    if of.second is None:
        nothing = np.zeros(1)
        rows.append(np.zeros(1, np.int64))
        halves.append(
            Halves(Measures(nothing, nothing, np.full(1, np.inf), nothing), np.zeros((len(ADDED), 1)))
        )
    limits = np.array([_limit(of, terms, need) for need in ADDED])
    limits[[need in asked.let_go for need in ADDED]] = np.inf
    return Crossing((rows[0], rows[1]), (halves[0], halves[1]), Wanted(-np.inf, np.inf, limits))


def cheapest(of: Field, at: int, asked: Asked) -> Spot | None:
    """The design that costs least over five years of those that keep to what is asked."""
    crossing = crossing_of(of, asked)
    found = cheapest_pair(*crossing.halves, crossing.wanted)
    if found is None:
        return None
    cost = sum(half.measures.cost[n] for half, n in zip(crossing.halves, found, strict=True))
    first, second = (int(rows[n]) for rows, n in zip(crossing.rows, found, strict=True))
    return Spot(at, asked.keeping_at, first, second, float(cost) + shared_cost(of, asked.keeping_at))


def worth_it(of: Field, at: int, asked: Asked) -> tuple[list[Spot], Measures]:
    """The undominated designs of those that keep to what is asked, and their measures."""
    crossing = crossing_of(of, asked)
    i, j = front_of_pairs(*crossing.halves, crossing.wanted)
    measures = joined(crossing.halves[0].measures.at(i), crossing.halves[1].measures.at(j))
    cost = measures.cost + shared_cost(of, asked.keeping_at)
    first, second = crossing.rows[0][i], crossing.rows[1][j]
    spots = [
        Spot(at, asked.keeping_at, int(a), int(b), float(c))
        for a, b, c in zip(first, second, cost, strict=True)
    ]
    return spots, Measures(cost, measures.space, measures.speed, measures.odds)


def shared_cost(of: Field, keeping_at: int) -> float:
    """What all designs of a field cost over five years besides boxes and pools."""
    terms, rules = of.ground.terms(keeping_at), of.ground.judged.bundle.house_rules
    power = of.ground.switches_watts * HOURS_A_DAY * DAYS_A_YEAR / 1000 * rules.kwh_price * YEARS
    return float(terms.capex) + terms.stores_five_years + power


def _alone(of: Field, table: BoxTable, terms: Terms, asked: Asked) -> Mask:
    """Which rows keep to what each must keep to by itself, but for speed."""
    bundle, let_go, mark = of.ground.judged.bundle, asked.let_go, asked.mark
    rules, limits = bundle.house_rules, bundle.plan.brief.limits
    kept = np.ones(len(table), bool)
    if "space" not in let_go:
        for tier, pool in zip(table.tiers, table.pools, strict=True):
            need = terms.needed[of.ground.tiers.index(tier)]
            kept &= pool.plannable_bytes / need >= mark.ratio if need else True
    if "failures" not in let_go:
        kept &= table.survives >= rules.failures_survived_min
    if "odds" not in let_go:
        kept &= table.odds * mark.one_in <= 1
    if "supply" not in let_go:
        kept &= table.carried * 100 <= rules.supply_percent_max
    if "skill" not in let_go:
        kept &= np.maximum(table.skill, of.ground.skill) <= of.ground.skill_there
    if "ready" not in let_go and limits.ready_by is not None:
        kept &= table.lead_days <= max((limits.ready_by - bundle.as_of).days, 0)
    if "copies" not in let_go and terms.lacking:
        kept &= False
    if "prices" not in let_go and terms.unpriced:
        kept &= False
    return kept


def _halves(of: Field, which: int, table: BoxTable, rows: NDArray[np.int64]) -> Halves:
    some = table.at(rows)
    known = of._ratios.get(which)
    speed = np.full(len(rows), np.nan) if known is None else known[rows]
    taken = np.stack([some.capex_cents / 100, some.watts, some.watts, some.noise, some.upkeep])
    measures = Measures(some.five_years, some.plannable.astype(np.float64), np.nan_to_num(speed), some.odds)
    return Halves(measures, taken)


def _limit(of: Field, terms: Terms, need: NeedId) -> float:
    """What boxes may take of it together, once what all designs of the field take is off."""
    ground, bundle = of.ground, of.ground.judged.bundle
    rules, brief = bundle.house_rules, bundle.plan.brief
    room = brief.limits.room
    if need == "budget":
        left = float(brief.budget - terms.capex) if brief.budget else math.inf
    elif need == "circuit":
        share = rules.circuit_percent_max / 100
        left = room.circuit_watts * share - ground.switches_watts if room.circuit_watts else math.inf
    elif need == "air":
        left = closet_watts(rules, room) - ground.switches_watts
    elif need == "noise":
        most = math.inf if room.noise_dba_max is None else 10 ** (room.noise_dba_max / 10)
        left = most - ground.switches_energy
    else:
        left = brief.limits.upkeep_hours_per_month - terms.upkeep_hours
    return left + abs(left) * SLACK if math.isfinite(left) else left


KINDS: tuple[tuple[Shape, tuple[str, ...]], ...] = (
    ("one pool", ("hdd",)),
    ("one pool", ("ssd",)),
    ("two boxes", ("ssd", "hdd")),
    ("one box", ("ssd", "hdd")),
)
"""Shapes, and the kinds of drives of their tiers: what is worked on is on flash where tiers are apart."""


def fields_of(choices: Choices, bundle: Bundle) -> Iterator[Field]:
    """Every field that the options allow."""
    tables: dict[int, PoolTable] = {}
    for shape, kinds in KINDS:
        for network_at in range(len(choices.networks)):
            ground = ground_of(choices, shape, kinds, network_at)
            if ground is None:
                continue
            pools = []
            for tier, kind in zip(ground.tiers, kinds, strict=True):
                streams = ground.streams(tier)
                if streams not in tables:
                    tables[streams] = pool_table(
                        choices.options, bundle.house_rules, streams, ground.inside_seats
                    )
                pools.append(_of_kind(choices, tables[streams], kind))
            yield _field(ground, network_at, kinds, pools)


def _of_kind(choices: Choices, table: PoolTable, kind: str) -> PoolTable:
    kinds = np.array([drive.model.kind == kind for drive in choices.options.drives])
    return table.at(np.flatnonzero(kinds[table.drive_at]))


def _field(ground: Ground, network_at: int, kinds: tuple[str, ...], pools: list[PoolTable]) -> Field:
    if ground.shape == "one pool":
        return Field(ground, network_at, kinds, box_table(ground, ("work",), (pools[0],)), None)
    if ground.shape == "two boxes":
        first, second = (
            box_table(ground, (tier,), (pool,)) for tier, pool in zip(ground.tiers, pools, strict=True)
        )
        return Field(ground, network_at, kinds, first, second)
    pairs = _in_one_box(ground, pools[0], pools[1])
    return Field(ground, network_at, kinds, box_table(ground, ("work", "archive"), pairs), None)


def _in_one_box(ground: Ground, work: PoolTable, archive: PoolTable) -> tuple[PoolTable, PoolTable]:
    """Every pair of pools that goes into one box, as rows; pools too small for their tier are left out."""
    options = ground.choices.options
    needed = [ground.terms(at).needed for at in range(len(ground.choices.keepings))]
    least = [min(each[n] for each in needed) for n in range(2)]
    work = work.at(np.flatnonzero(work.plannable_bytes >= least[0]))
    archive = archive.at(np.flatnonzero(archive.plannable_bytes >= least[1]))
    box_of = np.array([place.box_at for place in options.places])
    rows: list[tuple[NDArray[np.int64], NDArray[np.int64]]] = []
    for box_at in range(len(options.boxes)):
        ours = np.flatnonzero(box_of[work.place_at] == box_at)
        theirs = np.flatnonzero(box_of[archive.place_at] == box_at)
        i, j = (each.ravel() for each in np.meshgrid(ours, theirs, indexing="ij"))
        apart = work.place_at[i] != archive.place_at[j]
        bays = options.boxes[box_at].holds_drives.bays
        fits = apart | (work.drives[i] + archive.drives[j] <= bays)
        rows.append((i[fits], j[fits]))
    i, j = (np.concatenate([pair[n] for pair in rows]) for n in range(2))
    return work.at(i), archive.at(j)
