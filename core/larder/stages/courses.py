"""How each tier fills: what the brief expects day by day, its band, and what readings make of both.

Until the horizon the middle is the brief's need; beyond it productions come again as in the calendar, where
the plan says so. Copies that lie on pools grow with all that is kept.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from itertools import pairwise
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from larder.base.fields import EARLIEST
from larder.base.memo import remembered
from larder.base.units import DAYS_A_YEAR
from larder.laws.fill import WEEKS_A_YEAR
from larder.laws.forecast import EIGHT_IN_TEN, Level, band, drawn_paths, level_of
from larder.plan.brief import Brief
from larder.plan.bundle import Plan
from larder.plan.formats import Rates
from larder.plan.growth import Reading

from .copied import COPIED, Copied
from .need import NEED, NEED_READS, SERVICE_STEPS, NeedResult, Space, without_people
from .rates import RATES
from .shooting_calendar import Calendar, Holdings
from .stage import Judged, Part

TierName = Literal["work", "archive", "all"]
AHEAD_YEARS, MOST_AHEAD_YEARS = 5.0, 15.0
"""A forecast is drawn so far ahead, or a year past the horizon; further on nothing that it says holds."""
WEEKS_A_POINT, MOST_POINTS = 4, 130
UNTOLD_SIGMA = 3.0
"""Where the brief brings nothing readings alone tell the growth: their own mean, nearly freely."""
QUIET_SHARE = 0.1
"""Of a usual week's intake: a week with less than that is quiet."""
KEPT_BYTES = 60_000_000
DAYS_A_WEEK = 7


@dataclass(frozen=True, eq=False)
class Course:
    """How one tier fills. ``days`` count from the plan's day on; bytes on each of them.

    ``paths`` are the courses that are possible; ``expected`` is what the brief alone says, and ``kept`` what
    it says of all that is kept in any tier, once; ``today_bytes`` is what lies there on the plan's day.
    ``read`` are the readings that count, (day, bytes), and ``left_out`` the days until which a jump came that
    no slope follows. ``skipped`` readings do not count.
    """

    tier: TierName
    days: NDArray[np.float64]
    paths: NDArray[np.float32]
    expected: NDArray[np.float64]
    kept: NDArray[np.float64]
    today_bytes: float
    level: Level
    follows: Literal["brief", "both", "readings"]
    read: tuple[tuple[date, int], ...] = ()
    left_out: tuple[date, ...] = ()
    skipped: int = 0

    @cached_property
    def band(self) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
        """(P10, P50, P90) on each of the days, bytes."""
        return band(self.paths)


@dataclass(frozen=True)
class ReadTier:
    """The readings of a tier: sums over its pools on days on which all of them were read."""

    tier: TierName
    sums: tuple[tuple[date, int], ...]
    skipped: int


def read_tiers(plan: Plan, raw_bytes: Mapping[str, int]) -> tuple[ReadTier, ...]:
    """Each tier there is, the work first; readings above what the drives of a pool can hold do not count.

    What services keep may lie in either tier: beside both, all of it together has to fit as well.
    """
    both = len({pool.tier for pool in plan.pools}) > 1
    tiers: tuple[TierName, ...] = ("work", "archive") if both else ("all",)
    if both and services_bytes_of(plan.brief):
        tiers = (*tiers, "all")
    return tuple(_read_tier(plan, tier, raw_bytes) for tier in tiers) if plan.pools else ()


def _read_tier(plan: Plan, tier: TierName, raw_bytes: Mapping[str, int]) -> ReadTier:
    pools = {pool.id for pool in plan.pools if tier in ("all", pool.tier)}
    of_tier = [r for r in plan.growth.readings if r.pool_id in pools and not r.project]
    by_day: dict[date, list[Reading]] = {}
    for reading in of_tier:
        if reading.used_bytes <= raw_bytes[reading.pool_id]:
            by_day.setdefault(reading.read_on, []).append(reading)
    sums = tuple(
        (day, sum(r.used_bytes for r in read))
        for day, read in sorted(by_day.items())
        if len(read) == len(pools)
    )
    return ReadTier(tier, sums, len(of_tier) - len(sums) * len(pools))


def services_bytes_of(brief: Brief) -> int:
    """Bytes that services keep, listed or not."""
    return sum(s.count * s.kept_bytes for s in brief.services) + brief.other_services_bytes


class Tide:
    """What comes in and where it lies, on any day, by the brief: its steady weeks and its productions."""

    def __init__(
        self, brief: Brief, rates: Rates, as_of: date, played_bytes: float, *, repeats: bool
    ) -> None:
        self.space = Space(brief, rates, as_of)
        self.as_of, self.played_bytes = as_of, played_bytes
        calendar = Calendar(brief.productions, rates)
        ends = as_of + timedelta(days=round((MOST_AHEAD_YEARS + 1) * DAYS_A_YEAR))
        self.calendar = calendar.going_on(self.space.horizon, ends) if repeats else calendar
        self._holdings: dict[tuple[date, tuple[date, ...]], Holdings] = {}
        self.kept_bytes = float(brief.kept_today_bytes)
        self.services_bytes = float(services_bytes_of(brief))

    def _weeks(self, days: list[date]) -> NDArray[np.float64]:
        return np.array([(day - self.as_of).days / DAYS_A_WEEK for day in days])

    def ahead(self, tier: TierName, days: list[date]) -> NDArray[np.float64]:
        """What lies there on days from today on, bytes: as the need of the brief counts it."""
        space = self.space
        held = self._held(days, self.as_of)
        grown = self._grown(days)
        warm = np.array([space.warm_weeks(w) for w in self._weeks(days)]) * space.per_week
        hot: NDArray[np.float64] = held.hot_bytes + warm + self.played_bytes
        everything: NDArray[np.float64] = self.kept_bytes + grown + held.total_bytes
        match tier:
            case "work":
                return hot
            case "archive":
                cold: NDArray[np.float64] = np.maximum(everything - hot, 0.0)
                return cold
        return everything + self.services_bytes

    def _held(self, days: list[date], since: date) -> Holdings:
        """What productions hold on these days, kept: every tier asks for the same ones."""
        key = since, tuple(days)
        if key not in self._holdings:
            brief = self.space.brief
            self._holdings[key] = self.calendar.holdings(days, since, brief.proxy_ratio, brief.preview_ratio)
        return self._holdings[key]

    def kept(self, days: list[date]) -> NDArray[np.float64]:
        """All that is kept on days from today on, without what services keep, bytes."""
        return self.ahead("all", days) - self.services_bytes

    def behind(self, tier: TierName, days: list[date]) -> NDArray[np.float64]:
        """What has come in until any days, before today or after, bytes but for a constant."""
        held = self._held(days, EARLIEST)
        everything: NDArray[np.float64] = self._grown(days) + held.total_bytes
        if tier == "all":
            return everything
        hot = self.hot(days)
        return hot if tier == "work" else everything - hot

    def hot(self, days: list[date]) -> NDArray[np.float64]:
        """What is hot on any days, whenever it came in, bytes."""
        held = self._held(days, EARLIEST)
        hot: NDArray[np.float64] = held.hot_bytes + self._grown(days) - self._grown(self._cooled(days))
        return hot + self.played_bytes

    def still_hot(self, since: date, days: list[date]) -> NDArray[np.float64]:
        """The part of what is hot on ``since`` that still is on later days, 1 for all of it."""
        brief = self.space.brief
        before = self.calendar.footage_between(EARLIEST, [since])[0]
        before = before * (1 + brief.proxy_ratio + brief.preview_ratio)
        alive = np.array([day.toordinal() for day in days])[:, None] < self.calendar.archives
        steady = np.maximum(self._grown([since]) - self._grown(self._cooled(days)), 0.0)
        whole = float(self.hot([since])[0])
        if whole <= 0:
            return np.array([float(day <= since) for day in days])
        left: NDArray[np.float64] = np.clip((alive @ before + steady + self.played_bytes) / whole, 0.0, 1.0)
        return left

    def _cooled(self, days: list[date]) -> list[date]:
        return [day - timedelta(weeks=self.space.brief.hot_weeks) for day in days]

    def _grown(self, days: list[date]) -> NDArray[np.float64]:
        return np.array([self.space.todays_weeks(w) for w in self._weeks(days)]) * self.space.per_week

    def weekly(self, tier: TierName, begins: date, weeks: int, days: list[date]) -> NDArray[np.float64]:
        """(weeks, days): of what each week from ``begins`` on brings, what lies in the tier on each day."""
        brief, space = self.space.brief, self.space
        starts = [begins + timedelta(weeks=n) for n in range(weeks + 1)]
        at = self._weeks(starts)
        steady = np.diff([space.todays_weeks(w) for w in at]) * space.per_week
        shot = np.diff(self.calendar.footage_between(EARLIEST, starts), axis=0)
        shot *= 1 + brief.proxy_ratio + brief.preview_ratio
        until = self._weeks(days)
        age = until[None, :] - at[1:, None]
        has_come = age >= 0
        alive = np.array([day.toordinal() for day in days])[:, None] < self.calendar.archives
        hot = steady[:, None] * (age < brief.hot_weeks) + shot @ alive.T
        if tier == "work":
            warm: NDArray[np.float64] = hot * has_come
            return warm
        everything = (steady + shot.sum(axis=1))[:, None]
        there: NDArray[np.float64] = (everything if tier == "all" else everything - hot) * has_come
        return there

    def week_squares(self, first: date, last: date) -> float:
        """√Σ(a week's intake)² of the weeks between two days, bytes; parts of weeks count as such."""
        weeks = max((last - first).days / DAYS_A_WEEK, 0.0)
        whole = max(round(weeks), 1)
        intake = self.weekly("all", first, whole, [last + timedelta(weeks=2)])[:, 0]
        return float(np.sqrt((intake**2).sum() * weeks / whole))


def drawn_days(as_of: date, horizon: date) -> list[date]:
    """The days of a forecast: every few weeks, five years ahead or a year past the horizon."""
    years = min(max(AHEAD_YEARS, (horizon - as_of).days / DAYS_A_YEAR + 1), MOST_AHEAD_YEARS)
    weeks = round(years * WEEKS_A_YEAR)
    step = max(WEEKS_A_POINT, -(-weeks // MOST_POINTS))
    return [as_of + timedelta(weeks=n) for n in range(0, weeks + step, step)]


@dataclass(frozen=True)
class Terms:
    """What is common to a plan's tiers: the house's spreads in per cent, and what the brief's need knows."""

    played_bytes: float
    repeats: bool
    brief_spread_percent: float
    week_spread_percent: float


@dataclass(frozen=True)
class _Known:
    """A course as the draws want it.

    ``start`` lies there whatever comes, ``slope`` is what a level of 1 adds, ``weekly`` each week's part.
    """

    level: Level
    start: NDArray[np.float64]
    slope: NDArray[np.float64]
    weekly: NDArray[np.float64]
    follows: Literal["brief", "both", "readings"]
    left_out: tuple[date, ...] = ()


@remembered(KEPT_BYTES, lambda courses, *_: sum(20_000 + course.paths.nbytes for course in courses))
def tier_courses(
    brief: Brief,
    rates: tuple[tuple[str, tuple[float, ...]], ...],
    as_of: date,
    read: tuple[ReadTier, ...],
    copied_shares: tuple[float, ...],
    terms: Terms,
) -> tuple[Course, ...]:
    """How each tier fills; so much of all that is kept lies in it as copies besides."""
    tide = Tide(brief, dict(rates), as_of, terms.played_bytes, repeats=terms.repeats)
    days = drawn_days(as_of, tide.space.horizon)
    return tuple(
        _course(tide, each, days, share, terms) for each, share in zip(read, copied_shares, strict=True)
    )


def _course(tide: Tide, read: ReadTier, days: list[date], copied_share: float, terms: Terms) -> Course:
    as_of = tide.as_of
    known = _by_readings(tide, read, days, copied_share, terms)
    expected = tide.ahead(read.tier, days) + copied_share * tide.kept(days)
    if known is None:
        known = _by_brief(tide, read.tier, days, expected, copied_share, terms)
    paths = drawn_paths(known.level, known.start, known.slope, known.weekly)
    ahead = np.array([float((day - as_of).days) for day in days])
    return Course(
        read.tier, ahead, paths, expected, tide.kept(days),
        float(known.start[0] + known.level.mean * known.slope[0]), known.level, known.follows,
        read.sums, known.left_out, read.skipped,
    )  # fmt: skip


def _first_level(terms: Terms) -> Level:
    nothing = np.array([])
    return level_of(nothing, nothing, nothing, **_spreads(terms))


def _spreads(terms: Terms) -> dict[str, float]:
    sigma = terms.brief_spread_percent / 100 / EIGHT_IN_TEN
    return {"level_sigma": sigma, "week_spread": terms.week_spread_percent / 100}


def _by_brief(
    tide: Tide,
    tier: TierName,
    days: list[date],
    expected: NDArray[np.float64],
    copied_share: float,
    terms: Terms,
) -> _Known:
    """What lies there today is sure, and what comes is not.

    Of what is hot all is replaced sooner or later.
    """
    start = np.zeros(len(days)) if tier == "work" else np.full(len(days), expected[0])
    weeks = -(-(days[-1] - days[0]).days // DAYS_A_WEEK)
    weekly = tide.weekly(tier, days[0], weeks, days) * (1 + copied_share)
    return _Known(_first_level(terms), start, expected - start, weekly, "brief")


def _by_readings(
    tide: Tide, read: ReadTier, days: list[date], copied_share: float, terms: Terms
) -> _Known | None:
    """From the last reading on; None where there is none."""
    if not read.sums:
        return None
    on = [day for day, _ in read.sums]
    origin, begins = on[-1], float(read.sums[-1][1])
    seen = np.diff(np.array([float(used) for _, used in read.sums]))
    spans = np.diff(np.array([day.toordinal() for day in on])) / DAYS_A_WEEK
    weeks = -(-(days[-1] - origin).days // DAYS_A_WEEK)
    past = tide.behind(read.tier, on) + copied_share * tide.behind("all", on)
    patch = np.diff(past)
    moved = float(np.abs(seen).sum())
    to_come = np.abs(np.diff(tide.behind(read.tier, [origin, *days]))).sum()
    if len(seen) and moved and max(float(np.abs(patch).sum()), float(to_come)) < moved / 100:
        # The brief says nothing of what is seen to grow, nor of what is to come: time alone tells it.
        unit = moved / float(spans.sum())
        level = level_of(
            spans * unit,
            seen,
            np.sqrt(spans) * unit,
            level_sigma=UNTOLD_SIGMA,
            week_spread=terms.week_spread_percent / 100,
        )
        since = np.array([(day - origin).days / DAYS_A_WEEK for day in days])
        has_come = np.arange(1, weeks + 1)[:, None] <= since[None, :]
        weekly = has_come.astype(np.float64) * unit
        start = np.full(len(days), begins)
        return _Known(level, start, since * unit, weekly, "readings", _days_of(level, on[1:]))
    noise = np.array([tide.week_squares(a, b) for a, b in pairwise(on)]) * (1 + copied_share)
    weekly = tide.weekly(read.tier, origin, weeks, days) * (1 + copied_share)
    # Quiet weeks, in which the brief expects next to nothing, tell neither a level nor how weeks vary.
    a_week = noise / np.sqrt(np.maximum(spans, 1e-9))
    usual = max(float(a_week.max(initial=0.0)), float(weekly.max(axis=1, initial=0.0).mean()))
    telling = np.nonzero(a_week >= usual * QUIET_SHARE)[0]
    level = level_of(patch[telling], seen[telling], noise[telling], **_spreads(terms))
    on_end = [on[at + 1] for at in telling]
    if read.tier == "work":
        keep = tide.still_hot(origin, days)
        slope = tide.hot(days) - tide.hot([origin]) * keep
        start = begins * keep
    else:
        from_then = [origin, *days]
        all_of_it = tide.behind(read.tier, from_then) + copied_share * tide.behind("all", from_then)
        slope = all_of_it[1:] - all_of_it[0]
        start = np.full(len(days), begins)
    return _Known(level, start, slope, weekly, "both", _days_of(level, on_end))


def _days_of(level: Level, ends: list[date]) -> tuple[date, ...]:
    """The days on which increments end that are left out."""
    return tuple(ends[at] for at in level.left_out)


def courses_of(judged: Judged) -> tuple[Course, ...]:
    """Every tier's course."""
    bundle, need, copied = judged.bundle, judged.of(NEED), judged.of(COPIED)
    plan, rules = bundle.plan, bundle.house_rules
    terms = Terms(
        played_bytes=need.growth_terms.played_bytes,
        repeats=plan.growth.calendar_repeats,
        brief_spread_percent=rules.brief_spread_percent,
        week_spread_percent=rules.week_spread_percent,
    )
    brief, rates = without_people(plan.brief), tuple(judged.of(RATES).items())
    raw = {pool.id: sum(pool.drives_bytes) for pool in plan.pools}
    read = read_tiers(plan, raw)
    shares = tuple(_copied_share(each.tier, need, copied) for each in read)
    return tier_courses(brief, rates, bundle.as_of, read, shares, terms)


def _copied_share(tier: TierName, need: NeedResult, copied: Copied) -> float:
    """What copies in a tier add to each byte that is kept, by what both come to on the fullest day."""
    kept = sum(part.bytes for part in need.parts if part.step not in SERVICE_STEPS)
    of_tier = {"work": copied.work_bytes, "archive": copied.archive_bytes}
    here = sum(of_tier.values()) if tier == "all" else of_tier[tier]
    return here / kept if kept else 0.0


COURSES: Part[tuple[Course, ...]] = Part(
    "courses",
    courses_of,
    reads=(
        *NEED_READS,
        "plan/pools",
        "plan/growth",
        "house_rules/brief_spread_percent",
        "house_rules/week_spread_percent",
    ),
    after=(RATES, NEED, COPIED),
    is_answered=False,
)
