"""Shelf items, drawn and updated to their newest version."""

from sheet import CutList, Piece, Rectangle
from sheet.commands.shelving import bare
from sheet.document.model import Group
from sheet.document.tree import walk
from sheet.geometry.geometry import box_of, outline_of

from .helpers import Known, Table, TableCase

KEY = "7" * 32


class ShelfCase(TableCase):
    def setUp(self):
        super().setUp()
        self.first = self.card(0)
        self.table.library = Known()
        self.table.library.kept[KEY] = [self.first]

    def card(self, flourishes):
        """A rounded card of 400 by 300 px with a hole in its corner and a border, and discs on its right side."""
        t = Table()
        base = t.do("draw", kind="rectangle", x=100, y=100, width=400, height=300, details={"radius": "40"})[0]
        hole = t.ellipse(400, 150, 60, 60)
        item = t.do("combine", ids=[base, hole], operation="subtract")[0]
        for k in range(flourishes):
            disc = t.ellipse(480, 200 + 60 * k, 40, 40)
            item = t.do("combine", ids=[item, disc], operation="union")[0]
        t.do("paint", ids=[item], field="stroke", value="#b5432a")
        t.do("paint", ids=[item], field="stroke_width", value="8")
        return bare(t.item(item))

    def newer(self):
        self.table.library.kept[KEY].append(self.card(2))

    def drawn(self, x=50, y=60, width=200, height=150, **more):
        return self.table.do("draw_shelved", item=KEY, x=x, y=y, width=width, height=height, **more)[0]


class Keeping(ShelfCase):
    def test_bare_has_no_photos_and_lies_at_the_origin(self):
        frame = self.table.rectangle(100, 100, 300, 200)
        photo = self.table.photo(900, 600, 250, 200)
        self.table.do("put_in", ids=[photo, frame])
        kept = bare(self.table.item(frame))
        self.assertEqual((kept.photos, box_of(kept)), ((), (0, 0, 300, 200)))
        with self.assertRaisesRegex(Exception, "is a photo"):
            bare(self.table.item(self.table.photo()))
        line = self.table.do("draw_curve", d="M0 0H100")[0]
        with self.assertRaisesRegex(Exception, "no area"):
            bare(self.table.item(line))

    def test_a_group_leaves_its_loose_photos(self):
        photo, piece = self.table.photo(), self.table.rectangle(10, 10, 50, 50)
        (group,) = self.table.do("group", ids=[photo, piece])
        self.assertEqual([i.name for i in bare(self.table.item(group)).items], ["Rectangle 1"])


class Drawing(ShelfCase):
    def test_it_stays_live_and_all_of_it_grows_along(self):
        item = self.table.item(self.drawn())
        self.assertEqual(box_of(item), (50, 60, 250, 210))
        self.assertIsInstance(item.shape, CutList)
        self.assertEqual(item.shape.base.shape.radii, (20, 20, 20, 20))
        self.assertEqual(item.paint.stroke_width, 4)
        self.assertEqual((item.name, item.shelf_link.item, item.shelf_link.version), ("Kept card 1", KEY, 1))
        self.assertEqual(item.shelf_link.matrix, (0.5, 0, 0, 0.5, 50, 60))

    def test_by_numbers_with_units_and_twice_with_ids_of_their_own(self):
        a, b = self.drawn(width="1in", height="50%"), self.drawn()
        self.assertEqual(box_of(self.table.item(a)), (50, 60, 150, 460))
        self.assertNotEqual(self.table.item(a).shape.base.id, self.table.item(b).shape.base.id)
        self.refused("greater than 0", "draw_shelved", item=KEY, x=0, y=0, width=0, height=5)
        self.refused("no longer on the shelf", "draw_shelved", item="b" * 32, x=0, y=0, width=9, height=9)

    def test_in_a_box_of_another_proportion_it_is_refitted_and_stretched_if_one_says_so(self):
        item = self.table.item(self.drawn(width=400, height=150))
        self.assertEqual(box_of(item), (50, 60, 450, 210))
        # half as large, as in a box 200 px wide, and then longer: the radii are those of that, and the hole is round
        self.assertEqual(item.shape.base.shape.radii, (20, 20, 20, 20))
        hole = box_of(item.shape.steps[0].member)
        self.assertAlmostEqual(hole[2] - hole[0], hole[3] - hole[1], delta=1e-9)
        self.assertEqual(item.shelf_link.matrix, (0.5, 0, 0, 0.5, 50, 60))
        stretched = box_of(self.table.item(self.drawn(width=400, height=150, stretch=True)).shape.steps[0].member)
        self.assertAlmostEqual(stretched[2] - stretched[0], 2 * (stretched[3] - stretched[1]), delta=1e-9)

    def test_into_an_outline_with_the_operation_at_hand(self):
        plate = self.table.rectangle(0, 0, 600, 500)
        made = self.drawn(100, 100, 400, 300, into=plate, operation="subtract")
        left = outline_of(self.table.item(made)).area
        self.assertAlmostEqual(left, 600 * 500 - outline_of(self.first).area, delta=1e-3)

    def test_where_it_came_from_goes_along(self):
        item = self.drawn()
        self.table.do("transform", ids=[item], matrix=[0, 2, -2, 0, 700, 0])
        m = self.table.item(item).shelf_link.matrix
        self.assertEqual([round(v, 9) for v in m], [0, 1, -1, 0, 580, 100])
        copy = self.table.do("duplicate", ids=[item])[0]
        self.assertEqual(self.table.item(copy).shelf_link.version, 1)


class TakingOver(ShelfCase):
    def test_photos_and_placing_are_kept(self):
        item = self.drawn(100, 100, 800, 600)
        photo = self.table.photo(1600, 1200, 500, 400)
        self.table.library.kept[KEY] = [self.first]
        self.table.do("put_in", ids=[photo, item])
        self.table.do("settle", ids=[item], how="cover")
        self.table.do("rename", id=item, name="Cover")
        before = self.table.item(item)
        self.newer()
        self.table.do("take_over", ids=[item])
        now = self.table.item(item)
        self.assertEqual((now.id, now.name, now.shelf_link.version), (item, "Cover", 2))
        self.assertEqual([p.file for p in now.photos], [p.file for p in before.photos])
        self.assertNotIn("What was changed", self.table.note)
        # the card lies where it lay, the discs stand out by half their width at twice the size
        self.near(box_of(now), (100, 100, 940, 700), 1e-6)
        card = next(i for i, _ in walk(now) if isinstance(i, Piece) and isinstance(i.shape, Rectangle))
        self.assertEqual(card.shape.radii, (80, 80, 80, 80))
        self.refused("already the newest version", "take_over", ids=[item])

    def test_with_something_more_to_it_it_is_that_still_and_what_was_changed_here_is_told(self):
        item = self.drawn(100, 100, 400, 300)
        self.newer()
        (item,) = self.table.do("combine", ids=[item, self.table.ellipse(90, 90, 60, 60)], operation="union")
        self.assertEqual(
            (self.table.item(item).shelf_link.version, self.table.item(item).shape.base.shelf_link), (1, None)
        )
        self.table.do("draw", kind="ellipse", x=300, y=300, width=40, height=40, into=item, operation="subtract")
        self.table.do("take_over", ids=[item])
        self.assertIn("Your changes to “Kept card 1”", self.table.note)
        # the one that was cut is none of the shelf's
        plate = self.table.rectangle(0, 0, 900, 700)
        (made,) = self.table.do("combine", ids=[plate, self.drawn(50, 50, 200, 150)], operation="subtract")
        self.assertIsNone(self.table.item(made).shelf_link)

    def test_turned_and_moved_it_lies_as_it_did(self):
        item = self.drawn()
        self.table.do("transform", ids=[item], matrix=[0, 1, -1, 0, 500, 100])
        before = outline_of(self.table.item(item))
        self.table.library.kept[KEY].append(self.first)
        self.table.do("take_over", ids=[item])
        again = outline_of(self.table.item(item))
        self.assertEqual(again.node_count, before.node_count)
        self.assertAlmostEqual(again.area, before.area, delta=1e-6)
        self.near(again.bounds, before.bounds, 1e-6)

    def test_what_was_refitted_stays_as_large(self):
        item = self.drawn(100, 100, 400, 300)
        self.table.do("refit", id=item, width=700, height=300)
        self.newer()
        self.table.do("take_over", ids=[item])
        now = self.table.item(item)
        self.near(box_of(now), (100, 100, 820, 400), 1e-6)

    def test_panes_keep_their_photos(self):
        t = Table()
        base = t.rectangle(0, 0, 400, 300)
        (panes,) = t.do("split", ids=[base], columns="2", rows="1", gap_x="10")
        first = bare(t.item(panes))
        t.do("set_panes", id=panes, field="gap_x", value="40")
        self.table.library.kept[KEY] = [first]
        item = self.drawn(100, 100, 400, 300)
        photo = self.table.photo(1600, 1200, 300, 250)
        self.table.do("put_in", ids=[photo, item])
        self.table.library.kept[KEY] = [first, bare(t.item(panes))]
        self.table.do("take_over", ids=[item])
        now = self.table.item(item)
        self.assertIsInstance(now, Group)
        self.assertEqual(now.panes.gap_x, 40)
        self.assertEqual([len(i.photos) for i in now.items], [1, 1])

    def test_a_group_without_photos_and_one_that_had_some(self):
        t = Table()
        (group,) = t.do("group", ids=[t.rectangle(0, 0, 300, 200), t.ellipse(250, 150, 100, 100)])
        first = bare(t.item(group))
        t.do("remove", ids=[t.item(group).items[1].id])
        for photo in (False, True):
            self.table.library.kept[KEY] = [first]
            item = self.drawn(100, 100, 350, 250)
            if photo:
                placed = self.table.photo(900, 700, 300, 250)
                (item,) = self.table.do("put_in", ids=[placed, item])
            self.table.library.kept[KEY] = [first, bare(t.item(group))]
            self.table.do("take_over", ids=[item])
            now = self.table.item(item)
            self.near(box_of(now), (100, 100, 400, 300), 1e-6)
            self.assertEqual(now.kind, "frame" if photo else "group")

    def test_refused(self):
        self.refused("did not come from the shelf", "take_over", ids=[self.table.rectangle(0, 0, 9, 9)])
        item = self.drawn()
        self.table.library.kept.clear()
        self.refused("no longer on the shelf", "take_over", ids=[item])
