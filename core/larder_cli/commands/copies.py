"""``larder copies``: what is left of every material of a plan after every loss."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder import read_bundle
from larder.asks.copies import copies_grid
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES
from larder_cli.arguments import Answer, JsonObject, opened, whole


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("file", metavar="BUNDLE.json")
    sub.add_argument("--at-once", default="1", help="1 for single losses, 2 for every two of them as well")


def run(options: Namespace) -> JsonObject:
    """The grid's rows."""
    at_once = whole(options.at_once, "at-once", 1, 2)
    with opened(options.file, "plan file", "the path of a plan file", LARGEST_BUNDLE_BYTES) as stream:
        bundle = read_bundle(stream.read())
    return {"rows": [row.model_dump(mode="json") for row in copies_grid(bundle, at_once)]}


ANSWER = Answer("What is left of every material after every loss.", add_arguments, run)
