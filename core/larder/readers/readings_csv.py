"""Capacity readings as CSV: date, pool, used, and where it is known the project; in and out again.

A pool is named by its id or its name. A second reading of the same pool, project and day replaces the first.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused, RefusedMany
from larder.base.patch import Operation
from larder.base.problems import refusals
from larder.base.units import parse_size, size_text
from larder.plan.bundle import Bundle, Plan
from larder.plan.growth import MOST_READINGS, Reading
from larder.plan.new_item import fresh_id

from .csv_table import read_table, unquoted, write_table

COLUMNS = ("date", "pool", "used", "project")
MOST_TOLD = 50
"""Faults told at once."""


@dataclass(frozen=True)
class ReadingRows:
    """What a CSV brings: readings added and replaced, and the change itself."""

    added: int
    replaced: int
    patch: tuple[Operation, ...]


def read_readings_csv(raw: bytes, bundle: Bundle) -> ReadingRows:
    """The change that ``raw`` makes of the plan's readings; the plan's day moves on to the last of them.

    Raises :class:`Refused` for a file that cannot be read as a whole, :class:`RefusedMany` with a fault for
    every row that cannot; then nothing of it is taken.
    """
    names, rows = read_table(raw, "readings", ",".join(COLUMNS))
    is_known = {"date", "pool", "used"} <= set(names) <= set(COLUMNS)
    if not is_known or len(set(names)) < len(names):
        wanted = "the columns date,pool,used and, where it is known, project"
        raise Refused("header", ",".join(names) or "nothing", wanted)
    known = {(r.pool_id, r.project, r.read_on): r.id for r in bundle.plan.growth.readings}
    taken = {r.id for r in bundle.plan.growth.readings}
    found: dict[Any, Reading] = {}
    faults: list[Refused] = []
    for line, cells in rows:
        if not any(cell.strip() for cell in cells):
            continue
        try:
            reading = _reading(names, cells, bundle.plan, taken)
            _take(found, reading)
            taken.add(reading.id)
        except Refused as refused:
            faults.append(Refused(f"line {line}, {refused.field}", refused.value, refused.accepted))
    if faults:
        raise RefusedMany(faults[:MOST_TOLD])
    replaced = [key for key in found if key in known]
    if len(known) + len(found) - len(replaced) > MOST_READINGS:
        raise Refused("readings", f"{len(known) + len(found)} readings", f"at most {MOST_READINGS} in all")
    newest = max((reading.read_on for reading in found.values()), default=bundle.as_of)
    moves = (Operation(op="set", path="as_of", value=newest.isoformat()),) if newest > bundle.as_of else ()
    changes = tuple(
        Operation(op="set", path=f"plan/growth/readings/{known[key]}/used_bytes", value=reading.used_bytes)
        if key in known
        else Operation(op="add", path="plan/growth/readings", value=reading.model_dump(mode="json"))
        for key, reading in found.items()
    )
    return ReadingRows(len(found) - len(replaced), len(replaced), (*moves, *changes))


def _take(found: dict[Any, Reading], reading: Reading) -> None:
    key = (reading.pool_id, reading.project, reading.read_on)
    if key in found:
        raise Refused("date", reading.read_on.isoformat(), "each pool and project once a day")
    found[key] = reading


def _reading(names: list[str], cells: list[str], plan: Plan, taken: set[str]) -> Reading:
    """The reading in a row; raises :class:`Refused` naming the column."""
    if len(cells) != len(names):
        raise Refused("row", f"{len(cells)} cells", f"{len(names)} cells")
    row = {name: unquoted(cell.strip()) for name, cell in zip(names, cells, strict=True)}
    pool = next((p for p in plan.pools if row["pool"] in (p.id, p.name)), None)
    if pool is None:
        listed = ", ".join(p.id for p in plan.pools) or "there is none yet"
        raise Refused("pool", row["pool"], f"the id or name of a pool ({listed})")
    fields = {
        "id": fresh_id(f"{pool.id[:18]}-{row['date']}", taken),
        "pool_id": pool.id,
        "read_on": row["date"],
        "used_bytes": parse_size(row["used"], "used"),
        "project": row.get("project", ""),
    }
    try:
        reading = Reading.model_validate(fields)
    except ValidationError as error:
        fault = refusals(error, fields)[0]
        column = {"read_on": "date", "used_bytes": "used"}.get(fault.field, fault.field)
        raise Refused(column, fault.value, fault.accepted) from None
    raw_bytes = sum(pool.drives_bytes)
    if reading.used_bytes > raw_bytes:
        raise Refused("used", row["used"], f"at most what its drives hold, {size_text(raw_bytes)}")
    return reading


def write_readings_csv(bundle: Bundle) -> str:
    """The plan's readings as :func:`read_readings_csv` reads them, the oldest first."""
    ordered = sorted(bundle.plan.growth.readings, key=lambda r: (r.read_on, r.pool_id, r.project))
    rows = ([r.read_on.isoformat(), r.pool_id, f"{r.used_bytes}B", r.project] for r in ordered)
    return write_table(COLUMNS, rows)
