"""The ledger of ports: nothing twice, free ones by speed, and what cannot be joined is refused by name."""

import unittest
from itertools import combinations
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused, RefusedMany
from larder.base.patch import apply_patch
from larder.plan.new_item import Asked, new_item_patch
from larder.plan.ports import SPEEDS, ledger_of
from larder.plan.removal import removal_patch
from larder.plan.wiring import End, Link, Switch, Wiring, ethernet_ports, numbers_text, parse_numbers
from larder.readers.plan_file import bundle_from
from larder.tests.drawn import drawn
from larder.tests.plans import changed, demo

BASE = demo("one-box")


def wired(ports: str, links: list[dict[str, Any]]) -> Any:
    """The one-box plan's seats on one switch with these ports, by these links."""
    made = tuple(
        Link.model_validate({"id": f"l{n}", "far": "switch:s"} | link) for n, link in enumerate(links)
    )
    wiring = Wiring(switches=(Switch(id="s", name="S", ports=ports),), links=made)
    return BASE.plan.model_copy(update={"wiring": wiring})


some_numbers = st.lists(st.integers(1, 12), max_size=4, unique=True).map(lambda n: numbers_text(tuple(n)))


class Ledger(unittest.TestCase):
    @drawn(200)
    @given(
        st.lists(
            st.tuples(
                st.sampled_from([s.id for s in BASE.plan.brief.seats]), some_numbers, st.integers(1, 2)
            ),
            max_size=5,
        )
    )
    def test_no_port_is_ever_taken_twice_and_every_double_use_is_refused(self, plugs: list[Any]) -> None:
        links = [{"near": f"seat:{seat}", "far_ports": n, "links": k} for seat, n, k in plugs]
        named = [set(parse_numbers(n)) for _, n, _ in plugs]
        is_double = any(a & b for a, b in combinations(named, 2))
        plan = wired("4x1GbE 8x10GbE", links)
        if is_double:
            self.assertRaisesRegex(Refused, "a port that link l", ledger_of, plan)
            return
        ledger = ledger_of(plan)
        taken = [p.number for plugged in ledger.plugged.values() for p in plugged.ports]
        self.assertEqual(len(taken), len(set(taken)))
        self.assertEqual(len(taken) + len(ledger.free(End("switch", "s"))), 12)
        for link, own in zip(plan.wiring.links, named, strict=True):
            plugged = ledger.plugged[link.id, End("switch", "s")]
            self.assertLessEqual(own, {p.number for p in plugged.ports})
            self.assertTrue(not plugged.missing or not ledger.free(End("switch", "s")))

    def test_what_is_not_numbered_takes_the_slowest_port_that_is_fast_enough(self) -> None:
        seat = {"near": "seat:colour"}
        for speed, number in (("100Mb", 1), ("1GbE", 1), ("2.5GbE", 3), ("10GbE", 3), ("25GbE", 4)):
            plan = wired("2x1GbE 10GbE 25GbE", [seat | {"speed": speed}])
            (port,) = ledger_of(plan).plugged["l0", End("switch", "s")].ports
            self.assertEqual(port.number, number, speed)
        (port,) = (
            ledger_of(wired("2x1GbE 10GbE", [seat | {"speed": "100GbE"}]))
            .plugged["l0", End("switch", "s")]
            .ports
        )
        self.assertEqual(port.number, 3)

    def test_a_class_takes_a_port_for_each_of_its_seats_and_says_how_many_are_missing(self) -> None:
        ledger = ledger_of(wired("3x10GbE", [{"near": "seat:edit"}]))
        plugged = ledger.plugged["l0", End("switch", "s")]
        self.assertEqual((len(plugged.ports), plugged.missing), (3, 2))
        self.assertEqual(
            ledger_of(wired("", [{"near": "seat:edit"}])).plugged["l0", End("switch", "s")].missing, 0
        )

    def test_the_ports_of_a_box_are_its_own_and_then_those_of_its_cards(self) -> None:
        card = {"id": "c", "name": "Slot", "holds": "network card", "ports": "2x25GbE"}
        document = demo("one-box").document()
        document["plan"]["boxes"][0] |= {"ports": "1GbE usb10G", "cards": [card]}
        ports = ledger_of(bundle_from(document).plan).ports[End("box", "boathouse")]
        self.assertEqual(
            [(p.number, p.speed, p.card_id) for p in ports],
            [(1, "1GbE", ""), (2, "25GbE", "c"), (3, "25GbE", "c")],
        )

    def test_numbers_and_ports_are_read_as_they_are_written(self) -> None:
        self.assertEqual(parse_numbers("1-3,7"), (1, 2, 3, 7))
        self.assertEqual(numbers_text((1, 2, 3, 7)), "1-3,7")
        self.assertEqual(ethernet_ports("2x10GbE usb4 1GbE"), ("10GbE", "10GbE", "1GbE"))
        for wrong in ("0", "3-1", "x", "1,1", "1-"):
            self.assertRaises(Refused, parse_numbers, wrong)
        self.assertEqual(SPEEDS[0], "100Mb")


class Refusals(unittest.TestCase):
    def refused(self, sentence: str, link: dict[str, Any]) -> None:
        document = demo("tern-and-tide").document()
        document["plan"]["wiring"]["links"].append({"id": "more"} | link)
        self.assertRaisesRegex(RefusedMany, sentence, bundle_from, document)

    def test_what_cannot_be_joined_is_named(self) -> None:
        self.refused("would close a loop", {"near": "switch:boathouse", "far": "switch:cutting-room"})
        self.refused("would close a loop", {"near": "switch:boathouse", "far": "switch:boathouse"})
        self.refused("ports 1 to 12", {"near": "seat:edit", "far": "switch:cutting-room", "far_ports": "13"})
        self.refused(
            "link plug-edit does not take",
            {"near": "switch:cutting-room", "far": "storage", "near_ports": "1"},
        )
        self.refused("coming from outside", {"near": "outside", "far": "box:boathouse"})
        self.refused("From cannot be", {"near": "box:boathouse", "far": "switch:boathouse"})
        self.refused("seat:ID, switch:ID", {"near": "attic", "far": "storage"})

    def test_mounts_and_entries_name_what_there_is(self) -> None:
        for path, value in (
            ("brief__seats__edit__mounts_by", "uplink"),
            ("brief__services__backups__enters_at", "attic"),
        ):
            self.assertRaisesRegex(
                RefusedMany,
                "empty or the id of a",
                changed,
                demo("tern-and-tide"),
                **{f"plan__{path}": value},
            )

    def test_what_is_plugged_in_goes_with_what_it_is_plugged_into(self) -> None:
        bundle = changed(demo("tern-and-tide"), plan__brief__seats__edit__mounts_by="signal-room-port")
        for path in (
            "plan/boxes/signal-room",
            "plan/wiring/switches/cutting-room",
            "plan/brief/seats/edit",
            "plan/wiring/links/uplink",
        ):
            left = bundle_from(apply_patch(bundle.document(), removal_patch(bundle, path))).plan
            kind, _, gone = (
                path.removeprefix("plan/").removeprefix("wiring/").removeprefix("brief/").partition("/")
            )
            end = {"boxes": "box", "switches": "switch", "seats": "seat"}.get(kind)
            self.assertFalse([link for link in left.wiring.links if f"{end}:{gone}" in (link.near, link.far)])

    def test_a_new_seat_is_plugged_in_where_the_first_ones_are(self) -> None:
        for known, plugged in (
            ({"kind": "footage"}, 1),
            ({"kind": "remote"}, 0),
            ({"kind": "footage", "seated": "inside"}, 0),
        ):
            patch = new_item_patch(demo("tern-and-tide"), Asked("plan/brief/seats", known))
            self.assertEqual(len(patch), 1 + plugged)
        link = new_item_patch(demo("tern-and-tide"), Asked("plan/brief/seats", {"kind": "footage"}))[1]
        self.assertEqual(
            (link.op, link.path, link.value["far"], link.value["speed"]),
            ("add", "plan/wiring/links", "switch:cutting-room", "10GbE"),
        )
