"""Refit of frames as people build them: what one would draw by hand at the other size."""

import random
import unittest

import outline
from outline.shapes.ready import READY
from sheet import SheetError
from sheet.geometry.geometry import box_of, outline_of
from sheet.geometry.refit import refitted, shapes_and_holes
from sheet.geometry.variants import variant_of

from .helpers import Table
from .refit_frames import BUILT, PROPORTIONS, generated, ready


def sized(item, proportion):
    """Return the size of an item's area in another proportion."""
    x0, y0, x1, y1 = box_of(item)
    ratio = proportion[0] / proportion[1]
    height = ((x1 - x0) * (y1 - y0) / ratio) ** 0.5
    return height * ratio, height


def built(make):
    table = Table("3000", "3000")
    return table.item(make(table))


class BuiltAnew(unittest.TestCase):
    def test_it_is_what_hand_commands_make_at_the_other_size(self):
        rng = random.Random(26)
        for seed in range(200):
            first, second = ((rng.uniform(420, 900), rng.uniform(420, 900)) for _ in range(2))
            with self.subTest(seed=seed, first=first, second=second):
                tables = Table("3000", "3000"), Table("3000", "3000")
                item, by_hand = (
                    table.item(generated(table, seed, *size))
                    for table, size in zip(tables, (first, second), strict=True)
                )
                x0, y0, x1, y1 = box_of(by_hand)
                made = refitted(item, x1 - x0, y1 - y0)
                wanted = outline_of(by_hand)
                off = outline.exclude([outline_of(made), wanted]).area
                self.assertLess(off, 1e-6 * wanted.area)


class HeldSet(unittest.TestCase):
    """The set that docs/refit.svg shows."""

    def judged(self, item, proportion):
        """Return why an item came out wrong in a proportion, or nothing; a refusal says what does not fit."""
        width, height = sized(item, proportion)
        try:
            made = refitted(item, width, height)
        except SheetError as error:
            self.assertRegex(str(error), "can’t be less than|cannot be that small|cut away|shapes? with")
            return "refused"
        x0, y0, x1, y1 = box_of(made)
        self.assertAlmostEqual(x1 - x0, width, delta=1e-6 * width)
        self.assertAlmostEqual(y1 - y0, height, delta=1e-6 * height)
        return "" if shapes_and_holes(made) == shapes_and_holes(item) else "other shapes or holes"

    def test_frames_with_two_to_eight_steps(self):
        found = {(m.__name__, p): self.judged(built(m), p) for m in BUILT for p in PROPORTIONS}
        wrong = {key: why for key, why in found.items() if why}
        # what does not fit at that size is said; nothing else
        self.assertLessEqual(len(wrong), 5, wrong)
        self.assertNotIn("other shapes or holes", wrong.values())

    def test_all_ready_outlines(self):
        wrong = {}
        for key in READY:
            x0, y0, x1, y1 = outline.ready(key).bounds
            size = 600 / max(x1 - x0, y1 - y0)
            item = built(lambda t, key=key, w=(x1 - x0) * size, h=(y1 - y0) * size: ready(t, key, w, h))
            for proportion in PROPORTIONS:
                why = self.judged(item, proportion)
                if why:
                    wrong[key, proportion] = why
        self.assertLessEqual(len(wrong), 0.05 * len(READY) * len(PROPORTIONS), wrong)

    def test_every_frame_has_its_variants(self):
        for make in BUILT:
            item = built(make)
            for word, ratio in (("landscape", None), ("square", 1), ("portrait", None)):
                with self.subTest(make.__name__, variant=word):
                    made = variant_of(item, word)
                    x0, y0, x1, y1 = box_of(made)
                    if ratio:
                        self.assertAlmostEqual((x1 - x0) / (y1 - y0), ratio, delta=1e-6)
                    self.assertEqual(shapes_and_holes(made), shapes_and_holes(item))


class Whole(unittest.TestCase):
    def test_no_shape_or_hole_is_lost_in_one_refit_after_another(self):
        rng = random.Random(41)
        sizes = (0.4, 0.6, 0.8, 1.3, 2, 3)
        for make in BUILT:
            for _ in range(2):
                item = built(make)
                was, (x0, y0, x1, y1) = shapes_and_holes(item), box_of(item)
                for _ in range(3):
                    width, height = (x1 - x0) * rng.choice(sizes), (y1 - y0) * rng.choice(sizes)
                    with self.subTest(make.__name__, width=width, height=height):
                        try:
                            item = refitted(item, width, height)
                        except SheetError as error:
                            self.assertTrue(error.remedy)
                        self.assertEqual(shapes_and_holes(item), was)

    def test_a_hole_that_would_be_lost_is_said(self):
        # the card's scallops would cut into its hole, or its word, at four fifths of its size
        item = built(BUILT[0])
        x0, y0, x1, y1 = box_of(item)
        with self.assertRaisesRegex(SheetError, "is 3 shapes with 5 holes, not 3 shapes with 6 holes"):
            refitted(item, 0.8 * (x1 - x0), 0.8 * (y1 - y0))

    def test_what_was_cut_away_stays_away(self):
        """A card trimmed to its left half, a rectangle in place of the other: nothing of the right half comes back."""
        item = built(BUILT[0])
        for size in ((800, 900), (1400, 500), (700, 1300)):
            made = outline_of(refitted(item, *size))
            x0, y0, x1, y1 = made.bounds
            # right of the seam only the rectangle is there, in from the card's top and bottom by 50 and 55 px
            cards = [p for p in made.subpaths if p.area == max(q.area for q in made.subpaths)]
            right = outline.intersect([*cards, outline.rectangle(60, y1 - y0).transform((1, 0, 0, 1, x1 - 60, y0))])
            self.assertAlmostEqual(right.bounds[1] - y0, 50, delta=1e-6)
            self.assertAlmostEqual(y1 - right.bounds[3], 55, delta=1e-6)
            self.assertEqual(len(list(made.subpaths)), len(list(outline_of(item).subpaths)))

    def test_the_word_keeps_its_size_and_its_distance(self):
        item = built(BUILT[0])
        word = item.shape.steps[-1].member
        x0, y0, x1, y1 = box_of(word)
        made = refitted(item, 1500, 700)
        a0, b0, a1, b1 = box_of(made.shape.steps[-1].member)
        self.assertAlmostEqual(a1 - a0, x1 - x0, delta=1e-9)
        self.assertAlmostEqual(b1 - b0, y1 - y0, delta=1e-9)
        # 120 px from the seam, which stays where it was
        self.assertAlmostEqual(a0, x0, delta=1e-9)


class Bad(unittest.TestCase):
    def refused(self, words, make, **args):
        table = Table("3000", "3000")
        args = {"id": make(table), **args}
        before = table.sheet
        with self.assertRaisesRegex(SheetError, words):
            table.do("refit", **args)
        self.assertIs(table.sheet, before)

    def test_sizes_that_make_no_sense(self):
        for size in (0, -5, "x", 1e9, float("nan")):
            for sizes in ({"width": size, "height": 300}, {"width": 300, "height": size}):
                with self.subTest(sizes):
                    self.refused("", BUILT[2], **sizes)

    def test_narrower_than_what_keeps_its_form(self):
        self.refused("can’t be less than .* “Lettering 1” would not fit", BUILT[0], width=420, height=800)

    def test_a_line(self):
        self.refused("no area", lambda t: t.do("draw_curve", d="M550 350H800")[0], width=100, height=100)

    def test_a_locked_frame_stays(self):
        def locked(t):
            i = BUILT[2](t)
            t.do("mark", ids=[i], field="locked", on=True)
            return i

        self.refused("locked", locked, width=700, height=700)
