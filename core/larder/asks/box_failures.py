"""Boxes fail too: what stops when a box, a controller, a supply, a switch or a cable dies, and how long.

Whether the disks can be read in other hardware settles controller cards against software: with software they
go into any computer, behind a card they wait for one of the same kind.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal

from larder.base.results import Result
from larder.laws.spares import SHELF_HOURS
from larder.plan.bays import Box
from larder.plan.bundle import Plan
from larder.plan.ports import seats_of
from larder.plan.wiring import STORAGE, End, Link, Switch
from larder.stages.keeping import KEEPING, Keeping
from larder.stages.pool_setting import boxes_of
from larder.stages.stage import Judged
from larder.stages.ways import name_of

PART_HOURS = 1.0
"""To change a supply, a switch or a cable that lies on the shelf. A stated assumption."""
OTHER_COMPUTER_HOURS = 8.0
"""To set up another computer that reads the disks. A stated assumption."""
MOVE_DISKS_HOURS = 2.0
"""To label disks, move them and start again. A stated assumption."""
PartKind = Literal["box", "controller", "supply", "switch", "cable"]


class PartFailure(Result):
    """One thing that may die: hours until people work again, how, and who stands still meanwhile.

    ``hours`` is 0 where nobody notices. ``stops`` names pools, services and seats.
    """

    part: PartKind
    id: str
    name: str
    hours: float
    how: str
    stops: tuple[str, ...]


def box_failures(judged: Judged) -> tuple[PartFailure, ...]:
    """Everything of a judged plan that is no drive and may die, box by box, then switches and cables."""
    plan, rules = judged.bundle.plan, judged.bundle.house_rules
    keeping, reaching = judged.of(KEEPING), _reaching(plan.wiring.links)
    parts, boxes = rules.delivery_days_max * 24.0, rules.box_delivery_days_max * 24.0
    found: list[PartFailure] = []
    for box in plan.boxes:
        found += _of_box(plan, box, keeping, (parts, boxes))
    for switch in plan.wiring.switches:
        found.append(_of_switch(plan, switch, boxes, reaching))
    for link in plan.wiring.links:
        failure = _of_cable(plan, link, parts, reaching)
        if failure.stops:
            found.append(failure)
    return tuple(found)


def _of_box(plan: Plan, box: Box, keeping: Keeping, waits: tuple[float, float]) -> Iterator[PartFailure]:
    part_hours, box_hours = waits
    stops = tuple(_on_box(plan, box))
    hours, how = min(_ways_back(plan, box, keeping, box_hours))
    yield PartFailure(part="box", id=box.id, name=box.name, hours=hours, how=how, stops=stops)
    if any(card.holds == "controller card" for card in box.cards):
        hours, how = box_hours, "one of the same kind is ordered: only it reads these disks"
        if box.has_spare_controller:
            hours, how = SHELF_HOURS, "the spare one goes in"
        elif box.disks_read_in == "any computer":
            hours, how = OTHER_COMPUTER_HOURS, "its disks are read in another computer"
        name = f"{box.name}, its controller"
        yield PartFailure(part="controller", id=box.id, name=name, hours=hours, how=how, stops=stops)
    name = f"{box.name}, a supply"
    if box.supplies > 1:
        how = "the other supply carries it, if both hang on circuits of their own"
        yield PartFailure(part="supply", id=box.id, name=name, hours=0, how=how, stops=())
    else:
        hours, how = part_hours, "a new one is ordered; nobody opens a supply"
        if box.has_spare_supply:
            hours, how = PART_HOURS, "the spare one goes in; nobody opens a supply"
        yield PartFailure(part="supply", id=box.id, name=name, hours=hours, how=how, stops=stops)


def _ways_back(plan: Plan, box: Box, keeping: Keeping, box_hours: float) -> Iterator[tuple[float, str]]:
    """(hours, how) of every way that is open after a box died with its disks whole."""
    yield box_hours + MOVE_DISKS_HOURS, "one of the same class is ordered, and the disks move"
    if box.has_spare_box:
        yield MOVE_DISKS_HOURS, "the disks move into the spare box"
    if box.disks_read_in == "any computer":
        yield OTHER_COMPUTER_HOURS, "the disks are read in another computer"
    hours = _standby_hours(plan, box, keeping)
    if hours is not None:
        yield hours, "people work on a copy meanwhile"


def _standby_hours(plan: Plan, box: Box, keeping: Keeping) -> float | None:
    """Until everything that lives in the box can be worked on somewhere else; None where it cannot."""
    pools = {f"pool:{pool.id}" for pool in plan.pools if box.id in boxes_of(plan, pool)}
    switched: list[float] = []
    for material in keeping.materials:
        if not any(body.key in pools for body in material.whole[0].bodies):
            continue
        standby = [
            h.copy.switch_hours
            for h in material.whole[1:]
            if h.copy and h.copy.people_can_work_on_it and not any(body.key in pools for body in h.bodies)
        ]
        if standby:
            switched.append(min(standby))
        elif material.kept.work_hours_per_day:
            return None
    return max(switched, default=None)


def _on_box(plan: Plan, box: Box) -> Iterator[str]:
    """Pools in it, the services on them and seats that are inside of it or work on them."""
    pools = {pool.id: pool.name for pool in plan.pools if box.id in boxes_of(plan, pool)}
    yield from pools.values()
    users = [*plan.brief.services, *plan.brief.seats]
    work = set(plan.pools_for_work())
    for user in users:
        if user.works_on in pools or (not user.works_on and work & set(pools)):
            yield user.name


def _of_switch(plan: Plan, switch: Switch, box_hours: float, reaching: set[End]) -> PartFailure:
    gone = End("switch", switch.id)
    links = [link for link in plan.wiring.links if gone not in link.ends]
    stops = _cut_off(plan, reaching, links)
    hours, how = box_hours, "a new one is ordered"
    if switch.has_spare:
        hours, how = PART_HOURS, "the spare one takes its place"
    if not stops:
        hours, how = 0.0, "everybody has another way"
    return PartFailure(part="switch", id=switch.id, name=switch.name, hours=hours, how=how, stops=stops)


def _of_cable(plan: Plan, link: Link, part_hours: float, reaching: set[End]) -> PartFailure:
    near, far = (name_of(plan, end) for end in link.ends)
    name = f"Cable from {near} to {far}"
    if link.links > 1:
        how = "the others of the bundle carry it, slower"
        return PartFailure(part="cable", id=link.id, name=name, hours=0.0, how=how, stops=())
    stops = _cut_off(plan, reaching, [each for each in plan.wiring.links if each.id != link.id])
    hours, how = part_hours, "a new one is ordered"
    if plan.wiring.has_spare_cables:
        hours, how = PART_HOURS, "one from the shelf"
    return PartFailure(part="cable", id=link.id, name=name, hours=hours, how=how, stops=stops)


def _cut_off(plan: Plan, now: set[End], links: list[Link]) -> tuple[str, ...]:
    """The names of seats that reach storage today and would not over ``links`` alone."""
    then = _reaching(links)
    names = {seat.id: seat.name for seat in plan.brief.seats}
    lost = (seat for seat in seats_of(plan) if (end := End("seat", seat)) in now and end not in then)
    return tuple(names[seat] for seat in lost)


def _reaching(links: Sequence[Link]) -> set[End]:
    """Every end from which some box or the storage can be reached."""
    found = {end for link in links for end in link.ends if end.kind == "box" or end == STORAGE}
    while True:
        more = {end for link in links for end in link.ends if found & set(link.ends)} - found
        if not more:
            return found
        found |= more
