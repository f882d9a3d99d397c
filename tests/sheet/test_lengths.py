"""Numbers as people type them."""

import unittest

from sheet import SheetError
from sheet.reading.lengths import parse, parse_length, px_per, show_length


class Lengths(unittest.TestCase):
    def read(self, text, unit="px", whole=None):
        return parse_length(text, "width", unit=unit, resolution=300, whole=whole)

    def test_units(self):
        # 1 in = 25.4 mm exactly (1959 agreement) = 72 pt
        for text in ("1in", "25.4mm", "2.54 cm", "72pt", "300px", "300", "0.5in + 150", "1 IN"):
            with self.subTest(text=text):
                self.assertAlmostEqual(self.read(text), 300)

    def test_arithmetic(self):
        cases = {"2000/3": 2000 / 3, "12*(3+4)": 84, "-2*-3": 6, "2 × 3 ÷ 4": 1.5, "1,5+1": 2.5, "((2))": 2, ".5": 0.5}
        for text, value in cases.items():
            with self.subTest(text=text):
                self.assertAlmostEqual(self.read(text), value)
        self.assertEqual(round(self.read("2000/3"), 3), 666.667)

    def test_bare_numbers_take_the_fields_unit(self):
        self.assertAlmostEqual(self.read("12mm + 3", "mm"), 15 * 300 / 25.4)
        self.assertAlmostEqual(self.read("2000/3 px", "mm"), 2000 / 3)
        self.assertAlmostEqual(self.read("(1+2)*3cm", "mm"), 9 * 300 / 2.54)

    def test_per_cent(self):
        self.assertEqual(self.read("50%", whole=800), 400)
        with self.assertRaises(SheetError):
            self.read("50%")

    def test_what_is_no_number_names_the_field(self):
        for text in (
            "",
            "  ",
            "abc",
            "12 furlongs",
            "3*",
            "(2",
            "1/0",
            "2/(1-1)",
            "2mm*3mm",
            "1e9999",
            "9" * 12,
            "1" * 300,
            "(" * 99,
        ):
            with self.subTest(text=text[:20]), self.assertRaises(SheetError) as caught:
                self.read(text)
            self.assertEqual(caught.exception.field, "width")
            self.assertTrue(caught.exception.remedy)
        for value in (True, None, [1]):
            with self.subTest(value=value), self.assertRaises(SheetError):
                parse(value, "width")

    def test_plain_numbers(self):
        self.assertEqual(parse(12.5, "x"), 12.5)
        self.assertAlmostEqual(parse(1e-7, "x"), 1e-7)

    def test_showing(self):
        self.assertEqual(show_length(300, "mm", 300), "25.4")
        self.assertEqual(show_length(-0.0001, "px", 300), "0")
        self.assertEqual(px_per("pt", 72), 1)
        with self.assertRaises(SheetError):
            px_per("ell", 72)
