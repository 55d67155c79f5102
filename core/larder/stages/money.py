"""What is spent: the prices of the day, line by line."""

from __future__ import annotations

from decimal import Decimal

from larder.base.results import Result
from larder.plan.bundle import Plan

from .tiers import TiersResult


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
