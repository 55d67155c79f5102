"""What a planned purchase makes of a pool: how much each way adds in each layout, and what forbids it."""

from __future__ import annotations

from typing import NamedTuple

from larder.base.units import drives_text
from larder.laws.capacity import pool_capacity
from larder.laws.drive_set import drive_set
from larder.laws.layout import Family, Layout, parse_layout
from larder.plan.growth import Step
from larder.plan.pools import Pool, keeping_of


def plannable_of(pool: Pool) -> int:
    """What is plannable of a pool, bytes."""
    keeping = keeping_of(pool)
    capacity = pool_capacity(
        parse_layout(pool.layout),
        drive_set(pool.drives_bytes),
        spares=pool.spares,
        filesystem=keeping.filesystem,
        headroom_percent=keeping.headroom_percent,
        snapshot_reserve_percent=keeping.snapshot_reserve_percent,
        filesystem_percent=keeping.filesystem_percent,
    )
    return int(capacity.plannable_bytes)


class Grown(NamedTuple):
    """A pool after a step, and what stands beside it then; ``why_not`` where the layout does not allow it."""

    pool: Pool
    adds_bytes: int
    why_not: str = ""


def grown_by(pool: Pool, step: Step) -> Grown:
    """What a step makes of a pool: the same layout, with more or larger drives, or one like it beside it."""
    if step.way in ("expansion unit", "second box"):
        return Grown(pool, *_added(_alike(pool, step.drive_count, step.drive_bytes), 0))
    if step.way == "larger drives":
        return _with_larger(pool, step)
    return _with_more(pool, step)


def _with_larger(pool: Pool, step: Step) -> Grown:
    if step.drive_bytes <= min(pool.members_bytes):
        return Grown(pool, 0, "these drives are no larger than those it has")
    grown = _alike(pool, len(pool.drives_bytes), step.drive_bytes, keeps_spares=True)
    added, why_not = _added(grown, plannable_of(pool))
    return Grown(pool if why_not else grown, added, why_not)


def _with_more(pool: Pool, step: Step) -> Grown:
    layout, count = parse_layout(pool.layout), step.drive_count
    why_not = _no_more(pool, step, layout)
    if why_not:
        return Grown(pool, 0, why_not)
    if layout.family is Family.COPY_ON_WRITE and count >= layout.fewest_members:
        return Grown(pool, *_added(_alike(pool, count, step.drive_bytes), 0))
    wider = pool
    if layout.family is Family.PARITY_GROUPS:
        groups = layout.groups + count // (len(pool.members_bytes) // layout.groups)
        wider = pool.model_copy(update={"layout": f"{layout.name.partition(':')[0]}:{groups}"})
    if len(set(pool.drives_bytes)) == 1 and step.drive_bytes == pool.drive_bytes:
        grown = wider.model_copy(update={"drive_count": len(pool.drives_bytes) + count, "mixed_sizes": ""})
    else:
        words = drives_text(sorted((*pool.drives_bytes, *(step.drive_bytes,) * count)))
        fields = {"mixed_sizes": words, "parity_bytes": None, "spare_bytes": None}
        grown = wider.model_copy(update=fields)
    added, why_not = _added(grown, plannable_of(pool))
    if layout.family is Family.COPY_ON_WRITE and not why_not:
        # What lies there keeps the ratio it was written with: only the new drives' part is at the new one.
        added = plannable_of(grown) * count // len(grown.members_bytes)
    return Grown(pool if why_not else grown, added, why_not)


def _no_more(pool: Pool, step: Step, layout: Layout) -> str:
    """Why a layout takes no further drives, or not these; empty where it does."""
    if layout.family is Family.MIRROR:
        return "a further drive in a mirror is a further copy, no more space"
    if layout.family is Family.STRIPE:
        return "a stripe does not grow in use: it is made anew, from a copy"
    if layout.family is Family.PARITY_GROUPS:
        a_group = len(pool.members_bytes) // layout.groups
        if step.drive_count % a_group:
            return f"this layout grows by a whole group of {a_group} drives"
    evens = (Family.STRIPED_MIRROR, Family.PARITY, Family.PARITY_GROUPS, Family.COPY_ON_WRITE)
    if layout.family in evens and step.drive_bytes < min(pool.members_bytes):
        return "a smaller drive than the others would make all of them as small"
    return ""


def _alike(pool: Pool, count: int, drive_bytes: int, *, keeps_spares: bool = False) -> Pool:
    fields = {
        "drive_count": count, "drive_bytes": drive_bytes, "mixed_sizes": "", "parity_bytes": None,
        "spare_bytes": None, "spares": pool.spares if keeps_spares else 0,
    }  # fmt: skip
    return pool.model_copy(update=fields)


def _added(pool: Pool, before: int) -> tuple[int, str]:
    layout = parse_layout(pool.layout)
    members = len(pool.members_bytes)
    if members < layout.fewest_members:
        return 0, f"this layout takes {layout.fewest_members} drives or more"
    if members % layout.unit:
        return 0, f"this layout grows by {layout.unit} drives at once"
    return max(plannable_of(pool) - before, 0), ""
