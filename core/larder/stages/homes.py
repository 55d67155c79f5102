"""In which pool a seat's bytes lie: the one that the plan names, else one of the tier, drawn.

The odds of a drawn home are the shares of plannable bytes. A stream is never split over pools: at any one
moment a seat plays from one pool of each tier.
"""

from __future__ import annotations

from collections.abc import Mapping

from .loads import Asking
from .tiers import TiersResult

Homes = Mapping[str, float]
"""Odds by a pool's id; they sum to 1."""


def homes_of(asking: Asking, tiers: TiersResult, tier: str) -> Homes:
    """Where the bytes lie that it asks of one tier; of all pools where there are not both tiers."""
    pools = [p for p in tiers.pools if not tiers.has_both_tiers or p.tier == tier]
    if any(pool.id == asking.works_on for pool in pools):
        return {asking.works_on: 1.0}
    whole = sum(pool.plannable_bytes for pool in pools)
    if not whole:
        return {pool.id: 1 / len(pools) for pool in pools}
    return {pool.id: pool.plannable_bytes / whole for pool in pools}
