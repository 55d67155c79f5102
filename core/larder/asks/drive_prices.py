"""What a TB costs: every class of drive with the bay it takes, and flash against disks behind a cache.

Drives that are new, used or taken apart stand on the same line: by their price, and by what five years of
them cost with those that die outside of their warranty.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from decimal import Decimal
from typing import Literal, NamedTuple

from pydantic import ValidationError

from larder.base.results import Result
from larder.base.units import TB
from larder.laws.deaths import deaths_percent, replaced_price
from larder.plan.bundle import Bundle
from larder.plan.caches import Cache
from larder.plan.catalogue import CatalogueDrive
from larder.plan.pools import Pool
from larder.stages.caches import cache_stage
from larder.stages.costs import MONTHS
from larder.stages.loads import LOADS
from larder.stages.need import NEED
from larder.stages.pool import pool_stage
from larder.stages.pool_setting import PoolSetting
from larder.stages.prices import PRICES
from larder.stages.registry import PARTS
from larder.stages.stage import Judged, judge
from larder.stages.tiers import TIERS, cache_demand, plain

CENT = Decimal("0.01")
FLASH_LAYOUT, DISK_LAYOUT, MOST_FLASH, MOST_DISKS = "raid5", "raid6", 24, 36


class DrivePrice(Result):
    """One class; per TB it holds, raw. Null where there is no price.

    ``bay_price`` is what a bay in the plan's boxes costs; ``five_years_per_tb`` adds drives that die outside
    of the warranty. ``surface_test_hours`` is one reading and one writing of all of it, which used ones want.
    """

    drive_id: str
    name: str
    kind: Literal["hdd", "ssd"]
    condition: Literal["new", "used", "taken apart"]
    size_bytes: int
    price: Decimal | None
    priced_on: date | None
    bay_price: Decimal | None
    per_tb: Decimal | None
    per_tb_with_bay: Decimal | None
    five_years_per_tb: Decimal | None
    warranty_years: float
    hours_run: int
    surface_test_hours: float
    is_used_here: bool


def bay_price_of(judged: Judged) -> Decimal | None:
    """The mean price of a bay in the boxes that have one; None where none has."""
    plan, tiers = judged.bundle.plan, judged.of(TIERS)
    pairs = zip(plan.boxes, tiers.enclosures, strict=True)
    priced = [(box, result.price) for box, result in pairs if result.price and not box.is_reused]
    bays = sum(box.bays + box.flash_slots for box, _ in priced)
    return (sum((price for _, price in priced), Decimal(0)) / bays).quantize(CENT) if bays else None


def drive_prices(judged: Judged) -> tuple[DrivePrice, ...]:
    """Every class of the catalogue, the cheapest per TB with its bay first, what has no price last."""
    prices, bay = judged.of(PRICES), bay_price_of(judged)
    used = {pool.drive_id for pool in judged.bundle.plan.pools}
    rows = []
    for drive in judged.bundle.catalogue.drives:
        listed = prices.get(drive.id)
        price = listed.amount if listed else None
        tb = Decimal(drive.size_bytes) / TB
        seconds = drive.size_bytes * (1 / drive.read_bytes_per_s + 1 / drive.write_bytes_per_s)
        # Portable drives take no bay.
        takes = Decimal(0) if drive.duty == "portable" else bay
        rows.append(
            DrivePrice(
                drive_id=drive.id,
                name=drive.name,
                kind=drive.kind,
                condition=drive.condition,
                size_bytes=drive.size_bytes,
                price=price,
                priced_on=listed.priced_on if listed else None,
                bay_price=takes,
                per_tb=_each(price, tb),
                per_tb_with_bay=None if price is None or takes is None else _each(price + takes, tb),
                five_years_per_tb=_each(_five_years(judged.bundle, drive, price), tb),
                warranty_years=drive.warranty_years,
                hours_run=drive.hours_run,
                surface_test_hours=seconds / 3600 if drive.condition != "new" else 0.0,
                is_used_here=drive.id in used,
            )
        )
    return tuple(sorted(rows, key=lambda row: (row.price is None, row.per_tb_with_bay or row.per_tb or 0)))


def _each(amount: Decimal | None, tb: Decimal) -> Decimal | None:
    return None if amount is None else (amount / tb).quantize(CENT)


def _five_years(bundle: Bundle, drive: CatalogueDrive, price: Decimal | None) -> Decimal | None:
    """A drive and, of a drive more, as many as die in five years outside of the warranty."""
    if price is None:
        return None
    rules = bundle.house_rules
    own = drive.failures_per_year_percent
    percent = deaths_percent(drive.kind, rules.usual_deaths, own, drive.hours_run)
    return price * Decimal(str(1 + replaced_price(percent, 1.0, drive.warranty_years, MONTHS)))


class BuiltPool(Result):
    """A pool that serves the work: drives, what they deliver together, price of drives with their bays."""

    words: str
    drives: int
    plannable_bytes: int
    read_bytes_per_s: float
    price: Decimal
    per_tb: Decimal


class FlashOrDisks(Result):
    """The cheapest flash pool, and the cheapest disks behind flash, that hold and deliver what is asked.

    Null where the priced classes make none.
    """

    hold_bytes: int
    read_bytes_per_s: float
    write_bytes_per_s: float
    flash: BuiltPool | None
    disks: BuiltPool | None
    sentence: str


class _Asked(NamedTuple):
    hold_bytes: float
    read_bytes_per_s: float
    write_bytes_per_s: float
    streams: int


def flash_or_disks(bundle: Bundle) -> FlashOrDisks:
    """Both built for the same: what is hot at once, at the load that the house sizes on."""
    judged = judge(bundle, PARTS)
    loads = judged.of(LOADS)
    streams = max((pool.streams for pool in judged.of(TIERS).pools if pool.tier == "work"), default=1)
    asked = _Asked(
        judged.of(NEED).working_set_bytes,
        loads.read.sized_bytes_per_s,
        loads.write.sized_bytes_per_s,
        streams,
    )
    bay = bay_price_of(judged) or Decimal(0)
    flash = min(_flash(judged, asked, bay), key=lambda built: built.price, default=None)
    disks = min(_disks(judged, asked, bay), key=lambda built: built.price, default=None)
    return FlashOrDisks(
        hold_bytes=round(asked.hold_bytes),
        read_bytes_per_s=asked.read_bytes_per_s,
        write_bytes_per_s=asked.write_bytes_per_s,
        flash=flash,
        disks=disks,
        sentence=_sentence(flash, disks),
    )


def _pool(drive: CatalogueDrive, layout: str, count: int) -> Pool | None:
    try:
        return Pool.model_validate(
            {
                "id": "tried", "name": "Tried", "layout": layout, "drive_count": count,
                "drive_bytes": drive.size_bytes, "drive_kind": drive.kind, "drive_id": drive.id,
                "drive_read_bytes_per_s": drive.read_bytes_per_s,
                "drive_write_bytes_per_s": drive.write_bytes_per_s,
            }
        )  # fmt: skip
    except ValidationError:
        return None


def _flash(judged: Judged, asked: _Asked, bay: Decimal) -> Iterator[BuiltPool]:
    prices = judged.of(PRICES)
    for drive in judged.bundle.catalogue.drives:
        if drive.kind != "ssd" or drive.id not in prices or drive.duty == "portable":
            continue
        for count in range(3, MOST_FLASH + 1):
            pool = _pool(drive, FLASH_LAYOUT, count)
            if pool is None:
                continue
            result = pool_stage(pool, asked.streams, PoolSetting(drive=drive))
            is_enough = result.plannable_bytes >= asked.hold_bytes
            is_quick = result.read.middle_bytes_per_s >= asked.read_bytes_per_s
            if is_enough and is_quick and result.write.middle_bytes_per_s >= asked.write_bytes_per_s:
                price = (prices[drive.id].amount + bay) * count
                yield _built(f"{count} × {drive.name}", count, result.plannable_bytes,
                             result.read.middle_bytes_per_s, price)  # fmt: skip
                break


def _disks(judged: Judged, asked: _Asked, bay: Decimal) -> Iterator[BuiltPool]:
    prices, demand = judged.of(PRICES), cache_demand(judged)
    classes = [drive for drive in judged.bundle.catalogue.drives if drive.id in prices]
    caches = [
        (drive, prices[drive.id].amount)
        for drive in classes
        if drive.kind == "ssd" and drive.interface == "nvme" and drive.duty != "portable"
    ]
    for drive in classes:
        if drive.kind != "hdd" or drive.duty == "portable":
            continue
        for count in range(4, MOST_DISKS + 1):
            pool = _pool(drive, DISK_LAYOUT, count)
            if pool is None:
                continue
            bare = pool_stage(pool, asked.streams, PoolSetting(drive=drive))
            if bare.plannable_bytes < asked.hold_bytes:
                continue
            found = []
            for flash, each in caches:
                cache = Cache(
                    id="tried-cache", name="Tried", pool_id="tried", mode="write-back", drive_count=2,
                    is_mirrored=True, drive_bytes=flash.size_bytes, read_bytes_per_s=flash.read_bytes_per_s,
                    write_bytes_per_s=flash.write_bytes_per_s,
                )  # fmt: skip
                _, read, write = cache_stage(cache, each, plain(bare.read), plain(bare.write), demand)
                if read.middle >= asked.read_bytes_per_s and write.middle >= asked.write_bytes_per_s:
                    price = (prices[drive.id].amount + bay) * count + 2 * (each + bay)
                    words = f"{count} × {drive.name}, behind 2 × {flash.name}"
                    found.append(_built(words, count + 2, bare.plannable_bytes, read.middle, price))
            if found:
                yield min(found, key=lambda built: built.price)
                break


def _built(words: str, drives: int, plannable: int, read: float, price: Decimal) -> BuiltPool:
    return BuiltPool(
        words=words,
        drives=drives,
        plannable_bytes=plannable,
        read_bytes_per_s=read,
        price=price.quantize(CENT),
        per_tb=(price * TB / plannable).quantize(CENT),
    )


def _sentence(flash: BuiltPool | None, disks: BuiltPool | None) -> str:
    if flash is None and disks is None:
        return "No priced class of drive makes either: type prices in the catalogue."
    if disks is None:
        return "No disks behind a cache deliver it; flash does."
    if flash is None:
        return "No flash pool of the priced classes holds it; disks behind a cache do."
    if flash.price <= disks.price:
        return "Flash alone is no dearer here, and has no cache that could miss."
    times = disks.per_tb and flash.per_tb / disks.per_tb
    return f"Disks behind a cache cost less; a TB on flash costs ×{times:.1f} of one on them."
