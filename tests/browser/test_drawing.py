"""The Draw station's tools, by pointer and keyboard."""

import math
from itertools import cycle

from playwright.sync_api import expect

from outline.curves import nodes
from sheet.document.model import CutList, EdgeRun, Freehand, Lettering, Plain, Polygon, Star
from sheet.geometry.geometry import box_of, is_line, outline_of

from .base import BrowserCase


class Tools(BrowserCase):
    def tool(self, key: str) -> None:
        self.page.keyboard.press(key)
        self.page.wait_for_selector(f".tile[aria-keyshortcuts={key}][aria-pressed=true]")

    def drawn(self, count: int = 1):
        """Wait until so many items lie on the sheet; return the topmost."""
        self.wait(lambda: len(self.sheet.items) == count)
        self.settle()
        return self.sheet.items[-1]

    def test_polygon_with_sides_by_arrows_and_regular_with_shift(self):
        page = self.open()
        self.tool("g")
        page.keyboard.down("Shift")

        def more():
            page.keyboard.press("ArrowUp")
            page.keyboard.press("ArrowUp")

        self.drag((100, 100), (300, 300), before_drop=more)
        page.keyboard.up("Shift")
        piece = self.drawn()
        self.assertIsInstance(piece.shape, Polygon)
        self.assertEqual(piece.shape.sides, 8)
        # regular: every side is as long as the others
        ring = nodes.runs(outline_of(piece))[0].nodes
        sides = [math.dist(a.at, b.at) for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)]
        self.assertAlmostEqual(min(sides) / max(sides), 1, delta=1e-3)

    def test_star_numbers_stay_editable(self):
        page = self.open()
        self.tool("a")
        page.fill("#set-points", "7")
        page.press("#set-points", "Tab")
        page.locator("#desk").focus()
        self.drag((100, 100), (400, 400))
        self.assertEqual(self.drawn().shape.points, 7)
        before = self.revision
        page.fill("#d-points", "3*4")
        page.press("#d-points", "Enter")
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.sheet.items[0].shape.points, 12)
        self.settle()
        page.fill("#d-inner", "120")
        page.press("#d-inner", "Enter")
        expect(page.locator("#dimensions .field-error")).to_contain_text("from 5 to 95")
        self.assertIsInstance(self.sheet.items[0].shape, Star)

    def test_corner_radius_by_dot_all_and_one_alone(self):
        page = self.open()
        self.draw_by_hand("rectangle", 100, 100, 400, 300)
        self.settle()
        self.drag_handle("radius0", 60, 60)
        self.settle()
        first = self.sheet.items[0].shape.radii
        self.assertEqual(len(set(first)), 1)
        self.assertGreater(first[0], 40)
        self.drag_handle("radius2", 40, 40, "Alt")
        radii = self.sheet.items[0].shape.radii
        self.assertEqual(radii[0], first[0])
        self.assertNotEqual(radii[2], first[0])
        self.settle()
        page.fill("#d-radius", "9000")
        page.press("#d-radius", "Enter")
        self.assertIn("now 150", self.notice("largest"))

    def test_a_corner_radius_set_before_drawing_shows_meanwhile_and_is_remembered(self):
        page = self.open()
        page.keyboard.press("r")
        page.fill("#set-corner", "40")
        page.keyboard.press("Enter")

        def rounded():
            page.wait_for_function("() => document.querySelector('#live .drawing')?.getAttribute('d').includes('C')")

        self.drag((100, 100), (400, 300), rounded)
        self.wait(lambda: len(self.sheet.items) == 1)
        self.assertEqual(self.sheet.items[0].shape.radii, (40,) * 4)
        self.settle()
        page.reload()
        page.wait_for_selector("html[data-ready]")
        page.keyboard.press("r")
        expect(page.locator("#set-corner")).to_have_value("40")
        page.fill("#set-corner", "4000")
        page.keyboard.press("Enter")
        self.drag((500, 100), (700, 300))
        self.wait(lambda: len(self.sheet.items) == 2)
        self.assertIn("is now 100 px, the largest that fits", self.notice("largest"))

    def test_curve_corners_handles_back_and_closing(self):
        page = self.open()
        self.tool("q")
        self.click(100, 100)
        self.click(300, 100)
        self.click(500, 500)
        page.keyboard.press("Backspace")
        self.drag((300, 300), (250, 350))
        self.click(100, 100)
        piece = self.drawn()
        self.assertIsInstance(piece.shape, Plain)
        path = outline_of(piece)
        self.assertTrue(path.is_closed)
        self.assertEqual(path.node_count, 3)
        self.assertIn("symmetric", {n.kind for n in nodes.runs(path)[0].nodes})

    def test_curve_left_open_is_a_line_and_too_short_says_so(self):
        page = self.open()
        self.tool("q")
        self.click(100, 100)
        page.keyboard.press("Enter")
        self.notice("two nodes")
        self.click(400, 200)
        page.keyboard.press("Enter")
        piece = self.drawn()
        self.assertTrue(is_line(piece))
        self.tool("q")
        self.click(100, 300)
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        self.assertEqual(len(self.sheet.items), 1)

    def test_freehand_closes_near_its_start_and_its_nearness_can_be_changed(self):
        page = self.open()
        self.tool("f")
        mouse = page.mouse
        mouse.move(*self.at(500, 200))
        mouse.down()
        for k in range(1, 61):
            a = k * math.pi / 30
            mouse.move(*self.at(300 + 200 * math.cos(a), 200 + 120 * math.sin(a)))
        mouse.up()
        piece = self.drawn()
        self.assertIsInstance(piece.shape, Freehand)
        self.assertTrue(piece.shape.closed)
        self.assertLess(outline_of(piece).node_count, 16)
        before = self.revision
        page.fill("#d-tolerance", "20")
        page.press("#d-tolerance", "Enter")
        self.wait(lambda: self.revision > before)
        self.assertLess(outline_of(self.sheet.items[0]).node_count, outline_of(piece).node_count)

    def test_lettering_is_set_edited_and_kerned(self):
        page = self.open()
        self.tool("l")
        page.select_option("#set-font", "bebas-neue")
        page.locator("#desk").focus()
        self.click(100, 300)
        page.fill("#letter textarea", " ")
        page.click("#letter .btn-primary")
        expect(page.locator("#letter .field-error")).to_contain_text("one letter")
        page.fill("#letter textarea", "TAGS")
        page.press("#letter textarea", "Control+Enter")
        piece = self.drawn()
        self.assertIsInstance(piece.shape, Lettering)
        self.assertEqual((piece.shape.text, piece.shape.font), ("TAGS", "bebas-neue"))
        before = self.revision
        page.locator("textarea#d-text").evaluate("t => { t.focus(); t.setSelectionRange(1, 1); }")
        page.keyboard.press("Alt+ArrowLeft")
        self.wait(lambda: self.revision > before)
        self.settle()
        # the cursor stays, so that the next press kerns the same pair on
        page.keyboard.press("Alt+Shift+ArrowLeft")
        self.wait(lambda: self.sheet.items[0].shape.kerns == ((0, -60),))
        self.settle()
        before = self.revision
        page.fill("textarea#d-text", "漢TAG")
        page.press("textarea#d-text", "Tab")
        self.wait(lambda: self.revision > before)
        self.assertIn("“漢”", self.notice("has no"))

    def test_edge_run_along_a_line_and_a_side(self):
        page = self.open()
        self.tool("z")
        self.drag((100, 500), (500, 500))
        piece = self.drawn()
        self.assertIsInstance(piece.shape, EdgeRun)
        self.assertTrue(is_line(piece))
        self.draw_by_hand("rectangle", 100, 100, 300, 200)
        self.settle()
        self.tool("z")
        page.select_option("#set-kind", "scallop")
        page.locator("#desk").focus()
        before = self.revision
        self.click(250, 295)
        self.wait(lambda: self.revision > before)
        shape = self.sheet.items[-1].shape
        self.assertEqual((shape.kind, shape.sides), ("scallop", (2,)))

    def test_ready_outline_of_the_list(self):
        page = self.open()
        self.tool("y")
        page.click("#ready-cloud")
        page.locator("#desk").focus()
        self.drag((100, 100), (400, 250))
        piece = self.drawn()
        self.assertEqual(piece.name, "Cloud 1")
        self.near(box_of(piece), (100, 100, 400, 250))
        # the choice outlives other work, at another station too
        self.station(2)
        page.keyboard.press("y")
        self.drag((500, 100), (800, 250))
        self.assertEqual(self.drawn(2).name, "Cloud 2")
        self.station(1)
        expect(page.locator("#ready-cloud")).to_have_attribute("aria-pressed", "true")

    def test_a_ready_outline_where_its_tiles_were_never_seen(self):
        self.open()
        self.station(2)
        self.page.keyboard.press("y")
        # at once, before its picture can be here
        self.drag((100, 100), (400, 350))
        piece = self.drawn()
        self.assertEqual(piece.name, "Heart 1")
        self.near(box_of(piece), (100, 100, 400, 350))

    def test_settings_of_a_tool_serve_at_every_station(self):
        page = self.open()
        self.tool("l")
        page.select_option("#set-font", "pacifico")
        self.station(2)
        page.keyboard.press("l")
        page.mouse.click(*self.at(300, 300))
        before = self.revision
        page.fill("#letter textarea", "Marram Coast")
        page.click("#letter .btn-primary")
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.drawn().shape.font, "pacifico")

    def test_leaving_the_nodes_with_one_chosen(self):
        page = self.open()
        self.draw_by_hand("rectangle", 100, 100, 300, 200)
        self.settle()
        self.tool("n")
        page.locator("#node-marks .node").first.click()
        self.tool("c")
        # new_page() holds that no script failed
        expect(page.locator("#node-marks .node")).to_have_count(0)

    def test_drawing_into_the_chosen_outline_cuts_a_hole(self):
        page = self.open()
        self.draw_by_hand("rectangle", 100, 100, 400, 300)
        self.settle()
        self.tool("e")
        page.keyboard.press("s")
        expect(page.locator("#into-subtract")).to_have_attribute("aria-pressed", "true")
        before = self.revision
        self.drag(
            (200, 200),
            (300, 300),
            before_drop=lambda: expect(page.locator("#live .size-word")).to_contain_text("subtract"),
        )
        self.wait(lambda: self.revision > before)
        (item,) = self.sheet.items
        self.assertIsInstance(item.shape, CutList)
        self.assertEqual(len(list(outline_of(item).subpaths)), 2)
        self.settle()
        # the next piece drawn is a piece of its own again
        self.draw_by_hand("rectangle", 600, 100, 100, 100)
        self.assertEqual(len(self.sheet.items), 2)

    def test_fixed_size_and_always_from_the_centre(self):
        page = self.open()
        self.tool("r")
        page.click("summary:has-text('Fixed size')")
        page.fill("#set-fixed_w", "200")
        page.fill("#set-fixed_h", "1in")
        page.check("#set-centre")
        page.locator("#desk").focus()
        self.click(500, 400)
        self.near(box_of(self.drawn()), (400, 350, 600, 450))

    def test_a_hand_faster_than_the_answers_still_gets_the_size_it_typed(self):
        page = self.open()
        self.tool("r")
        page.click("summary:has-text('Fixed size')")
        waiting = []
        page.route("**/tool-settings?*", lambda request: waiting.append(request))
        for name, size in (("w", "300"), ("h", "80"), ("w", "200")):
            with page.expect_request("**/tool-settings?*"):
                page.fill(f"#set-fixed_{name}", size)
                page.locator("#desk").focus()
        self.click(500, 400)
        # the answers come late, and the last first
        for request in reversed(waiting):
            request.continue_()
        self.near(box_of(self.drawn()), (500, 400, 700, 480))

    def test_a_tool_taken_before_the_answer_stays_in_the_hand(self):
        page = self.open()
        self.tool("r")
        waiting = []
        page.route("**/command", lambda request: request.continue_() if waiting else waiting.append(request))
        with page.expect_request("**/command"):
            self.drag((100, 100), (300, 200))
        page.keyboard.press("e")
        waiting[0].continue_()
        self.drawn()
        expect(page.locator(".tile[aria-keyshortcuts=e]")).to_have_attribute("aria-pressed", "true")
        self.drag((400, 100), (600, 300))
        self.assertEqual(self.drawn(2).name, "Ellipse 1")
        expect(page.locator(".tile[aria-keyshortcuts=e]")).to_have_attribute("aria-pressed", "false")

    def test_fixed_proportion(self):
        page = self.open()
        self.tool("r")
        page.click("summary:has-text('Fixed size')")
        page.fill("#set-proportion", "3:2")
        page.locator("#desk").focus()
        self.drag((100, 100), (400, 150))
        x0, y0, x1, y1 = box_of(self.drawn())
        self.assertAlmostEqual((x1 - x0) / (y1 - y0), 1.5, delta=0.01)


class Nodes(BrowserCase):
    def start(self):
        self.page = self.open()
        item = self.draw_by_hand("rectangle", 200, 200, 300, 200)
        self.settle()
        self.page.keyboard.press("n")
        expect(self.page.locator("#node-marks [data-node]")).to_have_count(4)
        return item

    def node(self, k: int):
        return self.page.locator(f"#node-marks .node[data-node='{k}']")

    def drag_node(self, k: int, dx: float, dy: float) -> None:
        box = self.node(k).bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        before = self.revision
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + dx * self.zoom / 2, y + dy * self.zoom / 2)
        self.page.mouse.move(x + dx * self.zoom, y + dy * self.zoom)
        self.page.mouse.up()
        self.wait(lambda: self.revision > before)
        self.settle()

    def spots(self, item):
        return [n.at for run in nodes.runs(outline_of(self.item(item))) for n in run.nodes]

    def test_drag_nudge_and_numbers(self):
        item = self.start()
        self.drag_node(1, 50, 30)
        self.near(self.spots(item)[1], (550, 230))
        self.press("ArrowRight")
        self.near(self.spots(item)[1], (551, 230))
        before = self.revision
        self.page.fill("#node-x", "1000/2")
        self.page.press("#node-x", "Tab")
        self.wait(lambda: self.revision > before)
        self.assertAlmostEqual(self.spots(item)[1][0], 500)

    def test_kinds_handles_add_and_delete(self):
        item = self.start()
        self.node(1).click()
        self.page.click("#node-smooth")
        self.wait(lambda: len(outline_of(self.item(item)).arrays[1].nonzero()[0]) == 2)
        self.settle()
        handle = self.page.locator("[data-node-handle=after]")
        box = handle.bounding_box()
        before = self.revision
        self.page.mouse.move(box["x"] + 4, box["y"] + 4)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 60, box["y"] + 10, steps=4)
        self.page.mouse.up()
        self.wait(lambda: self.revision > before)
        self.settle()
        kinds = [n.kind for n in nodes.runs(outline_of(self.item(item)))[0].nodes]
        self.assertEqual(kinds[1], "smooth")
        before = self.revision
        self.page.mouse.dblclick(*self.at(350, 400))
        self.wait(lambda: self.revision > before)
        expect(self.page.locator("#node-marks .node")).to_have_count(5)
        self.node(3).click()
        before = self.revision
        self.page.keyboard.press("Delete")
        self.wait(lambda: self.revision > before)
        expect(self.page.locator("#node-marks .node")).to_have_count(4)
        self.assertEqual(len(self.sheet.items), 1)

    def test_marquee_loop_align_round(self):
        item = self.start()
        self.drag((150, 150), (250, 450))
        expect(self.page.locator("#node-marks .on.node")).to_have_count(2)
        self.push("#round-nodes")
        self.assertEqual(outline_of(self.item(item)).node_count, 6)
        self.settle()
        mouse = self.page.mouse
        self.page.keyboard.down("Alt")
        mouse.move(*self.at(450, 150))
        mouse.down()
        for x, y in ((560, 150), (560, 450), (450, 450)):
            mouse.move(*self.at(x, y), steps=3)
        mouse.up()
        self.page.keyboard.up("Alt")
        expect(self.page.locator("#node-marks .on.node")).to_have_count(2)
        self.page.keyboard.press("Escape")
        expect(self.page.locator("#node-marks .on.node")).to_have_count(0)

    def test_a_cut_list_says_what_to_do(self):
        self.page = self.open()
        a = self.draw_by_hand("rectangle", 100, 100, 200, 200)
        b = self.draw_by_hand("ellipse", 200, 200, 200, 200)
        self.choose(a, b)
        self.press("u")
        self.page.keyboard.press("n")
        expect(self.page.locator("#node-why")).to_contain_text("cut list")

    def test_margins_follow_the_nodes_of_a_hole(self):
        self.page = self.open()
        a = self.draw_by_hand("rectangle", 100, 100, 400, 400)
        b = self.draw_by_hand("rectangle", 150, 150, 200, 300)
        self.choose(a, b)
        self.press("s")
        self.page.click("#make-plain")
        self.wait(lambda: isinstance(self.sheet.items[0].shape, Plain))
        self.settle()
        self.page.keyboard.press("n")
        self.page.wait_for_selector("#node-marks .node")
        self.drag((330, 130), (370, 470))
        expect(self.page.locator("#node-marks .on.node")).to_have_count(2)
        shown = self.page.locator("#hole-0-right")
        before = shown.input_value()
        at = self.at(350, 150)
        self.page.mouse.move(*at)
        self.page.mouse.down()
        self.page.mouse.move(at[0] + 40, at[1], steps=4)
        self.page.wait_for_function("v => document.querySelector('#hole-0-right').value !== v", arg=before)
        self.assertEqual(self.sheet.items[0], self.sheet.items[0])
        self.page.keyboard.press("Escape")
        self.page.mouse.up()


class Placing(BrowserCase):
    def pieces(self):
        self.page = self.open()
        a = self.draw_by_hand("rectangle", 100, 100, 200, 100)
        b = self.draw_by_hand("rectangle", 450, 150, 100, 100)
        c = self.draw_by_hand("rectangle", 760, 400, 150, 100)
        self.settle()
        return a, b, c

    def test_align_space_and_nothing_would_move(self):
        a, b, c = self.pieces()
        self.choose(a, b, c)
        self.push("#align-top")
        self.assertEqual({self.box(i)[1] for i in (a, b, c)}, {100})
        self.page.click("#align-top")
        self.notice("already lined up")
        self.push("#space-x")
        xs = [self.box(i) for i in (a, b, c)]
        self.near((xs[1][0] - xs[0][2],), (xs[2][0] - xs[1][2],), 1.5)
        self.page.select_option("#align-to", "sheet")
        self.push("#align-both")
        for i in (a, b, c):
            x0, y0, x1, y1 = self.box(i)
            self.near(((x0 + x1) / 2, (y0 + y1) / 2), (500, 400), 1)
        # what was chosen stays, and one alone needs no choice
        self.open()
        expect(self.page.locator("#align-to")).to_have_value("sheet")
        self.page.select_option("#align-to", "chosen")
        self.choose(a)
        self.push("#align-top")
        self.notice("aligned to the sheet")
        self.assertEqual(self.box(a)[1], 0)

    def snapped(self, x: float, y: float) -> None:
        """Move the pointer to and fro by a point until it snaps: what there is to snap to comes after the pieces."""
        (x, y), to_and_fro = self.at(x, y), cycle((0, 1))
        line = self.page.locator("#live .snap-line")
        self.wait(lambda: self.page.mouse.move(x + next(to_and_fro), y) or line.count() > 0)

    def test_snap_to_an_edge_shows_it_and_ctrl_turns_it_off(self):
        a, b, _ = self.pieces()
        self.choose(b)
        reach = 3 / self.zoom
        at = (500, 200 - 50 + reach)
        self.drag((500, 200), at, before_drop=lambda: self.snapped(*at))
        self.wait(lambda: self.box(b)[1] != 150)
        self.assertAlmostEqual(box_of(self.item(b))[1], box_of(self.item(a))[1], delta=1e-6)
        self.settle()
        self.page.keyboard.down("Control")
        self.drag((500, 150), (500, 150 + 2 * reach))
        self.page.keyboard.up("Control")
        self.wait(lambda: box_of(self.item(b))[1] != box_of(self.item(a))[1])

    def test_drag_a_copy_and_the_step_again(self):
        a, _, _ = self.pieces()
        self.choose(a)
        self.page.keyboard.down("Alt")
        self.drag((150, 150), (150, 450))
        self.page.keyboard.up("Alt")
        self.wait(lambda: len(self.sheet.items) == 4)
        self.settle()
        copy = self.box(self.sheet.items[1].id)
        before = self.box(a)
        self.press("Control+Shift+D")
        self.assertEqual(len(self.sheet.items), 5)
        boxes = sorted(self.box(i.id) for i in self.sheet.items)
        self.assertEqual(boxes[2][1] - copy[1], copy[1] - before[1])

    def test_repeat_in_columns_and_rows(self):
        _, b, _ = self.pieces()
        self.choose(b)
        self.page.click("summary:has-text('Repeat')")
        self.page.fill("#rep-rows", "2")
        self.page.fill("#rep-x", "10")
        self.push("#repeat")
        self.assertEqual(len(self.sheet.items), 3 + 5)

    def test_group_step_inside_and_apart(self):
        a, b, _ = self.pieces()
        self.choose(a, b)
        self.press("Control+g")
        group = next(i for i in self.sheet.items if i.kind == "group")
        self.page.mouse.dblclick(*self.at(150, 150))
        expect(self.page.locator("#inside-bar")).to_be_visible()
        before = self.revision
        self.drag((150, 150), (150, 250))
        self.wait(lambda: self.revision > before)
        self.settle()
        inner = next(i for i in self.item(group.id).items if i.id == a)
        self.near(box_of(inner), (100, 200, 300, 300), 4)
        self.page.keyboard.press("Escape")
        self.press("Control+Shift+g")
        self.assertEqual(len(self.sheet.items), 3)

    def test_lock_and_hide_in_the_stack(self):
        a, b, _ = self.pieces()
        self.page.hover(f"#row-{a}")
        self.push(f"#entry-{a} .lock")
        before = self.revision
        self.drag((120, 120), (150, 150))
        self.idle()
        self.assertEqual(self.revision, before)
        self.choose(a)
        self.page.keyboard.press("Delete")
        self.notice("is locked")
        self.page.hover(f"#row-{b}")
        self.push(f"#entry-{b} .hide")
        expect(self.page.locator(f"#art g[data-id={b}]")).to_be_hidden()

    def test_copy_and_paste_between_projects(self):
        from sheet import new_sheet
        from studio.history import changes

        a, b, _ = self.pieces()
        self.choose(a, b)
        self.page.keyboard.press("Control+c")
        self.press("Control+v")
        self.assertEqual(len(self.sheet.items), 5)
        self.project = changes.start(self.user, "Other", new_sheet(500, 400, "px", 100))
        self.open()
        self.page.locator("#desk").focus()
        self.press("Control+v")
        self.assertEqual([i.name for i in self.sheet.items], ["Rectangle 1", "Rectangle 2"])
        self.page.keyboard.press("Control+x")
        self.wait(lambda: not self.sheet.items)
        self.settle()
        self.press("Control+v")
        self.assertEqual(len(self.sheet.items), 2)

    def test_flip_skew_pivot_and_kept_proportion(self):
        a, _, _ = self.pieces()
        self.choose(a)
        self.page.locator("#resize-fold summary").click()
        self.page.check("#keep-proportion")
        self.page.click("#pivot-22")
        before = self.revision
        self.page.fill("#g-width", "100")
        self.page.press("#g-width", "Enter")
        self.wait(lambda: self.revision > before)
        self.near(self.box(a), (200, 150, 300, 200), 2)
        self.settle()
        # the pivot shows on the sheet and can be dragged; a turn goes about it
        self.page.wait_for_selector("[data-handle=pivot]")
        before = self.revision
        self.page.fill("#g-angle", "90")
        self.page.press("#g-angle", "Enter")
        self.wait(lambda: self.revision > before)
        self.near(self.box(a), (300, 100, 350, 200), 2)
        self.settle()
        self.push("#flip-across")
        self.near(self.box(a), (300, 100, 350, 200), 2)

    def test_guides_from_the_ruler_by_number_locked_and_cleared(self):
        self.page = self.open()
        ruler = self.page.locator(".ruler.left").bounding_box()
        mouse = self.page.mouse
        before = self.revision
        mouse.move(ruler["x"] + 8, ruler["y"] + 200)
        mouse.down()
        mouse.move(*self.at(300, 300), steps=4)
        mouse.up()
        self.wait(lambda: self.revision > before)
        self.near((self.sheet.guides[0].at,), (300,), 4)
        self.settle()
        before = self.revision
        self.page.fill("#guide-0", "25%")
        self.page.press("#guide-0", "Tab")
        self.wait(lambda: self.revision > before)
        self.assertEqual(self.sheet.guides[0].at, 250)
        self.settle()
        before = self.revision
        self.page.keyboard.press("r")
        self.drag((453, 200), (253, 100), before_drop=lambda: self.snapped(253, 100))
        self.wait(lambda: self.revision > before)
        self.assertAlmostEqual(box_of(self.sheet.items[-1])[0], 250, delta=1e-6)
        self.settle()
        self.push("#lock-guides")
        self.assertTrue(self.sheet.guides_locked)
        self.push("#lock-guides")
        self.push("#clear-guides")
        self.assertEqual(self.sheet.guides, ())
        self.page.select_option("#grid-kind", "modules")
        self.wait(lambda: self.sheet.grid.kind == "modules")
        expect(self.page.locator(".grid-module")).to_be_attached()

    def test_views(self):
        a, _, _ = self.pieces()
        self.choose(a)
        self.page.locator("#desk").focus()
        before = self.zoom
        self.page.keyboard.press("k")
        self.assertGreater(self.zoom, before * 1.5)
        self.page.keyboard.press("0")
        # 96 CSS px are an inch (CSS Values 4), and the sheet has 100 px per inch
        self.assertAlmostEqual(self.zoom, 0.96, delta=0.01)
        self.page.keyboard.press("Shift+V")
        self.assertTrue(self.page.locator("#lines").is_checked())
        self.page.keyboard.press("w")
        self.assertAlmostEqual(self.zoom, before, delta=0.01)

    def test_same_paint_and_lying_inside(self):
        self.pieces()
        self.page.locator("#desk").focus()
        self.draw_by_hand("rectangle", 50, 50, 600, 250)
        self.page.click("summary:has-text('Repeat')")
        self.page.click("#lying-inside")
        expect(self.page.locator("#hint-chosen")).to_contain_text("2 selected")
        self.page.click("#same-paint")
        expect(self.page.locator("#hint-chosen")).to_contain_text("4 selected")
