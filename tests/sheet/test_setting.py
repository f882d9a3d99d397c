"""The sheet changed later, rounding to a step by hand, and colours as they are typed."""

from sheet.geometry.geometry import box_of
from sheet.reading.sizes import SIZES, check_color, new_sheet

from .helpers import Table, TableCase


class Sheets(TableCase):
    def test_a_new_size_leaves_centres_or_scales_what_lies_on_it(self):
        for keep, want in (
            ("place", (100, 100, 300, 200)),
            ("centre", (600, 100, 800, 200)),
            ("scale", (600, 100, 800, 200)),
        ):
            with self.subTest(keep=keep):
                t = Table("1000", "800")
                a = t.rectangle(100, 100, 200, 100)
                t.do("set_sheet", width="2000", keep=keep)
                self.assertEqual((t.sheet.width, t.sheet.height), (2000, 800))
                self.near(box_of(t.item(a)), want)

    def test_scaled_along_with_its_border_and_guides(self):
        t = self.table
        a = t.rectangle(100, 100, 200, 100)
        t.do("paint", ids=[a], field="stroke_width", value="4")
        t.do("set_guide", axis="x", at="100")
        t.do("set_sheet", width="2000", height="1600", keep="scale")
        self.near(box_of(t.item(a)), (200, 200, 600, 400))
        self.assertAlmostEqual(t.item(a).paint.stroke_width, 8)
        self.assertAlmostEqual(t.sheet.guides[0].at, 200)

    def test_another_resolution_keeps_the_real_size(self):
        # 210 mm at 300 px per inch are 2480.3 px, and twice as many at 600 (1 inch = 25.4 mm, by definition)
        t = Table("210", "148", "mm", "300")
        a = t.rectangle(0, 0, 300, 300)
        self.assertAlmostEqual(t.sheet.width, 210 / 25.4 * 300)
        t.do("set_sheet", resolution="600")
        self.assertAlmostEqual(t.sheet.width, 210 / 25.4 * 600)
        self.near(box_of(t.item(a)), (0, 0, 600, 600))
        self.assertAlmostEqual(t.sheet.round_to, 0.1 / 25.4 * 600)

    def test_another_unit_changes_how_numbers_are_read_and_nothing_else(self):
        t = Table("210", "148", "mm", "300")
        before = t.sheet.width
        t.do("set_sheet", unit="in")
        self.assertEqual((t.sheet.width, t.sheet.unit), (before, "in"))
        t.do("set_sheet", width="4")
        self.assertAlmostEqual(t.sheet.width, 1200)

    def test_bleed_and_margin(self):
        self.table.do("set_sheet", bleed="3", margin="5%")
        self.assertEqual((self.table.sheet.bleed, self.table.sheet.margin), (3, 50))
        self.refused("bleed", "set_sheet", bleed="900")
        self.refused("margin", "set_sheet", margin="-1")
        self.refused("already has these settings", "set_sheet", width="1000")
        self.refused("width", "set_sheet", width="0")

    def test_the_listed_sizes_can_all_be_made(self):
        for size in SIZES:
            with self.subTest(size=size.key):
                made = new_sheet(size.width, size.height, size.unit, size.resolution)
                self.assertGreater(made.width, 100)
        self.assertEqual(next(s for s in SIZES if "Square" in s.name).resolution, 72)


class Rounding(TableCase):
    def test_at_first_by_the_unit(self):
        self.assertEqual(new_sheet(1000, 800, "px").round_to, 1)
        self.assertAlmostEqual(new_sheet(210, 148, "mm", 254).round_to, 1)

    def test_numbers_are_held_and_told(self):
        t = Table("210", "148", "mm", "254")
        a = t.rectangle(0, 0, 100, 100)
        t.do("measure", ids=[a], field="width", value="70/3")
        self.assertAlmostEqual(box_of(t.item(a))[2], 233)
        self.assertIn("23.3", t.note)
        t.do("set_rounding", step="off")
        t.do("measure", ids=[a], field="width", value="70/3")
        self.assertAlmostEqual(box_of(t.item(a))[2], 700 / 3)
        self.assertEqual(t.note, "")

    def test_nothing_is_rounded_away(self):
        a = self.table.rectangle(0, 0, 100, 100)
        self.table.do("set_rounding", step="50")
        self.table.do("measure", ids=[a], field="width", value="10")
        self.near(box_of(self.table.item(a)), (0, 0, 10, 100))

    def test_round_now_puts_all_edges_on_the_step(self):
        t = self.table
        t.do("set_rounding", step="0")
        a = t.rectangle(10.4, 20.6, 100.3, 50.2)
        photo = t.photo(60, 40, x=200.3, y=200.3)
        self.refused("Rounding is off", "round_now", ids=[a])
        t.do("set_rounding", step="5")
        t.do("round_now", ids=[a, photo])
        self.near(box_of(t.item(a)), (10, 20, 110, 70))
        x0, y0, x1, y1 = box_of(t.item(photo))
        self.near((x0, y0, x1 - x0, y1 - y0), (170, 180, 60, 40))
        self.refused("already on the step", "round_now", ids=[a])

    def test_bad_steps(self):
        self.refused("from 0 to half", "set_rounding", step="-1")
        self.refused("from 0 to half", "set_rounding", step="900")
        self.refused("not a number", "set_rounding", step="often")


class Colours(TableCase):
    def test_hex_functions_and_names(self):
        # CSS Color 4: named colours (6.1), rgb() (5.1), hsl() (7)
        for text, want in (
            ("#B5432A", "#b5432a"),
            ("b5432a", "#b5432a"),
            ("#fff", "#ffffff"),
            ("rgb(181, 67, 42)", "#b5432a"),
            ("hsl(120, 100%, 25%)", "#008000"),
            ("rebeccapurple", "#663399"),
            (" Teal ", "#008080"),
            ("none", None),
            ("", None),
        ):
            with self.subTest(text=text):
                self.assertEqual(check_color(text, "fill"), want)

    def test_anything_else_is_refused_with_examples(self):
        a = self.table.rectangle(0, 0, 9, 9)
        for text in ("reddish", "#12", "rgb(1,2)", "#b5432a80", "x" * 200):
            with self.subTest(text=text):
                error = self.refused("not a colour", "paint", ids=[a], field="fill", value=text)
                self.assertIn("rgb(", error.remedy)
