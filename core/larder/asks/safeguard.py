"""Redundancy: how likely each pool loses data in a year, from disks alone, and the same in other layouts.

A pool is as many alike groups as its layout has; a dead drive is replaced by a spare at once, else after the
house's delivery, and rebuilt beside the people. An unreadable sector in the last rebuild ends a pool of whole
stripes; in a copy-on-write or whole-file pool it costs a file. Both are told apart, for they differ by
thousands.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import DAYS_A_YEAR
from larder.laws.layout import Family, Layout, parse_layout
from larder.laws.lifetimes import ENOUGH_LOSSES, House, Lived, live_through
from larder.laws.loss_odds import (
    HOURS_A_YEAR,
    Group,
    LossOdds,
    loss_odds,
    mean_hours_to_loss,
    of_many,
    rate_of_afr,
)
from larder.laws.rebuild import latent_odds, unreadable_odds
from larder.plan.bundle import Bundle
from larder.plan.house_rules import HouseRules
from larder.plan.layout_words import words_of
from larder.plan.pools import Pool
from larder.stages.pool import PoolResult
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.tiers import TIERS

from .compare import in_layouts

SHELF_HOURS = 12.0
"""Until somebody has put a spare from the shelf into the bay. A stated assumption."""
GROUPS_A_PART = 200_000
"""As many groups are lived through at once."""
SMALLEST_ODDS = 1e-9
"""Below this other causes dominate, and the model's independence is not believed."""
MOST_TOLERATED = 8
"""Mirrors of more copies than this are as good as this."""


class OddsOf(Result):
    """The chance of a loss in a year, 0 to 1: of all data by dead disks, and by reads of a file or of all."""

    disks: float
    reads: float
    total: float
    said: str


class LayoutOdds(Result):
    """One layout of the same drives; null where they are too few or lose data with the first."""

    layout: str
    words: str
    is_current: bool
    plannable_bytes: int
    survives: int
    odds: OddsOf


class PoolOdds(Result):
    """One pool at its final width. Times are hours; ``reads_lose`` is what an unreadable sector costs.

    ``by_sheets`` takes data sheets' rates of unreadable sectors, which is an upper bound.
    """

    id: str
    name: str
    words: str
    members: int
    groups: int
    survives: int
    deaths_a_year: float
    waits_hours: float
    rebuild_hours: float
    fatal_read: float
    same_batch: bool
    mean_years_to_loss: float
    reads_lose: Literal["a file", "the pool"]
    odds: OddsOf
    by_sheets: OddsOf
    sentence: str


class Safeguard(Result):
    """All pools, and what the odds leave out."""

    pools: tuple[PoolOdds, ...]
    left_out: str


LEFT_OUT = (
    "From disks alone: no fire, theft, deletion, intruder, controller or firmware fault, and nobody who "
    "pulls the wrong drive. These are likelier than small odds here, and only copies elsewhere help."
)


@dataclass(frozen=True)
class _Facts:
    """What the odds of a pool come from."""

    groups: int
    group: Group
    sheet_read: float
    waits_hours: float
    rebuild_hours: float
    afr: float


def safeguard(bundle: Bundle) -> Safeguard:
    """The odds of every pool."""
    judged, rules = judge(bundle, PARTS), bundle.house_rules
    pools = zip(bundle.plan.pools, judged.of(TIERS).pools, strict=True)
    return Safeguard(
        pools=tuple(_pool(pool, result, rules) for pool, result in pools),
        left_out=LEFT_OUT,
    )


def _pool(pool: Pool, result: PoolResult, rules: HouseRules) -> PoolOdds:
    layout = parse_layout(pool.layout)
    facts = _facts(layout, pool, result, rules)
    odds = _odds(facts)
    by_sheets = _odds(replace(facts, group=replace(facts.group, fatal_read=facts.sheet_read)))
    loses_file = layout.family in (Family.COPY_ON_WRITE, Family.FILEWISE)
    return PoolOdds(
        id=pool.id,
        name=pool.name,
        words=result.layout_words,
        members=facts.group.members,
        groups=facts.groups,
        survives=facts.group.tolerates,
        deaths_a_year=facts.afr,
        waits_hours=facts.waits_hours,
        rebuild_hours=facts.rebuild_hours,
        fatal_read=facts.group.fatal_read,
        same_batch=facts.group.while_repairing > 1,
        mean_years_to_loss=mean_hours_to_loss(facts.group) / facts.groups / HOURS_A_YEAR,
        reads_lose="a file" if loses_file else "the pool",
        odds=_told(odds),
        by_sheets=_told(by_sheets),
        sentence=_sentence(pool, odds, facts, loses_file=loses_file),
    )


def layout_odds(bundle: Bundle, pool_id: str) -> tuple[LayoutOdds, ...]:
    """The same drives of one pool in every layout, safest first; raises :class:`Refused` for no such pool."""
    return tuple(sorted(_layouts(bundle, pool_id), key=lambda each: each.odds.total))


def _layouts(bundle: Bundle, pool_id: str) -> Iterator[LayoutOdds]:
    rules = bundle.house_rules
    current = next((pool.layout for pool in bundle.plan.pools if pool.id == pool_id), "")
    for layout, built, result in in_layouts(bundle, pool_id):
        if result is None:
            continue
        facts = _facts(layout, built, result, rules)
        yield LayoutOdds(
            layout=built.layout,
            words=words_of(layout),
            is_current=built.layout == current,
            plannable_bytes=result.plannable_bytes,
            survives=facts.group.tolerates,
            odds=_told(_odds(facts)),
        )


def _facts(layout: Layout, pool: Pool, result: PoolResult, rules: HouseRules) -> _Facts:
    """Groups of a layout at its final width, and how they fare."""
    members = result.final_members
    groups, tolerates = 1, int(min(layout.guaranteed_failures(members), MOST_TOLERATED))
    if layout.family is Family.STRIPED_MIRROR:
        groups = max(members // layout.copies, 1)
    elif layout.groups > 1:
        groups = layout.groups
    of_group = max(members // groups, tolerates + 1)
    is_old = pool.hours_run > rules.drive_age_years_max * DAYS_A_YEAR * 24
    percent = rules.flash_deaths_percent
    if pool.drive_kind == "hdd":
        percent = rules.old_disk_deaths_percent if is_old else rules.disk_deaths_percent
    waits = 0.0
    if not result.spares + result.shared_spares:
        waits = SHELF_HOURS if pool.cold_spares else rules.delivery_days_max * 24.0
    rebuild = (result.rebuild_seconds or 0.0) / 3600
    terms = result.rebuild_terms
    latent = sheet = 0.0
    if terms is not None and tolerates:
        is_mirror = layout.family in (Family.MIRROR, Family.STRIPED_MIRROR)
        read = terms.member_bytes * terms.allocated_share * (1 if is_mirror else of_group - tolerates)
        sheet = float(unreadable_odds(int(read), terms.unreadable_per_bit))
        latent = min(latent_odds(read, terms.latent_per_tb_year, terms.scrub_years), sheet)
    group = Group(
        members=of_group,
        tolerates=tolerates,
        failures_per_hour=rate_of_afr(percent / 100),
        repairs_per_hour=1 / max(waits + rebuild, 1e-3),
        fatal_read=latent,
        while_repairing=rules.same_batch_times if pool.batches == 1 else 1.0,
    )
    return _Facts(groups, group, sheet, waits, rebuild, percent / 100)


def _odds(facts: _Facts) -> LossOdds:
    return of_many(loss_odds(facts.group, HOURS_A_YEAR), facts.groups)


def _told(odds: LossOdds) -> OddsOf:
    return OddsOf(disks=odds.disks, reads=odds.reads, total=odds.total, said=odds_text(odds.total))


def odds_text(odds: float) -> str:
    """The odds of a year to one figure, in words."""
    if odds < SMALLEST_ODDS:
        return "below 1 in a billion a year by this model; other causes dominate"
    if odds >= 0.1:
        return f"about {round(odds * 10)} in 10 a year" if odds < 0.95 else "nearly certain within a year"
    one_in = 1 / odds
    figure = 10 ** (len(str(int(one_in))) - 1)
    return f"about 1 in {round(one_in / figure) * figure:,} a year"


def _sentence(pool: Pool, odds: LossOdds, facts: _Facts, *, loses_file: bool) -> str:
    """A verdict that a producer can read."""
    said = f"{pool.name}: a loss of data is {odds_text(odds.total)}"
    if not facts.group.tolerates:
        return f"{said}; any dead drive is enough."
    if odds.total < SMALLEST_ODDS:
        return f"{pool.name}: {odds_text(odds.total)}."
    if odds.reads > odds.disks:
        cost = "which costs a file" if loses_file else "which ends it"
        return f"{said}; most of it is a read error while the last drive rebuilds, {cost}."
    deaths = "a second drive" if facts.group.tolerates == 1 else "one drive too many"
    return f"{said}; most of it is {deaths} that dies before the first is replaced and rebuilt."


class LivedPart(Result):
    """Losses of so many groups that were lived through for a year."""

    groups: int
    by_disks: int
    by_reads: int


class Lifetimes(Result):
    """What living through a pool's groups came to, beside the chain; odds are of one of its groups in a year.

    ``low`` and ``high`` hold the odds nineteen times in twenty; null where fewer than a hundred losses were
    seen.
    """

    pool_id: str
    groups: int
    by_disks: int
    by_reads: int
    chain: float
    low: float | None
    high: float | None
    sentence: str


class PoolLived:
    """Lives through the groups of a pool, part by part; raises :class:`Refused` for no such pool."""

    def __init__(self, bundle: Bundle, pool_id: str, seed: int) -> None:
        self.pool_id, self.seed = pool_id, seed
        pools = zip(bundle.plan.pools, judge(bundle, PARTS).of(TIERS).pools, strict=True)
        found = next(((pool, result) for pool, result in pools if pool.id == pool_id), None)
        if found is None:
            listed = ", ".join(pool.id for pool in bundle.plan.pools) or "there is none yet"
            raise Refused("pool_id", pool_id, f"the id of a pool ({listed})")
        pool, result = found
        self.group = _facts(parse_layout(pool.layout), pool, result, bundle.house_rules).group

    def part(self, number: int) -> LivedPart:
        """So many groups more, drawn by the seed and the part's number."""
        house = House(
            disks=self.group.members,
            may_be_dead=self.group.tolerates,
            mean_life_hours=1 / self.group.failures_per_hour,
            mean_repair_hours=1 / self.group.repairs_per_hour,
            read_fails=self.group.fatal_read,
            beside_a_dead_one=self.group.while_repairing,
        )
        random = np.random.default_rng([self.seed, number])
        lived = live_through(house, HOURS_A_YEAR, GROUPS_A_PART, random)
        return LivedPart(groups=lived.groups, by_disks=lived.by_disks, by_reads=lived.by_reads)

    def summed(self, parts: Iterable[LivedPart]) -> Lifetimes:
        """What all parts come to."""
        parts = list(parts)
        lived = Lived(
            sum(part.groups for part in parts),
            sum(part.by_disks for part in parts),
            sum(part.by_reads for part in parts),
        )
        chain = loss_odds(self.group, HOURS_A_YEAR).total
        is_enough = lived.losses >= ENOUGH_LOSSES
        low, high = lived.interval() if is_enough else (None, None)
        return Lifetimes(
            pool_id=self.pool_id,
            groups=lived.groups,
            by_disks=lived.by_disks,
            by_reads=lived.by_reads,
            chain=chain,
            low=low,
            high=high,
            sentence=_lived(lived, chain),
        )


def _lived(lived: Lived, chain: float) -> str:
    years = f"{lived.groups:,} years of such a group were lived through"
    if lived.losses < ENOUGH_LOSSES:
        return f"{years} with {lived.losses} losses: fewer than {ENOUGH_LOSSES} say too little to be shown."
    low, high = lived.interval()
    holds = "as the chain says" if low <= chain <= high else "where the chain says otherwise"
    return (
        f"{years}: {lived.by_disks:,} lost by dead drives and {lived.by_reads:,} by a read, "
        f"{low:.2g} to {high:.2g} a year, {holds} ({chain:.2g})."
    )
