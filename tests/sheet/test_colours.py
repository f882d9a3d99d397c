"""Colours by formula, against published values, and swatches kept with the project."""

import numpy as np

from sheet.reading.colours import contrast, from_oklab, to_oklab

from .helpers import TableCase


class Formulas(TableCase):
    def test_oklab_of_the_primaries(self):
        # CSS Color 4, 10.4.1 and its sample code: sRGB red, green, blue and white in OKLab
        want = {
            (255, 0, 0): (0.62796, 0.22486, 0.12585),
            (0, 255, 0): (0.86644, -0.23389, 0.17950),
            (0, 0, 255): (0.45201, -0.03246, -0.31153),
            (255, 255, 255): (1.0, 0.0, 0.0),
        }
        for rgb, lab in want.items():
            self.near(to_oklab(np.array([rgb]))[0], lab, 5e-4)

    def test_there_and_back(self):
        rgb = np.random.default_rng(1).integers(0, 256, (500, 3))
        self.assertLess(np.abs(from_oklab(to_oklab(rgb)) - rgb).max(), 1e-3)

    def test_contrast_as_wcag_has_it(self):
        # WCAG 2.2, Understanding 1.4.3: #767676 on white is the lightest grey at 4.5 : 1
        self.assertGreaterEqual(contrast("#767676", "#ffffff"), 4.5)
        self.assertLess(contrast("#777777", "#ffffff"), 4.5)
        self.assertAlmostEqual(contrast("#000000", "#ffffff"), 21)
        self.assertEqual(contrast("#123456", "#123456"), 1)


class Swatches(TableCase):
    def test_swatches_are_added_once_and_removed(self):
        self.table.do("set_swatch", value="rgb(10, 90, 120)")
        self.assertEqual(self.table.sheet.swatches, ("#0a5a78",))
        self.refused("already a swatch", "set_swatch", value="#0A5A78")
        self.refused("can’t be a swatch", "set_swatch", value="none")
        self.refused("not among", "set_swatch", value="#ffffff", on=False)
        self.table.do("set_swatch", value="#0a5a78", on=False)
        self.assertEqual(self.table.sheet.swatches, ())
        for k in range(48):
            self.table.do("set_swatch", value=f"#0000{k:02x}")
        self.refused("48 swatches", "set_swatch", value="#ffffff")

    def test_paint_is_copied_to_pieces_groups_and_photos(self):
        a, b, c = (self.table.rectangle(100 * k, 0, 50, 50) for k in range(3))
        for field, value in (("fill", "#0a5a78"), ("stroke_width", "4"), ("opacity", "50"), ("dashes", "6 3")):
            self.table.do("paint", ids=[a], field=field, value=value)
        (group,) = self.table.do("group", ids=[b, c])
        photo = self.table.photo()
        self.table.do("copy_paint", source=a, ids=[a, group, photo])
        paint = self.table.item(a).paint
        self.assertEqual([i.paint for i in self.table.item(group).items], [paint, paint])
        self.assertEqual(self.table.item(photo).opacity, 0.5)
        self.refused("no paint to copy", "copy_paint", source=photo, ids=[a])
        self.refused("needs two things. Nothing is selected", "copy_paint", source="", ids=[])
        self.refused("needs two things. One is selected", "copy_paint", source=a, ids=[a])
