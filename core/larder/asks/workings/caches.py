"""The workings of caches: hits, recommended size, wear."""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.terms import Term, by_law, given, made
from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle
from larder.stages.caches import HitTerms, curve_from
from larder.stages.pool import PoolResult

from .working import working

HITS_BY = (
    "of the reads of these days from an empty cache, those asked for again while still in it; popularity "
    "falls by the exponent, what was used longest ago is dropped"
)


def _cached(e: Evaluation) -> Iterator[PoolResult]:
    return (pool for pool in e.tiers.pools if pool.cache is not None)


def _worn_ones(e: Evaluation) -> Iterator[PoolResult]:
    return (pool for pool in _cached(e) if pool.cache is not None and pool.cache.wear_terms is not None)


def _hits(
    holds: float, working_set: float, piece: float, a_day: float, days: float, exponent: float
) -> float:
    """The hit ratio of a cache that holds so much, from the values of :func:`hits_from`."""
    terms = HitTerms(
        piece_bytes=int(piece),
        working_set_bytes=int(working_set),
        days=int(days),
        read_bytes_per_day=a_day,
        popularity_exponent=exponent,
    )
    return curve_from(terms).at(holds / piece)


def hits_from(label: str, holds: Term, terms: HitTerms) -> Term:
    """The hit ratio of what ``holds`` so many bytes."""
    return by_law(
        label,
        "share",
        HITS_BY,
        _hits,
        holds,
        given("Hot at once", terms.working_set_bytes, "bytes"),
        given("Dropped and fetched as one", terms.piece_bytes, "bytes"),
        given("Read a day", terms.read_bytes_per_day, "bytes"),
        given("Days without emptying it", terms.days, "days"),
        given("Few clips take most plays", terms.popularity_exponent, "exponent"),
    )


@working(
    "tiers.{id}.hits",
    title="{name}: its cache hits",
    unit="share",
    source="Che's approximation of least-recently-used caches (2002), first touches counted as misses; the "
    "exponent is a house rule, the size of a piece a stated assumption",
    read=lambda _, pool: pool.cache.hit_ratio if pool.cache else None,
    subjects=_cached,
)
def _hit_ratio(_: Bundle, __: Evaluation, pool: PoolResult) -> Term | None:
    cache = pool.cache
    if cache is None:
        return None
    if cache.hit_ratio < cache.hit_ratio_admitted:
        return given("What is played passes it by", 0, "share")
    if cache.mode == "staging" or not cache.hit_terms.working_set_bytes:
        return given("Nothing is read from it", 0, "share")
    return hits_from("Hits", given("The cache holds", cache.usable_bytes, "bytes"), cache.hit_terms)


@working(
    "tiers.{id}.recommended",
    title="{name}: recommended size of its cache",
    unit="bytes",
    source="For reads the knee: where the hit curve is furthest above a straight line. For what is held back "
    "all that a burst brings beyond the pool's own rate, or between two runs, if that is more",
    read=lambda _, pool: float(pool.cache.recommended_bytes) if pool.cache else None,
    subjects=_cached,
)
def _recommended(_: Bundle, __: Evaluation, pool: PoolResult) -> Term | None:
    cache = pool.cache
    if cache is None:
        return None
    because = cache.recommended_because[:1].upper() + cache.recommended_because[1:]
    return made(
        "Recommended",
        "bytes",
        "rounded up",
        given(because, cache.recommended_least_bytes, "bytes"),
        given("What flash comes in", cache.size_step_bytes, "bytes"),
    )


@working(
    "tiers.{id}.worn",
    title="{name}: years until its cache is worn",
    unit="years",
    source="Data sheets' ratings; misses fill it, writes pass it, twice where it is mirrored",
    read=lambda _, pool: pool.cache.wear_years if pool.cache else None,
    subjects=_worn_ones,
)
def _worn(_: Bundle, __: Evaluation, pool: PoolResult) -> Term | None:
    result = pool.cache.wear_terms if pool.cache else None
    if result is None:
        return None
    a_day = made(
        "Written to it a day", "bytes", "product",
        made("Into it a day", "bytes", "sum",
             given("Misses that fill it", result.misses_bytes_per_day, "bytes"),
             given("Writes that pass it", result.written_bytes_per_day, "bytes")),
        given("Copies of each byte", result.copies, "count"),
    )  # fmt: skip
    return made(
        "Worn after",
        "years",
        "quotient",
        given("Rated to be written", result.endurance_bytes, "bytes"),
        a_day,
        given("Days a year", result.days_a_year, "days"),
    )
