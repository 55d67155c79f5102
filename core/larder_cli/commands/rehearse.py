"""``larder rehearse``: a day of a plan, with what stood and what was late; or many drawn days."""

from __future__ import annotations

import re
from argparse import ArgumentParser, Namespace

from larder import read_bundle
from larder.asks.rehearse import Failure, rehearse
from larder.asks.rehearse_days import MOST_DAYS, rehearse_days
from larder.base.errors import Refused
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES
from larder_cli.arguments import Answer, JsonObject, opened, whole

FAIL_ACCEPTED = "a pool's id and a time of day, such as main@11:00"
_FAIL = re.compile(r"([a-z0-9][a-z0-9-]{0,39})@([01]?[0-9]|2[0-3]):([0-5][0-9])")


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("file", metavar="BUNDLE.json")
    sub.add_argument(
        "--days", default="1", help=f"so many drawn days, up to {MOST_DAYS}; else the ordinary one"
    )
    sub.add_argument("--seed", default="1", help="what the days are drawn by")
    sub.add_argument("--fail", default="", metavar="POOL@HH:MM", help="a disk of a pool dies then")


def run(options: Namespace) -> JsonObject:
    """The day or the days."""
    days = whole(options.days, "days", 1, MOST_DAYS)
    seed = whole(options.seed, "seed", 0, 10**9)
    failure = _failure(options.fail)
    accepted = "the path of a plan file"
    with opened(options.file, "plan file", accepted, LARGEST_BUNDLE_BYTES) as stream:
        bundle = read_bundle(stream.read())
    if days == 1:
        return rehearse(bundle, failure).model_dump(mode="json")
    return rehearse_days(bundle, days, seed, failure).model_dump(mode="json")


def _failure(typed: str) -> Failure | None:
    if not typed:
        return None
    match = _FAIL.fullmatch(typed)
    if match is None:
        raise Refused("fail", typed, FAIL_ACCEPTED)
    return Failure.at_clock(match[1], int(match[2]) * 3600 + int(match[3]) * 60)


ANSWER = Answer("A day of a plan, or many drawn days.", add_arguments, run)
