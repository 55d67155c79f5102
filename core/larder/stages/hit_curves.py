"""The caches' curves as they are drawn: what a cache of another size would hit, and the pool then read."""

from __future__ import annotations

from larder.base.memo import remembered
from larder.base.results import Result
from larder.laws.throughput import Range

from .caches import PIECE_BYTES, HitTerms, cached_read, curve_from, flash_read_bytes_per_s
from .pool import PoolResult
from .stage import Judged, Part
from .tiers import POOLS_ALONE, TIERS, plain

KEPT_BYTES = 500_000
CURVE_STEPS = 24


class CurvePoint(Result):
    """A cache of so many bytes, its hit ratio, and what the pool then reads, bytes/s."""

    cache_bytes: int
    hit_ratio: float
    read_bytes_per_s: float


@remembered(KEPT_BYTES, lambda *_: 8_000)
def _drawn(terms: HitTerms, read: Range, rate: float) -> tuple[CurvePoint, ...]:
    """Points of the curve, closer together where it is steep."""
    curve, points = curve_from(terms), []
    for n in range(CURVE_STEPS + 1):
        pieces = float(curve.objects[-1]) * (n / CURVE_STEPS) ** 2
        hit = curve.at(pieces)
        points.append(
            CurvePoint(
                cache_bytes=round(pieces * PIECE_BYTES),
                hit_ratio=hit,
                read_bytes_per_s=cached_read(read, rate, hit).middle,
            )
        )
    return tuple(points)


def _judge(judged: Judged) -> dict[str, tuple[CurvePoint, ...]]:
    caches = {cache.id: cache for cache in judged.bundle.plan.caches}
    found = {}
    pools: tuple[PoolResult, ...] = judged.of(POOLS_ALONE)
    for pool, alone in zip(judged.of(TIERS).pools, pools, strict=True):
        result = pool.cache
        if result is None:
            continue
        is_read = result.mode != "staging" and result.hit_terms.working_set_bytes > 0
        rate = flash_read_bytes_per_s(caches[result.id])
        found[result.id] = _drawn(result.hit_terms, plain(alone.read), rate) if is_read else ()
    return found


HIT_CURVES: Part[dict[str, tuple[CurvePoint, ...]]] = Part(
    "hit_curves", _judge, reads=("plan/caches",), after=(POOLS_ALONE, TIERS), is_drawn=True
)
