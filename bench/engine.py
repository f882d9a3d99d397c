"""Gouge beside skia-pathops and shapely: whole calls with their Python wrapping, warm, best of several."""

import math
import random
import subprocess
import sys
import time
from collections.abc import Callable
from itertools import pairwise

import numpy as np
import pathops
import shapely

import outline
from outline import Matrix, Path

from .timing import best

__all__ = ["run", "cases"]


def to_pathops(path: Path) -> pathops.Path:
    """Return the same curves as a skia-pathops path."""
    out = pathops.Path()
    pen = out.getPen()
    ctrl, kind, starts, _ = path.arrays
    for a, b in pairwise(starts):
        pen.moveTo(tuple(ctrl[a, :2]))
        for i in range(a, b):
            r = ctrl[i].tolist()
            if kind[i] == 0:
                pen.lineTo((r[6], r[7]))
            else:
                pen.curveTo((r[2], r[3]), (r[4], r[5]), (r[6], r[7]))
        pen.closePath()
    return out


def to_shapely(path: Path, steps: int = 32) -> shapely.Geometry:
    """Return the region with every curve flattened to `steps` lines."""
    ctrl, kind, starts, _ = path.arrays
    t = np.linspace(0, 1, steps + 1)[1:, None]
    weights = np.concatenate([(1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t, t**3], axis=1)
    rings = []
    for a, b in pairwise(starts):
        points = [ctrl[a, :2].reshape(1, 2)]
        for i in range(a, b):
            points.append(ctrl[i, 6:].reshape(1, 2) if kind[i] == 0 else weights @ ctrl[i].reshape(4, 2))
        rings.append(np.concatenate(points))
    return shapely.make_valid(shapely.union_all([shapely.make_valid(shapely.Polygon(r)) for r in rings]))


def _circles(n: int, r: random.Random) -> list[Path]:
    side = math.sqrt(n) * 10
    return [outline.ellipse(8, 8, r.uniform(0, side), r.uniform(0, side)) for _ in range(n)]


def _drop(x: float, y: float, angle: float, size: float) -> Path:
    p = Path.from_svg("M0 -10C2 -5 5 -2 5 2C5 5 3 7 0 7C-3 7 -5 5 -5 2C-5 -2 -2 -5 0 -10Z")
    return p.transform(Matrix.move(x, y) @ Matrix.turn(angle) @ Matrix.resize(size, size))


def _loop(n: int, r: random.Random, cx: float) -> Path:
    radii = [80 + 14 * math.sin(9 * k / n * 2 * math.pi) + r.uniform(-3, 3) for k in range(n)]
    points = [(cx + d * math.cos(2 * math.pi * k / n), d * math.sin(2 * math.pi * k / n)) for k, d in enumerate(radii)]
    d = f"M{points[0][0]} {points[0][1]}"
    for k in range(n):
        p0, p1, p2, p3 = (points[(k + j - 1) % n] for j in range(4))
        h1 = (p1[0] + (p2[0] - p0[0]) / 6, p1[1] + (p2[1] - p0[1]) / 6)
        h2 = (p2[0] - (p3[0] - p1[0]) / 6, p2[1] - (p3[1] - p1[1]) / 6)
        d += f"C{h1[0]} {h1[1]} {h2[0]} {h2[1]} {p2[0]} {p2[1]}"
    return Path.from_svg(d + "Z")


def _glyphs(n: int) -> list[Path]:
    """Return letters of a shipped font, laid out in rows."""
    from pathlib import Path as FilePath

    from fontTools.pens.svgPathPen import SVGPathPen
    from fontTools.ttLib import TTFont

    fonts = FilePath(__file__).parent.parent / "studio" / "static" / "vendor" / "fonts"
    font = TTFont(fonts / "bitter-latin-700-normal.woff2")
    glyphs, names = font.getGlyphSet(), font.getBestCmap()
    out = []
    for k in range(n):
        pen = SVGPathPen(glyphs)
        glyphs[names[ord("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmn"[k % 40])]].draw(pen)
        m = Matrix.move(30 + 95 * (k % 10), 120 + 110 * (k // 10)) @ Matrix.resize(0.12, -0.12)
        out.append(Path.from_svg(pen.getCommands()).transform(m))
    return out


def cases() -> list[tuple[str, str, list[Path], str]]:
    """Return (name, operation, paths, what to reach)."""
    r = random.Random(1)
    rectangle = outline.rectangle

    def at(path: Path, x: float, y: float) -> Path:
        return path.transform(Matrix.move(x, y))

    turns = [k * math.pi / 6 for k in range(12)]
    ring = [outline.ellipse(30, 30, 100 * math.cos(t), 100 * math.sin(t)) for t in turns]

    def drops(side: float) -> list[Path]:
        return [_drop(r.uniform(0, side), r.uniform(0, side), r.uniform(0, 360), r.uniform(0.8, 2)) for _ in range(200)]

    board = [at(rectangle(10, 10), 20 * (k % 5) + 10 * (k // 5 % 2), 10 * (k // 5)) for k in range(50)]
    tiles = [at(rectangle(10, 10), 10 * (k % 10), 10 * (k // 10)) for k in range(100)]
    teeth = Path.from_points([(k * 5, 0 if k % 2 else 8) for k in range(401)] + [(2000, 60), (0, 60)])
    places = random.Random(2)
    piles = [outline.ellipse(60, 45, places.uniform(0, 600), places.uniform(0, 400)) for _ in range(25)]
    out = [
        ("a rectangle less a circle", "subtract", [rectangle(100, 80), outline.ellipse(30, 30, 100, 40)], "≤ 3"),
        ("a ring of 12 circles", "union", ring, ""),
        ("200 overlapping drops, each over about 4", "union", drops(200), "≤ 0.05"),
        ("200 drops in a heap, each over about 20", "union", drops(100), ""),
        ("256 ellipses in 25 piles of copies", "union", [piles[k % 25] for k in range(256)], ""),
        ("a checkerboard of 50 squares and a circle", "exclude", [*board, outline.ellipse(40, 40, 50, 50)], "≤ 0.5"),
        ("100 abutting tiles", "union", tiles, "≤ 0.5"),
        ("two 500-curve freehand loops", "intersect", [_loop(500, r, 0), _loop(500, r, 40)], "≤ 0.2"),
        ("a 200-tooth zigzag less a band", "subtract", [teeth, at(rectangle(2100, 3), -50, 3)], "≤ 0.5"),
        ("40 glyphs cut from a frame", "subtract", [rectangle(1000, 500), *_glyphs(40)], "≤ 0.2"),
    ]
    for n in (125, 250, 500, 1000, 2000):
        out.append((f"union of {n} circles", "union", _circles(n, r), "≤ 0.2" if n >= 125 else ""))
    return out


def _gouge(operation: str, paths: list[Path]) -> Callable[[], object]:
    if operation == "subtract":
        return lambda: outline.subtract(paths[0], paths[1:])
    return lambda: getattr(outline, operation)(paths)


def _skia(operation: str, paths: list[Path]) -> Callable[[], object]:
    theirs = [to_pathops(p) for p in paths]
    op = {
        "union": pathops.PathOp.UNION,
        "subtract": pathops.PathOp.DIFFERENCE,
        "intersect": pathops.PathOp.INTERSECTION,
        "exclude": pathops.PathOp.XOR,
    }[operation]

    def call() -> object:
        builder = pathops.OpBuilder()
        builder.add(theirs[0], pathops.PathOp.UNION)
        for p in theirs[1:]:
            builder.add(p, op)
        return builder.resolve()

    return call


def _shapely(operation: str, paths: list[Path]) -> Callable[[], object]:
    theirs = [to_shapely(p) for p in paths]
    if operation == "union":
        return lambda: shapely.union_all(theirs)
    if operation == "subtract":
        return lambda: shapely.difference(theirs[0], shapely.union_all(theirs[1:]))
    if operation == "intersect":
        return lambda: shapely.intersection_all(theirs)
    return lambda: shapely.symmetric_difference_all(theirs)


def _cold(code: str) -> float:
    start = time.perf_counter()
    subprocess.run([sys.executable, "-c", code], check=True)
    return time.perf_counter() - start


def run() -> list[tuple[str, float, str]]:
    """Return (what, Gouge ÷ skia-pathops, limit) rows; print all three times."""
    from outline.path.kernel import compiled, load_all

    # a process works its first moments interpreted, until the machine code is read
    load_all()
    print(f"  the engine runs {'compiled' if compiled() else 'interpreted'}")
    rows = []
    circles: list[float] = []
    print(f"  {'':44s} {'curves':>6s} {'Gouge':>10s} {'pathops':>10s} {'shapely':>10s}")
    for name, operation, paths, limit in cases():
        ours = best(_gouge(operation, paths), 15, 3)
        try:
            theirs = best(_skia(operation, paths), 5, 3)
        except pathops.PathOpsError:
            theirs = math.nan
        third = best(_shapely(operation, paths), 5, 3)
        curves = sum(len(p.arrays[0]) for p in paths)
        print(f"  {name:44s} {curves:6d} {ours * 1e3:8.3f}ms {theirs * 1e3:8.3f}ms {third * 1e3:8.3f}ms")
        rows.append((name, ours / theirs, limit))
        if name.startswith("union of"):
            circles.append(ours)
    code = "import outline; outline.union([outline.ellipse(1, 1), outline.rectangle(2, 2)])"
    cold = min(_cold(code) for _ in range(3))
    print(f"  a cold process answers its first operation after {cold:.2f} s, Python's own start included")
    rows.append(("seconds of a cold process to its first answer", cold, "≤ 1.5"))
    growth = (circles[-1] / circles[0]) ** (1 / (len(circles) - 1))
    rows.append(("growth per doubling, 125 to 2000 circles", growth, "≤ 2.2"))
    return rows
