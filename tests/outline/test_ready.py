"""Ready outlines: enough of them, clean, and in their boxes."""

import unittest
from collections import Counter

import outline
from outline import READY, OutlineError, ready


class Ready(unittest.TestCase):
    def test_there_are_enough_and_each_has_a_name_of_its_own(self):
        self.assertGreaterEqual(len(READY), 100)
        self.assertEqual(len({r.name for r in READY.values()}), len(READY))

    def test_each_is_clean(self):
        for key in READY:
            with self.subTest(outline=key):
                path = ready(key)
                self.assertTrue(path.is_closed)
                x0, y0, x1, y1 = path.bounds
                self.assertAlmostEqual(x0, 0, places=9)
                self.assertAlmostEqual(y0, 0, places=9)
                # nothing crosses itself: the union has the same area under both rules and no node more
                clean = outline.union([path])
                self.assertAlmostEqual(clean.area, outline.union([path.with_fill_rule("evenodd")]).area, places=6)
                self.assertLessEqual(clean.node_count, path.node_count)
                self.assertGreater(clean.area, 0.1 * x1 * y1)

    def test_few_nodes(self):
        for key, one in READY.items():
            self.assertLessEqual(ready(key).node_count, 400 if one.many else 25, key)

    def test_each_has_a_category_with_others_in_it(self):
        found = Counter(one.category for one in READY.values())
        wanted = {"Corners", "Flourishes", "Rosettes", "Brackets and frames", "Scallops and edges",
                  "Cards and tickets", "Labels and ribbons", "Leaves", "Waves", "Shapes", "Signs"}  # fmt: skip
        self.assertEqual(set(found), wanted)
        self.assertGreaterEqual(min(found.values()), 8)

    def test_mirrored_ornaments_are_even(self):
        # their area is the same on both sides of the middle
        for key in ("brace", "flourish-pair", "flourish-crest", "frame-bracketed", "corner-curl"):
            path = outline.union([ready(key)])
            x0, y0, x1, y1 = path.bounds
            if key == "corner-curl":
                half = outline.Path.from_svg(f"M0 0L{x1} {x1}H0Z")
            elif key == "brace":
                half = outline.rectangle(x1, y1 / 2)
            else:
                half = outline.rectangle((x0 + x1) / 2, y1)
            self.assertAlmostEqual(outline.intersect([path, half]).area, path.area / 2, delta=0.002 * path.area)

    def test_round_triangle_is_a_reuleaux_triangle(self):
        # (π - √3) s² / 2: area of the Reuleaux triangle of width s
        import math

        self.assertAlmostEqual(ready("round-triangle").area, (math.pi - math.sqrt(3)) / 2 * 1e4, delta=3)

    def test_soft_square_is_near_its_formula(self):
        for x, y in outline_points(ready("squircle")):
            self.assertAlmostEqual(((x - 50) / 50) ** 4 + ((y - 50) / 50) ** 4, 1, delta=0.08)

    def test_unknown(self):
        with self.assertRaisesRegex(OutlineError, "no ready outline"):
            ready("spaceship")


def outline_points(path):
    from .cases import flatten

    return flatten(path, 16)[0]


class Boxed(unittest.TestCase):
    def test_polygons_and_stars_at_their_natural_size_are_regular(self):
        import math

        for n in (3, 5, 6, 8, 60):
            shape = outline.polygon(n, 10)
            x0, y0, x1, y1 = shape.bounds
            again = outline.boxed(shape, x1 - x0, y1 - y0)
            # n/2 · r² · sin(2π/n)
            self.assertAlmostEqual(again.area, n / 2 * 100 * math.sin(2 * math.pi / n), places=6)
            star = outline.star(n, 10, 4)
            # n · r · q · sin(π/n)
            self.assertAlmostEqual(star.area, n * 10 * 4 * math.sin(math.pi / n), places=6)
        self.assertEqual(outline.boxed(outline.polygon(5, 1), 30, 20).bounds, (0, 0, 30, 20))
