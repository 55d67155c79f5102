"""Findings about links: what raises each, its evidence, and what clears it."""

import unittest
from typing import Any

from larder.base.patch import Operation, apply_patch
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.tests.plans import changed, cleared, demo, ids, mended, raised

LINKS = "plan/wiring/links"


def with_link(bundle: Bundle, **link: Any) -> Bundle:
    return bundle_from(
        apply_patch(bundle.document(), (Operation(op="add", path=LINKS, value={"id": "more"} | link),))
    )


def without(bundle: Bundle, path: str) -> Bundle:
    return bundle_from(apply_patch(bundle.document(), (Operation(op="remove", path=path),)))


def tern(**changes: Any) -> Bundle:
    return changed(demo("tern-and-tide"), **{f"plan__{path}": value for path, value in changes.items()})


class Paths(unittest.TestCase):
    def test_seat_that_is_plugged_in_nowhere_is_unfinished_work(self) -> None:
        bundle = without(demo("tern-and-tide"), f"{LINKS}/plug-colour")
        self.assertEqual(evaluate(bundle).scales.speed.verdict, "open")
        finding = raised(self, bundle, "seat-without-a-path")
        self.assertEqual((finding.severity, finding.key), ("warn", "seat-without-a-path-colour"))
        cleared(self, bundle, "seat-without-a-path")

    def test_seats_behind_a_missing_uplink_have_no_way_and_speed_is_short(self) -> None:
        bundle = without(demo("tern-and-tide"), f"{LINKS}/uplink")
        answer = evaluate(bundle)
        self.assertEqual(answer.scales.speed.verdict, "short")
        self.assertIn("has no way to", answer.scales.speed.because)
        finding = raised(self, bundle, "seat-without-a-path", "seat-without-a-path-stills")
        self.assertEqual(finding.severity, "block")
        after = mended(self, bundle, finding)
        self.assertNotIn("seat-without-a-path", ids(after))
        self.assertEqual(after.scales.speed.verdict, "enough")

    def test_a_box_without_a_cable_is_out_of_reach_until_it_has_one(self) -> None:
        bundle = without(demo("tern-and-tide"), f"{LINKS}/signal-room-port")
        cleared(self, bundle, "seat-without-a-path", "seat-without-a-path-edit")

    def test_where_nothing_is_wired_the_pools_alone_are_judged(self) -> None:
        document = demo("one-box").document()
        document["plan"]["wiring"] |= {"links": [], "switches": []}
        answer = evaluate(bundle_from(document))
        self.assertEqual((answer.wiring.unreached, answer.wiring.limiting_hop_id), ((), "main"))

    def test_two_ways_to_one_box(self) -> None:
        bundle = with_link(demo("tern-and-tide"), near="seat:colour", far="box:signal-room")
        evidence = cleared(self, bundle, "two-ways-to-one-box")
        self.assertEqual(evidence["Ways"], 2)
        slower = changed(
            bundle, plan__wiring__links__more__speed="1GbE", plan__brief__seats__colour__mounts_by="more"
        )
        self.assertIn("by the slower", raised(self, slower, "two-ways-to-one-box").title)
        self.assertIn("mounts_by", raised(self, slower, "two-ways-to-one-box").remedy.patch[0].path)
        cleared(self, slower, "two-ways-to-one-box")

    def test_cables_not_joined(self) -> None:
        bundle = with_link(demo("one-box"), near="switch:cutting-room", far="box:boathouse")
        self.assertEqual(cleared(self, bundle, "cables-not-joined"), {"Cables": 2})

    def test_link_hangs_loose(self) -> None:
        bundle = without(demo("tern-and-tide"), "plan/brief/seats/colour")
        cleared(self, bundle, "link-hangs-loose")


class PortsAndCables(unittest.TestCase):
    def test_no_port_of_that_speed_left(self) -> None:
        name = "no-port-of-that-speed-left"
        more = tern(brief__seats__edit__count=9)
        self.assertEqual(
            cleared(self, more, name, "no-port-left-switch-cutting-room")["Plugs without a port"], 1
        )
        full = tern(brief__seats__edit__count=8)
        self.assertEqual(cleared(self, full, name, "no-fast-port-left-cutting-room")["Free"], 0)
        self.assertNotIn(name, ids(evaluate(demo("tern-and-tide"))))

    def test_a_box_without_a_port_left_gets_a_card_where_a_slot_is_empty(self) -> None:
        bundle = demo("tern-and-tide")
        for n in (1, 2):
            bundle = with_link(bundle, id=f"more-{n}", near="switch:cutting-room", far="box:signal-room")
        key = "no-port-left-box-signal-room"
        finding = raised(self, bundle, "no-port-of-that-speed-left", key)
        self.assertTrue(finding.remedy.words)

    def test_negotiated_down_link(self) -> None:
        bundle = tern(wiring__links__PLUG__came_up_at="100Mb")
        self.assertEqual(evaluate(bundle).scales.speed.verdict, "short")
        cleared(self, bundle, "negotiated-down-link")

    def test_cable_category_too_low_for_length(self) -> None:
        bundle = tern(wiring__links__PLUG__category="cat5e")
        self.assertEqual(cleared(self, bundle, "cable-category-too-low-for-length")["Length"], 10)
        long = tern(wiring__links__uplink__length_m=130)
        self.assertIn("fibre", raised(self, long, "cable-category-too-low-for-length").remedy.words)

    def test_adapter_slower_than_its_port(self) -> None:
        for adapter in ("usb5G", "pcie3x1"):
            cleared(self, tern(wiring__links__PLUG__adapter=adapter), "adapter-slower-than-its-port")
        self.assertNotIn("adapter-slower-than-its-port", ids(evaluate(demo("tern-and-tide"))))

    def test_slot_too_narrow_for_its_ports(self) -> None:
        document = demo("one-box").document()
        card = {"id": "slot", "name": "Slot 1", "bus": "pcie3x1", "holds": "network card", "ports": "2x10GbE"}
        document["plan"]["boxes"][0] |= {"ports": "1GbE", "cards": [card]}
        document["plan"]["wiring"]["links"][4]["links"] = 2
        bundle = bundle_from(document)
        evidence = cleared(self, bundle, "slot-too-narrow-for-its-ports")
        self.assertEqual(evidence["Its ports in use together"], 2.5e9)
        slot = next(hop for hop in evaluate(bundle).wiring.hops if hop.kind == "slot")
        self.assertAlmostEqual(slot.capacity_bytes_per_s, 8e9 * 128 / 130 / 8 * 256 / 280)
        one = demo("one-box")
        port = next(hop for hop in evaluate(one).wiring.hops if hop.id == "box-port")
        self.assertAlmostEqual(slot.required_bytes_per_s / port.required_bytes_per_s, 1)

    def test_display_on_a_direct_link(self) -> None:
        cleared(self, tern(wiring__links__PLUG__has_display=True), "display-on-a-direct-link")

    def test_reachable_from_outside(self) -> None:
        bundle = changed(
            demo("tern-and-tide"), **{"plan__wiring__links__outside-line__lets_in": "open ports"}
        )
        self.assertEqual(cleared(self, bundle, "reachable-from-outside"), {"Boxes within reach": 2})

    def test_switch_too_loud_for_the_room(self) -> None:
        bundle = tern(brief__limits__room__noise_dba_max=30)
        found = raised(self, bundle, "switch-too-loud-for-the-room")
        self.assertEqual([e.value for e in found.evidence], [31, 30])
