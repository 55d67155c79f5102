"""CSV files (RFC 4180) as people's spreadsheets write them: comma, semicolon or tab, with a header row."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

from larder.base.errors import Refused
from larder.base.guard import Wanted, guarded_text

LARGEST_CSV_BYTES = 5_000_000
MOST_ROWS, MOST_COLUMNS = 20_000, 100
LONGEST_HEADER = 10_000
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
YES, NO = ("yes", "true", "1"), ("no", "false", "0", "")


def read_table(raw: bytes, what: str, header_accepted: str) -> tuple[list[str], list[tuple[int, list[str]]]]:
    """(column names in small letters, rows with the line they end in).

    Raises :class:`Refused` where the file as a whole cannot be read: too large, not UTF-8, empty, unpaired
    quotes, too many rows.
    """
    text = guarded_text(raw, Wanted(what, "CSV text in UTF-8", LARGEST_CSV_BYTES))
    header = text[:LONGEST_HEADER].partition("\n")[0]
    delimiter = max(",;\t", key=header.count)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    rows: list[tuple[int, list[str]]] = []
    try:
        for row in reader:
            if len(rows) > MOST_ROWS:
                raise Refused(what, f"more than {MOST_ROWS} rows", f"at most {MOST_ROWS} rows")
            if len(row) > MOST_COLUMNS:
                said = f"{len(row)} columns in line {reader.line_num}"
                raise Refused(what, said, f"at most {MOST_COLUMNS} columns")
            rows.append((reader.line_num, row))
    except csv.Error as error:
        raise Refused(what, f"line {reader.line_num}: {error}", "CSV with paired quotes") from None
    if not rows:
        raise Refused(what, "an empty file", "a header row: " + header_accepted)
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
