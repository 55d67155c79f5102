"""The workings of pools: what they hold and deliver, rebuilds, small files, caches and memory."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle
from larder.stages.caches import CacheResult
from larder.stages.memory import MemoryResult
from larder.stages.pool import PoolResult
from larder.stages.small_files import FILE_ROUND_TRIPS, OPERATIONS_PER_FILE, SmallFilesResult

from .working import Figure, Input


def tier_figures(evaluation: Evaluation) -> dict[str, Figure]:
    """Every figure of the stage that can be explained, by id."""
    table: dict[str, Figure] = {}
    for i, pool in enumerate(evaluation.tiers.pools):
        own = {
            "plannable": _plannable(i, pool),
            "read": _rate(i, pool, "read"),
            "write": _rate(i, pool, "write"),
        }
        if pool.rebuild_seconds is not None:
            own |= {
                "degraded": _degraded(i, pool),
                "rebuild": _rebuild(i, pool),
                "unreadable": _unreadable(i, pool),
            }
        if pool.cache is not None:
            own |= {"hits": _hits(i, pool.cache), "recommended": _recommended(i, pool.cache)}
            if pool.cache.wear_years is not None:
                own["worn"] = _worn(i, pool.cache)
        table |= {f"tiers.{pool.id}.{name}": figure for name, figure in own.items()}
    for i, box in enumerate(evaluation.tiers.enclosures):
        if box.memory is not None:
            table[f"boxes.{box.id}.memory"] = _memory(i, box.name)
    for files in evaluation.small_files:
        table[f"files.{files.seat_id}"] = _files(files.seat_id, files.seat_name)
    return table


def _plannable(index: int, pool: PoolResult) -> Figure:
    def inputs(_: Bundle, e: Evaluation) -> Iterator[Input]:
        for step in e.tiers.pools[index].waterfall:
            label = step.step.replace("_", " ").capitalize()
            yield Input(label=label, value=step.bytes, unit="bytes")

    return Figure(
        title=f"{pool.name}: plannable",
        unit="bytes",
        formula="carton bytes, less spares, size mismatch, mirror or parity, padding, pool reserve, "
        "filesystem, snapshot reserve and free-space headroom, in that order",
        source="Layout arithmetic; 1 % journalling or 4 % copy-on-write filesystem are stated assumptions",
        read=lambda e: float(e.tiers.pools[index].plannable_bytes),
        inputs=inputs,
    )


def _rate(index: int, pool: PoolResult, way: str) -> Figure:
    def inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
        drives, result = b.plan.pools[index], e.tiers.pools[index]
        each = getattr(drives, f"drive_{way}_bytes_per_s")
        rates = getattr(result, way)
        yield Input(label="One drive, empty", value=each, unit="bytes_per_s")
        yield Input(label="Left of it at the fill limit", value=result.drive_rate_share, unit="share")
        yield Input(label="Drives in the layout", value=result.members, unit="drives")
        yield Input(label="Streams at once", value=result.streams, unit="streams")
        yield Input(label="Low end", value=rates.low_bytes_per_s, unit="bytes_per_s")
        yield Input(label="High end", value=rates.high_bytes_per_s, unit="bytes_per_s")

    return Figure(
        title=f"{pool.name}: {way}s",
        unit="bytes_per_s",
        formula="rate of one drive × (drives that pull together) to the power 0.9, less what seeking "
        "between streams costs a disk; 0.7 and 1 give the low and high end",
        source="Stated scaling assumption until a measurement replaces it; constant areal density",
        read=lambda e: getattr(e.tiers.pools[index], way).middle_bytes_per_s,
        inputs=inputs,
    )


def _pool_figure(
    index: int,
    title: str,
    unit: str,
    formula: str,
    source: str,
    read: Callable[[PoolResult], float | None],
    inputs: Callable[[Bundle, PoolResult], Iterator[Input]],
) -> Figure:
    """A figure of one pool."""
    return Figure(
        title=title,
        unit=unit,
        formula=formula,
        source=source,
        read=lambda e: read(e.tiers.pools[index]),
        inputs=lambda b, e: inputs(b, e.tiers.pools[index]),
    )


def _degraded(index: int, pool: PoolResult) -> Figure:
    def inputs(_: Bundle, p: PoolResult) -> Iterator[Input]:
        yield Input(label="Reads with all drives", value=p.read.middle_bytes_per_s, unit="bytes_per_s")
        yield Input(label="Survives", value=p.guaranteed_failures, unit="drives")

    return _pool_figure(
        index,
        f"{pool.name}: reads with a dead drive",
        "bytes_per_s",
        formula="half of what it reads with all drives, without its cache",
        source="Stated assumption: what a dead drive held is made from the others, which costs as much again",
        read=lambda p: p.degraded_read.middle_bytes_per_s if p.degraded_read else None,
        inputs=inputs,
    )


def _rebuild(index: int, pool: PoolResult) -> Figure:
    def inputs(b: Bundle, p: PoolResult) -> Iterator[Input]:
        drives = b.plan.pools[index]
        yield Input(label="Largest member", value=p.drives_bytes[p.members - 1], unit="bytes")
        yield Input(label="One drive writes, empty", value=drives.drive_write_bytes_per_s, unit="bytes_per_s")
        yield Input(label="A rebuild gets", value=b.house_rules.rebuild_share_percent, unit="%")
        yield Input(label="Free-space headroom", value=drives.headroom_percent, unit="%")

    return _pool_figure(
        index,
        f"{pool.name}: a drive rebuilt",
        "h",
        formula="member ÷ (its rate × (1 + inner ÷ outer) ÷ 2 × the share a rebuild gets); a copy-on-write "
        "pool rebuilds what is allocated",
        source="Mean over a surface of constant areal density; the share is a house rule",
        read=lambda p: None if p.rebuild_seconds is None else p.rebuild_seconds / 3600,
        inputs=inputs,
    )


def _unreadable(index: int, pool: PoolResult) -> Figure:
    def inputs(b: Bundle, p: PoolResult) -> Iterator[Input]:
        drive = b.catalogue.drive(b.plan.pools[index].drive_id)
        yield Input(label="Drives at its final width", value=p.final_members, unit="drives")
        yield Input(label="Largest member", value=p.drives_bytes[p.members - 1], unit="bytes")
        if drive is not None and drive.unreadable_per_bit is not None:
            yield Input(label="Unreadable, per bit read", value=f"{drive.unreadable_per_bit:g}", unit="")

    return _pool_figure(
        index,
        f"{pool.name}: rebuilds that meet a sector they cannot read",
        "share",
        formula="1 − (1 − rate per bit) to the power of all bits that the survivors must read; a mirror "
        "reads one copy, parity every other member of the group",
        source="Data sheets' rates; sectors taken as independent, so that most disks do better",
        read=lambda p: p.unreadable_odds,
        inputs=inputs,
    )


def _cache_inputs(_: Bundle, p: PoolResult) -> Iterator[Input]:
    if p.cache is None:
        return
    yield Input(label="The cache holds", value=p.cache.usable_bytes, unit="bytes")
    yield Input(label="The knee is at", value=p.cache.knee_bytes, unit="bytes")
    yield Input(label="A burst brings", value=p.cache.burst_bytes, unit="bytes")


def _hits(index: int, cache: CacheResult) -> Figure:
    return _pool_figure(
        index,
        f"{cache.name}: hits",
        "share",
        formula="of a working week's reads from an empty cache, those asked for again while still in it; "
        "popularity falls by the house rule's exponent",
        source="Che's approximation of least-recently-used caches (2002), first touches counted as misses",
        read=lambda p: p.cache.hit_ratio if p.cache else None,
        inputs=_cache_inputs,
    )


def _recommended(index: int, cache: CacheResult) -> Figure:
    return _pool_figure(
        index,
        f"{cache.name}: recommended size",
        "bytes",
        formula="the knee of the hit curve; for what is held back, all that a burst brings beyond the pool's "
        "own rate, or between two runs, if that is more; rounded up to a tenth of a TB",
        source="Knee: where the curve is furthest above a straight line",
        read=lambda p: float(p.cache.recommended_bytes) if p.cache else None,
        inputs=_cache_inputs,
    )


def _worn(index: int, cache: CacheResult) -> Figure:
    return _pool_figure(
        index,
        f"{cache.name}: years until it is worn",
        "years",
        formula="bytes its drives are rated to write ÷ (misses that fill it + what is written through it, "
        "twice where it is mirrored) in a year",
        source="Data sheets' ratings",
        read=lambda p: p.cache.wear_years if p.cache else None,
        inputs=_cache_inputs,
    )


def _memory(index: int, name: str) -> Figure:
    def memory(e: Evaluation) -> MemoryResult | None:
        return e.tiers.enclosures[index].memory

    def inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
        told = memory(e)
        if told is not None:
            yield Input(label="Memory", value=told.memory_bytes, unit="bytes")
            yield Input(label="Of it for reads", value=told.read_tier_bytes, unit="bytes")
            yield Input(label="The house wants", value=told.recommended_bytes, unit="bytes")
        yield Input(label="Hot at once", value=e.brief.working_set_bytes, unit="bytes")
        yield Input(label="Popularity", value=b.house_rules.popularity_exponent, unit="exponent")

    return Figure(
        title=f"{name}: reads answered from memory",
        unit="share",
        formula="the hit ratio of a cache as large as the memory that the box's own programs leave",
        source="Che's approximation (2002); 4 GB for the box itself is a stated assumption",
        read=lambda e: told.hit_ratio if (told := memory(e)) else None,
        inputs=inputs,
    )


def _files(seat_id: str, seat_name: str) -> Figure:
    def files(e: Evaluation) -> SmallFilesResult | None:
        return next((f for f in e.small_files if f.seat_id == seat_id), None)

    def inputs(_: Bundle, e: Evaluation) -> Iterator[Input]:
        told = files(e)
        if told is None:
            return
        yield Input(label="Asked by one seat", value=told.asked_files_per_s, unit="files a second")
        yield Input(label="One file", value=told.file_bytes, unit="bytes")
        yield Input(label="Round trips for it", value=FILE_ROUND_TRIPS, unit="")
        yield Input(label="Operations for it", value=OPERATIONS_PER_FILE, unit="")
        yield Input(label="Of its time is waiting", value=told.latency_share, unit="share")
        yield Input(label="All seats may have", value=told.joint_given_files_per_s, unit="files a second")

    return Figure(
        title=f"{seat_name}: files a second",
        unit="files a second",
        formula="1 ÷ (round trips × their time + operations × what a first byte takes + size ÷ rate)",
        source="Serial requests; 0.3 ms a round trip in the office is a stated assumption",
        read=lambda e: told.given_files_per_s if (told := files(e)) else None,
        inputs=inputs,
    )
