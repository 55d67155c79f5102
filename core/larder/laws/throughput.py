"""How fast a pool reads and writes in sequence: rates by layout, as a value with its range.

rate = r · d^e, where d counts the drives that pull together under the layout and e says how far n
drives give n times one: 0.9 is assumed, 0.7 the low end and 1 the high end, until a measurement
replaces it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from larder.base.errors import Refused

from .device import MECHANICS, Mechanics, interleaving_efficiency
from .elementwise import Real, Whole, least
from .layout import Family, Layout

SCALING_EXPONENT = 0.9
SCALING_EXPONENT_LOW = 0.7
SCALING_EXPONENT_HIGH = 1.0
SCALING = (SCALING_EXPONENT_LOW, SCALING_EXPONENT, SCALING_EXPONENT_HIGH)
"""Low, middle and high exponent; a measured one stands three times."""
SMALL_WRITE_OPERATIONS = {1: 4, 2: 6, 3: 8}
"""Disk operations per small write with single, double, triple parity: read and write data and parities."""
DEGRADED_READ_SHARE = 0.5
"""A read that must be rebuilt from the survivors costs about as much again."""


WHOLE_FILE_WRITE_SHARE = 0.5
"""Of a member's rate that a whole-file pool writes at with no staging drive: it reads before it writes."""


@dataclass(frozen=True)
class Range:
    """A middle value with its low and high end, bytes/s."""

    middle: Real
    low: Real
    high: Real

    def times(self, factor: Real) -> Range:
        return Range(self.middle * factor, self.low * factor, self.high * factor)

    def at_most(self, limit: Real) -> Range:
        """The range behind something that carries no more than ``limit``."""
        return Range(least(self.middle, limit), least(self.low, limit), least(self.high, limit))


@dataclass(frozen=True)
class Pull:
    """What a rate is made of: a member's rate × ``share`` × ``drives`` ^ exponent."""

    drives: Whole
    share: Real


@dataclass(frozen=True)
class Throughput:
    """Sequential rates of a pool, bytes/s, with what their middles are made of."""

    read: Range
    write: Range
    read_pull: Pull
    write_pull: Pull


def pool_throughput(
    layout: Layout,
    members: Whole,
    member_read_bytes_per_s: Real,
    member_write_bytes_per_s: Real,
    *,
    streams: Whole = 1,
    mechanics: Mechanics = MECHANICS["hdd"],
    scaling: tuple[float, float, float] = SCALING,
    degraded: bool = False,
) -> Throughput:
    """Rates of ``members`` equal drives under ``layout`` for ``streams`` sequential streams, or of many sets.

    Raises :class:`Refused` for a set the layout cannot take, a rate of nothing, no streams, and for a
    degraded layout that has no redundancy: it is lost, not slow.
    """
    layout.check_members(members)
    if np.any(streams < 1):
        raise Refused("streams", streams, "a whole number of 1 or more")
    for field, rate in (("read", member_read_bytes_per_s), ("write", member_write_bytes_per_s)):
        if np.any(rate <= 0):
            raise Refused(field, rate, "a rate above 0")
    if degraded and not layout.has_redundancy:
        raise Refused("degraded", layout.name, "a layout with redundancy: this one ends with a drive")
    reading = Pull(
        read_drives(layout, members, streams),
        interleaving_efficiency(member_read_bytes_per_s, streams, mechanics),
    )
    writing = Pull(
        write_drives(layout, members),
        interleaving_efficiency(member_write_bytes_per_s, streams, mechanics),
    )
    read = _scaled(member_read_bytes_per_s, reading, scaling)
    write = _scaled(member_write_bytes_per_s, writing, scaling)
    if layout.family is Family.FILEWISE:
        # No staging drive: data and parity are both read before they are written.
        half = write.times(WHOLE_FILE_WRITE_SHARE)
        write = Range(half.middle, half.middle / 2, half.middle)
        writing = Pull(writing.drives, writing.share * WHOLE_FILE_WRITE_SHARE)
    elif layout.family in (Family.PARITY, Family.PARITY_GROUPS, Family.LAYERED):
        small = member_write_bytes_per_s * writing.share * members / SMALL_WRITE_OPERATIONS[layout.parity]
        write = Range(write.middle, least(small, write.middle), write.high)
    return Throughput(read.times(DEGRADED_READ_SHARE) if degraded else read, write, reading, writing)


def _scaled(member_bytes_per_s: Real, pull: Pull, scaling: tuple[float, float, float]) -> Range:
    low, middle, high = (member_bytes_per_s * pull.drives**e * pull.share for e in scaling)
    return Range(middle, low, high)


def read_drives(layout: Layout, members: Whole, streams: Whole) -> Whole:
    """D for reads: how many drives serve ``streams`` sequential streams at once."""
    match layout.family:
        case Family.SPAN | Family.MIRROR:
            return least(streams, members)
        case Family.FILEWISE:
            return least(streams, members - layout.parity)
        case Family.STRIPE:
            return members
        case Family.STRIPED_MIRROR:
            # One stream is fed by one copy of each stripe; further streams by the other copies.
            return least(streams, layout.copies) * layout.mirror_groups(members)
    return members - layout.groups * layout.parity


def write_drives(layout: Layout, members: Whole) -> Whole:
    """D for aligned full-stripe writes: how many drives take different data at once."""
    match layout.family:
        case Family.SPAN | Family.MIRROR | Family.FILEWISE:
            return 1
        case Family.STRIPED_MIRROR:
            return layout.mirror_groups(members)
    return members - layout.groups * layout.parity


def written_per_byte(layout: Layout, members: Whole) -> Real:
    """Bytes that all drives together write for one byte of data, in full stripes."""
    match layout.family:
        case Family.SPAN | Family.STRIPE:
            return 1.0
        case Family.MIRROR:
            return members * 1.0
        case Family.STRIPED_MIRROR:
            return float(layout.copies)
        case Family.FILEWISE:
            return 1.0 + layout.parity
    return members / (members - layout.groups * layout.parity)


def small_reads_per_s(layout: Layout, members: Whole, mechanics: Mechanics) -> Real:
    """Random reads a second of the whole set."""
    alone = layout.family is Family.COPY_ON_WRITE
    return mechanics.operations_per_s * (1 if alone else members)


def small_writes_per_s(layout: Layout, members: Whole, mechanics: Mechanics) -> Real:
    """Random writes a second: each costs a mirror its copies, parity 4, 6 or 8 operations."""
    each = mechanics.operations_per_s
    match layout.family:
        case Family.SPAN | Family.STRIPE:
            return each * members
        case Family.COPY_ON_WRITE | Family.MIRROR:
            return each
        case Family.STRIPED_MIRROR:
            return each * members / layout.copies
    return each * members / SMALL_WRITE_OPERATIONS[layout.parity]
