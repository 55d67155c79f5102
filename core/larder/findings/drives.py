"""Findings about the drives of a pool: what they are built for, where they come from, what replaces them."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from larder.base.patch import Operation, Patch, set_fields
from larder.laws.layout import Family, parse_layout
from larder.laws.wear import wear_years
from larder.plan.catalogue import CatalogueDrive
from larder.plan.drive_swap import class_for, swap_patch
from larder.plan.pools import Pool
from larder.stages.drive_duty import member_bytes_per_year, member_written_per_year
from larder.stages.pool import PoolResult
from larder.stages.registry import TIERS_STAGE

from .finding import Evidence, Figures, Found, Remedy, finding
from .nightly import copied_patch, is_copied_nightly, living_on

DUTY_OR_RATING = "desktop-class-disk-in-continuous-duty-or-over-workload-rating"
USED_DISK = "used-disk-without-surface-test-or-hours-over-rule"


def _pools(f: Figures) -> Iterator[tuple[Pool, PoolResult]]:
    return zip(f.bundle.plan.pools, f.tiers.pools, strict=True)


def _with_class(f: Figures) -> Iterator[tuple[Pool, PoolResult, CatalogueDrive]]:
    """Every pool whose class of drive is said."""
    for pool, result in _pools(f):
        drive = f.bundle.catalogue.drive(pool.drive_id) if pool.drive_id else None
        if drive is not None:
            yield pool, result, drive


def _swap(f: Figures, pool: Pool, wanted: Callable[[CatalogueDrive], bool], otherwise: str) -> Remedy:
    better = class_for(f.bundle.plan, f.bundle.catalogue, pool, wanted)
    if better is None:
        return Remedy(words=otherwise, at=f"plan/pools/{pool.id}/drive_id")
    return Remedy(words=f"Use {better.name} instead", patch=swap_patch(pool, better))


def _set(pool: Pool, **fields: object) -> tuple[Operation, ...]:
    return set_fields(f"plan/pools/{pool.id}", **fields)


def _about(pool: Pool, title: str, evidence: tuple[Evidence, ...], why: str, remedy: Remedy) -> Found:
    return Found(at=pool.id, title=f"{pool.name}: {title}", evidence=evidence, why=why, remedy=remedy)


@finding("shingled-disk-in-a-parity-group", TIERS_STAGE, "warn")
def shingled_disk_in_a_parity_group(f: Figures) -> Iterator[Found]:
    """Shingled recording rewrites whole bands, and a rebuild writes the whole disk."""
    for pool, result, drive in _with_class(f):
        if drive.recording != "smr" or not parse_layout(pool.layout).parity:
            continue
        yield _about(
            pool,
            "shingled disks under parity",
            (
                Evidence(label="Shingled disks", value=len(result.drives_bytes), unit="count"),
                Evidence(label="To write in a rebuild", value=max(result.drives_bytes), unit="bytes"),
            ),
            "Once its landing zone is full it stalls: a rebuild takes many times as long, and the disk may "
            "be taken for a dead one.",
            _swap(f, pool, lambda d: d.recording == "cmr", "Take disks with conventional recording (CMR)."),
        )


@finding(DUTY_OR_RATING, TIERS_STAGE, "warn", key=f"{DUTY_OR_RATING}-duty")
def desktop_class_disk_in_continuous_duty(f: Figures) -> Iterator[Found]:
    """Built to run alone and by day, set beside others to run day and night."""
    for pool, result, drive in _with_class(f):
        if pool.drive_kind != "hdd" or drive.duty not in ("desktop", "portable"):
            continue
        yield _about(
            pool,
            f"{drive.duty} disks running day and night",
            (Evidence(label="Such disks", value=len(result.drives_bytes), unit="count"),),
            "They bear neighbours' vibration badly and try a bad sector so long that an array drops them.",
            _swap(f, pool, lambda d: d.duty == "array", "Take disks built for arrays."),
        )


@finding(DUTY_OR_RATING, TIERS_STAGE, "warn", key=f"{DUTY_OR_RATING}-workload")
def disk_over_its_workload_rating(f: Figures) -> Iterator[Found]:
    """More read and written in a year than the class is rated to move."""
    for pool, result, drive in _with_class(f):
        moved = member_bytes_per_year(f.brief, f.tiers, result, f.bundle.house_rules.working_days_per_week)
        if not drive.workload_bytes_per_year or moved <= drive.workload_bytes_per_year:
            continue
        yield _about(
            pool,
            "each disk moves more than it is rated for",
            (
                Evidence(label="Moved by each in a year", value=round(moved), unit="bytes"),
                Evidence(label="Rated for", value=drive.workload_bytes_per_year, unit="bytes"),
            ),
            "Past its rating the odds of failure rise and the warranty may not hold.",
            _swap(
                f,
                pool,
                lambda d, moved=moved: d.workload_bytes_per_year > moved,  # type: ignore[misc]
                "Take a class rated for more, more disks, or flash for what is busy.",
            ),
        )


@finding(USED_DISK, TIERS_STAGE, "warn", key=f"{USED_DISK}-test")
def used_disk_without_surface_test(f: Figures) -> Iterator[Found]:
    """A used drive that nobody has read from end to end."""
    for pool, result in _pools(f):
        if not pool.are_used or pool.surface_tested:
            continue
        yield _about(
            pool,
            "used drives that were not tested",
            (Evidence(label="Used drives", value=len(result.drives_bytes), unit="count"),),
            "Bad sectors of a used drive show in a full read and write, or else in the first rebuild.",
            Remedy(
                words="Read and write every one from end to end, then note it here",
                patch=_set(pool, surface_tested=True),
            ),
        )


@finding(USED_DISK, TIERS_STAGE, "warn", key=f"{USED_DISK}-hours")
def used_disk_with_hours_over_rule(f: Figures) -> Iterator[Found]:
    """A drive that has run longer than the house trusts one."""
    most = f.bundle.house_rules.drive_hours_max
    for pool, _ in _pools(f):
        if pool.hours_run <= most:
            continue
        yield _about(
            pool,
            "drives past their hours",
            (
                Evidence(label="Has run", value=pool.hours_run, unit="h"),
                Evidence(label="House rule", value=most, unit="h"),
            ),
            "Past their fifth year drives fail ever more often, and often together.",
            Remedy(words="Use new drives", patch=_set(pool, are_used=False, hours_run=0)),
        )


@finding("same-batch-throughout", TIERS_STAGE, "note")
def same_batch_throughout(f: Figures) -> Iterator[Found]:
    """One fault of manufacture or one drop in transport is in all of them."""
    for pool, result in _pools(f):
        if pool.batches != 1 or len(result.drives_bytes) < 2:
            continue
        yield _about(
            pool,
            "all drives of one batch",
            (Evidence(label="Drives of one batch", value=len(result.drives_bytes), unit="count"),),
            "What ails one of a batch ails its neighbours at about the same age: a second failure follows.",
            Remedy(words="Buy them in two batches, or from two sellers", patch=_set(pool, batches=2)),
        )


@finding("no-spare-and-long-delivery", TIERS_STAGE, "warn")
def no_spare_and_long_delivery(f: Figures) -> Iterator[Found]:
    """After a failure the pool waits for the post."""
    most = f.bundle.house_rules.delivery_days_max
    for pool, result, drive in _with_class(f):
        waits = drive.delivery_days or 0
        if (
            pool.spares
            or pool.cold_spares
            or result.shared_spares
            or waits <= most
            or not result.guaranteed_failures
        ):
            continue
        yield _about(
            pool,
            f"no spare, and {waits} days until one comes",
            (
                Evidence(label="Delivered in", value=waits, unit="days"),
                Evidence(label="House rule", value=most, unit="days"),
                Evidence(label="Survives until then", value=result.guaranteed_failures - 1, unit="count"),
            ),
            "A hot spare starts the rebuild by itself; one on the shelf when somebody is there to put it in.",
            Remedy(words="Keep one on the shelf", patch=_set(pool, cold_spares=1)),
        )


@finding("striped-tier-with-no-nightly-copy", TIERS_STAGE, "block")
def striped_tier_with_no_nightly_copy(f: Figures) -> Iterator[Found]:
    """One dead drive ends the whole stripe."""
    for pool, result in _pools(f):
        if parse_layout(pool.layout).family is not Family.STRIPE or is_copied_nightly(f, pool):
            continue
        yield _about(
            pool,
            "striped, and copied nowhere at night",
            (
                Evidence(label="Lost with any one of", value=result.members, unit="count"),
                Evidence(label="Usable", value=result.usable_bytes, unit="bytes"),
            ),
            "A stripe holds nothing twice: after a failure the night's copy is all that is left.",
            Remedy(words="Copy it to a box of its own every night", patch=_copied_nightly(f, pool)),
        )


def _copied_nightly(f: Figures, pool: Pool) -> Patch:
    store = {"name": f"Box for {pool.name}"[:80], "kind": "a box", "access": "online"}
    copy = {"name": f"{pool.name}, every night"[:80]}
    return copied_patch(f.bundle, " ".join(living_on(f, pool)), store, copy)


@finding("flash-wear-before-its-service-life", TIERS_STAGE, "warn")
def pool_flash_wear(f: Figures) -> Iterator[Found]:
    """Flash of a pool that is written through before its service life is over."""
    years_min = f.bundle.house_rules.flash_service_years_min
    for pool, result, drive in _with_class(f):
        written = member_written_per_year(
            f.brief, f.tiers, result, f.bundle.house_rules.working_days_per_week
        )
        years = wear_years(drive.endurance_bytes, written) if pool.drive_kind == "ssd" else math.inf
        if years >= years_min:
            continue
        yield _about(
            pool,
            f"worn out after {years:.1f} years",
            (
                Evidence(label="Lasts", value=round(years, 2), unit="years"),
                Evidence(label="House rule", value=years_min, unit="years"),
            ),
            "Flash is rated for so many bytes written; copies and parity are written as well.",
            _swap(
                f,
                pool,
                lambda d, least=written * years_min: d.endurance_bytes >= least,  # type: ignore[misc]
                "Take a class rated to write more, or more of them.",
            ),
        )
