"""What is deleted for good, and nothing else."""

import io
import os
import tempfile
import time
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.test import override_settings
from django.utils import timezone

from studio.history import changes
from studio.models import PhotoFile, Project, Revision
from studio.operations.retention import clear, thin
from studio.storage import FOLDERS, Stored, keys_in

from .helpers import StudioCase, jpeg


class Cleared(StudioCase):
    def files(self) -> set[str]:
        """Return what lies in the storage."""
        return {key for folder in FOLDERS for key in keys_in(folder)}

    def long_ago(self) -> None:
        """Let everything have been there for two months."""
        then = timezone.now() - timedelta(days=60)
        PhotoFile.objects.update(created=then)
        for file in Path(settings.MEDIA_ROOT).rglob("*"):
            os.utime(file, (then.timestamp(), then.timestamp()))

    def test_deleted_projects_stay_thirty_days_and_are_listed(self):
        self.place()
        self.order(format="png")
        self.client.post(f"/projects/{self.project.pk}/delete")
        self.assertContains(self.client.get("/"), "kept for 30 more days")
        clear()
        self.client.post(f"/projects/{self.project.pk}/restore")
        self.assertEqual(self.client.get(f"/p/{self.project.pk}/").status_code, 200)
        Project.objects.update(deleted=timezone.now() - timedelta(days=31))
        self.long_ago()
        told = clear()
        self.assertEqual((told["projects"], told["photos"]), (1, 1))
        self.assertFalse(Project.objects.exists() or Revision.objects.exists() or PhotoFile.objects.exists())
        self.assertEqual(self.files(), set())

    def test_photos_of_any_step_stay(self):
        kept = self.place()
        self.send("remove", {"ids": [kept]})
        unused = self.upload(jpeg(color=(9, 9, 9))).json()["file"]
        self.long_ago()
        self.assertEqual(clear()["photos"], 1)
        self.assertFalse(Stored(f"photos/{unused[:2]}/{unused}").exists())
        self.send("undo")
        self.assertEqual(self.order(format="png").status_code, 200)

    def test_a_file_that_somebody_else_has_stays(self):
        data = jpeg()
        file = self.upload(data).json()["file"]
        self.client.force_login(self.other)
        self.project = changes.start(self.other, "Theirs", self.fresh().head.sheet)
        theirs = self.upload(data).json()["file"]
        self.send("place", {"files": [theirs]})
        self.long_ago()
        clear()
        self.assertEqual(list(PhotoFile.objects.values_list("owner", flat=True)), [self.other.pk])
        self.assertTrue(Stored(f"photos/{file[:2]}/{file}").exists())

    def test_left_over_files_go_and_new_ones_stay(self):
        self.place()
        Stored("photos/ab/tmpdraft").write(b"half of one")
        Stored("drawings/1/old").write(b"<svg/>")
        self.order(format="png")
        self.long_ago()
        Stored("photos/ab/another").write(b"on its way")
        exported = {f for f in self.files() if f.startswith("deliveries/")}
        said = io.StringIO()
        call_command("clear", stdout=said)
        self.assertEqual(said.getvalue(), "cleared 3 files\n")
        left = self.files()
        self.assertIn("photos/ab/another", left)
        self.assertFalse(left & {"photos/ab/tmpdraft", "drawings/1/old"})
        self.assertEqual({f for f in left if f.startswith("deliveries/")}, exported)
        self.assertTrue(exported)
        self.assertEqual(self.order(format="png").status_code, 200)

    def test_uploads_that_were_not_finished_go_after_a_day(self):
        with tempfile.TemporaryDirectory() as name, override_settings(DATA_DIR=Path(name)):
            folder = Path(name) / "uploads"
            folder.mkdir()
            old, new = folder / "a.upload", folder / "b.upload"
            for file, hours in ((old, 25), (new, 2)):
                file.write_bytes(b"half")
                then = time.time() - 3600 * hours
                os.utime(file, (then, then))
            self.assertEqual(clear()["files"], 1)
            self.assertEqual([old.exists(), new.exists()], [False, True])


class Thinned(StudioCase):
    def test_the_last_of_each_session_and_what_was_named_stay(self):
        for k in range(12):
            self.draw(x=10 * k)
        self.send("undo")
        self.draw(x=700)
        sheets = {r.number: r.sheet for r in Revision.objects.filter(project=self.project)}
        for one in Revision.objects.filter(project=self.project, number__lte=9):
            Revision.objects.filter(pk=one.pk).update(made=one.made - timedelta(days=90 if one.number < 6 else 80))
        Revision.objects.filter(project=self.project, number=8).update(name="This one")
        with override_settings(GOUGE_THIN=30):
            self.assertEqual(clear()["steps"], 5)
        left = {r.number: r.sheet for r in Revision.objects.filter(project=self.project)}
        self.assertEqual(sorted(left), [1, 5, 8, 9, 10, 11, 12, 13, 14])
        for number, sheet in left.items():
            self.assertEqual(sheet, sheets[number], number)
        for _ in range(7):
            self.send("undo")
        self.assertEqual(self.fresh().head.number, 1)

    def test_it_is_off_at_first(self):
        self.draw()
        Revision.objects.update(made=timezone.now() - timedelta(days=900))
        self.assertEqual(clear()["steps"], 0)
        self.assertEqual(Revision.objects.count(), 2)
        self.assertEqual(thin(self.fresh(), timezone.now()), 0)


class Closed(StudioCase):
    def test_an_account_goes_with_all_that_is_in_it(self):
        self.place()
        self.order(format="png")
        kept = jpeg(color=(1, 2, 3))
        self.upload(kept)
        self.client.force_login(self.other)
        theirs = changes.start(self.other, "Theirs", self.fresh().head.sheet)
        shared = self.client.post(f"/p/{theirs.pk}/photos", {"photo": io.BytesIO(kept)})
        self.assertEqual(shared.status_code, 200)
        self.client.force_login(self.user)
        page = self.client.get("/account")
        self.assertContains(page, "1 project, 2 photos")
        wrong = self.client.post("/account/close", {"password": "not it"})
        self.assertContains(wrong, "Wrong password", status_code=422)
        self.assertTrue(Project.objects.filter(owner=self.user).exists())
        gone = self.client.post("/account/close", {"password": "a-long-enough-word"}, follow=True)
        self.assertContains(gone, "is closed")
        self.assertFalse(get_user_model().objects.filter(username="ada").exists())
        files = [f.name for f in Path(settings.MEDIA_ROOT).rglob("*") if f.is_file() and "queue" not in f.name]
        file = shared.json()["file"]
        self.assertEqual(set(files), {file})
        self.assertTrue(Project.objects.filter(pk=theirs.pk).exists())
