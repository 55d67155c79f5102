"""What a pool keeps of its speed while something is the matter with it: a dead disk, a rebuild, a scrub."""

from __future__ import annotations

from typing import Literal, get_args

from larder.base.results import Result

from .pool import PoolResult

Trouble = Literal["", "a dead disk", "a rebuild", "a scrub"]
TROUBLES: tuple[Trouble, ...] = tuple(trouble for trouble in get_args(Trouble) if trouble)


class TroubledSpeed(Result):
    """Speed while one pool is in trouble: the smallest ratio of all hops then, and the pool that is worst."""

    trouble: Literal["a dead disk", "a rebuild", "a scrub"]
    pool_id: str
    pool_name: str
    ratio: float


def kept_in(pool: PoolResult, trouble: Trouble, rebuild_share: float) -> tuple[float, float] | None:
    """(part of reading, part of writing) that a pool's drives keep; None where its bytes are lost then.

    ``pool`` without anything cached: a cache answers as before, and what it does not answer is slower.

    A scrub reads everything once beside the people, as one more flow with the share of a rebuild.
    """
    read, write = pool.read.middle_bytes_per_s, pool.write.middle_bytes_per_s
    if trouble == "a scrub":
        return 1 - rebuild_share, 1 - rebuild_share
    if trouble == "a dead disk":
        return (pool.degraded_read.middle_bytes_per_s / read, 1.0) if pool.degraded_read else None
    if trouble == "a rebuild":
        if pool.rebuilding_read is None or pool.rebuilding_write is None:
            return None
        rebuilding = pool.rebuilding_read.middle_bytes_per_s, pool.rebuilding_write.middle_bytes_per_s
        return rebuilding[0] / read, rebuilding[1] / write
    return 1.0, 1.0
