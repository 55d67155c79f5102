"""The same drives under every layout, so that numbers settle which one it should be."""

from __future__ import annotations

from decimal import Decimal

from pydantic import ValidationError

from .bundle import Bundle, Pool
from .capacity import default_filesystem
from .document import Operation
from .errors import Refused
from .evaluation import figures_alone
from .layout import GROUPED_NAMES, LAYOUTS, Family, Layout, parse_layout
from .problems import refusals
from .results import Result
from .tiers import PoolResult, pool_stage
from .units import TB


class LayoutRow(Result):
    """One layout of the drives; ``why_not`` says what it lacks where it cannot be built; the rest is null.

    ``patch`` makes it the pool's layout, with the filesystem that goes with it.
    """

    layout: str
    words: str
    is_current: bool
    why_not: str
    plannable_bytes: int | None = None
    guaranteed_failures: int | None = None
    max_failures: int | None = None
    read_bytes_per_s: float | None = None
    write_bytes_per_s: float | None = None
    write_low_bytes_per_s: float | None = None
    rebuild_seconds: float | None = None
    price_per_plannable_tb: Decimal | None = None
    patch: tuple[Operation, ...] = ()


def compare_layouts(bundle: Bundle, pool_id: str) -> tuple[LayoutRow, ...]:
    """The seventeen layouts for the drives of one pool; raises :class:`Refused` for a pool there is not."""
    pool = next((p for p in bundle.plan.pools if p.id == pool_id), None)
    if pool is None:
        listed = ", ".join(p.id for p in bundle.plan.pools)
        raise Refused("pool", pool_id, f"the id of a pool of this plan ({listed})")
    streams = next(p.streams for p in figures_alone(bundle).tiers.pools if p.id == pool_id)
    share = bundle.house_rules.rebuild_share_percent
    return tuple(_row(pool, name, streams, share) for name in layouts_for(pool))


def layouts_for(pool: Pool) -> tuple[str, ...]:
    """Every layout by name; grouped ones with the pool's own number of groups, else the fewest that fit."""
    members = len(pool.drives_bytes) - pool.spares
    return (*LAYOUTS, *(_grouped(name, pool.layout, members) for name in GROUPED_NAMES))


def _grouped(name: str, current: str, members: int) -> str:
    if current.startswith(f"{name}:"):
        return current
    fits = (g for g in range(2, members) if parse_layout(f"{name}:{g}").takes(members))
    return f"{name}:{next(fits, 2)}"


def _row(pool: Pool, name: str, streams: int, share_percent: float) -> LayoutRow:
    layout = parse_layout(name)
    is_current = name == pool.layout
    changes = {"layout": name, "filesystem": pool.filesystem if is_current else _filesystem(pool, layout)}
    try:
        built = Pool.model_validate(pool.model_dump() | changes)
    except ValidationError as error:
        fault = refusals(error, {})[0]
        return LayoutRow(layout=name, words=layout.words, is_current=is_current, why_not=fault.accepted)
    result = pool_stage(built, streams, share_percent)
    return LayoutRow(
        layout=name,
        words=layout.words,
        is_current=is_current,
        why_not="",
        plannable_bytes=result.plannable_bytes,
        guaranteed_failures=result.guaranteed_failures,
        max_failures=result.max_failures,
        read_bytes_per_s=result.read.middle_bytes_per_s,
        write_bytes_per_s=result.write.middle_bytes_per_s,
        write_low_bytes_per_s=result.write.low_bytes_per_s,
        rebuild_seconds=result.rebuild_seconds,
        price_per_plannable_tb=_price_per_tb(result),
        patch=()
        if is_current
        else tuple(
            Operation(op="set", path=f"plan/pools/{pool.id}/{field}", value=value)
            for field, value in changes.items()
        ),
    )


def _filesystem(pool: Pool, layout: Layout) -> str:
    """Copy-on-write parity brings its own filesystem; every other layout keeps the pool's, if it can."""
    families = {layout.family, parse_layout(pool.layout).family}
    return default_filesystem(layout) if Family.COPY_ON_WRITE in families else pool.filesystem


def _price_per_tb(result: PoolResult) -> Decimal | None:
    if result.drives_price is None or not result.plannable_bytes:
        return None
    return (result.drives_price * TB / result.plannable_bytes).quantize(Decimal("0.01"))
