"""The stock of a studio: list, enter, import, change, hand over, health reports, manifests."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime
from typing import Annotated, Any
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Form, Query, Router
from ninja.files import UploadedFile
from pydantic import BaseModel, Field, StringConstraints

from accounts.models import Role
from accounts.scope import Scope, scope_of
from api.csv_file import csv_file
from api.envelope import ERRORS, ErrorOut
from larder.base.errors import Refused
from larder.plan.bundle import Bundle, StockFacts
from larder.plan.vocabulary import ports_checked
from larder.readers.csv_table import LARGEST_CSV_BYTES
from larder.readers.manifest import LARGEST_MANIFEST_BYTES
from larder.readers.smartctl import LARGEST_REPORT_BYTES
from larder.readers.stock_csv import write_stock_csv
from larder.stock.item import StockItem
from larder.stock.shelf import StockResult, stock_stage
from larder.stock.today import stock_facts, today_bundle
from plans import actions as plans
from plans.begin import bundle_for
from plans.schemas import BriefText, NewPlan
from plans.standards import standards_in

from . import actions

router = Router(tags=["stock"])

STOCK = "/studios/{slug:studio}/stock"
_CHANGES = ERRORS | {409: ErrorOut}
FAULTS_SHOWN = 100
CHANGED_SHOWN = 200
ROWS_SHOWN = 20


class StockOut(BaseModel):
    """Every device, and what is made of them."""

    role: Role
    devices: list[StockItem]
    result: StockResult


class StockChange(BaseModel):
    """What a change did: the devices it changed or added, at most so many, and the ids of those it removed.

    ``is_whole`` is false where more was changed than is listed; what is made of the whole stock is asked for
    anew either way.
    """

    devices: list[StockItem]
    removed: list[str] = []
    is_whole: bool = True


class QuickEntry(BaseModel):
    """A line typed at the shelf."""

    text: Annotated[str, StringConstraints(min_length=1, max_length=200)]


class DeviceChanges(BaseModel):
    """Fields of a device to set, by their name."""

    changes: Annotated[dict[str, Any], Field(max_length=20)]


class RowFaultOut(BaseModel):
    """A faulty cell of a CSV."""

    line: int
    column: str
    sentence: str


class PreviewOut(BaseModel):
    """What a CSV would add; with faults nothing of it can be taken in."""

    count: int
    raw_bytes: int
    first: list[StockItem]
    fault_count: int
    faults: list[RowFaultOut]


class ReportOut(BaseModel):
    """What a health report changed; ``message`` says what it could not tell."""

    device: StockItem
    message: str


class HandOver(BaseModel):
    """Who takes a device out of the house, and when; today where no day is given."""

    to: Annotated[str, StringConstraints(max_length=400, pattern=r"^[^\x00-\x1f]*$")]
    is_encrypted: bool
    on: date | None = None


class Return(BaseModel):
    """Where a device is put on its return; where it was before if nothing is given."""

    place: Annotated[str, StringConstraints(max_length=400, pattern=r"^[^\x00-\x1f]*$")] = ""


class LogEntryOut(BaseModel):
    """What somebody did to a device."""

    action: str
    detail: str
    person: str
    at: datetime


class LogPage(BaseModel):
    """A page of a device's log; ``next`` asks for the one after it, null where this is the last."""

    entries: list[LogEntryOut]
    next: str | None


class Today(BaseModel):
    """Which drives stand for the stock, under which layout, and whose people are on them.

    ``place`` is a box's label or a place. The people are those of a plan, else of a brief in one ``line``.
    """

    place: Annotated[str, StringConstraints(max_length=400, pattern=r"^[^\x00-\x1f]*$")]
    layout: Annotated[str, StringConstraints(max_length=20)]
    plan_id: UUID | None = None
    line: BriefText = ""


class PlanRef(BaseModel):
    """The plan that came of it."""

    id: UUID


def _stock(scope: Scope, ports: str = "") -> StockOut:
    items = actions.items_of(scope)
    rules = standards_in(scope).standards.house_rules
    result = stock_stage(items, rules, timezone.localdate(), actions.matches_of(scope), ports)
    return StockOut(role=scope.role, devices=list(items), result=result)


def _change(items: Iterable[StockItem], removed: Iterable[str] = ()) -> StockChange:
    devices = list(items)
    return StockChange(
        devices=devices[:CHANGED_SHOWN], removed=list(removed), is_whole=len(devices) <= CHANGED_SHOWN
    )


def _bounded(file: UploadedFile, what: str, largest: int) -> bytes:
    if (file.size or 0) > largest:
        raise Refused(what, f"{file.size} bytes", f"a file of at most {largest} bytes")
    return file.read()


@router.get(STOCK, response={200: StockOut, **ERRORS}, operation_id="get_stock")
def get_stock(
    request: HttpRequest, studio: str, ports: Annotated[str, Query(max_length=200)] = ""
) -> StockOut:
    """The whole stock; its move over ``ports``, or over those of its quickest box."""
    scope = scope_of(request, studio)
    return _stock(scope, ports_checked(ports))


@router.get(STOCK + "/facts", response={200: StockFacts, **ERRORS}, operation_id="get_stock_facts")
def get_stock_facts(request: HttpRequest, studio: str) -> StockFacts:
    """The stock's figures as a plan takes them over."""
    stock = _stock(scope_of(request, studio))
    return stock_facts(tuple(stock.devices), stock.result, timezone.localdate())


@router.post(STOCK + "/quick", response={201: StockChange, **_CHANGES}, operation_id="add_quick")
def add_quick(request: HttpRequest, studio: str, body: QuickEntry) -> tuple[int, StockChange]:
    """Add what a typed line means."""
    return 201, _change(actions.add_quick(scope_of(request, studio), body.text))


@router.post(STOCK + "/preview", response={200: PreviewOut, **ERRORS}, operation_id="preview_csv")
def preview_csv(request: HttpRequest, studio: str, file: Annotated[UploadedFile, File()]) -> PreviewOut:
    """What a CSV would add, with every fault; nothing is changed."""
    scope = scope_of(request, studio)
    inventory = actions.preview_csv(scope, _bounded(file, "inventory", LARGEST_CSV_BYTES))
    return PreviewOut(
        count=len(inventory.items),
        raw_bytes=sum(item.size_bytes for item in inventory.items),
        first=list(inventory.items[:ROWS_SHOWN]),
        fault_count=len(inventory.faults),
        faults=[
            RowFaultOut(line=f.line, column=f.column, sentence=f.sentence)
            for f in inventory.faults[:FAULTS_SHOWN]
        ],
    )


@router.post(STOCK + "/import", response={201: StockChange, **_CHANGES}, operation_id="import_csv")
def import_csv(
    request: HttpRequest, studio: str, file: Annotated[UploadedFile, File()]
) -> tuple[int, StockChange]:
    """Add all of a CSV, or with one fault nothing."""
    scope = scope_of(request, studio)
    return 201, _change(actions.import_csv(scope, _bounded(file, "inventory", LARGEST_CSV_BYTES)))


@router.post(STOCK + "/today", response={201: PlanRef, **ERRORS}, operation_id="judge_today")
def judge_today(request: HttpRequest, studio: str, body: Today) -> tuple[int, PlanRef]:
    """Make *Today*: the drives at a place as a plan, with the people of another plan or of a line."""
    scope = scope_of(request, studio)
    stock = _stock(scope)
    bundle = today_bundle(
        tuple(stock.devices),
        body.place,
        body.layout,
        _people(scope, body),
        stock_facts(tuple(stock.devices), stock.result, timezone.localdate()),
    )
    return 201, PlanRef(id=plans.create_plan(scope, bundle).pk)


def _people(scope: Scope, body: Today) -> Bundle:
    if body.plan_id is None:
        return bundle_for(scope, NewPlan(name="Today", line=body.line))
    return plans.newest_bundle(scope, body.plan_id)


@router.get(STOCK + "/csv", response={200: None, **ERRORS}, operation_id="export_csv")
def export_csv(request: HttpRequest, studio: str) -> HttpResponse:
    """The stock as CSV, safe to open in a spreadsheet."""
    scope = scope_of(request, studio)
    return csv_file(f"{scope.studio.slug}-stock.csv", write_stock_csv(actions.items_of(scope)))


@router.patch(
    STOCK + "/{uuid:device_id}", response={200: StockChange, **_CHANGES}, operation_id="change_device"
)
def change_device(request: HttpRequest, studio: str, device_id: UUID, body: DeviceChanges) -> StockChange:
    """Set fields of a device; the drives in a box that is renamed change with it."""
    scope = scope_of(request, studio)
    changed = actions.change_device(scope, device_id, body.changes)
    inside = actions.items_in_box(scope, changed.label) if "label" in body.changes else ()
    return _change((changed, *inside) if changed.kind == "box" else (changed,))


@router.delete(
    STOCK + "/{uuid:device_id}", response={200: StockChange, **_CHANGES}, operation_id="remove_device"
)
def remove_device(request: HttpRequest, studio: str, device_id: UUID) -> StockChange:
    """Take a device off the stock."""
    actions.remove_device(scope_of(request, studio), device_id)
    return _change((), removed=[str(device_id)])


@router.post(
    STOCK + "/{uuid:device_id}/report", response={200: ReportOut, **ERRORS}, operation_id="take_report"
)
def take_report(
    request: HttpRequest, studio: str, device_id: UUID, file: Annotated[UploadedFile, File()]
) -> ReportOut:
    """Take a device's health from what smartctl printed."""
    raw = _bounded(file, "drive report", LARGEST_REPORT_BYTES)
    item, message = actions.take_report(scope_of(request, studio), device_id, raw)
    return ReportOut(device=item, message=message)


@router.post(
    STOCK + "/{uuid:device_id}/hand-over", response={200: StockChange, **_CHANGES}, operation_id="hand_over"
)
def hand_over(request: HttpRequest, studio: str, device_id: UUID, body: HandOver) -> StockChange:
    """Note that a device leaves the house."""
    scope = scope_of(request, studio)
    on = body.on or timezone.localdate()
    return _change((actions.hand_over(scope, device_id, body.to, on, is_encrypted=body.is_encrypted),))


@router.post(
    STOCK + "/{uuid:device_id}/return", response={200: StockChange, **_CHANGES}, operation_id="take_back"
)
def take_back(request: HttpRequest, studio: str, device_id: UUID, body: Return) -> StockChange:
    """Note that a device is back."""
    return _change((actions.take_back(scope_of(request, studio), device_id, body.place),))


@router.post(
    STOCK + "/{uuid:device_id}/manifest",
    response={200: StockChange, **_CHANGES},
    operation_id="take_manifest",
)
def take_manifest(
    request: HttpRequest,
    studio: str,
    device_id: UUID,
    file: Annotated[UploadedFile, File()],
    material: Annotated[str, Form(max_length=80)],
) -> StockChange:
    """Take in the checksums of a material on a device; it was read back today."""
    scope = scope_of(request, studio)
    raw = _bounded(file, "manifest", LARGEST_MANIFEST_BYTES)
    return _change((actions.take_manifest(scope, device_id, material, raw, timezone.localdate()),))


@router.get(
    STOCK + "/{uuid:device_id}/log",
    response={200: LogPage, **ERRORS},
    operation_id="get_device_log",
)
def get_device_log(
    request: HttpRequest,
    studio: str,
    device_id: UUID,
    after: Annotated[int, Query(ge=0, le=2**63 - 1)] = 0,
) -> LogPage:
    """What was done to a device, the newest first; ``after`` is the ``next`` of the page before."""
    entries, following = actions.log_of(scope_of(request, studio), device_id, after)
    listed = [
        LogEntryOut(action=e.action, detail=e.detail, person=e.person.username if e.person else "", at=e.at)
        for e in entries
    ]
    return LogPage(entries=listed, next=None if following is None else str(following))
