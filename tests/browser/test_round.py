"""From part to part by keyboard."""

from .base import BrowserCase


class Round(BrowserCase):
    def part(self) -> str:
        return self.page.evaluate("document.activeElement.closest('#drawer, #desk, #side, .stations')?.id ?? ''")

    def test_one_key_goes_round_also_out_of_a_field(self):
        page = self.open()
        page.keyboard.press("F6")
        self.assertEqual(self.part(), "drawer")
        page.keyboard.press("F6")
        self.assertEqual(self.part(), "desk")
        page.keyboard.press("F6")
        self.assertEqual(self.part(), "side")
        page.keyboard.press("F6")
        self.assertEqual(self.part(), "drawer")
        page.keyboard.press("Shift+F6")
        self.assertEqual(self.part(), "side")
        # a field that is being typed in lets it go
        page.locator("#project-name").focus()
        page.keyboard.press("Shift+F6")
        self.assertEqual(self.part(), "side")
        # a dialog keeps it
        page.keyboard.press("?")
        page.keyboard.press("F6")
        self.assertTrue(page.evaluate("document.querySelector('#keys').contains(document.activeElement)"))

    def test_a_rail_that_is_away_is_passed_over(self):
        page = self.open()
        page.set_viewport_size({"width": 700, "height": 700})
        page.locator("#desk").focus()
        page.keyboard.press("F6")
        self.assertEqual(self.part(), "desk")

    def test_the_stations_are_one_stop_with_arrows_between(self):
        page = self.open()
        page.locator("#project-name").focus()
        page.keyboard.press("Tab")
        self.assertEqual(page.evaluate("document.activeElement.id"), "station-draw")
        before = self.revision
        for key, name in (("ArrowRight", "cut"), ("End", "export"), ("ArrowRight", "draw"), ("ArrowLeft", "export")):
            page.keyboard.press(key)
            self.assertEqual(page.evaluate("document.activeElement.id"), f"station-{name}", key)
        page.keyboard.press("Enter")
        page.locator("#station-export[aria-current]").wait_for()
        self.assertEqual(page.locator(".stations button[tabindex='0']").get_attribute("id"), "station-export")
        page.keyboard.press("Tab")
        self.assertNotIn("station", page.evaluate("document.activeElement.id"))
        self.assertEqual(self.revision, before)

    def test_arrows_nudge_after_a_station_was_clicked(self):
        page = self.open()
        self.draw("rectangle", 100, 100, 200, 200)
        self.settle()
        page.click("#station-cut")
        before = self.revision
        page.keyboard.press("ArrowRight")
        self.wait(lambda: self.revision > before)

    def test_a_link_skips_to_the_sheet(self):
        page = self.open()
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Tab")
        self.assertEqual(page.evaluate("document.activeElement.innerText"), "Skip to the sheet")
        page.keyboard.press("Enter")
        self.assertEqual(self.part(), "desk")

    def test_a_notice_gives_the_focus_back(self):
        page = self.open()
        page.locator("#desk").focus()
        # nothing is selected, so it says why not
        page.keyboard.press("Control+g")
        self.notice()
        page.locator(".notice button").last.focus()
        page.keyboard.press("Enter")
        page.locator(".notice").wait_for(state="detached")
        self.assertEqual(self.part(), "desk")
