"""The generic classes that ship with the product: made-up figures of usual classes, no maker, no price.

They are CSV files like a studio's own, so that one can be the pattern for the other.
"""

from __future__ import annotations

from functools import cache
from pathlib import Path

from larder.base.patch import Operation
from larder.plan.catalogue import LISTINGS, Catalogue

from .catalogue_csv import read_catalogue_csv

_HERE = Path(__file__).parent


@cache
def generic_catalogue() -> Catalogue:
    """All generic classes of drives and boxes."""
    read = {}
    for listing in ("drives", "boxes"):
        rows = read_catalogue_csv((_HERE / f"generic_{listing}.csv").read_bytes(), Catalogue())
        read[listing] = [operation.value for operation in rows.patch]
    return Catalogue.model_validate(read)


def missing_patch(catalogue: Catalogue) -> tuple[Operation, ...]:
    """The change that adds the generic classes that ``catalogue`` does not have; its own stay as they are."""
    return brought_patch(catalogue, generic_catalogue(), replaces=False)


def brought_patch(catalogue: Catalogue, other: Catalogue, *, replaces: bool) -> tuple[Operation, ...]:
    """The change that brings the classes and prices of ``other``; ``replaces`` those that differ."""
    patch = []
    for listing in LISTINGS:
        present = {item.id: item for item in getattr(catalogue, listing)}
        for item in getattr(other, listing):
            value = item.model_dump(mode="json")
            if item.id not in present:
                patch.append(Operation(op="add", path=f"catalogue/{listing}", value=value))
            elif replaces and item != present[item.id]:
                patch.append(Operation(op="set", path=f"catalogue/{listing}/{item.id}", value=value))
    return tuple(patch)
