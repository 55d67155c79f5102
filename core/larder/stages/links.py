"""Links and the slots of network cards: who crosses them, each way by itself.

A full-duplex link is two hops, one a direction; flows are pinned to the members of an aggregate, each drawn
with the same odds. Which way the bytes of a seat flow hangs on the side on which their box lies.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

from larder.laws.path import (
    BUS_BYTES_PER_S,
    FILE_PROTOCOL_EFFICIENCY,
    GOODPUT_BY_MTU,
    ethernet_line_bytes_per_s,
    one_client_low_bytes_per_s,
)
from larder.plan.ports import Plugged
from larder.plan.wiring import OUTSIDE, End

from .hops import HopResult, LinkTerms, late_of, ratio_of, said_of, within_a_box
from .loads import from_work
from .situation import Crossing, Situation
from .utilisation import Standard, Use, Utilisation, utilisation_of
from .ways import Wire, name_of

Way = Literal["read", "write"]
WAYS: tuple[Way, ...] = ("read", "write")
_VERBS: dict[Way, str] = {"read": "playing", "write": "writing"}
Crossers = Mapping[int, Crossing]
"""Who crosses a hop, by place among those who ask."""


def links_of(situation: Situation) -> Iterator[HopResult]:
    """Every link, then the slots that the ports of network cards share."""
    for wire in situation.network.wires:
        users = situation.crossing[wire.link.id]
        near, far = (name_of(situation.network.plan, end) for end in (wire.near, wire.far))
        key = ("link", wire, near, far, situation.network.plan.wiring.mtu, tuple(users.items()))
        yield situation.work.once(key, partial(_link, wire, users, situation))
    for slot in card_slots(situation):
        yield _slot(slot, situation)


@dataclass(frozen=True)
class Slot:
    """The slot of a network card; ``users`` cross it by a link that ends on the card."""

    id: str
    name: str
    bus: str
    box: End
    users: Crossers

    @property
    def bytes_per_s(self) -> float:
        """What it carries each way."""
        return BUS_BYTES_PER_S[self.bus]


def card_slots(situation: Situation) -> Iterator[Slot]:
    """The slots of network cards that anything is plugged into; a link on two cards has its part on each."""
    ledger = situation.network.ledger
    for box in situation.network.plan.boxes:
        end = End("box", box.id)
        for card in box.cards:
            users: dict[int, Crossing] = {}
            parts = [
                (wire.link.id, part)
                for wire in situation.network.wires_at(end)
                if (part := _part_on(ledger.plugged[wire.link.id, wire.far], card.id))
            ]
            for link_id, part in parts:
                for n, its in situation.crossing[link_id].items():
                    before = users.get(n, Crossing(frozenset(), frozenset(), 0.0))
                    users[n] = Crossing(
                        before.onward | its.onward, before.back | its.back, max(before.odds, part)
                    )
            if parts and card.bus:
                yield Slot(f"slot-{box.id}-{card.id}", f"{box.name}: {card.name}", card.bus, end, users)


def _part_on(plugged: Plugged, card_id: str) -> float:
    """The part of a link's ports that are on a card."""
    if not plugged.ports:
        return 0.0
    return sum(port.card_id == card_id for port in plugged.ports) / len(plugged.ports)


def _held(
    users: Crossers, situation: Situation, capacity: float, members: int, *, is_port: bool
) -> tuple[Way, dict[Way, Utilisation]]:
    """The worse way, which decides, and both; one that only copies take has no say while frames go the other.

    The way in which more could be asked comes first: what of the other cannot exceed it is not summed.
    """
    uses = {way: _uses(users, situation, way, 1 if is_port else members) for way in WAYS}

    def grave(way: Way) -> tuple[bool, float]:
        return (
            any(use.paced_alone > 0 for use in uses[way]),
            sum(use.asking.count * use.outcomes[-1][0] for use in uses[way]),
        )

    held: dict[Way, Utilisation] = {}
    least = 0.0
    for way in sorted(WAYS, key=grave, reverse=True):
        held[way] = _one_way(uses[way], situation.work.standard, capacity, least, is_port=is_port)
        least = held[way].share
    return max(WAYS, key=lambda way: (held[way].is_paced, held[way].share)), held


def _link(wire: Wire, users: Crossers, situation: Situation) -> HopResult:
    link, plan = wire.link_bytes_per_s, situation.network.plan
    name = f"{name_of(plan, wire.near)} to {name_of(plan, wire.far)}"
    is_port = wire.near.kind == "seat"
    way, held = _held(users, situation, link, wire.link.links, is_port=is_port)
    found = held[way]
    activity: Way = "read" if _is_played(users, situation, way) else "write"
    mtu = plan.wiring.mtu
    low = min(one_client_low_bytes_per_s(wire.speed, mtu), link)
    used = 1 if is_port or found.alone is not None else wire.link.links
    return HopResult(
        id=wire.link.id,
        name=name[:1].upper() + name[1:],
        kind="link",
        serves="seat" if is_port else "all",
        near=wire.near.text,
        far=wire.far.text,
        speed=wire.speed,
        limited_by=wire.limited_by,
        link_bytes_per_s=link,
        links=wire.link.links,
        capacity_bytes_per_s=link * used,
        required_bytes_per_s=link * used * found.share,
        ratio=ratio_of(found) if wire.near != OUTSIDE else None,
        direction=activity,
        because=said_of(found, situation.work, _VERBS[activity]),
        late=tuple(copy for way in WAYS for copy in late_of(held[way], link * used)),
        one_client_low_bytes_per_s=low if low < link else None,
        link_terms=LinkTerms(
            line_bytes_per_s=ethernet_line_bytes_per_s(wire.speed),
            payload_share=GOODPUT_BY_MTU[mtu],
            protocol_share=FILE_PROTOCOL_EFFICIENCY,
            adapter_bytes_per_s=BUS_BYTES_PER_S[wire.link.adapter] if wire.link.adapter else None,
            links_used=used,
        ),
    )


def _slot(slot: Slot, situation: Situation) -> HopResult:
    """A card's slot, which all of its ports share."""
    way, held = _held(slot.users, situation, slot.bytes_per_s, 1, is_port=False)
    found = held[way]
    activity: Way = "read" if _is_played(slot.users, situation, way) else "write"
    behind = tuple(i for i, end in situation.network.pool_ends.items() if end == slot.box)
    hop = within_a_box(slot.id, slot.name, "slot", behind, slot.bytes_per_s, found, situation.work)
    return hop.model_copy(
        update={
            "direction": activity,
            "because": said_of(found, situation.work, _VERBS[activity]),
            "limited_by": slot.bus,
        }
    )


def _uses(users: Crossers, situation: Situation, way: Way, members: int) -> list[Use]:
    """Who moves something over a link one way: a seat is one flow, on one member of an aggregate."""
    found = (use_of_link(n, its, its.odds / members, situation, way) for n, its in users.items())
    return [use for use in found if use.outcomes]


def _one_way(
    uses: list[Use], standard: Standard, capacity: float, least: float, *, is_port: bool
) -> Utilisation:
    """A link in one direction: a seat's own port by one seat, a shared one by all that cross it."""
    if not is_port:
        return utilisation_of(uses, standard, capacity, least)
    ports = [_own_port(use, standard, capacity) for use in uses]
    nothing = Utilisation(0.0, standard.parts[0], is_paced=False)
    return max(ports, key=lambda port: (port.is_paced, port.share), default=nothing)


def use_of_link(n: int, its: Crossing, odds: float, situation: Situation, way: Way) -> Use:
    """What one of a class moves over a link one way, for each pair of homes; in bytes/s.

    The way of reading is towards the near end, for whoever comes from there; who comes from the far end, over
    a link between two switches, writes that way.
    """
    asking, demand = situation.work.asking[n], situation.work.asking[n].demand
    old = demand.archive_bytes_per_s
    played = demand.paced_read_bytes_per_s - old
    read_here = its.pools(towards_near=way == "read", reads=True)
    written_here = its.pools(towards_near=way == "read", reads=False)
    outcomes: dict[float, float] = {}
    alone = 0.0
    for pair in situation.work.pairs[n]:
        amount = paced = 0.0
        if pair.work_id in read_here:
            amount, paced = from_work(demand), played
        if pair.work_id in written_here:
            amount += demand.write_bytes_per_s
            paced += demand.paced_write_bytes_per_s
        if pair.archive_id in read_here:
            amount, paced = amount + old, paced + old
        alone = max(alone, paced)
        if amount > 0:
            outcomes[amount] = outcomes.get(amount, 0.0) + pair.odds * odds
    return Use(asking, tuple(sorted(outcomes.items())), alone)


def _is_played(users: Crossers, situation: Situation, way: Way) -> bool:
    """Whether more is read than written of what flows one way."""
    read = written = 0.0
    for n, its in users.items():
        asking = situation.work.asking[n]
        if its.pools(towards_near=way == "read", reads=True):
            read += asking.count * asking.demand.read_bytes_per_s
        if its.pools(towards_near=way == "read", reads=False):
            written += asking.count * asking.demand.write_bytes_per_s
    return read >= written if read or written else way == "read"


def _own_port(use: Use, standard: Standard, capacity: float) -> Utilisation:
    """The port of one seat, which is alone there."""
    one = replace(use, asking=replace(use.asking, count=1))
    return replace(utilisation_of([one], standard, capacity), alone=use.asking)
