"""How a figure comes about: formula in words, inputs with values and units, source, and what moves it.

Sensitivity is measured, not derived: every number of the plan, its formats and its house rules is changed by
10 % down and up and the plan is evaluated anew.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.fields import Value
from larder.base.patch import Document, Operation, apply_patch
from larder.base.results import Result
from larder.judge.evaluation import Evaluation, evaluate, figures_alone
from larder.plan.bundle import Bundle, Plan
from larder.plan.catalogue import Catalogue
from larder.plan.glossary import label_at
from larder.plan.house_rules import HouseRules

from .working import Input
from .workings import figures

CHANGE = 0.1
MOVERS_SHOWN = 3


class Mover(Result):
    """What the figure becomes when one field of the plan is a tenth lower and higher."""

    path: str
    label: str
    lower: float | None
    higher: float | None


class Explanation(Result):
    """A figure's working. ``untried`` of the plan's ``numbers`` were not changed, for want of time."""

    figure_id: str
    title: str
    value: float | None
    unit: str
    formula: str
    source: str
    inputs: tuple[Input, ...]
    movers: tuple[Mover, ...]
    numbers: int = 0
    untried: int = 0


def _always() -> bool:
    return True


def explain(
    bundle: Bundle, figure_id: str, *, with_movers: bool = True, goes_on: Callable[[], bool] = _always
) -> Explanation:
    """The working of ``figure_id``; raises :class:`Refused` with the ids there are.

    What moves it most is found by judging the plan some hundred times over; the rest is at hand at once.
    Before each of these ``goes_on`` is asked, so that whoever calls bounds the work; what is then left out
    is said.
    """
    evaluation = evaluate(bundle)
    table = figures(evaluation)
    figure = table.get(figure_id)
    if figure is None:
        raise Refused("figure", figure_id, "one of " + ", ".join(table))
    movers, numbers, untried = _movers(bundle, figure.read, goes_on) if with_movers else ((), 0, 0)
    return Explanation(
        figure_id=figure_id,
        title=figure.title,
        value=figure.read(evaluation),
        unit=figure.unit,
        formula=figure.formula,
        source=figure.source,
        inputs=tuple(figure.inputs(bundle, evaluation)),
        movers=movers,
        numbers=numbers,
        untried=untried,
    )


def _movers(
    bundle: Bundle, read: Callable[[Evaluation], float | None], goes_on: Callable[[], bool]
) -> tuple[tuple[Mover, ...], int, int]:
    """(the strongest movers, how many numbers the plan has, how many of them were not tried)."""
    document = bundle.document()
    found: list[tuple[float, Mover]] = []
    numbers = (
        *numbers_of(document["plan"], "plan"),
        *numbers_of(document["catalogue"]["formats"], "catalogue/formats"),
        *numbers_of(_used(bundle, document, "drives", "id"), "catalogue/drives"),
        *numbers_of(_used(bundle, document, "prices", "item_id"), "catalogue/prices"),
        *numbers_of(document["house_rules"], "house_rules"),
    )
    tried = 0
    for path, value in numbers:
        if not goes_on():
            break
        tried += 1
        lower, higher = (_changed(bundle, document, path, value, read, sign * CHANGE) for sign in (-1, 1))
        present = [v for v in (lower, higher) if v is not None]
        spread = max(present) - min(present) if len(present) == 2 else 0.0
        if spread > 0:
            label = label_at(path, document)
            found.append((spread, Mover(path=path, label=label, lower=lower, higher=higher)))
    found.sort(key=lambda pair: -pair[0])
    return tuple(mover for _, mover in found[:MOVERS_SHOWN]), len(numbers), len(numbers) - tried


def _used(bundle: Bundle, document: Document, listing: str, key: str) -> list[Document]:
    """What a list of the catalogue says of the classes that the plan is built of."""
    plan = bundle.plan
    used = {p.drive_id for p in plan.pools} | {c.drive_id for c in plan.caches}
    used |= {b.model_id for b in plan.boxes}
    return [item for item in document["catalogue"][listing] if item[key] in used]


def _changed(
    bundle: Bundle,
    document: Document,
    path: str,
    value: Any,
    read: Callable[[Evaluation], float | None],
    change: float,
) -> float | None:
    """The figure with the number at ``path`` changed; None where that plan would not be accepted."""
    new: Any
    if isinstance(value, int):
        new = value + (round(value * change) or (1 if change > 0 else -1))
    elif isinstance(value, str):
        new = f"{float(value) * (1 + change):.2f}"
    else:
        new = value * (1 + change)
    try:
        return read(figures_alone(_with_number(bundle, document, path, new)))
    except (Refused, ValidationError):
        return None


_PARTS: dict[str, type[Value]] = {"plan": Plan, "catalogue": Catalogue, "house_rules": HouseRules}


def _with_number(bundle: Bundle, document: Document, path: str, value: Any) -> Bundle:
    """The bundle with one number changed: of its three parts two stay as they are and are not read again."""
    name = path.split("/", 1)[0]
    patched = apply_patch(document, (Operation(op="set", path=path, value=value),))
    changed = bundle.model_copy(update={name: _PARTS[name].model_validate(patched[name])})
    changed.check()
    return changed


def numbers_of(node: Any, path: str) -> Iterator[tuple[str, Any]]:
    """(path, value) of every number above zero below ``node``; amounts of money are decimal texts."""
    if isinstance(node, dict):
        for key, value in node.items():
            if key in ("budget", "unit_price", "drive_unit_price", "amount") and value is not None:
                yield f"{path}/{key}", value
            else:
                yield from numbers_of(value, f"{path}/{key}")
    elif isinstance(node, list):
        for item in node:
            yield from numbers_of(item, f"{path}/{item['id']}")
    elif isinstance(node, int | float) and not isinstance(node, bool) and node > 0:
        yield path, node
