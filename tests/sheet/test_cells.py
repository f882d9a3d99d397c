"""Working by cell, finishes, loops, fill rules and blend modes."""

import math

from sheet.commands.cut.cells import faces_of
from sheet.document.model import CutList, Plain
from sheet.document.tree import members
from sheet.geometry.geometry import outline_of

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

    def shaded(self, **args):
        """Take away what of b is beyond a, so that b shades a; return the shade."""
        self.table.do("by_cell", ids=[self.a, self.b], away=[self.number(250, 250)], **args)
        return self.table.sheet.items[1].id

    def test_an_edge_follows_the_neighbour_that_was_left_whole(self):
        shade = self.shaded(follow=True)
        self.assertIn("follow", self.table.note)
        self.table.do("transform", ids=[self.a], matrix=[1, 0, 0, 1, 50, 0])
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (100, 100, 250, 200))
        self.table.do("measure", ids=[self.a], field="height", value="260")
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (100, 100, 250, 260))
        # its paint, its name and its photo are its own
        self.table.do("paint", ids=[self.a], field="fill", value="#00aa00")
        self.table.do("rename", id=self.a, name="Body")
        photo = self.table.photo(900, 900, 300, 300)
        self.table.do("put_in", ids=[self.a, photo])
        self.table.do("transform", ids=[self.a], matrix=[1, 0, 0, 1, -50, 0])
        inner = next(m for m in members(self.table.item(shade).shape) if m.link == self.table.item(self.a).link)
        self.assertEqual((inner.photos, inner.paint.fill), ((), "#c9bda4"))
        self.assertEqual(len(self.table.item(self.a).photos), 1)
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (100, 100, 200, 260))
        # a second shade follows the same piece
        c = self.table.rectangle(0, 200, 400, 400)
        faces = faces_of(self.table.sheet, [self.a, c])
        away = next(k for k, f in enumerate(faces) if f.path.contains((300, 500)))
        self.table.do("by_cell", ids=[self.a, c], away=[away], follow=True)
        self.table.do("transform", ids=[self.a], matrix=[1, 0, 0, 1, 0, 20])
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (100, 100, 200, 280))
        self.assertEqual(outline_of(self.table.sheet.items[-1]).bounds, (0, 200, 200, 280))

    def test_where_nothing_is_to_be_followed_it_stays(self):
        shade = self.shaded()
        self.table.do("transform", ids=[self.a], matrix=[1, 0, 0, 1, 50, 0])
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (100, 100, 200, 200))

    def test_what_follows_and_is_moved_by_itself_goes_its_own_way(self):
        shade = self.shaded(follow=True)
        self.table.do("transform", ids=[shade], matrix=[1, 0, 0, 1, 0, 10])
        self.table.do("transform", ids=[self.a], matrix=[1, 0, 0, 1, 50, 0])
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (100, 110, 200, 210))
        # both at once stay as they are to one another
        self.setUp()
        shade = self.shaded(follow=True)
        self.table.do("transform", ids=[self.a, shade], matrix=[1, 0, 0, 1, 30, 30])
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (130, 130, 230, 230))
        self.table.do("transform", ids=[self.a], matrix=[1, 0, 0, 1, 10, 0])
        self.assertEqual(outline_of(self.table.item(shade)).bounds, (130, 130, 240, 230))

    def test_bad_input(self):
        self.refused("No part", "by_cell", ids=[self.a, self.b])
        self.refused("have changed since", "by_cell", ids=[self.a, self.b], away=[99])
        self.refused("have changed since", "by_cell", ids=[self.a, self.b], away=[0], lifted=[0])
        self.refused("Nothing would be left", "by_cell", ids=[self.a, self.b], away=[0, 1, 2])
        photo = self.table.photo()
        self.refused("needs a piece", "by_cell", ids=[photo], away=[0])


class Live(TableCase):
    """What is made by cell follows its pieces, and its choice of cells can be changed."""

    def setUp(self):
        super().setUp()
        self.a = self.table.rectangle(0, 0, 200, 200)
        self.b = self.table.rectangle(100, 100, 200, 200)

    def number(self, ids, x, y):
        faces = faces_of(self.table.sheet, ids)
        return next(k for k, f in enumerate(faces) if f.path.contains((x, y)))

    def cells(self, ids, *points):
        return [self.number(ids, x, y) for x, y in points]

    def area(self, item_id):
        return round(outline_of(self.table.item(item_id)).area, 6)

    def member(self, outline, name):
        return next(m for m in members(self.table.item(outline).shape) if m.name == name)

    def test_a_piece_moved_inside_one_outline_moves_all_that_came_of_it(self):
        ids = [self.a, self.b]
        (joined,) = self.table.do("by_cell", ids=ids, joined=[self.cells(ids, (50, 50), (150, 150))])
        (rest,) = [i for i in self.table.ids if i != joined]
        self.assertEqual((self.area(joined), self.area(rest)), (40000, 30000))
        second = self.member(joined, "Rectangle 2")
        self.table.do("transform", ids=[second.id], matrix=(1, 0, 0, 1, -50, 0))
        # the second now covers 150 × 100 of the first, and both outlines know it
        self.assertEqual((self.area(joined), self.area(rest)), (40000, 25000))
        self.table.do("transform", ids=[second.id], matrix=(1, 0, 0, 1, 500, 0))
        self.assertEqual((self.area(joined), self.area(rest)), (40000, 40000))
        self.table.do("transform", ids=[second.id], matrix=(1, 0, 0, 1, -500, 0))
        self.assertEqual((self.area(joined), self.area(rest)), (40000, 25000))

    def test_sizes_and_forms_of_pieces_count_too(self):
        ids = [self.a, self.b]
        (lens,) = self.table.do("by_cell", ids=ids, lifted=self.cells(ids, (150, 150)))
        first = self.member(lens, "Rectangle 1")
        self.table.do("measure", ids=[first.id], field="width", value="150")
        self.assertEqual([self.area(i) for i in self.table.ids], [150 * 200 - 5000, 35000, 5000])

    def test_an_outline_moved_as_a_whole_goes_its_own_way(self):
        ids = [self.a, self.b]
        (lens,) = self.table.do("by_cell", ids=ids, lifted=self.cells(ids, (150, 150)))
        self.table.do("transform", ids=[lens], matrix=(1, 0, 0, 1, 300, 0))
        self.assertEqual([self.area(i) for i in self.table.ids], [30000, 30000, 10000])
        first = self.member(lens, "Rectangle 1")
        self.table.do("transform", ids=[first.id], matrix=(1, 0, 0, 1, 50, 0))
        self.assertEqual([self.area(i) for i in self.table.ids], [30000, 30000, 15000])
        # the two that stayed are still of one piece
        other = self.member(self.a, "Rectangle 2")
        self.table.do("transform", ids=[other.id], matrix=(1, 0, 0, 1, 50, 0))
        self.assertEqual([self.area(i) for i in self.table.ids], [35000, 35000, 15000])

    def test_all_moved_or_copied_together_stay_of_one_piece(self):
        ids = [self.a, self.b]
        self.table.do("by_cell", ids=ids, lifted=self.cells(ids, (150, 150)))
        self.table.do("transform", ids=self.table.ids, matrix=(2, 0, 0, 2, 10, 0))
        copies = self.table.do("duplicate", ids=self.table.ids)
        member = self.member(copies[2], "Rectangle 2")
        self.table.do("transform", ids=[member.id], matrix=(1, 0, 0, 1, 100, 0))
        self.assertEqual([self.area(i) for i in copies], [140000, 140000, 20000])
        old = [i for i in self.table.ids if i not in copies]
        self.assertEqual([self.area(i) for i in old], [120000, 120000, 40000])

    def test_a_lock_holds_for_the_pieces_of_others_too(self):
        ids = [self.a, self.b]
        (lens,) = self.table.do("by_cell", ids=ids, lifted=self.cells(ids, (150, 150)))
        self.table.do("mark", ids=[self.a], field="locked", on=True)
        inner = self.member(lens, "Rectangle 1")
        self.refused("is locked", "transform", ids=[inner.id], matrix=(1, 0, 0, 1, 5, 0))

    def test_cells_held_alike_are_told_apart_by_a_point(self):
        # a bar through a frame's middle leaves two ends; the left one is taken away
        bar = self.table.rectangle(-300, 80, 800, 40)
        ids = [self.a, bar]
        self.table.do("remove", ids=[self.b])
        self.table.do("by_cell", ids=ids, away=self.cells(ids, (-100, 100)))
        self.assertEqual(self.area(bar), 500 * 40)
        inner = self.member(bar, "Rectangle 1")
        for dx, want in ((-150, 500 + 150), (300, 500 - 150)):
            self.table.do("transform", ids=[inner.id], matrix=(1, 0, 0, 1, dx, 0))
            self.assertEqual(self.area(bar), want * 40)

    def test_the_choice_is_changed(self):
        ids = [self.a, self.b]
        (joined,) = self.table.do("by_cell", ids=ids, joined=[self.cells(ids, (50, 50), (150, 150))])
        faces = faces_of(self.table.sheet, [joined])
        self.assertEqual(sorted((f.path.area, f.chosen) for f in faces), [(10000, True), (30000, False), (30000, True)])
        self.table.do("by_cell", ids=[joined], joined=[self.cells([joined], (250, 250))])
        self.assertEqual(self.area(joined), 70000)
        self.table.do("by_cell", ids=[joined], away=self.cells([joined], (50, 50)))
        self.assertEqual(self.area(joined), 40000)
        (out,) = self.table.do("by_cell", ids=[joined], lifted=self.cells([joined], (150, 150)))
        self.assertEqual((self.area(joined), self.area(out)), (30000, 10000))
        self.refused("would be left", "by_cell", ids=[out], away=self.cells([out], (150, 150)))
        self.table.do("by_cell", ids=[out], joined=[self.cells([out], (50, 50))])
        self.table.do("drop_cell", id=out, number=0)
        self.assertIn(self.area(out), (10000, 30000))
        self.refused("would be left", "drop_cell", id=out, number=0)
        self.refused("no longer in the list", "drop_cell", id=out, number=9)
        self.refused("made part by part", "drop_cell", id=self.table.rectangle(0, 0, 5, 5), number=0)

    def test_the_base_without_cells_takes_them_back(self):
        ids = [self.a, self.b]
        self.table.do("by_cell", ids=ids, away=self.cells(ids, (150, 150)))
        self.assertEqual(self.area(self.b), 30000)
        self.table.do("drop_cell", id=self.b, number=0)
        self.assertEqual((self.area(self.a), self.area(self.b)), (30000, 40000))
        # joined to what lies outside of the base, it is made of cells and no longer of the base
        self.table.do("by_cell", ids=[self.b], joined=[self.cells([self.b], (50, 50))])
        self.assertEqual(self.area(self.b), 70000)

    def test_pieces_switched_off_taken_out_and_added(self):
        ids = [self.a, self.b]
        self.table.do("by_cell", ids=ids, away=self.cells(ids, (150, 150)))
        self.table.do("switch_step", id=self.a, number=1)
        self.assertEqual(self.area(self.a), 40000)
        self.table.do("switch_step", id=self.a, number=1)
        for name in ("swap_base", "set_step", "move_step"):
            more = {"set_step": {"number": 1, "operation": "union"}, "move_step": {"number": 0, "to": 1}}
            self.refused("part by part", name, id=self.a, **more.get(name, {}))
        self.refused("without some parts", "drop_step", id=self.a, number=0)
        hole = self.table.rectangle(20, 20, 10, 10)
        (self.a,) = self.table.do("add_steps", ids=[self.a, hole], operation="subtract")
        self.assertEqual(self.area(self.a), 29900)
        self.table.do("drop_step", id=self.b, number=1)
        self.assertEqual(self.area(self.b), 40000)

    def test_a_piece_taken_out_leaves_the_cells_to_the_others(self):
        ids = [self.a, self.b]
        (joined,) = self.table.do("by_cell", ids=ids, joined=[self.cells(ids, (50, 50), (150, 150))])
        self.table.do("drop_step", id=joined, number=1)
        self.assertEqual(self.area(joined), 40000)

    def test_an_outline_that_has_gone_is_told(self):
        ids = [self.a, self.b]
        (lens,) = self.table.do("by_cell", ids=ids, lifted=self.cells(ids, (150, 150)))
        member = self.member(lens, "Rectangle 2")
        self.table.do("transform", ids=[member.id], matrix=(1, 0, 0, 1, 400, 0))
        self.assertIn("Nothing is left of “Part of Rectangle 2”", self.table.note)
        self.table.do("transform", ids=[member.id], matrix=(1, 0, 0, 1, -400, 0))
        self.assertEqual((self.area(lens), self.table.note), (10000, ""))

    def test_apart_again_every_piece_is_its_own(self):
        ids = [self.a, self.b]
        (lens,) = self.table.do("by_cell", ids=ids, lifted=self.cells(ids, (150, 150)))
        laid = self.table.do("take_apart", id=lens)
        self.table.do("transform", ids=[laid[0]], matrix=(1, 0, 0, 1, 50, 0))
        self.assertEqual([self.area(i) for i in (self.a, self.b)], [30000, 30000])

    def test_very_many_pieces_are_made_plain_and_it_is_told(self):
        ids = [self.table.rectangle(10 * k, 0, 15, 900) for k in range(40)]
        across = self.table.rectangle(0, 300, 500, 50)
        cells = faces_of(self.table.sheet, [*ids, across])
        away = [k for k, f in enumerate(cells) if f.path.contains((f.path.bounds[0] + 1, 320))]
        self.table.do("by_cell", ids=[*ids, across], away=away)
        self.assertIn("were flattened", self.table.note)
        self.assertTrue(all(isinstance(self.table.item(i).shape, Plain) for i in ids[1:-1]))


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
        self.refused("no longer has that step", "set_finish", id=self.a, number=4, value="1")

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
        self.assertRegex(self.table.note, r"nodes became \d+, at most [\d.]+ px off")


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
