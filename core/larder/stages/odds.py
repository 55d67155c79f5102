"""How likely each pool loses data in a year, from disks alone.

A pool is as many alike groups as its layout has; a dead drive is replaced by a spare at once, else after the
house's delivery, and rebuilt beside the people. An unreadable sector in the last rebuild ends a pool of whole
stripes; in a copy-on-write or whole-file pool it costs a file. Both are told apart, for they differ by
thousands.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from larder.base.results import Result
from larder.laws.deaths import deaths_percent
from larder.laws.layout import Family, Layout, parse_layout
from larder.laws.loss_odds import (
    HOURS_A_YEAR,
    Group,
    LossOdds,
    groups_of,
    loss_odds,
    mean_hours_to_loss,
    of_many,
    rate_of_afr,
)
from larder.laws.rebuild import fatal_read_odds, last_read_bytes, unreadable_odds
from larder.laws.spares import waits_hours
from larder.plan.catalogue import CatalogueDrive
from larder.plan.house_rules import HouseRules
from larder.plan.pools import Pool

from .pool import PoolResult
from .stage import Judged, Part
from .tiers import TIERS

SMALLEST_ODDS = 1e-9
"""Below this other causes dominate, and the model's independence is not believed."""


class OddsOf(Result):
    """The chance of a loss in a year, 0 to 1: of all data by dead disks, and by reads of a file or of all.

    ``chance`` says the total in a few words, ``said`` in a sentence's.
    """

    disks: float
    reads: float
    total: float
    chance: str
    said: str


class PoolOdds(Result):
    """One pool at its final width; times are hours.

    ``batch_times`` as often does a drive die beside a dead one, ``next_death`` is the chance that one does
    before the first is replaced and rebuilt. ``reads_lose`` is what an unreadable sector costs,
    ``pool_lost`` the chance that the pool is lost with all that is in it. ``by_sheets`` takes data sheets'
    rates of unreadable sectors, which is an upper bound.
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
    batch_times: float
    next_death: float
    next_death_said: str
    mean_years_to_loss: float
    reads_lose: Literal["a file", "the pool"]
    pool_lost: float
    odds: OddsOf
    by_sheets: OddsOf
    sentence: str


@dataclass(frozen=True)
class Facts:
    """What the odds of a pool come from."""

    groups: int
    group: Group
    sheet_read: float
    waits_hours: float
    rebuild_hours: float
    afr: float


def odds_of_pool(pool: Pool, result: PoolResult, rules: HouseRules, drive: CatalogueDrive | None) -> PoolOdds:
    """The odds of one pool, and what they come from; ``drive`` is the class of its drives."""
    layout = parse_layout(pool.layout)
    facts = facts_of(layout, pool, result, rules, drive)
    odds = group_odds(facts)
    by_sheets = group_odds(replace(facts, group=replace(facts.group, fatal_read=facts.sheet_read)))
    hangs_hours = facts.waits_hours + facts.rebuild_hours
    meanwhile = -math.expm1(-facts.group.deaths(1) * hangs_hours)
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
        batch_times=facts.group.while_repairing,
        next_death=meanwhile,
        next_death_said=chance_text(meanwhile),
        mean_years_to_loss=mean_hours_to_loss(facts.group) / facts.groups / HOURS_A_YEAR,
        reads_lose="a file" if loses_file else "the pool",
        pool_lost=odds.disks if loses_file else odds.total,
        odds=told(odds),
        by_sheets=told(by_sheets),
        sentence=_sentence(pool, odds, facts, loses_file=loses_file),
    )


def facts_of(
    layout: Layout, pool: Pool, result: PoolResult, rules: HouseRules, drive: CatalogueDrive | None
) -> Facts:
    """Groups of a layout at its final width, and how they fare; ``drive`` is the class of its drives."""
    groups, of_group, tolerates = (int(each) for each in groups_of(layout, result.final_members))
    own = drive.failures_per_year_percent if drive else None
    percent = deaths_percent(pool.drive_kind, rules.usual_deaths, own, pool.hours_run)
    waits = waits_hours(result.spares + result.shared_spares, pool.cold_spares, rules.delivery_days_max)
    rebuild = (result.rebuild_seconds or 0.0) / 3600
    terms = result.rebuild_terms
    latent = sheet = 0.0
    if terms is not None and tolerates:
        read = last_read_bytes(layout, terms.member_bytes, of_group, tolerates, terms.allocated_share)
        sheet = float(unreadable_odds(int(read), terms.unreadable_per_bit))
        latent = fatal_read_odds(read, terms.unreadable_per_bit, terms.latent_per_tb_year, terms.scrub_years)
    group = Group(
        members=of_group,
        tolerates=tolerates,
        failures_per_hour=rate_of_afr(percent / 100),
        repairs_per_hour=1 / max(waits + rebuild, 1e-3),
        fatal_read=latent,
        while_repairing=rules.same_batch_times if pool.batches == 1 else 1.0,
    )
    return Facts(groups, group, sheet, waits, rebuild, percent / 100)


def group_odds(facts: Facts) -> LossOdds:
    """The odds of a year of all its groups together."""
    return of_many(loss_odds(facts.group, HOURS_A_YEAR), facts.groups)


def told(odds: LossOdds) -> OddsOf:
    """The same with words."""
    return OddsOf(
        disks=odds.disks,
        reads=odds.reads,
        total=odds.total,
        chance=chance_text(odds.total),
        said=odds_text(odds.total),
    )


def odds_text(odds: float) -> str:
    """The odds of a year to one figure, in words."""
    if odds < SMALLEST_ODDS:
        return "below 1 in a billion a year by this model; other causes dominate"
    if odds >= 0.1:
        return f"about {round(odds * 10)} in 10 a year" if odds < 0.95 else "nearly certain within a year"
    one_in = 1 / odds
    figure = 10 ** (len(str(int(one_in))) - 1)
    return f"about 1 in {round(one_in / figure) * figure:,} a year"


def chance_text(odds: float) -> str:
    """The odds of once to one figure, in words."""
    if odds < SMALLEST_ODDS:
        return "below 1 in a billion"
    return "nearly certain" if odds >= 0.95 else odds_text(odds).removesuffix(" a year")


def _sentence(pool: Pool, odds: LossOdds, facts: Facts, *, loses_file: bool) -> str:
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


def _judge(judged: Judged) -> tuple[PoolOdds, ...]:
    bundle = judged.bundle
    pools = zip(bundle.plan.pools, judged.of(TIERS).pools, strict=True)
    return tuple(
        odds_of_pool(pool, result, bundle.house_rules, bundle.catalogue.drive(pool.drive_id))
        for pool, result in pools
    )


ODDS: Part[tuple[PoolOdds, ...]] = Part(
    "odds",
    _judge,
    reads=(
        "plan/pools",
        "catalogue/drives",
        "house_rules/drive_hours_max",
        "house_rules/disk_deaths_percent",
        "house_rules/old_disk_deaths_percent",
        "house_rules/flash_deaths_percent",
        "house_rules/same_batch_times",
        "house_rules/delivery_days_max",
        # What the scale holds odds and failures against.
        "house_rules/odds_enough_one_in",
        "house_rules/failures_survived_min",
    ),
    after=(TIERS,),
)
