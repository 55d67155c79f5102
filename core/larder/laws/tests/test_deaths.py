"""How many drives die in a year, and which of them are paid for: five answers of a technician, and the edges."""

import unittest

import numpy as np

from larder.laws.deaths import MOST_PERCENT, UsualDeaths, deaths_percent, months_paid_for, replaced_price

HOUSE = UsualDeaths(disks=1.5, worn_disks=3.0, flash=0.8, trusted_hours=43_800)


class Deaths(unittest.TestCase):
    def test_what_a_technician_says_of_five_drives(self) -> None:
        for kind, own, hours, percent in (
            ("hdd", None, 0, 1.5), ("hdd", None, 43_800, 1.5), ("hdd", None, 43_801, 3.0),
            ("ssd", None, 60_000, 0.8), ("hdd", 20.0, 60_000, 20.0), ("ssd", 0.0, 0, 0.0),
        ):  # fmt: skip
            self.assertEqual(deaths_percent(kind, HOUSE, own, hours), percent, (kind, own, hours))

    def test_a_class_of_which_all_die_has_a_rate_with_an_end(self) -> None:
        self.assertEqual(deaths_percent("hdd", HOUSE, 100.0, 0), MOST_PERCENT)


class PaidFor(unittest.TestCase):
    def test_after_the_warranty_month_by_month(self) -> None:
        for years, paid in ((0, 60), (1.5, 42), (1.55, 42), (3, 24), (5, 0), (20, 0)):
            month_by_month = sum(month > years * 12 for month in range(1, 61))
            self.assertEqual((months_paid_for(years, 60), month_by_month), (paid, paid), years)
        self.assertEqual(months_paid_for(np.array([0.0, 3.0, 9.0]), 60).tolist(), [60, 24, 0])

    def test_a_hundred_drives_for_five_years(self) -> None:
        # 3 of 100 a year at 200 each, two years outside of the warranty: 6 drives of 100.
        self.assertAlmostEqual(100 * replaced_price(3.0, 200.0, 3.0, 60), 1_200)
