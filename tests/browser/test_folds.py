"""The side shows what the station at hand uses; the rest is one line each, and stays as it was left."""

from playwright.sync_api import expect

from tests.studio.helpers import jpeg

from .base import BrowserCase

VISIBLE = """() => [...document.querySelectorAll("button, input, select, textarea, a[href], summary")].filter((e) => {
    const r = e.getBoundingClientRect();
    const sight = { opacityProperty: true, visibilityProperty: true, contentVisibilityAuto: true };
    const inside = r.bottom > 0 && r.top < innerHeight && r.right > 0 && r.left < innerWidth;
    return r.width > 0 && r.height > 0 && inside && e.checkVisibility(sight);
  }).length"""
MOST = 55
"""Controls in sight at once, with a frame selected at 1280 × 800."""


class Folds(BrowserCase):
    unfolded = False

    def setUp(self):
        super().setUp()
        self.open()
        self.a = self.draw("rectangle", 100, 100, 400, 300)
        self.choose(self.a)

    def fold(self, name: str):
        return self.page.locator(f"#{name}-fold")

    def test_what_the_station_uses_is_open_and_the_rest_says_its_number(self):
        page = self.page
        expect(page.locator("#g-width")).to_be_visible()
        self.station(3)
        expect(page.locator("#g-width")).to_be_hidden()
        expect(self.fold("dimensions").locator("> summary")).to_contain_text("400 × 300 px")
        expect(page.locator("#align-top")).to_be_hidden()

    def test_it_stays_as_it_was_left_at_each_station(self):
        page = self.page
        self.station(3)
        self.fold("dimensions").locator("> summary").click()
        expect(page.locator("#g-width")).to_be_visible()
        self.station(4)
        expect(page.locator("#g-width")).to_be_hidden()
        page.reload()
        page.wait_for_selector("html[data-ready]")
        self.station(3)
        self.choose(self.a)
        expect(page.locator("#g-width")).to_be_visible()

    def test_lining_up_unfolds_where_several_are_selected(self):
        b = self.draw("ellipse", 600, 400, 200, 200)
        self.choose(self.a)
        expect(self.page.locator("#align-top")).to_be_hidden()
        self.choose(self.a, b)
        expect(self.page.locator("#align-top")).to_be_visible()

    def test_few_controls_at_once_and_the_main_button_in_sight(self):
        photo = self.bring(self.sea())
        self.choose(self.a, photo)
        self.press("p")
        self.choose(self.a)
        page = self.page
        buttons = ("#tool-rectangle", "#step-offset", "#move-photo", "#p-opacity", "#export-now")
        for number, button in enumerate(buttons, 1):
            self.station(number)
            with self.subTest(station=number):
                self.assertLessEqual(page.evaluate(VISIBLE), MOST)
                box = page.locator(button).bounding_box()
                self.assertLessEqual(box["y"] + box["height"], 770)

    def sea(self):
        """Return a photo's file."""
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        return file


class Tray(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        self.photos = []
        for name, colour in (("sea.jpg", "#0a5a78"), ("quay.jpg", "#b5432a")):
            file = self.folder / name
            file.write_bytes(jpeg(900, 600, colour))
            self.photos.append(self.bring(file))
        self.frame = self.draw("rectangle", 100, 100, 400, 300)

    def test_a_photo_is_used_replaced_and_dragged_in(self):
        page = self.page
        self.choose(self.frame, self.photos[0])
        self.press("p")
        self.station(3)
        self.choose(self.frame)
        tray = page.locator(".tray-photo")
        expect(tray).to_have_count(2)
        expect(page.locator(".tray-photo[title='sea.jpg'] i")).to_have_text("1")
        # the same frame, another photo, in one press
        self.push(".tray-photo[title='quay.jpg']")
        self.assertEqual([p.name for p in self.item(self.frame).photos], ["quay.jpg"])
        # the old one left the sheet, and is still in the tray
        expect(page.locator(".tray-photo[title='sea.jpg'] i")).to_have_count(0)
        # into an outline that has none, by dragging; and as often as one likes
        other = self.draw("ellipse", 600, 400, 300, 300)
        before = self.revision
        page.drag_and_drop(".tray-photo[title='sea.jpg']", "#desk", target_position=self.on_desk(750, 550))
        self.wait(lambda: self.revision > before)
        self.assertEqual([p.name for p in self.item(other).photos], ["sea.jpg"])
        # what is not on the sheet is cleared away, and comes back where it is used again
        expect(page.locator("#clear-tray")).to_have_count(0)
        self.choose(other)
        self.press("Delete")
        page.locator("#clear-tray").click()
        expect(tray).to_have_count(1)
        expect(tray).to_have_attribute("title", "quay.jpg")
        self.press("Control+z")
        expect(tray).to_have_count(2)
        self.press("Control+Shift+Z")
        expect(tray).to_have_count(1)
        self.bring(self.folder / "sea.jpg")
        self.press("Delete")
        expect(tray).to_have_count(2)

    def on_desk(self, x: float, y: float) -> dict[str, float]:
        box = self.page.locator("#desk").bounding_box()
        at = self.at(x, y)
        return {"x": at[0] - box["x"], "y": at[1] - box["y"]}
