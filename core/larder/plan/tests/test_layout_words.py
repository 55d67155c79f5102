"""Every layout has its words: a name, what it loses, costs and grows by."""

import unittest

from larder.laws.layout import LAYOUTS, parse_layout
from larder.plan.layout_words import grows_by, loses, more_parity_later, unreadable_costs, words_of

EVERY = [*LAYOUTS.values(), parse_layout("raid50:2"), parse_layout("raid60:3")]


class Words(unittest.TestCase):
    def test_every_layout_is_called_something_of_its_own(self) -> None:
        self.assertEqual(len({words_of(layout) for layout in EVERY}), len(EVERY))
        self.assertEqual(words_of(parse_layout("raid60:3")), "3 groups of double parity")

    def test_what_it_grows_by_is_said_for_every_layout(self) -> None:
        for layout in EVERY:
            self.assertTrue(grows_by(layout) and more_parity_later(layout), layout.name)
        self.assertIn("no:", more_parity_later(parse_layout("cow2")))
        self.assertIn("group", grows_by(parse_layout("raid60:2")))

    def test_what_is_lost_and_what_an_unreadable_sector_costs(self) -> None:
        self.assertIn("only the files", loses(parse_layout("filewise1")))
        self.assertEqual(loses(parse_layout("raid6")), "the whole pool")
        costs = {name: unreadable_costs(parse_layout(name)) for name in ("raid6", "mirror3", "cow1", "raid5")}
        self.assertEqual(costs["raid6"], costs["mirror3"])
        self.assertEqual(costs["cow1"], "it costs a file")
        self.assertIn("ends the rebuild", costs["raid5"])
