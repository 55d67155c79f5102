"""When storage is full: the closed form of steady growth, by a part more or less every year.

used(t) = used + w · ((1 + g)^t − 1) / ln(1 + g), w a year and t in years: the integral of a rate that grows
by g a year. Its inverse is t = log1p((capacity − used) · ln(1 + g) / w) / ln(1 + g).
"""

from __future__ import annotations

import math

from larder.base.units import DAYS_A_YEAR

DAYS_A_WEEK = 7
WEEKS_A_YEAR = DAYS_A_YEAR / DAYS_A_WEEK
# Below this a year the closed form differs from no growth by less than rounding, within a thousand years; and
# a quotient of numbers so small that they have lost their digits would differ from it by everything.
NO_GROWTH = 1e-15


def grown_years(years: float, growth: float) -> float:
    """Years of today's intake that come in within ``years``, where it grows by ``growth`` a year.

    0.1 is 10 %. To the left of today, where ``years`` is below 0, so is the sum.
    """
    if abs(growth) < NO_GROWTH:
        return years
    log_growth = math.log1p(growth)
    return math.expm1(years * log_growth) / log_growth


def years_to_fill(room_bytes: float, bytes_per_year: float, growth: float) -> float | None:
    """Years until ``room_bytes`` more are taken; 0 where there is no room, None where they never are."""
    if room_bytes <= 0:
        return 0.0
    if bytes_per_year <= 0:
        return None
    years = room_bytes / bytes_per_year
    if abs(growth) < NO_GROWTH:
        return years
    log_growth = math.log1p(growth)
    return math.log1p(years * log_growth) / log_growth
