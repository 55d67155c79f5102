"""Plans of a studio: list, begin, save, undo, and files in and out."""

from __future__ import annotations

import json
from typing import Annotated, Any
from uuid import UUID

from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.utils.text import slugify
from ninja import File, Query, Router
from ninja.files import UploadedFile

from accounts.models import Role
from accounts.scope import Scope, scope_of
from api.envelope import ERRORS, ErrorOut
from larder.base.errors import Refused
from larder.plan.bundle import Bundle
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES

from . import actions, begin
from .asked import PLAN, STUDIO
from .judging import SCALES, is_old, judged
from .models import Kind, Revision
from .schemas import (
    Changes,
    HeadOut,
    Line,
    LineOut,
    NewPlan,
    PlanOut,
    PlanPage,
    PlanRow,
    RevisionNumber,
    RevisionPage,
    RevisionRow,
    SavedOut,
)

router = Router(tags=["plans"], by_alias=True)

_WRITE_ERRORS = ERRORS | {409: ErrorOut}
HISTORY_SHOWN, PLANS_A_PAGE = 100, 50
Cursor = Annotated[int, Query(ge=0, le=2**63 - 1)]


def _plan_out(scope: Scope, revision: Revision) -> dict[str, Any]:
    plan = revision.plan
    found = judged(revision.document)
    undo, redo = actions.own_steps(scope, plan)
    may_write = scope.role.may(Role.TECHNICIAN)
    return {
        "id": plan.pk,
        "name": plan.name,
        "role": scope.role,
        "head": revision.number,
        "changed_at": revision.created_at,
        "changed_by": revision.author.username if revision.author else None,
        "document": found.bundle if found.evaluation else None,
        "evaluation": found.evaluation,
        "reason": found.reason,
        "notes": list(found.notes),
        "can_undo": may_write and bool(undo),
        "can_redo": may_write and bool(redo),
    }


@router.get(f"{STUDIO}/plans", response={200: PlanPage, **ERRORS}, operation_id="list_plans")
def list_plans(request: HttpRequest, studio: str, after: Cursor = 0) -> PlanPage:
    """The studio's plans, the last changed first; ``after`` is the ``next`` of the page before."""
    scope = scope_of(request, studio)
    heads = Revision.objects.filter(studio=scope.studio, plan__removed_at=None, number=F("plan__head"))
    if after:
        heads = heads.filter(pk__lt=after)
    # Documents stay in the database: a line needs the note, and what was judged before is kept beside it.
    lines = heads.select_related("plan", "author").defer("document", "patch", "inverse")
    # Newer revisions have higher keys, so the key is the cursor.
    found = list(lines.annotate(note=F("document__plan__note")).order_by("-pk")[: PLANS_A_PAGE + 1])
    shown = found[:PLANS_A_PAGE]
    return PlanPage(
        plans=[_row(revision) for revision in shown],
        next=str(shown[-1].pk) if len(found) > len(shown) else None,
    )


def _row(revision: Revision) -> PlanRow:
    """A line of the list: nothing is judged for it; what is old a job judges again."""
    verdicts = revision.verdicts or {}
    note = getattr(revision, "note", None)
    return PlanRow(
        id=revision.plan.pk,
        name=revision.plan.name,
        note=note if isinstance(note, str) else "",
        head=revision.number,
        changed_at=revision.created_at,
        changed_by=revision.author.username if revision.author else None,
        findings=verdicts.get("findings", 0),
        is_old=is_old(revision),
        **{scale: verdicts.get(scale) for scale in SCALES},
    )


@router.post(f"{STUDIO}/plans", response={201: PlanOut, **ERRORS}, operation_id="create_plan")
def create_plan(request: HttpRequest, studio: str, body: NewPlan) -> tuple[int, dict[str, Any]]:
    """Begin a plan: with a brief in one line, from a starting point, as a copy of another, or empty."""
    scope = scope_of(request, studio)
    plan = actions.create_plan(scope, begin.bundle_for(scope, body))
    return 201, _plan_out(scope, actions.revision_in(plan, 1))


@router.post(f"{STUDIO}/understand", response={200: LineOut, **ERRORS}, operation_id="understand_line")
def understand_line(request: HttpRequest, studio: str, body: Line) -> LineOut:
    """What a brief in one line is taken as; nothing is saved."""
    return begin.understood(scope_of(request, studio), body.line)


@router.post(f"{STUDIO}/plans/import", response={201: PlanOut, **ERRORS}, operation_id="import_plan")
def import_plan(
    request: HttpRequest, studio: str, file: Annotated[UploadedFile, File()]
) -> tuple[int, dict[str, Any]]:
    """Begin a plan from a plan file, of this or another machine."""
    if (file.size or 0) > LARGEST_BUNDLE_BYTES:
        limit = f"a file of at most {LARGEST_BUNDLE_BYTES} bytes"
        raise Refused("plan file", f"{file.size} bytes", limit)
    scope = scope_of(request, studio)
    plan = actions.import_plan(scope, file.read())
    return 201, _plan_out(scope, actions.revision_in(plan, 1))


@router.get(PLAN, response={200: PlanOut, **ERRORS}, operation_id="get_plan")
def get_plan(request: HttpRequest, studio: str, plan_id: UUID) -> dict[str, Any]:
    """An open plan at its head."""
    scope = scope_of(request, studio)
    plan = actions.plan_in(scope, plan_id)
    return _plan_out(scope, actions.revision_in(plan, plan.head))


@router.get(f"{PLAN}/head", response={200: HeadOut, **ERRORS}, operation_id="get_head")
def get_head(request: HttpRequest, studio: str, plan_id: UUID) -> HeadOut:
    """The newest revision's number, to see whether somebody else has saved."""
    return HeadOut(head=actions.plan_in(scope_of(request, studio), plan_id).head)


@router.get(
    f"{PLAN}/revisions",
    response={200: RevisionPage, **ERRORS},
    operation_id="list_revisions",
)
def list_revisions(request: HttpRequest, studio: str, plan_id: UUID, after: Cursor = 0) -> RevisionPage:
    """The plan's history, newest first; ``after`` is the ``next`` of the page before."""
    plan = actions.plan_in(scope_of(request, studio), plan_id)
    rows = plan.revisions.select_related("author").defer("document", "patch", "inverse", "verdicts")
    if after:
        rows = rows.filter(number__lt=after)
    found = list(rows[: HISTORY_SHOWN + 1])
    shown = found[:HISTORY_SHOWN]
    listed = [
        RevisionRow(
            number=r.number,
            kind=Kind(r.kind),
            summary=r.summary,
            author=r.author.username if r.author else None,
            created_at=r.created_at,
        )
        for r in shown
    ]
    return RevisionPage(revisions=listed, next=str(shown[-1].number) if len(found) > len(shown) else None)


@router.post(f"{PLAN}/revisions", response={200: SavedOut, **_WRITE_ERRORS}, operation_id="save_changes")
def save_changes(request: HttpRequest, studio: str, plan_id: UUID, body: Changes) -> dict[str, Any]:
    """Save changes; a stale base is merged, and only the same field changed twice is a clash."""
    scope = scope_of(request, studio)
    saved = actions.save_changes(scope, plan_id, body.base, body.patch)
    return _plan_out(scope, saved.revision) | {"merged": saved.merged}


@router.post(f"{PLAN}/undo", response={200: PlanOut, **_WRITE_ERRORS}, operation_id="undo")
def undo(request: HttpRequest, studio: str, plan_id: UUID) -> dict[str, Any]:
    """Take back this person's last change."""
    scope = scope_of(request, studio)
    return _plan_out(scope, actions.step_back(scope, plan_id, Kind.UNDO))


@router.post(f"{PLAN}/redo", response={200: PlanOut, **_WRITE_ERRORS}, operation_id="redo")
def redo(request: HttpRequest, studio: str, plan_id: UUID) -> dict[str, Any]:
    """Bring back this person's last undone change."""
    scope = scope_of(request, studio)
    return _plan_out(scope, actions.step_back(scope, plan_id, Kind.REDO))


@router.post(
    PLAN + "/revisions/{number}/restore",
    response={200: PlanOut, **_WRITE_ERRORS},
    operation_id="restore_revision",
)
def restore_revision(
    request: HttpRequest, studio: str, plan_id: UUID, number: RevisionNumber
) -> dict[str, Any]:
    """Make an earlier revision the plan's state again."""
    scope = scope_of(request, studio)
    return _plan_out(scope, actions.restore(scope, plan_id, number))


@router.get(f"{PLAN}/bundle", response={200: Bundle, **ERRORS}, operation_id="get_bundle")
def get_bundle(request: HttpRequest, studio: str, plan_id: UUID) -> HttpResponse:
    """The plan as a closed file that gives the same figures anywhere."""
    plan = actions.plan_in(scope_of(request, studio), plan_id)
    revision = actions.revision_in(plan, plan.head)
    bundle = judged(revision.document).bundle
    # What cannot be read as a plan any more still leaves as it was stored.
    plan_file = bundle.model_dump_json(by_alias=True, indent=2) if bundle else None
    name = slugify(plan.name) or "plan"
    return HttpResponse(
        (plan_file or json.dumps(revision.document, indent=2)) + "\n",
        content_type="application/json",
        headers={"Content-Disposition": f'attachment; filename="{name}-r{plan.head}.json"'},
    )


@router.delete(PLAN, response={204: None, **ERRORS}, operation_id="remove_plan")
def remove_plan(request: HttpRequest, studio: str, plan_id: UUID) -> tuple[int, None]:
    """Take a plan off the list; it can be brought back."""
    actions.remove_plan(scope_of(request, studio), plan_id)
    return 204, None


@router.post(f"{PLAN}/bring-back", response={204: None, **ERRORS}, operation_id="bring_back_plan")
def bring_back_plan(request: HttpRequest, studio: str, plan_id: UUID) -> tuple[int, None]:
    """Put a removed plan on the list again."""
    actions.bring_back(scope_of(request, studio), plan_id)
    return 204, None
