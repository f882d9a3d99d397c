"""More questions asked of one map: what is visible, what the top piece covers, loose edges."""

import random
import unittest

import outline
from outline import Matrix, Path, PlanarMap

from .cases import any_case


class Questions(unittest.TestCase):
    def setUp(self):
        self.square = outline.rectangle(10, 10)
        self.circle = outline.ellipse(4, 4, 10, 5)
        self.map = PlanarMap([self.square, self.circle])

    def test_visible_parts_joined_by_paint(self):
        joined = self.map.visible_joined(["sand", "sand"])
        self.assertEqual([paint for paint, _ in joined], ["sand"])
        self.assertAlmostEqual(joined[0][1].area, self.map.union().area, delta=1e-9)
        apart = self.map.visible_joined(["sand", "sea"])
        self.assertEqual([p for p, _ in apart], ["sand", "sea"])
        self.assertAlmostEqual(apart[1][1].area, self.circle.area, delta=1e-9)
        with self.assertRaises(ValueError):
            self.map.visible_joined(["sand"])

    def test_equal_paint_that_does_not_touch_stays_apart(self):
        far = self.square.transform(Matrix.move(50, 0))
        joined = PlanarMap([self.square, far]).visible_joined(["sand", "sand"])
        self.assertEqual(len(joined), 2)

    def test_inside_the_top_piece(self):
        far = self.square.transform(Matrix.move(50, 0))
        kept = PlanarMap([self.square, far, self.circle]).inside_top()
        self.assertEqual(kept[0], outline.intersect([self.square, self.circle]))
        self.assertTrue(kept[1].is_empty)

    def test_loose_edges_of_two_crossing_borders(self):
        # two borders with two crossings: four pieces, as long together as both borders
        edges = self.map.loose_edges()
        self.assertEqual(len(edges), 4)
        self.assertFalse(any(e.is_closed for e in edges))
        total = sum(outline.length(e) for e in edges)
        self.assertAlmostEqual(total, outline.length(self.square) + outline.length(self.circle), delta=1e-6)

    def test_a_border_without_a_crossing_is_one_closed_line(self):
        (edge,) = PlanarMap([self.circle]).loose_edges()
        self.assertTrue(edge.is_closed)
        self.assertEqual(edge.node_count, 4)

    def test_loose_edges_add_up_on_generated_shapes(self):
        for seed in range(40):
            paths = any_case(random.Random(seed))[:2]
            m = PlanarMap(paths)
            edges = m.loose_edges()
            total = sum(outline.length(e) for e in edges)
            longest = sum(outline.length(p.with_fill_rule("nonzero")) for p in paths)
            # coinciding borders count once; an open subpath is closed by a line
            self.assertGreater(total, 0)
            self.assertLessEqual(total, longest * 1.5 + 1e-6)

    def test_empty_maps_answer(self):
        empty = PlanarMap([Path(), Path()])
        self.assertEqual(empty.visible_joined(["a", "b"]), [])
        self.assertEqual(empty.loose_edges(), [])
        self.assertEqual(empty.inside_top(), [])
        self.assertEqual(empty.cells, [])
