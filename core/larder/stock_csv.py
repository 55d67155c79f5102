"""The inventory as CSV (RFC 4180), in with a sentence for every faulty row, out safe for spreadsheets.

Columns: label, kind, medium, size, used, interface, recording, serial, place, holder, encrypted, bought,
warranty, hours, materials. Only ``size`` is needed. Sizes carry their unit; dates are ISO 8601, because
03/04/2024 means two different days; materials are ``name=size``, joined by ``;``.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from .errors import Refused
from .problems import refusals
from .stock import StockItem
from .units import parse_size

LARGEST_CSV_BYTES = 5_000_000
MOST_ROWS = 20_000
COLUMNS = (
    "label", "kind", "medium", "size", "used", "interface", "recording", "serial", "place",
    "holder", "encrypted", "bought", "warranty", "hours", "materials",
)  # fmt: skip
_FIELDS = {
    "size": "size_bytes", "used": "used_bytes", "encrypted": "is_encrypted", "bought": "bought_on",
    "warranty": "warranty_end", "hours": "hours_run", "materials": "holdings",
}  # fmt: skip
_ISO_DATE = re.compile(r"\d{4}-\d{2}-\d{2}")
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
_YES, _NO = ("yes", "true", "1"), ("no", "false", "0", "")


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


def read_stock_csv(raw: bytes, taken_serials: Iterable[str] = ()) -> Inventory:
    """The devices in ``raw``, and every fault row by row.

    Raises :class:`Refused` where the file as a whole cannot be read: too large, not UTF-8, no header,
    unknown columns, another delimiter than comma, semicolon or tab.
    """
    if len(raw) > LARGEST_CSV_BYTES:
        raise Refused("inventory", f"{len(raw)} bytes", f"at most {LARGEST_CSV_BYTES} bytes")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused("inventory", "bytes that are no UTF-8", "CSV text in UTF-8") from None
    lines = text.splitlines()
    header = lines[0] if lines else ""
    delimiter = max(",;\t", key=header.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        rows = [(reader.line_num, row) for row in reader]
    except csv.Error as error:
        raise Refused("inventory", f"line {reader.line_num}: {error}", "CSV with paired quotes") from None
    if not rows:
        raise Refused("inventory", "an empty file", "a header row: " + ",".join(COLUMNS))
    names = [name.strip().lower() for name in rows[0][1]]
    _check_header(names)
    if len(rows) > MOST_ROWS:
        raise Refused("inventory", f"{len(rows)} rows", f"at most {MOST_ROWS} rows")
    return _inventory(names, rows[1:], set(taken_serials))


def _check_header(names: list[str]) -> None:
    unknown = [name for name in names if name not in COLUMNS]
    if unknown or "size" not in names or len(set(names)) < len(names):
        fault = unknown[0] if unknown else ("size missing" if "size" not in names else "a column twice")
        raise Refused("header", fault, "columns out of " + ",".join(COLUMNS) + ", size among them")


def _inventory(names: list[str], rows: list[tuple[int, list[str]]], serials: set[str]) -> Inventory:
    items: list[StockItem] = []
    faults: list[RowFault] = []
    for position, (line, cells) in enumerate(rows, 1):
        if not any(cell.strip() for cell in cells):
            continue
        if len(cells) != len(names):
            faults.append(RowFault(line, "row", f"The row has {len(cells)} cells: accepted is {len(names)}."))
            continue
        try:
            items.append(_item(position, dict(zip(names, (c.strip() for c in cells), strict=True)), serials))
        except Refused as refused:
            faults.append(RowFault(line, refused.field, refused.sentence))
    return Inventory(tuple(items), tuple(faults))


def _item(position: int, row: dict[str, str], serials: set[str]) -> StockItem:
    fields: dict[str, Any] = {"id": f"row-{position}", "label": f"Row {position}"}
    for column, cell in row.items():
        if cell:
            fields[_FIELDS.get(column, column)] = _value(column, _unquoted(cell))
    serial = str(fields.get("serial", ""))
    if serial and serial in serials:
        raise Refused("serial", serial, "a serial that no other device has")
    try:
        item = StockItem.model_validate(fields)
    except ValidationError as error:
        fault = refusals(error, fields)[0]
        column = next((c for c, f in _FIELDS.items() if f == fault.field), fault.field)
        raise Refused(column, fault.value, fault.accepted) from None
    if serial:
        serials.add(serial)
    return item


def _value(column: str, cell: str) -> Any:
    if column in ("size", "used"):
        return parse_size(cell, column)
    if column in ("bought", "warranty") and not _ISO_DATE.fullmatch(cell):
        raise Refused(column, cell, "a date as 2024-04-03 (year, month, day)")
    if column == "encrypted":
        if cell.lower() not in (*_YES, *_NO):
            raise Refused(column, cell, "yes or no")
        return cell.lower() in _YES
    if column == "materials":
        return [_holding(part.strip()) for part in cell.split(";") if part.strip()]
    return cell.lower() if column in ("kind", "medium", "interface", "recording") else cell


def _holding(text: str) -> dict[str, Any]:
    name, equals, size = text.rpartition("=")
    if not equals:
        raise Refused("materials", text, "name=size, such as Kittiwakes=1.2TB")
    return {"material": name.strip(), "bytes": parse_size(size.strip(), "materials")}


def write_stock_csv(items: Iterable[StockItem]) -> str:
    """The inventory as CSV. A cell that a spreadsheet would take for a formula gets an apostrophe."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for item in items:
        writer.writerow([_quoted(_cell(item, column)) for column in COLUMNS])
    return out.getvalue()


def _cell(item: StockItem, column: str) -> str:
    value = getattr(item, _FIELDS.get(column, column))
    if column == "materials":
        return "; ".join(f"{h.material}={h.bytes}B" for h in item.holdings)
    if column in ("size", "used"):
        return f"{value}B"
    if column == "encrypted":
        return "yes" if value else "no"
    return "" if value is None else str(value)


def _quoted(cell: str) -> str:
    return "'" + cell if cell.startswith(_FORMULA) else cell


def _unquoted(cell: str) -> str:
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith(_FORMULA) else cell
