"""A seat far away: its line holds it back before the office does, and no office network helps it.

Three ways to work from afar: proxies are sent ahead and cut there; a machine here is worked by its picture;
or the files themselves are opened over the line. The line is the slower of the sender's uplink and the
receiver's downlink.
"""

from __future__ import annotations

from collections.abc import Sequence

from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY
from larder.plan.formats import Rates
from larder.plan.limits import OutsideLine
from larder.plan.seats import RemoteSeat, Way

from .seat_demand import SeatDemand


class RemoteResult(Result):
    """How one seat far away fares, bytes/s and seconds; null where the line carries nothing.

    ``wait_s`` is until it can start with a day's footage: those before it in the list are served first.
    """

    id: str
    name: str
    way: Way
    line_bytes_per_s: float
    limited_by: str
    needed_bytes_per_s: float
    ratio: float | None
    day_bytes: int
    wait_s: float | None
    round_trip_ms: float


def line_of(seat: RemoteSeat, line: OutsideLine) -> tuple[float, str]:
    """(bytes/s towards one seat, which end is the slower).

    Proxies go to one seat after the other; pictures and files to all of the class at once.
    """
    up = line.up_bytes_per_s / (1 if seat.way == "proxies" else max(seat.count, 1))
    if up <= seat.down_bytes_per_s:
        return up, "the house's line up"
    return seat.down_bytes_per_s, "their line down"


def remote_demand(seat: RemoteSeat, rates: Rates, line: OutsideLine) -> SeatDemand:
    """What the seat asks of the storage; a machine here plays the format, all else comes through the line."""
    played = rates[seat.format_id][1]
    if seat.way == "remote control":
        return _paced(played)
    carried, _ = line_of(seat, line)
    if seat.way == "proxies":
        return SeatDemand(read_bytes_per_s=carried, streams=1)
    return _paced(min(played, carried))


def _paced(rate: float) -> SeatDemand:
    return SeatDemand(rate, streams=1, paced_read_bytes_per_s=rate, stream_bytes_per_s=rate)


def remote_results(seats: Sequence[RemoteSeat], rates: Rates, line: OutsideLine) -> tuple[RemoteResult, ...]:
    """Each seat's line against what it needs, and its wait in the order of the list."""
    results: list[RemoteResult] = []
    before_s: float | None = 0.0
    for seat in seats:
        carried, limited_by = line_of(seat, line)
        mean, peak = rates[seat.format_id][:2]
        day_bytes = seat.footage_hours_per_day * 3600 * mean * seat.count
        if seat.way == "proxies":
            # What arrives in a day must be over before the next day's footage.
            needed = day_bytes / SECONDS_A_DAY
        else:
            needed = seat.picture_bytes_per_s if seat.way == "remote control" else peak
        wait_s = before_s
        if seat.way == "proxies":
            wait_s = before_s + day_bytes / carried if before_s is not None and carried > 0 else None
            before_s = wait_s
        results.append(
            RemoteResult(
                id=seat.id,
                name=seat.name,
                way=seat.way,
                line_bytes_per_s=carried,
                limited_by=limited_by,
                needed_bytes_per_s=needed,
                ratio=carried / needed if needed > 0 else None,
                day_bytes=round(day_bytes) if seat.way == "proxies" else 0,
                wait_s=wait_s if seat.way == "proxies" else (0.0 if carried > 0 else None),
                round_trip_ms=seat.round_trip_ms,
            )
        )
    return tuple(results)


def line_used_bytes_per_day(
    seats: Sequence[RemoteSeat],
    results: Sequence[RemoteResult],
    at_peak_seconds: Sequence[float],
) -> float:
    """What the house's line up carries for far seats on an average day.

    Proxies are what a day's footage really comes to, once for each seat; pictures and files are a rate for as
    long as a seat is at its peak, in seconds a day.
    """
    total = 0.0
    for seat, result, seconds in zip(seats, results, at_peak_seconds, strict=True):
        if seat.way == "proxies":
            total += result.day_bytes
        else:
            total += seat.count * seconds * min(result.needed_bytes_per_s, result.line_bytes_per_s)
    return total
