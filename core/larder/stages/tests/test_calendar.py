"""The drawn calendar and a shooting day by hand."""

import unittest
from datetime import date, timedelta
from typing import Any

from larder.base.units import GB, MB, TB
from larder.plan.brief import Brief
from larder.stages.calendar import calendar_of
from larder.stages.ingest import ingest_of
from larder.stages.need import need_of

AS_OF = date(2026, 11, 23)
RATES = {"flat": (10e6, 20e6)}
WEEK = timedelta(weeks=1)


def production(name: str, starts: date, **fields: Any) -> dict[str, Any]:
    """Two weeks of five days of ten hours on one camera at 10 MB/s, all kept: 3.6 TB."""
    return {
        "id": name, "name": name, "starts_on": starts, "shooting_weeks": 2, "days_per_week": 5, "hours_per_day": 10,
        "cameras": 1, "format_id": "flat", "kept_ratio": 1.0, "versions": 0, "version_bytes": 0,
        "delivers_on": starts + 4 * WEEK, "archived_on": starts + 6 * WEEK,
    } | fields  # fmt: skip


def brief(**fields: Any) -> Brief:
    return Brief.model_validate({"budget": "1", "horizon_date": AS_OF + 10 * WEEK} | fields)


class Drawn(unittest.TestCase):
    def test_week_by_week(self) -> None:
        asked = brief(
            productions=[production("tern", AS_OF + 2 * WEEK)],
            stills_bytes_per_week=100 * GB,
            preview_ratio=0.5,
        )
        drawn = calendar_of(asked, RATES, AS_OF)
        self.assertEqual((drawn.weeks_a_step, len(drawn.steps)), (1, 11))
        self.assertEqual([s.from_date for s in drawn.steps[:3]], [AS_OF, AS_OF + WEEK, AS_OF + 2 * WEEK])
        self.assertEqual([s.hot_count for s in drawn.steps], [0, 0, 1, 1, 1, 1, 1, 1, 0, 0, 0])
        a_week = round(10 * 5 * 3600 * 10e6)
        self.assertEqual([s.footage_bytes_per_week for s in drawn.steps[:5]], [0, 0, a_week, a_week, 0])
        # A week into it half is shot, with previews; after archiving the previews are gone.
        self.assertEqual(drawn.steps[3].hot_bytes, round(a_week * 1.5))
        self.assertEqual(drawn.steps[3].total_bytes, round(3 * 100 * GB + a_week * 1.5))
        self.assertEqual(drawn.steps[9].total_bytes, round(9 * 100 * GB + 2 * a_week))
        (only,) = drawn.productions
        self.assertEqual(only.footage_bytes, 2 * a_week)
        self.assertEqual((only.wrapped_on, only.archived_on), (AS_OF + 4 * WEEK, AS_OF + 8 * WEEK))
        self.assertEqual(drawn.busiest_week_bytes, a_week)

    def test_the_archive_a_year_leaves_previews_out(self) -> None:
        asked = brief(stills_bytes_per_week=10 * GB, exports_bytes_per_week=4 * GB)
        drawn = calendar_of(asked, RATES, AS_OF)
        self.assertEqual((drawn.steps, drawn.productions), ((), ()))
        self.assertAlmostEqual(drawn.archive_bytes_per_year, 14 * GB * 365.25 / 7, delta=1)
        shot = brief(
            shoots=[{"id": "s", "name": "S", "hours_per_week": 10, "format_id": "flat", "kept_ratio": 0.5}],
            preview_ratio=0.5,
            proxy_ratio=0.1,
        )
        steady = 10 * 3600 * 10e6 * 0.5
        yearly = calendar_of(shot, RATES, AS_OF).archive_bytes_per_year
        self.assertAlmostEqual(yearly, steady * 1.1 * 365.25 / 7, delta=1)
        both = calendar_of(brief(productions=[production("tern", AS_OF)], proxy_ratio=0.1), RATES, AS_OF)
        years = 70 / 365.25
        self.assertAlmostEqual(both.archive_bytes_per_year, 3.6 * TB * 1.1 / years, delta=1)
        self.assertEqual(calendar_of(brief(horizon_date=AS_OF), RATES, AS_OF).archive_bytes_per_year, 0)

    def test_steady_weeks_and_productions_add_up(self) -> None:
        shoot = {"id": "s", "name": "S", "hours_per_week": 10, "format_id": "flat", "kept_ratio": 1.0}
        drawn = calendar_of(brief(productions=[production("tern", AS_OF)], shoots=[shoot]), RATES, AS_OF)
        steady, a_week = 10 * 3600 * 10_000_000, 10 * 5 * 3600 * 10_000_000
        self.assertEqual(
            [s.footage_bytes_per_week for s in drawn.steps[:3]], [a_week + steady] * 2 + [steady]
        )

    def test_what_is_delivered_lies_there_from_that_day(self) -> None:
        delivered = production("tern", AS_OF, versions=3, version_bytes=100 * GB)
        steps = calendar_of(brief(productions=[delivered]), RATES, AS_OF).steps
        self.assertEqual(steps[4].total_bytes - steps[3].total_bytes, 300 * GB)
        # What was delivered before today is among what is kept already.
        long_ago = production("old", AS_OF - 8 * WEEK, versions=3, version_bytes=100 * GB)
        self.assertEqual(calendar_of(brief(productions=[long_ago]), RATES, AS_OF).steps[0].total_bytes, 0)
        today = production("now", AS_OF - 4 * WEEK, versions=3, version_bytes=100 * GB)
        self.assertEqual(calendar_of(brief(productions=[today]), RATES, AS_OF).steps[0].total_bytes, 300 * GB)

    def test_a_long_horizon_is_drawn_in_steps_of_several_weeks(self) -> None:
        asked = brief(productions=[production("tern", AS_OF)], horizon_date=AS_OF + 300 * WEEK)
        drawn = calendar_of(asked, RATES, AS_OF)
        self.assertEqual(drawn.weeks_a_step, 3)
        self.assertEqual([s.from_date for s in drawn.steps[:2]], [AS_OF, AS_OF + 3 * WEEK])
        self.assertEqual(len(drawn.steps), 101)

    def test_the_busiest_week_may_be_one_that_ends_with_a_production(self) -> None:
        # They overlap for a week: in the first one's last.
        asked = brief(productions=[production("a", AS_OF + WEEK), production("b", AS_OF + 2 * WEEK)])
        a_week = 10 * 5 * 3600 * 10e6
        self.assertEqual(calendar_of(asked, RATES, AS_OF).busiest_week_bytes, 2 * a_week)
        late = brief(
            productions=[production("a", AS_OF + WEEK), production("b", AS_OF + 2 * WEEK + timedelta(3))]
        )
        self.assertAlmostEqual(
            calendar_of(late, RATES, AS_OF).busiest_week_bytes, a_week * (1 + 4 / 7), delta=1
        )


class Need(unittest.TestCase):
    def test_the_fullest_day_weighs_what_grows_against_what_goes(self) -> None:
        # Previews of 3.6 TB go 15 days before the horizon; 1.75 TB a week come until then.
        gone = production("tern", AS_OF, archived_on=AS_OF + 8 * WEEK - timedelta(1))
        asked = {"productions": [gone], "preview_ratio": 1.0}
        grows = need_of(brief(**asked, stills_bytes_per_week=1_750 * GB), RATES, AS_OF)
        self.assertEqual(grows.fullest_on, AS_OF + 10 * WEEK)
        slower = need_of(brief(**asked, stills_bytes_per_week=1_550 * GB), RATES, AS_OF)
        self.assertEqual(slower.fullest_on, AS_OF + 8 * WEEK - timedelta(2))

    def test_growth_and_parts_by_hand(self) -> None:
        asked = brief(
            productions=[production("tern", AS_OF, versions=2, version_bytes=50 * GB)],
            kept_today_bytes=5 * TB,
            other_services_bytes=1 * TB,
            stills_bytes_per_week=10 * GB,
            services=[{"id": "b", "name": "B", "count": 3, "kept_bytes": 200 * GB}],
        )
        need = need_of(asked, RATES, AS_OF)
        parts = {part.step: part.bytes for part in need.parts}
        self.assertEqual(need.weeks, 10)
        self.assertEqual(
            parts,
            {
                "kept_today": 5 * TB, "footage": 3_600 * GB, "proxies": 0, "previews": 0, "stills": 100 * GB,
                "exports": 0, "deliveries": 100 * GB, "services": 600 * GB, "services_not_listed": 1 * TB,
            },
        )  # fmt: skip
        self.assertEqual(need.fullest_on, AS_OF + 10 * WEEK)
        self.assertAlmostEqual(need.footage_bytes_per_week, 360 * GB)
        self.assertAlmostEqual(need.growth_bytes_per_week, 380 * GB)
        self.assertEqual(need.hot_productions_max, 1)
        self.assertEqual(need_of(brief(horizon_date=AS_OF), RATES, AS_OF).growth_bytes_per_week, 0)


class AShootingDay(unittest.TestCase):
    def test_steady_footage_in_five_days_and_the_most_that_is_shot_at_once(self) -> None:
        station = {
            "kind": "ingest",
            "id": "i",
            "name": "I",
            "count": 2,
            "readers": 3,
            "card_bytes_per_s": 100 * MB,
        }
        asked = brief(
            shoots=[{"id": "s", "name": "S", "hours_per_week": 10, "format_id": "flat", "kept_ratio": 0.5}],
            stills_bytes_per_week=50 * GB,
            productions=[
                production("a", AS_OF - WEEK, kept_ratio=0.1),
                production("b", AS_OF + WEEK, cameras=2),
                production("later", AS_OF + 11 * WEEK, cameras=9),
            ],
            seats=[station],
        )
        ingest = ingest_of(asked, RATES, AS_OF)
        steady = (10 * 3600 * 10e6 + 50 * GB) / 5
        # What is thrown away later comes in all the same; what begins past the horizon does not.
        self.assertEqual(ingest.bytes_per_day, round(steady + 2 * 36_000 * 10e6))
        self.assertEqual(ingest.stations_bytes_per_s, 600 * MB)
        self.assertAlmostEqual(ingest.seconds_per_day or 0, ingest.bytes_per_day / (600 * MB))

    def test_two_that_overlap_add_up_and_no_station_takes_no_time(self) -> None:
        asked = brief(productions=[production("a", AS_OF), production("b", AS_OF + WEEK)])
        ingest = ingest_of(asked, RATES, AS_OF)
        self.assertEqual((ingest.bytes_per_day, ingest.seconds_per_day), (2 * 36_000 * 10_000_000, None))
        apart = brief(productions=[production("a", AS_OF), production("b", AS_OF + 2 * WEEK)])
        self.assertEqual(ingest_of(apart, RATES, AS_OF).bytes_per_day, 36_000 * 10_000_000)
