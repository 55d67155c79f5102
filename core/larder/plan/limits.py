"""What a design must keep to besides money: the outside line, the room, tolerated loss and downtime, people.

The scales and the stages that follow judge by these; nothing here is computed.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from larder.base.fields import BytesPerS, Day, Item, Number, Value, labelled

from .vocabulary import Worth

Skill = Literal["none", "some", "practised"]
Reuse = Literal["where it pays", "first", "not at all"]
Support = Literal["ourselves", "next working day", "four hours"]


class OutsideLine(Value):
    """The house's line to the outside, by its contract or better by a measurement."""

    up_bytes_per_s: Annotated[BytesPerS, labelled("Line up", "Mb/s", 10)] = 0.0
    down_bytes_per_s: Annotated[BytesPerS, labelled("Line down", "Mb/s", 10)] = 0.0


class Room(Value):
    """Where the box is to stand; null where nobody has said."""

    noise_dba_max: Annotated[Number | None, Field(ge=10, le=120), labelled("Noise at most", "dB(A)", 1)] = (
        None
    )
    circuit_watts: Annotated[Number | None, Field(ge=50, le=100_000), labelled("Circuit", "W", 100)] = None
    air: Annotated[Literal["unsaid", "open room", "closet", "cooled"], labelled("Air")] = "unsaid"
    air_m3_per_h: Annotated[
        Number, Field(ge=0, le=100_000), labelled("A fan moves, of its air", "m³/h", 10)
    ] = 0.0


class Tolerance(Item):
    """What may be lost and how long work may stand still; the ``id`` is the worth of the material."""

    id: Worth
    loss_hours: Annotated[Number, Field(ge=0, le=8766), labelled("May lose the work of", "h", 1)]
    downtime_hours: Annotated[Number, Field(ge=0, le=8766), labelled("May stand still for", "h", 1)]


class Limits(Value):
    """All limits of the brief but budget and horizon."""

    line: OutsideLine = OutsideLine()
    room: Room = Room()
    tolerances: Annotated[tuple[Tolerance, ...], Field(max_length=3)] = (
        Tolerance(id="irreplaceable", loss_hours=0, downtime_hours=24),
        Tolerance(id="costly", loss_hours=24, downtime_hours=48),
        Tolerance(id="replaceable", loss_hours=168, downtime_hours=336),
    )
    upkeep_hours_per_month: Annotated[Number, Field(ge=0, le=744), labelled("Upkeep a month", "h", 1)] = 4.0
    skill: Annotated[Skill, labelled("Skill in the house")] = "some"
    support: Annotated[Support, labelled("Support wanted")] = "ourselves"
    reuse: Annotated[Reuse, labelled("Drives from stock")] = "where it pays"
    ready_by: Annotated[Day | None, labelled("Must be set up by")] = None
