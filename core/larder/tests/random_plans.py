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
