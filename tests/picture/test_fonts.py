"""The person's own font files: read in every format, cleaned; damaged ones and other files refused in words."""

import io
import random
import unittest

from fontTools.ttLib import TTFont

import outline
from picture.errors import PictureError
from picture.fonts import MOST_BYTES, read_font
from picture.svg_in.read import read_svg
from sheet.geometry.geometry import box_of
from tests.made_font import made_font


class Read(unittest.TestCase):
    def test_each_format_is_the_same_font(self):
        plain = read_font(made_font(), "marram.ttf")
        self.assertEqual((plain.name, plain.kind), ("Marram Sans", "regular"))
        packed = made_font(woff2=True)
        self.assertEqual(packed[:4], b"wOF2")
        again = read_font(packed, "marram.woff2")
        self.assertEqual((again.name, again.kind), (plain.name, plain.kind))
        a, b = TTFont(io.BytesIO(plain.data)), TTFont(io.BytesIO(again.data))
        self.assertEqual(a["hmtx"].metrics, b["hmtx"].metrics)
        self.assertEqual(a["glyf"]["B"].coordinates, b["glyf"]["B"].coordinates)
        # what was cleaned once is clean
        self.assertEqual(read_font(plain.data, "marram.ttf").digest, plain.digest)
        flex = read_font(made_font("Marram Flex", variable=True), "flex.ttf")
        self.assertEqual((flex.name, flex.kind), ("Marram Flex", "variable"))

    def test_tables_that_letters_do_not_need_are_left_out(self):
        font = TTFont(io.BytesIO(made_font()))
        font["SVG "] = font["post"].__class__("SVG ")
        from fontTools.ttLib.tables.DefaultTable import DefaultTable

        for tag in ("SVG ", "DSIG", "prep"):
            font[tag] = DefaultTable(tag)
            font[tag].data = b"\0" * 40
        out = io.BytesIO()
        font.save(out)
        left = set(TTFont(io.BytesIO(read_font(out.getvalue(), "a.ttf").data)).keys())
        self.assertFalse(left & {"SVG ", "DSIG", "prep"})
        self.assertLessEqual({"glyf", "cmap", "GPOS", "name"}, left)

    def test_what_is_damaged_or_none_is_refused_in_words(self):
        good = made_font()
        hand = random.Random(7)
        spoilt = bytearray(good)
        for _ in range(400):
            spoilt[hand.randrange(300, len(spoilt))] = hand.randrange(256)
        for name, data, words in (
            ("notes.ttf", b"not a font at all" * 40, "isn’t a font"),
            ("empty.ttf", b"", "isn’t a font"),
            ("half.ttf", good[: len(good) // 2], "damaged"),
            ("spoilt.ttf", bytes(spoilt), "damaged"),
            ("zeros.otf", b"OTTO" + b"\0" * 5000, "damaged|no outlines"),
            ("many.ttc", b"ttcf" + good, "several fonts"),
            ("large.ttf", good + b"\0" * MOST_BYTES, "larger than 20 MB"),
        ):
            with self.subTest(name), self.assertRaisesRegex(PictureError, f"“{name}”.*({words})") as refused:
                read_font(data, name)
            self.assertTrue(refused.exception.remedy)


class Drawings(unittest.TestCase):
    def test_text_of_an_svg_is_set_in_ones_own_font(self):
        files = {"1" * 32: made_font(), "2" * 32: made_font("Marram Flex", variable=True)}
        self.addCleanup(outline.use_fonts, outline.use_fonts(files.get))
        names = {"marram sans": "1" * 32, "marram flex": "2" * 32}
        keys = {name: outline.own_font(digest, name) for name, digest in names.items()}
        svg = (
            b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 400" font-size="100">'
            b"<text x='0' y='100' font-family='\"Marram Sans\", serif'>AB</text>"
            b'<text x="0" y="300" font-family="Marram Flex" font-weight="500">A</text></svg>'
        )
        plain, flex = read_svg(svg, "card", 1.0, keys).items
        self.assertEqual((plain.shape.font, flex.shape.axes), (keys["marram sans"], (("wght", 500.0),)))
        self.assertEqual([round(v, 3) for v in box_of(plain)], [10, 30, 95, 100])
        self.assertEqual([round(v, 1) for v in box_of(flex)], [10, 230, 55, 300])
        # without it another stands in, and is told
        drawing = read_svg(svg, "card", 1.0)
        self.assertIn("font Marram Sans (Bitter Bold instead)", drawing.unknown)
