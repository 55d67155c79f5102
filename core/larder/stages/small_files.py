"""Many small files, pictures or frames: how many a second a seat gets, and what decides.

files/s = 1 ÷ ((round trips × round-trip time + operations × drive latency) ÷ at once + size ÷ rate), and all
seats together at most what the layout's members can do in operations: a parity group of a copy-on-write pool
about as many as one member, because each record lies on all of them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from larder.base.results import Result
from larder.laws.device import FLASH_LATENCY_SECONDS
from larder.plan.bundle import Plan
from larder.plan.day_parts import WHOLE_DAY
from larder.plan.formats import Rates, files_per_s_of
from larder.plan.seats import FootageSeat, PhotoSeat
from larder.plan.wiring import End

from .loads import LOADS, LoadsResult, works
from .pool import PoolResult
from .rates import RATES
from .stage import Part
from .tiers import TIERS, TiersResult
from .ways import NETWORK, Network

FILE_ROUND_TRIPS = 4
"""Ask for its attributes, open, read, close. A stated assumption for one file after the other."""
OFFICE_ROUND_TRIP_SECONDS = 0.0003
OPERATIONS_PER_FILE = 2
"""Its entry in the directory and its first block; what follows is in sequence."""

FRAMES_AHEAD = 4
"""Frames that a player asks for before it shows them, of every stream. A stated assumption."""
LEAST_MISSED_SHARE = 1e-3
"""However large the flash, a file in a thousand is new to it."""


FilesLimit = Literal["waiting", "rate", "operations"]
"""What keeps files from coming faster; ``operations`` is of all who ask together, the others of one seat."""
FILES_LIMIT_WORDS: dict[FilesLimit, str] = {
    "waiting": "round trips and seeks",
    "rate": "its rate",
    "operations": "the drives' operations",
}


class FileTerms(Result):
    """What one file takes: round trips, first bytes of the drives or of flash before them, its own bytes.

    ``operations_per_s`` is what the pool's drives can do at random; of the files that flash answers the
    drives see nothing, but no less than ``least_missed_share`` reaches them. ``at_once`` are asked for
    together: their waiting overlaps, their bytes share the way.
    """

    round_trips: int
    round_trip_seconds: float
    operations: int
    flash_share: float
    flash_latency_seconds: float
    drive_latency_seconds: float
    bytes_per_s: float
    operations_per_s: float
    least_missed_share: float
    at_once: int


class SmallFilesResult(Result):
    """One class of photo seats on the pool that serves it worst.

    ``given_files_per_s`` is for one seat; the joint figures are for all photo seats at the percentile.
    ``ratio`` is the smaller of given ÷ asked.
    """

    seat_id: str
    seat_name: str
    pool_id: str
    pool_name: str
    file_bytes: int
    asked_files_per_s: float
    given_files_per_s: float
    seconds_per_file: float
    latency_share: float
    joint_asked_files_per_s: float
    joint_given_files_per_s: float
    limit: FilesLimit
    ratio: float
    terms: FileTerms


@dataclass(frozen=True)
class _Files:
    """What a class of seats opens: so many files a second, ``at_once`` of them asked for together."""

    seat: PhotoSeat | FootageSeat
    asked_files_per_s: float
    file_bytes: int
    at_once: int


def small_files_stage(
    plan: Plan, loads: LoadsResult, tiers: TiersResult, network: Network, rates: Rates
) -> tuple[SmallFilesResult, ...]:
    """Every class of seats that asks for files, held against the pools that people work on."""
    pools = [p for p in tiers.pools if p.tier == "work" or not tiers.has_both_tiers]
    results = []
    for files in _asking(plan, loads, rates) if pools else ():
        served = [_served(files, pool, loads, _link(network, files.seat, pool.id)) for pool in pools]
        results.append(min(served, key=lambda r: r.ratio))
    return tuple(results)


def served_ratio(
    plan: Plan, loads: LoadsResult, network: Network, rates: Rates, seat_id: str, pool: PoolResult
) -> float:
    """Given ÷ asked for one class of seats if ``pool`` served it."""
    files = next(files for files in _asking(plan, loads, rates) if files.seat.id == seat_id)
    return _served(files, pool, loads, _link(network, files.seat, pool.id)).ratio


def _asking(plan: Plan, loads: LoadsResult, rates: Rates) -> Iterator[_Files]:
    """Photo seats, and seats that play frames each in a file of its own."""
    asked = {seat.id: seat.files_per_s for seat in loads.seats if seat.count}
    parts = plan.brief.day_parts or (WHOLE_DAY,)
    for seat in plan.brief.seats:
        if not works(seat, parts):
            continue
        if isinstance(seat, PhotoSeat) and asked.get(seat.id):
            yield _Files(seat, asked[seat.id], seat.image_bytes, 1)
        elif isinstance(seat, FootageSeat) and seat.direction == "read" and asked.get(seat.id):
            own = rates[seat.format_id]
            frames, streams = files_per_s_of(own), seat.streams * seat.angles
            if frames and streams:
                played = streams * seat.shuttle_factor * frames
                yield _Files(seat, played, round(own[0] / frames), streams * FRAMES_AHEAD)


def _link(network: Network, seat: PhotoSeat | FootageSeat, pool_id: str) -> float | None:
    """The slowest link on a seat's way, bytes/s; None inside the box or where no way is known."""
    if seat.seated == "inside":
        return None
    way = network.way_of(End("seat", seat.id), network.pool_ends[pool_id], seat.mounts_by)
    return way.one_flow_bytes_per_s if way is not None else None


def _served(
    files: _Files, pool: PoolResult, loads: LoadsResult, link_bytes_per_s: float | None
) -> SmallFilesResult:
    seat, asked = files.seat, files.asked_files_per_s
    rate = pool.read.middle_bytes_per_s
    rate = rate if link_bytes_per_s is None else min(rate, link_bytes_per_s)
    terms = FileTerms(
        round_trips=0 if seat.seated == "inside" else FILE_ROUND_TRIPS,
        round_trip_seconds=OFFICE_ROUND_TRIP_SECONDS,
        operations=OPERATIONS_PER_FILE,
        flash_share=pool.cache.hit_ratio if pool.cache else 0.0,
        flash_latency_seconds=FLASH_LATENCY_SECONDS,
        drive_latency_seconds=pool.drive_latency_seconds,
        bytes_per_s=max(rate, 1.0),
        operations_per_s=pool.small_reads_per_s,
        least_missed_share=LEAST_MISSED_SHARE,
        at_once=files.at_once,
    )
    hit = terms.flash_share
    first_byte = hit * terms.flash_latency_seconds + (1 - hit) * terms.drive_latency_seconds
    waiting = terms.round_trips * terms.round_trip_seconds + terms.operations * first_byte
    waiting /= terms.at_once
    seconds = waiting + files.file_bytes / terms.bytes_per_s
    given = 1 / seconds
    joint = terms.operations_per_s / terms.operations / max(1 - hit, terms.least_missed_share)
    # What all photo seats ask is not split over several pools: the busiest folder lies on one of them.
    joint_asked = max(loads.files_per_s_at_once, asked)
    alone, together = given / asked, joint / joint_asked
    return SmallFilesResult(
        seat_id=seat.id,
        seat_name=seat.name,
        pool_id=pool.id,
        pool_name=pool.name,
        file_bytes=files.file_bytes,
        asked_files_per_s=asked,
        given_files_per_s=given,
        seconds_per_file=seconds,
        latency_share=waiting / seconds,
        joint_asked_files_per_s=joint_asked,
        joint_given_files_per_s=joint,
        limit="operations" if together < alone else "waiting" if waiting * 2 > seconds else "rate",
        ratio=min(alone, together),
        terms=terms,
    )


SMALL_FILES: Part[tuple[SmallFilesResult, ...]] = Part(
    "small_files",
    lambda judged: small_files_stage(
        judged.bundle.plan, judged.of(LOADS), judged.of(TIERS), judged.of(NETWORK), judged.of(RATES)
    ),
    reads=("plan/brief/seats", "plan/brief/day_parts"),
    after=(LOADS, TIERS, NETWORK, RATES),
)
