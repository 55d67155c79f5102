"""Power and room of a plan, against sums worked out by hand."""

import unittest
from typing import Any

from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.laws.power import noise_sum_dba
from larder.plan.bundle import Bundle
from larder.stages.power import PowerResult
from larder.tests.plans import changed, stocked

BOX: dict[str, Any] = {
    "id": "b", "name": "B", "bays": 12, "board_watts": 40, "supply_watts": 300, "noise_dba": 30, "mass_kg": 8.0,
}  # fmt: skip


def built(box: dict[str, Any] | None = None, **plan: Any) -> Bundle:
    """Nine disks of 16 TB (5.2 W idle, 7.3 at work, 24 at spin-up, 29 dB(A), 700 g) in one box."""
    return stocked({"bays": "b:1-9"}, boxes=[BOX | (box or {})], wiring={}, caches=[], **plan)


def power(bundle: Bundle) -> PowerResult:
    return evaluate(bundle).power


class Boxes(unittest.TestCase):
    def test_a_box_of_nine_disks(self) -> None:
        (box,) = power(built()).boxes
        self.assertAlmostEqual(box.idle_watts, 40 + 9 * 5.2)
        self.assertAlmostEqual(box.busy_watts, 40 + 9 * 7.3)
        self.assertAlmostEqual(box.surge_watts, 40 + 9 * 24)
        self.assertAlmostEqual(box.carried_share, 256 / 300)
        # At 35 % of its rating a supply gives 88.5 % of what it takes.
        self.assertAlmostEqual(box.wall_busy_watts, 105.7 / (0.87 + 0.03 * (105.7 / 300 - 0.2) / 0.3))
        self.assertAlmostEqual(box.mass_kg, 8 + 9 * 0.7)
        self.assertAlmostEqual(box.noise_dba, noise_sum_dba([30, *[29 - 8] * 9]))
        self.assertFalse(box.is_assumed)

    def test_disks_that_start_one_after_the_other_add_one_surge(self) -> None:
        (box,) = power(built({"spins_up_together": False})).boxes
        self.assertAlmostEqual(box.surge_watts, 40 + 9 * 7.3 + (24 - 7.3))

    def test_of_two_supplies_one_has_to_carry_it_alone(self) -> None:
        (box,) = power(built({"supplies": 2})).boxes
        self.assertAlmostEqual(box.carried_share, 256 / 300)
        (three,) = power(built({"supplies": 3})).boxes
        self.assertAlmostEqual(three.carried_share, 256 / 600)

    def test_what_is_not_said_is_assumed_and_told(self) -> None:
        bundle = built({"board_watts": 0, "processor": "middle"}, mains={})
        found = power(changed(bundle, plan__pools__main__drive_id=""))
        self.assertTrue(found.boxes[0].is_assumed)
        self.assertAlmostEqual(found.boxes[0].idle_watts, 35 + 9 * 5.0)
        self.assertEqual(found.assumed, ("B: by kind of processor and drive",))

    def test_a_cache_is_in_its_slots_or_in_the_first_box(self) -> None:
        cache = {
            "id": "c", "name": "C", "pool_id": "main", "drive_bytes": TB, "drive_count": 2, "read_bytes_per_s": 3e9,
            "write_bytes_per_s": 1e9,
        }  # fmt: skip
        boxes = [BOX | {"flash_slots": 2}, BOX | {"id": "d", "name": "D", "flash_slots": 2}]
        found = [
            power(stocked({"bays": "b:1-9"}, boxes=boxes, wiring={}, caches=[cache | {"bays": bays}])).boxes
            for bays in ("", "d:f1-2")
        ]
        self.assertEqual([[box.drives for box in each] for each in found], [[11, 0], [9, 2]])
        self.assertAlmostEqual(found[1][1].busy_watts, 40 + 2 * 7.0)
        self.assertAlmostEqual(found[1][1].efficiency, 0.80 + 0.07 * (54 / 300 - 0.1) / 0.1)

    def test_drives_in_no_box_are_counted(self) -> None:
        bundle = stocked({"bays": ""}, boxes=[], wiring={}, caches=[])
        (none,) = power(bundle).boxes
        self.assertEqual((none.id, none.drives), ("", 9))
        self.assertAlmostEqual(none.wall_busy_watts, 9 * 7.3 / 0.9)


class Whole(unittest.TestCase):
    def test_a_year_at_work_and_idle(self) -> None:
        bundle = built()
        found, rules = power(bundle), bundle.house_rules
        hours = sum(part.hours for part in bundle.plan.brief.day_parts) * rules.working_days_per_week
        mean = (found.busy_watts * hours + found.idle_watts * (168 - hours)) / 168
        self.assertAlmostEqual(found.mean_watts, mean)
        self.assertAlmostEqual(found.kwh_per_year, mean * 8.766)
        self.assertAlmostEqual(found.price_per_year, mean * 8.766 * 0.3)

    def test_circuit_heat_closet_and_battery(self) -> None:
        room = {"circuit_watts": 1000, "air": "closet", "air_m3_per_h": 0, "noise_dba_max": 30}
        battery = {"id": "u", "name": "U", "watts_max": 300, "energy_wh": 100}
        said = {f"plan__brief__limits__room__{name}": value for name, value in room.items()}
        bundle = changed(built(mains={"batteries": [battery]}), **said)
        found = power(bundle)
        self.assertAlmostEqual(found.circuit_share or 0, found.busy_watts / 1000)
        self.assertAlmostEqual(found.heat_btu_per_h, found.busy_watts * 3.412)
        self.assertAlmostEqual(found.closet_degrees or 0, found.busy_watts / 15)
        self.assertAlmostEqual(found.battery_minutes or 0, 100 * 0.88 / found.busy_watts * 60)
        weak = changed(bundle, plan__mains__batteries__u__watts_max=100)
        self.assertEqual(power(weak).battery_minutes, 0.0)
        self.assertIsNone(power(built()).battery_minutes)
        self.assertIsNone(power(changed(bundle, plan__brief__limits__room__air="cooled")).closet_degrees)

    def test_a_box_elsewhere_is_neither_heard_nor_on_the_circuit_here(self) -> None:
        kept = {"places": [{"id": "dock", "name": "Dock"}]}
        away = built({"place_id": "dock"}, safekeeping=kept)
        found = power(changed(away, plan__brief__limits__room__circuit_watts=1000))
        self.assertEqual((found.circuit_share, found.noise_dba, found.heat_btu_per_h), (0.0, 0.0, 0.0))
        self.assertGreater(found.busy_watts, 100)

    def test_disks_that_stand_still(self) -> None:
        flash = {
            "id": "work", "name": "W", "drive_count": 4, "drive_bytes": 4 * TB, "drive_kind": "ssd", "layout": "raid5",
            "drive_read_bytes_per_s": 1e9, "drive_write_bytes_per_s": 1e9,
        }  # fmt: skip
        document = built().document()
        document["plan"]["pools"][0]["tier"] = "archive"
        document["plan"]["pools"].append(flash)
        document["plan"]["mains"] = {"archive_uses_per_day": 4, "spin_down_minutes": 30}
        bundle = Bundle.model_validate(document)
        found = power(bundle)
        assert found.spin_down
        # Four half hours a day they run on; four starts of 12 s cost what they draw more than idle.
        self.assertAlmostEqual(found.spin_down.stands_hours_per_day, 22)
        saved = (9 * 5.2 * 22 - 4 * 9 * (24 - 5.2) * 12 / 3600) / 24
        self.assertAlmostEqual(found.spin_down.saved_watts, saved)
        never = power(changed(bundle, plan__mains__spin_down_minutes=0))
        self.assertAlmostEqual(never.mean_watts - found.mean_watts, saved)
        self.assertAlmostEqual(found.spin_down.worn_years, 50_000 / (4 * 365.25))
