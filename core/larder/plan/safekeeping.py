"""Copies of what is kept: places, what copies lie on, which copy is made of what and how often.

A copy is read from where the material lives or from another copy, and lies on a pool, a volume or a store. A
*store* is what is no pool of the plan: loose drives, tapes, a box elsewhere, a service.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints

from larder.base.errors import Refused
from larder.base.fields import (
    Amount,
    BytesPerS,
    Day,
    DistinctIds,
    Item,
    Name,
    Note,
    Number,
    RefId,
    SizeBytes,
    Value,
    labelled,
)

from .material import USUAL_MATERIALS, WHERE_ACCEPTED, Material, Where, parse_where
from .timetable import Clock

StoreKind = Literal[
    "loose disks", "loose flash drives", "linear tape", "optical discs", "a box", "workstations", "a service"
]
MediaKind = Literal["disk", "flash", "tape", "optical", "service"]
Access = Literal["online", "offline", "immutable"]
CopyWay = Literal["adds", "keeps versions", "makes alike"]
SignIn = Literal["unsaid", "everyone shares one", "each has their own", "each their own, administrator apart"]
Alerts = Literal["unsaid", "to nobody", "by mail", "by mail and telephone"]
MEDIA_OF: dict[StoreKind, MediaKind] = {
    "loose disks": "disk",
    "loose flash drives": "flash",
    "linear tape": "tape",
    "optical discs": "optical",
    "a box": "disk",
    "workstations": "flash",
    "a service": "service",
}
LOOSE: frozenset[StoreKind] = frozenset({"loose disks", "loose flash drives", "linear tape", "optical discs"})
"""What is carried, and so dropped or left behind."""
IN_THE_HOUSE = "house"
HOURLY_AT_BEST, MOST_HOURS = 1.0, 8_766.0
TAPES_READ_TWO_BACK_UP_TO = 7
"""Tape drives read two generations back up to the seventh, one from the eighth on (open standard)."""


class Place(Item):
    """Somewhere that burns, floods and is broken into as one; one inside another goes with the outer one.

    ``inside`` is another place, ``house`` for a room or a safe in the house itself, empty for a building of
    its own. A safe keeps thieves out and makes a fire less likely to reach what is in it; it is no place
    elsewhere.
    """

    name: Annotated[Name, labelled("Place")]
    inside: Annotated[RefId, labelled("Inside of")] = ""
    is_safe: Annotated[bool, labelled("A safe")] = False


class Store(Item):
    """What copies lie on besides the plan's pools. Zero is not said; an empty place is the house itself.

    ``unlocked_by`` names the key or account without which it cannot be read; two stores with the same one
    are lost with it together. ``ends_on`` is the day from which a service is no longer paid.
    """

    name: Annotated[Name, labelled("Store")]
    kind: Annotated[StoreKind, labelled("Kind")] = "loose disks"
    place_id: Annotated[RefId, labelled("Kept at")] = ""
    access: Annotated[Access, labelled("Reached")] = "offline"
    size_bytes: Annotated[SizeBytes, labelled("Holds", "TB", 1)] = 0
    read_bytes_per_s: Annotated[BytesPerS, labelled("Reads at", "MB/s", 10)] = 0.0
    write_bytes_per_s: Annotated[BytesPerS, labelled("Writes at", "MB/s", 10)] = 0.0
    survives_drives: Annotated[int, Field(ge=0, le=3), labelled("Survives dead drives", "", 1)] = 0
    fetch_hours: Annotated[Number, Field(ge=0, le=8766), labelled("Until it is here", "h", 1)] = 0.0
    locate_seconds: Annotated[Number, Field(ge=0, le=3600), labelled("Until a file is found", "s", 10)] = 0.0
    generation: Annotated[int, Field(ge=0, le=30), labelled("Generation of the tapes", "", 1)] = 0
    drive_generation: Annotated[int, Field(ge=0, le=30), labelled("Generation of the tape drive", "", 1)] = 0
    unlocked_by: Annotated[Note, labelled("Unlocked by the key or account")] = ""
    unlocked_by_two: Annotated[bool, labelled("A second person can unlock it")] = False
    supplier: Annotated[Note, labelled("Supplier")] = ""
    ends_on: Annotated[Day | None, labelled("Given up on")] = None
    yearly_price: Annotated[Amount | None, labelled("A year costs", "money", 10)] = None
    monthly_price_per_tb: Annotated[Amount | None, labelled("A month costs, per TB", "money", 1)] = None
    retrieval_price_per_tb: Annotated[Amount | None, labelled("To get it back costs, per TB", "money", 1)] = (
        None
    )

    @property
    def media(self) -> MediaKind:
        """What it is written on."""
        return MEDIA_OF[self.kind]

    @property
    def is_readable(self) -> bool:
        """Whether the tape drive at hand reads its tapes; also where nothing is said of them."""
        if self.kind != "linear tape" or not (self.generation and self.drive_generation):
            return True
        back = 2 if self.drive_generation <= TAPES_READ_TWO_BACK_UP_TO else 1
        return 0 <= self.drive_generation - self.generation <= back

    def check(self) -> None:
        """A service is reached over the line, what is loose is not."""
        if self.kind == "a service" and self.access == "offline":
            raise Refused("access", self.access, "online or immutable: a service is reached over the line")
        if self.kind == "a service" and self.place_id:
            raise Refused("place_id", self.place_id, "nothing: a service is kept by its supplier")


def _where(value: str) -> str:
    found = parse_where(value, "to", WHERE_ACCEPTED)
    if not found.id:
        raise Refused("to", value, WHERE_ACCEPTED)
    return found.text


MaterialIds = Annotated[str, StringConstraints(max_length=400, pattern=r"^[a-z0-9 -]*$")]
"""Ids of material, with blanks between them."""


class Copy(Item):
    """A copy that is made again and again; read from ``source_id``, empty for where the material lives.

    ``adds``: what is new is added, nothing is replaced or removed. ``makes alike``: deletions and changes
    travel. Null days and times are not known; ``first_by_hand``: the first one is carried there on drives.
    """

    name: Annotated[Name, labelled("Copy")]
    material_ids: Annotated[MaterialIds, labelled("Of")]
    source_id: Annotated[RefId, labelled("Read from the copy")] = ""
    to: Annotated[str, StringConstraints(max_length=50), AfterValidator(_where), labelled("To")]
    way: Annotated[CopyWay, labelled("How")] = "adds"
    every_hours: Annotated[Number, Field(ge=0, le=MOST_HOURS), labelled("Every", "h", 24)] = 24.0
    from_minute: Annotated[Clock, labelled("From", "clock", 15)] = 1_200
    by_minute: Annotated[Clock, labelled("Done by", "clock", 15)] = 480
    versions_days: Annotated[
        int, Field(ge=0, le=3650), labelled("Earlier versions are kept for", "days", 7)
    ] = 0
    first_by_hand: Annotated[bool, labelled("The first one is carried there")] = False
    newest_on: Annotated[Day | None, labelled("Newest one of")] = None
    read_back_on: Annotated[Day | None, labelled("Last read back")] = None
    people_can_work_on_it: Annotated[bool, labelled("People can work on it")] = False
    switch_hours: Annotated[Number, Field(ge=0, le=720), labelled("Until they do", "h", 0.5)] = 1.0

    @property
    def materials(self) -> tuple[str, ...]:
        """The ids of what it is of."""
        return tuple(self.material_ids.split())

    @property
    def where(self) -> Where:
        """Where it lies."""
        return parse_where(self.to, "to", WHERE_ACCEPTED)

    @property
    def runs_all_the_time(self) -> bool:
        """Whether it follows every change."""
        return self.every_hours < HOURLY_AT_BEST

    def check(self) -> None:
        """Something is copied, versions are kept for some days, and no copy is its own source."""
        if not self.materials:
            raise Refused("material_ids", self.material_ids, "the id of at least one material to copy")
        if len(set(self.materials)) < len(self.materials):
            raise Refused("material_ids", self.material_ids, "each material once")
        if self.source_id == self.id:
            raise Refused("source_id", self.source_id, "empty or another copy: none is read from itself")
        if (self.way == "keeps versions") != bool(self.versions_days):
            wanted = (
                "1 day or more, for it keeps versions"
                if not self.versions_days
                else "0: it keeps no versions"
            )
            raise Refused("versions_days", self.versions_days, wanted)


class Safekeeping(Value):
    """Places, material, stores and copies of a plan, and who is told when something breaks."""

    places: Annotated[tuple[Place, ...], DistinctIds, Field(max_length=24)] = ()
    materials: Annotated[tuple[Material, ...], DistinctIds, Field(max_length=16)] = USUAL_MATERIALS
    stores: Annotated[tuple[Store, ...], DistinctIds, Field(max_length=40)] = ()
    copies: Annotated[tuple[Copy, ...], DistinctIds, Field(max_length=60)] = ()
    sign_in: Annotated[SignIn, labelled("People sign in")] = "unsaid"
    alerts: Annotated[Alerts, labelled("What breaks is told")] = "unsaid"

    def check(self) -> None:
        """Places, sources and material that are named are there, and nothing goes round in a circle."""
        places = {place.id: place.inside for place in self.places}
        for place in self.places:
            where = f"places/{place.id}/inside"
            if place.id == IN_THE_HOUSE:
                raise Refused(f"places/{place.id}/id", place.id, "another id: this one is the house itself")
            if place.inside and place.inside != IN_THE_HOUSE:
                check_known(where, place.inside, places, "a place")
            _no_circle(where, place.id, places, "a place that is not inside of this one")
        for store in self.stores:
            if store.place_id:
                check_known(f"stores/{store.id}/place_id", store.place_id, places, "a place")
        self._check_copies()

    def _check_copies(self) -> None:
        by_id = {copy.id: copy for copy in self.copies}
        sources = {copy.id: copy.source_id for copy in self.copies}
        materials, stores = [m.id for m in self.materials], [s.id for s in self.stores]
        for copy in self.copies:
            where = f"copies/{copy.id}"
            for material in copy.materials:
                check_known(f"{where}/material_ids", material, materials, "a material")
            if copy.where.kind == "store":
                check_known(f"{where}/to", copy.where.id, stores, "a store")
            if copy.source_id:
                check_known(f"{where}/source_id", copy.source_id, by_id, "a copy")
                _no_circle(f"{where}/source_id", copy.id, sources, "a copy that is not read from this one")
                source = by_id[copy.source_id]
                missing = next((each for each in copy.materials if each not in source.materials), None)
                if missing is not None:
                    wanted = (
                        f"material that {source.name} holds ({source.material_ids}): it is read from there"
                    )
                    raise Refused(f"{where}/material_ids", missing, wanted)
                if source.where == copy.where:
                    raise Refused(f"{where}/to", copy.to, "another place than it is read from")

    def place_chain(self, place_id: str) -> Iterator[Place]:
        """The place and what it is inside of, outwards, without the house."""
        places = {place.id: place for place in self.places}
        while place_id and place_id != IN_THE_HOUSE:
            yield places[place_id]
            place_id = places[place_id].inside

    def building(self, place_id: str) -> str:
        """The id of the outermost place around; empty is the house itself."""
        outermost = next(reversed(tuple(self.place_chain(place_id))), None)
        return "" if outermost is None or outermost.inside == IN_THE_HOUSE else outermost.id

    def in_a_safe(self, place_id: str) -> bool:
        """Whether the place or one around it is a safe."""
        return any(place.is_safe for place in self.place_chain(place_id))


def check_known(where: str, value: str, known: Iterable[str], what: str) -> None:
    """Raise :class:`Refused` for an id that is none of ``known``; ``what`` it would be the id of."""
    if value not in known:
        listed = ", ".join(known) or "there is none yet"
        raise Refused(where, value, f"the id of {what} ({listed})")


def _no_circle(where: str, start: str, towards: Mapping[str, str], accepted: str) -> None:
    at, seen = towards[start], {start}
    while at:
        if at in seen:
            raise Refused(where, towards[start], f"empty or {accepted}")
        seen.add(at)
        at = towards.get(at, "")
