"""The workings of hops: what a link, a pool, a bus or a processor carries."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import get_args

from larder.base.measures import Unit
from larder.base.terms import Term, given, made
from larder.judge.evaluation import Evaluation
from larder.stages.hops import HopKind, HopResult

from .working import working

RATE: Unit = "bytes_per_s"


def _hops(kind: HopKind) -> Callable[[Evaluation], Iterable[HopResult]]:
    return lambda e: (hop for hop in e.wiring.hops if hop.kind == kind)


def _link(hop: HopResult) -> Term | None:
    result = hop.link_terms
    if result is None:
        return None
    one = made(
        "One link",
        RATE,
        "product",
        given("Line rate", result.line_bytes_per_s, RATE),
        given("Payload of a frame", result.payload_share, "share"),
        given("The file protocol leaves", result.protocol_share, "share"),
    )
    if result.adapter_bytes_per_s is not None:
        one = made(
            "One link", RATE, "least", one, given("Its adapter's bus", result.adapter_bytes_per_s, RATE)
        )
    return made("Carries", RATE, "product", one, given("Links in use", result.links_used, "links"))


def _drives(hop: HopResult) -> Term | None:
    result = hop.drives_terms
    if result is None:
        return None
    reads = given("Part of the load that reads", result.read_share, "share")
    time = made(
        "Time a byte", "s_per_byte", "sum",
        made("Reading", "s_per_byte", "quotient", reads, given("Reads at", result.read_bytes_per_s, RATE)),
        made("Writing", "s_per_byte", "quotient",
             made("Part that writes", "share", "rest", reads),
             given("Writes at", result.write_bytes_per_s, RATE)),
    )  # fmt: skip
    return made("Carries", RATE, "quotient", given("One", 1, ""), time)


def _shared(hop: HopResult) -> Term | None:
    result = hop.shared_terms
    if result is None:
        return None
    is_bus = hop.kind == "bus"
    unit: Unit = "×" if is_bus else "core-s/GB"
    a_byte, scale = ("Bytes passed", 1.0) if is_bus else ("Core-seconds", 1e9)
    costs = []
    for cost in result.costs:
        reads = given("Part that reads", cost.read_share, "share")
        costs.append(
            made(
                f"{cost.pool_name}: its part", unit, "product",
                given("Part of all load", cost.load_share, "share"),
                made(
                    f"{a_byte} a byte", unit, "sum",
                    made("Reading", unit, "product",
                         reads, given("A byte read costs", cost.a_byte_read * scale, unit)),
                    made("Writing", unit, "product",
                         made("Part that writes", "share", "rest", reads),
                         given("A byte written costs", cost.a_byte_written * scale, unit)),
                ),
            )
        )  # fmt: skip
    mean = made("Cost of the load's bytes", unit, "sum", *costs)
    if is_bus:
        return made("Carries", RATE, "quotient", given("The bus", result.capacity, RATE), mean)
    return made(
        "Carries",
        RATE,
        "product",
        made("GB a second", "", "quotient", given("Cores left for serving", result.capacity, "cores"), mean),
        given("Bytes a GB", scale, "B"),
    )


_KINDS: dict[HopKind, tuple[Callable[[HopResult], Term | None], str]] = {
    "link": (
        _link,
        (
            "IEEE 802.3 framing, IEEE 802.1AX aggregation, of which one flow uses one link; protocol "
            "efficiency is a stated assumption"
        ),
    ),
    "slot": (
        lambda hop: given("The slot as it is wired", hop.capacity_bytes_per_s, RATE),
        "PCI Express line rate less coding and packets, each way; all ports of the card share it",
    ),
    "pool": (
        _drives,
        "Reads and writes share the drives; the pool's own rates are behind its slots, buses and processor",
    ),
    "bus": (
        _shared,
        (
            "PCI Express, SATA, SAS, USB line rates less coding and packets, shared by all pools of the box; "
            "a byte written brings its copies and parity along"
        ),
    ),
    "processor": (
        _shared,
        (
            "Stated assumptions until the box is measured: protocol, checksums and encryption cost in both "
            "directions, parity in writing; a seat inside takes a core"
        ),
    ),
}
"""(builder of the terms, source) by what a hop is."""

for _kind in get_args(HopKind):
    _build, _source = _KINDS[_kind]
    working(
        "wiring.{id}",
        title="{name}",
        unit=RATE,
        source=_source,
        read=lambda _, hop: hop.capacity_bytes_per_s,
        subjects=_hops(_kind),
    )(lambda _, __, hop, build=_build: build(hop))  # type: ignore[misc]
