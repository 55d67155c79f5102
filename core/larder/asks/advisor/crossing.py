"""Crossing the halves of a field: the cheapest design, the one that misses least, all that are undominated.

What a row comes to for people is asked only where it may matter: a row that nobody has asked about is taken
to serve, and what is found so is asked about, until nothing is left open.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from larder.laws.front import Halves, Measures, Wanted, cheapest_pair, front_of_pairs, joined
from larder.laws.power import power_price_per_year
from larder.stages.costs import YEARS

from .field import Field, Floats, Index, Mask, Spot
from .ground import Terms
from .halves import BoxTable
from .needs import Mark, NeedId, closet_watts

ADDED: tuple[NeedId, ...] = ("budget", "circuit", "air", "noise", "upkeep")
"""Needs that both halves take of together, in the order of the limits."""
SLACK = 1e-9
"""Of a limit, so that a sum in another order is no miss."""
FAR_COUNTS, FARTHEST = 1e9, 1e3
"""A little nearer counts more than any money."""
ASKED_AT_FIRST, ASKED_TIMES = 24, 2
"""Rows that are asked about together, and how many times more where none of them settled it."""


class Asked(NamedTuple):
    """Which designs of a field are looked at: rows, the way of copies, the mark, needs that are let go."""

    masks: tuple[Mask, ...]
    keeping_at: int
    mark: Mark
    let_go: frozenset[NeedId] = frozenset()


@dataclass(frozen=True)
class Crossing:
    """What may be crossed: the rows of each table, and what both together must keep to."""

    field: Field
    asked: Asked
    rows: tuple[Index, ...]
    wanted: Wanted

    def halves(self, far: Callable[[int, Index], Floats] | None = None) -> tuple[Halves, Halves]:
        """The rows with their measures; with ``far``, how far each is counts before what it costs."""
        found = []
        for which, rows in enumerate(self.rows):
            half = _half(self.field, which, rows)
            if far is not None:
                cost = far(which, rows) * FAR_COUNTS + half.measures.cost
                half = Halves(replace(half.measures, cost=cost), half.taken)
            found.append(half)
        if len(found) == 1:
            nothing = np.zeros(1)
            measures = Measures(nothing, nothing, np.full(1, np.inf), nothing)
            found.append(Halves(measures, np.zeros((len(ADDED), 1))))
        return found[0], found[1]

    def of_those_that_serve(self) -> Crossing:
        """The same without the rows that are known not to serve; what is not known yet may."""
        return replace(
            self,
            rows=tuple(
                rows[_may_serve(self.field, which, rows, self.asked)] for which, rows in enumerate(self.rows)
            ),
        )

    def spot(self, at: int, found: tuple[int, int]) -> Spot:
        """The design that is made of two of the rows."""
        pairs = list(zip(self.rows, found, strict=False))
        costs = (self.field.tables[n].five_years[rows[k]] for n, (rows, k) in enumerate(pairs))
        places = [int(rows[k]) for rows, k in pairs]
        cost = float(sum(costs)) + shared_cost(self.field, self.asked.keeping_at)
        return Spot(at, self.asked.keeping_at, places[0], places[1] if len(places) > 1 else 0, cost)


def crossing_of(field: Field, asked: Asked) -> Crossing:
    """The rows that keep to all that each must keep to alone, as far as is known."""
    terms = field.ground.terms(asked.keeping_at)
    limits = np.array([_limit(field, terms, need) for need in ADDED])
    limits[[need in asked.let_go for need in ADDED]] = np.inf
    rows = []
    for which, mask in enumerate(asked.masks):
        kept = np.flatnonzero(mask & field.alone(which, asked.keeping_at, asked.mark, asked.let_go))
        rows.append(kept[(_taken(field.tables[which], kept) <= limits[:, None]).all(axis=0)])
    return Crossing(field, asked, tuple(rows), Wanted(-np.inf, np.inf, limits))


def cheapest(field: Field, at: int, asked: Asked) -> Spot | None:
    """The design that costs least over five years of those that keep to what is asked."""
    return _least(crossing_of(field, asked), at, None)


def nearest(field: Field, at: int, asked: Asked) -> tuple[float, Spot] | None:
    """(how far, a ratio; design) of the one that misses least of the needs let go; the cheaper of equals."""
    crossing = crossing_of(field, asked)
    if "speed" in asked.let_go:
        # All of them would be asked about; those that are worse in everything need not be.
        crossing = replace(
            crossing, rows=tuple(rows[field.best(n, rows)] for n, rows in enumerate(crossing.rows))
        )

    def far(which: int, rows: Index) -> Floats:
        return _far(field, which, rows, asked)

    spot = _least(crossing, at, far)
    if spot is None:
        return None
    return _told_far(field, asked, spot), spot


def _told_far(field: Field, asked: Asked, spot: Spot) -> float:
    """How far a design is from the needs that are let go, as a sum of logarithms."""
    rows = list(zip(range(len(field.tables)), (spot.first, spot.second), strict=False))
    alone = sum(float(_far_alone(field, which, np.array([row]), asked)[0]) for which, row in rows)
    taken = np.sum([_taken(field.tables[which], np.array([row]))[:, 0] for which, row in rows], axis=0)
    terms = field.ground.terms(asked.keeping_at)
    for n, need in enumerate(ADDED):
        limit = _limit(field, terms, need)
        if need in asked.let_go and math.isfinite(limit):
            alone += math.log(max(float(taken[n]) / limit, 1.0)) if limit > 0 else FARTHEST
    return alone


def _least(crossing: Crossing, at: int, far: Callable[[int, Index], Floats] | None) -> Spot | None:
    field, at_once = crossing.field, ASKED_AT_FIRST
    while True:
        serving = crossing.of_those_that_serve()
        halves = serving.halves(far)
        found = cheapest_pair(*halves, crossing.wanted)
        if found is None:
            return None
        spot = serving.spot(at, found)
        places = (spot.first, spot.second)[: len(field.tables)]
        new = [n for n, row in enumerate(places) if np.isnan(field.known(n)[0][row])]
        if not new:
            return spot
        for which in new:
            rows = serving.rows[which]
            unknown = np.flatnonzero(np.isnan(field.known(which)[0][rows]))
            order = np.argsort(halves[which].measures.cost[unknown], kind="stable")[:at_once]
            field.ask(which, np.append(rows[unknown[order]], places[which]))
        at_once *= ASKED_TIMES


def worth_it(field: Field, at: int, asked: Asked) -> tuple[list[Spot], Measures]:
    """The undominated designs of those that keep to what is asked, and their measures."""
    crossing = crossing_of(field, asked)
    rows = tuple(rows[field.best(n, rows)] for n, rows in enumerate(crossing.rows))
    if all(len(row) for row in rows):
        for which, some in enumerate(rows):
            field.ask(which, some)
    crossing = replace(crossing, rows=rows).of_those_that_serve()
    a, b = crossing.halves()
    i, j = front_of_pairs(a, b, crossing.wanted)
    measures = joined(a.measures.at(i), b.measures.at(j))
    cost = measures.cost + shared_cost(field, asked.keeping_at)
    spots = [crossing.spot(at, pair) for pair in zip(i.tolist(), j.tolist(), strict=True)]
    return spots, replace(measures, cost=cost)


def shared_cost(field: Field, keeping_at: int) -> float:
    """What all designs of a field cost over five years besides boxes and pools."""
    terms, rules = field.ground.terms(keeping_at), field.ground.judged.bundle.house_rules
    power = power_price_per_year(field.ground.switches_watts, rules.kwh_price) * YEARS
    return float(terms.capex) + terms.stores_five_years + float(power)


def _may_serve(field: Field, which: int, rows: Index, asked: Asked) -> Mask:
    """Which rows are quick enough for people and have caches that last, or have not been asked about."""
    ratio, years = (each[rows] for each in field.known(which))
    unknown = np.isnan(ratio)
    served = np.ones(len(rows), bool)
    if "speed" not in asked.let_go:
        served &= unknown | (ratio >= asked.mark.ratio)
    if "wear" not in asked.let_go:
        served &= unknown | (years >= field.ground.judged.bundle.house_rules.flash_service_years_min)
    return served


def _far(field: Field, which: int, rows: Index, asked: Asked) -> Floats:
    """How far rows are from the needs that are let go; what adds up is near where less of it is taken."""
    far = _far_alone(field, which, rows, asked)
    terms, taken = field.ground.terms(asked.keeping_at), _taken(field.tables[which], rows)
    for row, need in enumerate(ADDED):
        limit = _limit(field, terms, need)
        if need in asked.let_go and math.isfinite(limit):
            far += taken[row] / max(limit, 1e-9)
    return far


def _far_alone(field: Field, which: int, rows: Index, asked: Asked) -> Floats:
    """How far rows are from the needs that each keeps to by itself; what is not known counts as near."""
    far = np.zeros(len(rows))
    for need, each in field.far(which, asked.keeping_at, asked.mark).items():
        if need in asked.let_go:
            far += np.minimum(each[rows], FARTHEST)
    ratio, years = (each[rows] for each in field.known(which))
    least = field.ground.judged.bundle.house_rules.flash_service_years_min
    with np.errstate(divide="ignore", invalid="ignore"):
        for need, by_row in (
            ("speed", np.log(asked.mark.ratio / ratio)),
            ("wear", np.log(least / years)),
        ):
            if need in asked.let_go:
                far += np.clip(np.nan_to_num(by_row, nan=0.0, posinf=FARTHEST), 0.0, FARTHEST)
    return far


def _half(field: Field, which: int, rows: Index) -> Halves:
    table = field.tables[which]
    ratio = field.known(which)[0][rows]
    speed = np.nan_to_num(ratio, nan=np.inf)
    space = table.plannable[rows].astype(np.float64)
    measures = Measures(table.five_years[rows], space, speed, table.odds[rows])
    return Halves(measures, _taken(table, rows))


def _taken(table: BoxTable, rows: Index) -> Floats:
    """What rows take of each limit, in the order of the limits."""
    return table.taken[:, rows]


def _limit(field: Field, terms: Terms, need: NeedId) -> float:
    """What boxes may take of it together, once what all designs of the field take is off."""
    ground, bundle = field.ground, field.ground.judged.bundle
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
