"""A box's memory: the first tier that reads hit, and a buffer that a power cut empties.

What is read again soon is answered from memory. What is written lands there first, so a copy starts fast and
then slows down, with no flash in the box at all; until it is written out it exists nowhere else.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from larder.base.memo import remembered
from larder.base.results import Result
from larder.base.units import GB, TB
from larder.laws.burst import write_burst
from larder.plan.house_rules import HouseRules

from .caches import PIECE_BYTES, CacheDemand, HitTerms, curve_of, hit_terms

SYSTEM_MEMORY_BYTES = 4 * GB
"""What the box's own programs take. A stated assumption, as are the next two."""
WRITE_BUFFER_SHARE = 0.1
"""Part of the memory that may hold what is not written out yet."""
MEMORY_BYTES_PER_S = 10e9
KEPT_BYTES = 500_000
MODULE_BYTES = 8 * GB
"""Memory comes in modules; a proposed amount is rounded up to this."""


class MemoryResult(Result):
    """What a box's memory does. ``seconds_fast`` is null where a day's burst never fills the buffer."""

    memory_bytes: int
    recommended_bytes: int
    system_bytes: int
    read_tier_bytes: int
    hit_ratio: float
    hit_terms: HitTerms
    hit_ratio_recommended: float
    write_buffer_bytes: int
    seconds_fast: float | None
    dirty_bytes_max: int


@dataclass(frozen=True)
class MemoryUse:
    """What lies behind a box's memory: raw bytes under copy-on-write filesystems, and what they write."""

    copy_on_write_raw_bytes: int
    write_bytes_per_s: float


def recommended_memory_bytes(use: MemoryUse, rules: HouseRules) -> int:
    """The house's rule: a base, and so much per raw TB of copy-on-write pools, in whole modules."""
    wanted = rules.memory_gb_min * GB + rules.memory_gb_per_raw_tb * GB * use.copy_on_write_raw_bytes / TB
    return math.ceil(wanted / MODULE_BYTES) * MODULE_BYTES


@remembered(KEPT_BYTES, lambda *_: 1_500)
def memory_of(
    memory_bytes: int, recommended_bytes: int, write_bytes_per_s: float, demand: CacheDemand
) -> MemoryResult | None:
    """What so much memory does for the people, before pools that write at this rate; None for none."""
    if not memory_bytes:
        return None
    buffer = int(memory_bytes * WRITE_BUFFER_SHARE)
    fast, dirty = None, 0
    if demand.burst_bytes and demand.burst_bytes_per_s > 0 and write_bytes_per_s > 0:
        burst = write_burst(demand.burst_bytes, demand.burst_bytes_per_s, write_bytes_per_s, buffer)
        fast, dirty = burst.seconds_to_full, round(burst.peak_dirty_bytes)
    return MemoryResult(
        memory_bytes=memory_bytes,
        recommended_bytes=recommended_bytes,
        system_bytes=SYSTEM_MEMORY_BYTES,
        read_tier_bytes=_read_tier(memory_bytes),
        hit_terms=hit_terms(demand),
        hit_ratio=_hit(memory_bytes, demand),
        hit_ratio_recommended=_hit(recommended_bytes, demand),
        write_buffer_bytes=buffer,
        seconds_fast=fast,
        dirty_bytes_max=dirty,
    )


def _read_tier(memory_bytes: int) -> int:
    return max(memory_bytes - SYSTEM_MEMORY_BYTES, 0)


def _hit(memory_bytes: int, demand: CacheDemand) -> float:
    if not demand.working_set_bytes:
        return 0.0
    return curve_of(demand).at(_read_tier(memory_bytes) / PIECE_BYTES)
