"""Stepped inside a frame: its outline's nodes and corners, a photo that reaches off the screen; its tips rounded."""

from playwright.sync_api import expect

from sheet.document.model import CutList
from sheet.geometry.geometry import box_of, outline_of
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Inside(BrowserCase):
    def frame(self, kind: str = "rectangle") -> str:
        """Draw a window of 300 by 200 with a photo in it, and step inside."""
        self.open()
        window = self.draw(kind, 350, 300, 300, 200)
        self.fill_and_enter(window)
        expect(self.page.locator("#art g.stepped")).to_have_count(1)
        return window

    def fill_and_enter(self, window: str, width: int = 900, height: int = 600) -> None:
        """Put a photo into a window and step inside."""
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(width, height))
        self.bring(file)
        self.choose(window)
        self.station(3)
        self.press("p")
        self.choose(window)
        self.page.locator("#desk").focus()
        self.page.keyboard.press("Enter")

    def lay(self, window: str):
        return tuple(round(v, 3) for v in box_of(self.item(window).photos[0]))

    def test_the_nodes_of_a_plain_window(self):
        window = self.frame()
        page, photo = self.page, self.lay(window)
        page.keyboard.press("n")
        expect(page.locator("#node-marks [data-node]")).to_have_count(4)
        node = page.locator("#node-marks [data-node='0']").bounding_box()
        before = self.revision
        page.mouse.move(node["x"] + 3, node["y"] + 3)
        page.mouse.down()
        page.mouse.move(node["x"] + 20, node["y"] + 12)
        page.mouse.move(node["x"] + 3 + 40 * self.zoom, node["y"] + 3 + 30 * self.zoom)
        page.mouse.up()
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertTrue(outline_of(self.item(window)).contains((640, 490)))
        self.assertFalse(outline_of(self.item(window)).contains((360, 305)))
        self.assertEqual(self.lay(window), photo)
        # back to the photo, still inside
        page.keyboard.press("c")
        expect(page.locator("#art g.stepped")).to_have_count(1)
        expect(page.locator("#hint-chosen")).to_contain_text("sea.jpg")
        self.press("Shift+ArrowRight")
        self.near(self.lay(window), tuple(v + d for v, d in zip(photo, (10, 0, 10, 0), strict=True)), 1)

    def test_undo_leaves_one_inside_with_the_photo(self):
        window = self.frame()
        page, photo = self.page, self.lay(window)
        for back in ("Control+z", "Control+Shift+Z", "Control+z"):
            if back == "Control+z":
                self.press("Shift+ArrowRight")
            self.press(back)
            expect(page.locator("#hint-chosen")).to_contain_text("sea.jpg")
            expect(page.locator("#art g.stepped")).to_have_count(1)
        # the next drag is the photo's, and the frame stays
        box = self.box(window)
        before = self.revision
        self.drag((500, 400), (520, 400))
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.box(window), box)
        self.assertNotEqual(self.lay(window), photo)

    def test_the_windows_edge_is_dragged_and_the_photo_stays(self):
        window = self.frame()
        page, photo = self.page, self.lay(window)
        x0, y0, x1, y1 = self.box(window)
        before = self.revision
        self.drag((x0, y0 + 40), (x0 + 30, y0 + 60))
        self.wait(lambda: self.revision > before)
        self.settle()
        self.near(self.box(window), (x0 + 30, y0 + 20, x1 + 30, y1 + 20))
        self.assertEqual(self.lay(window), photo)
        # still inside: what is not the edge is the photo
        expect(page.locator("#art g.stepped")).to_have_count(1)
        before = self.revision
        self.drag((x0 + 130, y0 + 100), (x0 + 140, y0 + 100))
        self.wait(lambda: self.revision > before)
        self.near(self.box(window), (x0 + 30, y0 + 20, x1 + 30, y1 + 20))
        self.assertNotEqual(self.lay(window), photo)

    def test_a_side_handle_changes_the_window_and_the_photo_stays_as_large(self):
        self.open()
        window = self.draw("rectangle", 350, 300, 300, 200)
        self.fill_and_enter(window, 400, 300)
        page = self.page
        page.keyboard.press("Escape")
        expect(page.locator("#art g.stepped")).to_have_count(0)
        x0, y0, x1, y1 = self.box(window)
        photo = self.lay(window)
        self.drag_handle("e", -60, 0)
        self.near(self.box(window), (x0, y0, x1 - 60, y1))
        self.assertEqual(self.lay(window), photo)
        self.settle()
        # where it would no longer be filled the photo grows, as little as it must
        grown = self.lay(window)
        self.drag_handle("s", 0, 220)
        self.near(self.box(window), (x0, y0, x1 - 60, y1 + 220))
        fits = self.lay(window)
        self.assertGreater(fits[3] - fits[1], grown[3] - grown[1])
        self.near((fits[3] - fits[1],), (y1 + 220 - y0,), 5)
        # a corner's handle scales both
        self.settle()
        wide = fits[2] - fits[0]
        self.drag_handle("se", 60, 60)
        fits = self.lay(window)
        self.assertGreater(fits[2] - fits[0], wide * 1.1)

    def test_the_nodes_of_a_cut_lists_first_piece(self):
        self.open()
        a, b = self.draw("rectangle", 350, 300, 300, 200), self.draw("ellipse", 450, 350, 80, 80)
        self.choose(a, b)
        self.press("s")
        window = self.sheet.items[-1].id
        self.fill_and_enter(window)
        self.page.keyboard.press("n")
        expect(self.page.locator("#node-marks [data-node]")).to_have_count(4)
        expect(self.page.locator("#hint-chosen")).to_contain_text("Rectangle")

    def test_the_corners_of_a_window(self):
        window = self.frame()
        page, photo = self.page, self.lay(window)
        dot = page.locator("[data-handle=radius0]")
        expect(dot).to_have_count(1)
        spot = dot.bounding_box()
        before = self.revision
        page.mouse.move(spot["x"] + 3, spot["y"] + 3)
        page.mouse.down()
        page.mouse.move(spot["x"] + 20, spot["y"] + 20)
        page.mouse.move(spot["x"] + 40, spot["y"] + 40)
        page.mouse.up()
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertGreater(min(self.item(window).shape.radii), 20)
        self.assertEqual(self.lay(window), photo)

    def test_a_photo_whose_handles_lie_off_the_screen(self):
        window = self.frame()
        page = self.page
        button = page.locator("#see-handles")
        expect(button).to_be_hidden()
        for _ in range(8):
            page.keyboard.press("+")
        expect(button).to_be_visible()
        button.click()
        expect(button).to_be_hidden()
        desk = page.locator("#desk").bounding_box()
        for name in ("nw", "ne", "se", "sw"):
            handle = page.locator(f"[data-handle={name}]").bounding_box()
            self.assertGreater(handle["x"], desk["x"])
            self.assertLess(handle["x"] + handle["width"], desk["x"] + desk["width"])
            self.assertGreater(handle["y"], desk["y"])
            self.assertLess(handle["y"] + handle["height"], desk["y"] + desk["height"])
        self.assertTrue(self.item(window).photos)

    def test_tips_rounded_in_finish_once_it_is_filled(self):
        window = self.frame()
        page = self.page
        page.keyboard.press("Escape")
        self.station(4)
        expect(page.locator("#p-rounding")).to_have_value("0")
        self.fill("#p-rounding", "60/2")
        frame = self.item(window)
        self.assertIsInstance(frame.shape, CutList)
        self.assertEqual(frame.shape.finishes[0].value, 30)
        self.assertEqual(len(frame.photos), 1)
        expect(page.locator("#p-rounding")).to_have_value("30")
        self.fill("#p-rounding", "0")
        self.assertNotIsInstance(self.item(window).shape, CutList)

    def test_photos_are_tried_by_key_and_by_their_pictures(self):
        window = self.frame()
        page = self.page
        page.keyboard.press("Escape")
        sat = self.lay(window)
        file = self.folder / "quay.jpg"
        file.write_bytes(jpeg(600, 600, (9, 80, 120)))
        self.bring(file)
        self.choose(window)
        self.push("#replace-photo")

        def shown() -> str:
            return self.item(window).photos[0].name

        self.assertEqual(shown(), "quay.jpg")
        expect(page.locator(".tried-photo")).to_have_count(2)
        page.locator("#desk").focus()
        self.press("Shift+N")
        self.assertEqual((shown(), self.lay(window)), ("sea.jpg", sat))
        self.press("Shift+B")
        self.assertEqual(shown(), "quay.jpg")
        self.push(".tried-photo[title='sea.jpg']")
        self.assertEqual(shown(), "sea.jpg")
        expect(page.locator(".tried-photo[title='sea.jpg']")).to_be_disabled()
        self.press("Control+z")
        self.assertEqual(shown(), "quay.jpg")

    def test_dragging_moves_both_the_outline_or_the_photo(self):
        window = self.frame()
        page = self.page
        expect(page.locator("#part-photo")).to_be_checked()
        page.locator("#part-both").check()
        expect(page.locator("#art g.stepped")).to_have_count(0)
        page.locator("#part-photo").check()
        expect(page.locator("#art g.stepped")).to_have_count(1)
        box, photo = box_of(self.item(window)), self.lay(window)
        self.drag((500, 400), (530, 400))
        self.wait(lambda: self.lay(window) != photo)
        self.assertEqual(box_of(self.item(window)), box)
        page.locator("#part-outline").check()
        expect(page.locator("#part-bar")).to_contain_text("alone")
