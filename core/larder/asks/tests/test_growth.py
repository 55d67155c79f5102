"""Ways to grow a pool, what a TB costs, what retiring earlier buys, which project grew."""

import unittest
from decimal import Decimal
from typing import Any

from larder.asks.drive_prices import drive_prices, flash_or_disks
from larder.asks.growth import GrowWay, free_bays_of, growth_asked, ways_to_grow
from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.plan.cautions import CAUTIONS
from larder.readers.plan_file import bundle_from
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.plans import changed, demo


def ways(bundle: Bundle, pool_id: str = "main") -> dict[str, GrowWay]:
    return {str(way.way): way for way in ways_to_grow(bundle, pool_id).ways}


class Ways(unittest.TestCase):
    def test_every_way_of_the_demos_archive_adds_what_planning_it_adds(self) -> None:
        bundle = demo("tern-and-tide")
        document = bundle.document()
        document["plan"]["growth"] = {}
        bare = bundle_from(document)
        for way in ways(bare).values():
            self.assertEqual(way.why_not, "")
            planned = evaluate(bundle_from(apply_patch(bare.document(), way.patch)))
            step = next(t for t in planned.growth.tiers if t.id == "archive").steps[0]
            self.assertEqual((step.adds_bytes, step.price), (way.adds_bytes, way.price), way.name)
            assert way.price is not None
            self.assertEqual(way.price_per_tb, (way.price * TB / way.adds_bytes).quantize(Decimal("0.01")))

    def test_times_are_those_of_full_reads_writes_and_rebuilds(self) -> None:
        bundle = demo("tern-and-tide")
        pool, result = bundle.plan.pools[0], evaluate(bundle).tiers.pools[0]
        found = ways(bundle)
        # Half the outer rate on the inner tracks: three quarters in the mean, at three tenths of the time.
        full = 16 * TB * (1 / pool.drive_read_bytes_per_s + 1 / pool.drive_write_bytes_per_s)
        ratio = bundle.catalogue.drives[2].mechanics.inner_ratio
        self.assertAlmostEqual(found["free bays"].takes_seconds, full / ((1 + ratio) / 2) / 0.3, places=3)
        self.assertAlmostEqual(
            found["larger drives"].takes_seconds, 9 * (result.rebuild_seconds or 0), places=3
        )
        self.assertIn("survives 1 more dead", found["larger drives"].risk)

    def test_shingled_drives_and_those_off_the_boxs_list_are_not_proposed(self) -> None:
        self.assertIn("22 TB", ways(demo("tern-and-tide"))["larger drives"].name)

    def test_what_cannot_be_says_why(self) -> None:
        loose = ways(changed(demo("halyard-street"), plan__pools__main__bays=""))
        self.assertIn("in which bays", loose["free bays"].why_not)
        self.assertIn("no larger ones", loose["larger drives"].why_not)
        self.assertEqual((loose["free bays"].patch, loose["free bays"].adds_bytes), ((), 0))
        full = changed(
            demo("tern-and-tide"), plan__boxes__boathouse__bays=10, plan__pools__main__drive_count=10
        )
        self.assertIn("no bay is free", ways(full)["free bays"].why_not)
        with self.assertRaises(Refused):
            ways_to_grow(demo("tern-and-tide"), "nowhere")

    def test_free_bays_are_those_kept_for_growth_and_those_nobody_has(self) -> None:
        bundle = demo("tern-and-tide")
        self.assertEqual([free_bays_of(bundle, pool) for pool in bundle.plan.pools], [3, 1])


class Asked(unittest.TestCase):
    def test_retiring_a_week_earlier_frees_a_weeks_work(self) -> None:
        bundle = demo("tern-and-tide")
        earlier = growth_asked(bundle).earlier
        assert earlier
        a_week = sum(
            rate
            for name, rate in evaluate(bundle).brief.growth_terms.model_dump().items()
            if name.endswith("bytes_per_week")
        )
        self.assertGreaterEqual(earlier.freed_bytes, round(a_week) - 1)
        self.assertIsNone(growth_asked(demo("one-box")).earlier)

    def test_which_project_grew_the_most_first(self) -> None:
        document = demo("one-box").document()
        rows = [("gannets", "2026-06-01", 2), ("gannets", "2026-11-01", 9), ("terns", "2026-09-01", 4)]
        document["plan"]["growth"] = {
            "readings": [
                {"id": f"r{n}", "pool_id": "main", "read_on": on, "used_bytes": tb * TB, "project": project}
                for n, (project, on, tb) in enumerate(rows)
            ]
        }
        found = growth_asked(bundle_from(document)).projects
        self.assertEqual(
            [(p.project, p.grown_bytes) for p in found], [("gannets", 7 * TB), ("terns", 4 * TB)]
        )

    def test_cautions_defer_to_licensed_trades(self) -> None:
        self.assertIn("licensed electrician", " ".join(CAUTIONS["mains"]))
        self.assertIn("ventilation trade", " ".join(CAUTIONS["air"]))


def priced(**fields: Any) -> Bundle:
    """The demo with fields of its 16 TB class changed."""
    return changed(
        demo("tern-and-tide"),
        **{f"catalogue__drives__disk-16-array__{key}": value for key, value in fields.items()},
    )


class PerTb(unittest.TestCase):
    def row(self, bundle: Bundle) -> Any:
        return next(r for r in drive_prices(judge(bundle, PARTS)) if r.drive_id == "disk-16-array")

    def test_a_tb_with_its_share_of_a_bay_and_with_drives_that_die(self) -> None:
        row = self.row(demo("tern-and-tide"))
        # 1,890 and 860 over 14 and 6 places.
        self.assertEqual(row.bay_price, Decimal("137.50"))
        self.assertEqual(row.per_tb, Decimal("18.06"))
        self.assertEqual(row.per_tb_with_bay, Decimal("26.66"))
        self.assertEqual(
            row.five_years_per_tb, (Decimal(289) * Decimal("1.05") / 16).quantize(Decimal("0.01"))
        )

    def test_used_and_warranted_ones_stand_on_the_same_line(self) -> None:
        used, warranted = (
            self.row(priced(condition="used", hours_run=50_000, failures_per_year_percent=None)),
            self.row(priced(warranty_years=5)),
        )
        self.assertEqual((used.condition, used.hours_run), ("used", 50_000))
        self.assertAlmostEqual(used.surface_test_hours, 16e12 * (1 / 255e6 + 1 / 250e6) / 3600, places=6)
        self.assertEqual(warranted.five_years_per_tb, warranted.per_tb)
        self.assertGreater(
            used.five_years_per_tb, self.row(priced(failures_per_year_percent=None)).five_years_per_tb
        )

    def test_the_cheapest_per_tb_comes_first_and_what_has_no_price_last(self) -> None:
        rows = drive_prices(judge(demo("tern-and-tide"), PARTS))
        with_bay = [row.per_tb_with_bay for row in rows if row.per_tb_with_bay is not None]
        self.assertEqual(with_bay, sorted(with_bay))
        self.assertEqual(len(rows), len(demo("tern-and-tide").catalogue.drives))

    def test_flash_and_disks_both_hold_and_deliver_what_is_asked(self) -> None:
        found = flash_or_disks(demo("tern-and-tide"))
        for built in (found.flash, found.disks):
            assert built
            self.assertGreaterEqual(built.plannable_bytes, found.hold_bytes)
            self.assertGreaterEqual(built.read_bytes_per_s, found.read_bytes_per_s)
        document = demo("halyard-street").document()
        document["catalogue"]["prices"] = []
        none = flash_or_disks(bundle_from(document))
        self.assertEqual((none.flash, none.disks), (None, None))
        self.assertIn("type prices", none.sentence)
