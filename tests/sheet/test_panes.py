"""Panes: a photo or an outline split into rows and columns, and split otherwise afterwards."""

import math

from sheet import dump, load
from sheet.document.model import Group, Photo, Piece, Rectangle
from sheet.geometry.geometry import box_of, outline_of, photo_quad
from sheet.geometry.panes import layout, pane_size

from .helpers import Known, Table, TableCase


class PanesCase(TableCase):
    def setUp(self):
        self.table = Table("2000", "2000", "px", "72")
        self.photo = self.table.photo(2000, 2000, 1000, 1000)

    def split(self, item_id="", **args):
        (group,) = self.table.do("split", ids=[item_id or self.photo], **args)
        return group

    def panes(self, group):
        return list(self.table.item(group).items)

    def boxes(self, group):
        return {p.name: box_of(p) for p in self.panes(group)}

    def set(self, group, field, value):
        self.table.do("set_panes", id=group, field=field, value=value)


class Splitting(PanesCase):
    def test_a_ninth_of_a_2000_px_square_is_666_667_px_a_side(self):
        # common practice: a third of 2000 px is 666.667
        group = self.split()
        panes = self.panes(group)
        self.assertEqual(len(panes), 9)
        for k, pane in enumerate(panes):
            row, column = divmod(k, 3)
            self.near(box_of(pane), [column * 2000 / 3, row * 2000 / 3, (column + 1) * 2000 / 3, (row + 1) * 2000 / 3])
            self.assertEqual(box_of(pane.photos[0]), (0, 0, 2000, 2000))
            self.assertEqual(pane.photos[0].file, panes[0].photos[0].file)
        self.assertEqual(self.table.note, "")
        self.assertEqual(self.table.item(group).kind, "panes")
        self.assertEqual(load(dump(self.table.sheet)), self.table.sheet)

    def test_gaps_margin_and_what_they_leave(self):
        group = self.split(columns="4", rows="2", gap_x="20", gap_y="40", margin="100")
        # (2000 - 2 × 100 - 3 × 20) ÷ 4 and (2000 - 2 × 100 - 40) ÷ 2
        self.near(pane_size(self.table.item(group).panes), (435, 880))
        self.near(self.boxes(group)["Pane 2.4"], (1465, 1020, 1900, 1900))

    def test_by_the_size_of_a_pane_in_any_unit_they_lie_in_the_middle(self):
        group = self.split(pane_width="600", pane_height="10in", gap_x="50")
        cut = self.table.item(group).panes
        # 3 × 600 + 2 × 50 = 1900 and 2 × 720 = 1440
        self.assertEqual((cut.columns, cut.rows), (3, 2))
        self.near(self.boxes(group)["Pane 1.1"], (50, 280, 650, 1000))

    def test_a_round_frame_keeps_its_form_paint_and_photo(self):
        ring = self.table.ellipse(0, 0, 1000, 1000)
        self.table.do("put_in", ids=[self.photo, ring])
        self.table.do("paint", ids=[ring], field="stroke", value="#b5432a")
        group = self.split(ring, columns="2", rows="2")
        areas = [outline_of(p).area for p in self.panes(group)]
        for area in areas:
            self.assertAlmostEqual(area, math.pi * 500**2 / 4, delta=60)
        self.assertEqual({p.paint.stroke for p in self.panes(group)}, {"#b5432a"})
        self.assertEqual([len(p.photos) for p in self.panes(group)], [1] * 4)

    def test_the_margin_of_an_outline_is_a_true_offset(self):
        ring = self.table.ellipse(0, 0, 1000, 1000)
        group = self.split(ring, columns="2", rows="1", margin="100")
        area = sum(outline_of(p).area for p in self.panes(group))
        self.assertAlmostEqual(area, math.pi * 400**2, delta=400 * 400 * 1e-3)

    def test_bleed_grows_each_pane_with_sharp_corners(self):
        group = self.split(columns="2", rows="2", gap_x="20", gap_y="20", margin="50", bleed="10")
        self.assertEqual(self.table.note, "")
        self.near(self.boxes(group)["Pane 1.1"], (40, 40, 1000, 1000))
        pane = self.panes(group)[0]
        self.assertEqual((pane.shape, outline_of(pane).node_count), (Rectangle(960, 960), 4))
        self.set(group, "bleed", "12")
        self.assertIn("overlap", self.table.note)

    def test_a_turned_photo_is_split_along_its_own_sides(self):
        self.table.do("measure", ids=[self.photo], field="angle", value="30")
        self.table.do("measure", ids=[self.photo], field="width", value="600", keep_proportion=True)
        whole = photo_quad(self.table.item(self.photo)).area
        group = self.split(columns="2", rows="1")
        for pane in self.panes(group):
            self.assertAlmostEqual(outline_of(pane).area, whole / 2, delta=1e-3)
            self.assertAlmostEqual(pane.placing.angle, 30)
        self.assertEqual(self.table.note, "")


class Changing(PanesCase):
    def test_edges_on_whole_px_butt_without_a_seam(self):
        """2000 px in three: 667, 666 and 667, as a person would cut them (common practice)."""
        wall = self.table.rectangle(0, 0, 2000, 1000)
        (group,) = self.table.do("split", ids=[wall], columns="3", rows="3")
        self.near([b[2] - b[0] for b in self.boxes(group).values()][:3], [2000 / 3] * 3)
        self.set(group, "whole", "yes")
        boxes = self.boxes(group)
        self.assertEqual([boxes[f"Pane 1.{k}"][0::2] for k in (1, 2, 3)], [(0, 667), (667, 1333), (1333, 2000)])
        self.assertEqual([boxes[f"Pane {k}.1"][1::2] for k in (1, 2, 3)], [(0, 333), (333, 667), (667, 1000)])
        self.set(group, "gap_x", "10")
        self.assertTrue(all(v == round(v) for b in self.boxes(group).values() for v in b))
        self.set(group, "whole", "no")
        self.assertFalse(all(v == round(v) for b in self.boxes(group).values() for v in b))

    def test_spread_and_closed_with_the_picture_staying_or_travelling(self):
        group = self.split(gap_x="30", gap_y="30")
        width = pane_size(self.table.item(group).panes)[0]
        self.set(group, "spread_x", "70")
        boxes = self.boxes(group)
        # from one to the next: the gap and the spread
        self.assertAlmostEqual(boxes["Pane 1.2"][0] - boxes["Pane 1.1"][2], 100)
        self.near([boxes["Pane 1.2"][2] - boxes["Pane 1.2"][0]], [width])
        self.assertEqual(box_of(self.panes(group)[0].photos[0])[0], 0)
        self.set(group, "travelling", "yes")
        self.assertEqual([box_of(p.photos[0])[0] for p in self.panes(group)[:3]], [-70, 0, 70])
        self.set(group, "spread_x", "-30")
        boxes = self.boxes(group)
        self.assertAlmostEqual(boxes["Pane 1.2"][0], boxes["Pane 1.1"][2])
        self.assertEqual(box_of(self.panes(group)[0].photos[0])[0], 30)
        # they close, and go no further
        self.set(group, "spread_x", "-900")
        self.assertEqual(self.table.item(group).panes.spread_x, -30)

    def test_number_gap_and_size_change_and_what_panes_had_stays(self):
        group = self.split()
        first = self.panes(group)[0]
        self.table.do("set_detail", ids=[first.id], field="radius", value="40")
        self.table.do("paint", ids=[first.id], field="stroke", value="#000000")
        self.set(group, "columns", "4")
        self.assertEqual(len(self.panes(group)), 12)
        again = self.panes(group)[0]
        self.assertEqual((again.id, again.paint.stroke), (first.id, "#000000"))
        self.assertEqual(again.shape.radii, (40, 40, 40, 40))
        self.near(box_of(again), (0, 0, 500, 2000 / 3))
        self.set(group, "gap_x", "100")
        self.set(group, "rows", "1")
        self.assertEqual([p.name for p in self.panes(group)], [f"Pane 1.{k}" for k in range(1, 5)])
        self.set(group, "pane_width", "400")
        self.near(self.boxes(group)["Pane 1.1"], (50, 0, 450, 2000))

    def test_left_out_brought_back_joined_and_parted(self):
        group = self.split(gap_x="20", gap_y="20")
        self.table.do("pane_cells", id=group, cells=[101], action="out")
        self.assertNotIn("Pane 2.2", self.boxes(group))
        self.table.do("pane_cells", id=group, cells=[0, 1, 100, 101], action="join")
        boxes = self.boxes(group)
        self.assertEqual(len(boxes), 6)
        # the gaps between joined panes belong to them
        side = (2000 - 40) / 3
        self.near(boxes["Pane 1.1"], (0, 0, 2 * side + 20, 2 * side + 20))
        self.table.do("pane_cells", id=group, cells=[1], action="part")
        self.assertEqual(len(self.boxes(group)), 9)
        # an angle of three
        self.table.do("pane_cells", id=group, cells=[0, 1, 100], action="join")
        corner = next(p for p in self.panes(group) if p.name == "Pane 1.1")
        self.assertAlmostEqual(outline_of(corner).area, 3 * side**2 + 2 * 20 * side, delta=1e-3)
        self.table.do("pane_cells", id=group, cells=[202], action="out")
        self.table.do("pane_cells", id=group, cells=[202], action="back")
        self.assertEqual(len(self.boxes(group)), 7)
        self.refused("neighbouring panes", "pane_cells", id=group, cells=[2, 200], action="join")
        self.refused("None of these panes was left out", "pane_cells", id=group, cells=[2], action="back")
        self.refused("joined to another", "pane_cells", id=group, cells=[2], action="part")
        self.refused("No pane is selected", "pane_cells", id=group, cells=[5000], action="out")
        self.refused("No pane would be left", "pane_cells", id=group, cells=list(range(300)), action="out")

    def test_one_removed_or_moved_by_hand_stays_so(self):
        group = self.split()
        first, second = self.panes(group)[:2]
        self.table.do("remove", ids=[first.id])
        self.table.do("transform", ids=[second.id], matrix=(1, 0, 0, 1, 0, -15))
        self.set(group, "gap_y", "30")
        self.assertEqual(len(self.panes(group)), 8)
        self.assertAlmostEqual(self.boxes(group)["Pane 1.2"][1], -15)
        self.table.do("pane_cells", id=group, cells=[0], action="back")
        self.assertEqual(len(self.panes(group)), 9)

    def test_panes_moved_scaled_turned_and_copied_are_cut_along(self):
        group = self.split(gap_x="20")
        self.table.do("transform", ids=[group], matrix=(0.5, 0, 0, 0.25, 100, 200))
        cut = self.table.item(group).panes
        self.near((cut.width, cut.height, cut.gap_x), (1000, 500, 10))
        for pane, (shape, m) in zip(self.panes(group), layout(cut).values(), strict=True):
            self.near(box_of(pane), box_of(Piece("i0", "", shape, m.numbers())))
        self.table.do("transform", ids=[group], matrix=(0, 1, -1, 0, 1500, 0))
        before = self.boxes(group)
        self.set(group, "gap_y", "12")
        self.set(group, "gap_y", "0")
        for name, box in self.boxes(group).items():
            self.near(box, before[name], 1e-6)
        (copy,) = self.table.do("duplicate", ids=[group])
        self.set(copy, "columns", "1")
        self.assertEqual((len(self.panes(copy)), len(self.panes(group))), (3, 9))

    def test_one_pane_gets_another_photo_and_all_of_them_one(self):
        group = self.split()
        other = self.table.photo(300, 300, 100, 100, name="quay.jpg")
        self.table.library = Known()
        pane = self.panes(group)[4]
        self.table.do("put_in", ids=[other, pane.id])
        (photo,) = self.panes(group)[4].photos
        self.assertEqual(photo.name, "quay.jpg")
        self.set(group, "gap_x", "10")
        self.assertEqual(self.panes(group)[4].photos[0].name, "quay.jpg")
        wide = self.table.photo(900, 300, 100, 100, name="dune.jpg")
        self.table.do("put_in", ids=[wide, group])
        self.assertEqual({p.photos[0].name for p in self.panes(group)}, {"dune.jpg"})
        self.assertEqual(len({p.photos[0].matrix for p in self.panes(group)}), 1)

    def test_made_whole_again(self):
        group = self.split()
        self.table.do("transform", ids=[group], matrix=(1, 0, 0, 1, 40, 0))
        (whole,) = self.table.do("make_whole", id=group)
        photo = self.table.item(whole)
        self.assertIsInstance(photo, Photo)
        self.assertEqual(box_of(photo), (40, 0, 2040, 2000))
        ring = self.table.ellipse(0, 0, 1000, 1000)
        self.table.do("put_in", ids=[whole, ring])
        group = self.split(ring)
        (again,) = self.table.do("make_whole", id=self.panes(group)[0].id)
        self.assertEqual((self.table.item(again).kind, self.table.ids), ("frame", [ring]))

    def test_ungrouped_they_are_frames(self):
        group = self.split()
        self.table.do("ungroup", ids=[group])
        self.assertEqual([i.kind for i in self.table.sheet.items], ["frame"] * 9)


class BadInput(PanesCase):
    def test_each_is_said_with_the_way_out(self):
        piece = self.table.rectangle(0, 0, 100, 100)
        (line,) = self.table.do("draw_curve", d="M0 0H100")
        cases = (
            ("Nothing is selected", {"ids": []}),
            ("needs one thing. You selected 2", {"ids": [self.photo, piece]}),
            ("open line", {"ids": [line]}),
            ("rows must be a whole number", {"ids": [self.photo], "rows": "0"}),
            ("columns must be a whole number", {"ids": [self.photo], "columns": "1000000"}),
            ("10,000 panes", {"ids": [self.photo], "columns": "100", "rows": "100"}),
            ("gaps leave nothing", {"ids": [self.photo], "gap_x": "1200"}),
            ("within that margin", {"ids": [self.photo], "margin": "1000"}),
            ("beyond the photo", {"ids": [self.photo], "bleed": "3mm"}),
            ("0 or more", {"ids": [self.photo], "gap_y": "-5"}),
            ("no larger than", {"ids": [self.photo], "pane_width": "3000"}),
            ("One pane changes", {"ids": [self.photo], "columns": "1", "rows": "1"}),
            ("not a number", {"ids": [self.photo], "gap_x": "wide"}),
        )
        for words, args in cases:
            with self.subTest(words):
                error = self.refused(words, "split", **args)
                self.assertTrue(error.remedy)
        self.refused("not split", "set_panes", id=piece, field="rows", value="2")
        group = self.split()
        self.assertIsInstance(self.table.item(group), Group)
        self.refused("panes already", "split", ids=[group])
        self.refused("split into panes", "take_out", ids=[group])
        self.refused("gaps leave nothing", "set_panes", id=group, field="gap_x", value="1200")
