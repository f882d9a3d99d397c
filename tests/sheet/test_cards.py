"""The cards show what the operations would give."""

import unittest

import outline
from sheet.cards import cards
from sheet.geometry import outline_of

from .helpers import Table


class Cards(unittest.TestCase):
    def test_each_card_is_the_engines_answer(self):
        t = Table()
        a, b = t.rectangle(0, 0, 100, 100), t.ellipse(50, 0, 100, 100)
        pieces = [t.item(a), t.item(b)]
        pa, pb = map(outline_of, pieces)
        got = {c.operation: c for c in cards(pieces, 0)}
        self.assertEqual(got["union"].results[0][0], outline.union([pa, pb]))
        self.assertEqual(got["subtract"].results[0][0], outline.subtract(pa, [pb]))
        self.assertAlmostEqual(got["subtract"].away.area, pb.area, delta=1e-6)
        self.assertEqual([k for _, k in got["divide"].results].count(1), 2)
        swapped = {c.operation: c for c in cards(pieces, 1)}
        # the same region; only the node that its loop starts at may differ
        self.assertAlmostEqual(swapped["subtract"].results[0][0].area, outline.subtract(pb, [pa]).area, delta=1e-9)

    def test_a_card_that_cannot_apply_says_why(self):
        t = Table()
        a, far = t.rectangle(0, 0, 10, 10), t.rectangle(50, 0, 10, 10)
        one = cards([t.item(a)])
        self.assertTrue(all(c.why for c in one))
        apart = {c.operation: c.why for c in cards([t.item(a), t.item(far)])}
        self.assertIn("in common", apart["intersect"])
        self.assertEqual(apart["union"], "")
