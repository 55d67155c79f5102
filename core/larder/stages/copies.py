"""Copies: what is left of each material after each loss, whether the rule is met, whether they run.

The rule counts the one in use and its copies on things that fail apart, media kinds, buildings and what is
out of an intruder's reach. What is made alike within reach is no copy by it: a deletion is there in a
moment. What is worth *replaceable* needs none.
"""

from __future__ import annotations

from decimal import Decimal
from functools import lru_cache
from typing import Literal

from larder.base.memo import remembered
from larder.base.patch import Operation
from larder.base.results import Result
from larder.base.units import HOURS_A_DAY, TB
from larder.laws.survival import gravest, known
from larder.plan.copy_rules import COPY_RULES, numbers_of, rule_patch
from larder.plan.limits import Tolerance
from larder.plan.safekeeping import Copy
from larder.plan.timetable import MINUTES_A_DAY
from larder.plan.vocabulary import Worth

from .holdings import Holding
from .keeping import KEEPING, RULE_READS, Keeping, Safekept, copy_rate, ends_of
from .losses import LOSS_KINDS, LossKind
from .stage import Judged, Part

KEPT_BYTES = 4_000_000
Rule = tuple[int, int, int, int]
"""Copies, kinds of media, copies elsewhere, copies out of reach: what the house wants of each."""


class HoldingKept(Result):
    """One copy of a material. ``copy_id`` is empty for the one in use; ``missing`` says why it is no copy.

    ``retrieval_price`` is what getting it back costs, null where that is nothing or not said.
    ``age_hours`` is how old it is at the worst, ``restore_hours`` until it is back where people work, null
    where nobody knows how.
    """

    copy_id: str
    where: str
    age_hours: float
    restore_hours: float | None
    retrieval_price: Decimal | None
    missing: str


class Cell(Result):
    """What is left after a loss: copies, the newest one's age, and the time until people work again.

    Null hours: nothing is left, or nobody has said how it comes back. ``is_old`` and ``is_late``: more is
    lost, or it takes longer, than is tolerated.
    """

    loss: LossKind
    survivors: int
    recovery_point_hours: float | None
    recovery_hours: float | None
    is_old: bool
    is_late: bool
    gone: tuple[int, ...]
    set_back: tuple[int, ...]


class RuleFigure(Result):
    """One of the four things that the house's rule counts, with what it wants."""

    of: Literal["copies", "kinds of media", "copies elsewhere", "copies offline or immutable"]
    have: int
    want: int

    @property
    def is_lacking(self) -> bool:
        return self.have < self.want

    @property
    def said(self) -> str:
        return f"{self.have} of {self.want} {self.of}"


class MaterialKept(Result):
    """One class of material; ``copies`` counts the one in use, ``lacking`` is empty where the rule is met.

    ``worst`` is what it lacks most of the rule.
    """

    id: str
    name: str
    worth: Worth
    bytes: float
    holdings: tuple[HoldingKept, ...]
    copies: int
    media_kinds: int
    elsewhere: int
    offline: int
    lacking: str
    worst: RuleFigure | None
    cells: tuple[Cell, ...]


class CopyRun(Result):
    """How one copy runs. ``first_days`` is what the first one takes over the line, 0 where it does not.

    ``run_hours`` is null where nothing carries it. ``keeps_up``: a run is over in its time, so the copy does
    not fall behind for ever.
    """

    id: str
    name: str
    material_names: tuple[str, ...]
    bytes: float
    run_bytes: float
    bytes_per_s: float
    limited_by: str
    run_hours: float | None
    window_hours: float
    done_minute: int | None
    keeps_up: bool
    is_over_the_line: bool
    first_days: float | None
    missing: str


class RuleOffered(Result):
    """A rule that houses keep to, whether this one does, and the change that takes it over."""

    id: str
    name: str
    is_kept: bool
    patch: tuple[Operation, ...]


class CopiesResult(Result):
    """Material against losses, and every copy. ``has_said``: any copy is planned at all."""

    rules: tuple[RuleOffered, ...]
    materials: tuple[MaterialKept, ...]
    copies: tuple[CopyRun, ...]
    has_said: bool

    @property
    def weakest(self) -> MaterialKept | None:
        """What lacks something: what cannot be had again first, then by what is elsewhere."""
        lacking = [material for material in self.materials if material.lacking]
        key = lambda m: (m.worth != "irreplaceable", m.elsewhere, m.copies, -m.bytes)  # noqa: E731
        return min(lacking, key=key, default=None)


def window_hours(copy: Copy) -> float:
    """The hours of a day in which a copy may run; all of them where it follows every change."""
    if copy.runs_all_the_time:
        return HOURS_A_DAY
    return ((copy.by_minute - copy.from_minute) % MINUTES_A_DAY or MINUTES_A_DAY) / 60


def _copies(judged: Judged) -> CopiesResult:
    keeping = judged.of(KEEPING)
    plan = judged.bundle.plan
    tolerances = {tolerance.id: tolerance for tolerance in plan.brief.limits.tolerances}
    return CopiesResult(
        rules=_offered(numbers_of(judged.bundle.house_rules)),
        materials=tuple(
            _material(material, tolerances.get(material.kept.worth)) for material in keeping.materials
        ),
        copies=tuple(_copy(copy, keeping) for copy in plan.safekeeping.copies),
        has_said=bool(plan.safekeeping.copies),
    )


@lru_cache(maxsize=64)
def _offered(numbers: tuple[int, int, int, int]) -> tuple[RuleOffered, ...]:
    """Of those with the same numbers the first is the one that is kept."""
    kept = next((rule.id for rule in COPY_RULES if rule.numbers == numbers), "")
    return tuple(
        RuleOffered(id=rule.id, name=rule.name, is_kept=rule.id == kept, patch=rule_patch(rule))
        for rule in COPY_RULES
    )


@remembered(KEPT_BYTES, lambda *_: 12_000)
def _material(each: Safekept, tolerance: Tolerance | None) -> MaterialKept:
    kept = each.kept
    figures = rule_figures(each.whole, each.house.rule)
    lacking = [] if kept.worth == "replaceable" else [figure for figure in figures if figure.is_lacking]
    return MaterialKept(
        id=kept.id,
        name=kept.name,
        worth=kept.worth,
        bytes=kept.bytes,
        holdings=tuple(_holding(each, n) for n in range(len(each.every))),
        copies=figures[0].have,
        media_kinds=figures[1].have,
        elsewhere=figures[2].have,
        offline=figures[3].have,
        lacking=", ".join(figure.said for figure in lacking),
        worst=min(lacking, key=lambda figure: figure.have / figure.want, default=None),
        cells=tuple(_cell(each, kind, tolerance) for kind in LOSS_KINDS),
    )


def rule_figures(whole: tuple[Holding, ...], rule: Rule) -> tuple[RuleFigure, ...]:
    """Copies, kinds of media, copies elsewhere and copies out of reach, each against what the house wants."""
    counted, home = _counted(whole), whole[0]
    buildings = {building for body in home.bodies for building in body.buildings}
    away = [h for h in counted[1:] if not any(buildings & body.buildings for body in h.bodies)]
    media = {body.media for holding in counted for body in holding.bodies}
    apart = [holding for holding in counted if holding.is_apart]
    return (
        RuleFigure(of="copies", have=len(counted), want=rule[0]),
        RuleFigure(of="kinds of media", have=len(media), want=rule[1]),
        RuleFigure(of="copies elsewhere", have=len(away), want=rule[2]),
        RuleFigure(of="copies offline or immutable", have=len(apart), want=rule[3]),
    )


def _counted(whole: tuple[Holding, ...]) -> tuple[Holding, ...]:
    """The holdings that the rule counts: on things that fail apart, and no mere likeness within reach."""
    counted: list[Holding] = []
    taken: set[str] = set()
    for n, holding in enumerate(whole):
        fails_with = {each for body in holding.bodies for each in (body.key, *body.boxes)}
        is_likeness = holding.follows and not holding.goes_back
        if n and (is_likeness or fails_with & taken):
            continue
        counted.append(holding)
        taken |= fails_with
    return tuple(counted)


def _holding(each: Safekept, n: int) -> HoldingKept:
    holding = each.every[n]
    held = each.held[each.at.index(n)] if n in each.at else None
    return HoldingKept(
        copy_id=holding.copy.id if holding.copy else "",
        where=holding.name,
        age_hours=held.age_hours if held else 0.0,
        restore_hours=known(min(held.ready_hours, held.switch_hours)) if held else None,
        retrieval_price=_retrieval_price(holding, each.kept.bytes),
        missing=holding.missing,
    )


def _retrieval_price(holding: Holding, size_bytes: float) -> Decimal | None:
    """What a service asks for giving all of it back."""
    per_tb = holding.bodies[0].retrieval_price_per_tb
    if not per_tb:
        return None
    return (per_tb * Decimal(str(size_bytes / TB))).quantize(Decimal("0.01"))


def _cell(each: Safekept, kind: LossKind, tolerance: Tolerance | None) -> Cell:
    left, gravest_loss = each.after(kind), gravest(each.held, each.losses[kind])
    point, hours = left.recovery_point_hours, left.recovery_hours
    return Cell(
        loss=kind,
        survivors=left.survivors,
        recovery_point_hours=point,
        recovery_hours=known(hours),
        is_old=tolerance is not None and (point is None or point > tolerance.loss_hours),
        is_late=tolerance is not None and (hours is None or hours > tolerance.downtime_hours),
        gone=tuple(n for bit, n in enumerate(each.at) if gravest_loss.takes >> bit & 1),
        set_back=tuple(n for bit, n in enumerate(each.at) if gravest_loss.rolls_back >> bit & 1),
    )


def _copy(copy: Copy, keeping: Keeping) -> CopyRun:
    every = keeping.of(copy)
    size = sum(each.kept.bytes for each in every)
    changed = sum(each.kept.changed_bytes_per_day for each in every)
    window = window_hours(copy)
    pairs = [ends_of(copy, each) for each in every]
    rate, limited_by = min(
        (copy_rate(source, holding.bodies[0], keeping.house.line) for source, holding in pairs),
        default=(0.0, ""),
    )
    over = any(
        body.is_over_the_line for source, holding in pairs for body in (*holding.bodies, *source.bodies)
    )
    run_bytes = changed * max(copy.every_hours, 1.0) / HOURS_A_DAY
    run_hours = run_bytes / rate / 3600 if rate > 0 else None
    a_day = rate * window * 3600
    today = sum(each.kept.bytes_today for each in every)
    first: float | None = 0.0
    if over and not copy.first_by_hand:
        first = today / a_day if a_day else None
    done = None
    if run_hours is not None and run_hours < HOURS_A_DAY and not copy.runs_all_the_time:
        done = (copy.from_minute + round(run_hours * 60)) % MINUTES_A_DAY
    keeps_up = changed <= a_day if over or run_hours is None else run_hours <= window
    return CopyRun(
        id=copy.id,
        name=copy.name,
        material_names=tuple(each.kept.name for each in every),
        bytes=size,
        run_bytes=run_bytes,
        bytes_per_s=rate,
        limited_by=limited_by,
        run_hours=run_hours,
        window_hours=window,
        done_minute=done,
        keeps_up=keeps_up or not changed,
        is_over_the_line=over,
        first_days=first,
        missing=next((holding.missing for _, holding in pairs if holding.missing), ""),
    )


COPIES: Part[CopiesResult] = Part(
    "copies",
    _copies,
    reads=("plan/safekeeping", "plan/brief/limits", *RULE_READS),
    after=(KEEPING,),
)
