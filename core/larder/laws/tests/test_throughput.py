"""Rates by layout against the table of d, and the laws of ranges."""

import unittest

from hypothesis import assume, given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.laws.device import MECHANICS, interleaving_efficiency, rate_at_fill
from larder.laws.layout import LAYOUTS, parse_layout
from larder.laws.throughput import (
    pool_throughput,
    read_drives,
    small_reads_per_s,
    small_writes_per_s,
    write_drives,
    written_per_byte,
)

DISK = MECHANICS["hdd"]
NAMES = [*LAYOUTS, "raid50:2", "raid60:2"]


class TheTable(unittest.TestCase):
    def test_drives_that_pull_together_in_twelve(self) -> None:
        # layout: (read with 1 stream, read with 5 streams, write)
        expected = {
            "span": (1, 5, 1), "stripe": (12, 12, 12), "mirror": (1, 5, 1), "mirror3": (4, 12, 4),
            "raid10": (6, 12, 6), "raid5": (11, 11, 11), "raid6": (10, 10, 10), "triple": (9, 9, 9),
            "raid50:2": (10, 10, 10), "raid60:2": (8, 8, 8), "cow1": (11, 11, 11), "cow2": (10, 10, 10),
            "cow3": (9, 9, 9), "layered1": (11, 11, 11), "layered2": (10, 10, 10),
            "filewise1": (1, 5, 1), "filewise2": (1, 5, 1),
        }  # fmt: skip
        for name, drives in expected.items():
            layout = parse_layout(name)
            found = (read_drives(layout, 12, 1), read_drives(layout, 12, 5), write_drives(layout, 12))
            self.assertEqual(found, drives, name)

    def test_single_parity_by_hand(self) -> None:
        rates = pool_throughput(parse_layout("raid5"), 5, 200e6, 200e6)
        self.assertAlmostEqual(rates.read.middle, 200e6 * 4**0.9)
        self.assertAlmostEqual(rates.read.low, 200e6 * 4**0.7)
        self.assertAlmostEqual(rates.read.high, 800e6)
        self.assertAlmostEqual(rates.write.low, 200e6 * 5 / 4)

    def test_whole_file_parity_without_staging_reads_before_it_writes(self) -> None:
        write = pool_throughput(parse_layout("filewise1"), 5, 200e6, 200e6).write
        self.assertEqual((write.middle, write.low), (100e6, 50e6))

    def test_degraded_reads_are_half(self) -> None:
        layout = parse_layout("raid6")
        healthy = pool_throughput(layout, 6, 200e6, 200e6)
        degraded = pool_throughput(layout, 6, 200e6, 200e6, degraded=True)
        self.assertAlmostEqual(degraded.read.middle, healthy.read.middle / 2)
        self.assertEqual(degraded.write, healthy.write)

    def test_a_layout_without_redundancy_has_no_degraded_state(self) -> None:
        for name in ("span", "stripe"):
            self.assertRaises(Refused, pool_throughput, parse_layout(name), 4, 1e8, 1e8, degraded=True)


class Devices(unittest.TestCase):
    def test_a_full_disk_runs_at_its_inner_rate(self) -> None:
        self.assertAlmostEqual(rate_at_fill(250e6, 0.0), 250e6)
        self.assertAlmostEqual(rate_at_fill(250e6, 1.0), 125e6)

    def test_interleaving_by_hand_and_not_for_flash(self) -> None:
        moving = 2 * 2**20 / 250e6
        self.assertAlmostEqual(
            interleaving_efficiency(250e6, 2, MECHANICS["hdd"]), moving / (moving + 0.008 + 0.00833 / 2)
        )
        self.assertEqual(interleaving_efficiency(250e6, 1, MECHANICS["hdd"]), 1)
        self.assertEqual(interleaving_efficiency(250e6, 9, MECHANICS["ssd"]), 1)


class Laws(unittest.TestCase):
    @given(
        st.sampled_from(NAMES), st.integers(1, 40), st.floats(1e6, 7e9), st.integers(1, 30),
        st.sampled_from(("hdd", "ssd")),
    )  # fmt: skip
    def test_ranges_are_ordered_and_bounded_by_all_drives_together(self, name, n, rate, streams, kind):  # type: ignore[no-untyped-def]
        layout = parse_layout(name)
        assume(layout.takes(n))
        rates = pool_throughput(layout, n, rate, rate, streams=streams, mechanics=MECHANICS[kind])
        for each in (rates.read, rates.write):
            self.assertLessEqual(each.low, each.middle * (1 + 1e-12))
            self.assertLessEqual(each.middle, each.high * (1 + 1e-12))
            self.assertLessEqual(each.high, rate * n * (1 + 1e-12))


class Operations(unittest.TestCase):
    @given(st.sampled_from(("span", "stripe", "mirror", "mirror3", "raid10", "raid5", "raid6", "triple", "cow2",
                            "raid50:2", "layered1", "filewise1", "filewise2")))  # fmt: skip
    def test_what_is_written_in_all_is_never_less_than_the_data(self, name: str) -> None:
        layout = parse_layout(name)
        self.assertGreaterEqual(written_per_byte(layout, 12), 1)
        self.assertLessEqual(small_writes_per_s(layout, 12, DISK), small_reads_per_s(layout, 12, DISK) + 1e-9)

    def test_small_operations_by_layout(self) -> None:
        one = small_reads_per_s(parse_layout("span"), 1, DISK)
        for name, members, reads, writes in (
            ("raid10", 8, 8, 4), ("raid5", 8, 8, 2), ("raid6", 12, 12, 2), ("triple", 8, 8, 1), ("cow2", 8, 1, 1),
            ("stripe", 4, 4, 4), ("mirror", 2, 2, 1), ("filewise1", 8, 8, 2),
        ):  # fmt: skip
            layout = parse_layout(name)
            self.assertAlmostEqual(small_reads_per_s(layout, members, DISK) / one, reads, msg=name)
            self.assertAlmostEqual(small_writes_per_s(layout, members, DISK) / one, writes, msg=name)
