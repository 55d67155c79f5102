"""The schools of the trade: what each builds, whom it fits, and which designs are of it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from larder.laws.layout import Family
from larder.plan.catalogue import CatalogueBox
from larder.plan.ports import SPEEDS

from .design import Design, KeepingOption
from .field import Field, Mask
from .halves import BoxTable
from .options import Options

SELF_BUILT_CARDS = ("controller card", "flash carrier")
BLOCK_PARITY = (Family.PARITY, Family.PARITY_GROUPS, Family.LAYERED)
STRIPES_AND_MIRRORS = (Family.MIRROR, Family.STRIPED_MIRROR, Family.STRIPE)
FAST_NETWORK = "25GbE"


@dataclass(frozen=True)
class School:
    """One school. ``field`` says in which fields its designs are, ``rows`` which of a table's rows are its.

    Those of ``by_hand`` are no matter of the catalogue, and have their own way to be tried. ``any_half``: one
    half of a design is enough to make it one of the school.
    """

    id: str
    number: int
    name: str
    fits: str
    field: Callable[[Field], bool] = lambda _: False
    rows: Callable[[Options, BoxTable], Mask] = lambda _, table: np.ones(len(table), bool)
    keeping: Callable[[KeepingOption], bool] = lambda _: True
    by_hand: bool = False
    any_half: bool = False

    def masks(self, field: Field) -> Iterator[tuple[Mask, ...]]:
        """Its rows of each table of a field; where any half may be its, once for each half."""
        options = field.ground.choices.options
        own = tuple(self.rows(options, table) for table in field.tables)
        if not self.any_half:
            yield own
            return
        every = tuple(np.ones(len(table), bool) for table in field.tables)
        for which, mask in enumerate(own):
            yield (*every[:which], mask, *every[which + 1 :])


def is_self_built(box: CatalogueBox) -> bool:
    """Whether its class is put together by whoever uses it: with cards of its own, or a cooler to buy."""
    return not box.brings_cooler or any(card.holds in SELF_BUILT_CARDS for card in box.cards)


def _by_box(options: Options, table: BoxTable, says: Callable[[int], bool]) -> Mask:
    """Rows by their box, which is asked for each class once."""
    result = np.array([says(at) for at in range(len(options.boxes))])
    found: Mask = result[table.box_at]
    return found


def _disks_under(options: Options, table: BoxTable, families: tuple[Family, ...]) -> Mask:
    """Rows whose pools of disks are all under one of these layouts; flash may be under any."""
    under = np.array([layout.family in families for layout in options.layouts])
    is_disk = np.array([drive.model.kind == "hdd" for drive in options.drives])
    found = np.ones(len(table), bool)
    for pool in table.pools:
        found &= under[pool.layout_at] | ~is_disk[pool.drive_at]
    return found


def _span(options: Options, table: BoxTable) -> Mask:
    return _disks_under(options, table, (Family.SPAN,))


def _is_ready_made(options: Options, table: BoxTable) -> Mask:
    """Boxes that come whole, with no unit behind them."""
    return _by_box(
        options,
        table,
        lambda at: options.boxes[at].unit is None and not is_self_built(options.boxes[at].model),
    )


def _with_unit(options: Options, table: BoxTable) -> Mask:
    return _by_box(options, table, lambda at: options.boxes[at].unit is not None)


def _ready_made_parity(options: Options, table: BoxTable) -> Mask:
    return _is_ready_made(options, table) & _disks_under(options, table, BLOCK_PARITY)


def _self_built(options: Options, table: BoxTable) -> Mask:
    return _by_box(
        options,
        table,
        lambda at: options.boxes[at].unit is None and is_self_built(options.boxes[at].model),
    )


def _two_temperatures(options: Options, table: BoxTable) -> Mask:
    return _disks_under(options, table, (*BLOCK_PARITY, *STRIPES_AND_MIRRORS))


def _is_fast(field: Field) -> bool:
    speed = field.ground.choices.networks[field.network_at].speed
    return field.kinds == ("ssd",) and SPEEDS.index(speed) >= SPEEDS.index(FAST_NETWORK)


def _has_disks(field: Field) -> bool:
    return "hdd" in field.kinds


SCHOOLS: tuple[School, ...] = (
    School(
        "paired-portables", 1, "Paired portables",
        "One person and little growth: one fast drive to work on, two labelled ones, one of them elsewhere.",
        by_hand=True,
    ),
    School(
        "span-and-cloud", 2, "Span and cloud",
        "Cheapest per TB where a lost disk may cost days of fetching back; not for editing off.",
        field=lambda field: field.kinds == ("hdd",),
        rows=_span,
        keeping=lambda keeping: any(s.kind == "a service" for s in keeping.safekeeping.stores),
    ),
    School(
        "always-on-desktop", 3, "Always-on desktop, array",
        "A computer that serves files, takes in cards and is a spare workstation; few bays.",
        field=lambda field: len(field.kinds) == 1,
        rows=_with_unit,
    ),
    School(
        "turnkey-box", 4, "Turnkey box, striped parity",
        "A team without a technician: one box, bought whole, with a flash cache or none.",
        field=lambda field: field.kinds == ("hdd",),
        rows=_ready_made_parity,
    ),
    School(
        "two-temperatures", 5, "Two temperatures",
        "Editing on flash, projects retired to disks: quick where it counts, cheap where it piles up.",
        field=lambda field: len(field.kinds) == 2,
        rows=_two_temperatures,
    ),
    School(
        "self-built", 6, "Self-built server",
        "Somebody practised in the house: many bays, any drive, cards of one's own.",
        field=_has_disks,
        rows=_self_built,
    ),
    School(
        "whole-file-parity", 7, "Whole-file parity pool",
        "Disks of any size that are bought as they are needed; beyond its parity only dead disks' files go.",
        field=_has_disks,
        rows=lambda options, table: _disks_under(options, table, (Family.FILEWISE,)),
    ),
    School(
        "checksumming", 8, "Checksumming copy-on-write pool",
        "Long archives: what goes bad silently is found by its checksum and mended.",
        field=_has_disks,
        rows=lambda options, table: _disks_under(options, table, (Family.COPY_ON_WRITE,)),
    ),
    School(
        "all-flash", 9, "All flash, 25 GbE and up",
        "Many people who jump about in heavy footage at once.",
        field=_is_fast,
    ),
    School(
        "from-elsewhere", 10, "Working from elsewhere",
        "People far away: by a machine's picture, by proxies, or by the files, as the line allows.",
        by_hand=True,
    ),
)  # fmt: skip


def school_of(options: Options, field: Field, design: Design) -> School | None:
    """The school that a design is of: the first, of those that say most, whose rows it is one of."""
    boxes = [options.boxes[pool.box_at] for pool in design.pools]
    families = {p.layout.family for p in design.pools if options.drives[p.drive_at].model.kind == "hdd"}
    is_built = all(is_self_built(box.model) and box.unit is None for box in boxes)
    says = (
        ("whole-file-parity", Family.FILEWISE in families),
        ("checksumming", Family.COPY_ON_WRITE in families),
        ("self-built", is_built and bool(families)),
        ("always-on-desktop", any(box.unit for box in boxes)),
        ("two-temperatures", len(field.kinds) > 1),
        ("all-flash", _is_fast(field)),
        ("turnkey-box", bool(families)),
    )
    result = next((school_id for school_id, is_it in says if is_it), "")
    return next((school for school in SCHOOLS if school.id == result), None)
