"""Plans of a studio: list, ask, save, undo, explain, and files in and out."""

from __future__ import annotations

import json
import time
from datetime import datetime
from threading import BoundedSemaphore
from typing import Annotated, Any
from uuid import UUID

from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from django.utils.text import slugify
from ninja import File, Query, Router
from ninja.files import UploadedFile
from pydantic import BaseModel, Field

from accounts.models import Role
from accounts.scope import Scope, scope_of
from larder.asks.compare import DriveRow, LayoutRow, compare_drives, compare_layouts
from larder.asks.explain import Explanation, explain
from larder.base.errors import Refused
from larder.base.fields import Name
from larder.base.patch import MOST_OPERATIONS, Operation, apply_patch
from larder.judge.evaluation import Evaluation, evaluate
from larder.judge.scales import Verdict
from larder.plan.bundle import Bundle
from larder.plan.formats import Format
from larder.plan.new_item import Asked, new_item
from larder.plan.removal import removal_patch
from larder.plan.take_class import class_patch
from larder.readers.clips import format_of_clips
from larder.readers.ffprobe import LARGEST_PROBE_BYTES, PROBE_ACCEPTED, Clip
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES, bundle_from
from plans import actions
from plans.judging import SCALES, judged, kept_verdicts
from plans.models import Kind, Plan, Revision
from plans.standards import standards_in

from .envelope import ERRORS, ErrorOut

router = Router(tags=["plans"], by_alias=True)

STUDIO = "/studios/{slug:studio}"
PLAN = STUDIO + "/plans/{uuid:plan_id}"

_READ_ERRORS = ERRORS
_WRITE_ERRORS = _READ_ERRORS | {409: ErrorOut}
HISTORY_SHOWN, PLANS_A_PAGE = 100, 50
EXPLAIN_SECONDS, BUSY_EXPLAIN_SECONDS = 6.0, 0.5
"""How long it is looked for what moves a figure; what was not tried by then is said."""
_explaining = BoundedSemaphore(2)

PatchIn = Annotated[tuple[Operation, ...], Field(max_length=MOST_OPERATIONS)]
RevisionNumber = Annotated[int, Field(ge=1, le=2**31 - 1)]
Cursor = Annotated[int, Query(ge=0, le=2**63 - 1)]


class PlanRow(BaseModel):
    """A plan on the list, with its four verdicts; null where it cannot be judged."""

    id: UUID
    name: str
    note: str
    head: int
    changed_at: datetime
    changed_by: str | None
    speed: Verdict | None
    space: Verdict | None
    safety: Verdict | None
    money: Verdict | None
    findings: int


class PlanPage(BaseModel):
    """A page of the list; ``next`` asks for the one after it, null where this is the last."""

    plans: list[PlanRow]
    next: str | None


class PlanOut(BaseModel):
    """An open plan: its document at the head, its evaluation, and what this person can do.

    An older head may not be judged any more: then document or evaluation is null and ``reason`` says why.
    ``notes`` are what was changed in an older one so that it can be.
    """

    id: UUID
    name: str
    role: Role
    head: int
    changed_at: datetime
    changed_by: str | None
    document: Bundle | None
    evaluation: Evaluation | None
    reason: str
    notes: list[str]
    can_undo: bool
    can_redo: bool


class HeadOut(BaseModel):
    """The number of a plan's newest revision."""

    head: int


class SavedOut(PlanOut):
    """The plan after a save; ``merged`` says that somebody else's changes came in with it."""

    merged: bool = False


class NewPlan(BaseModel):
    """A plan to begin."""

    name: Name


class Ask(BaseModel):
    """A question: the base revision with a patch on it. ``seq`` comes back with the answer."""

    base: RevisionNumber
    patch: PatchIn = ()
    seq: Annotated[int, Field(ge=0, le=2**53)] = 0


class Answer(BaseModel):
    """The evaluation of what was asked; nothing was saved."""

    seq: int
    evaluation: Evaluation


class AskWhy(Ask):
    """A question about one figure."""

    figure_id: Annotated[str, Field(max_length=100)]
    with_movers: bool = True


class AskItem(Ask):
    """A question about one item of what was asked, by its path in the plan file."""

    path: Annotated[str, Field(max_length=300)]


class AskClass(AskItem):
    """Which class of the catalogue the item would take; empty for none."""

    class_id: Annotated[str, Field(max_length=40)]


class AskNew(Ask):
    """A new item of the list at ``path``: what is known of it, and what it is made after."""

    path: Annotated[str, Field(max_length=200)]
    given: dict[str, Any] = {}
    after: Annotated[str, Field(max_length=100)] = ""


class PatchOut(BaseModel):
    """A change that was worked out and not made: whoever asked takes it like any other."""

    patch: tuple[Operation, ...]


class AskPool(Ask):
    """A question about one pool: its layouts, or other drives in it."""

    pool_id: Annotated[str, Field(max_length=40)]


class Changes(BaseModel):
    """Changes to save, and the revision they were made on."""

    base: RevisionNumber
    patch: PatchIn


class RevisionRow(BaseModel):
    """One line of a plan's history."""

    number: int
    kind: Kind
    summary: str
    author: str | None
    created_at: datetime


class RevisionPage(BaseModel):
    """A page of a plan's history; ``next`` asks for the one after it, null where this is the last."""

    revisions: list[RevisionRow]
    next: str | None


class ClipsOut(BaseModel):
    """What ffprobe measured, and the format that it makes; whoever takes it over gives it an id."""

    clips: list[Clip]
    format: Format


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


@router.get(f"{STUDIO}/plans", response={200: PlanPage, **_READ_ERRORS}, operation_id="list_plans")
def list_plans(request: HttpRequest, studio: str, after: Cursor = 0) -> PlanPage:
    """The studio's plans, the last changed first; ``after`` is the ``next`` of the page before."""
    scope = scope_of(request, studio)
    heads = Revision.objects.filter(studio=scope.studio, plan__removed_at=None, number=F("plan__head"))
    if after:
        heads = heads.filter(pk__lt=after)
    # Newer revisions have higher keys, so the key is the cursor.
    found = list(heads.select_related("plan", "author").order_by("-pk")[: PLANS_A_PAGE + 1])
    shown = found[:PLANS_A_PAGE]
    return PlanPage(
        plans=[_row(revision) for revision in shown],
        next=str(shown[-1].pk) if len(found) > len(shown) else None,
    )


def _row(revision: Revision) -> PlanRow:
    """A line of the list: nothing is judged for it that was judged before."""
    verdicts = kept_verdicts(revision) or {}
    plan = revision.document.get("plan") if isinstance(revision.document, dict) else None
    note = plan.get("note") if isinstance(plan, dict) else None
    return PlanRow(
        id=revision.plan.pk,
        name=revision.plan.name,
        note=note if isinstance(note, str) else "",
        head=revision.number,
        changed_at=revision.created_at,
        changed_by=revision.author.username if revision.author else None,
        findings=verdicts.get("findings", 0),
        **{scale: verdicts.get(scale) for scale in SCALES},
    )


@router.post(f"{STUDIO}/plans", response={201: PlanOut, **_READ_ERRORS}, operation_id="create_plan")
def create_plan(request: HttpRequest, studio: str, body: NewPlan) -> tuple[int, dict[str, Any]]:
    """Begin a plan from the smallest honest one."""
    scope = scope_of(request, studio)
    standards = standards_in(scope).standards
    plan = actions.create_plan(scope, actions.starter_bundle(body.name, timezone.localdate(), standards))
    return 201, _plan_out(scope, actions.revision_in(plan, 1))


@router.post(f"{STUDIO}/plans/import", response={201: PlanOut, **_READ_ERRORS}, operation_id="import_plan")
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


@router.post(f"{STUDIO}/probe", response={200: ClipsOut, **_READ_ERRORS}, operation_id="probe_clips")
def probe_clips(request: HttpRequest, studio: str, file: Annotated[list[UploadedFile], File()]) -> ClipsOut:
    """Read ffprobe files of one kind of clip; nothing is saved, the plan takes the figures as a format."""
    scope = scope_of(request, studio)
    size = sum(each.size or 0 for each in file)
    if size > LARGEST_PROBE_BYTES:
        raise Refused("probe file", f"{size} bytes", PROBE_ACCEPTED)
    clips = actions.read_clips(scope, [each.file for each in file])
    return ClipsOut(clips=clips, format=format_of_clips(clips))


@router.get(PLAN, response={200: PlanOut, **_READ_ERRORS}, operation_id="get_plan")
def get_plan(request: HttpRequest, studio: str, plan_id: UUID) -> dict[str, Any]:
    """An open plan at its head."""
    scope = scope_of(request, studio)
    plan = actions.plan_in(scope, plan_id)
    return _plan_out(scope, actions.revision_in(plan, plan.head))


@router.get(f"{PLAN}/head", response={200: HeadOut, **_READ_ERRORS}, operation_id="get_head")
def get_head(request: HttpRequest, studio: str, plan_id: UUID) -> HeadOut:
    """The newest revision's number, to see whether somebody else has saved."""
    return HeadOut(head=actions.plan_in(scope_of(request, studio), plan_id).head)


def asked_in(scope: Scope, plan_id: UUID, body: Ask) -> tuple[Plan, Bundle]:
    """The plan a question is about, and its bundle: the base revision with the patch on it."""
    plan = actions.plan_in(scope, plan_id)
    document = actions.document_of(actions.revision_in(plan, body.base))
    return plan, bundle_from(apply_patch(document, body.patch))


def asked_bundle(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> Bundle:
    """The bundle of a question that needs no more than itself."""
    return asked_in(scope_of(request, studio), plan_id, body)[1]


@router.post(f"{PLAN}/evaluate", response={200: Answer, **_READ_ERRORS}, operation_id="evaluate_plan")
def evaluate_plan(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> Answer:
    """Ask without saving what the verdict would be with this patch."""
    return Answer(seq=body.seq, evaluation=evaluate(asked_bundle(request, studio, plan_id, body)))


@router.post(f"{PLAN}/explain", response={200: Explanation, **_READ_ERRORS}, operation_id="explain_figure")
def explain_figure(request: HttpRequest, studio: str, plan_id: UUID, body: AskWhy) -> Explanation:
    """The working of one figure of what was asked."""
    bundle = asked_bundle(request, studio, plan_id, body)
    # Judging some hundred plans holds a processor: two at a time may, whoever comes besides gets little.
    has_slot = body.with_movers and _explaining.acquire(blocking=False)
    until = time.monotonic() + (EXPLAIN_SECONDS if has_slot else BUSY_EXPLAIN_SECONDS)
    try:
        return explain(
            bundle, body.figure_id, with_movers=body.with_movers, goes_on=lambda: time.monotonic() < until
        )
    finally:
        if has_slot:
            _explaining.release()


@router.post(
    f"{PLAN}/compare", response={200: list[LayoutRow], **_READ_ERRORS}, operation_id="compare_layouts"
)
def compare(request: HttpRequest, studio: str, plan_id: UUID, body: AskPool) -> list[LayoutRow]:
    """Every layout for the drives of one pool of what was asked."""
    return list(compare_layouts(asked_bundle(request, studio, plan_id, body), body.pool_id))


@router.post(f"{PLAN}/swap", response={200: list[DriveRow], **_READ_ERRORS}, operation_id="compare_drives")
def swap(request: HttpRequest, studio: str, plan_id: UUID, body: AskPool) -> list[DriveRow]:
    """Every class of drive of the catalogue in one pool of what was asked."""
    return list(compare_drives(asked_bundle(request, studio, plan_id, body), body.pool_id))


@router.post(f"{PLAN}/new-item", response={200: PatchOut, **_READ_ERRORS}, operation_id="ask_new_item")
def ask_new_item(request: HttpRequest, studio: str, plan_id: UUID, body: AskNew) -> PatchOut:
    """The change that adds a new item with what it starts with; nothing is saved."""
    bundle = asked_bundle(request, studio, plan_id, body)
    return PatchOut(patch=(new_item(bundle, Asked(body.path, body.given, body.after)),))


@router.post(f"{PLAN}/removal", response={200: PatchOut, **_READ_ERRORS}, operation_id="ask_removal")
def ask_removal(request: HttpRequest, studio: str, plan_id: UUID, body: AskItem) -> PatchOut:
    """The change that removes an item with whatever stands only with it; nothing is saved."""
    return PatchOut(patch=removal_patch(asked_bundle(request, studio, plan_id, body), body.path))


@router.post(f"{PLAN}/class", response={200: PatchOut, **_READ_ERRORS}, operation_id="ask_class")
def ask_class(request: HttpRequest, studio: str, plan_id: UUID, body: AskClass) -> PatchOut:
    """The change that makes a box or a cache one of a class; nothing is saved."""
    bundle = asked_bundle(request, studio, plan_id, body)
    return PatchOut(patch=class_patch(bundle, body.path, body.class_id))


@router.get(
    f"{PLAN}/revisions",
    response={200: RevisionPage, **_READ_ERRORS},
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


@router.get(f"{PLAN}/bundle", response={200: Bundle, **_READ_ERRORS}, operation_id="get_bundle")
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


@router.delete(PLAN, response={204: None, **_READ_ERRORS}, operation_id="remove_plan")
def remove_plan(request: HttpRequest, studio: str, plan_id: UUID) -> tuple[int, None]:
    """Take a plan off the list; it can be brought back."""
    actions.remove_plan(scope_of(request, studio), plan_id)
    return 204, None


@router.post(f"{PLAN}/bring-back", response={204: None, **_READ_ERRORS}, operation_id="bring_back_plan")
def bring_back_plan(request: HttpRequest, studio: str, plan_id: UUID) -> tuple[int, None]:
    """Put a removed plan on the list again."""
    actions.bring_back(scope_of(request, studio), plan_id)
    return 204, None
