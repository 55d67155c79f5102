"""Memory and flash before drives: known answers, and bytes that are drawn one by one."""

import random
import unittest

from hypothesis import given
from hypothesis import strategies as st

from larder.base.units import GB, MB
from larder.laws.read_tiers import read_shares, reads_bytes_per_s

RATES, HITS = st.floats(1e6, 5e10), st.floats(0, 1)


def reads(memory_hits: float, flash_hits: float, drives: float = 200 * MB, flash: float = 3.6 * GB) -> float:
    return float(reads_bytes_per_s(read_shares(memory_hits, flash_hits), drives, flash, 10 * GB))


class Reading(unittest.TestCase):
    def test_what_a_technician_works_out(self) -> None:
        for memory, flash, wanted in (
            (0.0, 0.0, 200.0), (0.5, 0.0, 1 / (0.5 / 10_000 + 0.5 / 200)),
            # A cache that is smaller than the memory before it changes nothing.
            (0.5, 0.01, 1 / (0.5 / 10_000 + 0.5 / 200)),
            (0.5, 0.8, 1 / (0.5 / 10_000 + 0.3 / 3_600 + 0.2 / 200)), (0.0, 1.0, 3_600.0),
            (1.0, 1.0, 10_000.0),
        ):  # fmt: skip
            self.assertAlmostEqual(reads(memory, flash) / MB, wanted, 6, (memory, flash))
        # Drives quicker than memory, and flash slower than the drives: nobody is asked who is slower.
        self.assertAlmostEqual(reads(0.5, 0.9, drives=12 * GB), 12 * GB, delta=1)
        self.assertAlmostEqual(reads(0.0, 0.9, drives=2 * GB, flash=1 * GB), 2 * GB, delta=1)

    @given(HITS, HITS, HITS, RATES, RATES)
    def test_more_memory_or_a_larger_cache_never_slows(
        self, memory: float, flash: float, more: float, drives: float, rate: float
    ) -> None:
        now = reads(memory, flash, drives, rate)
        self.assertGreaterEqual(reads(max(memory, more), flash, drives, rate), now * (1 - 1e-9))
        self.assertGreaterEqual(reads(memory, max(flash, more), drives, rate), now * (1 - 1e-9))
        self.assertGreaterEqual(now, drives * (1 - 1e-9))

    def test_bytes_drawn_one_by_one_take_as_long(self) -> None:
        draw = random.Random(4)
        for memory, flash in ((0.3, 0.7), (0.6, 0.2), (0.0, 0.4)):
            places = [draw.random() for _ in range(20_000)]  # the hottest byte at 0
            seconds = sum(
                1 / (10 * GB if place < memory else 3.6 * GB if place < flash else 200 * MB)
                for place in places
            )
            self.assertAlmostEqual(len(places) / seconds / reads(memory, flash), 1, delta=0.05)


if __name__ == "__main__":
    unittest.main()
