"""Whether a command can run on a selection: its button gets the command's own reason."""

import unittest

from sheet import SheetError, apply
from sheet.commands import COMMANDS

from .helpers import Table

NAMED = {"refit": {"width": 200, "height": 120}, "stand_out": {"side": "top"}}
"""What else each is given."""


class Accepting(unittest.TestCase):
    def setUp(self):
        self.table = Table()
        t = self.table
        self.piece = t.rectangle(100, 100, 300, 200)
        self.other = t.ellipse(500, 100, 100, 100)
        (self.word,) = t.do("draw_lettering", text="Ab", font="alfa-slab-one", size="60", x="500", y="500")
        self.line = t.do("draw_curve", d="M0 700L300 700")[0]
        self.photo = t.photo(100, 80, 850, 650)
        framed, frame = t.photo(200, 200, 850, 250), t.rectangle(800, 200, 100, 100)
        t.do("put_in", ids=[framed, frame])
        self.frame, self.framed = frame, framed
        self.choices = {
            "nothing": [],
            "a piece": [self.piece],
            "two": [self.piece, self.other],
            "a word": [self.word],
            "a line": [self.line],
            "a photo": [self.photo],
            "a frame": [self.frame],
            "a framed photo": [self.framed],
            "a photo and a piece": [self.photo, self.piece],
        }

    def said(self, name: str, ids: list[str]) -> str:
        """Return why a command refuses a selection; empty if it does not."""
        error = COMMANDS[name].refusal(self.table.sheet, ids)
        return str(error) if error else ""

    def test_it_is_what_the_command_says_when_it_runs(self):
        for name in ("split", "put_in", "refit", "stand_out"):
            one = name in NAMED
            for what, ids in self.choices.items():
                if one and len(ids) != 1:
                    continue
                with self.subTest(command=name, chosen=what):
                    args = {"id": ids[0], **NAMED[name]} if one else {"ids": ids}
                    try:
                        apply(self.table.sheet, name, args, self.table.library)
                        done = ""
                    except SheetError as error:
                        # what depends on the side it was given is asked when it runs
                        done = "" if error.field == "side" else str(error)
                    self.assertEqual(self.said(name, ids), done)

    def test_what_each_takes(self):
        takes = {
            name: [what for what, ids in self.choices.items() if not self.said(name, ids)]
            for name in ("refit", "split", "link_shelf", "put_in", "stand_out", "paint")
        }
        self.assertEqual(takes["refit"], ["a piece", "a frame"])
        self.assertEqual(takes["split"], ["a piece", "a word", "a photo", "a frame", "a framed photo"])
        self.assertEqual(takes["link_shelf"], ["a piece", "a word", "a line", "a frame"])
        self.assertEqual(takes["put_in"], ["a photo and a piece"])
        self.assertEqual(takes["stand_out"], ["a frame"])
        # a command that does not say otherwise takes anything
        self.assertEqual(takes["paint"], list(self.choices))

    def test_none_and_several_are_counted(self):
        self.assertIn("Nothing is selected", self.said("refit", []))
        self.assertIn("You selected 2", self.said("link_shelf", [self.piece, self.other]))
        self.assertIn("You selected 2", self.said("split", [self.piece, self.other]))
