"""Refit: margins, radii, ornaments and teeth keep their sizes to 1e-9, there and back."""

import math
from itertools import pairwise

import outline
from sheet import CutList
from sheet.document.kinds import EdgeRun
from sheet.geometry.anchor_plan import parts_of
from sheet.geometry.covering import uncovered
from sheet.geometry.geometry import box_of, outline_of
from sheet.geometry.holes import holes
from sheet.geometry.panes import pane_size

from .helpers import TableCase


class RefitCase(TableCase):
    def combine(self, operation, *ids):
        return self.table.do("combine", ids=list(ids), operation=operation)[0]

    def refit(self, item, width, height, **more):
        return self.table.do("refit", id=item, width=width, height=height, **more)[0]

    def margins(self, item):
        found = [m.margins for m in holes(self.table.item(item), 10)]
        return [(m.left, m.right, m.top, m.bottom) for m in found]

    def there_and_back(self, item, width, height):
        """Refit, and back to the size it had: the outline must be the same; return it as it was between."""
        before = outline_of(self.table.item(item))
        x0, y0, x1, y1 = before.bounds
        self.refit(item, width, height)
        between = self.table.item(item)
        self.refit(item, x1 - x0, y1 - y0)
        again = outline_of(self.table.item(item))
        self.assertEqual(again.node_count, before.node_count)
        self.assertLess(abs(again.arrays[0] - before.arrays[0]).max(), 1e-9)
        return between

    def frame(self):
        """A rounded frame with a window in it, a disc at its left edge and lettering in its corner."""
        outer = self.table.do("draw", kind="rectangle", x=100, y=100, width=600, height=400, details={"radius": "40"})[
            0
        ]
        window = self.table.rectangle(150, 150, 500, 300)
        item = self.combine("subtract", outer, window)
        disc = self.table.ellipse(70, 270, 60, 60)
        return self.combine("union", item, disc)


class Holding(RefitCase):
    def test_what_spans_lengthens_and_what_lies_at_a_side_holds_to_it(self):
        item = self.frame()
        holds = {p.item.name: (p.holds.x, p.holds.y) for p in parts_of(self.table.item(item))}
        self.assertEqual(holds["Ellipse 1"], ("near", "middle"))
        self.assertEqual(holds["Rectangle 2"], ("both", "both"))

    def test_a_centred_hole_keeps_its_margins_and_stays_round_where_it_is_small(self):
        base, hole = self.table.rectangle(100, 100, 600, 400), self.table.ellipse(350, 250, 100, 100)
        item = self.combine("subtract", base, hole)
        self.refit(item, 900, 300)
        (inner,) = outline.divide([outline.union([outline_of(self.table.item(item))])])[:1]
        self.assertEqual(box_of(self.table.item(item)), (100, 100, 1000, 400))
        self.near(self.margins(item)[0], (400, 400, 100, 100), 1e-9)
        # the area of a disc of 50 px is what it was: π r²
        self.assertAlmostEqual(900 * 300 - inner.area, math.pi * 2500, delta=0.01 * math.pi * 2500)

    def test_what_would_be_stretched_keeps_its_form_even_where_it_spans_the_whole(self):
        base, disc = self.table.rectangle(100, 100, 600, 400), self.table.ellipse(560, 180, 240, 240)
        item = self.combine("union", base, disc)
        between = self.there_and_back(item, 700, 260)
        part = between.shape.steps[0].member
        self.near(box_of(part), (560, 110, 800, 350), 1e-9)
        # one that is all of a frame is as large as that
        round_ = self.combine(
            "subtract", self.table.ellipse(100, 100, 400, 400), self.table.ellipse(120, 120, 360, 360)
        )
        self.refit(round_, 600, 400)
        self.near(box_of(self.table.item(round_).shape.steps[0].member), (120, 120, 680, 480), 1e-9)

    def test_margins_radii_and_the_ornament_keep_their_sizes(self):
        item = self.frame()
        self.near(self.margins(item)[0][2:], (50, 50), 1e-9)
        disc = next(p.item for p in parts_of(self.table.item(item)) if p.item.name == "Ellipse 1")
        area = outline_of(disc).area
        between = self.there_and_back(item, 1234.5, 777.25)
        self.near(box_of(between), (70, 100, 70 + 1234.5, 100 + 777.25), 1e-9)
        disc = next(p.item for p in parts_of(between) if p.item.name == "Ellipse 1")
        self.assertAlmostEqual(outline_of(disc).area, area, delta=1e-9 * area)
        outer = between.shape.base.shape.base
        self.assertEqual(outer.shape.radii, (40, 40, 40, 40))
        window = (lambda m: (m.left, m.right, m.top, m.bottom))(holes(between, 1)[0].margins)
        # left is counted from the disc's extreme
        self.near(window, (80, 50, 50, 50), 1e-9)

    def test_lettering_keeps_its_size_and_its_side(self):
        base = self.table.rectangle(100, 100, 600, 400)
        font = next(iter(outline.FONTS))
        (text,) = self.table.do("draw_lettering", text="MARRAM", font=font, size=40, x=120, y=480)
        before = box_of(self.table.item(text))
        item = self.combine("subtract", base, text)
        between = self.there_and_back(item, 300, 900)
        member = between.shape.steps[0].member
        now = box_of(member)
        self.assertEqual(member.shape.size, 40)
        # as far from the left and the bottom as it was
        self.near((now[0] - 100, 1000 - now[3]), (before[0] - 100, 500 - before[3]), 1e-9)

    def test_borders_and_finishes_keep_their_widths(self):
        item = self.frame()
        self.table.do("paint", ids=[item], field="stroke", value="#b5432a")
        self.table.do("paint", ids=[item], field="stroke_width", value="6")
        self.table.do("add_finish", id=item, kind="offset", value="12")
        self.there_and_back(item, 1000, 600)
        now = self.table.item(item)
        self.assertEqual((now.paint.stroke_width, now.shape.finishes[0].value), (6, 12))

    def test_a_hold_can_be_said_and_taken_back(self):
        item = self.frame()
        disc = next(p.item.id for p in parts_of(self.table.item(item)) if p.item.name == "Ellipse 1")
        self.refit(item, 900, 400, holds={disc: ["far", "near"]})
        part = next(p for p in parts_of(self.table.item(item)) if p.item.id == disc)
        self.assertEqual((part.holds.x, part.holds.y), ("far", "near"))
        self.refit(item, 950, 400, holds={disc: [None, None]})
        self.refused(
            "can’t be anchored|can’t get longer",
            "refit",
            id=item,
            width=900,
            height=400,
            holds={"i999": ["far", "far"]},
        )
        self.refused("hold", "refit", id=item, width=900, height=400, holds={disc: ["left", "far"]})

    def test_a_hole_stays_inside_whatever_was_refitted_before(self):
        item = self.combine("subtract", self.table.rectangle(100, 100, 400, 300), self.table.ellipse(420, 120, 60, 60))
        for width in (300, 600):
            self.refit(item, width, 300)
            # anchored to the right from the first refit on: 60 px, the margin of 20 and a quarter of it
            self.refused(
                "can’t be less than 85 px wide: “Ellipse 1” would not fit", "refit", id=item, width=40, height=300
            )
            self.refit(item, 85, 300)
            self.near(self.margins(item)[0], (5, 20, 20, 220), 1e-9)
            self.refit(item, 400, 300)

    def test_a_guess_is_made_anew_once_the_part_is_moved(self):
        item = self.combine("subtract", self.table.rectangle(100, 100, 400, 300), self.table.ellipse(420, 120, 60, 60))
        hole = self.table.item(item).shape.steps[0].member.id
        self.refit(item, 900, 300)
        self.near(box_of(self.table.item(item).shape.steps[0].member)[:2], (920, 120), 1e-9)
        # to the left, by hand, by its number, and aligned; the outline moved as a whole keeps what was guessed
        for how in (
            ("transform", {"ids": [hole], "matrix": (1, 0, 0, 1, -800, 0)}),
            ("measure", {"ids": [hole], "field": "x", "value": "120"}),
        ):
            with self.subTest(how[0]):
                table = self.table.sheet
                self.table.do(how[0], **how[1])
                self.refit(item, 1200, 300)
                self.near(box_of(self.table.item(item).shape.steps[0].member)[:2], (120, 120), 1e-9)
                self.table.sheet = table
        self.table.do("transform", ids=[item], matrix=(1, 0, 0, 1, 50, 0))
        self.refit(item, 500, 300)
        self.near(box_of(self.table.item(item).shape.steps[0].member)[:2], (570, 120), 1e-9)

    def test_what_was_anchored_by_hand_stays_so_when_it_is_moved(self):
        item = self.combine("subtract", self.table.rectangle(100, 100, 400, 300), self.table.ellipse(420, 120, 60, 60))
        hole = self.table.item(item).shape.steps[0].member.id
        self.refit(item, 900, 300, holds={hole: ["far", "near"]})
        self.table.do("transform", ids=[hole], matrix=(1, 0, 0, 1, -700, 0))
        self.refit(item, 1200, 300)
        self.near(box_of(self.table.item(item).shape.steps[0].member)[:2], (520, 120), 1e-9)

    def test_parts_anchored_by_hand_may_come_apart_and_that_is_said(self):
        item = self.frame()
        disc = next(p.item.id for p in parts_of(self.table.item(item)) if p.item.name == "Ellipse 1")
        self.refit(item, 900, 400, holds={disc: ["far", "near"]})
        self.assertIn("At that size “Rectangle 1” is 2 shapes with 1 hole, not 1 shape with 1 hole.", self.table.note)

    def test_scaled_parts_are_told(self):
        item = self.frame()
        disc = next(p.item.id for p in parts_of(self.table.item(item)) if p.item.name == "Ellipse 1")
        self.refit(item, 900, 800, holds={disc: ["scale", "scale"]})
        self.assertIn("“Ellipse 1” is stretched. Anchor a part to a side or the middle to avoid that.", self.table.note)

    def test_an_outline_within_an_outline_goes_along_as_it_holds(self):
        outer = self.table.rectangle(100, 100, 600, 400)
        rosette = self.combine("union", self.table.ellipse(600, 120, 60, 60), self.table.ellipse(630, 120, 60, 60))
        item = self.combine("subtract", outer, rosette)
        between = self.there_and_back(item, 800, 400)
        inner = between.shape.steps[0].member
        self.assertIsInstance(inner.shape, CutList)
        self.near(box_of(inner), (800, 120, 890, 180), 1e-9)


class Plain(RefitCase):
    def test_bands_are_found_and_go_along(self):
        item = self.table.do("draw", kind="ready", ready="ticket", x=100, y=100, width=280, height=160)[0]
        between = self.there_and_back(item, 500, 300)
        # the notches are as round and as deep as they were: 28 px
        self.near(box_of(between), (100, 100, 600, 400), 1e-9)
        self.assertAlmostEqual(500 * 300 - outline_of(between).area, math.pi * 28**2, delta=0.01 * math.pi * 28**2)

    def test_turned_mirrored_and_in_an_outline_too(self):
        for m in ((0, 1, -1, 0, 500, 100), (-1, 0, 0, 1, 800, 0), (0, -2, 2, 0, 0, 900)):
            item = self.table.do("draw", kind="ready", ready="ticket", x=100, y=100, width=280, height=160)[0]
            self.table.do("transform", ids=[item], matrix=list(m))
            x0, y0, x1, y1 = box_of(self.table.item(item))
            between = self.there_and_back(item, x1 - x0 + 90, y1 - y0 + 50)
            self.near(box_of(between), (x0, y0, x1 + 90, y1 + 50), 1e-9)
            notch = 28 * math.sqrt(abs(m[0] * m[3] - m[1] * m[2]))
            lost = (x1 - x0 + 90) * (y1 - y0 + 50) - outline_of(between).area
            self.assertAlmostEqual(lost, math.pi * notch**2, delta=0.01 * math.pi * notch**2)

    def test_bands_can_be_set_and_a_curve_across_one_is_told(self):
        item = self.table.do("draw", kind="ready", ready="ticket", x=100, y=100, width=280, height=160)[0]
        self.refit(item, 400, 160, x_bands=[[140, 160]])
        self.assertNotIn("curve", self.table.note)
        self.assertEqual(self.table.item(item).holds.x_bands, ((40, 180),))
        self.refit(item, 500, 160, x_bands=[[105, 160]])
        self.assertIn("2 curves cross its bands", self.table.note)
        self.refused("over one another", "refit", id=item, width=600, height=160, x_bands=[[105, 160], [150, 190]])

    def test_a_plain_outline_without_a_straight_run_is_scaled(self):
        item = self.table.do("draw", kind="ready", ready="heart", x=100, y=100, width=200, height=200)[0]
        self.refit(item, 400, 200)
        self.assertEqual(box_of(self.table.item(item)), (100, 100, 500, 300))

    def test_no_smaller_than_its_straight_runs(self):
        item = self.table.do("draw", kind="ready", ready="ticket", x=100, y=100, width=280, height=160)[0]
        error = self.refused("can’t be less than 60.48 px wide: its straight runs are too short", "refit",
                             id=item, width=40, height=160)  # fmt: skip
        self.assertEqual(error.field, "width")


class Teeth(RefitCase):
    def edged(self, kind="scallop"):
        base = self.table.rectangle(100, 100, 600, 400)
        return self.table.do("draw_edge", id=base, kind=kind, pitch=20)[0]

    def pitches(self, item):
        """The distances of the teeth's feet along the top."""
        path = outline_of(self.table.item(item))
        line = self.table.item(item).shape.base
        y = self.table.item(item).matrix[5]
        feet = sorted(x for x, at in (tuple(r[:2]) for r in path.arrays[0].tolist()) if abs(at - y) < 1e-9)
        self.assertTrue(line)
        return [b - a for a, b in pairwise(feet)]

    def test_more_teeth_and_not_wider_ones(self):
        for kind in ("zigzag", "scallop", "wave"):
            item = self.edged(kind)
            x0, y0, x1, y1 = box_of(self.table.item(item))
            before = outline_of(self.table.item(item)).node_count
            between = self.there_and_back(item, x1 - x0 + 200, y1 - y0)
            self.assertIsInstance(between.shape, EdgeRun)
            self.assertEqual(between.shape.pitch, 20)
            self.near((between.shape.base.width, between.shape.base.height), (800, 400), 1e-9)
            self.assertGreater(outline_of(between).node_count, before)

    def test_the_pitch_is_what_it_was_to_1e_9(self):
        item = self.edged("zigzag")
        x0, y0, x1, y1 = box_of(self.table.item(item))
        self.refit(item, x1 - x0 + 260, y1 - y0 - 140)
        now = self.pitches(item)
        self.assertEqual(len(now), 43)
        for p in now:
            self.assertAlmostEqual(p, 20, delta=1e-9)

    def test_where_they_do_not_come_out_even_they_end_evenly(self):
        item = self.edged("zigzag")
        x0, y0, x1, y1 = box_of(self.table.item(item))
        self.refit(item, x1 - x0 + 87, y1 - y0)
        now = self.pitches(item)
        self.assertLess(max(now) - min(now), 1e-9)
        # half a tooth in all is divided among them
        self.assertLess(abs(now[0] - 20), 20 / (2 * len(now)))
        self.near(box_of(self.table.item(item)), (x0, y0, x1 + 87, y1), 1e-6)


class WithPhotos(RefitCase):
    def test_the_photo_covers_as_it_did_there_and_back(self):
        frame = self.frame()
        photo = self.table.photo(1600, 1000, 380, 300)
        self.table.do("put_in", ids=[photo, frame])
        self.table.do("settle", ids=[frame], how="cover")
        before = self.table.item(frame).photos[0].matrix
        between = self.there_and_back(frame, 500, 900)
        self.assertEqual(uncovered(between), 0)
        self.near(self.table.item(frame).photos[0].matrix, before, 1e-6)

    def test_panes_keep_their_gaps(self):
        base = self.table.rectangle(100, 100, 600, 400)
        photo = self.table.photo(1600, 1000, 380, 300)
        self.table.do("put_in", ids=[photo, base])
        (group,) = self.table.do("split", ids=[base], columns="3", rows="2", gap_x="12", gap_y="8")
        self.refit(group, 900, 300)
        now = self.table.item(group)
        self.near(box_of(now), (100, 100, 1000, 400), 1e-9)
        self.assertEqual((now.panes.gap_x, now.panes.gap_y), (12, 8))
        self.near(pane_size(now.panes), ((900 - 24) / 3, 146), 1e-9)
        first, second = (box_of(i) for i in now.items[:2])
        self.assertAlmostEqual(second[0] - first[2], 12, delta=1e-9)
        self.assertEqual(max(uncovered(i) for i in now.items), 0)
        self.assertEqual({i.photos[0].matrix for i in now.items}, {now.items[0].photos[0].matrix})

    def test_panes_of_a_size_of_their_own_keep_their_gaps_and_the_room_around_them(self):
        base = self.table.rectangle(100, 100, 600, 400)
        sizes = {"pane_width": "150", "pane_height": "120", "gap_x": "20", "gap_y": "10"}
        (group,) = self.table.do("split", ids=[base], columns="3", rows="2", **sizes)
        before = box_of(self.table.item(group))
        self.refit(group, before[2] - before[0] + 90, before[3] - before[1] + 40)
        now = self.table.item(group)
        first, second = (box_of(i) for i in now.items[:2])
        # three rows and columns fit, and share the difference
        self.assertEqual((now.panes.columns, now.panes.rows), (3, 3))
        self.near((second[0] - first[2], first[2] - first[0], first[3] - first[1]), (20, 180, 120 + 40 / 3), 1e-9)
        self.near(box_of(now), (*before[:2], before[2] + 90, before[3] + 40), 1e-9)
        self.refused("Nothing of the panes|would be left", "refit", id=group, width=10, height=10)

    def test_a_group_too(self):
        base, tag = self.table.rectangle(100, 100, 600, 400), self.table.ellipse(640, 110, 50, 50)
        (group,) = self.table.do("group", ids=[base, tag])
        self.refit(group, 800, 500)
        self.assertEqual(box_of(self.table.item(group).items[0]), (100, 100, 900, 600))
        self.assertEqual(box_of(self.table.item(group).items[1]), (840, 110, 890, 160))
        self.assertEqual(self.table.item(group).items[1].holds.x, "far")


class Refused(RefitCase):
    def test_what_cannot_be_refitted_is_told(self):
        photo = self.table.photo()
        self.refused("is a photo, which has one proportion", "refit", id=photo, width=100, height=100)
        frame = self.frame()
        self.refused("greater than 0", "refit", id=frame, width=0, height=100)
        self.refused("that size already", "refit", id=frame, width="100%", height="100%")
        self.refused(
            "can’t be less than 140 px wide: nothing of “Rectangle 2” would be left",
            "refit",
            id=frame,
            width=120,
            height=400,
        )
        inner = self.table.item(frame).shape.steps[0].member.id
        self.refused("inside something else", "refit", id=inner, width=100, height=100)
        self.table.do("mark", ids=[frame], field="locked", on=True)
        self.refused("locked", "refit", id=frame, width=100, height=100)

    def test_a_part_that_would_stick_out_is_named_with_the_least_size(self):
        arch = self.combine("union", self.table.rectangle(600, 800, 500, 700), self.table.ellipse(600, 400, 500, 800))
        error = self.refused("its part “Ellipse 1” would stick out", "refit", id=arch, width="800", height="450")
        self.assertIn("less than 800 px high", error.message)
