"""What one drive gives: a disk slows as it fills and when streams interleave; flash does neither."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from larder.base.units import MIB

from .elementwise import Real, Whole, least, most, pick

DriveKind = Literal["hdd", "ssd"]
INNER_TO_OUTER_RATIO = 0.5
"""Sequential rate on a disk's innermost track over that on its outermost; usual for 3.5-inch disks."""
VISIT_BYTES_LOW, VISIT_BYTES, VISIT_BYTES_HIGH = 2 * MIB, 8 * MIB, 32 * MIB
"""The read-ahead that a stream gets: bytes moved over the whole stripe before the next has its turn."""
SEEK_SHARE_OF_TWO, SEEK_WHOLE_FROM = 0.5, 8
"""Between two streams the arm goes half as far as between the many that there are from eight on."""
SEEK_SECONDS = 0.008
REVOLUTION_SECONDS = 0.00833
"""One turn of a disk at 7,200 rpm."""
FLASH_LATENCY_SECONDS = 0.0001
FLASH_OPERATIONS_PER_S = 50_000.0
"""Random operations of one flash drive under a queue; a careful figure for sustained mixed work."""


@dataclass(frozen=True)
class Mechanics:
    """How a drive gets at its bytes. Flash has no tracks, and no arm that moves between streams.

    ``positioning_seconds`` is a seek of ``seek_seconds`` and half a turn; ``latency_seconds`` what a first
    byte takes.
    """

    inner_ratio: float
    positioning_seconds: float
    latency_seconds: float
    operations_per_s: float
    seek_seconds: float = 0.0

    def turn_seconds(self, streams: Whole) -> Real:
        """What it takes to go on to the next of ``streams`` streams: half a turn, and a seek that grows."""
        part = least(most((streams - 2) / (SEEK_WHOLE_FROM - 2), 0.0), 1.0)
        seek = self.seek_seconds * (SEEK_SHARE_OF_TWO + (1 - SEEK_SHARE_OF_TWO) * part)
        return self.positioning_seconds - self.seek_seconds + seek


def disk_mechanics(
    inner_ratio: float = INNER_TO_OUTER_RATIO,
    seek_seconds: float = SEEK_SECONDS,
    revolution_seconds: float = REVOLUTION_SECONDS,
) -> Mechanics:
    """A disk with these figures; one random operation is one positioning."""
    positioning = seek_seconds + revolution_seconds / 2
    return Mechanics(inner_ratio, positioning, positioning, 1 / positioning, seek_seconds)


MECHANICS: dict[DriveKind, Mechanics] = {
    "hdd": disk_mechanics(),
    "ssd": Mechanics(1.0, 0.0, FLASH_LATENCY_SECONDS, FLASH_OPERATIONS_PER_S),
}
"""What is taken where no class of drive says otherwise."""


def rate_at_fill(outer_bytes_per_s: Real, fill: float, inner_ratio: float = INNER_TO_OUTER_RATIO) -> Real:
    """Sequential bytes/s of a disk filled to ``fill`` (0 to 1) from the outer tracks inwards.

    r(f) = r_outer · sqrt(1 − f·(1 − (r_inner / r_outer)²)): constant areal density, so the area
    already used, not the radius, grows evenly with the bytes.
    """
    return outer_bytes_per_s * math.sqrt(1 - fill * (1 - inner_ratio**2))


def visiting_share(
    stripe_bytes_per_s: Real, streams: Whole, mechanics: Mechanics, visit_bytes: int = VISIT_BYTES
) -> Real:
    """Share of a stripe's rate (above 0) left when ``streams`` sequential streams take turns on it (0 to 1).

    (w/S) / (w/S + t(k)) for k streams of two and more on disks: a visit moves w bytes over the whole stripe,
    so that it costs a wide one more. Flash does not seek.
    """
    moving_seconds = visit_bytes / stripe_bytes_per_s
    return pick(streams > 1, moving_seconds / (moving_seconds + mechanics.turn_seconds(streams)), 1.0)
