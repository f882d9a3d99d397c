"""Files from outside, damaged in any way: read, or refused in words; never another error."""

import io
import unittest

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from picture import PictureError
from picture.draw.raster import render
from picture.photos.decode import open_upright
from picture.photos.probe import inspect
from picture.svg_in.read import read_svg
from sheet import SheetError
from tests.damage import damaged

TRIES = settings(max_examples=60, deadline=None, database=None, suppress_health_check=list(HealthCheck))

SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 90 60"
width="90"><style>.a { fill: rgb(200 50 50 / 50%); stroke: hsl(120deg 50% 50%); stroke-width: 2 }
@media print { .a { fill: red } }</style>
<defs><clipPath id="c"><circle cx="20" cy="20" r="15"/></clipPath><g id="g"><rect width="9" height="9" rx="2"/></g>
<linearGradient id="l"><stop offset="10%" stop-color="#fff"/><stop offset="1"/></linearGradient></defs>
<path class="a" d="M10 10C20 0 40 0 50 10S60 40 30 50A12 9 30 1 0 10 30z" clip-path="url(#c)"/>
<use xlink:href="#g" x="60" y="5" transform="rotate(30 60 5) scale(1.5)"/><polygon points="1,1 9,1 5,9" fill="url(#l)"/>
<text x="5" y="55" font-size="9">Marram</text><line x1="0" y1="0" x2="9" y2="9" stroke-dasharray="1 2"/></svg>"""


def pictures() -> dict[str, bytes]:
    """Return a small picture in each format that can be read."""
    noise = np.random.default_rng(3).integers(0, 255, (24, 32, 3), dtype=np.uint8)
    image = Image.fromarray(noise)
    exif = Image.Exif()
    exif[0x0112] = 6
    out = {}
    for kind, options in (
        ("JPEG", {"exif": exif}), ("JPEG", {"progressive": True}), ("PNG", {"dpi": (300, 300)}), ("WEBP", {}),
        ("TIFF", {"compression": "tiff_lzw"}), ("AVIF", {}),
    ):  # fmt: skip
        file = io.BytesIO()
        image.save(file, kind, **options)
        out[f"{kind} {options}"] = file.getvalue()
    return out


class Damaged(unittest.TestCase):
    @TRIES
    @given(damaged(SVG))
    def test_an_svg_file(self, data):
        try:
            drawing = read_svg(data, "leaf.svg", 1.0)
        except (PictureError, SheetError) as error:
            self.assertTrue(error.message)
            return
        x0, y0, x1, y1 = drawing.box
        render(drawing.items, drawing.box, 40 / max(x1 - x0, y1 - y0), lambda photo, share: Image.new("RGB", (1, 1)))

    def test_a_photo(self):
        for name, whole in pictures().items():
            with self.subTest(name):
                self.read_or_refused(whole)

    def read_or_refused(self, whole: bytes) -> None:
        @settings(TRIES, max_examples=30)
        @given(damaged(whole))
        def read(data):
            try:
                info = inspect(io.BytesIO(data), "sea", len(data))
                image = open_upright(io.BytesIO(data), "sea")
            except PictureError as error:
                self.assertTrue(error.message)
                return
            self.assertEqual(image.size, (info.width, info.height))

        read()


class Junk(unittest.TestCase):
    @TRIES
    @given(st.one_of(st.binary(max_size=300), st.text(max_size=200).map(lambda t: f"<svg>{t}</svg>".encode())))
    def test_anything(self, data):
        for read in (lambda: read_svg(data, "x", 1.0), lambda: inspect(io.BytesIO(data), "x", len(data))):
            try:
                read()
            except (PictureError, SheetError) as error:
                self.assertTrue(error.message)
