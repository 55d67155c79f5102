"""What people type becomes exact base units, and what is ambiguous is refused with a sentence."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.units import (
    TIB,
    drives_text,
    parse_drives,
    parse_rate,
    parse_size,
    size_text,
)


class Sizes(unittest.TestCase):
    def test_typed_sizes_are_understood(self) -> None:
        for text, size_bytes in {
            "16TB": 16 * 10**12,
            "500 GB": 500 * 10**9,
            "12.7TiB": int(127 * TIB / 10),
            "1MiB": 2**20,
            "2tb": 2 * 10**12,
            "0B": 0,
        }.items():
            self.assertEqual(parse_size(text), size_bytes, text)

    def test_bits_missing_units_and_monsters_are_refused(self) -> None:
        for text in ("2Tb", "16", "TB", "", "-1TB", "1,5TB", "1" + "0" * 30 + "TB", "nan TB"):
            with self.assertRaises(Refused) as caught:
                parse_size(text, "drive size")
            self.assertIn("drive size cannot be", caught.exception.sentence)
            self.assertIn("16TB", caught.exception.sentence)

    @given(st.integers(0, 10**6))
    def test_a_whole_number_of_terabytes_is_exact(self, count: int) -> None:
        self.assertEqual(parse_size(f"{count}TB"), count * 10**12)

    @given(st.integers(0, 10**18))
    def test_a_size_that_is_said_reads_back_to_the_byte(self, size: int) -> None:
        self.assertEqual(parse_size(size_text(size)), size)

    def test_a_size_is_said_in_the_unit_of_its_carton(self) -> None:
        for size, text in (
            (16 * 10**12, "16 TB"),
            (480 * 10**9, "480 GB"),
            (15_360 * 10**9, "15.36 TB"),
            (0, "0 GB"),
        ):
            self.assertEqual(size_text(size), text)


class Rates(unittest.TestCase):
    def test_bits_and_bytes_are_told_apart(self) -> None:
        for text, rate in {
            "450MB/s": 450e6,
            "220Mb/s": 27.5e6,
            "220 Mbit/s": 27.5e6,
            "10GbE": 1.25e9,
            "2.5GbE": 312.5e6,
            "1MiB/s": 2.0**20,
            "604.8 GB/week": 1e6,
        }.items():
            self.assertAlmostEqual(parse_rate(text), rate, msg=text)

    def test_a_unit_that_could_be_either_is_refused(self) -> None:
        for text in ("450mb/s", "450", "450MB", "MB/s", "450 MB/fortnight"):
            with self.assertRaises(Refused):
                parse_rate(text)


class Others(unittest.TestCase):
    def test_drive_sets(self) -> None:
        self.assertEqual(parse_drives("7x16TB"), (16 * 10**12,) * 7)
        self.assertEqual(parse_drives("20TB + 3x8TB"), (20 * 10**12,) + (8 * 10**12,) * 3)
        for text in ("0x16TB", "7x", "x16TB", "7x16", "99999x1TB", "0TB", "3x8TB+"):
            with self.assertRaises(Refused):
                parse_drives(text)

    @given(st.lists(st.integers(1, 10**15), max_size=9))
    def test_drives_written_out_read_back(self, sizes: list[int]) -> None:
        if sizes:
            self.assertEqual(sorted(parse_drives(drives_text(sizes))), sorted(sizes))
        self.assertEqual(drives_text([8 * 10**12, 4 * 10**12, 8 * 10**12]), "4TB+2x8TB")
