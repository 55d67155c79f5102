"""From the carton to what may be planned with: the capacity waterfall of one pool.

Exact integers in bytes; every step floors to a byte and the steps sum exactly to the last figure.
Sources: the layout arithmetic of the RAID levels (Patterson and others, 1988); sector allocation of
copy-on-write parity pools as the sum in :func:`copy_on_write_bytes`.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from larder.base.errors import Refused
from larder.base.units import GIB, KIB, MIB, TIB

from .drive_set import DriveSet
from .elementwise import Real, Whole, is_many, least, pick, scaled
from .layout import Family, Layout

FILESYSTEM_PERCENT: dict[str, Decimal] = {
    "journal": Decimal(1),
    "cow": Decimal(4),
    "none": Decimal(0),
}
"""Space a filesystem keeps for itself: about 1 % journalling, 3 to 6 % copy-on-write with checksums.
Stated assumptions that a measurement replaces."""
HEADROOM_PERCENT = Decimal(20)
"""Free space kept, so that the pool stays quick and can be cleaned: the one fill limit."""
RECORD_BYTES = MIB
SECTOR_BYTES = 4 * KIB
POOL_RESERVE_PART = 32
POOL_RESERVE_MOST_BYTES = 128 * GIB


@dataclass(frozen=True)
class Step:
    """One bar of the waterfall: the raw bytes first, then signed changes."""

    step: str
    bytes: Whole


@dataclass(frozen=True)
class Capacity:
    """What a set of drives gives, or many sets at once; ``waterfall`` sums to ``plannable_bytes``."""

    raw_bytes: Whole
    layout_bytes: Whole
    usable_bytes: Whole
    plannable_bytes: Whole
    guaranteed_failures: Whole
    max_failures: Whole
    members: Whole
    waterfall: tuple[Step, ...]

    @property
    def layout_tib(self) -> Real:
        return self.layout_bytes / TIB

    @property
    def usable_tib(self) -> Real:
        return self.usable_bytes / TIB

    @property
    def plannable_tib(self) -> Real:
        return self.plannable_bytes / TIB


def default_filesystem(layout: Layout) -> str:
    """``cow`` for copy-on-write layouts, which bring their own filesystem, else ``journal``."""
    return "cow" if layout.family is Family.COPY_ON_WRITE else "journal"


def pool_capacity(
    layout: Layout,
    drives: DriveSet,
    *,
    spares: Whole = 0,
    filesystem: str | None = None,
    filesystem_percent: Decimal | None = None,
    headroom_percent: Decimal = HEADROOM_PERCENT,
    snapshot_reserve_percent: Decimal = Decimal(0),
    record_bytes: int = RECORD_BYTES,
    sector_bytes: int = SECTOR_BYTES,
) -> Capacity:
    """The waterfall of ``drives`` under ``layout``, one set or many at once.

    Spares are the largest drives, so that each can replace any member. Percentages are of what is
    left at their step; ``filesystem_percent`` is a measured one in place of the filesystem's usual.
    Raises :class:`Refused` for too few members, spares, percentages or a record that is not a whole
    number of sectors.
    """
    _check(drives.count, spares, headroom_percent, snapshot_reserve_percent)
    _check_record(record_bytes, sector_bytes)
    members = drives.without_largest(spares)
    layout.check_members(members.count, "drives")
    taken = filesystem_taken_percent(layout, filesystem, filesystem_percent)
    raw = drives.total_bytes
    levels = [("raw", raw), ("spares", members.total_bytes)]
    levels += _layout_levels(layout, members, record_bytes, sector_bytes)
    layout_bytes = levels[-1][1]
    filed = _less(layout_bytes, taken)
    usable = _less(filed, snapshot_reserve_percent)
    plannable = _less(usable, headroom_percent)
    levels += [("filesystem", filed), ("snapshot_reserve", usable), ("headroom", plannable)]
    return Capacity(
        raw_bytes=raw,
        layout_bytes=layout_bytes,
        usable_bytes=usable,
        plannable_bytes=plannable,
        guaranteed_failures=layout.guaranteed_failures(members.count),
        max_failures=layout.max_failures(members.count),
        members=members.count,
        waterfall=_steps(levels),
    )


def filesystem_taken_percent(
    layout: Layout, filesystem: str | None = None, measured_percent: Decimal | None = None
) -> Decimal:
    """What the filesystem keeps for itself, percent: the measured one, else its usual."""
    chosen = default_filesystem(layout) if filesystem is None else filesystem
    if chosen not in FILESYSTEM_PERCENT:
        raise Refused("filesystem", chosen, "one of " + " ".join(FILESYSTEM_PERCENT))
    return FILESYSTEM_PERCENT[chosen] if measured_percent is None else measured_percent


def _steps(levels: list[tuple[str, Whole]]) -> tuple[Step, ...]:
    """Levels as a waterfall: the first whole, the others as the change from the level before."""
    before = [0] + [level for _, level in levels]
    return tuple(Step(name, level - old) for (name, level), old in zip(levels, before, strict=False))


def _less(amount_bytes: Whole, percent: Decimal) -> Whole:
    """``amount_bytes`` less ``percent`` of it, floored to a byte."""
    left = 1 - Fraction(percent) / 100
    return scaled(amount_bytes, left.numerator, left.denominator)


def _layout_levels(
    layout: Layout, members: DriveSet, record_bytes: int, sector_bytes: int
) -> list[tuple[str, Whole]]:
    """Bytes left after size mismatch, redundancy, padding and pool reserve."""
    matched = matched_bytes(layout, members)
    data = data_bytes(layout, members)
    padded = reserved = data
    if layout.family is Family.COPY_ON_WRITE:
        padded = copy_on_write_bytes(matched, members.count, layout.parity, record_bytes, sector_bytes)
        reserved = padded - least(padded // POOL_RESERVE_PART, POOL_RESERVE_MOST_BYTES)
    return [
        ("size_mismatch", matched),
        ("redundancy", data),
        ("padding", padded),
        ("pool_reserve", reserved),
    ]


def matched_bytes(layout: Layout, members: DriveSet) -> Whole:
    """Bytes that take part in the layout; what is left over on larger drives is wasted.

    Equal-member layouts use the smallest member of each.
    """
    if layout.family in (Family.SPAN, Family.FILEWISE):
        return members.total_bytes
    if layout.family is Family.LAYERED:
        return sum(pick(m > layout.parity, h * m, 0) for h, m in members.steps())
    return members.smallest_bytes * members.count


def data_bytes(layout: Layout, members: DriveSet) -> Whole:
    """Bytes left for data once copies or parity are taken."""
    match layout.family:
        case Family.SPAN:
            return members.total_bytes
        case Family.FILEWISE:
            # The largest drives hold parity: each must be at least as large as any data drive.
            return members.without_largest(layout.parity).total_bytes
        case Family.LAYERED:
            p = layout.parity
            return sum(pick(m > p, h * (m - p), 0) for h, m in members.steps())
        case Family.MIRROR:
            return members.smallest_bytes
        case Family.STRIPED_MIRROR:
            return members.smallest_bytes * layout.mirror_groups(members.count)
    return members.smallest_bytes * (members.count - layout.groups * layout.parity)


def copy_on_write_bytes(
    pool_bytes: Whole, members: Whole, parity: int, record_bytes: int, sector_bytes: int
) -> Whole:
    """Data bytes of a copy-on-write parity pool of ``pool_bytes``, written in full records.

    A record of D sectors takes D + p·ceil(D / (n − p)) sectors, rounded up to a multiple of p + 1,
    so that no gap is left too small to be used.
    """
    data = record_bytes // sector_bytes
    taken = data + parity * -(-data // (members - parity))
    taken = taken + -taken % (parity + 1)
    return scaled(pool_bytes, data, taken)


def _check(drives: Whole, spares: Whole, headroom: Decimal, snapshots: Decimal) -> None:
    wrong = (spares < 0) | (spares >= drives)
    if is_many(wrong):
        if wrong.any():
            raise Refused("spares", None, "fewer spares than drives in every set, and none below 0")
    elif wrong:
        raise Refused("spares", spares, f"a whole number from 0 to {drives - 1}")
    for field, percent in (("headroom", headroom), ("snapshot reserve", snapshots)):
        if not (percent.is_finite() and 0 <= percent < 100):
            raise Refused(field, str(percent), "a percentage from 0 to below 100")


def _check_record(record_bytes: int, sector_bytes: int) -> None:
    if not 512 <= sector_bytes <= 64 * KIB:
        raise Refused("sector", f"{sector_bytes} B", "a size from 512 B to 64KiB")
    if record_bytes % sector_bytes or not sector_bytes <= record_bytes <= 16 * MIB:
        raise Refused(
            "record",
            f"{record_bytes} B",
            f"a multiple of the sector ({sector_bytes} B) up to 16MiB",
        )
