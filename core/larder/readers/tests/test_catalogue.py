"""Classes and prices: the list of the day, CSV in and out, what is refused, and drives swapped in one step."""

import unittest
from datetime import date, timedelta
from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from larder.asks.compare import compare_drives
from larder.base.errors import Refused, RefusedMany
from larder.base.patch import apply_patch
from larder.base.units import GB, TB
from larder.judge.evaluation import evaluate
from larder.plan.catalogue import Catalogue, Price, amount_of, prices_on
from larder.plan.enclosure import fits, lanes_of
from larder.readers.catalogue_csv import read_catalogue_csv, write_catalogue_csv
from larder.readers.generic_lists import generic_catalogue, missing_patch
from larder.readers.plan_file import bundle_from
from larder.tests.plans import demo, price, stocked

DAY = date(2026, 11, 24)


class PriceList(unittest.TestCase):
    @given(st.lists(st.tuples(st.sampled_from("ab"), st.integers(-30, 30), st.integers(1, 99)), max_size=12))
    def test_the_latest_price_not_after_the_day_counts(self, rows: list[tuple[str, int, int]]) -> None:
        prices = [
            Price(
                id=f"p{n}",
                item_id=item,
                amount=Decimal(amount),
                currency="EUR",
                priced_on=DAY + timedelta(days),
            )
            for n, (item, days, amount) in enumerate(rows)
        ]
        expected = None
        for item, days, amount in sorted(rows, key=lambda row: row[1]):
            if item == "a" and days <= 0:
                expected = amount
        found = prices_on(prices, DAY).get("a")
        self.assertEqual(None if found is None else found.amount, expected)

    def test_a_typed_price_wins_over_the_list(self) -> None:
        listed = prices_on([Price.model_validate(price("disk-16-array", "300", DAY))], DAY)
        self.assertEqual(amount_of(Decimal(250), listed, "disk-16-array"), 250)
        self.assertEqual(amount_of(None, listed, "disk-16-array"), 300)
        self.assertIsNone(amount_of(None, listed, ""))

    def test_a_pool_a_cold_spare_and_a_box_cost_what_the_list_says_on_the_plans_day(self) -> None:
        as_of = demo("one-box").as_of
        prices = [
            price("disk-16-array", "300", as_of),
            price("disk-16-array", "280", as_of + timedelta(1)),
            price("desk-12", "1900", as_of),
        ]
        pool = {"drive_unit_price": None, "cold_spares": 1}
        box = {"id": "boathouse", "name": "Boathouse box", "bays": 12, "model_id": "desk-12"}
        money = evaluate(stocked(pool, prices, boxes=[box])).money
        self.assertEqual([(line.count, line.amount) for line in money.lines[:2]], [(10, 3000), (1, 1900)])

    def test_another_currency_is_refused_with_what_would_be_right(self) -> None:
        with self.assertRaises(RefusedMany) as caught:
            stocked(prices=[price("disk-16-array", "300", DAY, "CHF")])
        refused = caught.exception.problems[0]
        self.assertEqual(refused.field, "catalogue/prices/disk-16-array-2026-11-24/currency")
        self.assertIn("EUR, the plan's currency", refused.accepted)

    def test_classes_that_are_not_there_are_refused(self) -> None:
        box = {"id": "boathouse", "name": "Boathouse box", "bays": 12, "model_id": "attic"}
        for make in (
            lambda: stocked({"drive_id": "attic"}),
            lambda: stocked(prices=[price("attic", "1", DAY)]),
            lambda: stocked(boxes=[box]),
        ):
            with self.assertRaises(RefusedMany) as caught:
                make()
            self.assertIn("a class of", caught.exception.problems[0].accepted)


class Places(unittest.TestCase):
    def test_interfaces_fit_the_buses_that_speak_them(self) -> None:
        table = {"sata": ("sata3", "sas3"), "sas": ("sas3",), "nvme": ("pcie3x2", "pcie5x4"), "usb": ()}
        for interface, fitting in table.items():
            for bus in ("sata3", "sas3", "usb10G", "pcie3x2", "pcie5x4"):
                self.assertEqual(fits(interface, bus), bus in fitting, (interface, bus))  # type: ignore[arg-type]
            self.assertTrue(fits(interface, ""))  # type: ignore[arg-type]
        self.assertEqual([lanes_of(b) for b in ("pcie4x8", "sata3", "")], [8, 0, 0])

    def test_flash_in_a_bay_it_does_not_fit_is_refused(self) -> None:
        box = {"id": "boathouse", "name": "Box", "bays": 12, "bay_bus": "sata3", "flash_slots": 9}
        nvme = {"drive_id": "flash-4-nvme", "drive_kind": "ssd", "drive_bytes": 4 * TB}
        for pool, bays, words in (
            (nvme, "boathouse:1-9", "a place for nvme drives"),
            ({}, "boathouse:f1-9", "a bay for disks"),
        ):
            with self.assertRaises(RefusedMany) as caught:
                stocked(pool | {"bays": bays}, boxes=[box])
            refused = caught.exception.problems[0]
            self.assertEqual(refused.field, "plan/pools/main/bays")
            self.assertIn(words, refused.accepted)

    def test_a_spare_or_a_parity_drive_that_is_too_small_is_refused(self) -> None:
        layout = {"layout": "filewise1", "drive_count": 6, "drive_bytes": 16 * TB, "bays": ""}
        for fields, field, words in (
            ({"spares": 1, "spare_bytes": 12 * TB}, "spare_bytes", "at least the size of the largest member"),
            (layout | {"parity_bytes": 12 * TB}, "parity_bytes", "at least the size of a data drive"),
            (
                layout | {"parity_bytes": 20 * TB, "spares": 1, "spare_bytes": 18 * TB},
                "spare_bytes",
                "at least",
            ),
            ({"parity_bytes": 20 * TB}, "parity_bytes", "nothing: only a whole-file layout"),
            (
                {"mixed_sizes": "4TB+4x8TB", "spare_bytes": 9 * TB},
                "spare_bytes",
                "nothing beside mixed sizes",
            ),
        ):
            with self.assertRaises(RefusedMany) as caught:
                stocked(fields)
            refused = caught.exception.problems[0]
            self.assertEqual(refused.field, f"plan/pools/main/{field}")
            self.assertIn(words, refused.accepted)

    @given(st.integers(2, 12), st.integers(0, 3), st.integers(0, 8), st.integers(0, 8))
    def test_larger_spares_and_parity_count_once_and_give_nothing_more(
        self, data: int, spares: int, parity_more: int, spare_more: int
    ) -> None:
        each, parity = 8 * TB, (8 + parity_more) * TB
        spare = parity + spare_more * TB
        fields = {
            "layout": "filewise1", "drive_count": data + 1 + spares, "drive_bytes": each, "spares": spares,
            "parity_bytes": parity, "spare_bytes": spare, "bays": "", "filesystem": "none",
        }  # fmt: skip
        pool = evaluate(stocked(fields)).tiers.pools[0]
        self.assertEqual(pool.raw_bytes, data * each + parity + spares * spare)
        self.assertEqual(pool.layout_bytes, data * each)


class Csv(unittest.TestCase):
    def test_the_generic_classes_go_out_and_come_back_as_they_are(self) -> None:
        generic = generic_catalogue()
        for listing in ("drives", "boxes"):
            text = write_catalogue_csv(generic, listing)  # type: ignore[arg-type]
            rows = read_catalogue_csv(text.encode(), generic)
            self.assertEqual(
                (rows.listing, rows.added, rows.replaced), (listing, 0, len(getattr(generic, listing)))
            )
            back = apply_patch({"catalogue": generic.model_dump(mode="json")}, rows.patch)
            self.assertEqual(Catalogue.model_validate(back["catalogue"]), generic)

    def test_a_price_list_is_added_to_and_a_price_of_the_same_day_replaced(self) -> None:
        bundle = stocked(prices=[])
        raw = b"class;price;currency;date\ndisk-16-array;300;EUR;2026-11-02\ndisk-22-array;402.50;EUR;2026-11-02\n"
        rows = read_catalogue_csv(raw, bundle.catalogue)
        self.assertEqual((rows.listing, rows.added, rows.replaced), ("prices", 2, 0))
        once = bundle_from(apply_patch(bundle.document(), rows.patch))
        again = read_catalogue_csv(raw.replace(b"300", b"310"), once.catalogue)
        self.assertEqual((again.added, again.replaced), (0, 2))
        twice = bundle_from(apply_patch(once.document(), again.patch))
        self.assertEqual([p.amount for p in twice.catalogue.prices], [Decimal(310), Decimal("402.50")])
        text = write_catalogue_csv(twice.catalogue, "prices")
        self.assertIn("disk-16-array,310.00,EUR,2026-11-02", text)

    def test_every_faulty_row_is_told_with_its_line_and_nothing_is_taken(self) -> None:
        raw = (
            b"id,name,size,read,write\n"
            b"one,One,18TB,260MB/s,255MB/s\n"
            b"two,Two,18,260MB/s,255MB/s\n"
            b"three,Three,18TB,fast,255MB/s\n"
            b"one,Again,18TB,260MB/s,255MB/s\n"
            b"four,Four,18TB,260MB/s\n"
            b"FIVE,Five,18TB,260MB/s,255MB/s\n"
        )
        with self.assertRaises(RefusedMany) as caught:
            read_catalogue_csv(raw, Catalogue())
        fields = [p.field for p in caught.exception.problems]
        expected = ["line 3, size", "line 4, read", "line 5, id", "line 6, row", "line 7, id"]
        self.assertEqual(fields, expected)

    def test_a_file_that_is_no_list_is_refused_as_a_whole(self) -> None:
        for raw, words in (
            (b"label,weight\n", "columns with price"),
            (b"id,size,colour\n", "for drives columns out of"),
            (b"id,size,size\n", "for drives columns out of"),
            (b"", "a header row"),
            (b"\xff\xfe", "UTF-8"),
        ):
            with self.assertRaises(Refused) as caught:
                read_catalogue_csv(raw, Catalogue())
            self.assertIn(words, caught.exception.accepted)
        for cell, column in (("Slot 1 pcie", "cards"), ("bay for disks", "list")):
            with self.assertRaises(RefusedMany) as many:
                read_catalogue_csv(f"id,name,bays,{column}\nbox,Box,4,{cell}\n".encode(), Catalogue())
            self.assertEqual(many.exception.problems[0].field, f"line 2, {column}")


class Swap(unittest.TestCase):
    def test_taking_a_row_gives_what_the_row_says(self) -> None:
        bundle = stocked(prices=[price("disk-22-array", "402", DAY - timedelta(9))])
        rows = {row.drive_id: row for row in compare_drives(bundle, "main")}
        self.assertEqual(rows.keys(), {d.id for d in bundle.catalogue.drives})
        self.assertEqual([i for i, row in rows.items() if row.is_current], ["disk-16-array"])
        built = 0
        for row in rows.values():
            if row.why_not:
                continue
            after = evaluate(bundle_from(apply_patch(bundle.document(), row.patch)))
            pool = after.tiers.pools[0]
            self.assertEqual(
                (pool.plannable_bytes, pool.read.middle_bytes_per_s, pool.rebuild_seconds, pool.drives_price),
                (row.plannable_bytes, row.read_bytes_per_s, row.rebuild_seconds, row.drives_price),
            )
            built += 1
        self.assertGreater(built, 8)
        self.assertEqual(rows["disk-22-array"].drives_price, 9 * 402)

    def test_classes_that_do_not_fit_the_bays_say_why(self) -> None:
        box = {"id": "boathouse", "name": "Box", "bays": 12, "bay_bus": "sata3"}
        rows = {r.drive_id: r for r in compare_drives(stocked(boxes=[box]), "main")}
        self.assertIn("a place for nvme drives", rows["flash-4-nvme"].why_not)
        self.assertIn("a place for sas drives", rows["disk-18-sas"].why_not)
        self.assertEqual(rows["flash-4-sata"].why_not, "")
        self.assertRaises(Refused, compare_drives, stocked(), "attic")

    def test_the_generic_classes_are_added_once(self) -> None:
        self.assertEqual(missing_patch(stocked().catalogue), ())
        self.assertTrue(all(d.size_bytes >= 2 * TB and d.noise_dba < 40 for d in generic_catalogue().drives))
        self.assertTrue(
            all(b.memory_bytes >= 4 * GB for b in generic_catalogue().boxes if b.form != "expansion unit")
        )
