"""Stage *Tiers*: all pools with the caches before them and the boxes around them, and their sums."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from decimal import Decimal
from typing import Any

from larder.base.results import Result
from larder.laws.read_tiers import read_shares, reads_bytes_per_s
from larder.laws.throughput import Range
from larder.plan.bundle import Plan
from larder.plan.caches import Cache
from larder.plan.catalogue import amount_of
from larder.plan.day_parts import WHOLE_DAY
from larder.plan.house_rules import HouseRules

from .caches import (
    CacheDemand,
    PartDemand,
    cache_stage,
    flash_read_bytes_per_s,
    flash_write_bytes_per_s,
    working_days_a_year,
)
from .homes import both_tiers, mean_rates
from .ingest import INGEST
from .loads import LOADS, LOADS_READ, STREAMS, asking_of, rush_of
from .memory import (
    MEMORY_BYTES_PER_S,
    MemoryResult,
    MemoryUse,
    memory_of,
    recommended_memory_bytes,
)
from .need import NEED
from .pool import PoolResult, RateRange, WaterfallStep, pool_stage, range_of
from .pool_setting import SETTINGS, PoolSetting
from .prices import PRICES
from .rates import RATES
from .stage import Judged, Part
from .volumes import VolumesResult, volumes_of


class EnclosureResult(Result):
    """What a box is asked for besides bays; zero and null are not said."""

    id: str
    name: str
    cores: float
    lanes: int
    lanes_wanted: int
    memory: MemoryResult | None
    price: Decimal | None


class TiersResult(Result):
    """The stage's answer; sums are over all pools. ``pools_for_work`` are those that seats may work on."""

    pools: tuple[PoolResult, ...]
    enclosures: tuple[EnclosureResult, ...]
    volumes: tuple[VolumesResult, ...]
    raw_bytes: int
    usable_bytes: int
    plannable_bytes: int
    waterfall: tuple[WaterfallStep, ...]
    pools_for_work: tuple[str, ...]

    def tier_bytes(self, tier: str) -> int:
        """Plannable bytes of all pools that hold ``tier``."""
        return sum(p.plannable_bytes for p in self.pools if p.tier == tier)

    @property
    def has_both_tiers(self) -> bool:
        return both_tiers(self.pools)


def _pools_alone(judged: Judged) -> tuple[PoolResult, ...]:
    """Every pool by itself. Beside pools of work, those of the archive serve its streams only."""
    pools, settings = judged.bundle.plan.pools, judged.of(SETTINGS)
    streams, archive_streams = judged.of(STREAMS)
    both = both_tiers(pools)
    return tuple(
        pool_stage(pool, archive_streams if both and pool.tier == "archive" else streams, settings[pool.id])
        for pool in pools
    )


POOLS_ALONE: Part[tuple[PoolResult, ...]] = Part(
    "pools_alone", _pools_alone, reads=("plan/pools",), after=(STREAMS, SETTINGS), is_answered=False
)


def tiers_stage(judged: Judged) -> TiersResult:
    """All pools with what stands before and around them, and their sums."""
    plan, rules = judged.bundle.plan, judged.bundle.house_rules
    prices, settings, alone = judged.of(PRICES), judged.of(SETTINGS), judged.of(POOLS_ALONE)
    both = both_tiers(plan.pools)
    caches = {cache.pool_id: cache for cache in plan.caches}
    demand = cache_demand(judged)
    memories = _memories(plan, alone, settings, demand, rules)
    parts = parts_of_pools(judged, alone) if caches else {}
    results = []
    for pool, bare in zip(plan.pools, alone, strict=True):
        cache, result = caches.get(pool.id), bare
        if cache:
            price = amount_of(cache.drive_unit_price, prices, cache.drive_id)
            result = behind_cache(cache, price, bare, replace(demand, parts=parts[pool.id]))
        is_work = pool.tier == "work" or not both
        homes = settings[pool.id].homes
        results.append(with_memory(result, bare, memories, homes) if is_work else result)
    return TiersResult(
        pools=tuple(results),
        enclosures=tuple(
            EnclosureResult(
                id=box.id,
                name=box.name,
                cores=box.cores,
                lanes=box.lanes,
                lanes_wanted=box.lanes_wanted,
                memory=memories[box.id],
                price=amount_of(box.unit_price, prices, box.model_id),
            )
            for box in plan.boxes
        ),
        volumes=tuple(volumes_of(plan.volumes, p.id, p.plannable_bytes) for p in results),
        raw_bytes=sum(p.raw_bytes for p in results),
        usable_bytes=sum(p.usable_bytes for p in results),
        plannable_bytes=sum(p.plannable_bytes for p in results),
        waterfall=_whole_waterfall(results),
        pools_for_work=plan.pools_for_work(),
    )


def _whole_waterfall(pools: Iterable[PoolResult]) -> tuple[WaterfallStep, ...]:
    """The pools' waterfalls step by step: every one has the same steps in the same order."""
    return tuple(
        WaterfallStep(step=steps[0].step, bytes=sum(step.bytes for step in steps))
        for steps in zip(*(pool.waterfall for pool in pools), strict=True)
    )


def _memories(
    plan: Plan,
    pools: tuple[PoolResult, ...],
    settings: Mapping[str, PoolSetting],
    demand: CacheDemand,
    rules: HouseRules,
) -> dict[str, MemoryResult | None]:
    """What each box's memory does for the pools that have drives in it."""
    pairs = list(zip(plan.pools, pools, strict=True))
    found = {}
    for box in plan.boxes:
        mine = [(p, r) for p, r in pairs if box.id in dict(settings[p.id].homes)]
        use = MemoryUse(
            copy_on_write_raw_bytes=sum(r.raw_bytes for p, r in mine if p.filesystem == "cow"),
            write_bytes_per_s=sum(r.write.middle_bytes_per_s for p, r in mine if p.tier == "work"),
        )
        recommended = recommended_memory_bytes(use, rules)
        found[box.id] = memory_of(box.memory_bytes, recommended, use.write_bytes_per_s, demand)
    return found


def with_memory(
    pool: PoolResult,
    drives: PoolResult,
    memories: Mapping[str, MemoryResult | None],
    homes: tuple[tuple[str, int], ...],
) -> PoolResult:
    """The pool with reads answered from memory; with drives in several boxes the first memory serves.

    ``drives`` is the pool without a cache.
    """
    memory = next((m for box_id, _ in homes if (m := memories[box_id]) is not None), None)
    flash = pool.read_terms.flash_bytes_per_s or 0.0
    fastest = max(flash, drives.read.middle_bytes_per_s)
    # What stands behind memory as quick as memory itself gains nothing by it.
    if memory is None or not memory.hit_ratio or fastest >= MEMORY_BYTES_PER_S or fastest <= 0:
        return pool
    shares = read_shares(memory.hit_ratio, pool.read_terms.flash_share or 0.0)
    middle, high = (
        reads_bytes_per_s(shares, rate, flash, MEMORY_BYTES_PER_S)
        for rate in (drives.read.middle_bytes_per_s, drives.read.high_bytes_per_s)
    )
    terms: dict[str, float] = {"memory_share": shares.memory, "memory_bytes_per_s": MEMORY_BYTES_PER_S}
    if flash:
        terms["flash_share"] = shares.flash
    faster = pool.read.model_copy(update={"middle_bytes_per_s": middle, "high_bytes_per_s": high})
    return pool.model_copy(update={"read": faster, "read_terms": pool.read_terms.model_copy(update=terms)})


def cache_demand(judged: Judged) -> CacheDemand:
    """The burst is a shooting day's footage, at the rate of the cards or, without, of all writes."""
    loads, ingest = judged.of(LOADS), judged.of(INGEST)
    return CacheDemand(
        working_set_bytes=round(judged.of(NEED).working_set_bytes),
        read_bytes_per_day=loads.read_bytes_per_day,
        write_bytes_per_day=loads.write_bytes_per_day,
        burst_bytes=ingest.bytes_per_day,
        burst_bytes_per_s=ingest.stations_bytes_per_s or loads.write.sized_bytes_per_s,
        popularity_exponent=judged.bundle.house_rules.popularity_exponent,
        days_a_year=working_days_a_year(judged.bundle.house_rules.working_days_per_week),
    )


def parts_of_pools(judged: Judged, pools: tuple[PoolResult, ...]) -> dict[str, tuple[PartDemand, ...]]:
    """What is asked of every pool, by its id, in each part of the day."""
    brief = judged.bundle.plan.brief
    asking, rush = asking_of(brief, judged.of(RATES)), rush_of(brief, judged.bundle.house_rules)
    parts = brief.day_parts or (WHOLE_DAY,)
    rates = mean_rates(asking, pools, parts, rush)
    return {
        pool.id: tuple(
            PartDemand(part.id, part.name, part.hours * 3600, *of[pool.id])
            for part, of in zip(parts, rates, strict=True)
        )
        for pool in pools
    }


def behind_cache(
    cache: Cache, unit_price: Decimal | None, pool: PoolResult, demand: CacheDemand
) -> PoolResult:
    """The pool with a cache before it."""
    result, read, write = cache_stage(cache, unit_price, plain(pool.read), plain(pool.write), demand)
    flash = max(flash_read_bytes_per_s(cache), pool.read.middle_bytes_per_s)
    changes: dict[str, Any] = {
        "cache": result,
        "read": range_of(read),
        "write": range_of(write),
        "read_terms": pool.read_terms.model_copy(
            update={"flash_bytes_per_s": flash, "flash_share": result.hit_ratio}
        ),
    }
    if result.staged_share is not None:
        staged = {"flash_bytes_per_s": flash_write_bytes_per_s(cache), "flash_share": result.staged_share}
        changes["write_terms"] = pool.write_terms.model_copy(update=staged)
    elif result.absorbs_burst and not result.full_in:
        taken = {"flash_bytes_per_s": flash_write_bytes_per_s(cache)}
        changes["write_terms"] = pool.write_terms.model_copy(update=taken)
    return pool.model_copy(update=changes)


def plain(rate: RateRange) -> Range:
    """A result's range as the laws want it."""
    return Range(rate.middle_bytes_per_s, rate.low_bytes_per_s, rate.high_bytes_per_s)


BOX_FIELDS = (
    "unit_price", "model_id", "bays", "bay_bus", "flash_slots", "flash_bus", "shared_bus", "shared_links",
    "lanes", "cards", "memory_bytes", "processor", "ordinary_cores",
)  # fmt: skip
TIERS: Part[TiersResult] = Part(
    "tiers",
    tiers_stage,
    reads=(
        "plan/pools",
        *(f"plan/boxes/*/{field}" for field in BOX_FIELDS),
        "plan/caches",
        "plan/volumes",
        "house_rules/popularity_exponent",
        "house_rules/working_days_per_week",
        "house_rules/memory_gb_min",
        "house_rules/memory_gb_per_raw_tb",
        *LOADS_READ,
    ),
    after=(RATES, LOADS, NEED, INGEST, PRICES, SETTINGS, POOLS_ALONE),
)
