"""How often a cache that drops what was used longest ago already has what is asked for.

Che's approximation for least-recently-used caches over independent requests (H. Che, Y. Tung, Z. Wang, 2002):
each object stays for a characteristic time T, counted in requests, with Σ(1 − e^(−wᵢT)) = objects that fit.
First touches are misses, so over a trace of L requests

    hit = Σ wᵢ [(Tm − (1 − e^(−wᵢTm))/wᵢ) + (L − Tm)(1 − e^(−wᵢT))] / L,  Tm = min(T, L).

A cyclic read larger than such a cache hits nothing at all, whatever this says: its requests are even in a way
that chance is not.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from larder.base.memo import remembered

SINGLE_RANKS = 64
GROUP_GROWTH = 1.08
KEPT_BYTES = 1_000_000
CURVE_POINTS = 96
"""Characteristic times looked at; the curve between them is read off in a straight line."""
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class HitCurve:
    """Hit ratio against cache size in objects, both ascending, from nothing to everything fitting."""

    objects: Floats
    hit_ratio: Floats

    def at(self, objects: float) -> float:
        """The hit ratio of a cache for ``objects``."""
        return float(np.interp(objects, self.objects, self.hit_ratio))

    def knee(self) -> float:
        """The number of objects where the curve is furthest above a straight line from nothing to all."""
        span = self.objects[-1] - self.objects[0]
        if span <= 0 or self.hit_ratio[-1] <= 0:
            return float(self.objects[-1])
        above = self.hit_ratio / self.hit_ratio[-1] - (self.objects - self.objects[0]) / span
        return float(self.objects[int(np.argmax(above))])


def zipf_weights(objects: int, exponent: float) -> tuple[Floats, Floats]:
    """(weights, counts): Zipf popularities i^−s of ``objects`` ranks, those far down in groups of like ones.

    Weights are those of one object and sum to 1 with their counts.
    """
    edges = [*range(1, min(objects, SINGLE_RANKS) + 1)]
    while edges[-1] < objects:
        edges.append(min(objects, max(edges[-1] + 1, int(edges[-1] * GROUP_GROWTH))))
    last = np.array(edges, dtype=np.float64)
    first = np.concatenate(([1.0], last[:-1] + 1))
    counts = last - first + 1
    weights = np.sqrt(first * last) ** -exponent
    return weights / float((weights * counts).sum()), counts


@remembered(KEPT_BYTES, lambda curve, *_: 500 + 2 * curve.objects.nbytes)
def hit_curve(objects: int, exponent: float, requests: float) -> HitCurve:
    """The curve for ``objects`` with Zipf popularity over a trace of ``requests``."""
    weights, counts = zipf_weights(max(objects, 1), exponent)
    longest = 40 / float(weights.min())
    times = np.concatenate(([0.0], np.geomspace(0.5, longest, CURVE_POINTS)))
    stays = -np.expm1(-np.outer(times, weights))
    fits = (stays * counts).sum(axis=1)
    fits[-1] = float(counts.sum())
    warm = np.minimum(times, requests)[:, None]
    warming = warm * weights + np.expm1(-warm * weights)
    after = np.clip(requests - times, 0, None)[:, None] * stays * weights
    hits = ((warming + after) * counts).sum(axis=1) / max(requests, 1.0)
    return HitCurve(objects=fits, hit_ratio=np.maximum.accumulate(np.clip(hits, 0, 1)))
