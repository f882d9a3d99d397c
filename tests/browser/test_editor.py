"""Every tool and modifier of the editor, by pointer and keyboard."""

from playwright.sync_api import expect

from outline import margins
from sheet.document import model
from sheet.document.tree import members
from sheet.geometry.geometry import box_of, local_frame, outline_of

from ..studio.helpers import jpeg
from .base import BrowserCase


class Drawing(BrowserCase):
    def test_modifiers_while_drawing(self):
        page = self.open()
        plain = self.draw("rectangle", 100, 100, 200, 100)
        self.near(self.box(plain), (100, 100, 300, 200))
        page.keyboard.press("r")
        page.keyboard.down("Shift")
        self.drag((400, 100), (600, 180))
        page.keyboard.up("Shift")
        self.wait(lambda: len(self.sheet.items) == 2)
        x0, y0, x1, y1 = self.box(self.sheet.items[1].id)
        self.near((x1 - x0, y1 - y0), (200, 200))
        self.settle()
        page.keyboard.press("e")
        page.keyboard.down("Alt")
        self.drag((500, 500), (600, 550))
        page.keyboard.up("Alt")
        self.wait(lambda: len(self.sheet.items) == 3)
        self.near(self.box(self.sheet.items[2].id), (400, 450, 600, 550))

    def test_space_moves_what_is_being_drawn(self):
        page = self.open()
        page.keyboard.press("r")
        (x0, y0), (x1, y1), (x2, y2) = self.at(100, 100), self.at(200, 200), self.at(300, 250)
        page.mouse.move(x0, y0)
        page.mouse.down()
        page.mouse.move(x1, y1)
        page.keyboard.down(" ")
        page.mouse.move(x2, y2)
        page.keyboard.up(" ")
        page.mouse.up()
        self.wait(lambda: len(self.sheet.items) == 1)
        self.near(self.box(self.sheet.items[0].id), (200, 150, 300, 250))

    def test_one_click_asks_for_exact_numbers(self):
        page = self.open()
        page.keyboard.press("e")
        self.click(100, 50)
        form = page.locator("#exact")
        expect(form).to_be_visible()
        form.locator("[name=width]").fill("two")
        form.locator("[name=height]").fill("1in + 20")
        form.locator("[name=height]").press("Enter")
        expect(form.locator(".field-error")).to_contain_text("not a number")
        self.assertEqual(self.revision, 1)
        form.locator("[name=width]").fill("2000/3")
        form.locator("[name=width]").press("Enter")
        self.wait(lambda: len(self.sheet.items) == 1)
        expect(form).to_be_hidden()
        self.near(self.box(self.sheet.items[0].id), (100, 50, 767, 170))

    def test_by_numbers_in_the_drawer(self):
        page = self.open()
        expect(page.locator("#by-numbers")).to_be_hidden()
        page.keyboard.press("r")
        for name, value in (("x", "10%"), ("y", "1in"), ("width", "0"), ("height", "50")):
            page.fill(f"#by-numbers [name={name}]", value)
        page.click("#draw-exact")
        expect(page.locator("#by-numbers .field-error")).to_contain_text("greater than 0")
        page.fill("#by-numbers [name=width]", "3*100")
        page.click("#draw-exact")
        self.wait(lambda: len(self.sheet.items) == 1)
        self.assertEqual(self.box(self.sheet.items[0].id), (100, 100, 400, 150))

    def test_escape_drops_what_is_being_drawn(self):
        page = self.open()
        page.keyboard.press("r")
        self.drag((100, 100), (300, 300), before_drop=lambda: page.keyboard.press("Escape"))
        self.idle()
        self.assertEqual(self.revision, 1)


class Choosing(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        self.a = self.draw("rectangle", 100, 100, 200, 200)
        self.b = self.draw("ellipse", 500, 100, 200, 200)

    def chosen(self) -> list[str]:
        return self.page.eval_on_selector_all(".row-item[aria-pressed=true]", "rows => rows.map(r => r.id.slice(4))")

    def test_click_shift_click_and_marquee(self):
        self.click(200, 200)
        self.assertEqual(self.chosen(), [self.a])
        self.page.keyboard.down("Shift")
        self.click(600, 200)
        self.assertEqual(set(self.chosen()), {self.a, self.b})
        self.click(600, 200)
        self.page.keyboard.up("Shift")
        self.assertEqual(self.chosen(), [self.a])
        self.click(400, 600)
        self.assertEqual(self.chosen(), [])
        self.drag((50, 50), (750, 350))
        self.assertEqual(set(self.chosen()), {self.a, self.b})
        self.drag((450, 50), (550, 150))
        self.assertEqual(self.chosen(), [self.b])

    def test_keyboard_alone(self):
        row = self.page.locator(f"#row-{self.a}")
        row.focus()
        self.page.keyboard.press("Enter")
        self.assertEqual(self.chosen(), [self.a])
        self.press("ArrowRight")
        self.near(self.box(self.a), (101, 100, 301, 300))
        self.page.keyboard.press("Escape")
        self.assertEqual(self.chosen(), [])
        self.page.locator("#desk").focus()
        self.page.keyboard.press("Control+a")
        self.assertEqual(set(self.chosen()), {self.a, self.b})

    def test_move_nudge_and_undo_after_a_reload(self):
        before = self.box(self.a)
        revision = self.revision
        self.drag((200, 200), (260, 300))
        self.wait(lambda: self.revision > revision)
        self.near(self.box(self.a), (160, 200, 360, 400))
        self.settle()
        moved = self.box(self.a)
        self.press("Shift+ArrowDown")
        self.assertEqual(self.box(self.a)[1], moved[1] + 10)
        self.open()
        self.press("Control+z")
        self.assertEqual(self.box(self.a), moved)
        self.press("Control+z")
        self.assertEqual(self.box(self.a), before)
        self.press("Control+Shift+z")
        self.assertEqual(self.box(self.a), moved)
        self.page.click("#redo")
        self.wait(lambda: self.box(self.a)[1] == moved[1] + 10)
        self.settle()
        expect(self.page.locator("#redo")).to_be_disabled()

    def test_resize_with_modifiers(self):
        self.click(200, 200)
        self.drag_handle("se", 100, 50)
        self.near(self.box(self.a), (100, 100, 400, 350))
        self.settle()
        self.drag_handle("e", 150, 0, key="Shift")
        self.near(self.box(self.a), (100, 38, 550, 412), 4)
        self.settle()
        self.drag_handle("s", 0, -60, key="Alt")
        self.near(self.box(self.a), (100, 98, 550, 352), 4)

    def test_turn_in_steps(self):
        self.click(600, 200)
        self.drag_handle("turn", 140, 60, key="Shift")
        angle = local_frame(self.item(self.b))[2].angle
        self.assertAlmostEqual(angle, round(angle / 15) * 15, places=6)
        self.assertGreater(angle, 10)

    def test_stack_and_removal(self):
        self.choose(self.a)
        self.press("Home")
        self.assertEqual([i.id for i in self.sheet.items], [self.b, self.a])
        drawn = self.page.eval_on_selector_all("#art > g", "gs => gs.map(g => g.dataset.id)")
        self.assertEqual(drawn, [self.b, self.a])
        self.page.keyboard.press("Home")
        self.assertIn("already on top", self.notice())
        self.press("Delete")
        self.assertEqual([i.id for i in self.sheet.items], [self.b])
        expect(self.page.locator("#art > g")).to_have_count(1)
        self.press("Control+z")
        self.choose(self.a, self.b)
        self.press("Control+d")
        self.assertEqual(len(self.sheet.items), 4)

    def test_stack_by_dragging(self):
        self.choose(self.a)
        lower, upper = (self.page.locator(f"#entry-{i}") for i in (self.a, self.b))
        before = self.revision
        lower.drag_to(upper, target_position={"x": 40, "y": 3})
        self.wait(lambda: self.revision > before)
        self.settle()
        self.assertEqual([i.id for i in self.sheet.items], [self.b, self.a])
        before = self.revision
        lower.drag_to(upper, target_position={"x": 40, "y": 22})
        self.wait(lambda: self.revision > before)
        self.assertEqual([i.id for i in self.sheet.items], [self.a, self.b])
        expect(self.page.locator(".over, .under")).to_have_count(0)

    def test_dimensions_takes_arithmetic_and_keeps_the_old_value(self):
        self.choose(self.a)
        width = self.page.locator("#g-width")
        expect(width).to_be_visible()
        before = self.revision
        width.fill("2000/3")
        width.press("Enter")
        self.wait(lambda: self.revision > before)
        self.near(self.box(self.a), (100, 100, 767, 300))
        self.settle()
        width = self.page.locator("#g-width")
        width.fill("wide")
        width.press("Enter")
        expect(self.page.locator("#dimensions .field-error")).to_contain_text("not a number")
        self.assertEqual(self.revision, before + 1)
        width.press("Escape")
        expect(width).to_have_value("667")

    def test_paint(self):
        self.choose(self.a)
        self.station(4)
        for selector, value in (
            ("#p-fill", "#b5432a"),
            ("#p-opacity", "60"),
            ("#p-stroke_width", "1in/10"),
        ):
            before = self.revision
            self.page.fill(selector, value)
            self.page.press(selector, "Enter")
            self.wait(lambda before=before: self.revision > before)
            self.settle()
        shape = self.page.locator(f"#art g[data-id={self.a}] .shape")
        self.assertEqual(shape.evaluate("e => getComputedStyle(e).strokeWidth"), "10px")
        self.assertEqual(shape.evaluate("e => getComputedStyle(e).stroke"), "rgb(34, 48, 47)")
        paint = self.item(self.a).paint
        self.assertEqual((paint.fill, paint.opacity, paint.stroke_width), ("#b5432a", 0.6, 10))
        self.push("#p-stroke-none")
        self.assertIsNone(self.item(self.a).paint.stroke)
        self.page.fill("#p-fill", "beigeish")
        self.page.press("#p-fill", "Enter")
        expect(self.page.locator("#drawer .field-error")).to_contain_text("not a colour")

    def test_rename_in_the_stack(self):
        self.page.locator(f"#row-{self.a}").dblclick()
        self.page.locator("[aria-label='New name']").fill("Plate")
        self.page.keyboard.press("Enter")
        self.wait(lambda: self.item(self.a).name == "Plate")


class Viewing(BrowserCase):
    def test_zoom_pan_and_fit(self):
        page = self.open()
        first = self.zoom
        centre = self.at(500, 400)
        page.mouse.move(*centre)
        page.keyboard.down("Control")
        page.mouse.wheel(0, -240)
        page.keyboard.up("Control")
        self.assertGreater(self.zoom, first * 1.2)
        self.near(self.at(500, 400), centre)
        page.mouse.wheel(0, 100)
        self.near(self.at(500, 400), (centre[0], centre[1] - 100))
        page.keyboard.down(" ")
        self.drag((500, 400), (400, 400))
        page.keyboard.up(" ")
        self.assertLess(self.at(500, 400)[0], centre[0] - 20)
        self.assertEqual(self.revision, 1)
        page.keyboard.press("w")
        self.assertAlmostEqual(self.zoom, first, places=6)
        self.near(self.at(500, 400), centre, 1)
        page.keyboard.press("+")
        self.assertAlmostEqual(self.zoom / first, 1.25, places=3)
        page.click("#zoom-out")
        self.assertAlmostEqual(self.zoom, first, places=4)


class Cutting(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        self.a = self.draw("rectangle", 100, 100, 200, 200)
        self.b = self.draw("ellipse", 200, 100, 200, 200)

    def test_each_card_shows_and_does_its_operation(self):
        self.station(2)
        verbs = {"union": "unite", "subtract": "subtract", "intersect": "intersect", "exclude": "exclude"}
        for operation, verb in verbs.items():
            self.choose(self.a, self.b)
            card = self.page.locator(f"#card-{operation}")
            expect(card.locator("svg .t-shape").first).to_be_attached()
            before = self.revision
            card.click()
            self.wait(lambda before=before: self.revision > before)
            self.assertEqual(len(self.sheet.items), 1, operation)
            self.settle()
            self.assertEqual(self.cut_words(), [operation])
            expect(self.page.locator("#undo")).to_contain_text(verb)
            self.press("Control+z")

    def test_each_card_by_the_keyboard(self):
        self.station(2)
        for operation, key, left in (
            ("union", "u", 1), ("subtract", "s", 1), ("intersect", "i", 1), ("exclude", "x", 1), ("apart", "d", 3),
        ):  # fmt: skip
            self.choose(self.a, self.b)
            card = self.page.locator(f"#card-{operation}")
            expect(card.locator("svg .t-shape").first).to_be_attached()
            self.press(key)
            self.assertEqual(len(self.sheet.items), left, operation)
            self.press("Control+z")

    def test_apart_by_its_three_choices(self):
        self.station(2)
        card = self.page.locator("#card-apart")
        # what is pressed, what the card then says, and how many pieces lie there afterwards
        for presses, words, left in (
            ((), "3 parts", 3),
            (("keep-shows",), "2 parts", 2),
            (("keep-shows", "neighbours-joined"), "1 part", 1),
            (("keep-under", "neighbours-apart"), "1 part", 1),
            (("keep-every", "parts-lines"), "4 lines", 4),
            (("keep-shows", "parts-lines"), "3 lines", 3),
        ):
            with self.subTest(presses=presses):
                self.choose(self.a, self.b)
                for name in presses:
                    self.page.click(f"#{name}")
                    expect(self.page.locator(f"#{name}")).to_have_attribute("aria-pressed", "true")
                expect(card).to_contain_text(words)
                self.press("d")
                self.assertEqual(len(self.sheet.items), left)
                self.press("Control+z")

    def test_the_base_is_flagged_on_the_sheet_and_changed_there(self):
        self.choose(self.a, self.b)
        self.station(2)
        flag = self.page.locator(".base-flag rect")
        expect(flag).to_be_attached()
        before = flag.bounding_box()
        self.page.mouse.click(before["x"] + 20, before["y"] + 8)
        expect(self.page.locator(".role-name")).to_have_text("Ellipse 1")
        self.page.keyboard.press("m")
        expect(self.page.locator(".role-name")).to_have_text("Rectangle 1")
        self.assertEqual(self.page.locator("#base-mark .cutter").count(), 1)

    def test_the_base_can_be_swapped_before_and_after(self):
        self.choose(self.a, self.b)
        self.station(2)
        expect(self.page.locator(".role-name").first).to_have_text("Rectangle 1")
        self.page.click("#next-base")
        expect(self.page.locator(".role-name").first).to_have_text("Ellipse 1")
        self.press("s")
        (outline,) = self.sheet.items
        self.assertEqual(outline.shape.base.id, self.b)
        self.push("#swap-base")
        self.assertEqual(self.sheet.items[0].shape.base.id, self.a)
        self.settle()
        self.push("#take-apart")
        self.assertEqual([i.id for i in self.sheet.items], [self.a, self.b])

    def test_one_piece_is_told_what_to_choose(self):
        self.choose(self.a)
        self.page.keyboard.press("u")
        self.assertIn("Hold Shift", self.notice())
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("d")
        self.notice("Nothing is selected")
        self.assertEqual(self.revision, 3)


class CutList(BrowserCase):
    """Every step can be changed afterwards, by pointer and by keyboard."""

    def setUp(self):
        super().setUp()
        self.open()
        self.a = self.draw("rectangle", 100, 100, 300, 200)
        self.b = self.draw("ellipse", 300, 100, 200, 200)
        self.c = self.draw("ellipse", 150, 150, 80, 80)
        self.choose(self.a, self.b, self.c)
        self.press("u")
        self.o = self.sheet.items[0].id

    def change(self, act) -> None:
        """Do something and wait until the page shows what it changed."""
        before = self.revision
        act()
        self.wait(lambda: self.revision != before)
        self.settle()

    def area(self) -> float:
        return outline_of(self.item(self.o)).area

    def test_change_switch_and_take_out(self):
        page, whole = self.page, self.area()
        self.change(lambda: page.locator("#op-2").select_option("subtract"))
        cut = self.area()
        self.assertLess(cut, whole)
        self.assertEqual(self.cut_words(), ["union", "subtract"])
        self.change(lambda: page.click("#switch-2"))
        self.near((self.area(),), (whole,), 1)
        expect(page.locator(".step.off")).to_have_count(1)
        self.change(lambda: page.click("#switch-2"))
        self.near((self.area(),), (cut,), 1)
        self.change(lambda: page.locator(".step").nth(2).locator(".drop").click())
        self.assertEqual([i.id for i in self.sheet.items], [self.o, self.c])
        self.near((self.area(),), (whole,), 1)

    def test_reorder_by_dragging_and_by_keyboard(self):
        page = self.page
        self.change(lambda: page.locator(".step").nth(2).drag_to(page.locator(".step").nth(1)))
        self.assertEqual([s.member.id for s in self.item(self.o).shape.steps], [self.c, self.b])
        button = page.locator(".step").nth(1).get_by_role("button", name="Move Ellipse 2 up")
        button.focus()
        self.change(lambda: page.keyboard.press("Enter"))
        self.assertEqual(self.item(self.o).shape.base.id, self.c)

    def test_put_another_in_and_make_it_plain(self):
        page = self.page
        hole = self.draw("rectangle", 300, 150, 50, 50)
        self.choose(self.o, hole)
        self.station(2)
        self.change(lambda: page.click("#add-subtract"))
        self.assertEqual(self.cut_words(), ["union", "union", "subtract"])
        area = self.area()
        self.change(lambda: page.click("#make-plain"))
        self.near((self.area(),), (area,), 0.01)
        expect(page.locator("#cuts .step")).to_have_count(0)

    def test_a_member_moves_and_the_result_follows_under_the_pointer(self):
        page = self.page
        page.mouse.dblclick(*self.at(250, 250))
        page.wait_for_selector("#art g.stepped .members")
        before = page.locator(f"#art g[data-id={self.o}] .shape").get_attribute("d")
        page.mouse.click(*self.at(480, 200))
        seen = []
        revision, area = self.revision, self.area()
        x = self.item(self.o).shape.steps[0].member.placing.e
        self.assertAlmostEqual(x, 300, delta=2.5)
        self.drag((480, 200), (560, 200), before_drop=lambda: seen.append(self.moved_result(before)))
        self.wait(lambda: self.revision > revision)
        self.assertNotEqual(seen[0], before)
        self.assertGreater(self.area(), area)
        self.assertAlmostEqual(self.item(self.o).shape.steps[0].member.placing.e, x + 80, delta=2.5)

    def test_a_member_of_an_outline_in_an_outline_is_reached(self):
        page = self.page
        c = self.draw("rectangle", 100, 350, 100, 100)
        self.choose(self.o, c)
        self.press("u")
        outer = self.sheet.items[-1]
        before = page.locator(f"#art > g[data-id={outer.id}] .shape").get_attribute("d")
        inner = next(m for m in members(outer.shape) if isinstance(m.shape, model.CutList))
        page.locator(f"#member-{inner.id}").click()
        page.wait_for_selector(f"#art g[data-id={outer.id}].stepped")
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        page.wait_for_selector(f"#art g[data-id={inner.id}].stepped")
        ellipse = members(inner.shape)[1]
        page.locator(f"#member-{ellipse.id}").click()
        page.locator("#desk").focus()
        seen = []
        revision = self.revision
        x0, _, x1, _ = box_of(self.item(outer.id))
        self.drag((480, 200), (560, 200), before_drop=lambda: seen.append(self.moved_result(before, outer.id)))
        self.wait(lambda: self.revision > revision)
        self.assertNotEqual(seen[0], before)
        self.assertAlmostEqual(box_of(self.item(outer.id))[2], x1 + 80, delta=2.5)
        self.settle()
        # out again, one at a time
        page.keyboard.press("Escape")
        page.wait_for_selector(f"#art g[data-id={outer.id}].stepped")
        page.keyboard.press("Escape")
        expect(page.locator("#art .stepped")).to_have_count(0)

    def test_a_hole_of_a_frame_moves_by_itself_and_the_photo_by_itself(self):
        page = self.page
        self.change(lambda: page.locator("#op-2").select_option("subtract"))
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 400))
        self.choose(self.o, self.bring(file))
        self.press("p")
        self.choose(self.o)
        page.locator("#desk").focus()
        page.keyboard.press("Enter")
        page.wait_for_selector("#art g.stepped")
        hole = self.item(self.o).shape.steps[1].member
        (hx0, hy0, hx1, hy1), lay = box_of(hole), self.item(self.o).photos[0].matrix
        spot = ((hx0 + hx1) / 2, (hy0 + hy1) / 2)
        revision = self.revision
        self.drag(spot, (spot[0] - 30, spot[1]))
        self.wait(lambda: self.revision > revision)
        self.settle()
        self.assertAlmostEqual(box_of(self.item(self.o).shape.steps[1].member)[0], hx0 - 30, delta=2.5)
        self.assertEqual(self.item(self.o).photos[0].matrix, lay)
        revision = self.revision
        self.drag((250, 270), (280, 270))
        self.wait(lambda: self.revision > revision)
        self.assertAlmostEqual(self.item(self.o).photos[0].matrix[4], lay[4] + 30, delta=2.5)
        self.assertAlmostEqual(box_of(self.item(self.o).shape.steps[1].member)[0], hx0 - 30, delta=2.5)

    def test_margins_are_shown_set_and_evened(self):
        page = self.page
        self.change(lambda: page.locator("#op-2").select_option("subtract"))
        left = page.locator("#hole-0-left")
        expect(left).to_be_visible()
        self.near((float(left.input_value()),), (50,))
        left.fill("5*8")
        self.change(lambda: left.press("Enter"))
        self.near(tuple(margins(outline_of(self.item(self.o)))[0].hole.bounds[:1]), (140,))
        expect(page.locator("#hole-0-left")).to_have_value("40")
        expect(page.locator("#desk")).to_be_focused()
        self.change(lambda: page.click(".even"))
        (m,) = margins(outline_of(self.item(self.o)))
        self.assertAlmostEqual(m.left, m.right, places=6)
        self.assertAlmostEqual(m.top, m.bottom, places=6)
        expect(page.locator(".even")).to_be_disabled()

    def test_reshaping_by_numbers(self):
        page = self.page
        self.station(2)
        page.fill("#r-offset", "-1000")
        page.click("#once-offset")
        expect(page.locator("#drawer .field-error")).to_contain_text("left that far inside")
        page.fill("#r-offset", "10")
        self.change(lambda: page.click("#once-offset"))
        self.assertEqual(len(self.sheet.items), 2)
        self.near(self.box(self.sheet.items[0].id), (90, 90, 510, 310))
        self.choose(self.o)
        # its own drawer, and not still that of the new piece, which has no corner
        expect(page.locator("#drawer h2").first).to_have_text(self.item(self.o).name)
        page.fill("#r-round", "6")
        self.change(lambda: page.click("#once-round"))
        expect(page.locator("#cuts .step")).to_have_count(0)

    def moved_result(self, before: str, outline: str = "") -> str:
        """Return the outline shown once it differs, while the pointer is still down."""
        self.page.wait_for_function(
            "([id, d]) => document.querySelector(`#art g[data-id=${id}] .shape`).getAttribute('d') !== d",
            arg=[outline or self.o, before],
        )
        return self.page.locator(f"#art g[data-id={outline or self.o}] .shape").get_attribute("d")


class TwoWindows(BrowserCase):
    def test_a_stale_window_is_told_and_shown_the_head(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        other = self.open(self.new_page())
        # quicker than the window can learn of it
        other.route("**/now?*", lambda route: route.fulfill(status=204))
        self.choose(a)
        self.press("ArrowDown")
        other.locator(f"#row-{a}").click()
        other.keyboard.press("Delete")
        other.wait_for_selector(".notice")
        self.assertIn("another window", other.locator(".notice").inner_text())
        self.assertEqual(len(self.sheet.items), 1)
        box = other.locator(f"#art g[data-id={a}]").get_attribute("data-box")
        self.assertEqual(round(float(box.split()[1])), self.box(a)[1])
        other.locator(f"#row-{a}").click()
        other.keyboard.press("Delete")
        self.wait(lambda: len(self.sheet.items) == 0)

    def test_a_step_that_another_window_took_out(self):
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        b = self.draw("ellipse", 200, 100, 200, 200)
        self.choose(a, b)
        self.press("u")
        (outline,) = self.sheet.items
        self.station(2)
        other = self.open(self.new_page())
        other.locator(f"#row-{outline.id}").click()
        other.locator("#op-1").wait_for()
        self.push(".step[data-number='1'] .drop")
        now = self.sheet
        other.locator("#op-1").select_option("subtract")
        other.wait_for_selector(".notice")
        self.assertIn("another window", other.locator(".notice").inner_text())
        self.assertEqual(self.sheet, now)
        self.assertEqual({i.kind for i in now.items}, {"piece"})
        expect(other.locator("select.op")).to_have_count(0)
