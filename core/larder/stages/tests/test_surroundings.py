"""Where a pool's drives sit, by hand: slowest slot, shares of buses, whose processor, memory and volumes, duty."""

import unittest
from decimal import Decimal
from typing import Any

from larder.base.units import GB, TB
from larder.judge.evaluation import evaluate
from larder.laws.path import BUS_BYTES_PER_S
from larder.plan.bundle import Plan
from larder.readers.plan_file import bundle_from
from larder.stages.drive_duty import member_bytes_per_year, member_written_per_year, traffic_per_day
from larder.stages.memory import memory_of
from larder.stages.pool import pool_stage
from larder.stages.pool_setting import PoolSetting, boxes_of, pool_setting
from larder.stages.tests.test_cache_stage import DEMAND
from larder.stages.volumes import volumes_of
from larder.tests.plans import changed, demo, stocked


def built(pool: dict[str, Any], *boxes: dict[str, Any], **plan: Any) -> tuple[Plan, PoolSetting]:
    whole = stocked(pool, boxes=list(boxes), **plan).plan
    return whole, pool_setting(whole, whole.pools[0], None, None, 1.0, 0.5)


def box(box_id: str, **fields: Any) -> dict[str, Any]:
    return {"id": box_id, "name": box_id.capitalize(), "bays": 12} | fields


class Places(unittest.TestCase):
    def test_placed_nowhere_it_is_in_the_only_box_or_in_none(self) -> None:
        alone, _ = built({"bays": ""}, box("east"))
        two, setting = built({"bays": ""}, box("east"), box("west"))
        self.assertEqual(dict(boxes_of(alone, alone.pools[0])), {"east": 9})
        self.assertEqual((dict(boxes_of(two, two.pools[0])), setting.homes), ({}, ()))
        self.assertEqual((setting.processor, setting.buses, setting.slot_bytes_per_s), (None, (), None))

    def test_the_slowest_place_decides(self) -> None:
        _, setting = built(
            {"bays": "east:1-5 west:1-4"}, box("east", bay_bus="sas3"), box("west", bay_bus="sata3")
        )
        self.assertEqual(
            (setting.slot_name, setting.slot_bytes_per_s), ("West, bay on sata3", BUS_BYTES_PER_S["sata3"])
        )
        self.assertEqual(dict(setting.homes), {"east": 5, "west": 4})
        _, nowhere = built({"bays": ""}, box("east", bay_bus="sata3"))
        self.assertEqual(nowhere.slot_name, "East, bay on sata3")

    def test_drives_on_a_carrier_share_its_lanes(self) -> None:
        flash = {
            "drive_kind": "ssd",
            "drive_id": "",
            "drive_bytes": 4 * TB,
            "drive_count": 2,
            "layout": "mirror",
        }
        card = {"id": "c", "name": "Slot 1", "holds": "flash carrier", "flash_drives": 2, "splits": True}
        for bays, bus, rate, said in (
            ("east:f1-2", "pcie3x4", BUS_BYTES_PER_S["pcie3x4"], "East, flash slot on pcie3x4"),
            ("east:f3-4", "pcie3x4", BUS_BYTES_PER_S["pcie3x4"] / 2, "East, Slot 1, 2 drives on pcie3x4"),
            ("east:f2-3", "pcie3x2", BUS_BYTES_PER_S["pcie3x2"] / 2, "East, Slot 1, 2 drives on pcie3x2"),
            ("east:f3-4", "pcie3x8", BUS_BYTES_PER_S["pcie3x4"], "East, Slot 1, 2 drives on pcie3x8"),
        ):
            _, setting = built(
                flash | {"bays": bays},
                box("east", flash_slots=4, flash_bus="pcie3x4", cards=[card | {"bus": bus}]),
            )
            self.assertAlmostEqual(setting.slot_bytes_per_s or 0, rate)
            self.assertIn(said if bus != "pcie3x8" else "East, ", setting.slot_name)

    def test_each_bus_carries_its_boxs_part_and_flash_slots_have_lanes_of_their_own(self) -> None:
        flash = {"drive_kind": "ssd", "drive_id": "", "drive_bytes": 4 * TB, "bays": "east:1-4,f1-2 west:1-3"}
        _, setting = built(
            flash,
            box("east", flash_slots=2, shared_bus="sas3", shared_links=4),
            box("west", form="expansion unit", shared_bus="usb10G"),
        )
        answer = {bus.box_id: (bus.name, bus.bytes_per_s, bus.share) for bus in setting.buses}
        self.assertEqual(answer["east"], ("East: 4 × sas3", 4 * BUS_BYTES_PER_S["sas3"], 4 / 9))
        self.assertEqual(answer["west"], ("West: usb10G", BUS_BYTES_PER_S["usb10G"], 3 / 9))

    def test_the_processor_of_the_box_with_most_drives_or_the_one_that_an_expansion_leans_on(self) -> None:
        _, setting = built(
            {"bays": "east:1-4 west:1-5"}, box("east", processor="small"), box("west", processor="middle")
        )
        assert setting.processor is not None
        self.assertEqual(
            (setting.processor.box_id, setting.processor.name), ("west", "West: middle processor")
        )
        self.assertEqual(setting.processor.cores, 4.0)
        _, leaning = built(
            {"bays": "unit:1-9"},
            box("unit", form="expansion unit", processor="large"),
            box("east", ordinary_cores=3.5),
        )
        assert leaning.processor is not None
        self.assertEqual(
            (leaning.processor.box_id, leaning.processor.name), ("east", "East: measured processor")
        )
        self.assertIsNone(built({"bays": "east:1-9"}, box("east"))[1].processor)

    def test_the_other_pools_spares_that_serve_it(self) -> None:
        first = stocked({"bays": ""}, boxes=[]).document()["plan"]["pools"][0]
        pools = [
            first | {"spares_of": "more"},
            first | {"id": "more", "name": "More", "spares": 2, "drive_count": 10},
        ]
        whole = stocked({"bays": ""}, boxes=[], pools=pools).plan
        settings = [pool_setting(whole, pool, None, None, 0.0, 0.5).shared_spares for pool in whole.pools]
        self.assertEqual(settings, [2, 0])


class Pools(unittest.TestCase):
    def test_what_limits_is_told_and_only_what_holds_back_says_so(self) -> None:
        whole, setting = built(
            {"bays": "east:1-9"}, box("east", bay_bus="sata3", shared_bus="usb5G", processor="large")
        )
        result = pool_stage(whole.pools[0], 1, setting)
        self.assertEqual(
            [(limit.kind, limit.holds_back) for limit in result.limits],
            [("slot", False), ("bus", True), ("processor", False)],
        )
        least = min(limit.read_bytes_per_s for limit in result.limits if limit.kind != "slot")
        self.assertEqual(result.read.middle_bytes_per_s, least)
        self.assertEqual(result.limits[0].read_bytes_per_s, result.read_terms.drives_bytes_per_s)
        left = result.read_terms.drives_bytes_per_s * (result.members - 1) / result.members
        assert result.degraded_read is not None and result.rebuilding_write is not None
        self.assertAlmostEqual(result.degraded_read.middle_bytes_per_s, min(left, least))
        self.assertAlmostEqual(
            result.rebuilding_write.middle_bytes_per_s, result.write.middle_bytes_per_s / 2
        )

    def test_prices_and_widths(self) -> None:
        whole, _ = built({"bays": "east:1-12", "cold_spares": 2, "spares": 1, "drive_count": 10}, box("east"))
        setting = PoolSetting(unit_price=Decimal(100), rebuild_share=0.25)
        result = pool_stage(whole.pools[0], 1, setting)
        self.assertEqual((result.drive_price, result.drives_price), (Decimal(100), Decimal(1200)))
        self.assertEqual((result.members, result.spares, result.final_members), (9, 1, 11))
        self.assertEqual(result.redundancy_shares[-1], 0.0)
        assert result.rebuilding_read is not None and result.degraded_read is not None
        self.assertAlmostEqual(
            result.rebuilding_read.middle_bytes_per_s, 0.75 * result.degraded_read.middle_bytes_per_s
        )
        self.assertIsNone(pool_stage(whole.pools[0], 1, PoolSetting()).drives_price)

    def test_what_is_written_of_a_byte_is_shared_by_members_and_no_spares(self) -> None:
        document = demo("one-box").document()
        document["plan"]["pools"][0] |= {"bays": "", "layout": "raid5", "drive_count": 9, "spares": 1}
        document["plan"]["boxes"] = [box("east", shared_bus="usb5G")]
        answer = evaluate(bundle_from(document))
        (bus,) = [hop for hop in answer.wiring.hops if hop.kind == "bus"]
        assert bus.shared_terms is not None
        self.assertAlmostEqual(bus.shared_terms.costs[0].a_byte_written, 8 / 7)
        (limit,) = answer.tiers.pools[0].limits
        self.assertAlmostEqual(limit.write_bytes_per_s, BUS_BYTES_PER_S["usb5G"] * 7 / 8)

    def test_what_mixed_drives_waste_is_no_redundancy(self) -> None:
        whole, _ = built({"drive_count": 1, "mixed_sizes": "4x8TB+4x16TB", "layout": "raid5", "bays": ""})
        result = pool_stage(whole.pools[0], 1, PoolSetting())
        self.assertEqual(result.redundancy_shares, (1 / 8,) * 8)

    def test_flash_takes_in_faster_until_its_region_is_full(self) -> None:
        bundle = stocked(
            {
                "drive_id": "flash-4-nvme",
                "drive_kind": "ssd",
                "drive_bytes": 4 * TB,
                "bays": "",
                "layout": "raid5",
            },
            boxes=[],
        )
        drive = bundle.catalogue.drive("flash-4-nvme")
        assert drive is not None and drive.fast_write_bytes_per_s is not None
        pool = bundle.plan.pools[0]
        result = pool_stage(pool, 1, PoolSetting(drive=drive))
        assert result.fast_write is not None
        self.assertAlmostEqual(result.fast_write.middle_bytes_per_s, drive.fast_write_bytes_per_s * 8**0.9)
        self.assertEqual(result.fast_write_bytes, int(drive.fast_write_bytes * 9 / (9 / 8)))
        slotted = pool_stage(pool, 1, PoolSetting(drive=drive, slot_bytes_per_s=100e6, slot_name="S"))
        assert slotted.fast_write is not None
        self.assertAlmostEqual(slotted.fast_write.middle_bytes_per_s, 100e6 * 8**0.9)
        self.assertEqual(pool_stage(pool, 1, PoolSetting()).fast_write, None)


class Beside(unittest.TestCase):
    def test_volumes_by_hand(self) -> None:
        volumes = [
            {"id": "a", "name": "A", "pool_id": "main", "size_bytes": 30 * TB, "reserved_bytes": 10 * TB},
            {"id": "b", "name": "B", "pool_id": "main", "size_bytes": 20 * TB, "is_thin": False, "is_encrypted": True, "key_holder": "K"},
        ]  # fmt: skip
        whole = stocked({"bays": ""}, boxes=[], volumes=volumes).plan
        answer = volumes_of(whole.volumes, "main", 100 * TB)
        self.assertEqual(
            (answer.count, answer.promised_bytes, answer.set_aside_bytes, answer.left_bytes),
            (2, 50 * TB, 30 * TB, 70 * TB),
        )
        self.assertEqual((answer.overcommit, answer.encrypted_share), (0.5, 0.4))
        self.assertIsNone(volumes_of(whole.volumes, "main", 0).overcommit)
        self.assertEqual(volumes_of(whole.volumes, "other", TB).count, 0)

    def test_what_a_drive_moves_in_a_year_by_tier(self) -> None:
        answer = evaluate(demo("long-shore"))
        brief, tiers = answer.brief, answer.tiers
        for pool in tiers.pools:
            part = pool.plannable_bytes / sum(p.plannable_bytes for p in tiers.pools if p.tier == pool.tier)
            read, written = (
                (brief.archive_bytes_per_day, brief.growth_bytes_per_week / 6)
                if pool.tier == "archive"
                else (brief.read_bytes_per_day - brief.archive_bytes_per_day, brief.write_bytes_per_day)
            )
            self.assertEqual(traffic_per_day(brief, tiers, pool, 6), (read * part, written * part))
            each = (read * part + written * part * pool.written_per_byte) * 365.25 * 6 / 7 / pool.members
            self.assertAlmostEqual(member_bytes_per_year(brief, tiers, pool, 6) / each, 1)
            self.assertAlmostEqual(
                member_written_per_year(brief, tiers, pool, 6)
                * pool.members
                / (365.25 * 6 / 7)
                / pool.written_per_byte
                / (written * part),
                1,
            )
        alone = evaluate(demo("one-box"))
        result = traffic_per_day(alone.brief, alone.tiers, alone.tiers.pools[0], 6)
        self.assertEqual(result, (alone.brief.read_bytes_per_day, alone.brief.write_bytes_per_day))

    def test_memory_that_is_not_said_does_nothing_and_none_before_a_pool_that_writes_nothing(self) -> None:
        self.assertIsNone(memory_of(0, 8 * GB, 1e9, DEMAND))
        memory = memory_of(64 * GB, 8 * GB, 0.0, DEMAND)
        assert memory is not None
        self.assertEqual(
            (memory.seconds_fast, memory.dirty_bytes_max, memory.read_tier_bytes), (None, 0, 60 * GB)
        )
        fast = memory_of(64 * GB, 8 * GB, 200e6, DEMAND)
        assert fast is not None
        # 6.4 GB of buffer fill at 500 − 200 MB/s.
        self.assertAlmostEqual(fast.seconds_fast or 0, 6.4e9 / 300e6)
        tiny = memory_of(2 * GB, 8 * GB, 200e6, DEMAND)
        assert tiny is not None
        self.assertEqual((tiny.read_tier_bytes, tiny.hit_ratio), (0, 0.0))

    def test_memory_answers_work_and_no_archive_beside_it(self) -> None:
        document = demo("tern-and-tide").document()
        for one in document["plan"]["boxes"]:
            one["memory_bytes"] = 256 * GB
        answer = evaluate(bundle_from(document))
        served = {pool.tier: pool.read_terms.memory_share is not None for pool in answer.tiers.pools}
        self.assertEqual(served, {"work": True, "archive": False})
        document["plan"]["pools"] = [p | {"tier": "archive"} for p in document["plan"]["pools"]]
        for pool in evaluate(bundle_from(document)).tiers.pools:
            self.assertIsNotNone(pool.read_terms.memory_share)

    def test_parity_costs_the_processor_in_writing_from_the_first(self) -> None:
        costs = {}
        for layout in ("stripe", "raid5", "raid6"):
            whole, setting = built(
                {"bays": "", "layout": layout, "filesystem": "journal"}, box("east", processor="small")
            )
            (limit,) = pool_stage(whole.pools[0], 1, setting).limits
            costs[layout] = (limit.read_bytes_per_s, limit.write_bytes_per_s)
        self.assertEqual(costs["raid5"], costs["raid6"])
        self.assertAlmostEqual(costs["stripe"][1] / costs["raid5"][1], 0.7 / 0.4)
        self.assertEqual(costs["stripe"][0], costs["stripe"][1])

    def test_what_stands_around_a_tier_is_told(self) -> None:
        answer = evaluate(changed(demo("tern-and-tide")))
        tiers = answer.tiers
        self.assertTrue(tiers.has_both_tiers)
        self.assertEqual(tiers.raw_bytes, sum(p.raw_bytes for p in tiers.pools))
        self.assertEqual(tiers.usable_bytes, sum(p.usable_bytes for p in tiers.pools))
        self.assertEqual([v.pool_id for v in tiers.volumes], [p.id for p in tiers.pools])
        self.assertEqual(tiers.tier_bytes("work") + tiers.tier_bytes("archive"), tiers.plannable_bytes)
        streams = {p.tier: p.streams for p in tiers.pools}
        self.assertEqual(streams["archive"], answer.brief.archive_streams_at_once)
        self.assertEqual(streams["work"], answer.brief.streams_at_once)
