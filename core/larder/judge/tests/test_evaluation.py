"""The demo plans judged: figures by hand, findings raised and cleared, laws of nudging, workings."""

import json
import unittest
from datetime import timedelta
from typing import Any

from larder.base.errors import Refused, RefusedMany
from larder.base.patch import Operation, apply_patch
from larder.judge.evaluation import evaluate
from larder.judge.scales import Scales
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from, read_bundle
from larder.tests.plans import changed, cleared, copied, demo, ids, raised

EVERYTHING = "cards hot archive exports projects settings"
SAFE_STORES = (
    {"id": "away", "name": "Drives away", "place_id": "away"},
    {"id": "tapes", "name": "Tapes", "kind": "linear tape"},
)
SAFE_COPIES = (
    {"id": "away", "name": "Away", "material_ids": EVERYTHING, "to": "store:away"},
    {"id": "tapes", "name": "To tape", "material_ids": EVERYTHING, "to": "store:tapes"},
)


def safe(bundle: Bundle) -> Bundle:
    """The plan with three copies of everything, on two kinds of media, one of them elsewhere."""
    document = bundle.document()
    document["plan"]["safekeeping"]["places"] = [{"id": "away", "name": "Away"}]
    return copied(bundle_from(document), *SAFE_COPIES, stores=SAFE_STORES)


class Figures(unittest.TestCase):
    def setUp(self) -> None:
        self.bundle = demo("one-box")
        self.answer = evaluate(self.bundle)

    def test_the_need_is_the_sum_of_its_parts_by_hand(self) -> None:
        brief = self.bundle.plan.brief
        weeks = (brief.horizon_date - self.bundle.as_of).days / 7
        night = 4096 * 2160 * 12 / 8 / 8 * 25
        units = 3600 * (1.6 * 35e6 * 0.85 + 1.2 * 35e6 * 0.7)
        # Both productions are archived at the horizon: their previews are gone.
        nights = 3600 * night * 0.6 * 2 * (6 * 5 * 1 + 7 * 4 * 1.2)
        kept = 23e12 + 9 * 300e9 + 300e9
        need = kept + weeks * (units * 1.14 + 96e9 + 35e9) + nights * 1.04 + 5 * 180e9
        self.assertAlmostEqual(self.answer.brief.need_bytes, need, delta=10)
        self.assertEqual(self.answer.brief.need_bytes, sum(p.bytes for p in self.answer.brief.need_parts))

    def test_speed_is_the_smallest_ratio_over_all_hops(self) -> None:
        ratios = [h.ratio for h in self.answer.wiring.hops if h.ratio is not None]
        self.assertEqual(self.answer.scales.speed.ratio, min(ratios))
        self.assertEqual(self.answer.wiring.limiting_hop_id, "main")

    def test_money_is_the_sum_of_typed_prices(self) -> None:
        spent = 9 * 268 + 1890 + 640 + 8 * 118 + 12 * 14.5 + 410
        self.assertEqual(float(self.answer.money.spent), spent)
        self.assertEqual(self.answer.scales.money.verdict, "enough")
        tight = evaluate(changed(self.bundle, plan__brief__budget="7000"))
        short = evaluate(changed(self.bundle, plan__brief__budget="6000"))
        self.assertEqual((tight.scales.money.verdict, short.scales.money.verdict), ("tight", "short"))

    def test_bars_of_the_load_sum_to_one(self) -> None:
        self.assertAlmostEqual(sum(bar.probability for bar in self.answer.load_bars), 1)

    def test_an_empty_brief_is_open_and_not_a_fault(self) -> None:
        document = self.bundle.document()
        document["plan"]["brief"] |= {"seats": [], "shoots": [], "services": [], "productions": [], "kept_today_bytes": 0, "other_services_bytes": 0,
                                      "stills_bytes_per_week": 0, "exports_bytes_per_week": 0}  # fmt: skip
        answer = evaluate(bundle_from(document))
        self.assertEqual((answer.scales.speed.ratio, answer.scales.space.ratio), (None, None))
        self.assertEqual((answer.scales.speed.verdict, answer.scales.space.verdict), ("open", "open"))

    def test_what_is_unfinished_is_open_and_what_is_short_stays_short(self) -> None:
        def judged(**changes: object) -> Scales:
            return evaluate(changed(self.bundle, **changes)).scales

        past = judged(plan__brief__horizon_date="2026-01-01")
        self.assertEqual((past.space.verdict, past.space.because[-7:]), ("open", "is past"))
        for days, said in ((0, "is past"), (2, "the need today"), (7, "in 1 week"), (14, "in 2 weeks")):
            until = (self.bundle.as_of + timedelta(days=days)).isoformat()
            because = judged(plan__brief__horizon_date=until).space.because
            self.assertEqual(because[-len(said) :], said)
        small = judged(plan__brief__horizon_date="2026-01-01", plan__brief__kept_today_bytes=10**15)
        self.assertEqual(small.space.verdict, "short")
        unpriced = judged(plan__pools__main__drive_unit_price=None)
        self.assertEqual(
            (unpriced.money.verdict, unpriced.money.because[-19:]), ("open", "without a price yet")
        )
        over = judged(plan__pools__main__drive_unit_price=None, plan__brief__budget="1000")
        self.assertEqual(over.money.verdict, "short")
        self.assertEqual(judged(plan__brief__budget="0").money.verdict, "open")

    def test_meeting_the_rule_of_safety_is_enough_and_the_deaths_left_are_counted(self) -> None:
        bundle = changed(
            safe(self.bundle),
            plan__pools__main__bays="",
            house_rules__odds_enough_one_in=1,
            house_rules__odds_short_one_in=1,
        )
        for layout, verdict, words in (
            ("stripe", "short", "the first dead drive ends Boathouse pool"),
            ("raid5", "enough", "of whatever has the fewest"),
            ("raid6", "enough", "of whatever has the fewest"),
        ):
            scale = evaluate(changed(bundle, plan__pools__main__layout=layout)).scales.safety
            self.assertEqual(scale.verdict, verdict, layout)
            self.assertIn(words, scale.because)
        asked = changed(bundle, plan__pools__main__layout="raid5", house_rules__failures_survived_min=2)
        scale = evaluate(asked).scales.safety
        self.assertEqual((scale.verdict, scale.have, scale.need), ("short", 1, 2))
        self.assertIn("a second dead drive can end Boathouse pool", scale.because)

    def test_safety_is_the_worst_of_copies_failures_and_odds_and_says_which(self) -> None:
        whole = evaluate(safe(self.bundle)).scales.safety
        self.assertEqual(
            (whole.verdict, whole.measure, whole.beside),
            ("enough", "copies", "copies decide; failures enough, odds enough"),
        )
        single = changed(safe(self.bundle), plan__pools__main__bays="", plan__pools__main__layout="raid5")
        [odds] = evaluate(single).odds
        scale = evaluate(single).scales.safety
        self.assertEqual(
            (scale.verdict, scale.measure), ("tight" if odds.pool_lost <= 1e-3 else "short", "years")
        )
        self.assertAlmostEqual(scale.have, 1 / odds.pool_lost)
        self.assertEqual(scale.beside, "odds decide; copies enough, failures enough")
        alone = evaluate(copied(single)).scales.safety
        # Nobody has said where copies go; what is short is said first all the same.
        self.assertEqual(alone.verdict, "short" if odds.pool_lost > 1e-3 else "open")
        house = evaluate(copied(safe(self.bundle), SAFE_COPIES[0], stores=SAFE_STORES)).scales.safety
        self.assertEqual((house.verdict, house.measure, house.have), ("short", "media_kinds", 1))

    def test_the_memo_changes_nothing(self) -> None:
        self.assertEqual(evaluate.__wrapped__(self.bundle), self.answer)

    def test_more_drives_never_worsen_speed_or_space(self) -> None:
        bundle = changed(self.bundle, plan__pools__main__bays="")
        before = self.answer
        for count in range(10, 20):
            after = evaluate(changed(bundle, plan__pools__main__drive_count=count))
            self.assertGreaterEqual(after.scales.space.have, before.scales.space.have)
            self.assertGreaterEqual(after.scales.speed.ratio or 0, before.scales.speed.ratio or 0)
            before = after


class Findings(unittest.TestCase):
    """Each finding: a plan that raises it, its evidence, and the one change that clears it."""

    def test_pool_past_its_fill_limit(self) -> None:
        bundle = changed(demo("one-box"), plan__pools__main__drive_count=6)
        evidence = cleared(self, bundle, "pool-past-its-fill-limit")
        self.assertEqual(evidence["Plannable"], evaluate(bundle).tiers.plannable_bytes)

    def test_one_link_direction_or_hop_below_need(self) -> None:
        bundle = changed(demo("one-box"), plan__wiring__links__PLUG__speed="1GbE")
        name = "one-link-direction-or-hop-below-need"
        finding = raised(self, bundle, name, f"{name}-plug-colour")
        self.assertAlmostEqual(finding.evidence[1].value, 125e6 * 1448 / 1538 * 0.9)
        better = bundle_from(apply_patch(bundle.document(), finding.remedy.patch))
        self.assertEqual(better.plan.wiring.links[1].speed, "2.5GbE")
        self.assertNotIn(finding.key, {f.key for f in evaluate(better).findings})

    def test_a_slow_pool_is_mended_by_the_fewest_drives(self) -> None:
        name = "one-link-direction-or-hop-below-need"
        document = demo("one-box").document()
        del document["plan"]["brief"]["seats"][0]
        bundle = bundle_from(document)
        cleared(self, bundle, name)
        remedy = raised(self, bundle, name).remedy
        wanted = int(str(remedy.patch[-1].value))
        self.assertEqual(remedy.words[: len(f"Use {wanted} drives")], f"Use {wanted} drives")
        fewer = changed(bundle, plan__pools__main__drive_count=wanted - 1, plan__pools__main__bays="")
        self.assertIn(name, ids(evaluate(fewer)))

    def test_copies_that_a_night_is_too_short_for(self) -> None:
        document = demo("one-box").document()
        document["plan"]["brief"]["services"][0]["written_bytes_per_day"] = 400 * 10**9
        document["plan"]["wiring"]["links"][4]["speed"] = "1GbE"
        bundle = bundle_from(document)
        # Beside the copies cards are read in, 30 % of the time and in a rush 90 %.
        moved = 9 * 400e9 / (8 * 3600) + 180e6 * (0.98 * 0.3 + 0.02 * 0.9)
        carried = 125e6 * 1448 / 1538 * 0.9
        evidence = cleared(self, bundle, "copies-late", "copies-late-box-port")
        self.assertAlmostEqual(evidence["To be moved"] / moved, 1)
        self.assertAlmostEqual(evidence["Late by"], round((moved / carried - 1) * 8, 2))
        hop = next(h for h in evaluate(bundle).wiring.hops if h.id == "main")
        self.assertEqual(hop.late, ())
        document["plan"]["brief"]["services"][0]["written_bytes_per_day"] = 2 * 10**12
        slow = evaluate(bundle_from(document))
        self.assertIn("copies-late-main", {f.key for f in slow.findings})
        self.assertNotIn("copies-late", ids(evaluate(demo("one-box"))))

    def test_so_many_streams_that_no_sensible_number_of_disks_serves_them(self) -> None:
        finding = raised(self, demo("one-box"), "one-link-direction-or-hop-below-need")
        self.assertEqual(
            (finding.remedy.patch, finding.remedy.words[-25:]), ((), "flash for what is played.")
        )

    def test_aggregation_that_cannot_help_one_client(self) -> None:
        bundle = changed(demo("one-box"), plan__wiring__links__PLUG__links=2)
        self.assertEqual(cleared(self, bundle, "aggregation-that-cannot-help-one-client")["Links"], 2)
        one, two = (
            next(h for h in evaluate(b).wiring.hops if h.id == "plug-colour")
            for b in (demo("one-box"), bundle)
        )
        self.assertEqual(one.capacity_bytes_per_s, two.capacity_bytes_per_s)

    def test_tb_tib_surprise(self) -> None:
        cleared(self, demo("one-box"), "tb-tib-surprise")

    def test_sole_copies_in_the_stock_are_a_finding_until_they_are_copied(self) -> None:
        held = {"unique_bytes": 9 * 10**12, "sole_bytes": 4 * 10**12, "sole_device_count": 2}
        bundle = changed(demo("one-box"), **{f"facts__stock__{k}": v for k, v in held.items()})
        finding = raised(self, bundle, "sole-copies-on-one-drive")
        self.assertEqual([e.value for e in finding.evidence], [4 * 10**12, 2, 9 * 10**12])
        self.assertNotIn(finding.id, ids(evaluate(changed(bundle, facts__stock__sole_bytes=0))))

    def test_an_accepted_finding_keeps_its_reason(self) -> None:
        acceptance = {"id": "tb-tib-surprise", "reason": "everyone here knows"}
        patch = (Operation(op="add", path="plan/acceptances", value=acceptance),)
        answer = evaluate(bundle_from(apply_patch(demo("one-box").document(), patch)))
        finding = next(f for f in answer.findings if f.id == "tb-tib-surprise")
        self.assertEqual(finding.accepted_reason, "everyone here knows")

    def test_a_mirror_is_not_told_to_add_drives_that_cannot_help(self) -> None:
        bundle = changed(demo("halyard-street"), plan__brief__kept_today_bytes="40TB")
        finding = raised(self, bundle, "pool-past-its-fill-limit")
        self.assertEqual((finding.severity, finding.remedy.patch), ("block", ()))


class Reading(unittest.TestCase):
    def test_a_bundle_written_and_read_again_gives_the_same_figures(self) -> None:
        for name in ("tern-and-tide", "halyard-street"):
            bundle = demo(name)
            again = read_bundle(json.dumps(bundle.document()).encode())
            self.assertEqual(again, bundle)
            self.assertEqual(evaluate(again), evaluate(bundle))

    def problems(self, **changes: Any) -> list[Refused]:
        with self.assertRaises(RefusedMany) as caught:
            changed(demo("one-box"), **changes)
        return caught.exception.problems

    def test_faults_name_the_field_the_value_and_what_is_right(self) -> None:
        for changes, sentence in (
            ({"plan__brief__seats__edit__streams": -1}, 'Edit: Streams cannot be "-1": accepted is a number of 0 or more.'),
            ({"plan__pools__main__drive_count": 3}, 'Boathouse pool: Drives cannot be "3": accepted is 4 drives or more besides spares, for this layout.'),
            ({"plan__pools__main__drive_bytes": "1" + "0" * 30 + "TB"}, "accepted is a size such as 16TB"),
            ({"plan__brief__seats__edit__format_id": "gone"}, "the id of a format in the catalogue"),
            ({"plan__brief__horizon_date": "soon"}, "a date such as 2027-03-31"),
            ({"plan__name": "\u0000"}, "a text without control characters"),
            ({"plan__brief__budget": "nan"}, "Budget cannot be"),
            ({"catalogue__formats__colour-uhd__width": 0}, "Width cannot be"),
        ):  # fmt: skip
            found = self.problems(**changes)
            self.assertIn(sentence, found[0].sentence)
            self.assertEqual(found[0].field, next(iter(changes)).replace("__", "/"))

    def test_files_that_are_no_plan(self) -> None:
        for raw, field in (
            (b"{", "plan file"),
            (b"[]", "plan file"),
            (b"{}", "schema"),
            (b'{"schema": "grand-larder/bundle/99"}', "schema"),
            (b'{"schema": "grand-larder/bundle/3"}', "as_of"),
            (b"[" * 100_000, "plan file"),
        ):
            with self.assertRaises(RefusedMany) as caught:
                read_bundle(raw)
            self.assertEqual(caught.exception.problems[0].field, field)
