"""Rebuilding one dead drive: how long it takes, what must be read for it, and the odds that it cannot be.

time = bytes ÷ (r_outer · (1 + ρ) / 2) at the share the rebuild gets under load, ρ = r_inner / r_outer: the
mean over the surface of a disk with constant areal density, taken in one line. Block parity and mirrors
rebuild the whole member, copy-on-write pools what is allocated on it.
"""

from __future__ import annotations

import math

import numpy as np

from larder.base.units import GB, TB

from .device import DriveKind
from .drive_set import DriveSet
from .elementwise import Real, Whole, is_many, least, pick
from .layout import Family, Layout
from .processor import PARITY_CORE_S_PER_GB

RECORD_BYTES = 1_048_576
"""Of a volume for footage; smaller records take so much longer."""
SCATTERED_RECORD_SECONDS = 0.012
"""A seek and half a turn to read it, and the same to write it. A stated assumption."""
LAYOUTS_WITHOUT_REBUILD = (Family.SPAN, Family.STRIPE)
UNREADABLE_PER_BIT: dict[DriveKind, float] = {"hdd": 1e-15, "ssd": 1e-16}
"""Data sheets' rate of sectors that cannot be read, per bit, where no class says it; plain disks 1e-14."""
LATENT_TIMES: dict[DriveKind, float] = {"hdd": 1.0, "ssd": 0.1}
"""How the house rule for disks counts for each kind: flash goes bad unseen about a tenth as often."""


def rebuilt_bytes(layout: Layout, members: DriveSet) -> Whole:
    """The part of the largest of ``members`` that takes part in the layout, and is written anew."""
    match layout.family:
        case Family.FILEWISE:
            return members.largest_bytes
        case Family.LAYERED:
            return sum(pick(m > layout.parity, h, 0) for h, m in members.steps())
    return members.smallest_bytes


def rebuild_seconds(
    layout: Layout,
    member_bytes: Whole,
    outer_bytes_per_s: Real,
    *,
    inner_ratio: float,
    share: float,
    fill: float = 1.0,
) -> Real | None:
    """Seconds to write a member anew at ``share`` (0 to 1) of its rate; None where nothing is rebuilt.

    ``fill`` (0 to 1) is the part of the pool that is allocated.
    """
    if layout.family in LAYOUTS_WITHOUT_REBUILD:
        return None
    written = member_bytes * allocated_share(layout, fill)
    return written / (outer_bytes_per_s * mean_over_surface(inner_ratio) * share)


def passing_seconds(read_bytes: Real, written_bytes: Real, bus_bytes_per_s: Real) -> Real:
    """Seconds for all bytes of a rebuild to pass a bus that every survivor and the new drive share."""
    return (read_bytes + written_bytes) / bus_bytes_per_s


def parity_seconds(read_bytes: Real, cores: float) -> Real:
    """Seconds for ``cores`` ordinary ones to reckon what was lost out of what is read."""
    return read_bytes / GB * PARITY_CORE_S_PER_GB / cores


def scattered_seconds(layout: Layout, written_bytes: float) -> float:
    """How long the records of a copy-on-write pool take where they are found one by one; 0 for other layouts.

    A resilver that goes by the age of records reads and writes each at its place; one that sorts them first
    goes in sequence, which is the low end.
    """
    if layout.family is not Family.COPY_ON_WRITE:
        return 0.0
    return written_bytes / RECORD_BYTES * SCATTERED_RECORD_SECONDS


def mean_over_surface(inner_ratio: float) -> float:
    """The ratio of a disk's mean rate to that of its outermost track."""
    return (1 + inner_ratio) / 2


def rebuild_read_bytes(layout: Layout, members: DriveSet, fill: float = 1.0) -> Whole | None:
    """Bytes that the survivors must read when the largest of ``members`` dies.

    None where nothing is rebuilt. A mirror reads one copy, parity all other members of the group.
    """
    match layout.family:
        case Family.SPAN | Family.STRIPE:
            return None
        case Family.MIRROR | Family.STRIPED_MIRROR:
            return members.smallest_bytes
        case Family.LAYERED:
            return sum(pick(m > layout.parity, h * (m - 1), 0) for h, m in members.steps())
        case Family.FILEWISE:
            return members.without_largest(1).total_bytes
    others = members.smallest_bytes * (members.count // layout.groups - 1)
    read = others * allocated_share(layout, fill)
    return read.astype(np.int64) if is_many(read) else int(read)


def unreadable_odds(read_bytes: Real, per_bit: float) -> Real:
    """Chance that a sector among ``read_bytes`` cannot be read: −expm1(bits · log1p(−rate)).

    1 − (1 − rate)^bits is exactly 0 in doubles at rates below 1e-16; this form is not.
    """
    expm1 = np.expm1 if is_many(read_bytes) else math.expm1
    return -expm1(8.0 * read_bytes * math.log1p(-per_bit))


def latent_odds(read_bytes: Real, per_tb_year: float, scrub_years: float) -> Real:
    """Chance that a sector among ``read_bytes`` has gone bad since it was last scrubbed.

    Latent errors arise at ``per_tb_year`` and wait half the interval on average until they are found and
    mended: −expm1(−a · TB · T ÷ 2) (a Poisson process that every scrub sets back).
    """
    expm1 = np.expm1 if is_many(read_bytes) else math.expm1
    return -expm1(-per_tb_year * read_bytes / TB * scrub_years / 2)


def last_read_bytes(
    layout: Layout, member_bytes: Real, of_group: Whole, tolerates: Whole, fill: float
) -> Real:
    """Bytes that are read when a group of which as many are dead as may be is rebuilt.

    A mirror reads one copy, parity all that is left of the group; ``fill`` (0 to 1) is what is allocated.
    """
    is_mirror = layout.family in (Family.MIRROR, Family.STRIPED_MIRROR)
    survivors = 1 if is_mirror else of_group - tolerates
    return member_bytes * allocated_share(layout, fill) * survivors


def fatal_read_odds(read_bytes: Real, per_bit: float, per_tb_year: float, scrub_years: float) -> Real:
    """Chance that a rebuild that reads so much meets a sector that cannot be read, 0 to 1.

    By what goes bad unseen between two scrubs, never more than by data sheets.
    """
    whole = read_bytes.astype(np.int64) if is_many(read_bytes) else int(read_bytes)
    return least(latent_odds(read_bytes, per_tb_year, scrub_years), unreadable_odds(whole, per_bit))


def allocated_share(layout: Layout, fill: float) -> float:
    """Of a member that is rebuilt: a copy-on-write pool knows what is in use, others write it whole."""
    return fill if layout.family is Family.COPY_ON_WRITE else 1.0
