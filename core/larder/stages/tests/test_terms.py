"""What a stage tells as a figure's terms is what the figure was made of: recombined they give it."""

import math
import unittest

from larder.asks.workings import Figure, figures_in
from larder.asks.workings.working import WORKINGS
from larder.base.terms import recombined
from larder.judge.evaluation import Evaluation, evaluate
from larder.plan.bundle import Bundle
from larder.tests.plans import DEMOS, demo


def check(case: unittest.TestCase, figure: Figure, bundle: Bundle, evaluation: Evaluation) -> None:
    """The terms give the figure; those in whole bytes to the byte."""
    value, terms = figure.value(evaluation), figure.terms(bundle, evaluation)
    case.assertEqual(terms is None, value is None, figure.id)
    if terms is None or value is None:
        return
    # What is left of far larger amounts can be no more exact than they are told.
    largest = max((abs(each.value) for each in terms.of), default=0.0)
    off = max(1, len(terms.of) * math.ulp(largest)) if figure.working.unit == "bytes" else 0
    for answer in (terms.value, recombined(terms)):
        case.assertTrue(
            math.isclose(answer, value, rel_tol=1e-9, abs_tol=off), f"{figure.id}: {answer}, {value}"
        )
    case.assertIn(terms.unit, (figure.working.unit, "bytes_per_s", "ratio"), figure.id)
    case.assertTrue(figure.title and figure.working.source, figure.id)


class EveryFigure(unittest.TestCase):
    def test_of_every_demo_plan(self) -> None:
        seen: set[str] = set()
        for name in DEMOS:
            bundle = demo(name)
            evaluation = evaluate(bundle)
            for figure in figures_in(evaluation):
                check(self, figure, bundle, evaluation)
                seen.add(figure.working.id)
        self.assertEqual(seen, {each.id for each in WORKINGS}, "a kind of figure that no demo plan has")
