"""Boxes with one pool or two in them, as columns: what a box costs, draws, asks of people, and how it serves.

Two boxes with a pool each make a design, or one box with one pool or two; so a row here is a half of a
design, or a whole one.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from larder.base.units import HOURS_A_DAY
from larder.laws.deaths import replaced_price
from larder.laws.delivery import lead_days
from larder.laws.exposure import hangs_by_one_drive
from larder.laws.layout import Family
from larder.laws.power import EFFICIENCY, drive_watts, power_price_per_year, surge_watts
from larder.laws.wear import wear_years
from larder.plan.bundle import Bundle
from larder.plan.caches import Cache
from larder.plan.catalogue import CatalogueBox
from larder.stages.costs import MONTHS, YEARS
from larder.stages.power import (
    ASSUMED_BOARD_WATTS,
    ASSUMED_EXPANSION_WATTS,
    DAYS_A_WEEK,
    hours_at_work_a_week,
)
from larder.stages.upkeep import HOURS_A_BOX, HOURS_A_CACHE, HOURS_A_POOL

from .ground import UNASKED, Fares, Ground, Rates, SharedCost
from .options import BoxOption, Options, Tier
from .pools import PoolTable, behind_of, core_seconds_of, distinct_rows

Floats = NDArray[np.float64]
Index = NDArray[np.int64]
PRACTISED_CARDS = ("controller card", "flash carrier")


@dataclass(frozen=True)
class BoxTable:
    """Boxes with their pools, a column a figure, without what all designs of the shape share.

    ``capex_cents`` is exact. ``five_years`` adds power and dead drives of five years; ``watts`` are drawn at
    work, ``noise`` is energy, ``carried`` the share of what the supplies carry at spin-up. ``lead_days`` from
    a yes to drives in use; flash of pools lasts ``flash_years``. ``hangs`` by one drive for longer, or
    likelier to fail, than the house lets it. ``cache_at`` points into the options' caches, below 0 for none.
    """

    tiers: tuple[Tier, ...]
    pools: tuple[PoolTable, ...]
    box_at: Index
    capex_cents: Index
    five_years: Floats
    watts: Floats
    noise: Floats
    carried: Floats
    upkeep: Floats
    skill: Index
    lead_days: Index
    plannable: Index
    survives: Index
    odds: Floats
    hangs: NDArray[np.bool_]
    flash_years: Floats
    cache_at: Index

    def __len__(self) -> int:
        return len(self.box_at)

    @cached_property
    def taken(self) -> Floats:
        """What each box takes of money, twice of watts, of noise and of hours: a row each."""
        return np.stack([self.capex_cents / 100, self.watts, self.watts, self.noise, self.upkeep])

    def at(self, index: Any) -> BoxTable:
        """Some of them."""
        columns = {
            field.name: getattr(self, field.name)[index]
            for field in fields(self)
            if field.name not in ("tiers", "pools")
        }
        return BoxTable(self.tiers, tuple(pool.at(index) for pool in self.pools), **columns)


def box_table(
    ground: Ground, tiers: tuple[Tier, ...], pools: tuple[PoolTable, ...], cache_at: Index | None = None
) -> BoxTable:
    """The boxes that hold these pools, row by row, with a cache before the first where one is said.

    Both pools of a row are in one box.
    """
    options, bundle = ground.choices.options, ground.judged.bundle
    box_at = pools[0].box_at(options)
    drives = [_Drives.of(options, bundle, t.drive_at, t.drives, t.bought(options)) for t in pools]
    count = len(box_at)
    cache_at = np.full(count, -1) if cache_at is None else cache_at
    if (cache_at >= 0).any():
        drives.append(_of_caches(options, bundle, cache_at))
    columns: dict[str, Floats] = {
        name: np.zeros(count) for name in ("watts", "noise", "carried", "upkeep", "mean", "price")
    }
    practised = np.zeros(count, bool)
    for at in np.unique(box_at):
        rows = np.flatnonzero(box_at == at)
        option = options.boxes[at]
        inside = [drive.at(rows) for drive in drives]
        for name, values in _of_box(bundle, option, inside).items():
            columns[name][rows] = values
        practised[rows] = any(card.holds in PRACTISED_CARDS for card in option.model.cards)
    for table in pools:
        practised |= _practised(options, table)
    capex = np.rint(columns["price"]).astype(np.int64)
    capex += sum(each.price_cents for each in drives)
    power = power_price_per_year(columns["mean"], bundle.house_rules.kwh_price) * YEARS
    return BoxTable(
        tiers=tiers,
        pools=pools,
        box_at=box_at,
        capex_cents=capex,
        five_years=capex / 100 + power + sum(each.replaced for each in drives),
        watts=columns["watts"],
        noise=columns["noise"],
        carried=columns["carried"],
        upkeep=columns["upkeep"] + HOURS_A_POOL * len(pools) + HOURS_A_CACHE * (cache_at >= 0),
        skill=np.where(practised, 2, (cache_at >= 0).astype(np.int64)),
        lead_days=np.maximum.reduce([each.lead_days for each in drives[: len(pools)]]),
        plannable=np.sum([table.plannable_bytes for table in pools], axis=0),
        survives=np.minimum.reduce([table.survives for table in pools]),
        odds=np.maximum.reduce([table.odds for table in pools]),
        hangs=np.logical_or.reduce([_hangs(table, bundle) for table in pools]),
        flash_years=np.minimum.reduce(
            [_flash_years(ground, tier, pool) for tier, pool in zip(tiers, pools, strict=True)]
        ),
        cache_at=cache_at,
    )


def pool_costs(ground: Ground, tier: Tier, pool: PoolTable) -> Iterator[Any]:
    """What a pool brings into whichever box it is in, and what it gives, less of it being better."""
    options, bundle = ground.choices.options, ground.judged.bundle
    drives = _Drives.of(options, bundle, pool.drive_at, pool.drives, pool.bought(options))
    yield from (
        drives.price_cents, drives.price_cents / 100 + drives.replaced, drives.idle, drives.active,
        drives.spinning, drives.one_spinning, drives.noise, drives.lead_days,
        pool.odds, _hangs(pool, bundle), _practised(options, pool),
        -_flash_years(ground, tier, pool), -pool.plannable_bytes, -pool.survives,
    )  # fmt: skip


def _practised(options: Options, pool: PoolTable) -> NDArray[np.bool_]:
    """Which pools ask for a practised hand."""
    cow = np.array([layout.family is Family.COPY_ON_WRITE for layout in options.layouts])
    found: NDArray[np.bool_] = cow[pool.layout_at]
    return found


def _flash_years(ground: Ground, tier: Tier, pool: PoolTable) -> Floats:
    """How long flash lasts under what people write to the tier; without end where no rating is known."""
    drives = ground.choices.options.drives
    rated = np.array([float(d.model.endurance_bytes) if d.model.kind == "ssd" else 0.0 for d in drives])
    endurance = rated[pool.drive_at]
    written = ground.written_per_year(tier) * pool.written_per_byte / pool.members
    years: Floats = wear_years(endurance, written)
    return years


def _hangs(pool: PoolTable, bundle: Bundle) -> NDArray[np.bool_]:
    """Which pools hang by one drive for longer, or likelier to fail, than the house lets them."""
    rules = bundle.house_rules
    hours = pool.alone_hours / (rules.rebuild_share_percent / 100)
    found: NDArray[np.bool_] = hangs_by_one_drive(
        pool.survives,
        hours,
        pool.unreadable,
        rules.single_parity_rebuild_hours_max,
        rules.single_parity_unreadable_percent_max,
    )
    return found


@dataclass(frozen=True)
class _Drives:
    """What the drives of a pool bring into their box, row by row; ``spinning`` more than all the others."""

    count: Index
    price_cents: Index
    replaced: Floats
    idle: Floats
    active: Floats
    spinning: Floats
    one_spinning: Floats
    noise: Floats
    lead_days: Index

    @classmethod
    def of(cls, options: Options, bundle: Bundle, drive_at: Index, count: Index, bought: Index) -> _Drives:
        """So many drives of each class in bays; those that are bought count the ones on the shelf as well."""
        rules = bundle.house_rules
        each: dict[str, list[float]] = {field.name: [] for field in fields(cls)}
        for option in options.drives:
            drive, price = option.model, option.price
            watts = drive_watts(drive.kind, drive.idle_watts, drive.active_watts, drive.spin_up_watts)
            percent = option.percent_dying(rules)
            level = drive.noise_dba - rules.drive_damping_dba
            each["count"].append(1)
            each["price_cents"].append(float(price * 100))
            each["replaced"].append(replaced_price(percent, float(price), drive.warranty_years, MONTHS))
            each["idle"].append(watts.idle)
            each["active"].append(watts.at_work)
            each["spinning"].append(watts.spinning_up)
            each["one_spinning"].append(watts.spinning_up - watts.at_work)
            each["noise"].append(10 ** (level / 10) if level > 0 else 0.0)
            each["lead_days"].append(
                lead_days(rules.order_days, drive.delivery_days, rules.delivery_days_max)
            )
        of = {name: np.array(values)[drive_at] for name, values in each.items()}
        return cls(
            count=count,
            price_cents=np.rint(of["price_cents"]).astype(np.int64) * bought,
            replaced=of["replaced"] * count,
            idle=of["idle"] * count,
            active=of["active"] * count,
            spinning=of["spinning"] * count,
            one_spinning=of["one_spinning"],
            noise=of["noise"] * count,
            lead_days=np.where(bought > 0, of["lead_days"], rules.order_days).astype(np.int64),
        )

    def at(self, index: Index) -> _Drives:
        return _Drives(**{field.name: getattr(self, field.name)[index] for field in fields(self)})


def _of_caches(options: Options, bundle: Bundle, cache_at: Index) -> _Drives:
    """The flash drives of caches; rows without one have none."""
    caches = options.caches
    drive_at = np.array([cache.drive_at for cache in caches])[cache_at]
    count = np.where(cache_at >= 0, np.array([cache.drives for cache in caches])[cache_at], 0)
    return _Drives.of(options, bundle, drive_at, count, count)


def _of_box(bundle: Bundle, option: BoxOption, drives: list[_Drives]) -> dict[str, Any]:
    """What a box of one class comes to with these drives in it; of two, the drives are in the unit."""
    boxes = [option.model] if option.unit is None else [option.model, option.unit]
    found: dict[str, Any] = {
        "price": float((option.price + option.unit_price) * 100), "upkeep": HOURS_A_BOX * len(boxes),
        "watts": 0.0, "noise": 0.0, "carried": 0.0, "mean": 0.0,
    }  # fmt: skip
    work = hours_at_work_a_week(bundle) / (DAYS_A_WEEK * HOURS_A_DAY)
    for box in boxes:
        inside = drives if box is option.holds_drives else []
        board = _board_watts(box)
        idle = board + sum(each.idle for each in inside)
        busy = board + sum(each.active for each in inside)
        one_more = np.maximum.reduce([each.one_spinning for each in inside]) if inside else 0.0
        spinning = sum(each.spinning for each in inside)
        surge = surge_watts(board, busy - board, spinning, one_more, together=box.spins_up_together)
        carries = box.supply_watts * max(box.supplies - 1, 1)
        wall_idle, wall_busy = (_wall(watts, box) for watts in (idle, busy))
        found["watts"] = found["watts"] + wall_busy
        found["mean"] = found["mean"] + wall_busy * work + wall_idle * (1 - work)
        if carries:
            found["carried"] = np.maximum(found["carried"], surge / carries)
        found["noise"] = found["noise"] + (10 ** (box.noise_dba / 10) if box.noise_dba > 0 else 0.0)
        found["noise"] = found["noise"] + sum(each.noise for each in inside)
    return found


def _board_watts(box: CatalogueBox) -> float:
    if box.board_watts:
        return box.board_watts
    is_unit = box.form == "expansion unit"
    return ASSUMED_EXPANSION_WATTS if is_unit else ASSUMED_BOARD_WATTS[box.processor]


def _wall(watts: Any, box: CatalogueBox) -> Any:
    """From the wall, by the supply's efficiency at its load."""
    loads, shares = zip(*EFFICIENCY, strict=True)
    if not box.supply_watts:
        return watts / max(shares)
    return watts / np.interp(watts / box.supplies / box.supply_watts, loads, shares)


def fares_of(ground: Ground, table: BoxTable) -> tuple[Floats, Floats]:
    """What each row comes to for people, the worst of pools, links, bus and processor; its cache's years."""
    options = ground.choices.options
    keys: list[NDArray[Any]] = [table.box_at, table.cache_at]
    for pool in table.pools:
        keys += [pool.place_at, pool.drive_at, pool.layout_at, pool.members, pool.read_bytes_per_s]
    # Spares make no difference to people.
    first, which = distinct_rows(*keys)
    ground.prepare(
        (tier, _rates(options, pool, row, ""), _cache(ground, table, tier, row))
        for row in first.tolist()
        for tier, pool in zip(table.tiers, table.pools, strict=True)
    )
    result = [_fares(ground, table, row) for row in first.tolist()]
    ratio = np.array([fares.ratio for fares in result])[which]
    return ratio, np.array([fares.cache_years for fares in result])[which]


def _fares(ground: Ground, table: BoxTable, row: int) -> Fares:
    options, box_at = ground.choices.options, int(table.box_at[row])
    port = ground.port_of(box_at)
    found, cores, bus, years = UNASKED, 0.0, 0.0, UNASKED
    of_cores: list[SharedCost] = []
    of_bus: list[SharedCost] = []
    for tier, pool in zip(table.tiers, table.pools, strict=True):
        layout = options.layouts[pool.layout_at[row]]
        rates = _rates(options, pool, row, port)
        found = min(found, ground.links_ratio(tier, port))
        fares = ground.fares(tier, rates, _cache(ground, table, tier, row))
        found, years = min(found, fares.ratio), min(years, fares.cache_years)
        behind = behind_of(options, options.places[pool.place_at[row]], 1, ground.inside_seats)
        cost = core_seconds_of(layout)
        of_cores.append(SharedCost(tier, cost.a_byte_read, cost.a_byte_written))
        cores = behind.cores
        if behind.bus_bytes_per_s:
            of_bus.append(SharedCost(tier, 1.0, float(pool.written_per_byte[row])))
            bus = behind.bus_bytes_per_s
    if cores:
        found = min(found, ground.shared_ratio(cores, tuple(of_cores)))
    if bus:
        found = min(found, ground.shared_ratio(bus, tuple(of_bus)))
    return Fares(found, years)


def _cache(ground: Ground, table: BoxTable, tier: Tier, row: int) -> Cache | None:
    """The cache before a row's pool that people work on."""
    at = int(table.cache_at[row])
    if at < 0 or tier != "work":
        return None
    return ground.cache(at)


def _rates(options: Options, pool: PoolTable, row: int, port: str) -> Rates:
    place = options.places[pool.place_at[row]]
    return Rates(
        read_bytes_per_s=float(pool.read_bytes_per_s[row]),
        write_bytes_per_s=float(pool.write_bytes_per_s[row]),
        hop_read_bytes_per_s=float(pool.hop_read_bytes_per_s[row]),
        stream_bytes_per_s=float(pool.stream_bytes_per_s[row]),
        places=int(pool.places[row]),
        small_reads_per_s=float(pool.small_reads_per_s[row]),
        latency_seconds=options.drives[pool.drive_at[row]].model.mechanics.latency_seconds,
        memory_bytes=options.boxes[place.box_at].holds_drives.memory_bytes,
        port=port,
    )
