"""Two to four plans or revisions of a studio beside each other."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel, Field

from accounts.scope import Scope, scope_of
from api.csv_file import csv_file
from api.envelope import ERRORS
from larder.asks.side_by_side import (
    COMPARE_COLUMNS,
    MOST_PLANS,
    SideBySide,
    WhatIf,
    compare_rows,
    side_by_side,
)
from larder.plan.bundle import Bundle
from larder.readers.csv_table import write_table
from larder.readers.plan_file import bundle_from

from . import actions
from .asked import STUDIO
from .schemas import RevisionNumber

router = Router(tags=["plans"], by_alias=True)


class ComparedPlan(BaseModel):
    """A plan at one of its revisions; 0 is its newest."""

    plan_id: UUID
    revision: Annotated[RevisionNumber | None, Field()] = None


class AskSideBySide(BaseModel):
    """Which plans, the baseline first, and what is changed in all of them alike."""

    plans: Annotated[list[ComparedPlan], Field(min_length=2, max_length=MOST_PLANS)]
    what_if: WhatIf = WhatIf()
    same_brief: bool = True


def _bundle(scope: Scope, wanted: ComparedPlan) -> Bundle:
    plan = actions.plan_in(scope, wanted.plan_id)
    revision = actions.revision_in(plan, wanted.revision or plan.head)
    bundle = bundle_from(revision.document)
    if wanted.revision is None or wanted.revision == plan.head:
        return bundle
    named = bundle.plan.model_copy(update={"name": f"{bundle.plan.name}, revision {wanted.revision}"[:80]})
    return bundle.model_copy(update={"plan": named})


def _side_by_side(scope: Scope, body: AskSideBySide) -> SideBySide:
    bundles = [_bundle(scope, wanted) for wanted in body.plans]
    return side_by_side(bundles, body.what_if, same_brief=body.same_brief)


@router.post(f"{STUDIO}/side-by-side", response={200: SideBySide, **ERRORS}, operation_id="side_by_side")
def ask_side_by_side(request: HttpRequest, studio: str, body: AskSideBySide) -> SideBySide:
    """The same measures of every plan, with what differs marked."""
    return _side_by_side(scope_of(request, studio), body)


@router.post(f"{STUDIO}/side-by-side.csv", response={200: None, **ERRORS}, operation_id="export_side_by_side")
def export_side_by_side(request: HttpRequest, studio: str, body: AskSideBySide) -> HttpResponse:
    """The comparison as CSV, a column a plan."""
    result = _side_by_side(scope_of(request, studio), body)
    columns = (*COMPARE_COLUMNS, *(column.name for column in result.columns))
    return csv_file("compare.csv", write_table(columns, compare_rows(result)))
