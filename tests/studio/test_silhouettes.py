"""Silhouettes through the app: traced from the person's own file, previewed from its small copy."""

import io
import json

import numpy as np
from PIL import Image

from sheet.document.tree import find
from sheet.geometry.geometry import outline_of
from studio.models import PhotoFile

from .helpers import StudioCase


def disc(width=600, height=400, radius=120) -> bytes:
    """Return a PNG of a black disc in the middle of a white picture."""
    y, x = np.mgrid[0:height, 0:width] + 0.5
    cover = np.clip(radius + 0.5 - np.hypot(x - width / 2, y - height / 2), 0, 1)
    out = io.BytesIO()
    Image.fromarray((255 * (1 - cover) + 0.5).astype(np.uint8)).convert("RGB").save(out, "PNG")
    return out.getvalue()


class Silhouettes(StudioCase):
    def setUp(self):
        super().setUp()
        file = self.upload(disc(), "disc.png").json()["file"]
        self.photo = self.send("place", {"files": [file]}).json()["chosen"][0]

    def preview(self, client=None, revision=None, **args):
        body = {"revision": revision or self.fresh().head.number, "args": {"id": self.photo, **args}}
        url = f"/p/{self.project.pk}/silhouette"
        return (client or self.client).post(url, json.dumps(body), content_type="application/json")

    def test_traced_from_the_file_and_kept(self):
        answer = self.send("silhouette", {"id": self.photo})
        self.assertEqual(answer.status_code, 200, answer.content)
        made = find(self.fresh().head.sheet, answer.json()["chosen"][0])
        self.assertAlmostEqual(outline_of(made).area / (np.pi * 120**2), 1, delta=0.005)
        self.assertIn("Silhouette 1", json.dumps(answer.json()["panels"]))
        self.assertEqual(answer.json()["offer"][0], "Put the photo in")

    def test_preview_says_about_the_same_and_stores_nothing(self):
        before = self.fresh().made
        answer = self.preview().json()
        self.assertAlmostEqual(answer["share"], 100 * np.pi * 120**2 / (600 * 400), delta=0.2)
        self.assertTrue(answer["d"].startswith("M"))
        self.assertEqual(self.fresh().made, before)

    def test_what_cannot_be_is_said_with_the_field_by_both_doors(self):
        for args, field in (
            ({"level": "0"}, "level"),
            ({"level": "grey"}, "level"),
            ({"way": "tone"}, "at"),
            ({"way": "subject", "loop": []}, "loop"),
        ):
            with self.subTest(**args):
                for answer in (self.preview(**args), self.send("silhouette", {"id": self.photo, **args})):
                    self.assertEqual(answer.status_code, 422)
                    self.assertEqual(answer.json()["field"], field)
                    self.assertTrue(answer.json()["remedy"])

    def test_a_file_that_is_gone(self):
        file = PhotoFile.objects.get()
        file.original.unlink()
        answer = self.send("silhouette", {"id": self.photo})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("missing", answer.json()["error"])
        self.assertEqual(answer.json()["remedy"], "Bring the photo in again.")
        self.assertEqual(len(self.fresh().head.sheet.items), 1)

    def test_nobody_elses_and_nothing_else(self):
        self.client.force_login(self.other)
        self.assertEqual(self.preview().status_code, 404)
        self.client.force_login(self.user)
        self.assertEqual(self.preview(revision=99).status_code, 409)
        for body in ("", "[]", '{"revision": "x"}', '{"revision": 1, "args": []}'):
            url = f"/p/{self.project.pk}/silhouette"
            self.assertEqual(self.client.post(url, body, content_type="application/json").status_code, 400)

    def test_settings_are_shown_for_a_photo_a_frame_and_a_silhouette(self):
        piece = self.send("silhouette", {"id": self.photo, "level": "30", "grow": "12"}).json()["chosen"][0]
        for item, words in ((self.photo, "Trace a silhouette"), (piece, "Change the silhouette")):
            drawer = self.ask_panels(station="fit", chosen=[item])["drawer"]
            self.assertIn(words, drawer)
        self.assertIn('id="sil-level"', drawer)
        self.assertRegex(drawer, r'id="sil-level"\s+value="30"')
        self.assertRegex(drawer, r'id="sil-grow"\s+value="12"')
        rectangle = self.draw()
        self.assertNotIn("silhouette", self.ask_panels(station="fit", chosen=[rectangle])["drawer"])
