"""Where a pool's drives sit and what they all have to pass there: slots, buses, the processor.

A pool placed in bays is in their boxes; one placed nowhere is in the only box there is, or in no known one,
and then nothing limits it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from larder.base.units import DAYS_A_YEAR
from larder.laws.layout import parse_layout
from larder.laws.processor import CoreSeconds, core_seconds_per_gb, cores_left
from larder.laws.rebuild import LATENT_TIMES
from larder.laws.throughput import written_per_byte
from larder.plan.bays import Box
from larder.plan.bundle import Bundle, Plan
from larder.plan.catalogue import CatalogueDrive, Price, amount_of
from larder.plan.enclosure import Slot, bus_bytes_per_s
from larder.plan.house_rules import HouseRules
from larder.plan.pools import Pool
from larder.plan.volumes import encrypted_share

from .loads import SEATS_INSIDE
from .prices import PRICES
from .stage import Part

USUAL_RULES = HouseRules()


@dataclass(frozen=True)
class SharedBus:
    """What all drives of a box pass, bytes/s each way; ``share`` of the pool's drives are in that box."""

    box_id: str
    name: str
    bytes_per_s: float
    share: float


@dataclass(frozen=True)
class ServingProcessor:
    """The processor that serves a pool; ``cores`` are those that seats inside the box leave."""

    box_id: str
    name: str
    cores: float


@dataclass(frozen=True)
class PoolSetting:
    """What surrounds a pool: the slowest place of its drives, buses, processor, encryption.

    ``homes`` are the boxes with the number of its drives in each. Also the class and price of its drives,
    and how many of another pool's spares serve it.
    """

    homes: tuple[tuple[str, int], ...] = ()
    slot_name: str = ""
    slot_bytes_per_s: float | None = None
    buses: tuple[SharedBus, ...] = ()
    processor: ServingProcessor | None = None
    encrypted_share: float = 0.0
    unit_price: Decimal | None = None
    rebuild_share: float = 0.3
    latent_per_tb_year: float = 0.02
    scrub_years: float = 30 / DAYS_A_YEAR
    drive: CatalogueDrive | None = None
    shared_spares: int = 0


@dataclass(frozen=True)
class PoolCost:
    """What a byte read from and written to a pool costs of something shared: bytes, or core-seconds."""

    pool_id: str
    a_byte_read: float
    a_byte_written: float


@dataclass(frozen=True)
class SharedHop:
    """A bus or a processor that several pools load together; ``capacity`` is bytes/s of the bus, or cores."""

    id: str
    name: str
    kind: Literal["bus", "processor"]
    capacity: float
    costs: tuple[PoolCost, ...]


def boxes_of(plan: Plan, pool: Pool) -> Mapping[str, int]:
    """How many of a pool's drives sit in which box, by box id."""
    placed = Counter(bay.box_id for bay in pool.placed)
    if not placed and len(plan.boxes) == 1:
        return {plan.boxes[0].id: len(pool.drives_bytes)}
    return placed


def pool_setting(
    plan: Plan,
    pool: Pool,
    drive: CatalogueDrive | None,
    unit_price: Decimal | None,
    inside_seats_at_peak: float,
    rebuild_share: float,
    rules: HouseRules = USUAL_RULES,
) -> PoolSetting:
    """What surrounds ``pool`` in ``plan``."""
    homes = boxes_of(plan, pool)
    boxes = {box.id: box for box in plan.boxes}
    placed = sum(homes.values())
    places: set[tuple[str, Slot, int]] = {(bay.box_id, bay.slot, bay.number) for bay in pool.placed}
    slowest = min(
        (
            (lets_through[0], f"{boxes[box_id].name}, {lets_through[1]}")
            for box_id, slot, number in places or {(box_id, "bay", 1) for box_id in homes}
            if (lets_through := boxes[box_id].place_bytes_per_s(slot, number)) is not None
        ),
        default=None,
    )
    return PoolSetting(
        homes=tuple(homes.items()),
        slot_name=slowest[1] if slowest else "",
        slot_bytes_per_s=slowest[0] if slowest else None,
        buses=tuple(
            SharedBus(box_id, _bus_name(boxes[box_id]), rate, count / placed)
            for box_id in homes
            if (count := _behind_the_bus(boxes[box_id], pool, homes[box_id]))
            and (rate := bus_bytes_per_s(boxes[box_id].shared_bus, boxes[box_id].shared_links)) is not None
        ),
        processor=_processor(plan, homes, inside_seats_at_peak),
        encrypted_share=encrypted_share(plan.volumes, pool.id),
        unit_price=unit_price,
        rebuild_share=rebuild_share,
        latent_per_tb_year=rules.latent_per_tb_year * LATENT_TIMES[pool.drive_kind],
        scrub_years=rules.scrub_every_days / DAYS_A_YEAR,
        drive=drive,
        shared_spares=next((p.spares for p in plan.pools if p.id == pool.spares_of), 0),
    )


def _behind_the_bus(box: Box, pool: Pool, in_the_box: int) -> int:
    """How many of a pool's drives pass what the bays share; flash slots have lanes of their own.

    Everything in an expansion unit passes its cable.
    """
    if box.form == "expansion unit":
        return in_the_box
    return in_the_box - sum(bay.box_id == box.id and bay.slot == "flash slot" for bay in pool.placed)


def _bus_name(box: Box) -> str:
    links = f"{box.shared_links} × " if box.shared_links > 1 else ""
    return f"{box.name}: {links}{box.shared_bus}"


def serving_box(plan: Plan, homes: Mapping[str, int], *, with_cores: bool = False) -> Box | None:
    """The box with most of a pool's drives; an expansion unit leans on the box listed before it.

    Where there is none before it, on the first there is.
    """
    if not homes:
        return None
    own = sorted((b for b in plan.boxes if b.id in homes), key=lambda b: -homes[b.id])
    before = [b for unit in own for b in reversed(plan.boxes[: plan.boxes.index(unit)])]
    every = (*own, *before, *plan.boxes)
    serving = (b for b in every if b.form != "expansion unit" and (b.cores or not with_cores))
    return next(serving, None)


def _processor(plan: Plan, homes: Mapping[str, int], inside: float) -> ServingProcessor | None:
    """That of the box that serves the pool, as far as one is known."""
    box = serving_box(plan, homes, with_cores=True)
    if box is None:
        return None
    return ServingProcessor(
        box.id, f"{box.name}: {box.processor or 'measured'} processor", cores_left(box.cores, inside)
    )


def shared_hops(plan: Plan, settings: dict[str, PoolSetting]) -> tuple[SharedHop, ...]:
    """Buses and processors with the pools that load them, for reckoning all of their loads together.

    What a flash cache answers is counted as if it came from the drives: cold days are the ones that matter.
    """
    buses: dict[str, list[tuple[SharedBus, Pool]]] = {}
    processors: dict[str, list[tuple[ServingProcessor, Pool]]] = {}
    for pool in plan.pools:
        setting = settings[pool.id]
        for bus in setting.buses:
            buses.setdefault(bus.box_id, []).append((bus, pool))
        if setting.processor is not None:
            processors.setdefault(setting.processor.box_id, []).append((setting.processor, pool))
    hops = [
        SharedHop(
            f"bus-{box_id}",
            pairs[0][0].name,
            "bus",
            pairs[0][0].bytes_per_s,
            tuple(PoolCost(pool.id, bus.share, bus.share * _written(pool)) for bus, pool in pairs),
        )
        for box_id, pairs in buses.items()
    ]
    hops += [
        SharedHop(
            f"processor-{box_id}",
            pairs[0][0].name,
            "processor",
            pairs[0][0].cores,
            tuple(_processor_cost(pool, settings[pool.id]) for _, pool in pairs),
        )
        for box_id, pairs in processors.items()
    ]
    return tuple(hops)


def _processor_cost(pool: Pool, setting: PoolSetting) -> PoolCost:
    cost = core_seconds(pool, setting.encrypted_share)
    return PoolCost(pool.id, cost.a_byte_read, cost.a_byte_written)


def _written(pool: Pool) -> float:
    written: float = written_per_byte(parse_layout(pool.layout), len(pool.drives_bytes) - pool.spares)
    return written


def core_seconds(pool: Pool, encrypted_share: float) -> CoreSeconds:
    """What a GB read from or written to ``pool`` costs the processor."""
    return core_seconds_per_gb(
        parity=parse_layout(pool.layout).parity > 0,
        checksums=pool.filesystem == "cow",
        encrypted_share=encrypted_share,
    )


def settings_of(
    bundle: Bundle, inside_seats_at_peak: float, prices: dict[str, Price]
) -> dict[str, PoolSetting]:
    """What surrounds every pool, by its id."""
    rules = bundle.house_rules
    return {
        pool.id: pool_setting(
            bundle.plan,
            pool,
            bundle.catalogue.drive(pool.drive_id),
            amount_of(pool.drive_unit_price, prices, pool.drive_id),
            inside_seats_at_peak,
            rules.rebuild_share_percent / 100,
            rules,
        )
        for pool in bundle.plan.pools
    }


BOX_FIELDS = (
    "bays", "flash_slots", "bay_bus", "flash_bus", "cards", "shared_bus", "shared_links", "processor",
    "ordinary_cores",
)  # fmt: skip
DRIVE_FIELDS = (
    "unreadable_per_bit", "inner_ratio", "seek_ms", "turn_ms", "operations_per_s", "fast_write_bytes",
    "fast_write_bytes_per_s",
)  # fmt: skip
"""What of boxes and of classes of drive changes a figure; the rest findings look at."""
SETTINGS: Part[dict[str, PoolSetting]] = Part(
    "settings",
    lambda judged: settings_of(judged.bundle, judged.of(SEATS_INSIDE), judged.of(PRICES)),
    reads=(
        "plan/pools",
        *(f"plan/boxes/*/{field}" for field in BOX_FIELDS),
        "plan/volumes",
        *(f"catalogue/drives/*/{field}" for field in DRIVE_FIELDS),
        "house_rules/rebuild_share_percent",
        "house_rules/scrub_every_days",
        "house_rules/latent_per_tb_year",
    ),
    after=(SEATS_INSIDE, PRICES),
    is_answered=False,
)
