"""What goes with an item that is removed from a plan file, so that nothing refers to what is gone."""

from __future__ import annotations

from collections.abc import Callable

from larder.base.errors import Refused
from larder.base.patch import Operation, Patch, set_fields, value_at

from .bays import bays_text, parse_bays
from .bundle import Bundle
from .material import Where
from .wiring import End

ITEM_ACCEPTED = "the path of an item of the plan file, such as plan/pools/main"


_SESSIONS, _JOBS = "plan/brief/timetable/sessions", "plan/brief/timetable/jobs"
_KEPT = "plan/safekeeping"


def removal_patch(bundle: Bundle, path: str) -> Patch:
    """The change that removes the item at ``path`` and whatever stands only with it.

    Caches, volumes, jobs, readings and what is bought when it is full go with their pool, and who works on it
    works on any again; a seat takes along what the timetable has of it; prices go with their class; copies go
    with what they lie on or are of, and what was read from them is read from where the material lives; links
    go with what they are plugged into, drives leave the bays of a box, pools and boxes keep their figures and
    lose the class, services run in every part of the day again. Raises :class:`Refused` where there is no
    such item.
    """
    where, _, item_id = path.rpartition("/")
    item = value_at(bundle.document(), tuple(path.split("/")))
    if not isinstance(item, dict) or item.get("id") != item_id:
        raise Refused("path", path, ITEM_ACCEPTED)
    along = _ALONG.get(where)
    return (*(along(bundle, item_id) if along else ()), _removed(path))


def _removed(path: str) -> Operation:
    return Operation(op="remove", path=path)


def _with_pool(bundle: Bundle, pool_id: str) -> Patch:
    plan = bundle.plan
    caches = [_removed(f"plan/caches/{c.id}") for c in plan.caches if c.pool_id == pool_id]
    volumes = [_removed(f"plan/volumes/{v.id}") for v in plan.volumes if v.pool_id == pool_id]
    sharing = [p.id for p in plan.pools if p.spares_of == pool_id]
    alone = [operation for other in sharing for operation in set_fields(f"plan/pools/{other}", spares_of="")]
    users = [f"plan/brief/seats/{s.id}" for s in plan.brief.seats if s.works_on == pool_id]
    users += [f"plan/brief/services/{s.id}" for s in plan.brief.services if s.works_on == pool_id]
    drawn = [each for user in users for each in set_fields(user, works_on="")]
    jobs = [j.id for j in plan.brief.timetable.jobs if pool_id in (j.pool_id, j.to_pool_id)]
    at = [Where("pool", pool_id), *(Where("volume", v.id) for v in plan.volumes if v.pool_id == pool_id)]
    kept = _with_where(bundle, at)
    grown = [
        _removed(f"plan/growth/{kind}/{item.id}")
        for kind, items in (("readings", plan.growth.readings), ("steps", plan.growth.steps))
        for item in items
        if item.pool_id == pool_id
    ]
    kept = (*kept, *grown)
    return (*kept, *caches, *volumes, *alone, *drawn, *(_removed(f"{_JOBS}/{job_id}") for job_id in jobs))


def _with_where(bundle: Bundle, gone: list[Where]) -> Patch:
    """Copies that lie there go; material that lived there lives where the brief puts it."""
    kept, at = bundle.plan.safekeeping, {where.text for where in gone}
    moved = [
        operation
        for m in kept.materials
        if m.lives_on in at
        for operation in set_fields(f"{_KEPT}/materials/{m.id}", lives_on="")
    ]
    return (*moved, *_without_copies(bundle, {copy.id for copy in kept.copies if copy.to in at}))


def _without_copies(bundle: Bundle, gone: set[str]) -> Patch:
    """These copies go, and what was read from them is read from where the material lives."""
    copies = bundle.plan.safekeeping.copies
    orphans = [copy.id for copy in copies if copy.source_id in gone and copy.id not in gone]
    again = [operation for one in orphans for operation in set_fields(f"{_KEPT}/copies/{one}", source_id="")]
    return (*again, *(_removed(f"{_KEPT}/copies/{copy_id}") for copy_id in sorted(gone)))


def _with_volume(bundle: Bundle, volume_id: str) -> Patch:
    return _with_where(bundle, [Where("volume", volume_id)])


def _with_store(bundle: Bundle, store_id: str) -> Patch:
    return _with_where(bundle, [Where("store", store_id)])


def _with_copy(bundle: Bundle, copy_id: str) -> Patch:
    """Only what was read from it: the copy itself goes as the item that is removed."""
    return tuple(copy for copy in _without_copies(bundle, {copy_id}) if copy.op != "remove")


def _with_material(bundle: Bundle, material_id: str) -> Patch:
    """Copies are of it no more; one that was of nothing else goes."""
    of = [copy for copy in bundle.plan.safekeeping.copies if material_id in copy.materials]
    alone = {copy.id for copy in of if len(copy.materials) == 1}
    fewer = [
        operation
        for copy in of
        if copy.id not in alone
        for operation in set_fields(
            f"{_KEPT}/copies/{copy.id}", material_ids=" ".join(m for m in copy.materials if m != material_id)
        )
    ]
    return (*fewer, *_without_copies(bundle, alone))


def _with_place(bundle: Bundle, place_id: str) -> Patch:
    """What was inside of it is inside of what it was in; what was kept at it is in the house."""
    kept = bundle.plan.safekeeping
    outer = next(place.inside for place in kept.places if place.id == place_id)
    moved = [(f"{_KEPT}/places/{p.id}", {"inside": outer}) for p in kept.places if p.inside == place_id]
    moved += [(f"{_KEPT}/stores/{s.id}", {"place_id": ""}) for s in kept.stores if s.place_id == place_id]
    moved += [(f"plan/boxes/{b.id}", {"place_id": ""}) for b in bundle.plan.boxes if b.place_id == place_id]
    return tuple(operation for path, fields in moved for operation in set_fields(path, **fields))


def _with_seat(bundle: Bundle, seat_id: str) -> Patch:
    """Its plugs go, and all that the timetable has of it."""
    timetable = bundle.plan.brief.timetable
    sessions = [_removed(f"{_SESSIONS}/{s.id}") for s in timetable.sessions if s.seat_id == seat_id]
    jobs = [_removed(f"{_JOBS}/{job.id}") for job in timetable.jobs if job.seat_id == seat_id]
    return (*sessions, *jobs, *_unplugged(bundle, End("seat", seat_id)))


def _unplugged(bundle: Bundle, end: End) -> Patch:
    """The links at ``end`` go, and whoever mounts by one of them is told nothing any more."""
    gone = [link.id for link in bundle.plan.wiring.links if end in link.ends]
    mounts = [each for link_id in gone for each in _with_link(bundle, link_id)]
    return (*mounts, *(_removed(f"plan/wiring/links/{link_id}") for link_id in gone))


def _with_link(bundle: Bundle, link_id: str) -> Patch:
    found: list[Operation] = []
    for seat in bundle.plan.brief.seats:
        left = [each for each in seat.mounts_by.split() if each != link_id]
        if len(left) < len(seat.mounts_by.split()):
            found += set_fields(f"plan/brief/seats/{seat.id}", mounts_by=" ".join(left))
    return tuple(found)


def _with_switch(bundle: Bundle, switch_id: str) -> Patch:
    entering = [s.id for s in bundle.plan.brief.services if s.enters_at == switch_id]
    beside = [
        operation for one in entering for operation in set_fields(f"plan/brief/services/{one}", enters_at="")
    ]
    return (*beside, *_unplugged(bundle, End("switch", switch_id)))


def _with_box(bundle: Bundle, box_id: str) -> Patch:
    """Drives are taken out of its bays; those in other boxes stay where they are."""
    found: list[Operation] = []
    for where, holders in (("pools", bundle.plan.pools), ("caches", bundle.plan.caches)):
        for holder in holders:
            bays = parse_bays(holder.bays)
            left = [bay for bay in bays if bay.box_id != box_id]
            if len(left) < len(bays):
                found += set_fields(f"plan/{where}/{holder.id}", bays=bays_text(left))
    return (*found, *_unplugged(bundle, End("box", box_id)))


def _with_day_part(bundle: Bundle, part_id: str) -> Patch:
    brief = bundle.plan.brief
    services = [s.id for s in brief.services if s.part_id == part_id]
    alike = [
        operation for one in services for operation in set_fields(f"plan/brief/services/{one}", part_id="")
    ]
    odds = [
        _removed(f"plan/brief/seats/{seat.id}/at_peak/{part_id}")
        for seat in brief.seats
        if any(each.id == part_id for each in seat.at_peak)
    ]
    return (*alike, *odds)


def _with_drive_class(bundle: Bundle, drive_id: str) -> Patch:
    plan = bundle.plan
    users = [f"plan/pools/{p.id}" for p in plan.pools if p.drive_id == drive_id]
    users += [f"plan/caches/{c.id}" for c in plan.caches if c.drive_id == drive_id]
    own = [operation for user in users for operation in set_fields(user, drive_id="")]
    return (*own, *_prices(bundle, drive_id))


def _with_box_class(bundle: Bundle, box_id: str) -> Patch:
    users = [f"plan/boxes/{b.id}" for b in bundle.plan.boxes if b.model_id == box_id]
    own = [operation for user in users for operation in set_fields(user, model_id="")]
    return (*own, *_prices(bundle, box_id))


def _prices(bundle: Bundle, item_id: str) -> Patch:
    return tuple(
        _removed(f"catalogue/prices/{p.id}") for p in bundle.catalogue.prices if p.item_id == item_id
    )


_ALONG: dict[str, Callable[[Bundle, str], Patch]] = {
    "plan/pools": _with_pool,
    "plan/boxes": _with_box,
    "plan/volumes": _with_volume,
    "plan/safekeeping/places": _with_place,
    "plan/safekeeping/materials": _with_material,
    "plan/safekeeping/stores": _with_store,
    "plan/safekeeping/copies": _with_copy,
    "plan/brief/seats": _with_seat,
    "plan/wiring/switches": _with_switch,
    "plan/wiring/links": _with_link,
    "plan/brief/day_parts": _with_day_part,
    "catalogue/drives": _with_drive_class,
    "catalogue/boxes": _with_box_class,
}
