"""Advice, comparing and the owner's page through the API, on a real database."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.test import TestCase

from accounts.models import Role
from jobs.models import LongJob
from jobs.tasks import work_on_slice
from larder.asks.advisor.advise import advise
from larder.asks.owner_page import as_markdown, owner_page
from larder.judge.evaluation import evaluate
from larder.readers.plan_file import bundle_from
from tests.house import House


class AdviceCase(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client_ = self.house.client(Role.TECHNICIAN)
        self.plan = self.client_.halyard

    def ask(self, what: str, /, **asked: Any) -> HttpResponse:
        return self.client_.post(f"{self.plan}/{what}", {"base": 1, "patch": []} | asked)

    def refused(self, answer: HttpResponse, status: int = 422) -> str:
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()["sentence"]

    def loft(self) -> dict[str, Any]:
        """A plan that a line began, and the change that prices it."""
        made = self.client_.post("/plans", {"name": "Loft", "line": "2 edit seats play 220 Mb/s, 8 TB today"})
        self.plan = f"/plans/{made.json()['id']}"
        return {"patch": self.ask("advise/prices").json()["patch"]}


class Asked(AdviceCase):
    def test_the_advice_is_the_cores(self) -> None:
        answer = self.ask("advise").json()
        document = self.client_.get(self.plan).json()["document"]
        advice = advise(bundle_from(document)).advice
        self.assertEqual(answer, advice.model_dump(mode="json"))
        first = self.ask("advise", losers=False).json()
        self.assertIn("unasked", {school["verdict"] for school in first["schools"]})
        self.assertNotIn("unasked", {school["verdict"] for school in answer["schools"]})

    def test_a_design_becomes_a_plan(self) -> None:
        answer = self.ask("advise").json()
        design = next(s["design"] for s in answer["schools"] if s["id"] == "turnkey-box")
        made = self.ask("advise/open", key=design["key"], name="Opened")
        self.assertEqual(made.status_code, 201, made.content)
        plan = self.client_.get(f"/plans/{made.json()['id']}").json()
        self.assertEqual(plan["name"], "Opened")
        self.assertEqual(plan["evaluation"]["money"]["spent"], design["measured"]["capex"])

    def test_refused_are_keys_and_things_that_are_none(self) -> None:
        self.assertIn("design cannot be", self.refused(self.ask("advise/open", key="nonsense", name="X")))
        self.assertIn("that is offered", self.refused(self.ask("advise/why-not", of="box:77")))
        viewer = self.house.client(Role.VIEWER)
        body = {"base": 1, "patch": [], "key": "x", "name": "X"}
        self.assertEqual(viewer.post(f"{self.plan}/advise/open", body).status_code, 403)

    def test_an_empty_catalogue_says_what_it_lacks_and_is_priced_by_one_change(self) -> None:
        priced = self.loft()
        self.assertIn("Catalogue", self.refused(self.ask("advise")))
        self.assertIn("Catalogue", self.refused(self.ask("advise/search")))
        offer = self.ask("advise/offered", **priced).json()
        self.assertTrue(offer["takes_long"])
        self.assertGreater(len(offer["items"]), 40)


class LookedThroughAsAJob(AdviceCase):
    def setUp(self) -> None:
        super().setUp()
        self.priced = self.loft()

    def search(self, more: str = "", **asked: Any) -> dict[str, Any]:
        return self.ask(f"advise/search{more}", **self.priced, **asked).json()

    def test_it_is_refused_at_once_and_comes_to_the_same_in_parts(self) -> None:
        self.assertIn("as a job", self.refused(self.ask("advise", **self.priced)))
        self.assertIsNone(self.search(begin=False))
        viewer = self.house.client(Role.VIEWER)
        asked = {"base": 1, "patch": [], "begin": False}
        self.assertIsNone(viewer.post(f"{self.plan}/advise/search", asked).json())
        begun = self.search()
        self.assertEqual((begun["status"], begun["done"], begun["advice"]), ("waiting", 0, None))
        job = LongJob.objects.get(pk=begun["id"])
        work_on_slice(str(job.pk), 0, 1)
        first = self.search(begin=False)
        self.assertEqual((first["id"], first["done"]), (begun["id"], 1))
        self.assertTrue(first["advice"]["designs"])
        self.assertEqual({school["verdict"] for school in first["advice"]["schools"]}, {"unasked"})
        unsettled = self.ask("advise/disagreements", **self.priced).json()[-1]
        self.assertIn("a search that is done", unsettled["left"]["why_not"])
        work_on_slice(str(job.pk), 1, job.wanted)
        whole = self.search()
        self.assertEqual((whole["id"], whole["status"]), (begun["id"], "done"))
        advice = advise(bundle_from(job.asked["document"])).advice.model_dump(mode="json")
        self.assertEqual(whole["advice"], advice)
        settled = self.ask("advise/disagreements", **self.priced).json()[-1]
        self.assertEqual(settled["left"]["why_not"], "")

    def test_what_is_pointed_at_and_a_little_more(self) -> None:
        nothing = self.ask("advise/search/why-not", **self.priced, of="box:777")
        self.assertIn("that is offered", self.refused(nothing))
        for kind, asked in (("/why-not", {"of": "layout:raid6"}), ("/more", {})):
            job = LongJob.objects.get(pk=self.search(kind, **asked)["id"])
            work_on_slice(str(job.pk), 0, job.wanted)
            answer = self.search(kind, **asked)
            self.assertEqual(answer["status"], "done")
            self.assertTrue(answer["why_not"] or answer["more"])

    def test_who_asks_anew_ends_what_was_asked_before_and_cancelled_it_stays(self) -> None:
        first = self.search()
        other = [{"op": "set", "path": "plan/brief/budget", "value": "9000.00"}]
        second = self.ask("advise/search", patch=[*self.priced["patch"], *other]).json()
        self.assertNotEqual(first["id"], second["id"])
        self.assertEqual(self.client_.get(f"/jobs/{first['id']}").json()["status"], "cancelled")
        self.client_.post(f"/jobs/{second['id']}/cancel", {})
        work_on_slice(second["id"], 0, second["wanted"])
        self.assertEqual(self.client_.get(f"/jobs/{second['id']}").json()["done"], 0)


class SideBySide(AdviceCase):
    def compare(self, *plans: Any, **asked: Any) -> HttpResponse:
        return self.client_.post("/side-by-side", {"plans": list(plans)} | asked)

    def test_plans_and_earlier_revisions(self) -> None:
        here = {"plan_id": str(self.house.halyard.pk)}
        saved = self.client_.save(1, "plan/brief/budget", "900", plan=self.plan)
        self.assertEqual(saved.status_code, 200, saved.content)
        answer = self.compare(here, here | {"revision": 1}).json()
        document = self.client_.get(self.plan).json()["document"]
        spent = float(evaluate(bundle_from(document)).money.spent)
        now = next(row for row in answer["rows"] if row["id"] == "capex")
        self.assertEqual([cell["value"] for cell in now["cells"]], [spent, spent])
        table = self.client_.post("/side-by-side.csv", {"plans": [here, here | {"revision": 1}]})
        self.assertTrue(table.content.decode().startswith("measure,better,"))

    def test_refused_are_one_plan_a_revision_that_is_none_and_a_foreign_plan(self) -> None:
        here = {"plan_id": str(self.house.halyard.pk)}
        self.assertEqual(self.compare(here).status_code, 422)
        self.assertEqual(self.compare(here, here | {"revision": 99}).status_code, 404)
        other = House("other-house")
        foreign = {"plan_id": str(other.halyard.pk)}
        self.assertEqual(self.compare(here, foreign).status_code, 404)
        self.assertEqual(self.compare(here, here, what_if={"seats_percent": -1}).status_code, 422)


class ForTheOwner(AdviceCase):
    def test_the_page_in_its_three_forms(self) -> None:
        bundle = bundle_from(self.client_.get(self.plan).json()["document"])
        page = owner_page(bundle)
        text = self.client_.get(f"{self.plan}/owner-page.md")
        self.assertEqual(text.content.decode(), as_markdown(page))
        html = self.client_.get(f"{self.plan}/owner-page.html")
        self.assertIn(page.sentence, html.content.decode())
        self.assertIn("style-src 'unsafe-inline'", html.headers["Content-Security-Policy"])
        self.assertNotIn("script-src", html.headers["Content-Security-Policy"])
        pdf = self.client_.get(f"{self.plan}/owner-page.pdf")
        self.assertEqual((pdf.content[:5], pdf.headers["Content-Type"]), (b"%PDF-", "application/pdf"))
        # Both drawings and the words: a page of nothing would be a tenth of it.
        self.assertGreater(len(pdf.content), 15_000)

    def test_what_somebody_named_a_pool_is_shown_and_not_obeyed(self) -> None:
        name = "<img src=x onerror=alert(1)>"
        pool = self.client_.get(self.plan).json()["document"]["plan"]["pools"][0]["id"]
        saved = self.client_.save(1, f"plan/pools/{pool}/name", name, plan=self.plan)
        self.assertEqual(saved.status_code, 200, saved.content)
        html = self.client_.get(f"{self.plan}/owner-page.html").content.decode()
        self.assertNotIn("<img", html)
        self.assertIn("&lt;img src=x", html)
