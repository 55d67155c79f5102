"""Loads by hand: whose port it is, what is moved in a day, the busiest part, the drawn bars."""

import unittest
from datetime import date
from typing import Any

from larder.base.units import GB, MB
from larder.plan.brief import Brief
from larder.plan.house_rules import HouseRules
from larder.stages.load_bars import bars_of
from larder.stages.loads import LoadsResult, busiest_load, loads_stage

RATES = {"flat": (100e6, 100e6)}
RULES = HouseRules(common_peak_probability=0)
DAY, NIGHT = {"id": "day", "name": "Day", "hours": 8}, {"id": "night", "name": "Night", "hours": 10}


def footage(seat_id: str, **fields: Any) -> dict[str, Any]:
    return {
        "kind": "footage", "id": seat_id, "name": seat_id, "count": 1, "streams": 1, "format_id": "flat",
        "direction": "read", "probability": 1.0,
    } | fields  # fmt: skip


def brief(seats: list[dict[str, Any]], **fields: Any) -> Brief:
    base = {"seats": seats, "budget": "1", "horizon_date": date(2027, 1, 1)}
    return Brief.model_validate(base | fields)


def told(seats: list[dict[str, Any]], rules: HouseRules = RULES, **fields: Any) -> LoadsResult:
    return loads_stage(brief(seats, **fields), RATES, rules)


class Seats(unittest.TestCase):
    def test_whose_port_and_network_it_is(self) -> None:
        far = {
            "kind": "remote", "name": "Far", "count": 1, "format_id": "flat", "down_bytes_per_s": 50 * MB,
            "footage_hours_per_day": 1.0, "round_trip_ms": 10.0, "probability": 1.0,
        }  # fmt: skip
        result = told(
            [
                footage("office"),
                footage("inside", seated="inside"),
                far | {"id": "control", "way": "remote control"},
                far | {"id": "proxies", "way": "proxies"},
            ],
            limits={"line": {"up_bytes_per_s": 60 * MB}},
        )
        found = {s.id: (s.has_office_port, s.over_network) for s in result.seats}
        self.assertEqual(
            found,
            {
                "office": (True, True),
                "inside": (False, False),
                "control": (True, True),
                "proxies": (False, True),
            },
        )
        self.assertEqual(result.inside_seats_at_peak, 1.0)
        self.assertAlmostEqual(result.read.max_bytes_per_s, 350e6)

    def test_seats_inside_at_their_mean_number_in_the_busiest_part(self) -> None:
        seat = footage(
            "render",
            seated="inside",
            count=4,
            probability=0.25,
            at_peak=[{"id": "night", "probability": 0.5}],
        )
        result = told([seat], day_parts=[DAY, NIGHT])
        self.assertEqual(result.inside_seats_at_peak, 2.0)
        self.assertEqual(result.seats[0].probability, 0.5)
        self.assertEqual(result.both.part_id, "night")

    def test_how_long_more_may_be_asked_goes_by_the_percentile_and_the_hours_of_the_part(self) -> None:
        by_day, by_night = told([footage("a")], day_parts=[DAY, NIGHT]).parts
        self.assertAlmostEqual(by_day.beyond_sized_seconds_max, 288)
        self.assertAlmostEqual(by_night.beyond_sized_seconds_max, 360)
        rules = RULES.model_copy(update={"sized_on_percentile": 95.0})
        self.assertAlmostEqual(
            told([footage("a")], rules, day_parts=[DAY]).parts[0].beyond_sized_seconds_max, 24 * 60
        )

    def test_load_is_sized_on_the_houses_percentile(self) -> None:
        seats = [footage("a", probability=0.3)]
        for percentile, sized in ((50, 0), (69, 0), (71, 100e6), (99, 100e6)):
            rules = HouseRules(common_peak_probability=0, sized_on_percentile=percentile)
            self.assertEqual(told(seats, rules).both.sized_bytes_per_s, sized)

    def test_streams_at_once_are_one_at_least(self) -> None:
        self.assertEqual((told([]).streams_at_once, told([]).archive_streams_at_once), (1, 1))
        self.assertEqual(told([footage("a", count=3, streams=2)]).streams_at_once, 6)
        service = {"id": "s", "name": "S", "read_bytes_per_day": 360 * GB}
        self.assertEqual(told([footage("a", count=3, streams=2)], services=[service]).streams_at_once, 7)


class ADay(unittest.TestCase):
    def test_bytes_moved_by_hand(self) -> None:
        seat = footage("a", count=2, probability=0.5, at_peak=[{"id": "night", "probability": 0.1}])
        parts = {"day_parts": [DAY, NIGHT]}
        self.assertAlmostEqual(
            told([seat], **parts).read_bytes_per_day, 2 * 100e6 * 3600 * (0.5 * 8 + 0.1 * 10)
        )
        rush = HouseRules(common_peak_probability=0.2, rush_odds=0.9)
        hours = 8 * (0.8 * 0.5 + 0.2 * 0.9) + 10 * (0.8 * 0.1 + 0.2 * 0.9)
        self.assertAlmostEqual(told([seat], rush, **parts).read_bytes_per_day, 2 * 100e6 * 3600 * hours)
        self.assertEqual(told([seat], **parts).write_bytes_per_day, 0)

    def test_a_rush_does_not_make_a_service_run_twice_or_at_other_hours(self) -> None:
        service = {"id": "s", "name": "S", "read_bytes_per_day": 360 * GB, "part_id": "night"}
        for common in (0, 0.2):
            rules = HouseRules(common_peak_probability=common)
            result = told([], rules, day_parts=[DAY, NIGHT], services=[service])
            self.assertAlmostEqual(result.read_bytes_per_day / (360 * GB), 1)

    def test_what_is_played_from_the_archive_is_its_part_of_the_reads(self) -> None:
        result = told([footage("a", archive_share=0.25)])
        self.assertAlmostEqual(result.archive_bytes_per_day / result.read_bytes_per_day, 0.25)

    def test_of_parts_that_are_as_busy_the_one_with_the_higher_mean_then_the_first(self) -> None:
        rush = HouseRules(common_peak_probability=0.1, rush_odds=1)
        seats = [footage("a", probability=1e-9, at_peak=[{"id": "night", "probability": 0.5}])]
        self.assertEqual(told(seats, rush, day_parts=[DAY, NIGHT]).both.part_id, "night")
        same = [footage("a", probability=0.5)]
        self.assertEqual(told(same, day_parts=[DAY, NIGHT]).both.part_id, "day")
        for result in (told(seats, rush, day_parts=[DAY, NIGHT]),):
            self.assertEqual([p.id for p in result.parts], ["day", "night"])
            self.assertEqual([p.sized_bytes_per_s for p in result.parts], [100e6, 100e6])

    def test_each_part_of_the_day_is_told_alone(self) -> None:
        seats = [footage("a", count=2, probability=1.0, at_peak=[{"id": "night", "probability": 0.0}])]
        service = {"id": "s", "name": "S", "read_bytes_per_day": 360 * GB, "part_id": "night"}
        day, night = told(seats, day_parts=[DAY, NIGHT], services=[service]).parts
        self.assertEqual((day.hours, day.mean_bytes_per_s, day.sized_bytes_per_s), (8, 200e6, 200e6))
        self.assertAlmostEqual(night.sized_bytes_per_s, 10 * MB)
        by_day = told(seats, day_parts=[DAY, NIGHT], services=[service | {"part_id": "day"}])
        self.assertEqual([(s.name, round(s.bytes_per_s)) for s in by_day.services], [("S", 12_500_000)])
        self.assertEqual(told(seats, day_parts=[DAY, NIGHT], services=[service]).services, ())


class Bars(unittest.TestCase):
    def test_they_hold_all_the_odds_each_in_its_own(self) -> None:
        asked = brief([footage("a", count=2, probability=0.5)])
        bars = bars_of(busiest_load(asked, RATES, RULES))
        self.assertEqual((len(bars), bars[0].from_bytes_per_s, bars[-1].to_bytes_per_s), (40, 0, 200e6))
        held = {
            (round(b.from_bytes_per_s / 1e6), round(b.to_bytes_per_s / 1e6)): b.probability
            for b in bars
            if b.probability
        }
        self.assertEqual(held, {(0, 5): 0.25, (95, 100): 0.5, (195, 200): 0.25})
        self.assertEqual(bars_of(busiest_load(brief([]), RATES, RULES)), ())
