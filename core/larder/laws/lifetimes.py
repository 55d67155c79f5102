"""Groups of disks lived through: every disk's lifetime and every repair is drawn, and losses are counted.

It shares nothing with :mod:`~.loss_odds` but the assumptions: lifetimes and repairs are exponential, one disk
is repaired at a time, and the last rebuild may meet a sector that cannot be read.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
ENOUGH_LOSSES = 100
"""Fewer losses than these say too little to be shown."""
_SPREAD = 1.96


@dataclass(frozen=True)
class Lived:
    """Losses by a dead disk and by an unreadable sector, of so many groups that were lived through."""

    groups: int
    by_disks: int
    by_reads: int

    @property
    def losses(self) -> int:
        """The number of losses of either kind."""
        return self.by_disks + self.by_reads

    def interval(self) -> tuple[float, float]:
        """Between which the chance of a loss lies nineteen times in twenty (E. B. Wilson, 1927)."""
        n, p, z = self.groups, self.losses / self.groups, _SPREAD
        middle = (p + z * z / (2 * n)) / (1 + z * z / n)
        half = z / (1 + z * z / n) * math.sqrt(p * (1 - p) / n + z * z / (4 * n * n))
        return max(middle - half, 0.0), min(middle + half, 1.0)


@dataclass(frozen=True)
class House:
    """What is drawn from: disks of a group, how many may be dead, mean hours to die and to be repaired."""

    disks: int
    may_be_dead: int
    mean_life_hours: float
    mean_repair_hours: float
    read_fails: float
    beside_a_dead_one: float


def live_through(house: House, hours: float, groups: int, random: np.random.Generator) -> Lived:
    """Live through ``groups`` alike groups for ``hours``."""
    deaths = random.exponential(house.mean_life_hours, (groups, house.disks))
    going = np.flatnonzero(deaths.min(axis=1) < hours)
    deaths = deaths[going]
    repaired = np.full(len(going), np.inf)
    by_disks = by_reads = 0
    while len(deaths):
        rows = np.arange(len(deaths))
        first = deaths.argmin(axis=1)
        died_at = deaths[rows, first]
        # Whichever comes first; a dead disk's own next death is at infinity until it is repaired.
        is_repair = repaired < died_at
        now = np.minimum(repaired, died_at)
        in_time = now < hours
        dead = np.isinf(deaths).sum(axis=1)
        dies = in_time & ~is_repair
        deaths[rows[dies], first[dies]] = np.inf
        dead_after = dead + dies - (in_time & is_repair)
        lost = dies & (dead_after > house.may_be_dead)
        last = dies & ~lost & (dead_after == house.may_be_dead) & (house.may_be_dead > 0)
        unread = last & (random.random(len(deaths)) < house.read_fails)
        by_disks += int(lost.sum())
        by_reads += int(unread.sum())
        _bring_back(house, deaths, rows[in_time & is_repair], (now, dead_after), random)
        _change_pace(house, deaths, now, (dead == 0) != (dead_after == 0), dead_after, random)
        starts = dies & (dead == 0)
        again = (in_time & is_repair) & (dead_after > 0)
        begins = starts | again
        repaired[begins] = now[begins] + random.exponential(house.mean_repair_hours, int(begins.sum()))
        repaired[(in_time & is_repair) & (dead_after == 0)] = np.inf
        kept = in_time & ~lost & ~unread
        deaths, repaired = deaths[kept], repaired[kept]
    return Lived(groups, by_disks, by_reads)


def _bring_back(
    house: House,
    deaths: Floats,
    rows: NDArray[np.int64],
    then: tuple[Floats, NDArray[np.int64]],
    random: np.random.Generator,
) -> None:
    """One dead disk of each of these groups is new again; ``then`` is (when, how many are dead still)."""
    if len(rows):
        now, dead = then
        which = np.isinf(deaths[rows]).argmax(axis=1)
        deaths[rows, which] = now[rows] + random.exponential(1.0, len(rows)) * _mean(house, dead[rows])


def _mean(house: House, dead: NDArray[np.int64]) -> Floats:
    """Of the lifetimes, hours: shorter while any is dead."""
    return np.where(dead > 0, house.mean_life_hours / house.beside_a_dead_one, house.mean_life_hours)


def _change_pace(
    house: House,
    deaths: Floats,
    now: Floats,
    changes: NDArray[np.bool_],
    dead: NDArray[np.int64],
    random: np.random.Generator,
) -> None:
    """Others die faster while one is dead: what is left of every lifetime is drawn anew at the other pace.

    An exponential lifetime does not remember how old the disk is.
    """
    if house.beside_a_dead_one == 1 or not changes.any():
        return
    rows = np.flatnonzero(changes)
    anew = now[rows, None] + random.exponential(1.0, deaths[rows].shape) * _mean(house, dead[rows])[:, None]
    deaths[rows] = np.where(np.isinf(deaths[rows]), np.inf, anew)
