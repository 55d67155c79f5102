"""Space needed until the horizon: steady weeks of the shoots, the calendar of productions, what is kept.

kept today + weeks × (footage × kept × (1 + proxies + previews) + stills + exports) + productions (footage,
proxies, previews until archived, versions) + services, in bytes, on the fullest day. Where the steady weeks
bring more every year, ``weeks`` are as many of today's as come to the same.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from decimal import Decimal

import numpy as np
from numpy.typing import NDArray

from larder.base.memo import remembered
from larder.base.results import Result
from larder.laws.fill import WEEKS_A_YEAR, grown_years
from larder.plan.brief import Brief
from larder.plan.day_parts import WHOLE_DAY
from larder.plan.formats import Rates
from larder.plan.house_rules import HouseRules
from larder.plan.limits import Limits
from larder.plan.seats import FootageSeat

from .loads import LOADS_READ, asking_of, rush_of
from .rates import RATES
from .shooting_calendar import Calendar, Holdings, telling_days
from .stage import Judged, Part

KEPT_BYTES = 4_000_000
WORKING_DAYS_A_WEEK = 5


SERVICE_STEPS = ("services", "services_not_listed")


class NeedPart(Result):
    """One part of the space needed on the fullest day; the parts sum to the need."""

    step: str
    bytes: int


class GrowthTerms(Result):
    """What growth and working set are made of, bytes: the steady weeks', and the productions' at the horizon.

    ``steady_weeks`` of today's come in until the horizon, ``warm_weeks`` of them are hot, and of the
    productions the most that is hot at once. Where neither tells, ``played_bytes`` is what is played while it
    is hot.
    """

    footage_bytes_per_week: float
    proxies_bytes_per_week: float
    previews_bytes_per_week: float
    stills_bytes_per_week: float
    exports_bytes_per_week: float
    productions_bytes: float
    hot_productions_bytes: float
    warm_weeks: float
    steady_weeks: float = 0.0
    played_bytes: float = 0.0


class NeedResult(Result):
    """The space needed, bytes; ``parts`` sum to the need on the fullest day.

    ``working_set_bytes`` is the most that is hot at once, ``cold_bytes`` the most that is kept and not hot.
    """

    weeks: float
    fullest_on: date
    footage_bytes_per_week: float
    growth_bytes_per_week: float
    growth_terms: GrowthTerms
    working_set_bytes: float
    cold_bytes: float
    hot_productions_max: int
    parts: tuple[NeedPart, ...]


class Space:
    """A brief's steady weeks and its calendar, judged on ``as_of``; sizes in bytes."""

    def __init__(self, brief: Brief, rates: Rates, as_of: date) -> None:
        self.brief, self.as_of = brief, as_of
        self.growth = brief.growth_percent_per_year / 100
        self.horizon = max(brief.horizon_date, as_of)
        self.weeks = (self.horizon - as_of).days / 7
        steady = sum(s.hours_per_week * 3600 * rates[s.format_id][0] * s.kept_ratio for s in brief.shoots)
        self.steady: Mapping[str, float] = {
            "footage": steady,
            "proxies": steady * brief.proxy_ratio,
            "previews": steady * brief.preview_ratio,
            "stills": float(brief.stills_bytes_per_week),
            "exports": float(brief.exports_bytes_per_week),
        }
        self.per_week = sum(self.steady.values())
        self.calendar = Calendar(brief.productions, rates)

    def todays_weeks(self, weeks: float) -> float:
        """As many of today's steady weeks come in within ``weeks``; to the left of today, below 0."""
        if not self.growth:
            return weeks
        return grown_years(weeks / WEEKS_A_YEAR, self.growth) * WEEKS_A_YEAR

    def warm_weeks(self, weeks: float) -> float:
        """Of today's steady weeks, as many as are still hot after ``weeks``, of what comes in from now on."""
        return self.todays_weeks(weeks) - self.todays_weeks(max(weeks - self.brief.hot_weeks, 0.0))

    def held(self, days: list[date]) -> Holdings:
        """What the productions have brought until each of ``days``."""
        return self.calendar.holdings(days, self.as_of, self.brief.proxy_ratio, self.brief.preview_ratio)

    def weeks_bytes(self, days: list[date]) -> list[float]:
        """Footage that the week from each of ``days`` brings, the kept part of it."""
        until = [day + timedelta(weeks=1) for day in days]
        shot = self.calendar.footage_until(until) - self.calendar.footage_until(days)
        begins = [(day - self.as_of).days / 7 for day in days]
        steady = np.array([self.todays_weeks(week + 1) - self.todays_weeks(week) for week in begins])
        every: list[float] = (shot + self.steady["footage"] * steady).tolist()
        return every

    def parts(self, weeks: float, brought: Mapping[str, float], deliveries: float) -> tuple[NeedPart, ...]:
        """What lies there after so many steady weeks, with what productions have brought."""
        brief = self.brief
        parts = {"kept_today": float(brief.kept_today_bytes)}
        intake_weeks = self.todays_weeks(weeks)
        parts |= {step: rate * intake_weeks + brought.get(step, 0.0) for step, rate in self.steady.items()}
        parts["deliveries"] = deliveries
        parts["services"] = float(sum(s.count * s.kept_bytes for s in brief.services))
        parts["services_not_listed"] = float(brief.other_services_bytes)
        return tuple(NeedPart(step=step, bytes=round(size)) for step, size in parts.items())


def need_of(brief: Brief, rates: Rates, as_of: date) -> NeedResult:
    """The space of ``brief``; seats do not come into it, so that changing them costs nothing here."""
    return _need_of(without_people(brief), tuple(rates.items()), as_of)


def without_people(brief: Brief) -> Brief:
    """The brief as far as space goes."""
    return brief.model_copy(update={"seats": (), "day_parts": (), "budget": Decimal(0), "limits": Limits()})


@remembered(KEPT_BYTES, lambda *_: 8_000)
def _need_of(brief: Brief, rates: tuple[tuple[str, tuple[float, ...]], ...], as_of: date) -> NeedResult:
    space = Space(brief, dict(rates), as_of)
    days = telling_days(brief.productions, as_of, space.horizon)
    held = space.held(days)
    grown = np.array([space.todays_weeks((day - as_of).days / 7) for day in days]) * space.per_week
    full = grown + held.total_bytes
    # Of equally full days the last.
    at = len(days) - 1 - int(np.argmax(full[::-1]))
    a_week = 1 / space.weeks if space.weeks else 0.0
    steady_weeks = space.todays_weeks(space.weeks)
    mean_week = steady_weeks * a_week if space.weeks else 1.0
    terms = GrowthTerms(
        **{f"{step}_bytes_per_week": rate for step, rate in space.steady.items()},
        productions_bytes=float(held.total_bytes[-1]),
        hot_productions_bytes=float(held.hot_bytes.max()),
        warm_weeks=space.warm_weeks(space.weeks),
        steady_weeks=steady_weeks,
    )
    brought = {
        "footage": float(held.footage_bytes[at]),
        "proxies": float(held.proxy_bytes[at]),
        "previews": float(held.preview_bytes[at]),
    }
    return NeedResult(
        weeks=space.weeks,
        fullest_on=days[at],
        footage_bytes_per_week=space.steady["footage"] * mean_week + float(held.footage_bytes[-1]) * a_week,
        growth_bytes_per_week=space.per_week * mean_week + terms.productions_bytes * a_week,
        growth_terms=terms,
        working_set_bytes=space.per_week * terms.warm_weeks + terms.hot_productions_bytes,
        cold_bytes=_cold_bytes(space, days, held, full),
        hot_productions_max=int(held.hot_count.max()),
        parts=space.parts((days[at] - as_of).days / 7, brought, float(held.delivery_bytes[at])),
    )


def _cold_bytes(space: Space, days: list[date], held: Holdings, grown: NDArray[np.float64]) -> float:
    """The most that is kept and not hot on any day: what services keep is worked on and stays out of it.

    What came in until today is kept already, and a hot production's part of it is hot.
    """
    warm = np.array([space.warm_weeks((day - space.as_of).days / 7) for day in days]) * space.per_week
    return max(float((space.brief.kept_today_bytes + grown - held.hot_bytes - warm).max()), 0.0)


def played_bytes(brief: Brief, rates: Rates, rules: HouseRules) -> float:
    """What the footage seats play in the weeks for which it is hot, at most what is kept today.

    The only measure of what is hot where neither shoots nor productions tell what comes in.
    """
    rush, parts = rush_of(brief, rules), brief.day_parts or (WHOLE_DAY,)
    a_day = sum(
        a.count * a.demand.read_bytes_per_s * rush.mean_odds(a.odds.get(part.id, 0.0)) * part.hours * 3600
        for seat, a in zip(brief.seats, asking_of(brief, rates), strict=False)
        if isinstance(seat, FootageSeat)
        for part in parts
    )
    played = a_day * WORKING_DAYS_A_WEEK * brief.hot_weeks
    return min(played, float(brief.kept_today_bytes)) if brief.kept_today_bytes else played


def _judge(judged: Judged) -> NeedResult:
    bundle = judged.bundle
    brief = bundle.plan.brief
    need = need_of(brief, judged.of(RATES), bundle.as_of)
    if brief.shoots or brief.productions:
        return need
    played = played_bytes(brief, judged.of(RATES), bundle.house_rules)
    terms = need.growth_terms.model_copy(update={"played_bytes": played})
    hot, cold = need.working_set_bytes + played, max(need.cold_bytes - played, 0.0)
    return need.model_copy(update={"working_set_bytes": hot, "cold_bytes": cold, "growth_terms": terms})


NEED_READS = (
    "plan/brief/shoots",
    "plan/brief/productions",
    "plan/brief/services",
    "plan/brief/hot_weeks",
    "plan/brief/growth_percent_per_year",
    "plan/brief/stills_bytes_per_week",
    "plan/brief/exports_bytes_per_week",
    "plan/brief/proxy_ratio",
    "plan/brief/preview_ratio",
    "plan/brief/kept_today_bytes",
    "plan/brief/other_services_bytes",
    "plan/brief/horizon_date",
    "as_of",
)
NEED: Part[NeedResult] = Part(
    "need", _judge, reads=(*NEED_READS, *LOADS_READ), after=(RATES,), is_answered=False
)
