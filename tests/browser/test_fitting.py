"""Fitting a photo by pointer and keyboard: kept covered, its window dragged, a point brought to a place, swapped."""

from playwright.sync_api import expect

from sheet.geometry.covering import uncovered
from sheet.geometry.geometry import box_of, covers
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Fitting(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(800, 500))
        self.photo = self.bring(file)
        self.frame = self.draw("ellipse", 350, 250, 300, 300)
        self.choose(self.frame, self.photo)
        self.station(3)
        self.press("p")

    def lies(self):
        return self.item(self.frame).photos[0]

    def picture(self, fx, fy):
        """Return a place on the screen, as shares of the whole photo in the drawer."""
        box = self.page.locator("#fit-picture image").bounding_box()
        return box["x"] + fx * box["width"], box["y"] + fy * box["height"]

    def test_dragged_inside_it_stops_where_it_would_leave_a_gap(self):
        page = self.page
        page.keyboard.press("Enter")
        before = self.revision
        seen = []
        ghost = f'#art .ghost [data-id="{self.photo}"]'
        self.drag((500, 400), (900, 400), lambda: seen.append(page.locator(ghost).get_attribute("transform")))
        self.wait(lambda: self.revision > before)
        self.near((box_of(self.lies())[0],), (350,), 1)
        # the page kept to it while it was dragged, so nothing jumped at the drop
        shift = float(seen[0].split("(")[1].replace(",", " ").split()[4])
        self.assertAlmostEqual(100 + shift, 350, delta=2)
        self.settle()
        self.press("Shift+ArrowRight", changes=False)
        self.idle()
        self.near((box_of(self.lies())[0],), (350,), 1)

    def test_gaps_allowed_are_hatched_told_and_covered_again(self):
        page = self.page
        expect(page.locator(".fit-words")).to_contain_text("Fills the frame")
        before = self.revision
        page.locator("#keep-covered").uncheck()
        self.wait(lambda: self.revision > before)
        self.settle()
        self.push("#seat-left")
        page.keyboard.press("Enter")
        before = self.revision
        self.drag((500, 400), (650, 400))
        self.wait(lambda: self.revision > before)
        self.settle()
        share = uncovered(self.item(self.frame))
        self.assertGreater(share, 0.3)
        expect(page.locator(".fit-words")).to_contain_text(f"{round(100 * share)} % of the frame is empty")
        expect(page.locator("#art .bare-area")).to_be_visible()
        page.keyboard.press("Escape")
        self.push("#settle-cover")
        self.assertTrue(covers(self.item(self.frame), self.lies()))
        expect(page.locator("#keep-covered")).to_be_checked()

    def test_allow_gaps_puts_the_photo_back_where_it_was(self):
        page = self.page
        was = box_of(self.lies())
        page.keyboard.press("o")
        before = self.revision
        # the outline alone, beyond the photo's right edge: the photo comes with it
        self.drag((500, 400), (800, 400))
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertIn("would no longer fill", self.notice())
        self.near((box_of(self.lies())[2],), (950,), 3)
        held = self.revision
        page.get_by_role("button", name="Allow gaps").press("Enter")
        self.wait(lambda: self.revision > held)
        self.settle()
        self.near(box_of(self.lies()), was, 0.01)
        self.near(self.box(self.frame), (650, 250, 950, 550))
        expect(page.locator("#keep-covered")).not_to_be_checked()
        self.press("Control+z")
        self.near((box_of(self.lies())[2],), (950,), 3)

    def test_the_window_is_dragged_over_the_photo(self):
        page = self.page
        x0 = box_of(self.lies())[0]
        before = self.revision
        page.mouse.move(*self.picture(0.5, 0.5))
        page.mouse.down()
        page.mouse.move(*self.picture(0.55, 0.5))
        page.mouse.move(*self.picture(0.6, 0.5))
        page.mouse.up()
        self.wait(lambda: self.revision > before)
        # the window goes right over the photo: the photo goes left behind it, by a tenth of its width
        self.assertAlmostEqual(box_of(self.lies())[0] - x0, -80, delta=5)

    def test_a_point_is_brought_to_a_place_by_click_and_by_keyboard(self):
        page = self.page
        before = self.revision
        page.mouse.click(*self.picture(0.6, 0.5))
        self.wait(lambda: self.revision > before)
        self.settle()
        self.near(self.lies().placing(480, 250), (500, 400), 4)
        page.locator("#seat-at").select_option(index=2)
        page.locator("#fit-picture").focus()
        for _ in range(2):
            page.keyboard.press("ArrowLeft")
        expect(page.locator("#fit-mark circle")).to_have_count(1)
        before = self.revision
        page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        # 4 % left of the photo's middle, at two thirds across and a third down
        self.near(self.lies().placing(400 - 32, 250), (350 + 200, 250 + 100), 1)

    def test_swapped_for_another_that_lies_alike(self):
        file = self.folder / "quay.jpg"
        file.write_bytes(jpeg(400, 400, "#0a5a78"))
        other = self.bring(file)
        self.choose(self.frame, other)
        self.push("#replace-photo")
        self.assertEqual(self.lies().name, "quay.jpg")
        self.assertNotIn(self.photo, [i.id for i in self.sheet.items])

    def test_lined_up_by_keyboard(self):
        self.page.locator("#seat-bottom").focus()
        before = self.revision
        self.page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.near((box_of(self.lies())[3],), (550,), 1)
