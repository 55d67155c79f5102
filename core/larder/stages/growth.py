"""Stage *Growth*: when each tier is full, by when more has to be ordered, and what planned purchases add.

Ordered is by the early edge of the band (P10), less what deciding, delivery and building in take: whoever
orders by the middle is late in every second case.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from datetime import date, timedelta
from decimal import Decimal
from typing import Literal, NamedTuple

import numpy as np

from larder.base.results import Result
from larder.laws.delivery import lead_days, order_by
from larder.laws.forecast import EIGHT_IN_TEN, first_day
from larder.plan.bundle import Bundle
from larder.plan.growth import Sale
from larder.plan.pools import Pool

from .courses import COURSES, Course, TierName
from .grown_pool import grown_by
from .stage import Judged, Part
from .tiers import TIERS, TiersResult

TIER_WORDS: dict[TierName, str] = {"work": "Work", "archive": "Archive", "all": "The storage"}
SAME_MONTH_DAYS = 30
TOGETHER = "All of it together"
"""Both tiers, where services keep something that may lie in either."""


class GrowthPoint(Result):
    """What lies in a tier on a day, bytes: the band's edges and middle, and what is plannable by then."""

    on: date
    low_bytes: int
    middle_bytes: int
    high_bytes: int
    plannable_bytes: int


class ReadPoint(Result):
    """What was read of a tier on a day, bytes; ``is_jump``: it came at once and no slope follows it."""

    on: date
    used_bytes: int
    is_jump: bool


class StepResult(Result):
    """A planned purchase: ordered by, in use from, and what it adds.

    ``is_late``: it should be ordered already. ``sale`` is one that is open before it has to be
    ordered, with what it saves; null days: it is never needed within what is drawn.
    """

    id: str
    name: str
    pool_id: str
    adds_bytes: int
    price: Decimal | None
    order_by: date | None
    in_use_on: date | None
    is_late: bool
    why_not: str
    sale: str = ""
    saves: Decimal | None = None


Covers = Literal["pool", "tier", "both tiers"]
"""What a course of growth is of: a pool that is alone, all pools of a tier, or those of both."""


class TierGrowth(Result):
    """One tier. Null days are beyond what is drawn.

    ``full_early_on``, ``full_on`` and ``full_late_on`` are P10, P50 and P90 of the day on which it reaches
    what is plannable now; ``grown_full_on`` the middle once all planned purchases are in. ``level`` is how
    much comes in for each byte that the brief expects, as readings tell it, with its P10 and P90.
    ``need_at_horizon_bytes`` is the most that lies there until the horizon, in the middle; null where
    nothing is read.
    """

    id: TierName
    name: str
    covers: Covers
    plannable_bytes: int
    used_bytes: int
    full_early_on: date | None
    full_on: date | None
    full_late_on: date | None
    grown_full_on: date | None
    order_by: date | None
    lead_days: int
    is_late: bool
    sale: str
    drawn_until: date
    follows: Literal["brief", "both", "readings"]
    level: float
    level_low: float
    level_high: float
    fits_brief: bool
    need_at_horizon_bytes: int | None
    skipped_readings: int
    sentence: str
    read: tuple[ReadPoint, ...]
    steps: tuple[StepResult, ...]


class GrowthResult(Result):
    """The stage's answer; tiers in the order of the tiers, the first to be full named ``first``."""

    tiers: tuple[TierGrowth, ...]
    first: str
    sentence: str


class _Fill(NamedTuple):
    """Days until a capacity is reached by one course in ten, by every second one and by nine in ten.

    That is where the band's upper edge, its middle and its lower edge cross it; infinite where one does not.
    """

    early: float
    middle: float
    late: float


def fill_of(course: Course, plannable_bytes: int) -> _Fill:
    """When a course reaches so many bytes."""
    low, middle, high = course.band
    return _Fill(*(first_day(course.days, edge, float(plannable_bytes)) for edge in (high, middle, low)))


def lead_days_of(pools: Sequence[Pool], bundle: Bundle) -> int:
    """Days from a yes to drives in use: the house's own, and the longest delivery of these pools' drives."""
    rules = bundle.house_rules
    classes = {drive.id: drive.delivery_days for drive in bundle.catalogue.drives}
    days = [classes.get(pool.drive_id) for pool in pools]
    leads = (lead_days(rules.order_days, day, rules.delivery_days_max) for day in days)
    return max(leads, default=rules.order_days)


def ready_in_days(bundle: Bundle) -> int:
    """Days from a yes to a plan's drives in use; 0 without any, and drives from stock need no delivery."""
    pools = bundle.plan.pools
    return lead_days_of([pool for pool in pools if pool.bought_drives], bundle) if pools else 0


def tier_growth(bundle: Bundle, tiers: TiersResult, course: Course) -> TierGrowth:
    """One tier's forecast with its planned purchases."""
    plan, as_of = bundle.plan, bundle.as_of
    pools = [pool for pool in plan.pools if course.tier in ("all", pool.tier)]
    plannable = sum(p.plannable_bytes for p in tiers.pools if course.tier in ("all", p.tier))
    lead = lead_days_of(pools, bundle)
    fill = fill_of(course, plannable)
    steps, capacity = _steps(bundle, course, pools, plannable, lead)
    grown = fill_of(course, capacity) if capacity > plannable else fill
    last_day = order_by(as_of, fill.early, lead)
    level, sigma = course.level.mean, course.level.sigma * EIGHT_IN_TEN
    jumps = set(course.left_out)
    covers = _covers(course.tier, pools)
    result = TierGrowth(
        id=course.tier,
        name=_name_of(course.tier, covers, pools),
        covers=covers,
        plannable_bytes=plannable,
        used_bytes=round(course.today_bytes),
        full_early_on=_day(as_of, fill.early),
        full_on=_day(as_of, fill.middle),
        full_late_on=_day(as_of, fill.late),
        grown_full_on=_day(as_of, grown.middle),
        order_by=last_day,
        lead_days=lead,
        is_late=last_day is not None and last_day < as_of,
        sale=_sale_before(plan.growth.sales, as_of, last_day),
        drawn_until=as_of + timedelta(days=int(course.days[-1])),
        follows=course.follows,
        level=level,
        level_low=max(level - sigma, 0.0),
        level_high=level + sigma,
        fits_brief=course.follows != "readings" and level - sigma <= 1 <= level + sigma,
        need_at_horizon_bytes=_need_at_horizon(course, bundle),
        skipped_readings=course.skipped,
        sentence="",
        read=tuple(ReadPoint(on=on, used_bytes=used, is_jump=on in jumps) for on, used in course.read),
        steps=steps,
    )
    return result.model_copy(update={"sentence": _sentence(result)})


def _covers(tier: TierName, pools: Sequence[Pool]) -> Covers:
    if tier != "all":
        return "tier"
    if len(pools) == 1:
        return "pool"
    return "tier" if len({pool.tier for pool in pools}) == 1 else "both tiers"


def _name_of(tier: TierName, covers: Covers, pools: Sequence[Pool]) -> str:
    """What people call it: a lone pool by its name."""
    if covers == "pool":
        return pools[0].name
    return TOGETHER if covers == "both tiers" else TIER_WORDS[tier]


def _need_at_horizon(course: Course, bundle: Bundle) -> int | None:
    if not course.read:
        return None
    until = (bundle.plan.brief.horizon_date - bundle.as_of).days
    middle = course.band[1]
    at = float(np.interp(until, course.days, middle))
    return round(max(at, float(middle[course.days <= max(until, 0)].max(initial=0.0))))


def _steps(
    bundle: Bundle, course: Course, pools: list[Pool], plannable: int, lead: int
) -> tuple[tuple[StepResult, ...], int]:
    """The tier's planned purchases, one after the other, and what is plannable with all of them."""
    as_of, sales = bundle.as_of, bundle.plan.growth.sales
    order_days = bundle.house_rules.order_days
    now = {pool.id: pool for pool in pools}
    found, capacity = [], plannable
    for step in bundle.plan.growth.steps:
        if step.pool_id not in now:
            continue
        grown = grown_by(now[step.pool_id], step)
        now[step.pool_id] = grown.pool
        delivery = lead_days(order_days, step.delivery_days, lead - order_days)
        early = fill_of(course, capacity).early
        last_day = order_by(as_of, early, delivery)
        is_late = last_day is not None and last_day < as_of
        in_use = as_of + timedelta(days=delivery) if is_late else _day(as_of, early)
        sale = _sale_before(sales, as_of, last_day)
        off = next((s.off_percent for s in sales if s.name == sale), 0.0)
        found.append(
            StepResult(
                id=step.id,
                name=step.name,
                pool_id=step.pool_id,
                adds_bytes=grown.adds_bytes,
                price=step.price,
                order_by=None if grown.why_not else last_day,
                in_use_on=None if grown.why_not else in_use,
                is_late=is_late and not grown.why_not,
                why_not=grown.why_not,
                sale=sale,
                saves=None
                if step.price is None or not sale
                else (step.price * Decimal(str(off)) / 100).quantize(Decimal("0.01")),
            )
        )
        capacity += grown.adds_bytes
    return tuple(found), capacity


def _day(as_of: date, days: float) -> date | None:
    return None if math.isinf(days) else as_of + timedelta(days=math.floor(days))


def _sale_before(sales: Sequence[Sale], as_of: date, order_by: date | None) -> str:
    """The last sale that is still open or to come, and opens before the day to order by; empty for none."""
    if order_by is None:
        return ""
    reached = [sale for sale in sales if sale.closes_on >= as_of and sale.opens_on <= order_by]
    return max(reached, key=lambda sale: sale.opens_on).name if reached else ""


def month_of(day: date) -> str:
    """A day as people say when something is full: June 2029."""
    return f"{day:%B %Y}"


def _sentence(tier: TierGrowth) -> str:
    """When it is full, with what odds, and what readings say of it."""
    until = f"until {month_of(tier.drawn_until)}"
    if tier.full_on is None:
        if tier.full_early_on is None:
            when = f"{tier.name} does not fill {until}."
        else:
            when = (
                f"{tier.name} probably lasts {until}; once in ten it is full by "
                f"{month_of(tier.full_early_on)}."
            )
    elif tier.full_late_on == tier.full_early_on:
        when = (
            f"{tier.name} is full now."
            if tier.is_late
            else f"{tier.name} is full in {month_of(tier.full_on)}."
        )
    else:
        early = month_of(tier.full_early_on) if tier.full_early_on else ""
        late = f"and {month_of(tier.full_late_on)}" if tier.full_late_on else f"and later than {until[6:]}"
        when = f"{tier.name} is full in {month_of(tier.full_on)}; 8 times in 10 between {early} {late}."
    return f"{when} {_read_words(tier)}".strip()


def _read_words(tier: TierGrowth) -> str:
    count = len(tier.read)
    if not count:
        return ""
    if count == 1:
        return "One reading says what is there; how fast it grows is the brief's."
    said = f"{count} readings since {month_of(tier.read[0].on)}"
    if tier.follows == "readings":
        return f"{said} alone tell how it grows: the brief brings nothing."
    if tier.fits_brief:
        return f"{said} agree with the brief."
    return f"{said} grow ×{tier.level:.2f} of what the brief brings, and the band follows them."


def _judge(judged: Judged) -> GrowthResult:
    courses: tuple[Course, ...] = judged.of(COURSES)
    tiers = _at_one_day(tier_growth(judged.bundle, judged.of(TIERS), course) for course in courses)
    first = min(tiers, key=_full_at, default=None)
    return GrowthResult(
        tiers=tiers,
        first=first.id if first else "",
        sentence=first.sentence if first else "There is no pool yet that could fill.",
    )


def _full_at(tier: TierGrowth) -> tuple[int, int]:
    """When it is full; of the whole and one of its tiers in the same month the tier says it better."""
    never = date.max.toordinal()
    middle = tier.full_on.toordinal() if tier.full_on else never
    early = tier.full_early_on.toordinal() if tier.full_early_on else never
    later = SAME_MONTH_DAYS if tier.covers == "both tiers" else 0
    return middle + later, early + later


def _at_one_day(tiers: Iterable[TierGrowth]) -> tuple[TierGrowth, ...]:
    """A purchase that serves a tier and the whole is made once, on the earlier of its days."""
    tiers = tuple(tiers)
    earliest: dict[str, StepResult] = {}
    for step in (step for tier in tiers for step in tier.steps):
        known = earliest.get(step.id)
        if known is None or (step.order_by or date.max) < (known.order_by or date.max):
            earliest[step.id] = step
    return tuple(
        tier.model_copy(update={"steps": tuple(earliest[step.id] for step in tier.steps)}) for tier in tiers
    )


def growth_points(tier: TierGrowth, course: Course, as_of: date) -> tuple[GrowthPoint, ...]:
    """The band of a tier, day by day, against what is plannable by then."""
    steps = [(s.in_use_on, s.adds_bytes) for s in tier.steps if s.in_use_on is not None]
    points = []
    for days, low, middle, high in zip(course.days, *course.band, strict=True):
        on = as_of + timedelta(days=int(days))
        added = sum(adds for day, adds in steps if day <= on)
        points.append(
            GrowthPoint(
                on=on,
                low_bytes=round(low),
                middle_bytes=round(middle),
                high_bytes=round(high),
                plannable_bytes=tier.plannable_bytes + added,
            )
        )
    return tuple(points)


def _draw(judged: Judged) -> dict[str, tuple[GrowthPoint, ...]]:
    courses: tuple[Course, ...] = judged.of(COURSES)
    tiers = judged.of(GROWTH).tiers
    return {
        tier.id: growth_points(tier, course, judged.bundle.as_of)
        for tier, course in zip(tiers, courses, strict=True)
    }


GROWTH: Part[GrowthResult] = Part(
    "growth",
    _judge,
    reads=(
        "plan/pools",
        "plan/growth",
        "plan/brief/horizon_date",
        "catalogue/drives",
        "house_rules/order_days",
        "house_rules/delivery_days_max",
        "as_of",
    ),
    after=(TIERS, COURSES),
)
BANDS: Part[dict[str, tuple[GrowthPoint, ...]]] = Part(
    "bands", _draw, reads=("as_of",), after=(GROWTH, COURSES), is_drawn=True
)
