"""The words in a sheet: none gets in that is not of its kind, by a file, a command or a change of what is stored."""

import re
import unittest
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import msgspec
from msgspec.structs import replace

import outline
from sheet import SheetError, dump, load
from sheet.document.model import Piece
from sheet.document.store import as_json, of_json

from .helpers import Table, TableCase

STORED = Path(__file__).parent / "stored" / "schema-7.sheet"
FREE = {"font", "type"}
"""What is any text, or tells the other fields apart."""


def texts(value: Any, name: str = "") -> Iterator[tuple[Any, Any, str]]:
    """Give every text in a document: what holds it, under which key, and the name of its field."""
    for key, inner in value.items() if isinstance(value, dict) else enumerate(value):
        field = key if isinstance(key, str) else name
        if isinstance(inner, str):
            yield value, key, field
        elif isinstance(inner, dict | list):
            yield from texts(inner, field)


class FromOutside(unittest.TestCase):
    def setUp(self):
        t = Table()
        font = next(iter(outline.FONTS))
        letters = t.do("draw_lettering", text="Quay", font=font, size=40, x=10, y=300)
        t.do("paint", ids=letters, field="stroke", value="#22302f")
        t.do("set_swatch", value="#b5432a")
        t.do("backdrop", value="#fcfaf5")
        t.do("split", ids=[t.rectangle(0, 0, 90, 90)], columns="2", rows="2")
        mine = as_json(t.sheet)
        # both have an i1: those of one are others
        mine = msgspec.json.decode(re.sub(rb'"i(\d+)"', rb'"i1\g<1>00"', mine))
        kept = msgspec.json.decode(as_json(load(STORED.read_bytes())))
        self.document = {**mine, "items": kept["items"] + mine["items"]}

    def test_every_word_is_asked(self):
        of_json(msgspec.json.encode(self.document))
        asked = set()
        for holder, key, field in list(texts(self.document)):
            if field in FREE:
                continue
            before, holder[key] = holder[key], "#fff\x01<script>"
            with self.subTest(field=field), self.assertRaises(SheetError):
                of_json(msgspec.json.encode(self.document))
            holder[key] = before
            asked.add(field)
        words = {"id", "name", "file", "fill", "stroke", "d", "item", "text", "twin", "backdrop", "swatches", "panes"}
        self.assertLessEqual(words, asked)


class Stored(TableCase):
    def test_what_is_new_on_a_sheet_that_was_stored_is_asked(self):
        t = self.table
        for k in range(3):
            t.rectangle(100 * k, 0, 50, 50)
        sheet = load(dump(t.sheet))
        self.assertEqual(load(dump(sheet)), sheet)
        a, b, c = sheet.items
        for spoiled in (
            replace(b, name="a\x01"),
            replace(b, id="x1"),
            replace(b, link="i1 "),
            replace(b, paint=replace(b.paint, fill='#fff" x="')),
            replace(b, shape=replace(b.shape, width=-5.0)),
            Piece("i9", "Q", "no shape at all"),
        ):
            with self.subTest(spoiled=str(spoiled)[:80]), self.assertRaises(SheetError):
                dump(replace(sheet, items=(a, spoiled, c)))
        moved = replace(sheet, items=(a, replace(b, matrix=(1, 0, 0, 1, 5, 5)), c))
        self.assertEqual(load(dump(moved)), moved)

    def test_in_what_a_command_is_given(self):
        place = {"kind": "ellipse", "x": 0, "y": 0, "width": 9, "height": 9}
        self.refused("The fill has characters", "draw", **place, paint={"fill": "red"})
        self.table.do("draw", **place, paint={"fill": "#b5432a"})


class Before(unittest.TestCase):
    def test_a_sheet_in_json_of_an_earlier_gouge_is_asked_too(self):
        document = msgspec.json.decode(zlib.decompress(STORED.read_bytes()))
        document["items"][0]["name"] = "a\x01"
        with self.assertRaises(SheetError):
            load(zlib.compress(msgspec.json.encode(document)))
