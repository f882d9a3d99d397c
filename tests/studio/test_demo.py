"""The demo as shipped, against the commands that make it; loading it beside other projects."""

import hashlib
import io

from django.contrib.auth import get_user_model
from PIL import Image

from sheet import dump
from studio.demo.batch import take_batch_photos
from studio.demo.load import load_demo
from studio.demo.make import make_demo
from studio.history.stored import sheet_of
from studio.library import shelf
from studio.library.examples import EXAMPLES
from studio.models import Batch, PhotoFile, Project, Revision
from studio.operations.retention import remove_project

from .helpers import StudioCase


def _silent(words: str) -> None:
    pass


class Demo(StudioCase):
    def test_it_is_what_its_commands_make(self):
        load_demo(_silent)
        owner = get_user_model().objects.get(username="demo")
        make_demo(self.user, only=("luggage_tag", "booklet_cover"))
        for name in ("Luggage tag", "Booklet cover"):
            ready = Project.objects.select_related("head").get(owner=owner, name=name)
            made = Project.objects.select_related("head").get(owner=self.user, name=name)
            self.assertEqual(dump(ready.head.sheet), dump(made.head.sheet))
            words = [list(p.revisions.order_by("number").values_list("label", flat=True)) for p in (ready, made)]
            self.assertEqual(words[0], words[1])
        for one, other in zip(
            shelf.items_of(owner).order_by("pk"), shelf.items_of(self.user).order_by("pk"), strict=True
        ):
            self.assertEqual((one.name, one.tags), (other.name, other.tags))
        facts = ("name", "sha256", "format", "width", "height", "shown", "interest")
        ready, made = (list(PhotoFile.objects.filter(owner=o).values(*facts)) for o in (owner, self.user))
        self.assertEqual([p for p in ready if not p["name"].startswith("coast")], made)

    def test_small_copies_are_those_that_bringing_in_makes(self):
        load_demo(_silent)
        take_batch_photos(self.user)
        for photo in PhotoFile.objects.filter(owner=self.user):
            self.assertTrue(PhotoFile.objects.filter(owner__username="demo", sha256=photo.sha256).exists())
            self.assertTrue(photo.preview.is_whole() and photo.original.exists())

    def test_every_step_opens_and_what_was_there_stays(self):
        before = dump(self.fresh().head.sheet)
        load_demo(_silent)
        self.assertEqual(dump(self.fresh().head.sheet), before)
        owner = get_user_model().objects.get(username="demo")
        self.assertEqual(Project.objects.filter(owner=owner).count(), 6)
        for revision in Revision.objects.filter(project__owner=owner):
            self.assertGreater(sheet_of(revision).width, 0)
            self.assertEqual(revision.project.owner, owner)
        self.assertEqual(Batch.objects.get(owner=owner).photos.count(), 12)
        made = Project.objects.count()
        load_demo(_silent)
        self.assertEqual(Project.objects.count(), made)


class Examples(StudioCase):
    def setUp(self):
        super().setUp()
        remove_project(self.project)

    def test_an_empty_account_is_shown_three_and_opens_copies_of_its_own(self):
        page = self.client.get("/").content.decode()
        for number, name in enumerate(EXAMPLES):
            self.assertIn(f"Open a copy of {name}", page)
            picture = Image.open(io.BytesIO(self.client.get(f"/examples/{number}.png").content))
            self.assertEqual(max(picture.size), 480)
            answer = self.client.post(f"/examples/{number}")
            project = Project.objects.latest("pk")
            self.assertEqual((answer["Location"], project.name), (project.get_absolute_url(), name))
            self.assertEqual(project.owner, self.user)
            self.assertGreater(project.revisions.count(), 5)
            self.assertEqual(self.client.get(answer["Location"]).status_code, 200)
            for use in project.uses.all():
                photo = PhotoFile.objects.get(owner=self.user, sha256=use.sha256)
                self.assertEqual(hashlib.sha256(photo.original.read_bytes()).hexdigest(), photo.sha256)
        self.assertNotIn("Open a copy of", self.client.get("/").content.decode())

    def test_twice_shares_its_photos_and_a_fourth_there_is_not(self):
        for _ in range(2):
            self.client.post("/examples/0")
        self.assertEqual(Project.objects.count(), 2)
        self.assertEqual(self.client.post("/examples/3").status_code, 404)
        self.assertEqual(self.client.get("/examples/3.png").status_code, 404)
        self.client.logout()
        self.assertEqual(self.client.post("/examples/0").status_code, 302)
        self.assertEqual(Project.objects.count(), 2)
