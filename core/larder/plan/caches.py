"""Flash before a pool: what it hits, what it absorbs, what is at stake in it, how long it lasts.

Read-only, write-through and write-back caches are different products of risk and speed: only write-back
absorbs a burst, and only its dirty bytes can be lost. A staging drive takes all new material and is emptied
into the pool in runs; until a run, what lies on it is protected by nothing but a mirror of it.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from larder.base.errors import Refused
from larder.base.fields import Amount, DriveBytes, DriveBytesPerS, Item, Name, Number, SizeBytes, labelled

from .bays import Bays

CacheMode = Literal["read", "write-through", "write-back", "staging"]


class Cache(Item):
    """Flash drives before one pool; ``pool_id`` is the pool's.

    Many caches pass sequential reads by (``admits_sequential``): playback then hits next to nothing.
    """

    name: Annotated[Name, labelled("Cache")]
    pool_id: Annotated[str, labelled("Before the pool")]
    mode: Annotated[CacheMode, labelled("Mode")] = "read"
    drive_id: Annotated[str, StringConstraints(max_length=40), labelled("Class of drive")] = ""
    drive_count: Annotated[int, Field(ge=1, le=24), labelled("Flash drives")] = 1
    drive_bytes: Annotated[DriveBytes, labelled("Size each", "TB", 0.5)]
    read_bytes_per_s: Annotated[DriveBytesPerS, labelled("Read rate each", "MB/s", 100)]
    write_bytes_per_s: Annotated[DriveBytesPerS, labelled("Sustained write each", "MB/s", 100)]
    admits_sequential: Annotated[bool, labelled("Keeps what is played in one go")] = True
    is_mirrored: Annotated[bool, labelled("Mirrored")] = False
    keeps_power: Annotated[bool, labelled("Power-loss protection or UPS")] = False
    endurance_bytes: Annotated[SizeBytes, labelled("Rated to write, each", "TB", 100)] = 0
    emptied_every_hours: Annotated[
        Number, Field(gt=0, le=720), labelled("A staging drive is emptied every", "h", 1)
    ] = 24.0
    drive_unit_price: Annotated[Amount | None, labelled("Price each", "money", 5)] = None
    bays: Bays = ""

    def check(self) -> None:
        if self.is_mirrored and self.drive_count % 2:
            raise Refused("drive_count", self.drive_count, "an even number of drives for mirrored ones")

    @property
    def usable_bytes(self) -> int:
        return self.drive_bytes * self.drive_count // (2 if self.is_mirrored else 1)
