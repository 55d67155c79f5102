"""Sharing out: what every seat gets in one state of the house, and which hop stops it.

A state is how many of each class are at their peak at once. *Sized* is the likeliest way to come to the load
that the plan is sized on: the classes' odds are tilted by one factor until their mean is that load (the
conditional mean given a large sum, by exponential tilting; H. Cramér, 1938). Flows are shared max-min fair
(:mod:`larder.laws.max_min`): a copy keeps more requests open than a player and weighs as much more. Playback
goes first where every switch on its way is told to do so.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from larder.base.errors import Refused
from larder.base.results import Result
from larder.laws.demand import SeatClass, joint_quantile
from larder.laws.max_min import SATISFIED, Floats, Whole, max_min
from larder.plan.bundle import Bundle
from larder.plan.day_parts import DayPart
from larder.stages.homes import Homes
from larder.stages.links import card_slots
from larder.stages.loads import from_work
from larder.stages.pool_setting import SETTINGS, shared_hops
from larder.stages.registry import PARTS
from larder.stages.situation import SITUATION, Crossing, Situation
from larder.stages.stage import Judged, judge
from larder.stages.trouble import Trouble, kept_in
from larder.stages.wiring import WIRING

PLAYERS_REQUESTS, COPIES_REQUESTS = 2.0, 8.0
"""Requests that a player and a copy keep open at once: how they weigh where nobody sets an order."""
ALL, SIZED = "all", "sized"
STATE_ACCEPTED = "all, sized, or the id of a part of the day"


class SeatShare(Result):
    """What one seat of a class asks and gets at its worst home, bytes/s; ``at_once`` of them are at peak.

    ``limiting_hop_id`` is null where it gets all it asks; ``headroom_bytes_per_s`` is what it could read
    besides while the others do as they do.
    """

    id: str
    name: str
    at_once: float
    needed_bytes_per_s: float
    delivered_bytes_per_s: float
    limiting_hop_id: str | None
    limiting_name: str
    headroom_bytes_per_s: float


class HopShare(Result):
    """How much of a hop is used in its fuller direction, 0 to 1."""

    id: str
    used: float


class ShareOut(Result):
    """Who gets what in a state; ``said`` puts the state in words."""

    state: str
    said: str
    seats: tuple[SeatShare, ...]
    hops: tuple[HopShare, ...]


@dataclass(frozen=True)
class HomeFlow:
    """Alike flows of one class with one home; ``way`` is 0 reading and 1 writing."""

    n: int
    pool_id: str
    odds: float
    way: int
    rate: float
    is_paced: bool


def share_out(bundle: Bundle, state: str = SIZED, trouble: Trouble = "") -> ShareOut:
    """What everybody gets in ``state``. Raises :class:`Refused` for a state that there is not."""
    return shared(judge(bundle, PARTS), state, trouble)


def shared(judged: Judged, state: str = SIZED, trouble: Trouble = "") -> ShareOut:
    """The same of a plan that is judged already."""
    situation = judged.of(SITUATION)
    counts, said = _counts(situation, state)
    flows = [
        flow for n in range(len(situation.work.asking)) if counts[n] > 0 for flow in flows_of(situation, n)
    ]
    names = {hop.id: hop.name for hop in judged.of(WIRING).hops}
    rows = list(_rows(judged, situation, counts, trouble))
    if not flows:
        hops = tuple(HopShare(id=hop_id, used=0.0) for hop_id in names)
        return ShareOut(state=state, said=said, seats=(), hops=hops)
    pools = {pool.id: at for at, pool in enumerate(situation.work.tiers.pools)}
    flows_at = _Places(
        np.array([flow.n for flow in flows]),
        np.array([pools[flow.pool_id] for flow in flows]),
        np.array([flow.way for flow in flows]),
        pools,
    )
    costs = np.array([_costs(row, flows_at, len(counts)) for row in rows])
    capacities = np.array([row.capacity for row in rows])
    caps = np.array([flow.rate for flow in flows])
    multiple = np.array([counts[flow.n] * flow.odds for flow in flows])
    weights = np.array([PLAYERS_REQUESTS if flow.is_paced else COPIES_REQUESTS for flow in flows])
    first = {s.id for s in situation.network.plan.wiring.switches if s.puts_playback_first}
    levels = np.array([level_of(flow, situation, first) for flow in flows])
    found = max_min(caps, multiple, weights, costs, capacities, levels)
    left = capacities - found.used
    used: dict[str, float] = dict.fromkeys(names, 0.0)
    for row, share in zip(rows, found.used / capacities, strict=True):
        used[row.id] = max(used[row.id], float(min(share, 1.0)))
    seats = []
    for n, asking in enumerate(situation.work.asking):
        if asking.is_service or not counts[n]:
            continue
        worst = _worst(flows, found.rates, n)
        stops = [rows[found.limits[i]].id for i in worst.stopped if found.limits[i] != SATISFIED]
        seats.append(
            SeatShare(
                id=asking.id,
                name=asking.name,
                at_once=counts[n],
                needed_bytes_per_s=worst.needed,
                delivered_bytes_per_s=worst.delivered,
                limiting_hop_id=stops[0] if stops else None,
                limiting_name=names[stops[0]] if stops else "",
                headroom_bytes_per_s=0.0 if stops else _headroom(flows, n, costs, left),
            )
        )
    return ShareOut(
        state=state,
        said=said,
        seats=tuple(seats),
        hops=tuple(HopShare(id=hop_id, used=share) for hop_id, share in used.items()),
    )


@dataclass(frozen=True)
class _Worst:
    needed: float
    delivered: float
    stopped: tuple[int, ...]


def _worst(flows: list[HomeFlow], rates: Floats, n: int) -> _Worst:
    """Of a class the home at which it gets the smallest part of what it asks; each pool by itself."""
    by_home: dict[str, list[int]] = {}
    for i, flow in enumerate(flows):
        if flow.n == n:
            by_home.setdefault(flow.pool_id, []).append(i)
    homes = [
        (sum(flows[i].rate for i in own), sum(float(rates[i]) for i in own), tuple(own))
        for own in by_home.values()
    ] or [(0.0, 0.0, ())]
    needed, delivered, own = min(homes, key=lambda home: home[1] / home[0] if home[0] else 1.0)
    return _Worst(needed, delivered, own)


def _headroom(flows: list[HomeFlow], n: int, costs: Floats, left: Floats) -> float:
    """What a class could read more on each of its ways, the least of them."""
    free = []
    for i, flow in enumerate(flows):
        if flow.n == n and flow.way == 0:
            crossed = costs[:, i] > 0
            free.append(float((np.maximum(left[crossed], 0.0) / costs[crossed, i]).min(initial=np.inf)))
    least = min(free, default=0.0)
    return least if math.isfinite(least) else 0.0


def level_of(flow: HomeFlow, situation: Situation, first: set[str]) -> int:
    """The number of its level: 0 for playback that every switch on its way puts first, else 1.

    ``first`` are the switches that do.
    """
    if not first or not flow.is_paced:
        return 1
    way = situation.ways[flow.n].get(flow.pool_id)
    switches = (
        {end.id for wire in way.wires for end in (wire.near, wire.far) if end.kind == "switch"}
        if way
        else set()
    )
    return 0 if switches and switches <= first else 1


def flows_of(situation: Situation, n: int) -> Iterator[HomeFlow]:
    """What one of a class moves, by home and direction; what it plays must keep its rate, copies need not."""
    demand, both = situation.work.asking[n].demand, situation.work.tiers.has_both_tiers
    old = demand.archive_bytes_per_s if both else 0.0
    paced = (demand.paced_read_bytes_per_s - old, demand.paced_write_bytes_per_s)
    whole = (from_work(demand) if both else demand.read_bytes_per_s, demand.write_bytes_per_s)
    homes: list[tuple[Homes, tuple[float, float], tuple[float, float]]] = [
        (situation.work.work_homes[n], paced, whole)
    ]
    if old:
        homes.append((situation.work.archive_homes[n], (old, 0.0), (old, 0.0)))
    for places, kept, moved in homes:
        for pool_id, odds in places.items():
            for way in (0, 1):
                for rate, is_paced in ((kept[way], True), (moved[way] - kept[way], False)):
                    if rate > 1.0 and odds > 0 and situation.ways[n].get(pool_id) is not None:
                        yield HomeFlow(n, pool_id, odds, way, rate, is_paced)


@dataclass(frozen=True)
class _Row:
    """One direction of a hop: its capacity, and what a byte a second of a flow to a pool takes of it."""

    id: str
    capacity: float
    by_pool: Mapping[tuple[str, int], float]
    crossing: Mapping[int, Crossing] | None = None
    towards_near: bool = True


@dataclass(frozen=True)
class _Places:
    """Of every flow whose it is, at which pool and which way, by place; and the pools' places."""

    whose: Whole
    where: Whole
    which: Whole
    pools: Mapping[str, int]


def _costs(row: _Row, flows: _Places, asking: int) -> Floats:
    """What a byte a second of each flow takes of a hop."""
    taken = np.zeros((len(flows.pools), 2))
    for (pool_id, way), cost in row.by_pool.items():
        taken[flows.pools[pool_id], way] = cost
    costs: Floats = taken[flows.where, flows.which]
    if row.crossing is not None:
        crosses = np.zeros((asking, len(flows.pools), 2))
        for n, its in row.crossing.items():
            for way in (0, 1):
                pools = its.pools(towards_near=row.towards_near, reads=way == 0)
                crosses[n, [flows.pools[pool_id] for pool_id in pools], way] = 1.0
        costs = costs * crosses[flows.whose, flows.where, flows.which]
    return costs


def _rows(judged: Judged, situation: Situation, counts: list[float], trouble: Trouble) -> Iterator[_Row]:
    """Every hop in the order of the stage, each direction of a wire by itself."""
    yield from _wire_rows(situation, counts)
    settings = judged.of(SETTINGS)
    for hop in shared_hops(judged.bundle.plan, settings):
        per_pool = {(cost.pool_id, 0): cost.a_byte_read for cost in hop.costs}
        per_pool |= {(cost.pool_id, 1): cost.a_byte_written for cost in hop.costs}
        yield _Row(hop.id, hop.capacity, per_pool)
    terms = {hop.id: hop.drives_terms for hop in judged.of(WIRING).hops}
    for pool in situation.work.cold:
        result = terms[pool.id]
        if result is not None:
            # One whose bytes are lost then is left as it is.
            read, write = kept_in(pool, trouble, settings[pool.id].rebuild_share) or (1.0, 1.0)
            per_pool = {
                (pool.id, 0): 1 / (result.read_bytes_per_s * read),
                (pool.id, 1): 1 / (result.write_bytes_per_s * write),
            }
            yield _Row(pool.id, float(pool.as_hop.places), per_pool)


def _wire_rows(situation: Situation, counts: list[float]) -> Iterator[_Row]:
    """Links, then the slots of network cards; a seat's own link is there once for each that is at peak."""
    pools = [pool.id for pool in situation.work.tiers.pools]
    all_of_it = {(pool_id, way): 1.0 for pool_id in pools for way in (0, 1)}
    for wire in situation.network.wires:
        crossing = situation.crossing[wire.link.id]
        ports = sum(counts[n] for n in crossing) if wire.near.kind == "seat" else wire.link.links
        if ports > 0:
            for towards_near in (True, False):
                yield _Row(wire.link.id, wire.link_bytes_per_s * ports, all_of_it, crossing, towards_near)
    for slot in card_slots(situation):
        for towards_near in (True, False):
            yield _Row(slot.id, slot.bytes_per_s, all_of_it, slot.users, towards_near)


def _counts(situation: Situation, state: str) -> tuple[list[float], str]:
    """How many of each who ask are at their peak in a state, and the state in words."""
    standard, asking = situation.work.standard, situation.work.asking
    if state == ALL:
        return [float(a.count) if any(a.odds.values()) else 0.0 for a in asking], "everybody at peak"
    part = next((p for p in standard.parts if p.id == state), None)
    if part is not None:
        return [float(a.count) if a.odds.get(part.id) else 0.0 for a in asking], f"everybody in {part.name}"
    if state != SIZED:
        raise Refused("state", state, STATE_ACCEPTED)
    busiest = max(standard.parts, key=lambda part: _quantile(situation, part))
    return _tilted(situation, busiest), f"P{standard.level * 100:g} of {busiest.name}"


def _classes(situation: Situation, part: DayPart) -> list[SeatClass]:
    """What each of those who ask asks in a part of the day, both directions."""
    return [
        SeatClass(
            a.name,
            a.count if a.odds.get(part.id) else 0,
            a.demand.read_bytes_per_s + a.demand.write_bytes_per_s,
            a.odds.get(part.id, 0.0),
        )
        for a in situation.work.asking
    ]


def _quantile(situation: Situation, part: DayPart) -> float:
    seats = tuple(seat for seat in _classes(situation, part) if seat.count and seat.bytes_per_s)
    return (
        joint_quantile(seats, situation.work.standard.rush, situation.work.standard.level) if seats else 0.0
    )


def _tilted(situation: Situation, part: DayPart) -> list[float]:
    """The mean numbers at peak, given that together they ask the load that is sized on."""
    classes = _classes(situation, part)
    wanted = _quantile(situation, part)
    most = max((seat.bytes_per_s for seat in classes), default=0.0)
    if most <= 0:
        return [0.0] * len(classes)

    def counts(tilt: float) -> list[float]:
        found = []
        for seat in classes:
            odds = seat.probability
            grown = odds * math.exp(min(tilt * seat.bytes_per_s / most, 700.0))
            found.append(seat.count * grown / (1 - odds + grown) if grown else 0.0)
        return found

    low, high = 0.0, 700.0
    for _ in range(60):
        middle = (low + high) / 2
        asked = sum(k * seat.bytes_per_s for k, seat in zip(counts(middle), classes, strict=True))
        low, high = (middle, high) if asked < wanted else (low, middle)
    return counts(high)
