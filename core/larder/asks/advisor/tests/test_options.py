"""What a catalogue allows, with classes written out by hand: what fits where, and which of very many are kept."""

import unittest
from decimal import Decimal
from types import SimpleNamespace as Of
from typing import Any

from larder.asks.advisor.options import LONG_FROM, CacheChoice, DriveOption, Options, Place, _fewer
from larder.laws.layout import parse_layout


def drive(kind: str = "ssd", interface: str = "nvme") -> Any:
    return Of(kind=kind, interface=interface, size_bytes=4)


def options(
    *,
    bay_bus: str = "sata3",
    slot_bus: str = "pcie3x4",
    slots: int = 2,
    unit: Any = None,
    allowed: Any = True,
) -> Options:
    holds = Of(
        slot_bus=lambda slot: slot_bus if slot == "flash slot" else bay_bus,
        allowed=lambda *asked: asked in allowed if isinstance(allowed, set) else allowed,
    )
    box: Any = Of(holds_drives=holds, model=Of(flash_slots=slots), unit=unit)
    drives: Any = (Of(model=drive()), Of(model=drive("hdd", "sata")))
    return Options((box,), drives, (), (), (), ())


BAY, SLOT = Place(0, "bay", 4), Place(0, "flash slot", 2)


class Fits(unittest.TestCase):
    def test_disks_go_into_bays_and_never_where_only_flash_does(self) -> None:
        disk, flash = drive("hdd", "sata"), drive()
        self.assertTrue(options().takes(BAY, disk, "pool"))
        self.assertFalse(options().takes(SLOT, disk, "pool"))
        self.assertFalse(options(bay_bus="pcie4x4").takes(BAY, disk, "pool"))
        # A flash slot on SATA takes no disk either, though the plug would fit.
        self.assertFalse(options(slot_bus="sata3").takes(SLOT, disk, "pool"))
        self.assertTrue(options().takes(SLOT, flash, "volume"))
        self.assertFalse(options().takes(BAY, flash, "pool"))

    def test_a_box_has_its_list_by_slot_and_role(self) -> None:
        mine = options(allowed={("bay", "pool", "hdd", 4), ("flash slot", "volume", "ssd", 4)})
        self.assertTrue(mine.takes_member(BAY, Of(model=drive("hdd", "sata"))))  # type: ignore[arg-type]
        self.assertTrue(mine.takes_member(SLOT, Of(model=drive())))  # type: ignore[arg-type]
        self.assertFalse(mine.takes(SLOT, drive(), "cache"))

    def test_a_cache_needs_slots_of_the_box_itself_and_its_own_kind_of_layout(self) -> None:
        raid, files = parse_layout("raid6"), parse_layout("filewise2")

        def takes(of: Options, layout: Any, mode: Any, drives: int = 2) -> bool:
            return of.takes_cache(0, layout, CacheChoice(mode, 0, drives, is_mirrored=True))

        for layout, mode, yes in (
            (raid, "read", True), (raid, "write-back", True), (raid, "staging", False),
            (files, "read", True), (files, "write-back", False), (files, "staging", True),
        ):  # fmt: skip
            self.assertEqual(takes(options(), layout, mode), yes, (layout.name, mode))
        self.assertTrue(takes(options(slots=2), raid, "read", 2))
        self.assertFalse(takes(options(slots=2), raid, "read", 3))
        self.assertFalse(takes(options(unit=Of()), raid, "read"))
        self.assertFalse(takes(options(allowed=False), raid, "read"))

    def test_a_look_at_all_is_long_from_so_many_pairs(self) -> None:
        def pairs(boxes: int, drives: int) -> bool:
            each: Any = (Of(),)
            return Options(each * boxes, each * drives, (), (), (), ()).takes_long

        self.assertFalse(pairs(1, LONG_FROM))
        self.assertTrue(pairs(1, LONG_FROM + 1))


class Drives(unittest.TestCase):
    def test_what_is_there_and_what_can_be_bought_besides(self) -> None:
        lot: Any = Of(count=5)
        model: Any = Of(size_bytes=8)
        bought, both = DriveOption(model, Decimal(1)), DriveOption(model, Decimal(1), lot)
        only = DriveOption(model, Decimal(0), lot, only_lot=True)
        self.assertEqual(
            [(each.in_stock, each.most) for each in (bought, both, only)], [(0, None), (5, None), (5, 5)]
        )
        self.assertEqual(
            (bought.mean_bytes, DriveOption(model, Decimal(0), sizes=(4, 8)).mean_bytes), (8.0, 6.0)
        )

    def test_of_very_many_the_cheapest_of_each_kind_stay_in_their_order(self) -> None:
        classes = ("a3", "b9", "a1", "a2", "b8", "c5")

        def kept(most: int) -> list[str]:
            return list(_fewer(classes, most, lambda each: each[0], lambda each: Decimal(each[1])))

        self.assertEqual(kept(9), list(classes))
        self.assertEqual(kept(3), ["a1", "b8", "c5"])
        self.assertEqual(kept(4), ["a1", "a2", "b8", "c5"])
        self.assertEqual(kept(1), ["a1"])
