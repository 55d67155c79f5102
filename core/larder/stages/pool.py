"""What one pool holds, survives and delivers."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from functools import lru_cache
from typing import Any, Literal

from larder.base.memo import remembered
from larder.base.results import Result
from larder.laws.capacity import Capacity, filesystem_taken_percent
from larder.laws.device import MECHANICS
from larder.laws.drive_set import drive_set
from larder.laws.layout import Family, Layout, parse_layout
from larder.laws.pool import Drive, Keeping, PoolFigures, hop_figures, pool_figures
from larder.laws.rebuild import (
    UNREADABLE_PER_BIT,
    allocated_share,
    fatal_read_odds,
    mean_over_surface,
    parity_seconds,
    passing_seconds,
    rebuild_read_bytes,
    rebuilt_bytes,
    scattered_seconds,
)
from larder.laws.throughput import (
    SCALING,
    Pull,
    Range,
    Throughput,
    degraded_range,
    pool_throughput,
)
from larder.plan.layout_words import (
    grows_by,
    layouts_for,
    loses,
    loses_only_files,
    more_parity_later,
    unreadable_costs,
    words_of,
)
from larder.plan.pools import Pool, keeping_of

from .caches import CacheResult
from .pool_setting import PoolSetting, core_seconds


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


class RateTerms(Result):
    """What the middle of a pool's rate is made of, in the order the bytes take.

    One drive empty × ``fill_share``, at most its slot, × ``drives`` ^ ``exponent`` × ``pull_share``, which
    is ``drives_bytes_per_s``; then the pool's limits; then what ``flash_bytes_per_s`` of a cache answers,
    or takes in where ``flash_share`` is null. Where memory answers ``memory_share``, at
    ``memory_bytes_per_s``, ``flash_share`` is what flash answers of the rest.
    """

    drive_bytes_per_s: float
    fill_share: float
    slot_bytes_per_s: float | None
    drives: int
    exponent: float
    pull_share: float
    drives_bytes_per_s: float
    flash_bytes_per_s: float | None = None
    flash_share: float | None = None
    memory_bytes_per_s: float | None = None
    memory_share: float | None = None


class RebuildTerms(Result):
    """What rebuilding a member is made of: ``member_bytes`` of it × ``allocated_share`` are written.

    ``shared_seconds`` is what the bus or the processor that all survivors share takes for it at the least.
    """

    member_bytes: int
    allocated_share: float
    drive_bytes_per_s: float
    surface_share: float
    rebuild_share: float
    survivors_read_bytes: int
    unreadable_per_bit: float
    latent_per_tb_year: float
    scrub_years: float
    shared_seconds: float


class HopRates(Result):
    """A pool as a hop of the way: what all copies read together, what one stream gets alone.

    A file may lie in one of ``places`` alike, of which each is such a hop: the disks of a span.
    """

    read_bytes_per_s: float
    stream_read_bytes_per_s: float
    places: int


class LayoutOffered(Result):
    """A layout that the drives of a pool may be put in, whether there are enough of them or not."""

    layout: str
    words: str


class PoolResult(Result):
    """One pool.

    ``drives_bytes`` lists every drive, ascending, so that the spares come last; ``redundancy_shares`` is the
    part of each that holds copies or parity. Degraded is with one drive dead, null where that loses data;
    rebuilding leaves to the people what the rebuild does not take of that. Small reads and writes are random
    operations a second. ``fast_write`` is what flash takes in for its first ``fast_write_bytes``, null where
    that is no faster. ``unreadable_odds`` is the chance that a rebuild meets a sector it cannot read once all
    bays kept for growth are filled (``final_members``), by what goes bad between two scrubs;
    ``unreadable_sheet_odds`` the same by data sheets, which is an upper bound. ``rebuild_seconds`` are beside
    people, ``rebuild_high_seconds`` where a copy-on-write pool finds its records one by one.
    """

    id: str
    name: str
    tier: Literal["work", "archive"]
    layout_words: str
    layouts_offered: tuple[LayoutOffered, ...]
    raw_bytes: int
    layout_bytes: int
    usable_bytes: int
    plannable_bytes: int
    filesystem_percent: float
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
    loses_only_files: bool
    read: RateRange
    write: RateRange
    read_terms: RateTerms
    write_terms: RateTerms
    as_hop: HopRates
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
    drive_price: Decimal | None
    drives_price: Decimal | None
    rebuild_seconds: float | None
    rebuild_alone_seconds: float | None
    rebuild_high_seconds: float | None
    rebuild_terms: RebuildTerms | None
    unreadable_odds: float | None
    unreadable_sheet_odds: float | None
    unreadable_costs: str
    cache: CacheResult | None
    waterfall: tuple[WaterfallStep, ...]


KEPT_BYTES = 8_000_000


@lru_cache(maxsize=200)
def _offered(current: str, members: int) -> tuple[LayoutOffered, ...]:
    return tuple(
        LayoutOffered(layout=name, words=words_of(parse_layout(name)))
        for name in layouts_for(current, members)
    )


@remembered(KEPT_BYTES, lambda result, *_: 13_000 + 100 * len(result.drives_bytes))
def pool_stage(pool: Pool, streams: int, setting: PoolSetting) -> PoolResult:
    """One pool's figures with ``streams`` sequential streams at once.

    Disks are taken at the rate they have when the pool is filled to its limit, for that is when it
    must still carry the work.
    """
    layout, drive = parse_layout(pool.layout), _drive(pool, setting)
    sizes = tuple(sorted(pool.drives_bytes))
    members = sizes[: len(sizes) - pool.spares]
    final = members + members[-1:] * (pool.final_count - len(sizes))
    keeping = keeping_of(pool, slot_bytes_per_s=setting.slot_bytes_per_s, rebuild_share=setting.rebuild_share)
    figures = pool_figures(
        layout,
        drive_set(sizes),
        drive,
        keeping,
        spares=pool.spares,
        streams=streams,
        final=drive_set(final),
    )
    capacity = figures.capacity
    rebuild = _rebuild_terms(layout, members, figures, drive, setting, keeping.fill)
    alone = _rebuild_alone_seconds(figures, setting, rebuild)
    speed = _Speed(pool, layout, setting, figures, drive, keeping, streams)
    survives = capacity.guaranteed_failures > 0
    left = 1 - setting.rebuild_share
    return PoolResult(
        id=pool.id,
        name=pool.name,
        tier=pool.tier,
        layout_words=words_of(layout),
        layouts_offered=_offered(pool.layout, len(members)),
        raw_bytes=capacity.raw_bytes,
        layout_bytes=capacity.layout_bytes,
        usable_bytes=capacity.usable_bytes,
        plannable_bytes=capacity.plannable_bytes,
        filesystem_percent=float(
            filesystem_taken_percent(layout, keeping.filesystem, keeping.filesystem_percent)
        ),
        members=capacity.members,
        final_members=len(final),
        grows_by=grows_by(layout),
        more_parity_later=more_parity_later(layout),
        spares=pool.spares,
        shared_spares=setting.shared_spares,
        drives_bytes=sizes,
        redundancy_shares=_redundancy_shares(layout, capacity, pool.spares),
        guaranteed_failures=capacity.guaranteed_failures,
        max_failures=capacity.max_failures,
        loses=loses(layout),
        loses_only_files=loses_only_files(layout),
        read=range_of(speed.read),
        write=range_of(speed.write),
        read_terms=speed.terms("read"),
        write_terms=speed.terms("write"),
        as_hop=speed.as_hop(),
        **_fast_write(speed),
        streams=streams,
        drive_kind=pool.drive_kind,
        drive_rate_share=figures.rate_share,
        drive_latency_seconds=drive.mechanics.latency_seconds,
        limits=speed.limits,
        degraded_read=range_of(speed.degraded) if survives else None,
        rebuilding_read=range_of(speed.degraded.times(left)) if survives else None,
        rebuilding_write=range_of(speed.write.times(left)) if survives else None,
        small_reads_per_s=figures.small_reads_per_s,
        small_writes_per_s=figures.small_writes_per_s,
        written_per_byte=figures.written_per_byte,
        drive_price=setting.unit_price,
        drives_price=None
        if setting.unit_price is None
        else setting.unit_price * (len(sizes) + pool.cold_spares),
        rebuild_seconds=None if alone is None else alone / setting.rebuild_share,
        rebuild_alone_seconds=alone,
        rebuild_high_seconds=_rebuild_high_seconds(layout, alone, setting, rebuild),
        rebuild_terms=rebuild,
        unreadable_costs=unreadable_costs(layout),
        unreadable_odds=_latent(figures, setting, drive),
        unreadable_sheet_odds=figures.unreadable_odds,
        cache=None,
        waterfall=tuple(WaterfallStep(step=s.step, bytes=s.bytes) for s in capacity.waterfall),
    )


def _drive(pool: Pool, setting: PoolSetting) -> Drive:
    """The pool's own rates, and of its class what nothing else says."""
    found = setting.drive
    per_bit = found.unreadable_per_bit if found else None
    return Drive(
        pool.drive_read_bytes_per_s,
        pool.drive_write_bytes_per_s,
        found.mechanics if found else MECHANICS[pool.drive_kind],
        UNREADABLE_PER_BIT[pool.drive_kind] if per_bit is None else per_bit,
        SCALING if pool.scaling_exponent is None else (pool.scaling_exponent,) * 3,
    )


def _redundancy_shares(layout: Layout, capacity: Capacity, spares: int) -> tuple[float, ...]:
    """The part of every drive that holds copies or parity: spread over all, or whole drives, the largest."""
    count: int = capacity.members
    if layout.family is Family.FILEWISE:
        members: tuple[float, ...] = (0.0,) * (count - layout.parity) + (1.0,) * layout.parity
    else:
        steps = {s.step: s.bytes for s in capacity.waterfall}
        matched = steps["raw"] + steps["spares"] + steps["size_mismatch"]
        members = (-steps["redundancy"] / matched,) * count
    return members + (0.0,) * spares


def _rebuild_terms(
    layout: Layout,
    members: Sequence[int],
    figures: PoolFigures,
    drive: Drive,
    setting: PoolSetting,
    fill: float,
) -> RebuildTerms | None:
    if figures.rebuild_read_bytes is None:
        return None
    return RebuildTerms(
        member_bytes=int(rebuilt_bytes(layout, drive_set(members))),
        allocated_share=allocated_share(layout, fill),
        drive_bytes_per_s=min(drive.write_bytes_per_s, setting.slot_bytes_per_s or float("inf")),
        surface_share=mean_over_surface(drive.mechanics.inner_ratio),
        rebuild_share=setting.rebuild_share,
        survivors_read_bytes=figures.rebuild_read_bytes,
        unreadable_per_bit=drive.unreadable_per_bit,
        latent_per_tb_year=setting.latent_per_tb_year,
        scrub_years=setting.scrub_years,
        shared_seconds=_shared_seconds(layout, members, setting, fill),
    )


def _shared_seconds(layout: Layout, members: Sequence[int], setting: PoolSetting, fill: float) -> float:
    """How long what all survivors share takes for a rebuild: the bus they pass, the cores for parity."""
    drives = drive_set(members)
    read = float(rebuild_read_bytes(layout, drives, fill) or 0)
    written = float(rebuilt_bytes(layout, drives)) * allocated_share(layout, fill)
    times = [passing_seconds(read * bus.share, written, bus.bytes_per_s) for bus in setting.buses]
    if setting.processor is not None and layout.parity:
        times.append(parity_seconds(read, setting.processor.cores))
    return max(times, default=0.0)


def _rebuild_alone_seconds(
    figures: PoolFigures, setting: PoolSetting, terms: RebuildTerms | None
) -> float | None:
    """Without any people: by the drive that is written, or by what all survivors share, if that is slower."""
    if figures.rebuild_seconds is None:
        return None
    drive_alone = float(figures.rebuild_seconds) * setting.rebuild_share
    return max(drive_alone, terms.shared_seconds) if terms is not None else drive_alone


def _rebuild_high_seconds(
    layout: Layout, alone: float | None, setting: PoolSetting, terms: RebuildTerms | None
) -> float | None:
    """Beside people with every record found by itself; None where that is no slower."""
    if alone is None or terms is None:
        return None
    scattered = scattered_seconds(layout, terms.member_bytes * terms.allocated_share)
    return scattered / setting.rebuild_share if scattered > alone else None


def _latent(figures: PoolFigures, setting: PoolSetting, drive: Drive) -> float | None:
    """By the scrub model, and never more than data sheets say."""
    read = figures.rebuild_read_bytes
    if read is None:
        return None
    return float(
        fatal_read_odds(read, drive.unreadable_per_bit, setting.latent_per_tb_year, setting.scrub_years)
    )


class _Speed:
    """A pool's rates behind everything that limits them, what each of that leaves, and the terms of both."""

    def __init__(
        self,
        pool: Pool,
        layout: Layout,
        setting: PoolSetting,
        figures: PoolFigures,
        drive: Drive,
        keeping: Keeping,
        streams: int,
    ) -> None:
        self.pool, self.layout, self.setting = pool, layout, setting
        self.figures, self.drive, self.streams, self.keeping = figures, drive, streams, keeping
        self.rates = figures.speed
        self.limits = self._limits()
        self._most = {
            way: min(
                (getattr(limit, f"{way}_bytes_per_s") for limit in self.limits if limit.kind != "slot"),
                default=float("inf"),
            )
            for way in ("read", "write")
        }
        self.read = self.rates.read.at_most(self._most["read"])
        self.write = self.rates.write.at_most(self._most["write"])
        dead = degraded_range(layout, figures.capacity.members, self.rates.read)
        self.degraded = dead.at_most(self._most["read"])

    def throughput(self, read_bytes_per_s: float, write_bytes_per_s: float) -> Throughput:
        """The drives' rates together if each read and wrote at these."""
        return pool_throughput(
            self.layout,
            self.figures.capacity.members,
            read_bytes_per_s,
            write_bytes_per_s,
            streams=self.streams,
            mechanics=self.drive.mechanics,
            scaling=self.drive.scaling,
        )

    def as_hop(self) -> HopRates:
        """What the drives carry as one hop of the way, and one stream gets of them alone."""
        figures = hop_figures(
            self.layout,
            self.figures.capacity.members,
            self.drive,
            self.keeping,
            streams=self.streams,
            most_bytes_per_s=self._most["read"],
        )
        return HopRates(
            read_bytes_per_s=figures.read_bytes_per_s,
            stream_read_bytes_per_s=figures.stream_read_bytes_per_s,
            places=figures.places,
        )

    def fast_write(self, bytes_per_s: float) -> Range:
        """What flash takes in at first, behind the same limits; each drive then writes at ``bytes_per_s``."""
        slot = self.setting.slot_bytes_per_s or float("inf")
        fast = self.throughput(min(self.drive.read_bytes_per_s, slot), min(bytes_per_s, slot))
        return fast.write.at_most(self._most["write"])

    def terms(self, way: Literal["read", "write"]) -> RateTerms:
        """What the rate in one direction is made of, so far as drives and slots go."""
        pull: Pull = getattr(self.rates, f"{way}_pull")
        return RateTerms(
            drive_bytes_per_s=getattr(self.drive, f"{way}_bytes_per_s"),
            fill_share=self.figures.rate_share,
            slot_bytes_per_s=self.setting.slot_bytes_per_s,
            drives=pull.drives,
            exponent=self.drive.scaling[1],
            pull_share=pull.share,
            drives_bytes_per_s=getattr(self.rates, way).middle,
        )

    def _limits(self) -> tuple[SpeedLimit, ...]:
        """Slot, buses and processor in the order the bytes pass them."""
        found, setting = [], self.setting
        rates, share = self.rates, self.figures.rate_share
        if setting.slot_bytes_per_s is not None:
            free = self.throughput(self.drive.read_bytes_per_s * share, self.drive.write_bytes_per_s * share)
            holds = rates.read.middle < free.read.middle or rates.write.middle < free.write.middle
            found.append(
                SpeedLimit(
                    kind="slot",
                    name=setting.slot_name,
                    read_bytes_per_s=rates.read.middle,
                    write_bytes_per_s=rates.write.middle,
                    holds_back=holds,
                )
            )
        found += [
            self._limit(
                "bus", bus.name, bus.bytes_per_s, bus.share, bus.share * self.figures.written_per_byte
            )
            for bus in setting.buses
        ]
        if setting.processor is not None:
            cost = core_seconds(self.pool, setting.encrypted_share)
            name, cores = setting.processor.name, setting.processor.cores
            found.append(self._limit("processor", name, cores, cost.a_byte_read, cost.a_byte_written))
        return tuple(found)

    def _limit(
        self,
        kind: Literal["bus", "processor"],
        name: str,
        capacity: float,
        read_cost: float,
        write_cost: float,
    ) -> SpeedLimit:
        read, write = capacity / read_cost, capacity / write_cost
        holds = read < self.rates.read.middle or write < self.rates.write.middle
        return SpeedLimit(
            kind=kind, name=name, read_bytes_per_s=read, write_bytes_per_s=write, holds_back=holds
        )


def _fast_write(speed: _Speed) -> dict[str, Any]:
    """What flash takes in faster before its fast region is full; copies and parity fill it as well."""
    drive = speed.setting.drive
    if drive is None or not drive.fast_write_bytes or drive.fast_write_bytes_per_s is None:
        return {"fast_write": None, "fast_write_bytes": 0}
    region = drive.fast_write_bytes * speed.figures.capacity.members / speed.figures.written_per_byte
    return {
        "fast_write": range_of(speed.fast_write(drive.fast_write_bytes_per_s)),
        "fast_write_bytes": int(region),
    }


def range_of(rate: Range) -> RateRange:
    """A range as the results have it."""
    return RateRange(middle_bytes_per_s=rate.middle, low_bytes_per_s=rate.low, high_bytes_per_s=rate.high)
