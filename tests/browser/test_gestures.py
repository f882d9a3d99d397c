"""How many gestures (a click, a drag or a key each) four jobs take, from a frame or a photo that is selected."""

from PIL import Image, ImageDraw

from sheet.document.model import Group
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Gestures(BrowserCase):
    def setUp(self):
        super().setUp()
        self.files = []
        for name, color in (("sea", (40, 90, 120)), ("dune", (200, 170, 120))):
            self.files.append(self.folder / f"{name}.jpg")
            self.files[-1].write_bytes(jpeg(900, 600, color=color))
        self.open()
        self.count = 0

    def click(self, selector: str) -> None:
        """One gesture: a click, once the page is at rest."""
        self.count += 1
        self.page.wait_for_function("() => !window.asking")
        self.page.locator(selector).first.click()

    def key(self, name: str) -> None:
        """One gesture: a key."""
        self.count += 1
        self.page.wait_for_function("() => !window.asking")
        self.page.keyboard.press(name)

    def framed(self) -> str:
        """Return a frame with a photo in it, selected."""
        self.bring(self.files[0])
        frame = self.draw_by_hand("rectangle", 200, 150, 500, 400)
        self.press("p")
        self.choose(frame)
        return frame

    def test_the_same_frame_with_another_photo(self):
        self.bring(self.files[1])
        self.page.keyboard.press("Delete")
        self.wait(lambda: not self.sheet.items)
        self.settle()
        frame = self.framed()
        self.count = 0
        self.key("3")
        self.click(".tray-photo[title='dune.jpg']")
        self.wait(lambda: self.item(frame).photos[0].name == "dune.jpg")
        self.assertEqual(self.count, 2)

    def test_a_photo_into_an_outline_that_was_drawn_first(self):
        piece = self.draw_by_hand("ellipse", 200, 150, 400, 400)
        self.count = 0
        # the dialog itself is the system's: that it is asked for is seen, and its answer given
        self.page.evaluate(
            "() => document.getElementById('files').addEventListener('click',"
            " (e) => { e.preventDefault(); window.dialog = true; }, { once: true })"
        )
        self.key("b")
        self.assertTrue(self.page.evaluate("() => window.dialog"))
        self.page.set_input_files("#files", str(self.files[0]))
        self.wait(lambda: bool(self.item(piece).photos))
        self.assertEqual(self.count, 1)

    def test_nine_panes(self):
        self.framed()
        self.count = 0
        self.key("3")
        self.click("#split-fold summary")
        picker = self.page.locator("#pane-picker")
        picker.scroll_into_view_if_needed()
        box = picker.bounding_box()
        assert box is not None
        self.count += 1
        self.page.mouse.move(box["x"] + 5, box["y"] + 5)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + box["width"] * 2.5 / 8, box["y"] + box["height"] * 2.5 / 6)
        self.page.mouse.up()
        self.click("#split")
        self.wait(lambda: isinstance(self.sheet.items[-1], Group) and len(self.sheet.items[-1].items) == 9)
        self.assertEqual(self.count, 4)

    def test_a_subject_that_stands_out_of_its_frame(self):
        # a light disc before something dark, from (190, 90) to (410, 310) of 600 × 400
        picture = Image.new("RGB", (600, 400), (30, 50, 60))
        ImageDraw.Draw(picture).ellipse((190, 90, 410, 310), fill=(240, 230, 200))
        picture.save(self.files[0], quality=95)
        x0, y0, *_ = self.box(self.bring(self.files[0]))
        frame = self.draw_by_hand("rectangle", x0 + 100, y0 + 200, 400, 200)
        self.press("p")
        self.choose(frame)
        self.count = 0
        self.key("3")
        self.click("#stand-out-fold summary")
        self.click("#stand-out-top")
        self.wait(lambda: self.box(frame)[1] < y0 + 100)
        self.near(self.box(frame), (x0 + 100, y0 + 90, x0 + 500, y0 + 400), 8)
        self.assertEqual(self.count, 3)
