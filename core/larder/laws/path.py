"""The path from a seat to a pool: hops in a row, and the one that limits.

Ethernet goodput is TCP payload over the whole frame on the wire (IEEE 802.3 preamble, header, check
and gap; IPv4 and TCP headers with timestamps). Bus rates are line rate less line coding (PCI Express
base specification; SATA 3; SAS 3; USB 3.2) and, for PCI Express, less packet overhead.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from larder.base.errors import Refused
from larder.base.units import parse_rate

GOODPUT_BY_MTU: dict[int, float] = {1500: 1448 / 1538, 9000: 8948 / 9038}
FILE_PROTOCOL_EFFICIENCY = 0.9
"""Share of TCP goodput a file protocol delivers; a stated assumption that a measurement replaces."""
ONE_CLIENT_EFFICIENCY_LOW = ((25e9, 0.6), (10e9, 0.8))
"""From so many bits/s on, a client that is alone on its one connection may get only this share."""
ETHERNET_BITS_PER_S: dict[str, float] = {
    "100Mb": 100e6,
    "1GbE": 1e9,
    "2.5GbE": 2.5e9,
    "5GbE": 5e9,
    "10GbE": 10e9,
    "25GbE": 25e9,
    "100GbE": 100e9,
}
PROTOCOLS = ("smb", "nfs")
PCIE_PAYLOAD_SHARE = 256 / (256 + 24)
"""256-byte payloads, each with 24 bytes of framing, header and check."""
_PCIE_TRANSFERS_PER_S = {3: 8e9, 4: 16e9, 5: 32e9}
PCIE_GENERATIONS = tuple(_PCIE_TRANSFERS_PER_S)
_PCIE_WIDTHS = (1, 2, 4, 8, 16)
USB4_TUNNEL_BYTES_PER_S = 3.1e9
"""What USB4 carries of PCI Express in a tunnel, 2.8 to 3.8 GB/s; assumed until measured."""
BUS_BYTES_PER_S: dict[str, float] = {
    "sata3": 6e9 * 8 / 10 / 8,
    "sas3": 12e9 * 8 / 10 / 8,
    "usb5G": 5e9 * 8 / 10 / 8,
    "usb10G": 10e9 * 128 / 132 / 8,
    "usb4": USB4_TUNNEL_BYTES_PER_S,
} | {
    f"pcie{generation}x{width}": transfers * 128 / 130 / 8 * PCIE_PAYLOAD_SHARE * width
    for generation, transfers in _PCIE_TRANSFERS_PER_S.items()
    for width in _PCIE_WIDTHS
}
HOP_ACCEPTED = (
    "one of " + " ".join(ETHERNET_BITS_PER_S) + ", an aggregate such as 2x1GbE, "
    "pcie3x1 to pcie5x16, sata3 sas3 usb5G usb10G usb4, disk:RATE, or smb or nfs for the protocol"
)
MOST_LINKS = 16
_AGGREGATE = re.compile(r"(?:(\d{1,3})x)?(\d.*)")


@dataclass(frozen=True)
class Hop:
    """A piece of the path: ``links`` members in parallel, each ``link_bytes_per_s`` after overhead."""

    name: str
    link_bytes_per_s: float
    links: int = 1

    def delivers(self, flows: int) -> float:
        """Bytes/s over all ``flows``: a flow never leaves its one member of an aggregate."""
        return self.link_bytes_per_s * min(self.links, flows)


@dataclass(frozen=True)
class PathRate:
    """What a path delivers, bytes/s; ``hops`` are (name, bytes/s) for the flows asked about."""

    bytes_per_s: float
    per_flow_bytes_per_s: float
    limiting_hop: int
    hops: tuple[tuple[str, float], ...]


def ethernet_line_bytes_per_s(speed: str) -> float:
    """What the wire of ``speed`` (a key of ETHERNET_BITS_PER_S) moves, frames and all."""
    return ETHERNET_BITS_PER_S[speed] / 8


def ethernet_link_bytes_per_s(speed: str, mtu: int, protocol: str | None = None) -> float:
    """Goodput of one Ethernet link of ``speed`` (a key of ETHERNET_BITS_PER_S)."""
    if mtu not in GOODPUT_BY_MTU:
        raise Refused("mtu", mtu, "1500 or 9000")
    efficiency = FILE_PROTOCOL_EFFICIENCY if protocol else 1.0
    return ethernet_line_bytes_per_s(speed) * GOODPUT_BY_MTU[mtu] * efficiency


def one_client_low_bytes_per_s(speed: str, mtu: int) -> float:
    """The low end of what one client gets of a link of ``speed`` over a file protocol, until measured."""
    line = ETHERNET_BITS_PER_S[speed]
    share = next((low for least, low in ONE_CLIENT_EFFICIENCY_LOW if line >= least), FILE_PROTOCOL_EFFICIENCY)
    return ethernet_link_bytes_per_s(speed, mtu) * share


def parse_hop(text: str, mtu: int = 1500, protocol: str | None = None) -> Hop:
    """The hop named ``text``; raises :class:`Refused` with the names there are."""
    if text in BUS_BYTES_PER_S:
        return Hop(text, BUS_BYTES_PER_S[text])
    if text.startswith("disk:"):
        rate = parse_rate(text.removeprefix("disk:"), "hop " + text)
        if rate <= 0:
            raise Refused("hop", text, "a disk rate above 0")
        return Hop(text, rate)
    match = _AGGREGATE.fullmatch(text)
    if match is None or match[2] not in ETHERNET_BITS_PER_S:
        raise Refused("hop", text, HOP_ACCEPTED)
    links = int(match[1] or 1)
    if not 1 <= links <= MOST_LINKS:
        raise Refused("hop", text, f"an aggregate of 1 to {MOST_LINKS} links")
    return Hop(text, ethernet_link_bytes_per_s(match[2], mtu, protocol), links)


def parse_path(texts: list[str], mtu: int = 1500) -> tuple[Hop, ...]:
    """Hops in order. ``smb`` or ``nfs`` slows the network hops and is itself no hop."""
    named = [text for text in texts if text in PROTOCOLS]
    if len(set(named)) > 1:
        raise Refused("hop", " ".join(named), "one protocol, smb or nfs")
    hops = tuple(parse_hop(text, mtu, named[0] if named else None) for text in texts if text not in PROTOCOLS)
    if not hops:
        raise Refused("hop", " ".join(texts) or None, "at least one hop: " + HOP_ACCEPTED)
    return hops


def path_rate(hops: tuple[Hop, ...], flows: int = 1) -> PathRate:
    """The slowest hop decides, for ``flows`` flows together; of equals the first is named.

    Aggregates are taken at their best, with the flows spread evenly over the members.
    """
    if flows < 1:
        raise Refused("flows", flows, "a whole number of 1 or more")
    rates = [hop.delivers(flows) for hop in hops]
    total = min(rates)
    one_flow = min(hop.link_bytes_per_s for hop in hops)
    return PathRate(
        bytes_per_s=total,
        per_flow_bytes_per_s=min(total / flows, one_flow),
        limiting_hop=rates.index(total),
        hops=tuple((hop.name, rate) for hop, rate in zip(hops, rates, strict=True)),
    )
