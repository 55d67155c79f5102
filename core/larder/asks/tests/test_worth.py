"""What copies are worth, and what stops when a box or a wire dies: by hand, and what must hold of any plan."""

import unittest
from decimal import Decimal
from typing import Any

from hypothesis import given

from larder.asks import box_failures as boxes
from larder.asks import worth
from larder.asks.box_failures import PartFailure
from larder.asks.worth import WorthResult, without
from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.plan.bundle import Bundle
from larder.plan.new_item import Asked, new_item_patch
from larder.readers.plan_file import bundle_from
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.tests.test_copies import copy, copy_plans, kept, store
from larder.tests.plans import changed, demo

QUIET = {
    f"house_rules__{name}_percent": 0
    for name in (
        "box_dies", "fire", "theft", "drop", "deletion", "encryption", "corruption", "account", "supplier",
    )
}  # fmt: skip
WORK = {"work_hours_per_day": 24, "value": "1000.00"}


def worth_of(bundle: Bundle) -> WorthResult:
    return worth.worth_of(judge(bundle, PARTS))


class Worth(unittest.TestCase):
    def test_a_fire_by_hand(self) -> None:
        """One in fifty a year; a drive elsewhere costs a week's work and a week of waiting, none costs it all."""
        fire = QUIET | {"house_rules__fire_percent": 2, "house_rules__work_hour_price": 10}
        alone = worth_of(changed(kept([], [], WORK), **fire))
        pool = alone.materials[0].gone_odds - 0.02
        self.assertAlmostEqual(float(alone.lost_a_year), (0.02 + pool) * 1000, delta=0.02)
        self.assertEqual(alone.materials[0].worst, "fire or water")
        away = store("away", place_id="away", yearly_price="5.00")
        bundle = changed(kept([away], [copy("away", every_hours=168)], WORK), **fire)
        answer = worth_of(bundle)
        hours = 168 + 168 + 10e12 / 180e6 / 3600
        # Dead drives ask for the same drive, some thousand times more seldom.
        self.assertAlmostEqual(float(answer.lost_a_year), 0.02 * hours * 10 + pool * 250 * 10, delta=0.02)
        self.assertEqual((answer.gone_odds, answer.materials[0].gone_odds), (0, 0))
        [its] = answer.copies
        self.assertEqual(its.yearly_price, Decimal("5.00"))
        self.assertEqual((its.most_for, its.gone_odds), ("Footage", 0))
        self.assertAlmostEqual(its.gone_odds_without, 0.02 + pool, delta=1e-6)
        self.assertIn(
            "without it Footage is lost for good about 1 in 50 a year, with it by no",
            its.sentence.lower().replace("footage", "Footage"),
        )

    def test_one_fire_of_several_materials_is_one_fire(self) -> None:
        footage = {"id": "footage", "name": "F", "lives_on": "pool:main", "bytes": 10**12}
        fire = QUIET | {"house_rules__fire_percent": 2}
        one = worth_of(changed(kept([], [], materials=[footage]), **fire)).gone_odds
        two = worth_of(
            changed(kept([], [], materials=[footage, footage | {"id": "more", "name": "M"}]), **fire)
        )
        self.assertAlmostEqual(two.gone_odds, one)

    def test_the_price_of_a_service_is_by_the_tb_and_month_and_stores_are_shared(self) -> None:
        metered = store("s", "a service", monthly_price_per_tb="5.00")
        [answer] = worth_of(kept([metered], [copy("s")])).copies
        self.assertEqual(answer.yearly_price, Decimal("600.00"))
        both = [copy("a", to="store:b"), copy("b", to="store:b")]
        prices = [c.yearly_price for c in worth_of(kept([store("b", yearly_price="80.00")], both)).copies]
        self.assertEqual(prices, [Decimal("40.00")] * 2)

    def test_dropping_a_copy_drops_what_is_read_from_it(self) -> None:
        chain = [copy("here"), copy("there", source_id="here")]
        bundle = kept([store("here"), store("there", place_id="away")], chain)
        self.assertEqual(without(bundle, "here").plan.safekeeping.copies, ())
        self.assertEqual([c.id for c in without(bundle, "there").plan.safekeeping.copies], ["here"])
        self.assertRaisesRegex(Refused, "the id of a copy", without, bundle, "gone")

    @given(copy_plans())
    def test_no_copy_makes_it_likelier_that_something_is_gone(self, bundle: Bundle) -> None:
        answer: WorthResult = worth_of(bundle)
        for each in answer.copies:
            self.assertGreaterEqual(each.gone_odds_without, each.gone_odds)
            self.assertGreaterEqual(each.saves_a_year, 0)

    def test_where_nothing_comes_to_anything_a_copy_is_worth_nothing(self) -> None:
        [its] = worth_of(kept([store("here")], [copy("here")], {"bytes": 0})).copies
        self.assertEqual((its.most_for, its.gone_odds_without, its.saves_a_year), ("", 0, 0))

    def test_of_every_demo(self) -> None:
        for name in ("tern-and-tide", "halyard-street", "long-shore", "one-box"):
            answer = worth_of(demo(name))
            self.assertTrue(all(0 <= m.gone_odds < 1 for m in answer.materials), name)
        tern = {c.id: c for c in worth_of(demo("tern-and-tide")).copies}
        self.assertEqual(tern["off-site"].most_for, "Archive")
        self.assertGreater(tern["off-site"].gone_odds_without, 20 * tern["off-site"].gone_odds)


def failures(bundle: Bundle, **changes: Any) -> dict[tuple[str, str], PartFailure]:
    return {(f.part, f.id): f for f in boxes.box_failures(judge(changed(bundle, **changes), PARTS))}


class BoxesFail(unittest.TestCase):
    def test_software_goes_into_any_computer_and_a_card_waits_for_its_like(self) -> None:
        document = demo("one-box").document()
        card_slot = {"id": "slot", "name": "Slot", "holds": "controller card"}
        document["plan"]["boxes"][0]["cards"] = [card_slot]
        carded = bundle_from(document)
        box, card = ("box", "boathouse"), ("controller", "boathouse")
        answer = failures(carded)
        self.assertEqual((answer[box].hours, answer[card].hours), (7 * 24 + 2, 7 * 24))
        self.assertIn("only it reads these disks", answer[card].how)
        free = failures(carded, plan__boxes__boathouse__disks_read_in="any computer")
        self.assertEqual((free[box].hours, free[card].hours), (8, 8))
        spare = failures(
            carded,
            plan__boxes__boathouse__has_spare_box=True,
            plan__boxes__boathouse__has_spare_controller=True,
        )
        self.assertEqual((spare[box].hours, spare[card].hours), (2, 12))
        self.assertEqual(free[box].stops, answer[box].stops)
        self.assertNotIn(("controller", "boathouse"), failures(demo("one-box")))

    def test_a_second_supply_carries_it_and_nobody_opens_one(self) -> None:
        one = failures(demo("one-box"))["supply", "boathouse"]
        self.assertEqual(one.hours, 72)
        self.assertIn("nobody opens a supply", one.how)
        two = failures(demo("one-box"), plan__boxes__boathouse__supplies=2)["supply", "boathouse"]
        self.assertEqual((two.hours, two.stops), (0, ()))

    def test_services_on_the_box_and_seats_stop_with_it(self) -> None:
        stops = failures(demo("tern-and-tide"))["box", "signal-room"].stops
        self.assertIn("Signal pool", stops)
        self.assertIn("Edit", stops)
        self.assertNotIn("Boathouse pool", stops)

    def test_a_switch_and_a_cable_cut_off_who_has_no_other_way(self) -> None:
        bundle = demo("one-box")
        answer = failures(bundle)
        switch = bundle.plan.wiring.switches[0].id
        self.assertIn("Edit", answer["switch", switch].stops)
        self.assertEqual(
            failures(bundle, **{f"plan__wiring__switches__{switch}__has_spare": True})[
                "switch", switch
            ].hours,
            1,
        )
        edit = next(link for link in bundle.plan.wiring.links if link.near == "seat:edit")
        self.assertEqual(answer["cable", edit.id].stops, ("Edit",))
        self.assertEqual(failures(bundle, plan__wiring__has_spare_cables=True)["cable", edit.id].hours, 1)
        aside = new_item_patch(
            bundle, Asked("plan/wiring/links", {"near": "seat:edit", "far": "box:boathouse"})
        )
        again = failures(bundle_from(apply_patch(bundle.document(), aside)))
        self.assertNotIn(("cable", edit.id), again)

    def test_a_standby_takes_over_only_where_all_work_can_go_on(self) -> None:
        standby = copy("mirror", people_can_work_on_it=True, switch_hours=3)
        material = {"work_hours_per_day": 8}
        bundle = kept([store("mirror", "a box")], [standby], material)
        self.assertEqual(failures(bundle)["box", "boathouse"].hours, 3)
        other = {
            "id": "other",
            "name": "Other",
            "lives_on": "pool:main",
            "bytes": 10**12,
            "work_hours_per_day": 4,
        }
        footage = {"id": "footage", "name": "F", "lives_on": "pool:main", "bytes": 10**12} | material
        bundle = kept([store("mirror", "a box")], [standby], materials=[footage, other])
        self.assertEqual(failures(bundle)["box", "boathouse"].hours, 170)
