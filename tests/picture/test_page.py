"""The framed picture as a page, shown by Chromium at three widths and held against our PNG of the frame."""

import io
import re
import tempfile
import unittest
import zipfile
from pathlib import Path

import numpy as np
from PIL import Image

from picture import FORMATS
from sheet import SheetError
from sheet.export.order import Order, ordered
from tests.browser.base import browser
from tests.sheet.helpers import Table

from .test_export import export_png

PHOTO = Image.fromarray(
    (np.stack(np.meshgrid(np.linspace(0, 255, 90), np.linspace(255, 0, 70)), -1) @ [[1, 0, 0.5], [0, 1, 0.5]]).astype(
        np.uint8
    )
).resize((900, 700), Image.Resampling.BICUBIC)


def load(photo, at_least):
    return PHOTO


class Page(unittest.TestCase):
    def setUp(self):
        t = self.t = Table("1000", "800", "px", "96")
        a, b = t.ellipse(100, 100, 400, 300), t.rectangle(250, 200, 90, 90)
        (self.frame,) = t.do("combine", ids=[a, b], operation="subtract")
        t.do("put_in", ids=[self.frame, t.photo(900, 700)])
        t.do("paint", ids=[self.frame], field="stroke_width", value="12")

    def written(self, **order) -> zipfile.ZipFile:
        asked = Order(format="html", what="chosen", ids=(self.frame,), **order)
        (what,) = ordered(self.t.sheet, asked)
        data = FORMATS["html"].write(self.t.sheet, what, load, asked)
        return zipfile.ZipFile(io.BytesIO(data))

    def test_chromium_shows_what_the_png_shows_at_three_widths(self):
        # the outline alone, so that its box is that of the picture
        self.t.do("paint", ids=[self.frame], field="stroke", value="none")
        with tempfile.TemporaryDirectory() as folder:
            self.written(quality="95").extractall(folder)
            for width in (200, 400, 800):
                with self.subTest(width):
                    # at twice the px a CSS px where it would be no larger
                    ratio = 2 if width == 800 else 1
                    page = browser().new_page(
                        viewport={"width": min(width, 400), "height": 400}, device_scale_factor=ratio
                    )
                    page.goto(Path(folder, "index.html").as_uri())
                    page.wait_for_function("() => document.querySelector('img').complete")
                    self.assertRegex(page.evaluate("document.querySelector('img').currentSrc"), rf"{width}\.avif$")
                    shown = Image.open(io.BytesIO(page.locator(".framed").screenshot())).convert("RGB")
                    page.close()
                    png = export_png(self.t.sheet, 96 * width / 400, load, self.t.item(self.frame))
                    ours = Image.open(io.BytesIO(png)).convert("RGBA")
                    white = Image.new("RGBA", ours.size, "white")
                    white.alpha_composite(ours)
                    off = np.abs(
                        np.asarray(shown.resize(ours.size)).astype(int) - np.asarray(white.convert("RGB")).astype(int)
                    ).max(axis=2)
                    self.assertEqual((shown.width, shown.height), (width, width * 3 // 4))
                    # edges and AVIF aside
                    self.assertLess((off > 16).mean(), 0.02)

    def test_pictures_markup_and_border(self):
        box = self.written(alt='Dusk & "sea"')
        html = box.read("index.html").decode()
        for width in (200, 400, 800):
            for kind in ("webp", "avif"):
                image = Image.open(io.BytesIO(box.read(f"pictures/{width}.{kind}")))
                self.assertEqual(image.size, (width, width * 3 // 4))
        # cropped to the frame, and with nothing cut out of it
        corner = np.asarray(Image.open(io.BytesIO(box.read("pictures/400.webp"))).convert("RGBA"))
        self.assertEqual(corner[..., 3].min(), 255)
        self.assertIn('alt="Dusk &amp; &quot;sea&quot;"', html)
        self.assertEqual(re.findall(r"aspect-ratio: ([\d /]+);", html), ["400 / 300"])
        self.assertEqual(html.count("clip-path: "), 2)
        self.assertLess(html.index("path(evenodd"), html.index("shape(evenodd"))
        self.assertIn('stroke-width="12"', html)
        self.assertEqual(self.written().read("index.html"), self.written().read("index.html"))

    def test_of_one_frame_or_outline_alone(self):
        other = self.t.ellipse(700, 100, 100, 100)
        for several in ((), (self.frame, other), "group"):
            with self.subTest(several), self.assertRaisesRegex(SheetError, "one frame or outline"):
                ids = self.t.do("group", ids=[self.frame, other]) if several == "group" else several
                asked = Order(format="html", what="chosen" if ids else "sheet", ids=tuple(ids))
                FORMATS["html"].write(self.t.sheet, ordered(self.t.sheet, asked)[0], load, asked)
