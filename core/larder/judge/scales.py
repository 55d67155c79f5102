"""The four verdicts of a plan: speed, space, safety and money, each enough, tight, short or open.

*Open* is unfinished work: with nothing asked, kept, priced or granted there is nothing to judge, and that is
never *enough*.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from larder.base.results import Result
from larder.plan.bundle import Plan
from larder.plan.house_rules import TIGHT_RATIO, HouseRules
from larder.stages.brief import BriefResult
from larder.stages.copies import CopiesResult
from larder.stages.costs import CostsResult
from larder.stages.growth import GrowthResult, TierGrowth, month_of
from larder.stages.money import MoneyResult
from larder.stages.odds import SMALLEST_ODDS, PoolOdds, odds_text
from larder.stages.pool import PoolResult
from larder.stages.small_files import FILES_LIMIT_WORDS, SmallFilesResult
from larder.stages.tiers import TiersResult
from larder.stages.wiring import WiringResult

Verdict = Literal["enough", "tight", "short", "open"]
NO_STORAGE, NOBODY_ASKS = "no storage yet", "no seat asks for anything yet"
Measure = Literal[
    "bytes_per_s",
    "files_per_s",
    "bytes",
    "drives",
    "copies",
    "copies_elsewhere",
    "media_kinds",
    "years",
    "money",
]


class Scale(Result):
    """``have`` against ``need`` in ``measure``; ``ratio`` is null where nothing is needed or had.

    ``because`` says in a few words what decides; ``beside`` what else there is to say, empty for nothing:
    speed while a disk is dead, a pool rebuilds or is scrubbed, where the verdict is another one then; when it
    is full; what five years cost.
    """

    verdict: Verdict
    measure: Measure
    have: float
    need: float
    ratio: float | None
    because: str
    beside: str = ""


class Scales(Result):
    """The strip that never leaves the screen."""

    speed: Scale
    space: Scale
    safety: Scale
    money: Scale


def verdict_of(ratio: float | None, rules: HouseRules) -> Verdict:
    """*enough* from the house ratio on, *tight* from 1.00, else *short*; *open* where nothing is needed."""
    if ratio is None:
        return "open"
    if ratio >= rules.enough_ratio:
        return "enough"
    return "tight" if ratio >= TIGHT_RATIO else "short"


def scales_of(
    plan: Plan,
    rules: HouseRules,
    brief: BriefResult,
    tiers: TiersResult,
    wiring: WiringResult,
    small_files: tuple[SmallFilesResult, ...],
    money: MoneyResult,
    kept: KeepingFacts,
) -> Scales:
    """The four scales of a plan."""
    return Scales(
        speed=_speed(wiring, small_files, rules) if tiers.pools else _speed_without_storage(brief),
        space=_filling(_space(brief, tiers, rules), plan, kept.growth, rules),
        safety=_safety(brief, tiers.pools, kept, rules),
        money=_money(plan, money, rules, kept.costs),
    )


def _speed_without_storage(brief: BriefResult) -> Scale:
    """What is asked is known before there is anything to ask it of."""
    asked = brief.both.sized_bytes_per_s
    because = NO_STORAGE if asked else NOBODY_ASKS
    return Scale(verdict="open", measure="bytes_per_s", have=0.0, need=asked, ratio=None, because=because)


def _speed(wiring: WiringResult, small_files: tuple[SmallFilesResult, ...], rules: HouseRules) -> Scale:
    """The smallest ratio of all hops, or of the files a second that somebody gets, where those are fewer.

    Who is plugged in and has no way to the storage gets nothing; who is plugged in
    nowhere yet is unfinished work.
    """
    scale = _speed_of_hops(wiring, small_files, rules)
    scale = scale.model_copy(update={"beside": _in_trouble(scale, wiring, rules)})
    lost = next((each for each in wiring.unreached if each.is_plugged), None)
    if lost is not None:
        because = f"{lost.name} has no way to {lost.pool_name}"
        return scale.model_copy(update={"verdict": "short", "because": because})
    if wiring.unreached and scale.verdict != "short":
        because = f"{wiring.unreached[0].name} is plugged in nowhere yet"
        return scale.model_copy(update={"verdict": "open", "because": because})
    return scale


def _in_trouble(scale: Scale, wiring: WiringResult, rules: HouseRules) -> str:
    """The worst that a single pool in trouble makes of speed, where the verdict is another one then."""
    if scale.ratio is None or not wiring.in_trouble:
        return ""
    worst = min(wiring.in_trouble, key=lambda each: each.ratio)
    verdict = verdict_of(min(worst.ratio, scale.ratio), rules)
    if verdict == scale.verdict:
        return ""
    return f"{verdict} in {worst.trouble} of {worst.pool_name}: ×{worst.ratio:.2f}"


def _speed_of_hops(
    wiring: WiringResult, small_files: tuple[SmallFilesResult, ...], rules: HouseRules
) -> Scale:
    files = min(small_files, key=lambda s: s.ratio, default=None)
    if files is not None and (wiring.ratio is None or files.ratio < wiring.ratio):
        joint = files.limit == "operations"
        return Scale(
            verdict=verdict_of(files.ratio, rules),
            measure="files_per_s",
            have=files.joint_given_files_per_s if joint else files.given_files_per_s,
            need=files.joint_asked_files_per_s if joint else files.asked_files_per_s,
            ratio=files.ratio,
            because=f"{files.seat_name} on {files.pool_name}: {FILES_LIMIT_WORDS[files.limit]}",
        )
    limit = next((h for h in wiring.hops if h.id == wiring.limiting_hop_id), None)
    return Scale(
        verdict=verdict_of(wiring.ratio, rules),
        measure="bytes_per_s",
        have=wiring.delivered_bytes_per_s,
        need=wiring.required_bytes_per_s,
        ratio=wiring.ratio,
        because=f"{limit.name} limits: {limit.because}" if limit else NOBODY_ASKS,
    )


def _space(brief: BriefResult, tiers: TiersResult, rules: HouseRules) -> Scale:
    """All of it, and where there are both tiers each by itself; the least decides."""
    if not tiers.pools:
        need = float(brief.need_bytes)
        return Scale(verdict="open", measure="bytes", have=0.0, need=need, ratio=None, because=NO_STORAGE)
    ratio = tiers.plannable_bytes / brief.need_bytes if brief.need_bytes else None
    tier = min(tier_spaces(brief, tiers), key=lambda each: each.ratio, default=None)
    if tier is not None and (ratio is None or tier.ratio < ratio):
        return Scale(
            verdict=verdict_of(tier.ratio, rules),
            measure="bytes",
            have=float(tier.have_bytes),
            need=float(tier.need_bytes),
            ratio=tier.ratio,
            because=f"plannable {tier.words}, against what is {tier.holds}",
        )
    verdict = verdict_of(ratio, rules)
    because = f"plannable, against the need {_in_weeks(round(brief.weeks))}"
    if ratio is None:
        because = "nothing is to be kept yet"
    elif not brief.weeks and verdict != "short":
        verdict, because = "open", "the day that it must last until is past"
    return Scale(
        verdict=verdict,
        measure="bytes",
        have=float(tiers.plannable_bytes),
        need=float(brief.need_bytes),
        ratio=ratio,
        because=because,
    )


def _filling(scale: Scale, plan: Plan, growth: GrowthResult, rules: HouseRules) -> Scale:
    """When it is full; and where readings outgrow the brief, whether what they say fits is what counts."""
    if not growth.tiers:
        return scale
    first = next(tier for tier in growth.tiers if tier.id == growth.first)
    if first.full_on is not None:
        scale = scale.model_copy(update={"beside": f"{_within(first)} full in {month_of(first.full_on)}"})
    horizon = plan.brief.horizon_date
    for tier in growth.tiers:
        if not tier.read or tier.need_at_horizon_bytes is None or not tier.plannable_bytes:
            continue
        ratio = tier.plannable_bytes / tier.need_at_horizon_bytes if tier.need_at_horizon_bytes else None
        if ratio is not None and scale.ratio is not None and ratio < scale.ratio:
            scale = scale.model_copy(
                update={
                    "verdict": min(scale.verdict, verdict_of(ratio, rules), key=GRAVE.index),
                    "have": float(tier.plannable_bytes),
                    "need": float(tier.need_at_horizon_bytes),
                    "ratio": ratio,
                    "because": f"plannable, against what readings say of {month_of(horizon)}",
                }
            )
    return scale


def _within(tier: TierGrowth) -> str:
    """A tier's own word in the midst of a line; a pool's name stays as it is."""
    return tier.name if tier.covers == "pool" else tier.name.lower()


def _in_weeks(weeks: int) -> str:
    if weeks < 1:
        return "today"
    return f"in {weeks} {'week' if weeks == 1 else 'weeks'}"


class TierSpace(NamedTuple):
    """A tier by itself: what is plannable in it, and what it has to hold, bytes; both in words."""

    tier: str
    have_bytes: int
    need_bytes: int
    words: str
    holds: str

    @property
    def ratio(self) -> float:
        return self.have_bytes / self.need_bytes


_WITH_COPIES = ", with the copies there"


def tier_spaces(brief: BriefResult, tiers: TiersResult) -> tuple[TierSpace, ...]:
    """The tiers with something to hold, where there are both: room in one is no room in the other."""
    if not tiers.has_both_tiers:
        return ()
    hot, cold = brief.copied_work_bytes, brief.copied_archive_bytes
    each = (
        ("work", brief.working_set_bytes + hot, "for work", f"hot at once{_WITH_COPIES * bool(hot)}"),
        (
            "archive",
            brief.cold_bytes + cold,
            "in the archive",
            f"kept and not hot{_WITH_COPIES * bool(cold)}",
        ),
    )
    return tuple(
        TierSpace(tier, tiers.tier_bytes(tier), need_bytes, words, holds)
        for tier, need_bytes, words, holds in each
        if need_bytes
    )


class KeepingFacts(NamedTuple):
    """What Safety rests on besides failures survived, and what is known of the years to come."""

    odds: tuple[PoolOdds, ...]
    copies: CopiesResult
    growth: GrowthResult
    costs: CostsResult


def _safety(
    brief: BriefResult, pools: tuple[PoolResult, ...], kept: KeepingFacts, rules: HouseRules
) -> Scale:
    """The worst of copies, failures survived and odds, and which; *enough* needs all three.

    Of equals copies are named first: they help where the others end.
    """
    if not pools:
        need = float(rules.failures_survived_min)
        return Scale(verdict="open", measure="drives", have=0.0, need=need, ratio=None, because=NO_STORAGE)
    if not brief.need_bytes:
        scale = _failures(pools, rules)
        nothing = {"verdict": "open", "because": "nothing is to be kept yet"}
        return scale if scale.verdict == "short" else scale.model_copy(update=nothing)
    three = (_copies(kept.copies, rules), _failures(pools, rules), _odds(kept.odds, rules))
    worst = min(three, key=lambda scale: GRAVE.index(scale.verdict))
    decides = three.index(worst)
    others = (
        f"{name} {scale.verdict}" for name, scale in zip(_THREE, three, strict=True) if scale is not worst
    )
    return worst.model_copy(update={"beside": f"{_THREE[decides]} decide; {', '.join(others)}"})


_THREE = ("copies", "failures", "odds")
GRAVE: tuple[Verdict, ...] = ("short", "open", "tight", "enough")
"""The gravest first: what is short stays so whatever is still to be said."""


def _copies(copies: CopiesResult, rules: HouseRules) -> Scale:
    """Whether the rule for copies is met by all that is not replaceable; what is lacked most says it."""
    weakest = copies.weakest
    if not copies.has_said:
        because, need = "nobody has said where copies go", float(rules.copies_min)
        return Scale(verdict="open", measure="copies", have=0.0, need=need, ratio=0.0, because=because)
    if weakest is None or weakest.worst is None:
        kept = (m.copies for m in copies.materials if m.worth != "replaceable")
        have, need = float(min(kept, default=rules.copies_min)), float(rules.copies_min)
        return Scale(
            verdict="enough", measure="copies", have=have, need=need, ratio=have / need,
            because="of whatever has the fewest",
        )  # fmt: skip
    worst = weakest.worst
    measures: dict[str, Measure] = {"copies elsewhere": "copies_elsewhere", "kinds of media": "media_kinds"}
    return Scale(
        verdict="short",
        measure=measures.get(worst.of, "copies"),
        have=float(worst.have),
        need=float(worst.want),
        ratio=worst.have / worst.want,
        because=f"{weakest.name}{_and_more(copies)} below the rule for copies",
    )


def _and_more(copies: CopiesResult) -> str:
    more = sum(bool(material.lacking) for material in copies.materials) - 1
    return f" and {more} more" if more else ""


def _failures(pools: tuple[PoolResult, ...], rules: HouseRules) -> Scale:
    """Failures survived; meeting the rule is enough."""
    weakest = min(pools, key=lambda p: p.guaranteed_failures)
    survived, need = weakest.guaranteed_failures, rules.failures_survived_min
    return Scale(
        verdict="enough" if survived >= need else "short",
        measure="drives",
        have=float(survived),
        need=float(need),
        ratio=survived / need if need else None,
        because=f"{deaths_left(weakest)}; redundancy is no backup",
    )


def _odds(pools: tuple[PoolOdds, ...], rules: HouseRules) -> Scale:
    """How likely a pool is lost in a year; have and need are the years of which one brings a loss."""
    worst = max(pools, key=lambda pool: pool.pool_lost)
    one_in = 1 / max(worst.pool_lost, SMALLEST_ODDS)
    verdict: Verdict = "enough" if one_in >= rules.odds_enough_one_in else "tight"
    if one_in < rules.odds_short_one_in:
        verdict = "short"
    return Scale(
        verdict=verdict,
        measure="years",
        have=one_in,
        need=rules.odds_enough_one_in,
        ratio=one_in / rules.odds_enough_one_in,
        because=f"{worst.name} is lost {odds_text(worst.pool_lost)}",
    )


def deaths_left(pool: PoolResult) -> str:
    """What a pool's next deaths cost, in words: how many it takes to lose something."""
    which = ("the first", "a second", "a third", "a fourth")[min(pool.guaranteed_failures, 3)]
    ends = not pool.loses_only_files
    if pool.guaranteed_failures == 0:
        return f"{which} dead drive {'ends' if ends else 'costs files of'} {pool.name}"
    return f"{which} dead drive can {'end' if ends else 'cost files of'} {pool.name}"


def _money(plan: Plan, money: MoneyResult, rules: HouseRules, costs: CostsResult) -> Scale:
    """Spent of the budget; what has no price yet can only make it more."""
    budget = plan.brief.budget
    verdict: Verdict = "enough"
    because = "of the budget"
    if not budget:
        verdict, because = "open", "no budget yet"
    elif money.spent > budget:
        verdict = "short"
    elif money.unpriced or not money.spent or not plan.pools:
        verdict = "open"
    elif float(money.spent / budget * 100) >= rules.money_tight_percent:
        verdict = "tight"
    if money.unpriced:
        because += f"; {money.unpriced} without a price yet"
    elif money.lacking and budget and money.spent:
        because += f"; {money.lacking} {'part' if money.lacking == 1 else 'parts'} lacking"
    elif budget and not money.spent:
        because = "nothing is priced yet"
    elif budget and not plan.pools:
        because += f"; {NO_STORAGE}"
    return Scale(
        verdict=verdict,
        measure="money",
        have=float(budget),
        need=float(money.spent),
        ratio=float(budget / money.spent) if money.spent else None,
        because=because,
        beside=f"{costs.five_years:,.0f} {money.currency} over five years" if money.spent else "",
    )
