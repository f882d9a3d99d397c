"""Lengthening across bands: straight runs grow, all else keeps its form."""

import math
import unittest

import outline
from outline import Matrix, OutlineError, Path


class Bands(unittest.TestCase):
    def test_a_rounded_rectangle_lengthens_by_its_straight_sides(self):
        path = outline.rectangle(200, 100, (20, 20, 20, 20))
        self.assertEqual(outline.find_bands(path, 0), ((20.0, 180.0),))
        self.assertEqual(outline.find_bands(path, 1), ((20.0, 80.0),))
        longer, bands = outline.lengthened(path, 0, outline.find_bands(path, 0), 77)
        self.assertEqual(bands, ((20.0, 257.0),))
        self.assertEqual(longer.bounds, (0, 0, 277, 100))
        # a strip of 77 by 100 more, and not a curve changed
        self.assertAlmostEqual(longer.area - path.area, 7700, delta=1e-9 * path.area)
        again, back = outline.lengthened(longer, 0, bands, -77)
        self.assertEqual(back, ((20.0, 180.0),))
        for a, b in zip(path.arrays[0].ravel(), again.arrays[0].ravel(), strict=True):
            self.assertAlmostEqual(a, b, delta=1e-9)

    def test_what_lies_in_the_middle_stays_there_between_two_bands(self):
        # an ornament of a half disc on the middle of the upper side
        path = outline.union([outline.rectangle(300, 100), outline.ellipse(25, 25, 150, 0)])
        bands = outline.find_bands(path, 0)
        self.assertEqual(bands, ((0.0, 125.0), (175.0, 300.0)))
        longer, _ = outline.lengthened(path, 0, bands, 100)
        self.assertEqual(longer.bounds, (0, -25, 400, 100))
        self.assertAlmostEqual(longer.area, 40_000 + math.pi * 25**2 / 2, delta=1)
        top = [x for x, y in _nodes(longer) if abs(y + 25) < 1e-9]
        self.assertEqual(top, [200.0])

    def test_a_hole_on_one_side_stays_there(self):
        path = outline.subtract(outline.rectangle(300, 100), [outline.ellipse(20, 20, 50, 50)])
        (band,) = outline.find_bands(path, 0)
        self.assertEqual(band, (70.0, 300.0))

    def test_nowhere_where_curves_or_slanted_runs_lie_everywhere(self):
        for path in (outline.ellipse(50, 40), outline.star(5, 50, 20), Path()):
            self.assertEqual(outline.find_bands(path, 0), ())
        with self.assertRaisesRegex(OutlineError, "no band"):
            outline.lengthened(outline.ellipse(50, 40), 0, (), 10)

    def test_curves_across_a_band_are_counted(self):
        disc = outline.ellipse(50, 50, 50, 50)
        self.assertEqual(outline.curves_across(disc, 0, ((40.0, 60.0),)), 4)
        self.assertEqual(outline.curves_across(disc, 0, ((10.0, 20.0),)), 2)
        self.assertEqual(outline.curves_across(outline.rectangle(100, 100), 0, ((10.0, 20.0),)), 0)

    def test_no_shorter_than_its_runs(self):
        path = outline.rectangle(200, 100, (20, 20, 20, 20))
        with self.assertRaisesRegex(OutlineError, "only be 160 shorter"):
            outline.lengthened(path, 0, ((20.0, 180.0),), -160)
        with self.assertRaisesRegex(OutlineError, "over one another"):
            outline.lengthened(path, 0, ((20.0, 60.0), (50.0, 80.0)), 10)

    def test_the_same_wherever_and_however_large_it_lies(self):
        for scale in (1e-3, 1.0, 1e5):
            path = outline.rectangle(200, 100, (20, 20, 20, 20)).transform(Matrix(scale, 0, 0, scale, 7 * scale, 0))
            longer, _ = outline.lengthened(path, 0, outline.find_bands(path, 0), 50 * scale)
            self.assertAlmostEqual(longer.bounds[2] / scale, 257, delta=1e-9)


def _nodes(path):
    return [tuple(row[:2]) for row in path.arrays[0].tolist()]
