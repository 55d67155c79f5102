"""What each drive of a pool has to move in a year, and when flash is worn by it."""

from __future__ import annotations

from .brief import BriefResult
from .pool import PoolResult
from .tiers import TiersResult

DAYS_A_YEAR = 365.25
DAYS_A_WEEK = 7


def traffic_per_day(brief: BriefResult, tiers: TiersResult, pool: PoolResult) -> tuple[float, float]:
    """(read, written) bytes on an average day, which the pools of a tier share by their plannable bytes.

    An archive is read by those who play from it and written by what is retired to it: in the long run the
    growth of a week in seven days.
    """
    tier_bytes = tiers.tier_bytes(pool.tier)
    part = pool.plannable_bytes / tier_bytes if tier_bytes else 1.0
    if tiers.has_both_tiers and pool.tier == "archive":
        return brief.archive_bytes_per_day * part, brief.growth_bytes_per_week / DAYS_A_WEEK * part
    archive = brief.archive_bytes_per_day if tiers.has_both_tiers else 0.0
    return (brief.read_bytes_per_day - archive) * part, brief.write_bytes_per_day * part


def member_bytes_per_year(brief: BriefResult, tiers: TiersResult, pool: PoolResult) -> float:
    """Bytes that one member reads and writes in a year, copies and parity included."""
    read, written = traffic_per_day(brief, tiers, pool)
    return (read + written * pool.written_per_byte) * DAYS_A_YEAR / pool.members


def member_written_per_year(brief: BriefResult, tiers: TiersResult, pool: PoolResult) -> float:
    """Bytes that one member writes in a year, copies and parity included."""
    _, written = traffic_per_day(brief, tiers, pool)
    return written * pool.written_per_byte * DAYS_A_YEAR / pool.members
