"""Whether what lives on a pool is copied away from it every night, and the change that adds a copy."""

from __future__ import annotations

from typing import Any

from larder.base.patch import Operation, Patch
from larder.laws.nightly import is_nightly
from larder.plan.bundle import Bundle
from larder.plan.new_item import fresh_id
from larder.plan.pools import Pool
from larder.plan.safekeeping import Copy, Store
from larder.stages.copies import COPIES

from .finding import Figures

KEPT = "plan/safekeeping"


def living_on(f: Figures, pool: Pool) -> tuple[str, ...]:
    """The ids of the material that lives on a pool, also where it comes to nothing yet."""
    plan = f.bundle.plan
    return tuple(m.id for m in plan.safekeeping.materials if pool.id in map(plan.pool_of, plan.homes_of(m)))


def is_copied_nightly(f: Figures, pool: Pool) -> bool:
    """Whether all that lives on a pool has a copy on something else that is no older than a day."""
    missing = {each.id for each in f.of(COPIES).copies if each.missing}
    plan = f.bundle.plan
    nightly = [
        copy
        for copy in plan.safekeeping.copies
        if is_nightly(copy.every_hours) and copy.id not in missing and plan.pool_of(copy.where) != pool.id
    ]
    return all(any(each in copy.materials for copy in nightly) for each in living_on(f, pool))


def copied_patch(bundle: Bundle, material_ids: str, store: dict[str, Any], copy: dict[str, Any]) -> Patch:
    """The change that adds a store and a copy of the material on it; ``elsewhere`` is any other building."""
    kept = bundle.plan.safekeeping
    ops: list[Operation] = []
    if store.get("place_id") == "elsewhere":
        away = next((place.id for place in kept.places if not place.inside), None)
        if away is None:
            away = fresh_id("elsewhere", (place.id for place in kept.places))
            ops.append(Operation(op="add", path=f"{KEPT}/places", value={"id": away, "name": "Elsewhere"}))
        store = store | {"place_id": away}
    store_id = fresh_id(store["name"], (each.id for each in kept.stores))
    copy_id = fresh_id(copy["name"], (each.id for each in kept.copies))
    stored = Store.model_validate({"id": store_id} | store)
    made = Copy.model_validate(
        {"id": copy_id, "material_ids": material_ids, "to": f"store:{store_id}"} | copy
    )
    return (
        *ops,
        Operation(op="add", path=f"{KEPT}/stores", value=stored.model_dump(mode="json")),
        Operation(op="add", path=f"{KEPT}/copies", value=made.model_dump(mode="json")),
    )
