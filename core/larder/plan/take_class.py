"""What a box or a cache becomes when it takes a class: the class's figures, its own name and place.

Pools take a class with all their drives at once: :mod:`larder.plan.drive_swap`.
"""

from __future__ import annotations

from larder.base.errors import Refused
from larder.base.patch import Operation, Patch, set_fields

from .bays import Box
from .bundle import Bundle, no_class
from .catalogue import CatalogueBox, CatalogueDrive

TAKER_ACCEPTED = "the path of a box or a cache of the plan, such as plan/boxes/east"
_OF_A_CACHE = {
    "drive_bytes": "size_bytes",
    "read_bytes_per_s": "read_bytes_per_s",
    "write_bytes_per_s": "write_bytes_per_s",
    "endurance_bytes": "endurance_bytes",
    "keeps_power": "keeps_power",
}


def class_patch(bundle: Bundle, path: str, class_id: str) -> Patch:
    """The change that makes the box or cache at ``path`` one of a class; an empty ``class_id`` only loses it.

    What was changed on it before goes: it is what the class is, priced by the list. Raises :class:`Refused`
    for a path or a class that is not there.
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
    raise Refused("path", path, TAKER_ACCEPTED)


def _cache(path: str, class_id: str, drive: CatalogueDrive | None) -> Patch:
    if drive is None:
        return set_fields(path, drive_id="")
    figures = {own: getattr(drive, field) for own, field in _OF_A_CACHE.items()}
    return set_fields(path, **figures, drive_unit_price=None, drive_id=class_id)


def _box(bundle: Bundle, path: str, box_id: str, class_id: str) -> Patch:
    if not class_id:
        return set_fields(path, model_id="")
    classes = {each.id: each for each in bundle.catalogue.boxes}
    if class_id not in classes:
        raise no_class("class_id", class_id, "box", set(classes))
    name = next(box.name for box in bundle.plan.boxes if box.id == box_id)
    box = of_class(classes[class_id], box_id, name)
    return (Operation(op="set", path=path, value=box.model_dump(mode="json")),)


def of_class(model: CatalogueBox, box_id: str, name: str) -> Box:
    """A box of this class; what is changed on it later stays its own."""
    return Box.model_validate(model.model_dump() | {"id": box_id, "name": name, "model_id": model.id})
