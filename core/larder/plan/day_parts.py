"""Parts of the day, and what runs in them besides the seats: workstation backups and other services."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from larder.base.fields import Item, Name, Number, RefId, SizeBytes, labelled

MOST_DAY_PARTS = 8
SHORTEST_PART_HOURS, DAY_HOURS = 0.25, 24
"""What lasts less than a quarter of an hour is no part of a day."""


class DayPart(Item):
    """So many hours of a working day in which the same people do the same things."""

    name: Annotated[Name, labelled("Part of the day")]
    hours: Annotated[Number, Field(ge=SHORTEST_PART_HOURS, le=24), labelled("Hours", "h", 1)]


WHOLE_DAY = DayPart(id="day", name="The working day", hours=8)
"""The only part where nobody has told parts apart."""


class Service(Item):
    """Something else on the box: what it keeps there, and what it moves on a day, evenly over one part of it.

    ``part_id`` names the part; empty is every part alike. ``works_on`` names a pool; empty is one drawn.
    ``enters_at`` is the switch that its bytes come over; empty is beside the storage.
    """

    name: Annotated[Name, labelled("Service")]
    count: Annotated[int, Field(ge=0, le=10_000), labelled("Machines")] = 1
    kept_bytes: Annotated[SizeBytes, labelled("Keeps, each", "GB", 50)] = 0
    written_bytes_per_day: Annotated[SizeBytes, labelled("Writes a day, each", "GB", 5)] = 0
    read_bytes_per_day: Annotated[SizeBytes, labelled("Reads a day, each", "GB", 5)] = 0
    part_id: Annotated[RefId, labelled("Runs in")] = ""
    works_on: Annotated[RefId, labelled("Works on")] = ""
    enters_at: Annotated[RefId, labelled("Plugged in at")] = ""


def service_rates(service: Service, part: DayPart, parts: tuple[DayPart, ...]) -> tuple[float, float]:
    """(read, write) bytes/s of a service in ``part``, spread evenly over the hours that it may run."""
    if service.part_id and service.part_id != part.id:
        return 0.0, 0.0
    hours = part.hours if service.part_id else sum(p.hours for p in parts)
    share = service.count / (hours * 3600)
    return service.read_bytes_per_day * share, service.written_bytes_per_day * share
