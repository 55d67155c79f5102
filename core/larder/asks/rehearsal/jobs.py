"""The jobs of a timetable as flows: cards, renders, copies, uploads, scrubs, rebuilds and destage runs."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from larder.asks.share_out import COPIES_REQUESTS
from larder.base.errors import Refused
from larder.base.measures import said
from larder.base.units import SECONDS_A_DAY
from larder.laws.fluid_day import Flow, ShareChange
from larder.plan.timetable import DayJob
from larder.stages.pool_setting import SETTINGS

from .failures import people_share
from .resources import Costs
from .set_up import AS_FAST_AS_THE_WAY, COPIES_LEVEL, Job, SetUp, degraded_share

REBUILD_ACCEPTED = "a pool that survives a dead drive and has not lost more than that"


def destaged_s(stage: SetUp) -> dict[str, tuple[float, ...]]:
    """When which pool's staging drive is emptied, as the timetable says."""
    found: dict[str, tuple[float, ...]] = {}
    for job in stage.timetable.jobs:
        if job.kind == "destage":
            found[job.pool_id] = (*found.get(job.pool_id, ()), _starts_s(stage, job))
    return found


def note_busy_drives(stage: SetUp) -> None:
    """Scrubs and rebuilds take of the time of a pool's drives: known before anybody's bytes cross them."""
    kinds = ("scrub", "rebuild")
    stage.resources.busy_drives |= {job.pool_id for job in stage.timetable.jobs if job.kind in kinds}


def add_jobs(stage: SetUp) -> tuple[ShareChange, ...]:
    """The flows of the timetable's jobs, and what their scrubs and rebuilds leave to the people meanwhile.

    Raises :class:`Refused` for a job that is larger than its target and a rebuild from nothing.
    """
    changes: list[ShareChange] = []
    for job in stage.timetable.jobs:
        changes += _ADDED[job.kind](stage, job)
    return tuple(changes)


def _starts_s(stage: SetUp, job: DayJob) -> float:
    return stage.timetable.into_day(job.from_minute) * 60.0


def _deadline_s(stage: SetUp, job: DayJob, usual_s: float = SECONDS_A_DAY) -> float:
    return usual_s if job.by_minute is None else stage.timetable.ends_into_day(job.by_minute) * 60.0


def _most(job: DayJob) -> float:
    return job.most_bytes_per_s or AS_FAST_AS_THE_WAY


def _fits(stage: SetUp, job: DayJob, pool_id: str, size: float, field: str = "bytes") -> None:
    holds = stage.pools[pool_id].usable_bytes
    if size > holds:
        where = f"plan/brief/timetable/jobs/{job.id}/{field}"
        wanted = f"at most {said(holds, '', 'bytes')}, what {stage.pools[pool_id].name} holds"
        raise Refused(where, said(size, "", "bytes"), wanted, job.name)


def _cards(stage: SetUp, job: DayJob) -> Iterable[ShareChange]:
    n = next(n for n, one in enumerate(stage.situation.work.asking) if one.id == job.seat_id)
    at = _starts_s(stage, job)
    deadline = _deadline_s(stage, job, at + stage.judged.bundle.house_rules.cards_safe_hours_max * 3600)
    for pool_id in stage.situation.work.work_homes[n]:
        _fits(stage, job, pool_id, job.bytes)
    listed = [each.id for each in stage.timetable.jobs if (each.kind, each.seat_id) == ("cards", job.seat_id)]
    # Cards go to the stations of a class in turn.
    k = listed.index(job.id) % max(stage.situation.work.asking[n].count, 1)
    stage.card((n, k), (job.id, job.name), float(job.bytes), at, deadline)
    return ()


def _render(stage: SetUp, job: DayJob) -> Iterable[ShareChange]:
    """Reads and writes where the seat works, each as fast as the other comes along."""
    n = next(n for n, one in enumerate(stage.situation.work.asking) if one.id == job.seat_id)
    home = next(iter(stage.situation.work.work_homes[n]), None)
    if home is None or (stage.resources.way(n, 0, home, reads=True)) is None:
        stage.left_out.append(job.name)
        return ()
    if job.written_bytes:
        _fits(stage, job, home, job.written_bytes, "written_bytes")
    both = [(True, float(job.bytes), _most(job))]
    if job.written_bytes:
        both.append((False, float(job.written_bytes), _most(job) * job.written_bytes / job.bytes))
    places = []
    for reads, size, most in both:
        way = stage.resources.way(n, 0, home, reads=reads) or ()
        costs = (*way, *stage.at_pool(home, reads=reads))
        places.append(stage.add(_copying(stage, job, costs, (size, most), stage.through(home, reads=reads))))
    _keep(stage, job, float(job.bytes + job.written_bytes), places)
    return ()


def _copy(stage: SetUp, job: DayJob) -> Iterable[ShareChange]:
    """Read in one pool and written in another at the same rate; to what is no pool of the plan only read."""
    if not job.to_pool_id:
        costs = stage.at_pool(job.pool_id, reads=True)
        _keep(stage, job, float(job.bytes), [stage.add(_copying(stage, job, costs, _sized(job), -1))])
        return ()
    _fits(stage, job, job.to_pool_id, job.bytes)
    way = stage.resources.between(job.pool_id, job.to_pool_id)
    if way is None:
        stage.left_out.append(job.name)
        return ()
    costs = (
        *way,
        *stage.at_pool(job.pool_id, reads=True),
        *stage.at_pool(job.to_pool_id, reads=False),
    )
    through = stage.through(job.to_pool_id, reads=False)
    place = stage.add(_copying(stage, job, costs, _sized(job), through))
    _keep(stage, job, float(job.bytes), [place])
    return ()


def _upload(stage: SetUp, job: DayJob) -> Iterable[ShareChange]:
    """Over the outside line, which gives it no more than it has."""
    up = stage.judged.bundle.plan.brief.limits.line.up_bytes_per_s
    if up <= 0:
        where = f"plan/brief/timetable/jobs/{job.id}/kind"
        raise Refused(where, job.kind, "another kind, or first say what the outside line sends", job.name)
    costs = (*stage.resources.out(job.pool_id), *stage.at_pool(job.pool_id, reads=True))
    place = stage.add(_copying(stage, job, costs, (float(job.bytes), min(_most(job), up)), -1))
    _keep(stage, job, float(job.bytes), [place])
    return ()


def _sized(job: DayJob) -> tuple[float, float]:
    return float(job.bytes), _most(job)


def _copying(stage: SetUp, job: DayJob, costs: Costs, how: tuple[float, float], through: int) -> Flow:
    """``how`` is (bytes, most bytes/s)."""
    return Flow(
        costs=costs,
        cap_bytes_per_s=how[1],
        starts_s=_starts_s(stage, job),
        size_bytes=how[0],
        weight=COPIES_REQUESTS,
        level=COPIES_LEVEL,
        through=through,
    )


def _keep(stage: SetUp, job: DayJob, size: float, places: list[int]) -> None:
    when = _starts_s(stage, job), _deadline_s(stage, job)
    stage.jobs.append(Job(job.id, job.name, job.kind, size, *when, tuple(places)))


def _scrub(stage: SetUp, job: DayJob) -> Iterator[ShareChange]:
    """Reads once what lies in the pool when it is filled to its limit, with the share of a rebuild."""
    pool = stage.pools[job.pool_id]
    size = float(max(pool.plannable_bytes, 1))
    when = _starts_s(stage, job), _deadline_s(stage, job)
    alone_s = size / pool.read.middle_bytes_per_s
    place = stage.left_over(job.pool_id, (job.id, job.name, "scrub"), size, alone_s, when)
    people = 1 - stage.judged.of(SETTINGS)[job.pool_id].rebuild_share
    yield from _meanwhile(stage, job, people, place)


def _rebuild(stage: SetUp, job: DayJob) -> Iterator[ShareChange]:
    """A drive was replaced: its pool is degraded, and rebuilds."""
    pool = stage.pools[job.pool_id]
    degraded = degraded_share(pool)
    when = _starts_s(stage, job), _deadline_s(stage, job)
    place = None
    if degraded is not None and pool.guaranteed_failures:
        place = stage.rebuild_of(job.pool_id, (job.id, job.name), *when)
    if degraded is None or place is None:
        where = f"plan/brief/timetable/jobs/{job.id}/pool_id"
        raise Refused(where, f"{pool.name}, {pool.layout_words}", REBUILD_ACCEPTED, job.name)
    time = stage.resources.drive_time(job.pool_id)
    yield ShareChange(when[0], {time: degraded})
    yield ShareChange(when[0], {time: 1 / degraded}, after=place)
    yield from _meanwhile(stage, job, people_share(stage, job.pool_id) * degraded, place)


def _meanwhile(stage: SetUp, job: DayJob, people: float, place: int) -> Iterator[ShareChange]:
    at, starts = stage.resources.pool(job.pool_id), _starts_s(stage, job)
    people = max(people, 1e-6)
    yield ShareChange(starts, {at: people})
    yield ShareChange(starts, {at: 1 / people}, after=place)


def _destage(stage: SetUp, job: DayJob) -> Iterable[ShareChange]:
    """A run is a buffer's: :func:`destaged_s`. Raises :class:`Refused` where there is no staging drive."""
    staging = [hold for hold in stage.holds if hold.kind == "staging" and hold.pool_id == job.pool_id]
    if not staging:
        where = f"plan/brief/timetable/jobs/{job.id}/pool_id"
        raise Refused(where, stage.pools[job.pool_id].name, "a pool with a staging drive", job.name)
    return ()


_ADDED: dict[str, Callable[[SetUp, DayJob], Iterable[ShareChange]]] = {
    "cards": _cards,
    "render": _render,
    "copy": _copy,
    "upload": _upload,
    "scrub": _scrub,
    "rebuild": _rebuild,
    "destage": _destage,
}
