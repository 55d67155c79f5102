"""A pool of a plan: drives under one layout, where they sit, where they come from, what is kept free."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints

from larder.base.errors import Refused
from larder.base.fields import Amount, DriveBytes, DriveBytesPerS, DriveSet, Item, Name, Number, labelled
from larder.base.units import parse_drives, size_text
from larder.laws.layout import Family, parse_layout
from larder.laws.pool import Keeping

from .bays import Bay, Bays, parse_bays


def _layout_name(value: str) -> str:
    return parse_layout(value).name


LayoutName = Annotated[str, StringConstraints(max_length=20), AfterValidator(_layout_name)]


class Pool(Item):
    """Drives under one layout: a number of equal ones or, where ``mixed_sizes`` is given, that set.

    ``drive_id`` is their class in the catalogue, empty where it has none; the figures that stand here are
    the pool's own and win. ``spares_of`` is another pool whose hot spares stand in here as well. Of equal
    drives, spares and the parity drives of a whole-file pool may be larger.
    """

    name: Annotated[Name, labelled("Pool")]
    tier: Annotated[Literal["work", "archive"], labelled("Holds")] = "work"
    drive_id: Annotated[str, StringConstraints(max_length=40), labelled("Class of drive")] = ""
    drive_count: Annotated[int, Field(ge=1, le=500), labelled("Drives")]
    drive_bytes: Annotated[DriveBytes, labelled("Size each", "TB", 1)]
    mixed_sizes: Annotated[DriveSet, labelled("Mixed sizes instead")] = ""
    spare_bytes: Annotated[DriveBytes | None, labelled("Size of a spare", "TB", 1)] = None
    parity_bytes: Annotated[DriveBytes | None, labelled("Size of a parity drive", "TB", 1)] = None
    drive_kind: Annotated[Literal["hdd", "ssd"], labelled("Kind")] = "hdd"
    drive_read_bytes_per_s: Annotated[DriveBytesPerS, labelled("Read rate each", "MB/s", 10)]
    drive_write_bytes_per_s: Annotated[DriveBytesPerS, labelled("Write rate each", "MB/s", 10)]
    scaling_exponent: Annotated[
        Number | None, Field(ge=0, le=1), labelled("Drives pull together, measured", "exponent", 0.05)
    ] = None
    drive_unit_price: Annotated[Amount | None, labelled("Price each", "money", 5)] = None
    layout: Annotated[LayoutName, labelled("Layout")]
    spares: Annotated[int, Field(ge=0, le=50), labelled("Hot spares")] = 0
    spares_of: Annotated[str, StringConstraints(max_length=40), labelled("Shares the spares of")] = ""
    filesystem: Annotated[Literal["journal", "cow", "none"], labelled("Filesystem")] = "journal"
    snapshot_reserve_percent: Annotated[Number, Field(ge=0, lt=100), labelled("Snapshot reserve", "%", 1)] = (
        0.0
    )
    filesystem_percent: Annotated[
        Number | None, Field(ge=0, lt=100), labelled("Filesystem takes, measured", "%", 0.5)
    ] = None
    headroom_percent: Annotated[Number, Field(ge=0, lt=100), labelled("Free-space headroom", "%", 1)] = 20.0
    bays: Bays = ""
    cold_spares: Annotated[int, Field(ge=0, le=100), labelled("Spares on the shelf")] = 0
    batches: Annotated[int, Field(ge=0, le=500), labelled("Bought in so many batches")] = 0
    are_used: Annotated[bool, labelled("Used drives")] = False
    reused_drives: Annotated[int, Field(ge=0, le=600), labelled("Of them from stock, costing nothing")] = 0
    surface_tested: Annotated[bool, labelled("Surface tested")] = False
    hours_run: Annotated[int, Field(ge=0, le=500_000), labelled("Hours run, at most", "h", 1000)] = 0

    @property
    def drives_bytes(self) -> tuple[int, ...]:
        """The size of every drive: data first, then parity of a whole-file pool, spares last."""
        if self.mixed_sizes:
            return tuple(sorted(parse_drives(self.mixed_sizes)))
        parities = self._parities if self.parity_bytes else 0
        return (
            (self.drive_bytes,) * (self.drive_count - self.spares - parities)
            + (self.parity_bytes or 0,) * parities
            + (self.spare_bytes or max(self.drive_bytes, self.parity_bytes or 0),) * self.spares
        )

    @property
    def members_bytes(self) -> tuple[int, ...]:
        """Those of the drives that are no spares."""
        drives = self.drives_bytes
        return drives[: len(drives) - self.spares]

    @property
    def placed(self) -> tuple[Bay, ...]:
        """The bays that hold one of its drives, in their order; those beyond are kept for growth."""
        return parse_bays(self.bays)[: len(self.drives_bytes)]

    @property
    def final_count(self) -> int:
        """How many drives it has once the bays that are kept for its growth are filled."""
        return max(len(self.drives_bytes), len(parse_bays(self.bays)))

    @property
    def bought_drives(self) -> int:
        """How many of its drives, with those on the shelf, do not come from stock."""
        return max(len(self.drives_bytes) + self.cold_spares - self.reused_drives, 0)

    @property
    def _parities(self) -> int:
        layout = parse_layout(self.layout)
        return layout.parity if layout.family is Family.FILEWISE else 0

    def check(self) -> None:
        count = len(parse_drives(self.mixed_sizes)) if self.mixed_sizes else self.drive_count
        members = count - self.spares
        if members < 1:
            raise Refused("spares", self.spares, f"a whole number from 0 to {count - 1}")
        try:
            parse_layout(self.layout).check_members(members)
        except Refused as refused:
            field, value = ("mixed_sizes", self.mixed_sizes) if self.mixed_sizes else ("drive_count", count)
            raise Refused(field, value, _besides(refused, self.spares)) from None
        self._check_larger_ones()
        if self.reused_drives > count + self.cold_spares:
            wanted = f"at most {count + self.cold_spares}, as many as there are with those on the shelf"
            raise Refused("reused_drives", self.reused_drives, wanted)

    def _check_larger_ones(self) -> None:
        """Parity of whole files covers any data drive; a spare replaces any member."""
        for field in ("parity_bytes", "spare_bytes"):
            if self.mixed_sizes and getattr(self, field) is not None:
                wanted = "nothing beside mixed sizes: of those the largest drives serve as parity and spares"
                raise Refused(field, getattr(self, field), wanted)
        if self.parity_bytes is not None and not self._parities:
            wanted = "nothing: only a whole-file layout keeps parity on drives of its own"
            raise Refused("parity_bytes", self.parity_bytes, wanted)
        if self.parity_bytes is not None and self.parity_bytes < self.drive_bytes:
            wanted = f"at least the size of a data drive, {size_text(self.drive_bytes)}"
            raise Refused("parity_bytes", size_text(self.parity_bytes), wanted)
        largest = max(self.drive_bytes, self.parity_bytes or 0)
        if self.spare_bytes is not None and self.spare_bytes < largest:
            wanted = (
                f"at least the size of the largest member, {size_text(largest)}, so that it can replace any"
            )
            raise Refused("spare_bytes", size_text(self.spare_bytes), wanted)


def _besides(refused: Refused, spares: int) -> str:
    return refused.accepted + (
        f" (there {'is 1 spare' if spares == 1 else f'are {spares} spares'})" if spares else ""
    )


def layout_fields(pool: Pool, layout: str, filesystem: str) -> dict[str, object]:
    """What changes with another layout: a size of parity drives goes where no drive is parity alone."""
    changes: dict[str, object] = {"layout": layout, "filesystem": filesystem}
    if pool.parity_bytes is not None and parse_layout(layout).family is not Family.FILEWISE:
        changes["parity_bytes"] = None
    return changes


def keeping_of(pool: Pool, *, slot_bytes_per_s: float | None = None, rebuild_share: float = 0.3) -> Keeping:
    """What the pool keeps free and takes for itself, as the laws want it."""
    return Keeping(
        filesystem=pool.filesystem,
        filesystem_percent=None if pool.filesystem_percent is None else Decimal(str(pool.filesystem_percent)),
        headroom_percent=Decimal(str(pool.headroom_percent)),
        snapshot_reserve_percent=Decimal(str(pool.snapshot_reserve_percent)),
        slot_bytes_per_s=float("inf") if slot_bytes_per_s is None else slot_bytes_per_s,
        rebuild_share=rebuild_share,
    )
