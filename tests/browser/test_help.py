"""Help for where one is: what the station is for, with a picture, its keys first, and a search."""

from playwright.sync_api import expect

from .base import BrowserCase


class Help(BrowserCase):
    def parts(self) -> list[str]:
        """Return the lists of keys that are shown, in their order."""
        found: list[str] = self.page.eval_on_selector_all(
            ".keys-list > section:not([hidden]) h3", "all => all.map(h => h.textContent)"
        )
        return found

    def test_it_begins_with_the_station_one_is_at(self):
        page = self.open()
        self.station(2)
        page.keyboard.press("?")
        expect(page.locator("#keys-h")).to_have_text("Help: Cut")
        expect(page.locator(".keys-here > div:visible")).to_have_count(1)
        words = page.locator(".keys-here > div:visible p")
        expect(words).to_contain_text("each card shows what they would become")
        picture = page.locator(".keys-here > div:visible img")
        page.wait_for_function("() => document.querySelector('.keys-here > div:not([hidden]) img').naturalWidth > 0")
        self.assertTrue(picture.get_attribute("alt"))
        self.assertEqual(self.parts(), ["Cut", "Everywhere", "Draw", "Fit", "Finish", "Export"])
        page.keyboard.press("Escape")
        expect(page.locator("dialog#keys")).to_be_hidden()
        self.station(5)
        page.get_by_role("button", name="Help and keys").click()
        self.assertEqual(self.parts(), ["Export", "Everywhere", "Draw", "Cut", "Fit", "Finish"])

    def test_a_search_leaves_what_is_found_and_says_so_where_nothing_is(self):
        page = self.open()
        page.keyboard.press("?")
        page.keyboard.type("silh")
        self.assertEqual(self.parts(), ["Fit"])
        self.assertGreater(page.locator(".keys-list dl > div:visible").count(), 3)
        page.keyboard.press("Enter")
        expect(page.locator("dialog#keys")).to_be_visible()
        page.locator("#find-key").fill("marmalade")
        self.assertEqual(self.parts(), [])
        expect(page.locator("#no-key")).to_have_text("No key does that. Try another word.")
        page.locator("#find-key").fill("")
        expect(page.locator("#no-key")).to_have_text("")
        self.assertEqual(len(self.parts()), 6)
