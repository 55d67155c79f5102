"""What becomes of a link when one thing about it changes, so that remedies and proposals say the same."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from larder.laws.cable import fastest_over, least_category_for
from larder.laws.path import BUS_BYTES_PER_S, ethernet_line_bytes_per_s

from .ports import SPEEDS
from .wiring import Link

if TYPE_CHECKING:
    from .bundle import Plan


def with_link(plan: Plan, link: Link) -> Plan:
    """The plan with this link in place of the one of the same id, not validated."""
    links = tuple(link if each.id == link.id else each for each in plan.wiring.links)
    return plan.model_copy(update={"wiring": plan.wiring.model_copy(update={"links": links})})


def faster_fields(link: Link, speed: str) -> dict[str, Any]:
    """What of ``link`` changes so that it runs at ``speed``: free ports, a cable and a bus that carry it."""
    fields: dict[str, Any] = {"speed": speed, "near_ports": "", "far_ports": "", "came_up_at": ""}
    fastest = fastest_over(link.category, link.length_m)
    if fastest is not None and SPEEDS.index(fastest) < SPEEDS.index(speed):
        fields["category"] = least_category_for(speed, link.length_m, SPEEDS)
    if link.adapter and BUS_BYTES_PER_S[link.adapter] < ethernet_line_bytes_per_s(speed):
        fields["adapter"] = ""
    return {name: value for name, value in fields.items() if getattr(link, name) != value}
