"""A subject that stands out of its frame: what of it is beyond a side, live, and nothing else."""

import math

import outline
from sheet.document.model import CutList
from sheet.geometry.geometry import box_of, outline_of

from .helpers import TableCase


class StandingOut(TableCase):
    def setUp(self):
        super().setUp()
        self.photo = self.table.photo(600, 400, 500, 400)
        # a disc of radius 100 about the middle of the photo
        self.table.library.traced = outline.ellipse(100, 100, 300, 200)
        self.frame = self.table.rectangle(250, 400, 500, 180)
        self.table.do("put_in", ids=[self.photo, self.frame])

    def test_the_upper_half_of_a_disc_stands_on_the_frame(self):
        (made,) = self.table.do("stand_out", id=self.frame, side="top")
        item = self.table.item(made)
        self.assertEqual(made, self.frame)
        # half the disc is above: π r² / 2
        self.assertAlmostEqual(outline_of(item).area, 500 * 180 + math.pi * 100**2 / 2, delta=0.01 * 100**2)
        self.assertEqual([round(v) for v in box_of(item)], [250, 300, 750, 580])
        self.assertIn("stands out by 100 px", self.table.note)
        self.assertEqual(len(item.photos), 1)
        # it is traced in all of the photo, but for its edge
        (tracing,) = self.table.library.asked
        self.assertEqual((tracing.way, tracing.loop[0], tracing.loop[2]), ("subject", (12, 8), (588, 392)))

    def test_frame_and_subject_stay_editable(self):
        self.table.do("stand_out", id=self.frame, side="top")
        item = self.table.item(self.frame)
        self.assertIsInstance(item.shape, CutList)
        base, (step,) = item.shape.base, item.shape.steps
        self.assertEqual((step.operation, base.shape.width), ("union", 500))
        self.table.do("transform", ids=[base.id], matrix=[1, 0, 0, 1, 0, 30])
        self.assertEqual([round(v) for v in box_of(self.table.item(self.frame))], [250, 300, 750, 610])

    def test_a_silhouette_that_is_there_is_taken(self):
        self.table.do("take_out", ids=[self.frame])
        photo = next(i.id for i in self.table.sheet.items if i.name == "sea.jpg")
        self.table.library.traced = outline.ellipse(60, 150, 300, 200)
        self.table.do("silhouette", id=photo)
        asked = len(self.table.library.asked)
        self.table.do("put_in", ids=[photo, self.frame])
        self.table.do("stand_out", id=self.frame, side="top")
        self.assertEqual(len(self.table.library.asked), asked)
        self.assertEqual(round(box_of(self.table.item(self.frame))[1]), 250)

    def test_the_sides(self):
        for side in ("left", "right", "bottom"):
            with self.subTest(side):
                self.setUp()
                self.table.do("remove", ids=[self.frame])
                photo = self.table.photo(600, 400, 500, 400)
                self.table.library.traced = outline.ellipse(100, 100, 300, 200)
                frame = {
                    "left": (500, 250, 250, 300), "right": (250, 250, 250, 300), "bottom": (250, 220, 500, 180),
                }[side]  # fmt: skip
                frame = self.table.rectangle(*frame)
                self.table.do("put_in", ids=[photo, frame])
                before = box_of(self.table.item(frame))
                self.table.do("stand_out", id=frame, side=side)
                after = box_of(self.table.item(frame))
                k = {"left": 0, "right": 2, "bottom": 3}[side]
                self.assertAlmostEqual(abs(after[k] - before[k]), 100, delta=0.1)

    def test_refused(self):
        self.refused("Nothing of the subject is left of", "stand_out", id=self.frame, side="left")
        piece = self.table.ellipse(0, 0, 50, 50)
        self.refused("isn’t a frame with one photo", "stand_out", id=piece)
        self.refused("", "stand_out", id=self.frame, side="up")
        self.table.do("mark", ids=[self.frame], field="locked", on=True)
        self.refused("locked", "stand_out", id=self.frame)
