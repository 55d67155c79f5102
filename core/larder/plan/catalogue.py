"""The catalogue of a plan: formats, classes of drives and boxes, and the studio's dated price list.

A class has no maker: "18 TB disk, 7200 rpm, array class" is enough. A pool may refer to a class of drive and
a box to a class of box; what they are made of then stands in the plan, and the price in the list.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal, get_args

from pydantic import Field

from larder.base.fields import (
    Amount,
    Currency,
    Day,
    DistinctIds,
    DriveBytes,
    DriveBytesPerS,
    Item,
    ItemId,
    Name,
    Number,
    SizeBytes,
    Value,
    labelled,
)
from larder.laws.device import (
    INNER_TO_OUTER_RATIO,
    MECHANICS,
    REVOLUTION_SECONDS,
    SEEK_SECONDS,
    Mechanics,
    disk_mechanics,
)

from .enclosure import Enclosure, Interface
from .formats import Format
from .vocabulary import DriveClass, Recording

Listing = Literal["drives", "boxes", "prices"]
LISTINGS: tuple[Listing, ...] = get_args(Listing)
"""What a catalogue lists besides formats, which are a brief's own."""


class CatalogueDrive(Item):
    """A class of drive: domain parameters of disks and flash; 0 or null is not known.

    Rates are those of the outer tracks for disks and the sustained ones for flash; ``fast_write_bytes`` is
    the region that flash writes at ``fast_write_bytes_per_s`` before it falls to the sustained rate.
    """

    name: Annotated[Name, labelled("Class of drive")]
    kind: Annotated[Literal["hdd", "ssd"], labelled("Kind")] = "hdd"
    interface: Annotated[Interface, labelled("Interface")] = "sata"
    duty: Annotated[DriveClass, labelled("Built as")] = "array"
    size_bytes: Annotated[DriveBytes, labelled("Size", "TB", 1)]
    read_bytes_per_s: Annotated[DriveBytesPerS, labelled("Reads", "MB/s", 10)]
    write_bytes_per_s: Annotated[DriveBytesPerS, labelled("Writes, sustained", "MB/s", 10)]
    fast_write_bytes_per_s: Annotated[DriveBytesPerS | None, labelled("Writes at first", "MB/s", 10)] = None
    fast_write_bytes: Annotated[SizeBytes, labelled("Fast region", "GB", 10)] = 0
    recording: Annotated[Recording, labelled("Recording")] = "unknown"
    unreadable_per_bit: Annotated[
        Number | None, Field(ge=0, lt=1), labelled("Unreadable, per bit read", "", 1e-15)
    ] = None
    failures_per_year_percent: Annotated[
        Number | None, Field(ge=0, le=100), labelled("Fail in a year", "%", 0.1)
    ] = None
    workload_bytes_per_year: Annotated[SizeBytes, labelled("Rated to move a year", "TB", 10)] = 0
    endurance_bytes: Annotated[SizeBytes, labelled("Rated to write", "TB", 100)] = 0
    keeps_power: Annotated[bool, labelled("Power-loss protection")] = False
    inner_ratio: Annotated[
        Number | None, Field(ge=0.1, le=1), labelled("Inner tracks, of the outer rate", "×", 0.05)
    ] = None
    seek_ms: Annotated[Number | None, Field(gt=0, le=100), labelled("Seek", "ms", 0.5)] = None
    turn_ms: Annotated[Number | None, Field(gt=0, le=100), labelled("One turn", "ms", 0.5)] = None
    operations_per_s: Annotated[
        Number | None, Field(gt=0, le=10**7), labelled("Random operations a second", "", 1000)
    ] = None
    hottest_c: Annotated[Number | None, Field(ge=0, le=120), labelled("Hottest", "°C", 1)] = None
    idle_watts: Annotated[Number, Field(ge=0, le=100), labelled("Idle", "W", 0.5)] = 0.0
    active_watts: Annotated[Number, Field(ge=0, le=100), labelled("At work", "W", 0.5)] = 0.0
    spin_up_watts: Annotated[Number, Field(ge=0, le=100), labelled("Spinning up", "W", 1)] = 0.0
    noise_dba: Annotated[Number, Field(ge=0, le=120), labelled("Noise", "dB(A)", 1)] = 0.0
    mass_g: Annotated[Number, Field(ge=0, le=10_000), labelled("Mass", "g", 10)] = 0.0
    delivery_days: Annotated[int | None, Field(ge=0, le=1000), labelled("Delivered in", "days", 1)] = None
    condition: Annotated[Literal["new", "used", "taken apart"], labelled("Condition")] = "new"
    hours_run: Annotated[int, Field(ge=0, le=500_000), labelled("Hours run", "h", 1000)] = 0
    warranty_years: Annotated[Number, Field(ge=0, le=20), labelled("Warranty", "years", 0.5)] = 0.0

    @property
    def mechanics(self) -> Mechanics:
        """How it gets at its bytes, by its own figures where they are said."""
        usual = MECHANICS[self.kind]
        if self.kind == "hdd":
            usual = disk_mechanics(
                INNER_TO_OUTER_RATIO if self.inner_ratio is None else self.inner_ratio,
                SEEK_SECONDS if self.seek_ms is None else self.seek_ms / 1000,
                REVOLUTION_SECONDS if self.turn_ms is None else self.turn_ms / 1000,
            )
        return replace(usual, operations_per_s=self.operations_per_s or usual.operations_per_s)


class CatalogueBox(Enclosure, Item):
    """A class of box."""


class Price(Item):
    """What a class costs on a day; the list keeps older prices, so that a plan's date decides."""

    item_id: Annotated[ItemId, labelled("Class")]
    amount: Annotated[Amount, labelled("Price each", "money", 5)]
    currency: Annotated[Currency, labelled("Currency")]
    priced_on: Annotated[Day, labelled("Price of")]


class Catalogue(Value):
    """What the plan refers to."""

    formats: Annotated[tuple[Format, ...], DistinctIds, Field(max_length=500)] = ()
    drives: Annotated[tuple[CatalogueDrive, ...], DistinctIds, Field(max_length=500)] = ()
    boxes: Annotated[tuple[CatalogueBox, ...], DistinctIds, Field(max_length=200)] = ()
    prices: Annotated[tuple[Price, ...], DistinctIds, Field(max_length=2000)] = ()

    def drive(self, drive_id: str) -> CatalogueDrive | None:
        """The class of drive with this id, if there is one."""
        return next((d for d in self.drives if d.id == drive_id), None)


def prices_on(prices: Iterable[Price], as_of: date) -> dict[str, Price]:
    """The latest price of every class that is not after ``as_of``; of one day's the last in the list."""
    found: dict[str, Price] = {}
    for price in prices:
        known = found.get(price.item_id)
        if price.priced_on <= as_of and (known is None or known.priced_on <= price.priced_on):
            found[price.item_id] = price
    return found


def amount_of(typed: Decimal | None, prices: Mapping[str, Price], item_id: str) -> Decimal | None:
    """The price typed in the plan, else the one of the day; None where neither tells."""
    if typed is not None or item_id not in prices:
        return typed
    return prices[item_id].amount
