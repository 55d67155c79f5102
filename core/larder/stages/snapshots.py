"""What snapshots hold: deleting frees nothing until the last snapshot that knows the file is gone.

Bytes overwritten and deleted a day × the days for which snapshots are kept. Where a volume does not say how
much, everything that comes in on a pool for work is deleted from it sooner or later, and in an archive
nothing is.
"""

from __future__ import annotations

from larder.base.results import Result
from larder.laws.snapshots import held_bytes
from larder.plan.bundle import Plan

from .need import NEED, NeedResult
from .stage import Part
from .tiers import TIERS, TiersResult

DAYS_A_WEEK = 7


class SnapshotsHeld(Result):
    """Of one pool: held by snapshots and not free, bytes, beside the reserve that is kept for them."""

    pool_id: str
    name: str
    deleted_bytes_per_day: int
    days: int
    held_bytes: int
    reserve_bytes: int


def snapshots_held(plan: Plan, tiers: TiersResult, need: NeedResult) -> tuple[SnapshotsHeld, ...]:
    """Every pool with snapshots that last; of several volumes their sum, and the longest of their days."""
    both = tiers.has_both_tiers
    found = []
    for pool in tiers.pools:
        own = [v for v in plan.volumes if v.pool_id == pool.id and v.snapshot_days]
        if not own:
            continue
        is_work = pool.tier == "work"
        share = pool.plannable_bytes / (tiers.tier_bytes("work") or 1) if is_work else 0.0
        by_brief = need.growth_bytes_per_week / DAYS_A_WEEK * share if is_work and both else 0.0
        each = [
            (v.rewritten_bytes_per_day if v.rewritten_bytes_per_day is not None else by_brief / len(own), v)
            for v in own
        ]
        reserve = next((-step.bytes for step in pool.waterfall if step.step == "snapshot_reserve"), 0)
        found.append(
            SnapshotsHeld(
                pool_id=pool.id,
                name=pool.name,
                deleted_bytes_per_day=round(sum(a_day for a_day, _ in each)),
                days=max(v.snapshot_days for v in own),
                held_bytes=round(sum(held_bytes(a_day, v.snapshot_days) for a_day, v in each)),
                reserve_bytes=reserve,
            )
        )
    return tuple(found)


SNAPSHOTS: Part[tuple[SnapshotsHeld, ...]] = Part(
    "snapshots",
    lambda judged: snapshots_held(judged.bundle.plan, judged.of(TIERS), judged.of(NEED)),
    reads=("plan/volumes",),
    after=(TIERS, NEED),
)
