"""Lettering against HarfBuzz itself and the units in the fonts' own tables."""

import unittest
from itertools import pairwise
from pathlib import Path as FilePath

import uharfbuzz as hb
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont

import outline
from outline import FONTS, OutlineError, lettering

FOLDER = FilePath(outline.__file__).parent / "shapes" / "fonts"


def font_file(key: str) -> TTFont:
    return TTFont(FOLDER / f"{key}.ttf")


class Shaping(unittest.TestCase):
    def test_every_font_ships_with_its_licence(self):
        self.assertGreaterEqual(len(FONTS), 8)
        for key in FONTS:
            with self.subTest(font=key):
                self.assertIn("SIL OPEN FONT LICENSE", (FOLDER / f"LICENSE.{key}").read_text().upper())
                self.assertGreater(lettering("Marram 24", key, 100).path.area, 0)

    def test_advances_are_the_fonts_own_units(self):
        # hmtx: the horizontal metrics table of OpenType (ISO/IEC 14496-22); H and I have no kerning between them here
        for key in FONTS:
            with self.subTest(font=key):
                font = font_file(key)
                cmap, hmtx, upem = font.getBestCmap(), font["hmtx"], font["head"].unitsPerEm
                got = lettering("H", key, 250).glyphs
                self.assertAlmostEqual(got[0].advance, 250 * hmtx[cmap[ord("H")]][0] / upem, places=9)

    def test_advances_are_harfbuzz_s_for_words_with_kerning(self):
        for key in FONTS:
            with self.subTest(font=key):
                face = hb.Face(hb.Blob.from_file_path(str(FOLDER / f"{key}.ttf")))
                buffer = hb.Buffer()
                buffer.add_str("AVATAR Toffee")
                buffer.guess_segment_properties()
                hb.shape(hb.Font(face), buffer)
                want = [p.x_advance * 100 / face.upem for p in buffer.glyph_positions]
                got = [g.advance for g in lettering("AVATAR Toffee", key, 100).glyphs]
                self.assertEqual(len(got), len(want))
                for a, b in zip(got, want, strict=True):
                    self.assertAlmostEqual(a, b, places=9)

    def test_outline_has_the_glyph_s_box(self):
        for key in ("bitter", "alfa-slab-one", "josefin-sans"):
            font = font_file(key)
            glyphs, upem = font.getGlyphSet(), font["head"].unitsPerEm
            pen = BoundsPen(glyphs)
            glyphs[font.getBestCmap()[ord("R")]].draw(pen)
            x0, y0, x1, y1 = (v * 1000 / upem for v in pen.bounds)
            box = lettering("R", key, 1000).path.bounds
            for got, want in zip(box, (x0, -y1, x1, -y0), strict=True):
                self.assertAlmostEqual(got, want, places=6)

    def test_tracking_and_kerns_move_what_follows(self):
        plain = lettering("HIN", "bitter", 100).glyphs
        tracked = lettering("HIN", "bitter", 100, tracking=50).glyphs
        for k, (a, b) in enumerate(zip(plain, tracked, strict=True)):
            self.assertAlmostEqual(b.x - a.x, 5 * k)
        kerned = lettering("HIN", "bitter", 100, kerns=[(1, -80)]).glyphs
        self.assertEqual([round(b.x - a.x, 9) for a, b in zip(plain, kerned, strict=True)], [0, 0, -8])

    def test_lines_and_alignment(self):
        text = "Marram\nCoast ferry"
        for align, spot in (("left", 0.0), ("centre", 0.5), ("right", 1.0)):
            made = lettering(text, "bitter", 80, leading=1.5, align=align)
            rows = {}
            for g in made.glyphs:
                rows.setdefault(g.y, []).append(g)
            self.assertEqual(sorted(rows), [0.0, 120.0])
            for row in rows.values():
                start, end = row[0].x, row[-1].x + row[-1].advance
                self.assertAlmostEqual(start + spot * (end - start), 0, places=9)

    def test_empty_lines_only_take_room(self):
        plain = lettering("A\nB", "alfa-slab-one", 100, leading=2)
        spread = lettering("A\n\nB\n\n", "alfa-slab-one", 100, leading=1)
        self.assertEqual(spread.path.bounds, plain.path.bounds)
        self.assertEqual([g.first for g in spread.glyphs], [0, 3])
        self.assertTrue(lettering("", "alfa-slab-one", 100).path.is_empty)

    def test_overlapping_contours_and_joined_script_become_one_outline(self):
        word = lettering("mill", "pacifico", 100)
        letters = [lettering(c, "pacifico", 100).path for c in "mill"]
        self.assertLess(len(list(word.path.subpaths)), sum(len(list(p.subpaths)) for p in letters))
        self.assertAlmostEqual(word.path.area, outline.union([word.path]).area, places=6)

    def test_missing_glyphs_are_told(self):
        made = lettering("a漢b字", "bebas-neue", 50)
        self.assertEqual(made.missing, ("漢", "字"))
        self.assertFalse(made.path.is_empty)
        self.assertTrue(lettering("漢", "bebas-neue", 50).path.is_empty)

    def test_characters_cover_the_text_in_order(self):
        text = "office\nflag"
        spans = [(g.first, g.end) for g in lettering(text, "bitter", 40).glyphs]
        self.assertEqual(spans[0][0], 0)
        for (_, end), (first, _) in pairwise(spans):
            self.assertLessEqual(end, first)
        self.assertEqual(spans[-1][1], len(text))

    def test_bad_input_is_told(self):
        for args, words in (
            (("a", "no-such-font", 10), "no font"),
            (("a", "bitter", 0), "greater than 0"),
            (("a" * 501, "bitter", 10), "500"),
        ):
            with self.assertRaisesRegex(OutlineError, words):
                lettering(*args)
        with self.assertRaisesRegex(OutlineError, "alignment"):
            lettering("a", "bitter", 10, align="middle")
