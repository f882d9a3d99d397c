"""By fingers alone: the main job, nine panes, part by part; two fingers on the sheet, one that rests, and sizes."""

import io
from typing import ClassVar

from PIL import Image
from playwright.sync_api import expect

from sheet.document.model import Group
from sheet.geometry.geometry import outline_of
from tests.studio.helpers import jpeg

from .base import BrowserCase

SMALL = """
() => {
  const pressed = "button, a[href], select, summary, textarea, input:not([type=hidden], [type=file])";
  const out = [];
  for (const one of document.querySelectorAll(pressed)) {
    if (!one.checkVisibility({ visibilityProperty: true }) || one.closest(".visually-hidden, .skip, svg")) continue;
    // a tick is pressed by its words too
    const box = (/checkbox|radio/.test(one.type) && one.closest("label") || one).getBoundingClientRect();
    if (box.width && (box.width < 39.5 || box.height < 39.5) && !one.matches(".visually-hidden, p a, small a"))
      out.push(`${one.id || one.className || one.textContent} ${Math.round(box.width)} × ${Math.round(box.height)}`);
  }
  return out;
}
"""
"""What can be pressed and is smaller than 40 px: WCAG 2.2 asks for 24 (2.5.8), and says 44 is better (2.5.5)."""


class TouchCase(BrowserCase):
    long = True
    unfolded = False
    device: ClassVar[dict] = {"viewport": {"width": 1024, "height": 768}, "has_touch": True, "is_mobile": True}

    def setUp(self):
        super().setUp()
        self.cdp = self.context.new_cdp_session(self.page)
        self.addCleanup(self.cdp.detach)
        self.open()

    def touch(self, kind: str, *points: tuple[float, float]) -> None:
        """Have fingers come down, move or go, by where they are on the screen."""
        fingers = [{"x": x, "y": y, "id": k} for k, (x, y) in enumerate(points)]
        self.cdp.send("Input.dispatchTouchEvent", {"type": f"touch{kind}", "touchPoints": fingers})

    def finger(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Drag one finger from a point of the screen to another."""
        (x0, y0), (x1, y1) = start, end
        self.touch("Start", start)
        for k in range(1, 6):
            self.touch("Move", (x0 + (x1 - x0) * k / 5, y0 + (y1 - y0) * k / 5))
        # a hand rests before it lifts: one that flies off has Chromium take the next tap for the end of a fling
        self.page.wait_for_timeout(120)
        self.touch("End")

    def over_sheet(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Drag one finger over the sheet, and wait for the step it makes."""
        before = self.revision
        self.finger(self.at(*start), self.at(*end))
        self.wait(lambda: self.revision > before)
        self.settle()

    def tap(self, selector: str) -> None:
        """Tap a button."""
        button = self.page.locator(selector).first
        button.scroll_into_view_if_needed()
        box = button.bounding_box()
        assert box is not None
        self.tap_at(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)

    def tap_at(self, x: float, y: float) -> None:
        """Tap a point of the screen; by the session that drags, since each counts the fingers for itself."""
        self.touch("Start", (x, y))
        self.touch("End")

    def tap_sheet(self, x: float, y: float) -> None:
        self.tap_at(*self.at(x, y))

    def rest(self, x: float, y: float) -> None:
        """Rest a finger on the sheet until the strip opens."""
        self.touch("Start", self.at(x, y))
        expect(self.page.locator("#touch-strip")).to_be_visible()
        self.touch("End")

    def shape(self, tool: str, x: float, y: float, w: float, h: float) -> str:
        self.tap("#station-draw")
        self.tap(f"#tool-{tool}")
        self.over_sheet((x, y), (x + w, y + h))
        return self.sheet.items[-1].id

    def bring_in(self) -> None:
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(900, 600))
        before = self.revision
        self.page.set_input_files("#files", str(file))
        self.wait(lambda: self.revision > before)
        self.settle()


class Jobs(TouchCase):
    def test_a_photo_in_a_circle_and_out_as_a_file(self):
        self.bring_in()
        piece = self.shape("ellipse", 300, 200, 300, 300)
        self.tap("#station-fit")
        self.tap("#put-in")
        self.wait(lambda: bool(self.item(piece).photos))
        self.settle()
        # the photo is moved inside, by the strip of a finger that rests
        x, y = self.item(piece).photos[0].matrix[4:]
        self.rest(450, 350)
        self.tap("#touch-inside")
        self.over_sheet((450, 350), (510, 320))
        self.assertNotEqual(self.item(piece).photos[0].matrix[4:], (x, y))
        self.tap("#inside-bar button:has-text('Step out')")
        self.tap("#station-export")
        with self.page.expect_download() as saved:
            self.tap("#export-now")
        picture = Image.open(io.BytesIO(saved.value.path().read_bytes()))
        self.assertEqual((picture.size, picture.getpixel((0, 0))[3]), ((300, 300), 0))

    def test_nine_panes(self):
        self.bring_in()
        self.shape("rectangle", 250, 200, 400, 300)
        self.tap("#station-fit")
        self.tap("#put-in")
        self.wait(lambda: bool(self.sheet.items[-1].photos))
        self.settle()
        self.tap("#split-fold summary")
        picker = self.page.locator("#pane-picker")
        picker.scroll_into_view_if_needed()
        box = picker.bounding_box()
        cell = box["width"] / 8, box["height"] / 6
        self.finger((box["x"] + 5, box["y"] + 5), (box["x"] + 2.5 * cell[0], box["y"] + 2.5 * cell[1]))
        expect(self.page.locator("#n-columns")).to_have_value("3")
        self.tap("#split")
        self.wait(lambda: isinstance(self.sheet.items[-1], Group) and len(self.sheet.items[-1].items) == 9)

    def test_part_by_part(self):
        self.shape("rectangle", 250, 200, 300, 300)
        self.shape("ellipse", 450, 300, 300, 300)
        self.tap_sheet(300, 250)
        self.rest(300, 250)
        self.tap("#touch-add")
        self.tap_sheet(650, 500)
        expect(self.page.locator("#hint-chosen")).to_contain_text("2 selected")
        self.tap("#station-cut")
        self.tap("#tool-cells")
        expect(self.page.locator("#cell-bar")).to_be_visible()
        # a finger has no keys, and is told of none
        told = self.page.locator("#hint-keys kbd").all_inner_texts()
        self.assertEqual(told, ["Drag", "Hold", "Two fingers"])
        self.finger(self.at(300, 250), self.at(690, 500))
        self.tap("#accept-cells")
        self.wait(lambda: any("Joined" in i.name for i in self.sheet.items))
        self.assertGreater(max(outline_of(i).area for i in self.sheet.items), 90000)


class Fingers(TouchCase):
    def test_two_move_and_zoom_the_sheet_and_nothing_on_it(self):
        piece = self.shape("rectangle", 300, 200, 300, 300)
        self.tap_sheet(800, 700)
        zoom, revision = self.zoom, self.revision
        (x, y), at = self.at(450, 350), self.at(0, 0)
        self.touch("Start", (x - 40, y))
        self.touch("Start", (x - 40, y), (x + 40, y))
        for k in range(1, 6):
            self.touch("Move", (x - 40 - 8 * k, y + 10 * k), (x + 40 + 8 * k, y + 10 * k))
        self.touch("End")
        self.assertAlmostEqual(self.zoom / zoom, 2, delta=0.05)
        self.assertNotEqual(self.at(0, 0), at)
        # what was between the fingers is there still
        self.near(self.at(450, 350), (x, y + 50), 3)
        self.assertEqual((self.revision, self.box(piece)), (revision, (300, 200, 600, 500)))
        expect(self.page.locator("#hint-chosen")).to_contain_text("nothing selected")

    def test_the_second_finger_ends_what_the_first_began(self):
        self.tap("#tool-rectangle")
        a, b = self.at(200, 200), self.at(400, 400)
        self.touch("Start", a)
        self.touch("Move", b)
        expect(self.page.locator("#live .drawing")).to_have_count(1)
        self.touch("Start", b, (b[0] + 60, b[1]))
        expect(self.page.locator("#live .drawing")).to_have_count(0)
        self.touch("End")
        self.assertEqual(self.sheet.items, ())

    def test_a_handle_is_met_from_beside_it(self):
        piece = self.shape("rectangle", 300, 200, 300, 300)
        x, y = self.at(600, 500)
        before = self.revision
        self.finger((x + 14, y + 12), (x + 14 + 60 * self.zoom, y + 12))
        self.wait(lambda: self.revision > before)
        self.near(self.box(piece), (300, 200, 660, 500), 4)

    def test_the_strip_duplicates_and_removes_and_goes(self):
        self.shape("rectangle", 300, 200, 300, 300)
        self.rest(450, 350)
        self.tap("#touch-strip button:has-text('Duplicate')")
        self.wait(lambda: len(self.sheet.items) == 2)
        self.settle()
        self.rest(460, 360)
        self.tap("#touch-strip button:has-text('Remove')")
        self.wait(lambda: len(self.sheet.items) == 1)
        self.settle()
        self.rest(450, 350)
        self.tap_sheet(900, 750)
        expect(self.page.locator("#touch-strip")).to_be_hidden()


class Sizes(TouchCase):
    maxDiff = None

    def test_nothing_to_press_is_small(self):
        self.bring_in()
        piece = self.shape("rectangle", 250, 200, 400, 300)
        self.shape("ellipse", 450, 300, 300, 300)
        small = []
        for many in (False, True):
            for station in ("draw", "cut", "fit", "finish", "export"):
                self.tap_sheet(300, 250)
                if many:
                    self.rest(300, 250)
                    small += [f"strip: {one}" for one in self.page.evaluate(SMALL)]
                    self.tap("#touch-add")
                    self.tap_sheet(700, 550)
                self.tap(f"#station-{station}")
                self.page.wait_for_function("() => !window.asking")
                small += [f"{station}: {one}" for one in self.page.evaluate(SMALL)]
        self.assertIn(piece, {i.id for i in self.sheet.items})
        for path in ("/", "/shelf/", "/batches/", "/guide/"):
            self.page.goto(f"{self.live_server_url}{path}")
            small += [f"{path}: {one}" for one in self.page.evaluate(SMALL)]
        self.assertEqual(sorted(set(small)), [])
