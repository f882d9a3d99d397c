"""The cell tool, finishes, loops, and stopping long work, by pointer and keyboard."""

from playwright.sync_api import expect

from sheet.document.model import CutList
from sheet.document.tree import find
from sheet.geometry.geometry import outline_of

from .base import BrowserCase


class Cells(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open()
        self.a = self.draw("rectangle", 100, 100, 300, 300)
        self.b = self.draw("rectangle", 250, 250, 300, 300)
        self.settle()
        self.choose(self.a, self.b)
        self.station(2)
        self.page.keyboard.press("j")
        expect(self.page.locator("#cells .cell")).to_have_count(3)

    def line(self, start, end) -> str:
        """Leave the cells and draw an open line; return its id."""
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("q")
        self.click(*start)
        self.click(*end)
        self.press("Enter")
        return self.sheet.items[-1].id

    def areas(self):
        return sorted(round(outline_of(i).area / 1000) for i in self.sheet.items)

    def test_drag_joins_alt_takes_away_click_lifts(self):
        page = self.page
        page.mouse.move(*self.at(300, 300))
        expect(page.locator("#cells .cell.over")).to_have_count(1)
        self.drag((150, 150), (320, 320))
        expect(page.locator("#cell-bar")).to_contain_text("2 joined into 1")
        # told by an outline too, which is drawn below the two and over the third
        drawn = page.locator("#cells path").evaluate_all("all => all.map(p => p.getAttribute('class').split(' ')[0])")
        self.assertEqual(drawn, ["cell", *["joined-casing"] * 2, *["joined-edge"] * 2, "cell", "cell"])
        expect(page.locator("#hint")).to_contain_text("take away")
        page.keyboard.down("Alt")
        self.click(500, 500)
        page.keyboard.up("Alt")
        expect(page.locator("#cell-bar")).to_contain_text("1 taken away")
        self.push("#accept-cells")
        self.assertEqual(self.areas(), [90])
        expect(page.locator("#cell-bar")).to_be_hidden()

    def test_lift_one_and_put_it_back(self):
        page = self.page
        page.keyboard.press("l")
        expect(page.locator("#brush-lift")).to_have_attribute("aria-pressed", "true")
        self.click(320, 320)
        expect(page.locator("#cells .lifted")).to_have_count(1)
        self.click(320, 320)
        expect(page.locator("#cells .lifted")).to_have_count(0)
        self.click(320, 320)
        before = self.revision
        page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.assertEqual(len(self.sheet.items), 3)

    def test_by_keyboard_and_dropped_with_escape(self):
        page = self.page
        page.locator("#desk").focus()
        page.keyboard.press("ArrowRight")
        page.keyboard.press("a")
        expect(page.locator("#cells .away")).to_have_count(1)
        page.keyboard.press("Escape")
        expect(page.locator("#cells .away")).to_have_count(0)
        page.keyboard.press("ArrowRight")
        page.keyboard.press("j")
        page.keyboard.press("ArrowRight")
        page.keyboard.press("j")
        expect(page.locator("#cell-bar")).to_contain_text("2 joined into 1")
        before = self.revision
        page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.press("Control+z")
        self.assertEqual(self.areas(), [90, 90])

    def test_the_result_follows_its_pieces_and_can_be_changed(self):
        page = self.page
        self.drag((150, 150), (320, 320))
        self.push("#accept-cells")
        joined = self.sheet.items[-1] if self.sheet.items[-1].name.startswith("Joined") else self.sheet.items[0]
        self.assertEqual(self.areas(), [68, 90])
        self.settle()
        expect(page.locator("#cuts")).to_contain_text("in Rectangle 1 and Rectangle 2")
        # stepped inside, a piece is moved: both outlines that came of it follow
        page.locator("#cuts .step-name", has_text="Rectangle 2").click()
        for _ in range(5):
            page.keyboard.press("Shift+ArrowLeft")
        self.idle()
        self.assertEqual(self.areas(), [60, 90])
        # its choice: one more cell joined by a click, and Enter
        page.locator("#change-cells").click()
        expect(page.locator("#cells .cell")).to_have_count(3)
        self.click(500, 500)
        expect(page.locator("#cell-bar")).to_contain_text("1 joined")
        before = self.revision
        page.keyboard.press("Enter")
        self.wait(lambda: self.revision > before)
        self.assertEqual(round(outline_of(find(self.sheet, joined.id)).area / 1000), 150)
        # and taken out again in the cut list, by its row
        self.settle()
        page.locator("#cuts").get_by_role("button", name="Take out the part in Rectangle 2 alone").click()
        self.wait(lambda: round(outline_of(find(self.sheet, joined.id)).area / 1000) == 90)

    def test_edges_follow_the_neighbour_that_was_left_whole(self):
        page = self.page
        page.locator("#cells-follow").check()
        page.keyboard.press("a")
        self.click(500, 500)
        expect(page.locator("#cell-bar")).to_contain_text("1 taken away")
        self.push("#accept-cells")
        self.notice("follow")
        shade = next(i.id for i in self.sheet.items if i.id != self.a)
        self.near(self.box(shade), (250, 250, 400, 400))
        # the neighbour is moved by pointer and by key, and its edge of the shade with it
        page.keyboard.press("Escape")
        before = self.revision
        self.drag((150, 150), (210, 150))
        self.wait(lambda: self.revision > before)
        self.settle()
        right = self.box(self.a)[2]
        self.assertGreater(right, 440)
        self.near(self.box(shade), (250, 250, right, 400))
        self.press("Shift+ArrowDown")
        self.near(self.box(shade), (250, 250, right, 410))
        # the screen shows what is stored
        shown = page.locator(f"#art [data-id='{shade}']").bounding_box()
        self.near((shown["width"] / self.zoom, shown["height"] / self.zoom), (right - 250, 160), 6)
        self.press("Control+z")
        self.press("Control+z")
        self.near(self.box(shade), (250, 250, 400, 400))

    def test_one_part_alone_opens_nothing(self):
        self.choose(self.a)
        self.page.keyboard.press("j")
        self.notice("only one part")
        expect(self.page.locator("#cell-bar")).to_be_hidden()

    def test_a_cell_that_has_gone_is_told(self):
        page = self.page
        page.keyboard.press("l")
        self.click(320, 320)
        self.push("#accept-cells")
        self.settle()
        page.locator("#cuts .step-name", has_text="Rectangle 2").click()
        page.fill("#g-x", "700")
        page.press("#g-x", "Enter")
        expect(page.locator("#cuts")).to_contain_text("gone")
        expect(page.locator("#notices")).to_contain_text("Nothing is left of “Part of Rectangle 2”")

    def test_open_lines_make_cells_too(self):
        page = self.page
        self.choose(self.b, self.line((50, 450), (600, 450)))
        page.keyboard.press("j")
        expect(page.locator("#cells .cell")).to_have_count(2)

    def test_a_drawn_line_splits_a_piece_in_two(self):
        page = self.page
        self.choose(self.a, self.line((50, 200), (450, 200)))
        card = page.locator("#card-subtract")
        expect(card).to_contain_text("2")
        expect(page.locator("#card-union")).to_contain_text("open line")
        self.press("s")
        self.assertEqual(len(self.sheet.items), 3)


class Finishing(BrowserCase):
    def test_an_offset_as_a_step_changed_switched_and_taken_away(self):
        page = self.open()
        self.draw("rectangle", 100, 100, 300, 200)
        self.settle()
        self.station(2)
        page.fill("#r-offset", "10")
        self.push("#step-offset")
        self.assertIsInstance(self.sheet.items[0].shape, CutList)
        self.near(self.box(self.sheet.items[0].id), (90, 90, 410, 310))
        page.fill(".finish input", "-5*2")
        page.press(".finish input", "Enter")
        self.wait(lambda: self.box(self.sheet.items[0].id)[0] > 100)
        self.settle()
        expect(page.locator("#desk")).to_be_focused()
        page.fill(".finish input", "-500")
        page.press(".finish input", "Enter")
        expect(page.locator("#cuts .field-error")).to_contain_text("would be left")
        self.push(".switch-finish")
        self.near(self.box(self.sheet.items[0].id), (100, 100, 400, 300))
        self.push(".finish .drop")
        self.assertEqual(self.sheet.items[0].shape.finishes, ())

    def test_simplify_tells_and_loops_gather_and_separate(self):
        page = self.open()
        a = self.draw("rectangle", 100, 100, 300, 300)
        b = self.draw("rectangle", 200, 200, 100, 100)
        self.settle()
        self.choose(a, b)
        self.station(2)
        self.push("#gather")
        self.assertEqual(round(outline_of(self.sheet.items[0]).area / 1000), 80)
        page.select_option("#d-fill_rule", "nonzero")
        self.wait(lambda: round(outline_of(self.sheet.items[0]).area / 1000) == 90)
        self.settle()
        self.push("#separate-loops")
        self.assertEqual(len(self.sheet.items), 2)

    def test_long_work_shows_and_can_be_stopped(self):
        page = self.open()
        self.draw("rectangle", 100, 100, 300, 300)
        self.settle()
        held = []
        page.route("**/command", lambda route: held.append(route) if not held else route.continue_())
        page.keyboard.press("Delete")
        card = page.locator("#progress")
        expect(card).to_be_visible()
        # the command does arrive, but the person has stopped it
        page.click("#progress #stop")
        self.notice("Stopped")
        expect(card).to_be_hidden()
        self.assertEqual(len(self.sheet.items), 1)
        held[0].abort()
        page.unroute("**/command")
        self.press("Delete")
        self.assertEqual(self.sheet.items, ())

    def test_blend_in_finish(self):
        page = self.open()
        self.draw("rectangle", 100, 100, 300, 300)
        self.settle()
        self.station(4)
        before = self.revision
        page.select_option("#p-blend", "multiply")
        self.wait(lambda: self.revision > before)
        self.settle()
        mode = page.locator("#art > g").first.evaluate("g => getComputedStyle(g).mixBlendMode")
        self.assertEqual(mode, "multiply")
