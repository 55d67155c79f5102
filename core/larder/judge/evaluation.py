"""``evaluate``: a bundle in, every verdict, figure and finding out. Nothing else is looked at."""

from __future__ import annotations

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.memo import remembered
from larder.base.results import Result
from larder.findings.finding import Figures, Finding
from larder.findings.rules import findings_of
from larder.plan.bundle import Bundle, StockFacts
from larder.plan.catalogue import Price, prices_on
from larder.stages.bay_fronts import BaysResult, bays_stage
from larder.stages.brief import BriefResult, brief_stage
from larder.stages.money import MoneyResult, money_of
from larder.stages.pool_setting import shared_hops
from larder.stages.small_files import SmallFilesResult, small_files_stage
from larder.stages.tiers import TiersResult, settings_of, tiers_stage
from larder.stages.wiring import WiringResult, wiring_stage

from .scales import Scales, scales_of


class Evaluation(Result):
    """An object per stage, the four scales, and the findings with the gravest first.

    ``prices`` are those that count on the plan's day, by class.
    """

    stock: StockFacts
    brief: BriefResult
    tiers: TiersResult
    bays: BaysResult
    wiring: WiringResult
    small_files: tuple[SmallFilesResult, ...]
    money: MoneyResult
    prices: dict[str, Price]
    scales: Scales
    findings: tuple[Finding, ...]


KEPT_BYTES = 40_000_000


def _kept_bytes(answer: Evaluation, bundle: Bundle) -> int:
    """An estimate of answer and plan: what grows with a plan is counted, bays and its catalogue above all."""
    catalogue = bundle.catalogue
    classes = len(catalogue.drives) + len(catalogue.boxes) + len(catalogue.prices) + len(catalogue.formats)
    bays = sum(len(box.bays) for box in answer.bays.boxes)
    return (
        100_000
        + 2_000 * classes
        + 1_200 * bays
        + 15_000 * len(answer.tiers.pools)
        + 3_000 * len(answer.findings)
    )


@remembered(KEPT_BYTES, _kept_bytes)
def evaluate(bundle: Bundle) -> Evaluation:
    """Judge ``bundle``. Stages are memoised on what they read, so a nudge recomputes what it touches.

    Raises :class:`Refused` for a plan of which some figure would be no finite number.
    """
    try:
        stages = figures_alone(bundle)
        figures = Figures(bundle, stages.brief, stages.tiers, stages.bays, stages.wiring, stages.small_files)
        return stages.model_copy(update={"findings": findings_of(figures)})
    except (ArithmeticError, ValidationError) as error:
        # Bounds on every field keep this from happening; a plan that slips through is told so in words.
        wanted = f"a plan whose figures can all be told; one of them could not ({type(error).__name__})"
        raise Refused("plan", bundle.plan.name, wanted) from error


def figures_alone(bundle: Bundle) -> Evaluation:
    """The same without findings: for asking many plans for one figure."""
    brief = brief_stage(bundle.plan.brief, bundle.catalogue.formats, bundle.house_rules, bundle.as_of)
    settings = settings_of(bundle, brief)
    tiers = tiers_stage(bundle, brief, settings)
    wiring = wiring_stage(bundle.plan.wiring, brief, tiers, shared_hops(bundle.plan, settings))
    small_files = small_files_stage(bundle.plan, brief, tiers)
    money = money_of(bundle.plan, bundle.currency, tiers)
    return Evaluation(
        stock=bundle.facts.stock,
        brief=brief,
        tiers=tiers,
        bays=bays_stage(
            bundle.plan.boxes,
            bundle.plan.occupants(),
            {pool.id: pool.redundancy_shares for pool in tiers.pools},
        ),
        wiring=wiring,
        small_files=small_files,
        money=money,
        prices=prices_on(bundle.catalogue.prices, bundle.as_of),
        scales=scales_of(bundle.plan, bundle.house_rules, brief, tiers, wiring, small_files, money),
        findings=(),
    )
