"""A cache before a pool: rates, bursts and wear by hand, and its findings with what clears them."""

import itertools
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.asks.workings import figures_in
from larder.base.errors import RefusedMany
from larder.base.terms import recombined
from larder.base.units import GB, TB
from larder.judge.evaluation import evaluate
from larder.laws.path import BUS_BYTES_PER_S
from larder.laws.throughput import Range
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.caches import CacheResult, cached_read
from larder.stages.hops import HopResult
from larder.tests.plans import changed, cleared, demo, raised

SAFE = {"is_mirrored": True, "keeps_power": True, "drive_count": 2}


def cached(**fields: Any) -> Bundle:
    """The demo with a flash cache before its pool."""
    document = demo("one-box").document()
    document["plan"]["caches"] = [
        {
            "id": "flash", "name": "Flash cache", "pool_id": "main", "drive_count": 2, "drive_bytes": 2 * TB,
            "read_bytes_per_s": 3e9, "write_bytes_per_s": 1.5e9, "drive_unit_price": "120.00",
        } | fields
    ]  # fmt: skip
    return bundle_from(document)


def told(bundle: Bundle) -> CacheResult:
    cache = evaluate(bundle).tiers.pools[0].cache
    assert cache is not None
    return cache


def backed_up(written_bytes_per_day: int, part_id: str = "night", **fields: Any) -> Bundle:
    """The demo before whose pool a write-back cache takes so much in one part of the day."""
    document = cached(**(SAFE | {"mode": "write-back"} | fields)).document()
    document["plan"]["brief"] |= {"shoots": [], "productions": []}
    document["plan"]["brief"]["services"][0] |= {
        "count": 1,
        "written_bytes_per_day": written_bytes_per_day,
        "part_id": part_id,
    }
    return bundle_from(document)


class BesideMemory(unittest.TestCase):
    """A read cache never makes a pool slower than the memory before it left it, whatever its size."""

    def read(self, memory_bytes: int, cache_bytes: int | None) -> float:
        document = demo("one-box").document()
        if cache_bytes:
            document = cached(drive_count=1, drive_bytes=cache_bytes).document()
        document["plan"]["boxes"][0]["memory_bytes"] = memory_bytes
        return evaluate(bundle_from(document)).tiers.pools[0].read.middle_bytes_per_s

    def test_a_small_cache_beside_much_memory_changes_nothing_and_a_large_one_helps(self) -> None:
        alone = self.read(512 * GB, None)
        self.assertGreater(alone, self.read(0, None) * 1.1)
        self.assertEqual(self.read(512 * GB, 10 * GB), alone)
        self.assertGreater(self.read(512 * GB, 4 * TB), alone)

    def test_larger_caches_and_more_memory_never_slow(self) -> None:
        rates = [[self.read(memory, size) for size in (None, 10 * GB, 300 * GB, 4 * TB)]
                 for memory in (0, 16 * GB, 512 * GB)]  # fmt: skip
        for row in (*rates, *zip(*rates, strict=True)):
            self.assertEqual(sorted(row), list(row))


class OverTheDays(unittest.TestCase):
    def hop(self, bundle: Bundle) -> HopResult:
        return next(hop for hop in evaluate(bundle).wiring.hops if hop.id == "main")

    def test_full_at_night_it_still_serves_the_day(self) -> None:
        night = backed_up(20 * TB, drive_bytes=10**11)
        cache = told(night)
        self.assertEqual([part.id for part in cache.full_in], ["night"])
        write = evaluate(night).tiers.pools[0].write.middle_bytes_per_s
        terms = self.hop(night).drives_terms
        assert terms is not None
        self.assertEqual(terms.write_bytes_per_s, cache.lasting_write_bytes_per_s)
        self.assertGreater(cache.lasting_write_bytes_per_s, write)

    def test_full_by_day_it_is_judged_as_the_pool(self) -> None:
        day = backed_up(20 * TB, "day", drive_bytes=10**11)
        self.assertEqual([part.id for part in told(day).full_in], ["day"])
        bare = day.document()
        bare["plan"]["caches"] = []
        without = self.hop(bundle_from(bare))
        self.assertLessEqual(self.hop(day).ratio or 0, (without.ratio or 0) * 1.5)
        terms, alone = self.hop(day).drives_terms, without.drives_terms
        assert terms is not None and alone is not None
        self.assertEqual(terms.write_bytes_per_s, alone.write_bytes_per_s)

    def test_its_finding_goes_with_larger_drives_or_says_that_none_are_large_enough(self) -> None:
        name = "cache-smaller-than-the-burst-or-than-the-working-sets-knee"
        bundle = backed_up(17 * TB, drive_bytes=10**11)
        self.assertGreater(cleared(self, bundle, name, "cache-smaller-than-the-day-flash")["Full after"], 0)
        endless = backed_up(100 * TB)
        finding = raised(self, endless, name, "cache-smaller-than-the-day-flash")
        self.assertEqual((finding.remedy.patch, finding.remedy.words[:15]), ((), "No size of it l"))

    @given(st.integers(1, 60), st.sampled_from(("day", "night")), st.integers(1, 40), st.integers(0, 40))
    def test_a_larger_cache_is_never_worse(self, tb: int, part: str, tenths: int, more: int) -> None:
        small, large = (
            self.hop(backed_up(tb * TB, part, drive_bytes=n * 10**11)).ratio or 0
            for n in (tenths, tenths + more)
        )
        self.assertGreaterEqual(large, small * (1 - 1e-9))


class Recommended(unittest.TestCase):
    """What is recommended is enough, and no step less would be."""

    def test_a_read_cache_goes_up_to_the_knee(self) -> None:
        cache = told(cached())
        self.assertEqual(cache.recommended_bytes, -(-cache.knee_bytes // 10**11) * 10**11)
        self.assertGreater(
            cache.doubled_read_bytes_per_s, evaluate(cached()).tiers.pools[0].read.middle_bytes_per_s
        )

    @given(st.sampled_from(("write-back", "staging")), st.integers(1, 40))
    def test_one_that_holds_back_takes_its_burst(self, mode: str, tenths: int) -> None:
        fields = SAFE | {"mode": mode}
        wanted = told(cached(**fields, drive_bytes=tenths * 10**11)).recommended_bytes
        self.assertTrue(told(cached(**fields, drive_bytes=max(wanted, 10**9))).absorbs_burst)
        if told(cached(**fields)).recommended_because != "the knee of its curve":
            less = wanted - 10**11
            self.assertFalse(less > 0 and told(cached(**fields, drive_bytes=less)).absorbs_burst)

    def test_the_drawn_curve_rises_from_nothing_to_all_that_is_hot(self) -> None:
        answer = evaluate(cached())
        (curve,) = answer.hit_curves.values()
        hot = answer.brief.working_set_bytes
        self.assertEqual((curve[0].cache_bytes, curve[0].hit_ratio), (0, 0))
        self.assertAlmostEqual(curve[-1].cache_bytes / hot, 1, delta=0.001)
        for one, other in itertools.pairwise(curve):
            self.assertLess(one.cache_bytes, other.cache_bytes)
            self.assertLessEqual(one.hit_ratio, other.hit_ratio)
            self.assertLessEqual(one.read_bytes_per_s, other.read_bytes_per_s * (1 + 1e-9))

    def test_lanes_by_generation_carry_the_rate_and_no_lane_is_idle(self) -> None:
        for wanted in told(cached(read_bytes_per_s=5e9)).lanes_by_generation:
            lane = BUS_BYTES_PER_S[f"pcie{wanted.generation}x1"]
            self.assertTrue((wanted.lanes - 1) * lane < 5e9 <= wanted.lanes * lane)


class Workings(unittest.TestCase):
    def test_what_a_cache_gives_explains_itself(self) -> None:
        bundle = cached(mode="write-back", endurance_bytes=1000 * TB)
        answer = evaluate(bundle)
        table = {figure.id: figure for figure in figures_in(answer)}
        for name in ("hits", "recommended", "worn", "rebuild", "unreadable", "degraded"):
            figure = table[f"tiers.main.{name}"]
            value, terms = figure.value(answer), figure.terms(bundle, answer)
            self.assertTrue(value is not None and value > 0, name)
            self.assertAlmostEqual(recombined(terms) / value if terms and value else 0, 1, msg=name)
        self.assertEqual(table["tiers.main.hits"].value(answer), told(bundle).hit_ratio)


class Rates(unittest.TestCase):
    def test_hits_and_misses_share_the_time(self) -> None:
        pool = Range(400e6, 300e6, 500e6)
        # Half from flash at 3.6 GB/s, half from the pool: 1 / (0.5/3600 + 0.5/400) = 720.
        self.assertAlmostEqual(cached_read(pool, 3.6e9, 0.5).middle, 720e6)
        self.assertAlmostEqual(cached_read(pool, 3.6e9, 0.0).middle, pool.middle)
        self.assertEqual(cached_read(pool, 3.6e9, 1.0).low, pool.low)

    @given(st.floats(0, 1), st.floats(1e8, 1e10))
    def test_a_cache_never_slows_the_pool(self, hit: float, rate: float) -> None:
        pool = Range(400e6, 300e6, 500e6)
        self.assertGreaterEqual(cached_read(pool, rate, hit).middle, pool.middle * (1 - 1e-9))

    def test_more_flash_hits_more_and_reads_faster(self) -> None:
        before = evaluate(demo("one-box")).tiers.pools[0].read.middle_bytes_per_s
        for size in (1, 2, 4, 8):
            bundle = cached(drive_bytes=size * TB)
            read = evaluate(bundle).tiers.pools[0].read.middle_bytes_per_s
            self.assertGreater(read, before)
            self.assertLessEqual(told(bundle).hit_ratio, told(bundle).doubled_hit_ratio)
            before = read

    def test_a_cache_that_playback_passes_by_hits_nothing_and_is_not_worn_by_it(self) -> None:
        kept, passed = (
            cached(endurance_bytes=1200 * TB),
            cached(endurance_bytes=1200 * TB, admits_sequential=False),
        )
        self.assertEqual(told(passed).hit_ratio_admitted, told(kept).hit_ratio)
        self.assertEqual((told(passed).hit_ratio, told(passed).wear_years), (0.0, None))
        alone = evaluate(demo("one-box")).tiers.pools[0].read
        self.assertEqual(evaluate(passed).tiers.pools[0].read.middle_bytes_per_s, alone.middle_bytes_per_s)
        evidence = cleared(self, passed, "cache-that-playback-passes-by")
        self.assertEqual(evidence["Would hit if it kept it"], told(kept).hit_ratio)

    def test_more_memory_or_a_larger_cache_never_lowers_speed(self) -> None:
        box = "plan__boxes__boathouse__memory_bytes"
        for field, amounts in ((box, (8 * GB, 64 * GB, 512 * GB)), ("drive_bytes", (TB, 4 * TB, 30 * TB))):
            ratios = [
                evaluate(
                    changed(cached(), **{field: n}) if field == box else cached(drive_bytes=n)
                ).wiring.ratio
                or 0.0
                for n in amounts
            ]
            self.assertEqual(ratios, sorted(ratios), field)
            self.assertGreater(ratios[-1], ratios[0], field)

    def test_read_caches_leave_writes_alone_and_cost_what_they_cost(self) -> None:
        plain, bundle = evaluate(demo("one-box")), cached()
        answer = evaluate(bundle)
        self.assertEqual(answer.tiers.pools[0].write, plain.tiers.pools[0].write)
        self.assertEqual(answer.money.spent - plain.money.spent, 240)
        self.assertEqual((told(bundle).dirty_bytes_max, told(bundle).wear_years), (0, None))


class WriteBack(unittest.TestCase):
    def test_a_burst_that_fits_is_written_at_flash_speed(self) -> None:
        answer = evaluate(cached(mode="write-back", **SAFE))
        pool = answer.tiers.pools[0]
        assert pool.cache is not None
        self.assertTrue(pool.cache.absorbs_burst)
        self.assertEqual(pool.write.middle_bytes_per_s, 1.5e9)
        # Cards give 180 MB/s, less than the pool drains: nothing piles up.
        self.assertEqual(pool.cache.dirty_bytes_max, 0)

    def test_wear_by_hand(self) -> None:
        bundle = cached(mode="write-through", endurance_bytes=1200 * TB)
        brief, cache = evaluate(bundle).brief, told(bundle)
        a_day = brief.read_bytes_per_day * (1 - cache.hit_ratio) + brief.write_bytes_per_day
        self.assertAlmostEqual(cache.wear_years or 0, 2 * 1200 * TB / (a_day * 365.25 * 5 / 7))
        mirrored = told(cached(mode="write-through", endurance_bytes=1200 * TB, is_mirrored=True))
        self.assertLess(mirrored.wear_years or 0, cache.wear_years or 0)

    def test_caches_that_cannot_be_are_refused_with_what_would_be_right(self) -> None:
        for fields, word in (
            ({"pool_id": "attic"}, "(main)"),
            ({"id": "main"}, "an id that no pool has"),
            ({"is_mirrored": True, "drive_count": 3}, "even number"),
            ({"drive_bytes": 0}, "1 GB"),
        ):
            with self.assertRaises(RefusedMany) as caught:
                cached(**fields)
            self.assertIn(word, str(caught.exception.problems[0]), fields)
        document = cached().document()
        document["plan"]["caches"].append(document["plan"]["caches"][0] | {"id": "second"})
        with self.assertRaises(RefusedMany) as caught:
            bundle_from(document)
        self.assertIn("no cache yet", str(caught.exception.problems[0]))


class CacheFindings(unittest.TestCase):
    def bursting(self, **fields: Any) -> Bundle:
        """Eight card readers at once: more than the pool takes."""
        document = cached(mode="write-back", drive_bytes=100 * GB, **fields).document()
        ingest = next(s for s in document["plan"]["brief"]["seats"] if s["id"] == "ingest")
        ingest["readers"] = 8
        return bundle_from(document)

    def test_unmirrored_write_cache_with_dirty_bytes(self) -> None:
        bundle = self.bursting(keeps_power=True, drive_count=1)
        at_stake = cleared(self, bundle, "unmirrored-write-cache-or-staging-with-dirty-bytes-at-stake")
        self.assertEqual(at_stake["At stake at most"], told(bundle).dirty_bytes_max)

    def test_write_back_without_power_loss_protection(self) -> None:
        cleared(self, self.bursting(is_mirrored=True), "write-back-without-power-loss-protection-or-ups")

    def test_cache_smaller_than_the_burst(self) -> None:
        evidence = cleared(
            self,
            self.bursting(**SAFE),
            "cache-smaller-than-the-burst-or-than-the-working-sets-knee",
            "cache-smaller-than-the-burst-flash",
        )
        self.assertEqual(evidence["It holds"], 100 * GB)

    def test_cache_smaller_than_the_knee(self) -> None:
        cleared(
            self,
            cached(drive_bytes=100 * GB),
            "cache-smaller-than-the-burst-or-than-the-working-sets-knee",
            "cache-smaller-than-the-working-sets-knee-flash",
        )

    def test_flash_wear_before_its_service_life(self) -> None:
        evidence = cleared(self, cached(endurance_bytes=300 * TB), "flash-wear-before-its-service-life")
        self.assertLess(evidence["Lasts"], 5)

    def test_flash_cache_on_flash(self) -> None:
        document = cached().document()
        document["plan"]["pools"][0]["drive_kind"] = "ssd"
        cleared(self, bundle_from(document), "flash-cache-on-flash")


class Staging(unittest.TestCase):
    """A staging drive holds what is written between two runs, and that is at stake until the next."""

    def staged(self, **fields: Any) -> Bundle:
        return cached(mode="staging", drive_bytes=8 * TB, **fields)

    def test_what_lies_on_it_is_what_is_written_between_runs(self) -> None:
        bundle = self.staged(emptied_every_hours=12)
        cache, a_day = told(bundle), evaluate(bundle).brief.write_bytes_per_day
        self.assertAlmostEqual(cache.burst_bytes, a_day / 2, delta=1)
        self.assertAlmostEqual(cache.unprotected_bytes_mean, a_day / 4, delta=1)
        self.assertEqual((cache.hit_ratio, cache.absorbs_burst), (0, True))
        pool_write = evaluate(demo("one-box")).tiers.pools[0].write.middle_bytes_per_s
        self.assertAlmostEqual(cache.seconds_to_empty or 0, a_day / 2 / pool_write, delta=1)

    @given(st.integers(1, 100))
    def test_more_runs_leave_less_at_stake(self, hours: int) -> None:
        rare, often = (told(self.staged(emptied_every_hours=h)) for h in (hours + 1, hours))
        self.assertLessEqual(often.dirty_bytes_max, rare.dirty_bytes_max)
        self.assertLessEqual(rare.dirty_bytes_max, rare.usable_bytes)

    def test_whole_file_parity_writes_at_the_staging_drives_rate(self) -> None:
        document = self.staged().document()
        document["plan"]["pools"][0]["layout"] = "filewise2"
        with_it = evaluate(bundle_from(document)).tiers.pools[0].write
        document["plan"]["caches"] = []
        without = evaluate(bundle_from(document)).tiers.pools[0].write
        self.assertEqual(with_it.middle_bytes_per_s, 3e9)
        self.assertLess(without.middle_bytes_per_s, 240e6 / 2)

    def test_its_findings_say_staging_and_clear(self) -> None:
        name = "unmirrored-write-cache-or-staging-with-dirty-bytes-at-stake"
        evidence = cleared(self, self.staged(), name)
        self.assertEqual(evidence["At stake at most"], told(self.staged()).dirty_bytes_max)
        late = self.staged(is_mirrored=True, emptied_every_hours=700)
        name = "cache-smaller-than-the-burst-or-than-the-working-sets-knee"
        self.assertEqual(cleared(self, late, name)["It holds"], 8 * TB)
