"""``larder rebuild``: how long one drive takes, and the odds that it meets an unreadable sector."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder.base.errors import Refused
from larder.base.units import parse_size
from larder.laws.rebuild import unreadable_odds
from larder_cli.arguments import Answer, JsonObject, number, positive_rate, whole

from .mttdl import MOST_MEMBERS, per_bit_of

SHARE_ACCEPTED = "per cent of the drive's rate, above 0 and up to 100"


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("--drive", required=True, help="size of the drive")
    sub.add_argument("--rate", required=True, help="mean rate over its surface")
    sub.add_argument("--share", required=True, metavar="PCT", help="what the rebuild gets of it")
    sub.add_argument("--members", required=True, help="drives of the single-parity group")
    sub.add_argument("--ure", required=True, metavar="PER_BIT")


def run(options: Namespace) -> JsonObject:
    """Single parity: all other members are read."""
    size = parse_size(options.drive, "drive")
    if not size:
        raise Refused("drive", options.drive, "a size above 0")
    members = whole(options.members, "members", 2, MOST_MEMBERS)
    share = number(options.share, "share", SHARE_ACCEPTED, 0, 100) / 100
    return {
        "seconds": size / (positive_rate(options.rate, "rate") * share),
        "unrecoverable_read_probability": unreadable_odds(
            (members - 1) * size, per_bit_of(options.ure, "ure")
        ),
    }


ANSWER = Answer("How long a rebuild takes, and what it risks.", add_arguments, run)
