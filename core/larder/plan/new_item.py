"""What a new item of a plan file starts with: values that one would otherwise type first, and a free id.

They are starting points, not advice: an even chance of being at the peak, one of everything, today as the
day. What the plan already says is taken over: its first format, its currency, the pool that is looked at.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import timedelta
from typing import Any

from pydantic import TypeAdapter, ValidationError

from larder.base.errors import Refused, RefusedMany
from larder.base.patch import Operation, Patch, value_at
from larder.base.problems import refusals

from .bays import Box
from .brief import Seat, Shoot
from .bundle import Bundle, Purchase, no_class
from .caches import Cache
from .catalogue import CatalogueBox, CatalogueDrive, Price
from .day_parts import DAY_HOURS, SHORTEST_PART_HOURS, WHOLE_DAY, DayPart, Service
from .enclosure import Allow, CardSlot
from .formats import Format
from .growth import Reading, Sale, Step
from .mains import Battery
from .material import Material
from .pools import Pool
from .ports import seats_of
from .productions import Production
from .safekeeping import Copy, Place, Store
from .seats import Activity, PartOdds
from .take_class import of_class
from .timetable import BY_SEAT, MINUTES_A_DAY, UNSIZED, DayJob, WorkSession
from .volumes import Volume
from .wiring import STORAGE, End, Link, PartPrice, Switch

LONGEST_STEM = 30
FIRST_POOL = {
    "name": "Main pool",
    "layout": "raid6",
    "drive_count": 4,
    "drive_bytes": 12_000_000_000_000,
    "drive_read_bytes_per_s": 220_000_000,
    "drive_write_bytes_per_s": 220_000_000,
}
CUT_DAYS, KEPT_DAYS = 120, 30
"""A new production is delivered so long after it begins, and archived so long after that."""


@dataclass(frozen=True)
class Asked:
    """A new item of the list at ``path``: what is known of it, and what it is made after.

    ``after`` is a class for a box, the pool that is looked at for a pool; else empty. ``media`` is a footage
    format that is added with it, and that it is made for; none where empty.
    """

    path: str
    given: Mapping[str, Any]
    after: str = ""
    media: Mapping[str, Any] = field(default_factory=dict)


def new_item(bundle: Bundle, asked: Asked) -> Operation:
    """The operation that adds the item.

    Raises :class:`Refused` for a list that is not there and where the plan lacks what the item needs,
    :class:`RefusedMany` for given values that the item does not take.
    """
    parts = asked.path.split("/")
    items = value_at(bundle.document(), tuple(parts))
    start = _STARTS.get(_pattern(parts))
    if start is None or not isinstance(items, list):
        raise Refused("path", asked.path, f"the path of a list such as {', '.join(_STARTS)}")
    word, model, values = start(bundle, asked)
    values = values | dict(asked.given)
    taken = [item["id"] for item in items]
    own = values.setdefault("id", fresh_id(word, taken))
    if own in taken:
        raise Refused("given/id", own, "an id that no other item of the list has")
    try:
        item = TypeAdapter(model).validate_python(values)
    except ValidationError as error:
        faults = [Refused(f"given/{r.field}", r.value, r.accepted) for r in refusals(error, values)]
        raise RefusedMany(faults) from None
    return Operation(op="add", path=asked.path, value=item.model_dump(mode="json"))


def new_item_patch(bundle: Bundle, asked: Asked) -> Patch:
    """The change that adds the item, with its format where that is new.

    A seat in the office is plugged in where the first ones are.
    """
    if asked.media:
        media = new_item(bundle, Asked("catalogue/formats", asked.media))
        with_it = {**asked.given, "format_id": media.value["id"]}
        return media, *new_item_patch(bundle, replace(asked, given=with_it, media={}))
    added = new_item(bundle, asked)
    if asked.path != "plan/brief/seats" or not bundle.plan.wiring.links:
        return (added,)
    seat = TypeAdapter[Any](Seat).validate_python(added.value)
    plan = bundle.plan
    brief = plan.brief.model_copy(update={"seats": (*plan.brief.seats, seat)})
    if seat.id not in seats_of(plan.model_copy(update={"brief": brief})):
        return (added,)
    first = next((link for link in plan.wiring.links if link.ends[0].kind == "seat"), None)
    if first is None and not plan.wiring.switches:
        return (added,)
    far = first.far if first else End("switch", plan.wiring.switches[0].id).text
    given: dict[str, Any] = {"near": End("seat", seat.id).text, "far": far}
    if first:
        given |= {"speed": first.speed, "category": first.category}
    given["id"] = fresh_id(f"plug-{seat.id}", (link.id for link in plan.wiring.links))
    link = Link.model_validate(given)
    return added, Operation(op="add", path="plan/wiring/links", value=link.model_dump(mode="json"))


def fresh_id(word: str, taken: Iterable[str]) -> str:
    """An id that is not ``taken``: the word in small letters, digits and hyphens, or it with a number."""
    stem = re.sub("[^a-z0-9]+", "-", word.lower()).strip("-")[:LONGEST_STEM] or "item"
    found, n = stem, 1
    while found in set(taken):
        n += 1
        found = f"{stem}-{n}"
    return found


Start = tuple[str, Any, dict[str, Any]]
"""The word that its id is made of, its model, and its values but for those that are given."""


def _pattern(parts: list[str]) -> str:
    """A list's path without the ids on its way."""
    named = {"seats", "boxes"}
    return "/".join("*" if n and parts[n - 1] in named else part for n, part in enumerate(parts))


def _format_for(bundle: Bundle, asked: Asked) -> str:
    """The format that is given, else the first."""
    return str(asked.given.get("format_id") or _first_format(bundle))


def _first_format(bundle: Bundle) -> str:
    if not bundle.catalogue.formats:
        raise Refused("format_id", "", "the id of a footage format: add a format first", "Format")
    return bundle.catalogue.formats[0].id


def _counted(word: str, items: Iterable[object]) -> str:
    return f"{word} {sum(1 for _ in items) + 1}"


def _seat(bundle: Bundle, asked: Asked) -> Start:
    kind = str(asked.given.get("kind"))
    starts: dict[str, tuple[str, dict[str, Any]]] = {
        "footage": ("seat", {"name": "New seat"}),
        "photo": ("photo", {"name": "New photo seat", "image_bytes": 40_000_000, "images_per_s": 1}),
        "ingest": ("ingest", {"name": "New ingest station", "card_bytes_per_s": 180_000_000}),
        "remote": ("far", {"name": "New seat far away", "down_bytes_per_s": 6_250_000}),
    }
    if kind not in starts:
        raise Refused("given/kind", kind, f"one of {', '.join(starts)}")
    word, values = starts[kind]
    if kind in ("footage", "remote"):
        values["format_id"] = _format_for(bundle, asked)
    return word, Seat, {"probability": 0.5} | values


def _activity(bundle: Bundle, asked: Asked) -> Start:
    seat = value_at(bundle.document(), tuple(asked.path.split("/")[:-1]))
    values = {"name": "Renders", "format_id": seat["format_id"] or _first_format(bundle)}
    return "render", Activity, values


def _odds(bundle: Bundle, asked: Asked) -> Start:
    seat = value_at(bundle.document(), tuple(asked.path.split("/")[:-1]))
    return "part", PartOdds, {"probability": seat["probability"]}


def _production(bundle: Bundle, asked: Asked) -> Start:
    delivers = bundle.as_of + timedelta(days=CUT_DAYS)
    values = {
        "name": "New production",
        "starts_on": bundle.as_of,
        "shooting_weeks": 4,
        "hours_per_day": 1,
        "format_id": _format_for(bundle, asked),
        "delivers_on": delivers,
        "archived_on": delivers + timedelta(days=KEPT_DAYS),
    }
    return "production", Production, values


def _shoot(bundle: Bundle, asked: Asked) -> Start:
    values = {"name": "New unit", "format_id": _format_for(bundle, asked), "hours_per_week": 1}
    return "unit", Shoot, values


def _day_part(bundle: Bundle, _: Asked) -> Start:
    """A working day's hours, or what is left of the day."""
    parts = bundle.plan.brief.day_parts
    left = DAY_HOURS - sum(part.hours for part in parts)
    if left < SHORTEST_PART_HOURS:
        wanted = f"at least {SHORTEST_PART_HOURS} that no other part has: a day has {DAY_HOURS} hours"
        raise Refused("hours", left, wanted, "Hours")
    name = "Night" if parts else "Day"
    return name, DayPart, {"name": name, "hours": min(WHOLE_DAY.hours, left)}


def _service(bundle: Bundle, _: Asked) -> Start:
    """Backups of workstations, in the last part of the day, which is the night where there is one."""
    parts = bundle.plan.brief.day_parts
    values = {
        "name": "Workstation backups",
        "kept_bytes": 500_000_000_000,
        "written_bytes_per_day": 20_000_000_000,
        "part_id": parts[-1].id if parts else "",
    }
    return "backups", Service, values


def _format(_: Bundle, asked: Asked) -> Start:
    kind = str(asked.given.get("kind"))
    starts: dict[str, dict[str, Any]] = {
        "class": {"name": "New class, 100 Mb/s", "bytes_per_s": 12_500_000},
        "computed": {
            "name": "New format",
            "width": 1920,
            "height": 1080,
            "fps": 25,
            "sampling": "422",
            "bits": 10,
            "ratio": 5,
            "audio_channels": 2,
        },
        "measured": {},
        "audio": {"name": "Sound", "channels": 2, "sample_rate_hz": 48_000, "bits": 24},
        "stills": {"name": "Time-lapse", "image_bytes": 40_000_000, "interval_s": 20},
    }
    if kind not in starts:
        raise Refused("given/kind", kind, f"one of {', '.join(starts)}")
    return str(asked.given.get("name", kind)), Format, starts[kind]


def _session(bundle: Bundle, _: Asked) -> Start:
    """An hour from the beginning of the day on, of the first seat where none is said."""
    brief = bundle.plan.brief
    if not brief.seats:
        raise Refused("given/seat_id", "", "the id of a seat: add a seat first", "Seat")
    begins = brief.timetable.begins_minute
    values = {"seat_id": brief.seats[0].id, "from_minute": begins, "to_minute": (begins + 60) % MINUTES_A_DAY}
    return "session", WorkSession, values


def _job(bundle: Bundle, asked: Asked) -> Start:
    """A card at the first station, a render at the first seat, a pool's job at the first pool."""
    kind, plan = str(asked.given.get("kind")), bundle.plan
    names = {
        "cards": "Card", "render": "Render", "copy": "Copy", "upload": "Upload", "scrub": "Scrub",
        "rebuild": "Rebuild", "destage": "Destage run",
    }  # fmt: skip
    if kind not in names:
        raise Refused("given/kind", kind, f"one of {', '.join(names)}")
    values: dict[str, Any] = {
        "name": names[kind],
        "from_minute": (plan.brief.timetable.begins_minute + 120) % MINUTES_A_DAY,
    }
    if kind in BY_SEAT:
        who = [s.id for s in plan.brief.seats if kind != "cards" or s.kind == "ingest"]
        if not who:
            what = "an ingest station" if kind == "cards" else "a seat"
            raise Refused("given/kind", kind, f"another kind, or first add {what} to the brief")
        values["seat_id"] = who[0]
    else:
        pools = [pool.id for pool in plan.pools]
        if len(pools) < 1 + (kind == "copy"):
            raise Refused("given/kind", kind, "another kind, or first add a pool to the tiers")
        values["pool_id"] = pools[0]
        if kind == "copy":
            values["to_pool_id"] = pools[1]
    if kind not in UNSIZED:
        values["bytes"] = 256_000_000_000
    return kind, DayJob, values


def _pool(bundle: Bundle, asked: Asked) -> Start:
    """The drives of the pool that is looked at, for whichever of work and archive no pool serves yet.

    The first one survives two dead drives with as few as that takes, and grows by single drives.
    """
    pools = {pool.id: pool for pool in bundle.plan.pools}
    if not pools:
        return "pool", Pool, FIRST_POOL
    like = pools.get(asked.after, bundle.plan.pools[0])
    tier = "work" if any(pool.tier == "archive" for pool in pools.values()) else "archive"
    values = like.model_dump(exclude={"id"}) | {"tier": tier, "name": f"{tier.title()} pool", "bays": ""}
    return "pool", type(like), values


def _box(bundle: Bundle, asked: Asked) -> Start:
    classes = {box.id: box for box in bundle.catalogue.boxes}
    name = _counted("Box", bundle.plan.boxes)
    if not asked.after:
        return "box", Box, {"name": name, "bays": 12, "flash_slots": 2}
    if asked.after not in classes:
        raise no_class("after", asked.after, "box", set(classes))
    return "box", Box, of_class(classes[asked.after], "box", name).model_dump(exclude={"id"})


def _cache(*_: object) -> Start:
    values = {
        "name": "Flash cache",
        "drive_count": 2,
        "drive_bytes": 2_000_000_000_000,
        "read_bytes_per_s": 3_000_000_000,
        "write_bytes_per_s": 1_500_000_000,
    }
    return "cache", Cache, values


def _volume(bundle: Bundle, _: Asked) -> Start:
    return "volume", Volume, {"name": _counted("Volume", bundle.plan.volumes), "snapshot_days": 14}


def _switch(bundle: Bundle, _: Asked) -> Start:
    return "switch", Switch, {"name": _counted("Switch", bundle.plan.wiring.switches)}


def _link(bundle: Bundle, _: Asked) -> Start:
    """From a seat that is plugged in nowhere, else a switch by itself, else to a box without a link."""
    plan = bundle.plan
    ends = {end for link in plan.wiring.links for end in link.ends}
    switches = [End("switch", switch.id) for switch in plan.wiring.switches]
    boxes = [End("box", box.id) for box in plan.boxes] or [STORAGE]
    seats = [end for seat_id in seats_of(plan) if (end := End("seat", seat_id)) not in ends]
    alone, lonely = ([end for end in among if end not in ends] for among in (switches, boxes))
    if seats:
        near, far = seats[0], (switches or boxes)[0]
    elif alone and len(switches) > 1:
        near, far = alone[0], next(switch for switch in switches if switch != alone[0])
    elif switches:
        near, far = switches[-1], (lonely or boxes)[0]
    else:
        raise Refused("near", "", "a seat or a switch to begin at: add one first", "From")
    return "link", Link, {"near": near.text, "far": far.text}


def _part_price(bundle: Bundle, _: Asked) -> Start:
    return "price", PartPrice, {"unit_price": "0.00", "priced_on": bundle.as_of}


def _purchase(*_: object) -> Start:
    return "purchase", Purchase, {"name": "New purchase"}


def _drive_class(*_: object) -> Start:
    values = {
        "name": "New class of drive",
        "size_bytes": 12_000_000_000_000,
        "read_bytes_per_s": 240_000_000,
        "write_bytes_per_s": 235_000_000,
    }
    return "class", CatalogueDrive, values


def _box_class(*_: object) -> Start:
    return "box", CatalogueBox, {"name": "New class of box"}


def _price(bundle: Bundle, asked: Asked) -> Start:
    """A price of the plan's day; older ones stay in the list."""
    day = bundle.as_of
    word = f"{asked.given.get('item_id')}-{day:%Y%m%d}"
    return word, Price, {"amount": "0.00", "currency": bundle.currency, "priced_on": day}


def _card(bundle: Bundle, asked: Asked) -> Start:
    cards = value_at(bundle.document(), tuple(asked.path.split("/")))
    return "slot", CardSlot, {"name": _counted("Slot", cards)}


def _place(bundle: Bundle, _: Asked) -> Start:
    """A building of its own: that is what a place is wanted for first."""
    return "place", Place, {"name": _counted("Place", bundle.plan.safekeeping.places)}


def _material(bundle: Bundle, _: Asked) -> Start:
    name = _counted("Material", bundle.plan.safekeeping.materials)
    return "material", Material, {"name": name, "bytes": 1_000_000_000_000}


def _store(bundle: Bundle, asked: Asked) -> Start:
    """Loose drives, kept at the first place elsewhere; a service is reached over the line."""
    kept = bundle.plan.safekeeping
    kind = str(asked.given.get("kind", "loose disks"))
    away = next((place.id for place in kept.places if not place.inside), "")
    values: dict[str, Any] = {"name": kind.removeprefix("a ").capitalize(), "place_id": away}
    if kind == "a service":
        values |= {"place_id": "", "access": "online"}
    elif kind in ("a box", "workstations"):
        values["access"] = "online"
    return "store", Store, values


def _copy(bundle: Bundle, asked: Asked) -> Start:
    """Of all that is not replaceable, to the last store or the last pool, where none is said."""
    kept, pools = bundle.plan.safekeeping, bundle.plan.pools
    stores = [f"store:{store.id}" for store in kept.stores]
    to = str(asked.given.get("to") or (stores or [f"pool:{pool.id}" for pool in pools] or [""])[-1])
    if not to:
        raise Refused("to", "", "what it shall lie on: add a store first", "To")
    of = [m.id for m in kept.materials if m.worth != "replaceable" and m.kind != "cards"]
    return "copy", Copy, {"name": _counted("Copy", kept.copies), "material_ids": " ".join(of), "to": to}


def _first_pool(bundle: Bundle, asked: Asked) -> Pool:
    """The pool that is given, else the one that takes what piles up."""
    pools = {pool.id: pool for pool in bundle.plan.pools}
    given = str(asked.given.get("pool_id", ""))
    if given in pools:
        return pools[given]
    if not pools:
        raise Refused("pool_id", given, "the id of a pool: add a pool first", "Pool")
    return next((p for p in bundle.plan.pools if p.tier == "archive"), bundle.plan.pools[0])


def _reading(bundle: Bundle, asked: Asked) -> Start:
    """What the last reading of the pool said, on the plan's day."""
    pool = _first_pool(bundle, asked)
    own = [r for r in bundle.plan.growth.readings if r.pool_id == pool.id and not r.project]
    used = max(own, key=lambda r: r.read_on).used_bytes if own else 0
    day = bundle.as_of
    taken = {r.read_on for r in own}
    while day in taken:
        day -= timedelta(days=1)
    word = f"{pool.id[:20]}-{asked.given.get('read_on', day)}"
    return word, Reading, {"pool_id": pool.id, "read_on": day, "used_bytes": used}


def _sale(bundle: Bundle, _: Asked) -> Start:
    opens = bundle.as_of + timedelta(weeks=4)
    values = {"name": "Sale", "opens_on": opens, "closes_on": opens + timedelta(days=7)}
    return "sale", Sale, values


def _step(bundle: Bundle, asked: Asked) -> Start:
    pool = _first_pool(bundle, asked)
    values = {"name": f"More for {pool.name}"[:80], "pool_id": pool.id, "drive_bytes": pool.drive_bytes}
    return "step", Step, values


def _battery(bundle: Bundle, _: Asked) -> Start:
    return "battery", Battery, {"name": _counted("Battery supply", bundle.plan.mains.batteries)}


def _allow(*_: object) -> Start:
    return "line", Allow, {"largest_bytes": 20_000_000_000_000}


_STARTS: dict[str, Callable[[Bundle, Asked], Start]] = {
    "plan/brief/seats": _seat,
    "plan/brief/seats/*/activities": _activity,
    "plan/brief/seats/*/at_peak": _odds,
    "plan/brief/productions": _production,
    "plan/brief/shoots": _shoot,
    "plan/brief/day_parts": _day_part,
    "plan/brief/services": _service,
    "plan/brief/timetable/sessions": _session,
    "plan/brief/timetable/jobs": _job,
    "plan/pools": _pool,
    "plan/boxes": _box,
    "plan/boxes/*/cards": _card,
    "plan/boxes/*/allows": _allow,
    "plan/caches": _cache,
    "plan/volumes": _volume,
    "plan/safekeeping/places": _place,
    "plan/safekeeping/materials": _material,
    "plan/safekeeping/stores": _store,
    "plan/safekeeping/copies": _copy,
    "plan/wiring/switches": _switch,
    "plan/wiring/links": _link,
    "plan/wiring/prices": _part_price,
    "plan/purchases": _purchase,
    "plan/growth/readings": _reading,
    "plan/growth/sales": _sale,
    "plan/growth/steps": _step,
    "plan/mains/batteries": _battery,
    "catalogue/formats": _format,
    "catalogue/drives": _drive_class,
    "catalogue/boxes": _box_class,
    "catalogue/boxes/*/cards": _card,
    "catalogue/boxes/*/allows": _allow,
    "catalogue/prices": _price,
}
"""By the list's path, with ``*`` for an item on its way."""
