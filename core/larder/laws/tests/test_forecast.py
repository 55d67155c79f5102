"""The band: it holds the truth in eight of ten synthetic houses, and what it does at its ends."""

import math
import unittest

import numpy as np

from larder.laws.forecast import Level, band, drawn_paths, first_day, level_of

A_WEEK = 3e11
SIGMA, SPREAD = 0.2, 0.5


def houses(random: np.random.Generator, count: int, readings: int, weeks_between: int) -> float:
    """How many of so many synthetic houses end within their band a year later.

    Each shoots a level of its own times what its brief says, its weeks vary by a spread of its own, and it was
    read so many times.
    """
    within = 0
    days = np.arange(0, 365, 28, dtype=np.float64)
    ahead = int(days[-1]) // 7
    weekly = A_WEEK * (days[None, :] / 7 >= np.arange(1, ahead + 1)[:, None])
    for _ in range(count):
        level, spread = random.normal(1, SIGMA), SPREAD * 2 ** random.normal(0, 0.7)
        weeks = A_WEEK * (level + spread * random.standard_normal(readings * weeks_between + ahead))
        past, to_come = weeks[: readings * weeks_between], weeks[readings * weeks_between :]
        seen = past.reshape(readings, weeks_between).sum(axis=1)
        expected = np.full(readings, A_WEEK * weeks_between)
        noise = np.full(readings, A_WEEK * math.sqrt(weeks_between))
        known = level_of(expected, seen, noise, level_sigma=SIGMA, week_spread=SPREAD)
        paths = drawn_paths(known, np.zeros(len(days)), A_WEEK * days / 7, weekly)
        low, _, high = band(paths)
        within += bool(low[-1] <= to_come.sum() <= high[-1])
    return within / count


def unread(sigma: float = SIGMA) -> Level:
    nothing = np.array([])
    return level_of(nothing, nothing, nothing, level_sigma=sigma, week_spread=SPREAD)


class Coverage(unittest.TestCase):
    def test_eight_in_ten_of_a_thousand_houses_end_within_their_band(self) -> None:
        random = np.random.default_rng(11)
        shares = [houses(random, 250, readings, 4) for readings in (0, 3, 8, 20)]
        self.assertAlmostEqual(float(np.mean(shares)), 0.80, delta=0.05)
        for share in shares:
            self.assertAlmostEqual(share, 0.80, delta=0.09)


class Readings(unittest.TestCase):
    def test_many_readings_pull_the_level_to_what_is_seen_and_few_leave_it(self) -> None:
        found = []
        for count in (1, 6, 40):
            expected = np.full(count, 4 * A_WEEK)
            level = level_of(
                expected, expected * 1.6, np.full(count, 2 * A_WEEK), level_sigma=SIGMA, week_spread=SPREAD
            )
            found.append(level.mean)
        self.assertLess(found[0], 1.35)
        self.assertTrue(found[0] < found[1] < found[2])
        self.assertAlmostEqual(found[2], 1.6, delta=0.04)

    def test_it_is_what_summing_over_all_levels_and_spreads_gives(self) -> None:
        expected, noise = np.array([4.0, 4.0, 9.0]), np.array([2.0, 2.0, 3.0])
        seen = np.array([5.5, 4.9, 13.0])
        level = level_of(expected, seen, noise, level_sigma=SIGMA, week_spread=SPREAD)
        levels = np.linspace(-3, 5, 4001)
        total, first = 0.0, 0.0
        for octave in np.linspace(-5, 5, 33):
            spread = SPREAD * 2**octave
            off = (seen[:, None] - levels * expected[:, None]) / (spread * noise[:, None])
            likely = np.exp(-0.5 * (off**2).sum(axis=0)) / spread**3 * math.exp(-0.5 * octave**2)
            for sigma, odds in ((SIGMA, 0.9), (4 * SIGMA, 0.1)):
                prior = np.exp(-0.5 * ((levels - 1) / sigma) ** 2) / sigma * odds
                total += float((likely * prior).sum())
                first += float((likely * prior * levels).sum())
        self.assertAlmostEqual(level.mean, first / total, places=4)

    def test_a_jump_is_left_out_of_the_slope(self) -> None:
        random = np.random.default_rng(3)
        seen = 4 * A_WEEK * (1 + 0.1 * random.standard_normal(12))
        seen[7] += 60 * A_WEEK
        expected, noise = np.full(12, 4 * A_WEEK), np.full(12, 2 * A_WEEK)
        level = level_of(expected, seen, noise, level_sigma=SIGMA, week_spread=SPREAD)
        self.assertEqual(level.left_out, (7,))
        self.assertAlmostEqual(level.mean, 1.0, delta=0.1)
        answer = level_of(
            expected, np.delete(seen, 7).repeat(2)[:12], noise, level_sigma=SIGMA, week_spread=SPREAD
        )
        self.assertEqual(answer.left_out, ())

    def test_nothing_read_leaves_the_houses_own_guess(self) -> None:
        level = unread()
        self.assertAlmostEqual(level.mean, 1.0, places=12)
        # Nine in ten plans are as sure as the house says, one is four times less so.
        self.assertAlmostEqual(level.sigma, SIGMA * math.sqrt(0.9 + 0.1 * 16), places=9)


class Paths(unittest.TestCase):
    def setUp(self) -> None:
        self.days = np.arange(0, 1456, 28, dtype=np.float64)
        self.slope = A_WEEK * self.days / 7
        self.weekly = A_WEEK * (self.days[None, :] / 7 >= np.arange(1, 209)[:, None])

    def test_the_middle_is_what_is_expected_and_the_band_widens(self) -> None:
        low, middle, high = band(drawn_paths(unread(), np.full(52, 5e12), self.slope, self.weekly))
        np.testing.assert_allclose(middle, 5e12 + self.slope, rtol=0.02)
        self.assertTrue(np.all(np.diff(high - low) > 0))
        self.assertTrue(np.all(low <= middle))
        self.assertTrue(np.all(middle <= high))

    def test_spread_of_weeks_alone_is_that_of_their_sum(self) -> None:
        sure = Level(np.array([1.0]), np.array([0.5]), np.array([1.0]), np.array([1e-9]))
        low, _, high = band(drawn_paths(sure, np.zeros(52), self.slope, self.weekly))
        sigma = 0.5 * A_WEEK * math.sqrt(204)
        self.assertAlmostEqual((high[-1] - low[-1]) / (2 * 1.2816 * sigma), 1.0, delta=0.06)

    def test_nothing_comes_and_nothing_is_uncertain(self) -> None:
        paths = drawn_paths(unread(), np.full(52, 5e12), np.zeros(52), np.zeros((208, 52)))
        self.assertTrue(np.all(paths == np.float32(5e12)))

    def test_the_first_day_lies_between_two_days_and_may_never_come(self) -> None:
        days, course = np.array([0.0, 10.0, 20.0]), np.array([1.0, 3.0, 7.0])
        self.assertEqual([first_day(days, course, c) for c in (0.5, 2.0, 5.0, 7.0)], [0.0, 5.0, 15.0, 20.0])
        self.assertEqual(first_day(days, course, 7.1), math.inf)
