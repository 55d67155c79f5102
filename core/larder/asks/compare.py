"""The same drives under every layout, and other drives in the same layout, so that numbers settle it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.patch import Operation, set_fields
from larder.base.problems import refusals
from larder.base.results import Result
from larder.laws.capacity import default_filesystem
from larder.laws.layout import Family, Layout, parse_layout
from larder.plan.bundle import Bundle
from larder.plan.catalogue import amount_of, prices_on
from larder.plan.drive_swap import fits_its_bays, swap_patch, swapped_fields
from larder.plan.layout_words import layouts_for, words_of
from larder.plan.pools import Pool, layout_fields
from larder.stages.money import per_tb
from larder.stages.pool import PoolResult, pool_stage
from larder.stages.pool_setting import SETTINGS, PoolSetting
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.tiers import TIERS


class BuiltRow(Result):
    """One way to build a pool; ``why_not`` says what is lacking where it cannot be, and the rest is null.

    ``patch`` makes it so in one step.
    """

    words: str
    is_current: bool
    why_not: str
    usable_bytes: int | None = None
    plannable_bytes: int | None = None
    guaranteed_failures: int | None = None
    max_failures: int | None = None
    read_bytes_per_s: float | None = None
    write_bytes_per_s: float | None = None
    write_low_bytes_per_s: float | None = None
    rebuild_seconds: float | None = None
    drives_price: Decimal | None = None
    price_per_plannable_tb: Decimal | None = None
    patch: tuple[Operation, ...] = ()


class LayoutRow(BuiltRow):
    """One layout of the drives, with the filesystem that goes with it."""

    layout: str


class DriveRow(BuiltRow):
    """One class of drive in the pool."""

    drive_id: str


def compare_layouts(bundle: Bundle, pool_id: str) -> tuple[LayoutRow, ...]:
    """The seventeen layouts for the drives of one pool; raises :class:`Refused` for a pool there is not."""
    pool, streams, setting = _asked(bundle, pool_id)
    return tuple(
        _layout_row(pool, name, streams, setting)
        for name in layouts_for(pool.layout, len(pool.drives_bytes) - pool.spares)
    )


def compare_drives(bundle: Bundle, pool_id: str) -> tuple[DriveRow, ...]:
    """Every class of drive in the catalogue, as many as the pool has; raises as :func:`compare_layouts`."""
    pool, streams, setting = _asked(bundle, pool_id)
    prices = prices_on(bundle.catalogue.prices, bundle.as_of)
    rows = []
    for drive in bundle.catalogue.drives:
        price = amount_of(None, prices, drive.id)
        own = replace(setting, unit_price=price, drive=drive)
        refused = fits_its_bays(bundle.plan, pool, drive)
        row: dict[str, Any] = {
            "drive_id": drive.id,
            "words": drive.name,
            "is_current": drive.id == pool.drive_id,
        }
        if refused is not None:
            rows.append(DriveRow(**row, why_not=refused.accepted))
            continue
        built, why_not = _built(pool, swapped_fields(pool, drive))
        if built is None:
            rows.append(DriveRow(**row, why_not=why_not))
        else:
            patch = swap_patch(pool, drive)
            rows.append(DriveRow(**row, why_not="", patch=patch, **_figures(pool_stage(built, streams, own))))
    return tuple(rows)


def in_layouts(bundle: Bundle, pool_id: str) -> Iterator[tuple[Layout, Pool, PoolResult | None]]:
    """Every layout for the drives of one pool, the pool in it, and its figures; None where it cannot be."""
    pool, streams, setting = _asked(bundle, pool_id)
    for name in layouts_for(pool.layout, len(pool.drives_bytes) - pool.spares):
        layout = parse_layout(name)
        filesystem = pool.filesystem if name == pool.layout else _filesystem(pool, layout)
        built, _ = _built(pool, layout_fields(pool, name, filesystem))
        yield layout, built or pool, pool_stage(built, streams, setting) if built else None


def _asked(bundle: Bundle, pool_id: str) -> tuple[Pool, int, PoolSetting]:
    pool = next((p for p in bundle.plan.pools if p.id == pool_id), None)
    if pool is None:
        listed = ", ".join(p.id for p in bundle.plan.pools)
        raise Refused("pool", pool_id, f"the id of a pool of this plan ({listed})")
    judged = judge(bundle, PARTS)
    streams = next(p.streams for p in judged.of(TIERS).pools if p.id == pool_id)
    return pool, streams, judged.of(SETTINGS)[pool_id]


def _layout_row(pool: Pool, name: str, streams: int, setting: PoolSetting) -> LayoutRow:
    layout = parse_layout(name)
    is_current = name == pool.layout
    filesystem = pool.filesystem if is_current else _filesystem(pool, layout)
    changes = layout_fields(pool, name, filesystem)
    row: dict[str, Any] = {"layout": name, "words": words_of(layout), "is_current": is_current}
    built, why_not = _built(pool, changes)
    if built is None:
        return LayoutRow(**row, why_not=why_not)
    patch = () if is_current else set_fields(f"plan/pools/{pool.id}", **changes)
    return LayoutRow(**row, why_not="", patch=patch, **_figures(pool_stage(built, streams, setting)))


def _built(pool: Pool, changes: Mapping[str, object]) -> tuple[Pool | None, str]:
    """The pool with ``changes``, or what would be accepted instead."""
    try:
        return Pool.model_validate({**pool.model_dump(), **changes}), ""
    except ValidationError as error:
        return None, refusals(error, {})[0].accepted


def _figures(result: PoolResult) -> dict[str, Any]:
    return {
        "usable_bytes": result.usable_bytes,
        "plannable_bytes": result.plannable_bytes,
        "guaranteed_failures": result.guaranteed_failures,
        "max_failures": result.max_failures,
        "read_bytes_per_s": result.read.middle_bytes_per_s,
        "write_bytes_per_s": result.write.middle_bytes_per_s,
        "write_low_bytes_per_s": result.write.low_bytes_per_s,
        "rebuild_seconds": result.rebuild_seconds,
        "drives_price": result.drives_price,
        "price_per_plannable_tb": _price_per_tb(result),
    }


def _filesystem(pool: Pool, layout: Layout) -> str:
    """Copy-on-write parity brings its own filesystem; every other layout keeps the pool's, if it can."""
    families = {layout.family, parse_layout(pool.layout).family}
    return default_filesystem(layout) if Family.COPY_ON_WRITE in families else pool.filesystem


def _price_per_tb(result: PoolResult) -> Decimal | None:
    return None if result.drives_price is None else per_tb(result.drives_price, result.plannable_bytes)
