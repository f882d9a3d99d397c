"""Orders: extents, sizes, files and their names, and the remarks before exporting."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from sheet import SheetError, apply
from sheet.export.filenames import file_names
from sheet.export.order import Order, ordered
from sheet.export.sizes import Exported
from sheet.inspect.preflight import remarks_on

from .helpers import Table, TableCase


class Orders(TableCase):
    """A sheet of 1000 by 800 px at 100 px per inch, with a square, a frame and a group with a frame in it."""

    def setUp(self):
        super().setUp()
        t = self.table
        self.square = t.rectangle(100, 100, 200, 100)
        self.frame = t.ellipse(400, 100, 200, 200)
        t.do("put_in", ids=[self.frame, t.photo(500, 500, 500, 200)])
        inner, other = t.ellipse(700, 500, 100, 100), t.rectangle(700, 650, 50, 50)
        t.do("put_in", ids=[inner, t.photo(300, 300, 750, 550)])
        (self.group,) = t.do("group", ids=[inner, other])
        self.inner = inner

    def one(self, **order) -> Exported:
        (file,) = ordered(self.table.sheet, Order(**order))
        return file

    def test_extents_and_margin(self):
        self.assertEqual(self.one().box, (100, 100, 800, 700))
        self.assertEqual(self.one(extent="whole").box, (0, 0, 1000, 800))
        self.table.sheet = replace(self.table.sheet, bleed=12)
        self.assertEqual(self.one(extent="bleed").box, (-12, -12, 1012, 812))
        self.assertEqual(self.one(extent="bleed", margin="5").box, (-17, -17, 1017, 817))
        self.assertEqual(self.one(what=self.square, margin="0.1in").box, (90, 90, 310, 210))

    def test_no_file_is_called_as_a_device_or_turns_its_own_name_round(self):
        (file,) = ordered(self.table.sheet, Order(what=self.square))
        cases = (("CON", "file-con"), ("aux.b", "file-aux.b"), ("con-tour", "con-tour"), ("a\u202egnp", "a-gnp"))
        for name, want in cases:
            self.assertEqual(file_names("{project}", name, [file]), [want])

    def test_what_is_chosen_else_the_sheet(self):
        self.assertEqual(self.one(ids=(self.square,)).box, (100, 100, 300, 200))
        both = self.one(ids=(self.square, self.frame))
        self.assertEqual([i.id for i in both.items], [self.square, self.frame])
        self.assertEqual(both.box, (100, 100, 600, 300))
        self.assertEqual(self.one(what="sheet", ids=(self.square,)).items, ())

    def test_what_is_in_a_group_is_exported_alone_and_with_it_once(self):
        (group,) = (i for i in self.table.sheet.items if i.id == self.group)
        frame, plain = group.items
        self.assertEqual(self.one(ids=(plain.id,)).box, (700, 650, 750, 700))
        # in the order of the stack, whatever was selected first
        both = self.one(ids=(plain.id, self.square, frame.id))
        self.assertEqual([i.id for i in both.items], [self.square, frame.id, plain.id])
        self.assertEqual(self.one(ids=(plain.id, group.id)).items, (group,))

    def test_a_photo_in_a_frame_counts_as_its_frame(self):
        photo = self.table.item(self.frame).photos[0].id
        for what in ("chosen", "each", ""):
            self.assertEqual(self.one(what=what, ids=(photo,)), self.one(what=what, ids=(self.frame,)), what)

    def test_sizes(self):
        # the square is 200 by 100 px, 2 by 1 inches
        for order, size, resolution in (
            ({}, (200, 100), 100),
            ({"size": "300"}, (600, 300), 300),
            ({"by": "width", "size": "1000"}, (1000, 500), 500),
            ({"by": "height", "size": "2*25"}, (100, 50), 50),
            # with a unit it is how large the file is to be, at the sheet's own px per inch
            ({"by": "width", "size": "4in"}, (400, 200), 100),
            ({"by": "height", "size": "25.4mm"}, (200, 100), 100),
            ({"by": "factor", "size": "2"}, (400, 200), 200),
            ({"by": "factor", "size": "50 %"}, (100, 50), 50),
            ({"by": "width", "size": ""}, (200, 100), 100),
        ):
            with self.subTest(**order):
                file = self.one(what=self.square, **order)
                self.assertEqual((file.width, file.height), size)
                self.assertAlmostEqual(file.resolution, resolution)
        file = self.one(what=self.square, by="width", size="4in")
        self.assertEqual(file.real(self.table.sheet), "101.6 × 50.8 mm")

    def test_each_frame_and_pane_as_a_file(self):
        files = ordered(self.table.sheet, Order(what="each", by="width", size="300"))
        self.assertEqual([f.items[0].id for f in files], [self.frame, self.inner])
        self.assertEqual([f.width for f in files], [300, 300])
        (panes,) = self.table.do("split", ids=[self.frame], columns="2", rows="2")
        files = ordered(self.table.sheet, Order(what="each", ids=(panes,)))
        self.assertEqual(len(files), 4)
        self.table.do("mark", ids=[panes], field="hidden", on=True)
        self.assertEqual(len(ordered(self.table.sheet, Order(what="each"))), 1)

    def test_refused(self):
        for order, field in (
            ({"size": "0"}, "size"),
            ({"size": "many"}, "size"),
            ({"by": "factor", "size": "1e9"}, "size"),
            ({"by": "width", "size": "0.2"}, "size"),
            ({"by": "width", "size": "40000"}, "size"),
            ({"margin": "-3"}, "margin"),
            ({"what": "chosen"}, "what"),
            ({"what": "i999"}, "ids"),
        ):
            with self.subTest(**order):
                with self.assertRaises(SheetError) as caught:
                    ordered(self.table.sheet, Order(**order))
                self.assertEqual(caught.exception.field, field)
        with self.assertRaisesRegex(SheetError, "no frame to export"):
            ordered(Table().sheet, Order(what="each"))


class Names(unittest.TestCase):
    def setUp(self):
        t = Table()
        a, b = t.rectangle(0, 0, 40, 30), t.rectangle(100, 0, 50, 20)
        for item in (a, b):
            t.do("rename", id=item, name="Fähre / Käpt’n")
        self.files = [f for i in (a, b) for f in ordered(t.sheet, Order(what=i))]

    def test_by_a_pattern_none_alike_and_none_that_could_not_be_a_name(self):
        names = file_names("{project} {name}", "../Card", self.files)
        self.assertEqual(names, ["card-fähre-käpt-n", "card-fähre-käpt-n-2"])
        self.assertEqual(file_names("{number}_{width}x{height}", "Card", self.files), ["1_40x30", "2_50x20"])
        self.assertEqual(file_names("{number}", "Card", self.files * 6)[:2], ["01", "02"])
        self.assertEqual(file_names("///", "Card", self.files), ["gouge", "gouge-2"])
        # letters of four bytes each
        self.assertEqual(file_names("{project}", "𝐀" * 100, self.files)[1], "𝐀" * 57 + "-2")

    @settings(deadline=None, database=None)
    @given(
        st.lists(st.sampled_from(["{project}", "{name}", "{number}", "/", "..", "con", "\u202e", "\n", "é"])).map(
            "".join
        ),
        st.text(max_size=300),
    )
    def test_whatever_is_typed_a_file_can_have_the_name(self, pattern, project):
        names = file_names(pattern, project, self.files * 2)
        self.assertEqual(len(set(names)), 4)
        for name in names:
            self.assertRegex(name, r"\A[^\W_][\w.-]{0,104}\Z")
            # 255 bytes are the most that a name may have (POSIX, NAME_MAX on Linux)
            self.assertLessEqual(len(name.encode()) + len(".webp"), 255, name)
            self.assertNotIn(name.partition(".")[0], {"con", "nul", "aux", "prn", "com1", "lpt1"})

    def test_a_word_that_means_nothing(self):
        with self.assertRaises(SheetError) as caught:
            file_names("{projekt}", "Card", self.files)
        self.assertEqual(caught.exception.field, "pattern")
        self.assertIn("{project}", caught.exception.remedy)


class Remarks(TableCase):
    """Each warning leads to its thing, and what it offers takes it away."""

    def test_each_is_said_and_mended_in_one_press(self):
        t = self.table
        t.sheet = replace(t.sheet, bleed=20)
        t.do("backdrop", value="#fcfaf5")
        faint = t.rectangle(100, 100, 100, 100)
        t.do("paint", ids=[faint], field="stroke", value="#f5f0e6")
        t.do("paint", ids=[faint], field="stroke_width", value="4")
        thin = t.rectangle(300, 100, 100, 100)
        t.do("paint", ids=[thin], field="stroke_width", value="0.1pt")
        hidden, off = t.rectangle(500, 100, 50, 50), t.rectangle(2000, 1000, 60, 60)
        t.do("mark", ids=[hidden], field="hidden", on=True)
        edge = t.rectangle(900, 300, 100, 50)
        frame = t.ellipse(100, 400, 200, 200)
        t.do("put_in", ids=[frame, t.photo(2000, 500, 200, 500)])
        t.do("stay_filled", ids=[frame], on=False)
        t.do("settle", ids=[frame], how="fit")
        big, crumb = t.rectangle(400, 500, 100, 100), t.rectangle(600, 500, 0.5, 0.5)
        (both,) = t.do("combine", ids=[big, crumb], operation="union")
        said = {r.item: r for r in remarks_on(t.sheet)}
        for item, words in (
            (faint, "hardly shows on the backdrop"),
            (thin, "0.1 pt wide"),
            (hidden, "is hidden"),
            (off, "is off the sheet"),
            (edge, "ends at the right edge, without bleed"),
            (frame, "is empty"),
            (both, "a leftover smaller than"),
        ):
            with self.subTest(words):
                self.assertIn(words, said[item].words)
                self.assertTrue(said[item].remedy or said[item].mend)
                if said[item].mend is not None:
                    _, command, args = said[item].mend
                    t.sheet = apply(t.sheet, command, args).sheet
                    self.assertNotIn(said[item].words, [r.words for r in remarks_on(t.sheet)])
        self.assertEqual({said[i].mend is None for i in (faint, edge)}, {True})

    def test_what_is_hidden_in_a_group_is_said_too(self):
        t = self.table
        a, b = t.rectangle(100, 100, 200, 200), t.ellipse(400, 100, 200, 200)
        (group,) = t.do("group", ids=[a, b])
        t.do("mark", ids=[a], field="hidden", on=True)
        for only in ((), (t.item(group),)):
            (remark,) = (r for r in remarks_on(t.sheet, only) if "hidden" in r.words)
            self.assertEqual(remark.item, a)
        t.sheet = apply(t.sheet, *remark.mend[1:]).sheet
        self.assertFalse([r for r in remarks_on(t.sheet) if "hidden" in r.words])

    def test_nothing_is_said_of_what_is_well(self):
        t = self.table
        a, b = t.rectangle(100, 100, 200, 200), t.ellipse(150, 150, 50, 50)
        t.do("combine", ids=[a, b], operation="subtract")
        self.assertEqual(remarks_on(t.sheet), [])

    def test_forty_at_most(self):
        for k in range(60):
            self.table.do("paint", ids=[self.table.rectangle(10 * k, 10, 8, 8)], field="stroke_width", value="0.1pt")
        self.assertEqual(len(remarks_on(self.table.sheet)), 40)
