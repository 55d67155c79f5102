"""The chain of dead disks: the table of 1988, closed forms, many digits, and what must hold of any group."""

import unittest
from decimal import Decimal, getcontext

from hypothesis import given
from hypothesis import strategies as st

from larder.laws.loss_odds import (
    HOURS_A_YEAR,
    Group,
    LossOdds,
    loss_odds,
    loss_odds_of_groups,
    mean_hours_to_loss,
    of_many,
    rate_of_afr,
    rates,
)


def in_many_digits(group: Group, hours: float) -> tuple[Decimal, Decimal]:
    """(lost by a disk, lost by a read) by the exponential series, scaled and squared, in 90 digits."""
    getcontext().prec = 90
    found = [[Decimal(float(x)) for x in row] for row in rates(group)]
    n = len(found)
    for i in range(n):
        found[i][i] = -sum(found[i])
    largest = max(-found[i][i] for i in range(n)) * Decimal(hours)
    halvings = max(int(largest).bit_length() + 4, 4)
    a = [[x * Decimal(hours) / 2**halvings for x in row] for row in found]

    def times(x: list[list[Decimal]], y: list[list[Decimal]]) -> list[list[Decimal]]:
        return [[sum((x[i][k] * y[k][j] for k in range(n)), Decimal(0)) for j in range(n)] for i in range(n)]

    term = [[Decimal(int(i == j)) for j in range(n)] for i in range(n)]
    whole = [row[:] for row in term]
    for k in range(1, 60):
        term = [[x / k for x in row] for row in times(term, a)]
        whole = [[p + q for p, q in zip(r, s, strict=True)] for r, s in zip(whole, term, strict=True)]
    for _ in range(halvings):
        whole = times(whole, whole)
    return whole[0][n - 2], whole[0][n - 1]


GROUPS = st.builds(
    Group,
    members=st.integers(4, 24),
    tolerates=st.integers(0, 3),
    failures_per_hour=st.floats(1e-8, 1e-4),
    repairs_per_hour=st.floats(1e-3, 1.0),
    # Beyond about three in four a quick repair only brings the next first death, and its read, sooner.
    fatal_read=st.floats(0, 0.5),
    while_repairing=st.sampled_from([1.0, 3.0]),
)


class Many(unittest.TestCase):
    @given(st.lists(GROUPS, min_size=1, max_size=6))
    def test_many_groups_at_once_are_each_alone(self, groups: list[Group]) -> None:
        for group, (disks, reads) in zip(groups, loss_odds_of_groups(groups, HOURS_A_YEAR), strict=True):
            self.assertEqual(LossOdds(disks, reads), loss_odds(group, HOURS_A_YEAR))


class Known(unittest.TestCase):
    def test_the_table_of_1988_to_a_third_of_a_thousandth(self) -> None:
        for members, groups, hours in ((2, 100, 4_500_450), (11, 10, 818_755), (26, 4, 346_742)):
            group = Group(members, 1, 1 / 30_000, 1.0)
            self.assertAlmostEqual(mean_hours_to_loss(group) / groups / hours, 1, delta=3e-4)

    def test_closed_forms(self) -> None:
        n, death, repair = 8, 2e-6, 0.04
        one = mean_hours_to_loss(Group(n, 1, death, repair))
        self.assertAlmostEqual(
            one / (((2 * n - 1) * death + repair) / (n * (n - 1) * death**2)), 1, places=12
        )
        none = Group(n, 0, death, repair)
        self.assertAlmostEqual(mean_hours_to_loss(none) * n * death, 1, places=12)
        year = loss_odds(none, HOURS_A_YEAR)
        self.assertAlmostEqual(year.total / 0.13083, 1, places=3)
        # Always fatal: the first death of a single-parity group is a loss, by its read.
        fatal = loss_odds(Group(n, 1, death, repair, 1.0), HOURS_A_YEAR)
        self.assertAlmostEqual(fatal.reads, year.total, places=12)
        self.assertEqual(fatal.disks, 0)

    def test_to_twelve_digits_down_to_odds_of_1e_minus_20(self) -> None:
        smallest = 1.0
        for group, hours in (
            (Group(8, 1, 2e-6, 0.04, 0.02), HOURS_A_YEAR),
            (Group(8, 2, 2e-6, 0.04, 0.02, 3.0), HOURS_A_YEAR),
            (Group(10, 3, 1e-7, 0.1, 1e-4), HOURS_A_YEAR),
            (Group(6, 3, 2e-8, 0.5, 0.0), 5 * HOURS_A_YEAR),
            (Group(24, 2, 1e-4, 0.001, 0.5), HOURS_A_YEAR),
            (Group(4, 0, 1e-6, 1.0), 1.0),
        ):
            exact, answer = in_many_digits(group, hours), loss_odds(group, hours)
            for known, got in zip(exact, (answer.disks, answer.reads), strict=True):
                if known:
                    smallest = min(smallest, float(known))
                    self.assertLess(abs(Decimal(got) / known - 1), Decimal("1e-12"), (group, known, got))
        self.assertLess(smallest, 1e-20)

    def test_a_year_of_its_own_odds_and_of_many_groups(self) -> None:
        self.assertAlmostEqual(rate_of_afr(0.015) * HOURS_A_YEAR, 0.0151136, places=6)
        many = of_many(LossOdds(1e-20, 3e-20), 100)
        self.assertAlmostEqual(many.total / 4e-18, 1, places=12)
        self.assertAlmostEqual(many.reads / many.disks, 3, places=12)
        self.assertEqual(of_many(LossOdds(0.0, 0.0), 5), LossOdds(0.0, 0.0))
        self.assertAlmostEqual(of_many(LossOdds(0.5, 0.0), 2).total, 0.75)


class AnyGroup(unittest.TestCase):
    @given(GROUPS, st.floats(1, 90_000))
    def test_odds_are_odds_and_worse_is_worse(self, group: Group, hours: float) -> None:
        odds = loss_odds(group, hours)
        for part in (odds.disks, odds.reads):
            self.assertTrue(0 <= part <= 1)
        self.assertLessEqual(odds.total, 1 + 1e-12)
        slack = 1 + 1e-9
        for worse in (
            Group(group.members + 1, *list(group.__dict__.values())[1:]),
            Group(**group.__dict__ | {"failures_per_hour": group.failures_per_hour * 2}),
            Group(**group.__dict__ | {"repairs_per_hour": group.repairs_per_hour / 2}),
        ):
            self.assertLessEqual(odds.total, loss_odds(worse, hours).total * slack + 1e-300)
            self.assertGreaterEqual(mean_hours_to_loss(group) * slack, mean_hours_to_loss(worse))
        self.assertLessEqual(odds.total, loss_odds(group, hours * 2).total * slack)
        if group.tolerates < 3:
            better = Group(**group.__dict__ | {"tolerates": group.tolerates + 1})
            self.assertLessEqual(loss_odds(better, hours).total, odds.total * slack)
