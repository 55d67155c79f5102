"""A row of the bench: times of this side in one run, and what they are set against."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from dataclasses import dataclass

REPEATS = 30
LONGEST_S, FEWEST = 6.0, 3
"""A side that is slow is repeated less often: three times at least, and no more after so many seconds."""


@dataclass(frozen=True)
class Row:
    """One line of the table; times in milliseconds."""

    what: str
    median_ms: float
    p95_ms: float
    against: str
    ratio: float | None
    goal: str

    def __str__(self) -> str:
        times = f"{self.median_ms:9.2f} ms {self.p95_ms:9.2f} ms"
        ratio = " " * 10 if self.ratio is None else f"{self.ratio:9.4g}×"
        against = f"  against {self.against}" if self.against else ""
        goal = f"  (goal {self.goal})" if self.goal else ""
        return f"{self.what:52} {times} {ratio}{against}{goal}"


def milliseconds(action: Callable[[], object], repeats: int = REPEATS) -> list[float]:
    """How long ``action`` took, each time."""
    times, ends = [], time.perf_counter() + LONGEST_S
    while len(times) < repeats and (len(times) < FEWEST or time.perf_counter() < ends):
        began = time.perf_counter()
        action()
        times.append((time.perf_counter() - began) * 1000)
    return times


def row(
    what: str, times: list[float], against: str = "", other: list[float] | None = None, goal: str = ""
) -> Row:
    """A table row; the ratio is this side's median over the other's."""
    median = statistics.median(times)
    p95 = sorted(times)[max(0, round(len(times) * 0.95) - 1)]
    ratio = None if not other else median / statistics.median(other)
    result = None if ratio is None else round(ratio, 2 if ratio >= 0.1 else 5)
    return Row(what, round(median, 2), round(p95, 2), against, result, goal)


def inventory_of(drives: int) -> bytes:
    """A made-up stock: every shoot on two drives and a common one on many."""
    header = "label,size,used,serial,place,bought,materials\n"
    line = "Drive {n},8TB,5TB,S-{n},Shelf {m},2022-05-20,Shoot {m}=2TB; Shoot {n}=3TB\n"
    return (header + "".join(line.format(n=n, m=n % 90) for n in range(drives))).encode()
