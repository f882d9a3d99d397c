"""Editing by nodes: what must stay, stays."""

import unittest

import numpy as np

import outline
from outline import OutlineError, Path
from outline.curves import nodes

CURVY = Path.from_svg("M0 0C10-30 40-30 50 0S90 40 100 0L100 60H0Z")


class Reading(unittest.TestCase):
    def test_there_and_back_is_the_same_path(self):
        for path in (
            CURVY,
            outline.ellipse(4, 3),
            outline.star(5, 10, 4),
            Path.from_svg("M0 0L5 5C6 6 9 9 9 4"),
            outline.lettering("Bo", "bitter", 90).path,
            outline.subtract(outline.ellipse(9, 9), [outline.ellipse(4, 4)]),
        ):
            self.assertEqual(nodes.of_runs(nodes.runs(path)), path)

    def test_kinds_are_read_off_the_handles(self):
        kinds = [n.kind for n in nodes.runs(CURVY)[0].nodes]
        self.assertEqual(kinds, ["corner", "symmetric", "corner", "corner", "corner"])
        self.assertEqual({n.kind for n in nodes.runs(outline.ellipse(5, 2))[0].nodes}, {"symmetric"})


class Changing(unittest.TestCase):
    def test_moving_takes_handles_along(self):
        made = nodes.runs(nodes.move_nodes(CURVY, [1], 3, 4))[0].nodes
        self.assertEqual((made[1].at, made[1].before, made[1].after), ((53, 4), (43, -26), (63, 34)))
        self.assertEqual(made[0].at, (0, 0))

    def test_a_smooth_node_s_other_handle_turns_along(self):
        path = nodes.move_handle(CURVY, 1, "after", 50, 25)
        node = nodes.runs(path)[0].nodes[1]
        self.assertAlmostEqual(node.before[0], 50)
        self.assertAlmostEqual(node.before[1], -25)
        alone = nodes.runs(nodes.move_handle(CURVY, 1, "after", 50, 25, alone=True))[0].nodes[1]
        self.assertEqual(alone.before, (40, -30))
        self.assertEqual(alone.kind, "corner")

    def test_adding_a_node_does_not_change_the_form(self):
        for curve in range(5):
            made = nodes.add_node(CURVY, curve, 0.3)
            self.assertEqual(made.node_count, CURVY.node_count + 1)
            self.assertAlmostEqual(made.area, CURVY.area, places=9)
            self.assertLess(outline.deviation(made, CURVY, 0.02), 0.021)

    def test_deleting_an_added_node_gives_the_form_back(self):
        made = nodes.delete_nodes(nodes.add_node(CURVY, 0, 0.4), [1])
        self.assertEqual(made.node_count, CURVY.node_count)
        self.assertLess(outline.deviation(made, CURVY, 0.04), 0.1)  # of a size of 100

    def test_deleting_corners(self):
        square = outline.rectangle(10, 10)
        self.assertEqual(nodes.delete_nodes(square, [1]).area, 50)
        with self.assertRaisesRegex(OutlineError, "nothing"):
            nodes.delete_nodes(square, [0, 1, 2, 3])
        ring = outline.subtract(outline.ellipse(9, 9), [outline.ellipse(4, 4)])
        first = len(nodes.runs(ring)[0].nodes)
        self.assertEqual(nodes.delete_nodes(ring, range(first)).node_count, ring.node_count - first)

    def test_kinds(self):
        smooth = nodes.set_kind(outline.rectangle(10, 10), [0, 1, 2, 3], "symmetric")
        self.assertEqual({n.kind for n in nodes.runs(smooth)[0].nodes}, {"symmetric"})
        # each diagonal direction: a form with the square's own symmetry
        self.assertAlmostEqual(smooth.bounds[0] + smooth.bounds[2], 10)
        self.assertGreater(smooth.area, 100)
        back = nodes.set_kind(smooth, [0, 1, 2, 3], "corner")
        self.assertEqual([n.at for n in nodes.runs(back)[0].nodes], [(0, 0), (10, 0), (10, 10), (0, 10)])
        self.assertEqual(back.area, 100)

    def test_lines_and_curves(self):
        made = nodes.set_segments(CURVY, [0, 1], "line")
        self.assertEqual(made.arrays[1].tolist(), [0, 1, 0, 0, 0])
        again = nodes.set_segments(made, [0, 1], "curve")
        self.assertEqual(again.arrays[1].tolist(), [1, 1, 0, 0, 0])
        self.assertAlmostEqual(again.area, made.area)

    def test_breaking_and_joining(self):
        square = outline.rectangle(10, 10)
        opened = nodes.break_at(square, 2)
        self.assertFalse(opened.is_closed)
        self.assertEqual(opened.node_count, 5)
        self.assertEqual(opened.arrays[0][0, :2].tolist(), [10, 10])
        closed = nodes.join_nodes(opened, 0, 4)
        self.assertTrue(closed.is_closed)
        self.assertEqual((closed.node_count, closed.area), (4, 100))
        two = nodes.break_at(opened, 2)
        self.assertEqual(len(nodes.runs(two)), 2)
        one = nodes.join_nodes(two, 2, 3)
        self.assertEqual(one.node_count, 5)
        apart = Path.from_svg("M0 0H10M20 0H30")
        self.assertEqual(nodes.join_nodes(apart, 1, 2).to_svg(), "M0 0H10H20H30")
        self.assertEqual(nodes.join_nodes(apart, 0, 3).node_count, 4)
        with self.assertRaisesRegex(OutlineError, "ends"):
            nodes.join_nodes(square, 0, 1)

    def test_aligning(self):
        made = nodes.runs(nodes.align_nodes(CURVY, [1, 3], "bottom"))[0].nodes
        self.assertEqual(made[1].at, (50, 60))
        with self.assertRaisesRegex(OutlineError, "two nodes"):
            nodes.align_nodes(CURVY, [1], "left")

    def test_nearest_place(self):
        curve, t, away = nodes.nearest(outline.ellipse(10, 10), 8, 9)
        x, y = outline.nodes.point_at(outline.ellipse(10, 10).arrays[0][curve], np.array([t]))[0]
        self.assertAlmostEqual(np.hypot(x, y), 10, delta=0.003)
        self.assertAlmostEqual(away, np.hypot(8, 9) - np.hypot(x, y), delta=1e-3)
        self.assertAlmostEqual(y / x, 9 / 8, delta=1e-2)

    def test_no_such_node(self):
        with self.assertRaisesRegex(OutlineError, "no such node"):
            nodes.move_nodes(CURVY, [99], 1, 1)


class RoundedCorners(unittest.TestCase):
    def test_a_radius_for_each_corner(self):
        square = outline.rectangle(10, 10)
        made = outline.round_corners(square, {0: 2.0, 2: 4.0})
        quarter = 1 - np.pi / 4
        self.assertAlmostEqual(made.area, 100 - quarter * (4 + 16), delta=0.02)
        self.assertEqual(made.node_count, 6)

    def test_largest_radius(self):
        # a regular hexagon of side s: s/2 · tan 60° (the inscribed circle)
        self.assertAlmostEqual(outline.largest_radius(outline.polygon(6, 10)), 5 * np.sqrt(3))
        self.assertAlmostEqual(outline.largest_radius(outline.rectangle(8, 6)), 3)
