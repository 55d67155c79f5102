"""What the seats and services ask at once: a distribution for every part of the day.

What is sized stands on the busiest part, each direction on its own.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from decimal import Decimal

from larder.base.fields import EARLIEST
from larder.base.memo import remembered
from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY
from larder.laws.demand import Load, Rush, SeatClass, all_at_once, joint_load, load_at_most
from larder.plan.brief import Brief, Seat
from larder.plan.day_parts import WHOLE_DAY, DayPart, service_rates
from larder.plan.formats import Rates
from larder.plan.house_rules import HouseRules
from larder.plan.seats import RemoteSeat
from larder.plan.wiring import OUTSIDE, End

from .rates import RATES
from .remote import RemoteResult, line_used_bytes_per_day, remote_demand, remote_results
from .seat_demand import SeatDemand, demand_of
from .stage import Part

KEPT_BYTES = 8_000_000


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
    """A part of the day and the load in it, both directions together.

    ``beyond_sized_seconds_max`` is how long of it, on an average day, more may be asked than it is sized on.
    """

    id: str
    name: str
    hours: float
    mean_bytes_per_s: float
    sized_bytes_per_s: float
    beyond_sized_seconds_max: float


class ServiceResult(Result):
    """What a service asks all through the part of the day that is busiest, bytes/s."""

    name: str
    bytes_per_s: float


class LoadsResult(Result):
    """What is asked; ``inside_seats_at_peak`` is the mean number of those in a box, in the busiest part.

    ``line_left_bytes_per_day`` is what the house's line up has left for copies elsewhere.
    """

    seats: tuple[SeatResult, ...]
    services: tuple[ServiceResult, ...]
    parts: tuple[PartResult, ...]
    read: LoadResult
    write: LoadResult
    both: LoadResult
    streams_at_once: int
    archive_streams_at_once: int
    files_per_s_at_once: float
    inside_seats_at_peak: float
    read_bytes_per_day: float
    write_bytes_per_day: float
    archive_bytes_per_day: float
    common_peak_probability: float
    rush_odds: float
    remote: tuple[RemoteResult, ...]
    line_left_bytes_per_day: float


@dataclass(frozen=True)
class Asking:
    """A seat class or a service: what one of it asks, its odds in every part of the day, where its bytes lie.

    ``works_on`` is a pool's id, empty where the plan does not say. ``start`` is where its bytes come into
    the wires, None beside the storage; ``mounts_by`` the link to a box that it goes over.
    """

    name: str
    count: int
    demand: SeatDemand
    odds: Mapping[str, float]
    over_network: bool
    has_office_port: bool = False
    is_service: bool = False
    works_on: str = ""
    start: End | None = None
    mounts_by: str = ""
    id: str = ""


def loads_stage(brief: Brief, rates: Rates, rules: HouseRules) -> LoadsResult:
    """The loads of a brief, by the house rules that they read."""
    level = rules.sized_on_percentile / 100
    return loads_of(people(brief), tuple(rates.items()), rush_of(brief, rules), level)


def busiest_load(brief: Brief, rates: Rates, rules: HouseRules) -> Load:
    """The load in both directions of the busiest part, as a distribution."""
    demands = {seat.id: _demand(seat, rates, brief) for seat in brief.seats}
    parts = brief.day_parts or (WHOLE_DAY,)
    asking = _asking(brief, demands, parts)
    loads = _Loads(asking, parts, rush_of(brief, rules), rules.sized_on_percentile / 100)
    return loads.busiest(_both)[0]


def rush_of(brief: Brief, rules: HouseRules) -> Rush:
    """How likely a rush is, the brief's own chance or else the house's, and what it lifts the odds to."""
    own = brief.common_peak_probability
    return Rush(rules.common_peak_probability if own is None else own, rules.rush_odds)


def people(brief: Brief) -> Brief:
    """The brief as far as loads go, so that changing the rest costs nothing here."""
    return brief.model_copy(
        update={
            "shoots": (),
            "productions": (),
            "budget": Decimal(0),
            "horizon_date": EARLIEST,
            "hot_weeks": 0,
            "stills_bytes_per_week": 0,
            "exports_bytes_per_week": 0,
            "proxy_ratio": 0.0,
            "preview_ratio": 0.0,
            "kept_today_bytes": 0,
            "other_services_bytes": 0,
        }
    )


@remembered(KEPT_BYTES, lambda result, *_: 8_000 + 1_000 * len(result.seats))
def loads_of(
    brief: Brief, rates_by_id: tuple[tuple[str, tuple[float, ...]], ...], rush: Rush, level: float
) -> LoadsResult:
    """The memo behind :func:`loads_stage`; ``level`` is a probability."""
    rates: Rates = dict(rates_by_id)
    parts = brief.day_parts or (WHOLE_DAY,)
    demands = {seat.id: _demand(seat, rates, brief) for seat in brief.seats}
    asking = _asking(brief, demands, parts)
    loads = _Loads(asking, parts, rush, level)
    _, part = loads.busiest(_both)
    far = [s for s in brief.seats if isinstance(s, RemoteSeat)]
    remote = remote_results(far, rates, brief.limits.line)
    peaks = [sum(rush.mean_odds(_odds(s, p.id)) * p.hours * 3600 for p in parts) for s in far]
    used = line_used_bytes_per_day(far, remote, peaks)
    return LoadsResult(
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
        streams_at_once=loads.streams(part, lambda d: d.streams),
        archive_streams_at_once=loads.streams(part, lambda d: d.archive_streams),
        files_per_s_at_once=loads.files_per_s_at_once(),
        inside_seats_at_peak=sum(
            seat.count * _odds(seat, part.id) for seat in brief.seats if _is_inside(seat)
        ),
        read_bytes_per_day=loads.per_day(_read),
        write_bytes_per_day=loads.per_day(_write),
        archive_bytes_per_day=loads.per_day(lambda d: d.archive_bytes_per_s),
        common_peak_probability=rush.probability,
        rush_odds=rush.odds,
        remote=remote,
        line_left_bytes_per_day=max(brief.limits.line.up_bytes_per_s * SECONDS_A_DAY - used, 0.0),
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


def from_work(demand: SeatDemand) -> float:
    """What is read beside what is played from the archive, bytes/s."""
    return demand.read_bytes_per_s - demand.archive_bytes_per_s


def asking_of(brief: Brief, rates: Rates) -> tuple[Asking, ...]:
    """Everybody who asks: the seats in their order, then the services."""
    demands = {seat.id: _demand(seat, rates, brief) for seat in brief.seats}
    return _asking(brief, demands, brief.day_parts or (WHOLE_DAY,))


def _asking(
    brief: Brief, demands: Mapping[str, SeatDemand], parts: tuple[DayPart, ...]
) -> tuple[Asking, ...]:
    seats = tuple(
        Asking(
            seat.name,
            seat.count if works(seat, parts) else 0,
            demands[seat.id],
            {part.id: _odds(seat, part.id) for part in parts},
            over_network=not _is_inside(seat),
            has_office_port=_has_office_port(seat),
            works_on=seat.works_on,
            start=_start(seat),
            mounts_by=seat.mounts_by,
            id=seat.id,
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
                    Asking(
                        service.name,
                        1,
                        demand,
                        {part.id: 1.0},
                        over_network=True,
                        is_service=True,
                        works_on=service.works_on,
                        start=End("switch", service.enters_at) if service.enters_at else None,
                        id=service.id,
                    )
                )
    return seats + tuple(services)


def _start(seat: Seat) -> End | None:
    if _is_inside(seat):
        return None
    return End("seat", seat.id) if _has_office_port(seat) else OUTSIDE


def works(seat: Seat, parts: tuple[DayPart, ...]) -> bool:
    """Whether it is ever at its peak: a seat that never is asks nothing, not even alone."""
    return any(_odds(seat, part.id) > 0 for part in parts)


def _odds(seat: Seat, part_id: str) -> float:
    return next((odds.probability for odds in seat.at_peak if odds.id == part_id), seat.probability)


def _is_inside(seat: Seat) -> bool:
    return not isinstance(seat, RemoteSeat) and seat.seated == "inside"


def _has_office_port(seat: Seat) -> bool:
    """A machine that is worked from afar stands in the office; who gets proxies or files has none there."""
    return not _is_inside(seat) and not (isinstance(seat, RemoteSeat) and seat.way != "remote control")


Rate = Callable[[SeatDemand], float]


class _Loads:
    """The joint loads of all parts of the day, each direction sized on its own busiest part.

    Directions in which all ask the same are one load.
    """

    def __init__(
        self, asking: tuple[Asking, ...], parts: tuple[DayPart, ...], rush: Rush, level: float
    ) -> None:
        self.asking, self.parts, self.rush, self.level = asking, parts, rush, level
        self._asked: dict[tuple[str, tuple[float, ...]], tuple[SeatClass, ...]] = {}
        self._busiest: dict[tuple[float, ...], tuple[Load, DayPart]] = {}

    def load(self, part: DayPart, rate: Rate) -> Load:
        """What is asked in one part of the day."""
        return joint_load(self._classes(part, self._rates(rate)), self.rush)

    def _rates(self, rate: Rate) -> tuple[float, ...]:
        """What each of those who ask asks."""
        return tuple(rate(a.demand) for a in self.asking)

    def _classes(self, part: DayPart, rates: tuple[float, ...]) -> tuple[SeatClass, ...]:
        found = self._asked.get((part.id, rates))
        if found is None:
            found = self._asked[part.id, rates] = tuple(
                SeatClass(a.name, a.count, rate, a.odds[part.id])
                for a, rate in zip(self.asking, rates, strict=True)
                if rate and a.odds.get(part.id)
            )
        return found

    def busiest(self, rate: Rate) -> tuple[Load, DayPart]:
        """The part with the highest load at the percentile, of equals the one with the higher mean.

        A part that cannot be it, because all it could ask is below what another asks, is not summed.
        """
        rates = self._rates(rate)
        if rates not in self._busiest:
            self._busiest[rates] = self._busiest_of([self._classes(part, rates) for part in self.parts])
        return self._busiest[rates]

    def _busiest_of(self, asked: list[tuple[SeatClass, ...]]) -> tuple[Load, DayPart]:
        most = [all_at_once(classes) for classes in asked]
        if len(asked) > 1:
            most = [min(m, load_at_most(c, self.rush, self.level)) for m, c in zip(most, asked, strict=True)]
        found: dict[int, Load] = {}
        highest = 0.0
        for n in sorted(range(len(asked)), key=lambda n: -most[n]):
            if found and most[n] < highest:
                break
            found[n] = joint_load(asked[n], self.rush)
            highest = max(highest, found[n].quantile(self.level))
        best = max(found, key=lambda n: (found[n].quantile(self.level), found[n].mean_bytes_per_s, -n))
        return found[best], self.parts[best]

    def result(self, rate: Rate) -> LoadResult:
        """One direction on its busiest part."""
        load, part = self.busiest(rate)
        return LoadResult(
            part_id=part.id,
            mean_bytes_per_s=load.mean_bytes_per_s,
            p95_bytes_per_s=load.quantile(0.95),
            p99_bytes_per_s=load.quantile(0.99),
            max_bytes_per_s=load.max_bytes_per_s,
            sized_bytes_per_s=load.quantile(self.level),
            error_bound_bytes_per_s=load.error_bound_bytes_per_s,
        )

    def per_day(self, rate: Rate) -> float:
        """Bytes that are moved on an average day, over all its parts; means add without a distribution."""
        total = 0.0
        for part in self.parts:
            for asking in self.asking:
                at_peak = self.rush.mean_odds(asking.odds.get(part.id, 0.0))
                total += asking.count * at_peak * rate(asking.demand) * part.hours * 3600
        return total

    def files_per_s_at_once(self) -> float:
        """Files a second that all seats together ask for, at the percentile of their busiest part."""
        load, _ = self.busiest(lambda demand: demand.files_per_s)
        return load.quantile(self.level)

    def part_result(self, part: DayPart) -> PartResult:
        """One part of the day, both directions."""
        load = self.load(part, _both)
        return PartResult(
            id=part.id,
            name=part.name,
            hours=part.hours,
            mean_bytes_per_s=load.mean_bytes_per_s,
            sized_bytes_per_s=load.quantile(self.level),
            beyond_sized_seconds_max=(1 - self.level) * part.hours * 3600,
        )

    def streams(self, part: DayPart, count: Callable[[SeatDemand], int]) -> int:
        """Sequential streams that run at once at the percentile, at least those of any one seat, and 1."""
        load = self.load(part, lambda demand: float(count(demand)))
        most = max((count(a.demand) for a in self.asking if a.count), default=0)
        return max(1, most, round(load.quantile(self.level)))


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
        has_office_port=_has_office_port(seat),
        over_network=not inside,
    )


LOADS_READ = (
    "plan/brief/seats",
    "plan/brief/services",
    "plan/brief/day_parts",
    "plan/brief/limits/line",
    "plan/brief/common_peak_probability",
    "house_rules/common_peak_probability",
    "house_rules/rush_odds",
    "house_rules/sized_on_percentile",
)
LOADS: Part[LoadsResult] = Part(
    "loads",
    lambda judged: loads_stage(judged.bundle.plan.brief, judged.of(RATES), judged.bundle.house_rules),
    reads=LOADS_READ,
    after=(RATES,),
    is_answered=False,
)
SEATS_INSIDE: Part[float] = Part(
    "seats_inside",
    lambda judged: judged.of(LOADS).inside_seats_at_peak,
    after=(LOADS,),
    is_answered=False,
)
STREAMS: Part[tuple[int, int]] = Part(
    "streams",
    lambda judged: (judged.of(LOADS).streams_at_once, judged.of(LOADS).archive_streams_at_once),
    after=(LOADS,),
    is_answered=False,
)
"""What pools take from the loads by itself, so that they are judged anew only where it changes."""
