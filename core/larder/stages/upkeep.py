"""The hours that a plan takes to keep, and how much it asks of whoever keeps it.

Stated assumptions, for want of measurements: what a month of looking after it takes where nothing is wrong.
"""

from __future__ import annotations

from typing import Literal

from larder.base.results import Result
from larder.laws.layout import Family, parse_layout
from larder.plan.bundle import Plan

from .stage import Part

HOURS_A_BOX, HOURS_A_POOL, HOURS_A_CACHE = 0.5, 0.25, 0.25
"""Updates, alerts and a look at each drive; scrubs and space; destage runs and wear."""
HOURS_A_SEAT, HOURS_A_SERVICE_COPY = 0.05, 0.25
HOURS_A_CARRIED_COPY, HOURS_A_PLUGGED_COPY = 0.5, 0.05
"""To fetch, plug in, copy, label and carry away; and to plug in what lies beside it, evening for evening."""
CARRIED_EVERY_HOURS = 96.0
HOURS_A_MONTH = 8766 / 12

Skill = Literal["none", "some", "practised"]
SKILLS: tuple[Skill, ...] = ("none", "some", "practised")


class UpkeepResult(Result):
    """Hours a month, and the skill that the plan asks for with what asks for it."""

    hours_per_month: float
    skill: Skill
    asks: tuple[str, ...]


def upkeep_of(plan: Plan) -> UpkeepResult:
    """What a plan takes to keep."""
    seats = sum(seat.count for seat in plan.brief.seats)
    hours = len(plan.boxes) * HOURS_A_BOX + len(plan.pools) * HOURS_A_POOL + len(plan.caches) * HOURS_A_CACHE
    hours += seats * HOURS_A_SEAT if plan.pools else 0.0
    stores = {store.id: store for store in plan.safekeeping.stores}
    for copy in plan.safekeeping.copies:
        store = stores.get(copy.where.id) if copy.where.kind == "store" else None
        if store is not None and store.access == "offline":
            is_carried = copy.every_hours >= CARRIED_EVERY_HOURS
            once = HOURS_A_CARRIED_COPY if is_carried else HOURS_A_PLUGGED_COPY
            hours += once * HOURS_A_MONTH / max(copy.every_hours, 24.0)
        else:
            hours += HOURS_A_SERVICE_COPY
    practised, some = _asks(plan)
    skill: Skill = "practised" if practised else "some" if some else "none"
    return UpkeepResult(hours_per_month=hours, skill=skill, asks=practised or some)


def _asks(plan: Plan) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """(what asks for practice, what asks for some skill), in words."""
    practised = [
        f"{box.name} has a {card.holds}"
        for box in plan.boxes
        for card in box.cards
        if card.holds in ("controller card", "flash carrier")
    ]
    families = {pool.name: parse_layout(pool.layout).family for pool in plan.pools}
    practised += [
        f"{name} is copy-on-write" for name, family in families.items() if family is Family.COPY_ON_WRITE
    ]
    practised += [f"{volume.name} is a block volume" for volume in plan.volumes if volume.kind == "block"]
    some = [f"{cache.name} before a pool" for cache in plan.caches]
    some += [f"{len(plan.pools)} pools"] * (len(plan.pools) > 1)
    some += [f"{len(plan.wiring.switches)} switches"] * (len(plan.wiring.switches) > 1)
    some += [f"{link.links} links joined" for link in plan.wiring.links if link.links > 1]
    return tuple(practised), tuple(some)


UPKEEP: Part[UpkeepResult] = Part(
    "upkeep",
    lambda judged: upkeep_of(judged.bundle.plan),
    reads=(
        "plan/boxes", "plan/pools", "plan/caches", "plan/volumes", "plan/wiring", "plan/safekeeping",
        "plan/brief/seats",
    ),
)  # fmt: skip
