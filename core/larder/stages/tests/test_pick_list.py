"""The pick list: closed over what no box brings, on designs drawn at random; what is from stock costs nothing."""

import unittest
from collections import Counter
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.stages.pick_list import PICK_COLUMNS, PickLine, parts_needed, pick_rows
from larder.tests.drawn import drawn
from larder.tests.plans import changed, price, stocked

yes_no = st.booleans()


@st.composite
def designs(draw: st.DrawFn) -> dict[str, Any]:
    """Boxes that bring this and that, drives in them, seats with and without adapters, purchases."""
    boxes = [
        {
            "id": f"b{n}", "name": f"B{n}", "bays": 12, "form": draw(st.sampled_from(["desktop", "rack"])),
            "processor": draw(st.sampled_from(["", "middle"])), "brings_rails": draw(yes_no),
            "brings_carriers": draw(yes_no), "brings_cooler": draw(yes_no),
            "drive_leads": draw(st.sampled_from([0, 2, 4, 8])),
        }
        for n in range(draw(st.integers(1, 3)))
    ]  # fmt: skip
    drives = draw(st.integers(4, 9))
    links = [
        {
            "id": "l1",
            "near": "seat:edit",
            "far": "switch:s",
            "adapter": draw(st.sampled_from(["", "pcie3x4"])),
        },
        {"id": "l2", "near": "switch:s", "far": "box:b0", "links": draw(st.integers(1, 2))},
    ]
    bought = [
        {"id": f"p{n}", "name": f"P{n}", "part": draw(st.sampled_from(["cable", "adapter", "rails", ""])),
         "count": draw(st.integers(0, 8)), "unit_price": "5"}
        for n in range(draw(st.integers(0, 4)))
    ]  # fmt: skip
    return {"boxes": boxes, "drives": drives, "links": links, "purchases": bought}


def bundle_of(design: dict[str, Any]) -> Bundle:
    wiring = {"switches": [{"id": "s", "name": "S", "ports": "24x10GbE"}], "links": design["links"]}
    pool = {"drive_count": design["drives"], "bays": f"b0:1-{design['drives']}", "drive_unit_price": "100"}
    return stocked(pool, boxes=design["boxes"], wiring=wiring, purchases=design["purchases"], caches=[])


def wanted(design: dict[str, Any], seats: int) -> Counter[str]:
    """The same, counted one by one without any of the stage's code."""
    found: Counter[str] = Counter()
    for n, box in enumerate(design["boxes"]):
        inside = design["drives"] if n == 0 else 0
        if box["form"] == "rack" and not box["brings_rails"]:
            found["rails"] += 1
        if box["processor"] and not box["brings_cooler"]:
            found["cooler"] += 1
        for drive in range(inside):
            found["carrier"] += not box["brings_carriers"]
            found["power lead"] += box["drive_leads"] > 0 and drive >= box["drive_leads"]
    for _ in range(seats):
        found["cable"] += 1
        found["adapter"] += design["links"][0]["adapter"] != ""
    found["cable"] += design["links"][1]["links"]
    return +found


class Closed(unittest.TestCase):
    @given(designs())
    @drawn(60)
    def test_every_part_that_is_needed_is_bought_or_lacking(self, design: dict[str, Any]) -> None:
        bundle = bundle_of(design)
        seats = next(s.count for s in bundle.plan.brief.seats if s.id == "edit")
        needed = wanted(design, seats)
        self.assertEqual(dict(parts_needed(bundle.plan)), dict(needed))
        lines = evaluate(bundle).money.lines
        lacking = {line.id: line.count for line in lines if line.is_lacking}
        bought: Counter[str] = Counter()
        for purchase in bundle.plan.purchases:
            bought[purchase.part] += purchase.count
        for part, count in needed.items():
            self.assertEqual(lacking.pop(part, 0), max(count - bought[part], 0), part)
        self.assertEqual(lacking, {})


class Lines(unittest.TestCase):
    def design(self) -> dict[str, Any]:
        box = {"id": "b0", "name": "B0", "bays": 12, "form": "rack", "brings_rails": False}
        links = [
            {"id": "l1", "near": "seat:edit", "far": "switch:s"},
            {"id": "l2", "near": "switch:s", "far": "box:b0"},
        ]
        return {"boxes": [box], "drives": 6, "links": links, "purchases": []}

    def line(self, bundle: Bundle, line_id: str) -> PickLine:
        return next(line for line in evaluate(bundle).money.lines if line.id == line_id)

    def test_what_is_lacking_takes_the_plans_price_for_such_a_part(self) -> None:
        design = self.design()
        bundle = bundle_of(design)
        line = self.line(bundle, "cable")
        self.assertTrue(line.is_lacking)
        self.assertIsNone(line.amount)
        document = bundle.document()
        document["plan"]["wiring"]["prices"] = [
            {"id": "c", "part": "cable", "speed": "10GbE", "unit_price": "12.50", "priced_on": "2026-11-02"}
        ]
        priced = self.line(Bundle.model_validate(document), "cable")
        self.assertEqual(priced.amount, Decimal("12.50") * line.count)

    def test_nobody_is_at_a_pick_list_where_nothing_is_priced(self) -> None:
        design = self.design()
        bundle = changed(bundle_of(design), plan__pools__main__drive_unit_price=None)
        self.assertFalse([line for line in evaluate(bundle).money.lines if line.is_lacking])

    def test_what_comes_from_stock_costs_nothing_and_is_named(self) -> None:
        bundle = bundle_of(self.design())
        some = changed(bundle, plan__pools__main__reused_drives=4)
        line = self.line(some, "main")
        self.assertEqual((line.count, line.reused, line.amount), (6, 4, Decimal(200)))
        whole = changed(bundle, plan__pools__main__reused_drives=6, plan__boxes__b0__is_reused=True)
        self.assertEqual(self.line(whole, "main").amount, 0)
        box = self.line(whole, "b0")
        self.assertEqual((box.reused, box.amount), (1, 0))
        with self.assertRaisesRegex(Exception, "at most 6"):
            changed(bundle, plan__pools__main__reused_drives=7)

    def test_a_line_says_of_which_day_its_price_is(self) -> None:
        day = bundle_of(self.design()).as_of
        prices = [price("disk-16-array", "289", day)]
        bundle = stocked({"bays": "", "drive_unit_price": None}, prices, boxes=[], wiring={}, purchases=[])
        self.assertEqual(self.line(bundle, "main").priced_on, day)
        self.assertIsNone(
            self.line(changed(bundle, plan__pools__main__drive_unit_price="1"), "main").priced_on
        )

    def test_as_rows_of_a_table(self) -> None:
        money = evaluate(bundle_of(self.design())).money
        rows = list(pick_rows(money.lines, "EUR"))
        self.assertEqual({len(row) for row in rows}, {len(PICK_COLUMNS)})
        self.assertEqual(rows[0][:5], ["Boathouse pool: drives", "6", "0", "100.00", "600.00"])
