"""The search against judging every design there is, and the advice for briefs whose answer is known."""

import itertools
import random
import unittest
from collections.abc import Iterator
from datetime import date
from decimal import Decimal
from unittest.mock import patch

from larder.asks.advisor.advise import advise, standing_of
from larder.asks.advisor.design import Design, PoolChoice
from larder.asks.advisor.needs import Mark, misses_of
from larder.asks.advisor.options import SPARES, Place, Tier, is_sound, widths
from larder.asks.advisor.schools import SCHOOLS
from larder.asks.advisor.search import Search
from larder.asks.begin import begun, priced
from larder.asks.standards import Standards
from larder.base.errors import Refused
from larder.base.units import TB
from larder.judge.evaluation import Evaluation, evaluate
from larder.laws.layout import parse_layout
from larder.plan.bundle import Bundle
from larder.readers.brief_line import brief_of, understand
from larder.tests.drawn import IS_WHOLE
from larder.tests.plans import changed, demo, with_lots

DAY = date(2026, 11, 27)
SOME_DRIVES = (
    "disk-8-array", "disk-12-array", "disk-18-array", "disk-5-portable", "flash-4-sata", "flash-2-nvme",
    "flash-2-portable", "flash-8-server",
)  # fmt: skip
SOME_BOXES = ("desk-4", "desk-8", "rack-12", "host-desk")
"""Enough of the generic catalogue for a question that does not hang on its size."""
TABLES = "larder.asks.advisor.field_tables"
Measures = tuple[Decimal, int, float, float]


def asked(line: str, drives: tuple[str, ...] = (), boxes: tuple[str, ...] = (), **rules: float) -> Bundle:
    """A plan begun with a line, at the usual prices, of some classes only where they are named."""
    bundle = priced(begun("Asked", brief_of(understand(line, DAY)), DAY, Standards.model_validate({})))
    document = bundle.document()
    document["house_rules"] |= rules
    catalogue = document["catalogue"]
    if drives:
        catalogue["drives"] = [d for d in catalogue["drives"] if d["id"] in drives]
        catalogue["boxes"] = [b for b in catalogue["boxes"] if b["id"] in boxes]
        catalogue["prices"] = [p for p in catalogue["prices"] if p["item_id"] in (*drives, *boxes)]
    return Bundle.model_validate(document)


def without(bundle: Bundle, *path: str) -> Bundle:
    """The plan with nothing in one of its lists; links to seats that are gone go with them."""
    document = bundle.document()
    *way, last = path
    node = document
    for key in way:
        node = node[key]
    node[last] = []
    if last == "seats":
        document["plan"]["wiring"]["links"] = []
    return Bundle.model_validate(document)


def pools_in(search: Search, place: Place, tier: Tier) -> Iterator[PoolChoice]:
    """Every pool that the options allow in a place, listed without any table."""
    options, rules = search.choices.options, search.bundle.house_rules
    for drive_at, option in enumerate(options.drives):
        drive = option.model
        if not options.takes_member(place, option):
            continue
        if option.sizes:
            yield from sets_in(place, tier, drive_at, len(option.sizes))
            continue
        for layout in options.layouts:
            if not is_sound(layout, drive):
                continue
            spares = SPARES if layout.has_redundancy else ((0, 0),)
            for members, (hot, cold) in itertools.product(widths(layout, place.places), spares):
                waits = layout.has_redundancy and (drive.delivery_days or 0) > rules.delivery_days_max
                if (
                    members + hot + cold > (option.most or 1000)
                    or members + hot > place.places
                    or (waits and not hot + cold)
                ):
                    continue
                if hot and not options.takes(place, drive, "spare"):
                    continue
                bare = PoolChoice(tier, place.box_at, place.slot, drive_at, layout, members, hot, cold)
                yield bare
                caches = (
                    options.caches if place.slot == "bay" and drive.kind == "hdd" and tier == "work" else ()
                )
                yield from (
                    bare._replace(cache=cache)
                    for cache in caches
                    if options.takes_cache(place.box_at, layout, cache)
                )


def sets_in(place: Place, tier: Tier, drive_at: int, count: int) -> Iterator[PoolChoice]:
    """All drives of a set of mixed sizes, in every layout that takes any size."""
    for name in ("layered1", "layered2", "filewise1", "filewise2", "span") if count <= place.places else ():
        layout = parse_layout(name)
        yield PoolChoice(tier, place.box_at, place.slot, drive_at, layout, count, 0, 0)


def every_design(search: Search) -> Iterator[Design]:
    """One pool of either kind, and flash to work on beside disks, in two boxes or one."""
    options = search.choices.options
    kind = {at: drive.model.kind for at, drive in enumerate(options.drives)}
    tiers: tuple[Tier, ...] = ("work", "archive")
    by_place = {
        (place, tier): list(pools_in(search, place, tier)) for place in options.places for tier in tiers
    }
    work = [p for place in options.places for p in by_place[place, "work"]]
    archive = [p for place in options.places for p in by_place[place, "archive"] if kind[p.drive_at] == "hdd"]
    for keeping_at in range(len(search.choices.keepings)):
        for pool in work:
            yield Design("one pool", (pool,), 0, keeping_at)
        for first, second in itertools.product(work, archive):
            if kind[first.drive_at] != "ssd":
                continue
            yield Design("two boxes", (first, second), 0, keeping_at)
            bays = options.boxes[first.box_at].holds_drives.bays
            fits = first.slot != second.slot or first.drives + second.drives <= bays
            if first.box_at == second.box_at and fits:
                yield Design("one box", (first, second), 0, keeping_at)


def measures_of(evaluation: Evaluation) -> Measures:
    assert evaluation.scales.speed.ratio is not None
    lost = max(pool.pool_lost for pool in evaluation.odds)
    return (
        evaluation.costs.five_years,
        -evaluation.tiers.plannable_bytes,
        -round(evaluation.scales.speed.ratio, 9),
        float(f"{lost:.9e}"),
    )


def judged(search: Search, mark: Mark, share: float) -> list[Measures]:
    """Every design that keeps to all needs, or a drawn ``share`` of them, judged one by one."""
    found, lacking, chance = [], set(), random.Random(29)
    for design in every_design(search):
        if chance.random() >= share:
            continue
        kinds = (design.shape, tuple(p.drive_at for p in design.pools), design.keeping_at)
        if kinds in lacking:
            continue
        bundle = search.choices.bundle(design)
        evaluation = evaluate(bundle)
        missed = misses_of(bundle, evaluation, mark)
        if any(miss.need == "copies" for miss in missed):
            # Copies hang on the kinds of drives alone: no other design of these has them.
            lacking.add(kinds)
        elif not missed:
            found.append(measures_of(evaluation))
    return found


class EveryDesign(unittest.TestCase):
    """Costs without power and dead drives are whole cents, so that both sides are equal to the last one."""

    def check(self, bundle: Bundle, share: float = 1.0) -> None:
        search = Search(bundle)
        every = set(judged(search, search.marks[1], share))
        self.assertGreater(len(every), 5)
        self.compare(search, every, share)
        # A large catalogue's pools are sorted out before they are paired: the front is the same.
        with patch(f"{TABLES}.MOST_ROWS", 0), patch(f"{TABLES}.STEPS", (0.0,)):
            fewer = Search(bundle)
        self.assertEqual(fewer.looked_at, search.looked_at)
        self.compare(fewer, every, share)

    def compare(self, search: Search, every: set[Measures], share: float) -> None:
        """Of a share nothing may be better than the front; of all of them the front is the best there are."""
        mark = search.marks[1]
        spots, _ = search.worth(mark)
        answer = [measures_of(evaluate(search.plan(spot, "x"))) for spot in spots]
        beaten = [p for p in every if not any(q == p or _dominates(q, p) for q in answer)]
        self.assertEqual(beaten, [])
        self.assertFalse([p for p in answer if any(_dominates(q, p) for q in answer)])
        self.assertEqual(len(set(answer)), len(answer))
        cheapest = search.cheapest(mark)
        assert cheapest is not None
        cost = evaluate(search.plan(cheapest, "x")).costs.five_years
        self.assertEqual(cost, min(p[0] for p in answer))
        if share == 1:
            self.assertLessEqual(set(answer), every)

    def test_flash_and_disks_in_two_bays(self) -> None:
        self.check(
            asked(
                "2 edit seats play 1 stream 100 Mb/s, 1 h a week, 1 TB today, 2 years, budget 3400",
                drives=("disk-8-array", "flash-4-sata"), boxes=("desk-2",),
                kwh_price=0.0, disk_deaths_percent=1.0, failures_survived_min=0, odds_short_one_in=1,
                single_parity_rebuild_hours_max=200, copies_min=2, media_kinds_min=1,
            )
        )  # fmt: skip

    def test_drives_from_stock_beside_new_ones(self) -> None:
        line = "2 edit seats play 1 stream 100 Mb/s, 1 h a week, 5 TB today, 2 years, budget 5200"
        plan = asked(
            line, drives=("disk-12-array",), boxes=("desk-4",), kwh_price=0.0, disk_deaths_percent=1.0,
            single_parity_rebuild_hours_max=200, copies_min=2, media_kinds_min=1,
        )  # fmt: skip
        lots = ({"tb": 12, "count": 1, "hours_run": 20_000}, {"tb": 10, "count": 3})
        self.check(with_lots(plan, *lots), share=1.0 if IS_WHOLE else 0.3)

    def test_disks_in_four_bays_with_flash_slots(self) -> None:
        self.check(
            asked(
                "3 edit seats play 1 stream 100 Mb/s, 2 photo seats 40MB raw, 1 h a week, 5 TB today, 2 years, "
                "budget 5200",
                drives=("disk-12-array", "flash-2-nvme"), boxes=("desk-4",),
                kwh_price=0.0, single_parity_rebuild_hours_max=200, copies_min=2, media_kinds_min=1,
            ),
            share=1.0 if IS_WHOLE else 0.1,
        )  # fmt: skip


def _dominates(p: Measures, q: Measures) -> bool:
    return p != q and all(a <= b for a, b in zip(p, q, strict=True))


class KnownBriefs(unittest.TestCase):
    def test_every_school_answers_for_both_demo_briefs(self) -> None:
        for name in ("tern-and-tide", "halyard-street"):
            advised = advise(demo(name))
            self.assertEqual([s.id for s in advised.advice.schools], [s.id for s in SCHOOLS])
            for school in advised.advice.schools:
                self.assertTrue(school.sentence, school.name)
                if school.verdict in ("serves", "just"):
                    assert school.design is not None
                    self.assertEqual(school.design.misses, (), school.name)
                elif school.verdict == "fails" and school.design is not None:
                    self.assertTrue(school.design.misses or "one person" in school.sentence, school.name)

    def test_the_demo_catalogue_spans_a_million_designs(self) -> None:
        self.assertGreater(advise(demo("tern-and-tide")).advice.looked_at, 1_000_000)

    def test_designs_are_plans_whose_figures_are_shown(self) -> None:
        advised = advise(demo("tern-and-tide"))
        self.assertGreater(len(advised.advice.designs), 2)
        self.assertLessEqual(len(advised.advice.designs), 7)
        costs = [design.measured.five_years for design in advised.advice.designs]
        self.assertEqual(costs, sorted(costs))
        for before, evaluation in itertools.pairwise(advised.advice.designs):
            a, b = before.measured, evaluation.measured
            gained, _, lost = evaluation.gap.partition(", but ")
            self.assertIn(before.letter, gained)
            self.assertEqual("TB more" in gained, b.plannable_bytes > a.plannable_bytes * 1.02)
            self.assertEqual("TB less" in lost, b.plannable_bytes * 1.02 < a.plannable_bytes)
            self.assertEqual("survives only" in lost, (b.survives or 0) < (a.survives or 0))
        for design in advised.advice.designs:
            bundle = Bundle.model_validate(advised.bundle(design.key).document())
            bundle.check()
            evaluation = evaluate(bundle)
            self.assertEqual(evaluation.costs.five_years, design.measured.five_years)
            self.assertEqual(misses_of(bundle, evaluation, Mark(1.15, 10_000)), ())

    def test_one_person_needs_no_shared_box(self) -> None:
        line = "1 edit seat plays 1 stream 100 Mb/s, 1 h a week, 500 GB today, 2 years, budget 9000"
        advice = advise(asked(line, SOME_DRIVES, SOME_BOXES)).advice
        paired = advice.schools[0]
        self.assertEqual((paired.id, paired.verdict), ("paired-portables", "serves"))
        self.assertIn("do not need a shared box", advice.smallest)
        poor = advise(asked(line.replace("budget 9000", "budget 3000"), SOME_DRIVES, SOME_BOXES)).advice
        self.assertEqual((poor.designs, poor.conflict), ((), ""))
        self.assertIn("do not need a shared box", poor.smallest)

    def test_eight_people_cannot_share_a_portable_drive(self) -> None:
        paired = advise(demo("tern-and-tide")).advice.schools[0]
        self.assertEqual(paired.verdict, "fails")
        self.assertIn("8 would pass drives from hand to hand", paired.sentence)

    def test_needs_that_cannot_both_hold_are_named_with_how_much(self) -> None:
        bundle = changed(demo("tern-and-tide"), plan__brief__budget="3000.00")
        advice = advise(bundle).advice
        self.assertEqual((advice.target, advice.designs), ("none", ()))
        self.assertIn("the budget", advice.conflict.lower())
        self.assertRegex(advice.conflict, r"\d")
        near = changed(
            demo("tern-and-tide"), plan__brief__budget="6800.00", house_rules__failures_survived_min=2
        )
        self.assertRegex(
            advise(near).advice.conflict,
            r"Speed and the budget cannot both hold: what keeps to all else misses the one \(plays ×0\.99 of "
            r".*\) or the other \(46 EUR over budget\)",
        )

    def test_what_lies_on_the_shelf_is_used_where_it_pays_and_first_where_that_is_asked(self) -> None:
        line = "2 edit seats play 1 stream 100 Mb/s, 1 h a week, 8 TB today, 2 years, budget 9000"
        new, lot = (
            asked(line, SOME_DRIVES, SOME_BOXES),
            {"tb": 12, "count": 6, "hours_run": 9_000, "surface_tested": True},
        )
        stocked = with_lots(new, lot)
        costs = []
        for plan in (new, stocked, with_lots(new, lot, reuse="not at all")):
            best = advise(plan, losers=False).advice.designs[0]
            costs.append(best.measured.five_years)
        self.assertEqual(costs[0], costs[2])
        self.assertLess(costs[1], costs[0])
        bundle = advise(stocked, losers=False).bundle(advise(stocked, losers=False).advice.designs[0].key)
        pool = bundle.plan.pools[0]
        self.assertGreater(pool.reused_drives, 0)
        self.assertEqual((pool.drive_bytes, pool.are_used, pool.surface_tested), (12 * TB, True, True))
        for design in advise(with_lots(new, lot, reuse="first"), losers=False).advice.designs:
            self.assertTrue("12 TB disks" in design.title or "disks" not in design.title, design.title)

    def test_two_needs_that_no_design_keeps_to_are_named_together(self) -> None:
        plan = asked(
            "200 TB today, quiet, 9000 EUR, 2 edit seats play 220 Mb/s",
            (*SOME_DRIVES, "disk-22-array"),
            (*SOME_BOXES, "rack-24"),
        )
        search = Search(plan)
        mark = search.marks[-1]
        self.assertEqual(search.cannot_hold(mark, ("space", "budget")), ("space", "budget"))
        self.assertEqual(search.cannot_hold(mark, ("space", "speed")), ())
        self.assertIn("Space until the horizon and the budget cannot both hold", advise(plan).advice.conflict)

    def test_today_says_when_it_is_to_be_changed(self) -> None:
        standing = standing_of(demo("tern-and-tide"), Mark(1.0, 1000))
        assert standing is not None
        self.assertIn("Change now", standing.sentence)
        roomy = changed(demo("tern-and-tide"), house_rules__copies_min=1, house_rules__copies_elsewhere_min=0)
        serves = standing_of(roomy, Mark(1.0, 1000))
        assert serves is not None
        self.assertRegex(serves.sentence, r"Change when it is full, in \w+ 20\d\d")

    def test_what_cannot_be_asked_is_said_in_a_sentence(self) -> None:
        line = "2 edit seats play 1 stream 100 Mb/s, 1 TB today, 2 years, budget 3000"
        for bundle, field, words in (
            (without(asked(line), "plan", "brief", "seats"), "Seats", "say first who works"),
            (without(asked(line), "catalogue", "prices"), "Catalogue", "with a price on"),
            (
                without(without(asked(line), "catalogue", "prices"), "catalogue", "drives"),
                "Catalogue",
                "empty",
            ),
        ):
            with self.assertRaises(Refused) as raised:
                advise(bundle)
            self.assertIn(field, raised.exception.sentence)
            self.assertIn(words, raised.exception.sentence)
        with self.assertRaises(Refused):
            advise(asked(line, SOME_DRIVES, SOME_BOXES)).bundle("Z")
