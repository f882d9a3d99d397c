"""Glyphs of the shipped fonts and icons of the shipped set, in pairs under random affine maps."""

import math
import random
import re
import unittest
from functools import lru_cache
from pathlib import Path as FilePath

import pathops
import shapely
from django.test import tag
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.ttLib import TTFont

import outline
from bench.engine import to_pathops
from outline import Matrix, Path, PathError

from .test_operations import to_shapely

VENDOR = FilePath(__file__).resolve().parents[2] / "studio" / "static" / "vendor"


@lru_cache(maxsize=1)
def glyphs() -> list[Path]:
    """Return letters of every shipped font, about ten units high."""
    found = []
    for file in sorted((VENDOR / "fonts").glob("*.woff2")):
        font = TTFont(file)
        shapes, names = font.getGlyphSet(), font.getBestCmap()
        scale = 10 / font["head"].unitsPerEm
        for letter in "ABGORS&8egäQ%":
            if ord(letter) not in names:
                continue
            pen = SVGPathPen(shapes)
            shapes[names[ord(letter)]].draw(pen)
            found.append(Path.from_svg(pen.getCommands()).transform(Matrix.resize(scale, -scale)))
    return found


@lru_cache(maxsize=1)
def icons() -> list[Path]:
    """Return the filled icons of the shipped set, ten units wide."""
    found = []
    for file in sorted((VENDOR / "icons").glob("*.svg")):
        data = re.findall(r'\bd="([^"]+)"', file.read_text())
        try:
            path = Path.from_svg(" ".join(data))
        except PathError as error:
            raise AssertionError(f"{file.name}: {error}") from None
        if not path.is_empty:
            found.append(path.transform(Matrix.resize(10 / 16, 10 / 16)))
    return found


class RealOutlines(unittest.TestCase):
    def test_they_are_read(self):
        self.assertGreater(len(glyphs()), 40)
        self.assertGreater(len(icons()), 25)
        self.assertTrue(all(p.bounds and p.bounds[2] - p.bounds[0] <= 12 for p in glyphs() + icons()))

    @tag("slow")
    def test_pairs_against_shapely_and_pathops(self):
        r = random.Random(11)
        shapes = glyphs() + icons()
        operations = {
            "union": (outline.union, pathops.PathOp.UNION, lambda a, b: a | b),
            "intersect": (outline.intersect, pathops.PathOp.INTERSECTION, lambda a, b: a & b),
            "subtract": (lambda ps: outline.subtract(ps[0], ps[1:]), pathops.PathOp.DIFFERENCE, lambda a, b: a - b),
            "exclude": (outline.exclude, pathops.PathOp.XOR, lambda a, b: a ^ b),
        }
        disagreed = 0
        for k in range(60):
            a, b = r.choice(shapes), r.choice(shapes)
            m = Matrix.turn(r.uniform(0, 360), (5, 5)) @ Matrix.resize(r.uniform(0.5, 1.5), r.uniform(0.5, 1.5))
            b = b.transform(Matrix.move(r.uniform(-3, 3), r.uniform(-3, 3)) @ m)
            sa, sb = to_shapely(a, 64), to_shapely(b, 64)
            pa, pb = to_pathops(a), to_pathops(b)
            size = max(sa.area, sb.area)
            for name, (ours, theirs, geos) in operations.items():
                got, want = ours([a, b]), geos(sa, sb)
                with self.subTest(pair=k, operation=name):
                    self.assertAlmostEqual(got.area / size, want.area / size, delta=2e-3)
                    apart = shapely.symmetric_difference(to_shapely(got, 32), want).area
                    self.assertLess(apart / size, 4e-3)
                try:
                    other = pathops.op(pa, pb, theirs)
                    other.simplify()
                    area = abs(other.area)
                except pathops.PathOpsError:
                    area = math.nan
                disagreed += not abs(area - got.area) < 0.01 * size
        # skia-pathops turns cubics into quadratics and fails at times: it counts as a whole
        self.assertLess(disagreed, 0.06 * 60 * 4)
