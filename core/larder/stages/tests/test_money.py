"""The sum of the prices, line by line."""

import unittest
from decimal import Decimal

from larder.judge.evaluation import evaluate
from larder.tests.plans import changed, demo, price, stocked


class Lines(unittest.TestCase):
    def test_every_line_is_number_times_price(self) -> None:
        for name in ("one-box", "tern-and-tide", "long-shore"):
            money = evaluate(demo(name)).money
            for line in money.lines:
                if line.unit_price is None:
                    self.assertEqual(line.amount, None if line.count > line.reused else 0)
                else:
                    self.assertEqual(line.amount, line.unit_price * (line.count - line.reused))
            self.assertEqual(money.spent, sum(line.amount or 0 for line in money.lines))

    def test_drives_count_those_on_the_shelf(self) -> None:
        bundle = stocked(
            {"drive_unit_price": "300", "cold_spares": 2, "bays": ""}, boxes=[], purchases=[], wiring={}
        )
        money = evaluate(bundle).money
        (line,) = money.lines
        self.assertEqual((line.name, line.count, line.amount), ("Boathouse pool: drives", 11, Decimal(3300)))
        plannable = evaluate(bundle).tiers.plannable_bytes
        self.assertAlmostEqual(float(money.per_plannable_tb or 0), 3300 * 1e12 / plannable, places=2)

    def test_what_has_no_price_yet_is_counted_unless_there_is_none_of_it(self) -> None:
        bundle = stocked(
            {"drive_unit_price": None, "bays": ""}, boxes=[], wiring={},
            purchases=[{"id": "a", "name": "A", "count": 0}, {"id": "c", "name": "C", "count": 1}, {"id": "b", "name": "B", "count": 3, "unit_price": "2"}],
        )  # fmt: skip
        money = evaluate(bundle).money
        self.assertEqual((money.unpriced, money.spent), (2, Decimal(6)))

    def test_a_box_is_a_line_where_its_class_or_its_price_is_said(self) -> None:
        boxes = [
            {"id": "own", "name": "Own", "bays": 2},
            {"id": "bought", "name": "Bought", "bays": 2, "unit_price": "500"},
            {"id": "listed", "name": "Listed", "bays": 12, "model_id": "desk-8"},
        ]
        bundle = stocked({"bays": ""}, boxes=boxes, purchases=[], wiring={})
        listed = bundle.catalogue.boxes[0].id
        boxes[2]["model_id"] = listed
        day = bundle.as_of
        money = evaluate(
            stocked({"bays": ""}, [price(listed, "700", day)], boxes=boxes, purchases=[], wiring={})
        ).money
        self.assertEqual(
            [(line.name, line.amount) for line in money.lines[1:]],
            [("Bought", Decimal(500)), ("Listed", Decimal(700))],
        )

    def test_nothing_plannable_has_no_price_per_terabyte(self) -> None:
        money = evaluate(changed(demo("one-box"), plan__pools__main__headroom_percent=99.9999999999)).money
        self.assertIsNone(money.per_plannable_tb) if not evaluate(
            changed(demo("one-box"), plan__pools__main__headroom_percent=99.9999999999)
        ).tiers.plannable_bytes else self.assertGreater(money.per_plannable_tb or 0, 1000)
