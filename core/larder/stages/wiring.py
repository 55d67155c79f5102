"""Stage *Wiring*: each hop between a seat and the pool, what it carries and how much of it is needed.

Every hop is judged by its utilisation (:mod:`larder.stages.utilisation`). A full-duplex link is two hops, one
a direction; flows are pinned to the members of an aggregate, each drawn with the same odds. A pool's drives
are one hop on which reading costs 1/R and writing 1/W. Before it come what its box makes all drives pass, a
bus or cable, and the processor.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

from larder.base.results import Result
from larder.laws.path import (
    BUS_BYTES_PER_S,
    FILE_PROTOCOL_EFFICIENCY,
    GOODPUT_BY_MTU,
    ethernet_line_bytes_per_s,
    one_client_low_bytes_per_s,
)
from larder.plan.ports import Plugged
from larder.plan.wiring import OUTSIDE, End

from .loads import from_work
from .pool import PoolResult
from .pool_setting import SETTINGS, PoolCost, SharedHop, shared_hops
from .situation import SITUATION, Crossing, Situation
from .stage import Judged, Part
from .trouble import TROUBLES, TroubledSpeed, kept_in
from .utilisation import Standard, Use, Utilisation, utilisation_of
from .ways import Wire, name_of

Direction = Literal["read", "write", "both"]
HopKind = Literal["link", "slot", "pool", "bus", "processor"]
Way = Literal["read", "write"]
WAYS: tuple[Way, ...] = ("read", "write")
_VERBS: dict[Way, str] = {"read": "playing", "write": "writing"}
Crossers = Mapping[int, Crossing]
"""Who crosses a hop, by place among those who ask."""


class LinkTerms(Result):
    """What a link carries: line rate × what framing and protocol leave of it × the links in use.

    Or what the bus of its adapter carries, where that is less.
    """

    line_bytes_per_s: float
    payload_share: float
    protocol_share: float
    adapter_bytes_per_s: float | None
    links_used: int


class DrivesTerms(Result):
    """What a pool carries: its reads and writes share the drives, by the part of the load that reads."""

    read_share: float
    read_bytes_per_s: float
    write_bytes_per_s: float


class CostTerms(Result):
    """What one pool's load costs of something shared, for a byte; ``load_share`` is its part of all load."""

    pool_name: str
    load_share: float
    read_share: float
    a_byte_read: float
    a_byte_written: float


class SharedTerms(Result):
    """What a bus (bytes/s) or a processor (cores) has to give, and what the pools' bytes cost of it."""

    capacity: float
    costs: tuple[CostTerms, ...]


class LateCopies(Result):
    """A part of the day in which nobody plays and which is too short for what is to be copied over a hop."""

    part_name: str
    asked_bytes_per_s: float
    seconds_late: float


class HopResult(Result):
    """One hop in its worse direction. ``ratio`` is capacity ÷ required, null where nothing is asked.

    ``pool_ids`` are the pools behind it; links list none. ``near`` and ``far`` are a link's ends, ``speed``
    is what it comes up at, ``limited_by`` what keeps it below its own port's. ``late`` says where copies do
    not end in their part of the day. ``one_client_low_bytes_per_s`` is the least that one client alone may
    get of a link, null where that is no less than ``link_bytes_per_s``.
    """

    id: str
    name: str
    kind: HopKind
    serves: Literal["seat", "all"]
    pool_ids: tuple[str, ...] = ()
    near: str = ""
    far: str = ""
    speed: str = ""
    limited_by: str = ""
    link_bytes_per_s: float
    links: int
    capacity_bytes_per_s: float
    required_bytes_per_s: float
    ratio: float | None
    direction: Direction
    because: str
    late: tuple[LateCopies, ...] = ()
    one_client_low_bytes_per_s: float | None = None
    link_terms: LinkTerms | None = None
    drives_terms: DrivesTerms | None = None
    shared_terms: SharedTerms | None = None


class SeatWay(Result):
    """How one class of seats fares: the hop of those it crosses that has the least in hand.

    ``ratio`` and ``limiting_hop_id`` are null where it asks for nothing that must keep its rate. ``hop_ids``
    are all hops that it crosses, links first.
    """

    id: str
    name: str
    ratio: float | None
    limiting_hop_id: str | None
    hop_ids: tuple[str, ...]


class Unreached(Result):
    """A seat or service that has no way to a pool; ``is_plugged`` tells whether it has any link at all."""

    seat_id: str
    name: str
    pool_id: str
    pool_name: str
    is_plugged: bool


class WiringResult(Result):
    """The stage's answer. ``limiting_hop_id`` is null where nothing is asked of any hop.

    ``in_trouble`` are the states with one pool in trouble, each with the pool for which that is worst; one
    that loses its bytes then is left out.
    """

    hops: tuple[HopResult, ...]
    seats: tuple[SeatWay, ...]
    unreached: tuple[Unreached, ...]
    in_trouble: tuple[TroubledSpeed, ...]
    limiting_hop_id: str | None
    required_bytes_per_s: float
    delivered_bytes_per_s: float
    ratio: float | None


def wiring_stage(
    situation: Situation,
    shared: tuple[SharedHop, ...] = (),
    rebuild_shares: Mapping[str, float] | None = None,
) -> WiringResult:
    """Every hop with its load, and the one whose capacity ÷ required is smallest (of equals the first)."""
    hops = tuple(_links(situation))
    work = situation.work
    hops += tuple(work.once(hop, partial(_shared, hop, situation)) for hop in shared)
    hops += tuple(
        work.once(("pool", pool.id), partial(_pool, pool, cold, situation))
        for pool, cold in zip(work.tiers.pools, work.cold, strict=True)
    )
    limit = _tightest(hops)
    return WiringResult(
        hops=hops,
        seats=tuple(_seat_ways(hops, situation)),
        unreached=tuple(_unreached(situation)),
        in_trouble=tuple(_in_trouble(hops, limit, situation, rebuild_shares or {})),
        limiting_hop_id=limit.id if limit else None,
        required_bytes_per_s=limit.required_bytes_per_s if limit else 0.0,
        delivered_bytes_per_s=limit.capacity_bytes_per_s if limit else 0.0,
        ratio=limit.ratio if limit else None,
    )


def _tightest(hops: Iterable[HopResult]) -> HopResult | None:
    asked = [hop for hop in hops if hop.ratio is not None]
    return min(asked, key=lambda hop: hop.ratio or 0.0, default=None)


def _seat_ways(hops: tuple[HopResult, ...], situation: Situation) -> Iterator[SeatWay]:
    """Every class of seats with the hops that it crosses on the way to all pools that it may use."""
    by_id = {hop.id: hop for hop in hops}
    inside = [hop for hop in hops if hop.kind != "link"]
    for n, asking in enumerate(situation.work.asking):
        if asking.is_service or not asking.count:
            continue
        used = set(situation.work.used_pools(n))
        wires = [way.wires for way in situation.ways[n].values() if way is not None]
        ids = list(dict.fromkeys(wire.link.id for each in wires for wire in each))
        ids += [hop.id for hop in inside if used.intersection(hop.pool_ids)]
        demand = asking.demand
        is_paced = demand.paced_read_bytes_per_s + demand.paced_write_bytes_per_s > 0
        limit = _tightest(by_id[i] for i in ids) if is_paced else None
        yield SeatWay(
            id=asking.id,
            name=asking.name,
            ratio=limit.ratio if limit else None,
            limiting_hop_id=limit.id if limit else None,
            hop_ids=tuple(ids),
        )


def _in_trouble(
    hops: tuple[HopResult, ...],
    limit: HopResult | None,
    situation: Situation,
    rebuild_shares: Mapping[str, float],
) -> Iterator[TroubledSpeed]:
    """Speed with each pool in trouble by itself: its hop is so much narrower, the others are as they were.

    The smaller of what reading and writing keep counts for both, so that nothing is promised.
    """
    ratios = {hop.id: hop.ratio for hop in hops if hop.kind == "pool" and hop.ratio is not None}
    for trouble in TROUBLES:
        told = []
        for pool in situation.work.tiers.pools:
            kept = kept_in(pool, trouble, rebuild_shares.get(pool.id, 0.0))
            if kept is not None and pool.id in ratios and limit is not None and limit.ratio is not None:
                ratio = min(limit.ratio, (ratios[pool.id] or 0.0) * min(kept))
                told.append(TroubledSpeed(trouble=trouble, pool_id=pool.id, pool_name=pool.name, ratio=ratio))
        if told:
            yield min(told, key=lambda each: each.ratio)


def _unreached(situation: Situation) -> Iterator[Unreached]:
    names = {pool.id: pool.name for pool in situation.work.tiers.pools}
    for asking, ways in zip(situation.work.asking, situation.ways, strict=True):
        for pool_id, way in ways.items():
            if way is None and asking.start is not None:
                yield Unreached(
                    seat_id=asking.id,
                    name=asking.name,
                    pool_id=pool_id,
                    pool_name=names[pool_id],
                    is_plugged=bool(situation.network.wires_at(asking.start)),
                )


def _said(found: Utilisation, situation: Situation, verb: str) -> str:
    """Who decides, what they do, and when, where days have parts."""
    when = f" in {found.part.name}" if len(situation.work.standard.parts) > 1 else ""
    if found.share <= 0:
        return "nothing asked of it"
    if found.alone is not None:
        return f"{found.alone.name} alone, {verb}{when}"
    return f"all seats together, {verb}{when}" if found.is_paced else f"copies and services, {verb}{when}"


def _links(situation: Situation) -> Iterator[HopResult]:
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
        ratio=_ratio(found) if wire.near != OUTSIDE else None,
        direction=activity,
        because=_said(found, situation, _VERBS[activity]),
        late=tuple(copy for way in WAYS for copy in _late(held[way], link * used)),
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
    hop = _within(slot.id, slot.name, "slot", behind, slot.bytes_per_s, found, situation)
    return hop.model_copy(
        update={
            "direction": activity,
            "because": _said(found, situation, _VERBS[activity]),
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


def _shared(hop: SharedHop, situation: Situation) -> HopResult:
    """What several pools pass together: the load scaled until the bus or the cores are used up."""
    names = {pool.id: pool.name for pool in situation.work.tiers.pools}
    costs = {cost.pool_id: cost for cost in hop.costs}
    asked = {pool_id: sum(situation.work.bytes_a_day[pool_id]) for pool_id in costs}
    whole = sum(asked.values())
    if whole > 0:
        told = tuple(
            _cost(cost, names[pool_id], asked[pool_id] / whole, situation.work.share_read(pool_id))
            for pool_id, cost in costs.items()
        )
    else:
        # Without any load it is said what it carries of reading alone.
        dearest = max(costs.values(), key=lambda cost: cost.a_byte_read)
        told = (_cost(dearest, names[dearest.pool_id], 1.0, 1.0),)
    a_byte = sum(
        c.load_share * (c.read_share * c.a_byte_read + (1 - c.read_share) * c.a_byte_written) for c in told
    )
    uses = [_use_of_shared(n, costs, situation) for n in range(len(situation.work.asking))]
    found = utilisation_of(uses, situation.work.standard, hop.capacity)
    result = _within(hop.id, hop.name, hop.kind, tuple(costs), hop.capacity / a_byte, found, situation)
    return result.model_copy(update={"shared_terms": SharedTerms(capacity=hop.capacity, costs=told)})


def _use_of_shared(n: int, costs: Mapping[str, PoolCost], situation: Situation) -> Use:
    """What one of a class uses of a bus or of cores, for each pair of homes at work and in the archive."""
    asking, demand = situation.work.asking[n], situation.work.asking[n].demand
    outcomes: dict[float, float] = {}
    alone = 0.0
    for pair in situation.work.pairs[n]:
        work, archive = costs.get(pair.work_id), costs.get(pair.archive_id)
        read, written = (work.a_byte_read, work.a_byte_written) if work else (0.0, 0.0)
        at_work = from_work(demand) * read + demand.write_bytes_per_s * written
        paced = (demand.paced_read_bytes_per_s - demand.archive_bytes_per_s) * read
        paced += demand.paced_write_bytes_per_s * written
        there = demand.archive_bytes_per_s * archive.a_byte_read if archive else 0.0
        alone = max(alone, paced + there)
        if at_work + there > 0:
            outcomes[at_work + there] = outcomes.get(at_work + there, 0.0) + pair.odds
    return Use(asking, tuple(sorted(outcomes.items())), alone)


def _cost(cost: PoolCost, pool_name: str, load_share: float, read_share: float) -> CostTerms:
    return CostTerms(
        pool_name=pool_name,
        load_share=load_share,
        read_share=read_share,
        a_byte_read=cost.a_byte_read,
        a_byte_written=cost.a_byte_written,
    )


def _within(
    hop_id: str,
    name: str,
    kind: HopKind,
    pool_ids: tuple[str, ...],
    capacity: float,
    found: Utilisation,
    situation: Situation,
) -> HopResult:
    """A hop inside a box, which carries both directions together."""
    return HopResult(
        id=hop_id,
        name=name,
        kind=kind,
        serves="all",
        pool_ids=pool_ids,
        link_bytes_per_s=capacity,
        links=1,
        capacity_bytes_per_s=capacity,
        required_bytes_per_s=capacity * found.share,
        ratio=_ratio(found),
        direction="both",
        because=_said(found, situation, "playing and writing"),
        late=_late(found, capacity),
    )


def _ratio(found: Utilisation) -> float | None:
    return 1 / found.share if found.is_paced and found.share > 0 else None


def _late(found: Utilisation, capacity: float) -> tuple[LateCopies, ...]:
    return tuple(
        LateCopies(
            part_name=late.part.name,
            asked_bytes_per_s=late.share * capacity,
            seconds_late=(late.share - 1) * late.part.hours * 3600,
        )
        for late in found.late
    )


@dataclass(frozen=True)
class PoolUse:
    """What everybody uses of a pool's drives, as shares of one place; and its rates, bytes/s.

    In ``full_in`` parts of the day its write-back cache is full, and writing is as ``slow`` as the drives.
    """

    uses: list[Use]
    read_bytes_per_s: float
    write_bytes_per_s: float
    slow_bytes_per_s: float
    full_in: frozenset[str]


def uses_of_pool(pool: PoolResult, cold: PoolResult, situation: Situation) -> PoolUse:
    """What each seat uses of a pool's drives when its bytes lie there.

    Memory and cache make reading so much quicker; what a seat needs alone is reckoned without them.
    """
    work, alone = situation.work, cold.as_hop
    read = alone.read_bytes_per_s * pool.read.middle_bytes_per_s / cold.read.middle_bytes_per_s
    slow, full_in = pool.write.middle_bytes_per_s, frozenset[str]()
    write = slow
    if pool.cache is not None and pool.cache.full_in:
        # A write-back cache helps only in the parts of the day that it lasts through.
        write = pool.cache.lasting_write_bytes_per_s
        full_in = frozenset(part.id for part in pool.cache.full_in)
    uses = []
    tier_homes = work.archive_homes if work.is_archive(pool) else work.work_homes
    for n, a in enumerate(work.asking):
        reads, writes, paced_reads, paced_writes = work.asked_of(n, pool)
        here = tier_homes[n].get(pool.id, 0.0) / alone.places
        if here > 0 and reads + writes > 0:
            needed = paced_reads / alone.read_bytes_per_s + paced_writes / slow
            if paced_reads > 0:
                needed = max(needed, a.demand.stream_bytes_per_s / alone.stream_read_bytes_per_s)
            shares = [((reads / read + writes / rate, here),) for rate in (write, slow)]
            uses.append(Use(a, shares[0], needed, full_in, shares[1]))
    return PoolUse(uses, read, write, slow, full_in)


def _pool(pool: PoolResult, cold: PoolResult, situation: Situation) -> HopResult:
    """A pool's drives, by what everybody uses of them."""
    use = uses_of_pool(pool, cold, situation)
    found = utilisation_of(use.uses, situation.work.standard)
    read = use.read_bytes_per_s
    write = use.slow_bytes_per_s if found.part.id in use.full_in else use.write_bytes_per_s
    part = situation.work.share_read(pool.id)
    capacity = 1 / (part / read + (1 - part) / write)
    hop = _within(pool.id, pool.name, "pool", (pool.id,), capacity, found, situation)
    terms = DrivesTerms(read_share=part, read_bytes_per_s=read, write_bytes_per_s=write)
    return hop.model_copy(update={"drives_terms": terms})


def _judge(judged: Judged) -> WiringResult:
    settings = judged.of(SETTINGS)
    shares = {pool_id: setting.rebuild_share for pool_id, setting in settings.items()}
    return wiring_stage(judged.of(SITUATION), shared_hops(judged.bundle.plan, settings), shares)


WIRING: Part[WiringResult] = Part(
    "wiring",
    _judge,
    reads=("plan/pools",),
    after=(SETTINGS, SITUATION),
)
