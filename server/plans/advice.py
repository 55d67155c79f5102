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
from larder.asks.advisor.advise import Advice, advise, opened
from larder.asks.advisor.more import MoreOf, more_of
from larder.asks.advisor.why_not import Offered, WhyNot, offered, why_not
from larder.asks.disagreements import Disagreement, disagreements_of
from larder.plan.bundle import Bundle
from larder.readers.generic_lists import usual_prices_patch

from . import actions
from .asked import PLAN, asked_bundle
from .schemas import Ask, PatchOut

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
    """What the advisor answers about what was asked; what was accepted there makes no other search."""
    bundle = asked_bundle(request, studio, plan_id, body)
    bundle = bundle.model_copy(update={"plan": bundle.plan.model_copy(update={"acceptances": ()})})
    with _one_at_a_time:
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
    made = _searched(request, studio, plan_id, body, lambda b: opened(b, body.key, body.name))
    plan = actions.create_plan(scope, made)
    return 201, OpenedOut(id=plan.pk, name=plan.name)


@router.post(f"{PLAN}/advise/offered", response={200: list[Offered], **ERRORS}, operation_id="list_offered")
def ask_offered(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> list[Offered]:
    """What one may point at: layouts, boxes, drives, networks."""
    return list(_searched(request, studio, plan_id, body, offered))


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
    """Where practitioners disagree, with the numbers of what was asked on both sides."""
    return list(_searched(request, studio, plan_id, body, disagreements_of))


@router.post(f"{PLAN}/advise/prices", response={200: PatchOut, **ERRORS}, operation_id="ask_usual_prices")
def ask_usual_prices(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> PatchOut:
    """The change that prices by the usual list whatever has no price yet; nothing is saved."""
    return PatchOut(patch=usual_prices_patch(asked_bundle(request, studio, plan_id, body)))
