"""Rates by layout against the table of d, and the laws of ranges."""

import unittest

from hypothesis import assume, given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.laws.device import MECHANICS, disk_mechanics, rate_at_fill, visiting_share
from larder.laws.layout import LAYOUTS, parse_layout
from larder.laws.throughput import (
    hop_drives,
    pool_throughput,
    read_drives,
    small_reads_per_s,
    small_writes_per_s,
    turns_on_a_disk,
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
        piece = 2**20 / (2**20 / 200e6 + 0.008 + 0.00833 / 2)
        self.assertAlmostEqual(rates.write.low, piece * 5 / 4)
        flash = pool_throughput(parse_layout("raid5"), 5, 200e6, 200e6, mechanics=MECHANICS["ssd"])
        self.assertAlmostEqual(flash.write.low, 200e6 * 5 / 4)

    def test_two_streams_on_a_two_way_mirror_lose_nothing_and_three_do(self) -> None:
        one, two, three = (
            pool_throughput(parse_layout("mirror"), 2, 200e6, 200e6, streams=k).read.middle for k in (1, 2, 3)
        )
        self.assertAlmostEqual(one, 200e6)
        self.assertAlmostEqual(two, 200e6 * 2**0.9)
        left = visiting_share(200e6, 2, DISK)
        self.assertAlmostEqual(three, 200e6 * 2**0.9 * left)

    def test_a_visit_to_a_wide_stripe_costs_more_of_it(self) -> None:
        for streams, seek in ((2, 0.004), (5, 0.006), (8, 0.008), (40, 0.008)):
            rates = pool_throughput(parse_layout("raid6"), 8, 250e6, 250e6, streams=streams)
            stripe = 250e6 * 6**0.9
            moving = 8 * 2**20 / stripe
            self.assertAlmostEqual(rates.read.middle / (stripe * moving / (moving + seek + 0.00833 / 2)), 1)

    def test_turns_on_a_disk_and_hops_by_hand(self) -> None:
        # layout: (turns of 5 streams, drives as one hop, places for a file), of 12 members
        expected = {
            "span": (1, 1, 12), "stripe": (5, 12, 1), "mirror": (1, 12, 1), "mirror3": (2, 12, 1),
            "raid10": (3, 12, 1), "raid6": (5, 10, 1), "filewise2": (1, 1, 10), "cow1": (5, 11, 1),
        }  # fmt: skip
        for name, answer in expected.items():
            layout = parse_layout(name)
            self.assertEqual((turns_on_a_disk(layout, 12, 5), *hop_drives(layout, 12)), answer, name)

    def test_whole_file_parity_without_staging_reads_before_it_writes(self) -> None:
        write = pool_throughput(parse_layout("filewise1"), 5, 200e6, 200e6).write
        self.assertEqual((write.middle, write.low), (100e6, 50e6))

    def test_a_dead_drive_takes_its_share_and_of_scattered_parity_half(self) -> None:
        for name, members, low in (
            ("raid6", 6, 0.5),
            ("raid10", 4, 3 / 4),
            ("mirror", 2, 1 / 2),
            ("filewise1", 5, 4 / 5),
        ):
            layout = parse_layout(name)
            healthy = pool_throughput(layout, members, 200e6, 200e6)
            degraded = pool_throughput(layout, members, 200e6, 200e6, degraded=True)
            left = (members - 1) / members
            self.assertAlmostEqual(degraded.read.middle, healthy.read.middle * left, msg=name)
            self.assertAlmostEqual(degraded.read.low, healthy.read.low * low, msg=name)
            self.assertEqual(degraded.write, healthy.write)

    def test_a_layout_without_redundancy_has_no_degraded_state(self) -> None:
        for name in ("span", "stripe"):
            self.assertRaises(Refused, pool_throughput, parse_layout(name), 4, 1e8, 1e8, degraded=True)


class Devices(unittest.TestCase):
    def test_a_full_disk_runs_at_its_inner_rate(self) -> None:
        self.assertAlmostEqual(rate_at_fill(250e6, 0.0), 250e6)
        self.assertAlmostEqual(rate_at_fill(250e6, 1.0), 125e6)

    def test_taking_turns_by_hand_and_not_for_flash(self) -> None:
        moving = 8 * 2**20 / 250e6
        for streams, seek in ((2, 0.004), (5, 0.006), (8, 0.008), (9, 0.008)):
            self.assertAlmostEqual(
                visiting_share(250e6, streams, DISK), moving / (moving + seek + 0.00833 / 2)
            )
        quick = disk_mechanics(seek_seconds=0.004)
        self.assertAlmostEqual(visiting_share(250e6, 2, quick), moving / (moving + 0.002 + 0.00833 / 2))
        self.assertEqual(visiting_share(250e6, 1, DISK), 1)
        self.assertEqual(visiting_share(250e6, 9, MECHANICS["ssd"]), 1)

    @given(st.floats(1e6, 7e9), st.integers(1, 40), st.integers(0, 40))
    def test_more_streams_and_shorter_visits_never_leave_more(
        self, rate: float, streams: int, more: int
    ) -> None:
        share = visiting_share(rate, streams, DISK)
        self.assertLessEqual(visiting_share(rate, streams + more, DISK), share * (1 + 1e-12))
        self.assertLessEqual(visiting_share(rate, streams, DISK, 2**20), share * (1 + 1e-12))
        self.assertGreater(share * rate, visiting_share(rate / 2, streams, DISK) * rate / 2)


class Laws(unittest.TestCase):
    @given(
        st.sampled_from(NAMES),
        st.integers(1, 40),
        st.floats(1e6, 7e9),
        st.integers(1, 30),
        st.sampled_from(("hdd", "ssd")),
    )
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
