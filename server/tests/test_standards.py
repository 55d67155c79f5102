"""A studio's standards: made out of a plan, taken into another, the start of new ones; never across studios."""

from typing import Any

from accounts.models import Role
from larder.plan.bundle import SCHEMA_VERSION
from plans.models import AuditEntry, StudioStandards
from tests.house import House
from tests.test_plans import PlanCase

RULE = "house_rules/enough_ratio"
PRICES = "class,price,currency,date\ndisk-16-array,300,EUR,2026-11-02\n"


class Standards(PlanCase):
    def kept(self) -> dict[str, Any]:
        return self.client_.get("/standards").json()

    def make(self, part: str, number: int, *patch: dict[str, Any], plan: str = "") -> Any:
        body = {"base": 1, "patch": list(patch), "part": part, "number": number}
        return self.client_.post(f"{plan or self.tern}/standards/make", body)

    def take(self, plan: str, part: str) -> Any:
        return self.client_.post(f"{plan}/standards/take", {"base": 1, "part": part})

    def test_every_studio_starts_with_the_defaults_and_the_generic_classes(self) -> None:
        kept = self.kept()
        self.assertEqual((kept["number"], kept["changed_at"], kept["prices"]), (0, None, 0))
        self.assertEqual(kept["house_rules"]["enough_ratio"], 1.15)
        self.assertGreater(kept["classes"], 20)

    def test_what_an_older_version_kept_is_brought_to_todays_and_what_cannot_be_read_shuts_nobody_out(
        self,
    ) -> None:
        self.make("house_rules", 0, {"op": "set", "path": RULE, "value": 1.3})
        row = StudioStandards.objects.get()
        self.assertEqual(row.document["schema"], SCHEMA_VERSION)
        older = {key: value for key, value in row.document.items() if key != "schema"}
        older["house_rules"]["thin_overcommit_max"] = 1.5
        older["catalogue"]["prices"] = [
            {
                "id": "p",
                "item_id": older["catalogue"]["drives"][0]["id"],
                "amount": "9.00",
                "currency": "EUR",
                "priced_on": "2500-01-01",
            }
        ]
        StudioStandards.objects.update(document=older)
        kept = self.kept()
        self.assertEqual((kept["reason"], kept["house_rules"]["enough_ratio"], kept["prices"]), ("", 1.3, 1))
        for broken in ([], {"schema": "grand-larder/bundle/99"}, {"house_rules": {"enough_ratio": "much"}}):
            StudioStandards.objects.update(document=broken)
            kept = self.kept()
            self.assertEqual(
                (bool(kept["reason"]), kept["house_rules"]["enough_ratio"]), (True, 1.15), broken
            )
            self.assertEqual(self.client_.post("/plans", {"name": "Begun all the same"}).status_code, 201)
        self.assertEqual(self.make("house_rules", 1).json()["reason"], "")

    def test_a_rule_made_the_studios_is_taken_by_another_plan_and_starts_new_ones(self) -> None:
        made = self.make("house_rules", 0, {"op": "set", "path": RULE, "value": 1.3}).json()
        self.assertEqual((made["number"], made["house_rules"]["enough_ratio"]), (1, 1.3))
        self.assertEqual(made["changed_by"], "technician")
        self.assertEqual(AuditEntry.objects.first().detail, "house rules of Tern & Tide, one box")
        # What was on the screen became the studio's; the plan itself was not saved by it.
        self.assertEqual(self.client_.get(self.tern).json()["head"], 1)
        patch = self.take(self.client_.halyard, "house_rules").json()["patch"]
        self.assertEqual([(o["path"], o["value"]) for o in patch], [(RULE, 1.3)])
        new = self.client_.post("/plans", {"name": "Skerry"}).json()["document"]
        self.assertEqual(new["house_rules"]["enough_ratio"], 1.3)

    def test_classes_and_prices_are_added_to_the_studios(self) -> None:
        brought = self.client_.post(f"{self.tern}/catalogue/bring", {"base": 1}).json()["patch"]
        asked = {"base": 1, "patch": brought, "text": PRICES}
        priced = brought + self.client_.post(f"{self.tern}/catalogue/read", asked).json()["patch"]
        before = self.kept()["classes"]
        made = self.make("catalogue", 0, *priced).json()
        self.assertEqual((made["classes"], made["prices"], made["currency"]), (before, 1, "EUR"))
        again = self.make("catalogue", 1, *priced).json()
        self.assertEqual(again["number"], 1)
        new = self.client_.post("/plans", {"name": "Skerry"}).json()["document"]
        self.assertEqual([p["amount"] for p in new["catalogue"]["prices"]], ["300.00"])
        self.client_.save(1, "currency", "USD", plan=self.tern)
        taken = self.client_.post(f"{self.tern}/standards/take", {"base": 2, "part": "catalogue"})
        self.assertEqual(taken.status_code, 422)
        self.assertIn("the currency of the studio's price list", taken.json()["sentence"])

    def test_a_decision_on_an_older_state_is_not_carried_out(self) -> None:
        self.make("house_rules", 0, {"op": "set", "path": RULE, "value": 1.3})
        late = self.make("house_rules", 0, {"op": "set", "path": RULE, "value": 1.1})
        self.assertEqual((late.status_code, late.json()["code"]), (409, "stale"))
        self.assertEqual(self.kept()["house_rules"]["enough_ratio"], 1.3)

    def test_what_is_no_plan_becomes_nobodys_standard(self) -> None:
        refused = self.make("house_rules", 0, {"op": "set", "path": RULE, "value": 0.2})
        self.assertEqual(refused.json()["problems"][0]["field"], RULE)
        self.assertFalse(StudioStandards.objects.exists())

    def test_a_viewer_reads_and_another_studio_sees_nothing_of_it(self) -> None:
        self.make("house_rules", 0, {"op": "set", "path": RULE, "value": 1.3})
        self.assertEqual(self.house.client(Role.VIEWER).get("/standards").json()["number"], 1)
        self.assertEqual(House("other-house").client(Role.OWNER).get("/standards").json()["number"], 0)
