"""What snapshots hold: deleting frees nothing until the last snapshot that knows the file is gone."""

from __future__ import annotations

from .elementwise import Real


def held_bytes(rewritten_bytes_per_day: Real, days: Real) -> Real:
    """Bytes that snapshots of the last ``days`` hold beside what is there now."""
    return rewritten_bytes_per_day * days
