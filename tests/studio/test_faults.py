"""A server of which a part was killed, or with a full disk: the page says so, and the work is done later."""

import contextlib
import json
import signal
import threading
import time
import unittest

import psutil

from .helpers import jpeg
from .serving import Served, below, gone

FORM = b"--b\r\nContent-Disposition: form-data; name=photo; filename=%s.jpg\r\n\r\n%s\r\n--b--\r\n"
KIND = {"Content-Type": "multipart/form-data; boundary=b"}
PAGE = {"Accept": "text/html"}


class Faults(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.served = Served()
        cls.served.__enter__()
        cls.addClassCleanup(cls.served.__exit__)

    def page_workers(self) -> list[psutil.Process]:
        """Return the processes that answer pages: what the server forked of itself."""
        master, found = psutil.Process(self.served.process.pid), []
        for one in master.children():
            # one that was killed may not be gone yet
            with contextlib.suppress(psutil.NoSuchProcess):
                if one.cmdline() == master.cmdline():
                    found.append(one)
        return found

    def worked(self) -> float:
        """Return the seconds of processor that long work has had so far."""
        taken = 0.0
        for worker in self.page_workers():
            with contextlib.suppress(psutil.NoSuchProcess):
                taken += sum(one.cpu_times().user for one in worker.children(recursive=True))
        return taken

    def upload(self, number: int) -> tuple[int, dict, bytes]:
        body = FORM % (b"sea%d" % number, jpeg(60, 40, (number % 250, 80, 60)))
        return self.served.ask("POST", f"/p/{self.served.pk}/photos", body, {**self.served.headers(), **KIND})

    def test_page_workers_are_killed_and_nobody_sees_it_but_by_waiting(self):
        over = threading.Event()
        pages, sent = ([], []), []

        def look(mine):
            while not over.is_set():
                mine.append(self.served.ask("GET", "/", headers={**self.served.headers(), **PAGE})[0])

        def send():
            number = 0
            while not over.is_set():
                status, head, body = self.upload(number)
                sent.append(status)
                if status == 503:
                    # a script waits as long as it is told, and sends it again
                    self.assertEqual(head["Retry-After"], "2")
                    self.assertTrue(json.loads(body)["busy"])
                else:
                    number += 1

        threads = [threading.Thread(target=look, args=(mine,)) for mine in pages]
        threads += [threading.Thread(target=send) for _ in range(2)]
        for thread in threads:
            thread.start()
        end = time.monotonic() + 120
        for _ in range(6):
            # the one that is asked instead is not killed at the same thing: each hand has what it waited for at the
            # last kill, and one more; and something is taken between two kills
            answered, taken = [len(mine) for mine in pages], sent.count(200)
            while time.monotonic() < end and (
                sent.count(200) == taken
                or any(len(mine) < before + 2 for mine, before in zip(pages, answered, strict=True))
            ):
                time.sleep(0.05)
            for worker in self.page_workers()[:1]:
                worker.send_signal(signal.SIGKILL)
        taken = sent.count(200)
        while sent.count(200) == taken and time.monotonic() < end:
            time.sleep(0.05)
        over.set()
        for thread in threads:
            thread.join()
        self.assertEqual({status for mine in pages for status in mine}, {200})
        self.assertLessEqual(set(sent), {200, 503})
        self.assertGreaterEqual(sent.count(200), 7)

    def test_what_was_under_way_in_killed_workers_is_sent_again(self):
        points = [[(k * 7919) % 997, (k * 104_729) % 797] for k in range(3000)]
        command = {
            "id": "long", "name": "draw_freehand", "revision": 1,
            "args": {"points": points, "tolerance": 0.02, "closed": True},
        }  # fmt: skip
        answers = []

        def draw():
            at, body = f"/p/{self.served.pk}/command", json.dumps(command).encode()
            headers = {**self.served.headers(), "Content-Type": "application/json"}
            while not answers or answers[-1][0] == 503:
                answers.append(self.served.ask("POST", at, body, headers, patience=120))
                time.sleep(0.1)

        thread, before, end = threading.Thread(target=draw), self.worked(), time.monotonic() + 60
        thread.start()
        while self.worked() < before + 0.3 and time.monotonic() < end:
            time.sleep(0.02)
        for worker in self.page_workers():
            worker.send_signal(signal.SIGKILL)
        thread.join()
        self.assertEqual(json.loads(answers[0][2])["error"], "The server is starting.")
        self.assertEqual(answers[-1][0], 200, answers[-1][2][:200])
        self.assertEqual(json.loads(answers[-1][2])["revision"], 2)

    def test_a_killed_queue_or_front_leaves_nothing_and_comes_again(self):
        for words in (("studio", "worker", "--processes"), ("nginx", "master")):
            with self.subTest(words):
                master = below(self.served, *words)
                children = master.children(recursive=True)
                self.assertTrue(children)
                master.send_signal(signal.SIGKILL)
                self.assertTrue(gone(children), children)
                self.assertNotEqual(below(self.served, *words).pid, master.pid)

    def test_a_disk_that_takes_no_bodies_is_told_in_words(self):
        bodies = self.served.data / "front" / "bodies"
        aside = bodies.rename(bodies.with_name("aside"))
        bodies.touch()
        try:
            large = FORM % (b"large", bytes(300_000))
            at = f"/p/{self.served.pk}/photos"
            status, _, told = self.served.ask("POST", at, large, {**self.served.headers(), **KIND})
            self.assertEqual((status, json.loads(told)["error"][:26]), (507, "The server can’t write to "))
            form = {**PAGE, "Content-Type": "application/x-www-form-urlencoded"}
            status, head, told = self.served.ask("POST", "/sign-in", b"username=" + b"a" * 100_000, form)
            self.assertEqual((status, head["Content-Type"]), (507, "text/html; charset=utf-8"))
            self.assertIn("<h1>The server can’t write to its disk</h1>".encode(), told)
            # what is read from memory is taken as ever
            self.assertEqual(self.upload(300)[0], 200)
        finally:
            bodies.unlink()
            aside.rename(bodies)

    def test_photos_go_out_as_they_lie_there(self):
        """By the server in front, of whom a person's other files are hidden."""
        photo = json.loads(self.upload(301)[2])
        at = f"/photos/{photo['file']}/preview"
        status, head, body = self.served.ask("GET", at, headers=self.served.headers())
        self.assertEqual((status, body[:2]), (200, b"\xff\xd8"))
        self.assertEqual((head["Content-Type"], head["X-Content-Type-Options"]), ("image/jpeg", "nosniff"))
        self.assertIn("immutable", head["Cache-Control"])
        self.assertIn("default-src", head["Content-Security-Policy"])
        self.assertIn("camera=()", head["Permissions-Policy"])
        part = self.served.ask("GET", at, headers={**self.served.headers(), "Range": "bytes=2-9"})
        self.assertEqual((part[0], part[2]), (206, body[2:10]))
        key = f"previews/{photo['file'][:2]}/{photo['file']}"
        self.assertEqual(self.served.ask("GET", f"/-files/{key}")[0], 404)
        self.assertEqual(self.served.ask("GET", at, headers=self.served.headers(signed_in=False))[0], 302)
