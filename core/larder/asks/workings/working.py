"""How a figure says what it is: registered beside the code that builds its terms, under an id said once."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, TypeVar

from larder.base.measures import Unit
from larder.base.terms import Term
from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle

Subject = TypeVar("Subject")
Read = Callable[[Evaluation, Any], float | None]


@dataclass(frozen=True)
class Working:
    """A kind of figure. ``id`` and ``title`` have {id} and {name} of whatever it is a figure of.

    ``subjects`` finds those in an evaluation; ``read`` is the figure as the stages tell it and ``terms``
    builds what it is made of from the terms that they return.
    """

    id: str
    title: str
    unit: Unit
    source: str
    subjects: Callable[[Evaluation], Iterable[Any]]
    read: Read
    terms: Callable[[Bundle, Evaluation, Any], Term | None]


@dataclass(frozen=True)
class Figure:
    """One figure of an evaluation, with its working."""

    id: str
    title: str
    working: Working
    subject: Any

    def value(self, evaluation: Evaluation) -> float | None:
        """The figure in the evaluation that it was found in, in its own unit."""
        return self.working.read(evaluation, self.subject)

    def terms(self, bundle: Bundle, evaluation: Evaluation) -> Term | None:
        """What it is made of; None where it has no value."""
        return self.working.terms(bundle, evaluation, self.subject)


WORKINGS: list[Working] = []
Terms = Callable[[Bundle, Evaluation, Subject], Term | None]


def working(
    figure_id: str,
    *,
    title: str,
    unit: Unit,
    source: str,
    read: Callable[[Evaluation, Subject], float | None],
    subjects: Callable[[Evaluation], Iterable[Subject]],
) -> Callable[[Terms[Subject]], Terms[Subject]]:
    """Register the decorated builder of terms as the working of a kind of figure."""

    def register(terms: Terms[Subject]) -> Terms[Subject]:
        WORKINGS.append(Working(figure_id, title, unit, source, subjects, read, terms))
        return terms

    return register


def figures_in(evaluation: Evaluation) -> Iterator[Figure]:
    """Every figure of an evaluation that can be explained, in the order of the stages."""
    for each in WORKINGS:
        for subject in each.subjects(evaluation):
            subject_id, name = getattr(subject, "id", ""), getattr(subject, "name", "")
            yield Figure(_named(each.id, subject_id, ""), _named(each.title, "", name), each, subject)


def values_in(evaluation: Evaluation) -> dict[str, float | None]:
    """Every figure's value by its id, without its working: for asking many evaluations."""
    return {
        _named(each.id, getattr(subject, "id", ""), ""): each.read(evaluation, subject)
        for each in WORKINGS
        for subject in each.subjects(evaluation)
    }


@lru_cache(maxsize=10_000)
def _named(pattern: str, subject_id: str, name: str) -> str:
    return pattern.format(id=subject_id, name=name)


def whole(evaluation: Evaluation) -> tuple[Evaluation]:
    """The only subject of a figure of the whole plan."""
    return (evaluation,)
