"""``larder evaluate``: every verdict, figure and finding of a plan file."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder import (
    evaluate,
    read_bundle,
)
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES
from larder_cli.arguments import Answer, JsonObject, opened


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("file", metavar="BUNDLE.json")


def run(options: Namespace) -> JsonObject:
    """Every verdict, figure and finding of a plan file."""
    accepted = "the path of a plan file"
    with opened(options.file, "plan file", accepted, LARGEST_BUNDLE_BYTES) as stream:
        return evaluate(read_bundle(stream.read())).model_dump(mode="json")


ANSWER = Answer("Every verdict, figure and finding of a plan file.", add_arguments, run)
