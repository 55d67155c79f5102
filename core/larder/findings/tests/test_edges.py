"""Rules right at their edges: silent at it, spoken beyond it, with the evidence; the figures are written out by hand."""

import unittest
from collections.abc import Callable, Iterator
from datetime import date
from types import SimpleNamespace as Of
from typing import Any
from unittest.mock import patch

from larder.base.units import GB, TB, TIB
from larder.findings import bays, boxes, brief, caches, drives, growth, people, power, tiers, volumes
from larder.findings.finding import Found, Remedy
from larder.plan.brief import FootageSeat
from larder.plan.house_rules import HouseRules
from larder.plan.volumes import Volume
from larder.stages.cards import CARDS
from larder.stages.growth import GROWTH
from larder.stages.money import MONEY
from larder.stages.power import POWER
from larder.stages.snapshots import SNAPSHOTS
from larder.stages.upkeep import UPKEEP

RULES = HouseRules()
TODAY = date(2026, 12, 2)
Look = Callable[[Any], Iterator[Found]]


def figures(plan: dict[str, Any] | None = None, parts: dict[Any, Any] | None = None, **results: Any) -> Any:
    """What a rule looks at: a plan of these fields, the parts' results, and the named ones."""
    bundle = Of(plan=Of(**(plan or {})), house_rules=RULES, as_of=TODAY)
    return Of(bundle=bundle, of=lambda part: (parts or {})[part], **results)


def evidence(found: Found) -> dict[str, float]:
    return {each.label: each.value for each in found.evidence}


class EdgeCase(unittest.TestCase):
    def silent(self, look: Look, f: Any) -> None:
        self.assertEqual(list(look(f)), [])

    def one(self, look: Look, f: Any, **wanted: float) -> Found:
        found = list(look(f))
        self.assertEqual(len(found), 1)
        answer = evidence(found[0])
        self.assertLessEqual(
            {key.replace("_", " "): value for key, value in wanted.items()}.items(), answer.items(), answer
        )
        return found[0]


class PowerAndRoom(EdgeCase):
    def box(self, **fields: Any) -> Any:
        usual = {
            "id": "b", "name": "B", "carried_share": 0.5, "surge_watts": 100.0, "busy_watts": 90.0,
            "noise_dba": 30.0, "mass_kg": 10.0,
        }  # fmt: skip
        return Of(**(usual | fields))

    def of(self, *boxes_: Any, together: bool = True, **fields: Any) -> Any:
        usual = {
            "boxes": boxes_, "circuit_share": None, "circuit_watts": None, "closet_degrees": None, "noise_dba": 0.0,
            "noise_dba_max": None, "battery_minutes": None, "battery_watts": 0.0, "busy_watts": 100.0,
            "heat_btu_per_h": 341.2,
        }  # fmt: skip
        room = Of(limits=Of(room=Of(air_m3_per_h=0)))
        plan = {"boxes": [Of(id="b", spins_up_together=together)], "brief": room}
        return figures(plan, {POWER: Of(**(usual | fields))})

    def test_a_supply_at_the_rule_carries_and_beyond_it_is_overloaded(self) -> None:
        edge = RULES.supply_percent_max / 100
        self.silent(power.supply_overloaded, self.of(self.box(carried_share=edge)))
        box = self.box(carried_share=edge * 1.01, surge_watts=200.0, busy_watts=50.0)
        found = self.one(power.supply_overloaded, self.of(box), At_work=50.0)
        self.assertEqual(found.severity, "warn")
        self.assertTrue(found.remedy.patch)
        self.assertAlmostEqual(evidence(found)["Its supply carries"], round(200 / (edge * 1.01), 1))

    def test_starting_one_by_one_is_offered_only_where_it_helps(self) -> None:
        share = 1.25
        carries = 160.0
        least = RULES.supply_percent_max / 100 * carries * 0.9
        for surge, busy, together, offered in (
            (200.0, least - 0.1, True, True),
            (200.0, least, True, False),
            (200.0, least - 0.1, False, False),
        ):
            box = self.box(carried_share=share, surge_watts=surge, busy_watts=busy)
            found = self.one(power.supply_overloaded, self.of(box, together=together))
            self.assertEqual(bool(found.remedy.patch), offered, (surge, busy, together))
        flat = self.box(carried_share=100.0, surge_watts=104.0, busy_watts=100.0)
        self.assertFalse(self.one(power.supply_overloaded, self.of(flat)).remedy.patch)

    def test_a_supply_that_does_not_carry_the_work_blocks(self) -> None:
        for busy, severity in ((160.0, "warn"), (160.1, "block")):
            box = self.box(carried_share=1.25, surge_watts=200.0, busy_watts=busy)
            self.assertEqual(self.one(power.supply_overloaded, self.of(box)).severity, severity)

    def test_a_circuit(self) -> None:
        edge = RULES.circuit_percent_max / 100
        self.silent(power.circuit_over_80_percent, self.of(circuit_share=edge, circuit_watts=1000.0))
        self.silent(power.circuit_over_80_percent, self.of(circuit_share=None, circuit_watts=1000.0))
        self.silent(power.circuit_over_80_percent, self.of(circuit_share=2.0, circuit_watts=None))
        for share, severity in ((1.0, "warn"), (1.001, "block")):
            f = self.of(circuit_share=share, circuit_watts=1000.0)
            found = self.one(power.circuit_over_80_percent, f, The_circuit=1000.0)
            self.assertEqual(
                (found.severity, evidence(found)["Drawn at work"]), (severity, round(share * 1000))
            )

    def test_a_closet_a_room_a_lift_and_a_battery(self) -> None:
        warm = RULES.closet_degrees_max
        self.silent(power.closet_without_air, self.of(closet_degrees=warm))
        self.silent(power.closet_without_air, self.of())
        self.one(power.closet_without_air, self.of(closet_degrees=warm + 0.1), Heat=341)
        self.silent(power.noise_over_the_rooms_limit, self.of(noise_dba=35.0, noise_dba_max=35.0))
        self.silent(power.noise_over_the_rooms_limit, self.of(noise_dba=99.0))
        quiet, loud = self.box(name="Quiet", noise_dba=30.0), self.box(name="Loud", noise_dba=40.0)
        noisy = self.of(quiet, loud, noise_dba=40.4, noise_dba_max=35.0)
        self.assertEqual(
            evidence(self.one(power.noise_over_the_rooms_limit, noisy))["The loudest: Loud"], 40.0
        )
        heavy = RULES.lift_kg_max
        self.silent(power.unit_too_heavy_for_one_person, self.of(self.box(mass_kg=heavy)))
        self.one(power.unit_too_heavy_for_one_person, self.of(self.box(mass_kg=heavy + 1)))
        least = RULES.battery_minutes_min
        self.silent(power.battery_supply_too_weak, self.of(battery_minutes=least))
        self.silent(power.battery_supply_too_weak, self.of())
        found = self.one(power.battery_supply_too_weak, self.of(battery_minutes=least - 0.5))
        self.assertIn("holds", found.title)
        self.assertIn(
            "cannot carry", self.one(power.battery_supply_too_weak, self.of(battery_minutes=0)).title
        )


class GrowthAndMoney(EdgeCase):
    def tier(self, **fields: Any) -> Any:
        usual = {
            "id": "work", "name": "Work", "steps": (), "is_late": True, "order_by": date(2026, 12, 1), "full_on": None,
            "lead_days": 20, "plannable_bytes": TB, "follows": "both", "level": 1.4, "level_low": 1.1, "read": (1, 2),
        }  # fmt: skip
        return Of(**(usual | fields))

    def of(self, *tiers_: Any) -> Any:
        pools = [Of(id="cold", tier="archive"), Of(id="hot", tier="work")]
        return figures({"pools": pools}, {GROWTH: Of(tiers=tiers_)})

    def test_an_order_is_due_where_none_is_planned(self) -> None:
        found = self.one(growth.order_is_due, self.of(self.tier()), Days_too_late=1, From_order_to_use=20)
        self.assertEqual((found.severity, found.remedy.at), ("note", "plan/pools/hot"))
        self.assertTrue(found.title.endswith("1 day ago"))
        full = self.tier(id="archive", full_on=TODAY, order_by=date(2026, 11, 30))
        found = self.one(growth.order_is_due, self.of(full), Days_too_late=2)
        self.assertEqual((found.severity, found.remedy.at), ("warn", "plan/pools/cold"))
        for silent in (
            {"is_late": False},
            {"order_by": None},
            {"steps": (Of(order_by=TODAY),)},
        ):
            self.silent(growth.order_is_due, self.of(self.tier(**silent)))
        self.one(growth.order_is_due, self.of(self.tier(steps=(Of(order_by=None),))))

    def test_readings_outgrow_the_brief_where_they_clearly_do(self) -> None:
        self.one(growth.readings_outgrow_the_brief, self.of(self.tier()), Readings=2)
        for silent in ({"level_low": 1}, {"follows": "brief"}, {"follows": "readings"}):
            self.silent(growth.readings_outgrow_the_brief, self.of(self.tier(**silent)))

    def test_a_reading_may_fill_the_drives_and_no_more(self) -> None:
        def read(used: int) -> Any:
            reading = Of(id="r", pool_id="p", used_bytes=used, read_on=TODAY)
            pools = [Of(id="p", drives_bytes=(TB, 2 * TB))]
            return figures({"pools": pools, "growth": Of(readings=[reading])})

        self.silent(growth.reading_cannot_be, read(3 * TB))
        self.one(growth.reading_cannot_be, read(3 * TB + 1), Read=3 * TB + 1)

    def test_a_price_is_old_past_the_rule_and_the_oldest_is_named(self) -> None:
        most = RULES.price_days_max

        def priced(*days: int) -> Any:
            lines = [
                Of(name=f"{n} days", priced_on=date.fromordinal(TODAY.toordinal() - n), amount=1)
                for n in days
            ]
            undated, free = (
                Of(name="x", priced_on=None, amount=1),
                Of(name="y", priced_on=date(2000, 1, 1), amount=0),
            )
            return figures({}, {MONEY: Of(lines=[*lines, undated, free])})

        self.silent(growth.price_past_its_date, priced(most))
        one = self.one(growth.price_past_its_date, priced(most, most + 1), Prices_past_the_house_rule=1)
        self.assertIn("1 price is", one.title)
        two = self.one(growth.price_past_its_date, priced(most + 9, most + 2), Prices_past_the_house_rule=2)
        self.assertEqual(evidence(two)[f"The oldest: {most + 9} days"], most + 9)
        self.assertIn("2 prices are", two.title)

    def test_snapshots_may_hold_their_reserve_and_little_is_not_worth_a_word(self) -> None:
        def held(held_bytes: float, reserve: float = 0, usable: float = TB) -> Any:
            snapshot = Of(
                pool_id="p",
                name="P",
                held_bytes=held_bytes,
                reserve_bytes=reserve,
                deleted_bytes_per_day=GB,
                days=7,
            )
            return figures({}, {SNAPSHOTS: [snapshot]}, tiers=Of(pools=[Of(id="p", usable_bytes=usable)]))

        look = growth.snapshots_hold_more_than_their_reserve
        self.silent(look, held(TB, TB))
        self.silent(look, held(TB / 100 - 1))
        self.one(look, held(TB / 100))
        found = self.one(look, held(0.1 * TB, 0.05 * TB, 0.95 * TB), Days_until_it_is_free=7)
        self.assertEqual(found.remedy.patch[0].value, 10)
        self.assertTrue(self.one(look, held(0.59 * TB)).remedy.patch)
        self.assertFalse(self.one(look, held(0.591 * TB)).remedy.patch)


class People(EdgeCase):
    def of(self, upkeep: Any, pools: Any = (1,), **limits: Any) -> Any:
        return figures({"brief": Of(limits=Of(**limits)), "pools": pools}, {UPKEEP: upkeep})

    def test_hours_and_skill_may_be_used_up(self) -> None:
        hours = people.more_upkeep_than_hours
        self.silent(hours, self.of(Of(hours_per_month=4.0), upkeep_hours_per_month=4.0))
        self.silent(hours, self.of(Of(hours_per_month=9.0), pools=(), upkeep_hours_per_month=4.0))
        self.one(hours, self.of(Of(hours_per_month=4.04), upkeep_hours_per_month=4.0), Takes_a_month=4.0)
        skill = people.asks_for_more_skill
        levels = people.SKILLS
        for asked in levels:
            for there in levels:
                f = self.of(Of(skill=asked, asks=("a controller", "a switch")), skill=there)
                if levels.index(asked) > levels.index(there):
                    self.assertIn("a controller", self.one(skill, f, Things_that_ask_for_it=2).title)
                else:
                    self.silent(skill, f)


class BriefRules(EdgeCase):
    def test_a_workstation_plays_as_many_streams_as_it_decodes(self) -> None:
        def seat(streams: int, decodes: int | None, **fields: Any) -> Any:
            usual = {
                "id": "edit",
                "name": "Edit",
                "count": 1,
                "angles": 2,
                "direction": "play",
                "format_id": "f",
            }
            made = FootageSeat.model_construct(
                **(usual | fields), streams=streams, decoded_streams_max=decodes
            )
            formats = [Of(id="f", mean_bytes_per_s=10.0)]
            f = figures(
                {"brief": Of(seats=[made])},
                wiring=Of(ratio=fields.get("ratio", 1)),
                brief=Of(formats=formats),
            )
            f.bundle.catalogue = Of(formats=[])
            return f

        look = brief.decode_bound_playback
        for silent in (seat(2, 4), seat(2, None), seat(3, 4, count=0), seat(3, 4, direction="write")):
            self.silent(look, silent)
        found = self.one(look, seat(3, 4), Streams_it_is_to_play=6, Streams_it_can_decode=4)
        self.assertIn("every hop delivers", found.why)
        self.assertNotIn("every hop delivers", self.one(look, seat(3, 4, ratio=0.99)).why)
        self.assertIn("every hop delivers", self.one(look, seat(3, 4, ratio=None)).why)

    def test_cards_are_late_past_the_rule_and_readers_are_added_where_they_decide(self) -> None:
        hours = RULES.cards_safe_hours_max

        def cards(safe_hours: float | None, limiting: str | None = "link", stations: Any = ()) -> Any:
            result = Of(
                safe_seconds=None if safe_hours is None else safe_hours * 3600, moved_bytes_per_day=5.0 * TB,
                readers_bytes_per_s=1e8, bytes_per_day=TB, limiting_name="the uplink", limiting_hop_id=limiting,
            )  # fmt: skip
            return figures({"brief": Of(seats=stations)}, {CARDS: result})

        self.silent(brief.cards_late, cards(hours))
        self.silent(brief.cards_late, figures({}, {CARDS: None}))
        found = self.one(brief.cards_late, cards(hours + 0.5), Safe_to_wipe_after=hours + 0.5)
        self.assertEqual(found.remedy.at, "plan/brief/seats")
        self.assertNotIn("Safe to wipe after", evidence(self.one(brief.cards_late, cards(None))))


class Volumes(EdgeCase):
    def of(self, *own: Volume, plannable: int = 10 * TB, **result: Any) -> Any:
        usual = {"promised_bytes": 0, "left_bytes": 0, "set_aside_bytes": 0}
        pool = Of(id="p", name="P", plannable_bytes=plannable)
        return figures({"volumes": list(own)}, tiers=Of(pools=[pool], volumes=[Of(**(usual | result))]))

    def volume(self, volume_id: str = "v", **fields: Any) -> Volume:
        usual = {"id": volume_id, "name": volume_id.upper(), "pool_id": "p", "size_bytes": 4 * TB}
        return Volume.model_validate(usual | fields)

    def test_thin_volumes_may_promise_what_the_house_lets_them(self) -> None:
        most = RULES.thin_overcommit_max
        look = volumes.thin_volumes_overcommitted
        thin, thick = self.volume(is_thin=True), self.volume("w", is_thin=False)
        self.silent(look, self.of(thin, promised_bytes=most * 10 * TB))
        self.silent(look, self.of(thick, promised_bytes=99 * TB))
        # One thin volume beside a thick one is enough to promise too much.
        self.one(look, self.of(thin, thick, promised_bytes=most * 10 * TB + 1))
        found = self.one(look, self.of(thin, promised_bytes=most * 10 * TB + TB), Plannable=10 * TB)
        self.assertEqual([op.value for op in found.remedy.patch], [0, 3 * TB])

    def test_what_is_set_aside_must_be_there(self) -> None:
        look = volumes.volumes_reserve_more_than_the_pool_holds
        thick = self.volume(is_thin=False)
        self.silent(look, self.of(thick, left_bytes=0))
        found = self.one(
            look, self.of(thick, left_bytes=-TB, set_aside_bytes=11 * TB), To_be_set_aside=11 * TB
        )
        self.assertEqual(found.remedy.patch[-1].value, 3 * TB)
        whole = self.one(look, self.of(thick, left_bytes=-4 * TB))
        self.assertEqual((whole.remedy.patch, whole.remedy.at), ((), "plan/volumes/v/size_bytes"))
        self.assertEqual(self.one(look, self.of(thick, left_bytes=1 - 4 * TB)).remedy.patch[-1].value, 1)

    def test_a_key_needs_a_holder_and_files_a_way_back(self) -> None:
        look = volumes.key_held_by_nobody
        self.silent(look, self.of(self.volume(is_encrypted=False)))
        self.silent(look, self.of(self.volume(is_encrypted=True, key_holder="the technician")))
        self.one(look, self.of(self.volume(is_encrypted=True, key_holder=" ")), Locked_up_at_most=4 * TB)
        snapshots = volumes.no_snapshots
        self.silent(snapshots, self.of(self.volume(snapshot_days=1)))
        self.silent(snapshots, self.of(self.volume(kind="block")))
        self.one(snapshots, self.of(self.volume(snapshot_days=0)), Days_one_can_go_back=0)


class DrivesRules(EdgeCase):
    def of(self, survives: int = 1, drives_bytes: Any = (TB, TB), **fields: Any) -> Any:
        usual = {
            "id": "p", "name": "P", "drive_id": "d", "hours_run": 0, "batches": 0, "spares": 0, "cold_spares": 0,
            "are_used": False, "surface_tested": False, "drive_kind": "hdd", "layout": "raid6",
        }  # fmt: skip
        waits = fields.pop("waits", None)
        shared = fields.pop("shared", 0)
        pool = Of(**(usual | fields))
        result = Of(drives_bytes=drives_bytes, guaranteed_failures=survives, shared_spares=shared)
        f = figures({"pools": [pool]}, tiers=Of(pools=[result]))
        f.bundle.catalogue = Of(drive=lambda _id: Of(delivery_days=waits))
        return f

    def test_hours_tests_and_batches(self) -> None:
        most = RULES.drive_hours_max
        self.silent(drives.used_disk_with_hours_over_rule, self.of(hours_run=most))
        self.one(drives.used_disk_with_hours_over_rule, self.of(hours_run=most + 1), Has_run=most + 1)
        self.silent(drives.used_disk_without_surface_test, self.of(are_used=True, surface_tested=True))
        self.silent(drives.used_disk_without_surface_test, self.of(surface_tested=False))
        self.one(drives.used_disk_without_surface_test, self.of(are_used=True), Used_drives=2)
        batch = drives.same_batch_throughout
        self.silent(batch, self.of(batches=2))
        self.silent(batch, self.of(batches=0))
        self.silent(batch, self.of(batches=1, drives_bytes=(TB,)))
        self.one(batch, self.of(batches=1), Drives_of_one_batch=2)

    def test_who_waits_long_keeps_a_spare_of_some_kind(self) -> None:
        look, most = drives.no_spare_and_long_delivery, RULES.delivery_days_max
        found = self.one(
            look, self.of(waits=most + 1, survives=2), Delivered_in=most + 1, Survives_until_then=1
        )
        self.assertEqual(found.remedy.patch[0].value, 1)
        for silent in (
            {"waits": most}, {"waits": None}, {"spares": 1}, {"cold_spares": 1}, {"shared": 1}, {"survives": 0},
        ):  # fmt: skip
            self.silent(look, self.of(**({"waits": most + 1} | silent)))


class TiersAndBoxes(EdgeCase):
    def of(self, work: int, archive: int, hot: int, cold: int, both: bool = True) -> Any:
        by = {"work": work, "archive": archive}
        pool = Of(id="p", tier="work")
        return figures(
            {"pools": [pool]},
            brief=Of(
                working_set_bytes=hot,
                copied_work_bytes=1,
                cold_bytes=cold,
                copied_archive_bytes=2,
                need_bytes=hot + cold,
            ),
            tiers=Of(has_both_tiers=both, tier_bytes=by.get, pools=[Of(plannable_bytes=work)]),
        )

    def test_a_tier_that_holds_just_what_it_must_is_silent(self) -> None:
        self.silent(tiers.hot_tier_smaller_than_the_working_set, self.of(11, 99, 10, 5))
        self.silent(tiers.hot_tier_smaller_than_the_working_set, self.of(5, 0, 10, 5, both=False))
        self.silent(tiers.archive_smaller_than_what_is_kept_in_it, self.of(99, 7, 10, 5))
        self.silent(tiers.archive_smaller_than_what_is_kept_in_it, self.of(99, 1, 10, 5, both=False))

    def test_the_screen_shows_less_only_between_the_two_ways_of_counting(self) -> None:
        def screen(plannable: int, need: int) -> Any:
            return figures({}, brief=Of(need_bytes=need), tiers=Of(plannable_bytes=plannable, pools=()))

        # Where nothing is planned yet there is no screen; beyond the tenth there is no surprise.
        self.silent(tiers.tb_tib_surprise, screen(105 * TB, 100 * TB))
        self.silent(tiers.tb_tib_surprise, screen(99 * TB, 100 * TB))
        self.silent(tiers.tb_tib_surprise, screen(100 * TIB, 100 * TB))

    def test_no_bay_is_left_when_it_is_full_within_the_houses_years(self) -> None:
        weeks = RULES.free_bay_years * 365.25 / 7

        def house(days: int | None, *lies: str) -> Any:
            full = None if days is None else date.fromordinal(TODAY.toordinal() + days)
            bays = [Of(lies=ly, slot="bay") for ly in lies] + [Of(lies="free", slot="flash slot")]
            later = Of(full_on=date(2099, 1, 1))
            plan = {"boxes": [], "brief": None}
            return figures(
                plan,
                {GROWTH: Of(tiers=[Of(full_on=full), later] if full else [])},
                bays=Of(boxes=[Of(bays=bays)]),
            )

        look = boxes.no_free_bay_at_fill_date
        for silent in (house(70, "drive", "free"), house(70, "kept for growth"), house(None, "drive"),
                       house(int(weeks * 7) + 8, "drive")):  # fmt: skip
            self.silent(look, silent)
        self.silent(look, figures({}, {GROWTH: Of(tiers=[])}, bays=Of(boxes=[])))
        found = self.one(look, house(70, "drive"), Weeks_until_they_are_full=10.0, Free_bays=0)
        self.assertTrue(found.remedy.patch)

    def test_a_rebuild_is_told_in_hours_and_by_the_rule_that_it_breaks(self) -> None:
        def exposed(seconds: float | None) -> Found:
            result = Of(
                rebuild_seconds=seconds, unreadable_odds=0.5, unreadable_sheet_odds=None, final_members=9
            )
            f = figures(
                {"pools": [Of(id="p", name="P")]}, tiers=Of(pools=[Of(id="p", name="P", **vars(result))])
            )
            with (
                patch.object(tiers, "_is_exposed", lambda _f, _result: True),
                patch.object(tiers, "_another_parity", lambda _pool: Remedy(words="More parity")),
            ):
                return self.one(tiers.single_parity_where_rebuild_exposure_exceeds_the_house_rule, f)

        long = exposed(3.6e7)
        self.assertEqual(evidence(long)["To rebuild a drive"], 10_000.0)
        self.assertEqual(long.title, "P hangs by one drive for 10000 hours")
        edge = RULES.single_parity_rebuild_hours_max * 3600
        self.assertIn("a sector that cannot be read", exposed(edge).title)
        self.assertEqual(evidence(exposed(None))["To rebuild a drive"], 0.0)

    def test_drives_off_the_list_are_counted_and_knowingly_is_a_note(self) -> None:
        def house(*, ignores: bool) -> Any:
            box = Of(id="b", name="B", ignores_list=ignores)
            refused = [Of(allowed=False, occupant_id="p", drive_bytes=n * TB) for n in (4, 9)]
            with patch.object(bays, "_refused", lambda _f, **_kind: [(box, refused)]):
                (found,) = bays._outside_the_list(Of(), "drives off its list", flash=False)  # type: ignore[arg-type]
            return found

        loud, known = house(ignores=False), house(ignores=True)
        self.assertEqual(evidence(loud), {"Drives outside its list": 2, "The largest of them": 9 * TB})
        self.assertEqual((loud.severity, loud.title), ("warn", "B: drives off its list"))
        self.assertEqual((known.severity, known.title), ("note", "B: drives off its list, knowingly"))

    def test_memory_may_be_what_is_recommended(self) -> None:
        def box(memory: int, most: int = 0) -> Any:
            own = Of(id="b", name="B", memory_most_bytes=most, has_error_correction=False)
            result = Of(id="b", memory=Of(memory_bytes=memory, recommended_bytes=32 * GB))
            return figures({"boxes": [own]}, tiers=Of(enclosures=[result]))

        look = boxes.memory_below_recommendation
        self.silent(look, box(32 * GB))
        self.assertEqual(self.one(look, box(16 * GB), Memory=16 * GB).remedy.patch[0].value, 32 * GB)
        # A board that takes just so much takes it; one that takes less cannot.
        self.assertTrue(self.one(look, box(16 * GB, most=32 * GB)).remedy.patch)
        self.assertFalse(self.one(look, box(16 * GB, most=32 * GB - 1)).remedy.patch)


class CacheRules(EdgeCase):
    def of(self, **fields: Any) -> Any:
        cache = Of(
            id="c", name="C", pool_id="p", mode="write-back", endurance_bytes=600 * TB, drive_count=2,
            drive_bytes=TB, is_mirrored=True,
        )  # fmt: skip
        usual = {
            "usable_bytes": TB, "knee_bytes": TB, "hit_ratio": 0.5, "wear_years": None, "absorbs_burst": True,
            "seconds_to_full": 10.0, "burst_bytes": 2 * TB, "recommended_bytes": 2 * TB, "full_in": (),
        }  # fmt: skip
        pool = Of(id="p", drive_kind="hdd")
        result = Of(id="c", **(usual | fields))
        return figures({"caches": [cache], "pools": [pool]}, tiers=Of(pools=[Of(cache=result)]))

    def test_wear_lasts_at_the_rule_and_more_endurance_is_whole_terabytes(self) -> None:
        years = RULES.flash_service_years_min
        self.silent(caches.flash_wear_before_its_service_life, self.of(wear_years=years))
        self.silent(caches.flash_wear_before_its_service_life, self.of())
        found = self.one(caches.flash_wear_before_its_service_life, self.of(wear_years=years / 2))
        self.assertEqual(found.remedy.patch[0].value, 1200 * TB)

    def test_at_its_knee_and_with_its_burst_absorbed_it_is_large_enough(self) -> None:
        self.silent(caches.cache_smaller_than_the_knee, self.of())
        self.one(caches.cache_smaller_than_the_knee, self.of(knee_bytes=TB + 1), It_holds=TB)
        self.silent(caches.cache_smaller_than_the_burst, self.of())
        self.silent(caches.cache_smaller_than_the_burst, self.of(absorbs_burst=False, seconds_to_full=None))
        found = self.one(caches.cache_smaller_than_the_burst, self.of(absorbs_burst=False), It_holds=TB)
        self.assertEqual(evidence(found)["A shooting day brings"], 2 * TB)
