"""The cut list stays editable: every step changed, switched, moved, taken out, put in."""

import unittest

import outline
from outline import Matrix
from sheet import CutList, Plain, SheetError
from sheet.geometry.geometry import outline_of

from .helpers import Table


class CutListCase(unittest.TestCase):
    def setUp(self):
        self.t = Table()
        self.a = self.t.rectangle(0, 0, 100, 100)
        self.b = self.t.ellipse(50, 0, 100, 100)
        self.c = self.t.rectangle(40, 40, 20, 20)
        self.paths = [outline_of(self.t.item(i)) for i in (self.a, self.b, self.c)]
        (self.o,) = self.t.do("combine", ids=[self.a, self.b, self.c], operation="union")

    @property
    def path(self):
        return outline_of(self.t.item(self.o))

    def steps(self):
        shape = self.t.item(self.o).shape
        return [shape.base.id, *((s.operation, s.member.id, s.on) for s in shape.steps)]

    def refused(self, command, /, **args):
        before = self.t.sheet
        with self.assertRaises(SheetError) as caught:
            self.t.do(command, **args)
        self.assertIs(self.t.sheet, before)
        return caught.exception

    def test_changing_what_a_step_does(self):
        self.t.do("set_step", id=self.o, number=2, operation="subtract")
        a, b, c = self.paths
        want = outline.subtract(outline.union([a, b]), [c])
        self.assertAlmostEqual(self.path.area, want.area, delta=1e-6)
        self.refused("set_step", id=self.o, number=3, operation="union")
        self.refused("set_step", id=self.o, number=1, operation="divide")

    def test_switching_a_step_off_and_on(self):
        self.t.do("set_step", id=self.o, number=2, operation="subtract")
        cut = self.path
        self.t.do("switch_step", id=self.o, number=2)
        self.assertAlmostEqual(self.path.area, outline.union(self.paths[:2]).area, delta=1e-6)
        self.t.do("switch_step", id=self.o, number=2)
        self.assertEqual(self.path, cut)

    def test_moving_a_step_to_the_front_makes_it_the_base(self):
        self.t.do("set_step", id=self.o, number=1, operation="subtract")
        self.t.do("move_step", id=self.o, number=1, to=0)
        self.assertEqual(self.steps(), [self.b, ("subtract", self.a, True), ("union", self.c, True)])
        a, b, c = self.paths
        self.assertAlmostEqual(self.path.area, outline.union([outline.subtract(b, [a]), c]).area, delta=1e-6)
        self.t.do("move_step", id=self.o, number=2, to=1)
        self.assertEqual(self.steps(), [self.b, ("union", self.c, True), ("subtract", self.a, True)])
        self.refused("move_step", id=self.o, number=1, to=1)

    def test_taking_out_lays_it_on_the_sheet_again(self):
        self.t.do("drop_step", id=self.o, number=2)
        self.assertEqual(self.t.ids, [self.o, self.c])
        self.t.do("drop_step", id=self.o, number=0)
        # one piece is left, and is no outline any more
        self.assertEqual(self.t.ids, [self.b, self.a, self.c])
        self.assertNotIsInstance(self.t.item(self.b).shape, CutList)

    def test_putting_in(self):
        d = self.t.ellipse(10, 10, 30, 30)
        self.t.do("add_steps", ids=[d, self.o], operation="subtract")
        self.assertEqual(self.steps()[-1], ("subtract", d, True))
        self.assertEqual(self.t.ids, [self.o])
        self.assertIn("Only", self.refused("add_steps", ids=[self.o], operation="union").message)
        cover = self.t.rectangle(-50, -50, 500, 500)
        self.refused("add_steps", ids=[cover, self.o], operation="subtract")

    def test_moving_a_member_moves_the_result(self):
        before = self.path.area
        self.t.do("transform", ids=[self.b], matrix=Matrix.move(30, 0).numbers())
        self.assertGreater(self.path.area, before)
        self.assertEqual(self.t.ids, [self.o])

    def test_making_it_plain(self):
        path = self.path
        self.t.do("make_plain", id=self.o)
        self.assertIsInstance(self.t.item(self.o).shape, Plain)
        self.assertEqual(self.path.to_svg(), path.to_svg())
        self.refused("make_plain", id=self.o)

    def test_photos_survive_all_of_it(self):
        photo = self.t.photo(x=50, y=50)
        self.t.do("put_in", ids=[self.o, photo])
        self.t.do("set_step", id=self.o, number=2, operation="subtract")
        self.t.do("drop_step", id=self.o, number=2)
        self.t.do("drop_step", id=self.o, number=1)
        self.assertEqual([p.id for p in self.t.item(self.a).photos], [photo])

    def test_what_would_leave_nothing_is_refused(self):
        self.t.do("set_step", id=self.o, number=2, operation="intersect")
        far = self.t.rectangle(900, 700, 9, 9)
        self.assertIn("left", self.refused("add_steps", ids=[far, self.o], operation="intersect").message)


class Several(unittest.TestCase):
    """Operations that make several pieces, in the original paints."""

    def setUp(self):
        self.t = Table()
        self.a, self.b = self.t.rectangle(0, 0, 100, 100), self.t.ellipse(50, 0, 100, 100)
        self.t.do("paint", ids=[self.b], field="fill", value="#2b7a72")
        self.paths = [outline_of(self.t.item(i)) for i in (self.a, self.b)]

    def made(self, **choices):
        return [self.t.item(i) for i in self.t.do("apart", ids=[self.a, self.b], **choices)]

    def test_visible_parts(self):
        low, high = self.made(keep="shows")
        self.assertEqual((low.paint.fill, high.paint.fill), ("#c9bda4", "#2b7a72"))
        self.assertAlmostEqual(outline_of(low).area, outline.subtract(self.paths[0], self.paths[1:]).area, delta=1e-6)
        total = outline_of(low).area + outline_of(high).area
        self.assertAlmostEqual(total, outline.union(self.paths).area, delta=1e-6)

    def test_joined_by_paint(self):
        self.assertEqual(len(self.made(neighbours="joined")), 2)
        self.setUp()
        self.t.do("paint", ids=[self.b], field="fill", value="#c9bda4")
        (one,) = self.made(neighbours="joined")
        self.assertAlmostEqual(outline_of(one).area, outline.union(self.paths).area, delta=1e-6)

    def test_inside_the_top(self):
        (kept,) = self.made(keep="under")
        self.assertEqual((kept.name, kept.paint.fill), ("Rectangle 1", "#c9bda4"))
        self.assertAlmostEqual(outline_of(kept).area, outline.intersect(self.paths).area, delta=1e-6)
        far = self.t.rectangle(900, 700, 9, 9)
        with self.assertRaises(SheetError):
            self.t.do("apart", ids=[kept.id, far], keep="under")

    def test_loose_edges(self):
        lines = self.made(parts="lines")
        self.assertEqual(len(lines), 4)
        self.assertTrue(all(i.paint.fill is None and i.paint.stroke for i in lines))
        self.assertFalse(any(outline_of(i).is_closed for i in lines))

    def test_subtract_with_the_other_base(self):
        kept = self.t.item(*self.t.do("combine", ids=[self.a, self.b], operation="subtract", base=self.b))
        self.assertEqual(self.t.label, "subtract Rectangle 1 from Ellipse 1")
        self.assertEqual(kept.name, "Ellipse 1")
        self.assertAlmostEqual(outline_of(kept).area, outline.subtract(self.paths[1], [self.paths[0]]).area, delta=1e-6)
