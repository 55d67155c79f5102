"""Long work is begun, cancelled and tried again here: permission, change and audit entry together."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from accounts.models import Role
from accounts.permission import needs
from accounts.scope import NotAllowed, NotHere, Scope
from larder.base.errors import Refused
from larder.plan.bundle import Bundle
from plans.actions import audit
from plans.models import Plan

from .kind import Asks, Json, Kind
from .models import OPEN, LongJob, Status
from .tasks import defer_slices

MOST_OPEN, KEPT = 3, 20
"""Open jobs that people may have at once in a studio; ended ones that are kept of a plan."""


def job_in(scope: Scope, job_id: UUID, *, lock: bool = False) -> LongJob:
    """The studio's job; raises :class:`NotHere` for another's, or one whose plan was removed."""
    jobs = LongJob.objects.filter(studio=scope.studio, plan__removed_at__isnull=True)
    job = (jobs.select_for_update(of=("self",)) if lock else jobs).filter(pk=job_id).first()
    if job is None:
        raise NotHere
    return job


def asked_before(plan: Plan, kind: Kind, asked: Json) -> LongJob | None:
    """The newest job of a plan that was asked just this."""
    jobs = LongJob.objects.filter(plan=plan, studio=plan.studio_id, kind=kind.id)
    return jobs.filter(asked__digest=asked["digest"]).first()


def begin_job(scope: Scope, plan: Plan, bundle: Bundle, kind: Kind, asks: Asks, body: Any) -> LongJob | None:
    """The job of this kind that is asked: a new one or, of a kind that is awaited, the one there is already.

    None where whoever asks only looks. What no worker could work out is refused now. Raises :class:`Refused`
    also where the studio has enough open already.
    """
    asked = asks.asked(bundle, body)
    if kind.is_awaited:
        known = asked_before(plan, kind, asked)
        if known is not None or not body.begin:
            return known
    if not scope.role.may(kind.role):
        raise NotAllowed(scope.role, kind.role)
    asks.check(bundle, body)
    with transaction.atomic():
        return _begun(scope, plan, kind, asked, asks.wanted(bundle, body))


def _begun(scope: Scope, plan: Plan, kind: Kind, asked: Json, wanted: int) -> LongJob:
    in_studio = LongJob.objects.filter(studio=scope.studio, plan__isnull=False)
    alike = in_studio.filter(plan=plan, kind=kind.id)
    if kind.is_awaited:
        # Whoever asks anew has no more use for what was asked before.
        alike.filter(status__in=OPEN).update(status=Status.CANCELLED, ended_at=timezone.now())
    if in_studio.filter(status__in=OPEN).count() >= MOST_OPEN:
        raise Refused(
            "job", f"a job beside {MOST_OPEN} others", "one when another has ended or was cancelled"
        )
    old = alike.exclude(status__in=OPEN)[KEPT - 1 :]
    LongJob.objects.filter(pk__in=[each.pk for each in old]).delete()
    job = LongJob.objects.create(
        studio=scope.studio, plan=plan, kind=kind.id, asked=asked, wanted=wanted, asked_by=scope.person
    )
    defer_slices(job)
    audit(scope, "begin job", plan, f"{kind.id}, {wanted} parts")
    return job


@needs(Role.TECHNICIAN)
def cancel_job(scope: Scope, job_id: UUID) -> LongJob:
    """End a job; what is done of it stays, and one that has ended stays as it is."""
    job = job_in(scope, job_id, lock=True)
    if job.status in OPEN:
        job.status, job.ended_at = Status.CANCELLED, timezone.now()
        job.save(update_fields=["status", "ended_at"])
        _audit(scope, "cancel job", job)
    return job


@needs(Role.TECHNICIAN)
def retry_job(scope: Scope, job_id: UUID) -> LongJob:
    """Go on with a job that was cancelled or failed, from where it was."""
    job = job_in(scope, job_id, lock=True)
    if job.status in (Status.CANCELLED, Status.FAILED):
        job.status, job.fault, job.ended_at = Status.WAITING, "", None
        job.save(update_fields=["status", "fault", "ended_at"])
        defer_slices(job)
        _audit(scope, "retry job", job)
    return job


def _audit(scope: Scope, action: str, job: LongJob) -> None:
    """What is done to a studio's own work is no plan's."""
    if job.plan is not None:
        audit(scope, action, job.plan, job.kind)
