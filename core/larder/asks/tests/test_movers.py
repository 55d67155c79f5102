"""One sweep for all figures, through the parts that read a number alone: the same as judging all anew."""

import unittest
from decimal import Decimal

from pydantic import ValidationError

from larder.asks.movers import _both_ways, movers_of, numbers_of, sweep, with_number
from larder.asks.workings import values_in
from larder.base.errors import Refused
from larder.base.memo import forget_all, kept_aside
from larder.judge.evaluation import Nudged, figures_alone
from larder.plan.bundle import Bundle
from larder.tests.drawn import IS_WHOLE
from larder.tests.plans import changed, demo


class OneSweep(unittest.TestCase):
    def test_each_number_judged_through_its_readers_alone_gives_what_all_parts_give(self) -> None:
        """So that what a part says it reads is all that it reads."""
        # One whose safety is decided by the odds, which the rule for them moves.
        by_odds = changed(demo("halyard-street"), house_rules__copies_min=2, house_rules__media_kinds_min=1)
        for bundle, says in (
            (demo("tern-and-tide"), ""),
            (demo("halyard-street"), ""),
            (by_odds, "house_rules"),
        ):
            nudged = Nudged(bundle)
            for n, (path, value) in enumerate(numbers_of(bundle)):
                if not path.startswith(says):
                    continue
                # One way of the two, now up, now down, tells what is read; both are tried at length.
                for other in _both_ways(value) if IS_WHOLE else _both_ways(value)[n % 2 :][:1]:
                    try:
                        after = with_number(bundle, path, other)
                    except (Refused, ValidationError):
                        continue
                    with kept_aside():
                        answer, fresh = (
                            values_in(nudged.figures(after, path)),
                            values_in(figures_alone(after)),
                        )
                        self.assertEqual(answer, fresh, path)
                        if not nudged.is_read(path):
                            self.assertEqual(fresh, values_in(figures_alone(bundle)), path)

    def test_what_moves_plannable_most_is_drives_and_their_size(self) -> None:
        movers = movers_of(demo("one-box")).movers
        labels = [mover.label for mover in movers["tiers.main.plannable"]]
        self.assertEqual(labels[:2], ["Boathouse pool: Drives", "Boathouse pool: Size each"])

    def test_a_number_that_nothing_reads_moves_nothing(self) -> None:
        bundle = demo("tern-and-tide")
        before, names = values_in(figures_alone(bundle)), ("hottest_c", "warranty_years")
        idle = [(path, value) for path, value in numbers_of(bundle) if path.endswith(names)]
        self.assertTrue(idle)
        for path, value in idle:
            for other in _both_ways(value):
                self.assertEqual(values_in(figures_alone(with_number(bundle, path, other))), before, path)

    def test_movers_are_the_strongest_in_order_and_true(self) -> None:
        bundle = demo("halyard-street")
        for figure_id, movers in sweep(bundle).movers.items():
            spreads = [abs((m.higher or 0) - (m.lower or 0)) for m in movers]
            self.assertEqual(spreads, sorted(spreads, reverse=True), figure_id)
            for mover in movers:
                value = dict(numbers_of(bundle))[mover.path]
                for other, answer in zip(_both_ways(value), (mover.lower, mover.higher), strict=True):
                    self.assertEqual(
                        values_in(figures_alone(with_number(bundle, mover.path, other)))[figure_id], answer
                    )

    def test_a_whole_sweep_is_kept_and_one_cut_short_is_not(self) -> None:
        forget_all()
        bundle, asked = demo("halyard-street"), iter([True] * 5)
        part = movers_of(bundle, lambda: next(asked, False))
        self.assertEqual(part.untried, part.numbers - 5)
        whole = movers_of(bundle)
        self.assertEqual(whole.untried, 0)
        self.assertIs(movers_of(bundle), whole)


class Numbers(unittest.TestCase):
    def test_a_tenth_or_one_and_money_in_whole_cents(self) -> None:
        self.assertEqual(_both_ways(3), (2, 4))
        self.assertEqual(_both_ways(40), (36, 44))
        self.assertEqual(_both_ways(Decimal("173.25")), (Decimal("155.92"), Decimal("190.58")))
        self.assertEqual(_both_ways(2.0), (1.8, 2.2))

    def test_money_is_known_by_its_type(self) -> None:
        found = dict(numbers_of(demo("tern-and-tide")))
        money = [path for path, value in found.items() if isinstance(value, Decimal)]
        self.assertIn("plan/brief/budget", money)
        self.assertTrue(any(path.startswith("catalogue/prices/") for path in money))
        self.assertTrue(any(path.startswith("plan/purchases/") for path in money))

    def test_what_would_not_be_accepted_is_refused_as_a_whole_plan_would_be(self) -> None:
        bundle: Bundle = changed(
            demo("one-box"), plan__pools__main__drive_count=4, plan__pools__main__bays=""
        )
        for path, value in (
            ("plan/pools/main/drive_count", 3),
            ("plan/pools/main/drive_count", 501),
            ("plan/pools/main/spares", 2),
            ("house_rules/enough_ratio", 0.5),
        ):
            with self.assertRaises((Refused, ValidationError), msg=path):
                with_number(bundle, path, value)
        placed = demo("one-box")
        with self.assertRaises(Refused):
            with_number(placed, "plan/boxes/boathouse/bays", 3)
