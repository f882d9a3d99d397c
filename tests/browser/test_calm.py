"""No station is a wall of controls: counted with a frame selected at 1280 × 800, its main button in sight."""

from tests.studio.helpers import jpeg

from .base import BrowserCase

CONTROLS = ":is(a, button, input, select, summary, textarea):visible"
MOST = 55


class Calm(BrowserCase):
    # as somebody finds them who never touched a fold
    unfolded = False

    def test_no_station_shows_too_many_controls(self):
        self.open()
        page = self.page
        page.set_viewport_size({"width": 1280, "height": 800})
        a, b = self.draw("rectangle", 200, 200, 400, 300), self.draw("ellipse", 300, 250, 100, 100)
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        self.bring(file)
        self.choose(a, b)
        page.keyboard.press("2")
        self.press("s")
        self.page.locator(".row-item:has-text('sea.jpg')").click(modifiers=["Shift"])
        self.press("p")
        for number, word in enumerate(("Draw", "Cut", "Fit", "Finish", "Export"), 1):
            self.station(number)
            # panels of the station before may still be there
            page.wait_for_function("() => !window.asking")
            count = page.locator(CONTROLS).count()
            self.assertLessEqual(count, MOST, f"{word}: {page.locator(CONTROLS).all_inner_texts()}")
        foot = page.locator("#export-now").bounding_box()
        self.assertLess(foot["y"] + foot["height"], 800)
        self.station(3)
        main = page.locator("#move-photo").bounding_box()
        self.assertLess(main["y"] + main["height"], 800)
