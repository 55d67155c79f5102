"""Version 4 makes the one chain of hops a graph: links between seats, switches and the storage.

A hop that every seat had for itself becomes each seat's own link, as fast as the slowest of them. Hops that
all shared become links between switches, and the last of them the link to the storage, in their order.
Nothing is made up: of the switches no ports are listed, and what the chain did not limit is not limited now.
"""

from __future__ import annotations

from typing import Any

from .change import Change, Document, items_at

_DEFAULTS_THEN = {"working_days_per_week": 7.0}
"""Wear went by every day of the year then, and older plans keep what they were judged by."""
_SPEEDS = ("100Mb", "1GbE", "2.5GbE", "5GbE", "10GbE", "25GbE", "100GbE")


def step(document: Document, changes: list[Change]) -> Document:  # noqa: ARG001  (nothing that was said is lost)
    """The document with links in place of hops."""
    rules = document.get("house_rules")
    if isinstance(rules, dict):
        document = document | {"house_rules": _DEFAULTS_THEN | rules}
    made = dict(document)
    plan = document.get("plan")
    wiring = plan.get("wiring") if isinstance(plan, dict) else None
    hops = wiring.get("hops") if isinstance(wiring, dict) else None
    if not isinstance(plan, dict) or not isinstance(wiring, dict) or not isinstance(hops, list):
        return made
    rest = {key: value for key, value in wiring.items() if key != "hops"}
    if not hops:
        return made | {"plan": plan | {"wiring": rest}}
    switches, links = _graph(document, hops)
    plan = plan | {"wiring": rest | {"switches": switches, "links": links}}
    if len(switches) > 1:
        plan = plan | {"brief": _entering(plan.get("brief"), switches[0]["id"])}
    return made | {"plan": plan}


def _graph(document: Document, hops: list[Any]) -> tuple[list[Document], list[Document]]:
    """(switches, links) that carry what the chain carried."""
    whole = [hop for hop in hops if isinstance(hop, dict)]
    own = [hop for hop in whole if hop.get("serves") == "seat"]
    shared = [hop for hop in whole if hop.get("serves") != "seat"]
    switches = [
        {"id": f"switch-{n}", "name": "Switch" if len(shared) == 1 else f"Switch {n}", "ports": ""}
        for n in range(1, len(shared) + 1)
    ]
    ends = [f"switch:{switch['id']}" for switch in switches] + [_storage(document)]
    slowest = min(own, key=_speed, default=shared[0] if shared else None)
    taken = {str(hop.get("id")) for hop in shared}
    links = [
        {
            "id": _fresh(f"plug-{seat.get('id')}", taken),
            "near": f"seat:{seat.get('id')}",
            "far": ends[0],
            "speed": slowest.get("speed") if slowest else "10GbE",
            "links": slowest.get("links", 1) if slowest in own and slowest else 1,
        }
        for _, seat in items_at(document, "plan/brief/seats")
        if _has_port(seat)
    ]
    links += [
        {
            "id": hop.get("id"),
            "near": near,
            "far": far,
            "speed": hop.get("speed"),
            "links": hop.get("links", 1),
        }
        for hop, near, far in zip(shared, ends, ends[1:], strict=False)
    ]
    if switches and any(_comes_from_outside(seat) for _, seat in items_at(document, "plan/brief/seats")):
        line = _fresh("outside-line", taken)
        links.append({"id": line, "near": "outside", "far": ends[0], "speed": "10GbE"})
    return switches, links


def _fresh(wanted: str, taken: set[str]) -> str:
    """An id as wanted, cut to what an id may have, with a number where there is one like it."""
    found, n = wanted[:40], 1
    while found in taken:
        n += 1
        found = f"{wanted[:36]}-{n}"
    taken.add(found)
    return found


def _speed(hop: Document) -> int:
    speed = hop.get("speed")
    return _SPEEDS.index(speed) if speed in _SPEEDS else len(_SPEEDS)


def _storage(document: Document) -> str:
    """The box, where there is one alone and nobody has listed its ports; else all storage as one."""
    boxes = list(items_at(document, "plan/boxes"))
    if len(boxes) == 1 and not boxes[0][1].get("ports"):
        return f"box:{boxes[0][1].get('id')}"
    return "storage"


def _has_port(seat: Document) -> bool:
    if seat.get("kind") == "remote":
        return not _comes_from_outside(seat)
    return bool(seat.get("seated", "office") != "inside")


def _comes_from_outside(seat: Document) -> bool:
    return bool(seat.get("kind") == "remote" and seat.get("way", "proxies") != "remote control")


def _entering(brief: Any, switch_id: str) -> Any:
    """Services ran over every hop: they come in where the seats do."""
    if not isinstance(brief, dict) or not isinstance(brief.get("services"), list):
        return brief
    services = [
        service | {"enters_at": switch_id} if isinstance(service, dict) else service
        for service in brief["services"]
    ]
    return brief | {"services": services}
