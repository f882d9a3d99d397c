"""The map itself: its certificates, its cells, its exactness."""

import random
import unittest

import numpy as np
from django.test import tag

import outline
from outline import Path, PathError, PlanarMap
from outline.curves.measure import point_at
from outline.engine.candidates import candidate_pairs
from outline.path.kernel import entry
from outline.path.monotone import cut_monotone

from .cases import any_case, any_path, distance, flatten


class Certificates(unittest.TestCase):
    """Facts that must hold of every map, computed here anew from its arrays."""

    def check(self, m: PlanarMap) -> None:
        heads = m._e_num[:, 1]
        tails = m._e_num[:, 0]
        nxt = m._nxt
        # next is a permutation, and goes on where its half-edge ends
        self.assertEqual(sorted(nxt.tolist()), list(range(len(nxt))))
        ends = np.empty(len(nxt), int)
        ends[0::2], ends[1::2] = heads, tails
        starts = np.empty(len(nxt), int)
        starts[0::2], starts[1::2] = tails, heads
        self.assertTrue((starts[nxt] == ends).all())
        # one face on the left of a whole cycle
        self.assertTrue((m._left[nxt] == m._left).all())
        # Euler over components: V - E + F = 1 + C
        parent = {int(v): int(v) for v in set(heads) | set(tails)}

        def root(v):
            while parent[v] != v:
                v = parent[v]
            return v

        for a, b in zip(tails, heads, strict=True):
            parent[root(int(a))] = root(int(b))
        components = len({root(v) for v in parent})
        self.assertEqual(len(parent) - len(heads) + len(m._bits), 1 + components)

    def test_generated_maps(self):
        for seed in range(120):
            with self.subTest(seed=seed):
                self.check(PlanarMap(any_case(random.Random(seed))))

    def test_what_does_not_add_up_is_found(self):
        paths = [outline.rectangle(4, 4), outline.rectangle(4, 4).transform((1, 0, 0, 1, 2, 2)), outline.ellipse(9, 9)]
        PlanarMap(paths).check_structure()
        PlanarMap([]).check_structure()

        def other_face(m):
            m._left[0] = (m._left[0] + 1) % len(m._bits)

        def other_next(m):
            m._nxt[0] = m._nxt[1]

        def other_place(m):
            m._at[0] += 1

        def one_more_face(m):
            m._bits = np.concatenate([m._bits, m._bits[:1]])

        def other_inside(m):
            m._bits[-1] ^= 1

        def outside(m):
            m._bits[0] ^= 2

        spoilt = (
            (other_face, "followed by one of elsewhere"),
            (other_next, "follows none or several"),
            (other_place, "from its vertex"),
            (one_more_face, "no border"),
            (other_inside, "lies otherwise in face"),
            (outside, "in the face outside"),
        )
        for spoil, words in spoilt:
            m = PlanarMap(paths)
            spoil(m)
            with self.subTest(spoil.__name__), self.assertRaisesRegex(outline.MapError, words):
                m.check_structure()

    def test_candidates_are_all_pairs_of_meeting_boxes(self):
        r = random.Random(3)
        paths = [any_path(r) for _ in range(40)]
        ctrl = np.concatenate([p.arrays[0] for p in paths])
        kind = np.concatenate([p.arrays[1] for p in paths])
        monotone = cut_monotone(ctrl, kind)[0]
        tol = 1e-9
        x = np.sort(monotone[:, [0, 6]], axis=1)
        y = np.sort(monotone[:, [1, 7]], axis=1)
        want = {
            (i, j)
            for i in range(len(monotone))
            for j in range(i + 1, len(monotone))
            if x[i, 0] <= x[j, 1] + 2 * tol
            and x[j, 0] <= x[i, 1] + 2 * tol
            and y[i, 0] <= y[j, 1] + 2 * tol
            and y[j, 0] <= y[i, 1] + 2 * tol
        }
        pairs = [tuple(sorted(p)) for p in entry(candidate_pairs)(monotone, tol).tolist()]
        self.assertEqual(len(pairs), len(set(pairs)))
        self.assertEqual(set(pairs), want)


class Cells(unittest.TestCase):
    def test_inside_sets(self):
        a, b = outline.ellipse(3, 3), outline.ellipse(3, 3, 4, 0)
        held = sorted(sorted(c.inside) for c in PlanarMap([a, b]).cells)
        self.assertEqual(held, [[0], [0, 1], [1]])

    def test_a_hole_in_a_ring_is_a_cell_that_nothing_holds(self):
        ring = Path.gather([outline.ellipse(5, 5), outline.ellipse(2, 2)], fill_rule="evenodd")
        self.assertEqual(sorted(len(c.inside) for c in PlanarMap([ring]).cells), [0, 1])

    def test_more_inputs_than_one_word_of_bits(self):
        tiles = [outline.rectangle(1, 1).transform((1, 0, 0, 1, k, 0)) for k in range(200)]
        m = PlanarMap(tiles)
        self.assertEqual([sorted(c.inside) for c in m.cells], [[k] for k in range(200)])
        self.assertEqual(m.union().node_count, 4)

    def test_cells_are_disjoint_and_add_up(self):
        for seed in range(40):
            paths = any_case(random.Random(seed))
            cells = [c.path for c in PlanarMap(paths).cells if c.inside]
            total, whole = sum(c.area for c in cells), outline.union(paths).area
            self.assertAlmostEqual(total, whole, delta=1e-6 * max(whole, 1e-9))

    def test_visible_parts_add_up_to_the_union(self):
        paths = [outline.ellipse(3, 3), outline.ellipse(3, 3, 2, 0), outline.rectangle(4, 1)]
        parts = PlanarMap(paths).visible_parts()
        self.assertAlmostEqual(sum(p.area for p in parts), outline.union(paths).area, delta=1e-9)
        self.assertAlmostEqual(parts[2].area, 4, delta=1e-9)


class Exactness(unittest.TestCase):
    def test_output_lies_on_input(self):
        for seed in range(40):
            paths = any_case(random.Random(seed))
            result = outline.exclude(paths)
            if result.is_empty:
                continue
            points = np.concatenate(flatten(result, 5))
            extent = np.ptp(np.concatenate([p.arrays[0].reshape(-1, 2) for p in paths]), axis=0).max()
            apart = np.min([distance(p, points, 400) for p in paths], axis=0)
            # the flattened reference itself is off by about 1e-5 of the extent
            self.assertLess(apart.max() / extent, 3e-5)

    @tag("slow")
    def test_output_lies_on_input_to_a_hundred_millionth(self):
        # each output point is held against the input curves themselves: from the three nearest of 4001 samples
        # a grid shrinks to the nearest place, without derivatives, so that cusps do not matter
        samples = np.linspace(0, 1, 4001)
        for seed in (0, 2, 3, 5, 6, 8):
            paths = any_case(random.Random(seed))
            inputs = np.concatenate([p.closed_curves()[0] for p in paths])
            extent = np.ptp(inputs.reshape(-1, 2), axis=0).max()
            points = np.concatenate(flatten(outline.exclude(paths), 3))
            best = np.full(len(points), np.inf)
            for c in inputs:
                on_curve = point_at(c, samples)
                far = np.hypot(*(on_curve[None] - points[:, None]).T).T
                # further from every sample than two of them are apart: not on this curve
                on = far.min(1) <= np.hypot(*np.diff(on_curve, axis=0).T).max()
                near = samples[np.argpartition(far[on], 3, axis=1)[:, :3]]
                low, high = np.maximum(0, near - 1 / 4000), np.minimum(1, near + 1 / 4000)
                for _ in range(14):
                    # points x places x 33
                    grid = low[..., None] + (high - low)[..., None] * np.linspace(0, 1, 33)
                    apart = point_at(c, grid.ravel()).reshape(*grid.shape, 2) - points[on, None, None]
                    d = np.hypot(apart[..., 0], apart[..., 1])
                    middle = np.take_along_axis(grid, d.argmin(-1)[..., None], -1)[..., 0]
                    reach = (high - low) / 12
                    low, high = np.maximum(0, middle - reach), np.minimum(1, middle + reach)
                best[on] = np.minimum(best[on], d.min((1, 2)))
            with self.subTest(seed=seed):
                self.assertLess(best.max() / extent, 1e-8)

    def test_untouched_curves_come_back_bit_for_bit(self):
        circle, far = outline.ellipse(5, 5), outline.ellipse(2, 2, 50, 0)
        self.assertEqual(outline.union([circle, far]).to_svg(), circle.to_svg() + far.to_svg())

    def test_what_is_no_path_is_refused(self):
        with self.assertRaises(PathError):
            PlanarMap(["M0 0H1V1Z"])
