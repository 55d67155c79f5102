"""Findings about growing, paying, power, room and people: each raised, its evidence held, and cleared."""

import unittest
from datetime import timedelta
from typing import Any

from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.tests.plans import changed, cleared, demo, ids, price, raised, stocked, with_lots

BOX: dict[str, Any] = {
    "id": "b", "name": "B", "bays": 12, "board_watts": 40, "supply_watts": 300, "noise_dba": 30, "mass_kg": 8.0,
}  # fmt: skip
ROOM = "plan__brief__limits__room__"


def built(box: dict[str, Any] | None = None, pool: dict[str, Any] | None = None, **plan: Any) -> Bundle:
    """Nine disks of 16 TB in one box."""
    base = {"wiring": {}, "caches": [], "boxes": [BOX | (box or {})]} | plan
    return stocked({"bays": "b:1-9"} | (pool or {}), **base)


def read(bundle: Bundle, *used_tb: float) -> Bundle:
    """Readings every four weeks, the last on the plan's day."""
    document = bundle.document()
    document["plan"]["growth"] = {
        "readings": [
            {
                "id": f"r{n}",
                "pool_id": bundle.plan.pools[0].id,
                "used_bytes": round(tb * TB),
                "read_on": (bundle.as_of - timedelta(weeks=4 * (len(used_tb) - 1 - n))).isoformat(),
            }
            for n, tb in enumerate(used_tb)
        ]
    }
    return Bundle.model_validate(document)


class Growing(unittest.TestCase):
    def test_an_order_is_due_until_something_is_planned(self) -> None:
        bundle = built(pool={"drive_count": 4})
        found = raised(self, bundle, "order-is-due")
        evidence = {e.label: e.value for e in found.evidence}
        tier = evaluate(bundle).growth.tiers[0]
        assert tier.order_by
        self.assertEqual(evidence["Days too late"], (bundle.as_of - tier.order_by).days)
        document = bundle.document()
        document["plan"]["growth"] = {
            "steps": [{"id": "s", "name": "S", "pool_id": "main", "drive_count": 4, "drive_bytes": 16 * TB}]
        }
        self.assertNotIn("order-is-due", ids(evaluate(Bundle.model_validate(document))))
        self.assertNotIn("order-is-due", ids(evaluate(demo("tern-and-tide"))))

    def test_readings_that_outgrow_the_brief(self) -> None:
        bundle = read(demo("halyard-street"), 0.4, 1.0, 1.6, 2.2, 2.8, 3.4, 4.0, 4.6)
        found = raised(self, bundle, "readings-outgrow-the-brief")
        self.assertGreater(found.evidence[0].value, 1.5)
        mended = changed(bundle, plan__brief__stills_bytes_per_week=144_000_000_000)
        self.assertNotIn("readings-outgrow-the-brief", ids(evaluate(mended)))

    def test_a_reading_that_cannot_be(self) -> None:
        bundle = read(demo("halyard-street"), 4.0, 400.0)
        self.assertEqual(cleared(self, bundle, "reading-cannot-be")["Read"], 400 * TB)
        # It is left out of the forecast: what lies there is the other one's.
        self.assertLess(evaluate(bundle).growth.tiers[0].used_bytes, 5 * TB)

    def test_prices_that_are_older_than_the_rule(self) -> None:
        bundle = demo("tern-and-tide")
        old = changed(bundle, house_rules__price_days_max=14)
        found = raised(self, old, "price-past-its-date")
        self.assertEqual(found.evidence[1].value, 21)
        self.assertNotIn("price-past-its-date", ids(evaluate(bundle)))

    def test_a_pick_list_that_lacks_parts(self) -> None:
        bundle = changed(demo("tern-and-tide"), plan__purchases__cables__count=7)
        self.assertEqual(cleared(self, bundle, "pick-list-lacks-parts")["Lacking"], 5)
        self.assertEqual(evaluate(bundle).scales.money.verdict, "tight")  # the plan has a price for cables

    def test_a_service_that_costs_more_than_drives_of_ones_own(self) -> None:
        found = raised(self, demo("tern-and-tide"), "cloud-cost-overtakes-own-copy")
        self.assertIn("March 2028", found.title)
        cheap = changed(
            demo("tern-and-tide"), plan__safekeeping__stores__service__monthly_price_per_tb="0.20"
        )
        self.assertNotIn("cloud-cost-overtakes-own-copy", ids(evaluate(cheap)))

    def test_snapshots_that_hold_more_than_their_reserve(self) -> None:
        volume = {
            "id": "v",
            "name": "V",
            "pool_id": "main",
            "snapshot_days": 30,
            "rewritten_bytes_per_day": 200_000_000_000,
        }
        bundle = built(volumes=[volume])
        evidence = cleared(self, bundle, "snapshots-hold-more-than-their-reserve")
        self.assertEqual(evidence["Held and not free"], 6 * TB)

    def test_what_is_deleted_from_a_pool_for_work_is_what_comes_in_where_nobody_says_more(self) -> None:
        evaluation = evaluate(demo("tern-and-tide"))
        (held,) = [snapshot for snapshot in evaluation.snapshots if snapshot.pool_id == "hot"]
        a_day = evaluation.brief.growth_bytes_per_week / 7
        # Two volumes share it; only the one with snapshots holds any back.
        self.assertAlmostEqual(held.deleted_bytes_per_day, a_day, delta=2)
        self.assertAlmostEqual(held.held_bytes, a_day * 14, delta=20)
        self.assertEqual(
            evaluate(built(volumes=[{"id": "v", "name": "V", "pool_id": "main", "snapshot_days": 30}]))
            .snapshots[0]
            .held_bytes,
            0,
        )


class Power(unittest.TestCase):
    def test_a_supply_that_cannot_start_its_disks(self) -> None:
        evidence = cleared(self, built({"supply_watts": 200}), "supply-overloaded")
        self.assertAlmostEqual(evidence["At spin-up"], 40 + 9 * 24)
        weak = raised(self, built({"supply_watts": 100}), "supply-overloaded")
        self.assertEqual((weak.severity, weak.remedy.patch), ("block", ()))

    def test_a_circuit_beyond_four_fifths(self) -> None:
        bundle = changed(built(), **{ROOM + "circuit_watts": 140})
        found = raised(self, bundle, "circuit-over-80-percent")
        self.assertIn("electrician", found.remedy.words)
        self.assertEqual(found.severity, "warn")
        wide = changed(bundle, **{ROOM + "circuit_watts": 160})
        self.assertNotIn("circuit-over-80-percent", ids(evaluate(wide)))

    def test_a_closet_without_air(self) -> None:
        bundle = changed(built({"board_watts": 140}), **{ROOM + "air": "closet", ROOM + "air_m3_per_h": 0})
        found = raised(self, bundle, "closet-without-air")
        self.assertIn("ventilation", found.remedy.words)
        aired = changed(bundle, **{ROOM + "air_m3_per_h": 60})
        self.assertNotIn("closet-without-air", ids(evaluate(aired)))

    def test_noise_of_all_together(self) -> None:
        bundle = changed(built(), **{ROOM + "noise_dba_max": 33})
        self.assertGreater(raised(self, bundle, "noise-over-the-rooms-limit").evidence[0].value, 33)
        quiet = changed(bundle, **{ROOM + "noise_dba_max": 35})
        self.assertNotIn("noise-over-the-rooms-limit", ids(evaluate(quiet)))

    def test_a_box_for_two_people(self) -> None:
        found = raised(self, built({"mass_kg": 17}), "unit-too-heavy-for-one-person")
        self.assertAlmostEqual(found.evidence[0].value, 17 + 9 * 0.7)
        self.assertNotIn("unit-too-heavy-for-one-person", ids(evaluate(built({"mass_kg": 13}))))

    def test_a_battery_that_is_too_weak(self) -> None:
        battery = {"id": "u", "name": "U", "watts_max": 100, "energy_wh": 500}
        bundle = built(mains={"batteries": [battery]})
        found = raised(self, bundle, "battery-supply-too-weak")
        self.assertEqual((found.evidence[0].value, "cannot carry" in found.title), (0.0, True))
        small = changed(
            bundle, plan__mains__batteries__u__watts_max=900, plan__mains__batteries__u__energy_wh=10
        )
        self.assertIn("minutes", raised(self, small, "battery-supply-too-weak").title)
        good = changed(bundle, plan__mains__batteries__u__watts_max=900)
        self.assertNotIn("battery-supply-too-weak", ids(evaluate(good)))


class People(unittest.TestCase):
    LIMITS = "plan__brief__limits__"

    def test_more_hours_than_there_are(self) -> None:
        bundle = changed(demo("tern-and-tide"), **{self.LIMITS + "upkeep_hours_per_month": 3})
        self.assertGreater(raised(self, bundle, "more-upkeep-than-hours").evidence[0].value, 3)
        self.assertNotIn("more-upkeep-than-hours", ids(evaluate(demo("tern-and-tide"))))

    def test_more_skill_than_there_is(self) -> None:
        bundle = changed(demo("tern-and-tide"), **{self.LIMITS + "skill": "none"})
        self.assertIn("2 pools", raised(self, bundle, "asks-for-more-skill").title)
        self.assertNotIn("asks-for-more-skill", ids(evaluate(demo("tern-and-tide"))))

    def test_support_that_nobody_was_asked_for(self) -> None:
        bundle = changed(demo("tern-and-tide"), **{self.LIMITS + "support": "four hours"})
        self.assertEqual(cleared(self, bundle, "support-wanted-is-not-planned")["Wanted within"], 4)

    def test_a_day_that_comes_too_soon(self) -> None:
        bundle = changed(demo("tern-and-tide"), **{self.LIMITS + "ready_by": "2026-12-01"})
        evidence = {e.label: e.value for e in raised(self, bundle, "cannot-be-ready-in-time").evidence}
        self.assertEqual(evidence, {"Days left": 8, "Deciding, delivery and building in": 24})
        self.assertNotIn("cannot-be-ready-in-time", ids(evaluate(demo("tern-and-tide"))))

    def test_drives_that_lie_on_the_shelf_while_others_are_bought(self) -> None:
        lot = {"tb": 12, "count": 6}
        bundle = with_lots(demo("tern-and-tide"), lot, {"tb": 40, "count": 2}, reuse="first")
        disks = next(pool for pool in bundle.plan.pools if pool.drive_kind == "hdd")
        finding = raised(self, bundle, "stock-left-idle")
        self.assertEqual({e.label: e.value for e in finding.evidence}["Idle"], 72e12)
        used = changed(bundle, **{f"plan__pools__{disks.id}__reused_drives": 6})
        self.assertNotIn("stock-left-idle", ids(evaluate(used)))
        for reuse in ("where it pays", "not at all"):
            other = with_lots(demo("tern-and-tide"), lot, reuse=reuse)
            self.assertNotIn("stock-left-idle", ids(evaluate(other)))


class Prices(unittest.TestCase):
    def test_two_currencies_are_refused_by_name(self) -> None:
        with self.assertRaisesRegex(Exception, "EUR, the plan's currency"):
            stocked({"bays": ""}, [price("disk-16-array", "289", demo("one-box").as_of, "SEK")])
