"""What a technician can measure at a seat in a few minutes, and what it would be in a state of the house.

A reading is of one seat and the pool that it works on. One copy is one stream over one connection; four at
once show whether one alone is held back; iperf3 is the wires without drives, a read on the box the drives
without wires; the clip from local flash is the workstation without either.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal, get_args

from pydantic import Field, ValidationError

from larder.base.errors import RefusedMany
from larder.base.fields import BytesPerS, Number, Value, labelled
from larder.base.problems import refusals

Reading = Literal[
    "copy_from", "copy_to", "copy_to_at_first", "four_at_once", "wire", "on_the_box", "at_another_seat",
    "frames", "frames_from_local",
]  # fmt: skip
READINGS: tuple[Reading, ...] = get_args(Reading)
WORDS: dict[Reading, str] = {
    "copy_from": "one large file copied from the storage",
    "copy_to": "one large file copied to the storage, after its first minutes",
    "copy_to_at_first": "the same in its first seconds",
    "four_at_once": "four large files copied from the storage at once, together",
    "wire": "iperf3 from the seat to the box",
    "on_the_box": "the file read on the box itself",
    "at_another_seat": "the same copy from the storage at another seat",
    "frames": "frames a second of the clip, played from the storage",
    "frames_from_local": "frames a second of the same clip, from local flash",
}
Rate = Annotated[BytesPerS | None, Field(gt=0)]
Frames = Annotated[Number | None, Field(gt=0, le=1000)]


class Seen(Value):
    """What was measured; null where it was not."""

    copy_from: Annotated[Rate, labelled("A file copied from the storage", "MB/s", 10)] = None
    copy_to: Annotated[Rate, labelled("Copied to it, after minutes", "MB/s", 10)] = None
    copy_to_at_first: Annotated[Rate, labelled("Copied to it, at first", "MB/s", 10)] = None
    four_at_once: Annotated[Rate, labelled("Four copies at once, together", "MB/s", 10)] = None
    wire: Annotated[Rate, labelled("iperf3 to the box", "MB/s", 10)] = None
    on_the_box: Annotated[Rate, labelled("Read on the box itself", "MB/s", 10)] = None
    at_another_seat: Annotated[Rate, labelled("The same copy at another seat", "MB/s", 10)] = None
    frames: Annotated[Frames, labelled("Played from the storage", "fps", 1)] = None
    frames_from_local: Annotated[Frames, labelled("The same clip from local flash", "fps", 1)] = None

    def given(self) -> dict[Reading, float]:
        """What was measured, by its name."""
        found = {name: getattr(self, name) for name in READINGS}
        return {name: float(value) for name, value in found.items() if value is not None}


def seen_from(values: Mapping[str, Any]) -> Seen:
    """What was measured, as people type it; raises :class:`RefusedMany` that calls fields by their labels."""
    try:
        return Seen.model_validate(dict(values))
    except ValidationError as error:
        raise RefusedMany(refusals(error, dict(values), words=_words_of)) from None


def _words_of(field: str) -> tuple[str, str]:
    """(label, unit) of a reading's field."""
    info = Seen.model_fields.get(field)
    if info is None:
        return "", ""
    extra = info.json_schema_extra
    return info.title or "", str(extra.get("unit", "")) if isinstance(extra, dict) else ""


@dataclass(frozen=True)
class House:
    """What stands between a seat and its bytes, bytes/s; infinite where nothing is known of it.

    ``own_wire`` is what the seat's own part of the way carries without a file protocol, ``shared_wire`` the
    rest; ``protocol`` is the share that one connection gets of it, ``connection`` the most that one
    connection carries. ``others_wire`` is another seat's own part. ``first_write`` is what takes in a write
    before the drives do.
    """

    own_wire: float
    shared_wire: float
    others_wire: float
    protocol: float
    connection: float
    others_connection: float
    read_one: float
    read_all: float
    write: float
    first_write: float
    need: float
    fps: float
    decoded_fps: float

    def readings(self) -> dict[Reading, float]:
        """What would be measured."""
        wire = min(self.own_wire, self.shared_wire)
        one = min(wire * self.protocol, self.connection)
        from_it = min(one, self.read_one)
        others = min(min(self.others_wire, self.shared_wire) * self.protocol, self.others_connection)
        shown = min(self.fps * min(from_it / self.need, 1.0), self.decoded_fps) if self.need else 0.0
        return {
            "copy_from": from_it,
            "copy_to": min(one, self.write),
            "copy_to_at_first": min(one, max(self.first_write, self.write)),
            "four_at_once": min(wire * self.protocol, 4 * self.connection, self.read_all),
            "wire": wire,
            "on_the_box": self.read_one,
            "at_another_seat": min(others, self.read_one),
            "frames": shown,
            "frames_from_local": min(self.fps, self.decoded_fps),
        }
