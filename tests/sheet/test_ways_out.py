"""Refusals whose way out is one press: it does what its words say, and what was refused can then be done."""

from sheet import SheetError, apply
from sheet.document.errors import BRING_IN, OPEN_TRAY, STEP_OUT

from .helpers import TableCase

ACTIONS = ("page:step-out", "page:step-inside", "page:bring-in", "page:open-tray")
"""What the page does by itself; tests/browser holds them."""


class WaysOut(TableCase):
    def offered(self, words: str, name: str, **args) -> tuple:
        """Return what is offered with a refusal that has these words."""
        with self.assertRaisesRegex(SheetError, words) as caught:
            apply(self.table.sheet, name, args, self.table.library)
        offer = caught.exception.offer
        assert offer is not None
        return offer

    def take(self, offer: tuple) -> None:
        """Do what is offered."""
        self.table.do(offer[1], **offer[2])

    def frame(self) -> tuple[str, str]:
        """Return a frame that its photo just covers, and the photo."""
        piece = self.table.rectangle(200, 200, 300, 200)
        photo = self.table.photo(300, 200, 350, 300)
        self.table.do("put_in", ids=[piece, photo])
        return piece, self.table.item(piece).photos[0].id

    def test_what_is_locked_is_unlocked(self):
        piece = self.table.rectangle(0, 0, 50, 50)
        self.table.do("mark", ids=[piece], field="locked", on=True)
        self.take(self.offered("is locked", "remove", ids=[piece]))
        self.table.do("remove", ids=[piece])
        self.assertEqual(self.table.ids, [])

    def test_guides_are_unlocked(self):
        self.table.do("set_guide", axis="x", at="10")
        self.table.do("lock_guides", on=True)
        self.take(self.offered("guides are locked", "drop_guide", number=0))
        self.table.do("drop_guide", number=0)

    def test_gaps_are_allowed(self):
        piece, photo = self.frame()
        self.take(self.offered("already there, or can’t go further", "seat", ids=[photo], point=(150, 100), at=(0, 0)))
        self.table.do("seat", ids=[photo], point=(150, 100), at=(0, 0))
        self.assertTrue(self.table.item(piece).gaps)

    def test_a_split_is_undone(self):
        piece, _ = self.frame()
        (panes,) = self.table.do("split", ids=[piece], columns="2", rows="1")
        self.take(self.offered("is split into panes", "take_out", ids=[panes]))
        self.assertEqual(len(self.table.sheet.items), 1)

    def test_an_outline_is_flattened_or_turned_back_to_pieces(self):
        t = self.table
        (lens,) = t.do("combine", ids=[t.rectangle(0, 0, 60, 60), t.ellipse(30, 30, 60, 60)], operation="union")
        self.take(self.offered("made by a cut list", "set_nodes", id=lens, nodes=[0], kind="corner"))
        self.assertEqual(self.table.item(lens).kind, "piece")
        (inner,) = t.do("combine", ids=[t.rectangle(0, 200, 60, 60), t.ellipse(30, 230, 60, 60)], operation="union")
        (whole,) = t.do("combine", ids=[inner, t.rectangle(50, 220, 90, 20)], operation="union")
        step = t.item(whole).shape.base.id
        self.take(self.offered("is a step of another outline", "take_apart", id=step))
        t.do("take_apart", id=step)
        self.assertEqual(len(t.ids), 4)

    def test_groups_are_ungrouped_from_outside_in(self):
        t = self.table
        (small,) = t.do("group", ids=[t.rectangle(0, 0, 9, 9), t.rectangle(20, 0, 9, 9)])
        (large,) = t.do("group", ids=[small, t.rectangle(40, 0, 9, 9)])
        self.take(self.offered("group is inside another", "ungroup", ids=[small]))
        self.assertIn(small, t.ids)
        self.assertNotIn(large, t.ids)
        self.take(self.offered("already", "split", ids=[small]))
        self.assertEqual(len(t.ids), 3)
        inner = t.do("group", ids=t.ids[:2])[0]
        self.assertEqual(self.offered("inside something else", "split", ids=[t.item(inner).items[0].id]), STEP_OUT)

    def test_the_page_steps_in_and_out_brings_photos_in_and_goes_to_fit(self):
        piece, photo = self.frame()
        offer = self.offered("is in “Rectangle 1” already", "put_in", ids=[piece, photo])
        self.assertEqual(offer, ("Move the photo", "page:step-inside", {"id": piece}))
        self.assertEqual(self.offered("no copy beside it", "duplicate", ids=[photo]), OPEN_TRAY)
        (group,) = self.table.do("group", ids=[self.table.rectangle(0, 0, 9, 9), self.table.rectangle(20, 0, 9, 9)])
        inner = self.table.item(group).items[0].id
        self.assertEqual(self.offered("sheet itself can be copied", "duplicate", ids=[inner]), STEP_OUT)
        other = self.table.ellipse(600, 600, 50, 50)
        self.assertEqual(self.offered("is in a frame", "put_in", ids=[other]), BRING_IN)
        self.assertEqual(self.offered("no loose photo", "replace_photo", ids=[piece]), OPEN_TRAY)
        for offer in (STEP_OUT, BRING_IN, OPEN_TRAY):
            self.assertIn(offer[1], ACTIONS)
