"""Settling a question settles it: on the plan that a side makes that side stands, and the other still can be taken."""

import unittest
from types import SimpleNamespace as Of

from larder.asks.disagreements import QUESTIONS, _designed, _layout
from larder.base.errors import LarderError
from larder.base.patch import apply_patch
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.tests.plans import DEMOS, changed, demo


def settled(bundle: Bundle, patch: object) -> Bundle:
    return bundle_from(apply_patch(bundle.document(), patch))  # type: ignore[arg-type]


class Settling(unittest.TestCase):
    def test_a_side_that_was_taken_is_how_it_is_now_and_nothing_else_is_changed_by_taking_it_again(
        self,
    ) -> None:
        taken, standing = set(), set()
        for name in DEMOS:
            bundle = demo(name)
            for question in QUESTIONS:
                for half, other in ((question.left, question.right), (question.right, question.left)):
                    patch = half.change(bundle)
                    if patch is None:
                        continue
                    if not patch:
                        standing.add(question.id)
                        self.assertNotEqual(other.change(bundle), (), (name, question.id, other.name))
                        continue
                    try:
                        after = settled(bundle, patch)
                    except LarderError:
                        continue
                    taken.add((question.id, half.name))
                    self.assertEqual(half.change(after), (), (name, question.id, half.name))
                    for operation in patch:
                        if operation.op == "set":
                            self.assertTrue(
                                operation.path.startswith(("plan/", "house_rules/")), operation.path
                            )
        self.assertTrue(standing)
        self.assertGreaterEqual(len({question for question, _ in taken}), len(QUESTIONS) - 1)

    def test_mirrors_want_an_even_number_and_the_largest_pool_that_fits_is_asked(self) -> None:
        change = _layout("raid10", lambda pool: pool.drive_kind == "hdd")
        for drives, spares, wanted in ((9, 0, 10), (8, 0, None), (9, 1, None), (8, 1, 9)):
            bundle = changed(
                demo("one-box"),
                plan__pools__main__bays="",
                plan__pools__main__drive_count=drives,
                plan__pools__main__spares=spares,
            )
            answer = {op.path.rsplit("/", 1)[1]: op.value for op in change(bundle) or ()}
            self.assertEqual(
                (answer["layout"], answer.get("drive_count")), ("raid10", wanted), (drives, spares)
            )
        self.assertIsNone(_layout("raid10", lambda _pool: False)(demo("one-box")))

    def test_a_school_without_a_design_says_why(self) -> None:
        side = _designed(Of(design=None, sentence="Nothing fits."), "Redundancy", "x")  # type: ignore[arg-type]
        self.assertEqual((side.why_not, side.figures, side.patch), ("Nothing fits.", (), ()))
