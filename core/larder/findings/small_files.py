"""The finding about many small files, where waiting and not the rate decides."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from larder.base.patch import Operation, set_fields
from larder.laws.layout import parse_layout
from larder.plan.catalogue import CatalogueDrive
from larder.plan.drive_swap import fits_its_bays, swap_patch, swapped_fields
from larder.plan.pools import Pool, layout_fields
from larder.stages.pool import pool_stage
from larder.stages.rates import RATES
from larder.stages.registry import TIERS_STAGE
from larder.stages.small_files import FILES_LIMIT_WORDS, SmallFilesResult, served_ratio

from .finding import Evidence, Figures, Found, Remedy, finding

_Way = tuple[str, tuple[Operation, ...], Pool, CatalogueDrive | None]
"""Words, the change, the pool with it and its class of drive."""


@finding("latency-bound-small-files", TIERS_STAGE, "warn")
def latency_bound_small_files(f: Figures) -> Iterator[Found]:
    """Files are asked for faster than round trips and seeks let them come."""
    for result in f.small_files:
        if result.ratio >= 1 or result.limit == "rate":
            continue
        joint = result.limit == "operations"
        asked = result.joint_asked_files_per_s if joint else result.asked_files_per_s
        given = result.joint_given_files_per_s if joint else result.given_files_per_s
        yield Found(
            at=result.seat_id,
            title=f"{result.seat_name} waits for {FILES_LIMIT_WORDS[result.limit]}",
            evidence=(
                Evidence(label="Files a second asked", value=round(asked, 2), unit="count"),
                Evidence(label="Files a second given", value=round(given, 2), unit="count"),
                Evidence(label="Of a file's time is waiting", value=result.latency_share, unit="share"),
            ),
            why="For each file the program asks, the disk seeks and the answer travels: a wider line changes "
            "nothing of it.",
            remedy=_remedy(f, result),
        )


def _remedy(f: Figures, result: SmallFilesResult) -> Remedy:
    """Striped mirrors, whose members seek on their own, or flash, which does not: the first that helps."""
    pool = next(p for p in f.bundle.plan.pools if p.id == result.pool_id)
    setting = f.settings[pool.id]
    for words, patch, changed, drive in (*_mirrors(pool, setting.drive), *_flash(f, pool)):
        stage = pool_stage(changed, 1, replace(setting, drive=drive))
        if served_ratio(f.bundle.plan, f.brief, f.network, f.of(RATES), result.seat_id, stage) >= 1:
            return Remedy(words=words, patch=patch)
    words = "Keep these files on the workstations' own flash, or let the program read ahead."
    return Remedy(words=words, at=f"plan/pools/{pool.id}/layout")


def _mirrors(pool: Pool, drive: CatalogueDrive | None) -> Iterator[_Way]:
    if not parse_layout("raid10").takes(len(pool.drives_bytes) - pool.spares):
        return
    changes = layout_fields(pool, "raid10", "journal")
    patch = set_fields(f"plan/pools/{pool.id}", **changes)
    yield "Use striped mirrors instead", patch, pool.model_copy(update=changes), drive


def _flash(f: Figures, pool: Pool) -> Iterator[_Way]:
    """Flash classes of the catalogue that fit, the largest first, so that least space is given up."""
    drives: list[CatalogueDrive] = sorted(f.bundle.catalogue.drives, key=lambda d: -d.size_bytes)
    for drive in drives:
        if drive.kind == "ssd" and fits_its_bays(f.bundle.plan, pool, drive) is None:
            changed = pool.model_copy(update=swapped_fields(pool, drive))
            yield f"Use {drive.name} instead", swap_patch(pool, drive), changed, drive
