"""What breaks in a rehearsed day, at any minute: a disk, a cable, a switch, a box, a supply.

A pool with a dead disk is slower, and rebuilds at once where a spare waits; past what it survives its bytes
are lost. Of cables joined together one breaks and the others take over what it carried. What hangs on a dead
switch or box hears nothing more of it. A box with a second supply goes on.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Literal, get_args

from larder.base.errors import Refused
from larder.base.units import SECONDS_A_DAY, parse_clock
from larder.laws.fluid_day import ShareChange
from larder.plan.bundle import Plan
from larder.plan.wiring import End
from larder.stages.pool import PoolResult
from larder.stages.pool_setting import SETTINGS
from larder.stages.trouble import kept_in

from .resources import Costs, DayResources
from .set_up import LOST_SHARE, SetUp, degraded_share

Breaks = Literal["disk", "link", "switch", "box", "supply"]
FAIL_ACCEPTED = "POOL@HH:MM such as main@11:00, or ID@HH:MM with link:, switch:, box: or supply: before it"
MOST_FAILURES = 8
_FAIL = re.compile(r"(?:(\w+):)?([a-z0-9][a-z0-9-]{0,39})@(.*)")


@dataclass(frozen=True)
class Failure:
    """What breaks, by its id, and when: a time of the clock, seconds after midnight."""

    of: Breaks
    id: str
    clock_s: float


def parse_failure(text: str, field: str = "fail") -> Failure:
    """``POOL@HH:MM``, or ``link:ID@HH:MM`` and the like; raises :class:`Refused` for another grammar."""
    match = _FAIL.fullmatch(text.strip())
    of = (match[1] or "disk") if match else ""
    if match is None or of not in get_args(Breaks):
        raise Refused(field, text, FAIL_ACCEPTED)
    return Failure(of, match[2], parse_clock(match[3], field) * 60.0)  # type: ignore[arg-type]


def changes_of(stage: SetUp, failures: Iterable[Failure]) -> tuple[ShareChange, ...]:
    """What becomes slower, goes another way or is lost from when on.

    Raises :class:`Refused` for what is not there, and for more than can be told apart.
    """
    failures = sorted(failures, key=lambda each: stage.into_day(each.clock_s))
    if len(failures) > MOST_FAILURES:
        raise Refused("fail", f"{len(failures)} failures", f"at most {MOST_FAILURES} in a day")
    known = _known(stage.judged.bundle.plan)
    deaths: Counter[str] = Counter()
    changes: list[ShareChange] = []
    for failure in failures:
        if failure.id not in known[failure.of]:
            listed = ", ".join(known[failure.of]) or "there is none yet"
            what = "pool" if failure.of == "disk" else failure.of
            raise Refused("fail", failure.id, f"the id of a {what} ({listed})".replace("a supply", "a box"))
        at_s = stage.into_day(failure.clock_s)
        if failure.of == "disk":
            deaths[failure.id] += 1
            changes += _disk(stage, failure.id, at_s, deaths[failure.id])
        else:
            changes += _thing(stage, failure, at_s)
    return tuple(changes)


def _known(plan: Plan) -> dict[Breaks, tuple[str, ...]]:
    boxes = tuple(box.id for box in plan.boxes)
    return {
        "disk": tuple(pool.id for pool in plan.pools),
        "link": tuple(link.id for link in plan.wiring.links),
        "switch": tuple(switch.id for switch in plan.wiring.switches),
        "box": boxes,
        "supply": boxes,
    }


def outlives(plan: Plan, failure: Failure) -> bool:
    """Whether the box goes on, because it has another supply."""
    box = next((box for box in plan.boxes if box.id == failure.id), None)
    return failure.of == "supply" and box is not None and box.supplies > 1


def _thing(stage: SetUp, failure: Failure, at_s: float) -> Iterator[ShareChange]:
    plan, resources = stage.judged.bundle.plan, stage.resources
    if failure.of == "link":
        yield from _link(stage, failure.id, at_s)
        return
    if outlives(plan, failure):
        return
    gone: list[int] = []
    if failure.of in ("box", "supply"):
        settings = stage.judged.of(SETTINGS)
        homes = {pool.id: settings[pool.id].homes for pool in plan.pools}
        in_box = [pool_id for pool_id, boxes in homes.items() if failure.id in dict(boxes)]
        gone += [resources.pool(pool_id) for pool_id in in_box]
        gone += [stage.holds_at[pool_id] for pool_id in in_box if pool_id in stage.holds_at]
    end = End("switch" if failure.of == "switch" else "box", failure.id)
    gone += resources.wires([link.id for link in plan.wiring.links if end in link.ends])
    yield ShareChange(at_s, dict.fromkeys(gone, LOST_SHARE))


def _link(stage: SetUp, link_id: str, at_s: float) -> Iterator[ShareChange]:
    """A plug is lost to its first seat; of several cables together the others take over."""
    resources = stage.resources
    wire = next(wire for wire in resources.situation.network.wires if wire.link.id == link_id)
    if wire.near.kind == "seat":
        yield ShareChange(at_s, dict.fromkeys(resources.plug(link_id), LOST_SHARE))
    elif wire.link.links == 1:
        yield ShareChange(at_s, dict.fromkeys(resources.wires([link_id]), LOST_SHARE))
    else:
        dead = {resources.member(wire, 0, towards_near=near): near for near in (True, False)}
        moved: dict[int, Costs] = {}
        for n, flow in enumerate(stage.flows):
            if any(at in dead for at, _ in flow.costs):
                other = 1 + len(moved) % (wire.link.links - 1)
                moved[n] = tuple(
                    (resources.member(wire, other, towards_near=dead[at]) if at in dead else at, cost)
                    for at, cost in flow.costs
                )
        yield ShareChange(at_s, dict.fromkeys(dead, LOST_SHARE), moved)


def is_lost(pool: PoolResult, death: int) -> bool:
    """Whether the ``death``-th dead disk of a pool takes its bytes along, at the worst place for it."""
    return degraded_share(pool) is None or death > pool.guaranteed_failures


def is_spared(pool: PoolResult, death: int) -> bool:
    """Whether a spare waits for the ``death``-th dead disk."""
    return death <= pool.spares + pool.shared_spares


def _disk(stage: SetUp, pool_id: str, at_s: float, death: int) -> Iterator[ShareChange]:
    """The ``death``-th disk of a pool dies."""
    pool = stage.pools[pool_id]
    place = stage.resources.pool(pool_id)
    degraded = degraded_share(pool)
    if degraded is None or is_lost(pool, death):
        yield ShareChange(at_s, dict.fromkeys(_places(stage.resources, pool_id), LOST_SHARE))
        return
    yield ShareChange(at_s, dict.fromkeys(_places(stage.resources, pool_id), degraded))
    if is_spared(pool, death):
        called = f"rebuild-{pool_id}-{death}", f"Rebuild of {pool.name}"
        job = stage.rebuild_of(pool_id, called, at_s, SECONDS_A_DAY)
        if job is not None:
            left, time = people_share(stage, pool_id), stage.resources.drive_time(pool_id)
            yield ShareChange(at_s, {place: left})
            yield ShareChange(at_s, {place: 1 / left / degraded, time: 1 / degraded}, after=job)


def _places(resources: DayResources, pool_id: str) -> list[int]:
    """What the drives have for people, and all they have where that is told apart."""
    places = [resources.pool(pool_id)]
    return [*places, resources.drive_time(pool_id)] if pool_id in resources.busy_drives else places


def people_share(stage: SetUp, pool_id: str) -> float:
    """What a rebuild leaves to the people of what is left at the dead disk."""
    pool = stage.pools[pool_id]
    share = stage.judged.of(SETTINGS)[pool_id].rebuild_share
    kept, degraded = kept_in(pool, "a rebuild", share), degraded_share(pool)
    return max(min(kept) / degraded, LOST_SHARE) if kept and degraded else LOST_SHARE
