"""The brief: who works, what is shot, what may be spent and until when it must last."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from larder.base.errors import Refused
from larder.base.fields import (
    Amount,
    Day,
    DistinctIds,
    Item,
    Name,
    Number,
    Part,
    RefId,
    Share,
    SizeBytes,
    Value,
    labelled,
)

from .day_parts import DAY_HOURS, MOST_DAY_PARTS, DayPart, Service
from .limits import Limits
from .productions import Production
from .seats import FootageSeat, IngestSeat, PhotoSeat, RemoteSeat
from .timetable import BY_SEAT, Timetable

MOST_SEAT_CLASSES = 60
"""Classes of alike seats: a house of forty has room to spare, and any brief is soon judged."""
Seat = Annotated[FootageSeat | PhotoSeat | IngestSeat | RemoteSeat, Field(discriminator="kind")]
ProjectsLive = Literal["unsaid", "on the share", "on each workstation", "on a database server"]


class Shoot(Item):
    """What is shot in an average week all the year round, and how much of it is kept."""

    name: Annotated[Name, labelled("Camera unit")]
    format_id: Annotated[RefId, labelled("Format")]
    hours_per_week: Annotated[Number, Field(ge=0, le=10_000), labelled("Hours a week", "h", 1)]
    kept_ratio: Annotated[Share, labelled("Kept", "share", 5)] = 1.0


class Brief(Value):
    """Who works, what is shot, what may be spent and until when it must last."""

    seats: Annotated[tuple[Seat, ...], DistinctIds, Field(max_length=MOST_SEAT_CLASSES)] = ()
    day_parts: Annotated[tuple[DayPart, ...], DistinctIds, Field(max_length=MOST_DAY_PARTS)] = ()
    common_peak_probability: Annotated[Share | None, labelled("All at peak together", "share", 1)] = None
    services: Annotated[tuple[Service, ...], DistinctIds, Field(max_length=100)] = ()
    shoots: Annotated[tuple[Shoot, ...], DistinctIds, Field(max_length=200)] = ()
    productions: Annotated[tuple[Production, ...], DistinctIds, Field(max_length=200)] = ()
    hot_weeks: Annotated[int, Field(ge=0, le=520), labelled("Stays hot for", "weeks", 1)] = 8
    stills_bytes_per_week: Annotated[SizeBytes, labelled("Stills a week", "GB", 10)] = 0
    exports_bytes_per_week: Annotated[SizeBytes, labelled("Exports a week", "GB", 10)] = 0
    growth_percent_per_year: Annotated[
        Number, Field(ge=0, le=300), labelled("Brings more every year, by", "%", 5)
    ] = 0.0
    proxy_ratio: Annotated[Part, Field(ge=0, le=5), labelled("Proxies, part of footage", "share", 5)] = 0.0
    preview_ratio: Annotated[Part, Field(ge=0, le=5), labelled("Previews, part of footage", "share", 5)] = 0.0
    kept_today_bytes: Annotated[SizeBytes, labelled("Kept today", "TB", 1)] = 0
    other_services_bytes: Annotated[SizeBytes, labelled("Kept by services not listed", "TB", 1)] = 0
    projects_live: Annotated[ProjectsLive, labelled("Project files and catalogues live")] = "unsaid"
    limits: Limits = Limits()
    timetable: Timetable = Timetable()
    budget: Annotated[Amount, labelled("Budget", "money", 100)]
    horizon_date: Annotated[Day, labelled("Must last until")]

    def check(self) -> None:
        """Odds and services name parts of the day that there are."""
        hours = sum(part.hours for part in self.day_parts)
        if hours > DAY_HOURS:
            last = self.day_parts[-1]
            rest = DAY_HOURS - hours + last.hours
            raise Refused(
                f"day_parts/{last.id}/hours", last.hours, f"at most {rest:g}: a day has {DAY_HOURS} hours"
            )
        known = {part.id for part in self.day_parts}
        listed = ", ".join(sorted(known)) or "none yet: add a part of the day first"
        for seat in self.seats:
            for odds in seat.at_peak:
                if odds.id not in known:
                    raise Refused(
                        f"seats/{seat.id}/at_peak", odds.id, f"the id of a part of the day ({listed})"
                    )
        for service in self.services:
            if service.part_id and service.part_id not in known:
                where = f"services/{service.id}/part_id"
                raise Refused(where, service.part_id, f"empty or the id of a part of the day ({listed})")
        self._check_timetable()

    def _check_timetable(self) -> None:
        """Whoever works in it is a seat of the brief, and cards come in at an ingest station."""
        seats = {seat.id: seat for seat in self.seats}
        listed = ", ".join(seats) or "none yet: add a seat first"
        for session in self.timetable.sessions:
            where, seat = f"timetable/sessions/{session.id}", seats.get(session.seat_id)
            if seat is None:
                raise Refused(f"{where}/seat_id", session.seat_id, f"the id of a seat ({listed})")
            if session.number > seat.count:
                raise Refused(
                    f"{where}/number", session.number, f"at most {seat.count}, as many as there are"
                )
        stations = [seat.id for seat in self.seats if isinstance(seat, IngestSeat)]
        for job in self.timetable.jobs:
            known = stations if job.kind == "cards" else list(seats)
            if job.kind in BY_SEAT and job.seat_id not in known:
                what = "an ingest station" if job.kind == "cards" else "a seat"
                wanted = f"the id of {what} ({', '.join(known) or 'there is none yet'})"
                raise Refused(f"timetable/jobs/{job.id}/seat_id", job.seat_id, wanted)

    def formats_used(self) -> list[tuple[str, str]]:
        """(path within the brief, format id) of everything that refers to a format."""
        used = []
        for seat in self.seats:
            if isinstance(seat, FootageSeat | RemoteSeat):
                used.append((f"seats/{seat.id}/format_id", seat.format_id))
            if isinstance(seat, FootageSeat):
                used += [
                    (f"seats/{seat.id}/activities/{a.id}/format_id", a.format_id) for a in seat.activities
                ]
        used += [(f"shoots/{s.id}/format_id", s.format_id) for s in self.shoots]
        return used + [(f"productions/{p.id}/format_id", p.format_id) for p in self.productions]
