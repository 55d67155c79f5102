"""The brief in full: seats against hand sums, parts of the day, calendar against a day-by-day count, remote lines."""

import itertools
import unittest
from datetime import date, timedelta
from typing import Any, ClassVar

from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from larder.base.errors import Refused
from larder.base.problems import refusals
from larder.base.units import GB, MB, TB
from larder.judge.evaluation import evaluate
from larder.plan.brief import Brief
from larder.plan.bundle import Bundle
from larder.plan.formats import ClassFormat, Format, StillsFormat, audio_bytes_per_s, rates_in, rates_of
from larder.plan.house_rules import HouseRules
from larder.plan.productions import Production
from larder.plan.seats import Activity, FootageSeat, IngestSeat, PhotoSeat
from larder.readers.plan_file import bundle_from
from larder.stages.brief import BriefResult, brief_of
from larder.stages.calendar import calendar_of
from larder.stages.ingest import ingest_of
from larder.stages.loads import loads_stage
from larder.stages.need import need_of
from larder.stages.seat_demand import demand_of
from larder.tests.drawn import drawn
from larder.tests.plans import changed, cleared, copied, demo, ids

AS_OF = date(2026, 11, 24)
FORMATS: tuple[Format, ...] = (
    ClassFormat(id="heavy", kind="class", name="Heavy", bytes_per_s=40 * MB),
    ClassFormat(id="light", kind="class", name="Light", bytes_per_s=1 * MB),
)
RATES = {f.id: rates_of(f) for f in FORMATS}
NO_COMMON = HouseRules(common_peak_probability=0)

shares = st.one_of(st.just(0.0), st.floats(1e-9, 1))
"""Parts of a whole as a plan may say them: none, or one that can be told."""


def footage(**fields: Any) -> FootageSeat:
    base = {"id": "s", "kind": "footage", "name": "Seat", "format_id": "heavy"}
    return FootageSeat.model_validate(base | fields)


def brief(**fields: Any) -> Brief:
    return Brief.model_validate({"budget": "0", "horizon_date": "2028-11-24"} | fields)


def judged(rules: HouseRules = NO_COMMON, **fields: Any) -> BriefResult:
    asked, rates = brief(**fields), rates_in(FORMATS)
    loads, need = loads_stage(asked, rates, rules), need_of(asked, rates, AS_OF)
    return brief_of(FORMATS, {f.id for f in FORMATS}, rates, loads, need, ingest_of(asked, rates, AS_OF))


class Seats(unittest.TestCase):
    def test_a_seat_is_the_sum_of_its_activities(self) -> None:
        seat = footage(
            streams=2,
            angles=3,
            shuttle_factor=1.5,
            archive_share=0.25,
            activities=[
                {"id": "render", "name": "Render", "format_id": "heavy", "speed_factor": 0.5},
                {"id": "proxy", "name": "Proxies", "direction": "read", "streams": 2, "format_id": "light"},
            ],
        )
        asked = demand_of(seat, RATES)
        self.assertEqual(asked.read_bytes_per_s, 2 * 3 * 1.5 * 40 * MB + 2 * MB)
        self.assertEqual(asked.write_bytes_per_s, 20 * MB)
        self.assertEqual(asked.archive_bytes_per_s, 90 * MB)
        self.assertEqual(asked.streams, 6 + 1 + 2)

    def test_photo_and_ingest_seats(self) -> None:
        photo = PhotoSeat(
            id="p", kind="photo", name="P", image_bytes=50 * MB, images_per_s=2, export_bytes=8 * MB,
            exports_per_s=1, tethered_per_s=0.5,
        )  # fmt: skip
        asked = demand_of(photo, RATES)
        self.assertEqual((asked.read_bytes_per_s, asked.write_bytes_per_s), (100 * MB, 33 * MB))
        self.assertEqual(asked.files_per_s, 3.5)
        ingest = IngestSeat(
            id="i", kind="ingest", name="I", readers=3, card_bytes_per_s=200 * MB, copies_here=2
        )
        asked = demand_of(ingest, RATES)
        self.assertEqual((asked.write_bytes_per_s, asked.read_bytes_per_s), (1200 * MB, 1200 * MB))

    def test_a_seat_inside_the_box_asks_the_pool_as_any_other(self) -> None:
        seats = [footage().model_dump(), footage(id="r", name="Render", seated="inside").model_dump()]
        result = judged(seats=seats)
        self.assertEqual(result.read.max_bytes_per_s, 80 * MB)

    @given(st.integers(1, 6), st.integers(1, 6), st.floats(1, 8))
    def test_more_of_anything_never_asks_less(self, streams: int, angles: int, shuttle: float) -> None:
        less = demand_of(footage(streams=streams, angles=angles, shuttle_factor=shuttle), RATES)
        for more in (
            footage(streams=streams + 1, angles=angles, shuttle_factor=shuttle),
            footage(streams=streams, angles=angles + 1, shuttle_factor=shuttle),
            footage(streams=streams, angles=angles, shuttle_factor=shuttle + 1),
        ):
            self.assertGreater(demand_of(more, RATES).read_bytes_per_s, less.read_bytes_per_s)


class Ingest(unittest.TestCase):
    def test_reading_back_takes_as_many_streams_again(self) -> None:
        station = {
            "kind": "ingest",
            "id": "i",
            "name": "I",
            "count": 1,
            "readers": 3,
            "card_bytes_per_s": 100 * MB,
        }
        for copies, verifies, streams in ((1, False, 3), (1, True, 6), (2, True, 12)):
            fields = station | {"copies_here": copies, "verifies": verifies}
            demand = demand_of(TypeAdapter(IngestSeat).validate_python(fields), RATES)
            self.assertEqual((demand.streams, demand.write_bytes_per_s), (streams, 300 * MB * copies))
            self.assertEqual(demand.read_bytes_per_s, 300 * MB * copies if verifies else 0)


class PartsOfTheDay(unittest.TestCase):
    PARTS: ClassVar[list[dict[str, Any]]] = [
        {"id": "day", "name": "Day", "hours": 8},
        {"id": "night", "name": "Night", "hours": 10},
    ]

    def test_each_direction_is_sized_on_its_own_busiest_part(self) -> None:
        seat = footage(probability=1, at_peak=[{"id": "night", "probability": 0}])
        backups = {
            "id": "backups", "name": "Backups", "count": 9, "written_bytes_per_day": 40 * GB,
            "kept_bytes": 500 * GB, "part_id": "night",
        }  # fmt: skip
        result = judged(seats=[seat.model_dump()], day_parts=self.PARTS, services=[backups])
        self.assertEqual((result.read.part_id, result.read.sized_bytes_per_s), ("day", 40 * MB))
        self.assertEqual(result.write.part_id, "night")
        self.assertAlmostEqual(result.write.sized_bytes_per_s, 9 * 40 * GB / 36_000)
        self.assertEqual(result.need_bytes, 9 * 500 * GB)

    def test_a_service_in_every_part_moves_its_bytes_once_a_day(self) -> None:
        service = {"id": "sync", "name": "Sync", "read_bytes_per_day": 648 * GB}
        result = judged(day_parts=self.PARTS, services=[service])
        moved = sum(part.mean_bytes_per_s * part.hours * 3600 for part in result.parts)
        self.assertAlmostEqual(moved, 648 * GB, delta=1)

    @drawn(30)
    @given(st.lists(shares, min_size=1, max_size=12), shares, shares)
    def test_twelve_seats_equal_every_combination(
        self, odds: list[float], common: float, lifted: float
    ) -> None:
        seats = [footage(id=f"s{n}", probability=p).model_dump() for n, p in enumerate(odds)]
        result = judged(HouseRules(common_peak_probability=common, rush_odds=lifted), seats=seats)
        chances = [0.0] * (len(odds) + 1)
        for weight, least in ((1 - common, 0.0), (common, lifted)):
            for busy in itertools.product((0, 1), repeat=len(odds)):
                chance = weight
                for p, b in zip(odds, busy, strict=True):
                    at_peak = max(p, least) if p else 0.0
                    chance *= at_peak if b else 1 - at_peak
                chances[sum(busy)] += chance
        mean = sum(n * c for n, c in enumerate(chances)) * 40 * MB
        self.assertAlmostEqual(result.both.mean_bytes_per_s, mean, delta=1)
        at = 0
        while sum(chances[: at + 1]) < 0.95 - 1e-9:
            at += 1
        self.assertAlmostEqual(result.both.p95_bytes_per_s, at * 40 * MB, delta=1)

    def test_the_parts_of_a_day_are_no_longer_than_it(self) -> None:
        long = [{"id": "a", "name": "A", "hours": 20}, {"id": "b", "name": "B", "hours": 5}]
        with self.assertRaises(Refused) as caught:
            refused_brief(day_parts=long)
        self.assertIn("at most 4", caught.exception.sentence)

    def test_the_briefs_own_common_peak_overrules_the_house(self) -> None:
        seats = [footage(count=4, probability=1e-9).model_dump()]
        rules = HouseRules(rush_odds=1)
        result = judged(rules, seats=seats, common_peak_probability=0.1)
        self.assertEqual(result.both.p95_bytes_per_s, 160 * MB)
        # Who never works does not work in a rush either.
        seats = [footage(count=4, probability=0).model_dump()]
        self.assertEqual(judged(rules, seats=seats, common_peak_probability=0.1).both.max_bytes_per_s, 0)


def production(**fields: Any) -> dict[str, Any]:
    base = {
        "id": "p", "name": "Series", "starts_on": "2027-03-01", "shooting_weeks": 10, "days_per_week": 5,
        "hours_per_day": 2, "cameras": 3, "format_id": "heavy", "kept_ratio": 0.5, "versions": 2,
        "version_bytes": 300 * GB, "delivers_on": "2027-09-01", "archived_on": "2027-10-01",
    }  # fmt: skip
    return base | fields


dates = st.integers(-60, 140).map(lambda n: AS_OF + timedelta(days=7 * n + n % 5))
productions = st.builds(
    lambda n, start, weeks, cut, rest, kept: production(
        id=f"p{n}", starts_on=start, shooting_weeks=weeks, kept_ratio=kept,
        delivers_on=start + timedelta(days=7 * weeks + cut), archived_on=start + timedelta(days=7 * weeks + cut + rest),
    ),
    st.integers(0, 10**6), dates, st.integers(1, 60), st.integers(0, 200), st.integers(0, 200), shares,
)  # fmt: skip


class Calendar(unittest.TestCase):
    def test_a_production_by_hand(self) -> None:
        result = judged(productions=[production()], proxy_ratio=0.1, preview_ratio=0.2)
        footage_bytes = 10 * 5 * 2 * 3600 * 3 * 40 * MB * 0.5
        drawn = calendar_of(brief(productions=[production()]), RATES, AS_OF)
        self.assertEqual(drawn.productions[0].footage_bytes, footage_bytes)
        # Before archiving the previews are still there; that day is the fullest.
        self.assertEqual(result.fullest_on, date(2027, 9, 30))
        self.assertEqual(result.need_bytes, round(footage_bytes * 1.3) + 600 * GB)
        self.assertEqual(result.working_set_bytes, result.need_bytes)
        self.assertEqual(drawn.busiest_week_bytes, footage_bytes / 10)
        self.assertEqual(result.ingest.bytes_per_day, 2 * 3600 * 3 * 40 * MB)

    @drawn(15)
    @given(st.lists(productions, max_size=3, unique_by=lambda p: p["id"]))
    def test_need_and_working_set_equal_a_count_day_by_day(self, some: list[dict[str, Any]]) -> None:
        fields = {
            "productions": some,
            "proxy_ratio": 0.05,
            "preview_ratio": 0.3,
            "stills_bytes_per_week": 7 * GB,
        }
        result = judged(**fields, hot_weeks=0)
        made = [Production.model_validate(one) for one in some]
        most = hot_most = 0.0
        # Days of shooting so far, those before the plan's day apart.
        before = [sum(p.starts_on + timedelta(d) < AS_OF for d in range(7 * p.shooting_weeks)) for p in made]
        since = [0] * len(made)
        for n in range((date(2028, 11, 24) - AS_OF).days + 1):
            day, total, hot = AS_OF + timedelta(days=n), n * GB, 0.0
            for k, p in enumerate(made):
                each = p.hours_per_day * 3600 * p.cameras * 40 * MB * p.kept_ratio * 5 / 7
                since[k] += n > 0 and 0 <= (day - p.starts_on).days - 1 < 7 * p.shooting_weeks
                done = p.versions * p.version_bytes if AS_OF <= p.delivers_on <= day else 0
                archived = day >= p.archived_on
                total += each * since[k] * (1.05 if archived else 1.35) + done
                if p.starts_on <= day and not archived:
                    hot += each * (before[k] + since[k]) * 1.35 + done
            most, hot_most = max(most, total), max(hot_most, hot)
        self.assertAlmostEqual(result.need_bytes, most, delta=10)
        self.assertAlmostEqual(result.working_set_bytes, hot_most, delta=10)
        self.assertEqual(sum(p.bytes for p in result.need_parts), result.need_bytes)

    def test_dates_that_cannot_be_are_refused_with_what_would_be_right(self) -> None:
        for fields, word in (
            ({"delivers_on": "2027-04-01"}, "2027-05-10 or later"),
            ({"archived_on": "2027-08-01"}, "2027-09-01 or later"),
            ({"starts_on": "2027-02-30"}, "starts_on"),
            ({"kept_ratio": 1.2}, "kept_ratio"),
            ({"hours_per_day": 25}, "hours_per_day"),
        ):
            with self.assertRaises(ValidationError) as caught:
                Production.model_validate(production(**fields))
            faults = refusals(caught.exception, production(**fields))
            self.assertIn(word, " ".join(f.field + f.accepted for f in faults), fields)

    def test_steady_weeks_stay_hot_for_as_long_as_is_said(self) -> None:
        result = judged(stills_bytes_per_week=10 * GB, hot_weeks=6)
        self.assertEqual(result.working_set_bytes, 60 * GB)
        self.assertEqual(judged(stills_bytes_per_week=10 * GB, horizon_date=AS_OF).working_set_bytes, 0)

    def test_without_shoots_and_productions_hot_is_what_is_played(self) -> None:
        document = demo("one-box").document()
        asked = document["plan"]["brief"]
        asked |= {"shoots": [], "productions": [], "stills_bytes_per_week": 0, "exports_bytes_per_week": 0}
        edit, colour = asked["seats"][:2]
        asked["seats"] = [edit | {"shuttle_factor": 1}, colour]
        self.assertEqual(evaluate(bundle_from(document)).brief.working_set_bytes, asked["kept_today_bytes"])
        asked |= {"kept_today_bytes": 0, "hot_weeks": 3, "seats": asked["seats"][:1]}
        busy = 0.98 * 0.65 + 0.02 * 0.9
        answer = evaluate(bundle_from(document)).brief.working_set_bytes
        self.assertAlmostEqual(answer / (5 * 220e6 / 8 * busy * 9 * 3600 * 5 * 3), 1)
        asked["shoots"] = demo("one-box").document()["plan"]["brief"]["shoots"]
        self.assertLess(evaluate(bundle_from(document)).brief.working_set_bytes, answer)

    def test_two_hundred_productions_are_looked_at_without_a_pause(self) -> None:
        some = [production(id=f"p{n}", starts_on=AS_OF + timedelta(days=n)) for n in range(100)]
        for p in some:
            p |= {
                "delivers_on": p["starts_on"] + timedelta(days=90),
                "archived_on": p["starts_on"] + timedelta(days=99),
            }
        drawn = calendar_of(brief(productions=some), RATES, AS_OF)
        self.assertEqual(max(s.hot_count for s in drawn.steps), 99)


class Library(unittest.TestCase):
    def test_sound_and_stills_by_hand(self) -> None:
        self.assertEqual(audio_bytes_per_s(2), 288_000)
        stills = StillsFormat(id="s", kind="stills", name="Hides", image_bytes=50 * MB, interval_s=20)
        self.assertEqual(rates_of(stills), (2.5 * MB, 2.5 * MB))

    def test_classes_without_a_rate_and_odds_above_one_are_refused(self) -> None:
        kinds: TypeAdapter[Format] = TypeAdapter(Format)
        for fields in (
            {"kind": "class", "bytes_per_s": 0},
            {"kind": "class"},
            {"kind": "measured", "mean_bytes_per_s": 0},
            {"kind": "stills", "image_bytes": 0, "interval_s": 5},
            {"kind": "audio", "channels": 0},
        ):
            self.assertRaises(ValidationError, kinds.validate_python, {"id": "x", "name": "X"} | fields)
        self.assertRaises(ValidationError, footage, probability=1.2)
        self.assertRaises(ValidationError, brief, common_peak_probability=-0.1)
        self.assertRaises(
            Refused, lambda: refused_brief(seats=[footage(at_peak=[{"id": "noon", "probability": 1}])])
        )
        self.assertRaises(
            Refused, lambda: refused_brief(services=[{"id": "a", "name": "A", "part_id": "noon"}])
        )
        self.assertRaises(ValidationError, Activity, id="a", name="A", format_id="x", speed_factor=0)


def refused_brief(**fields: Any) -> None:
    try:
        brief(**fields)
    except ValidationError as error:
        raise refusals(error, {})[0] from None


class Remote(unittest.TestCase):
    LINE: ClassVar[dict[str, Any]] = {"line": {"up_bytes_per_s": 5 * MB, "down_bytes_per_s": 10 * MB}}

    def seat(self, **fields: Any) -> dict[str, Any]:
        base = {
            "id": "far", "kind": "remote", "name": "Far", "format_id": "light", "footage_hours_per_day": 2,
            "down_bytes_per_s": 2 * MB,
        }  # fmt: skip
        return base | fields

    def test_proxies_arrive_by_the_slower_end_in_the_lists_order(self) -> None:
        seats = [self.seat(), self.seat(id="near", name="Near", down_bytes_per_s=50 * MB)]
        first, second = judged(seats=seats, limits=self.LINE).remote
        self.assertEqual((first.line_bytes_per_s, first.limited_by), (2 * MB, "their line down"))
        self.assertEqual(first.wait_s, 7200 / 2)
        self.assertEqual((second.limited_by, second.wait_s), ("the house's line up", 3600 + 7200 / 5))

    def test_what_the_line_has_left_for_a_copy_elsewhere(self) -> None:
        seats = [
            self.seat(count=2),
            self.seat(
                id="hand", name="Hand", way="remote control", probability=0.5, picture_bytes_per_s=1 * MB
            ),
        ]
        result = judged(seats=seats, limits=self.LINE)
        # Proxies of two hours for each of two seats; a picture for half of the eight hours.
        used = result.remote[0].day_bytes + 0.5 * 8 * 3600 * MB
        self.assertAlmostEqual(result.line_left_bytes_per_day, 5 * MB * 86_400 - used)
        self.assertEqual(judged(seats=seats).line_left_bytes_per_day, 0)

    def test_a_faster_office_network_never_helps(self) -> None:
        slow, quick = (
            changed(demo("one-box"), plan__wiring__links__PLUG__speed=speed) for speed in ("1GbE", "25GbE")
        )
        self.assertEqual(evaluate(slow).brief.remote, evaluate(quick).brief.remote)

    def test_without_a_line_nothing_arrives(self) -> None:
        (result,) = judged(seats=[self.seat()]).remote
        self.assertEqual((result.ratio, result.wait_s), (0.0, None))

    def test_ways_of_working_ask_different_things_of_the_storage(self) -> None:
        asked = {}
        for way in ("proxies", "remote control", "files"):
            seat = self.seat(way=way, format_id="heavy")
            asked[way] = judged(seats=[seat], limits=self.LINE).read.max_bytes_per_s
        self.assertEqual(asked, {"proxies": 2 * MB, "remote control": 40 * MB, "files": 2 * MB})


class BriefFindings(unittest.TestCase):
    """Each raised by a minimal change of the demo, with its evidence, and cleared by its remedy."""

    def test_decode_bound_playback(self) -> None:
        base = changed(demo("one-box"), plan__brief__seats__edit__decoded_streams_max=2)
        self.assertNotIn("decode-bound-playback", ids(evaluate(base)))
        evidence = cleared(self, changed(base, plan__brief__seats__edit__angles=4), "decode-bound-playback")
        self.assertEqual(evidence, {"Streams it is to play": 4, "Streams it can decode": 2})

    def test_both_schools_of_where_projects_live(self) -> None:
        shared = changed(demo("one-box"), plan__brief__projects_live="on the share")
        cleared(self, shared, "projects-catalogues-on-the-share")
        own = copied(demo("one-box"))
        self.assertEqual(own.plan.brief.projects_live, "on each workstation")
        cleared(self, own, "project-files-in-no-copy-plan")

    def test_remote_line_too_slow_for_the_format(self) -> None:
        seat = Remote().seat(way="files", format_id="mezzanine-220")
        document = demo("one-box").document()
        document["plan"]["brief"]["seats"].append(seat)
        document["plan"]["brief"]["limits"]["line"]["up_bytes_per_s"] = 5 * MB
        evidence = cleared(self, Bundle.model_validate(document), "remote-line-too-slow-for-the-format")
        self.assertEqual(evidence["The line carries"], 2 * MB)
        self.assertEqual(evidence["Needed"], 27.5 * MB)

    def test_kept_bytes_are_the_same_in_one_big_or_many_small_numbers(self) -> None:
        many = judged(services=[{"id": "a", "name": "A", "count": 10, "kept_bytes": TB}])
        self.assertEqual(many.need_bytes, judged(other_services_bytes=10 * TB).need_bytes)
