"""When a pool that survives one dead drive hangs by the others for too long, or too unsurely."""

from __future__ import annotations

from .elementwise import Flag, Real, Whole


def hangs_by_one_drive(
    survives: Whole, rebuild_hours: Real, unreadable_odds: Real, hours_max: float, percent_max: float
) -> Flag:
    """Whether its rebuild takes longer, or meets an unreadable sector likelier, than the house lets it.

    Odds are 0 to 1, ``percent_max`` is of 100 rebuilds.
    """
    is_too_long = rebuild_hours > hours_max
    is_too_unsure = unreadable_odds * 100 > percent_max
    return (survives == 1) & (is_too_long | is_too_unsure)
