"""The key map: a key means one thing for each work at hand, and all that it names is there."""

from collections import Counter

from django.test import SimpleTestCase

from sheet.commands import COMMANDS
from sheet.document.kinds import KINDS
from studio.editor.keys import key_map


class Table(SimpleTestCase):
    rows = [row for rows in key_map().values() for row in rows]

    def test_a_key_means_one_thing_for_each_work_at_hand(self):
        count = Counter((key, row.when) for row in self.rows for key in row.keys)
        self.assertEqual([k for k, n in count.items() if n > 1], [])

    def test_each_key_has_something_to_do_that_there_is(self):
        for row in self.rows:
            self.assertIn(len(row.act), (0, len(row.keys)), row.words)
            for name, _ in row.act:
                self.assertTrue(name.startswith("page:") or name in {*COMMANDS, "undo", "redo"}, name)

    def test_every_tool_has_its_key(self):
        tools = {args["name"] for row in self.rows for name, args in row.act if name == "page:tool"}
        self.assertLessEqual({k.key for k in KINDS.values() if k.tool is not None}, tools)
