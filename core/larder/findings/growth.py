"""Findings about growing and paying: orders that are due, lists with gaps, prices that have aged."""

from __future__ import annotations

import math
from collections.abc import Iterator

from larder.base.patch import Operation, set_fields
from larder.base.units import TB
from larder.plan.bundle import MOST_BOUGHT, Purchase
from larder.plan.new_item import fresh_id
from larder.stages.costs import MONTHS, kept_of, month_end, store_month, stored_bytes
from larder.stages.courses import COURSES
from larder.stages.growth import GROWTH, TierGrowth, month_of
from larder.stages.materials import MATERIALS
from larder.stages.money import MONEY
from larder.stages.registry import GROWTH_STAGE
from larder.stages.snapshots import SNAPSHOTS

from .finding import Evidence, Figures, Found, Remedy, finding


@finding("order-is-due", GROWTH_STAGE, "warn")
def order_is_due(f: Figures) -> Iterator[Found]:
    """The early edge of the band is nearer than it takes to order and build in, and nothing is planned."""
    for tier in f.of(GROWTH).tiers:
        planned = [step for step in tier.steps if step.order_by is not None]
        if not tier.is_late or tier.order_by is None or planned:
            continue
        late = (f.bundle.as_of - tier.order_by).days
        yield Found(
            at=tier.id,
            severity="warn" if tier.full_on is not None else "note",
            title=f"{tier.name}: more should have been ordered {late} {'day' if late == 1 else 'days'} ago",
            evidence=(
                Evidence(label="Days too late", value=late, unit="days"),
                Evidence(label="From order to use", value=tier.lead_days, unit="days"),
                Evidence(label="Plannable", value=tier.plannable_bytes, unit="bytes"),
            ),
            why="Once in ten times it is full before what is ordered now can be in use.",
            remedy=Remedy(
                words="Choose in Growth what is bought when it is full.", at=f"plan/pools/{_pool_of(f, tier)}"
            ),
        )


def _pool_of(f: Figures, tier: TierGrowth) -> str:
    return next(p.id for p in f.bundle.plan.pools if tier.id in ("all", p.tier))


@finding("readings-outgrow-the-brief", GROWTH_STAGE, "warn")
def readings_outgrow_the_brief(f: Figures) -> Iterator[Found]:
    """What is read says clearly that more comes in than the brief expects."""
    for tier in f.of(GROWTH).tiers:
        if tier.follows != "both" or tier.level_low <= 1:
            continue
        yield Found(
            at=tier.id,
            title=f"{tier.name} grows ×{tier.level:.2f} of what the brief brings",
            evidence=(
                Evidence(label="Grows, of the brief", value=round(tier.level, 3), unit="ratio"),
                Evidence(label="Nine times in ten more than", value=round(tier.level_low, 3), unit="ratio"),
                Evidence(label="Readings", value=len(tier.read), unit="count"),
            ),
            why="Space at the horizon is judged by the brief, and this house shoots more than it says.",
            remedy=Remedy(
                words="Look at hours, kept parts and what comes in besides; then mend the brief.",
                at="plan/brief/shoots",
            ),
        )


@finding("reading-cannot-be", GROWTH_STAGE, "note")
def reading_cannot_be(f: Figures) -> Iterator[Found]:
    """More is read than the drives of a pool hold, which is a slip of the hand or another pool."""
    raw = {pool.id: sum(pool.drives_bytes) for pool in f.bundle.plan.pools}
    for reading in f.bundle.plan.growth.readings:
        if reading.used_bytes > raw[reading.pool_id]:
            yield Found(
                at=reading.id,
                title=f"{reading.read_on}: more was read than the drives hold",
                evidence=(
                    Evidence(label="Read", value=reading.used_bytes, unit="bytes"),
                    Evidence(label="Its drives hold, raw", value=raw[reading.pool_id], unit="bytes"),
                ),
                why="A forecast that followed it would be wrong; it is left out.",
                remedy=Remedy(
                    words="Remove the reading",
                    patch=(Operation(op="remove", path=f"plan/growth/readings/{reading.id}"),),
                ),
            )


@finding("price-past-its-date", GROWTH_STAGE, "note")
def price_past_its_date(f: Figures) -> Iterator[Found]:
    """Prices in the pick list that are older than the house trusts them."""
    most = f.bundle.house_rules.price_days_max
    dated = [line for line in f.of(MONEY).lines if line.priced_on is not None and line.amount]
    ages = {line.name: (f.bundle.as_of - line.priced_on).days for line in dated if line.priced_on}
    old = [name for name, days in ages.items() if days > most]
    if not old:
        return
    oldest = max(old, key=lambda name: ages[name])
    yield Found(
        title=f"{len(old)} {'price is' if len(old) == 1 else 'prices are'} older than {most} days",
        evidence=(
            Evidence(label="Prices past the house rule", value=len(old), unit="count"),
            Evidence(label=f"The oldest: {oldest}", value=ages[oldest], unit="days"),
            Evidence(label="House rule", value=most, unit="days"),
        ),
        why="Drives move by several per cent a quarter: the sum is one of the past.",
        remedy=Remedy(words="Ask for prices anew and type them with their day.", at="catalogue/prices"),
    )


@finding("pick-list-lacks-parts", GROWTH_STAGE, "warn")
def pick_list_lacks_parts(f: Figures) -> Iterator[Found]:
    """What boxes and wires need, no box brings and nothing that is bought serves as."""
    plan = f.bundle.plan
    for line in f.of(MONEY).lines:
        if not line.is_lacking:
            continue
        bought = Purchase.model_validate(
            {
                "id": fresh_id(line.id, (p.id for p in plan.purchases)),
                "name": line.name,
                "part": line.id,
                "count": min(line.count, MOST_BOUGHT),
                "unit_price": line.unit_price,
                "priced_on": line.priced_on,
            }
        )
        yield Found(
            at=line.id,
            severity="note" if line.amount is not None else "warn",
            title=f"The pick list lacks {line.count} × {line.name[0].lower()}{line.name[1:]}",
            evidence=(Evidence(label="Lacking", value=line.count, unit="count"),),
            why="The evening on which it is built in ends at the first cable that is not there.",
            remedy=Remedy(
                words="Put them among the purchases",
                patch=(Operation(op="add", path="plan/purchases", value=bought.model_dump(mode="json")),),
            ),
        )


@finding("cloud-cost-overtakes-own-copy", GROWTH_STAGE, "note")
def cloud_cost_overtakes_own_copy(f: Figures) -> Iterator[Found]:
    """A service that in all costs more within five years than loose drives of one's own for the same."""
    rules, materials = f.bundle.house_rules, f.of(MATERIALS)
    kept = kept_of(f.of(COURSES))
    for store in f.bundle.plan.safekeeping.stores:
        fixed, growing = stored_bytes(f.bundle, materials, store.id)
        if store.kind != "a service" or not store.monthly_price_per_tb or fixed + growing <= 0:
            continue
        drives = math.ceil((fixed + growing) / (rules.portable_tb * TB))
        times = math.ceil(MONTHS / (rules.portable_years * 12))
        own = drives * rules.portable_price * times
        of_month = store_month(f.bundle, materials, kept, store)
        spent, month = 0.0, 0
        while spent <= own and month < MONTHS:
            month += 1
            spent += of_month(month)
        if spent <= own:
            continue
        since = month_end(f.bundle.as_of, month)
        yield Found(
            at=store.id,
            title=f"{store.name} costs more than drives of one's own from {month_of(since)} on",
            evidence=(
                Evidence(label="Months until then", value=month, unit="count"),
                Evidence(label="Drives for the same, for five years", value=own, unit="money"),
                Evidence(label="Kept there", value=fixed + growing, unit="bytes"),
            ),
            why="A service asks for no hands and no fetching; whether that is worth it is yours to say.",
            remedy=Remedy(
                words="Set drives that are carried elsewhere beside it, and read them back once a year.",
                at=f"plan/safekeeping/stores/{store.id}/monthly_price_per_tb",
            ),
        )


@finding("snapshots-hold-more-than-their-reserve", GROWTH_STAGE, "note")
def snapshots_hold_more_than_their_reserve(f: Figures) -> Iterator[Found]:
    """What is deleted and not yet free eats from what was meant for work."""
    for held in f.of(SNAPSHOTS):
        if held.held_bytes <= held.reserve_bytes or held.held_bytes < TB / 100:
            continue
        result = next(p for p in f.tiers.pools if p.id == held.pool_id)
        before = result.usable_bytes + held.reserve_bytes
        percent = math.ceil(held.held_bytes / before * 100) if before else 100
        words = f"Reserve {percent} % for snapshots"
        yield Found(
            at=held.pool_id,
            title=f"{held.name}: snapshots hold {held.held_bytes / TB:.1f} TB that was deleted",
            evidence=(
                Evidence(label="Held and not free", value=held.held_bytes, unit="bytes"),
                Evidence(label="Reserved for it", value=held.reserve_bytes, unit="bytes"),
                Evidence(label="Deleted a day", value=held.deleted_bytes_per_day, unit="bytes"),
                Evidence(label="Days until it is free", value=held.days, unit="days"),
            ),
            why="Deleting frees nothing until the last snapshot that knows the file is gone.",
            remedy=Remedy(
                words=words,
                patch=set_fields(f"plan/pools/{held.pool_id}", snapshot_reserve_percent=percent),
            )
            if percent < 60
            else Remedy(
                words="Keep snapshots for fewer days.",
                at=f"plan/pools/{held.pool_id}/snapshot_reserve_percent",
            ),
        )
