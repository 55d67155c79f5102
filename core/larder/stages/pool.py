"""What one pool holds, survives and delivers."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from typing import Any, Literal

from larder.base.memo import remembered
from larder.base.results import Result
from larder.laws.capacity import Capacity
from larder.laws.device import MECHANICS, Mechanics, rate_at_fill
from larder.laws.layout import Family, Layout, parse_layout
from larder.laws.rebuild import UNREADABLE_PER_BIT, rebuild_read_bytes, rebuild_seconds, unreadable_odds
from larder.laws.throughput import (
    DEGRADED_READ_SHARE,
    SCALING,
    Range,
    Throughput,
    pool_throughput,
    small_reads_per_s,
    small_writes_per_s,
    written_per_byte,
)
from larder.plan.pools import Pool, capacity_of

from .caches import CacheResult
from .pool_setting import PoolSetting, cost_per_byte


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

    ``drives_bytes`` lists every drive, ascending, so that the spares come last; ``redundancy_shares`` is the
    part of each that holds copies or parity. Degraded is with one drive dead, null where that loses data;
    rebuilding leaves to the people what the rebuild does not take of that. Small reads and writes are random
    operations a second. ``fast_write`` is what flash takes in for its first ``fast_write_bytes``, null where
    that is no faster. ``unreadable_odds`` is the chance that a rebuild meets a sector it cannot read once all
    bays kept for growth are filled (``final_members``).
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
    final_members: int
    grows_by: str
    more_parity_later: str
    spares: int
    shared_spares: int
    drives_bytes: tuple[int, ...]
    redundancy_shares: tuple[float, ...]
    guaranteed_failures: int
    max_failures: int
    loses: str
    read: RateRange
    write: RateRange
    fast_write: RateRange | None
    fast_write_bytes: int
    streams: int
    drive_kind: Literal["hdd", "ssd"]
    drive_rate_share: float
    drive_latency_seconds: float
    limits: tuple[SpeedLimit, ...]
    degraded_read: RateRange | None
    rebuilding_read: RateRange | None
    rebuilding_write: RateRange | None
    small_reads_per_s: float
    small_writes_per_s: float
    written_per_byte: float
    drives_price: Decimal | None
    rebuild_seconds: float | None
    unreadable_odds: float | None
    unreadable_costs: str
    cache: CacheResult | None
    waterfall: tuple[WaterfallStep, ...]


KEPT_BYTES = 8_000_000


@dataclass(frozen=True)
class _Speed:
    """A pool's rates behind everything that limits them, and what each of that leaves."""

    read: Range
    write: Range
    degraded: Range
    limits: tuple[SpeedLimit, ...]


@remembered(KEPT_BYTES, lambda result, *_: 12_000 + 100 * len(result.drives_bytes))
def pool_stage(pool: Pool, streams: int, setting: PoolSetting) -> PoolResult:
    """One pool's figures with ``streams`` sequential streams at once.

    Disks are taken at the rate they have when the pool is filled to its limit, for that is when it
    must still carry the work.
    """
    layout = parse_layout(pool.layout)
    capacity = capacity_of(pool)
    mechanics = setting.drive.mechanics if setting.drive else MECHANICS[pool.drive_kind]
    fill = 1 - pool.headroom_percent / 100
    share = rate_at_fill(1.0, fill, mechanics.inner_ratio)
    each = (pool.drive_read_bytes_per_s * share, pool.drive_write_bytes_per_s * share)
    speed = _speed(pool, layout, capacity.members, streams, setting, mechanics, each)
    survives = capacity.guaranteed_failures > 0
    left = 1 - setting.rebuild_share
    sizes = tuple(sorted(pool.drives_bytes))
    members = sizes[: capacity.members]
    final = members + members[-1:] * (pool.final_count - len(sizes))
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
        final_members=len(final),
        grows_by=layout.grows_by,
        more_parity_later=layout.more_parity_later,
        spares=pool.spares,
        shared_spares=setting.shared_spares,
        drives_bytes=sizes,
        redundancy_shares=_redundancy_shares(layout, capacity, pool.spares),
        guaranteed_failures=capacity.guaranteed_failures,
        max_failures=capacity.max_failures,
        loses=layout.loses,
        read=range_of(speed.read),
        write=range_of(speed.write),
        **_fast_write(pool, layout, capacity, streams, setting, mechanics),
        streams=streams,
        drive_kind=pool.drive_kind,
        drive_rate_share=share,
        drive_latency_seconds=mechanics.latency_seconds,
        limits=speed.limits,
        degraded_read=range_of(speed.degraded) if survives else None,
        rebuilding_read=range_of(speed.degraded.times(left)) if survives else None,
        rebuilding_write=range_of(speed.write.times(left)) if survives else None,
        small_reads_per_s=small_reads_per_s(layout, capacity.members, mechanics),
        small_writes_per_s=small_writes_per_s(layout, capacity.members, mechanics),
        written_per_byte=written_per_byte(layout, capacity.members),
        drives_price=None
        if setting.unit_price is None
        else setting.unit_price * (len(sizes) + pool.cold_spares),
        rebuild_seconds=rebuild_seconds(
            layout,
            members[-1],
            min(pool.drive_write_bytes_per_s, setting.slot_bytes_per_s or float("inf")),
            inner_ratio=mechanics.inner_ratio,
            share=setting.rebuild_share,
            fill=fill,
        ),
        unreadable_costs=layout.unreadable_costs,
        unreadable_odds=_unreadable_odds(pool, layout, final, setting, fill),
        cache=None,
        waterfall=tuple(WaterfallStep(step=s.step, bytes=s.bytes) for s in capacity.waterfall),
    )


def _redundancy_shares(layout: Layout, capacity: Capacity, spares: int) -> tuple[float, ...]:
    """The part of every drive that holds copies or parity: spread over all, or whole drives, the largest."""
    count = capacity.members
    if layout.family is Family.FILEWISE:
        members = (0.0,) * (count - layout.parity) + (1.0,) * layout.parity
    else:
        steps = {s.step: s.bytes for s in capacity.waterfall}
        matched = steps["raw"] + steps["spares"] + steps["size_mismatch"]
        members = (-steps["redundancy"] / matched,) * count
    return members + (0.0,) * spares


def _unreadable_odds(
    pool: Pool, layout: Layout, final: tuple[int, ...], setting: PoolSetting, fill: float
) -> float | None:
    """Redundancy is judged at the final width: the wider a group, the more its survivors must read."""
    per_bit = setting.drive.unreadable_per_bit if setting.drive else None
    read = rebuild_read_bytes(layout, final, fill)
    if read is None:
        return None
    return unreadable_odds(read, UNREADABLE_PER_BIT[pool.drive_kind] if per_bit is None else per_bit)


def _speed(
    pool: Pool,
    layout: Layout,
    members: int,
    streams: int,
    setting: PoolSetting,
    mechanics: Mechanics,
    each: tuple[float, float],
) -> _Speed:
    """Rates of drives that read and write at ``each``, behind slots, buses and the processor."""
    scaling = SCALING if pool.scaling_exponent is None else (pool.scaling_exponent,) * 3
    slot = setting.slot_bytes_per_s or float("inf")
    free, rates = (
        pool_throughput(
            layout,
            members,
            min(each[0], limit),
            min(each[1], limit),
            streams=streams,
            mechanics=mechanics,
            scaling=scaling,
        )
        for limit in (float("inf"), slot)
    )
    limits = _limits(pool, layout, members, setting, free, rates)
    read_most = min((each.read_bytes_per_s for each in limits if each.kind != "slot"), default=float("inf"))
    write_most = min((each.write_bytes_per_s for each in limits if each.kind != "slot"), default=float("inf"))
    return _Speed(
        rates.read.at_most(read_most),
        rates.write.at_most(write_most),
        rates.read.times(DEGRADED_READ_SHARE).at_most(read_most),
        limits,
    )


def _fast_write(
    pool: Pool,
    layout: Layout,
    capacity: Capacity,
    streams: int,
    setting: PoolSetting,
    mechanics: Mechanics,
) -> dict[str, Any]:
    """What flash takes in faster before its fast region is full; copies and parity fill it as well."""
    drive = setting.drive
    if drive is None or not drive.fast_write_bytes or drive.fast_write_bytes_per_s is None:
        return {"fast_write": None, "fast_write_bytes": 0}
    each = (pool.drive_read_bytes_per_s, drive.fast_write_bytes_per_s)
    speed = _speed(pool, layout, capacity.members, streams, setting, mechanics, each)
    region = drive.fast_write_bytes * capacity.members / written_per_byte(layout, capacity.members)
    return {"fast_write": range_of(speed.write), "fast_write_bytes": int(region)}


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


def range_of(rate: Range) -> RateRange:
    """A range as the results have it."""
    return RateRange(middle_bytes_per_s=rate.middle, low_bytes_per_s=rate.low, high_bytes_per_s=rate.high)
