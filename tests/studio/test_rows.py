"""A stack of thousands: rows are drawn as they come into view."""

import json
import re

from sheet import apply, new_sheet
from studio.editor.panels.stack import FIRST
from studio.history import changes

from .helpers import StudioCase


class Rows(StudioCase):
    def setUp(self):
        super().setUp()
        sheet = new_sheet(2000, 2000)
        for k in range(150):
            sheet = apply(sheet, "draw", {"kind": "star", "x": 10 * k, "y": 5, "width": 9, "height": 9}).sheet
        self.ids = [i.id for i in sheet.items]
        self.project = changes.start(self.user, "Many", sheet)

    def ask(self, ids):
        body = json.dumps({"ids": ids})
        return self.client.post(f"/p/{self.project.pk}/rows", body, content_type="application/json")

    def marks(self, html: str) -> dict[str, str]:
        """Return the mark of each row, or of its place."""
        return {m[1]: m[2] for m in re.finditer(r'<li[^>]*id="entry-(\w+)"[^>]*data-mark="(\w+)"', html)}

    def test_the_first_are_drawn_and_the_others_have_their_places(self):
        page = self.client.get(f"/p/{self.project.pk}/").content.decode()
        self.assertEqual(page.count('class="row-item'), FIRST)
        self.assertEqual(page.count('class="later"'), 150 - FIRST)
        self.assertEqual(list(self.marks(page)), self.ids[::-1])

    def test_rows_are_given_for_what_is_asked(self):
        page = self.client.get(f"/p/{self.project.pk}/").content.decode()
        rows = self.ask([self.ids[3], "i99999", self.ids[0]]).content.decode()
        self.assertEqual(re.findall(r'id="row-(\w+)"', rows), [self.ids[3], self.ids[0]])
        # with the mark that its place had, so that it stays
        for one, mark in self.marks(rows).items():
            self.assertEqual(self.marks(page)[one], mark)

    def test_a_mark_is_another_once_the_row_is(self):
        page = f"/p/{self.project.pk}/"
        before = self.marks(self.client.get(page).content.decode())
        self.send("rename", {"id": self.ids[2], "name": "Wreck"})
        after = self.marks(self.client.get(page).content.decode())
        self.assertEqual({i for i in self.ids if before[i] != after[i]}, {self.ids[2]})

    def test_nonsense_and_others(self):
        self.assertEqual(self.ask("all").status_code, 422)
        self.assertEqual(self.ask(["x"] * 5000).status_code, 422)
        self.client.force_login(self.other)
        self.assertEqual(self.ask(self.ids[:1]).status_code, 404)
