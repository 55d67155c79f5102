"""A studio's own standards: house rules, how it writes figures, classes of drives and boxes, dated prices.

Plans are closed, so a plan pins what it is judged by; it takes the studio's values over in one change, and
what has proved itself in a plan is made the studio's.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from larder.base.errors import Refused, RefusedMany
from larder.base.fields import Currency, Value
from larder.base.patch import Patch, set_fields
from larder.base.problems import refusals
from larder.plan.bundle import Bundle, Writing
from larder.plan.catalogue import LISTINGS, Catalogue
from larder.plan.house_rules import HouseRules
from larder.plan.upgrade import FIRST, NEWEST, upgraded
from larder.readers.generic_lists import brought_patch, generic_catalogue

Part = Literal["house_rules", "catalogue"]


class Standards(Value):
    """What new plans of a studio start from; its catalogue holds no formats, which are a brief's own."""

    currency: Currency = "EUR"
    house_rules: HouseRules = HouseRules()
    writing: Writing = Writing()
    catalogue: Annotated[Catalogue, Field(default_factory=generic_catalogue)]


def read_standards(document: Any) -> Standards:
    """Standards as they were kept, by whichever version; raises :class:`RefusedMany` for what is none."""
    try:
        parts = dict(upgraded({"schema": FIRST} | document).document)
        del parts["schema"]
        return Standards.model_validate(parts)
    except ValidationError as error:
        raise RefusedMany(refusals(error, document)) from None
    except (Refused, TypeError):
        raise RefusedMany([Refused("standards", "what is kept", "rules, classes and prices")]) from None


def kept_document(standards: Standards) -> dict[str, Any]:
    """Standards as they are kept, with the version that they are of."""
    return {"schema": NEWEST} | standards.model_dump(mode="json")


def taken_patch(bundle: Bundle, standards: Standards, part: Part) -> Patch:
    """The change that brings one part of ``standards`` into a plan; empty where nothing differs.

    Raises :class:`Refused` for prices in another currency than the plan's.
    """
    if part == "house_rules":
        own, theirs = bundle.house_rules, standards.house_rules
        differing = {n: v for n, v in theirs.model_dump().items() if getattr(own, n) != v}
        written = standards.writing.model_dump() if standards.writing != bundle.writing else {}
        return (*set_fields("house_rules", **differing), *set_fields("writing", **written))
    if standards.catalogue.prices and standards.currency != bundle.currency:
        wanted = f"{standards.currency}, the currency of the studio's price list"
        raise Refused("currency", bundle.currency, wanted)
    return brought_patch(bundle.catalogue, standards.catalogue, replaces=True)


def made_of(standards: Standards, bundle: Bundle, part: Part) -> Standards:
    """``standards`` with one part of a plan in them: its rules, or its classes and prices beside the others.

    Raises :class:`Refused` where the plan's prices are in another currency than the studio's, and
    :class:`RefusedMany` where the lists would become too long.
    """
    if part == "house_rules":
        return standards.model_copy(update={"house_rules": bundle.house_rules, "writing": bundle.writing})
    if standards.catalogue.prices and standards.currency != bundle.currency:
        wanted = f"{standards.currency}, in which the studio's price list is"
        raise Refused("currency", bundle.currency, wanted)
    lists = {}
    for name in LISTINGS:
        items = {item.id: item for item in getattr(standards.catalogue, name)}
        items |= {item.id: item for item in getattr(bundle.catalogue, name)}
        lists[name] = tuple(items.values())
    try:
        catalogue = Catalogue(**lists)
    except ValidationError as error:
        raise RefusedMany(refusals(error, {})) from None
    return standards.model_copy(update={"currency": bundle.currency, "catalogue": catalogue})
