"""A verified copy: the source read once, each target written, and each target read back from its drives.

A card may be wiped when the last of its targets has been read back and agrees, not when it is copied: 512 GB
to two targets move 512 × (1 + 2 + 2) GB = 2.6 TB.
"""

from __future__ import annotations


def moved_bytes(source_bytes: float, targets: int, *, verifies: bool) -> float:
    """All bytes that are read and written for ``source_bytes`` on ``targets``."""
    return source_bytes * (1 + targets * (2 if verifies else 1))


def seconds_until_safe(source_bytes: float, source_bytes_per_s: float, slowed: float) -> float | None:
    """How long until ``source_bytes`` are on all targets and read back.

    The sources give ``source_bytes_per_s``; the narrowest hop lets through the part ``slowed`` (0 to 1) of
    what these and their targets ask of it. None where nothing gets through.
    """
    if not source_bytes:
        return 0.0
    rate = source_bytes_per_s * min(slowed, 1.0)
    return source_bytes / rate if rate > 0 else None
