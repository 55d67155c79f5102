"""The wires of a plan: the hops in order, and what holds for the whole network."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from larder.base.fields import DistinctIds, Item, Name, Value, labelled


class WireHop(Item):
    """A piece of the way from the seats to the storage."""

    name: Annotated[Name, labelled("Hop")]
    speed: Annotated[
        Literal["100Mb", "1GbE", "2.5GbE", "5GbE", "10GbE", "25GbE", "100GbE"],
        labelled("Speed"),
    ]
    links: Annotated[int, Field(ge=1, le=16), labelled("Links together")] = 1
    serves: Annotated[Literal["seat", "all"], labelled("Serves")] = "all"


class Wiring(Value):
    """The hops in order, and what holds for the whole network."""

    hops: Annotated[tuple[WireHop, ...], DistinctIds, Field(max_length=12)] = ()
    mtu: Annotated[Literal[1500, 9000], labelled("MTU", "B")] = 1500
    protocol: Annotated[Literal["smb", "nfs"], labelled("File protocol")] = "smb"
