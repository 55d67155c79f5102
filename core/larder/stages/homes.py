"""In which pool a seat's bytes lie: the one that the plan names, else one of the tier, drawn.

The odds of a drawn home are the shares of plannable bytes. A stream is never split over pools: at any one
moment a seat plays from one pool of each tier.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from larder.laws.demand import Rush
from larder.plan.day_parts import DayPart
from larder.plan.pools import Pool

from .loads import Asking, from_work
from .pool import PoolResult

Homes = Mapping[str, float]
"""Odds by a pool's id; they sum to 1."""


def both_tiers(pools: Iterable[Pool | PoolResult]) -> bool:
    """Whether there are pools for work and pools for the archive."""
    return {pool.tier for pool in pools} == {"work", "archive"}


def homes_of(asking: Asking, pools: Sequence[PoolResult], tier: str) -> Homes:
    """Where the bytes lie that it asks of one tier; of all ``pools`` where there are not both tiers."""
    both = both_tiers(pools)
    mine = [p for p in pools if not both or p.tier == tier]
    if any(pool.id == asking.works_on for pool in mine):
        return {asking.works_on: 1.0}
    whole = sum(pool.plannable_bytes for pool in mine)
    if not whole:
        return {pool.id: 1 / len(mine) for pool in mine}
    return {pool.id: pool.plannable_bytes / whole for pool in mine}


def mean_rates(
    asking: Iterable[Asking], pools: Sequence[PoolResult], parts: Sequence[DayPart], rush: Rush
) -> list[dict[str, tuple[float, float]]]:
    """(read, written) of every pool by its id, bytes/s on average over each of ``parts``."""
    found = [{pool.id: (0.0, 0.0) for pool in pools} for _ in parts]
    for a in asking:
        times = [a.count * rush.mean_odds(a.odds.get(part.id, 0.0)) for part in parts]
        for tier, read, written in (
            ("work", from_work(a.demand), a.demand.write_bytes_per_s),
            ("archive", a.demand.archive_bytes_per_s, 0.0),
        ):
            if not any(times) or not (read or written):
                continue
            for pool_id, odds in homes_of(a, pools, tier).items():
                for of_part, often in zip(found, times, strict=True):
                    before = of_part[pool_id]
                    of_part[pool_id] = (before[0] + read * often * odds, before[1] + written * often * odds)
    return found
