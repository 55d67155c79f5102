"""What moves a plan's figures: every number a tenth lower and higher, all figures read each time.

Measured, not derived. One sweep serves all figures of a plan and is kept by the plan's content; for each
number only the parts that read it are judged anew.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.fields import Item, Value
from larder.base.memo import Memo, kept_aside
from larder.base.results import Result
from larder.judge.evaluation import Nudged, evaluate
from larder.plan.bundle import Bundle
from larder.plan.glossary import label_at

from .workings import figures_in, values_in

CHANGE = 0.1
MOVERS_SHOWN = 3
KEPT_BYTES = 8_000_000


class Mover(Result):
    """What the figure becomes when one field of the plan is a tenth lower and higher."""

    path: str
    label: str
    lower: float | None
    higher: float | None


@dataclass(frozen=True)
class Swept:
    """The strongest movers by figure; how many numbers the plan has, and how many were not tried."""

    movers: dict[str, tuple[Mover, ...]]
    numbers: int
    untried: int


def goes_on_always() -> bool:
    """To the end, however long it takes."""
    return True


def movers_of(bundle: Bundle, goes_on: Callable[[], bool] = goes_on_always) -> Swept:
    """The movers of every figure of ``bundle``; a sweep that was cut short is not kept."""
    kept = _KEPT.peek(bundle)
    if kept is not None:
        return kept
    swept = sweep(bundle, goes_on)
    if not swept.untried:
        _KEPT.keep(swept, bundle)
    return swept


def sweep(bundle: Bundle, goes_on: Callable[[], bool] = goes_on_always) -> Swept:
    """Every number changed both ways while ``goes_on`` says so."""
    evaluation = evaluate(bundle)
    figures = tuple(figure.id for figure in figures_in(evaluation))
    nudged = Nudged(bundle)
    found: dict[str, list[tuple[float, str, float, float]]] = defaultdict(list)
    numbers = tuple(numbers_of(bundle))
    tried = 0
    for path, value in numbers:
        if not goes_on():
            break
        tried += 1
        if not nudged.is_read(path):
            continue
        lower, higher = (_figures(bundle, nudged, path, changed) for changed in _both_ways(value))
        if lower is None or higher is None:
            continue
        for figure_id in figures:
            low, high = lower.get(figure_id), higher.get(figure_id)
            if low is not None and high is not None and low != high:
                found[figure_id].append((abs(high - low), path, low, high))
    return Swept(_strongest(bundle, found), len(numbers), len(numbers) - tried)


def _strongest(
    bundle: Bundle, found: dict[str, list[tuple[float, str, float, float]]]
) -> dict[str, tuple[Mover, ...]]:
    document = bundle.document()
    labels: dict[str, str] = {}
    movers = {}
    for figure_id, spreads in found.items():
        spreads.sort(key=lambda each: -each[0])
        shown = spreads[:MOVERS_SHOWN]
        labels |= {path: label_at(path, document) for _, path, _, _ in shown if path not in labels}
        movers[figure_id] = tuple(
            Mover(path=path, label=labels[path], lower=low, higher=high) for _, path, low, high in shown
        )
    return movers


def _figures(bundle: Bundle, nudged: Nudged, path: str, value: Any) -> dict[str, float | None] | None:
    """Every figure with the number at ``path`` changed; None where that plan would not be accepted."""
    try:
        with kept_aside():
            evaluation = nudged.figures(with_number(bundle, path, value), path)
    except (Refused, ValidationError):
        return None
    return values_in(evaluation)


def _both_ways(value: Any) -> tuple[Any, Any]:
    """A tenth less and more; a whole number by 1 at least, money in whole cents."""
    if isinstance(value, int):
        step = round(value * CHANGE) or 1
        return value - step, value + step
    if isinstance(value, Decimal):
        return tuple((value * (1 + Decimal(sign) / 10)).quantize(Decimal("0.01")) for sign in (-1, 1))  # type: ignore[return-value]
    return value * (1 - CHANGE), value * (1 + CHANGE)


def numbers_of(bundle: Bundle) -> Iterator[tuple[str, Any]]:
    """(path, value) of every number above nothing that the plan stands on.

    Of the catalogue those of its formats, and of the classes that the plan is built of; of money whatever is
    of its type.
    """
    plan, catalogue = bundle.plan, bundle.catalogue
    used = {p.drive_id for p in plan.pools} | {c.drive_id for c in plan.caches}
    used |= {box.model_id for box in plan.boxes}
    yield from _numbers(plan, "plan")
    yield from _numbers(catalogue.formats, "catalogue/formats")
    yield from _numbers(tuple(d for d in catalogue.drives if d.id in used), "catalogue/drives")
    yield from _numbers(tuple(p for p in catalogue.prices if p.item_id in used), "catalogue/prices")
    yield from _numbers(bundle.house_rules, "house_rules")


def _numbers(node: Any, path: str) -> Iterator[tuple[str, Any]]:
    if isinstance(node, Value):
        for name in type(node).model_fields:
            yield from _numbers(getattr(node, name), f"{path}/{name}")
    elif isinstance(node, tuple):
        for item in node:
            if isinstance(item, Item):
                yield from _numbers(item, f"{path}/{item.id}")
    elif isinstance(node, int | float | Decimal) and not isinstance(node, bool) and node > 0:
        yield path, node


def with_number(bundle: Bundle, path: str, value: Any) -> Bundle:
    """The bundle with the number at ``path`` changed.

    What holds it is validated anew, and whatever holds that is checked once more as a whole. Raises
    :class:`Refused` or pydantic's own error where such a plan would not be accepted.
    """
    first, *rest = path.split("/")
    changed = bundle.model_copy(update={first: _with(getattr(bundle, first), rest, value)})
    changed.check(before=bundle)
    return changed


def _with(node: Any, path: list[str], value: Any) -> Any:
    if isinstance(node, tuple):
        return tuple(_with(item, path[1:], value) if item.id == path[0] else item for item in node)
    if len(path) == 1:
        fields = {name: getattr(node, name) for name in type(node).model_fields}
        return type(node).model_validate(fields | {path[0]: value})
    copy = node.model_copy(update={path[0]: _with(getattr(node, path[0]), path[1:], value)})
    copy.check()
    return copy


_KEPT: Memo[[Bundle], Swept] = Memo(sweep, KEPT_BYTES, lambda swept, _: 1_000 + 1_500 * len(swept.movers))
