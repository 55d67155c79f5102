"""What a hop is told as: what it carries and why, what is asked of it, and by whom.

A hop is a link, a card's slot, a pool's drives, or a bus or processor that several pools pass.
"""

from __future__ import annotations

from typing import Literal

from larder.base.results import Result

from .situation import Work
from .utilisation import Utilisation

Direction = Literal["read", "write", "both"]
HopKind = Literal["link", "slot", "pool", "bus", "processor"]


class LinkTerms(Result):
    """What a link carries: line rate × what framing and protocol leave of it × the links in use.

    Or what the bus of its adapter carries, where that is less.
    """

    line_bytes_per_s: float
    payload_share: float
    protocol_share: float
    adapter_bytes_per_s: float | None
    links_used: int


class DrivesTerms(Result):
    """What a pool carries: its reads and writes share the drives, by the part of the load that reads."""

    read_share: float
    read_bytes_per_s: float
    write_bytes_per_s: float


class CostTerms(Result):
    """What one pool's load costs of something shared, for a byte; ``load_share`` is its part of all load."""

    pool_name: str
    load_share: float
    read_share: float
    a_byte_read: float
    a_byte_written: float


class SharedTerms(Result):
    """What a bus (bytes/s) or a processor (cores) has to give, and what the pools' bytes cost of it."""

    capacity: float
    costs: tuple[CostTerms, ...]


class LateCopies(Result):
    """A part of the day in which nobody plays and which is too short for what is to be copied over a hop."""

    part_name: str
    asked_bytes_per_s: float
    seconds_late: float


class HopResult(Result):
    """One hop in its worse direction. ``ratio`` is capacity ÷ required, null where nothing is asked.

    ``pool_ids`` are the pools behind it; links list none. ``near`` and ``far`` are a link's ends, ``speed``
    is what it comes up at, ``limited_by`` what keeps it below its own port's. ``late`` says where copies do
    not end in their part of the day. ``one_client_low_bytes_per_s`` is the least that one client alone may
    get of a link, null where that is no less than ``link_bytes_per_s``.
    """

    id: str
    name: str
    kind: HopKind
    serves: Literal["seat", "all"]
    pool_ids: tuple[str, ...] = ()
    near: str = ""
    far: str = ""
    speed: str = ""
    limited_by: str = ""
    link_bytes_per_s: float
    links: int
    capacity_bytes_per_s: float
    required_bytes_per_s: float
    ratio: float | None
    direction: Direction
    because: str
    late: tuple[LateCopies, ...] = ()
    one_client_low_bytes_per_s: float | None = None
    link_terms: LinkTerms | None = None
    drives_terms: DrivesTerms | None = None
    shared_terms: SharedTerms | None = None


def said_of(found: Utilisation, work: Work, verb: str) -> str:
    """Who decides, what they do, and when, where days have parts."""
    when = f" in {found.part.name}" if len(work.standard.parts) > 1 else ""
    if found.share <= 0:
        return "nothing asked of it"
    if found.alone is not None:
        return f"{found.alone.name} alone, {verb}{when}"
    return f"all seats together, {verb}{when}" if found.is_paced else f"copies and services, {verb}{when}"


def within_a_box(
    hop_id: str,
    name: str,
    kind: HopKind,
    pool_ids: tuple[str, ...],
    capacity: float,
    found: Utilisation,
    work: Work,
) -> HopResult:
    """A hop inside a box, which carries both directions together."""
    return HopResult(
        id=hop_id,
        name=name,
        kind=kind,
        serves="all",
        pool_ids=pool_ids,
        link_bytes_per_s=capacity,
        links=1,
        capacity_bytes_per_s=capacity,
        required_bytes_per_s=capacity * found.share,
        ratio=ratio_of(found),
        direction="both",
        because=said_of(found, work, "playing and writing"),
        late=late_of(found, capacity),
    )


def ratio_of(found: Utilisation) -> float | None:
    """The ratio of carried to asked; None where nothing that must keep its rate is asked."""
    return 1 / found.share if found.is_paced and found.share > 0 else None


def late_of(found: Utilisation, capacity: float) -> tuple[LateCopies, ...]:
    """The parts of the day that are too short for what only copies move over a hop."""
    return tuple(
        LateCopies(
            part_name=late.part.name,
            asked_bytes_per_s=late.share * capacity,
            seconds_late=(late.share - 1) * late.part.hours * 3600,
        )
        for late in found.late
    )
