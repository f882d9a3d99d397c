"""Work that the queue does, by pointer and keyboard: followed, reloaded, stopped, fetched; many photos."""

import io
import threading

from axe_playwright_python.sync_playwright import Axe
from django.db import connection
from django.test import override_settings
from PIL import Image
from playwright.sync_api import expect

from sheet.geometry.geometry import box_of
from studio.models import Export, Project
from studio.work import queue
from tests.studio.helpers import jpeg
from tests.studio.test_exports import work

from .base import BrowserCase


@override_settings(GOUGE_AT_ONCE=0.01)
class Exports(BrowserCase):
    long = True

    def setUp(self):
        super().setUp()
        self.open()
        self.draw("ellipse", 100, 100, 300, 200)
        self.page.keyboard.press("Escape")
        self.station(5)
        self.page.wait_for_selector("#export")
        self.row = self.page.locator(".exported li")

    def test_followed_until_it_is_there_then_fetched_again(self):
        page = self.page
        with page.expect_download() as got:
            page.click("#export-now")
            expect(page.locator("#progress")).to_contain_text("Exporting…")
            expect(self.row.locator("progress")).to_be_visible()
            # the person goes on meanwhile
            self.station(1)
            self.station(5)
            expect(self.row.locator("progress")).to_be_visible()
            work()
        self.assertEqual(got.value.suggested_filename, "card.png")
        data = got.value.path().read_bytes()
        self.assertEqual(Image.open(io.BytesIO(data)).size, (300, 200))
        expect(page.locator("#progress")).to_be_hidden()
        expect(self.row).to_contain_text("300 × 200 px")
        with page.expect_download() as again:
            self.row.get_by_role("link", name="Save card.png again").click()
        self.assertEqual(again.value.path().read_bytes(), data)
        self.assertEqual(Axe().run(page).violations_count, 0)
        self.row.get_by_role("button", name="Take card.png off the list").click()
        expect(self.row).to_have_count(0)

    def test_a_reload_loses_nothing(self):
        page = self.page
        page.click("#export-now")
        expect(self.row.locator("progress")).to_be_visible()
        self.open()
        self.station(5)
        expect(self.row.locator("progress")).to_be_visible()
        work()
        expect(self.row.get_by_role("link")).to_be_visible()
        self.assertEqual(Export.objects.get().state, "ready")

    def test_stopped_by_its_button_or_in_the_list(self):
        page = self.page
        for stop in (
            lambda: page.locator("#progress button").click(),
            lambda: self.row.first.get_by_role("button", name="Stop").click(),
        ):
            page.click("#export-now")
            expect(self.row.first.locator("progress")).to_be_visible()
            stop()
            expect(self.row.first).to_contain_text("Stopped")
            expect(page.locator("#progress")).to_be_hidden()
        work()
        self.assertEqual({d.state for d in Export.objects.all()}, {"stopped"})

    def test_the_estimate_comes_by_itself(self):
        expect(self.page.locator("#d-estimate")).to_contain_text("About")
        first = self.page.locator("#d-estimate").text_content()
        self.page.fill("#d-size", "1000")
        self.page.press("#d-size", "Tab")
        expect(self.page.locator("#d-estimate")).not_to_contain_text(first)
        expect(self.page.locator("#d-estimate")).to_contain_text("About")


class Many(BrowserCase):
    long = True

    def setUp(self):
        super().setUp()
        self.inside = self.folder / "shore"
        (self.inside / "more").mkdir(parents=True)
        for n in range(5):
            (self.inside / f"{n}.jpg").write_bytes(jpeg(100 + n, 80))
        (self.inside / "more" / "5.png").write_bytes(jpeg(105, 80))
        (self.inside / "more" / "notes.txt").write_text("not a picture")
        self.over = threading.Event()

    def working(self) -> None:
        """Do what is queued, in the background, until the test ends."""

        def run() -> None:
            while not self.over.wait(0.1):
                work()
            connection.close()

        thread = threading.Thread(target=run)
        thread.start()
        self.addCleanup(thread.join)
        self.addCleanup(self.over.set)

    def test_many_come_in_by_the_queue(self):
        page = self.open()
        files = sorted(self.inside.glob("*.jpg"))
        page.set_input_files("input[type=file]", files)
        expect(page.locator("#progress")).to_contain_text("Reading 1 of 5")
        self.working()
        self.wait(lambda: len(self.sheet.items) == 5)
        self.assertEqual([i.name for i in self.sheet.items], [f.name for f in files])
        expect(page.locator("#progress")).to_be_hidden()

    def test_stopped_nothing_comes_of_what_was_not_read(self):
        page = self.open()
        page.set_input_files("input[type=file]", sorted(self.inside.glob("*.jpg")))
        expect(page.locator("#progress")).to_contain_text("Reading")
        page.locator("#progress button").click()
        expect(page.locator("#progress")).to_be_hidden()
        work()
        self.assertEqual(self.sheet.items, ())
        self.assertEqual(queue.queue().pending_count(), 0)

    def drop(self, path, x: float, y: float) -> None:
        """Drop a file or a folder as the system does."""
        cdp = self.context.new_cdp_session(self.page)
        data = {"items": [], "files": [str(path)], "dragOperationsMask": 1}
        for kind in ("dragEnter", "dragOver", "drop"):
            cdp.send("Input.dispatchDragEvent", {"type": kind, "x": x, "y": y, "data": data})

    def test_a_whole_folder_by_drop(self):
        self.open()
        self.working()
        self.drop(self.inside, 640, 400)
        self.wait(lambda: len(self.sheet.items) == 6)
        self.assertEqual([i.name for i in self.sheet.items], ["0.jpg", "1.jpg", "2.jpg", "3.jpg", "4.jpg", "5.png"])

    def test_a_folder_without_pictures_says_so(self):
        self.open()
        empty = self.folder / "empty"
        empty.mkdir()
        self.drop(empty, 640, 400)
        expect(self.page.locator(".notice").last).to_contain_text("no picture in that folder")

    def test_a_project_begins_with_an_svg(self):
        page = self.page
        page.goto(self.live_server_url)
        size = 'width="60mm" height="40mm" viewBox="0 0 60 40"'
        svg = f'<svg xmlns="http://www.w3.org/2000/svg" {size}><circle cx="30" cy="20" r="10"/>'
        svg += '<rect width="9" height="9" filter="url(#f)"/></svg>'
        page.set_input_files("#file", {"name": "plan.svg", "mimeType": "image/svg+xml", "buffer": svg.encode()})
        page.wait_for_selector("html[data-ready]")
        sheet = Project.objects.get(name="plan").head.sheet
        self.assertAlmostEqual(sheet.width / sheet.resolution * 25.4, 60, 3)
        self.project = Project.objects.get(name="plan")
        circle = self.sheet.items[0].items[0]
        self.near(box_of(circle), tuple(v * 96 / 25.4 for v in (20, 10, 40, 30)))
        # what it has that was not understood is said there too
        self.notice("Not understood, and left out: filter (1)")
        page.reload()
        page.wait_for_selector("html[data-ready]")
        expect(page.locator(".notice")).to_have_count(0)
        # one of which nothing can be drawn makes no project
        page.goto(self.live_server_url)
        nothing = {
            "name": "nothing.svg",
            "mimeType": "image/svg+xml",
            "buffer": f'<svg xmlns="http://www.w3.org/2000/svg" {size}/>'.encode(),
        }
        page.set_input_files("#file", nothing)
        expect(
            page.locator("[role=alert], [role=status]", has_text="Nothing in “nothing” can be drawn")
        ).to_be_visible()
        self.assertFalse(Project.objects.filter(name="nothing").exists())
