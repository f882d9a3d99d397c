"""Fields: what a number became, where an error goes, and lists that were chosen from by the pointer."""

from playwright.sync_api import expect

from tests.studio.helpers import jpeg

from .base import BrowserCase


class Fields(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()

    def photo(self, w: int, h: int) -> str:
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(w, h))
        return self.bring(file)

    def test_a_rounded_number_is_shown_as_it_became_also_where_nothing_moved(self):
        piece = self.draw("rectangle", 100, 100, 200, 200)
        field = self.page.locator("#g-x")
        field.fill("100.3")
        field.press("Enter")
        self.assertIn("100.3 was rounded to 100", self.notice("rounded"))
        expect(field).to_have_value("100")
        self.assertEqual(self.box(piece), (100, 100, 300, 300))

    def test_an_error_leaves_the_fields_of_panes_in_their_columns(self):
        self.photo(600, 600)
        self.station(3)
        before = [self.page.locator(f"#n-{n}").bounding_box()["x"] for n in ("columns", "rows", "gap_x", "gap_y")]
        self.page.fill("#n-columns", "0")
        self.page.click("#split")
        expect(self.page.locator("#n-columns-error")).to_contain_text("from 1 to 100")
        after = [self.page.locator(f"#n-{n}").bounding_box()["x"] for n in ("columns", "rows", "gap_x", "gap_y")]
        self.assertEqual(before, after)

    def test_letters_mean_what_they_mean_once_a_list_was_chosen_from_by_the_pointer(self):
        page = self.page
        page.keyboard.press("l")
        fonts = page.locator("#set-font")
        # by Tab a list takes letters itself
        fonts.focus()
        page.keyboard.press("p")
        expect(fonts).to_have_value("pacifico")
        fonts.click()
        page.keyboard.press("Escape")
        page.keyboard.press("r")
        expect(page.locator("#tool-rectangle")).to_have_attribute("aria-pressed", "true")

    def test_photos_always_keep_their_proportion_and_say_so(self):
        self.photo(300, 200)
        self.page.locator("#resize-fold summary").click()
        expect(self.page.locator("#keep-proportion")).to_be_checked()
        expect(self.page.locator("#keep-proportion")).to_be_disabled()
        self.draw("rectangle", 100, 100, 50, 50)
        expect(self.page.locator("#keep-proportion")).to_be_enabled()
        expect(self.page.locator("#keep-proportion")).not_to_be_checked()

    def test_a_refusal_offers_its_way_out(self):
        piece = self.draw("rectangle", 100, 100, 200, 200)
        self.page.locator(f"#row-{piece}").hover()
        self.page.locator(f"li:has(#row-{piece}) [aria-label^='Lock']").click()
        self.wait(lambda: self.item(piece).locked)
        self.settle()
        self.choose(piece)
        self.press("Delete", changes=False)
        self.notice("is locked")
        self.page.get_by_role("button", name="Unlock it").click()
        self.wait(lambda: not self.item(piece).locked)
        self.settle()
        self.press("Delete")
        self.assertEqual(self.sheet.items, ())

    def test_a_refusal_opens_the_tray(self):
        piece = self.draw("ellipse", 400, 300, 200, 200)
        self.photo(600, 400)
        self.choose(piece)
        self.press("p")
        self.choose(piece)
        for station in (3, 1):
            self.station(station)
            if station == 3:
                self.page.click("#replace-photo")
            else:
                self.page.keyboard.press("Enter")
                self.page.keyboard.press("Control+d")
            self.page.get_by_role("button", name="Open the tray").click()
            expect(self.page.locator(".tray-photo")).to_be_focused()
            self.page.locator("#desk").focus()

    def test_the_tray_has_the_focus_once_a_late_drawer_is_there(self):
        piece = self.draw("ellipse", 400, 300, 200, 200)
        self.photo(600, 400)
        self.choose(piece)
        self.press("p")
        self.choose(piece)
        self.station(3)
        self.page.click("#replace-photo")
        self.hold_back("/panels?")
        self.page.keyboard.press("1")
        self.wait_held_back()
        self.page.get_by_role("button", name="Open the tray").click()
        self.page.evaluate("window.come()")
        # the notice is gone, and the ring tells a hand on the pointer too where it was led
        expect(self.page.locator("#drawer[data-kind=draw] .tray-photo:focus-visible")).to_be_focused()
        expect(self.page.locator(".notice")).to_have_count(0)

    def test_what_can_only_refuse_looks_so_and_says_what_it_needs(self):
        photo = self.photo(600, 400)
        self.station(3)
        expect(self.page.locator("#put-in")).to_have_attribute("aria-disabled", "true")
        self.page.click("#put-in", force=True)
        self.notice("needs an outline to go into")
        self.draw("ellipse", 400, 300, 200, 200)
        self.choose(photo)
        expect(self.page.locator("#put-in:not([aria-disabled])")).to_be_visible()
        self.press("p")
        self.assertEqual(len(self.sheet.items[-1].photos), 1)
