"""Stage *Wiring*: each hop between a seat and the pool, what it can carry and what it must.

A hop that serves one seat is held against that seat's full demand; a shared hop against the chosen
percentile of the joint load, in each direction. The pool is the last hop: it reads and writes with the
same drives, so its capacity is the harmonic mean of both rates, weighted by the load's mix. Before it come
what its box makes all drives pass, a bus or cable, and the processor.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, NamedTuple

from larder.base.results import Result
from larder.laws.path import (
    FILE_PROTOCOL_EFFICIENCY,
    GOODPUT_BY_MTU,
    ethernet_line_bytes_per_s,
    ethernet_link_bytes_per_s,
)
from larder.plan.wiring import WireHop, Wiring

from .loads import LOADS, LoadsResult
from .pool import PoolResult
from .pool_setting import SETTINGS, PoolCost, SharedHop, shared_hops
from .stage import Part
from .tiers import TIERS, TiersResult

Direction = Literal["read", "write", "both"]
HopKind = Literal["link", "pool", "bus", "processor"]


class LinkTerms(Result):
    """What a link carries: line rate × what framing and protocol leave of it × the links in use."""

    line_bytes_per_s: float
    payload_share: float
    protocol_share: float
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


class HopResult(Result):
    """One hop in its worse direction. ``ratio`` is capacity ÷ required, null where nothing is asked.

    ``pool_ids`` are the pools behind it; a link has all of them behind it and lists none.
    """

    id: str
    name: str
    kind: HopKind
    serves: Literal["seat", "all"]
    pool_ids: tuple[str, ...] = ()
    link_bytes_per_s: float
    links: int
    capacity_bytes_per_s: float
    required_bytes_per_s: float
    ratio: float | None
    direction: Direction
    because: str
    link_terms: LinkTerms | None = None
    drives_terms: DrivesTerms | None = None
    shared_terms: SharedTerms | None = None


class WiringResult(Result):
    """The stage's answer. ``limiting_hop_id`` is null where nothing is asked of any hop."""

    hops: tuple[HopResult, ...]
    limiting_hop_id: str | None
    required_bytes_per_s: float
    delivered_bytes_per_s: float
    ratio: float | None


def wiring_stage(
    wiring: Wiring, loads: LoadsResult, tiers: TiersResult, shared: tuple[SharedHop, ...] = ()
) -> WiringResult:
    """Every hop with its load, and the one whose capacity ÷ required is smallest (of equals the first)."""
    hops = tuple(_link(hop, wiring, loads) for hop in wiring.hops)
    pools = {pool.id: _pool(pool, loads, tiers) for pool in tiers.pools}
    hops += tuple(_shared(hop, pools) for hop in shared)
    hops += tuple(each.hop for each in pools.values())
    asked = [hop for hop in hops if hop.ratio is not None]
    limit = min(asked, key=lambda hop: hop.ratio or 0.0, default=None)
    return WiringResult(
        hops=hops,
        limiting_hop_id=limit.id if limit else None,
        required_bytes_per_s=limit.required_bytes_per_s if limit else 0.0,
        delivered_bytes_per_s=limit.capacity_bytes_per_s if limit else 0.0,
        ratio=limit.ratio if limit else None,
    )


def _link(hop: WireHop, wiring: Wiring, loads: LoadsResult) -> HopResult:
    link = ethernet_link_bytes_per_s(hop.speed, wiring.mtu, wiring.protocol)
    held = [_held_against(hop, link, loads, direction) for direction in ("read", "write")]
    worst = min(held, key=lambda each: each.capacity / each.required if each.required > 0 else float("inf"))
    verb = "playing" if worst.direction == "read" else "writing"
    return HopResult(
        id=hop.id,
        name=hop.name,
        kind="link",
        serves=hop.serves,
        link_bytes_per_s=link,
        links=hop.links,
        capacity_bytes_per_s=worst.capacity,
        required_bytes_per_s=worst.required,
        ratio=worst.capacity / worst.required if worst.required > 0 else None,
        direction=worst.direction,
        because=f"{worst.who}, {verb}" if worst.required > 0 else "nothing asked of it",
        link_terms=LinkTerms(
            line_bytes_per_s=ethernet_line_bytes_per_s(hop.speed),
            payload_share=GOODPUT_BY_MTU[wiring.mtu],
            protocol_share=FILE_PROTOCOL_EFFICIENCY,
            links_used=worst.links_used,
        ),
    )


class _Held(NamedTuple):
    """A link in one direction, bytes/s, and whose demand it is held against."""

    direction: Literal["read", "write"]
    capacity: float
    required: float
    links_used: int
    who: str


def _held_against(
    hop: WireHop, link: float, loads: LoadsResult, direction: Literal["read", "write"]
) -> _Held:
    """The hop in one direction. One seat is one flow, and a flow never leaves its member link."""
    asking = [
        (getattr(s, f"{direction}_bytes_per_s"), s) for s in loads.seats if s.count and s.has_office_port
    ]
    busiest, seat = max(asking, key=lambda pair: pair[0], default=(0.0, None))
    load = (loads.network_read if direction == "read" else loads.network_write).sized_bytes_per_s
    flows = sum(s.count for rate, s in asking if rate > 0)
    used = min(hop.links, max(flows, 1))
    one_seat = hop.serves == "seat" or (hop.links > 1 and _less(link, busiest, link * used, load))
    if one_seat:
        return _Held(direction, link, busiest, 1, seat.name if seat else "all seats together")
    return _Held(direction, link * used, load, used, "all seats together")


def _less(capacity_a: float, required_a: float, capacity_b: float, required_b: float) -> bool:
    """Whether a's capacity ÷ required is below b's, without dividing by nothing."""
    return capacity_a * required_b < capacity_b * required_a


@dataclass(frozen=True)
class _PoolLoad:
    """A pool as a hop, and the part of its load that is reading."""

    hop: HopResult
    reads: float


def _shared(hop: SharedHop, pools: Mapping[str, _PoolLoad]) -> HopResult:
    """What several pools pass together: the load scaled until the bus or the cores are used up."""
    loads = [pools[cost.pool_id] for cost in hop.costs]
    required = sum(load.hop.required_bytes_per_s for load in loads)
    if required > 0:
        terms = SharedTerms(
            capacity=hop.capacity,
            costs=tuple(
                _cost(cost, load.hop.name, load.hop.required_bytes_per_s / required, load.reads)
                for cost, load in zip(hop.costs, loads, strict=True)
            ),
        )
    else:
        # Without any load it is said what it carries of reading alone.
        dearest = max(zip(hop.costs, loads, strict=True), key=lambda pair: pair[0].a_byte_read)
        terms = SharedTerms(capacity=hop.capacity, costs=(_cost(dearest[0], dearest[1].hop.name, 1.0, 1.0),))
    a_byte = sum(
        c.load_share * (c.read_share * c.a_byte_read + (1 - c.read_share) * c.a_byte_written)
        for c in terms.costs
    )
    ids = tuple(cost.pool_id for cost in hop.costs)
    who = ", ".join(load.hop.name for load in loads)
    found = _within(hop.id, hop.name, hop.kind, ids, hop.capacity / a_byte, required, who)
    return found.model_copy(update={"shared_terms": terms})


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
    required: float,
    who: str,
) -> HopResult:
    """A hop inside a box, which all seats share and which carries both directions together."""
    return HopResult(
        id=hop_id,
        name=name,
        kind=kind,
        serves="all",
        pool_ids=pool_ids,
        link_bytes_per_s=capacity,
        links=1,
        capacity_bytes_per_s=capacity,
        required_bytes_per_s=required,
        ratio=capacity / required if required > 0 else None,
        direction="both",
        because=who if required > 0 else "nothing asked of it",
    )


def _pool(pool: PoolResult, loads: LoadsResult, tiers: TiersResult) -> _PoolLoad:
    """A pool against its tier's load, which the pools of one tier share by their plannable bytes."""
    archive = loads.archive.mean_bytes_per_s
    mean_read, mean_write = loads.read.mean_bytes_per_s, loads.write.mean_bytes_per_s
    load, who = loads.both, "all seats together, playing and writing"
    if tiers.has_both_tiers:
        if pool.tier == "archive":
            load, who = loads.archive, "what is played from the archive"
            mean_read, mean_write = archive, 0.0
        else:
            load, mean_read = loads.work, mean_read - archive
            who = "all seats together but for the archive"
    tier_bytes = tiers.tier_bytes(pool.tier)
    part = pool.plannable_bytes / tier_bytes if tier_bytes else 1.0
    total = mean_read + mean_write
    reads = mean_read / total if total > 0 else 1.0
    read, write = pool.read.middle_bytes_per_s, pool.write.middle_bytes_per_s
    capacity = 1 / (reads / read + (1 - reads) / write)
    required = load.sized_bytes_per_s * part
    hop = _within(pool.id, pool.name, "pool", (pool.id,), capacity, required, who)
    terms = DrivesTerms(read_share=reads, read_bytes_per_s=read, write_bytes_per_s=write)
    return _PoolLoad(hop.model_copy(update={"drives_terms": terms}), reads)


WIRING: Part[WiringResult] = Part(
    "wiring",
    lambda judged: wiring_stage(
        judged.bundle.plan.wiring,
        judged.of(LOADS),
        judged.of(TIERS),
        shared_hops(judged.bundle.plan, judged.of(SETTINGS)),
    ),
    reads=("plan/wiring", "plan/pools"),
    after=(LOADS, TIERS, SETTINGS),
)
