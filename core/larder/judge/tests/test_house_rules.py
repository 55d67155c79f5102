"""Rules that rule: moving any house rule within its range moves some answer, and that rule alone does."""

import unittest
from collections.abc import Callable, Iterator
from datetime import date
from typing import Any

from larder.asks.advisor.choices import choices_of
from larder.asks.rehearsal.drawn_day import drawn_day
from larder.asks.safeguard import safeguard
from larder.base.units import GB, TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.plan.house_rules import HouseRules
from larder.readers.stock_csv import read_stock_csv
from larder.stock.shelf import stock_stage
from larder.tests.plans import DEMO, changed, demo, stocked

DAY = date(2026, 11, 24)
Answer = Callable[[HouseRules], Any]


def plans() -> Iterator[Bundle]:
    """The demo plans, and what none of them has: old and mixed drives, thin volumes, flash worn, memory idle."""
    for name in ("one-box", "tern-and-tide", "halyard-street"):
        yield demo(name)
    far = "plan__brief__seats__assist-far__"
    line = {"plan__brief__limits__line__up_bytes_per_s": "1GB/s", f"{far}down_bytes_per_s": "1GB/s"}
    yield changed(demo("tern-and-tide"), **line, **{f"{far}way": "remote control"})
    yield stocked({"bays": "b:1-9"}, boxes=[{"id": "b", "name": "B", "bays": 9}])
    yield stocked({"are_used": True, "surface_tested": True, "hours_run": 44_000})
    # Of drives whose class says nothing of itself, the house's own figures count.
    yield stocked({"drive_id": "", "hours_run": 44_000})
    yield stocked({"drive_id": "", "drive_kind": "ssd"})
    yield stocked({"drive_id": "disk-22-array", "layout": "raid5"})
    yield stocked({"drive_count": 1, "mixed_sizes": "5x16TB+4x18TB"})
    yield stocked(
        {"filesystem": "cow", "layout": "cow2", "bays": ""},
        boxes=[{"id": "b", "name": "B", "bays": 12, "memory_bytes": 32 * GB}],
        volumes=[{"id": "v", "name": "V", "pool_id": "main", "size_bytes": 120 * TB}],
        caches=[
            {
                "id": "flash", "name": "C", "pool_id": "main", "drive_bytes": TB, "endurance_bytes": 600 * TB,
                "drive_count": 1, "mode": "read", "read_bytes_per_s": 3e9, "write_bytes_per_s": 2e9,
            }
        ],
    )  # fmt: skip


def moved(rules: HouseRules, name: str) -> Iterator[HouseRules]:
    """The rules with ``name`` at both ends of its range, and halfway there."""
    field, value = HouseRules.model_fields[name], getattr(rules, name)
    bounds = {key: getattr(m, key) for m in field.metadata for key in ("ge", "gt", "le") if hasattr(m, key)}
    least = bounds.get("ge", bounds.get("gt", 0) + 1)
    for wanted in (
        least,
        bounds["le"],
        (value + least) / 2,
        (value + bounds["le"]) / 2,
        value * 1.5,
        value / 1.5,
    ):
        other = type(value)(wanted)
        if least <= other <= bounds["le"] and other != value:
            yield rules.model_copy(update={name: other})


class RulesRule(unittest.TestCase):
    def test_moving_any_rule_moves_some_answer(self) -> None:
        items = read_stock_csv((DEMO / "stock.csv").read_bytes()).items
        answers: list[Answer] = [lambda rules: stock_stage(items, rules, DAY)]
        answers += [
            lambda rules, plan=plan: evaluate(plan.model_copy(update={"house_rules": rules}))  # type: ignore[misc]
            for plan in plans()
        ]
        # A house where somebody stands: what of it is seen by whom is a rehearsal's to say.
        standing = demo("one-box")
        answers.append(lambda rules: drawn_day(standing.model_copy(update={"house_rules": rules})))
        # Exports are delivered by the service and lie only there; settings lie on a loose drive.
        kept = "plan__safekeeping__materials__"
        lives = {
            f"{kept}exports__lives_on": "store:service",
            f"{kept}settings__lives_on": "store:safe-drives",
        }
        keyed = changed(demo("tern-and-tide"), **lives)
        batch = changed(demo("one-box"), plan__pools__main__batches=1)
        answers += [
            lambda rules, plan=plan: safeguard(plan.model_copy(update={"house_rules": rules}))  # type: ignore[misc]
            for plan in (demo("tern-and-tide"), keyed, batch, stocked({"hours_run": 60_000}))
        ]
        # What a tape drive and its tapes cost is asked only where an advisor keeps copies on them.
        tern = demo("tern-and-tide")
        answers.append(
            lambda rules: choices_of(tern.model_copy(update={"house_rules": rules}), 20 * TB).keepings
        )
        rules = HouseRules()
        before = [answer(rules) for answer in answers]
        for name in HouseRules.model_fields:
            with self.subTest(name):
                self.assertTrue(
                    any(
                        answer(other) != result
                        for other in moved(rules, name)
                        for answer, result in zip(answers, before, strict=True)
                    )
                )
