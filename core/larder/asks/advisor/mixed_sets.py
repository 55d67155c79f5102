"""Pools of drives of mixed sizes that lie on the shelf: layered, whole-file or joined, each set as a whole.

There are few of them, so that each is worked out by the stage that judges any pool.
"""

from __future__ import annotations

from collections.abc import Iterator

from larder.laws.layout import Family, Layout
from larder.plan.bundle import Bundle
from larder.stages.odds import odds_of_pool
from larder.stages.pool import PoolResult, pool_stage
from larder.stages.pool_setting import settings_of

from .design import Choices, Design, PoolChoice
from .options import DriveOption, Options
from .pools import PoolTable, joined, table_of

TAKING_ANY_SIZE = (Family.LAYERED, Family.FILEWISE, Family.SPAN)


def with_mixed_sets(
    tables: dict[int, PoolTable], choices: Choices, bundle: Bundle, inside_seats: float
) -> dict[int, PoolTable]:
    """The tables, each for its number of streams at once, with the pools of mixed sets after the others."""
    found = list(_choices(choices.options))
    if not found:
        return tables
    return {
        streams: joined(
            [table, *(_row(choices, bundle, choice, at, streams, inside_seats) for choice, *at in found)]
        )
        for streams, table in tables.items()
    }


def _choices(options: Options) -> Iterator[tuple[PoolChoice, int, int]]:
    """(pool, place, layout) of every set that a place holds, and takes by its list, in every layout."""
    for drive_at, option in enumerate(options.drives):
        for place_at, place in enumerate(options.places):
            count = len(option.sizes)
            if not count or count > place.places or not options.takes_member(place, option):
                continue
            for layout_at, layout in enumerate(options.layouts):
                if _is_sound(layout, option):
                    choice = PoolChoice("work", place.box_at, place.slot, drive_at, layout, count, 0, 0)
                    yield choice, place_at, layout_at


def _is_sound(layout: Layout, option: DriveOption) -> bool:
    """Whole files on single flash drives give away what flash is bought for."""
    takes = layout.family in TAKING_ANY_SIZE and layout.takes(len(option.sizes))
    return takes and (option.model.kind == "hdd" or layout.family is Family.LAYERED)


def _row(
    choices: Choices, bundle: Bundle, choice: PoolChoice, at: list[int], streams: int, inside: float
) -> PoolTable:
    made = choices.bundle(Design("one pool", (choice,)))
    (pool,) = made.plan.pools
    result = pool_stage(pool, streams, settings_of(made, inside, {})[pool.id])
    drive = choices.options.drives[choice.drive_at].model
    return _table(choice, at, result, odds_of_pool(pool, result, bundle.house_rules, drive).pool_lost)


def _table(choice: PoolChoice, at: list[int], result: PoolResult, odds: float) -> PoolTable:
    place_at, layout_at = at
    return table_of(
        place_at=place_at, drive_at=choice.drive_at, layout_at=layout_at, members=choice.members,
        hot_spares=0, cold_spares=0, plannable_bytes=result.plannable_bytes,
        survives=result.guaranteed_failures, read_bytes_per_s=result.read.middle_bytes_per_s,
        write_bytes_per_s=result.write.middle_bytes_per_s,
        hop_read_bytes_per_s=result.as_hop.read_bytes_per_s,
        stream_bytes_per_s=result.as_hop.stream_read_bytes_per_s, places=result.as_hop.places,
        small_reads_per_s=result.small_reads_per_s, written_per_byte=result.written_per_byte,
        waits_hours=0.0, alone_hours=(result.rebuild_alone_seconds or 0.0) / 3600, fatal_read=0.0,
        unreadable=result.unreadable_odds or 0.0, odds=odds,
    )  # fmt: skip
