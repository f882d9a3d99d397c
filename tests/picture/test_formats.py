"""Files of every format, read back by Pillow: size, px per inch, profile, transparency, colours."""

import io
import unittest

import numpy as np
from PIL import Image, ImageCms

from picture import FORMATS, format_of
from sheet import SheetError
from sheet.delivery import Order, ordered
from tests.sheet.helpers import Table

from .test_delivery import loader


class Formats(unittest.TestCase):
    def setUp(self):
        self.t = Table()
        a = self.t.ellipse(100, 100, 200, 100)
        self.t.do("paint", ids=[a], field="fill", value="#b5432a")

    def write(self, key: str, **order) -> bytes:
        asked = Order(**order)
        return FORMATS[key].write(self.t.sheet, ordered(self.t.sheet, asked)[0], loader, asked)

    def read(self, key: str, **order) -> Image.Image:
        return Image.open(io.BytesIO(self.write(key, **order)))

    def test_size_profile_and_px_per_inch(self):
        for key in ("png", "jpg", "webp", "avif", "tif"):
            with self.subTest(key):
                image = self.read(key, size="254")
                self.assertEqual(image.size, (508, 254))
                profile = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
                self.assertIn("sRGB", ImageCms.getProfileDescription(profile))
                if key in ("png", "jpg", "tif"):
                    self.assertAlmostEqual(float(image.info["dpi"][0]), 254, delta=0.01)
                self.assertEqual(Image.MIME[image.format], FORMATS[key].media)

    def test_transparent_where_it_can_be_and_on_a_ground_where_not(self):
        for key in ("png", "webp", "avif", "tif"):
            with self.subTest(key):
                p = np.asarray(self.read(key, lossless=True).convert("RGBA")).astype(int)
                self.assertEqual(p[0, 0, 3], 0)
                self.assertLess(np.abs(p[50, 100] - (0xB5, 0x43, 0x2A, 255)).max(), 4 if key == "avif" else 1)
        for ground, want in (("", (255, 255, 255)), ("rgb(10, 90, 120)", (10, 90, 120))):
            p = np.asarray(self.read("jpg", ground=ground)).astype(int)
            self.assertLess(np.abs(p[0, 0] - want).max(), 6)
        self.t.do("backdrop", value="#22302f")
        p = np.asarray(self.read("jpg", quality="100")).astype(int)
        self.assertLess(np.abs(p[0, 0] - (0x22, 0x30, 0x2F)).max(), 4)

    def test_a_palette_of_256_and_the_same_pixels_where_there_are_fewer(self):
        image = self.read("png", palette=True)
        self.assertEqual(image.mode, "P")
        whole = np.asarray(self.read("png").convert("RGBA")).astype(int)
        few = np.asarray(image.convert("RGBA")).astype(int)
        self.assertEqual(few[0, 0, 3], 0)
        self.assertLess(np.abs(few[50, 100] - whole[50, 100]).max(), 3)
        self.assertLess(len(self.write("png", palette=True)), len(self.write("png")))

    def test_quality_and_chroma_change_the_file(self):
        sizes = [len(self.write("jpg", quality=q)) for q in ("30", "90", "100")]
        self.assertEqual(sizes, sorted(sizes))
        self.assertLess(len(self.write("jpg", full_chroma=False)), len(self.write("jpg")))
        lossless = np.asarray(self.read("webp", lossless=True).convert("RGBA"))
        exact = np.asarray(self.read("png").convert("RGBA"))
        # Porter and Duff: what is wholly transparent has no colour
        seen = exact[..., 3] > 0
        self.assertTrue((lossless[seen] == exact[seen]).all())

    def test_refused(self):
        for key, order, field in (
            ("jpg", {"quality": "0"}, "quality"),
            ("jpg", {"quality": "good"}, "quality"),
            ("jpg", {"ground": "reddish"}, "ground"),
            ("webp", {"by": "width", "size": "17000"}, "size"),
            ("avif", {"by": "width", "size": "17000"}, "size"),
        ):
            with self.subTest(key, **order):
                with self.assertRaises(SheetError) as caught:
                    self.write(key, **order)
                self.assertEqual(caught.exception.field, field)
        with self.assertRaisesRegex(SheetError, "not a format"):
            format_of("doc")

    def test_a_drawing_has_the_real_size_that_is_asked_for(self):
        self.assertIn('width="400px" height="200px"', self.write("svg", by="width", size="400").decode())
        self.assertIn('width="200px" height="100px"', self.write("svg", size="300").decode())
        t = Table("100", "80", "mm", "254")
        t.ellipse(100, 100, 200, 100)
        order = Order(by="width", size="40mm")
        text = FORMATS["svg"].write(t.sheet, ordered(t.sheet, order)[0], loader, order).decode()
        self.assertIn('width="40mm" height="20mm"', text)
