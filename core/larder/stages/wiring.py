"""Stage *Wiring*: each hop between a seat and the pool, what it carries and how much of it is needed.

Every hop is judged by its utilisation (:mod:`larder.stages.utilisation`); for links see
:mod:`larder.stages.links`. A pool's drives are one hop on which reading costs 1/R and writing 1/W. Before it
come what its box makes all drives pass, a bus or cable, and the processor.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import partial

from larder.base.results import Result

from .hops import CostTerms, DrivesTerms, HopResult, SharedTerms, within_a_box
from .links import links_of
from .loads import from_work
from .pool import PoolResult
from .pool_setting import SETTINGS, PoolCost, SharedHop, shared_hops
from .situation import SITUATION, Situation
from .stage import Judged, Part
from .trouble import TROUBLES, TroubledSpeed, kept_in
from .utilisation import Use, utilisation_of


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
    hops = tuple(links_of(situation))
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
        result = []
        for pool in situation.work.cold:
            kept = kept_in(pool, trouble, rebuild_shares.get(pool.id, 0.0))
            if kept is not None and pool.id in ratios and limit is not None and limit.ratio is not None:
                ratio = min(limit.ratio, (ratios[pool.id] or 0.0) * min(kept))
                result.append(
                    TroubledSpeed(trouble=trouble, pool_id=pool.id, pool_name=pool.name, ratio=ratio)
                )
        if result:
            yield min(result, key=lambda each: each.ratio)


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


def _shared(hop: SharedHop, situation: Situation) -> HopResult:
    """What several pools pass together: the load scaled until the bus or the cores are used up."""
    names = {pool.id: pool.name for pool in situation.work.tiers.pools}
    costs = {cost.pool_id: cost for cost in hop.costs}
    asked = {pool_id: sum(situation.work.bytes_a_day[pool_id]) for pool_id in costs}
    whole = sum(asked.values())
    if whole > 0:
        answer = tuple(
            _cost(cost, names[pool_id], asked[pool_id] / whole, situation.work.share_read(pool_id))
            for pool_id, cost in costs.items()
        )
    else:
        # Without any load it is said what it carries of reading alone.
        dearest = max(costs.values(), key=lambda cost: cost.a_byte_read)
        answer = (_cost(dearest, names[dearest.pool_id], 1.0, 1.0),)
    a_byte = sum(
        c.load_share * (c.read_share * c.a_byte_read + (1 - c.read_share) * c.a_byte_written) for c in answer
    )
    uses = [use_of_shared(n, costs, situation) for n in range(len(situation.work.asking))]
    found = utilisation_of(uses, situation.work.standard, hop.capacity)
    result = within_a_box(
        hop.id, hop.name, hop.kind, tuple(costs), hop.capacity / a_byte, found, situation.work
    )
    return result.model_copy(update={"shared_terms": SharedTerms(capacity=hop.capacity, costs=answer)})


def use_of_shared(n: int, costs: Mapping[str, PoolCost], situation: Situation) -> Use:
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
    hop = within_a_box(pool.id, pool.name, "pool", (pool.id,), capacity, found, situation.work)
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
