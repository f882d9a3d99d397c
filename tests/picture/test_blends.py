"""Blend modes of pieces, photos, frames and groups, held against the formulas of the W3C."""

import math
import unittest

from PIL import Image

from sheet import SheetError, dump, load
from sheet.document.model import BLENDS
from sheet.geometry.visible import visible_box
from tests.sheet.helpers import Table

from .test_export import export_png, export_svg, pixels


def _soft_light(b: float, s: float) -> float:
    d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else math.sqrt(b)
    return b - (1 - 2 * s) * b * (1 - b) if s <= 0.5 else b + (2 * s - 1) * (d - b)


# W3C Compositing and Blending 1, 9.1: B(cb, cs) per channel
FORMULAS = {
    "normal": lambda b, s: s,
    "multiply": lambda b, s: b * s,
    "screen": lambda b, s: b + s - b * s,
    "darken": min,
    "lighten": max,
    "difference": lambda b, s: abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
    "overlay": lambda b, s: 2 * b * s if b <= 0.5 else 1 - 2 * (1 - b) * (1 - s),
    "hard-light": lambda b, s: 2 * b * s if s <= 0.5 else 1 - 2 * (1 - b) * (1 - s),
    "soft-light": _soft_light,
    "color-dodge": lambda b, s: 0.0 if b == 0 else 1.0 if s == 1 else min(1.0, b / (1 - s)),
    "color-burn": lambda b, s: 1.0 if b == 1 else 0.0 if s == 0 else 1 - min(1.0, (1 - b) / s),
}
BELOW, ABOVE, THIRD = (200, 90, 40), (60, 180, 120), (230, 40, 200)


def word(rgb) -> str:
    return "#{:02x}{:02x}{:02x}".format(*rgb)


def blended(mode: str, below, above, opacity: float = 1.0) -> list[float]:
    """Return what the formula makes of two opaque colours, 0 to 255."""
    mixed = (255 * FORMULAS[mode](b / 255, s / 255) for b, s in zip(below, above, strict=True))
    return [opacity * m + (1 - opacity) * b for m, b in zip(mixed, below, strict=True)]


def green(photo, at_least) -> Image.Image:
    """Give a photo of one colour, as RGBA so that it goes into files without loss."""
    return Image.new("RGBA", (photo.width, photo.height), (*ABOVE, 255))


def scenes(mode: str):
    """Give a table for each thing that can blend: its name, the table, a place, and the colour there."""
    t = Table()
    t.do("backdrop", value=word(BELOW))
    a = t.rectangle(0, 0, 1000, 800)
    t.do("paint", ids=[a], field="fill", value=word(ABOVE))
    t.do("paint", ids=[a], field="blend", value=mode)
    yield "piece", t, (500, 400), blended(mode, BELOW, ABOVE)

    t = Table()
    t.do("backdrop", value=word(BELOW))
    t.do("paint", ids=[t.photo(600, 400, alpha=True)], field="blend", value=mode)
    yield "photo", t, (500, 400), blended(mode, BELOW, ABOVE)

    t = Table()
    t.do("backdrop", value=word(BELOW))
    photo = t.photo(600, 400, alpha=True)
    t.do("paint", ids=[photo], field="opacity", value="40")
    t.do("paint", ids=[photo], field="blend", value=mode)
    yield "photo that is not opaque", t, (500, 400), blended(mode, BELOW, ABOVE, 0.4)

    # a frame is a picture of its own: its photo blends with its fill, and not with the backdrop
    t = Table()
    t.do("backdrop", value=word(BELOW))
    frame, photo = t.ellipse(300, 200, 400, 400), t.photo(600, 500, 500, 400, alpha=True)
    t.do("paint", ids=[frame], field="fill", value=word(THIRD))
    t.do("put_in", ids=[frame, photo])
    t.do("paint", ids=[photo], field="blend", value=mode)
    yield "photo in a frame", t, (500, 400), blended(mode, THIRD, ABOVE)

    t = Table()
    t.do("backdrop", value=word(BELOW))
    frame, photo = t.ellipse(300, 200, 400, 400), t.photo(600, 500, 500, 400, alpha=True)
    t.do("put_in", ids=[frame, photo])
    t.do("paint", ids=[frame], field="blend", value=mode)
    yield "frame", t, (500, 400), blended(mode, BELOW, ABOVE)

    # a group blends as one picture: what lies in it covers first
    t = Table()
    t.do("backdrop", value=word(BELOW))
    a, b = t.rectangle(100, 100, 500, 500), t.rectangle(300, 300, 500, 400)
    t.do("paint", ids=[a], field="fill", value=word(THIRD))
    t.do("paint", ids=[b], field="fill", value=word(ABOVE))
    (group,) = t.do("group", ids=[a, b])
    t.do("paint", ids=[group], field="blend", value=mode)
    t.do("paint", ids=[group], field="opacity", value="60")
    yield "group", t, (500, 400), blended(mode, BELOW, ABOVE, 0.6)


class Formulas(unittest.TestCase):
    def test_every_mode_of_all_that_blends(self):
        self.assertEqual(set(FORMULAS), set(BLENDS))
        for mode in BLENDS:
            for name, t, (x, y), want in scenes(mode):
                with self.subTest(mode=mode, of=name):
                    got = pixels(export_png(t.sheet, 100, green))[y, x]
                    for value, by_formula in zip(got, (*want, 255), strict=True):
                        self.assertLessEqual(abs(int(value) - by_formula), 1.0)
                    if mode != "normal":
                        self.assertIn(f"mix-blend-mode: {mode}", export_svg(t.sheet, 100, green))
                    self.assertEqual(load(dump(t.sheet)), t.sheet)


class Kept(unittest.TestCase):
    def setUp(self):
        self.t = Table()
        self.a, self.b = self.t.rectangle(100, 100, 300, 300), self.t.rectangle(200, 200, 300, 300)
        (self.group,) = self.t.do("group", ids=[self.a, self.b])
        self.t.do("paint", ids=[self.group], field="blend", value="multiply")
        self.t.do("paint", ids=[self.group], field="opacity", value="50")

    def test_a_group_that_takes_a_photo_and_gives_it_back(self):
        photo = self.t.photo(600, 500, 300, 300)
        (frame,) = self.t.do("put_in", ids=[self.group, photo])
        self.assertEqual((self.t.item(frame).paint.blend, self.t.item(frame).paint.opacity), ("multiply", 0.5))
        self.t.do("take_out", ids=[frame])
        group = self.t.item(frame)
        self.assertEqual((group.kind, group.blend, group.opacity), ("group", "multiply", 0.5))
        self.assertEqual([i.paint.blend for i in group.items], ["normal", "normal"])

    def test_ungrouped_its_items_have_it(self):
        self.t.do("paint", ids=[self.a], field="blend", value="screen")
        self.t.do("ungroup", ids=[self.group])
        a, b = self.t.item(self.a), self.t.item(self.b)
        self.assertEqual((a.paint.blend, a.paint.opacity), ("screen", 0.5))
        self.assertEqual((b.paint.blend, b.paint.opacity), ("multiply", 0.5))

    def test_what_is_wholly_transparent_is_not_exported(self):
        self.t.do("paint", ids=[self.group], field="opacity", value="0")
        self.assertIsNone(visible_box(self.t.item(self.group)))

    def test_other_words_are_refused(self):
        photo = self.t.photo()
        for item in (photo, self.group, self.a):
            with self.assertRaisesRegex(SheetError, "is not a blend mode"):
                self.t.do("paint", ids=[item], field="blend", value="hue")
        with self.assertRaisesRegex(SheetError, "A photo has no border"):
            self.t.do("paint", ids=[photo], field="stroke_width", value="3")
