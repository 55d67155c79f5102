"""How fast a pool reads and writes in sequence: rates by layout, as a value with its range.

rate = r · d^e, where d counts the drives that pull together under the layout and e says how far n
drives give n times one: 0.9 is assumed, 0.7 the low end and 1 the high end, until a measurement
replaces it.
"""

from __future__ import annotations

from dataclasses import dataclass

from larder.base.errors import Refused

from .device import MECHANICS, Mechanics, interleaving_efficiency
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


@dataclass(frozen=True)
class Range:
    """A middle value with its low and high end, bytes/s."""

    middle: float
    low: float
    high: float

    def times(self, factor: float) -> Range:
        return Range(self.middle * factor, self.low * factor, self.high * factor)

    def at_most(self, limit: float) -> Range:
        """The range behind something that carries no more than ``limit``."""
        return Range(min(self.middle, limit), min(self.low, limit), min(self.high, limit))


@dataclass(frozen=True)
class Throughput:
    """Sequential rates of a pool, bytes/s."""

    read: Range
    write: Range


def pool_throughput(
    layout: Layout,
    members: int,
    member_read_bytes_per_s: float,
    member_write_bytes_per_s: float,
    *,
    streams: int = 1,
    mechanics: Mechanics = MECHANICS["hdd"],
    scaling: tuple[float, float, float] = SCALING,
    degraded: bool = False,
) -> Throughput:
    """Rates of ``members`` equal drives under ``layout`` for ``streams`` sequential streams.

    Raises :class:`Refused` for a set the layout cannot take, no streams, and for a degraded layout
    that has no redundancy: it is lost, not slow.
    """
    layout.check_members(members)
    if streams < 1:
        raise Refused("streams", streams, "a whole number of 1 or more")
    if degraded and layout.guaranteed_failures(members) == 0:
        raise Refused("degraded", layout.name, "a layout with redundancy: this one ends with a drive")
    read = _scaled(member_read_bytes_per_s, read_drives(layout, members, streams), scaling)
    read = read.times(interleaving_efficiency(member_read_bytes_per_s, streams, mechanics))
    write = _write_range(layout, members, member_write_bytes_per_s, scaling)
    write = write.times(interleaving_efficiency(member_write_bytes_per_s, streams, mechanics))
    return Throughput(read.times(DEGRADED_READ_SHARE) if degraded else read, write)


def _scaled(member_bytes_per_s: float, drives: int, scaling: tuple[float, float, float]) -> Range:
    low, middle, high = (member_bytes_per_s * drives**e for e in scaling)
    return Range(middle, low, high)


def read_drives(layout: Layout, members: int, streams: int) -> int:
    """D for reads: how many drives serve ``streams`` sequential streams at once."""
    match layout.family:
        case Family.SPAN | Family.MIRROR:
            return min(streams, members)
        case Family.FILEWISE:
            return min(streams, members - layout.parity)
        case Family.STRIPE:
            return members
        case Family.STRIPED_MIRROR:
            # One stream is fed by one copy of each stripe; further streams by the other copies.
            return min(streams, layout.copies) * layout.mirror_groups(members)
    return members - layout.groups * layout.parity


def write_drives(layout: Layout, members: int) -> int:
    """D for aligned full-stripe writes: how many drives take different data at once."""
    match layout.family:
        case Family.SPAN | Family.MIRROR | Family.FILEWISE:
            return 1
        case Family.STRIPED_MIRROR:
            return layout.mirror_groups(members)
    return members - layout.groups * layout.parity


def written_per_byte(layout: Layout, members: int) -> float:
    """Bytes that all drives together write for one byte of data, in full stripes."""
    match layout.family:
        case Family.SPAN | Family.STRIPE:
            return 1.0
        case Family.MIRROR:
            return float(members)
        case Family.STRIPED_MIRROR:
            return float(layout.copies)
        case Family.FILEWISE:
            return 1.0 + layout.parity
    return members / (members - layout.groups * layout.parity)


def small_reads_per_s(layout: Layout, members: int, mechanics: Mechanics) -> float:
    """Random reads a second of the whole set."""
    alone = layout.family is Family.COPY_ON_WRITE
    return mechanics.operations_per_s * (1 if alone else members)


def small_writes_per_s(layout: Layout, members: int, mechanics: Mechanics) -> float:
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


def _write_range(
    layout: Layout, members: int, member_bytes_per_s: float, scaling: tuple[float, float, float]
) -> Range:
    full = _scaled(member_bytes_per_s, write_drives(layout, members), scaling)
    if layout.family is Family.FILEWISE:
        # No staging drive: data and parity are both read before they are written.
        half = member_bytes_per_s / 2
        return Range(half, half / 2, half)
    if layout.family in (Family.PARITY, Family.PARITY_GROUPS, Family.LAYERED):
        small = member_bytes_per_s * members / SMALL_WRITE_OPERATIONS[layout.parity]
        return Range(full.middle, min(small, full.middle), full.high)
    return full
