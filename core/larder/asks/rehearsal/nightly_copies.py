"""The plan's copies as jobs of the day: those that run every night, beside whatever the timetable lists.

A day's changes are moved in one run. A pool of which the timetable lists a copy or an upload itself has
those; copies that follow every change, or run less than once a day, are no part of an ordinary day.
"""

from __future__ import annotations

from collections.abc import Iterator

from larder.laws.nightly import is_nightly
from larder.plan.safekeeping import Copy
from larder.plan.timetable import DayJob, Timetable
from larder.stages.copies import COPIES, CopyRun
from larder.stages.keeping import KEEPING, Keeping, ends_of
from larder.stages.stage import Judged


def with_nightly_copies(judged: Judged) -> Timetable:
    """The timetable of a plan with a job for every copy of a pool that runs each night."""
    timetable = judged.bundle.plan.brief.timetable
    listed = {job.pool_id for job in timetable.jobs if job.kind in ("copy", "upload")}
    keeping = judged.of(KEEPING)
    runs = {run.id: run for run in judged.of(COPIES).copies}
    jobs = [
        job
        for copy in judged.bundle.plan.safekeeping.copies
        if not copy.runs_all_the_time and is_nightly(copy.every_hours)
        for job in _jobs(judged, copy, runs[copy.id], keeping)
        if job.pool_id not in listed
    ]
    return timetable.model_copy(update={"jobs": (*timetable.jobs, *jobs)})


def _jobs(judged: Judged, copy: Copy, run: CopyRun, keeping: Keeping) -> Iterator[DayJob]:
    """One, from the first pool that the copy reads; none where it reads no pool or nothing carries it."""
    every = keeping.of(copy)
    sources = [body for each in every for body in ends_of(copy, each)[0].bodies]
    pools = [body.key.removeprefix("pool:") for body in sources if body.key.startswith("pool:")]
    size = round(sum(each.kept.changed_bytes_per_day for each in every))
    if run.missing or not pools or not run.bytes_per_s or size < 1:
        return
    to = judged.bundle.plan.pool_of(copy.where)
    if to == pools[0]:
        return
    # Not validated: to a store of the house it has no pool to go to, and is only read.
    yield DayJob.model_construct(
        id=f"copy-{copy.id}",
        name=copy.name,
        kind="upload" if run.is_over_the_line and not to else "copy",
        seat_id="",
        pool_id=pools[0],
        to_pool_id=to,
        bytes=size,
        written_bytes=0,
        most_bytes_per_s=run.bytes_per_s if not to else 0.0,
        from_minute=copy.from_minute,
        by_minute=copy.by_minute,
    )
