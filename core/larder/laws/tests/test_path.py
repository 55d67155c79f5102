"""Paths against frame arithmetic, and the law of the slowest hop."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.laws.path import (
    BUS_BYTES_PER_S,
    ETHERNET_BITS_PER_S,
    one_client_low_bytes_per_s,
    parse_path,
    path_rate,
)

HOPS = [*ETHERNET_BITS_PER_S, "2x1GbE", "4x10GbE", *BUS_BYTES_PER_S, "disk:250MB/s", "disk:1Gb/s"]


class KnownAnswers(unittest.TestCase):
    def test_goodput_of_ten_gigabit(self) -> None:
        rate = path_rate(parse_path(["10GbE"])).bytes_per_s
        self.assertAlmostEqual(rate, 1.25e9 * 1448 / 1538)
        jumbo = path_rate(parse_path(["10GbE"], 9000)).bytes_per_s
        self.assertAlmostEqual(jumbo, 1.25e9 * 8948 / 9038)

    def test_the_protocol_slows_network_hops_only_and_is_no_hop(self) -> None:
        rate = path_rate(parse_path(["1GbE", "smb", "disk:90MB/s"]))
        self.assertEqual(len(rate.hops), 2)
        self.assertAlmostEqual(rate.hops[0][1], 125e6 * 1448 / 1538 * 0.9)
        self.assertEqual((rate.limiting_hop, rate.hops[1][1]), (1, 90e6))

    def test_a_client_that_is_alone_may_get_less_of_fast_links(self) -> None:
        for speed, bits, share in (("1GbE", 1e9, 0.9), ("10GbE", 10e9, 0.8), ("25GbE", 25e9, 0.6)):
            self.assertAlmostEqual(one_client_low_bytes_per_s(speed, 1500), bits / 8 * 1448 / 1538 * share)

    def test_one_flow_never_exceeds_one_member_of_an_aggregate(self) -> None:
        hops = parse_path(["2x1GbE", "10GbE"])
        one, two, three = (path_rate(hops, flows) for flows in (1, 2, 3))
        link = 125e6 * 1448 / 1538
        self.assertAlmostEqual(one.bytes_per_s, link)
        self.assertAlmostEqual(two.bytes_per_s, 2 * link)
        self.assertAlmostEqual(three.bytes_per_s, 2 * link)
        self.assertAlmostEqual(three.per_flow_bytes_per_s, 2 * link / 3)

    def test_buses_by_their_published_line_rates(self) -> None:
        self.assertEqual(BUS_BYTES_PER_S["sata3"], 600e6)
        self.assertAlmostEqual(BUS_BYTES_PER_S["pcie3x4"] / 1e9, 4 * 0.9846 * 256 / 280, places=3)
        self.assertAlmostEqual(BUS_BYTES_PER_S["pcie5x1"], 4 * BUS_BYTES_PER_S["pcie3x1"])


class Laws(unittest.TestCase):
    @given(st.lists(st.sampled_from(HOPS), min_size=1, max_size=8), st.integers(1, 50))
    def test_a_path_is_its_slowest_hop_and_says_which(self, names: list[str], flows: int) -> None:
        rate = path_rate(parse_path(names), flows)
        self.assertEqual(rate.bytes_per_s, min(r for _, r in rate.hops))
        self.assertEqual(rate.hops[rate.limiting_hop][1], rate.bytes_per_s)
        self.assertLessEqual(rate.per_flow_bytes_per_s * flows, rate.bytes_per_s * (1 + 1e-12))

    @given(st.lists(st.sampled_from(HOPS), min_size=1, max_size=6), st.sampled_from(HOPS), st.integers(1, 9))
    def test_another_hop_never_speeds_a_path_up(self, names: list[str], more: str, flows: int) -> None:
        before, after = (path_rate(parse_path(n), flows) for n in (names, [*names, more]))
        self.assertLessEqual(after.bytes_per_s, before.bytes_per_s)


class Refusals(unittest.TestCase):
    def test_unknown_hops_and_contradictions(self) -> None:
        for names in (
            ["3GbE"],
            ["smb"],
            ["smb", "nfs", "1GbE"],
            ["0x1GbE"],
            ["99x1GbE"],
            ["disk:0MB/s"],
            ["pcie3x3"],
        ):
            self.assertRaises(Refused, parse_path, names)
