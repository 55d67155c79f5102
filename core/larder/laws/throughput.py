"""How fast a pool reads and writes in sequence: rates by layout, as a value with its range.

rate = r · d^e, where d counts the drives that pull together under the layout and e says how far n
drives give n times one: 0.9 is assumed, 0.7 the low end and 1 the high end, until a measurement
replaces it. Where one disk serves several streams they take turns (:func:`~.device.visiting_share`).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from larder.base.errors import Refused
from larder.base.units import MIB

from .device import (
    MECHANICS,
    VISIT_BYTES,
    VISIT_BYTES_HIGH,
    VISIT_BYTES_LOW,
    Mechanics,
    visiting_share,
)
from .elementwise import Real, Whole, least
from .layout import Family, Layout

SCALING_EXPONENT = 0.9
SCALING_EXPONENT_LOW = 0.7
SCALING_EXPONENT_HIGH = 1.0
SCALING = (SCALING_EXPONENT_LOW, SCALING_EXPONENT, SCALING_EXPONENT_HIGH)
"""Low, middle and high exponent; a measured one stands three times."""
SMALL_WRITE_OPERATIONS = {1: 4, 2: 6, 3: 8}
"""Disk operations per small write with single, double, triple parity: read and write data and parities."""
DEGRADED_SCATTERED_SHARE = 0.5
"""A scattered read that must be rebuilt from the survivors costs about as much again."""
PIECE_BYTES = MIB
"""What is written in part of a stripe at a time."""


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
    turns = turns_on_a_disk(layout, members, streams)
    reads, writes = read_drives(layout, members, streams), write_drives(layout, members)
    read, read_share = _ranged(
        member_read_bytes_per_s, reads, stripe_drives(layout, members), turns, mechanics, scaling
    )
    # Every copy takes in every stream.
    write, write_share = _ranged(member_write_bytes_per_s, writes, writes, streams, mechanics, scaling)
    if layout.family is Family.FILEWISE:
        # No staging drive: data and parity are both read before they are written.
        half = write.times(WHOLE_FILE_WRITE_SHARE)
        write = Range(half.middle, half.middle / 2, half.middle)
        write_share = write_share * WHOLE_FILE_WRITE_SHARE
    elif layout.family in (Family.PARITY, Family.PARITY_GROUPS, Family.LAYERED):
        small = partial_stripes_bytes_per_s(layout, members, member_write_bytes_per_s, mechanics)
        write = Range(write.middle, least(small, write.low), write.high)
    if degraded:
        read = degraded_range(layout, members, read)
    return Throughput(read, write, Pull(reads, read_share), Pull(writes, write_share))


def _ranged(
    member_bytes_per_s: Real,
    drives: Whole,
    stripe: Whole,
    turns: Whole,
    mechanics: Mechanics,
    scaling: tuple[float, float, float],
) -> tuple[Range, Real]:
    """(rates, share of the middle one that taking turns leaves) of ``drives``, in stripes of ``stripe``."""
    visits = (VISIT_BYTES_LOW, VISIT_BYTES, VISIT_BYTES_HIGH)
    shares = [
        visiting_share(member_bytes_per_s * stripe**e, turns, mechanics, visit)
        for e, visit in zip(scaling, visits, strict=True)
    ]
    low, middle, high = (
        member_bytes_per_s * drives**e * share for e, share in zip(scaling, shares, strict=True)
    )
    return Range(middle, low, high), shares[1]


def partial_stripes_bytes_per_s(
    layout: Layout, members: Whole, member_bytes_per_s: Real, mechanics: Mechanics
) -> Real:
    """Writing less than stripes: members ÷ penalty pieces at a time, each with a positioning, bytes/s."""
    each = PIECE_BYTES / (PIECE_BYTES / member_bytes_per_s + mechanics.positioning_seconds)
    return each * members / SMALL_WRITE_OPERATIONS[layout.parity]


def degraded_range(layout: Layout, members: Whole, read: Range) -> Range:
    """Reads with one drive dead: its share is gone, and with parity scattered reads are rebuilt as well."""
    left = (members - 1) / members
    mirrored = (Family.MIRROR, Family.STRIPED_MIRROR, Family.FILEWISE)
    low = left if layout.family in mirrored else least(left, DEGRADED_SCATTERED_SHARE)
    return Range(read.middle * left, read.low * low, read.high * left)


def stripe_drives(layout: Layout, members: Whole) -> Whole:
    """D for one stream's reads: how many drives feed it at once."""
    return read_drives(layout, members, 1)


def turns_on_a_disk(layout: Layout, members: Whole, streams: Whole) -> Whole:
    """How many of ``streams`` streams take turns on one disk while they are read."""
    match layout.family:
        case Family.SPAN | Family.MIRROR:
            return -(-streams // members)
        case Family.FILEWISE:
            return -(-streams // (members - layout.parity))
        case Family.STRIPED_MIRROR:
            return -(-streams // layout.copies)
    return streams


def hop_drives(layout: Layout, members: Whole) -> tuple[Whole, Whole]:
    """(drives, places): how many drives read as one hop, and in how many such places bytes may lie.

    All copies of a mirror serve, however many streams there are. In a span or a whole-file pool a file lies
    whole on one disk, and the disk is the hop.
    """
    match layout.family:
        case Family.SPAN:
            return 1, members
        case Family.FILEWISE:
            return 1, members - layout.parity
        case Family.MIRROR | Family.STRIPED_MIRROR:
            return members, 1
    return read_drives(layout, members, 1), 1


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
