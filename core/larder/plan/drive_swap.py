"""Other drives in a pool, in one step: what a class of drive changes, and the best class for a need."""

from __future__ import annotations

from collections.abc import Callable

from larder.base.errors import Refused
from larder.base.patch import Operation, set_fields

from .bundle import Plan
from .catalogue import Catalogue, CatalogueDrive
from .pools import Pool
from .take_class import OF_A_POOL


def swapped_fields(pool: Pool, drive: CatalogueDrive) -> dict[str, object]:
    """The fields of ``pool`` with drives of this class in it.

    New drives are all of one size, unused, and priced by the list; larger spares or parity drives that would
    now be too small are of the class as well.
    """
    changes: dict[str, object] = {own: getattr(drive, field) for own, field in OF_A_POOL.items()}
    changes |= {"drive_id": drive.id, "mixed_sizes": "", "drive_unit_price": None}
    changes |= {"drive_count": len(pool.drives_bytes), "spare_bytes": None, "parity_bytes": None}
    return changes | {"are_used": False, "surface_tested": False, "hours_run": 0, "reused_drives": 0}


def swap_patch(pool: Pool, drive: CatalogueDrive) -> tuple[Operation, ...]:
    """The change that puts drives of this class into ``pool``, and nothing that stays as it is."""
    changes = {
        field: value for field, value in swapped_fields(pool, drive).items() if getattr(pool, field) != value
    }
    return set_fields(f"plan/pools/{pool.id}", **changes)


def fits_its_bays(plan: Plan, pool: Pool, drive: CatalogueDrive) -> Refused | None:
    """Why drives of this class do not go where the pool's are; None where they do."""
    fields = swapped_fields(pool, drive)
    swapped = pool.model_copy(update=fields)
    try:
        plan.with_pool(swapped).check_places({pool.id: drive.interface})
    except Refused as refused:
        return refused
    return None


def class_for(
    plan: Plan, catalogue: Catalogue, pool: Pool, wanted: Callable[[CatalogueDrive], bool]
) -> CatalogueDrive | None:
    """The smallest class that is ``wanted``, of the pool's kind, no smaller than its drives, and fits."""
    least = max(pool.drives_bytes[: len(pool.drives_bytes) - pool.spares])
    found = [
        d
        for d in catalogue.drives
        if d.kind == pool.drive_kind
        and d.size_bytes >= least
        and wanted(d)
        and fits_its_bays(plan, pool, d) is None
    ]
    return min(found, key=lambda d: d.size_bytes, default=None)
