"""The queue, with its real workers as processes: on SQLite, and on Debian's Redis; one of them is killed at work."""

import hashlib
import os
import signal
import socket
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

import msgspec
from django.conf import settings
from django.test import SimpleTestCase, override_settings

import sheet as sheets
from sheet.document.library import PhotoFacts
from sheet.export.batch import Seat, Shot
from sheet.export.order import Order, ordered
from studio.storage import Stored, photo_key
from studio.work import queue, tasks
from tests.sheet.helpers import Table

from .helpers import jpeg
from .mailbox import Mailbox
from .serving import free_port


class QueueCase(SimpleTestCase):
    """Files of one sheet, made by workers that share a folder and a queue, and no database at all."""

    long = True

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.folder = Path(cls.enterClassContext(tempfile.TemporaryDirectory()))
        cls.where = cls.start_queue()
        cls.enterClassContext(override_settings(MEDIA_ROOT=cls.folder / "media", GOUGE_QUEUE=cls.where))
        cls.workers: list[subprocess.Popen] = []
        cls.addClassCleanup(cls.end_workers)

    def setUp(self):
        self.t = Table()
        self.frame = self.t.ellipse(100, 100, 300, 200)
        self.t.do("put_in", ids=[self.frame, self.t.photo(900, 700)])
        photo = self.t.item(self.frame).photos[0]
        Stored(photo_key(photo.file)).write(jpeg(photo.width, photo.height))
        Stored("sheets/one").write(sheets.dump(self.t.sheet))

    @classmethod
    def start_queue(cls) -> str:
        return str(cls.folder / "queue.sqlite3")

    @classmethod
    def start_worker(cls, processes: int = 1, **more: str) -> subprocess.Popen:
        environment = {**os.environ, **more, "GOUGE_DATA": str(cls.folder), "GOUGE_SECRET_KEY": settings.SECRET_KEY}
        # beside other tests what steps back would wait for them
        environment["GOUGE_NICE"] = "0"
        environment["GOUGE_REDIS_URL"] = cls.where if cls.where.startswith("redis") else ""
        command = [sys.executable, "manage.py", "worker", "--processes", str(processes)]
        worker = subprocess.Popen(command, cwd=settings.BASE_DIR, env=environment, start_new_session=True)
        cls.workers.append(worker)
        return worker

    @classmethod
    def end_workers(cls):
        for worker in cls.workers:
            if worker.poll() is None:
                os.killpg(worker.pid, signal.SIGKILL)
            worker.wait()
        cls.workers.clear()

    def job(self, to: str, owner: int = 1, **order) -> queue.Job:
        asked = Order(what=self.frame, **order)
        files = [tasks.as_plain(f) for f in ordered(self.t.sheet, asked)]
        told = {"format": asked.format, "quality": asked.quality}
        return queue.Job(owner, "export", {"sheet": "sheets/one", "order": told, "files": files, "to": to})

    def until(self, ids, most: float = 240.0, **how) -> dict:
        """Wait until all of the jobs are in a state."""
        end = time.monotonic() + most
        while True:
            known = queue.known(ids)
            if all(getattr(k, name) in values for k in known.values() for name, values in how.items()):
                return known
            self.assertLess(time.monotonic(), end, known)
            time.sleep(0.05)


class Queued(QueueCase):
    """What a queue is asked with no worker at it, and with workers of a test's own."""

    def setUp(self):
        super().setUp()
        self.alone()
        queue.queue().flush()
        self.addCleanup(self.end_workers)

    def alone(self) -> None:
        """Wait until nobody takes anything from the queue."""

    def test_a_worker_that_is_killed_loses_nothing(self):
        ids = queue.put([self.job(f"killed/{n}.png", size="3000" if n < 2 else "300") for n in range(8)])
        first = self.start_worker()
        self.start_worker()
        end = time.monotonic() + 180
        while not any(k.state == "working" for k in queue.known(ids).values()):
            self.assertLess(time.monotonic(), end)
            time.sleep(0.02)
        os.killpg(first.pid, signal.SIGKILL)
        first.wait()
        self.until(ids, state=("done",))
        made = sorted(p.name for p in (self.folder / "media" / "killed").iterdir())
        # each once, and no draft of a file is left
        self.assertEqual(made, sorted(f"{n}.png" for n in range(8)))
        for n in range(2, 8):
            self.assertEqual(Stored(f"killed/{n}.png").read_bytes(), Stored("killed/2.png").read_bytes())

    def test_of_a_run_every_photo_is_there_once_with_a_worker_killed_and_another_joining(self):
        photos = []
        for n in range(14):
            data = jpeg(1500, 1000, color=(10 * n, 80, 60))
            sha = hashlib.sha256(data).hexdigest()
            Stored(photo_key(sha)).write(data)
            photos.append(Shot(PhotoFacts(sha, f"{n}.jpg", 1500, 1000), Seat()))
        order = msgspec.to_builtins(Order(what=self.frame, format="png", size="600"))
        args = {"sheet": "sheets/one", "frames": [self.frame], "order": order}
        ids = queue.put(
            queue.Job(1, "shoot", {**args, "shots": msgspec.to_builtins([shot]), "to": f"runs/{n}.png"})
            for n, shot in enumerate(photos)
        )
        first = self.start_worker()
        self.start_worker()
        end = time.monotonic() + 180
        while not any(k.state == "done" for k in queue.known(ids).values()):
            self.assertLess(time.monotonic(), end)
            time.sleep(0.02)
        os.killpg(first.pid, signal.SIGKILL)
        first.wait()
        self.start_worker()
        self.until(ids, state=("done",))
        made = {p.name: p.read_bytes() for p in (self.folder / "media" / "runs").iterdir()}
        self.assertEqual(sorted(made), sorted(f"{n}.png" for n in range(14)))
        # each is its own photo's, as it is made by hand
        self.assertEqual(len(set(made.values())), 14)
        for n in (0, 7, 13):
            tasks.shoot(**args, shots=msgspec.to_builtins([photos[n]]), to="runs/by-hand.png")
            self.assertTrue(Stored("runs/by-hand.png").read_bytes() == made[f"{n}.png"])
            Stored("runs/by-hand.png").unlink()

    def test_mail_waits_for_its_server(self):
        port = free_port()
        (key,) = queue.put([queue.Job(0, "mail", {"subject": "A new word", "text": "Here.", "to": "ada@example.org"})])
        self.start_worker(GOUGE_SMTP=f"127.0.0.1:{port}")
        end = time.monotonic() + 180
        while queue.queue().get(f"job:{key}", peek=True).waits == 0:
            self.assertLess(time.monotonic(), end)
            time.sleep(0.05)
        # the worker counts the try first, and lets the job go then
        self.until([key], state=("waiting",))
        with Mailbox(port) as box:
            self.until([key], state=("done",))
        self.assertEqual([mail["Subject"] for mail in box.mails], ["A new word"])

    def test_one_that_ends_its_workers_is_given_up(self):
        (key,) = queue.put([self.job("made/bad.png")])
        huey = queue.queue()
        for tries in (1, 2, 3):
            # a worker took it, and is gone
            self.assertIsNotNone(huey.dequeue())
            gone = {"host": socket.gethostname(), "pid": 2**22 + 1, "share": 0.5, "tries": tries, "at": time.time()}
            huey.put(f"beat:{key}", gone)
            known = queue.known([key])[key]
            self.assertEqual(known.state, "waiting" if tries < 3 else "failed")
        self.assertIn("three times", known.why)
        self.assertEqual(huey.pending_count(), 0)

    def test_one_that_was_taken_and_never_begun_is_found(self):
        (key,) = queue.put([self.job("made/lost.png")])
        self.assertIsNotNone(queue.queue().dequeue())
        with mock.patch("studio.work.queue.UNSEEN", 0.0):
            self.assertEqual(queue.known([key])[key].state, "waiting")
        self.start_worker()
        self.until([key], state=("done",))

    def test_a_job_that_the_queue_forgot_is_told_and_not_waited_for(self):
        (key,) = queue.put([self.job("made/gone.png")])
        queue.queue().flush()
        self.assertEqual(queue.known([key])[key].state, "failed")

    def test_what_nobody_asked_about_expires(self):
        keys = queue.put([self.job("made/old.png"), self.job("made/new.png")])
        store = queue.queue()
        for key, days in zip(keys, (31, 29), strict=True):
            store.delete(f"job:{key}")
            store.put(f"done:{key}", queue.Known("done", 1.0, 7, at=time.time() - days * 86_400))
            store.put(f"stop:{key}", True)
        (waiting,) = queue.put([self.job("made/next.png")])
        queue.stop([waiting])
        self.assertEqual(queue.expire(30), 1)
        left = {n.decode() if isinstance(n, bytes) else n for n in store.storage.result_items()}
        self.assertFalse({n for n in left if keys[0] in n})
        self.assertIn(f"done:{keys[1]}", left)
        # what waits is still not wanted
        self.assertEqual(queue.known([waiting])[waiting].state, "stopped")


class Working(QueueCase):
    """What one worker does with what comes."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.start_worker()

    def test_a_file_is_the_one_that_is_made_at_once(self):
        (key,) = queue.put([self.job("made/queued.png", size="200")])
        done = self.until([key], state=("done",))[key]
        at_once = self.job("made/at-once.png", size="200")
        self.assertEqual(tasks.export(**at_once.args), done.result)
        self.assertEqual(Stored("made/queued.png").read_bytes(), Stored("made/at-once.png").read_bytes())

    def test_a_refusal_comes_back_in_words(self):
        job = self.job("made/missing.png")
        Stored(photo_key(self.t.item(self.frame).photos[0].file)).unlink()
        (key,) = queue.put([job])
        failed = self.until([key], state=("failed",))[key]
        self.assertIn("missing", failed.why)
        self.assertIn("again", failed.remedy)

    def test_what_is_stopped_ends_and_what_waits_is_passed_over(self):
        long, short = queue.put([self.job("made/long.png", size="4500"), self.job("made/short.png")])
        self.until([long], state=("working",))
        queue.stop([long, short])
        self.assertEqual({k.state for k in queue.known([long, short]).values()}, {"stopped"})
        (after,) = queue.put([self.job("made/after.png")])
        self.until([after], state=("done",))
        self.assertFalse(Stored("made/long.png").exists())
        self.assertFalse(Stored("made/short.png").exists())

    def test_nobodys_hundred_come_before_anothers_one(self):
        many = queue.put([self.job(f"made/many-{n}.png", owner=1) for n in range(60)])
        others = [queue.put([self.job(f"made/of-{n}.png", owner=n)])[0] for n in range(2, 22)]
        self.until(others, state=("done",))
        done = sum(k.state == "done" for k in queue.known(many).values())
        self.assertLess(done, 45)
        self.until(many, state=("done",))


class Redis:
    """The same, with workers that share a Redis."""

    @classmethod
    def start_queue(cls) -> str:
        port = free_port()
        command = ["redis-server", "--port", str(port), "--bind", "127.0.0.1", "--save", "", "--dir", str(cls.folder)]
        server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        cls.addClassCleanup(server.wait)
        cls.addClassCleanup(server.terminate)
        end = time.monotonic() + 90
        while time.monotonic() < end:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", port)) == 0:
                    return f"redis://127.0.0.1:{port}/0"
            time.sleep(0.05)
        raise unittest.SkipTest("redis-server does not start")


class QueuedOnRedis(Redis, Queued):
    def alone(self) -> None:
        """Wait until Redis knows that workers of the last test are gone: what it hands to one of them is lost."""
        end = time.monotonic() + 60
        while any(client["cmd"].startswith("b") for client in queue.queue().storage.conn.client_list()):
            self.assertLess(time.monotonic(), end)
            time.sleep(0.02)


class WorkingOnRedis(Redis, Working):
    pass
