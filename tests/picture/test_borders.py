"""Borders inside, on and outside of outlines: where they lie, in pixels and by the engine's own offset."""

import unittest

import numpy as np
import shapely

import outline
from sheet import SheetError
from sheet.geometry.geometry import border_box, outline_of
from sheet.geometry.visible import visible_box
from tests.sheet.helpers import Table

from .test_export import export_png, export_svg, loader, pixels

INK = (0, 0, 255)


class BorderCase(unittest.TestCase):
    def setUp(self):
        self.t = Table()

    def bordered(self, item, place, width="20", **more):
        self.t.do("paint", ids=[item], field="fill", value="none")
        for field, value in {"stroke": "#0000ff", "stroke_width": width, "place": place, **more}.items():
            self.t.do("paint", ids=[item], field=field, value=value)
        return self.t.item(item)

    def inked(self, item) -> tuple[float, tuple[int, int]]:
        """Return the area of the border in an exported PNG of one px per unit, and the PNG's size."""
        image = pixels(export_png(self.t.sheet, 100, loader, item))
        return float(image[..., 3].sum()) / 255, (image.shape[1], image.shape[0])


class Places(BorderCase):
    def test_of_a_rectangle_to_the_px(self):
        a = self.t.rectangle(100, 100, 200, 150)
        for place, area, size in (
            ("inside", 200 * 150 - 160 * 110, (200, 150)),
            ("centred", 220 * 170 - 180 * 130, (220, 170)),
            ("outside", 240 * 190 - 200 * 150, (240, 190)),
        ):
            with self.subTest(place):
                self.assertEqual(self.inked(self.bordered(a, place)), (area, size))

    def test_of_stars_and_rings_as_the_engines_offset_has_it(self):
        (star,) = self.t.do("draw", kind="star", x=100, y=100, width=300, height=300)
        outer, hole = self.t.ellipse(500, 100, 300, 300), self.t.ellipse(600, 200, 100, 100)
        (ring,) = self.t.do("combine", ids=[outer, hole], operation="subtract")
        for item in (star, ring):
            for place, by in (("inside", -12), ("outside", 12)):
                with self.subTest(item=item, place=place):
                    piece = self.bordered(item, place, "12", join="round")
                    path = outline_of(piece)
                    edge = outline.offset(path, by, join="round")
                    want = outline.exclude([path, edge]).area
                    got, _ = self.inked(piece)
                    # a tenth of a px along all of the outline, where half a px is asked
                    self.assertLess(abs(got - want) / outline.length(path), 0.1)

    def test_against_shapely_with_each_join(self):
        (star,) = self.t.do("draw", kind="star", x=100, y=100, width=300, height=300)
        corners = outline_of(self.t.item(star)).arrays[0][:, :2]
        shape = shapely.Polygon([tuple(p) for p in corners])
        # a star's points are as sharp as the limit allows: shapely counts its limit from the outline, and SVG the same
        for join, style in (("round", "round"), ("bevel", "bevel")):
            piece = self.bordered(star, "outside", "12", join=join)
            want = shape.buffer(12, join_style=style, quad_segs=64).difference(shape).area
            self.assertAlmostEqual(self.inked(piece)[0] / want, 1, delta=0.004)

    def test_the_file_is_no_larger_than_the_border(self):
        (star,) = self.t.do("draw", kind="star", x=100, y=100, width=300, height=280)
        for place in ("inside", "centred", "outside"):
            for join in ("miter", "round", "bevel"):
                with self.subTest(place=place, join=join):
                    piece = self.bordered(star, place, "14", join=join)
                    image = pixels(export_png(self.t.sheet, 100, loader, piece))[..., 3]
                    rows, columns = np.flatnonzero(image.any(axis=1)), np.flatnonzero(image.any(axis=0))
                    self.assertEqual((rows[0], columns[0]), (0, 0))
                    self.assertEqual((rows[-1] + 1, columns[-1] + 1), image.shape)
                    self.assertEqual(visible_box(piece), border_box(piece))

    def test_an_open_line_keeps_its_border_on_it(self):
        (line,) = self.t.do("draw_curve", d="M100 100H300")
        piece = self.bordered(line, "inside")
        self.assertEqual(self.inked(piece), (200 * 20, (200, 20)))

    def test_over_a_photo_it_is_drawn_last(self):
        a = self.t.rectangle(100, 100, 200, 150)
        self.t.do("put_in", ids=[self.t.photo(900, 700), a])
        piece = self.bordered(a, "inside")
        image = pixels(export_png(self.t.sheet, 100, loader, piece))
        self.assertEqual(image.shape[:2], (150, 200))
        for x, y in ((0, 0), (19, 75), (100, 149), (199, 19)):
            self.assertEqual(tuple(image[y, x]), (*INK, 255))
        self.assertEqual(tuple(image[20, 20]), (250, 90, 140, 255))


class Dashes(BorderCase):
    def test_a_third_of_the_length_is_drawn(self):
        (line,) = self.t.do("draw_curve", d="M100 100H400")
        piece = self.bordered(line, "centred", "10", dashes="10 20")
        self.assertEqual(self.inked(piece), (300 / 3 * 10, (300, 10)))
        self.assertIn('stroke-dasharray="10 20"', export_svg(self.t.sheet, 100, loader, piece))

    def test_typed_in_any_unit_and_taken_back(self):
        a = self.t.rectangle(0, 0, 100, 100)
        piece = self.bordered(a, "centred", "2", dashes="1in, 25.4mm")
        self.assertEqual([round(v, 9) for v in piece.paint.dashes], [100, 100])
        self.t.do("paint", ids=[a], field="dashes", value="none")
        self.assertEqual(self.t.item(a).paint.dashes, ())
        for text in ("-3 4", "0 0", " ".join("1" * 13), "long short"):
            with self.assertRaises(SheetError):
                self.t.do("paint", ids=[a], field="dashes", value=text)

    def test_scaled_along_where_details_are(self):
        a = self.t.rectangle(0, 0, 100, 100)
        self.bordered(a, "outside", "2", dashes="4 2")
        self.t.do("transform", ids=[a], matrix=(3, 0, 0, 3, 0, 0), details=True)
        paint = self.t.item(a).paint
        self.assertEqual((paint.stroke_width, paint.dashes), (6, (12, 6)))


class Drawn(BorderCase):
    def test_svg_says_it_with_a_clip_path(self):
        a = self.t.ellipse(100, 100, 200, 200)
        for place, rule in (("inside", None), ("outside", 'clip-rule="evenodd"')):
            text = export_svg(self.t.sheet, 100, loader, self.bordered(a, place, join="round"))
            self.assertIn(f'clip-path="url(#clip-{a}-b)"', text)
            self.assertIn('stroke-width="40"', text)
            self.assertIn('stroke-linejoin="round"', text)
            if rule:
                self.assertIn(rule, text)
        size = 200 + 40
        self.assertIn(f'viewBox="80 80 {size} {size}"', text)
