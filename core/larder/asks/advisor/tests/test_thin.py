"""Which few of many designs are shown: by hand, at each edge of what a person tells apart."""

import unittest

import numpy as np

from larder.asks.advisor.thin import thinned
from larder.laws.front import Measures

Row = tuple[float, float, float, float]
CHEAPEST: Row = (1000.0, 100e12, 1.2, 1e-5)


def shown(*rows: Row, schools: str = "", most: int = 7) -> list[int]:
    """The places that are shown of (cost, space, speed, odds), all of one school unless said."""
    columns = [np.array(column, dtype=float) for column in zip(*rows, strict=True)]
    return thinned(Measures(*columns), list(schools or "a" * len(rows)), most)


class Shown(unittest.TestCase):
    def test_the_cheapest_of_each_school_by_cost(self) -> None:
        rows = (CHEAPEST, (1010.0, 100e12, 1.2, 1e-5), (1020.0, 100e12, 1.2, 1e-5))
        self.assertEqual(shown(*rows, schools="aab"), [0, 2])
        self.assertEqual(shown(*rows[::-1], schools="baa"), [2, 0])

    def test_nobody_looks_beyond_half_as_much_again(self) -> None:
        for cost, there in ((1500.0, True), (1500.1, False)):
            self.assertEqual(1 in shown(CHEAPEST, (cost, 200e12, 1.2, 1e-5), schools="ab"), there, cost)

    def test_of_one_school_only_what_gives_clearly_more(self) -> None:
        for space, there in ((104e12, False), (130e12, True)):
            self.assertEqual(1 in shown(CHEAPEST, (1100.0, space, 1.2, 1e-5)), there, space)
        self.assertEqual(shown(CHEAPEST, (1100.0, 90e12, 1.2, 1e-5)), [0])

    def test_quicker_than_three_times_and_surer_than_the_surest_make_no_difference(self) -> None:
        quick = (1000.0, 100e12, 3.0, 1e-9)
        self.assertEqual(shown(quick, (1100.0, 100e12, 9.0, 1e-9)), [0])
        self.assertEqual(shown(quick, (1100.0, 100e12, 3.0, 1e-15)), [0])
        self.assertEqual(shown(CHEAPEST, (1100.0, 100e12, 3.0, 1e-5)), [0, 1])
        self.assertEqual(shown(CHEAPEST, (1100.0, 100e12, 1.2, 1e-8)), [0, 1])

    def test_odds_within_a_factor_of_ten_are_a_tie(self) -> None:
        self.assertEqual(shown(CHEAPEST, (1100.0, 100e12, 1.2, 2e-6)), [0])

    def test_no_more_than_asked_and_what_differs_most_first(self) -> None:
        rows = [(1000.0 + 10 * n, 100e12 * 1.2**n, 1.2, 1e-5) for n in range(9)]
        self.assertEqual(len(shown(*rows, schools="abcdefghi")), 7)
        self.assertEqual(shown(*rows, most=2), [0, 8])
        self.assertEqual(shown(*rows, schools="abcdefghi", most=3), [0, 1, 2])
        self.assertEqual(thinned(Measures(*(np.array([]),) * 4), [], 7), [])
