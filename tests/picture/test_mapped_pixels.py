"""Pixels too many for memory are in a mapped file, and are the same."""

import errno
import io
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image, ImageCms

from picture import FORMATS, mapped_pixels
from picture.errors import PictureError
from picture.photos.decode import open_upright
from picture.write.encoding import export_jpeg, export_png, export_tiff
from picture.write.estimate import estimated
from sheet.export.order import Order, ordered
from tests.sheet.helpers import Table


def resident() -> int:
    """Return the resident memory of this process (bytes), mapped files included."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith("VmRSS")) * 1024


class Vast(unittest.TestCase):
    def test_what_is_let_go_of_comes_back(self):
        with mock.patch.object(mapped_pixels, "MAPPED_FROM", 1_000_000):
            pixels = mapped_pixels.zeros((2000, 5000, 4))
        self.assertFalse(pixels.any())
        pixels[:] = 7
        pixels[1234, 4321] = 9
        before = resident()
        mapped_pixels.let_go(pixels)
        self.assertLess(resident(), before - 30_000_000)
        self.assertEqual((pixels[1234, 4321].tolist(), int(pixels[0, 0, 0])), ([9] * 4, 7))

    def test_small_ones_are_in_the_memory(self):
        pixels = mapped_pixels.zeros((10, 10, 4))
        mapped_pixels.let_go(pixels)
        with mapped_pixels.letting_go(pixels):
            self.assertIsNone(pixels.base)

    def test_a_disk_without_room_is_told_before_anything_is_written(self):
        full = OSError(errno.ENOSPC, "No space left on device")
        with (
            mock.patch.object(mapped_pixels, "MAPPED_FROM", 1),
            mock.patch("os.posix_fallocate", side_effect=full),
            self.assertRaises(OSError),
        ):
            mapped_pixels.zeros((10, 10, 4))

    def test_files_of_them_are_the_same(self):
        table = Table("1200", "900", "px", "300")
        frame = table.ellipse(0, 0, 1200, 900)
        table.do("put_in", ids=[frame, table.photo(1200, 900)])
        grain = Image.fromarray(np.random.default_rng(1).integers(0, 255, (90, 120, 3), dtype=np.uint8))
        photo = grain.resize((1200, 900), Image.Resampling.BICUBIC)
        order = Order(what=frame)
        (what,) = ordered(table.sheet, order)
        for write in (export_png, export_tiff, export_jpeg):
            with self.subTest(write.__name__):
                plain = write(table.sheet, what, lambda p, share: photo, order)
                with (
                    mock.patch.object(mapped_pixels, "MAPPED_FROM", 1),
                    mock.patch("picture.write.encoding.MAPPED_FROM", 1),
                ):
                    vast_ = write(table.sheet, what, lambda p, share: photo, order)
                # written by another library: the same pixels, profile and px per inch
                one, two = (Image.open(io.BytesIO(d)) for d in (plain, vast_))
                self.assertEqual((one.mode, one.size, one.format), (two.mode, two.size, two.format))
                self.assertTrue(np.array_equal(np.asarray(one), np.asarray(two)))
                self.assertEqual(one.info["icc_profile"], two.info["icc_profile"])
                for a, b in zip(one.info["dpi"], two.info["dpi"], strict=True):
                    self.assertAlmostEqual(float(a), float(b), delta=0.01)
                self.assertLess(len(vast_), 1.15 * len(plain))

    def test_a_photo_is_laid_into_a_file_as_it_would_be_decoded(self):
        grain = np.random.default_rng(2).integers(0, 255, (60, 80, 4), dtype=np.uint8)
        soft = Image.fromarray(grain, "RGBA").resize((400, 300), Image.Resampling.BICUBIC)
        plain, exif = soft.convert("RGB"), Image.Exif()
        wide = ImageCms.ImageCmsProfile(ImageCms.createProfile("LAB")).tobytes()
        cases = [(kind, image, {}) for kind in ("PNG", "TIFF") for image in (soft, soft.convert("LA"), plain)]
        cases += [
            ("JPEG", plain, {"quality": 90}),
            ("JPEG", plain, {"progressive": True}),
            ("PNG", plain.quantize(40), {}),
        ]
        cases += [
            ("JPEG", plain.convert("L"), {}),
            ("PNG", plain, {"icc_profile": wide}),
            ("PNG", plain.convert("1"), {}),
        ]
        cases += [("JPEG", plain, {"subsampling": 2, "orientation": k}) for k in range(1, 9)]
        for kind, image, options in cases:
            with self.subTest(kind=kind, mode=image.mode, **options), tempfile.TemporaryDirectory() as folder:
                exif[0x0112] = options.pop("orientation", 1)
                file = Path(folder) / "photo"
                image.save(file, kind, exif=exif, **options)
                whole = open_upright(file, "photo")
                with (
                    mock.patch.object(mapped_pixels, "MAPPED_FROM", 100_000),
                    mock.patch("picture.photos.decode.STRIP", 30_000),
                ):
                    laid = open_upright(file, "photo")
                    for source in (file, io.BytesIO(file.read_bytes())):
                        again = open_upright(source, "photo", unconverted=True)
                        self.assertIsNotNone(mapped_pixels.pixels_of(again))
                self.assertIsNotNone(mapped_pixels.pixels_of(laid))
                self.assertIsNone(mapped_pixels.pixels_of(whole))
                self.assertEqual(laid.info["opaque"], whole.mode == "RGB")
                self.assertTrue(np.array_equal(np.asarray(laid), np.asarray(whole.convert("RGBA"))))

    def test_one_that_is_cut_short_or_of_another_kind_is_left_to_those_who_say_so(self):
        grain = np.random.default_rng(2).integers(0, 255, (300, 400, 3), dtype=np.uint8)
        with tempfile.TemporaryDirectory() as folder, mock.patch.object(mapped_pixels, "MAPPED_FROM", 100_000):
            file = Path(folder) / "photo"
            for kind in ("JPEG", "PNG", "TIFF"):
                Image.fromarray(grain).save(file, kind)
                file.write_bytes(file.read_bytes()[: file.stat().st_size // 2])
                with self.subTest(kind), self.assertRaisesRegex(PictureError, "cut short or damaged"):
                    open_upright(file, "photo")
            Image.new("CMYK", (400, 300), (0, 99, 0, 0)).save(file, "JPEG")
            self.assertIsNone(mapped_pixels.pixels_of(open_upright(file, "photo")))

    def test_vast_photos_in_frames_are_drawn_as_others(self):
        table = Table("1200", "900", "px", "300")
        one, two = table.ellipse(0, 0, 700, 900), table.ellipse(500, 0, 700, 900)
        for frame in (one, two):
            table.do("put_in", ids=[frame, table.photo(1200, 900)])
        grain = np.random.default_rng(4).integers(0, 255, (90, 120, 3), dtype=np.uint8)
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "photo.png"
            Image.fromarray(grain).resize((1200, 900)).save(file)
            for size, most in (("300", 0), ("200", 1.0), ("100", 0)):
                # what lies in a file comes at the very size that is drawn, by Lanczos' filter
                order = Order(size=size)
                (what,) = ordered(table.sheet, order)
                load = lambda p, share: open_upright(file, "photo", share)  # noqa: E731
                plain = export_png(table.sheet, what, load, order)
                with (
                    mock.patch.object(mapped_pixels, "MAPPED_FROM", 100_000),
                    mock.patch("picture.write.encoding.MAPPED_FROM", 100_000),
                ):
                    laid = export_png(table.sheet, what, load, order)
                a, b = (np.asarray(Image.open(io.BytesIO(d))) for d in (plain, laid))
                with self.subTest(size):
                    self.assertTrue(np.array_equal(a[..., 3], b[..., 3]))
                    self.assertLessEqual(np.abs(a.astype(int) - b).mean(), most)
                    self.assertGreater(a[..., :3].std(), 20)

    def test_in_a_drawing_an_opaque_one_is_a_jpeg_as_others_are(self):
        table = Table("1200", "900", "px", "300")
        table.do("put_in", ids=[table.ellipse(0, 0, 1200, 900), table.photo(1200, 900)])
        grain = np.random.default_rng(4).integers(0, 255, (90, 120, 3), dtype=np.uint8)
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "photo.jpg"
            Image.fromarray(grain).resize((1200, 900)).save(file, quality=95)
            load = lambda p, share: open_upright(file, "photo", share)  # noqa: E731
            for key in ("svg", "pdf"):
                order = Order(format=key)
                (what,) = ordered(table.sheet, order)
                told = []
                for large in (mapped_pixels.MAPPED_FROM, 100_000):
                    with mock.patch.object(mapped_pixels, "MAPPED_FROM", large):
                        told.append(
                            (
                                FORMATS[key].write(table.sheet, what, load, order),
                                estimated(table.sheet, [what], load, order),
                            )
                        )
                (plain, guess), (laid, other) = told
                with self.subTest(key):
                    self.assertEqual(len(plain), len(laid))
                    self.assertAlmostEqual(other / guess, 1, delta=0.05)

    def test_a_jpeg_of_nothing_but_noise(self):
        # more than a byte for each px, which is all the room that Pillow makes for tables of its own
        table = Table("1200", "900", "px", "300")
        frame = table.rectangle(0, 0, 1200, 900)
        table.do("put_in", ids=[frame, table.photo(1200, 900)])
        noise = Image.fromarray(np.random.default_rng(1).integers(0, 255, (900, 1200, 3), dtype=np.uint8))
        order = Order(what=frame, quality="94")
        (what,) = ordered(table.sheet, order)
        data = export_jpeg(table.sheet, what, lambda p, share: noise, order)
        self.assertGreater(len(data), 1200 * 900)
        self.assertEqual(Image.open(io.BytesIO(data)).size, (1200, 900))
