"""What a pool's bytes pass in its box: slots, buses and processors by hand, alone and shared."""

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.units import GB, TB
from larder.judge.evaluation import Evaluation, evaluate
from larder.laws.device import MECHANICS
from larder.laws.path import BUS_BYTES_PER_S
from larder.laws.processor import CORES, cores_left
from larder.laws.read_tiers import read_shares, reads_bytes_per_s
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.drive_duty import member_bytes_per_year, member_written_per_year, traffic_per_day
from larder.stages.hops import HopResult
from larder.stages.tests.test_tiers import with_flash
from larder.tests.plans import changed, cleared, demo, ids, stocked

DISK = MECHANICS["hdd"]


def boxed(pool: dict[str, Any] | None = None, plan: dict[str, Any] | None = None, **box: Any) -> Bundle:
    """The demo's pool in a box with these fields, with the generic classes at hand."""
    whole = {"id": "boathouse", "name": "Boathouse box", "bays": 12} | box
    return stocked(pool, boxes=[whole], **(plan or {}))


def hop(answer: Evaluation, hop_id: str) -> HopResult:
    return next(h for h in answer.wiring.hops if h.id == hop_id)


class Alone(unittest.TestCase):
    def test_a_slot_holds_each_drive_back(self) -> None:
        flash = {"drive_id": "flash-4-nvme", "drive_kind": "ssd", "drive_bytes": 4 * TB, "layout": "stripe",
                 "drive_read_bytes_per_s": 5e9, "drive_write_bytes_per_s": 1e9}  # fmt: skip
        pool = evaluate(boxed(flash, bay_bus="pcie3x1")).tiers.pools[0]
        slot = next(limit for limit in pool.limits if limit.kind == "slot")
        self.assertTrue(slot.holds_back)
        self.assertAlmostEqual(pool.read.high_bytes_per_s, 9 * BUS_BYTES_PER_S["pcie3x1"])

    def test_a_bus_carries_copies_and_parity_as_well(self) -> None:
        fast = {"drive_read_bytes_per_s": 500e6, "drive_write_bytes_per_s": 500e6}
        pool = evaluate(boxed(fast, shared_bus="usb5G")).tiers.pools[0]
        bus = next(limit for limit in pool.limits if limit.kind == "bus")
        self.assertTrue(bus.holds_back)
        self.assertEqual(pool.read.middle_bytes_per_s, BUS_BYTES_PER_S["usb5G"])
        # Nine drives with two parities: nine bytes on the cable for seven of data.
        self.assertAlmostEqual(bus.write_bytes_per_s, BUS_BYTES_PER_S["usb5G"] * 7 / 9, delta=1)
        self.assertEqual(evaluate(boxed()).tiers.pools[0].limits, ())

    def test_a_processor_pays_for_protocol_parity_checksums_and_encryption(self) -> None:
        volumes = [
            {"id": "v", "name": "V", "pool_id": "main", "is_encrypted": True, "key_holder": "Technician"}
        ]
        plain, locked = (
            next(limit for limit in evaluate(b).tiers.pools[0].limits if limit.kind == "processor")
            for b in (boxed(processor="small"), boxed(processor="small", plan={"volumes": volumes}))
        )
        self.assertAlmostEqual(plain.read_bytes_per_s, CORES["small"] / 0.4 * GB, delta=1)
        self.assertAlmostEqual(locked.read_bytes_per_s, CORES["small"] / 0.8 * GB, delta=1)

    def test_a_seat_inside_takes_cores_but_never_all_of_them(self) -> None:
        self.assertEqual(cores_left(CORES["middle"], 2), CORES["middle"] - 2)
        self.assertAlmostEqual(cores_left(CORES["small"], 40), CORES["small"] / 10)
        inside = changed(boxed(processor="middle"), plan__brief__seats__edit__seated="inside")
        cores = [
            next(
                limit for limit in evaluate(b).tiers.pools[0].limits if limit.kind == "processor"
            ).read_bytes_per_s
            for b in (boxed(processor="middle"), inside)
        ]
        self.assertLess(cores[1], cores[0])

    def test_degraded_and_rebuilding_are_slower_and_absent_where_a_drive_ends_it(self) -> None:
        pool = evaluate(boxed()).tiers.pools[0]
        assert pool.degraded_read is not None
        assert pool.rebuilding_read is not None
        left = (pool.members - 1) / pool.members
        healthy = pool.read.middle_bytes_per_s
        self.assertAlmostEqual(pool.degraded_read.middle_bytes_per_s, healthy * left)
        self.assertAlmostEqual(pool.rebuilding_read.middle_bytes_per_s, healthy * left * 0.7)
        stripe = evaluate(boxed({"layout": "stripe"})).tiers.pools[0]
        self.assertEqual((stripe.degraded_read, stripe.rebuilding_write), (None, None))


class Shared(unittest.TestCase):
    def two(self, **box: Any) -> Evaluation:
        """Flash for work and disks for the archive in one box."""
        document = with_flash().document()
        document["plan"]["boxes"] = [{"id": "tower", "name": "Tower", "bays": 20} | box]
        for pool, bays in zip(document["plan"]["pools"], ("tower:1-6", "tower:7-15"), strict=True):
            pool["bays"] = bays
        return evaluate(bundle_from(document))

    def test_pools_of_one_box_load_its_bus_together(self) -> None:
        answer = self.two(shared_bus="usb10G")
        bus = hop(answer, "bus-tower")
        # Every byte of both pools passes it: what is asked of it is all that is asked, and writes cost more.
        self.assertAlmostEqual(bus.required_bytes_per_s / answer.brief.both.sized_bytes_per_s, 1, delta=0.05)
        # Reads cost a byte each, writes more: the bus carries no more than its rate.
        self.assertLess(bus.capacity_bytes_per_s, BUS_BYTES_PER_S["usb10G"])
        links = hop(self.two(shared_bus="usb10G", shared_links=3), "bus-tower")
        self.assertAlmostEqual(links.capacity_bytes_per_s / bus.capacity_bytes_per_s, 3)

    def test_flash_slots_pass_their_own_lanes_but_all_of_an_expansion_unit_its_cable(self) -> None:
        for form in ("desktop", "expansion unit"):
            document = with_flash().document()
            document["plan"]["boxes"] = [
                {
                    "id": "tower",
                    "name": "Tower",
                    "bays": 20,
                    "flash_slots": 6,
                    "shared_bus": "usb10G",
                    "form": form,
                }
            ]
            for pool, bays in zip(document["plan"]["pools"], ("tower:f1-6", "tower:1-9"), strict=True):
                pool["bays"] = bays
            answer = evaluate(bundle_from(document))
            behind = hop(answer, "bus-tower").pool_ids
            self.assertEqual(behind, ("main",) if form == "desktop" else ("flash", "main"))

    def test_the_narrowest_way_becomes_the_verdict(self) -> None:
        answer = evaluate(changed(boxed(shared_bus="usb5G"), plan__brief__seats__edit__streams=4))
        self.assertEqual(answer.scales.speed.ratio, min(h.ratio for h in answer.wiring.hops if h.ratio))

    def test_an_expansion_unit_leans_on_the_processor_of_the_other_box(self) -> None:
        boxes = [
            {"id": "unit", "name": "Unit", "bays": 12, "form": "expansion unit", "processor": "large"},
            {"id": "head", "name": "Head", "bays": 4, "processor": "small"},
        ]
        answer = evaluate(stocked({"bays": "unit:1-9"}, boxes=boxes))
        self.assertEqual([h.id for h in answer.wiring.hops if h.kind == "processor"], ["processor-head"])

    def test_a_pool_over_two_boxes_loads_each_by_its_drives(self) -> None:
        boxes = [{"id": i, "name": i, "bays": 12, "shared_bus": "sas3"} for i in ("a", "b")]
        answer = evaluate(stocked({"bays": "a:1-3 b:1-6"}, boxes=boxes))
        first, second = hop(answer, "bus-a"), hop(answer, "bus-b")
        self.assertAlmostEqual(first.capacity_bytes_per_s, 2 * second.capacity_bytes_per_s)


class Memory(unittest.TestCase):
    @given(st.floats(1e6, 9e9), st.floats(0, 0.9))
    def test_memory_never_slows_and_never_beats_itself(self, rate: float, hit: float) -> None:
        faster = reads_bytes_per_s(read_shares(hit, 0.0), rate, 0.0, 10e9)
        self.assertGreaterEqual(faster, rate * (1 - 1e-9))
        self.assertLessEqual(faster, 10e9 * (1 + 1e-9))
        self.assertAlmostEqual(1 / faster, (1 - hit) / rate + hit / 10e9)

    def test_a_copy_starts_fast_and_then_slows(self) -> None:
        fields = {"plan__brief__seats__ingest__card_bytes_per_s": 2e9}
        small = evaluate(changed(boxed(memory_bytes=16 * GB), **fields)).tiers.enclosures[0].memory
        large = evaluate(changed(boxed(memory_bytes=64 * GB), **fields)).tiers.enclosures[0].memory
        assert small is not None
        assert large is not None
        assert small.seconds_fast is not None
        assert large.seconds_fast is not None
        self.assertEqual(small.dirty_bytes_max, small.write_buffer_bytes)
        self.assertAlmostEqual(large.seconds_fast, 4 * small.seconds_fast)
        self.assertGreater(large.hit_ratio, small.hit_ratio)
        self.assertIsNone(evaluate(boxed()).tiers.enclosures[0].memory)


class Duty(unittest.TestCase):
    def test_the_traffic_of_all_pools_is_what_the_brief_moves(self) -> None:
        answer = evaluate(with_flash())
        moved = [traffic_per_day(answer.brief, answer.tiers, p, 5) for p in answer.tiers.pools]
        self.assertAlmostEqual(sum(read for read, _ in moved), answer.brief.read_bytes_per_day, delta=1)
        self.assertAlmostEqual(moved[0][1], answer.brief.write_bytes_per_day, delta=1)
        alone = evaluate(demo("one-box"))
        pool = alone.tiers.pools[0]
        read, written = traffic_per_day(alone.brief, alone.tiers, pool, 5)
        # Nine drives, two of them parity: nine bytes written for seven.
        self.assertAlmostEqual(
            member_bytes_per_year(alone.brief, alone.tiers, pool, 5),
            (read + written * 9 / 7) * 365.25 * 5 / 7 / 9,
            delta=9,
        )
        self.assertAlmostEqual(
            member_written_per_year(alone.brief, alone.tiers, pool, 5), written / 7 * 365.25 * 5 / 7, delta=9
        )


class Findings(unittest.TestCase):
    """Each finding: a plan that raises it, its evidence, and the one change that clears it."""

    def test_controller_or_usb_bus_saturated(self) -> None:
        for bus, links in (("usb5G", 1), ("sas3", 1), ("pcie3x1", 1)):
            bundle = changed(boxed(shared_bus=bus, shared_links=links), plan__brief__seats__edit__streams=12)
            evidence = cleared(self, bundle, "controller-or-usb-bus-saturated")
            self.assertGreater(evidence["Asked of its drives"], evidence["The way carries of it"])

    def test_weak_processor_for_parity_or_encryption(self) -> None:
        bundle = changed(boxed(processor="small"), plan__brief__seats__edit__streams=25)
        cleared(self, bundle, "weak-processor-for-parity-or-encryption")
        hopeless = changed(bundle, plan__brief__seats__edit__streams=100, plan__brief__seats__edit__angles=16)
        finding = next(f for f in evaluate(hopeless).findings if f.id.startswith("weak-processor"))
        self.assertEqual(finding.remedy.patch, ())

    def test_lanes_short(self) -> None:
        fields: dict[str, Any] = {"flash_slots": 4, "flash_bus": "pcie4x4", "shared_bus": "pcie3x4"}
        evidence = cleared(self, boxed(lanes=16, **fields), "lanes-short", "lanes-short-boathouse")
        self.assertEqual(evidence, {"Lanes wanted": 20, "Lanes there are": 16})
        self.assertNotIn("lanes-short", ids(evaluate(boxed(lanes=20, **fields))))

    def test_a_flash_drive_in_too_narrow_a_slot(self) -> None:
        flash = {"drive_id": "flash-4-nvme", "drive_kind": "ssd", "drive_bytes": 4 * TB, "bays": "boathouse:1-9",
                 "drive_read_bytes_per_s": 5.4e9}  # fmt: skip
        bundle = boxed(flash, bay_bus="pcie3x2")
        evidence = cleared(self, bundle, "lanes-short", "lanes-short-boathouse-bay_bus")
        self.assertEqual(evidence["Its slot carries"], BUS_BYTES_PER_S["pcie3x2"])
        self.assertEqual(evidence["Lanes wanted"], 6)

    def test_bifurcation_needed(self) -> None:
        card = {"id": "one", "name": "Slot 1", "bus": "pcie3x8", "holds": "flash carrier", "flash_drives": 2}
        evidence = cleared(self, boxed(flash_slots=2, cards=[card]), "bifurcation-needed")
        self.assertEqual(evidence, {"Flash drives on it": 2, "Lanes wired": 8})
        single = boxed(flash_slots=2, cards=[card | {"flash_drives": 1}])
        self.assertNotIn("bifurcation-needed", ids(evaluate(single)))

    def test_memory_below_the_recommendation(self) -> None:
        bundle = boxed({"layout": "cow2", "filesystem": "cow"}, memory_bytes=8 * GB)
        key = "memory-below-recommendation-boathouse"
        finding_id = "memory-below-recommendation-no-error-correction-where-wanted"
        evidence = cleared(self, bundle, finding_id, key)
        # 8 GB and a quarter of a GB for each of 144 TB, in modules of 8 GB.
        self.assertEqual(evidence["By the house rules"], 48 * GB)
        capped = boxed(
            {"layout": "cow2", "filesystem": "cow"}, memory_bytes=8 * GB, memory_most_bytes=32 * GB
        )
        finding = next(f for f in evaluate(capped).findings if f.key == key)
        self.assertEqual(finding.remedy.patch, ())

    def test_no_error_correction_where_wanted(self) -> None:
        bundle = boxed({"bays": "boathouse:1-9"}, memory_bytes=16 * GB)
        evidence = cleared(
            self,
            bundle,
            "memory-below-recommendation-no-error-correction-where-wanted",
            "no-error-correction-where-wanted-boathouse",
        )
        self.assertEqual(evidence["Drives in it"], 144 * TB)

    def test_memory_buys_nothing(self) -> None:
        evidence = cleared(
            self,
            changed(boxed(memory_bytes=16 * GB), house_rules__memory_gain_percent_min=5),
            "memory-buys-nothing",
        )
        self.assertEqual((evidence["Memory"], evidence["Would do"]), (16 * GB, 8 * GB))

    def test_no_free_bay_at_fill_date(self) -> None:
        full = boxed({"bays": "boathouse:1-9"}, bays=9)
        evidence = cleared(self, full, "no-free-bay-at-fill-date")
        self.assertLess(evidence["Weeks until they are full"], evidence["House rule, weeks"])
        self.assertNotIn("no-free-bay-at-fill-date", ids(evaluate(boxed({"bays": "boathouse:1-9"}, bays=10))))
        patient = changed(full, house_rules__free_bay_years=0)
        self.assertNotIn("no-free-bay-at-fill-date", ids(evaluate(patient)))
