"""A seat's way to its bytes in the plan, as the readings see it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from larder.base.errors import Refused
from larder.base.results import Result
from larder.laws.path import ETHERNET_BITS_PER_S, FILE_PROTOCOL_EFFICIENCY
from larder.plan.formats import ComputedFormat
from larder.plan.seats import FootageSeat
from larder.stages.caches import flash_write_bytes_per_s
from larder.stages.situation import SITUATION, Situation
from larder.stages.stage import Judged
from larder.stages.tiers import TIERS
from larder.stages.ways import Way, Wire
from larder.stages.wiring import WIRING

from .culprits import Context
from .readings import House

USUAL_FPS = 25.0


class Limit(Result):
    """What one stream gets of a hop on the way, bytes/s, in the order that bytes take from the drives."""

    id: str
    name: str
    bytes_per_s: float


@dataclass(frozen=True)
class Place:
    """The house as a seat sees it."""

    house: House
    context: Context
    limits: tuple[Limit, ...]


def house_at(judged: Judged, seat_id: str) -> Place:
    """Raises :class:`Refused` for a seat that there is not, or that has no way to any pool."""
    situation = judged.of(SITUATION)
    asking = situation.work.asking
    n = next((n for n, one in enumerate(asking) if one.id == seat_id and not one.is_service), None)
    if n is None:
        listed = ", ".join(one.id for one in asking if not one.is_service) or "there is none yet"
        raise Refused("seat_id", seat_id, f"the id of a seat ({listed})")
    pool_id = next((pool_id for pool_id, way in situation.ways[n].items() if way is not None), None)
    way = situation.ways[n].get(pool_id or "")
    if pool_id is None or way is None:
        raise Refused("seat_id", asking[n].name, "a seat that has a way to the storage")
    wires = [wire for wire, _ in way.steps()]
    pool = next(pool for pool in situation.work.cold if pool.id == pool_id)
    own, shared = _goodput(wires[:1]), _goodput(wires[1:])
    names = {wire.link.id: _name(judged, wire) for wire in wires}
    limits = [Limit(id=pool.id, name=pool.name, bytes_per_s=pool.as_hop.stream_read_bytes_per_s)]
    limits += [
        Limit(id=wire.link.id, name=names[wire.link.id], bytes_per_s=wire.link_bytes_per_s)
        for wire in reversed(wires)
    ]
    demand = asking[n].demand
    need, fps = _footage(judged, seat_id, demand.paced_read_bytes_per_s)
    house = House(
        own_wire=own,
        shared_wire=shared if len(wires) > 1 else own,
        others_wire=_others(situation, n, pool_id),
        protocol=FILE_PROTOCOL_EFFICIENCY if wires else 1.0,
        connection=math.inf,
        others_connection=math.inf,
        read_one=pool.as_hop.stream_read_bytes_per_s,
        read_all=pool.as_hop.read_bytes_per_s,
        write=pool.write.middle_bytes_per_s,
        first_write=_first_write(judged, pool_id),
        need=need,
        fps=fps,
        decoded_fps=fps,
    )
    context = Context(
        own_speed=wires[0].speed if wires else "",
        shared_speed=min((wire.speed for wire in wires[1:]), key=_rank, default=""),
        mtu=judged.bundle.plan.wiring.mtu,
        other_way_bytes_per_s=_other_way(situation, n, pool_id, way),
        partial_write_bytes_per_s=pool.write.low_bytes_per_s,
        is_disks=pool.drive_kind == "hdd",
    )
    return Place(house, context, tuple(limits))


def _rank(speed: str) -> float:
    return ETHERNET_BITS_PER_S[speed]


def _goodput(wires: list[Wire]) -> float:
    """What the narrowest of them carries without a file protocol; infinite where there is none."""
    return min((wire.link_bytes_per_s for wire in wires), default=math.inf) / FILE_PROTOCOL_EFFICIENCY


def _name(judged: Judged, wire: Wire) -> str:
    return next((hop.name for hop in judged.of(WIRING).hops if hop.id == wire.link.id), wire.link.id)


def _others(situation: Situation, n: int, pool_id: str) -> float:
    """Another seat's own plug; one of the same class where there is no other."""
    ways = [way for m, to in enumerate(situation.ways) if m != n and (way := to.get(pool_id)) is not None]
    own = situation.ways[n].get(pool_id)
    plugs = [way.wires[:1] for way in (*ways, own) if way is not None and way.wires]
    return max((_goodput(list(plug)) for plug in plugs), default=math.inf)


def _other_way(situation: Situation, n: int, pool_id: str, way: Way) -> float | None:
    """What a slower way to the same box carries without a file protocol; None where there is none."""
    start, end = situation.work.asking[n].start, situation.network.pool_ends[pool_id]
    others = [w for w in situation.network.ways(start, end) if w.wires != way.wires] if start else []
    slower = [_goodput(list(w.wires)) for w in others]
    slower = [rate for rate in slower if rate < _goodput(list(way.wires)) * 0.8]
    return max(slower, default=None)


def _first_write(judged: Judged, pool_id: str) -> float:
    """What takes in a write at first: a cache or staging drive, or else the box's memory."""
    cache = next((c for c in judged.bundle.plan.caches if c.pool_id == pool_id), None)
    if cache is not None and cache.mode in ("write-back", "staging"):
        return flash_write_bytes_per_s(cache)
    # Every box has memory that takes in a file's first seconds, also where nobody has said how much.
    return math.inf if judged.of(TIERS).pools else 0.0


def _footage(judged: Judged, seat_id: str, asked: float) -> tuple[float, float]:
    """(bytes/s, frames a second) of what the seat plays; (0, 0) where it plays none."""
    seat = next(s for s in judged.bundle.plan.brief.seats if s.id == seat_id)
    if not isinstance(seat, FootageSeat) or not asked:
        return 0.0, 0.0
    media = next((f for f in judged.bundle.catalogue.formats if f.id == seat.format_id), None)
    return asked, media.fps if isinstance(media, ComputedFormat) else USUAL_FPS
