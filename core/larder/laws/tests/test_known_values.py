"""Values that are published or stated, as they are printed: a slip in one would pass every law."""

import unittest
from decimal import Decimal

from larder.base.errors import Refused
from larder.laws.capacity import FILESYSTEM_PERCENT, POOL_RESERVE_MOST_BYTES, POOL_RESERVE_PART
from larder.laws.device import FLASH_LATENCY_SECONDS, FLASH_OPERATIONS_PER_S, INNER_TO_OUTER_RATIO, MECHANICS
from larder.laws.layout import parse_layout
from larder.laws.path import BUS_BYTES_PER_S, ETHERNET_BITS_PER_S, GOODPUT_BY_MTU, parse_path
from larder.laws.processor import CORES
from larder.laws.rebuild import UNREADABLE_PER_BIT
from larder.laws.throughput import SCALING, SMALL_WRITE_OPERATIONS


class Buses(unittest.TestCase):
    def test_line_rates_less_coding(self) -> None:
        # Gigabit a second on the wire, bits of payload to bits on it.
        for name, gigabit, payload in (
            ("sata3", 6, 8 / 10),
            ("sas3", 12, 8 / 10),
            ("usb5G", 5, 8 / 10),
            ("usb10G", 10, 128 / 132),
        ):
            self.assertAlmostEqual(BUS_BYTES_PER_S[name], gigabit * 1e9 * payload / 8, delta=1, msg=name)
        # Not the line's 4.8 GB/s: what a tunnel of PCI Express inside it leaves of them.
        self.assertEqual(BUS_BYTES_PER_S["usb4"], 3.1e9)
        for generation, transfers in ((3, 8e9), (4, 16e9), (5, 32e9)):
            for width in (1, 2, 4, 8, 16):
                rate = transfers * 128 / 130 / 8 * 256 / 280 * width
                self.assertAlmostEqual(BUS_BYTES_PER_S[f"pcie{generation}x{width}"], rate, delta=1)
        self.assertEqual(len(BUS_BYTES_PER_S), 5 + 3 * 5)

    def test_ethernet(self) -> None:
        speeds = {"100Mb": 0.1, "1GbE": 1, "2.5GbE": 2.5, "5GbE": 5, "10GbE": 10, "25GbE": 25, "100GbE": 100}
        self.assertEqual(ETHERNET_BITS_PER_S, {name: gigabit * 1e9 for name, gigabit in speeds.items()})
        self.assertEqual(GOODPUT_BY_MTU, {1500: 1448 / 1538, 9000: 8948 / 9038})
        self.assertEqual(parse_path(["1GbE"])[0].link_bytes_per_s, 125e6 * 1448 / 1538)
        self.assertRaises(Refused, parse_path, ["disk:0MB/s"])


class Drives(unittest.TestCase):
    def test_mechanics(self) -> None:
        disk = MECHANICS["hdd"]
        self.assertEqual((disk.inner_ratio, INNER_TO_OUTER_RATIO), (0.5, 0.5))
        self.assertAlmostEqual(disk.positioning_seconds, 0.008 + 0.00833 / 2)
        self.assertAlmostEqual(disk.operations_per_s, 1 / disk.positioning_seconds)
        self.assertEqual((FLASH_LATENCY_SECONDS, FLASH_OPERATIONS_PER_S), (1e-4, 50_000))
        flash = MECHANICS["ssd"]
        self.assertEqual(
            (flash.inner_ratio, flash.positioning_seconds, flash.latency_seconds, flash.operations_per_s),
            (1, 0, 1e-4, 50_000),
        )

    def test_unreadable_sectors_and_processors(self) -> None:
        self.assertEqual(UNREADABLE_PER_BIT, {"hdd": 1e-15, "ssd": 1e-16})
        self.assertEqual(CORES, {"small": 1.2, "middle": 5.0, "large": 16.0})


class Layouts(unittest.TestCase):
    def test_smallest_sets(self) -> None:
        for name, fewest in (
            ("span", 1), ("stripe", 2), ("mirror", 2), ("raid10", 2), ("mirror3", 3), ("raid5", 3), ("raid6", 4),
            ("triple", 5), ("cow1", 3), ("cow2", 4), ("cow3", 5), ("layered1", 2), ("layered2", 3), ("filewise1", 2),
            ("filewise2", 3), ("raid50:2", 6), ("raid50:3", 9), ("raid60:2", 8),
        ):  # fmt: skip
            layout = parse_layout(name)
            self.assertTrue(layout.takes(fewest), name)
            self.assertFalse(layout.takes(fewest - 1), name)
            self.assertEqual(layout.has_redundancy, name not in ("span", "stripe"))

    def test_what_filesystems_and_pools_keep(self) -> None:
        self.assertEqual(FILESYSTEM_PERCENT, {"journal": Decimal(1), "cow": Decimal(4), "none": Decimal(0)})
        self.assertEqual((POOL_RESERVE_PART, POOL_RESERVE_MOST_BYTES), (32, 128 * 2**30))
        self.assertEqual(SCALING, (0.7, 0.9, 1.0))
        self.assertEqual(SMALL_WRITE_OPERATIONS, {1: 4, 2: 6, 3: 8})
