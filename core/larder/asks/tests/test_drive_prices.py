"""What a TB costs, by hand, and the fewest drives that hold and deliver, by trying every number of them."""

import unittest
from decimal import Decimal
from types import SimpleNamespace as Of
from typing import Any
from unittest.mock import patch

from larder.asks import drive_prices as prices
from larder.asks.drive_prices import FlashOrDisks, bay_price_of, drive_prices, flash_or_disks
from larder.base.units import TB
from larder.laws.deaths import UsualDeaths
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.pool import pool_stage
from larder.stages.pool_setting import PoolSetting
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.tiers import TIERS
from larder.tests.plans import demo

RULES: Any = Of(house_rules=Of(usual_deaths=UsualDeaths(2.0, 4.0, 1.0, 40_000)))


def five_years(**fields: Any) -> Decimal | None:
    """Of a drive for 100."""
    usual = {
        "failures_per_year_percent": None,
        "kind": "hdd",
        "condition": "new",
        "hours_run": 0,
        "warranty_years": 0.0,
    }
    return prices._five_years(RULES, Of(**(usual | fields)), Decimal(100))  # type: ignore[arg-type]


class FiveYears(unittest.TestCase):
    def test_those_that_die_outside_of_the_warranty_are_bought_again(self) -> None:
        for fields, costs in (
            ({}, 110), ({"kind": "ssd"}, 105), ({"failures_per_year_percent": 4.0}, 120),
            ({"warranty_years": 3.0}, 104), ({"warranty_years": 7.0}, 100),
            ({"condition": "used"}, 110), ({"failures_per_year_percent": 4.0, "hours_run": 90_000}, 120),
            ({"hours_run": 40_000}, 110), ({"hours_run": 40_001}, 120),
        ):  # fmt: skip
            self.assertEqual(five_years(**fields), costs, fields)
        self.assertIsNone(prices._five_years(RULES, Of(), None))  # type: ignore[arg-type]


class Bays(unittest.TestCase):
    def test_every_priced_box_that_is_bought_counts_with_its_slots(self) -> None:
        def bay(*boxes: tuple[int, int, Any, bool]) -> Decimal | None:
            plan = Of(boxes=[Of(bays=b, flash_slots=s, is_reused=again) for b, s, _, again in boxes])
            answer = {TIERS: Of(enclosures=[Of(price=price) for *_, price, _ in boxes])}
            return bay_price_of(Of(bundle=Of(plan=plan), of=answer.__getitem__))  # type: ignore[arg-type]

        dear, cheap = (8, 2, Decimal(2000), False), (4, 0, Decimal(100), False)
        self.assertEqual(bay(dear), Decimal("200.00"))
        self.assertEqual(bay(dear, cheap), Decimal("150.00"))
        self.assertEqual(bay(dear, (4, 0, Decimal(100), True), (4, 0, None, False)), Decimal("200.00"))
        self.assertIsNone(bay((4, 0, None, False)))

    def test_portable_drives_take_none_and_what_has_no_price_comes_last(self) -> None:
        rows = drive_prices(judge(demo("tern-and-tide"), PARTS))
        catalogue = {drive.id: drive for drive in demo("tern-and-tide").catalogue.drives}
        portable = {row.drive_id for row in rows if row.bay_price == 0}
        self.assertEqual(portable, {at for at, drive in catalogue.items() if drive.duty == "portable"})
        self.assertEqual([row.price is None for row in rows], sorted(row.price is None for row in rows))
        new = {row.drive_id for row in rows if row.surface_test_hours == 0}
        self.assertEqual(new, {at for at, drive in catalogue.items() if drive.condition == "new"})
        used_here = {row.drive_id for row in rows if row.is_used_here}
        self.assertEqual(used_here, {p.drive_id for p in demo("tern-and-tide").plan.pools} - {""})


def asking(tb: int, read_mb: int = 100, write_mb: int = 100, only: str = "") -> FlashOrDisks:
    """What is found for so much, with the demo's prices, of classes with the word in their names."""
    document = demo("tern-and-tide").document()
    if only:
        kept = {drive["id"] for drive in document["catalogue"]["drives"] if only in drive["name"]}
        listed = document["catalogue"]["prices"]
        document["catalogue"]["prices"] = [p for p in listed if p["item_id"] in kept]
    bundle = bundle_from(document)
    usual = prices._Asked(tb * TB, read_mb * 1e6, write_mb * 1e6, 4)
    with patch.object(prices, "_Asked", lambda *_: usual):
        return flash_or_disks(bundle)


class FewestDrives(unittest.TestCase):
    def cheapest_flash(self, bundle: Bundle, tb: int, read_mb: int) -> Decimal | None:
        """Every class and every number of drives."""
        judged = judge(bundle, PARTS)
        bay, listed = bay_price_of(judged) or Decimal(0), judged.of(prices.PRICES)
        found = []
        for drive in bundle.catalogue.drives:
            for count in range(3, 25):
                pool = prices._pool(drive, "raid5", count)
                if pool is None or drive.kind != "ssd" or drive.duty == "portable" or drive.id not in listed:
                    continue
                answer = pool_stage(pool, 4, PoolSetting(drive=drive))
                if (
                    answer.plannable_bytes >= tb * TB
                    and answer.read.middle_bytes_per_s >= read_mb * 1e6
                    and answer.write.middle_bytes_per_s >= 100e6
                ):
                    found.append((listed[drive.id].amount + bay) * count)
        return min(found, default=None)

    def test_flash_is_the_cheapest_of_all(self) -> None:
        bundle = demo("tern-and-tide")
        for tb, read_mb in ((1, 100), (10, 100), (40, 100), (10, 30_000), (90, 100), (900, 100)):
            answer = asking(tb, read_mb).flash
            self.assertEqual(answer and answer.price, self.cheapest_flash(bundle, tb, read_mb), (tb, read_mb))

    def test_disks_stand_behind_two_drives_of_flash_in_bays_as_well(self) -> None:
        built = asking(20, write_mb=200).disks
        assert built is not None
        # Four of 16 TB in double parity hold 32 TB, a fifth of it kept free; two of flash before them.
        self.assertEqual(
            built.words,
            "4 × 16 TB disk, 7200 rpm, CMR, array class, behind 2 × 2 TB flash, NVMe, desktop class",
        )
        self.assertEqual(built.drives, 6)


class PricesTold(unittest.TestCase):
    def test_what_is_cheaper_and_by_how_much(self) -> None:
        def told(flash: Any, disks: Any) -> str:
            made = [each and Of(price=each, per_tb=each) for each in (flash, disks)]
            return prices._sentence(*made)

        self.assertIn("type prices", told(None, None))
        self.assertIn("No disks behind a cache", told(5, None))
        self.assertIn("No flash pool", told(None, 5))
        self.assertIn("no dearer", told(5, 5))
        self.assertIn("×1.2 ", told(6, 5))


class Built(unittest.TestCase):
    def test_a_price_by_the_tb_that_can_be_planned(self) -> None:
        built = prices._built("w", 4, 20 * TB, 1.0, Decimal("1000.004"))
        self.assertEqual((built.price, built.per_tb), (Decimal("1000.00"), Decimal("50.00")))
