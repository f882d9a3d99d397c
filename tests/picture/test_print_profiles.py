"""Print profiles: read by what is in them, and refused in words; littlecms is the judge of the tables."""

import io
import unittest

import numpy as np
from PIL import Image, ImageCms

from picture.errors import PictureError
from picture.photos.icc import DISPLAY_P3, rgb_profile
from picture.photos.print_profiles import MOST_BYTES, find_profile, read_profile, use_profiles
from tests.made_profile import made_profile

PRESS = made_profile()


class Read(unittest.TestCase):
    def test_name_space_and_identity(self):
        press = read_profile(PRESS, "press.icc")
        self.assertEqual((press.name, press.space, press.channels, len(press.digest)), ("Skerry Coated", "CMYK", 4, 32))
        self.assertNotEqual(read_profile(made_profile("Skerry Uncoated"), "press.icc").digest, press.digest)

    def test_what_is_no_print_profile_is_refused_in_words(self):
        for data, words in (
            (b"", "isn’t an ICC profile"),
            (b"hello" * 300, "isn’t an ICC profile"),
            (PRESS[:-40], "is damaged"),
            (PRESS[:160] + bytes(len(PRESS) - 160), "is damaged"),
            (made_profile(kind=b"mntr"), "doesn’t describe a press"),
            (rgb_profile("Display", DISPLAY_P3), "doesn’t describe a press"),
            (PRESS + bytes(MOST_BYTES), "is larger than 12 MB"),
        ):
            with self.subTest(words), self.assertRaisesRegex(PictureError, f"“x.icc” {words}"):
                read_profile(data, "x.icc")

    def test_any_damage_is_refused_or_harmless(self):
        rng = np.random.default_rng(7)
        for _ in range(300):
            data = bytearray(PRESS)
            for at in rng.integers(0, 400, 4):
                data[at] = rng.integers(256)
            try:
                read_profile(bytes(data), "x.icc")
            except PictureError as error:
                self.assertIn("“x.icc”", str(error))

    def test_the_made_press_mixes_inks_as_filters_do(self):
        turn = ImageCms.buildTransform(
            ImageCms.ImageCmsProfile(io.BytesIO(PRESS)), ImageCms.createProfile("sRGB"), "CMYK", "RGB"
        )

        def light(*inks):
            return ImageCms.applyTransform(Image.new("CMYK", (1, 1), inks), turn).getpixel((0, 0))

        self.assertGreater(min(light(0, 0, 0, 0)), 240)
        self.assertLess(max(light(0, 0, 0, 255)), 30)
        red, green, blue = light(255, 0, 0, 0)
        self.assertTrue(red < 90 < min(green, blue))

    def test_found_by_its_key(self):
        press = read_profile(PRESS, "press.icc")
        self.addCleanup(use_profiles, use_profiles({press.digest: PRESS}.get))
        self.assertEqual(find_profile(f"{press.digest}:Skerry Coated"), press)
        self.assertIsNone(find_profile(f"{'0' * 32}:Other"))
