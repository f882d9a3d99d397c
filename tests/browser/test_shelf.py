"""The shelf by pointer and keyboard: kept, found, drawn, taken over; its page."""

from playwright.sync_api import expect

from sheet.geometry.geometry import box_of
from studio.library import shelf
from studio.models import Project, ShelfItem, ShelfVersion
from tests.studio.helpers import jpeg

from .base import BrowserCase


class ShelfCase(BrowserCase):
    def keep(self, name="Porthole card"):
        """A piece, kept from the keyboard; return its id and its number on the shelf."""
        self.open()
        item = self.draw("rectangle", 100, 100, 400, 300)
        self.choose(item)
        self.page.keyboard.press("Shift+K")
        dialog = self.page.locator("#keep")
        expect(dialog.locator("#keep-name")).to_be_focused()
        self.page.keyboard.type(name)
        self.page.keyboard.press("Tab")
        self.page.keyboard.type("ferry summer")
        self.press("Enter")
        expect(dialog).to_be_hidden()
        one = ShelfItem.objects.get()
        self.pk = one.pk
        return item, one.key


class Keeping(ShelfCase):
    def test_kept_found_and_drawn_like_any_piece(self):
        _, pk = self.keep()
        page = self.page
        self.assertIn("is on the shelf", self.notice())
        expect(page.locator("#shelf_link")).to_contain_text("version 1")
        page.keyboard.press("y")
        tile = page.locator(f"#ready-shelf-{pk}-")
        expect(tile).to_be_visible()
        # one search over both
        page.fill("#find-ready", "summer")
        expect(page.locator(".outline-tile:visible")).to_have_count(1)
        page.fill("#find-ready", "leaf")
        expect(tile).to_be_hidden()
        expect(page.locator("#ready-leaf")).to_be_visible()
        page.fill("#find-ready", "no such thing")
        expect(page.locator("#found-none")).to_be_visible()
        page.fill("#find-ready", "porthole c")
        page.keyboard.press("Enter")
        expect(tile).to_have_attribute("aria-pressed", "true")
        before = self.revision
        page.keyboard.down("Shift")
        self.drag((550, 450), (750, 500), lambda: expect(page.locator("#live path.drawing")).to_have_count(1))
        page.keyboard.up("Shift")
        self.wait(lambda: self.revision > before)
        made = self.sheet.items[-1]
        self.assertEqual((made.name, made.shelf_link.item), ("Porthole card 1", pk))
        x0, y0, x1, y1 = box_of(made)
        self.near(((x1 - x0) / (y1 - y0),), (4 / 3,), 0.02)

    def test_one_that_is_found_before_its_tiles_are_here(self):
        self.open()
        page = self.page
        # in the page and not on the way, since the browser may have them of an earlier test
        self.hold_back("/ready/tiles")
        page.keyboard.press("y")
        page.locator("#find-ready").fill("scalloped d")
        page.keyboard.press("Enter")
        self.wait_held_back()
        (x0, y0), (x1, y1) = self.at(100, 100), self.at(400, 400)
        page.mouse.move(x0, y0)
        page.mouse.down()
        page.mouse.move(x1, y1, steps=3)
        page.mouse.up()
        before = self.revision
        page.evaluate("window.come()")
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.sheet.items[-1].name, "Scalloped disc 1")

    def test_exact_numbers_and_into_an_outline(self):
        item, pk = self.keep()
        page = self.page
        page.keyboard.press("y")
        page.locator(f"#ready-shelf-{pk}-").click()
        self.choose(item)
        page.keyboard.press("s")
        self.click(150, 150)
        page.locator("#exact input[name=width]").fill("1in")
        page.locator("#exact input[name=height]").fill("60")
        self.press("Enter")
        self.assertEqual([s.operation for s in self.sheet.items[-1].shape.steps], ["subtract"])
        x0, y0, x1, y1 = box_of(self.sheet.items[-1].shape.steps[0].member)
        self.near((x1 - x0, y1 - y0), (100, 60), 1e-6)

    def test_arrows_go_from_tile_to_tile(self):
        self.open()
        page = self.page
        page.keyboard.press("y")
        page.locator(".outline-tile").first.wait_for()
        page.locator("#find-category").select_option("Corners")
        page.locator("#find-ready").focus()
        page.keyboard.press("ArrowDown")
        first = page.evaluate("document.activeElement.id")
        page.keyboard.press("ArrowRight")
        second = page.evaluate("document.activeElement.id")
        self.assertNotEqual(first, second)
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.locator(".outline-tile[aria-pressed=true]")).to_have_count(1)
        # only one of a hundred is a stop for Tab
        self.assertEqual(page.locator(".outline-tile:visible[tabindex='0']").count(), 1)

    def test_what_cannot_be_kept_is_told(self):
        self.open()
        self.page.keyboard.press("Shift+K")
        self.assertIn("Adding to the shelf needs one thing", self.notice())
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg())
        self.choose(self.bring(file))
        self.page.keyboard.press("Shift+K")
        self.assertIn("is a photo", self.notice("is a photo"))

    def test_a_newer_version_is_marked_and_taken_over(self):
        item, pk = self.keep()
        page = self.page
        sheet = self.sheet
        shelf.add(self.user, sheet, item, "", of=pk)
        page.evaluate("dispatchEvent(new Event('focus'))")
        self.open()
        expect(page.locator(f"#row-{item} .newer")).to_have_count(1)
        self.choose(item)
        self.push("#take-over")
        self.assertEqual(self.item(item).shelf_link.version, 2)
        expect(page.locator(".newer")).to_have_count(0)
        self.press("Control+z")
        expect(page.locator(f"#row-{item} .newer")).to_have_count(1)
        # and it is kept as a version once more
        self.choose(item)
        self.push("#keep-version")
        self.assertEqual(ShelfItem.objects.get().made, 3)


class Changing(ShelfCase):
    def test_opened_a_flourish_added_kept_and_taken_over(self):
        item, _ = self.keep()
        page, mine = self.page, self.project
        page.goto(f"{self.live_server_url}/shelf")
        page.get_by_role("button", name="Use in a new project", exact=True).click()
        page.wait_for_selector("html[data-ready]")
        self.project = Project.objects.exclude(pk=mine.pk).get()
        page.keyboard.press("e")
        self.drag((420, 150), (500, 230))
        self.wait(lambda: len(self.sheet.items) == 2)
        self.settle()
        page.keyboard.press("Control+a")
        self.press("u")
        self.push("#keep-version")
        self.assertIn("version 2", self.notice("is on the shelf"))
        self.project = mine
        self.open()
        self.choose(item)
        self.push("#take-over")
        self.assertEqual(len(self.item(item).shape.steps), 1)
        expect(page.locator("#shelf_link")).to_contain_text("version 2")


class Page(ShelfCase):
    def test_variants_change_send_and_take_off(self):
        self.keep()
        pk = self.pk
        page = self.page
        page.goto(f"{self.live_server_url}/shelf")
        page.get_by_role("button", name="More for").first.click()
        page.get_by_role("button", name="Make landscape, square and portrait").click()
        expect(page.locator(".shelf-variants li")).to_have_count(2)
        page.get_by_role("button", name="Make the square of Porthole card independent").click()
        expect(page.locator(".shelf-variants")).to_contain_text("independent")
        page.fill("#find", "winter")
        expect(page.locator(".shelf-list > li").first).to_be_hidden()
        page.fill("#find", "ferry")
        expect(page.locator(".shelf-list > li").first).to_be_visible()
        page.get_by_role("button", name="More for Porthole card").click()
        with page.expect_download() as sent:
            page.get_by_role("link", name="Save as a file").click()
        file = self.folder / "card.gouge"
        sent.value.save_as(file)
        page.get_by_role("button", name="More for Porthole card").click()
        page.get_by_role("button", name="Take off the shelf").click()
        expect(page.locator(".shelf-list > li")).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        expect(page.locator(".shelf-list > li")).to_have_count(1)
        page.set_input_files("#file", str(file))
        expect(page.locator(".shelf-list > li")).to_have_count(2)
        self.assertEqual(ShelfVersion.objects.exclude(item=pk).count(), 3)
        page.get_by_role("button", name="Use in a new project", exact=True).first.click()
        page.wait_for_selector("html[data-ready]")
        expect(page.locator(".row-item")).to_contain_text("Porthole card")


class Folded(BrowserCase):
    unfolded = False

    def test_the_shapes_come_first_and_the_shelf_is_folded_above_until_it_is_sought(self):
        self.open()
        page = self.page
        self.choose(self.draw("ellipse", 100, 100, 200, 200))
        page.keyboard.press("Shift+K")
        page.fill("#keep-name", "Porthole")
        page.keyboard.press("Enter")
        self.notice("Porthole")
        page.keyboard.press("y")
        expect(page.locator("#shelf-count")).to_have_text("1")
        ready, kept = page.locator("#ready-tiles .outline-tile").first, page.locator("#shelf-tiles .outline-tile")
        expect(ready).to_be_in_viewport()
        expect(kept).to_be_hidden()
        # a search that finds something there unfolds it, one that does not folds it again
        page.fill("#find-ready", "porth")
        expect(kept).to_be_visible()
        page.keyboard.press("Enter")
        expect(kept).to_have_attribute("aria-pressed", "true")
        page.fill("#find-ready", "")
        expect(kept).to_be_hidden()
        # as a person leaves it, it stays
        page.locator("#tiles-fold summary").click()
        expect(kept).to_be_visible()
        page.reload()
        page.wait_for_selector("html[data-ready]")
        page.keyboard.press("y")
        expect(kept).to_be_visible()
