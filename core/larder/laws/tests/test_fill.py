"""Steady growth: the closed form against summing days, and its inverse."""

import unittest

from hypothesis import example, given
from hypothesis import strategies as st

from larder.laws.fill import grown_years, years_to_fill


class Fill(unittest.TestCase):
    def test_growing_intake_is_the_sum_of_its_days(self) -> None:
        for growth in (0.05, 0.4, 1.5):
            days = sum((1 + growth) ** ((day + 0.5) / 1000) / 1000 for day in range(3000))
            self.assertAlmostEqual(grown_years(3.0, growth), days, places=5)
        self.assertEqual(grown_years(3.0, 0.0), 3.0)

    def test_known_dates(self) -> None:
        self.assertEqual(years_to_fill(10.0, 5.0, 0.0), 2.0)
        # A rate that doubles every year brings 1/ln 2 of the first year's in the first, twice that in the next.
        self.assertAlmostEqual(years_to_fill(3 / 0.6931471805599453, 1.0, 1.0) or 0, 2.0, places=12)
        self.assertEqual(years_to_fill(-1.0, 5.0, 0.1), 0.0)
        self.assertIsNone(years_to_fill(1.0, 0.0, 0.1))

    @example(1.0, 2.0, 5e-324, 2.0)
    @given(st.floats(1, 1e3), st.floats(0.01, 1e3), st.floats(0, 3), st.floats(1.01, 3))
    def test_it_is_the_inverse_and_more_room_lasts_longer(
        self, room: float, a_year: float, growth: float, more: float
    ) -> None:
        years = years_to_fill(room, a_year, growth)
        assert years is not None
        self.assertAlmostEqual(grown_years(years, growth) * a_year / room, 1.0, places=6)
        self.assertGreater(years_to_fill(room * more, a_year, growth) or 0, years)
        self.assertLessEqual(years_to_fill(room, a_year, growth + 0.5) or 0, years)
