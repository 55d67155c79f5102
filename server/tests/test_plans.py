"""Asking, saving, merging, undoing, files: the API on a real database."""

from __future__ import annotations

import json
import unittest

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from accounts.models import Role
from larder.judge.evaluation import evaluate
from larder.readers.plan_file import bundle_from
from plans.models import AuditEntry, Revision
from tests.house import House, person

DRIVES = "plan/pools/main/drive_count"
SIZE = "plan/pools/main/drive_bytes"


class PlanCase(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client_ = self.house.client(Role.TECHNICIAN)
        self.tern = self.client_.tern

    def drives(self) -> int:
        return self.client_.get(self.tern).json()["document"]["plan"]["pools"][0]["drive_count"]


class Asking(PlanCase):
    def test_asking_is_not_saving_and_gives_the_cores_own_figures(self) -> None:
        body = {"base": 1, "seq": 7, "patch": [{"op": "set", "path": DRIVES, "value": 12}]}
        answer = self.client_.post(f"{self.tern}/evaluate", body).json()
        document = Revision.objects.get(plan=self.house.tern).document
        document["plan"]["pools"][0]["drive_count"] = 12
        expected = evaluate(bundle_from(document)).model_dump(mode="json")
        self.assertEqual((answer["seq"], answer["evaluation"]), (7, expected))
        self.assertEqual(Revision.objects.filter(plan=self.house.tern).count(), 1)

    def test_a_day_is_rehearsed_with_the_open_changes_and_leaves_as_csv(self) -> None:
        def told(**body: object) -> str:
            answer = self.client_.post(f"{self.tern}/rehearse", {"base": 1} | body)
            return " ".join(answer.json()["account"])

        self.assertIn("Colour is unwatchable for 44 minutes", told())
        patch = [
            {"op": "set", "path": f"plan/pools/main/drive_{way}_bytes_per_s", "value": 4e9}
            for way in ("read", "write")
        ]
        self.assertNotIn("unwatchable", told(patch=patch))
        self.assertIn("dies at 02:00", told(fails=["main@02:00"]))
        refused = self.client_.post(f"{self.tern}/rehearse", {"base": 1, "fails": ["attic@02:00"]}).json()
        self.assertIn("the id of a pool (main)", refused["sentence"])
        bad = self.client_.post(f"{self.tern}/rehearse", {"base": 1, "fails": ["main@25:00"]})
        self.assertEqual(bad.status_code, 422)
        self.assertIn("a time of day such as 11:30", bad.json()["sentence"])
        fixed = self.client_.post(f"{self.tern}/rehearse/hours", {"base": 1, "seat_id": "colour"}).json()
        self.assertEqual(fixed["patch"][0]["path"], "plan/brief/timetable/sessions")
        self.assertEqual(told(patch=fixed["patch"]), told())
        head, first, *_ = self.client_.get(f"{self.tern}/rehearsal.csv").content.decode().splitlines()
        self.assertTrue(head.startswith('From,"Boathouse pool, % used"'), head)
        self.assertTrue(first.startswith("09:00,"), first)

    def test_typed_units_are_understood_and_bad_values_named(self) -> None:
        def ask(value: object) -> dict:
            patch = [{"op": "set", "path": SIZE, "value": value}]
            return self.client_.post(f"{self.tern}/evaluate", {"base": 1, "patch": patch}).json()

        self.assertEqual(ask("16TB")["evaluation"], ask(16 * 10**12)["evaluation"])
        for value in ("16 Tb", -1, None, "", 10**39, "1e30TB", True, []):
            answer = ask(value)
            self.assertEqual((answer["code"], answer["problems"][0]["field"]), ("refused", SIZE), value)

    def test_a_figure_explains_itself_with_the_open_changes(self) -> None:
        body = {"base": 1, "figure_id": "scales.space", "patch": [{"op": "set", "path": DRIVES, "value": 12}]}
        working = self.client_.post(f"{self.tern}/explain", body).json()
        self.assertGreater(working["value"], 1.3)
        self.assertEqual(len(working["movers"]), 3)
        quick = self.client_.post(f"{self.tern}/explain", body | {"with_movers": False}).json()
        self.assertEqual(quick, working | {"movers": [], "numbers": 0, "untried": 0})

    def test_the_list_shows_verdicts_with_a_constant_number_of_queries(self) -> None:
        with self.assertNumQueries(4):  # session, person, membership, heads
            rows = self.client_.get("/plans").json()["plans"]
        self.assertEqual({r["name"]: r["speed"] for r in rows}["Tern & Tide, one box"], "short")
        for _ in range(3):
            self.house.plan("halyard-street")
        with self.assertNumQueries(4):
            self.assertEqual(len(self.client_.get("/plans").json()["plans"]), 5)


class Saving(PlanCase):
    def test_a_save_is_a_revision_with_author_summary_and_audit(self) -> None:
        saved = self.client_.save(1, DRIVES, 10).json()
        self.assertEqual((saved["head"], saved["merged"], saved["changed_by"]), (2, False, "technician"))
        row = self.client_.get(f"{self.tern}/revisions").json()["revisions"][0]
        self.assertEqual(row["summary"], "Boathouse pool: Drives 9 → 10")
        self.assertEqual(AuditEntry.objects.first().detail, row["summary"])

    def test_saving_the_same_again_writes_nothing(self) -> None:
        self.assertEqual(self.client_.save(1, SIZE, "14TB").json()["head"], 1)

    def test_changes_of_two_people_merge_by_field(self) -> None:
        self.client_.save(1, DRIVES, 10)
        merged = self.client_.save(1, SIZE, "16TB").json()
        self.assertEqual((merged["head"], merged["merged"]), (3, True))
        pool = merged["document"]["plan"]["pools"][0]
        self.assertEqual((pool["drive_count"], pool["drive_bytes"]), (10, 16 * 10**12))

    def test_the_same_field_twice_asks_and_loses_neither(self) -> None:
        self.client_.save(1, DRIVES, 10)
        clash = self.client_.save(1, DRIVES, 12)
        self.assertEqual((clash.status_code, clash.json()["head"]), (409, 2))
        one = clash.json()["clashes"][0]
        self.assertEqual((one["base"], one["mine"], one["theirs"]), (9, 12, 10))
        self.assertEqual(self.drives(), 10)

    def test_a_merge_that_is_no_plan_is_refused(self) -> None:
        self.client_.save(1, DRIVES, 4)
        answer = self.client_.save(1, "plan/pools/main/spares", 1)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("there is 1 spare", answer.json()["sentence"])

    def test_unknown_bases_and_paths_are_refused(self) -> None:
        self.assertEqual(self.client_.save(99, DRIVES, 10).status_code, 404)
        self.assertEqual(self.client_.save(1, "plan/nowhere", 10).status_code, 422)
        self.assertEqual(self.client_.save(0, DRIVES, 10).status_code, 422)


class GoingBack(PlanCase):
    def test_undo_and_redo_step_through_ones_own_changes(self) -> None:
        for base, count in ((1, 10), (2, 11), (3, 12)):
            self.client_.save(base, DRIVES, count)
        seen = []
        for step in ("undo", "undo", "redo", "undo", "undo", "redo", "redo", "redo"):
            self.assertEqual(self.client_.post(f"{self.tern}/{step}").status_code, 200)
            seen.append(self.drives())
        self.assertEqual(seen, [11, 10, 11, 10, 9, 10, 11, 12])
        self.assertEqual(self.client_.post(f"{self.tern}/redo").json()["code"], "nothing-to-do")

    def test_a_new_change_ends_redo(self) -> None:
        self.client_.save(1, DRIVES, 10)
        self.client_.post(f"{self.tern}/undo")
        plan = self.client_.save(3, DRIVES, 12).json()
        self.assertEqual((plan["can_undo"], plan["can_redo"]), (True, False))

    def test_undo_leaves_other_peoples_later_changes(self) -> None:
        second = self.house.client(None)
        second.browser.force_login(person("second", self.house.studio, Role.TECHNICIAN))
        self.client_.save(1, DRIVES, 10)
        second.save(2, SIZE, "16TB")
        pool = self.client_.post(f"{self.tern}/undo").json()["document"]["plan"]["pools"][0]
        self.assertEqual((pool["drive_count"], pool["drive_bytes"]), (9, 16 * 10**12))
        second.save(4, DRIVES, 11)
        self.assertEqual(self.client_.post(f"{self.tern}/redo").json()["code"], "clash")

    def test_items_added_and_removed_come_and_go(self) -> None:
        patch = [{"op": "remove", "path": "plan/brief/seats/stills"}]
        before = self.client_.get(self.tern).json()["document"]
        self.client_.post(f"{self.tern}/revisions", {"base": 1, "patch": patch})
        self.assertEqual(self.client_.post(f"{self.tern}/undo").json()["document"], before)

    def test_any_revision_can_be_brought_back(self) -> None:
        self.client_.save(1, DRIVES, 10)
        self.client_.save(2, SIZE, "16TB")
        plan = self.client_.post(f"{self.tern}/revisions/1/restore").json()
        self.assertEqual(plan["document"], Revision.objects.get(plan=self.house.tern, number=1).document)
        self.assertEqual(plan["head"], 4)

    def test_a_removed_plan_is_off_the_list_until_brought_back(self) -> None:
        owner = self.house.client(Role.OWNER)
        self.assertEqual(owner.delete(self.tern).status_code, 204)
        self.assertEqual(owner.get(self.tern).status_code, 404)
        self.assertEqual(owner.post(f"{self.tern}/bring-back").status_code, 204)
        self.assertEqual(owner.get(self.tern).status_code, 200)


class Files(PlanCase):
    def upload(self, path: str, raw: bytes):
        return self.client_.browser.post(
            self.client_.root + path, {"file": SimpleUploadedFile("f.json", raw)}
        )

    def test_a_downloaded_plan_imported_again_gives_the_same_figures(self) -> None:
        self.client_.save(1, DRIVES, 11)
        file = self.client_.get(f"{self.tern}/bundle")
        self.assertIn("tern-tide-one-box-r2.json", file["Content-Disposition"])
        again = self.upload("/plans/import", file.content).json()
        original = self.client_.get(self.tern).json()
        self.assertNotEqual(again["id"], original["id"])
        self.assertEqual(again["evaluation"], original["evaluation"])
        self.assertEqual(again["document"], original["document"])

    def test_files_that_are_no_plan_are_refused_and_change_nothing(self) -> None:
        before = Revision.objects.count()
        good = json.loads(self.client_.get(f"{self.tern}/bundle").content)
        bad = [b"{", b"\xff", b"[]", json.dumps(good | {"schema": "grand-larder/bundle/99"}).encode()]
        good["plan"]["pools"][0]["drive_count"] = -4
        for raw in [*bad, json.dumps(good).encode()]:
            answer = self.upload("/plans/import", raw)
            self.assertEqual(answer.status_code, 422)
            self.assertIn("accepted is", answer.json()["sentence"])
        self.assertEqual(Revision.objects.count(), before)

    def test_a_probe_file_becomes_a_clip(self) -> None:
        raw = {"format": {"filename": "/x/gannets.mov", "size": "1000", "duration": "2.0"}, "streams": []}
        clip = self.upload("/probe", json.dumps(raw).encode()).json()["clips"][0]
        self.assertEqual((clip["name"], clip["mean_bytes_per_s"]), ("gannets.mov", 500.0))
        self.assertEqual(self.upload("/probe", b'{"jobs": []}').status_code, 422)

    def test_a_new_plan_starts_honest(self) -> None:
        plan = self.client_.post("/plans", {"name": "Loft"}).json()
        self.assertEqual(plan["name"], "Loft")
        verdicts = {name: scale["verdict"] for name, scale in plan["evaluation"]["scales"].items()}
        self.assertEqual(set(verdicts.values()), {"open"})
        for name in ("", "x" * 81, "\u0000", 3):
            self.assertEqual(self.client_.post("/plans", {"name": name}).status_code, 422)


class Page(TestCase):
    def test_every_address_is_the_page_under_a_strict_policy(self) -> None:
        for address in ("/", "/s/slipway-house/plans", "/s/x/plans/y/brief"):
            answer = self.client.get(address)
            if answer.status_code == 503:
                raise unittest.SkipTest("the frontend is not built")
            policy = answer["Content-Security-Policy"]
            self.assertIn("default-src 'none'", policy)
            self.assertNotIn("unsafe", policy)
            self.assertNotIn("<script>", answer.content.decode())
