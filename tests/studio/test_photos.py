"""Bringing photos in, and exporting what was made of them."""

import io
import json
import logging
import zipfile
from pathlib import Path

import numpy as np
import pikepdf
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


class Export(StudioCase):
    def framed(self) -> str:
        frame = self.draw("ellipse", 100, 100, 200, 100)
        self.send("put_in", {"ids": [frame, self.place(width=600, height=400)]})
        self.send("settle", {"ids": [frame]})
        return frame

    def test_png_of_a_frame(self):
        frame = self.framed()
        self.send("paint", {"ids": [frame], "field": "stroke_width", "value": "8"})
        answer = self.order(what=frame, size="200")
        self.assertEqual(answer.headers["Content-Type"], "image/png")
        self.assertIn('filename="card-ellipse-1.png"', answer.headers["Content-Disposition"])
        p = np.asarray(Image.open(io.BytesIO(answer.getvalue())))
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
        answer = self.order(what=item, size=str(100 / scale))
        p = np.asarray(Image.open(io.BytesIO(answer.getvalue())).convert("L"))
        self.assertEqual(p.shape, (64, 4096))
        self.assertGreater(np.abs(np.diff(p.astype(int), axis=1)).mean(), 200)

    def test_svg(self):
        frame = self.framed()
        answer = self.order(what=frame, format="svg")
        self.assertEqual(answer.headers["Content-Type"], "image/svg+xml")
        self.assertIn("<clipPath", answer.getvalue().decode())

    def test_refusals(self):
        self.assertEqual(self.order().status_code, 422)
        frame = self.framed()
        for query in (
            {"size": "many"},
            {"size": "0"},
            {"size": "9999999"},
            {"what": "gone"},
            {"format": "doc"},
            {"what": frame, "size": "10000"},
        ):
            with self.subTest(query=query):
                answer = self.order(**query)
                want = 202 if query == {"what": frame, "size": "10000"} else 422
                self.assertEqual(answer.status_code, want)

    def test_a_missing_file_is_named(self):
        self.framed()
        PhotoFile.objects.get().original.unlink()
        answer = self.order()
        self.assertEqual(answer.status_code, 422)
        self.assertIn("sea.jpg", answer.json()["error"])


class Orders(StudioCase):
    """Orders as the page posts them: what is remembered, zips, names, hostile ones."""

    def body(self, answer) -> bytes:
        return b"".join(answer.streaming_content) if answer.streaming else answer.content

    def framed(self, x: int, name: str) -> str:
        frame = self.draw("ellipse", x, 100, 100, 100)
        self.send("rename", {"id": frame, "name": name})
        self.send("put_in", {"ids": [frame, self.place(width=600, height=400)]})
        self.send("settle", {"ids": [frame]})
        return frame

    def test_each_frame_in_a_zip_by_name(self):
        self.framed(100, "Left"), self.framed(400, "Right")
        answer = self.order(what="each", format="jpg", pattern="{number} {name}", by="width", size="80")
        self.assertEqual(answer.headers["Content-Type"], "application/zip")
        self.assertIn('filename="card.zip"', answer.headers["Content-Disposition"])
        with zipfile.ZipFile(io.BytesIO(self.body(answer))) as box:
            self.assertEqual(box.namelist(), ["1-left.jpg", "2-right.jpg"])
            for name in box.namelist():
                self.assertEqual(Image.open(io.BytesIO(box.read(name))).size, (80, 80))

    def test_the_last_order_is_remembered_with_the_project(self):
        self.draw()
        self.assertEqual(self.order(format="webp", lossless=True, by="factor", size="2").status_code, 200)
        page = self.client.get(f"/p/{self.project.pk}/?station=export").content.decode()
        self.assertIn("Export WebP", page)
        self.assertRegex(page, r'id="d-size"[^>]+value="2"')
        # one that is refused is not
        self.assertEqual(self.order(format="doc").status_code, 422)
        self.assertEqual(self.fresh().export["format"], "webp")

    def test_names_beyond_ascii(self):
        piece = self.draw()
        self.send("rename", {"id": piece, "name": "Fähre"})
        self.assertIn("filename*=utf-8''card-f%C3%A4hre.png", self.order(what=piece).headers["Content-Disposition"])

    def test_what_is_no_order_is_refused_in_words(self):
        self.draw()
        for order in (
            {"what": "everything"},
            {"ids": ["x"]},
            {"ids": "i1"},
            {"extent": "huge"},
            {"margin": "1e999"},
            {"margin": -4},
            {"size": "9" * 300},
            {"format": "x" * 50},
            {"pattern": "\x01"},
            {"pattern": "{secret}"},
            {"quality": "101", "format": "jpg"},
            {"what": "each"},
        ):
            with self.subTest(**order):
                answer = self.order(**order)
                self.assertEqual(answer.status_code, 422, answer.content)
                self.assertTrue(answer.json()["error"])
        for body in ("", "[1]", "{", '{"size": NaN}'):
            url = f"/p/{self.project.pk}/export"
            self.assertEqual(self.client.post(url, body, content_type="application/json").status_code, 422)

    def test_a_pdf_passes_an_upright_srgb_jpeg_through_and_no_other(self):
        frames = []
        exif = Image.Exif()
        exif[0x0112] = 6
        for x, options in ((100, {}), (400, {"exif": exif})):
            data = jpeg(600, 400, **options)
            file = self.upload(data, f"sea{x}.jpg").json()["file"]
            photo = self.send("place", {"files": [file]}).json()["chosen"][0]
            frame = self.draw("ellipse", x, 100, 200, 100)
            self.send("put_in", {"ids": [frame, photo]})
            frames.append((frame, data))
        for (frame, data), passed in zip(frames, (True, False), strict=True):
            answer = self.order(what=frame, format="pdf", size="1000")
            self.assertEqual(answer.headers["Content-Type"], "application/pdf")
            self.assertEqual(data in answer.getvalue(), passed)
        answer = self.order(what="each", format="pdf")
        self.assertIn('filename="card.pdf"', answer.headers["Content-Disposition"])
        with pikepdf.open(io.BytesIO(answer.getvalue())) as pdf:
            self.assertEqual(len(pdf.pages), 2)

    def test_the_lens_shows_px_for_px_what_the_file_has(self):
        frame = self.framed(100, "Left")
        order = {"what": frame, "format": "png", "size": "300", "margin": "30"}
        whole = np.asarray(Image.open(io.BytesIO(self.body(self.order(**order)))).convert("RGBA"))
        url = f"/p/{self.project.pk}/lens"
        for x, y, corner in ((0, 0, (0, 0)), (150, 150, (70, 120)), (1e6, 1e6, (140, 240))):
            sent = json.dumps({"order": order, "x": x, "y": y})
            answer = self.client.post(url, sent, content_type="application/json")
            self.assertEqual(answer.headers["X-Size"], "340 240")
            part = np.asarray(Image.open(io.BytesIO(answer.getvalue())).convert("RGBA"))
            self.assertEqual(whole.shape[:2], (480, 480))
            left, top = corner
            near = whole[top : top + 240, left : left + 340]
            # as they are seen, on black: what is transparent has any colour
            seen, want = (p[..., :3] * (p[..., 3:] / 255) for p in (part, near))
            # only the smoothing of an edge, drawn within another border, may be rounded otherwise
            self.assertLess((np.abs(seen - want) > 1).mean(), 0.01)
            self.assertLess(np.abs(seen - want).max(), 64)
            # a px aside it is another picture
            aside = np.abs(seen[:, 1:] - want[:, :-1]).mean()
            self.assertLess(np.abs(seen - want).mean(), aside / 4)
        drawing = json.dumps({"order": {**order, "format": "pdf"}, "x": 1, "y": 1})
        self.assertEqual(
            self.client.post(url, drawing, content_type="application/json").headers["Content-Type"], "image/png"
        )
        for body in ("{}", "[]", '{"order": {}, "x": 1e300, "y": 0}', '{"order": {"what": "i99"}, "x": 0, "y": 0}'):
            self.assertIn(self.client.post(url, body, content_type="application/json").status_code, (400, 422))
