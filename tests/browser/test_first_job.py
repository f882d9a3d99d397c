"""The first job, led from step to step; and how few gestures it takes with nobody leading."""

from django.utils import timezone
from playwright.sync_api import expect

from studio.models import Project
from tests.studio.helpers import jpeg

from .base import BrowserCase


class FirstJob(BrowserCase):
    long = True

    def begin(self):
        """Begin it from an empty projects page, and wait for its first step."""
        Project.objects.update(deleted=timezone.now())
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_role("button", name="A photo in a circle: 4 steps").click()
        page.wait_for_selector("html[data-ready]")
        self.project = Project.objects.get(deleted=None)
        self.says("1 of 4", "press Ellipse")
        return page

    def says(self, step: str, words: str) -> None:
        expect(self.page.locator("#first-job b")).to_have_text(step)
        expect(self.page.locator("#first-job p")).to_contain_text(words)

    def ringed(self, selector: str) -> None:
        """Check that the ring is around what is to be pressed, and nothing else hides it."""
        expect(self.page.locator("#first-ring")).to_be_visible()
        ring, at = (self.page.locator(s).bounding_box() for s in ("#first-ring", selector))
        assert ring is not None
        assert at is not None
        for side in ("x", "y"):
            self.assertAlmostEqual(ring[side] + 4, at[side], delta=3, msg=selector)

    def test_what_to_press_next_is_ringed_until_the_file_is_there(self):
        page = self.begin()
        self.ringed("#tool-ellipse")
        page.locator("#tool-ellipse").click()
        self.says("1 of 4", "drag over the photo")
        expect(page.locator("#first-ring")).to_be_hidden()
        self.drag((550, 300), (950, 700))
        self.says("2 of 4", "Go on to Fit")
        self.ringed("#station-fit")
        page.locator("#station-fit").click()
        self.says("3 of 4", "Put the photo in")
        self.ringed("#put-in")
        page.locator("#put-in").click()
        self.says("4 of 4", "Go on to Export")
        self.ringed("#station-export")
        page.locator("#station-export").click()
        self.says("4 of 4", "Export it")
        self.ringed("#export-now")
        with page.expect_download():
            page.locator("#export-now").click()
        self.says("Done", "the whole job")
        page.locator("#first-job button").click()
        expect(page.locator("#first-job")).to_be_hidden()

    def test_escape_leaves_it_and_it_comes_only_when_asked_for(self):
        page = self.begin()
        page.locator("#tool-ellipse").click()
        # a tool in the hand is put back first
        page.keyboard.press("Escape")
        self.says("1 of 4", "press Ellipse")
        page.keyboard.press("Escape")
        expect(page.locator("#first-job")).to_be_hidden()
        expect(page.locator("#first-ring")).to_be_hidden()
        page.reload()
        page.wait_for_selector("html[data-ready]")
        expect(page.locator("#first-job")).to_be_hidden()
        page.goto(self.live_server_url)
        expect(page.get_by_role("button", name="A photo in a circle: 4 steps")).to_have_count(0)
        self.open()
        page.keyboard.press("?")
        page.get_by_role("button", name="A photo in a circle: 4 steps").click()
        page.wait_for_selector("html[data-ready]")
        self.says("1 of 4", "press Ellipse")

    def test_with_nobody_leading_it_takes_seven_gestures(self):
        page = self.open()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        # the button of the dialog, which is the system's
        page.set_input_files("#files", str(file))
        self.wait(lambda: len(self.sheet.items) == 1)
        self.settle()
        page.locator("#tool-ellipse").click()
        self.drag((350, 250), (650, 550))
        self.wait(lambda: len(self.sheet.items) == 2)
        self.settle()
        page.locator("#station-fit").click()
        self.push("#put-in")
        page.locator("#station-export").click()
        with page.expect_download() as saved:
            page.locator("#export-now").click()
        self.assertTrue(saved.value.suggested_filename.endswith(".png"))
