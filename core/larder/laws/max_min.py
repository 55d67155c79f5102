"""Sharing out: max-min fair rates by progressive filling, with caps, weights and levels of priority.

All flows grow together, each by its weight, until it has what it asks or a hop on its way is full; what is
full stops those that cross it, the others go on. The result is the one allocation in which nobody can be
given more without taking it from somebody who has less for its weight (D. Bertsekas and R. Gallager, *Data
Networks*, 6.5.2). A lower level is served from what the higher ones leave.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]
SATISFIED = -1
_FULL = 1e-9


@dataclass(frozen=True)
class Shared:
    """``rates`` of a flow of each kind, ``limits`` the hop that stops it or SATISFIED, ``used`` of hops."""

    rates: Floats
    limits: Whole
    used: Floats


def max_min(
    caps: Floats,
    counts: Floats,
    weights: Floats,
    costs: Floats,
    capacities: Floats,
    levels: Whole | None = None,
) -> Shared:
    """Rates of ``counts`` alike flows of each kind that ask for ``caps`` at most.

    ``costs`` (hops × kinds) is what a unit of a flow's rate takes of a hop, of which there are ``capacities``
    above 0. Level 0 is served first.
    """
    kinds = len(caps)
    rates, left = np.zeros(kinds), capacities.astype(np.float64).copy()
    limits = np.full(kinds, SATISFIED, dtype=np.int64)
    levels = np.zeros(kinds, dtype=np.int64) if levels is None else levels
    for level in np.unique(levels):
        active = (levels == level) & (counts > 0) & (caps > 0)
        while active.any():
            growth = np.where(active, weights, 0.0)
            use = costs @ (counts * growth)
            crossed = use > 0
            times = np.full(len(left), np.inf)
            times[crossed] = np.maximum(left[crossed], 0.0) / use[crossed]
            wanted = (caps[active] - rates[active]) / weights[active]
            step = min(float(wanted.min()), float(times.min(initial=np.inf)))
            rates += growth * step
            left -= use * step
            is_full = crossed & (left <= capacities * _FULL)
            is_met = active & (rates >= caps * (1 - 1e-12))
            on_full = costs[is_full] > 0
            is_stopped = active & ~is_met & (on_full.any(axis=0) if on_full.size else False)
            full = np.flatnonzero(is_full)
            for kind in np.flatnonzero(is_stopped):
                limits[kind] = full[np.flatnonzero(on_full[:, kind])[0]]
            active &= ~(is_met | is_stopped)
    return Shared(rates, limits, capacities - left)
