"""Stage *Brief*: what the seats ask at once, and what piles up until the horizon."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date

from larder.base.results import Result
from larder.plan.formats import Format, MeasuredFormat, Rates

from .copied import COPIED, Copied
from .ingest import INGEST, IngestResult
from .loads import LOADS, LoadsResult
from .need import NEED, GrowthTerms, NeedPart, NeedResult
from .rates import RATES
from .stage import Judged, Part

NO_COPIES = Copied()


class FormatResult(Result):
    """A format's rates, bytes/s; the peak is the mean where no peak was measured. Null: no spread known."""

    id: str
    name: str
    mean_bytes_per_s: float
    peak_bytes_per_s: float
    low_bytes_per_s: float | None
    high_bytes_per_s: float | None
    is_used: bool
    """Whether a seat, camera unit or production plays or shoots it."""


class BriefResult(LoadsResult):
    """The stage's answer: the loads, the space needed on the fullest day, and what a shooting day brings."""

    formats: tuple[FormatResult, ...]
    weeks: float
    fullest_on: date
    footage_bytes_per_week: int
    growth_bytes_per_week: int
    growth_terms: GrowthTerms
    working_set_bytes: int
    cold_bytes: int
    copied_work_bytes: int
    copied_archive_bytes: int
    need_bytes: int
    need_parts: tuple[NeedPart, ...]
    hot_productions_max: int
    ingest: IngestResult


def brief_stage(judged: Judged) -> BriefResult:
    """Load and need of a brief as one answer."""
    used = {format_id for _, format_id in judged.bundle.plan.brief.formats_used()}
    formats = judged.bundle.catalogue.formats
    parts = judged.of(RATES), judged.of(LOADS), judged.of(NEED), judged.of(INGEST), judged.of(COPIED)
    return brief_of(formats, used, *parts)


def brief_of(
    formats: tuple[Format, ...],
    used: Collection[str],
    rates: Rates,
    loads: LoadsResult,
    need: NeedResult,
    ingest: IngestResult,
    copied: Copied = NO_COPIES,
) -> BriefResult:
    """The same from its parts; ``used`` are the ids of the formats that something refers to.

    Copies on the plan's own pools take room beside what is kept, where anything is kept.
    """
    need_parts = need.parts
    on_pools = round(copied.work_bytes + copied.archive_bytes)
    if on_pools and any(part.bytes for part in need_parts):
        need_parts = (*need_parts, NeedPart(step="copies_on_pools", bytes=on_pools))
    return BriefResult(
        **dict(loads),
        formats=tuple(_format(each, rates, is_used=each.id in used) for each in formats),
        weeks=need.weeks,
        fullest_on=need.fullest_on,
        footage_bytes_per_week=round(need.footage_bytes_per_week),
        growth_bytes_per_week=round(need.growth_bytes_per_week),
        growth_terms=need.growth_terms,
        working_set_bytes=round(need.working_set_bytes),
        cold_bytes=round(need.cold_bytes),
        copied_work_bytes=round(copied.work_bytes),
        copied_archive_bytes=round(copied.archive_bytes),
        need_bytes=sum(p.bytes for p in need_parts),
        need_parts=need_parts,
        hot_productions_max=need.hot_productions_max,
        ingest=ingest,
    )


def _format(media: Format, rates: Rates, *, is_used: bool) -> FormatResult:
    mean, peak = rates[media.id][:2]
    measured = media if isinstance(media, MeasuredFormat) else None
    return FormatResult(
        id=media.id,
        name=media.name,
        mean_bytes_per_s=mean,
        peak_bytes_per_s=peak,
        low_bytes_per_s=measured.low_bytes_per_s if measured else None,
        high_bytes_per_s=measured.high_bytes_per_s if measured else None,
        is_used=is_used,
    )


BRIEF: Part[BriefResult] = Part(
    "brief",
    brief_stage,
    reads=("catalogue/formats", "plan/brief/seats", "plan/brief/shoots", "plan/brief/productions"),
    after=(RATES, LOADS, NEED, INGEST, COPIED),
)
