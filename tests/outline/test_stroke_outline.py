"""What a border covers against shapely's buffer and closed forms, and dashes against their lengths."""

import math
import random
import unittest

import numpy as np
import shapely

import outline
from outline import OutlineError, Path, dashed, length, stroke_outline

from .test_operations import to_shapely

THEIRS = {"butt": "flat", "round": "round", "square": "square", "bevel": "bevel", "miter": "mitre"}
LINES = (
    "M0 0H100", "M0 0L50 10L50 50", "M0 0C30 60 60 -60 100 0", "M0 0L50 50L50 0L0 50", "M0 0H50L20 40", "M0 0H50H10",
    "M0 0C0 0 50 0 50 50C50 50 50 100 100 100", "M0 0H60M30 -30V60M0 80C20 60 40 100 60 80",
)  # fmt: skip


def line_of(path: Path) -> shapely.Geometry:
    """Return the lines of a path, each curve in 400 steps."""
    lines = []
    t = np.linspace(0, 1, 401)[:, None]
    for part in path.subpaths:
        curves = part.arrays[0].reshape(-1, 4, 2)
        at = [
            (1 - t) ** 3 * c[0] + 3 * (1 - t) ** 2 * t * c[1] + 3 * (1 - t) * t**2 * c[2] + t**3 * c[3] for c in curves
        ]
        lines.append(shapely.LineString(shapely.remove_repeated_points(shapely.LineString(np.concatenate(at)))))
    return shapely.MultiLineString(lines)


class Band(unittest.TestCase):
    def apart(self, path: Path, width: float, join: str, cap: str) -> float:
        """Return by how much of its area what is covered is off from shapely's."""
        want = shapely.buffer(
            line_of(path), width / 2, quad_segs=64, cap_style=THEIRS[cap], join_style=THEIRS[join], mitre_limit=4
        )
        return (
            shapely.symmetric_difference(to_shapely(stroke_outline(path, width, join=join, cap=cap)), want).area
            / want.area
        )

    def test_against_shapely(self):
        for d in LINES:
            # beyond its limit a miter is cut off elsewhere by shapely, not by SVG's rule
            joins = ("round", "bevel") if "L20 40" in d or "H10" in d or "L50 50L" in d else ("round", "bevel", "miter")
            for join in joins:
                for cap in outline.CAPS:
                    with self.subTest(line=d, join=join, cap=cap):
                        self.assertLessEqual(self.apart(Path.from_svg(d), 8, join, cap), 0.003)

    def test_random_lines_against_shapely(self):
        hand = random.Random(5)
        for number in range(40):
            d = f"M{hand.uniform(0, 100)} {hand.uniform(0, 100)}"
            for _ in range(hand.randint(1, 6)):
                places = [hand.uniform(0, 100) for _ in range(4)]
                d += "L{} {}".format(*places[:2]) if hand.random() < 0.5 else "Q{} {} {} {}".format(*places)
            width = hand.choice((1, 3, 8, 20))
            with self.subTest(number, line=d, width=width):
                self.assertLessEqual(self.apart(Path.from_svg(d), width, "round", "round"), 0.003)

    def test_a_cusp_within_a_curve_has_the_join_of_its_line(self):
        # both ways of a cusp: a cubic whose derivative is 0 at its middle, and one that misses that by little
        for d in ("M0 0C100 100 0 100 100 0", "M0 0C100 100 .3 100 100 0", "M-157 88C222 243 110 -24 -46 355Z"):
            for join in ("round", "bevel"):
                # what is nearly a cusp is round: a curve has no corner there
                if join == "bevel" and d != "M0 0C100 100 0 100 100 0":
                    continue
                for width in (8, 26.7):
                    with self.subTest(line=d, join=join, width=width):
                        self.assertLessEqual(self.apart(Path.from_svg(d), width, join, "butt"), 0.002)
        # its miter would be endless, and so it is bevelled (SVG 2, 13.5.7)
        cusp = Path.from_svg("M0 0C100 100 0 100 100 0")
        self.assertEqual(
            stroke_outline(cusp, 8, join="miter").to_svg(6), stroke_outline(cusp, 8, join="bevel").to_svg(6)
        )

    def test_closed_lines_have_two_sides(self):
        square = Path.from_svg("M0 0H40V40H0Z")
        self.assertAlmostEqual(stroke_outline(square, 10).area, 50**2 - 30**2, delta=1e-9)
        self.assertAlmostEqual(stroke_outline(square, 10, join="bevel").area, 50**2 - 30**2 - 4 * 12.5, delta=1e-9)
        # a ring of the mean radius: its circumference times the width
        self.assertAlmostEqual(stroke_outline(outline.ellipse(20, 20), 6).area / (2 * math.pi * 20 * 6), 1, delta=1e-3)
        # wider than what it goes round, it covers all of it
        self.assertAlmostEqual(stroke_outline(square, 50).area, 90**2, delta=1e-9)

    def test_a_miter_has_its_limit(self):
        # SVG 2, 13.5.7: 1 / sin of half the angle, here of 30 degrees, is 3.86
        corner = Path.from_svg(f"M100 0H0L{100 * math.cos(math.pi / 6)} 50")
        tip = 1 / math.sin(math.pi / 12)
        self.assertAlmostEqual(
            math.hypot(*self.furthest(stroke_outline(corner, 2, join="miter", miter_limit=tip + 1e-6))), tip, 6
        )
        self.assertLess(
            math.hypot(*self.furthest(stroke_outline(corner, 2, join="miter", miter_limit=tip - 1e-6))), 1.1
        )

    def furthest(self, path: Path) -> tuple[float, float]:
        """Return its node furthest to the left."""
        nodes = path.arrays[0][:, :2]
        return tuple(nodes[nodes[:, 0].argmin()])

    def test_a_line_of_no_length_is_its_caps(self):
        dot = Path.from_svg("M5 5L5 5")
        self.assertAlmostEqual(stroke_outline(dot, 8, cap="round").area, math.pi * 16, delta=0.05)
        self.assertAlmostEqual(stroke_outline(dot, 8, cap="square").area, 64, delta=1e-6)
        self.assertTrue(stroke_outline(dot, 8, cap="butt").is_empty)
        self.assertTrue(stroke_outline(Path(), 8).is_empty)
        # and where a longer line stays in one place for a while, nothing is added
        self.assertAlmostEqual(
            stroke_outline(Path.from_svg("M5 5L5 5L50 50L50 50"), 8, join="round").area, 45 * 8 * math.sqrt(2), 9
        )

    def test_what_it_cannot_take_is_said(self):
        line = Path.from_svg("M0 0H9")
        for how in ({"join": "arcs"}, {"cap": "flat"}, {"miter_limit": 0.5}):
            self.assertRaises(OutlineError, stroke_outline, line, 2, **how)
        for width in (0, -1, math.nan, math.inf):
            self.assertRaises(OutlineError, stroke_outline, line, width)


class Dashed(unittest.TestCase):
    def test_lengths_along_a_line_and_round_its_corners(self):
        made = [round(length(p), 6) for p in dashed(Path.from_svg("M0 0H30V21"), [8, 3, 2]).subpaths]
        # of odd number, twice over: 8 3 2 8 3 2, and so on to 51
        self.assertEqual(made, [8, 2, 3, 8, 2, 3])
        (whole,) = dashed(Path.from_svg("M0 0H9"), [20, 1]).subpaths
        self.assertEqual(whole.to_svg(6), "M0 0H9")

    def test_along_a_curve(self):
        circle = outline.ellipse(10, 10)
        made = list(dashed(circle, [math.pi, 0.8]).subpaths)
        self.assertEqual(len(made), 16)
        for part in made:
            self.assertAlmostEqual(length(part), math.pi, 3)
            for x, y in part.arrays[0].reshape(-1, 8)[:, :2]:
                self.assertAlmostEqual(math.hypot(x, y), 10, delta=0.01)

    def test_each_subpath_begins_anew_and_dots_lie_along(self):
        dots = dashed(Path.from_svg("M0 0L20 20M50 0H70"), [0, 10])
        self.assertEqual(len(list(dots.subpaths)), 5)
        squares = stroke_outline(dots, 2, cap="square")
        self.assertAlmostEqual(squares.area, 5 * 4, delta=1e-3)
        # the first lies as the line does: its corner points upwards
        self.assertAlmostEqual(squares.bounds[1], -math.sqrt(2), 3)

    def test_what_it_cannot_take_is_said(self):
        line = Path.from_svg("M0 0H1000")
        for lengths in ([], [0, 0], [3, -1], [math.inf, 1], [0.01, 0.01]):
            self.assertRaises(OutlineError, dashed, line, lengths)
