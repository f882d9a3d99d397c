"""Which photo goes into which outline, what is left uncovered, and what comes out again."""

from sheet.document.library import PhotoFacts
from sheet.document.model import Group, Photo, Piece
from sheet.geometry.geometry import box_of, outline_of

from .helpers import FILE, Known, TableCase


class Pairs(TableCase):
    def test_one_photo_goes_into_every_outline_each_showing_its_part(self):
        t = self.table
        photo = t.photo(600, 400, x=400, y=300)
        panes = [t.rectangle(150 + 200 * k, 200, 150, 150) for k in range(3)]
        t.do("put_in", ids=[photo, *panes])
        self.assertEqual([len(t.item(p).photos) for p in panes], [1, 1, 1])
        boxes = {box_of(t.item(p).photos[0]) for p in panes}
        # the photo lies where it lay, in all of them
        self.assertEqual(len(boxes), 1)
        self.assertEqual(len({t.item(p).photos[0].id for p in panes}), 3)
        self.assertFalse(any(isinstance(i, Photo) for i in t.sheet.items))

    def test_several_pair_off_in_reading_order(self):
        t = self.table
        panes = {}
        for name, x, y in (("d", 500, 402), ("a", 100, 100), ("c", 100, 400), ("b", 500, 98)):
            panes[name] = t.rectangle(x, y, 100, 100)
        photos = {}
        for name, x, y in (("b", 700, 110), ("c", 110, 700), ("a", 100, 100), ("d", 690, 690)):
            photos[name] = t.photo(50, 50, x=x, y=y, name=f"{name}.jpg")
        t.do("put_in", ids=[*photos.values(), *panes.values()])
        self.assertEqual({n: t.item(p).photos[0].name for n, p in panes.items()}, {n: f"{n}.jpg" for n in "abcd"})

    def test_numbers_that_do_not_pair_off_are_refused(self):
        photos = [self.table.photo(50, 50, x=100 * k, y=100) for k in range(3)]
        panes = [self.table.rectangle(100 * k, 300, 50, 50) for k in range(2)]
        error = self.refused("don’t pair up", "put_in", ids=[*photos, *panes])
        self.assertIn("as many of each", error.remedy)

    def test_a_line_that_holds_no_area_is_refused(self):
        photo = self.table.photo()
        (line,) = self.table.do("draw_curve", d="M100 100H500")
        self.refused("without an inside, even when closed", "put_in", ids=[photo, line])


class Cover(TableCase):
    def test_an_open_line_is_closed_for_it_and_told(self):
        photo = self.table.photo(600, 400, 300, 200)
        (bow,) = self.table.do("draw_curve", d="M200 100C400 100 400 300 200 300")
        self.table.do("put_in", ids=[photo, bow])
        self.assertIn("was open, and was closed for it", self.table.note)
        frame = self.table.item(bow)
        self.assertTrue(outline_of(frame).is_closed)
        self.assertEqual(len(frame.photos), 1)
        (scribble,) = self.table.do(
            "draw_freehand", points=[[500 + k, 100 + (k - 50) ** 2 / 20] for k in range(100)], tolerance=1
        )
        self.table.do("take_out", ids=[bow])
        self.table.do("put_in", ids=[photo, scribble])
        # it stays what it is, and can be opened again
        self.assertTrue(self.table.item(scribble).shape.closed)

    def test_what_is_uncovered_is_told_and_offered(self):
        t = self.table
        photo = t.photo(400, 400, x=200, y=200)
        pane = t.rectangle(200, 0, 400, 400)
        t.do("put_in", ids=[photo, pane])
        self.assertIn("50 %", t.note)
        t.do("settle", ids=[pane], how="cover")
        frame = t.item(pane)
        x0, y0, x1, y1 = box_of(frame.photos[0])
        self.assertTrue(x0 <= 200 and y0 <= 0 and x1 >= 600 and y1 >= 400)

    def test_one_picture_through_several_panes_stays_one(self):
        t = self.table
        photo = t.photo(300, 200, x=500, y=400)
        panes = [t.rectangle(100 + 300 * k, 100, 250, 600) for k in range(3)]
        t.do("put_in", ids=[photo, *panes])
        self.assertIn("is empty", t.note)
        t.do("settle", ids=panes, how="cover")
        (box,) = {box_of(t.item(p).photos[0]) for p in panes}
        self.near(box, (75, 100, 975, 700))

    def test_nothing_is_said_where_it_covers(self):
        photo = self.table.photo(600, 400, x=400, y=300)
        pane = self.table.ellipse(300, 200, 100, 100)
        self.table.do("put_in", ids=[photo, pane])
        self.assertEqual(self.table.note, "")

    def test_a_photo_that_lies_elsewhere_is_brought_to_cover(self):
        photo = self.table.photo(60, 40, x=50, y=50)
        pane = self.table.rectangle(500, 500, 200, 200)
        self.table.do("put_in", ids=[photo, pane])
        self.near(box_of(self.table.item(pane).photos[0]), (450, 500, 750, 700))


class Out(TableCase):
    def test_both_stay_chosen_and_the_photo_lies_above_photos_and_below_pieces(self):
        t = self.table
        low = t.photo(600, 400, x=400, y=300, name="low.jpg")
        photo = t.photo(600, 400, x=400, y=300, name="top.jpg")
        first = t.rectangle(100, 100, 50, 50)
        pane = t.rectangle(300, 200, 200, 200)
        t.do("put_in", ids=[photo, pane])
        inner = t.item(pane).photos[0].id
        chosen = t.do("take_out", ids=[pane])
        self.assertEqual(set(chosen), {inner, pane})
        self.assertEqual(t.ids, [low, inner, first, pane])
        t.do("put_in", ids=list(chosen))
        self.assertEqual(len(t.item(pane).photos), 1)

    def test_a_framed_group_is_a_group_again(self):
        t = self.table
        photo = t.photo(600, 400, x=400, y=300)
        parts = [t.rectangle(300, 200, 100, 100), t.ellipse(420, 200, 100, 100)]
        (group,) = t.do("group", ids=parts)
        area = sum(outline_of(i).area for i in t.item(group).items)
        (frame,) = t.do("put_in", ids=[photo, group])
        self.assertIsInstance(t.item(frame), Piece)
        self.assertAlmostEqual(outline_of(t.item(frame)).area, area, places=3)
        t.do("take_out", ids=[frame])
        again = next(i for i in t.sheet.items if isinstance(i, Group))
        self.assertEqual([i.name for i in again.items], ["Rectangle 1", "Ellipse 1"])

    def test_nothing_inside(self):
        a = self.table.rectangle(0, 0, 50, 50)
        self.refused("no photo inside", "take_out", ids=[a])


class Arriving(TableCase):
    def test_no_photo_arrives_hidden_under_another(self):
        t = self.table
        t.rectangle(0, 0, 50, 50)
        first, second = t.photo(name="a.jpg"), t.photo(name="b.jpg")
        self.assertEqual(t.ids[:2], [first, second])

    def test_straight_into_an_outline(self):
        t = self.table
        pane = t.rectangle(300, 200, 200, 200)
        t.library = Known(PhotoFacts(FILE, "sea.jpg", 600, 400))
        t.do("place", files=[FILE], x=400, y=300, into=pane)
        self.assertEqual(t.ids, [pane])
        self.assertEqual(t.item(pane).photos[0].name, "sea.jpg")

    def test_placed_on_the_step(self):
        photo = self.table.photo(60, 40, x=200.4, y=199.7)
        self.near(box_of(self.table.item(photo)), (170, 180, 230, 220))
