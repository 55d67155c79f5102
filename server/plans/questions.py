"""Questions about a plan as it stands on somebody's page: judged, explained, compared; nothing is saved."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from threading import BoundedSemaphore
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Query, Router
from ninja.files import UploadedFile

from accounts.scope import scope_of
from api.csv_file import csv_file
from api.envelope import ERRORS
from larder.asks.cables import CABLE_COLUMNS, Cable, cable_rows, cables_of
from larder.asks.cheapest_change import SeatChanges, cheapest_change
from larder.asks.compare import DriveRow, LayoutRow, compare_drives, compare_layouts
from larder.asks.copies import GridRow, copies_grid
from larder.asks.diagnosis.diagnose import Diagnosis, diagnose
from larder.asks.diagnosis.readings import seen_from
from larder.asks.drive_prices import FlashOrDisks, flash_or_disks
from larder.asks.explain import Explanation, explain
from larder.asks.find_formats import FormatsFound, find_formats
from larder.asks.growth import GrowthAsked, growth_asked
from larder.asks.rehearsal.drawn_day import DrawnDay, drawn_day
from larder.asks.rehearsal.failures import MOST_FAILURES, Failure, parse_failure
from larder.asks.rehearsal.fix_hours import hours_patch
from larder.asks.rehearsal.helped import Helped, helped
from larder.asks.rehearsal.table import day_columns, day_rows
from larder.asks.remedies import TriedRemedy, tried_remedies
from larder.asks.safeguard import LayoutOdds, Safeguard, layout_odds, safeguard
from larder.asks.share_out import ShareOut, share_out
from larder.base.errors import Refused
from larder.judge.evaluation import evaluate
from larder.plan.new_item import Asked, new_item_patch
from larder.plan.removal import removal_patch
from larder.plan.take_class import class_patch
from larder.readers.clips import format_of_clips
from larder.readers.csv_table import write_table
from larder.readers.ffprobe import LARGEST_PROBE_BYTES, PROBE_ACCEPTED
from larder.readers.readings_csv import read_readings_csv, write_readings_csv
from larder.stages.pick_list import PICK_COLUMNS, pick_rows

from . import actions
from .asked import PLAN, STUDIO, asked_bundle
from .schemas import (
    Answer,
    Ask,
    AskClass,
    AskDay,
    AskItem,
    AskNew,
    AskPool,
    AskReadings,
    AskSeat,
    AskSlow,
    AskState,
    AskText,
    AskWhy,
    ClipsOut,
    PatchOut,
    ReadingsOut,
)

router = Router(tags=["plans"], by_alias=True)

EXPLAIN_SECONDS, BUSY_EXPLAIN_SECONDS = 6.0, 0.5
"""How long it is looked for what moves a figure; what was not tried by then is said."""
_explaining = BoundedSemaphore(2)


@contextmanager
def _bounded(*, wanted: bool) -> Iterator[Callable[[], bool]]:
    """Whether work that judges many plans may go on: two at a time may, whoever comes besides gets little."""
    has_slot = wanted and _explaining.acquire(blocking=False)
    until = time.monotonic() + (EXPLAIN_SECONDS if has_slot else BUSY_EXPLAIN_SECONDS)
    try:
        yield lambda: time.monotonic() < until
    finally:
        if has_slot:
            _explaining.release()


@router.post(f"{PLAN}/evaluate", response={200: Answer, **ERRORS}, operation_id="evaluate_plan")
def evaluate_plan(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> Answer:
    """Ask without saving what the verdict would be with this patch."""
    return Answer(seq=body.seq, evaluation=evaluate(asked_bundle(request, studio, plan_id, body)))


@router.post(f"{PLAN}/explain", response={200: Explanation, **ERRORS}, operation_id="explain_figure")
def explain_figure(request: HttpRequest, studio: str, plan_id: UUID, body: AskWhy) -> Explanation:
    """The working of one figure of what was asked."""
    bundle = asked_bundle(request, studio, plan_id, body)
    with _bounded(wanted=body.with_movers) as goes_on:
        return explain(bundle, body.figure_id, with_movers=body.with_movers, goes_on=goes_on)


@router.post(f"{PLAN}/compare", response={200: list[LayoutRow], **ERRORS}, operation_id="compare_layouts")
def compare(request: HttpRequest, studio: str, plan_id: UUID, body: AskPool) -> list[LayoutRow]:
    """Every layout for the drives of one pool of what was asked."""
    return list(compare_layouts(asked_bundle(request, studio, plan_id, body), body.pool_id))


@router.post(f"{PLAN}/swap", response={200: list[DriveRow], **ERRORS}, operation_id="compare_drives")
def swap(request: HttpRequest, studio: str, plan_id: UUID, body: AskPool) -> list[DriveRow]:
    """Every class of drive of the catalogue in one pool of what was asked."""
    return list(compare_drives(asked_bundle(request, studio, plan_id, body), body.pool_id))


@router.post(f"{PLAN}/remedies", response={200: list[TriedRemedy], **ERRORS}, operation_id="try_remedies")
def remedies(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> list[TriedRemedy]:
    """The remedies of all findings of what was asked, each tried."""
    bundle = asked_bundle(request, studio, plan_id, body)
    with _bounded(wanted=True) as goes_on:
        return list(tried_remedies(bundle, goes_on))


@router.post(f"{PLAN}/share", response={200: ShareOut, **ERRORS}, operation_id="share_out")
def share(request: HttpRequest, studio: str, plan_id: UUID, body: AskState) -> ShareOut:
    """What every seat gets in one state of what was asked."""
    return share_out(asked_bundle(request, studio, plan_id, body), body.state, body.trouble)


@router.post(f"{PLAN}/fixes", response={200: SeatChanges, **ERRORS}, operation_id="what_would_fix")
def fixes(request: HttpRequest, studio: str, plan_id: UUID, body: AskSeat) -> SeatChanges:
    """Every single change that helps one class of seats, tried."""
    return cheapest_change(asked_bundle(request, studio, plan_id, body), body.seat_id)


@router.post(f"{PLAN}/rehearse", response={200: DrawnDay, **ERRORS}, operation_id="rehearse_day")
def rehearse_day(request: HttpRequest, studio: str, plan_id: UUID, body: AskDay) -> DrawnDay:
    """The ordinary day of what was asked, with whatever breaks in it."""
    return drawn_day(asked_bundle(request, studio, plan_id, body), _failures(body.fails))


@router.post(f"{PLAN}/rehearse/hours", response={200: PatchOut, **ERRORS}, operation_id="ask_hours")
def ask_hours(request: HttpRequest, studio: str, plan_id: UUID, body: AskSeat) -> PatchOut:
    """The change that writes a class's hours into the timetable; nothing is saved."""
    return PatchOut(patch=hours_patch(asked_bundle(request, studio, plan_id, body), body.seat_id))


@router.post(
    f"{PLAN}/rehearse/helped", response={200: list[Helped], **ERRORS}, operation_id="what_would_help"
)
def what_would_help(request: HttpRequest, studio: str, plan_id: UUID, body: AskDay) -> list[Helped]:
    """The same day with each single change, tried."""
    bundle = asked_bundle(request, studio, plan_id, body)
    with _bounded(wanted=True) as goes_on:
        return list(helped(bundle, _failures(body.fails), goes_on))


@router.post(f"{PLAN}/safeguard", response={200: Safeguard, **ERRORS}, operation_id="ask_safeguard")
def ask_safeguard(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> Safeguard:
    """What the copies of what was asked are worth, and what stops when a box or a wire dies."""
    return safeguard(asked_bundle(request, studio, plan_id, body))


@router.post(
    f"{PLAN}/safeguard/two-losses", response={200: list[GridRow], **ERRORS}, operation_id="two_losses"
)
def ask_two_losses(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> list[GridRow]:
    """What is left of every material of what was asked after one loss and after every two at once."""
    return list(copies_grid(asked_bundle(request, studio, plan_id, body), at_once=2))


@router.post(
    f"{PLAN}/safeguard/layouts", response={200: list[LayoutOdds], **ERRORS}, operation_id="layout_odds"
)
def ask_layout_odds(request: HttpRequest, studio: str, plan_id: UUID, body: AskPool) -> list[LayoutOdds]:
    """How likely data is lost in a year with one pool's drives in every layout."""
    return list(layout_odds(asked_bundle(request, studio, plan_id, body), body.pool_id))


@router.post(f"{PLAN}/growth", response={200: GrowthAsked, **ERRORS}, operation_id="ask_growth")
def ask_growth(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> GrowthAsked:
    """Ways out when the pools of what was asked are full, what a TB costs, and which project grew."""
    return growth_asked(asked_bundle(request, studio, plan_id, body))


@router.post(
    f"{PLAN}/growth/flash-or-disks",
    response={200: FlashOrDisks, **ERRORS},
    operation_id="flash_or_disks",
)
def ask_flash_or_disks(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> FlashOrDisks:
    """The cheapest flash pool and the cheapest disks behind flash for the work of what was asked."""
    return flash_or_disks(asked_bundle(request, studio, plan_id, body))


@router.post(f"{PLAN}/growth/read", response={200: ReadingsOut, **ERRORS}, operation_id="read_readings")
def read_readings(request: HttpRequest, studio: str, plan_id: UUID, body: AskReadings) -> ReadingsOut:
    """What a CSV of capacity readings would change; nothing is saved."""
    rows = read_readings_csv(body.text.encode(), asked_bundle(request, studio, plan_id, body))
    return ReadingsOut(added=rows.added, replaced=rows.replaced, patch=rows.patch)


@router.get(f"{PLAN}/readings.csv", response={200: None, **ERRORS}, operation_id="export_readings")
def export_readings(request: HttpRequest, studio: str, plan_id: UUID) -> HttpResponse:
    """The capacity readings of the plan's newest revision as CSV."""
    bundle = actions.newest_bundle(scope_of(request, studio), plan_id)
    return csv_file("readings.csv", write_readings_csv(bundle))


@router.get(f"{PLAN}/pick-list.csv", response={200: None, **ERRORS}, operation_id="export_pick_list")
def export_pick_list(request: HttpRequest, studio: str, plan_id: UUID) -> HttpResponse:
    """The pick list of the plan's newest revision as CSV."""
    money = evaluate(actions.newest_bundle(scope_of(request, studio), plan_id)).money
    return csv_file("pick-list.csv", write_table(PICK_COLUMNS, pick_rows(money.lines, money.currency)))


@router.post(f"{PLAN}/diagnose", response={200: Diagnosis, **ERRORS}, operation_id="diagnose_seat")
def diagnose_seat(request: HttpRequest, studio: str, plan_id: UUID, body: AskSlow) -> Diagnosis:
    """What would explain what was measured at a seat of what was asked."""
    bundle = asked_bundle(request, studio, plan_id, body)
    return diagnose(bundle, body.seat_id, seen_from(body.seen))


@router.get(f"{PLAN}/rehearsal.csv", response={200: None, **ERRORS}, operation_id="export_day")
def export_day(
    request: HttpRequest,
    studio: str,
    plan_id: UUID,
    fail: Annotated[list[str], Query(max_length=MOST_FAILURES)] = [],  # noqa: B006  (Ninja copies it)
) -> HttpResponse:
    """The day of the plan's newest revision as CSV, a row a moment."""
    bundle = actions.newest_bundle(scope_of(request, studio), plan_id)
    drawn = drawn_day(bundle, _failures(fail))
    return csv_file("day.csv", write_table(day_columns(drawn), day_rows(drawn)))


def _failures(texts: list[str]) -> tuple[Failure, ...]:
    return tuple(parse_failure(text, "fails") for text in texts)


@router.post(f"{PLAN}/cables", response={200: list[Cable], **ERRORS}, operation_id="list_cables")
def cables(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> list[Cable]:
    """The cables of what was asked, with their labels."""
    return list(cables_of(asked_bundle(request, studio, plan_id, body)))


@router.get(f"{PLAN}/cables.csv", response={200: None, **ERRORS}, operation_id="export_cables")
def export_cables(request: HttpRequest, studio: str, plan_id: UUID) -> HttpResponse:
    """The cables of the plan's newest revision as CSV."""
    listed = cables_of(actions.newest_bundle(scope_of(request, studio), plan_id))
    return csv_file("cables.csv", write_table(CABLE_COLUMNS, cable_rows(listed)))


@router.post(f"{PLAN}/new-item", response={200: PatchOut, **ERRORS}, operation_id="ask_new_item")
def ask_new_item(request: HttpRequest, studio: str, plan_id: UUID, body: AskNew) -> PatchOut:
    """The change that adds a new item with what it starts with; nothing is saved."""
    bundle = asked_bundle(request, studio, plan_id, body)
    return PatchOut(patch=new_item_patch(bundle, Asked(body.path, body.given, body.after, body.media)))


@router.post(f"{PLAN}/formats", response={200: FormatsFound, **ERRORS}, operation_id="find_formats")
def ask_formats(request: HttpRequest, studio: str, plan_id: UUID, body: AskText) -> FormatsFound:
    """The footage formats that typed words may mean; nothing is saved."""
    return find_formats(asked_bundle(request, studio, plan_id, body), body.text)


@router.post(f"{PLAN}/removal", response={200: PatchOut, **ERRORS}, operation_id="ask_removal")
def ask_removal(request: HttpRequest, studio: str, plan_id: UUID, body: AskItem) -> PatchOut:
    """The change that removes an item with whatever stands only with it; nothing is saved."""
    return PatchOut(patch=removal_patch(asked_bundle(request, studio, plan_id, body), body.path))


@router.post(f"{PLAN}/class", response={200: PatchOut, **ERRORS}, operation_id="ask_class")
def ask_class(request: HttpRequest, studio: str, plan_id: UUID, body: AskClass) -> PatchOut:
    """The change that makes a box or a cache one of a class; nothing is saved."""
    bundle = asked_bundle(request, studio, plan_id, body)
    return PatchOut(patch=class_patch(bundle, body.path, body.class_id))


@router.post(f"{STUDIO}/probe", response={200: ClipsOut, **ERRORS}, operation_id="probe_clips")
def probe_clips(request: HttpRequest, studio: str, file: Annotated[list[UploadedFile], File()]) -> ClipsOut:
    """Read ffprobe files of one kind of clip; nothing is saved, the plan takes the figures as a format."""
    scope = scope_of(request, studio)
    size = sum(each.size or 0 for each in file)
    if size > LARGEST_PROBE_BYTES:
        raise Refused("probe file", f"{size} bytes", PROBE_ACCEPTED)
    clips = actions.read_clips(scope, [each.file for each in file])
    return ClipsOut(clips=clips, format=format_of_clips(clips))
