"""What a finding is: evidence, reason and remedy; and the figures that its rules read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from larder.base.measures import Unit
from larder.base.patch import Operation
from larder.base.results import Result
from larder.plan.bundle import Bundle
from larder.stages.bay_fronts import BaysResult
from larder.stages.brief import BriefResult
from larder.stages.small_files import SmallFilesResult
from larder.stages.tiers import TiersResult
from larder.stages.wiring import WiringResult

Severity = Literal["block", "warn", "note"]
Stage = Literal["stock", "brief", "tiers", "wiring"]


class Evidence(Result):
    """One figure that a finding stands on."""

    label: str
    value: float
    unit: Unit


class Remedy(Result):
    """What to do; ``patch`` does it in one step and can be undone, where there is such a step."""

    words: str
    patch: tuple[Operation, ...] = ()


class Finding(Result):
    """``key`` tells findings with the same id apart; an accepted finding keeps its reason."""

    id: str
    key: str
    severity: Severity
    stage: Stage
    title: str
    evidence: tuple[Evidence, ...]
    why: str
    remedy: Remedy
    accepted_reason: str | None = None
    accepted_by: str | None = None


@dataclass(frozen=True)
class Figures:
    """What the rules look at."""

    bundle: Bundle
    brief: BriefResult
    tiers: TiersResult
    bays: BaysResult
    wiring: WiringResult
    small_files: tuple[SmallFilesResult, ...]
