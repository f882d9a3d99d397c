"""Signing up, in and out; and nobody sees another's things."""

import os
import re
import tempfile
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from pathlib import Path
from unittest import mock

from axes.models import AccessAttempt
from django.contrib.auth import get_user_model
from django.core import mail
from django.core.cache import cache
from django.test import TestCase, override_settings
from django.utils import timezone

from sheet import SheetError, new_sheet
from studio.accounts.hashing import WAITING, Crowded, Gentle
from studio.accounts.mail import FOR_ADDRESS, FOR_ASKER
from studio.history import changes
from studio.work import queue

from .helpers import StudioCase, jpeg


class Account(TestCase):
    def test_sign_up_out_in_and_change_password(self):
        word = "marram-grass-27"
        answer = self.client.post("/sign-up", {"username": "cora", "password1": word, "password2": word}, follow=True)
        self.assertContains(answer, "Projects")
        self.client.post("/sign-out")
        self.assertRedirects(self.client.get("/"), "/sign-in?next=/")
        self.assertContains(self.client.post("/sign-in", {"username": "cora", "password": "wrong"}), "correct")
        answer = self.client.post("/sign-in", {"username": "cora", "password": word}, follow=True)
        self.assertContains(answer, "cora")
        new = "lamp-room-lens-9"
        fields = {"old_password": word, "new_password1": new, "new_password2": new}
        self.assertContains(self.client.post("/password", fields, follow=True), "password is changed")
        self.client.post("/sign-out")
        answer = self.client.post("/sign-in", {"username": "cora", "password": new}, follow=True)
        self.assertContains(answer, "Sign out")

    def test_a_weak_password_is_refused_at_its_field(self):
        answer = self.client.post("/sign-up", {"username": "cora", "password1": "abc", "password2": "abc"})
        self.assertContains(answer, "too short")
        self.assertFalse(get_user_model().objects.filter(username="cora").exists())

    def test_the_demo_door_is_shut_unless_the_demo_runs(self):
        get_user_model().objects.create_user("demo")
        self.assertEqual(self.client.post("/demo-sign-in").status_code, 404)
        with override_settings(GOUGE_DEMO=True):
            self.assertRedirects(self.client.post("/demo-sign-in"), "/")


class Passwords(TestCase):
    """Wrong passwords, forgotten ones, and too many at once."""

    def setUp(self):
        cache.clear()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        queued = str(Path(folder.name) / "queue.sqlite3")
        settings = override_settings(EMAIL_FILE_PATH=folder.name, GOUGE_QUEUE=queued)
        settings.enable()
        self.addCleanup(settings.disable)
        self.word = "marram-grass-27"
        self.user = get_user_model().objects.create_user("cora", "cora@marram.example", self.word)

    def sign_in(self, name="cora", word="wrong", address="10.0.0.1"):
        return self.client.post("/sign-in", {"username": name, "password": word}, REMOTE_ADDR=address)

    def test_wrong_passwords_for_an_account_are_counted_wherever_they_come_from(self):
        for k in range(9):
            self.assertEqual(self.sign_in(address=f"10.0.1.{k}").status_code, 200)
        answer = self.sign_in(address="10.0.2.1")
        self.assertContains(answer, "Try again in 10 minutes", status_code=429)
        self.assertEqual(answer.headers["Retry-After"], "600")
        # the right one does not help now, and is not even looked at
        with mock.patch("django.contrib.auth.hashers.MD5PasswordHasher.verify") as looked:
            self.assertEqual(self.sign_in(word=self.word, address="10.0.2.2").status_code, 429)
        looked.assert_not_called()
        AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=7.5))
        self.assertContains(self.sign_in(address="10.0.2.3"), "Try again in 3 minutes", status_code=429)
        # after the time it does
        AccessAttempt.objects.update(attempt_time=timezone.now() - timedelta(minutes=11))
        self.assertRedirects(self.sign_in(word=self.word, address="10.0.2.2"), "/")

    def test_wrong_passwords_from_an_address_are_counted_whatever_account_they_try(self):
        for k in range(10):
            answer = self.sign_in(f"nobody{k}")
        self.assertEqual(answer.status_code, 429)
        self.assertEqual(self.sign_in(word=self.word).status_code, 429)
        self.assertRedirects(self.sign_in(word=self.word, address="10.0.0.2"), "/")

    def test_somebody_who_gets_it_right_in_the_end_is_not_locked_out(self):
        for _ in range(3):
            for _ in range(6):
                self.sign_in()
            self.assertRedirects(self.sign_in(word=self.word), "/")
            self.client.post("/sign-out")

    def deliver(self) -> int:
        """Do what the queue has, as its worker would; return how many jobs there were."""
        huey = queue.queue()
        jobs = iter(huey.dequeue, None)
        return sum(1 for job in jobs if huey.execute(job) is None)

    @override_settings(EMAIL_BACKEND="django.core.mail.backends.filebased.EmailBackend", GOUGE_DEMO=True)
    def test_a_forgotten_password_is_replaced_by_mail(self):
        for _ in range(10):
            self.sign_in()
        said = self.client.post("/forgotten", {"email": "cora@marram.example"}, follow=True)
        self.assertContains(said, "on its way")
        nobody = self.client.post("/forgotten", {"email": "nobody@marram.example"}, follow=True)
        self.assertContains(nobody, "on its way")
        # who has no account costs as much as who has one
        self.assertEqual(self.deliver(), 2)
        box = self.client.get("/post-box").content.decode()
        self.assertEqual(box.count("A new password for Gouge"), 1)
        self.assertIn("account “cora”", box)
        link = re.search(r"http://testserver(/forgotten/[^\s<\"]+)", box)[1]
        page = self.client.get(link, follow=True)
        self.assertContains(page, "A new password")
        new = {"new_password1": "lamp-room-lens-9", "new_password2": "lamp-room-lens-9"}
        self.assertContains(self.client.post(page.redirect_chain[-1][0], new, follow=True), "Sign in with it")
        self.assertContains(self.client.get(link, follow=True), "no longer works")
        # the lock is off for whoever has the mail box
        self.assertRedirects(self.sign_in(word="lamp-room-lens-9", address="10.0.0.3"), "/")

    def test_the_post_box_is_the_demos(self):
        self.assertEqual(self.client.get("/post-box").status_code, 404)

    def test_the_address_is_changed_and_the_one_before_learns_of_it(self):
        self.client.force_login(self.user)
        wrong = self.client.post("/account", {"email": "new@marram.example", "password": "guessed"})
        self.assertContains(wrong, "Wrong password. The address was not changed")
        self.user.refresh_from_db()
        self.assertEqual(self.user.email, "cora@marram.example")
        self.client.post("/account", {"email": "new@marram.example", "password": self.word})
        self.deliver()
        self.user.refresh_from_db()
        self.assertEqual(self.user.email, "new@marram.example")
        (told,) = mail.outbox
        self.assertEqual(told.to, ["cora@marram.example"])
        self.assertContains(self.client.post("/account", {"email": "no address"}), "valid email")

    def test_mail_goes_out_a_few_times_an_hour_and_nobody_waits_for_its_server(self):
        def ask(to: str, by: str) -> None:
            with mock.patch("django.core.mail.backends.locmem.EmailBackend.send_messages", side_effect=AssertionError):
                self.assertContains(self.client.post("/forgotten", {"email": to}, REMOTE_ADDR=by, follow=True), "way")

        for _ in range(10):
            ask("cora@marram.example", "10.0.0.4")
        self.deliver()
        self.assertEqual(len(mail.outbox), FOR_ADDRESS)
        for number in range(FOR_ASKER):
            ask(f"nobody-{number}@marram.example", "10.0.0.4")
        self.assertEqual(self.deliver(), FOR_ASKER - 10)

    def test_a_queue_that_does_not_answer_is_told_at_the_form(self):
        with mock.patch("studio.accounts.mail.queue.put", side_effect=SheetError(*queue.GONE)):
            told = self.client.post("/forgotten", {"email": "cora@marram.example"})
            self.assertContains(told, "The queue does not answer")
            self.assertNotContains(told, "on its way")
            self.client.force_login(self.user)
            self.client.post("/account", {"email": "new@marram.example", "password": self.word})
        self.user.refresh_from_db()
        self.assertEqual(self.user.email, "new@marram.example")

    def test_hashing_is_one_at_a_time_and_leaves_the_others_room(self):
        inside, gate = [], threading.Event()

        def slow(hasher, word, *rest):
            inside.append(os.getpriority(os.PRIO_PROCESS, threading.get_native_id()))
            gate.wait(10)
            return "hashed"

        hashing = mock.patch("django.contrib.auth.hashers.PBKDF2PasswordHasher.encode", slow)
        with hashing, ThreadPoolExecutor(WAITING) as hands:
            waiting = [hands.submit(Gentle().encode, "word", "salt") for _ in range(WAITING)]
            while not inside:
                time.sleep(0.01)
            time.sleep(0.1)
            with self.assertRaises(Crowded):
                Gentle().encode("word", "salt")
            self.assertEqual(inside, [19])
            with override_settings(PASSWORD_HASHERS=["studio.accounts.hashing.Gentle"]):
                crowded = self.sign_in("nobody")
            self.assertContains(crowded, "The server is busy", status_code=503)
            self.assertNotContains(crowded, "wrong", status_code=503)
            gate.set()
            self.assertEqual([w.result() for w in waiting], ["hashed"] * WAITING)
        self.assertTrue(Gentle().verify("word", Gentle().encode("word", "salt", 2000)))


class Privacy(StudioCase):
    def test_another_persons_addresses_answer_404(self):
        photo = self.upload(jpeg()).json()
        gets = [f"/p/{self.project.pk}/", f"/p/{self.project.pk}/snaps", f"/p/{self.project.pk}/exports"]
        gets += [f"/projects/{self.project.pk}/picture.png", f"/photos/{photo['file']}/preview"]
        for url in gets:
            self.assertNotEqual(self.client.get(url).status_code, 404, url)
        self.client.force_login(self.other)
        for url in gets:
            with self.subTest(url=url):
                self.assertEqual(self.client.get(url).status_code, 404)
        for what in ("panels", "export", "estimate"):
            url = f"/p/{self.project.pk}/{what}"
            self.assertEqual(self.client.post(url, "{}", content_type="application/json").status_code, 404)
        for action in ("rename", "duplicate", "delete", "restore"):
            self.assertEqual(self.client.post(f"/projects/{self.project.pk}/{action}").status_code, 404)
        self.assertEqual(self.send("backdrop", {"value": "#fff"}).status_code, 404)
        self.assertEqual(self.fresh().head.number, 1)

    def test_another_persons_photo_cannot_be_placed(self):
        photo = self.upload(jpeg()).json()
        self.client.force_login(self.other)
        self.project = changes.start(self.other, "Theirs", new_sheet(100, 100))
        answer = self.send("place", {"files": [photo["file"]]})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("not found", answer.json()["error"])

    def test_text_is_compressed_on_the_way_and_pictures_are_not(self):
        asked = {"Accept-Encoding": "gzip"}
        page = self.client.get(f"/p/{self.project.pk}/", headers=asked)
        self.assertEqual(page.headers["Content-Encoding"], "gzip")
        self.assertIn("no-store", page.headers["Cache-Control"])
        self.place()
        sent = self.order(format="png")
        for path in (
            f"/projects/{self.project.pk}/picture.png",
            f"/photos/{self.upload(jpeg()).json()['file']}/preview",
        ):
            self.assertNotIn("Content-Encoding", self.client.get(path, headers=asked).headers)
        self.assertIn("no-store", sent.headers["Cache-Control"])

    def test_every_answer_has_a_strict_policy(self):
        policy = self.client.get(f"/p/{self.project.pk}/").headers["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe", policy)
