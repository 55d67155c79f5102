"""The tables against the judged plan: every column of a random design is what its evaluation says."""

import unittest
from collections.abc import Iterator

import numpy as np

from larder.asks.advisor.crossing import shared_cost
from larder.asks.advisor.field import Field, Spot
from larder.asks.advisor.needs import Mark, misses_of
from larder.asks.advisor.options import Options
from larder.asks.advisor.pools import PoolTable
from larder.asks.advisor.search import Search
from larder.judge.evaluation import evaluate
from larder.stages.growth import ready_in_days
from larder.tests.drawn import few
from larder.tests.plans import demo, with_lots

CENTS_A_LEDGER = 0.7
"""The ledger rounds power and dead drives to the cent in each of sixty months; the table does not."""


class Tables(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        # Of the lots one is of a class that is priced, one of none, and one is old.
        lots = (
            {"tb": 16, "count": 5, "hours_run": 60_000},
            {"tb": 10, "count": 6},
            {"tb": 4, "count": 4, "kind": "ssd", "interface": "nvme", "hours_run": 9_000},
        )
        stocked = with_lots(demo("tern-and-tide"), *lots, reuse="first")
        cls.searches = [Search(plan) for plan in (demo("tern-and-tide"), demo("halyard-street"), stocked)]

    def test_every_column_is_what_the_plan_is_judged_at(self) -> None:
        rng = np.random.default_rng(18)
        seen = set()
        for search in self.searches:
            for at, of in enumerate(search.fields):
                for _ in range(few(7) if all(map(len, of.tables)) else 0):
                    rows = [int(rng.integers(len(table))) for table in of.tables]
                    keeping_at = int(rng.integers(len(search.choices.keepings)))
                    spot = Spot(at, keeping_at, rows[0], rows[-1] if len(rows) > 1 else 0, 0.0)
                    seen.add((of.shape, bool(search.plan(spot, "x").plan.caches)))
                    self._check(search, of, spot, rows)
        self.assertEqual({shape for shape, _ in seen}, {"one pool", "two boxes", "one box"})
        self.assertIn(("one pool", True), seen)

    def test_drives_from_stock_are_what_the_plan_is_judged_at(self) -> None:
        """Lots with new ones beside them and without, with one on the shelf; sets of mixed sizes."""
        search = self.searches[-1]
        options = search.choices.options
        layouts, bought = set(), set()
        for at, of in enumerate(search.fields):
            for which, table in enumerate(of.tables):
                for pool in table.pools:
                    for row in self._some_of_stock(options, pool):
                        rows = [0] * len(of.tables)
                        rows[which] = row
                        spot = Spot(at, 0, rows[0], rows[-1] if len(rows) > 1 else 0, 0.0)
                        pools = [p for p in search.plan(spot, "x").plan.pools if p.reused_drives]
                        layouts |= {pool.layout for pool in pools if pool.mixed_sizes}
                        bought |= {(pool.bought_drives > 0, pool.cold_spares > 0) for pool in pools}
                        self._check(search, of, spot, rows)
        self.assertEqual(layouts, {"layered1", "layered2", "filewise1", "filewise2", "span"})
        self.assertEqual(len(bought), 4)

    @staticmethod
    def _some_of_stock(options: Options, pool: PoolTable) -> Iterator[int]:
        """Some rows of each lot and set, of those that want no more than there is, and of those that do."""
        bought, drives = pool.bought(options) > 0, options.drives
        for drive_at, drive in enumerate(drives):
            here = (pool.drive_at == drive_at) & (drive.lot is not None)
            for wants in (bought, ~bought & (pool.cold_spares > 0), ~bought & (pool.cold_spares == 0)):
                rows = np.flatnonzero(here & wants)
                yield from rows[:: max(len(rows) // (few(6) if drive.sizes else few(2)), 1)].tolist()

    def _check(self, search: Search, of: Field, spot: Spot, rows: list[int]) -> None:
        bundle = search.plan(spot, "x")
        answer, terms = evaluate(bundle), of.ground.terms(spot.keeping_at)
        halves = [table.at(np.array([row])) for table, row in zip(of.tables, rows, strict=True)]
        for which, row in enumerate(rows):
            of.ask(which, np.array([row]))

        def summed(name: str) -> float:
            return float(sum(getattr(half, name)[0] for half in halves))

        ratio = min(float(of.known(which)[0][row]) for which, row in enumerate(rows))
        noise = summed("noise") + of.ground.switches_energy
        self.assertEqual(float(terms.capex) + summed("capex_cents") / 100, float(answer.costs.capex))
        self.assertEqual(max(int(half.lead_days[0]) for half in halves), ready_in_days(bundle))
        self.assertEqual(summed("plannable"), answer.tiers.plannable_bytes)
        self.assertEqual(
            min(int(half.survives[0]) for half in halves),
            min(p.guaranteed_failures for p in answer.tiers.pools),
        )
        speed = answer.scales.speed.ratio
        checks = [
            (ratio, 0.0 if answer.wiring.unreached else speed, 1e-9),
            (max(float(half.odds[0]) for half in halves), max(o.pool_lost for o in answer.odds), 1e-9),
            (summed("watts") + of.ground.switches_watts, answer.power.busy_watts, 1e-9),
            (10 * np.log10(noise) if noise else 0.0, answer.power.noise_dba, 1e-9),
            (max(float(half.carried[0]) for half in halves), max(b.carried_share for b in answer.power.boxes), 1e-9),
            (terms.upkeep_hours + summed("upkeep"), answer.upkeep.hours_per_month, 1e-9),
            (shared_cost(of, spot.keeping_at) + summed("five_years"), float(answer.costs.five_years), CENTS_A_LEDGER),
        ]  # fmt: skip
        for have, want, within in checks:
            assert want is not None
            self.assertAlmostEqual(
                have, want, delta=max(within * max(abs(want), 1e-12), within if within > 1e-3 else 0)
            )

    def test_needs_by_columns_are_those_by_evaluation(self) -> None:
        rng = np.random.default_rng(5)
        missing, holding = set(), set()
        for search in self.searches:
            mark = search.marks[1]
            for at, of in enumerate(search.fields):
                for _ in range(few(12) if all(map(len, of.tables)) else 0):
                    rows = [int(rng.integers(len(table))) for table in of.tables]
                    spot = Spot(at, int(rng.integers(len(search.choices.keepings))), rows[0], rows[-1], 0.0)
                    bundle = search.plan(spot, "x")
                    missed = {m.need for m in misses_of(bundle, evaluate(bundle), mark)}
                    by_row = self._missed(of, spot, rows, mark)
                    alone = {
                        "space",
                        "failures",
                        "odds",
                        "exposure",
                        "supply",
                        "skill",
                        "ready",
                        "stock",
                        "copies",
                    }
                    self.assertEqual(missed & alone, by_row & alone, search.design(spot))
                    missing |= missed & alone
                    holding |= alone - missed
        self.assertEqual((missing, holding), (alone - {"ready"}, alone))

    @staticmethod
    def _missed(of: Field, spot: Spot, rows: list[int], mark: Mark) -> set[str]:
        missed: set[str] = set()
        for which, row in enumerate(rows[: len(of.tables)]):
            missed |= {need for need, far in of.far(which, spot.keeping_at, mark).items() if far[row] > 0}
        return missed
