"""How photos sit in the frames of a batch, and the sheets that are made of them."""

import itertools

from sheet.document.library import PhotoFacts
from sheet.document.model import Group
from sheet.export.batch import Seat, Shot, filled, matching, seat_by, variants_of
from sheet.geometry.covering import uncovered
from sheet.geometry.geometry import box_of, window

from .helpers import FILE, TableCase

BOX = (100.0, 100.0, 500.0, 400.0)


def facts(width=1600, height=900, name="sea.jpg"):
    return PhotoFacts(FILE, name, width, height)


class BatchCase(TableCase):
    def frame(self, x=100, y=100, width=400, height=300):
        return self.table.rectangle(x, y, width, height)

    def seated(self, frame, shot):
        return next(i for i in filled(self.table.sheet, [frame], [shot]).items if i.id == frame)


class Rules(BatchCase):
    def test_centred_is_just_what_cover_gives_by_hand(self):
        frame = self.frame()
        batch = self.seated(frame, Shot(facts())).photos[0]
        photo = self.table.photo(1600, 900, 250, 250)
        self.table.do("put_in", ids=[photo, frame])
        self.table.do("settle", ids=[frame], how="cover")
        self.assertEqual(batch.matrix, self.table.item(frame).photos[0].matrix)

    def test_the_point_of_interest_comes_into_the_middle_as_near_as_covering_allows(self):
        frame = self.frame()
        for spot in itertools.product((0.0, 0.3, 0.5, 0.62, 1.0), repeat=2):
            made = self.seated(frame, Shot(facts(), seat_by("interest", BOX, 1600, 900, spot)))
            self.assertEqual(uncovered(made), 0)
            x, _ = made.photos[0].placing(1600 * spot[0], 900 * spot[1])
            # the window is 1200 px of 1600 wide: the point can be in its middle from 600 to 1000
            if 600 / 1600 <= spot[0] <= 1000 / 1600:
                self.assertAlmostEqual(x, 300, delta=1e-6)
            else:
                x0, _, x1, _ = window(made, made.photos[0])
                self.assertAlmostEqual(min(abs(x0), abs(1600 - x1)), 0, delta=1e-6)

    def test_or_onto_the_nearest_third(self):
        frame = self.frame()
        for spot, third in ((0.3, 1 / 3), (0.4, 1 / 3), (0.6, 2 / 3), (0.75, 2 / 3)):
            made = self.seated(frame, Shot(facts(), seat_by("third", BOX, 1600, 900, (spot, 0.5))))
            x, _ = made.photos[0].placing(1600 * spot, 0)
            # a window of 1200 px: it begins at the point less a third of it, from 0 to 400
            start = min(400, max(0, 1600 * spot - 1200 * third))
            self.assertAlmostEqual(x, 100 + (1600 * spot - start) / 3, delta=1e-6)

    def test_by_hand_it_covers_whatever_is_said(self):
        frame = self.frame()
        for zoom, x, y in itertools.product((1, 1.7, 50), (0, 0.2, 1), (0, 1)):
            made = self.seated(frame, Shot(facts(), Seat(zoom, x, y)))
            self.assertEqual(uncovered(made), 0)
            x0, y0, x1, y1 = window(made, made.photos[0])
            self.near((x0, y0), ((1600 - (x1 - x0)) * x, (900 - (y1 - y0)) * y), 1e-5)

    def test_the_nearest_proportion_is_taken(self):
        boxes = {"": (0, 0, 3, 2), "square": (0, 0, 2, 2), "portrait": (0, 0, 2, 3)}
        sizes = {(3000, 2000): "", (16, 9): "", (1000, 1000): "square", (9, 10): "square", (2, 3): "portrait"}
        for size, word in sizes.items():
            self.assertEqual(matching(boxes, *size), word)


class Filling(BatchCase):
    def test_several_frames_take_photos_in_turn_and_the_rest_stay(self):
        frames = [self.frame(100 + 250 * k, 100, 200, 200) for k in range(3)]
        made = filled(self.table.sheet, frames, [Shot(facts(name="a")), Shot(facts(name="b"))])
        self.assertEqual([[p.name for p in i.photos] for i in made.items], [["a"], ["b"], []])

    def test_what_it_had_goes_and_all_else_stays(self):
        frame, other = self.frame(), self.table.ellipse(600, 100, 100, 100)
        photo = self.table.photo(900, 600, 300, 250)
        self.table.do("put_in", ids=[photo, frame])
        made = filled(self.table.sheet, [frame], [Shot(facts(name="new"))])
        self.assertEqual([p.name for p in made.items[0].photos], ["new"])
        self.assertIs(made.items[1], self.table.item(other))

    def test_panes_show_one_picture(self):
        (panes,) = self.table.do("split", ids=[self.frame()], columns="2", rows="2", gap_x="10", gap_y="10")
        made = self.seated(panes, Shot(facts()))
        self.assertIsInstance(made, Group)
        self.assertEqual(len({i.photos[0].matrix for i in made.items}), 1)
        self.assertEqual(max(uncovered(i) for i in made.items), 0)

    def test_a_group_becomes_one_frame(self):
        (group,) = self.table.do("group", ids=[self.frame(), self.table.ellipse(400, 300, 200, 200)])
        made = self.seated(group, Shot(facts()))
        self.assertEqual((made.id, made.grouped, len(made.photos)), (group, True, 1))

    def test_refused(self):
        photo = self.table.photo()
        with self.assertRaisesRegex(Exception, "is a photo, not a frame"):
            filled(self.table.sheet, [photo], [Shot(facts())])
        with self.assertRaisesRegex(Exception, "no longer on the sheet"):
            filled(self.table.sheet, ["i999"], [Shot(facts())])


class Variants(BatchCase):
    def test_the_frame_is_refitted_into_the_others(self):
        frame = self.frame(width=600, height=400)
        made, lost = variants_of(self.table.sheet, frame)
        self.assertEqual(lost, {})
        sizes = {}
        for word, sheet in made.items():
            x0, y0, x1, y1 = box_of(next(i for i in sheet.items if i.id == frame))
            sizes[word] = (x1 - x0, y1 - y0)
        self.assertEqual(sizes, {"": (600, 400), "square": (400, 400), "portrait": (400, 600)})

    def test_a_proportion_that_the_frame_cannot_have_is_told(self):
        base = self.table.rectangle(50, 50, 900, 200)
        word = self.table.do(
            "draw_lettering", text="MARRAM COAST FERRY", font="league-gothic", size="150", x=70, y=200
        )[0]
        frame = self.table.do("combine", ids=[base, word], operation="subtract")[0]
        made, lost = variants_of(self.table.sheet, frame)
        self.assertNotIn("portrait", made)
        self.assertIn("“Lettering 1” would not fit", lost["portrait"])

    def test_those_given_are_put_in_its_place(self):
        frame = self.frame(width=600, height=400)
        other = self.table.item(self.table.ellipse(0, 0, 300, 300))
        made, _ = variants_of(self.table.sheet, frame, {"square": other})
        square = next(i for i in made["square"].items if i.id == frame)
        self.assertEqual(box_of(square), (0, 0, 300, 300))
