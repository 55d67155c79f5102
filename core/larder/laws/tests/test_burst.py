"""Bursts into a cache against the closed form and a step-by-step simulation."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.laws.burst import write_burst

whole = st.integers(1, 10**6)


class KnownAnswers(unittest.TestCase):
    def test_fast_until_full_then_as_slow_as_the_drain(self) -> None:
        burst = write_burst(500, 10, 3, 140)
        self.assertEqual(burst.seconds_to_full, 20)
        self.assertEqual(burst.seconds_total, 20 + 300 / 3)
        self.assertEqual(burst.seconds_to_drained, 500 / 3)
        self.assertEqual((burst.peak_dirty_bytes, burst.rate_after_full_bytes_per_s), (140, 3))

    def test_a_cache_that_keeps_up_never_fills(self) -> None:
        self.assertIsNone(write_burst(500, 10, 10, 1).seconds_to_full)
        self.assertIsNone(write_burst(500, 10, 3, 10**6).seconds_to_full)

    def test_nothing_is_refused_silently(self) -> None:
        for numbers in ((0, 1, 1, 1), (1, 0, 1, 1), (1, 1, 0, 1), (1, 1, 1, -1)):
            self.assertRaises(Refused, write_burst, *numbers)


class Laws(unittest.TestCase):
    @given(whole, whole, whole, st.integers(0, 10**6))
    def test_bytes_are_conserved_at_the_end_of_the_copy(self, size, arrive, drain, cache):  # type: ignore[no-untyped-def]
        burst = write_burst(size, arrive, drain, cache)
        drained = min(drain, arrive) * burst.seconds_total
        held = size - drained
        self.assertAlmostEqual(max(held, 0), burst.peak_dirty_bytes, delta=1e-6 * size)
        self.assertLessEqual(burst.peak_dirty_bytes, cache)
        self.assertAlmostEqual(burst.mean_bytes_per_s * burst.seconds_total, size, delta=1e-6 * size)

    @given(whole, whole, whole, st.integers(0, 10**6), st.integers(0, 10**6))
    def test_a_larger_cache_never_makes_it_slower(self, size, arrive, drain, cache, more):  # type: ignore[no-untyped-def]
        small, large = (write_burst(size, arrive, drain, c) for c in (cache, cache + more))
        self.assertLessEqual(large.seconds_total, small.seconds_total * (1 + 1e-12))
