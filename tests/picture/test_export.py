"""Exports: pixels, boxes and SVG files, against geometry and a second renderer."""

import io
import math
import re
import unittest
from xml.etree import ElementTree

import numpy as np
from PIL import Image

import outline
from outline import Path
from picture import FORMATS, fragment
from picture.draw.raster import render
from sheet import SheetError
from sheet.document.model import Photo
from sheet.export.order import Order, exported, ordered
from sheet.geometry.geometry import outline_of, photo_quad
from sheet.geometry.visible import exported_box, visible_box
from tests.sheet.helpers import Table

PINK = (250, 90, 140)


def loader(photo: Photo, at_least: float) -> Image.Image:
    return Image.new("RGB", (photo.width, photo.height), PINK)


def export_png(sheet, resolution, load, only=None) -> bytes:
    """Export as the list says, and check that the file has the promised size."""
    what = exported(sheet, resolution, only)
    png = FORMATS["png"].write(sheet, what, load, Order())
    assert Image.open(io.BytesIO(png)).size == (what.width, what.height)
    return png


def export_svg(sheet, resolution, load, only=None) -> str:
    return FORMATS["svg"].write(sheet, exported(sheet, resolution, only), load, Order()).decode()


def pixels(png: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGBA"))


class Frame(unittest.TestCase):
    """An ellipse with a photo that reaches far beyond it."""

    def setUp(self):
        self.t = Table()
        self.a = self.t.ellipse(100, 100, 300, 200)
        self.t.do("paint", ids=[self.a], field="stroke_width", value="10")
        self.t.do("paint", ids=[self.a], field="stroke", value="#0000ff")
        self.t.do("put_in", ids=[self.a, self.t.photo(900, 700)])

    @property
    def frame(self):
        return self.t.item(self.a)

    def test_size_is_the_outline_with_its_border(self):
        png = export_png(self.t.sheet, 100, loader, self.frame)
        image = Image.open(io.BytesIO(png))
        self.assertEqual(image.size, (310, 210))
        self.assertAlmostEqual(image.info["dpi"][0], 100, delta=0.01)
        double = Image.open(io.BytesIO(export_png(self.t.sheet, 200, loader, self.frame)))
        self.assertEqual(double.size, (620, 420))

    def test_what_its_photo_leaves_empty_is_transparent_until_it_is_given_a_fill(self):
        t = self.t
        t.do("paint", ids=[self.a], field="stroke", value="none")
        t.do("stay_filled", ids=[self.a], on=False)
        t.do(
            "transform", ids=[self.frame.photos[0].id], matrix=[1, 0, 0, 1, 250 - t.item(self.a).photos[0].matrix[4], 0]
        )

        def left_and_right():
            p = pixels(export_png(t.sheet, 100, loader))
            x0 = p.shape[1] - 150
            return tuple(p[p.shape[0] // 2, x0 - 20]) if p.shape[1] > 160 else None, tuple(p[p.shape[0] // 2, x0 + 20])

        # nothing of the left half shows, so that nothing of it is exported
        self.assertEqual(left_and_right(), (None, (*PINK, 255)))
        t.do("paint", ids=[self.a], field="fill", value="#102030")
        self.assertEqual(left_and_right(), ((16, 32, 48, 255), (*PINK, 255)))

    def test_photo_inside_border_around_nothing_outside(self):
        p = pixels(export_png(self.t.sheet, 100, loader, self.frame))
        self.assertEqual(tuple(p[105, 155]), (*PINK, 255))
        self.assertEqual(tuple(p[105, 3]), (0, 0, 255, 255))
        self.assertEqual(p[0, 0, 3], 0)
        self.assertEqual(p[3, 3, 3], 0)
        # no fill shows where the photo covers all: no pixel is the piece's sand
        sand = np.abs(p[..., :3].astype(int) - (0xC9, 0xBD, 0xA4)).max(axis=-1) < 12
        self.assertFalse((sand & (p[..., 3] > 0)).any())

    def test_covered_area_is_the_ellipse(self):
        self.t.do("paint", ids=[self.a], field="stroke", value="none")
        p = pixels(export_png(self.t.sheet, 100, loader, self.frame))
        self.assertEqual(p.shape[:2], (200, 300))
        self.assertAlmostEqual(p[..., 3].sum() / 255 / (math.pi * 150 * 100), 1, delta=5e-4)

    def test_hidden_parts_add_nothing(self):
        self.t.do("paint", ids=[self.a], field="stroke", value="none")
        self.t.do("paint", ids=[self.a], field="fill", value="none")
        self.assertEqual(visible_box(self.frame), (100, 100, 400, 300))
        self.t.do("stay_filled", ids=[self.frame.id], on=False)
        self.t.do("transform", ids=[self.frame.photos[0].id], matrix=[1, 0, 0, 1, 200, 0])
        frame = self.frame
        shown = outline.intersect([outline_of(frame), photo_quad(frame.photos[0])])
        self.assertEqual(visible_box(frame), shown.bounds)
        self.assertGreater(visible_box(frame)[0], 200)

    def test_svg_has_a_real_clip_path_and_its_border(self):
        text = export_svg(self.t.sheet, 100, loader, self.frame)
        root = ElementTree.fromstring(text)
        ns = {"s": "http://www.w3.org/2000/svg"}
        clip = root.find(".//s:clipPath", ns)
        group = root.find(".//s:g[@clip-path]", ns)
        self.assertEqual(group.get("clip-path"), f"url(#{clip.get('id')})")
        clipped = Path.from_svg(clip.find("s:path", ns).get("d"))
        self.assertAlmostEqual(clipped.area, outline_of(self.frame).area, delta=1e-3)
        border = root.find(".//s:path[@stroke]", ns)
        self.assertEqual((border.get("stroke"), border.get("stroke-width")), ("#0000ff", "10"))
        self.assertTrue(group.find(".//s:image", ns).get("href").startswith("data:image/jpeg;base64,"))
        self.assertEqual(root.get("viewBox"), "95 95 310 210")
        self.assertEqual((root.get("width"), root.get("height")), ("310px", "210px"))
        self.assertNotIn("ghost", text)

    def test_opacity_of_a_frame(self):
        self.t.do("paint", ids=[self.a], field="opacity", value="50")
        p = pixels(export_png(self.t.sheet, 100, loader, self.frame))
        self.assertAlmostEqual(int(p[105, 155, 3]), 128, delta=1)


class Sheets(unittest.TestCase):
    def test_trimmed_to_what_shows_with_the_backdrop_behind_it(self):
        t = Table()
        a = t.rectangle(100, 50, 200, 100)
        t.do("paint", ids=[a], field="stroke", value="none")
        self.assertEqual(exported_box(t.sheet), (100, 50, 300, 150))
        t.do("transform", ids=[a], matrix=[1, 0, 0, 1, -150, 0])
        self.assertEqual(exported_box(t.sheet), (0, 50, 150, 150))
        t.do("backdrop", value="#ffffff")
        self.assertEqual(exported_box(t.sheet), (0, 50, 150, 150))
        (cropped,) = ordered(t.sheet, Order(what="sheet", extent="trimmed", size="50"))
        image = Image.open(io.BytesIO(FORMATS["png"].write(t.sheet, cropped, loader, Order(size="50"))))
        self.assertEqual((image.size, image.mode), ((75, 50), "RGB"))
        # where nothing is said, a sheet with a backdrop goes out whole
        image = Image.open(io.BytesIO(export_png(t.sheet, 50, loader)))
        self.assertEqual((image.size, image.mode), ((500, 400), "RGB"))

    def test_nothing_to_export_says_so(self):
        t = Table()
        with self.assertRaises(SheetError):
            exported_box(t.sheet)
        a = t.rectangle(2000, 2000, 10, 10)
        with self.assertRaises(SheetError) as caught:
            exported_box(t.sheet)
        self.assertIn("off the sheet", caught.exception.message)
        for field in ("fill", "stroke"):
            t.do("paint", ids=[a], field=field, value="none")
        with self.assertRaises(SheetError):
            exported_box(t.sheet, t.item(a))

    def test_too_many_pixels(self):
        t = Table()
        t.do("backdrop", value="#fff")
        with self.assertRaises(SheetError) as caught:
            export_png(t.sheet, 10_000, loader)
        self.assertIn("px per inch", caught.exception.remedy)

    def test_a_mitred_corner_is_part_of_the_box(self):
        t = Table()
        a = t.rectangle(100, 100, 100, 100)
        t.do("paint", ids=[a], field="stroke", value="#000")
        t.do("paint", ids=[a], field="stroke_width", value="20")
        t.do("transform", ids=[a], matrix=[0.5**0.5, 0.5**0.5, -(0.5**0.5), 0.5**0.5, 300, 0])
        x0, y0, x1, y1 = visible_box(t.item(a))
        # a turned square of side 100 + 20
        self.assertAlmostEqual(x1 - x0, 120 * 2**0.5, delta=0.01)
        self.assertAlmostEqual(y1 - y0, 120 * 2**0.5, delta=0.01)

    def test_holes_are_holes_and_order_is_kept(self):
        t = Table()
        low, high = t.rectangle(0, 0, 100, 100), t.rectangle(50, 0, 100, 100)
        t.do("paint", ids=[low], field="fill", value="#ff0000")
        t.do("paint", ids=[high], field="fill", value="#00ff00")
        hole = t.ellipse(60, 30, 30, 30)
        (o,) = t.do("combine", ids=[high, hole], operation="subtract")
        for i in (low, o):
            t.do("paint", ids=[i], field="stroke", value="none")
        p = render(t.sheet.items, (0, 0, 150, 100), 1, loader)
        self.assertEqual(tuple(p[10, 60]), (0, 255, 0, 255))
        self.assertEqual(tuple(p[45, 75]), (255, 0, 0, 255))

    def test_a_photo_at_one_px_per_px_comes_out_untouched(self):
        t = Table()
        noise = Image.effect_noise((60, 40), 80).convert("RGB")
        t.photo(60, 40, x=130, y=120)
        got = pixels(export_png(t.sheet, 100, lambda p, s: noise))
        self.assertTrue((got[..., :3] == np.asarray(noise)).all())


class Fragments(unittest.TestCase):
    def test_a_fragment_carries_what_gestures_need(self):
        t = Table()
        a, b = t.rectangle(10, 20, 30, 40), t.ellipse(20, 20, 30, 40)
        (o,) = t.do("combine", ids=[a, b], operation="union")
        t.do("put_in", ids=[o, t.photo(x=20, y=40, name='<"sea">.jpg')])
        text = fragment(t.item(o), lambda p: f"/photos/{p.file}")
        root = ElementTree.fromstring(text)
        self.assertEqual(root.get("data-id"), o)
        self.assertEqual(root.get("data-kind"), "frame")
        self.assertEqual(root.get("data-box"), "10 20 50 60")
        self.assertEqual(root.get("data-frame"), "40 40 1 0 0 1 10 20")
        self.assertEqual(len(root.findall(".//g[@class='ghost']/g")), 1)
        self.assertEqual([g.get("data-id") for g in root.findall(".//g[@class='members']/g")], [a, b])
        self.assertNotIn("<script", text)
        self.assertTrue(re.search(r"&lt;&quot;sea", text))


class GroupsAndHidden(unittest.TestCase):
    def test_a_group_goes_out_as_its_items_do(self):
        t = Table()
        a, b = t.rectangle(100, 100, 50, 50), t.ellipse(200, 100, 80, 50)
        before = pixels(export_png(t.sheet, 100, loader))
        (group,) = t.do("group", ids=[a, b])
        self.assertTrue((pixels(export_png(t.sheet, 100, loader)) == before).all())
        self.assertTrue((pixels(export_png(t.sheet, 100, loader, t.item(group))) == before).all())
        self.assertIn("<title>Group 1</title>", export_svg(t.sheet, 100, loader))

    def test_what_is_hidden_does_not_go_out(self):
        t = Table()
        a, b = t.rectangle(100, 100, 50, 50), t.ellipse(700, 500, 80, 50)
        t.do("mark", ids=[b], field="hidden", on=True)
        x0, _, x1, _ = exported_box(t.sheet)
        self.assertLess(x1 - x0, 60)
        self.assertNotIn("Ellipse", export_svg(t.sheet, 100, loader))
        t.do("mark", ids=[a], field="hidden", on=True)
        with self.assertRaisesRegex(SheetError, "Nothing shows"):
            export_png(t.sheet, 100, loader)
