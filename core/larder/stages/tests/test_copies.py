"""Copies against losses: by hand, by brute force, and what must hold of any plan of copies."""

import itertools
import unittest
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.asks.copies import AND, GridRow, copies_grid
from larder.base.errors import Refused, RefusedMany
from larder.base.patch import apply_patch
from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.judge.scales import tier_spaces
from larder.plan.bundle import Bundle
from larder.plan.safekeeping import Store
from larder.readers.plan_file import bundle_from
from larder.stages.copies import COPIES, CopiesResult
from larder.stages.keeping import KEEPING
from larder.stages.losses import LOSS_KINDS
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.drawn import drawn
from larder.tests.plans import changed, copied, demo

Item = dict[str, Any]
FOOTAGE = {
    "id": "footage",
    "name": "Footage",
    "lives_on": "pool:main",
    "bytes": 10 * TB,
    "changed_bytes_per_day": 0,
}
AWAY = {"id": "away", "name": "Away"}
SAFE = {"id": "safe", "name": "Safe", "inside": "house", "is_safe": True}


def store(item_id: str, kind: str = "loose disks", **fields: Any) -> Item:
    access = "offline" if kind.startswith("l") else "online"
    return {"id": item_id, "name": item_id, "kind": kind, "access": access} | fields


def copy(item_id: str, **fields: Any) -> Item:
    return {"id": item_id, "name": item_id, "material_ids": "footage", "to": f"store:{item_id}"} | fields


def kept(stores: list[Item], copies: list[Item], material: Item | None = None, **fields: Any) -> Bundle:
    """The one-box demo with one material and these copies of it."""
    document = demo("one-box").document()
    document["plan"]["safekeeping"] = {
        "places": [AWAY, SAFE],
        "materials": [FOOTAGE | (material or {})],
        "stores": stores,
        "copies": copies,
    } | fields
    return bundle_from(document)


def grid(bundle: Bundle, at_once: int = 1) -> dict[str, GridRow]:
    return {row.loss: row for row in copies_grid(bundle, at_once)}


def result(bundle: Bundle) -> CopiesResult:
    return judge(bundle, PARTS).of(COPIES)


class Known(unittest.TestCase):
    """Setups whose answer anybody knows who has lost something once."""

    def test_one_box_alone_survives_what_its_parity_survives_and_nothing_else(self) -> None:
        rows = grid(kept([], []))
        left = {loss for loss, row in rows.items() if row.survivors}
        # Ten disks with double parity, no snapshots, no checksums.
        self.assertEqual(left, {"one disk", "two disks", "a drop", "a lost key", "the supplier"})
        self.assertEqual((rows["theft"].recovery_point_hours, rows["theft"].recovery_hours), (None, None))

    def test_two_labelled_drives_one_elsewhere(self) -> None:
        here, there = store("here"), store("there", place_id="away", fetch_hours=3, read_bytes_per_s=200e6)
        rows = grid(kept([here, there], [copy("here", every_hours=24), copy("there", every_hours=168)]))
        self.assertEqual([rows[loss].survivors for loss in ("fire or water", "theft", "the box")], [1, 1, 2])
        # Two to three days of a rate, and the drive is fetched; a box takes a week to come.
        fire = rows["fire or water"]
        self.assertEqual(fire.recovery_point_hours, 168)
        self.assertAlmostEqual(fire.recovery_hours or 0, 7 * 24 + 3 + 10e12 / 200e6 / 3600)
        self.assertEqual(rows["the box"].recovery_point_hours, 24)
        # A dropped drive is one of two; the intruder reaches neither, and someone has to clean up first.
        self.assertEqual(rows["a drop"].survivors, 2)
        self.assertAlmostEqual(rows["encryption"].recovery_hours or 0, 16 + 10e12 / 180e6 / 3600)

    def test_a_safe_in_the_house_burns_with_it_and_keeps_thieves_out(self) -> None:
        rows = grid(kept([store("boxed", place_id="safe")], [copy("boxed")]))
        self.assertEqual((rows["fire or water"].survivors, rows["theft"].survivors), (0, 1))
        answer = result(kept([store("boxed", place_id="safe")], [copy("boxed")])).materials[0]
        self.assertEqual((answer.elsewhere, answer.offline), (0, 1))

    def test_what_is_made_alike_is_emptied_too_and_earlier_versions_help(self) -> None:
        mirror = store("mirror", "a box", place_id="away", survives_drives=1)
        alike = grid(kept([mirror], [copy("mirror", way="makes alike")]))
        self.assertEqual(alike["deletion"].survivors, 0)
        versions = grid(kept([mirror], [copy("mirror", way="keeps versions", versions_days=30)]))
        self.assertEqual(versions["deletion"].survivors, 1)
        # An intruder with the administrator's password takes the versions as well.
        self.assertEqual(versions["encryption"].survivors, 0)
        apart = grid(
            kept(
                [mirror],
                [copy("mirror", way="keeps versions", versions_days=30)],
                sign_in="each their own, administrator apart",
            )
        )
        self.assertEqual(apart["encryption"].survivors, 1)
        held = grid(kept([mirror | {"access": "immutable"}], [copy("mirror", way="makes alike")]))
        self.assertEqual((held["encryption"].survivors, held["deletion"].survivors), (1, 1))

    def test_keys_suppliers_and_what_is_given_up(self) -> None:
        two = [store(n, "a service", unlocked_by="The studio's account") for n in ("near", "far")]
        rows = grid(kept(two, [copy("near"), copy("far")]))
        # Both hang by one account, and each by a supplier of its own.
        self.assertEqual((rows["a lost key"].survivors, rows["the supplier"].survivors), (1, 2))
        both = [each | {"unlocked_by_two": True, "supplier": "The same"} for each in two]
        rows = grid(kept(both, [copy("near"), copy("far")]))
        self.assertEqual((rows["a lost key"].survivors, rows["the supplier"].survivors), (3, 1))
        ended = result(kept([two[0] | {"ends_on": "2026-11-01"}], [copy("near")])).materials[0]
        self.assertEqual((ended.copies, ended.holdings[1].missing), (1, "near has been given up"))

    def test_what_checksums_mend_does_not_rot(self) -> None:
        plain = kept([store("here")], [copy("here")])
        self.assertEqual(grid(plain)["silent corruption"].survivors, 1)
        document = plain.document()
        document["plan"]["pools"][0] |= {"layout": "cow2", "filesystem": "cow"}
        mended = grid(bundle_from(document))["silent corruption"]
        # The pool mends itself; the drive on the shelf may still rot, and nobody waits for that.
        self.assertEqual((mended.survivors, mended.recovery_point_hours, mended.recovery_hours), (1, 0, 0))

    def test_a_copy_of_a_copy_is_as_old_as_both_and_lost_with_neither(self) -> None:
        chain = [copy("here", every_hours=24), copy("there", source_id="here", every_hours=168)]
        rows = grid(kept([store("here"), store("there", place_id="away")], chain))
        self.assertEqual(rows["fire or water"].recovery_point_hours, 24 + 168)
        old = [chain[0], chain[1] | {"newest_on": "2026-10-24"}]
        rows = grid(kept([store("here"), store("there", place_id="away")], old))
        self.assertEqual(rows["fire or water"].recovery_point_hours, 30 * 24)

    def test_people_who_work_on_a_copy_wait_for_no_delivery(self) -> None:
        standby = copy("mirror", people_can_work_on_it=True, switch_hours=2)
        rows = grid(kept([store("mirror", "a box")], [standby]))
        self.assertEqual(rows["the box"].recovery_hours, 2)
        self.assertGreater(
            grid(kept([store("mirror", "a box")], [copy("mirror")]))["the box"].recovery_hours or 0, 168
        )

    def test_spares_on_the_shelf_burn_with_the_house(self) -> None:
        bundle = kept([store("there", place_id="away")], [copy("there")])
        spared = grid(changed(bundle, plan__boxes__boathouse__has_spare_box=True))
        back = 10e12 / 180e6 / 3600
        self.assertAlmostEqual(spared["the box"].recovery_hours or 0, 12 + back)
        self.assertAlmostEqual(spared["fire or water"].recovery_hours or 0, 7 * 24 + back)

    def test_after_an_intruder_everybody_waits_though_snapshots_are_there_at_once(self) -> None:
        document = kept([], [], sign_in="each their own, administrator apart").document()
        document["plan"]["safekeeping"]["materials"][0]["lives_on"] = "volume:v"
        document["plan"]["volumes"] = [{"id": "v", "name": "V", "pool_id": "main", "snapshot_days": 7}]
        rows = grid(bundle_from(document))
        self.assertAlmostEqual(rows["encryption"].recovery_hours or 0, 16 + 1 / 60)
        self.assertAlmostEqual(rows["deletion"].recovery_hours or 0, 1 / 60)

    def test_a_service_gives_back_as_fast_as_the_line_comes_down(self) -> None:
        bundle = changed(
            kept([store("far", "a service")], [copy("far")]),
            plan__brief__limits__line__up_bytes_per_s=1e6,
            plan__brief__limits__line__down_bytes_per_s=50e6,
        )
        [_, far] = result(bundle).materials[0].holdings
        self.assertAlmostEqual(far.restore_hours or 0, 10e12 / 50e6 / 3600)

    def test_a_pool_over_boxes_outlives_a_box_that_holds_no_more_than_its_parity(self) -> None:
        document = kept([], []).document()
        box = document["plan"]["boxes"][0]
        document["plan"]["boxes"].append(box | {"id": "second", "name": "Second", "place_id": "away"})
        for bays, left in (("boathouse:1-7 second:1-2", 0), ("boathouse:1-6 second:1-3", 0)):
            document["plan"]["pools"][0]["bays"] = bays
            self.assertEqual(grid(bundle_from(document))["the box"].survivors, left)
        held = judge(bundle_from(document), PARTS).of(KEEPING).materials[0].whole[0].bodies[0]
        self.assertEqual((len(held.boxes), len(held.buildings)), (2, 2))
        document["plan"]["pools"][0]["bays"] = "boathouse:1-7 second:1-2"
        held = judge(bundle_from(document), PARTS).of(KEEPING).materials[0].whole[0].bodies[0]
        self.assertEqual((held.boxes, held.buildings), ({"box:boathouse"}, {""}))

    def test_a_line_that_nobody_has_said_brings_nothing_back(self) -> None:
        bundle = kept([store("far", "a service")], [copy("far")])
        document = bundle.document()
        document["plan"]["brief"]["limits"]["line"] = {"up_bytes_per_s": 0, "down_bytes_per_s": 0}
        row = grid(bundle_from(document))["the box"]
        self.assertEqual((row.survivors, row.recovery_hours), (1, None))


class Rule(unittest.TestCase):
    """Three copies on two kinds of media, one elsewhere; and what does not count."""

    def test_three_two_one(self) -> None:
        stores = [store("flash", "loose flash drives"), store("there", place_id="away")]
        answer = result(kept(stores, [copy("flash"), copy("there")])).materials[0]
        self.assertEqual((answer.copies, answer.media_kinds, answer.elsewhere, answer.lacking), (3, 2, 1, ""))
        two = result(kept(stores[:1], [copy("flash")])).materials[0]
        self.assertEqual(two.lacking, "2 of 3 copies, 0 of 1 copies elsewhere")
        cheap = kept(stores[:1], [copy("flash")], {"worth": "replaceable"})
        self.assertEqual(result(cheap).materials[0].lacking, "")

    def test_a_house_takes_over_another_rule_in_one_change(self) -> None:
        bundle = kept([store("there", place_id="away")], [copy("there")])
        self.assertEqual(result(bundle).materials[0].lacking, "2 of 3 copies, 1 of 2 kinds of media")
        seen = set()
        for rule in result(bundle).rules:
            after = result(bundle_from(apply_patch(bundle.document(), rule.patch)))
            self.assertEqual([r.id for r in after.rules if r.is_kept], [rule.id])
            seen.add((rule.id, after.materials[0].lacking == ""))
        met = {"two": True, "three": False, "three-apart": False, "cloud": False, "safe": False}
        self.assertEqual(seen, set(met.items()))
        own = changed(bundle, house_rules__copies_min=5)
        self.assertFalse(any(rule.is_kept for rule in result(own).rules))

    def test_getting_it_back_costs_by_the_tb(self) -> None:
        bundle = kept([store("s", "a service", retrieval_price_per_tb="9.00")], [copy("s")])
        self.assertEqual(
            [h.retrieval_price for h in result(bundle).materials[0].holdings], [None, Decimal("90.00")]
        )

    def test_a_second_copy_in_the_same_thing_and_a_likeness_are_none(self) -> None:
        same = kept([store("here", "a box")], [copy("here"), copy("again", to="store:here")])
        self.assertEqual(result(same).materials[0].copies, 2)
        alike = kept([store("here", "a box")], [copy("here", way="makes alike")])
        self.assertEqual(result(alike).materials[0].copies, 1)
        # Offline the likeness is of the day it was made, and a deletion does not reach it.
        offline = kept([store("here", "a box", access="offline")], [copy("here", way="makes alike")])
        self.assertEqual(result(offline).materials[0].copies, 2)

    def test_a_copy_onto_its_own_pool_or_onto_what_is_too_small_is_none(self) -> None:
        onto = result(kept([], [copy("onto", to="pool:main")])).copies[0]
        self.assertIn("where the material lives", onto.missing)
        small = result(kept([store("small", size_bytes=TB)], [copy("small")])).copies[0]
        self.assertEqual(small.missing, "small is too small for it")

    def test_tapes_are_read_back_two_generations_up_to_the_seventh_and_then_one(self) -> None:
        def reads(tape: int, drive: int) -> bool:
            given = {
                "id": "t",
                "name": "T",
                "kind": "linear tape",
                "generation": tape,
                "drive_generation": drive,
            }
            return Store.model_validate(given).is_readable

        table = {
            (5, 7): True, (4, 7): False, (6, 8): False, (7, 8): True, (8, 9): True, (9, 8): False, (0, 9): True,
        }  # fmt: skip
        self.assertEqual({pair: reads(*pair) for pair in table}, table)


class Runs(unittest.TestCase):
    """Whether a copy is over in its time, and the first one."""

    def test_tonight_and_the_first_upload_by_hand(self) -> None:
        far = copy("far", from_minute=20 * 60, by_minute=8 * 60)
        bundle = kept([store("far", "a service")], [far], {"changed_bytes_per_day": 200 * 10**9})
        document = bundle.document()
        document["plan"]["brief"]["limits"]["line"]["up_bytes_per_s"] = 5e6
        answer = result(bundle_from(document)).copies[0]
        self.assertEqual((answer.limited_by, answer.window_hours), ("the outside line", 12))
        self.assertAlmostEqual(answer.run_hours or 0, 200e9 / 5e6 / 3600)
        self.assertAlmostEqual(answer.first_days or 0, 10e12 / (5e6 * 12 * 3600))
        # 216 GB fit into a night.
        self.assertEqual((answer.keeps_up, answer.done_minute), (True, (20 * 60 + 667) % 1440))
        document["plan"]["safekeeping"]["materials"][0]["changed_bytes_per_day"] = 220 * 10**9
        self.assertFalse(result(bundle_from(document)).copies[0].keeps_up)
        # What is kept today goes first, not what it comes to by the horizon.
        archive = evaluate(demo("tern-and-tide"))
        service = next(run for run in archive.copies.copies if run.id == "off-site")
        today = demo("tern-and-tide").plan.brief.kept_today_bytes + 35e9
        self.assertAlmostEqual(service.first_days or 0, today / (5e6 * 7 * 3600), delta=0.5)
        document["plan"]["safekeeping"]["copies"][0] |= {"first_by_hand": True, "by_minute": 20 * 60}
        answer = result(bundle_from(document)).copies[0]
        self.assertEqual((answer.first_days, answer.keeps_up), (0, True))


class Room(unittest.TestCase):
    """A copy on one of the plan's own pools fills it."""

    def test_a_copy_in_the_archive_is_needed_there_too(self) -> None:
        bundle = demo("tern-and-tide")
        with_it, without_it = evaluate(bundle), evaluate(copied(bundle))
        hot = sum(m.bytes for m in with_it.copies.materials if m.id in ("hot", "projects", "settings"))
        self.assertAlmostEqual(with_it.brief.copied_archive_bytes, hot, delta=1)
        self.assertEqual(
            with_it.brief.need_bytes - without_it.brief.need_bytes, with_it.brief.copied_archive_bytes
        )
        self.assertIn(("copies_on_pools", round(hot)), {(p.step, p.bytes) for p in with_it.brief.need_parts})
        archive = {s.tier: s.need_bytes for s in tier_spaces(with_it.brief, with_it.tiers)}["archive"]
        self.assertEqual(archive, with_it.brief.cold_bytes + with_it.brief.copied_archive_bytes)
        self.assertEqual(with_it.brief.working_set_bytes, without_it.brief.working_set_bytes)

    def test_elsewhere_and_onto_itself_it_takes_no_room(self) -> None:
        for made in (copy("there"), copy("onto", to="pool:main")):
            bundle = kept([store("there", place_id="away")], [made])
            self.assertEqual(evaluate(bundle).brief.copied_work_bytes, 0)


class BadInput(unittest.TestCase):
    """A clear answer for what cannot be, by its field."""

    def refused(self, *args: Any, **fields: Any) -> str:
        with self.assertRaises((Refused, RefusedMany)) as caught:
            kept(*args, **fields)
        return str(caught.exception)

    def test_sources_places_and_nothing_to_copy(self) -> None:
        here = [store("here"), store("there")]
        said = {
            "none is read from itself": ([*here], [copy("here", source_id="here")]),
            "not read from this one": (
                [*here],
                [copy("here", source_id="there"), copy("there", source_id="here")],
            ),
            "at least one material to copy": ([*here], [copy("here", material_ids="")]),
            "each material once": ([*here], [copy("here", material_ids="footage footage")]),
            "the id of a material": ([*here], [copy("here", material_ids="dreams")]),
            "the id of a store": ([*here], [copy("nowhere")]),
            "the id of a copy": ([*here], [copy("here", source_id="gone")]),
            "another place than it is read from": (
                [*here],
                [copy("here"), copy("again", to="store:here", source_id="here")],
            ),
            "1 day or more": ([*here], [copy("here", way="keeps versions")]),
            "it keeps no versions": ([*here], [copy("here", versions_days=3)]),
            "a service is reached": ([store("s", "a service", access="offline")], []),
            "kept by its supplier": ([store("s", "a service", place_id="away")], []),
            "the id of a place": ([store("s", place_id="moon")], []),
        }
        for words, args in said.items():
            self.assertIn(words, self.refused(*args), words)
        ring = [AWAY | {"inside": "safe"}, SAFE | {"inside": "away"}]
        self.assertIn("not inside of this one", self.refused([], [], places=ring))
        self.assertIn("not inside of this one", self.refused([], [], places=[AWAY | {"inside": "away"}]))
        self.assertIn("the house itself", self.refused([], [], places=[{"id": "house", "name": "House"}]))
        lost = {"lives_on": "pool:gone"}
        self.assertIn("the id of a pool of this plan", self.refused([], [], lost))

    def test_what_is_read_must_hold_it(self) -> None:
        other = FOOTAGE | {"id": "other", "name": "Other"}
        said = self.refused(
            [store("here"), store("there")],
            [copy("here"), copy("there", source_id="here", material_ids="footage other")],
            materials=[FOOTAGE, other],
        )
        self.assertIn("that here holds (footage)", said)


KINDS = ("loose disks", "linear tape", "a box", "a service", "workstations")


@st.composite
def copy_plans(draw: st.DrawFn) -> Bundle:
    """Up to four copies of one material on whatever there is, from each other, near and far."""
    count = draw(st.integers(0, 4))
    stores, copies = [], []
    for n in range(count):
        kind = draw(st.sampled_from(KINDS))
        access = draw(
            st.sampled_from(
                ("online", "immutable") if kind == "a service" else ("online", "offline", "immutable")
            )
        )
        place = "" if kind == "a service" else draw(st.sampled_from(("", "away", "safe")))
        stores.append(
            store(
                f"s{n}", kind, access=access, place_id=place, survives_drives=draw(st.integers(0, 2)),
                unlocked_by=draw(st.sampled_from(("", "one", "two"))), unlocked_by_two=draw(st.booleans()),
                supplier=draw(st.sampled_from(("", "a"))),
            )
        )  # fmt: skip
        way = draw(st.sampled_from(("adds", "makes alike", "keeps versions")))
        copies.append(
            copy(
                f"s{n}",
                way=way,
                versions_days=14 if way == "keeps versions" else 0,
                source_id=draw(st.sampled_from(["", *(f"s{m}" for m in range(n))])),
                every_hours=draw(st.sampled_from((0, 24, 168))),
                people_can_work_on_it=draw(st.booleans()),
            )
        )
    material = draw(st.sampled_from(({}, {"lives_on": "volume:v"}, {"lives_on": "workstations"})))
    bundle = kept(
        stores, copies, sign_in=draw(st.sampled_from(("unsaid", "each their own, administrator apart")))
    )
    document = bundle.document()
    document["plan"]["volumes"] = [
        {"id": "v", "name": "V", "pool_id": "main", "snapshot_days": draw(st.sampled_from((0, 7))),
         "is_encrypted": draw(st.booleans())}
    ]  # fmt: skip
    document["plan"]["safekeeping"]["materials"][0] |= material
    layout = draw(st.sampled_from(("stripe", "raid5", "raid6", "cow2")))
    document["plan"]["pools"][0] |= {"layout": layout, "filesystem": "cow" if layout == "cow2" else "journal"}
    return bundle_from(document)


class World:
    """A world in which copies are made, losses happen, and one looks what is left: no masks, no shared code."""

    def __init__(self, bundle: Bundle) -> None:
        plan = bundle.plan
        self.kept = plan.safekeeping
        self.apart = self.kept.sign_in.endswith("apart")
        material = self.kept.materials[0]
        pool = plan.pools[0]
        survives = {"stripe": 0, "raid5": 1, "raid6": 2, "cow2": 2}[pool.layout]
        volume = plan.volumes[0]
        on_pool = material.lives_on != "workstations"
        self.things: dict[str, dict[str, Any]] = {
            "": {
                "drives": survives if on_pool else 0, "box": "boathouse" if on_pool else "desk", "place": "house",
                "safe": False, "loose": False, "reach": True, "back": on_pool and volume.snapshot_days > 0,
                "key": "volume" if on_pool and volume.is_encrypted else None, "supplier": None,
                "mends": pool.layout == "cow2" and on_pool, "way": "", "source": None,
            }
        }  # fmt: skip
        for each in self.kept.copies:
            place = next(s for s in self.kept.stores if s.id == each.id)
            service = place.kind == "a service"
            held_by_one = place.unlocked_by and not place.unlocked_by_two
            self.things[each.id] = {
                "drives": 99 if service else place.survives_drives,
                "box": place.id if place.kind in ("a box", "workstations") else None,
                "place": None if service else ("away" if place.place_id == "away" else "house"),
                "safe": place.place_id == "safe", "loose": place.kind in ("loose disks", "linear tape"),
                "reach": place.access == "online", "back": each.way == "keeps versions",
                "key": place.unlocked_by if held_by_one else None,
                "supplier": (place.supplier or place.id) if service else None,
                "mends": service, "way": each.way, "source": each.source_id,
            }  # fmt: skip

    def disasters(self, kind: str) -> list[tuple[str, Any]]:
        names: dict[str, list[Any]] = {
            "one disk": list(self.things), "two disks": list(self.things), "a drop": list(self.things),
            "the box": [t["box"] for t in self.things.values()], "fire or water": ["house", "away"],
            "theft": ["house", "away"], "deletion": [""], "encryption": [""],
            "silent corruption": list(self.things), "a lost key": [t["key"] for t in self.things.values()],
            "the supplier": [t["supplier"] for t in self.things.values()],
        }  # fmt: skip
        return [(kind, what) for what in names[kind]]

    def struck(self, kind: str, what: Any) -> set[str]:
        """The copies that one disaster ruins."""
        own = self.things
        if kind in ("one disk", "two disks"):
            return {what} if own[what]["drives"] < (1 if kind == "one disk" else 2) else set()
        if kind == "a drop":
            return {what} if own[what]["loose"] else set()
        if kind in ("the box", "a lost key", "the supplier"):
            field = {"the box": "box", "a lost key": "key", "the supplier": "supplier"}[kind]
            return {n for n, t in own.items() if what is not None and t[field] == what}
        if kind in ("fire or water", "theft"):
            return {n for n, t in own.items() if t["place"] == what and not (kind == "theft" and t["safe"])}
        if kind == "encryption":
            return {n for n, t in own.items() if t["reach"] and not (t["back"] and self.apart)}
        bad = {"" if kind == "deletion" else what}
        if kind == "silent corruption" and own[what]["mends"]:
            return set()
        for name, thing in own.items():
            if thing["source"] in bad and thing["way"] == "makes alike" and thing["reach"]:
                bad.add(name)
        return {n for n in bad if kind == "silent corruption" or not own[n]["back"]}


FEWER = drawn(50)


class BruteForce(unittest.TestCase):
    @FEWER
    @given(copy_plans())
    def test_the_grid_is_what_is_left_in_a_world_of_copies(self, bundle: Bundle) -> None:
        world = World(bundle)
        for loss, row in grid(bundle, 2).items():
            kinds = loss.split(AND) if loss not in LOSS_KINDS else [loss]
            fewest = min(
                len(set(world.things) - set().union(*(world.struck(*each) for each in struck)))
                for struck in itertools.product(*(world.disasters(kind) for kind in kinds))
            )
            self.assertEqual(row.survivors, fewest, loss)
            self.assertEqual(row.recovery_point_hours is None, fewest == 0, loss)

    @FEWER
    @given(copy_plans())
    def test_one_more_copy_and_a_sooner_one_never_make_anything_worse(self, bundle: Bundle) -> None:
        before = grid(bundle, 2)
        document = bundle.document()
        more = document["plan"]["safekeeping"]
        more["stores"].append(store("more", place_id="away"))
        more["copies"].append(copy("more", every_hours=24))
        for each in more["copies"]:
            each["every_hours"] = min(each["every_hours"], 24)
        for loss, row in grid(bundle_from(document), 2).items():
            was = before[loss]
            self.assertGreaterEqual(row.survivors, was.survivors, loss)
            for now, then in (
                (row.recovery_point_hours, was.recovery_point_hours),
                (row.recovery_hours, was.recovery_hours),
            ):
                if then is not None:
                    self.assertLessEqual(now or 0, then + 1e-9, loss)

    @FEWER
    @given(copy_plans())
    def test_two_losses_are_no_better_than_either_and_the_same_in_either_order(self, bundle: Bundle) -> None:
        rows, kept_ = grid(bundle, 2), judge(bundle, PARTS).of(KEEPING).materials[0]
        for one, other in itertools.combinations(LOSS_KINDS, 2):
            both = rows[one + AND + other].survivors
            self.assertLessEqual(both, min(rows[one].survivors, rows[other].survivors))
            self.assertEqual(kept_.after(other, one).survivors, both)

    def test_every_demo_has_a_grid_and_its_figures_are_finite(self) -> None:
        for name in ("tern-and-tide", "halyard-street", "long-shore"):
            for row in copies_grid(demo(name), 2):
                self.assertGreaterEqual(row.survivors, 0)
                if row.survivors:
                    self.assertIsNotNone(row.recovery_point_hours)
            self.assertTrue(evaluate(demo(name)).copies.materials)
