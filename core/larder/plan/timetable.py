"""The timetable of a rehearsed day: when it begins, who works at the peak when, and which jobs run by when.

Times are of the clock, in minutes. The day has 24 hours from its beginning: an earlier time of the clock is
of the next morning. A seat class that is not in the timetable is spread by its odds; a class that is, works
when the timetable says. Cards that are listed come in place of those that the brief's shooting days bring to
the same station.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from larder.base.errors import Refused
from larder.base.fields import BytesPerS, DistinctIds, Item, Name, RefId, SizeBytes, Value, labelled
from larder.base.units import clock_text, parse_clock

MINUTES_A_DAY = 1_440
MOST_SESSIONS, MOST_JOBS = 400, 60
JobKind = Literal["cards", "render", "copy", "upload", "scrub", "rebuild", "destage"]
BY_SEAT: frozenset[JobKind] = frozenset({"cards", "render"})
"""Jobs that a seat does; the others are a pool's."""
UNSIZED: frozenset[JobKind] = frozenset({"scrub", "rebuild", "destage"})
"""Jobs whose bytes are what lies in the pool."""


def _minutes_from_text(value: object) -> object:
    return parse_clock(value) if isinstance(value, str) else value


Clock = Annotated[int, BeforeValidator(_minutes_from_text), Field(ge=0, lt=MINUTES_A_DAY)]
"""A time of the clock, minutes after midnight; text such as 11:30 says it too."""


class WorkSession(Item):
    """One seat of a class is at its peak from one time to another; ``number`` counts the class from 1."""

    seat_id: Annotated[RefId, labelled("Seat")]
    number: Annotated[int, Field(ge=1, le=1000), labelled("Which of them")] = 1
    from_minute: Annotated[Clock, labelled("From", "clock", 15)]
    to_minute: Annotated[Clock, labelled("To", "clock", 15)]


class DayJob(Item):
    """A job of the day: what moves ``bytes`` from when on, and by when it must be done.

    ``cards`` come in at an ingest station and are written by it; ``render`` reads ``bytes`` at a seat and
    writes ``written_bytes``; ``copy`` goes from a pool to another, ``upload`` from a pool over the outside
    line; ``scrub`` reads a pool, ``rebuild`` rebuilds a drive of it that was replaced, ``destage`` empties
    its staging drive. ``most_bytes_per_s`` is what its source gives, 0 where only the way holds it back.
    """

    name: Annotated[Name, labelled("Job")]
    kind: Annotated[JobKind, labelled("Kind")]
    seat_id: Annotated[RefId, labelled("Done at")] = ""
    pool_id: Annotated[RefId, labelled("Pool")] = ""
    to_pool_id: Annotated[RefId, labelled("To pool")] = ""
    bytes: Annotated[SizeBytes, labelled("Moves", "GB", 10)] = 0
    written_bytes: Annotated[SizeBytes, labelled("Writes", "GB", 10)] = 0
    most_bytes_per_s: Annotated[BytesPerS, labelled("At most", "MB/s", 10)] = 0.0
    from_minute: Annotated[Clock, labelled("From", "clock", 15)]
    by_minute: Annotated[Clock | None, labelled("Done by", "clock", 15)] = None

    def check(self) -> None:
        """What its kind needs is said."""
        if self.kind not in UNSIZED and not self.bytes:
            raise Refused("bytes", self.bytes, "more than nothing")
        if self.kind in BY_SEAT and not self.seat_id:
            raise Refused("seat_id", self.seat_id, "the id of the seat that does it")
        if self.kind not in BY_SEAT and not self.pool_id:
            raise Refused("pool_id", self.pool_id, "the id of a pool")
        if self.kind == "copy" and self.to_pool_id in ("", self.pool_id):
            raise Refused("to_pool_id", self.to_pool_id, "the id of another pool")


class Timetable(Value):
    """When the day begins, and what is fixed in it."""

    begins_minute: Annotated[Clock, labelled("The day begins at", "clock", 15)] = 540
    sessions: Annotated[tuple[WorkSession, ...], DistinctIds, Field(max_length=MOST_SESSIONS)] = ()
    jobs: Annotated[tuple[DayJob, ...], DistinctIds, Field(max_length=MOST_JOBS)] = ()

    def into_day(self, minute: int) -> int:
        """Minutes from the day's beginning to a time of the clock."""
        return (minute - self.begins_minute) % MINUTES_A_DAY

    def ends_into_day(self, minute: int) -> int:
        """The same of an end: the day's end is a whole day after its beginning."""
        return self.into_day(minute) or MINUTES_A_DAY

    def check(self) -> None:
        """Nothing goes on past the end of the day."""
        ends = clock_text(self.begins_minute * 60)
        for session in self.sessions:
            if self.into_day(session.from_minute) >= self.ends_into_day(session.to_minute):
                since = clock_text(session.from_minute * 60)
                raise Refused(
                    f"sessions/{session.id}/to_minute",
                    clock_text(session.to_minute * 60),
                    f"a time after {since} and before the day is over at {ends}",
                )
        for job in self.jobs:
            if job.by_minute is None:
                continue
            if self.into_day(job.from_minute) >= self.ends_into_day(job.by_minute):
                since = clock_text(job.from_minute * 60)
                raise Refused(
                    f"jobs/{job.id}/by_minute",
                    clock_text(job.by_minute * 60),
                    f"nothing, or a time after {since} and before the day is over at {ends}",
                )
