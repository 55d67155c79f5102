"""Why not that, and what a little more would cost: against the cheapest design of a catalogue without it."""

import unittest
from decimal import Decimal

from larder.asks.advisor.advise import advise, advisor_of, opened
from larder.asks.advisor.by_hand import WAYS, far_seats, from_elsewhere
from larder.asks.advisor.more import more_of
from larder.asks.advisor.search import Search, choices_for
from larder.asks.advisor.why_not import Offer, offer_of, offered, why_not
from larder.base.errors import Refused
from larder.judge.evaluation import evaluate
from larder.laws.layout import parse_layout
from larder.tests.plans import changed, demo

TERN = demo("tern-and-tide")


class PointedAt(unittest.TestCase):
    def test_what_the_cheapest_has_is_said_to_be_what_it_has(self) -> None:
        cheapest = advise(TERN).advice.designs[0]
        plan = opened(TERN, cheapest.key, "Opened").plan
        layout = parse_layout(plan.pools[0].layout).name
        answer = why_not(TERN, f"layout:{layout}")
        self.assertTrue(answer.serves)
        self.assertIn("It is what the cheapest design has", answer.sentence)

    def test_what_is_pointed_at_is_in_the_answer_and_costs_no_less(self) -> None:
        cheapest = advise(TERN).advice.designs[0].measured.five_years
        served = 0
        for each in offered(TERN):
            if each.kind != "layout":
                continue
            answer = why_not(TERN, each.id)
            if answer.design is None:
                continue
            pools = opened(TERN, answer.design.key, "Opened").plan.pools
            self.assertIn(each.id.removeprefix("layout:"), {parse_layout(p.layout).name for p in pools})
            if answer.serves:
                served += 1
                self.assertGreaterEqual(answer.design.measured.five_years, cheapest, each.id)
            else:
                self.assertTrue(answer.design.misses, each.id)
        self.assertGreater(served, 3)

    def test_a_span_serves_nobody_who_wants_to_survive_a_drive(self) -> None:
        answer = why_not(TERN, "layout:span")
        self.assertFalse(answer.serves)
        self.assertIn("survives 0 dead drives, the rule asks for 1", answer.sentence)

    def test_a_plan_without_a_price_list_offers_nothing_and_one_with_it_all_layouts(self) -> None:
        self.assertEqual(offer_of(demo("long-shore")), Offer(takes_long=False, items=()))
        kinds = {item.kind for item in offer_of(TERN).items}
        self.assertEqual(kinds, {"layout", "box", "drive", "network"})

    def test_refused_is_what_is_not_offered(self) -> None:
        for of in ("", "layout:", "layout:raid7", "box:99", "drive:none", "\u0000"):
            with self.assertRaisesRegex(Refused, "that is offered"):
                why_not(TERN, of)

    def test_who_is_far_away_works_in_the_way_that_is_said(self) -> None:
        key = advise(TERN).advice.designs[0].key
        found = [(way, plan) for _, plan, way in from_elsewhere(choices_for(TERN), key)]
        self.assertEqual([way for way, _ in found], list(WAYS))
        for way, plan in found:
            self.assertEqual({seat.way for seat in far_seats(plan)}, {way})

    def test_an_opened_design_is_an_ordinary_plan_with_the_figures_that_were_shown(self) -> None:
        for design in advise(TERN).advice.designs:
            plan = opened(TERN, design.key, "Opened")
            self.assertEqual(evaluate(plan).money.spent, design.measured.capex)
            self.assertEqual(evaluate(plan).costs.five_years, design.measured.five_years)


class ALittleMore(unittest.TestCase):
    def test_more_of_a_need_never_costs_less_and_more_money_never_more(self) -> None:
        answer = {each.words: each for each in more_of(TERN)}
        self.assertEqual(len(answer), 5)
        for words, each in answer.items():
            if each.five_years is None:
                continue
            if words.startswith("A budget"):
                self.assertLessEqual(each.five_years, Decimal(0))
            else:
                self.assertGreaterEqual(each.five_years, Decimal(0), words)

    def test_what_it_says_is_what_an_advice_for_the_larger_brief_finds(self) -> None:
        answer = next(each for each in more_of(TERN) if each.words == "10 TB more to keep")
        brief = TERN.plan.brief
        kept = brief.model_copy(update={"kept_today_bytes": brief.kept_today_bytes + 10 * 10**12})
        larger = TERN.model_copy(update={"plan": TERN.plan.model_copy(update={"brief": kept})})
        before, after = (advise(plan).advice.designs[0].measured.five_years for plan in (TERN, larger))
        self.assertEqual(answer.five_years, (after - before).quantize(Decimal("0.01")))

    def test_held_against_other_needs_it_finds_what_a_new_search_does(self) -> None:
        search = advisor_of(TERN).search
        mark = search.marks[1]
        for path, value in (
            ("house_rules__failures_survived_min", 3),
            ("plan__brief__limits__room__noise_dba_max", 34),
            ("plan__brief__budget", "8000.00"),
            ("plan__brief__limits__skill", "practised"),
        ):
            other = changed(TERN, **{path: value})
            answer = search.held_against(other).cheapest(mark)
            fresh = Search(other).cheapest(mark)
            self.assertEqual(answer and answer.cost, fresh and fresh.cost, path)

    def test_where_nothing_serves_nothing_more_is_priced(self) -> None:
        self.assertEqual(more_of(demo("halyard-street")), ())
