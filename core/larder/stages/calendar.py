"""The shooting calendar as it is drawn: productions, and week by week what they bring and what is hot."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from larder.base.memo import remembered
from larder.base.results import Result
from larder.base.units import DAYS_A_YEAR
from larder.plan.brief import Brief
from larder.plan.formats import Rates

from .need import NEED_READS, Space, without_people
from .rates import RATES
from .stage import Judged, Part

KEPT_BYTES = 8_000_000
DRAWN_WEEKS = 120
"""Steps of the calendar's drawing; a longer horizon is drawn in steps of several weeks."""


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
    busiest_week_bytes: int
    archive_bytes_per_year: int


def calendar_of(brief: Brief, rates: Rates, as_of: date) -> CalendarResult:
    """The productions and what they bring, step by step."""
    return _calendar_of(without_people(brief), tuple(rates.items()), as_of)


@remembered(KEPT_BYTES, lambda drawn, *_: 20_000 + 2_000 * len(drawn.productions) + 1_000 * len(drawn.steps))
def _calendar_of(
    brief: Brief, rates: tuple[tuple[str, tuple[float, ...]], ...], as_of: date
) -> CalendarResult:
    space = Space(brief, dict(rates), as_of)
    step = max(1, -(-int(space.weeks) // DRAWN_WEEKS))
    count = int(space.weeks) // step + 1 if brief.productions else 0
    days = [as_of + timedelta(weeks=n * step) for n in range(count)]
    held = space.held([*days, space.horizon])
    archived = float(held.footage_bytes[-1] + held.proxy_bytes[-1] + held.delivery_bytes[-1])
    intake_weeks = space.todays_weeks(space.weeks)
    lasting = sum(rate for name, rate in space.steady.items() if name != "previews") * intake_weeks
    years = space.weeks * 7 / DAYS_A_YEAR
    steady = np.array([space.todays_weeks(n * step) for n in range(len(days) + 1)]) * space.per_week
    columns = zip(
        days,
        space.weeks_bytes(days),
        held.hot_count.tolist(),
        held.hot_bytes.tolist(),
        (steady + held.total_bytes).tolist(),
        strict=False,
    )
    return CalendarResult(
        weeks_a_step=step,
        steps=tuple(
            CalendarStep(
                from_date=day,
                footage_bytes_per_week=round(footage),
                hot_count=hot_count,
                hot_bytes=round(hot),
                total_bytes=round(total),
            )
            for day, footage, hot_count, hot, total in columns
        ),
        productions=tuple(
            ProductionResult(
                id=p.id,
                name=p.name,
                starts_on=p.starts_on,
                wrapped_on=p.wrapped_on,
                delivers_on=p.delivers_on,
                archived_on=p.archived_on,
                footage_bytes=round(a_day * (p.wrapped_on - p.starts_on).days),
            )
            for p, a_day in zip(brief.productions, space.calendar.per_day.tolist(), strict=True)
        ),
        busiest_week_bytes=round(_busiest_week_bytes(space)),
        archive_bytes_per_year=round((archived + lasting) / years) if years else 0,
    )


def _busiest_week_bytes(space: Space) -> float:
    """The week with the most footage: one that begins with a production, or ends with one."""
    starts = {space.as_of}
    for p in space.brief.productions:
        starts.update((p.starts_on, p.wrapped_on - timedelta(weeks=1)))
    return max(space.weeks_bytes([day for day in starts if space.as_of <= day <= space.horizon]))


def _judge(judged: Judged) -> CalendarResult:
    bundle = judged.bundle
    return calendar_of(bundle.plan.brief, judged.of(RATES), bundle.as_of)


CALENDAR: Part[CalendarResult] = Part("calendar", _judge, reads=NEED_READS, after=(RATES,), is_drawn=True)
