"""How a figure comes about: its formula, the terms it was made of, their source, and what moves it."""

from __future__ import annotations

from collections.abc import Callable

from larder.base.errors import Refused
from larder.base.measures import Unit
from larder.base.results import Result
from larder.base.terms import Term
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle

from .movers import Mover, goes_on_always, movers_of
from .workings import figures_in


class Explanation(Result):
    """A figure's working. ``untried`` of the plan's ``numbers`` were not changed, for want of time."""

    figure_id: str
    title: str
    value: float | None
    unit: Unit
    formula: str
    source: str
    terms: Term | None
    movers: tuple[Mover, ...]
    numbers: int = 0
    untried: int = 0


def explain(
    bundle: Bundle,
    figure_id: str,
    *,
    with_movers: bool = True,
    goes_on: Callable[[], bool] = goes_on_always,
) -> Explanation:
    """The working of ``figure_id``; raises :class:`Refused` with the ids there are.

    What moves it is found for all figures of the plan at once, by some hundred judgements; the rest is at
    hand. Before each of these ``goes_on`` is asked, so that whoever calls bounds the work; what is then left
    out is said.
    """
    evaluation = evaluate(bundle)
    table = {figure.id: figure for figure in figures_in(evaluation)}
    figure = table.get(figure_id)
    if figure is None:
        raise Refused("figure", figure_id, "one of " + ", ".join(table))
    terms = figure.terms(bundle, evaluation)
    swept = movers_of(bundle, goes_on) if with_movers else None
    return Explanation(
        figure_id=figure_id,
        title=figure.title,
        value=figure.value(evaluation),
        unit=figure.working.unit,
        formula=terms.formula if terms else "",
        source=figure.working.source,
        terms=terms,
        movers=swept.movers.get(figure_id, ()) if swept else (),
        numbers=swept.numbers if swept else 0,
        untried=swept.untried if swept else 0,
    )
