"""How many drives die in a year, and how many of them are paid for.

A class's own figure counts where it is given. Else disks die by what the house has seen of disks, and by
another figure past the hours that it trusts them for; flash dies as often however long it has run.
"""

from __future__ import annotations

from dataclasses import dataclass

from .device import DriveKind
from .elementwise import Real, Whole, least, most

MOST_PERCENT = 99.9
"""Of a class that is said to die within the year: a rate of which all die has no end."""


@dataclass(frozen=True)
class UsualDeaths:
    """What a house has seen die in a year, percent; disks past ``trusted_hours`` of running apart."""

    disks: float
    worn_disks: float
    flash: float
    trusted_hours: int


def deaths_percent(kind: DriveKind, usual: UsualDeaths, own_percent: float | None, hours_run: int) -> float:
    """How many of a hundred such drives die in a year; ``own_percent`` is what their class says of itself."""
    if own_percent is not None:
        return min(own_percent, MOST_PERCENT)
    if kind == "ssd":
        return usual.flash
    return usual.worn_disks if hours_run > usual.trusted_hours else usual.disks


def months_paid_for(warranty_years: Real, months: Whole) -> Whole:
    """In how many of the first ``months`` a dead drive is bought again: those after the warranty.

    A month that the warranty ends in is paid for.
    """
    return most(months - least(warranty_years * 12 // 1, months), 0)


def replaced_price(percent: Real, price: Real, warranty_years: Real, months: Whole) -> Real:
    """What dead drives cost within so many months, for each drive there is; in the price's currency."""
    return percent / 100 / 12 * price * months_paid_for(warranty_years, months)
