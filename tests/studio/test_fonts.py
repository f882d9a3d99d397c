"""The person's own fonts: added, listed, removed and put back, and sent with a project only on request."""

import io
import json
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile

from sheet.caching import clear
from sheet.geometry.geometry import box_of
from studio.library import fonts
from studio.models import OwnFile, Project
from studio.operations import retention
from studio.storage import Stored, own_key
from tests.made_font import made_font

from .helpers import StudioCase

FONT = made_font()


class Fonts(StudioCase):
    def setUp(self):
        super().setUp()
        self.addCleanup(clear)

    def bring(self, data: bytes, name="marram.ttf"):
        return self.client.post("/fonts", {"file": SimpleUploadedFile(name, data)})

    def lettering(self) -> str:
        key = self.bring(FONT).json()["key"]
        args = {"text": "AB", "font": key, "size": "100 px", "x": 0, "y": 200}
        return self.send("draw_lettering", args).json()["chosen"][0]

    def box(self, project: Project):
        (word,) = project.head.sheet.items
        return tuple(round(v, 6) for v in box_of(word))

    def test_brought_in_used_removed_and_put_back(self):
        word = self.lettering()
        self.assertEqual(self.box(self.fresh()), (10, 130, 95, 200))
        panel = self.ask_panels(station="draw", chosen=[word])
        self.assertIn("Marram Sans · regular", panel["dimensions"])
        self.assertIn("Marram Sans", self.client.get("/account").content.decode())
        # twice is once
        self.bring(FONT)
        row = OwnFile.objects.get()
        self.client.post(f"/own-files/{row.pk}/remove")
        self.assertEqual(fonts.listed(self.user), ())
        # what is set in it stays, and says so
        clear()
        self.assertEqual(self.box(self.fresh()), (10, 130, 95, 200))
        self.assertIn("off your lists", self.ask_panels(station="draw", chosen=[word])["dimensions"])
        retention.clear(0)
        self.assertTrue(Stored(own_key("font", row.digest)).exists())
        self.client.post(f"/own-files/{row.pk}/remove", {"back": "1"})
        self.assertEqual(len(fonts.listed(self.user)), 1)
        # nobody else's
        self.client.force_login(self.other)
        self.assertEqual(self.client.post(f"/own-files/{row.pk}/remove").status_code, 404)
        self.assertEqual(fonts.listed(self.other), ())

    def test_what_is_no_font_is_refused_in_words(self):
        for data, words in ((b"hello" * 300, "isn’t a font"), (FONT[: len(FONT) // 2], "damaged")):
            answer = self.bring(data, "notes.ttf")
            self.assertEqual(answer.status_code, 422)
            self.assertIn(words, answer.json()["error"])
        self.assertEqual(self.client.post("/fonts").status_code, 422)
        self.assertFalse(OwnFile.objects.exists())

    def test_a_closed_account_takes_its_fonts_along_but_not_anothers(self):
        self.bring(FONT)
        file = Stored(own_key("font", OwnFile.objects.get().digest))
        self.client.force_login(self.other)
        self.bring(FONT)
        retention.close(self.user)
        self.assertTrue(file.exists())
        retention.close(self.other)
        self.assertFalse(file.exists())

    def opened_by_another(self, query: str) -> Project:
        data = b"".join(self.client.get(f"/projects/{self.project.pk}/file{query}").streaming_content)
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            sent = [n for n in box.namelist() if n.startswith("fonts/")]
            self.assertEqual(bool(sent), bool(query))
            self.assertEqual(len(json.loads(box.read("manifest.json"))["fonts"]), len(sent))
        self.client.force_login(self.other)
        self.client.post("/projects/open", {"file": SimpleUploadedFile("card.gouge", data)})
        return Project.objects.get(owner=self.other)

    def test_a_projects_file_has_it_only_where_one_says_so(self):
        self.lettering()
        project = self.opened_by_another("?fonts")
        self.assertEqual(self.box(project), (10, 130, 95, 200))
        self.assertEqual(len(fonts.listed(self.other)), 1)

    def test_without_it_another_stands_in_and_its_name_is_told(self):
        self.lettering()
        project = self.opened_by_another("")
        self.assertNotEqual(self.box(project), (10, 130, 95, 200))
        self.assertIn(":Marram Sans", project.head.sheet.items[0].shape.font)
        self.assertEqual(fonts.listed(self.other), ())
        # whoever has the font opens it as it was
        self.client.force_login(self.user)
        data = b"".join(self.client.get(f"/projects/{self.project.pk}/file").streaming_content)
        self.client.post("/projects/open", {"file": SimpleUploadedFile("card.gouge", data)})
        again = Project.objects.filter(owner=self.user).latest("id")
        self.assertEqual(self.box(again), (10, 130, 95, 200))
