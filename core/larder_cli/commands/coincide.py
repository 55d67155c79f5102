"""``larder coincide``: the joint load of seats."""

from __future__ import annotations

import re
from argparse import ArgumentParser, Namespace
from typing import Any

from larder import Rush, SeatClass, joint_load
from larder.base.errors import Refused
from larder.base.guard import Wanted, guarded_json
from larder.base.units import LARGEST_BYTES_PER_S
from larder_cli.arguments import Answer, JsonObject, opened

SEATS_ACCEPTED = 'a JSON list of {"name", "count", "bytes_per_s", "probability"}'


LARGEST_SEATS_BYTES = 5_000_000


_PROBABILITY = re.compile(r"(?:[0-9]{1,3}(?:\.[0-9]{0,40})?|\.[0-9]{1,40})(?:[eE]-?[0-9]{1,3})?")


def _seat_class(row: Any, position: int) -> SeatClass:
    keys = ("name", "count", "bytes_per_s", "probability")
    if not isinstance(row, dict):
        raise Refused(f"seat {position}", row, "an object with " + ", ".join(keys))
    missing = [key for key in keys if key not in row]
    if missing:
        raise Refused(f"seat {position}: {missing[0]}", None, "a value, which is missing")
    name, count = str(row["name"])[:80], row["count"]
    if not isinstance(count, int) or isinstance(count, bool):
        raise Refused(f"{name}: count", count, "a whole number from 0 to 10000")
    for key in ("bytes_per_s", "probability"):
        if not isinstance(row[key], int | float) or isinstance(row[key], bool):
            raise Refused(f"{name}: {key}", row[key], "a number")
    if not 0 <= row["bytes_per_s"] <= LARGEST_BYTES_PER_S:
        raise Refused(f"{name}: bytes_per_s", row["bytes_per_s"], "a rate from 0 to 10^13 bytes/s")
    return SeatClass(name, count, float(row["bytes_per_s"]), float(row["probability"]))


def _probability(name: str, typed: str) -> float:
    found = float(typed) if _PROBABILITY.fullmatch(typed) else -1.0
    if not 0 <= found <= 1:
        raise Refused(name, typed, "a probability from 0 to 1")
    return found


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("file", metavar="SEATS.json")
    sub.add_argument("--common", default="0", help="probability of a rush, a shared deadline")
    sub.add_argument("--rush", default="1", help="what it lifts everybody's odds to at least")


def run(options: Namespace) -> JsonObject:
    """The joint load of seats."""
    rush = Rush(_probability("common", options.common), _probability("rush", options.rush))
    with opened(options.file, "seats file", SEATS_ACCEPTED, LARGEST_SEATS_BYTES) as stream:
        rows = guarded_json(stream.read(), Wanted("seats file", SEATS_ACCEPTED, LARGEST_SEATS_BYTES))
    if not isinstance(rows, list) or not rows:
        raise Refused("seats file", options.file, SEATS_ACCEPTED)
    load = joint_load(tuple(_seat_class(row, i) for i, row in enumerate(rows, 1)), rush)
    return {
        "mean_bytes_per_s": load.mean_bytes_per_s,
        "p95_bytes_per_s": load.quantile(0.95),
        "p99_bytes_per_s": load.quantile(0.99),
        "max_bytes_per_s": load.max_bytes_per_s,
        "error_bound_bytes_per_s": load.error_bound_bytes_per_s,
    }


ANSWER = Answer("The joint load of seats.", add_arguments, run)
