"""How fast a pool reads whose hottest bytes lie in memory, the next in flash, the rest on its drives.

The three hold the hottest first, each what the one before it has no room for: a flash cache that is smaller
than the memory before it answers nothing that memory would not. Times of bytes add.
"""

from __future__ import annotations

from typing import NamedTuple

from .elementwise import Real, most


class ReadShares(NamedTuple):
    """Which part of the bytes memory, flash and the drives answer; they sum to 1."""

    memory: Real
    flash: Real
    drives: Real


def read_shares(memory_hits: Real, flash_hits: Real) -> ReadShares:
    """Who answers, of what each would hit by itself, as shares of the bytes."""
    flash = most(flash_hits - memory_hits, 0.0)
    return ReadShares(memory_hits, flash, 1.0 - memory_hits - flash)


def reads_bytes_per_s(shares: ReadShares, drives: Real, flash: Real, memory: Real) -> Real:
    """Bytes/s through all three, of what each gives by itself.

    Nobody is asked who is slower than what lies behind: an answer never takes longer for standing before it.
    """
    flash = most(flash, drives)
    memory = most(memory, flash)
    return 1 / (shares.memory / memory + shares.flash / flash + shares.drives / drives)
