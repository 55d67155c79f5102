"""Several pools and tiers, layouts compared, rebuild times: by hand, by law, and findings with what clears them."""

import math
import unittest
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.asks.compare import compare_layouts
from larder.asks.workings import figures_in
from larder.base.errors import Refused, RefusedMany
from larder.base.patch import apply_patch
from larder.base.units import GB, TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.tests.plans import changed, cleared, copied, demo, ids, mended, raised, stocked


def with_flash(**fields: Any) -> Bundle:
    """The demo with its pool as the archive and a flash pool for work beside it."""
    document = demo("one-box").document()
    flash = {
        "id": "flash", "name": "Work flash", "tier": "work", "drive_count": 6, "drive_bytes": 4 * TB,
        "drive_kind": "ssd", "drive_read_bytes_per_s": 520e6, "drive_write_bytes_per_s": 480e6, "layout": "raid5",
    }  # fmt: skip
    document["plan"]["pools"][0]["tier"] = "archive"
    document["plan"]["pools"].insert(0, flash | fields)
    return bundle_from(document)


NIGHT_BOX = {"id": "night-box", "name": "Night box", "kind": "a box", "access": "online"}
NIGHTLY = {
    "id": "nightly",
    "name": "Nightly",
    "material_ids": "hot archive exports settings",
    "to": "store:night-box",
}


class Tiers(unittest.TestCase):
    def test_work_and_archive_each_carry_their_own_load(self) -> None:
        answer = evaluate(with_flash())
        flash, archive = (next(h for h in answer.wiring.hops if h.id == i) for i in ("flash", "main"))
        # Reading costs what reading takes: only the archive's load is of one kind, and so bytes alone.
        # A tenth of what five editors play comes from the archive; in a rush at 0.9 all five ask at once.
        self.assertAlmostEqual(archive.required_bytes_per_s, 5 * 27.5e6 * 0.1, delta=1)
        self.assertGreater(flash.required_bytes_per_s, archive.required_bytes_per_s)

    def test_one_pool_carries_everything_whatever_it_is_said_to_hold(self) -> None:
        as_work, as_archive = (
            next(
                h
                for h in evaluate(changed(demo("one-box"), plan__pools__main__tier=tier)).wiring.hops
                if h.id == "main"
            )
            for tier in ("work", "archive")
        )
        self.assertEqual(as_work, as_archive)

    def test_pools_of_one_tier_are_drawn_by_what_they_hold_and_no_stream_is_split(self) -> None:
        one, two = (evaluate(b) for b in (demo("one-box"), with_flash(tier="archive")))
        alone = next(h for h in one.wiring.hops if h.id == "main")
        beside = next(h for h in two.wiring.hops if h.id == "main")
        self.assertLessEqual(beside.required_bytes_per_s, alone.required_bytes_per_s)
        heaviest = max(s.read_bytes_per_s for s in one.brief.seats)
        self.assertGreaterEqual(beside.required_bytes_per_s * (1 + 1e-9), heaviest * 0.5)

    @given(st.integers(3, 30), st.integers(1, 30))
    def test_space_is_conserved_over_all_pools(self, flash: int, size: int) -> None:
        answer = evaluate(with_flash(drive_count=flash, drive_bytes=size * TB))
        self.assertEqual(answer.tiers.plannable_bytes, sum(p.plannable_bytes for p in answer.tiers.pools))
        for each in (answer.tiers, *answer.tiers.pools):
            self.assertEqual(each.plannable_bytes, sum(step.bytes for step in each.waterfall))
        whole = [sum(p.waterfall[n].bytes for p in answer.tiers.pools) for n in range(9)]
        self.assertEqual([step.bytes for step in answer.tiers.waterfall], whole)

    def test_the_working_of_space_names_what_decides(self) -> None:
        bundle = with_flash(drive_count=3, drive_bytes=2 * TB)
        answer = evaluate(bundle)
        space = next(figure for figure in figures_in(answer) if figure.id == "scales.space")
        terms = space.terms(bundle, answer)
        assert terms is not None
        self.assertEqual(
            [t.label for t in terms.of],
            [
                "Plannable ÷ needed",
                "Plannable for work ÷ hot at once",
                "Plannable in the archive ÷ kept and not hot",
            ],
        )
        self.assertEqual(answer.scales.space.ratio, min(t.value for t in terms.of))
        self.assertEqual(answer.scales.space.ratio, terms.of[1].value)

    def test_measured_figures_replace_the_assumptions(self) -> None:
        before = evaluate(demo("one-box")).tiers.pools[0]
        measured = changed(
            demo("one-box"), plan__pools__main__scaling_exponent=0.5, plan__pools__main__filesystem_percent=10
        )
        after = evaluate(measured).tiers.pools[0]
        # What is measured stands three times; how far streams read ahead is still a range.
        self.assertLess(after.read.low_bytes_per_s, after.read.high_bytes_per_s)
        self.assertEqual((before.read_terms.exponent, after.read_terms.exponent), (0.9, 0.5))
        answer = after.read_terms
        each = answer.drive_bytes_per_s * answer.fill_share
        self.assertAlmostEqual(answer.drives_bytes_per_s / (each * 7**0.5 * answer.pull_share), 1)
        self.assertEqual(after.usable_bytes, after.layout_bytes * 9 // 10 * 98 // 100)

    def test_a_drive_that_is_read_by_the_head_alone_seeks_less(self) -> None:
        def read(**fields: float) -> float:
            bundle = stocked({"drive_id": "disk-16-array"})
            paths = {f"catalogue__drives__disk-16-array__{name}": value for name, value in fields.items()}
            return evaluate(changed(bundle, **paths)).tiers.pools[0].read.middle_bytes_per_s

        self.assertEqual(read(), read(inner_ratio=0.5, seek_ms=8, turn_ms=8.33))
        self.assertGreater(read(seek_ms=4), read())
        self.assertGreater(read(inner_ratio=0.6), read())

    def test_flash_writes_fast_until_its_fast_region_is_full(self) -> None:
        flash = {"drive_id": "flash-2-nvme", "drive_kind": "ssd", "drive_bytes": 2 * TB, "bays": "",
                 "drive_write_bytes_per_s": 1.1e9, "layout": "raid5"}  # fmt: skip
        pool = evaluate(stocked(flash, boxes=[])).tiers.pools[0]
        assert pool.fast_write is not None
        self.assertAlmostEqual(pool.fast_write.middle_bytes_per_s / pool.write.middle_bytes_per_s, 4.6 / 1.1)
        # Nine regions of 180 GB, of which one part in nine goes to parity.
        self.assertEqual(pool.fast_write_bytes, 8 * 180 * GB)
        self.assertIsNone(evaluate(demo("one-box")).tiers.pools[0].fast_write)


class SharedSpares(unittest.TestCase):
    def two(self, **second: Any) -> Bundle:
        """The demo's pool with a spare, and another that shares it."""
        document = demo("one-box").document()
        first = document["plan"]["pools"][0]
        other = first | {"id": "second", "name": "Second pool", "bays": "", "spares_of": "main"}
        document["plan"]["pools"] = [first | {"spares": 1}, other | second]
        return bundle_from(document)

    def test_a_shared_spare_counts_for_both_and_is_bought_once(self) -> None:
        first, second = evaluate(self.two()).tiers.pools
        self.assertEqual(
            (first.spares, first.shared_spares, second.spares, second.shared_spares), (1, 0, 0, 1)
        )
        self.assertEqual((first.members, second.members), (8, 9))

    def test_a_spare_that_cannot_stand_in_is_refused_with_what_could(self) -> None:
        for fields, words in (
            ({"drive_bytes": 16 * TB}, "at least 16 TB"),
            ({"spares_of": "second"}, "another pool with hot spares of its kind (main)"),
            ({"drive_kind": "ssd"}, "there is none yet: give one a hot spare first"),
        ):
            with self.assertRaises(RefusedMany) as caught:
                self.two(**fields)
            self.assertIn(words, str(caught.exception.problems[0]))

    def test_the_large_demo_is_as_large_as_it_says(self) -> None:
        answer = evaluate(demo("long-shore"))
        self.assertEqual(sum(seat.count for seat in answer.brief.seats), 40)
        self.assertEqual(
            (len(answer.tiers.pools), sum(len(p.drives_bytes) for p in answer.tiers.pools)), (6, 120)
        )
        self.assertEqual(answer.tiers.raw_bytes, 24 * 8 * TB + 96 * 20 * TB)

    def test_as_many_pools_as_fit_and_not_one_more(self) -> None:
        document = demo("one-box").document()
        pool = document["plan"]["pools"][0]
        document["plan"]["pools"] = [pool | {"id": f"p{n}", "bays": ""} for n in range(24)]
        self.assertEqual(len(evaluate(bundle_from(document)).tiers.pools), 24)
        document["plan"]["pools"].append(pool | {"bays": ""})
        self.assertRaises(RefusedMany, bundle_from, document)


class Compare(unittest.TestCase):
    def test_every_row_is_what_the_plan_says_with_that_layout(self) -> None:
        bundle = demo("one-box")
        rows = compare_layouts(bundle, "main")
        self.assertEqual(len(rows), 17)
        self.assertEqual([r.layout for r in rows if r.is_current], ["raid6"])
        for row in rows:
            if row.why_not:
                self.assertIn(row.layout, ("raid10", "raid60:2", "raid50:2"))
                continue
            pool = evaluate(bundle_from(apply_patch(bundle.document(), row.patch))).tiers.pools[0]
            self.assertEqual(row.plannable_bytes, pool.plannable_bytes)
            self.assertEqual(row.read_bytes_per_s, pool.read.middle_bytes_per_s)
            self.assertEqual(
                (row.guaranteed_failures, row.max_failures), (pool.guaranteed_failures, pool.max_failures)
            )
            assert row.plannable_bytes and row.price_per_plannable_tb
            self.assertAlmostEqual(
                row.price_per_plannable_tb, 9 * 268 * TB / Decimal(row.plannable_bytes), places=2
            )

    def test_larger_parity_drives_of_whole_files_stand_in_no_other_layouts_way(self) -> None:
        whole = {"layout": "filewise1", "parity_bytes": 20 * TB, "bays": ""}
        bundle = stocked(whole, boxes=[])
        rows = {r.layout: r for r in compare_layouts(bundle, "main")}
        self.assertEqual(rows["raid6"].why_not, "")
        after = evaluate(bundle_from(apply_patch(bundle.document(), rows["raid6"].patch))).tiers.pools[0]
        self.assertEqual(
            (after.plannable_bytes, after.raw_bytes), (rows["raid6"].plannable_bytes, 9 * 16 * TB)
        )
        self.assertEqual(rows["filewise2"].why_not, "")

    def test_groups_are_those_that_the_drives_allow(self) -> None:
        rows = compare_layouts(changed(demo("one-box"), plan__pools__main__drive_count=12), "main")
        grouped = {r.layout: r.why_not for r in rows if ":" in r.layout}
        self.assertEqual(grouped, {"raid50:2": "", "raid60:2": ""})
        nine = {r.layout for r in compare_layouts(demo("one-box"), "main") if not r.why_not}
        self.assertIn("raid50:3", nine)

    def test_a_pool_offers_the_layouts_that_are_compared_its_own_groups_among_them(self) -> None:
        for layout, drives in (("raid6", 9), ("raid50:3", 9), ("raid60:2", 12), ("span", 1)):
            bundle = changed(
                demo("one-box"), plan__pools__main__layout=layout, plan__pools__main__drive_count=drives
            )
            offered = evaluate(bundle).tiers.pools[0].layouts_offered
            compared = compare_layouts(bundle, "main")
            self.assertEqual([(o.layout, o.words) for o in offered], [(c.layout, c.words) for c in compared])
            self.assertIn(layout, {o.layout for o in offered})

    def test_a_pool_that_is_not_there_is_refused_with_those_that_are(self) -> None:
        with self.assertRaises(Refused) as caught:
            compare_layouts(demo("one-box"), "attic")
        self.assertIn("(main)", caught.exception.sentence)


class TierFindings(unittest.TestCase):
    def title(self, bundle: Bundle, finding_id: str) -> str:
        return next(f.title for f in evaluate(bundle).findings if f.id == finding_id)

    def test_hot_tier_smaller_than_the_working_set(self) -> None:
        small = with_flash(drive_count=3, drive_bytes=2 * TB)
        evidence = cleared(self, small, "hot-tier-smaller-than-the-working-set")
        answer = evaluate(small)
        self.assertEqual(evidence["Plannable for work"], answer.tiers.pools[0].plannable_bytes)
        self.assertEqual(
            (answer.scales.space.verdict, answer.scales.space.need),
            ("short", evidence["Hot at once, with copies there"]),
        )
        self.assertNotIn("hot-tier-smaller-than-the-working-set", ids(evaluate(demo("one-box"))))

    def test_archive_smaller_than_what_is_kept_in_it(self) -> None:
        # 44 TB of flash hold everything, and yet 35 TB are done with and have 1.6 TB to retire to.
        document = with_flash(drive_count=14, drive_bytes=4 * TB, layout="raid6").document()
        document["plan"]["pools"][1] |= {"drive_count": 4, "drive_bytes": TB, "spares": 0, "bays": ""}
        brief = document["plan"]["brief"]
        brief |= {
            "shoots": [brief["shoots"][0] | {"hours_per_week": 0.1}],
            "productions": [],
            "stills_bytes_per_week": 0,
            "exports_bytes_per_week": 0,
        }
        brief |= {"kept_today_bytes": 35 * TB, "services": []}
        bundle = bundle_from(document)
        evidence = cleared(self, bundle, "archive-smaller-than-what-is-kept-in-it")
        space = evaluate(bundle).scales.space
        self.assertEqual(
            (space.verdict, space.need), ("short", evidence["Kept and not hot, with copies there"])
        )
        self.assertEqual(space.have, evidence["Plannable in the archive"])
        self.assertGreater(evaluate(bundle).tiers.plannable_bytes, space.need)
        # One pool for both is judged as a whole: there is no archive to be too small.
        one = changed(bundle, plan__pools__main__tier="work")
        self.assertNotIn("archive-smaller-than-what-is-kept-in-it", ids(evaluate(one)))

    @given(st.integers(1, 40))
    def test_the_remedy_of_a_full_pool_makes_no_group_that_the_house_forbids(self, kept_tb: int) -> None:
        document = demo("one-box").document()
        document["plan"]["pools"][0] |= {
            "layout": "raid5", "drive_count": 3, "drive_bytes": 20 * TB, "spares": 0, "bays": "", "drive_id": "",
        }  # fmt: skip
        document["plan"]["boxes"] = []
        document["plan"]["brief"]["kept_today_bytes"] = kept_tb * 10 * TB
        bundle = bundle_from(document)
        finding = raised(self, bundle, "pool-past-its-fill-limit")
        after = mended(self, bundle, finding)
        risky = "single-parity-where-rebuild-exposure-exceeds-the-house-rule"
        self.assertNotIn(risky, ids(after))
        self.assertNotIn("pool-past-its-fill-limit", ids(after))
        self.assertIn("double parity", finding.remedy.words)

    def test_what_any_one_death_ends_says_so(self) -> None:
        base = changed(demo("one-box"), plan__pools__main__bays="")
        for layout, drives in (("span", 3), ("span", 2), ("stripe", 4)):
            bundle = changed(
                copied(base, NIGHTLY, stores=(NIGHT_BOX,)),
                plan__pools__main__layout=layout,
                plan__pools__main__drive_count=drives,
            )
            self.assertEqual(cleared(self, bundle, "no-redundancy")["Lost with any one of"], drives)
        alone = changed(base, plan__pools__main__layout="span", plan__pools__main__drive_count=1)
        self.assertIn("no-redundancy", ids(evaluate(alone)))
        self.assertNotIn("no-redundancy", ids(evaluate(base)))

    def test_single_parity_where_rebuild_exposure_exceeds_the_house_rule(self) -> None:
        bundle = changed(demo("one-box"), plan__pools__main__layout="raid5")
        evidence = cleared(self, bundle, "single-parity-where-rebuild-exposure-exceeds-the-house-rule")
        self.assertAlmostEqual(evidence["To rebuild a drive"], 14e12 / (240e6 * 0.75 * 0.3) / 3600, delta=0.1)
        name = "single-parity-where-rebuild-exposure-exceeds-the-house-rule"
        # Eight survivors are read whole; what goes bad unseen waits half a month on average.
        scrubbed = -math.expm1(-0.02 * 8 * 14 * 30 / 365.25 / 2)
        self.assertAlmostEqual(evidence["Odds of an unreadable sector in it"], scrubbed)
        patient = changed(
            bundle,
            house_rules__single_parity_rebuild_hours_max=80,
            house_rules__single_parity_unreadable_percent_max=8,
        )
        self.assertIn("a sector that cannot be read", self.title(patient, name))
        self.assertAlmostEqual(
            evidence["By data sheets, at most"], -math.expm1(8 * 8 * 14e12 * math.log1p(-1e-15))
        )
        bold = changed(patient, house_rules__single_parity_unreadable_percent_max=10)
        self.assertNotIn(name, ids(evaluate(bold)))
        for worse in ({"plan__pools__main__bays": "boathouse:1-12"}, {"house_rules__scrub_every_days": 60}):
            self.assertIn(name, ids(evaluate(changed(bold, **worse))))
        # However seldom it is scrubbed, it is never worse than data sheets say.
        never = evaluate(changed(bundle, house_rules__scrub_every_days=3650)).tiers.pools[0]
        self.assertEqual(never.unreadable_odds, never.unreadable_sheet_odds)

    def test_mixed_sizes_wasting_space(self) -> None:
        bundle = changed(demo("one-box"), plan__pools__main__mixed_sizes="4TB+4x8TB")
        evidence = cleared(self, bundle, "mixed-sizes-wasting-space")
        self.assertEqual(evidence, {"Left idle": 16 * TB, "Of the cartons": 36 * TB})
        # One large drive alone is idle under any layout with parity: no button that would not mend it.
        alone = changed(bundle, plan__pools__main__mixed_sizes="4TB+2x8TB+14TB")
        finding = next(f for f in evaluate(alone).findings if f.id == "mixed-sizes-wasting-space")
        self.assertEqual(finding.remedy.patch, ())
