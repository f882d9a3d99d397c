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

    def test_an_edge_that_repeats_gets_more_teeth_of_the_same_pitch(self):
        """A zigzag's area is half its teeth's height times its length, however many there are."""
        teeth = "".join(f"L{10 * k + 5} -8L{10 * k + 10} 0" for k in range(12))
        path = Path.from_svg(f"M0 0{teeth}V60H0Z")
        longer, _ = outline.lengthened(path, 0, outline.find_bands(path, 0), 50)
        self.assertEqual(longer.bounds, (0, -8, 170, 60))
        self.assertAlmostEqual(longer.area, 170 * 60 + 170 * 8 / 2, delta=1e-9)
        feet = sorted(x for x, y in _nodes(longer) if y == 0)
        self.assertEqual(len(feet), 18)
        for k, x in enumerate(feet):
            self.assertAlmostEqual(x, 10 * k, delta=1e-9)
        # where they do not come out even they share the difference
        odd, _ = outline.lengthened(path, 0, outline.find_bands(path, 0), 33)
        self.assertEqual(odd.bounds, (0, -8, 153, 60))
        self.assertEqual(len([y for _, y in _nodes(odd) if abs(y + 8) < 1e-9]), 15)
        again, _ = outline.lengthened(longer, 0, outline.find_bands(longer, 0), -50)
        self.assertLess(outline.exclude([again, path]).area, 1e-9)

    def test_repeats_are_found_with_few_decimals_turned_and_over_the_seam(self):
        bites = "".join("a6 6 0 0 0 12 0h8" for _ in range(9))
        rough = Path.from_svg(f"M0 0h4{bites}v50h-184z")
        for path in (rough, rough.transform(Matrix(0, 1, -1, 0, 0, 0)), Path.from_svg(rough.to_svg(2))):
            axis = 0 if path.bounds[2] - path.bounds[0] > 100 else 1
            longer, _ = outline.lengthened(path, axis, outline.find_bands(path, axis), 60)
            # three bites more, each a half disc
            self.assertAlmostEqual(longer.area - path.area, 60 * 50 - 3 * math.pi * 18, delta=0.6)

    def test_letters_inside_keep_their_form_and_go_together(self):
        letters = [Path.from_svg(f"M{x} 40h20v30h-8v-12h-4v12h-8z") for x in (110, 136, 162)]
        path = outline.subtract(outline.ellipse(150, 60, 150, 60), letters)
        wide = outline.stretched(path, 0, 2)
        self.assertAlmostEqual(wide.bounds[2], 600, delta=1e-9)
        before, after = ([p.bounds for p in one.subpaths if p.bounds[2] - p.bounds[0] < 30] for one in (path, wide))
        self.assertEqual(len(after), 3)
        off = after[0][0] - before[0][0]
        for a, b in zip(before, after, strict=True):
            self.assertAlmostEqual(b[0] - a[0], off, delta=1e-9)
            self.assertAlmostEqual(b[2] - b[0], a[2] - a[0], delta=1e-9)

    def test_the_same_wherever_and_however_large_it_lies(self):
        for scale in (1e-3, 1.0, 1e5):
            path = outline.rectangle(200, 100, (20, 20, 20, 20)).transform(Matrix(scale, 0, 0, scale, 7 * scale, 0))
            longer, _ = outline.lengthened(path, 0, outline.find_bands(path, 0), 50 * scale)
            self.assertAlmostEqual(longer.bounds[2] / scale, 257, delta=1e-9)


def _nodes(path):
    return [tuple(row[:2]) for row in path.arrays[0].tolist()]
