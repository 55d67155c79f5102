"""Few of many: designs that a person can tell apart, out of all that are undominated."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from larder.laws.front import Measures

Index = NDArray[np.int64]
DEAREST_TIMES = 1.5
"""Beyond so many times the cheapest nobody looks."""
BOX = math.log(1.05)
"""Designs within so much of each other in cost, space and speed are the same to a person."""
ODDS_BOX = math.log(10) / 2
"""Odds are told apart by half a decade; within a factor of ten they are a tie."""
SPEED_TELLS_UP_TO, SUREST = 3.0, 1e-9
"""Quicker than three times what is asked, or likelier lost by anything else, makes no difference."""
TOLD_APART = 0.5
"""In boxes, summed over the measures: what is nearer to one that is shown is left out."""


def thinned(measures: Measures, schools: Sequence[str], most: int) -> list[int]:
    """At most ``most`` places, by rising cost: the cheapest of each school, then what differs most.

    A person tells schools apart before anything else; of one school only what gives more for its price.
    """
    if not len(measures):
        return []
    near = np.flatnonzero(measures.cost <= measures.cost.min() * DEAREST_TIMES)
    some = measures.at(near)
    places = np.stack(
        [
            np.log(np.maximum(some.cost, 1e-9)) / BOX,
            np.log(np.maximum(some.space, 1.0)) / BOX,
            np.log(np.clip(some.speed, 1e-9, SPEED_TELLS_UP_TO)) / BOX,
            np.log(np.maximum(some.odds, SUREST)) / ODDS_BOX,
        ]
    )
    shown: list[int] = []
    seen: set[str] = set()
    for at in np.argsort(some.cost, kind="stable").tolist():
        if len(shown) < most and schools[near[at]] not in seen:
            seen.add(schools[near[at]])
            shown.append(at)
    while len(shown) < most:
        # What costs more must give more: only what is gained counts.
        gained = np.min([_gained(places, at) for at in shown], axis=0)
        best = int(np.argmax(gained))
        if gained[best] < 1 + TOLD_APART:
            break
        shown.append(best)
    order = sorted(shown, key=lambda at: some.cost[at])
    return [int(near[at]) for at in order]


def _gained(places: NDArray[np.float64], at: int) -> NDArray[np.float64]:
    """In boxes: what each design has more of than the one at ``at``, in the measure in which it has most."""
    better = np.stack(
        [
            places[0][at] - places[0],
            places[1] - places[1][at],
            places[2] - places[2][at],
            places[3][at] - places[3],
        ]
    )
    found: NDArray[np.float64] = better.max(axis=0)
    return found
