"""Stage *Stock*: what lies on the shelf, how much of it is there only once, and what can be trusted.

Cartons are not data: material that lies on several drives is counted once. A drive is one failure unit.
"""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .brief import Result
from .errors import Refused
from .fields import DriveBytes, ItemId, Name, Note, Number, SizeBytes, Value, labelled
from .house_rules import HouseRules

Medium = Literal["hdd", "ssd", "card"]
Recording = Literal["cmr", "smr", "unknown"]
Health = Literal["sound", "old", "failing", "unknown"]
Worth = Literal["irreplaceable", "costly", "replaceable"]

PORT_BYTES_PER_S: dict[str, float] = {
    "sata": 200e6,
    "sas": 220e6,
    "nvme": 1_000e6,
    "usb": 120e6,
    "ethernet": 105e6,
    "card": 90e6,
}
"""What one copy job sees of a device behind each kind of port, bytes/s; stated assumptions for moving.
The limiting hop of such a job is the device or its port, not the wire."""

WORTH_WEIGHT: dict[str, float] = {"irreplaceable": 4.0, "costly": 2.0, "replaceable": 1.0}
HEALTH_WEIGHT: dict[str, float] = {"failing": 8.0, "unknown": 2.0, "old": 2.0, "sound": 1.0}
DAYS_A_YEAR = 365.25


class Holding(Value):
    """Material on a device: a project or shoot, and how many bytes of it lie here."""

    material: Annotated[Name, labelled("Material")]
    bytes: Annotated[SizeBytes, labelled("Bytes", "GB", 10)]
    worth: Annotated[Worth, labelled("Worth")] = "costly"


class StockItem(Value):
    """One device of the stock, as it lies on the shelf."""

    id: ItemId
    label: Annotated[Name, labelled("Label")]
    kind: Annotated[Literal["drive", "card"], labelled("Kind")] = "drive"
    medium: Annotated[Medium, labelled("Medium")] = "hdd"
    size_bytes: Annotated[DriveBytes, labelled("Size", "TB", 1)]
    used_bytes: Annotated[SizeBytes, labelled("Used", "TB", 0.1)] = 0
    interface: Annotated[Literal["sata", "sas", "nvme", "usb", "ethernet", "card"], labelled("Interface")] = (
        "sata"
    )
    recording: Annotated[Recording, labelled("Recording")] = "unknown"
    serial: Annotated[Note, labelled("Serial")] = ""
    place: Annotated[Note, labelled("Place")] = ""
    holder: Annotated[Note, labelled("Handed to")] = ""
    is_encrypted: Annotated[bool, labelled("Encrypted")] = False
    bought_on: Annotated[date | None, labelled("Bought")] = None
    warranty_end: Annotated[date | None, labelled("Warranty until")] = None
    hours_run: Annotated[int | None, Field(ge=0, le=500_000), labelled("Hours run", "h", 100)] = None
    reallocated_sectors: Annotated[int | None, Field(ge=0, le=10**9), labelled("Reallocated sectors")] = None
    temperature_c: Annotated[Number | None, Field(ge=-40, le=120), labelled("Temperature", "°C", 1)] = None
    holdings: tuple[Holding, ...] = ()

    @model_validator(mode="after")
    def _fits(self) -> StockItem:
        if self.used_bytes > self.size_bytes:
            raise Refused("used_bytes", self.used_bytes, f"at most the size, {self.size_bytes} bytes")
        return self


class ItemResult(Result):
    """What is made of one device; ages in years, null where nothing tells."""

    id: str
    health: Health
    health_words: str
    age_years: float | None
    sole_bytes: int
    sole_material: tuple[str, ...]
    reuse: Literal["yes", "no", "with care"]
    reuse_because: str


class RescueStep(Result):
    """One device to be copied first; ``score`` is age × health × worth and orders the list."""

    id: str
    label: str
    score: float
    bytes: int
    seconds: float
    advice: str


class StockResult(Result):
    """The stage's answer. ``unique_bytes`` is what must be kept, once each."""

    items: tuple[ItemResult, ...]
    raw_bytes: int
    used_bytes: int
    unique_bytes: int
    sole_bytes: int
    past_age_count: int
    move_bytes: int
    move_seconds: float
    rescue: tuple[RescueStep, ...]


def age_years(item: StockItem, as_of: date) -> float | None:
    """Years since it was bought, or years of running where only its hours are known."""
    if item.bought_on is not None:
        return max((as_of - item.bought_on).days, 0) / DAYS_A_YEAR
    return None if item.hours_run is None else item.hours_run / (DAYS_A_YEAR * 24)


def health_of(item: StockItem, rules: HouseRules, as_of: date) -> tuple[Health, str]:
    """A word for the state of a device, and the reason in words."""
    if item.reallocated_sectors:
        return "failing", f"{item.reallocated_sectors} sectors reallocated"
    if item.hours_run is not None and item.hours_run > rules.drive_hours_max:
        return "old", f"{item.hours_run} hours run, above {rules.drive_hours_max}"
    age = age_years(item, as_of)
    if age is None:
        return "unknown", "neither age nor hours known"
    if age > rules.drive_age_years_max:
        return "old", f"{age:.1f} years, above {rules.drive_age_years_max:g}"
    return "sound", f"{age:.1f} years"


def copies_of(items: tuple[StockItem, ...]) -> dict[str, list[tuple[StockItem, Holding]]]:
    """Every material with the devices it lies on; a device counts once for each material."""
    found: dict[str, dict[str, tuple[StockItem, Holding]]] = defaultdict(dict)
    for item in items:
        for holding in item.holdings:
            before = found[holding.material].get(item.id)
            if before is None or before[1].bytes < holding.bytes:
                found[holding.material][item.id] = (item, holding)
    return {material: list(where.values()) for material, where in found.items()}


def unique_bytes(items: tuple[StockItem, ...]) -> int:
    """Bytes to keep once each: the fullest copy of every material, and all that nobody has named."""
    named = sum(max(h.bytes for _, h in where) for where in copies_of(items).values())
    return named + sum(_unnamed_bytes(item) for item in items)


def _unnamed_bytes(item: StockItem) -> int:
    """Used bytes that no holding accounts for; they may be sole copies, so they count."""
    return max(item.used_bytes - sum(h.bytes for h in item.holdings), 0)


@lru_cache(maxsize=32)
def stock_stage(items: tuple[StockItem, ...], rules: HouseRules, as_of: date) -> StockResult:
    """Totals, health, sole copies, what may be reused, and what to rescue first."""
    copies = copies_of(items)
    sole: dict[str, list[Holding]] = defaultdict(list)
    for where in copies.values():
        if len(where) == 1:
            item, holding = where[0]
            sole[item.id].append(holding)
    results = tuple(_item_result(item, sole[item.id], rules, as_of) for item in items)
    unique = unique_bytes(items)
    jobs = [(i.used_bytes, port_bytes_per_s(i)) for i in items if i.kind == "drive"]
    rescue = [
        _rescue(item, sole[item.id], result, as_of)
        for item, result in zip(items, results, strict=True)
        if sole[item.id]
    ]
    return StockResult(
        items=results,
        raw_bytes=sum(i.size_bytes for i in items),
        used_bytes=sum(i.used_bytes for i in items),
        unique_bytes=unique,
        sole_bytes=sum(h.bytes for holdings in sole.values() for h in holdings),
        past_age_count=sum(r.health == "old" for r in results),
        move_bytes=unique,
        move_seconds=sum(size / rate for size, rate in jobs),
        rescue=tuple(sorted(rescue, key=lambda step: (-step.score, step.label, step.id))),
    )


def port_bytes_per_s(item: StockItem) -> float:
    """What one copy job reads from the device, bytes/s."""
    return PORT_BYTES_PER_S[item.interface]


def _item_result(item: StockItem, sole: list[Holding], rules: HouseRules, as_of: date) -> ItemResult:
    health, words = health_of(item, rules, as_of)
    reuse, because = reuse_of(item, health)
    return ItemResult(
        id=item.id,
        health=health,
        health_words=words,
        age_years=age_years(item, as_of),
        sole_bytes=sum(h.bytes for h in sole),
        sole_material=tuple(h.material for h in sole),
        reuse=reuse,
        reuse_because=because,
    )


def reuse_of(item: StockItem, health: Health) -> tuple[Literal["yes", "no", "with care"], str]:
    """Whether the device may go into a new pool, and why."""
    if item.kind == "card":
        return "no", "a card is no pool member"
    if health == "failing":
        return "no", "reallocated sectors: replace it"
    if item.recording == "smr":
        return "no", "shingled: its writes stall in a parity group"
    if health == "old":
        return "with care", "worn: as a spare copy, not as a member"
    if item.recording == "unknown" and item.medium == "hdd":
        return "with care", "look up whether it is shingled, and test its surface"
    return "yes", "after a surface test"


def _rescue(item: StockItem, sole: list[Holding], result: ItemResult, as_of: date) -> RescueStep:
    """Age × health × worth: the older, the sicker and the dearer comes first."""
    age = age_years(item, as_of)
    worth = max(WORTH_WEIGHT[h.worth] for h in sole)
    score = (1 + (age or 0.0)) * HEALTH_WEIGHT[result.health] * worth
    amount = sum(h.bytes for h in sole)
    advice = (
        "Stop using it. Take an image of it first, from a write-protected port; do not repair in place."
        if result.health == "failing"
        else "Copy it, verify by checksum, then keep it read-only."
    )
    return RescueStep(
        id=item.id,
        label=item.label,
        score=score,
        bytes=amount,
        seconds=amount / port_bytes_per_s(item),
        advice=advice,
    )
