"""What a box is: bays and slots, the buses behind them, card slots, memory, processor, supply.

A box of the plan and a class of box in the catalogue are described by the same fields. What is left out is
not known, and then nothing is limited by it.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from larder.base.fields import DistinctIds, DriveBytes, Item, Name, Number, SizeBytes, Value, labelled
from larder.laws.path import BUS_BYTES_PER_S
from larder.laws.processor import CORES, ProcessorClass

from .vocabulary import Ports

Slot = Literal["bay", "flash slot"]
Role = Literal["pool", "cache", "volume", "spare"]
Interface = Literal["sata", "sas", "nvme", "usb"]
Bus = Literal[
    "", "sata3", "sas3", "usb5G", "usb10G", "usb4",
    "pcie3x1", "pcie3x2", "pcie3x4", "pcie3x8", "pcie3x16",
    "pcie4x1", "pcie4x2", "pcie4x4", "pcie4x8", "pcie4x16",
    "pcie5x1", "pcie5x2", "pcie5x4", "pcie5x8", "pcie5x16",
]  # fmt: skip
MOST_BAYS = 500
_FITS: dict[str, tuple[str, ...]] = {"sata": ("sata3", "sas3"), "sas": ("sas3",), "usb": ()}
"""A SATA drive runs in a SAS bay, not the other way round; NVMe wants PCIe lanes."""


def fits(interface: Interface, bus: Bus) -> bool:
    """Whether a drive with ``interface`` works in a place wired as ``bus``; one not said takes any."""
    if not bus:
        return True
    return bus.startswith("pcie") if interface == "nvme" else bus in _FITS[interface]


def lanes_of(bus: Bus) -> int:
    """PCIe lanes of a bus such as ``pcie4x8``; other buses have none."""
    return int(bus.rpartition("x")[2]) if bus.startswith("pcie") else 0


def lanes_for(bytes_per_s: float, generation: int) -> int:
    """The fewest PCIe lanes of a generation that carry ``bytes_per_s`` in one direction."""
    return math.ceil(bytes_per_s / BUS_BYTES_PER_S[f"pcie{generation}x1"])


def bus_bytes_per_s(bus: Bus, links: int = 1) -> float | None:
    """What ``links`` of a bus carry in one direction, bytes/s; None for one that is not said."""
    return BUS_BYTES_PER_S[bus] * links if bus else None


class Allow(Item):
    """What a box's list lets into one kind of slot in one role, up to a size."""

    slot: Annotated[Slot, labelled("Slot")] = "bay"
    role: Annotated[Role, labelled("Role")] = "pool"
    kind: Annotated[Literal["hdd", "ssd"], labelled("Kind")] = "hdd"
    largest_bytes: Annotated[DriveBytes, labelled("Up to", "TB", 2)]


class CardSlot(Item):
    """A slot for a card. ``bus`` is what is truly wired, which may be less than the slot is long."""

    name: Annotated[Name, labelled("Card slot")]
    bus: Annotated[Bus, labelled("Wired as")] = "pcie3x8"
    holds: Annotated[
        Literal["empty", "network card", "flash carrier", "controller card"], labelled("Holds")
    ] = "empty"
    flash_drives: Annotated[int, Field(ge=0, le=16), labelled("Flash slots on it")] = 0
    splits: Annotated[bool, labelled("Splits its lanes")] = False
    ports: Annotated[Ports, labelled("Ports on it")] = ""


class Enclosure(Value):
    """The fields that a box and a class of boxes share.

    ``shared_bus`` is what the drives in its bays have to pass together: the controller's slot, or the USB
    or SAS cable of an expansion unit, which all in it passes. Flash slots have lanes of their own.
    ``flash_slots`` counts those on flash carriers as well.
    """

    name: Annotated[Name, labelled("Box")]
    form: Annotated[Literal["desktop", "rack", "expansion unit"], labelled("Form")] = "desktop"
    bays: Annotated[int, Field(ge=1, le=MOST_BAYS), labelled("Bays")] = 8
    bay_bus: Annotated[Bus, labelled("Each bay on")] = ""
    flash_slots: Annotated[int, Field(ge=0, le=32), labelled("Flash slots")] = 0
    flash_bus: Annotated[Bus, labelled("Each flash slot on")] = ""
    shared_bus: Annotated[Bus, labelled("Drives in bays pass")] = ""
    shared_links: Annotated[int, Field(ge=1, le=16), labelled("Links of it")] = 1
    lanes: Annotated[int, Field(ge=0, le=512), labelled("PCIe lanes in all")] = 0
    cards: Annotated[tuple[CardSlot, ...], DistinctIds, Field(max_length=12)] = ()
    ports: Annotated[Ports, labelled("Ports")] = ""
    memory_bytes: Annotated[SizeBytes, labelled("Memory", "GB", 8)] = 0
    memory_most_bytes: Annotated[SizeBytes, labelled("Memory at most", "GB", 8)] = 0
    has_error_correction: Annotated[bool, labelled("Error-correcting memory")] = False
    processor: Annotated[ProcessorClass, labelled("Processor")] = ""
    ordinary_cores: Annotated[
        Number | None, Field(gt=0, le=1000), labelled("Ordinary cores, measured", "", 0.5)
    ] = None
    supply_watts: Annotated[int, Field(ge=0, le=20_000), labelled("Supply", "W", 50)] = 0
    supplies: Annotated[int, Field(ge=1, le=4), labelled("Supplies")] = 1
    board_watts: Annotated[Number, Field(ge=0, le=5000), labelled("Takes without drives", "W", 5)] = 0.0
    spins_up_together: Annotated[bool, labelled("Spins all disks up at once")] = True
    brings_rails: Annotated[bool, labelled("Comes with rails")] = True
    brings_carriers: Annotated[bool, labelled("Comes with drive carriers")] = True
    brings_cooler: Annotated[bool, labelled("Comes with a cooler")] = True
    drive_leads: Annotated[int, Field(ge=0, le=500), labelled("Power leads for drives", "", 1)] = 0
    noise_dba: Annotated[Number, Field(ge=0, le=120), labelled("Noise", "dB(A)", 1)] = 0.0
    mass_kg: Annotated[Number, Field(ge=0, le=500), labelled("Mass, empty", "kg", 0.5)] = 0.0
    allows: Annotated[tuple[Allow, ...], DistinctIds, Field(max_length=30)] = ()

    def slot_bus(self, slot: Slot) -> Bus:
        """What one place of this kind is wired as."""
        return self.bay_bus if slot == "bay" else self.flash_bus

    def carrier_of(self, slot: Slot, number: int) -> CardSlot | None:
        """The flash carrier that a place is on: the box's own flash slots come first, then its cards'."""
        carriers = [card for card in self.cards if card.holds == "flash carrier" and card.flash_drives]
        if slot == "bay" or not carriers:
            return None
        beyond = number - (self.flash_slots - sum(card.flash_drives for card in carriers))
        for card in carriers:
            if 0 < beyond <= card.flash_drives:
                return card
            beyond -= card.flash_drives
        return None

    def place_bytes_per_s(self, slot: Slot, number: int) -> tuple[float, str] | None:
        """(bytes/s, said) of what one place lets through; None where it is not known.

        The drives on a carrier share the lanes of its slot evenly.
        """
        bus, card = self.slot_bus(slot), self.carrier_of(slot, number)
        own = (BUS_BYTES_PER_S[bus], f"{slot} on {bus}") if bus else None
        if card is None or not card.bus:
            return own
        each = BUS_BYTES_PER_S[card.bus] / card.flash_drives
        shared = each, f"{card.name}, {card.flash_drives} drives on {card.bus}"
        return shared if own is None or each < own[0] else own

    def allowed(self, slot: Slot, role: Role, kind: str, drive_bytes: int) -> bool:
        """Whether its list takes such a drive there; an empty list takes all."""
        return not self.allows or any(
            a.slot == slot and a.role == role and a.kind == kind and drive_bytes <= a.largest_bytes
            for a in self.allows
        )

    @property
    def cores(self) -> float:
        """Ordinary cores: the measured ones, else those of its class; 0 where neither is said."""
        return self.ordinary_cores or CORES.get(self.processor, 0.0)

    @property
    def lanes_wanted(self) -> int:
        """PCIe lanes that flash slots, bays and card slots are wired for; carriers' drives sit in theirs."""
        on_carriers = sum(card.flash_drives for card in self.cards if card.holds == "flash carrier")
        own = max(self.flash_slots - on_carriers, 0)
        # A controller card's lanes are those of the slot it sits in.
        has_card = any(card.holds == "controller card" for card in self.cards)
        return (
            own * lanes_of(self.flash_bus)
            + self.bays * lanes_of(self.bay_bus)
            + (0 if has_card else lanes_of(self.shared_bus) * self.shared_links)
            + sum(lanes_of(card.bus) for card in self.cards)
        )
