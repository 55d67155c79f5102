"""A burst into a write-back cache: fast while it fills, then as slow as what lies behind it.

Fluid model: the cache fills at the arrival rate less the drain rate (time to full = C / (r_in − r_out)).
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from larder.base.errors import Refused


@dataclass(frozen=True)
class Burst:
    """The course of one copy, in seconds and bytes; times count from its start."""

    seconds_to_full: float | None
    seconds_total: float
    mean_bytes_per_s: float
    rate_after_full_bytes_per_s: float
    seconds_to_drained: float
    peak_dirty_bytes: float


def write_burst(
    size_bytes: int, arrive_bytes_per_s: float, drain_bytes_per_s: float, cache_bytes: int
) -> Burst:
    """How ``size_bytes`` go through a cache; ``seconds_total`` is when the sender is done.

    ``seconds_to_full`` is None where the cache never fills. ``seconds_to_drained`` is when the last
    byte rests behind the cache. Raises :class:`Refused` for a size or rate that is not above zero.
    """
    for field, value in (
        ("size", size_bytes),
        ("arrive", arrive_bytes_per_s),
        ("drain", drain_bytes_per_s),
    ):
        if value <= 0:
            raise Refused(field, value, "more than 0")
    if cache_bytes < 0:
        raise Refused("cache", cache_bytes, "0 or more")
    # Fractions: "exactly full as the copy ends" must not depend on rounding.
    size, arrive = Fraction(size_bytes), Fraction(arrive_bytes_per_s)
    drain, cache = Fraction(drain_bytes_per_s), Fraction(cache_bytes)
    seconds_arriving = size / arrive
    surplus = arrive - drain
    seconds_to_full = cache / surplus if surplus > 0 else None
    if seconds_to_full is None or seconds_to_full > seconds_arriving:
        seconds_to_full, seconds_total = None, seconds_arriving
        peak = max(surplus, Fraction(0)) * seconds_arriving
    else:
        seconds_total = seconds_to_full + (size - arrive * seconds_to_full) / drain
        peak = cache
    return Burst(
        seconds_to_full=None if seconds_to_full is None else float(seconds_to_full),
        seconds_total=float(seconds_total),
        mean_bytes_per_s=float(size / seconds_total),
        rate_after_full_bytes_per_s=float(min(arrive, drain)),
        seconds_to_drained=float(max(seconds_arriving, size / drain)),
        peak_dirty_bytes=float(peak),
    )
