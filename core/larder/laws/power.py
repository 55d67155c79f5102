"""Power, heat, noise, air and weight: what a room and its circuit have to carry.

Sources: heat 3.412 BTU/h a watt (definition); sound levels add as energy, L = 10·log10 Σ 10^(Lᵢ/10); the heat
that air carries off, ρ·c = 1.2 kg/m³ · 1005 J/(kg·K); spin-up surges from data sheets.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from itertools import pairwise
from typing import NamedTuple

from larder.base.units import DAYS_A_YEAR, HOURS_A_DAY

from .device import DriveKind
from .elementwise import Real

BTU_PER_H_A_WATT = 3.412
AIR_WATTS_PER_DEGREE_AND_M3_PER_H = 1.2 * 1005 / 3600
"""What a cubic metre of air an hour carries off for each degree it is warmer when it leaves."""
EFFICIENCY: tuple[tuple[float, float], ...] = (
    (0.0, 0.50), (0.05, 0.70), (0.10, 0.80), (0.20, 0.87), (0.50, 0.90), (1.0, 0.87),
)  # fmt: skip
"""(load of its rating, efficiency) of a common good supply; straight lines between. A stated assumption."""
BATTERY_EFFICIENCY = 0.88
"""From the battery through the inverter to the outlets. A stated assumption."""

ASSUMED_DRIVE_WATTS: dict[DriveKind, tuple[float, float, float]] = {
    "hdd": (5.0, 7.5, 24.0),
    "ssd": (1.0, 7.0, 7.0),
}
"""(idle, at work, spinning up) of a drive whose class does not say. A stated assumption."""


class DriveWatts(NamedTuple):
    """What a drive draws, W; ``spinning_up`` is never less than at work."""

    idle: float
    at_work: float
    spinning_up: float


def drive_watts(kind: DriveKind, idle: float, at_work: float, spinning_up: float) -> DriveWatts:
    """By its class where that says what it draws at work, else by its kind; 0 W is not said."""
    if at_work <= 0:
        idle, at_work, spinning_up = ASSUMED_DRIVE_WATTS[kind]
    return DriveWatts(idle, at_work, max(spinning_up, at_work))


def surge_watts(board: Real, at_work: Real, spinning_up: Real, one_more: Real, *, together: bool) -> Real:
    """What a box draws at most when it starts: all drives at once, or one by one beside the others at work.

    ``at_work`` and ``spinning_up`` are those of all drives, ``one_more`` what one that starts draws more.
    """
    return board + (spinning_up if together else at_work + one_more)


def kwh_per_year(mean_watts: Real) -> Real:
    """The energy of a year."""
    return mean_watts * HOURS_A_DAY * DAYS_A_YEAR / 1000


def power_price_per_year(mean_watts: Real, kwh_price: float) -> Real:
    """What a year of it costs, in the price's currency."""
    return kwh_per_year(mean_watts) * kwh_price


def efficiency(load: float) -> float:
    """The share of what it takes that a supply gives, at ``load`` (1 is its rating); beyond as there."""
    for (low, at_low), (high, at_high) in pairwise(EFFICIENCY):
        if load <= high:
            return at_low + (at_high - at_low) * (max(load, low) - low) / (high - low)
    return EFFICIENCY[-1][1]


def wall_watts(load_watts: float, supply_watts: float, supplies: int = 1) -> float:
    """What is drawn from the wall for ``load_watts``, which the supplies share evenly.

    Of a supply that is not known, 0 W, the best is taken.
    """
    if load_watts <= 0:
        return 0.0
    best = max(share for _, share in EFFICIENCY)
    return load_watts / (efficiency(load_watts / supplies / supply_watts) if supply_watts else best)


def heat_btu_per_h(watts: float) -> float:
    """The heat of ``watts``, all of which become heat."""
    return watts * BTU_PER_H_A_WATT


def noise_sum_dba(levels_dba: Iterable[float]) -> float:
    """Sound levels together, dB(A); a level of 0 is not said and adds nothing."""
    energy = sum(10 ** (level / 10) for level in levels_dba if level > 0)
    return 10 * math.log10(energy) if energy > 0 else 0.0


def degrees_above(watts: float, wall_watts_per_degree: float, air_m3_per_h: float) -> float:
    """How much warmer than outside of it a closed room becomes, °C: what its walls and its air carry off."""
    carried = wall_watts_per_degree + air_m3_per_h * AIR_WATTS_PER_DEGREE_AND_M3_PER_H
    return watts / carried if carried > 0 else math.inf


def battery_minutes(energy_wh: float, watts: float) -> float:
    """How long a battery supply holds ``watts``; infinite where nothing hangs on it."""
    return energy_wh * BATTERY_EFFICIENCY / watts * 60 if watts > 0 else math.inf
