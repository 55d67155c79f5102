"""Flash before a pool: what it hits, what it absorbs, what is at stake in it, how long it lasts."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from decimal import Decimal

from larder.base.memo import remembered
from larder.base.results import Result
from larder.base.units import DAYS_A_YEAR, SECONDS_A_DAY
from larder.laws.burst import write_burst
from larder.laws.lru import HitCurve, hit_curve
from larder.laws.path import PCIE_GENERATIONS
from larder.laws.read_tiers import read_shares, reads_bytes_per_s
from larder.laws.throughput import Range
from larder.laws.wear import wear_years
from larder.laws.write_back import Spell, over_the_days
from larder.plan.caches import Cache, CacheMode
from larder.plan.enclosure import lanes_for

PIECE_BYTES = 10**9
"""What is dropped and fetched as one: about a clip. A stated assumption."""
KEPT_BYTES = 4_000_000
TRACE_DAYS = 5
"""A working week of reads, from an empty cache."""
SIZE_STEP_BYTES = 10**11
"""Flash comes in sizes; a proposed one is rounded up to a tenth of a TB."""


def working_days_a_year(per_week: float) -> float:
    """How many days of a year are working days."""
    return DAYS_A_YEAR * per_week / 7


@dataclass(frozen=True)
class PartDemand:
    """What is asked of the pool behind a cache on average in one part of the day, bytes/s."""

    id: str
    name: str
    seconds: float
    read_bytes_per_s: float
    written_bytes_per_s: float


@dataclass(frozen=True)
class CacheDemand:
    """What the brief asks of a cache, bytes and bytes/s; the burst is what one shooting day brings.

    ``parts`` are those of the day in their order; in the hours that are in none nothing arrives. Such a day
    comes on ``days_a_year``.
    """

    working_set_bytes: int
    read_bytes_per_day: float
    write_bytes_per_day: float
    burst_bytes: int
    burst_bytes_per_s: float
    popularity_exponent: float
    parts: tuple[PartDemand, ...] = ()
    days_a_year: float = DAYS_A_YEAR


class PartFilling(Result):
    """A part of the day in which a write-back cache is full, so many seconds from the part's start."""

    id: str
    name: str
    seconds_to_full: float


class LanesWanted(Result):
    """How many PCIe lanes of a generation a drive wants."""

    generation: int
    lanes: int


class HitTerms(Result):
    """What a hit ratio follows from: a working week's reads over what is hot, in pieces of one size."""

    piece_bytes: int
    working_set_bytes: int
    days: int
    read_bytes_per_day: float
    popularity_exponent: float


class WearTerms(Result):
    """What wears a cache, bytes a day: misses that fill it and writes that pass it, ``copies`` times."""

    endurance_bytes: int
    misses_bytes_per_day: float
    written_bytes_per_day: float
    copies: int
    days_a_year: float


class CacheResult(Result):
    """What a cache gives. Null: nothing tells, or it does not apply to this mode.

    ``hit_ratio_admitted`` is what it hits where it keeps sequential reads, ``hit_ratio`` what it does hit.
    ``recommended_bytes`` is what the mode calls for, before it is mirrored; ``lanes_by_generation`` how many
    PCIe lanes one drive wants to read at its rate. Of a staging drive the burst is what is written between
    two runs, ``staged_share`` the part of it that finds room there, ``seconds_to_empty`` a run's length, and
    ``unprotected_bytes_mean`` what on average lies on it alone. Of a write-back cache ``full_in`` are the
    parts of the day that it does not last through; what is written in them is as slow as the pool. One that
    ``grows_daily`` holds more every day, whatever its size.
    """

    id: str
    name: str
    pool_id: str
    mode: CacheMode
    usable_bytes: int
    hit_ratio: float
    hit_ratio_admitted: float
    hit_terms: HitTerms
    knee_bytes: int
    doubled_hit_ratio: float
    doubled_read_bytes_per_s: float
    is_mirrored: bool
    recommended_bytes: int
    recommended_least_bytes: int
    size_step_bytes: int
    recommended_because: str
    recommended_hit_ratio: float
    lanes_by_generation: tuple[LanesWanted, ...]
    burst_bytes: int
    absorbs_burst: bool
    seconds_to_full: float | None
    full_in: tuple[PartFilling, ...]
    grows_daily: bool
    lasting_write_bytes_per_s: float
    staged_share: float | None
    dirty_bytes_max: int
    unprotected_bytes_mean: int
    seconds_to_empty: float | None
    wear_years: float | None
    wear_terms: WearTerms | None
    drive_price: Decimal | None
    drives_price: Decimal | None


def cached_read(pool: Range, cache_bytes_per_s: float, hit: float) -> Range:
    """The pool's read rate with a cache: bytes share one time, so their times add.

    1 ÷ (hit ÷ cache rate + (1 − hit) ÷ pool rate); the low end is the pool alone, an empty cache.
    """

    def mixed(rate: float) -> float:
        shares = read_shares(0.0, hit)
        return reads_bytes_per_s(shares, rate, cache_bytes_per_s, cache_bytes_per_s) if rate > 0 else 0.0

    return Range(mixed(pool.middle), pool.low, mixed(pool.high))


def flash_read_bytes_per_s(cache: Cache) -> float:
    """What the cache's drives give together."""
    return cache.read_bytes_per_s * cache.drive_count


def flash_write_bytes_per_s(cache: Cache) -> float:
    """What its drives take in together, each byte twice where they are mirrored."""
    return cache.write_bytes_per_s * cache.drive_count / (2 if cache.is_mirrored else 1)


def curve_of(demand: CacheDemand) -> HitCurve:
    """Hit ratio over size in pieces, for a working week from an empty cache."""
    return curve_from(hit_terms(demand))


def hit_terms(demand: CacheDemand) -> HitTerms:
    """What every hit ratio follows from under this demand."""
    return HitTerms(
        piece_bytes=PIECE_BYTES,
        working_set_bytes=demand.working_set_bytes,
        days=TRACE_DAYS,
        read_bytes_per_day=demand.read_bytes_per_day,
        popularity_exponent=demand.popularity_exponent,
    )


def curve_from(terms: HitTerms) -> HitCurve:
    """The curve that these terms give."""
    pieces = max(round(terms.working_set_bytes / terms.piece_bytes), 1)
    requests = max(terms.read_bytes_per_day * terms.days / terms.piece_bytes, 1.0)
    return hit_curve(pieces, terms.popularity_exponent, requests)


@dataclass(frozen=True)
class _Absorbing:
    """How what is written goes in: a burst of a shooting day, or all that comes between two runs.

    ``surplus_bytes`` is the most that would be dirty at once in a cache of any size, and ``for_the_day``
    whether that is what the day's parts leave in it. ``absorbs`` is of the burst alone, ``share`` the part of
    what is written that a staging drive has room for.
    """

    burst_bytes: int
    absorbs: bool = False
    seconds_to_full: float | None = None
    dirty_bytes: float = 0.0
    surplus_bytes: float = 0.0
    full_in: tuple[PartFilling, ...] = ()
    grows_daily: bool = False
    for_the_day: bool = False
    share: float = 1.0


@remembered(KEPT_BYTES, lambda *_: 30_000)
def cache_stage(
    cache: Cache, unit_price: Decimal | None, read: Range, write: Range, demand: CacheDemand
) -> tuple[CacheResult, Range, Range]:
    """The cache's figures, and the pool's read and write ranges behind it."""
    is_read = cache.mode != "staging" and demand.working_set_bytes > 0
    curve = curve_of(demand)
    admitted, doubled = (curve.at(n * cache.usable_bytes / PIECE_BYTES) if is_read else 0.0 for n in (1, 2))
    hit = admitted if cache.admits_sequential else 0.0
    rate, writes = flash_read_bytes_per_s(cache), flash_write_bytes_per_s(cache)
    taken = _absorbing(cache, writes, read, write, demand)
    written, fast = write, Range(max(writes, write.middle), write.low, max(writes, write.high))
    is_staging = cache.mode == "staging"
    if is_staging and taken.share < 1:
        # Times of bytes add, as when reading: the later the run, the more of them find the drive full.
        written = cached_read(write, writes, taken.share)
    elif is_staging or (taken.absorbs and not taken.full_in):
        written = fast
    least, because = _recommended(cache, round(curve.knee() * PIECE_BYTES) if is_read else 0, taken)
    wanted = -(-least // SIZE_STEP_BYTES) * SIZE_STEP_BYTES
    wear = _wear_terms(cache, hit, demand)
    result = CacheResult(
        id=cache.id,
        name=cache.name,
        pool_id=cache.pool_id,
        mode=cache.mode,
        usable_bytes=cache.usable_bytes,
        hit_ratio=hit,
        hit_ratio_admitted=admitted,
        hit_terms=hit_terms(demand),
        knee_bytes=round(curve.knee() * PIECE_BYTES) if is_read else 0,
        doubled_hit_ratio=doubled,
        doubled_read_bytes_per_s=cached_read(read, rate, doubled).middle,
        is_mirrored=cache.is_mirrored,
        recommended_bytes=wanted,
        recommended_least_bytes=least,
        size_step_bytes=SIZE_STEP_BYTES,
        recommended_because=because,
        recommended_hit_ratio=curve.at(wanted / PIECE_BYTES) if is_read else 0.0,
        lanes_by_generation=tuple(
            LanesWanted(generation=g, lanes=lanes_for(cache.read_bytes_per_s, g)) for g in PCIE_GENERATIONS
        ),
        burst_bytes=taken.burst_bytes,
        absorbs_burst=taken.absorbs,
        seconds_to_full=taken.seconds_to_full,
        full_in=taken.full_in,
        grows_daily=taken.grows_daily,
        lasting_write_bytes_per_s=fast.middle if taken.absorbs else write.middle,
        staged_share=taken.share if is_staging else None,
        dirty_bytes_max=round(taken.dirty_bytes),
        unprotected_bytes_mean=round(taken.dirty_bytes / 2) if is_staging and not cache.is_mirrored else 0,
        seconds_to_empty=taken.dirty_bytes / write.middle if is_staging and write.middle > 0 else None,
        wear_years=None if wear is None else _lasts_years(wear),
        wear_terms=wear,
        drive_price=unit_price,
        drives_price=None if unit_price is None else unit_price * cache.drive_count,
    )
    return result, cached_read(read, rate, hit), written


def _recommended(cache: Cache, knee_bytes: int, taken: _Absorbing) -> tuple[int, str]:
    """(bytes, reason): the knee for reads; for what is held back, all of the burst if that is more."""
    if cache.mode == "staging":
        return taken.burst_bytes, "all that comes between two runs"
    if cache.mode == "write-back" and taken.surplus_bytes > knee_bytes:
        brings = "a day" if taken.for_the_day else "a shooting day"
        return math.ceil(taken.surplus_bytes), f"what {brings} brings beyond the pool"
    return knee_bytes, "the knee of its curve"


def _absorbing(
    cache: Cache, writes_bytes_per_s: float, pool_read: Range, pool_write: Range, demand: CacheDemand
) -> _Absorbing:
    if cache.mode == "staging":
        between = demand.write_bytes_per_day * cache.emptied_every_hours / 24
        fits = between <= cache.usable_bytes
        full = None if fits else cache.usable_bytes / demand.write_bytes_per_day * SECONDS_A_DAY
        share = 1.0 if fits else cache.usable_bytes / between
        return _Absorbing(round(between), fits, full, min(between, cache.usable_bytes), share=share)
    if cache.mode != "write-back":
        return _Absorbing(demand.burst_bytes)
    spells = _spells(demand, pool_read, pool_write)
    days, unbounded = (over_the_days(spells, most) for most in (cache.usable_bytes, float("inf")))
    full_in = tuple(
        PartFilling(id=part.id, name=part.name, seconds_to_full=seconds)
        for part, seconds in zip(demand.parts, days.seconds_to_full, strict=False)
        if seconds is not None
    )
    is_written = any(part.written_bytes_per_s > 0 for part in demand.parts)
    taken = _Absorbing(
        demand.burst_bytes,
        absorbs=is_written,
        dirty_bytes=days.peak_bytes,
        surplus_bytes=0.0 if days.grows_daily else unbounded.peak_bytes,
        full_in=full_in,
        grows_daily=days.grows_daily,
        for_the_day=True,
    )
    if not demand.burst_bytes or demand.burst_bytes_per_s <= 0:
        return taken
    arrive = min(demand.burst_bytes_per_s, writes_bytes_per_s)
    burst = write_burst(demand.burst_bytes, arrive, max(pool_write.middle, 1.0), cache.usable_bytes)
    full = burst.seconds_to_full
    surplus = demand.burst_bytes * max(1 - pool_write.middle / arrive, 0.0)
    return replace(
        taken,
        absorbs=full is None,
        seconds_to_full=full,
        dirty_bytes=max(burst.peak_dirty_bytes, taken.dirty_bytes),
        surplus_bytes=max(surplus, taken.surplus_bytes),
        for_the_day=taken.surplus_bytes > surplus,
    )


def _spells(demand: CacheDemand, read: Range, write: Range) -> list[Spell]:
    """A day of a write-back cache that is drained by what people's reads leave of the drives' time."""
    spells = [
        Spell(
            part.seconds,
            part.written_bytes_per_s,
            write.middle * max(1 - part.read_bytes_per_s / max(read.middle, 1.0), 0.0),
        )
        for part in demand.parts
    ]
    rest = SECONDS_A_DAY - sum(spell.seconds for spell in spells)
    if rest > 0:
        spells.append(Spell(rest, 0.0, write.middle))
    return spells


def _wear_terms(cache: Cache, hit: float, demand: CacheDemand) -> WearTerms | None:
    """What wears the drives; None where no rating is known or nothing is written to them."""
    takes_in = cache.mode != "staging" and cache.admits_sequential
    filled = demand.read_bytes_per_day * (1 - hit) if takes_in else 0.0
    through = 0.0 if cache.mode == "read" else demand.write_bytes_per_day
    if not cache.endurance_bytes or filled + through <= 0:
        return None
    return WearTerms(
        endurance_bytes=cache.endurance_bytes * cache.drive_count,
        misses_bytes_per_day=filled,
        written_bytes_per_day=through,
        copies=2 if cache.is_mirrored else 1,
        days_a_year=demand.days_a_year,
    )


def _lasts_years(terms: WearTerms) -> float:
    """Years until the drives have written what they are rated for: misses fill it, writes pass."""
    a_day = (terms.misses_bytes_per_day + terms.written_bytes_per_day) * terms.copies
    years: float = wear_years(terms.endurance_bytes, a_day * terms.days_a_year)
    return years
