"""A plan's catalogue over the API: CSV in as a change, out as a file, and brought from another plan."""

from typing import Any

from tests.house import House
from tests.test_plans import PlanCase

PRICES = "class,price,currency,date\ndisk-16-array,300,EUR,2026-11-02\n"


class Catalogue(PlanCase):
    def ask(self, where: str, **body: Any) -> Any:
        return self.client_.post(f"{self.tern}/{where}", {"base": 1} | body)

    def test_generic_classes_then_a_price_list_become_one_saved_change(self) -> None:
        classes = self.ask("catalogue/bring").json()["patch"]
        self.assertGreater(len(classes), 20)
        read = self.ask("catalogue/read", patch=classes, text=PRICES).json()
        self.assertEqual((read["listing"], read["added"], read["replaced"]), ("prices", 1, 0))
        saved = self.client_.post(f"{self.tern}/revisions", {"base": 1, "patch": classes + read["patch"]})
        self.assertEqual(saved.status_code, 200)
        self.assertEqual(self.ask("catalogue/bring", base=2).json()["patch"], [])
        out = self.client_.get(f"{self.tern}/catalogue/prices")
        self.assertIn("disk-16-array,300.00,EUR,2026-11-02", out.content.decode())
        self.assertEqual(out["Content-Disposition"], 'attachment; filename="prices.csv"')

    def test_every_row_in_another_currency_or_form_is_told_and_nothing_is_saved(self) -> None:
        classes = self.ask("catalogue/bring").json()["patch"]
        read = self.ask("catalogue/read", patch=classes, text=PRICES.replace("EUR", "USD")).json()
        saved = self.client_.post(f"{self.tern}/revisions", {"base": 1, "patch": classes + read["patch"]})
        self.assertEqual(saved.status_code, 422)
        self.assertIn("EUR, the plan's currency", saved.json()["sentence"])
        faulty = self.ask(
            "catalogue/read", text=PRICES + "disk-16-array,cheap,EUR,2026-11-03\nx,1,EUR,soon\n"
        )
        fields = [p["field"] for p in faulty.json()["problems"]]
        self.assertEqual((faulty.status_code, fields), (422, ["line 3, price", "line 4, date"]))

    def test_another_plans_catalogue_comes_over_and_a_strangers_does_not(self) -> None:
        other = self.house.plan("tern-and-tide")
        patch = self.ask("catalogue/bring", from_plan=str(other.pk)).json()["patch"]
        self.assertIn("disk-16-array-20261102", {operation["value"]["id"] for operation in patch})
        foreign = self.ask("catalogue/bring", from_plan=str(House("other-house").tern.pk))
        self.assertEqual(foreign.status_code, 404)

    def test_drives_compared_name_their_change(self) -> None:
        classes = self.ask("catalogue/bring").json()["patch"]
        rows = self.ask("swap", patch=classes, pool_id="main").json()
        row = next(r for r in rows if r["drive_id"] == "disk-22-array")
        answer = self.ask("evaluate", patch=classes + row["patch"]).json()["evaluation"]
        self.assertEqual(answer["tiers"]["pools"][0]["plannable_bytes"], row["plannable_bytes"])
        self.assertEqual(self.ask("swap", pool_id="attic").status_code, 422)
