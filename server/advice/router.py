"""Questions about designs: what the advisor finds for a plan's brief; and a design that becomes a plan."""

from __future__ import annotations

from collections.abc import Callable
from threading import Lock
from typing import Annotated, TypeVar
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from accounts.models import Role
from accounts.scope import NotAllowed, scope_of
from api.envelope import ERRORS
from jobs.actions import asked_before
from jobs.kinds import advice as searches
from jobs.kinds.advice import without_acceptances
from jobs.models import Status
from larder.asks.advisor.advise import advise, opened
from larder.asks.advisor.answers import Advice
from larder.asks.advisor.more import MoreOf, more_of
from larder.asks.advisor.search import choices_for
from larder.asks.advisor.why_not import Offer, WhyNot, offer_of, why_not
from larder.asks.disagreements import Disagreement, disagreements_of
from larder.base.errors import Refused
from larder.plan.bundle import Bundle
from larder.readers.generic_lists import usual_prices_patch
from plans import actions
from plans.asked import PLAN, asked_bundle, asked_in
from plans.schemas import Ask, PatchOut

router = Router(tags=["plans"], by_alias=True)
T = TypeVar("T")
_one_at_a_time = Lock()
"""A search takes seconds of a processor: whoever asks the same next finds it done."""


class AskAdvice(Ask):
    """A question to the advisor; without ``losers`` schools that do not serve are left for the next one."""

    losers: bool = True


class AskDesign(Ask):
    """One design of the advice, by its key, and what the plan is to be called."""

    key: Annotated[str, Field(max_length=200)]
    name: Annotated[str, Field(min_length=1, max_length=80)]


class AskWhyNot(Ask):
    """Something that one points at."""

    of: Annotated[str, Field(max_length=80)]


class OpenedOut(BaseModel):
    """The plan that a design has become."""

    id: UUID
    name: str


def _searched(
    request: HttpRequest, studio: str, plan_id: UUID, body: Ask, answer: Callable[[Bundle], T]
) -> T:
    """What the advisor answers about what was asked, where that takes seconds and no more."""
    bundle = without_acceptances(asked_bundle(request, studio, plan_id, body))
    with _one_at_a_time:
        options = choices_for(bundle).options
        if options.takes_long:
            said = f"{len(options.drives)} classes of drive and {len(options.boxes)} of boxes"
            raise Refused("catalogue", said, "fewer, or to be looked through as a job", "Catalogue")
        return answer(bundle)


@router.post(f"{PLAN}/advise", response={200: Advice, **ERRORS}, operation_id="advise")
def ask_advice(request: HttpRequest, studio: str, plan_id: UUID, body: AskAdvice) -> Advice:
    """The best design of each school for the brief of what was asked, and the few worth a thought."""
    return _searched(request, studio, plan_id, body, lambda b: advise(b, losers=body.losers).advice)


@router.post(f"{PLAN}/advise/open", response={201: OpenedOut, **ERRORS}, operation_id="open_design")
def open_design(request: HttpRequest, studio: str, plan_id: UUID, body: AskDesign) -> tuple[int, OpenedOut]:
    """Make an ordinary plan of one design."""
    scope = scope_of(request, studio)
    if not scope.role.may(Role.TECHNICIAN):
        raise NotAllowed(scope.role, Role.TECHNICIAN)
    made = opened(asked_in(scope, plan_id, body)[1], body.key, body.name)
    plan = actions.create_plan(scope, made)
    return 201, OpenedOut(id=plan.pk, name=plan.name)


@router.post(f"{PLAN}/advise/offered", response={200: Offer, **ERRORS}, operation_id="get_offer")
def ask_offered(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> Offer:
    """What one may point at: layouts, boxes, drives, networks; and whether to look at all takes long."""
    return offer_of(without_acceptances(asked_bundle(request, studio, plan_id, body)))


@router.post(f"{PLAN}/advise/why-not", response={200: WhyNot, **ERRORS}, operation_id="ask_why_not")
def ask_why_not(request: HttpRequest, studio: str, plan_id: UUID, body: AskWhyNot) -> WhyNot:
    """What comes of using whatever is pointed at."""
    return _searched(request, studio, plan_id, body, lambda b: why_not(b, body.of))


@router.post(f"{PLAN}/advise/more", response={200: list[MoreOf], **ERRORS}, operation_id="ask_more")
def ask_more(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> list[MoreOf]:
    """What a little more of space, people, safety, quiet or money would cost."""
    return list(_searched(request, studio, plan_id, body, more_of))


@router.post(
    f"{PLAN}/advise/disagreements",
    response={200: list[Disagreement], **ERRORS},
    operation_id="list_disagreements",
)
def ask_disagreements(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> list[Disagreement]:
    """Where practitioners disagree, with the numbers of what was asked on both sides.

    Questions of schools have the figures of a search; of one that takes long, once it has been made.
    """
    plan, bundle = asked_in(scope_of(request, studio), plan_id, body)

    def advice(_: Bundle) -> Advice:
        bare = without_acceptances(bundle)
        if not choices_for(bare).options.takes_long:
            with _one_at_a_time:
                return advise(bare).advice
        job = asked_before(plan, searches.KIND, searches.searched(bare))
        if job is None or job.status != Status.DONE:
            raise Refused("designs", "not looked for yet", "those of a search that is done", "Designs")
        return Advice.model_validate(job.result)

    return list(disagreements_of(bundle, advice))


@router.post(f"{PLAN}/advise/prices", response={200: PatchOut, **ERRORS}, operation_id="ask_usual_prices")
def ask_usual_prices(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> PatchOut:
    """The change that prices by the usual list whatever has no price yet; nothing is saved."""
    return PatchOut(patch=usual_prices_patch(asked_bundle(request, studio, plan_id, body)))
