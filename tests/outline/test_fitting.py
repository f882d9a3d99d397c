"""Fitting and simplifying hold their tolerance."""

import math
import unittest

import numpy as np

import outline
from outline import OutlineError, Path
from outline.curves.fitting import deviation, fit, simplify
from outline.curves.measure import part_of

from .cases import distance


def stroke(noise: float, n: int = 300) -> np.ndarray:
    rng = np.random.default_rng(3)
    t = np.linspace(0, 2 * math.pi, n)
    r = 50 * (1 + 0.2 * np.sin(3 * t))
    return np.stack([r * np.cos(t), r * np.sin(t)], axis=1) + rng.normal(0, noise, (n, 2))


class Fit(unittest.TestCase):
    def test_every_point_is_within_the_tolerance(self):
        for tolerance in (0.3, 1.0, 3.0):
            for closed in (False, True):
                p = stroke(0.1)
                path = fit(p, tolerance, closed=closed)
                with self.subTest(tolerance=tolerance, closed=closed):
                    self.assertLessEqual(distance(path, p, 400).max(), tolerance * 1.001)
                    self.assertEqual(path.is_closed, closed)
                    self.assertLess(path.node_count, 60)

    def test_fewer_nodes_for_more_tolerance(self):
        counts = [fit(stroke(0.1), t, closed=True).node_count for t in (0.3, 1.0, 3.0)]
        self.assertEqual(counts, sorted(counts, reverse=True))
        self.assertLessEqual(counts[-1], 8)

    def test_corners_are_kept(self):
        side = np.linspace(0, 10, 21)[:-1]
        none, full = 0 * side, 10 + 0 * side
        sides = ((side, none), (full, side), (10 - side, full), (none, 10 - side))
        square = np.concatenate([np.stack(s, axis=1) for s in sides])
        path = fit(square, 0.05, closed=True)
        self.assertEqual(path.node_count, 4)
        self.assertAlmostEqual(path.area, 100, delta=0.1)

    def test_bad_points(self):
        for points in ([], [(1, 1)], [(1, 1), (1, 1)], [(0, 0), (float("nan"), 1)], [1, 2, 3]):
            with self.subTest(points=points), self.assertRaises(OutlineError):
                fit(points, 1)
        with self.assertRaises(OutlineError):
            fit([(0, 0), (1, 1)], 0)


class Simplify(unittest.TestCase):
    def test_a_circle_of_forty_nodes(self):
        circle = outline.ellipse(10, 10)
        many = np.array([part_of(c, k / 10, (k + 1) / 10) for c in circle.arrays[0] for k in range(10)])
        path = Path(many, np.ones(40, np.int8), np.array([0, 40], np.int32), np.array([True]))
        for tolerance in (0.3, 0.05):
            less = simplify(path, tolerance)
            with self.subTest(tolerance=tolerance):
                self.assertLessEqual(less.node_count, 8)
                for a, b in ((path, less), (less, path)):
                    self.assertLessEqual(deviation(a, b, tolerance / 4), tolerance)
                    points = np.concatenate([part.arrays[0].reshape(-1, 4, 2)[:, 0] for part in a.subpaths])
                    self.assertLessEqual(distance(b, points, 400).max(), tolerance)

    def test_corners_and_what_cannot_be_simpler_stay(self):
        star = outline.star(5, 10, 4)
        self.assertEqual(simplify(star, 0.1), star)
        with self.assertRaises(OutlineError):
            simplify(star, 0)

    def test_deviation_is_an_upper_bound(self):
        a, b = outline.ellipse(10, 10), outline.ellipse(10.5, 10.5)
        self.assertGreaterEqual(deviation(a, b, 0.01), 0.5)
        self.assertLess(deviation(a, b, 0.01), 0.52)
