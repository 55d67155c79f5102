"""Plans side by side, disagreements and the owner's page: their figures are those of the ordinary judgement."""

import unittest
from datetime import date
from itertools import pairwise

from larder.asks.begin import begun
from larder.asks.disagreements import disagreements_of
from larder.asks.owner_page import as_markdown, owner_page
from larder.asks.side_by_side import SideBySide, WhatIf, asked_anew, compare_rows, measured_of, side_by_side
from larder.asks.standards import Standards
from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.plan.formats import ClassFormat, ComputedFormat
from larder.readers.brief_line import brief_of, understand
from larder.readers.plan_file import bundle_from
from larder.tests.plans import demo

AS_IT_IS = WhatIf()


def row(compared: SideBySide, row_id: str) -> tuple[list[float | None], list[str], list[bool]]:
    cells = next(each for each in compared.rows if each.id == row_id).cells
    return [c.value for c in cells], [c.against for c in cells], [c.is_best for c in cells]


class Compared(unittest.TestCase):
    def test_a_plan_beside_itself_differs_in_nothing(self) -> None:
        plan = demo("tern-and-tide")
        compared = side_by_side([plan, plan, plan, plan], AS_IT_IS)
        self.assertEqual(len(compared.columns), 4)
        self.assertFalse(any(each.differs for each in compared.rows))
        self.assertFalse(any(cell.is_best or cell.against for each in compared.rows for cell in each.cells))

    def test_figures_are_those_of_the_judgement_and_the_better_one_is_marked(self) -> None:
        one, two = demo("one-box"), demo("tern-and-tide")
        compared = side_by_side([one, two], AS_IT_IS, same_brief=False)
        spent = [float(evaluate(plan).money.spent) for plan in (one, two)]
        values, against, best = row(compared, "capex")
        self.assertEqual(values, spent)
        self.assertEqual(best, [spent[0] < spent[1], spent[1] < spent[0]])
        more = (spent[1] / spent[0] - 1) * 100
        self.assertEqual(against, ["", f"{more:+.0f} %".replace("-", "−")])
        most = [c.share for c in next(each for each in compared.rows if each.id == "plannable").cells]
        self.assertEqual(max(most), 1.0)

    def test_on_one_brief_the_other_plan_is_asked_what_the_baseline_is_asked(self) -> None:
        one, two = demo("halyard-street"), demo("tern-and-tide")
        compared = side_by_side([one, two], AS_IT_IS)
        apart = side_by_side([one, two], AS_IT_IS, same_brief=False)
        self.assertGreater(row(compared, "speed")[0][1] or 0, row(apart, "speed")[0][1] or 0)
        self.assertEqual(row(compared, "speed")[0][0], row(apart, "speed")[0][0])

    def test_twice_the_rate_halves_what_is_carried_of_it(self) -> None:
        plan = demo("one-box")
        before, after = (
            measured_of(asked, evaluate(asked)).speed_ratio or 0
            for asked in (plan, asked_anew(plan, WhatIf(rate_percent=200)))
        )
        self.assertLess(after, before)

    def test_every_kind_of_footage_that_has_a_rate_is_heavier(self) -> None:
        plan = demo("tern-and-tide")
        then = asked_anew(plan, WhatIf(rate_percent=150)).catalogue.formats
        kinds = set()
        for before, after in zip(plan.catalogue.formats, then, strict=True):
            if isinstance(before, ClassFormat) and isinstance(after, ClassFormat):
                self.assertAlmostEqual(after.bytes_per_s, before.bytes_per_s * 1.5)
                kinds.add("class")
            elif isinstance(before, ComputedFormat) and isinstance(after, ComputedFormat):
                self.assertAlmostEqual(after.ratio, max(before.ratio / 1.5, 1.0))
                kinds.add("computed")
        self.assertEqual(kinds, {"class", "computed"})

    def test_more_people_and_more_growth_never_leave_more_over(self) -> None:
        plan = demo("tern-and-tide")
        for key in ("seats_percent", "rate_percent", "growth_percent"):
            ratios: list[tuple[float, float]] = []
            for value in (100, 150, 200, 300):
                asked = asked_anew(plan, WhatIf.model_validate({key: value}))
                measured = measured_of(asked, evaluate(asked))
                ratios.append((measured.speed_ratio or 0, measured.space_ratio or 0))
            for a, b in pairwise(ratios):
                self.assertLessEqual(b[0], a[0] + 1e-9, key)
                self.assertLessEqual(b[1], a[1] + 1e-9, key)

    def test_refused_are_one_plan_five_plans_and_two_currencies(self) -> None:
        plan = demo("one-box")
        for plans in ([plan], [plan] * 5):
            with self.assertRaisesRegex(Refused, "two to 4 plans"):
                side_by_side(plans, AS_IT_IS)
        other = plan.model_copy(update={"currency": "USD"})
        with self.assertRaisesRegex(Refused, "one currency"):
            side_by_side([plan, other], AS_IT_IS)

    def test_as_a_table_it_has_a_column_a_plan(self) -> None:
        plan = demo("one-box")
        rows = list(compare_rows(side_by_side([plan, plan, plan], AS_IT_IS)))
        self.assertEqual({len(each) for each in rows}, {5})


class Disagreeing(unittest.TestCase):
    def test_every_side_is_the_plan_judged_as_it_would_be_then(self) -> None:
        plan = demo("tern-and-tide")
        found = disagreements_of(plan)
        self.assertEqual(len({each.id for each in found}), 15)
        tried = 0
        for question in found:
            for side in (question.left, question.right):
                self.assertNotEqual(side.measured is None, side.why_not == "", question.id)
                if side.patch and side.measured:
                    changed = bundle_from(apply_patch(plan.document(), side.patch))
                    self.assertEqual(side.measured, measured_of(changed, evaluate(changed)), question.id)
                    tried += 1
        self.assertGreater(tried, 10)

    def test_known_answers(self) -> None:
        found = {each.id: each for each in disagreements_of(demo("tern-and-tide"))}
        one, two = found["parities"].left, found["parities"].right
        self.assertTrue(two.is_now)
        assert one.measured and two.measured
        # A parity drive less is a drive more to fill.
        self.assertGreater(one.measured.plannable_bytes, two.measured.plannable_bytes)
        self.assertLess(one.measured.one_in_years or 0, two.measured.one_in_years or 0)
        mirrors = found["parity-on-flash"].right
        self.assertEqual(mirrors.why_not, "")
        self.assertIn(("set", 6), {(each.op, each.value) for each in mirrors.patch})


class ForTheOwner(unittest.TestCase):
    def lines(self, plan: Bundle, section_id: str) -> str:
        page = owner_page(plan)
        section = next(each for each in page.sections if each.id == section_id)
        return "\n".join([*section.lines, *(f"{each.what}: {each.said}" for each in section.rows)])

    def test_verdict_costs_risks_and_dates_are_those_of_the_plan(self) -> None:
        plan = demo("tern-and-tide")
        answer, page = evaluate(plan), owner_page(plan)
        self.assertIn("It does not do yet what is asked of it: safety falls short.", page.sentence)
        self.assertIn(f"{answer.money.spent:,.0f} EUR now", page.sentence)
        self.assertIn(f"Five years together: {answer.costs.five_years:,.0f} EUR", self.lines(plan, "costs"))
        self.assertIn("order by 6 February 2028", self.lines(plan, "dates"))
        self.assertIn("a loss of data is about 1 in 20,000 a year", self.lines(plan, "risks"))
        self.assertIn("licensed electrician", self.lines(plan, "cautions"))
        self.assertEqual(page.fill_name, "Archive")

    def test_what_was_accepted_is_told_with_its_reason(self) -> None:
        document = demo("tern-and-tide").document()
        finding = next(f for f in evaluate(demo("tern-and-tide")).findings if f.severity == "block")
        document["plan"]["acceptances"] = [
            {"id": finding.key, "reason": "we carry drives on Fridays", "by": "tech"}
        ]
        risks = self.lines(bundle_from(document), "risks")
        self.assertIn("because “we carry drives on Fridays”", risks)
        self.assertEqual(risks.count("in one building only"), 1)

    def test_a_plan_of_nothing_says_that_it_cannot_be_judged(self) -> None:
        day = date(2026, 11, 27)
        plan = begun("Empty", brief_of(understand("", day)), day, Standards.model_validate({}))
        page = owner_page(plan)
        self.assertIn("Not everything can be judged yet", page.sentence)
        self.assertNotIn("cautions", [section.id for section in page.sections])

    def test_no_name_becomes_a_mark_of_the_text(self) -> None:
        document = demo("one-box").document()
        document["plan"]["name"] = "# A | *B* <script>"
        text = as_markdown(owner_page(bundle_from(document)))
        self.assertTrue(text.startswith("# \\# A \\| \\*B\\* \\<script\\>\n"))
        for line in text.splitlines():
            if line.startswith("|"):
                self.assertIn(line.replace("\\|", "").count("|"), (3, 4), line)
