"""Findings about links: ports, cables, adapters, ways that are missing or not the best, who may come in."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import product

from larder.base.patch import Operation, set_fields
from larder.laws.cable import least_category_for
from larder.laws.path import BUS_BYTES_PER_S, ETHERNET_BITS_PER_S, ethernet_line_bytes_per_s
from larder.plan.bays import Box
from larder.plan.enclosure import CardSlot, lanes_of
from larder.plan.ports import SPEEDS, hangs_loose, seats_of
from larder.plan.wiring import End, Link
from larder.stages.plugs import PLUGS
from larder.stages.registry import WIRING_STAGE
from larder.stages.ways import Way, Wire, name_of

from .finding import Evidence, Figures, Found, Remedy, finding

PORTS_MORE = 4
"""So many ports more has the next larger switch that is proposed."""
DISPLAY_BYTES_PER_S = 3840 * 2160 * 60 * 30 / 8
"""A screen of 3840 × 2160 at 60 Hz and 30 bits a pixel, without blanking."""


def _set(link: Link, **fields: object) -> tuple[Operation, ...]:
    return set_fields(f"plan/wiring/links/{link.id}", **fields)


def _called(f: Figures, wire: Wire) -> str:
    return f"{name_of(f.bundle.plan, wire.near)} to {name_of(f.bundle.plan, wire.far)}"


@finding("seat-without-a-path", WIRING_STAGE, "block")
def seat_without_a_path(f: Figures) -> Iterator[Found]:
    """Somebody has no way to their bytes: plugged in nowhere yet, or into wires that end elsewhere."""
    result: set[str] = set()
    for lost in f.wiring.unreached:
        if lost.seat_id in result:
            continue
        result.add(lost.seat_id)
        pools = [u for u in f.wiring.unreached if u.seat_id == lost.seat_id]
        yield Found(
            at=lost.seat_id,
            severity="block" if lost.is_plugged else "warn",
            title=f"{lost.name} has no way to {lost.pool_name}"
            if lost.is_plugged
            else f"{lost.name} is plugged in nowhere yet",
            evidence=(Evidence(label="Pools out of reach", value=len(pools), unit="count"),),
            why="What it plays cannot reach it over any link of the plan."
            if lost.is_plugged
            else "Until it is, nothing can be said of its speed.",
            remedy=_join(f, lost.seat_id, lost.pool_id),
        )


def _join(f: Figures, seat_id: str, pool_id: str) -> Remedy:
    """The one link that is missing: from the seat to a switch, between switches, or on to the box."""
    plan, network = f.bundle.plan, f.network
    box = network.pool_ends[pool_id]
    switches = [End("switch", switch.id) for switch in plan.wiring.switches]
    start = End("seat", seat_id)
    there = [switch for switch in switches if network.ways(switch, box)]
    if not network.wires_at(start) and there:
        return _new_link(f, start, there[0])
    here = [switch for switch in switches if any(switch in (w.near, w.far) for w in network.wires_at(start))]
    here = here or [
        End("switch", s.enters_at) for s in plan.brief.services if s.id == seat_id and s.enters_at
    ]
    if here and there:
        return _new_link(f, here[0], there[0])
    if here or not network.wires_at(start):
        return _new_link(f, here[0] if here else start, box)
    return Remedy(words="Plug it into a switch that leads to the box.", at="plan/wiring/links")


def _new_link(f: Figures, near: End, far: End) -> Remedy:
    plan = f.bundle.plan
    taken = {link.id for link in plan.wiring.links}
    stem = f"{near.kind}-{near.id}-{far.id or far.kind}"[:34]
    own = next(each for n in range(len(taken) + 1) if (each := f"{stem}-{n}" if n else stem) not in taken)
    value = {"id": own, "near": near.text, "far": far.text}
    return Remedy(
        words=f"Run a link from {name_of(plan, near)} to {name_of(plan, far)}",
        patch=(Operation(op="add", path="plan/wiring/links", value=value),),
    )


@finding("link-hangs-loose", WIRING_STAGE, "note")
def link_hangs_loose(f: Figures) -> Iterator[Found]:
    """A link to something that is not in the plan any more."""
    for link in f.bundle.plan.wiring.links:
        end = hangs_loose(f.bundle.plan, link)
        if end is not None:
            yield Found(
                at=link.id,
                title=f"Link {link.id} hangs loose: there is no {end.kind} {end.id}",
                evidence=(Evidence(label="Ends that are there", value=1, unit="count"),),
                why="It holds a port that something else could have.",
                remedy=Remedy(
                    words="Take the link out",
                    patch=(Operation(op="remove", path=f"plan/wiring/links/{link.id}"),),
                )
                if not any(link.id in seat.mounts_by.split() for seat in f.bundle.plan.brief.seats)
                else Remedy(
                    words="Say what is mounted instead, then take the link out.",
                    at=f"plan/wiring/links/{link.id}/near",
                ),
            )


@finding("no-port-of-that-speed-left", WIRING_STAGE, "block", key="no-port-left")
def no_port_left(f: Figures) -> Iterator[Found]:
    """More is plugged into a switch or box than it has ports."""
    missing: dict[End, list[tuple[Link, int]]] = {}
    for link in f.bundle.plan.wiring.links:
        for end in link.ends:
            plugged = f.network.ledger.plugged.get((link.id, end))
            if plugged is not None and plugged.missing > 0:
                missing.setdefault(end, []).append((link, plugged.missing))
    for end, links in missing.items():
        count = sum(each for _, each in links)
        speed = max((link.speed for link, _ in links), key=SPEEDS.index)
        name = name_of(f.bundle.plan, end)
        yield Found(
            at=f"{end.kind}-{end.id}",
            title=f"{name} has {count} {'port' if count == 1 else 'ports'} too few",
            evidence=(
                Evidence(label="Plugs without a port", value=count, unit="count"),
                Evidence(label="Ports there are", value=len(f.network.ledger.ports[end]), unit="count"),
            ),
            why="What finds no port is not connected at all.",
            remedy=_more_ports(f, end, count, speed),
        )


def _more_ports(f: Figures, end: End, count: int, speed: str) -> Remedy:
    """A switch with more ports; in a box a network card, where a slot is empty."""
    plan = f.bundle.plan
    if end.kind == "switch":
        switch = next(each for each in plan.wiring.switches if each.id == end.id)
        more = max(count, PORTS_MORE)
        return Remedy(
            words=f"Take a switch with {more} more ports of {speed}",
            patch=set_fields(f"plan/wiring/switches/{end.id}", ports=f"{switch.ports} {more}x{speed}"),
        )
    box = next(each for each in plan.boxes if each.id == end.id)
    slot = next((card for card in box.cards if card.holds == "empty" and lanes_of(card.bus)), None)
    if slot is None:
        words = "No slot is left for a network card: plug less into it, or take a box with more."
        return Remedy(words=words, at=f"plan/boxes/{box.id}/ports")
    ports = f"{count}x{speed}" if count > 1 else speed
    return Remedy(
        words=f"Put a network card with {ports} into {slot.name}",
        patch=set_fields(f"plan/boxes/{box.id}/cards/{slot.id}", holds="network card", ports=ports),
    )


@finding("no-port-of-that-speed-left", WIRING_STAGE, "note", key="no-fast-port-left")
def no_fast_port_left(f: Figures) -> Iterator[Found]:
    """The next seat or box at a switch's highest speed needs another switch."""
    for left in f.of(PLUGS).ports:
        end = next(e for e in f.network.ledger.ports if e.text == left.at)
        speeds = [port.speed for port in f.network.ledger.ports[end]]
        if end.kind != "switch" or left.free or left.speed != max(speeds, key=SPEEDS.index):
            continue
        if len(set(speeds)) == 1 and any(
            p.missing for (_, at), p in f.network.ledger.plugged.items() if at == end
        ):
            continue
        yield Found(
            at=end.id,
            title=f"{left.name} has no {left.speed} port left",
            evidence=(
                Evidence(label=f"Ports of {left.speed}", value=left.count, unit="count"),
                Evidence(label="Free", value=0, unit="count"),
            ),
            why=f"The next box or seat at {left.speed} needs another switch.",
            remedy=_more_ports(f, end, PORTS_MORE, left.speed),
        )


@finding("negotiated-down-link", WIRING_STAGE, "warn")
def negotiated_down_link(f: Figures) -> Iterator[Found]:
    """A link that came up slower than its ports and its cable are made for."""
    for wire in f.network.wires:
        if wire.limit != "came up":
            continue
        yield Found(
            at=wire.link.id,
            title=f"{_called(f, wire)} came up at {wire.speed}",
            evidence=(
                Evidence(label="It carries", value=wire.link_bytes_per_s, unit="bytes_per_s"),
                Evidence(
                    label="Its port is made for",
                    value=ethernet_line_bytes_per_s(wire.link.speed),
                    unit="bytes_per_s",
                ),
            ),
            why="One bad pair in a cable or a plug is enough: the two ends agree on what still works.",
            remedy=Remedy(
                words="Replace the cable, look at what it comes up at, and clear this",
                patch=_set(wire.link, came_up_at=""),
            ),
        )


@finding("cable-category-too-low-for-length", WIRING_STAGE, "warn")
def cable_category_too_low(f: Figures) -> Iterator[Found]:
    """A cable that its standard does not promise the speed of its ports over this length."""
    for wire in f.network.wires:
        link = wire.link
        if wire.limit != "cable":
            continue
        better = least_category_for(link.speed, link.length_m, SPEEDS)
        yield Found(
            at=link.id,
            title=f"{_called(f, wire)}: {link.length_m:g} m of {link.category} is promised {wire.speed}",
            evidence=(
                Evidence(label="Length", value=link.length_m, unit="m"),
                Evidence(
                    label="The cable is promised",
                    value=ETHERNET_BITS_PER_S[wire.speed] / 8,
                    unit="bytes_per_s",
                ),
                Evidence(
                    label="Its ports are made for",
                    value=ETHERNET_BITS_PER_S[link.speed] / 8,
                    unit="bytes_per_s",
                ),
            ),
            why="It may come up faster and then lose frames; nobody stands behind it.",
            remedy=Remedy(words=f"Run {better} instead", patch=_set(link, category=better)),
        )


@finding("adapter-slower-than-its-port", WIRING_STAGE, "warn")
def adapter_slower_than_its_port(f: Figures) -> Iterator[Found]:
    """A fast port on a bus that carries less: the adapter on a narrow slot or an old plug."""
    for wire in f.network.wires:
        link = wire.link
        if not link.adapter or wire.limit != "adapter":
            continue
        line = ethernet_line_bytes_per_s(link.speed)
        family = link.adapter[:4]
        wider = sorted(
            (bus for bus in BUS_BYTES_PER_S if bus[:4] == family[:4] and BUS_BYTES_PER_S[bus] >= line),
            key=BUS_BYTES_PER_S.__getitem__,
        )
        better = wider[0] if wider else "usb4" if family.startswith("usb") else ""
        yield Found(
            at=link.id,
            title=f"{name_of(f.bundle.plan, wire.near)}: its adapter on {link.adapter} holds the port back",
            evidence=(
                Evidence(label="The bus carries", value=BUS_BYTES_PER_S[link.adapter], unit="bytes_per_s"),
                Evidence(label="The port is made for", value=line, unit="bytes_per_s"),
            ),
            why="What the slot or plug is wired for decides, not what is printed on the adapter.",
            remedy=Remedy(
                words=f"Put it on {better}" if better else "Use a port that is built in",
                patch=_set(link, adapter=better),
            ),
        )


@finding("slot-too-narrow-for-its-ports", WIRING_STAGE, "warn")
def slot_too_narrow_for_its_ports(f: Figures) -> Iterator[Found]:
    """A network card in a slot that carries less than its ports together."""
    for box, card in _network_cards(f):
        end = End("box", box.id)
        ports = [p for p in f.network.ledger.ports.get(end, ()) if p.card_id == card.id]
        used = f.network.ledger.free(end)
        line = sum(ethernet_line_bytes_per_s(p.speed) for p in ports if p not in used)
        if not card.bus or BUS_BYTES_PER_S[card.bus] >= line:
            continue
        generation = card.bus.rpartition("x")[0]
        better = next(
            (b for b in BUS_BYTES_PER_S if b.startswith(generation) and BUS_BYTES_PER_S[b] >= line), None
        )
        yield Found(
            at=f"{box.id}-{card.id}",
            title=f"{box.name}: {card.name} is too narrow for the ports on it",
            evidence=(
                Evidence(label="The slot carries", value=BUS_BYTES_PER_S[card.bus], unit="bytes_per_s"),
                Evidence(label="Its ports in use together", value=line, unit="bytes_per_s"),
                Evidence(label="Lanes", value=lanes_of(card.bus), unit="count"),
            ),
            why="A slot as long as sixteen lanes may be wired with one; its ports share what that carries.",
            remedy=Remedy(
                words=f"Move the card to a slot wired as {better}",
                patch=set_fields(f"plan/boxes/{box.id}/cards/{card.id}", bus=better),
            )
            if better
            else Remedy(
                words="Spread the ports over two cards.", at=f"plan/boxes/{box.id}/cards/{card.id}/bus"
            ),
        )


def _network_cards(f: Figures) -> Iterator[tuple[Box, CardSlot]]:
    for box in f.bundle.plan.boxes:
        for card in box.cards:
            if card.holds == "network card":
                yield box, card


@finding("two-ways-to-one-box", WIRING_STAGE, "warn")
def two_ways_to_one_box(f: Figures) -> Iterator[Found]:
    """A seat reaches a box by several addresses, and is not said to mount the one that carries most."""
    plan = f.bundle.plan
    in_office = seats_of(plan)
    for seat, box in product(plan.brief.seats, dict.fromkeys(f.network.pool_ends.values())):
        ways = f.network.ways(End("seat", seat.id), box) if in_office.get(seat.id) else ()
        by_link = {way.wires[-1].link.id: way for way in reversed(ways)}
        if len(by_link) < 2:
            continue
        named = next((by_link[i] for i in seat.mounts_by.split() if i in by_link), None)
        best = ways[0]
        if named is not None and named.one_flow_bytes_per_s >= best.one_flow_bytes_per_s:
            continue
        other = named or next(way for way in ways if way.wires[-1] != best.wires[-1])
        box_name = name_of(plan, box)
        title = f"{seat.name} has two ways to {box_name}, and it is not said which it mounts"
        if named is not None:
            title = f"{seat.name} mounts {box_name} by the slower of two ways"
        yield Found(
            at=f"{seat.id}-{box.id or 'storage'}",
            title=title,
            evidence=(
                Evidence(label="Ways", value=len(by_link), unit="count"),
                Evidence(label="One way gives", value=best.one_flow_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="The other", value=other.one_flow_bytes_per_s, unit="bytes_per_s"),
            ),
            why="A share found by its name may be mounted over the office network for weeks before anybody "
            "looks; the address plan says which address is which.",
            remedy=_mount(f, seat.id, seat.mounts_by, by_link, best),
        )


def _mount(f: Figures, seat_id: str, mounts_by: str, by_link: Mapping[str, Way], best: Way) -> Remedy:
    wire = best.wires[-1]
    kept = [link_id for link_id in mounts_by.split() if link_id not in by_link]
    address = next((a.address for a in f.of(PLUGS).addresses if a.link_id == wire.link.id), "")
    return Remedy(
        words=f"Mount it by {_called(f, wire)} ({address})",
        patch=set_fields(f"plan/brief/seats/{seat_id}", mounts_by=" ".join([*kept, wire.link.id])),
    )


@finding("cables-not-joined", WIRING_STAGE, "note")
def cables_not_joined(f: Figures) -> Iterator[Found]:
    """Two alike cables from one switch to one box, each with an address of its own."""
    seen: dict[tuple[End, End, str], Link] = {}
    for wire in f.network.wires:
        at = (wire.near, wire.far, wire.link.speed)
        first = seen.setdefault(at, wire.link)
        mounts = any(
            {first.id, wire.link.id} & set(seat.mounts_by.split()) for seat in f.bundle.plan.brief.seats
        )
        if first is wire.link or wire.near.kind != "switch" or mounts or first.links + wire.link.links > 16:
            continue
        links = first.links + wire.link.links
        yield Found(
            at=wire.link.id,
            title=f"{_called(f, wire)}: two cables that are not joined",
            evidence=(Evidence(label="Cables", value=links, unit="count"),),
            why="Two addresses in one network let replies leave by either port; joined they share all seats, "
            "or each gets a network of its own and the seats are told apart.",
            remedy=Remedy(
                words=f"Join them: {links} links together",
                patch=(
                    *_set(first, links=links, near_ports="", far_ports=""),
                    Operation(op="remove", path=f"plan/wiring/links/{wire.link.id}"),
                ),
            ),
        )


@finding("display-on-a-direct-link", WIRING_STAGE, "note")
def display_on_a_direct_link(f: Figures) -> Iterator[Found]:
    """A screen hangs on the cable that footage comes over."""
    for wire in f.network.wires:
        if wire.link.has_display:
            yield Found(
                at=wire.link.id,
                title=f"{_called(f, wire)}: a screen shares the cable",
                evidence=(
                    Evidence(label="A screen takes about", value=DISPLAY_BYTES_PER_S, unit="bytes_per_s"),
                    Evidence(label="The link carries", value=wire.link_bytes_per_s, unit="bytes_per_s"),
                ),
                why="Pictures for the screen are served first, and footage gets what is left of the plug.",
                remedy=Remedy(
                    words="Give the screen a plug of its own", patch=_set(wire.link, has_display=False)
                ),
            )


@finding("reachable-from-outside", WIRING_STAGE, "warn")
def reachable_from_outside(f: Figures) -> Iterator[Found]:
    """Ports opened towards the outside, with boxes behind them."""
    for wire in f.network.wires:
        if wire.link.lets_in != "open ports":
            continue
        boxes = [box for box in dict.fromkeys(f.network.pool_ends.values()) if f.network.ways(wire.near, box)]
        if not boxes:
            continue
        names = ", ".join(name_of(f.bundle.plan, box) for box in boxes)
        yield Found(
            at=wire.link.id,
            title=f"Anybody outside can knock at {names}",
            evidence=(Evidence(label="Boxes within reach", value=len(boxes), unit="count"),),
            why="Storage that answers to the open net is found within hours; what is encrypted for ransom "
            "takes its snapshots along.",
            remedy=Remedy(
                words="Let people in through a tunnel only", patch=_set(wire.link, lets_in="through a tunnel")
            ),
        )


@finding("switch-too-loud-for-the-room", WIRING_STAGE, "note")
def switch_too_loud(f: Figures) -> Iterator[Found]:
    """A switch with fans that are louder than the room allows."""
    most = f.bundle.plan.brief.limits.room.noise_dba_max
    for switch in f.bundle.plan.wiring.switches:
        if most is not None and switch.noise_dba > most:
            yield Found(
                at=switch.id,
                title=f"{switch.name} is louder than the room allows",
                evidence=(
                    Evidence(label="Its noise", value=switch.noise_dba, unit="dB(A)"),
                    Evidence(label="Allowed", value=most, unit="dB(A)"),
                ),
                why="Small fans whistle where people listen to sound.",
                remedy=Remedy(
                    words="Put it in another room or a closet with air, or take one without fans.",
                    at=f"plan/wiring/switches/{switch.id}/noise_dba",
                ),
            )
