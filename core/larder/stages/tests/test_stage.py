"""The registry, and how parts are judged anew: what reads the change, what comes after it, and no more."""

import unittest
from typing import Any, get_type_hints

from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS, STAGES
from larder.stages.stage import Judged, Part, judge, judge_anew
from larder.tests.plans import changed, demo


class Registry(unittest.TestCase):
    def test_stages_carry_their_numbers_in_the_work(self) -> None:
        answer = [(stage.id, stage.number, stage.title, stage.is_of_studio) for stage in STAGES]
        self.assertEqual(
            answer,
            [
                ("stock", 1, "Stock", True),
                ("brief", 2, "Brief", False),
                ("school", 3, "School", False),
                ("tiers", 4, "Tiers", False),
                ("wiring", 5, "Wiring", False),
                ("rehearsal", 6, "Rehearsal", False),
                ("safeguard", 7, "Safeguard", False),
                ("growth", 8, "Growth", False),
                ("compare", 9, "Compare", False),
            ],
        )

    def test_every_part_comes_after_those_whose_results_it_takes(self) -> None:
        seen: set[str] = set()
        for part in PARTS:
            self.assertLessEqual({each.id for each in part.after}, seen, part.id)
            self.assertNotIn(part.id, seen)
            seen.add(part.id)

    def test_the_evaluation_tells_every_part_that_is_told(self) -> None:
        answer = {part.id for part in PARTS if part.is_answered}
        self.assertEqual(set(get_type_hints(Evaluation)) - {"model_config"} & answer, answer)
        self.assertEqual(set(Evaluation.model_fields) - answer, {"scales", "findings", "open_work"})

    def test_no_figure_comes_after_what_is_only_drawn(self) -> None:
        drawn = {part.id for part in PARTS if part.is_drawn}
        self.assertEqual(
            drawn, {"load_bars", "calendar", "hit_curves", "bays", "own_figures", "plugs", "bands"}
        )
        for part in PARTS:
            self.assertTrue(part.is_drawn or not drawn & {each.id for each in part.after})


class Anew(unittest.TestCase):
    def setUp(self) -> None:
        self.asked: list[str] = []
        self.name = self.part("name", lambda b: b.plan.name, ("plan/name",))
        self.length = self.part("length", lambda _: 3, (), (self.name,))
        self.beyond = self.part("beyond", lambda _: 0, (), (self.length,))
        self.apart = self.part("apart", lambda b: b.plan.pools[0].spares, ("plan/pools/*/spares",))
        self.parts = (self.name, self.length, self.beyond, self.apart)
        self.before = demo("one-box")
        self.judged = judge(self.before, self.parts)
        self.asked.clear()

    def part(
        self, part_id: str, read: Any, reads: tuple[str, ...], after: tuple[Part[Any], ...] = ()
    ) -> Part[Any]:
        def told(judged: Judged) -> Any:
            self.asked.append(part_id)
            return read(judged.bundle)

        return Part(part_id, told, reads, after)

    def after(self, bundle: Bundle, path: str) -> Judged:
        return judge_anew(bundle, self.judged, (path,), self.parts)

    def test_what_reads_the_change_and_what_comes_after_it_until_nothing_changes(self) -> None:
        named = self.after(changed(self.before, plan__name="Other"), "plan/name")
        # The length is asked again and is the same: what comes after it is not.
        self.assertEqual(self.asked, ["name", "length"])
        self.assertEqual((named.of(self.name), named.of(self.length)), ("Other", 3))
        self.assertEqual(self.judged.of(self.name), self.before.plan.name)

    def test_a_change_that_nobody_reads_asks_nobody(self) -> None:
        self.after(self.before, "plan/brief/budget")
        self.assertEqual(self.asked, [])

    def test_any_item_and_whole_words(self) -> None:
        for path, is_read in (
            ("plan/pools/main/spares", True),
            ("plan/pools/main/spares_of", False),
            ("plan/pools/main", False),
            ("plan/pools/main/spares/deeper", True),
            ("plan/names", False),
        ):
            self.assertEqual(self.apart.looks_at(path), is_read, path)
        self.assertFalse(self.length.looks_at("plan/name"))
