"""Requests that no page sends, projects that cannot be read, and two who do the same at once."""

import contextlib
import json
import tempfile
import threading
import time
import zlib
from unittest import mock
from uuid import uuid4

from django.contrib.auth import get_user_model
from django.db import connection
from django.test import TransactionTestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as HypothesisCase

from outline.path.errors import MapError
from sheet import SheetError, new_sheet
from sheet.document.tree import remembered
from studio.history import changes
from studio.models import PhotoFile, Project, Revision
from studio.work import queue, worker_pool
from tests.hostile import commands

from .chains import Hand, chain, rich
from .helpers import StudioCase, jpeg


class Requests(StudioCase):
    def post(self, body, where="command"):
        return self.client.post(f"/p/{self.project.pk}/{where}", body, content_type="application/json")

    def test_a_slash_too_many_leads_on(self):
        self.assertRedirects(self.client.get("/shelf/?q=a"), "/shelf?q=a", 302)
        self.assertRedirects(self.client.get("/shelf//"), "/shelf", 302)
        for at in ("/nowhere/", "/shelf/x/"):
            self.assertEqual(self.client.get(at).status_code, 404, at)
        self.assertEqual(self.client.post("/shelf/").status_code, 404)

    def test_invented_jobs_are_told_and_nothing_is_written_for_them(self):
        ids = [uuid4().hex for _ in range(1000)]
        answer = self.post(json.dumps({"jobs": ids}), "photos/many")
        self.assertEqual(answer.status_code, 200)
        self.assertTrue(all(told["error"] for told in answer.json().values()))
        self.assertEqual(queue.queue().result_count(), 0)

    def test_a_file_name_that_fills_a_page_is_told(self):
        form = b'--b\r\nContent-Disposition: form-data; name="photo"; filename="%s.jpg"\r\n\r\n%s\r\n--b--\r\n'
        body = form % (b"a" * 5000, jpeg())
        for at in (f"/p/{self.project.pk}/photos", "/projects/open"):
            for accept, words in (("application/json", b'"error": "'), ("text/html", b"<p>")):
                answer = self.client.post(at, body, "multipart/form-data; boundary=b", headers={"Accept": accept})
                self.assertEqual(answer.status_code, 400)
                self.assertIn(words + b"The name of a file is too long.", answer.content)

    def test_every_answer_says_what_no_page_asks_for(self):
        for at in ("/sign-in", "/shelf", "/nowhere", f"/p/{self.project.pk}/"):
            headers = self.client.get(at).headers
            self.assertIn("camera=()", headers["Permissions-Policy"])
            self.assertIn("default-src", headers["Content-Security-Policy"])

    def test_what_is_no_command_gets_a_plain_refusal(self):
        many = "[" * 100_000
        good = {"name": "backdrop", "args": {"value": "#fff"}, "revision": 1, "id": "x"}
        for body in (
            b"", b"\xff\xfe", b"null", b"[]", b"NaN", many, '{"name":' + many,
            '{"name": "set_guide", "revision": 1, "args": {"axis": "x", "at": NaN}}',
            '{"name": "set_guide", "revision": 1, "args": {"axis": "x", "at": 1e999}}',
            '{"name": "rename", "revision": 1, "args": {"id": "i1", "name": "\\ud800"}}',
            json.dumps({**good, "revision": -1}), json.dumps({**good, "revision": 1e99}),
            json.dumps({**good, "id": "x" * 500}), json.dumps({**good, "id": "\x00"}),
            json.dumps({**good, "name": 5}), json.dumps({**good, "args": []}),
        ):  # fmt: skip
            with self.subTest(body=str(body)[:60]):
                answer = self.post(body)
                self.assertEqual(answer.status_code, 400)
                self.assertTrue(answer.json()["error"])
            for where in ("panels", "preview", "now"):
                self.assertLess(self.post(body, where).status_code, 500)
        self.assertEqual(self.fresh().head.number, 1)

    def test_a_stop_of_anything(self):
        for what in ("", None, 5, "x" * 500, {"a": 1}):
            self.assertLess(self.send("stop", {"id": what}).status_code, 500)

    def test_facts_of_a_photo_are_never_taken_from_the_page(self):
        file = self.upload(jpeg(300, 200)).json()["file"]
        for extra in ({"width": 0}, {"photos": [{"file": file, "width": -5}]}):
            self.assertEqual(self.send("place", {"files": [file], **extra}).status_code, 422)
        self.assertEqual(self.send("place", {"files": ["c" * 64]}).json()["error"], "Photo not found.")
        self.assertEqual(self.send("place", {"files": [file]}).status_code, 200)
        (photo,) = self.fresh().head.sheet.items
        self.assertEqual((photo.width, photo.height, photo.name), (300, 200, "sea.jpg"))

    def test_what_cannot_be_drawn_is_not_stored(self):
        self.draw()
        with mock.patch("studio.editor.responses.fragment", side_effect=SheetError("It cannot be drawn.")):
            self.assertEqual(self.send("backdrop", {"value": "#fff"}).status_code, 200)  # nothing new is drawn
            before = self.fresh().head.number
            answer = self.send("draw", {"kind": "ellipse", "x": 0, "y": 0, "width": 9, "height": 9})
            self.assertEqual((answer.status_code, answer.json()["error"]), (422, "It cannot be drawn."))
        self.assertEqual(self.fresh().head.number, before)

    def test_what_the_engine_cannot_draw_is_refused_in_words(self):
        self.draw()
        before = self.fresh().head.number
        for error, words in (
            (MapError("the planar map stayed inconsistent"), "The planar map stayed inconsistent."),
            (OverflowError("too large"), "Those numbers are too large to work with."),
        ):
            with self.subTest(words), mock.patch("studio.editor.panels.render", side_effect=error):
                answer = self.send("draw", {"kind": "ellipse", "x": 0, "y": 0, "width": 9, "height": 9})
                self.assertEqual((answer.status_code, answer.json()["error"]), (422, words))
                for view in ("now?revision=0", "panels"):
                    self.assertEqual(self.post("{}", view).json()["error"], words)
        with mock.patch("studio.export.views.begin", side_effect=MapError("it cannot be drawn")):
            answer = self.order()
            self.assertEqual((answer.status_code, answer.json()["error"]), (422, "It cannot be drawn."))
        self.assertEqual(self.fresh().head.number, before)

    def test_an_old_step_is_read_by_one_query(self):
        """While history is made smaller, a second query found a row that had just lost its sheet."""
        for k in range(6):
            self.draw(x=20 * k)
        old = self.project.revisions.get(number=4)
        self.assertIsNone(old.data)
        with self.assertNumQueries(1):
            self.assertEqual(len(old.sheet.items), 3)


class AnySequence(HypothesisCase):
    """Long sequences through the view: never a server error, and everything can be listed and opened afterwards."""

    @settings(max_examples=2, deadline=None, database=None, suppress_health_check=list(HealthCheck))
    @given(st.data())
    def test_chains_on_all_that_a_sheet_can_hold(self, data):
        user = get_user_model().objects.create_user(f"ada{get_user_model().objects.count()}")
        self.client.force_login(user)
        folder = self.enterContext(tempfile.TemporaryDirectory())
        with self.settings(MEDIA_ROOT=folder, GOUGE_QUEUE=f"{folder}/queue.sqlite3"):
            hand = Hand(self.client, changes.start(user, "Card", new_sheet(1000, 800, "px", 100)))
            rich(hand, jpeg(240, 160))
            chain(data, hand)

    @settings(max_examples=4, deadline=None, database=None)
    @given(st.data())
    def test_never_a_server_error(self, data):
        user = get_user_model().objects.create_user(f"ada{get_user_model().objects.count()}")
        self.client.force_login(user)
        project = changes.start(user, "Card", new_sheet(1000, 800, "px", 100))
        for k in range(25):
            head = Project.objects.select_related("head").get(pk=project.pk).head
            ids = list(remembered(head.sheet))[:20]
            name, args = data.draw(commands(ids))
            body = json.dumps({"name": name, "args": args, "revision": head.number, "id": f"c{k}", "view": args})
            answer = self.client.post(f"/p/{project.pk}/command", body, content_type="application/json")
            self.assertIn(answer.status_code, (200, 400, 422), answer.content[:200])
        self.assertEqual(self.client.get(f"/p/{project.pk}/").status_code, 200)
        self.assertContains(self.client.get("/"), "Card")
        self.assertEqual(self.client.get(f"/projects/{project.pk}/picture.png").status_code, 200)


class Holes(StudioCase):
    """A revision that cannot be read: the others show, undo and redo step over it."""

    def hole(self, number: int) -> None:
        bad = zlib.compress(b'{"schema": 3}')
        Revision.objects.filter(project=self.project, number=number).update(data=bad, step=None)

    def test_undo_and_redo_step_over_it(self):
        a, b, c = self.draw(), self.draw(x=200), self.draw(x=400)
        self.hole(3)
        self.send("undo")
        self.assertEqual(self.fresh().head.number, 2)
        self.assertEqual([i.id for i in self.fresh().head.sheet.items], [a])
        self.send("redo")
        self.assertEqual(self.fresh().head.number, 4)
        self.assertEqual([i.id for i in self.fresh().head.sheet.items], [a, b, c])

    def test_redo_reads_before_it_moves(self):
        self.draw()
        self.send("undo")
        self.hole(2)
        answer = self.send("redo")
        self.assertEqual((answer.status_code, self.fresh().head.number), (422, 1))

    def test_a_head_that_cannot_be_read(self):
        self.draw()
        self.draw(x=300)
        changes.start(self.user, "Other", new_sheet(10, 10))
        self.hole(3)
        listed = self.client.get("/")
        self.assertContains(listed, "cannot be read")
        self.assertContains(listed, "Other")
        self.assertRedirects(self.client.get(f"/p/{self.project.pk}/"), "/")
        self.assertEqual(self.client.get(f"/projects/{self.project.pk}/picture.png").status_code, 404)
        self.assertEqual(self.order().status_code, 422)
        self.assertEqual(self.send("backdrop", {"value": "#fff"}).status_code, 422)
        self.assertRedirects(self.client.post(f"/projects/{self.project.pk}/duplicate"), "/")
        opened = self.client.post(f"/projects/{self.project.pk}/recover")
        self.assertRedirects(opened, f"/p/{self.project.pk}/")
        self.assertEqual(self.fresh().head.number, 2)
        self.draw(x=500)
        self.assertEqual(self.fresh().head.number, 4)

    def test_none_that_can_be_read(self):
        self.hole(1)
        self.assertRedirects(self.client.post(f"/projects/{self.project.pk}/recover"), "/")


class AtOnce(TransactionTestCase):
    """Two at the same time, each with a connection of its own."""

    def setUp(self):
        self.user = get_user_model().objects.create_user("ada")
        self.project = changes.start(self.user, "Card", new_sheet(1000, 800, "px", 100))

    def both(self, run, count=4):
        """Run `run(k)` in threads that begin together; return what they gave, errors too."""
        gate = threading.Barrier(count)
        got = [None] * count

        def one(k):
            gate.wait()
            try:
                got[k] = run(k)
            except Exception as error:
                got[k] = error
            finally:
                connection.close()

        threads = [threading.Thread(target=one, args=(k,)) for k in range(count)]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        return got

    def test_the_same_photo_at_once_is_one_photo(self):
        from pathlib import Path

        from studio.library.photos import take_in_path

        with tempfile.TemporaryDirectory() as folder, self.settings(MEDIA_ROOT=Path(folder)):
            file = Path(folder) / "sea.jpg"
            file.write_bytes(jpeg(400, 300))
            got = self.both(lambda k: take_in_path(self.user, file, "sea.jpg"), 6)
        self.assertEqual([getattr(g, "sha256", g) for g in got], [got[0].sha256] * 6)
        self.assertEqual(PhotoFile.objects.count(), 1)

    def test_of_commands_on_one_revision_one_is_done(self):
        args = {"kind": "ellipse", "x": 0, "y": 0, "width": 9, "height": 9}
        got = self.both(lambda k: changes.run(self.user, self.project.pk, f"c{k}", "draw", args, 1))
        self.assertEqual(sum(isinstance(g, changes.Conflict) for g in got), 3, got)
        self.assertEqual(Project.objects.get(pk=self.project.pk).head.number, 2)

    def test_a_long_command_holds_no_lock(self):
        """Another person draws while a worker is at work on something that takes seconds."""
        points = [[(k * 7919) % 997, (k * 104_729) % 797] for k in range(3000)]
        bob = get_user_model().objects.create_user("bob")
        other = changes.start(bob, "Tag", new_sheet(1000, 800))
        order = []

        def run(k):
            if k == 0:
                args = {"points": points, "tolerance": 0.02, "closed": True}
                changes.run(self.user, self.project.pk, "long", "draw_freehand", args, 1)
                order.append("long")
            else:
                for revision in range(1, 6):
                    args = {"axis": "x", "at": float(revision)}
                    changes.run(bob, other.pk, f"g{revision}", "set_guide", args, revision)
                order.append("light")

        # beside other tests it may take long
        with self.settings(GOUGE_SECONDS=150):
            self.assertEqual([g for g in self.both(run, 2) if g is not None], [])
        self.assertEqual(order, ["light", "long"])
        self.assertEqual(len(Project.objects.get(pk=other.pk).head.sheet.guides), 5)
        self.assertEqual(len(Project.objects.get(pk=self.project.pk).head.sheet.items), 1)


class WorkerPool(StudioCase):
    def test_what_takes_too_long_is_given_up_and_says_so(self):
        with self.settings(GOUGE_SECONDS=0.5):
            worker_pool.start()
            with self.assertRaisesRegex(SheetError, "takes longer than 0.5 s"):
                worker_pool.do("time:sleep", 20)
        # the next one is done, by a new worker
        self.assertEqual(worker_pool.do("math:hypot", 3, 4), 5.0)

    def test_refusals_and_failures_come_back(self):
        with self.assertRaisesRegex(SheetError, "cannot be read"):
            worker_pool.do("sheet.document.store:load", b"junk")
        with self.assertRaises(RuntimeError), self.assertLogs("studio.work.worker_pool", "ERROR"):
            worker_pool.do("math:sqrt", -1)

    def test_long_work_is_stopped_by_its_key(self):
        key = uuid4().hex
        timer = threading.Timer(0.5, lambda: worker_pool.stop(key))
        timer.start()
        with self.assertRaisesRegex(SheetError, "stopped"):
            worker_pool.do("time:sleep", 20, key=key)
        timer.join()
        # what comes later under it does not begin, and another's does
        with self.assertRaisesRegex(SheetError, "stopped"):
            worker_pool.do("math:hypot", 3, 4, key=key)
        self.assertEqual(worker_pool.do("math:hypot", 3, 4, key=f"{key}8"), 5.0)

    def test_two_hundred_starts_and_stops_leave_no_worker_busy(self):
        with self.settings(GOUGE_LONG_WORKERS=1):
            for _ in range(200):
                key = uuid4().hex
                worker_pool.stop(key)
                with self.assertRaisesRegex(SheetError, "stopped"):
                    worker_pool.do("time:sleep", 20, key=key)
            begun = time.monotonic()
            self.assertEqual(worker_pool.do("math:hypot", 3, 4), 5.0)
            self.assertLess(time.monotonic() - begun, 100)

    def test_what_waits_for_a_worker_can_be_stopped_too(self):
        ended = []
        first, second = uuid4().hex, uuid4().hex

        def one(key, seconds):
            with contextlib.suppress(SheetError):
                worker_pool.do("time:sleep", seconds, key=key)
            ended.append(key)

        with self.settings(GOUGE_LONG_WORKERS=1):
            threads = [threading.Thread(target=one, args=(key, 40)) for key in (first, second)]
            threads[0].start()
            time.sleep(0.5)
            threads[1].start()
            time.sleep(0.3)
            worker_pool.stop(second)
            threads[1].join(30)
            self.assertEqual(ended, [second])
            worker_pool.stop(first)
            threads[0].join(30)
        self.assertEqual(ended, [second, first])

    def test_no_more_wait_than_may(self):
        errors = []

        def one():
            try:
                worker_pool.do("time:sleep", 1)
            except SheetError as error:
                errors.append(error.message)

        threads = [threading.Thread(target=one) for _ in range(5)]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        # one works and two wait; the others are told at once
        self.assertEqual(errors, [worker_pool.BUSY[0]] * 2)

    def test_a_worker_process_answers_what_the_web_worker_would(self):
        ids = [self.draw("ellipse", 10 * k, 5 * k, 200, 200) for k in range(3)]
        args = {"ids": ids, "operation": "union"}
        with mock.patch("studio.history.changes.LIGHT", 0):
            by_worker = self.send("combine", args).json()
        self.send("undo")
        at_once = self.send("combine", args).json()
        for key in ("swap", "chosen", "panels", "order"):
            self.assertEqual(by_worker[key], at_once[key])
