"""Stage *Tiers*: what each pool holds, survives and delivers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from decimal import Decimal
from functools import lru_cache
from typing import Literal

from .brief import BriefResult
from .bundle import Bundle, Plan, Pool, capacity_of
from .caches import Cache, CacheDemand, CacheResult, cache_stage
from .catalogue import amount_of, prices_on
from .device import INNER_TO_OUTER_RATIO, rate_at_fill
from .house_rules import HouseRules
from .layout import Layout, parse_layout
from .memory import MemoryResult, MemoryUse, faster_by_memory, memory_of
from .pool_setting import PoolSetting, SharedHop, boxes_of, cost_per_byte, pool_setting, shared_hops
from .processor import CORES
from .rebuild import rebuild_seconds
from .results import Result
from .throughput import (
    DEGRADED_READ_SHARE,
    Range,
    Throughput,
    pool_throughput,
    small_reads_per_s,
    small_writes_per_s,
    written_per_byte,
)
from .volumes import VolumesResult, volumes_of


class WaterfallStep(Result):
    """The raw bytes first, then signed changes; they sum to the plannable bytes."""

    step: str
    bytes: int


class RateRange(Result):
    """A rate with the low and high end of what is plausible, bytes/s."""

    middle_bytes_per_s: float
    low_bytes_per_s: float
    high_bytes_per_s: float


class SpeedLimit(Result):
    """Something that all of a pool's bytes pass, and what it leaves of reading and writing, bytes/s.

    ``holds_back``: the drives behind it would give more.
    """

    kind: Literal["slot", "bus", "processor"]
    name: str
    read_bytes_per_s: float
    write_bytes_per_s: float
    holds_back: bool


class PoolResult(Result):
    """One pool.

    ``redundancy_share`` is the part of its members that holds copies or parity; ``drives_bytes`` lists
    every drive, ascending, so that the spares come last. Degraded is with one drive dead, null where that
    loses data; rebuilding leaves to the people what the rebuild does not take of that. Small reads and
    writes are random operations a second.
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
    drive_kind: Literal["hdd", "ssd"]
    drive_rate_share: float
    limits: tuple[SpeedLimit, ...]
    degraded_read: RateRange | None
    rebuilding_read: RateRange | None
    rebuilding_write: RateRange | None
    small_reads_per_s: float
    small_writes_per_s: float
    written_per_byte: float
    drives_price: Decimal | None
    rebuild_seconds: float | None
    cache: CacheResult | None
    waterfall: tuple[WaterfallStep, ...]


def both_tiers(pools: Iterable[Pool | PoolResult]) -> bool:
    """Whether there are pools for work and pools for the archive."""
    return {pool.tier for pool in pools} == {"work", "archive"}


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
    """The stage's answer; sums are over all pools."""

    pools: tuple[PoolResult, ...]
    enclosures: tuple[EnclosureResult, ...]
    volumes: tuple[VolumesResult, ...]
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
def pool_stage(pool: Pool, streams: int, setting: PoolSetting) -> PoolResult:
    """One pool's figures with ``streams`` sequential streams at once.

    Disks are taken at the rate they have when the pool is filled to its limit, for that is when it
    must still carry the work.
    """
    layout = parse_layout(pool.layout)
    capacity = capacity_of(pool)
    fill = 1 - pool.headroom_percent / 100
    share = rate_at_fill(1.0, fill, INNER_TO_OUTER_RATIO if pool.drive_kind == "hdd" else 1.0)
    each = (pool.drive_read_bytes_per_s * share, pool.drive_write_bytes_per_s * share)
    slot = setting.slot_bytes_per_s or float("inf")
    free, rates = (
        pool_throughput(
            layout,
            capacity.members,
            min(each[0], limit),
            min(each[1], limit),
            streams=streams,
            kind=pool.drive_kind,
        )
        for limit in (float("inf"), slot)
    )
    limits = _limits(pool, layout, capacity.members, setting, free, rates)
    read_most = min((each.read_bytes_per_s for each in limits if each.kind != "slot"), default=float("inf"))
    write_most = min((each.write_bytes_per_s for each in limits if each.kind != "slot"), default=float("inf"))
    read, write = rates.read.at_most(read_most), rates.write.at_most(write_most)
    survives = capacity.guaranteed_failures > 0
    degraded = rates.read.times(DEGRADED_READ_SHARE).at_most(read_most)
    left = 1 - setting.rebuild_share
    steps = {s.step: s.bytes for s in capacity.waterfall}
    matched = steps["raw"] + steps["spares"] + steps["size_mismatch"]
    sizes = tuple(sorted(pool.drives_bytes))
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
        drives_bytes=sizes,
        redundancy_share=-steps["redundancy"] / matched,
        guaranteed_failures=capacity.guaranteed_failures,
        max_failures=capacity.max_failures,
        loses=layout.loses,
        read=_range(read),
        write=_range(write),
        streams=streams,
        drive_kind=pool.drive_kind,
        drive_rate_share=share,
        limits=limits,
        degraded_read=_range(degraded) if survives else None,
        rebuilding_read=_range(degraded.times(left)) if survives else None,
        rebuilding_write=_range(write.times(left)) if survives else None,
        small_reads_per_s=small_reads_per_s(layout, capacity.members, pool.drive_kind),
        small_writes_per_s=small_writes_per_s(layout, capacity.members, pool.drive_kind),
        written_per_byte=written_per_byte(layout, capacity.members),
        drives_price=None
        if setting.unit_price is None
        else setting.unit_price * (len(sizes) + pool.cold_spares),
        rebuild_seconds=rebuild_seconds(
            layout,
            sizes[capacity.members - 1],
            min(pool.drive_write_bytes_per_s, slot),
            pool.drive_kind,
            setting.rebuild_share,
        ),
        cache=None,
        waterfall=tuple(WaterfallStep(step=s.step, bytes=s.bytes) for s in capacity.waterfall),
    )


def _limits(
    pool: Pool, layout: Layout, members: int, setting: PoolSetting, free: Throughput, rates: Throughput
) -> tuple[SpeedLimit, ...]:
    """Slot, buses and processor in the order the bytes pass them; ``free`` knows no slot, ``rates`` does."""
    found = []
    if setting.slot_bytes_per_s is not None:
        found.append(
            SpeedLimit(
                kind="slot",
                name=setting.slot_name,
                read_bytes_per_s=rates.read.middle,
                write_bytes_per_s=rates.write.middle,
                holds_back=rates.read.middle < free.read.middle or rates.write.middle < free.write.middle,
            )
        )

    def limit(
        kind: Literal["bus", "processor"], name: str, capacity: float, cost: tuple[float, float]
    ) -> None:
        read, write = capacity / cost[0], capacity / cost[1]
        holds = read < rates.read.middle or write < rates.write.middle
        found.append(
            SpeedLimit(kind=kind, name=name, read_bytes_per_s=read, write_bytes_per_s=write, holds_back=holds)
        )

    for bus in setting.buses:
        cost = bus.share, bus.share * written_per_byte(layout, members)
        limit("bus", bus.name, bus.bytes_per_s, cost)
    if setting.processor is not None:
        cost = cost_per_byte(pool, setting.encrypted_share)
        limit("processor", setting.processor.name, setting.processor.cores, cost)
    return tuple(found)


def _range(rate: Range) -> RateRange:
    return RateRange(middle_bytes_per_s=rate.middle, low_bytes_per_s=rate.low, high_bytes_per_s=rate.high)


def streams_on(pool: Pool, brief: BriefResult, *, both: bool) -> int:
    """Streams at once on a pool. Beside pools of work, those of the archive serve its streams only."""
    return brief.archive_streams_at_once if both and pool.tier == "archive" else brief.streams_at_once


def settings_of(bundle: Bundle, brief: BriefResult) -> dict[str, PoolSetting]:
    """What surrounds every pool, by its id."""
    prices, rules = prices_on(bundle.catalogue.prices, bundle.as_of), bundle.house_rules
    return {
        pool.id: pool_setting(
            bundle.plan,
            pool,
            amount_of(pool.drive_unit_price, prices, pool.drive_id),
            brief.inside_seats_at_peak,
            rules.rebuild_share_percent / 100,
        )
        for pool in bundle.plan.pools
    }


def shared_hops_of(bundle: Bundle, brief: BriefResult) -> tuple[SharedHop, ...]:
    """The buses and processors that several pools load together."""
    return shared_hops(bundle.plan, settings_of(bundle, brief))


def tiers_stage(bundle: Bundle, brief: BriefResult) -> TiersResult:
    """All pools with what stands before and around them, and their sums."""
    plan, rules = bundle.plan, bundle.house_rules
    prices = prices_on(bundle.catalogue.prices, bundle.as_of)
    both = both_tiers(plan.pools)
    settings = settings_of(bundle, brief)
    caches = {cache.pool_id: cache for cache in plan.caches}
    demand = _cache_demand(brief, rules)
    alone = [pool_stage(p, streams_on(p, brief, both=both), settings[p.id]) for p in plan.pools]
    memories = _memories(plan, alone, demand, rules)
    results = []
    for pool, bare in zip(plan.pools, alone, strict=True):
        cache, result, behind = caches.get(pool.id), bare, bare.read.middle_bytes_per_s
        if cache:
            price = amount_of(cache.drive_unit_price, prices, cache.drive_id)
            result = _behind(cache, price, bare, demand)
            behind = max(behind, cache.read_bytes_per_s * cache.drive_count)
        is_work = pool.tier == "work" or not both
        homes = boxes_of(plan, pool)
        results.append(_with_memory(result, behind, memories, homes) if is_work else result)
    return TiersResult(
        pools=tuple(results),
        enclosures=tuple(
            EnclosureResult(
                id=box.id,
                name=box.name,
                cores=CORES.get(box.processor, 0.0),
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
    )


def _memories(
    plan: Plan, pools: list[PoolResult], demand: CacheDemand, rules: HouseRules
) -> dict[str, MemoryResult | None]:
    """What each box's memory does for the pools that have drives in it."""
    found = {}
    for box in plan.boxes:
        mine = [(p, r) for p, r in zip(plan.pools, pools, strict=True) if box.id in boxes_of(plan, p)]
        use = MemoryUse(
            copy_on_write_raw_bytes=sum(r.raw_bytes for p, r in mine if p.filesystem == "cow"),
            write_bytes_per_s=sum(r.write.middle_bytes_per_s for p, r in mine if p.tier == "work"),
        )
        found[box.id] = memory_of(box, use, demand, rules)
    return found


def _with_memory(
    pool: PoolResult, behind: float, memories: Mapping[str, MemoryResult | None], homes: Mapping[str, int]
) -> PoolResult:
    """The pool with reads answered from memory; with drives in several boxes the first memory serves."""
    memory = next((m for box_id in homes if (m := memories[box_id]) is not None), None)
    if memory is None or not memory.hit_ratio:
        return pool
    middle, high = (
        faster_by_memory(rate, max(behind, rate), memory.hit_ratio)
        for rate in (pool.read.middle_bytes_per_s, pool.read.high_bytes_per_s)
    )
    faster = pool.read.model_copy(update={"middle_bytes_per_s": middle, "high_bytes_per_s": high})
    return pool.model_copy(update={"read": faster})


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


def _behind(cache: Cache, unit_price: Decimal | None, pool: PoolResult, demand: CacheDemand) -> PoolResult:
    told, read, write = cache_stage(cache, unit_price, _plain(pool.read), _plain(pool.write), demand)
    return pool.model_copy(update={"cache": told, "read": _range(read), "write": _range(write)})


def _plain(rate: RateRange) -> Range:
    return Range(rate.middle_bytes_per_s, rate.low_bytes_per_s, rate.high_bytes_per_s)
