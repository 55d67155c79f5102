"""CSV files (RFC 4180) as people's spreadsheets write them: comma, semicolon or tab, with a header row."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from .errors import Refused

LARGEST_CSV_BYTES = 5_000_000
MOST_ROWS = 20_000
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
YES, NO = ("yes", "true", "1"), ("no", "false", "0", "")


def read_table(raw: bytes, what: str, header_accepted: str) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """(column names in small letters, rows with the line they end in).

    Raises :class:`Refused` where the file as a whole cannot be read: too large, not UTF-8, empty, unpaired
    quotes, too many rows.
    """
    if len(raw) > LARGEST_CSV_BYTES:
        raise Refused(what, f"{len(raw)} bytes", f"at most {LARGEST_CSV_BYTES} bytes")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused(what, "bytes that are no UTF-8", "CSV text in UTF-8") from None
    lines = text.splitlines()
    header = lines[0] if lines else ""
    delimiter = max(",;\t", key=header.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        rows = [(reader.line_num, row) for row in reader]
    except csv.Error as error:
        raise Refused(what, f"line {reader.line_num}: {error}", "CSV with paired quotes") from None
    if not rows:
        raise Refused(what, "an empty file", "a header row: " + header_accepted)
    if len(rows) > MOST_ROWS:
        raise Refused(what, f"{len(rows)} rows", f"at most {MOST_ROWS} rows")
    return [name.strip().lower() for name in rows[0][1]], rows[1:]


def write_table(columns: Iterable[str], rows: Iterable[Iterable[str]]) -> str:
    """A CSV. A cell that a spreadsheet would take for a formula gets an apostrophe."""
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow([quoted(cell) for cell in row])
    return out.getvalue()


def quoted(cell: str) -> str:
    """The cell with an apostrophe where a spreadsheet would reckon it."""
    return "'" + cell if cell.startswith(_FORMULA) else cell


def unquoted(cell: str) -> str:
    """The cell without that apostrophe."""
    return cell[1:] if cell[:1] == "'" and cell[1:].startswith(_FORMULA) else cell


def yes_or_no(column: str, cell: str) -> bool:
    """Raises :class:`Refused` for anything else."""
    if cell.lower() not in (*YES, *NO):
        raise Refused(column, cell, "yes or no")
    return cell.lower() in YES
