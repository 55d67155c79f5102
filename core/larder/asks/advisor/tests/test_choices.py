"""What all designs have in common, by hand: the networks and the ways to keep copies that are tried."""

import unittest
from decimal import Decimal
from types import SimpleNamespace as Of
from typing import Any

from larder.asks.advisor.choices import _cheapest_disk, _disks_for, _outside_copies, choices_of, stripped
from larder.asks.advisor.design import Choices, KeepingOption, NetworkOption
from larder.asks.advisor.ground import _has_nightly_copies, _together
from larder.base.units import TB
from larder.readers.plan_file import bundle_from
from larder.tests.plans import changed, demo


def choices(document: dict[str, Any], kept_tb: float = 20) -> Choices:
    return choices_of(bundle_from(document), kept_tb * TB)


def links(network: NetworkOption) -> list[tuple[str, str, str]]:
    return [(link.near, link.far, link.speed) for link in network.links]


class Networks(unittest.TestCase):
    def test_the_plans_own_without_its_boxes_and_one_new_where_all_parts_have_prices(self) -> None:
        own, new = choices(demo("tern-and-tide").document()).networks
        self.assertEqual((own.switch_id, own.speed, own.purchases), ("cutting-room", "10GbE", ()))
        self.assertEqual(len(own.links), 6)
        self.assertFalse([link for link in own.links if link.ends[1].kind == "box"])
        [switch] = new.switches
        # Nine seats, and four ports besides; cables for two boxes as well.
        self.assertEqual((switch.ports, switch.unit_price), ("13x25GbE", Decimal(1980)))
        bought = [(purchase.count, purchase.unit_price) for purchase in new.purchases]
        self.assertEqual(bought, [(9, Decimal(231)), (11, Decimal(36))])
        seats = [(near, speed) for near, far, speed in links(new) if far == f"switch:{switch.id}"]
        self.assertEqual(sorted({speed for near, speed in seats if near.startswith("seat:")}), ["25GbE"])
        self.assertEqual([near for near, _ in seats][-1], "outside")

    def test_without_the_price_of_one_part_or_where_all_are_as_fast_there_is_no_new_one(self) -> None:
        document = demo("tern-and-tide").document()
        wiring = document["plan"]["wiring"]
        for part in ("switch", "adapter", "cable"):
            prices = [p for p in wiring["prices"] if (p["part"], p["speed"]) != (part, "25GbE")]
            document["plan"]["wiring"] = wiring | {"prices": prices}
            self.assertEqual(len(choices(document).networks), 1, part)
        document["plan"]["wiring"] = wiring
        for seats, count in (("25GbE", 1), ("10GbE", 2)):
            for link in wiring["links"]:
                if link["near"].startswith("seat:"):
                    link["speed"] = seats
            self.assertEqual(len(choices(document).networks), count, seats)

    def test_who_is_plugged_straight_into_a_box_goes_where_most_are_at_the_same_speed(self) -> None:
        document = demo("tern-and-tide").document()
        wiring = document["plan"]["wiring"]
        wiring["links"] = [link for link in wiring["links"] if link["id"] != "plug-ingest"]
        stills = next(link for link in wiring["links"] if link["id"] == "plug-stills")
        stills |= {"far": "box:boathouse", "far_ports": "2"}
        own = choices(document).networks[0]
        self.assertIn(("seat:stills", "switch:cutting-room", "1GbE"), links(own))
        self.assertIn(("seat:ingest", "switch:cutting-room", "10GbE"), links(own))

    def test_without_a_switch_there_is_one_with_room(self) -> None:
        document = demo("tern-and-tide").document()
        document["plan"]["wiring"] |= {"switches": [], "links": []}
        own = choices(document).networks[0]
        self.assertEqual([switch.ports for switch in own.switches], ["13x10GbE"])
        self.assertEqual(len(own.links), 4)


class Keepings(unittest.TestCase):
    def kept(self, kept_tb: float = 20, name: str = "tern-and-tide") -> dict[str, KeepingOption]:
        return {keeping.words: keeping for keeping in choices(demo(name).document(), kept_tb).keepings}

    def test_each_is_bought_for_all_that_is_kept(self) -> None:
        for kept_tb, disks, tapes in ((20, 1, 20), (22, 1, 22), (22.1, 1, 23), (24.1, 2, 25), (0, 1, 1)):
            kept = self.kept(kept_tb)
            counts = [[purchase.count for purchase in option.purchases] for option in kept.values()][-5:]
            wanted = [[disks], [2 * disks], [disks, 1, tapes], [disks], []]
            self.assertEqual(counts, wanted, kept_tb)

    def test_a_place_elsewhere_only_for_what_is_carried_away(self) -> None:
        for words, option in self.kept().items():
            stores = {store.place_id for store in option.safekeeping.stores}
            places = {place.id for place in option.safekeeping.places}
            self.assertLessEqual(stores - {""}, places, words)
            self.assertEqual("elsewhere" in places, "elsewhere" in words, words)
            self.assertEqual(len(option.safekeeping.copies), len(option.safekeeping.stores))

    def test_the_cheapest_disk_is_the_one_of_which_all_of_it_costs_least(self) -> None:
        def drive(name: str, tb: int, price: int, kind: str = "hdd", lot: Any = None) -> Any:
            return Of(model=Of(name=name, kind=kind, size_bytes=tb * TB), price=Decimal(price), lot=lot)

        small, large = drive("small", 8, 150), drive("large", 20, 350)
        shelf, flash = drive("shelf", 20, 1, lot=Of()), drive("flash", 20, 1, "ssd")
        drives: Any = Of(drives=(large, small, shelf, flash))
        for kept, name, count in ((8, "small", 1), (9, "small", 2), (17, "large", 1), (41, "small", 6)):
            found = _cheapest_disk(drives, kept * TB)
            assert found is not None
            self.assertEqual((found.model.name, _disks_for(found, kept * TB)), (name, count), kept)
        self.assertIsNone(_cheapest_disk(Of(drives=(shelf, flash)), TB))  # type: ignore[arg-type]

    def test_a_copy_whose_source_goes_is_read_from_where_the_material_lives(self) -> None:
        def copy(at: str, kind: str, source: str = "") -> Any:
            found = Of(id=at, where=Of(kind=kind), source_id=source)
            found.model_copy = lambda update: Of(**(vars(found) | update))
            return found

        first, pool = copy("first", "store"), copy("pool", "pool", "first")
        chained, cut = copy("chained", "store", "first"), copy("cut", "store", "pool")
        kept = _outside_copies((first, pool, chained, cut))
        self.assertEqual(
            [(each.id, each.source_id) for each in kept], [("first", ""), ("chained", "first"), ("cut", "")]
        )

    def test_onto_stores_that_nothing_goes_to_as_often_as_one_can_reach_them(self) -> None:
        document = demo("tern-and-tide").document()
        document["plan"]["safekeeping"]["copies"] = []
        onto = next(
            keeping
            for keeping in choices(document).keepings
            if keeping.words.startswith("everything onto the stores")
        )
        access = {store.id: store.access for store in onto.safekeeping.stores}
        answer = {copy.where.id: copy.every_hours for copy in onto.safekeeping.copies}
        self.assertEqual(answer, {at: 168.0 if how == "offline" else 24.0 for at, how in access.items()})
        self.assertEqual(set(access.values()) - {"offline"} != set(), "offline" in access.values())


class Stripped(unittest.TestCase):
    def test_storage_goes_and_people_stay_at_home_nowhere(self) -> None:
        bundle = changed(demo("tern-and-tide"), plan__brief__seats__edit__works_on="hot")
        plan = stripped(bundle).plan
        self.assertFalse(plan.pools or plan.boxes or plan.caches or plan.volumes or plan.acceptances)
        self.assertFalse([seat for seat in plan.brief.seats if seat.works_on or seat.mounts_by])
        self.assertEqual(len(plan.brief.seats), len(bundle.plan.brief.seats))
        kept = plan.safekeeping
        self.assertFalse(kept.stores or kept.copies)
        self.assertFalse(
            [material for material in kept.materials if material.lives_on.startswith(("pool:", "volume:"))]
        )
        self.assertNotEqual(kept.alerts, "unsaid")


class Nightly(unittest.TestCase):
    def test_every_material_on_a_pool_has_a_copy_within_a_day_that_holds_all(self) -> None:
        def nightly(*copies: tuple[str, str, float], missing: str = "") -> bool:
            plan: Any = Of(
                safekeeping=Of(
                    copies=[Of(id=at, materials=of.split(), every_hours=every) for at, of, every in copies],
                    materials=[Of(id="hot"), Of(id="cold"), Of(id="paper")],
                ),
                pool_of=lambda where: where if where.startswith("pool") else None,
                homes_of=lambda each: ["shelf"] if each.id == "paper" else ["shelf", "pool:main"],
            )
            return _has_nightly_copies(plan, {missing})

        self.assertTrue(nightly(("a", "hot", 24), ("b", "cold", 1)))
        self.assertFalse(nightly(("a", "hot", 24)))
        self.assertFalse(nightly(("a", "hot cold", 24.5)))
        self.assertFalse(nightly(("a", "hot cold", 24), missing="a"))

    def test_two_pools_share_a_box_that_has_the_bays(self) -> None:
        choices: Any = Of(options=Of(boxes=[Of(holds_drives=Of(bays=8))]))

        def together(first: int, second: int, slot: str = "bay") -> bool:
            of: Any = [Of(box_at=0, slot="bay", drives=first), Of(box_at=0, slot=slot, drives=second)]
            return _together(choices, *of)

        self.assertTrue(together(4, 4))
        self.assertFalse(together(4, 5))
        self.assertTrue(together(8, 2, "flash slot"))
