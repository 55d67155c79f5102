"""What is plugged in where and what is left: ports by speed, slots for cards, and addresses by network."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator

from larder.base.results import Result
from larder.plan.enclosure import lanes_of
from larder.plan.ports import SPEEDS
from larder.plan.wiring import End

from .stage import Judged, Part
from .ways import NETWORK, Network, name_of

FIRST_NETWORK, FIRST_HOST = 1, 20
"""10.4.N.0/24 for network N, storage from host 20 on: private addresses (RFC 1918), a plan and no more."""


class PortsLeft(Result):
    """The ports of one speed at a switch or box, ``at`` as links name it."""

    at: str
    name: str
    speed: str
    count: int
    free: int


class SlotLeft(Result):
    """A card slot of a box and what it holds; ``lanes`` as it is truly wired."""

    box_id: str
    box_name: str
    name: str
    bus: str
    lanes: int
    holds: str


class LanesLeft(Result):
    """The PCIe lanes of a box: how many there are, and how many its slots and bays are wired for."""

    box_id: str
    box_name: str
    count: int
    wired: int


class Address(Result):
    """An address that a box has on one of its links, and the seats that mount it.

    Boxes with two links into one network get a second one for the second link, so that replies leave by the
    port they are asked at.
    """

    link_id: str
    box_name: str
    network: int
    address: str
    mounted_by: tuple[str, ...]


class PlugsResult(Result):
    """The ledger and the address plan."""

    ports: tuple[PortsLeft, ...]
    slots: tuple[SlotLeft, ...]
    lanes: tuple[LanesLeft, ...]
    addresses: tuple[Address, ...]


def plugs_of(network: Network) -> PlugsResult:
    """What is left of ports and slots, and who mounts what."""
    return PlugsResult(
        ports=tuple(_ports(network)),
        slots=tuple(_slots(network)),
        lanes=tuple(
            LanesLeft(box_id=box.id, box_name=box.name, count=box.lanes, wired=box.lanes_wanted)
            for box in network.plan.boxes
            if box.lanes
        ),
        addresses=tuple(_addresses(network)),
    )


def _ports(network: Network) -> Iterator[PortsLeft]:
    for end, ports in network.ledger.ports.items():
        free = Counter(port.speed for port in network.ledger.free(end))
        counts = Counter(port.speed for port in ports)
        for speed in sorted(counts, key=SPEEDS.index, reverse=True):
            yield PortsLeft(
                at=end.text,
                name=name_of(network.plan, end),
                speed=speed,
                count=counts[speed],
                free=free[speed],
            )


def _slots(network: Network) -> Iterator[SlotLeft]:
    for box in network.plan.boxes:
        for card in box.cards:
            yield SlotLeft(
                box_id=box.id,
                box_name=box.name,
                name=card.name,
                bus=card.bus,
                lanes=lanes_of(card.bus),
                holds=card.holds,
            )


def _addresses(network: Network) -> Iterator[Address]:
    """A network for every tree of switches and every direct link; a second one where a box meets it twice."""
    trees = _trees(network)
    taken: set[tuple[int, End]] = set()
    hosts: Counter[int] = Counter()
    count = len(set(trees.values()))
    for wire in network.wires:
        if wire.far.kind not in ("box", "storage"):
            continue
        number = trees.get(wire.near)
        if number is None or (number, wire.far) in taken:
            count += 1
            number = count
        taken.add((number, wire.far))
        hosts[number] += 1
        yield Address(
            link_id=wire.link.id,
            box_name=name_of(network.plan, wire.far),
            network=number + FIRST_NETWORK - 1,
            address=f"10.4.{number + FIRST_NETWORK - 1}.{FIRST_HOST + hosts[number] - 1}",
            mounted_by=tuple(_mounting(network, wire.link.id, wire.far)),
        )


def _trees(network: Network) -> dict[End, int]:
    """Which tree of switches each switch is in, numbered from 1."""
    found: dict[End, int] = {}
    for switch in network.plan.wiring.switches:
        end = End("switch", switch.id)
        if end not in found:
            number = len(set(found.values())) + 1
            todo = [end]
            while todo:
                at = todo.pop()
                found[at] = number
                for wire in network.wires_at(at):
                    other = wire.far if wire.near == at else wire.near
                    if other.kind == "switch" and other not in found:
                        todo.append(other)
    return found


def _mounting(network: Network, link_id: str, box: End) -> Iterator[str]:
    if box not in network.pool_ends.values():
        return
    for seat in network.plan.brief.seats:
        start = End("seat", seat.id)
        way = network.way_of(start, box, seat.mounts_by) if network.wires_at(start) else None
        if seat.count and way is not None and way.last is not None and way.last.link.id == link_id:
            yield seat.name


def _judge(judged: Judged) -> PlugsResult:
    return plugs_of(judged.of(NETWORK))


PLUGS: Part[PlugsResult] = Part("plugs", _judge, after=(NETWORK,), is_drawn=True)
