"""What a day's flows cross: every hop of the plan as a resource, and what a byte takes of each on its way.

A seat has its own plug, a flow is pinned to one member of an aggregate, and each direction of a wire is a
resource by itself. What a pool's drives, buses and processors take of a byte is what Speed has it take.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from larder.plan.caches import Cache
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
    """The resources of a plan; they come into being when the first flow crosses them."""

    def __init__(self, judged: Judged) -> None:
        self.situation = judged.of(SITUATION)
        self.capacities: list[float] = []
        self.hop_ids: list[str] = []
        self._places: dict[tuple[object, ...], int] = {}
        self._drives = {hop.id: hop.drives_terms for hop in judged.of(WIRING).hops}
        self._shared = tuple(shared_hops(judged.bundle.plan, judged.of(SETTINGS)))
        self._slots = tuple(card_slots(self.situation))
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

    def drives(self, pool_id: str, *, reads: bool, cold: bool = False) -> Costs:
        """What a byte takes of a pool's drives; ``cold`` without anything before them."""
        at = self.pool(pool_id)
        told, pool = self._drives[pool_id], self._cold[pool_id]
        if told is None or cold:
            alone = pool.as_hop
            rate = alone.read_bytes_per_s if reads else pool.write.middle_bytes_per_s
        else:
            rate = told.read_bytes_per_s if reads else told.write_bytes_per_s
        return ((at, 1 / rate),)

    def pool(self, pool_id: str) -> int:
        """The place of a pool's drives."""
        return self._of(("pool", pool_id), pool_id, float(self._cold[pool_id].as_hop.places))

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
        return self._of(("wire", link.id, k % link.links, towards_near), link.id, rate)

    def _of(self, key: tuple[object, ...], hop_id: str, capacity: float) -> int:
        at = self._places.get(key)
        if at is None:
            at = self._places[key] = len(self.capacities)
            self.capacities.append(capacity)
            self.hop_ids.append(hop_id)
        return at
