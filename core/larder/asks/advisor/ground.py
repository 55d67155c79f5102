"""What all designs of one shape share: what the tiers must hold, the links, what else is paid and drawn.

One design of the shape is judged by the ordinary stages, and what does not hang on its drives is read off it.
What a pool's rates come to for the people is asked of the same code that judges the plan, once for each set
of rates.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from decimal import Decimal
from functools import cached_property
from typing import NamedTuple

from larder.judge.evaluation import FIGURES
from larder.laws.nightly import is_nightly
from larder.plan.bundle import Plan
from larder.plan.caches import Cache
from larder.stages.brief import BRIEF
from larder.stages.caches import CacheDemand, PartDemand, working_days_a_year
from larder.stages.copies import COPIES
from larder.stages.costs import COSTS
from larder.stages.drive_duty import traffic_per_day
from larder.stages.loads import LOADS, SEATS_INSIDE, STREAMS
from larder.stages.memory import memory_of
from larder.stages.money import MONEY
from larder.stages.pool import HopRates, PoolResult, RateRange
from larder.stages.pool_setting import PoolCost
from larder.stages.power import ASSUMED_SWITCH_WATTS
from larder.stages.rates import RATES
from larder.stages.situation import SITUATION, Situation
from larder.stages.small_files import small_files_stage
from larder.stages.stage import Judged, judge, judge_anew
from larder.stages.tiers import TIERS, behind_cache, cache_demand, parts_of_pools, with_memory
from larder.stages.upkeep import HOURS_A_BOX, HOURS_A_CACHE, HOURS_A_POOL, SKILLS, UPKEEP
from larder.stages.utilisation import paced_ratios, utilisation_of
from larder.stages.ways import NETWORK
from larder.stages.wiring import WIRING, use_of_shared, uses_of_pool

from .design import Choices, Design, NetworkOption, PoolChoice, Shape, best_port
from .options import Place, Tier, is_sound, widths

BOX_PARTS = frozenset({"rails", "carrier", "cooler", "power lead"})
UNASKED = float("inf")
"""The ratio of what nothing is asked of."""


class Rates(NamedTuple):
    """What of a pool decides how people fare with it; bytes/s, and its box's memory in bytes."""

    read_bytes_per_s: float
    write_bytes_per_s: float
    hop_read_bytes_per_s: float
    stream_bytes_per_s: float
    places: int
    small_reads_per_s: float
    latency_seconds: float
    memory_bytes: int
    port: str


class Fares(NamedTuple):
    """How people fare with a pool, and how many years its cache lasts."""

    ratio: float
    cache_years: float


class SharedCost(NamedTuple):
    """What a tier's bytes cost of a bus or a processor."""

    tier: Tier
    a_byte_read: float
    a_byte_written: float


class Terms(NamedTuple):
    """What of a plan hangs on how copies are kept, besides its pools and boxes; hours a month, bytes.

    ``needed`` is what the pool of each tier must hold. ``lacking`` says what the rule for copies misses,
    empty where it is met; ``is_nightly``: everything has a copy no older than a day.
    """

    capex: Decimal
    unpriced_switches: int
    stores_five_years: float
    upkeep_hours: float
    needed: tuple[float, ...]
    lacking: tuple[str, ...]
    is_nightly: bool


def _terms(judged: Judged, tiers: tuple[Tier, ...]) -> Terms:
    lines = [line for line in judged.of(MONEY).lines if line.of not in ("pool", "cache", "box")]
    besides = [line for line in lines if not (line.is_lacking and line.id in BOX_PARTS)]
    plan, brief = judged.bundle.plan, judged.of(BRIEF)
    hours = len(plan.boxes) * HOURS_A_BOX + len(plan.pools) * HOURS_A_POOL + len(plan.caches) * HOURS_A_CACHE
    both = (
        brief.working_set_bytes + brief.copied_work_bytes,
        brief.cold_bytes + brief.copied_archive_bytes,
    )
    copies = judged.of(COPIES)
    lacking = [f"{m.name}: {m.lacking}" for m in copies.materials if m.lacking]
    lacking += [
        f"{run.name} falls behind" for run in copies.copies if run.is_over_the_line and not run.keeps_up
    ]
    return Terms(
        capex=sum((line.amount for line in besides if line.amount is not None), Decimal(0)),
        unpriced_switches=sum(line.amount is None and line.of == "switch" for line in besides),
        stores_five_years=float(next(x.amount for x in judged.of(COSTS).lines if x.id == "stores")),
        upkeep_hours=judged.of(UPKEEP).hours_per_month - hours,
        needed=both if len(tiers) > 1 else (float(brief.need_bytes),),
        lacking=tuple(lacking) if copies.has_said else ("no copies",),
        is_nightly=_has_nightly_copies(plan, {run.id for run in copies.copies if run.missing}),
    )


def _has_nightly_copies(plan: Plan, missing: set[str]) -> bool:
    """Whether every class of material that lives on pools has a copy beside them every night."""
    nightly = [c for c in plan.safekeeping.copies if is_nightly(c.every_hours) and c.id not in missing]
    return all(
        any(material.id in copy.materials for copy in nightly)
        for material in plan.safekeeping.materials
        if any(plan.pool_of(where) for where in plan.homes_of(material))
    )


@dataclass(frozen=True)
class Ground:
    """One design of a shape, judged; and what follows from it for all of them."""

    choices: Choices
    shape: Shape
    sample: Design
    judged: Judged
    _terms: dict[int, Terms] = field(default_factory=dict)
    _caches: dict[int, Cache] = field(default_factory=dict)
    _ports: dict[str, Judged] = field(default_factory=dict)
    _fares: dict[tuple[Tier, Rates, Cache | None], Fares] = field(default_factory=dict)
    _hops: dict[tuple[Tier, Rates, Cache | None], tuple[float, PoolResult]] = field(default_factory=dict)
    _shared: dict[tuple[float, tuple[SharedCost, ...]], float] = field(default_factory=dict)

    @property
    def tiers(self) -> tuple[Tier, ...]:
        """The tiers that have a pool of their own."""
        return ("work",) if self.shape == "one pool" else ("work", "archive")

    def terms(self, keeping_at: int) -> Terms:
        """What a way to keep copies makes of the plan."""
        if keeping_at not in self._terms:
            design = self.sample.with_keeping(keeping_at)
            paths = ("plan/safekeeping", "plan/purchases")
            judged = judge_anew(self.choices.bundle(design), self.judged, paths, FIGURES)
            self._terms[keeping_at] = _terms(judged, self.tiers)
        return self._terms[keeping_at]

    def streams(self, tier: Tier) -> int:
        """The number of sequential streams at once on the pool of a tier."""
        work, archive = self.judged.of(STREAMS)
        return archive if tier == "archive" else work

    @property
    def inside_seats(self) -> float:
        """The number of seats that work in the box itself."""
        return self.judged.of(SEATS_INSIDE)

    @cached_property
    def switches_watts(self) -> float:
        return sum(switch.watts or ASSUMED_SWITCH_WATTS for switch in self._network.switches)

    @cached_property
    def switches_energy(self) -> float:
        """Noise of the switches as energy, 10^(dB(A) ÷ 10)."""
        return sum(10 ** (s.noise_dba / 10) for s in self._network.switches if s.noise_dba > 0)

    @cached_property
    def skill(self) -> int:
        """The skill that the shape and its network ask for, as its place in the list, a number from 0."""
        joined = any(link.links > 1 for link in self._network.links)
        return int(self.shape != "one pool" or len(self._network.switches) > 1 or joined)

    @property
    def skill_there(self) -> int:
        """The skill that is there, as the same number."""
        return SKILLS.index(self.judged.bundle.plan.brief.limits.skill)

    @property
    def _network(self) -> NetworkOption:
        return self.choices.networks[self.sample.network_at]

    def port_of(self, box_at: int) -> str:
        """The port by which a box is reached."""
        switch = next(s for s in self._network.switches if s.id == self._network.switch_id)
        return best_port(self.choices.options.boxes[box_at].model, switch) or self._network.speed

    def _with_port(self, port: str) -> Judged:
        """The sample with its boxes reached by another port."""
        if port not in self._ports:
            bundle = self.choices.bundle(self.sample)
            boxes = tuple(box.model_copy(update={"ports": port, "cards": ()}) for box in bundle.plan.boxes)
            links = tuple(
                link.model_copy(update={"speed": port}) if link.ends[1].kind == "box" else link
                for link in bundle.plan.wiring.links
            )
            wiring = bundle.plan.wiring.model_copy(update={"links": links})
            plan = bundle.plan.model_copy(update={"boxes": boxes, "wiring": wiring})
            self._ports[port] = judge(bundle.model_copy(update={"plan": plan}), FIGURES)
        return self._ports[port]

    def links_ratio(self, tier: Tier, port: str) -> float:
        """The smallest ratio of all links of people, and of that of a tier's box by this port.

        0 where somebody has no way to the storage.
        """
        wiring = self._with_port(port).of(WIRING)
        if wiring.unreached:
            return 0.0
        own = self.choices.box_ids(self.sample, self.tiers.index(tier))[0]
        others = {f"{box.id}-port" for box in self.judged.bundle.plan.boxes} - {f"{own}-port"}
        return min(
            (
                hop.ratio
                for hop in wiring.hops
                if hop.kind in ("link", "slot") and hop.ratio is not None and hop.id not in others
            ),
            default=UNASKED,
        )

    def cache(self, at: int) -> Cache:
        """One of the options' caches, before the pool that people work on."""
        if at not in self._caches:
            self._caches[at] = self.choices.cache("work", self.choices.options.caches[at], "box")
        return self._caches[at]

    def fares(self, tier: Tier, rates: Rates, cache: Cache | None = None) -> Fares:
        """How people fare with a pool's drives, and with the files a second that they ask of it."""
        key = (tier, rates, cache)
        if key not in self._fares:
            self._fares[key] = self._fares_of(tier, rates, cache)
        return self._fares[key]

    def _fares_of(self, tier: Tier, rates: Rates, cache: Cache | None) -> Fares:
        key = (tier, rates._replace(port=""), cache)
        if key not in self._hops:
            self.prepare([(tier, rates, cache)])
        hop, warm = self._hops[key]
        years = warm.cache.wear_years if warm.cache is not None else None
        return Fares(min(hop, self._files_ratio(tier, warm, rates.port)), UNASKED if years is None else years)

    def prepare(self, asked: Iterable[tuple[Tier, Rates, Cache | None]]) -> None:
        """Find the ratios of many pools' drives as hops at once, whatever the network."""
        by_tier: dict[Tier, dict[tuple[Rates, Cache | None], None]] = {}
        for tier, rates, cache in asked:
            key = (rates._replace(port=""), cache)
            if (tier, *key) not in self._hops:
                by_tier.setdefault(tier, {})[key] = None
        situation = self.judged.of(SITUATION)
        for tier, keys in by_tier.items():
            pools = [
                (cold, self._warmed(tier, cold, *key)) for key in keys for cold in [self._cold(tier, key[0])]
            ]
            uses = [uses_of_pool(warm, cold, situation).uses for cold, warm in pools]
            ratios = paced_ratios(uses, situation.work.standard)
            for key, (_, warm), ratio in zip(keys, pools, ratios, strict=True):
                self._hops[(tier, *key)] = (UNASKED if ratio is None else ratio, warm)

    def _cold(self, tier: Tier, rates: Rates) -> PoolResult:
        """The sample's pool with other rates."""
        return self._sample_pool(tier).model_copy(
            update={
                "read": _flat(rates.read_bytes_per_s),
                "write": _flat(rates.write_bytes_per_s),
                "as_hop": HopRates.model_construct(
                    read_bytes_per_s=rates.hop_read_bytes_per_s,
                    stream_read_bytes_per_s=rates.stream_bytes_per_s,
                    places=rates.places,
                ),
                "small_reads_per_s": rates.small_reads_per_s,
                "drive_latency_seconds": rates.latency_seconds,
                "cache": None,
            }
        )

    def beside(self, other: Ground) -> Ground:
        """The same, which takes over what does not hang on the network from one of the same shape."""
        return replace(self, _hops=other._hops, _shared=other._shared)

    def written_per_year(self, tier: Tier) -> float:
        """Bytes that people write to the pool of a tier in a year."""
        rules = self.judged.bundle.house_rules
        brief, tiers = self.judged.of(BRIEF), self.judged.of(TIERS)
        _, written = traffic_per_day(brief, tiers, self._sample_pool(tier), rules.working_days_per_week)
        return written * working_days_a_year(rules.working_days_per_week)

    def _warmed(self, tier: Tier, cold: PoolResult, rates: Rates, cache: Cache | None) -> PoolResult:
        """The pool behind its cache and its box's memory."""
        if tier == "archive":
            return cold
        warm, demand = cold, self._demand
        if cache is not None:
            warm = behind_cache(cache, None, cold, replace(demand, parts=self._parts[tier]))
        memory = memory_of(rates.memory_bytes, 0, rates.write_bytes_per_s, demand)
        return with_memory(warm, cold, {"box": memory}, (("box", 1),))

    @cached_property
    def _demand(self) -> CacheDemand:
        return cache_demand(self.judged)

    @cached_property
    def _parts(self) -> dict[str, tuple[PartDemand, ...]]:
        return parts_of_pools(self.judged, self.judged.of(TIERS).pools)

    def _files_ratio(self, tier: Tier, pool: PoolResult, port: str) -> float:
        """Of pictures and frames in files of their own; people open them on the pool that they work on."""
        if tier == "archive":
            return UNASKED
        judged = self._with_port(port)
        tiers = judged.of(TIERS)
        if not any(seat.files_per_s for seat in judged.of(LOADS).seats):
            return UNASKED
        pools = tuple(pool if each.id == pool.id else each for each in tiers.pools)
        files = small_files_stage(
            judged.bundle.plan,
            judged.of(LOADS),
            tiers.model_copy(update={"pools": pools}),
            judged.of(NETWORK),
            judged.of(RATES),
        )
        return min((file.ratio for file in files), default=UNASKED)

    def shared_ratio(self, capacity: float, costs: tuple[SharedCost, ...]) -> float:
        """How people fare with a bus (bytes/s) or a processor (cores) that these tiers' pools pass."""
        key = (capacity, costs)
        if key not in self._shared:
            situation: Situation = self.judged.of(SITUATION)
            by_pool: dict[str, PoolCost] = {
                c.tier: PoolCost(c.tier, c.a_byte_read, c.a_byte_written) for c in costs
            }
            uses = [use_of_shared(n, by_pool, situation) for n in range(len(situation.work.asking))]
            found = utilisation_of(uses, situation.work.standard, capacity)
            self._shared[key] = 1 / found.share if found.is_paced and found.share > 0 else UNASKED
        return self._shared[key]

    def _sample_pool(self, tier: Tier) -> PoolResult:
        return next(pool for pool in self.judged.of(TIERS).pools if pool.id == tier)


def _flat(bytes_per_s: float) -> RateRange:
    return RateRange.model_construct(
        middle_bytes_per_s=bytes_per_s, low_bytes_per_s=bytes_per_s, high_bytes_per_s=bytes_per_s
    )


def ground_of(choices: Choices, shape: Shape, kinds: tuple[str, ...], network_at: int) -> Ground | None:
    """The ground of a shape whose tiers are on these kinds of drives; None where no box takes them."""
    sample = _sample(choices, shape, kinds, network_at)
    if sample is None:
        return None
    return Ground(choices, shape, sample, judge(choices.bundle(sample), FIGURES))


def _sample(choices: Choices, shape: Shape, kinds: tuple[str, ...], network_at: int) -> Design | None:
    tiers: tuple[Tier, ...] = ("work", "archive")
    found = [
        [pool for place in choices.options.places for pool in _smallest(choices, place, tier, kind)]
        for tier, kind in zip(tiers, kinds, strict=False)
    ]
    if not all(found):
        return None
    if shape != "one box":
        pools = tuple(each[0] for each in found)
        return Design(shape, pools, network_at)
    for first in found[0]:
        for second in found[1]:
            if first.box_at == second.box_at and _together(choices, first, second):
                return Design(shape, (first, second), network_at)
    return None


def _together(choices: Choices, first: PoolChoice, second: PoolChoice) -> bool:
    """Whether both go into one box."""
    if first.slot != second.slot:
        return True
    bays = choices.options.boxes[first.box_at].holds_drives.bays
    return first.drives + second.drives <= bays


def _smallest(choices: Choices, place: Place, tier: Tier, kind: str) -> list[PoolChoice]:
    """A pool of as few drives as may be in a place, under each layout that one may begin with."""
    options = choices.options
    for drive_at, drive in enumerate(options.drives):
        if drive.sizes or drive.model.kind != kind or not options.takes_member(place, drive):
            continue
        for layout in options.layouts:
            members = widths(layout, min(place.places, drive.most or place.places))
            if members and layout.has_redundancy and is_sound(layout, drive.model):
                return [PoolChoice(tier, place.box_at, place.slot, drive_at, layout, members[0], 0, 0)]
    return []
