"""The main job by keyboard alone, from an empty project to a file."""

import io

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from tests.studio.helpers import jpeg

from .base import BrowserCase

MOST = 45
"""Keys that the main job may take."""


class KeysOnly(BrowserCase):
    def test_a_card_with_a_hole_a_photo_a_border_and_a_file(self):
        page = self.page
        self.open()
        pressed = []

        def keys(*names: str) -> None:
            for name in names:
                page.keyboard.press(name)
                pressed.append(name)
                # as a person does, who looks before the next one
                page.wait_for_timeout(30)
                page.wait_for_function("() => window.asking === 0")

        # two pieces, one in the middle of the other
        keys("r", "Enter", "Enter")
        self.wait(lambda: len(self.sheet.items) == 1)
        keys("e", "Enter")
        page.keyboard.insert_text("200")
        keys("Tab")
        page.keyboard.insert_text("150")
        pressed += list("200150")
        keys("Enter")
        self.wait(lambda: len(self.sheet.items) == 2)
        keys("Control+a", "s")
        self.wait(lambda: len(self.sheet.items) == 1)
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        # the dialog itself is the system's: that it is asked for is seen, and its answer given
        page.evaluate(
            "() => document.getElementById('files').addEventListener('click',"
            " (e) => { e.preventDefault(); window.dialog = true; }, { once: true })"
        )
        keys("b")
        self.assertTrue(page.evaluate("() => window.dialog"))
        page.set_input_files("#files", str(file))
        self.wait(lambda: any(getattr(i, "photos", ()) for i in self.sheet.items))
        # a border 6 wide
        keys("4")
        for _ in range(25):
            if page.evaluate("document.activeElement.id") == "p-stroke_width":
                break
            keys("Tab")
        page.keyboard.insert_text("6")
        pressed.append("6")
        keys("Enter")
        self.wait(lambda: self.sheet.items[0].paint.stroke_width == 6)
        with page.expect_download() as got:
            keys("Control+Enter")
        image = Image.open(io.BytesIO(got.value.path().read_bytes()))
        self.assertEqual(np.asarray(image.convert("RGBA"))[image.height // 2, image.width // 2, 3], 0)
        expect(page.locator(".notice")).to_contain_text("saved")
        self.assertLessEqual(len(pressed), MOST)
