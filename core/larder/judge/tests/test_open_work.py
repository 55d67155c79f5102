"""What is still open is listed until it is said, and only then; the first to be said first."""

import unittest
from datetime import date
from types import SimpleNamespace as Of
from typing import Any

from larder.judge.evaluation import evaluate
from larder.judge.open_work import open_work_of
from larder.tests.plans import demo

TODAY = date(2026, 12, 2)


def asked(**said: Any) -> list[tuple[str, str]]:
    """(words, path) of what is open in a plan of which nothing is said but this."""
    has = {
        "seats": (), "kept": 0, "horizon": TODAY, "budget": 0, "pools": (), "drive_prices": (), "links": (),
        "unreached": (), "unpriced": 0, "materials": (), "has_said": False,
    } | said  # fmt: skip
    plan = Of(
        brief=Of(seats=has["seats"], horizon_date=has["horizon"], budget=has["budget"]),
        pools=has["pools"],
        wiring=Of(links=has["links"]),
    )
    bundle: Any = Of(plan=plan, as_of=TODAY)
    results: Any = (
        Of(need_bytes=has["kept"]),
        Of(pools=tuple(Of(drive_price=price) for price in has["drive_prices"])),
        Of(unreached=has["unreached"]),
        Of(unpriced=has["unpriced"]),
        Of(materials=has["materials"], has_said=has["has_said"]),
    )
    return [(each.words, each.path) for each in open_work_of(bundle, *results)]


SEAT = Of(id="edit", count=2)


class Open(unittest.TestCase):
    def test_of_an_empty_plan_it_is_the_whole_path(self) -> None:
        self.assertEqual(
            [words for words, _ in asked()],
            [
                "who works, and on what",
                "what is shot or kept",
                "until when it must last",
                "what may be spent",
                "a first pool of drives",
            ],
        )

    def test_each_is_gone_as_soon_as_it_is_said(self) -> None:
        before = {words for words, _ in asked()}
        for said, gone in (
            ({"kept": 1}, "what is shot or kept"),
            ({"horizon": date(2026, 12, 3)}, "until when it must last"),
            ({"budget": 1}, "what may be spent"),
            ({"pools": (Of(id="p"),)}, "a first pool of drives"),
        ):
            self.assertEqual(before - {words for words, _ in asked(**said)}, {gone})
        self.assertNotIn("who works, and on what", {words for words, _ in asked(seats=(SEAT,))})
        nobody = asked(seats=(Of(id="edit", count=0),))
        self.assertIn(("who works, and on what", "plan/brief/seats"), nobody)

    def test_seats_ask_for_links_and_a_loose_seat_is_named_once(self) -> None:
        self.assertIn(("how the seats reach the storage", "plan/wiring/links"), asked(seats=(SEAT,)))
        self.assertNotIn("how the seats reach the storage", {w for w, _ in asked(seats=(SEAT,), links=(1,))})
        loose = Of(seat_id="edit", name="Edit", is_plugged=False)
        lost = Of(seat_id="grade", name="Grade", is_plugged=True)
        answer = [words for words, _ in asked(links=(1,), unreached=(loose, loose, lost))]
        self.assertEqual([w for w in answer if "plugged" in w], ["where Edit is plugged in"])

    def test_the_first_thing_without_a_price_and_how_many(self) -> None:
        pools = (Of(id="hot"), Of(id="cold"))
        one = asked(pools=pools, drive_prices=(9, None), unpriced=1)
        self.assertIn(("the price of one thing", "plan/pools/cold/drive_unit_price"), one)
        more = asked(pools=pools, drive_prices=(9, 9), unpriced=3)
        self.assertIn(("prices of 3 things", "plan/purchases"), more)
        self.assertFalse([w for w, _ in asked(pools=pools, drive_prices=(9, None)) if "price" in w])

    def test_copies_are_asked_about_where_there_is_something_to_copy(self) -> None:
        whole = {"pools": (Of(id="p"),), "drive_prices": (9,), "materials": (1,)}
        self.assertIn(("where copies go", "plan/safekeeping/copies"), asked(**whole))
        for but in ({"pools": ()}, {"materials": ()}, {"has_said": True}):
            self.assertNotIn("where copies go", {words for words, _ in asked(**(whole | but))})

    def test_a_finished_plan_has_nothing_open_and_every_place_is_of_the_plan(self) -> None:
        self.assertEqual(evaluate(demo("tern-and-tide")).open_work, ())
