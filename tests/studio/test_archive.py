"""Projects as files: saved, opened elsewhere, the same; hostile, damaged, older and newer ones; photos as projects."""

import io
import json
import zipfile
import zlib
from pathlib import Path

import msgspec
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import connection
from django.test.utils import CaptureQueriesContext
from hypothesis import given
from hypothesis import settings as tries
from hypothesis import strategies as st

from sheet.document import store
from sheet.document.model import SCHEMA
from sheet.document.tree import remembered
from studio.models import PhotoFile, Project
from tests.damage import damaged

from .helpers import StudioCase, jpeg

DOCS = Path(settings.BASE_DIR) / "docs"


class ArchiveCase(StudioCase):
    def setUp(self):
        super().setUp()
        self.frame = self.draw("ellipse", 100, 100, 300, 200)
        self.send("put_in", {"ids": [self.frame, self.place(width=600, height=400)]})

    def kept(self) -> bytes:
        answer = self.client.get(f"/projects/{self.project.pk}/file")
        self.assertEqual(answer.status_code, 200)
        return b"".join(answer.streaming_content)

    def open_(self, data: bytes, name="card.gouge"):
        return self.client.post("/projects/open", {"file": SimpleUploadedFile(name, data)}, follow=True)

    def changed(self, data: bytes, **members) -> bytes:
        """Return a saved file with members replaced; None removes one."""
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
            for name in old.namelist():
                if members.get(name, b"") is not None:
                    new.writestr(name, members.pop(name, None) or old.read(name))
            for name, value in members.items():
                if value is not None:
                    new.writestr(name, value)
        return out.getvalue()


class Saved(ArchiveCase):
    def test_opened_by_another_person_it_is_the_same(self):
        data, before = self.kept(), self.fresh().head.sheet
        self.client.force_login(self.other)
        page = self.open_(data)
        project = Project.objects.get(owner=self.other)
        self.assertEqual(page.redirect_chain[-1][0], f"/p/{project.pk}/")
        self.assertEqual((project.name, project.head.sheet), ("Card", before))
        photo = PhotoFile.objects.get(owner=self.other)
        self.assertEqual(photo.name, "sea.jpg")
        self.assertTrue(photo.original.exists())
        # and it goes out as it did
        answer = self.order(project, what=self.frame)
        self.assertEqual(answer.status_code, 200)

    def test_its_members_are_those_of_the_description(self):
        with zipfile.ZipFile(io.BytesIO(self.kept())) as box:
            names = set(box.namelist())
            file = PhotoFile.objects.get()
            self.assertEqual(
                names, {"manifest.json", "sheet.json", "sheet.svg", "picture.png", f"photos/{file.sha256}"}
            )
            self.assertEqual(box.read(f"photos/{file.sha256}"), file.original.read_bytes())
            manifest = json.loads(box.read("manifest.json"))
            self.assertEqual((manifest["gouge"], manifest["schema"], manifest["name"]), (1, SCHEMA, "Card"))
        described = (DOCS / "file.md").read_text()
        for name in ("manifest.json", "sheet.json", "sheet.svg", "picture.png", "photos/"):
            self.assertIn(f"`{name}", described)

    def test_the_schema_in_the_docs_is_that_of_the_code(self):
        schema = json.loads((DOCS / "sheet.schema.json").read_text())
        self.assertEqual(schema["$schema"], "https://json-schema.org/draft/2020-12/schema")
        self.assertEqual(schema, json.loads(msgspec.json.encode(store.schema())))

    def test_panes_and_silhouettes_keep_their_photos(self):
        (photo,) = [p.sha256 for p in PhotoFile.objects.all()]
        self.send("split", {"ids": [self.frame], "columns": "2", "rows": "1"})
        file = self.upload(jpeg(300, 300, (10, 10, 10)), "dark.jpg").json()["file"]
        dark = self.send("place", {"files": [file]}).json()["chosen"][0]
        made = self.send("silhouette", {"id": dark, "way": "subject", "loop": [[0, 0], [1, 0], [1, 1]]})
        self.assertEqual(made.status_code, 422)
        data = self.kept()
        with zipfile.ZipFile(io.BytesIO(data)) as box:
            self.assertEqual({n[7:] for n in box.namelist() if n.startswith("photos/")}, {photo, file})

    def test_all_projects_at_once_and_what_could_not_be_kept(self):
        self.client.post(f"/projects/{self.project.pk}/duplicate")
        answer = self.client.get("/projects/all")
        with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as box:
            self.assertEqual(len(box.namelist()), 2)
            for name in box.namelist():
                self.assertTrue(zipfile.is_zipfile(io.BytesIO(box.read(name))))
        PhotoFile.objects.get().original.unlink()
        answer = self.client.get("/projects/all")
        with zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as box:
            self.assertIn("The file of “sea.jpg” is missing", box.read("not-kept.txt").decode())
        page = self.client.get(f"/projects/{self.project.pk}/file", follow=True)
        self.assertContains(page, "sea.jpg")

    def test_ids_that_would_be_given_out_again_are_not(self):
        data = self.kept()
        sheet = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("sheet.json"))
        self.open_(self.changed(data, **{"sheet.json": json.dumps({**sheet, "next_id": 1})}))
        opened = Project.objects.latest("pk").head.sheet
        self.assertEqual(opened.next_id, 1 + max(int(i[1:]) for i in remembered(opened)))

    def test_older_schemas_open(self):
        for number in (1, 2, 3, 4):
            stored = (Path(__file__).parents[1] / "sheet" / "stored" / f"schema-{number}.sheet").read_bytes()

            text = zlib.decompress(stored)
            # the stored sheets name photos that are not here: an empty sheet of that schema is
            document = {**json.loads(text), "items": []}
            manifest = json.dumps({"gouge": 1, "schema": number, "name": f"Old {number}", "photos": {}})
            data = self.changed(self.kept(), **{"sheet.json": json.dumps(document), "manifest.json": manifest})
            self.open_(data)
            self.assertEqual(Project.objects.get(name=f"Old {number}").head.sheet.schema, SCHEMA)


class Refused(ArchiveCase):
    def test_damaged_hostile_newer_and_foreign_ones_make_nothing(self):
        data = self.kept()
        file = f"photos/{PhotoFile.objects.get().sha256}"
        sheet = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("sheet.json"))
        narrow = json.loads(json.dumps(sheet))
        narrow["items"][0]["photos"][0]["width"] = 5
        twice = {**sheet, "items": sheet["items"] * 2}
        laid = json.dumps({"gouge": 2, "schema": SCHEMA, "name": "Morgen"})
        newer = json.dumps({"gouge": 1, "schema": SCHEMA + 1, "name": "Morgen"})
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as box:
            box.writestr("manifest.json", b" " * 50_000_000)
        before = Project.objects.count()
        for name, changed, words in (
            ("cut short", data[: len(data) // 2], ""),
            ("a path outside", self.changed(data, **{"../../etc/cron.d/x": b"x"}), "outside of its folder"),
            ("newer", self.changed(data, **{"manifest.json": newer}), "“Morgen” was saved by a newer Gouge"),
            ("no sheet", self.changed(data, **{"sheet.json": None}), "no sheet.json"),
            ("no manifest", self.changed(data, **{"manifest.json": None}), "no manifest.json"),
            ("no photo", self.changed(data, **{file: None}), "“sea.jpg” is missing in that file"),
            ("another photo", self.changed(data, **{file: jpeg(10, 10)}), "“sea.jpg” in that file is damaged"),
            ("broken sheet", self.changed(data, **{"sheet.json": b'{"width": NaN}'}), "in that file can’t be read"),
            (
                "two of one id",
                self.changed(data, **{"sheet.json": json.dumps(twice)}),
                "Two things in that file have the id",
            ),
            ("a newer layout", self.changed(data, **{"manifest.json": laid}), "newer Gouge (layout 2)"),
            ("forged size", self.changed(data, **{"sheet.json": json.dumps(narrow)}), "is not the photo that belongs"),
            ("a bomb", bomb.getvalue(), "manifest.json in that file is too large"),
            ("any zip", self.changed(data, **{"manifest.json": b"[]"}), "manifest cannot be read"),
            ("no zip", b"GIF89a nothing", "damaged, or not a project file"),
        ):
            with self.subTest(name):
                page = self.open_(changed)
                self.assertContains(page, "was not opened")
                self.assertContains(page, words)
                self.assertEqual(Project.objects.count(), before)
        self.assertContains(self.client.post("/projects/open", follow=True), "No file came with that")

    def test_in_any_state_of_damage_it_is_opened_or_refused_in_words(self):
        data = self.kept()
        sheet = zipfile.ZipFile(io.BytesIO(data)).read("sheet.json")

        @tries(max_examples=40, deadline=None, database=None)
        @given(st.one_of(damaged(data), damaged(sheet).map(lambda text: self.changed(data, **{"sheet.json": text}))))
        def opened(changed):
            page = self.open_(changed)
            self.assertEqual(page.status_code, 200)
            if "was not opened" not in page.content.decode():
                project = Project.objects.select_related("head").latest("pk")
                self.assertGreater(project.head.sheet.width, 0)
                self.assertEqual(self.client.get(f"/p/{project.pk}/").status_code, 200)

        opened()

    def test_only_ones_own(self):
        self.client.force_login(self.other)
        self.assertEqual(self.client.get(f"/projects/{self.project.pk}/file").status_code, 404)
        self.client.logout()
        for path in (f"/projects/{self.project.pk}/file", "/projects/all"):
            self.assertEqual(self.client.get(path).status_code, 302)


class Photos(StudioCase):
    def test_a_photo_becomes_a_project_with_a_sheet_of_its_size(self):
        data = jpeg(640, 480, dpi=(240, 240))
        page = self.client.post("/projects/open", {"file": SimpleUploadedFile("dusk sea.jpg", data)}, follow=True)
        project = Project.objects.get(name="dusk sea")
        self.assertEqual(page.redirect_chain[-1][0], f"/p/{project.pk}/")
        sheet = project.head.sheet
        self.assertEqual((sheet.width, sheet.height, sheet.resolution), (640, 480, 240))
        (photo,) = sheet.items
        self.assertEqual(photo.matrix, (1, 0, 0, 1, 0, 0))


class FromAShell(ArchiveCase):
    """`gouge export`: a project's file as pictures, without a database."""

    def export(self, *words: str) -> list[Path]:
        file, out = Path(self._folder.name) / "card.gouge", Path(self._folder.name) / "out"
        file.write_bytes(self.kept())
        with CaptureQueriesContext(connection) as asked:
            call_command("export", str(file), "--out", str(out), *words, stdout=io.StringIO())
        self.assertEqual(len(asked), 0)
        return sorted(out.iterdir())

    def test_the_file_is_the_one_that_the_page_gives(self):
        (made,) = self.export("--format", "png", "--size", "150", "--extent", "whole")
        self.assertEqual(made.name, "card.png")
        order = {"what": "sheet", "format": "png", "size": "150", "extent": "whole"}
        self.assertEqual(made.read_bytes(), b"".join(self.order(**order).streaming_content))

    def test_each_frame_by_itself(self):
        self.send("put_in", {"ids": [self.draw("rectangle", 500, 100, 200, 200), self.place(width=300, height=300)]})
        made = self.export("--each", "--format", "jpg")
        self.assertEqual(len(made), 2)
        self.assertTrue(all(file.suffix == ".jpg" for file in made))

    def test_what_cannot_be_done_is_told(self):
        with self.assertRaisesRegex(CommandError, "nowhere.gouge"):
            call_command("export", "nowhere.gouge")
        junk = Path(self._folder.name) / "junk.gouge"
        junk.write_bytes(b"junk")
        with self.assertRaisesRegex(CommandError, "not a project file"):
            call_command("export", str(junk))
        with self.assertRaisesRegex(CommandError, "none” is not a number"):
            self.export("--size", "none")
