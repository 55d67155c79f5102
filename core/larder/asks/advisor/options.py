"""What a design may be made of: classes of boxes and drives with a price, where drives go, which layouts.

A class without a price is no option, for nobody could say what it costs; it is named instead.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Hashable, Iterator, Sized
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Literal, NamedTuple, TypeVar

from larder.base.units import size_text
from larder.laws.deaths import deaths_percent
from larder.laws.layout import LAYOUTS, Family, Layout, parse_layout
from larder.laws.path import BUS_BYTES_PER_S
from larder.plan.bundle import Bundle, StockLot
from larder.plan.catalogue import Catalogue, CatalogueBox, CatalogueDrive, prices_on
from larder.plan.enclosure import Role, Slot, fits
from larder.plan.house_rules import HouseRules
from larder.stock.moving import NVME_BYTES_PER_S, OUTER_BYTES_PER_S

Tier = Literal["work", "archive"]
MOST_CLASSES, MOST_CACHES = 60, 24
"""Of drives and of boxes: with more the tables would fill a small server's memory."""
LONG_FROM = 200
"""Drives times boxes."""
MOST_MEMBERS = 40
"""Wider pools are made of groups, or of several pools; no advisor should propose one."""
SPARES = ((0, 0), (0, 1), (1, 0), (2, 0))
"""(hot, on the shelf)."""
GROUPS = (2, 3, 4)
WIDEST = {"raid5": 8, "raid6": 16, "triple": 24, "cow1": 8, "cow2": 16, "cow3": 24, "mirror": 3, "span": 24}
"""Members beyond which practitioners take another layout."""
MOST_IN_A_GROUP = 12


class BoxOption(NamedTuple):
    """A class of box, with the expansion unit that the drives sit in where they do not sit in it itself."""

    model: CatalogueBox
    price: Decimal
    unit: CatalogueBox | None = None
    unit_price: Decimal = Decimal(0)

    @property
    def holds_drives(self) -> CatalogueBox:
        """That of the two whose bays count."""
        return self.unit or self.model

    @property
    def words(self) -> str:
        return f"{self.model.name}, with {self.unit.name.lower()}" if self.unit else self.model.name


class DriveOption(NamedTuple):
    """A class of drive and its price; of those from ``lot`` the first cost nothing, as many as there are.

    Of ``only_lot`` no more can be bought: nothing of its kind and size has a price. Of a set of mixed
    ``sizes`` all are taken, or none.
    """

    model: CatalogueDrive
    price: Decimal
    lot: StockLot | None = None
    only_lot: bool = False
    sizes: tuple[int, ...] = ()

    def percent_dying(self, rules: HouseRules) -> float:
        """How many of a hundred die in a year."""
        own = self.model.failures_per_year_percent
        return deaths_percent(self.model.kind, rules.usual_deaths, own, self.model.hours_run)

    @property
    def in_stock(self) -> int:
        """The number of drives that there are."""
        return self.lot.count if self.lot else 0

    @property
    def most(self) -> int | None:
        """The number of drives that there can be, None for as many as one likes."""
        return self.in_stock if self.only_lot else None

    @property
    def mean_bytes(self) -> float:
        """The size of a drive, the mean of a set."""
        return sum(self.sizes) / len(self.sizes) if self.sizes else float(self.model.size_bytes)


class Place(NamedTuple):
    """So many bays or flash slots of one kind in a box, by its number among the options."""

    box_at: int
    slot: Slot
    places: int


class CacheChoice(NamedTuple):
    """Flash before a pool, in the flash slots of its box."""

    mode: Literal["read", "write-back", "staging"]
    drive_at: int
    drives: int
    is_mirrored: bool


@dataclass(frozen=True)
class Options:
    """All of it; ``left_out`` says what is no option and why."""

    boxes: tuple[BoxOption, ...]
    drives: tuple[DriveOption, ...]
    places: tuple[Place, ...]
    layouts: tuple[Layout, ...]
    caches: tuple[CacheChoice, ...]
    left_out: tuple[str, ...]

    @property
    def takes_long(self) -> bool:
        """Whether to look at all of it takes more than a few seconds."""
        return len(self.drives) * len(self.boxes) > LONG_FROM

    def takes_cache(self, box_at: int, layout: Layout, cache: CacheChoice) -> bool:
        """Whether a box has the flash slots for it; new files are staged before whole-file parity alone."""
        option = self.boxes[box_at]
        slots = Place(box_at, "flash slot", option.model.flash_slots)
        is_staged = layout.family is Family.FILEWISE
        return (
            option.unit is None
            and cache.drives <= slots.places
            and (cache.mode == "read" or (cache.mode == "staging") == is_staged)
            and self.takes(slots, self.drives[cache.drive_at].model, "cache")
        )

    def takes_member(self, place: Place, drive: DriveOption) -> bool:
        """Whether the box takes such a drive there as one of a pool, which in flash slots is a volume."""
        return self.takes(place, drive.model, "volume" if place.slot == "flash slot" else "pool")

    def takes(self, place: Place, drive: CatalogueDrive, role: Role) -> bool:
        """Whether the box takes such a drive there, by its wires and by its list."""
        box = self.boxes[place.box_at].holds_drives
        bus = box.slot_bus(place.slot)
        is_for_flash = place.slot == "flash slot" or bus.startswith("pcie")
        if drive.kind == "hdd" and is_for_flash:
            return False
        return fits(drive.interface, bus) and box.allowed(place.slot, role, drive.kind, drive.size_bytes)


def options_of(bundle: Bundle) -> Options:
    """What the catalogue of ``bundle`` allows on its day; of very many classes, those worth most."""
    prices = {item: price.amount for item, price in prices_on(bundle.catalogue.prices, bundle.as_of).items()}
    every_drive = tuple(DriveOption(d, prices[d.id]) for d in bundle.catalogue.drives if d.id in prices)
    reuse = bundle.plan.brief.limits.reuse
    lots = () if reuse == "not at all" else bundle.facts.stock.reusable
    every_drive += (*(_from_stock(lot, every_drive) for lot in lots), *_mixed_sets(lots))
    every_box = tuple(_boxes(bundle.catalogue, prices))
    drives = tuple(_fewer(every_drive, MOST_CLASSES, _drives_alike, lambda each: each.price))
    boxes = tuple(_fewer(every_box, MOST_CLASSES, _boxes_alike, lambda each: each.price + each.unit_price))
    every_cache = tuple(_caches(drives))
    caches = _fewer(
        every_cache,
        MOST_CACHES,
        lambda each: (each.mode, drives[each.drive_at].model.size_bytes),
        lambda each: drives[each.drive_at].price,
    )
    return Options(
        boxes=boxes,
        drives=drives,
        places=tuple(_places(boxes)),
        layouts=tuple(_layouts()),
        caches=(kept := tuple(caches)),
        left_out=(
            *_left_out(bundle.catalogue, prices, bundle.as_of),
            *_dearer("classes of drive of the same kind and size", every_drive, drives),
            *_dearer("boxes, or boxes with a unit, of the same form and bays", every_box, boxes),
            *_dearer("caches of the same size", every_cache, kept),
        ),
    )


T = TypeVar("T")


def _fewer(
    options: tuple[T, ...], most: int, alike: Callable[[T], Hashable], paid: Callable[[T], Decimal]
) -> Iterator[T]:
    """At most so many in their order: of those that are alike the cheaper ones."""
    before: Counter[Hashable] = Counter()
    ranked = []
    for at, option in sorted(enumerate(options), key=lambda each: paid(each[1])):
        ranked.append((before[alike(option)], paid(option), at))
        before[alike(option)] += 1
    kept = {at for _, _, at in sorted(ranked)[:most]}
    yield from (option for at, option in enumerate(options) if at in kept)


def _drives_alike(option: DriveOption) -> Hashable:
    drive = option.model
    return drive.kind, drive.interface, drive.duty, drive.size_bytes, option.lot is None


def _from_stock(lot: StockLot, priced: tuple[DriveOption, ...]) -> DriveOption:
    """Drives of a lot, with more of the cheapest class of their kind and size where it has a price."""

    def is_like(drive: CatalogueDrive) -> bool:
        same = (drive.kind, drive.interface, drive.size_bytes)
        is_built_for_it = drive.duty == "array" and drive.recording != "smr"
        return is_built_for_it and same == (lot.kind, lot.interface, lot.size_bytes)

    used = {"condition": "used", "hours_run": lot.hours_run}
    like = [option for option in priced if is_like(option.model)]
    if like:
        best = min(like, key=lambda option: option.price)
        return DriveOption(best.model.model_copy(update=used), best.price, lot)
    words = f"{size_text(lot.size_bytes)} {'disk' if lot.kind == 'hdd' else 'flash'} from stock"
    return DriveOption(_class_of(lot, f"lot-{lot.id}"[:40], words), Decimal(0), lot, only_lot=True)


def _class_of(lot: StockLot, class_id: str, name: str) -> CatalogueDrive:
    """A class for drives of which the catalogue knows none, at usual rates."""
    rate = float(OUTER_BYTES_PER_S[lot.kind] if lot.interface != "nvme" else NVME_BYTES_PER_S)
    return CatalogueDrive(
        id=class_id, name=name, kind=lot.kind, interface=lot.interface, size_bytes=lot.size_bytes,
        read_bytes_per_s=rate, write_bytes_per_s=rate, condition="used", hours_run=lot.hours_run,
    )  # fmt: skip


def _mixed_sets(lots: tuple[StockLot, ...]) -> Iterator[DriveOption]:
    """All drives of a kind and interface together, where they are of several sizes."""
    alike: dict[tuple[str, str], list[StockLot]] = {}
    for lot in lots:
        alike.setdefault((lot.kind, lot.interface), []).append(lot)
    for (kind, interface), some in alike.items():
        sizes = sorted(size for lot in some for size in [lot.size_bytes] * min(lot.count, MOST_MEMBERS))
        if len(set(sizes)) < 2 or len(sizes) > MOST_MEMBERS:
            continue
        whole = some[0].model_copy(
            update={
                "count": len(sizes),
                "size_bytes": max(sizes),
                "hours_run": max(lot.hours_run for lot in some),
                "surface_tested": all(lot.surface_tested for lot in some),
            }
        )
        what = "Disks" if kind == "hdd" else "Flash drives"
        mixed = _class_of(whole, f"set-{kind}-{interface}", f"{what} from stock, {interface}, mixed sizes")
        yield DriveOption(mixed, Decimal(0), whole, only_lot=True, sizes=tuple(sizes))


def _boxes_alike(option: BoxOption) -> Hashable:
    return option.model.form, option.unit is None, option.holds_drives.bays


def _dearer(what: str, every: Sized, kept: Sized) -> Iterator[str]:
    if len(every) > len(kept):
        yield f"{len(every) - len(kept)} dearer {what}: {len(kept)} are looked at"


def _boxes(catalogue: Catalogue, prices: dict[str, Decimal]) -> Iterator[BoxOption]:
    """Boxes with their own bays; and those that can serve with an expansion unit behind them."""
    hosts = [box for box in catalogue.boxes if box.form != "expansion unit" and box.id in prices]
    units = [box for box in catalogue.boxes if box.form == "expansion unit" and box.id in prices]
    yield from (BoxOption(box, prices[box.id]) for box in hosts)
    for host in hosts:
        for unit in units:
            if joins(host, unit):
                yield BoxOption(host, prices[host.id], unit, prices[unit.id])


def joins(host: CatalogueBox, unit: CatalogueBox) -> bool:
    """Whether an expansion unit finds its bus at a box: a USB port, or a controller card for SAS."""
    if unit.shared_bus.startswith("usb"):
        carried = BUS_BYTES_PER_S[unit.shared_bus]
        return any(port.startswith("usb") and BUS_BYTES_PER_S[port] >= carried for port in host.ports.split())
    return unit.shared_bus == "sas3" and any(card.holds == "controller card" for card in host.cards)


def _places(boxes: tuple[BoxOption, ...]) -> Iterator[Place]:
    for at, option in enumerate(boxes):
        yield Place(at, "bay", option.holds_drives.bays)
        if option.unit is None and option.model.flash_slots:
            yield Place(at, "flash slot", option.model.flash_slots)


def _layouts() -> Iterator[Layout]:
    """Every layout; layers are for mixed sizes, which nobody buys new."""
    yield from LAYOUTS.values()
    for name in ("raid50", "raid60"):
        yield from (parse_layout(f"{name}:{groups}") for groups in GROUPS)


def _caches(drives: tuple[DriveOption, ...]) -> Iterator[CacheChoice]:
    """A drive that only reads hit; a mirrored pair for what is staged or, keeping its power, written back."""
    for at, option in enumerate(drives):
        drive = option.model
        if option.lot is None and drive.kind == "ssd" and drive.duty != "portable":
            yield CacheChoice("read", at, 1, is_mirrored=False)
            if drive.keeps_power:
                yield CacheChoice("write-back", at, 2, is_mirrored=True)
            yield CacheChoice("staging", at, 2, is_mirrored=True)


def widths(layout: Layout, most: int) -> range:
    """Numbers of equal members that practitioners put under a layout, up to ``most``."""
    if layout.family is Family.LAYERED:
        return range(0)
    widest = WIDEST.get(layout.name, MOST_MEMBERS)
    if layout.family is Family.PARITY_GROUPS:
        widest = layout.groups * MOST_IN_A_GROUP
    return range(layout.fewest_members, min(most, widest) + 1, layout.unit)


def is_sound(layout: Layout, drive: CatalogueDrive) -> bool:
    """Whether such a drive may be put under such a layout in a box that runs day and night."""
    if drive.duty == "portable" or (drive.kind == "hdd" and drive.duty == "desktop"):
        return False
    if drive.kind == "ssd" and layout.family in (Family.FILEWISE, Family.SPAN):
        # Whole files on single drives give away what flash is bought for.
        return False
    return not (drive.recording == "smr" and layout.parity)


def _left_out(catalogue: Catalogue, prices: dict[str, Decimal], as_of: date) -> Iterator[str]:
    unpriced = [drive.name for drive in catalogue.drives if drive.id not in prices]
    unpriced += [box.name for box in catalogue.boxes if box.id not in prices]
    if unpriced:
        listed = "; ".join(unpriced[:6]) + (f" and {len(unpriced) - 6} more" if len(unpriced) > 6 else "")
        yield f"Without a price on {as_of}: {listed}"
