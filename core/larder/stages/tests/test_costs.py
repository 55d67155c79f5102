"""Five years against a plain ledger that goes month by month and shares no code with the stage."""

import math
import unittest
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from larder.base.units import TB
from larder.judge.evaluation import Evaluation, evaluate
from larder.plan.bundle import Bundle
from larder.stages.costs import cheaper_from
from larder.stages.courses import COURSES
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.plans import changed, demo, stocked

MONTH = 365.25 / 12


def cents(amount: float) -> Decimal:
    return Decimal(str(round(amount, 4))).quantize(Decimal("0.01"))


def kept(bundle: Bundle, month: int) -> float:
    """Bytes kept by a month, in a straight line between the days of the forecast."""
    course = judge(bundle, PARTS).of(COURSES)[-1]
    days, held = course.days.tolist(), course.kept.tolist()
    at = month * MONTH
    for (a, x), (b, y) in zip(
        zip(days, held, strict=True), list(zip(days, held, strict=True))[1:], strict=False
    ):
        if at <= b:
            return float(x + (y - x) * (at - a) / (b - a))
    return float(held[-1])


def ledger(bundle: Bundle, evaluation: Evaluation) -> dict[str, list[Decimal]]:
    """What each of the three has cost in all by the end of every month, with one drive class and one service."""
    rules, plan = bundle.house_rules, bundle.plan
    pool, drive = plan.pools[0], next(d for d in bundle.catalogue.drives if d.id == plan.pools[0].drive_id)
    service = next((s for s in plan.safekeeping.stores if s.monthly_price_per_tb), None)
    horizon = max((plan.brief.horizon_date - bundle.as_of).days / MONTH, 0)
    by_id = {s.id: s for tier in evaluation.growth.tiers for s in tier.steps}
    steps = [s for s in by_id.values() if s.price is not None and s.order_by]
    ours, portable, cloud = [evaluation.money.spent], [Decimal(0)], [Decimal(0)]
    stacks: list[tuple[int, int]] = []
    archive = evaluation.brief.archive_bytes_per_day * rules.working_days_per_week * MONTH / 7 / TB
    for month in range(61):
        paid = Decimal(0)
        for step in steps:
            assert step.order_by and step.price is not None
            if max(math.ceil(max((step.order_by - bundle.as_of).days, 0) / MONTH), 0) == month:
                paid += step.price
        if month:
            paid += cents(evaluation.power.price_per_year / 12)
            if month > drive.warranty_years * 12:
                dying = pool.drive_count * (drive.failures_per_year_percent or 0) / 100 / 12
                paid += cents(dying * float(pool.drive_unit_price or 0))
            if service is not None and (service.ends_on is None or day(bundle, month) <= service.ends_on):
                share = kept(bundle, month) / kept_at(bundle, horizon)
                size = told_bytes(evaluation, "archive") * share / TB
                paid += cents(float(service.monthly_price_per_tb or 0) * size)
        ours.append(ours[-1] + paid)
        want = math.ceil(kept(bundle, month) / (rules.portable_tb * TB)) * 2
        good = sum(count for since, count in stacks if month - since < rules.portable_years * 12)
        buy = max(want - good, 0)
        stacks.append((month, buy))
        portable.append(portable[-1] + cents(buy * rules.portable_price))
        cloud.append(
            cloud[-1]
            + (cents(kept(bundle, month) / TB * rules.service_tb_month_price + archive * rules.service_tb_back_price)
               if month else Decimal(0))
        )  # fmt: skip
    return {"plan": ours[1:], "portable": portable[1:], "service": cloud[1:]}


def day(bundle: Bundle, month: int) -> date:
    return bundle.as_of + timedelta(days=round(month * MONTH))


def kept_at(bundle: Bundle, months: float) -> float:
    low = math.floor(months)
    part = months - low
    return kept(bundle, low) * (1 - part) + kept(bundle, low + 1) * part


def told_bytes(evaluation: Evaluation, material: str) -> float:
    return next(m.bytes for m in evaluation.copies.materials if m.id == material)


def planned(**changes: Any) -> Bundle:
    """One pool of a priced class, a service for its archive, and a purchase for when it is full."""
    kept = {
        "stores": [
            {"id": "s", "name": "S", "kind": "a service", "access": "online", "monthly_price_per_tb": "4.10"}
        ],
        "copies": [{"id": "c", "name": "C", "material_ids": "archive", "to": "store:s"}],
    }
    growth = {
        "steps": [
            {"id": "more", "name": "More", "pool_id": "main", "drive_count": 3, "drive_bytes": 16 * TB, "price": "900"}
        ]
    }  # fmt: skip
    bundle = stocked(
        {"drive_unit_price": "300", "bays": ""}, boxes=[], wiring={}, purchases=[], caches=[],
        safekeeping=kept, growth=growth,
    )  # fmt: skip
    return changed(bundle, **changes)


class Ledger(unittest.TestCase):
    def check(self, bundle: Bundle) -> Evaluation:
        evaluation = evaluate(bundle)
        expected = ledger(bundle, evaluation)
        for way, sums in expected.items():
            found = [getattr(month, way) for month in evaluation.costs.months]
            for month, (ours, plain) in enumerate(zip(found, sums, strict=True)):
                # A straight line through four weeks told at months: cents may fall either way.
                self.assertAlmostEqual(ours, plain, delta=Decimal("0.02") * (month + 1), msg=f"{way} {month}")
        even = evaluation.costs.break_even
        lesser = [min(a, b) for a, b in zip(expected["portable"], expected["service"], strict=True)]
        both = [a <= b for a, b in zip(expected["plan"], lesser, strict=True)]
        since = next((n for n in range(61) if all(both[n:])), None)
        self.assertEqual(even.either, None if since is None else day(bundle, since))
        for way in ("portable", "service"):
            cheaper = [a <= b for a, b in zip(expected["plan"], expected[way], strict=True)]
            since = next((n for n in range(61) if all(cheaper[n:])), None)
            self.assertEqual(getattr(even, way), None if since is None else day(bundle, since), way)
        return evaluation

    def test_five_years_and_break_evens_are_those_of_a_plain_ledger(self) -> None:
        answer = self.check(planned())
        self.assertEqual(answer.costs.five_years, sum(line.amount for line in answer.costs.lines))
        self.assertEqual(answer.costs.capex, answer.money.spent)

    def test_also_with_a_warranty_dear_power_and_a_service_that_is_given_up(self) -> None:
        path = "catalogue__drives__disk-16-array__warranty_years"
        rules = {
            "house_rules__kwh_price": 0.55,
            "house_rules__portable_years": 2.5,
            "house_rules__portable_tb": 8,
        }
        answer = self.check(planned(**{path: 3}, **rules))
        free = self.check(planned())
        lines = [{line.id: line.amount for line in each.costs.lines} for each in (answer, free)]
        self.assertLess(lines[0]["replacements"], lines[1]["replacements"] / 2)
        self.check(planned(plan__safekeeping__stores__s__ends_on="2028-03-01"))

    def test_nothing_priced_and_nothing_kept(self) -> None:
        bundle = planned(plan__pools__main__drive_unit_price=None, house_rules__kwh_price=0)
        self.assertEqual(evaluate(bundle).costs.capex, 0)
        empty = demo("halyard-street").document()
        empty["plan"]["brief"] |= {
            "kept_today_bytes": 0,
            "stills_bytes_per_week": 0,
            "exports_bytes_per_week": 0,
            "shoots": [],
        }
        empty["plan"]["growth"] = {}
        answer = evaluate(Bundle.model_validate(empty)).costs
        self.assertEqual((answer.portable_five_years, answer.service_five_years), (0, 0))

    def test_to_get_it_all_back_once(self) -> None:
        bundle = planned(plan__safekeeping__stores__s__retrieval_price_per_tb="12.00")
        evaluation = evaluate(bundle)
        self.assertEqual(evaluation.costs.fetch_back, cents(12 * told_bytes(evaluation, "archive") / TB))
        self.assertEqual(evaluate(planned()).costs.fetch_back, 0)

    def test_what_the_plan_does_not_hold_is_said(self) -> None:
        costs = evaluate(planned(plan__brief__kept_today_bytes=60 * TB)).costs
        fulls = [
            t.grown_full_on for t in evaluate(planned(plan__brief__kept_today_bytes=60 * TB)).growth.tiers
        ]
        self.assertEqual(costs.holds_until, min(on for on in fulls if on))
        self.assertIn("it is full in", costs.sentence)


class BreakEven(unittest.TestCase):
    def test_cheaper_for_good_only(self) -> None:
        start = date(2027, 1, 1)
        money = [Decimal(n) for n in (10, 11, 12, 13)]
        self.assertEqual(
            cheaper_from(start, money, [Decimal(n) for n in (9, 12, 11, 14)]), start + timedelta(days=91)
        )
        self.assertIsNone(cheaper_from(start, money, [Decimal(1)] * 4))
        self.assertEqual(cheaper_from(start, money, [Decimal(20)] * 4), start)
