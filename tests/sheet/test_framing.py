"""Which photo goes into which outline, what is left uncovered, and what comes out again."""

from sheet import apply, dump, load
from sheet.document.library import PhotoFacts
from sheet.document.model import Group, Photo, Piece
from sheet.document.tree import walk
from sheet.geometry.covering import uncovered
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

    def test_a_photo_alone_goes_into_the_only_outline_over_it(self):
        t = self.table
        photo = t.photo(600, 400, 300, 300)
        self.refused("needs an outline to go into", "put_in", ids=[photo])
        one, other = t.ellipse(200, 200, 100, 100), t.rectangle(700, 600, 50, 50)
        self.assertEqual(t.do("put_in", ids=[photo]), (one,))
        self.assertEqual(len(t.item(one).photos), 1)
        photo = t.photo(900, 700)
        t.rectangle(300, 300, 50, 50)
        # two are over it now
        self.refused("needs an outline to go into", "put_in", ids=[photo])
        self.assertIn(other, t.ids)

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

    def test_a_photo_from_elsewhere_can_be_put_back_where_it_was(self):
        photo = self.table.photo(600, 400, 300, 200)
        frame = self.table.rectangle(800, 600, 50, 50)
        outcome = apply(self.table.sheet, "put_in", {"ids": [photo, frame]})
        self.assertIn("was elsewhere, and was moved to fill", outcome.note)
        self.assertEqual(outcome.offer, ("Put it back where it was", "undo", {}))

    def test_a_photo_that_lies_elsewhere_is_brought_to_cover(self):
        photo = self.table.photo(60, 40, x=50, y=50)
        pane = self.table.rectangle(500, 500, 200, 200)
        self.table.do("put_in", ids=[photo, pane])
        self.near(box_of(self.table.item(pane).photos[0]), (450, 500, 750, 700))

    def test_a_photo_of_one_pane_into_all_of_them_and_more_has_one_id_each(self):
        t = self.table
        whole, other = t.rectangle(100, 100, 300, 200), t.ellipse(600, 100, 100, 100)
        t.do("put_in", ids=[whole, t.photo(600, 400, 250, 200)])
        (panes,) = t.do("split", ids=[whole], columns="2", rows="1")
        photo = t.item(panes).items[1].photos[0].id
        t.do("put_in", ids=[photo, panes, other])
        ids = [i.id for top in t.sheet.items for i, _ in walk(top)]
        self.assertEqual(len(ids), len(set(ids)))
        self.assertEqual(t.item(panes).items[1].photos[0].id, photo)


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

    def test_where_nobody_said_where_it_fills_the_outline(self):
        t = self.table
        # at the sheet's edge, which a photo in the middle of the sheet would hardly meet
        pane = t.rectangle(0, 0, 300, 290)
        t.library = Known(PhotoFacts(FILE, "sea.jpg", 600, 400))
        t.do("place", files=[FILE], into=pane)
        (photo,) = t.item(pane).photos
        for got, want in zip(box_of(photo), (-67.5, 0, 367.5, 290), strict=True):
            self.assertAlmostEqual(got, want, 9)
        self.assertEqual(t.note, "")

    def test_straight_onto_a_frame_replaces_its_photo_and_both_can_be_kept(self):
        t = self.table
        frame = t.rectangle(100, 100, 300, 200)
        t.do("put_in", ids=[frame, t.photo(600, 400)])
        had = t.item(frame).photos[0]
        t.library = Known(PhotoFacts("b" * 64, "dune.jpg", 800, 600))
        t.do("place", files=["b" * 64], x=200, y=200, into=frame)
        self.assertEqual([p.name for p in t.item(frame).photos], ["dune.jpg"])
        self.assertIn("in place of “sea.jpg”", t.note)
        self.assertEqual([i.id for i in t.sheet.items], [frame])
        t.do("keep_both", id=frame, file=had.file)
        below, above = t.item(frame).photos
        self.assertEqual((below.name, below.matrix, above.name), ("sea.jpg", had.matrix, "dune.jpg"))
        self.assertEqual(t.item(frame).tried, ())
        self.refused("no longer remembers that photo", "keep_both", id=frame, file=had.file)
        self.assertEqual(load(dump(t.sheet)), t.sheet)

    def test_beside_a_frame_it_is_offered_for_the_photo_in_it(self):
        t = self.table
        frame = t.rectangle(100, 100, 300, 200)
        t.do("put_in", ids=[frame, t.photo(600, 400)])
        t.library = Known(PhotoFacts("b" * 64, "dune.jpg", 800, 600))
        t.do("place", files=["b" * 64], beside=frame)
        self.assertIn("“dune.jpg” is loose", t.note)
        self.assertEqual(len(t.sheet.items), 2)

    def test_one_as_large_as_the_sheet_is_all_of_it_wherever_it_is_dropped(self):
        t = self.table
        for size, box in (((1000, 800), (0, 0, 1000, 800)), ((2000, 1600), (0, 0, 1000, 800)), ((1000, 400), None)):
            photo = t.photo(*size, x=430, y=390)
            self.assertEqual(box_of(t.item(photo)), box or (-70, 190, 930, 590))

    def test_dropped_on_an_outline_it_is_moved_first(self):
        t = self.table
        piece = t.rectangle(700, 500, 100, 100)
        photo = t.photo(300, 300, x=200, y=200)
        t.do("put_in", ids=[photo, piece], matrix=[1, 0, 0, 1, 500, 300])
        self.assertEqual(box_of(t.item(piece).photos[0]), (550, 350, 850, 650))

    def test_placed_on_the_step(self):
        photo = self.table.photo(60, 40, x=200.4, y=199.7)
        self.near(box_of(self.table.item(photo)), (170, 180, 230, 220))


class Tried(TableCase):
    """A frame remembers the photos it had, each as it sat."""

    def setUp(self):
        super().setUp()
        t = self.table
        self.frame = t.ellipse(200, 150, 300, 300)
        t.do("put_in", ids=[self.frame, t.photo(600, 400, name="sea.jpg")])
        self.others = {"dunes.jpg": "b" * 64, "lamp.jpg": "c" * 64}

    @property
    def photo(self) -> Photo:
        (photo,) = self.table.item(self.frame).photos
        return photo

    def use(self, name: str):
        self.table.library = Known(PhotoFacts(self.others.get(name, FILE), name, 800, 800, False))
        self.table.do("use_photo", file=self.others.get(name, FILE), ids=[self.frame])

    def step(self, by=1, **more):
        self.table.do("try_photo", ids=[self.frame], by=by, **more)
        return self.photo.name

    def test_to_and_fro_nothing_is_lost(self):
        t = self.table
        self.refused("has had no other photo", "try_photo", ids=[self.frame])
        t.do("transform", ids=[self.photo.id], matrix=[1.2, 0, 0, 1.2, -70, -100])
        sat = self.photo
        self.use("dunes.jpg")
        self.use("lamp.jpg")
        lamp = self.photo
        self.assertEqual([self.step(), self.step(), self.step()], ["sea.jpg", "dunes.jpg", "lamp.jpg"])
        self.assertEqual(self.photo, lamp)
        self.assertEqual([self.step(-1), self.step(-1)], ["dunes.jpg", "sea.jpg"])
        self.assertEqual((self.photo.matrix, self.photo.file), (sat.matrix, sat.file))
        self.assertEqual(self.step(file="c" * 64), "lamp.jpg")
        self.refused("shows that photo", "try_photo", ids=[self.frame], file="c" * 64)
        # brought again from the tray it sits as it did
        self.use("sea.jpg")
        self.assertEqual(self.photo.matrix, sat.matrix)
        self.assertEqual(len(t.item(self.frame).tried), 2)
        self.assertEqual(load(dump(t.sheet)), t.sheet)

    def test_the_selected_thing_stays_what_it_is(self):
        self.use("dunes.jpg")
        before = self.photo.id
        self.table.do("try_photo", ids=[before])
        self.assertEqual((self.photo.id, self.table.chosen), (before, (before,)))

    def test_they_move_and_are_refitted_along_and_cover(self):
        t = self.table
        self.use("dunes.jpg")
        (sea,) = t.item(self.frame).tried
        t.do("transform", ids=[self.frame], matrix=[1, 0, 0, 1, 100, 40])
        self.assertEqual(t.item(self.frame).tried[0].matrix[4:], (sea.matrix[4] + 100, sea.matrix[5] + 40))
        t.do("measure", ids=[self.frame], field="width", value="600", part="outline")
        self.step()
        self.assertEqual(uncovered(t.item(self.frame)), 0)

    def test_an_outline_made_of_the_frame_has_them_and_its_parts_do_not(self):
        t = self.table
        self.use("dunes.jpg")
        hole = t.rectangle(320, 270, 50, 50)
        (self.frame,) = t.do("combine", ids=[self.frame, hole], operation="subtract")
        made = t.item(self.frame)
        self.assertEqual((len(made.tried), made.shape.base.tried, made.shape.base.photos), (1, (), ()))
        self.assertEqual(self.step(), "sea.jpg")
        (copy,) = t.do("duplicate", ids=[self.frame])
        t.do("try_photo", ids=[copy])
        ids = [p.id for i in (self.frame, copy) for p in t.item(i).photos]
        self.assertEqual(len(set(ids)), 2)

    def test_so_many_are_remembered_and_one_frame_at_a_time(self):
        t = self.table
        self.others = {f"{k}.jpg": f"{k:064x}" for k in range(20)}
        for name in self.others:
            self.use(name)
        self.assertEqual([p.name for p in t.item(self.frame).tried], [f"{k}.jpg" for k in range(7, 19)])
        self.use("3.jpg")
        other = t.ellipse(600, 150, 100, 100)
        t.do("put_in", ids=[other, t.photo(600, 400)])
        self.refused("one frame at a time", "try_photo", ids=[self.frame, other])
        self.refused("is not in a frame", "try_photo", ids=[t.rectangle(0, 0, 9, 9)])
