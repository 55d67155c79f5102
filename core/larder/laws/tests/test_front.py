"""The front and the cheapest pair: against every pair looked at, and against a mixed-integer solver."""

import unittest
from unittest.mock import patch

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from larder.laws.front import Halves, Measures, Wanted, cheapest_pair, front, front_of_pairs, joined, keeps
from larder.tests.drawn import few

FRONT = "larder.laws.front"


def halves(rng: np.random.Generator, count: int) -> Halves:
    """Halves of a kind in which ties, dominated ones and undominated ones all come about."""
    cost = np.round(rng.uniform(500, 5000, count), int(rng.integers(0, 3)))
    space = np.round(cost * rng.uniform(5, 15, count), -2) * 1e9
    speed = np.round(np.minimum(rng.lognormal(0.3, 0.6, count), 3), 1)
    odds = 10 ** np.round(rng.uniform(-12, -3, count))
    return Halves(Measures(cost, space, speed, odds), np.stack([cost, rng.uniform(20, 200, count)]))


def dominates(p: tuple[float, ...], q: tuple[float, ...]) -> bool:
    return all(a <= b for a, b in zip(p, q, strict=True)) and p != q


def every_pair(a: Halves, b: Halves, wanted: Wanted) -> dict[tuple[int, int], tuple[float, ...]]:
    """All pairs that keep to what is wanted, with measures of which less is better."""
    found = {}
    for i in range(len(a)):
        for j in range(len(b)):
            m, n = a.measures, b.measures
            speed, odds = min(m.speed[i], n.speed[j]), max(m.odds[i], n.odds[j])
            fits = (a.taken[:, i] + b.taken[:, j] <= wanted.limits).all()
            if speed >= wanted.speed and odds <= wanted.odds and fits:
                found[i, j] = (m.cost[i] + n.cost[j], -(m.space[i] + n.space[j]), -speed, odds)
    return found


class FrontOfPairs(unittest.TestCase):
    def test_it_is_what_looking_at_every_pair_finds(self) -> None:
        rng = np.random.default_rng(18)
        for _ in range(few(120)):
            a, b = halves(rng, int(rng.integers(1, 15))), halves(rng, int(rng.integers(1, 15)))
            wanted = Wanted(float(rng.uniform(0, 1.5)), 1e-4, np.array([rng.uniform(2500, 9000), 300.0]))
            answer = every_pair(a, b, wanted)
            best = {p for p in answer.values() if not any(dominates(q, p) for q in answer.values())}
            i, j = front_of_pairs(a, b, wanted)
            places = list(zip(i.tolist(), j.tolist(), strict=True))
            self.assertEqual({answer[place] for place in places}, best)
            self.assertEqual(len(places), len(best), "of equals one stays")
            firsts = {answer[place]: place for place in sorted(answer, reverse=True)}
            self.assertEqual(sorted(places), sorted(firsts[p] for p in best), "and that the first")

    def test_swept_in_small_portions_it_is_the_same(self) -> None:
        with patch(f"{FRONT}.BLOCK", 16), patch(f"{FRONT}.SWEPT_AT", 12), patch(f"{FRONT}.SWEPT", 5):
            self.test_it_is_what_looking_at_every_pair_finds()
            self.compare_many(80, 70)

    def test_many_pairs_are_no_other_than_few(self) -> None:
        self.compare_many(180, 160)

    def compare_many(self, ours: int, others: int) -> None:
        rng = np.random.default_rng(7)
        a, b = halves(rng, ours), halves(rng, others)
        wanted = Wanted(0.5, 1e-4, np.array([7000.0, 320.0]))
        i, j = front_of_pairs(a, b, wanted)
        k, n = (each.ravel() for each in np.meshgrid(np.arange(ours), np.arange(others), indexing="ij"))
        every = joined(a.measures.at(k), b.measures.at(n))
        kept = (
            (every.speed >= 0.5)
            & (every.odds <= 1e-4)
            & (a.taken[:, k] + b.taken[:, n] <= wanted.limits[:, None]).all(axis=0)
        )
        at = np.flatnonzero(kept)
        best = at[front(every.at(at))]
        self.assertEqual(
            sorted(zip(i.tolist(), j.tolist(), strict=True)),
            sorted(zip(k[best].tolist(), n[best].tolist(), strict=True)),
        )

    def test_what_takes_just_what_there_is_is_kept(self) -> None:
        rng = np.random.default_rng(5)
        a, b = halves(rng, 12), halves(rng, 12)
        for i, j in ((0, 3), (7, 7), (11, 0)):
            measures = joined(a.measures.at(np.array([i])), b.measures.at(np.array([j])))
            limits = a.taken[:, i] + b.taken[:, j]
            wanted = Wanted(float(measures.speed[0]), float(measures.odds[0]), limits)
            self.assertIn((i, j), every_pair(a, b, wanted))
            self.assertTrue(keeps(a, Wanted(0.0, 1.0, a.taken[:, i]))[i])
            found = cheapest_pair(a, b, wanted)
            assert found is not None
            cost = a.measures.cost[found[0]] + b.measures.cost[found[1]]
            least = min(measured[0] for measured in every_pair(a, b, wanted).values())
            self.assertAlmostEqual(float(cost), least)

    def test_nothing_is_found_where_nothing_keeps_to_it(self) -> None:
        rng = np.random.default_rng(3)
        a, b = halves(rng, 5), halves(rng, 5)
        for wanted in (Wanted(99.0, 1.0, np.array([1e9, 1e9])), Wanted(0.0, 1.0, np.array([1.0, 1e9]))):
            self.assertEqual(len(front_of_pairs(a, b, wanted)[0]), 0)
            self.assertIsNone(cheapest_pair(a, b, wanted))


def by_solver(a: Halves, b: Halves, wanted: Wanted) -> float | None:
    """The least cost by a mixed-integer solver (HiGHS): one of each half, within every limit."""
    cost = np.concatenate((a.measures.cost, b.measures.cost))
    one_each = np.zeros((2, len(cost)))
    one_each[0, : len(a)] = one_each[1, len(a) :] = 1
    taken = np.concatenate((a.taken, b.taken), axis=1)
    speed = np.concatenate((a.measures.speed, b.measures.speed))
    odds = np.concatenate((a.measures.odds, b.measures.odds))
    may = (speed >= wanted.speed) & (odds <= wanted.odds)
    done = milp(
        cost,
        integrality=np.ones(len(cost)),
        bounds=Bounds(0, may.astype(float)),
        constraints=[LinearConstraint(one_each, 1, 1), LinearConstraint(taken, -np.inf, wanted.limits)],
    )
    return float(done.fun) if done.success else None


class CheapestPair(unittest.TestCase):
    def test_it_costs_what_a_mixed_integer_solver_finds(self) -> None:
        rng = np.random.default_rng(2026)
        found = 0
        for _ in range(10):
            a, b = halves(rng, int(rng.integers(20, 300))), halves(rng, int(rng.integers(20, 300)))
            limits = np.array([rng.uniform(1500, 5000), rng.uniform(60, 250)])
            wanted = Wanted(float(rng.uniform(0, 2)), float(10 ** rng.uniform(-10, -4)), limits)
            pair, least = cheapest_pair(a, b, wanted), by_solver(a, b, wanted)
            self.assertEqual(pair is None, least is None)
            if pair is not None and least is not None:
                found += 1
                self.assertAlmostEqual(a.measures.cost[pair[0]] + b.measures.cost[pair[1]], least, places=6)
        self.assertGreater(found, 4)
