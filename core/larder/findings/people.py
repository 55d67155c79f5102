"""Findings about people: hours of upkeep, skill, support, and the day by which it must be set up."""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.patch import Operation
from larder.plan.bundle import Purchase
from larder.plan.new_item import fresh_id
from larder.stages.growth import ready_in_days
from larder.stages.registry import GROWTH_STAGE
from larder.stages.reuse import left_idle
from larder.stages.upkeep import SKILLS, UPKEEP

from .finding import Evidence, Figures, Found, Remedy, finding

_LIMITS = "plan/brief/limits"
_SUPPORT_HOURS = {"next working day": 24.0, "four hours": 4.0}


@finding("more-upkeep-than-hours", GROWTH_STAGE, "warn")
def more_upkeep_than_hours(f: Figures) -> Iterator[Found]:
    """The plan takes more hours a month than somebody has for it."""
    upkeep, most = f.of(UPKEEP), f.bundle.plan.brief.limits.upkeep_hours_per_month
    if upkeep.hours_per_month <= most or not f.bundle.plan.pools:
        return
    yield Found(
        title=f"It takes about {upkeep.hours_per_month:.0f} hours a month to keep",
        evidence=(
            Evidence(label="Takes a month", value=round(upkeep.hours_per_month, 1), unit="h"),
            Evidence(label="There are", value=most, unit="h"),
        ),
        why="What nobody has time for is not done: copies are not read back, alerts are not looked at.",
        remedy=Remedy(
            words="Fewer boxes and carried copies, or more hours for it.",
            at=f"{_LIMITS}/upkeep_hours_per_month",
        ),
    )


@finding("asks-for-more-skill", GROWTH_STAGE, "note")
def asks_for_more_skill(f: Figures) -> Iterator[Found]:
    """The plan asks for more practice than there is in the house."""
    upkeep, there = f.of(UPKEEP), f.bundle.plan.brief.limits.skill
    if SKILLS.index(upkeep.skill) <= SKILLS.index(there):
        return
    yield Found(
        title=f"It asks for {'practice' if upkeep.skill == 'practised' else 'some skill'}: {upkeep.asks[0]}",
        evidence=(Evidence(label="Things that ask for it", value=len(upkeep.asks), unit="count"),),
        why="On the evening when something is wrong somebody has to know what the screen says.",
        remedy=Remedy(words="A simpler design, or somebody who knows it.", at=f"{_LIMITS}/skill"),
    )


@finding("support-wanted-is-not-planned", GROWTH_STAGE, "note")
def support_wanted_is_not_planned(f: Figures) -> Iterator[Found]:
    """Support within hours is wanted, and neither a spare box nor a contract is there."""
    plan, wanted = f.bundle.plan, f.bundle.plan.brief.limits.support
    if wanted not in _SUPPORT_HOURS or not plan.boxes:
        return
    has_contract = any(purchase.part == "support contract" and purchase.count for purchase in plan.purchases)
    bare = [box for box in plan.boxes if not box.has_spare_box]
    if has_contract or not bare:
        return
    bought = Purchase(
        id=fresh_id("support", (p.id for p in plan.purchases)),
        name="Support contract",
        part="support contract",
    )
    yield Found(
        title=f"Support within {wanted} is wanted, and nobody is asked for it",
        evidence=(
            Evidence(label="Wanted within", value=_SUPPORT_HOURS[wanted], unit="h"),
            Evidence(label="A box comes in", value=f.bundle.house_rules.box_delivery_days_max, unit="days"),
            Evidence(label="Boxes without a spare one", value=len(bare), unit="count"),
        ),
        why="A promise that nobody has made is not kept.",
        remedy=Remedy(
            words="Put a support contract among the purchases, and ask for its price",
            patch=(Operation(op="add", path="plan/purchases", value=bought.model_dump(mode="json")),),
        ),
    )


@finding("stock-left-idle", GROWTH_STAGE, "warn")
def stock_left_idle(f: Figures) -> Iterator[Found]:
    """The house wants its drives used first, and others are bought while most of them lie on the shelf."""
    for idle in left_idle(f.bundle):
        yield Found(
            title=f"The plan {idle.words}",
            evidence=(
                Evidence(label="Bought", value=idle.bought, unit="count"),
                Evidence(label="Idle", value=idle.idle_bytes, unit="bytes"),
                Evidence(label="In the largest lot", value=idle.lot_bytes, unit="bytes"),
            ),
            why="What is paid for and sound is cheaper than anything that can be bought.",
            remedy=Remedy(
                words="Say how many of a pool's drives come from stock, or take the wish back.",
                at=f"{_LIMITS}/reuse",
            ),
        )


@finding("cannot-be-ready-in-time", GROWTH_STAGE, "warn")
def cannot_be_ready_in_time(f: Figures) -> Iterator[Found]:
    """Deciding, delivery and building in take longer than there is until the day on which it must stand."""
    ready_by, plan = f.bundle.plan.brief.limits.ready_by, f.bundle.plan
    if ready_by is None or not plan.pools:
        return
    lead = ready_in_days(f.bundle)
    left = (ready_by - f.bundle.as_of).days
    if lead <= left:
        return
    yield Found(
        title=f"It must be set up in {max(left, 0)} days, and takes {lead}",
        evidence=(
            Evidence(label="Days left", value=left, unit="days"),
            Evidence(label="Deciding, delivery and building in", value=lead, unit="days"),
        ),
        why="What comes late is built in haste, on the evening before it is used.",
        remedy=Remedy(words="Order now what is surest, or move the day.", at=f"{_LIMITS}/ready_by"),
    )
