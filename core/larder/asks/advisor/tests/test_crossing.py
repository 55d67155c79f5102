"""How far designs are from what is asked of them, from a field written out by hand."""

import math
import unittest
from types import SimpleNamespace as Of
from typing import Any

import numpy as np

from larder.asks.advisor import crossing
from larder.asks.advisor.needs import Mark

LEAST_YEARS = 5.0


def field(**values: Any) -> Any:
    """Two rows: one at half of the speed and the years that are asked, one that keeps to all."""
    rules = Of(flash_service_years_min=LEAST_YEARS)
    usual = {
        "far": lambda *_: {"space": np.array([0.25, 0.0])},
        "known": lambda _which: (np.array([0.5, 2.0]), np.array([LEAST_YEARS / 2, math.inf])),
        "ground": Of(judged=Of(bundle=Of(house_rules=rules))),
    }
    return Of(**(usual | values))


class FarAlone(unittest.TestCase):
    def far(self, *let_go: str, **values: Any) -> list[float]:
        asked: Any = crossing.Asked((), 0, Mark(1.0, 10_000), frozenset(let_go))  # type: ignore[arg-type]
        return list(crossing._far_alone(field(**values), 0, np.array([0, 1]), asked))

    def test_only_needs_that_are_let_go_are_counted_by_the_logarithm_of_what_is_lacking(self) -> None:
        self.assertEqual(self.far(), [0.0, 0.0])
        for let_go, wanted in ((("space",), 0.25), (("speed",), math.log(2)), (("wear",), math.log(2)),
                               (("space", "speed", "wear"), 0.25 + 2 * math.log(2))):  # fmt: skip
            near, kept = self.far(*let_go)
            self.assertAlmostEqual(near, wanted, msg=let_go)
            self.assertEqual(kept, 0.0)

    def test_what_is_not_known_yet_counts_as_near_and_what_never_comes_as_the_farthest(self) -> None:
        unknown = self.far("speed", known=lambda _: (np.array([math.nan, 0.0]), np.array([9.0, 9.0])))
        self.assertEqual(unknown, [0.0, crossing.FARTHEST])


if __name__ == "__main__":
    unittest.main()
