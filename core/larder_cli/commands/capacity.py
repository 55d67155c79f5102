"""``larder capacity``: from carton bytes to what may be planned with."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from dataclasses import asdict

from larder import (
    parse_layout,
    pool_capacity,
)
from larder.base.units import parse_drives, parse_size
from larder.laws.capacity import FILESYSTEM_PERCENT
from larder.laws.drive_set import drive_set
from larder_cli.arguments import Answer, JsonObject, choice, percent, whole


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("--layout", required=True)
    sub.add_argument("--drives", required=True, help="7x16TB or 20TB+3x8TB")
    sub.add_argument("--spares", default="0")
    sub.add_argument("--filesystem", help="journal, cow or none; cow for cow layouts, else journal")
    sub.add_argument("--headroom", default="20", help="free space kept, percent")
    sub.add_argument("--record", default="1MiB")
    sub.add_argument("--sector", default="4KiB")


def run(options: Namespace) -> JsonObject:
    """From carton bytes to what may be planned with."""
    filesystem = options.filesystem
    capacity = pool_capacity(
        parse_layout(options.layout),
        drive_set(parse_drives(options.drives)),
        spares=whole(options.spares, "spares", 0, 1999),
        filesystem=filesystem and choice(filesystem, "filesystem", tuple(FILESYSTEM_PERCENT)),
        headroom_percent=percent(options.headroom, "headroom"),
        record_bytes=parse_size(options.record, "record"),
        sector_bytes=parse_size(options.sector, "sector"),
    )
    return asdict(capacity) | {
        "layout_tib": capacity.layout_tib,
        "usable_tib": capacity.usable_tib,
        "plannable_tib": capacity.plannable_tib,
    }


ANSWER = Answer("From carton bytes to what may be planned with.", add_arguments, run)
