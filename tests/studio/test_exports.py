"""Exports: listed, fetched again, made by the queue, stopped, forgotten; and their estimated sizes."""

import errno
import io
import json
import os
import tempfile
import zipfile
from pathlib import Path
from unittest import mock

import boto3
import numpy as np
from django.conf import settings
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from moto import mock_aws
from PIL import Image, ImageCms

from picture import mapped_pixels
from picture.photos.decode import open_upright
from picture.photos.icc import DISPLAY_P3, rgb_profile
from studio.models import Export, PhotoFile
from studio.work import queue, tasks

from .helpers import StudioCase, jpeg

WIDE = rgb_profile("Wide", DISPLAY_P3)


def work() -> None:
    """Do all that is in the queue, here and now, as a worker does."""
    huey = queue.queue()
    while (task := huey.dequeue()) is not None:
        huey.execute(task)


class ExportsCase(StudioCase):
    def setUp(self):
        super().setUp()
        self.frame = self.draw("ellipse", 100, 100, 300, 200)
        photo = self.place(width=900, height=600)
        self.send("put_in", {"ids": [self.frame, photo]})

    def listed(self) -> dict:
        return self.client.get(f"/p/{self.project.pk}/exports").json()

    def address(self, number: int, what: str) -> str:
        return f"/p/{self.project.pk}/exports/{number}/{what}"


class Docket(ExportsCase):
    """The picture of a file that is not made yet."""

    def pictured(self, **order):
        address = f"/p/{self.project.pk}/docket"
        return self.client.post(address, json.dumps(order), content_type="application/json")

    def test_it_is_as_the_file_will_be(self):
        made = Image.open(io.BytesIO(self.order(what=self.frame).getvalue())).convert("RGBA")
        picture = Image.open(io.BytesIO(self.pictured(what=self.frame).content))
        self.assertEqual((picture.mode, picture.size), ("RGBA", (480, 320)))
        off = np.abs(np.asarray(made.resize((480, 320))).astype(int)[..., 3] - np.asarray(picture)[..., 3])
        self.assertLess(off.mean(), 2)
        # what a JPEG cannot leave transparent has its background
        flat = Image.open(io.BytesIO(self.pictured(what=self.frame, format="jpg", ground="#102030").content))
        self.assertEqual(flat.convert("RGB").getpixel((1, 1)), (16, 32, 48))

    def test_what_cannot_be_exported_says_why(self):
        answer = self.pictured(what=self.frame, size="0")
        self.assertEqual((answer.status_code, answer.json()["field"]), (422, "size"))


class List(ExportsCase):
    def test_what_was_exported_is_listed_and_fetched_again(self):
        first = self.order(what=self.frame).getvalue()
        (row,) = self.listed()["rows"]
        again = self.client.get(self.address(row["id"], "file"))
        self.assertEqual(again.getvalue(), first)
        self.assertIn('filename="card-ellipse-1.png"', again.headers["Content-Disposition"])
        self.assertIn("sandbox", again.headers["Content-Security-Policy"])
        picture = self.client.get(self.address(row["id"], "picture.png"))
        self.assertEqual(max(Image.open(io.BytesIO(picture.content)).size), 120)
        html = self.listed()["html"]
        self.assertIn("300 × 200 px", html)
        self.assertNotIn("before later changes", html)

    def test_after_a_change_it_is_of_an_earlier_state_and_still_there(self):
        first = self.order(what=self.frame).getvalue()
        self.send("paint", {"ids": [self.frame], "field": "stroke", "value": "#b5432a"})
        self.assertIn("before later changes", self.listed()["html"])
        (row,) = self.listed()["rows"]
        self.assertEqual(self.client.get(self.address(row["id"], "file")).getvalue(), first)
        self.order(what=self.frame)
        self.assertEqual(len(self.listed()["rows"]), 2)

    def test_forgotten_it_leaves_no_file(self):
        self.order(what=self.frame)
        self.order(what=self.frame)
        first, second = self.listed()["rows"]
        key = Export.objects.get(pk=first["id"]).files[0]["key"]
        self.client.post(self.address(first["id"], "forget"))
        # the other one has the same file
        self.assertTrue(default_storage.exists(key))
        self.client.post(self.address(second["id"], "forget"))
        self.assertFalse(default_storage.exists(key))
        self.assertEqual(self.listed()["rows"], [])

    def test_only_the_last_are_kept(self):
        for n in range(28):
            self.order(what=self.frame, size=str(50 + n))
        self.assertEqual(len(self.listed()["rows"]), 24)
        folder = Path(settings.MEDIA_ROOT) / "deliveries" / str(self.project.pk)
        self.assertEqual(len(list(folder.iterdir())), 24)

    def test_nobody_elses(self):
        self.order(what=self.frame)
        (row,) = self.listed()["rows"]
        self.client.force_login(self.other)
        for what in ("file", "picture.png"):
            self.assertEqual(self.client.get(self.address(row["id"], what)).status_code, 404)
        for what in ("stop", "forget"):
            self.assertEqual(self.client.post(self.address(row["id"], what)).status_code, 404)
        self.assertEqual(self.client.get(f"/p/{self.project.pk}/exports").status_code, 404)

    def test_a_file_that_is_gone_is_told(self):
        self.order(what=self.frame)
        (row,) = self.listed()["rows"]
        default_storage.delete(Export.objects.get().files[0]["key"])
        answer = self.client.get(self.address(row["id"], "file"))
        self.assertEqual(answer.status_code, 410)
        self.assertIn("Export it again", answer.json()["remedy"])


@override_settings(GOUGE_AT_ONCE=0.01)
class Long(ExportsCase):
    def test_by_the_queue_it_is_the_file_that_is_made_at_once(self):
        answer = self.order(what=self.frame)
        self.assertEqual(answer.status_code, 202)
        number = answer.json()["export"]
        self.assertEqual(self.client.get(self.address(number, "file")).status_code, 409)
        work()
        self.assertEqual(self.listed()["rows"][0]["state"], "ready")
        made = self.client.get(self.address(number, "file")).getvalue()
        self.client.post(self.address(number, "forget"))
        with self.settings(GOUGE_AT_ONCE=60):
            self.assertEqual(self.order(what=self.frame).getvalue(), made)

    def test_asked_for_twice_it_is_made_once(self):
        numbers = {self.order(what=self.frame).json()["export"] for _ in range(3)}
        self.assertEqual(len(numbers), 1)
        self.assertEqual(queue.queue().pending_count(), 1)

    def test_each_frame_is_a_job_and_the_zip_has_them_all(self):
        other = self.draw("rectangle", 500, 100, 100, 100)
        photo = self.place(width=500, height=500, color=(1, 2, 3))
        self.send("put_in", {"ids": [other, photo]})
        self.send("settle", {"ids": [other], "how": "cover"})
        number = self.order(what="each", format="jpg").json()["export"]
        self.assertEqual(queue.queue().pending_count(), 2)
        work()
        self.listed()
        answer = self.client.get(self.address(number, "file"))
        with zipfile.ZipFile(io.BytesIO(answer.getvalue())) as box:
            self.assertEqual(box.namelist(), ["card-ellipse-1.jpg", "card-rectangle-1.jpg"])
            self.assertEqual(Image.open(io.BytesIO(box.read("card-rectangle-1.jpg"))).size, (100, 100))

    def test_stopped(self):
        number = self.order(what=self.frame).json()["export"]
        self.client.post(self.address(number, "stop"))
        work()
        self.assertEqual(self.listed()["rows"][0]["state"], "stopped")
        self.assertEqual(default_storage.listdir("")[0].count("deliveries"), 0)

    def test_what_fails_says_why(self):
        number = self.order(what=self.frame).json()["export"]
        PhotoFile.objects.get().original.unlink()
        work()
        row = next(r for r in self.listed()["rows"] if r["id"] == number)
        self.assertEqual(row["state"], "failed")
        self.assertIn("missing", row["why"])

    def test_somebody_elses_photo_is_not_exported_by_the_queue(self):
        PhotoFile.objects.update(owner=self.other)
        self.assertEqual(self.order(what=self.frame).status_code, 422)
        self.assertEqual(queue.queue().pending_count(), 0)

    def test_too_many_under_way(self):
        for n in range(12):
            self.assertEqual(self.order(what=self.frame, size=str(100 + n)).status_code, 202)
        answer = self.order(what=self.frame, size="150")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("still running", answer.json()["error"])


class Many(StudioCase):
    """Many photos, read by the queue."""

    def send_later(self, data: bytes, name: str):
        upload = SimpleUploadedFile(name, data)
        return self.client.post(f"/p/{self.project.pk}/photos", {"photo": upload, "later": "1"})

    def ask(self, jobs, **more):
        url = f"/p/{self.project.pk}/photos/many"
        return self.client.post(url, json.dumps({"jobs": jobs, **more}), content_type="application/json").json()

    def test_they_come_once_they_are_read(self):
        jobs = [self.send_later(jpeg(200 + n, 100), f"{n}.jpg").json()["job"] for n in range(6)]
        self.assertEqual(set(self.ask(jobs).values()), {None})
        self.assertEqual(PhotoFile.objects.count(), 0)
        work()
        told = self.ask(jobs)
        self.assertEqual([told[j]["width"] for j in jobs], [200 + n for n in range(6)])
        placed = self.send("place", {"files": [told[j]["file"] for j in jobs]})
        self.assertEqual(len(placed.json()["chosen"]), 6)
        # the same again is known at once
        self.assertEqual(self.send_later(jpeg(200, 100), "0.jpg").json()["width"], 200)
        self.assertEqual(self.client.get(f"/photos/{told[jobs[0]]['file']}/preview").status_code, 200)

    def test_one_that_is_damaged_is_told_by_its_name(self):
        self.assertEqual(self.send_later(b"no picture", "notes.jpg").status_code, 422)
        job = self.send_later(jpeg(3000, 2000)[:20_000], "cut.jpg").json()["job"]
        work()
        self.assertIn("cut.jpg", self.ask([job])[job]["error"])

    def test_nobody_elses(self):
        job = self.send_later(jpeg(), "a.jpg").json()["job"]
        work()
        self.client.force_login(self.other)
        mine = self.client.post(
            "/projects/new", {"size": "custom", "width": 9, "height": 9, "unit": "mm", "resolution": 90}
        )
        url = f"{mine.headers['Location']}photos/many"
        answer = self.client.post(url, json.dumps({"jobs": [job]}), content_type="application/json").json()
        self.assertIn("error", answer[job])
        self.assertEqual(PhotoFile.objects.filter(owner=self.other).count(), 0)

    def test_stopped(self):
        job = self.send_later(jpeg(), "a.jpg").json()["job"]
        self.ask([job], stop=True)
        work()
        self.assertIn("error", self.ask([job])[job])


@mock_aws
class Bucket(ExportsCase):
    """Nothing needs a folder: all files lie in a bucket (django-storages' S3 on moto's stand-in)."""

    def setUp(self):
        keys = {"AWS_ACCESS_KEY_ID": "k", "AWS_SECRET_ACCESS_KEY": "s", "AWS_DEFAULT_REGION": "us-east-1"}
        self.enterContext(mock.patch.dict(os.environ, keys))
        boto3.client("s3").create_bucket(Bucket="gouge")
        backend = {"BACKEND": "storages.backends.s3.S3Storage", "OPTIONS": {"bucket_name": "gouge"}}
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(STORAGES={**settings.STORAGES, "default": backend}, DATA_DIR=folder))
        super().setUp()

    def test_photos_pictures_and_exports(self):
        at_once = self.order(what=self.frame).getvalue()
        self.assertEqual(Image.open(io.BytesIO(at_once)).size, (300, 200))
        with self.settings(GOUGE_AT_ONCE=0.01):
            number = self.order(what=self.frame, format="pdf").json()["export"]
            work()
            self.listed()
        self.assertEqual(self.client.get(self.address(number, "file")).getvalue()[:5], b"%PDF-")
        self.assertEqual(self.client.get(f"/projects/{self.project.pk}/picture.png").status_code, 200)
        self.assertEqual(self.client.get(f"/projects/{self.project.pk}/file").status_code, 200)
        (photo,) = PhotoFile.objects.all()
        self.assertEqual(self.client.get(f"/photos/{photo.sha256}/preview").status_code, 200)
        held = {o["Key"].split("/")[0] for o in boto3.client("s3").list_objects_v2(Bucket="gouge")["Contents"]}
        self.assertEqual(held, {"photos", "previews", "sheets", "deliveries"})
        self.assertEqual([f for f in Path(settings.MEDIA_ROOT).rglob("*") if "queue" not in f.name], [])


class Estimates(ExportsCase):
    def estimate(self, **order) -> dict:
        url = f"/p/{self.project.pk}/estimate"
        return self.client.post(url, json.dumps(order), content_type="application/json").json()

    def test_within_a_quarter_of_the_file(self):
        rng = np.random.default_rng(4)
        small = Image.fromarray((rng.random((40, 60, 3)) * 255).astype(np.uint8))
        noise = Image.fromarray((rng.random((1000, 1500, 3)) * 30).astype(np.uint8))
        photo = Image.blend(small.resize((1500, 1000), Image.Resampling.BICUBIC), noise, 0.3)
        out = io.BytesIO()
        photo.save(out, "JPEG", quality=92)
        file = self.upload(out.getvalue(), "fine.jpg").json()["file"]
        (item,) = self.send("place", {"files": [file]}).json()["chosen"]
        frame = self.draw("ellipse", 0, 0, 900, 700)
        self.send("put_in", {"ids": [frame, item]})
        for order in (
            {"format": "png"}, {"format": "jpg"}, {"format": "jpg", "quality": "60"}, {"format": "webp"},
            {"format": "tif"}, {"format": "pdf", "size": "60"}, {"format": "svg", "photos": "whole"},
        ):  # fmt: skip
            with self.subTest(**order):
                told = self.estimate(what=frame, **order)
                size = len(self.order(what=frame, **order).getvalue())
                self.assertLess(abs(told["bytes"] - size), 0.25 * size, (told, size))
                self.assertRegex(told["words"], r"^About [\d.,]+ (kB|MB)$")

    def test_refused_as_exporting_is(self):
        self.assertIn("error", self.estimate(size="many"))


class Profiles(ExportsCase):
    def test_the_photos_own_profile_goes_along_and_its_numbers_stay(self):
        data = jpeg(400, 300, color=(200, 80, 60), icc_profile=WIDE)
        file = self.upload(data, "wide.jpg").json()["file"]
        (photo,) = self.send("place", {"files": [file]}).json()["chosen"]
        self.send("paint", {"ids": [photo], "field": "opacity", "value": "100"})
        own = Image.open(io.BytesIO(self.order(what=photo, own_profile=True).getvalue()))
        self.assertEqual(own.info["icc_profile"], WIDE)
        raw = np.asarray(Image.open(io.BytesIO(data)).convert("RGB")).astype(int)
        self.assertLessEqual(np.abs(np.asarray(own.convert("RGB")).astype(int)[50, 50] - raw[150, 200]).max(), 2)
        plain = Image.open(io.BytesIO(self.order(what=photo).getvalue()))
        told = ImageCms.getProfileDescription(ImageCms.ImageCmsProfile(io.BytesIO(plain.info["icc_profile"])))
        self.assertIn("sRGB", told)
        want = open_upright(io.BytesIO(data), "wide")
        self.assertLessEqual(
            np.abs(np.asarray(plain.convert("RGB")).astype(int)[50, 50] - want.getpixel((200, 150))).max(), 2
        )

    def test_several_profiles_are_refused_by_name(self):
        file = self.upload(jpeg(400, 300, icc_profile=WIDE), "wide.jpg").json()["file"]
        self.send("place", {"files": [file]})
        answer = self.order(what="sheet", own_profile=True)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("sRGB", answer.json()["error"])
        self.assertEqual(self.order(what=self.frame, own_profile=True).status_code, 200)


class Tasks(ExportsCase):
    def test_a_task_opens_no_database(self):
        self.order(what=self.frame)
        job = Export.objects.get()
        sheet = self.fresh().head.sheet
        from sheet.export.order import Order, ordered

        files = [tasks.as_plain(f) for f in ordered(sheet, Order(what=self.frame))]
        mine = f"sheets/{self.user.pk}"
        key = next(f"{mine}/{name}" for name in default_storage.listdir(mine)[1])
        with self.assertNumQueries(0):
            size = tasks.export(key, {"format": "jpg"}, files, "made/a.jpg")
        self.assertEqual(default_storage.size("made/a.jpg"), size)
        self.assertGreater(job.size, 0)


class TooSmall(ExportsCase):
    """A full disk: reported, with no part of a file left behind."""

    def files(self) -> set[str]:
        return {str(f) for f in Path(settings.MEDIA_ROOT).rglob("*") if f.is_file() and "queue" not in f.name}

    def test_exporting_and_bringing_in(self):
        before = self.files()
        full = OSError(errno.ENOSPC, "No space left on device")
        with mock.patch("studio.storage.os.fsync", side_effect=full):
            for answer in (
                self.order(what=self.frame),
                self.upload(jpeg(50, 40), "new.jpg"),
                self.upload(b'<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0h9v9z"/></svg>', "new.svg"),
            ):
                self.assertEqual(answer.status_code, 507)
                self.assertIn("can’t write to its disk", answer.json()["error"])
        self.assertEqual(self.files(), before)
        self.assertEqual(self.listed()["rows"], [])
        self.assertEqual(PhotoFile.objects.count(), 1)
        # once there is room again
        self.assertEqual(self.order(what=self.frame).status_code, 200)

    def test_in_the_queue(self):
        with self.settings(GOUGE_AT_ONCE=0.01):
            number = self.order(what=self.frame).json()["export"]
        before = self.files()
        with mock.patch("studio.storage.os.fsync", side_effect=OSError(errno.ENOSPC, "full")):
            work()
        (row,) = self.listed()["rows"]
        self.assertEqual((row["id"], row["state"]), (number, "failed"))
        self.assertIn("can’t write to its disk", row["why"])
        self.assertEqual(self.files(), before)

    def test_for_pixels_that_lie_in_a_file(self):
        full = OSError(errno.ENOSPC, "No space left on device")
        with (
            mock.patch.object(mapped_pixels, "MAPPED_FROM", 1000),
            mock.patch("picture.write.encoding.MAPPED_FROM", 1000),
            mock.patch("os.posix_fallocate", side_effect=full),
        ):
            answer = self.order(what=self.frame)
            self.assertEqual(answer.status_code, 507)
            self.assertIn("can’t write to its disk", answer.json()["error"])
            with self.settings(GOUGE_AT_ONCE=0.01):
                self.order(what=self.frame)
                work()
        (row,) = self.listed()["rows"]
        self.assertEqual(row["state"], "failed")
        self.assertIn("can’t write to its disk", row["why"])
