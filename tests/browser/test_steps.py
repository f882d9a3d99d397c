"""The steps of a project by hand; and a busy server, as a person sees it."""

import sqlite3
import threading
import time

from django.db import connection
from playwright.sync_api import expect

from studio.models import Project, Revision

from .base import BrowserCase


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
        expect(page.locator("#name-said")).to_have_text("The name is kept.")
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

    def test_what_is_on_its_way_is_a_step_too(self):
        page = self.open()
        page.keyboard.press("r")
        self.drag((100, 100), (300, 300))
        page.keyboard.press("Shift+H")
        page.wait_for_url("**/steps")
        expect(page.locator(".step")).to_have_count(2)
        self.assertEqual(Revision.objects.filter(project=self.project).count(), 2)


class Busy(BrowserCase):
    expected = ("503",)

    def held(self, seconds: float) -> None:
        """Hold the database for a while, as another process would."""
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
        expect(page.locator(".name small")).to_contain_text("busy, trying again", timeout=12000)
        expect(page.locator(".name small")).to_contain_text("saved, step 2", timeout=20000)
        self.assertEqual(len(self.sheet.items), 1)
        expect(page.locator(".notice")).to_have_count(0)

    def test_a_form_is_sent_again_by_itself(self):
        page = self.page
        page.goto(self.live_server_url)
        page.fill("#n-name", "Ferry card")
        self.held(9)
        page.get_by_role("button", name="Make the project").click()
        expect(page.locator("#trying")).to_contain_text("trying again", timeout=12000)
        page.wait_for_selector("html[data-ready]", timeout=20000)
        self.assertEqual(Project.objects.filter(name="Ferry card").count(), 1)
