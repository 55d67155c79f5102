"""A write-back cache over repeating days: by hand, and against many days walked in small steps."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from larder.laws.write_back import Spell, over_the_days

HOUR, GB = 3600.0, 1e9
RATES = st.integers(0, 40).map(lambda n: n * 25e6)
DAYS = st.lists(
    st.builds(Spell, st.integers(1, 10).map(lambda n: n * HOUR), RATES, RATES), min_size=1, max_size=4
)


class ByHand(unittest.TestCase):
    def test_a_day_that_fills_and_a_night_that_empties(self) -> None:
        day, night = Spell(9 * HOUR, 300e6, 200e6), Spell(15 * HOUR, 0.0, 400e6)
        found = over_the_days([day, night], 3300 * GB)
        self.assertEqual((found.seconds_to_full, found.grows_daily), ((None, None), False))
        self.assertAlmostEqual(found.peak_bytes, 3240 * GB)
        small = over_the_days([day, night], 1000 * GB)
        self.assertEqual(small.seconds_to_full, (10_000.0, None))

    def test_what_the_night_does_not_empty_is_there_in_the_morning(self) -> None:
        spells = [Spell(10 * HOUR, 300e6, 200e6), Spell(10 * HOUR, 0.0, 60e6), Spell(4 * HOUR, 0.0, 400e6)]
        self.assertFalse(over_the_days(spells, 3600 * GB).grows_daily)
        late = [Spell(10 * HOUR, 0.0, 110e6), Spell(10 * HOUR, 200e6, 100e6)]
        self.assertEqual(over_the_days(late, 3600 * GB).seconds_to_full, (None, None))

    def test_23_tb_a_day_do_not_go_in_for_ever(self) -> None:
        found = over_the_days([Spell(24 * HOUR, 266e6, 200e6)], 10_000 * GB)
        self.assertTrue(found.grows_daily)
        self.assertEqual(found.seconds_to_full, (0.0,))
        self.assertEqual(over_the_days([Spell(24 * HOUR, 0.0, 200e6)], 0.0).seconds_to_full, (None,))


class Laws(unittest.TestCase):
    @given(DAYS, st.integers(0, 40).map(lambda n: n * 500 * GB))
    def test_like_many_days_walked_part_by_part(self, spells: list[Spell], cache: float) -> None:
        found = over_the_days(spells, cache)
        held, lasts = 0.0, [True] * len(spells)
        for _ in range(400):
            lasts = []
            for spell in spells:
                after = held + (spell.arriving_bytes_per_s - spell.drained_bytes_per_s) * spell.seconds
                lasts.append(after <= cache or after <= held)
                held = min(max(after, 0.0), cache)
        if found.grows_daily:
            return  # grows: judged without the cache from the first day on
        self.assertEqual([full is None for full in found.seconds_to_full], lasts)

    @given(DAYS, st.integers(0, 40).map(lambda n: n * 500 * GB), st.integers(0, 40))
    def test_a_larger_cache_lasts_no_shorter(self, spells: list[Spell], cache: float, more: int) -> None:
        small, large = over_the_days(spells, cache), over_the_days(spells, cache + more * 100 * GB)
        for before, after in zip(small.seconds_to_full, large.seconds_to_full, strict=True):
            if before is None:
                self.assertIsNone(after)
            if before is not None and after is not None:
                self.assertGreaterEqual(after, before - 1e-6)

    @given(DAYS)
    def test_it_grows_where_more_arrives_in_a_day_than_is_drained(self, spells: list[Spell]) -> None:
        arrives = sum(s.arriving_bytes_per_s * s.seconds for s in spells)
        drained = sum(s.drained_bytes_per_s * s.seconds for s in spells)
        found = over_the_days(spells, 10**18)
        self.assertEqual(found.grows_daily, arrives > drained)
        if arrives <= drained:
            self.assertEqual(set(found.seconds_to_full), {None})
