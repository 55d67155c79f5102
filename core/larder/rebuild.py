"""How long a pool is busy rebuilding one dead drive.

time = member ÷ (r_outer · (1 + ρ) / 2) at the share the rebuild gets under load, ρ = r_inner / r_outer: the
mean over the surface of a disk with constant areal density, taken in one line.
"""

from __future__ import annotations

from .device import INNER_TO_OUTER_RATIO, DriveKind
from .layout import Family, Layout

LAYOUTS_WITHOUT_REBUILD = (Family.SPAN, Family.STRIPE)


def rebuild_seconds(
    layout: Layout, member_bytes: int, outer_bytes_per_s: float, kind: DriveKind, share: float
) -> float | None:
    """Seconds to write a whole member anew at ``share`` (0 to 1) of its rate; None where nothing is."""
    if layout.family in LAYOUTS_WITHOUT_REBUILD or outer_bytes_per_s <= 0 or share <= 0:
        return None
    ratio = INNER_TO_OUTER_RATIO if kind == "hdd" else 1.0
    return member_bytes / (outer_bytes_per_s * (1 + ratio) / 2 * share)
