"""The odds that a redundancy group loses data: a Markov chain of dead disks, repaired one at a time.

State i has i dead of N disks; each of the others dies at rate λ, the oldest dead one is replaced and rebuilt
at rate μ. With M tolerated, one death beyond M loses the group. The M-th death is fatal with probability q,
for then the last rebuild meets a sector that cannot be read (D. A. Patterson, G. Gibson and R. H. Katz, *A
Case for Redundant Arrays of Inexpensive Disks*, 1988, whose table the chain without q gives).

Nothing is ever subtracted, so that odds of 1e-20 are as exact as others: times by state elimination (W. K.
Grassmann, M. I. Taksar and D. P. Heyman, 1985), odds within a time by squaring a stochastic matrix, whose
entries are sums of products of what is positive.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from .elementwise import Whole, least, most
from .layout import Family, Layout

HOURS_A_YEAR = 8_766.0
_TERMS = 20
"""Of the series for a step in which on average at most one thing happens: the rest is below 1e-18."""


@dataclass(frozen=True)
class Group:
    """Alike disks of which any ``tolerates`` may be dead; rates an hour, above 0.

    ``fatal_read`` (0 to 1) is the chance that the last rebuild cannot be finished. ``while_repairing`` times
    as likely does a disk die while another is dead: disks of one batch fail together.
    """

    members: int
    tolerates: int
    failures_per_hour: float
    repairs_per_hour: float
    fatal_read: float = 0.0
    while_repairing: float = 1.0

    def deaths(self, dead: int) -> float:
        """At which rate one more dies, an hour."""
        return (self.members - dead) * self.failures_per_hour * (self.while_repairing if dead else 1.0)


@dataclass(frozen=True)
class LossOdds:
    """The chance of a loss within a time, and its two parts, which sum to it."""

    disks: float
    reads: float

    @property
    def total(self) -> float:
        """The probability of either."""
        return self.disks + self.reads


MOST_TOLERATED = 8
"""Mirrors of more copies than this are as good as this."""


def groups_of(layout: Layout, members: Whole) -> tuple[Whole, Whole, Whole]:
    """(groups, members of each, deaths that each survives) of a layout."""
    tolerates = least(layout.guaranteed_failures(members), MOST_TOLERATED)
    groups = layout.groups
    if layout.family is Family.STRIPED_MIRROR:
        groups = most(members // layout.copies, 1)
    return groups, most(members // groups, tolerates + 1), tolerates


def rate_of_afr(afr: float) -> float:
    """Failures an hour of a disk that fails with probability ``afr`` (0 to below 1) in a year."""
    return -math.log1p(-afr) / HOURS_A_YEAR


def rates(group: Group) -> NDArray[np.float64]:
    """Rates an hour between the states: 0 to ``tolerates`` dead, then lost by a disk, lost by a read."""
    alive = group.tolerates + 1
    found = np.zeros((alive + 2, alive + 2))
    for dead in range(alive):
        up = group.deaths(dead)
        if dead:
            found[dead, dead - 1] = group.repairs_per_hour
        if dead == group.tolerates:
            found[dead, alive] = up
        elif dead == group.tolerates - 1:
            found[dead, dead + 1] = up * (1 - group.fatal_read)
            found[dead, alive + 1] = up * group.fatal_read
        else:
            found[dead, dead + 1] = up
    return found


@lru_cache(maxsize=4_096)
def mean_hours_to_loss(group: Group) -> float:
    """Mean time to data loss, hours, from all disks whole."""
    found = rates(group)
    alive = group.tolerates + 1
    waits = np.ones(alive)
    for k in range(alive - 1, 0, -1):
        out = found[k, :k].sum() + found[k, alive:].sum()
        for i in range(k):
            share = found[i, k] / out
            found[i, :k] += share * found[k, :k]
            found[i, alive:] += share * found[k, alive:]
            found[i, i] = 0.0
            waits[i] += share * waits[k]
    return float(waits[0] / found[0, alive:].sum())


@lru_cache(maxsize=4_096)
def loss_odds(group: Group, hours: float) -> LossOdds:
    """The chance that data is lost within ``hours``, from all disks whole."""
    lost = _lost_within(rates(group)[None], hours)
    return LossOdds(float(lost[0, 0]), float(lost[0, 1]))


def loss_odds_of_groups(groups: Sequence[Group], hours: float) -> NDArray[np.float64]:
    """(by disks, by a read) for each of many groups, in their order; each as :func:`loss_odds` alone."""
    found = np.empty((len(groups), 2))
    alike: dict[int, list[int]] = {}
    for at, group in enumerate(groups):
        alike.setdefault(group.tolerates, []).append(at)
    for places in alike.values():
        found[places] = _lost_within(np.stack([rates(groups[at]) for at in places]), hours)
    return found


def _lost_within(found: NDArray[np.float64], hours: float) -> NDArray[np.float64]:
    """(by disks, by a read) for each of many chains of one size, which are a rates' matrix each."""
    fastest = found.sum(axis=2).max(axis=1)
    halvings = np.maximum(np.ceil(np.log2(np.maximum(fastest * hours, 1e-300))), 0).astype(np.int64)
    lost = np.empty((len(found), 2))
    for count in np.unique(halvings):
        at = np.flatnonzero(halvings == count)
        lost[at] = _squared(found[at], fastest[at], hours / 2.0**count, int(count))
    return lost


def _squared(
    found: NDArray[np.float64], fastest: NDArray[np.float64], step: float, halvings: int
) -> NDArray[np.float64]:
    # One step: Poisson many events of the chain that is looked at at the fastest rate.
    once = found / fastest[:, None, None]
    diagonal = np.arange(found.shape[1])
    once[:, diagonal, diagonal] = np.maximum(1 - once.sum(axis=2), 0.0)
    term = np.broadcast_to(np.eye(found.shape[1]), found.shape)
    moved = term.copy()
    for n in range(1, _TERMS):
        term = term @ once * (fastest * step / n)[:, None, None]
        moved = moved + term
    moved /= moved.sum(axis=2, keepdims=True)
    for _ in range(halvings):
        moved = moved @ moved
        moved /= moved.sum(axis=2, keepdims=True)
    lost: NDArray[np.float64] = moved[:, 0, -2:]
    return lost


def of_many(one: LossOdds, groups: int) -> LossOdds:
    """The chance that any of so many alike groups loses data; its parts in the same proportion."""
    if one.total >= 1:
        return one
    total = -math.expm1(groups * math.log1p(-one.total))
    share = total / one.total if one.total else 0.0
    return LossOdds(one.disks * share, one.reads * share)
