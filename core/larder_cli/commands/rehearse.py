"""``larder rehearse``: a day of a plan, with what stood and what was late; or many drawn days."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder import read_bundle
from larder.asks.rehearsal.failures import parse_failure
from larder.asks.rehearsal.many_days import MOST_DAYS, rehearse_days
from larder.asks.rehearsal.rehearse import rehearse
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES
from larder_cli.arguments import Answer, JsonObject, opened, whole


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("file", metavar="BUNDLE.json")
    sub.add_argument(
        "--days", default="1", help=f"so many drawn days, up to {MOST_DAYS}; else the ordinary one"
    )
    sub.add_argument("--seed", default="1", help="what the days are drawn by")
    sub.add_argument(
        "--fail",
        action="append",
        default=[],
        metavar="POOL@HH:MM",
        help="a disk of a pool dies then; with link:, switch:, box: or supply: before an id that breaks",
    )


def run(options: Namespace) -> JsonObject:
    """The day or the days."""
    days = whole(options.days, "days", 1, MOST_DAYS)
    seed = whole(options.seed, "seed", 0, 10**9)
    failures = [parse_failure(text) for text in options.fail]
    accepted = "the path of a plan file"
    with opened(options.file, "plan file", accepted, LARGEST_BUNDLE_BYTES) as stream:
        bundle = read_bundle(stream.read())
    if days == 1:
        return rehearse(bundle, failures).model_dump(mode="json")
    return rehearse_days(bundle, days, seed, failures).model_dump(mode="json")


ANSWER = Answer("A day of a plan, or many drawn days.", add_arguments, run)
