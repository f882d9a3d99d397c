"""Photos that cover their outlines, kept so whatever is moved, and seated exactly."""

import math

import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from sheet import SheetError, apply
from sheet.document.library import PhotoFacts
from sheet.document.tree import photos_of
from sheet.geometry.covering import bare, least_scale, moved_to_cover, uncovered
from sheet.geometry.geometry import box_of, covers, outline_of, photo_quad, window

from .helpers import FILE, Known, Table, TableCase


class CoveringCase(TableCase):
    """A round window of 200 px about (300, 300), in a photo of 600 × 400 that covers it."""

    def setUp(self):
        super().setUp()
        self.photo = self.table.photo(600, 400, 300, 300)
        self.frame = self.table.ellipse(200, 200, 200, 200)
        self.table.do("put_in", ids=[self.photo, self.frame])

    def piece(self):
        return self.table.item(self.frame)

    def lies(self):
        return self.piece().photos[0]

    def move(self, *matrix, ids=None, **more):
        self.table.do("transform", ids=ids or [self.photo], matrix=matrix, **more)


class StayFilled(CoveringCase):
    def test_a_move_goes_as_far_as_the_outlines_bounds_and_no_further(self):
        x0, y0, _, _ = box_of(self.lies())
        self.move(1, 0, 0, 1, 50, -20)
        self.near(box_of(self.lies())[:2], (x0 + 50, y0 - 20))
        self.assertEqual(self.table.note, "")
        self.move(1, 0, 0, 1, 5000, 5000)
        self.near(box_of(self.lies())[:2], (200, 200))
        self.assertIn("would no longer fill", self.table.note)
        self.move(1, 0, 0, 1, -5000, -5000)
        self.near(box_of(self.lies())[2:], (400, 400))
        self.assertTrue(covers(self.piece(), self.lies()))

    def test_allowing_gaps_takes_it_where_the_hand_had_it(self):
        x0, y0, _, _ = box_of(self.lies())
        args = {"ids": [self.photo], "matrix": [1, 0, 0, 1, 700, 0]}
        outcome = apply(self.table.sheet, "transform", args)
        label, name, back = outcome.offer
        self.assertEqual((label, name), ("Allow gaps", "stay_filled"))
        self.table.sheet = outcome.sheet
        self.table.do(name, **back)
        self.near(box_of(self.lies())[:2], (x0 + 700, y0))
        self.assertTrue(self.piece().gaps)

    def test_no_photo_is_flattened_or_distorted_by_what_is_sent(self):
        for matrix in ((0, 0, 0, 0, 300, 300), (1, 1, 1, 1, 0, 0), (2, 0, 0, 1, 0, 0), (1, 0, 0.5, 1, 0, 0)):
            args = {"ids": [self.frame], "on": False, "matrices": {self.photo: matrix}}
            with self.assertRaises(SheetError):
                apply(self.table.sheet, "stay_filled", args)
        loose, piece = self.table.photo(90, 90, 700, 600), self.table.rectangle(600, 500, 200, 200)
        with self.assertRaisesRegex(SheetError, "flatten it to nothing"):
            apply(self.table.sheet, "put_in", {"ids": [loose, piece], "matrix": (0, 0, 0, 0, 700, 600)})

    def test_a_frame_resized_along_one_side_is_another_window(self):
        was = self.lies().matrix
        self.move(1.2, 0, 0, 1, -40, 0, ids=[self.frame], verb="resize")
        self.assertEqual(self.lies().matrix, was)
        self.table.do("measure", ids=[self.frame], field="height", value="220")
        self.assertEqual((self.lies().matrix, self.table.note), (was, ""))
        # 600 px wide it fills 720 no more
        self.move(3, 0, 0, 1, -400, 0, ids=[self.frame], verb="resize")
        self.assertAlmostEqual(self.lies().placing.scale, 1.2)
        self.assertIn("larger now", self.table.note)
        self.assertTrue(covers(self.piece(), self.lies()))
        # as a whole it takes its photo along
        self.move(0.5, 0, 0, 0.5, 0, 0, ids=[self.frame], verb="resize")
        self.assertAlmostEqual(self.lies().placing.scale, 0.6)

    def test_it_is_scaled_to_its_least_scale_at_least(self):
        # the window is 200 px high and wide, the photo 400 high
        self.assertAlmostEqual(least_scale(self.piece(), self.lies()), 0.5)
        self.move(0.1, 0, 0, 0.1, 270, 270)
        self.assertAlmostEqual(self.lies().placing.scale, 0.5)
        self.assertTrue(covers(self.piece(), self.lies()))

    def test_turned_a_circle_asks_for_no_more_and_a_square_for_more(self):
        # exact in the photo's frame: a circle's bounds are as wide turned by any angle
        for degrees in (15, 30, 45):
            self.table.do("measure", ids=[self.photo], field="angle", value=str(degrees))
            self.assertTrue(covers(self.piece(), self.lies()))
            self.assertAlmostEqual(least_scale(self.piece(), self.lies()), 0.5, delta=1e-3)
        square = self.table.rectangle(500, 100, 200, 200)
        other = self.table.photo(600, 400, 600, 200)
        self.table.do("put_in", ids=[other, square])
        self.table.do("measure", ids=[other], field="angle", value="45")
        self.assertAlmostEqual(least_scale(self.table.item(square), self.table.item(square).photos[0]),
                               200 * math.sqrt(2) / 400)  # fmt: skip

    def test_the_outline_alone_or_a_node_of_it_takes_the_photo_along(self):
        self.move(1, 0, 0, 1, 400, 0, ids=[self.frame], part="outline")
        self.assertTrue(covers(self.piece(), self.lies()))
        self.near((box_of(self.lies())[2],), (800,))

    def test_gaps_are_allowed_where_one_says_so(self):
        self.table.do("stay_filled", ids=[self.frame], on=False)
        self.move(1, 0, 0, 1, 5000, 0)
        self.assertEqual(uncovered(self.piece()), 1.0)
        self.table.do("stay_filled", ids=[self.photo], on=True)
        self.assertEqual(uncovered(self.piece()), 0.0)
        self.near(box_of(self.lies())[:2], (200, 100 + 0), 1e-6)
        self.table.do("settle", ids=[self.frame], how="fit")
        self.assertIn("switched off", self.table.note)
        self.assertTrue(self.piece().gaps)

    def test_one_that_never_covered_is_left_free(self):
        far = self.table.rectangle(600, 300, 380, 380)
        photo = self.table.photo(600, 400, 700, 300)
        self.table.do("put_in", ids=[photo, far])
        self.assertIn("is empty", self.table.note)
        before = box_of(self.table.item(far).photos[0])
        self.move(1, 0, 0, 1, 3, 0, ids=[photo])
        self.near(box_of(self.table.item(far).photos[0]), (before[0] + 3, *before[1:2], before[2] + 3, before[3]))

    @settings(max_examples=60, deadline=None)
    @given(
        st.floats(-180, 180), st.floats(0.05, 3), st.floats(-900, 900), st.floats(-900, 900), st.sampled_from([-1, 1])
    )
    def test_whatever_is_done_it_covers_by_the_measure_of_shapely(self, degrees, scale, dx, dy, flip):
        table = Table()
        photo = table.photo(600, 400, 300, 300)
        (frame,) = table.do("draw", kind="star", x=200, y=200, width=200, height=180)
        table.do("put_in", ids=[photo, frame])
        c, s = scale * math.cos(math.radians(degrees)), scale * math.sin(math.radians(degrees))
        table.do("transform", ids=[photo], matrix=(c * flip, s * flip, -s, c, dx, dy))
        piece = table.item(frame)
        corners = photo_quad(piece.photos[0]).arrays[0][:, :2]
        quad = shapely.Polygon([tuple(p) for p in corners]).buffer(1e-4)
        star = shapely.Polygon([tuple(p) for p in outline_of(piece).arrays[0][:, :2]])
        self.assertTrue(quad.covers(star))
        # and it was not moved where that was not needed
        self.near(moved_to_cover(piece, piece.photos[0]).matrix, piece.photos[0].matrix)


class Seated(CoveringCase):
    def test_sides_and_middles(self):
        self.table.do("stay_filled", ids=[self.frame], on=False)
        for side, k, want in (("left", 0, 200), ("right", 2, 400), ("top", 1, 200), ("bottom", 3, 400)):
            self.table.do("seat", ids=[self.frame], side=side)
            self.assertAlmostEqual(box_of(self.lies())[k], want)
        self.table.do("seat", ids=[self.photo], side="centre")
        self.table.do("seat", ids=[self.photo], side="middle")
        self.near(box_of(self.lies()), (0, 100, 600, 500))
        self.refused("already there", "seat", ids=[self.photo], side="middle")

    def test_a_point_of_interest_comes_to_the_middle_or_a_third(self):
        self.table.do("seat", ids=[self.photo], point=(250, 150), at=(0.5, 0.5))
        self.near(self.lies().placing(250, 150), (300, 300))
        self.table.do("seat", ids=[self.frame], point=(320, 220), at=(1 / 3, 2 / 3))
        self.near(self.lies().placing(320, 220), (200 + 200 / 3, 200 + 400 / 3))
        # as near as it can come while the photo covers its outline
        self.table.do("seat", ids=[self.photo], point=(0, 0))
        self.near(box_of(self.lies())[:2], (200, 200))

    def test_another_photo_in_its_place_lies_alike(self):
        self.table.do("measure", ids=[self.photo], field="angle", value="20")
        old = self.lies()
        new = self.table.photo(300, 300, 800, 600, name="quay.jpg")
        self.table.library = Known()
        self.table.do("replace_photo", ids=[self.frame, new])
        (photo,) = self.piece().photos
        self.assertEqual(photo.name, "quay.jpg")
        self.assertAlmostEqual(photo.placing.angle, 20)
        self.near(photo.placing(150, 150), old.placing(300, 200))
        self.assertTrue(covers(self.piece(), photo))
        # the old one is in the tray, and not loose on the sheet, where it would be exported
        self.assertEqual([i.id for i in self.table.sheet.items], [self.frame])
        self.refused("no loose photo", "replace_photo", ids=[self.frame])

    def test_the_only_loose_photo_replaces_without_being_selected(self):
        self.table.photo(300, 300, 800, 600, name="quay.jpg")
        self.table.do("replace_photo", ids=[self.frame])
        self.assertEqual([p.name for p in self.piece().photos], ["quay.jpg"])
        self.table.photo(300, 300, 800, 600, name="one.jpg")
        self.table.photo(300, 300, 700, 600, name="two.jpg")
        self.refused("2 photos are loose", "replace_photo", ids=[self.frame])

    def test_a_photo_of_the_tray_goes_where_it_is_wanted(self):
        old = self.lies()
        self.table.library = Known(PhotoFacts(FILE, "quay.jpg", 300, 300, False))
        self.table.do("use_photo", file=FILE, ids=[self.frame])
        (photo,) = self.piece().photos
        self.assertEqual(photo.name, "quay.jpg")
        self.near(photo.placing(150, 150), old.placing(300, 200))
        # as often as one likes: into an outline, which it fills, and loose about a point
        outline = self.table.ellipse(600, 400, 200, 100)
        self.assertEqual(self.table.do("use_photo", file=FILE, ids=[outline]), (outline,))
        self.assertTrue(covers(self.table.item(outline), self.table.item(outline).photos[0]))
        (loose,) = self.table.do("use_photo", file=FILE, x=500, y=300)
        x0, y0, x1, y1 = box_of(self.table.item(loose))
        self.near(((x0 + x1) / 2, (y0 + y1) / 2), (500, 300), 1)
        self.assertEqual(len({p.id for p in photos_of(self.table.sheet.items)}), 3)

    def test_a_photo_of_the_tray_is_refused_in_words(self):
        a, b = self.table.rectangle(0, 0, 9, 9), self.table.rectangle(20, 0, 9, 9)
        self.table.library = Known(PhotoFacts(FILE, "quay.jpg", 300, 300, False))
        self.refused("one frame at a time", "use_photo", file=FILE, ids=[a, b])
        self.refused("not found", "use_photo", file="b" * 64, ids=[a])
        self.table.do("mark", ids=[a], field="locked", on=True)
        self.refused("is locked", "use_photo", file=FILE, ids=[a])


class Bare(CoveringCase):
    def test_what_is_uncovered_is_told_exactly(self):
        self.table.do("stay_filled", ids=[self.frame], on=False)
        self.assertTrue(bare(self.piece()).is_empty)
        x0 = box_of(self.lies())[0]
        self.move(1, 0, 0, 1, 300 - x0, 0)
        # half of the circle lies left of the photo
        self.assertAlmostEqual(uncovered(self.piece()), 0.5, delta=1e-6)
        self.assertIsNotNone(window(self.piece(), self.lies()))
