"""What the hand meant: pending nudges, the keyboard after buttons and fields, modes, stale windows, rounding."""

import base64
import io

from PIL import Image
from playwright.sync_api import expect

from outline import margins
from sheet.document.model import CutList, Photo
from sheet.geometry.geometry import box_of, outline_of
from studio.history import changes
from studio.models import Project
from tests.studio.helpers import jpeg

from .base import BrowserCase
from .test_framing import DROP

TWICE = """(key) => {
  for (let k = 0; k < 2; k++) {
    document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
  }
}"""
"""Presses a key twice before any answer: from outside the second press may come after it, and is refused rightly."""


class Nudges(BrowserCase):
    def test_escape_right_after_a_nudge_inside_moves_the_photo_and_not_the_frame(self):
        self.open()
        photo = self.bring_photo()
        piece = self.draw("ellipse", 200, 200, 200, 200)
        self.choose(photo, piece)
        self.press("p")
        frame = self.sheet.items[-1]
        before = self.box(frame.id), box_of(frame.photos[0])
        self.page.keyboard.press("Enter")
        revision = self.revision
        self.page.keyboard.press("Shift+ArrowRight")
        self.page.keyboard.press("Escape")
        self.wait(lambda: self.revision > revision)
        self.settle()
        after = self.item(frame.id)
        self.assertEqual(self.box(frame.id), before[0])
        self.assertAlmostEqual(box_of(after.photos[0])[0], before[1][0] + 10)
        # and the frame that one stepped out to is what is selected, in the panels too
        expect(self.page.locator("#hint-chosen")).to_have_text(after.name)
        self.page.keyboard.press("4")
        self.page.wait_for_selector("#p-stroke")

    def test_another_choice_right_after_a_nudge_leaves_that_one_alone(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 100, 100)
        b = self.draw("rectangle", 500, 100, 100, 100)
        self.choose(a)
        was, revision = (self.box(a), self.box(b)), self.revision
        self.page.locator("#desk").focus()
        self.page.keyboard.press("ArrowRight")
        self.click(550, 150)
        self.wait(lambda: self.revision > revision)
        self.settle()
        self.assertEqual(self.box(a)[0], was[0][0] + 1)
        self.assertEqual(self.box(b), was[1])

    def test_leaving_the_page_keeps_a_nudge(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 100, 100)
        was, revision = self.box(a), self.revision
        self.page.keyboard.press("ArrowDown")
        self.page.goto("about:blank")
        self.wait(lambda: self.revision > revision)
        self.assertEqual(self.box(a)[1], was[1] + 1)

    def bring_photo(self) -> str:
        """Drop a photo on the middle of the sheet."""
        before = self.revision
        x, y = self.at(400, 300)
        data = base64.b64encode(jpeg(600, 400)).decode()
        self.page.evaluate(DROP, [data, "sea.jpg", "image/jpeg", x, y])
        self.wait(lambda: self.revision > before)
        self.settle()
        return next(i.id for i in self.sheet.items if isinstance(i, Photo))


class Keys(BrowserCase):
    def test_a_key_means_one_thing_wherever_the_focus_is(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        b = self.draw("ellipse", 200, 200, 200, 200)
        self.choose(a, b)
        self.page.locator("#tool-rectangle").click()
        self.page.locator("#tool-rectangle").focus()
        before = self.revision
        self.page.keyboard.press("s")
        # with a drawing tool in hand S says how the next piece is drawn, and combines nothing
        expect(self.page.locator("#into")).to_contain_text("subtract")
        self.idle()
        self.assertEqual(self.revision, before)
        self.assertEqual(len(self.sheet.items), 2)

    def test_enter_gives_the_keyboard_back_and_tab_chooses_the_next_fields_content(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        width = self.page.locator("#g-width")
        width.click()
        before = self.revision
        self.page.keyboard.type("210")
        self.page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertEqual(self.page.evaluate("document.activeElement.id"), "desk")
        self.page.keyboard.press("5")
        self.page.wait_for_selector("#export")
        self.assertEqual(self.box(a)[2] - self.box(a)[0], 210)
        self.page.keyboard.press("1")
        self.page.locator("#g-x").click()
        self.page.keyboard.press("Tab")
        self.assertEqual(
            self.page.evaluate("[document.activeElement.id, getSelection().toString()]"),
            ["g-y", self.page.locator("#g-y").input_value()],
        )

    def test_a_number_is_sent_once(self):
        self.open()
        self.page.locator("#ruling-fold summary").click()
        field = self.page.locator("#new-guide-x")
        field.fill("120")
        before = self.revision
        field.press("Enter")
        self.page.locator("#desk").focus()
        self.wait(lambda: self.revision > before)
        self.idle()
        self.assertEqual(self.revision, before + 1)
        self.assertEqual([g.at for g in self.sheet.guides], [120])

    def test_enter_steps_inside_what_was_chosen_in_the_stack(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        b = self.draw("ellipse", 200, 200, 200, 200)
        self.choose(a, b)
        self.press("u")
        self.choose(self.sheet.items[0].id)
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("#art .stepped")

    def test_a_tool_taken_twice_is_kept_for_several_pieces(self):
        self.open()
        self.page.keyboard.press("r")
        self.page.keyboard.press("r")
        expect(self.page.locator("#tool-rectangle .pin")).to_be_visible()
        for x in (100, 300, 500):
            before = self.revision
            self.drag((x, 100), (x + 100, 200))
            self.wait(lambda: self.revision > before)  # noqa: B023
        self.assertEqual(len(self.sheet.items), 3)
        self.page.keyboard.press("Escape")
        expect(self.page.locator("#tool-choose")).to_have_attribute("aria-pressed", "true")

    def test_exact_numbers_without_the_pointer(self):
        self.open()
        self.page.keyboard.press("e")
        self.page.keyboard.press("Enter")
        self.page.keyboard.type("120")
        self.page.keyboard.press("Tab")
        self.page.keyboard.type("80")
        before = self.revision
        self.page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        x0, y0, x1, y1 = box_of(self.sheet.items[0])
        self.assertEqual((x1 - x0, y1 - y0), (120, 80))

    def test_nodes_and_handles_from_the_keyboard(self):
        self.open()
        piece = self.draw("ellipse", 100, 100, 200, 200)
        self.page.locator("#desk").focus()
        self.page.keyboard.press("n")
        self.page.wait_for_selector("#node-marks .node")
        told = self.page.locator("#hint-chosen")
        self.page.keyboard.press("n")
        expect(told).to_contain_text("Node 1 of 4")
        self.page.keyboard.press("Shift+N")
        expect(told).to_contain_text("Node 4 of 4")
        before = self.box(piece)
        self.press("Shift+ArrowUp")
        self.assertNotEqual(self.box(piece), before)
        handle = self.page.locator("#node-marks .node-handle").first
        self.page.keyboard.press("h")
        expect(told).to_contain_text("handle before")
        was = handle.get_attribute("cx"), handle.get_attribute("cy")
        self.press("Shift+ArrowRight")
        self.assertNotEqual((handle.get_attribute("cx"), handle.get_attribute("cy")), was)
        self.page.keyboard.press("Escape")
        self.press("Shift+ArrowDown")
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("Escape")
        expect(self.page.locator("#tool-choose")).to_have_attribute("aria-pressed", "true")

    def test_the_project_is_renamed_where_it_is_worked_on(self):
        self.open()
        field = self.page.locator("#project-name")
        field.fill("Quay card")
        field.press("Enter")
        self.wait(lambda: Project.objects.get(pk=self.project.pk).name == "Quay card")
        field.fill("   ")
        field.press("Enter")
        self.notice("keeps its name")
        expect(field).to_have_value("Quay card")


class Cells(BrowserCase):
    def test_a_brush_key_takes_the_brush_and_nothing_under_the_pointer(self):
        self.open()
        low = self.draw("rectangle", 100, 100, 300, 300)
        high = self.draw("ellipse", 300, 150, 200, 200)
        self.choose(low, high)
        self.page.keyboard.press("j")
        bar = self.page.locator("#cell-bar")
        self.page.mouse.move(*self.at(470, 250))
        expect(bar).to_contain_text("3 parts")
        self.page.keyboard.press("a")
        expect(self.page.locator("#brush-away")).to_have_attribute("aria-pressed", "true")
        expect(bar).to_contain_text("3 parts")
        self.click(470, 250)
        expect(bar).to_contain_text("1 taken away")

    def test_what_no_cell_was_named_of_stays_as_it_is(self):
        self.open()
        low = self.draw("rectangle", 100, 100, 300, 300)
        high = self.draw("ellipse", 300, 150, 200, 200)
        area = outline_of(self.item(low)).area
        self.choose(low, high)
        self.page.keyboard.press("j")
        self.page.wait_for_selector("#cell-bar:not([hidden])")
        self.page.locator("#brush-away").click()
        self.click(470, 250)
        self.push("#accept-cells")
        # the ellipse's outer cell went; the rectangle beneath still holds what the two share
        rest = [i for i in self.sheet.items if i.id == low]
        self.assertEqual(len(rest), 1)
        self.assertAlmostEqual(outline_of(rest[0]).area, area)
        self.assertEqual(len(self.sheet.items), 2)
        x0, _, x1, _ = box_of(self.sheet.items[1])
        self.near((x0, x1), (300, 400))
        # set to multiply, it shades the rectangle beneath: W3C Compositing 1, 10.1.2, Cs × Cb
        high = self.sheet.items[1].id
        self.choose(high)
        self.station(4)
        self.fill("#p-fill", "#8080ff")
        before = self.revision
        self.page.locator("#p-blend").select_option("multiply")
        self.wait(lambda: self.revision > before)
        self.page.keyboard.press("Escape")
        self.station(5)
        with self.page.expect_download() as got:
            self.page.locator("#export-now").click()
        picture = Image.open(got.value.path()).convert("RGBA")
        fill = self.item(low).paint.fill
        under = [int(fill[k : k + 2], 16) for k in (1, 3, 5)]
        shade = [round(a * b / 255) for a, b in zip(under, (0x80, 0x80, 0xFF), strict=True)]
        x, y = (round(v) for v in box_of(self.item(low))[:2])
        self.assertEqual(picture.getpixel((150 - x, 250 - y))[:3], tuple(under))
        for got_, want in zip(picture.getpixel((370 - x, 250 - y)), (*shade, 255), strict=True):
            self.assertAlmostEqual(got_, want, delta=1)


class Modes(BrowserCase):
    def test_outline_alone_belongs_to_fit_and_ends_when_one_leaves(self):
        self.open()
        photo = Nudges.bring_photo(self)
        piece = self.draw("ellipse", 200, 200, 200, 200)
        self.choose(photo, piece)
        self.press("p")
        self.station(3)
        bar = self.page.locator("#part-bar")
        expect(bar).to_be_hidden()
        self.page.keyboard.press("o")
        expect(bar).to_be_visible()
        self.station(4)
        expect(bar).to_be_hidden()
        self.station(3)
        expect(bar).to_be_hidden()

    def test_an_unfinished_curve_outlives_a_station_key(self):
        self.open()
        before = self.revision
        self.page.keyboard.press("q")
        for x, y in ((100, 100), (300, 100), (300, 300)):
            self.click(x, y)
        self.page.keyboard.press("2")
        self.wait(lambda: self.revision > before)
        self.assertEqual(len(self.sheet.items), 1)
        self.assertFalse(outline_of(self.sheet.items[0]).is_closed)
        self.notice("open")


class Windows(BrowserCase):
    def test_a_window_that_comes_to_the_front_shows_what_is_newer(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        other = self.open(self.new_page())
        self.page.bring_to_front()
        self.choose(a)
        self.press("ArrowDown")
        other.bring_to_front()
        other.evaluate("window.dispatchEvent(new Event('focus'))")
        top = "document.querySelector(`#art g[data-id='${id}']`).dataset.box.split(' ')[1]"
        other.wait_for_function(f"([id, y]) => Math.round({top}) === y", arg=[a, self.box(a)[1]])

    def test_a_field_refused_keeps_its_value_mark_and_message(self):
        self.open()
        self.draw("rectangle", 100, 100, 200, 200)
        field = self.page.locator("#g-width")
        field.fill("wide")
        field.press("Enter")
        expect(field).to_have_attribute("aria-invalid", "true")
        expect(field).to_have_value("wide")
        before = self.revision
        field.fill("150")
        field.press("Enter")
        self.wait(lambda: self.revision > before)
        expect(self.page.locator("#g-width")).not_to_have_attribute("aria-invalid", "true")

    def test_a_reload_keeps_what_was_selected_and_worked_with(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        self.draw("ellipse", 500, 100, 200, 200)
        self.choose(a)
        self.page.keyboard.press("n")
        expect(self.page.locator("#node-marks [data-node]")).to_have_count(4)
        self.page.reload()
        self.page.wait_for_selector("html[data-ready=yes]")
        expect(self.page.locator(f"#row-{a}")).to_have_attribute("aria-pressed", "true")
        expect(self.page.locator("#node-marks [data-node]")).to_have_count(4)
        # opened anew nothing is selected
        self.page.goto(self.page.url)
        self.page.wait_for_selector("html[data-ready=yes]")
        expect(self.page.locator(".row-item[aria-pressed=true]")).to_have_count(0)


class Rounding(BrowserCase):
    def test_px_sheets_round_to_whole_px_also_numbers_and_nudges(self):
        self.open()
        a = self.draw_by_hand("rectangle", 101.3, 99.7, 200.4, 150.2)
        for v in box_of(self.item(a)):
            self.assertEqual(v, round(v))
        self.assertEqual(self.sheet.round_to, 1)
        self.fill("#g-x", "10.4")
        self.assertEqual(box_of(self.item(a))[0], 10)

    def test_whatever_is_held_and_whatever_it_snaps_to(self):
        self.open()
        keys = self.page.keyboard
        # a box whose middle is on half a px, to snap to
        self.draw_by_hand("rectangle", 100, 100, 201, 151)

        def whole(item: str):
            for v in box_of(self.item(item)):
                self.assertAlmostEqual(v, round(v), 9)

        for k, held in enumerate((["Shift"], ["Alt", "Shift"], ["Alt"])):
            # the star's own proportion is of no whole numbers
            before = {i.id for i in self.sheet.items}
            keys.press("a")
            for one in held:
                keys.down(one)
            self.drag((400.3 + 130 * k, 500.4), (451.7 + 130 * k, 573.2))
            self.wait(lambda before=before: {i.id for i in self.sheet.items} != before)
            for one in held:
                keys.up(one)
            (made,) = {i.id for i in self.sheet.items} - before
            with self.subTest(held):
                whole(made)
            self.settle()
        # its middle near that of the first, which it snaps to by half a px
        last = self.draw_by_hand("rectangle", 650.2, 120.3, 60, 50.6)
        self.choose(last)
        self.drag((680, 145), (500, 175.4))
        self.wait(lambda: box_of(self.item(last))[0] < 600)
        whole(last)
        self.settle()
        for name, key in (("se", "Shift"), ("nw", "Alt"), ("e", "Shift")):
            self.drag_handle(name, 33.3, 21.8, key)
            whole(last)

    def test_a_press_is_not_lost_where_the_panels_change_meanwhile(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 100)
        b = self.draw("rectangle", 450, 150, 100, 100)
        with self.page.expect_response("**/panels?*"):
            self.choose(a)
        self.hold_back("/panels?")
        self.page.locator(f"#row-{b}").click(modifiers=["Shift"])
        self.wait_held_back()
        button = self.page.locator("#align-top")
        button.hover()
        place = button.bounding_box()
        before = self.revision
        self.page.mouse.down()
        with self.page.expect_response("**/panels?*"):
            self.page.evaluate("window.come()")
        # two frames, in which they would have been drawn
        self.page.evaluate("() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))")
        self.assertEqual(button.bounding_box(), place)
        self.page.mouse.up()
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.box(a)[1], self.box(b)[1])
        # and once it was let go, they are shown: of two, not of one
        self.wait(lambda: button.bounding_box() != place)

    def test_off_and_now(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 150)
        self.page.locator("#arrange summary:has-text('Snapping')").click()
        before = self.revision
        self.page.locator("#round-to").select_option(label="off")
        self.wait(lambda: self.revision > before)
        self.settle()
        self.fill("#g-x", "10.4")
        self.assertAlmostEqual(box_of(self.item(a))[0], 10.4)
        before = self.revision
        self.page.locator("#round-to").select_option(label="1 px")
        self.wait(lambda: self.revision > before)
        self.settle()
        self.push("#round-now")
        self.assertEqual(box_of(self.item(a))[0], 10)


class Seeing(BrowserCase):
    def test_a_crop_is_exported_at_its_own_size_with_no_rim(self):
        self.open()
        photo = Nudges.bring_photo(self)
        piece = self.draw("rectangle", 200, 200, 200, 175)
        self.assertIsNone(self.item(piece).paint.stroke)
        self.choose(photo, piece)
        self.press("p")
        x0, y0, x1, y1 = self.box(self.sheet.items[-1].id)
        with Image.open(io.BytesIO(self.exported(what=piece, size="100"))) as image:
            self.assertEqual(image.size, (x1 - x0, y1 - y0))
            self.assertEqual(image.convert("RGBA").getpixel((0, 0))[3], 255)

    def test_taken_out_both_stay_chosen_and_p_puts_it_in_again(self):
        self.open()
        photo = Nudges.bring_photo(self)
        piece = self.draw("ellipse", 200, 200, 200, 200)
        self.choose(photo, piece)
        self.press("p")
        self.station(3)
        self.press("t")
        self.assertEqual(len(self.sheet.items), 2)
        self.assertIsInstance(self.sheet.items[0], Photo)
        expect(self.page.locator("#stack .row-item[aria-pressed=true]")).to_have_count(2)
        self.press("p")
        self.assertEqual(len(self.sheet.items), 1)

    def test_a_photo_that_covers_little_offers_to_cover(self):
        self.open()
        photo = Nudges.bring_photo(self)
        piece = self.draw("rectangle", 650, 450, 300, 300)
        self.choose(photo, piece)
        self.press("p")
        self.assertIn("%", self.notice("Fill the frame"))
        self.push("#offer")
        frame = self.sheet.items[-1]
        x0, y0, x1, y1 = box_of(frame.photos[0])
        self.assertTrue(x0 <= 650.01 and y0 <= 450.01 and x1 >= 949.9 and y1 >= 749.9)

    def test_the_same_press_before_its_answer_is_one_press(self):
        self.open()
        self.choose(self.draw("rectangle", 100, 100, 200, 200), self.draw("ellipse", 200, 200, 200, 200))
        before = self.revision
        self.page.evaluate(TWICE, "u")
        self.wait(lambda: len(self.sheet.items) == 1)
        self.settle()
        self.assertEqual(self.revision, before + 1)
        expect(self.page.locator(".notice")).to_have_count(0)

    def test_a_file_dropped_on_an_outline_goes_in(self):
        self.open()
        piece = self.draw("rectangle", 200, 200, 300, 200)
        before = self.revision
        x, y = self.at(300, 300)
        data = base64.b64encode(jpeg(600, 400)).decode()
        self.page.evaluate(DROP, [data, "sea.jpg", "image/jpeg", x, y])
        self.wait(lambda: self.revision > before)
        self.assertEqual([i.id for i in self.sheet.items], [piece])
        self.assertEqual(len(self.item(piece).photos), 1)

    def test_undo_and_redo_choose_what_they_touched(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 100, 100)
        b = self.draw("rectangle", 500, 100, 100, 100)
        self.choose(a)
        self.press("ArrowRight")
        self.choose(b)
        self.press("Control+z")
        expect(self.page.locator("#hint-chosen")).to_have_text(self.item(a).name)

    def test_margins_count_from_the_base_where_an_ornament_spoils_the_box(self):
        self.open()
        plate = self.draw("rectangle", 100, 100, 400, 300)
        ear = self.draw("ellipse", 440, 200, 160, 100)
        self.choose(plate, ear)
        self.press("u")
        hole = self.draw("rectangle", 150, 150, 100, 100)
        self.choose(self.sheet.items[0].id, hole)
        self.press("s")
        field = self.page.locator("#hole-0-right")
        spoilt = float(field.input_value())
        self.page.locator("#keep-basing").check()
        expect(field).not_to_have_value(f"{spoilt:g}")
        self.assertAlmostEqual(float(field.input_value()), spoilt - 100, delta=5)
        before = self.revision
        field.fill("200")
        field.press("Enter")
        self.wait(lambda: self.revision > before)
        self.settle()
        expect(self.page.locator("#hole-0-right")).to_have_value("200")
        # what is only for screen readers does not lengthen the page
        self.assertEqual(self.page.evaluate("document.documentElement.scrollHeight"), 800)

    def test_margins_made_equal_by_two_sides_and_by_all_four(self):
        self.open()
        plate, hole = self.draw("rectangle", 100, 100, 500, 400), self.draw("rectangle", 180, 150, 200, 200)
        self.choose(plate, hole)
        self.press("s")
        made = self.sheet.items[0].id

        def sides() -> tuple[float, ...]:
            (m,) = margins(outline_of(self.item(made)))
            return m.left, m.right, m.top, m.bottom

        ways = self.page.get_by_role("group", name="Make margins equal")
        before = self.revision
        ways.get_by_role("button", name="left, right").click()
        self.wait(lambda: self.revision > before)
        self.settle()
        left, right, top, bottom = sides()
        self.assertAlmostEqual(left, right, places=6)
        self.assertGreater(abs(top - bottom), 90)
        before = self.revision
        ways.get_by_role("button", name="top, bottom").press("Enter")
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertAlmostEqual(*sides()[2:], places=6)
        # all four alike: the hole is resized for it
        self.press("Control+z")
        before = self.revision
        ways.get_by_role("button", name="all four").click()
        self.wait(lambda: self.revision > before)
        for side in sides()[1:]:
            self.assertAlmostEqual(side, sides()[0], places=6)

    def test_a_margin_that_would_swallow_a_hole_is_refused_and_nothing_moves(self):
        self.open()
        plate = self.draw("rectangle", 100, 100, 500, 300)
        left, right = self.draw("rectangle", 150, 180, 100, 100), self.draw("rectangle", 400, 180, 100, 100)
        self.choose(plate, left, right)
        self.press("s")
        before, made = self.revision, self.sheet.items[0].id
        had = self.box(made)
        field = self.page.locator("#hole-0-left")
        for value, holes in (("260", "of 2 holes 1 would stay"), ("-90", "of 2 holes 1 would stay")):
            field.fill(value)
            field.press("Enter")
            expect(field).to_have_attribute("aria-invalid", "true")
            expect(self.page.locator(".field-error", has_text=holes)).to_be_visible()
        self.assertEqual((self.revision, self.box(made)), (before, had))
        field.fill("90")
        field.press("Enter")
        self.wait(lambda: self.revision > before)

    def test_the_backdrop_shows_when_set_undone_and_redone(self):
        self.open()
        self.station(4)
        paper = self.page.locator("#surface")
        self.fill("#backdrop", "rgb(10, 90, 120)")
        expect(paper).to_have_attribute("fill", "#0a5a78")
        self.press("Control+z")
        expect(paper).to_have_attribute("fill", "url(#none)")
        self.press("Control+Shift+Z")
        expect(paper).to_have_attribute("fill", "#0a5a78")

    def test_nine_in_a_grid_are_spaced_as_a_grid(self):
        self.open()
        ids = []
        for row, y in enumerate((50, 200, 420)):
            for column, x in enumerate((60, 210, 500)):
                ids.append(self.draw("rectangle", x, y, 80 + 5 * row, 60 + 5 * column))
        self.choose(*ids)
        self.push("#space-x")
        for k in range(0, 9, 3):
            a, b, c = (self.box(i) for i in ids[k : k + 3])
            self.assertAlmostEqual(b[0] - a[2], c[0] - b[2], delta=2)
            # each row stays a row
            self.assertLess(abs(a[1] - b[1]), 20)

    def test_the_step_of_a_dragged_copy_is_done_again(self):
        self.open()
        self.draw("rectangle", 100, 100, 80, 80)
        self.press("Control+d")
        copy = self.sheet.items[-1].id
        x0, y0, _, _ = self.box(copy)
        before = self.revision
        self.drag((x0 + 40, y0 + 40), (x0 + 140, y0 + 40))
        self.wait(lambda: self.revision > before)
        self.settle()
        far = self.box(copy)[0] - 100
        self.press("Control+Shift+D")
        self.near((self.box(self.sheet.items[-1].id)[0],), (100 + 2 * far,), 3)

    def test_long_names_burst_nothing(self):
        Project.objects.filter(pk=self.project.pk).update(name="A card for the quay at low water " * 2)
        self.open()
        a = self.draw("rectangle", 100, 100, 80, 80)
        before = self.revision
        changes.run(self.user, self.project.pk, "", "rename", {"id": a, "name": "Rectangle " * 14}, before)
        self.open()
        self.choose(a)
        self.press("ArrowRight")
        for css in (".strip", "#undo", "#zoom-in", ".side", "#hint"):
            box = self.page.locator(css).bounding_box()
            self.assertLessEqual(box["x"] + box["width"], 1280.5, css)
        self.assertEqual(self.page.locator(".strip").bounding_box()["height"], 48)
        self.assertIn("Rectangle Rectangle", self.page.locator("#undo").get_attribute("title"))

    def test_a_ring_of_copies(self):
        self.open()
        self.draw("rectangle", 480, 100, 40, 40)
        # its panels move what is pressed next
        self.settle()
        self.page.locator("#arrange summary:has-text('Repeat')").click()
        self.page.locator("#ring-count").fill("6")
        self.push("#ring")
        self.assertEqual(len(self.sheet.items), 6)
        self.assertEqual(len({i.name for i in self.sheet.items}), 6)

    def test_the_sheet_is_changed_in_its_panel(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 100)
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("Escape")
        self.page.locator("#sheet-fold summary").click()
        self.page.locator("#s-keep").select_option(index=1)
        self.fill("#s-width", "1200")
        self.assertEqual((self.sheet.width, self.sheet.height), (1200, 800))
        self.assertEqual(self.box(a)[0], 200)

    def test_lettering_shows_while_it_is_typed(self):
        self.open()
        self.page.keyboard.press("l")
        self.click(200, 400)
        self.page.keyboard.type("Quay")
        self.page.wait_for_selector("#letter-marks path", state="attached")
        before = self.revision
        self.page.keyboard.press("Control+Enter")
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.sheet.items[-1].shape.text, "Quay")
        expect(self.page.locator("#letter-marks path")).to_have_count(0)

    def test_numbers_follow_a_drag_and_the_first_press_takes_the_card_away(self):
        self.open()
        expect(self.page.locator(".empty-word")).to_be_visible()
        self.draw("rectangle", 100, 100, 200, 100)
        expect(self.page.locator(".empty-word")).to_be_hidden()
        seen: list[str] = []
        self.drag((200, 150), (300, 150), lambda: seen.append(self.page.locator("#g-x").input_value()))
        self.assertAlmostEqual(float(seen[0]), 200, delta=3)

    def test_a_members_own_outline_is_not_its_snap_target(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 300, 300)
        b = self.draw("ellipse", 200, 200, 100, 100)
        self.choose(a, b)
        self.press("s")
        (o,) = self.sheet.items
        self.assertIsInstance(o.shape, CutList)
        self.choose(o.id)
        self.page.keyboard.press("Enter")
        member = self.page.locator(".members > g").last.get_attribute("data-id")
        self.click(250, 250)
        before = self.revision
        # less than the reach of snapping: it would be drawn back to where it lay
        self.drag((250, 250), (257, 250))
        self.wait(lambda: self.revision > before)
        at = box_of(next(s.member for s in self.sheet.items[0].shape.steps if s.member.id == member))
        self.assertGreater(at[0], 201)
