"""When it is full: the brief's need as the middle, readings, calendars that go on, and what purchases add."""

import unittest
from datetime import date, timedelta
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from larder.base.units import TB
from larder.judge.evaluation import Evaluation, evaluate
from larder.plan.bundle import Bundle
from larder.plan.growth import Step, Way
from larder.plan.pools import Pool
from larder.readers.plan_file import bundle_from
from larder.stages.courses import COURSES, Course, Tide, TierName
from larder.stages.grown_pool import grown_by, plannable_of
from larder.stages.growth import TierGrowth
from larder.stages.rates import RATES
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.drawn import drawn
from larder.tests.plans import changed, demo

SURE = {"house_rules__brief_spread_percent": 1, "house_rules__week_spread_percent": 1}


def course(bundle: Bundle, tier: TierName) -> Course:
    return next(c for c in judge(bundle, PARTS).of(COURSES) if c.tier == tier)


def tier_of(evaluation: Evaluation, tier: str = "all") -> TierGrowth:
    return next(t for t in evaluation.growth.tiers if t.id == tier)


def read(bundle: Bundle, readings: list[tuple[date, float]], **changes: Any) -> Bundle:
    """The bundle with readings, TB, of its first pool."""
    document = changed(bundle, **changes).document()
    pool = bundle.plan.pools[0].id
    document["plan"]["growth"] = {
        "readings": [
            {"id": f"r{n}", "pool_id": pool, "read_on": on.isoformat(), "used_bytes": round(tb * TB)}
            for n, (on, tb) in enumerate(readings)
        ]
    }
    return bundle_from(document)


def steady(**brief: Any) -> Bundle:
    """The plan of two who photograph: 68 GB a week, 4.6 TB today, one pool; without its readings."""
    document = demo("halyard-street").document()
    document["plan"]["growth"] = {}
    document["plan"]["brief"] |= brief
    return bundle_from(document)


class Expected(unittest.TestCase):
    def test_until_the_horizon_it_is_the_need_of_the_brief(self) -> None:
        for name in ("one-box", "tern-and-tide", "halyard-street"):
            bundle = demo(name)
            need = evaluate(bundle).brief
            until = (bundle.plan.brief.horizon_date - bundle.as_of).days
            all_of_it = sum(p.bytes for p in need.need_parts)
            if len({p.tier for p in bundle.plan.pools}) > 1:
                cold = course(bundle, "archive")
                at = float(np.interp(until, cold.days, cold.expected))
                self.assertAlmostEqual(at / (need.cold_bytes + need.copied_archive_bytes), 1.0, delta=0.02)
                work = course(bundle, "work")
                most = float(work.expected[work.days <= until].max())
                self.assertLessEqual(most, need.working_set_bytes * 1.001)
                self.assertGreater(most, need.working_set_bytes * 0.85)
            else:
                whole = course(bundle, "all")
                at = float(np.interp(until, whole.days, whole.expected))
                self.assertAlmostEqual(at / all_of_it, 1.0, delta=0.02, msg=name)

    def test_more_every_year_is_the_integral_in_need_and_forecast_alike(self) -> None:
        bundle = steady(growth_percent_per_year=40)
        need = evaluate(bundle).brief
        plain = evaluate(steady()).brief
        years = plain.weeks * 7 / 365.25
        ratio = (1.4**years - 1) / np.log(1.4) / years
        growth = need.need_bytes - 4.6 * TB
        self.assertAlmostEqual(growth / (plain.need_bytes - 4.6 * TB), ratio, places=6)
        whole = course(bundle, "all")
        until = (bundle.plan.brief.horizon_date - bundle.as_of).days
        self.assertAlmostEqual(
            np.interp(until, whole.days, whole.expected) / need.need_bytes, 1.0, delta=0.002
        )
        self.assertAlmostEqual(need.growth_bytes_per_week / plain.growth_bytes_per_week, ratio, places=5)

    def test_productions_come_again_by_the_year_where_the_plan_says_so(self) -> None:
        bundle = demo("tern-and-tide")
        again, once = (
            course(changed(bundle, plan__growth__calendar_repeats=on), "archive") for on in (True, False)
        )
        horizon = (bundle.plan.brief.horizon_date - bundle.as_of).days
        before = again.days <= horizon
        np.testing.assert_allclose(again.expected[before], once.expected[before])
        # After it a calendar of a year brings the same every year.
        yearly = np.interp(horizon + 365.25 * np.arange(1, 3), again.days, again.expected)
        plain = np.interp(horizon + 365.25 * np.arange(1, 3), once.days, once.expected)
        self.assertGreater(yearly[1] - yearly[0], (plain[1] - plain[0]) * 1.3)

    def test_copies_in_a_tier_grow_and_vary_with_what_they_are_of(self) -> None:
        bundle = changed(demo("tern-and-tide"), house_rules__week_spread_percent=300)
        document = bundle.document()
        document["plan"]["safekeeping"]["copies"] = []
        bare = course(bundle_from(document), "archive")
        answer = course(bundle, "archive")
        at = [float(np.interp(490, c.days, c.expected)) for c in (answer, bare)]
        copied = evaluate(bundle).brief.copied_archive_bytes
        self.assertAlmostEqual((at[0] - at[1]) / copied, 1.0, delta=0.02)
        width = [float(np.interp(490, c.days, c.band[2] - c.band[0])) for c in (answer, bare)]
        kept = sum(
            p.bytes for p in evaluate(bundle_from(document)).brief.need_parts if "services" not in p.step
        )
        self.assertAlmostEqual(width[0] / width[1], 1 + copied / kept, delta=0.03)

    def test_the_tier_that_is_full_first_is_named(self) -> None:
        answer = evaluate(demo("tern-and-tide")).growth
        self.assertEqual(
            (answer.first, answer.sentence),
            ("archive", tier_of(evaluate(demo("tern-and-tide")), "archive").sentence),
        )
        # Where services keep much, the whole is full long before either tier.
        crowded = changed(demo("tern-and-tide"), plan__brief__services__backups__kept_bytes=4 * TB)
        self.assertEqual(evaluate(crowded).growth.first, "all")

    def test_beside_two_tiers_what_services_keep_has_to_fit_into_all_of_it(self) -> None:
        bundle = demo("tern-and-tide")
        evaluation = evaluate(bundle)
        together = tier_of(evaluation, "all")
        self.assertEqual(together.plannable_bytes, evaluation.tiers.plannable_bytes)
        lone = course(bundle, "all").expected - course(bundle, "work").expected
        services = 9 * 300_000_000_000 + 300_000_000_000
        np.testing.assert_allclose(lone - course(bundle, "archive").expected, services, rtol=1e-6)
        # A purchase for the archive serves the whole as well, and is made once.
        steps = [tier_of(evaluation, tier).steps for tier in ("archive", "all")]
        self.assertEqual(*steps)
        document = bundle.document()
        document["plan"]["brief"] |= {"services": [], "other_services_bytes": 0}
        self.assertEqual([t.id for t in evaluate(bundle_from(document)).growth.tiers], ["work", "archive"])

    def test_the_day_it_is_full_is_that_of_the_closed_form(self) -> None:
        bundle = changed(steady(), **SURE)
        tier = tier_of(evaluate(bundle))
        weeks = (plannable_of(bundle.plan.pools[0]) - 4.6 * TB) / 68e9
        full = bundle.as_of + timedelta(days=weeks * 7)
        assert tier.full_on and tier.full_early_on and tier.full_late_on and tier.order_by
        self.assertLess(abs((tier.full_on - full).days), 4)
        self.assertLess((tier.full_late_on - tier.full_early_on).days, 60)
        self.assertEqual(tier.order_by, tier.full_early_on - timedelta(days=tier.lead_days))

    def test_at_both_ends(self) -> None:
        empty = evaluate(changed(steady(stills_bytes_per_week=0, exports_bytes_per_week=0)))
        self.assertIsNone(tier_of(empty).full_on)
        self.assertIn("does not fill", tier_of(empty).sentence)
        full = tier_of(evaluate(steady(kept_today_bytes=30 * TB)))
        self.assertEqual((full.full_on, full.is_late), (demo("halyard-street").as_of, True))
        self.assertIn("full now", full.sentence)
        none = demo("halyard-street").document()
        none["plan"] |= {"pools": [], "growth": {}, "volumes": [], "wiring": {}}
        self.assertEqual(evaluate(bundle_from(none)).growth.tiers, ())

    @given(st.integers(2, 40), st.integers(1, 20))
    @drawn(15)
    def test_more_capacity_never_fills_sooner(self, tb: int, more: int) -> None:
        days = []
        for size in (tb, tb + more):
            path = {"plan__pools__main__drive_bytes": size * TB}
            days.append(tier_of(evaluate(changed(steady(), **path))).full_early_on or date.max)
        self.assertLessEqual(*days)


class Read(unittest.TestCase):
    def weekly(self, gb: float, count: int = 8, until: date | None = None) -> list[tuple[date, float]]:
        last = until or steady().as_of
        return [(last - timedelta(weeks=4 * n), 4.6 - gb * 4 * n / 1000) for n in range(count)][::-1]

    def test_readings_that_agree_leave_the_brief_and_narrow_the_band(self) -> None:
        alone, answer = tier_of(evaluate(steady())), tier_of(evaluate(read(steady(), self.weekly(68))))
        self.assertTrue(answer.fits_brief)
        self.assertIn("agree with the brief", answer.sentence)
        width = [(t.full_late_on or date.max) - (t.full_early_on or date.min) for t in (alone, answer)]
        self.assertLess(width[1], width[0] / 1.5)

    def test_readings_that_grow_faster_bring_the_day_nearer_and_count_for_space(self) -> None:
        bundle = read(steady(), self.weekly(150))
        answer, before = evaluate(bundle), evaluate(steady())
        tier = tier_of(answer)
        self.assertGreater(tier.level_low, 1.2)
        self.assertLess(tier.full_on or date.max, tier_of(before).full_on or date.min)
        self.assertEqual(answer.scales.space.verdict, "short")
        self.assertIn("what readings say", answer.scales.space.because)
        slow = evaluate(read(steady(), self.weekly(20)))
        # Fewer bytes than the brief says are no reason to plan with less.
        self.assertEqual(slow.scales.space.ratio, before.scales.space.ratio)

    def test_where_the_brief_brings_nothing_readings_alone_tell(self) -> None:
        nothing = steady(stills_bytes_per_week=0, exports_bytes_per_week=0)
        tier = tier_of(evaluate(read(nothing, self.weekly(100))))
        self.assertEqual(tier.follows, "readings")
        weeks = (tier.plannable_bytes - 4.6 * TB) / 100e9
        assert tier.full_on
        self.assertLess(abs((tier.full_on - nothing.as_of).days - weeks * 7), weeks)

    def test_a_calendar_that_begins_later_still_counts_beside_readings_of_quiet_weeks(self) -> None:
        quiet = demo("one-box").document()
        quiet["plan"]["brief"] |= {"shoots": [], "stills_bytes_per_week": 0, "exports_bytes_per_week": 0}
        bundle = bundle_from(quiet)
        on = [bundle.as_of - timedelta(weeks=4 * n) for n in (3, 2, 1, 0)]
        answer = course(read(bundle, list(zip(on, (22.0, 22.1, 22.2, 22.3), strict=True))), "all")
        alone = course(bundle, "all")
        grown = [float(np.interp(400, c.days, c.band[1]) - c.band[1][0]) for c in (answer, alone)]
        self.assertEqual(answer.follows, "both")
        self.assertAlmostEqual(grown[0] / grown[1], 1.0, delta=0.05)
        widths = [float(np.interp(400, c.days, c.band[2] - c.band[0])) for c in (answer, alone)]
        self.assertAlmostEqual(widths[0] / widths[1], 1.0, delta=0.1)

    def test_one_reading_says_what_is_there(self) -> None:
        tier = tier_of(evaluate(read(steady(), [(steady().as_of, 7.5)])))
        self.assertEqual(tier.used_bytes, 7_500_000_000_000)

    def test_what_is_read_of_a_tier_for_work_goes_as_what_is_hot_goes(self) -> None:
        document = changed(demo("tern-and-tide"), **SURE).document()
        day = demo("tern-and-tide").as_of
        document["plan"]["growth"] = {
            "readings": [{"id": "r", "pool_id": "hot", "read_on": day.isoformat(), "used_bytes": 9 * TB}]
        }
        answer, alone = (
            course(bundle_from(document), "work"),
            course(changed(demo("tern-and-tide"), **SURE), "work"),
        )
        self.assertEqual(answer.today_bytes, 9 * TB)
        # What nobody expected there has cooled once the hot weeks are over; from then on it is the brief's.
        later = answer.days > demo("tern-and-tide").plan.brief.hot_weeks * 7
        np.testing.assert_allclose(answer.band[1][later], alone.band[1][later], rtol=0.02)
        self.assertGreater(answer.band[1][0], alone.band[1][0] + 8 * TB)

    def test_each_weeks_intake_lies_where_what_is_hot_and_what_is_kept_lie(self) -> None:
        bundle = demo("tern-and-tide")
        rates = judge(bundle, PARTS).of(RATES)
        tide = Tide(bundle.plan.brief, rates, bundle.as_of, 0.0, repeats=True)
        days = [bundle.as_of + timedelta(weeks=n) for n in range(60)]
        weekly = {
            tier: tide.weekly(tier, bundle.as_of, 60, days).sum(axis=0) for tier in ("work", "archive", "all")
        }
        np.testing.assert_allclose(weekly["work"] + weekly["archive"], weekly["all"])
        versions = sum(p.versions * p.version_bytes for p in bundle.plan.brief.productions)
        np.testing.assert_allclose(weekly["work"], tide.ahead("work", days), atol=versions + 1e9)
        hot = steady(hot_weeks=3)
        tide = Tide(hot.plan.brief, judge(hot, PARTS).of(RATES), hot.as_of, 0.0, repeats=True)
        np.testing.assert_allclose(
            tide.weekly("work", hot.as_of, 9, days[:9]).sum(axis=0), tide.ahead("work", days[:9]), rtol=1e-9
        )

    def test_a_tier_of_two_pools_counts_days_on_which_both_were_read(self) -> None:
        document = demo("one-box").document()
        pool = document["plan"]["pools"][0]
        document["plan"]["pools"].append(pool | {"id": "second", "name": "Second", "bays": ""})
        day = demo("one-box").as_of
        document["plan"]["growth"] = {
            "readings": [
                {"id": f"{pool_id}-{n}", "pool_id": pool_id, "read_on": (day - timedelta(weeks=n)).isoformat(),
                 "used_bytes": 10 * TB - n * TB}
                for n in range(3)
                for pool_id in ("main", "second")
                if (n, pool_id) != (1, "second")
            ]
        }  # fmt: skip
        tier = tier_of(evaluate(bundle_from(document)))
        self.assertEqual([r.used_bytes for r in tier.read], [16 * TB, 20 * TB])
        self.assertEqual(tier.skipped_readings, 1)

    def test_the_truth_lies_within_the_band_eight_times_in_ten(self) -> None:
        random, within = np.random.default_rng(7), 0
        base = steady()
        for _ in range(60):
            level, spread = random.normal(1, 0.195), 0.5 * 2 ** random.normal(0, 0.7)
            weeks = 68e9 * (level + spread * random.standard_normal(24 + 52)) / TB
            on = [base.as_of - timedelta(weeks=4 * n) for n in range(6, -1, -1)]
            used = [4.6 - float(weeks[: 4 * n].sum()) for n in range(6, -1, -1)]
            found = course(read(base, list(zip(on, np.maximum(used, 0.0).tolist(), strict=True))), "all")
            low, _, high = found.band
            truth = 4.6 + float(weeks[24:].sum())
            edges = [float(np.interp(364, found.days, edge)) / TB for edge in (low, high)]
            within += edges[0] <= truth <= edges[1]
        self.assertAlmostEqual(within / 60, 0.8, delta=0.13)


def pool(layout: str, count: int, tb: int = 10, **fields: Any) -> Pool:
    filesystem = "cow" if layout.startswith("cow") else "none"
    values = {
        "id": "p", "name": "P", "layout": layout, "drive_count": count, "drive_bytes": tb * TB,
        "drive_read_bytes_per_s": 2e8, "drive_write_bytes_per_s": 2e8, "filesystem": filesystem,
        "headroom_percent": 0,
    }  # fmt: skip
    return Pool.model_validate(values | fields)


def step(way: Way, count: int, tb: int = 10) -> Step:
    return Step(id="s", name="S", pool_id="p", way=way, drive_count=count, drive_bytes=tb * TB)


class Steps(unittest.TestCase):
    def test_what_more_drives_add_in_each_layout(self) -> None:
        rows: tuple[tuple[str, int, int, int], ...] = (
            ("span", 3, 1, 10), ("raid5", 4, 1, 10), ("raid6", 6, 3, 30), ("triple", 6, 2, 20), ("raid10", 4, 2, 10),
            ("mirror3", 3, 3, 10), ("raid50:2", 6, 3, 20), ("raid60:2", 8, 4, 20), ("filewise1", 3, 1, 10),
            ("layered1", 3, 1, 10),
        )  # fmt: skip
        for layout, members, more, added_tb in rows:
            grown = grown_by(pool(layout, members), step("free bays", more))
            self.assertEqual((grown.why_not, grown.adds_bytes), ("", added_tb * TB), layout)

    def test_what_a_layout_does_not_allow(self) -> None:
        rows = (
            ("mirror", 2, 1, 10, "further copy"),
            ("stripe", 3, 1, 10, "made anew"),
            ("raid10", 4, 1, 10, "by 2"),
            ("raid60:2", 8, 3, 10, "group of 4"),
            ("raid6", 6, 1, 8, "smaller"),
        )
        for layout, members, more, tb, why in rows:
            grown = grown_by(pool(layout, members), step("free bays", more, tb))
            self.assertIn(why, grown.why_not, layout)
            self.assertEqual((grown.adds_bytes, grown.pool), (0, pool(layout, members)))

    def test_a_copy_on_write_pool_keeps_the_old_datas_ratio(self) -> None:
        before = pool("cow2", 6)
        one = grown_by(before, step("free bays", 1))
        whole = plannable_of(one.pool) - plannable_of(before)
        self.assertLess(one.adds_bytes, whole)
        self.assertAlmostEqual(one.adds_bytes / plannable_of(one.pool), 1 / 7, places=6)
        group = grown_by(before, step("free bays", 6))
        self.assertEqual((group.adds_bytes, group.pool), (plannable_of(before), before))

    def test_larger_drives_count_once_all_are_in_and_a_unit_is_a_pool_of_its_own(self) -> None:
        larger = grown_by(pool("raid6", 6), step("larger drives", 6, 16))
        self.assertEqual(larger.adds_bytes, 4 * 6 * TB)
        self.assertIn("no larger", grown_by(pool("raid6", 6), step("larger drives", 6, 10)).why_not)
        for way in ("expansion unit", "second box"):
            beside = grown_by(pool("raid6", 6), step(way, 5, 20))  # type: ignore[arg-type]
            self.assertEqual((beside.adds_bytes, beside.pool.drive_count), (60 * TB, 6))
        self.assertIn("4 drives or more", grown_by(pool("raid6", 6), step("expansion unit", 3)).why_not)

    def test_a_larger_drive_in_a_set_of_smaller_ones_counts_as_one_of_them(self) -> None:
        mixed = grown_by(pool("raid5", 4), step("free bays", 1, 18))
        self.assertEqual(mixed.adds_bytes, 10 * TB)
        self.assertEqual(grown_by(pool("span", 2), step("free bays", 1, 18)).adds_bytes, 18 * TB)

    def test_planned_purchases_follow_each_other_by_the_early_edge(self) -> None:
        tier = tier_of(evaluate(demo("tern-and-tide")), "archive")
        first, second = tier.steps
        assert first.order_by and first.in_use_on and second.in_use_on and tier.full_early_on
        self.assertEqual(first.in_use_on, tier.full_early_on)
        self.assertEqual(first.order_by, first.in_use_on - timedelta(days=tier.lead_days))
        self.assertGreater(second.in_use_on, first.in_use_on)
        self.assertEqual((first.sale, first.saves), ("Autumn sale 2027", first.price and first.price / 10))
        self.assertGreater(tier.grown_full_on or date.max, tier.full_on or date.min)
        points = evaluate(demo("tern-and-tide")).bands["archive"]
        levels = sorted({p.plannable_bytes for p in points})
        sums = np.cumsum([tier.plannable_bytes, first.adds_bytes, second.adds_bytes]).tolist()
        self.assertEqual(levels, sums)

    def test_what_is_needed_at_once_is_late_and_in_use_after_its_delivery(self) -> None:
        bundle = changed(demo("tern-and-tide"), plan__brief__kept_today_bytes=80 * TB)
        first = tier_of(evaluate(bundle), "archive").steps[0]
        self.assertTrue(first.is_late)
        self.assertEqual(first.in_use_on, bundle.as_of + timedelta(days=24))
