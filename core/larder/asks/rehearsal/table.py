"""A rehearsed day as a table: a row for every moment, between which all rates stand still."""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.units import GB, MB, clock_text

from .drawn_day import DrawnDay


def day_columns(drawn: DrawnDay) -> tuple[str, ...]:
    """The clock, then hops, caches, and what every seat asks and gets."""
    seats = [f"{seat.name} {seat.number}" for seat in drawn.day.seats]
    return (
        "From",
        *(f"{hop.name}, % used" for hop in drawn.hops),
        *(f"{cache.name}, dirty GB" for cache in drawn.caches),
        *(f"{name} {what} MB/s" for name in seats for what in ("asks", "gets")),
    )


def day_rows(drawn: DrawnDay) -> Iterator[tuple[str, ...]]:
    """The moments as rows under :func:`day_columns`."""
    for n, at in enumerate(drawn.moments_s):
        rates = (
            rate for lane in drawn.seats for rate in (lane.asked_bytes_per_s[n], lane.got_bytes_per_s[n])
        )
        yield (
            clock_text(at),
            *(f"{hop.used[n] * 100:.1f}" for hop in drawn.hops),
            *(f"{cache.dirty_bytes[n] / GB:.1f}" for cache in drawn.caches),
            *(f"{rate / MB:.1f}" for rate in rates),
        )
