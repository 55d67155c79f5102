"""A day of the plan, rehearsed: who would see frames drop, when and because of what; which job is late.

Seats at their peak are sessions with a player each, jobs have a deadline, caches and memory fill and drain,
and things break at any minute.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Literal, NamedTuple

import numpy as np

from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY
from larder.laws.fluid_day import FluidDay, ShareChange, fluid_day
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import Judged, judge
from larder.stages.wiring import WIRING

from .failures import Failure, changes_of
from .first_frame import FirstFrames
from .jobs import add_jobs, destaged_s, note_busy_drives
from .set_up import Job, Kind, SetUp

ON_TIME_S = 60.0
"""A job that ends within a minute of its deadline is in time."""


class Span(Result):
    """From one clock time to another, seconds."""

    from_s: float
    to_s: float


class RehearsedSeat(Result):
    """How the day was for one seat, seconds; at peak in ``sessions``, standing in ``spells``, clock times.

    ``unwatchable_s`` is playing time from an empty player until it is filled again, ``frozen_s`` what of it
    was missed. ``blamed_hop_id`` is null where nothing stood. ``first_frame_s`` is how long a jump takes at
    the worst moment at ``first_frame_at_s``; null where it plays nothing or nothing comes.
    """

    id: str
    name: str
    number: int
    at_peak_s: float
    unwatchable_s: float
    frozen_s: float
    blamed_hop_id: str | None
    blamed_name: str
    first_frame_s: float | None
    first_frame_at_s: float | None
    spells: tuple[Span, ...]
    sessions: tuple[Span, ...]


class Pace(Result):
    """How fast a job goes from a clock time on."""

    from_s: float
    bytes_per_s: float


class RehearsedJob(Result):
    """A job: from when, by when, and when it was done, clock times in seconds; null where it was not.

    ``late_s`` is beyond its deadline; of one that was not done, until a day after it all began. ``paces`` are
    its rates, bytes/s, from when on, as far as they are told apart.
    """

    id: str
    name: str
    kind: Kind
    bytes: float
    starts_s: float
    deadline_s: float
    done_s: float | None
    late_s: float
    paces: tuple[Pace, ...]


class RehearsedCache(Result):
    """How full a cache, a staging drive or memory became, and from when on it was full; null for never."""

    id: str
    name: str
    kind: Literal["write-back", "staging", "memory"]
    holds_bytes: int
    dirty_bytes_max: float
    full_s: float | None


class Rehearsal(Result):
    """One day. ``dirty_bytes_max`` is of all caches together; what came in is held or has gone out.

    ``left_out`` names those who have no way to what they work on: they play nothing, and are in no figure.
    ``first_frame_limit_s`` is the house's rule.
    """

    begins_s: float
    left_out: tuple[str, ...]
    seats: tuple[RehearsedSeat, ...]
    jobs: tuple[RehearsedJob, ...]
    caches: tuple[RehearsedCache, ...]
    unwatchable_s: float
    frozen_s: float
    first_frame_limit_s: float
    dirty_bytes_max: float
    conservation_error_bytes: float


class GoneBy(NamedTuple):
    """A day as it went by: what was set up, and what became of the flows."""

    stage: SetUp
    day: FluidDay


def rehearse(bundle: Bundle, failures: Iterable[Failure] = (), seed: int | None = None) -> Rehearsal:
    """The ordinary day, or with a ``seed`` one that is drawn.

    Raises :class:`Refused` for what the plan does not have or cannot do, and for too many seats.
    """
    return rehearsed(judge(bundle, PARTS), failures, None if seed is None else np.random.default_rng(seed))


def rehearsed(
    judged: Judged, failures: Iterable[Failure] = (), random: np.random.Generator | None = None
) -> Rehearsal:
    """The same of a plan that is judged already, drawn from ``random`` where that is given."""
    return rehearsal_of(gone_by(judged, failures, random), with_jumps=random is None)


def gone_by(
    judged: Judged, failures: Iterable[Failure] = (), random: np.random.Generator | None = None
) -> GoneBy:
    """Let a day go by. Raises as :func:`rehearse`."""
    stage, changes = before_it_begins(judged, failures, random)
    day = fluid_day(stage.flows, stage.buffers, stage.resources.capacities, SECONDS_A_DAY, changes)
    return GoneBy(stage, day)


def before_it_begins(
    judged: Judged, failures: Iterable[Failure] = (), random: np.random.Generator | None = None
) -> tuple[SetUp, tuple[ShareChange, ...]]:
    """A day set up, and what changes in it. Raises as :func:`rehearse`: nothing is refused later."""
    failures = tuple(failures)
    stage = SetUp(judged, random)
    note_busy_drives(stage)
    stage.resources.busy_drives |= {f.id for f in failures if f.of == "disk" and f.id in stage.pools}
    stage.hold_back(destaged_s(stage))
    stage.sessions()
    stage.cards({job.seat_id for job in stage.timetable.jobs if job.kind == "cards"})
    stage.services()
    return stage, (*add_jobs(stage), *changes_of(stage, failures))


def rehearsal_of(gone: GoneBy, *, with_jumps: bool = True) -> Rehearsal:
    """What is told of a day that went by; ``with_jumps`` how long they take, and the paces of jobs, too."""
    stage, day = gone
    judged = stage.judged
    names = {hop.id: hop.name for hop in judged.of(WIRING).hops}
    names |= {hold.id: hold.name for hold in stage.holds}
    frames = FirstFrames(stage, day) if with_jumps else None
    seats = tuple(_seat(gone, names, frames, key) for key in stage.seats)
    caches = tuple(_caches(stage, day))
    left_out = (*(each.name for each in judged.of(WIRING).unreached), *stage.left_out)
    return Rehearsal(
        begins_s=stage.begins_s,
        left_out=tuple(dict.fromkeys(left_out)),
        seats=seats,
        jobs=tuple(_job(gone, job, with_paces=with_jumps) for job in stage.jobs),
        caches=caches,
        unwatchable_s=sum(seat.unwatchable_s for seat in seats),
        frozen_s=sum(seat.frozen_s for seat in seats),
        first_frame_limit_s=judged.bundle.house_rules.first_frame_seconds_max,
        dirty_bytes_max=sum(cache.dirty_bytes_max for cache in caches),
        conservation_error_bytes=day.conservation_error_bytes,
    )


def _hop_of(stage: SetUp, at: int) -> str:
    """The id of the hop, or of the cache or memory, that a place among the resources belongs to."""
    beyond = at - len(stage.resources.hop_ids)
    return stage.holds[beyond].id if beyond >= 0 else stage.resources.hop_ids[at]


def _seat(
    gone: GoneBy, names: dict[str, str], frames: FirstFrames | None, key: tuple[int, int]
) -> RehearsedSeat:
    """A seat stands while any of what it plays does."""
    stage, day = gone
    own = [day.flows[at] for at in stage.seats[key]]
    spells = _joined(sorted(spell for result in own for spell in result.spells))
    blamed: dict[int, float] = {}
    for result in own:
        for at, seconds in result.blamed.items():
            if at >= 0:
                blamed[at] = blamed.get(at, 0.0) + seconds
    worst = max(blamed, key=lambda at: blamed[at], default=None)
    # What is missed of several streams is counted once, of the one that misses most.
    frozen = max((result.frozen_s for result in own), default=0.0)
    hop_id = None if worst is None else _hop_of(stage, worst)
    one = stage.situation.work.asking[key[0]]
    sessions = [(s.starts_s, s.stops_s) for s in stage.hours.sessions[key]]
    jump = frames.worst(key) if frames else None
    return RehearsedSeat(
        id=one.id,
        name=one.name,
        number=key[1] + 1,
        at_peak_s=sum(stop - start for start, stop in sessions),
        unwatchable_s=sum(to - since for since, to in spells),
        frozen_s=frozen,
        blamed_hop_id=hop_id,
        blamed_name=names.get(hop_id or "", ""),
        first_frame_s=jump[0] if jump else None,
        first_frame_at_s=jump[1] + stage.begins_s if jump else None,
        spells=_on_the_clock(spells, stage.begins_s),
        sessions=_on_the_clock(sessions, stage.begins_s),
    )


def _on_the_clock(spans: list[tuple[float, float]], begins_s: float) -> tuple[Span, ...]:
    return tuple(Span(from_s=since + begins_s, to_s=to + begins_s) for since, to in spans)


def _joined(spells: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Spells without overlaps."""
    found: list[tuple[float, float]] = []
    for since, to in spells:
        if found and since <= found[-1][1]:
            found[-1] = (found[-1][0], max(found[-1][1], to))
        elif to > since:
            found.append((since, to))
    return found


def _job(gone: GoneBy, job: Job, *, with_paces: bool) -> RehearsedJob:
    stage, day = gone
    ends = [day.flows[at].done_s for at in job.flows]
    done = None if any(end is None for end in ends) else max(end for end in ends if end is not None)
    late = (SECONDS_A_DAY if done is None else done) - job.deadline_s
    return RehearsedJob(
        id=job.id,
        name=job.name,
        kind=job.kind,
        bytes=job.size_bytes,
        starts_s=job.starts_s + stage.begins_s,
        deadline_s=job.deadline_s + stage.begins_s,
        done_s=None if done is None else done + stage.begins_s,
        late_s=late if late > ON_TIME_S else 0.0,
        paces=tuple(_paces(gone, job)) if with_paces else (),
    )


_SAME_PACE = 0.1
"""Paces that differ by less than this are one."""


def _paces(gone: GoneBy, job: Job) -> Iterator[Pace]:
    """All flows of the job together, from moment to moment, where that changes by more than a tenth."""
    stage, day = gone
    last: float | None = None
    for moment in day.moments:
        rate = sum(moment.rates[at] for at in job.flows)
        runs = any(_runs(day, at, moment.at_s, stage.flows[at].starts_s) for at in job.flows)
        if runs and (last is None or abs(rate - last) > _SAME_PACE * max(rate, last)):
            last = rate
            yield Pace(from_s=moment.at_s + stage.begins_s, bytes_per_s=rate)


def _runs(day: FluidDay, at: int, now_s: float, starts_s: float) -> bool:
    done = day.flows[at].done_s
    return starts_s <= now_s and (done is None or now_s < done)


def _caches(stage: SetUp, day: FluidDay) -> Iterator[RehearsedCache]:
    for n, hold in enumerate(stage.holds):
        full = next((m.at_s for m in day.moments if m.dirty_bytes[n] >= hold.capacity_bytes), None)
        yield RehearsedCache(
            id=hold.id,
            name=hold.name,
            kind=hold.kind,
            holds_bytes=round(hold.capacity_bytes),
            dirty_bytes_max=day.dirty_bytes_max[n],
            full_s=None if full is None else full + stage.begins_s,
        )
