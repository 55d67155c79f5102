"""What lies on the shelf: drives, cards and boxes, and the material on them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from larder.base.errors import Refused
from larder.base.fields import Day, ItemId, Name, Note, Number, SizeBytes, Value, labelled
from larder.base.units import size_text
from larder.plan.vocabulary import CopyRole, DriveClass, Medium, Ports, Recording, Worth

SMALLEST_DEVICE_BYTES, LARGEST_DEVICE_BYTES = 10**9, 10**15


class Holding(Value):
    """Material on a device: a project or shoot, and how many bytes of it lie here."""

    material: Annotated[Name, labelled("Material")]
    bytes: Annotated[SizeBytes, labelled("Bytes", "GB", 10)]
    worth: Annotated[Worth, labelled("Worth")] = "costly"
    role: Annotated[CopyRole, labelled("Main or backup")] = "unsaid"
    read_back_on: Annotated[Day | None, labelled("Last read back")] = None


class StockItem(Value):
    """One device of the stock, as it lies on the shelf.

    A box has ports and bays; its own size is 0 where its drives are listed, since their bytes count once.
    ``box`` is the label of the box that a drive sits in.
    """

    id: ItemId
    label: Annotated[Name, labelled("Label")]
    kind: Annotated[Literal["drive", "card", "box"], labelled("Kind")] = "drive"
    medium: Annotated[Medium, labelled("Medium")] = "hdd"
    drive_class: Annotated[DriveClass, labelled("Class")] = "unknown"
    size_bytes: Annotated[SizeBytes, labelled("Size", "TB", 1)]
    used_bytes: Annotated[SizeBytes, labelled("Used", "TB", 0.1)] = 0
    interface: Annotated[Literal["sata", "sas", "nvme", "usb", "ethernet", "card"], labelled("Interface")] = (
        "sata"
    )
    recording: Annotated[Recording, labelled("Recording")] = "unknown"
    serial: Annotated[Note, labelled("Serial")] = ""
    place: Annotated[Note, labelled("Place")] = ""
    box: Annotated[Note, labelled("In box")] = ""
    ports: Annotated[Ports, labelled("Ports")] = ""
    bays: Annotated[int | None, Field(ge=0, le=200), labelled("Bays")] = None
    holder: Annotated[Note, labelled("Handed to")] = ""
    handed_on: Annotated[Day | None, labelled("Handed over")] = None
    is_encrypted: Annotated[bool, labelled("Encrypted")] = False
    bought_on: Annotated[Day | None, labelled("Bought")] = None
    warranty_end: Annotated[Day | None, labelled("Warranty until")] = None
    tested_on: Annotated[Day | None, labelled("Surface tested")] = None
    hours_run: Annotated[int | None, Field(ge=0, le=500_000), labelled("Hours run", "h", 100)] = None
    reallocated_sectors: Annotated[int | None, Field(ge=0, le=10**9), labelled("Reallocated sectors")] = None
    temperature_c: Annotated[Number | None, Field(ge=-40, le=120), labelled("Temperature", "°C", 1)] = None
    holdings: Annotated[tuple[Holding, ...], Field(max_length=500)] = ()

    def check(self) -> None:
        """A size that the kind can have, no more used than that, and box matters only where they belong."""
        is_open_box = self.kind == "box" and self.size_bytes == 0
        if not is_open_box and not SMALLEST_DEVICE_BYTES <= self.size_bytes <= LARGEST_DEVICE_BYTES:
            box = ", or 0 for a box whose drives are listed" if self.kind == "box" else ""
            raise Refused("size_bytes", self.size_bytes, f"a size from 1 GB to 1000 TB{box}")
        if not is_open_box and self.used_bytes > self.size_bytes:
            raise Refused("used_bytes", self.used_bytes, f"at most the size, {size_text(self.size_bytes)}")
        if self.kind == "box" and self.box:
            raise Refused("box", self.box, "nothing: a box stands in no other box")
        if self.kind != "box" and self.ports:
            raise Refused("ports", self.ports, "nothing: only a box has ports; a drive has its interface")

    @property
    def unit(self) -> str:
        """What fails as one: the box for all that is in it, else the device itself."""
        if self.box:
            return f"box {self.box}"
        return f"box {self.label}" if self.kind == "box" else self.id
