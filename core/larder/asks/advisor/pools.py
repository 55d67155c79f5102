"""Every pool that the options allow for one tier, an entry a pool: what it holds, survives, delivers, costs.

The figures are those of the laws, reckoned for whole columns; each equals what the stages say of the plan
that the design is. What all pools of a box pass, its bus and its processor, is in the rates.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, fields, replace
from functools import cache, lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from larder.base.units import DAYS_A_YEAR
from larder.laws.capacity import default_filesystem
from larder.laws.drive_set import alike
from larder.laws.elementwise import least
from larder.laws.layout import Family, Layout
from larder.laws.loss_odds import HOURS_A_YEAR, Group, groups_of, loss_odds_of_groups, rate_of_afr
from larder.laws.pool import Drive, Keeping, PoolFigures, hop_figures, pool_figures
from larder.laws.processor import CoreSeconds, core_seconds_per_gb, cores_left
from larder.laws.rebuild import (
    LATENT_TIMES,
    UNREADABLE_PER_BIT,
    allocated_share,
    fatal_read_odds,
    last_read_bytes,
    parity_seconds,
    passing_seconds,
    rebuild_read_bytes,
    rebuilt_bytes,
)
from larder.laws.spares import waits_hours
from larder.plan.catalogue import CatalogueDrive
from larder.plan.enclosure import bus_bytes_per_s
from larder.plan.house_rules import HouseRules

from .options import MOST_MEMBERS, SPARES, Options, Place, is_sound, widths

Floats = NDArray[np.float64]
Index = NDArray[np.int64]
NO_SPARES = ((0, 0),)


@dataclass(frozen=True)
class PoolTable:
    """Pools of one tier, a column a figure; ``*_at`` point into the options.

    ``waits`` are hours without a replacement, ``alone`` hours of a rebuild without people; ``unreadable`` the
    chance that it meets a sector that cannot be read; ``odds`` the chance that the pool is lost in a year.
    """

    place_at: Index
    drive_at: Index
    layout_at: Index
    members: Index
    hot_spares: Index
    cold_spares: Index
    plannable_bytes: Index
    survives: Index
    read_bytes_per_s: Floats
    write_bytes_per_s: Floats
    hop_read_bytes_per_s: Floats
    stream_bytes_per_s: Floats
    places: Index
    small_reads_per_s: Floats
    written_per_byte: Floats
    waits_hours: Floats
    alone_hours: Floats
    fatal_read: Floats
    unreadable: Floats
    odds: Floats

    def __len__(self) -> int:
        return len(self.place_at)

    def at(self, index: Any) -> PoolTable:
        """Some of them."""
        return PoolTable(**{field.name: getattr(self, field.name)[index] for field in fields(self)})

    @property
    def drives(self) -> Index:
        """Drives in bays."""
        return self.members + self.hot_spares

    def box_at(self, options: Options) -> Index:
        """The classes of box that they are in."""
        found: Index = np.array([place.box_at for place in options.places], np.int64)[self.place_at]
        return found

    def from_stock(self, options: Options) -> Index:
        """How many drives, with those on the shelf, cost nothing."""
        in_stock = np.array([drive.in_stock for drive in options.drives], np.int64)[self.drive_at]
        found: Index = np.minimum(self.drives + self.cold_spares, in_stock)
        return found

    def bought(self, options: Options) -> Index:
        """How many drives are bought, with those on the shelf."""
        return self.drives + self.cold_spares - self.from_stock(options)


@dataclass(frozen=True)
class Behind:
    """What a pool's bytes pass in a box: the slowest slot, the bus, the cores; 0 where nothing is known."""

    slot_bytes_per_s: float
    bus_bytes_per_s: float
    cores: float


def behind_of(options: Options, place: Place, drives: int, inside_seats: float) -> Behind:
    """What so many drives in a place pass."""
    option = options.boxes[place.box_at]
    box = option.holds_drives
    through = [box.place_bytes_per_s(place.slot, number) for number in range(1, drives + 1)]
    slots = [each[0] for each in through if each is not None]
    passes_bus = place.slot == "bay" or option.unit is not None
    bus = bus_bytes_per_s(box.shared_bus, box.shared_links) if passes_bus else None
    cores = option.model.cores
    return Behind(min(slots, default=0.0), bus or 0.0, cores_left(cores, inside_seats) if cores else 0.0)


def core_seconds_of(layout: Layout) -> CoreSeconds:
    """What a byte of a pool costs the processor, with nothing encrypted."""
    return core_seconds_per_gb(
        parity=layout.parity > 0, checksums=default_filesystem(layout) == "cow", encrypted_share=0.0
    )


@lru_cache(maxsize=1_000)
def law_drive(drive: CatalogueDrive) -> Drive:
    """A class as the laws want it."""
    per_bit = drive.unreadable_per_bit
    return Drive(
        drive.read_bytes_per_s,
        drive.write_bytes_per_s,
        drive.mechanics,
        UNREADABLE_PER_BIT[drive.kind] if per_bit is None else per_bit,
    )


def pool_tables(
    options: Options, rules: HouseRules, streams: Sequence[int], inside_seats: float
) -> dict[int, PoolTable]:
    """All pools for each number of sequential streams at once; processors leave the seats inside theirs."""
    build = _Builder(options, rules, tuple(dict.fromkeys(streams)))
    blocks = [
        build.block(place_at, drive_at, layout_at, low, high, behind)
        for place_at, place in enumerate(options.places)
        for low, high, behind in _stretches(options, place, inside_seats)
        for drive_at, drive in enumerate(options.drives)
        if not drive.sizes and options.takes_member(place, drive)
        for layout_at, layout in enumerate(options.layouts)
        if is_sound(layout, drive.model)
    ]
    kept = [block for block in blocks if block is not None]
    if not kept:
        return dict.fromkeys(build.streams, build.empty())
    tables = [joined([block[n] for block in kept]) for n in range(len(build.streams))]
    odds = lost_odds(tables[0], options, rules)
    return {each: replace(table, odds=odds) for each, table in zip(build.streams, tables, strict=True)}


def _stretches(options: Options, place: Place, inside: float) -> Iterator[tuple[int, int, Behind]]:
    """Numbers of drives, from and to, that pass the same: slots on a carrier are slower than others."""
    most = min(place.places, MOST_MEMBERS + SPARES[-1][0])
    low, behind = 1, behind_of(options, place, 1, inside)
    for count in range(2, most + 1):
        after = behind_of(options, place, count, inside)
        if after != behind:
            yield low, count - 1, behind
            low, behind = count, after
    yield low, most, behind


class _Builder:
    """What the blocks of tables share: figures by layout, drive and slot are reckoned once.

    They are reckoned for all numbers of streams together, one after the other.
    """

    def __init__(self, options: Options, rules: HouseRules, streams: tuple[int, ...]) -> None:
        self.options, self.rules, self.streams = options, rules, streams
        self.share = rules.rebuild_share_percent / 100
        self.figures = cache(self._figures)
        self.columns = cache(self._columns)

    def empty(self) -> PoolTable:
        columns: dict[str, Any] = {
            field.name: np.empty(0, np.int64 if "Index" in str(field.type) else np.float64)
            for field in fields(PoolTable)
        }
        return PoolTable(**columns)

    def _figures(
        self, drive_at: int, layout_at: int, slot: float
    ) -> tuple[Index, PoolFigures, Keeping] | None:
        """Members up to the widest, once for each number of streams, and their figures."""
        layout, drive = self.options.layouts[layout_at], self.options.drives[drive_at].model
        every = np.array(widths(layout, MOST_MEMBERS), np.int64)
        if not len(every):
            return None
        members = np.tile(every, len(self.streams))
        keeping = Keeping(
            filesystem=default_filesystem(layout),
            slot_bytes_per_s=slot or float("inf"),
            rebuild_share=self.share,
        )
        sizes = np.full(len(members), drive.size_bytes, np.int64)
        figures = pool_figures(
            layout, alike(sizes, members), law_drive(drive), keeping, streams=self._streams(members)
        )
        return members, figures, keeping

    def _streams(self, members: Index) -> Index:
        return np.repeat(np.array(self.streams, np.int64), len(members) // len(self.streams))

    def block(
        self, place_at: int, drive_at: int, layout_at: int, low: int, high: int, behind: Behind
    ) -> list[PoolTable] | None:
        """The pools of one place, class of drive and layout, with all numbers of members and spares.

        A table for each number of streams.
        """
        option, layout = self.options.drives[drive_at], self.options.layouts[layout_at]
        drive = option.model
        most = math.inf if option.most is None else option.most
        # A slot that is quicker than the drive holds nothing back, whichever it is.
        fastest = max(drive.read_bytes_per_s, drive.write_bytes_per_s)
        slot = behind.slot_bytes_per_s if 0 < behind.slot_bytes_per_s < fastest else 0.0
        known = self.figures(drive_at, layout_at, slot)
        if known is None:
            return None
        members = known[0][: len(known[0]) // len(self.streams)]
        place = self.options.places[place_at]
        spares: tuple[tuple[int, int], ...] = SPARES if layout.has_redundancy else NO_SPARES
        if not self.options.takes(place, drive, "spare"):
            spares = tuple(pair for pair in spares if not pair[0])
        if layout.has_redundancy and (drive.delivery_days or 0) > self.rules.delivery_days_max:
            # Nothing waits for the post for longer than the house lets it.
            spares = tuple(pair for pair in spares if any(pair))
        pairs = [
            (n, hot, cold)
            for n, count in enumerate(members.tolist())
            for hot, cold in spares
            if low <= count + hot <= high and count + hot + cold <= most
        ]
        if not pairs:
            return None
        at, hot, cold = np.array(pairs, np.int64).T
        columns = self.columns(drive_at, layout_at, slot, behind.bus_bytes_per_s, behind.cores)
        waits = waits_hours(hot, cold, self.rules.delivery_days_max)
        shared = {
            "place_at": np.full(len(at), place_at),
            "drive_at": np.full(len(at), drive_at),
            "layout_at": np.full(len(at), layout_at),
            "members": members[at],
            "hot_spares": hot,
            "cold_spares": cold,
            "waits_hours": waits,
            "odds": np.zeros(len(at)),
        }
        return [
            PoolTable(**shared, **{name: column[at + n * len(members)] for name, column in columns.items()})
            for n in range(len(self.streams))
        ]

    def _columns(
        self, drive_at: int, layout_at: int, slot: float, bus: float, cores: float
    ) -> dict[str, NDArray[Any]]:
        """What a pool comes to behind a slot, a bus and a processor, for every number of members."""
        layout, drive = self.options.layouts[layout_at], self.options.drives[drive_at].model
        known = self.figures(drive_at, layout_at, slot)
        assert known is not None  # noqa: S101 - asked for blocks only, which have figures
        members, figures, keeping = known
        behind = Behind(slot, bus, cores)
        cost = core_seconds_of(layout)
        most_read: Any = float("inf")
        most_write: Any = float("inf")
        if behind.bus_bytes_per_s:
            most_read = behind.bus_bytes_per_s
            most_write = behind.bus_bytes_per_s / figures.written_per_byte
        if behind.cores:
            most_read = least(most_read, behind.cores / cost.a_byte_read)
            most_write = least(most_write, behind.cores / cost.a_byte_written)
        hop = hop_figures(
            layout,
            members,
            law_drive(drive),
            keeping,
            streams=self._streams(members),
            most_bytes_per_s=most_read,
        )
        columns: dict[str, Any] = {
            "plannable_bytes": figures.capacity.plannable_bytes,
            "survives": figures.capacity.guaranteed_failures,
            "read_bytes_per_s": least(figures.speed.read.middle, most_read),
            "write_bytes_per_s": least(figures.speed.write.middle, most_write),
            "hop_read_bytes_per_s": hop.read_bytes_per_s,
            "stream_bytes_per_s": hop.stream_read_bytes_per_s,
            "places": hop.places,
            "small_reads_per_s": figures.small_reads_per_s,
            "written_per_byte": figures.written_per_byte,
            "alone_hours": self._alone_hours(layout, drive, members, figures, keeping, behind),
            "fatal_read": self._fatal_read(layout, drive, members, keeping),
            "unreadable": self._unreadable(drive, figures.rebuild_read_bytes),
        }
        return {name: np.broadcast_to(column, members.shape) for name, column in columns.items()}

    def _alone_hours(
        self,
        layout: Layout,
        drive: CatalogueDrive,
        members: Index,
        figures: PoolFigures,
        keeping: Keeping,
        behind: Behind,
    ) -> Any:
        """A rebuild by the drive that is written, or by what all survivors share, if that is slower."""
        if figures.rebuild_seconds is None:
            return 0.0
        drives = alike(np.full(len(members), drive.size_bytes, np.int64), members)
        read: Any = rebuild_read_bytes(layout, drives, keeping.fill)
        written = rebuilt_bytes(layout, drives) * allocated_share(layout, keeping.fill)
        seconds = np.broadcast_to(figures.rebuild_seconds * self.share, members.shape)
        if behind.bus_bytes_per_s:
            seconds = np.maximum(seconds, passing_seconds(read, written, behind.bus_bytes_per_s))
        if behind.cores and layout.parity:
            seconds = np.maximum(seconds, parity_seconds(read, behind.cores))
        return seconds / 3600

    def _fatal_read(self, layout: Layout, drive: CatalogueDrive, members: Index, keeping: Keeping) -> Any:
        """The chance that the last rebuild of a group meets a sector that it cannot read."""
        _, of_group, tolerates = groups_of(layout, members)
        read = last_read_bytes(layout, float(drive.size_bytes), of_group, tolerates, keeping.fill)
        odds = self._unreadable(drive, np.broadcast_to(read, members.shape))
        return np.where(tolerates > 0, odds, 0.0)

    def _unreadable(self, drive: CatalogueDrive, read: Any) -> Any:
        """The chance of a sector that cannot be read; 0 where nothing is rebuilt."""
        if read is None:
            return 0.0
        return fatal_read_odds(
            read,
            law_drive(drive).unreadable_per_bit,
            self.rules.latent_per_tb_year * LATENT_TIMES[drive.kind],
            self.rules.scrub_every_days / DAYS_A_YEAR,
        )


def lost_odds(table: PoolTable, options: Options, rules: HouseRules) -> Floats:
    """The chance that each pool is lost in a year: what costs a file only is no loss of the pool."""
    if not len(table):
        return np.empty(0)
    deaths = np.array([drive.percent_dying(rules) for drive in options.drives])[table.drive_at]
    share = rules.rebuild_share_percent / 100
    hours = np.maximum(table.waits_hours + table.alone_hours / share, 1e-3)
    groups = np.empty((len(table), 3), np.int64)
    for layout_at in np.unique(table.layout_at):
        at = np.flatnonzero(table.layout_at == layout_at)
        of_layout = groups_of(options.layouts[layout_at], table.members[at])
        groups[at] = np.stack(np.broadcast_arrays(*of_layout), axis=1)
    columns = (groups[:, 1], groups[:, 2], deaths, hours, table.fatal_read)
    first, which = distinct_rows(*columns)
    chains = zip(*(column[first].tolist() for column in columns), strict=True)
    parts = loss_odds_of_groups([_chain(*row) for row in chains], HOURS_A_YEAR)[which]
    families = [layout.family in (Family.COPY_ON_WRITE, Family.FILEWISE) for layout in options.layouts]
    loses_file = np.array(families)[table.layout_at]
    total = parts.sum(axis=1)
    with np.errstate(divide="ignore"):
        some = -np.expm1(groups[:, 0] * np.log1p(-np.minimum(total, 1.0)))
    together = np.where(total < 1, some, total)
    by_disks = np.divide(parts[:, 0], total, out=np.zeros(len(total)), where=total > 0)
    lost: Floats = np.where(loses_file, together * by_disks, together)
    return lost


def distinct_rows(*columns: NDArray[Any]) -> tuple[Index, Index]:
    """(a row of each kind, which kind every row is of): rows are of a kind that agree in all columns."""
    order = np.lexsort(columns)
    is_new = np.ones(len(order), bool)
    is_new[1:] = np.logical_or.reduce([column[order][1:] != column[order][:-1] for column in columns])
    which = np.empty(len(order), np.int64)
    which[order] = np.cumsum(is_new) - 1
    return order[is_new], which


def _chain(members: float, tolerates: float, deaths: float, hours: float, fatal_read: float) -> Group:
    return Group(
        members=int(members),
        tolerates=int(tolerates),
        failures_per_hour=rate_of_afr(deaths / 100),
        repairs_per_hour=1 / hours,
        fatal_read=fatal_read,
    )


def table_of(**row: float) -> PoolTable:
    """A table of one pool."""
    return PoolTable(**{name: np.array([value]) for name, value in row.items()})


def joined(blocks: list[PoolTable]) -> PoolTable:
    """One after the other."""
    return PoolTable(
        **{
            field.name: np.concatenate([getattr(block, field.name) for block in blocks])
            for field in fields(PoolTable)
        }
    )
