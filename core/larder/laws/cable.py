"""What a cable of a category is made for over its length: the fastest Ethernet that its standard promises.

IEEE 802.3 clauses 40 (1 Gb/s), 126 (2.5 and 5 Gb/s), 55 (10 Gb/s) over twisted pairs of ISO/IEC 11801
classes; copper twinax by SFF-8431 and 802.3by/bj. Glass goes as far as its optics say and limits
nothing here.
"""

from __future__ import annotations

_REACH_M: dict[str, tuple[tuple[float, str], ...]] = {
    "cat5e": ((100, "2.5GbE"),),
    "cat6": ((55, "10GbE"), (100, "5GbE")),
    "cat6a": ((100, "10GbE"),),
    "direct attach": ((5, "100GbE"), (7, "10GbE")),
}
"""(up to so many metres, the fastest speed) by category, shortest first."""
BEYOND_ITS_REACH = "100Mb"
"""Longer than any standard promises; what such a cable still comes up at, where it does."""


def fastest_over(category: str, length_m: float) -> str | None:
    """The fastest speed over ``length_m`` metres of ``category``; None where nothing limits it."""
    steps = _REACH_M.get(category)
    if steps is None:
        return None
    return next((speed for most, speed in steps if length_m <= most), BEYOND_ITS_REACH)


def least_category_for(speed: str, length_m: float, speeds: tuple[str, ...]) -> str:
    """The plainest category that carries ``speed`` so far; ``speeds`` from slow to fast."""
    for category in _REACH_M:
        fastest = fastest_over(category, length_m)
        if fastest is not None and speeds.index(fastest) >= speeds.index(speed):
            return category
    return "fibre"
