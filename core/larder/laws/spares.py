"""How long a dead drive waits for another: none where a hot spare stands in, else the shelf or the post."""

from __future__ import annotations

from larder.base.units import HOURS_A_DAY

from .elementwise import Real, Whole, pick

SHELF_HOURS = 12.0
"""Until somebody has put a spare from the shelf into its place. A stated assumption."""


def waits_hours(hot_spares: Whole, cold_spares: Whole, delivery_days: Real) -> Real:
    """Hours from a drive's death until its rebuild can begin; ``hot_spares`` with those that pools share."""
    shelf_or_post = pick(cold_spares > 0, SHELF_HOURS, delivery_days * HOURS_A_DAY)
    return pick(hot_spares > 0, 0.0, shelf_or_post)
