"""Copies: in a ring, pasted from other sheets, and their names."""

import math

from sheet.document.limits import MAX_ITEMS
from sheet.geometry.geometry import box_of, local_frame

from .helpers import Known, Table, TableCase


def centre(item):
    """Return the middle of an item's box."""
    x0, y0, x1, y1 = box_of(item)
    return (x0 + x1) / 2, (y0 + y1) / 2


class Rings(TableCase):
    def test_places_lie_on_a_circle_evenly(self):
        t = self.table
        a = t.rectangle(480, 90, 40, 20)
        ids = t.do("ring", ids=[a], count="6")
        self.assertEqual(len(ids), 6)
        # about the middle of the sheet (500, 400), 300 px away, every 60 degrees
        for k, one in enumerate(ids):
            angle = math.radians(-90 + 60 * k)
            self.near(centre(t.item(one)), (500 + 300 * math.cos(angle), 400 + 300 * math.sin(angle)), 1e-6)
        self.assertAlmostEqual(local_frame(t.item(ids[1]))[2].angle, 60)

    def test_about_a_point_and_not_turned(self):
        t = self.table
        a = t.rectangle(480, 90, 40, 20)
        ids = t.do("ring", ids=[a], count="4", about=[500, 200], turned=False)
        self.near(centre(t.item(ids[2])), (500, 300))
        self.assertAlmostEqual(local_frame(t.item(ids[1]))[2].angle, 0)

    def test_refusals(self):
        a = self.table.rectangle(450, 350, 100, 100)
        self.refused("in the same place", "ring", ids=[a], count="4", turned=False)
        for count in ("1", "361", "2.5", "some"):
            self.assertEqual(self.refused("", "ring", ids=[a], count=count).field, "count")
        many = [self.table.rectangle(k, 0, 1, 1) for k in range(20)]
        self.assertGreater(20 * 360, MAX_ITEMS)
        self.refused("more than", "ring", ids=many, count="360")

    def test_numbers_that_no_table_has_are_refused(self):
        for numbers in (
            {"project": 2**70, "revision": 1},
            {"project": 1, "revision": 2**63},
            {"project": -1, "revision": 1},
        ):
            with self.subTest(numbers):
                self.refused("", "paste", ids=["i1"], **numbers)

    def test_each_copy_has_a_name_of_its_own(self):
        a = self.table.rectangle(480, 90, 40, 20)
        self.table.do("ring", ids=[a], count="4")
        names = [i.name for i in self.table.sheet.items]
        self.assertEqual(names, ["Rectangle 1", "Rectangle 1 copy", "Rectangle 1 copy 2", "Rectangle 1 copy 3"])
        (new,) = self.table.do("duplicate", ids=[self.table.ids[1]], matrix=[1, 0, 0, 1, 5, 5])
        self.assertEqual(self.table.item(new).name, "Rectangle 1 copy 4")


class Pasting(TableCase):
    def setUp(self):
        super().setUp()
        self.source = Table("1000", "800", "px", "200")
        self.item = self.source.rectangle(100, 100, 200, 100)
        self.table.library = Known(sheets=(self.source.sheet,))

    def paste(self, **args):
        """Paste the source's rectangle."""
        (new,) = self.table.do("paste", project=0, revision=0, ids=[self.item], **args)
        return self.table.item(new)

    def test_real_size_is_kept_and_told(self):
        # 200 px at 200 px per inch are 1 inch: 100 px here
        made = self.paste()
        x0, _, x1, _ = box_of(made)
        self.assertAlmostEqual(x1 - x0, 100)
        self.assertIn("200 px per inch", self.table.note)

    def test_in_place_and_a_little_aside(self):
        self.near(box_of(self.paste(in_place=True, shift=True)), (50, 50, 150, 100))
        x0, y0, _, _ = box_of(self.paste(shift=True))
        self.assertGreater(x0, 50)
        self.assertGreater(y0, 50)

    def test_what_lay_off_this_sheet_comes_into_its_middle(self):
        far = Table("9000", "9000", "px", "100")
        item = far.rectangle(8000, 8000, 100, 100)
        self.table.library = Known(sheets=(far.sheet,))
        (new,) = self.table.do("paste", project=0, revision=0, ids=[item])
        self.near(centre(self.table.item(new)), (500, 400))
        self.assertEqual(self.table.note, "")
