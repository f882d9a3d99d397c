"""The address that tells whether the app answers, and the word on the engine."""

from unittest import mock

from django.db import DatabaseError
from django.test import Client

from .helpers import StudioCase


class Health(StudioCase):
    def test_anybody_may_ask(self):
        answer = Client().get("/health")
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(answer.json()["ok"], True)
        self.assertIn(answer.json()["engine"], ("compiled", "interpreted"))
        self.assertEqual(Client().post("/health").status_code, 405)

    def test_a_database_that_does_not_answer_is_told(self):
        with mock.patch("studio.operations.health.connection.cursor", side_effect=DatabaseError):
            answer = Client().get("/health")
        self.assertEqual((answer.status_code, answer.json()["ok"]), (503, False))

    def test_pages_say_how_far_the_engine_is_while_it_is_compiled(self):
        for at in ("/", f"/p/{self.project.pk}/"):
            self.assertNotContains(self.client.get(at), "warming up")
            with mock.patch("studio.templatetags.studio_tags.percent_warm", return_value=40):
                self.assertContains(self.client.get(at), "The engine is warming up: <span>40</span> %")
