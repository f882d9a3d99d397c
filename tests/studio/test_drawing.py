"""What the page asks for while drawing: snapping, templates, previews, nodes, cells; pasting; stopping."""

import json

from sheet import new_sheet
from studio.history import changes

from .helpers import StudioCase


class Asking(StudioCase):
    def draw(self, **more):
        args = {"kind": "rectangle", "x": 10, "y": 20, "width": 100, "height": 50, **more}
        answer = self.send("draw", args)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()["chosen"][0]

    def ask(self, what, **query):
        return self.client.get(f"/p/{self.project.pk}/{what}", query)

    def test_snapping_candidates(self):
        a = self.draw()
        b = self.draw(x=150)
        got = self.ask("snaps").json()
        self.assertEqual(got["revision"], 3)
        self.assertIn([60.0, a, "centre"], got["x"])
        self.assertIn([0.0, "", "sheet"], got["x"])
        self.assertEqual(len(got["nodes"]), 8)
        # 110 to 150 is a gap of 40: the same again lies at 290, and its middle at 130
        places = {(edge, at) for edge, at, gap, ids, _ in got["gaps"]["x"] if ids == [a, b] and gap == 40}
        self.assertEqual(places, {("low", 290.0), ("high", -30.0), ("mid", 130.0)})

    def test_templates(self):
        got = self.ask("template", kind="star", points="5").json()
        self.assertTrue(got["d"].startswith("M"))
        # width to height of a regular five-pointed star: sin 72° to (1 + cos 36°) / 2
        self.assertAlmostEqual(got["natural"][0] / got["natural"][1], 1.9021 / 1.8090, places=3)
        wrong = self.ask("template", kind="polygon", sides="2")
        self.assertEqual((wrong.status_code, wrong.json()["field"]), (422, "sides"))

    def preview(self, **body):
        return self.client.post(f"/p/{self.project.pk}/preview", json.dumps(body), content_type="application/json")

    def test_previews_store_nothing(self):
        a = self.draw()
        args = {"ids": [a], "field": "radius", "value": "10 px"}
        got = self.preview(name=a, command="set_detail", args=args, revision=2)
        self.assertIn("C", got.json()["d"])
        self.assertEqual(self.fresh().head.number, 2)
        self.assertEqual(self.preview(name=a, command="remove", args={"ids": [a]}, revision=2).status_code, 422)
        self.assertEqual(self.preview(name=a, command="set_detail", args=args, revision=1).status_code, 409)

    def test_nodes_and_cells_come_with_the_panels(self):
        a = self.draw()
        nodes = json.loads(self.ask_panels(chosen=[a], nodes=True)["nodes"])
        self.assertEqual([n["at"] for n in nodes["nodes"]], [[10, 20], [110, 20], [110, 70], [10, 70]])
        b = self.draw(x=60)
        cells = json.loads(self.ask_panels(station="cut", chosen=[a, b], cells=True)["cells"])
        self.assertEqual(len(cells["cells"]), 3)
        self.assertIn(
            "needs a piece", json.loads(self.ask_panels(station="cut", chosen=[], cells=True)["cells"])["why"]
        )

    def test_500_chosen_pieces_have_their_cards(self):
        for _ in range(9):
            ids = [i.id for i in self.fresh().head.sheet.items] or [self.draw(width=30, height=30)]
            self.send("duplicate", {"ids": ids, "matrix": [1, 0, 0, 1, 3 * len(ids), len(ids) % 7]})
        ids = [i.id for i in self.fresh().head.sheet.items][:500]
        self.assertEqual(len(ids), 500)
        # a worker does it: the answer is the same
        self.assertIn("parts</span>", self.ask_panels(station="cut", chosen=ids)["drawer"])

    def test_a_note_comes_with_the_answer(self):
        a = self.draw()
        answer = self.send("set_detail", {"ids": [a], "field": "radius", "value": "999"}).json()
        self.assertIn("now 25", answer["note"])


class Pasting(StudioCase):
    def test_from_a_revision_that_was_left_since(self):
        args = {"kind": "rectangle", "x": 1, "y": 2, "width": 30, "height": 40}
        a = self.send("draw", args).json()["chosen"][0]
        source = {"project": self.project.pk, "revision": 2, "ids": [a]}
        self.send("remove", {"ids": [a]})
        self.assertEqual(self.send("paste", source).status_code, 200)
        self.assertEqual(len(self.fresh().head.sheet.items), 1)

    def test_another_person_s_project_gives_nothing(self):
        args = {"kind": "rectangle", "x": 1, "y": 2, "width": 30, "height": 40}
        a = self.send("draw", args).json()["chosen"][0]
        source = {"project": self.project.pk, "revision": 2, "ids": [a]}
        self.client.force_login(self.other)
        self.project = changes.start(self.other, "Theirs", new_sheet(100, 100))
        answer = self.send("paste", source)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("no longer there", answer.json()["error"])


class Stopping(StudioCase):
    ARGS = {"kind": "rectangle", "x": 1, "y": 2, "width": 30, "height": 40}

    def test_what_was_done_already_is_taken_back(self):
        self.send("draw", self.ARGS, command_id="long-one")
        self.assertEqual(len(self.fresh().head.sheet.items), 1)
        self.assertEqual(self.send("stop", {"id": "long-one"}).status_code, 200)
        self.assertEqual(self.fresh().head.sheet.items, ())

    def test_what_arrives_afterwards_is_not_done(self):
        self.send("stop", {"id": "late-one"})
        self.send("draw", self.ARGS, command_id="late-one")
        self.assertEqual(self.fresh().head.sheet.items, ())
        self.send("draw", self.ARGS, command_id="another")
        self.assertEqual(len(self.fresh().head.sheet.items), 1)

    def test_only_the_newest_is_taken_back(self):
        self.send("draw", self.ARGS, command_id="first")
        self.send("draw", self.ARGS, command_id="second")
        self.send("stop", {"id": "first"})
        self.assertEqual(len(self.fresh().head.sheet.items), 2)
