"""Paths as values: reading and writing SVG path data, measures, transforms."""

import math
import random
import re
import unittest
from unittest.mock import patch

import numpy as np

import outline
from outline import Matrix, Path, PathError
from outline.path import svgpath
from outline.path.arcs import arc_to_cubics

from .cases import any_path, flatten


class Values(unittest.TestCase):
    def test_what_a_path_is_made_of_can_only_be_read(self):
        path = outline.ellipse(30, 20)
        for array in path.arrays:
            with self.assertRaisesRegex(ValueError, "read-only"):
                array[0] = 1
        with self.assertRaises(AttributeError):
            path.fill_rule = "evenodd"
        self.assertAlmostEqual(outline.union([path, path]).area, path.area)


class Reading(unittest.TestCase):
    """The grammar of SVG 2, section 9.3."""

    def test_commands_absolute_and_relative(self):
        same = [
            "M10 10H30V20H10Z",
            "m10,10h20v10h-20z",
            "M10 10L30 10 30 20 10 20z",
            "m 10 10 l 20 0 0 10 -20 0 z",
            "M10-0+10L3e1 10L30 .2e2L1.0e1,20Z",
        ]
        self.assertEqual(Path.from_svg(same[0]).to_svg(), "M10 10H30V20H10Z")
        for d in same[1:4]:
            with self.subTest(d=d):
                self.assertEqual(Path.from_svg(d), Path.from_svg(same[0]))

    def test_numbers_run_together(self):
        a = Path.from_svg("M1.5.5L-.5-1e-1")
        self.assertEqual(a.arrays[0][0, [0, 1, 6, 7]].tolist(), [1.5, 0.5, -0.5, -0.1])

    def test_smooth_commands_mirror_the_handle(self):
        a = Path.from_svg("M0 0C0 1 1 2 2 2S4 1 4 0")
        b = Path.from_svg("M0 0C0 1 1 2 2 2C3 2 4 1 4 0")
        self.assertEqual(a, b)
        self.assertEqual(Path.from_svg("M0 0Q1 2 2 0T4 0"), Path.from_svg("M0 0Q1 2 2 0Q3 -2 4 0"))

    def test_quadratics_are_exact(self):
        area = Path.from_svg("M0 0Q1 2 2 0Z").area
        self.assertAlmostEqual(area, 2 * 2 * 2 / 3 / 2, delta=1e-12)  # parabola: 2/3 of its triangle's box

    def test_arc_flags_run_together(self):
        self.assertEqual(Path.from_svg("M0 0a5 5 0 1110 0"), Path.from_svg("M0 0a5 5 0 1 1 10 0"))

    def test_arcs_lie_on_their_ellipse(self):
        # SVG 2, appendix B.2.4: every flag form of one pair of ends
        for large in (0, 1):
            for sweep in (0, 1):
                p = Path.from_svg(f"M100 100A60 40 30 {large} {sweep} 160 130")
                points = flatten(p, 40, close=False)[0]
                back = Matrix.turn(-30)
                local = np.array([back(*q) for q in points]) / (60, 40)
                # three points fix the centre; all others must be at distance 1
                centre = np.linalg.lstsq(
                    2 * (local[1:] - local[0]), (local[1:] ** 2).sum(1) - (local[0] ** 2).sum(), rcond=None
                )[0]
                radii = np.hypot(*(local - centre).T)
                self.assertLess(abs(radii - 1).max(), 1e-6)
                turned = np.unwrap(np.arctan2(*(local - centre).T[::-1]))
                self.assertEqual(abs(turned[-1] - turned[0]) > math.pi, bool(large))
                self.assertEqual(turned[-1] > turned[0], bool(sweep))

    def test_arc_corner_cases(self):
        # B.2.5: a zero radius is a line, radii too small grow
        self.assertEqual(len(arc_to_cubics((0, 0), 0, 5, 0, False, True, (9, 0))), 1)
        self.assertEqual(arc_to_cubics((1, 1), 5, 5, 0, False, True, (1, 1)), [])
        half = Path.from_svg("M0 0A1 1 0 0 1 10 0Z")
        self.assertAlmostEqual(half.area, math.pi * 25 / 2, delta=1e-5)

    def test_mistakes_name_their_position(self):
        for d, at in (
            ("M0 0L10", 7),
            ("L0 0", 0),
            ("M0 0 L1 1 k", 10),
            ("M0 0A1 1 0 2 0 5 5", 11),
            ("M0,0 L1e999 0", 6),
        ):
            with self.subTest(d=d), self.assertRaises(PathError) as caught:
                Path.from_svg(d)
            self.assertEqual(caught.exception.position, at)

    def test_what_is_no_number_is_refused(self):
        for bad in (float("nan"), float("inf"), -float("inf"), 1e300):
            with self.subTest(value=bad), self.assertRaises(PathError):
                Path.from_points([(0, 0), (bad, 1), (2, 2)])
        with self.assertRaises(PathError):
            Path.from_svg("M0 0" + "L1 1" * 200_001)
        with self.assertRaises(PathError):
            Path(fill_rule="odd")
        with self.assertRaises(PathError):
            Path.from_svg("M0 0L1e-200 0L0 1e-200Z")

    def test_writing_and_reading_again(self):
        for seed in range(50):
            p = any_path(random.Random(seed))
            self.assertEqual(Path.from_svg(p.to_svg(), p.fill_rule).to_svg(), p.to_svg())

    def test_numbers_are_written_as_short_as_python_does_and_the_same_without_msgspec(self):
        hand = random.Random(7)
        for k in range(200):
            values = [hand.uniform(-1, 1) * 10 ** hand.uniform(-8, 9) for _ in range(8)]
            values += [hand.choice((0.0, -0.0, 1.0, -1e-5, 5e-324, 0.5, -0.25, 100.0, 2.0**49)) for _ in range(k % 7)]
            path = Path.from_points(list(zip(values[::2], values[1::2], strict=False)), closed=False)
            text = path.to_svg()
            for number in re.findall(r"[-+.e\d]+", text):
                self.assertEqual(float(number), float(repr(float(number))))
                self.assertLessEqual(len(number), len(repr(float(number))))
            with patch.object(svgpath, "encode", None):
                self.assertEqual(path.to_svg(), text)


class Measures(unittest.TestCase):
    def test_bounds_are_exact(self):
        x0, y0, x1, y1 = outline.ellipse(5, 3, 10, 20).transform(Matrix.turn(30, (10, 20))).bounds
        half_w = math.hypot(5 * math.cos(math.radians(30)), 3 * math.sin(math.radians(30)))
        self.assertAlmostEqual((x1 - x0) / 2, half_w, delta=half_w * 3e-4)
        self.assertAlmostEqual((x0 + x1) / 2, 10, delta=1e-9)
        self.assertAlmostEqual((y0 + y1) / 2, 20, delta=1e-9)
        self.assertIsNone(Path().bounds)

    def test_area_counts_what_is_filled(self):
        twice = "M0 0H4V4H0ZM1 1H3V3H1Z"
        self.assertEqual(Path.from_svg(twice).area, 16)
        self.assertEqual(Path.from_svg(twice, "evenodd").area, 12)

    def test_contains(self):
        ring = Path.from_svg("M0 0H4V4H0ZM1 1H3V3H1Z", "evenodd")
        self.assertTrue(ring.contains((0.5, 2)))
        self.assertFalse(ring.contains((2, 2)))
        self.assertTrue(ring.with_fill_rule("nonzero").contains((2, 2)))
        self.assertFalse(ring.contains((5, 2)))
        self.assertFalse(Path().contains((0, 0)))

    def test_node_count_of_open_and_closed(self):
        self.assertEqual(Path.from_svg("M0 0L1 0L1 1").node_count, 3)
        self.assertEqual(Path.from_svg("M0 0L1 0L1 1Z").node_count, 3)


class Transforms(unittest.TestCase):
    def test_area_grows_by_the_determinant(self):
        m = Matrix(2, 0.5, -1, 3, 7, 9)
        p = outline.star(5, 3, 1)
        self.assertAlmostEqual(p.transform(m).area, p.area * m.determinant, delta=1e-9)

    def test_inverse_and_composition(self):
        m = Matrix.turn(33, (4, 5)) @ Matrix.resize(2, 0.5, (1, 1))
        x, y = m.inverse()(*m(3, -2))
        self.assertAlmostEqual(x, 3)
        self.assertAlmostEqual(y, -2)
        self.assertEqual(Matrix.turn(90)(1, 0), (0, 1))
        with self.assertRaises(ValueError):
            Matrix.resize(0, 1).inverse()
        with self.assertRaises(ValueError):
            Matrix(float("nan"))


class Shapes(unittest.TestCase):
    def test_radii_that_do_not_fit_shrink_together(self):
        # CSS Backgrounds 3, 5.5: all radii by the same factor
        pill = outline.rectangle(10, 4, (4, 4, 4, 4))
        self.assertAlmostEqual(pill.area, 40 - (16 - math.pi * 4), delta=0.01)
        self.assertEqual(pill.bounds, (0, 0, 10, 4))

    def test_corner_keeps_to_its_circle(self):
        p = outline.rectangle(10, 10, (3, 0, 0, 0))
        corner = [q for q in flatten(p, 50)[0] if q[0] < 3 - 1e-9 and q[1] < 3 - 1e-9]
        radii = [math.hypot(x - 3, y - 3) for x, y in corner]
        self.assertLess(max(abs(r / 3 - 1) for r in radii), 0.0003)

    def test_bad_numbers(self):
        for make in (
            lambda: outline.rectangle(0, 1),
            lambda: outline.ellipse(1, -1),
            lambda: outline.polygon(2, 1),
            lambda: outline.star(5, 1, 0),
            lambda: outline.rectangle(1, 1, (-1, 0, 0, 0)),
        ):
            with self.assertRaises(outline.ShapeError):
                make()
