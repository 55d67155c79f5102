"""Volumes in a pool: what is promised and set aside, who can unlock it, how far back one can go.

A file volume (a dataset, a share) has a quota, a block volume a size. A thick one, or a reservation, takes
its bytes from the others at once; a thin one takes what is written, so more can be promised than there is.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from larder.base.errors import Refused
from larder.base.fields import Item, Name, Note, SizeBytes, labelled
from larder.base.units import size_text


class Volume(Item):
    """A part of one pool. ``size_bytes`` is the quota of files, 0 for none, or a block volume's size."""

    name: Annotated[Name, labelled("Volume")]
    pool_id: Annotated[str, labelled("In the pool")]
    kind: Annotated[Literal["file", "block"], labelled("Kind")] = "file"
    size_bytes: Annotated[SizeBytes, labelled("Quota or size", "TB", 1)] = 0
    reserved_bytes: Annotated[SizeBytes, labelled("Reserved", "TB", 1)] = 0
    is_thin: Annotated[bool, labelled("Thin")] = True
    is_encrypted: Annotated[bool, labelled("Encrypted")] = False
    key_holder: Annotated[Note, labelled("Key held by")] = ""
    snapshot_days: Annotated[int, Field(ge=0, le=3650), labelled("Snapshots kept", "days", 1)] = 0
    rewritten_bytes_per_day: Annotated[
        SizeBytes | None, labelled("Overwritten or deleted a day", "GB", 10)
    ] = None

    def check(self) -> None:
        if self.size_bytes == 0 and (self.kind == "block" or not self.is_thin):
            what = "a block volume" if self.kind == "block" else "a thick volume"
            raise Refused("size_bytes", self.size_bytes, f"a size above 0, which {what} needs")
        if self.size_bytes and self.reserved_bytes > self.size_bytes:
            wanted = f"at most its quota or size, {size_text(self.size_bytes)}"
            raise Refused("reserved_bytes", size_text(self.reserved_bytes), wanted)

    @property
    def set_aside_bytes(self) -> int:
        """What it takes from the others before anything is written."""
        return self.reserved_bytes if self.is_thin else self.size_bytes


def encrypted_share(volumes: tuple[Volume, ...], pool_id: str) -> float:
    """Part of a pool's bytes that is encrypted, by promised bytes; where nothing is promised, by count."""
    own = [v for v in volumes if v.pool_id == pool_id]
    promised = sum(v.size_bytes for v in own)
    if promised:
        return sum(v.size_bytes for v in own if v.is_encrypted) / promised
    return sum(v.is_encrypted for v in own) / len(own) if own else 0.0
