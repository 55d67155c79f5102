"""Classes of drives and boxes and the price list as CSV: in with a sentence for every faulty row, out again.

What a file lists is told by its header: prices have a ``price``, boxes have ``bays``, drives have a ``size``.
Sizes and rates carry their unit. A row whose id is in the catalogue already replaces that class; the other
rows are added. Card slots are ``Slot 1=pcie3x8 flash carrier 2 splits`` and lines of a list
``bay pool hdd 20TB``, joined by ``;``.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused, RefusedMany
from larder.base.fields import Item
from larder.base.patch import Operation
from larder.base.problems import refusals
from larder.base.units import parse_rate, parse_size
from larder.plan.catalogue import Catalogue, CatalogueBox, CatalogueDrive, Listing, Price
from larder.plan.enclosure import Allow, CardSlot

from .csv_table import read_table, unquoted, write_table, yes_or_no

_DRIVE_FIELDS = {
    "id": "id", "name": "name", "kind": "kind", "interface": "interface", "duty": "duty",
    "size": "size_bytes", "read": "read_bytes_per_s", "write": "write_bytes_per_s",
    "fast_write": "fast_write_bytes_per_s", "fast_region": "fast_write_bytes", "recording": "recording",
    "unreadable_per_bit": "unreadable_per_bit", "fail_percent_a_year": "failures_per_year_percent",
    "workload_a_year": "workload_bytes_per_year", "endurance": "endurance_bytes",
    "inner_ratio": "inner_ratio", "seek_ms": "seek_ms", "turn_ms": "turn_ms",
    "operations_per_s": "operations_per_s", "keeps_power": "keeps_power", "hottest_c": "hottest_c",
    "idle_w": "idle_watts", "active_w": "active_watts", "spin_up_w": "spin_up_watts",
    "noise_dba": "noise_dba", "mass_g": "mass_g",
    "delivery_days": "delivery_days", "condition": "condition", "hours_run": "hours_run",
    "warranty_years": "warranty_years",
}  # fmt: skip
_BOX_FIELDS = {
    "id": "id", "name": "name", "form": "form", "bays": "bays", "bay_bus": "bay_bus",
    "flash_slots": "flash_slots", "flash_bus": "flash_bus", "shared_bus": "shared_bus",
    "shared_links": "shared_links", "lanes": "lanes", "cards": "cards", "ports": "ports",
    "memory": "memory_bytes", "memory_most": "memory_most_bytes", "error_correction": "has_error_correction",
    "processor": "processor", "cores": "ordinary_cores", "supply_w": "supply_watts",
    "noise_dba": "noise_dba", "mass_kg": "mass_kg", "list": "allows", "board_w": "board_watts",
    "spins_up_together": "spins_up_together", "rails": "brings_rails", "carriers": "brings_carriers",
    "cooler": "brings_cooler", "drive_leads": "drive_leads",
}  # fmt: skip
_YES_OR_NO = (
    "keeps_power", "has_error_correction", "spins_up_together", "brings_rails", "brings_carriers",
    "brings_cooler",
)  # fmt: skip
_PRICE_FIELDS = {"class": "item_id", "price": "amount", "currency": "currency", "date": "priced_on"}
_FIELDS: dict[Listing, dict[str, str]] = {
    "drives": _DRIVE_FIELDS,
    "boxes": _BOX_FIELDS,
    "prices": _PRICE_FIELDS,
}
_MODELS: dict[Listing, type[Item]] = {"drives": CatalogueDrive, "boxes": CatalogueBox, "prices": Price}
_TOLD_BY: tuple[tuple[str, Listing], ...] = (("price", "prices"), ("bays", "boxes"), ("size", "drives"))
_CARD = re.compile(
    r"(?P<name>[^=;]+)=\s*(?P<bus>pcie\S+)\s+(?P<holds>empty|network card|flash carrier|controller card)"
    r"(?:\s+(?P<drives>\d{1,3}))?(?P<splits>\s+splits)?"
)
CARD_ACCEPTED = "card slots such as Slot 1=pcie3x8 flash carrier 2 splits; Slot 2=pcie3x4 empty"
_LINE = re.compile(
    r"(?P<slot>bay|flash slot) (?P<role>pool|cache|volume|spare) (?P<kind>hdd|ssd) (?P<size>.+)"
)
LINE_ACCEPTED = "lines such as bay pool hdd 20TB; flash slot cache ssd 4TB"


@dataclass(frozen=True)
class CatalogueRows:
    """What a CSV lists, and the change that brings it into a catalogue."""

    listing: Listing
    added: int
    replaced: int
    patch: tuple[Operation, ...]


def read_catalogue_csv(raw: bytes, catalogue: Catalogue) -> CatalogueRows:
    """The change that ``raw`` makes of ``catalogue``.

    Raises :class:`Refused` for a file that cannot be read as a whole, and :class:`RefusedMany` with a fault
    for every row that cannot; then nothing of it is to be taken.
    """
    names, rows = read_table(raw, "catalogue", ",".join(_DRIVE_FIELDS))
    listing = _listing(names)
    fields = _FIELDS[listing]
    unknown = [n for n in names if n not in fields]
    if unknown or len(set(names)) < len(names):
        fault = unknown[0] if unknown else "a column twice"
        raise Refused("header", fault, f"for {listing} columns out of " + ",".join(fields))
    found: dict[str, Item] = {}
    faults: list[Refused] = []
    for line, cells in rows:
        if not any(cell.strip() for cell in cells):
            continue
        try:
            item = _item(listing, names, cells, found)
            found[item.id] = item
        except Refused as refused:
            faults.append(Refused(f"line {line}, {refused.field}", refused.value, refused.accepted))
    if faults:
        raise RefusedMany(faults)
    return _rows(listing, found, {item.id for item in getattr(catalogue, listing)})


def _listing(names: list[str]) -> Listing:
    for column, listing in _TOLD_BY:
        if column in names:
            return listing
    raise Refused(
        "header",
        ",".join(names) or "nothing",
        "columns with price (a price list), bays (boxes) or size (drives) among them",
    )


def _rows(listing: Listing, found: dict[str, Item], present: set[str]) -> CatalogueRows:
    patch = []
    for item_id, item in found.items():
        path = f"catalogue/{listing}"
        value = item.model_dump(mode="json")
        if item_id in present:
            patch.append(Operation(op="set", path=f"{path}/{item_id}", value=value))
        else:
            patch.append(Operation(op="add", path=path, value=value))
    replaced = len(present & found.keys())
    return CatalogueRows(listing, len(found) - replaced, replaced, tuple(patch))


def _item(listing: Listing, names: list[str], cells: list[str], taken: Mapping[str, Item]) -> Item:
    if len(cells) != len(names):
        raise Refused("row", f"{len(cells)} cells", f"{len(names)} cells")
    fields: dict[str, Any] = {}
    for column, raw_cell in zip(names, cells, strict=True):
        cell = unquoted(raw_cell.strip())
        if cell:
            fields[_FIELDS[listing][column]] = _value(_FIELDS[listing][column], column, cell)
    if listing == "prices":
        # One price for a class and a day: the list may be brought again.
        fields["id"] = f"{fields.get('item_id', '')}-{str(fields.get('priced_on', '')).replace('-', '')}"[
            -40:
        ]
    if fields.get("id") in taken:
        raise Refused("id", fields["id"], "each class once in a file, and each price once a day")
    try:
        return _MODELS[listing].model_validate(fields)
    except ValidationError as error:
        fault = refusals(error, fields)[0]
        top = fault.field.split("/")[0]
        column = next((c for c, f in _FIELDS[listing].items() if f == top), top)
        raise Refused(column, fault.value, fault.accepted) from None


def _value(field: str, column: str, cell: str) -> Any:
    """A cell as its field takes it; every parser names the column where it refuses."""
    if field == "cards":
        return [_card(n, text) for n, text in enumerate(_parts(cell), 1)]
    if field == "allows":
        return [_line(n, text) for n, text in enumerate(_parts(cell), 1)]
    if field in _YES_OR_NO:
        return yes_or_no(column, cell)
    if field.endswith("_bytes_per_s"):
        return parse_rate(cell, column)
    return parse_size(cell, column) if "_bytes" in field else cell


def _parts(cell: str) -> list[str]:
    return [part.strip() for part in cell.split(";") if part.strip()]


def _card(number: int, text: str) -> dict[str, Any]:
    match = _CARD.fullmatch(text)
    if match is None:
        raise Refused("cards", text, CARD_ACCEPTED)
    return {
        "id": f"slot-{number}",
        "name": match["name"].strip(),
        "bus": match["bus"],
        "holds": match["holds"],
        "flash_drives": int(match["drives"] or 0),
        "splits": match["splits"] is not None,
    }


def _line(number: int, text: str) -> dict[str, Any]:
    match = _LINE.fullmatch(text)
    if match is None:
        raise Refused("list", text, LINE_ACCEPTED)
    said = {word: match[word] for word in ("slot", "role", "kind")}
    return said | {"id": f"line-{number}", "largest_bytes": parse_size(match["size"], "list")}


def write_catalogue_csv(catalogue: Catalogue, listing: Listing) -> str:
    """One list of the catalogue as :func:`read_catalogue_csv` reads it."""
    fields = _FIELDS[listing]
    items: Iterable[Item] = getattr(catalogue, listing)
    return write_table(fields, ([_cell(f, getattr(item, f)) for f in fields.values()] for item in items))


def _cell(field: str, value: Any) -> str:
    if value is None or value == "":
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return "; ".join(_card_cell(v) if isinstance(v, CardSlot) else _line_cell(v) for v in value)
    if field.endswith("_bytes_per_s"):
        return f"{value / 10**6:g}MB/s"
    return f"{value}B" if "_bytes" in field else str(value)


def _card_cell(card: CardSlot) -> str:
    drives = f" {card.flash_drives}" if card.flash_drives else ""
    return f"{card.name}={card.bus} {card.holds}{drives}{' splits' if card.splits else ''}"


def _line_cell(line: Allow) -> str:
    return f"{line.slot} {line.role} {line.kind} {line.largest_bytes}B"
