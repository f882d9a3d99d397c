"""The demo's photos in the repository, against what makes them."""

import io

import numpy as np
from django.test import SimpleTestCase
from PIL import Image

from studio.demo.photos import BATCH, PHOTOS, photo_file
from studio.demo.scenes import make


def _pixels(data: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"), np.float64)


class DemoPhotos(SimpleTestCase):
    def test_every_one_is_there_in_its_size(self):
        for name, (_scene, width, height, _take) in {**PHOTOS, **BATCH}.items():
            with self.subTest(name), Image.open(photo_file(name)) as image:
                self.assertEqual(sorted(image.size), sorted((width, height)))
                self.assertIn("icc_profile", image.info)

    def test_they_are_what_the_generator_makes(self):
        # libraries may round otherwise by now, so the same but for a grey level or two
        scene, width, height, take = BATCH["coast-03.jpg"]
        stored, made = photo_file("coast-03.jpg").read_bytes(), make(scene, width, height, take)
        self.assertLess(np.abs(_pixels(stored) - _pixels(made)).mean(), 2)
