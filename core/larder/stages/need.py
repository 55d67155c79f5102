"""Space needed until the horizon: steady weeks of the shoots, the calendar of productions, what is kept.

kept today + weeks × (footage × kept × (1 + proxies + previews) + stills + exports) + productions (footage,
proxies, previews until archived, versions) + services, in bytes, on the fullest day.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from decimal import Decimal

import numpy as np

from larder.base.memo import remembered
from larder.base.results import Result
from larder.plan.brief import Brief
from larder.plan.formats import Rates
from larder.plan.limits import Limits
from larder.plan.seats import IngestSeat

from .shooting_calendar import Calendar, Holdings, footage_bytes_per_day, telling_days

KEPT_BYTES = 8_000_000
DRAWN_WEEKS = 120
"""Steps of the calendar's drawing; a longer horizon is drawn in steps of several weeks."""
DAYS_A_YEAR = 365.25
SHOOTING_DAYS_A_WEEK = 5
"""Days on which the steady weeks' footage is taken to come in."""


class NeedPart(Result):
    """One part of the space needed on the fullest day; the parts sum to the need."""

    step: str
    bytes: int


class GrowthTerms(Result):
    """What growth and working set are made of, bytes: the steady weeks', and the productions' at the horizon.

    ``warm_weeks`` of the steady weeks are hot, and of the productions the most that is hot at once.
    """

    footage_bytes_per_week: float
    proxies_bytes_per_week: float
    previews_bytes_per_week: float
    stills_bytes_per_week: float
    exports_bytes_per_week: float
    productions_bytes: float
    hot_productions_bytes: float
    warm_weeks: float


class CalendarStep(Result):
    """From ``from_date`` for a step of weeks: footage a week, what is hot, and all that lies there."""

    from_date: date
    footage_bytes_per_week: int
    hot_count: int
    hot_bytes: int
    total_bytes: int


class ProductionResult(Result):
    """A production on the calendar, and the footage that it keeps."""

    id: str
    name: str
    starts_on: date
    wrapped_on: date
    delivers_on: date
    archived_on: date
    footage_bytes: int


class CalendarResult(Result):
    """The productions until the horizon; ``weeks_a_step`` is how many weeks a drawn step takes."""

    weeks_a_step: int
    steps: tuple[CalendarStep, ...]
    productions: tuple[ProductionResult, ...]
    hot_count_max: int
    busiest_week_bytes: int
    archive_bytes_per_year: int


class IngestResult(Result):
    """What comes in on a shooting day of the busiest week, and how long the stations copy it."""

    bytes_per_day: int
    stations_bytes_per_s: float
    seconds_per_day: float | None


def need_of(brief: Brief, rates: Rates, as_of: date) -> Need:
    """The space of ``brief``; seats do not come into it, so that changing them costs nothing here."""
    without = brief.model_copy(
        update={"seats": (), "day_parts": (), "budget": Decimal(0), "limits": Limits()}
    )
    return space_of(without, tuple(rates.items()), as_of)


@remembered(
    KEPT_BYTES,
    lambda need, *_: 20_000 + 2_000 * len(need.brief.productions) + 1_000 * len(need.calendar.steps),
)
def space_of(brief: Brief, rates: tuple[tuple[str, tuple[float, float]], ...], as_of: date) -> Need:
    """The memo behind :func:`need_of`."""
    return Need(brief, dict(rates), as_of)


class Need:
    """The space of one brief, judged on ``as_of``; sizes in bytes."""

    def __init__(self, brief: Brief, rates: Rates, as_of: date) -> None:
        self.brief, self.rates, self.as_of = brief, rates, as_of
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
        self._per_week = sum(self.steady.values())
        self._calendar = Calendar(brief.productions, rates)
        days = telling_days(brief.productions, as_of, self.horizon)
        held = self._held(days)
        grown = np.array([(day - as_of).days / 7 for day in days]) * self._per_week
        full = grown + held.total_bytes
        # Of equally full days the last.
        at = len(days) - 1 - int(np.argmax(full[::-1]))
        self.fullest_on = days[at]
        self.parts = self._parts(
            (days[at] - as_of).days / 7,
            {
                "footage": float(held.footage_bytes[at]),
                "proxies": float(held.proxy_bytes[at]),
                "previews": float(held.preview_bytes[at]),
            },
            float(held.delivery_bytes[at]),
        )
        per_week = 1 / self.weeks if self.weeks else 0.0
        self.footage_bytes_per_week = steady + float(held.footage_bytes[-1]) * per_week
        self.growth_bytes_per_week = self._per_week + float(held.total_bytes[-1]) * per_week
        self.growth_terms = GrowthTerms(
            **{f"{step}_bytes_per_week": rate for step, rate in self.steady.items()},
            productions_bytes=float(held.total_bytes[-1]),
            hot_productions_bytes=float(held.hot_bytes.max()),
            warm_weeks=min(brief.hot_weeks, self.weeks),
        )
        warm = self._per_week * self.growth_terms.warm_weeks
        self.working_set_bytes = warm + self.growth_terms.hot_productions_bytes
        self._hot_count_max = int(held.hot_count.max())
        self.calendar = self._calendar_result()

    def _held(self, days: list[date]) -> Holdings:
        ratios = self.brief.proxy_ratio, self.brief.preview_ratio
        return self._calendar.holdings(days, self.as_of, *ratios)

    def _parts(self, weeks: float, brought: Mapping[str, float], deliveries: float) -> tuple[NeedPart, ...]:
        parts = {"kept_today": float(self.brief.kept_today_bytes)}
        parts |= {step: rate * weeks + brought.get(step, 0.0) for step, rate in self.steady.items()}
        parts["deliveries"] = deliveries
        parts["services"] = float(sum(s.count * s.kept_bytes for s in self.brief.services))
        parts["other_services"] = float(self.brief.other_services_bytes)
        return tuple(NeedPart(step=step, bytes=round(size)) for step, size in parts.items())

    def _weeks_bytes(self, days: list[date]) -> list[float]:
        """Footage that the week from each of ``days`` brings, the kept part of it."""
        until = [day + timedelta(weeks=1) for day in days]
        shot = self._calendar.footage_until(until) - self._calendar.footage_until(days)
        return [self.steady["footage"] + float(more) for more in shot]

    def busiest_week_bytes(self) -> float:
        """The week with the most footage: one that begins with a production, or ends with one."""
        starts = {self.as_of}
        for p in self.brief.productions:
            starts.update((p.starts_on, p.wrapped_on - timedelta(weeks=1)))
        return max(self._weeks_bytes([day for day in starts if self.as_of <= day <= self.horizon]))

    def _calendar_result(self) -> CalendarResult:
        """The productions and what they bring, step by step, for drawing."""
        productions = self.brief.productions
        step = max(1, -(-int(self.weeks) // DRAWN_WEEKS))
        count = int(self.weeks) // step + 1 if productions else 0
        days = [self.as_of + timedelta(weeks=n * step) for n in range(count)]
        held = self._held([*days, self.horizon])
        weeks = self._weeks_bytes(days)
        archived = float(held.footage_bytes[-1] + held.proxy_bytes[-1] + held.delivery_bytes[-1])
        lasting = sum(rate for name, rate in self.steady.items() if name != "previews") * self.weeks
        years = self.weeks * 7 / DAYS_A_YEAR
        return CalendarResult(
            weeks_a_step=step,
            steps=tuple(
                CalendarStep(
                    from_date=day,
                    footage_bytes_per_week=round(weeks[n]),
                    hot_count=int(held.hot_count[n]),
                    hot_bytes=round(float(held.hot_bytes[n])),
                    total_bytes=round(n * step * self._per_week + float(held.total_bytes[n])),
                )
                for n, day in enumerate(days)
            ),
            productions=tuple(
                ProductionResult(
                    id=p.id,
                    name=p.name,
                    starts_on=p.starts_on,
                    wrapped_on=p.wrapped_on,
                    delivers_on=p.delivers_on,
                    archived_on=p.archived_on,
                    footage_bytes=round(
                        footage_bytes_per_day(p, self.rates) * (p.wrapped_on - p.starts_on).days
                    ),
                )
                for p in productions
            ),
            hot_count_max=self._hot_count_max,
            busiest_week_bytes=round(self.busiest_week_bytes()),
            archive_bytes_per_year=round((archived + lasting) / years) if years else 0,
        )


def ingest_of(brief: Brief, rates: Rates, as_of: date) -> IngestResult:
    """What comes in on the busiest shooting day, thrown away later or not, against all ingest stations."""
    steady = sum(s.hours_per_week * 3600 * rates[s.format_id][0] for s in brief.shoots)
    steady += brief.stills_bytes_per_week
    days = telling_days(brief.productions, as_of, max(brief.horizon_date, as_of))
    shot = [
        (p.starts_on, p.wrapped_on, p.hours_per_day * 3600 * p.cameras * rates[p.format_id][0])
        for p in brief.productions
    ]
    most = max(sum(a_day for first, wrapped, a_day in shot if first <= day < wrapped) for day in days)
    total = steady / SHOOTING_DAYS_A_WEEK + most
    stations = sum(
        seat.count * seat.readers * seat.card_bytes_per_s
        for seat in brief.seats
        if isinstance(seat, IngestSeat)
    )
    return IngestResult(
        bytes_per_day=round(total),
        stations_bytes_per_s=stations,
        seconds_per_day=total / stations if stations > 0 else None,
    )
