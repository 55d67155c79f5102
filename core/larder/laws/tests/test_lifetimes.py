"""Groups that are lived through against the chain: two ways to one figure that share no code."""

import math
import unittest

import numpy as np

from larder.laws.lifetimes import House, Lived, live_through
from larder.laws.loss_odds import HOURS_A_YEAR, Group, loss_odds


def far(seed: int) -> tuple[float, int]:
    """(how many standard deviations the two are apart, losses seen) of one drawn group."""
    random = np.random.default_rng([11, seed])
    disks, may = int(random.integers(3, 13)), int(random.integers(0, 3))
    life, repair = float(10 ** random.uniform(3.6, 4.6)), float(10 ** random.uniform(1.5, 2.8))
    reads, beside = float(random.choice([0.0, 0.02, 0.3])), float(random.choice([1.0, 3.0]))
    odds = loss_odds(Group(disks, may, 1 / life, 1 / repair, reads, beside), HOURS_A_YEAR).total
    lived = live_through(House(disks, may, life, repair, reads, beside), HOURS_A_YEAR, 20_000, random)
    expected = odds * lived.groups
    return (lived.losses - expected) / math.sqrt(max(expected * (1 - odds), 1e-9)), lived.losses


class Agreement(unittest.TestCase):
    def test_chain_and_lifetimes_agree_on_fifty_seeded_groups(self) -> None:
        found = [z for z, losses in map(far, range(70)) if losses >= 100][:50]
        self.assertEqual(len(found), 50)
        self.assertLessEqual(sum(abs(z) > 3 for z in found), 1)
        self.assertLess(max(map(abs, found)), 4)
        self.assertLess(abs(sum(found)) / math.sqrt(len(found)), 3)

    def test_the_two_kinds_of_loss_are_the_chains(self) -> None:
        random = np.random.default_rng(5)
        lived = live_through(House(8, 1, 20_000.0, 200.0, 0.1, 3.0), HOURS_A_YEAR, 60_000, random)
        odds = loss_odds(Group(8, 1, 1 / 20_000, 1 / 200, 0.1, 3.0), HOURS_A_YEAR)
        for seen, chance in ((lived.by_disks, odds.disks), (lived.by_reads, odds.reads)):
            expected = chance * lived.groups
            self.assertLess(abs(seen - expected), 4 * math.sqrt(expected))


class Ends(unittest.TestCase):
    def test_what_never_dies_never_loses_and_what_dies_at_once_is_lost(self) -> None:
        random = np.random.default_rng(1)
        self.assertEqual(live_through(House(8, 1, 1e12, 24.0, 0.5, 3.0), 8766, 500, random), Lived(500, 0, 0))
        self.assertEqual(live_through(House(4, 0, 1.0, 24.0, 0.0, 1.0), 8766, 500, random).by_disks, 500)
        self.assertEqual(live_through(House(4, 1, 1.0, 1e9, 1.0, 1.0), 8766, 500, random).by_reads, 500)

    def test_the_interval_holds_the_share_and_narrows(self) -> None:
        few, many = Lived(1_000, 10, 0).interval(), Lived(100_000, 1_000, 0).interval()
        self.assertTrue(few[0] < 0.01 < few[1])
        self.assertLess(many[1] - many[0], (few[1] - few[0]) / 5)
        self.assertEqual(Lived(100, 0, 0).interval()[0], 0)
