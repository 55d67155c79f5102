"""The search: all fields of a brief, the cheapest of each school, all undominated, the nearest misses."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from copy import copy
from decimal import Decimal
from functools import lru_cache
from itertools import combinations
from typing import NamedTuple

import numpy as np

from larder.laws.front import Measures, front
from larder.plan.bundle import Bundle
from larder.plan.new_item import FIRST_POOL
from larder.plan.pools import Pool
from larder.stages.materials import MATERIALS
from larder.stages.registry import PARTS
from larder.stages.stage import judge

from .choices import choices_of
from .crossing import Asked, cheapest, nearest, worth_it
from .design import Choices, Design
from .field import Field, Mask, Spot
from .field_tables import fields_of
from .needs import Mark, NeedId, marks_of
from .schools import School

LET_GO_FIRST: tuple[NeedId, ...] = (
    "budget", "failures", "exposure", "odds", "wear", "copies", "noise", "upkeep", "skill", "ready",
    "circuit", "air", "supply", "stock", "prices", "faults", "speed", "space",
)  # fmt: skip


class Near(NamedTuple):
    """The design that misses least once some needs are let go."""

    let_go: frozenset[NeedId]
    far: float
    spot: Spot


class Search:
    """All designs for the brief of a plan. Raises :class:`Refused` where there can be none."""

    def __init__(self, bundle: Bundle) -> None:
        self.bundle = bundle
        self.choices = choices_for(bundle)
        self.fields = tuple(fields_of(self.choices, bundle))
        self.marks = marks_of(bundle.house_rules)

    @property
    def looked_at(self) -> int:
        """The number of designs there are: every field with every way to keep copies."""
        return sum(field.count for field in self.fields) * len(self.choices.keepings)

    @property
    def left_out(self) -> tuple[str, ...]:
        """What was not looked at, and why."""
        within = max((field.within for field in self.fields), default=0.0)
        said = f"Of pools in one box that differ by less than {within * 100:.0f} % in everything, all but one"
        return (*self.choices.options.left_out, *([said] if within else []))

    def design(self, spot: Spot) -> Design:
        """The design at a spot."""
        return self.fields[spot.field_at].design(spot)

    def plan(self, spot: Spot, name: str) -> Bundle:
        """The plan at a spot."""
        return self.choices.bundle(self.design(spot), name)

    def cheapest(self, mark: Mark, school: School | None = None, banned: Iterable[Spot] = ()) -> Spot | None:
        """The design, of one school or any, that costs least over five years and keeps to all needs."""
        found = (
            cheapest(field, at, asked)
            for at, field, asked in self._asked(mark, school, frozenset(), tuple(banned))
        )
        return min((spot for spot in found if spot), key=lambda spot: spot.cost, default=None)

    def nearest(self, mark: Mark, school: School | None = None) -> Near | None:
        """The design that misses least: what none keeps to is let go, then one need more, then two."""
        asked = tuple(self._asked(mark, school, frozenset()))
        if not any(mask.any() for _, _, each in asked for mask in each.masks[:1]):
            return None
        forced = self._missed_by_all(asked)
        if forced and (near := self._near(mark, school, forced)):
            return near
        rest = [need for need in LET_GO_FIRST if need not in forced]
        for count in (1, 2):
            found = []
            for needs in combinations(rest, count):
                near = self._near(mark, school, forced.union(needs))
                found += [near] if near else []
                if near and count > 1:
                    break
            if found:
                return min(found, key=lambda near: near.far)
        return self._near(mark, school, frozenset(LET_GO_FIRST))

    def _missed_by_all(self, asked: tuple[tuple[int, Field, Asked], ...]) -> frozenset[NeedId]:
        """The needs that no row of some table keeps to, in whichever field."""
        forced: set[NeedId] | None = None
        for _, field, each in asked:
            missed: set[NeedId] = set()
            for which, mask in enumerate(each.masks):
                far = field.far(which, each.keeping_at, each.mark)
                missed |= {need for need, by_row in far.items() if mask.any() and (by_row[mask] > 0).all()}
            if all(mask.any() for mask in each.masks):
                forced = missed if forced is None else forced & missed
        return frozenset(forced or ())

    def without(self, mark: Mark) -> dict[NeedId, Near]:
        """For each need that alone stands in the way: the design that misses only that, and by how much."""
        found = {need: self._near(mark, None, frozenset({need})) for need in LET_GO_FIRST}
        return {need: near for need, near in found.items() if near is not None}

    def cannot_hold(self, mark: Mark, needs: Sequence[NeedId]) -> tuple[NeedId, ...]:
        """One of ``needs``, or two, that no design keeps to, whatever else is let go; else nothing.

        But for the rule of copies, where some way of keeping them meets it.
        """
        for count in (1, 2):
            for kept in combinations(needs, count):
                let_go = frozenset(LET_GO_FIRST) - set(kept)
                if not any(
                    cheapest(field, at, asked) for at, field, asked in self._asked(mark, None, let_go)
                ):
                    return kept
        return ()

    def _near(self, mark: Mark, school: School | None, let_go: frozenset[NeedId]) -> Near | None:
        found = [nearest(field, at, asked) for at, field, asked in self._asked(mark, school, let_go)]
        best = min((each for each in found if each), key=lambda each: (each[0], each[1].cost), default=None)
        return None if best is None else Near(let_go, *best)

    def worth(self, mark: Mark) -> tuple[list[Spot], Measures]:
        """The undominated designs of all that keep to the needs, by cost, with their measures."""
        spots: list[Spot] = []
        result: list[Measures] = []
        for at, field, asked in self._asked(mark, None, frozenset()):
            some, measures = worth_it(field, at, asked)
            spots += some
            result.append(measures)
        if not spots:
            nothing = np.empty(0)
            return [], Measures(nothing, nothing, nothing, nothing)
        every = Measures(
            *(
                np.concatenate([getattr(each, name) for each in result])
                for name in ("cost", "space", "speed", "odds")
            )
        )
        best = front(every)
        return [spots[n] for n in best], every.at(best)

    def _asked(
        self, mark: Mark, school: School | None, let_go: frozenset[NeedId], banned: tuple[Spot, ...] = ()
    ) -> Iterator[tuple[int, Field, Asked]]:
        for at, field in enumerate(self.fields):
            if school is not None and not school.field(field):
                continue
            every = tuple(np.ones(len(table), bool) for table in field.tables)
            keepings = [
                n for n, each in enumerate(self.choices.keepings) if school is None or school.keeping(each)
            ]
            meeting = [n for n in keepings if not field.ground.terms(n).lacking]
            for masks in school.masks(field) if school else (every,):
                # Where some way of copying meets the rule, nobody has to let go of it.
                for keeping_at in meeting or keepings:
                    if all(mask.any() for mask in masks):
                        yield at, field, Asked(_without(masks, at, banned), keeping_at, mark, let_go)

    def capex(self, spot: Spot) -> Decimal:
        """What a design costs now, in the plan's currency."""
        field = self.fields[spot.field_at]
        rows = zip(field.tables, (spot.first, spot.second), strict=False)
        cents = sum(int(table.capex_cents[row]) for table, row in rows)
        return field.ground.terms(spot.keeping_at).capex + Decimal(cents) / 100

    def held_against(self, bundle: Bundle) -> Search:
        """The same designs held against other needs: rules and limits that no figure of theirs hangs on."""
        other = copy(self)
        other.bundle, other.marks = bundle, marks_of(bundle.house_rules)
        other.fields = tuple(field.held_against(bundle) for field in self.fields)
        return other


def _without(masks: tuple[Mask, ...], at: int, banned: tuple[Spot, ...]) -> tuple[Mask, ...]:
    """The rows without those that turned out to be none."""
    rows = [spot.first for spot in banned if spot.field_at == at]
    if not rows:
        return masks
    first = masks[0].copy()
    first[rows] = False
    return (first, *masks[1:])


@lru_cache(maxsize=8)
def choices_for(bundle: Bundle) -> Choices:
    """What designs for a plan's brief are made of; raises :class:`Refused` where there is nothing."""
    return choices_of(bundle, kept_bytes(bundle))


def kept_bytes(bundle: Bundle) -> float:
    """What copies have to hold, bytes at the horizon: all but cards."""
    pool = Pool.model_validate({"id": "any", **FIRST_POOL})
    plan = bundle.plan
    pools = plan.pools or (pool,)
    asked = bundle.model_copy(update={"plan": plan.model_copy(update={"pools": pools})})
    judged = judge(asked, PARTS[: PARTS.index(MATERIALS) + 1])
    kinds = {material.id: material.kind for material in plan.safekeeping.materials}
    return sum(each.bytes for each in judged.of(MATERIALS) if kinds[each.id] != "cards")
