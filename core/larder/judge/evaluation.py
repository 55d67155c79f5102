"""``evaluate``: a bundle in, every verdict, figure and finding out. Nothing else is looked at."""

from __future__ import annotations

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.memo import remembered
from larder.base.results import Result
from larder.findings.finding import Figures, Finding
from larder.findings.rules import findings_of
from larder.plan.bundle import Bundle, StockFacts
from larder.plan.catalogue import Price
from larder.stages.bay_fronts import BaysResult
from larder.stages.brief import BRIEF, BriefResult
from larder.stages.calendar import CalendarResult
from larder.stages.cards import CardsResult
from larder.stages.copies import COPIES, CopiesResult
from larder.stages.costs import COSTS, CostsResult
from larder.stages.growth import GROWTH, GrowthPoint, GrowthResult
from larder.stages.hit_curves import CurvePoint
from larder.stages.load_bars import LoadBar
from larder.stages.money import MONEY, MoneyResult
from larder.stages.odds import ODDS, PoolOdds
from larder.stages.own_figures import OwnFigures
from larder.stages.plugs import PlugsResult
from larder.stages.power import PowerResult
from larder.stages.registry import PARTS
from larder.stages.small_files import SMALL_FILES, SmallFilesResult
from larder.stages.snapshots import SnapshotsHeld
from larder.stages.stage import Judged, judge, judge_anew
from larder.stages.tiers import TIERS, TiersResult
from larder.stages.upkeep import UpkeepResult
from larder.stages.wiring import WIRING, WiringResult

from .open_work import OpenWork, open_work_of
from .scales import KeepingFacts, Scales, scales_of


class Evaluation(Result):
    """An object per part of the stages, the four scales, and the findings with the gravest first.

    ``prices`` are those that count on the plan's day, by class; ``open_work`` is what nobody has said yet.
    """

    stock: StockFacts
    brief: BriefResult
    load_bars: tuple[LoadBar, ...]
    calendar: CalendarResult
    tiers: TiersResult
    hit_curves: dict[str, tuple[CurvePoint, ...]]
    bays: BaysResult
    own_figures: tuple[OwnFigures, ...]
    plugs: PlugsResult
    wiring: WiringResult
    small_files: tuple[SmallFilesResult, ...]
    cards: CardsResult | None
    money: MoneyResult
    odds: tuple[PoolOdds, ...]
    copies: CopiesResult
    growth: GrowthResult
    bands: dict[str, tuple[GrowthPoint, ...]]
    snapshots: tuple[SnapshotsHeld, ...]
    power: PowerResult
    upkeep: UpkeepResult
    costs: CostsResult
    prices: dict[str, Price]
    scales: Scales
    open_work: tuple[OpenWork, ...]
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
        judged = judge(bundle, PARTS)
        return _evaluation(judged).model_copy(update={"findings": findings_of(Figures(judged))})
    except (ArithmeticError, ValidationError) as error:
        # Bounds on every field keep this from happening; a plan that slips through is told so in words.
        wanted = f"a plan whose figures can all be told; one of them could not ({type(error).__name__})"
        raise Refused("plan", bundle.plan.name, wanted) from error


def figures_alone(bundle: Bundle) -> Evaluation:
    """The same without findings: for asking many plans for one figure."""
    return _evaluation(judge(bundle, PARTS))


FIGURES = tuple(part for part in PARTS if not part.is_drawn)


class Nudged:
    """A plan of which single numbers are changed: each time only what reads the number is judged anew."""

    def __init__(self, bundle: Bundle) -> None:
        self._judged = judge(bundle, PARTS)

    def is_read(self, path: str) -> bool:
        """Whether any figure can change with what stands at ``path``."""
        return any(part.looks_at(path) for part in FIGURES)

    def figures(self, bundle: Bundle, path: str) -> Evaluation:
        """As :func:`figures_alone` of ``bundle``, which differs in what stands at ``path`` alone.

        What is only drawn stands as it was.
        """
        return _evaluation(judge_anew(bundle, self._judged, (path,), FIGURES))


def _evaluation(judged: Judged) -> Evaluation:
    """The parts as one answer, with the scales on top."""
    results = {part.id: judged.of(part) for part in PARTS if part.is_answered}
    scales = scales_of(
        judged.bundle.plan,
        judged.bundle.house_rules,
        judged.of(BRIEF),
        judged.of(TIERS),
        judged.of(WIRING),
        judged.of(SMALL_FILES),
        judged.of(MONEY),
        KeepingFacts(judged.of(ODDS), judged.of(COPIES), judged.of(GROWTH), judged.of(COSTS)),
    )
    open_work = open_work_of(
        judged.bundle,
        judged.of(BRIEF),
        judged.of(TIERS),
        judged.of(WIRING),
        judged.of(MONEY),
        judged.of(COPIES),
    )
    return Evaluation.model_construct(**results, scales=scales, open_work=open_work, findings=())
