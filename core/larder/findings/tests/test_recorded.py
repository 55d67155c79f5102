"""What is found in plans that do not change, also under other house rules, is what was read and recorded."""

import unittest
from collections.abc import Iterator
from typing import Any

from larder.base.errors import LarderError
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.plan.house_rules import HouseRules
from larder.readers.plan_file import bundle_from
from larder.tests.plans import DEMOS, demo
from larder.tests.random_plans import random_plan
from larder.tests.recorded import finding_lines, hold_recorded

PIECES, RANDOM_PLANS = 8, 24
"""In so many tests: one that is hurt is tried alone."""
UNDER_OTHER_RULES = ("tern-and-tide", "halyard-street")


def other_rules(name: str) -> Iterator[Bundle]:
    """The plan with each house rule at half and at twice its value, where it may be."""
    document = demo(name).document()
    for rule, field in HouseRules.model_fields.items():
        now: Any = field.default
        for times in (0.5, 2) if isinstance(now, (int, float)) and not isinstance(now, bool) else ():
            value = type(now)(now * times)
            try:
                yield bundle_from(document | {"house_rules": document.get("house_rules", {}) | {rule: value}})
            except LarderError:
                continue


class Found(unittest.TestCase):
    def hold(self, bundle: Bundle) -> None:
        hold_recorded(self, "findings", finding_lines(evaluate(bundle).findings))


def _held(piece: int) -> Any:
    def test(self: Found) -> None:
        for seed in range(piece, RANDOM_PLANS, PIECES):
            self.hold(random_plan(seed))
        for name in UNDER_OTHER_RULES:
            for bundle in list(other_rules(name))[piece::PIECES]:
                self.hold(bundle)
        if piece < len(DEMOS):
            self.hold(demo(DEMOS[piece]))

    return test


for _piece in range(PIECES):
    setattr(Found, f"test_{_piece}", _held(_piece))
