"""How long after a jump the first frame is seen.

The request goes there and back, waits its turn at the drives behind every other stream that they serve, and
then so much footage comes as a player wants before it shows a picture (a queue in turns; L. Kleinrock,
*Queueing Systems I*, 1.6, served once each).
"""

from __future__ import annotations

JUMP_FOOTAGE_S = 0.2
"""Footage that is read before the first picture: some frames back to one that stands alone. An assumption."""


def first_frame_seconds(
    round_trip_s: float,
    turn_s: float,
    others_before: float,
    need_bytes_per_s: float,
    gets_bytes_per_s: float,
) -> float:
    """Seconds from a jump until the first frame; infinite where nothing comes.

    ``turn_s`` is one stream's turn at the drives and ``others_before`` how many other streams are served
    first: all of them where the drives are busy all the time. ``gets_bytes_per_s`` is what the way has for
    this one.
    """
    if gets_bytes_per_s <= 0:
        return float("inf")
    waits_s = turn_s * (1 + max(others_before, 0.0))
    return round_trip_s + waits_s + JUMP_FOOTAGE_S * need_bytes_per_s / gets_bytes_per_s
