"""The workings of growing and paying: when to order, five years of costs, power and noise."""

from __future__ import annotations

from larder.base.terms import Term, by_law, given, made
from larder.judge.evaluation import Evaluation
from larder.laws.power import noise_sum_dba, wall_watts
from larder.plan.bundle import Bundle
from larder.stages.growth import TierGrowth

from .working import whole, working


@working(
    "growth.{id}.orders",
    title="{name}: days until more has to be ordered",
    unit="days",
    source="The early edge of the band (one course in ten is full by then), less deciding, delivery and "
    "building in",
    read=lambda e, tier: None if tier.full_early_on is None else _days_to_order(e, tier),
    subjects=lambda e: e.growth.tiers,
)
def _orders(_: Bundle, e: Evaluation, tier: TierGrowth) -> Term | None:
    if tier.full_early_on is None:
        return None
    return made(
        "Days until more has to be ordered",
        "days",
        "difference",
        given("Days until the early edge is full", _days_to_order(e, tier) + tier.lead_days, "days"),
        given("From order to use", tier.lead_days, "days"),
    )


def _days_to_order(e: Evaluation, tier: TierGrowth) -> float:
    """Counted from the first day that is drawn, which is the plan's."""
    if tier.full_early_on is None:
        return 0.0
    return float((tier.full_early_on - e.bands[tier.id][0].on).days - tier.lead_days)


@working(
    "costs.five-years",
    title="Five years",
    unit="money",
    source="A ledger month by month: the pick list, power, drives that die by rate, what is bought when it "
    "is full, stores and services; at today's prices, without interest",
    read=lambda e, _: float(e.costs.five_years),
    subjects=whole,
)
def _five_years(_: Bundle, e: Evaluation, __: Evaluation) -> Term:
    lines = (given(line.name, float(line.amount), "money") for line in e.costs.lines)
    return made("In all", "money", "sum", *lines)


@working(
    "power.busy",
    title="Drawn at work",
    unit="W",
    source="Data sheets' figures at work, over what a supply gives of what it takes at that load",
    read=lambda e, _: e.power.busy_watts,
    subjects=whole,
)
def _busy(bundle: Bundle, e: Evaluation, __: Evaluation) -> Term:
    supplies = {box.id: box.supplies for box in bundle.plan.boxes}
    boxes = (
        by_law(
            f"{box.name}: from the wall",
            "W",
            "what it takes, over its supply's efficiency at that load",
            wall_watts,
            given("At work, at its supply", box.busy_watts, "W"),
            given("Its supply", box.supply_watts, "W"),
            given("Supplies", supplies.get(box.id, 1), "count"),
        )
        for box in e.power.boxes
    )
    return made("Drawn at work", "W", "sum", given("Switches", e.power.switches_watts, "W"), *boxes)


@working(
    "power.noise",
    title="Noise of all that stands in the house",
    unit="dB(A)",
    source="Levels add as energy: 10 · log10 of the sum of 10 to the power of a tenth of each",
    read=lambda e, _: e.power.noise_dba,
    subjects=whole,
)
def _noise(bundle: Bundle, e: Evaluation, __: Evaluation) -> Term:
    kept = bundle.plan.safekeeping
    elsewhere = {box.id for box in bundle.plan.boxes if kept.building(box.place_id)}
    levels = [given(box.name, box.noise_dba, "dB(A)") for box in e.power.boxes if box.id not in elsewhere]
    levels += [given(s.name, s.noise_dba, "dB(A)") for s in bundle.plan.wiring.switches]
    return by_law(
        "Together", "dB(A)", "the levels added as energy", lambda *each: noise_sum_dba(each), *levels
    )
