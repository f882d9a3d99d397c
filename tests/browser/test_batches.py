"""A batch by pointer and keyboard: begun, filled, looked at, adjusted, made, stopped, tried again."""

import io
import zipfile

from playwright.sync_api import expect

from studio.models import Batch, BatchPhoto
from studio.storage import Stored, photo_key
from tests.studio.helpers import jpeg
from tests.studio.test_exports import work

from .base import BrowserCase


class BatchCase(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        self.frame = self.draw("rectangle", 100, 100, 600, 400)
        self.choose(self.frame)
        self.station(5)
        self.page.locator("#batch-photos").click()
        self.page.wait_for_url("**/batches/*/")
        self.page.wait_for_selector("html[data-ready]")

    def files(self, count=3):
        """Photos on the disk, landscape and portrait."""
        folder = self.folder / "photos"
        folder.mkdir(exist_ok=True)
        out = []
        for n in range(count):
            path = folder / f"coast-{n}.jpg"
            path.write_bytes(jpeg(*((360, 240) if n % 2 else (240, 360)), color=(20 * n, 90, 120)))
            out.append(str(path))
        return out

    def bring(self, files):
        self.page.set_input_files("#batch-files", files)
        # what the queue reads is read here
        for _ in range(40):
            work()
            self.page.wait_for_timeout(100)
            if (
                self.page.locator("#batch-words").inner_text().endswith("to make")
                and Batch.objects.get().photos.count()
            ):
                break
        expect(self.page.locator("#batch-words")).to_contain_text("to make")

    def made(self, button):
        """Press a button that starts the batch, and do what it puts into the queue."""
        with self.page.expect_response(lambda r: "/start" in r.url):
            self.page.locator(button).click()
        work()

    def words(self, text):
        expect(self.page.locator("#batch-words")).to_contain_text(text)


class Making(BatchCase):
    def test_from_photos_to_a_zip(self):
        page = self.page
        expect(page.locator(".drop-here")).to_be_visible()
        expect(page.locator("#batch-start")).to_be_disabled()
        self.bring(self.files())
        expect(page.locator(".cell")).to_have_count(3)
        page.wait_for_function("() => document.querySelector('.cell img').naturalWidth > 0")
        expect(page.locator("#batch-start")).to_have_text("Make 3 JPEG files")
        page.locator("#batch-variants").check()
        expect(page.locator("#batch-pixels")).to_contain_text("portrait 400 × 600 px")
        page.locator("#batch-format").select_option("png")
        expect(page.locator("#batch-start")).to_have_text("Make 3 PNG files")
        page.locator("#batch-pattern").fill("")
        page.locator("[data-insert='{photo}']").click()
        page.keyboard.type(" {width}")
        page.keyboard.press("Enter")
        expect(page.locator("#batch-example")).to_have_text("coast-0-600.png")
        page.locator("#batch-start").click()
        self.words("of 3 made")
        expect(page.locator("#batch-bar")).to_be_visible()
        work()
        self.words("3 of 3 files ready")
        expect(page.locator(".cell[data-state=d]")).to_have_count(3)
        with page.expect_download() as sent:
            page.locator("#batch-zip").click()
        with zipfile.ZipFile(sent.value.path()) as box:
            self.assertEqual(sorted(box.namelist()), ["coast-0-400.png", "coast-1-600.png", "coast-2-400.png"])
        # the same again makes nothing
        page.locator("#batch-start").click()
        expect(page.locator(".notice")).to_contain_text("All files are up to date")

    def test_it_begins_with_the_projects_last_format_and_sorts_a_folder_by_name(self):
        page = self.page
        self.open()
        self.choose(self.frame)
        self.station(5)
        page.locator("#format-webp").click()
        with page.expect_download():
            page.locator("#export-now").click()
        self.settle()
        page.locator("#batch-photos").click()
        page.wait_for_url("**/batches/*/")
        page.wait_for_selector("html[data-ready]")
        expect(page.locator("#batch-format")).to_have_value("webp")
        folder = self.folder / "photos"
        folder.mkdir()
        for n, name in enumerate(("coast-10.jpg", "coast-9.jpg", "Coast-1.jpg", "bay.jpg")):
            (folder / name).write_bytes(jpeg(240, 360, color=(50 * n, 90, 120)))
        page.set_input_files("#batch-folder", str(folder))
        for _ in range(40):
            work()
            page.wait_for_timeout(100)
            if page.locator(".cell").count() == 4:
                break
        names = page.locator(".cell figcaption span[title]").all_inner_texts()
        self.assertEqual(names, ["bay.jpg", "Coast-1.jpg", "coast-9.jpg", "coast-10.jpg"])

    def test_cells_keep_their_height_and_scroll(self):
        page = self.page
        self.bring(self.files(12))
        expect(page.locator(".cell")).to_have_count(12)
        # 1280 × 800, and that at 150 %
        for width, height in ((1280, 800), (853, 533)):
            page.set_viewport_size({"width": width, "height": height})
            least = page.evaluate(
                "() => Math.min(...[...document.querySelectorAll('.cell')].map(c => c.clientHeight - c.scrollHeight))"
            )
            with self.subTest(width):
                self.assertGreaterEqual(least, 0)
        self.assertGreater(
            page.evaluate("(c => c.scrollHeight - c.clientHeight)(document.getElementById('cells'))"), 100
        )

    def test_a_reload_goes_on_and_it_can_be_stopped(self):
        page = self.page
        self.bring(self.files())
        page.locator("#batch-start").click()
        self.words("0 of 3 made")
        page.reload()
        self.words("0 of 3 made")
        page.locator("#batch-stop").click()
        expect(page.locator("#batch-stop")).to_be_hidden()
        self.assertEqual(Batch.objects.get().state, "stopped")
        work()
        self.made("#batch-start")
        self.words("3 of 3 files ready")

    def test_what_failed_is_told_and_tried_again_alone(self):
        page = self.page
        self.bring(self.files())
        row = BatchPhoto.objects.select_related("photo").get(position=1)
        data = row.photo.original.read_bytes()
        row.photo.original.unlink()
        self.made("#batch-start")
        self.words("2 of 3 files ready, 1 failed")
        cell = page.locator(".cell[data-n='1']")
        expect(cell).to_have_attribute("data-state", "f")
        self.assertIn("is missing", cell.get_attribute("title"))
        Stored(photo_key(row.photo.sha256)).write(data)
        self.made("#batch-again")
        self.words("3 of 3 files ready")

    def test_files_that_are_no_photos_are_named(self):
        bad = self.folder / "notes.jpg"
        bad.write_text("hello")
        self.bring([*self.files(2), str(bad)])
        expect(self.page.locator("#batch-wrong")).to_contain_text("notes.jpg")
        expect(self.page.locator(".cell")).to_have_count(2)

    def test_the_contact_sheet(self):
        self.bring(self.files())
        with self.page.expect_download() as sent:
            self.page.locator("#batch-contact").click()
            self.wait(lambda: bool(Batch.objects.get().contact))
            work()
        self.assertTrue(io.FileIO(sent.value.path()).read().startswith(b"%PDF"))


class ByHand(BatchCase):
    def setUp(self):
        super().setUp()
        self.bring(self.files())

    def seat(self, n=0):
        return BatchPhoto.objects.get(position=n).seat

    def test_dragged_zoomed_and_left_to_the_rule(self):
        page = self.page
        page.locator("#cell-0").click()
        expect(page.locator("#seat-h")).to_have_text("coast-0.jpg")
        page.wait_for_function("() => document.getElementById('seat-img').naturalWidth > 0")
        box = page.locator("#seat-img").bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y + 400, steps=4)
        page.mouse.up()
        # a portrait in a landscape frame: moved down as far as it goes, its top shows
        self.wait(lambda: (self.seat() or {}).get("y") == 0)
        expect(page.locator(".cell[data-n='0'] em")).to_have_text("by hand")
        page.locator("#seat-zoom").fill("2")
        self.wait(lambda: (self.seat() or {}).get("zoom") == 2)
        page.locator("#seat-rule").click()
        self.wait(lambda: self.seat() is None)
        expect(page.locator(".cell em")).to_have_count(0)

    def test_by_keyboard_and_on_to_the_next(self):
        page = self.page
        page.locator("#cell-0").focus()
        page.keyboard.press("Enter")
        expect(page.locator("#seat-picture")).to_be_focused()
        page.keyboard.press("+")
        page.keyboard.press("Shift+ArrowUp")
        # what was moved a moment ago is kept before anything else happens
        page.keyboard.press("PageDown")
        expect(page.locator("#seat-h")).to_have_text("coast-1.jpg")
        self.wait(lambda: (self.seat() or {}).get("zoom") == 1.1)
        self.assertGreater(self.seat()["y"], 0.5)
        page.keyboard.press("Escape")
        expect(page.locator("#seat")).to_be_hidden()
        expect(page.locator("#cell-1")).to_be_focused()

    def test_left_out_and_put_back(self):
        page = self.page
        page.locator("#cell-1").click()
        page.locator("#seat-out").click()
        expect(page.locator(".cell")).to_have_count(2)
        page.get_by_role("button", name="Put it back").click()
        expect(page.locator(".cell")).to_have_count(3)
