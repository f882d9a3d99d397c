"""Edge runs: tooth counts, flank angles and ends by arithmetic."""

import math
import unittest

import numpy as np

import outline
from outline import EDGES, OutlineError, Path, edge_run

from .cases import flatten


class Zigzag(unittest.TestCase):
    def test_tooth_count_and_flank_angle(self):
        # common practice: 45° for a plain zigzag, height = half a tooth · tan(flank)
        for length, pitch, flank in ((300, 10, 45), (300, 10, 60), (1234.5, 17, 30), (5, 20, 45)):
            with self.subTest(length=length, pitch=pitch, flank=flank):
                run = edge_run(Path.from_svg(f"M10 20H{10 + length}"), "zigzag", pitch, flank=flank)
                points = flatten(run, 1)[0][:-1]  # without the way back
                n = max(1, round(length / pitch))
                self.assertEqual(len(points), 2 * n + 1)
                steps = np.diff(points, axis=0)
                angles = np.degrees(np.arctan2(np.abs(steps[:, 1]), steps[:, 0]))
                np.testing.assert_allclose(angles, flank, atol=1e-9)
                np.testing.assert_allclose(points[::2, 1], 20, atol=1e-9)

    def test_a_slanted_line_is_the_same_turned(self):
        flat = flatten(edge_run(Path.from_svg("M0 0H100"), "zigzag", 10), 1)[0]
        slanted = flatten(edge_run(Path.from_svg("M0 0L60 80"), "zigzag", 10), 1)[0]
        turned = flat @ np.array([[0.6, 0.8], [-0.8, 0.6]])
        np.testing.assert_allclose(slanted, turned, atol=1e-9)


class Every(unittest.TestCase):
    LINES = ("M3 4H250", "M0 0L-70 90", "M0 0C40-80 120 80 200 0", "M0 0H80V90L10 40")

    def test_ends_meet_the_line_s_ends_exactly(self):
        for kind in EDGES:
            for d in self.LINES:
                for inward in (False, True):
                    with self.subTest(kind=kind, line=d, inward=inward):
                        base = Path.from_svg(d)
                        run = edge_run(base, kind, 9, inward=inward)
                        self.assertFalse(run.is_closed)
                        a, b = base.arrays[0], run.arrays[0]
                        self.assertEqual(b[0, :2].tolist(), a[0, :2].tolist())
                        self.assertEqual(b[-1, 6:].tolist(), a[-1, 6:].tolist())

    def test_corners_of_a_rectangle_stay_its_corners(self):
        for kind in EDGES:
            run = edge_run(outline.rectangle(120, 80), kind, 11)
            nodes = {tuple(c[:2]) for c in run.arrays[0].tolist()}
            self.assertLessEqual({(0, 0), (120, 0), (120, 80), (0, 80)}, nodes)

    def test_one_side_alone(self):
        base = outline.rectangle(100, 60)
        run = edge_run(base, "zigzag", 10, sides=[2])
        self.assertEqual(run.node_count, 4 + 19)
        self.assertEqual(run.bounds, (0, 0, 100, 65))
        self.assertAlmostEqual(run.area, 6000 + 10 * 25)
        self.assertEqual(edge_run(base, "zigzag", 10, sides=[2], inward=True).bounds, (0, 0, 100, 60))

    def test_torn_is_the_same_for_the_same_seed(self):
        line = Path.from_svg("M0 0H400")
        self.assertEqual(edge_run(line, "torn", 8, seed=5), edge_run(line, "torn", 8, seed=5))
        self.assertNotEqual(edge_run(line, "torn", 8, seed=5), edge_run(line, "torn", 8, seed=6))
        heights = np.abs(flatten(edge_run(line, "torn", 8, depth=3, seed=5), 1)[0][:, 1])
        self.assertLessEqual(heights.max(), 3)
        self.assertGreater(heights.max(), 1.5)

    def test_wave_is_a_sine(self):
        for x, y in flatten(edge_run(Path.from_svg("M0 0H200"), "wave", 50, depth=12), 64)[0]:
            self.assertAlmostEqual(y, -12 * math.sin(2 * math.pi * x / 50), delta=12 * 2e-3)

    def test_scallops_are_half_circles(self):
        for x, y in flatten(edge_run(Path.from_svg("M0 0H100"), "scallop", 20), 64)[0]:
            centre = 20 * min(4, math.floor(x / 20)) + 10
            self.assertAlmostEqual(math.hypot(x - centre, y), 10, delta=10 * 3e-4)

    def test_perforations_are_half_circles_in_the_area(self):
        stamp = edge_run(outline.rectangle(120, 96), "perforated", 12)
        holes = 2 * (10 + 8)
        self.assertAlmostEqual(stamp.area, 120 * 96 - holes * math.pi * 3.6**2 / 2, delta=holes * 0.02)

    def test_teeth_on_a_circle_lie_on_it(self):
        run = edge_run(outline.ellipse(100, 100), "zigzag", 10)
        radii = np.hypot(*run.arrays[0][:, :2].T)
        teeth = round(2 * math.pi * 100 / 10)
        self.assertEqual(len(radii), 2 * teeth)
        np.testing.assert_allclose(radii[::2], 100, rtol=3e-4)
        np.testing.assert_allclose(radii[1::2], 105, rtol=1e-3)

    def test_bad_input_is_told(self):
        line = Path.from_svg("M0 0H100")
        for args, more, words in (
            (("lace", 5), {}, "no edge"),
            (("wave", 0), {}, "greater than 0"),
            (("zigzag", 5), {"flank": 90}, "5 to 85"),
            (("wave", 5), {"depth": -1}, "depth"),
            (("wave", 1e-3), {}, "5,000"),
        ):
            with self.assertRaisesRegex(OutlineError, words):
                edge_run(line, *args, **more)
