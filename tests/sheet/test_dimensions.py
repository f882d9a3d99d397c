"""The numbers shown, the checks before exporting, and file sizes, without an interface."""

from msgspec.structs import replace

from sheet.export.order import exported
from sheet.export.sizes import pixel_size, read_resolution
from sheet.geometry.geometry import box_of
from sheet.geometry.visible import visible_box
from sheet.inspect.dimensions import dimensions_of, px_per_inch, suggested
from sheet.inspect.effort import LIGHT, effort_of
from sheet.inspect.preflight import is_low, remarks_on, wanted

from .helpers import Table, TableCase


class Dimensions(TableCase):
    def test_numbers_of_one_and_of_several(self):
        a, b = self.table.rectangle(10, 20, 100, 50), self.table.ellipse(200, 20, 50, 50)
        dimensions = dimensions_of(self.table.sheet, [self.table.item(a)])
        self.assertEqual([n.value for n in dimensions.numbers], ["10", "20", "100", "50", "0°", "0°"])
        self.assertEqual(dict(dimensions.facts), {"Nodes": "4", "Length": "300 px", "Area": "5000 px²"})
        both = dimensions_of(self.table.sheet, [self.table.item(a), self.table.item(b)])
        self.assertEqual([n.value for n in both.numbers][:4], ["10", "20", "240", "50"])
        self.assertEqual(both.details, ())
        self.assertIsNone(dimensions_of(self.table.sheet, []))

    def test_what_is_flipped_is_not_turned(self):
        one = self.table.photo(300, 200)

        def shown() -> str:
            return dimensions_of(self.table.sheet, [self.table.item(one)]).numbers[4].value

        # both ways are half a turn
        for way, turn in (("across", "0°"), ("down", "180°"), ("across", "0°"), ("down", "0°")):
            self.table.do("flip", ids=[one], way=way)
            self.assertEqual(shown(), turn)
        self.table.do("flip", ids=[one], way="down")
        for typed in ("30", "-45", "90"):
            self.table.do("measure", ids=[one], field="angle", value=typed)
            self.assertEqual(shown(), f"{typed}°")

    def test_details_that_differ_are_mixed(self):
        a, b = self.table.rectangle(0, 0, 100, 50), self.table.rectangle(200, 0, 100, 50)
        self.table.do("set_detail", ids=[a], field="radius", value="10")
        rows = dimensions_of(self.table.sheet, [self.table.item(a), self.table.item(b)]).details
        self.assertEqual({d.field: v for d, v in rows}["radius"], "mixed")

    def test_margins_of_the_four_largest_holes(self):
        ids = [self.table.rectangle(0, 0, 900, 200)]
        ids += [self.table.rectangle(20 + 140 * k, 50, 40 + 10 * k, 40) for k in range(6)]
        (o,) = self.table.do("combine", ids=ids, operation="subtract")
        margins = dimensions_of(self.table.sheet, [self.table.item(o)]).margins
        self.assertEqual([m.number for m in margins], [0, 1, 2, 3])
        self.assertEqual(dict(margins[0].sides), {"left": "720", "right": "90", "top": "50", "bottom": "110"})

    def test_lettering_cut_through_is_one_hole_and_moves_as_one(self):
        t = self.table
        plate = t.rectangle(0, 0, 900, 300)
        (text,) = t.do("draw_lettering", text="QUAY", font="alfa-slab-one", size="120", x=100, y=200)
        x0, y0, x1, y1 = box_of(t.item(text))
        self.assertEqual(dimensions_of(t.sheet, [t.item(text)]).margins, ())
        (o,) = t.do("combine", ids=[plate, text], operation="subtract")
        (row,) = dimensions_of(t.sheet, [t.item(o)]).margins
        self.assertEqual(row.lettering, "Lettering 1")
        sides = {k: float(v) for k, v in row.sides}
        for side, want in (("left", x0), ("right", 900 - x1), ("top", y0), ("bottom", 300 - y1)):
            self.assertAlmostEqual(sides[side], want, places=2)
        # a lettering that others are cut out of has none either
        (word,) = t.do("draw_lettering", text="OO", font="alfa-slab-one", size="120", x=100, y=600)
        (cut,) = t.do("combine", ids=[word, t.ellipse(150, 550, 20, 20)], operation="subtract")
        self.assertEqual(dimensions_of(t.sheet, [t.item(cut)]).margins, ())
        t.do("set_margin", id=o, hole=0, side="even")
        x0, y0, x1, y1 = box_of(t.item(o).shape.steps[0].member)
        self.assertAlmostEqual(x0, 900 - x1)
        self.assertAlmostEqual(y0, 300 - y1)

    def test_margins_from_the_base_where_an_ornament_spoils_the_box(self):
        t = self.table
        plate = t.rectangle(100, 100, 400, 300)
        ear = t.ellipse(440, 200, 160, 100)
        hole = t.rectangle(150, 150, 100, 100)
        (both,) = t.do("combine", ids=[plate, ear], operation="union")
        (o,) = t.do("combine", ids=[both, hole], operation="subtract")
        (row,) = dimensions_of(t.sheet, [t.item(o)]).margins
        self.assertEqual(dict(row.sides), {"left": "50", "right": "350", "top": "50", "bottom": "150"})
        (row,) = dimensions_of(t.sheet, [t.item(o)], "base").margins
        self.assertEqual(dict(row.sides), {"left": "50", "right": "250", "top": "50", "bottom": "150"})
        t.do("set_margin", id=o, hole=0, side="even", of="base")
        self.assertEqual(box_of(t.item(o).shape.steps[-1].member), (250, 200, 350, 300))

    def test_px_per_inch_of_a_photo_and_the_remark_on_few(self):
        # the sheet has 100 px per inch: at a scale of one half a photo has twice that
        photo = self.table.photo(2000, 1000)
        self.assertEqual(px_per_inch(self.table.sheet, self.table.item(photo)), 200)
        self.assertFalse(is_low(self.table.sheet, self.table.item(photo)))
        self.table.do("measure", ids=[photo], field="width", value="2000")
        # px for px is all that a screen shows
        self.assertEqual(remarks_on(self.table.sheet), [])
        self.table.do("measure", ids=[photo], field="width", value="4000")
        (remark,) = remarks_on(self.table.sheet)
        self.assertIn("50 px per inch", remark.words)
        self.assertEqual(remark.item, photo)

    def test_how_many_px_per_inch_are_wanted(self):
        # common practice: 300 for print in the hand, 150 for a poster
        for size, want in ((("210", "148", "mm", "300"), 300), (("16.5", "11", "in", "600"), 300),
                           (("594", "420", "mm", "300"), 150), (("2000", "2000", "px", "300"), 150),
                           (("1280", "720", "px", "72"), 72)):  # fmt: skip
            self.assertEqual(wanted(Table(*size).sheet), want, size)

    def test_remarks_on_what_lies_off_the_sheet_or_is_hidden(self):
        a, b = self.table.rectangle(2000, 0, 50, 50), self.table.rectangle(0, 0, 50, 50)
        self.table.do("mark", ids=[b], field="hidden", on=True)
        words = [r.words for r in remarks_on(self.table.sheet)]
        self.assertEqual(words, ["“Rectangle 1” is off the sheet.", "“Rectangle 2” is hidden, so it isn’t exported."])
        self.assertEqual(remarks_on(self.table.sheet, (self.table.item(a),)), [])

    def test_sizes_to_begin_with_suit_any_sheet(self):
        for table in (Table("9", "9"), Table("5", "5", "in", "600"), Table("90000", "80000")):
            for text in suggested(table.sheet).values():
                self.assertGreater(float(text), 0)


class Sizes(TableCase):
    def test_the_size_told_is_worked_out_from_the_box_not_from_a_rounded_size(self):
        # a ninth of a 2000 px square is 666.667 px a side (common practice); times 8.25 it is 5500.0, not 667 x 8.25
        a = self.table.rectangle(0, 0, 2000 / 3, 2000 / 3)
        self.table.do("paint", ids=[a], field="stroke", value="none")
        item = self.table.item(a)
        self.assertEqual(
            (exported(self.table.sheet, 100, item).width, exported(self.table.sheet, 825, item).width), (667, 5500)
        )

    def test_px_per_inch_of_the_sheet_where_none_is_typed(self):
        self.assertEqual(read_resolution(self.table.sheet, " "), 100)
        self.assertEqual(pixel_size((0, 0, 10.001, 10.02), 1), (10, 11))

    def test_what_is_wholly_transparent_of_a_photo_counts_for_nothing(self):
        photo = self.table.photo(600, 400, x=300, y=200, alpha=True)
        item = self.table.item(photo)
        self.assertEqual(visible_box(item), (0, 0, 600, 400))
        self.assertEqual(visible_box(replace(item, shown=(100, 50, 500, 250))), (100, 50, 500, 250))
        frame = self.table.rectangle(0, 0, 200, 400)
        self.table.do("paint", ids=[frame], field="fill", value="none")
        self.table.do("paint", ids=[frame], field="stroke", value="none")
        (frame,) = self.table.do("put_in", ids=[frame, photo])
        made = self.table.item(frame)
        made = replace(made, photos=(replace(made.photos[0], shown=(100, 50, 500, 250)),))
        self.assertEqual(visible_box(made), (100, 50, 200, 250))


class Effort(TableCase):
    def test_it_grows_with_what_is_at_hand(self):
        a = self.table.rectangle(0, 0, 10, 10)
        (word,) = self.table.do("draw_lettering", text="A" * 200, font="bitter", size=20, x=0, y=90)
        sheet = self.table.sheet
        self.assertLess(effort_of(sheet, [a]), 20)
        self.assertGreater(effort_of(sheet, [a, word]), LIGHT)
        # teeth along a line are light where they are few
        (teeth,) = self.table.do("draw_edge", kind="zigzag", pitch="20", x0=100, y0=500, x1=500, y1=500)
        self.assertLess(effort_of(self.table.sheet, [teeth]), LIGHT)
        # cut one by one, each step is an outline in the next: the work grows by steps, and is not doubled by each
        card = self.table.rectangle(0, 0, 900, 700)
        for k in range(12):
            (card,) = self.table.do("combine", ids=[card, self.table.ellipse(70 * k, 10, 20, 20)], operation="subtract")
        self.assertLess(effort_of(self.table.sheet, [card]), LIGHT)
        self.assertEqual(effort_of(sheet, ["i99"]), 0)
        # a member is drawn with the whole of its outline
        (o,) = self.table.do("combine", ids=[a, word], operation="union")
        self.assertEqual(effort_of(self.table.sheet, [a]), effort_of(self.table.sheet, [o]))
