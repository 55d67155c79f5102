"""``larder mttdl``: mean time to data loss of redundancy groups, and the odds of a loss within some years."""

from __future__ import annotations

import math
from argparse import ArgumentParser, Namespace

from larder.base.errors import Refused
from larder.base.units import parse_size
from larder.laws.loss_odds import HOURS_A_YEAR, Group, loss_odds, mean_hours_to_loss, of_many
from larder.laws.rebuild import unreadable_odds
from larder_cli.arguments import Answer, JsonObject, number, whole

MOST_TOLERATED, MOST_MEMBERS, MOST_GROUPS, MOST_YEARS = 8, 1_000, 100_000, 100
PER_BIT_ACCEPTED = "a chance per bit such as 1e-15, from 1e-30 to below 1"
HOURS_ACCEPTED = "hours above 0, up to 1e12"


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("--tolerates", required=True, help="disks of a group that may be dead")
    sub.add_argument("--members", required=True, help="disks of a group, with its parity or copies")
    sub.add_argument("--groups", required=True)
    sub.add_argument("--mttf-hours", required=True, help="mean time to failure of a disk")
    sub.add_argument("--mttr-hours", required=True, help="mean time until one is replaced and rebuilt")
    sub.add_argument("--ure", default="", metavar="PER_BIT", help="chance that a bit cannot be read")
    sub.add_argument("--member-bytes", default="", help="size of a disk, with --ure")
    sub.add_argument("--years", default="1")


def run(options: Namespace) -> JsonObject:
    """The chain of one group, and all groups."""
    tolerates = whole(options.tolerates, "tolerates", 0, MOST_TOLERATED)
    members = whole(options.members, "members", 1, MOST_MEMBERS)
    if members <= tolerates:
        raise Refused("members", members, f"more than the {tolerates} that may be dead")
    groups = whole(options.groups, "groups", 1, MOST_GROUPS)
    if bool(options.ure) != bool(options.member_bytes):
        missing = "member-bytes" if options.ure else "ure"
        raise Refused(missing, "", "a value too: the two go together")
    fatal = 0.0
    if options.ure:
        per_bit = per_bit_of(options.ure, "ure")
        size = parse_size(options.member_bytes, "member-bytes")
        fatal = float(unreadable_odds((members - max(tolerates, 1)) * size, per_bit)) if tolerates else 0.0
    group = Group(
        members,
        tolerates,
        1 / number(options.mttf_hours, "mttf-hours", HOURS_ACCEPTED, 0, 1e12),
        1 / number(options.mttr_hours, "mttr-hours", HOURS_ACCEPTED, 0, 1e12),
        fatal,
    )
    years = number(options.years, "years", f"years above 0, up to {MOST_YEARS}", 0, MOST_YEARS)
    odds = of_many(loss_odds(group, years * HOURS_A_YEAR), groups)
    return {
        "mttdl_hours": mean_hours_to_loss(group) / groups,
        "loss_probability": odds.total,
        "disk_loss_probability": odds.disks,
        "read_error_loss_probability": odds.reads,
    }


def per_bit_of(text: str, field: str) -> float:
    """A chance per bit."""
    value = number(text, field, PER_BIT_ACCEPTED, 0, 1)
    if not 1e-30 <= value < 1 or not math.isfinite(value):
        raise Refused(field, text, PER_BIT_ACCEPTED)
    return value


ANSWER = Answer("Mean time to data loss, and the odds of one.", add_arguments, run)
