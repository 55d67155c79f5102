"""What plans are asked with and answered as."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any
from uuid import UUID

from pydantic import BaseModel, Field

from accounts.models import Role
from larder.asks.diagnosis.readings import READINGS
from larder.asks.rehearsal.failures import MOST_FAILURES
from larder.asks.share_out import SIZED
from larder.base.fields import Name
from larder.base.patch import MOST_OPERATIONS, Operation
from larder.judge.evaluation import Evaluation
from larder.judge.open_work import OpenWork
from larder.judge.scales import Scales, Verdict
from larder.plan.bundle import Bundle
from larder.plan.formats import Format
from larder.readers.brief_line import BriefLine
from larder.readers.brief_line.tokens import LONGEST_LINE
from larder.readers.csv_table import LARGEST_CSV_BYTES
from larder.readers.ffprobe import Clip
from larder.stages.trouble import Trouble

from .models import Kind

PatchIn = Annotated[tuple[Operation, ...], Field(max_length=MOST_OPERATIONS)]
BriefText = Annotated[str, Field(max_length=4 * LONGEST_LINE)]
"""Longer than what is read, so that the reader says how long a line may be."""
RevisionNumber = Annotated[int, Field(ge=1, le=2**31 - 1)]


class PlanRow(BaseModel):
    """A plan on the list, with its four verdicts; null where it cannot be judged, or is not yet.

    ``is_old``: they are of older rules, and it waits to be judged again.
    """

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
    is_old: bool


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


class Line(BaseModel):
    """A brief as one says it."""

    line: BriefText


class LineOut(BaseModel):
    """The line understood, and how a plan begun with it would stand; ``reason`` is why none can be."""

    line: BriefLine
    scales: Scales | None = None
    open_work: tuple[OpenWork, ...] = ()
    reason: str = ""


class NewPlan(BaseModel):
    """A plan to begin: with a brief in one line, from a starting point, or as a copy; else empty."""

    name: Name
    line: BriefText = ""
    starting_point: Annotated[str, Field(max_length=40)] = ""
    copy_of: UUID | None = None


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
    """A new item of the list at ``path``: what is known of it, what it is made after, its format if new."""

    path: Annotated[str, Field(max_length=200)]
    given: dict[str, Any] = {}
    after: Annotated[str, Field(max_length=100)] = ""
    media: dict[str, Any] = {}


class AskText(Ask):
    """A question about what was typed."""

    text: Annotated[str, Field(max_length=400)]


class PatchOut(BaseModel):
    """A change that was worked out and not made: whoever asked takes it like any other."""

    patch: tuple[Operation, ...]


class AskReadings(Ask):
    """A CSV of capacity readings, held against what is asked."""

    text: Annotated[str, Field(max_length=LARGEST_CSV_BYTES)]


class ReadingsOut(PatchOut):
    """Readings that would be added and replaced, and the change itself."""

    added: int
    replaced: int


class AskDay(Ask):
    """A question about a day: what breaks in it and when, such as ``main@11:00`` or ``switch:core@14:30``."""

    fails: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=MOST_FAILURES)] = []


class AskSeat(Ask):
    """A question about one class of seats."""

    seat_id: Annotated[str, Field(max_length=40)]


class AskSlow(AskSeat):
    """A question about what was measured at one seat of a class."""

    seen: Annotated[dict[str, Any], Field(max_length=len(READINGS))]


class AskState(Ask):
    """A question about one state of the house: everybody, what is sized on, or a part of the day."""

    state: Annotated[str, Field(max_length=40)] = SIZED
    trouble: Trouble = ""


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
