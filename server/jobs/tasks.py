"""What workers do: a slice of a job's parts at a time, so that several workers share a job.

A slice commits its parts a few at a time. A worker that is killed loses no more than those few: its slice is
given to another once its heartbeat stops, and begins where it was. What two have done is kept once.
"""

from __future__ import annotations

import logging
import time
from uuid import UUID

from django.db import InterfaceError, OperationalError, transaction
from django.utils import timezone
from procrastinate import JobContext
from procrastinate.contrib.django import app

from accounts.models import Studio
from larder.base.errors import LarderError
from plans.judging import old_heads

from .kind import Work
from .kinds import KINDS, judging
from .models import OPEN, JobPart, LongJob, Status

log = logging.getLogger("larder")
QUEUE = "long"
COMMIT_SECONDS = 0.5
"""Parts are kept at least so often."""
STALLED_SECONDS = 15.0
MOST_TRIES = 3
MOST_JUDGED = 200
"""Plans that are judged again in one job; the next brings the others."""


def defer_slices(job: LongJob) -> None:
    """Queue what is left to do of a job, in the transaction that is open; first what somebody waits for."""
    kind = KINDS[job.kind]
    queue = slice_task.configure(priority=int(kind.is_awaited))
    for first in range(0, job.wanted, kind.slice):
        queue.defer(job_id=str(job.pk), first=first, stop=min(first + kind.slice, job.wanted))


@app.task(queue=QUEUE, name="jobs.slice", retry=MOST_TRIES - 1, pass_context=True)
def slice_task(context: JobContext, job_id: str, first: int, stop: int) -> None:
    """A slice; one that comes to nothing each time ends its job."""
    try:
        work_on_slice(job_id, first, stop)
    except (OperationalError, InterfaceError):
        raise  # the database is away: another try comes when it is back
    except Exception:
        log.exception("a slice of job %s came to nothing", job_id)
        if context.job.attempts + 1 >= MOST_TRIES:
            _fail(UUID(job_id), "The server made a mistake; its log tells the reason.")
        raise


def work_on_slice(job_id: str, first: int, stop: int) -> None:
    """Work out the parts from ``first`` to before ``stop`` that are not there yet."""
    job = LongJob.objects.filter(pk=UUID(job_id), status__in=OPEN).first()
    if job is None:
        return  # cancelled, failed, done, or gone with its plan
    LongJob.objects.filter(pk=job.pk, status=Status.WAITING).update(status=Status.RUNNING)
    try:
        work = KINDS[job.kind].ready(job.asked)
        _parts(job, work, first, stop)
        _sum_up(job, work)
    except LarderError as refused:
        _fail(job.pk, str(refused))  # no other try would come to anything else


def _fail(job_id: UUID, fault: str) -> None:
    LongJob.objects.filter(pk=job_id, status__in=OPEN).update(
        status=Status.FAILED, fault=fault[:400], ended_at=timezone.now()
    )


def _parts(job: LongJob, work: Work, first: int, stop: int) -> None:
    done = set(JobPart.objects.filter(job=job, seed__range=(first, stop - 1)).values_list("seed", flat=True))
    made: list[JobPart] = []
    since = time.monotonic()
    for seed in range(first, stop):
        if seed in done:
            continue
        made.append(JobPart(studio_id=job.studio_id, job=job, seed=seed, told=work.part(seed)))
        if time.monotonic() - since > COMMIT_SECONDS:
            if not _keep(job, made):
                return
            made, since = [], time.monotonic()
    _keep(job, made)


def _keep(job: LongJob, made: list[JobPart]) -> bool:
    """Keep parts unless the job has ended meanwhile; whether it goes on."""
    with transaction.atomic():
        if not LongJob.objects.select_for_update().filter(pk=job.pk, status__in=OPEN).exists():
            return False
        JobPart.objects.bulk_create(made, ignore_conflicts=True)
    return True


def _sum_up(job: LongJob, work: Work) -> None:
    """Whoever brings the last part sums up; the row is held, so that it is one of them."""
    with transaction.atomic():
        held = LongJob.objects.select_for_update().filter(pk=job.pk, status__in=OPEN).first()
        if held is None or held.parts.count() < held.wanted:
            return
        held.result = work.summed(held.parts.values_list("told", flat=True))
        held.status, held.ended_at = Status.DONE, timezone.now()
        held.save(update_fields=["result", "status", "ended_at"])


@app.periodic(cron="* * * * * */5")
@app.task(queue=QUEUE, name="jobs.rescue", queueing_lock="rescue", pass_context=False)
async def rescue(timestamp: int) -> None:  # noqa: ARG001  (the queue says when it was due)
    """Give what a dead worker was at to the others."""
    for stalled in await app.job_manager.get_stalled_jobs(
        queue=QUEUE, seconds_since_heartbeat=STALLED_SECONDS
    ):
        await app.job_manager.retry_job(stalled)


@app.periodic(cron="* * * * * */20")
@app.task(queue=QUEUE, name="jobs.judge_again", queueing_lock="judge again", pass_context=False)
def judge_plans_again(timestamp: int) -> None:  # noqa: ARG001  (the queue says when it was due)
    """Queue the plans of every studio whose verdicts are of older rules."""
    begin_judging_again()


def begin_judging_again() -> None:
    """A job for every studio with plans that were judged by older rules, unless it has one open."""
    kind = judging.KIND.id
    for studio in Studio.objects.exclude(jobs__kind=kind, jobs__status__in=OPEN):
        revisions = list(old_heads(studio).values_list("pk", flat=True)[:MOST_JUDGED])
        if revisions:
            with transaction.atomic():
                job = LongJob.objects.create(
                    studio=studio, kind=kind, asked={"revisions": revisions}, wanted=len(revisions)
                )
                defer_slices(job)
