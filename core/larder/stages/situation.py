"""Who asks, of which pools, over which wires: what every hop is held against."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, NamedTuple, TypeVar

from larder.plan.wiring import OUTSIDE

from .homes import Homes, homes_of, mean_rates
from .loads import LOADS_READ, Asking, asking_of, from_work
from .pool import PoolResult
from .rates import RATES
from .stage import Judged, Part
from .tiers import POOLS_ALONE, TIERS, TiersResult
from .utilisation import Standard, standard_of
from .ways import NETWORK, Network, Way

NO_WIRES = Way(())
MOST_KEPT = 5_000
Hop = TypeVar("Hop")


@dataclass(frozen=True)
class Pair:
    """A pair of homes, at work and in the archive, with its odds."""

    work_id: str
    archive_id: str
    odds: float


class Crossing(NamedTuple):
    """Who crosses a link: to which pools it goes from its near end on, and to which from its far end back.

    What is read of the first flows towards the near end, what is read of the second towards the far one.
    ``odds`` that it is this link.
    """

    onward: frozenset[str]
    back: frozenset[str]
    odds: float = 1.0

    def pools(self, *, towards_near: bool, reads: bool) -> frozenset[str]:
        """The pools whose bytes flow so, when they are read or written."""
        return self.onward if towards_near == reads else self.back


@dataclass(frozen=True, eq=False)
class Work:
    """Who asks, of which pools, and what hops are held against; ``cold`` are pools with nothing cached.

    Nothing of it depends on the wires. ``kept`` are hops that were judged by it already, by all that they
    depend on besides: where many changes of the wires are tried, most hops stay as they are.
    """

    asking: tuple[Asking, ...]
    standard: Standard
    tiers: TiersResult
    cold: tuple[PoolResult, ...]
    kept: dict[Hashable, Any] = field(default_factory=dict)

    def once(self, key: Hashable, judge: Callable[[], Hop]) -> Hop:
        """What ``judge`` answers, asked once for a key."""
        if key not in self.kept:
            if len(self.kept) >= MOST_KEPT:
                self.kept.clear()
            self.kept[key] = judge()
        found: Hop = self.kept[key]
        return found

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

    def used_pools(self, n: int) -> tuple[str, ...]:
        """The pools that one of those who ask moves bytes of."""
        demand = self.asking[n].demand
        work = self.work_homes[n] if from_work(demand) or demand.write_bytes_per_s else {}
        archive = self.archive_homes[n] if demand.archive_bytes_per_s and self.tiers.has_both_tiers else {}
        return tuple(dict.fromkeys((*work, *archive))) if self.asking[n].count else ()

    @cached_property
    def pairs(self) -> tuple[tuple[Pair, ...], ...]:
        """For each of those who ask, the pairs of homes, at work and in the archive, that it may have."""
        return tuple(tuple(self._pairs(n)) for n in range(len(self.asking)))

    def _pairs(self, n: int) -> Iterator[Pair]:
        demand = self.asking[n].demand
        plays_old = demand.archive_bytes_per_s and self.tiers.has_both_tiers
        for work_id, work_odds in self.work_homes[n].items():
            # Where there are not both tiers, what is old lies beside the work.
            archives = self.archive_homes[n].items() if plays_old else ((work_id, 1.0),)
            for archive_id, archive_odds in archives:
                yield Pair(work_id, archive_id, work_odds * archive_odds)

    def is_archive(self, pool: PoolResult) -> bool:
        """Whether only what is played from the archive lies in this pool."""
        return self.tiers.has_both_tiers and pool.tier == "archive"

    def asked_of(self, n: int, pool: PoolResult) -> tuple[float, float, float, float]:
        """(read, written, and of them what is paced), bytes/s, that a seat asks of its home in this tier."""
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


@dataclass(frozen=True, eq=False)
class Situation:
    """The work that is asked, and the wires that it goes over."""

    work: Work
    network: Network

    @cached_property
    def ways(self) -> tuple[dict[str, Way | None], ...]:
        """For each of those who ask, the way to every pool that it may use; None where there is none."""
        return tuple(
            {pool_id: self._way(a, pool_id) for pool_id in self.work.used_pools(n)}
            for n, a in enumerate(self.work.asking)
        )

    @cached_property
    def crossing(self) -> dict[str, dict[int, Crossing]]:
        """By link: who crosses it, by place among those who ask, on the way to which pools."""
        found: dict[str, dict[int, tuple[set[str], set[str]]]] = {w.link.id: {} for w in self.network.wires}
        for n, to_pools in enumerate(self.ways):
            for pool_id, way in to_pools.items():
                for wire, is_onward in way.steps() if way else ():
                    onward, back = found[wire.link.id].setdefault(n, (set(), set()))
                    (onward if is_onward else back).add(pool_id)
        return {
            link_id: {n: Crossing(frozenset(on), frozenset(back)) for n, (on, back) in users.items()}
            for link_id, users in found.items()
        }

    def _way(self, asking: Asking, pool_id: str) -> Way | None:
        """The wires to a pool; none are crossed from inside its box or where nothing is wired yet."""
        network = self.network
        if not asking.over_network or not network.is_wired:
            return NO_WIRES
        box = network.pool_ends[pool_id]
        start = asking.start
        if start is None or (start == OUTSIDE and not network.wires_at(OUTSIDE)):
            return network.last_wire(box) or NO_WIRES
        return network.way_of(start, box, asking.mounts_by)


def _work(judged: Judged) -> Work:
    brief = judged.bundle.plan.brief
    return Work(
        asking_of(brief, judged.of(RATES)),
        standard_of(brief, judged.bundle.house_rules),
        judged.of(TIERS),
        judged.of(POOLS_ALONE),
    )


def _situation(judged: Judged) -> Situation:
    return Situation(judged.of(WORK), judged.of(NETWORK))


WORK: Part[Work] = Part("work", _work, reads=LOADS_READ, after=(RATES, TIERS, POOLS_ALONE), is_answered=False)
SITUATION: Part[Situation] = Part("situation", _situation, after=(WORK, NETWORK), is_answered=False)
