"""A set of drives as sizes with counts: what every law of pools takes, one set or many at once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from .elementwise import Whole, least, pick


@dataclass(frozen=True)
class DriveSet:
    """How many drives there are of each size; ``sizes_bytes`` ascend.

    Entries are plain numbers, or arrays with an entry a set; a size that a set has none of counts 0.
    """

    sizes_bytes: tuple[Whole, ...]
    counts: tuple[Whole, ...]

    @property
    def count(self) -> Whole:
        """All drives."""
        return sum(self.counts)

    @property
    def total_bytes(self) -> Whole:
        return sum(size * count for size, count in self)

    @property
    def smallest_bytes(self) -> Whole:
        """The smallest drive that there is."""
        found = self.sizes_bytes[-1]
        for size, count in reversed(tuple(self)):
            found = pick(count > 0, size, found)
        return found

    @property
    def largest_bytes(self) -> Whole:
        """The largest drive that there is."""
        found = self.sizes_bytes[0]
        for size, count in self:
            found = pick(count > 0, size, found)
        return found

    def __iter__(self) -> Iterator[tuple[Whole, Whole]]:
        return iter(zip(self.sizes_bytes, self.counts, strict=True))

    def without_largest(self, count: Whole) -> DriveSet:
        """What is left once the ``count`` largest are taken away."""
        left: list[Whole] = []
        for held in reversed(self.counts):
            taken = least(held, count)
            left.append(held - taken)
            count = count - taken
        return DriveSet(self.sizes_bytes, tuple(reversed(left)))

    def steps(self) -> list[tuple[Whole, Whole]]:
        """Layers of a mixed set as (height in bytes, drives that reach it), from the ground up."""
        reach = self.count
        found, floor = [], 0
        for size, count in self:
            found.append((size - floor, reach))
            reach, floor = reach - count, size
        return found


def drive_set(drives_bytes: Iterable[int]) -> DriveSet:
    """The set of these drives, a size for each, in any order."""
    counts = sorted(Counter(drives_bytes).items())
    return DriveSet(tuple(size for size, _ in counts), tuple(count for _, count in counts))


def alike(drive_bytes: Whole, count: Whole) -> DriveSet:
    """``count`` drives of one size."""
    return DriveSet((drive_bytes,), (count,))
