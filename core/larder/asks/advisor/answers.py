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


class JudgedDesign(Result):
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
    design: JudgedDesign | None
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
    designs: tuple[JudgedDesign, ...]
    schools: tuple[SchoolAnswer, ...]
    today: Standing | None
    smallest: str
    binds: tuple[Binding, ...]
    conflict: str
    left_out: tuple[str, ...]


def school_answer(
    school: School,
    verdict: Outcome,
    design: JudgedDesign | None,
    sentence: str,
) -> SchoolAnswer:
    """What a school comes to; its letter is known once the designs that are shown are."""
    return SchoolAnswer(
        id=school.id, number=school.number, name=school.name, fits=school.fits, verdict=verdict,
        letter="", design=design, sentence=sentence,
    )  # fmt: skip


def would_have_to_give(design: JudgedDesign) -> str:
    """What the nearest design of a school misses, in words."""
    missed = [miss.words for miss in design.misses[:3]]
    more = len(design.misses) - len(missed)
    return f"The nearest, {design.title}: " + "; ".join(missed) + (f"; and {more} more." if more else ".")


def with_gaps(designs: list[JudgedDesign]) -> tuple[JudgedDesign, ...]:
    """Each with what it costs more than the one before, and what for."""
    found = designs[:1]
    for before, result in pairwise(designs):
        found.append(result.model_copy(update={"gap": gap_between(before, result)}))
    return tuple(found)


MUCH, TIMES_LIKELIER = 1.02, 3.0
"""Less than this apart nobody would tell two designs apart."""


def gap_between(before: JudgedDesign, design: JudgedDesign, named: str = "") -> str:
    """What one design costs more than another in five years, what for, and what it has less of."""
    a, b = before.measured, design.measured
    more = round(b.five_years - a.five_years)
    name = named or before.letter
    said = f"{more:,} {b.currency} more than {name} in five years" if more else f"Costs what {name} does"
    differences = list(_differences(a, b))
    gained = [words for is_better, words in differences if is_better]
    lost = [words for is_better, words in differences if not is_better]
    if gained:
        said = f"{said}: {', '.join(gained)}"
    return f"{said}, but {', '.join(lost)}." if lost else f"{said}."


def _differences(a: Measured, b: Measured) -> Iterator[tuple[bool, str]]:
    """(whether the second is better, in words) of all that is to be noticed."""
    room = (b.plannable_bytes - a.plannable_bytes) / TB
    if _apart(a.plannable_bytes, b.plannable_bytes, MUCH):
        yield room > 0, f"{abs(room):.0f} TB {'more' if room > 0 else 'less'}"
    slow, quick = a.speed_ratio or 0.0, b.speed_ratio or 0.0
    if _apart(slow, quick, MUCH):
        yield quick > slow, f"×{quick:.2f} instead of ×{slow:.2f}"
    likely, unlikely = a.one_in_years or 0.0, b.one_in_years or 0.0
    if _apart(likely, unlikely, TIMES_LIKELIER):
        yield unlikely > likely, f"a pool is lost {b.chance} a year instead of {a.chance}"
    few, many = a.survives or 0, b.survives or 0
    if many > few:
        yield True, f"survives {many} dead drives instead of {few}"
    elif many < few:
        yield False, f"survives only {many} dead drive{'' if many == 1 else 's'}"


def _apart(a: float, b: float, times: float) -> bool:
    return max(a, b) > min(a, b) * times
