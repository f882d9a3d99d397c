"""Letterings in the person's own fonts: selected, set along their axes, and reported where the font is missing."""

import outline
from outline import own_font
from sheet import dump, load
from sheet.caching import clear
from sheet.geometry.geometry import box_of
from tests.made_font import made_font

from .helpers import Table, TableCase


class OwnFonts(TableCase):
    def setUp(self):
        super().setUp()
        self.files = {"1" * 32: made_font(), "2" * 32: made_font("Marram Flex", variable=True)}
        self.addCleanup(outline.use_fonts, outline.use_fonts(self.files.get))
        self.addCleanup(clear)
        self.plain, self.flex = own_font("1" * 32, "Marram Sans"), own_font("2" * 32, "Marram Flex")
        self.table = Table()

    def set(self, font: str, text="A") -> str:
        (word,) = self.table.do("draw_lettering", text=text, font=font, size="100 px", x=0, y=200)
        return word

    def box(self, word: str):
        return tuple(round(v, 6) for v in box_of(self.table.item(word)))

    def test_drawn_changed_and_stored(self):
        word = self.set(self.plain)
        self.assertEqual(self.box(word), (10, 130, 40, 200))
        self.table.do("set_detail", ids=[word], field="font", value="bitter")
        self.assertNotEqual(self.box(word), (10, 130, 40, 200))
        self.table.do("set_detail", ids=[word], field="font", value=self.flex)
        self.table.do("set_axis", ids=[word], axis="wght", value="900")
        self.assertEqual(self.box(word), (10, 130, 70, 200))
        self.assertEqual(load(dump(self.table.sheet)), self.table.sheet)
        # empty is the font's own again, and another font has other axes
        self.table.do("set_axis", ids=[word], axis="wght", value="")
        self.assertEqual(self.table.item(word).shape.axes, ())
        self.table.do("set_axis", ids=[word], axis="wght", value="300+200")
        self.table.do("set_detail", ids=[word], field="font", value=self.plain)
        self.assertEqual(self.table.item(word).shape.axes, ())

    def test_what_it_cannot_take_is_said(self):
        word = self.set(self.flex)
        self.refused("Weight goes from 100 to 900", "set_axis", ids=[word], axis="wght", value="901")
        self.refused("Weight goes from 100 to 900", "set_axis", ids=[word], axis="wght", value="1000000000")
        self.refused("no such axis|has such an axis", "set_axis", ids=[word], axis="wdth", value="100")
        self.refused("has such an axis", "set_axis", ids=[self.set(self.plain)], axis="wght", value="100")
        away = own_font("3" * 32, "Dune Serif")
        self.refused("is not a font", "set_detail", ids=[word], field="font", value=away)
        self.refused("is not a font", "draw_lettering", text="A", font="own:x", size="9", x=0, y=0)

    def test_a_font_that_is_gone_is_told_and_another_stands_in(self):
        word = self.set(self.plain, "AB")
        data = dump(self.table.sheet)
        outline.use_fonts(lambda digest: None)
        clear()
        self.table.sheet = load(data)
        self.assertGreater(self.box(word)[2], 0)
        self.table.do("set_detail", ids=[word], field="size", value="200 px")
        self.assertIn("The font “Marram Sans” isn’t here: Atkinson Hyperlegible Bold is used instead", self.table.note)
        # it is remembered, and back as soon as the font is
        outline.use_fonts(self.files.get)
        clear()
        self.assertEqual(self.box(word), (20, 60, 190, 200))
