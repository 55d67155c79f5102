"""The two schools that no catalogue of boxes settles: paired portables, and working from elsewhere."""

from __future__ import annotations

from collections.abc import Iterator
from typing import get_args

from larder.base.errors import Refused
from larder.judge.evaluation import Evaluation
from larder.laws.layout import parse_layout
from larder.plan.bundle import Bundle
from larder.plan.catalogue import CatalogueDrive
from larder.plan.pools import Pool
from larder.plan.seats import RemoteSeat, Way
from larder.plan.wiring import Wiring

from .design import BATCHES, DESIGN_ACCEPTED, Choices, design_from
from .options import DriveOption

PAIR, PAIR_PLANNABLE = 2, 0.792
"""A journalling filesystem's hundredth and a fifth of free space are off."""
WAYS: tuple[Way, ...] = get_args(Way)
PAIRED, BY = "p", "@"
"""What the key of a pair begins with, and what stands before the way of those who are far away."""


def people(bundle: Bundle) -> int:
    """The number of people who work at a seat of the house; cards are taken in by the same hands."""
    return sum(seat.count for seat in bundle.plan.brief.seats if seat.kind not in ("ingest", "remote"))


def paired_portables(
    choices: Choices, needed_bytes: tuple[float, float]
) -> Iterator[tuple[str, Bundle, str]]:
    """(key, plan, words of its copies) of pairs of drives on somebody's desk, in every way to copy them.

    One pair of flash for everything, or one to work on and a pair of disks for what is done with.
    ``needed_bytes`` are what is worked on, and what is kept besides.
    """
    drives = choices.options.drives
    small, large = (_pair_of(drives, "ssd", size) for size in (needed_bytes[0], sum(needed_bytes)))
    disk = _pair_of(drives, "hdd", needed_bytes[1])
    pairs: list[tuple[int, ...]] = []
    if large is not None and holds(drives[large], sum(needed_bytes)):
        pairs.append((large,))
    if small is not None and disk is not None:
        pairs.append((small, disk))
    for keeping_at, keeping in enumerate(choices.keepings):
        for pair in pairs:
            key = PAIRED + ".".join(map(str, (keeping_at, *pair)))
            yield key, _pair_plan(choices, keeping_at, pair), keeping.words


def holds(drive: DriveOption, needed_bytes: float) -> bool:
    """Whether a pair of these has room for so much once a filesystem and free space are off."""
    return drive.model.size_bytes * PAIR_PLANNABLE >= needed_bytes


def _pair_of(drives: tuple[DriveOption, ...], kind: str, needed_bytes: float) -> int | None:
    """The cheapest class of which a pair is enough, by its place; else the largest."""
    some = [at for at, drive in enumerate(drives) if drive.model.kind == kind and drive.lot is None]
    enough = [at for at in some if holds(drives[at], needed_bytes)]
    if enough:
        return min(enough, key=lambda at: drives[at].price)
    return max(some, key=lambda at: drives[at].model.size_bytes, default=None)


def _pair_plan(choices: Choices, keeping_at: int, pair: tuple[int, ...]) -> Bundle:
    """Pairs on the desk of whoever works: no box, and no wire to any."""
    base, keeping = choices.base, choices.keepings[keeping_at]
    models = [choices.options.drives[at].model for at in pair]
    names = ("Pair",) if len(pair) == 1 else ("Pair to work on", "Labelled pair")
    pools = tuple(map(_pair, ("work", "archive"), names, models))
    plan = base.plan.model_copy(
        update={
            "name": "Paired portables",
            "pools": pools,
            "wiring": Wiring(protocol=base.plan.wiring.protocol),
            "safekeeping": keeping.safekeeping,
            "purchases": tuple(p for p in base.plan.purchases if not p.part) + keeping.purchases,
        }
    )
    return base.model_copy(update={"plan": plan})


def _pair(tier: str, name: str, drive: CatalogueDrive) -> Pool:
    return Pool.model_validate(
        {
            "id": tier, "name": name, "tier": tier, "drive_id": drive.id, "drive_count": PAIR,
            "drive_bytes": drive.size_bytes, "drive_kind": drive.kind, "layout": parse_layout("mirror").name,
            "drive_read_bytes_per_s": drive.read_bytes_per_s,
            "drive_write_bytes_per_s": drive.write_bytes_per_s, "batches": BATCHES,
        }
    )  # fmt: skip


def far_seats(bundle: Bundle) -> tuple[RemoteSeat, ...]:
    """Those who work from elsewhere."""
    return tuple(s for s in bundle.plan.brief.seats if isinstance(s, RemoteSeat) and s.count)


def from_elsewhere(choices: Choices, key: str) -> Iterator[tuple[str, Bundle, Way]]:
    """(key, plan, way) of a design with all who are far away working in each of the ways."""
    for at, way in enumerate(WAYS):
        there = f"{key}{BY}{at}"
        yield there, plan_of(choices, there, f"From elsewhere: {way}"), way


def plan_of(choices: Choices, key: str, name: str) -> Bundle:
    """The plan of any design by its key; raises :class:`Refused` for a key that is none."""
    head, _, way_at = key.partition(BY)
    try:
        if head.startswith(PAIRED):
            keeping_at, *pair = map(int, head.removeprefix(PAIRED).split("."))
            made = _pair_plan(choices, keeping_at, tuple(pair))
        else:
            made = choices.bundle(design_from(head))
        if way_at:
            made = _all_far_by(made, WAYS[int(way_at)])
    except (ValueError, IndexError):
        raise Refused("design", key, DESIGN_ACCEPTED) from None
    return made.model_copy(update={"plan": made.plan.model_copy(update={"name": name})})


def _all_far_by(bundle: Bundle, way: Way) -> Bundle:
    seats = tuple(
        seat.model_copy(update={"way": way}) if isinstance(seat, RemoteSeat) else seat
        for seat in bundle.plan.brief.seats
    )
    brief = bundle.plan.brief.model_copy(update={"seats": seats})
    return bundle.model_copy(update={"plan": bundle.plan.model_copy(update={"brief": brief})})


def line_misses(bundle: Bundle, evaluation: Evaluation) -> Iterator[str]:
    """Why somebody far away cannot work so, in words."""
    most = bundle.house_rules.remote_round_trip_ms_max
    for far in evaluation.brief.remote:
        if far.ratio is not None and far.ratio < 1:
            yield f"{far.name}: {far.limited_by} carries ×{far.ratio:.2f} of what {far.way} ask"
        elif far.way != "proxies" and far.round_trip_ms > most:
            yield f"{far.name}: a round trip of {far.round_trip_ms:.0f} ms, {most:.0f} is the most"
