"""Che's approximation against a simulated least-recently-used cache, and its laws."""

import random
import unittest
from collections import OrderedDict

from hypothesis import given
from hypothesis import strategies as st

from larder.laws.lru import hit_curve, zipf_weights


def simulated(objects: int, exponent: float, requests: int, cache: int, seed: int) -> float:
    """The hit ratio of a real cache on a seeded trace."""
    chance = random.Random(seed)
    trace = chance.choices(range(objects), [(i + 1) ** -exponent for i in range(objects)], k=requests)
    held: OrderedDict[int, None] = OrderedDict()
    hits = 0
    for asked in trace:
        if asked in held:
            hits += 1
            held.move_to_end(asked)
            continue
        held[asked] = None
        if len(held) > cache:
            held.popitem(last=False)
    return hits / requests


class Simulation(unittest.TestCase):
    def test_within_two_points_of_simulated_caches(self) -> None:
        for objects, exponent, requests in (
            (500, 0.8, 20_000),
            (2_000, 0.6, 6_000),
            (300, 1.1, 1_500),
            (1_000, 0.0, 8_000),
        ):
            curve = hit_curve(objects, exponent, float(requests))
            for part in (0.02, 0.1, 0.3, 0.6, 1.0):
                cache = max(1, int(objects * part))
                answer = curve.at(cache)
                runs = [simulated(objects, exponent, requests, cache, seed) for seed in range(4)]
                self.assertAlmostEqual(
                    answer, sum(runs) / len(runs), delta=0.02, msg=f"{objects} {exponent} {part}"
                )


class Laws(unittest.TestCase):
    @given(st.integers(1, 50_000), st.floats(0, 1.5))
    def test_popularities_sum_to_one_over_all_objects(self, objects: int, exponent: float) -> None:
        weights, counts = zipf_weights(objects, exponent)
        self.assertAlmostEqual(float((weights * counts).sum()), 1)
        self.assertEqual(int(counts.sum()), objects)

    @given(st.integers(1, 20_000), st.floats(0, 1.5), st.floats(1, 1e6))
    def test_larger_caches_never_hit_less_and_the_knee_is_on_the_way(
        self, objects: int, exponent: float, requests: float
    ) -> None:
        curve = hit_curve(objects, exponent, requests)
        ratios = [curve.at(objects * part / 10) for part in range(11)]
        self.assertEqual(ratios, sorted(ratios))
        self.assertTrue(0 <= curve.knee() <= objects)

    def test_all_fitting_only_first_touches_miss(self) -> None:
        # 100 objects asked for evenly 100,000 times: each is missed once.
        self.assertAlmostEqual(hit_curve(100, 0.0, 100_000.0).at(100), 1 - 100 / 100_000, places=4)

    @given(st.integers(2, 20_000), st.floats(0, 1.5), st.floats(10, 1e6))
    def test_the_knee_is_where_the_curve_is_furthest_above_the_straight_line(
        self, objects: int, exponent: float, requests: float
    ) -> None:
        curve = hit_curve(objects, exponent, requests)
        most = float(curve.hit_ratio[-1])
        above = [
            (float(hit) / most - float(size) / objects, float(size))
            for size, hit in zip(curve.objects, curve.hit_ratio, strict=True)
        ]
        self.assertAlmostEqual({size: gain for gain, size in above}[curve.knee()], max(above)[0])

    def test_asked_once_each_nothing_is_ever_hit(self) -> None:
        curve = hit_curve(50, 0.0, 1.0)
        self.assertLess(float(curve.hit_ratio[-1]), 0.02)
        self.assertEqual(hit_curve(1, 0.8, 1.0).objects[-1], 1)
