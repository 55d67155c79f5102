"""``larder speed``: sequential rates of a layout, with their range."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder import (
    parse_layout,
    pool_throughput,
)
from larder.laws.device import MECHANICS
from larder.laws.throughput import Range
from larder_cli.arguments import Answer, JsonObject, choice, positive_rate, whole


def _range(way: str, rate: Range) -> JsonObject:
    return {
        f"{way}_bytes_per_s": rate.middle,
        f"{way}_bytes_per_s_low": rate.low,
        f"{way}_bytes_per_s_high": rate.high,
    }


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("--layout", required=True)
    sub.add_argument("--members", required=True, help="drives in the layout, without spares")
    sub.add_argument("--read", required=True, help="rate of one drive, 250MB/s")
    sub.add_argument("--write", required=True, help="rate of one drive, 250MB/s")
    sub.add_argument("--streams", default="1")
    sub.add_argument("--kind", default="hdd", help="hdd (default) or ssd")
    sub.add_argument("--degraded", action="store_true", help="with a drive dead")


def run(options: Namespace) -> JsonObject:
    """Sequential rates of a layout, with their range."""
    kind = choice(options.kind, "kind", ("hdd", "ssd"))
    rates = pool_throughput(
        parse_layout(options.layout),
        whole(options.members, "members", 1, 2000),
        positive_rate(options.read, "read"),
        positive_rate(options.write, "write"),
        streams=whole(options.streams, "streams", 1, 100_000),
        mechanics=MECHANICS["hdd" if kind == "hdd" else "ssd"],
        degraded=options.degraded,
    )
    return _range("read", rates.read) | _range("write", rates.write)


ANSWER = Answer("Sequential rates of a layout, with their range.", add_arguments, run)
