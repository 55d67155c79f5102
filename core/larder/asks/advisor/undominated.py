"""Which pools are worth looking at beside others in a box: those that none is as good as in everything.

More of what is counted here never serves people worse, so that what they get needs not be known for it.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .ground import Ground
from .halves import BoxTable, pool_costs
from .options import Options, Tier
from .pools import PoolTable, core_seconds_of

Mask = NDArray[np.bool_]
COMPARED = 256
LARGEST = 1e300
"""Instead of a figure without end."""


def best_boxes(options: Options, table: BoxTable) -> Mask:
    """Boxes with one pool that no other one of their class, behind the same cache, is as good as.

    Of equals the first stays.
    """
    less = [
        table.five_years, table.capex_cents, table.watts, table.noise, table.upkeep, table.carried,
        table.skill, table.lead_days, table.odds, table.hangs, -table.plannable, -table.survives,
        -table.flash_years, *_serves(options, table.pools[0]),
    ]  # fmt: skip
    return _best(np.stack(less), np.stack((table.box_at, table.cache_at)))


def best_pools(ground: Ground, tier: Tier, pool: PoolTable, within: float = 0.0) -> Mask:
    """Pools that share a box with another one, such that no pool in the same bays is as good as.

    The best of each layout stay and the best of each class of drive, so that one may point at either. What a
    box draws is no sum of what its pools draw by themselves: watts of drives count one by one. ``within`` is
    a part of a figure, from 0: what is better by less than that may count as equal.
    """
    options = ground.choices.options
    less = np.stack([*pool_costs(ground, tier, pool), pool.drives, *_serves(options, pool)])
    if within:
        less = np.stack([_in_steps(row, within) for row in less])
    stays = np.zeros(len(pool), bool)
    for same in (pool.layout_at, pool.drive_at):
        stays |= _best(less, np.stack((pool.place_at, same)))
    return stays


def _in_steps(values: NDArray[Any], within: float) -> NDArray[Any]:
    """Figures of one sign as whole steps, each ``1 + within`` times the one before; 0 is below them all."""
    size = np.minimum(np.abs(values), LARGEST)
    some = size > 0
    found = np.zeros(len(size))
    if some.any():
        steps = np.floor(np.log(size[some] / size[some].min()) / np.log1p(within)) + 1
        found[some] = np.sign(values[some]) * steps
    return found


def _serves(options: Options, pool: PoolTable) -> Iterator[Any]:
    """What decides how people fare with a pool, less of it being better."""
    costs = [core_seconds_of(layout) for layout in options.layouts]
    latency = np.array([drive.model.mechanics.latency_seconds for drive in options.drives])
    yield from (
        -pool.read_bytes_per_s, -pool.write_bytes_per_s, -pool.hop_read_bytes_per_s,
        -pool.stream_bytes_per_s, -pool.small_reads_per_s, -pool.places, pool.written_per_byte,
        np.array([cost.a_byte_read for cost in costs])[pool.layout_at],
        np.array([cost.a_byte_written for cost in costs])[pool.layout_at],
        latency[pool.drive_at],
    )  # fmt: skip


def _best(less: NDArray[Any], same: NDArray[np.int64]) -> Mask:
    """Of columns of which less is better in every row: the best of each group of ``same`` columns."""
    stays = np.ones(less.shape[1], bool)
    if not len(stays):
        return stays
    groups = np.unique(same, axis=1, return_inverse=True)[1].ravel()
    order = np.argsort(groups, kind="stable")
    for at in np.split(order, np.flatnonzero(np.diff(groups[order])) + 1):
        stays[at] = _undominated(less[:, at])
    return stays


def _undominated(less: NDArray[Any]) -> Mask:
    """Columns that none is as good as; of equals the first."""
    count = less.shape[1]
    stays = np.ones(count, bool)
    first = np.arange(count)
    for start in range(0, count, COMPARED):
        block = slice(start, start + COMPARED)
        as_good = np.ones((count, len(first[block])), bool)
        equal = np.ones_like(as_good)
        for row in less:
            as_good &= row[:, None] <= row[block]
            equal &= row[:, None] == row[block]
        stays[block] = ~(as_good & (~equal | (first[:, None] < first[block]))).any(axis=0)
    return stays
