"""When cards are safe to wipe: by hand, held back by what others leave, and late."""

import unittest
from typing import Any

from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.tests.plans import changed, cleared, demo

LINK = 1e9 / 8 * 1448 / 1538 * 0.9


def tern(**changes: Any) -> Bundle:
    return changed(demo("tern-and-tide"), **{f"plan__{path}": value for path, value in changes.items()})


class Cards(unittest.TestCase):
    def test_where_all_is_wide_the_readers_decide(self) -> None:
        cards = evaluate(demo("tern-and-tide")).cards
        assert cards is not None
        self.assertEqual((cards.limiting_hop_id, cards.slowed), (None, 1.0))
        self.assertAlmostEqual(cards.safe_seconds or 0, cards.bytes_per_day / 180e6)
        self.assertFalse(cards.is_read_back)  # copied by then, and no more

    def test_a_narrow_plug_holds_two_copies_back_and_reading_back_counts(self) -> None:
        links = {"wiring__links__plug-ingest__speed": "1GbE"}
        two = evaluate(
            tern(brief__seats__ingest__copies_here=2, brief__seats__ingest__verifies=True, **links)
        ).cards
        assert two is not None
        self.assertEqual(two.limiting_hop_id, "plug-ingest")
        self.assertAlmostEqual(two.safe_seconds or 0, two.bytes_per_day / (LINK / 2))
        self.assertEqual(two.moved_bytes_per_day, 5 * two.bytes_per_day)
        self.assertTrue(two.is_read_back)

    def test_what_others_take_of_a_hop_is_not_there_for_cards(self) -> None:
        path = {"wiring__links__signal-room-port__speed": "1GbE"}
        slowed = []
        for streams in (1, 4):
            cards = evaluate(tern(brief__seats__edit__streams=streams, **path)).cards
            assert cards is not None
            self.assertEqual(cards.limiting_hop_id, "signal-room-port")
            slowed.append(cards.slowed)
        self.assertGreaterEqual(*slowed)

    def test_without_stations_or_cards_there_is_nothing_to_tell(self) -> None:
        self.assertIsNone(evaluate(tern(brief__seats__ingest__count=0)).cards)
        self.assertIsNone(evaluate(demo("halyard-street")).cards)

    def test_cards_late(self) -> None:
        bundle = tern(brief__seats__ingest__card_bytes_per_s=9e6)
        evidence = cleared(self, bundle, "cards-late")
        self.assertAlmostEqual(evidence["Safe to wipe after"], round(448078080000 / 9e6 / 3600, 1))
