"""Seats far away by hand: which end of the line is slower, what is needed, who waits for whom."""

import unittest
from typing import Any

from pydantic import TypeAdapter

from larder.base.units import MB
from larder.plan.limits import OutsideLine
from larder.plan.seats import RemoteSeat
from larder.stages.remote import line_of, remote_demand, remote_results

RATES = {"flat": (10e6, 20e6)}
LINE = OutsideLine(up_bytes_per_s=100 * MB)


def seat(**fields: Any) -> RemoteSeat:
    return TypeAdapter(RemoteSeat).validate_python(
        {
            "kind": "remote", "id": "far", "name": "Far", "count": 2, "format_id": "flat", "way": "proxies",
            "down_bytes_per_s": 80 * MB, "footage_hours_per_day": 5.0, "round_trip_ms": 30.0,
        } | fields
    )  # fmt: skip


class TheLine(unittest.TestCase):
    def test_the_slower_end_and_who_shares_it(self) -> None:
        self.assertEqual(line_of(seat(), LINE), (80 * MB, "their line down"))
        self.assertEqual(line_of(seat(down_bytes_per_s=100 * MB), LINE), (100 * MB, "the house's line up"))
        self.assertEqual(line_of(seat(way="files"), LINE), (50 * MB, "the house's line up"))
        self.assertEqual(line_of(seat(way="files", count=0), LINE), (80 * MB, "their line down"))

    def test_what_each_way_asks_of_the_storage(self) -> None:
        self.assertEqual(remote_demand(seat(way="remote control"), RATES, LINE).read_bytes_per_s, 20e6)
        self.assertEqual(remote_demand(seat(), RATES, LINE).read_bytes_per_s, 80 * MB)
        files = seat(way="files")
        self.assertEqual(remote_demand(files, RATES, LINE).read_bytes_per_s, 20e6)
        slow = OutsideLine(up_bytes_per_s=10 * MB)
        self.assertEqual(remote_demand(files, RATES, slow).read_bytes_per_s, 5 * MB)
        for way in ("remote control", "proxies", "files"):
            self.assertEqual(remote_demand(seat(way=way), RATES, LINE).streams, 1)


class Results(unittest.TestCase):
    def test_proxies_go_one_after_the_other(self) -> None:
        first, control, last = remote_results(
            [seat(), seat(id="desk", way="remote control", picture_bytes_per_s=5 * MB), seat(id="last", count=1)],
            RATES, LINE,
        )  # fmt: skip
        day = 5 * 3600 * 10e6
        self.assertEqual((first.day_bytes, last.day_bytes, control.day_bytes), (2 * day, day, 0))
        self.assertAlmostEqual(first.wait_s or 0, 2 * day / (80 * MB))
        self.assertAlmostEqual(last.wait_s or 0, 3 * day / (80 * MB))
        self.assertEqual(control.wait_s, 0.0)
        self.assertAlmostEqual(first.needed_bytes_per_s, 2 * day / 86_400)
        self.assertAlmostEqual(first.ratio or 0, 80 * MB * 86_400 / (2 * day))
        self.assertEqual(control.needed_bytes_per_s, 5 * MB)
        self.assertEqual((first.round_trip_ms, first.limited_by), (30.0, "their line down"))

    def test_files_need_the_peak(self) -> None:
        (files,) = remote_results([seat(way="files")], RATES, LINE)
        self.assertEqual(
            (files.needed_bytes_per_s, files.line_bytes_per_s, files.wait_s), (20e6, 50 * MB, 0.0)
        )
        self.assertAlmostEqual(files.ratio or 0, 2.5)

    def test_over_no_line_nothing_ever_arrives_for_those_behind_either(self) -> None:
        dead = OutsideLine(up_bytes_per_s=0)
        one, two, files = remote_results([seat(), seat(id="b"), seat(id="c", way="files")], RATES, dead)
        self.assertEqual((one.wait_s, two.wait_s, files.wait_s), (None, None, None))
        self.assertEqual(one.ratio, 0)

    def test_who_sends_nothing_needs_nothing(self) -> None:
        (idle,) = remote_results([seat(footage_hours_per_day=0)], RATES, LINE)
        self.assertEqual((idle.ratio, idle.wait_s), (None, 0.0))
