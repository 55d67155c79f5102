"""Stage *Brief*: what the seats ask at once, and what piles up until the horizon."""

from __future__ import annotations

from datetime import date
from fractions import Fraction
from functools import lru_cache

import numpy as np
from pydantic import BaseModel, ConfigDict

from .bundle import Brief, Catalogue, ComputedFormat, FootageSeat, Format, MeasuredFormat, Seat
from .demand import Load, SeatClass, joint_load
from .house_rules import HouseRules
from .media import format_rate

DRAWN_BARS = 40
"""Bars of the load drawing: as many as can be told apart at its width."""


class Result(BaseModel):
    """Base of everything a stage answers: immutable, ready for the API and its types."""

    model_config = ConfigDict(frozen=True)


class FormatResult(Result):
    """A format's rates, bytes/s; the peak is the mean where no peak was measured."""

    id: str
    name: str
    mean_bytes_per_s: float
    peak_bytes_per_s: float


class SeatResult(Result):
    """What one seat of a class asks at its peak, bytes/s."""

    id: str
    name: str
    count: int
    probability: float
    read_bytes_per_s: float
    write_bytes_per_s: float

    @property
    def asked_bytes_per_s(self) -> float:
        return self.read_bytes_per_s + self.write_bytes_per_s


class LoadBar(Result):
    """The odds that the load lies in (from, to], bytes/s."""

    from_bytes_per_s: float
    to_bytes_per_s: float
    probability: float


class LoadResult(Result):
    """The joint demand in one direction; ``sized_bytes_per_s`` is what hops are held against."""

    mean_bytes_per_s: float
    p95_bytes_per_s: float
    p99_bytes_per_s: float
    max_bytes_per_s: float
    sized_bytes_per_s: float
    error_bound_bytes_per_s: float


class NeedPart(Result):
    """One part of the space needed at the horizon; the parts sum to the need."""

    step: str
    bytes: int


class BriefResult(Result):
    """The stage's answer."""

    formats: tuple[FormatResult, ...]
    seats: tuple[SeatResult, ...]
    read: LoadResult
    write: LoadResult
    both: LoadResult
    bars: tuple[LoadBar, ...]
    streams_at_once: int
    weeks: float
    footage_bytes_per_week: int
    growth_bytes_per_week: int
    need_bytes: int
    need_parts: tuple[NeedPart, ...]


def rates_of(media: Format) -> tuple[float, float]:
    """(mean, peak) bytes/s of a format. Space stands on the mean, speed on the peak."""
    if isinstance(media, MeasuredFormat):
        return media.mean_bytes_per_s, media.peak_bytes_per_s or media.mean_bytes_per_s
    if isinstance(media, ComputedFormat):
        rate = format_rate(
            media.width,
            media.height,
            Fraction(str(media.fps)),
            media.sampling,
            media.bits,
            Fraction(str(media.ratio)),
            media.packing,
        ).bytes_per_s
        return rate, rate
    return media.bytes_per_s, media.bytes_per_s


@lru_cache(maxsize=64)
def brief_stage(brief: Brief, catalogue: Catalogue, rules: HouseRules, as_of: date) -> BriefResult:
    """Load and need of a brief; memoised on exactly what it reads."""
    rates = {f.id: rates_of(f) for f in catalogue.formats}
    seats = tuple(_seat(s, rates) for s in brief.seats)
    read, write, both = (
        joint_load(classes, rules.common_peak_probability)
        for classes in (
            tuple(SeatClass(s.name, s.count, s.read_bytes_per_s, s.probability) for s in seats),
            tuple(SeatClass(s.name, s.count, s.write_bytes_per_s, s.probability) for s in seats),
            tuple(SeatClass(s.name, s.count, s.asked_bytes_per_s, s.probability) for s in seats),
        )
    )
    level = rules.sized_on_percentile / 100
    parts, weeks, footage, growth = _need(brief, rates, as_of)
    return BriefResult(
        formats=tuple(
            FormatResult(
                id=f.id, name=f.name, mean_bytes_per_s=rates[f.id][0], peak_bytes_per_s=rates[f.id][1]
            )
            for f in catalogue.formats
        ),
        seats=seats,
        read=_load(read, level),
        write=_load(write, level),
        both=_load(both, level),
        bars=_bars(both),
        streams_at_once=_streams(brief, rules, level),
        weeks=weeks,
        footage_bytes_per_week=footage,
        growth_bytes_per_week=growth,
        need_bytes=sum(p.bytes for p in parts),
        need_parts=parts,
    )


def _seat(seat: Seat, rates: dict[str, tuple[float, float]]) -> SeatResult:
    if isinstance(seat, FootageSeat):
        asked = seat.streams * rates[seat.format_id][1]
    else:
        asked = seat.image_bytes * seat.images_per_s
    writes = isinstance(seat, FootageSeat) and seat.direction == "write"
    return SeatResult(
        id=seat.id,
        name=seat.name,
        count=seat.count,
        probability=seat.probability,
        read_bytes_per_s=0.0 if writes else asked,
        write_bytes_per_s=asked if writes else 0.0,
    )


def _load(load: Load, level: float) -> LoadResult:
    return LoadResult(
        mean_bytes_per_s=load.mean_bytes_per_s,
        p95_bytes_per_s=load.quantile(0.95),
        p99_bytes_per_s=load.quantile(0.99),
        max_bytes_per_s=load.max_bytes_per_s,
        sized_bytes_per_s=load.quantile(level),
        error_bound_bytes_per_s=load.error_bound_bytes_per_s,
    )


def _bars(load: Load) -> tuple[LoadBar, ...]:
    """The distribution in bars of equal width, for drawing."""
    if load.max_bytes_per_s <= 0:
        return ()
    edges = np.linspace(0, load.max_bytes_per_s, DRAWN_BARS + 1)
    which = np.clip(np.searchsorted(edges, load.values, side="left") - 1, 0, DRAWN_BARS - 1)
    odds = np.bincount(which, weights=load.odds, minlength=DRAWN_BARS)
    return tuple(
        LoadBar(from_bytes_per_s=low, to_bytes_per_s=high, probability=odd)
        for low, high, odd in zip(edges[:-1].tolist(), edges[1:].tolist(), odds.tolist(), strict=True)
    )


def _streams(brief: Brief, rules: HouseRules, level: float) -> int:
    """Sequential streams that run at once at the percentile the plan is sized on, at least 1.

    A photo seat counts as one stream.
    """
    classes = tuple(
        SeatClass(s.name, s.count, float(s.streams if isinstance(s, FootageSeat) else 1), s.probability)
        for s in brief.seats
    )
    # Streams are counted on the scale of the rates' grid, so that a large brief stays exact.
    scaled = tuple(SeatClass(c.name, c.count, c.bytes_per_s * 1e6, c.probability) for c in classes)
    return max(1, round(joint_load(scaled, rules.common_peak_probability).quantile(level) / 1e6))


def _need(
    brief: Brief, rates: dict[str, tuple[float, float]], as_of: date
) -> tuple[tuple[NeedPart, ...], float, int, int]:
    """Space needed at the horizon, part by part; also the weeks, and footage and growth a week.

    kept today + Σ weeks (footage × kept × (1 + proxies + previews) + stills + exports) + other
    services, in bytes.
    """
    weeks = max((brief.horizon_date - as_of).days, 0) / 7
    footage = sum(s.hours_per_week * 3600 * rates[s.format_id][0] * s.kept_ratio for s in brief.shoots)
    weekly = {
        "footage": footage,
        "proxies": footage * brief.proxy_ratio,
        "previews": footage * brief.preview_ratio,
        "stills": float(brief.stills_bytes_per_week),
        "exports": float(brief.exports_bytes_per_week),
    }
    parts = [NeedPart(step="kept_today", bytes=brief.kept_today_bytes)]
    parts += [NeedPart(step=step, bytes=round(rate * weeks)) for step, rate in weekly.items()]
    parts.append(NeedPart(step="other_services", bytes=brief.other_services_bytes))
    return tuple(parts), weeks, round(footage), round(sum(weekly.values()))
