"""Every endpoint of the URL table × every role × a foreign studio.

The expectation stands here, not beside the endpoints: a new endpoint fails until it is listed.
"""

from __future__ import annotations

import json
from datetime import date
from typing import Any
from uuid import UUID

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import Client, TestCase, TransactionTestCase

from accounts.models import Role
from grandlarder.api import api
from jobs.kinds import KINDS
from jobs.models import LongJob
from larder.asks.advisor.advise import advise
from larder.base.patch import Operation
from larder.plan.catalogue import Catalogue
from larder.readers.generic_lists import missing_patch
from plans.actions import newest_bundle, remove_plan, save_changes, step_back
from plans.models import Kind, Revision
from stock.actions import add_quick, change_device, hand_over
from tests.house import PASSWORD, House

STUDIO = "/api/studios/{studio}"
PLAN = STUDIO + "/plans/{plan_id}"
STOCK = STUDIO + "/stock"
VIEW, TECH, OWN = Role.VIEWER, Role.TECHNICIAN, Role.OWNER
NEEDED: dict[tuple[str, str], Role | None] = {
    ("get", "/api/session"): None,
    ("post", "/api/session"): None,
    ("delete", "/api/session"): None,
    ("get", STUDIO + "/plans"): VIEW,
    ("post", STUDIO + "/plans"): TECH,
    ("post", STUDIO + "/plans/import"): TECH,
    ("post", STUDIO + "/probe"): TECH,
    ("post", STUDIO + "/understand"): VIEW,
    ("get", PLAN): VIEW,
    ("delete", PLAN): OWN,
    ("get", PLAN + "/head"): VIEW,
    ("post", PLAN + "/evaluate"): VIEW,
    ("post", PLAN + "/explain"): VIEW,
    ("post", PLAN + "/compare"): VIEW,
    ("post", PLAN + "/swap"): VIEW,
    ("post", PLAN + "/remedies"): VIEW,
    ("post", PLAN + "/share"): VIEW,
    ("post", PLAN + "/fixes"): VIEW,
    ("post", PLAN + "/rehearse"): VIEW,
    ("post", PLAN + "/rehearse/helped"): VIEW,
    ("post", PLAN + "/rehearse/hours"): VIEW,
    ("post", PLAN + "/diagnose"): VIEW,
    ("post", PLAN + "/safeguard"): VIEW,
    ("post", PLAN + "/safeguard/layouts"): VIEW,
    ("post", PLAN + "/safeguard/two-losses"): VIEW,
    ("get", PLAN + "/rehearsal.csv"): VIEW,
    **{("post", f"{PLAN}/{kind.asks.path}"): kind.role for kind in KINDS.values() if kind.asks},
    **{("get", f"{PLAN}/{kind.asks.path}"): VIEW for kind in KINDS.values() if kind.asks},
    ("get", STUDIO + "/jobs/{job_id}"): VIEW,
    ("post", STUDIO + "/jobs/{job_id}/cancel"): TECH,
    ("post", STUDIO + "/jobs/{job_id}/retry"): TECH,
    ("post", PLAN + "/cables"): VIEW,
    ("get", PLAN + "/cables.csv"): VIEW,
    ("get", PLAN + "/pick-list.csv"): VIEW,
    ("get", PLAN + "/readings.csv"): VIEW,
    ("post", PLAN + "/growth"): VIEW,
    ("post", PLAN + "/growth/flash-or-disks"): VIEW,
    ("post", PLAN + "/growth/read"): VIEW,
    ("post", PLAN + "/advise"): VIEW,
    ("post", PLAN + "/advise/open"): TECH,
    ("post", PLAN + "/advise/offered"): VIEW,
    ("post", PLAN + "/advise/why-not"): VIEW,
    ("post", PLAN + "/advise/more"): VIEW,
    ("post", PLAN + "/advise/disagreements"): VIEW,
    ("post", PLAN + "/advise/prices"): VIEW,
    ("get", PLAN + "/owner-page.html"): VIEW,
    ("get", PLAN + "/owner-page.pdf"): VIEW,
    ("get", PLAN + "/owner-page.md"): VIEW,
    ("post", STUDIO + "/side-by-side"): VIEW,
    ("post", STUDIO + "/side-by-side.csv"): VIEW,
    ("post", PLAN + "/new-item"): VIEW,
    ("post", PLAN + "/formats"): VIEW,
    ("post", PLAN + "/find"): VIEW,
    ("post", PLAN + "/removal"): VIEW,
    ("post", PLAN + "/class"): VIEW,
    ("post", PLAN + "/catalogue/read"): VIEW,
    ("post", PLAN + "/catalogue/bring"): VIEW,
    ("get", PLAN + "/catalogue/{listing}"): VIEW,
    ("get", PLAN + "/revisions"): VIEW,
    ("post", PLAN + "/revisions"): TECH,
    ("post", PLAN + "/undo"): TECH,
    ("post", PLAN + "/redo"): TECH,
    ("post", PLAN + "/revisions/{number}/restore"): TECH,
    ("get", PLAN + "/bundle"): VIEW,
    ("post", PLAN + "/bring-back"): OWN,
    ("get", STUDIO + "/standards"): VIEW,
    ("post", PLAN + "/standards/take"): VIEW,
    ("post", PLAN + "/standards/make"): TECH,
    ("get", STOCK): VIEW,
    ("post", STOCK + "/quick"): TECH,
    ("post", STOCK + "/preview"): TECH,
    ("post", STOCK + "/import"): TECH,
    ("get", STOCK + "/csv"): VIEW,
    ("post", STOCK + "/today"): TECH,
    ("patch", STOCK + "/{device_id}"): TECH,
    ("delete", STOCK + "/{device_id}"): TECH,
    ("post", STOCK + "/{device_id}/report"): TECH,
    ("get", STOCK + "/facts"): VIEW,
    ("post", STOCK + "/{device_id}/hand-over"): TECH,
    ("post", STOCK + "/{device_id}/return"): TECH,
    ("post", STOCK + "/{device_id}/manifest"): TECH,
    ("get", STOCK + "/{device_id}/log"): VIEW,
}
RULE = {"op": "set", "path": "house_rules/enough_ratio", "value": 1.3}
BOX = {"op": "add", "path": "plan/boxes", "value": {"id": "east", "name": "East", "bays": 8}}
BODIES: dict[str, Any] = {
    STUDIO + "/plans": {"name": "New"},
    PLAN + "/evaluate": {"base": 1},
    PLAN + "/explain": {"base": 1, "figure_id": "scales.speed"},
    PLAN + "/compare": {"base": 1, "pool_id": "main"},
    PLAN + "/swap": {"base": 1, "pool_id": "main"},
    PLAN + "/remedies": {"base": 1},
    PLAN + "/share": {"base": 1},
    PLAN + "/fixes": {"base": 1, "seat_id": "colour"},
    PLAN + "/cables": {"base": 1},
    PLAN + "/class": {"base": 1, "patch": [BOX], "path": "plan/boxes/east", "class_id": ""},
    PLAN + "/new-item": {"base": 1, "path": "plan/purchases"},
    PLAN + "/removal": {"base": 1, "path": "plan/pools/main"},
    PLAN + "/catalogue/read": {
        "base": 1,
        "patch": [each.model_dump(mode="json", exclude_unset=True) for each in missing_patch(Catalogue())],
        "text": "class,price,currency,date\ndisk-16-array,300,EUR,2026-11-02\n",
    },
    PLAN + "/catalogue/bring": {"base": 1},
    PLAN + "/standards/take": {"base": 1, "part": "catalogue"},
    PLAN + "/standards/make": {"base": 1, "patch": [RULE], "part": "house_rules", "number": 0},
    PLAN + "/revisions": {"base": 1, "patch": [RULE]},
    STUDIO + "/understand": {"line": "2 edit seats"},
    PLAN + "/formats": {"base": 1, "text": "4k"},
    PLAN + "/find": {"base": 1, "text": "main"},
    PLAN + "/rehearse": {"base": 1},
    PLAN + "/rehearse/helped": {"base": 1, "fails": ["main@11:00"]},
    **{f"{PLAN}/{k.asks.path}": {"base": 1, **k.asks.example} for k in KINDS.values() if k.asks},
    PLAN + "/safeguard": {"base": 1},
    PLAN + "/advise": {"base": 1},
    PLAN + "/advise/open": {"base": 1, "key": "{key}", "name": "Opened"},
    PLAN + "/advise/offered": {"base": 1},
    PLAN + "/advise/why-not": {"base": 1, "of": "layout:raid6"},
    PLAN + "/advise/more": {"base": 1},
    PLAN + "/advise/disagreements": {"base": 1},
    PLAN + "/advise/prices": {"base": 1},
    STUDIO + "/side-by-side": {"plans": [{"plan_id": "{plan_id}"}, {"plan_id": "{plan_id}"}]},
    STUDIO + "/side-by-side.csv": {"plans": [{"plan_id": "{plan_id}"}, {"plan_id": "{plan_id}"}]},
    PLAN + "/growth": {"base": 1},
    PLAN + "/growth/flash-or-disks": {"base": 1},
    PLAN + "/growth/read": {"base": 1, "text": "date,pool,used\n2026-11-02,main,20TB\n"},
    PLAN + "/safeguard/two-losses": {"base": 1},
    PLAN + "/safeguard/layouts": {"base": 1, "pool_id": "main"},
    PLAN + "/diagnose": {"base": 1, "seat_id": "colour", "seen": {"copy_from": "104 MB/s"}},
    PLAN + "/rehearse/hours": {"base": 1, "seat_id": "edit"},
    STOCK + "/quick": {"text": "2TB"},
    STOCK + "/today": {"place": "loft", "layout": "span", "plan_id": "{plan_id}"},
    STOCK + "/{device_id}": {"changes": {"place": "shelf"}},
    STOCK + "/{device_id}/hand-over": {"to": "boat unit", "is_encrypted": True},
    STOCK + "/{device_id}/return": {},
}
INVENTORY = b"label,size,serial\nSpare,4TB,S-77\n"
FILES: dict[str, bytes] = {
    STUDIO + "/plans/import": (settings.ROOT / "demo" / "one-box.json").read_bytes(),
    STUDIO + "/probe": (settings.ROOT / "docs" / "examples" / "gannet-ledge.ffprobe.json").read_bytes(),
    STOCK + "/preview": INVENTORY,
    STOCK + "/import": INVENTORY,
    STOCK + "/{device_id}/report": b'{"smartctl": {}, "power_on_time": {"hours": 50000}}',
    STOCK + "/{device_id}/manifest": b"d41d8cd98f00b204e9800998ecf8427e  terns/a.mov\n",
}


def endpoints() -> list[tuple[str, str]]:
    table = api.get_openapi_schema(path_prefix="/api/")["paths"]
    return [(method, path) for path, methods in table.items() for method in methods]


class EveryDoor(TestCase):
    def setUp(self) -> None:
        self.house, self.foreign = House(), House("other-house")
        self.job = LongJob.objects.create(
            studio=self.house.studio,
            plan=self.house.tern,
            kind="rehearse-days",
            asked={"fails": []},
            wanted=2,
        )
        advice = advise(newest_bundle(self.house.scope(VIEW), self.house.halyard.pk)).advice
        self.key = next(s.design.key for s in advice.schools if s.id == "turnkey-box" and s.design)
        self.device = add_quick(self.house.scope(Role.TECHNICIAN), "4TB hdd loft")[0].id

    def knock(self, client: Client, method: str, path: str, studio: str = "slipway-house") -> int:
        url = self.address(path, studio)
        if path in FILES:
            file = SimpleUploadedFile("x.json", FILES[path])
            return client.post(url, {"file": file, "material": "Terns"}).status_code
        body = json.dumps(BODIES[path]) if path in BODIES else ""
        body = body.replace("{plan_id}", str(self.house.tern.pk)).replace("{key}", self.key)
        return client.generic(method, url, body, "application/json").status_code

    def ready(self, path: str, role: Role) -> None:
        """What must have happened for the request to succeed, by whoever asks where only they can undo it."""
        does = self.house.scope(role if role.may(TECH) else TECH)
        plan_id, device_id = self.house.tern.pk, UUID(self.device)
        if path.endswith(("/undo", "/redo")):
            save_changes(does, plan_id, 1, (Operation(**RULE),))
        if path.endswith("/redo"):
            step_back(does, plan_id, Kind.UNDO)
        if path.endswith("/bring-back"):
            remove_plan(self.house.scope(OWN), plan_id)
        if path.endswith("/return"):
            hand_over(does, device_id, "boat unit", date(2026, 11, 2), is_encrypted=True)
        if path.endswith("/manifest"):
            change_device(does, device_id, {"holdings": [{"material": "Terns", "bytes": 10**12}]})

    def address(self, path: str, studio: str) -> str:
        things = {
            # Of the two only this one has prices, without which there is nothing to advise.
            "plan_id": (self.house.halyard if "/advise" in path else self.house.tern).pk,
            "number": 1,
            "device_id": self.device,
            "listing": "drives",
            "job_id": self.job.pk,
        }
        return path.format(studio=studio, **things)

    def test_the_table_lists_every_endpoint(self) -> None:
        self.assertEqual(sorted(endpoints()), sorted(NEEDED))

    def test_each_role_succeeds_where_it_may_and_gets_403_otherwise(self) -> None:
        for (method, path), needed in NEEDED.items():
            if needed is None:
                continue
            for role in Role:
                with self.subTest(method=method, path=path, role=role), transaction.atomic():
                    client = Client()
                    client.force_login(self.house.people[role])
                    self.ready(path, role)
                    status = self.knock(client, method, path)
                    self.assertIn(status, {200, 201, 204} if role.may(needed) else {403})
                    transaction.set_rollback(True)

    def test_nobody_gets_401_and_strangers_404(self) -> None:
        for (method, path), needed in NEEDED.items():
            if needed is None:
                continue
            with self.subTest(method=method, path=path):
                self.assertEqual(self.knock(Client(), method, path), 401)
                stranger = Client()
                stranger.force_login(self.foreign.people[OWN])
                self.assertEqual(self.knock(stranger, method, path), 404)

    def test_a_plan_of_another_studio_is_not_here_under_ones_own(self) -> None:
        for (method, path), needed in NEEDED.items():
            if needed is None or "_id}" not in path:
                continue
            with self.subTest(method=method, path=path):
                client = Client()
                client.force_login(self.foreign.people[OWN])
                self.assertEqual(self.knock(client, method, path, "other-house"), 404)


class SigningIn(TestCase):
    def test_a_token_is_needed_and_a_wrong_password_says_little(self) -> None:
        House()
        client = Client(enforce_csrf_checks=True)
        body = {"username": "technician", "password": PASSWORD}
        self.assertEqual(client.post("/api/session", body, "application/json").status_code, 403)
        headers = {"X-CSRFToken": client.get("/api/session").json()["token"]}
        wrong = client.post("/api/session", body | {"password": "x"}, "application/json", headers=headers)
        self.assertEqual(wrong.status_code, 401)
        nobody = client.post("/api/session", body | {"username": "x"}, "application/json", headers=headers)
        self.assertEqual(nobody.json(), wrong.json())
        right = client.post("/api/session", body, "application/json", headers=headers)
        self.assertEqual(right.json()["studios"][0]["role"], "technician")

    def test_changes_need_the_token_too(self) -> None:
        house = House()
        client = Client(enforce_csrf_checks=True)
        client.force_login(house.people[Role.TECHNICIAN])
        url = f"/api/studios/slipway-house/plans/{house.tern.pk}/undo"
        self.assertEqual(client.post(url).status_code, 403)


class CompositeKeys(TransactionTestCase):
    def test_the_database_refuses_a_revision_in_another_studio_than_its_plan(self) -> None:
        from django.db import IntegrityError

        house, foreign = House(), House("other-house")
        with self.assertRaises(IntegrityError):
            Revision.objects.filter(plan=house.tern).update(studio=foreign.studio)
