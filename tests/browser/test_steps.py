"""The steps of a project by hand; and a busy server, as a person sees it."""

import re
import sqlite3
import threading
import time
from datetime import UTC, datetime

from django.db import connection
from playwright.sync_api import expect

from picture import fragment
from sheet import SheetError, apply, load, new_sheet
from sheet.geometry import geometry
from studio.history import changes, stored
from studio.models import Project, Revision

from .base import BrowserCase

NUMBERS = """() => Object.fromEntries([...document.querySelectorAll("#art > g")].map((g) => {
  const paths = [...g.querySelectorAll("path")].map((p) => p.getAttribute("d"));
  return [g.dataset.id, [g.dataset.frame, g.dataset.box, g.dataset.outline, ...paths]];
}))"""
"""What the page has of each item, in the order of Python's fragments."""


class Steps(BrowserCase):
    def test_looking_naming_and_going_back(self):
        page = self.open()
        for k in range(3):
            self.draw("rectangle", 50 + 200 * k, 100, 150, 150)
        page.keyboard.press("Shift+H")
        page.wait_for_url("**/steps")
        expect(page.locator(".step")).to_have_count(4)
        expect(page.locator(".step[aria-current]")).to_contain_text("now")
        expect(page.locator("#go-back-button")).to_be_disabled()
        page.locator(".step", has_text="draw Rectangle 1").click()
        expect(page.locator("#seen-label")).to_have_text("draw Rectangle 1")
        expect(page.locator("#seen")).to_have_js_property("naturalWidth", 560)
        page.fill("#step-word", "One alone")
        page.locator("#step-word").press("Enter")
        expect(page.locator("#name-said")).to_have_text("Name saved.")
        expect(page.locator(".step", has_text="One alone")).to_be_visible()
        page.click("#go-back-button")
        page.wait_for_selector("html[data-ready]")
        self.assertEqual(len(self.sheet.items), 1)
        self.press("Control+z")
        self.assertEqual(len(self.sheet.items), 3)
        page.goto(f"{self.live_server_url}/p/{self.project.pk}/steps")
        page.locator(".steps-named button").click()
        page.click("#branch button")
        page.wait_for_selector("html[data-ready]")
        self.assertEqual(len(Project.objects.get(name="Card · One alone").head.sheet.items), 1)

    def test_times_are_those_of_the_person(self):
        Revision.objects.filter(project=self.project).update(made=datetime(2026, 3, 1, 22, 30, tzinfo=UTC))
        page = self.page
        elsewhere = page.context.new_cdp_session(page)
        elsewhere.send("Emulation.setTimezoneOverride", {"timezoneId": "Asia/Tokyo"})
        self.addCleanup(elsewhere.detach)
        page.goto(f"{self.live_server_url}/p/{self.project.pk}/steps")
        expect(page.locator(".session summary")).to_have_text(
            re.compile(r"^\s*Monday,? 2 March 2026\s+07:30\s+1 step\s*$")
        )
        expect(page.locator(".step")).to_contain_text("07:30 · now")
        page.locator(".step").click()
        expect(page.locator("#seen-made")).to_have_text("2 Mar, 07:30 · the sheet as it is now")

    def test_what_is_nudged_a_moment_ago_is_a_step_too(self):
        page = self.open()
        self.choose(self.draw("rectangle", 100, 100, 100, 100))
        page.keyboard.press("ArrowRight")
        page.click("#steps")
        page.wait_for_url("**/steps")
        expect(page.locator(".step")).to_have_count(3)

    def test_what_is_on_its_way_is_a_step_too(self):
        page = self.open()
        page.keyboard.press("r")
        self.drag((100, 100), (300, 300))
        page.keyboard.press("Shift+H")
        page.wait_for_url("**/steps")
        expect(page.locator(".step")).to_have_count(2)
        self.assertEqual(Revision.objects.filter(project=self.project).count(), 2)


class Many(BrowserCase):
    """A stack of many rows, which are drawn as they come into view."""

    long = True

    def setUp(self):
        super().setUp()
        sheet = new_sheet(2000, 2000)
        for k in range(400):
            place = {"x": 45 * (k % 40), "y": 150 * (k // 40), "width": 40, "height": 90}
            sheet = apply(sheet, "draw", {"kind": "rectangle", **place}).sheet
        self.ids = [i.id for i in sheet.items]
        self.project = changes.start(self.user, "Many", sheet)

    def test_what_only_moves_is_sent_as_a_distance_and_looks_as_python_draws_it(self):
        ids = self.ids[:2]
        for field, value in (("fill", "none"), ("stroke", "#204060"), ("stroke_width", "3"), ("place", "outside")):
            self.do("paint", ids=ids, field=field, value=value)
        self.do("draw", kind="star", x=1900.4, y=1700.6, width=77.7, height=55.5)
        page = self.open()
        page.keyboard.press("Control+a")
        # a step by itself, and one with the way back
        for key in ("Shift+ArrowRight", "ArrowDown"):
            with page.expect_response("**/command") as answer:
                page.keyboard.press(key)
            self.assertEqual(answer.value.json()["swap"], {})
            self.idle()
        with page.expect_response("**/command") as answer:
            page.keyboard.press("Control+z")
        self.assertEqual(len(answer.value.json()["moved"][0][2]), 401)
        self.idle()
        shown = page.evaluate(NUMBERS)
        sheet = self.sheet
        self.assertEqual(len(shown), len(sheet.items))
        for item in sheet.items:
            drawn = fragment(item, lambda photo: photo.file)
            texts = re.findall(r' (?:data-box|data-frame|data-outline|d)="([^"]*)"', drawn)
            got, want = (re.findall(r"[A-Z]|[-.\de]+", " ".join(all)) for all in (shown[item.id], texts))
            self.assertEqual([v for v in got if v.isalpha()], [v for v in want if v.isalpha()])
            for a, b in zip(got, want, strict=True):
                if not a.isalpha():
                    self.assertAlmostEqual(float(a), float(b), delta=2e-3)

    def test_moving_all_of_it_too_far_is_refused_and_nothing_moves(self):
        before = self.sheet
        for far in (1e12, 1e300):
            with self.subTest(far), self.assertRaises(SheetError):
                self.do("transform", ids=self.ids, matrix=[1, 0, 0, 1, far, 0])
        self.assertEqual(self.sheet, before)

    def test_rows_come_as_they_are_scrolled_to_and_stay(self):
        page = self.open()
        first = self.ids[0]
        expect(page.locator(f"#row-{first}")).to_have_count(0)
        page.locator(f"#entry-{first}").scroll_into_view_if_needed()
        page.locator(f"#row-{first}").click()
        expect(page.locator(f"#row-{first}")).to_have_attribute("aria-pressed", "true")
        self.assertLess(page.locator(".row-item").count(), 250)
        # a step leaves the rows that are the same, and the place that was scrolled to
        page.evaluate("id => { document.getElementById(id).was = true; }", f"row-{first}")
        second = self.ids[1]
        page.locator(f"#entry-{second}").hover()
        self.push(f"#entry-{second} .hide")
        expect(page.locator(f"#entry-{second} .hide")).to_have_attribute("aria-pressed", "true")
        expect(page.locator(f"#entry-{second} .hide")).to_be_focused()
        self.assertTrue(page.evaluate("id => document.getElementById(id).was", f"row-{first}"))
        expect(page.locator(f"#row-{first}")).to_be_in_viewport()
        self.press("Delete")
        expect(page.locator(f"#entry-{first}")).to_have_count(0)
        self.press("Control+z")
        expect(page.locator(f"#row-{first}")).to_be_visible()
        order = page.eval_on_selector_all("#stack li", "all => all.map(li => li.id.replace('entry-', ''))")
        self.assertEqual(order, self.ids[::-1])

    def test_all_of_them_are_chosen_and_moved(self):
        page = self.open()
        page.keyboard.press("Control+a")
        expect(page.locator("#hint-chosen")).to_have_text("400 selected")
        expect(page.locator(".chosen-line")).to_have_count(1)
        self.press("ArrowRight")
        before = [geometry.box_of(i)[0] for i in load(self.first_data()).items]
        self.assertEqual([geometry.box_of(i)[0] for i in self.sheet.items], [x + 1 for x in before])

    def first_data(self) -> bytes:
        return stored.whole_of(Revision.objects.get(project=self.project, number=1))


class Busy(BrowserCase):
    long = True
    expected = ("503",)

    def held(self, seconds: float) -> None:
        """Lock the database for a while, as another process would."""
        other = sqlite3.connect(connection.settings_dict["NAME"], isolation_level=None, check_same_thread=False)
        other.execute("BEGIN IMMEDIATE")

        def let_go():
            time.sleep(seconds)
            other.execute("COMMIT")
            other.close()

        hand = threading.Thread(target=let_go)
        hand.start()
        self.addCleanup(hand.join)

    def test_the_change_comes_once_the_database_is_free(self):
        page = self.open()
        self.held(9)
        page.keyboard.press("r")
        self.drag((100, 100), (300, 300))
        expect(page.locator(".name small")).to_contain_text("Server busy, retrying…", timeout=12000)
        expect(page.locator(".name small")).to_contain_text("saved, step 2", timeout=20000)
        self.assertEqual(len(self.sheet.items), 1)
        expect(page.locator(".notice")).to_have_count(0)

    def test_a_form_is_sent_again_by_itself(self):
        page = self.page
        page.goto(self.live_server_url)
        page.fill("#n-name", "Ferry card")
        self.held(9)
        page.get_by_role("button", name="Create project").click()
        expect(page.locator("#trying")).to_contain_text("Retrying", timeout=12000)
        page.wait_for_selector("html[data-ready]", timeout=20000)
        self.assertEqual(Project.objects.filter(name="Ferry card").count(), 1)
