"""What a finding is: evidence, reason and remedy; and the figures that its rules read."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Annotated, Literal, get_args

from pydantic import Field

from larder.base.measures import Unit
from larder.base.patch import Operation
from larder.base.results import Result
from larder.stages.bay_fronts import BAYS
from larder.stages.brief import BRIEF
from larder.stages.keeping import KEEPING
from larder.stages.pool_setting import SETTINGS
from larder.stages.prices import PRICES
from larder.stages.registry import STAGES
from larder.stages.small_files import SMALL_FILES
from larder.stages.stage import Judged, Stage
from larder.stages.tiers import TIERS
from larder.stages.ways import NETWORK
from larder.stages.wiring import WIRING

Severity = Literal["block", "warn", "note"]
SEVERITIES: tuple[Severity, ...] = get_args(Severity)
StageId = Annotated[str, Field(json_schema_extra={"enum": [stage.id for stage in STAGES]})]


class Evidence(Result):
    """One figure that a finding stands on."""

    label: str
    value: float
    unit: Unit


class Remedy(Result):
    """What to do; ``patch`` does it in one step and can be undone, where there is such a step.

    ``at`` is where one begins by hand where there is none: a place in the plan file.
    """

    words: str
    patch: tuple[Operation, ...] = ()
    at: str = ""


class Finding(Result):
    """``key`` tells findings with the same id apart; an accepted finding keeps its reason."""

    id: str
    key: str
    severity: Severity
    stage: StageId
    title: str
    evidence: tuple[Evidence, ...]
    why: str
    remedy: Remedy
    accepted_reason: str | None = None
    accepted_by: str | None = None


class Figures:
    """What the rules look at: a judged plan; what has no name here is at hand by its part."""

    def __init__(self, judged: Judged) -> None:
        self.judged, self.bundle, self.of = judged, judged.bundle, judged.of
        self.brief, self.tiers, self.bays = judged.of(BRIEF), judged.of(TIERS), judged.of(BAYS)
        self.wiring, self.small_files = judged.of(WIRING), judged.of(SMALL_FILES)
        self.network = judged.of(NETWORK)
        self.settings, self.prices = judged.of(SETTINGS), judged.of(PRICES)
        self.keeping = judged.of(KEEPING)

    @property
    def people(self) -> int:
        """The number of people who have a seat."""
        return sum(seat.count for seat in self.bundle.plan.brief.seats)


@dataclass(frozen=True)
class Found:
    """What a rule found at one place, ``at`` an id there; of the rule's severity and stage unless said."""

    title: str
    evidence: tuple[Evidence, ...]
    why: str
    remedy: Remedy
    at: str = ""
    severity: Severity | None = None
    stage: Stage | None = None


@dataclass(frozen=True)
class Rule:
    """A rule that looks for one thing; ``key`` begins the keys of what it finds."""

    id: str
    key: str
    stage: Stage
    severity: Severity
    look: Callable[[Figures], Iterator[Found]]

    def findings(self, figures: Figures) -> Iterator[Finding]:
        """A finding for every place that the rule applies to."""
        for found in self.look(figures):
            yield Finding(
                id=self.id,
                key=f"{self.key}-{found.at}" if found.at else self.key,
                severity=found.severity or self.severity,
                stage=(found.stage or self.stage).id,
                title=found.title,
                evidence=found.evidence,
                why=found.why,
                remedy=found.remedy,
            )


RULES: list[Rule] = []


def finding(
    finding_id: str, stage: Stage, severity: Severity, *, key: str | None = None
) -> Callable[[Callable[[Figures], Iterator[Found]]], Callable[[Figures], Iterator[Found]]]:
    """Register the decorated rule under the phrase that the docs list; ``key`` where two rules share one."""

    def register(look: Callable[[Figures], Iterator[Found]]) -> Callable[[Figures], Iterator[Found]]:
        RULES.append(Rule(finding_id, key or finding_id, stage, severity, look))
        return look

    return register
