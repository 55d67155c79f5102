"""Plans side by side: the same measures of each, on the same brief, with what differs told apart."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from larder.base.results import Result
from larder.base.units import size_text
from larder.judge.evaluation import Evaluation
from larder.judge.scales import Verdict
from larder.laws.layout import parse_layout
from larder.plan.bundle import Bundle
from larder.plan.layout_words import words_of
from larder.plan.pools import Pool
from larder.stages.growth import lead_days_of
from larder.stages.odds import SMALLEST_ODDS, chance_text


class Measured(Result):
    """What a plan comes to, in the measures by which plans are compared; null where nothing tells.

    ``one_in_years`` is of the pool that is likeliest lost; ``lead_days`` from a yes to drives in use.
    """

    capex: Decimal
    five_years: Decimal
    currency: str
    plannable_bytes: int
    space_ratio: float | None
    speed_ratio: float | None
    speed_because: str
    one_in_years: float | None
    chance: str
    survives: int | None
    copies_met: bool
    full_on: date | None
    noise_dba: float
    watts: float
    upkeep_hours: float
    lead_days: int
    free_bays: int
    verdicts: dict[str, Verdict]
    blocks: int
    warnings: int


def measured_of(bundle: Bundle, told: Evaluation) -> Measured:
    """The measures of a plan that was judged."""
    lost = max((pool.pool_lost for pool in told.odds), default=None)
    fulls = [tier.full_on for tier in told.growth.tiers if tier.full_on is not None]
    severities = [finding.severity for finding in told.findings if finding.accepted_reason is None]
    scales = {name: getattr(told.scales, name) for name in ("speed", "space", "safety", "money")}
    return Measured(
        capex=told.money.spent,
        five_years=told.costs.five_years,
        currency=told.money.currency,
        plannable_bytes=told.tiers.plannable_bytes,
        space_ratio=scales["space"].ratio,
        speed_ratio=scales["speed"].ratio,
        speed_because=scales["speed"].because,
        one_in_years=None if lost is None else 1 / max(lost, SMALLEST_ODDS),
        chance="" if lost is None else chance_text(lost),
        survives=min((pool.guaranteed_failures for pool in told.tiers.pools), default=None),
        copies_met=told.copies.has_said and not any(each.lacking for each in told.copies.materials),
        full_on=min(fulls, default=None),
        noise_dba=told.power.noise_dba,
        watts=told.power.busy_watts,
        upkeep_hours=told.upkeep.hours_per_month,
        lead_days=lead_days_of(bundle.plan.pools, bundle) if bundle.plan.pools else 0,
        free_bays=sum(box.free_bays for box in told.bays.boxes),
        verdicts={name: scale.verdict for name, scale in scales.items()},
        blocks=severities.count("block"),
        warnings=severities.count("warn"),
    )


def words_of_pool(pool: Pool) -> str:
    """A pool as one says it: number, size and kind of drives, layout, spares."""
    kind = "flash" if pool.drive_kind == "ssd" else "disks"
    sizes = pool.mixed_sizes or f"{len(pool.drives_bytes) - pool.spares} × {size_text(pool.drive_bytes)}"
    words = f"{sizes} {kind}, {words_of(parse_layout(pool.layout)).lower()}"
    if pool.spares:
        words += f", {pool.spares} hot {'spare' if pool.spares == 1 else 'spares'}"
    if pool.cold_spares:
        words += f", {pool.cold_spares} on the shelf"
    return words
