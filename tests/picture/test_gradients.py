"""Gradients drawn: in pixels, SVG (resvg) and PDF (pdfium) of one sheet."""

import io
import unittest

import numpy as np
import resvg_py
from PIL import Image

from picture import fragment
from picture.draw.raster import render
from picture.svg_in.read import read_svg
from sheet.document.gradients import Gradient
from tests.sheet.helpers import Table

from .test_export import export_png, export_svg, loader, pixels
from .test_pdf import shown, written
from .test_svg_agree import premultiplied


class Drawn(unittest.TestCase):
    """A rectangle across, a ring with a radial border beyond half its reach, and one that fades out downwards."""

    def setUp(self):
        t = self.t = Table("400", "300", "px", "72")
        a = t.rectangle(20, 20, 200, 100)
        t.do("gradient", ids=[a], field="fill", kind="linear")
        t.do("gradient_stop", ids=[a], field="fill", stop=0, part="color", value="#000000")
        t.do("gradient_stop", ids=[a], field="fill", stop=1, part="color", value="#ffffff")
        b = t.ellipse(240, 30, 140, 120)
        t.do("paint", ids=[b], field="stroke_width", value="24")
        t.do("gradient", ids=[b], field="stroke", kind="radial")
        t.do("place_gradient", ids=[b], field="stroke", part="size", value="40")
        t.do("place_gradient", ids=[b], field="stroke", part="spread", value="reflect")
        c = t.rectangle(40, 150, 160, 130)
        t.do("gradient", ids=[c], field="fill", kind="linear")
        t.do("place_gradient", ids=[c], field="fill", part="angle", value="90")
        t.do("gradient_stop", ids=[c], field="fill", stop=1, part="opacity", value="0")
        self.a, self.b, self.c = a, b, c

    def test_pixels_are_those_of_the_formula(self):
        p = pixels(export_png(self.t.sheet, 72, loader, self.t.item(self.a)))
        # stops in sRGB, SVG 2, 14.2: the middle of px k of 200 is at (k + 0.5) / 200
        want = 255 * (np.arange(200) + 0.5) / 200
        self.assertLessEqual(np.abs(p[50, :, 0] - want).max(), 1)
        fading = pixels(export_png(self.t.sheet, 72, loader, self.t.item(self.c)))[:, 80, 3]
        rows = np.arange(len(fading))
        inside = slice(20, 90)
        self.assertLessEqual(np.abs(fading - 255 * (1 - (rows + 0.5) / len(rows)))[inside].max(), 2)

    def test_svg_says_the_same_to_another_reader_and_comes_back(self):
        svg = export_svg(self.t.sheet, 72, loader)
        ours = premultiplied(render(self.t.sheet.items, (0, 0, 400, 300), 1.0, loader))
        (x0, y0) = (int(v) for v in svg.split('viewBox="')[1].split()[:2])
        png = resvg_py.svg_to_bytes(svg_string=svg)
        theirs = premultiplied(np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGBA")))
        h, w = theirs.shape[:2]
        off = np.abs(ours[y0 : y0 + h, x0 : x0 + w] - theirs).max(axis=2)
        # edges are covered by a little more or less
        self.assertLess((off > 3).mean(), 0.02)
        drawing = read_svg(svg.encode(), "again", 1.0)
        self.assertEqual(drawing.unknown, {})
        back = premultiplied(render(drawing.items, drawing.box, 1.0, loader))
        self.assertLess((np.abs(back[:h, :w] - ours[y0 : y0 + h, x0 : x0 + w]).max(axis=2) > 3).mean(), 0.02)

    def test_pdf_has_shadings_and_shows_the_same(self):
        data = written(self.t, loader)
        self.assertIn(b"/ShadingType", data)
        page = shown(data, 1.0)
        h, w = page.shape[:2]
        seen = pixels(export_png(self.t.sheet, 72, loader)).astype(float)[:h, :w]
        on_white = seen[..., :3] * seen[..., 3:] / 255 + 255 - seen[..., 3:]
        self.assertLess((np.abs(page[: len(on_white)] - on_white).max(axis=2) > 6).mean(), 0.02)

    def test_a_fragment_names_a_gradient_by_what_it_is(self):
        shown = fragment(self.t.item(self.a), lambda p: p.file)
        (name,) = {part.split('"')[0] for part in shown.split('id="g-')[1:]}
        self.assertIn(f'fill="url(#g-{name})"', shown)
        self.t.do("copy_paint", source=self.a, ids=[self.b])
        self.assertIsInstance(self.t.item(self.b).paint.fill, Gradient)
        self.assertNotIn(name, fragment(self.t.item(self.b), lambda p: p.file))
