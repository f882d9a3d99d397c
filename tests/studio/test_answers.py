"""What pages request besides commands: pieces to draw with, rounded sizes, news from other windows, names."""

import json

from django.db import connection
from django.test.utils import CaptureQueriesContext

from outline import Path
from sheet.geometry.geometry import outline_of
from studio.models import Project

from .helpers import StudioCase


class Asking(StudioCase):
    def get(self, what, **query):
        return self.client.get(f"/p/{self.project.pk}/{what}", query)

    def test_a_piece_to_scale_while_it_is_drawn(self):
        for kind, more, nodes in (
            ("rectangle", {}, 4),
            ("polygon", {"sides": "7"}, 7),
            ("star", {"points": "5", "inner": "40"}, 10),
        ):
            with self.subTest(kind=kind):
                answer = self.get("template", kind=kind, **more).json()
                self.assertEqual(Path.from_svg(answer["d"]).node_count, nodes)
                self.assertEqual((answer["w"], answer["h"]), (100, 100))

    def test_lettering_as_it_is_typed_is_what_is_drawn(self):
        asked = {"text": "Quay", "font": "alfa-slab-one", "size": "80"}
        shown = Path.from_svg(self.get("template", kind="lettering", **asked).json()["d"])
        self.send("draw_lettering", {**asked, "x": 0, "y": 0})
        drawn = self.fresh().head.sheet.items[-1]
        self.assertEqual(drawn.shape.text, "Quay")
        self.assertAlmostEqual(shown.area, outline_of(drawn).area, delta=1)
        # blank lines are typed on the way to the next word
        self.assertEqual(self.get("template", kind="lettering", **{**asked, "text": "Quay\n\n"}).status_code, 200)

    def test_templates_that_are_none(self):
        self.assertEqual(self.get("template", kind="spiral").status_code, 400)
        answer = self.get("template", kind="polygon", sides="2")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("sides", answer.json()["error"].lower())

    def test_what_a_tool_is_set_to(self):
        answer = self.get("tool-settings", width="1in", height="", proportion="16:9").json()
        self.assertEqual(answer["width"], 100)
        self.assertIsNone(answer["height"])
        self.assertAlmostEqual(answer["proportion"], 16 / 9)
        self.assertEqual((answer["fill"], answer["stroke"]), ("#c9bda4", None))
        answer = self.get("tool-settings", fill="none", stroke="rgb(0 128 0)").json()
        self.assertEqual((answer["fill"], answer["stroke"]), (None, "#008000"))
        self.assertEqual(self.get("tool-settings", width="-3").status_code, 422)
        self.assertEqual(self.get("tool-settings", fill="tartan").json()["field"], "fill")

    def test_nobody_else_is_answered(self):
        self.client.force_login(self.other)
        for what in ("template", "tool-settings"):
            self.assertEqual(self.get(what, kind="rectangle").status_code, 404)


class News(StudioCase):
    def now(self, revision, **view):
        url = f"/p/{self.project.pk}/now?revision={revision}"
        return self.client.post(url, json.dumps(view), content_type="application/json").json()

    def test_nothing_new_is_one_number(self):
        self.draw()
        head = self.fresh().head.number
        self.assertEqual(self.now(head), {"revision": head})

    def test_a_newer_revision_comes_whole(self):
        first = self.fresh().head.number
        a = self.draw()
        answer = self.now(first, station="draw", chosen=[a])
        self.assertEqual(answer["revision"], self.fresh().head.number)
        self.assertEqual(answer["order"], [a])
        self.assertIn(a, answer["swap"])
        self.assertIn("dimensions", answer["panels"])

    def test_a_look_that_is_none_is_no_reason_to_say_nothing(self):
        a = self.draw()
        self.assertEqual(self.now(0, chosen=7, inside=[])["order"], [a])


class Names(StudioCase):
    def rename(self, name):
        url = f"/projects/{self.project.pk}/rename"
        return self.client.post(url, {"name": name}, headers={"accept": "application/json"})

    def test_renamed_from_the_editor(self):
        self.assertEqual(self.rename("  Quay card ").json(), {"name": "Quay card"})
        self.assertEqual(self.fresh().name, "Quay card")

    def test_a_name_of_nothing_is_refused_and_kept(self):
        answer = self.rename("   ")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("keeps its name", answer.json()["error"])
        self.assertEqual(self.fresh().name, "Card")

    def test_another_person_s_project_is_not_there(self):
        self.client.force_login(self.other)
        self.assertEqual(self.rename("Mine").status_code, 404)
        self.assertEqual(Project.objects.get(pk=self.project.pk).name, "Card")

    def test_an_address_that_only_takes_forms_leads_back(self):
        self.assertRedirects(self.client.get("/projects/new"), "/")
        page = self.client.get("/").content.decode()
        # one's own size begins in the unit that was used last
        self.assertIn('data-unit="px"', page)


class Stations(StudioCase):
    def test_the_address_marks_the_station_it_shows(self):
        for station in ("draw", "cut", "fit", "finish", "export"):
            with self.subTest(station=station):
                page = self.client.get(f"/p/{self.project.pk}/", {"station": station}).content.decode()
                marked = page[: page.index('aria-current="step"')].rpartition('id="station-')[2]
                self.assertTrue(marked.startswith(station))
                self.assertIn(f'data-kind="{station}"', page)

    def test_a_field_of_an_order_has_its_own_unit_and_no_other(self):
        page = self.client.get(f"/p/{self.project.pk}/", {"station": "export"}).content.decode()
        row = page[page.index('id="d-pattern"') :]
        self.assertNotIn("<span", row[: row.index("</div>")])

    def test_a_step_asks_only_for_what_its_panels_show(self):
        words = self.send("draw_lettering", {"text": "Quay", "font": "alfa-slab-one", "size": "80", "x": 0, "y": 0})
        for piece, fonts in ((self.draw(), 0), (words.json()["chosen"][0], 1)):
            with self.subTest(piece=piece), CaptureQueriesContext(connection) as asked:
                self.send("transform", {"ids": [piece], "matrix": [1, 0, 0, 1, 5, 0]}, view={"chosen": [piece]})
            queries = [query["sql"] for query in asked.captured_queries]
            self.assertEqual(sum("studio_ownfile" in sql for sql in queries), fonts)
            self.assertFalse([sql for sql in queries if "studio_shelf" in sql])
