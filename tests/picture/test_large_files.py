"""AVIF in tiles and WebP in chunks, read by others: libavif, libheif and libwebp see what was written."""

import io
import struct
import unittest

import numpy as np
import pyvips
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra import numpy as shapes
from PIL import Image

from picture.write import avif, vp8l
from picture.write.avif import gridded
from picture.write.encoding import srgb
from picture.write.webp import chunked


def soft(width: int, height: int, seed: int = 1) -> np.ndarray:
    """Return smooth pixels with an alpha that goes from none to all."""
    grain = np.random.default_rng(seed).integers(0, 255, (9, 12, 4), dtype=np.uint8)
    return np.asarray(Image.fromarray(grain, "RGBA").resize((width, height), Image.Resampling.BICUBIC)).copy()


def opened(data: bytes) -> Image.Image:
    return Image.open(io.BytesIO(data))


def apart(a: np.ndarray, b: np.ndarray) -> float:
    """Return the mean difference of colours where they can be seen, and of alpha, the greater of both."""
    a, b = a.astype(int), b.astype(int)
    seen = b[..., 3] > 128
    return max(float(np.abs(a - b)[seen][:, :3].mean()), float(np.abs(a - b)[..., 3].mean()))


class Tiles(unittest.TestCase):
    def written(self, pixels: np.ndarray, opaque: bool, chroma: str = "4:2:0", quality: int = 85) -> bytes:
        return gridded(pixels, opaque, srgb(), quality, chroma, 8)

    def test_two_readers_see_the_picture(self):
        for width, height in ((1700, 3100), (1701, 1601), (1600, 1537), (4000, 700)):
            pixels = soft(width, height)
            for opaque in (True, False):
                with self.subTest(width=width, height=height, opaque=opaque):
                    if opaque:
                        pixels[..., 3] = 255
                    else:
                        pixels = soft(width, height)
                    data = self.written(pixels, opaque)
                    image = opened(data)
                    self.assertEqual((image.size, image.mode), ((width, height), "RGB" if opaque else "RGBA"))
                    self.assertEqual(image.info["icc_profile"], srgb())
                    self.assertLess(apart(np.asarray(image.convert("RGBA")), pixels), 2)
                    other = pyvips.Image.heifload_buffer(data)
                    self.assertEqual((other.width, other.height, other.bands), (width, height, 3 if opaque else 4))
                    seen = other.numpy() if not opaque else np.dstack([other.numpy(), pixels[..., 3]])
                    self.assertLess(apart(seen, pixels), 2.5)

    def test_it_is_as_good_as_one_image_and_about_as_small(self):
        pixels = soft(3200, 1600)
        pixels[..., 3] = 255
        out = io.BytesIO()
        Image.fromarray(pixels[..., :3]).save(out, "AVIF", quality=85, speed=8, icc_profile=srgb())
        one = np.asarray(opened(out.getvalue()).convert("RGBA"))
        data = self.written(pixels, True)
        tiles = np.asarray(opened(data).convert("RGBA"))
        self.assertLess(apart(tiles, pixels), 1.1 * apart(one, pixels) + 0.05)
        self.assertLess(len(data), 1.1 * len(out.getvalue()))
        # no line where two tiles meet: what differs there is no more than elsewhere
        at = avif._sides(3200)[1]
        step = np.abs(np.diff(tiles[..., :3].astype(int), axis=1)).mean(axis=(0, 2))
        self.assertLess(step[at - 1], 1.5 * np.median(step) + 0.5)

    def test_full_chroma(self):
        red, blue = (200, 20, 20, 255), (20, 20, 200, 255)
        pixels = np.zeros((1600, 2000, 4), np.uint8)
        pixels[:, ::2], pixels[:, 1::2] = red, blue
        half, full = (opened(self.written(pixels, True, c, 95)).convert("RGBA") for c in ("4:2:0", "4:4:4"))
        self.assertGreater(apart(np.asarray(half), pixels), 5 * apart(np.asarray(full), pixels))


class Chunks(unittest.TestCase):
    def written(self, pixels: np.ndarray, lossless: bool) -> bytes:
        opaque = bool((pixels[..., 3] == 255).all())
        return chunked(pixels.copy(), opaque, srgb(), 85, lossless)

    def test_without_losses_every_pixel_is_what_it_was(self):
        for width, height in ((1, 1), (33, 65), (700, 500), (5000, 3), (3, 5000)):
            for pixels in (soft(width, height), np.full((height, width, 4), 255, np.uint8)):
                with self.subTest(width=width, height=height, opaque=bool(pixels.min() == 255)):
                    image = opened(self.written(pixels, True))
                    self.assertEqual(image.mode, "RGB" if pixels.min() == 255 else "RGBA")
                    self.assertTrue(np.array_equal(np.asarray(image.convert("RGBA")), pixels))
                    self.assertEqual(image.info["icc_profile"], srgb())

    @given(
        shapes.arrays(
            np.uint8,
            st.tuples(st.integers(1, 70), st.integers(1, 70), st.just(4)),
            elements=st.sampled_from([0, 1, 2, 127, 254, 255]),
        )
    )
    @settings(max_examples=150, deadline=None, database=None)
    def test_any_pixels(self, pixels):
        self.assertTrue(np.array_equal(np.asarray(opened(self.written(pixels, True)).convert("RGBA")), pixels))
        lossy = np.asarray(opened(self.written(pixels, False)).convert("RGBA"))
        self.assertTrue(np.array_equal(lossy[..., 3], pixels[..., 3]))

    def test_long_runs_and_rare_values(self):
        # counts like Fibonacci's numbers make a code as deep as there are symbols
        counts, value = [1, 1], 0
        while sum(counts) < 90_000:
            counts.append(counts[-1] + counts[-2])
        flat = np.concatenate([np.full(n, k + 1, np.uint8) for k, n in enumerate(counts)])
        np.random.default_rng(1).shuffle(flat)
        pixels = np.full((300, len(flat) // 300, 4), 255, np.uint8)
        pixels[..., 3] = flat[: pixels.shape[0] * pixels.shape[1]].reshape(pixels.shape[:2])
        pixels = np.concatenate([pixels, np.full((200, *pixels.shape[1:]), value, np.uint8)])
        for lossless in (True, False):
            seen = np.asarray(opened(self.written(pixels, lossless)).convert("RGBA"))
            self.assertTrue(np.array_equal(seen[..., 3], pixels[..., 3]))
        depths = vp8l._depths(np.array(counts))
        # Huffman's own would be one less than the symbols deep; the format has room for 15
        self.assertGreater(len(counts), 20)
        self.assertLessEqual(depths.max(), 15)
        # Kraft's sum of a full code is 1
        self.assertEqual(sum(2.0 ** -int(d) for d in depths), 1)

    def test_with_losses_it_looks_as_what_libwebp_writes(self):
        for opaque in (False, True):
            pixels = soft(900, 700)
            if opaque:
                pixels[..., 3] = 255
            else:
                # a hole, the edge of which must not become dark
                pixels[200:400, 201:403] = 0
            out = io.BytesIO()
            whole = Image.fromarray(pixels if not opaque else np.ascontiguousarray(pixels[..., :3]))
            whole.save(out, "WEBP", quality=85, method=4, exact=True)
            data = self.written(pixels, False)
            ours, theirs = (np.asarray(opened(d).convert("RGBA")) for d in (data, out.getvalue()))
            self.assertLess(apart(ours, pixels), 1.05 * apart(theirs, pixels) + 0.05)
            edge = np.s_[195:200, 196:410]
            self.assertLess(apart(ours[edge], pixels[edge]), 1.1 * apart(theirs[edge], pixels[edge]) + 0.2)
            self.assertLess(len(data), 1.3 * len(out.getvalue()))
            other = pyvips.Image.webpload_buffer(data).numpy()
            self.assertTrue(np.array_equal(other[..., :3], ours[..., :3]))

    def test_the_chunks_stand_as_the_format_has_them(self):
        data = self.written(soft(50, 41), False)
        self.assertEqual(struct.unpack("<4sI4s", data[:12]), (b"RIFF", len(data) - 8, b"WEBP"))
        kinds, at = [], 12
        while at < len(data):
            kind, size = struct.unpack_from("<4sI", data, at)
            kinds.append(kind)
            at += 8 + size + size % 2
        self.assertEqual((at, kinds), (len(data), [b"VP8X", b"ICCP", b"ALPH", b"VP8 "]))
