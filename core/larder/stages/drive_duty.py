"""What each drive of a pool has to move in a year, and when flash is worn by it."""

from __future__ import annotations

from .brief import BriefResult
from .caches import working_days_a_year
from .pool import PoolResult
from .tiers import TiersResult


def traffic_per_day(
    brief: BriefResult, tiers: TiersResult, pool: PoolResult, days_per_week: float
) -> tuple[float, float]:
    """(read, written) bytes on an average working day, which a tier's pools share by their plannable bytes.

    An archive is read by those who play from it and written by what is retired to it: in the long run the
    growth of a week in its working days.
    """
    tier_bytes = tiers.tier_bytes(pool.tier)
    part = pool.plannable_bytes / tier_bytes if tier_bytes else 1.0
    if tiers.has_both_tiers and pool.tier == "archive":
        return brief.archive_bytes_per_day * part, brief.growth_bytes_per_week / days_per_week * part
    archive = brief.archive_bytes_per_day if tiers.has_both_tiers else 0.0
    return (brief.read_bytes_per_day - archive) * part, brief.write_bytes_per_day * part


def member_bytes_per_year(
    brief: BriefResult, tiers: TiersResult, pool: PoolResult, days_per_week: float
) -> float:
    """Bytes that one member reads and writes in a year, copies and parity included."""
    read, written = traffic_per_day(brief, tiers, pool, days_per_week)
    days = working_days_a_year(days_per_week)
    return (read + written * pool.written_per_byte) * days / pool.members


def member_written_per_year(
    brief: BriefResult, tiers: TiersResult, pool: PoolResult, days_per_week: float
) -> float:
    """Bytes that one member writes in a year, copies and parity included."""
    _, written = traffic_per_day(brief, tiers, pool, days_per_week)
    return written * pool.written_per_byte * working_days_a_year(days_per_week) / pool.members
