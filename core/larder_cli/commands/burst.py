"""``larder burst``: a copy into a write-back cache."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from dataclasses import asdict

from larder import (
    write_burst,
)
from larder.base.errors import Refused
from larder.base.units import parse_size
from larder_cli.arguments import Answer, JsonObject, positive_rate


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("--size", required=True)
    sub.add_argument("--arrive", required=True, help="rate into the cache")
    sub.add_argument("--drain", required=True, help="rate out of it")
    sub.add_argument("--cache", required=True)


def run(options: Namespace) -> JsonObject:
    """A copy into a write-back cache."""
    size_bytes = parse_size(options.size, "size")
    if size_bytes == 0:
        raise Refused("size", options.size, "a size above 0")
    return asdict(
        write_burst(
            size_bytes,
            positive_rate(options.arrive, "arrive"),
            positive_rate(options.drain, "drain"),
            parse_size(options.cache, "cache"),
        )
    )


ANSWER = Answer("A copy into a write-back cache.", add_arguments, run)
