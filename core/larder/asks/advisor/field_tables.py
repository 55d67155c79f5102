"""The tables of all fields: which pools go into which boxes, behind which caches, and with which others.

What does not hang on the network is made once for all of them. Where a catalogue makes more rows than a small
server holds, pools that others are as good as, or nearly, are left out before they are paired.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from decimal import Decimal
from typing import NamedTuple, TypeVar

import numpy as np

from larder.base.units import TB
from larder.plan.bundle import Bundle

from .design import Choices, Shape
from .field import Field, Index, Mask
from .ground import Ground, ground_of
from .halves import BoxTable, box_table
from .mixed_sets import with_mixed_sets
from .options import Options, Tier
from .pools import PoolTable, pool_tables
from .undominated import best_pools

T = TypeVar("T")
MOST_TIMES_NEEDED, LARGEST_FOR_ANYONE_BYTES = 4.0, 24 * TB
"""What is larger than so many times the need serves nobody better, but for the smallest houses."""
KINDS: tuple[tuple[Shape, tuple[str, ...]], ...] = (
    ("one pool", ("hdd",)),
    ("one pool", ("ssd",)),
    ("two boxes", ("ssd", "hdd")),
    ("one box", ("ssd", "hdd")),
)
"""Shapes, and the kinds of drives of their tiers: what is worked on is on flash where tiers are apart."""


def fields_of(choices: Choices, bundle: Bundle) -> Iterator[Field]:
    """Every field that the options allow; what does not hang on the network is made once for all of them."""
    found = [
        (network_at, kinds, ground)
        for shape, kinds in KINDS
        for network_at in range(len(choices.networks))
        if (ground := ground_of(choices, shape, kinds, network_at)) is not None
    ]
    if not found:
        return
    streams = [ground.streams(tier) for _, _, ground in found for tier in ground.tiers]
    inside = found[0][2].inside_seats
    pools = pool_tables(choices.options, bundle.house_rules, streams, inside)
    pools = with_mixed_sets(pools, choices, bundle, inside)
    known: dict[tuple[Shape, tuple[str, ...]], tuple[Ground, _Tables]] = {}
    for network_at, kinds, alone in found:
        key = (alone.shape, kinds)
        if key not in known:
            grounds = [ground for _, others, ground in found if (ground.shape, others) == key]
            known[key] = (alone, _tables(grounds, kinds, pools))
        first, tables = known[key]
        yield Field(alone.beside(first), network_at, kinds, *tables)


class _Tables(NamedTuple):
    """The tables of a shape, and how many designs there are on each network."""

    first: BoxTable
    second: BoxTable | None
    designs: int
    within: float = 0.0


class _Least(NamedTuple):
    """What no design of a shape does without, on whichever network: bytes by tier, and money."""

    needed: dict[Tier, float]
    most_needed: dict[Tier, float]
    capex: Decimal


def _tables(grounds: list[Ground], kinds: tuple[str, ...], by_streams: dict[int, PoolTable]) -> _Tables:
    ground = grounds[0]
    terms = [each.terms(at) for each in grounds for at in range(len(each.choices.keepings))]
    needed = {tier: [term.needed[n] for term in terms] for n, tier in enumerate(ground.tiers)}
    least = _Least(
        {tier: min(each) for tier, each in needed.items()},
        {tier: max(each) for tier, each in needed.items()},
        min(each.capex for each in terms),
    )
    pools = [
        _of_kind(ground, by_streams[ground.streams(tier)], kind, least.most_needed[tier])
        for tier, kind in zip(ground.tiers, kinds, strict=True)
    ]
    if ground.shape == "one pool":
        pool, cache_at, count, within = _with_caches(ground, pools[0], kinds[0], least)
        return _Tables(box_table(ground, ("work",), (pool,), cache_at), None, count, within)
    if ground.shape == "two boxes":
        first, second = (
            box_table(ground, (tier,), (pool,)) for tier, pool in zip(ground.tiers, pools, strict=True)
        )
        return _Tables(first, second, len(first) * len(second))
    pairs, count, within = _in_one_box(ground, pools[0], pools[1], least)
    return _Tables(box_table(ground, ("work", "archive"), pairs), None, count, within)


def _of_kind(ground: Ground, table: PoolTable, kind: str, needed: float) -> PoolTable:
    """Pools of one kind of drive; what is many times too large for its tier is no design for it."""
    kinds = np.array([drive.model.kind == kind for drive in ground.choices.options.drives])
    most = max(needed * MOST_TIMES_NEEDED, LARGEST_FOR_ANYONE_BYTES)
    return table.at(np.flatnonzero(kinds[table.drive_at] & (table.plannable_bytes <= most)))


def _viable(ground: Ground, pool: PoolTable, tier: Tier, least: _Least) -> Mask:
    """Pools that keep to what no cache and no second pool can mend: space, dead drives, the budget."""
    options, bundle = ground.choices.options, ground.judged.bundle
    kept: Mask = pool.plannable_bytes >= least.needed[tier]
    kept &= pool.survives >= bundle.house_rules.failures_survived_min
    if bundle.plan.brief.budget:
        left = float(bundle.plan.brief.budget - least.capex)
        boxes = np.array([float(options.boxes[place.box_at].price) for place in options.places])
        drives = np.array([float(drive.price) for drive in options.drives])[pool.drive_at]
        kept &= boxes[pool.place_at] + drives * pool.bought(options) <= left
    return kept


MOST_ROWS = 800_000
"""Pools with a cache, and pairs of pools in one box, that a table has."""
STEPS = (0.0, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 3.0, 10.0)
"""By how much pools may differ that count as equal where there are more; the first that is enough."""


def _with_caches(
    ground: Ground, pool: PoolTable, kind: str, least: _Least
) -> tuple[PoolTable, Index, int, float]:
    """Every pool bare; the best viable pools of disks also with each cache that their box takes.

    And how many there are in all, and what counted as equal.
    """
    options = ground.choices.options
    bare = np.full(len(pool), -1)
    if kind != "hdd" or not options.caches:
        return pool, bare, len(pool), 0.0
    takes = np.array(
        [
            [
                [options.takes_cache(box_at, layout, cache) for layout in options.layouts]
                for box_at in range(len(options.boxes))
            ]
            for cache in options.caches
        ]
    )[:, pool.box_at(options), pool.layout_at]
    kept, within = _narrowed(
        np.flatnonzero(_viable(ground, pool, "work", least)),
        lambda rows: int(takes[:, rows].sum()),
        lambda rows, within: rows[best_pools(ground, "work", pool.at(rows), within)],
    )
    which, rows = np.nonzero(takes[:, kept])
    count = len(pool) + int(takes.sum())
    return pool.at(np.append(np.arange(len(pool)), kept[rows])), np.append(bare, which), count, within


def _narrowed(rows: T, count: Callable[[T], int], narrower: Callable[[T, float], T]) -> tuple[T, float]:
    """Rows of which there are not too many, and by how much those differ that counted as equal for it."""
    within = 0.0
    for step in STEPS:
        if count(rows) <= MOST_ROWS:
            break
        rows, within = narrower(rows, step), step
    return rows, within


def _in_one_box(
    ground: Ground, work: PoolTable, archive: PoolTable, least: _Least
) -> tuple[tuple[PoolTable, PoolTable], int, float]:
    """Every pair of the best viable pools that goes into one box, as rows.

    And how many pairs there are in all, and what counted as equal.
    """
    options, tables = ground.choices.options, (work, archive)
    box_of = [table.box_at(options) for table in tables]

    def pairs(rows: list[Index]) -> int:
        ours, theirs = (
            np.bincount(of[at], minlength=len(options.boxes)) for of, at in zip(box_of, rows, strict=True)
        )
        return int((ours * theirs).sum())

    def narrower(rows: list[Index], within: float) -> list[Index]:
        return [
            at[best_pools(ground, tier, table.at(at), within)]
            for tier, table, at in zip(ground.tiers, tables, rows, strict=True)
        ]

    viable = [
        np.flatnonzero(_viable(ground, table, tier, least))
        for tier, table in zip(ground.tiers, tables, strict=True)
    ]
    rows, within = _narrowed(viable, pairs, narrower)
    i, j = _together(options, tables, box_of, rows)
    return (work.at(i), archive.at(j)), pairs([np.arange(len(table)) for table in tables]), within


def _together(
    options: Options, tables: tuple[PoolTable, PoolTable], box_of: list[Index], rows: list[Index]
) -> tuple[Index, Index]:
    """All pairs of these rows that are in the same box and find a bay each."""
    work, archive = tables
    found = [(np.empty(0, np.int64), np.empty(0, np.int64))]
    for box_at, box in enumerate(options.boxes):
        here = [at[of[at] == box_at] for of, at in zip(box_of, rows, strict=True)]
        i, j = (each.ravel() for each in np.meshgrid(*here, indexing="ij"))
        apart = work.place_at[i] != archive.place_at[j]
        fits = apart | (work.drives[i] + archive.drives[j] <= box.holds_drives.bays)
        found.append((i[fits], j[fits]))
    return np.concatenate([pair[0] for pair in found]), np.concatenate([pair[1] for pair in found])
