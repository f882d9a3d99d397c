"""The job from start to end: draw, unite, bring a photo, put it in, move it, export, and look at the pixels."""

import io

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from sheet.geometry.geometry import outline_of
from tests.studio.helpers import jpeg

from .base import BrowserCase


class MainJob(BrowserCase):
    long = True

    def test_from_two_pieces_to_a_png(self):
        page = self.open()
        rectangle = self.draw_by_hand("rectangle", 200, 200, 300, 200)
        ellipse = self.draw_by_hand("ellipse", 400, 150, 300, 300)
        self.choose(rectangle, ellipse)
        self.press("u")
        (outline,) = [i.id for i in self.sheet.items]
        self.assertEqual(self.cut_words(), ["union"])

        # the photo has a red left half and a green right one
        photo = Image.new("RGB", (1200, 800), (220, 40, 40))
        photo.paste((40, 160, 60), (600, 0, 1200, 800))
        file = self.folder / "halves.jpg"
        photo.save(file, quality=95)
        self.choose(self.bring(file), outline)
        self.press("p")
        self.assertEqual([i.kind for i in self.sheet.items], ["frame"])

        # inside: move the photo to the right, so that more of the red half shows
        page.mouse.dblclick(*self.at(450, 300))
        page.wait_for_selector("#art g.stepped")
        self.assertEqual(page.locator("#art g.stepped .ghost image").count(), 1)
        lay = self.item(outline).photos[0].matrix[4]
        before = self.revision
        self.drag((450, 300), (530, 300))
        self.wait(lambda: self.revision > before)
        self.assertAlmostEqual(self.item(outline).photos[0].matrix[4], lay + 80, delta=2.5)
        page.keyboard.press("Escape")

        # a border, set by number
        self.station(4)
        width = page.locator("#p-stroke_width")
        before = self.revision
        width.fill("12")
        width.press("Enter")
        self.wait(lambda: self.revision > before)
        self.settle()
        page.locator("#desk").focus()
        self.assertEqual(self.revision, before + 1)

        self.station(5)
        page.wait_for_selector("#export")
        page.fill("#d-size", "200")
        with page.expect_download() as download:
            page.click("#export-now")
        pixels = np.asarray(Image.open(io.BytesIO(download.value.path().read_bytes())))

        # size: the outline's box with its border, at 200 px per inch of a 100 px per inch sheet
        x0, y0, x1, y1 = outline_of(self.item(outline)).bounds
        self.assertAlmostEqual(pixels.shape[1], (x1 - x0 + 12) * 2, delta=1.01)
        self.assertAlmostEqual(pixels.shape[0], (y1 - y0 + 12) * 2, delta=1.01)

        def pixel(x, y):
            return pixels[int((y - y0 + 6) * 2), int((x - x0 + 6) * 2)].astype(int)

        # transparent outside: the corner above the rectangle is in no piece
        self.assertEqual(pixel(x0 + 20, y0 + 5)[3], 0)
        # photo inside, its halves parting where it was moved to
        m = self.item(outline).photos[0].placing
        middle, _ = m(600, 400)
        self.assertLess(np.abs(pixel(middle - 20, 300) - (220, 40, 40, 255)).max(), 12)
        self.assertLess(np.abs(pixel(middle + 20, 300) - (40, 160, 60, 255)).max(), 12)
        # border present, in its own colour
        self.assertLess(np.abs(pixel(x0, 300) - (0x22, 0x30, 0x2F, 255)).max(), 3)

    def same_in_a_browser(self) -> float:
        """Export PNG and SVG; return the share of px in which a browser shows the SVG otherwise."""
        page = self.page
        self.station(5)
        page.wait_for_selector("#export")
        files = {}
        for kind in ("png", "svg"):
            with page.expect_download() as download:
                page.click(f"#format-{kind}")
                expect(page.locator(f"#format-{kind}")).to_have_attribute("aria-pressed", "true")
                page.click("#export-now")
            files[kind] = download.value.path().read_bytes()
        self.assertIn(b"<clipPath", files["svg"])
        png = Image.open(io.BytesIO(files["png"])).convert("RGBA")
        (self.folder / "out.svg").write_bytes(files["svg"])
        shown = self.context.new_page()
        shown.set_viewport_size({"width": png.width, "height": png.height})
        shown.goto(f"file://{self.folder / 'out.svg'}")
        shot = Image.open(io.BytesIO(shown.screenshot())).convert("RGB")
        white = Image.new("RGBA", png.size, "white")
        flat = Image.alpha_composite(white, png).convert("RGB")
        apart = np.abs(np.asarray(shot, int) - np.asarray(flat, int)).max(axis=-1)
        return float((apart > 40).mean())

    def test_borders_in_every_place_look_the_same_in_a_browser(self):
        page = self.open()
        self.station(4)
        for k, place in enumerate(("inside", "centred", "outside")):
            before = self.revision
            page.keyboard.press("a")
            self.drag((60 + 300 * k, 200), (280 + 300 * k, 420))
            self.wait(lambda before=before: self.revision > before)
            self.settle()
            self.fill("#p-stroke_width", "16")
            self.push(f"#place-{place}")
            expect(page.locator(f"#place-{place}")).to_have_attribute("aria-pressed", "true")
        page.locator(".border-more summary").click()
        self.fill("#p-dashes", "30 12")
        self.assertEqual([i.paint.place for i in self.sheet.items], ["inside", "centred", "outside"])
        # several with different values: the field says that they are mixed
        self.choose(*[i.id for i in self.sheet.items])
        expect(page.locator("#p-dashes")).to_have_attribute("placeholder", "mixed")
        expect(page.locator(".border-place[aria-pressed=true]")).to_have_count(0)
        page.keyboard.press("Escape")
        # two renderers differ on the edges' anti-aliasing only
        self.assertLess(self.same_in_a_browser(), 0.004)

    def test_the_exported_svg_looks_the_same_in_a_browser(self):
        self.open()
        rectangle = self.draw_by_hand("rectangle", 200, 200, 300, 200)
        ellipse = self.draw_by_hand("ellipse", 300, 250, 100, 100)
        self.choose(rectangle, ellipse)
        self.press("s")
        (outline,) = [i.id for i in self.sheet.items]
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        self.bring(file)
        self.choose(outline)
        self.press("p")
        # two renderers differ on the edges' anti-aliasing only
        self.assertLess(self.same_in_a_browser(), 0.004)
