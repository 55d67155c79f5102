"""The generic classes that ship with the product: made-up figures of usual classes, and no maker.

They are CSV files like a studio's own, so that one can be the pattern for the other. Prices are a list apart,
made up as well and of one day: something to begin with, which nobody takes for a quote.
"""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path

from larder.base.errors import Refused
from larder.base.patch import Operation, Patch
from larder.plan.bundle import Bundle
from larder.plan.catalogue import LISTINGS, Catalogue, Price, prices_on
from larder.plan.wiring import PartPrice

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


@cache
def usual_prices() -> tuple[Price, ...]:
    """Made-up prices of the generic classes, of one day in one currency."""
    rows = read_catalogue_csv((_HERE / "generic_prices.csv").read_bytes(), generic_catalogue())
    return tuple(Price.model_validate(operation.value) for operation in rows.patch)


@cache
def usual_part_prices() -> tuple[PartPrice, ...]:
    """Made-up prices of parts of a network, of the same day."""
    day = usual_prices()[0].priced_on
    rows = csv.DictReader((_HERE / "generic_parts.csv").read_text().splitlines())
    return tuple(
        PartPrice.model_validate(
            {
                "id": f"{row['part']}-{row['speed']}".lower().replace(" ", "-").replace(".", "-"),
                "part": row["part"],
                "speed": row["speed"],
                "unit_price": row["price"],
                "priced_on": day,
            }
        )
        for row in rows
    )


def usual_prices_patch(bundle: Bundle) -> Patch:
    """The change that prices by the usual list whatever class and part of a plan has no price yet.

    Raises :class:`Refused` for a plan in another currency, or of a day before the list.
    """
    currency, day = usual_prices()[0].currency, usual_prices()[0].priced_on
    if bundle.currency != currency:
        raise Refused("currency", bundle.currency, f"{currency}, in which the usual prices are")
    if bundle.as_of < day:
        raise Refused("as_of", bundle.as_of.isoformat(), f"{day} or later: the usual prices are of that day")
    known = set(prices_on(bundle.catalogue.prices, bundle.as_of))
    classes = {d.id for d in bundle.catalogue.drives} | {b.id for b in bundle.catalogue.boxes}
    taken = {price.id for price in bundle.catalogue.prices}
    parts = {(p.part, p.speed) for p in bundle.plan.wiring.prices}
    patch = [
        Operation(op="add", path="catalogue/prices", value=price.model_dump(mode="json"))
        for price in usual_prices()
        if price.item_id in classes - known and price.id not in taken
    ]
    patch += [
        Operation(op="add", path="plan/wiring/prices", value=price.model_dump(mode="json"))
        for price in usual_part_prices()
        if (price.part, price.speed) not in parts
    ]
    return tuple(patch)


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
