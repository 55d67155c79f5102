"""What a design must keep to, and how far one is from it: by its columns, and by its evaluation.

The columns only sort out; whether a design serves is said by its evaluation, as for any other plan.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, get_args

from larder.base.measures import Unit
from larder.base.results import Result
from larder.judge.evaluation import Evaluation
from larder.judge.scales import tier_spaces
from larder.laws.power import AIR_WATTS_PER_DEGREE_AND_M3_PER_H
from larder.plan.bundle import Bundle
from larder.plan.house_rules import TIGHT_RATIO, HouseRules
from larder.plan.limits import Room
from larder.stages.growth import ready_in_days
from larder.stages.reuse import left_idle
from larder.stages.upkeep import SKILLS

NeedId = Literal[
    "budget", "prices", "space", "speed", "failures", "odds", "exposure", "wear", "copies", "noise",
    "circuit", "air", "supply", "upkeep", "skill", "ready", "stock", "faults",
]  # fmt: skip
NEED_IDS: tuple[NeedId, ...] = get_args(NeedId)
WORDS: dict[NeedId, str] = {
    "budget": "the budget",
    "prices": "a price for everything",
    "space": "space until the horizon",
    "speed": "speed",
    "failures": "dead drives to survive",
    "odds": "the odds of losing a pool",
    "exposure": "the rule for single parity",
    "wear": "flash that lasts",
    "copies": "the rule for copies",
    "noise": "the noise limit",
    "circuit": "the circuit",
    "air": "the closet's air",
    "supply": "the supply at spin-up",
    "upkeep": "the hours of upkeep",
    "skill": "the skill in the house",
    "ready": "the day it must be set up",
    "stock": "drives from stock first",
    "faults": "a build without faults",
}


STORAGE = ("pool", "cache", "box", "switch")
SAID_BY_NEEDS = frozenset(
    {
        "one-link-direction-or-hop-below-need",
        "no-copy-elsewhere",
        "seat-without-a-path",
        "supply-overloaded",
        "circuit-over-80-percent",
        "pool-past-its-fill-limit",
    }
)
"""Findings that say the same as a need; all others that block are a need of their own."""
WORN = "flash-wear-before-its-service-life"
EXPOSED = "single-parity-where-rebuild-exposure-exceeds-the-house-rule"


@dataclass(frozen=True)
class Mark:
    """How much of speed and space is asked for, and how unlikely a loss: *enough*, or just not *short*."""

    ratio: float
    one_in: float


def marks_of(rules: HouseRules) -> tuple[Mark, Mark]:
    """What is looked for first, and what serves as well where nothing does that."""
    return Mark(rules.enough_ratio, rules.odds_enough_one_in), Mark(TIGHT_RATIO, rules.odds_short_one_in)


class Miss(Result):
    """A need that a plan does not keep to: what it has, what is asked, and both in a sentence's end.

    ``far`` is how far, as a logarithm, so that misses of different kinds can be told apart.
    """

    need: NeedId
    words: str
    have: float
    asked: float
    unit: Unit
    far: float


def closet_watts(rules: HouseRules, room: Room) -> float:
    """What a closet may be warmed with; without end where the room is none."""
    if room.air != "closet":
        return math.inf
    carried = rules.closet_watts_per_degree + room.air_m3_per_h * AIR_WATTS_PER_DEGREE_AND_M3_PER_H
    return rules.closet_degrees_max * carried


def misses_of(bundle: Bundle, evaluation: Evaluation, mark: Mark) -> tuple[Miss, ...]:
    """Every need that a plan misses, as it is judged; the worst first."""
    return tuple(sorted(_misses(bundle, evaluation, mark), key=lambda miss: -miss.far))


def _misses(bundle: Bundle, evaluation: Evaluation, mark: Mark) -> Iterator[Miss]:
    yield from _money(bundle, evaluation)
    yield from _work(evaluation, mark)
    yield from _safety(bundle.house_rules, evaluation, mark)
    yield from _room(bundle, evaluation)
    yield from _people(bundle, evaluation)
    for fault in evaluation.findings:
        if fault.severity == "block" and fault.id not in SAID_BY_NEEDS:
            yield Miss(need="faults", words=fault.title, have=1, asked=0, unit="count", far=1.0)


def _over(need: NeedId, words: str, have: float, asked: float, unit: Unit) -> Iterator[Miss]:
    """More than there may be."""
    if have > asked:
        far = math.log(have / asked) if asked > 0 else math.inf
        yield Miss(need=need, words=words, have=have, asked=asked, unit=unit, far=min(far, 1e9))


def _under(need: NeedId, words: str, have: float, asked: float, unit: Unit) -> Iterator[Miss]:
    """Less than there must be."""
    if have < asked:
        far = math.log(asked / have) if have > 0 else math.inf
        yield Miss(need=need, words=words, have=have, asked=asked, unit=unit, far=min(far, 1e9))


def _short(ratio: float) -> str:
    """A ratio that is too small, never rounded to one that would do."""
    return f"{math.floor(round(ratio * 100, 6)) / 100:.2f}"  # 1.14 × 100 is 113.99… in binary


def _money(bundle: Bundle, evaluation: Evaluation) -> Iterator[Miss]:
    budget = float(bundle.plan.brief.budget)
    if budget:
        spent = float(evaluation.money.spent)
        yield from _over(
            "budget", f"{spent - budget:,.0f} {bundle.currency} over budget", spent, budget, "money"
        )
    # What is bought besides storage has its own gaps; a design is not to blame for them.
    unpriced = [
        line for line in evaluation.money.lines if line.amount is None and line.of in STORAGE and line.count
    ]
    if unpriced:
        said = f"no price for {unpriced[0].name}"
        yield from _over("prices", said, len(unpriced), 0, "count")


def _work(evaluation: Evaluation, mark: Mark) -> Iterator[Miss]:
    speed = evaluation.scales.speed
    if speed.ratio is not None:
        said = f"plays ×{_short(speed.ratio)} of what is asked; {speed.because}"
        yield from _under("speed", said, speed.ratio, mark.ratio, "ratio")
    if evaluation.wiring.unreached:
        lost = evaluation.wiring.unreached[0]
        yield from _under("speed", f"{lost.name} has no way to {lost.pool_name}", 0.0, mark.ratio, "ratio")
    spaces = tier_spaces(evaluation.brief, evaluation.tiers)
    ratios = [(tier.ratio, tier.words) for tier in spaces]
    if evaluation.brief.need_bytes and not evaluation.tiers.has_both_tiers:
        ratios.append((evaluation.tiers.plannable_bytes / evaluation.brief.need_bytes, "in all"))
    if ratios:
        least, where = min(ratios)
        said = f"holds ×{_short(least)} of what must fit {where}"
        yield from _under("space", said, least, mark.ratio, "ratio")


def _safety(rules: HouseRules, evaluation: Evaluation, mark: Mark) -> Iterator[Miss]:
    survives = min((pool.guaranteed_failures for pool in evaluation.tiers.pools), default=0)
    asked = rules.failures_survived_min
    said = f"survives {survives} dead drives, the rule asks for {asked}"
    yield from _under("failures", said, survives, asked, "count")
    lost = max((pool.pool_lost for pool in evaluation.odds), default=0.0)
    one_in = 1 / max(lost, 1e-12)
    said = f"a pool is lost once in {one_in:,.0f} years, the rule is {mark.one_in:,.0f}"
    yield from _under("odds", said, one_in, mark.one_in, "years")
    for finding in evaluation.findings:
        if finding.id == EXPOSED:
            hours = max((pool.rebuild_seconds or 0) / 3600 for pool in evaluation.tiers.pools)
            most = rules.single_parity_rebuild_hours_max
            yield Miss(need="exposure", words=finding.title, have=hours, asked=most, unit="h", far=0.5)
        if finding.id == WORN:
            years = next(each.value for each in finding.evidence)
            yield from _under("wear", finding.title, years, rules.flash_service_years_min, "years")
    lacking = [material for material in evaluation.copies.materials if material.lacking]
    if lacking or not evaluation.copies.has_said:
        weakest = evaluation.copies.weakest
        said = f"{weakest.name} has {weakest.lacking}" if weakest else "nobody has said where copies go"
        yield from _over("copies", said, max(len(lacking), 1), 0, "count")


def _room(bundle: Bundle, evaluation: Evaluation) -> Iterator[Miss]:
    rules, power = bundle.house_rules, evaluation.power
    room = bundle.plan.brief.limits.room
    if room.noise_dba_max is not None:
        over = power.noise_dba - room.noise_dba_max
        if over > 0:
            words = f"{power.noise_dba:.0f} dB(A), {over:.1f} over the limit"
            # Ten decibels are twice as loud: a logarithm of their own.
            far = over / 10 * math.log(2)
            yield Miss(
                need="noise",
                words=words,
                have=power.noise_dba,
                asked=room.noise_dba_max,
                unit="dB(A)",
                far=far,
            )
    if power.circuit_share is not None:
        share, most = power.circuit_share * 100, rules.circuit_percent_max
        yield from _over("circuit", f"takes {share:.0f} % of the circuit", share, most, "%")
    if power.closet_degrees is not None:
        said = f"warms the closet by {power.closet_degrees:.0f} degrees"
        yield from _over("air", said, power.closet_degrees, rules.closet_degrees_max, "°C")
    carried = max((box.carried_share for box in power.boxes), default=0.0) * 100
    said = f"a supply carries {carried:.0f} % at spin-up"
    yield from _over("supply", said, carried, rules.supply_percent_max, "%")


def _people(bundle: Bundle, evaluation: Evaluation) -> Iterator[Miss]:
    limits = bundle.plan.brief.limits
    hours, most = evaluation.upkeep.hours_per_month, limits.upkeep_hours_per_month
    yield from _over("upkeep", f"takes {hours:.1f} hours a month, there are {most:g}", hours, most, "h")
    asked, there = SKILLS.index(evaluation.upkeep.skill), SKILLS.index(limits.skill)
    if asked > there:
        said = f"asks for {'practice' if asked == 2 else 'some skill'}: {evaluation.upkeep.asks[0]}"
        yield Miss(need="skill", words=said, have=there, asked=asked, unit="count", far=0.3 * (asked - there))
    for idle in left_idle(bundle):
        yield Miss(
            need="stock", words=idle.words, have=idle.idle_bytes, asked=idle.lot_bytes / 2, unit="bytes",
            far=1.0,
        )  # fmt: skip
    if limits.ready_by is not None and bundle.plan.pools:
        left = (limits.ready_by - bundle.as_of).days
        lead = ready_in_days(bundle)
        said = f"ready in {lead} days, there are {max(left, 0)}"
        yield from _over("ready", said, lead, max(left, 0), "days")
