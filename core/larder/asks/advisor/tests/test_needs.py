"""What a plan misses, need by need: right at what is asked nothing, beyond it the words and how far."""

import math
import unittest
from datetime import date
from decimal import Decimal
from types import SimpleNamespace as Of
from typing import Any
from unittest.mock import patch

from larder.asks.advisor import needs
from larder.asks.advisor.needs import EXPOSED, WORN, Mark, Miss, closet_watts, marks_of, misses_of
from larder.plan.house_rules import HouseRules

RULES = HouseRules()
MARK = Mark(1.15, 10_000)


def bundle(**limits: Any) -> Any:
    room = Of(noise_dba_max=limits.pop("noise", None), air=limits.pop("air", "room"), air_m3_per_h=0)
    usual = {"room": room, "upkeep_hours_per_month": 4.0, "skill": "practised", "ready_by": None}
    budget = Decimal(limits.pop("budget", 0))
    plan = Of(brief=Of(budget=budget, limits=Of(**(usual | limits))), pools=(1,))
    return Of(plan=plan, house_rules=RULES, currency="EUR", as_of=date(2026, 12, 2))


def told(**results: Any) -> Any:
    """An evaluation that misses nothing, but for what is said."""
    usual = {
        "money": Of(spent=Decimal(0), lines=()), "scales": Of(speed=Of(ratio=None, because="a link")),
        "wiring": Of(unreached=()), "brief": Of(need_bytes=0), "odds": (), "findings": (),
        "tiers": Of(plannable_bytes=0, has_both_tiers=False, pools=(Of(guaranteed_failures=9, rebuild_seconds=None),)),
        "copies": Of(materials=(), has_said=True, weakest=None),
        "power": Of(noise_dba=0.0, circuit_share=None, closet_degrees=None, boxes=()),
        "upkeep": Of(hours_per_month=0.0, skill="practised", asks=("a switch",)),
    }  # fmt: skip
    return Of(**(usual | results))


class NeedsCase(unittest.TestCase):
    def misses(self, of: Any = None, **results: Any) -> dict[str, Miss]:
        with (
            patch.object(needs, "left_idle", lambda _bundle: ()),
            patch.object(needs, "ready_in_days", lambda _b: 30),
        ):
            found = misses_of(of or bundle(), told(**results), MARK)
        self.assertEqual(list(found), sorted(found, key=lambda miss: -miss.far))
        return {miss.need: miss for miss in found}

    def far(self, miss: Miss, wanted: float) -> None:
        self.assertAlmostEqual(miss.far, wanted, msg=miss.words)


class Money(NeedsCase):
    def test_a_budget_may_be_spent_and_nothing_asked_is_nothing_missed(self) -> None:
        self.assertEqual(self.misses(), {})
        line = {"amount": Decimal(1), "of": "pool", "count": 1, "name": "Disk"}
        spent = Of(spent=Decimal(100), lines=(Of(**line),))
        self.assertEqual(self.misses(bundle(budget=100), money=spent), {})
        self.assertEqual(self.misses(bundle(budget=0), money=spent), {})
        over = self.misses(bundle(budget=80), money=spent)["budget"]
        self.assertEqual((over.words, over.have, over.asked), ("20 EUR over budget", 100.0, 80.0))
        self.far(over, math.log(100 / 80))

    def test_storage_without_a_price_is_named_and_other_gaps_are_not_its_fault(self) -> None:
        def lines(*each: dict[str, Any]) -> Any:
            return Of(
                spent=Decimal(0), lines=tuple(Of(**({"amount": None, "count": 1} | one)) for one in each)
            )

        miss = self.misses(money=lines({"of": "box", "name": "Box"}, {"of": "cache", "name": "C"}))["prices"]
        self.assertEqual((miss.words, miss.have, miss.far), ("no price for Box", 2, 1e9))
        for other in ({"of": "purchase", "name": "Desk"}, {"of": "pool", "name": "Disk", "count": 0}):
            self.assertEqual(self.misses(money=lines(other)), {})


class Work(NeedsCase):
    def test_speed_is_what_the_mark_asks(self) -> None:
        self.assertEqual(self.misses(scales=Of(speed=Of(ratio=1.15, because="x"))), {})
        miss = self.misses(scales=Of(speed=Of(ratio=1.149, because="a link")))["speed"]
        # Never rounded to a ratio that would do.
        self.assertEqual(miss.words, "plays ×1.14 of what is asked; a link")
        self.far(miss, math.log(1.15 / 1.149))
        lost = self.misses(wiring=Of(unreached=(Of(name="Edit", pool_name="Main"),)))["speed"]
        self.assertEqual((lost.words, lost.far), ("Edit has no way to Main", 1e9))

    def test_space_is_that_of_the_tier_that_holds_least_or_of_all(self) -> None:
        def space(plannable: float, need: float = 100, both: bool = False, *tiers: Any) -> dict[str, Miss]:
            has = Of(plannable_bytes=plannable, has_both_tiers=both, pools=(Of(guaranteed_failures=9),))
            with patch.object(needs, "tier_spaces", lambda _brief, _tiers: tiers):
                return self.misses(tiers=has, brief=Of(need_bytes=need))

        self.assertEqual(space(115), {})
        self.assertEqual(space(50, need=0), {})
        self.assertEqual(space(114)["space"].words, "holds ×1.14 of what must fit in all")
        work, archive = Of(ratio=1.1, words="for work"), Of(ratio=0.5, words="in the archive")
        self.assertEqual(
            space(50, 100, True, work, archive)["space"].words, "holds ×0.50 of what must fit in the archive"
        )
        self.assertEqual(space(50, 100, True), {})


class Safety(NeedsCase):
    def test_failures_odds_and_the_rules_for_rebuilds_and_wear(self) -> None:
        def pools(*survive: int, seconds: float | None = None) -> Any:
            each = tuple(Of(guaranteed_failures=n, rebuild_seconds=seconds) for n in survive)
            return Of(plannable_bytes=0, has_both_tiers=False, pools=each)

        least = RULES.failures_survived_min
        self.assertEqual(self.misses(tiers=pools(least, 3)), {})
        miss = self.misses(tiers=pools(2, least - 1))["failures"]
        self.assertEqual(miss.words, f"survives {least - 1} dead drives, the rule asks for {least}")
        self.assertEqual(self.misses(odds=(Of(pool_lost=1e-4), Of(pool_lost=1e-9))), {})
        odds = self.misses(odds=(Of(pool_lost=1e-9), Of(pool_lost=2e-4)))["odds"]
        self.assertEqual(odds.words, "a pool is lost once in 5,000 years, the rule is 10,000")
        self.far(odds, math.log(2))
        exposed = Of(id=EXPOSED, severity="warn", title="hangs by one drive", evidence=())
        miss = self.misses(findings=(exposed,), tiers=pools(least, least, seconds=36_000.0))["exposure"]
        self.assertEqual(
            (miss.have, miss.asked, miss.far), (10.0, RULES.single_parity_rebuild_hours_max, 0.5)
        )
        worn = Of(id=WORN, severity="warn", title="worn out", evidence=(Of(value=2.0), Of(value=5.0)))
        miss = self.misses(findings=(worn,))["wear"]
        self.far(miss, math.log(RULES.flash_service_years_min / 2))

    def test_copies_that_lack_or_that_nobody_has_said(self) -> None:
        fine, bad = Of(name="A", lacking=()), Of(name="B", lacking="one copy")
        self.assertEqual(self.misses(copies=Of(materials=(fine,), has_said=True, weakest=None)), {})
        miss = self.misses(copies=Of(materials=(fine, bad, bad), has_said=True, weakest=bad))["copies"]
        self.assertEqual((miss.words, miss.have), ("B has one copy", 2))
        miss = self.misses(copies=Of(materials=(), has_said=False, weakest=None))["copies"]
        self.assertEqual((miss.words, miss.have), ("nobody has said where copies go", 1))

    def test_a_fault_that_blocks_counts_unless_a_need_says_the_same(self) -> None:
        def fault(finding_id: str, severity: str) -> Any:
            return Of(id=finding_id, severity=severity, title="A fault", evidence=())

        miss = self.misses(findings=(fault("key-held-by-nobody", "block"),))["faults"]
        self.assertEqual((miss.words, miss.have, miss.asked, miss.far), ("A fault", 1, 0, 1.0))
        for silent in (fault("key-held-by-nobody", "warn"), fault("no-copy-elsewhere", "block")):
            self.assertEqual(self.misses(findings=(silent,)), {})


class RoomAndPeople(NeedsCase):
    def power(self, **fields: Any) -> Any:
        return Of(**({"noise_dba": 0.0, "circuit_share": None, "closet_degrees": None, "boxes": ()} | fields))

    def test_noise_circuit_air_and_supply(self) -> None:
        self.assertEqual(self.misses(bundle(noise=35), power=self.power(noise_dba=35.0)), {})
        self.assertIn("noise", self.misses(bundle(noise=35), power=self.power(noise_dba=35.2)))
        miss = self.misses(bundle(noise=35), power=self.power(noise_dba=40.0))["noise"]
        self.assertEqual(miss.words, "40 dB(A), 5.0 over the limit")
        self.far(miss, 0.5 * math.log(2))
        edge = RULES.circuit_percent_max / 100
        self.assertEqual(self.misses(power=self.power(circuit_share=edge)), {})
        self.assertIn("takes 99 %", self.misses(power=self.power(circuit_share=0.99))["circuit"].words)
        warm = RULES.closet_degrees_max
        self.assertEqual(self.misses(power=self.power(closet_degrees=warm)), {})
        self.far(self.misses(power=self.power(closet_degrees=warm * 2))["air"], math.log(2))
        carried = RULES.supply_percent_max / 100
        boxes = (Of(carried_share=0.1), Of(carried_share=carried))
        self.assertEqual(self.misses(power=self.power(boxes=boxes)), {})
        miss = self.misses(power=self.power(boxes=(*boxes, Of(carried_share=1.5))))["supply"]
        self.assertEqual((miss.words, miss.have), ("a supply carries 150 % at spin-up", 150.0))

    def test_hours_skill_and_the_day(self) -> None:
        def keep(hours: float = 0.0, skill: str = "none") -> Any:
            return Of(hours_per_month=hours, skill=skill, asks=("a controller",))

        self.assertEqual(self.misses(upkeep=keep(4.0)), {})
        miss = self.misses(upkeep=keep(4.3))["upkeep"]
        self.assertEqual(miss.words, "takes 4.3 hours a month, there are 4")
        none, some, practised = needs.SKILLS
        for asked, there, steps, words in (
            (practised, none, 2, "practice"),
            (practised, some, 1, "practice"),
            (some, none, 1, "some skill"),
        ):
            miss = self.misses(bundle(skill=there), upkeep=keep(skill=asked))["skill"]
            self.assertEqual(miss.words, f"asks for {words}: a controller")
            self.far(miss, 0.3 * steps)
        self.assertEqual(self.misses(bundle(skill=some), upkeep=keep(skill=some)), {})
        self.assertEqual(self.misses(bundle(ready_by=date(2027, 1, 1))), {})
        late = self.misses(bundle(ready_by=date(2026, 12, 31)))["ready"]
        self.assertEqual(late.words, "ready in 30 days, there are 29")
        past = self.misses(bundle(ready_by=date(2026, 12, 1)))["ready"]
        self.assertEqual(past.words, "ready in 30 days, there are 0")


class Edges(unittest.TestCase):
    def test_the_marks_are_the_houses_and_a_room_that_is_no_closet_has_no_end(self) -> None:
        enough, just = marks_of(RULES)
        self.assertEqual((enough.ratio, enough.one_in), (RULES.enough_ratio, RULES.odds_enough_one_in))
        self.assertEqual((just.ratio, just.one_in), (1.0, RULES.odds_short_one_in))
        room: Any = Of(air="room", air_m3_per_h=0)
        self.assertEqual(closet_watts(RULES, room), math.inf)
        closet: Any = Of(air="closet", air_m3_per_h=0)
        self.assertEqual(
            closet_watts(RULES, closet), RULES.closet_degrees_max * RULES.closet_watts_per_degree
        )
        blown: Any = Of(air="closet", air_m3_per_h=100)
        more = RULES.closet_degrees_max * 100 * needs.AIR_WATTS_PER_DEGREE_AND_M3_PER_H
        self.assertAlmostEqual(closet_watts(RULES, blown), closet_watts(RULES, closet) + more)
