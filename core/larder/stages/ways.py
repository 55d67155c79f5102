"""The ways through the wires: from everybody who asks to every box, and what each link of them carries.

Switches pass frames along a tree, so that between two of them there is one way; a box with several links, or
a seat with a link of its own to it, can be reached by several. The way that counts is the one whose address
the seat mounts; where that is not said, the one that carries most.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from larder.laws.cable import fastest_over
from larder.laws.path import BUS_BYTES_PER_S, ethernet_link_bytes_per_s
from larder.plan.bundle import Plan
from larder.plan.ports import SPEEDS, Ledger, ledger_of
from larder.plan.wiring import OUTSIDE, STORAGE, End, Link

from .pool_setting import SETTINGS, serving_box
from .stage import Judged, Part

Limit = Literal["", "port", "cable", "came up", "adapter"]
"""What keeps a link below its own port's speed; ``came up`` is what was seen, whatever the reason."""


@dataclass(frozen=True)
class Wire:
    """A link with what one of its members carries, bytes/s each way, and why not more.

    ``speed`` is what it comes up at; ``limit`` keeps it below its own port's speed, ``limited_by`` in words.
    """

    link: Link
    near: End
    far: End
    speed: str
    link_bytes_per_s: float
    limit: Limit = ""
    limited_by: str = ""

    @property
    def all_bytes_per_s(self) -> float:
        """All members together."""
        return self.link_bytes_per_s * self.link.links


@dataclass(frozen=True)
class Way:
    """The wires from somebody to a box, in order; none where bytes go over no wire that is known."""

    wires: tuple[Wire, ...]

    @property
    def one_flow_bytes_per_s(self) -> float:
        """What one flow gets at most."""
        return min((wire.link_bytes_per_s for wire in self.wires), default=float("inf"))

    @property
    def last(self) -> Wire | None:
        """The one at the box, whose address is mounted."""
        return self.wires[-1] if self.wires else None

    def steps(self) -> Iterator[tuple[Wire, bool]]:
        """Every wire, and whether it is gone from its near end to its far one."""
        at: End | None = None
        for n, wire in enumerate(self.wires):
            following = self.wires[n + 1] if n + 1 < len(self.wires) else None
            is_onward = following is None or wire.far in (following.near, following.far)
            if at is not None:
                is_onward = wire.near == at
            at = wire.far if is_onward else wire.near
            yield wire, is_onward

    def rank(self) -> tuple[float, float, int, str]:
        """Bytes/s, greater is wider; of equals the shorter one, then by name of its last link."""
        shared = min((wire.all_bytes_per_s for wire in self.wires[1:]), default=float("inf"))
        last = self.last.link.id if self.last else ""
        return self.one_flow_bytes_per_s, shared, -len(self.wires), last


@dataclass(frozen=True)
class Network:
    """The wires of a plan, and where its pools are found on them.

    ``is_wired`` is false where there is no link at all: then no way is known and none is judged.
    """

    plan: Plan
    ledger: Ledger
    wires: tuple[Wire, ...]
    pool_ends: Mapping[str, End]
    _ways: dict[tuple[End, End], tuple[Way, ...]] = field(default_factory=dict, compare=False)

    @property
    def is_wired(self) -> bool:
        """Whether there is any link."""
        return bool(self.wires)

    @cached_property
    def _at(self) -> dict[End, list[Wire]]:
        found: dict[End, list[Wire]] = {}
        for wire in self.wires:
            for end in {wire.near, wire.far}:
                found.setdefault(end, []).append(wire)
        return found

    def wires_at(self, end: End) -> list[Wire]:
        """Every wire with an end there."""
        return self._at.get(end, [])

    def ways(self, start: End, box: End) -> tuple[Way, ...]:
        """Every way from a seat, a switch or the outside to a box, the widest first."""
        known = self._ways.get((start, box))
        if known is None:
            found = [Way(wires) for wires in self._from(start, box)]
            known = self._ways[start, box] = tuple(sorted(found, key=Way.rank, reverse=True))
        return known

    def _from(self, start: End, box: End) -> Iterator[tuple[Wire, ...]]:
        """What begins at a switch goes along the tree; all else by its own link to a switch or the box."""
        if start.kind == "switch":
            yield from self._walk(start, box, None)
            return
        for wire in self.wires_at(start):
            if wire.far == box:
                yield (wire,)
            elif wire.far.kind == "switch":
                yield from ((wire, *way.wires) for way in self.ways(wire.far, box))

    def _walk(self, at: End, box: End, came_by: Wire | None) -> Iterator[tuple[Wire, ...]]:
        """Along the tree of switches: no switch is met twice, and what is no switch passes nothing on."""
        for wire in self._onward.get(at, ()):
            if wire is came_by:
                continue
            there = wire.far if wire.near == at else wire.near
            if there == box:
                yield (wire,)
            elif there.kind == "switch":
                yield from ((wire, *more) for more in self._walk(there, box, wire))

    @cached_property
    def _onward(self) -> dict[End, list[Wire]]:
        """The links between switches and from them to boxes, at each switch."""
        found: dict[End, list[Wire]] = {}
        for wire in self.wires:
            if wire.near.kind == "switch":
                for end in dict.fromkeys((wire.near, wire.far)):
                    found.setdefault(end, []).append(wire)
        return found

    def way_of(self, start: End, box: End, mounts_by: str = "") -> Way | None:
        """The way that counts: the mounted one, else the widest; None where there is none."""
        ways = self.ways(start, box)
        if not mounts_by:
            return ways[0] if ways else None
        named = (way for way in ways if way.last is not None and way.last.link.id in mounts_by.split())
        return next(named, ways[0] if ways else None)

    def last_wire(self, box: End) -> Way | None:
        """The wire at a box by itself, for what comes in beside the storage: the one that carries most."""
        ways = (Way((wire,)) for wire in self.wires_at(box) if wire.near.kind == "switch")
        return max(ways, key=lambda way: (way.wires[0].all_bytes_per_s, way.rank()), default=None)


def network_of(plan: Plan, in_boxes: Mapping[str, tuple[tuple[str, int], ...]]) -> Network:
    """The wires of ``plan``; ``in_boxes`` is how many of a pool's drives are in which box, by pool."""
    ledger = ledger_of(plan)
    wires = tuple(wire_of(plan, ledger, link) for link in plan.wiring.links)
    linked = {wire.far for wire in wires}
    first = next((end for end in (End("box", box.id) for box in plan.boxes) if end in linked), STORAGE)
    ends = {}
    for pool in plan.pools:
        box = serving_box(plan, dict(in_boxes.get(pool.id, ())))
        own = End("box", box.id) if box else first
        # Where nothing is plugged into the box itself, what runs to all storage runs to it as well.
        ends[pool.id] = STORAGE if own not in linked and STORAGE in linked else own
    return Network(plan, ledger, wires, ends)


def wire_of(plan: Plan, ledger: Ledger, link: Link) -> Wire:
    """The slowest of its ports, its cable and what was seen decides; an adapter's bus may carry less yet."""
    near, far = link.ends
    speed: str = link.speed
    limit: Limit = ""
    slow_port = near
    for end in (near, far):
        plugged = ledger.plugged.get((link.id, end))
        if plugged is not None and plugged.ports:
            slowest = min((port.speed for port in plugged.ports), key=SPEEDS.index)
            if SPEEDS.index(slowest) < SPEEDS.index(speed):
                speed, limit, slow_port = slowest, "port", end
    by_cable = fastest_over(link.category, link.length_m)
    if by_cable is not None and SPEEDS.index(by_cable) < SPEEDS.index(speed):
        speed, limit = by_cable, "cable"
    if link.came_up_at and SPEEDS.index(link.came_up_at) < SPEEDS.index(speed):
        speed, limit = link.came_up_at, "came up"
    carried = ethernet_link_bytes_per_s(speed, plan.wiring.mtu, plan.wiring.protocol)
    if link.adapter and BUS_BYTES_PER_S[link.adapter] < carried:
        carried, limit = BUS_BYTES_PER_S[link.adapter], "adapter"
    words: dict[Limit, str] = {
        "": "",
        "port": f"the port of {name_of(plan, slow_port)}",
        "cable": f"{link.length_m:g} m of {link.category}",
        "came up": "what was seen",
        "adapter": f"its adapter on {link.adapter}",
    }
    return Wire(link, near, far, speed, carried, limit, words[limit])


def name_of(plan: Plan, end: End) -> str:
    """What people call an end."""
    if end.kind == "seat":
        return next((seat.name for seat in plan.brief.seats if seat.id == end.id), end.id)
    if end.kind == "switch":
        return next((switch.name for switch in plan.wiring.switches if switch.id == end.id), end.id)
    if end.kind == "box":
        return next((box.name for box in plan.boxes if box.id == end.id), end.id)
    return "the outside line" if end == OUTSIDE else "the storage"


def _judge(judged: Judged) -> Network:
    in_boxes = {pool_id: setting.homes for pool_id, setting in judged.of(SETTINGS).items()}
    return network_of(judged.bundle.plan, in_boxes)


NETWORK: Part[Network] = Part(
    "network",
    _judge,
    reads=(
        "plan/wiring",
        "plan/boxes",
        "plan/pools",
        *(f"plan/brief/seats/*/{field}" for field in ("name", "count", "seated", "way")),
    ),
    after=(SETTINGS,),
    is_answered=False,
)
