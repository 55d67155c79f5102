"""Boxes and their bays: which drive sits where, what a box's list allows there, and what is free.

Bays are written as one says them: ``east:1-8,12 west:1-4``; flash slots have an f: ``east:f1-2``. A pool's or
cache's drives take its bays in the order they are written, spares last; bays beyond its drives are kept for
growth.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from itertools import groupby
from typing import Annotated, Literal, NamedTuple

from pydantic import AfterValidator, StringConstraints

from larder.base.errors import Refused
from larder.base.fields import Amount, Item, RefId, labelled
from larder.base.memo import remembered

from .enclosure import MOST_BAYS, Enclosure, Interface, Slot, fits

DisksReadIn = Literal["unsaid", "any computer", "the same controller", "the same class of box"]
Lies = Literal["member", "spare", "cache", "kept for growth", "free"]
KEPT_BYTES = 10_000_000
BAYS_ACCEPTED = "a box and its bays, such as east:1-8,12 or for flash slots east:f1-2"
_RUN = r"f?\d{1,3}(?:-\d{1,3})?"
_WORD = re.compile(rf"(?P<box>[a-z0-9][a-z0-9-]{{0,39}}):(?P<list>{_RUN}(?:,{_RUN})*)")


class Bay(NamedTuple):
    """One place for a drive; ``number`` counts from 1 in its kind of slot."""

    box_id: str
    slot: Slot
    number: int

    @property
    def said(self) -> str:
        return f"{'flash slot' if self.slot == 'flash slot' else 'bay'} {self.number} of {self.box_id}"


@remembered(KEPT_BYTES, lambda bays, *_: 4_000 + 300 * len(bays))
def parse_bays(text: str, field: str = "bays") -> tuple[Bay, ...]:
    """The bays in ``text``; raises :class:`Refused` for another grammar or a bay said twice."""
    found: list[Bay] = []
    for word in text.split():
        match = _WORD.fullmatch(word)
        if match is None:
            raise Refused(field, word, BAYS_ACCEPTED)
        slot: Slot = "bay"
        for piece in match["list"].split(","):
            slot = "flash slot" if piece.startswith("f") else slot
            first, _, last = piece.lstrip("f").partition("-")
            low, high = int(first), int(last or first)
            if not 1 <= low <= high or high - low >= MOST_BAYS or len(found) > MOST_BAYS:
                raise Refused(field, word, BAYS_ACCEPTED)
            found += [Bay(match["box"], slot, number) for number in range(low, high + 1)]
    if len(set(found)) < len(found):
        twice = next(bay for bay in found if found.count(bay) > 1)
        raise Refused(field, twice.said, "each bay once")
    return tuple(found)


def bays_text(bays: Iterable[Bay]) -> str:
    """Bays as one writes them, in their order, rising runs joined."""
    words = []
    for (box, slot), group in groupby(bays, key=lambda bay: (bay.box_id, bay.slot)):
        mark = "f" if slot == "flash slot" else ""
        runs: list[list[int]] = []
        for bay in group:
            if runs and bay.number == runs[-1][1] + 1:
                runs[-1][1] = bay.number
            else:
                runs.append([bay.number, bay.number])
        listed = ",".join(f"{mark}{low}" if low == high else f"{mark}{low}-{high}" for low, high in runs)
        words.append(f"{box}:{listed}")
    return " ".join(words)


@remembered(KEPT_BYTES, lambda text, *_: 500 + 2 * len(text))
def _bays(value: str) -> str:
    return bays_text(parse_bays(value))


Bays = Annotated[str, StringConstraints(max_length=2000), AfterValidator(_bays), labelled("In the bays")]


class Box(Enclosure, Item):
    """A box of the plan; ``model_id`` is its class in the catalogue, empty where it has none."""

    model_id: Annotated[str, StringConstraints(max_length=40), labelled("Class of box")] = ""
    unit_price: Annotated[Amount | None, labelled("Price", "money", 10)] = None
    ignores_list: Annotated[bool, labelled("Ignore its list")] = False
    is_reused: Annotated[bool, labelled("From stock, costs nothing")] = False
    place_id: Annotated[RefId, labelled("Stands at")] = ""
    has_spare_box: Annotated[bool, labelled("A spare box on the shelf")] = False
    has_spare_controller: Annotated[bool, labelled("A spare controller on the shelf")] = False
    has_spare_supply: Annotated[bool, labelled("A spare supply on the shelf")] = False
    disks_read_in: Annotated[DisksReadIn, labelled("Its disks can be read in")] = "unsaid"

    @property
    def slots(self) -> tuple[tuple[Slot, int], ...]:
        """How many places there are of each kind."""
        return ("bay", self.bays), ("flash slot", self.flash_slots)

    @property
    def places(self) -> frozenset[Bay]:
        """Every place for a drive."""
        return frozenset(Bay(self.id, slot, n) for slot, count in self.slots for n in range(1, count + 1))

    def has(self, bay: Bay) -> bool:
        """Whether there is such a bay."""
        return bay.number <= (self.bays if bay.slot == "bay" else self.flash_slots)


@dataclass(frozen=True)
class Occupant:
    """A pool or cache with its bays and its drives in the order they are placed, spares last.

    ``where`` and ``counted`` are the paths of its bays and of its number of drives.
    """

    id: str
    name: str
    where: str
    counted: str
    bays: tuple[Bay, ...]
    drives_bytes: tuple[int, ...]
    spares: int
    kind: str
    is_cache: bool

    @property
    def placed(self) -> tuple[Bay, ...]:
        """The bays that hold its drives; those beyond are kept for growth."""
        return self.bays[: len(self.drives_bytes)]

    def lies(self, at: int) -> Lies:
        """What the ``at``-th of its bays holds."""
        if at >= len(self.drives_bytes):
            return "kept for growth"
        if self.is_cache:
            return "cache"
        return "spare" if at >= len(self.drives_bytes) - self.spares else "member"


def check_bays(boxes: tuple[Box, ...], occupants: Iterable[Occupant]) -> None:
    """Raise :class:`Refused` for a bay that is not there, taken twice, or that disks do not fit."""
    by_id = {box.id: box for box in boxes}
    taken: dict[Bay, str] = {}
    for occupant in occupants:
        for bay in occupant.bays:
            box = by_id.get(bay.box_id)
            if box is None:
                listed = ", ".join(by_id) or "there is none yet: add a box first"
                raise Refused(occupant.where, bay.box_id, f"the id of a box of this plan ({listed})")
            if not box.has(bay):
                raise Refused(
                    occupant.where, bay.said, f"bays 1 to {box.bays} and flash slots up to {box.flash_slots}"
                )
            if bay in taken:
                raise Refused(occupant.where, bay.said, f"a bay that {taken[bay]} does not have")
            taken[bay] = occupant.name
            if not _takes_kind(box, bay.slot, occupant.kind):
                raise Refused(occupant.where, bay.said, "a bay for disks; this one is for flash")


def check_room(boxes: tuple[Box, ...], occupants: tuple[Occupant, ...]) -> None:
    """Raise :class:`Refused` where somebody who is placed has more drives than bays are left for.

    Who is placed nowhere yet is not held against any box.
    """
    taken = {bay for occupant in occupants for bay in occupant.bays}
    for occupant in occupants:
        count = len(occupant.drives_bytes)
        if not occupant.bays or count <= len(occupant.bays):
            continue
        free = sum(_takes_kind(box, bay.slot, occupant.kind) for box in boxes for bay in box.places - taken)
        if count > len(occupant.bays) + free:
            room = len(occupant.bays) + free
            wanted = (
                f"at most {room}: it has {len(occupant.bays)} bays and {free} more are free; add a box first"
            )
            raise Refused(occupant.counted, count, wanted)


def _takes_kind(box: Box, slot: Slot, kind: str) -> bool:
    """Whether such a place is for disks where disks are asked for; flash goes anywhere."""
    return kind != "hdd" or (slot == "bay" and not box.bay_bus.startswith("pcie"))


def check_interface(boxes: tuple[Box, ...], occupant: Occupant, interface: Interface) -> None:
    """Raise :class:`Refused` where drives with ``interface`` do not work in the bays that they take."""
    by_id = {box.id: box for box in boxes}
    for bay in occupant.bays:
        bus = by_id[bay.box_id].slot_bus(bay.slot)
        if not fits(interface, bus):
            accepted = f"a place for {interface} drives; this one is on {bus}"
            raise Refused(occupant.where, bay.said, accepted)
