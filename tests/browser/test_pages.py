"""The pages around the editor, and that every page can be used without sight of it."""

import re

from axe_playwright_python.base import AXE_SCRIPT
from django.utils import timezone
from playwright.sync_api import expect

from sheet import new_sheet
from studio.history import changes
from studio.models import Project
from tests.studio.helpers import jpeg

from .base import BrowserCase


class Gate(BrowserCase):
    signed_in = False

    def test_sign_up_make_a_project_and_sign_out(self):
        page = self.page
        page.goto(self.live_server_url)
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
        self.assertEqual(page.get_by_text("Open the demo").count(), 0)
        page.click("text=Create an account")
        page.fill("[name=username]", "cora")
        page.fill("[name=password1]", "marram-grass-27")
        page.fill("[name=password2]", "marram-grass-27")
        page.click("button:has-text('Create account')")
        page.fill("[name=name]", "Poster")
        page.click("text=Video cover")
        expect(page.locator("[name=width]")).to_have_value("1280")
        page.fill("[name=height]", "0")
        page.click("button:has-text('Create project')")
        expect(page.locator("#n-error")).to_contain_text("height")
        expect(page.locator("[name=size][value=custom]")).to_be_checked()
        page.fill("[name=height]", "2000/3")
        page.click("button:has-text('Create project')")
        page.wait_for_selector("html[data-ready]")
        project = Project.objects.get(name="Poster")
        self.assertEqual((project.owner.username, round(project.head.sheet.height, 3)), ("cora", 666.667))
        page.click("a.brand")
        page.click("text=Sign out")
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()


class Listing(BrowserCase):
    def test_a_size_picked_before_the_script_is_here(self):
        page = self.page
        waiting = []
        page.route("**/projects.js", lambda request: waiting.append(request))
        page.goto(self.live_server_url, wait_until="commit")
        page.click("text=Video cover")
        expect(page.locator("[name=width]")).to_have_value("148")
        waiting[0].continue_()
        expect(page.locator("[name=width]")).to_have_value("1280")

    def test_rename_duplicate_delete_and_undo(self):
        page = self.page
        page.goto(self.live_server_url)
        more = page.get_by_role("button", name="More for Card")
        more.click()
        page.fill("[aria-label='New name for Card']", "Ferry card")
        page.click("button:has-text('Rename')")
        page.get_by_role("button", name="More for Ferry card").click()
        page.click("text=Duplicate")
        expect(page.locator(".project")).to_have_count(2)
        page.get_by_role("button", name="More for Ferry card copy").click()
        page.click(".dropdown-menu.show button:has-text('Delete')")
        expect(page.locator(".project")).to_have_count(1)
        page.click(".notice-line button:has-text('Undo')")
        expect(page.locator(".project")).to_have_count(2)
        expect(page.locator(".project-picture img").first).to_have_js_property("naturalWidth", 560)


class Accessible(BrowserCase):
    """axe-core's rules, WCAG 2.2 level AA among them, find no violation."""

    long = True

    ASIDES = ("#drawer", "#side")
    """What a station or a tool changes; the rest of the page is looked at once."""

    def check(self, what: str, parts: tuple[str, ...] = ()) -> None:
        page = self.page
        page.evaluate("document.querySelectorAll('details').forEach((d) => (d.open = true))")
        if not page.evaluate("Boolean(window.axe)"):
            page.evaluate(AXE_SCRIPT)
        rules = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
        # what is in order is not told at length, which takes half the time
        options = {"runOnly": rules, "resultTypes": ["violations"], "preload": False}
        where = [[part] for part in parts] or [["html"]]
        # a colour that is on its way to another one is not looked at
        page.evaluate("() => Promise.allSettled(document.getAnimations().map((a) => a.finished))")
        found = page.evaluate(
            "([where, options]) => axe.run(where, options).then((r) =>"
            " r.violations.map((v) => [v.id, v.help, v.nodes.map((n) => n.html)]))",
            [where, options],
        )
        self.assertEqual(found, [], what)

    def test_in_the_dark_all_words_can_be_read(self):
        """WCAG 2.2, 1.4.3, where the system asks for dark; the sheet stays as light as paper."""
        page = self.page
        page.emulate_media(color_scheme="dark")
        self.addCleanup(page.emulate_media, color_scheme="light")
        contrast = (
            "() => axe.run(document, {runOnly: ['color-contrast'], resultTypes: ['violations']}).then((r) =>"
            " r.violations.flatMap((v) => v.nodes.map((n) => n.html + n.failureSummary)))"
        )
        page.goto(f"{self.live_server_url}/")
        page.evaluate(AXE_SCRIPT)
        self.assertEqual(page.evaluate(contrast), [])
        self.open()
        page.evaluate(AXE_SCRIPT)
        self.choose(self.draw("rectangle", 60, 60, 300, 200))
        for station in "12345":
            page.keyboard.press(station)
            page.wait_for_load_state("networkidle")
            self.assertEqual(page.evaluate(contrast), [], station)
        ground = "(e) => getComputedStyle(document.querySelector(e)).backgroundColor"
        self.assertLess(sum(int(v) for v in re.findall(r"\d+", page.evaluate(ground, "body"))[:3]), 150)

    def test_pages_and_stations(self):
        page = self.page
        changes.start(self.user, "Away", new_sheet(10, 10))
        Project.objects.filter(name="Away").update(deleted=timezone.now())
        for path in ("", "account", "account/close", "password", "forgotten", f"p/{self.project.pk}/steps"):
            page.goto(f"{self.live_server_url}/{path}")
            self.check(path)
        page.get_by_text("Back to the sheet").click()
        page.locator(".brand").click()
        page.get_by_role("button", name="More for Card").click()
        self.check("project menu")
        page.goto(f"{self.live_server_url}/batches")
        page.get_by_role("button", name="New batch").click()
        self.check("a new batch")
        page.goto(f"{self.live_server_url}/p/{self.project.pk}/?first=1")
        page.wait_for_selector("#first-job:not([hidden])")
        self.check("the first job", ("#first-job",))
        page.evaluate("document.getElementById('touch-strip').hidden = false")
        self.check("what a resting finger opens", ("#touch-strip",))
        self.open()
        self.check("empty sheet")
        a = self.draw("rectangle", 100, 100, 200, 200)
        b = self.draw("ellipse", 200, 100, 200, 200)
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 400))
        self.bring(file)
        for number in range(1, 6):
            for chosen in ((), (a,), (a, b)):
                page.keyboard.press("Escape")
                self.choose(*chosen)
                if number > 1 or chosen:
                    self.station(number)
                self.check(f"station {number}, {len(chosen)} chosen", () if len(chosen) == 2 else self.ASIDES)
        for key in ("png", "jpg", "webp", "svg"):
            page.click(f"#format-{key}")
            expect(page.locator(f"#format-{key}")).to_have_attribute("aria-pressed", "true")
            self.check(f"exporting {key}", self.ASIDES)
        page.click("#look-closer")
        page.mouse.move(*self.at(200, 200))
        expect(page.locator("#lens")).to_be_visible()
        self.check("the lens")
        page.keyboard.press("Escape")
        self.choose(a)
        page.locator("#web-fold summary").click()
        page.select_option("#d-web", "polygon")
        expect(page.locator("#d-deviation")).to_be_visible()
        self.check("an outline for the web")
        self.press("u", changes=False)
        self.notice()
        self.check("notice")
        page.keyboard.press("?")
        expect(page.locator("dialog#keys")).to_be_visible()
        self.check("keys")

    def test_shelf_refit_and_runs(self):
        page = self.page
        for path in ("shelf", "batches"):
            page.goto(f"{self.live_server_url}/{path}")
            self.check(f"an empty {path}")
        self.open()
        a = self.draw("rectangle", 100, 100, 400, 300)
        b = self.draw("ellipse", 420, 120, 60, 60)
        self.choose(a, b)
        self.press("s")
        made = self.sheet.items[-1].id
        page.keyboard.press("Shift+R")
        page.locator(".pin-anchor").first.click()
        self.check("refit, a pin open")
        page.keyboard.press("Escape")
        page.locator("#drop-refit").click()
        self.choose(made)
        page.keyboard.press("Shift+K")
        expect(page.locator("#keep-name")).to_be_focused()
        self.check("keeping")
        self.press("Enter")
        page.keyboard.press("y")
        page.wait_for_selector(".shelf-item", state="attached")
        self.check("the shelf beside the ready outlines")
        page.locator("#ready-ticket").click()
        before = self.revision
        self.drag((550, 450), (800, 600))
        self.wait(lambda: self.revision > before)
        self.settle()
        page.keyboard.press("Shift+R")
        page.wait_for_selector(".band-edge")
        self.check("refit with bands")
        page.locator("#drop-refit").click()
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 400))
        self.bring(file)
        page.goto(f"{self.live_server_url}/shelf")
        page.get_by_role("button", name="More for").first.click()
        page.get_by_role("button", name="Make landscape, square and portrait").click()
        page.wait_for_selector(".shelf-variants")
        self.check("the shelf")
        page.get_by_role("button", name="More for").first.click()
        page.get_by_role("button", name="Same frame, many photos").click()
        page.wait_for_selector("html[data-ready]")
        self.check("an empty run")
        self.open()
        self.choose(made)
        self.station(5)
        page.locator("#batch-photos").click()
        page.wait_for_selector("html[data-ready]")
        page.locator("#batch-own").click()
        page.wait_for_selector(".cell")
        self.check("a run")
        page.locator("#cell-0").click()
        expect(page.locator("#seat-picture")).to_be_focused()
        self.check("a photo adjusted")
        page.goto(f"{self.live_server_url}/batches")
        self.check("runs")

    def test_drawing_and_cutting(self):
        page = self.open()
        for tool in "rqfglzya":
            page.keyboard.press(tool)
            self.check(f"tool {tool}", () if tool == "r" else self.ASIDES)
        a = self.draw("rectangle", 100, 100, 200, 200)
        b = self.draw("ellipse", 200, 100, 200, 200)
        page.keyboard.press("l")
        page.mouse.click(*self.at(300, 600))
        page.fill("#letter textarea", "Tide")
        self.check("lettering being written")
        before = self.revision
        page.click("#letter .btn-primary")
        self.wait(lambda: self.revision > before)
        self.settle()
        self.check("lettering chosen")
        self.choose(a)
        page.keyboard.press("n")
        page.locator("#node-marks .node").first.click()
        self.check("a node chosen")
        page.keyboard.press("c")
        self.choose(a, b)
        self.station(2)
        page.keyboard.press("j")
        page.wait_for_selector("#cells .cell")
        self.check("by cell")
        page.keyboard.press("Escape")
        before = self.revision
        page.keyboard.press("s")
        self.wait(lambda: self.revision > before)
        self.settle()
        before = self.revision
        page.locator("#step-offset").click()
        self.wait(lambda: self.revision > before)
        self.settle()
        self.check("a finish in the cut list")

    def test_fitting_panes_and_colours(self):
        page = self.page
        self.open()
        a = self.draw("ellipse", 100, 100, 300, 300)
        file = self.folder / "sea.jpg"
        file.write_bytes(jpeg(600, 400))
        photo = self.bring(file)
        self.choose(a, photo)
        self.station(3)
        self.press("p")
        self.check("a frame with its photo")
        page.keyboard.press("Shift+S")
        expect(page.locator("#silhouette-bar")).to_be_visible()
        for way in ("brightness", "tone", "subject"):
            page.locator(f"#way-{way}").click()
            self.check(f"a silhouette by {way}", () if way == "subject" else (*self.ASIDES, "#silhouette-bar"))
        page.locator("#drop-silhouette").click()
        # what is not filled yet does not stay so
        expect(page.locator("#keep-covered")).not_to_be_checked()
        self.push("#settle-cover")
        before = self.revision
        page.locator("#keep-covered").uncheck()
        self.wait(lambda: self.revision > before)
        self.settle()
        self.push("#settle-fit")
        self.check("a frame that is not covered")
        page.locator("#n-columns").fill("4")
        self.push("#split")
        page.locator("#pane-0").click()
        self.check("panes, one of them marked")
        self.station(4)
        self.fill("#p-stroke_width", "4")
        self.push("#keep-swatch")
        expect(page.locator("#photo-colours .swatch").first).to_be_visible()
        self.check("paint, places of the border, colours")
        self.push("#p-fill-gradient")
        self.push("#g-fill-add")
        self.check("a gradient", ("#drawer",))
        page.keyboard.press(".")
        page.mouse.move(*self.at(200, 200))
        expect(page.locator("#loupe")).to_be_visible()
        self.check("sampling")

    def test_cells_of_an_outline(self):
        page = self.page
        self.open()
        a = self.draw("rectangle", 100, 100, 200, 200)
        b = self.draw("ellipse", 200, 100, 200, 200)
        self.choose(a, b)
        self.station(2)
        page.keyboard.press("j")
        expect(page.locator("#cells .cell")).to_have_count(3)
        page.keyboard.press("a")
        self.click(250, 200)
        self.push("#accept-cells")
        self.choose(a)
        expect(page.locator("#change-cells")).to_be_visible()
        self.check("the cut list with its cells")
        page.locator("#change-cells").click()
        expect(page.locator("#cell-bar")).to_be_visible()
        self.check("its cells being changed")

    def test_signed_out_pages(self):
        self.context.clear_cookies()
        for path in ("sign-in", "sign-up"):
            self.page.goto(f"{self.live_server_url}/{path}")
            self.check(path)


class Files(BrowserCase):
    """A project kept as a file from its menu and opened again; a photo dropped on the page."""

    def test_kept_and_opened(self):
        page = self.page
        self.open()
        self.draw("rectangle", 100, 100, 200, 200)
        page.goto(self.live_server_url)
        page.get_by_role("button", name="More for Card").click()
        with page.expect_download() as got:
            page.get_by_text("Save as a file").click()
        self.assertEqual(got.value.suggested_filename, "Card.gouge")
        page.set_input_files("#file", got.value.path())
        page.wait_for_selector("html[data-ready]")
        expect(page.locator(".row-item")).to_have_count(1)
        self.assertEqual(Project.objects.filter(name="Card").count(), 2)

    def test_a_photo_dropped_on_the_page(self):
        page = self.page
        page.goto(self.live_server_url)
        held = page.evaluate_handle(
            "data => { const d = new DataTransfer();"
            " d.items.add(new File([Uint8Array.from(data)], 'dusk.jpg', { type: 'image/jpeg' })); return d; }",
            list(jpeg(64, 48)),
        )
        page.dispatch_event("body", "dragover", {"dataTransfer": held})
        page.dispatch_event("body", "drop", {"dataTransfer": held})
        page.wait_for_selector("html[data-ready]")
        self.assertEqual(Project.objects.get(name="dusk").head.sheet.width, 64)

    def test_what_is_neither_is_refused_in_words(self):
        page = self.page
        page.goto(self.live_server_url)
        page.set_input_files("#file", {"name": "notes.txt", "mimeType": "text/plain", "buffer": b"hello"})
        expect(page.get_by_text("was not opened")).to_be_visible()


class Narrow(BrowserCase):
    """What can be pressed at the widths a window may have, with the longest word for undo."""

    HITS = """() => [...document.querySelectorAll(".stations button, .tools-right :is(button:enabled, a)")].map((e) => {
        const r = e.getBoundingClientRect();
        if (!r.width) return null;
        let hit = 0;
        for (let i = 0; i < 6; i++) for (let j = 0; j < 6; j++) {
          const at = document.elementFromPoint(r.left + (r.width * (i + 0.5)) / 6, r.top + (r.height * (j + 0.5)) / 6);
          hit += e === at || e.contains(at);
        }
        return [e.id || e.getAttribute("aria-label"), hit / 36];
      }).filter(Boolean)"""

    def test_every_station_can_be_pressed_in_full_and_is_named(self):
        self.open()
        self.draw("rectangle", 100, 100, 600, 400)
        page = self.page
        for width in (1180, 1024, 853, 800, 640, 320):
            page.set_viewport_size({"width": width, "height": 700})
            with self.subTest(width=width):
                hits = dict(page.evaluate(self.HITS))
                stations = [hits[f"station-{name}"] for name in ("draw", "cut", "fit", "finish", "export")]
                self.assertEqual(stations, [1] * 5)
                self.assertEqual({k: v for k, v in hits.items() if v < 1}, {})
                names = [b.inner_text().split() for b in page.locator(".stations button").all()]
                self.assertEqual([n[-1] for n in names], ["Draw", "Cut", "Fit", "Finish", "Export"])
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), width)

    def test_the_rails_slide_over_the_sheet(self):
        self.open()
        page = self.page
        page.set_viewport_size({"width": 800, "height": 700})
        drawer, side = page.locator("#drawer"), page.locator("#side")
        expect(drawer).to_be_hidden()
        page.click("#show-drawer")
        expect(drawer).to_be_visible()
        page.click("#show-side")
        expect(side).to_be_visible()
        expect(drawer).to_be_hidden()
        page.mouse.click(300, 400)
        expect(side).to_be_hidden()

    def test_no_page_is_wider_than_a_small_window(self):
        page = self.page
        page.set_viewport_size({"width": 320, "height": 640})
        for path in ("", "shelf", "batches", "account", f"p/{self.project.pk}/steps"):
            page.goto(f"{self.live_server_url}/{path}")
            with self.subTest(path):
                self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 320)
