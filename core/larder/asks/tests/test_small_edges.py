"""Answers where one term more, one condition less or an edge would change what is said; stand-ins by hand."""

import math
import unittest
from decimal import Decimal
from types import SimpleNamespace as Of
from typing import Any
from unittest.mock import patch

import numpy as np

from larder.asks import cheapest_change, share_out
from larder.asks.advisor import crossing
from larder.asks.advisor.answers import gap_between
from larder.asks.advisor.ground import Ground
from larder.asks.advisor.pools import PoolTable
from larder.asks.cables import cables_of
from larder.asks.compare import compare_drives
from larder.asks.rehearsal import failures
from larder.asks.rehearsal.account import _jumps
from larder.asks.rehearsal.resources import DayResources
from larder.base.units import TB
from larder.stages.wiring import WIRING
from larder.tests.plans import demo


class Gaps(unittest.TestCase):
    def gap(self, **fields: Any) -> str:
        usual = {
            "five_years": 1000, "currency": "EUR", "plannable_bytes": 100 * TB, "speed_ratio": 1.2,
            "one_in_years": 1e5, "survives": 2, "chance": "1 in many",
        }  # fmt: skip
        before, after = Of(**usual), Of(**(usual | fields))
        return gap_between(Of(measured=before, letter="A"), Of(measured=after, letter="B"))  # type: ignore[arg-type]

    def test_what_is_more_and_what_is_less(self) -> None:
        self.assertEqual(self.gap(), "Costs what A does.")
        self.assertEqual(self.gap(five_years=1500), "500 EUR more than A in five years.")
        self.assertIn(": 100 TB more.", self.gap(plannable_bytes=200 * TB))
        self.assertIn(", but 50 TB less.", self.gap(plannable_bytes=50 * TB))
        self.assertIn(": ×2.40 instead of ×1.20.", self.gap(speed_ratio=2.4))
        self.assertIn(", but ×0.60 instead of ×1.20.", self.gap(speed_ratio=0.6))
        self.assertIn(": survives 3 dead drives instead of 2.", self.gap(survives=3))
        self.assertIn(", but survives only 1 dead drive.", self.gap(survives=1))
        self.assertIn(": a pool is lost", self.gap(one_in_years=1e8))
        self.assertIn(", but a pool is lost", self.gap(one_in_years=1e2))


class Jumps(unittest.TestCase):
    def told(self, *seconds: float | None) -> list[str]:
        seats = [
            Of(name=f"S{n}", first_frame_s=each, first_frame_at_s=36_000.0) for n, each in enumerate(seconds)
        ]
        return list(_jumps(Of(seats=seats, first_frame_limit_s=1.0)))  # type: ignore[arg-type]

    def test_longer_than_the_rule_and_who_waits_longest(self) -> None:
        self.assertEqual(self.told(1.0, None), [])
        self.assertEqual(self.told(1.5, 0.2), ["A jump of S0 takes 1.5 s at 10:00, longer than 1 s."])
        self.assertIn("S1 takes 3.0 s at 10:00, longer than 1 s; so it is for one more.", self.told(2, 3)[0])
        self.assertIn("; so it is for 2 more.", self.told(2, 3, 2)[0])


class FromStock(unittest.TestCase):
    def test_drives_and_spares_come_from_the_shelf_as_far_as_it_reaches(self) -> None:
        options: Any = Of(drives=[Of(in_stock=0), Of(in_stock=5)])
        pool: Any = Of(
            drive_at=np.array([0, 1, 1, 1]), drives=np.array([4, 4, 4, 4]), cold_spares=np.array([1, 0, 1, 3])
        )
        pool.from_stock = lambda of: PoolTable.from_stock(pool, of)
        self.assertEqual(pool.from_stock(options).tolist(), [0, 4, 5, 5])
        self.assertEqual(PoolTable.bought(pool, options).tolist(), [5, 0, 0, 2])


class WhoMoves(unittest.TestCase):
    def flows(self, *, both: bool, archive: float = 30.0) -> set[tuple[str, int, float, bool]]:
        demand = Of(
            archive_bytes_per_s=archive,
            paced_read_bytes_per_s=100.0,
            paced_write_bytes_per_s=0.0,
            read_bytes_per_s=100.0,
            write_bytes_per_s=20.0,
        )
        work = Of(
            asking=[Of(demand=demand)],
            tiers=Of(has_both_tiers=both),
            work_homes=[{"work": 1.0}],
            archive_homes=[{"old": 1.0}],
        )
        with patch.object(share_out, "from_work", lambda of: of.read_bytes_per_s - of.archive_bytes_per_s):
            house: Any = Of(work=work, ways=[{"work": 1, "old": 1}])
            found = list(share_out.flows_of(house, 0))
        return {(each.pool_id, each.way, each.rate, each.is_paced) for each in found}

    def test_what_is_old_is_read_from_the_archive_where_there_is_one(self) -> None:
        self.assertEqual(
            self.flows(both=True),
            {("work", 0, 70.0, True), ("work", 1, 20.0, False), ("old", 0, 30.0, True)},
        )
        self.assertEqual(self.flows(both=False), {("work", 0, 100.0, True), ("work", 1, 20.0, False)})
        self.assertEqual(
            self.flows(both=True, archive=0.0), {("work", 0, 100.0, True), ("work", 1, 20.0, False)}
        )


class Cables(unittest.TestCase):
    def test_the_others_of_an_aggregate_take_over_what_the_dead_one_carried(self) -> None:
        wire = Of(link=Of(id="trunk", links=3), near=Of(kind="switch"))
        members = {(n, near): 10 * n + near for n in range(3) for near in (True, False)}
        resources = Of(
            situation=Of(network=Of(wires=[Of(link=Of(id="x")), wire])),
            member=lambda _, n, *, towards_near: members[n, towards_near],
        )
        flows = [
            Of(costs=((1, 1.0), (99, 2.0))),
            Of(costs=((11, 1.0),)),
            Of(costs=((0, 1.0),)),
            Of(costs=((1, 3.0),)),
        ]
        [change] = failures._link(Of(resources=resources, flows=flows), "trunk", 5.0)  # type: ignore[arg-type]
        self.assertEqual((change.at_s, set(change.factors)), (5.0, {0, 1}))
        self.assertEqual(change.costs, {0: ((11, 1.0), (99, 2.0)), 2: ((20, 1.0),), 3: ((11, 3.0),)})


class Inside(unittest.TestCase):
    def test_what_a_byte_takes_of_a_bus_and_a_processor_however_little(self) -> None:
        costs = (
            Of(pool_id="p", a_byte_read=0.5, a_byte_written=0.0),
            Of(pool_id="q", a_byte_read=9.0, a_byte_written=9.0),
        )
        of: Any = Of(
            _shared=[Of(id="bus", capacity=7.0, costs=costs)], _of=lambda _key, hop_id, rate: (hop_id, rate)
        )
        self.assertEqual(list(DayResources._inside(of, "p", reads=True)), [(("bus", 7.0), 0.5)])
        self.assertEqual(list(DayResources._inside(of, "p", reads=False)), [])


class Helps(unittest.TestCase):
    def change(
        self, now: float | None, then: float | None, was: float = 1.0, worst: float = 1.0, lost: int = 0
    ) -> Any:
        def judged(seat: float | None, plan: float, gone: int) -> Any:
            wiring = Of(
                seats=[Of(id="x", ratio=9.0), Of(id="s", ratio=seat)], unreached=("s",) * gone, ratio=plan
            )
            rules = Of(enough_ratio=1.15)
            return Of(of={WIRING: wiring}.__getitem__, bundle=Of(house_rules=rules))

        trial: Any = Of(words="w", patch=(), parts=())
        with patch.object(cheapest_change, "_price", lambda *_: None):
            return cheapest_change._change(
                judged(now, was, 0),
                judged(then, worst, lost),
                trial,
                Of(id="s", ratio=now),  # type: ignore[arg-type]
            )

    def test_only_what_is_quicker_for_the_seat_and_cuts_nobody_off(self) -> None:
        self.assertTrue(self.change(0.5, 1.15).fixes)
        self.assertFalse(self.change(0.5, 1.14).fixes)
        for now, then, lost in ((0.5, 0.5, 0), (0.5, 0.4, 0), (0.5, None, 0), (0.5, 2.0, 1)):
            self.assertIsNone(self.change(now, then, lost=lost), (now, then, lost))

    def test_others_may_be_worse_off_as_long_as_they_have_what_they_need(self) -> None:
        self.assertIsNone(self.change(0.5, 2.0, was=1.3, worst=0.9))
        self.assertIsNotNone(self.change(0.5, 2.0, was=1.3, worst=1.0))
        self.assertIsNotNone(self.change(0.5, 2.0, was=0.9, worst=0.9))


class Shared(unittest.TestCase):
    """What all designs of a network share."""

    def ground(self, *noises: float, links: int = 1, shape: str = "one pool") -> Any:
        network = Of(
            switches=[Of(noise_dba=noise, watts=0) for noise in noises],
            links=[Of(links=1), Of(links=links)],
        )
        return Of(_network=network, shape=shape)

    def test_switches_of_which_no_noise_is_said_make_none(self) -> None:
        energy = Ground.switches_energy.func  # type: ignore[attr-defined]
        self.assertEqual(energy(self.ground(0.0, 0.0)), 0)
        self.assertAlmostEqual(energy(self.ground(30.0, 30.0, 0.0)), 2_000)

    def test_two_pools_two_switches_and_links_together_ask_for_some_skill(self) -> None:
        skill = Ground.skill.func  # type: ignore[attr-defined]
        self.assertEqual(skill(self.ground(0.0)), 0)
        for more in (self.ground(0.0, 0.0), self.ground(0.0, links=2), self.ground(0.0, shape="one box")):
            self.assertEqual(skill(more), 1)

    def test_the_room_bears_what_its_switches_leave(self) -> None:
        room = Of(circuit_watts=1000.0, noise_dba_max=30.0)
        limits = Of(room=room, upkeep_hours_per_month=10.0)
        brief = Of(budget=Decimal(5000), limits=limits)
        judged = Of(bundle=Of(house_rules=Of(circuit_percent_max=80.0), plan=Of(brief=brief)))
        field: Any = Of(ground=Of(switches_watts=50.0, switches_energy=400.0, judged=judged))
        terms: Any = Of(capex=Decimal(1000), upkeep_hours=4.0)
        with patch.object(crossing, "closet_watts", lambda *_: 200.0):
            left = {need: crossing._limit(field, terms, need) for need in crossing.ADDED}  # type: ignore[arg-type]
        for need, limit in (("budget", 4000), ("circuit", 750), ("air", 150), ("noise", 600), ("upkeep", 6)):
            self.assertAlmostEqual(left[need], limit, delta=limit * 1e-6)  # type: ignore[index]
        room.circuit_watts = room.noise_dba_max = None
        brief.budget = None
        with patch.object(crossing, "closet_watts", lambda *_: math.inf):
            for need in ("budget", "circuit", "air", "noise"):
                self.assertEqual(crossing._limit(field, terms, need), math.inf)  # type: ignore[arg-type]


class Listed(unittest.TestCase):
    def test_a_cable_of_every_seat_and_one_of_every_link_between_switches(self) -> None:
        bundle = demo("tern-and-tide")
        by_ends: dict[str, int] = {}
        for cable in cables_of(bundle):
            by_ends[cable.far] = by_ends.get(cable.far, 0) + 1
        # Five, one and one in the cutting room; two, the uplink and the line outside at the boathouse.
        self.assertEqual(
            by_ends,
            {"Cutting room switch": 7, "Boathouse switch": 4, "Signal room box": 1, "Boathouse box": 1},
        )
        self.assertIn("Edit 5", {cable.near for cable in cables_of(bundle)})
        self.assertIn("Colour", {cable.near for cable in cables_of(bundle)})

    def test_every_class_stands_in_the_list_also_where_it_cannot_be(self) -> None:
        bundle = demo("tern-and-tide")
        rows = compare_drives(bundle, "main")
        self.assertEqual([row.drive_id for row in rows], [drive.id for drive in bundle.catalogue.drives])
        refused = {row.drive_id for row in rows if row.why_not}
        self.assertTrue(refused)
        self.assertEqual({row.drive_id for row in rows if not row.patch and not row.is_current}, refused)
