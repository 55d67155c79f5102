"""Stage *Wiring*: each hop between a seat and the pool, what it carries and how much of it is needed.

Every hop is judged by its utilisation (:mod:`larder.stages.utilisation`). A full-duplex link is two hops, one
a direction; flows are pinned to the members of an aggregate, each drawn with the same odds. A pool's drives
are one hop on which reading costs 1/R and writing 1/W. Before it come what its box makes all drives pass, a
bus or cable, and the processor.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

from larder.base.results import Result
from larder.laws.path import (
    FILE_PROTOCOL_EFFICIENCY,
    GOODPUT_BY_MTU,
    ethernet_line_bytes_per_s,
    ethernet_link_bytes_per_s,
    one_client_low_bytes_per_s,
)
from larder.plan.bundle import Plan
from larder.plan.wiring import WireHop, Wiring

from .homes import Homes, homes_of, mean_rates
from .loads import LOADS_READ, Asking, asking_of, from_work
from .pool import PoolResult
from .pool_setting import SETTINGS, PoolCost, SharedHop, shared_hops
from .rates import RATES
from .stage import Judged, Part
from .tiers import POOLS_ALONE, TIERS, TiersResult
from .utilisation import Standard, Use, Utilisation, standard_of, utilisation_of

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


class LateCopies(Result):
    """A part of the day in which nobody plays and which is too short for what is to be copied over a hop."""

    part_name: str
    asked_bytes_per_s: float
    seconds_late: float


class HopResult(Result):
    """One hop in its worse direction. ``ratio`` is capacity ÷ required, null where nothing is asked.

    ``pool_ids`` are the pools behind it; a link has all of them behind it and lists none. ``late`` says where
    copies do not end in their part of the day. ``one_client_low_bytes_per_s`` is the least that one client
    alone may get of a link, null where that is no less than ``link_bytes_per_s``.
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
    late: tuple[LateCopies, ...] = ()
    one_client_low_bytes_per_s: float | None = None
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


def wiring_stage(plan: Plan, situation: Situation, shared: tuple[SharedHop, ...] = ()) -> WiringResult:
    """Every hop with its load, and the one whose capacity ÷ required is smallest (of equals the first)."""
    hops = tuple(_link(hop, plan.wiring, situation) for hop in plan.wiring.hops)
    hops += tuple(_shared(hop, situation) for hop in shared)
    hops += tuple(
        _pool(pool, cold, situation) for pool, cold in zip(situation.tiers.pools, situation.cold, strict=True)
    )
    asked = [hop for hop in hops if hop.ratio is not None]
    limit = min(asked, key=lambda hop: hop.ratio or 0.0, default=None)
    return WiringResult(
        hops=hops,
        limiting_hop_id=limit.id if limit else None,
        required_bytes_per_s=limit.required_bytes_per_s if limit else 0.0,
        delivered_bytes_per_s=limit.capacity_bytes_per_s if limit else 0.0,
        ratio=limit.ratio if limit else None,
    )


@dataclass(frozen=True)
class Situation:
    """Who asks, of which pools, and what hops are held against; ``cold`` are pools with nothing cached."""

    asking: tuple[Asking, ...]
    standard: Standard
    tiers: TiersResult
    cold: tuple[PoolResult, ...]

    @cached_property
    def work_homes(self) -> tuple[Homes, ...]:
        """Where each of those who ask has its work."""
        return tuple(homes_of(a, self.tiers.pools, "work") for a in self.asking)

    @cached_property
    def archive_homes(self) -> tuple[Homes, ...]:
        """Where each of them has what it plays from the archive."""
        return tuple(homes_of(a, self.tiers.pools, "archive") for a in self.asking)

    @cached_property
    def bytes_a_day(self) -> dict[str, tuple[float, float]]:
        """(read, written) of every pool on an average day, by its id."""
        found = {pool.id: (0.0, 0.0) for pool in self.tiers.pools}
        parts = self.standard.parts
        in_parts = mean_rates(self.asking, self.tiers.pools, parts, self.standard.rush)
        for part, rates in zip(parts, in_parts, strict=True):
            for pool_id, (read, written) in rates.items():
                before, seconds = found[pool_id], part.hours * 3600
                found[pool_id] = (before[0] + read * seconds, before[1] + written * seconds)
        return found

    def is_archive(self, pool: PoolResult) -> bool:
        """Whether only what is played from the archive lies in this pool."""
        return self.tiers.has_both_tiers and pool.tier == "archive"

    def asked_of(self, n: int, pool: PoolResult) -> tuple[float, float, float, float]:
        """(read, written, and of them what is paced) that one seat asks of its home in this tier."""
        demand = self.asking[n].demand
        old = demand.archive_bytes_per_s
        if self.is_archive(pool):
            return old, 0.0, old, 0.0
        elsewhere = old if self.tiers.has_both_tiers else 0.0
        return (
            demand.read_bytes_per_s - elsewhere,
            demand.write_bytes_per_s,
            demand.paced_read_bytes_per_s - elsewhere,
            demand.paced_write_bytes_per_s,
        )

    def share_read(self, pool_id: str) -> float:
        """The part of a pool's bytes that is read; all where nothing is asked of it."""
        read, written = self.bytes_a_day[pool_id]
        return read / (read + written) if read + written > 0 else 1.0


def _said(found: Utilisation, situation: Situation, verb: str) -> str:
    """Who decides, what they do, and when, where days have parts."""
    when = f" in {found.part.name}" if len(situation.standard.parts) > 1 else ""
    if found.share <= 0:
        return "nothing asked of it"
    if found.alone is not None:
        return f"{found.alone.name} alone, {verb}{when}"
    return f"all seats together, {verb}{when}" if found.is_paced else f"copies and services, {verb}{when}"


def _link(hop: WireHop, wiring: Wiring, situation: Situation) -> HopResult:
    link = ethernet_link_bytes_per_s(hop.speed, wiring.mtu, wiring.protocol)
    ways: tuple[Literal["read", "write"], ...] = ("read", "write")
    held = {way: _one_way(hop, link, situation, way) for way in ways}
    # The worse way decides; one that only copies take has no say while frames go the other.
    direction = max(ways, key=lambda way: (held[way].is_paced, held[way].share))
    found = held[direction]
    low = one_client_low_bytes_per_s(hop.speed, wiring.mtu)
    used = 1 if hop.serves == "seat" or found.alone is not None else hop.links
    return HopResult(
        id=hop.id,
        name=hop.name,
        kind="link",
        serves=hop.serves,
        link_bytes_per_s=link,
        links=hop.links,
        capacity_bytes_per_s=link * used,
        required_bytes_per_s=link * used * found.share,
        ratio=1 / found.share if found.is_paced and found.share > 0 else None,
        direction=direction,
        because=_said(found, situation, "playing" if direction == "read" else "writing"),
        late=tuple(copy for way in ways for copy in _late(held[way], link * used)),
        one_client_low_bytes_per_s=low if low < link else None,
        link_terms=LinkTerms(
            line_bytes_per_s=ethernet_line_bytes_per_s(hop.speed),
            payload_share=GOODPUT_BY_MTU[wiring.mtu],
            protocol_share=FILE_PROTOCOL_EFFICIENCY,
            links_used=used,
        ),
    )


def _one_way(hop: WireHop, link: float, situation: Situation, way: Literal["read", "write"]) -> Utilisation:
    """The link in one direction: a seat's own port seat by seat, a shared one by all that cross it."""
    is_port = hop.serves == "seat"
    uses = []
    for a in situation.asking:
        rate: float = getattr(a.demand, f"{way}_bytes_per_s")
        paced: float = getattr(a.demand, f"paced_{way}_bytes_per_s")
        if a.count and rate > 0 and (a.has_office_port if is_port else a.over_network):
            # A seat is one flow, on one member of an aggregate; its own port is always the same.
            uses.append(Use(a, ((rate / link, 1.0 if is_port else 1 / hop.links),), paced / link))
    if not is_port:
        return utilisation_of(uses, situation.standard)
    ports = [_own_port(use, situation.standard) for use in uses]
    nothing = Utilisation(0.0, situation.standard.parts[0], is_paced=False)
    return max(ports, key=lambda port: (port.is_paced, port.share), default=nothing)


def _own_port(use: Use, standard: Standard) -> Utilisation:
    """The port of one seat, which is alone there."""
    one = replace(use, asking=replace(use.asking, count=1))
    return replace(utilisation_of([one], standard), alone=use.asking)


def _shared(hop: SharedHop, situation: Situation) -> HopResult:
    """What several pools pass together: the load scaled until the bus or the cores are used up."""
    names = {pool.id: pool.name for pool in situation.tiers.pools}
    costs = {cost.pool_id: cost for cost in hop.costs}
    asked = {pool_id: sum(situation.bytes_a_day[pool_id]) for pool_id in costs}
    whole = sum(asked.values())
    if whole > 0:
        told = tuple(
            _cost(cost, names[pool_id], asked[pool_id] / whole, situation.share_read(pool_id))
            for pool_id, cost in costs.items()
        )
    else:
        # Without any load it is said what it carries of reading alone.
        dearest = max(costs.values(), key=lambda cost: cost.a_byte_read)
        told = (_cost(dearest, names[dearest.pool_id], 1.0, 1.0),)
    a_byte = sum(
        c.load_share * (c.read_share * c.a_byte_read + (1 - c.read_share) * c.a_byte_written) for c in told
    )
    uses = [_use_of_shared(n, hop, costs, situation) for n in range(len(situation.asking))]
    found = utilisation_of(uses, situation.standard)
    result = _within(hop.id, hop.name, hop.kind, tuple(costs), hop.capacity / a_byte, found, situation)
    return result.model_copy(update={"shared_terms": SharedTerms(capacity=hop.capacity, costs=told)})


def _use_of_shared(n: int, hop: SharedHop, costs: Mapping[str, PoolCost], situation: Situation) -> Use:
    """What one of a class uses of a bus or of cores, for each pair of homes at work and in the archive."""
    asking, demand = situation.asking[n], situation.asking[n].demand
    outcomes: dict[float, float] = {}
    alone = 0.0
    for work_id, work_odds in situation.work_homes[n].items():
        work = costs.get(work_id)
        read, written = (work.a_byte_read, work.a_byte_written) if work else (0.0, 0.0)
        at_work = from_work(demand) * read + demand.write_bytes_per_s * written
        paced = (demand.paced_read_bytes_per_s - demand.archive_bytes_per_s) * read
        paced += demand.paced_write_bytes_per_s * written
        archives = situation.archive_homes[n].items() if demand.archive_bytes_per_s else (("", 1.0),)
        for archive_id, archive_odds in archives:
            archive = costs.get(archive_id)
            there = demand.archive_bytes_per_s * archive.a_byte_read if archive else 0.0
            share = (at_work + there) / hop.capacity
            alone = max(alone, (paced + there) / hop.capacity)
            if share > 0:
                outcomes[share] = outcomes.get(share, 0.0) + work_odds * archive_odds
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
        ratio=1 / found.share if found.is_paced and found.share > 0 else None,
        direction="both",
        because=_said(found, situation, "playing and writing"),
        late=_late(found, capacity),
    )


def _late(found: Utilisation, capacity: float) -> tuple[LateCopies, ...]:
    return tuple(
        LateCopies(
            part_name=late.part.name,
            asked_bytes_per_s=late.share * capacity,
            seconds_late=(late.share - 1) * late.part.hours * 3600,
        )
        for late in found.late
    )


def _pool(pool: PoolResult, cold: PoolResult, situation: Situation) -> HopResult:
    """A pool's drives: what each seat uses of them when its bytes lie here.

    Memory and cache make reading so much quicker; what a seat needs alone is reckoned without them.
    """
    alone = cold.as_hop
    read = alone.read_bytes_per_s * pool.read.middle_bytes_per_s / cold.read.middle_bytes_per_s
    slow, full_in = pool.write.middle_bytes_per_s, frozenset[str]()
    write = slow
    if pool.cache is not None and pool.cache.full_in:
        # A write-back cache helps only in the parts of the day that it lasts through.
        write, full_in = (
            pool.cache.lasting_write_bytes_per_s,
            frozenset(part.id for part in pool.cache.full_in),
        )
    uses = []
    for n, a in enumerate(situation.asking):
        reads, writes, paced_reads, paced_writes = situation.asked_of(n, pool)
        tier_homes = situation.archive_homes if situation.is_archive(pool) else situation.work_homes
        here = tier_homes[n].get(pool.id, 0.0) / alone.places
        if here > 0 and reads + writes > 0:
            needed = paced_reads / alone.read_bytes_per_s + paced_writes / slow
            if paced_reads > 0:
                needed = max(needed, a.demand.stream_bytes_per_s / alone.stream_read_bytes_per_s)
            shares = [((reads / read + writes / rate, here),) for rate in (write, slow)]
            uses.append(Use(a, shares[0], needed, full_in, shares[1]))
    found = utilisation_of(uses, situation.standard)
    if found.part.id in full_in:
        write = slow
    part = situation.share_read(pool.id)
    capacity = 1 / (part / read + (1 - part) / write)
    hop = _within(pool.id, pool.name, "pool", (pool.id,), capacity, found, situation)
    terms = DrivesTerms(read_share=part, read_bytes_per_s=read, write_bytes_per_s=write)
    return hop.model_copy(update={"drives_terms": terms})


def _judge(judged: Judged) -> WiringResult:
    bundle = judged.bundle
    brief = bundle.plan.brief
    situation = Situation(
        asking_of(brief, judged.of(RATES)),
        standard_of(brief, bundle.house_rules),
        judged.of(TIERS),
        judged.of(POOLS_ALONE),
    )
    return wiring_stage(bundle.plan, situation, shared_hops(bundle.plan, judged.of(SETTINGS)))


WIRING: Part[WiringResult] = Part(
    "wiring",
    _judge,
    reads=("plan/wiring", "plan/pools", *LOADS_READ),
    after=(RATES, TIERS, SETTINGS, POOLS_ALONE),
)
