"""What it costs over five years, month by month, against portable drives for ever and a service alone.

Bought is the pick list. Then, every month: power, drives that die by their rate, what is bought when a pool
is full, and what stores and services take, by the month and by the TB that lies there then. Everything at
today's prices, without interest.

*Portable drives for ever*: two labelled ones of everything, bought when the last is full and again when they
are no longer trusted. *A service alone*: all that is kept, by the month, and what is played from the archive
fetched back. Neither can be edited from as a pool can: they are what keeping alone would cost.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import date, timedelta
from decimal import Decimal
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from larder.base.results import Result
from larder.base.units import DAYS_A_YEAR, TB
from larder.laws.deaths import deaths_percent, months_paid_for
from larder.plan.bundle import Bundle
from larder.plan.house_rules import HouseRules
from larder.plan.safekeeping import Store

from .brief import BRIEF
from .courses import COURSES, Course
from .growth import GROWTH, GrowthResult, month_of
from .materials import MATERIALS, KeptMaterial
from .money import CENT, MONEY, MoneyResult
from .power import POWER, PowerResult
from .stage import Judged, Part
from .tiers import TIERS, TiersResult

YEARS = 5
MONTHS = 12 * YEARS
DAYS_A_MONTH = DAYS_A_YEAR / 12
PORTABLE_COPIES = 2
GROWING = ("archive", "exports")
"""Kinds of material that grow with all that is kept; the others stay as they are once the house runs."""


class CostLine(Result):
    """What one kind of cost comes to over five years."""

    id: str
    name: str
    amount: Decimal


class CostMonth(Result):
    """What has been spent in all by a month's end."""

    on: date
    plan: Decimal
    portable: Decimal
    service: Decimal


class BreakEven(Result):
    """From when on the plan has cost less in all than each of the two, for good; null where it never has."""

    portable: date | None
    service: date | None
    either: date | None


class CostsResult(Result):
    """Five years of a plan and of the two others.

    ``holds_until`` is when what is planned is full, where that is within them. ``fetch_back`` is what it
    would cost to get all copies back from services once; ``sentence`` says what pays when.
    """

    currency: str
    capex: Decimal
    five_years: Decimal
    lines: tuple[CostLine, ...]
    months: tuple[CostMonth, ...]
    portable_five_years: Decimal
    service_five_years: Decimal
    break_even: BreakEven
    fetch_back: Decimal
    unpriced_steps: int
    holds_until: date | None
    sentence: str


class Account(NamedTuple):
    """What a month costs, by the number of the month: 0 is the plan's day."""

    id: str
    name: str
    of_month: Callable[[int], float]


def month_end(as_of: date, month: int) -> date:
    """The last day of a month that is counted from the plan's day."""
    return as_of + timedelta(days=round(month * DAYS_A_MONTH))


class Fleet(NamedTuple):
    """What of a pool's or cache's drives dies in a year: their number by rate and price, after a warranty."""

    dying_per_year: float
    unit_price: float
    warranty_years: float

    def of_month(self, month: int) -> float:
        """Paid replacements in a month, in the plan's currency."""
        if not month:
            return 0.0
        paid = months_paid_for(self.warranty_years, month) > months_paid_for(self.warranty_years, month - 1)
        return self.dying_per_year / 12 * self.unit_price if paid else 0.0


def fleets_of(bundle: Bundle, tiers: TiersResult) -> tuple[Fleet, ...]:
    """The drives of pools and caches that have a price."""
    classes, rules = {drive.id: drive for drive in bundle.catalogue.drives}, bundle.house_rules
    caches = {pool.id: pool.cache for pool in tiers.pools if pool.cache is not None}
    held = [
        (p.drive_id, p.drive_kind, len(p.drives_bytes), r.drive_price, p.hours_run)
        for p, r in zip(bundle.plan.pools, tiers.pools, strict=True)
    ]
    held += [(c.drive_id, "ssd", c.drive_count, caches[c.pool_id].drive_price, 0) for c in bundle.plan.caches]
    found = []
    for drive_id, kind, count, price, hours in held:
        drive = classes.get(drive_id)
        own = drive.failures_per_year_percent if drive else None
        percent = deaths_percent(kind, rules.usual_deaths, own, hours)
        warranty = drive.warranty_years if drive else 0.0
        found.append(Fleet(count * percent / 100, float(price or 0), warranty))
    return tuple(found)


class KeptByMonth(NamedTuple):
    """Bytes that are kept, by the month."""

    days: NDArray[np.float64]
    bytes: NDArray[np.float64]

    def in_month(self, month: int) -> float:
        """Bytes that are kept after so many months."""
        return float(np.interp(month * DAYS_A_MONTH, self.days, self.bytes))


def kept_of(courses: tuple[Course, ...]) -> KeptByMonth:
    """All that is kept, once, as the brief and the readings of the last tier have it grow."""
    if not courses:
        return KeptByMonth(np.array([0.0]), np.array([0.0]))
    course = courses[-1]
    level = course.level.mean if course.follows == "both" else 1.0
    return KeptByMonth(course.days, course.kept[0] + (course.kept - course.kept[0]) * max(level, 0.0))


def _accounts(
    bundle: Bundle,
    tiers: TiersResult,
    growth: GrowthResult,
    power: PowerResult,
    materials: tuple[KeptMaterial, ...],
    kept: KeptByMonth,
) -> tuple[Account, ...]:
    """What is paid month by month, besides what is bought at first."""
    as_of, stores = bundle.as_of, bundle.plan.safekeeping.stores
    fleets = fleets_of(bundle, tiers)
    grown: dict[int, float] = {}
    # A purchase that serves a tier and the whole stands in both.
    steps = {step.id: step for tier in growth.tiers for step in tier.steps}
    for step in steps.values():
        if step.price is not None and step.in_use_on is not None and step.order_by is not None:
            paid = max((step.order_by - as_of).days, 0)
            month = math.ceil(paid / DAYS_A_MONTH)
            grown[month] = grown.get(month, 0.0) + float(step.price)
    paid_for = [store_month(bundle, materials, kept, store) for store in stores]

    def of_stores(month: int) -> float:
        return sum(of_month(month) for of_month in paid_for)

    return (
        Account("growing", "Growing", lambda month: grown.get(month, 0.0)),
        Account("power", "Power", lambda month: power.price_per_year / 12 if month else 0.0),
        Account("replacements", "Drives that die, by rate", lambda m: sum(f.of_month(m) for f in fleets)),
        Account("stores", "Copies kept elsewhere", of_stores),
    )


def store_month(
    bundle: Bundle, materials: tuple[KeptMaterial, ...], kept: KeptByMonth, store: Store
) -> Callable[[int], float]:
    """What a store costs in a month: by the year, and by the TB that lies there then; 0 on the first day.

    What is sized until the horizon has grown so far by then, and goes on with all that is kept.
    """
    fixed, growing = stored_bytes(bundle, materials, store.id)
    horizon = max((bundle.plan.brief.horizon_date - bundle.as_of).days, 0)
    at_horizon = float(np.interp(horizon, *kept))
    per_tb, a_year = float(store.monthly_price_per_tb or 0), float(store.yearly_price or 0)

    def of_month(month: int) -> float:
        is_over = store.ends_on is not None and month_end(bundle.as_of, month) > store.ends_on
        if not month or is_over:
            return 0.0
        share = kept.in_month(month) / at_horizon if at_horizon else 1.0
        return a_year / 12 + per_tb * (fixed + growing * share) / TB

    return of_month


def stored_bytes(bundle: Bundle, materials: tuple[KeptMaterial, ...], store_id: str) -> tuple[float, float]:
    """(bytes that stay as they are, bytes at the horizon that grow with all that is kept) in a store."""
    kept = {material.id: material for material in materials}
    kinds = {m.id: m.kind for m in bundle.plan.safekeeping.materials}
    at_store = [c for c in bundle.plan.safekeeping.copies if c.to == f"store:{store_id}"]
    held = {m for copy in at_store for m in copy.materials if m in kept}
    growing = sum(kept[m].bytes for m in held if kinds[m] in GROWING)
    return sum(kept[m].bytes for m in held) - growing, growing


def portable_month(kept: KeptByMonth, rules: HouseRules) -> Callable[[int], float]:
    """What portable drives cost in a month: more of them, and those bought so many years ago anew."""
    per_drive = rules.portable_tb * TB
    lasts = max(round(rules.portable_years * 12), 1)
    bought: list[int] = []
    for month in range(MONTHS + 1):
        needed = math.ceil(max(kept.in_month(month), 0.0) / per_drive) * PORTABLE_COPIES
        # Those that are trusted yet, whenever they were bought.
        trusted = sum(bought[max(0, month - lasts + 1) : month])
        bought.append(max(needed - trusted, 0))
    return lambda month: bought[month] * rules.portable_price


def _cents(amount: float) -> Decimal:
    return Decimal(repr(round(amount, 4))).quantize(CENT)


def cheaper_from(as_of: date, ours: list[Decimal], theirs: list[Decimal]) -> date | None:
    """The end of the first month from which on ours is the less in all, to the last one; None for never."""
    month = len(ours)
    while month and ours[month - 1] <= theirs[month - 1]:
        month -= 1
    return None if month == len(ours) else month_end(as_of, month)


def running(first: Decimal, months: list[Decimal]) -> list[Decimal]:
    """Sums from the first month on."""
    found, total = [], first
    for amount in months:
        total += amount
        found.append(total)
    return found


def costs_of(judged: Judged) -> CostsResult:
    """The ledger of five years."""
    bundle, rules = judged.bundle, judged.bundle.house_rules
    growth, money = judged.of(GROWTH), judged.of(MONEY)
    kept = kept_of(judged.of(COURSES))
    accounts = _accounts(bundle, judged.of(TIERS), growth, judged.of(POWER), judged.of(MATERIALS), kept)
    months = range(MONTHS + 1)
    by_account = {a.id: [_cents(a.of_month(month)) for month in months] for a in accounts}
    monthly = [sum((by_account[a.id][month] for a in accounts), Decimal(0)) for month in months]
    portable_in = portable_month(kept, rules)
    weeks = DAYS_A_MONTH / 7
    archive_tb = judged.of(BRIEF).archive_bytes_per_day * rules.working_days_per_week * weeks / TB

    def service_in(month: int) -> float:
        if not month:
            return 0.0
        stored = kept.in_month(month) / TB * rules.service_tb_month_price
        return stored + archive_tb * rules.service_tb_back_price

    ours = running(money.spent, monthly)
    portable = running(Decimal("0.00"), [_cents(portable_in(month)) for month in months])
    service = running(Decimal("0.00"), [_cents(service_in(month)) for month in months])
    both = [min(a, b) for a, b in zip(portable, service, strict=True)]
    break_even = BreakEven(
        portable=cheaper_from(bundle.as_of, ours, portable),
        service=cheaper_from(bundle.as_of, ours, service),
        either=cheaper_from(bundle.as_of, ours, both),
    )
    ends = month_end(bundle.as_of, MONTHS)
    fulls = [tier.grown_full_on for tier in growth.tiers if tier.grown_full_on is not None]
    full_on = min((on for on in fulls if on < ends), default=None)
    return CostsResult(
        currency=money.currency,
        capex=money.spent,
        five_years=ours[-1],
        lines=(
            CostLine(id="bought", name="Bought", amount=money.spent),
            *(
                CostLine(id=a.id, name=a.name, amount=sum(by_account[a.id], Decimal("0.00")))
                for a in accounts
            ),
        ),
        months=tuple(
            CostMonth(on=month_end(bundle.as_of, n), plan=ours[n], portable=portable[n], service=service[n])
            for n in months
        ),
        portable_five_years=portable[-1],
        service_five_years=service[-1],
        break_even=break_even,
        fetch_back=_fetch_back(bundle, judged.of(MATERIALS)),
        unpriced_steps=sum(step.price is None for step in bundle.plan.growth.steps),
        holds_until=full_on,
        sentence=_sentence(break_even, money, ours[-1], portable[-1], service[-1], full_on),
    )


def _fetch_back(bundle: Bundle, materials: tuple[KeptMaterial, ...]) -> Decimal:
    total = 0.0
    for store in bundle.plan.safekeeping.stores:
        total += (
            float(store.retrieval_price_per_tb or 0) * sum(stored_bytes(bundle, materials, store.id)) / TB
        )
    return _cents(total)


def _sentence(
    even: BreakEven,
    money: MoneyResult,
    ours: Decimal,
    portable: Decimal,
    service: Decimal,
    full_on: date | None,
) -> str:
    """What pays when, in words."""
    if not ours:
        return "Nothing is priced yet."
    named = (
        ("portable drives for ever", even.portable, portable),
        ("a service alone", even.service, service),
    )
    words = []
    for name, since, total in named:
        if not total:
            continue
        words.append(
            f"costs less than {name} from {month_of(since)} on"
            if since
            else f"costs more than {name} in five years"
        )
    if not words:
        return "Nothing is kept yet that other ways of keeping would cost."
    lasts = (
        f" But it is full in {month_of(full_on)}, and what is bought then is not planned." if full_on else ""
    )
    sure = " Some things have no price yet." if money.unpriced or money.lacking else ""
    return f"This plan {' and '.join(words)}.{lasts}{sure}"


COSTS: Part[CostsResult] = Part(
    "costs",
    costs_of,
    reads=(
        "plan/pools", "plan/caches", "plan/safekeeping", "plan/brief/horizon_date", "catalogue/drives",
        *(
            f"house_rules/{rule}"
            for rule in (
                "portable_tb", "portable_price", "portable_years", "service_tb_month_price",
                "service_tb_back_price", "working_days_per_week", "drive_hours_max", "disk_deaths_percent",
                "old_disk_deaths_percent", "flash_deaths_percent",
            )
        ),
        "as_of",
    ),
    after=(COURSES, GROWTH, MONEY, POWER, MATERIALS, TIERS, BRIEF),
)  # fmt: skip
