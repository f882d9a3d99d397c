"""Gradients as paints: where they run, by the formulas of CSS Images 3, and that they go along with what they paint."""

import math

from hypothesis import given
from hypothesis import strategies as st

from sheet import SheetError, dump, load
from sheet.document.gradients import Gradient, Stop, flat, mean
from sheet.document.model import INK
from sheet.geometry.copies import default_paint

from .helpers import TableCase


class Gradients(TableCase):
    def setUp(self):
        super().setUp()
        self.a = self.table.rectangle(100, 100, 400, 200)
        self.table.do("gradient", ids=[self.a], field="fill", kind="linear")

    @property
    def fill(self) -> Gradient:
        fill = self.table.item(self.a).paint.fill
        assert isinstance(fill, Gradient)
        return fill

    def set(self, part, value):
        self.table.do("place_gradient", ids=[self.a], field="fill", part=part, value=value)

    def ends(self):
        m = self.fill.placing
        return (*m(0, 0), *m(1, 0))

    def test_a_new_one_runs_across_the_box_from_the_colour_that_was_there(self):
        self.near(self.ends(), (100, 200, 500, 200))
        self.assertEqual([s.at for s in self.fill.stops], [0, 1])
        self.assertEqual(self.fill.stops[0].color, "#c9bda4")
        self.assertNotEqual(self.fill.stops[1].color, "#c9bda4")
        self.assertEqual(load(dump(self.table.sheet)), self.table.sheet)

    @given(st.floats(-720, 720))
    def test_at_an_angle_the_ends_have_the_corners_on_their_lines(self, degrees):
        # CSS Images 3, 3.1.1: |W sin A| + |H cos A| with A from the top; ours is from the right
        self.set("angle", f"{degrees:.3f}")
        degrees = round(degrees, 3)
        x0, y0, x1, y1 = self.ends()
        a = math.radians(degrees)
        self.assertAlmostEqual(
            math.hypot(x1 - x0, y1 - y0), abs(400 * math.cos(a)) + abs(200 * math.sin(a)), delta=1e-6
        )
        back = self.fill.placing.inverse()
        along = [back(x, y)[0] for x in (100, 500) for y in (100, 300)]
        self.near((min(along), max(along)), (0, 1))

    def test_a_radial_one_reaches_the_farthest_corner(self):
        # CSS Images 3, 3.2.1
        self.table.do("gradient", ids=[self.a], field="fill", kind="radial")
        self.near(self.fill.placing(0, 0), (300, 200))
        self.assertAlmostEqual(self.fill.placing.scale, math.hypot(200, 100))
        self.set("x", "25 %")
        self.near(self.fill.placing(0, 0), (200, 200))
        self.assertAlmostEqual(self.fill.placing.scale, math.hypot(300, 100))
        self.set("size", "100/2")
        self.assertAlmostEqual(self.fill.placing.scale, math.hypot(300, 100) / 2)
        self.refused("1 to 1,000 %", "place_gradient", ids=[self.a], field="fill", part="size", value="0")
        self.refused("no gradient", "place_gradient", ids=[self.a], field="fill", part="angle", value="30")

    def test_stops_are_added_swapped_spaced_and_removed(self):
        def do(does, **more):
            self.table.do("gradient_stops", ids=[self.a], field="fill", does=does, **more)

        def set_stop(stop, part, value):
            self.table.do("gradient_stop", ids=[self.a], field="fill", stop=stop, part=part, value=value)

        set_stop(0, "color", "black")
        set_stop(1, "color", "#ffffff")
        do("add")
        self.assertEqual(self.fill.stops[1], Stop(0.5, "#808080"))
        set_stop(1, "opacity", "40")
        set_stop(1, "at", "10")
        do("swap")
        self.assertEqual(self.fill.stops, (Stop(0, "#ffffff"), Stop(0.9, "#808080", 0.4), Stop(1, "#000000")))
        do("even")
        self.assertEqual([s.at for s in self.fill.stops], [0, 0.5, 1])
        # taken past another it changes places with it
        set_stop(0, "at", "80 %")
        self.assertEqual([s.color for s in self.fill.stops], ["#808080", "#ffffff", "#000000"])
        do("remove", stop=1)
        self.assertEqual([s.color for s in self.fill.stops], ["#808080", "#000000"])
        self.refused("two stops", "gradient_stops", ids=[self.a], field="fill", does="remove", stop=0)
        for part, value in (("at", "101"), ("opacity", "-1"), ("at", "many"), ("color", "none"), ("color", "loud")):
            self.refused("", "gradient_stop", ids=[self.a], field="fill", stop=0, part=part, value=value)
        for _ in range(18):
            do("add")
        self.refused("20 stops", "gradient_stops", ids=[self.a], field="fill", does="add")

    def test_it_goes_along_with_what_it_paints(self):
        t = self.table
        t.do("transform", ids=[self.a], matrix=[0, 1, -1, 0, 1000, 0])
        self.near(self.ends(), (800, 100, 800, 500))
        t.do("measure", ids=[self.a], field="height", value="200")
        self.near(self.ends(), (800, 100, 800, 300))
        # as a member of an outline, and as an outline's own
        b = t.ellipse(700, 150, 100, 100)
        (made,) = t.do("combine", ids=[self.a, b], operation="subtract")
        t.do("transform", ids=[made], matrix=[1, 0, 0, 1, 50, 10])
        m = t.item(made).paint.fill.placing
        self.near((*m(0, 0), *m(1, 0)), (850, 110, 850, 310))

    def test_another_proportion_takes_it_from_box_to_box(self):
        self.table.do("refit", id=self.a, width="200", height="400")
        x0, y0, x1, y1 = self.ends()
        self.assertAlmostEqual(x1 - x0, 200)
        self.assertAlmostEqual(y0, y1)

    def test_copied_to_another_piece_it_runs_over_that_ones_box(self):
        b = self.table.ellipse(600, 400, 100, 300)
        self.table.do("copy_paint", source=self.a, ids=[b])
        m = self.table.item(b).paint.fill.placing
        self.near((*m(0, 0), *m(1, 0)), (600, 550, 700, 550))

    def test_parts_that_are_divided_go_on_in_the_same_one(self):
        before = self.fill
        b = self.table.rectangle(300, 50, 20, 300)
        made = self.table.do("apart", ids=[self.a, b])
        fills = [self.table.item(i).paint.fill for i in made]
        self.assertGreaterEqual(fills.count(before), 2)

    def test_a_border_and_back_to_one_colour(self):
        t = self.table
        t.do("gradient", ids=[self.a], field="stroke", kind="radial")
        paint = t.item(self.a).paint
        self.assertIsInstance(paint.stroke, Gradient)
        self.assertGreater(paint.stroke_width, 0)
        t.do("gradient", ids=[self.a], field="stroke", kind="none")
        self.assertEqual(t.item(self.a).paint.stroke, paint.stroke.stops[0].color)
        t.do("paint", ids=[self.a], field="fill", value="none")
        self.assertIsNone(t.item(self.a).paint.fill)
        self.refused("no gradient", "gradient", ids=[self.a], field="fill", kind="none")

    def test_several_and_groups_each_by_its_own_box_and_never_a_photo(self):
        t = self.table
        b = t.ellipse(600, 400, 100, 300)
        (group,) = t.do("group", ids=[self.a, b])
        t.do("gradient", ids=[group], field="fill", kind="radial")
        one, other = t.item(group).items
        self.near((*one.paint.fill.placing(0, 0), *other.paint.fill.placing(0, 0)), (300, 200, 650, 550))
        photo = t.photo()
        self.refused("A photo has no fill", "gradient", ids=[photo], field="fill", kind="linear")
        self.refused("Nothing is selected", "gradient", ids=[], field="fill", kind="linear")

    def test_a_new_piece_like_another_one_has_its_paint(self):
        box = {"kind": "ellipse", "x": 600, "y": 400, "width": 100, "height": 300}
        (b,) = self.table.do("draw", **box, like=self.a)
        fill = self.table.item(b).paint.fill
        self.assertEqual(fill.stops, self.fill.stops)
        self.near((*fill.placing(0, 0), *fill.placing(1, 0)), (600, 550, 700, 550))
        self.table.do("remove", ids=[self.a])
        for like in (self.a, self.table.photo(), ""):
            (c,) = self.table.do("draw", **box, like=like)
            self.assertEqual(self.table.item(c).paint.fill, "#c9bda4")

    def test_fill_and_border_set_before_drawing(self):
        def drawn(command="draw", **given):
            box = {"kind": "ellipse", "x": 600, "y": 400, "width": 100, "height": 300}
            (new,) = self.table.do(command, **(box if command == "draw" else {}), **given)
            return self.table.item(new).paint

        paint = drawn(first_paint={"fill": "gold", "stroke": "#102030", "stroke_width": "1in"})
        self.assertEqual((paint.fill, paint.stroke, paint.stroke_width), ("#ffd700", "#102030", 100))
        # what is left empty is as usual; part of a border makes one that shows
        paint = drawn(first_paint={"fill": "", "stroke_width": "4"})
        self.assertEqual((paint.fill, paint.stroke, paint.stroke_width), ("#c9bda4", INK, 4))
        paint = drawn(first_paint={"stroke": "#102030"})
        self.assertEqual(paint.stroke_width, default_paint(self.table.sheet).stroke_width)
        paint = drawn(first_paint={"fill": "none", "stroke": "none", "stroke_width": "4"})
        self.assertEqual((paint.fill, paint.stroke), (None, None))
        # the piece it is like goes before
        self.assertEqual(drawn(like=self.a, first_paint={"fill": "gold"}).fill.stops, self.fill.stops)
        # a line has a border and no fill, whatever is set
        for stroke, want in (("gold", "#ffd700"), ("none", INK), ("", INK)):
            line = drawn("draw_curve", d="M0 0L100 50", first_paint={"fill": "gold", "stroke": stroke})
            self.assertEqual((line.fill, line.stroke), (None, want))
        letters = drawn("draw_lettering", text="Oh", font="bitter", size=40, x=0, y=100, first_paint={"stroke": "gold"})
        self.assertEqual((letters.fill, letters.stroke), (INK, "#ffd700"))
        self.refused("not a colour", "draw_curve", d="M0 0H9V9Z", first_paint={"fill": "tartan"})
        self.refused("0 or wider", "draw_curve", d="M0 0H9V9Z", first_paint={"stroke_width": "-1"})

    def test_what_is_none_is_refused_at_the_door(self):
        draw = {"kind": "rectangle", "x": 1, "y": 1, "width": 9, "height": 9}
        good = {"kind": "linear", "stops": [{"at": 0, "color": "#000000"}, {"at": 1, "color": "#ffffff"}]}
        m = [100, 0, 0, 100, 0, 0]
        self.table.do("draw", **draw, paint={"fill": {**good, "matrix": m}})
        for wrong in (
            {**good, "matrix": [1, 1, 1, 1, 0, 0]},
            {**good, "matrix": m, "stops": good["stops"][::-1]},
            {**good, "matrix": m, "stops": good["stops"][:1]},
            {**good, "matrix": m, "stops": [{"at": 0, "color": "red"}, *good["stops"]]},
            {**good, "matrix": m, "kind": "conic"},
            good,
        ):
            with self.subTest(wrong), self.assertRaises(SheetError):
                self.table.do("draw", **draw, paint={"fill": wrong})


class OneColour(TableCase):
    """What stands in where there is no room for a gradient."""

    def test_it_is_weighted_by_place_and_opacity(self):
        black, white = Stop(0.0, "#000000"), Stop(1.0, "#ffffff")
        self.assertEqual(mean((black, white)), ("#808080", 1.0))
        # a quarter black, three quarters white beyond the hard edge
        self.assertEqual(mean((Stop(0.25, "#000000"), Stop(0.25, "#ffffff")))[0], "#bfbfbf")
        self.assertEqual(mean((Stop(0, "#000000", 0), Stop(1, "#000000", 0))), ("#000000", 0.0))
        self.assertEqual((flat(None), flat("#123456")), (None, "#123456"))
