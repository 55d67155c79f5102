"""Long work is begun, cancelled and tried again here: permission, change and audit entry together."""

from __future__ import annotations

from uuid import UUID

from django.utils import timezone

from accounts.models import Role
from accounts.permission import needs
from accounts.scope import NotHere, Scope
from larder.base.errors import Refused
from plans.actions import audit
from plans.models import Plan

from .kinds import AWAITED, KINDS, Json
from .models import OPEN, LongJob, Status
from .tasks import defer_slices

MOST_OPEN, KEPT = 3, 20
"""Open jobs that a studio may have at once; ended ones that are kept of a plan."""


def job_in(scope: Scope, job_id: UUID, *, lock: bool = False) -> LongJob:
    """The studio's job; raises :class:`NotHere` for another's, or one whose plan was removed."""
    jobs = LongJob.objects.filter(studio=scope.studio, plan__removed_at__isnull=True)
    job = (jobs.select_for_update(of=("self",)) if lock else jobs).filter(pk=job_id).first()
    if job is None:
        raise NotHere
    return job


@needs(Role.TECHNICIAN)
def begin_job(scope: Scope, plan: Plan, kind: str, asked: Json, wanted: int) -> LongJob:
    """Queue a job. What is refused is refused now: it is checked, or its first part is worked out.

    Raises :class:`Refused` also where the studio has enough open already.
    """
    work = KINDS[kind](asked)
    if work.check is None:
        work.part(0)
    else:
        work.check()
    if kind in AWAITED:
        # Whoever asks anew has no more use for what was asked before.
        LongJob.objects.filter(studio=scope.studio, plan=plan, kind=kind, status__in=OPEN).update(
            status=Status.CANCELLED, ended_at=timezone.now()
        )
    if LongJob.objects.filter(studio=scope.studio, status__in=OPEN).count() >= MOST_OPEN:
        raise Refused(
            "job", f"a job beside {MOST_OPEN} others", "one when another has ended or was cancelled"
        )
    old = LongJob.objects.filter(studio=scope.studio, plan=plan, kind=kind).exclude(status__in=OPEN)
    LongJob.objects.filter(pk__in=[each.pk for each in old[KEPT - 1 :]]).delete()
    job = LongJob.objects.create(
        studio=scope.studio, plan=plan, kind=kind, asked=asked, wanted=wanted, asked_by=scope.person
    )
    defer_slices(job)
    audit(scope, "begin job", plan, f"{kind}, {wanted} parts")
    return job


@needs(Role.TECHNICIAN)
def cancel_job(scope: Scope, job_id: UUID) -> LongJob:
    """End a job; what is done of it stays, and one that has ended stays as it is."""
    job = job_in(scope, job_id, lock=True)
    if job.status in OPEN:
        job.status, job.ended_at = Status.CANCELLED, timezone.now()
        job.save(update_fields=["status", "ended_at"])
        audit(scope, "cancel job", job.plan, job.kind)
    return job


@needs(Role.TECHNICIAN)
def retry_job(scope: Scope, job_id: UUID) -> LongJob:
    """Go on with a job that was cancelled or failed, from where it was."""
    job = job_in(scope, job_id, lock=True)
    if job.status in (Status.CANCELLED, Status.FAILED):
        job.status, job.fault, job.ended_at = Status.WAITING, "", None
        job.save(update_fields=["status", "fault", "ended_at"])
        defer_slices(job)
        audit(scope, "retry job", job.plan, job.kind)
    return job
