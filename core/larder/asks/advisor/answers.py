"""What the advisor answers: designs as they were judged, what each school comes to, what stands there."""

from __future__ import annotations

from collections.abc import Iterator
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


MUCH, TIMES_LIKELIER = 1.02, 3
"""Less than this apart nobody would tell two designs apart."""


def gap_between(before: DesignTold, told: DesignTold, named: str = "") -> str:
    """What one design costs more than another in five years, what for, and what it has less of."""
    a, b = before.measured, told.measured
    more = round(b.five_years - a.five_years)
    name = named or before.letter
    said = f"{more:,} {b.currency} more than {name} in five years" if more else f"Costs what {name} does"
    gained, lost = list(_better(a, b)), list(_worse(a, b))
    if gained:
        said = f"{said}: {', '.join(gained)}"
    return f"{said}, but {', '.join(lost)}." if lost else f"{said}."


def _better(a: Measured, b: Measured) -> Iterator[str]:
    """What the second has more of, to be noticed."""
    if b.plannable_bytes > a.plannable_bytes * MUCH:
        yield f"{(b.plannable_bytes - a.plannable_bytes) / TB:.0f} TB more"
    if (b.speed_ratio or 0) > (a.speed_ratio or 0) * MUCH:
        yield _speeds(a, b)
    if (b.one_in_years or 0) > (a.one_in_years or 0) * TIMES_LIKELIER:
        yield _chances(a, b)
    if (b.survives or 0) > (a.survives or 0):
        yield f"survives {b.survives} dead drives instead of {a.survives}"


def _worse(a: Measured, b: Measured) -> Iterator[str]:
    """What the second has less of, to be noticed."""
    if b.plannable_bytes * MUCH < a.plannable_bytes:
        yield f"{(a.plannable_bytes - b.plannable_bytes) / TB:.0f} TB less"
    if (b.speed_ratio or 0) * MUCH < (a.speed_ratio or 0):
        yield _speeds(a, b)
    if (b.one_in_years or 0) * TIMES_LIKELIER < (a.one_in_years or 0):
        yield _chances(a, b)
    if (b.survives or 0) < (a.survives or 0):
        yield f"survives only {b.survives or 0} dead drive{'' if b.survives == 1 else 's'}"


def _speeds(a: Measured, b: Measured) -> str:
    return f"×{b.speed_ratio or 0:.2f} instead of ×{a.speed_ratio or 0:.2f}"


def _chances(a: Measured, b: Measured) -> str:
    return f"a pool is lost {b.chance} a year instead of {a.chance}"
