"""What a day's flows cross: every hop of the plan as a resource, and what a byte takes of each on its way.

A seat has its own plug, a flow is pinned to one member of an aggregate, and each direction of a wire is a
resource by itself. What a pool's drives, buses and processors take of a byte is what Speed has it take.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping

from larder.plan.caches import Cache
from larder.plan.wiring import OUTSIDE
from larder.stages.caches import flash_write_bytes_per_s
from larder.stages.links import card_slots
from larder.stages.pool import PoolResult
from larder.stages.pool_setting import SETTINGS, shared_hops
from larder.stages.situation import SITUATION
from larder.stages.stage import Judged
from larder.stages.ways import Wire
from larder.stages.wiring import WIRING

Costs = tuple[tuple[int, float], ...]


class DayResources:
    """The resources of a plan; they come into being when the first flow crosses them.

    ``busy_drives`` are the pools whose drives do something beside people's work in the course of the day.
    """

    def __init__(self, judged: Judged) -> None:
        self.situation = judged.of(SITUATION)
        self.capacities: list[float] = []
        self.hop_ids: list[str] = []
        self._places: dict[tuple[object, ...], int] = {}
        self._drives = {hop.id: hop.drives_terms for hop in judged.of(WIRING).hops}
        self._shared = tuple(shared_hops(judged.bundle.plan, judged.of(SETTINGS)))
        self._slots = tuple(card_slots(self.situation))
        self.busy_drives: set[str] = set()
        self._cold: Mapping[str, PoolResult] = {pool.id: pool for pool in self.situation.work.cold}

    def way(self, n: int, k: int, pool_id: str, *, reads: bool) -> Costs | None:
        """What a byte of the ``k``-th of those who ask takes to or from a pool, without its drives.

        None where there is no way.
        """
        way = self.situation.ways[n].get(pool_id)
        if way is None:
            return None
        costs = [(self._wire(wire, k, towards_near=reads == onward), 1.0) for wire, onward in way.steps()]
        for slot in self._slots:
            crossing = slot.users.get(n)
            if crossing is None:
                continue
            costs += [
                (self._of(("slot", slot.id, towards_near), slot.id, slot.bytes_per_s), 1.0)
                for towards_near in (True, False)
                if pool_id in crossing.pools(towards_near=towards_near, reads=reads)
            ]
        return (*costs, *self._inside(pool_id, reads=reads))

    def between(self, from_id: str, to_id: str) -> Costs | None:
        """What a byte takes from one pool's box to another's, without drives; None where there is no way."""
        network = self.situation.network
        start, end = network.pool_ends[from_id], network.pool_ends[to_id]
        inside = (*self._inside(from_id, reads=True), *self._inside(to_id, reads=False))
        if start == end or not network.is_wired:
            return inside
        leaving = [wire for wire in network.wires_at(start) if wire.near.kind == "switch"]
        ways = [(wire, way) for wire in leaving for way in network.ways(wire.near, end)]
        if not ways:
            return None
        out, way = max(ways, key=lambda each: (each[1].rank(), each[0].all_bytes_per_s))
        costs = [(self._wire(out, 0, towards_near=True), 1.0)]
        costs += [(self._wire(wire, 0, towards_near=not onward), 1.0) for wire, onward in way.steps()]
        return (*costs, *inside)

    def out(self, pool_id: str) -> Costs:
        """What a byte takes from a pool to the outside line."""
        network = self.situation.network
        box = network.pool_ends[pool_id]
        way = network.way_of(OUTSIDE, box) or network.last_wire(box)
        steps = way.steps() if way else ()
        costs = [(self._wire(wire, 0, towards_near=onward), 1.0) for wire, onward in steps]
        return (*costs, *self._inside(pool_id, reads=True))

    def drives(self, pool_id: str, *, reads: bool, cold: bool = False) -> Costs:
        """What a byte takes of a pool's drives; ``cold`` without anything before them."""
        result, pool = self._drives[pool_id], self._cold[pool_id]
        if result is None or cold:
            alone = pool.as_hop
            rate = alone.read_bytes_per_s if reads else pool.write.middle_bytes_per_s
        else:
            rate = result.read_bytes_per_s if reads else result.write_bytes_per_s
        places = [self.pool(pool_id)]
        if pool_id in self.busy_drives:
            places.append(self.drive_time(pool_id))
        return tuple((at, 1 / rate) for at in places)

    def pool(self, pool_id: str) -> int:
        """The place of what a pool's drives have for people."""
        return self._of(("pool", pool_id), pool_id, self.drives_of(pool_id))

    def pools_crossed(self) -> dict[int, str]:
        """The pools whose drives anything crosses, by their places."""
        return {at: str(key[1]) for key, at in self._places.items() if key[0] == "pool"}

    def drive_time(self, pool_id: str) -> int:
        """The place of all the time that a pool's drives have, where a rebuild or a scrub takes of it."""
        return self._of(("drive time", pool_id), pool_id, self.drives_of(pool_id))

    def drives_of(self, pool_id: str) -> float:
        """How many places alike a pool's bytes may be drawn from: its capacity, in which rates are costs."""
        return float(self._cold[pool_id].as_hop.places)

    def wires(self, link_ids: Collection[str]) -> list[int]:
        """The places of all that runs over these links."""
        return [at for key, at in self._places.items() if key[0] in ("plug", "wire") and key[1] in link_ids]

    def plug(self, link_id: str) -> list[int]:
        """The places of the first seat's plug of a link; none where it is no plug."""
        return [at for key, at in self._places.items() if key[:3] == ("plug", link_id, 0)]

    def member(self, wire: Wire, member: int, *, towards_near: bool) -> int:
        """The number, among all resources, of one member of an aggregate."""
        key = ("wire", wire.link.id, member % wire.link.links, towards_near)
        return self._of(key, wire.link.id, wire.link_bytes_per_s)

    def flash(self, cache: Cache) -> Costs:
        """What a byte that is written into a cache takes of its flash."""
        at = self._of(("flash", cache.id), cache.id, flash_write_bytes_per_s(cache))
        return ((at, 1.0),)

    def _inside(self, pool_id: str, *, reads: bool) -> Iterator[tuple[int, float]]:
        """Buses and processors that a pool's bytes pass."""
        for hop in self._shared:
            for cost in hop.costs:
                taken = cost.a_byte_read if reads else cost.a_byte_written
                if cost.pool_id == pool_id and taken > 0:
                    yield self._of(("shared", hop.id), hop.id, hop.capacity), taken

    def _wire(self, wire: Wire, k: int, *, towards_near: bool) -> int:
        link, rate = wire.link, wire.link_bytes_per_s
        if wire.near.kind == "seat":
            return self._of(("plug", link.id, k, towards_near), link.id, rate)
        return self.member(wire, k, towards_near=towards_near)

    def _of(self, key: tuple[object, ...], hop_id: str, capacity: float) -> int:
        at = self._places.get(key)
        if at is None:
            at = self._places[key] = len(self.capacities)
            self.capacities.append(capacity)
            self.hop_ids.append(hop_id)
        return at
