"""The plan of the chosen pieces: what the cards show is what the commands do."""

import random
import unittest

import pathops
import shapely

import outline
from sheet import SheetError
from sheet.geometry.combination import AS, KEEPS, NEIGHBOURS, Combination
from sheet.geometry.geometry import box_of, outline_of
from tests.outline.test_operations import to_shapely

from .helpers import Table, TableCase


def plans(pieces, base=None):
    """Return the plan of each operation by name, and of three ways apart."""
    c = Combination(pieces, base)
    named = {p.operation: p for p in c.all()}
    ways = {"divide": c.apart(), "visible": c.apart("shows"), "joined": c.apart("shows", "joined")}
    return named | ways


class Cards(unittest.TestCase):
    def test_each_card_is_the_engines_answer(self):
        t = Table()
        a, b = t.rectangle(0, 0, 100, 100), t.ellipse(50, 0, 100, 100)
        pieces = [t.item(a), t.item(b)]
        pa, pb = map(outline_of, pieces)
        got = plans(pieces)
        self.assertEqual(got["union"].results[0][0], outline.union([pa, pb]))
        self.assertEqual(got["subtract"].results[0][0], outline.subtract(pa, [pb]))
        self.assertAlmostEqual(got["subtract"].away.area, pb.area, delta=1e-6)
        self.assertEqual([k for _, k in got["divide"].results].count(1), 2)
        swapped = plans(pieces, 1)
        # the same region; only the node that its loop starts at may differ
        self.assertAlmostEqual(swapped["subtract"].results[0][0].area, outline.subtract(pb, [pa]).area, delta=1e-9)

    def test_a_card_that_cannot_apply_says_why(self):
        t = Table()
        a, far = t.rectangle(0, 0, 10, 10), t.rectangle(50, 0, 10, 10)
        one = plans([t.item(a)])
        self.assertTrue(all(p.why and p.remedy for p in one.values()))
        apart = plans([t.item(a), t.item(far)])
        self.assertIn("in common", apart["intersect"].why)
        self.assertEqual(apart["union"].why, "")


class Regions(TableCase):
    """The cards' regions against shapely on fine flattening and skia-pathops on the curves themselves."""

    def pieces(self, seed, count=6):
        r = random.Random(seed)
        self.table = Table()
        for _ in range(count):
            kind = r.choice(("rectangle", "ellipse", "polygon", "star"))
            x, y, w, h = r.uniform(0, 500), r.uniform(0, 400), r.uniform(80, 400), r.uniform(80, 300)
            self.table.do("draw", kind=kind, x=x, y=y, width=w, height=h)
            self.table.do("paint", ids=self.table.ids[-1:], field="fill", value=r.choice(("#aa0000", "#00aa00")))
        return list(self.table.sheet.items)

    def near_region(self, got, want, whole):
        off = shapely.symmetric_difference(to_shapely(got, 64), want).area
        self.assertLess(off, 2e-4 * whole.area)

    def test_a_line_divides_a_bare_photo_into_two_frames_of_it(self):
        photo = self.table.photo(600, 400, 500, 400)
        line = self.table.do("draw_edge", kind="zigzag", pitch=40, x0=500, y0=100, x1=500, y1=700)[0]
        before = box_of(self.table.item(photo))
        parts = self.table.do("apart", ids=[photo, line])
        self.assertEqual(len(parts), 2)
        self.assertEqual(set(self.table.ids), set(parts))
        self.assertAlmostEqual(sum(outline_of(self.table.item(p)).area for p in parts), 600 * 400, delta=1e-6)
        for part in parts:
            (inside,) = self.table.item(part).photos
            self.assertEqual(box_of(inside), before)
            self.assertIsNone(self.table.item(part).paint.fill)
        # beside a piece the photo stays as it is
        photo, piece = self.table.photo(600, 400, 500, 400), self.table.ellipse(300, 300, 200, 200)
        self.refused("Only “Ellipse 1” is selected", "apart", ids=[photo, piece])

    def test_every_single_card_against_shapely(self):
        for seed in range(6):
            pieces = self.pieces(seed)
            shapes = [to_shapely(outline_of(p), 64) for p in pieces]
            whole = shapely.union_all(shapes)
            parity = shapes[0]
            for s in shapes[1:]:
                parity = shapely.symmetric_difference(parity, s)
            wanted = {
                "union": whole,
                "subtract": shapely.difference(shapes[0], shapely.union_all(shapes[1:])),
                "subtract from the top": shapely.difference(shapes[-1], shapely.union_all(shapes[:-1])),
                "intersect": shapely.intersection_all(shapes),
                "exclude": parity,
            }
            got = plans(pieces)
            got["subtract from the top"] = Combination(pieces, len(pieces) - 1).one("subtract")
            for name, want in wanted.items():
                with self.subTest(seed=seed, card=name):
                    if want.area < 1e-6 * whole.area:
                        self.assertTrue(got[name].why)
                        continue
                    self.near_region(got[name].results[0][0], want, whole)
                    self.near_region_of_away(got[name], want, whole)

    def near_region_of_away(self, card, want, whole):
        away = card.away.area
        self.assertAlmostEqual(away, whole.area - want.area, delta=3e-4 * whole.area)

    def test_union_and_exclude_against_pathops(self):
        for seed in range(6):
            pieces = self.pieces(seed)
            paths = []
            for p in pieces:
                path = pathops.Path()
                ctrl, kind, starts, closed = outline_of(p).arrays
                pen = path.getPen()
                for k in range(len(closed)):
                    pen.moveTo(tuple(ctrl[starts[k], :2]))
                    for i in range(starts[k], starts[k + 1]):
                        c = [tuple(v) for v in ctrl[i].reshape(4, 2)]
                        pen.lineTo(c[3]) if kind[i] == 0 else pen.curveTo(*c[1:])
                    pen.closePath()
                paths.append(path)
            got = plans(pieces)
            for name, op in (("union", pathops.PathOp.UNION), ("exclude", pathops.PathOp.XOR)):
                result = paths[0]
                for other in paths[1:]:
                    result = pathops.op(result, other, op)
                self.assertAlmostEqual(got[name].results[0][0].area, abs(result.area), delta=1e-3 * abs(result.area))

    def test_parts_add_up_in_their_own_paints(self):
        for seed in range(6):
            pieces = self.pieces(seed)
            got = plans(pieces)
            whole = got["union"].results[0][0].area
            for name in ("divide", "visible", "joined"):
                self.assertAlmostEqual(sum(p.area for p, _ in got[name].results), whole, delta=1e-6 * whole)
            # what shows of each colour is the same, however it is parted
            for fill in ("#aa0000", "#00aa00"):
                shown = [
                    sum(p.area for p, k in got[name].results if pieces[k].paint.fill == fill)
                    for name in ("divide", "visible", "joined")
                ]
                self.assertAlmostEqual(min(shown), max(shown), delta=1e-6 * whole)

    def test_two_triangles_give_three_pieces(self):
        self.table.do("draw_curve", d="M0 0H200L100 150Z")
        self.table.do("draw_curve", d="M0 120H200L100 -30Z")
        got = plans(list(self.table.sheet.items))
        self.assertEqual(got["divide"].count, 7)
        self.table = Table()
        self.table.do("draw_curve", d="M0 0H200L100 150Z")
        self.table.do("draw_curve", d="M100 50H300L200 200Z")
        got = plans(list(self.table.sheet.items))
        self.assertEqual(got["divide"].count, 3)

    def test_lines_across_a_rectangle(self):
        # n lines in general position that all cross inside: 1 + n + n (n - 1) / 2 parts (lazy caterer's sequence)
        r = random.Random(7)
        for n in range(1, 8):
            self.table = Table()
            self.table.rectangle(0, 0, 1000, 800)
            for k in range(n):
                a = 3.14159 * (k + 0.5) / n
                dx, dy = 3000 * outline.Matrix.turn(a * 57.29578).a, 3000 * outline.Matrix.turn(a * 57.29578).b
                x, y = 500 + r.uniform(-20, 20), 400 + r.uniform(-20, 20)
                self.table.do("draw_curve", d=f"M{x - dx} {y - dy}L{x + dx} {y + dy}")
            got = plans(list(self.table.sheet.items))
            self.assertEqual(got["divide"].count, 1 + n + n * (n - 1) // 2)
            self.assertEqual(got["subtract"].count, got["divide"].count)
            self.assertIn("open line", got["union"].why)

    def test_groups_lettering_and_edge_runs_alike(self):
        a = self.table.rectangle(0, 0, 400, 200)
        (word,) = self.table.do("draw_lettering", text="OK", font="alfa-slab-one", size=150, x=50, y=160)
        (frame,) = self.table.do("combine", ids=[a, word], operation="subtract")
        # the ground shows through every letter, and the counters stay
        loops = list(outline_of(self.table.item(frame)).subpaths)
        self.assertGreaterEqual(len(loops), 4)
        self.assertFalse(outline_of(self.table.item(frame)).contains((75, 100)))
        b, c = self.table.rectangle(500, 0, 100, 100), self.table.rectangle(550, 50, 100, 100)
        (group,) = self.table.do("group", ids=[b, c])
        cut = outline_of(self.table.item(frame)).area
        (made,) = self.table.do("combine", ids=[frame, group], operation="union")
        self.assertAlmostEqual(outline_of(self.table.item(made)).area, cut + 20000 - 2500, places=6)
        run = self.table.rectangle(800, 0, 100, 100)
        self.table.do("draw_edge", id=run, kind="zigzag", pitch=20)
        (both,) = self.table.do("combine", ids=[made, run], operation="union")
        self.assertAlmostEqual(outline_of(self.table.item(both)).area, cut + 17500 + 10000 + 20 * 100, places=6)

    def test_a_plan_promises_what_the_command_does(self):
        for seed in range(4):
            pieces = self.pieces(seed, 4)
            before, ids = self.table.sheet, self.table.ids
            tried = [
                ("combine", {"operation": o, "base": b})
                for o in ("union", "subtract", "intersect", "exclude")
                for b in ids
            ]
            tried += [
                ("apart", {"keep": k, "neighbours": n, "parts": a}) for k in KEEPS for n in NEIGHBOURS for a in AS
            ]
            for command, args in tried:
                with self.subTest(seed=seed, command=command, args=args):
                    self.table.sheet = before
                    c = Combination(pieces, ids.index(args["base"]) if "base" in args else None)
                    plan = c.one(args["operation"]) if command == "combine" else c.apart(**args)
                    if plan.why:
                        with self.assertRaises(SheetError) as caught:
                            self.table.do(command, ids=ids, **args)
                        self.assertEqual((caught.exception.message, caught.exception.remedy), (plan.why, plan.remedy))
                        continue
                    made = [self.table.item(i) for i in self.table.do(command, ids=ids, **args)]
                    self.assertEqual(len(made), len(plan.results))
                    for piece, (path, owner) in zip(made, plan.results, strict=True):
                        self.assertAlmostEqual(outline_of(piece).area, path.area, delta=1e-6 * (1 + path.area))
                        self.assertEqual(
                            piece.paint.fill, None if args.get("parts") == "lines" else pieces[owner].paint.fill
                        )

    def test_joined_lines_lie_only_between_paints(self):
        # two squares of one paint that overlap, and one of another beside them
        t = self.table = Table()
        t.rectangle(0, 0, 100, 100), t.rectangle(50, 0, 100, 100)
        other = t.rectangle(150, 0, 100, 100)
        t.do("paint", ids=[other], field="fill", value="#00aa00")
        c = Combination(list(t.sheet.items))
        lengths = [
            sum(outline.length(p) for p, _ in c.apart(k, n, "lines").results)
            for k, n in (("every", "apart"), ("shows", "apart"), ("shows", "joined"))
        ]
        # the frame of 250 by 100; the border between the paints; the two hidden sides, one of which shows
        self.assertEqual([round(v, 6) for v in lengths], [1000.0, 900.0, 800.0])
