"""Plans as people might have them, out of a seed: the demo plans with a few things changed at random."""

from __future__ import annotations

import random
from typing import Any

from larder.base.errors import LarderError
from larder.base.patch import Operation, apply_patch
from larder.plan.bundle import Bundle
from larder.plan.ports import SPEEDS
from larder.readers.plan_file import bundle_from

from .plans import DEMOS, demo

CHANGES = 4
LAYOUTS = ("stripe", "span", "mirror", "raid5", "raid6", "raid10", "cow1", "cow2")


def random_plan(seed: int) -> Bundle:
    """A demo plan with up to four changes that it can bear; equal seeds give equal plans."""
    chance = random.Random(seed)
    bundle = demo(DEMOS[seed % len(DEMOS)])
    for _ in range(chance.randint(1, CHANGES)):
        patch = chance.choice(_WAYS)(chance, bundle.document()["plan"])
        try:
            bundle = bundle_from(apply_patch(bundle.document(), patch))
        except LarderError:
            continue  # such a plan cannot be: another change is drawn
    return bundle


def _set(path: str, value: Any) -> tuple[Operation, ...]:
    return (Operation(op="set", path=path, value=value),)


def _link(chance: random.Random, plan: dict[str, Any]) -> tuple[Operation, ...]:
    link = chance.choice(plan["wiring"]["links"])
    path = f"plan/wiring/links/{link['id']}"
    field, values = chance.choice(
        (
            ("speed", SPEEDS), ("came_up_at", SPEEDS), ("category", ("cat5e", "cat6", "direct attach")),
            ("length_m", (3, 60, 150)), ("links", (1, 2, 4)), ("adapter", ("usb5G", "usb10G", "pcie3x1")),
            ("has_display", (True,)), ("lets_in", ("open ports",)),
        )
    )  # fmt: skip
    return _set(f"{path}/{field}", chance.choice(values))


def _unplug(chance: random.Random, plan: dict[str, Any]) -> tuple[Operation, ...]:
    link = chance.choice(plan["wiring"]["links"])
    return (Operation(op="remove", path=f"plan/wiring/links/{link['id']}"),)


def _more_links(chance: random.Random, plan: dict[str, Any]) -> tuple[Operation, ...]:
    """Another link from a seat or a switch to a box."""
    nears = [f"seat:{s['id']}" for s in plan["brief"]["seats"]] + [
        f"switch:{s['id']}" for s in plan["wiring"]["switches"]
    ]
    fars = [f"box:{box['id']}" for box in plan["boxes"]] or ["storage"]
    value = {"id": f"more-{chance.randint(0, 999)}", "near": chance.choice(nears), "far": chance.choice(fars)}
    return (Operation(op="add", path="plan/wiring/links", value=value | {"speed": chance.choice(SPEEDS)}),)


def _ports(chance: random.Random, plan: dict[str, Any]) -> tuple[Operation, ...]:
    switch = chance.choice(plan["wiring"]["switches"])
    ports = chance.choice(("8x1GbE", "4x10GbE", "2x25GbE 16x1GbE", ""))
    return _set(f"plan/wiring/switches/{switch['id']}/ports", ports)


def _seat(chance: random.Random, plan: dict[str, Any]) -> tuple[Operation, ...]:
    seat = chance.choice(plan["brief"]["seats"])
    field, values = chance.choice((("count", (0, 1, 4, 12)), ("probability", (0.05, 0.5, 1.0))))
    return _set(f"plan/brief/seats/{seat['id']}/{field}", chance.choice(values))


def _pool(chance: random.Random, plan: dict[str, Any]) -> tuple[Operation, ...]:
    pool = chance.choice(plan["pools"])
    path = f"plan/pools/{pool['id']}"
    field, values = chance.choice((("layout", LAYOUTS), ("drive_count", (2, 4, 8, 10)), ("spares", (0, 1))))
    return (*_set(f"{path}/bays", ""), *_set(f"{path}/{field}", chance.choice(values)))


_WAYS = (_link, _link, _unplug, _more_links, _ports, _seat, _pool)


def large_house(classes: int = 60, floors: int = 7) -> Bundle:
    """*Long Shore* with so many classes of seats, on a switch for every floor and one for the boxes."""
    document = demo("long-shore").document()
    plan = document["plan"]
    like = [s for s in plan["brief"]["seats"] if s["kind"] == "footage" and s["seated"] != "inside"]
    plan["brief"]["seats"] = [
        like[n % len(like)]
        | {"id": f"s{n}", "name": f"Seat {n}", "count": 1 + n % 3, "probability": 0.2 + 0.01 * (n % 60)}
        for n in range(classes)
    ]
    for service in plan["brief"]["services"]:
        service["enters_at"] = "core"
    links = [(f"seat:s{n}", f"switch:floor-{n % floors}", "10GbE", 1) for n in range(classes)]
    links += [(f"switch:floor-{n}", "switch:core", "100GbE", 1) for n in range(floors)]
    links += [("switch:core", f"box:{box['id']}", "25GbE", 2) for box in plan["boxes"]]
    plan["wiring"] |= {
        "switches": [
            *(
                {"id": f"floor-{n}", "name": f"Floor {n}", "ports": "48x10GbE 2x100GbE"}
                for n in range(floors)
            ),
            {"id": "core", "name": "Core", "ports": "16x25GbE 8x100GbE"},
        ],
        "links": [
            {"id": f"l{n}", "near": near, "far": far, "speed": speed, "links": count}
            for n, (near, far, speed, count) in enumerate(links)
        ],
    }
    return bundle_from(document)
