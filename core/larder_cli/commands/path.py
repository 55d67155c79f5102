"""``larder path``: what a chain of hops carries, and the hop that limits."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder import (
    parse_path,
    path_rate,
)
from larder_cli.arguments import Answer, JsonObject, choice, whole


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("hops", nargs="+", metavar="HOP")
    sub.add_argument("--mtu", default="1500", help="1500 (default) or 9000")
    sub.add_argument("--flows", default="1")


def run(options: Namespace) -> JsonObject:
    """What a chain of hops carries, and the hop that limits."""
    mtu = int(choice(options.mtu, "mtu", ("1500", "9000")))
    rate = path_rate(parse_path(options.hops, mtu), whole(options.flows, "flows", 1, 100_000))
    return {
        "bytes_per_s": rate.bytes_per_s,
        "per_flow_bytes_per_s": rate.per_flow_bytes_per_s,
        "limiting_hop": rate.limiting_hop,
        "hops": [{"hop": name, "bytes_per_s": each} for name, each in rate.hops],
    }


ANSWER = Answer("What a chain of hops carries, and the hop that limits.", add_arguments, run)
