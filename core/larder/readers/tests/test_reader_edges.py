"""Readers right at their bounds: the last thing that is taken, and the first that is not."""

import unittest
from datetime import date
from typing import Any
from unittest.mock import patch

from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.readers import readings_csv
from larder.readers.brief_line import understand
from larder.readers.brief_line.line import LONGEST_LINE
from larder.readers.brief_line.people import PROXY
from larder.readers.brief_line.tokens import _lines, tokens_of
from larder.readers.brief_line.topics import months_on
from larder.readers.clips import format_of_clips
from larder.readers.csv_table import MOST_COLUMNS, MOST_ROWS, read_table
from larder.readers.ffprobe import Clip, _number, _whole
from larder.readers.generic_lists import usual_prices
from larder.readers.plan_file import bundle_from
from larder.readers.readings_csv import read_readings_csv
from larder.readers.stock_csv import read_stock_csv
from larder.tests.plans import demo

DAY = date(2026, 12, 2)


class Numbers(unittest.TestCase):
    def test_whole_numbers_of_a_tool_lie_between_nothing_and_an_exabyte(self) -> None:
        for text, value in (("0", 0), ("12", 12), (str(10**18), 10**18), (7, 7), ("24/2", 12)):
            self.assertEqual(_whole(text, "size"), value)
        for bad in ("-1", str(10**18 + 1), "1.5", "3/2", "many", None):
            self.assertRaises(Refused, _whole, bad, "size")
        self.assertEqual(_number("1000000000000", "duration"), 10**12)
        self.assertRaises(Refused, _number, "1000000000001", "duration")
        self.assertRaises(Refused, _number, "-1000000000001", "duration")


class Lines(unittest.TestCase):
    def test_a_line_is_read_up_to_its_longest(self) -> None:
        words = "2 edit seats play 100 Mb/s"
        just = words + " " * (LONGEST_LINE - len(words))
        self.assertFalse(understand(just, DAY).unknown)
        self.assertEqual(understand(just, DAY).understood, understand(words, DAY).understood)
        (answer,) = understand(just + " ", DAY).unknown
        self.assertIn(f"at most {LONGEST_LINE} are read", answer.sentence)

    def test_tokens_know_where_they_stand(self) -> None:
        line = "4 edit §x. 8 TB"
        for token in tokens_of(line):
            self.assertEqual(line[token.start : token.end], token.text, token)
        (sign,) = (token for token in tokens_of(line) if token.kind == "sign")
        self.assertEqual((sign.start, sign.end), (7, 8))

    def test_lines_of_a_picture_with_and_without_frames(self) -> None:
        for text, wanted in (
            ("1080p", (1080, None)),
            ("1080i50", (1080, 50.0)),
            ("2160 p 23.976", (2160, 23.976)),
        ):
            self.assertEqual(_lines(text), wanted)
        self.assertRaises(ValueError, _lines, "1080x")

    def test_months_from_a_day(self) -> None:
        for day, months, wanted in (
            (date(2026, 1, 28), 1, date(2026, 2, 28)),
            (date(2026, 1, 31), 1, date(2026, 2, 28)),
            (date(2026, 12, 2), 1, date(2027, 1, 2)),
            (date(2026, 12, 31), 12, date(2027, 12, 28)),
            (date(2026, 12, 2), 0.5, date(2026, 12, 17)),
            (date(2026, 11, 5), 13, date(2027, 12, 5)),
        ):
            self.assertEqual(months_on(day, months), wanted, (day, months))

    def test_what_a_remote_seat_plays_is_a_proxy_of_ten_megabits(self) -> None:
        self.assertEqual(PROXY.bytes_per_s, 10e6 / 8)


class Tables(unittest.TestCase):
    def test_as_many_rows_and_columns_as_a_studio_has_devices(self) -> None:
        self.assertEqual((MOST_ROWS, MOST_COLUMNS), (20_000, 100))
        _, rows = read_table(b"a\n" + b"x\n" * MOST_ROWS, "list", "x")
        self.assertEqual(len(rows), MOST_ROWS)
        self.assertRaises(Refused, read_table, b"a\n" + b"x\n" * (MOST_ROWS + 1), "list", "x")
        names, _ = read_table(b",".join(b"c%d" % n for n in range(MOST_COLUMNS)), "list", "x")
        self.assertEqual(len(names), MOST_COLUMNS)

    def test_a_header_is_faulted_by_its_first_odd_column(self) -> None:
        for header, fault in (
            (b"size,colour,taste", "colour"),
            (b"label", "size missing"),
            (b"size,size", "a column twice"),
        ):
            with self.assertRaises(Refused) as refused:
                read_stock_csv(header + b"\n", set(), set())
            self.assertEqual(refused.exception.value, fault)

    def test_readings_fill_the_plan_to_its_last_place_and_replacing_takes_none(self) -> None:
        bundle = demo("one-box")
        with patch.object(readings_csv, "MOST_READINGS", 2):
            full = read_readings_csv(b"date,pool,used\n2026-10-05,main,1TB\n2026-10-06,main,2TB\n", bundle)
            taken = bundle_from(apply_patch(bundle.document(), full.patch))
            again = read_readings_csv(b"date,pool,used\n2026-10-06,main,3TB\n", taken)
            self.assertEqual((again.added, again.replaced), (0, 1))
            with self.assertRaisesRegex(Refused, "3 readings"):
                read_readings_csv(b"date,pool,used\n2026-10-07,main,3TB\n", taken)


class Clips(unittest.TestCase):
    def clip(self, name: str, **fields: Any) -> Clip:
        usual = {
            "name": name, "duration_s": 10.0, "bytes": 1000, "mean_bytes_per_s": 100.0, "peak_bytes_per_s": None,
            "video": (),
        }  # fmt: skip
        return Clip(**(usual | fields))

    def test_three_are_named_and_the_rest_counted(self) -> None:
        for count, names in (
            (1, "c0"),
            (3, "c0, c1, c2"),
            (4, "c0, c1, c2 and 1 more"),
            (6, "c0, c1, c2 and 3 more"),
        ):
            made: Any = format_of_clips([self.clip(f"c{n}") for n in range(count)])
            self.assertEqual((made.clip, made.clip_count), (names, count))

    def test_a_long_clip_weighs_more_and_the_highest_peak_counts(self) -> None:
        short = self.clip("a", peak_bytes_per_s=400.0)
        long = self.clip("b", duration_s=30.0, bytes=9000, mean_bytes_per_s=300.0, peak_bytes_per_s=350.0)
        made: Any = format_of_clips([short, long])
        self.assertEqual((made.mean_bytes_per_s, made.peak_bytes_per_s), (250.0, 400.0))
        self.assertEqual((made.low_bytes_per_s, made.high_bytes_per_s), (100.0, 300.0))
        without: Any = format_of_clips([short, self.clip("b")])
        self.assertEqual(without.peak_bytes_per_s, 400.0)

    def test_empty_clips_and_those_without_duration_are_named(self) -> None:
        for bad, words in (
            ({"bytes": 0}, "0 bytes"),
            ({"duration_s": None, "mean_bytes_per_s": None}, "duration"),
        ):
            with self.assertRaisesRegex(Refused, words) as refused:
                format_of_clips([self.clip("good"), self.clip("bad", **bad)])
            self.assertEqual(refused.exception.value, "bad")
        self.assertRaises(Refused, format_of_clips, [])


class Lists(unittest.TestCase):
    def test_usual_prices_have_ids_and_amounts_of_their_own(self) -> None:
        prices = usual_prices()
        self.assertEqual(len({price.id for price in prices}), len(prices))
        self.assertTrue(all(price.amount > 0 for price in prices))
