"""What designs for a brief have in common: people, networks that reach storage, ways to keep copies.

The plan that asks is taken apart: its people, footage, limits, house rules, switches and what is bought
besides stay; pools, boxes, caches, volumes, readings and homes of their own go. Its own network and copies
are the first option of each.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator
from decimal import Decimal
from typing import Literal, NamedTuple

from larder.base.errors import Refused
from larder.base.units import TB
from larder.plan.brief import Brief
from larder.plan.bundle import Bundle, Plan, Purchase
from larder.plan.growth import Growth
from larder.plan.house_rules import HouseRules
from larder.plan.material import Material
from larder.plan.new_item import fresh_id
from larder.plan.ports import SPEEDS, seats_of
from larder.plan.safekeeping import Copy, Place, Safekeeping, Store
from larder.plan.wiring import OUTSIDE, End, Link, PartPrice, Switch

from .design import Choices, KeepingOption, NetworkOption
from .options import DriveOption, Options, options_of

OF_BOXES = frozenset({"rails", "carrier", "cooler", "power lead"})
OF_WIRES = frozenset({"adapter", "cable", "switch", "network card"})
UPGRADES = ("10GbE", "25GbE", "100GbE")
ADAPTER_BUS = {"10GbE": "pcie3x4", "25GbE": "pcie3x8", "100GbE": "pcie4x16"}
SPARE_PORTS = 4
"""For two boxes, the line outside, and one that nobody has thought of."""
TAPED_EVERY_HOURS = 48.0
CARRIED_EVERY_HOURS, FETCHED_HOURS, SWITCHED_HOURS = 168.0, 2.0, 6.0
VERSIONS_DAYS = 30
NIGHTFALL_MINUTE = 1_200
"""From eight in the evening, around the clock if it must be."""
ASKED_FIRST = "at least one seat that plays, writes or ingests something: say first who works"


def choices_of(bundle: Bundle, kept_bytes: float) -> Choices:
    """Everything that designs for the brief of ``bundle`` are made of.

    ``kept_bytes`` is what copies have to hold. Raises :class:`Refused` for a brief that asks for nothing and
    a catalogue from which nothing can be built.
    """
    options = options_of(bundle)
    _check(bundle, options)
    base = _with_lots(stripped(bundle), options)
    return Choices(
        base=base,
        options=options,
        networks=tuple(_networks(bundle.plan, base.plan)),
        keepings=tuple(_keepings(bundle, options, kept_bytes)),
    )


def _check(bundle: Bundle, options: Options) -> None:
    brief, catalogue = bundle.plan.brief, bundle.catalogue
    if not any(seat.count for seat in brief.seats):
        raise Refused("plan/brief/seats", "", ASKED_FIRST, "Seats")
    for listing, found, what in (
        ("drives", options.drives, "class of drive"),
        ("boxes", options.boxes, "class of box"),
    ):
        if found:
            continue
        classes = getattr(catalogue, listing)
        said = f"{len(classes)} without a price" if classes else "an empty list"
        wanted = f"at least one {what} with a price on {bundle.as_of}: bring a list, or type prices"
        raise Refused(f"catalogue/{listing}", said, wanted, "Catalogue")


def stripped(bundle: Bundle) -> Bundle:
    """The plan without storage, and nobody at home anywhere."""
    plan = bundle.plan
    kept = plan.safekeeping
    materials = tuple(_at_home(material) for material in kept.materials)
    alerts = "by mail" if kept.alerts == "unsaid" else kept.alerts
    return bundle.model_copy(
        update={
            "plan": plan.model_copy(
                update={
                    "brief": _brief(plan.brief),
                    "pools": (),
                    "boxes": (),
                    "caches": (),
                    "volumes": (),
                    "acceptances": (),
                    "growth": Growth(calendar_repeats=plan.growth.calendar_repeats, sales=plan.growth.sales),
                    "safekeeping": kept.model_copy(
                        update={"materials": materials, "stores": (), "copies": (), "alerts": alerts}
                    ),
                    "purchases": tuple(p for p in plan.purchases if p.part not in OF_BOXES),
                }
            )
        }
    )


def _with_lots(base: Bundle, options: Options) -> Bundle:
    """The plan with classes for drives from stock of which the catalogue knows none."""
    own = tuple(option.model for option in options.drives if option.only_lot)
    catalogue = base.catalogue.model_copy(update={"drives": (*base.catalogue.drives, *own)})
    return base.model_copy(update={"catalogue": catalogue})


def _at_home(material: Material) -> Material:
    """Material that lived on a pool or volume lives where the brief puts it."""
    is_named = material.lives_on.startswith(("pool:", "volume:"))
    return material.model_copy(update={"lives_on": ""}) if is_named else material


def _brief(brief: Brief) -> Brief:
    seats = tuple(seat.model_copy(update={"works_on": "", "mounts_by": ""}) for seat in brief.seats)
    services = tuple(service.model_copy(update={"works_on": ""}) for service in brief.services)
    timetable = brief.timetable
    jobs = tuple(job for job in timetable.jobs if not job.pool_id and not job.to_pool_id)
    return brief.model_copy(
        update={
            "seats": seats,
            "services": services,
            "timetable": timetable.model_copy(update={"jobs": jobs}),
        }
    )


def _networks(plan: Plan, base: Plan) -> Iterator[NetworkOption]:
    """The plan's own switches and seats' links; and a faster switch with new adapters, where prices tell."""
    own = _own_network(plan)
    yield own
    speeds = {link.speed for link in own.links if link.ends[0].kind == "seat"}
    slowest = min((SPEEDS.index(speed) for speed in speeds), default=0)
    prices: dict[tuple[str, str], PartPrice] = {(p.part, p.speed): p for p in plan.wiring.prices}
    for speed in UPGRADES:
        has_prices = all((part, speed) in prices for part in ("switch", "adapter", "cable"))
        if has_prices and SPEEDS.index(speed) > slowest:
            yield _faster(base, own, speed, prices)


def _own_network(plan: Plan) -> NetworkOption:
    links = tuple(link for link in plan.wiring.links if link.ends[1].kind == "switch")
    switches = plan.wiring.switches
    seats = seats_of(plan)
    if not switches:
        count = sum(seats.values()) + SPARE_PORTS
        switches = (Switch(id="switch", name="Switch", ports=f"{count}x10GbE"),)
    plugged = {link.ends[0].id for link in links if link.ends[0].kind == "seat"}
    taken = [link.id for link in links]
    on: Counter[str] = Counter()
    for link in links:
        if link.ends[0].kind == "seat":
            on[link.far] += seats.get(link.ends[0].id, 0)
    main = max(switches, key=lambda switch: on[End("switch", switch.id).text])
    for seat_id in seats:
        if seat_id not in plugged:
            speed = _speed_of(plan, seat_id)
            new = fresh_id(f"plug-{seat_id}", taken)
            taken.append(new)
            links += (
                Link(id=new, near=End("seat", seat_id).text, far=End("switch", main.id).text, speed=speed),
            )
    return NetworkOption("the network as planned", switches, links, main.id, "10GbE")


def _speed_of(plan: Plan, seat_id: str) -> str:
    """The port of a seat that was plugged straight into a box."""
    own = (link.speed for link in plan.wiring.links if link.ends[0] == End("seat", seat_id))
    return next(own, "10GbE")


def _faster(
    base: Plan, own: NetworkOption, speed: str, prices: dict[tuple[str, str], PartPrice]
) -> NetworkOption:
    """One new switch, and everybody in the office on it with a new adapter."""
    seats = seats_of(base)
    switch_id = fresh_id(f"switch-{speed.lower().replace('.', '-')}", (s.id for s in own.switches))
    count = sum(seats.values()) + SPARE_PORTS
    switch, adapter, cable = (prices[part, speed] for part in ("switch", "adapter", "cable"))
    far = End("switch", switch_id).text
    links = tuple(
        Link(
            id=f"plug-{seat_id}",
            near=End("seat", seat_id).text,
            far=far,
            speed=speed,
            adapter=ADAPTER_BUS[speed],
        )
        for seat_id in seats
    )
    links += tuple(
        link.model_copy(update={"far": far, "far_ports": ""}) for link in own.links if link.ends[0] == OUTSIDE
    )
    bought = (
        ("adapter", f"Network adapter, {speed}", adapter, sum(seats.values())),
        ("cable", f"Cable for {speed}", cable, sum(seats.values()) + 2),
    )
    return NetworkOption(
        f"a new switch and adapters at {speed}",
        (
            Switch(
                id=switch_id,
                name=f"{speed} switch",
                ports=f"{count}x{speed}",
                unit_price=switch.unit_price,
            ),
        ),
        links,
        switch_id,
        speed,
        tuple(
            Purchase(
                id=f"new-{part}s", name=name, part=part, count=count, unit_price=price.unit_price,
                priced_on=price.priced_on,
            )
            for part, name, price, count in bought
        ),
    )  # fmt: skip


def _keepings(bundle: Bundle, options: Options, kept_bytes: float) -> Iterator[KeepingOption]:
    """The plan's own copies and stores; then disks that are carried away, tape, a service, and pairs."""
    kept = stripped(bundle).plan.safekeeping
    own = bundle.plan.safekeeping
    outside = _outside_copies(own.copies)
    if outside:
        used = {copy.where.id for copy in outside}
        stores = tuple(store for store in own.stores if store.id in used)
        yield KeepingOption(
            "copies as planned", kept.model_copy(update={"stores": stores, "copies": outside})
        )
    if own.stores:
        yield _onto_own_stores(own, kept)
    means = _Means(kept, _cheapest_disk(options, kept_bytes), kept_bytes, bundle.house_rules)
    if means.disk is not None:
        yield means.kept("loose disks, carried elsewhere every week", "away")
        yield means.kept("two sets of loose disks, one of them elsewhere", "away", "here")
        yield means.kept("loose disks carried elsewhere, and tape", "away", "tape")
        yield means.kept("loose disks carried elsewhere, and a service", "away", "service")
    yield means.kept("a service", "service")


def _onto_own_stores(own: Safekeeping, kept: Safekeeping) -> KeepingOption:
    """Everything onto every store that is there, as often as what goes there now."""
    of = _all_of(kept)
    copies = []
    for store in own.stores:
        known = next((copy for copy in own.copies if copy.to == f"store:{store.id}"), None)
        every = known.every_hours if known else CARRIED_EVERY_HOURS if store.access == "offline" else 24.0
        copies.append(
            known.model_copy(update={"material_ids": of, "source_id": "", "by_minute": known.from_minute})
            if known
            else Copy(
                id=f"to-{store.id}"[:40],
                name=f"Everything to {store.name}"[:80],
                material_ids=of,
                to=f"store:{store.id}",
                every_hours=every,
            )
        )
    update = {"stores": own.stores, "copies": tuple(copies)}
    return KeepingOption("everything onto the stores that are there", kept.model_copy(update=update))


def _outside_copies(copies: tuple[Copy, ...]) -> tuple[Copy, ...]:
    """Copies that lie on stores, read from where the material lives where their source is gone."""
    kept = [copy for copy in copies if copy.where.kind == "store"]
    ids = {copy.id for copy in kept}
    return tuple(
        copy if copy.source_id in ids else copy.model_copy(update={"source_id": ""}) for copy in kept
    )


def _cheapest_disk(options: Options, kept_bytes: float) -> DriveOption | None:
    disks = [drive for drive in options.drives if drive.model.kind == "hdd" and drive.lot is None]
    return min(disks, key=lambda drive: _disks_for(drive, kept_bytes) * drive.price, default=None)


def _disks_for(drive: DriveOption, kept_bytes: float) -> int:
    return max(math.ceil(kept_bytes / drive.model.size_bytes), 1)


def _all_of(kept: Safekeeping) -> str:
    return " ".join(material.id for material in kept.materials if material.kind != "cards")


Means = Literal["away", "here", "tape", "service"]


class _Means(NamedTuple):
    """What copies are made with: the disk that is cheapest for all of it, and the house's prices."""

    safekeeping: Safekeeping
    disk: DriveOption | None
    kept_bytes: float
    rules: HouseRules

    def kept(self, words: str, *means: Means) -> KeepingOption:
        """Copies of all that is kept: on disks that are carried away or stay, on tape, over the line."""
        of, places = _all_of(self.safekeeping), self.safekeeping.places
        place_id = fresh_id("elsewhere", (place.id for place in places))
        if "away" in means:
            places += (Place(id=place_id, name="A place elsewhere"),)
        made = [_made(mean, of, place_id, self.rules) for mean in means]
        update = {
            "places": places,
            "stores": tuple(store for store, _ in made),
            "copies": tuple(copy for _, copy in made),
        }
        return KeepingOption(words, self.safekeeping.model_copy(update=update), tuple(self._bought(means)))

    def _bought(self, means: tuple[Means, ...]) -> Iterator[Purchase]:
        sets = means.count("away") + means.count("here")
        if sets and self.disk is not None:
            count = _disks_for(self.disk, self.kept_bytes) * sets
            name = f"Loose disks for copies: {self.disk.model.name}"[:80]
            yield Purchase(id="copy-disks", name=name, count=count, unit_price=self.disk.price)
        if "tape" in means:
            tapes = max(math.ceil(self.kept_bytes / TB), 1)
            each = (self.rules.tape_drive_price, self.rules.tape_tb_price)
            drive, per_tb = (Decimal(str(price)) for price in each)
            yield Purchase(id="tape-drive", name="Drive for linear tape", count=1, unit_price=drive)
            yield Purchase(id="tapes", name="Tapes, by the TB", count=tapes, unit_price=per_tb)


def _made(means: Means, of: str, place_id: str, rules: HouseRules) -> tuple[Store, Copy]:
    """A store and the copy that goes there."""
    match means:
        case "away":
            store = Store(
                id="carried", name="Disks kept elsewhere", place_id=place_id, fetch_hours=FETCHED_HOURS
            )
            return store, Copy(
                id="carried",
                name="Carried elsewhere every week",
                material_ids=of,
                to="store:carried",
                every_hours=CARRIED_EVERY_HOURS,
                people_can_work_on_it=True,
                switch_hours=SWITCHED_HOURS,
            )
        case "here":
            store = Store(id="shelf", name="Disks on the shelf")
            return store, Copy(id="nightly", name="Every night", material_ids=of, to="store:shelf")
        case "tape":
            store = Store(id="tape", name="Tapes on the shelf", kind="linear tape")
            return store, Copy(
                id="tape",
                name="Every other night to tape",
                material_ids=of,
                to="store:tape",
                every_hours=TAPED_EVERY_HOURS,
            )
    store = Store(
        id="service",
        name="Service off site",
        kind="a service",
        access="immutable",
        unlocked_by="studio account",
        unlocked_by_two=True,
        monthly_price_per_tb=Decimal(str(rules.service_tb_month_price)),
        retrieval_price_per_tb=Decimal(str(rules.service_tb_back_price)),
    )
    return store, Copy(
        id="service", name="Every night to the service", material_ids=of, to="store:service",
        way="keeps versions", versions_days=VERSIONS_DAYS, first_by_hand=True,
        from_minute=NIGHTFALL_MINUTE, by_minute=NIGHTFALL_MINUTE,
    )  # fmt: skip
