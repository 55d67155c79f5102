"""A plan's catalogue: what a CSV or another plan would change of it, and its lists as CSV.

Nothing is saved here: the answer is a change that the plan takes like any other, and that undo takes back.
"""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel, Field

from accounts.scope import scope_of
from api.csv_file import csv_file
from api.envelope import ERRORS
from larder.base.patch import Operation
from larder.plan.catalogue import Listing
from larder.readers.catalogue_csv import read_catalogue_csv, write_catalogue_csv
from larder.readers.csv_table import LARGEST_CSV_BYTES
from larder.readers.generic_lists import brought_patch, missing_patch

from . import actions
from .asked import PLAN, asked_bundle, asked_in
from .schemas import Ask, PatchOut

router = Router(tags=["catalogue"], by_alias=True)

CATALOGUE = PLAN + "/catalogue"


class AskCsv(Ask):
    """A CSV of drives, boxes or prices, held against the catalogue of what is asked."""

    text: Annotated[str, Field(max_length=LARGEST_CSV_BYTES)]


class AskBring(Ask):
    """Whose classes and prices to bring: another plan's, or the generic ones where none is named."""

    from_plan: UUID | None = None


class RowsOut(BaseModel):
    """What would change: classes or prices added and replaced, and the change itself."""

    listing: Listing
    added: int
    replaced: int
    patch: tuple[Operation, ...]


@router.post(f"{CATALOGUE}/read", response={200: RowsOut, **ERRORS}, operation_id="read_catalogue")
def read_catalogue(request: HttpRequest, studio: str, plan_id: UUID, body: AskCsv) -> RowsOut:
    """What a CSV would change."""
    bundle = asked_bundle(request, studio, plan_id, body)
    rows = read_catalogue_csv(body.text.encode(), bundle.catalogue)
    return RowsOut(listing=rows.listing, added=rows.added, replaced=rows.replaced, patch=rows.patch)


@router.post(f"{CATALOGUE}/bring", response={200: PatchOut, **ERRORS}, operation_id="bring_catalogue")
def bring_catalogue(request: HttpRequest, studio: str, plan_id: UUID, body: AskBring) -> PatchOut:
    """What another plan's classes and prices, or the generic ones, would change."""
    scope = scope_of(request, studio)
    _, bundle = asked_in(scope, plan_id, body)
    if body.from_plan is None:
        return PatchOut(patch=missing_patch(bundle.catalogue))
    source = actions.newest_bundle(scope, body.from_plan).catalogue
    return PatchOut(patch=brought_patch(bundle.catalogue, source, replaces=True))


@router.get(CATALOGUE + "/{listing}", response={200: None, **ERRORS}, operation_id="export_catalogue")
def export_catalogue(request: HttpRequest, studio: str, plan_id: UUID, listing: Listing) -> HttpResponse:
    """One list of the saved catalogue as CSV."""
    catalogue = actions.newest_bundle(scope_of(request, studio), plan_id).catalogue
    return csv_file(f"{listing}.csv", write_catalogue_csv(catalogue, listing))
