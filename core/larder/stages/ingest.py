"""What comes in on a shooting day, and how long the ingest stations copy it."""

from __future__ import annotations

from datetime import date

from larder.base.results import Result
from larder.plan.brief import Brief
from larder.plan.formats import Rates
from larder.plan.seats import IngestSeat

from .rates import RATES
from .stage import Judged, Part

SHOOTING_DAYS_A_WEEK = 5
"""Days on which the steady weeks' footage is taken to come in."""


class IngestResult(Result):
    """What comes in on a shooting day of the busiest week, and how long the stations copy it."""

    bytes_per_day: int
    stations_bytes_per_s: float
    seconds_per_day: float | None


def ingest_of(brief: Brief, rates: Rates, as_of: date) -> IngestResult:
    """What comes in on the busiest shooting day, thrown away later or not, against all ingest stations."""
    steady = sum(s.hours_per_week * 3600 * rates[s.format_id][0] for s in brief.shoots)
    steady += brief.stills_bytes_per_week
    total = steady / SHOOTING_DAYS_A_WEEK + _busiest_day_bytes(brief, rates, as_of)
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


def _busiest_day_bytes(brief: Brief, rates: Rates, as_of: date) -> float:
    """What the productions shoot on the day when they shoot most: today's, or one on which another begins."""
    shot = [
        (p.starts_on, p.wrapped_on, p.hours_per_day * 3600 * p.cameras * rates[p.format_id][0])
        for p in brief.productions
    ]
    until = max(brief.horizon_date, as_of)
    days = {as_of, *(first for first, _, _ in shot if as_of <= first <= until)}
    return max(sum(a_day for first, wrapped, a_day in shot if first <= day < wrapped) for day in days)


def _judge(judged: Judged) -> IngestResult:
    bundle = judged.bundle
    return ingest_of(bundle.plan.brief, judged.of(RATES), bundle.as_of)


INGEST: Part[IngestResult] = Part(
    "ingest",
    _judge,
    reads=(
        "plan/brief/seats",
        "plan/brief/shoots",
        "plan/brief/productions",
        "plan/brief/stills_bytes_per_week",
        "plan/brief/horizon_date",
        "as_of",
    ),
    after=(RATES,),
    is_answered=False,
)
