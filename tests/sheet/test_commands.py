"""Commands: what they make, what they refuse, and that they leave the rest alone."""

import unittest

import outline
from outline import Matrix
from sheet import CutList, Ellipse, Photo, Rectangle, SheetError, apply, dump, load, new_sheet
from sheet.document.library import PhotoFacts
from sheet.document.model import INK
from sheet.geometry.geometry import box_of, fill_shows, local_frame, outline_of, photo_quad

from .helpers import FILE, Known, Table


class CommandCase(unittest.TestCase):
    def setUp(self):
        self.t = Table()

    def refused(self, command, /, **args) -> SheetError:
        """Run a command that must be refused, and leave the sheet as it was."""
        before = self.t.sheet
        with self.assertRaises(SheetError) as caught:
            self.t.do(command, **args)
        self.assertIs(self.t.sheet, before)
        return caught.exception

    def box(self, item_id, places=6):
        return tuple(round(v, places) for v in box_of(self.t.item(item_id)))


class Drawing(CommandCase):
    def test_draw_by_px_and_by_text(self):
        a = self.t.rectangle(10, 20, 30, 40)
        self.assertEqual(self.box(a), (10, 20, 40, 60))
        b = self.t.ellipse("1in", "50%", "25.4mm", "2000/3")
        self.assertEqual(self.box(b, 3), (100, 400, 200, 1066.667))
        self.assertEqual(self.t.ids, [a, b])
        self.assertEqual(self.t.item(a).name, "Rectangle 1")

    def test_bad_numbers_name_their_field(self):
        for field, value in (("width", 0), ("width", "0"), ("height", "-3"), ("x", "left"), ("y", "1/0")):
            args = {"x": 1, "y": 1, "width": 5, "height": 5, field: value}
            self.assertEqual(self.refused("draw", kind="rectangle", **args).field, field)
        self.refused("draw", kind="blob", x=0, y=0, width=1, height=1)

    def test_unknown_commands_and_arguments(self):
        self.refused("explode")
        self.refused("draw", kind="rectangle")
        self.refused("transform", ids="i1", matrix=[1, 0])

    def test_photos_come_in_under_the_pieces_and_fit_the_sheet(self):
        a = self.t.rectangle(0, 0, 10, 10)
        p = self.t.photo(4000, 2000)
        self.assertEqual(self.t.ids, [p, a])
        self.assertEqual(self.box(p), (0, 150, 1000, 650))
        small = self.t.photo(100, 50, x=10, y=20)
        self.assertEqual(self.box(small), (-40, -5, 60, 45))
        self.refused("place", files=[])

    def test_duplicate_has_fresh_ids_all_through(self):
        a, b = self.t.rectangle(0, 0, 50, 50), self.t.ellipse(30, 30, 50, 50)
        (o,) = self.t.do("combine", ids=[a, b], operation="union")
        self.t.do("put_in", ids=[o, self.t.photo(x=20, y=20)])
        (copy,) = self.t.do("duplicate", ids=[o])
        first, second = self.t.item(o), self.t.item(copy)
        self.assertNotEqual(first.shape.base.id, second.shape.base.id)
        self.assertNotEqual(first.photos[0].id, second.photos[0].id)
        self.assertEqual(self.t.ids, [o, copy])


class Changing(CommandCase):
    def test_moving_and_turning(self):
        a = self.t.rectangle(0, 0, 100, 50)
        self.t.do("transform", ids=[a], matrix=Matrix.move(5, 7).numbers())
        self.assertEqual(self.box(a), (5, 7, 105, 57))
        self.t.do("transform", ids=[a], matrix=Matrix.turn(90, (55, 32)).numbers(), verb="turn")
        self.assertEqual(self.box(a), (30, -18, 80, 82))
        self.assertIsInstance(self.t.item(a).shape, Rectangle)
        self.assertAlmostEqual(local_frame(self.t.item(a))[2].angle, 90)

    def test_resizing_keeps_radii_and_strokes(self):
        a = self.t.rectangle(0, 0, 100, 50)
        self.t.do("transform", ids=[a], matrix=Matrix.resize(2, 3).numbers(), verb="resize")
        shape = self.t.item(a).shape
        self.assertEqual((shape.width, shape.height), (200, 150))
        self.assertEqual(self.t.item(a).matrix[:4], (1, 0, 0, 1))

    def test_photos_keep_their_proportions(self):
        p = self.t.photo(300, 200, x=500, y=400)
        self.t.do("transform", ids=[p], matrix=Matrix.resize(2, 1, (350, 300)).numbers())
        m = self.t.item(p).placing
        self.assertAlmostEqual(m.a, m.d)
        self.assertAlmostEqual(m.a, 2)

    def test_flattening_and_losing_are_refused(self):
        a = self.t.rectangle(0, 0, 100, 50)
        self.refused("transform", ids=[a], matrix=[0, 0, 0, 0, 0, 0])
        self.refused("transform", ids=[a], matrix=[1, 0, 0, 1, 1e9, 0])
        self.refused("transform", ids=["gone"], matrix=[1, 0, 0, 1, 0, 0])
        self.refused("transform", ids=[], matrix=[1, 0, 0, 1, 0, 0])

    def test_measures(self):
        a = self.t.rectangle(0, 0, 100, 50)
        # a px sheet rounds to whole px, and says so
        self.t.do("measure", ids=[a], field="width", value="2000/3")
        self.assertIn("667", self.t.note)
        self.assertEqual(self.box(a, 3)[2], 667)
        self.t.do("set_rounding", step="off")
        for field, value in (("x", "10"), ("y", "1in"), ("width", "2000/3"), ("height", "200%")):
            self.t.do("measure", ids=[a], field=field, value=value)
        self.assertEqual(self.box(a, 3), (10, 100, 676.667, 200))
        self.t.do("measure", ids=[a], field="width", value="50%", keep_proportion=True)
        self.assertEqual(self.box(a, 3), (10, 100, 343.333, 150))
        self.t.do("measure", ids=[a], field="angle", value="30°")
        self.t.do("measure", ids=[a], field="angle", value="90")
        self.assertAlmostEqual(local_frame(self.t.item(a))[2].angle, 90)
        for field, value in (("width", "0"), ("width", "wide"), ("height", "-1"), ("angle", "north")):
            self.assertEqual(self.refused("measure", ids=[a], field=field, value=value).field, field)

    def test_paint(self):
        a, p = self.t.rectangle(0, 0, 9, 9), self.t.photo()
        for field, value in (("fill", "#B5432A"), ("stroke", "none"), ("stroke_width", "25.4mm"), ("opacity", "60%")):
            self.t.do("paint", ids=[a], field=field, value=value)
        paint = self.t.item(a).paint
        self.assertEqual((paint.fill, paint.stroke, paint.stroke_width, paint.opacity), ("#b5432a", INK, 100, 0.6))
        # no border and no width are both undone by asking for the other
        self.t.do("paint", ids=[a], field="stroke_width", value="0")
        self.t.do("paint", ids=[a], field="stroke", value="#fff")
        self.assertGreater(self.t.item(a).paint.stroke_width, 0)
        self.t.do("paint", ids=[p], field="opacity", value="50")
        self.assertEqual(self.t.item(p).opacity, 0.5)
        for field, value in (("fill", "reddish"), ("stroke_width", "-1"), ("opacity", "101"), ("opacity", "half")):
            self.refused("paint", ids=[a], field=field, value=value)
        self.assertIn("border", self.refused("paint", ids=[p], field="stroke", value="#000000").remedy)
        self.t.do("backdrop", value="#fff")
        self.assertEqual(self.t.sheet.backdrop, "#ffffff")

    def test_restacking(self):
        a, b, c = (self.t.rectangle(k, 0, 9, 9) for k in range(3))
        moves = [
            ("top", [a], [b, c, a]),
            ("bottom", [a], [a, b, c]),
            ("up", [a, b], [c, a, b]),
            ("down", [a, b], [a, b, c]),
        ]
        for to, ids, order in moves:
            self.t.do("restack", ids=ids, to=to)
            self.assertEqual(self.t.ids, order)
        self.t.do("restack", ids=[c], to="under", other=b)
        self.assertEqual(self.t.ids, [a, c, b])
        self.assertIn("already", self.refused("restack", ids=[a], to="bottom").message)
        self.refused("restack", ids=[a], to="over", other="gone")

    def test_restacking_within_a_frame_and_a_group(self):
        frame, lower, upper = self.t.rectangle(0, 0, 90, 90), self.t.photo(90, 90), self.t.photo(90, 90)
        self.t.do("put_in", ids=[frame, lower, upper])
        self.assertEqual([p.id for p in self.t.item(frame).photos], [lower, upper])
        self.t.do("restack", ids=[lower], to="top")
        self.assertEqual([p.id for p in self.t.item(frame).photos], [upper, lower])
        self.t.do("restack", ids=[upper], to="over", other=lower)
        self.assertEqual([p.id for p in self.t.item(frame).photos], [lower, upper])
        self.assertIn("already on top", self.refused("restack", ids=[upper], to="up").message)
        a, b, c = (self.t.rectangle(k, 200, 9, 9) for k in range(3))
        (group,) = self.t.do("group", ids=[a, b])
        self.t.do("restack", ids=[a], to="up")
        self.assertEqual([i.id for i in self.t.item(group).items], [b, a])
        self.assertIn("different groups", self.refused("restack", ids=[a, c], to="top").message)
        self.refused("restack", ids=[a], to="over", other=c)
        d = self.t.rectangle(5, 200, 20, 9)
        self.t.do("combine", ids=[c, d], operation="union")
        self.assertIn("at Cut", self.refused("restack", ids=[d], to="top").remedy)
        panes = self.t.rectangle(300, 0, 90, 90)
        self.t.do("split", ids=[panes], columns="2")
        first = self.t.sheet.items[-1].items[0].id
        self.assertIn("no order", self.refused("restack", ids=[first], to="top").message)

    def test_rename_and_remove(self):
        a = self.t.rectangle(0, 0, 9, 9)
        self.t.do("rename", id=a, name="  Plate \n one ")
        self.assertEqual(self.t.item(a).name, "Plate one")
        self.refused("rename", id=a, name="   ")
        self.t.do("remove", ids=[a])
        self.assertEqual(self.t.ids, [])
        self.refused("remove", ids=[a])


class Combining(CommandCase):
    def pair(self):
        return self.t.rectangle(0, 0, 100, 100), self.t.ellipse(50, 0, 100, 100)

    def test_each_operation_equals_the_engines(self):
        for operation in ("union", "intersect", "exclude"):
            self.t = Table()
            a, b = self.pair()
            paths = [outline_of(self.t.item(i)) for i in (a, b)]
            (o,) = self.t.do("combine", ids=[b, a], operation=operation)
            self.assertEqual(outline_of(self.t.item(o)), getattr(outline, operation)(paths))
            self.assertEqual(self.t.item(o).name, "Rectangle 1")
            self.assertEqual(self.t.ids, [o])

    def test_subtract_takes_the_lowest_as_base_unless_told(self):
        a, b = self.pair()
        pa, pb = (outline_of(self.t.item(i)) for i in (a, b))
        (o,) = self.t.do("combine", ids=[b, a], operation="subtract")
        self.assertEqual(outline_of(self.t.item(o)), outline.subtract(pa, [pb]))
        self.t.do("swap_base", id=o)
        self.assertEqual(outline_of(self.t.item(o)), outline.subtract(pb, [pa]))
        self.t = Table()
        a, b = self.pair()
        (o,) = self.t.do("combine", ids=[a, b], operation="subtract", base=b)
        self.assertEqual(outline_of(self.t.item(o)), outline.subtract(pb, [pa]))

    def test_the_cut_list_stays_and_comes_apart(self):
        a, b = self.pair()
        before = self.t.sheet.items
        (o,) = self.t.do("combine", ids=[a, b], operation="union")
        shape = self.t.item(o).shape
        self.assertIsInstance(shape, CutList)
        self.assertEqual([(s.operation, s.member.id) for s in shape.steps], [("union", b)])
        self.assertEqual(self.t.do("take_apart", id=o), (a, b))
        self.assertEqual(self.t.sheet.items, before)

    def test_outlines_of_outlines(self):
        a, b = self.pair()
        (o,) = self.t.do("combine", ids=[a, b], operation="union")
        hole = self.t.ellipse(40, 40, 20, 20)
        (o2,) = self.t.do("combine", ids=[o, hole], operation="subtract")
        self.t.do("transform", ids=[o2], matrix=Matrix.move(10, 0).numbers())
        self.assertEqual(self.box(o2), (10, 0, 160, 100))
        self.assertEqual(len(list(outline_of(self.t.item(o2)).subpaths)), 2)
        self.refused("remove", ids=[b])

    def test_divide(self):
        a, b = self.pair()
        parts = self.t.do("apart", ids=[a, b])
        self.assertEqual(len(parts), 3)
        total = sum(outline_of(self.t.item(p)).area for p in parts)
        whole = outline.union([outline.rectangle(100, 100), outline.ellipse(50, 50, 100, 50)]).area
        self.assertAlmostEqual(total, whole, delta=1e-6)

    def test_refusals_say_what_to_choose(self):
        a = self.t.rectangle(0, 0, 10, 10)
        far = self.t.rectangle(50, 50, 10, 10)
        p = self.t.photo()
        self.assertIn("Shift", self.refused("combine", ids=[a], operation="union").remedy)
        self.assertIn("two", self.refused("combine", ids=[a, p], operation="union").message)
        self.refused("combine", ids=[], operation="union")
        self.assertIn("in common", self.refused("combine", ids=[a, far], operation="intersect").message)
        cover = self.t.rectangle(-5, -5, 30, 30)
        self.assertIn("another piece the base", self.refused("combine", ids=[a, cover], operation="subtract").remedy)
        self.refused("combine", ids=[a, cover], operation="melt")
        self.refused("swap_base", id=a)
        self.refused("take_apart", id=a)

    def test_photos_ride_along(self):
        a, b = self.pair()
        p = self.t.photo(x=50, y=50)
        self.t.do("put_in", ids=[a, p])
        (o,) = self.t.do("combine", ids=[a, b], operation="union")
        self.assertEqual([x.id for x in self.t.item(o).photos], [p])
        parts = self.t.do("apart", ids=[o, self.t.rectangle(20, -10, 10, 200)])
        framed = [i for i in parts if self.t.item(i).photos]
        self.assertGreaterEqual(len(framed), 2)


class Framing(CommandCase):
    def test_put_in_whatever_is_on_top_and_chosen_first(self):
        for order in (0, 1):
            for top in ("piece", "photo"):
                self.t = Table()
                a, p = self.t.ellipse(100, 100, 200, 200), self.t.photo(x=200, y=200)
                if top == "photo":
                    self.t.do("restack", ids=[p], to="top")
                paint, lay = self.t.item(a).paint, self.t.item(p).matrix
                self.t.do("put_in", ids=[a, p] if order else [p, a])
                frame = self.t.item(a)
                self.assertEqual(frame.kind, "frame")
                self.assertEqual(frame.paint, paint)
                self.assertEqual(frame.photos[0].matrix, lay)
                self.assertEqual(self.t.ids, [a])

    def test_a_piece_alone_takes_the_photo_under_it(self):
        p, _far = self.t.photo(x=200, y=200), self.t.photo(100, 100, x=900, y=700)
        a = self.t.ellipse(150, 150, 50, 50)
        self.t.do("put_in", ids=[a])
        self.assertEqual(self.t.item(a).photos[0].id, p)

    def test_a_photo_that_lies_elsewhere_is_brought_to_cover(self):
        p, a = self.t.photo(60, 40, x=900, y=700), self.t.rectangle(0, 0, 100, 100)
        self.t.do("put_in", ids=[a, p])
        quad = photo_quad(self.t.item(a).photos[0])
        self.assertTrue(outline.subtract(outline_of(self.t.item(a)), [quad]).is_empty)
        self.assertFalse(fill_shows(self.t.item(a)))

    def test_moving_one_inside_the_other(self):
        a, p = self.t.rectangle(100, 100, 100, 100), self.t.photo(x=150, y=150)
        self.t.do("put_in", ids=[a, p])
        photo, frame = self.t.item(a).photos[0], self.box(a)
        move = Matrix.move(10, 0).numbers()
        self.t.do("transform", ids=[p], matrix=move)
        self.assertEqual(self.box(a), frame)
        self.assertAlmostEqual(self.t.item(a).photos[0].matrix[4], photo.matrix[4] + 10)
        self.t.do("transform", ids=[a], matrix=move, part="outline")
        self.assertAlmostEqual(self.t.item(a).photos[0].matrix[4], photo.matrix[4] + 10)
        self.assertEqual(self.box(a)[0], frame[0] + 10)
        self.t.do("transform", ids=[a], matrix=move)
        self.assertAlmostEqual(self.t.item(a).photos[0].matrix[4], photo.matrix[4] + 20)

    def test_stretching_a_frame_never_distorts_its_photo(self):
        a, p = self.t.rectangle(0, 0, 100, 100), self.t.photo(x=50, y=50)
        self.t.do("put_in", ids=[a, p])
        self.t.do("transform", ids=[a], matrix=Matrix.resize(3, 1).numbers(), verb="resize")
        m = self.t.item(a).photos[0].placing
        self.assertAlmostEqual(m.a, m.d)

    def test_taking_out_leaves_both_unharmed(self):
        a, p = self.t.rectangle(0, 0, 100, 100), self.t.photo(x=50, y=50)
        piece, photo = self.t.item(a), self.t.item(p)
        self.t.do("put_in", ids=[a, p])
        self.t.do("take_out", ids=[a])
        self.assertEqual((self.t.item(a), self.t.item(p)), (piece, photo))
        self.assertEqual(self.t.ids, [p, a])

    def test_settling(self):
        a, p = self.t.rectangle(0, 0, 100, 200), self.t.photo(600, 400, x=50, y=50)
        self.t.do("put_in", ids=[a, p])
        self.t.do("settle", ids=[p], how="fit")
        self.assertEqual(tuple(round(v, 6) for v in box_of(self.t.item(a).photos[0])), (0, 66.666667, 100, 133.333333))
        self.t.do("settle", ids=[a], how="cover")
        self.assertEqual(tuple(round(v, 6) for v in box_of(self.t.item(a).photos[0])), (-100, 0, 200, 200))

    def test_refusals(self):
        a, b, p = self.t.rectangle(0, 0, 9, 9), self.t.rectangle(500, 0, 9, 9), self.t.photo(10, 10, x=700, y=700)
        self.assertIn("none is selected", self.refused("put_in", ids=[p]).message)
        refused = self.refused("put_in", ids=[a])
        self.assertEqual(refused.message, f"Every photo under “{self.t.item(a).name}” is in a frame.")
        self.assertIn("Bring a photo in", refused.remedy)
        self.assertIn(
            "pair up", self.refused("put_in", ids=[a, b, self.t.rectangle(0, 0, 9, 9), p, self.t.photo()]).message
        )
        self.refused("put_in", ids=[])
        self.refused("take_out", ids=[a])
        self.refused("settle", ids=[a])
        self.t.do("put_in", ids=[a, p])
        self.assertIn("already", self.refused("put_in", ids=[a, p]).message)


class Stored(unittest.TestCase):
    def test_a_stored_sheet_comes_back_equal(self):
        t = Table()
        a, b = t.rectangle(0, 0, 100, 100), t.ellipse(50, 0, 100, 100)
        (o,) = t.do("combine", ids=[a, b], operation="subtract")
        t.do("put_in", ids=[o, t.photo(alpha=True, x=50, y=50)])
        self.assertEqual(load(dump(t.sheet)), t.sheet)

    def test_what_is_no_sheet_is_refused(self):
        import zlib

        for data in (b"", b"junk", zlib.compress(b"{}"), zlib.compress(b'{"schema": 999, "width": 1, "height": 1}')):
            with self.assertRaises(SheetError):
                load(data)

    def test_commands_do_not_touch_the_old_sheet(self):
        first = new_sheet(100, 100)
        outcome = apply(first, "draw", {"kind": "ellipse", "x": 0, "y": 0, "width": 5, "height": 5})
        self.assertEqual(first.items, ())
        self.assertIsInstance(outcome.sheet.items[0].shape, Ellipse)
        placed = apply(outcome.sheet, "place", {"files": [FILE]}, Known(PhotoFacts(FILE, "a", 9, 9)))
        self.assertIsInstance(placed.sheet.items[0], Photo)
