"""Whoever changes a figure raises the number of the rules, so that kept verdicts are judged again."""

import json
import unittest
from collections.abc import Iterator
from hashlib import sha256
from pathlib import Path
from typing import Any

from pydantic import BaseModel

import larder.plan.tests
from larder.judge.evaluation import Evaluation, evaluate
from larder.judge.version import JUDGED_BY
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.tests.plans import DEMOS, changed, demo
from larder.tests.recorded import RECORDS, hold_recorded, recorded

OLD = Path(larder.plan.tests.__file__).parent / "old"


def frozen() -> Iterator[tuple[str, Bundle]]:
    """The demos, and a plan of every older schema, as it is upgraded."""
    for name in DEMOS:
        yield name, demo(name)
    for path in sorted(OLD.glob("*.json")):
        yield path.stem, bundle_from(json.loads(path.read_text()))


def numbers(value: Any) -> Iterator[str]:
    """All figures to six digits, in their order; words are none, but for what a scale says."""
    if isinstance(value, BaseModel):
        for name in type(value).model_fields:
            if name == "verdict":
                yield getattr(value, name)
            yield from numbers(getattr(value, name))
    elif isinstance(value, dict):
        for one in value.values():
            yield from numbers(one)
    elif isinstance(value, (list, tuple)):
        for one in value:
            yield from numbers(one)
    elif value is not None and not isinstance(value, str):
        yield f"{value:.6g}" if isinstance(value, float) else str(value)


def lines(name: str, answer: Evaluation) -> Iterator[str]:
    """A line a part: what it comes to, under the number of the rules."""
    for part in Evaluation.model_fields:
        said: list[str] = list(numbers(getattr(answer, part)))
        if part == "findings":
            said = [f"{finding.key} {finding.severity}" for finding in answer.findings]
        digest = sha256(" ".join(said).encode()).hexdigest()[:12]
        yield f"{JUDGED_BY} {name} {part} {digest}"


def unraised(now: list[str], before: frozenset[str]) -> list[str]:
    """Parts that come to something else under the same number."""
    known = {line.rpartition(" ")[0]: line for line in before}
    return [line for line in now if known.get(line.rpartition(" ")[0], line) != line]


class TheNumber(unittest.TestCase):
    def test_it_is_raised_when_a_figure_of_a_frozen_plan_is_another(self) -> None:
        now = [line for name, bundle in frozen() for line in lines(name, evaluate(bundle))]
        before = recorded("judged")
        if not RECORDS or any(line.startswith(f"{JUDGED_BY} ") for line in before):
            self.assertEqual(unraised(now, before), [], "raise JUDGED_BY in judge/version.py, then record")
        hold_recorded(self, "judged", now)

    def test_a_figure_tells_and_a_word_does_not(self) -> None:
        bundle = demo("tern-and-tide")
        now = list(lines("x", evaluate(bundle)))
        renamed = changed(bundle, plan__pools__main__name="Attic")
        self.assertEqual(unraised(list(lines("x", evaluate(renamed))), frozenset(now)), [])
        fuller = changed(bundle, plan__pools__main__headroom_percent=21.0)
        moved = {line.split()[2] for line in unraised(list(lines("x", evaluate(fuller))), frozenset(now))}
        self.assertLessEqual({"tiers", "scales", "growth"}, moved)


if __name__ == "__main__":
    unittest.main()
