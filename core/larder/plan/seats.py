"""The seats: who plays, writes, culls and ingests what, how often, and from where.

A seat is a set of activities that are at their peak together. What it asks of the storage is their
sum; what it asks of the network is the same, except for a seat inside the box, which has no network hop.
Seats far away are in :mod:`larder.stages.remote`.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from larder.base.fields import (
    BytesPerS,
    DistinctIds,
    Item,
    Name,
    Number,
    PictureBytes,
    RefId,
    Share,
    labelled,
)

from .day_parts import MOST_DAY_PARTS

Seated = Literal["office", "inside"]
_Count = Annotated[int, Field(ge=0, le=1000), labelled("Seats")]
_Probability = Annotated[Share, labelled("At peak", "share", 5)]
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
LinkIds = Annotated[str, StringConstraints(max_length=400, pattern=r"^[a-z0-9 -]*$")]
"""Ids of links, with blanks between them."""


class SeatBase(Item):
    """What every kind of seat has. ``works_on`` names a pool; empty is one drawn by what they can hold.

    ``mounts_by`` names links to boxes whose addresses its machines mount, where a box has several.
    """

    name: Annotated[Name, labelled("Seat")]
    count: _Count = 1
    probability: _Probability = 1.0
    at_peak: _AtPeak = ()
    works_on: Annotated[RefId, labelled("Works on")] = ""
    mounts_by: Annotated[LinkIds, labelled("Mounts by")] = ""


class FootageSeat(SeatBase):
    """Alike seats that play or write streams of one format, and what they do besides."""

    kind: Literal["footage"]
    direction: Annotated[Literal["read", "write"], labelled("Plays or writes")] = "read"
    streams: _Streams = 1
    angles: Annotated[int, Field(ge=1, le=64), labelled("Camera angles at once")] = 1
    shuttle_factor: Annotated[Number, Field(ge=1, le=32), labelled("Shuttle and scrub", "×", 0.5)] = 1.0
    format_id: Annotated[RefId, labelled("Format")]
    archive_share: Annotated[Share, labelled("Of it from the archive", "share", 5)] = 0.0
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


Way = Literal["proxies", "remote control", "files"]


class RemoteSeat(SeatBase):
    """Alike seats far away, each with a line of its own; the list's order is their order of being served."""

    kind: Literal["remote"]
    way: Annotated[Way, labelled("Way of working")] = "proxies"
    format_id: Annotated[RefId, labelled("Format sent or played")]
    footage_hours_per_day: Annotated[Number, Field(ge=0, le=1000), labelled("Footage a day", "h", 1)] = 1.0
    down_bytes_per_s: Annotated[BytesPerS, labelled("Their line down", "Mb/s", 5)]
    round_trip_ms: Annotated[Number, Field(ge=0, le=10_000), labelled("Round trip", "ms", 5)] = 30.0
    picture_bytes_per_s: Annotated[BytesPerS, labelled("Picture of the machine here", "Mb/s", 5)] = (
        2_500_000.0
    )
