"""Power and room, by cases worked out by hand."""

import math
import unittest

from hypothesis import given
from hypothesis import strategies as st

from larder.laws.power import (
    battery_minutes,
    degrees_above,
    efficiency,
    heat_btu_per_h,
    noise_sum_dba,
    wall_watts,
)


class ByHand(unittest.TestCase):
    def test_heat_is_3_412_btu_an_hour_a_watt(self) -> None:
        self.assertAlmostEqual(heat_btu_per_h(250), 853.0)

    def test_two_equal_levels_are_three_decibels_more_and_ten_are_ten(self) -> None:
        self.assertAlmostEqual(noise_sum_dba([30, 30]), 33.0103, places=4)
        self.assertAlmostEqual(noise_sum_dba([24] * 10), 34.0, places=9)
        self.assertAlmostEqual(noise_sum_dba([40, 30]), 10 * math.log10(11_000), places=9)
        self.assertEqual((noise_sum_dba([]), noise_sum_dba([0, 0])), (0.0, 0.0))
        self.assertAlmostEqual(noise_sum_dba([0, 35]), 35.0)

    def test_a_supply_is_worst_nearly_idle_and_best_at_half_load(self) -> None:
        self.assertEqual([efficiency(x) for x in (0.1, 0.2, 0.5, 1.0)], [0.80, 0.87, 0.90, 0.87])
        self.assertAlmostEqual(efficiency(0.35), 0.885)
        self.assertEqual(efficiency(1.4), 0.87)
        self.assertAlmostEqual(wall_watts(250, 500), 250 / 0.9)
        # Two supplies share it, and each is at a quarter of its rating.
        self.assertAlmostEqual(wall_watts(250, 500, 2), 250 / 0.875)
        self.assertEqual(wall_watts(0, 500), 0.0)
        self.assertAlmostEqual(wall_watts(90, 0), 100.0)

    def test_a_closet_of_15_watts_a_degree_and_its_fan(self) -> None:
        self.assertAlmostEqual(degrees_above(300, 15, 0), 20.0)
        # 100 m³/h of air carry off 33.5 W for each degree.
        self.assertAlmostEqual(degrees_above(300, 15, 100), 300 / 48.5)
        self.assertEqual(degrees_above(1, 0, 0), math.inf)

    def test_a_battery_of_216_watt_hours_at_200_watts(self) -> None:
        self.assertAlmostEqual(battery_minutes(216, 200), 216 * 0.88 / 200 * 60)
        self.assertEqual(battery_minutes(216, 0), math.inf)

    @given(st.floats(1, 400), st.floats(1, 100))
    def test_more_load_draws_more_from_the_wall(self, watts: float, more: float) -> None:
        self.assertGreater(wall_watts(watts + more, 500), wall_watts(watts, 500))
