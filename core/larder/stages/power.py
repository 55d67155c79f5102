"""Power and room: what boxes and switches draw, how warm and loud it gets, what a supply and a battery carry.

Energy goes by the mean: at work in the hours of the working days, idle in all others. What no class and no
box says is assumed by kind and told as such. Heat, noise and air are those of the house; boxes at places
elsewhere stand apart.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from larder.base.results import Result
from larder.base.units import DAYS_A_YEAR, HOURS_A_DAY
from larder.laws.device import DriveKind
from larder.laws.power import (
    battery_minutes,
    degrees_above,
    drive_watts,
    efficiency,
    heat_btu_per_h,
    kwh_per_year,
    noise_sum_dba,
    power_price_per_year,
    surge_watts,
    wall_watts,
)
from larder.plan.bays import Box
from larder.plan.bundle import Bundle, Plan
from larder.plan.catalogue import CatalogueDrive
from larder.plan.day_parts import WHOLE_DAY

from .pool_setting import SETTINGS, PoolSetting
from .stage import Part

ASSUMED_BOARD_WATTS = {"": 20.0, "small": 12.0, "middle": 35.0, "large": 90.0}
"""Board, memory and fans by class of processor. A stated assumption."""
ASSUMED_EXPANSION_WATTS, ASSUMED_SWITCH_WATTS = 12.0, 20.0
SPIN_UP_SECONDS = 12.0
"""From standing still to the first byte, as data sheets have it."""
RATED_STARTS = 50_000
"""Starts that a disk is rated for."""
DAYS_A_WEEK = 7
USUAL_SPIN_DOWN_MINUTES = 30.0


class BoxPower(Result):
    """One box, W at its own supply unless said otherwise; zero is not known.

    ``carried_share`` is the surge over what its supplies carry with one of them dead; ``efficiency`` at work.
    """

    id: str
    name: str
    drives: int
    idle_watts: float
    busy_watts: float
    surge_watts: float
    supply_watts: float
    carried_share: float
    efficiency: float
    wall_idle_watts: float
    wall_busy_watts: float
    noise_dba: float
    mass_kg: float
    is_assumed: bool


class SpinDown(Result):
    """What disks of the archive that stand still save a year, and what the first one who comes pays."""

    disks: int
    after_minutes: float
    is_planned: bool
    stands_hours_per_day: float
    saved_watts: float
    saved_kwh_per_year: float
    saved_price_per_year: float
    stall_seconds: float
    starts_per_year: float
    worn_years: float


class PowerResult(Result):
    """All of it; W from the wall. Null is not known, or nothing that could be held against it.

    ``noise_dba`` is that of all that stands in the house together, beside it; ``closet_degrees`` how much
    warmer a closet becomes than what is around it.
    """

    boxes: tuple[BoxPower, ...]
    switches_watts: float
    idle_watts: float
    busy_watts: float
    surge_watts: float
    mean_watts: float
    kwh_per_year: float
    price_per_year: float
    circuit_watts: float | None
    circuit_share: float | None
    heat_btu_per_h: float
    noise_dba: float
    noise_dba_max: float | None
    closet_degrees: float | None
    battery_watts: float
    battery_minutes: float | None
    spin_down: SpinDown | None
    assumed: tuple[str, ...]


@dataclass
class _Drives:
    """The drives in one box, W by what they do, their noise and mass."""

    count: int = 0
    idle: float = 0.0
    active: float = 0.0
    spin_up: float = 0.0
    one_spin_up: float = 0.0
    noises: list[float] = field(default_factory=list)
    mass_kg: float = 0.0
    is_assumed: bool = False

    def add(self, count: int, kind: DriveKind, drive: CatalogueDrive | None) -> None:
        said = (drive.idle_watts, drive.active_watts, drive.spin_up_watts) if drive else (0.0, 0.0, 0.0)
        watts = drive_watts(kind, *said)
        self.count += count
        self.idle += count * watts.idle
        self.active += count * watts.at_work
        self.spin_up += count * watts.spinning_up
        self.one_spin_up = max(self.one_spin_up, watts.spinning_up - watts.at_work)
        self.is_assumed |= said[1] <= 0
        if drive is not None:
            self.noises += [drive.noise_dba] * count
            self.mass_kg += count * drive.mass_g / 1000


def _drives_by_box(bundle: Bundle, settings: dict[str, PoolSetting]) -> dict[str, _Drives]:
    """By the id of the box, empty for drives that sit in none."""
    classes = {drive.id: drive for drive in bundle.catalogue.drives}
    found: dict[str, _Drives] = {box.id: _Drives() for box in bundle.plan.boxes}
    for pool in bundle.plan.pools:
        left = len(pool.drives_bytes)
        for box_id, count in settings[pool.id].homes:
            found[box_id].add(count, pool.drive_kind, classes.get(pool.drive_id))
            left -= count
        if left > 0:
            found.setdefault("", _Drives()).add(left, pool.drive_kind, classes.get(pool.drive_id))
    for cache in bundle.plan.caches:
        placed = [bay.box_id for o in bundle.plan.occupants() if o.id == cache.id for bay in o.placed]
        homes = placed or [bundle.plan.boxes[0].id] * cache.drive_count if bundle.plan.boxes else []
        for box_id in homes or [""] * cache.drive_count:
            found.setdefault(box_id, _Drives()).add(1, "ssd", classes.get(cache.drive_id))
    return found


def _box_power(box: Box | None, drives: _Drives, damping_dba: float) -> BoxPower:
    board, is_assumed = 0.0, drives.is_assumed
    if box is not None:
        board = box.board_watts
        if not board:
            is_assumed = True
            board = (
                ASSUMED_EXPANSION_WATTS
                if box.form == "expansion unit"
                else ASSUMED_BOARD_WATTS[box.processor]
            )
    idle, busy = board + drives.idle, board + drives.active
    together = box is None or box.spins_up_together
    surge = surge_watts(board, drives.active, drives.spin_up, drives.one_spin_up, together=together)
    supply = float(box.supply_watts) if box else 0.0
    supplies = box.supplies if box else 1
    carries = supply * max(supplies - 1, 1)
    noises = [level - damping_dba for level in drives.noises if level > damping_dba]
    return BoxPower(
        id=box.id if box else "",
        name=box.name if box else "Drives in no box",
        drives=drives.count,
        idle_watts=idle,
        busy_watts=busy,
        surge_watts=surge,
        supply_watts=supply,
        carried_share=surge / carries if carries else 0.0,
        efficiency=efficiency(busy / supplies / supply) if supply else 0.0,
        wall_idle_watts=wall_watts(idle, supply, supplies),
        wall_busy_watts=wall_watts(busy, supply, supplies),
        noise_dba=noise_sum_dba([box.noise_dba if box else 0.0, *noises]),
        mass_kg=box.mass_kg + drives.mass_kg if box and box.mass_kg else 0.0,
        is_assumed=is_assumed,
    )


def hours_at_work_a_week(bundle: Bundle) -> float:
    """Hours of a week in which the storage is at work: all parts of the day, on working days."""
    parts = bundle.plan.brief.day_parts or (WHOLE_DAY,)
    hours = min(sum(part.hours for part in parts), HOURS_A_DAY)
    return hours * bundle.house_rules.working_days_per_week


def power_of(bundle: Bundle, settings: dict[str, PoolSetting]) -> PowerResult:
    """What a plan draws, and what its room has to bear."""
    plan, rules, room = bundle.plan, bundle.house_rules, bundle.plan.brief.limits.room
    drives = _drives_by_box(bundle, settings)
    boxes = [_box_power(box, drives[box.id], rules.drive_damping_dba) for box in plan.boxes]
    if "" in drives:
        boxes.append(_box_power(None, drives[""], rules.drive_damping_dba))
    switches = sum(switch.watts or ASSUMED_SWITCH_WATTS for switch in plan.wiring.switches)
    elsewhere = {box.id for box in plan.boxes if plan.safekeeping.building(box.place_id)}
    here = [box for box in boxes if box.id not in elsewhere]
    idle = switches + sum(box.wall_idle_watts for box in boxes)
    busy = switches + sum(box.wall_busy_watts for box in boxes)
    busy_here = switches + sum(box.wall_busy_watts for box in here)
    at_work = hours_at_work_a_week(bundle) / (DAYS_A_WEEK * HOURS_A_DAY)
    spin_down = _spin_down(bundle)
    mean = busy * at_work + idle * (1 - at_work)
    if spin_down is not None and spin_down.is_planned:
        mean -= spin_down.saved_watts
    noises = [box.noise_dba for box in here] + [switch.noise_dba for switch in plan.wiring.switches]
    carried = sum(battery.watts_max for battery in plan.mains.batteries)
    return PowerResult(
        boxes=tuple(boxes),
        switches_watts=switches,
        idle_watts=idle,
        busy_watts=busy,
        surge_watts=switches + sum(box.surge_watts / (box.efficiency or 1.0) for box in here),
        mean_watts=mean,
        kwh_per_year=kwh_per_year(mean),
        price_per_year=power_price_per_year(mean, rules.kwh_price),
        circuit_watts=room.circuit_watts,
        circuit_share=busy_here / room.circuit_watts if room.circuit_watts else None,
        heat_btu_per_h=heat_btu_per_h(busy_here),
        noise_dba=noise_sum_dba(noises),
        noise_dba_max=room.noise_dba_max,
        closet_degrees=degrees_above(busy_here, rules.closet_watts_per_degree, room.air_m3_per_h)
        if room.air == "closet"
        else None,
        battery_watts=carried,
        battery_minutes=_battery_minutes(plan, carried, busy_here),
        spin_down=spin_down,
        assumed=tuple(_assumed(plan, boxes)),
    )


def _battery_minutes(plan: Plan, carried: float, watts: float) -> float | None:
    """How long the battery supplies hold; 0 where they cannot carry it at all, null where there are none."""
    if not plan.mains.batteries or watts <= 0:
        return None
    energy = sum(battery.energy_wh for battery in plan.mains.batteries)
    return battery_minutes(energy, watts) if watts <= carried else 0.0


def _spin_down(bundle: Bundle) -> SpinDown | None:
    """Of the pools of the archive beside pools for work; people work on all others."""
    plan, mains = bundle.plan, bundle.plan.mains
    if len({pool.tier for pool in plan.pools}) < 2:
        return None
    classes = {drive.id: drive for drive in bundle.catalogue.drives}
    still = _Drives()
    for pool in plan.pools:
        if pool.tier == "archive" and pool.drive_kind == "hdd":
            still.add(len(pool.drives_bytes), "hdd", classes.get(pool.drive_id))
    if not still.count:
        return None
    minutes = mains.spin_down_minutes or USUAL_SPIN_DOWN_MINUTES
    runs = min(mains.archive_uses_per_day * minutes / 60, HOURS_A_DAY)
    stands = HOURS_A_DAY - runs
    starts = min(mains.archive_uses_per_day, stands * 60 / minutes) * DAYS_A_YEAR
    per_start_wh = (still.spin_up - still.idle) * SPIN_UP_SECONDS / 3600
    saved_wh_a_day = still.idle * stands - per_start_wh * starts / DAYS_A_YEAR
    saved_watts = saved_wh_a_day / HOURS_A_DAY
    return SpinDown(
        disks=still.count,
        after_minutes=minutes,
        is_planned=mains.spin_down_minutes > 0,
        stands_hours_per_day=stands,
        saved_watts=saved_watts,
        saved_kwh_per_year=kwh_per_year(saved_watts),
        saved_price_per_year=power_price_per_year(saved_watts, bundle.house_rules.kwh_price),
        stall_seconds=SPIN_UP_SECONDS,
        starts_per_year=starts,
        worn_years=RATED_STARTS / starts if starts else 0.0,
    )


def _assumed(plan: Plan, boxes: list[BoxPower]) -> Iterator[str]:
    """What nobody has said, in words."""
    yield from (f"{box.name}: by kind of processor and drive" for box in boxes if box.is_assumed)
    for switch in plan.wiring.switches:
        if not switch.watts:
            yield f"{switch.name}: {ASSUMED_SWITCH_WATTS:.0f} W"


POWER: Part[PowerResult] = Part(
    "power",
    lambda judged: power_of(judged.bundle, judged.of(SETTINGS)),
    reads=(
        "plan/pools", "plan/caches", "plan/boxes", "plan/wiring/switches", "plan/mains",
        "plan/brief/limits/room", "plan/brief/day_parts", "plan/safekeeping/places", "catalogue/drives",
        "house_rules/drive_damping_dba", "house_rules/working_days_per_week", "house_rules/kwh_price",
        "house_rules/closet_watts_per_degree",
    ),
    after=(SETTINGS,),
)  # fmt: skip
