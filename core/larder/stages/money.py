"""What is spent: the prices of the day, line by line."""

from __future__ import annotations

from decimal import Decimal

from larder.base.results import Result
from larder.plan.bundle import Plan

from .stage import Part
from .tiers import TIERS, TiersResult


class MoneyLine(Result):
    """One line of the sum; ``amount`` is null where no price was typed."""

    name: str
    count: int
    unit_price: Decimal | None
    amount: Decimal | None


class MoneyResult(Result):
    """What is spent; ``per_plannable_tb`` is null where nothing is plannable."""

    lines: tuple[MoneyLine, ...]
    currency: str
    spent: Decimal
    unpriced: int
    per_plannable_tb: Decimal | None


def money_of(plan: Plan, currency: str, tiers: TiersResult) -> MoneyResult:
    """The sum of the typed prices: drives of each pool, then everything else."""
    priced = [
        (f"{pool.name}: drives", len(pool.drives_bytes) + pool.cold_spares, result.drive_price)
        for pool, result in zip(plan.pools, tiers.pools, strict=True)
    ]
    caches = {pool.id: pool.cache for pool in tiers.pools if pool.cache is not None}
    priced += [(c.name, c.drive_count, caches[c.pool_id].drive_price) for c in plan.caches]
    priced += [
        (box.name, 1, result.price)
        for box, result in zip(plan.boxes, tiers.enclosures, strict=True)
        if box.model_id or result.price is not None
    ]
    priced += [(p.name, p.count, p.unit_price) for p in plan.purchases]
    lines = tuple(
        MoneyLine(name=name, count=count, unit_price=each, amount=None if each is None else each * count)
        for name, count, each in priced
    )
    spent = sum((line.amount for line in lines if line.amount is not None), Decimal("0.00"))
    per_tb = spent * 10**12 / tiers.plannable_bytes if tiers.plannable_bytes else None
    return MoneyResult(
        lines=lines,
        currency=currency,
        spent=spent,
        unpriced=sum(line.amount is None and line.count > 0 for line in lines),
        per_plannable_tb=None if per_tb is None else per_tb.quantize(Decimal("0.01")),
    )


MONEY: Part[MoneyResult] = Part(
    "money",
    lambda judged: money_of(judged.bundle.plan, judged.bundle.currency, judged.of(TIERS)),
    reads=("plan/pools", "plan/caches", "plan/purchases", "currency"),
    after=(TIERS,),
)
