"""Findings about boxes: what their lists refuse, and pools that one cable can part."""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.patch import Operation
from larder.plan.bays import Box
from larder.stages.bay_fronts import BayResult
from larder.stages.registry import TIERS_STAGE

from .finding import Evidence, Figures, Found, Remedy, finding


def _refused(f: Figures, *, flash: bool) -> Iterator[tuple[Box, list[BayResult]]]:
    """Boxes with the drives, flash or disks, that their list does not take."""
    flash_ids = {p.id for p in f.bundle.plan.pools if p.drive_kind == "ssd"}
    flash_ids |= {c.id for c in f.bundle.plan.caches}
    for box, result in zip(f.bundle.plan.boxes, f.bays.boxes, strict=True):
        bays = [b for b in result.bays if not b.allowed and (b.occupant_id in flash_ids) == flash]
        if bays:
            yield box, bays


def _outside_the_list(f: Figures, title: str, *, flash: bool) -> Iterator[Found]:
    for box, bays in _refused(f, flash=flash):
        yield Found(
            at=box.id,
            severity="note" if box.ignores_list else "warn",
            title=f"{box.name}: {title}" + (", knowingly" if box.ignores_list else ""),
            evidence=(
                Evidence(label="Drives outside its list", value=len(bays), unit="count"),
                Evidence(label="The largest of them", value=max(b.drive_bytes for b in bays), unit="bytes"),
            ),
            why="A box may refuse such a drive, warn of it for ever, or its support may end with it.",
            remedy=Remedy(
                words="Take drives from its list, or ask in writing whether these are supported.",
                at=f"plan/boxes/{box.id}/ignores_list",
            )
            if box.ignores_list
            else Remedy(
                words="Ignore its list knowingly",
                patch=(Operation(op="set", path=f"plan/boxes/{box.id}/ignores_list", value=True),),
            ),
        )


@finding("flash-refused-in-that-role-by-the-boxs-list", TIERS_STAGE, "warn")
def flash_refused_in_that_role(f: Figures) -> Iterator[Found]:
    """Flash in a slot or role, or of a size, that the box's list does not take."""
    yield from _outside_the_list(f, "its list refuses flash there", flash=True)


@finding("vendor-list-excludes-the-drive", TIERS_STAGE, "warn")
def vendor_list_excludes_the_drive(f: Figures) -> Iterator[Found]:
    """Disks that the box's list does not take."""
    yield from _outside_the_list(f, "its list excludes these disks", flash=False)


@finding("pool-joined-by-one-cable", TIERS_STAGE, "warn")
def pool_joined_by_one_cable(f: Figures) -> Iterator[Found]:
    """A pool over several boxes: a cable that goes takes more drives along than parity covers."""
    for pool, result in zip(f.bundle.plan.pools, f.tiers.pools, strict=True):
        boxes: dict[str, int] = {}
        for bay in pool.placed:
            boxes[bay.box_id] = boxes.get(bay.box_id, 0) + 1
        if len(boxes) < 2 or min(boxes.values()) <= result.guaranteed_failures:
            continue
        yield Found(
            at=pool.id,
            title=f"{pool.name} lies in {len(boxes)} boxes",
            evidence=(
                Evidence(label="Drives in the lesser box", value=min(boxes.values()), unit="count"),
                Evidence(label="It survives", value=result.guaranteed_failures, unit="count"),
            ),
            why="A cable or supply that fails takes a whole box along: more drives than the layout survives.",
            remedy=Remedy(
                words="Take it out of its bays and place it in one box",
                patch=(Operation(op="set", path=f"plan/pools/{pool.id}/bays", value=""),),
            ),
        )
