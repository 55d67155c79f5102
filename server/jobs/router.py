"""Long work over HTTP: begun, looked at once a second, cancelled, tried again."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from accounts.scope import scope_of
from api.envelope import ERRORS
from larder.asks.rehearsal.many_days import MOST_DAYS, RehearsedDays
from plans.actions import plan_in
from plans.asked import PLAN, STUDIO, asked_in
from plans.schemas import AskDay

from . import actions
from .kinds import REHEARSE_DAYS
from .models import LongJob, Status

router = Router(tags=["jobs"], by_alias=True)
JOB = STUDIO + "/jobs/{uuid:job_id}"


class AskDays(AskDay):
    """So many drawn days of what is asked."""

    days: Annotated[int, Field(ge=2, le=MOST_DAYS)] = 500
    seed: Annotated[int, Field(ge=0, le=10**9)] = 1


class DaysJob(BaseModel):
    """Drawn days as a job: how far it is, what broke in them, and what they came to once all are done."""

    id: UUID
    status: Status
    done: int
    wanted: int
    fault: str
    fails: list[str]
    asked_at: datetime
    result: RehearsedDays | None


def _told(job: LongJob) -> DaysJob:
    result = None if job.result is None else RehearsedDays.model_validate(job.result)
    return DaysJob(
        id=job.pk,
        status=Status(job.status),
        done=job.parts.count(),
        wanted=job.wanted,
        fault=job.fault,
        fails=job.asked["fails"],
        asked_at=job.asked_at,
        result=result,
    )


@router.post(f"{PLAN}/rehearse/days", response={200: DaysJob, **ERRORS}, operation_id="rehearse_days")
def rehearse_days(request: HttpRequest, studio: str, plan_id: UUID, body: AskDays) -> DaysJob:
    """Begin drawn days of what is asked, as a job."""
    scope = scope_of(request, studio)
    plan, bundle = asked_in(scope, plan_id, body)
    asked = {"document": bundle.document(), "fails": body.fails, "seed": body.seed}
    return _told(actions.begin_job(scope, plan, REHEARSE_DAYS, asked, body.days))


@router.get(f"{PLAN}/rehearse/days", response={200: list[DaysJob], **ERRORS}, operation_id="list_days")
def list_days(request: HttpRequest, studio: str, plan_id: UUID) -> list[DaysJob]:
    """The plan's newest jobs of drawn days, the newest first."""
    plan = plan_in(scope_of(request, studio), plan_id)
    return [
        _told(job) for job in LongJob.objects.filter(plan=plan, studio=plan.studio_id, kind=REHEARSE_DAYS)[:3]
    ]


@router.get(JOB, response={200: DaysJob, **ERRORS}, operation_id="get_job")
def get_job(request: HttpRequest, studio: str, job_id: UUID) -> DaysJob:
    """How a job stands."""
    return _told(actions.job_in(scope_of(request, studio), job_id))


@router.post(f"{JOB}/cancel", response={200: DaysJob, **ERRORS}, operation_id="cancel_job")
def cancel_job(request: HttpRequest, studio: str, job_id: UUID) -> DaysJob:
    """End a job; what is done of it stays."""
    return _told(actions.cancel_job(scope_of(request, studio), job_id))


@router.post(f"{JOB}/retry", response={200: DaysJob, **ERRORS}, operation_id="retry_job")
def retry_job(request: HttpRequest, studio: str, job_id: UUID) -> DaysJob:
    """Go on with a job that was cancelled or failed."""
    return _told(actions.retry_job(scope_of(request, studio), job_id))
