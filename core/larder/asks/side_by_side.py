"""Plans side by side: the same measures of each, on the same brief, with what differs told apart."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from datetime import date
from decimal import Decimal
from typing import Annotated, Literal, NamedTuple, TypeVar

from pydantic import Field

from larder.base.errors import Refused, RefusedMany
from larder.base.fields import Number, Value, labelled
from larder.base.results import Result
from larder.base.units import TB, size_text
from larder.judge.evaluation import Evaluation, evaluate
from larder.judge.scales import Verdict
from larder.laws.layout import parse_layout
from larder.plan.bundle import Bundle
from larder.plan.day_parts import Service
from larder.plan.formats import ClassFormat, ComputedFormat, Format
from larder.plan.layout_words import words_of
from larder.plan.pools import Pool
from larder.plan.seats import SeatBase
from larder.readers.plan_file import bundle_from
from larder.stages.growth import month_of, ready_in_days
from larder.stages.odds import SMALLEST_ODDS, chance_text


class Measured(Result):
    """What a plan comes to, in the measures by which plans are compared; null where nothing tells.

    ``one_in_years`` is of the pool that is likeliest lost; ``lead_days`` from a yes to drives in use.
    """

    capex: Decimal
    five_years: Decimal
    currency: str
    plannable_bytes: int
    space_ratio: float | None
    speed_ratio: float | None
    speed_because: str
    one_in_years: float | None
    chance: str
    survives: int | None
    copies_met: bool
    full_on: date | None
    noise_dba: float
    watts: float
    upkeep_hours: float
    lead_days: int
    free_bays: int
    verdicts: dict[str, Verdict]
    ratios: dict[str, float | None]
    blocks: int
    warnings: int


def measured_of(bundle: Bundle, evaluation: Evaluation) -> Measured:
    """The measures of a plan that was judged."""
    lost = max((pool.pool_lost for pool in evaluation.odds), default=None)
    fulls = [tier.full_on for tier in evaluation.growth.tiers if tier.full_on is not None]
    severities = [finding.severity for finding in evaluation.findings if finding.accepted_reason is None]
    scales = {name: getattr(evaluation.scales, name) for name in ("speed", "space", "safety", "money")}
    return Measured(
        capex=evaluation.money.spent,
        five_years=evaluation.costs.five_years,
        currency=evaluation.money.currency,
        plannable_bytes=evaluation.tiers.plannable_bytes,
        space_ratio=scales["space"].ratio,
        speed_ratio=scales["speed"].ratio,
        speed_because=scales["speed"].because,
        one_in_years=None if lost is None else 1 / max(lost, SMALLEST_ODDS),
        chance="" if lost is None else chance_text(lost),
        survives=min((pool.guaranteed_failures for pool in evaluation.tiers.pools), default=None),
        copies_met=evaluation.copies.has_said
        and not any(material.lacking for material in evaluation.copies.materials),
        full_on=min(fulls, default=None),
        noise_dba=evaluation.power.noise_dba,
        watts=evaluation.power.busy_watts,
        upkeep_hours=evaluation.upkeep.hours_per_month,
        lead_days=ready_in_days(bundle),
        free_bays=sum(box.free_bays for box in evaluation.bays.boxes),
        verdicts={name: scale.verdict for name, scale in scales.items()},
        ratios={name: scale.ratio for name, scale in scales.items()},
        blocks=severities.count("block"),
        warnings=severities.count("warn"),
    )


def words_of_pool(pool: Pool) -> str:
    """A pool as one says it: number, size and kind of drives, layout, spares."""
    kind = "flash" if pool.drive_kind == "ssd" else "disks"
    sizes = pool.mixed_sizes or f"{len(pool.drives_bytes) - pool.spares} × {size_text(pool.drive_bytes)}"
    words = f"{sizes} {kind}, {words_of(parse_layout(pool.layout)).lower()}"
    if pool.spares:
        words += f", {pool.spares} hot {'spare' if pool.spares == 1 else 'spares'}"
    if pool.cold_spares:
        words += f", {pool.cold_spares} on the shelf"
    if pool.reused_drives:
        words += f", {pool.reused_drives} of them from stock" if pool.bought_drives else ", all from stock"
    return words


def reasons_of(bundle: Bundle, measured: Measured) -> Iterator[str]:
    """What a plan gives for its price, in a producer's words."""
    budget, currency = bundle.plan.brief.budget, measured.currency
    of = f" of {budget:,.0f}" if budget else ""
    yield f"Costs {measured.capex:,.0f}{of} {currency} now and {measured.five_years:,.0f} over five years."
    if measured.speed_ratio is not None:
        yield f"Plays ×{measured.speed_ratio:.2f} of what is asked; {measured.speed_because}."
    full = f", full in {month_of(measured.full_on)}" if measured.full_on else ""
    ratio = f", ×{measured.space_ratio:.2f} of what must fit" if measured.space_ratio is not None else ""
    yield f"Plannable are {measured.plannable_bytes / TB:,.1f} TB{ratio}{full}."
    if measured.survives is not None:
        drives = "drive" if measured.survives == 1 else "drives"
        yield f"Survives {measured.survives} dead {drives}; a pool is lost {measured.chance} a year."
    yield (
        f"Takes {measured.upkeep_hours:.1f} hours a month to keep, {measured.watts:.0f} W and "
        f"{measured.noise_dba:.0f} dB(A); {measured.lead_days} days from a yes to use."
    )


def names_of_boxes(bundle: Bundle) -> tuple[str, ...]:
    """The boxes of a plan by what they are, as the catalogue calls them."""
    names = {model.id: model.name for model in bundle.catalogue.boxes}
    return tuple(names.get(box.model_id, box.name) for box in bundle.plan.boxes)


MOST_PLANS = 4
Better = Literal["less", "more", ""]
Written = Literal[
    "money", "size", "ratio", "years", "count", "noise", "power", "hours", "days", "day", "words"
]


class WhatIf(Value):
    """Changes that are made to all plans alike: of people, of footage rates, of growth a year."""

    seats_percent: Annotated[Number, Field(ge=0, le=400), labelled("People", "%", 10)] = 100.0
    rate_percent: Annotated[Number, Field(ge=10, le=400), labelled("Footage rate", "%", 10)] = 100.0
    growth_percent: Annotated[Number, Field(ge=0, le=300), labelled("Growth a year, more by", "%", 5)] = 0.0


class MeasureCell(Result):
    """One plan's figure; drawn is its ``share`` of the row's largest, ``against`` says how it differs."""

    value: float | None
    text: str
    share: float
    is_best: bool
    against: str


class MeasureRow(Result):
    """One measure of all plans, in their order. ``differs`` where they are not all the same."""

    id: str
    name: str
    better: Better
    written: Written
    differs: bool
    cells: tuple[MeasureCell, ...]


class Column(Result):
    """One plan: its name, the four verdicts, and what is told of it apart."""

    name: str
    measured: Measured
    apart: str


class SideBySide(Result):
    """Two to four plans on the same brief, with the first as the baseline."""

    currency: str
    columns: tuple[Column, ...]
    rows: tuple[MeasureRow, ...]


def side_by_side(plans: Sequence[Bundle], what_if: WhatIf, *, same_brief: bool = True) -> SideBySide:
    """``plans`` beside each other, the first one being the baseline.

    Raises :class:`Refused` for too few or too many, and for plans in several currencies.
    """
    if not 2 <= len(plans) <= MOST_PLANS:
        raise Refused("plans", len(plans), f"two to {MOST_PLANS} plans")
    currencies = {plan.currency for plan in plans}
    if len(currencies) > 1:
        wanted = f"plans in one currency, such as {plans[0].currency}"
        raise Refused("plans", ", ".join(sorted(currencies)), wanted)
    columns, bundles = [], []
    for bundle in plans:
        asked, apart = (
            (bundle, "") if not same_brief or bundle is plans[0] else _on_brief_of(plans[0], bundle)
        )
        asked = asked_anew(asked, what_if)
        bundles.append(asked)
        measured = measured_of(asked, evaluate(asked))
        columns.append(Column(name=bundle.plan.name, measured=measured, apart=apart))
    return SideBySide(currency=plans[0].currency, columns=tuple(columns), rows=tuple(_rows(bundles, columns)))


def _on_brief_of(first: Bundle, other: Bundle) -> tuple[Bundle, str]:
    """The other plan with the baseline's people, footage and limits; its own where they do not fit it."""
    if other.plan.brief == first.plan.brief:
        return other, ""
    homes = {pool.id for pool in other.plan.pools}
    seats = tuple(_at_home(seat, homes) for seat in first.plan.brief.seats)
    services = tuple(_at_home(service, homes) for service in first.plan.brief.services)
    timetable = first.plan.brief.timetable
    jobs = tuple(j for j in timetable.jobs if {j.pool_id, j.to_pool_id} <= homes | {""})
    brief = first.plan.brief.model_copy(
        update={
            "seats": seats,
            "services": services,
            "timetable": timetable.model_copy(update={"jobs": jobs}),
        }
    )
    document = other.document()
    document["plan"]["brief"] = brief.model_dump(mode="json")
    own = {each["id"] for each in document["catalogue"]["formats"]}
    document["catalogue"]["formats"] += [
        each.model_dump(mode="json") for each in first.catalogue.formats if each.id not in own
    ]
    try:
        return bundle_from(document), ""
    except (Refused, RefusedMany):
        return other, "on a brief of its own: the other one does not fit its wires"


User = TypeVar("User", SeatBase, Service)


def _at_home(user: User, homes: set[str]) -> User:
    """Whoever works on a pool that is not there works on any."""
    return user if user.works_on in homes else user.model_copy(update={"works_on": ""})


def asked_anew(bundle: Bundle, what_if: WhatIf) -> Bundle:
    """The plan with more people, heavier footage and more growth."""
    brief = bundle.plan.brief
    people = what_if.seats_percent / 100
    seats = tuple(
        seat.model_copy(update={"count": min(math.ceil(seat.count * people - 1e-9), 1000)})
        for seat in brief.seats
    )
    growth = min(brief.growth_percent_per_year + what_if.growth_percent, 300.0)
    changed = brief.model_copy(update={"seats": seats, "growth_percent_per_year": growth})
    formats = tuple(_heavier(each, what_if.rate_percent / 100) for each in bundle.catalogue.formats)
    catalogue = bundle.catalogue.model_copy(update={"formats": formats})
    plan = bundle.plan.model_copy(update={"brief": changed})
    return bundle.model_copy(update={"plan": plan, "catalogue": catalogue})


def _heavier(footage: Format, times: float) -> Format:
    """Footage at so many times its rate: by its target, by what it is compressed to, by its picture."""
    if times == 1:
        return footage
    if isinstance(footage, ClassFormat):
        return footage.model_copy(update={"bytes_per_s": footage.bytes_per_s * times})
    if isinstance(footage, ComputedFormat):
        return footage.model_copy(update={"ratio": max(footage.ratio / times, 1.0)})
    return footage


class _Measure(NamedTuple):
    id: str
    name: str
    better: Better
    written: Written
    value: Callable[[Measured], float | None]
    text: Callable[[Measured], str]


def _number(value: float | None, form: str, unit: str = "") -> str:
    return "–" if value is None else f"{value:{form}}{unit}"


MEASURES: tuple[_Measure, ...] = (
    _Measure("capex", "Now", "less", "money", lambda m: float(m.capex), lambda m: f"{m.capex:,.0f}"),
    _Measure(
        "five-years", "Five years", "less", "money", lambda m: float(m.five_years),
        lambda m: f"{m.five_years:,.0f}",
    ),
    _Measure(
        "plannable", "Plannable", "more", "size", lambda m: float(m.plannable_bytes),
        lambda m: f"{m.plannable_bytes / TB:,.1f} TB",
    ),
    _Measure(
        "space", "Of what must fit", "more", "ratio", lambda m: m.space_ratio,
        lambda m: _number(m.space_ratio, ".2f"),
    ),
    _Measure(
        "speed", "Speed, of what is asked", "more", "ratio", lambda m: m.speed_ratio,
        lambda m: _number(m.speed_ratio, ".2f"),
    ),
    _Measure(
        "survives", "Dead drives survived", "more", "count",
        lambda m: None if m.survives is None else float(m.survives),
        lambda m: _number(m.survives, "d"),
    ),
    _Measure(
        "odds", "A pool is lost once in", "more", "years", lambda m: m.one_in_years,
        lambda m: m.chance.removeprefix("about 1 in ") if m.chance else "–",
    ),
    _Measure(
        "upkeep", "Hours a month", "less", "hours", lambda m: m.upkeep_hours,
        lambda m: f"{m.upkeep_hours:.1f}",
    ),
    _Measure("watts", "Draws at work", "less", "power", lambda m: m.watts, lambda m: f"{m.watts:.0f} W"),
    _Measure("noise", "Noise", "less", "noise", lambda m: m.noise_dba, lambda m: f"{m.noise_dba:.0f} dB(A)"),
    _Measure(
        "lead", "From a yes to use", "less", "days", lambda m: float(m.lead_days),
        lambda m: f"{m.lead_days} days",
    ),
    _Measure("bays", "Free bays", "more", "count", lambda m: float(m.free_bays), lambda m: str(m.free_bays)),
    _Measure(
        "full", "Full in", "more", "day",
        lambda m: None if m.full_on is None else float(m.full_on.toordinal()),
        lambda m: "beyond what is reckoned" if m.full_on is None else month_of(m.full_on),
    ),
    _Measure(
        "findings", "Findings that block or warn", "less", "count", lambda m: float(m.blocks + m.warnings),
        lambda m: str(m.blocks + m.warnings),
    ),
)  # fmt: skip
ON_SCALE = frozenset({"money", "size", "ratio", "power", "hours", "days", "count"})
"""Drawn as lengths from nothing; the others are only written."""


def _rows(bundles: Sequence[Bundle], columns: Sequence[Column]) -> Iterator[MeasureRow]:
    for measure in MEASURES:
        values = [measure.value(column.measured) for column in columns]
        texts = [measure.text(column.measured) for column in columns]
        yield _row(measure, values, texts)
    for row_id, name, words in _in_words(bundles):
        cells = tuple(
            MeasureCell(value=None, text=text, share=0.0, is_best=False, against="") for text in words
        )
        yield MeasureRow(
            id=row_id, name=name, better="", written="words", differs=len(set(words)) > 1, cells=cells
        )


def _row(measure: _Measure, values: Sequence[float | None], texts: Sequence[str]) -> MeasureRow:
    known = [value for value in values if value is not None]
    most = max((abs(value) for value in known), default=0.0)
    best = (min if measure.better == "less" else max)(known, default=None)
    differs = len(set(texts)) > 1
    return MeasureRow(
        id=measure.id, name=measure.name, better=measure.better, written=measure.written, differs=differs,
        cells=tuple(
            MeasureCell(
                value=value, text=text,
                share=_share(measure, value, most),
                is_best=differs and value is not None and value == best,
                against=_against(measure, values[0], value),
            )
            for value, text in zip(values, texts, strict=True)
        ),
    )  # fmt: skip


def _share(measure: _Measure, value: float | None, most: float) -> float:
    """Its part of the largest, where lengths from nothing say something."""
    return abs(value) / most if value is not None and most and measure.written in ON_SCALE else 0.0


def _against(measure: _Measure, first: float | None, value: float | None) -> str:
    """How it differs from the baseline, in words; nothing where it hardly does."""
    if first is None or value is None or measure.written not in ON_SCALE or math.isclose(first, value):
        return ""
    if measure.written in ("count", "days"):
        return f"{value - first:+.0f}".replace("-", "−")
    return f"{(value / first - 1) * 100:+.0f} %".replace("-", "−") if first else ""


def _in_words(bundles: Sequence[Bundle]) -> Iterator[tuple[str, str, list[str]]]:
    """What cannot be measured: pools, boxes, how copies are kept."""
    yield "pools", "Pools", ["; ".join(map(words_of_pool, b.plan.pools)) or "none" for b in bundles]
    yield "boxes", "Boxes", ["; ".join(names_of_boxes(b)) or "none" for b in bundles]
    yield (
        "copies",
        "Copies",
        ["; ".join(c.name for c in b.plan.safekeeping.copies) or "none" for b in bundles],
    )


COMPARE_COLUMNS = ("measure", "better")


def compare_rows(compared: SideBySide) -> Iterator[list[str]]:
    """The comparison as rows of a table, a column a plan."""
    for row in compared.rows:
        yield [row.name, row.better, *(cell.text for cell in row.cells)]
