"""Long work over HTTP: begun, looked at once a second, cancelled, tried again; a route for each kind."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, create_model

from accounts.scope import scope_of
from api.envelope import ERRORS
from plans.actions import plan_in
from plans.asked import PLAN, STUDIO, asked_in

from . import actions
from .kind import Asks, Kind
from .kinds import KINDS
from .models import LongJob, Status

router = Router(tags=["jobs"], by_alias=True)
JOB = STUDIO + "/jobs/{uuid:job_id}"
NEWEST = 3


class JobStanding(BaseModel):
    """A job: how far it is, and what it was asked about where that tells it from others of its kind."""

    id: UUID
    kind: str
    status: Status
    done: int
    wanted: int
    fault: str
    about: str
    asked_at: datetime


JobOut: Any = create_model(
    "JobOut",
    __base__=JobStanding,
    __doc__="How a job stands, and what it came to under its kind; null until there is something to tell.",
    **{kind.told: (kind.result | None, ...) for kind in KINDS.values()},
)


def standing_of(job: LongJob) -> JobStanding:
    """A job as it stands."""
    kind = KINDS[job.kind]
    came = dict.fromkeys((each.told for each in KINDS.values()), None)
    standing: JobStanding = JobOut(
        id=job.pk,
        kind=job.kind,
        status=Status(job.status),
        done=job.parts.count(),
        wanted=job.wanted,
        fault=job.fault,
        about=kind.asks.about(job.asked) if kind.asks else "",
        asked_at=job.asked_at,
        **came | {kind.told: _came_to(job, kind)},
    )
    return standing


def _came_to(job: LongJob, kind: Kind) -> Any:
    if job.result is not None:
        return kind.result.model_validate(job.result)
    return kind.so_far(dict(job.parts.values_list("seed", "told"))) if kind.so_far else None


def _routes_of(kind: Kind, asks: Asks) -> None:
    """Where a kind is asked of a plan, and where its newest jobs are listed."""
    name = kind.id.replace("-", "_")

    def begin(request: HttpRequest, studio: str, plan_id: UUID, body: Any) -> JobStanding | None:
        scope = scope_of(request, studio)
        plan, bundle = asked_in(scope, plan_id, body)
        job = actions.begin_job(scope, plan, bundle, kind, asks, body)
        return None if job is None else standing_of(job)

    def listed(request: HttpRequest, studio: str, plan_id: UUID) -> list[JobStanding]:
        plan = plan_in(scope_of(request, studio), plan_id)
        jobs = LongJob.objects.filter(plan=plan, studio=plan.studio_id, kind=kind.id)
        return [standing_of(job) for job in jobs[:NEWEST]]

    begin.__annotations__["body"] = asks.body
    begin.__doc__ = f"Begin a job: {asks.body.__doc__}"
    listed.__doc__ = "The plan's newest jobs of this kind, the newest first."
    answer = JobOut | None if kind.is_awaited else JobOut
    router.post(f"{PLAN}/{asks.path}", response={200: answer, **ERRORS}, operation_id=f"begin_{name}")(begin)
    router.get(f"{PLAN}/{asks.path}", response={200: list[JobOut], **ERRORS}, operation_id=f"list_{name}")(
        listed
    )


for _kind in KINDS.values():
    if _kind.asks:
        _routes_of(_kind, _kind.asks)


@router.get(JOB, response={200: JobOut, **ERRORS}, operation_id="get_job")
def get_job(request: HttpRequest, studio: str, job_id: UUID) -> JobStanding:
    """How a job stands."""
    return standing_of(actions.job_in(scope_of(request, studio), job_id))


@router.post(f"{JOB}/cancel", response={200: JobOut, **ERRORS}, operation_id="cancel_job")
def cancel_job(request: HttpRequest, studio: str, job_id: UUID) -> JobStanding:
    """End a job; what is done of it stays."""
    return standing_of(actions.cancel_job(scope_of(request, studio), job_id))


@router.post(f"{JOB}/retry", response={200: JobOut, **ERRORS}, operation_id="retry_job")
def retry_job(request: HttpRequest, studio: str, job_id: UUID) -> JobStanding:
    """Go on with a job that was cancelled or failed."""
    return standing_of(actions.retry_job(scope_of(request, studio), job_id))
