"""What would fix one seat: every single change is tried, and judged like any other plan.

A port, a cable, an adapter, an uplink, a link more, another switch, a link of its own, another address, a
home elsewhere, lighter footage. Nothing is guessed from rules of thumb: what is proposed has been judged.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal

from larder.base.errors import Refused
from larder.base.patch import Operation, Patch, set_fields
from larder.base.results import Result
from larder.judge.evaluation import FIGURES
from larder.plan.bundle import Bundle
from larder.plan.house_rules import TIGHT_RATIO
from larder.plan.new_item import fresh_id
from larder.plan.ports import SPEEDS, Ledger
from larder.plan.quick_patch import patched
from larder.plan.seats import FootageSeat
from larder.plan.wire_changes import faster_fields
from larder.plan.wiring import End, Link
from larder.stages.brief import BRIEF
from larder.stages.stage import Judged, judge, judge_anew
from larder.stages.ways import NETWORK, Network, name_of
from larder.stages.wiring import WIRING, SeatWay, WiringResult

FASTER_STEPS = 2
"""How many faster kinds of port are tried where nobody has listed any."""
LIGHTER = 0.5
"""Footage at most so heavy, of what is played now, counts as a proxy."""


class SeatChange(Result):
    """A single change and what comes of it: the seat's ratio, and the smallest of the whole plan.

    ``price`` is null where some part of it has no price yet, 0 where nothing is bought.
    """

    words: str
    patch: tuple[Operation, ...]
    ratio: float | None
    plan_ratio: float | None
    fixes: bool
    price: Decimal | None


class SeatChanges(Result):
    """How one class of seats fares, and every change that helps it: the cheapest that fix it first.

    ``in_vain`` are those that do not help.
    """

    seat_id: str
    name: str
    ratio: float | None
    limiting_name: str
    tried: int
    changes: tuple[SeatChange, ...]
    in_vain: tuple[str, ...]


@dataclass(frozen=True)
class Tried:
    """A change to try: what is bought for it as (part, speed, count), and what a link must come up at."""

    words: str
    patch: Patch
    parts: tuple[tuple[str, str, int], ...] = ()
    link_id: str = ""
    speed: str = ""

    def is_made(self, network: Network) -> bool:
        """Whether the link comes up as is wanted: with no such port at the other end it does not."""
        wire = next((wire for wire in network.wires if wire.link.id == self.link_id), None)
        return wire is None or not self.speed or wire.speed == self.speed


def cheapest_change(bundle: Bundle, seat_id: str) -> SeatChanges:
    """Every single change for one class of seats. Raises :class:`Refused` for a seat that there is not."""
    judged = judge(bundle, FIGURES)
    wiring = judged.of(WIRING)
    now = _seat_of(wiring, seat_id)
    if now is None:
        listed = ", ".join(seat.id for seat in wiring.seats) or "there is none yet"
        raise Refused("seat_id", seat_id, f"the id of a class of seats that asks for something ({listed})")
    names = {hop.id: hop.name for hop in wiring.hops}
    missing = _missing(judged.of(NETWORK).ledger)
    helping, in_vain, count = [], [], 0
    for trial in trials(judged, seat_id):
        after = judged_with(judged, trial.patch)
        if after is None or not trial.is_made(after.of(NETWORK)):
            continue
        if _missing(after.of(NETWORK).ledger) > missing:
            continue
        count += 1
        change = _change(judged, after, trial, now)
        if change is None:
            in_vain.append(trial.words)
        else:
            helping.append(change)
    return SeatChanges(
        seat_id=seat_id,
        name=now.name,
        ratio=now.ratio,
        limiting_name=names.get(now.limiting_hop_id or "", ""),
        tried=count,
        changes=tuple(sorted(helping, key=_order)),
        in_vain=tuple(in_vain),
    )


def judged_with(judged: Judged, patch: Patch) -> Judged | None:
    """The plan judged anew with a change on it; None where the change cannot be made."""
    try:
        bundle = patched(judged.bundle, patch)
    except Refused:
        return None
    return judge_anew(bundle, judged, tuple(operation.path for operation in patch), FIGURES)


def _change(before: Judged, after: Judged, trial: Tried, now: SeatWay) -> SeatChange | None:
    """What comes of a change; None where it does not help, or somebody else is worse off than they may be."""
    was, wiring = before.of(WIRING), after.of(WIRING)
    seat = _seat_of(wiring, now.id)
    lost = len(wiring.unreached) > len(was.unreached)
    if seat is None or lost or (seat.ratio or 0.0) <= (now.ratio or 0.0) * (1 + 1e-9):
        return None
    worst = wiring.ratio
    if worst is not None and worst < TIGHT_RATIO and was.ratio is not None and worst < was.ratio * (1 - 1e-9):
        return None
    return SeatChange(
        words=trial.words,
        patch=trial.patch,
        ratio=seat.ratio,
        plan_ratio=worst,
        fixes=seat.ratio is not None and seat.ratio >= before.bundle.house_rules.enough_ratio,
        price=_price(before.bundle, trial),
    )


def _order(change: SeatChange) -> tuple[bool, bool, Decimal, float]:
    """What fixes it before what only helps; what has a price before what has none; then what helps most."""
    price = change.price if change.price is not None else Decimal(0)
    return not change.fixes, change.price is None, price, -(change.ratio or 0.0)


def _seat_of(wiring: WiringResult, seat_id: str) -> SeatWay | None:
    return next((seat for seat in wiring.seats if seat.id == seat_id), None)


def _missing(ledger: Ledger) -> int:
    return sum(plugged.missing for plugged in ledger.plugged.values())


def _price(bundle: Bundle, trial: Tried) -> Decimal | None:
    known: dict[tuple[str, str], Decimal] = {
        (price.part, price.speed): price.unit_price for price in bundle.plan.wiring.prices
    }
    total = Decimal("0.00")
    for part, speed, count in trial.parts:
        each = known.get((part, speed))
        if each is None:
            return None
        total += each * count
    return total


def trials(judged: Judged, seat_id: str) -> Iterator[Tried]:
    """Every single change there is for a class of seats, in no order."""
    network = judged.of(NETWORK)
    seat = next(each for each in judged.bundle.plan.brief.seats if each.id == seat_id)
    own = [wire.link for wire in network.wires if wire.near == End("seat", seat_id)]
    used = _seat_of(judged.of(WIRING), seat_id)
    on_the_way = set(used.hop_ids if used else ())
    for wire in network.wires:
        if wire.link.id in on_the_way and wire.near.kind in ("seat", "switch"):
            count = seat.count if wire.near.kind == "seat" else 1
            yield from _faster(network, wire.link, count)
            if wire.near.kind == "switch":
                yield from _one_more(network, wire.link)
    for link in own:
        yield from _plugged_elsewhere(network, link, seat.name, seat.count)
    yield from _direct(network, seat_id, seat.count)
    yield from _mounted(network, seat_id, seat.mounts_by)
    yield from _home_elsewhere(judged, seat_id)
    if isinstance(seat, FootageSeat):
        yield from _lighter(judged, seat)


def _called(network: Network, link: Link) -> str:
    near, far = link.ends
    return f"{name_of(network.plan, near)} to {name_of(network.plan, far)}"


def _set(link: Link, **fields: object) -> Patch:
    return set_fields(f"plan/wiring/links/{link.id}", **fields)


def _faster(network: Network, link: Link, count: int) -> Iterator[Tried]:
    """A faster port at both ends, with the cable and the bus that it wants."""
    if link.came_up_at:
        words = f"A new cable: {_called(network, link)} at {link.speed}"
        yield Tried(words, _set(link, came_up_at=""), (("cable", link.speed, count),))
    for speed in _speeds_above(network, link):
        fields = faster_fields(link, speed)
        parts = [("adapter" if link.ends[0].kind == "seat" else "network card", speed, count)]
        if "category" in fields:
            parts.append(("cable", speed, count))
        words = f"{_called(network, link)} at {speed}"
        yield Tried(words, _set(link, **fields), tuple(parts), link.id, speed)


def _speeds_above(network: Network, link: Link) -> list[str]:
    """Faster kinds of port that its ends list; a seat's machine takes any that the other end can be."""
    listed = [{port.speed for port in network.ledger.ports.get(end, ())} for end in link.ends]
    faster = SPEEDS[SPEEDS.index(link.speed) + 1 :]
    known = [speeds for speeds in listed if speeds]
    if not known:
        return list(faster[:FASTER_STEPS])
    most = min(max(SPEEDS.index(speed) for speed in speeds) for speeds in known)
    is_seat = link.ends[0].kind == "seat"
    return [s for s in faster if SPEEDS.index(s) <= most and (is_seat or any(s in one for one in known))]


def _one_more(network: Network, link: Link) -> Iterator[Tried]:
    if link.links < 16:
        words = f"{_called(network, link)}: {link.links + 1} links together"
        yield Tried(
            words,
            _set(link, links=link.links + 1, near_ports="", far_ports=""),
            (("cable", link.speed, 1),),
        )


def _plugged_elsewhere(network: Network, link: Link, name: str, count: int) -> Iterator[Tried]:
    """Into another switch, with the cable that is there."""
    for switch in network.plan.wiring.switches:
        end = End("switch", switch.id)
        if end == link.ends[1] or (len(network.ledger.free(end)) < count and end in network.ledger.ports):
            continue
        yield Tried(f"{name} into {switch.name}", _set(link, far=end.text, far_ports=""))
        speeds = {port.speed for port in network.ledger.free(end)}
        for speed in sorted(speeds, key=SPEEDS.index):
            if SPEEDS.index(speed) > SPEEDS.index(link.speed):
                fields = {"far": end.text} | faster_fields(link, speed)
                yield Tried(
                    f"{name} into {switch.name} at {speed}",
                    _set(link, **fields),
                    (("adapter", speed, count),),
                    link.id,
                    speed,
                )


def _direct(network: Network, seat_id: str, count: int) -> Iterator[Tried]:
    """A link of its own to a box, past every switch."""
    taken = [link.id for link in network.plan.wiring.links]
    for box in dict.fromkeys(network.pool_ends.values()):
        free = network.ledger.free(box)
        if any(wire.near == End("seat", seat_id) and wire.far == box for wire in network.wires):
            continue
        if box not in network.ledger.ports or len(free) < count:
            continue
        speed = max((port.speed for port in free), key=SPEEDS.index)
        own = fresh_id(f"direct-{seat_id}-{box.id}", taken)
        start = End("seat", seat_id)
        value = {"id": own, "near": start.text, "far": box.text, "speed": speed}
        add = Operation(op="add", path="plan/wiring/links", value=value)
        yield Tried(
            f"{name_of(network.plan, start)} straight into {name_of(network.plan, box)} at {speed}",
            (add, *set_fields(f"plan/brief/seats/{seat_id}", mounts_by=own)),
            (("adapter", speed, count), ("cable", speed, count)),
        )


def _mounted(network: Network, seat_id: str, mounts_by: str) -> Iterator[Tried]:
    """Another address of a box that it reaches by several."""
    for box in dict.fromkeys(network.pool_ends.values()):
        ways = network.ways(End("seat", seat_id), box)
        ids = list(dict.fromkeys(way.wires[-1].link.id for way in ways))
        kept = [link_id for link_id in mounts_by.split() if link_id not in ids]
        for way in ways if len(ids) > 1 else ():
            link = way.wires[-1].link
            if link.id not in mounts_by.split():
                patch = set_fields(f"plan/brief/seats/{seat_id}", mounts_by=" ".join([*kept, link.id]))
                yield Tried(f"Mount it by {_called(network, link)}", patch)


def _home_elsewhere(judged: Judged, seat_id: str) -> Iterator[Tried]:
    plan = judged.bundle.plan
    homes = plan.pools_for_work()
    for pool in plan.pools:
        if pool.id in homes and len(homes) > 1:
            patch = set_fields(f"plan/brief/seats/{seat_id}", works_on=pool.id)
            yield Tried(f"Its work on {pool.name} alone", patch)


def _lighter(judged: Judged, seat: FootageSeat) -> Iterator[Tried]:
    """Cutting on the lightest footage that the library has."""
    rates = {r.id: r.mean_bytes_per_s for r in judged.of(BRIEF).formats}
    footage = [f for f in judged.bundle.catalogue.formats if f.kind not in ("audio", "stills")]
    lightest = min(footage, key=lambda f: rates.get(f.id, float("inf")), default=None)
    if lightest is not None and rates.get(lightest.id, 0.0) <= rates[seat.format_id] * LIGHTER:
        patch = set_fields(f"plan/brief/seats/{seat.id}", format_id=lightest.id)
        yield Tried(f"{seat.name} on {lightest.name}", patch)
