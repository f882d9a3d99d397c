"""Photos before and beside their frames: several at once, cut bare by a line, copied from a frame, seen around one."""

import io
from itertools import combinations

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from sheet.document.model import Photo, Piece
from sheet.geometry.geometry import box_of, outline_of
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Photos(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()

    def file(self, name: str = "sea.jpg", width: int = 600, height: int = 400, color: str = "#0a5a78") -> str:
        """Write a plain photo; return where it is."""
        file = self.folder / name
        file.write_bytes(jpeg(width, height, color))
        return str(file)

    def line(self, *points: tuple[float, float]) -> str:
        """Draw an open line, click by click; return its id."""
        self.page.keyboard.press("q")
        for point in points:
            self.click(*point)
        self.press("Enter")
        return self.sheet.items[-1].id

    def shot(self) -> np.ndarray:
        """Return the screen as it is, height × width × RGB from 0 to 255."""
        return np.asarray(Image.open(io.BytesIO(self.page.screenshot())).convert("RGB")).astype(int)

    def test_several_brought_in_by_one_key_lie_side_by_side(self):
        page = self.page
        files = [self.file(f"{k}.jpg", color=c) for k, c in enumerate(("#0a5a78", "#b5432a", "#c9bda4"))]
        # the dialog itself is the browser's: that the key opens it is seen by the click on the field
        asked = "files => files.addEventListener('click', e => { e.preventDefault(); files.dataset.asked = 'yes'; })"
        page.eval_on_selector("#files", asked)
        for many, had in ((files[:2], 0), (files, 2)):
            before = self.revision
            page.keyboard.press("b")
            expect(page.locator("#files[data-asked]")).to_have_count(1)
            page.set_input_files("#files", many)
            self.wait(lambda before=before: self.revision > before)
            self.settle()
            boxes = [box_of(i) for i in self.sheet.items[had:]]
            self.assertEqual(len(boxes), len(many))
            for a, b in combinations(boxes, 2):
                self.assertTrue(a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1], f"{a} lies over {b}")
            self.assertTrue(all(x0 >= 0 and y0 >= 0 and x1 <= 1000 and y1 <= 800 for x0, y0, x1, y1 in boxes))

    def test_a_line_cuts_a_bare_photo_and_its_parts_are_pulled_apart(self):
        page = self.page
        photo = self.bring(self.file())
        line = self.line((150, 350), (450, 450), (850, 350))
        self.choose(photo, line)
        page.keyboard.press("2")
        # seen as two parts before it is done
        expect(page.locator("#card-apart")).to_contain_text("2 parts")
        self.press("d")
        upper, lower = (i for i in self.sheet.items if isinstance(i, Piece) and i.photos)
        self.assertAlmostEqual(outline_of(upper).area + outline_of(lower).area, 600 * 400, delta=1)
        where = [box_of(p.photos[0]) for p in (upper, lower)]
        for box in where:
            self.near(box, (200, 200, 800, 600), 0.01)
        page.keyboard.press("Escape")
        self.choose(lower.id)
        self.station(3)
        page.keyboard.press("o")
        self.press("Shift+ArrowUp")
        # the outline alone: its part of the picture is another, the picture stays where it is
        moved = self.item(lower.id)
        self.near(box_of(moved), (box_of(lower)[0], box_of(lower)[1] - 10, 800, 590), 0.5)
        self.near(box_of(moved.photos[0]), where[1], 0.01)
        page.keyboard.press("o")
        self.press("Shift+ArrowDown")
        self.near(box_of(self.item(lower.id).photos[0]), (200, 210, 800, 610), 0.01)

    def test_by_p_a_photo_goes_into_the_only_outline_over_it(self):
        page = self.page
        photo = self.bring(self.file())
        frame = self.draw("ellipse", 300, 250, 300, 300)
        away = self.draw("rectangle", 850, 650, 100, 100)
        page.keyboard.press("Escape")
        # by pointer: the photo beside the ellipse, then the button at Fit
        self.click(250, 230)
        expect(page.locator(f"#row-{photo}")).to_have_attribute("aria-pressed", "true")
        self.press("p")
        self.assertEqual([p.id for p in self.item(frame).photos], [photo])
        self.assertEqual(self.item(away).photos, ())
        self.press("Control+z")
        # with two over it none is taken: it says which to select
        self.draw("rectangle", 450, 300, 200, 200)
        self.choose(photo)
        self.press("p", changes=False)
        self.assertIn("none is selected", self.notice("needs an outline"))
        self.assertEqual(len(self.sheet.items), 4)

    def test_a_framed_photo_is_copied_out_of_its_frame(self):
        page = self.page
        photo = self.bring(self.file())
        frame = self.draw("ellipse", 300, 250, 300, 300)
        self.choose(frame, photo)
        self.press("p")
        self.choose(frame)
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        expect(page.locator("#inside-bar")).to_be_visible()
        page.keyboard.press("Control+c")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        self.press("Control+v")
        (copy,) = (i for i in self.sheet.items if isinstance(i, Photo))
        self.assertEqual((copy.name, copy.file), ("sea.jpg", self.item(frame).photos[0].file))
        self.assertNotEqual(copy.id, photo)
        # pasted where one still is inside, it lies on the sheet too, selected
        self.choose(frame)
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        expect(page.locator("#inside-bar")).to_be_visible()
        page.keyboard.press("Control+c")
        self.press("Control+v")
        expect(page.locator("#inside-bar")).to_be_hidden()
        self.press("Delete")
        self.assertEqual(len(self.sheet.items), 2)
        # and from one frame into another
        other = self.draw("rectangle", 650, 500, 250, 250)
        self.choose(copy.id, other)
        self.press("p")
        self.assertEqual(self.item(other).photos[0].file, self.item(frame).photos[0].file)

    def test_what_of_a_frame_is_empty_is_transparent_unless_it_was_given_a_fill(self):
        page = self.page
        photo = self.bring(self.file())
        frame = self.draw("rectangle", 300, 250, 400, 300)
        self.choose(frame, photo)
        self.press("p")
        self.choose(frame)
        self.station(3)
        before = self.revision
        page.locator("#keep-covered").uncheck()
        self.wait(lambda: self.revision > before)
        self.settle()
        page.keyboard.press("Enter")
        before = self.revision
        self.drag((500, 400), (800, 400))
        self.wait(lambda: self.revision > before)
        page.keyboard.press("Escape")

        def left_and_right() -> tuple:
            image = Image.open(io.BytesIO(self.exported(what="sheet", extent="whole", format="png"))).convert("RGBA")
            self.assertEqual(image.size, (1000, 800))
            return image.getpixel((350, 400)), image.getpixel((650, 400))

        empty, filled = left_and_right()
        self.assertEqual(empty[3], 0)
        self.assertEqual(filled[3], 255)
        page.keyboard.press("4")
        self.fill("#p-fill", "#102030")
        self.assertEqual(left_and_right()[0], (0x10, 0x20, 0x30, 255))

    def test_nodes_over_a_photo_have_a_light_halo(self):
        page = self.page
        self.bring(self.file(width=1000, height=800, color="#101010"))
        piece = self.draw("rectangle", 300, 250, 400, 300)
        self.choose(piece)
        page.keyboard.press("n")
        expect(page.locator("#node-marks [data-node]")).to_have_count(4)
        box = page.locator("#node-marks [data-node='0']").bounding_box()
        x, y = round(box["x"] + box["width"] / 2), round(box["y"] + box["height"] / 2)
        # up and left of the corner there is nothing but the dark photo, and the halo
        self.assertGreater(self.shot()[y - 5, x].min(), 150)
        page.keyboard.press("c")
        page.keyboard.press("Escape")
        self.assertLess(self.shot()[y - 5, x].max(), 60)

    def test_the_tray_is_at_hand_while_drawing(self):
        page = self.page
        photo = self.bring(self.file())
        page.keyboard.press("Escape")
        tray = page.locator("#drawer .tray-photo")
        expect(tray).to_have_count(1)
        # it leaves with the tool, and comes back
        page.keyboard.press("e")
        expect(tray).to_be_hidden()
        page.keyboard.press("c")
        expect(tray).to_be_visible()
        # by keyboard: with an outline selected it goes in, as often as one likes
        one = self.draw("ellipse", 100, 100, 300, 300)
        page.keyboard.press("c")
        tray.focus()
        self.press("Enter")
        self.assertEqual([p.name for p in self.item(one).photos], ["sea.jpg"])
        # by pointer: dragged onto the sheet, it lies there
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        before = self.revision
        desk = page.locator("#desk").bounding_box()
        x, y = self.at(850, 650)
        tray.drag_to(page.locator("#desk"), target_position={"x": x - desk["x"], "y": y - desk["y"]})
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertEqual(len([i for i in self.sheet.items if isinstance(i, Photo)]), 2)
        expect(tray.locator("i")).to_have_text("3")
        # removed from the sheet it stays in the tray, until it is cleared away
        self.choose(*(i.id for i in self.sheet.items))
        self.press("Delete")
        expect(tray).to_have_count(1)
        page.locator("#clear-tray").click()
        expect(tray).to_have_count(0)
        self.assertNotIn(photo, [i.id for i in self.sheet.items])
