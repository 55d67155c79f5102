"""How long flash lasts: what it is rated to write over what is written to it."""

from __future__ import annotations

import math

import numpy as np

from .elementwise import Real, is_many


def wear_years(endurance_bytes: Real, written_bytes_per_year: Real) -> Real:
    """Years until the rating is written; infinite where no rating is known or nothing is written."""
    if not is_many(endurance_bytes, written_bytes_per_year):
        is_worn = endurance_bytes > 0 and written_bytes_per_year > 0
        return endurance_bytes / written_bytes_per_year if is_worn else math.inf
    rated, written = np.broadcast_arrays(
        np.asarray(endurance_bytes, np.float64), np.asarray(written_bytes_per_year, np.float64)
    )
    lasts = np.full(rated.shape, np.inf)
    return np.divide(rated, written, out=lasts, where=(rated > 0) & (written > 0))
