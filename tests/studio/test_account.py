"""Signing up, in and out; and nobody sees another's things."""

from django.contrib.auth import get_user_model
from django.test import TestCase, override_settings

from sheet import new_sheet
from studio import history

from .helpers import StudioCase, jpeg


class Account(TestCase):
    def test_sign_up_out_in_and_change_password(self):
        word = "marram-grass-27"
        answer = self.client.post("/sign-up", {"username": "cora", "password1": word, "password2": word}, follow=True)
        self.assertContains(answer, "Projects")
        self.client.post("/sign-out")
        self.assertRedirects(self.client.get("/"), "/sign-in?next=/")
        self.assertContains(self.client.post("/sign-in", {"username": "cora", "password": "wrong"}), "correct")
        answer = self.client.post("/sign-in", {"username": "cora", "password": word}, follow=True)
        self.assertContains(answer, "cora")
        new = "lamp-room-lens-9"
        fields = {"old_password": word, "new_password1": new, "new_password2": new}
        self.assertContains(self.client.post("/password", fields, follow=True), "password is changed")
        self.client.post("/sign-out")
        self.assertTrue(self.client.login(username="cora", password=new))

    def test_a_weak_password_is_refused_at_its_field(self):
        answer = self.client.post("/sign-up", {"username": "cora", "password1": "abc", "password2": "abc"})
        self.assertContains(answer, "too short")
        self.assertFalse(get_user_model().objects.filter(username="cora").exists())

    def test_the_demo_door_is_shut_unless_the_demo_runs(self):
        get_user_model().objects.create_user("demo")
        self.assertEqual(self.client.post("/demo-door").status_code, 404)
        with override_settings(GOUGE_DEMO=True):
            self.assertRedirects(self.client.post("/demo-door"), "/")


class Privacy(StudioCase):
    def test_another_persons_addresses_answer_404(self):
        photo = self.upload(jpeg()).json()
        gets = [f"/p/{self.project.pk}/", f"/p/{self.project.pk}/snaps", f"/p/{self.project.pk}/deliveries"]
        gets += [f"/projects/{self.project.pk}/picture.png", f"/photos/{photo['file']}/preview"]
        for url in gets:
            self.assertNotEqual(self.client.get(url).status_code, 404, url)
        self.client.force_login(self.other)
        for url in gets:
            with self.subTest(url=url):
                self.assertEqual(self.client.get(url).status_code, 404)
        for what in ("panels", "deliver", "estimate"):
            url = f"/p/{self.project.pk}/{what}"
            self.assertEqual(self.client.post(url, "{}", content_type="application/json").status_code, 404)
        for deed in ("rename", "duplicate", "delete", "restore"):
            self.assertEqual(self.client.post(f"/projects/{self.project.pk}/{deed}").status_code, 404)
        self.assertEqual(self.send("backdrop", {"value": "#fff"}).status_code, 404)
        self.assertEqual(self.fresh().head.number, 1)

    def test_another_persons_photo_cannot_be_placed(self):
        photo = self.upload(jpeg()).json()
        self.client.force_login(self.other)
        self.project = history.start(self.other, "Theirs", new_sheet(100, 100))
        answer = self.send("place", {"files": [photo["file"]]})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("not here", answer.json()["error"])

    def test_every_answer_has_a_strict_policy(self):
        policy = self.client.get(f"/p/{self.project.pk}/").headers["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe", policy)
