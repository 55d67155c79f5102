"""Cables by the tables of their standards."""

import unittest

from larder.laws.cable import fastest_over, least_category_for
from larder.laws.path import ETHERNET_BITS_PER_S

SPEEDS = tuple(ETHERNET_BITS_PER_S)


class Reach(unittest.TestCase):
    def test_what_the_standards_promise(self) -> None:
        for category, metres, fastest in (
            ("cat5e", 100, "2.5GbE"), ("cat6", 55, "10GbE"), ("cat6", 56, "5GbE"), ("cat6a", 100, "10GbE"),
            ("cat6a", 101, "100Mb"), ("direct attach", 5, "100GbE"), ("direct attach", 7, "10GbE"),
        ):  # fmt: skip
            self.assertEqual(fastest_over(category, metres), fastest, (category, metres))
        self.assertIsNone(fastest_over("fibre", 2000))
        self.assertIsNone(fastest_over("unsaid", 500))

    def test_longer_is_never_faster_and_what_is_proposed_carries_it(self) -> None:
        for category in ("cat5e", "cat6", "cat6a", "direct attach"):
            promised = [SPEEDS.index(fastest_over(category, metres) or "") for metres in range(120)]
            self.assertEqual(promised, sorted(promised, reverse=True))
        for speed in SPEEDS:
            for metres in (0, 3, 30, 90, 300):
                fastest = fastest_over(least_category_for(speed, metres, SPEEDS), metres)
                self.assertTrue(fastest is None or SPEEDS.index(fastest) >= SPEEDS.index(speed))
