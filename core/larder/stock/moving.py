"""How long it takes to bring the unique bytes to new storage over the ports there are.

Each copy job runs at its slowest hop: the device itself, the port it is read through, or the port it arrives
by. A port takes one job at a time; the longest jobs go first, each to the port that is done with it soonest
(longest processing time first, R. L. Graham, 1969).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from larder.base.results import Result
from larder.laws.device import INNER_TO_OUTER_RATIO
from larder.laws.path import parse_hop
from larder.laws.throughput import SCALING_EXPONENT_LOW

from .item import StockItem

OUTER_BYTES_PER_S = {"hdd": 180e6, "ssd": 480e6, "card": 90e6}
"""What a device in use reads in sequence, on a disk's outer tracks; stated until one is measured."""
NVME_BYTES_PER_S = 2_000e6
INTERFACE_HOP = {
    "sata": "sata3", "sas": "sas3", "nvme": "pcie3x4", "usb": "usb5G", "ethernet": "1GbE", "card": "usb5G",
}  # fmt: skip
"""The slowest port that commonly goes with an interface."""
PORT_WHERE_NONE_IS_KNOWN = "usb5G"
JOBS_SHOWN = 50


class Hop(Result):
    """A place on a job's way, and what it carries, bytes/s."""

    name: str
    bytes_per_s: float


class MoveJob(Result):
    """One device or box read out: its bytes, limiting hop, and when it runs, in seconds from the start."""

    label: str
    bytes: int
    bytes_per_s: float
    limiting_hop: str
    port: str
    starts_s: float
    ends_s: float


class MoveResult(Result):
    """The whole move. ``jobs`` are the longest, in the order they start; ``seconds`` is when all is over."""

    ports: str
    bytes: int
    seconds: float
    job_count: int
    jobs: tuple[MoveJob, ...]


def ports_of(items: Iterable[StockItem]) -> str:
    """The ports to copy over where nobody says: those of the box with the quickest one, else a usual one."""
    boxes = [item for item in items if item.kind == "box" and item.ports]
    best = max(boxes, key=lambda box: (_quickest(box.ports).bytes_per_s, box.label), default=None)
    return best.ports if best else PORT_WHERE_NONE_IS_KNOWN


def _hop(text: str) -> Hop:
    return Hop(name=text, bytes_per_s=parse_hop(text, protocol="smb").link_bytes_per_s)


def _quickest(ports: str) -> Hop:
    return max((_hop(text) for text in ports.split()), key=lambda hop: hop.bytes_per_s)


def device_hops(item: StockItem) -> tuple[Hop, ...]:
    """A device of its own: what it reads at over its whole surface, and its port."""
    if item.interface == "nvme":
        rate = NVME_BYTES_PER_S
    else:
        rate = OUTER_BYTES_PER_S[item.medium] * (
            (1 + INNER_TO_OUTER_RATIO) / 2 if item.medium == "hdd" else 1
        )
    port = _hop(INTERFACE_HOP[item.interface])
    return Hop(name="the device", bytes_per_s=rate), port.model_copy(update={"name": f"its {port.name} port"})


def box_hops(box: StockItem, drives: int) -> tuple[Hop, ...]:
    """A box: its drives together at the low end of what a stripe gives, and its quickest port."""
    one = device_hops(box)[0].bytes_per_s
    together = Hop(name="its drives", bytes_per_s=one * max(drives, 1) ** SCALING_EXPONENT_LOW)
    port = _quickest(box.ports or PORT_WHERE_NONE_IS_KNOWN)
    return together, port.model_copy(update={"name": f"its {port.name} port"})


def move_of(items: tuple[StockItem, ...], bytes_by_id: dict[str, int], ports: str) -> MoveResult:
    """The move of ``bytes_by_id`` (bytes to read from each device) over ``ports`` (hops with blanks between).

    Drives in a box are read through the box, as one job. Every byte is in one job.
    """
    lanes = [
        _hop(member)
        for text in ports.split()
        for member in [text.split("x", 1)[-1] if text[0].isdigit() and "x" in text else text]
        for _ in range(parse_hop(text).links)
    ]
    sources = _sources(items, bytes_by_id)
    free_at = [0.0] * len(lanes)
    jobs = []
    for label, amount, hops in sorted(sources, key=lambda s: (-s[1] / _least(s[2]).bytes_per_s, s[0])):
        ways = [_least((*hops, lane)) for lane in lanes]
        lane = min(range(len(lanes)), key=lambda n: (free_at[n] + amount / ways[n].bytes_per_s, n))
        starts = free_at[lane]
        free_at[lane] = starts + amount / ways[lane].bytes_per_s
        limit = ways[lane]
        jobs.append(
            MoveJob(
                label=label,
                bytes=amount,
                bytes_per_s=limit.bytes_per_s,
                limiting_hop=limit.name if limit in hops else f"the {limit.name} port it arrives by",
                port=lanes[lane].name,
                starts_s=starts,
                ends_s=free_at[lane],
            )
        )
    shown = sorted(jobs[:JOBS_SHOWN], key=lambda j: (j.starts_s, j.label))
    return MoveResult(
        ports=ports,
        bytes=sum(j.bytes for j in jobs),
        seconds=max(free_at),
        job_count=len(jobs),
        jobs=tuple(shown),
    )


def _least(hops: Iterable[Hop]) -> Hop:
    return min(hops, key=lambda hop: hop.bytes_per_s)


def _sources(
    items: tuple[StockItem, ...], bytes_by_id: dict[str, int]
) -> list[tuple[str, int, tuple[Hop, ...]]]:
    """(label, bytes, hops) of each device or box that something is read from."""
    boxes = {item.label: item for item in items if item.kind == "box"}
    drives_in = Counter(item.box for item in items if item.box)
    amounts: Counter[str] = Counter()
    of_box: Counter[str] = Counter()
    for item in items:
        box = item.box if item.box in boxes else (item.label if item.kind == "box" else "")
        (of_box if box else amounts)[box or item.id] += bytes_by_id.get(item.id, 0)
    sources = [
        (label, amount, box_hops(boxes[label], drives_in[label] or boxes[label].bays or 1))
        for label, amount in of_box.items()
        if amount
    ]
    return sources + [
        (item.label, amounts[item.id], device_hops(item)) for item in items if amounts[item.id] > 0
    ]
