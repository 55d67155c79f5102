"""One person's entry, file or client never shuts others out: what was found by attacking, and its causes."""

from __future__ import annotations

import json
import threading
from importlib import import_module, reload
from io import StringIO
from os import environ
from typing import Any
from unittest import mock
from uuid import UUID

from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.test import Client, RequestFactory, TestCase, TransactionTestCase, override_settings
from ninja.errors import HttpError

from accounts import throttle
from accounts.models import Membership, Person, Role, Studio
from accounts.upload import SMALL_BODY_BYTES, is_sealed
from grandlarder.middleware import trusted_proxy
from grandlarder.serving import body_limit
from plans import judging
from plans.models import Plan, Revision
from stock import actions as stock
from stock.models import Device, ManifestMatch
from tests.house import PASSWORD, House, JsonClient

OLD = settings.ROOT / "core" / "larder" / "plan" / "tests" / "old" / "bundle-1.json"


class HouseCase(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client_: JsonClient = self.house.client(Role.TECHNICIAN)
        self.tern = self.client_.tern

    def check_envelope(self, answer: Any, status: int) -> dict[str, Any]:
        self.assertEqual(answer.status_code, status, answer.content[:300])
        self.assertEqual(answer["Cache-Control"], "no-store")
        body = answer.json()
        self.assertTrue(body["sentence"].endswith("."), body)
        return body


class WhatIsSaved(HouseCase):
    """Point 1: it can be judged, or nothing of it is kept."""

    def test_a_save_that_cannot_be_judged_leaves_no_trace(self) -> None:
        seats = Revision.objects.get(plan=self.house.tern).document["plan"]["brief"]["seats"]
        seat = next(s["id"] for s in seats if s["kind"] == "footage")
        for path, value in (
            ("as_of", "9999-12-31"),
            (f"plan/brief/seats/{seat}/probability", 1e-320),
            ("plan/brief/limits/line/up_bytes_per_s", 1e300),
        ):
            self.check_envelope(self.client_.save(1, path, value), 422)
        self.assertEqual(Revision.objects.filter(plan=self.house.tern).count(), 1)
        self.assertEqual(self.client_.get(self.tern).status_code, 200)

    def test_a_fault_in_the_judge_rolls_the_save_back(self) -> None:
        with mock.patch("plans.actions.evaluate", side_effect=ZeroDivisionError), self.assertLogs("larder"):
            body = self.check_envelope(self.client_.save(1, "plan/note", "new"), 500)
        self.assertEqual((body["code"], len(body["reference"])), ("fault", 8))
        self.assertEqual(Plan.objects.get(pk=self.house.tern.pk).head, 1)

    def spoil(self) -> None:
        """As an older release left it: a head that no bound of today accepts."""
        self.client_.save(1, "plan/note", "new")
        head = Revision.objects.get(plan=self.house.tern, number=2)
        document = head.document
        part = {"id": "p", "name": "Part", "hours": 1}
        document["plan"]["brief"]["day_parts"] = [part | {"id": f"p{n}"} for n in range(12)]
        Revision.objects.filter(pk=head.pk).update(document=document, verdicts=None)

    def test_a_head_that_cannot_be_judged_opens_and_says_why(self) -> None:
        self.spoil()
        opened = self.client_.get(self.tern).json()
        self.assertEqual((opened["document"], opened["evaluation"], opened["can_undo"]), (None, None, True))
        self.assertIn("at most 8 items", opened["reason"])
        self.assertEqual(self.client_.get(f"{self.tern}/bundle").status_code, 200)
        self.assertEqual(len(self.client_.get(f"{self.tern}/revisions").json()["revisions"]), 2)

    def test_the_list_does_not_fail_for_one_row(self) -> None:
        self.spoil()
        rows = {row["name"]: row for row in self.client_.get("/plans").json()["plans"]}
        self.assertIsNone(rows["Tern & Tide, one box"]["speed"])
        self.assertEqual(rows["Halyard Street"]["speed"], "short")

    def test_it_can_be_undone_restored_and_removed(self) -> None:
        self.spoil()
        undone = self.client_.post(f"{self.tern}/undo").json()
        self.assertEqual(
            (undone["head"], undone["reason"], undone["document"]["plan"]["note"] != "new"), (3, "", True)
        )
        Revision.objects.filter(plan=self.house.tern, number=3).update(
            document={"schema": "grand-larder/bundle/6", "plan": 7}, verdicts=None
        )
        restored = self.client_.post(f"{self.tern}/revisions/1/restore").json()
        self.assertEqual((restored["head"], restored["reason"]), (4, ""))
        self.spoil_again()
        self.assertEqual(self.house.client(Role.OWNER).delete(self.tern).status_code, 204)

    def spoil_again(self) -> None:
        Revision.objects.filter(plan=self.house.tern, number=4).update(document=[], verdicts=None)
        self.assertIn("JSON object", self.client_.get(self.tern).json()["reason"])

    def test_an_unforeseen_fault_in_one_plan_is_said_with_a_reference(self) -> None:
        Revision.objects.filter(plan=self.house.tern).update(verdicts=None)
        with (
            mock.patch.object(judging, "evaluate", side_effect=RuntimeError("secret")),
            self.assertLogs("larder", "ERROR") as logged,
        ):
            reason = self.client_.get(self.tern).json()["reason"]
        self.assertNotIn("secret", reason)
        self.assertIn(reason.rstrip(".").rsplit(" ", 1)[-1], logged.output[0])

    def test_an_old_plan_says_what_became_of_it(self) -> None:
        old = json.loads(OLD.read_bytes())
        old["as_of"] = "2350-01-01"
        Revision.objects.filter(plan=self.house.tern).update(document=old, verdicts=None)
        opened = self.client_.get(self.tern).json()
        self.assertEqual(opened["document"]["as_of"], "2199-12-31")
        self.assertIn("Judged on was 2350-01-01 and is now 2199-12-31", opened["notes"][0])

    def test_a_list_judges_nothing_not_even_what_is_old(self) -> None:
        with mock.patch.object(judging, "judged", wraps=judging.judged) as judged:
            Revision.objects.filter(plan=self.house.tern).update(
                verdicts={"by": "another core", "speed": "enough"}
            )
            rows = self.client_.get("/plans").json()["plans"]
        self.assertEqual(judged.call_count, 0)
        row = next(row for row in rows if row["name"] == "Tern & Tide, one box")
        self.assertEqual((row["speed"], row["is_old"]), ("enough", True))


class NoBareFault(HouseCase):
    """Point 7: every answer is the envelope."""

    def test_control_characters_in_path_query_and_cookie(self) -> None:
        for answer in (
            self.client_.browser.get("/api/studios/%00/plans"),
            self.client_.get("/stock?ports=%00"),
            Client(headers={"Cookie": f"{settings.SESSION_COOKIE_NAME}=a%00b"}).get("/api/session"),
        ):
            self.assertEqual(self.check_envelope(answer, 400)["code"], "bad-request")
        self.assertEqual(Client().get("/s/%00/plans").status_code, 400)
        self.assertEqual(Client().get("/static/%00").status_code, 400)

    def test_half_of_a_surrogate_pair_in_any_text(self) -> None:
        broken = r"\ud800"
        for path, body in (
            ("/plans", '{"name": "%s"}'), ("/stock/quick", '{"text": "2TB %s"}'), (f"{self.tern}/revisions", '{"base": 1, "patch": [{"op": "set", "path": "plan/note", "value": "%s"}]}'),
            (f"{self.tern}/catalogue/read", '{"base": 1, "text": "%s"}'), (f"{self.tern}/evaluate", '{"base": 1, "patch": [{"op": "set", "path": "%s", "value": 1}]}'),
        ):  # fmt: skip
            answer = self.client_.browser.post(
                self.client_.root + path, body % broken, content_type="application/json"
            )
            self.assertIn("surrogate", self.check_envelope(answer, 422)["sentence"])

    def test_bodies_that_are_not_what_the_endpoint_takes(self) -> None:
        url = f"{self.client_.root}{self.tern}/evaluate"
        form = {"file": SimpleUploadedFile("x", b"x")}
        for body, kind in (
            ("[" * 50_000, "application/json"), ("9" * 5_000, "application/json"), ("{", "application/json"), ("", "application/json"), ("null", "application/json"),
            (b"\xff\xfe\x00", "application/json"), ('{"base": 1, "patch": [{"op": "set", "path": "as_of", "value": NaN}]}', "application/json"), ("base=1", "application/x-www-form-urlencoded"),
        ):  # fmt: skip
            self.check_envelope(self.client_.browser.post(url, body, content_type=kind), 422)
        self.check_envelope(self.client_.browser.post(url, form), 422)
        self.check_envelope(self.client_.browser.post(url, "x", content_type="multipart/form-data"), 422)
        self.check_envelope(
            self.client_.browser.post(
                f"{self.client_.root}/plans/import", "{}", content_type="application/json"
            ),
            422,
        )
        self.check_envelope(
            self.client_.browser.post(url, " " * 7_000_000, content_type="application/json"), 413
        )

    def test_files_that_no_tool_prints(self) -> None:
        device = stock.add_quick(self.house.scope(Role.TECHNICIAN), "4TB hdd loft")[0].id
        for path, raw, status in (
            ("/probe", b'{"format": {"size": "0"}, "streams": [{"codec_type": "video"}]}', 422), ("/probe", b"[" * 50_000, 422),
            (f"/stock/{device}/report", b'{"smartctl": {}, "temperature": {"current": ' + b"9" * 400 + b"}}", 422),
            (f"/stock/{device}/report", b'{"smartctl": {}, "power_on_time": {"hours": 1' + b"0" * 30 + b"}}", 422), ("/stock/preview", b"size\n\x00", 422),
        ):  # fmt: skip
            answer = self.client_.browser.post(
                self.client_.root + path, {"file": SimpleUploadedFile("x", raw), "material": "x"}
            )
            self.check_envelope(answer, status)

    def test_what_nobody_foresaw_is_a_fault_with_a_reference_that_the_log_carries(self) -> None:
        self.client_.browser.raise_request_exception = False
        with (
            mock.patch("plans.actions.plan_in", side_effect=RuntimeError("secret")),
            self.assertLogs("larder", "ERROR") as logged,
        ):
            body = self.check_envelope(self.client_.get(self.tern), 500)
        self.assertNotIn("secret", body["sentence"])
        self.assertIn(body["reference"], logged.output[0])
        with (
            mock.patch("django.contrib.sessions.backends.db.SessionStore.load", side_effect=RuntimeError),
            self.assertLogs("larder", "ERROR"),
        ):
            self.assertEqual(self.check_envelope(self.client_.get("/plans"), 500)["code"], "fault")

    def test_a_database_that_does_not_answer_is_said(self) -> None:
        with (
            mock.patch("plans.actions.plan_in", side_effect=OperationalError("gone")),
            self.assertLogs("larder", "ERROR"),
        ):
            self.assertEqual(self.check_envelope(self.client_.get(self.tern), 503)["code"], "unavailable")

    def test_foreign_hosts_and_addresses_that_are_not_there(self) -> None:
        self.check_envelope(Client(headers={"Host": "elsewhere.example"}).get("/api/session"), 400)
        self.check_envelope(Client().get("/api/nothing"), 404)


class SigningIn(TestCase):
    """Point 4: guessing is slow, a lock ends by itself, and nobody else is shut out."""

    def setUp(self) -> None:
        House()

    def sign_in(self, name: str, password: str, address: str = "127.0.0.1") -> Any:
        client = Client(REMOTE_ADDR=address)
        body = {"username": name, "password": password}
        return client.post("/api/session", body, content_type="application/json")

    def test_some_wrong_passwords_lock_the_name_at_that_address_alone(self) -> None:
        with self.assertLogs("larder", "WARNING") as logged:
            statuses = [self.sign_in("technician", f"wrong {n}").status_code for n in range(8)]
        self.assertEqual(statuses, [401] * 5 + [429] * 3)
        self.assertIn("'technician' from 127.0.0.1", logged.output[0])
        refused = self.sign_in("technician", PASSWORD)
        self.assertEqual((refused.status_code, refused.json()["code"]), (429, "locked-out"))
        self.assertIn("5 minutes", refused.json()["sentence"])
        self.assertEqual(self.sign_in("technician", PASSWORD, "127.0.0.2").status_code, 200)
        self.assertEqual(self.sign_in("owner", PASSWORD).status_code, 200)

    def test_the_lock_ends_by_itself(self) -> None:
        from axes.models import AccessAttempt

        with self.assertLogs("larder", "WARNING"):
            for n in range(6):
                self.sign_in("viewer", f"wrong {n}")
        self.assertEqual(self.sign_in("viewer", PASSWORD).status_code, 429)
        for attempt in AccessAttempt.objects.all():
            AccessAttempt.objects.filter(pk=attempt.pk).update(
                attempt_time=attempt.attempt_time - settings.AXES_COOLOFF_TIME
            )
        self.assertEqual(self.sign_in("viewer", PASSWORD).status_code, 200)

    def test_an_address_that_tries_many_names_is_locked_too(self) -> None:
        with self.assertLogs("larder", "WARNING") as logged:
            statuses = [
                self.sign_in(f"name-{n}", "wrong").status_code
                for n in range(throttle.WRONG_FROM_AN_ADDRESS + 3)
            ]
        self.assertEqual(statuses.count(401), throttle.WRONG_FROM_AN_ADDRESS)
        self.assertEqual(statuses[-1], 429)
        self.assertIn("everyone from 127.0.0.1", logged.output[-1])

    def test_more_at_the_door_than_may_wait_are_sent_away_at_once(self) -> None:
        inside, leave = threading.Event(), threading.Event()

        def slow(*_: object, **__: object) -> None:
            inside.set()
            leave.wait(20)

        found: list[int] = []
        with (
            mock.patch.object(throttle, "authenticate", slow),
            mock.patch.object(throttle, "AxesProxyHandler"),
            mock.patch.object(throttle, "_wrong_from", return_value=0),
        ):
            request = RequestFactory().post("/")
            waiting = [
                threading.Thread(target=throttle.checked_person, args=(request, "a", "b"), daemon=True)
                for _ in range(2)
            ]
            waiting[0].start()
            inside.wait(20)
            waiting[1].start()
            while throttle._at_the_door._value:
                pass
            try:
                throttle.checked_person(request, "c", "d")
            except HttpError as refused:
                found.append(refused.status_code)
            leave.set()
            for thread in waiting:
                thread.join()
        self.assertEqual(found, [429])


class LargeBodies(TestCase):
    """Point 4: who has not signed in is not read; the server itself is met in the attack on its sockets."""

    def test_only_a_seal_of_ours_lets_more_than_a_sign_in_be_read(self) -> None:
        House()
        client = Client()
        body = {"username": "technician", "password": PASSWORD}
        client.post("/api/session", body, content_type="application/json")
        name = settings.SEAL_COOKIE_NAME
        seal = client.cookies[name].value
        good = f"a=b; {name}={seal}"
        for cookies in (
            "",
            "a=b",
            f"{name}=",
            f"{name}={seal[:-1]}x",
            f"{name}=1:x:y",
            "\x00;=;",
            f"{name}={'9' * 9_000}",
        ):
            self.assertFalse(is_sealed(cookies), cookies)
            self.assertEqual(body_limit("/api/studios/x/probe", cookies), SMALL_BODY_BYTES)
        self.assertTrue(is_sealed(good))
        self.assertGreater(body_limit("/api/studios/x/probe", good), 300_000_000)
        self.assertLess(body_limit("/api/studios/x/plans/import", good), 7_000_000)


class OpenApi(HouseCase):
    def test_it_is_for_members_and_built_once(self) -> None:
        self.check_envelope(Client().get("/api/openapi.json"), 401)
        first = self.client_.browser.get("/api/openapi.json")
        self.assertIn("/api/studios/{studio}/plans", first.json()["paths"])
        with mock.patch("grandlarder.api.api.get_openapi_schema") as built:
            self.client_.browser.get("/api/openapi.json")
        built.assert_not_called()


class AtOnce(TransactionTestCase):
    """Point 6: what two do at the same moment."""

    def setUp(self) -> None:
        self.house = House()

    def together(self, *actions: Any) -> list[Any]:
        results: list[Any] = [None] * len(actions)
        ready = threading.Barrier(len(actions))

        def run(at: int) -> None:
            try:
                ready.wait(20)
                results[at] = actions[at]()
            finally:
                connection.close()

        threads = [threading.Thread(target=run, args=(at,)) for at in range(len(actions))]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        return results

    def test_eight_manifests_at_once_are_all_compared(self) -> None:
        scope = self.house.scope(Role.TECHNICIAN)
        rows = "".join(f"D{n},4TB,Reel {n}=1TB\n" for n in range(8))
        items = stock.import_csv(scope, f"label,size,materials\n{rows}".encode())
        shared = "0" * 64 + "  clip.mov\n"

        def taking(item: Any) -> Any:
            own = f"{int(item.label[1:]) + 1:064x}  own.mov\n"
            return lambda: self.house.client(Role.TECHNICIAN).browser.post(
                f"/api/studios/slipway-house/stock/{item.id}/manifest",
                {
                    "file": SimpleUploadedFile("m", (shared + own).encode()),
                    "material": item.holdings[0].material,
                },
            )

        answers = self.together(*(taking(item) for item in items))
        self.assertEqual({answer.status_code for answer in answers}, {200})
        self.assertEqual(ManifestMatch.objects.count(), 8 * 7 // 2)

    def test_the_same_serial_or_box_at_once_is_a_sentence(self) -> None:
        def adding(raw: bytes) -> Any:
            client = self.house.client(Role.TECHNICIAN)
            return lambda: client.browser.post(
                f"{client.root}/stock/import", {"file": SimpleUploadedFile("s", raw)}
            )

        for raw in (b"label,size,serial\nA,4TB,S-1\n", b"label,kind,size\nLoft,box,0TB\n"):
            answers = self.together(*(adding(raw) for _ in range(6)))
            statuses = sorted(answer.status_code for answer in answers)
            self.assertEqual((statuses[0], set(statuses[1:]) <= {409, 422}), (201, True), statuses)
            self.assertTrue(all(answer.json()["sentence"] for answer in answers if answer.status_code != 201))
        self.assertEqual(Device.objects.count(), 2)

    def test_the_database_alone_refusing_is_a_409(self) -> None:
        client = self.house.client(Role.TECHNICIAN)

        def upload() -> Any:
            form = {"file": SimpleUploadedFile("s", b"size,serial\n4TB,S-1\n")}
            return client.browser.post(f"{client.root}/stock/import", form)

        self.assertEqual(upload().status_code, 201)
        with mock.patch.object(stock, "_serials", return_value=set()):
            answer = upload()
        self.assertEqual((answer.status_code, answer.json()["code"]), (409, "taken"))
        self.assertIn("a device with this serial", answer.json()["sentence"])


class Ceilings(HouseCase):
    """Point 9."""

    def test_a_studio_has_so_many_devices_and_no_more(self) -> None:
        with mock.patch.object(stock, "MOST_DEVICES", 5):
            self.assertEqual(self.client_.post("/stock/quick", {"text": "5x 4TB"}).status_code, 201)
            refused = self.client_.post("/stock/quick", {"text": "4TB"})
        self.assertIn("at most 5 devices", self.check_envelope(refused, 422)["sentence"])

    def test_plans_come_in_pages_each_once(self) -> None:
        for _ in range(5):
            self.house.plan("halyard-street")
        seen, after = [], "0"
        with mock.patch("plans.router.PLANS_A_PAGE", 3):
            while after is not None:
                page = self.client_.get(f"/plans?after={after}").json()
                seen += [row["id"] for row in page["plans"]]
                after = page["next"]
        self.assertEqual((len(seen), len(set(seen))), (7, 7))
        self.check_envelope(self.client_.get("/plans?after=-1"), 422)

    def test_history_and_log_come_in_pages(self) -> None:
        for n in range(5):
            self.client_.save(n + 1, "plan/note", f"note {n}")
        with mock.patch("plans.router.HISTORY_SHOWN", 4):
            first = self.client_.get(f"{self.tern}/revisions").json()
            second = self.client_.get(f"{self.tern}/revisions?after={first['next']}").json()
        self.assertEqual([r["number"] for r in first["revisions"] + second["revisions"]], [6, 5, 4, 3, 2, 1])
        self.assertIsNone(second["next"])
        device = stock.add_quick(self.house.scope(Role.TECHNICIAN), "4TB hdd loft")[0].id
        for n in range(5):
            stock.change_device(self.house.scope(Role.TECHNICIAN), UUID(device), {"place": f"shelf {n}"})
        with mock.patch.object(stock, "LOG_SHOWN", 3):
            first = self.client_.get(f"/stock/{device}/log").json()
            second = self.client_.get(f"/stock/{device}/log?after={first['next']}").json()
        self.assertEqual((len(first["entries"]), len(second["entries"]), second["next"]), (3, 2, None))

    def test_one_label_among_many_devices_is_a_small_answer_and_few_questions(self) -> None:
        rows = "".join(f"D{n},4TB,S{n}\n" for n in range(2_000))
        items = stock.import_csv(self.house.scope(Role.TECHNICIAN), f"label,size,serial\n{rows}".encode())
        url = f"{self.client_.root}/stock/{items[7].id}"
        with self.assertNumQueries(12):
            answer = self.client_.browser.patch(
                url, {"changes": {"label": "Other"}}, content_type="application/json"
            )
        self.assertEqual([d["label"] for d in answer.json()["devices"]], ["Other"])
        self.assertLess(len(answer.content), 50_000)


class Proxies(TestCase):
    """Point 10."""

    def seen(self, address: str, **headers: str) -> dict[str, Any]:
        request = RequestFactory(REMOTE_ADDR=address).get("/", headers=headers)
        trusted_proxy(lambda request: request)(request)
        return request.META

    @override_settings(TRUSTED_PROXIES=["10.0.0.0/24"])
    def test_only_a_proxy_of_ours_says_who_and_how_the_client_came(self) -> None:
        answer = {"X-Forwarded-Proto": "https", "X-Forwarded-For": "203.0.113.9, 198.51.100.7"}
        stranger = self.seen("127.0.0.1", **answer)
        self.assertNotIn("HTTP_X_FORWARDED_PROTO", stranger)
        self.assertEqual(stranger["REMOTE_ADDR"], "127.0.0.1")
        ours = self.seen("10.0.0.7", **answer)
        self.assertEqual((ours["HTTP_X_FORWARDED_PROTO"], ours["REMOTE_ADDR"]), ("https", "198.51.100.7"))

    def test_production_does_not_start_for_every_host(self) -> None:
        from grandlarder.settings import base

        key = {"LARDER_SECRET_KEY": "k" * 60}
        try:
            with mock.patch.dict(environ, key | {"LARDER_HOSTS": "larder.example,*"}):
                reload(base)
                with self.assertRaisesRegex(ImproperlyConfigured, "LARDER_HOSTS cannot be"):
                    import_module("grandlarder.settings.production")
            with (
                mock.patch.dict(environ, key | {"LARDER_PROXIES": "everyone"}),
                self.assertRaisesRegex(ImproperlyConfigured, "LARDER_PROXIES"),
            ):
                reload(base)
        finally:
            reload(base)


class People(TestCase):
    """Point 10: a studio, a person and a password without the demo."""

    def run_command(self, *words: str, stdin: str = "") -> str:
        out = StringIO()
        with mock.patch("sys.stdin", StringIO(stdin)):
            call_command(*words, stdout=out)
        return out.getvalue()

    def test_a_studio_and_its_people_are_made_and_sign_in(self) -> None:
        self.run_command("make_studio", "lamp-house", "Lamp House")
        self.run_command(
            "make_person", "keeper", "--studio", "lamp-house", "--role", "owner", stdin="storm-petrel-19\n"
        )
        self.assertEqual(Membership.objects.get().role, "owner")
        client = Client()
        body = {"username": "keeper", "password": "storm-petrel-19"}
        self.assertEqual(client.post("/api/session", body, content_type="application/json").status_code, 200)
        self.run_command("set_password", "keeper", stdin="razorbill-rock-7\n")
        self.assertEqual(client.get("/api/session").json()["person"], None)
        self.run_command("make_person", "keeper", "--studio", "lamp-house", "--role", "viewer")
        self.assertEqual((Membership.objects.get().role, Person.objects.count()), ("viewer", 1))

    def test_what_does_not_fit_is_a_sentence(self) -> None:
        Studio.objects.create(slug="lamp-house", name="Lamp House")
        made = ("make_person", "keeper", "--studio", "lamp-house", "--role", "owner")
        for words, stdin, said in (
            (("make_studio", "Lamp House!", "x"), "", "slug cannot be"), (("make_studio", "lamp-house", "x"), "", "slug cannot be"), (made, "short\n", "too short"), (made, "", "too short"),
            (made, "password123\n", "too common"), (made, "keeper1234\n", "too similar"), (("make_person", "k", "--studio", "nowhere", "--role", "owner"), "x", "accepted is one of lamp-house"),
            (("set_password", "nobody"), "x", "nobody of this name"),
        ):  # fmt: skip
            with self.subTest(words=words), self.assertRaisesRegex(CommandError, said):
                self.run_command(*words, stdin=stdin)
        self.assertEqual(Person.objects.count(), 0)
