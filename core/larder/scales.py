"""The four verdicts of a plan: speed, space, safety and money, each enough, tight or short."""

from __future__ import annotations

from decimal import Decimal
from typing import Literal

from .brief import BriefResult
from .bundle import Plan
from .house_rules import TIGHT_RATIO, HouseRules
from .pool_figures import PoolResult
from .results import Result
from .small_files import SmallFilesResult
from .tiers import TiersResult
from .wiring import WiringResult

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


class MoneyLine(Result):
    """One line of the sum; ``amount`` is null where no price was typed."""

    name: str
    count: int
    amount: Decimal | None


class MoneyResult(Result):
    """What is spent; ``per_plannable_tb`` is null where nothing is plannable."""

    lines: tuple[MoneyLine, ...]
    currency: str
    spent: Decimal
    unpriced: int
    per_plannable_tb: Decimal | None


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


def money_of(plan: Plan, currency: str, tiers: TiersResult) -> MoneyResult:
    """The sum of the typed prices: drives of each pool, then everything else."""
    lines = [
        MoneyLine(
            name=f"{pool.name}: drives",
            count=len(pool.drives_bytes) + pool.cold_spares,
            amount=result.drives_price,
        )
        for pool, result in zip(plan.pools, tiers.pools, strict=True)
    ]
    lines += [
        MoneyLine(name=cache.name, count=cache.drive_count, amount=pool.cache.drives_price)
        for cache in plan.caches
        for pool in tiers.pools
        if pool.cache is not None and pool.id == cache.pool_id
    ]
    lines += [
        MoneyLine(name=box.name, count=1, amount=result.price)
        for box, result in zip(plan.boxes, tiers.enclosures, strict=True)
        if box.model_id or result.price is not None
    ]
    lines += [
        MoneyLine(
            name=p.name,
            count=p.count,
            amount=None if p.unit_price is None else p.unit_price * p.count,
        )
        for p in plan.purchases
    ]
    spent = sum((line.amount for line in lines if line.amount is not None), Decimal("0.00"))
    per_tb = spent * 10**12 / tiers.plannable_bytes if tiers.plannable_bytes else None
    return MoneyResult(
        lines=tuple(lines),
        currency=currency,
        spent=spent,
        unpriced=sum(line.amount is None and line.count > 0 for line in lines),
        per_plannable_tb=None if per_tb is None else per_tb.quantize(Decimal("0.01")),
    )


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
