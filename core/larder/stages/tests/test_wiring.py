"""Hops by hand: links by direction and flows, pools by their tier's load, what nobody asks anything of."""

import unittest
from typing import Any

from larder.judge.evaluation import Evaluation, evaluate
from larder.readers.plan_file import bundle_from
from larder.stages.hops import HopResult
from larder.tests.plans import chained, changed, demo

LINK = 10e9 / 8 * 1448 / 1538 * 0.9


def hops(answer: Evaluation) -> dict[str, HopResult]:
    return {hop.id: hop for hop in answer.wiring.hops}


def footage(seat_id: str, **fields: Any) -> dict[str, Any]:
    """A seat that plays one stream of 100 MB/s at its peak, which it always is."""
    return {
        "kind": "footage", "id": seat_id, "name": seat_id.capitalize(), "count": 1, "streams": 1,
        "format_id": "flat", "direction": "read", "probability": 1.0,
    } | fields  # fmt: skip


class Links(unittest.TestCase):
    def of(self, links: list[dict[str, Any]], seats: list[dict[str, Any]]) -> dict[str, HopResult]:
        """The one-box demo with these hops, and these seats instead of its own, at MTU 1500."""
        document = demo("one-box").document()
        flat = {"id": "flat", "kind": "measured", "name": "Flat", "mean_bytes_per_s": 100e6}
        document["catalogue"]["formats"].append(flat)
        document["plan"]["brief"] |= {"seats": seats, "services": [], "day_parts": []}
        return hops(evaluate(bundle_from(chained(document, links))))

    def test_a_hop_of_one_seat_is_held_against_the_heaviest_one(self) -> None:
        seats = [footage("light"), footage("heavy", streams=3), footage("none", count=0, streams=9)]
        port = self.of([{"id": "port", "serves": "seat", "speed": "10GbE"}], seats)["plug-heavy"]
        self.assertAlmostEqual(port.capacity_bytes_per_s, LINK)
        self.assertAlmostEqual(port.required_bytes_per_s, 300e6)
        self.assertAlmostEqual(port.ratio or 0, LINK / 300e6)
        self.assertEqual((port.direction, port.because), ("read", "Heavy alone, playing"))

    def test_a_shared_hop_is_held_against_all_together_in_its_worse_direction(self) -> None:
        seats = [footage("plays", count=2), footage("writes", direction="write", count=3)]
        link = self.of([{"id": "up", "speed": "10GbE"}], seats)["up"]
        self.assertAlmostEqual(link.required_bytes_per_s, 300e6)
        self.assertEqual((link.direction, link.because), ("write", "all seats together, writing"))
        self.assertEqual(link.links, 1)

    def test_an_aggregate_carries_as_many_flows_as_there_are_and_no_flow_twice(self) -> None:
        two = {"id": "up", "speed": "10GbE", "links": 2}
        many = self.of([two], [footage("plays", count=6)])["up"]
        self.assertAlmostEqual(many.capacity_bytes_per_s, 2 * LINK)
        assert many.link_terms is not None
        self.assertEqual(many.link_terms.links_used, 2)
        # One seat is one flow: the second link does not help it.
        alone = self.of([two], [footage("plays", streams=6)])["up"]
        self.assertAlmostEqual(alone.capacity_bytes_per_s, LINK)
        self.assertEqual(alone.because, "Plays alone, playing")
        # Flows are pinned to members as it falls: both light ones may share the heavy one's.
        heavy = self.of([two], [footage("heavy", streams=9), footage("light", count=2)])["up"]
        self.assertEqual(heavy.because, "all seats together, playing")
        self.assertAlmostEqual((heavy.ratio or 0) / (LINK / 1100e6), 1)

    def test_who_writes_is_no_flow_of_reading(self) -> None:
        seats = [footage("plays", streams=4), footage("writes", direction="write", count=5, streams=0)]
        link = self.of([{"id": "up", "speed": "10GbE", "links": 2}], seats)["up"]
        self.assertAlmostEqual(link.capacity_bytes_per_s, LINK)

    def test_who_sits_inside_asks_nothing_of_a_link(self) -> None:
        seats = [footage("inside", seated="inside", streams=9), footage("plays")]
        found = self.of(
            [{"id": "port", "serves": "seat", "speed": "10GbE"}, {"id": "up", "speed": "10GbE"}], seats
        )
        for hop in (found["plug-plays"], found["up"]):
            self.assertAlmostEqual(hop.required_bytes_per_s, 100e6)
        self.assertAlmostEqual(found["main"].required_bytes_per_s, 1000e6, delta=1)

    def test_the_limit_is_the_hop_with_the_smallest_ratio(self) -> None:
        answer = evaluate(demo("tern-and-tide"))
        limit = min((h for h in answer.wiring.hops if h.ratio is not None), key=lambda h: h.ratio or 0)
        self.assertEqual(answer.wiring.limiting_hop_id, limit.id)
        self.assertEqual(answer.wiring.delivered_bytes_per_s, limit.capacity_bytes_per_s)
        self.assertEqual(answer.wiring.required_bytes_per_s, limit.required_bytes_per_s)


class Nothing(unittest.TestCase):
    def test_where_nobody_asks_there_is_no_ratio_and_no_limit(self) -> None:
        document = demo("tern-and-tide").document()
        document["plan"]["brief"]["seats"], document["plan"]["brief"]["services"] = [], []
        wiring = evaluate(bundle_from(document)).wiring
        self.assertIsNone(wiring.limiting_hop_id)
        self.assertEqual(
            (wiring.required_bytes_per_s, wiring.delivered_bytes_per_s, wiring.ratio), (0, 0, None)
        )
        for hop in wiring.hops:
            self.assertEqual((hop.ratio, hop.required_bytes_per_s), (None, 0))
            self.assertEqual(hop.because, "nothing asked of it")
            self.assertGreater(hop.capacity_bytes_per_s, 0)

    def test_a_pool_and_its_processor_then_tell_what_they_carry_of_reading(self) -> None:
        document = demo("tern-and-tide").document()
        document["plan"]["brief"]["seats"], document["plan"]["brief"]["services"] = [], []
        answer = evaluate(bundle_from(document))
        found = hops(answer)
        for pool in answer.tiers.pools:
            self.assertAlmostEqual(found[pool.id].capacity_bytes_per_s, pool.read.middle_bytes_per_s)
        for hop in answer.wiring.hops:
            if hop.shared_terms is not None:
                dearest = max(c.a_byte_read for c in hop.shared_terms.costs)
                self.assertAlmostEqual(hop.capacity_bytes_per_s, hop.shared_terms.capacity / dearest)


class Pools(unittest.TestCase):
    def test_a_pool_carries_its_own_mix_of_reads_and_writes(self) -> None:
        answer = evaluate(demo("long-shore"))
        brief, found = answer.brief, hops(answer)
        read = brief.read_bytes_per_day - brief.archive_bytes_per_day
        part = read / (read + brief.write_bytes_per_day)
        for pool in answer.tiers.pools:
            share = part if pool.tier == "work" else 1.0
            reads, writes = pool.read.middle_bytes_per_s, pool.write.middle_bytes_per_s
            capacity = 1 / (share / reads + (1 - share) / writes)
            self.assertAlmostEqual(found[pool.id].capacity_bytes_per_s / capacity, 1)

    def test_without_an_archive_one_pool_takes_it_all(self) -> None:
        answer = evaluate(demo("one-box"))
        pool = hops(answer)["main"]
        # What is asked at once reads more than what is asked all day, and reading is quicker.
        self.assertAlmostEqual(pool.required_bytes_per_s / answer.brief.both.sized_bytes_per_s, 1, delta=0.01)
        self.assertEqual(pool.because, "all seats together, playing and writing in Day")
        self.assertEqual((pool.pool_ids, pool.direction, pool.serves), (("main",), "both", "all"))
        self.assertEqual((pool.links, pool.link_bytes_per_s), (1, pool.capacity_bytes_per_s))

    def test_a_processor_shared_by_two_pools_is_used_up_by_both(self) -> None:
        first = demo("one-box").document()["plan"]["pools"][0] | {"bays": ""}
        second = first | {
            "id": "more",
            "name": "More",
            "layout": "span",
            "filesystem": "journal",
            "drive_count": 4,
        }
        box = {"id": "b", "name": "B", "bays": 24, "processor": "small"}
        document = demo("one-box").document()
        document["plan"] |= {"pools": [first, second], "boxes": [box]}
        answer = evaluate(bundle_from(document))
        found = hops(answer)
        shared = [hop for hop in answer.wiring.hops if hop.kind == "processor" and len(hop.pool_ids) > 1]
        self.assertTrue(shared)
        for hop in shared:
            assert hop.shared_terms is not None
            parts = hop.shared_terms.costs
            self.assertAlmostEqual(sum(c.load_share for c in parts), 1)
            a_byte = sum(
                c.load_share * (c.read_share * c.a_byte_read + (1 - c.read_share) * c.a_byte_written)
                for c in parts
            )
            self.assertAlmostEqual(hop.capacity_bytes_per_s * a_byte / hop.shared_terms.capacity, 1)
            # Whoever's bytes lie in either pool passes it: nothing of what is asked goes another way.
            alone = max(found[pool_id].required_bytes_per_s for pool_id in hop.pool_ids)
            self.assertGreaterEqual(hop.required_bytes_per_s * 1.05, alone)

    def test_a_faster_wire_never_carries_less(self) -> None:
        rates = [
            hops(evaluate(changed(demo("one-box"), plan__wiring__links__PLUG__speed=speed)))["plug-colour"]
            for speed in ("1GbE", "2.5GbE", "10GbE", "25GbE")
        ]
        carried = [hop.capacity_bytes_per_s for hop in rates]
        self.assertEqual(carried, sorted(carried))


class Trouble(unittest.TestCase):
    def test_speed_while_a_pool_is_in_trouble_stands_beside_the_first_verdict(self) -> None:
        answer = evaluate(changed(demo("one-box"), plan__brief__seats__colour__count=0))
        (pool,) = answer.tiers.pools
        result = {each.trouble: each.ratio for each in answer.wiring.in_trouble}
        usual = answer.wiring.ratio or 0
        assert pool.degraded_read is not None
        assert pool.rebuilding_read is not None
        read = pool.read.middle_bytes_per_s
        self.assertAlmostEqual(result["a dead disk"], usual * pool.degraded_read.middle_bytes_per_s / read)
        self.assertAlmostEqual(result["a rebuild"], usual * pool.rebuilding_read.middle_bytes_per_s / read)
        self.assertAlmostEqual(result["a scrub"], usual * 0.7)

    def test_it_is_said_where_the_verdict_changes_and_a_lost_pool_is_no_slow_one(self) -> None:
        bundle = changed(
            demo("one-box"), plan__brief__seats__colour__streams=1, plan__brief__seats__stills__count=0
        )
        slower = changed(bundle, plan__pools__main__drive_kind="ssd")
        self.assertEqual(evaluate(slower).scales.speed.verdict, "enough")
        answer = []
        for drives in (9, 3):
            few = changed(
                slower,
                plan__pools__main__bays="",
                plan__pools__main__drive_count=drives,
                plan__pools__main__layout="raid5",
            )
            answer.append(evaluate(few).scales.speed.beside.partition(":")[0])
        self.assertEqual(answer, ["", "short in a rebuild of Boathouse pool"])
        none = changed(slower, plan__pools__main__layout="stripe")
        self.assertEqual([t.trouble for t in evaluate(none).wiring.in_trouble], ["a scrub"])


class Plugs(unittest.TestCase):
    def test_what_is_left_of_ports_lanes_and_slots_by_hand(self) -> None:
        plugs = evaluate(demo("tern-and-tide")).plugs
        ports = {(port.name, port.speed): (port.free, port.count) for port in plugs.ports}
        self.assertEqual(ports["Cutting room switch", "10GbE"], (3, 12))
        self.assertEqual(ports["Boathouse switch", "1GbE"], (21, 24))
        self.assertEqual(ports["Boathouse box", "10GbE"], (0, 1))
        lanes = {box.box_id: (box.wired, box.count) for box in plugs.lanes}
        self.assertEqual(lanes["signal-room"], (20, 20))
        self.assertEqual({slot.holds for slot in plugs.slots}, {"empty"})

    def test_two_links_of_a_box_into_one_tree_have_networks_of_their_own(self) -> None:
        document = demo("tern-and-tide").document()
        second = {"id": "second", "near": "switch:boathouse", "far": "box:signal-room"}
        document["plan"]["wiring"]["links"].append(second)
        document["plan"]["brief"]["seats"][0]["mounts_by"] = "second"
        answer = {a.link_id: a for a in evaluate(bundle_from(document)).plugs.addresses}
        self.assertEqual(answer["signal-room-port"].network, answer["boathouse-port"].network)
        self.assertNotEqual(answer["second"].network, answer["signal-room-port"].network)
        # Stills are plugged in beside it: of two ways as wide theirs is the shorter one.
        self.assertEqual(answer["second"].mounted_by, ("Edit", "Stills retouch"))
        self.assertEqual(len({a.address for a in answer.values()}), len(answer))
