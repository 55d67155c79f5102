"""What the advisor answers: designs as they were judged, what each school comes to, what stands there."""

from __future__ import annotations

from itertools import pairwise
from typing import Literal

from larder.asks.side_by_side import Measured
from larder.base.results import Result
from larder.base.units import TB

from .needs import Miss, NeedId
from .schools import School

Outcome = Literal["serves", "just", "fails", "nothing", "unasked"]
Target = Literal["enough", "tight", "none"]


class DesignTold(Result):
    """A design that was judged. ``key`` opens it; ``letter`` names it among the few that are shown.

    ``parts`` are its pools, boxes, copies and network in words.
    """

    key: str
    letter: str
    school_id: str
    title: str
    parts: tuple[str, ...]
    measured: Measured
    misses: tuple[Miss, ...]
    why: tuple[str, ...]
    gap: str = ""


class SchoolAnswer(Result):
    """What a school comes to: its best design, or the nearest one with what would have to give.

    ``letter`` is that of the same design among the few that are shown, empty where it is none of them.
    """

    id: str
    number: int
    name: str
    fits: str
    verdict: Outcome
    letter: str
    design: DesignTold | None
    sentence: str


class Standing(Result):
    """A plan that is there already: what it misses, and when it is to be changed."""

    name: str
    measured: Measured
    misses: tuple[Miss, ...]
    sentence: str


class Binding(Result):
    """A need, and the share of all boxes with their pools that it alone rules out, 0 to 1."""

    need: NeedId
    words: str
    rules_out: float


class Advice(Result):
    """The whole answer. ``looked_at`` designs the catalogue allows; ``worth`` of them are undominated.

    ``target`` is what was found: designs that are *enough* in speed and space, such as just do, or none.
    """

    looked_at: int
    worth: int
    target: Target
    designs: tuple[DesignTold, ...]
    schools: tuple[SchoolAnswer, ...]
    today: Standing | None
    smallest: str
    binds: tuple[Binding, ...]
    conflict: str
    left_out: tuple[str, ...]


def school_answer(
    school: School,
    verdict: Outcome,
    design: DesignTold | None,
    sentence: str,
    letter: str = "",
) -> SchoolAnswer:
    """What a school comes to."""
    return SchoolAnswer(
        id=school.id, number=school.number, name=school.name, fits=school.fits, verdict=verdict,
        letter=letter, design=design, sentence=sentence,
    )  # fmt: skip


def would_have_to_give(told: DesignTold) -> str:
    """What the nearest design of a school misses, in words."""
    missed = [miss.words for miss in told.misses[:3]]
    more = len(told.misses) - len(missed)
    return f"The nearest, {told.title}: " + "; ".join(missed) + (f"; and {more} more." if more else ".")


def with_gaps(designs: list[DesignTold]) -> tuple[DesignTold, ...]:
    """Each with what it costs more than the one before, and what for."""
    found = designs[:1]
    for before, told in pairwise(designs):
        found.append(told.model_copy(update={"gap": gap_between(before, told)}))
    return tuple(found)


def gap_between(before: DesignTold, told: DesignTold, named: str = "") -> str:
    """What one design costs more than another in five years, and what it has more of."""
    a, b = before.measured, told.measured
    gained = []
    if b.plannable_bytes > a.plannable_bytes * 1.02:
        gained.append(f"{(b.plannable_bytes - a.plannable_bytes) / TB:.0f} TB more")
    if (b.speed_ratio or 0) > (a.speed_ratio or 0) * 1.02:
        gained.append(f"×{b.speed_ratio:.2f} instead of ×{a.speed_ratio:.2f}")
    if (b.one_in_years or 0) > (a.one_in_years or 0) * 3:
        gained.append(f"a pool is lost {b.chance} a year instead of {a.chance}")
    if (b.survives or 0) > (a.survives or 0):
        gained.append(f"survives {b.survives} dead drives instead of {a.survives}")
    more = f"{b.five_years - a.five_years:,.0f} {b.currency} more than {named or before.letter} in five years"
    return f"{more}: {', '.join(gained)}." if gained else f"{more}."
