"""Where a pool, cache or box keeps figures of its own that its class has otherwise.

What stands in the plan wins; a class is read again only where it has no copy there: interface, failures a
year, price. The press that takes the class's figures is :func:`larder.plan.take_class.class_patch`.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import BaseModel

from larder.base.measures import said
from larder.base.problems import is_number
from larder.base.results import Result
from larder.plan.bundle import Bundle
from larder.plan.pools import Pool
from larder.plan.take_class import OF_A_BOX, OF_A_CACHE, OF_A_POOL

from .stage import Part


class OwnFigure(Result):
    """A field of the plan in words, and what its class says instead."""

    field: str
    label: str
    own: str
    of_class: str


class OwnFigures(Result):
    """What one item keeps; ``path`` is its place in the plan file."""

    path: str
    name: str
    class_id: str
    class_name: str
    figures: tuple[OwnFigure, ...]


def own_figures(bundle: Bundle) -> tuple[OwnFigures, ...]:
    """Every pool, cache and box with a class that says otherwise, in the plan's order."""
    plan = bundle.plan
    drives = {drive.id: drive for drive in bundle.catalogue.drives}
    boxes = {box.id: box for box in bundle.catalogue.boxes}
    kept = [
        *(_kept("pools", pool, drives.get(pool.drive_id), _fields_of(pool)) for pool in plan.pools),
        *(_kept("caches", cache, drives.get(cache.drive_id), OF_A_CACHE) for cache in plan.caches),
        *(
            _kept("boxes", box, boxes.get(box.model_id), {field: field for field in OF_A_BOX})
            for box in plan.boxes
        ),
    ]
    return tuple(each for each in kept if each is not None)


def _fields_of(pool: Pool) -> Mapping[str, str]:
    """Drives of mixed sizes have no size of a class."""
    return {own: field for own, field in OF_A_POOL.items() if own != "drive_bytes" or not pool.mixed_sizes}


def _kept(where: str, item: Any, of_class: Any, fields: Mapping[str, str]) -> OwnFigures | None:
    figures = tuple(_differing(item, of_class, fields)) if of_class is not None else ()
    if not figures:
        return None
    return OwnFigures(
        path=f"plan/{where}/{item.id}",
        name=item.name,
        class_id=of_class.id,
        class_name=of_class.name,
        figures=figures,
    )


def _differing(item: BaseModel, of_class: BaseModel, fields: Mapping[str, str]) -> Iterator[OwnFigure]:
    for field, class_field in fields.items():
        own, other = getattr(item, field), getattr(of_class, class_field)
        if own != other:
            info = type(item).model_fields[field]
            unit = str((info.json_schema_extra or {}).get("unit", ""))  # type: ignore[union-attr]
            yield OwnFigure(
                field=field,
                label=info.title or field,
                own=_words(own, unit, field),
                of_class=_words(other, unit, field),
            )


def _words(value: object, unit: str, field: str) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if value is None or value == "":
        return "none"
    if isinstance(value, tuple):
        return f"{len(value)} of them"
    return said(value, unit, field) if is_number(value) else str(value)


OWN_FIGURES: Part[tuple[OwnFigures, ...]] = Part(
    "own_figures",
    lambda judged: own_figures(judged.bundle),
    reads=("plan/pools", "plan/caches", "plan/boxes", "catalogue/drives", "catalogue/boxes"),
    is_drawn=True,
)
