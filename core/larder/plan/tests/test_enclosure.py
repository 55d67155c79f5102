"""Boxes: lanes wanted by hand, lanes for a rate, what a list lets in, and room for drives by brute force."""

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.units import TB
from larder.laws.path import BUS_BYTES_PER_S, PCIE_GENERATIONS
from larder.laws.processor import CORES
from larder.plan.bays import Bay, Box, Occupant, check_room
from larder.plan.enclosure import Allow, bus_bytes_per_s, lanes_for, lanes_of


def box(box_id: str = "box", **fields: Any) -> Box:
    return Box.model_validate({"id": box_id, "name": "Box", "bays": 8} | fields)


class Lanes(unittest.TestCase):
    def test_slots_cards_and_the_controller_by_hand(self) -> None:
        for fields, lanes in (
            ({}, 0),
            ({"bay_bus": "sata3", "shared_bus": "sas3", "shared_links": 4}, 0),
            ({"bays": 24, "bay_bus": "pcie4x2"}, 48),
            ({"flash_slots": 2, "flash_bus": "pcie3x4"}, 8),
            ({"shared_bus": "pcie3x4", "shared_links": 2}, 8),
            ({"cards": [card("pcie3x8"), card("pcie4x4")]}, 12),
            # Flash on a carrier sits in the carrier's lanes, the controller in those of its slot.
            ({"flash_slots": 3, "flash_bus": "pcie3x4", "cards": [card("pcie4x8", "flash carrier", 2)]}, 12),
            ({"shared_bus": "pcie3x8", "cards": [card("pcie3x8", "controller card")]}, 8),
        ):
            self.assertEqual(box(**fields).lanes_wanted, lanes, fields)

    @given(st.sampled_from(PCIE_GENERATIONS), st.sampled_from((1, 2, 4, 8, 16)))
    def test_a_bus_wants_just_its_own_lanes_and_a_byte_more_wants_another(
        self, generation: int, width: int
    ) -> None:
        rate = BUS_BYTES_PER_S[f"pcie{generation}x{width}"]
        self.assertEqual(lanes_for(rate * 0.999, generation), width)
        self.assertEqual(lanes_for(rate * 1.001, generation), width + 1)
        self.assertEqual(lanes_of(f"pcie{generation}x{width}"), width)  # type: ignore[arg-type]

    def test_links_add_and_what_is_not_said_limits_nothing(self) -> None:
        self.assertEqual(bus_bytes_per_s("sas3", 4), 4 * BUS_BYTES_PER_S["sas3"])
        self.assertIsNone(bus_bytes_per_s(""))

    def test_measured_cores_win_over_the_class(self) -> None:
        self.assertEqual(box(processor="middle").cores, CORES["middle"])
        self.assertEqual(box(processor="middle", ordinary_cores=3.5).cores, 3.5)
        self.assertEqual(box().cores, 0)


def card(bus: str, holds: str = "empty", drives: int = 0) -> dict[str, Any]:
    return {
        "id": f"{bus}-{holds.split(maxsplit=1)[0]}",
        "name": "Slot",
        "bus": bus,
        "holds": holds,
        "flash_drives": drives,
    }


class Lists(unittest.TestCase):
    def test_a_line_counts_for_its_slot_role_and_kind_up_to_its_size(self) -> None:
        line = Allow(id="a", slot="bay", role="pool", kind="hdd", largest_bytes=18 * TB)
        listed = box(allows=(line,))
        self.assertTrue(listed.allowed("bay", "pool", "hdd", 18 * TB))
        for asked in (
            ("bay", "pool", "hdd", 20 * TB),
            ("bay", "spare", "hdd", 18 * TB),
            ("bay", "pool", "ssd", 4 * TB),
            ("flash slot", "pool", "hdd", 4 * TB),
        ):
            self.assertFalse(listed.allowed(*asked), asked)  # type: ignore[arg-type]
            self.assertTrue(box().allowed(*asked), asked)  # type: ignore[arg-type]


class Room(unittest.TestCase):
    @given(
        st.integers(1, 6), st.integers(0, 3), st.booleans(),
        st.lists(st.tuples(st.sampled_from(("hdd", "ssd")), st.integers(1, 9), st.integers(0, 4)), max_size=3),
    )  # fmt: skip
    def test_refused_just_where_a_drive_would_find_no_place(
        self, bays: int, slots: int, lanes: bool, wanted: list[tuple[str, int, int]]
    ) -> None:
        home = box(bays=bays, flash_slots=slots, bay_bus="pcie4x4" if lanes else "sata3")
        free = sorted(home.places)
        occupants = []
        for n, (kind, drives, placed) in enumerate(wanted):
            fitting = [p for p in free if kind == "ssd" or (p.slot == "bay" and not lanes)][:placed]
            free = [p for p in free if p not in fitting]
            occupants.append(occupant(str(n), kind, drives, tuple(fitting)))
        short = [o for o in occupants if o.bays and not self.finds_places(home, o, occupants)]
        if short:
            with self.assertRaises(Refused) as caught:
                check_room((home,), tuple(occupants))
            self.assertEqual(caught.exception.field, short[0].counted)
        else:
            check_room((home,), tuple(occupants))

    def finds_places(self, home: Box, asking: Occupant, all_of_them: list[Occupant]) -> bool:
        """Whether drive after drive of one occupant finds a bay: its own first, then any free one that fits."""
        taken = {bay for o in all_of_them for bay in o.bays}
        open_to_it = list(asking.bays)
        for place in sorted(home.places - taken):
            for_disks = place.slot == "bay" and not home.bay_bus.startswith("pcie")
            if asking.kind == "ssd" or for_disks:
                open_to_it.append(place)
        for _ in asking.drives_bytes:
            if not open_to_it:
                return False
            open_to_it.pop()
        return True

    def test_without_boxes_nothing_is_held_against_them(self) -> None:
        check_room((), (occupant("a", "hdd", 400, ()),))


def occupant(name: str, kind: str, drives: int, bays: tuple[Bay, ...]) -> Occupant:
    where = f"pools/{name}"
    return Occupant(
        name, name, f"{where}/bays", f"{where}/drive_count", bays, (TB,) * drives, 0, kind, is_cache=False
    )
