"""Findings about volumes: promised twice, more set aside than there is, no key, no way back."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

from larder.base.patch import Operation, set_fields
from larder.plan.volumes import Volume
from larder.stages.registry import TIERS_STAGE

from .finding import Evidence, Figures, Found, Remedy, finding

SNAPSHOT_DAYS = 14
"""A fortnight: long enough to notice on the Monday after next that a folder is gone."""
KEY_HOLDERS = "the storage technician, and a sealed copy in another place"


def _set(volume: Volume, field: str, value: object) -> tuple[Operation, ...]:
    return set_fields(f"plan/volumes/{volume.id}", **{field: value})


def _lowered(own: list[Volume], excess: float, counts: Callable[[Volume], int]) -> Remedy:
    """The volume that takes most made smaller by what is too much, where that is enough."""
    largest = max(own, key=counts)
    field = "reserved_bytes" if counts(largest) == largest.reserved_bytes else "size_bytes"
    left = counts(largest) - math.ceil(excess)
    if left < (1 if field == "size_bytes" else 0):
        words = "Give several volumes less, or the pool more drives."
        return Remedy(words=words, at=f"plan/volumes/{largest.id}/{field}")
    # A quota below its reservation would be refused.
    patch = (
        _set(largest, "reserved_bytes", min(largest.reserved_bytes, left)) if field == "size_bytes" else ()
    )
    return Remedy(
        words=f"Give {largest.name} {left / 10**12:.1f} TB", patch=(*patch, *_set(largest, field, left))
    )


@finding("thin-volumes-overcommitted", TIERS_STAGE, "warn")
def thin_volumes_overcommitted(f: Figures) -> Iterator[Found]:
    """The volumes of a pool may together hold more than it can."""
    most = f.bundle.house_rules.thin_overcommit_max
    for pool, result in zip(f.tiers.pools, f.tiers.volumes, strict=True):
        allowed = most * pool.plannable_bytes
        own = [v for v in f.bundle.plan.volumes if v.pool_id == pool.id]
        if not any(v.is_thin for v in own) or result.promised_bytes <= allowed:
            continue
        yield Found(
            at=pool.id,
            title=f"{pool.name} is promised more than once",
            evidence=(
                Evidence(label="Promised", value=result.promised_bytes, unit="bytes"),
                Evidence(label="Plannable", value=pool.plannable_bytes, unit="bytes"),
                Evidence(label="House rule, times plannable", value=most, unit="ratio"),
            ),
            why="Each volume shows free space that another may fill; when the pool is full, all stop.",
            remedy=_lowered(own, result.promised_bytes - allowed, lambda v: v.size_bytes),
        )


@finding("volumes-reserve-more-than-the-pool-holds", TIERS_STAGE, "block")
def volumes_reserve_more_than_the_pool_holds(f: Figures) -> Iterator[Found]:
    """Thick volumes and reservations that cannot all be had."""
    for pool, result in zip(f.tiers.pools, f.tiers.volumes, strict=True):
        if result.left_bytes >= 0:
            continue
        own = [v for v in f.bundle.plan.volumes if v.pool_id == pool.id]
        yield Found(
            at=pool.id,
            title=f"{pool.name} cannot set aside what its volumes ask",
            evidence=(
                Evidence(label="To be set aside", value=result.set_aside_bytes, unit="bytes"),
                Evidence(label="Plannable", value=pool.plannable_bytes, unit="bytes"),
            ),
            why="A thick volume or a reservation is taken at once: the last of them cannot be made.",
            remedy=_lowered(own, -result.left_bytes, lambda v: v.set_aside_bytes),
        )


@finding("key-held-by-nobody", TIERS_STAGE, "block")
def key_held_by_nobody(f: Figures) -> Iterator[Found]:
    """Encrypted, and nobody is named who can unlock it."""
    for volume in f.bundle.plan.volumes:
        if not volume.is_encrypted or volume.key_holder.strip():
            continue
        yield Found(
            at=volume.id,
            title=f"Nobody holds the key of {volume.name}",
            evidence=(Evidence(label="Locked up at most", value=volume.size_bytes, unit="bytes"),),
            why="Without its key an encrypted volume is noise, also to its owner after the box has died.",
            remedy=Remedy(words=f"Held by {KEY_HOLDERS}", patch=_set(volume, "key_holder", KEY_HOLDERS)),
        )


@finding("no-snapshots", TIERS_STAGE, "note")
def no_snapshots(f: Figures) -> Iterator[Found]:
    """Files without a way back to yesterday."""
    for volume in f.bundle.plan.volumes:
        if volume.kind != "file" or volume.snapshot_days:
            continue
        yield Found(
            at=volume.id,
            title=f"{volume.name} keeps no snapshots",
            evidence=(Evidence(label="Days one can go back", value=0, unit="count"),),
            why="A folder emptied by mistake, or by an intruder, is back in a minute from a snapshot.",
            remedy=Remedy(
                words=f"Keep them for {SNAPSHOT_DAYS} days",
                patch=_set(volume, "snapshot_days", SNAPSHOT_DAYS),
            ),
        )
