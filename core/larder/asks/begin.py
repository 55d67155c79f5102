"""How a plan begins: a brief, the studio's standards, a switch that everybody is plugged into, no storage."""

from __future__ import annotations

from datetime import date
from typing import Any

from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.plan.bundle import SCHEMA_VERSION, Bundle
from larder.plan.new_item import fresh_id
from larder.plan.ports import seats_of
from larder.plan.wiring import STORAGE, End
from larder.readers.brief_line import BriefFile
from larder.readers.generic_lists import usual_prices_patch
from larder.readers.plan_file import bundle_from

from .standards import Standards

PORT_COUNTS = (8, 12, 16, 24, 32, 48)
"""Switches come so wide; the narrowest with a port for everybody, the storage and one more."""


def begun(name: str, brief: BriefFile, today: date, standards: Standards) -> Bundle:
    """A new plan for ``brief``, judged by the studio's rules, with its classes and prices at hand.

    Raises :class:`Refused` for a brief in another currency than the studio's prices.
    """
    if standards.catalogue.prices and brief.currency != standards.currency:
        wanted = f"{standards.currency}, in which the studio's price list is"
        raise Refused("currency", brief.currency, wanted)
    catalogue = standards.catalogue.model_dump(mode="json")
    catalogue["formats"] = [each.model_dump(mode="json") for each in brief.formats]
    document: dict[str, Any] = {
        "schema": SCHEMA_VERSION,
        "as_of": today.isoformat(),
        "currency": brief.currency,
        "writing": standards.writing.model_dump(),
        "house_rules": standards.house_rules.model_dump(mode="json"),
        "catalogue": catalogue,
        "plan": {"name": name, "brief": brief.model_dump(mode="json", exclude={"currency", "formats"})},
    }
    empty = bundle_from(document)
    document["plan"]["wiring"] = _wiring(empty)
    return bundle_from(document)


def _wiring(bundle: Bundle) -> dict[str, Any]:
    """One switch; every class of seats in the office is plugged into it, and so is the storage."""
    switch = End("switch", "switch").text
    links = [{"id": "box-port", "near": switch, "far": STORAGE.text}]
    plugged = seats_of(bundle.plan)
    for seat_id in plugged:
        taken = [link["id"] for link in links]
        links.append(
            {"id": fresh_id(f"plug-{seat_id}", taken), "near": End("seat", seat_id).text, "far": switch}
        )
    wanted = 2 + sum(seat.count for seat in bundle.plan.brief.seats if seat.id in plugged)
    ports = next((count for count in PORT_COUNTS if count >= wanted), wanted)
    return {"switches": [{"id": "switch", "name": "Switch", "ports": f"{ports}x10GbE"}], "links": links}


def priced(bundle: Bundle) -> Bundle:
    """The plan with whatever has no price yet at the usual ones; raises as :func:`usual_prices_patch`."""
    return bundle_from(apply_patch(bundle.document(), usual_prices_patch(bundle)))
