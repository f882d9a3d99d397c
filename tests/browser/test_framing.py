"""Photos in and out of outlines, however they were brought in and chosen."""

import base64
import io

from PIL import Image
from playwright.sync_api import expect

from sheet.document.model import Photo
from sheet.geometry.geometry import box_of
from tests.studio.helpers import jpeg

from .base import BrowserCase

DROP = """([data, name, kind, x, y]) => {
  const bytes = Uint8Array.from(atob(data), c => c.charCodeAt(0));
  const transfer = new DataTransfer();
  transfer.items.add(new File([bytes], name, { type: kind }));
  const target = document.getElementById("desk");
  const init = { bubbles: true, cancelable: true, clientX: x, clientY: y };
  if (x === null) {
    document.dispatchEvent(new ClipboardEvent("paste", { ...init, clipboardData: transfer }));
    return;
  }
  for (const type of ["dragenter", "dragover", "drop"]) {
    target.dispatchEvent(new DragEvent(type, { ...init, dataTransfer: transfer }));
  }
}"""


class Framing(BrowserCase):
    def bring(
        self, data: bytes | None = None, name="sea.jpg", at: tuple[float, float] | None = None, how="drop"
    ) -> str:
        """Bring a photo in by dropping at a sheet point or pasting; return its id."""
        before = self.revision
        x, y = self.at(*at) if at else (None, None)
        self.page.evaluate(DROP, [base64.b64encode(data or jpeg(600, 400)).decode(), name, "image/jpeg", x, y])
        self.wait(lambda: self.revision > before)
        self.settle()
        return [i.id for i in self.sheet.items if isinstance(i, Photo)][-1]

    def test_dropping_and_pasting(self):
        self.open()
        dropped = self.bring(at=(400, 300))
        self.near(self.box(dropped), (100, 100, 700, 500))
        pasted = self.bring(name="image.png")
        self.near(self.box(pasted), (200, 200, 800, 600))
        expect(self.page.locator("#art image")).to_have_count(2)
        loaded = self.page.eval_on_selector("#art image", "i => fetch(i.getAttribute('href')).then(r => r.status)")
        self.assertEqual(loaded, 200)

    def test_a_photo_that_rests_over_an_outline_goes_in_when_it_is_dropped(self):
        self.open()
        photo = self.bring(jpeg(300, 200), at=(200, 150))
        piece = self.draw("ellipse", 600, 400, 200, 150)
        self.page.keyboard.press("Escape")

        def rested(words="Goes into"):
            expect(self.page.locator("#desk")).to_have_attribute("data-into", f"{words} Ellipse 1")

        self.drag((200, 150), (700, 470), rested)
        self.wait(lambda: len(self.sheet.items) == 1)
        self.near(box_of(self.item(piece).photos[0]), (550, 370, 850, 570), 12)
        self.settle()
        # over a frame it is in the place of the photo there; both can be kept
        other = self.bring(jpeg(300, 200, color=(9, 9, 9)), name="dusk.jpg", at=(200, 150))
        self.drag((200, 150), (700, 470), lambda: rested("Replaces the photo of"))
        self.wait(lambda: [p.name for p in self.item(piece).photos] == ["dusk.jpg"])
        self.page.get_by_role("button", name="Keep both").click()
        self.wait(lambda: len(self.item(piece).photos) == 2)
        # without a rest it is only moved
        self.settle()
        self.bring(jpeg(300, 200), name="third.jpg", at=(200, 150))
        self.drag((200, 150), (700, 470))
        self.wait(lambda: self.box(self.sheet.items[0].id)[0] > 500)
        self.assertEqual(len(self.sheet.items), 2)
        self.assertNotEqual(photo, other)

    def test_a_photo_from_elsewhere_fills_the_outline_and_can_be_put_back(self):
        page = self.open()
        photo = self.bring(jpeg(300, 200), at=(200, 150))
        piece = self.draw("ellipse", 600, 400, 200, 150)
        self.choose(photo, piece)
        self.press("p")
        self.notice("was elsewhere, and was moved to fill")
        self.near(box_of(self.item(piece).photos[0]), (588, 400, 812, 550), 4)
        before = self.revision
        page.get_by_role("button", name="Put it back where it was").click()
        self.wait(lambda: self.revision != before)
        self.near(self.box(photo), (50, 50, 350, 250))
        self.assertEqual(self.item(piece).photos, ())

    def test_a_photo_as_large_as_the_sheet_snaps_to_it_when_it_is_dropped(self):
        self.open()
        photo = self.bring(jpeg(1000, 800), at=(507, 395))
        self.assertEqual(box_of(self.item(photo)), (0, 0, 1000, 800))
        # one that is nearly so is not drawn in
        other = self.bring(jpeg(900, 700), name="less.jpg", at=(507, 395))
        self.near(self.box(other), (57, 45, 957, 745), 1)

    def test_bad_files_are_told_where_they_were_dropped_and_good_ones_still_come(self):
        page = self.open()
        x, y = self.at(300, 300)
        page.evaluate(DROP, [base64.b64encode(b"not a picture").decode(), "notes.txt", "text/plain", x, y])
        self.assertIn("notes.txt", self.notice())
        self.assertIn("JPEG", self.notice())
        page.evaluate(DROP, [base64.b64encode(jpeg(900, 700)[:3000]).decode(), "half.jpg", "image/jpeg", x, y])
        self.notice("cut short")
        self.assertEqual(self.revision, 1)

    def test_a_photos_row_dropped_on_an_outlines_row_goes_in_and_on_a_frames_row_replaces(self):
        page = self.open()
        piece = self.draw("rectangle", 50, 50, 300, 200)
        page.keyboard.press("Escape")
        first, second = self.bring(at=(800, 600)), self.bring(jpeg(300, 300, (20, 90, 160)), "dusk.jpg", at=(700, 650))

        def drop(one: str, other: str, y: int) -> None:
            before = self.revision
            page.locator(f"#entry-{one}").drag_to(page.locator(f"#entry-{other}"), target_position={"x": 60, "y": y})
            self.wait(lambda: self.revision > before)
            self.settle()

        drop(first, piece, 13)
        self.assertEqual([p.id for p in self.item(piece).photos], [first])
        drop(second, piece, 13)
        self.assertEqual([p.id for p in self.item(piece).photos], [second])
        self.assertEqual([i.id for i in self.sheet.items], [piece])
        # nearer to its edge it is stacked as ever
        page.keyboard.press("Escape")
        third = self.bring(jpeg(200, 300), "third.jpg", at=(300, 650))
        drop(third, piece, 3)
        self.assertEqual([i.id for i in self.sheet.items], [piece, third])

    def test_photos_in_one_frame_are_listed_top_first_and_stacked_by_dragging_and_keys(self):
        page = self.open()
        piece = self.draw("rectangle", 50, 50, 300, 300)
        page.keyboard.press("Escape")
        lower, upper = self.bring(at=(800, 600)), self.bring(jpeg(300, 300, (20, 90, 160)), "dusk.jpg", at=(700, 650))
        self.choose(piece, lower, upper)
        self.press("p")

        def rows() -> list[str]:
            return page.eval_on_selector_all(f"[data-within={piece}]", "all => all.map(r => r.dataset.stack)")

        self.assertEqual(rows(), [p.id for p in reversed(self.item(piece).photos)])
        top, below = rows()
        before = self.revision
        page.locator(f"#entry-{below}").drag_to(page.locator(f"#entry-{top}"), target_position={"x": 60, "y": 3})
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertEqual(rows(), [below, top])
        self.choose(top)
        self.press("Home")
        self.assertEqual(rows(), [top, below])
        self.assertEqual([p.id for p in self.item(piece).photos], [below, top])

    def test_a_flipped_photo_says_so(self):
        page = self.open()
        photo = self.bring(at=(400, 300))
        row = page.locator(f"#row-{photo}")
        expect(row).not_to_contain_text("flipped")
        self.choose(photo)
        self.push("#flip-across")
        expect(row).to_contain_text("px/in, flipped")
        self.assertIn("-1", row.locator("img").evaluate("image => getComputedStyle(image).transform"))

    def test_the_row_that_has_the_focus_is_drawn_anew_too(self):
        page = self.open()
        piece = self.draw("rectangle", 200, 200, 200, 200)
        row = page.locator(f"#row-{piece}")
        row.click()
        self.station(3)
        # nothing lies under it, and nothing is selected with it
        expect(page.locator(".advice").first).to_contain_text("hold Shift and click the photo")
        page.keyboard.press("p")
        self.notice("Every photo under “Rectangle 1” is in a frame")
        self.choose(self.bring(at=(800, 650)), piece)
        self.press("p")
        expect(row.locator("em")).to_have_text("frame")
        row.focus()
        self.press("t")
        self.assertEqual(page.evaluate("document.activeElement.id"), f"row-{piece}")
        expect(row.locator("em")).to_have_text("piece")

    def test_a_photo_shows_through_a_piece_drawn_over_it(self):
        page = self.open()
        self.bring(at=(400, 300))
        piece = self.draw("rectangle", 200, 200, 200, 200)
        opacity = page.eval_on_selector(f"#art g[data-id={piece}] .shape", "e => getComputedStyle(e).fillOpacity")
        self.assertLess(float(opacity), 0.6)
        x, y = self.at(300, 300)
        shot = Image.open(io.BytesIO(page.screenshot())).convert("RGB")
        r, g, b = shot.getpixel((int(x), int(y)))
        # between the photo (200, 80, 60) and the piece's sand (201, 189, 164)
        self.assertTrue(90 < g < 160, (r, g, b))
        page.keyboard.press("v")
        opacity = page.eval_on_selector(f"#art g[data-id={piece}] .shape", "e => getComputedStyle(e).fillOpacity")
        self.assertEqual(float(opacity), 1)
        self.assertEqual(self.item(piece).paint.opacity, 1)

    def test_put_in_whatever_is_on_top_and_move_each_alone(self):
        page = self.open()
        photo = self.bring(at=(400, 300))
        piece = self.draw("ellipse", 300, 200, 200, 200)
        self.choose(photo)
        self.press("Home")
        self.choose(piece, photo)
        self.station(4)
        self.fill("#p-stroke", "#22302f")
        stroke = self.item(piece).paint.stroke
        self.press("p")
        frame = self.item(piece)
        self.assertEqual((frame.kind, frame.paint.stroke), ("frame", stroke))
        expect(page.locator("#art [clip-path]")).to_have_count(1)
        expect(page.locator("#art path[stroke]")).to_have_attribute("stroke", stroke)

        def lay():
            return tuple(round(v) for v in box_of(self.item(piece).photos[0]))

        photo_at, outline_at = lay(), self.box(piece)
        # the outline alone
        self.station(3)
        page.keyboard.press("o")
        self.drag_item((400, 300), (450, 320))
        self.near(self.box(piece), tuple(v + d for v, d in zip(outline_at, (50, 20, 50, 20), strict=True)))
        self.assertEqual(lay(), photo_at)
        page.keyboard.press("o")
        # both together
        self.drag_item((450, 320), (400, 300))
        self.near(self.box(piece), outline_at)
        self.near(lay(), tuple(v - d for v, d in zip(photo_at, (50, 20, 50, 20), strict=True)))
        # the photo alone, and larger
        self.choose(piece)
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        ghost = page.locator("#art g.stepped .ghost image")
        expect(ghost).to_be_visible()
        self.assertLess(float(ghost.evaluate("e => getComputedStyle(e).opacity")), 0.5)
        before = lay()
        outline_at = self.box(piece)
        self.drag_item((400, 300), (440, 300))
        self.near(lay(), tuple(v + d for v, d in zip(before, (40, 0, 40, 0), strict=True)))
        self.drag_handle("se", 60, 40)
        x0, _, x1, _ = lay()
        self.near((x1 - x0,), (660,), 6)
        m = self.item(piece).photos[0].placing
        self.assertAlmostEqual(m.a, m.d)
        self.assertEqual(self.box(piece), outline_at)
        page.keyboard.press("Escape")
        expect(page.locator("#art g.stepped")).to_have_count(0)
        # and out again
        inside = self.item(piece).photos[0]
        self.choose(piece)
        self.press("t")
        self.assertEqual(self.sheet.items[0], inside)
        self.assertEqual(self.item(piece).photos, ())

    def drag_item(self, start, end) -> None:
        """Drag something on the sheet and wait for the change."""
        before = self.revision
        self.drag(start, end)
        self.wait(lambda: self.revision > before)
        self.settle()

    def test_no_outline_chosen_says_what_to_choose(self):
        page = self.open()
        photo = self.bring(at=(400, 300))
        self.choose(photo)
        before = self.revision
        page.keyboard.press("p")
        self.assertIn("needs an outline", self.notice())
        self.assertEqual(self.revision, before)
        self.station(3)
        expect(page.locator("#drawer .advice:visible")).to_contain_text("hold Shift")

    def test_cover_and_show_all(self):
        page = self.open()
        self.bring(at=(400, 300))
        piece = self.draw("rectangle", 300, 200, 100, 300)
        self.choose(piece)
        self.press("p")
        self.station(3)
        for how, box in (("fit", (300, 317, 400, 383)), ("cover", (125, 200, 575, 500))):
            before = self.revision
            page.click(f"#settle-{how}")
            self.wait(lambda before=before: self.revision > before)
            self.near(tuple(box_of(self.item(piece).photos[0])), box, 4)
            self.settle()
