"""Every change of a plan is one function here: permission, change and audit entry together.

Callers pass a :class:`Scope`, which says who asks where; each action states the role it needs, and that is
the only place where it is checked.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, BinaryIO
from uuid import UUID

from django.utils import timezone

from accounts.models import Role
from accounts.permission import needs
from accounts.scope import NotHere, Scope
from api.envelope import Answered, ClashOut, ErrorOut
from larder.base.errors import RefusedMany
from larder.base.patch import Clash, Document, Operation, apply_patch, diff, merge
from larder.judge.evaluation import evaluate
from larder.plan.bundle import SCHEMA_VERSION, Bundle
from larder.plan.glossary import label_at
from larder.readers.ffprobe import Clip, read_probe
from larder.readers.plan_file import bundle_from, read_bundle

from .judging import verdicts_of
from .models import AuditEntry, Kind, Plan, Revision
from .summary import summary_of


class Clashing(Answered):
    """Somebody changed the same place meanwhile; nothing was saved and nothing is lost."""

    status, code = 409, "clash"
    sentence = "Somebody else changed the same field meanwhile; choose which value stays."

    def __init__(self, head: Revision, clashes: tuple[Clash, ...]) -> None:
        self.head, self.clashes = head, clashes
        super().__init__(f"{len(clashes)} fields were changed by both")

    def envelope(self) -> ErrorOut:
        """With both values of every field that was changed twice."""
        document = self.head.document
        clashes = [
            ClashOut(path=c.path, label=label_at(c.path, document), base=c.base, mine=c.mine, theirs=c.theirs)
            for c in self.clashes
        ]
        return ErrorOut(code=self.code, sentence=self.sentence, clashes=clashes, head=self.head.number)


class NothingToDo(Answered):
    """There is no change of this person's left to undo or redo."""

    status, code = 409, "nothing-to-do"
    sentence = "There is no change of yours left to take back or bring back."


@dataclass(frozen=True)
class Saved:
    """What a save made of the plan: the new head, and whether other people's changes came in."""

    revision: Revision
    merged: bool


def plan_in(scope: Scope, plan_id: UUID, *, lock: bool = False, removed: bool = False) -> Plan:
    """The studio's plan; raises :class:`NotHere` for another studio's, or one that was removed."""
    plans = Plan.objects.filter(studio=scope.studio, removed_at__isnull=not removed)
    plan = (plans.select_for_update() if lock else plans).filter(pk=plan_id).first()
    if plan is None:
        raise NotHere
    return plan


def document_of(revision: Revision) -> Document:
    """The revision's document in today's shape: fields that came later have their defaults."""
    return bundle_from(revision.document).document()


def stored_document_of(revision: Revision) -> Document:
    """As :func:`document_of`; empty for a document that is no plan any more, so that it can be left."""
    try:
        return document_of(revision)
    except RefusedMany:
        return {}


def revision_in(plan: Plan, number: int) -> Revision:
    """Revision ``number`` of a plan; raises :class:`NotHere`."""
    revision = Revision.objects.filter(plan=plan, studio=plan.studio_id, number=number).first()
    if revision is None:
        raise NotHere
    return revision


def newest_bundle(scope: Scope, plan_id: UUID) -> Bundle:
    """What the newest revision of the studio's plan holds; raises :class:`NotHere`."""
    plan = plan_in(scope, plan_id)
    return bundle_from(revision_in(plan, plan.head).document)


def audit(scope: Scope, action: str, plan: Plan, detail: str = "") -> None:
    """Note who did what to which plan."""
    AuditEntry.objects.create(
        studio=scope.studio,
        person=scope.person,
        action=action,
        plan_id=plan.pk,
        plan_name=plan.name,
        detail=detail,
    )


def _append(
    scope: Scope,
    plan: Plan,
    bundle: Bundle,
    before: Document,
    kind: Kind,
    undoes: int | None = None,
) -> Revision:
    """A new head holding ``bundle``; patch and inverse are what truly changed.

    It is judged before anything is written: what cannot be judged raises the core's Refused, and nothing is
    kept of it.
    """
    verdicts = verdicts_of(evaluate(bundle))
    document = bundle.document()
    patch = diff(before, document) if before else ()
    inverse = diff(document, before) if before else ()
    plan.head += 1
    plan.name = bundle.plan.name
    plan.save(update_fields=["head", "name", "changed_at"])
    revision = Revision.objects.create(
        studio=scope.studio,
        plan=plan,
        number=plan.head,
        kind=kind,
        undoes=undoes,
        schema_version=SCHEMA_VERSION,
        document=document,
        patch=_plain(patch),
        inverse=_plain(inverse),
        summary=summary_of(kind, patch, before or document, document)[:400],
        verdicts=verdicts,
        author=scope.person,
    )
    audit(scope, kind.value, plan, revision.summary)
    return revision


def _plain(patch: Sequence[Operation]) -> list[dict[str, Any]]:
    return [operation.model_dump(mode="json") for operation in patch]


def _operations(stored: Any) -> tuple[Operation, ...]:
    return tuple(Operation.model_validate(operation) for operation in stored)


@needs(Role.TECHNICIAN)
def create_plan(scope: Scope, bundle: Bundle) -> Plan:
    """A plan that starts from ``bundle``, new or imported."""
    plan = Plan.objects.create(studio=scope.studio, name=bundle.plan.name)
    _append(scope, plan, bundle, {}, Kind.START)
    return plan


@needs(Role.TECHNICIAN)
def import_plan(scope: Scope, raw: bytes) -> Plan:
    """A plan from the bytes of a plan file; raises the core's RefusedMany for what is none."""
    return create_plan(scope, read_bundle(raw))


@needs(Role.TECHNICIAN)
def read_clips(scope: Scope, files: Sequence[BinaryIO]) -> list[Clip]:  # noqa: ARG001  (asked for its role)
    """The clips of ffprobe files, for a format that a plan may take; nothing is saved."""
    return [read_probe(file) for file in files]


@needs(Role.TECHNICIAN)
def save_changes(scope: Scope, plan_id: UUID, base: int, patch: tuple[Operation, ...]) -> Saved:
    """Write ``patch``, which was made on revision ``base``, onto the head.

    A stale base is merged by item; raises :class:`Clashing` where both changed the same place, and
    the core's RefusedMany where the result is not a plan.
    """
    plan = plan_in(scope, plan_id, lock=True)
    head = revision_in(plan, plan.head)
    now = document_of(head)
    start = now if base == plan.head else document_of(revision_in(plan, base))
    # Canonical first ("18TB" becomes bytes), so that equal values are seen as equal in the merge.
    wanted = bundle_from(apply_patch(start, patch)).document()
    if start is not now:
        wanted, clashes = merge(start, diff(start, wanted), now)
        if clashes:
            raise Clashing(head, clashes)
    if wanted == now:
        return Saved(head, merged=start is not now)
    revision = _append(scope, plan, bundle_from(wanted), now, Kind.EDIT)
    return Saved(revision, merged=start is not now)


@needs(Role.TECHNICIAN)
def step_back(scope: Scope, plan_id: UUID, kind: Kind) -> Revision:
    """Undo this person's last change still standing, or redo the last one undone.

    Other people's later changes stay; raises :class:`Clashing` where they touch the same place.
    """
    plan = plan_in(scope, plan_id, lock=True)
    undo, redo = own_steps(scope, plan)
    stack = undo if kind is Kind.UNDO else redo
    if not stack:
        raise NothingToDo
    step = revision_in(plan, stack[-1])
    head = revision_in(plan, plan.head)
    # From the state the change led to, take it back; then bring that onto today's head.
    now = stored_document_of(head)
    if step.pk == head.pk:
        # Nothing has come since: back to what was before it, however the head reads today.
        document = document_of(revision_in(plan, head.number - 1))
    else:
        document, clashes = merge(stored_document_of(step), _operations(step.inverse), now)
        if clashes:
            raise Clashing(head, clashes)
    undoes = stack[-1] if kind is Kind.UNDO else step.undoes
    return _append(scope, plan, bundle_from(document), now, kind, undoes)


def own_steps(scope: Scope, plan: Plan) -> tuple[list[int], list[int]]:
    """Numbers of this person's revisions that can be undone, and that can be redone, oldest first."""
    undo: list[int] = []
    redo: list[int] = []
    own = Revision.objects.filter(plan=plan, author=scope.person).exclude(kind=Kind.START)
    for number, kind in own.order_by("number").values_list("number", "kind"):
        if kind == Kind.UNDO:
            undo.pop()
            redo.append(number)
        elif kind == Kind.REDO:
            redo.pop()
            undo.append(number)
        else:
            undo.append(number)
            redo.clear()
    return undo, redo


@needs(Role.TECHNICIAN)
def restore(scope: Scope, plan_id: UUID, number: int) -> Revision:
    """Make an earlier revision the plan's state again, as a new revision."""
    plan = plan_in(scope, plan_id, lock=True)
    head = revision_in(plan, plan.head)
    now, earlier = stored_document_of(head), document_of(revision_in(plan, number))
    if earlier == now:
        return head
    return _append(scope, plan, bundle_from(earlier), now, Kind.RESTORE)


@needs(Role.OWNER)
def remove_plan(scope: Scope, plan_id: UUID) -> Plan:
    """Take a plan off the list; it can be brought back."""
    plan = plan_in(scope, plan_id, lock=True)
    plan.removed_at = timezone.now()
    plan.save(update_fields=["removed_at"])
    audit(scope, "remove", plan)
    return plan


@needs(Role.OWNER)
def bring_back(scope: Scope, plan_id: UUID) -> Plan:
    """Put a removed plan on the list again."""
    plan = plan_in(scope, plan_id, lock=True, removed=True)
    plan.removed_at = None
    plan.save(update_fields=["removed_at"])
    audit(scope, "bring back", plan)
    return plan
