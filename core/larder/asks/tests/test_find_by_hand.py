"""What is found for words, in which order and how many; every place that is named is one of the plan."""

import unittest

from larder.asks.find import LONGEST_TEXT, Entry, _entries, _score, found_in, ranked, words_of
from larder.base.patch import value_at
from larder.judge.evaluation import evaluate
from larder.tests.plans import DEMOS, demo


def entry(name: str, kind: str = "pool", detail: str = "") -> Entry:
    return Entry(kind, name, detail, "tiers", name)  # type: ignore[arg-type]


class Scores(unittest.TestCase):
    def test_what_begins_so_comes_before_what_holds_it(self) -> None:
        pool = entry("Boathouse work pool", detail="6 × 16 TB, raid6")
        for text, score in (
            ("boathouse", 0), ("boathouse w", 0), ("work", 1), ("pool boat", 1), ("house", 2), ("ouse ork", 2),
            ("raid6", 3), ("boathouse raid6", 3), ("pool raid6", 3), ("attic", None), ("boathouse attic", None),
        ):  # fmt: skip
            self.assertEqual(_score(pool, words_of(text)), score, text)

    def test_words_are_small_and_a_long_text_is_cut(self) -> None:
        self.assertEqual(words_of("  Boat HOUSE "), ("boat", "house"))
        self.assertEqual(len(words_of("a " * 500)), LONGEST_TEXT // 2)
        self.assertEqual(ranked([entry("A")], "  "), ())

    def test_equals_keep_their_order_and_no_kind_fills_the_list(self) -> None:
        pools = [entry(f"Pool {n}") for n in range(9)]
        boxes = [entry(f"Box {n} pool", kind="box") for n in range(9)]
        hits = ranked([*boxes, *pools], "pool")
        self.assertEqual([hit.name for hit in hits[:6]], [f"Pool {n}" for n in range(6)])
        self.assertEqual([hit.name for hit in hits[6:]], [f"Box {n} pool" for n in range(6)])
        kinds = ("pool", "box", "seat", "format", "drive", "bay")
        many = ranked([entry(f"X {n}", kind=kind) for kind in kinds for n in range(9)], "x")
        self.assertEqual(len(many), 24)


class Places(unittest.TestCase):
    def test_every_hit_leads_to_a_place_that_there_is(self) -> None:
        for name in DEMOS:
            bundle = demo(name)
            evaluation = evaluate(bundle)
            keys = {finding.key for finding in evaluation.findings}
            document = bundle.document()
            for each in _entries(bundle, evaluation):
                if each.kind == "finding":
                    self.assertIn(each.at, keys)
                elif each.at.startswith(("plan/", "catalogue/")) and each.kind != "bay":
                    *way, field = each.at.split("/")
                    thing = value_at(document, tuple(way))
                    self.assertTrue(field == "speed" or thing["name"] == each.name, each)
                self.assertTrue(each.name, each)

    def test_a_few_known_answers(self) -> None:
        bundle = demo("tern-and-tide")
        pool, box, seat = bundle.plan.pools[0], bundle.plan.boxes[0], bundle.plan.brief.seats[0]
        for text, kind, at in (
            (pool.name, "pool", f"plan/pools/{pool.id}/name"),
            (box.name, "box", f"plan/boxes/{box.id}/name"),
            (f"{seat.kind} {seat.name}", "seat", f"plan/brief/seats/{seat.id}/name"),
        ):
            self.assertIn((kind, at), [(hit.kind, hit.at) for hit in found_in(bundle, text)], text)
        detail = next(hit.detail for hit in found_in(bundle, pool.name) if hit.kind == "pool")
        self.assertEqual(detail, f"{len(pool.drives_bytes)} × {pool.drive_bytes / 1e12:g} TB, {pool.layout}")
