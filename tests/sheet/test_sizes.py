"""Sheets to start from."""

import unittest

from sheet import SIZES, SheetError, new_sheet
from sheet.reading.lengths import px_per


class Sizes(unittest.TestCase):
    def test_iso_216(self):
        # A-sizes: sides as 1 to √2, each halves the one before (ISO 216:2007)
        by = {s.key: s for s in SIZES}
        self.assertEqual((by["a4"].width, by["a4"].height), (210, 297))
        self.assertEqual((by["a5"].width, by["a5"].height), (148, 210))
        self.assertAlmostEqual(by["a4"].height / by["a4"].width, 2**0.5, places=2)

    def test_every_size_makes_its_sheet(self):
        for s in SIZES:
            sheet = new_sheet(s.width, s.height, s.unit, s.resolution)
            self.assertAlmostEqual(sheet.width / px_per(s.unit, s.resolution), s.width)
        cover = next(s for s in SIZES if s.key == "cover")
        self.assertEqual((cover.width, cover.height), (1280, 720))

    def test_bad_sizes_name_the_field(self):
        cases = [
            (("0", "10"), "width"),
            (("10", "-5"), "height"),
            (("1e9", "10"), "width"),
            (("1000000000", "10"), "width"),
            (("ten", "10"), "width"),
            (("10", "10", "ell"), "unit"),
            (("10", "10", "mm", "0"), "resolution"),
            (("10", "10", "mm", "x"), "resolution"),
            (("10", "10", "mm", "300", "beigeish"), "backdrop"),
        ]
        for args, field in cases:
            with self.subTest(args=args), self.assertRaises(SheetError) as caught:
                new_sheet(*args)
            self.assertEqual(caught.exception.field, field)

    def test_colours(self):
        self.assertEqual(new_sheet(9, 9, backdrop="#ABC").backdrop, "#aabbcc")
        self.assertIsNone(new_sheet(9, 9, backdrop="none").backdrop)
