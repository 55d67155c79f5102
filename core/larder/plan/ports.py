"""The ledger of ports: which link takes which port of a switch or a box, and that none is taken twice.

Ports that a link names are its own. What it needs beyond those are free ones: of its speed or the slowest
that is faster, else the fastest there is, in the order of the links. A thing whose ports nobody has listed
has as many as are wanted.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

from larder.base.errors import Refused
from larder.base.memo import remembered
from larder.laws.path import ETHERNET_BITS_PER_S

from .bays import Box
from .brief import Brief
from .seats import RemoteSeat
from .wiring import End, Link, Wiring, ethernet_ports, numbers_text, parse_numbers

KEPT_BYTES = 4_000_000
SPEEDS = tuple(ETHERNET_BITS_PER_S)
"""From slow to fast."""


class Wired(Protocol):
    """What of a plan has to do with its wires."""

    @property
    def brief(self) -> Brief:
        """Who is plugged in."""

    @property
    def boxes(self) -> tuple[Box, ...]:
        """What they are plugged into, at the far end."""

    @property
    def wiring(self) -> Wiring:
        """Switches and links."""


@dataclass(frozen=True)
class Port:
    """A port of a switch or box, ``number`` from 1; ``card_id`` is the card of the box that it is on."""

    number: int
    speed: str
    card_id: str = ""


@dataclass(frozen=True)
class Plugged:
    """The ports that one end of a link takes; ``missing`` is how many it needs and cannot have.

    ``is_listed``: somebody has said what ports there are.
    """

    ports: tuple[Port, ...] = ()
    missing: int = 0
    is_listed: bool = True


@dataclass(frozen=True)
class Ledger:
    """Every listed port by its end, and who takes what: (link id, end) to its ports."""

    ports: Mapping[End, tuple[Port, ...]]
    plugged: Mapping[tuple[str, End], Plugged]

    def free(self, end: End) -> tuple[Port, ...]:
        """Ports that no link takes."""
        taken = {port.number for (_, at), its in self.plugged.items() if at == end for port in its.ports}
        return tuple(port for port in self.ports.get(end, ()) if port.number not in taken)


def ports_of(plan: Wired) -> dict[End, tuple[Port, ...]]:
    """What switches and boxes list; one that lists none is left out."""
    found = {
        End("switch", switch.id): tuple(
            Port(n, speed) for n, speed in enumerate(ethernet_ports(switch.ports), 1)
        )
        for switch in plan.wiring.switches
        if switch.ports
    }
    for box in plan.boxes:
        on = [("", box.ports), *((card.id, card.ports) for card in box.cards if card.holds == "network card")]
        listed = [(speed, card_id) for card_id, text in on for speed in ethernet_ports(text)]
        if listed:
            found[End("box", box.id)] = tuple(
                Port(n, speed, card_id) for n, (speed, card_id) in enumerate(listed, 1)
            )
    return found


def seats_of(plan: Wired) -> dict[str, int]:
    """How many office ports every class of seats wants, by its id; those inside or far away want none."""
    return {
        seat.id: seat.count
        for seat in plan.brief.seats
        if (seat.way == "remote control" if isinstance(seat, RemoteSeat) else seat.seated != "inside")
    }


def wanted_ports(link: Link, counts: Mapping[str, int]) -> int:
    """The number of ports that a link takes at a switch or box: every seat of a class has its own."""
    near, _ = link.ends
    return link.links * (counts.get(near.id, 0) if near.kind == "seat" else 1)


def ledger_of(plan: Wired) -> Ledger:
    """Who takes what. Raises :class:`Refused` for a port that is not there or is taken twice."""
    return _ledger(plan.wiring.links, tuple(ports_of(plan).items()), tuple(seats_of(plan).items()))


@remembered(KEPT_BYTES, lambda _, links, *__: 4_000 + 600 * len(links))
def _ledger(
    links: tuple[Link, ...],
    listed: tuple[tuple[End, tuple[Port, ...]], ...],
    seats: tuple[tuple[str, int], ...],
) -> Ledger:
    ports, counts = dict(listed), dict(seats)
    taken: dict[End, dict[int, str]] = {end: {} for end in ports}
    named: dict[tuple[str, End], tuple[Port, ...]] = {}
    ends = [
        (link, end, field, text)
        for link in links
        for (field, text), end in zip(
            (("near_ports", link.near_ports), ("far_ports", link.far_ports)), link.ends, strict=True
        )
        if end.kind in ("switch", "box")
    ]
    for link, end, field, text in ends:
        if end in ports and text:
            where = f"wiring/links/{link.id}/{field}"
            named[link.id, end] = _named(ports[end], taken[end], link, where, text)
    plugged = {}
    for link, end, _, _ in ends:
        if end not in ports:
            plugged[link.id, end] = Plugged(is_listed=False)
            continue
        own = named.get((link.id, end), ())
        need = wanted_ports(link, counts) - len(own)
        more = _free(ports[end], taken[end], link, max(need, 0))
        plugged[link.id, end] = Plugged((*own, *more), max(need, 0) - len(more))
    return Ledger(ports, plugged)


def _named(
    ports: tuple[Port, ...], taken: dict[int, str], link: Link, where: str, text: str
) -> tuple[Port, ...]:
    found = []
    for number in parse_numbers(text, where):
        if number > len(ports):
            raise Refused(where, number, f"ports 1 to {len(ports)}")
        if number in taken:
            free = numbers_text(tuple(p.number for p in ports if p.number not in taken)) or "none is left"
            raise Refused(where, number, f"a port that {taken[number]} does not take (free: {free})")
        taken[number] = f"link {link.id}"
        found.append(ports[number - 1])
    return tuple(found)


def _free(ports: tuple[Port, ...], taken: dict[int, str], link: Link, need: int) -> tuple[Port, ...]:
    """Free ports of the link's speed or the slowest that is faster; else the fastest of the slower ones."""
    if not need:
        return ()
    own = SPEEDS.index(link.speed)

    def how_fit(port: Port) -> tuple[bool, int, int]:
        fast = SPEEDS.index(port.speed)
        return fast < own, fast if fast >= own else -fast, port.number

    order = sorted((port for port in ports if port.number not in taken), key=how_fit)
    for port in order[:need]:
        taken[port.number] = f"link {link.id}"
    return tuple(order[:need])


def check_wiring(plan: Wired) -> None:
    """Raise :class:`Refused` for ends that no link joins, a port taken twice, a loop of switches.

    A link to something that is no longer there hangs loose; that is a finding, not a fault of the file.
    """
    switches = {switch.id for switch in plan.wiring.switches}
    tree: dict[str, str] = {}
    for link in plan.wiring.links:
        _check_ends(link)
        _join(link, tree)
    for service in plan.brief.services:
        _check_named(f"brief/services/{service.id}/enters_at", service.enters_at, "switch", switches)
    to_boxes = {link.id for link in plan.wiring.links if link.ends[1].kind in ("box", "storage")}
    for seat in plan.brief.seats:
        for link_id in seat.mounts_by.split():
            _check_named(f"brief/seats/{seat.id}/mounts_by", link_id, "link to a box", to_boxes)
    ledger_of(plan)


def hangs_loose(plan: Wired, link: Link) -> End | None:
    """The end of a link at which nothing is."""
    known = {
        "seat": {seat.id for seat in plan.brief.seats},
        "switch": {switch.id for switch in plan.wiring.switches},
        "box": {box.id for box in plan.boxes},
    }
    return next((end for end in link.ends if end.kind in known and end.id not in known[end.kind]), None)


def _check_named(where: str, value: str, what: str, known: set[str]) -> None:
    if value and value not in known:
        listed = ", ".join(sorted(known)) or "there is none yet"
        raise Refused(where, value, f"empty or the id of a {what} of this plan ({listed})")


def _check_ends(link: Link) -> None:
    where = f"wiring/links/{link.id}"
    near, far = link.ends
    if near.kind not in _NEAR:
        raise Refused(f"{where}/near", link.near, "seat:ID, switch:ID or outside")
    if far.kind not in _NEAR[near.kind]:
        wanted = " or ".join(_NEAR[near.kind])
        raise Refused(f"{where}/far", link.far, f"a {wanted}, coming from {link.near}")


def _join(link: Link, tree: dict[str, str]) -> None:
    """Put two switches into one tree; ``tree`` leads every switch on towards the root of its own."""
    near, far = link.ends
    if far.kind != "switch" or near.kind != "switch":
        return
    roots = [near.id, far.id]
    for n, at in enumerate(roots):
        root = at
        while root in tree:
            root = tree[root]
        roots[n] = root
    if roots[0] == roots[1]:
        wanted = (
            "a switch that is not joined to it already: switches pass frames along a tree, and a second way "
            "would close a loop (raise the links together instead)"
        )
        raise Refused(f"wiring/links/{link.id}/far", link.far, wanted)
    tree[roots[0]] = roots[1]


_NEAR: dict[str, tuple[str, ...]] = {
    "seat": ("switch", "box", "storage"),
    "switch": ("switch", "box", "storage"),
    "outside": ("switch",),
}
"""What a link may run to, by where it comes from."""
