"""The usual culprits, each as what it makes of a house, and the test that shows it directly.

How much each costs is a stated assumption, with the spread in which it is found; how common it is, is a prior
from practice that a few readings outweigh.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

from larder.laws.path import ETHERNET_BITS_PER_S, ethernet_link_bytes_per_s

from .readings import House

SPEEDS = tuple(ETHERNET_BITS_PER_S)
MISMATCHED_SHARE, SHORT_LANES_SHARE, SIGNED_SHARE, SINGLE_SHARE = 0.08, 0.4, 0.5, 0.35
"""What is left of a wire with packets that do not fit, of a card with too few lanes, of a protocol that
signs or encrypts, and what one connection gets where it is one."""
FULL_SHARE, BUSY_SHARE, SHINGLED_SHARE, POOL_TYPE_SHARE = 0.3, 0.6, 0.15, 0.5
"""What is left of drives that are nearly full, of drives that are being scrubbed or indexed, of writing to
shingled disks once their cache is full, and of writing partial stripes in a pool of the wrong type."""


@dataclass(frozen=True)
class Context:
    """What of the plan culprits depend on: speeds of wires, another way's, what slow writing comes to."""

    own_speed: str
    shared_speed: str
    mtu: int
    other_way_bytes_per_s: float | None
    partial_write_bytes_per_s: float
    is_disks: bool


@dataclass(frozen=True)
class Culprit:
    """Something that may be wrong, and the house with it; ``spread`` is of what it leaves."""

    id: str
    name: str
    test: str
    house: House
    prior: float
    spread: float = 0.1


def culprits_of(house: House, context: Context) -> Iterator[Culprit]:
    """Everything that may be the matter with this house, and that nothing is."""
    yield Culprit(
        "as-planned",
        "Nothing is broken: this is what the plan gives",
        "Look at the hop that limits in the wiring, and at what would help there.",
        house,
        0.2,
    )
    for make in _MADE:
        yield from make(house, context)


def _wires(house: House, context: Context) -> Iterator[Culprit]:
    slower = dict(pairwise(reversed(SPEEDS)))
    light = "Read the speed off the port's light or the adapter's status, then swap the cable for a good one."
    for name, speed, field, prior in (
        ("The seat's own link", context.own_speed, "own_wire", 0.12),
        ("A link that all share", context.shared_speed, "shared_wire", 0.05),
    ):
        down = _negotiated(slower, speed)
        if down is not None:
            carried = ethernet_link_bytes_per_s(down, context.mtu)
            made = replace(house, **{field: min(getattr(house, field), carried)})
            own = "own" if field == "own_wire" else "shared"
            yield Culprit(f"negotiated-{own}-link", f"{name} came up at {down}", light, made, prior)
    if math.isfinite(house.own_wire):
        yield Culprit(
            "mtu-mismatch",
            "Packets are too large for something on the way (MTU)",
            "Send pings of 8,972 bytes that may not be split: they pass end to end, or set 1500 everywhere.",
            replace(house, own_wire=house.own_wire * MISMATCHED_SHARE),
            0.06,
            0.5,
        )
    if context.other_way_bytes_per_s is not None:
        other = context.other_way_bytes_per_s
        # iperf3 is aimed at the address that is meant: it goes the right way.
        yield Culprit(
            "wrong-address",
            "The share is mounted by the other address, so bytes go the slower way",
            "Look at which address the mount shows, and at which port's counters run while copying.",
            replace(house, connection=min(house.connection, other * house.protocol)),
            0.1,
        )


def _negotiated(slower: Mapping[str, str], speed: str) -> str | None:
    """What a port of this speed usually comes up at on a bad cable: 1GbE, below that 100Mb."""
    if speed not in SPEEDS or speed == SPEEDS[0]:
        return None
    return "1GbE" if SPEEDS.index(speed) > SPEEDS.index("1GbE") else slower[speed]


def _cards_and_protocol(house: House, _: Context) -> Iterator[Culprit]:
    if math.isfinite(house.shared_wire):
        yield Culprit(
            "lanes",
            "The box's network card has fewer lanes than it wants",
            "Read the width that the slot has come up at off the box, and move the card to a wider one.",
            replace(house, shared_wire=min(house.shared_wire, house.own_wire) * SHORT_LANES_SHARE),
            0.06,
            0.25,
        )
        yield Culprit(
            "signing",
            "The file protocol signs or encrypts everything",
            "Switch signing off for one mount on a wire that only you use, and copy again.",
            replace(house, protocol=house.protocol * SIGNED_SHARE),
            0.08,
            0.2,
        )
        carried = min(house.own_wire, house.shared_wire) * house.protocol * SINGLE_SHARE
        yield Culprit(
            "single-stream",
            "One connection alone is held back",
            "Copy four files at once: together they are far faster. Then allow several connections.",
            replace(house, connection=carried, others_connection=carried),
            0.08,
            0.25,
        )


def _drives(house: House, context: Context) -> Iterator[Culprit]:
    def slower(share: float) -> House:
        return replace(
            house,
            read_one=house.read_one * share,
            read_all=house.read_all * share,
            write=house.write * share,
            first_write=house.first_write * share if math.isfinite(house.first_write) else house.first_write,
        )

    partial = min(context.partial_write_bytes_per_s, house.write * 0.7)
    yield Culprit(
        "write-cache-off",
        "The write cache is off",
        "Look at the controller's or pool's write setting; a dead battery switches it off by itself.",
        replace(house, write=partial, first_write=partial),
        0.1,
        0.25,
    )
    yield Culprit(
        "pool-type",
        "The pool writes parity for every small piece: its software type or stripe width is wrong",
        "Copy to the pool with large blocks and compare, and look at how the pool was made.",
        replace(house, write=partial * POOL_TYPE_SHARE),
        0.06,
        0.3,
    )
    yield Culprit(
        "disk-full",
        "The pool is nearly full: its inner tracks and its pieces are slow",
        "Look at how full it is; free a tenth and read a file that was written after that.",
        slower(FULL_SHARE),
        0.08,
        0.2,
    )
    yield Culprit(
        "busy-drives",
        "A scrub, a rebuild or an indexer runs beside you",
        "Look at what the box is doing, and measure again when it is done.",
        slower(BUSY_SHARE),
        0.1,
        0.2,
    )
    if context.is_disks:
        yield Culprit(
            "shingled",
            "A shingled disk stalls once its own cache is full",
            "Write for ten minutes and watch each drive: one is always busy. Its class says shingled (SMR).",
            replace(house, write=house.write * SHINGLED_SHARE),
            0.06,
            0.3,
        )


def _workstation(house: House, _: Context) -> Iterator[Culprit]:
    if house.need and house.fps:
        yield Culprit(
            "decode-bound",
            "The workstation cannot decode it as fast: the storage is cleared",
            "Play a proxy or at half resolution: it runs. Storage that is quicker changes nothing.",
            replace(house, decoded_fps=house.fps * 0.6),
            0.12,
            0.35,
        )


_MADE: tuple[Callable[[House, Context], Iterator[Culprit]], ...] = (
    _wires,
    _cards_and_protocol,
    _drives,
    _workstation,
)
