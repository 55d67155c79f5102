"""Findings about caches: what they do not hold, what is at stake in them, and when they are worn."""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.patch import Operation, set_fields
from larder.base.units import size_text
from larder.plan.caches import Cache
from larder.plan.pools import Pool
from larder.stages.caches import SIZE_STEP_BYTES, CacheResult
from larder.stages.registry import TIERS_STAGE

from .finding import Evidence, Figures, Found, Remedy, finding

HOLDING_MODES = ("write-back", "staging")

TOO_SMALL = "cache-smaller-than-the-burst-or-than-the-working-sets-knee"


def _cached(f: Figures) -> Iterator[tuple[Cache, CacheResult, Pool]]:
    """Every cache with its result and its pool."""
    results = {p.cache.id: p.cache for p in f.tiers.pools if p.cache is not None}
    pools = {pool.id: pool for pool in f.bundle.plan.pools}
    for cache in f.bundle.plan.caches:
        if cache.id in results:
            yield cache, results[cache.id], pools[cache.pool_id]


def _set(cache: Cache, **fields: object) -> tuple[Operation, ...]:
    return set_fields(f"plan/caches/{cache.id}", **fields)


def _larger_drives(cache: Cache, wanted_bytes: int) -> Remedy:
    """As many drives as there are, each so large that together they hold ``wanted_bytes``."""
    missing = wanted_bytes * (2 if cache.is_mirrored else 1)
    each = -(-missing // (cache.drive_count * SIZE_STEP_BYTES)) * SIZE_STEP_BYTES
    return Remedy(words=f"Use drives of {size_text(each)} in it", patch=_set(cache, drive_bytes=each))


@finding("cache-that-playback-passes-by", TIERS_STAGE, "note")
def cache_passed_by(f: Figures) -> Iterator[Found]:
    """Flash before a pool that does not keep what is read in one go."""
    for cache, result, _ in _cached(f):
        if result.hit_ratio >= result.hit_ratio_admitted:
            continue
        yield Found(
            at=cache.id,
            title=f"{cache.name}: what is played passes it by",
            evidence=(
                Evidence(label="Hits", value=result.hit_ratio, unit="share"),
                Evidence(label="Would hit if it kept it", value=result.hit_ratio_admitted, unit="share"),
            ),
            why="It keeps small and scattered reads only; footage is read in one go, and from the disks.",
            remedy=Remedy(
                words="Let it keep sequential reads, in the box's settings",
                patch=_set(cache, admits_sequential=True),
            ),
        )


@finding("unmirrored-write-cache-or-staging-with-dirty-bytes-at-stake", TIERS_STAGE, "block")
def unmirrored_write_cache(f: Figures) -> Iterator[Found]:
    """Written and acknowledged, and on one flash drive only."""
    for cache, result, _ in _cached(f):
        if cache.mode not in HOLDING_MODES or cache.is_mirrored or not result.dirty_bytes_max:
            continue
        pairs = cache.drive_count + cache.drive_count % 2
        yield Found(
            at=cache.id,
            title=f"{cache.name}: a dead flash drive takes along what it has not passed on",
            evidence=(Evidence(label="At stake at most", value=result.dirty_bytes_max, unit="bytes"),),
            why="Until the next run what is new lies on this drive alone."
            if cache.mode == "staging"
            else "A write-back cache says *written* before the pool has it; on one drive that is one copy.",
            remedy=Remedy(
                words=f"Mirror it on {max(pairs, 2)} drives",
                patch=_set(cache, drive_count=max(pairs, 2), is_mirrored=True),
            ),
        )


@finding("write-back-without-power-loss-protection-or-ups", TIERS_STAGE, "block")
def write_back_without_power_protection(f: Figures) -> Iterator[Found]:
    """A power cut in the middle of dirty bytes."""
    for cache, result, _ in _cached(f):
        if cache.mode != "write-back" or cache.keeps_power:
            continue
        yield Found(
            at=cache.id,
            title=f"{cache.name} writes back without power-loss protection",
            evidence=(Evidence(label="At stake at most", value=result.dirty_bytes_max, unit="bytes"),),
            why="When the power goes, what the flash still holds in its own memory is gone.",
            remedy=Remedy(
                words="Use flash with power-loss protection, or a UPS that shuts the box down",
                patch=_set(cache, keeps_power=True),
            ),
        )


@finding(TOO_SMALL, TIERS_STAGE, "warn", key="cache-smaller-than-the-burst")
def cache_smaller_than_the_burst(f: Figures) -> Iterator[Found]:
    """A day's footage fills it before the day is copied."""
    for cache, result, _ in _cached(f):
        if cache.mode not in HOLDING_MODES or result.absorbs_burst or result.seconds_to_full is None:
            continue
        is_staging = cache.mode == "staging"
        yield Found(
            at=cache.id,
            title=f"{cache.name} is full before it is emptied"
            if is_staging
            else f"{cache.name} is full before a day's footage is in",
            evidence=(
                Evidence(
                    label="Between two runs" if is_staging else "A shooting day brings",
                    value=result.burst_bytes,
                    unit="bytes",
                ),
                Evidence(label="It holds", value=result.usable_bytes, unit="bytes"),
            ),
            why="From then on the copy runs as slowly as the pool takes it.",
            remedy=_larger_drives(cache, result.recommended_bytes),
        )


@finding(TOO_SMALL, TIERS_STAGE, "warn", key="cache-smaller-than-the-day")
def cache_smaller_than_the_day(f: Figures) -> Iterator[Found]:
    """What arrives in some part of the day fills it: the pool takes no more of it beside the reads."""
    for cache, result, _ in _cached(f):
        if not result.full_in:
            continue
        first = result.full_in[0]
        yield Found(
            at=cache.id,
            title=f"{cache.name} takes in more every day than its pool is given of it"
            if result.grows_daily
            else f"{cache.name} is full in {first.name}",
            evidence=(
                Evidence(label="Full after", value=round(first.seconds_to_full / 3600, 2), unit="h"),
                Evidence(label="It holds", value=result.usable_bytes, unit="bytes"),
            ),
            why="A write-back cache is quick only while it lasts; then writes are as slow as the pool.",
            remedy=Remedy(
                words="No size of it lasts: take a pool that writes faster, or write less.",
                at=f"plan/pools/{cache.pool_id}/drive_count",
            )
            if result.grows_daily
            else _larger_drives(cache, result.recommended_bytes),
        )


@finding(TOO_SMALL, TIERS_STAGE, "note", key="cache-smaller-than-the-working-sets-knee")
def cache_smaller_than_the_knee(f: Figures) -> Iterator[Found]:
    """Left of the knee each further byte of cache hits more than its share."""
    for cache, result, _ in _cached(f):
        if result.usable_bytes >= result.knee_bytes:
            continue
        yield Found(
            at=cache.id,
            title=f"{cache.name} is smaller than the knee of its curve",
            evidence=(
                Evidence(label="It holds", value=result.usable_bytes, unit="bytes"),
                Evidence(label="The knee is at", value=result.knee_bytes, unit="bytes"),
                Evidence(label="Hits now", value=result.hit_ratio, unit="share"),
            ),
            why="Up to the knee more flash still pays; beyond it, little.",
            remedy=_larger_drives(cache, result.knee_bytes),
        )


@finding("flash-wear-before-its-service-life", TIERS_STAGE, "warn")
def flash_wear_before_its_service_life(f: Figures) -> Iterator[Found]:
    """Worn out by what is written through it before its time."""
    years_min = f.bundle.house_rules.flash_service_years_min
    for cache, result, _ in _cached(f):
        if result.wear_years is None or result.wear_years >= years_min:
            continue
        wanted = round(cache.endurance_bytes * years_min / result.wear_years)
        yield Found(
            at=cache.id,
            title=f"{cache.name} is worn out after {result.wear_years:.1f} years",
            evidence=(
                Evidence(label="Lasts", value=round(result.wear_years, 2), unit="years"),
                Evidence(label="House rule", value=years_min, unit="years"),
            ),
            why="Flash is rated for so many bytes written; what reading misses is written into it as well.",
            remedy=Remedy(
                words=f"Use drives rated for {-(-wanted // 10**12)} TB",
                patch=_set(cache, endurance_bytes=-(-wanted // 10**12) * 10**12),
            ),
        )


@finding("flash-cache-on-flash", TIERS_STAGE, "note")
def flash_cache_on_flash(f: Figures) -> Iterator[Found]:
    """A flash cache before flash buys nothing."""
    for cache, result, pool in _cached(f):
        if pool.drive_kind != "ssd":
            continue
        yield Found(
            at=cache.id,
            title=f"{cache.name} stands before a pool that is flash itself",
            evidence=(Evidence(label="Flash in the cache", value=result.usable_bytes, unit="bytes"),),
            why="What it answers the pool answers as quickly; the money buys more flash in the pool.",
            remedy=Remedy(
                words=f"Take {cache.name} out",
                patch=(Operation(op="remove", path=f"plan/caches/{cache.id}"),),
            ),
        )
