"""What copies take of the plan's own pools: a copy of the hot projects in the archive fills the archive.

Only the newest state counts; earlier versions of what changes are for the snapshot reserve and the headroom.
"""

from __future__ import annotations

from typing import NamedTuple

from larder.plan.bundle import Plan

from .materials import MATERIALS, KeptMaterial
from .stage import Judged, Part


class Copied(NamedTuple):
    """Bytes of copies that lie on pools for work, and on those of the archive."""

    work_bytes: float = 0.0
    archive_bytes: float = 0.0


def copied_of(plan: Plan, materials: tuple[KeptMaterial, ...]) -> Copied:
    """The copies' bytes by the tier of the pool; a copy onto where the material lives takes nothing more."""
    tiers = {pool.id: pool.tier for pool in plan.pools}
    kept = {material.id: material for material in materials}
    found = {"work": 0.0, "archive": 0.0}
    for copy in plan.safekeeping.copies:
        pool_id = plan.pool_of(copy.where)
        for each in (kept[m] for m in copy.materials if m in kept):
            lives_there = pool_id in {plan.pool_of(home) for home in each.homes}
            if pool_id and not lives_there:
                found[tiers[pool_id]] += each.bytes
    return Copied(found["work"], found["archive"])


def _judge(judged: Judged) -> Copied:
    return copied_of(judged.bundle.plan, judged.of(MATERIALS))


COPIED: Part[Copied] = Part(
    "copied",
    _judge,
    reads=("plan/safekeeping", "plan/pools", "plan/volumes"),
    after=(MATERIALS,),
    is_answered=False,
)
