"""What there is to lose, class by class: bytes at the most and today, what changes a day, whose work it is.

What a class does not say of itself is told by the brief: hot projects are the working set, the archive what
is kept and not hot, cards what the busiest shooting day brings.
"""

from __future__ import annotations

from dataclasses import dataclass

from larder.plan.bundle import Plan
from larder.plan.day_parts import WHOLE_DAY
from larder.plan.material import Material, Where
from larder.plan.vocabulary import Worth

from .ingest import INGEST, IngestResult
from .need import NEED, NeedResult
from .stage import Judged, Part

PROJECT_FILES_SHARE = 0.01
"""Project files and catalogues are about so large a part of what is hot; a stated assumption."""
PROJECT_FILES_CHANGED = 0.1
"""Of them changes in a day."""
SETTINGS_BYTES = 1_000_000_000
DAYS_A_WEEK = 7


@dataclass(frozen=True)
class KeptMaterial:
    """One class of material. ``bytes`` is the most it comes to, ``bytes_today`` what a first copy moves."""

    id: str
    name: str
    worth: Worth
    homes: tuple[Where, ...]
    bytes: float
    bytes_today: float
    changed_bytes_per_day: float
    work_hours_per_day: float


def _kept(material: Material, plan: Plan, need: NeedResult, ingest: IngestResult) -> KeptMaterial:
    size, today, changed, work = _by_brief(material, plan, need, ingest)
    if material.bytes is not None:
        size = today = float(material.bytes)
    if material.changed_bytes_per_day is not None:
        changed = float(material.changed_bytes_per_day)
    hours = material.work_hours_per_day
    return KeptMaterial(
        id=material.id,
        name=material.name,
        worth=material.worth,
        homes=plan.homes_of(material),
        bytes=size,
        bytes_today=min(today, size),
        changed_bytes_per_day=min(changed, size),
        work_hours_per_day=work if hours is None else hours,
    )


def _by_brief(
    material: Material, plan: Plan, need: NeedResult, ingest: IngestResult
) -> tuple[float, float, float, float]:
    """(bytes at the most, bytes today, bytes changed a day, hours of work a day)."""
    brief = plan.brief
    hot, grown = need.working_set_bytes, need.growth_bytes_per_week / DAYS_A_WEEK
    people = sum(seat.count for seat in brief.seats if seat.kind != "ingest") * WHOLE_DAY.hours
    shot, a_week = float(ingest.bytes_per_day), float(brief.exports_bytes_per_week)
    archived = max(need.cold_bytes, float(brief.kept_today_bytes) - hot, 0.0)
    files = hot * PROJECT_FILES_SHARE
    settings = float(SETTINGS_BYTES) if plan.boxes or plan.pools else 0.0
    result = {
        "cards": (shot, shot, shot, 0.0),
        "hot projects": (hot, min(hot, brief.kept_today_bytes or hot), min(grown, hot), people),
        "archive": (archived, float(brief.kept_today_bytes), grown, 0.0),
        "exports": (a_week * max(need.weeks, 1.0), a_week, a_week / DAYS_A_WEEK, 0.0),
        "project files": (files, files, files * PROJECT_FILES_CHANGED, people if files else 0.0),
        "settings": (settings, settings, 0.0, 0.0),
    }
    return result.get(material.kind, (0.0, 0.0, 0.0, 0.0))


def _judge(judged: Judged) -> tuple[KeptMaterial, ...]:
    """Every class that comes to something and lives somewhere."""
    plan = judged.bundle.plan
    every = (
        _kept(material, plan, judged.of(NEED), judged.of(INGEST)) for material in plan.safekeeping.materials
    )
    return tuple(kept for kept in every if kept.bytes >= 1 and kept.homes)


MATERIALS: Part[tuple[KeptMaterial, ...]] = Part(
    "materials",
    _judge,
    reads=(
        "plan/safekeeping/materials",
        "plan/brief/projects_live",
        "plan/brief/seats",
        "plan/brief/kept_today_bytes",
        "plan/brief/exports_bytes_per_week",
        "plan/pools",
        "plan/boxes",
    ),
    after=(NEED, INGEST),
    is_answered=False,
)
