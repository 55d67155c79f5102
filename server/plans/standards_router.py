"""A studio's house rules, classes and price list: read, taken into a plan, made out of a plan."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from accounts.scope import scope_of
from api.envelope import ERRORS, ErrorOut
from larder.asks.standards import Part, taken_patch
from larder.plan.house_rules import HouseRules

from .asked import PLAN, asked_in
from .schemas import Ask, PatchOut
from .standards import KeptStandards, make_standard, standards_in

router = Router(tags=["standards"], by_alias=True)

STUDIO = "/studios/{studio}/standards"


class StandardsOut(BaseModel):
    """The studio's standards; number 0 are those that every studio starts with.

    With a ``reason`` what is kept cannot be read, and those count until somebody makes others the studio's.
    """

    number: int
    changed_at: datetime | None
    changed_by: str
    reason: str
    currency: str
    house_rules: HouseRules
    classes: int
    prices: int


class AskTake(Ask):
    """Which part of the studio's standards a plan would take over."""

    part: Part


class AskMake(AskTake):
    """Which part of what is asked is to become the studio's, decided on its standards ``number``."""

    number: Annotated[int, Field(ge=0, le=2**31 - 1)]


def _out(kept: KeptStandards) -> StandardsOut:
    catalogue = kept.standards.catalogue
    return StandardsOut(
        number=kept.number,
        changed_at=kept.changed_at,
        changed_by=kept.changed_by,
        reason=kept.reason,
        currency=kept.standards.currency,
        house_rules=kept.standards.house_rules,
        classes=len(catalogue.drives) + len(catalogue.boxes),
        prices=len(catalogue.prices),
    )


@router.get(STUDIO, response={200: StandardsOut, **ERRORS}, operation_id="get_standards")
def get_standards(request: HttpRequest, studio: str) -> StandardsOut:
    """The studio's standards."""
    return _out(standards_in(scope_of(request, studio)))


@router.post(f"{PLAN}/standards/take", response={200: PatchOut, **ERRORS}, operation_id="take_standards")
def take_standards(request: HttpRequest, studio: str, plan_id: UUID, body: AskTake) -> PatchOut:
    """What taking the studio's rules, or its classes and prices, would change; nothing is saved."""
    scope = scope_of(request, studio)
    _, bundle = asked_in(scope, plan_id, body)
    return PatchOut(patch=taken_patch(bundle, standards_in(scope).standards, body.part))


@router.post(
    f"{PLAN}/standards/make",
    response={200: StandardsOut, 409: ErrorOut, **ERRORS},
    operation_id="make_standards",
)
def make_standards(request: HttpRequest, studio: str, plan_id: UUID, body: AskMake) -> StandardsOut:
    """Make the rules, or the classes and prices, of what is asked the studio's."""
    scope = scope_of(request, studio)
    plan, bundle = asked_in(scope, plan_id, body)
    return _out(make_standard(scope, plan, bundle, body.part, body.number))
