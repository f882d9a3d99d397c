"""Bringing photos in, and delivering what was made of them."""

import io
import logging
from pathlib import Path

import numpy as np
from django.conf import settings
from PIL import Image

from studio.models import PhotoFile

from .helpers import StudioCase, jpeg


class BringIn(StudioCase):
    def test_a_photo_is_stored_once_under_its_hash(self):
        first = self.upload(jpeg()).json()
        second = self.upload(jpeg(), "again.jpg").json()
        self.assertEqual(first["file"], second["file"])
        self.assertEqual((first["width"], first["height"]), (300, 200))
        photo = PhotoFile.objects.get()
        self.assertEqual(photo.original.read_bytes(), jpeg())
        answer = self.client.get(f"/photos/{photo.sha256}/preview")
        self.assertEqual(answer.headers["Content-Type"], "image/jpeg")
        self.assertIn("immutable", answer.headers["Cache-Control"])
        self.assertEqual(Image.open(io.BytesIO(answer.getvalue())).size, (300, 200))

    def test_bad_files_are_refused_and_leave_nothing(self):
        files = {"notes.txt": b"hello", "empty.jpg": b"", "half.jpg": jpeg(800, 600)[:2000]}
        with self.assertNoLogs("django", logging.ERROR):
            for name, data in files.items():
                with self.subTest(name=name):
                    answer = self.upload(data, name)
                    self.assertEqual(answer.status_code, 422)
                    self.assertIn(name, answer.json()["error"])
                    self.assertTrue(answer.json()["remedy"])
            self.assertEqual(self.client.post(f"/p/{self.project.pk}/photos").status_code, 422)
        self.assertEqual(PhotoFile.objects.count(), 0)
        self.assertEqual([f for f in Path(settings.MEDIA_ROOT).rglob("*") if f.is_file()], [])
        self.assertEqual(self.fresh().head.number, 1)


class Deliver(StudioCase):
    def get(self, **query):
        return self.client.get(f"/p/{self.project.pk}/deliver", query)

    def framed(self) -> str:
        frame = self.draw("ellipse", 100, 100, 200, 100)
        self.send("put_in", {"ids": [frame, self.place(width=600, height=400)]})
        self.send("settle", {"ids": [frame]})
        return frame

    def test_png_of_a_frame(self):
        frame = self.framed()
        self.send("paint", {"ids": [frame], "field": "stroke_width", "value": "8"})
        answer = self.get(what=frame, resolution="200")
        self.assertEqual(answer.headers["Content-Type"], "image/png")
        self.assertIn('filename="card-ellipse-1.png"', answer.headers["Content-Disposition"])
        p = np.asarray(Image.open(io.BytesIO(answer.content)))
        self.assertEqual(p.shape, (216, 416, 4))
        self.assertLess(np.abs(p[108, 208, :3].astype(int) - (200, 80, 60)).max(), 4)
        self.assertEqual(p[0, 0, 3], 0)

    def test_sampled_from_the_original_not_the_preview(self):
        # stripes one px wide survive only in the original: the preview of 4096 px is half as wide
        stripes = np.zeros((64, 4096, 3), np.uint8)
        stripes[:, ::2] = 255
        out = io.BytesIO()
        Image.fromarray(stripes).save(out, "PNG")
        photo = self.upload(out.getvalue(), "stripes.png").json()
        (item,) = self.send("place", {"files": [photo["file"]]}).json()["chosen"]
        scale = self.fresh().head.sheet.items[0].matrix[0]
        answer = self.get(what=item, resolution=str(100 / scale))
        p = np.asarray(Image.open(io.BytesIO(answer.content)).convert("L"))
        self.assertEqual(p.shape, (64, 4096))
        self.assertGreater(np.abs(np.diff(p.astype(int), axis=1)).mean(), 200)

    def test_svg(self):
        frame = self.framed()
        answer = self.get(what=frame, format="svg")
        self.assertEqual(answer.headers["Content-Type"], "image/svg+xml")
        self.assertIn("<clipPath", answer.content.decode())

    def test_refusals(self):
        self.assertEqual(self.get().status_code, 422)
        frame = self.framed()
        for query in (
            {"resolution": "many"},
            {"resolution": "0"},
            {"resolution": "9999999"},
            {"what": "gone"},
            {"format": "doc"},
            {"what": frame, "resolution": "10000"},
        ):
            with self.subTest(query=query):
                answer = self.get(**query)
                want = 200 if query == {"what": frame, "resolution": "10000"} else 422
                self.assertEqual(answer.status_code, want)

    def test_a_missing_file_is_named(self):
        self.framed()
        PhotoFile.objects.get().original.unlink()
        answer = self.get()
        self.assertEqual(answer.status_code, 422)
        self.assertIn("sea.jpg", answer.json()["error"])
