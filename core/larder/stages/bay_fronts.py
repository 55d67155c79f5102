"""The boxes' fronts: which bay holds what, which part of it is parity, what the box's list says of it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from larder.base.memo import remembered
from larder.base.results import Result
from larder.plan.bays import KEPT_BYTES, Bay, Box, Lies, Occupant
from larder.plan.enclosure import Role, Slot

from .stage import Judged, Part
from .tiers import TIERS


class BayResult(Result):
    """One bay and what lies in it.

    ``order`` counts from 0 the places of whoever has it; ``redundancy_share`` is the part of the drive that
    holds copies or parity; ``allowed`` is what the box's list says of it.
    """

    slot: Slot
    number: int
    lies: Lies
    occupant_id: str | None
    occupant_name: str
    order: int | None
    drive_bytes: int
    redundancy_share: float
    allowed: bool


class BoxResult(Result):
    """A box's front."""

    id: str
    name: str
    bays: tuple[BayResult, ...]
    free_bays: int


class BaysResult(Result):
    """All boxes, and the drives that no bay has been said for, by pool or cache."""

    boxes: tuple[BoxResult, ...]
    unplaced: dict[str, int]


def bays_stage(
    boxes: tuple[Box, ...], occupants: tuple[Occupant, ...], shares: Mapping[str, tuple[float, ...]]
) -> BaysResult:
    """What lies in every bay; ``shares`` are the parts of each pool's drives that hold copies or parity."""
    inside: dict[str, list[tuple[Occupant, tuple[float, ...]]]] = {box.id: [] for box in boxes}
    for occupant in occupants:
        for box_id in {bay.box_id for bay in occupant.bays}:
            inside[box_id].append((occupant, shares.get(occupant.id, ())))
    return BaysResult(
        boxes=tuple(_front(box, tuple(inside[box.id])) for box in boxes),
        unplaced={o.id: max(len(o.drives_bytes) - len(o.bays), 0) for o in occupants} if boxes else {},
    )


class _Held(NamedTuple):
    """A bay's holder, what of its drives is copies or parity, and the how many-th of its bays this is."""

    occupant: Occupant
    shares: tuple[float, ...]
    at: int


@remembered(KEPT_BYTES, lambda front, *_: 2_000 + 1_200 * len(front.bays))
def _front(box: Box, inside: tuple[tuple[Occupant, tuple[float, ...]], ...]) -> BoxResult:
    """One box with who has drives in it; a nudge touches few of them."""
    lying = {
        bay: _Held(occupant, shares, at)
        for occupant, shares in inside
        for at, bay in enumerate(occupant.bays)
    }
    bays = tuple(
        _bay(box, slot, number, lying.get(Bay(box.id, slot, number)))
        for slot, count in box.slots
        for number in range(1, count + 1)
    )
    free = sum(bay.lies == "free" for bay in bays)
    return BoxResult(id=box.id, name=box.name, bays=bays, free_bays=free)


def _role(lies: Lies, slot: Slot) -> Role:
    """Flash slots that hold a pool hold what lists call a volume."""
    if lies in ("cache", "spare"):
        return "cache" if lies == "cache" else "spare"
    return "volume" if slot == "flash slot" else "pool"


def _bay(box: Box, slot: Slot, number: int, held: _Held | None) -> BayResult:
    lies: Lies = "free"
    size, share, allowed = 0, 0.0, True
    if held is not None:
        lies = held.occupant.lies(held.at)
        if lies != "kept for growth":
            size = held.occupant.drives_bytes[held.at]
            share = held.shares[held.at] if held.shares else 0.0
            allowed = box.allowed(slot, _role(lies, slot), held.occupant.kind, size)
    return BayResult(
        slot=slot,
        number=number,
        lies=lies,
        occupant_id=held.occupant.id if held else None,
        occupant_name=held.occupant.name if held else "",
        order=held.at if held else None,
        drive_bytes=size,
        redundancy_share=share,
        allowed=allowed,
    )


def _judge(judged: Judged) -> BaysResult:
    plan, pools = judged.bundle.plan, judged.of(TIERS).pools
    return bays_stage(plan.boxes, plan.occupants(), {pool.id: pool.redundancy_shares for pool in pools})


BAYS: Part[BaysResult] = Part(
    "bays", _judge, reads=("plan/boxes", "plan/pools", "plan/caches"), after=(TIERS,), is_drawn=True
)
