"""What an export takes in memory, by format, and that large photos are never decoded whole."""

import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import numpy as np
from PIL import Image

from picture.photos.decode import open_upright, preview
from picture.photos.probe import inspect

WIDTH, HEIGHT = 2800, 2100
ROOT = Path(__file__).resolve().parents[2]


class Memory(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        rng = np.random.default_rng(3)
        small = Image.fromarray((rng.random((80, 100, 3)) * 255).astype(np.uint8))
        photo = small.resize((WIDTH, HEIGHT), Image.Resampling.BICUBIC)
        photo.save(cls.folder / "photo.jpg", quality=90)
        photo.save(cls.folder / "photo.png", compress_level=1)
        photo.save(cls.folder / "photo.tif")

    def measured(self, key: str, size: str, kind: str) -> tuple[int, int]:
        command = [sys.executable, "-m", "tests.picture.memory", key, size, str(self.folder / f"photo.{kind}")]
        told = subprocess.run([*command, str(WIDTH), str(HEIGHT)], cwd=ROOT, capture_output=True, text=True, check=True)
        taken, raw = (int(v) for v in told.stdout.split())
        return taken, raw

    def test_at_the_photos_own_size(self):
        # libwebp and the AV1 encoder keep more than the picture; such work is done one at a time
        most = {"webp": 9.5, "webp-lossless": 9.5, "avif": 11}
        for key in ("png", "jpg", "tif", "pdf", "pdf-inks", "webp", "webp-lossless", "avif"):
            with self.subTest(key):
                taken, raw = self.measured(key, "300", "jpg")
                self.assertEqual(raw, 4 * WIDTH * HEIGHT)
                self.assertLessEqual(taken, most.get(key, 3) * raw + 4 * WIDTH * HEIGHT)

    def test_a_large_photo_for_a_small_file_is_never_decoded_whole(self):
        for kind in ("png", "tif"):
            with self.subTest(kind):
                taken, raw = self.measured("png", "30", kind)
                self.assertLess(taken, 0.75 * 4 * WIDTH * HEIGHT)
                self.assertLess(raw, 1e6)

    def test_what_is_streamed_is_what_is_decoded(self):
        whole = open_upright(self.folder / "photo.jpg", "photo")
        for kind in ("png", "tif"):
            small = open_upright(self.folder / f"photo.{kind}", "photo", 0.1)
            self.assertEqual(small.size, (WIDTH // 10, HEIGHT // 10))
            want = np.asarray(whole.resize(small.size, Image.Resampling.BOX)).astype(int)
            self.assertLess(np.abs(np.asarray(small).astype(int) - want).mean(), 2)

    def test_transparent_grey_sixteen_bits_turned(self):
        rng = np.random.default_rng(5)
        soft = Image.fromarray((rng.random((30, 40, 4)) * 255).astype(np.uint8), "RGBA").resize((2400, 1800))
        grey = soft.convert("L")
        grey16 = Image.fromarray(np.asarray(grey).astype(np.uint16) * 257)
        exif = Image.Exif()
        exif[0x0112] = 6
        few = soft.convert("RGB").quantize(64)
        cases = {"RGBA": soft, "LA": soft.convert("LA"), "L": grey, "P": few, "16": grey16}
        for name, image in cases.items():
            with self.subTest(name):
                path = self.folder / f"{name}.png"
                image.save(path, exif=exif, compress_level=1)
                small = open_upright(path, name, 0.25)
                self.assertEqual(small.size, (450, 600))
                whole = open_upright(path, name).resize(small.size, Image.Resampling.BOX)
                self.assertEqual(small.mode, whole.mode)
                # what is transparent has no colour
                mode = "RGBa" if small.mode == "RGBA" else small.mode
                a, b = (np.asarray(i.convert(mode)).astype(int) for i in (small, whole))
                self.assertLess(np.abs(a - b).mean(), 3)

    def test_one_that_is_cut_short_is_refused(self):
        path = self.folder / "cut.png"
        path.write_bytes((self.folder / "photo.png").read_bytes()[:1_500_000])
        info = inspect(path, "cut.png", 1_500_000)
        with self.assertRaisesRegex(Exception, "cut short or damaged"):
            preview(path, "cut.png", info)
