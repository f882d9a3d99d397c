"""Fonts of one's own: found by their digits, set with their kerns, along their axes."""

import unittest

import outline
from outline import OutlineError, lettering, own_font
from tests.made_font import made_font


class Own(unittest.TestCase):
    def setUp(self):
        self.files = {"1" * 32: made_font(), "2" * 32: made_font("Marram Flex", variable=True)}
        self.addCleanup(outline.use_fonts, outline.use_fonts(self.files.get))
        self.plain, self.flex = own_font("1" * 32, "Marram Sans"), own_font("2" * 32, "Marram Flex")

    def test_letters_are_set_with_their_kerns(self):
        # A from 100 to 400; B stands at its advance of 500 less the kern of 50, from 550 to 950; both 700 high
        self.assertEqual(lettering("AB", self.plain, 1000).path.bounds, (100, -700, 950, 0))
        self.assertAlmostEqual(lettering("AB", self.plain, 1000).path.area, 700 * 700, places=6)
        # tracked, as any
        self.assertEqual(lettering("AB", self.plain, 1000, tracking=20).path.bounds[2], 970)
        self.assertEqual(lettering("AC", self.plain, 1000).missing, ("C",))

    def test_along_the_axes(self):
        (axis,) = outline.axes_of(self.flex)
        self.assertEqual((axis.tag, axis.name, axis.low, axis.usual, axis.high), ("wght", "Weight", 100, 100, 900))
        # half of the way from 100 to 900 the bar is 150 wider (OpenType 1.9, variation interpolation)
        for weight, right in ((100, 400), (500, 550), (900, 700)):
            with self.subTest(weight):
                self.assertAlmostEqual(
                    lettering("A", self.flex, 1000, axes={"wght": weight}).path.bounds[2], right, delta=0.5
                )
        self.assertEqual(outline.axes_of(self.plain), ())
        self.assertEqual(outline.axes_of("bitter"), ())

    def test_one_that_is_not_there_and_one_that_comes(self):
        away = own_font("3" * 32, "Dune Serif")
        self.assertFalse(outline.has_font(away))
        self.assertEqual(outline.font_name(away), "Dune Serif")
        with self.assertRaisesRegex(OutlineError, "Dune Serif"):
            lettering("A", away, 10)
        self.files["3" * 32] = made_font("Dune Serif")
        self.assertTrue(outline.has_font(away))
        self.assertFalse(lettering("A", away, 10).path.is_empty)
