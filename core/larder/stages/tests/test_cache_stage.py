"""A cache by hand: what it hits and doubled would, what a burst does to it, what it costs and when it is worn."""

import unittest
from dataclasses import replace
from decimal import Decimal
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.units import GB, TB
from larder.laws.throughput import Range
from larder.plan.caches import Cache
from larder.stages.caches import (
    CacheDemand,
    CacheResult,
    PartDemand,
    cache_stage,
    cached_read,
    curve_of,
    flash_write_bytes_per_s,
)

READ, WRITE = Range(400e6, 300e6, 500e6), Range(200e6, 100e6, 250e6)
DEMAND = CacheDemand(
    working_set_bytes=20 * TB,
    read_bytes_per_day=6e12,
    write_bytes_per_day=1e12,
    burst_bytes=900 * GB,
    burst_bytes_per_s=500e6,
    popularity_exponent=0.8,
)


def cache(**fields: Any) -> Cache:
    return Cache.model_validate(
        {
            "id": "c", "name": "C", "pool_id": "p", "mode": "read", "drive_count": 2, "drive_bytes": 2 * TB,
            "read_bytes_per_s": 3e9, "write_bytes_per_s": 1e9,
        } | fields
    )  # fmt: skip


def told(
    demand: CacheDemand = DEMAND, price: Decimal | None = None, **fields: Any
) -> tuple[CacheResult, Range, Range]:
    return cache_stage(cache(**fields), price, READ, WRITE, demand)


class Hits(unittest.TestCase):
    def test_what_it_holds_and_twice_that(self) -> None:
        curve = curve_of(DEMAND)
        result, read, write = told()
        self.assertEqual(result.usable_bytes, 4 * TB)
        self.assertEqual(result.hit_ratio, curve.at(4_000))
        self.assertEqual(result.doubled_hit_ratio, curve.at(8_000))
        self.assertEqual(result.doubled_read_bytes_per_s, cached_read(READ, 6e9, curve.at(8_000)).middle)
        self.assertEqual(read, cached_read(READ, 6e9, result.hit_ratio))
        self.assertEqual(write, WRITE)
        self.assertEqual(result.knee_bytes, round(curve.knee() * GB))
        self.assertEqual(result.recommended_hit_ratio, curve.at(result.recommended_bytes / GB))

    def test_of_nothing_hot_nothing_is_hit(self) -> None:
        result, read, _ = told(replace(DEMAND, working_set_bytes=0))
        self.assertEqual((result.hit_ratio, result.knee_bytes, result.recommended_hit_ratio), (0, 0, 0))
        self.assertEqual(read.middle, READ.middle)
        self.assertEqual(cached_read(Range(0.0, 0.0, 0.0), 1e9, 0.5), Range(0.0, 0.0, 0.0))

    def test_price_and_lanes(self) -> None:
        result, _, _ = told(price=Decimal("250.50"))
        self.assertEqual((result.drive_price, result.drives_price), (Decimal("250.50"), Decimal("501.00")))
        self.assertIsNone(told()[0].drives_price)
        self.assertEqual(
            [(lanes.generation, lanes.lanes) for lanes in result.lanes_by_generation],
            [(3, 4), (4, 2), (5, 1)],
        )


class Bursts(unittest.TestCase):
    def test_a_write_back_cache_that_takes_it_all_writes_at_its_own_rate(self) -> None:
        result, _, write = told(mode="write-back", is_mirrored=True)
        self.assertEqual(flash_write_bytes_per_s(cache(is_mirrored=True)), 1e9)
        self.assertEqual(flash_write_bytes_per_s(cache()), 2e9)
        # 900 GB come at 500 MB/s, 200 of it leave at once: 540 GB are dirty at the end.
        self.assertEqual((result.absorbs_burst, result.seconds_to_full), (True, None))
        self.assertEqual((result.dirty_bytes_max, result.burst_bytes), (540 * GB, 900 * GB))
        self.assertEqual((write.middle, write.low, write.high), (1e9, 100e6, 1e9))
        self.assertEqual((result.unprotected_bytes_mean, result.seconds_to_empty), (0, None))

    def test_one_that_is_full_before_leaves_the_pool_to_set_the_pace(self) -> None:
        result, _, write = told(mode="write-back", drive_bytes=150 * GB)
        self.assertEqual(result.seconds_to_full, 300 * GB / 300e6)
        self.assertEqual((result.absorbs_burst, result.dirty_bytes_max, write), (False, 300 * GB, WRITE))

    def test_it_is_recommended_to_hold_what_comes_beyond_the_pool_if_that_is_past_the_knee(self) -> None:
        small = replace(DEMAND, working_set_bytes=100 * GB)
        result, _, _ = told(small, mode="write-back")
        self.assertEqual(result.recommended_least_bytes, 540 * GB)
        self.assertEqual(result.recommended_bytes, 600 * GB)
        self.assertEqual(result.recommended_because, "what a shooting day brings beyond the pool")
        quick = told(replace(small, burst_bytes_per_s=150e6), mode="write-back")[0]
        self.assertEqual(quick.recommended_because, "the knee of its curve")
        self.assertEqual(told(small)[0].recommended_because, "the knee of its curve")

    def test_only_what_holds_back_is_asked_to_take_a_burst(self) -> None:
        for demand, mode in (
            (DEMAND, "read"),
            (replace(DEMAND, burst_bytes_per_s=0), "write-back"),
            (replace(DEMAND, burst_bytes=0), "write-back"),
        ):
            result, _, write = told(demand, mode=mode)
            self.assertEqual((result.absorbs_burst, result.dirty_bytes_max, write), (False, 0, WRITE))


class OverTheDays(unittest.TestCase):
    """Behind it the pool reads at 400 MB/s and writes at 200."""

    def of(self, written: float, read: float = 200e6, **fields: Any) -> tuple[CacheResult, Range]:
        """A day of nine hours in which so much is written and read; at night nothing is."""
        parts = (PartDemand("day", "Day", 9 * 3600, read, written),)
        demand = replace(DEMAND, burst_bytes=0, working_set_bytes=100 * GB, parts=parts)
        result, _, write = told(demand, mode="write-back", **fields)
        return result, write

    def test_reads_leave_the_drives_half_their_time_to_drain_it(self) -> None:
        # 100 MB/s of 200 are drained: 150 leave 50 MB/s for nine hours.
        result, write = self.of(150e6)
        self.assertAlmostEqual(result.dirty_bytes_max, 1620 * GB, delta=1)
        self.assertEqual((result.full_in, write.middle), ((), 2e9))
        small, write = self.of(150e6, drive_bytes=360 * GB)
        self.assertEqual([(p.id, p.seconds_to_full) for p in small.full_in], [("day", 14_400)])
        self.assertEqual((small.grows_daily, small.recommended_least_bytes, write), (False, 1620 * GB, WRITE))
        self.assertEqual(small.recommended_because, "what a day brings beyond the pool")

    def test_what_no_night_drains_fills_any_size(self) -> None:
        # A night drains 10.8 TB of it, which 600 MB/s more than are drained fill again in five hours.
        result, write = self.of(700e6, drive_bytes=20 * TB)
        self.assertTrue(result.grows_daily)
        self.assertEqual(([p.seconds_to_full for p in result.full_in], write), ([18_000], WRITE))
        self.assertEqual(result.recommended_because, "the knee of its curve")

    def test_where_nothing_is_written_it_does_nothing(self) -> None:
        result, write = self.of(0.0)
        self.assertEqual((result.absorbs_burst, result.full_in, write), (False, (), WRITE))


class Staged(unittest.TestCase):
    def test_what_comes_between_two_runs(self) -> None:
        result, read, write = told(mode="staging", emptied_every_hours=12)
        self.assertEqual((result.burst_bytes, result.dirty_bytes_max), (500 * GB, 500 * GB))
        self.assertEqual(
            (result.recommended_bytes, result.recommended_because),
            (500 * GB, "all that comes between two runs"),
        )
        self.assertEqual((result.unprotected_bytes_mean, result.seconds_to_empty), (250 * GB, 2_500))
        self.assertEqual((result.hit_ratio, read.middle), (0, READ.middle))
        self.assertEqual((write.middle, write.high), (2e9, 2e9))
        self.assertEqual(told(mode="staging", is_mirrored=True)[0].unprotected_bytes_mean, 0)

    def test_it_fits_to_the_byte_or_is_full_before_the_run(self) -> None:
        exact = told(mode="staging", emptied_every_hours=24, drive_count=1, drive_bytes=1 * TB)[0]
        self.assertEqual((exact.absorbs_burst, exact.seconds_to_full), (True, None))
        late, _, write = told(mode="staging", emptied_every_hours=48, drive_count=1, drive_bytes=1 * TB)
        self.assertEqual((late.absorbs_burst, late.seconds_to_full), (False, 86_400))
        self.assertEqual((late.dirty_bytes_max, late.staged_share), (1 * TB, 0.5))
        # Half of it at the flash's rate and half at the pool's: their times add.
        self.assertAlmostEqual(write.middle, 2 / (1 / 1e9 + 1 / WRITE.middle))

    @given(st.floats(1, 400))
    def test_the_later_the_run_the_slower_and_no_hour_is_a_cliff(self, hours: float) -> None:
        def written(after: float) -> float:
            full = {"drive_count": 1, "drive_bytes": 1 * TB}
            return told(mode="staging", emptied_every_hours=after, **full)[2].middle

        sooner, later = written(hours), written(hours * 1.01)
        self.assertLessEqual(later, sooner)
        self.assertGreater(later, sooner * 0.95)


class Wear(unittest.TestCase):
    def test_by_mode(self) -> None:
        rated = {"endurance_bytes": 1_000 * TB}
        hit = told()[0].hit_ratio
        misses = 6e12 * (1 - hit)
        for mode, copies, a_day in (
            ("read", 1, misses),
            ("write-back", 2, misses + 1e12),
            ("staging", 1, 1e12),
        ):
            result = told(
                mode=mode, is_mirrored=copies == 2, drive_bytes=(2 if copies == 1 else 4) * TB, **rated
            )[0]
            self.assertAlmostEqual(result.wear_years or 0, 2_000e12 / (a_day * copies * 365.25), msg=mode)
        self.assertIsNone(told()[0].wear_years)

    def test_what_is_never_written_is_never_worn(self) -> None:
        idle = replace(DEMAND, read_bytes_per_day=0, write_bytes_per_day=0)
        self.assertIsNone(told(idle, endurance_bytes=TB)[0].wear_years)
