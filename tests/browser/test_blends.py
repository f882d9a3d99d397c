"""Blend modes: in a browser's eyes as in the formulas; set on photos and groups by hand."""

import io

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from sheet.document.model import BLENDS
from tests.picture.test_blends import green, scenes
from tests.picture.test_export import export_svg
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Blends(BrowserCase):
    long = True

    def test_exported_svgs_show_what_the_formulas_say(self):
        self.page.set_viewport_size({"width": 1000, "height": 800})
        for mode in BLENDS:
            for name, t, (x, y), want in scenes(mode):
                with self.subTest(mode=mode, of=name):
                    self.page.goto("about:blank")
                    self.page.set_content(f"<style>body{{margin:0}}</style>{export_svg(t.sheet, 100, green)}")
                    place = {"x": x, "y": y, "width": 1, "height": 1}
                    shot = Image.open(io.BytesIO(self.page.screenshot(clip=place))).convert("RGB")
                    # the browser rounds to 8 bits at every step: a level more than the file itself is off
                    self.assertLessEqual(np.abs(np.asarray(shot, float)[0, 0] - want).max(), 2)

    def test_set_on_a_photo_and_on_a_group_in_finish(self):
        page = self.open()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        self.bring(file)
        (photo,) = [i.id for i in self.sheet.items]
        a, b = self.draw("rectangle", 100, 100, 100, 100), self.draw("ellipse", 150, 150, 100, 100)
        self.choose(a, b)
        self.press("Control+g")
        group = self.sheet.items[-1].id
        self.station(4)
        for item in (photo, group):
            self.choose(item)
            expect(page.locator("#p-blend")).to_have_value("normal")
            before = self.revision
            page.select_option("#p-blend", "multiply")
            self.wait(lambda before=before: self.revision > before)
            self.settle()
            self.assertEqual(self.item(item).blend, "multiply")
            shown = page.locator(f"#art > g[data-id={item}]")
            self.assertEqual(shown.evaluate("g => getComputedStyle(g).mixBlendMode"), "multiply")
        self.choose(photo, group)
        expect(page.locator("#p-blend")).to_have_value("multiply")
        self.fill("#p-opacity", "50")
        self.assertEqual([self.item(i).opacity for i in (photo, group)], [0.5, 0.5])
