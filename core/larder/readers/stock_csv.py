"""The inventory as CSV (RFC 4180), in with a sentence for every faulty row, out safe for spreadsheets.

Only the column ``size`` is needed, and a box may leave it empty. Sizes carry their unit; dates are
ISO 8601, because 03/04/2024 means two different days. Materials are ``name=size`` joined by ``;``, after the
size if one likes the worth, ``main`` or ``backup``, and the day it was last read back:
``Gannets=1.2TB irreplaceable backup 2026-05-01``. A name with ``;``, ``=`` or quotes goes in quotes.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any, get_args

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.problems import refusals
from larder.base.units import parse_size
from larder.plan.vocabulary import Worth
from larder.stock.item import Holding, StockItem

from .csv_table import read_table, unquoted, write_table, yes_or_no

COLUMNS = (
    "label", "kind", "medium", "class", "size", "used", "interface", "recording", "serial", "place", "box",
    "ports", "bays", "holder", "handed", "encrypted", "bought", "warranty", "tested", "hours", "sectors",
    "temperature", "materials",
)  # fmt: skip
_FIELDS = {
    "class": "drive_class",
    "size": "size_bytes",
    "used": "used_bytes",
    "encrypted": "is_encrypted",
    "handed": "handed_on",
    "bought": "bought_on",
    "warranty": "warranty_end",
    "tested": "tested_on",
    "hours": "hours_run",
    "sectors": "reallocated_sectors",
    "temperature": "temperature_c",
    "materials": "holdings",
}
_DATES = ("handed", "bought", "warranty", "tested")
_WORDS = ("kind", "medium", "class", "interface", "recording")
_WORTHS = get_args(Worth)
_MATERIAL = re.compile(
    r"""(?:\s*"(?P<quoted>(?:[^"]|"")+)"\s*|(?P<plain>[^;="]+))=\s*"""
    r"""(?P<size>[\d.]{1,80}\s*[A-Za-z]{1,4})(?P<words>[^;="]*)(?:;|$)"""
)
"""No two neighbours in it take the same sign, so that a long cell is looked at once and not once a sign."""
MATERIALS_ACCEPTED = (
    "name=size, such as Kittiwakes=1.2TB, then if you like "
    + ", ".join(_WORTHS)
    + ", main or backup, and the day it was last read back as 2026-05-01"
)
_ISO_DATE = re.compile(r"\d{4}-\d{2}-\d{2}")


@dataclass(frozen=True)
class RowFault:
    """A faulty cell: the line of the file it stands in, its column and the sentence."""

    line: int
    column: str
    sentence: str


@dataclass(frozen=True)
class Inventory:
    """What a CSV holds; with faults nothing of it is to be imported."""

    items: tuple[StockItem, ...]
    faults: tuple[RowFault, ...]


def read_stock_csv(raw: bytes, taken_serials: Iterable[str] = (), boxes: Iterable[str] = ()) -> Inventory:
    """The devices in ``raw``, and every fault row by row; ``boxes`` are the labels of boxes there are.

    Raises :class:`Refused` where the file as a whole cannot be read: too large, not UTF-8, no header,
    unknown columns, another delimiter than comma, semicolon or tab.
    """
    names, rows = read_table(raw, "inventory", ",".join(COLUMNS))
    _check_header(names)
    return _inventory(names, rows, set(taken_serials), set(boxes))


def _check_header(names: list[str]) -> None:
    unknown = [name for name in names if name not in COLUMNS]
    if unknown or "size" not in names or len(set(names)) < len(names):
        fault = unknown[0] if unknown else ("size missing" if "size" not in names else "a column twice")
        raise Refused("header", fault, "columns out of " + ",".join(COLUMNS) + ", size among them")


def _inventory(
    names: list[str], rows: list[tuple[int, list[str]]], serials: set[str], boxes: set[str]
) -> Inventory:
    found: list[tuple[int, StockItem]] = []
    faults: list[RowFault] = []
    for position, (line, cells) in enumerate(rows, 1):
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) != len(names):
            faults.append(RowFault(line, "row", f"The row has {len(cells)} cells: accepted is {len(names)}."))
            continue
        try:
            item = _item(position, dict(zip(names, (c.strip() for c in cells), strict=True)), serials, boxes)
        except Refused as refused:
            faults.append(RowFault(line, refused.field, refused.sentence))
            continue
        found.append((line, item))
    # A box may stand below the drives in it.
    accepted = box_accepted(boxes)
    faults += [
        RowFault(line, "box", Refused("box", item.box, accepted).sentence)
        for line, item in found
        if item.box and item.box not in boxes
    ]
    return Inventory(tuple(item for _, item in found), tuple(sorted(faults, key=lambda f: f.line)))


def box_accepted(boxes: Iterable[str]) -> str:
    """What a drive's box may be."""
    listed = sorted(boxes)
    return "the label of a box in the stock: " + (", ".join(listed[:8]) or "there is none yet")


def _item(position: int, row: dict[str, str], serials: set[str], boxes: set[str]) -> StockItem:
    """The device in a row; its serial, or a box's label, is then taken for the rows below."""
    fields: dict[str, Any] = {"id": f"row-{position}", "label": f"Row {position}"}
    for column, cell in row.items():
        if cell:
            fields[_FIELDS.get(column, column)] = _value(column, unquoted(cell))
    if fields.get("kind") == "box":
        fields.setdefault("size_bytes", 0)
    serial = str(fields.get("serial", ""))
    if serial and serial in serials:
        raise Refused("serial", serial, "a serial that no other device has")
    try:
        item = StockItem.model_validate(fields)
    except ValidationError as error:
        fault = refusals(error, fields)[0]
        top = fault.field.split("/")[0]
        column = next((c for c, f in _FIELDS.items() if f == top), top)
        raise Refused(column, fault.value, fault.accepted) from None
    if item.kind == "box" and item.label in boxes:
        raise Refused("label", item.label, "a label that no other box has")
    if serial:
        serials.add(serial)
    if item.kind == "box":
        boxes.add(item.label)
    return item


def _value(column: str, cell: str) -> Any:
    if column in ("size", "used"):
        return parse_size(cell, column)
    if column in _DATES and not _ISO_DATE.fullmatch(cell):
        raise Refused(column, cell, "a date as 2024-04-03 (year, month, day)")
    if column == "encrypted":
        return yes_or_no(column, cell)
    if column == "materials":
        return list(_holdings(cell))
    return cell.lower() if column in _WORDS else cell


def _holdings(cell: str) -> Iterator[dict[str, Any]]:
    text, at = cell.rstrip("; "), 0
    while at < len(text):
        match = _MATERIAL.match(text, at)
        if match is None:
            raise Refused("materials", text[at:], MATERIALS_ACCEPTED)
        at = match.end()
        name = match["plain"].strip() if match["quoted"] is None else match["quoted"].replace('""', '"')
        yield {"material": name, "bytes": parse_size(match["size"], "materials")} | _said(match["words"])


def _said(words: str) -> dict[str, str]:
    said: dict[str, str] = {}
    for word in words.split():
        low = word.lower()
        if low in _WORTHS:
            field = "worth"
        elif low in ("main", "backup"):
            field = "role"
        elif _ISO_DATE.fullmatch(low):
            field = "read_back_on"
        else:
            raise Refused("materials", word, MATERIALS_ACCEPTED)
        if field in said:
            raise Refused("materials", word, MATERIALS_ACCEPTED)
        said[field] = low
    return said


def write_stock_csv(items: Iterable[StockItem]) -> str:
    """The inventory as CSV, safe for spreadsheets."""
    return write_table(COLUMNS, ([_cell(item, column) for column in COLUMNS] for item in items))


def _cell(item: StockItem, column: str) -> str:
    value = getattr(item, _FIELDS.get(column, column))
    if column == "materials":
        return "; ".join(_material_cell(h) for h in item.holdings)
    if column in ("size", "used"):
        return f"{value}B"
    if column == "encrypted":
        return "yes" if value else "no"
    return "" if value is None else str(value)


def _material_cell(holding: Holding) -> str:
    name = holding.material
    if any(sign in name for sign in ';="') or name != name.strip():
        name = '"' + name.replace('"', '""') + '"'
    role = "" if holding.role == "unsaid" else holding.role
    read = holding.read_back_on.isoformat() if holding.read_back_on else ""
    return " ".join(word for word in (f"{name}={holding.bytes}B", holding.worth, role, read) if word)
