"""Small things that made hands stumble: each as it is met."""

from playwright.sync_api import expect

from tests.studio.helpers import jpeg

from .base import BrowserCase


class Small(BrowserCase):
    def test_a_comma_says_what_it_needs_with_nothing_and_with_one_selected(self):
        self.open()
        self.page.keyboard.press(",")
        nothing = self.notice()
        self.choose(self.draw("rectangle", 100, 100, 200, 200))
        self.page.keyboard.press(",")
        one = self.notice()
        self.assertTrue(nothing and one)
        self.assertNotEqual(nothing, one)

    def test_undo_past_the_end_sends_nothing(self):
        page = self.open()
        self.draw("rectangle", 100, 100, 200, 200)
        self.press("Control+z")
        expect(page.locator("#undo")).to_be_disabled()
        sent = []
        page.on("request", lambda r: r.method == "POST" and sent.append(r.url))
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+z")
        page.wait_for_function("() => !window.asking")
        self.assertEqual([url for url in sent if url.endswith(("/undo", "/command"))], [])
        # and what was undone is still there to be done again
        self.press("Control+Shift+Z")
        self.assertEqual(len(self.sheet.items), 1)

    def test_a_drawing_key_and_enter_put_a_piece_into_the_middle_of_the_view(self):
        page = self.open()
        page.keyboard.press("r")
        page.keyboard.press("Enter")
        expect(page.locator("#exact input[name=width]")).to_be_focused()
        self.press("Enter")
        x0, y0, x1, y1 = self.box(self.sheet.items[0].id)
        desk = page.locator("#desk").bounding_box()
        left, top = self.at((x0 + x1) / 2, (y0 + y1) / 2)
        self.near((left, top), (desk["x"] + desk["width"] / 2, desk["y"] + desk["height"] / 2), 12)

    def test_new_names_are_counted_over_everything(self):
        self.open()
        a, b = self.draw("rectangle", 100, 100, 200, 200), self.draw("rectangle", 200, 200, 200, 200)
        self.choose(a, b)
        self.press("u")
        c = self.draw("rectangle", 500, 500, 100, 100)
        self.assertEqual(self.item(c).name, "Rectangle 3")

    def test_no_name_ends_twice(self):
        page = self.open()
        file = self.folder / "sea.png"
        file.write_bytes(jpeg(300, 200))
        self.bring(file)
        self.choose(self.sheet.items[0].id)
        self.station(5)
        page.locator("#format-png").click()
        expect(page.locator("#d-example")).to_have_text("card-sea.png")

    def test_what_was_flattened_just_now_is_offered_back_where_its_pieces_are_wanted(self):
        page = self.open()
        self.choose(self.draw("rectangle", 100, 100, 200, 200), self.draw("ellipse", 200, 200, 200, 200))
        self.press("u")
        made = self.sheet.items[0].id
        self.choose(made)
        self.station(2)
        self.push("#make-plain")
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        self.notice("has nothing inside")
        before = self.revision
        page.get_by_role("button", name="Undo flatten").press("Enter")
        self.wait(lambda: self.revision != before)
        self.settle()
        self.assertEqual(len(self.item(made).shape.steps), 1)

    def test_words_of_a_file_name_are_put_where_the_cursor_is(self):
        page = self.open()
        self.draw("rectangle", 100, 100, 200, 200)
        self.station(5)
        field = page.locator("#d-pattern")
        field.fill("window-")
        words = page.get_by_role("group", name="Insert into the file name")
        words.get_by_role("button", name="number").click()
        expect(field).to_have_value("window-{number}")
        # the field goes on being typed into, and is sent by Enter
        expect(field).to_be_focused()
        page.keyboard.type("-x")
        page.keyboard.press("Enter")
        expect(page.locator("#d-example")).to_have_text("window-1-x.png")
        # without the cursor in it, at its end; by keyboard too
        words.get_by_role("button", name="width").press("Enter")
        expect(field).to_have_value("window-{number}-x{width}")

    def test_enter_does_what_the_button_that_shows_it_says(self):
        page = self.open()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 400))
        photo = self.bring(file)
        self.choose(photo)
        self.station(3)
        # the split shows Enter beside its fields, and there it splits
        expect(page.locator("#split kbd")).to_have_text("Enter")
        page.locator("#n-columns").fill("2")
        self.press("Enter")
        self.assertEqual(len(self.sheet.items[0].items), 6)
        self.press("Control+z")
        # a frame's button shows it, and on the sheet it moves the photo
        piece = self.draw("ellipse", 400, 300, 200, 200)
        self.choose(photo, piece)
        self.press("p")
        expect(page.locator("#move-photo kbd")).to_have_text("Enter")
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        expect(page.locator("#inside-bar")).to_contain_text("Inside Ellipse 1")
        page.keyboard.press("Escape")
        # with the focus on another button, that one is pressed
        before = self.revision
        page.locator("#take-out").focus()
        page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.item(piece).photos, ())
        expect(page.locator("#inside-bar")).to_be_hidden()
        self.settle()
        # part by part: as its button says
        other = self.draw("rectangle", 450, 350, 300, 200)
        self.choose(piece, other)
        page.keyboard.press("j")
        expect(page.locator("#accept-cells kbd")).to_have_text("Enter")
        page.wait_for_selector("#cells [data-cell]", state="attached")
        page.keyboard.press("a")
        self.click(700, 500)
        expect(page.locator("#cell-bar")).to_contain_text("1 taken away")
        self.press("Enter")
        expect(page.locator("#cell-bar")).to_be_hidden()
        self.near(self.box(other), (450, 350, 600, 500))
