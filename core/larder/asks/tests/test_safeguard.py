"""Redundancy of pools: known setups, both ends, and what must hold of any."""

import unittest
from typing import Any

from larder.asks.rehearsal.tests.test_rehearse import plan
from larder.asks.safeguard import PoolLived, layout_odds
from larder.base.errors import Refused
from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.laws.loss_odds import HOURS_A_YEAR, Group, loss_odds, rate_of_afr
from larder.stages.odds import PoolOdds, odds_text
from larder.tests.plans import DEMOS, demo

LINE = "2 edit seats play 220 Mb/s"
DISKS = {
    "drive_kind": "hdd",
    "drive_bytes": 18 * TB,
    "drive_read_bytes_per_s": 250e6,
    "drive_write_bytes_per_s": 250e6,
}


def odds(**pool: Any) -> PoolOdds:
    [answer] = evaluate(plan(LINE, **{**DISKS, "drive_count": 8} | pool)).odds
    return answer


class Known(unittest.TestCase):
    def test_a_stripe_dies_with_any_drive_and_that_is_said(self) -> None:
        answer = odds(layout="stripe")
        self.assertAlmostEqual(answer.odds.total, 1 - (1 - 0.015) ** 8, places=9)
        self.assertEqual((answer.odds.reads, answer.survives), (0, 0))
        self.assertEqual(answer.odds.chance, "about 1 in 10")
        self.assertEqual(odds(layout="stripe", drive_count=400).odds.chance, "nearly certain")
        self.assertEqual(odds(layout="mirror").odds.chance, "below 1 in a billion")
        self.assertEqual(
            answer.sentence, "Main pool: a loss of data is about 1 in 10 a year; any dead drive is enough."
        )
        self.assertAlmostEqual(answer.mean_years_to_loss, 1 / (8 * rate_of_afr(0.015) * HOURS_A_YEAR))

    def test_double_parity_is_the_chain_of_its_own_times(self) -> None:
        answer = odds(layout="raid6")
        group = Group(
            8, 2, rate_of_afr(0.015), 1 / (answer.waits_hours + answer.rebuild_hours), answer.fatal_read
        )
        self.assertAlmostEqual(answer.odds.total / loss_odds(group, HOURS_A_YEAR).total, 1)
        self.assertEqual(answer.waits_hours, 72)
        self.assertEqual(odds(layout="raid6", drive_count=9, spares=1).waits_hours, 0)
        self.assertEqual(odds(layout="raid6", cold_spares=1).waits_hours, 12)
        self.assertIn(
            "most of it is a read error while the last drive rebuilds, which ends it", answer.sentence
        )
        self.assertGreater(answer.by_sheets.total, answer.odds.total)

    def test_striped_mirrors_are_pairs_and_one_copy_is_read(self) -> None:
        answer = odds(layout="raid10")
        self.assertEqual((answer.groups, answer.members, answer.survives), (4, 2, 1))
        single = odds(layout="raid5")
        self.assertAlmostEqual(single.fatal_read / answer.fatal_read, 7, delta=0.6)
        # However many copies there are, one is read.
        self.assertAlmostEqual(
            odds(layout="mirror", drive_count=12).fatal_read, odds(layout="mirror", drive_count=2).fatal_read
        )
        self.assertEqual((odds(layout="raid50:2").groups, odds(layout="raid50:2").members), (2, 4))

    def test_a_read_costs_a_file_where_files_lie_whole_or_have_checksums(self) -> None:
        for layout, loses in (("cow2", "a file"), ("filewise2", "a file"), ("raid6", "the pool")):
            answer = odds(layout=layout, filesystem="cow" if layout == "cow2" else "journal")
            self.assertEqual(answer.reads_lose, loses)
            self.assertEqual(answer.pool_lost, answer.odds.disks if loses == "a file" else answer.odds.total)

    def test_old_drives_one_batch_and_a_wait_make_it_worse(self) -> None:
        now = odds(layout="raid6", drive_count=9, spares=1).odds.total
        for worse in ({"hours_run": 50_000}, {"batches": 1}, {"drive_count": 8, "spares": 0}):
            self.assertGreater(
                odds(**{"layout": "raid6", "drive_count": 9, "spares": 1} | worse).odds.total, now, worse
            )
        flash = odds(layout="raid6", drive_kind="ssd")
        self.assertEqual(flash.deaths_a_year, 0.008)


class AnyPool(unittest.TestCase):
    def test_more_parity_is_never_worse_and_the_safest_layout_comes_first(self) -> None:
        rows = layout_odds(plan(LINE, **DISKS, layout="raid6", drive_count=12), "main")
        answer = {row.layout: row.odds.total for row in rows}
        self.assertEqual([row.odds.total for row in rows], sorted(row.odds.total for row in rows))
        self.assertLess(answer["triple"], answer["raid6"])
        self.assertLess(answer["raid6"], answer["raid5"])
        self.assertLess(answer["raid5"], answer["stripe"])
        self.assertLess(answer["mirror3"], answer["raid10"])
        self.assertEqual([row.layout for row in rows if row.is_current], ["raid6"])
        self.assertRaises(Refused, layout_odds, plan(LINE), "attic")

    def test_every_demo_has_odds_that_sum_and_a_sentence(self) -> None:
        for name in DEMOS:
            for pool in evaluate(demo(name)).odds:
                self.assertAlmostEqual(pool.odds.total, pool.odds.disks + pool.odds.reads)
                self.assertLessEqual(pool.odds.total, pool.by_sheets.total * (1 + 1e-9))
                self.assertTrue(pool.sentence.startswith(pool.name) and pool.sentence.endswith("."))


class Lived(unittest.TestCase):
    def test_a_pool_is_lived_through_in_parts_and_agrees_with_its_chain(self) -> None:
        bundle = plan(LINE, **DISKS, layout="raid5", drive_count=12)
        lived = PoolLived(bundle, "main", 3)
        answer = lived.summed([lived.part(n) for n in range(2)])
        self.assertEqual((answer.groups, answer.pool_id), (400_000, "main"))
        assert answer.low is not None
        assert answer.high is not None
        # Nineteen times in twenty is not always: twice the interval holds it.
        wide = answer.high - answer.low
        self.assertTrue(answer.low - wide / 2 <= answer.chain <= answer.high + wide / 2)
        self.assertRegex(answer.sentence, r"400,000 years .* lost by dead drives and .* by a read")
        rare = PoolLived(plan(LINE, **DISKS, layout="triple", drive_count=8), "main", 3)
        few = rare.summed([rare.part(0)])
        self.assertIsNone(few.low)
        self.assertIn("fewer than 100 say too little", few.sentence)
        self.assertRaises(Refused, PoolLived, bundle, "attic", 1)


class Words(unittest.TestCase):
    def test_odds_have_one_figure_and_an_end(self) -> None:
        for value, said in (
            (0.97, "nearly certain within a year"),
            (0.31, "about 3 in 10 a year"),
            (0.012, "about 1 in 80 a year"),
            (1.1e-3, "about 1 in 900 a year"),
            (2.1e-5, "about 1 in 50,000 a year"),
            (1e-9, "about 1 in 1,000,000,000 a year"),
        ):
            self.assertEqual(odds_text(value), said)
        self.assertIn("below 1 in a billion a year by this model", odds_text(3e-12))
