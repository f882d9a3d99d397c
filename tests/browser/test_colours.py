"""Colours in Finish by pointer and keyboard: sampled under the loupe, of the photo, kept, copied."""

import re

from playwright.sync_api import expect

from tests.studio.helpers import jpeg

from .base import BrowserCase


class Colours(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        self.a = self.draw("rectangle", 100, 100, 200, 200)
        self.b = self.draw("ellipse", 600, 100, 200, 200)
        self.choose(self.a)
        self.station(4)
        self.fill("#p-fill", "#0a5a78")

    def test_sampled_by_one_key_and_a_click(self):
        page = self.page
        self.choose(self.b)
        page.keyboard.press(".")
        page.mouse.move(*self.at(200, 200))
        expect(page.locator("#loupe")).to_be_visible()
        expect(page.locator("#loupe")).to_contain_text("#0a5a78")
        expect(page.locator("#sample-bar")).to_contain_text("#0a5a78 to the fill")
        page.locator("#sample-15").click()
        expect(page.locator("#sample-15")).to_have_attribute("aria-pressed", "true")
        before = self.revision
        self.click(200, 200)
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.item(self.b).paint.fill, "#0a5a78")
        expect(page.locator("#loupe")).to_be_hidden()
        expect(page.locator("#sample-bar")).to_be_hidden()

    def test_by_keyboard_to_the_backdrop_and_left_with_escape(self):
        page = self.page
        page.locator("#colour-to-backdrop").click()
        page.locator("#tool-sample").focus()
        page.keyboard.press("Enter")
        # from the middle of the desk to the rectangle, by tens
        page.keyboard.press("Shift+ArrowLeft")
        expect(page.locator("#loupe")).to_contain_text("nothing")
        for _ in range(40):
            if "#0a5a78" in page.locator("#loupe").inner_text():
                break
            page.keyboard.press("Shift+ArrowLeft")
            page.keyboard.press("Shift+ArrowUp")
            page.wait_for_timeout(60)
        before = self.revision
        page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.sheet.backdrop, "#0a5a78")
        page.keyboard.press(".")
        expect(page.locator("#sample-bar")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.locator("#sample-bar")).to_be_hidden()

    def test_nothing_there_and_nothing_chosen_are_said(self):
        page = self.page
        page.keyboard.press(".")
        self.click(500, 600)
        self.assertIn("nothing there", self.notice("nothing there"))
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        page.keyboard.press(".")
        # with nothing selected there is one row, and a colour goes there
        expect(page.locator("#colours-go")).to_have_text("to the backdrop")
        before = self.revision
        self.click(200, 200)
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.sheet.backdrop, "#0a5a78")

    def test_the_row_that_is_clicked_is_where_colours_go(self):
        page = self.page
        self.choose(self.b)
        expect(page.locator("#colour-to-fill")).to_have_attribute("aria-pressed", "true")
        page.locator("#p-stroke").click()
        expect(page.locator("#colours-go")).to_have_text("to the border")
        expect(page.locator("#colour-to-fill")).to_have_attribute("aria-pressed", "false")
        # Tab on to the backdrop's row changes nothing; Enter on its word does
        page.locator("#backdrop").focus()
        expect(page.locator("#colours-go")).to_have_text("to the border")
        page.locator("#colour-to-backdrop").focus()
        page.keyboard.press("Enter")
        expect(page.locator("#colours-go")).to_have_text("to the backdrop")

    def test_of_the_photo_to_the_border_and_how_it_stands_out(self):
        page = self.page
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(400, 400, "#b5432a"))
        photo = self.bring(file)
        self.choose(photo, self.a)
        self.press("p")
        page.locator("#colour-to-stroke").click()
        swatch = page.locator("#photo-colours .swatch").first
        expect(swatch).to_have_attribute("aria-label", re.compile("#b5432., of the photo"))
        before = self.revision
        swatch.click()
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.item(self.a).paint.stroke[:6], "#b5432")
        # its own colour does not stand out at all
        expect(page.locator("#photo-colours")).to_contain_text("1.0 : 1 with the photo")

    def test_kept_given_and_let_go(self):
        page = self.page
        self.push("#keep-swatch")
        self.assertEqual(self.sheet.swatches, ("#0a5a78",))
        self.choose(self.b)
        before = self.revision
        page.locator("#swatches .swatch").click()
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.item(self.b).paint.fill, "#0a5a78")
        self.settle()
        self.push("#swatches .swatch-drop")
        self.assertEqual(self.sheet.swatches, ())

    def test_paint_is_copied_by_one_key(self):
        self.fill("#p-stroke_width", "9")
        self.choose(self.a, self.b)
        self.press(",")
        self.assertEqual(self.item(self.b).paint, self.item(self.a).paint)

    def test_a_gradient_by_the_drawer_is_drawn_as_it_is_exported(self):
        page = self.page
        self.push("#p-fill-gradient")
        self.push("#g-fill-reverse")
        self.push("#g-fill-add")
        self.fill("#g-fill-1-at", "20 + 5")
        self.fill("#g-fill-angle", "90")
        fill = self.item(self.a).paint.fill
        self.assertEqual([s.at for s in fill.stops], [0, 0.25, 1])
        self.assertEqual(fill.stops[2].color, "#0a5a78")
        m = fill.placing
        self.assertEqual([round(v) for v in (*m(0, 0), *m(1, 0))], [200, 100, 200, 300])
        # the browser draws the same
        name = page.locator(f"[data-id={self.a}] .shape").get_attribute("fill")
        self.assertEqual(page.locator(f"[data-id={self.a}] {name[4:-1]} stop").count(), 3)
        page.locator("#g-fill-0-opacity").fill("soon")
        page.keyboard.press("Enter")
        expect(page.get_by_text("“soon” is not a number.").first).to_be_visible()
        self.fill("#g-fill-0-opacity", "60")
        page.locator("#g-fill-kind").select_option("radial")
        self.wait(lambda: self.item(self.a).paint.fill.kind == "radial")
        self.push("#p-fill-plain")
        self.wait(lambda: isinstance(self.item(self.a).paint.fill, str))

    def test_new_pieces_take_the_last_paint_where_that_is_ticked(self):
        page = self.page
        self.station(1)
        page.keyboard.press("r")
        page.locator("#first-paint summary").click()
        page.locator("#set-like").check()
        # every part of it comes from there
        expect(page.locator("#paint-parts")).to_be_hidden()
        made = self.draw_by_hand("rectangle", 300, 500, 100, 100)
        self.assertEqual(self.item(made).paint.fill, "#0a5a78")
        page.keyboard.press("r")
        page.locator("#set-like").uncheck()
        made = self.draw_by_hand("rectangle", 500, 500, 100, 100)
        self.assertEqual(self.item(made).paint.fill, "#c9bda4")

    def test_fill_and_border_are_set_before_drawing_and_remembered(self):
        page = self.page
        self.station(1)
        page.keyboard.press("e")
        page.locator("#first-paint summary").click()
        # typed, picked, and none by its button
        page.locator("#set-fill").fill("gold")
        page.keyboard.press("Enter")
        page.locator("#set-stroke-colour").fill("#102030")
        expect(page.locator("#set-stroke")).to_have_value("#102030")
        page.locator("#set-stroke_width").fill("2 + 4")
        page.keyboard.press("Enter")
        expect(page.locator("#paint-sample")).to_be_visible()
        made = self.draw_by_hand("ellipse", 300, 500, 100, 100)
        paint = self.item(made).paint
        self.assertEqual((paint.fill, paint.stroke, paint.stroke_width), ("#ffd700", "#102030", 6))
        # what is no colour is said at its field, and the last right one goes on
        page.keyboard.press("e")
        page.locator("#set-fill").fill("tartan")
        page.keyboard.press("Enter")
        expect(page.locator("#set-fill")).to_have_attribute("aria-invalid", "true")
        # and what is right beside it is taken, though that is still wrong
        page.locator("#set-stroke_width").fill("8")
        page.keyboard.press("Enter")
        paint = self.item(self.draw_by_hand("ellipse", 420, 500, 100, 100)).paint
        self.assertEqual((paint.fill, paint.stroke_width), ("#ffd700", 8))
        page.keyboard.press("e")
        expect(page.locator("#set-stroke_width")).not_to_have_attribute("aria-invalid", "true")
        page.locator("#set-stroke_width").fill("2 + 4")
        page.keyboard.press("Enter")
        page.locator("#set-fill-none").press("Enter")
        # after a reload, and with another tool: a line has the border and no fill
        page.reload()
        page.wait_for_selector("html[data-ready]")
        page.keyboard.press("q")
        page.locator("#first-paint summary").click()
        expect(page.locator("#set-fill")).to_have_value("none")
        expect(page.locator("#set-stroke_width")).to_have_value("2 + 4")
        page.locator("#desk").focus()
        self.click(600, 520)
        self.click(700, 580)
        self.press("Enter")
        paint = self.sheet.items[-1].paint
        self.assertEqual((paint.fill, paint.stroke, paint.stroke_width), (None, "#102030", 6))
        # Ctrl+Z takes the piece; the settings stay
        self.press("Control+z")
        page.keyboard.press("r")
        expect(page.locator("#paint-sample")).to_be_visible()
        made = self.draw_by_hand("rectangle", 600, 500, 100, 100)
        self.assertIsNone(self.item(made).paint.fill)
