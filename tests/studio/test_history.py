"""Commands, conflicts, repeats, undo and redo."""

from studio.history import changes
from studio.models import Revision

from .helpers import StudioCase


class History(StudioCase):
    def test_a_command_makes_a_revision_and_answers_what_changed(self):
        first = self.draw()
        answer = self.send("draw", {"kind": "ellipse", "x": 5, "y": 5, "width": 9, "height": 9}).json()
        self.assertEqual(answer["revision"], 3)
        self.assertEqual(answer["undo"], "draw Ellipse 1")
        self.assertEqual(list(answer["swap"]), answer["chosen"])
        self.assertEqual(answer["order"], [first, *answer["chosen"]])
        self.assertIn("Ellipse 1", answer["panels"]["stack"])

    def test_a_stale_revision_gets_the_current_sheet_and_a_notice(self):
        self.draw()
        answer = self.send("backdrop", {"value": "#fff"}, revision=1)
        self.assertEqual(answer.status_code, 409)
        self.assertIn("another window", answer.json()["notice"])
        self.assertEqual(answer.json()["revision"], 2)
        self.assertEqual(len(answer.json()["swap"]), 1)
        self.assertIsNone(self.fresh().head.sheet.backdrop)

    def test_a_repeated_command_changes_nothing(self):
        for _ in range(2):
            answer = self.send("backdrop", {"value": "#fff"}, revision=1, command_id="same")
            self.assertEqual((answer.status_code, answer.json()["revision"]), (200, 2))
        self.draw()
        self.send("undo", revision=3, command_id="back")
        again = self.send("undo", revision=3, command_id="back")
        self.assertEqual((again.status_code, self.fresh().head.number), (200, 2))

    def meanwhile(self, action):
        """Let another window do something while the next command runs."""
        work = changes._worked_out

        def interrupted(*args):
            changes._worked_out = work
            action()
            return work(*args)

        changes._worked_out = interrupted
        self.addCleanup(setattr, changes, "_worked_out", work)

    def test_what_others_did_and_undid_meanwhile_does_not_matter(self):
        def done_and_undone():
            self.draw()
            self.send("undo")

        self.meanwhile(done_and_undone)
        answer = self.send("backdrop", {"value": "#fff"}, revision=1)
        self.assertEqual((answer.status_code, answer.json()["revision"]), (200, 3))
        self.assertEqual(self.fresh().head.sheet.backdrop, "#ffffff")

    def test_what_others_did_meanwhile_is_not_overwritten(self):
        self.meanwhile(self.draw)
        answer = self.send("backdrop", {"value": "#fff"}, revision=1)
        self.assertEqual((answer.status_code, answer.json()["revision"]), (409, 2))
        self.assertEqual(Revision.objects.filter(project=self.project).count(), 2)

    def test_a_command_stopped_or_a_project_deleted_meanwhile_stores_nothing(self):
        self.meanwhile(lambda: self.send("stop", {"id": "slow"}))
        answer = self.send("backdrop", {"value": "#fff"}, revision=1, command_id="slow")
        self.assertEqual((answer.status_code, answer.json()["revision"]), (200, 1))
        self.meanwhile(lambda: self.client.post(f"/projects/{self.project.pk}/delete"))
        self.assertEqual(self.send("backdrop", {"value": "#000"}, revision=1).status_code, 404)
        self.assertEqual(Revision.objects.filter(project=self.project).count(), 1)

    def test_undo_and_redo_without_end(self):
        made = [self.draw(x=k) for k in range(5)]
        for k in range(5, 0, -1):
            answer = self.send("undo").json()
            self.assertEqual(answer["order"], made[: k - 1])
        self.assertEqual(self.send("undo").status_code, 422)
        self.assertEqual(answer["redo"], "draw Rectangle 1")
        for k in range(1, 6):
            self.assertEqual(self.send("redo").json()["order"], made[:k])
        self.assertEqual(self.send("redo").status_code, 422)
        # they move the head among stored revisions, so a reload keeps them
        self.assertEqual(Revision.objects.filter(project=self.project).count(), 6)

    def test_a_new_command_after_undo_is_what_redo_then_knows(self):
        self.draw()
        self.send("undo")
        self.draw("ellipse")
        self.assertEqual(self.send("redo").status_code, 422)
        self.send("undo")
        self.assertIn("Ellipse 1", self.send("redo").json()["panels"]["stack"])

    def test_what_is_no_command_is_refused_without_a_traceback(self):
        url = f"/p/{self.project.pk}/command"
        bodies = (
            "",
            "[]",
            "{}",
            '{"name": 3}',
            "\x00",
            '{"name":"draw","args":[],"revision":1}',
            '{"name":"x"}',
        )
        for body in bodies:
            with self.subTest(body=body):
                self.assertEqual(self.client.post(url, body, content_type="application/json").status_code, 400)
        for name, args in (("nope", {}), ("draw", {"kind": 1}), ("combine", {"ids": ["i9"], "operation": "union"})):
            answer = self.send(name, args)
            self.assertEqual(answer.status_code, 422)
            self.assertTrue(answer.json()["error"])
        self.assertEqual(self.fresh().head.number, 1)

    def test_commands_need_the_csrf_token(self):
        from django.test import Client

        client = Client(enforce_csrf_checks=True)
        client.force_login(self.user)
        self.assertEqual(self.send("backdrop", {"value": "#fff"}, client=client).status_code, 403)


class Panels(StudioCase):
    def panel(self, station, *chosen):
        return self.ask_panels(station=station, chosen=list(chosen))

    def test_the_cut_station_names_base_and_cutters(self):
        a, b = self.draw(), self.draw("ellipse", 50, 50)
        html = self.panel("cut", b, a)["drawer"]
        self.assertIn(f'data-base="{a}"', html)
        self.assertEqual(
            [f"card-{o}" in html for o in ("union", "subtract", "intersect", "exclude", "apart")], [True] * 5
        )
        self.assertIn("and click another piece", self.panel("cut", a)["drawer"])

    def test_the_cut_list_names_its_steps(self):
        a, b = self.draw(), self.draw("ellipse", 50, 50)
        answer = self.send("combine", {"ids": [a, b], "operation": "subtract"}).json()
        cuts = answer["panels"]["cuts"]
        for word in ("starts as", "Rectangle 1", "subtract", "Ellipse 1"):
            self.assertIn(word, cuts)

    def test_every_station_answers_for_anything_chosen(self):
        a, p = self.draw(), self.place()
        framed = self.draw("ellipse", 20, 20)
        self.send("put_in", {"ids": [framed, self.place()]})
        for station in ("draw", "cut", "fit", "finish", "export", "nonsense"):
            for chosen in ((), (a,), (p,), (a, p), (framed,), ("gone",), (a, framed, p)):
                with self.subTest(station=station, chosen=chosen):
                    self.assertIn("drawer", self.panel(station, *chosen))

    def test_names_are_escaped(self):
        a = self.draw()
        answer = self.send("rename", {"id": a, "name": "<script>alert(1)</script>"}).json()
        self.assertNotIn("<script", answer["panels"]["stack"] + "".join(answer["swap"].values()))
        self.assertNotIn("<script>alert", self.client.get(f"/p/{self.project.pk}/").content.decode())
