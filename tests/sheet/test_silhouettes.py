"""Silhouettes on a sheet: what they are made of, what is stored of them, and how they are changed."""

import unittest

import outline
from sheet import Piece, SheetError, dump, load
from sheet.document.kinds import BrushMark, Silhouette
from sheet.geometry.geometry import box_of, outline_of
from tests.sheet.helpers import Table


class SilhouetteCase(unittest.TestCase):
    def setUp(self):
        self.t = Table("200", "160", "mm", "254")  # ten px to the mm
        self.photo = self.t.photo(600, 400, 1000, 800)
        # half as large, so that a mm is twenty px of the photo
        self.t.do("measure", ids=[self.photo], field="width", value="30mm", keep_proportion=True, about=(0, 0))
        self.shelf = self.t.library

    def trace(self, **args) -> Piece:
        (made,) = self.t.do("silhouette", id=self.photo, **args)
        return self.t.item(made)


class Made(SilhouetteCase):
    def test_lies_over_its_photo_where_it_was_seen(self):
        piece = self.trace()
        self.assertIsInstance(piece.shape, Silhouette)
        x0, y0, x1, y1 = box_of(self.t.item(self.photo))
        # the ellipse of the helper, 200 by 160 px about (300, 200) of the photo
        for got, want in zip(box_of(piece), (x0 + 100, y0 + 60, x0 + 200, y0 + 140), strict=True):
            self.assertAlmostEqual(got, want, 6)
        self.assertEqual([i.id for i in self.t.sheet.items], [self.photo, piece.id])
        self.assertEqual(self.t.chosen, (piece.id,))
        self.assertEqual(load(dump(self.t.sheet)), self.t.sheet)

    def test_numbers_are_lengths_of_the_sheet_and_kept_in_px_of_the_photo(self):
        self.trace(smooth="0.5", grow="-1mm/4", smallest="1 mm", deviation="1px", tolerance="20 %", level="100/4")
        how = self.shelf.asked[-1]
        self.assertAlmostEqual(how.smooth, 10)
        self.assertAlmostEqual(how.grow, -5)
        self.assertAlmostEqual(how.smallest, 20)
        self.assertAlmostEqual(how.deviation, 2)
        self.assertEqual((how.tolerance, how.level), (0.2, 0.25))
        self.trace()
        how = self.shelf.asked[-1]
        self.assertEqual((how.level, how.smooth, how.grow), (None, 0, 0))
        self.assertAlmostEqual(how.smallest, 6)
        self.assertAlmostEqual(how.deviation, 0.5)

    def test_places_are_where_the_hand_pointed_though_the_photo_is_turned(self):
        self.t.do("transform", ids=[self.photo], matrix=(0, 1, -1, 0, 1800, 0))
        m = self.t.item(self.photo).placing
        box = [m(*p) for p in ((100, 50), (500, 50), (500, 350), (100, 350))]
        stroke = {"points": [m(200, 100), m(300, 100)], "radius": 4, "adds": False}
        self.trace(way="subject", at=m(10, 20), loop=box, marks=[stroke])
        how = self.shelf.asked[-1]
        for got, want in zip(
            (how.at, *how.loop), ((10, 20), (100, 50), (500, 50), (500, 350), (100, 350)), strict=True
        ):
            self.assertAlmostEqual(got[0], want[0], 6)
            self.assertAlmostEqual(got[1], want[1], 6)
        self.assertIsInstance(how.marks[0], BrushMark)
        self.assertAlmostEqual(how.marks[0].radius, 8)
        self.assertAlmostEqual(how.marks[0].points[1][0], 300)

    def test_takes_its_photo_by_one_press(self):
        from sheet import apply

        outcome = apply(self.t.sheet, "silhouette", {"id": self.photo}, self.shelf)
        words, command, args = outcome.offer
        self.assertEqual(words, "Put the photo in")
        after = apply(outcome.sheet, command, args, self.shelf).sheet
        (frame,) = after.items
        self.assertEqual(frame.kind, "frame")
        self.assertEqual(frame.photos[0].matrix, self.t.item(self.photo).matrix)

    def test_of_a_photo_in_a_frame_lies_over_the_frame(self):
        wall = self.t.rectangle(900, 700, 100, 100)
        self.t.do("put_in", ids=[self.photo, wall])
        self.t.rectangle(0, 0, 10, 10)
        (made,) = self.t.do("silhouette", id=wall)
        self.assertEqual([i.id for i in self.t.sheet.items][:2], [wall, made])
        (again,) = self.t.do("silhouette", id=self.photo)
        self.assertEqual(self.t.sheet.items[1].id, again)

    def test_of_a_locked_photo_too_since_that_is_only_looked_at(self):
        self.t.do("mark", ids=[self.photo], field="locked", on=True)
        self.assertEqual(self.trace().shape.name, "sea.jpg")


class Changed(SilhouetteCase):
    def test_again_where_it_is_now_with_what_it_had(self):
        piece = self.trace()
        self.t.do("paint", ids=[piece.id], field="fill", value="#112233")
        self.t.do("transform", ids=[piece.id], matrix=(1, 0, 0, 1, 50, 0))
        self.t.do("put_in", ids=[piece.id, self.photo])
        self.shelf.traced = outline.ellipse(50, 50, 300, 200)
        self.t.library = self.shelf
        self.t.do("silhouette", id=piece.id, level="30")
        now = self.t.item(piece.id)
        self.assertEqual(now.paint.fill, "#112233")
        self.assertEqual(len(now.photos), 1)
        self.assertEqual(now.shape.tracing.level, 0.3)
        middle = [(a + b) / 2 for a, b in zip(box_of(now)[:2], box_of(now)[2:], strict=True)]
        was = [(a + b) / 2 for a, b in zip(box_of(piece)[:2], box_of(piece)[2:], strict=True)]
        self.assertAlmostEqual(middle[0], was[0] + 50, 6)
        self.assertAlmostEqual(box_of(now)[2] - box_of(now)[0], 50, 6)

    def test_stays_live_as_a_step_of_an_outline(self):
        piece = self.trace()
        x0, y0, x1, y1 = box_of(piece)
        plate = self.t.rectangle(x0 - 50, y0 - 50, 300, 300)
        (both,) = self.t.do("combine", ids=[plate, piece.id], operation="subtract", base=plate)
        area = outline_of(self.t.item(both)).area
        self.shelf.traced = outline.ellipse(50, 40, 300, 200)
        self.t.library = self.shelf
        self.t.do("silhouette", id=piece.id, way="tone", at=(1000, 800))
        smaller = outline.ellipse(100, 80).area / 4 - outline.ellipse(50, 40).area / 4
        self.assertAlmostEqual(outline_of(self.t.item(both)).area, area + smaller, delta=0.01)

    def test_a_locked_one_is_not(self):
        piece = self.trace()
        self.t.do("mark", ids=[piece.id], field="locked", on=True)
        with self.assertRaisesRegex(SheetError, "locked"):
            self.t.do("silhouette", id=piece.id)


class Refused(SilhouetteCase):
    def test_what_cannot_be_traced_and_numbers_that_are_none(self):
        star = self.t.do("draw", kind="star", x=0, y=0, width=50, height=50)[0]
        before = self.t.sheet
        for args, words, field in (
            ({"id": star}, "so there is nothing to trace", "id"),
            ({"id": "i999"}, "no longer on the sheet", "ids"),
            ({"level": "dark"}, "is not a number", "level"),
            ({"level": "140"}, "from 0 to 100 %", "level"),
            ({"tolerance": "-3"}, "from 0 to 100 %", "tolerance"),
            ({"smooth": "-1"}, "smoothing must be", "smooth"),
            ({"smallest": "1e9"}, "", "smallest"),
            ({"grow": "90mm"}, "half the photo", "grow"),
            ({"deviation": "two"}, "is not a number", "deviation"),
            ({"way": "magic"}, "", "way"),
            ({"at": (1e300, 0)}, "", "at"),
            ({"marks": [{"points": [(0, 0)] * 1500, "radius": 1}] * 20}, "too many strokes", "marks"),
        ):
            with self.subTest(**{k: str(v)[:40] for k, v in args.items()}):
                with self.assertRaises(SheetError) as caught:
                    self.t.do("silhouette", **{"id": self.photo, **args})
                self.assertIn(words, str(caught.exception))
                self.assertTrue(caught.exception.remedy)
                self.assertEqual(caught.exception.field, field)
        self.assertIs(self.t.sheet, before)

    def test_a_page_cannot_send_a_path(self):
        for more in ("path", "d", "tracing", "changed"):
            with self.subTest(more), self.assertRaises(SheetError):
                self.t.do("silhouette", id=self.photo, **{more: "M0 0H9V9Z"})
