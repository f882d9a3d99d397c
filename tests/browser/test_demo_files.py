"""Every demo sheet as PNG, PDF and SVG: pdfium, Chromium and resvg show what our own pixels show."""

import io
import math
import re

import numpy as np
import pypdfium2
import resvg_py
from PIL import Image
from skimage.registration import phase_cross_correlation

from picture import FORMATS
from picture.svg_in.css import length
from sheet.export.order import Order, ordered
from studio.demo.load import load_demo
from studio.library.photos import originals
from studio.models import Project

from .base import BrowserCase

SIDE = 900
"""Px of the longer side that the pictures are compared at."""
MEAN = 2.0
TILE = 60
OFF = 0.5
FINE = 4


def furthest_off(a: np.ndarray, b: np.ndarray) -> float:
    """Return how far (px) any part of one picture lies beside the same of another.

    Each tile of 60 px that has something in it is registered by itself, to a twentieth of
    a px (Guizar-Sicairos, Thurman and Fienup, Optics Letters 33, 2008, in scikit-image).
    """
    most = 0.0
    for y in range(0, a.shape[0] - TILE + 1, TILE):
        for x in range(0, a.shape[1] - TILE + 1, TILE):
            one, other = a[y : y + TILE, x : x + TILE], b[y : y + TILE, x : x + TILE]
            # what is the same everywhere, or along one way, lies nowhere
            if min(np.diff(one, axis=0).std(), np.diff(one, axis=1).std()) < 4:
                continue
            shift, _, _ = phase_cross_correlation(one, other, upsample_factor=20, normalization=None)
            most = max(most, float(np.hypot(*shift)))
    return most


class DemoFiles(BrowserCase):
    long = True

    def setUp(self):
        super().setUp()
        load_demo(lambda words: None)

    def shown(self, text: str, width: float, height: float) -> np.ndarray:
        self.page.set_viewport_size({"width": math.ceil(width), "height": math.ceil(height)})
        size = f"display:block;width:{width}px;height:{height}px"
        self.page.goto("about:blank")
        self.page.set_content(f"<style>body{{margin:0}} svg{{{size}}}</style>{text}")
        return np.asarray(Image.open(io.BytesIO(self.page.screenshot())).convert("RGB"))

    def test_all_agree(self):
        projects = list(Project.objects.select_related("head", "owner").exclude(pk=self.project.pk))
        self.assertGreaterEqual(len(projects), 6)
        for project in projects:
            sheet = project.head.sheet
            load = originals(project.owner)
            order = Order(what="sheet", extent="whole", by="width", size=str(SIDE))
            what = ordered(sheet, order)[0]
            png = np.asarray(Image.open(io.BytesIO(FORMATS["png"].write(sheet, what, load, order))).convert("RGBA"))
            white = Image.new("RGBA", png.shape[1::-1], "white")
            white.alpha_composite(Image.fromarray(png))
            ours = np.asarray(white.convert("RGB")).astype(float)
            height, width = ours.shape[:2]
            # a file's size may be a part of a px less than that of its picture
            x0, _, x1, _ = what.box
            exact = (x1 - x0) * what.scale
            with pypdfium2.PdfDocument(FORMATS["pdf"].write(sheet, what, load, order)) as document:
                page = document[0]
                # pdfium stretches a page to whole px, and takes the nearest px of a photo: less so where it is larger
                large = page.render(scale=FINE * exact / page.get_width()).to_pil().convert("RGB")
                h, w = large.height // FINE, large.width // FINE
                pdf = np.asarray(large.crop((0, 0, FINE * w, FINE * h)).reduce(FINE))
            svg = FORMATS["svg"].write(sheet, what, load, order).decode()
            zoom = exact / length(re.search(r'width="([^"]+)"', svg)[1], 100.0)
            drawn = resvg_py.svg_to_bytes(
                svg_string=svg, zoom=zoom, background="#ffffff", dpi=96, skip_system_fonts=True
            )
            resvg = np.asarray(Image.open(io.BytesIO(bytes(drawn))).convert("RGB"))
            chromium = self.shown(svg, exact, exact * (what.box[3] - what.box[1]) / (x1 - x0))
            for name, other in (("pdfium", pdf), ("Chromium", chromium), ("resvg", resvg)):
                with self.subTest(project.name, by=name):
                    # the last row or column may be covered in part
                    self.assertLessEqual(max(abs(height - other.shape[0]), abs(width - other.shape[1])), 1)
                    h, w = min(height, other.shape[0]) - 1, min(width, other.shape[1]) - 1
                    one, other = ours[:h, :w], other[:h, :w].astype(float)
                    mean = np.abs(one - other).mean()
                    self.assertLessEqual(mean, MEAN)
                    self.assertLessEqual(furthest_off(one.mean(axis=2), other.mean(axis=2)), OFF)
