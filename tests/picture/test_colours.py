"""What colour lies at a place of the sheet, and the few colours of a photo."""

import unittest

import numpy as np
from PIL import Image

from picture.draw.colours import mean_of, sample, swatches_of
from sheet.reading.colours import rgb_of, to_oklab
from tests.sheet.helpers import Table


def checks(photo, at_least: float) -> Image.Image:
    """Return a photo whose px at (x, y) is (x, y, 7), for knowing which was looked at."""
    x, y = np.meshgrid(np.arange(photo.width), np.arange(photo.height))
    return Image.fromarray(np.stack([x, y, np.full_like(x, 7)], axis=-1).astype(np.uint8), "RGB")


class Sampling(unittest.TestCase):
    def setUp(self):
        self.t = Table()
        self.a = self.t.rectangle(100, 100, 200, 100)
        self.t.do("paint", ids=[self.a], field="fill", value="#0a5a78")

    def color(self, x, y, size=1):
        return sample(self.t.sheet, x, y, size, checks).color

    def test_of_a_piece_its_border_the_backdrop_and_nothing(self):
        self.assertEqual(self.color(150.5, 150.5), "#0a5a78")
        self.assertIsNone(self.color(500, 500))
        self.t.do("backdrop", value="#fff000")
        self.assertEqual(self.color(500, 500), "#fff000")
        self.t.do("paint", ids=[self.a], field="stroke", value="#b5432a")
        self.t.do("paint", ids=[self.a], field="stroke_width", value="10")
        self.t.do("paint", ids=[self.a], field="place", value="outside")
        self.assertEqual(self.color(95.5, 150.5), "#b5432a")

    def test_averaged_over_a_square(self):
        # half of the square's 15 columns and one more lie on the piece, the rest on the backdrop
        self.t.do("backdrop", value="#000000")
        self.assertEqual(self.color(99.5, 150.5, 15), "#{:02x}{:02x}{:02x}".format(
            *(round(v * 7 / 15) for v in (0x0A, 0x5A, 0x78))))  # fmt: skip
        # where nothing is, it does not count
        self.t.do("backdrop", value="none")
        self.assertEqual(self.color(99.5, 150.5, 15), "#0a5a78")

    def test_the_originals_px_where_they_are_finer(self):
        # 200 × 100 px of a photo within 50 × 25 of the sheet: four of its px for each
        photo = self.t.photo(200, 100, 500, 500)
        self.t.do("measure", ids=[photo], field="width", value="50", about=(0.5, 0.5))
        x0, y0 = self.t.item(photo).placing(0, 0)
        for px, py in ((0, 0), (37, 12), (121, 88)):
            self.assertEqual(self.color(x0 + (px + 0.5) / 4, y0 + (py + 0.5) / 4), f"#{px:02x}{py:02x}07")

    def test_in_a_frame_only_where_the_outline_shows_it(self):
        photo = self.t.photo(200, 100, 200, 150)
        self.t.do("put_in", ids=[photo, self.a])
        self.assertEqual(self.color(150.5, 140.5), "#322807")
        self.assertIsNone(self.color(150.5, 300))

    def test_the_px_about_it(self):
        found = sample(self.t.sheet, 100.5, 150.5, 1, checks).pixels
        self.assertEqual(found.shape, (17, 17, 4))
        self.assertEqual(found[8, 8].tolist(), [0x0A, 0x5A, 0x78, 255])
        self.assertEqual(found[8, 7, 3], 0)


class Swatches(unittest.TestCase):
    def test_a_picture_of_few_colours_gives_these_the_largest_first(self):
        image = Image.new("RGB", (90, 90), "#0a5a78")
        image.paste("#e0a030", (0, 0, 90, 30))
        image.paste("#b5432a", (0, 0, 30, 30))
        self.assertEqual(swatches_of(image), ["#0a5a78", "#e0a030", "#b5432a"])

    def test_six_of_a_photo_lie_near_its_px_and_apart_from_one_another(self):
        x, y = np.meshgrid(np.linspace(0, 1, 300), np.linspace(0, 1, 200))
        pixels = np.stack([255 * x, 120 + 80 * y, 255 * (1 - x) * y], axis=-1).astype(np.uint8)
        found = swatches_of(Image.fromarray(pixels, "RGB"))
        self.assertEqual(len(found), 6)
        lab = to_oklab(np.array([rgb_of(c) for c in found]))
        apart = np.linalg.norm(lab[:, None] - lab[None], axis=2) + np.eye(6)
        self.assertGreater(apart.min(), 0.05)
        far = ((to_oklab(pixels.reshape(-1, 3))[:, None] - lab[None]) ** 2).sum(axis=2).min(axis=1)
        self.assertLess(np.sqrt(far).max(), 0.25)
        self.assertEqual(found, swatches_of(Image.fromarray(pixels, "RGB")))

    def test_what_is_transparent_does_not_count(self):
        image = Image.new("RGBA", (40, 40), (255, 0, 0, 0))
        self.assertEqual((swatches_of(image), mean_of(image)), ([], None))
        image.paste((10, 90, 120, 255), (0, 0, 20, 40))
        self.assertEqual((swatches_of(image), mean_of(image)), (["#0a5a78"], "#0a5a78"))
