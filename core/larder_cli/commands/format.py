"""``larder format``: the data rate of a footage format."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from dataclasses import asdict

from larder import (
    format_rate,
)
from larder.laws.media import PACKINGS, SAMPLES_PER_PIXEL
from larder_cli.arguments import Answer, JsonObject, choice, fraction, whole


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("--width", required=True)
    sub.add_argument("--height", required=True)
    sub.add_argument("--fps", required=True, help="25, 23.976 or 24000/1001")
    sub.add_argument("--sampling", required=True)
    sub.add_argument("--bits", required=True)
    sub.add_argument("--ratio", default="1", help="compression, 8 for 8:1")
    sub.add_argument("--packing", default="none")


def run(options: Namespace) -> JsonObject:
    """The data rate of a footage format."""
    return asdict(
        format_rate(
            whole(options.width, "width", 1, 65_536),
            whole(options.height, "height", 1, 65_536),
            fraction(options.fps, "fps", "frames per second such as 25, 23.976 or 24000/1001"),
            choice(options.sampling, "sampling", tuple(SAMPLES_PER_PIXEL)),
            whole(options.bits, "bits", 1, 32),
            fraction(options.ratio, "ratio", "a compression ratio from 1 to 1000"),
            choice(options.packing, "packing", PACKINGS),
        )
    )


ANSWER = Answer("The data rate of a footage format.", add_arguments, run)
