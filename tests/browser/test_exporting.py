"""The Export station by pointer and keyboard: what, how large, as what, warnings, names, and once more by one key."""

import io
import re
import zipfile

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from sheet.geometry.geometry import outline_of
from studio.models import Export
from tests.picture.test_silhouettes import drawn
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Exporting(BrowserCase):
    def setUp(self):
        super().setUp()
        self.frames = []
        for x in (100, 600):
            (window,) = self.do("draw", kind="ellipse", x=x, y=100, width=200, height=100)
            self.do("put_in", ids=[window, self.place(jpeg(900, 600))])
            self.do("settle", ids=[window], how="cover")
            self.frames.append(window)
        self.open()
        self.station(5)
        self.page.wait_for_selector("#export")

    def take(self, by) -> tuple[str, bytes]:
        """Return the name and bytes of the downloaded file."""
        with self.page.expect_download() as got:
            by()
        return got.value.suggested_filename, got.value.path().read_bytes()

    def order(self, field: str, value: str) -> None:
        """Type into a field of the order and leave it."""
        self.page.fill(f"#d-{field}", value)
        self.page.press(f"#d-{field}", "Tab")

    def test_each_frame_as_a_file_of_its_own(self):
        page = self.page
        page.locator("#what-each").check()
        expect(page.locator("#what-each + span")).to_contain_text("in 2 files, zipped")
        expect(page.locator("#docket-h")).to_have_text("The 2 files, together")
        page.click("#format-jpg")
        page.select_option("#d-by", "width")
        self.order("size", "120")
        self.order("pattern", "{number} {name}")
        expect(page.locator("#d-example")).to_have_text("1-ellipse-1.jpg, 2-ellipse-2.jpg")
        name, data = self.take(lambda: page.click("#export-now"))
        self.assertEqual(name, "card.zip")
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            self.assertEqual(box.namelist(), ["1-ellipse-1.jpg", "2-ellipse-2.jpg"])
            self.assertEqual(Image.open(io.BytesIO(box.read("1-ellipse-1.jpg"))).size, (120, 60))
        page.click("#format-pdf")
        expect(page.locator("#what-each + span")).to_contain_text("2 pages of one file")
        expect(page.locator("#d-example")).to_have_text("card.pdf")
        name, data = self.take(lambda: page.click("#export-now"))
        self.assertEqual((name, data[:5]), ("card.pdf", b"%PDF-"))

    def test_the_sheet_dims_what_stays_behind_and_the_side_shows_the_file(self):
        self.open()
        self.draw("rectangle", 100, 100, 200, 200)
        piece = self.draw("ellipse", 500, 300, 300, 200)
        self.choose(piece)
        self.station(5)
        edge = self.page.locator("#export-marks .file-edge")
        expect(edge).to_have_count(1)
        box = edge.bounding_box()
        (x0, y0), (x1, y1) = self.at(500, 300), self.at(800, 500)
        self.near((box["x"], box["y"], box["width"], box["height"]), (x0, y0, x1 - x0, y1 - y0), 5)
        expect(self.page.locator("#export-marks .stays-behind")).to_have_count(1)
        picture = self.page.locator("#docket-picture")
        self.wait(lambda: picture.evaluate("i => i.naturalWidth") == 480)
        self.assertEqual(picture.evaluate("i => i.naturalHeight"), 320)
        # another choice is another file
        self.page.locator(".target", has_text="The whole sheet").click()
        self.wait(lambda: picture.evaluate("i => i.naturalHeight") == 384)
        self.station(4)
        expect(self.page.locator("#export-marks .file-edge")).to_have_count(0)
        expect(picture).to_be_hidden()

    def test_a_photo_selected_in_its_frame_exports_the_frame(self):
        self.open()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        self.bring(file)
        frame = self.draw("ellipse", 300, 200, 300, 300)
        self.press("p")
        self.choose(frame)
        self.page.keyboard.press("Enter")
        expect(self.page.locator("#hint-chosen")).to_contain_text("sea.jpg")
        self.station(5)
        expect(self.page.locator(".target").first).to_contain_text(self.item(frame).name)
        expect(self.page.locator(".target").first).to_contain_text("300 × 300 px")

    def test_a_piece_of_a_group_is_exported_alone(self):
        self.open()
        made = [self.draw("rectangle", 100, 100, 200, 100), self.draw("ellipse", 400, 100, 60, 60)]
        name = self.item(made[1]).name
        self.choose(*made)
        self.press("Control+g")
        self.choose(made[1])
        self.station(5)
        first = self.page.locator(".target").first
        expect(first).to_contain_text(name)
        expect(first).to_contain_text("60 × 60 px")
        # and with another one of it, by Shift in the stack
        self.choose(*made)
        expect(first).to_contain_text("The 2 selected items")
        expect(first).to_contain_text("360 × 100 px")

    def test_what_was_saved_is_said_and_two_presses_export_once(self):
        page = self.page
        page.click("#format-png")
        name, data = self.take(lambda: page.dblclick("#export-now"))
        kilobytes = max(1, round(len(data) / 1000))
        expect(page.locator("#notices[aria-live] .notice")).to_contain_text(f"{name} saved, {kilobytes} kB.")
        page.wait_for_load_state("networkidle")
        self.assertEqual(Export.objects.count(), 1)

    def test_sizes_are_told_as_the_file_has_them_and_wrong_ones_at_the_field(self):
        page = self.page
        self.choose(self.frames[0])
        target = page.locator(f"#what-{self.frames[0]} + span")
        expect(target).to_contain_text("200 × 100 px 50.8 × 25.4 mm")
        self.order("margin", "10")
        expect(target).to_contain_text("220 × 120 px")
        page.select_option("#d-by", "factor")
        self.order("size", "50 %")
        expect(target).to_contain_text("110 × 60 px 55.9 × 30.5 mm")
        self.order("size", "huge")
        expect(page.locator("#d-wrong")).to_contain_text("is not a number")
        self.order("size", "2")
        expect(page.locator("#d-wrong")).to_be_hidden()
        _, data = self.take(lambda: page.click("#export-now"))
        self.assertEqual(Image.open(io.BytesIO(data)).size, (440, 240))

    def test_again_by_one_key_from_any_station_also_after_a_reload(self):
        page = self.page
        self.choose(self.frames[1])
        page.click("#format-webp")
        page.locator("#d-lossless").check()
        expect(page.locator("#d-quality")).to_have_count(0)
        page.select_option("#d-by", "width")
        self.order("size", "300")
        name, data = self.take(lambda: page.click("#export-now"))
        self.assertEqual((name, Image.open(io.BytesIO(data)).size), ("card-ellipse-2.webp", (300, 150)))
        self.open()
        self.choose(self.frames[0])
        page.locator("#desk").focus()
        name, data = self.take(lambda: page.keyboard.press("Control+Enter"))
        self.assertEqual((name, Image.open(io.BytesIO(data)).size), ("card-ellipse-1.webp", (300, 150)))
        # wherever the focus stands in the drawer
        self.station(5)
        for place in ("#format-webp", "#d-by", "#d-lossless", "#d-size"):
            page.locator(place).focus()
            name, _ = self.take(lambda: page.keyboard.press("Control+Enter"))
            self.assertEqual(name, "card-ellipse-1.webp")
        self.assertEqual(Export.objects.count(), 6)

    def test_warnings_lead_to_their_thing_and_mend_it(self):
        page = self.page
        hidden = self.frames[0]
        before = self.revision
        page.locator(f"#row-{hidden}").hover()
        page.get_by_role("button", name="Hide Ellipse 1").click()
        self.wait(lambda: self.revision > before)
        self.settle()
        remark = page.locator(".remark", has_text="is hidden")
        expect(remark).to_contain_text("Ellipse 1")
        before = self.revision
        remark.get_by_role("button", name="Show it", exact=True).last.click()
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertFalse(self.item(hidden).hidden)
        expect(page.locator(".remark", has_text="is hidden")).to_have_count(0)
        # a photo with too few px, in a frame: its words lead to it
        page.keyboard.press("Escape")
        self.choose(self.frames[1])
        self.station(4)
        self.fill("#p-stroke_width", "0.1pt")
        page.keyboard.press("Escape")
        self.station(5)
        remark = page.locator(".remark", has_text="may break in print")
        remark.locator(".remark-words").click()
        expect(page.locator("#hint-chosen")).to_contain_text("Ellipse 2")
        before = self.revision
        page.locator(".remark", has_text="may break in print").get_by_role("button", name="Make it 0.25 pt").click()
        self.wait(lambda: self.revision > before)
        self.assertAlmostEqual(self.item(self.frames[1]).paint.stroke_width, 100 / 72 * 0.25, 3)

    def test_the_file_itself_under_a_lens(self):
        page = self.page
        self.choose(self.frames[0])
        page.click("#format-jpg")
        expect(page.locator("#format-jpg")).to_have_attribute("aria-pressed", "true")
        page.click("#look-closer")
        expect(page.locator("#lens-bar")).to_contain_text("Point at the sheet")
        page.mouse.move(*self.at(200, 150))
        expect(page.locator("#lens")).to_be_visible()
        expect(page.locator("#lens")).to_contain_text("JPG at 100 %")
        self.assertEqual(page.evaluate("document.getElementById('lens-picture').width"), 200)
        first = page.locator("#lens-picture").get_attribute("src")
        page.keyboard.press("ArrowRight")
        expect(page.locator("#lens-picture")).not_to_have_attribute("src", first)
        page.keyboard.press("Escape")
        expect(page.locator("#lens")).to_be_hidden()
        expect(page.locator("#lens-bar")).to_be_hidden()


class Web(BrowserCase):
    """An outline for the web, shown by Chromium: the same pixels as the engine's outline, also at another size."""

    def covered(self, page, scale) -> np.ndarray:
        """Return which px of the sample's box are not clipped, at its size times `scale`."""
        page.evaluate(
            "([x, y]) => { const b = document.querySelector('.box'); b.style.width = `${300 * x}px`;"
            " b.style.height = `${200 * y}px`; b.style.outline = 'none';"
            " Object.assign(b.style, { position: 'absolute', left: 0, top: 0, resize: 'none' });"
            " document.body.style.background = '#000'; b.firstElementChild.style.background = '#fff'; }",
            scale,
        )
        shot = page.locator(".box").screenshot()
        return np.asarray(Image.open(io.BytesIO(shot)).convert("L")) > 127

    def test_every_form_clips_as_the_outline_does(self):
        page = self.open()
        a, b = self.draw("ellipse", 200, 100, 300, 200), self.draw("rectangle", 300, 150, 60, 60)
        self.choose(a, b)
        self.press("s")
        (ring,) = [i.id for i in self.sheet.items]
        self.station(5)
        page.locator("#web-fold summary").click()
        path = outline_of(self.item(ring)).transform((1, 0, 0, 1, -200, -100))
        for kind in ("path", "shape", "polygon", "clip"):
            page.select_option("#d-web", kind)
            word = {"clip": "<clipPath"}.get(kind, f"{kind}(")
            expect(page.locator("#web-text")).to_have_value(re.compile(re.escape(word)))
            with self.context.expect_page() as opened:
                page.click("#see-web")
            shown = opened.value
            shown.wait_for_selector("#clipped")
            for scale in ((1, 1),) if kind == "path" else ((1, 1), (1.5, 0.8)):
                with self.subTest(kind, scale=scale):
                    seen = self.covered(shown, scale)
                    h, w = seen.shape
                    want = drawn(path.transform((scale[0], 0, 0, scale[1], 0, 0)), w, h) > 0.5
                    both = np.logical_and(seen, want).sum() / np.logical_or(seen, want).sum()
                    self.assertGreater(both, 0.99)
            shown.close()

    def test_copied_by_one_press(self):
        page = self.open()
        self.context.grant_permissions(["clipboard-read", "clipboard-write"])
        a = self.draw("rectangle", 200, 100, 300, 200)
        self.choose(a)
        self.station(5)
        page.locator("#web-fold summary").click()
        page.select_option("#d-web", "data")
        expect(page.locator("#web-text")).to_have_value("M0 0H300V200H0Z")
        page.click("#copy-web")
        self.notice("Copied")
        self.assertEqual(page.evaluate("navigator.clipboard.readText()"), "M0 0H300V200H0Z")
