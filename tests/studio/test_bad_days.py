"""Full disks, folders that cannot be written, files that were cut short or lie: each is healed, or said."""

import errno
import io
import struct
import zlib
from pathlib import Path
from unittest import mock

import numpy as np
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from PIL import Image

from studio.history import changes
from studio.models import PhotoFile, Project
from studio.storage import Stored

from .helpers import StudioCase, jpeg


def grain(kind: str, width: int = 400, height: int = 300, **options) -> bytes:
    """Return a picture of noise as a file."""
    out = io.BytesIO()
    noise = np.random.default_rng(7).integers(0, 255, (height, width, 3), dtype=np.uint8)
    Image.fromarray(noise).save(out, kind, **options)
    return out.getvalue()


def taller_jpeg(data: bytes, height: int) -> bytes:
    """Return a JPEG whose frame header tells another height (ITU-T T.81, B.2.2)."""
    at = next(i for i in range(len(data)) if data[i] == 0xFF and data[i + 1] in (0xC0, 0xC2))
    return data[: at + 5] + struct.pack(">H", height) + data[at + 7 :]


def taller_png(data: bytes, height: int) -> bytes:
    """Return a PNG whose IHDR tells another height (PNG 3, 11.2.1)."""
    at = data.index(b"IHDR")
    body = data[at : at + 8] + struct.pack(">I", height) + data[at + 12 : at + 17]
    return data[:at] + body + struct.pack(">I", zlib.crc32(body)) + data[at + 21 :]


def taller_tiff(data: bytes, height: int) -> bytes:
    """Return a TIFF whose ImageLength (tag 257, TIFF 6.0) tells another height."""
    first = struct.unpack("<I", data[4:8])[0]
    out = bytearray(data)
    for k in range(struct.unpack("<H", data[first : first + 2])[0]):
        at = first + 2 + 12 * k
        if struct.unpack("<H", data[at : at + 2])[0] == 257:
            out[at + 2 : at + 12] = struct.pack("<HII", 4, 1, height)
    return bytes(out)


class FalseHeaders(StudioCase):
    def test_a_head_that_promises_more_rows(self):
        cases = {
            "a.jpg": taller_jpeg(grain("JPEG"), 900),
            "a row.jpg": taller_jpeg(grain("JPEG"), 308),
            "progressive.jpg": taller_jpeg(grain("JPEG", progressive=True), 900),
            "large.jpg": taller_jpeg(grain("JPEG", 3000, 2000), 6000),
            "a.png": taller_png(grain("PNG"), 900),
            "large.png": taller_png(grain("PNG", 3000, 1500, compress_level=1), 6000),
            "a.tif": taller_tiff(grain("TIFF"), 900),
            "packed.tif": taller_tiff(grain("TIFF", compression="tiff_lzw"), 900),
            "large.tif": taller_tiff(grain("TIFF", 3000, 1500, compression="tiff_lzw"), 6000),
        }
        for name, data in cases.items():
            with self.subTest(name=name):
                answer = self.upload(data, name)
                self.assertEqual(answer.status_code, 422)
                self.assertIn("cut short or damaged", answer.json()["error"])
        self.assertFalse(PhotoFile.objects.exists())
        for kind in ("JPEG", "PNG", "TIFF"):
            self.assertEqual(self.upload(grain(kind), "true").status_code, 200)

    def test_a_name_of_a_million_letters(self):
        answer = self.upload(jpeg(), "a" * 1_000_000 + ".jpg")
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        self.assertLessEqual(len(PhotoFile.objects.get().name), 200)
        self.send("place", {"files": [answer.json()["file"]]})
        self.assertLess(len(self.fresh().head.data), 2000)


class Damaged(StudioCase):
    def setUp(self):
        super().setUp()
        self.data = jpeg()
        self.file = self.upload(self.data).json()["file"]
        self.send("place", {"files": [self.file]})
        self.photo = PhotoFile.objects.get()

    def at(self, stored: Stored) -> Path:
        return Path(settings.MEDIA_ROOT) / stored.key

    def test_an_original_that_was_cut_short_is_healed_by_bringing_it_in_again(self):
        for k, bad in enumerate((self.data[:300], b"", b"\0" * len(self.data))):
            self.at(self.photo.original).write_bytes(bad)
            answer = self.order(format="jpg", quality=str(80 + k))
            self.assertEqual(answer.status_code, 422)
            self.assertRegex(answer.json()["error"], "cut short|damaged|can be read")
            self.assertEqual(self.upload(self.data).json()["file"], self.file)
            self.assertEqual(self.at(self.photo.original).read_bytes(), self.data)
            self.assertEqual(self.order(format="jpg", quality=str(80 + k)).status_code, 200)

    def test_a_small_copy_that_is_empty_or_cut_short_is_made_anew_when_it_is_looked_at(self):
        whole = self.at(self.photo.preview).read_bytes()
        for bad in (b"", whole[:200], None):
            if bad is None:
                self.at(self.photo.preview).unlink()
            else:
                self.at(self.photo.preview).write_bytes(bad)
            answer = self.client.get(f"/photos/{self.file}/preview")
            self.assertEqual(answer.getvalue(), whole)
            self.assertIn("immutable", answer.headers["Cache-Control"])

    def test_one_that_cannot_be_made_is_not_kept_by_the_browser(self):
        self.at(self.photo.preview).write_bytes(b"")
        self.at(self.photo.original).unlink()
        answer = self.client.get(f"/photos/{self.file}/preview")
        self.assertEqual(answer.status_code, 404)
        self.assertIn("no-store", answer.headers["Cache-Control"])


class TooSmall(StudioCase):
    def files(self) -> list[Path]:
        return [f for f in Path(settings.MEDIA_ROOT).rglob("*") if f.is_file()]

    def stored(self) -> set[str]:
        return {f.name for f in self.files() if not f.name.startswith("queue")}

    def test_a_disk_that_fills_up_while_a_file_is_written(self):
        fill = OSError(errno.ENOSPC, "No space left on device")
        for where in ("os.fsync", "tempfile.mkstemp", "pathlib.Path.mkdir"):
            with self.subTest(where=where), mock.patch(where, side_effect=fill):
                answer = self.upload(jpeg())
            self.assertEqual(answer.status_code, 507)
            self.assertIn("can’t write to its disk", answer.json()["error"])
            self.assertEqual(self.stored(), set())
            self.assertFalse(PhotoFile.objects.exists())
        self.assertEqual(self.upload(jpeg()).status_code, 200)

    def test_a_folder_that_cannot_be_written(self):
        refused = PermissionError(errno.EACCES, "Permission denied")
        with mock.patch("studio.storage.tempfile.mkstemp", side_effect=refused):
            self.assertIn("can’t write to its disk", self.upload(jpeg()).json()["error"])
            page = self.client.post(
                "/projects/open", {"file": SimpleUploadedFile("a.jpg", jpeg())}, headers={"Accept": "application/json"}
            )
            self.assertEqual(page.json(), {"to": "/"})
            self.assertContains(self.client.get("/"), "can’t write to its disk")

    def test_a_database_that_cannot_be_written(self):
        for words in (
            "database or disk is full",
            "attempt to write a readonly database",
            "unable to open database file",
        ):
            with mock.patch("studio.history.revisions.Revision.objects.create", side_effect=OperationalError(words)):
                answer = self.send("backdrop", {"value": "#fff"})
                self.assertEqual(answer.status_code, 507, words)
                self.assertIn("can’t write to its disk", answer.json()["error"])
                page = self.client.post(
                    "/projects/new", {"size": "a5", "width": "9", "height": "9", "unit": "mm", "resolution": "90"}
                )
                self.assertContains(page, "can’t write to its disk", status_code=507)
        self.assertEqual(self.fresh().head.number, 1)
        self.assertEqual(Project.objects.count(), 1)
        self.assertEqual(self.send("backdrop", {"value": "#fff"}).status_code, 200)

    def test_what_is_another_mistake_is_still_one(self):
        with (
            mock.patch(
                "studio.history.revisions.Revision.objects.create", side_effect=OperationalError("no such table")
            ),
            self.assertRaises(OperationalError),
        ):
            changes.run(self.user, self.project.pk, "", "backdrop", {"value": "#fff"}, 1)
