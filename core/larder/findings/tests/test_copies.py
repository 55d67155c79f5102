"""Findings about copies: each raised by a minimal plan, with its evidence, and cleared by its remedy."""

import unittest
from typing import Any

from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.tests.test_copies import Item, copy, kept, store
from larder.tests.plans import changed, cleared, copied, demo, ids, mended, raised

RULE = {"house_rules__copies_min": 2, "house_rules__media_kinds_min": 1}


def lined(bundle: Bundle, up: float, **fields: Any) -> Bundle:
    return changed(bundle, plan__brief__limits__line__up_bytes_per_s=up, **fields)


class CopyFindings(unittest.TestCase):
    def test_redundancy_is_no_backup_until_somebody_says_where_copies_go(self) -> None:
        evidence = cleared(self, copied(demo("one-box")), "redundancy-taken-for-backup")
        self.assertGreater(evidence["Archive"], 50 * TB)

    def test_what_is_in_one_building_only(self) -> None:
        bundle = kept([store("boxed", place_id="safe")], [copy("boxed")])
        self.assertEqual(raised(self, bundle, "no-copy-elsewhere").severity, "warn")
        dear = kept([store("boxed")], [copy("boxed")], {"worth": "irreplaceable"})
        self.assertEqual(raised(self, dear, "no-copy-elsewhere").severity, "block")
        cleared(self, dear, "no-copy-elsewhere")
        cheap = kept([store("boxed")], [copy("boxed")], {"worth": "replaceable"})
        self.assertNotIn("no-copy-elsewhere", ids(evaluate(cheap)))

    def test_below_the_house_rule_and_the_rule_that_a_house_may_set(self) -> None:
        bundle = kept([store("away", place_id="away")], [copy("away")])
        finding = raised(self, bundle, "copies-below-the-house-rule")
        self.assertEqual(finding.title, "Footage: 2 of 3 copies, 1 of 2 kinds of media")
        self.assertNotIn(finding.id, ids(evaluate(changed(bundle, **RULE))))

    def test_what_one_loss_takes_together_is_one_copy(self) -> None:
        far = store("far", "a box", place_id="away")
        bundle = kept([far], [copy("far", way="keeps versions", versions_days=7)])
        self.assertIn("encryption", raised(self, bundle, "one-loss-takes-every-copy").title)
        cleared(self, bundle, "one-loss-takes-every-copy")

    def test_sync_is_no_backup(self) -> None:
        bundle = kept(
            [store("far", "a box", place_id="away")], [copy("far", way="makes alike", every_hours=0)]
        )
        self.assertEqual(cleared(self, bundle, "sync-taken-for-backup"), {"It follows within": 0})
        offline = kept([store("far", place_id="away")], [copy("far", way="makes alike")])
        self.assertNotIn("sync-taken-for-backup", ids(evaluate(offline)))

    def test_a_copy_that_is_none_says_why(self) -> None:
        bundle = kept([store("small", size_bytes=TB)], [copy("small")])
        self.assertIn("too small", raised(self, bundle, "copy-that-is-none").title)

    def test_first_upload_takes_weeks(self) -> None:
        bundle = lined(kept([store("s", "a service")], [copy("s")]), 2e6)
        evidence = cleared(self, bundle, "first-upload-takes-weeks")
        for up, is_raised in ((16.4e6, True), (16.7e6, False)):
            # The night's twelve hours, fourteen days at the most.
            found = ids(evaluate(lined(bundle, up)))
            self.assertEqual("first-upload-takes-weeks" in found, is_raised, up)
        self.assertAlmostEqual(evidence["On its way"], round(10e12 / 2e6 / (12 * 3600), 1))

    def test_an_off_site_copy_that_never_catches_up(self) -> None:
        def falling(changed_bytes: float, *more: Item) -> Bundle:
            materials = [
                {"id": "footage", "name": "Footage", "lives_on": "pool:main", "bytes": TB,
                 "changed_bytes_per_day": changed_bytes}, *more,
            ]  # fmt: skip
            ids_ = " ".join(m["id"] for m in materials)
            return lined(
                kept([store("s", "a service")], [copy("s", material_ids=ids_)], materials=materials), 2e6
            )

        name = "off-site-copy-never-catches-up"
        # 86 GB fit into a night, 173 GB into a day.
        self.assertNotIn(name, ids(evaluate(falling(86 * 10**9))))
        self.assertIn("day and night", raised(self, falling(90 * 10**9), name).remedy.words)
        cleared(self, falling(90 * 10**9), name)
        small = {
            "id": "small",
            "name": "Cuts",
            "lives_on": "pool:main",
            "bytes": TB,
            "changed_bytes_per_day": 10**9,
        }
        self.assertIn("Cuts only", raised(self, falling(400 * 10**9, small), name).remedy.words)
        cleared(self, falling(400 * 10**9, small), name)
        hopeless = raised(self, falling(400 * 10**9), name)
        self.assertEqual((hopeless.severity, hopeless.remedy.patch), ("block", ()))
        dead = lined(falling(10**9), 0)
        self.assertIn("is carried by no line", raised(self, dead, name).title)

    def test_a_nightly_copy_that_is_not_over_by_the_morning(self) -> None:
        slow = store("slow", "a box", write_bytes_per_s=10e6)
        bundle = kept([slow], [copy("slow")], {"changed_bytes_per_day": 500 * 10**9})
        evidence = {e.label: e.value for e in raised(self, bundle, "copy-not-done-in-its-time").evidence}
        self.assertEqual(evidence, {"A run moves": 500e9, "Fits into its hours": 10e6 * 12 * 3600})
        quick = changed(bundle, plan__safekeeping__stores__slow__write_bytes_per_s=12e6)
        self.assertNotIn("copy-not-done-in-its-time", ids(evaluate(quick)))

    def test_a_dropped_service_was_the_only_one_elsewhere(self) -> None:
        ending = store("s", "a service", ends_on="2027-02-01")
        bundle = lined(kept([ending, store("here")], [copy("s"), copy("here")]), 1e9)
        name = "a-dropped-cloud-plan-was-the-only-off-site-copy"
        cleared(self, bundle, name)
        gone = changed(bundle, plan__safekeeping__stores__s__ends_on="2026-10-01")
        self.assertIn(name, ids(evaluate(gone)))
        later = changed(bundle, plan__safekeeping__stores__s__ends_on="2099-01-01")
        self.assertNotIn(name, ids(evaluate(later)))

    def test_an_offline_copy_goes_stale(self) -> None:
        fresh = copy("far", newest_on="2026-11-20", read_back_on="2026-01-10")
        bundle = kept([store("far", place_id="away")], [fresh])
        name = "offline-copy-not-read-back-in-a-year"
        self.assertNotIn(name, ids(evaluate(bundle)))
        old = changed(bundle, plan__safekeeping__copies__far__read_back_on="2025-11-20")
        self.assertIn("368 days", raised(self, old, name).title)
        cleared(self, old, name)

    def test_keys_passwords_and_alerts(self) -> None:
        locked = lined(kept([store("s", "a service", unlocked_by="the account")], [copy("s")]), 1e9)
        cleared(self, locked, "key-held-by-nobody", "key-held-by-one-s")
        shared = kept([], [], sign_in="everyone shares one")
        self.assertEqual(
            cleared(self, shared, "everyone-shares-one-password-or-has-full-access"),
            {"People who can delete all": sum(s.count for s in shared.plan.brief.seats)},
        )
        for alerts, severity in (("unsaid", "note"), ("to nobody", "warn")):
            bundle = kept([], [], alerts=alerts)
            self.assertEqual(raised(self, bundle, "no-alerts-set-up").severity, severity)
            cleared(self, bundle, "no-alerts-set-up")

    def test_a_restore_longer_than_tolerated_and_a_copy_that_people_work_on_meanwhile(self) -> None:
        far = store("far", "a box", place_id="away", access="offline", survives_drives=1)
        bundle = changed(kept([far], [copy("far")]), house_rules__box_delivery_days_max=20)
        evidence = cleared(self, bundle, "restore-longer-than-tolerated")
        self.assertEqual(evidence["Tolerated"], 48)
        self.assertAlmostEqual(evidence["Until it is back"], 480 + 7.2, delta=0.1)
        slow = kept([store("far", place_id="away", read_bytes_per_s=5e6)], [copy("far")])
        remedy = raised(self, slow, "restore-longer-than-tolerated").remedy
        self.assertEqual(remedy.patch, (), "loose disks are not worked on")

    def test_the_demo_is_mended_one_remedy_after_another(self) -> None:
        bundle = demo("tern-and-tide")
        for name in ("no-copy-elsewhere", "first-upload-takes-weeks", "key-held-by-nobody"):
            finding = raised(self, bundle, name)
            self.assertNotIn(finding.key, {f.key for f in mended(self, bundle, finding).findings})
        document = bundle.document()
        self.assertEqual(bundle_from(document), bundle)
