"""What can be trusted: age, health, and whether a device may go into a new pool."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from datetime import date
from typing import Literal

from larder.base.units import DAYS_A_YEAR, TB
from larder.plan.house_rules import HouseRules

from .item import StockItem

Health = Literal["sound", "old", "failing", "unknown"]
Reuse = Literal["yes", "with care", "no"]


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
    over = item.warranty_end is not None and item.warranty_end < as_of
    return "sound", f"{age:.1f} years" + (", out of warranty" if over else "")


def usual_sizes(items: Iterable[StockItem]) -> dict[str, int]:
    """For disks and for flash the size that most drives have, of equals the larger; bytes."""
    sizes: dict[str, Counter[int]] = {}
    for item in items:
        if item.kind == "drive":
            sizes.setdefault(item.medium, Counter())[item.size_bytes] += 1
    return {medium: max(count, key=lambda size: (count[size], size)) for medium, count in sizes.items()}


def reuse_of(item: StockItem, health: Health, usual_bytes: int | None) -> tuple[Reuse, str]:
    """Whether the device may go into a new pool, and why; the gravest reason is named."""
    refusal = _never(item, health)
    if refusal:
        return "no", refusal
    if health == "old":
        return "with care", "worn: as a spare copy, not as a member"
    if item.recording == "unknown" and item.medium == "hdd":
        return "with care", "look up whether it is shingled, and test its surface"
    if item.drive_class in ("desktop", "portable"):
        return "with care", f"{item.drive_class} class: not rated to run day and night beside others"
    if usual_bytes is not None and item.size_bytes != usual_bytes:
        return "with care", _odd_size(item.size_bytes, usual_bytes)
    return "yes", "its surface is tested" if item.tested_on else "after a surface test"


def _never(item: StockItem, health: Health) -> str:
    if item.kind == "card":
        return "a card is no pool member"
    if item.kind == "box":
        return "a box is no pool member; its drives are judged each"
    if health == "failing":
        return "reallocated sectors: replace it"
    if item.recording == "smr":
        return "shingled: its writes stall in a parity group"
    return ""


def _odd_size(size_bytes: int, usual_bytes: int) -> str:
    size, usual = (f"{b / TB:g} TB" for b in (size_bytes, usual_bytes))
    if size_bytes < usual_bytes:
        return f"odd size: among {usual} drives every member would count as {size}"
    return f"odd size: beside {usual} drives {(size_bytes - usual_bytes) / TB:g} TB of it would lie idle"
