"""Stage *Brief*: what the seats ask at once, and what piles up until the horizon.

The load is a distribution for every part of the day; what is sized stands on the busiest part. Space is
:mod:`larder.stages.need`'s.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import date

import numpy as np

from larder.base.memo import remembered
from larder.base.results import Result
from larder.laws.demand import Load, SeatClass, joint_load, load_at_most
from larder.plan.brief import Brief, Seat
from larder.plan.day_parts import WHOLE_DAY, DayPart, service_rates
from larder.plan.formats import Format, MeasuredFormat, Rates, rates_of
from larder.plan.house_rules import HouseRules
from larder.plan.seats import RemoteSeat

from .need import CalendarResult, GrowthTerms, IngestResult, NeedPart, ingest_of, need_of
from .remote import RemoteResult, remote_demand, remote_results
from .seat_demand import SeatDemand, demand_of
from .stage import Part

KEPT_BYTES = 8_000_000
DRAWN_BARS = 40
"""Bars of the load drawing: as many as can be told apart at its width."""


class FormatResult(Result):
    """A format's rates, bytes/s; the peak is the mean where no peak was measured. Null: no spread known."""

    id: str
    name: str
    mean_bytes_per_s: float
    peak_bytes_per_s: float
    low_bytes_per_s: float | None
    high_bytes_per_s: float | None


class SeatResult(Result):
    """What one seat of a class asks at its peak, bytes/s; ``probability`` is that of the busiest part.

    ``has_office_port``: it hangs on the office network with a port of its own; ``over_network``: what it
    asks goes over the network at all.
    """

    id: str
    name: str
    count: int
    probability: float
    read_bytes_per_s: float
    write_bytes_per_s: float
    archive_bytes_per_s: float
    files_per_s: float
    streams: int
    has_office_port: bool
    over_network: bool


class ServiceResult(Result):
    """What a service asks all through the part of the day that is busiest, bytes/s."""

    name: str
    bytes_per_s: float


class LoadBar(Result):
    """The odds that the load lies in (from, to], bytes/s."""

    from_bytes_per_s: float
    to_bytes_per_s: float
    probability: float


class LoadResult(Result):
    """The joint demand in one direction on its busiest part of the day.

    ``sized_bytes_per_s`` is what hops are held against.
    """

    part_id: str
    mean_bytes_per_s: float
    p95_bytes_per_s: float
    p99_bytes_per_s: float
    max_bytes_per_s: float
    sized_bytes_per_s: float
    error_bound_bytes_per_s: float


class PartResult(Result):
    """A part of the day and the load in it, both directions together."""

    id: str
    name: str
    hours: float
    mean_bytes_per_s: float
    sized_bytes_per_s: float


class BriefResult(Result):
    """The stage's answer; ``inside_seats_at_peak`` is the mean number of them in the busiest part."""

    formats: tuple[FormatResult, ...]
    seats: tuple[SeatResult, ...]
    services: tuple[ServiceResult, ...]
    parts: tuple[PartResult, ...]
    read: LoadResult
    write: LoadResult
    both: LoadResult
    network_read: LoadResult
    network_write: LoadResult
    work: LoadResult
    archive: LoadResult
    bars: tuple[LoadBar, ...]
    streams_at_once: int
    archive_streams_at_once: int
    files_per_s_at_once: float
    inside_seats_at_peak: float
    read_bytes_per_day: float
    write_bytes_per_day: float
    archive_bytes_per_day: float
    common_peak_probability: float
    weeks: float
    fullest_on: date
    footage_bytes_per_week: int
    growth_bytes_per_week: int
    growth_terms: GrowthTerms
    working_set_bytes: int
    need_bytes: int
    need_parts: tuple[NeedPart, ...]
    calendar: CalendarResult
    ingest: IngestResult
    remote: tuple[RemoteResult, ...]


@dataclass(frozen=True)
class _Asking:
    """A seat class or a service: what one of it asks, and its odds in every part of the day."""

    name: str
    count: int
    demand: SeatDemand
    odds: Mapping[str, float]
    over_network: bool
    is_service: bool = False

    def classes(self, part: str, rate: Callable[[SeatDemand], float]) -> SeatClass:
        return SeatClass(self.name, self.count, rate(self.demand), self.odds[part])


def brief_stage(brief: Brief, formats: tuple[Format, ...], rules: HouseRules, as_of: date) -> BriefResult:
    """Load and need of a brief, by the two house rules that it reads."""
    common = brief.common_peak_probability
    common = rules.common_peak_probability if common is None else common
    return brief_of(brief, formats, common, rules.sized_on_percentile / 100, as_of)


@remembered(KEPT_BYTES, lambda result, *_: 8_000 + 2_000 * (len(result.seats) + len(result.formats)))
def brief_of(
    brief: Brief, formats: tuple[Format, ...], common: float, level: float, as_of: date
) -> BriefResult:
    """The memo behind :func:`brief_stage`: ``common`` and ``level`` are probabilities."""
    rates = {f.id: rates_of(f) for f in formats}
    parts = brief.day_parts or (WHOLE_DAY,)
    demands = {seat.id: _demand(seat, rates, brief) for seat in brief.seats}
    asking = _asking(brief, demands, parts)
    loads = _Loads(asking, parts, common, level)
    both, part = loads.busiest(_both)
    need = need_of(brief, rates, as_of)
    return BriefResult(
        formats=tuple(
            FormatResult(
                id=f.id,
                name=f.name,
                mean_bytes_per_s=rates[f.id][0],
                peak_bytes_per_s=rates[f.id][1],
                low_bytes_per_s=f.low_bytes_per_s if isinstance(f, MeasuredFormat) else None,
                high_bytes_per_s=f.high_bytes_per_s if isinstance(f, MeasuredFormat) else None,
            )
            for f in formats
        ),
        seats=tuple(_seat(seat, demands[seat.id], part.id) for seat in brief.seats),
        services=tuple(
            ServiceResult(name=a.name, bytes_per_s=_both(a.demand))
            for a in asking
            if a.is_service and part.id in a.odds
        ),
        parts=tuple(loads.part_result(p) for p in parts),
        read=loads.result(_read),
        write=loads.result(_write),
        both=loads.result(_both),
        network_read=loads.result(_read, network_only=True),
        network_write=loads.result(_write, network_only=True),
        work=loads.result(lambda d: _both(d) - d.archive_bytes_per_s),
        archive=loads.result(lambda d: d.archive_bytes_per_s),
        bars=_bars(both),
        streams_at_once=loads.streams(part, lambda d: d.streams),
        files_per_s_at_once=loads.files_per_s_at_once(),
        inside_seats_at_peak=sum(
            seat.count * _odds(seat, part.id) for seat in brief.seats if _is_inside(seat)
        ),
        read_bytes_per_day=loads.per_day(_read),
        write_bytes_per_day=loads.per_day(_write),
        archive_bytes_per_day=loads.per_day(lambda d: d.archive_bytes_per_s),
        archive_streams_at_once=loads.streams(part, lambda d: d.archive_streams),
        common_peak_probability=loads.common,
        weeks=need.weeks,
        fullest_on=need.fullest_on,
        footage_bytes_per_week=round(need.footage_bytes_per_week),
        growth_bytes_per_week=round(need.growth_bytes_per_week),
        growth_terms=need.growth_terms,
        working_set_bytes=round(need.working_set_bytes),
        need_bytes=sum(p.bytes for p in need.parts),
        need_parts=need.parts,
        calendar=need.calendar,
        ingest=ingest_of(brief, rates, as_of),
        remote=remote_results(
            [s for s in brief.seats if isinstance(s, RemoteSeat)], rates, brief.limits.line
        ),
    )


def _read(demand: SeatDemand) -> float:
    return demand.read_bytes_per_s


def _write(demand: SeatDemand) -> float:
    return demand.write_bytes_per_s


def _both(demand: SeatDemand) -> float:
    return demand.read_bytes_per_s + demand.write_bytes_per_s


def _demand(seat: Seat, rates: Rates, brief: Brief) -> SeatDemand:
    if isinstance(seat, RemoteSeat):
        return remote_demand(seat, rates, brief.limits.line)
    return demand_of(seat, rates)


def _asking(
    brief: Brief, demands: Mapping[str, SeatDemand], parts: tuple[DayPart, ...]
) -> tuple[_Asking, ...]:
    seats = tuple(
        _Asking(
            seat.name,
            seat.count,
            demands[seat.id],
            {part.id: _odds(seat, part.id) for part in parts},
            over_network=not _is_inside(seat),
        )
        for seat in brief.seats
    )
    services = []
    for service in brief.services:
        for part in parts:
            read, write = service_rates(service, part, parts)
            if read or write:
                # Its rate differs by part: it asks in this one only, and there all the time.
                demand = SeatDemand(read, write, streams=1)
                services.append(
                    _Asking(service.name, 1, demand, {part.id: 1.0}, over_network=True, is_service=True)
                )
    return seats + tuple(services)


def _odds(seat: Seat, part_id: str) -> float:
    return next((odds.probability for odds in seat.at_peak if odds.id == part_id), seat.probability)


def _is_inside(seat: Seat) -> bool:
    return not isinstance(seat, RemoteSeat) and seat.seated == "inside"


class _Loads:
    """The joint loads of all parts of the day, each direction sized on its own busiest part."""

    def __init__(
        self, asking: tuple[_Asking, ...], parts: tuple[DayPart, ...], common: float, level: float
    ) -> None:
        self.asking, self.parts, self.common, self.level = asking, parts, common, level

    def load(self, part: DayPart, rate: Callable[[SeatDemand], float], *, network_only: bool = False) -> Load:
        return joint_load(self._classes(part, rate, network_only=network_only), self.common)

    def _classes(
        self, part: DayPart, rate: Callable[[SeatDemand], float], *, network_only: bool
    ) -> tuple[SeatClass, ...]:
        return tuple(
            a.classes(part.id, rate)
            for a in self.asking
            if (a.over_network or not network_only) and part.id in a.odds
        )

    def busiest(
        self, rate: Callable[[SeatDemand], float], *, network_only: bool = False
    ) -> tuple[Load, DayPart]:
        """The part with the highest load at the percentile, of equals the one with the higher mean.

        A part that cannot be it, because all it could ask is below what another asks, is not summed.
        """
        asked = [(self._classes(part, rate, network_only=network_only), part) for part in self.parts]
        bounds = [load_at_most(classes, self.common, self.level) for classes, _ in asked]
        found: dict[int, Load] = {}
        highest = 0.0
        for n in sorted(range(len(asked)), key=lambda n: -bounds[n]):
            if not found or bounds[n] >= highest:
                found[n] = joint_load(asked[n][0], self.common)
                highest = max(highest, found[n].quantile(self.level))
        best = max(found, key=lambda n: (found[n].quantile(self.level), found[n].mean_bytes_per_s, -n))
        return found[best], self.parts[best]

    def result(self, rate: Callable[[SeatDemand], float], *, network_only: bool = False) -> LoadResult:
        load, part = self.busiest(rate, network_only=network_only)
        return LoadResult(
            part_id=part.id,
            mean_bytes_per_s=load.mean_bytes_per_s,
            p95_bytes_per_s=load.quantile(0.95),
            p99_bytes_per_s=load.quantile(0.99),
            max_bytes_per_s=load.max_bytes_per_s,
            sized_bytes_per_s=load.quantile(self.level),
            error_bound_bytes_per_s=load.error_bound_bytes_per_s,
        )

    def per_day(self, rate: Callable[[SeatDemand], float]) -> float:
        """Bytes that are moved on an average day, over all its parts; means add without a distribution."""
        total = 0.0
        for part in self.parts:
            for asking in self.asking:
                odds = asking.odds.get(part.id, 0.0)
                at_peak = (1 - self.common) * odds + (self.common if part.id in asking.odds else 0.0)
                total += asking.count * at_peak * rate(asking.demand) * part.hours * 3600
        return total

    def files_per_s_at_once(self) -> float:
        """Files a second that all seats together ask for, at the percentile of their busiest part."""
        load, _ = self.busiest(lambda demand: demand.files_per_s)
        return load.quantile(self.level)

    def part_result(self, part: DayPart) -> PartResult:
        load = self.load(part, _both)
        return PartResult(
            id=part.id,
            name=part.name,
            hours=part.hours,
            mean_bytes_per_s=load.mean_bytes_per_s,
            sized_bytes_per_s=load.quantile(self.level),
        )

    def streams(self, part: DayPart, count: Callable[[SeatDemand], int]) -> int:
        """Sequential streams that run at once at the percentile, at least 1."""
        load = self.load(part, lambda demand: float(count(demand)))
        return max(1, round(load.quantile(self.level)))


def _seat(seat: Seat, demand: SeatDemand, part_id: str) -> SeatResult:
    inside = _is_inside(seat)
    return SeatResult(
        id=seat.id,
        name=seat.name,
        count=seat.count,
        probability=_odds(seat, part_id),
        read_bytes_per_s=demand.read_bytes_per_s,
        write_bytes_per_s=demand.write_bytes_per_s,
        archive_bytes_per_s=demand.archive_bytes_per_s,
        files_per_s=demand.files_per_s,
        streams=demand.streams,
        has_office_port=not inside and not (isinstance(seat, RemoteSeat) and seat.way != "remote control"),
        over_network=not inside,
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


BRIEF: Part[BriefResult] = Part(
    "brief",
    lambda judged: brief_stage(
        judged.bundle.plan.brief,
        judged.bundle.catalogue.formats,
        judged.bundle.house_rules,
        judged.bundle.as_of,
    ),
    reads=(
        "plan/brief",
        "catalogue/formats",
        "house_rules/common_peak_probability",
        "house_rules/sized_on_percentile",
        "as_of",
    ),
)
