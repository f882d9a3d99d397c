"""Offsets against shapely's buffer and closed forms; corners rounded."""

import math
import random
import unittest

import numpy as np
import shapely

import outline
from outline import OutlineError, Path
from outline.curves.measure import point_at
from outline.curves.offset import offset, round_corners

from .test_operations import to_shapely

SHAPES = {
    "circle": outline.ellipse(10, 10),
    "rectangle": outline.rectangle(20, 10),
    "star": outline.star(5, 10, 4),
    "rounded": outline.rectangle(20, 10, (3, 3, 3, 3)),
    "ring": outline.exclude([outline.ellipse(10, 10), outline.ellipse(5, 5, 2, 0)]),
    "corner": Path.from_svg("M0 0H10V4H4V10H0Z"),
    "dumbbell": Path.from_svg("M0 0H10V4.2H12V0H22V10H12V5.8H10V10H0Z"),
    "leaf": Path.from_svg("M0 0C0 10 10 10 10 20C20 10 10 0 0 0Z"),
}


class Offset(unittest.TestCase):
    def test_against_shapely(self):
        for name, path in SHAPES.items():
            for d in (1.0, 3.0, -1.0, -1.5, -4.0):
                for join, theirs in (("round", "round"), ("miter", "mitre")):
                    with self.subTest(shape=name, distance=d, join=join):
                        want = to_shapely(path).buffer(d, quad_segs=64, join_style=theirs, mitre_limit=4)
                        got = offset(path, d, join=join, miter_limit=4)
                        apart = shapely.symmetric_difference(to_shapely(got), want).area
                        # an error of 0.01 of the distance all along the border, at most
                        self.assertLessEqual(apart, 0.01 * abs(d) * max(want.length, to_shapely(path).length / 4))

    def test_parts_fall_away_and_holes_close(self):
        self.assertEqual(len(list(offset(SHAPES["dumbbell"], -1).subpaths)), 2)
        ring = SHAPES["ring"]
        self.assertEqual(len(list(ring.subpaths)), 2)
        self.assertEqual(len(list(offset(ring, 5.1).subpaths)), 1)
        self.assertTrue(offset(SHAPES["rectangle"], -5).is_empty)

    def test_nodes_stay_near_the_inputs(self):
        self.assertEqual(offset(SHAPES["circle"], 2).node_count, 4)
        self.assertEqual(offset(SHAPES["rectangle"], 2, join="miter").node_count, 4)
        self.assertEqual(offset(SHAPES["rectangle"], 2).node_count, 8)
        self.assertLessEqual(offset(SHAPES["leaf"], 2).node_count, 14)

    def test_steiner_formula(self):
        # a convex region grown by d: area + perimeter d + π d² (Steiner)
        p, d = outline.polygon(7, 6), 1.7
        exact = p.area + outline.length(p) * d + math.pi * d * d
        self.assertAlmostEqual(offset(p, d).area / exact, 1, delta=3e-4)

    def test_bevel_cuts_the_corner(self):
        # each corner of a square loses half of the square of the distance
        self.assertAlmostEqual(offset(outline.rectangle(10, 10), 2, join="bevel").area, 14 * 14 - 4 * 2, delta=1e-9)

    def test_random_regions_against_shapely(self):
        """Holes, islands in holes, parts that grow together and fall away; miters so long that none is cut off."""
        for seed in range(40):
            r = random.Random(seed)
            parts = []
            for _ in range(r.randint(2, 7)):
                x, y, w, h = r.uniform(0, 60), r.uniform(0, 60), r.uniform(4, 50), r.uniform(4, 50)
                kinds = (
                    outline.rectangle(1, 1),
                    outline.ellipse(1, 1),
                    outline.star(r.randint(3, 9), 1, 0.45),
                    outline.rectangle(4, 3, (1, 0, 0.5, 1)),
                )
                kind = r.choice(kinds)
                turn = outline.Matrix.turn(r.uniform(0, 360))
                parts.append(kind.transform(outline.Matrix(w / 2, 0, 0, h / 2, x, y) @ turn))
            region = outline.exclude(parts)
            d = r.choice((-4.0, -1.5, -0.4, 0.4, 1.5, 4.0))
            join, theirs = r.choice((("round", "round"), ("miter", "mitre")))
            with self.subTest(seed=seed, distance=d, join=join):
                flat = to_shapely(region, 96)
                want = flat.buffer(d, quad_segs=64, join_style=theirs, mitre_limit=40)
                got = to_shapely(offset(region, d, join=join, miter_limit=40), 96)
                apart = shapely.symmetric_difference(got, want).area
                self.assertLessEqual(apart, 0.012 * abs(d) * flat.length)

    def test_a_line_that_crosses_itself_a_thousand_times(self):
        r = random.Random(5)
        wild = Path.from_points([(r.uniform(0, 100), r.uniform(0, 80)) for _ in range(60)])
        want = to_shapely(outline.union([wild])).buffer(0.3, quad_segs=32)
        apart = shapely.symmetric_difference(to_shapely(offset(wild, 0.3)), want).area
        self.assertLess(apart, 0.02 * want.area)

    def test_bad_numbers(self):
        for distance, options in (
            (1, {"join": "flat"}),
            (float("nan"), {}),
            (1, {"join": "miter", "miter_limit": 0.5}),
        ):
            with self.assertRaises(OutlineError):
                offset(SHAPES["circle"], distance, **options)
        self.assertTrue(offset(Path(), 3).is_empty)


class RoundCorners(unittest.TestCase):
    def test_a_square(self):
        p = round_corners(outline.rectangle(10, 10), 2)
        self.assertAlmostEqual(p.area, 100 - (4 - math.pi) * 4, delta=0.005)
        self.assertEqual(p.node_count, 8)

    def test_an_arc_is_a_circle_s_whatever_it_turns(self):
        # seen from its centre, which lies on the bisector at radius / cos(turn / 2) from the corner
        for degrees in (20, 60, 90, 120, 150, 160, 170):
            with self.subTest(turn=degrees):
                turn = math.radians(degrees)
                line = Path.from_points([(-900, 0), (0, 0), (900 * math.cos(turn), 900 * math.sin(turn))], closed=False)
                rounded = round_corners(line, 5, which=[1])
                reach = 5 * math.tan(turn / 2)
                centre = np.array([-reach, 5.0])
                ctrl, kind, _, _ = rounded.arrays
                t = np.linspace(0, 1, 101)
                points = np.concatenate([point_at(c, t) for c, k in zip(ctrl, kind, strict=True) if k == 1])
                away = np.hypot(*(points - centre).T)
                self.assertLess(np.abs(away / 5 - 1).max(), 3e-4)
                self.assertAlmostEqual(float(np.hypot(*(points[0] - points[-1]))), 10 * math.sin(turn / 2), 9)

    def test_one_corner_and_a_radius_that_does_not_fit(self):
        self.assertEqual(round_corners(outline.rectangle(10, 10), 2, which=[0]).node_count, 5)
        held = round_corners(outline.rectangle(10, 10), 99)
        self.assertAlmostEqual(held.area, math.pi * 25, delta=0.03)

    def test_reflex_corners_and_curves(self):
        p = round_corners(SHAPES["corner"], 1)
        self.assertAlmostEqual(p.area, 64 - 5 * (1 - math.pi / 4) + (1 - math.pi / 4), delta=0.01)
        bite = outline.subtract(outline.rectangle(10, 10), [outline.ellipse(3, 3, 10, 5)])
        rounded = round_corners(bite, 0.5)
        self.assertAlmostEqual(rounded.area / bite.area, 1, delta=0.02)
        self.assertEqual(outline.union([rounded]).node_count, rounded.node_count)

    def test_smooth_nodes_are_no_corners(self):
        self.assertEqual(round_corners(SHAPES["circle"], 1).node_count, 4)
        with self.assertRaises(OutlineError):
            round_corners(SHAPES["circle"], -1)
