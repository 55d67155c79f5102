"""Each step of the upgrade by itself: what it makes of small documents, what it tells, and what it leaves alone."""

import copy
import itertools
import unittest
from typing import Any

from larder.base.errors import Refused
from larder.plan.upgrade import FIRST, NEWEST, STEPS, Change, to_2, to_3, to_4, to_7, to_8, upgraded

Document = dict[str, Any]


def told(step: Any, document: Document) -> tuple[Document, list[Change]]:
    """What a step makes of a document, which stays as it was, and what it says."""
    before, changes = copy.deepcopy(document), []
    made = step(document, changes)
    assert document == before, "a step changes nothing in place"
    return made, changes


class Ladder(unittest.TestCase):
    def test_every_step_leads_to_the_next_version_and_the_last_to_todays(self) -> None:
        versions = [*STEPS, NEWEST]
        for version, after in itertools.pairwise(versions):
            self.assertEqual(told(STEPS[version], {"schema": version})[0]["schema"], after)
        self.assertEqual(upgraded({"schema": FIRST}).document["schema"], NEWEST)
        self.assertEqual(upgraded({"schema": NEWEST, "x": 1}).document, {"schema": NEWEST, "x": 1})

    def test_what_is_no_version_is_refused(self) -> None:
        for version in (None, 3, "grand-larder/bundle/0", ["x"]):
            self.assertRaises(Refused, upgraded, {"schema": version})

    def test_no_step_falls_over_what_is_no_document(self) -> None:
        for plan in (None, [], "x", {"pools": 1}, {"pools": [1], "purchases": [1], "brief": 1, "wiring": 1},
                     {"wiring": {"hops": [1]}, "brief": {"seats": [1], "services": [1]}}):  # fmt: skip
            for step in STEPS.values():
                told(step, {"schema": "x", "plan": plan, "house_rules": [], "catalogue": {"formats": [1]}})


class ToTwo(unittest.TestCase):
    def clamped(self, where: str, item: Document) -> tuple[Document, list[Change]]:
        top, name = where.split("/")
        made, changes = told(
            to_2.step, {top: {name: [item]}} if top == "catalogue" else {"plan": {"brief": {name: [item]}}}
        )
        of = made["catalogue"] if top == "catalogue" else made["plan"]["brief"]
        return of[name][0], changes

    def test_fields_stay_at_their_bounds_and_are_brought_to_them(self) -> None:
        for where, field, low, high in (
            ("plan/day_parts", "hours", 0.25, 24),
            ("plan/seats", "image_bytes", 0, 100 * 10**9),
            ("plan/seats", "export_bytes", 0, 100 * 10**9),
            ("catalogue/formats", "bytes_per_s", 1.0, 100e9),
            ("catalogue/formats", "low_bytes_per_s", 1.0, 100e9),
            ("catalogue/formats", "image_bytes", 1, 100 * 10**9),
            ("catalogue/formats", "interval_s", 0.01, 86_400),
        ):
            for value, wanted in ((low, low), (high, high), (high * 2, high), (low - 0.5, low)):
                item, changes = self.clamped(where, {"id": "a", field: value})
                self.assertEqual(item[field], wanted, (field, value))
                # A rate near nothing is taken for none first, and then brought to the least there is.
                made_now = (
                    [(changes[0].was, changes[-1].now, changes[-1].path[-len(field) :])] if changes else []
                )
                self.assertEqual(made_now, [] if value == wanted else [(value, wanted, field)])
        for odd in ("many", None, True):
            self.assertEqual(
                self.clamped("plan/day_parts", {"id": "a", "hours": odd}), ({"id": "a", "hours": odd}, [])
            )

    def test_days_lie_within_the_calendar_and_tiny_numbers_are_none(self) -> None:
        for before, after in (
            ({"as_of": "1969-12-31"}, "1970-01-01"), ({"starts_on": "2200-01-01"}, "2199-12-31"),
            ({"as_of": "2026-12-02"}, "2026-12-02"), ({"name": "1969-12-31"}, "1969-12-31"),
            ({"as_of": "soon"}, "soon"), ({"unreadable_per_bit": 1e-31}, 0.0), ({"unreadable_per_bit": 1e-30}, 1e-30),
            ({"probability": 1e-13}, 0.0), ({"probability": 1e-12}, 1e-12), ({"probability": -1e-13}, 0.0),
            ({"read_bytes_per_s": 0.5}, 0.0), ({"read_bytes_per_s": 1.0}, 1.0),
        ):  # fmt: skip
            made, changes = told(to_2.step, {"plan": {"list": [{"id": "x"} | before]}})
            ((field, value),) = before.items()
            self.assertEqual(made["plan"]["list"][0][field], after, before)
            paths = [] if value == after else [f"plan/list/x/{field}"]
            self.assertEqual([change.path for change in changes], paths)
        unnamed, changes = told(
            to_2.step, {"plan": {"list": [{"as_of": "1900-01-01"}, {"as_of": "1900-01-01"}]}}
        )
        self.assertEqual([change.path for change in changes], ["plan/list/0/as_of", "plan/list/1/as_of"])
        self.assertEqual(unnamed["plan"]["list"][0], {"as_of": "1970-01-01"})

    def test_frames_are_what_is_brought_down_where_a_geometry_asks_too_much(self) -> None:
        small = {
            "id": "f",
            "kind": "computed",
            "width": 1920,
            "height": 1080,
            "fps": 25,
            "bits": 10,
            "sampling": "422",
        }
        self.assertEqual(self.clamped("catalogue/formats", small), (small, []))
        large = small | {"width": 100_000, "height": 100_000, "fps": 50}
        item, (change,) = self.clamped("catalogue/formats", large)
        # Ten billion pixels of two samples and ten bits are 25 GB a frame, packed pixels 40: of both the larger.
        per_frame = 1e10 * max(2 * 10 / 8, 4.0)
        self.assertAlmostEqual(item["fps"], 100e9 / per_frame * 0.99)
        self.assertEqual((change.path, change.was), ("catalogue/formats/f/fps", 50))
        packed = self.clamped("catalogue/formats", large | {"ratio": 10, "fps": 24})[0]
        self.assertEqual(packed["fps"], 24)
        deep = self.clamped("catalogue/formats", large | {"bits": 32, "sampling": "444"})[0]
        self.assertAlmostEqual(deep["fps"], 100e9 / (1e10 * 12) * 0.99)
        for sampling, samples in (
            ("420", 1.5),
            ("422", 2),
            ("444", 3),
            ("4444", 4),
            ("bayer", 1),
            ("odd", 4),
        ):
            made_now = self.clamped("catalogue/formats", large | {"bits": 64, "sampling": sampling})[0]
            self.assertAlmostEqual(made_now["fps"], 100e9 / (1e10 * samples * 8) * 0.99, msg=sampling)


class ToThreeAndFour(unittest.TestCase):
    def test_what_was_judged_by_defaults_then_is_said_now_and_what_was_said_stays(self) -> None:
        made, changes = told(to_3.step, {"house_rules": {"rush_odds": 0.7}})
        rules = {"sized_on_percentile": 95.0, "rush_odds": 0.7, "rebuild_share_percent": 50.0}
        self.assertEqual((made["house_rules"], changes), (rules, []))
        four, _ = told(to_4.step, {"house_rules": {}})
        self.assertEqual(four["house_rules"], {"working_days_per_week": 7.0})
        self.assertEqual(
            told(to_4.step, {"house_rules": {"working_days_per_week": 5}})[0]["house_rules"],
            {"working_days_per_week": 5},
        )

    def plan(self, hops: list[Any], seats: list[Any], **more: Any) -> Document:
        brief = {"seats": seats, "services": [{"id": "backup"}, "odd"]}
        return {"plan": {"brief": brief, "wiring": {"hops": hops, "mtu": 9000}} | more}

    def graph(self, hops: list[Any], seats: list[Any], **more: Any) -> tuple[list[Any], list[Any]]:
        wiring = told(to_4.step, self.plan(hops, seats, **more))[0]["plan"]["wiring"]
        self.assertEqual((wiring["mtu"], "hops" in wiring), (9000, False))
        return wiring.get("switches", []), wiring.get("links", [])

    def test_a_chain_becomes_switches_and_links_in_its_order(self) -> None:
        hops = [
            {"id": "plug", "serves": "seat", "speed": "10GbE", "links": 2},
            {"id": "slow", "serves": "seat", "speed": "1GbE"},
            {"id": "core", "speed": "25GbE", "links": 2},
            {"id": "box", "speed": "10GbE"},
        ]
        switches, links = self.graph(hops, [{"id": "edit"}], boxes=[{"id": "b"}])
        self.assertEqual(
            [(s["id"], s["name"], s["ports"]) for s in switches],
            [("switch-1", "Switch 1", ""), ("switch-2", "Switch 2", "")],
        )
        made_now = [(link["id"], link["near"], link["far"], link["speed"], link["links"]) for link in links]
        self.assertEqual(
            made_now,
            [
                ("plug-edit", "seat:edit", "switch:switch-1", "1GbE", 1),
                ("core", "switch:switch-1", "switch:switch-2", "25GbE", 2),
                ("box", "switch:switch-2", "box:b", "10GbE", 1),
            ],
        )

    def test_seats_alone_and_hops_that_all_share_alone(self) -> None:
        own = [{"id": "plug", "serves": "seat", "speed": "10GbE", "links": 2}]
        switches, links = self.graph(own, [{"id": "edit"}])
        self.assertEqual((switches, [(link["far"], link["links"]) for link in links]), ([], [("storage", 2)]))
        shared = [{"id": "core", "speed": "5GbE", "links": 2}]
        switches, links = self.graph(shared, [{"id": "edit"}])
        self.assertEqual([s["name"] for s in switches], ["Switch"])
        self.assertEqual(
            [(e["id"], e["speed"], e["links"]) for e in links],
            [("plug-edit", "5GbE", 1), ("core", "5GbE", 2)],
        )
        self.assertEqual(self.graph([], [{"id": "edit"}]), ([], []))
        odd = self.graph([{"id": "plug", "serves": "seat", "speed": "odd"}, {"id": "two", "serves": "seat", "speed": "100GbE"}],
                         [{"id": "edit"}])  # fmt: skip
        self.assertEqual(odd[1][0]["speed"], "100GbE")

    def test_who_has_a_port_and_who_comes_from_outside(self) -> None:
        seats = [
            {"id": "office"},
            {"id": "inside", "seated": "inside"},
            {"id": "far", "kind": "remote"},
            {"id": "screen", "kind": "remote", "way": "remote control"},
        ]
        _, links = self.graph([{"id": "core", "speed": "10GbE"}], seats)
        self.assertEqual(
            [link["id"] for link in links], ["plug-office", "plug-screen", "core", "outside-line"]
        )
        self.assertEqual((links[-1]["near"], links[-1]["far"]), ("outside", "switch:switch-1"))
        _, alone = self.graph([{"id": "plug", "serves": "seat", "speed": "1GbE"}], seats)
        self.assertEqual([each["id"] for each in alone], ["plug-office", "plug-screen"])

    def test_ids_that_are_taken_get_a_number_and_long_ones_are_cut(self) -> None:
        hops = [{"id": "plug-a", "speed": "1GbE"}, {"id": "outside-line", "speed": "1GbE"}]
        _, links = self.graph(hops, [{"id": "a"}, {"id": "far", "kind": "remote"}, {"id": "b" * 60}])
        ids = [link["id"] for link in links]
        self.assertEqual(
            ids, ["plug-a-2", ("plug-" + "b" * 60)[:40], "plug-a", "outside-line", "outside-line-2"]
        )

    def test_storage_is_the_one_box_without_ports(self) -> None:
        def far(boxes: list[Document]) -> str:
            return str(self.graph([{"id": "core", "speed": "1GbE"}], [], boxes=boxes)[1][-1]["far"])

        self.assertEqual(far([{"id": "b"}]), "box:b")
        for boxes in ([{"id": "b", "ports": "2x10GbE"}], [{"id": "b"}, {"id": "c"}], []):
            self.assertEqual(far(boxes), "storage")

    def test_services_enter_where_the_seats_do_behind_several_switches(self) -> None:
        two = [{"id": "core", "speed": "1GbE"}, {"id": "box", "speed": "1GbE"}]
        made = told(to_4.step, self.plan(two, []))[0]["plan"]["brief"]["services"]
        self.assertEqual(made, [{"id": "backup", "enters_at": "switch-1"}, "odd"])
        made = told(to_4.step, self.plan(two[:1], []))[0]["plan"]["brief"]["services"]
        self.assertEqual(made, [{"id": "backup"}, "odd"])


class ToSeven(unittest.TestCase):
    def made(self, *pools: Document, **brief: Any) -> tuple[Document, list[Change]]:
        made, changes = told(to_7.step, {"plan": {"pools": list(pools), "brief": brief}})
        return made["plan"], changes

    def test_a_tick_becomes_a_copy_of_what_its_tier_holds(self) -> None:
        tick = {"is_copied_nightly": True}
        plan, (change,) = self.made({"id": "main", "name": "Main"} | tick)
        self.assertEqual(plan["pools"], [{"id": "main", "name": "Main"}])
        (store,) = plan["safekeeping"]["stores"]
        (copied,) = plan["safekeeping"]["copies"]
        self.assertEqual(
            store,
            {"id": "copied-main", "name": "Where Main goes at night", "kind": "a box", "access": "online"},
        )
        self.assertEqual(copied, {"id": "copied-main", "name": "Main, every night", "to": "store:copied-main",
                                  "material_ids": "hot settings archive exports"})  # fmt: skip
        self.assertEqual(
            (change.path, change.was, change.now),
            ("plan/pools/main/is_copied_nightly", True, "Main, every night"),
        )
        self.assertIn("Main, every night", change.said)

    def test_of_two_tiers_each_copies_its_own(self) -> None:
        hot, cold = {"id": "hot", "name": "H"}, {"id": "cold", "name": "C", "tier": "archive"}
        tick = {"is_copied_nightly": True}
        plan, changes = self.made(hot | tick, cold | tick)
        self.assertEqual(
            [c["material_ids"] for c in plan["safekeeping"]["copies"]], ["hot settings", "archive exports"]
        )
        self.assertEqual(len(changes), 2)
        plan, changes = self.made(hot | {"is_copied_nightly": False}, cold)
        self.assertEqual((plan["pools"], changes, "safekeeping" in plan), ([hot, cold], [], False))

    def test_project_files_that_were_copied_are_and_the_tick_goes_in_any_case(self) -> None:
        plan, (change,) = self.made(projects_copied=True)
        self.assertEqual(plan["safekeeping"]["copies"][0]["material_ids"], "projects")
        self.assertEqual((plan["brief"], change.path), ({}, "plan/brief/projects_copied"))
        plan, changes = self.made(projects_copied=False, note="x")
        self.assertEqual((plan["brief"], changes), ({"note": "x"}, []))

    def test_long_ids_and_names_are_cut_to_what_is_accepted(self) -> None:
        plan, _ = self.made({"id": "a" * 40, "name": "N" * 80, "is_copied_nightly": True})
        (copied,) = plan["safekeeping"]["copies"]
        self.assertEqual((len(copied["id"]), copied["name"]), (40, "N" * 60 + ", every night"))
        self.assertEqual(plan["safekeeping"]["stores"][0]["name"], f"Where {'N' * 50} goes at night")
        plan, _ = self.made({"id": "a" * 32 + "-b", "name": "N", "is_copied_nightly": True})
        self.assertEqual(plan["safekeeping"]["copies"][0]["id"], "copied-" + "a" * 32)


class ToEight(unittest.TestCase):
    def test_a_purchase_becomes_the_part_that_its_name_says_and_the_first_that_fits_decides(self) -> None:
        for name, part in (
            ("10GbE Adapter", "adapter"), ("Network card", "network card"), ("Patch lead 3 m", "cable"),
            ("Rail kit", "rails"), ("Caddies", "carrier"), ("Cooler", "cooler"), ("Power splitter", "power lead"),
            ("A switch", "switch"), ("Adapter cable", "adapter"), ("Cables for the switch", "cable"),
        ):  # fmt: skip
            made, (change,) = told(to_8.step, {"plan": {"purchases": [{"id": "p", "name": name}]}})
            self.assertEqual(made["plan"]["purchases"], [{"id": "p", "name": name, "part": part}], name)
            self.assertEqual((change.path, change.was, change.now), ("plan/purchases/p/part", "", part))

    def test_other_words_stay_words(self) -> None:
        purchases = [{"id": "a", "name": "Desk"}, {"id": "b", "name": "Rails"}, "odd"]
        made, changes = told(to_8.step, {"plan": {"purchases": purchases}})
        self.assertEqual(made["plan"]["purchases"], [purchases[0], purchases[1] | {"part": "rails"}, "odd"])
        self.assertEqual(len(changes), 1)
