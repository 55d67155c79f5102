"""Stage *Stock*: what lies on the shelf, how much of it is there only once, and what to rescue first.

Cartons are not data: material that lies on several drives is counted once. See :mod:`larder.stock.copies`
for what tells copies apart, :mod:`larder.stock.drive_health` for what can be trusted, and
:mod:`larder.stock.moving` for moving it.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from datetime import date

from larder.base.memo import remembered
from larder.base.results import Result
from larder.plan.house_rules import HouseRules
from larder.plan.vocabulary import CopyRole, Worth

from .copies import WORTHS, Copy, Evidence, Group, Match, groups_of, unnamed_bytes
from .drive_health import Health, Reuse, age_years, health_of, reuse_of, usual_sizes
from .item import Holding, StockItem
from .moving import MoveResult, move_of, ports_of

__all__ = ["Holding", "StockItem", "StockResult", "stock_stage"]
KEPT_BYTES = 60_000_000
WORTH_WEIGHT: dict[str, float] = {"irreplaceable": 4.0, "costly": 2.0, "replaceable": 1.0}
SoleBytes = dict[tuple[str, str], int]
HEALTH_WEIGHT: dict[str, float] = {"failing": 8.0, "unknown": 2.0, "old": 2.0, "sound": 1.0}


class ItemResult(Result):
    """What is made of one device; ages in years, null where nothing tells."""

    id: str
    health: Health
    health_words: str
    age_years: float | None
    sole_bytes: int
    sole_material: tuple[str, ...]
    reuse: Reuse
    reuse_because: str


class CopyResult(Result):
    """Where a copy lies; ``sole_bytes`` of it lie nowhere else. Place and holder stand with the device."""

    device_id: str
    material: str
    bytes: int
    role: CopyRole
    read_back_on: date | None
    is_stale: bool
    sole_bytes: int


class MaterialResult(Result):
    """One project or shoot: its unique bytes, and every copy of it, the fullest first."""

    name: str
    unique_bytes: int
    sole_bytes: int
    worth: Worth
    evidence: Evidence
    places: int
    copies: tuple[CopyResult, ...]


class RescueStep(Result):
    """One device to be copied first; ``score`` is age × health × worth and orders the list."""

    id: str
    label: str
    score: float
    bytes: int
    advice: str


class ReuseGroup(Result):
    """Drives that share a verdict about a new pool and the reason for it."""

    reuse: Reuse
    because: str
    count: int
    raw_bytes: int


class StockResult(Result):
    """The stage's answer. ``unique_bytes`` is what must be kept and moved, once each."""

    items: tuple[ItemResult, ...]
    materials: tuple[MaterialResult, ...]
    raw_bytes: int
    used_bytes: int
    unique_bytes: int
    sole_bytes: int
    past_age_count: int
    move: MoveResult
    rescue: tuple[RescueStep, ...]
    reuse: tuple[ReuseGroup, ...]


@remembered(KEPT_BYTES, lambda result, *_: 20_000 + 6_000 * len(result.items))
def stock_stage(
    items: tuple[StockItem, ...],
    rules: HouseRules,
    as_of: date,
    matches: tuple[Match, ...] = (),
    ports: str = "",
) -> StockResult:
    """Totals, health, copies, what may be reused, what to rescue first, and the move over ``ports``."""
    groups = groups_of(items, matches)
    sole_of_copies = _sole_of_copies(groups, rules)
    sole = _sole_on_devices(groups, sole_of_copies)
    usual = usual_sizes(items)
    results = tuple(_item_result(item, sole[item.id], usual.get(item.medium), rules, as_of) for item in items)
    reads = _reads(items, groups)
    rescue = [
        _rescue(item, sole[item.id], result, as_of)
        for item, result in zip(items, results, strict=True)
        if sole[item.id]
    ]
    materials = tuple(_material(group, sole_of_copies, rules, as_of) for group in groups)
    return StockResult(
        items=results,
        materials=materials,
        raw_bytes=sum(i.size_bytes for i in items),
        used_bytes=sum(i.used_bytes for i in items),
        unique_bytes=sum(reads.values()),
        sole_bytes=sum(m.sole_bytes for m in materials),
        past_age_count=sum(r.health == "old" for r in results),
        move=move_of(items, reads, ports or ports_of(items)),
        rescue=tuple(sorted(rescue, key=lambda step: (-step.score, step.label, step.id))),
        reuse=_reuse_groups(items, results),
    )


def _reads(items: tuple[StockItem, ...], groups: list[Group]) -> dict[str, int]:
    """Bytes to read from each device so that everything is read once: the fullest copies, and the unnamed."""
    reads: Counter[str] = Counter({item.id: unnamed_bytes(item) for item in items})
    for group in groups:
        for copy, amount in group.parts():
            reads[copy.item.id] += amount
    return dict(reads)


def _sole_of_copies(groups: list[Group], rules: HouseRules) -> SoleBytes:
    """Of each copy, by what a match names it by, the bytes that no other failure unit has."""
    percent = rules.copy_size_tolerance_percent
    return {copy.node: group.sole_bytes(copy, percent) for group in groups for copy in group.copies}


def _sole_on_devices(groups: list[Group], sole: SoleBytes) -> dict[str, list[tuple[Copy, int]]]:
    """By device: the copies that hold something which no other failure unit has, and how many bytes."""
    found: dict[str, list[tuple[Copy, int]]] = defaultdict(list)
    for group in groups:
        for copy in group.copies:
            if amount := sole[copy.node]:
                found[copy.item.id].append((copy, amount))
    return found


def _material(group: Group, sole: SoleBytes, rules: HouseRules, as_of: date) -> MaterialResult:
    copies = tuple(
        CopyResult(
            device_id=copy.item.id,
            material=copy.material,
            bytes=copy.bytes,
            role=copy.role,
            read_back_on=copy.read_back_on,
            is_stale=copy.read_back_on is None or (as_of - copy.read_back_on).days > rules.read_back_days_max,
            sole_bytes=sole[copy.node],
        )
        for copy in group.copies
    )
    by_unit: dict[str, int] = {}
    for copy, result in zip(group.copies, copies, strict=True):
        by_unit[copy.item.unit] = max(by_unit.get(copy.item.unit, 0), result.sole_bytes)
    return MaterialResult(
        name=group.name,
        unique_bytes=sum(amount for _, amount in group.parts()),
        sole_bytes=sum(by_unit.values()),
        worth=max((c.worth for c in group.copies), key=WORTHS.index),
        evidence=group.evidence,
        places=len(by_unit),
        copies=copies,
    )


def _item_result(
    item: StockItem, sole: list[tuple[Copy, int]], usual_bytes: int | None, rules: HouseRules, as_of: date
) -> ItemResult:
    health, words = health_of(item, rules, as_of)
    reuse, because = reuse_of(item, health, usual_bytes)
    return ItemResult(
        id=item.id,
        health=health,
        health_words=words,
        age_years=age_years(item, as_of),
        sole_bytes=sum(amount for _, amount in sole),
        sole_material=tuple(copy.material for copy, _ in sole),
        reuse=reuse,
        reuse_because=because,
    )


def _rescue(item: StockItem, sole: list[tuple[Copy, int]], result: ItemResult, as_of: date) -> RescueStep:
    """Age × health × worth: the older, the sicker and the dearer comes first."""
    worth = max(WORTH_WEIGHT[copy.worth] for copy, _ in sole)
    score = (1 + (age_years(item, as_of) or 0.0)) * HEALTH_WEIGHT[result.health] * worth
    advice = (
        "Stop using it. Take an image of it first, from a write-protected port; do not repair in place."
        if result.health == "failing"
        else "Copy it, verify by checksum, then keep it read-only."
    )
    return RescueStep(
        id=item.id, label=item.label, score=score, bytes=sum(amount for _, amount in sole), advice=advice
    )


def _reuse_groups(items: tuple[StockItem, ...], results: tuple[ItemResult, ...]) -> tuple[ReuseGroup, ...]:
    """Drives by verdict and reason, what may be used first."""
    found: dict[tuple[Reuse, str], list[int]] = defaultdict(list)
    for item, result in zip(items, results, strict=True):
        if item.kind == "drive":
            found[result.reuse, result.reuse_because].append(item.size_bytes)
    groups = [
        ReuseGroup(reuse=reuse, because=because, count=len(sizes), raw_bytes=sum(sizes))
        for (reuse, because), sizes in found.items()
    ]
    order = ("yes", "with care", "no")
    return tuple(sorted(groups, key=lambda g: (order.index(g.reuse), -g.raw_bytes, g.because)))
