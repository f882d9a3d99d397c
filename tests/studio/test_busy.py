"""Another process has locked the database: the page says so, and nothing is lost."""

import json
import sqlite3
import threading
import time

from django.contrib.auth import get_user_model
from django.db import connection
from django.test import TransactionTestCase

from sheet import new_sheet
from studio.history import changes
from studio.models import Project


class Busy(TransactionTestCase):
    def setUp(self):
        self.user = get_user_model().objects.create_user("ada", password="a-long-enough-word")
        self.client.force_login(self.user)
        self.project = changes.start(self.user, "Card", new_sheet(1000, 800, "px", 100))
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA busy_timeout = 200")
        self.addCleanup(connection.close)

    def held(self) -> sqlite3.Connection:
        """Lock the database as another process would."""
        other = sqlite3.connect(connection.settings_dict["NAME"], isolation_level=None, check_same_thread=False)
        other.execute("BEGIN IMMEDIATE")
        self.addCleanup(other.close)
        return other

    def draw(self):
        body = {"id": "c1", "name": "draw", "revision": 1}
        body["args"] = {"kind": "star", "x": 1, "y": 1, "width": 9, "height": 9}
        return self.client.post(f"/p/{self.project.pk}/command", json.dumps(body), content_type="application/json")

    def test_a_command_is_told_to_try_again_and_then_is_done_once(self):
        other = self.held()
        answer = self.draw()
        self.assertEqual((answer.status_code, answer.json()["busy"]), (503, True))
        self.assertIn("Retry-After", answer.headers)
        self.assertEqual(self.client.get(f"/p/{self.project.pk}/").status_code, 200)
        other.execute("COMMIT")
        self.assertEqual(self.draw().json()["revision"], 2)
        self.assertEqual(self.draw().json()["revision"], 2)

    def test_a_form_is_sent_again_by_its_own_page(self):
        other = self.held()
        answer = self.client.post(f"/projects/{self.project.pk}/rename", {"name": "Bow “& stern"})
        self.assertEqual(answer.status_code, 503)
        page = answer.content.decode()
        self.assertIn(f'action="/projects/{self.project.pk}/rename"', page)
        self.assertIn(">Bow “&amp; stern</textarea>", page)
        other.execute("COMMIT")
        self.client.post(f"/projects/{self.project.pk}/rename", {"name": "Bow “& stern"})
        self.assertEqual(Project.objects.get().name, "Bow “& stern")

    def test_what_fails_outside_of_a_view_is_busy_too(self):
        self.client.logout()
        other = self.held()
        # the session is written when the answer is on its way
        self.client.raise_request_exception = False
        answer = self.client.post("/sign-in", {"username": "ada", "password": "a-long-enough-word"})
        self.assertContains(answer, "busy", status_code=503)
        self.assertNotContains(answer, "a-long-enough-word", status_code=503)
        other.execute("COMMIT")

    def test_a_short_while_is_waited_for(self):
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA busy_timeout = 4000")
        other = self.held()

        def let_go():
            time.sleep(0.5)
            other.execute("COMMIT")

        hand = threading.Thread(target=let_go)
        hand.start()
        self.assertEqual(self.draw().status_code, 200)
        hand.join()

    def test_what_was_acknowledged_outlives_a_power_cut(self):
        with connection.cursor() as cursor:
            # FULL: a commit is on the disk before it is told (SQLite, pragma synchronous)
            self.assertEqual(cursor.execute("PRAGMA synchronous").fetchone()[0], 2)
