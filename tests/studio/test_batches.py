"""Batches: each file what exporting by hand gives, made once, failures reported and retried alone."""

import csv
import io
import json
import os
import re
import subprocess
import sys
import tempfile
import zipfile
from pathlib import Path
from unittest import mock

import pikepdf
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.test import override_settings
from PIL import Image

from studio.library import shelf
from studio.models import Batch, BatchPhoto, PhotoFile
from studio.storage import Stored, photo_key
from studio.work import queue

from .helpers import StudioCase, jpeg
from .test_exports import work


def scene(width=900, height=600, spot=(0.8, 0.3)) -> bytes:
    """A grey photo with a bright spot in it."""
    image = Image.new("RGB", (width, height), (96, 100, 104))
    x, y = int(width * spot[0]), int(height * spot[1])
    image.paste((255, 80, 20), (x - 30, y - 30, x + 30, y + 30))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=92)
    return out.getvalue()


class BatchCase(StudioCase):
    def setUp(self):
        super().setUp()
        self.frame = self.draw("ellipse", 100, 100, 600, 400)
        answer = self.post(f"/p/{self.project.pk}/batch", {"ids": [self.frame]})
        self.at = answer.json()["address"]
        self.batch_ = Batch.objects.get()

    def post(self, path, body=None, client=None):
        return (client or self.client).post(path, json.dumps(body), content_type="application/json")

    def add(self, *files):
        """Post photos, and read those that the queue reads."""
        out = []
        for name, data in files:
            answer = self.client.post(f"{self.at}photos", {"photo": SimpleUploadedFile(name, data)})
            out.append(answer.json())
        work()
        came = [a["came"] for a in out if "came" in a]
        if came:
            out.append(self.post(f"{self.at}added", {"came": came}).json())
        return out

    def three(self):
        self.add(("a.jpg", scene(900, 600)), ("b.jpg", scene(600, 900, (0.3, 0.7))), ("c.jpg", scene(700, 700)))

    def make(self, query=""):
        answer = self.post(f"{self.at}start{query}")
        self.assertEqual(answer.status_code, 200, answer.content)
        work()
        return answer.json()["begun"]

    def state(self):
        return self.client.get(f"{self.at}state").json()

    def files(self):
        """The files of the batch, by name."""
        answer = self.client.get(f"{self.at}zip")
        with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as box:
            return {name: box.read(name) for name in box.namelist()}

    def rows(self):
        return list(BatchPhoto.objects.order_by("position"))


class Made(BatchCase):
    def test_each_file_is_byte_for_byte_what_exporting_by_hand_gives(self):
        self.three()
        for key in ("jpg", "png", "webp", "tif", "pdf", "svg"):
            self.post(f"{self.at}set", {"order": {"format": key}})
            self.assertEqual(self.make(), 3)
            found = self.files()
            self.assertEqual(sorted(found), [f"a.{key}", f"b.{key}", f"c.{key}"])
            for photo in PhotoFile.objects.order_by("name"):
                placed = self.send("place", {"files": [photo.sha256]}).json()["chosen"][0]
                self.send("put_in", {"ids": [placed, self.frame]})
                self.send("settle", {"ids": [self.frame], "how": "cover"})
                by_hand = self.order(what=self.frame, format=key).getvalue()
                batch = found[f"{photo.name[0]}.{key}"]
                if key == "svg":
                    # the same but for the numbers of its items, which a project counts on
                    self.assertEqual(*(re.sub(rb"\bi\d+\b", b"i", data) for data in (batch, by_hand)))
                else:
                    self.assertTrue(batch == by_hand, f"{photo.name} as {key}")
                self.send("undo")
                self.send("undo")
                self.send("undo")

    def test_the_same_batch_again_only_does_what_changed(self):
        self.three()
        self.assertEqual(self.make(), 3)
        before = self.files()
        with mock.patch("studio.work.tasks.shot") as shot:
            self.assertEqual(self.make(), 0)
            shot.assert_not_called()
        self.post(f"{self.at}1/seat", {"zoom": 2, "x": 0.1, "y": 0.9})
        # what is not as it is asked for any more is not there
        self.assertEqual(list(self.state()["files"].values()), ["d", "n", "d"])
        self.assertEqual(sorted(self.files()), ["a.jpg", "c.jpg"])
        self.assertEqual(self.make(), 1)
        after = self.files()
        self.assertEqual([n for n in before if before[n] != after[n]], ["b.jpg"])
        # another name makes no other file
        self.post(f"{self.at}set", {"order": {"pattern": "{number} {photo}"}})
        self.assertEqual(self.make(), 0)
        self.assertEqual(sorted(self.files()), ["1-a.jpg", "2-b.jpg", "3-c.jpg"])
        # there and back again nothing is to be made
        for key in ("png", "jpg"):
            self.post(f"{self.at}set", {"order": {"format": key}})
            self.assertEqual(set(self.state()["files"].values()), {"n"})
        self.assertEqual(self.make(), 0)
        self.assertEqual(set(self.state()["files"].values()), {"d"})
        # and a file that was lost is made again
        Stored(self.rows()[0].key).unlink()
        self.assertEqual(self.make(), 1)

    def test_it_batches_on_the_revision_it_began_on(self):
        self.three()
        self.make()
        before = self.files()
        self.send("remove", {"ids": [self.frame]})
        self.client.post(f"/projects/{self.project.pk}/delete")
        BatchPhoto.objects.update(state="new", key="")
        self.assertEqual(self.make(), 3)
        self.assertEqual(self.files(), before)

    def test_photos_take_the_frame_in_their_proportion(self):
        self.three()
        answer = self.post(f"{self.at}set", {"variants": True, "order": {"format": "png"}}).json()
        self.assertEqual(answer["pixels"], "600 × 400 px · square 400 × 400 px · portrait 400 × 600 px")
        self.make()
        sizes = {name: Image.open(io.BytesIO(data)).size for name, data in self.files().items()}
        self.assertEqual(sizes, {"a.png": (600, 400), "b.png": (400, 600), "c.png": (400, 400)})

    def test_a_proportion_between_the_variants_has_the_frame_refitted_to_it(self):
        self.add(("wide.jpg", jpeg(1600, 900)), ("square.jpg", jpeg(420, 410)), ("wide2.jpg", jpeg(800, 450)))
        self.post(f"{self.at}set", {"variants": True, "order": {"format": "png"}})
        self.make()
        sizes = {name: Image.open(io.BytesIO(data)).size for name, data in self.files().items()}
        self.assertEqual(sizes, {"wide.png": (711, 400), "square.png": (400, 400), "wide2.png": (711, 400)})
        self.batch_.refresh_from_db()
        self.assertEqual(sorted(self.batch_.sheets), ["", " 1.7778", "portrait", "square"])
        self.assertEqual(self.client.get(f"{self.at}0/seated").json()["frame"], [711, 400])

    def test_the_point_of_interest_is_found_and_brought_into_view(self):
        self.add(("wide.jpg", scene(2400, 600, (0.9, 0.5))))
        interest = PhotoFile.objects.get().interest
        self.assertAlmostEqual(interest[0], 0.9, delta=0.06)
        self.post(f"{self.at}set", {"order": {"format": "png"}})
        reds = []
        for where in ("centred", "interest"):
            self.post(f"{self.at}set", {"where": where})
            self.make()
            image = Image.open(io.BytesIO(self.files()["wide.png"])).convert("RGB")
            reds.append(sum(n for n, (r, g, b) in image.getcolors(1 << 24) if r > 200 and b < 80))
        self.assertEqual(reds[0], 0)
        self.assertGreater(reds[1], 1000)

    def test_a_sheet_with_several_frames_takes_as_many_photos_for_each_file(self):
        second = self.draw("rectangle", 720, 100, 200, 400)
        at = self.post(f"/p/{self.project.pk}/batch", {"ids": [self.frame, second]}).json()["address"]
        self.at = at
        self.three()
        self.post(f"{at}set", {"order": {"format": "png"}})
        self.assertEqual(self.make(), 2)
        self.assertEqual(sorted(self.files()), ["a.png", "c.png"])
        self.assertEqual(list(self.state()["files"].values()), ["d", "d"])
        refused = self.post(f"{at}set", {"variants": True})
        self.assertIn("one proportion", refused.json()["error"])

    def test_contact_sheet(self):
        self.three()
        self.assertEqual(self.client.get(f"{self.at}contact").status_code, 404)
        self.assertEqual(self.post(f"{self.at}contact").status_code, 202)
        work()
        self.assertEqual(self.state()["contact"][0], "done")
        data = b"".join(self.client.get(f"{self.at}contact").streaming_content)
        document = self.enterContext(pikepdf.open(io.BytesIO(data)))
        (page,) = document.pages
        # ISO 216: A4 is 210 by 297 mm
        for got, want in zip(page.mediabox, (0, 0, 210 / 25.4 * 72, 297 / 25.4 * 72), strict=True):
            self.assertAlmostEqual(float(got), want, delta=0.3)
        self.assertEqual(len(page.images), 3)


class Wrong(BatchCase):
    def test_no_photos_no_frame(self):
        answer = self.post(f"{self.at}start")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("no photos", answer.json()["error"])
        photo = self.place()
        answer = self.post(f"/p/{self.project.pk}/batch", {"ids": [photo]})
        self.assertIn("is a photo, not a frame", answer.json()["error"])
        self.send("remove", {"ids": [self.frame]})
        answer = self.post(f"/p/{self.project.pk}/batch", {"ids": []})
        self.assertIn("no frame on the sheet", answer.json()["error"])

    def test_files_that_are_no_pictures_among_good_ones_and_one_twice(self):
        answers = self.add(
            ("a.jpg", scene()), ("notes.jpg", b"hello"), ("drawing.svg", b"<svg/>"), ("again.jpg", scene()),
            ("half.jpg", jpeg(800, 600)[:2000]),
        )  # fmt: skip
        self.assertIn("notes.jpg", answers[1]["error"])
        self.assertIn("is a drawing", answers[2]["error"])
        done = answers[-1]
        self.assertEqual((done["came"], done["twice"], done["done"]), (1, 1, 3))
        self.assertEqual(self.batch_.photos.count(), 1)
        self.assertTrue(any("half.jpg" in why for why in done["wrong"]), done)
        self.assertEqual(self.add(("a.jpg", scene()))[-1]["twice"], 1)
        answer = self.post(f"{self.at}added", {"came": ["photo " + "0" * 64, "job x"]}).json()
        self.assertEqual((answer["came"], len(answer["wrong"])), (0, 2))

    def test_what_failed_is_told_and_tried_again_alone(self):
        self.three()
        gone = PhotoFile.objects.get(name="b.jpg")
        data = gone.original.read_bytes()
        gone.original.unlink()
        self.assertEqual(self.make(), 3)
        state = self.state()
        self.assertEqual(list(state["files"].values()), ["d", "f", "d"])
        self.assertIn("“b.jpg” is missing", state["why"]["1"])
        self.assertEqual(state["state"], "done")
        told = list(csv.reader(io.StringIO(self.files()["not-made.csv"].decode())))
        self.assertEqual(told[1][0], "b.jpg")
        Stored(photo_key(gone.sha256)).write(data)
        with mock.patch(
            "studio.work.tasks.shot", wraps=__import__("studio.work.tasks", fromlist=["shot"]).shot
        ) as shot:
            self.assertEqual(self.make("?failed=1"), 1)
            self.assertEqual(shot.call_count, 1)
        self.assertEqual(list(self.state()["files"].values()), ["d", "d", "d"])

    def test_stopped_and_gone_on_with(self):
        self.three()
        self.post(f"{self.at}start")
        self.assertEqual(self.post(f"{self.at}stop").status_code, 204)
        work()
        self.assertEqual(list(self.state()["files"].values()), ["s", "s", "s"])
        self.assertEqual(self.make(), 3)
        self.assertEqual(list(self.state()["files"].values()), ["d", "d", "d"])

    def test_without_room_on_the_disk(self):
        self.three()
        with mock.patch("studio.storage.os.fsync", side_effect=OSError(28, "No space left on device")):
            self.make()
            state = self.state()
        self.assertEqual(list(state["files"].values()), ["f", "f", "f"])
        self.assertIn("can’t write to its disk", state["why"]["0"])
        self.assertEqual(self.make("?failed=1"), 3)
        self.assertEqual(list(self.state()["files"].values()), ["d", "d", "d"])

    def test_with_the_queue_gone_in_the_middle(self):
        self.three()
        self.post(f"{self.at}start")
        with override_settings(GOUGE_QUEUE="redis://127.0.0.1:1/0"):
            answer = self.client.get(f"{self.at}state")
            self.assertEqual((answer.status_code, answer.json()["error"]), (503, "The queue does not answer."))
            self.assertEqual(self.post(f"{self.at}start").status_code, 422)
        work()
        self.assertEqual(list(self.state()["files"].values()), ["d", "d", "d"])

    def test_what_is_set_wrong_is_told_at_its_field(self):
        answer = self.post(f"{self.at}set", {"order": {"size": "-5"}}).json()
        self.assertEqual(answer["field"], "size")
        self.post(f"{self.at}set", {"order": {"size": ""}})
        self.assertIn("means nothing", self.post(f"{self.at}set", {"order": {"pattern": "{sky}"}}).json()["wrong"])
        for body in ({"where": "left"}, {"order": {"format": 5}}, {"order": {"format": "bmp"}}, [], {"variants": 3}):
            self.assertIn(self.post(f"{self.at}set", body).status_code, (400, 422), body)
        for seat in ({"zoom": 0.5}, {"zoom": 2, "x": 7}, {"zoom": "big"}):
            self.three() if not self.batch_.photos.exists() else None
            self.assertEqual(self.post(f"{self.at}0/seat", seat).status_code, 422)
        self.assertEqual(self.client.get(f"{self.at}0/picture?zoom=nan").status_code, 422)

    def test_nobody_elses(self):
        self.three()
        self.make()
        self.client.force_login(self.other)
        for path in ("", "cells", "state", "zip", "contact", "0/picture", "0/seated", "0/file"):
            self.assertEqual(self.client.get(self.at + path).status_code, 404, path)
        for path in ("photos", "added", "own", "set", "start", "stop", "contact", "drop", "0/seat", "0/out"):
            self.assertEqual(self.post(self.at + path, {}).status_code, 404, path)
        self.assertEqual(self.client.get("/batches").context["rows"], [])


class ByHand(BatchCase):
    def test_seated_by_hand_and_left_to_the_rule_again(self):
        self.three()
        first = self.client.get(f"{self.at}0/seated").json()
        self.assertEqual((first["seat"], first["by_hand"]), ({"zoom": 1.0, "x": 0.5, "y": 0.5}, False))
        moved = self.post(f"{self.at}0/seat", {"zoom": 1.5, "x": 0, "y": 1}).json()
        self.assertTrue(moved["by_hand"])
        self.assertNotEqual(moved["key"], first["key"])
        back = self.post(f"{self.at}0/seat", None).json()
        self.assertEqual((back["by_hand"], back["key"]), (False, first["key"]))

    def test_left_out_and_put_back(self):
        self.three()
        answer = self.post(f"{self.at}1/out").json()
        self.assertEqual([r.position for r in self.rows()], [0, 2])
        self.post(f"{self.at}1/out?back={answer['back']}")
        self.assertEqual([r.photo.name for r in self.rows()], ["a.jpg", "b.jpg", "c.jpg"])
        for back in ("9" * 40, "²", ""):
            self.assertEqual(self.post(f"{self.at}1/out?back={back}").status_code, 404)
        for n in ("9", "9" * 40):
            for path in ("out", "seat"):
                self.assertEqual(self.post(f"{self.at}{n}/{path}").status_code, 404)
            self.assertEqual(self.client.get(f"{self.at}{n}/picture").status_code, 404)

    def test_pictures(self):
        self.three()
        for query in ("", "?large=1&zoom=2&x=0&y=0"):
            answer = self.client.get(f"{self.at}0/picture{query}")
            self.assertEqual(answer["Content-Type"], "image/webp")
            image = Image.open(io.BytesIO(answer.content))
            self.assertEqual(max(image.size), 1000 if query else 300)
        self.assertEqual(self.client.get(f"{self.at}9/picture").status_code, 404)

    def test_the_projects_own_photos(self):
        self.place(width=320, height=200)
        page = self.client.get(self.at).content.decode()
        self.assertIn("Use the project’s 1 photo", " ".join(page.split()))
        self.assertEqual(self.post(f"{self.at}own").json(), {"came": 1, "twice": 0})
        self.assertEqual(self.post(f"{self.at}own").json(), {"came": 0, "twice": 1})

    def test_thrown_away_with_its_files(self):
        self.three()
        self.make()
        keys = [r.key for r in self.rows()]
        self.client.post(f"{self.at}drop")
        self.assertEqual((Batch.objects.count(), PhotoFile.objects.count()), (0, 3))
        self.assertFalse(any(Stored(k).exists() for k in keys))

    def test_from_the_shelf_with_its_own_variants(self):
        sheet = self.fresh().head.sheet

        one, _ = shelf.add(self.user, sheet, self.frame, "Oval")
        shelf.make_variants(one)
        # the square is changed by itself
        square = shelf.on_own_sheet(one, "square")
        shelf.add(self.user, square, square.items[0].id, "", of=one.key, variant="square")
        answer = self.client.post(f"/shelf/{one.pk}/batch")
        self.at = answer["Location"]
        self.three()
        pixels = self.post(f"{self.at}set", {"variants": True}).json()["pixels"]
        self.assertEqual(pixels, "600 × 400 px · square 400 × 400 px · portrait 400 × 600 px")


class Fair(BatchCase):
    def test_nobodys_thousand_comes_before_anothers_two(self):
        huey = queue.queue()

        def job(owner):
            return queue.Job(owner, "shoot", {})

        many = set(queue.put(job(1) for _ in range(1000)))
        # each of twenty people begins two batches of three photos meanwhile
        others = {k for n in range(2, 22) for _ in range(2) for k in queue.put([job(n)] * 3)}
        order = [huey.dequeue().args[0] for _ in range(300)]
        last = max(order.index(k) for k in others)
        # between any two of one person's there is no more than one of everybody else's
        self.assertLess(last, 6 * 21)
        self.assertGreaterEqual(len(many & set(order[:126])), 5)


class FromAShell(BatchCase):
    def setUp(self):
        super().setUp()
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (self.folder / "photos").mkdir()
        for name, data in (("a.jpg", scene(900, 600)), ("b.jpg", scene(600, 900)), ("junk.jpg", b"hello")):
            (self.folder / "photos" / name).write_bytes(data)
        answer = self.client.get(f"/projects/{self.project.pk}/file")
        (self.folder / "card.gouge").write_bytes(b"".join(answer.streaming_content))

    def arguments(self, *more, frame="card.gouge"):
        told = [str(self.folder / frame), str(self.folder / "photos"), "--out", str(self.folder / "out")]
        return [*told, "--workers", "2", *more]

    def call(self, *more):
        """Batch it in a shell, and return what it says."""
        command = [sys.executable, "manage.py", "batch", *self.arguments(*more)]
        environment = {**os.environ, "GOUGE_DATA": str(self.folder)}
        done = subprocess.run(command, cwd=settings.BASE_DIR, env=environment, capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stderr)
        return done.stdout + done.stderr

    def test_the_same_files_as_on_the_page_and_only_once(self):
        told = self.call()
        self.assertIn("2 made, 0 were there already, 1 failed", told)
        self.assertIn("junk.jpg", told)
        self.add(("a.jpg", scene(900, 600)), ("b.jpg", scene(600, 900)))
        self.make()
        for name, data in self.files().items():
            self.assertTrue((self.folder / "out" / name).read_bytes() == data, name)
        self.assertIn("0 made, 2 were there already", self.call())
        self.assertIn("2 made, 0 were there already", self.call("--quality", "70"))
        self.assertEqual(
            sorted(p.name for p in (self.folder / "out").iterdir()), [".gouge-batch.json", "a.jpg", "b.jpg"]
        )

    def test_refused(self):
        (self.folder / "text.gouge").write_text("hello")
        for more, frame, words in (
            (("--name", "Moon"), "card.gouge", "no frame “Moon”"),
            (("--format", "bmp"), "card.gouge", "not a format"),
            (("--size", "none"), "card.gouge", "resolution|number"),
            ((), "missing.gouge", "cannot be read"),
            ((), "text.gouge", "isn’t a Gouge file or an SVG"),
        ):
            with self.assertRaisesRegex(CommandError, f"(?i){words}"):
                call_command("batch", *self.arguments(*more, frame=frame), stdout=io.StringIO(), stderr=io.StringIO())
