"""When a copy counts as a nightly one: what it holds is never older than a day by its own rhythm."""

from __future__ import annotations

from larder.base.units import HOURS_A_DAY


def is_nightly(every_hours: float) -> bool:
    """Whether a copy that is made every so many hours is made every night at least."""
    return every_hours <= HOURS_A_DAY
