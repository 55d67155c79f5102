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
from larder.asks.advisor.advise import AdviceInParts, AdvicePart
from larder.asks.advisor.answers import Advice
from larder.asks.advisor.more import MoreOf
from larder.asks.advisor.why_not import WhyNot
from larder.asks.rehearsal.many_days import MOST_DAYS, RehearsedDays
from larder.asks.safeguard import GROUPS_A_PART, Lifetimes
from plans.actions import plan_in
from plans.asked import PLAN, STUDIO, asked_in
from plans.schemas import Ask, AskDay

from . import actions
from .kinds import ADVICE, LIFETIMES, MORE, REHEARSE_DAYS, WHY_NOT
from .models import LongJob, Status

router = Router(tags=["jobs"], by_alias=True)
JOB = STUDIO + "/jobs/{uuid:job_id}"
NEWEST, MOST_MILLION_YEARS = 3, 100


class AskDays(AskDay):
    """So many drawn days of what is asked."""

    days: Annotated[int, Field(ge=2, le=MOST_DAYS)] = 500
    seed: Annotated[int, Field(ge=0, le=10**9)] = 1


class AskLifetimes(Ask):
    """So many million years of a pool's groups."""

    pool_id: Annotated[str, Field(max_length=40)]
    million_years: Annotated[int, Field(ge=1, le=MOST_MILLION_YEARS)] = 10
    seed: Annotated[int, Field(ge=0, le=10**9)] = 1


class JobOut(BaseModel):
    """A job: how far it is, what it was asked about, and what it came to once all of it is done.

    Of drawn days ``fails`` is what broke in them; of lifetimes ``pool_id`` is whose. Advice is told as far as
    it has come.
    """

    id: UUID
    kind: str
    status: Status
    done: int
    wanted: int
    fault: str
    fails: list[str]
    pool_id: str
    asked_at: datetime
    days: RehearsedDays | None
    lifetimes: Lifetimes | None
    advice: Advice | None
    more: list[MoreOf] | None
    why_not: WhyNot | None


def _advice_so_far(job: LongJob) -> Advice | None:
    parts = list(job.parts.values_list("seed", "told"))
    if not parts or parts[0][0]:
        return None
    return AdviceInParts.summed(AdvicePart.model_validate(told) for _, told in parts)


def told_of(job: LongJob) -> JobOut:
    """A job as it stands."""
    came = job.result if job.result is not None else {}
    advice = None
    if job.kind == ADVICE:
        advice = Advice.model_validate(came) if came else _advice_so_far(job)
    return JobOut(
        id=job.pk,
        kind=job.kind,
        status=Status(job.status),
        done=job.parts.count(),
        wanted=job.wanted,
        fault=job.fault,
        fails=job.asked.get("fails", []),
        pool_id=job.asked.get("pool_id", ""),
        asked_at=job.asked_at,
        days=RehearsedDays.model_validate(came) if came and job.kind == REHEARSE_DAYS else None,
        lifetimes=Lifetimes.model_validate(came) if came and job.kind == LIFETIMES else None,
        advice=advice,
        more=came["told"] if came and job.kind == MORE else None,
        why_not=WhyNot.model_validate(came) if came and job.kind == WHY_NOT else None,
    )


def _newest(request: HttpRequest, studio: str, plan_id: UUID, kind: str) -> list[JobOut]:
    plan = plan_in(scope_of(request, studio), plan_id)
    jobs = LongJob.objects.filter(plan=plan, studio=plan.studio_id, kind=kind)
    return [told_of(job) for job in jobs[:NEWEST]]


@router.post(f"{PLAN}/rehearse/days", response={200: JobOut, **ERRORS}, operation_id="rehearse_days")
def rehearse_days(request: HttpRequest, studio: str, plan_id: UUID, body: AskDays) -> JobOut:
    """Begin drawn days of what is asked, as a job."""
    scope = scope_of(request, studio)
    plan, bundle = asked_in(scope, plan_id, body)
    asked = {"document": bundle.document(), "fails": body.fails, "seed": body.seed}
    return told_of(actions.begin_job(scope, plan, REHEARSE_DAYS, asked, body.days))


@router.get(f"{PLAN}/rehearse/days", response={200: list[JobOut], **ERRORS}, operation_id="list_days")
def list_days(request: HttpRequest, studio: str, plan_id: UUID) -> list[JobOut]:
    """The plan's newest jobs of drawn days, the newest first."""
    return _newest(request, studio, plan_id, REHEARSE_DAYS)


@router.post(f"{PLAN}/safeguard/lifetimes", response={200: JobOut, **ERRORS}, operation_id="live_through")
def live_through(request: HttpRequest, studio: str, plan_id: UUID, body: AskLifetimes) -> JobOut:
    """Begin to live through the groups of a pool of what is asked, as a job."""
    scope = scope_of(request, studio)
    plan, bundle = asked_in(scope, plan_id, body)
    asked = {"document": bundle.document(), "pool_id": body.pool_id, "seed": body.seed}
    wanted = body.million_years * 1_000_000 // GROUPS_A_PART
    return told_of(actions.begin_job(scope, plan, LIFETIMES, asked, wanted))


@router.get(
    f"{PLAN}/safeguard/lifetimes", response={200: list[JobOut], **ERRORS}, operation_id="list_lifetimes"
)
def list_lifetimes(request: HttpRequest, studio: str, plan_id: UUID) -> list[JobOut]:
    """The plan's newest jobs of lifetimes, the newest first."""
    return _newest(request, studio, plan_id, LIFETIMES)


@router.get(JOB, response={200: JobOut, **ERRORS}, operation_id="get_job")
def get_job(request: HttpRequest, studio: str, job_id: UUID) -> JobOut:
    """How a job stands."""
    return told_of(actions.job_in(scope_of(request, studio), job_id))


@router.post(f"{JOB}/cancel", response={200: JobOut, **ERRORS}, operation_id="cancel_job")
def cancel_job(request: HttpRequest, studio: str, job_id: UUID) -> JobOut:
    """End a job; what is done of it stays."""
    return told_of(actions.cancel_job(scope_of(request, studio), job_id))


@router.post(f"{JOB}/retry", response={200: JobOut, **ERRORS}, operation_id="retry_job")
def retry_job(request: HttpRequest, studio: str, job_id: UUID) -> JobOut:
    """Go on with a job that was cancelled or failed."""
    return told_of(actions.retry_job(scope_of(request, studio), job_id))
