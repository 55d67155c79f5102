"""A write-back cache over days that repeat: it takes writes at its own rate only while it lasts.

Part by part B ← max(0, B + (A − D)·T), with A the mean that arrives and D the mean that is drained to what
lies behind it (fluid model, as :mod:`~.burst`). A cache that is fuller every day than the day before is of no
use in any part in which more arrives than is drained, whatever its size.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

DAYS = 2
"""Begun empty, the second day is like all that follow, unless it grows from day to day."""


@dataclass(frozen=True)
class Spell:
    """A part of the day: how long, what arrives and what is drained in it on average, bytes/s."""

    seconds: float
    arriving_bytes_per_s: float
    drained_bytes_per_s: float

    @property
    def surplus_bytes(self) -> float:
        """What the part leaves in the cache; below 0 what it takes out."""
        return (self.arriving_bytes_per_s - self.drained_bytes_per_s) * self.seconds


@dataclass(frozen=True)
class Filling:
    """How a cache fills: of each part None where it lasts, else seconds from its start until full; bytes."""

    seconds_to_full: tuple[float | None, ...]
    grows_daily: bool
    peak_bytes: float


def over_the_days(spells: Sequence[Spell], cache_bytes: float) -> Filling:
    """How a cache of ``cache_bytes``, which may be infinite, fills over a day of ``spells`` that repeats."""
    grows = sum(spell.surplus_bytes for spell in spells) > 0
    held = peak = cache_bytes if grows else 0.0
    full: list[float | None] = []
    for _ in range(DAYS):
        full = []
        for spell in spells:
            more = spell.surplus_bytes
            overflows = more > 0 and (grows or held + more > cache_bytes)
            rate = spell.arriving_bytes_per_s - spell.drained_bytes_per_s
            full.append(max(cache_bytes - held, 0.0) / rate if overflows else None)
            held = min(max(held + more, 0.0), cache_bytes)
            peak = max(peak, held)
    return Filling(tuple(full), grows, peak)
