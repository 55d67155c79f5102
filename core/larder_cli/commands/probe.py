"""``larder probe``: mean and peak rate of a clip that ffprobe read."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from dataclasses import asdict

from larder import (
    read_probe,
)
from larder.readers.ffprobe import LARGEST_PROBE_BYTES, PROBE_ACCEPTED
from larder_cli.arguments import Answer, JsonObject, opened


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("file", metavar="FFPROBE.json")


def run(options: Namespace) -> JsonObject:
    """Mean and peak rate of a clip that ffprobe read."""
    with opened(options.file, "probe file", PROBE_ACCEPTED, LARGEST_PROBE_BYTES) as stream:
        return {"clips": [asdict(read_probe(stream))]}


ANSWER = Answer("Mean and peak rate of a clip that ffprobe read.", add_arguments, run)
