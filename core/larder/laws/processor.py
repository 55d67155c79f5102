"""The processor of a box as a hop: protocol, parity, checksums and encryption each cost it time per byte.

Stated assumptions in cores of one ordinary core of these years, to be replaced by a measurement of the box.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from larder.base.units import GB

ProcessorClass = Literal["", "small", "middle", "large"]
CORES: dict[str, float] = {"small": 1.2, "middle": 5.0, "large": 16.0}
"""Ordinary cores that a class is worth: a few slow ones, a desktop's, a server's."""
PROTOCOL_CORE_S_PER_GB = 0.4
PARITY_CORE_S_PER_GB = 0.3
CHECKSUM_CORE_S_PER_GB = 0.2
ENCRYPTION_CORE_S_PER_GB = 0.4
INSIDE_SEAT_CORES = 1.0
"""A seat inside the box, such as a render at night, takes one core while it is at its peak."""
CORES_LEFT_MIN_SHARE = 0.1
"""However busy it renders, the box keeps serving with a tenth."""


def cores_left(cores: float, inside_seats_at_peak: float) -> float:
    """Ordinary cores left for serving files, of those that a box has."""
    return max(cores - INSIDE_SEAT_CORES * inside_seats_at_peak, CORES_LEFT_MIN_SHARE * cores)


@dataclass(frozen=True)
class CoreSeconds:
    """What serving a GB takes of one ordinary core, seconds; ``parity`` in writing alone."""

    protocol: float
    checksum: float
    encryption: float
    parity: float

    @property
    def a_byte_read(self) -> float:
        """Core-seconds for a byte that is read."""
        return (self.protocol + self.checksum + self.encryption) / GB

    @property
    def a_byte_written(self) -> float:
        """Core-seconds for a byte that is written."""
        return (self.protocol + self.checksum + self.encryption + self.parity) / GB


def core_seconds_per_gb(*, parity: bool, checksums: bool, encrypted_share: float) -> CoreSeconds:
    """What a GB costs where the pool keeps parity or checksums, and so much of it is encrypted."""
    return CoreSeconds(
        protocol=PROTOCOL_CORE_S_PER_GB,
        checksum=CHECKSUM_CORE_S_PER_GB if checksums else 0.0,
        encryption=ENCRYPTION_CORE_S_PER_GB * encrypted_share,
        parity=PARITY_CORE_S_PER_GB if parity else 0.0,
    )
