"""Silhouettes compared with known shapes: drawn ones, open masks, and a subject with its mask."""

import io
import unittest

import numpy as np
import skia
from PIL import Image
from skimage import data, measure

import outline
from outline import Path
from picture.draw.silhouette import trace
from picture.draw.skiapath import to_skia
from picture.errors import PictureError
from sheet.document.kinds import BrushMark, Tracing
from studio.demo.scenes import make, skerry_subject


def drawn(path: Path, width: int, height: int) -> np.ndarray:
    """Return how much of each px a path covers, 0 to 1, by Skia."""
    surface = skia.Surface(width, height)
    surface.getCanvas().drawPath(to_skia(path), skia.Paint(AntiAlias=True))
    return surface.makeImageSnapshot().toarray()[..., 3] / 255


def picture(cover: np.ndarray) -> Image.Image:
    """Return black on white."""
    return Image.fromarray(((1 - cover) * 255 + 0.5).astype(np.uint8)).convert("RGB")


def traced(image: Image.Image, **how) -> Path:
    """Return the silhouette of a picture, read as a file would be."""

    def read(side: int) -> Image.Image:
        share = side / max(image.size)
        if share >= 1:
            return image
        return image.resize((round(image.width * share), round(image.height * share)), Image.Resampling.BOX)

    quick = how.pop("quick", False)
    return trace(read, image.size, Tracing(**{"deviation": 0.5, **how}), quick=quick)


def overlap(path: Path, mask: np.ndarray) -> float:
    """Return the share that a path and a mask have in common (Jaccard), px by their middles."""
    inside = drawn(path, mask.shape[1], mask.shape[0]) > 0.5
    return np.logical_and(inside, mask).sum() / np.logical_or(inside, mask).sum()


def parts(path: Path) -> int:
    return len(list(path.subpaths))


RING = outline.subtract(outline.ellipse(200, 200), [outline.ellipse(120, 120)])
SHAPES = {
    "disc": outline.ellipse(200, 200, 250, 250),
    "small disc": outline.ellipse(30, 30),
    "ring": RING,
    "star": outline.star(5, 200, 90),
    "word": outline.union([outline.lettering("Marram", "abril-fatface", 180.0).path]),
}


class Drawn(unittest.TestCase):
    def placed(self, path: Path) -> tuple[Path, Image.Image]:
        """Return a shape that lies 20.3 px inside of its picture, and the picture."""
        x0, y0, x1, y1 = path.bounds
        path = path.transform((1, 0, 0, 1, 20.3 - x0, 20.3 - y0))
        return path, picture(drawn(path, int(x1 - x0) + 41, int(y1 - y0) + 41))

    def test_area_parts_and_deviation(self):
        for name, shape in SHAPES.items():
            path, image = self.placed(shape)
            for how in ({"way": "brightness", "level": 0.5}, {"way": "tone", "tolerance": 0.5, "touching": False}):
                with self.subTest(name, way=how["way"]):
                    if how["way"] == "tone":
                        how["at"] = outline.inner_point(path)
                    got = traced(image, **how)
                    # halfway between black and white is L* 53, not grey 128: up to a tenth of a px wider
                    slack = 0.0 if how["way"] == "brightness" else 0.15 * outline.length(path)
                    self.assertLess(abs(got.area - path.area), 0.005 * path.area + slack)
                    self.assertEqual(parts(got), parts(path))
                    # the bound itself adds 0.75 of its step; px are not finer than a quarter of one
                    self.assertLess(outline.deviation(got, path, 0.4), 0.5 + 0.3 + 0.25)
                    self.assertLess(got.node_count, 1.3 * path.node_count + 40)

    def test_a_larger_deviation_makes_fewer_nodes(self):
        _, image = self.placed(SHAPES["word"])
        counts = [traced(image, level=0.5, deviation=d).node_count for d in (0.15, 0.5, 1.5)]
        self.assertEqual(counts, sorted(counts, reverse=True))
        self.assertLess(counts[2], counts[0] / 2)

    def test_grown_shrunk_and_without_holes_by_the_ring_formula(self):
        _, image = self.placed(RING)
        for grow in (5, -5):
            got = traced(image, level=0.5, grow=grow)
            want = np.pi * ((200 + grow) ** 2 - (120 - grow) ** 2)
            self.assertAlmostEqual(got.area / want, 1, delta=0.005)
        self.assertAlmostEqual(traced(image, level=0.5, holes=False).area / (np.pi * 200**2), 1, delta=0.005)
        with self.assertRaisesRegex(PictureError, "Nothing is left"):
            traced(image, level=0.5, grow=-60)

    def test_smoothing_rounds_corners_and_keeps_the_area_of_what_is_round(self):
        star, image = self.placed(SHAPES["star"])
        smooth = traced(image, level=0.5, smooth=6)
        self.assertLess(outline.length(smooth), 0.97 * outline.length(star))
        disc, image = self.placed(SHAPES["disc"])
        self.assertAlmostEqual(traced(image, level=0.5, smooth=6).area / disc.area, 1, delta=0.005)

    def test_small_parts_and_holes_go(self):
        cover = drawn(SHAPES["disc"], 500, 500)
        cover[450:456, 450:456] = 1
        cover[200:206, 200:206] = 0
        self.assertEqual(parts(traced(picture(cover), level=0.5)), 3)
        self.assertEqual(parts(traced(picture(cover), level=0.5, smallest=8)), 1)
        self.assertEqual(parts(traced(picture(cover), level=0.5, smallest=5)), 3)

    def test_touching_or_everywhere(self):
        cover = np.zeros((300, 600))
        cover[50:250, 50:250] = 1
        cover[50:250, 350:550] = 1
        at = (100, 100)
        self.assertEqual(parts(traced(picture(cover), way="tone", at=at)), 1)
        self.assertEqual(parts(traced(picture(cover), way="tone", at=at, touching=False)), 2)
        # a stroke in the other one adds it
        there = BrushMark(((450, 150),), 10)
        self.assertEqual(parts(traced(picture(cover), way="tone", at=at, marks=(there,))), 2)
        # the ground about them, to the picture's very edge
        ground = traced(picture(cover), way="tone", at=(5, 5))
        for got, want in zip(ground.bounds, (0, 0, 600, 300), strict=True):
            self.assertAlmostEqual(got, want, 9)
        self.assertAlmostEqual(ground.area, 600 * 300 - 2 * 200 * 200, delta=800)

    def test_strokes_add_and_take_away_in_turn(self):
        cover = np.zeros((300, 400))
        cover[100:200, 100:200] = 1
        stroke = ((60, 150), (340, 150))
        more = traced(picture(cover), level=0.5, marks=(BrushMark(stroke, 20),))
        # the square and a band of 40 with round ends, less what they share
        want = 100 * 100 + 280 * 40 + np.pi * 20**2 - 100 * 40
        self.assertAlmostEqual(more.area / want, 1, delta=0.01)
        less = traced(picture(cover), level=0.5, marks=(BrushMark(stroke, 20), BrushMark(stroke, 20, adds=False)))
        self.assertAlmostEqual(less.area / (100 * 60), 1, delta=0.02)

    def test_what_is_transparent_is_outside(self):
        image = Image.new("RGBA", (200, 200), (0, 0, 0, 255))
        alpha = np.zeros((200, 200), np.uint8)
        alpha[40:160, 40:160] = 255
        image.putalpha(Image.fromarray(alpha))
        self.assertAlmostEqual(traced(image, level=0.5).area / 120**2, 1, delta=0.01)

    def test_a_brightness_found_by_itself(self):
        cover = drawn(SHAPES["disc"], 500, 500) * 0.4 + 0.3  # greys from 30 to 70 %
        got = traced(picture(cover))
        self.assertAlmostEqual(got.area / SHAPES["disc"].area, 1, delta=0.01)
        light = traced(picture(1 - cover), light=True)
        self.assertAlmostEqual(light.area / SHAPES["disc"].area, 1, delta=0.01)


class OpenMasks(unittest.TestCase):
    """The horse and the coins that scikit-image ships (public domain; the coins from the Brooklyn Museum)."""

    def test_the_horse(self):
        mask = ~data.horse()
        got = traced(picture(mask.astype(float)))
        self.assertGreater(overlap(got, mask), 0.99)
        self.assertLess(got.node_count, 600)

    def test_the_coins(self):
        # the mask of the coins: brighter than Otsu's threshold of 107, holes and specks left out
        labels = measure.label(data.coins() > 107)
        coins = [r for r in measure.regionprops(labels) if r.area > 400]
        mask = np.zeros(labels.shape, bool)
        for r in coins:
            y0, x0, y1, x1 = r.bbox
            mask[y0:y1, x0:x1] |= r.image_filled
        got = traced(picture(1 - mask), light=True)
        self.assertGreater(overlap(got, mask), 0.99)
        self.assertGreaterEqual(parts(got), len(coins))

    def test_glyphs_drawn_large(self):
        for font in ("bebas-neue", "pacifico", "caveat-brush"):
            path = outline.union([outline.lettering("Tide 4", font, 500.0).path])
            x0, y0, x1, y1 = path.bounds
            path = path.transform((1, 0, 0, 1, 30 - x0, 30 - y0))
            cover = drawn(path, int(x1 - x0) + 60, int(y1 - y0) + 60)
            with self.subTest(font):
                got = traced(picture(cover), level=0.5)
                self.assertGreater(overlap(got, cover > 0.5), 0.99)
                self.assertLess(abs(got.area / path.area - 1), 0.005)
                self.assertEqual(parts(got), parts(path))


class Subject(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.image = Image.open(io.BytesIO(make("skerry-light", 1500, 1000))).convert("RGB")
        cls.mask = skerry_subject(1500, 1000)

    def box(self, x0, y0, x1, y1):
        return ((x0, y0), (x1, y0), (x1, y1), (x0, y1))

    def test_by_a_box_and_by_a_loop(self):
        loops = {
            "box": self.box(190, 80, 1320, 920),
            "closer": self.box(220, 95, 1300, 900),
            "loop": ((220, 640), (700, 90), (980, 90), (1050, 680), (1330, 880), (760, 930), (190, 900)),
        }
        for name, loop in loops.items():
            for quick in (False, True):
                with self.subTest(name, quick=quick):
                    got = traced(self.image, way="subject", loop=loop, deviation=1, smallest=10, quick=quick)
                    self.assertGreater(overlap(got, self.mask), 0.97)
                    self.assertEqual(parts(got), 1)

    def test_strokes_say_what_it_did_not_see(self):
        loop = self.box(190, 80, 1320, 920)
        # the house is said not to be of it, then a piece of the sea is
        house = BrushMark(((540, 600), (660, 600), (660, 690), (540, 690)), 60, adds=False)
        got = traced(self.image, way="subject", loop=loop, marks=(house,), deviation=1)
        self.assertFalse(got.contains((600, 640)))
        self.assertTrue(got.contains((840, 500)))
        sea = BrushMark(((250, 860),), 15)
        self.assertTrue(traced(self.image, way="subject", loop=loop, marks=(sea,), deviation=1).contains((250, 860)))

    def test_the_same_each_time(self):
        loop = self.box(190, 80, 1320, 920)
        first = traced(self.image, way="subject", loop=loop)
        self.assertEqual(traced(self.image, way="subject", loop=loop), first)


class Refused(unittest.TestCase):
    def test_with_the_way_out_and_the_field(self):
        plain = Image.new("RGB", (120, 80), (128, 128, 128))
        specks = np.zeros((400, 400))
        for dy, dx in np.ndindex(3, 3):
            specks[dy::7, dx::7] = 1
        for image, how, words, field in (
            (plain, {"level": 0.1}, "darker than that", "level"),
            (plain, {"level": 0.9, "light": True}, "brighter than that", "level"),
            (plain, {"level": 0.9}, "whole picture", "level"),
            (plain, {"way": "tone"}, "No tone is selected", "at"),
            (plain, {"way": "tone", "at": (200, 10)}, "outside the photo", "at"),
            (plain, {"way": "tone", "at": (10, 10)}, "whole picture", "tolerance"),
            (plain, {"way": "tone", "at": (10, 10), "tolerance": 0.0}, "Nothing that large", "tolerance"),
            (plain, {"way": "subject"}, "No subject is marked", "loop"),
            (plain, {"way": "subject", "loop": ((-5, -5), (130, -5), (130, 90), (-5, 90))}, "whole picture", "loop"),
            (plain, {"way": "subject", "loop": ((300, 300), (310, 300), (310, 310))}, "No subject stands", "loop"),
            (plain, {"level": 0.9, "smallest": 500}, "Nothing that large", "level"),
            (picture(specks), {"level": 0.5}, "parts and holes", "smallest"),
        ):
            with self.subTest(words, **how):
                with self.assertRaises(PictureError) as caught:
                    traced(image, **how)
                self.assertIn(words, str(caught.exception))
                self.assertTrue(caught.exception.remedy)
                self.assertEqual(caught.exception.field, field)
