"""A studio's standards: what is taken into a plan, what a plan gives to them, and what cannot be."""

import unittest
from datetime import date
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.asks.standards import Part, Standards, made_of, taken_patch
from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.plan.bundle import Bundle
from larder.readers.generic_lists import generic_catalogue
from larder.readers.plan_file import bundle_from
from larder.tests.plans import changed, demo, price, stocked

DAY = date(2026, 11, 2)
PARTS: tuple[Part, ...] = ("house_rules", "catalogue")


def taken(bundle: Bundle, standards: Standards, part: Part) -> Bundle:
    return bundle_from(apply_patch(bundle.document(), taken_patch(bundle, standards, part)))


class Taking(unittest.TestCase):
    def test_a_plan_that_has_them_already_takes_nothing(self) -> None:
        self.assertEqual(taken_patch(demo("one-box"), Standards(), "house_rules"), ())
        full = taken(demo("one-box"), Standards(), "catalogue")
        self.assertEqual(taken_patch(full, Standards(), "catalogue"), ())
        self.assertEqual(full.catalogue.drives, generic_catalogue().drives)

    @given(st.floats(1, 10), st.integers(0, 3), st.sampled_from(("one-box", "halyard-street")))
    def test_what_is_made_of_a_plan_another_takes_whole(self, ratio: float, survive: int, name: str) -> None:
        rules: dict[str, Any] = {
            "house_rules__enough_ratio": ratio,
            "house_rules__failures_survived_min": survive,
        }
        source = changed(stocked(prices=[price("disk-16-array", "300", DAY)]), **rules)
        standards = Standards()
        for part in PARTS:
            standards = made_of(standards, source, part)
        other = demo(name)
        for part in PARTS:
            other = taken(other, standards, part)
        self.assertEqual(other.house_rules, source.house_rules)
        for each in source.catalogue.prices:
            self.assertIn(each, other.catalogue.prices)
        self.assertEqual(other.plan, demo(name).plan)

    def test_a_plans_own_classes_stay_beside_those_it_takes(self) -> None:
        own = {"id": "attic", "name": "Disk from the attic", "size_bytes": 10**12,
               "read_bytes_per_s": 1e8, "write_bytes_per_s": 1e8}  # fmt: skip
        document = demo("one-box").document()
        document["catalogue"]["drives"] = [own]
        full = taken(bundle_from(document), Standards(), "catalogue")
        self.assertEqual(full.catalogue.drives[0].id, "attic")
        self.assertEqual(len(full.catalogue.drives), len(generic_catalogue().drives) + 1)


class Making(unittest.TestCase):
    def test_one_part_leaves_the_other_as_it_was(self) -> None:
        source = changed(stocked(prices=[price("disk-16-array", "300", DAY)]), house_rules__enough_ratio=1.4)
        rules = made_of(Standards(), source, "house_rules")
        self.assertEqual(rules.catalogue, Standards().catalogue)
        self.assertEqual(rules.house_rules.enough_ratio, 1.4)
        classes = made_of(Standards(), source, "catalogue")
        self.assertEqual(classes.house_rules, Standards().house_rules)
        self.assertEqual(len(classes.catalogue.prices), 1)

    def test_prices_add_up_over_plans_and_a_later_word_on_a_class_wins(self) -> None:
        first = made_of(Standards(), stocked(prices=[price("disk-16-array", "300", DAY)]), "catalogue")
        document = stocked(prices=[price("disk-8-array", "150", DAY)]).document()
        next(d for d in document["catalogue"]["drives"] if d["id"] == "disk-16-array")["delivery_days"] = 9
        second = bundle_from(document)
        both = made_of(first, second, "catalogue")
        self.assertEqual({p.item_id for p in both.catalogue.prices}, {"disk-16-array", "disk-8-array"})
        drive = both.catalogue.drive("disk-16-array")
        self.assertEqual(drive.delivery_days if drive else None, 9)
        self.assertEqual(made_of(both, second, "catalogue"), both)

    def test_prices_in_two_currencies_are_refused_with_the_one_that_counts(self) -> None:
        standards = made_of(Standards(), stocked(prices=[price("disk-16-array", "300", DAY)]), "catalogue")
        dollars = changed(demo("one-box"), currency="USD")
        for act in (
            lambda: made_of(standards, dollars, "catalogue"),
            lambda: taken_patch(dollars, standards, "catalogue"),
        ):
            with self.assertRaises(Refused) as caught:
                act()
            self.assertEqual((caught.exception.field, caught.exception.value), ("currency", "USD"))
            self.assertIn("EUR", caught.exception.accepted)
        # Without a price there is nothing to convert, and rules know no currency.
        self.assertEqual(made_of(Standards(), dollars, "catalogue").currency, "USD")
        self.assertEqual(taken_patch(dollars, standards, "house_rules"), ())
