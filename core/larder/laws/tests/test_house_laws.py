"""Waits, exposure, wear, nights, delivery and the last rebuild: at both ends and right at the edge, by hand."""

import math
import unittest
from datetime import date

import numpy as np

from larder.base.units import TB
from larder.laws.delivery import lead_days, order_by
from larder.laws.exposure import hangs_by_one_drive
from larder.laws.layout import parse_layout
from larder.laws.loss_odds import MOST_TOLERATED, groups_of
from larder.laws.nightly import is_nightly
from larder.laws.rebuild import fatal_read_odds, last_read_bytes, latent_odds, unreadable_odds
from larder.laws.spares import waits_hours
from larder.laws.wear import wear_years


class Waits(unittest.TestCase):
    def test_a_hot_spare_stands_in_and_the_shelf_is_nearer_than_the_post(self) -> None:
        for hot, cold, hours in ((1, 0, 0.0), (2, 3, 0.0), (0, 1, 12.0), (0, 0, 72.0)):
            self.assertEqual(waits_hours(hot, cold, 3), hours)
        many = waits_hours(np.array([1, 0, 0]), np.array([0, 1, 0]), 3)
        self.assertEqual(many.tolist(), [0.0, 12.0, 72.0])


class Exposure(unittest.TestCase):
    def test_only_what_survives_one_and_only_past_the_rule(self) -> None:
        for survives, hours, odds, hangs in (
            (1, 24.0, 0.25, False),
            (1, 24.1, 0.0, True),
            (1, 0.0, 0.26, True),
            (0, 99.0, 1.0, False),
            (2, 99.0, 1.0, False),
        ):
            self.assertEqual(hangs_by_one_drive(survives, hours, odds, 24.0, 25.0), hangs, (survives, hours))
        many = hangs_by_one_drive(np.array([1, 2]), np.array([30.0, 30.0]), np.zeros(2), 24.0, 25.0)
        self.assertEqual(many.tolist(), [True, False])


class Wear(unittest.TestCase):
    def test_the_rating_over_what_is_written(self) -> None:
        for rated, written, years in ((600, 100, 6.0), (0, 100, math.inf), (600, 0, math.inf)):
            self.assertEqual(wear_years(rated * TB, written * TB), years)
        self.assertEqual(
            wear_years(np.array([6.0, 0.0, 6.0]), np.array([2.0, 2.0, 0.0])).tolist(), [3, math.inf, math.inf]
        )


class Nights(unittest.TestCase):
    def test_a_day_is_a_night_and_more_is_not(self) -> None:
        self.assertEqual(
            [is_nightly(hours) for hours in (0, 1, 24, 24.5, 168)], [True, True, True, False, False]
        )


class Delivery(unittest.TestCase):
    def test_its_own_time_where_it_is_known_and_the_last_day_to_order(self) -> None:
        self.assertEqual([lead_days(21, own, 3) for own in (None, 0, 14)], [24, 21, 35])
        today = date(2026, 12, 2)
        self.assertEqual(order_by(today, 100.9, 24), date(2027, 2, 16))
        self.assertEqual(order_by(today, 10, 24), date(2026, 11, 18))
        self.assertIsNone(order_by(today, math.inf, 24))


class LastRebuild(unittest.TestCase):
    def test_a_mirror_reads_one_copy_and_parity_what_is_left(self) -> None:
        for name, of_group, tolerates, terabytes in (
            ("mirror", 2, 1, 10), ("raid10", 2, 1, 10), ("raid5", 5, 1, 40), ("raid6", 8, 2, 60), ("cow2", 8, 2, 30),
        ):  # fmt: skip
            read = last_read_bytes(parse_layout(name), 10 * TB, of_group, tolerates, 0.5)
            self.assertEqual(read, terabytes * TB, name)

    def test_what_goes_bad_unseen_and_never_more_than_by_sheets(self) -> None:
        read = 40 * TB
        often, seldom = fatal_read_odds(read, 1e-15, 1e-4, 1 / 12), fatal_read_odds(read, 1e-15, 1e3, 1.0)
        self.assertEqual(often, latent_odds(read, 1e-4, 1 / 12))
        self.assertEqual(seldom, unreadable_odds(read, 1e-15))
        many = fatal_read_odds(np.array([float(read), float(read)]), 1e-15, 1e-4, 1 / 12)
        np.testing.assert_allclose(many, [often, often])


class Groups(unittest.TestCase):
    def test_sets_of_a_layout_and_what_each_survives(self) -> None:
        for name, members, answer in (
            ("raid6", 8, (1, 8, 2)), ("raid10", 8, (4, 2, 1)), ("raid60:2", 16, (2, 8, 2)), ("mirror", 3, (1, 3, 2)),
            ("stripe", 4, (1, 4, 0)), ("mirror", 20, (1, 20, MOST_TOLERATED)),
        ):  # fmt: skip
            self.assertEqual(
                tuple(int(each) for each in groups_of(parse_layout(name), members)), answer, name
            )
