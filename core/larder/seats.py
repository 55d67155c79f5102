"""The seats: who plays, writes, culls and ingests what, how often, and from where.

A seat is a set of activities that are at their peak together. What it asks of the storage is their
sum; what it asks of the network is the same, except for a seat inside the box, which has no network hop.
Seats far away are in :mod:`larder.remote`.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from .day_parts import MOST_DAY_PARTS
from .fields import BytesPerS, DistinctIds, Item, Name, Number, PictureBytes, RefId, labelled

Rates = Mapping[str, tuple[float, float]]
"""(mean, peak) bytes/s by format id."""
Seated = Literal["office", "inside"]

_Count = Annotated[int, Field(ge=0, le=1000), labelled("Seats")]
_Probability = Annotated[Number, Field(ge=0, le=1), labelled("At peak", "", 0.05)]
_Streams = Annotated[int, Field(ge=0, le=100), labelled("Streams")]


class PartOdds(Item):
    """How likely the seat is at its peak in one part of the day; the ``id`` is the part's."""

    probability: _Probability


class Activity(Item):
    """What else the seat does at its peak: renders and exports it writes, previews and proxies it makes."""

    name: Annotated[Name, labelled("Activity")]
    direction: Annotated[Literal["read", "write"], labelled("Plays or writes")] = "write"
    streams: _Streams = 1
    format_id: Annotated[RefId, labelled("Format")]
    speed_factor: Annotated[Number, Field(gt=0, le=100), labelled("Times real time", "×", 0.5)] = 1.0


_AtPeak = Annotated[tuple[PartOdds, ...], DistinctIds, Field(max_length=MOST_DAY_PARTS)]
_Activities = Annotated[tuple[Activity, ...], DistinctIds, Field(max_length=20)]
_Seated = Annotated[Seated, labelled("Works from")]


class SeatBase(Item):
    """What every kind of seat has."""

    name: Annotated[Name, labelled("Seat")]
    count: _Count = 1
    probability: _Probability = 1.0
    at_peak: _AtPeak = ()


class FootageSeat(SeatBase):
    """Alike seats that play or write streams of one format, and what they do besides."""

    kind: Literal["footage"]
    direction: Annotated[Literal["read", "write"], labelled("Plays or writes")] = "read"
    streams: _Streams = 1
    angles: Annotated[int, Field(ge=1, le=64), labelled("Camera angles at once")] = 1
    shuttle_factor: Annotated[Number, Field(ge=1, le=32), labelled("Shuttle and scrub", "×", 0.5)] = 1.0
    format_id: Annotated[RefId, labelled("Format")]
    archive_share: Annotated[Number, Field(ge=0, le=1), labelled("Of it from the archive", "", 0.05)] = 0.0
    decoded_streams_max: Annotated[int | None, Field(ge=1, le=100), labelled("Streams it can decode")] = None
    seated: _Seated = "office"
    activities: _Activities = ()


class PhotoSeat(SeatBase):
    """Alike seats that go through raw pictures, write exports and shoot tethered."""

    kind: Literal["photo"]
    image_bytes: Annotated[PictureBytes, labelled("Raw size", "MB", 5)]
    images_per_s: Annotated[Number, Field(ge=0, le=1000), labelled("Pictures per second", "/s", 0.5)]
    export_bytes: Annotated[PictureBytes, labelled("Export size", "MB", 1)] = 0
    exports_per_s: Annotated[Number, Field(ge=0, le=1000), labelled("Exports per second", "/s", 0.5)] = 0.0
    tethered_per_s: Annotated[Number, Field(ge=0, le=1000), labelled("Tethered per second", "/s", 0.5)] = 0.0
    seated: _Seated = "office"


class IngestSeat(SeatBase):
    """Stations that copy cards: readers at once, each to so many copies on this storage."""

    kind: Literal["ingest"]
    readers: Annotated[int, Field(ge=0, le=64), labelled("Card readers at once")] = 1
    card_bytes_per_s: Annotated[BytesPerS, labelled("A card gives", "MB/s", 10)]
    copies_here: Annotated[int, Field(ge=1, le=4), labelled("Copies on this storage")] = 1
    verifies: Annotated[bool, labelled("Reads back to verify")] = True
    seated: _Seated = "office"


@dataclass(frozen=True)
class SeatDemand:
    """What one seat asks at its peak, bytes/s, streams and files a second."""

    read_bytes_per_s: float = 0.0
    write_bytes_per_s: float = 0.0
    archive_bytes_per_s: float = 0.0
    streams: int = 0
    files_per_s: float = 0.0
    archive_streams: int = 0


def demand_of(seat: FootageSeat | PhotoSeat | IngestSeat, rates: Rates) -> SeatDemand:
    """The sum of the seat's activities at their peak rates."""
    if isinstance(seat, FootageSeat):
        return _footage(seat, rates)
    if isinstance(seat, PhotoSeat):
        return SeatDemand(
            read_bytes_per_s=seat.image_bytes * seat.images_per_s,
            write_bytes_per_s=seat.export_bytes * seat.exports_per_s + seat.image_bytes * seat.tethered_per_s,
            streams=1,
            files_per_s=seat.images_per_s + seat.exports_per_s + seat.tethered_per_s,
        )
    written = seat.readers * seat.card_bytes_per_s * seat.copies_here
    # Reading back overlaps with the next card's copy, at the same rate.
    return SeatDemand(
        read_bytes_per_s=written if seat.verifies else 0.0,
        write_bytes_per_s=written,
        streams=seat.readers * seat.copies_here * (2 if seat.verifies else 1),
    )


def _footage(seat: FootageSeat, rates: Rates) -> SeatDemand:
    streams = seat.streams * seat.angles
    main = streams * rates[seat.format_id][1]
    reads, writes = (0.0, main) if seat.direction == "write" else (main * seat.shuttle_factor, 0.0)
    archive = reads * seat.archive_share
    archive_streams = streams if archive else 0
    for activity in seat.activities:
        asked = activity.streams * activity.speed_factor * rates[activity.format_id][1]
        if activity.direction == "read":
            reads += asked
        else:
            writes += asked
        streams += activity.streams
    return SeatDemand(reads, writes, archive, streams, archive_streams=archive_streams)
