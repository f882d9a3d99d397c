"""Measures against closed forms and shapely."""

import math
import random
import unittest

import numpy as np
import shapely
import skia

import outline
from outline import Matrix, OutlineError, Path
from outline.curves.measure import centroid, distance, length, margins
from picture.draw.skiapath import to_skia

from .cases import any_path
from .test_operations import to_shapely


class Lengths(unittest.TestCase):
    def test_polygon_and_circle(self):
        self.assertAlmostEqual(length(outline.polygon(6, 5)), 30, delta=1e-12)
        # the four-cubic circle's length differs from 2 π by about 0.014 %
        self.assertAlmostEqual(length(outline.ellipse(1, 1)) / (2 * math.pi), 1, delta=2e-4)

    def test_parabola(self):
        # y = x² from 0 to 1: √5/2 + asinh(2)/4 (any calculus text)
        arc = Path.from_svg("M0 0Q.5 0 1 1")
        self.assertAlmostEqual(length(arc), math.sqrt(5) / 2 + math.asinh(2) / 4, delta=1e-9)

    def test_a_cusp(self):
        cusp = Path.from_svg("M0 0C1 1 0 1 1 0")
        fine = np.concatenate([[0], 0.5 + np.linspace(-0.5, 0.5, 200_001)])
        s = 1 - fine
        points = np.stack([3 * s * s * fine + fine**3, 3 * s * s * fine + 3 * s * fine**2], axis=1)
        self.assertAlmostEqual(length(cusp), np.hypot(*np.diff(points, axis=0).T).sum(), delta=1e-6)


class Centroids(unittest.TestCase):
    def test_half_disc(self):
        # 4 r / 3 π above the flat side
        half = outline.intersect([outline.ellipse(3, 3), Path.from_svg("M-9 0H9V9H-9Z")])
        x, y = centroid(half)
        self.assertAlmostEqual(x, 0, delta=1e-9)
        self.assertAlmostEqual(y, 4 * 3 / (3 * math.pi), delta=1e-3)

    def test_against_shapely(self):
        for seed in range(20):
            p = any_path(random.Random(seed))
            if outline.union([p]).area < 1e-6:
                continue
            want = to_shapely(p).centroid
            x, y = centroid(p)
            with self.subTest(seed=seed):
                self.assertAlmostEqual(x, want.x, delta=2e-3)
                self.assertAlmostEqual(y, want.y, delta=2e-3)

    def test_no_area_no_centroid(self):
        with self.assertRaises(OutlineError):
            centroid(Path.from_svg("M0 0L1 1Z"))


class Distances(unittest.TestCase):
    def test_circles(self):
        self.assertAlmostEqual(distance(outline.ellipse(2, 2), outline.ellipse(1, 1, 7, 0)), 4, delta=1e-7)
        self.assertEqual(distance(outline.ellipse(2, 2), outline.ellipse(2, 2, 1, 0)), 0)
        self.assertAlmostEqual(distance(outline.ellipse(5, 5), outline.ellipse(2, 2)), 3, delta=3e-3)

    def test_against_shapely(self):
        for seed in range(20):
            r = random.Random(seed)
            a, b = any_path(r), any_path(r).transform(Matrix.move(11, 3))
            lines = [shapely.MultiLineString([x.exterior for x in shapely.get_parts(to_shapely(p))]) for p in (a, b)]
            if any(x.is_empty for x in lines):
                continue
            unions = [outline.union([p]) for p in (a, b)]
            with self.subTest(seed=seed):
                self.assertAlmostEqual(distance(*unions), lines[0].distance(lines[1]), delta=2e-3)

    def test_empty(self):
        with self.assertRaises(OutlineError):
            distance(Path(), outline.ellipse(1, 1))


class Margins(unittest.TestCase):
    def test_four_sides(self):
        plate = outline.subtract(outline.rectangle(100, 60), [outline.ellipse(20, 10, 46, 32)])
        (m,) = margins(plate)
        got = [round(v, 9) for v in (m.left, m.right, m.top, m.bottom)]
        self.assertEqual(got, [26, 34, 22, 18])
        self.assertFalse(m.even)

    def test_nested_rings_measure_in_their_own_border(self):
        rings = outline.exclude([outline.ellipse(r, r) for r in (10, 8, 5, 4)])
        self.assertEqual(sorted(round(m.left, 9) for m in margins(rings)), [1, 2])
        self.assertTrue(all(m.even for m in margins(rings)))
        self.assertEqual(margins(outline.ellipse(3, 3)), [])


class StrokeBounds(unittest.TestCase):
    """The box of a stroke, against the outline that Skia draws of it, and closed forms."""

    def test_against_skia(self):
        for seed in range(60):
            r = random.Random(seed)
            spots = [f"{r.uniform(0, 100):.3f} {r.uniform(0, 100):.3f}" for _ in range(17)]
            d = f"M{spots[0]}"
            for k in range(1, 1 + 3 * r.randint(1, 5), 3):
                d += r.choice((f"L{spots[k]}", f"C{spots[k]} {spots[k + 1]} {spots[k + 2]}"))
            path = Path.from_svg(d + r.choice(("", "Z")))
            width = r.choice((0.5, 3, 9))
            pen = skia.Paint(Style=skia.Paint.kStroke_Style, StrokeWidth=width, StrokeMiter=4)
            covered = skia.Path()
            pen.getFillPath(to_skia(path), covered, None, 64)
            want = covered.computeTightBounds()
            got = outline.stroke_bounds(path, width)
            for a, b in zip(got, (want.left(), want.top(), want.right(), want.bottom()), strict=True):
                with self.subTest(seed=seed, d=d):
                    self.assertAlmostEqual(a, b, delta=0.02 + 0.01 * width)

    def test_a_triangle_with_a_sharp_tip(self):
        # a tip of angle a reaches w / 2 / sin(a / 2) beyond its node, up to the miter limit (SVG 2, 13.5.7)
        for half in (10.0, 20.0, 40.0):
            run = 50 * math.tan(math.radians(half))
            path = Path.from_svg(f"M0 50L{run} 0L{-run} 0Z")
            tip = 1 / math.sin(math.radians(half))
            y1 = outline.stroke_bounds(path, 2)[3]
            self.assertAlmostEqual(y1, 50 + (tip if tip <= 4 else math.sin(math.radians(half))), places=9)
        self.assertIsNone(outline.stroke_bounds(Path(), 2))
