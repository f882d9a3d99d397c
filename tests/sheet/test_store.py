"""Stored sheets load again, from every earlier schema too; what would not load is refused."""

import math
import struct
import unittest
import zlib
from pathlib import Path

import msgspec
import zstandard
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from picture import fragment
from sheet import Photo, Rectangle, Sheet, SheetError, dump, load, new_sheet
from sheet.document.limits import MAX_DEPTH, MAX_ITEMS
from sheet.document.model import SCHEMA, CutList, Freehand, Group, Guide, Paint, Piece, Plain
from sheet.document.points import Points
from sheet.document.store import as_json, of_json, packed, photos_in, unfolded
from sheet.document.tree import remembered
from tests.hostile import play

from .helpers import FILE, Table, TableCase

STORED = Path(__file__).parent / "stored"


def pieces(count: int, first: int = 1) -> tuple[Piece, ...]:
    return tuple(Piece(f"i{first + k}", f"Rectangle {k}", Rectangle(10, 10)) for k in range(count))


class Schemas(unittest.TestCase):
    """A sheet as each schema's own code stored it, kept as a file."""

    def test_one_file_of_every_schema(self):
        # from the seventh on they are packed
        plain, packed_ones = (
            {f"schema-{k}.sheet" for k in range(1, 8)},
            {f"packed-{k}.sheet" for k in range(7, SCHEMA + 1)},
        )
        self.assertEqual({f.name for f in STORED.iterdir()}, plain | packed_ones)

    def test_each_is_read_drawn_and_stored_anew(self):
        for file in sorted(STORED.glob("schema-*")):
            with self.subTest(file=file.name):
                data = file.read_bytes()
                self.assertEqual(f"schema-{msgspec.json.decode(zlib.decompress(data))['schema']}.sheet", file.name)
                sheet = load(data)
                self.assertEqual(sheet.schema, SCHEMA)
                kinds = {type(i).__name__ for i, _ in remembered(sheet).values()}
                self.assertLessEqual({"Piece", "Photo"}, kinds)
                for item in sheet.items:
                    self.assertIn("data-id", fragment(item, lambda p: p.file))
                self.assertEqual(load(dump(sheet)), sheet)

    def test_the_packed_form_says_what_the_plain_one_says(self):
        before = load((STORED / "schema-7.sheet").read_bytes())
        data = (STORED / "packed-7.sheet").read_bytes()
        sheet = load(data)
        hand = sheet.items[-1]
        self.assertEqual((sheet.items[:-1], sheet.guides), (before.items, before.guides))
        self.assertEqual(list(hand.shape.points), [(0, 0), (30.125, 40.5), (60, -1.75)])
        # another reader of both formats finds the same in it
        text = zstandard.decompress(data)
        self.assertEqual(msgspec.msgpack.decode(text)["schema"], 7)
        self.assertEqual(photos_in(text), photos_in(as_json(sheet)))
        self.assertTrue(photos_in(text))
        self.assertEqual(of_json(as_json(sheet)), sheet)

    def test_a_packed_one_with_gradients(self):
        sheet = load((STORED / "packed-8.sheet").read_bytes())
        (piece,) = sheet.items
        self.assertEqual((piece.paint.fill.kind, piece.paint.stroke.spread), ("linear", "reflect"))
        self.assertEqual(load(dump(sheet)), sheet)

    def test_a_packed_one_with_a_font_of_ones_own(self):
        sheet = load((STORED / "packed-9.sheet").read_bytes())
        (piece,) = sheet.items
        self.assertEqual((piece.shape.axes, piece.shape.font[-12:]), ((("wght", 500.0),), ":Marram Flex"))
        # the font is not here, and another draws it
        self.assertIn("data-id", fragment(piece, lambda p: p.file))
        self.assertEqual(load(dump(sheet)), sheet)

    def test_a_packed_one_of_another_schema(self):
        document = msgspec.msgpack.decode(unfolded(dump(new_sheet(300, 200))))
        older = packed(msgspec.msgpack.encode({**document, "schema": 2}))
        self.assertEqual(load(older), new_sheet(300, 200))
        with self.assertRaisesRegex(SheetError, "newer Gouge"):
            load(packed(msgspec.msgpack.encode({**document, "schema": SCHEMA + 1})))

    def test_names_of_before_are_mended(self):
        for number in (1, 2):
            (photo,) = [
                i
                for i, _ in remembered(load((STORED / f"schema-{number}.sheet").read_bytes())).values()
                if isinstance(i, Photo)
            ]
            self.assertEqual(photo.name, "dusk sea.jpg")


class Refused(unittest.TestCase):
    def refused(self, sheet: Sheet, words: str = "") -> None:
        with self.assertRaisesRegex(SheetError, words):
            dump(sheet)

    def test_what_could_not_be_read_back(self):
        sheet = new_sheet(100, 100)
        (piece,) = pieces(1)
        for changed in (
            replace(sheet, guides=(Guide("x", math.nan),)),
            replace(sheet, width=math.inf),
            replace(sheet, backdrop='#fff" onload="x'),
            replace(sheet, items=(replace(piece, matrix=(1, 0, 0, 1, 1e300, 0)),)),
            replace(sheet, items=(replace(piece, paint=Paint(blend="glow")),)),
            replace(sheet, items=(replace(piece, name="a\x01"),)),
            replace(sheet, items=(replace(piece, name="\ud800"),)),
            replace(sheet, items=(replace(piece, shape=Rectangle(-1, 5)),)),
            replace(sheet, items=(replace(piece, shape=Plain("M0 0<script>")),)),
            replace(sheet, items=(replace(piece, shape=Freehand(Points([(0, 0), (math.nan, 5)]), 1)),)),
            replace(sheet, items=(replace(piece, shape=Freehand(Points([(0, 0), (9e8, 5)]), 1)),)),
            replace(sheet, items=(replace(piece, shape=Freehand(Points([(0, 0)] * 20_001), 1)),)),
            replace(sheet, items=(Photo("i1", "a", FILE, 0, 5),)),
            replace(sheet, items=(Photo("i1", "a", FILE, -5, 5),)),
        ):
            with self.subTest(changed=str(changed)[:120]):
                self.refused(changed)

    def test_more_than_a_sheet_holds_in_groups_too(self):
        sheet = new_sheet(100, 100)
        dump(replace(sheet, items=pieces(MAX_ITEMS)))
        self.refused(replace(sheet, items=pieces(MAX_ITEMS + 1)), "5,000")
        halves = (Group("i90000", "A", pieces(3000)), Group("i90001", "B", pieces(3000, 4000)))
        self.refused(replace(sheet, items=halves), "5,000")
        # a group is an item too
        dump(replace(sheet, items=(Group("i90000", "A", pieces(MAX_ITEMS - 1)),)))
        self.refused(replace(sheet, items=(Group("i90000", "A", pieces(MAX_ITEMS)),)), "5,000")

    def test_deeper_than_it_may_lie(self):
        (one,) = pieces(1)
        for wrap in (
            lambda k, inner: Group(f"i{k}", "G", (inner,)),
            lambda k, inner: Piece(f"i{k}", "O", CutList(inner, ())),
        ):
            item = one
            for k in range(2, MAX_DEPTH + 1):
                item = wrap(k, item)
            dump(replace(new_sheet(9, 9), items=(item,)))
            deeper = replace(new_sheet(9, 9), items=(wrap(MAX_DEPTH + 1, item),))
            self.refused(deeper, f"{MAX_DEPTH + 1} levels deep")

    def test_data_that_is_none(self):
        good = dump(new_sheet(100, 100))
        unfolds = zlib.compress(b" " * 300_000_000, 9)
        turned = bytearray(good)
        turned[len(good) // 2] ^= 64
        late = zstandard.ZstdCompressor(level=19).compress(b" " * 300_000_000)
        for data in (
            b"", b"junk", good[:-4], good[:20], bytes(turned), packed(b""), packed(b"\x93"), packed(b"\x91" * 100_000),
            zlib.compress(b"["), zlib.compress(b"[" * 100_000), unfolds, late,
        ):  # fmt: skip
            with self.subTest(data=data[:20]), self.assertRaises(SheetError):
                load(data)


class Strokes(unittest.TestCase):
    """The points of a stroke: read back as they were, in either form; equal where they are equal."""

    @given(st.lists(st.tuples(st.floats(-1e8, 1e8), st.floats(-1e8, 1e8)), max_size=40))
    @settings(max_examples=200, deadline=None, database=None)
    def test_any_numbers(self, places):
        trail = Points(places)
        self.assertEqual(list(trail), places)
        self.assertEqual(Points.of_bytes(trail.as_bytes()), trail)
        self.assertEqual((len(trail), hash(trail)), (len(places), hash(Points(list(trail)))))

    @given(st.lists(st.tuples(st.integers(-(2**31) + 1, 2**31 - 1), st.integers(-99, 99)), max_size=40))
    @settings(max_examples=200, deadline=None, database=None)
    def test_thousandths_take_eight_bytes_a_place(self, places):
        trail = Points([(x / 1000, y / 1000) for x, y in places])
        self.assertEqual(list(trail), [(x / 1000, y / 1000) for x, y in places])
        self.assertEqual(len(trail.as_bytes()), 1 + 8 * len(places))

    def test_bytes_that_are_none(self):
        for data in (b"", b"i1234", b"x" + bytes(16), b"d" + bytes(8), b"d" + struct.pack("<dd", math.nan, 0)):
            with self.subTest(data=data), self.assertRaises(ValueError):
                Points.of_bytes(data)

    def test_json_from_outside_says_them_as_pairs(self):
        sheet = replace(new_sheet(99, 99), items=(Piece("i1", "F", Freehand(Points([(1, 2.5), (3, 4)]), 1)),))
        document = msgspec.json.decode(as_json(sheet))
        self.assertEqual(document["items"][0]["shape"]["points"], [[1.0, 2.5], [3.0, 4.0]])
        for points in ("aQAA", [[1]], [["1", 2]], [[1, 1e9]], None, [[0, 0]] * 20_001):
            document["items"][0]["shape"]["points"] = points
            with self.subTest(points=str(points)[:30]), self.assertRaises(SheetError):
                of_json(msgspec.json.encode(document))


class Locked(TableCase):
    """Nothing changes what is locked, whatever the command; one place looks."""

    def test_a_locked_outline(self):
        t = self.table
        a, b, other = t.rectangle(0, 0, 100, 100), t.ellipse(50, 0, 100, 100), t.rectangle(300, 0, 50, 50)
        (o,) = t.do("combine", ids=[a, b], operation="union")
        t.do("add_finish", id=o, kind="round", value="4")
        photo = t.photo(900, 700)
        t.do("mark", ids=[o], field="locked", on=True)
        for command, args in (
            ("swap_base", {"id": o}),
            ("set_step", {"id": o, "number": 1, "operation": "subtract"}),
            ("switch_step", {"id": o, "number": 1}),
            ("move_step", {"id": o, "number": 1, "to": 0}),
            ("drop_step", {"id": o, "number": 1}),
            ("add_steps", {"ids": [o, other], "operation": "union"}),
            ("set_finish", {"id": o, "number": 0, "value": "9"}),
            ("make_plain", {"id": o}),
            ("take_apart", {"id": o}),
            ("put_in", {"ids": [o, photo]}),
            ("combine", {"ids": [o, other], "operation": "union"}),
            ("apart", {"ids": [o, other]}),
            ("transform", {"ids": [b], "matrix": [1, 0, 0, 1, 5, 5]}),
            ("set_detail", {"ids": [a], "field": "radius", "value": "9"}),
            ("draw", {"kind": "ellipse", "x": 0, "y": 0, "width": 9, "height": 9, "into": o, "operation": "union"}),
        ):
            with self.subTest(command=command):
                self.refused("is locked", command, **args)
        t.do("rename", id=o, name="Plate")
        t.do("mark", ids=[o], field="locked", on=False)
        t.do("take_apart", id=o)


class Words(TableCase):
    """Arguments that do not fit are refused in words that name the thing and the way out."""

    def test_each_says_what_and_what_to_do(self):
        a = self.table.rectangle(0, 0, 100, 100)
        for words, command, args in (
            ("is not an operation. Use union, subtract", "combine", {"ids": [a], "operation": "melt"}),
            ("x is too large or too small, or not a number", "place", {"files": [FILE], "x": math.nan}),
            ("came without its ids", "group", {}),
            ("takes no “colour”", "backdrop", {"value": "#fff", "colour": 1}),
            ("ids must be a list", "remove", {"ids": 5}),
            ("isn’t on the sheet", "remove", {"ids": ["<b>"]}),
            ("must have 6 numbers", "transform", {"ids": [a], "matrix": [1, 0]}),
            (
                "is not a blend",
                "draw",
                {"kind": "ellipse", "x": 0, "y": 0, "width": 9, "height": 9, "paint": {"blend": "glow"}},
            ),
            ("at least one letter", "rename", {"id": a, "name": "\ud800"}),
            ("gap across is empty", "repeat", {"ids": [a], "columns": "2", "rows": "1", "gap_x": ""}),
            ("There is no command", "conjure", {}),
        ):
            with self.subTest(command=command, args=str(args)[:80]):
                self.refused(words, command, **args)


class Hostile(unittest.TestCase):
    @settings(max_examples=30, deadline=None, database=None)
    @given(st.data())
    def test_sequences_of_every_command_with_arguments_no_page_sends(self, data):
        play(data, Table().sheet, 40)
