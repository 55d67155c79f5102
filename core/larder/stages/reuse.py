"""Drives from stock that are left idle while others like them are bought.

A house that wants its stock used first need not squeeze in the last odd drive: it is content where at least
half of the largest lot of a kind serves again. One or two drives of a size make no pool, and are no lot.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from typing import Any, NamedTuple

import numpy as np

from larder.base.units import size_text
from larder.plan.bundle import Bundle, StockLot

IDLE_SHARE_MOST = 0.5
FEWEST_IN_A_LOT = 3


class Idle(NamedTuple):
    """Drives of a kind that are bought, and bytes of the largest lot of that kind that lie idle."""

    bought: int
    idle_bytes: int
    lot_bytes: int
    words: str


def largest_lots(lots: Iterable[StockLot]) -> Counter[str]:
    """Bytes of the largest lot of each kind of drive; 0 where there is none."""
    found: Counter[str] = Counter()
    for lot in lots:
        if lot.count >= FEWEST_IN_A_LOT:
            found[lot.kind] = max(found[lot.kind], lot.count * lot.size_bytes)
    return found


def lies_idle(bought: Any, used_bytes: Any, lot_bytes: Any) -> Any:
    """1 where drives are bought while most of as much as the largest lot is idle, else 0.

    Numbers or arrays; bytes.
    """
    return np.where((bought > 0) & (lot_bytes - used_bytes > lot_bytes * IDLE_SHARE_MOST), 1.0, 0.0)


def left_idle(bundle: Bundle) -> Iterator[Idle]:
    """Each kind of drive that a plan buys while most of its stock lies idle, where it is to be used first."""
    plan = bundle.plan
    if plan.brief.limits.reuse != "first":
        return
    for kind, lot_bytes in largest_lots(bundle.facts.stock.reusable).items():
        pools = [pool for pool in plan.pools if pool.drive_kind == kind]
        bought = sum(pool.bought_drives for pool in pools)
        used = sum(pool.reused_drives * sum(pool.drives_bytes) / len(pool.drives_bytes) for pool in pools)
        if lies_idle(bought, used, lot_bytes):
            what, idle = "disks" if kind == "hdd" else "flash drives", int(lot_bytes - used)
            words = f"buys {bought} {what} while {size_text(idle)} from stock lie idle"
            yield Idle(bought, idle, lot_bytes, words)
