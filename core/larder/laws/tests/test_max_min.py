"""Sharing out against linear programs, and the laws that any fair sharing keeps."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import linprog

from larder.laws.max_min import SATISFIED, max_min
from larder.tests.drawn import drawn


def network(seed: int) -> tuple[np.ndarray, ...]:
    """Some flows with caps, weights and costs over some hops."""
    rng = np.random.default_rng(seed)
    flows, hops = int(rng.integers(1, 8)), int(rng.integers(1, 6))
    costs = rng.choice([0.0, 0.5, 1.0, 2.0], (hops, flows), p=[0.5, 0.1, 0.3, 0.1])
    return (
        rng.uniform(1, 50, flows),
        rng.integers(1, 5, flows).astype(float),
        rng.choice([1.0, 2.0, 8.0], flows),
        costs,
        rng.uniform(5, 120, hops),
    )


def by_programs(
    caps: np.ndarray, counts: np.ndarray, weights: np.ndarray, costs: np.ndarray, capacities: np.ndarray
) -> np.ndarray:
    """The same, level by level: the largest common t, then who cannot have more than it is held there."""
    flows = len(caps)
    fixed: dict[int, float] = {}
    while len(fixed) < flows:
        free = [f for f in range(flows) if f not in fixed]

        def most(goal: np.ndarray, least: float, free: list[int] = free) -> np.ndarray:
            # Variables: every rate, then t; every free flow has at least its weight times t.
            rows = [np.append(costs[h] * counts, 0.0) for h in range(len(capacities))]
            limits = list(capacities)
            for f in free:
                row = np.zeros(flows + 1)
                row[f], row[-1] = -1.0, weights[f]
                capped = min(caps[f] / weights[f], 1e9)
                rows.append(row if capped > least else np.zeros(flows + 1))
                limits.append(0.0)
            bounds = [(fixed[f], fixed[f]) if f in fixed else (0.0, caps[f]) for f in range(flows)]
            found = linprog(
                -goal, A_ub=np.array(rows), b_ub=np.array(limits), bounds=[*bounds, (least, None)]
            )
            assert found.status == 0, found.message
            return np.asarray(found.x)

        only_t = np.zeros(flows + 1)
        only_t[-1] = 1.0
        level = most(only_t, 0.0)[-1]
        for f in free:
            goal = np.zeros(flows + 1)
            goal[f] = 1.0
            reached = most(goal, level * (1 - 1e-9))[f]
            if reached <= level * weights[f] * (1 + 1e-6) or caps[f] <= level * weights[f] * (1 + 1e-6):
                fixed[f] = min(level * weights[f], caps[f])
    return np.array([fixed[f] for f in range(flows)])


class Fair(unittest.TestCase):
    @drawn(60)
    @given(st.integers(0, 10**6))
    def test_it_is_what_linear_programs_find_level_by_level(self, seed: int) -> None:
        given_network = network(seed)
        found = max_min(*given_network)
        np.testing.assert_allclose(found.rates, by_programs(*given_network), rtol=1e-5)

    @drawn(100)
    @given(st.integers(0, 10**6))
    def test_no_hop_is_overdrawn_and_whoever_gets_less_is_stopped_by_a_full_one(self, seed: int) -> None:
        caps, counts, weights, costs, capacities = network(seed)
        found = max_min(caps, counts, weights, costs, capacities)
        used = costs @ (counts * found.rates)
        self.assertTrue((used <= capacities * (1 + 1e-6)).all())
        np.testing.assert_allclose(used, found.used, rtol=1e-6, atol=1e-6)
        for rate, cap, limit, flow in zip(found.rates, caps, found.limits, range(len(caps)), strict=True):
            if limit == SATISFIED:
                self.assertAlmostEqual(rate, cap)
            else:
                self.assertGreater(costs[limit, flow], 0)
                self.assertAlmostEqual(used[limit] / capacities[limit], 1, places=5)

    def test_known_shares_by_weight_and_by_order(self) -> None:
        caps, ones, link = np.array([100.0, 100.0]), np.ones(2), np.ones((1, 2))
        even = max_min(caps, ones, ones, link, np.array([100.0]))
        np.testing.assert_allclose(even.rates, [50, 50])
        copies = max_min(caps, ones, np.array([2.0, 8.0]), link, np.array([100.0]))
        np.testing.assert_allclose(copies.rates, [20, 80])
        first = max_min(caps, ones, np.array([2.0, 8.0]), link, np.array([150.0]), np.array([0, 1]))
        np.testing.assert_allclose(first.rates, [100, 50])
