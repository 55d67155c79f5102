"""Joint load against brute force, the grid against exact sums, and the meaning of a quantile."""

import itertools
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from larder import demand
from larder.demand import SeatClass, joint_load
from larder.errors import Refused

seat = st.builds(
    SeatClass, st.just("seat"), st.integers(0, 3), st.integers(0, 400).map(lambda n: n * 1e6), st.floats(0, 1)
)


def by_brute_force(seats: list[SeatClass], level: float) -> float:
    """The quantile from every combination of every single seat."""
    single = [s for s in seats for _ in range(s.count)]
    odds: dict[float, float] = {}
    for busy in itertools.product((False, True), repeat=len(single)):
        total = sum(s.bytes_per_s for s, b in zip(single, busy, strict=True) if b)
        chance = 1.0
        for s, b in zip(single, busy, strict=True):
            chance *= s.probability if b else 1 - s.probability
        odds[total] = odds.get(total, 0.0) + chance
    cumulated = 0.0
    for total in sorted(odds):
        cumulated += odds[total]
        if cumulated >= level - 1e-12:
            return total
    return max(odds)


class BruteForce(unittest.TestCase):
    @settings(max_examples=60)
    @given(st.lists(seat, max_size=4), st.sampled_from((0.5, 0.9, 0.95, 0.99)))
    def test_exact_sums_equal_every_combination(self, seats: list[SeatClass], level: float) -> None:
        load = joint_load(tuple(seats))
        self.assertAlmostEqual(load.quantile(level), by_brute_force(seats, level), delta=1)
        self.assertEqual(load.error_bound_bytes_per_s, 0)

    @given(st.lists(seat, max_size=3), st.integers(1, 5), st.integers(1, 300), st.floats(0, 0.2))
    def test_who_always_peaks_shifts_every_sum_and_who_never_does_shifts_none(
        self, seats: list[SeatClass], count: int, rate: int, common: float
    ) -> None:
        alone = joint_load(tuple(seats))
        always = SeatClass("always", count, rate * 1e6, 1)
        never = SeatClass("never", count, rate * 1e6, 0)
        for level in (0.1, 0.5, 0.95):
            shifted = joint_load((*seats, always)).quantile(level)
            self.assertAlmostEqual(shifted, alone.quantile(level) + count * rate * 1e6, delta=1)
            self.assertEqual(joint_load((*seats, never)).quantile(level), alone.quantile(level))
        # Who never peaks alone still does when all peak together.
        together = joint_load((*seats, never), common)
        self.assertAlmostEqual(together.max_bytes_per_s, alone.max_bytes_per_s + count * rate * 1e6, delta=1)
        self.assertAlmostEqual(float(together.odds.sum()), 1)
        self.assertAlmostEqual(
            together.mean_bytes_per_s,
            (1 - common) * alone.mean_bytes_per_s + common * together.max_bytes_per_s,
            delta=1,
        )

    @settings(max_examples=40)
    @given(st.lists(seat, min_size=1, max_size=4))
    def test_the_grid_stays_within_its_stated_bound(self, seats: list[SeatClass]) -> None:
        odd = tuple(SeatClass(s.name, s.count, s.bytes_per_s * 1.003, s.probability) for s in seats)
        exact = joint_load.__wrapped__(odd)
        limit, demand.EXACT_COMBINATIONS = demand.EXACT_COMBINATIONS, 0
        try:
            grid = joint_load.__wrapped__(odd)
        finally:
            demand.EXACT_COMBINATIONS = limit
        self.assertAlmostEqual(float(grid.odds.sum()), 1)
        for x in exact.values:  # shifting by the bound brackets the exact distribution
            below = exact.odds[exact.values <= x + 1e-3].sum()
            reach = grid.odds[grid.values <= x + grid.error_bound_bytes_per_s + 1].sum()
            self.assertLessEqual(below, reach + 1e-9)


class TwoWays(unittest.TestCase):
    @settings(max_examples=40)
    @given(st.lists(seat, min_size=1, max_size=5))
    def test_shifts_and_transforms_give_the_same_odds(self, seats: list[SeatClass]) -> None:
        many = tuple(SeatClass(s.name, s.count * 5, s.bytes_per_s, s.probability) for s in seats)
        exact, most = demand.EXACT_COMBINATIONS, demand.MOST_SHIFTED_CELLS
        demand.EXACT_COMBINATIONS = 0
        try:
            shifted = joint_load.__wrapped__(many)
            demand.MOST_SHIFTED_CELLS = 0
            transformed = joint_load.__wrapped__(many)
        finally:
            demand.EXACT_COMBINATIONS, demand.MOST_SHIFTED_CELLS = exact, most
        self.assertLess(float(abs(shifted.odds - transformed.odds).max()), 1e-9)


class Meaning(unittest.TestCase):
    def test_one_seat_that_is_busy_one_time_in_twenty(self) -> None:
        load = joint_load((SeatClass("one", 1, 100.0, 0.05),))
        self.assertEqual((load.quantile(0.95), load.quantile(0.951)), (0.0, 100.0))

    def test_all_peak_together_with_the_common_probability(self) -> None:
        seats = (SeatClass("edit", 10, 50.0, 0.0),)
        self.assertEqual(joint_load(seats).quantile(0.95), 0.0)
        common = joint_load(seats, 0.06)
        self.assertEqual(common.quantile(0.95), 500.0)
        self.assertAlmostEqual(common.mean_bytes_per_s, 30.0)

    def test_two_hundred_seats_of_twenty_classes_keep_their_mean(self) -> None:
        seats = tuple(SeatClass(f"c{i}", 10, (10 + 7 * i) * 1e6, 0.3) for i in range(20))
        load = joint_load(seats)
        self.assertAlmostEqual(float((load.values * load.odds).sum()), load.mean_bytes_per_s, delta=1)

    @given(st.lists(seat, max_size=5), st.floats(0, 1))
    def test_quantiles_rise_with_the_level(self, seats: list[SeatClass], common: float) -> None:
        load = joint_load(tuple(seats), common)
        found = [load.quantile(q) for q in (0.0, 0.5, 0.95, 0.99, 1.0)]
        self.assertEqual(found, sorted(found))
        self.assertLessEqual(found[-1], load.max_bytes_per_s + 1)

    def test_impossible_seats_are_refused(self) -> None:
        for bad in (SeatClass("x", -1, 1, 0.5), SeatClass("x", 1, -1, 0.5), SeatClass("x", 1, 1, 1.5)):
            self.assertRaises(Refused, joint_load, (bad,))
        self.assertRaises(Refused, joint_load, (), 2.0)
