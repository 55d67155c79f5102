"""Rebuilds: their time and odds by hand, what the survivors read against drives taken apart chunk by chunk."""

import unittest
from fractions import Fraction

from hypothesis import assume, given
from hypothesis import strategies as st

from larder.base.units import TB
from larder.laws.drive_set import alike, drive_set
from larder.laws.layout import LAYOUTS, parse_layout
from larder.laws.rebuild import (
    parity_seconds,
    passing_seconds,
    rebuild_read_bytes,
    rebuild_seconds,
    rebuilt_bytes,
    unreadable_odds,
)


class Time(unittest.TestCase):
    def test_by_hand_and_never_for_what_holds_no_copy(self) -> None:
        # 14 TB at three quarters of 240 MB/s, half of it left to the people.
        seconds = rebuild_seconds(parse_layout("raid6"), 14 * TB, 240e6, inner_ratio=0.5, share=0.5)
        self.assertAlmostEqual(seconds or 0, 14e12 / (240e6 * 0.75 * 0.5))
        self.assertEqual(rebuild_seconds(parse_layout("raid5"), 4 * TB, 500e6, inner_ratio=1, share=1), 8000)
        for name in ("span", "stripe"):
            self.assertIsNone(rebuild_seconds(parse_layout(name), TB, 1e8, inner_ratio=0.5, share=0.5))
            self.assertIsNone(rebuild_read_bytes(parse_layout(name), alike(TB, 2)))

    def test_of_mixed_sizes_only_what_is_in_the_layout_is_written(self) -> None:
        mixed = drive_set([4 * TB, 4 * TB, 8 * TB, 12 * TB])
        # In layers the top 4 TB of the largest have no partner.
        expected = {"raid5": 4, "mirror": 4, "cow1": 4, "layered1": 8, "layered2": 4, "filewise1": 12}
        for name, size in expected.items():
            self.assertEqual(rebuilt_bytes(parse_layout(name), mixed), size * TB, name)

    def test_a_copy_on_write_pool_rebuilds_what_is_allocated(self) -> None:
        def seconds(name: str, fill: float) -> float:
            layout = parse_layout(name)
            return rebuild_seconds(layout, TB, 1e8, inner_ratio=1, share=1, fill=fill) or 0.0

        self.assertAlmostEqual(seconds("cow2", 0.25), seconds("cow2", 1.0) / 4)
        self.assertEqual(seconds("raid6", 0.25), seconds("raid6", 1.0))

    @given(st.integers(1, 30), st.floats(0.01, 1))
    def test_larger_drives_and_smaller_shares_take_longer(self, size: int, share: float) -> None:
        def seconds(tb: int, part: float) -> float:
            return rebuild_seconds(parse_layout("raid5"), tb * TB, 2e8, inner_ratio=0.5, share=part) or 0.0

        self.assertLess(seconds(size, share), seconds(size + 1, share))
        self.assertLess(seconds(size, share), seconds(size, share * 0.9))


def read_chunk_by_chunk(parity: int, drives: tuple[int, ...]) -> int:
    """Chunks that the survivors of a layered set hold in the layers of its largest drive, which dies."""
    read = 0
    for level in range(max(drives)):
        members = [size for size in drives if size > level]
        if len(members) > parity:
            read += len(members) - 1
    return read


class Shared(unittest.TestCase):
    def test_a_bus_carries_what_is_read_and_what_is_written_and_cores_reckon_what_is_read(self) -> None:
        # Seven 16 TB survivors and the new drive over 500 MB/s: 128 TB in 256,000 s.
        self.assertEqual(passing_seconds(7 * 16 * TB, 16 * TB, 500e6), 256_000)
        # 112 TB at 0.3 core-seconds a GB on 1.2 cores.
        self.assertAlmostEqual(parity_seconds(7 * 16 * TB, 1.2), 112_000 * 0.3 / 1.2)


class Read(unittest.TestCase):
    def test_by_layout(self) -> None:
        expected = {
            "mirror": 1, "raid10": 1, "mirror3": 1, "raid5": 11, "raid6": 11, "triple": 11, "raid50:2": 5,
            "raid60:2": 5, "cow1": 11, "cow2": 11, "layered1": 11, "layered2": 11, "filewise1": 11,
        }  # fmt: skip
        for name, drives in expected.items():
            self.assertEqual(rebuild_read_bytes(parse_layout(name), alike(TB, 12)), drives * TB, name)
        self.assertEqual(rebuild_read_bytes(parse_layout("cow2"), alike(TB, 12), 0.5), 11 * TB // 2)

    @given(st.sampled_from((1, 2)), st.lists(st.integers(1, 12), min_size=3, max_size=9))
    def test_layered_sets_equal_a_count_chunk_by_chunk(self, parity: int, drives: list[int]) -> None:
        members = drive_set(drives)
        layout = parse_layout(f"layered{parity}")
        self.assertEqual(rebuild_read_bytes(layout, members), read_chunk_by_chunk(parity, tuple(drives)))

    @given(st.sampled_from(sorted(LAYOUTS)), st.integers(3, 24), st.integers(1, 30))
    def test_a_wider_set_never_reads_less(self, name: str, count: int, size: int) -> None:
        layout = parse_layout(name)
        assume(layout.takes(count) and layout.takes(count + 6))
        narrow, wide = (rebuild_read_bytes(layout, alike(size * TB, n)) or 0 for n in (count, count + 6))
        self.assertGreaterEqual(wide, narrow)


class Odds(unittest.TestCase):
    def test_against_exact_fractions_where_doubles_would_give_nothing(self) -> None:
        for read, per_bit in ((1, 1e-17), (100, 1e-3), (7, 0.25)):
            exact = 1 - (1 - Fraction(per_bit)) ** (8 * read)
            self.assertAlmostEqual(unreadable_odds(read, per_bit) / float(exact), 1, places=12)
        self.assertEqual(unreadable_odds(0, 1e-14), 0)

    @given(st.integers(1, 10**15), st.floats(1e-18, 1e-12))
    def test_odds_lie_between_none_and_the_expected_number(self, read: int, per_bit: float) -> None:
        odds = unreadable_odds(read, per_bit)
        self.assertGreaterEqual(odds, 0)
        self.assertLessEqual(odds, min(1, 8 * read * per_bit) * (1 + 1e-9))
