"""Estimated file sizes: within a quarter of the real size, in every format."""

import unittest
from pathlib import Path

from msgspec.structs import replace
from PIL import Image

import studio.demo
from picture import FORMATS
from picture.photos.print_profiles import read_profile, use_profiles
from picture.write.estimate import estimated
from sheet.export.order import Order, ordered
from tests.made_profile import made_profile
from tests.sheet.helpers import Table

PHOTOS = sorted((Path(studio.demo.__file__).parent / "photos").glob("coast-*.jpg"))


class Files:
    """Photos of the demo, by the last digits of their name, as a storage gives them."""

    def __init__(self, t: Table):
        self.names: dict[str, Path] = {}
        self.t = t

    def photo(self, number: int, width: float) -> str:
        with Image.open(PHOTOS[number]) as picture:
            size = picture.size
        item = self.t.photo(*size, 0, 0)
        # each a file of its own
        own = replace(self.t.item(item), file=f"{number:064x}")
        self.t.sheet = replace(self.t.sheet, items=tuple(own if i.id == item else i for i in self.t.sheet.items))
        self.names[own.file] = PHOTOS[number]
        by = width / size[0] / own.placing.a
        self.t.do("transform", ids=[item], matrix=[by, 0, 0, by, 0, 0])
        return item

    def __call__(self, photo, at_least: float) -> Image.Image:
        picture = Image.open(self.names[photo.file])
        picture.draft("RGB", (max(1, int(photo.width * at_least)), max(1, int(photo.height * at_least))))
        return picture.convert("RGB")

    def encoded(self, photo) -> bytes:
        return self.names[photo.file].read_bytes()


class Estimates(unittest.TestCase):
    def setUp(self):
        self.t = Table("1600", "1200", "px", "300")
        self.load = Files(self.t)
        large, small = self.t.ellipse(50, 50, 1000, 900), self.t.rectangle(1150, 700, 400, 300)
        self.t.do("put_in", ids=[large, self.load.photo(0, 1500)])
        # the same photo once more, much smaller, and a part of another
        self.t.do("put_in", ids=[small, self.load.photo(0, 420)])
        star = self.t.do("draw", kind="star", x=1100, y=80, width=420, height=420)[0]
        self.t.do("put_in", ids=[star, self.load.photo(3, 1400)])

    def ratio(self, **order) -> float:
        asked = Order(what="sheet", **order)
        files = ordered(self.t.sheet, asked)
        size = len(FORMATS[asked.format].write(self.t.sheet, files[0], self.load, asked))
        return estimated(self.t.sheet, files, self.load, asked) / size

    def test_a_photo_that_is_empty_above_and_busy_below(self):
        t = Table("1600", "1200", "px", "300")
        self.t, self.load = t, Files(t)
        frame = t.rectangle(100, 100, 1200, 1000)
        t.do("put_in", ids=[frame, self.load.photo(2, 1500)])
        for key in ("pdf", "svg", "jpg"):
            with self.subTest(key):
                self.assertLess(abs(self.ratio(format=key) - 1), 0.25)

    def test_a_jpeg_that_goes_through_untouched_weighs_what_it_weighs(self):
        t = Table("1600", "1200", "px", "300")
        self.t, self.load = t, Files(t)
        with Image.open(PHOTOS[2]) as picture:
            width = picture.width
        self.load.photo(2, width)
        self.assertAlmostEqual(self.ratio(format="pdf", extent="trimmed"), 1, delta=0.02)

    def test_within_a_quarter(self):
        press = read_profile(made_profile(), "press.icc")
        self.addCleanup(use_profiles, use_profiles({press.digest: press.data}.get))
        ways = [{"format": key} for key in FORMATS if key != "html"]
        ways += [
            {"format": "jpg", "size": "600"},
            {"format": "png", "size": "150"},
            {"format": "svg", "photos": "whole"},
        ]
        ways += [
            {"format": "webp", "lossless": True},
            {"format": "tif", "packing": "none"},
            {"format": "pdf", "size": "72"},
            {"format": "pdf", "standard": "print", "profile": f"{press.digest}:press"},
            {"format": "pdf", "standard": "print", "profile": f"{press.digest}:press", "inks": True},
        ]
        for order in ways:
            with self.subTest(**order):
                ratio = self.ratio(**order)
                self.assertGreater(ratio, 0.75)
                self.assertLess(ratio, 1.25)
