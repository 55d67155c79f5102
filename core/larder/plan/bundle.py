"""The bundle: a closed plan file, from which the same figures come on any machine and any day.

It holds the plan, every catalogue item and price it uses, the house rules and the date it is judged on.
"""

from __future__ import annotations

from collections.abc import Mapping
from operator import attrgetter
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field

from larder.base.errors import Refused
from larder.base.fields import (
    Amount,
    Currency,
    Day,
    DistinctIds,
    DriveBytes,
    Item,
    Name,
    Note,
    SizeBytes,
    Value,
    labelled,
)
from larder.base.units import MOST_DRIVES, size_text

from .bays import Box, Occupant, check_bays, check_interface, check_room, parse_bays
from .brief import Brief
from .caches import Cache
from .catalogue import Catalogue
from .enclosure import Interface
from .growth import Growth
from .house_rules import HouseRules
from .mains import Mains
from .material import Material, Where, parse_where
from .pools import Pool
from .ports import check_wiring
from .safekeeping import Copy, Safekeeping, check_known
from .upgrade import NEWEST
from .volumes import Volume
from .wiring import Wiring

MOST_POOLS = 24
MOST_BAYS_IN_ALL = 2_000
MOST_BOUGHT = 10_000
SCHEMA_VERSION = NEWEST


PartKind = Literal[
    "", "rails", "carrier", "cooler", "power lead", "cable", "adapter", "network card", "switch",
    "support contract",
]  # fmt: skip


class Purchase(Item):
    """Something else that is bought, at a price typed on a date.

    ``part`` says which of the things it is that a plan needs and no box brings; so many are then not lacking.
    """

    name: Annotated[Name, labelled("Purchase")]
    part: Annotated[PartKind, labelled("Serves as")] = ""
    count: Annotated[int, Field(ge=0, le=MOST_BOUGHT), labelled("Number")] = 1
    unit_price: Annotated[Amount | None, labelled("Price each", "money", 5)] = None
    priced_on: Annotated[Day | None, labelled("Price of")] = None
    is_reused: Annotated[bool, labelled("From stock, costs nothing")] = False


class Acceptance(Item):
    """A finding that somebody has looked at and lives with; the ``id`` is the finding's key."""

    reason: Annotated[Note, Field(min_length=1), labelled("Reason")]
    by: Annotated[Note, labelled("Accepted by")] = ""


class Plan(Value):
    """One answer to the brief."""

    name: Annotated[Name, labelled("Plan")]
    note: Annotated[Note, labelled("Note")] = ""
    brief: Brief
    pools: Annotated[tuple[Pool, ...], DistinctIds, Field(max_length=MOST_POOLS)] = ()
    boxes: Annotated[tuple[Box, ...], DistinctIds, Field(max_length=40)] = ()
    caches: Annotated[tuple[Cache, ...], DistinctIds, Field(max_length=MOST_POOLS)] = ()
    volumes: Annotated[tuple[Volume, ...], DistinctIds, Field(max_length=200)] = ()
    wiring: Wiring = Wiring()
    safekeeping: Safekeeping = Safekeeping()
    purchases: Annotated[tuple[Purchase, ...], DistinctIds, Field(max_length=500)] = ()
    growth: Growth = Growth()
    mains: Mains = Mains()
    acceptances: Annotated[tuple[Acceptance, ...], DistinctIds, Field(max_length=500)] = ()

    def check(self) -> None:
        """Every cache stands before a pool that there is, and before no other's; volumes lie in pools."""
        pools = [pool.id for pool in self.pools]
        taken: set[str] = set()
        for cache in self.caches:
            where = f"caches/{cache.id}/pool_id"
            if cache.id in pools:
                raise Refused(f"caches/{cache.id}/id", cache.id, "an id that no pool has")
            self._check_pool(where, cache.pool_id)
            if cache.pool_id in taken:
                raise Refused(where, cache.pool_id, "a pool that has no cache yet")
            taken.add(cache.pool_id)
        self._check_amounts()
        for volume in self.volumes:
            self._check_pool(f"volumes/{volume.id}/pool_id", volume.pool_id)
        for pool in self.pools:
            if pool.spares_of:
                self._check_shared_spares(pool)
        self._check_homes()
        for job in self.brief.timetable.jobs:
            for field, pool_id in (("pool_id", job.pool_id), ("to_pool_id", job.to_pool_id)):
                if pool_id:
                    self._check_pool(f"brief/timetable/jobs/{job.id}/{field}", pool_id)
        check_wiring(self)
        self._check_safekeeping()
        self._check_growth()

    def _check_growth(self) -> None:
        """Readings and steps are of pools that there are."""
        for kind, items in (("readings", self.growth.readings), ("steps", self.growth.steps)):
            for item in items:
                self._check_pool(f"growth/{kind}/{item.id}/pool_id", item.pool_id)

    def _check_homes(self) -> None:
        """Who works on a named pool works on one that is there, and beside an archive not on that."""
        for where, users in (("seats", self.brief.seats), ("services", self.brief.services)):
            for user in users:
                if user.works_on and user.works_on not in self.pools_for_work():
                    listed = ", ".join(self.pools_for_work())
                    wanted = f"empty or the id of a pool for work ({listed})"
                    raise Refused(f"brief/{where}/{user.id}/works_on", user.works_on, wanted)

    def pools_for_work(self) -> tuple[str, ...]:
        """The ids of the pools that seats and services may work on: all, where there are not both tiers."""
        work = tuple(pool.id for pool in self.pools if pool.tier == "work")
        return work or tuple(pool.id for pool in self.pools)

    def _check_safekeeping(self) -> None:
        """Material lives, and copies lie, on what is there; boxes stand at places that there are."""
        kept = self.safekeeping
        known = {
            "pool": [pool.id for pool in self.pools],
            "volume": [volume.id for volume in self.volumes],
            "store": [store.id for store in kept.stores],
        }
        lies = [
            (f"safekeeping/materials/{m.id}/lives_on", parse_where(m.lives_on, "lives_on", ""))
            for m in kept.materials
            if m.lives_on
        ]
        lies += [(f"safekeeping/copies/{copy.id}/to", copy.where) for copy in kept.copies]
        for where, at in lies:
            if at.id and at.id not in known[at.kind]:
                listed = ", ".join(known[at.kind]) or "there is none yet"
                raise Refused(where, at.text, f"the id of a {at.kind} of this plan ({listed})")
        places = [place.id for place in kept.places]
        for box in self.boxes:
            if box.place_id:
                check_known(f"boxes/{box.id}/place_id", box.place_id, places, "a place")

    def homes_of(self, material: Material) -> tuple[Where, ...]:
        """Where the material that people use lies: as it says, else by what it is and what the brief says.

        Hot projects and settings lie on the pools for work, what is done with on those of the archive.
        """
        if material.lives_on:
            return (parse_where(material.lives_on, "lives_on", ""),)
        if material.kind == "cards":
            return (Where("cards"),)
        if material.kind == "project files" and self.brief.projects_live == "on each workstation":
            return (Where("workstations"),)
        archive = tuple(pool.id for pool in self.pools if pool.tier == "archive")
        is_done = material.kind in ("archive", "exports")
        pools = archive if is_done and archive else self.pools_for_work()
        return tuple(Where("pool", pool_id) for pool_id in pools)

    def pool_of(self, where: Where) -> str:
        """The id of the pool that something lies on, itself or in a volume; empty where it is on none."""
        if where.kind == "volume":
            return next((volume.pool_id for volume in self.volumes if volume.id == where.id), "")
        return where.id if where.kind == "pool" else ""

    def _check_amounts(self) -> None:
        """No more drives and bays in all than anybody builds; past that a number is a slip of the hand."""
        drives = bays = 0
        for pool in self.pools:
            drives += len(pool.drives_bytes)
            if drives > MOST_DRIVES:
                where = _counted(pool)
                raise Refused(
                    where, f"{drives} with the pools before it", f"at most {MOST_DRIVES} drives in all"
                )
        for box in self.boxes:
            bays += box.bays + box.flash_slots
            if bays > MOST_BAYS_IN_ALL:
                where, said = f"boxes/{box.id}/bays", f"{bays} with the boxes before it"
                raise Refused(where, said, f"at most {MOST_BAYS_IN_ALL} bays and flash slots in all")

    def _check_pool(self, where: str, pool_id: str) -> None:
        check_known(where, pool_id, [pool.id for pool in self.pools], "a pool of this plan")

    def _check_shared_spares(self, pool: Pool) -> None:
        """Another pool's hot spares stand in for any member of ``pool``."""
        where = f"pools/{pool.id}/spares_of"
        fits = [p for p in self.pools if p.id != pool.id and p.spares and p.drive_kind == pool.drive_kind]
        other = next((p for p in fits if p.id == pool.spares_of), None)
        if other is None:
            listed = ", ".join(p.id for p in fits) or "there is none yet: give one a hot spare first"
            wanted = f"empty or another pool with hot spares of its kind ({listed})"
            raise Refused(where, pool.spares_of, wanted)
        spare, largest = min(other.drives_bytes[-other.spares :]), max(pool.members_bytes)
        if spare < largest:
            wanted = (
                f"a pool whose spares are at least {size_text(largest)}, so that they can replace any member"
            )
            raise Refused(where, f"{pool.spares_of}, with a spare of {size_text(spare)}", wanted)

    def with_pool(self, pool: Pool) -> Plan:
        """The plan with this pool in place of the one of the same id, not validated."""
        return self.model_copy(update={"pools": tuple(pool if p.id == pool.id else p for p in self.pools)})

    def check_places(self, interfaces: Mapping[str, Interface]) -> None:
        """Raise :class:`Refused` for bays that are not there, taken twice, or that drives do not fit.

        ``interfaces`` are those that are known, by pool or cache.
        """
        occupants = self.occupants()
        check_bays(self.boxes, occupants)
        check_room(self.boxes, occupants)
        for occupant in occupants:
            if occupant.id in interfaces:
                check_interface(self.boxes, occupant, interfaces[occupant.id])

    def occupants(self) -> tuple[Occupant, ...]:
        """Who takes bays, pools before caches. In mixed sets the smallest drives come first, spares last."""
        pools = tuple(
            Occupant(
                pool.id, pool.name, f"pools/{pool.id}/bays", _counted(pool), parse_bays(pool.bays),
                pool.drives_bytes, pool.spares, pool.drive_kind, is_cache=False,
            )
            for pool in self.pools
        )  # fmt: skip
        return pools + tuple(
            Occupant(
                cache.id, cache.name, f"caches/{cache.id}/bays", f"caches/{cache.id}/drive_count",
                parse_bays(cache.bays),
                (cache.drive_bytes,) * cache.drive_count, 0, "ssd", is_cache=True,
            )
            for cache in self.caches
        )  # fmt: skip


class StockLot(Item):
    """So many drives of one kind and size that may go into a new pool; hours are those of the oldest."""

    kind: Annotated[Literal["hdd", "ssd"], labelled("Kind")]
    interface: Annotated[Interface, labelled("Interface")]
    size_bytes: Annotated[DriveBytes, labelled("Size each", "TB")]
    count: Annotated[int, Field(ge=1, le=10**6), labelled("Drives")]
    hours_run: Annotated[int, Field(ge=0, le=500_000), labelled("Hours run, at most", "h")] = 0
    surface_tested: Annotated[bool, labelled("Surface tested")] = False


class StockFacts(Value):
    """The stock as it was when the plan took it over; ``taken_on`` is null where it never has."""

    taken_on: Annotated[Day | None, labelled("Stock taken on")] = None
    device_count: Annotated[int, Field(ge=0, le=10**6), labelled("Devices")] = 0
    raw_bytes: Annotated[SizeBytes, labelled("Raw", "TB")] = 0
    used_bytes: Annotated[SizeBytes, labelled("Used", "TB")] = 0
    unique_bytes: Annotated[SizeBytes, labelled("Unique", "TB")] = 0
    sole_bytes: Annotated[SizeBytes, labelled("Exists only once", "TB")] = 0
    sole_device_count: Annotated[int, Field(ge=0, le=10**6), labelled("Devices with sole copies")] = 0
    past_age_count: Annotated[int, Field(ge=0, le=10**6), labelled("Past the rule's age")] = 0
    failing_count: Annotated[int, Field(ge=0, le=10**6), labelled("Failing")] = 0
    reusable: Annotated[tuple[StockLot, ...], DistinctIds, Field(max_length=100)] = ()


class Facts(Value):
    """What the plan is judged on besides itself, pinned with every revision."""

    stock: StockFacts = StockFacts()


NumberFormat = Literal["1,234.56", "1.234,56", "1 234,56", "1’234.56"]


class Writing(Value):
    """How a studio writes figures."""

    numbers: Annotated[NumberFormat, labelled("Figures are written as")] = "1,234.56"


def _is_newest(version: str) -> str:
    if version != SCHEMA_VERSION:
        raise Refused("schema", version, SCHEMA_VERSION)
    return version


class Bundle(Value):
    """The whole plan file."""

    schema_version: Annotated[
        str, AfterValidator(_is_newest), Field(alias="schema", json_schema_extra={"const": SCHEMA_VERSION})
    ]
    as_of: Annotated[Day, labelled("Judged on")]
    currency: Annotated[Currency, labelled("Currency")] = "EUR"
    plan: Plan
    catalogue: Catalogue = Catalogue()
    house_rules: HouseRules = HouseRules()
    writing: Writing = Writing()
    facts: Facts = Facts()

    def with_copies(self, copies: tuple[Copy, ...]) -> Bundle:
        """The bundle with these copies in place of its own, not validated."""
        kept = self.plan.safekeeping.model_copy(update={"copies": copies})
        return self.model_copy(update={"plan": self.plan.model_copy(update={"safekeeping": kept})})

    def check(self, before: Bundle | None = None) -> None:
        """Raise :class:`Refused` where parts that are right by themselves do not go together.

        What is the same object as in ``before``, which was right, is not looked at again.
        """
        if not self._shares(before, "plan.brief", "catalogue.formats"):
            self._check_formats()
        if not self._shares(
            before, "plan.pools", "plan.caches", "plan.boxes", "catalogue.drives", "catalogue.boxes"
        ):
            self._check_classes()
        if not self._shares(before, "currency", "catalogue"):
            self._check_prices()
        if not self._shares(before, "as_of", "plan.growth"):
            self._check_readings()

    def _shares(self, before: Bundle | None, *names: str) -> bool:
        """Whether all of these are the same objects as in ``before``."""
        return before is not None and all(attrgetter(n)(self) is attrgetter(n)(before) for n in names)

    def _check_formats(self) -> None:
        known = {f.id for f in self.catalogue.formats}
        for where, format_id in self.plan.brief.formats_used():
            if format_id not in known:
                listed = ", ".join(sorted(known)[:8]) or "none yet: add a format first"
                raise Refused(
                    f"plan/brief/{where}", format_id, f"the id of a format in the catalogue ({listed})"
                )

    def _check_readings(self) -> None:
        """Nothing is read on a day that is not there yet."""
        for reading in self.plan.growth.readings:
            if reading.read_on > self.as_of:
                where, wanted = f"plan/growth/readings/{reading.id}/read_on", f"{self.as_of}, the plan's day"
                raise Refused(where, reading.read_on.isoformat(), f"{wanted}, or before")

    def _check_classes(self) -> None:
        """Pools and caches are of classes that there are and fit their bays; so are boxes."""
        boxes = {box.id for box in self.catalogue.boxes}
        for box in self.plan.boxes:
            if box.model_id and box.model_id not in boxes:
                raise no_class(f"plan/boxes/{box.id}/model_id", box.model_id, "box", boxes)
        drives = {drive.id: drive for drive in self.catalogue.drives}
        placed = [("pools", p.id, p.drive_id) for p in self.plan.pools]
        placed += [("caches", c.id, c.drive_id) for c in self.plan.caches]
        for where, item_id, drive_id in placed:
            if drive_id and drive_id not in drives:
                raise no_class(f"plan/{where}/{item_id}/drive_id", drive_id, "drive", set(drives))
        try:
            self.plan.check_places({i: drives[d].interface for _, i, d in placed if d})
        except Refused as refused:
            raise Refused(f"plan/{refused.field}", refused.value, refused.accepted) from None

    def _check_prices(self) -> None:
        """Prices are in the plan's currency, of classes that there are."""
        classes = {d.id for d in self.catalogue.drives} | {b.id for b in self.catalogue.boxes}
        for price in self.catalogue.prices:
            where = f"catalogue/prices/{price.id}"
            if price.currency != self.currency:
                wanted = f"{self.currency}, the plan's currency: convert it first and say the day"
                raise Refused(f"{where}/currency", price.currency, wanted)
            if price.item_id not in classes:
                raise no_class(f"{where}/item_id", price.item_id, "drive or box", classes)

    def document(self) -> dict[str, Any]:
        """The bundle as plain JSON values, the shape that patches and revisions work on."""
        return self.model_dump(mode="json", by_alias=True)


def _counted(pool: Pool) -> str:
    """Where a pool says how many drives it has."""
    return f"pools/{pool.id}/{'mixed_sizes' if pool.mixed_sizes else 'drive_count'}"


def no_class(where: str, value: str, what: str, known: set[str]) -> Refused:
    """The refusal of a class that the catalogue does not have; ``what`` it would be a class of."""
    listed = ", ".join(sorted(known)[:8]) or "there is none yet: add one to the catalogue first"
    return Refused(where, value, f"empty or the id of a class of {what} in the catalogue ({listed})")
