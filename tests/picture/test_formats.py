"""Files of every format, read back by Pillow: size, px per inch, profile, transparency, colours."""

import base64
import io
import re
import tempfile
import unittest
import zipfile
from functools import lru_cache

import numpy as np
import resvg_py
import tifffile
from msgspec.structs import replace
from PIL import Image, ImageCms

from outline import Matrix
from picture import FORMATS, format_of
from picture.svg_in.read import read_svg
from sheet import SheetError
from sheet.export.order import Order, ordered
from sheet.geometry.geometry import outline_of
from tests.sheet.helpers import Table

from .test_export import loader


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

    def test_a_tiff_is_packed_as_is_asked_and_an_avif_with_more_effort_is_smaller(self):
        sizes, seen = {}, []
        for packing, told in (("lzw", 5), ("deflate", 8), ("none", 1)):
            data = self.write("tif", packing=packing)
            with tifffile.TiffFile(io.BytesIO(data)) as file:
                # TIFF 6.0: compression 1 and 5, and 8 of Technical Note 2; predictor 2 with both
                self.assertEqual(int(file.pages[0].compression), told)
                self.assertEqual(int(file.pages[0].predictor), 1 if packing == "none" else 2)
            seen.append(np.asarray(Image.open(io.BytesIO(data))))
            sizes[packing] = len(data)
        self.assertTrue((seen[0] == seen[1]).all() and (seen[0] == seen[2]).all())
        self.assertLess(max(sizes["lzw"], sizes["deflate"]), sizes["none"] / 4)
        quick, thorough = (len(self.write("avif", effort=e, size="400")) for e in ("quick", "thorough"))
        self.assertLess(thorough, quick)

    def test_refused(self):
        for key, order, field in (
            ("jpg", {"quality": "0"}, "quality"),
            ("jpg", {"quality": "good"}, "quality"),
            ("jpg", {"ground": "reddish"}, "ground"),
            ("webp", {"by": "width", "size": "17000"}, "size"),
            ("webp", {"by": "width", "size": "15000"}, "size"),
            ("webp", {"by": "width", "size": "12000", "lossless": True}, "size"),
            ("avif", {"by": "width", "size": "12000"}, "size"),
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


class SvgPhotos(unittest.TestCase):
    """What becomes of the photos in an SVG; resvg shows each way as our own pixels are."""

    def setUp(self):
        self.t = Table("1000", "800", "px", "100")
        first = self.t.ellipse(10, 10, 80, 60)
        self.t.do("put_in", ids=[first, self.t.photo(1600, 1200, 500, 400)])
        self.frame = self.t.item(first)
        self.frames(100)

    def frames(self, count: int) -> None:
        """Have so many frames of the photo; resvg takes a third of a second for each."""
        moved = (replace(self.frame, id=f"i{k + 9}", matrix=at(k).numbers()) for k in range(count))
        self.t.sheet = replace(self.t.sheet, items=tuple(moved))

    def write(self, **order) -> bytes:
        asked = Order(format="svg", what="sheet", extent="whole", **order)
        return FORMATS["svg"].write(self.t.sheet, ordered(self.t.sheet, asked)[0], soft, asked)

    def shown(self, data: bytes) -> np.ndarray:
        png = resvg_py.svg_to_bytes(svg_string=data.decode(), background="#ffffff", skip_system_fonts=True)
        return np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGB")).astype(float)

    def test_a_hundred_frames_hold_their_photo_once(self):
        for way in ("cropped", "whole"):
            data = self.write(photos=way)
            self.assertEqual(data.count(b"data:image"), 1)
            self.assertEqual(data.count(b"<use "), 100)

    def test_several_frames_of_one_photo_look_as_they_should(self):
        self.frames(6)
        want = Image.open(io.BytesIO(FORMATS["png"].write(self.t.sheet, self.whole, soft, Order()))).convert("RGBA")
        under = Image.new("RGBA", want.size, "white")
        under.alpha_composite(want)
        for way in ("cropped", "whole"):
            with self.subTest(way):
                off = np.abs(self.shown(self.write(photos=way)) - np.asarray(under.convert("RGB")))
                self.assertLess(off.mean(), 1.0)

    @property
    def whole(self):
        return ordered(self.t.sheet, Order(what="sheet", extent="whole"))[0]

    def test_cropped_it_has_no_px_that_do_not_show(self):
        t = Table("1000", "800", "px", "100")
        frame = t.ellipse(450, 350, 100, 80)
        t.do("put_in", ids=[frame, t.photo(1600, 1200, 500, 400)])
        sizes = {}
        for way in ("cropped", "whole"):
            order = Order(format="svg", what=frame, photos=way)
            data = FORMATS["svg"].write(t.sheet, ordered(t.sheet, order)[0], soft, order).decode()
            (embedded,) = re.findall(r"data:image/jpeg;base64,([^\"]+)", data)
            sizes[way] = Image.open(io.BytesIO(base64.b64decode(embedded))).size
        scale = t.item(frame).photos[0].matrix[0]
        self.assertLessEqual(abs(sizes["cropped"][0] - (100 + 2 * 2)), 2)
        self.assertLessEqual(abs(sizes["cropped"][1] - (80 + 2 * 2)), 2)
        self.assertEqual(sizes["whole"][0], round(1600 * scale))

    def test_beside_it_in_a_zip(self):
        self.frames(6)
        data = self.write(photos="linked")
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            names = box.namelist()
            self.assertEqual(names[0], "drawing.svg")
            self.assertEqual(len(names), 2)
            text = box.read("drawing.svg").decode()
            self.assertIn(f'href="{names[1]}"', text)
            self.assertEqual(Image.open(io.BytesIO(box.read(names[1]))).format, "JPEG")
            with tempfile.TemporaryDirectory() as folder:
                box.extractall(folder)
                png = resvg_py.svg_to_bytes(
                    svg_path=f"{folder}/drawing.svg", resources_dir=folder, background="#ffffff"
                )
        linked = np.asarray(Image.open(io.BytesIO(bytes(png))).convert("RGB")).astype(float)
        self.assertLess(np.abs(linked - self.shown(self.write())).max(), 2)
        self.assertEqual(FORMATS["svg"].filed(Order(photos="linked")), ("zip", "application/zip"))

    def test_outlines_only(self):
        self.t.do("backdrop", value="#22302f")
        text = self.write(photos="none").decode()
        self.assertNotIn("<image", text)
        self.assertNotIn("<rect", text)
        self.assertEqual(text.count("<path"), 100)
        self.assertEqual(set(re.findall(r'fill="([^"]+)"', text)), {"none"})
        drawing = read_svg(text.encode(), "outlines", 100 / 96)
        self.assertEqual(len(drawing.items), 100)
        self.assertAlmostEqual(
            outline_of(drawing.items[0]).area, outline_of(self.t.sheet.items[0]).area * (100 / 96) ** 2, delta=0.1
        )


def at(k: int) -> Matrix:
    """Return the place of the k-th of a hundred frames."""
    return Matrix.move(10 + 97 * (k % 10), 10 + 78 * (k // 10))


@lru_cache(maxsize=1)
def _soft() -> Image.Image:
    return Image.effect_noise((12, 9), 90).convert("RGB").resize((1600, 1200), Image.Resampling.BICUBIC)


def soft(photo, share: float) -> Image.Image:
    """Return a photo in which every place differs from the next."""
    return _soft()
