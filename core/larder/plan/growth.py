"""Growth: what was read from the pools since, when prices are low, and what is bought when a pool is full."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from larder.base.errors import Refused
from larder.base.fields import (
    Amount,
    Day,
    DistinctIds,
    DriveBytes,
    Item,
    Name,
    Note,
    Number,
    RefId,
    SizeBytes,
    Value,
    labelled,
)

MOST_READINGS = 1_500
Way = Literal["free bays", "larger drives", "expansion unit", "second box"]


class Reading(Item):
    """What lay on a pool on a day; with a ``project``, what of it was that project's."""

    pool_id: Annotated[RefId, labelled("Pool")]
    read_on: Annotated[Day, labelled("Read on")]
    used_bytes: Annotated[SizeBytes, labelled("Used", "TB", 0.1)]
    project: Annotated[Note, labelled("Of the project")] = ""


class Sale(Item):
    """Days on which drives and boxes are cheaper, by a seller's calendar or by custom."""

    name: Annotated[Name, labelled("Sale")]
    opens_on: Annotated[Day, labelled("From")]
    closes_on: Annotated[Day, labelled("Until")]
    off_percent: Annotated[Number, Field(ge=0, le=90), labelled("Cheaper by", "%", 1)] = 10.0

    def check(self) -> None:
        if self.closes_on < self.opens_on:
            raise Refused("closes_on", self.closes_on.isoformat(), f"{self.opens_on} or later, when it opens")


class Step(Item):
    """What is bought when a pool is full; steps of one pool follow each other as they are listed.

    ``drive_count`` drives of ``drive_bytes``: added to the pool in free bays, in place of all its drives, or
    as a pool of its own beside it, in an expansion unit or a second box. ``price`` is that of all together.
    """

    name: Annotated[Name, labelled("Bought when full")]
    pool_id: Annotated[RefId, labelled("For the pool")]
    way: Annotated[Way, labelled("How")] = "free bays"
    drive_count: Annotated[int, Field(ge=1, le=500), labelled("Drives")] = 1
    drive_bytes: Annotated[DriveBytes, labelled("Size each", "TB", 1)]
    price: Annotated[Amount | None, labelled("Price of it all", "money", 50)] = None
    delivery_days: Annotated[int | None, Field(ge=0, le=1000), labelled("Delivered in", "days", 1)] = None


class Growth(Value):
    """What is read, awaited and planned.

    ``calendar_repeats``: when the last production of the calendar is behind, such ones come again year by
    year.
    """

    calendar_repeats: Annotated[bool, labelled("Productions come again as in the calendar")] = True
    readings: Annotated[tuple[Reading, ...], DistinctIds, Field(max_length=MOST_READINGS)] = ()
    sales: Annotated[tuple[Sale, ...], DistinctIds, Field(max_length=40)] = ()
    steps: Annotated[tuple[Step, ...], DistinctIds, Field(max_length=24)] = ()

    def check(self) -> None:
        """One reading of a pool and project a day."""
        seen: set[tuple[str, str, str]] = set()
        for reading in self.readings:
            key = (reading.pool_id, reading.project, reading.read_on.isoformat())
            if key in seen:
                raise Refused(
                    f"readings/{reading.id}/read_on",
                    reading.read_on.isoformat(),
                    "a day of which this pool has no reading yet",
                )
            seen.add(key)
