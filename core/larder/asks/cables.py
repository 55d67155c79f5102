"""The cables to pull, one line each, with a label for both of its ends."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from larder.base.results import Result
from larder.plan.bundle import Bundle
from larder.plan.ports import Ledger, ledger_of, seats_of
from larder.plan.wiring import End, Link
from larder.stages.ways import name_of


class Cable(Result):
    """One cable: what is written on it, where its two ends go, and what it is made of."""

    label: str
    near: str
    near_port: str
    far: str
    far_port: str
    speed: str
    category: str
    length_m: float


def cables_of(bundle: Bundle) -> tuple[Cable, ...]:
    """Every cable of the plan, numbered along its links; each seat of a class has its own."""
    plan = bundle.plan
    ledger, counts = ledger_of(plan), seats_of(plan)
    found: list[Cable] = []
    for link in plan.wiring.links:
        near, far = link.ends
        each = counts.get(near.id, 0) if near.kind == "seat" else 1
        fars, nears = (_ports(ledger, link, end) for end in (far, near))
        for n in range(each * link.links):
            seat_number = f" {n // link.links + 1}" if near.kind == "seat" and each > 1 else ""
            found.append(
                Cable(
                    label=f"W{len(found) + 1:03d}",
                    near=name_of(plan, near) + seat_number,
                    near_port=_port(nears, n),
                    far=name_of(plan, far),
                    far_port=_port(fars, n),
                    speed=link.speed,
                    category=link.category,
                    length_m=link.length_m,
                )
            )
    return tuple(found)


def _ports(ledger: Ledger, link: Link, end: End) -> tuple[str, ...]:
    plugged = ledger.plugged.get((link.id, end))
    if plugged is None:
        return ()
    return (*(str(port.number) for port in plugged.ports), *["none left"] * plugged.missing)


def _port(ports: Sequence[str], n: int) -> str:
    return ports[n] if n < len(ports) else ""


CABLE_COLUMNS = ("Label", "From", "Port", "To", "Port there", "Speed", "Cable", "Length m")


def cable_rows(cables: Sequence[Cable]) -> Iterator[tuple[str, ...]]:
    """The list as rows under :data:`CABLE_COLUMNS`."""
    for c in cables:
        yield c.label, c.near, c.near_port, c.far, c.far_port, c.speed, c.category, f"{c.length_m:g}"
