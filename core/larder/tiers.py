"""Stage *Tiers*: what each pool holds, survives and delivers."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from .brief import BriefResult
from .bundle import Plan, Pool, capacity_of
from .caches import Cache, CacheDemand, CacheResult, cache_stage
from .device import INNER_TO_OUTER_RATIO, rate_at_fill
from .house_rules import HouseRules
from .layout import parse_layout
from .rebuild import rebuild_seconds
from .results import Result
from .throughput import Range, pool_throughput


class WaterfallStep(Result):
    """The raw bytes first, then signed changes; they sum to the plannable bytes."""

    step: str
    bytes: int


class RateRange(Result):
    """A rate with the low and high end of what is plausible, bytes/s."""

    middle_bytes_per_s: float
    low_bytes_per_s: float
    high_bytes_per_s: float


class PoolResult(Result):
    """One pool.

    ``redundancy_share`` is the part of its members that holds copies or parity; ``drives_bytes`` lists
    every drive, ascending, so that the spares come last.
    """

    id: str
    name: str
    tier: Literal["work", "archive"]
    layout_words: str
    raw_bytes: int
    layout_bytes: int
    usable_bytes: int
    plannable_bytes: int
    members: int
    spares: int
    redundancy_share: float
    drives_bytes: tuple[int, ...]
    guaranteed_failures: int
    max_failures: int
    loses: str
    read: RateRange
    write: RateRange
    streams: int
    drive_rate_share: float
    drives_price: Decimal | None
    rebuild_seconds: float | None
    cache: CacheResult | None
    waterfall: tuple[WaterfallStep, ...]


def both_tiers(pools: Iterable[Pool | PoolResult]) -> bool:
    """Whether there are pools for work and pools for the archive."""
    return {pool.tier for pool in pools} == {"work", "archive"}


class TiersResult(Result):
    """The stage's answer; sums are over all pools."""

    pools: tuple[PoolResult, ...]
    raw_bytes: int
    usable_bytes: int
    plannable_bytes: int

    def tier_bytes(self, tier: str) -> int:
        """Plannable bytes of all pools that hold ``tier``."""
        return sum(p.plannable_bytes for p in self.pools if p.tier == tier)

    @property
    def has_both_tiers(self) -> bool:
        return both_tiers(self.pools)


@lru_cache(maxsize=256)
def pool_stage(pool: Pool, streams: int, rebuild_share_percent: float) -> PoolResult:
    """One pool's figures with ``streams`` sequential streams at once.

    Disks are taken at the rate they have when the pool is filled to its limit, for that is when it
    must still carry the work.
    """
    layout = parse_layout(pool.layout)
    capacity = capacity_of(pool)
    fill = 1 - pool.headroom_percent / 100
    share = rate_at_fill(1.0, fill, INNER_TO_OUTER_RATIO if pool.drive_kind == "hdd" else 1.0)
    rates = pool_throughput(
        layout,
        capacity.members,
        pool.drive_read_bytes_per_s * share,
        pool.drive_write_bytes_per_s * share,
        streams=streams,
        kind=pool.drive_kind,
    )
    steps = {s.step: s.bytes for s in capacity.waterfall}
    matched = steps["raw"] + steps["spares"] + steps["size_mismatch"]
    return PoolResult(
        id=pool.id,
        name=pool.name,
        tier=pool.tier,
        layout_words=layout.words,
        raw_bytes=capacity.raw_bytes,
        layout_bytes=capacity.layout_bytes,
        usable_bytes=capacity.usable_bytes,
        plannable_bytes=capacity.plannable_bytes,
        members=capacity.members,
        spares=pool.spares,
        drives_bytes=tuple(sorted(pool.drives_bytes)),
        redundancy_share=-steps["redundancy"] / matched,
        guaranteed_failures=capacity.guaranteed_failures,
        max_failures=capacity.max_failures,
        loses=layout.loses,
        read=_range(rates.read),
        write=_range(rates.write),
        streams=streams,
        drive_rate_share=share,
        drives_price=None
        if pool.drive_unit_price is None
        else pool.drive_unit_price * len(pool.drives_bytes),
        rebuild_seconds=rebuild_seconds(
            layout,
            sorted(pool.drives_bytes)[capacity.members - 1],
            pool.drive_write_bytes_per_s,
            pool.drive_kind,
            rebuild_share_percent / 100,
        ),
        cache=None,
        waterfall=tuple(WaterfallStep(step=s.step, bytes=s.bytes) for s in capacity.waterfall),
    )


def _range(rate: Range) -> RateRange:
    return RateRange(middle_bytes_per_s=rate.middle, low_bytes_per_s=rate.low, high_bytes_per_s=rate.high)


def tiers_stage(plan: Plan, brief: BriefResult, rules: HouseRules) -> TiersResult:
    """All pools and their sums. Beside pools of work, those of the archive serve its streams only."""
    both = both_tiers(plan.pools)
    caches = {cache.pool_id: cache for cache in plan.caches}
    demand = _cache_demand(brief, rules)
    results = []
    for pool in plan.pools:
        streams = brief.archive_streams_at_once if both and pool.tier == "archive" else brief.streams_at_once
        result = pool_stage(pool, streams, rules.rebuild_share_percent)
        cache = caches.get(pool.id)
        results.append(_behind(cache, result, demand) if cache else result)
    return TiersResult(
        pools=tuple(results),
        raw_bytes=sum(p.raw_bytes for p in results),
        usable_bytes=sum(p.usable_bytes for p in results),
        plannable_bytes=sum(p.plannable_bytes for p in results),
    )


def _cache_demand(brief: BriefResult, rules: HouseRules) -> CacheDemand:
    """The burst is a shooting day's footage, at the rate of the cards or, without, of all writes."""
    return CacheDemand(
        working_set_bytes=brief.working_set_bytes,
        read_bytes_per_day=brief.read_bytes_per_day,
        write_bytes_per_day=brief.write_bytes_per_day,
        burst_bytes=brief.ingest.bytes_per_day,
        burst_bytes_per_s=brief.ingest.stations_bytes_per_s or brief.write.sized_bytes_per_s,
        popularity_exponent=rules.popularity_exponent,
    )


def _behind(cache: Cache, pool: PoolResult, demand: CacheDemand) -> PoolResult:
    told, read, write = cache_stage(cache, _plain(pool.read), _plain(pool.write), demand)
    return pool.model_copy(update={"cache": told, "read": _range(read), "write": _range(write)})


def _plain(rate: RateRange) -> Range:
    return Range(rate.middle_bytes_per_s, rate.low_bytes_per_s, rate.high_bytes_per_s)
