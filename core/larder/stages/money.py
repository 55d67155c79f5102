"""What is spent: the pick list's sum, by the day's prices, over what the plan comes to."""

from __future__ import annotations

from decimal import Decimal

from larder.base.results import Result
from larder.base.units import TB

from .copies import COPIES, CopiesResult
from .pick_list import PickLine, pick_list
from .prices import PRICES
from .stage import Judged, Part
from .tiers import TIERS, TiersResult

CENT = Decimal("0.01")


class MoneyResult(Result):
    """What is spent, and over each TB; those are null where there is no such TB.

    ``unpriced`` lines have no price yet; ``lacking`` parts have neither a price nor a purchase.
    Protected is what is usable on pools that survive a dead drive, of material that meets the rule for
    copies.
    """

    lines: tuple[PickLine, ...]
    currency: str
    spent: Decimal
    unpriced: int
    lacking: int
    per_raw_tb: Decimal | None
    per_usable_tb: Decimal | None
    per_protected_tb: Decimal | None
    per_plannable_tb: Decimal | None


def per_tb(spent: Decimal, size_bytes: float) -> Decimal | None:
    """Money for each TB, to the cent; None for no bytes."""
    return (spent * TB / Decimal(round(size_bytes))).quantize(CENT) if round(size_bytes) else None


def protected_bytes(tiers: TiersResult, copies: CopiesResult) -> float:
    """Usable bytes on pools that survive a dead drive, by the part of all material that meets the rule."""
    # Settings alone being copied protect no footage: under a hundredth it is none.
    usable = sum(pool.usable_bytes for pool in tiers.pools if pool.guaranteed_failures)
    kept = sum(m.bytes for m in copies.materials if m.worth != "replaceable")
    safe = sum(m.bytes for m in copies.materials if m.worth != "replaceable" and not m.lacking)
    return usable * safe / kept if safe > kept / 100 else 0.0


def _judge(judged: Judged) -> MoneyResult:
    tiers = judged.of(TIERS)
    lines = pick_list(judged.bundle.plan, tiers, judged.of(PRICES))
    spent = sum((line.amount for line in lines if line.amount is not None), Decimal("0.00"))
    return MoneyResult(
        lines=lines,
        currency=judged.bundle.currency,
        spent=spent,
        unpriced=sum(line.amount is None and line.count > 0 and not line.is_lacking for line in lines),
        lacking=sum(line.count for line in lines if line.is_lacking and line.amount is None),
        per_raw_tb=per_tb(spent, tiers.raw_bytes),
        per_usable_tb=per_tb(spent, tiers.usable_bytes),
        per_protected_tb=per_tb(spent, protected_bytes(tiers, judged.of(COPIES))),
        per_plannable_tb=per_tb(spent, tiers.plannable_bytes),
    )


MONEY: Part[MoneyResult] = Part(
    "money",
    _judge,
    reads=(
        "plan/pools", "plan/caches", "plan/boxes", "plan/wiring", "plan/mains/batteries", "plan/purchases",
        "plan/brief/seats", "currency",
    ),
    after=(TIERS, PRICES, COPIES),
)  # fmt: skip
