"""A pool's rebuild on its way from the law to the people: final width, the class's own odds, what moves it."""

import unittest
from typing import Any

from larder.asks.explain import explain
from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.laws.rebuild import unreadable_odds
from larder.stages.pool import PoolResult
from larder.tests.plans import changed, demo, stocked


class OfAPool(unittest.TestCase):
    def pool(self, bundle: Any) -> PoolResult:
        return evaluate(bundle).tiers.pools[0]

    def test_redundancy_is_judged_at_the_final_width(self) -> None:
        now = self.pool(demo("one-box"))
        later = self.pool(changed(demo("one-box"), plan__pools__main__bays="boathouse:1-12"))
        self.assertEqual((now.final_members, later.final_members), (9, 12))
        self.assertAlmostEqual(now.unreadable_sheet_odds or 0, unreadable_odds(8 * 14 * TB, 1e-15))
        self.assertAlmostEqual(later.unreadable_sheet_odds or 0, unreadable_odds(11 * 14 * TB, 1e-15))
        self.assertEqual(now.rebuild_seconds, later.rebuild_seconds)

    def test_a_rebuild_is_no_faster_than_the_bus_that_all_survivors_share(self) -> None:
        box = {"id": "b", "name": "B", "bays": 12, "form": "expansion unit"}
        wide, narrow = (
            self.pool(stocked({"bays": "b:1-9"}, boxes=[box | {"shared_bus": bus}]))
            for bus in ("sas3", "usb5G")
        )
        size = 16 * TB
        passed = 9 * size  # eight survivors are read, one drive is written
        self.assertAlmostEqual((narrow.rebuild_alone_seconds or 0) / (passed / (5e9 * 8 / 10 / 8)), 1)
        self.assertLess(wide.rebuild_alone_seconds or 0, narrow.rebuild_alone_seconds or 0)
        self.assertAlmostEqual((narrow.rebuild_seconds or 0) * 0.3, narrow.rebuild_alone_seconds or 0)

    def test_a_rebuild_that_finds_records_one_by_one_takes_longer_and_only_under_copy_on_write(self) -> None:
        plain = self.pool(demo("one-box"))
        scattered = self.pool(changed(demo("one-box"), plan__pools__main__layout="cow2"))
        self.assertIsNone(plain.rebuild_high_seconds)
        assert scattered.rebuild_terms is not None
        written = scattered.rebuild_terms.member_bytes * scattered.rebuild_terms.allocated_share
        self.assertAlmostEqual((scattered.rebuild_high_seconds or 0) * 0.3, written / 2**20 * 0.012)
        self.assertGreater(scattered.rebuild_high_seconds or 0, scattered.rebuild_seconds or 0)

    def test_a_class_of_drive_brings_its_own_rate_of_unreadable_sectors(self) -> None:
        plain = self.pool(stocked({"drive_id": "disk-8-desktop"}))
        better = self.pool(stocked({"drive_id": "disk-16-array"}))
        self.assertAlmostEqual(plain.unreadable_sheet_odds or 0, unreadable_odds(8 * 16 * TB, 1e-14))
        self.assertGreater(plain.unreadable_sheet_odds or 0, better.unreadable_sheet_odds or 0)

    def test_its_own_rate_is_among_what_moves_the_odds_most(self) -> None:
        working = explain(stocked({"drive_id": "disk-16-array"}), "tiers.main.unreadable-by-sheets")
        paths = [mover.path for mover in working.movers]
        self.assertIn("catalogue/drives/disk-16-array/unreadable_per_bit", paths)
        assert working.terms is not None
        self.assertEqual([t.value for t in working.terms.of if t.unit == "per_bit"], [1e-15])
