"""Beginning a plan, its formats by typing, and finding: the API on a real database."""

from __future__ import annotations

from typing import Any

from django.test import TestCase

from accounts.models import Role
from larder.base.patch import apply_patch
from larder.readers.plan_file import bundle_from
from stock.actions import add_quick, import_csv
from tests.house import House

LINE = "4 edit seats play 2 streams 220 Mb/s, 1 colour 4K 10-bit 444, 2 photo 60MB raw, 8 TB today, 9000 EUR"


class BeginCase(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client_ = self.house.client(Role.TECHNICIAN)
        self.tern = self.client_.tern

    def begin(self, **wanted: Any) -> dict[str, Any]:
        answer = self.client_.post("/plans", {"name": "Loft"} | wanted)
        self.assertEqual(answer.status_code, 201, answer.content)
        return answer.json()

    def refused(self, **wanted: Any) -> str:
        answer = self.client_.post("/plans", {"name": "Loft"} | wanted)
        self.assertEqual(answer.status_code, 422)
        return answer.json()["sentence"]


class Begin(BeginCase):
    def test_from_a_line(self) -> None:
        plan = self.begin(line=LINE)
        self.assertEqual(
            [s["kind"] for s in plan["document"]["plan"]["brief"]["seats"]], ["footage", "footage", "photo"]
        )
        self.assertEqual([w["stage"] for w in plan["evaluation"]["open_work"]], ["tiers"])
        self.assertIn("“gold” is no word of a brief", self.refused(line=f"{LINE}, gold"))

    def test_while_it_is_typed(self) -> None:
        answer = self.client_.post("/understand", {"line": f"{LINE}, gold"}).json()
        self.assertEqual([u["words"] for u in answer["line"]["unknown"]], ["gold"])
        self.assertEqual(answer["scales"]["speed"]["verdict"], "open")
        self.assertEqual(answer["scales"], self.begin(line=LINE)["evaluation"]["scales"])
        self.assertEqual(answer["open_work"][0]["words"], "a first pool of drives")
        for line in ("", "x" * 3000, "\u0000", "9000 EUR, 9000 USD", "0 seats"):
            self.assertEqual(self.client_.post("/understand", {"line": line}).status_code, 200, line)

    def test_from_a_starting_point_a_copy_or_nothing(self) -> None:
        self.assertEqual(self.begin(starting_point="film-team-of-six")["evaluation"]["findings"], [])
        copy = self.begin(copy_of=str(self.house.halyard.pk))
        there = self.client_.get(self.client_.halyard).json()
        self.assertEqual(copy["document"]["plan"] | {"name": ""}, there["document"]["plan"] | {"name": ""})
        self.assertEqual((copy["name"], copy["head"]), ("Loft", 1))
        empty = self.begin()
        self.assertEqual(empty["document"]["plan"]["brief"]["seats"], [])
        self.assertIn("one of one-who-travels", self.refused(starting_point="attic"))
        self.assertIn("nothing beside line", self.refused(line=LINE, starting_point="film-team-of-six"))
        foreign = House("other-house")
        answer = self.client_.post("/plans", {"name": "Loft", "copy_of": str(foreign.tern.pk)})
        self.assertEqual(answer.status_code, 404)


class Formats(BeginCase):
    def test_what_is_typed_makes_a_seat_with_its_format(self) -> None:
        plan = self.begin()
        at = f"/plans/{plan['id']}"
        found = self.client_.post(f"{at}/formats", {"base": 1, "text": "4k 10 bit 422 400"}).json()
        body = {
            "base": 1,
            "path": "plan/brief/seats",
            "given": {"kind": "footage"},
            "media": found["choices"][0]["given"],
        }
        patch = self.client_.post(f"{at}/new-item", body).json()["patch"]
        saved = self.client_.post(f"{at}/revisions", {"base": 1, "patch": patch}).json()
        [media] = saved["document"]["catalogue"]["formats"]
        self.assertEqual(saved["document"]["plan"]["brief"]["seats"][0]["format_id"], media["id"])
        none = self.client_.post(f"{at}/formats", {"base": 1, "text": "gold"}).json()
        self.assertIn("“gold” is no word", none["sentence"])
        bad = self.client_.post(f"{at}/new-item", body | {"media": {"kind": "gold"}}).json()
        self.assertEqual(bad["code"], "refused")


class Find(BeginCase):
    def found(self, text: str) -> list[tuple[str, str]]:
        answer = self.client_.post(f"{self.tern}/find", {"base": 1, "text": text})
        self.assertEqual(answer.status_code, 200)
        return [(hit["kind"], hit["name"]) for hit in answer.json()]

    def test_the_plan_the_plans_and_the_stock(self) -> None:
        scope = self.house.scope(Role.TECHNICIAN)
        [drive] = add_quick(scope, "4TB hdd loft Puffin")
        name = self.house.halyard.name
        self.assertIn(("plan", name), self.found(name))
        self.assertIn(("plan", name), self.found(f"plan {name[:4]}"))
        self.assertIn(("device", drive.label), self.found("loft 4"))
        import_csv(scope, b"label,size,serial\nSpare,4TB,S-77\n")
        self.assertEqual(self.found("s-77"), [("device", "Spare")])
        self.assertIn(("figure", "Speed"), self.found("speed"))
        self.assertEqual(self.found(" "), [])
        for text in ("%", "_", "'; --", "\\", "x" * 400):
            self.found(text)

    def test_open_changes_are_found_and_other_studios_are_not(self) -> None:
        foreign = House("other-house")
        add_quick(foreign.scope(Role.TECHNICIAN), "4TB hdd loft")
        self.assertNotIn("device", [kind for kind, _ in self.found("loft")])
        self.assertEqual(len([1 for kind, _ in self.found("plan") if kind == "plan"]), 2)
        patch = [{"op": "set", "path": "plan/pools/main/name", "value": "Kittiwake"}]
        body = {"base": 1, "text": "kitti", "patch": patch}
        hit, *_ = self.client_.post(f"{self.tern}/find", body).json()
        self.assertEqual((hit["kind"], hit["at"]), ("pool", "plan/pools/main/name"))
        bundle = bundle_from(apply_patch(self.client_.get(self.tern).json()["document"], ()))
        self.assertEqual(bundle.plan.name, self.house.tern.name)
