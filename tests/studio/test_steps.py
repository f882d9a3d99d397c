"""The history, seen: sessions, going back, names, projects made of steps."""

import io
from datetime import timedelta

from PIL import Image

from studio.models import Project, Revision

from .helpers import StudioCase


class Steps(StudioCase):
    def setUp(self):
        super().setUp()
        self.ids = [self.draw(x=100 * k) for k in range(4)]
        self.at = f"/p/{self.project.pk}/steps"

    def earlier(self, number: int, hours: float) -> None:
        """Let a step, and those before it, have been made some hours ago."""
        for one in Revision.objects.filter(project=self.project, number__lte=number):
            Revision.objects.filter(pk=one.pk).update(made=one.made - timedelta(hours=hours))

    def test_they_are_gathered_by_session(self):
        self.earlier(3, 5)
        page = self.client.get(self.at)
        self.assertContains(page, "5 steps in 2 sessions")
        self.assertEqual(page.content.count(b'class="step"'), 2)
        earlier = self.client.get(f"{self.at}/3/session").content.decode()
        self.assertEqual(earlier.count('class="step"'), 3)
        self.assertIn("draw Rectangle 2", earlier)
        self.assertEqual(self.client.get(f"{self.at}/2/session").status_code, 404)

    def test_a_long_session_comes_in_parts(self):
        for k in range(70):
            self.send("backdrop", {"value": f"#ffff{k:02x}"})
        page = self.client.get(self.at).content.decode()
        self.assertEqual(page.count('class="step"'), 60)
        self.assertIn("Show the 15 before these", page)
        rest = self.client.get(f"{self.at}/75/session?below=16").content.decode()
        self.assertEqual(rest.count('class="step"'), 15)

    def test_a_small_picture_of_each(self):
        for number, colour in ((1, (255, 255, 255)), (5, None)):
            answer = self.client.get(f"{self.at}/{number}/picture.png?small")
            self.assertEqual(answer.headers["Content-Type"], "image/png")
            picture = Image.open(io.BytesIO(answer.content)).convert("RGB")
            self.assertEqual(max(picture.size), 240)
            colours = picture.getcolors()
            self.assertEqual(len(colours) == 1, colour is not None)

    def test_going_back_keeps_what_came_after(self):
        then = Revision.objects.get(project=self.project, number=3).sheet
        self.assertRedirects(self.client.post(f"{self.at}/3/back"), f"/p/{self.project.pk}/")
        now = self.fresh()
        self.assertEqual((now.head.number, now.head.label), (6, "back to step 3"))
        self.assertEqual(now.head.sheet, then)
        self.send("undo")
        self.assertEqual(len(self.fresh().head.sheet.items), 4)
        page = self.client.get(self.at).content.decode()
        self.assertIn("undone", page)

    def test_a_step_is_named_and_found_by_its_name(self):
        self.assertEqual(self.client.post(f"{self.at}/3/name", {"name": " Two\x07 panes "}).json()["name"], "Two panes")
        self.assertContains(self.client.get(self.at), "Two panes")
        self.client.post(f"{self.at}/3/back")
        self.assertEqual(self.fresh().head.label, "back to “Two panes”")
        self.assertEqual(self.client.post(f"{self.at}/3/name", {"name": "\x07"}).status_code, 422)
        self.client.post(f"{self.at}/3/name", {"name": ""})
        self.assertEqual(Revision.objects.get(project=self.project, number=3).name, "")

    def test_a_project_is_made_of_one(self):
        answer = self.client.post(f"{self.at}/3/branch")
        made = Project.objects.get(name="Card · step 3")
        self.assertRedirects(answer, f"/p/{made.pk}/")
        self.assertEqual([i.id for i in made.head.sheet.items], self.ids[:2])

    def test_they_are_ones_own(self):
        self.client.force_login(self.other)
        for url in (self.at, f"{self.at}/5/session", f"{self.at}/3/picture.png"):
            self.assertEqual(self.client.get(url).status_code, 404)
        for url in (f"{self.at}/3/back", f"{self.at}/3/name", f"{self.at}/3/branch"):
            self.assertEqual(self.client.post(url, {"name": "x"}).status_code, 404)
        self.assertEqual(self.fresh().head.number, 5)

    def test_back_from_a_head_that_cannot_be_read(self):
        Revision.objects.filter(project=self.project, number=5).update(data=b"rust", step=None)
        self.client.post(f"{self.at}/4/back")
        self.assertEqual(len(self.fresh().head.sheet.items), 3)
