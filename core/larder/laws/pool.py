"""All figures of a pool from plain numbers: of one, or of as many as there are entries in the arrays.

The stage dresses the answer for one pool with names, prices and what stands around it; whoever looks for the
best of many thousands asks :func:`figures_of_many`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .capacity import HEADROOM_PERCENT, Capacity, pool_capacity
from .device import Mechanics, rate_at_fill, visiting_share
from .drive_set import DriveSet
from .elementwise import Real, Whole, least
from .layout import Layout
from .rebuild import rebuild_read_bytes, rebuild_seconds, rebuilt_bytes, unreadable_odds
from .throughput import (
    SCALING,
    Range,
    Throughput,
    degraded_range,
    hop_drives,
    pool_throughput,
    small_reads_per_s,
    small_writes_per_s,
    stripe_drives,
    turns_on_a_disk,
    written_per_byte,
)

Index = NDArray[np.int64]


@dataclass(frozen=True)
class Drive:
    """What a class of drive brings: outer-track rates in bytes/s, mechanics, unreadable sectors per bit."""

    read_bytes_per_s: float
    write_bytes_per_s: float
    mechanics: Mechanics
    unreadable_per_bit: float
    scaling: tuple[float, float, float] = SCALING


@dataclass(frozen=True)
class Keeping:
    """What a pool keeps free or takes for itself, percent, and how it rebuilds.

    ``slot_bytes_per_s`` is what the slowest slot lets through to one drive; ``rebuild_share`` (0 to 1) what a
    rebuild gets of a drive's rate.
    """

    filesystem: str | None = None
    filesystem_percent: Decimal | None = None
    headroom_percent: Decimal = HEADROOM_PERCENT
    snapshot_reserve_percent: Decimal = Decimal(0)
    slot_bytes_per_s: float = float("inf")
    rebuild_share: float = 0.3

    @property
    def fill(self) -> float:
        """How full the pool is when it must still carry the work, a share from 0 to 1."""
        return 1 - float(self.headroom_percent) / 100


@dataclass(frozen=True)
class PoolFigures:
    """What a pool holds, survives and delivers behind its slots: numbers, or an array for each.

    ``rate_share`` is what is left of a drive's rates at the fill limit. What rebuilds nothing has None for
    ``rebuild_seconds``, ``rebuild_read_bytes`` and ``unreadable_odds``.
    """

    capacity: Capacity
    speed: Throughput
    degraded_read: Range
    rate_share: Real
    small_reads_per_s: Real
    small_writes_per_s: Real
    written_per_byte: Real
    rebuild_seconds: Real | None
    rebuild_read_bytes: Whole | None
    unreadable_odds: Real | None


def pool_figures(
    layout: Layout,
    drives: DriveSet,
    drive: Drive,
    keeping: Keeping,
    *,
    spares: Whole = 0,
    streams: Whole = 1,
    final: DriveSet | None = None,
) -> PoolFigures:
    """The figures of ``drives`` of one class under one layout, one set or many.

    ``final`` are the members once it has grown to its full width, where it will. Raises :class:`Refused` as
    :func:`pool_capacity` and :func:`pool_throughput` do.
    """
    capacity = pool_capacity(
        layout,
        drives,
        spares=spares,
        filesystem=keeping.filesystem,
        filesystem_percent=keeping.filesystem_percent,
        headroom_percent=keeping.headroom_percent,
        snapshot_reserve_percent=keeping.snapshot_reserve_percent,
    )
    count, mechanics = capacity.members, drive.mechanics
    share = rate_at_fill(1.0, keeping.fill, mechanics.inner_ratio)
    speed = pool_throughput(
        layout,
        count,
        least(drive.read_bytes_per_s * share, keeping.slot_bytes_per_s),
        least(drive.write_bytes_per_s * share, keeping.slot_bytes_per_s),
        streams=streams,
        mechanics=mechanics,
        scaling=drive.scaling,
    )
    members = drives.without_largest(spares)
    read = rebuild_read_bytes(layout, members if final is None else final, keeping.fill)
    return PoolFigures(
        capacity=capacity,
        speed=speed,
        degraded_read=degraded_range(layout, count, speed.read),
        rate_share=share,
        small_reads_per_s=small_reads_per_s(layout, count, mechanics),
        small_writes_per_s=small_writes_per_s(layout, count, mechanics),
        written_per_byte=written_per_byte(layout, count),
        rebuild_seconds=rebuild_seconds(
            layout,
            rebuilt_bytes(layout, members),
            least(drive.write_bytes_per_s, keeping.slot_bytes_per_s),
            inner_ratio=mechanics.inner_ratio,
            share=keeping.rebuild_share,
            fill=keeping.fill,
        ),
        rebuild_read_bytes=read,
        unreadable_odds=None if read is None else unreadable_odds(read, drive.unreadable_per_bit),
    )


@dataclass(frozen=True)
class HopFigures:
    """A pool as a hop of the way, bytes/s: what all copies read together, what one stream gets alone.

    Bytes may lie in one of ``places`` alike, of which each is such a hop: the disks of a span.
    """

    read_bytes_per_s: Real
    stream_read_bytes_per_s: Real
    places: Whole


def hop_figures(
    layout: Layout,
    members: Whole,
    drive: Drive,
    keeping: Keeping,
    *,
    streams: Whole,
    most_bytes_per_s: Real = float("inf"),
) -> HopFigures:
    """What the drives carry as one hop, behind what lets through at most ``most_bytes_per_s``."""
    drives, places = hop_drives(layout, members)
    stripe, e = stripe_drives(layout, members), drive.scaling[1]
    share = rate_at_fill(1.0, keeping.fill, drive.mechanics.inner_ratio)
    one = least(drive.read_bytes_per_s * share, keeping.slot_bytes_per_s)
    turns = turns_on_a_disk(layout, members, streams)
    left = visiting_share(one * stripe**e, turns, drive.mechanics)
    return HopFigures(
        read_bytes_per_s=least(one * drives**e * left, most_bytes_per_s),
        stream_read_bytes_per_s=least(one * stripe**e, most_bytes_per_s),
        places=places,
    )


@dataclass(frozen=True)
class Candidates:
    """Many pools: layout, class of drive, the drives, how many of them are spares, how many streams.

    ``layout_at`` and ``drive_at`` point into ``layouts`` and ``classes``; the rest has an entry a pool.
    """

    layouts: tuple[Layout, ...]
    classes: tuple[Drive, ...]
    layout_at: Index
    drive_at: Index
    drives: DriveSet
    spares: Index
    streams: Index

    def __len__(self) -> int:
        return len(self.layout_at)


WHOLE_COLUMNS: dict[str, Callable[[PoolFigures], Whole]] = {
    "raw_bytes": lambda f: f.capacity.raw_bytes,
    "layout_bytes": lambda f: f.capacity.layout_bytes,
    "usable_bytes": lambda f: f.capacity.usable_bytes,
    "plannable_bytes": lambda f: f.capacity.plannable_bytes,
    "guaranteed_failures": lambda f: f.capacity.guaranteed_failures,
    "max_failures": lambda f: f.capacity.max_failures,
}
REAL_COLUMNS: dict[str, Callable[[PoolFigures], Real]] = {
    "read_bytes_per_s": lambda f: f.speed.read.middle,
    "read_low_bytes_per_s": lambda f: f.speed.read.low,
    "read_high_bytes_per_s": lambda f: f.speed.read.high,
    "write_bytes_per_s": lambda f: f.speed.write.middle,
    "write_low_bytes_per_s": lambda f: f.speed.write.low,
    "write_high_bytes_per_s": lambda f: f.speed.write.high,
    "degraded_read_bytes_per_s": lambda f: f.degraded_read.middle,
    "small_reads_per_s": lambda f: f.small_reads_per_s,
    "small_writes_per_s": lambda f: f.small_writes_per_s,
    "written_per_byte": lambda f: f.written_per_byte,
    "rebuild_seconds": lambda f: f.rebuild_seconds,
    "unreadable_odds": lambda f: f.unreadable_odds,
}
"""The columns of many pools' figures; where nothing is rebuilt, its time and odds are NaN."""


def figures_of_many(candidates: Candidates, keeping: Keeping) -> dict[str, NDArray[Any]]:
    """The figures of all ``candidates`` in their order, a column a figure.

    Raises :class:`Refused` where one of them cannot be.
    """
    count = len(candidates)
    whole = {name: np.zeros(count, np.int64) for name in WHOLE_COLUMNS}
    real = {name: np.full(count, np.nan) for name in REAL_COLUMNS}
    for at, figures in _by_kind(candidates, keeping):
        for name, read in WHOLE_COLUMNS.items():
            whole[name][at] = read(figures)
        for name, result in REAL_COLUMNS.items():
            value = result(figures)
            if value is not None:
                real[name][at] = value
    return {**whole, **real}


def _by_kind(candidates: Candidates, keeping: Keeping) -> Iterator[tuple[Index, PoolFigures]]:
    """The candidates that share layout and class of drive: where they stand, and their figures."""
    pairs = candidates.layout_at * len(candidates.classes) + candidates.drive_at
    order = np.argsort(pairs, kind="stable")
    starts = np.flatnonzero(np.diff(pairs[order], prepend=-1))
    for at in np.split(order, starts[1:]) if len(order) else ():
        drives = DriveSet(
            tuple(size[at] for size in candidates.drives.sizes_bytes),
            tuple(count[at] for count in candidates.drives.counts),
        )
        yield (
            at,
            pool_figures(
                candidates.layouts[candidates.layout_at[at[0]]],
                drives,
                candidates.classes[candidates.drive_at[at[0]]],
                keeping,
                spares=candidates.spares[at],
                streams=candidates.streams[at],
            ),
        )
