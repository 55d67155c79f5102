"""Joint load against brute force, the grid against exact sums, and the meaning of a quantile."""

import itertools
import math
import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from fractions import Fraction
from types import ModuleType

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.memo import forget_all
from larder.laws import demand
from larder.laws.demand import (
    NO_RUSH,
    Rush,
    SeatClass,
    joint_load,
    load_at_most,
    quantiles_of_many,
)
from larder.tests.drawn import drawn

seat = st.builds(
    SeatClass, st.just("seat"), st.integers(0, 3), st.integers(0, 400).map(lambda n: n * 1e6), st.floats(0, 1)
)


@contextmanager
def set_to(module: ModuleType, **values: int) -> Iterator[None]:
    """The module's constants set for a while, with nothing remembered from before or kept for after."""
    before = {name: getattr(module, name) for name in values}
    forget_all()
    try:
        for name, value in values.items():
            setattr(module, name, value)
        yield
    finally:
        forget_all()
        for name, value in before.items():
            setattr(module, name, value)


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
    @drawn(60)
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
        together = joint_load((*seats, never), Rush(common))
        self.assertAlmostEqual(together.max_bytes_per_s, alone.max_bytes_per_s + count * rate * 1e6, delta=1)
        self.assertAlmostEqual(float(together.odds.sum()), 1)
        self.assertAlmostEqual(
            together.mean_bytes_per_s,
            (1 - common) * alone.mean_bytes_per_s + common * together.max_bytes_per_s,
            delta=1,
        )

    @drawn(40)
    @given(st.lists(seat, min_size=1, max_size=4))
    def test_the_grid_stays_within_its_stated_bound(self, seats: list[SeatClass]) -> None:
        odd = tuple(SeatClass(s.name, s.count, s.bytes_per_s * 1.003, s.probability) for s in seats)
        exact = joint_load(odd)
        with set_to(demand, EXACT_COMBINATIONS=0):
            grid = joint_load(odd)
        self.assertAlmostEqual(float(grid.odds.sum()), 1)
        for x in exact.values:  # shifting by the bound brackets the exact distribution
            below = exact.odds[exact.values <= x + 1e-3].sum()
            reach = grid.odds[grid.values <= x + grid.error_bound_bytes_per_s + 1].sum()
            self.assertLessEqual(below, reach + 1e-9)
        for level in (0.5, 0.95, 0.99):  # a quantile is never below the true one, nor far above it
            above = grid.quantile(level) - exact.quantile(level)
            self.assertGreaterEqual(above, -1)
            self.assertLessEqual(above, 2 * grid.error_bound_bytes_per_s + 1)
        self.assertAlmostEqual(float((grid.values * grid.odds).sum()), exact.mean_bytes_per_s, delta=1)


homes = st.lists(st.tuples(st.integers(1, 300).map(lambda n: n * 1e6), st.floats(0, 0.5)), max_size=2)
at_home = st.builds(
    lambda count, rate, odds, here, others: SeatClass("seat", count, rate * 1e6, odds, here, tuple(others)),
    st.integers(0, 3), st.integers(1, 300), st.floats(0, 1), st.floats(0, 0.5), homes.filter(lambda o: sum(h for _, h in o) <= 0.5),
)  # fmt: skip


def by_every_state(seats: tuple[SeatClass, ...], rush: Rush, level: float) -> float:
    """The quantile from every state of every single seat, homes included, on both kinds of day."""
    odds: dict[float, float] = {0.0: 0.0}
    for chance, lifted in ((1 - rush.probability, 0.0), (rush.probability, rush.odds)):
        states = {0.0: chance}
        for s in (each for each in seats for _ in range(each.count)):
            busy = max(s.probability, lifted)
            outcomes = [(s.bytes_per_s, busy * s.here), *((r, busy * h) for r, h in s.otherwise)]
            outcomes.append((0.0, 1 - sum(each for _, each in outcomes)))
            more: dict[float, float] = {}
            for total, p in states.items():
                for rate, q in outcomes:
                    more[total + rate] = more.get(total + rate, 0.0) + p * q
            states = more
        for total, p in states.items():
            odds[total] = odds.get(total, 0.0) + p
    reached = 0.0
    for total in sorted(odds):
        reached += odds[total]
        if reached >= level - 1e-9:
            return total
    return max(odds)


class Homes(unittest.TestCase):
    @drawn(80)
    @given(
        st.lists(at_home, max_size=4), st.floats(0, 0.2), st.floats(0, 1), st.sampled_from((0.5, 0.95, 0.99))
    )
    def test_up_to_twelve_seats_equal_every_state(
        self, seats: list[SeatClass], chance: float, lifted: float, level: float
    ) -> None:
        rush = Rush(chance, lifted)
        load = joint_load(tuple(seats), rush)
        self.assertAlmostEqual(float(load.odds.sum()), 1)
        # A level met within rounding may be taken for met or not.
        near = {by_every_state(tuple(seats), rush, level + d) for d in (-1e-8, 0, 1e-8)}
        self.assertTrue(
            any(abs(load.quantile(level) - each) < 1 for each in near), (load.quantile(level), near)
        )
        self.assertEqual(load.error_bound_bytes_per_s, 0)

    @drawn(40)
    @given(st.lists(at_home, min_size=1, max_size=3), st.sampled_from((True, False)))
    def test_on_the_lattice_a_quantile_is_never_below_and_within_twice_the_bound(
        self, seats: list[SeatClass], answer: bool
    ) -> None:
        odd = tuple(
            SeatClass(
                s.name, s.count * 2, s.bytes_per_s * 1.003, s.probability, s.here,
                tuple((r * 1.007, h) for r, h in s.otherwise),
            )
            for s in seats
        )  # fmt: skip
        exact = joint_load(odd)
        with set_to(demand, EXACT_COMBINATIONS=0, MOST_LISTED=20_000 if answer else 0):
            grid = joint_load(odd)
        for level in (0.5, 0.95, 0.99):
            above = grid.quantile(level) - exact.quantile(level)
            self.assertGreaterEqual(above, -1)
            self.assertLessEqual(above, 2 * grid.error_bound_bytes_per_s + 1)
        self.assertAlmostEqual(grid.mean_bytes_per_s, exact.mean_bytes_per_s, delta=1)
        self.assertAlmostEqual(float((grid.values * grid.odds).sum()), exact.mean_bytes_per_s, delta=10)

    @drawn(40)
    @given(at_home, st.floats(0, 0.2), st.sampled_from((0.5, 0.95, 0.99)))
    def test_a_class_of_many_is_many_classes_of_one(
        self, seat: SeatClass, chance: float, level: float
    ) -> None:
        alone = SeatClass("one", 1, seat.bytes_per_s, seat.probability, seat.here, seat.otherwise)
        one = joint_load((seat,), Rush(chance, 0.9)).quantile(level)
        many = joint_load((alone,) * seat.count, Rush(chance, 0.9)).quantile(level)
        self.assertAlmostEqual(one, many, delta=1)

    @drawn(40)
    @given(st.lists(at_home, max_size=4), at_home, st.floats(0, 0.2))
    def test_one_more_seat_never_asks_less(
        self, seats: list[SeatClass], more: SeatClass, chance: float
    ) -> None:
        rush = Rush(chance, 0.9)
        for level in (0.5, 0.95, 0.99):
            before = joint_load(tuple(seats), rush).quantile(level)
            after = joint_load((*seats, more), rush).quantile(level)
            self.assertGreaterEqual(after, before - 1)


class Rushes(unittest.TestCase):
    @drawn(60)
    @given(st.lists(seat, max_size=4), st.floats(0, 1), st.floats(0, 1), st.sampled_from((0.5, 0.95, 0.99)))
    def test_a_rush_is_a_second_day_in_which_nobody_is_at_peak_less_often(
        self, seats: list[SeatClass], chance: float, odds: float, level: float
    ) -> None:
        mixed = joint_load(tuple(seats), Rush(chance, odds))
        lifted = [SeatClass(s.name, s.count, s.bytes_per_s, max(s.probability, odds)) for s in seats]
        usual, rushed = joint_load(tuple(seats)), joint_load(tuple(lifted))
        self.assertAlmostEqual(float(mixed.odds.sum()), 1)
        mean = (1 - chance) * usual.mean_bytes_per_s + chance * rushed.mean_bytes_per_s
        self.assertAlmostEqual(mixed.mean_bytes_per_s, mean, delta=1)
        self.assertAlmostEqual(float((mixed.values * mixed.odds).sum()), mean, delta=1)
        at = mixed.quantile(level)
        reached = (1 - chance) * _below(usual, at) + chance * _below(rushed, at)
        self.assertGreaterEqual(reached, level - 1e-9)
        less = [x for x in mixed.values if x < at - 1]
        if less:
            before = (1 - chance) * _below(usual, less[-1]) + chance * _below(rushed, less[-1])
            self.assertLess(before, level + 1e-9)

    @drawn(60)
    @given(st.lists(seat, max_size=4), st.floats(0, 1), st.floats(0, 1), st.floats(0, 1))
    def test_more_of_it_never_asks_less(
        self, seats: list[SeatClass], chance: float, odds: float, more: float
    ) -> None:
        for level in (0.5, 0.95, 0.99):
            asked = joint_load(tuple(seats), Rush(chance, odds)).quantile(level)
            sooner = Rush(max(chance, more), odds)
            harder = Rush(chance, max(odds, more))
            for rush in (sooner, harder):
                self.assertGreaterEqual(joint_load(tuple(seats), rush).quantile(level), asked - 1)

    def test_six_editors_at_the_house_rules_are_everyone_at_once(self) -> None:
        for count, all_at_once in ((1, True), (6, True), (12, False)):
            load = joint_load((SeatClass("edit", count, 55e6, 0.4),), Rush(0.02, 0.9))
            self.assertEqual(load.quantile(0.99) == count * 55e6, all_at_once, count)


def _below(load: demand.Load, x: float) -> float:
    return float(load.odds[load.values <= x + 1e-3].sum())


class TwoWays(unittest.TestCase):
    @drawn(40)
    @given(st.lists(seat, min_size=1, max_size=5))
    def test_multiplying_out_and_transforming_give_the_same_odds(self, seats: list[SeatClass]) -> None:
        many = tuple(SeatClass(s.name, s.count * 5, s.bytes_per_s * 1.003, s.probability) for s in seats)
        with set_to(demand, EXACT_COMBINATIONS=0, MULTIPLIED_OUT=10**9):
            multiplied = joint_load(many)
        with set_to(demand, EXACT_COMBINATIONS=0, MULTIPLIED_OUT=0):
            transformed = joint_load(many)
        self.assertLess(float(abs(multiplied.odds - transformed.odds).max()), 1e-9)

    @given(st.integers(0, 400), st.floats(1e-6, 1 - 1e-6))
    def test_many_seats_chances_are_those_of_the_closed_form(self, count: int, probability: float) -> None:
        with set_to(demand, FEW_SEATS=-1):
            odds = demand.binomial(count, probability)
        for k in {0, count // 3, round(count * probability), count}:
            logarithm = (
                math.lgamma(count + 1)
                - math.lgamma(k + 1)
                - math.lgamma(count - k + 1)
                + k * math.log(probability)
                + (count - k) * math.log1p(-probability)
            )
            self.assertAlmostEqual(odds[k], math.exp(logarithm), delta=1e-9)

    @given(
        st.lists(seat, max_size=5), st.floats(0, 0.3), st.floats(0, 1), st.sampled_from((0.5, 0.95, 0.999))
    )
    def test_the_bound_without_sums_is_never_exceeded(
        self, seats: list[SeatClass], common: float, odds: float, level: float
    ) -> None:
        odd = tuple(SeatClass(s.name, s.count * 9, s.bytes_per_s * 1.003, s.probability) for s in seats)
        bound = demand.load_at_most(odd, Rush(common, odds), level)
        self.assertLessEqual(joint_load(odd, Rush(common, odds)).quantile(level), bound * (1 + 1e-9) + 1)

    def test_alike_seats_are_one_class_or_many(self) -> None:
        rows = [(f"c{i}", 3 + i, 31_000_001.0 + 7e6 * i, 0.2 + i / 40) for i in range(12)]
        classes = joint_load(tuple(SeatClass(*row) for row in rows))
        single = joint_load(tuple(SeatClass(f"{n} {k}", 1, r, p) for n, c, r, p in rows for k in range(c)))
        self.assertGreater(classes.error_bound_bytes_per_s, 0)
        self.assertEqual(classes.quantile(0.95), single.quantile(0.95))


class Meaning(unittest.TestCase):
    def test_one_seat_that_is_busy_one_time_in_twenty(self) -> None:
        load = joint_load((SeatClass("one", 1, 100.0, 0.05),))
        self.assertEqual((load.quantile(0.95), load.quantile(0.951)), (0.0, 100.0))

    def test_all_peak_together_with_the_common_probability(self) -> None:
        seats = (SeatClass("edit", 10, 50.0, 0.0),)
        self.assertEqual(joint_load(seats).quantile(0.95), 0.0)
        common = joint_load(seats, Rush(0.06))
        self.assertEqual(common.quantile(0.95), 500.0)
        self.assertAlmostEqual(common.mean_bytes_per_s, 30.0)

    def test_two_hundred_seats_of_twenty_classes_keep_their_mean(self) -> None:
        seats = tuple(SeatClass(f"c{i}", 10, (10 + 7 * i) * 1e6, 0.3) for i in range(20))
        load = joint_load(seats)
        self.assertAlmostEqual(float((load.values * load.odds).sum()), load.mean_bytes_per_s, delta=1)

    @given(st.lists(seat, max_size=5), st.floats(0, 1))
    def test_quantiles_rise_with_the_level(self, seats: list[SeatClass], common: float) -> None:
        load = joint_load(tuple(seats), Rush(common))
        found = [load.quantile(q) for q in (0.0, 0.5, 0.95, 0.99, 1.0)]
        self.assertEqual(found, sorted(found))
        self.assertLessEqual(found[-1], load.max_bytes_per_s + 1)

    def test_impossible_seats_are_refused(self) -> None:
        for bad in (SeatClass("x", -1, 1, 0.5), SeatClass("x", 1, -1, 0.5), SeatClass("x", 1, 1, 1.5)):
            self.assertRaises(Refused, joint_load, (bad,))
        self.assertRaises(Refused, joint_load, (), Rush(2.0))


class ManyAtOnce(unittest.TestCase):
    @given(
        st.lists(seat, min_size=1, max_size=4),
        st.floats(0.5, 0.999),
        st.floats(0, 0.2),
        st.floats(0.3, 1),
        st.floats(0.1, 4),
    )
    def test_many_amounts_at_once_are_each_alone(
        self, seats: list[SeatClass], level: float, chance: float, lifted: float, times: float
    ) -> None:
        rush = Rush(chance, lifted)
        # A level that a sum of odds meets to within rounding is met by one way of summing and not the other.
        busy = [s for s in seats if s.count and s.bytes_per_s > 0 and s.probability > 0.01]
        if not busy:
            return
        counts, odds = [s.count for s in busy], [s.probability for s in busy]
        amounts = np.array([[s.bytes_per_s * t for s in busy] for t in (1.0, times)])
        found = quantiles_of_many(counts, odds, amounts, rush, level)
        for row, answer in zip(amounts, found, strict=True):
            alone = tuple(replace(s, bytes_per_s=rate) for s, rate in zip(busy, row, strict=True))
            load = joint_load(alone, rush)
            near = {load.quantile(min(max(level + e, 0), 1)) for e in (-1e-9, 0.0, 1e-9)}
            self.assertTrue(any(abs(answer - q) <= 1e-9 * max(q, 1) for q in near), (answer, near))


class Bounds(unittest.TestCase):
    @given(st.lists(seat, max_size=5), st.floats(0, 0.9), st.sampled_from((0.5, 0.9, 0.95, 0.99)))
    def test_no_quantile_is_above_what_is_bounded_without_any_sum(
        self, seats: list[SeatClass], common: float, level: float
    ) -> None:
        bound = load_at_most(tuple(seats), Rush(common), level)
        self.assertLessEqual(joint_load(tuple(seats), Rush(common)).quantile(level), bound * (1 + 1e-12))
        self.assertLessEqual(bound, sum(s.count * s.bytes_per_s for s in seats) * (1 + 1e-12))

    def test_the_bound_by_hand(self) -> None:
        seats = (
            SeatClass("a", 100, 10e6, 0.2),
            SeatClass("b", 50, 4e6, 0.5),
            SeatClass("always", 2, 7e6, 1.0),
        )
        mean, spread = 200e6 + 100e6 + 14e6, 100 * 10e6**2 + 50 * 4e6**2
        raised = 2 * (1000e6 + 200e6) / 2048
        answer = load_at_most(seats, Rush(0.1), 0.81)
        # 0.81 of all days are nine tenths of those without a rush.
        self.assertAlmostEqual(answer, mean + math.sqrt(math.log(10) / 2 * spread) + raised)
        self.assertEqual(load_at_most(seats, Rush(0.2), 0.81), 1214e6)
        self.assertEqual(load_at_most(seats, Rush(1.0), 0.5), 1214e6)
        never = (SeatClass("never", 9, 10e6, 0.0),)
        self.assertEqual(load_at_most(never, NO_RUSH, 0.95), 0.0)


class Lattice(unittest.TestCase):
    def test_many_seats_of_a_common_measure_are_exact(self) -> None:
        """Large groups by transforms, small ones by moving: as sums of whole numbers one after the other."""
        classes = ((100, 2, 0.3), (80, 3, 0.6), (60, 5, 0.15), (3, 7, 0.5), (12, 1, 0.9), (40, 11, 0.4))
        seats = tuple(SeatClass("", count, rate * 1e6, odds) for count, rate, odds in classes)
        pmf = np.ones(1)
        for count, rate, odds in classes:
            row = np.zeros(count * rate + 1)
            row[::rate] = [
                math.comb(count, k) * odds**k * (1 - odds) ** (count - k) for k in range(count + 1)
            ]
            pmf = np.convolve(pmf, row)
        load = joint_load(seats)
        self.assertEqual(load.error_bound_bytes_per_s, 0)
        for level in (0.01, 0.5, 0.9, 0.95, 0.99, 0.9999):
            exact = int(np.searchsorted(np.cumsum(pmf), level - 1e-12))
            self.assertEqual(load.quantile(level), exact * 1e6, level)

    def test_without_one_the_bound_is_a_cell_for_every_group(self) -> None:
        seats = tuple(SeatClass("", 40, 1e6 * math.sqrt(n), 0.3) for n in (2, 3, 5))
        load = joint_load(seats)
        most = sum(s.count * s.bytes_per_s for s in seats)
        self.assertAlmostEqual(load.error_bound_bytes_per_s, 3 * most / (16_384 - 128))
        self.assertAlmostEqual(float((load.values * load.odds).sum()) / load.mean_bytes_per_s, 1)
        self.assertLessEqual(load.quantile(0.9999), most)

    def test_twelve_seats_with_two_homes_each_equal_every_state(self) -> None:
        """Half a million states, each seat by itself; nothing is merged and no lattice is used."""
        random = np.random.default_rng(5)
        for level in (0.5, 0.95, 0.99):
            kinds = [
                (float(random.integers(1, 9)), float(random.integers(1, 9)), float(random.uniform(0.02, 0.9)))
                for _ in range(4)
            ]
            single = [kinds[n % 4] for n in range(12)]
            states, chances = [], []
            for weight, least in ((0.97, 0.0), (0.03, 0.9)):
                values, odds = np.zeros(1), np.full(1, weight)
                for here, there, often in single:
                    busy = max(often, least)
                    values = np.add.outer(values, [0.0, here, there]).ravel()
                    odds = np.multiply.outer(odds, [1 - busy, busy * 0.7, busy * 0.3]).ravel()
                states.append(values)
                chances.append(odds)
            every = np.concatenate(states)
            order = np.argsort(every, kind="stable")
            reached = np.cumsum(np.concatenate(chances)[order])
            value = float(every[order][np.searchsorted(reached, level - 1e-9)])
            seats = tuple(SeatClass("", 3, here, often, 0.7, ((there, 0.3),)) for here, there, often in kinds)
            load = joint_load(seats, Rush(0.03, 0.9))
            self.assertLessEqual(abs(load.quantile(level) - value), 2 * load.error_bound_bytes_per_s + 1e-9)

    def test_an_outcome_as_good_as_certain_leaves_nothing_to_divide_by(self) -> None:
        for count in (1, 3, 200):
            seat = SeatClass("s", count, 1e6, 1.0, 1.0, ((2e6, 1e-18), (3e6, 1e-18)))
            load = joint_load((seat, SeatClass("t", 40, 1.1e6, 0.3), SeatClass("u", 40, 1.7e6, 0.3)))
            self.assertGreaterEqual(load.quantile(0.5), count * 1e6)
            self.assertAlmostEqual(float(load.odds.sum()), 1)

    def test_chances_of_many_seats_are_those_of_exact_fractions(self) -> None:
        for count, odds in ((61, 0.5), (200, 0.03), (500, 0.97)):
            floats = demand.binomial(count, odds)
            p = Fraction(odds)
            for k in (0, 1, count // 3, round(count * odds), count - 1, count):
                exact = float(math.comb(count, k) * p**k * (1 - p) ** (count - k))
                self.assertAlmostEqual(float(floats[k]), exact, delta=max(exact * 1e-9, 1e-300))
