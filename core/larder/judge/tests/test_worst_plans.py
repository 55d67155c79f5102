"""Every plan that is accepted can be judged: finite figures, bounded work; and refusals in a person's words."""

import json
import unittest
from datetime import date
from pathlib import Path
from typing import Any

from larder.asks.explain import explain
from larder.base import memo
from larder.base.errors import Refused, RefusedMany
from larder.base.memo import forget_all
from larder.base.patch import Operation, apply_patch
from larder.judge.evaluation import evaluate
from larder.judge.tests.worst_plans import WorstPlans
from larder.laws import demand
from larder.plan.upgrade import upgraded
from larder.readers.clips import format_of_clips
from larder.readers.ffprobe import Clip
from larder.readers.plan_file import bundle_from, changes_of, read_bundle
from larder.tests.drawn import few
from larder.tests.plans import demo

HERE = Path(__file__).resolve().parent
DEMO = HERE.parents[3] / "demo"
OLD = HERE.parents[1] / "plan" / "tests" / "old"
SEEDS = few(60)


def document(name: str = "tern-and-tide") -> dict[str, Any]:
    return read_bundle((DEMO / f"{name}.json").read_bytes()).document()


def refusal(path: str, value: Any) -> str:
    """The sentence with which the demo plan refuses ``value``; a plan that takes it fails the test."""
    try:
        bundle_from(apply_patch(document(), (Operation(op="set", path=path, value=value),)))
    except RefusedMany as refused:
        return refused.problems[0].sentence
    raise AssertionError(f"{path} took {value}")


class EveryAcceptedPlan(unittest.TestCase):
    def test_it_has_finite_figures_only_whatever_it_says(self) -> None:
        judged = 0
        for seed in range(SEEDS):
            bundle = WorstPlans(seed).bundle()
            if bundle is not None:
                judged += 1
                with self.subTest(seed=seed):
                    json.dumps(evaluate(bundle).model_dump(mode="json"), allow_nan=False)
        self.assertGreater(judged, SEEDS * 3 // 4)

    def test_the_sums_work_is_bounded_whatever_is_asked(self) -> None:
        """Counted in cells that are filled, so that no clock is needed."""
        counted = 0
        whole = demand._convolved

        def counting(one: demand.Floats, other: demand.Floats) -> demand.Floats:
            nonlocal counted
            counted += len(one) + len(other)
            return whole(one, other)

        base = document()
        seat = base["plan"]["brief"]["seats"][0]
        parts = [{"id": f"part{n}", "name": "Part", "hours": 3} for n in range(8)]
        base["plan"]["brief"] |= {
            "services": [],
            "day_parts": parts,
            "seats": [
                seat | {"id": f"s{n}", "streams": 1 + n, "shuttle_factor": 1 + n / 97, "count": 190, "at_peak": [
                    {"id": part["id"], "probability": 0.3 + (n * 7 + k) / 1000} for k, part in enumerate(parts)]}
                for n in range(60)
            ],
        }  # fmt: skip
        memo.forget_all()
        demand._convolved = counting
        try:
            evaluate(bundle_from(base))
        finally:
            demand._convolved = whole
        self.assertGreater(counted, 0)
        self.assertLess(counted, 80 * demand.MOST_WORK)

    def test_memos_hold_no_more_bytes_than_they_may(self) -> None:
        @memo.remembered(1000, lambda answer, *_: answer)
        def size(n: int) -> int:
            calls.append(n)
            return n

        calls: list[int] = []
        for n in (400, 400, 500, 300, 400, 2000, 2000):
            size(n)
        # 300 pushed out 400, the one not asked for the longest; 2000 is never kept.
        self.assertEqual(calls, [400, 500, 300, 400, 2000, 2000])
        self.assertLessEqual(size.bytes_held, 1000)
        self.assertEqual(len(size), 2)

    def test_explaining_stops_when_told_and_says_what_it_left_out(self) -> None:
        bundle = bundle_from(document("halyard-street"))
        whole = explain(bundle, "scales.speed")
        self.assertEqual((whole.untried, bool(whole.movers)), (0, True))
        forget_all()
        left = iter([True] * 5)
        part = explain(bundle, "scales.speed", goes_on=lambda: next(left, False))
        self.assertEqual((part.numbers, part.untried), (whole.numbers, whole.numbers - 5))


class Sentences(unittest.TestCase):
    def test_a_refusal_names_the_field_by_its_label_and_in_its_unit(self) -> None:
        brief = "plan/brief/"
        seats = {seat["kind"]: seat["id"] for seat in document()["plan"]["brief"]["seats"]}
        photo = f"{brief}seats/{seats['photo']}/"
        part = document()["plan"]["brief"]["day_parts"][0]["id"]
        for path, value, sentence in (
            (photo + "image_bytes", "50TB", 'Stills retouch: Raw size cannot be "50TB": accepted is a number up to 100 GB.'),
            (photo + "image_bytes", 5 * 10**13, 'Stills retouch: Raw size cannot be "50 TB": accepted is a number up to 100 GB.'),
            (photo + "probability", 1e-320, 'Stills retouch: At peak cannot be "1e-320": accepted is 0 or a number of 1e-12 or more.'),
            ("as_of", "9999-12-31", 'Judged on cannot be "9999-12-31": accepted is a date up to 2199-12-31.'),
            (brief + "horizon_date", "9999-12-31", 'Must last until cannot be "9999-12-31": accepted is a date up to 2199-12-31.'),
            (brief + "limits/line/up_bytes_per_s", 2e13, 'Line up cannot be "160000000 Mb/s": accepted is a number up to 80000000 Mb/s.'),
            (f"{brief}day_parts/{part}/hours", 0.01, 'Day: Hours cannot be "0.01 h": accepted is a number of 0.25 h or more.'),
        ):  # fmt: skip
            with self.subTest(path=path, value=value):
                self.assertTrue(refusal(path, value).startswith(sentence), refusal(path, value))

    def test_a_geometry_that_no_camera_has_is_refused_by_what_it_comes_to(self) -> None:
        media = next(f for f in document()["catalogue"]["formats"] if f["kind"] == "computed")
        base = document()
        huge = media | {"width": 65_536, "height": 65_536, "fps": 10_000.0, "bits": 16}
        base["catalogue"]["formats"] = [
            huge if f is media or f["id"] == media["id"] else f for f in base["catalogue"]["formats"]
        ]
        with self.assertRaises(RefusedMany) as caught:
            bundle_from(base)
        self.assertIn("at most 100 GB/s", caught.exception.problems[0].sentence)

    def test_more_drives_or_bays_than_anybody_builds_are_refused(self) -> None:
        base = document("long-shore")
        pools = base["plan"]["pools"]
        base["plan"]["boxes"], base["plan"]["caches"] = [], []
        base["plan"]["pools"] = [
            p | {"drive_count": 480, "spares": 0, "layout": "raid6", "bays": ""} for p in pools
        ]
        self.assertRaisesRegex(RefusedMany, "at most 2000 drives in all", bundle_from, base)

    def test_a_still_with_nothing_in_it_is_refused_by_name(self) -> None:
        empty = Clip("hide-3.dng", None, 0, None, None, (), is_still=True)
        self.assertRaisesRegex(Refused, "hide-3.dng", format_of_clips, [empty])


ALL = "hot settings archive exports"
TICKS = ["plan/brief/projects_copied"]
PARTS = [f"plan/purchases/{each}/part" for each in ("switch", "adapters", "cables")]


class OldPlans(unittest.TestCase):
    def test_the_frozen_plans_open_and_keep_the_house_rules_that_they_were_judged_by(self) -> None:
        rules = {
            "sized_on_percentile": 95.0,
            "rush_odds": 1.0,
            "rebuild_share_percent": 50.0,
            "working_days_per_week": 7.0,
        }
        chain = json.loads((OLD / "bundle-3.json").read_bytes())
        then = bundle_from(chain).document() | {"house_rules": rules}
        for version in (1, 2):
            old = json.loads((OLD / f"bundle-{version}.json").read_bytes())
            self.assertEqual(old["schema"], f"grand-larder/bundle/{version}")
            self.assertEqual([change.path for change in upgraded(old).changes], TICKS + PARTS)
            answer = evaluate(bundle_from(old))
            self.assertAlmostEqual(answer.scales.speed.ratio or 0, 2.560850460167064)
            self.assertEqual(answer, evaluate(bundle_from(then)))
            said = old | {"house_rules": {"sized_on_percentile": 90.0}}
            self.assertEqual(bundle_from(said).house_rules.sized_on_percentile, 90.0)

    def test_a_plan_without_a_timetable_is_judged_and_rehearsed_as_it_was(self) -> None:
        old = json.loads((OLD / "bundle-4.json").read_bytes())
        self.assertEqual(old["schema"], "grand-larder/bundle/4")
        bundle = bundle_from(old)
        # But for its copies, of which it only said that there are some, the drive that they want since, and
        # what it did not know of power and growth.
        today, then = demo("tern-and-tide"), bundle.plan
        since = ("safekeeping", "pools", "purchases", "boxes", "mains", "growth")
        fields = {name: getattr(then, name) for name in since}
        brief = today.plan.brief.model_copy(update={"limits": then.brief.limits})
        wiring = today.plan.wiring.model_copy(update={"switches": then.wiring.switches})
        plan = today.plan.model_copy(update={**fields, "brief": brief, "wiring": wiring})
        asked = today.model_copy(update={"plan": plan, "catalogue": bundle.catalogue})
        self.assertEqual(evaluate(bundle), evaluate(asked))
        self.assertEqual(bundle.plan.brief.timetable.begins_minute, 9 * 60)
        self.assertEqual((bundle.house_rules.player_seconds, bundle.plan.boxes[0].supplies), (2, 1))
        later = json.loads((OLD / "bundle-5.json").read_bytes())
        self.assertEqual(later["schema"], "grand-larder/bundle/5")
        self.assertEqual([change.path for change in upgraded(later).changes], TICKS + PARTS)
        timetable = bundle_from(later).plan.brief.timetable
        self.assertEqual((timetable.begins_minute, timetable.jobs[0].written_bytes), (510, 60_000_000_000))
        self.assertEqual(bundle_from(later).house_rules.disk_deaths_percent, 1.5)

    def test_ticks_that_something_is_copied_become_copies_and_that_is_told(self) -> None:
        old = json.loads((OLD / "bundle-6.json").read_bytes())
        self.assertEqual(
            (old["schema"], old["plan"]["brief"]["projects_copied"]), ("grand-larder/bundle/6", True)
        )
        old["plan"]["pools"][0] |= {"layout": "stripe", "is_copied_nightly": True}
        changes = {change.path: change.now for change in upgraded(old).changes}
        self.assertEqual([changes.pop(path) for path in PARTS], ["switch", "adapter", "cable"])
        self.assertEqual(changes.pop(TICKS[0]), "Project files, every night")
        self.assertEqual(changes, {"plan/pools/main/is_copied_nightly": "Boathouse pool, every night"})
        self.assertIn("copied", " ".join(changes_of(old)))
        opened = bundle_from(old)
        self.assertEqual(
            [(c.to, c.every_hours, c.material_ids) for c in opened.plan.safekeeping.copies],
            [
                ("store:copied-main", 24, "hot settings archive exports"),
                ("store:copied-projects", 24, "projects"),
            ],
        )
        answer = {finding.id for finding in evaluate(opened).findings}
        self.assertFalse(answer & {"striped-tier-with-no-nightly-copy", "project-files-in-no-copy-plan"})
        two = json.loads((OLD / "bundle-5.json").read_bytes())
        two["plan"]["pools"] = [pool | {"is_copied_nightly": True} for pool in two["plan"]["pools"]]
        tiers = {pool["id"]: pool.get("tier", "work") for pool in two["plan"]["pools"]}
        of = {copy.to: copy.material_ids for copy in bundle_from(two).plan.safekeeping.copies}
        for pool_id, tier in tiers.items():
            wanted = {"work": "hot settings", "archive": "archive exports"}[tier]
            self.assertEqual(of[f"store:copied-{pool_id}"], wanted if len(set(tiers.values())) > 1 else ALL)
        old["plan"]["pools"][0]["is_copied_nightly"] = False
        self.assertIn(
            "striped-tier-with-no-nightly-copy", {f.id for f in evaluate(bundle_from(old)).findings}
        )

    def test_what_was_accepted_once_and_could_not_be_judged_opens_and_says_what_became_of_it(self) -> None:
        old = json.loads((OLD / "bundle-1.json").read_bytes())
        old["as_of"] = "9999-12-31"
        brief = old["plan"]["brief"]
        photo = next(seat for seat in brief["seats"] if seat["kind"] == "photo")
        photo |= {"image_bytes": 5 * 10**13, "probability": 1e-320}
        brief["day_parts"][0]["hours"] = 1e-320
        media = next(f for f in old["catalogue"]["formats"] if f["kind"] == "computed")
        media |= {"width": 65_536, "height": 65_536, "fps": 10_000.0}
        notes = " ".join(changes_of(old))
        for said in (
            "Judged on was 9999-12-31 and is now 2199-12-31", "Stills retouch: Raw size was 50 TB and is now 100 GB", "Frames per second was 10000 fps", "Day: Hours was 9.99989e-321 h and is now 0 h",
            "Day: Hours was 0 h and is now 0.25 h", "Stills retouch: At peak was 9.99989e-319 % and is now 0 %",
        ):  # fmt: skip
            self.assertIn(said, notes)
        bundle = bundle_from(old)
        self.assertEqual(bundle.as_of, date(2199, 12, 31))
        json.dumps(evaluate(bundle).model_dump(mode="json"), allow_nan=False)
        self.assertEqual(photo["image_bytes"], 5 * 10**13, "the old document itself stays as it is")

    def test_a_version_that_nobody_knows_is_refused_with_those_there_are(self) -> None:
        for version in (None, 7, ["x"], "grand-larder/bundle/99"):
            self.assertRaisesRegex(
                RefusedMany, "grand-larder/bundle/1, ", bundle_from, document() | {"schema": version}
            )
