"""Pixels that are too many for the memory lie in a file, and are the same."""

import errno
import io
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from PIL import Image

from picture import vast
from picture.encoding import deliver_jpeg, deliver_png, deliver_tiff
from sheet.delivery import Order, ordered
from tests.sheet.helpers import Table


def resident() -> int:
    """Return the bytes of this process that are in the memory, files that it maps among them."""
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith("VmRSS")) * 1024


class Vast(unittest.TestCase):
    def test_what_is_let_go_of_comes_back(self):
        with mock.patch.object(vast, "LARGE", 1_000_000):
            pixels = vast.zeros((2000, 5000, 4))
        self.assertFalse(pixels.any())
        pixels[:] = 7
        pixels[1234, 4321] = 9
        before = resident()
        vast.let_go(pixels)
        self.assertLess(resident(), before - 30_000_000)
        self.assertEqual((pixels[1234, 4321].tolist(), int(pixels[0, 0, 0])), ([9] * 4, 7))

    def test_small_ones_are_in_the_memory(self):
        pixels = vast.zeros((10, 10, 4))
        vast.let_go(pixels)
        with vast.letting_go(pixels):
            self.assertIsNone(pixels.base)

    def test_a_disk_without_room_is_told_before_anything_is_written(self):
        full = OSError(errno.ENOSPC, "No space left on device")
        with (
            mock.patch.object(vast, "LARGE", 1),
            mock.patch("os.posix_fallocate", side_effect=full),
            self.assertRaises(OSError),
        ):
            vast.zeros((10, 10, 4))

    def test_files_of_them_are_the_same(self):
        table = Table("1200", "900", "px", "300")
        frame = table.ellipse(0, 0, 1200, 900)
        table.do("put_in", ids=[frame, table.photo(1200, 900)])
        grain = Image.fromarray(np.random.default_rng(1).integers(0, 255, (90, 120, 3), dtype=np.uint8))
        photo = grain.resize((1200, 900), Image.Resampling.BICUBIC)
        order = Order(what=frame)
        (what,) = ordered(table.sheet, order)
        for write in (deliver_png, deliver_tiff, deliver_jpeg):
            with self.subTest(write.__name__):
                plain = write(table.sheet, what, lambda p, share: photo, order)
                with mock.patch.object(vast, "LARGE", 1), mock.patch("picture.encoding.LARGE", 1):
                    vast_ = write(table.sheet, what, lambda p, share: photo, order)
                # a JPEG of that size has the tables of the standard, and the same pixels
                a, b = (np.asarray(Image.open(io.BytesIO(d))) for d in (plain, vast_))
                self.assertTrue(np.array_equal(a, b))
                self.assertEqual(plain == vast_, write is not deliver_jpeg)

    def test_a_jpeg_of_nothing_but_noise(self):
        # more than a byte for each px, which is all the room that Pillow makes for tables of its own
        table = Table("1200", "900", "px", "300")
        frame = table.rectangle(0, 0, 1200, 900)
        table.do("put_in", ids=[frame, table.photo(1200, 900)])
        noise = Image.fromarray(np.random.default_rng(1).integers(0, 255, (900, 1200, 3), dtype=np.uint8))
        order = Order(what=frame, quality="94")
        (what,) = ordered(table.sheet, order)
        data = deliver_jpeg(table.sheet, what, lambda p, share: noise, order)
        self.assertGreater(len(data), 1200 * 900)
        self.assertEqual(Image.open(io.BytesIO(data)).size, (1200, 900))
