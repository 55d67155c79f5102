"""What a box, cache or pool becomes when it takes a class: the class's figures, its own name and place.

A pool takes the figures of the class that it has; other drives go in at once: :mod:`larder.plan.drive_swap`.
"""

from __future__ import annotations

from larder.base.errors import Refused
from larder.base.patch import Operation, Patch, set_fields

from .bays import Box
from .bundle import Bundle, no_class
from .catalogue import CatalogueBox, CatalogueDrive
from .enclosure import Enclosure
from .pools import Pool

TAKER_ACCEPTED = "the path of a box, cache or pool of the plan, such as plan/boxes/east"
OF_A_POOL = {
    "drive_bytes": "size_bytes",
    "drive_kind": "kind",
    "drive_read_bytes_per_s": "read_bytes_per_s",
    "drive_write_bytes_per_s": "write_bytes_per_s",
}
"""The fields of a pool that its class of drive gives, and what they are called there."""
OF_A_BOX = tuple(field for field in Enclosure.model_fields if field != "name")
OF_A_CACHE = {
    "drive_bytes": "size_bytes",
    "read_bytes_per_s": "read_bytes_per_s",
    "write_bytes_per_s": "write_bytes_per_s",
    "endurance_bytes": "endurance_bytes",
    "keeps_power": "keeps_power",
}


def class_patch(bundle: Bundle, path: str, class_id: str) -> Patch:
    """The change that makes the box or cache at ``path`` one of a class; an empty ``class_id`` only loses it.

    What was changed on it before goes: it is what the class is, priced by the list. A pool takes the figures
    of its own class, and so does a box that has the class already. Raises :class:`Refused` for a path or a
    class that is not there.
    """
    where, _, item_id = path.rpartition("/")
    plan, catalogue = bundle.plan, bundle.catalogue
    if where == "plan/boxes" and any(box.id == item_id for box in plan.boxes):
        return _box(bundle, path, item_id, class_id)
    if where == "plan/caches" and any(cache.id == item_id for cache in plan.caches):
        flash = {drive.id: drive for drive in catalogue.drives if drive.kind == "ssd"}
        if class_id and class_id not in flash:
            raise no_class("class_id", class_id, "flash", set(flash))
        return _cache(path, class_id, flash.get(class_id))
    pool = next((pool for pool in plan.pools if where == "plan/pools" and pool.id == item_id), None)
    if pool is not None:
        return _pool(bundle, pool, class_id)
    raise Refused("path", path, TAKER_ACCEPTED)


def _pool(bundle: Bundle, pool: Pool, class_id: str) -> Patch:
    """Its drives become what their class says now; what they are kept for, their price and age stay."""
    own = next((drive for drive in bundle.catalogue.drives if drive.id == pool.drive_id), None)
    if own is None or class_id != own.id:
        accepted = f"{pool.drive_id}, its own class" if own else "nothing: the pool has no class"
        raise Refused("class_id", class_id, f"{accepted}; a swap puts other drives in")
    changes = {field: getattr(own, class_field) for field, class_field in OF_A_POOL.items()}
    if pool.mixed_sizes:
        del changes["drive_bytes"]
    changes |= {
        field: None
        for field in ("spare_bytes", "parity_bytes")
        if (getattr(pool, field) or own.size_bytes) < own.size_bytes
    }
    changed = {field: value for field, value in changes.items() if getattr(pool, field) != value}
    return set_fields(f"plan/pools/{pool.id}", **changed)


def _cache(path: str, class_id: str, drive: CatalogueDrive | None) -> Patch:
    if drive is None:
        return set_fields(path, drive_id="")
    figures = {own: getattr(drive, field) for own, field in OF_A_CACHE.items()}
    return set_fields(path, **figures, drive_unit_price=None, drive_id=class_id)


def _box(bundle: Bundle, path: str, box_id: str, class_id: str) -> Patch:
    if not class_id:
        return set_fields(path, model_id="")
    classes = {each.id: each for each in bundle.catalogue.boxes}
    if class_id not in classes:
        raise no_class("class_id", class_id, "box", set(classes))
    own, model = next(box for box in bundle.plan.boxes if box.id == box_id), classes[class_id]
    if own.model_id == class_id:
        figures = {f: getattr(model, f) for f in OF_A_BOX if getattr(own, f) != getattr(model, f)}
        return set_fields(path, **figures)
    box = of_class(model, box_id, own.name).model_copy(update={"place_id": own.place_id})
    return (Operation(op="set", path=path, value=box.model_dump(mode="json")),)


def of_class(model: CatalogueBox, box_id: str, name: str) -> Box:
    """A box of this class; what is changed on it later stays its own."""
    return Box.model_validate(model.model_dump() | {"id": box_id, "name": name, "model_id": model.id})
