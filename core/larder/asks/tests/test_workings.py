"""A working computes what it shows: recombined from its leaves it gives the figure, in every demo plan."""

import unittest

from hypothesis import assume, given
from hypothesis import strategies as st

from larder.asks.explain import explain
from larder.asks.workings import figures_in
from larder.base.errors import Refused
from larder.base.memo import forget_all
from larder.base.terms import Term, by_law, made, recombined
from larder.base.terms import given as leaf
from larder.judge.evaluation import evaluate
from larder.judge.tests.worst_plans import WorstPlans
from larder.stages.tests.test_terms import check
from larder.tests.drawn import drawn
from larder.tests.plans import DEMOS, changed, demo


def leaves(term: Term) -> list[Term]:
    return [term] if not term.of else [leaf for each in term.of for leaf in leaves(each)]


class EveryFigure(unittest.TestCase):
    @drawn(60)
    @given(st.integers(0, 10_000))
    def test_of_plans_drawn_at_random(self, seed: int) -> None:
        bundle = WorstPlans(seed).bundle()
        assume(bundle is not None)
        assert bundle is not None
        try:
            evaluation = evaluate(bundle)
        except Refused:
            return
        for figure in figures_in(evaluation):
            check(self, figure, bundle, evaluation)
        forget_all()

    def test_ids_are_said_once(self) -> None:
        for name in DEMOS:
            found = [figure.id for figure in figures_in(evaluate(demo(name)))]
            self.assertEqual(len(found), len(set(found)))


class Shown(unittest.TestCase):
    def test_flash_before_a_pool_and_what_holds_it_back_stand_in_its_working(self) -> None:
        # Its drives together would read three times what their slots let through.
        working = explain(demo("tern-and-tide"), "tiers.hot.read", with_movers=False)
        assert working.terms is not None and working.value is not None
        shown = {leaf.label: leaf.value for leaf in leaves(working.terms)}
        self.assertAlmostEqual(recombined(working.terms), working.value)
        self.assertLess(working.value, shown["One drive, empty"] * shown["Drives that pull together"])
        self.assertIn("The slot", shown)

    def test_constants_come_from_the_code(self) -> None:
        working = explain(demo("one-box"), "tiers.main.write", with_movers=False)
        assert working.terms is not None
        self.assertEqual([t.value for t in leaves(working.terms) if t.label == "Exponent"], [0.9])
        bundle = changed(demo("one-box"), plan__pools__main__scaling_exponent=0.8)
        measured = explain(bundle, "tiers.main.write", with_movers=False)
        assert measured.terms is not None
        self.assertEqual([t.value for t in leaves(measured.terms) if t.label == "Exponent"], [0.8])

    def test_services_are_among_those_who_ask(self) -> None:
        night = demo("tern-and-tide")
        service = night.plan.brief.services[0]
        by_day = changed(night, **{f"plan__brief__services__{service.id}__part_id": ""})
        for bundle, is_there in ((night, False), (by_day, True)):
            working = explain(bundle, "brief.load", with_movers=False)
            assert working.terms is not None
            self.assertEqual(
                f"{service.name}: asks" in [leaf.label for leaf in leaves(working.terms)], is_there
            )
            self.assertAlmostEqual(working.terms.value, working.value or 0)

    def test_an_unknown_figure_is_refused_with_the_known_ones(self) -> None:
        with self.assertRaises(Refused) as caught:
            explain(demo("halyard-street"), "scales.taste")
        self.assertIn("scales.speed", caught.exception.sentence)


class Terms(unittest.TestCase):
    def test_every_way_of_making_one_by_hand(self) -> None:
        two, three, half = leaf("Two", 2, ""), leaf("Dune: three", 3, ""), leaf("Half", 0.5, "share")
        for how, of, value, formula in (
            ("sum", (two, three), 5, "two + Dune: three"),
            ("difference", (three, two, two), -1, "Dune: three − two − two"),
            ("product", (two, three), 6, "two × Dune: three"),
            ("quotient", (three, two, two), 0.75, "Dune: three ÷ two ÷ two"),
            ("power", (two, three), 8, "two to the power of Dune: three"),
            ("rest", (half,), 0.5, "1 − half"),
            ("least", (two, three), 2, "the smallest of: two; Dune: three"),
            ("most", (two, three), 3, "the largest of: two; Dune: three"),
            ("rounded up", (three, two), 4, "Dune: three, rounded up to whole steps of two"),
            ("at least once", (half, two), 0.75, "1 − (1 − half) to the power of two"),
            ("sum", (two,) * 9, 18, "the sum of these 9"),
        ):
            term = made("It", "", how, *of)  # type: ignore[arg-type]
            self.assertAlmostEqual(term.value, value, msg=how)
            self.assertEqual(term.formula, formula)
            self.assertAlmostEqual(recombined(term), term.value)

    def test_a_wrong_value_in_the_middle_is_not_what_its_leaves_give(self) -> None:
        inner = made("Inner", "", "sum", leaf("One", 1, ""), leaf("Two", 2, ""))
        wrong = made("Outer", "", "product", inner.model_copy(update={"value": 7.0}), leaf("Two", 2, ""))
        self.assertEqual((wrong.value, recombined(wrong)), (14, 6))

    def test_a_law_gets_the_values_in_order(self) -> None:
        term = by_law("It", "", "in words", lambda a, b: a - b, leaf("A", 7, ""), leaf("B", 2, ""))
        self.assertEqual((term.value, term.formula, recombined(term)), (5, "in words", 5))
