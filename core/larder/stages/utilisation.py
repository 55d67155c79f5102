"""How much of a hop the seats use: a distribution in every part of the day, judged in the busiest.

For a flow on a hop u = rate × cost, where cost is 1 ÷ what the hop carries of it. A seat's load is 0, or for
each place where its bytes may lie, with its odds, the sum of its u. A hop is held against the sized
percentile of the sum over all seats, and against the heaviest paced seat alone with nothing cached: who is
busy one hour a week must still be carried, and a first play is cold.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from larder.laws.demand import Rush, SeatClass, busiest_of, few_enough, quantiles_of_many
from larder.plan.brief import Brief
from larder.plan.day_parts import WHOLE_DAY, DayPart
from larder.plan.house_rules import HouseRules

from .loads import Asking, rush_of

FEWEST_TOGETHER = 4
"""From so many hops on it is quicker to list all states for all of them."""


@dataclass(frozen=True)
class Standard:
    """What every hop is held against: the parts of the day, the rush, and the percentile (0 to 1)."""

    parts: tuple[DayPart, ...]
    rush: Rush
    level: float


def standard_of(brief: Brief, rules: HouseRules) -> Standard:
    """That of a plan."""
    return Standard(brief.day_parts or (WHOLE_DAY,), rush_of(brief, rules), rules.sized_on_percentile / 100)


@dataclass(frozen=True)
class Use:
    """What one seat of a class uses of a hop at its peak: bytes/s of a link, shares of other hops.

    ``outcomes`` are (amount, odds) for each place where its bytes may lie, when it is at its peak.
    ``paced_alone`` is the most that its paced flows may use, alone and with nothing cached; 0 where none of
    them may cross the hop. In ``slow_parts`` of the day the hop is slower, and the outcomes are ``slower``.
    """

    asking: Asking
    outcomes: tuple[tuple[float, float], ...]
    paced_alone: float
    slow_parts: frozenset[str] = frozenset()
    slower: tuple[tuple[float, float], ...] = ()

    def in_part(self, part: DayPart) -> SeatClass | None:
        """The seats of this class in one part of the day, if they work in it."""
        odds = self.asking.odds.get(part.id)
        if not odds or not self.outcomes:
            return None
        (share, here), *others = self._in(part)
        return SeatClass(self.asking.name, self.asking.count, share, odds, here, tuple(others))

    def amount_in(self, part: DayPart) -> float:
        """What one of them uses in a part of the day, where all of it has one home."""
        return self._in(part)[0][0]

    def mean_in(self, part: DayPart, rush: Rush) -> float:
        """What all seats of this class use on average in one part of the day."""
        odds = rush.mean_odds(self.asking.odds.get(part.id, 0.0))
        return self.asking.count * odds * sum(share * here for share, here in self._in(part))

    def _in(self, part: DayPart) -> tuple[tuple[float, float], ...]:
        return self.slower if part.id in self.slow_parts else self.outcomes


@dataclass(frozen=True)
class Late:
    """A part of the day in which nobody plays and more is to be moved than it has time for.

    ``share`` is how often over the hop would be filled.
    """

    part: DayPart
    share: float


@dataclass(frozen=True)
class Utilisation:
    """The share of a hop that is needed: above 1 it is short. ``alone`` is the seat that decides by itself.

    ``is_paced``: a flow that must keep its rate crosses it; a hop that only copies cross has no say in speed,
    but they may be ``late``.
    """

    share: float
    part: DayPart
    alone: Asking | None = None
    is_paced: bool = True
    late: tuple[Late, ...] = ()


def utilisation_of(
    uses: Iterable[Use], standard: Standard, capacity: float = 1.0, least: float = 0.0
) -> Utilisation:
    """The larger of the joint need in the busiest part, and of what one paced seat needs alone.

    ``capacity`` is the whole hop in the unit of the uses: hops that the same flows cross have the same joint
    need then, and it is summed once.

    Only parts count in which somebody plays; where nobody ever does, all. A part that cannot be the busiest,
    because all it could need is below what is found already, is not summed; nor is what cannot exceed the
    share ``least``, where more would not matter.
    """
    present = [use for use in uses if use.asking.count and use.outcomes]
    heaviest = max(present, key=lambda use: use.paced_alone, default=None)
    alone = heaviest.paced_alone if heaviest else 0.0
    played = [
        part
        for part in standard.parts
        if any(use.paced_alone > 0 and use.asking.odds.get(part.id) for use in present)
    ]
    asked = [
        (part, tuple(seat for use in present if (seat := use.in_part(part)) is not None))
        for part in played or standard.parts
    ]
    floor = max(alone, least * capacity)
    where, joint = busiest_of([seats for _, seats in asked], standard.rush, standard.level, floor)
    busiest = asked[where][0] if where >= 0 else standard.parts[0]
    joint = joint if where >= 0 else 0.0
    late = _late(present, [part for part in standard.parts if part not in played], standard.rush, capacity)
    joint, alone = joint / capacity, alone / capacity
    if heaviest is None or alone <= 0:
        return Utilisation(joint, busiest, is_paced=False, late=late)
    if alone >= joint:
        odds = heaviest.asking.odds
        works = max(standard.parts, key=lambda part: odds.get(part.id, 0.0))
        return Utilisation(alone, works, heaviest.asking, late=late)
    return Utilisation(joint, busiest, late=late)


def _late(uses: Iterable[Use], parts: Iterable[DayPart], rush: Rush, capacity: float) -> tuple[Late, ...]:
    """Where what copies move on average takes longer than the part of the day lasts."""
    found = []
    for part in parts:
        share = sum(use.mean_in(part, rush) for use in uses) / capacity
        if share > 1:
            found.append(Late(part, share))
    return tuple(found)


def paced_ratios(candidates: Sequence[Sequence[Use]], standard: Standard) -> list[float | None]:
    """What is carried over what is asked, as of :func:`utilisation_of`, for many hops of the same people.

    None where nothing that must keep its rate is asked. Where all have one home and few are busy at once all
    states are listed for all hops together.
    """
    together = [n for n, uses in enumerate(candidates) if _has_one_home(uses)]
    counts = [use.asking.count for use in candidates[together[0]]] if together else []
    if len(together) < FEWEST_TOGETHER or not few_enough(counts):
        together = []
    found = dict(zip(together, _paced_together([candidates[n] for n in together], standard), strict=True))
    for n in sorted(set(range(len(candidates))) - found.keys()):
        utilisation = utilisation_of(candidates[n], standard)
        found[n] = 1 / utilisation.share if utilisation.is_paced and utilisation.share > 0 else None
    return [found[n] for n in range(len(candidates))]


def _paced_together(candidates: Sequence[Sequence[Use]], standard: Standard) -> list[float | None]:
    if not candidates:
        return []
    first = candidates[0]
    alone = np.array([max((use.paced_alone for use in uses), default=0.0) for uses in candidates])
    joint = np.zeros(len(candidates))
    for part in standard.parts:
        at = [n for n, use in enumerate(first) if use.asking.odds.get(part.id)]
        if not any(first[n].paced_alone > 0 for n in at):
            continue
        amounts = np.array([[uses[n].amount_in(part) for n in at] for uses in candidates])
        counts = [first[n].asking.count for n in at]
        odds = [first[n].asking.odds[part.id] for n in at]
        quantiles = quantiles_of_many(counts, odds, amounts, standard.rush, standard.level)
        joint = np.maximum(joint, quantiles)
    shares = np.maximum(joint, alone)
    return [1 / share if paced > 0 else None for share, paced in zip(shares.tolist(), alone, strict=True)]


def _has_one_home(uses: Sequence[Use]) -> bool:
    return all(len(use.outcomes) == 1 and use.outcomes[0][1] == 1 for use in uses)
