"""A day rehearsed: by hand, beside a cliff, with something broken, and what must hold on any plan."""

import unittest
from contextlib import suppress
from typing import Any

from hypothesis import assume, given
from hypothesis import strategies as st

from larder.asks.begin import begun
from larder.asks.rehearsal.account import NOTHING_TO_REHEARSE
from larder.asks.rehearsal.drawn_day import drawn_day
from larder.asks.rehearsal.failures import Failure
from larder.asks.rehearsal.helped import helped
from larder.asks.rehearsal.hours import CARDS_COME_AT
from larder.asks.rehearsal.many_days import quantile, rehearse_days
from larder.asks.rehearsal.rehearse import Rehearsal, RehearsedSeat, rehearse
from larder.asks.rehearsal.table import day_columns, day_rows
from larder.asks.share_out import share_out
from larder.asks.standards import Standards
from larder.base.errors import Refused
from larder.base.patch import Operation, apply_patch
from larder.base.units import GB, TB
from larder.judge.evaluation import evaluate
from larder.judge.tests.worst_plans import WorstPlans
from larder.plan.bundle import Bundle
from larder.readers.brief_line import brief_of, understand
from larder.readers.plan_file import bundle_from
from larder.tests.drawn import drawn
from larder.tests.plans import DEMOS, changed, demo
from larder.tests.random_plans import random_plan

ON = demo("one-box").as_of
HOUR = 3600
BEGINS_S = 9 * HOUR


def dies(pool_id: str, into_day_s: float) -> list[Failure]:
    return [Failure("disk", pool_id, BEGINS_S + into_day_s)]


def plan(line: str, cache: dict[str, Any] | None = None, **pool: Any) -> Bundle:
    """People as said, on one pool of six quick drives, over a switch of 10GbE."""
    document = begun("Plan", brief_of(understand(line, ON)), ON, Standards()).document()
    document["plan"]["pools"] = [
        {
            "id": "main", "name": "Main pool", "layout": "raid6", "drive_count": 8, "drive_bytes": 4 * TB,
            "drive_kind": "ssd", "drive_read_bytes_per_s": 2e9, "drive_write_bytes_per_s": 1e9,
        } | pool
    ]  # fmt: skip
    if cache:
        document["plan"]["caches"] = [{"id": "cache", "name": "Cache", "pool_id": "main"} | cache]
    return bundle_from(document)


def seat(day: Rehearsal, name: str, number: int = 1) -> RehearsedSeat:
    return next(s for s in day.seats if (s.name, s.number) == (name, number))


class OneDay(unittest.TestCase):
    def test_who_has_all_sees_nothing_and_cards_take_what_the_readers_give(self) -> None:
        day = rehearse(plan("2 edit seats play 2 streams 220 Mb/s, 1 ingest 180 MB/s, 10 h a week"))
        self.assertEqual([s.unwatchable_s for s in day.seats], [0, 0])
        [cards] = day.jobs
        self.assertEqual(cards.starts_s, BEGINS_S + CARDS_COME_AT * 8 * HOUR)
        self.assertAlmostEqual((cards.done_s or 0) - cards.starts_s, cards.bytes / 180e6, delta=0.1)
        self.assertEqual(cards.late_s, 0)
        rules = demo("one-box").house_rules
        self.assertEqual(cards.deadline_s - cards.starts_s, rules.cards_safe_hours_max * HOUR)
        line = "2 edit seats play 2 streams 220 Mb/s, 1 ingest 180 MB/s, 10 h a week"
        [twice] = rehearse(changed(plan(line), plan__brief__seats__ingest__copies_here=2)).jobs
        self.assertEqual(twice.bytes, 2 * cards.bytes)

    def test_each_seat_has_its_own_plug_and_its_bytes_in_one_pool(self) -> None:
        both = changed(
            plan("2 colour 80 MB/s at peak 100%"), **{"plan__wiring__links__plug-colour__speed": "1GbE"}
        )
        self.assertEqual(rehearse(both).unwatchable_s, 0)
        document = plan("2 colour 80 MB/s at peak 100%").document()
        slow = document["plan"]["pools"][0] | {
            "id": "slow",
            "name": "Slow",
            "drive_read_bytes_per_s": 2e6,
            "drive_write_bytes_per_s": 2e6,
        }
        document["plan"]["pools"].append(slow)
        stands = [seat.unwatchable_s > 0 for seat in rehearse(bundle_from(document)).seats]
        self.assertEqual(sorted(stands), [False, True])

    def test_one_seat_on_a_narrow_plug_stands_all_the_time_and_the_plug_is_blamed(self) -> None:
        bundle = plan("1 colour 918 MB/s at peak 50%")
        narrow = changed(bundle, **{"plan__wiring__links__plug-colour__speed": "1GbE"})
        [answer] = rehearse(narrow).seats
        self.assertEqual((answer.blamed_hop_id, answer.at_peak_s), ("plug-colour", 4 * HOUR))
        self.assertAlmostEqual(answer.unwatchable_s, 4 * HOUR, delta=3)
        ratio = evaluate(narrow).scales.speed.ratio
        assert ratio is not None
        self.assertAlmostEqual(answer.frozen_s / answer.unwatchable_s, 1 - ratio, delta=0.01)
        self.assertEqual(rehearse(bundle).unwatchable_s, 0)

    def test_a_day_that_is_asked_for_more_than_there_is_names_when(self) -> None:
        # Five edits of 65 % overlap in the middle of nine hours; the copy of the cards is what is too much.
        day = rehearse(demo("one-box"))
        colour = seat(day, "Colour")
        self.assertEqual(colour.blamed_hop_id, "main")
        [spell] = colour.spells
        cards = next(job for job in day.jobs if job.kind == "cards")
        self.assertAlmostEqual(spell.from_s, cards.starts_s, delta=60)
        self.assertAlmostEqual(spell.to_s, cards.done_s or 0, delta=60)

    def test_more_seats_than_a_day_can_have_are_refused(self) -> None:
        house = plan("100 edit 10 Mb/s")
        full = changed(house, plan__brief__seats__edit__count=200)
        self.assertEqual(len(rehearse(full).seats), 200)
        over = changed(house, plan__brief__seats__edit__count=201)
        self.assertRaisesRegex(Refused, "at most 200 seats", rehearse, over)

    def test_nobody_nothing_and_nowhere(self) -> None:
        empty = begun("Empty", brief_of(understand("", ON)), ON, Standards())
        self.assertEqual((rehearse(empty).seats, rehearse(empty).jobs), ((), ()))
        without = begun("People", brief_of(understand("4 edit 220 Mb/s", ON)), ON, Standards())
        self.assertEqual(rehearse(without).unwatchable_s, 0)

    def test_a_write_cache_is_full_when_its_arithmetic_says_so(self) -> None:
        slow = {"drive_kind": "hdd", "drive_read_bytes_per_s": 200e6, "drive_write_bytes_per_s": 100e6}
        cache = {
            "mode": "write-back",
            "drive_count": 2,
            "drive_bytes": 100 * GB,
            "read_bytes_per_s": 2e9,
            "write_bytes_per_s": 1e9,
        }
        day = rehearse(plan("1 ingest with 4 readers 240 MB/s, 40 h a week of 400 Mb/s", cache, **slow))
        [answer], [cards] = day.caches, day.jobs
        self.assertEqual(answer.holds_bytes, 200 * GB)
        self.assertGreater(cards.bytes, 400 * GB)
        assert answer.full_s is not None
        filled = 200 * GB / (answer.full_s - cards.starts_s)
        # What fills it is what comes less what the drives take away meanwhile.
        self.assertLess(filled, 960e6)
        self.assertGreater(filled, 300e6)
        self.assertEqual(day.dirty_bytes_max, 200 * GB)
        self.assertGreater((cards.done_s or 0) - cards.starts_s, 1.2 * cards.bytes / 960e6)
        larger = rehearse(
            plan(
                "1 ingest with 4 readers 240 MB/s, 40 h a week of 400 Mb/s",
                cache | {"drive_bytes": 8 * TB},
                **slow,
            )
        )
        self.assertIsNone(larger.caches[0].full_s)
        self.assertLess(larger.jobs[0].done_s or 0, cards.done_s or 0)


class Broken(unittest.TestCase):
    LINE = "1 edit seats play 2 streams 220 Mb/s at peak 100%"

    def test_a_stripe_takes_all_with_it_from_that_minute_on(self) -> None:
        [answer] = rehearse(plan(self.LINE, layout="stripe"), dies("main", 5 * HOUR)).seats
        self.assertEqual(
            (round(answer.spells[0].from_s), round(answer.spells[0].to_s)),
            (BEGINS_S + 5 * HOUR + 2, BEGINS_S + 8 * HOUR),
        )
        self.assertAlmostEqual(answer.frozen_s, answer.unwatchable_s, delta=0.01)

    def test_who_stands_is_who_speed_says_is_short_whole_degraded_and_rebuilding(self) -> None:
        disks = {"drive_kind": "hdd", "drive_read_bytes_per_s": 240e6, "drive_write_bytes_per_s": 235e6}
        seen = set()
        for seats in range(2, 9):
            line = f"{seats} edit seats play 2 streams 220 Mb/s at peak 100%"
            bundle = plan(line, **disks)
            judged, failure = evaluate(bundle), dies("main", 2 * HOUR)
            troubled = {each.trouble: each.ratio for each in judged.wiring.in_trouble}
            for ratio, day in (
                (judged.scales.speed.ratio or 0, rehearse(bundle)),
                (troubled["a dead disk"], rehearse(bundle, failure)),
                (troubled["a rebuild"], rehearse(plan(line, **disks, drive_count=9, spares=1), failure)),
            ):
                self.assertEqual(day.unwatchable_s > 0, ratio < 1, (seats, ratio))
                seen.add(ratio < 1)
        self.assertEqual(seen, {True, False})
        self.assertRaisesRegex(Refused, r"the id of a pool \(main\)", rehearse, bundle, dies("attic", 0))

    def test_a_rebuilt_pool_is_whole_again(self) -> None:
        quick = {
            "drive_kind": "hdd", "drive_bytes": 200 * GB, "drive_read_bytes_per_s": 240e6,
            "drive_write_bytes_per_s": 235e6, "drive_count": 9, "spares": 1,
        }  # fmt: skip
        bundle = plan("5 edit seats play 2 streams 220 Mb/s at peak 100%", **quick)
        seconds = evaluate(bundle).tiers.pools[0].rebuild_seconds
        assert seconds is not None
        for answer in rehearse(bundle, dies("main", 2 * HOUR)).seats:
            for spell in answer.spells:
                self.assertLess(spell.to_s, BEGINS_S + 2 * HOUR + seconds + 10)
        self.assertGreater(rehearse(bundle, dies("main", 2 * HOUR)).unwatchable_s, 0)


class Drawn(unittest.TestCase):
    def test_the_account_says_who_when_and_why(self) -> None:
        day = drawn_day(demo("one-box"), dies("main", 2 * HOUR))
        self.assertEqual(day.account[0], "A disk of Boathouse pool dies at 11:00.")
        self.assertRegex(
            day.account[1], r"^Colour is unwatchable for \d+ minutes, most of it from 12:00 to 12:5"
        )
        self.assertIn("Boathouse pool holds it back", day.account[1])
        # A pool in trouble is held against what it has left.
        self.assertAlmostEqual(max(day.hops[0].used), 1)
        calm = drawn_day(demo("tern-and-tide"))
        self.assertEqual(calm.account[-1], "Nobody sees a frame drop, and every job is in time.")

    def test_what_is_missing_is_never_called_well(self) -> None:
        empty = begun("Empty", brief_of(understand("4 edit 220 Mb/s", ON)), ON, Standards())
        self.assertEqual(drawn_day(empty).account, (NOTHING_TO_REHEARSE,))
        cut = plan("4 edit 220 Mb/s, 1 colour 100 Mb/s")
        links = (Operation(op="remove", path="plan/wiring/links/plug-edit"),)
        alone = bundle_from(apply_patch(cut.document(), links))
        self.assertEqual(
            drawn_day(alone).account,
            ("Edit has no way to the storage and is left out.", "Nobody else sees a frame drop."),
        )

    def test_the_lanes_are_what_stood_still(self) -> None:
        answer = drawn_day(demo("one-box"))
        count = len(answer.moments_s)
        self.assertEqual(list(answer.moments_s), sorted(answer.moments_s))
        for lane in answer.hops:
            self.assertEqual(len(lane.used), count)
            self.assertTrue(all(0 <= share <= 1 for share in lane.used))
        self.assertEqual(answer.hops[0].id, "main")
        for seat, lane in zip(answer.day.seats, answer.seats, strict=True):
            missed = 0.0
            ends = [*answer.moments_s[1:], answer.day.begins_s + 86_400]
            for since, to, asked, got in zip(
                answer.moments_s, ends, lane.asked_bytes_per_s, lane.got_bytes_per_s, strict=True
            ):
                self.assertLessEqual(got, asked * (1 + 1e-6) + 1)
                missed += (to - since) * (1 - got / asked) if asked else 0.0
            # Shortage that the player bridges is not seen; all that is seen is shortage.
            self.assertLessEqual(seat.frozen_s, missed + 1)

    def test_as_a_table_it_has_a_row_a_moment(self) -> None:
        day = drawn_day(demo("one-box"))
        rows = list(day_rows(day))
        self.assertEqual(len(rows), len(day.moments_s))
        self.assertEqual({len(row) for row in rows}, {len(day_columns(day))})
        self.assertEqual(rows[0][0], "09:00")

    def test_a_constant_day_with_everybody_at_peak_is_what_wiring_shares_out(self) -> None:
        disks = {"drive_kind": "hdd", "drive_read_bytes_per_s": 240e6, "drive_write_bytes_per_s": 235e6}
        short = 0
        for line in (
            "1 edit seats play 2 streams 220 Mb/s at peak 100%",
            "9 edit seats play 2 streams 220 Mb/s at peak 100%, 3 colour play 4 streams 800 Mb/s at peak 100%",
            "40 edit seats play 2 streams 220 Mb/s at peak 100%",
            "6 edit seats play 3 streams 800 Mb/s at peak 100%, 2 render nodes 300 MB/s at peak 100%",
        ):
            bundle = plan(line, **disks)
            shared = share_out(bundle, "all")
            drawn = drawn_day(bundle)
            for answer in shared.seats:
                lanes = [
                    lane
                    for own, lane in zip(drawn.day.seats, drawn.seats, strict=True)
                    if own.id == answer.id
                ]
                for lane in lanes:
                    self.assertAlmostEqual(lane.asked_bytes_per_s[0] / answer.needed_bytes_per_s, 1)
                    self.assertAlmostEqual(
                        lane.got_bytes_per_s[0] / answer.delivered_bytes_per_s, 1, places=6
                    )
                short += answer.delivered_bytes_per_s < answer.needed_bytes_per_s
            used = {hop.id: hop.used for hop in shared.hops}
            for hop in drawn.hops:
                self.assertAlmostEqual(hop.used[0], used[hop.id], places=3)
        self.assertGreater(short, 2)

    def test_what_would_have_helped_is_the_same_day_with_it(self) -> None:
        bundle = demo("halyard-street")
        [best, *_] = helped(bundle)
        after = bundle_from(apply_patch(bundle.document(), best.patch))
        self.assertAlmostEqual(rehearse(after).unwatchable_s, best.unwatchable_s, delta=1)
        for each in helped(bundle):
            self.assertLess(each.unwatchable_s, rehearse(bundle).unwatchable_s)
        self.assertEqual(helped(demo("tern-and-tide")), ())


class ManyDays(unittest.TestCase):
    def test_a_seed_draws_the_same_days_and_any_of_them_alone(self) -> None:
        one, again = (rehearse_days(demo("one-box"), 12, 5) for _ in range(2))
        self.assertEqual(one, again)
        self.assertNotEqual(one.unwatchable_p95_s, rehearse_days(demo("one-box"), 12, 6).unwatchable_p95_s)
        self.assertLessEqual(one.unwatchable_p50_s.value, one.unwatchable_p95_s.value)
        self.assertEqual({s.id for s in one.seats}, {s.id for s in rehearse(demo("one-box")).seats})
        cut = rehearse_days(demo("one-box"), 12, 5, goes_on=lambda: False)
        self.assertEqual(cut.days, 1)
        for days in (0, 2_001):
            self.assertRaisesRegex(Refused, "from 1 to 2000", rehearse_days, demo("one-box"), days, 1)

    def test_seats_are_at_their_peak_for_their_odds_on_average(self) -> None:
        bundle = plan("20 edit seats play 1 streams 220 Mb/s at peak 30%")
        calm = changed(bundle, plan__brief__common_peak_probability=0)
        days = [rehearse(calm, seed=n) for n in range(40)]
        mean = sum(s.at_peak_s for day in days for s in day.seats) / (40 * 20 * 8 * HOUR)
        self.assertAlmostEqual(mean, 0.3, delta=0.02)
        rushed = changed(bundle, plan__brief__common_peak_probability=1)
        [first, *_] = rushed.plan.brief.seats
        [hours] = {len(rehearse(rushed, seed=1).seats)}
        days = [rehearse(rushed, seed=n) for n in range(20)]
        mean = sum(s.at_peak_s for day in days for s in day.seats) / (20 * first.count * 8 * HOUR)
        self.assertEqual(hours, first.count)
        self.assertAlmostEqual(mean, rushed.house_rules.rush_odds, delta=0.03)

    @given(st.lists(st.floats(0, 1e5), min_size=1, max_size=300), st.sampled_from([0.5, 0.95]))
    def test_a_quantile_lies_in_its_interval(self, values: list[float], level: float) -> None:
        answer = quantile(values, level)
        self.assertTrue(answer.low <= answer.value <= answer.high)
        self.assertLessEqual(sum(v < answer.value for v in values), level * len(values) + 1)

    def test_the_interval_covers_as_often_as_it_says(self) -> None:
        import random

        draw = random.Random(7)
        covered = 0
        for _ in range(400):
            answer = quantile([draw.random() for _ in range(200)], 0.95)
            covered += answer.low <= 0.95 <= answer.high
        self.assertGreater(covered / 400, 0.92)


class AnyPlan(unittest.TestCase):
    @drawn(40)
    @given(st.integers(0, 5_000), st.sampled_from([None, 3]))
    def test_bytes_are_kept_and_nobody_stands_longer_than_he_works(
        self, seed: int, drawn: int | None
    ) -> None:
        bundle = random_plan(seed)
        assume(bundle.plan.pools)
        day = rehearse(bundle, seed=drawn)
        moved = sum(job.bytes for job in day.jobs) + 1
        self.assertLess(day.conservation_error_bytes, max(1e-6 * moved, 1e5))
        for each in day.seats:
            self.assertLessEqual(each.frozen_s, each.unwatchable_s + 1e-3)
            self.assertLessEqual(each.unwatchable_s, each.at_peak_s + 1)
        for cache in day.caches:
            self.assertLessEqual(cache.dirty_bytes_max, cache.holds_bytes * (1 + 1e-9))

    def test_whatever_it_says_a_plan_is_rehearsed_or_refused(self) -> None:
        answer = 0
        for seed in range(14):
            bundle = WorstPlans(seed).bundle()
            if bundle is None or not bundle.plan.pools:
                continue
            with suppress(Refused):
                day = drawn_day(bundle, dies(bundle.plan.pools[0].id, HOUR))
                self.assertNotIn("NaN", day.model_dump_json())
                answer += 1
        self.assertGreater(answer, 2)

    def test_the_demos_are_rehearsed_and_a_wider_house_stands_no_longer(self) -> None:
        for name in DEMOS:
            self.assertLess(rehearse(demo(name)).conservation_error_bytes, 1e3, name)
        wider = changed(
            demo("one-box"),
            plan__pools__main__drive_read_bytes_per_s=900e6,
            plan__pools__main__drive_write_bytes_per_s=900e6,
        )
        self.assertLess(rehearse(wider).unwatchable_s, rehearse(demo("one-box")).unwatchable_s)
