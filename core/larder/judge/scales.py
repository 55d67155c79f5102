"""The four verdicts of a plan: speed, space, safety and money, each enough, tight or short."""

from __future__ import annotations

from typing import Literal

from larder.base.results import Result
from larder.plan.bundle import Plan
from larder.plan.house_rules import TIGHT_RATIO, HouseRules
from larder.stages.brief import BriefResult
from larder.stages.money import MoneyResult
from larder.stages.pool import PoolResult
from larder.stages.small_files import SmallFilesResult
from larder.stages.tiers import TiersResult
from larder.stages.wiring import WiringResult

Verdict = Literal["enough", "tight", "short"]
Measure = Literal["bytes_per_s", "files_per_s", "bytes", "drives", "money"]


class Scale(Result):
    """``have`` against ``need`` in ``measure``; ``ratio`` is null where nothing is needed.

    ``because`` says in a few words what decides.
    """

    verdict: Verdict
    measure: Measure
    have: float
    need: float
    ratio: float | None
    because: str


class Scales(Result):
    """The strip that never leaves the screen."""

    speed: Scale
    space: Scale
    safety: Scale
    money: Scale


def verdict_of(ratio: float | None, rules: HouseRules) -> Verdict:
    """*enough* from the house ratio on, *tight* from 1.00, below that *short*; nothing needed is enough."""
    if ratio is None or ratio >= rules.enough_ratio:
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
) -> Scales:
    """The four scales of a plan."""
    return Scales(
        speed=_speed(wiring, small_files, rules),
        space=_space(brief, tiers, rules),
        safety=_safety(tiers.pools, rules),
        money=_money(plan, money, rules),
    )


def _speed(wiring: WiringResult, small_files: tuple[SmallFilesResult, ...], rules: HouseRules) -> Scale:
    """The smallest ratio of all hops, or of the files a second that somebody gets, where those are fewer."""
    files = min(small_files, key=lambda s: s.ratio, default=None)
    if files is not None and (wiring.ratio is None or files.ratio < wiring.ratio):
        joint = files.because == "the drives' operations"
        return Scale(
            verdict=verdict_of(files.ratio, rules),
            measure="files_per_s",
            have=files.joint_given_files_per_s if joint else files.given_files_per_s,
            need=files.joint_asked_files_per_s if joint else files.asked_files_per_s,
            ratio=files.ratio,
            because=f"{files.seat_name} on {files.pool_name}: {files.because}",
        )
    limit = next((h for h in wiring.hops if h.id == wiring.limiting_hop_id), None)
    return Scale(
        verdict=verdict_of(wiring.ratio, rules),
        measure="bytes_per_s",
        have=wiring.delivered_bytes_per_s,
        need=wiring.required_bytes_per_s,
        ratio=wiring.ratio,
        because=f"{limit.name} limits: {limit.because}" if limit else "no seat asks for anything yet",
    )


def _space(brief: BriefResult, tiers: TiersResult, rules: HouseRules) -> Scale:
    ratio = tiers.plannable_bytes / brief.need_bytes if brief.need_bytes else None
    if tiers.has_both_tiers and brief.working_set_bytes:
        work = tiers.tier_bytes("work")
        hot = work / brief.working_set_bytes
        if ratio is None or hot < ratio:
            return Scale(
                verdict=verdict_of(hot, rules),
                measure="bytes",
                have=float(work),
                need=float(brief.working_set_bytes),
                ratio=hot,
                because="plannable for work, against what is hot at once",
            )
    return Scale(
        verdict=verdict_of(ratio, rules),
        measure="bytes",
        have=float(tiers.plannable_bytes),
        need=float(brief.need_bytes),
        ratio=ratio,
        because=f"plannable, against the need in {brief.weeks:.0f} weeks",
    )


def _safety(pools: tuple[PoolResult, ...], rules: HouseRules) -> Scale:
    """Failures survived. Copies and odds join with their stages; redundancy is not a backup."""
    weakest = min(pools, key=lambda p: p.guaranteed_failures)
    survived, need = weakest.guaranteed_failures, rules.failures_survived_min
    ratio = survived / need if need else None
    return Scale(
        verdict=verdict_of(ratio, rules),
        measure="drives",
        have=float(survived),
        need=float(need),
        ratio=ratio,
        because=f"one more failure loses {weakest.loses}; redundancy is not a backup",
    )


def _money(plan: Plan, money: MoneyResult, rules: HouseRules) -> Scale:
    budget = plan.brief.budget
    ratio = float(budget / money.spent) if money.spent else None
    spent_percent = float(money.spent / budget * 100) if budget else (100.1 if money.spent else 0.0)
    if spent_percent > 100:
        verdict: Verdict = "short"
    else:
        verdict = "tight" if spent_percent >= rules.money_tight_percent else "enough"
    because = f"of the budget; {money.unpriced} without a price yet" if money.unpriced else "of the budget"
    return Scale(
        verdict=verdict,
        measure="money",
        have=float(budget),
        need=float(money.spent),
        ratio=ratio,
        because=because,
    )
