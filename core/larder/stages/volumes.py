"""The volumes of a pool together: what is promised, set aside and left."""

from __future__ import annotations

from larder.base.results import Result
from larder.plan.volumes import Volume, encrypted_share


class VolumesResult(Result):
    """The volumes of one pool together; ``overcommit`` is promised ÷ plannable, null without plannable."""

    pool_id: str
    count: int
    promised_bytes: int
    set_aside_bytes: int
    left_bytes: int
    overcommit: float | None
    encrypted_share: float


def volumes_of(volumes: tuple[Volume, ...], pool_id: str, plannable_bytes: int) -> VolumesResult:
    """What is promised and set aside of ``plannable_bytes``; volumes without a quota promise nothing."""
    own = [v for v in volumes if v.pool_id == pool_id]
    promised = sum(v.size_bytes for v in own)
    set_aside = sum(v.set_aside_bytes for v in own)
    return VolumesResult(
        pool_id=pool_id,
        count=len(own),
        promised_bytes=promised,
        set_aside_bytes=set_aside,
        left_bytes=plannable_bytes - set_aside,
        overcommit=promised / plannable_bytes if plannable_bytes else None,
        encrypted_share=encrypted_share(volumes, pool_id),
    )
