"""Working by cell, finishes, loops, fill rules and blend modes."""

import math

from sheet.commands.cells import faces_of
from sheet.geometry import outline_of
from sheet.model import CutList, Plain

from .helpers import TableCase


class Cells(TableCase):
    def setUp(self):
        super().setUp()
        self.a = self.table.rectangle(0, 0, 200, 200)
        self.b = self.table.rectangle(100, 100, 200, 200)
        self.table.do("paint", ids=[self.b], field="fill", value="#aa0000")

    def number(self, x, y):
        """Return the number of the cell that holds a point."""
        faces = faces_of(self.table.sheet, [self.a, self.b])
        return next(k for k, f in enumerate(faces) if f.path.contains((x, y)))

    def area(self, item_id):
        return outline_of(self.table.item(item_id)).area

    def test_cells_of_two_squares_with_the_paint_on_top(self):
        faces = faces_of(self.table.sheet, [self.a, self.b])
        self.assertEqual(sorted(f.path.area for f in faces), [10000, 30000, 30000])
        self.assertEqual(faces[self.number(150, 150)].paint.fill, "#aa0000")

    def test_join_two(self):
        k = [self.number(50, 50), self.number(150, 150)]
        (made,) = self.table.do("by_cell", ids=[self.a, self.b], joined=[k])
        self.assertEqual(self.area(made), 40000)
        # the first cell of the drag gives the paint
        self.assertEqual(self.table.item(made).paint.fill, "#c9bda4")
        self.assertEqual(sorted(outline_of(i).area for i in self.table.sheet.items), [30000, 40000])

    def test_take_away_and_lift(self):
        away, lift = self.number(50, 50), self.number(150, 150)
        (made,) = self.table.do("by_cell", ids=[self.a, self.b], away=[away], lifted=[lift])
        self.assertEqual((self.area(made), self.table.item(made).paint.fill), (10000, "#aa0000"))
        self.assertEqual(sorted(outline_of(i).area for i in self.table.sheet.items), [10000, 30000])

    def test_a_hole_in_a_ring_is_a_cell_and_can_be_filled(self):
        self.table.do("remove", ids=[self.b])
        hole = self.table.rectangle(50, 50, 100, 100)
        (ring,) = self.table.do("combine", ids=[self.a, hole], operation="subtract")
        faces = faces_of(self.table.sheet, [ring])
        self.assertEqual(sorted((f.path.area, f.paint is None) for f in faces), [(10000, True), (30000, False)])
        (made,) = self.table.do("by_cell", ids=[ring], joined=[[0, 1]])
        self.assertEqual(self.area(made), 40000)

    def test_open_lines_divide_cells(self):
        (line,) = self.table.do("draw_curve", d="M-50 50H250")
        faces = faces_of(self.table.sheet, [self.a, line])
        self.assertEqual(sorted(f.path.area for f in faces), [10000, 30000])

    def test_what_is_not_touched_stays_what_it_is(self):
        c = self.table.ellipse(400, 400, 100, 100)
        ids = [self.a, self.b, c]
        faces = faces_of(self.table.sheet, ids)
        k = next(k for k, f in enumerate(faces) if f.path.contains((50, 50)))
        self.table.do("by_cell", ids=ids, away=[k])
        self.assertIn(c, self.table.ids)
        self.assertIn(self.b, self.table.ids)

    def test_bad_input(self):
        self.refused("No cell", "by_cell", ids=[self.a, self.b])
        self.refused("not what they were", "by_cell", ids=[self.a, self.b], away=[99])
        self.refused("not what they were", "by_cell", ids=[self.a, self.b], away=[0], lifted=[0])
        self.refused("Nothing would be left", "by_cell", ids=[self.a, self.b], away=[0, 1, 2])
        photo = self.table.photo()
        self.refused("No piece", "by_cell", ids=[photo], away=[0])


class Finishes(TableCase):
    def setUp(self):
        super().setUp()
        self.a = self.table.rectangle(100, 100, 200, 100)

    def path(self):
        return outline_of(self.table.item(self.a))

    def test_offset_as_a_step_is_changed_switched_and_dropped(self):
        self.table.do("add_finish", id=self.a, kind="offset", value="10")
        self.assertIsInstance(self.table.item(self.a).shape, CutList)
        # area, perimeter times distance, and a full circle at the corners
        self.assertAlmostEqual(self.path().area, 20000 + 600 * 10 + math.pi * 100, delta=1)
        self.table.do("set_finish", id=self.a, number=0, value="-20")
        self.assertAlmostEqual(self.path().area, 160 * 60, delta=1e-6)
        self.table.do("add_finish", id=self.a, kind="round", value="5")
        self.assertAlmostEqual(self.path().area, 160 * 60 - (4 - math.pi) * 25, delta=0.1)
        self.table.do("set_finish", id=self.a, number=0, on=False)
        self.assertAlmostEqual(self.path().area, 20000 - (4 - math.pi) * 25, delta=0.1)
        self.table.do("set_finish", id=self.a, number=1, drop=True)
        self.assertAlmostEqual(self.path().area, 20000)
        self.table.do("set_finish", id=self.a, number=0, on=True)
        self.refused("would be left", "set_finish", id=self.a, number=0, value="-60")
        self.refused("no such finish", "set_finish", id=self.a, number=4, value="1")

    def test_members_move_under_the_finishes(self):
        hole = self.table.rectangle(150, 120, 50, 50)
        (made,) = self.table.do("combine", ids=[self.a, hole], operation="subtract")
        self.table.do("add_finish", id=made, kind="offset", value="5")
        self.table.do("transform", ids=[hole], matrix=(1, 0, 0, 1, 10, 0))
        self.assertEqual(len(self.table.item(made).shape.finishes), 1)
        self.table.do("duplicate", ids=[made])
        self.assertEqual(len(self.table.item(self.table.chosen[0]).shape.finishes), 1)

    def test_clean_up_leftovers(self):
        for k in range(3):
            self.table.rectangle(400 + 20 * k, 400, 4, 4)
        (made,) = self.table.do("combine", ids=self.table.ids, operation="union")
        self.assertEqual(len(list(outline_of(self.table.item(made)).subpaths)), 4)
        self.table.do("reshape", id=made, kind="clean", value="5")
        self.assertEqual(outline_of(self.table.item(made)).area, 20000)
        self.assertIn("3 parts", self.table.note)
        self.refused("that small", "reshape", id=made, kind="clean", value="5")

    def test_simplify_tells_how_far_off_it_is(self):
        points = [[100 + 3 * k, 100 + 40 * math.sin(k / 9)] for k in range(120)]
        (line,) = self.table.do("draw_freehand", points=points, tolerance=0.2)
        self.table.do("reshape", id=line, kind="simplify", value="6")
        self.assertRegex(self.table.note, r"nodes became \d+, nowhere further off than [\d.]+ px")


class Loops(TableCase):
    def test_gather_and_separate(self):
        a, b = self.table.rectangle(0, 0, 200, 200), self.table.rectangle(50, 50, 100, 100)
        c = self.table.rectangle(400, 0, 50, 50)
        (made,) = self.table.do("gather", ids=[a, b, c])
        self.assertAlmostEqual(outline_of(self.table.item(made)).area, 30000 + 2500)
        self.table.do("set_detail", ids=[made], field="fill_rule", value="nonzero")
        self.assertAlmostEqual(outline_of(self.table.item(made)).area, 40000 + 2500)
        self.table.do("set_detail", ids=[made], field="fill_rule", value="evenodd")
        parts = self.table.do("separate", id=made)
        self.assertEqual(sorted(outline_of(self.table.item(i)).area for i in parts), [2500, 30000])
        ring = next(i for i in parts if outline_of(self.table.item(i)).area == 30000)
        loops = self.table.do("separate", id=ring, loops=True)
        self.assertEqual(sorted(outline_of(self.table.item(i)).area for i in loops), [10000, 40000])
        self.refused("is one part", "separate", id=loops[0])
        self.refused("two pieces", "gather", ids=[loops[0]])
        self.assertIsInstance(self.table.item(loops[0]).shape, Plain)

    def test_fill_rule_takes_only_what_there_is(self):
        (new,) = self.table.do("draw_curve", d="M0 0H90V90H0Z")
        self.refused("not a fill rule", "set_detail", ids=[new], field="fill_rule", value="odd")

    def test_shading_by_pieces(self):
        plate = self.table.rectangle(0, 0, 200, 200)
        (line,) = self.table.do("draw_curve", d="M-10 100C60 40 140 160 210 100")
        parts = self.table.do("apart", ids=[plate, line])
        top = min(parts, key=lambda i: outline_of(self.table.item(i)).bounds[1])
        self.table.do("remove", ids=[top])
        (left,) = [i for i in parts if i != top]
        self.table.do("paint", ids=[left], field="blend", value="multiply")
        self.assertEqual(self.table.item(left).paint.blend, "multiply")
        self.refused("not a blend mode", "paint", ids=[left], field="blend", value="glow")
