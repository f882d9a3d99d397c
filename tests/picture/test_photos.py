"""Photos read as a person expects to see them, and refused with a reason."""

import io
import tempfile
import unittest
import zlib
from itertools import product
from pathlib import Path
from unittest.mock import patch

import numpy as np
import pillow_heif
import pyvips
import tifffile
from PIL import Image, ImageCms

from picture.errors import PictureError
from picture.photos.decode import open_upright, preview
from picture.photos.icc import DISPLAY_P3, rgb_profile
from picture.photos.probe import completed, has_several, inspect, was_completed
from sheet.reading.colours import read_css

from .icc import cmyk_profile


def stored(image: Image.Image, kind: str, **options) -> io.BytesIO:
    out = io.BytesIO()
    image.save(out, kind, **options)
    out.seek(0)
    return out


def corners() -> Image.Image:
    """Return 40 × 20 px: red, green over blue, white in quarters."""
    image = Image.new("RGB", (40, 20))
    for k, color in enumerate(((255, 0, 0), (0, 255, 0), (0, 0, 255), (255, 255, 255))):
        image.paste(color, (20 * (k % 2), 10 * (k // 2), 20 * (k % 2) + 20, 10 * (k // 2) + 10))
    return image


class Upright(unittest.TestCase):
    def test_all_eight_exif_orientations(self):
        # EXIF 2.32, tag 0x0112: how the stored rows and columns lie; each undone by its inverse
        t = Image.Transpose
        stored_as = {
            1: None,
            2: t.FLIP_LEFT_RIGHT,
            3: t.ROTATE_180,
            4: t.FLIP_TOP_BOTTOM,
            5: t.TRANSPOSE,
            6: t.ROTATE_90,
            7: t.TRANSVERSE,
            8: t.ROTATE_270,
        }
        for orientation, way in stored_as.items():
            exif = Image.Exif()
            exif[0x0112] = orientation
            image = corners() if way is None else corners().transpose(way)
            file = stored(image, "PNG", exif=exif)
            info = inspect(file, "a.png", 10)
            self.assertEqual((info.width, info.height), (40, 20))
            file.seek(0)
            with self.subTest(orientation=orientation):
                self.assertTrue((np.asarray(open_upright(file, "a.png")) == np.asarray(corners())).all())

    def test_a_tiff_is_turned_once(self):
        # EXIF 2.32, tag 0x0112: how rows and columns are stored for each orientation
        rng = np.random.default_rng(1)
        want = np.asarray(Image.fromarray((rng.random((6, 9, 3)) * 255).astype(np.uint8)).resize((90, 60), 0))
        stored = {
            1: want, 2: want[:, ::-1], 3: want[::-1, ::-1], 4: want[::-1],
            5: want.transpose(1, 0, 2), 6: want.transpose(1, 0, 2)[::-1],
            7: want[::-1, ::-1].transpose(1, 0, 2), 8: want.transpose(1, 0, 2)[:, ::-1],
        }  # fmt: skip
        for orientation, pixels in stored.items():
            for how in ({}, {"rowsperstrip": 16}, {"tile": (32, 32)}, {"rowsperstrip": 16, "compression": "zlib"}):
                with self.subTest(orientation=orientation, **how), tempfile.NamedTemporaryFile(suffix=".tif") as file:
                    tags = [(274, "H", 1, orientation, True)]
                    pixels = np.ascontiguousarray(pixels)
                    tifffile.imwrite(file.name, pixels, photometric="rgb", extratags=tags, **how)
                    info = inspect(Path(file.name), "a.tif", 1000)
                    self.assertEqual((info.width, info.height), (90, 60))
                    seen = open_upright(Path(file.name), "a.tif")
                    self.assertTrue(np.array_equal(np.asarray(seen.convert("RGB")), want))
                    small = Image.open(io.BytesIO(preview(Path(file.name), "a.tif", info)[0]))
                    self.assertEqual(small.size, (90, 60))

    def test_a_large_turned_tiff_is_streamed_upright(self):
        y, x = np.mgrid[0:3000, 0:4000]
        want = np.stack([x // 16, y // 12, (x + y) // 28], axis=-1).astype(np.uint8)
        with tempfile.NamedTemporaryFile(suffix=".tif") as file:
            turned = np.ascontiguousarray(want.transpose(1, 0, 2)[::-1])
            tifffile.imwrite(file.name, turned, photometric="rgb", extratags=[(274, "H", 1, 6, True)])
            small = open_upright(Path(file.name), "a.tif", 0.25)
        self.assertEqual(small.size, (1000, 750))
        near = np.asarray(Image.fromarray(want).resize(small.size, Image.Resampling.BOX)).astype(int)
        self.assertLess(np.abs(np.asarray(small.convert("RGB")).astype(int) - near).mean(), 2)

    def test_every_format(self):
        for kind, options in (
            ("JPEG", {"quality": 95}),
            ("PNG", {}),
            ("WEBP", {"lossless": True}),
            ("TIFF", {}),
            ("AVIF", {"quality": 95}),
            ("HEIF", {"quality": 95}),
        ):
            with self.subTest(kind=kind):
                file = stored(corners(), kind, **options)
                self.assertEqual(inspect(file, "a", 10).format, kind)
                file.seek(0)
                apart = np.abs(np.asarray(open_upright(file, "a"), int) - np.asarray(corners(), int))
                self.assertLess(np.median(apart), 3)

    def test_an_avif_of_a_turned_camera_comes_in_upright(self):
        # in HEIC files the turn is a property of the picture, which its decoder has undone already
        exif = Image.Exif()
        exif[0x0112] = 6
        file = stored(corners().transpose(Image.Transpose.ROTATE_90), "AVIF", exif=exif, quality=95)
        info = inspect(file, "a", 10)
        self.assertEqual((info.width, info.height), (40, 20))
        file.seek(0)
        apart = np.abs(np.asarray(open_upright(file, "a").convert("RGB"), int) - np.asarray(corners(), int))
        self.assertLess(np.median(apart), 4)

    def test_a_jpeg_is_decoded_no_smaller_than_asked(self):
        big = stored(Image.new("RGB", (1600, 800), "red"), "JPEG")
        for share, least in ((1.0, 1600), (0.5, 800), (0.3, 480), (0.02, 32)):
            big.seek(0)
            image = open_upright(big, "a", share)
            self.assertGreaterEqual(image.width, least)
            self.assertLessEqual(image.width, 1600)


class Colour(unittest.TestCase):
    def test_wide_gamut_is_shown_right(self):
        # P3 colours inside sRGB: by matrices from the primaries' standard (SMPTE EG 432-1, IEC 61966-2-1)
        profile = rgb_profile("wide", DISPLAY_P3)
        p3_to_xyz = np.array(DISPLAY_P3).T
        srgb_to_xyz = np.array(
            [[0.4360747, 0.3850649, 0.1430804], [0.2225045, 0.7168786, 0.0606169], [0.0139322, 0.0971045, 0.7141733]]
        )
        for color in ((200, 120, 90), (90, 160, 100), (60, 90, 170), (128, 128, 128)):
            file = stored(Image.new("RGB", (8, 8), color), "PNG", icc_profile=profile)
            linear = np.linalg.solve(srgb_to_xyz, p3_to_xyz @ (np.array(color) / 255) ** 2.2)
            want = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055) * 255
            got = np.asarray(open_upright(file, "a"))[4, 4]
            with self.subTest(color=color):
                self.assertLess(np.abs(got - want).max(), 2.5)

    def test_a_profile_is_what_it_contains_and_not_what_it_is_called(self):
        # a linear profile that calls itself sRGB: a middle grey of it is 188 of sRGB (IEC 61966-2-1)
        srgb = ((0.43607, 0.22249, 0.01392), (0.38515, 0.71687, 0.09708), (0.14307, 0.06061, 0.71410))
        linear = rgb_profile("sRGB IEC61966-2.1", srgb, gamma=1.0)
        self.assertIn("sRGB", ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(linear))))
        with tempfile.NamedTemporaryFile(suffix=".png") as file:
            Image.new("RGB", (8, 8), (128, 128, 128)).save(file.name, icc_profile=linear)
            seen = np.asarray(open_upright(Path(file.name), "a.png"))
        self.assertLessEqual(np.abs(seen.astype(int) - 188).max(), 2)

    def test_cmyk_by_its_profile(self):
        lab = {}
        for c, m, y, k in product((0, 1), repeat=4):
            lab[c, m, y, k] = (100 - 30 * c - 30 * m - 5 * y - 30 * k, 40 * m - 30 * c, 50 * y - 40 * c)
        profile = cmyk_profile(lab)
        for ink in ((0, 0, 0, 0), (1, 0, 0, 0), (0, 1, 0, 0), (0, 0, 1, 0), (0, 1, 1, 0)):
            image = Image.new("CMYK", (8, 8), tuple(255 * v for v in ink))
            got = np.asarray(open_upright(stored(image, "TIFF", icc_profile=profile), "a"))[4, 4] / 255
            # CIE 15: Lab to XYZ (D50), then the sRGB matrix adapted to D50
            lightness, a, b = lab[ink]
            fy = (lightness + 16) / 116
            xyz = [w * (f**3 if f > 6 / 29 else 3 * (6 / 29) ** 2 * (f - 4 / 29)) for w, f in
                   ((0.9642, fy + a / 500), (1.0, fy), (0.8249, fy - b / 200))]  # fmt: skip
            to_rgb = np.array(
                [
                    [3.1338561, -1.6168667, -0.4906146],
                    [-0.9787684, 1.9161415, 0.0334540],
                    [0.0719453, -0.2289914, 1.4052427],
                ]
            )
            linear = np.clip(to_rgb @ xyz, 0, 1)
            want = np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)
            with self.subTest(ink=ink):
                self.assertLess(np.abs(got - want).max(), 0.02)

    def test_cmyk_without_a_profile_and_other_modes(self):
        white = open_upright(stored(Image.new("CMYK", (4, 4), (0, 0, 0, 0)), "JPEG"), "a")
        self.assertGreater(np.asarray(white).min(), 250)
        grey16 = Image.fromarray(np.full((4, 4), 40000, np.uint16))
        self.assertAlmostEqual(int(np.asarray(open_upright(stored(grey16, "PNG"), "a"))[0, 0, 0]), 155, delta=2)
        for mode in ("L", "1", "P", "LA", "RGBA"):
            with self.subTest(mode=mode):
                image = open_upright(stored(Image.new(mode, (4, 4)), "PNG"), "a")
                self.assertEqual(image.mode, "RGBA" if "A" in mode else "RGB")

    def test_transparency_is_kept(self):
        file = stored(Image.new("RGBA", (4, 4), (10, 20, 30, 128)), "PNG")
        self.assertTrue(inspect(file, "a", 9).has_alpha)
        file.seek(0)
        self.assertEqual(open_upright(file, "a").getpixel((0, 0)), (10, 20, 30, 128))


class Refused(unittest.TestCase):
    def test_raw_files_say_what_to_do_also_those_that_are_tiffs(self):
        tiff = stored(corners(), "TIFF")
        for name in ("a.NEF", "b.dng", "c.cr3"):
            with self.assertRaisesRegex(PictureError, "raw file.*Develop it first"):
                inspect(tiff, name, 10)

    def test_what_is_no_picture_says_where_it_belongs(self):
        for name, way in (("a.TTF", "Choose Lettering"), ("plan.pdf", "Save it as SVG"), ("a.txt", "Use a JPEG")):
            with self.assertRaises(PictureError) as caught:
                inspect(io.BytesIO(b"%PDF-1.7 or else" * 99), name, 1584)
            self.assertIn(name, str(caught.exception))
            self.assertIn(way, caught.exception.remedy)
        # what is a picture comes in by whatever name
        self.assertEqual(inspect(stored(corners(), "PNG"), "a.ttf", 99).format, "PNG")

    def check(self, data: bytes, word: str, size: int | None = None):
        with self.assertRaises(PictureError) as caught:
            info = inspect(io.BytesIO(data), "my.jpg", len(data) if size is None else size)
            preview(io.BytesIO(data), "my.jpg", info)
        self.assertIn(word, caught.exception.message)
        self.assertIn("my.jpg", caught.exception.message)
        self.assertTrue(caught.exception.remedy)

    def test_what_cannot_be_read_says_why(self):
        jpeg = stored(Image.effect_noise((400, 300), 90), "JPEG").getvalue()
        png = stored(Image.effect_noise((400, 300), 90), "PNG").getvalue()
        self.check(b"", "empty")
        self.check(b"Dear sir or madam", "not a picture")
        self.check(b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not a picture")
        self.check(jpeg[: len(jpeg) // 2], "cut short")
        self.check(png[: len(png) // 2], "cut short")
        self.check(jpeg[:30], "")
        self.check(jpeg, "MB", size=100_000_001)

    def test_too_many_megapixels(self):
        tiff = stored(Image.new("1", (20_000, 10_001)), "TIFF", compression="group4").getvalue()
        self.check(tiff, "megapixels")


class Plain(unittest.TestCase):
    """GIF and BMP, and files with several pictures."""

    def test_gif_and_bmp_are_seen_as_they_are(self):
        for kind, mode in (("BMP", "RGB"), ("BMP", "L"), ("BMP", "P"), ("GIF", "P")):
            with self.subTest(kind, mode=mode):
                image = corners().convert(mode)
                file = stored(image, kind)
                info = inspect(file, "a.gif", 10)
                self.assertEqual((info.format, info.width, info.height), (kind, 40, 20))
                file.seek(0)
                seen = np.asarray(open_upright(file, "a.gif").convert("RGB")).astype(int)
                self.assertLessEqual(np.abs(seen - np.asarray(image.convert("RGB"))).max(), 1)

    def test_a_gif_without_a_ground_is_transparent_there(self):
        image = Image.new("P", (10, 10), 1)
        image.putpalette([255, 0, 0, 0, 255, 0])
        image.paste(0, (0, 0, 5, 10))
        file = stored(image, "GIF", transparency=0)
        self.assertTrue(inspect(file, "a.gif", 10).has_alpha)
        file.seek(0)
        alpha = np.asarray(open_upright(file, "a.gif").convert("RGBA"))[..., 3]
        self.assertEqual((alpha[:, :5].max(), alpha[:, 5:].min()), (0, 255))

    def test_of_several_the_first_is_taken_and_it_is_known(self):
        first, second = corners(), Image.new("RGB", (40, 20))
        for kind in ("GIF", "TIFF", "PNG", "WEBP"):
            with self.subTest(kind):
                many = stored(first, kind, save_all=True, append_images=[second])
                self.assertTrue(has_several(many))
                self.assertFalse(has_several(stored(first, kind)))
                many.seek(0)
                self.assertGreater(np.asarray(open_upright(many, "a").convert("L")).max(), 200)


class Previews(unittest.TestCase):
    def test_longest_side_is_2048(self):
        data = stored(Image.new("RGB", (5000, 3000), "navy"), "JPEG")
        info = inspect(data, "a", 9)
        data.seek(0)
        small = Image.open(io.BytesIO(preview(data, "a", info)[0]))
        self.assertEqual((small.format, small.size), ("JPEG", (2048, 1229)))
        tiny = stored(Image.new("RGBA", (50, 30)), "PNG")
        info = inspect(tiny, "a", 9)
        tiny.seek(0)
        small = Image.open(io.BytesIO(preview(tiny, "a", info)[0]))
        self.assertEqual((small.format, small.size, small.mode), ("WEBP", (50, 30), "RGBA"))


class Signalled(unittest.TestCase):
    """Colours signalled by numbers (ITU-T H.273), compared with CSS Color 4."""

    def png_with(self, image: Image.Image, *told: int) -> io.BytesIO:
        """Return a PNG with a cICP chunk behind its head."""
        data = stored(image, "PNG").getvalue()
        chunk = b"cICP" + bytes(told)
        made = len(told).to_bytes(4) + chunk + zlib.crc32(chunk).to_bytes(4)
        return io.BytesIO(data[:33] + made + data[33:])

    def near(self, one: Image.Image, other: Image.Image, most: int):
        off = np.abs(np.asarray(one.convert("RGB")).astype(int) - np.asarray(other.convert("RGB")))
        self.assertLessEqual(off.max(), most)

    def test_png_of_display_p3(self):
        image = Image.new("RGB", (8, 8), (200, 120, 60))
        told = open_upright(self.png_with(image, 12, 13, 0, 1), "p3")
        # CSS Color 4: color(display-p3 0.784 0.471 0.235) in sRGB
        want = read_css(f"color(display-p3 {200 / 255} {120 / 255} {60 / 255})")[0]
        self.near(told, Image.new("RGB", (8, 8), want), 2)
        self.near(open_upright(self.png_with(image, 1, 13, 0, 1), "srgb"), image, 0)
        # what no screen shows by itself stays as it is stored
        self.near(open_upright(self.png_with(image, 9, 16, 0, 1), "pq"), image, 0)
        # numbers go before a profile
        with_profile = stored(image, "PNG", icc_profile=rgb_profile("other", DISPLAY_P3, 1.0)).getvalue()
        chunk = b"cICP" + bytes((1, 13, 0, 1))
        both = with_profile[:33] + (4).to_bytes(4) + chunk + zlib.crc32(chunk).to_bytes(4) + with_profile[33:]
        self.assertIsNotNone(open_upright(io.BytesIO(both), "both"))

    def test_avif_and_heic_by_their_box(self):
        image = Image.new("RGB", (64, 64), (200, 120, 60))
        for kind in ("AVIF", "HEIF"):
            with self.subTest(kind):
                data = stored(image, kind, quality=100, subsampling="4:4:4").getvalue()
                at = data.find(b"colrnclx")
                self.assertGreater(at, 0)
                p3 = data[: at + 8] + (12).to_bytes(2) + (13).to_bytes(2) + data[at + 12 :]
                plain = open_upright(io.BytesIO(data), "plain")
                told = open_upright(io.BytesIO(p3), "told")
                r, g, b = np.asarray(plain.convert("RGB"))[32, 32] / 255
                want = read_css(f"color(display-p3 {r} {g} {b})")[0]
                self.near(told, Image.new("RGB", (64, 64), want), 2)

    def test_ten_bits_of_heic_and_avif(self):
        ramp = np.zeros((64, 96, 3), np.uint16)
        ramp[..., 0], ramp[..., 1], ramp[..., 2] = np.linspace(0, 1023, 96), np.linspace(0, 1023, 64)[:, None], 300
        deep = pyvips.Image.new_from_array(ramp * 64).copy(interpretation="rgb16")
        avif = deep.heifsave_buffer(compression="av1", bitdepth=10, lossless=True)
        heic = io.BytesIO()
        with patch.object(pillow_heif.options, "SAVE_HDR_TO_12_BIT", False):
            pillow_heif.from_bytes("RGB;16", (96, 64), (ramp * 64).tobytes()).save(heic, quality=-1, chroma=444)
        for name, data in (("avif", avif), ("heic", heic.getvalue())):
            with self.subTest(name):
                got = np.asarray(open_upright(io.BytesIO(data), name).convert("RGB")).astype(float)
                self.assertLess(np.abs(got - ramp * (255 / 1023)).max(), 4)


class EndMark(unittest.TestCase):
    def test_a_jpeg_that_lacks_nothing_else_is_given_one(self):
        whole = stored(corners(), "JPEG", exif=b"Exif\0\0" + bytes(20)).getvalue()
        self.assertEqual(whole[-2:], b"\xff\xd9")
        with tempfile.TemporaryDirectory() as folder:
            for name, data, given in (
                ("bare", whole[:-2], True),
                ("whole", whole, False),
                ("more behind it", whole + b"\0" * 50, False),
                ("no jpeg", b"\x89PNG", False),
            ):
                with self.subTest(name):
                    path = Path(folder) / "photo"
                    path.write_bytes(data)
                    completed(path)
                    with path.open("rb") as file:
                        self.assertEqual(was_completed(file), given)
                    if given:
                        info = inspect(path, name, path.stat().st_size)
                        self.assertTrue(preview(path, name, info))
                        self.assertEqual(
                            open_upright(path, name).tobytes(), open_upright(io.BytesIO(whole), name).tobytes()
                        )
                    else:
                        self.assertEqual(path.read_bytes(), data)

    def test_one_that_lacks_rows_is_still_cut_short(self):
        noise = Image.fromarray((np.random.default_rng(1).random((200, 200, 3)) * 255).astype(np.uint8))
        data = stored(noise, "JPEG").getvalue()
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "photo"
            path.write_bytes(data[: len(data) // 2])
            completed(path)
            with self.assertRaisesRegex(PictureError, "cut short"):
                preview(path, "half", inspect(path, "half", path.stat().st_size))
