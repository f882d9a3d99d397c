"""Align, space, group, lock, hide, guides and grids, by arithmetic."""

import math
import unittest

import numpy as np

from outline import Matrix
from sheet import apply
from sheet.document.kinds import Ellipse, Polygon, Rectangle, Star
from sheet.document.model import CutList, Group, Piece
from sheet.geometry.geometry import box_of, outline_of
from sheet.geometry.placing import moved
from sheet.inspect.snapping import modules

from .helpers import TableCase


class Moving(unittest.TestCase):
    def test_what_is_moved_or_turned_keeps_its_form_whatever_scaled_it_before(self):
        shapes = (Rectangle(100, 60, (10, 20, 0, 5)), Ellipse(100, 60), Polygon(100, 60, 5, 8), Star(100, 60, 5, 50, 4))
        maps = (Matrix.move(5, 7), Matrix.turn(40), Matrix.turn(90) @ Matrix.move(3, 0))
        for shape in shapes:
            for before in ((2, 0, 0, 2, 0, 0), (1, 0, 0, 0.5, 9, 0), (0, 3, -1, 0, 0, 0), (2, 0.5, -0.3, 1, 0, 0)):
                piece = Piece("a", "One", shape, tuple(map(float, before)))
                for by in maps:
                    with self.subTest(shape, before=before, by=by):
                        want, got = outline_of(piece).transform(by), outline_of(moved(piece, by))
                        np.testing.assert_allclose(got.arrays[0], want.arrays[0], atol=1e-9)

    def test_a_scaling_goes_into_the_sizes_and_leaves_the_radii(self):
        piece = Piece("a", "One", Rectangle(100, 60, (10, 10, 10, 10)), (2.0, 0.0, 0.0, 2.0, 0.0, 0.0))
        made = moved(piece, Matrix.resize(3, 0.5))
        self.assertEqual((made.shape.width, made.shape.height, made.shape.radii[0]), (300, 30, 10))
        self.assertEqual(made.matrix, piece.matrix)


class Aligning(TableCase):
    def setUp(self):
        super().setUp()
        self.a = self.table.rectangle(100, 100, 200, 100)
        self.b = self.table.ellipse(350, 50, 50, 80)
        self.c = self.table.rectangle(500, 300, 120, 60)

    def boxes(self):
        return [box_of(self.table.item(i)) for i in (self.a, self.b, self.c)]

    def test_sides_of_the_chosen(self):
        for side, k, want in (("left", 0, 100), ("right", 2, 620), ("top", 1, 50), ("bottom", 3, 360)):
            self.setUp()
            self.table.do("align", ids=[self.a, self.b, self.c], side=side)
            for box in self.boxes():
                self.assertAlmostEqual(box[k], want)

    def test_centres_in_one_press_on_the_sheet(self):
        self.table.do("align", ids=[self.a, self.b, self.c], side="both", to="sheet")
        for x0, y0, x1, y1 in self.boxes():
            self.assertAlmostEqual((x0 + x1) / 2, 500)
            self.assertAlmostEqual((y0 + y1) / 2, 400)
        self.refused("already lined up", "align", ids=[self.a], side="both", to="sheet")

    def test_to_one_of_them_which_stays(self):
        before = self.boxes()[0]
        self.table.do("align", ids=[self.a, self.b, self.c], side="middle", to=self.a)
        after = self.boxes()
        self.assertEqual(after[0], before)
        for box in after[1:]:
            self.assertAlmostEqual((box[1] + box[3]) / 2, 150)

    def test_one_alone_is_aligned_to_the_sheet(self):
        outcome = apply(self.table.sheet, "align", {"ids": [self.a], "side": "left"})
        self.assertIn("aligned to the sheet", outcome.note)
        self.table.do("align", ids=[self.a], side="left")
        self.assertEqual(self.boxes()[0][0], 0)
        self.table.do("align", ids=[self.a], side="bottom", to=self.a)
        self.assertEqual(self.boxes()[0][3], self.table.sheet.height)
        self.refused("already lined up with the sheet", "align", ids=[self.a], side="left", to="sheet")

    def test_even_gaps_and_a_given_gap(self):
        self.table.do("space", ids=[self.a, self.b, self.c], axis="x")
        a, b, c = self.boxes()
        self.assertAlmostEqual(b[0] - a[2], (620 - 100 - 200 - 50 - 120) / 2)
        self.assertAlmostEqual(c[0] - b[2], b[0] - a[2])
        self.table.do("space", ids=[self.a, self.b, self.c], axis="x", gap="0.1in")
        a, b, c = self.boxes()
        self.assertEqual([round(v, 6) for v in (a[0], b[0] - a[2], c[0] - b[2])], [100, 10, 10])
        self.refused("already like that", "space", ids=[self.a, self.b, self.c], axis="x", gap="10")
        self.refused("three pieces", "space", ids=[self.a, self.b], axis="x")


class Groups(TableCase):
    def setUp(self):
        super().setUp()
        self.a = self.table.rectangle(100, 100, 200, 100)
        self.b = self.table.rectangle(250, 150, 200, 100)
        self.c = self.table.ellipse(600, 300, 100, 100)

    def test_group_moves_as_one_and_comes_apart(self):
        (group,) = self.table.do("group", ids=[self.a, self.b])
        self.assertIsInstance(self.table.item(group), Group)
        self.assertEqual(self.table.ids, [group, self.c])
        self.table.do("transform", ids=[group], matrix=(1, 0, 0, 1, 10, 20))
        self.near(box_of(self.table.item(group)), (110, 120, 460, 270))
        self.table.do("paint", ids=[group], field="fill", value="#112233")
        self.assertEqual(set(self.table.do("ungroup", ids=[group])), {self.a, self.b})
        self.assertEqual(self.table.item(self.a).paint.fill, "#112233")
        self.refused("not a group", "ungroup", ids=[self.c])
        self.refused("two items", "group", ids=[self.c])

    def test_a_group_combines_and_clips_with_no_conversion(self):
        (group,) = self.table.do("group", ids=[self.a, self.b])
        (made,) = self.table.do("combine", ids=[group, self.c], operation="union")
        item = self.table.item(made)
        self.assertAlmostEqual(outline_of(item).area, 40000 - 2500 + math.pi * 2500, delta=3)
        self.assertIsInstance(item.shape.base.shape, CutList)
        d, e = self.table.rectangle(0, 0, 60, 60), self.table.rectangle(30, 30, 60, 60)
        (group,) = self.table.do("group", ids=[d, e])
        photo = self.table.photo(x=60, y=60)
        (frame,) = self.table.do("put_in", ids=[group, photo])
        self.assertIsInstance(self.table.item(frame), Piece)
        self.assertEqual([p.id for p in self.table.item(frame).photos], [photo])

    def test_inside_a_group_things_can_be_changed_and_removed(self):
        (group,) = self.table.do("group", ids=[self.a, self.b])
        self.table.do("transform", ids=[self.a], matrix=(1, 0, 0, 1, -50, 0))
        self.near(box_of(self.table.item(group)), (50, 100, 450, 250))
        self.table.do("remove", ids=[self.a])
        self.assertEqual([i.id for i in self.table.item(group).items], [self.b])
        self.table.do("remove", ids=[self.b])
        self.assertEqual(self.table.ids, [self.c])

    def test_copies_of_a_group_have_ids_of_their_own(self):
        (group,) = self.table.do("group", ids=[self.a, self.b])
        (copy,) = self.table.do("duplicate", ids=[group])
        inner = {i.id for i in self.table.item(copy).items}
        self.assertFalse(inner & {self.a, self.b})

    def test_locked_things_stay_and_say_so(self):
        self.table.do("mark", ids=[self.a], field="locked", on=True)
        for command, args in (
            ("transform", {"matrix": (1, 0, 0, 1, 5, 5)}),
            ("remove", {}),
            ("paint", {"field": "fill", "value": "none"}),
        ):
            self.refused("is locked", command, ids=[self.a], **args)
        self.refused("is locked", "combine", ids=[self.a, self.b], operation="union")
        self.table.do("mark", ids=[self.a], field="locked", on=False)
        self.table.do("remove", ids=[self.a])

    def test_what_lies_in_a_frame_or_an_outline_is_not_hidden_alone_and_says_what_is(self):
        t = self.table
        frame, photo = t.rectangle(500, 500, 50, 50), t.photo(600, 400)
        t.do("put_in", ids=[frame, photo])
        a, b = t.ellipse(700, 500, 80, 80), t.ellipse(740, 500, 80, 80)
        t.do("combine", ids=[a, b], operation="union")
        refused = self.refused("“sea.jpg” is in “Rectangle", "mark", ids=[photo], field="hidden", on=True)
        self.assertRegex(refused.remedy, "hide “Rectangle .”, or take it out")
        refused = self.refused("is part of “", "mark", ids=[b], field="locked", on=True)
        self.assertRegex(refused.remedy, "lock “.+”, or switch it off")

    def test_lines_divide_and_split(self):
        (line,) = self.table.do("draw_curve", d="M200 50V300")
        made = self.table.do("combine", ids=[self.a, line], operation="subtract")
        self.assertEqual(sorted(outline_of(self.table.item(i)).area for i in made), [10000, 10000])
        (line,) = self.table.do("draw_curve", d="M550 350H800")
        name = self.table.item(self.c).name
        made = self.table.do("apart", ids=[self.c, line])
        self.assertEqual([self.table.item(m).name for m in made], [f"Part 1 of {name}", f"Part 2 of {name}"])
        self.assertEqual(len(made), 2)
        (line,) = self.table.do("draw_curve", d="M550 350H800")
        self.refused("open line", "combine", ids=[self.b, line], operation="union")


class Ruling(TableCase):
    def test_guides(self):
        self.table.do("set_guide", axis="x", at="50%")
        self.table.do("set_guide", axis="y", at=120.5)
        self.table.do("set_guide", axis="x", at="1in", number=0)
        self.assertEqual([(g.axis, g.at) for g in self.table.sheet.guides], [("x", 100), ("y", 120.5)])
        self.table.do("lock_guides", on=True)
        self.refused("locked", "drop_guide", number=0)
        self.table.do("lock_guides", on=False)
        self.table.do("drop_guide", number=0)
        self.table.do("drop_guide")
        self.assertEqual(self.table.sheet.guides, ())
        self.refused("no guides", "drop_guide")

    def test_a_module_grid_fits_the_sheet(self):
        self.table.do("set_grid", kind="modules", width="200", height="100", gap="20", margin="50")
        columns, rows = modules(self.table.sheet)
        # n modules and n - 1 gaps between the margins: floor((900 + 20) / 220), floor((700 + 20) / 120)
        self.assertEqual((len(columns), len(rows)), (4, 6))
        self.assertEqual(columns[1], (270, 470))
        self.refused("or more", "set_grid", kind="plain", step="0")
        self.refused("no room", "set_grid", kind="modules", margin="400")
