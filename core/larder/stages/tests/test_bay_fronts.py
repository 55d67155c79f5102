"""The fronts of the boxes: what lies where, which part of it is parity, what is free."""

import unittest

from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.tests.plans import stocked


class Fronts(unittest.TestCase):
    def test_every_bay_by_hand(self) -> None:
        box = {"id": "east", "name": "East", "bays": 12, "flash_slots": 1}
        cache = {
            "id": "flash", "name": "Flash", "pool_id": "main", "mode": "read", "drive_count": 1, "drive_bytes": 2 * TB,
            "read_bytes_per_s": 3e9, "write_bytes_per_s": 1e9, "bays": "east:f1",
        }  # fmt: skip
        pool = {"bays": "east:2-11", "drive_count": 9, "spares": 1, "layout": "raid6"}
        (front,) = evaluate(stocked(pool, boxes=[box], caches=[cache])).bays.boxes
        bays = {(bay.slot, bay.number): bay for bay in front.bays}
        self.assertEqual(len(bays), 13)
        self.assertEqual(front.free_bays, 2)
        free, first, spare, kept, flash = (
            bays[key] for key in (("bay", 1), ("bay", 2), ("bay", 10), ("bay", 11), ("flash slot", 1))
        )
        self.assertEqual(
            (free.lies, free.occupant_id, free.order, free.drive_bytes, free.allowed),
            ("free", None, None, 0, True),
        )
        self.assertEqual(
            (first.lies, first.occupant_id, first.order, first.drive_bytes), ("member", "main", 0, 16 * TB)
        )
        self.assertAlmostEqual(first.redundancy_share, 2 / 8)
        self.assertEqual((spare.lies, spare.order, spare.redundancy_share), ("spare", 8, 0.0))
        self.assertEqual((kept.lies, kept.drive_bytes, kept.redundancy_share), ("kept for growth", 0, 0.0))
        self.assertEqual((flash.lies, flash.redundancy_share, flash.drive_bytes), ("cache", 0.0, 2 * TB))

    def test_parity_of_whole_files_is_whole_drives(self) -> None:
        box = {"id": "east", "name": "East", "bays": 9}
        (front,) = evaluate(stocked({"bays": "east:1-9", "layout": "filewise2"}, boxes=[box])).bays.boxes
        self.assertEqual([bay.redundancy_share for bay in front.bays], [0.0] * 7 + [1.0] * 2)

    def test_drives_that_no_bay_is_said_for_are_counted_and_never_below_none(self) -> None:
        box = {"id": "east", "name": "East", "bays": 12}
        self.assertEqual(evaluate(stocked({"bays": "east:1-4"}, boxes=[box])).bays.unplaced, {"main": 5})
        self.assertEqual(evaluate(stocked({"bays": "east:1-12"}, boxes=[box])).bays.unplaced, {"main": 0})
        self.assertEqual(evaluate(stocked({"bays": ""}, boxes=[])).bays.unplaced, {})

    def test_a_list_is_asked_by_what_the_drive_is_there_for(self) -> None:
        def allowed(slot: str, role: str, kind: str) -> dict[str, bool]:
            box = {
                "id": "east", "name": "East", "bays": 10, "flash_slots": 2,
                "allows": [{"id": "only", "slot": slot, "role": role, "kind": kind, "largest_bytes": 20 * TB}],
            }  # fmt: skip
            cache = {
                "id": "flash", "name": "Flash", "pool_id": "main", "mode": "read", "drive_count": 1, "drive_bytes": TB,
                "read_bytes_per_s": 3e9, "write_bytes_per_s": 1e9, "bays": "east:f1",
            }  # fmt: skip
            pool = {"bays": "east:1-9", "drive_count": 9, "spares": 1}
            (front,) = evaluate(stocked(pool, boxes=[box], caches=[cache])).bays.boxes
            return {bay.lies: bay.allowed for bay in front.bays}

        self.assertEqual(
            allowed("bay", "pool", "hdd"), {"member": True, "spare": False, "cache": False, "free": True}
        )
        self.assertEqual(
            allowed("bay", "spare", "hdd"), {"member": False, "spare": True, "cache": False, "free": True}
        )
        self.assertEqual(
            allowed("flash slot", "cache", "ssd"),
            {"member": False, "spare": False, "cache": True, "free": True},
        )
