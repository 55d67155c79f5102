"""A flash cache before a pool: what it hits, what it absorbs, what is at stake in it, how long it lasts.

Read-only, write-through and write-back are different products of risk and speed: only write-back absorbs a
burst, and only its dirty bytes can be lost.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .bays import Bays
from .cache import write_burst
from .errors import Refused
from .fields import Amount, DriveBytes, DriveBytesPerS, Item, Name, SizeBytes, labelled
from .read_cache import HitCurve, hit_curve
from .results import Result
from .throughput import Range

CacheMode = Literal["read", "write-through", "write-back"]
PIECE_BYTES = 10**9
"""What is dropped and fetched as one: about a clip. A stated assumption."""
TRACE_DAYS = 5
"""A working week of reads, from an empty cache."""
CURVE_STEPS = 24
DAYS_A_YEAR = 365.25


class Cache(Item):
    """Flash drives before one pool; ``pool_id`` is the pool's."""

    name: Annotated[Name, labelled("Cache")]
    pool_id: Annotated[str, labelled("Before the pool")]
    mode: Annotated[CacheMode, labelled("Mode")] = "read"
    drive_count: Annotated[int, Field(ge=1, le=24), labelled("Flash drives")] = 1
    drive_bytes: Annotated[DriveBytes, labelled("Size each", "TB", 0.5)]
    read_bytes_per_s: Annotated[DriveBytesPerS, labelled("Read rate each", "MB/s", 100)]
    write_bytes_per_s: Annotated[DriveBytesPerS, labelled("Sustained write each", "MB/s", 100)]
    is_mirrored: Annotated[bool, labelled("Mirrored")] = False
    keeps_power: Annotated[bool, labelled("Power-loss protection or UPS")] = False
    endurance_bytes: Annotated[SizeBytes, labelled("Rated to write, each", "TB", 100)] = 0
    drive_unit_price: Annotated[Amount | None, labelled("Price each", "money", 5)] = None
    bays: Bays = ""

    @model_validator(mode="after")
    def _mirrors_in_pairs(self) -> Cache:
        if self.is_mirrored and self.drive_count % 2:
            raise Refused("drive_count", self.drive_count, "an even number of drives for mirrored ones")
        return self

    @property
    def usable_bytes(self) -> int:
        return self.drive_bytes * self.drive_count // (2 if self.is_mirrored else 1)


@dataclass(frozen=True)
class CacheDemand:
    """What the brief asks of a cache, bytes and bytes/s; the burst is what one shooting day brings."""

    working_set_bytes: int
    read_bytes_per_day: float
    write_bytes_per_day: float
    burst_bytes: int
    burst_bytes_per_s: float
    popularity_exponent: float


class CurvePoint(Result):
    """A cache of so many bytes, its hit ratio, and what the pool then reads, bytes/s."""

    cache_bytes: int
    hit_ratio: float
    read_bytes_per_s: float


class CacheResult(Result):
    """What a cache gives. Null: nothing tells, or it does not apply to this mode."""

    id: str
    name: str
    pool_id: str
    mode: CacheMode
    usable_bytes: int
    hit_ratio: float
    knee_bytes: int
    doubled_hit_ratio: float
    curve: tuple[CurvePoint, ...]
    burst_bytes: int
    absorbs_burst: bool
    seconds_to_full: float | None
    dirty_bytes_max: int
    wear_years: float | None
    drives_price: Decimal | None


def cached_read(pool: Range, cache_bytes_per_s: float, hit: float) -> Range:
    """The pool's read rate with a cache: bytes share one time, so their times add.

    1 ÷ (hit ÷ cache rate + (1 − hit) ÷ pool rate); the low end is the pool alone, an empty cache.
    """

    def mixed(rate: float) -> float:
        return 1 / (hit / max(cache_bytes_per_s, rate) + (1 - hit) / rate) if rate > 0 else 0.0

    return Range(mixed(pool.middle), pool.low, mixed(pool.high))


@lru_cache(maxsize=256)
def cache_stage(
    cache: Cache, read: Range, write: Range, demand: CacheDemand
) -> tuple[CacheResult, Range, Range]:
    """The cache's figures, and the pool's read and write ranges behind it."""
    pieces = max(round(demand.working_set_bytes / PIECE_BYTES), 1)
    requests = max(demand.read_bytes_per_day * TRACE_DAYS / PIECE_BYTES, 1.0)
    curve = hit_curve(pieces, demand.popularity_exponent, requests)
    hit = curve.at(cache.usable_bytes / PIECE_BYTES) if demand.working_set_bytes else 0.0
    rate = cache.read_bytes_per_s * cache.drive_count
    writes = cache.write_bytes_per_s * cache.drive_count / (2 if cache.is_mirrored else 1)
    dirty, full_s, absorbs = 0.0, None, False
    written = write
    if cache.mode == "write-back" and demand.burst_bytes and demand.burst_bytes_per_s > 0:
        arrive = min(demand.burst_bytes_per_s, writes)
        burst = write_burst(demand.burst_bytes, arrive, max(write.middle, 1.0), cache.usable_bytes)
        dirty, full_s = burst.peak_dirty_bytes, burst.seconds_to_full
        absorbs = full_s is None
    if cache.mode == "write-back" and absorbs:
        written = Range(max(writes, write.middle), write.low, max(writes, write.high))
    result = CacheResult(
        id=cache.id,
        name=cache.name,
        pool_id=cache.pool_id,
        mode=cache.mode,
        usable_bytes=cache.usable_bytes,
        hit_ratio=hit,
        knee_bytes=round(curve.knee() * PIECE_BYTES) if demand.working_set_bytes else 0,
        doubled_hit_ratio=curve.at(2 * cache.usable_bytes / PIECE_BYTES) if demand.working_set_bytes else 0.0,
        curve=_drawn(curve, pieces, read, rate) if demand.working_set_bytes else (),
        burst_bytes=demand.burst_bytes,
        absorbs_burst=absorbs,
        seconds_to_full=full_s,
        dirty_bytes_max=round(dirty),
        wear_years=_wear_years(cache, hit, demand),
        drives_price=None if cache.drive_unit_price is None else cache.drive_unit_price * cache.drive_count,
    )
    return result, cached_read(read, rate, hit), written


def _drawn(curve: HitCurve, pieces: int, read: Range, rate: float) -> tuple[CurvePoint, ...]:
    points = []
    for n in range(CURVE_STEPS + 1):
        hit = curve.at(pieces * n / CURVE_STEPS)
        points.append(
            CurvePoint(
                cache_bytes=round(pieces * n / CURVE_STEPS * PIECE_BYTES),
                hit_ratio=hit,
                read_bytes_per_s=cached_read(read, rate, hit).middle,
            )
        )
    return tuple(points)


def _wear_years(cache: Cache, hit: float, demand: CacheDemand) -> float | None:
    """Years until the drives have written what they are rated for: misses fill it, writes pass."""
    if not cache.endurance_bytes:
        return None
    filled = demand.read_bytes_per_day * (1 - hit)
    through = 0.0 if cache.mode == "read" else demand.write_bytes_per_day
    a_day = (filled + through) * (2 if cache.is_mirrored else 1)
    return cache.endurance_bytes * cache.drive_count / (a_day * DAYS_A_YEAR) if a_day > 0 else None
