"""The trade's terms: two sentences each, and no word twice."""

import re
import unittest

from larder.plan.trade_terms import trade_terms


class Terms(unittest.TestCase):
    def test_two_sentences_each(self) -> None:
        self.assertGreater(len(trade_terms()), 40)
        for term in trade_terms():
            with self.subTest(term.term):
                for text in (term.what, term.why):
                    self.assertEqual(len(re.findall(r"\.(?= |$)", text)), 1, text)
                    self.assertLessEqual(len(text), 160)

    def test_no_word_has_two_meanings(self) -> None:
        words = [word.casefold() for term in trade_terms() for word in (term.term, *term.forms)]
        self.assertEqual(sorted(words), sorted(set(words)))
