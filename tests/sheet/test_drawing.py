"""Every piece through its command: numbers by formula, bad input refused, nothing lost."""

import math

import outline
from sheet import SheetError, dump, load
from sheet.document.kinds import lettered
from sheet.document.library import PhotoFacts
from sheet.document.model import CutList, EdgeRun, Freehand, Lettering, Polygon, Star
from sheet.geometry.geometry import box_of, is_line, local_frame, outline_of
from sheet.reading.details import details_of

from .helpers import FILE, Known, Table, TableCase


class Pieces(TableCase):
    def draw(self, kind, **more):
        (new,) = self.table.do("draw", kind=kind, x=100, y=50, width=300, height=200, **more)
        return self.table.item(new)

    def test_about_its_middle(self):
        (new,) = self.table.do("draw", kind="ellipse", x=300, y=200, width="100px", height="50%", centred=True)
        self.assertEqual(box_of(self.table.item(new)), (250, 0, 350, 400))

    def test_every_kind_fills_its_box(self):
        for kind in ("rectangle", "ellipse", "polygon", "star"):
            self.near(box_of(self.draw(kind)), (100, 50, 400, 250))
        for key in outline.READY:
            self.near(box_of(self.draw("ready", ready=key)), (100, 50, 400, 250))

    def test_details_while_drawing_and_afterwards(self):
        star = self.draw("star", details={"points": "7", "inner": "40 %"})
        self.assertEqual((star.shape.points, star.shape.inner), (7, 0.4))
        self.assertEqual(outline_of(star).node_count, 14)
        self.table.do("set_detail", ids=[star.id], field="points", value="3*3")
        self.assertEqual(self.table.item(star.id).shape.points, 9)
        self.table.do("set_detail", ids=[star.id], field="tip", value="4")
        # a tip turns by more than a quarter, and its arc is two cubics; the inner corners have one
        self.assertEqual(outline_of(self.table.item(star.id)).node_count, 36)

    def test_corner_radii_together_and_alone(self):
        piece = self.draw("rectangle")
        self.table.do("set_detail", ids=[piece.id], field="radius", value="20")
        self.table.do("set_detail", ids=[piece.id], field="radius2", value="50")
        self.assertEqual(self.table.item(piece.id).shape.radii, (20, 20, 50, 20))
        # (1 - π/4) r² is what each round corner takes away
        lost = (1 - math.pi / 4) * (3 * 400 + 2500)
        self.assertAlmostEqual(outline_of(self.table.item(piece.id)).area, 60000 - lost, delta=1)

    def test_a_radius_too_large_is_held_and_told(self):
        piece = self.draw("rectangle")
        self.table.do("set_detail", ids=[piece.id], field="radius", value="5000")
        self.assertEqual(self.table.item(piece.id).shape.radii, (100,) * 4)
        self.assertIn("now 100", self.table.note)
        self.table.do("set_detail", ids=[piece.id], field="radius0", value="180")
        self.assertEqual(self.table.item(piece.id).shape.radii, (100, 100, 100, 100))
        polygon = self.draw("polygon", details={"sides": "6"})
        self.table.do("set_detail", ids=[polygon.id], field="radius", value="999")
        self.assertIn("largest that fits", self.table.note)
        self.assertLess(self.table.item(polygon.id).shape.radius, 200)

    def test_several_pieces_at_once(self):
        a, b = self.draw("star"), self.draw("star")
        other = self.draw("ellipse")
        self.table.do("set_detail", ids=[a.id, b.id, other.id], field="points", value="8")
        self.assertEqual([self.table.item(i.id).shape.points for i in (a, b)], [8, 8])

    def test_bad_numbers_are_told_at_their_field(self):
        piece = self.draw("polygon")
        for field, value, words in (
            ("sides", "2", "from 3 to 60"),
            ("sides", "1000000", "from 3 to 60"),
            ("sides", "4.5", "whole number"),
            ("sides", "6/0", "divides by zero"),
            ("radius", "3 miles", "not a number"),
            ("radius", "-1", "or more"),
            ("points", "5", "has no points"),
        ):
            with self.subTest(value=value):
                self.refused(words, "set_detail", ids=[piece.id], field=field, value=value)
        self.assertEqual(self.table.item(piece.id), piece)
        self.refused("greater than 0", "draw", kind="star", x=0, y=0, width=0, height=5)
        self.refused("no shape “ship”", "draw", kind="ready", ready="ship", x=0, y=0, width=9, height=5)

    def test_a_curve_closed_and_open(self):
        (closed,) = self.table.do("draw_curve", d="M0 0H100V80Z")
        self.assertFalse(is_line(self.table.item(closed)))
        (line,) = self.table.do("draw_curve", d="M0 0C20 40 60 40 90 0")
        self.assertTrue(is_line(self.table.item(line)))
        self.refused("two nodes", "draw_curve", d="M5 5")

    def test_freehand_is_within_its_tolerance_at_every_point(self):
        points = [[200 + 90 * math.cos(k / 20) + k % 3, 200 + 60 * math.sin(k / 20)] for k in range(110)]
        (new,) = self.table.do("draw_freehand", points=points, tolerance=3)
        piece = self.table.item(new)
        self.assertIsInstance(piece.shape, Freehand)
        for tolerance in ("3", "1.5", "12"):
            self.table.do("set_detail", ids=[new], field="tolerance", value=tolerance)
            path = outline_of(self.table.item(new))
            worst = max(outline.nodes.nearest(path, x, y)[2] for x, y in points)
            self.assertLessEqual(worst, float(tolerance) * 1.01)
        self.assertLess(path.node_count, 12)
        self.refused("too short", "draw_freehand", points=[[5, 5], [5, 5]], tolerance=3)
        self.refused("greater than 0", "draw_freehand", points=points, tolerance="0")

    def test_lettering_stays_text(self):
        (new,) = self.table.do("draw_lettering", text="Marram", font="bitter", size=120, x=50, y=300)
        piece = self.table.item(new)
        self.assertEqual(piece.shape.text, "Marram")
        for field, value in (("text", "Coast\nferry"), ("font", "pacifico"), ("size", "2in"), ("align", "centre")):
            self.table.do("set_detail", ids=[new], field=field, value=value)
        shape = self.table.item(new).shape
        self.assertEqual((shape.text, shape.font, shape.size, shape.align), ("Coast\nferry", "pacifico", 200, "centre"))
        self.refused("one letter", "set_detail", ids=[new], field="text", value=" ")
        self.refused("not a font", "set_detail", ids=[new], field="font", value="Comic")
        self.table.do("set_detail", ids=[new], field="text", value="Coast 漢")
        self.assertIn("“漢”", self.table.note)
        self.refused("has no “漢”", "draw_lettering", text="漢", font="bitter", size=120, x=50, y=300)

    def test_kerning_by_pair(self):
        (new,) = self.table.do("draw_lettering", text="AVA", font="bitter", size=100, x=0, y=200)
        before = lettered(self.table.item(new).shape).glyphs
        self.table.do("kern", id=new, at=1, by="-20")
        self.table.do("kern", id=new, at=1, by="-10")
        after = lettered(self.table.item(new).shape).glyphs
        self.assertEqual([round(b.x - a.x, 6) for a, b in zip(before, after, strict=True)], [0, 0, -3])
        self.refused("no pair", "kern", id=new, at=2, by="5")

    def test_edge_runs_along_a_line_and_a_side(self):
        (line,) = self.table.do("draw_edge", kind="zigzag", pitch=20, x0=10, y0=50, x1=210, y1=50)
        self.assertTrue(is_line(self.table.item(line)))
        self.assertEqual(outline_of(self.table.item(line)).node_count, 21)
        self.table.do("set_detail", ids=[line], field="flank", value="60")
        x0, y0, x1, y1 = box_of(self.table.item(line))
        self.assertAlmostEqual(y1 - y0, 10 * math.sqrt(3))
        piece = self.draw("rectangle")
        self.table.do("draw_edge", kind="scallop", pitch=20, id=piece.id, sides=[2])
        self.near(box_of(self.table.item(piece.id)), (100, 50, 400, 260))
        self.table.do("draw_edge", kind="scallop", pitch=20, id=piece.id, sides=[0])
        self.assertEqual(self.table.item(piece.id).shape.sides, (0, 2))
        # the rectangle within keeps its numbers: widening it adds teeth, of the same size
        self.table.do("measure", ids=[piece.id], field="width", value="600")
        self.assertIsInstance(self.table.item(piece.id).shape, EdgeRun)
        self.assertEqual(self.table.item(piece.id).shape.pitch, 20)
        self.assertAlmostEqual(box_of(self.table.item(piece.id))[2], 700)
        self.refused("sides", "draw_edge", id=piece.id, sides=[9])
        self.refused("no length", "draw_edge", x0=5, y0=5, x1=5, y1=5)

    def test_drawing_into_an_outline(self):
        plate = self.draw("rectangle")
        (made,) = self.table.do(
            "draw", kind="ellipse", x=200, y=100, width=50, height=50, into=plate.id, operation="subtract"
        )
        item = self.table.item(made)
        self.assertIsInstance(item.shape, CutList)
        self.assertAlmostEqual(outline_of(item).area, 60000 - math.pi * 625, delta=2)
        (again,) = self.table.do("draw_curve", d="M90 40H140V90H90Z", into=made, operation="subtract")
        self.assertEqual(again, made)
        self.assertEqual(len(self.table.item(made).shape.steps), 2)
        self.refused(
            "would be left", "draw", kind="rectangle", x=0, y=0, width=900, height=700, into=made, operation="subtract"
        )
        self.refused(
            "not an operation", "draw", kind="rectangle", x=0, y=0, width=9, height=7, into=made, operation="divide"
        )

    def test_all_of_it_is_stored_and_read_again(self):
        self.draw("star", details={"tip": "3"})
        self.draw("polygon")
        self.table.do("draw_lettering", text="M", font="bitter", size=120, x=50, y=300)
        self.table.do("draw_edge", kind="torn", pitch=20, x0=10, y0=50, x1=210, y1=50)
        self.table.do("draw_freehand", points=[[0, 0], [50, 20], [90, 0]], tolerance=1)
        self.table.do("group", ids=self.table.ids[:2])
        self.table.do("set_guide", axis="x", at="20%")
        self.assertEqual(load(dump(self.table.sheet)), self.table.sheet)

    def test_each_shape_tells_its_details(self):
        for shape, fields in (
            (Polygon(9, 9), {"sides", "radius"}),
            (Star(9, 9), {"points", "inner", "tip", "valley"}),
            (Lettering("a", "bitter", 9), {"text", "font", "size", "tracking", "leading", "align"}),
        ):
            self.assertEqual({d.field for d, _ in details_of(self.table.sheet, shape)}, fields)


class Sizes(TableCase):
    def test_resize_keeps_radii_and_strokes_or_scales_them(self):
        (new,) = self.table.do("draw", kind="rectangle", x=0, y=0, width=200, height=100, details={"radius": "10"})
        stroke = self.table.item(new).paint.stroke_width
        self.table.do("transform", ids=[new], matrix=(2, 0, 0, 2, 0, 0), verb="resize")
        self.assertEqual(self.table.item(new).shape.radii, (10,) * 4)
        self.table.do("transform", ids=[new], matrix=(2, 0, 0, 2, 0, 0), verb="resize", details=True)
        piece = self.table.item(new)
        self.assertEqual((piece.shape.radii, piece.paint.stroke_width), ((20,) * 4, 2 * stroke))
        self.assertEqual((piece.shape.width, piece.shape.height), (800, 400))

    def test_lettering_takes_an_even_scaling_into_its_size(self):
        (new,) = self.table.do("draw_lettering", text="M", font="bitter", size=100, x=0, y=100)
        before = box_of(self.table.item(new))
        self.table.do("transform", ids=[new], matrix=(1.5, 0, 0, 1.5, 0, 0), verb="resize")
        self.assertAlmostEqual(self.table.item(new).shape.size, 150)
        self.near(box_of(self.table.item(new)), [1.5 * v for v in before], 1e-6)

    def test_flip_and_skew(self):
        (new,) = self.table.do("draw_curve", d="M0 0H100V80Z")
        self.table.do("flip", ids=[new], way="across")
        self.assertEqual(outline_of(self.table.item(new)).contains((90, 70)), False)
        self.assertEqual(outline_of(self.table.item(new)).contains((10, 70)), True)
        (box,) = self.table.do("draw", kind="rectangle", x=100, y=100, width=200, height=100)
        self.table.do("measure", ids=[box], field="skew", value="30")
        x0, y0, x1, y1 = box_of(self.table.item(box))
        self.assertAlmostEqual(x1 - x0, 200 + 100 * math.tan(math.radians(30)))
        self.assertAlmostEqual(outline_of(self.table.item(box)).area, 20000)
        self.table.do("measure", ids=[box], field="skew", value="0")
        self.near(box_of(self.table.item(box)), (100, 100, 300, 200), 1e-6)
        self.refused("-80 to 80", "measure", ids=[box], field="skew", value="90")

    def test_about_any_of_nine_points(self):
        (new,) = self.table.do("draw", kind="rectangle", x=100, y=100, width=200, height=100)
        self.table.do("measure", ids=[new], field="width", value="100", about=[1, 0.5])
        self.near(box_of(self.table.item(new)), (200, 100, 300, 200), 1e-9)
        self.table.do("measure", ids=[new], field="angle", value="90", about=[0, 0])
        self.near(box_of(self.table.item(new)), (100, 100, 200, 200), 1e-9)
        self.assertAlmostEqual(local_frame(self.table.item(new))[2].angle, 90)


class Copies(TableCase):
    def test_rows_and_columns_with_gaps(self):
        a = self.table.rectangle(10, 10, 50, 30)
        made = self.table.do("repeat", ids=[a], columns="3", rows="2", gap_x="5", gap_y="10%")
        self.assertEqual(len(made), 6)
        places = sorted(tuple(round(v, 6) for v in box_of(self.table.item(i))[:2]) for i in made)
        self.assertEqual(places, [(10, 10), (10, 43), (65, 10), (65, 43), (120, 10), (120, 43)])
        self.refused("whole number", "repeat", ids=[a], columns="2.5", rows="1")
        self.refused("changes nothing", "repeat", ids=[a], columns="1", rows="1")

    def test_a_copy_by_a_step_repeats_from_the_last(self):
        a = self.table.rectangle(0, 0, 50, 30)
        step = (1, 0, 0, 1, 60, 5)
        (b,) = self.table.do("duplicate", ids=[a], matrix=step)
        (c,) = self.table.do("duplicate", ids=[b], matrix=step)
        self.near(box_of(self.table.item(c)), (120, 10, 170, 40), 1e-9)

    def test_paste_in_another_sheet(self):
        self.table.rectangle(10, 10, 50, 30)
        self.table.do("draw_lettering", text="M", font="bitter", size=100, x=0, y=100)
        other = Table()
        other.library = Known(sheets=(self.table.sheet,))
        from_here = {"project": 1, "revision": 0, "ids": self.table.ids}
        made = other.do("paste", **from_here)
        self.assertEqual([box_of(other.item(i)) for i in made], [box_of(i) for i in self.table.sheet.items])
        small = Table("5", "5")
        small.library = other.library
        (only,) = small.do("paste", **{**from_here, "ids": self.table.ids[:1]})
        x0, y0, x1, y1 = box_of(small.item(only))
        self.assertEqual(((x0 + x1) / 2, (y0 + y1) / 2), (2.5, 2.5))
        with self.assertRaises(SheetError):
            other.do("paste", **{**from_here, "ids": []})


class Together(TableCase):
    def test_photos_that_come_in_together_lie_side_by_side(self):
        self.table.library = Known(PhotoFacts(FILE, "quay.jpg", 600, 400, False))
        for count in (2, 3, 5):
            made = self.table.do("place", files=[FILE] * count)
            boxes = [box_of(self.table.item(i)) for i in made]
            for k, a in enumerate(boxes):
                for b in boxes[k + 1 :]:
                    self.assertTrue(a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1])
            self.assertTrue(all(b[0] >= 0 and b[2] <= 1000 and b[1] >= 0 and b[3] <= 800 for b in boxes))
            self.table.do("remove", ids=list(made))
