"""The person's own font: added beside the list of fonts, and set along its axis."""

from playwright.sync_api import expect

from sheet.caching import clear
from tests.made_font import made_font

from .base import BrowserCase


class Fonts(BrowserCase):
    def setUp(self):
        super().setUp()
        self.addCleanup(clear)
        self.open()
        # the dialog itself is the system's: that it is asked for is seen, and its answer given
        self.page.evaluate(
            "() => document.getElementById('font-file').addEventListener('click', e => e.preventDefault())"
        )

    def choose_file(self, data: bytes, name: str) -> None:
        file = self.folder / name
        file.write_bytes(data)
        self.page.set_input_files("#font-file", str(file))

    def test_brought_in_typed_in_and_made_heavier(self):
        page = self.page
        page.keyboard.press("l")
        page.locator("[data-for=lettering] .file-in").click()
        self.choose_file(made_font("Marram Flex", variable=True), "flex.ttf")
        self.notice("“Marram Flex” is in your fonts.")
        expect(page.locator("#set-font option:checked")).to_have_text("Marram Flex · variable")
        page.fill("#set-size", "300 px")
        page.press("#set-size", "Enter")
        self.click(300, 500)
        before = self.revision
        page.locator("#letter [name=text]").fill("A")
        expect(page.locator("#letter-marks path")).to_have_count(1)
        page.keyboard.press("Control+Enter")
        self.wait(lambda: self.revision > before)
        self.settle()
        word = self.sheet.items[0].id
        self.choose(word)
        self.near(self.box(word), (330, 290, 420, 500))
        self.fill("#axis-wght", "900")
        self.near(self.box(word), (330, 290, 510, 500))
        # a number that the font does not go to says so at its field
        page.fill("#axis-wght", "9000")
        page.press("#axis-wght", "Enter")
        expect(page.locator(".field-error", has_text="Weight goes from 100 to 900")).to_be_visible()
        # one for a word that is there already
        page.locator("#dimensions .file-in").click()
        self.choose_file(made_font(), "marram.ttf")
        self.wait(lambda: "Marram Sans" in self.item(word).shape.font)
        self.near(self.box(word), (330, 290, 420, 500))

    def test_letters_that_it_lacks_are_refused_where_they_are_typed(self):
        page = self.page
        page.keyboard.press("l")
        page.locator("[data-for=lettering] .file-in").click()
        self.choose_file(made_font("Marram Flex"), "flex.ttf")
        self.notice("“Marram Flex” is in your fonts.")
        self.click(300, 700)
        form = page.locator("#letter")
        top = form.bounding_box()["y"]
        form.locator("[name=text]").fill("NOON")
        page.keyboard.press("Control+Enter")
        expect(form.locator(".field-error")).to_have_text(
            "Marram Flex has no “N”, “O”. Type other letters, or choose another font."
        )
        self.idle()
        # nothing is drawn that it would have to step aside for
        self.assertEqual(form.bounding_box()["y"], top)
        form.locator("[name=text]").fill("AN")
        self.press("Control+Enter")
        self.assertIn("Marram Flex has no “N”: left out.", self.notice("left out"))

    def test_what_is_no_font_is_told_and_nothing_changes(self):
        self.page.keyboard.press("l")
        self.page.locator("[data-for=lettering] .file-in").click()
        self.choose_file(b"not a font" * 50, "notes.ttf")
        self.notice("“notes.ttf” isn’t a font that can be read.")
        expect(self.page.locator("#set-font optgroup[data-own]")).to_have_count(0)
