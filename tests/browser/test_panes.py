"""Panes by pointer and keyboard: split, changed, joined, spread, made whole."""

import io

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from sheet.document.model import Group
from sheet.geometry.covering import uncovered
from sheet.geometry.geometry import box_of
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Panes(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 600))
        self.photo = self.bring(file)
        self.station(3)

    @property
    def group(self):
        return next(i for i in self.sheet.items if isinstance(i, Group))

    def boxes(self):
        return {p.name: tuple(round(v, 2) for v in box_of(p)) for p in self.group.items}

    def test_split_by_dragging_over_the_grid_and_seen_at_once(self):
        page = self.page
        page.locator("#pane-picker").scroll_into_view_if_needed()
        box = page.locator("#pane-picker").bounding_box()
        page.mouse.move(box["x"] + 5, box["y"] + 5)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] * 3.5 / 8, box["y"] + box["height"] * 1.5 / 6)
        expect(page.locator("#n-columns")).to_have_value("4")
        expect(page.locator("#n-rows")).to_have_value("2")
        # four columns of two rows: eight closed loops are shown before anything is done
        self.wait(lambda: (page.locator("#panes-live path").first.get_attribute("d") or "").count("M") == 8)
        page.mouse.up()
        self.push("#split")
        self.assertEqual(len(self.group.items), 8)
        expect(page.locator("#panes-live path")).to_have_count(0)
        expect(page.locator(".pane-cell")).to_have_count(8)

    def test_by_keyboard_alone_and_changed_while_it_is_seen(self):
        page = self.page
        page.locator("#n-gap_x").focus()
        page.keyboard.type("30")
        page.wait_for_selector("#panes-live path", state="attached")
        before = self.revision
        page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertEqual(len(self.group.items), 9)
        side = (600 - 60) / 3
        x0, _, x1, _ = self.boxes()["Pane 1.1"]
        self.near((x1 - x0,), (side,), 0.01)
        self.fill("#pane-columns", "2")
        self.assertEqual(len(self.group.items), 6)
        # sums and units, in these fields too
        self.fill("#pane-gap_x", "2*10")
        self.assertEqual(self.group.panes.gap_x, 20)
        # nothing is left of the panes: said at the field, and it stays as it was
        field = page.locator("#pane-gap_y")
        field.fill("900")
        field.press("Enter")
        expect(page.locator("#pane-gap_y-error")).to_contain_text("gaps leave nothing")
        self.assertEqual(self.group.panes.gap_y, 0)

    def test_joined_left_out_spread_and_whole_again(self):
        page = self.page
        self.push("#split")
        for cell in (0, 1):
            page.locator(f"#pane-{cell}").click()
        self.push("#panes-join")
        self.assertEqual(len(self.group.items), 8)
        page.locator("#pane-202").focus()
        page.keyboard.press("Space")
        expect(page.locator("#pane-202")).to_have_attribute("aria-pressed", "true")
        self.push("#panes-out")
        self.assertEqual(len(self.group.items), 7)
        expect(page.locator("#pane-202")).to_have_attribute("aria-label", "Pane 3.3, left out")
        self.fill("#pane-spread_x", "60")
        inner = [box_of(p.photos[0])[0] for p in self.group.items]
        self.assertEqual(len(set(inner)), 1)
        self.assertIn("not filled", self.notice("not filled"))
        before = self.revision
        page.get_by_role("button", name="Move it with its pane").click()
        self.wait(lambda: self.revision > before)
        self.settle()
        expect(page.locator("#picture-travels")).to_be_checked()
        self.assertGreater(len({box_of(p.photos[0])[0] for p in self.group.items}), 1)
        self.push("#make-whole")
        self.assertEqual([i.id for i in self.sheet.items], [self.photo])
        self.press("Control+z")
        self.assertEqual(len(self.group.items), 7)

    def test_one_pane_takes_another_photo(self):
        page = self.page
        self.push("#split")
        file = self.folder / "lamp.jpg"
        file.write_bytes(jpeg(300, 300, "#e0a030"))
        other = self.bring(file)
        pane = self.group.items[4].id
        page.locator(f"#row-{other}").click()
        page.locator(f"#row-{pane}").click(modifiers=["Shift"])
        self.press("p")
        self.assertEqual([p.photos[0].name for p in self.group.items].count("lamp.jpg"), 1)
        self.assertEqual(len(self.sheet.items), 1)

    def test_on_whole_px_three_panes_butt_without_a_seam(self):
        # 400 px in three: 133 · 134 · 133
        piece = self.draw("rectangle", 100, 100, 400, 400)
        self.choose(self.photo, piece)
        self.press("p")
        self.choose(piece)
        self.page.locator("#split-fold").evaluate("fold => { fold.open = true; }")
        self.push("#split")
        self.assertNotAlmostEqual(self.boxes()["Pane 1.2"][0] % 1, 0, places=2)
        self.page.locator("#panes-whole").focus()
        before = self.revision
        self.page.keyboard.press("Space")
        self.wait(lambda: self.revision > before)
        self.settle()
        boxes = self.boxes()
        row = [boxes[f"Pane 1.{n}"] for n in (1, 2, 3)]
        self.assertEqual([x1 for _, _, x1, _ in row[:2]], [x0 for x0, *_ in row[1:]])
        self.assertEqual([round(x1 - x0) for x0, _, x1, _ in row], [133, 134, 133])
        data = self.exported(what="sheet", extent="trimmed", format="png")
        alpha = np.asarray(Image.open(io.BytesIO(data)).convert("RGBA"))[..., 3]
        self.assertEqual(np.unique(alpha).tolist(), [255])

    def test_every_uncovered_pane_is_named_and_a_press_away(self):
        page = self.page
        self.push("#split")
        self.fill("#pane-spread_x", "60")
        before = self.revision
        page.get_by_role("button", name="Move it with its pane").click()
        self.wait(lambda: self.revision > before)
        self.settle()
        group = self.group.id
        bare = [p for p in self.group.items if uncovered(p) > 0.005]
        self.assertEqual(bare, [])
        self.fill("#pane-spread_y", "80")
        page.locator("#picture-stays").check()
        self.wait(lambda: any(uncovered(p) > 0.005 for p in self.group.items))
        self.settle()
        bare = [p for p in self.group.items if uncovered(p) > 0.005]
        self.assertGreater(len(bare), 1)
        for pane in bare:
            self.choose(group)
            pick = page.locator(f"#pick-{pane.id}")
            expect(pick).to_have_text(pane.name)
            pick.focus()
            page.keyboard.press("Enter")
            expect(page.locator("#hint-chosen")).to_contain_text(pane.name)

    def test_what_cannot_be_split_says_so(self):
        self.page.locator("#n-rows").fill("0")
        self.page.locator("#split").click()
        expect(self.page.locator(".field-error").first).to_contain_text("rows must be a whole number")
        self.assertEqual(len(self.sheet.items), 1)
