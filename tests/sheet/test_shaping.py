"""Offsets, rounded corners, fewer nodes and even margins, as commands."""

import math
import unittest

import outline
from sheet import SheetError
from sheet.document.kinds import Field, Tool
from sheet.geometry.geometry import box_of, outline_of
from sheet.geometry.holes import holes

from .helpers import Table, TableCase


class Shaping(unittest.TestCase):
    def setUp(self):
        self.t = Table()
        self.a = self.t.rectangle(100, 100, 300, 200)

    def refused(self, command, /, **args):
        before = self.t.sheet
        with self.assertRaises(SheetError) as caught:
            self.t.do(command, **args)
        self.assertIs(self.t.sheet, before)
        return caught.exception

    def test_offset_makes_a_new_outline_under_or_over(self):
        (around,) = self.t.do("offset", id=self.a, distance="0.1in", join="miter")
        self.assertEqual(box_of(self.t.item(around)), (90, 90, 410, 310))
        self.assertEqual(self.t.ids, [around, self.a])
        (inside,) = self.t.do("offset", id=self.a, distance="-10")
        self.assertEqual(self.t.ids, [around, self.a, inside])
        self.assertEqual(self.t.item(inside).paint, self.t.item(self.a).paint)
        for distance in ("0", "-100", "far"):
            self.assertEqual(self.refused("offset", id=self.a, distance=distance).field, "distance")
        self.assertEqual(self.refused("offset", id=self.a, distance="5", join="flat").field, "join")
        self.assertIn("photo", self.refused("offset", id=self.t.photo(), distance="5").message)

    def test_round_off(self):
        self.t.do("reshape", id=self.a, kind="round", value="20")
        self.assertEqual(outline_of(self.t.item(self.a)).node_count, 8)
        self.assertEqual(self.refused("reshape", id=self.a, kind="round", value="0").field, "radius")
        self.assertIn(
            "no corner", self.refused("reshape", id=self.t.ellipse(0, 0, 9, 9), kind="round", value="1").message
        )

    def test_simplify(self):
        many = self.t.do("combine", ids=[self.a, self.t.ellipse(300, 120, 200, 160)], operation="union")[0]
        for k in range(3):
            bump = self.t.ellipse(150 + 60 * k, 299, 40, 2)
            (many,) = self.t.do("combine", ids=[many, bump], operation="union")
        before = outline_of(self.t.item(many))
        self.t.do("reshape", id=many, kind="simplify", value="4")
        after = outline_of(self.t.item(many))
        self.assertLess(after.node_count, before.node_count)
        self.assertLessEqual(outline.deviation(before, after, 1), 4 + 0.75)
        self.assertEqual(self.refused("reshape", id=many, kind="simplify", value="-1").field, "tolerance")


class Margins(unittest.TestCase):
    def setUp(self):
        self.t = Table()
        a, b = self.t.rectangle(0, 0, 300, 200), self.t.ellipse(40, 50, 100, 60)
        (self.o,) = self.t.do("combine", ids=[a, b], operation="subtract")

    def numbers(self):
        ((m, _),) = holes(self.t.item(self.o))
        return tuple(round(v, 6) for v in (m.left, m.right, m.top, m.bottom))

    def test_set_and_even_in_a_cut_list(self):
        self.assertEqual(self.numbers(), (40, 160, 50, 90))
        self.t.do("set_margin", id=self.o, hole=0, side="right", value="20*3")
        self.assertEqual(self.numbers(), (140, 60, 50, 90))
        self.t.do("set_margin", id=self.o, hole=0, side="even")
        self.assertEqual(self.numbers(), (100, 100, 70, 70))
        with self.assertRaises(SheetError) as caught:
            self.t.do("set_margin", id=self.o, hole=0, side="even")
        self.assertIn("already equal", caught.exception.message)
        # the step itself moved: the list can still be changed
        self.t.do("take_apart", id=self.o)
        self.assertEqual(box_of(self.t.sheet.items[1]), (100, 70, 200, 130))

    def test_across_down_and_all_four(self):
        self.t.do("set_margin", id=self.o, hole=0, side="across")
        self.assertEqual(self.numbers(), (100, 100, 50, 90))
        self.t.do("set_margin", id=self.o, hole=0, side="down")
        self.assertEqual(self.numbers(), (100, 100, 70, 70))
        self.t.do("set_margin", id=self.o, hole=0, side="all")
        # as wide as the smaller: the hole is 160 by 60 now
        self.assertEqual(self.numbers(), (70, 70, 70, 70))
        self.assertEqual([round(v, 6) for v in box_of(self.t.item(self.o).shape.steps[0].member)], [70, 70, 230, 130])
        with self.assertRaisesRegex(SheetError, "already equal"):
            self.t.do("set_margin", id=self.o, hole=0, side="all")
        self.t.do("make_plain", id=self.o)
        self.t.do("set_margin", id=self.o, hole=0, side="left", value="10")
        self.t.do("set_margin", id=self.o, hole=0, side="all")
        self.assertEqual(self.numbers(), (70, 70, 70, 70))

    def test_in_a_plain_path(self):
        self.t.do("make_plain", id=self.o)
        self.t.do("set_margin", id=self.o, hole=0, side="top", value="10")
        self.assertEqual(self.numbers(), (40, 160, 10, 130))

    def test_refusals(self):
        for args in ({"hole": 1, "side": "left", "value": "3"}, {"hole": 0, "side": "up", "value": "3"}):
            with self.assertRaises(SheetError):
                self.t.do("set_margin", id=self.o, **args)
        with self.assertRaises(SheetError) as caught:
            self.t.do("set_margin", id=self.o, hole=0, side="left", value="wide")
        self.assertEqual(caught.exception.field, "margin")

    def test_a_hole_that_would_run_into_another_or_the_border_is_told_before(self):
        t = self.t = Table()
        a = t.rectangle(0, 0, 300, 200)
        b, c = t.ellipse(40, 70, 60, 60), t.ellipse(180, 70, 60, 60)
        (self.o,) = t.do("combine", ids=[a, b, c], operation="subtract")
        for plain in (False, True):
            if plain:
                t.do("make_plain", id=self.o)
            for side, value in (("left", "150"), ("left", "-20")):
                with self.assertRaisesRegex(SheetError, "of 2 holes 1 would stay"):
                    t.do("set_margin", id=self.o, hole=0, side=side, value=value)
            with self.assertRaisesRegex(SheetError, "of 2 holes 1 would stay"):
                # in the middle of the frame both would lie upon one another
                t.do("set_margin", id=self.o, hole=0, side="left", value="190", how="move")
            self.assertEqual(len(holes(t.item(self.o))), 2)
            t.do("set_margin", id=self.o, hole=0, side="left", value="60")
            t.do("set_margin", id=self.o, hole=0, side="left", value="40")

    def test_a_hole_of_several_pieces_is_explained(self):
        t = self.t = Table()
        a = t.rectangle(0, 0, 300, 200)
        b, c = t.ellipse(40, 50, 60, 60), t.ellipse(80, 50, 60, 60)
        (self.o,) = t.do("combine", ids=[a, b, c], operation="subtract")
        with self.assertRaises(SheetError) as caught:
            t.do("set_margin", id=self.o, hole=0, side="even")
        self.assertIn("not one piece", caught.exception.message)


class Tips(TableCase):
    """Tips of a frame rounded after it is filled, and otherwise later."""

    def setUp(self):
        super().setUp()
        (self.star,) = self.table.do("draw", kind="star", x=100, y=100, width=400, height=400)
        self.square = self.table.rectangle(600, 100, 200, 200)
        photo = self.table.photo(900, 900, 300, 300)
        self.table.do("put_in", ids=[self.star, photo])
        self.table.do("paint", ids=[self.star], field="stroke", value="#b5432a")

    def area(self, item):
        return outline_of(self.table.item(item)).area

    def test_several_at_once_and_back_to_none(self):
        before, items = self.area(self.square), self.table.sheet.items
        self.table.do("round_tips", ids=[self.star, self.square], value="20")
        # a corner of a right angle gives r² (1 - π/4) each
        self.assertAlmostEqual(self.area(self.square), before - 4 * 20**2 * (1 - math.pi / 4), delta=0.5)
        frame = self.table.item(self.star)
        self.assertEqual((len(frame.photos), frame.paint.stroke), (1, "#b5432a"))
        self.table.do("round_tips", ids=[self.star, self.square], value="2*5")
        self.assertAlmostEqual(self.area(self.square), before - 4 * 10**2 * (1 - math.pi / 4), delta=0.5)
        self.assertEqual(len(self.table.item(self.square).shape.finishes), 1)
        self.table.do("round_tips", ids=[self.star, self.square], value="0")
        self.assertEqual(self.table.sheet.items, items)

    def test_of_an_outline_it_is_the_last_step(self):
        (both,) = self.table.do("combine", ids=[self.table.rectangle(0, 0, 50, 50), self.square], operation="union")
        steps = self.table.item(both).shape.steps
        self.table.do("round_tips", ids=[both], value="5")
        self.assertEqual([f.kind for f in self.table.item(both).shape.finishes], ["round"])
        self.table.do("round_tips", ids=[both], value="0")
        self.assertEqual((self.table.item(both).shape.finishes, self.table.item(both).shape.steps), ((), steps))

    def test_refused(self):
        disc = self.table.ellipse(0, 0, 80, 80)
        photo = self.table.photo()
        for ids, value, words in (
            ([disc], "5", "no line corner to round"),
            ([self.square], "0", "no line corner to round"),
            ([photo], "5", "A photo has no line corners"),
            ([], "5", "Nothing is selected"),
            ([self.square], "-5", "0 or greater"),
            ([self.square], "round", "is not a number"),
        ):
            with self.subTest(words), self.assertRaisesRegex(SheetError, words):
                self.table.do("round_tips", ids=ids, value=value)


class Kinds(unittest.TestCase):
    def test_a_wrong_kind_of_field_or_gesture_fails_where_it_is_written(self):
        with self.assertRaisesRegex(ValueError, "'colour' is not a kind of field: it is one of length, count"):
            Field("fill", "Fill", "colour")
        with self.assertRaisesRegex(ValueError, "'wave' is not a gesture"):
            Tool("wave", "w", "waves")
        self.assertEqual(Tool("box", "", "square").key, "")
