"""Every question, asked of plans that do not change: the answers are those that were read and recorded."""

import unittest
from collections.abc import Callable, Iterable, Iterator
from contextlib import suppress
from datetime import date
from typing import Any

from larder.asks.advisor.advise import advise
from larder.asks.advisor.more import more_of
from larder.asks.advisor.tests.test_search import SOME_BOXES, SOME_DRIVES, asked
from larder.asks.advisor.why_not import offered, why_not
from larder.asks.box_failures import box_failures
from larder.asks.cables import cables_of
from larder.asks.cheapest_change import cheapest_change
from larder.asks.compare import compare_drives, compare_layouts
from larder.asks.copies import copies_grid
from larder.asks.diagnosis.diagnose import diagnose
from larder.asks.diagnosis.readings import Seen
from larder.asks.disagreements import disagreements_of
from larder.asks.drive_prices import drive_prices, flash_or_disks
from larder.asks.explain import explain
from larder.asks.find import found_in
from larder.asks.find_formats import find_formats
from larder.asks.growth import growth_asked
from larder.asks.owner_page import owner_page
from larder.asks.rehearsal.drawn_day import drawn_day
from larder.asks.rehearsal.failures import parse_failure
from larder.asks.rehearsal.helped import helped
from larder.asks.rehearsal.rehearse import rehearse
from larder.asks.remedies import tried_remedies
from larder.asks.safeguard import layout_odds, safeguard
from larder.asks.share_out import share_out
from larder.asks.side_by_side import WhatIf, side_by_side
from larder.asks.standards import Standards
from larder.asks.starting_points import STARTING_POINTS, started
from larder.asks.workings import figures_in
from larder.base.errors import Refused
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.trouble import TROUBLES
from larder.tests.plans import demo, with_lots
from larder.tests.recorded import answer_lines, hold_recorded

DAY = date(2026, 12, 2)
PLANS = ("tern-and-tide", "halyard-street", "long-shore")
Answers = Iterator[tuple[str, Any]]


def of_seats(ask: Callable[[Bundle, str], Any]) -> Callable[[Bundle], Answers]:
    return lambda bundle: ((seat.id, ask(bundle, seat.id)) for seat in bundle.plan.brief.seats)


def of_pools(ask: Callable[[Bundle, str], Any]) -> Callable[[Bundle], Answers]:
    return lambda bundle: ((pool.id, ask(bundle, pool.id)) for pool in bundle.plan.pools)


def once(ask: Callable[[Bundle], Any]) -> Callable[[Bundle], Answers]:
    return lambda bundle: iter([("", ask(bundle))])


def workings(bundle: Bundle) -> Answers:
    for figure in figures_in(evaluate(bundle)):
        yield figure.id, explain(bundle, figure.id, with_movers=False)


def troubles(bundle: Bundle) -> Answers:
    for trouble in ("", *TROUBLES):
        yield trouble, share_out(bundle, trouble=trouble)


def broken_days(bundle: Bundle) -> Answers:
    plan = bundle.plan
    listed = [f"{pool.id}@11:00" for pool in plan.pools]
    listed += [f"switch:{switch.id}@10:30" for switch in plan.wiring.switches]
    listed += [f"link:{link.id}@12:00" for link in plan.wiring.links]
    listed += [f"box:{box.id}@13:00" for box in plan.boxes] + [f"supply:{box.id}@13:00" for box in plan.boxes]
    for text in listed[:12]:
        yield text, rehearse(bundle, [parse_failure(text)])


def slow_today(bundle: Bundle) -> Answers:
    for seat in bundle.plan.brief.seats:
        for seen in (Seen(copy_from=8e7, wire=1.1e9), Seen(copy_from=3e8, on_the_box=4e8, frames=12)):
            with suppress(Refused):
                yield seat.id, diagnose(bundle, seat.id, seen)


def searched(bundle: Bundle) -> Answers:
    for text in ("pool", "edit", "10", "rebuild", "safety"):
        yield text, found_in(bundle, text)
        yield f"format {text}", find_formats(bundle, text)


QUICK: dict[str, Callable[[Bundle], Answers]] = {
    "box_failures": once(lambda bundle: box_failures(judge(bundle, PARTS))),
    "cables": once(cables_of),
    "cheapest_change": of_seats(cheapest_change),
    "compare_drives": of_pools(compare_drives),
    "compare_layouts": of_pools(compare_layouts),
    "copies": once(copies_grid),
    "day": once(drawn_day),
    "day_broken": broken_days,
    "day_drawn": once(lambda bundle: rehearse(bundle, seed=7)),
    "drive_prices": once(lambda bundle: drive_prices(judge(bundle, PARTS))),
    "find": searched,
    "flash_or_disks": once(flash_or_disks),
    "growth": once(growth_asked),
    "helped": once(helped),
    "layout_odds": of_pools(layout_odds),
    "owner_page": once(owner_page),
    "remedies": once(tried_remedies),
    "safeguard": once(safeguard),
    "share_out": troubles,
    "slow_today": slow_today,
    "workings": workings,
}


def lines_of(called: str, answers: Iterable[tuple[str, Any]]) -> Iterator[str]:
    for subject, answer in answers:
        yield from answer_lines(" ".join(filter(None, (called, subject))), answer)


class Answered(unittest.TestCase):
    """A test each question and plan, so that one that is hurt is tried alone."""

    def test_starting_points(self) -> None:
        for point in STARTING_POINTS:
            bundle = started(point.id, point.title, DAY, Standards())
            hold_recorded(
                self, "asks", lines_of(f"start {point.id}", [("", bundle), ("judged", evaluate(bundle))])
            )

    def test_side_by_side(self) -> None:
        plans = [demo(name) for name in ("tern-and-tide", "one-box")]
        for seats, rate, growth in ((100, 100, 0), (150, 80, 20)):
            what_if = WhatIf(seats_percent=seats, rate_percent=rate, growth_percent=growth)
            answers = [(f"{seats} {rate} {growth}", side_by_side(plans, what_if))]
            hold_recorded(self, "asks", lines_of("beside", answers))

    def test_disagreements(self) -> None:
        answers = [("", disagreements_of(demo("tern-and-tide"), lambda _: advise(of_line(LINES[0])).advice))]
        hold_recorded(self, "asks", lines_of("disagreements", answers))


def of_line(line: str) -> Bundle:
    """With a few old disks on the shelf where the line asks for much."""
    bundle = asked(line, SOME_DRIVES, SOME_BOXES)
    lots = ({"tb": 12, "count": 5, "hours_run": 50_000}, {"tb": 4, "count": 4, "kind": "ssd"})
    return with_lots(bundle, *lots) if "8 TB" in line else bundle


LINES = (
    "1 edit seat plays 1 stream 100 Mb/s, 1 h a week, 500 GB today, 2 years, budget 9000",
    "2 edit seats play 1 stream 100 Mb/s, 1 h a week, 8 TB today, 2 years, budget 9000",
    "9 edit seats play 2 streams 400 Mb/s, 2 h a week, 40 TB today, 3 years, budget 60000, rack",
    "2 edit seats play 220 Mb/s, 1 h a week, 20 TB today, 2 years, budget 3000, quiet, closet",
)


class Advised(unittest.TestCase):
    """Of a few classes, so that it does not hang on the catalogue's size."""

    def hold(self, line: int, called: str, ask: Callable[[Bundle], Any]) -> None:
        hold_recorded(self, "asks", lines_of(f"{called} line {line}", [("", ask(of_line(LINES[line])))]))


def _advised(line: int, called: str, ask: Callable[[Bundle], Any]) -> Callable[[Advised], None]:
    return lambda self: self.hold(line, called, ask)


for _line in range(len(LINES)):
    for _called, _ask in (
        ("advice", lambda bundle: advise(bundle).advice),
        ("more", more_of),
        ("offered", offered),
        ("why_not", lambda bundle: [why_not(bundle, each.id) for each in offered(bundle)[::9]]),
    ):
        setattr(Advised, f"test_{_called}_of_line_{_line}", _advised(_line, _called, _ask))


def _held(question: str, plan: str) -> Callable[[unittest.TestCase], None]:
    def test(self: unittest.TestCase) -> None:
        hold_recorded(self, "asks", lines_of(f"{question} {plan}", QUICK[question](demo(plan))))

    return test


for _question in QUICK:
    for _plan in PLANS:
        _name = f"test_{_question}_of_{_plan.replace('-', '_')}"
        setattr(Answered, _name, _held(_question, _plan))
