"""Rebuilding one dead drive: how long it takes, what must be read for it, and the odds that it cannot be.

time = bytes ÷ (r_outer · (1 + ρ) / 2) at the share the rebuild gets under load, ρ = r_inner / r_outer: the
mean over the surface of a disk with constant areal density, taken in one line. Block parity and mirrors
rebuild the whole member, copy-on-write pools what is allocated on it.
"""

from __future__ import annotations

import math

from .capacity import layered_steps
from .device import DriveKind
from .layout import Family, Layout

LAYOUTS_WITHOUT_REBUILD = (Family.SPAN, Family.STRIPE)
UNREADABLE_PER_BIT: dict[DriveKind, float] = {"hdd": 1e-15, "ssd": 1e-16}
"""Data sheets' rate of sectors that cannot be read, per bit, where no class says it; plain disks 1e-14."""


def rebuild_seconds(
    layout: Layout,
    member_bytes: int,
    outer_bytes_per_s: float,
    *,
    inner_ratio: float,
    share: float,
    fill: float = 1.0,
) -> float | None:
    """Seconds to write a member anew at ``share`` (0 to 1) of its rate; None where nothing is rebuilt.

    ``fill`` (0 to 1) is the part of the pool that is allocated.
    """
    if layout.family in LAYOUTS_WITHOUT_REBUILD or outer_bytes_per_s <= 0 or share <= 0:
        return None
    written = member_bytes * _allocated(layout, fill)
    return written / (outer_bytes_per_s * (1 + inner_ratio) / 2 * share)


def rebuild_read_bytes(layout: Layout, members: tuple[int, ...], fill: float = 1.0) -> int | None:
    """Bytes that the survivors must read when the largest of ``members`` (ascending) dies.

    None where nothing is rebuilt. A mirror reads one copy, parity all other members of the group.
    """
    smallest, count = members[0], len(members)
    match layout.family:
        case Family.SPAN | Family.STRIPE:
            return None
        case Family.MIRROR | Family.STRIPED_MIRROR:
            return smallest
        case Family.LAYERED:
            return sum(h * (m - 1) for h, m in layered_steps(members) if m > layout.parity)
        case Family.FILEWISE:
            return sum(members[:-1])
    return int(smallest * (count // layout.groups - 1) * _allocated(layout, fill))


def unreadable_odds(read_bytes: int, per_bit: float) -> float:
    """Chance that a sector among ``read_bytes`` cannot be read: −expm1(bits · log1p(−rate)).

    1 − (1 − rate)^bits is exactly 0 in doubles at rates below 1e-16; this form is not.
    """
    return -math.expm1(8 * read_bytes * math.log1p(-per_bit))


def _allocated(layout: Layout, fill: float) -> float:
    return fill if layout.family is Family.COPY_ON_WRITE else 1.0
