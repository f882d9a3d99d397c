"""What must not grow out of hand: large sheets, long strokes, much lettering, as multiples of one fixed piece of work.

The fixed piece is the union of 500 circles by the engine, in the same run; the limits are
those seconds over the 12.6 ms it took where they were set.
"""

import math
import random
from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

import outline
from picture import fragment
from sheet import Sheet, apply, new_sheet
from sheet.document.kinds import Lettering, Rectangle, plain_of
from sheet.document.limits import MAX_DEPTH
from sheet.document.model import Piece
from sheet.geometry.holes import holes
from sheet.inspect.dimensions import dimensions_of

from .timing import best

__all__ = ["run"]

UNIT = 0.0126


def _large() -> Sheet:
    r = random.Random(1)
    items = tuple(
        Piece(
            f"i{k + 1}", f"Rectangle {k + 1}", Rectangle(10, 10), (1, 0, 0, 1, r.uniform(0, 1900), r.uniform(0, 1900))
        )
        for k in range(5000)
    )
    return replace(new_sheet(2000, 2000), items=items, next_id=6000)


def _stroke(n: int) -> list[tuple[float, float]]:
    r = random.Random(2)
    points, x, y, a = [], 0.0, 0.0, 0.0
    for _ in range(n):
        a += r.uniform(-0.3, 0.3)
        x, y = x + 3 * math.cos(a), y + 3 * math.sin(a)
        points.append((x, y))
    return points


def _walk(n: int) -> outline.Path:
    r = random.Random(3)
    points, x, y, a = [], 0.0, 0.0, 0.0
    for _ in range(n):
        a += r.uniform(-1, 1)
        x, y = x + 10 * math.cos(a), y + 10 * math.sin(a)
        points.append((x, y))
    return outline.Path.from_points(points, closed=True)


def _hatching(n: int) -> outline.Path:
    """Return a line whose sides are about a fifth of its extent long: each crosses many others."""
    r = random.Random(7)
    points = [(500.0, 500.0)]
    while len(points) < n:
        x, y = (v + r.gauss(0, 200) for v in points[-1])
        if 0 < x < 1000 and 0 < y < 1000:
            points.append((x, y))
    return outline.Path.from_points(points, closed=True)


def _scribble(n: int) -> outline.Path:
    r = random.Random(4)
    return outline.Path.from_points([(r.uniform(0, 1000), r.uniform(0, 800)) for _ in range(n)], closed=True)


def _deep() -> None:
    sheet = new_sheet(500, 500)
    args = {"kind": "rectangle", "x": 0, "y": 0, "width": 9, "height": 9}
    sheet = apply(sheet, "draw", args).sheet
    for _ in range(MAX_DEPTH - 1):
        sheet = apply(sheet, "draw", args).sheet
        sheet = apply(sheet, "group", {"ids": [i.id for i in sheet.items]}).sheet
    fragment(sheet.items[0], lambda p: "")


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    circles = [outline.ellipse(30, 30, 17 * k % 1000, 91 * k % 800) for k in range(500)]
    unit = best(lambda: outline.union(circles))
    print(f"  the union of 500 circles: {unit * 1e3:.1f} ms")
    large = _large()
    ids = [i.id for i in large.items]
    moved = iter(range(1, 1_000_000))
    letters = outline.lettering("A" * 500, "alfa-slab-one", 100.0).path
    scribbled = Piece("i1", "Scribble", plain_of(_scribble(600)))
    lettered = Piece("i1", "Lettering", Lettering("A" * 500, "alfa-slab-one", 100.0))
    stroke, long_stroke, wild = _stroke(4000), _stroke(20_000), _scribble(3000)
    walk, hatching = _walk(3000), _hatching(3000)

    def move() -> None:
        apply(large, "transform", {"ids": ids, "matrix": (1, 0, 0, 1, next(moved), 0)})

    rows: list[tuple[str, Callable[[], Any], float | None]] = [
        ("5,000 items moved", move, 0.4),
        ("5,000 items painted", lambda: apply(large, "paint", {"ids": ids, "field": "fill", "value": "#aa0000"}), 0.4),
        ("a stroke of 4,000 points fitted at 30", lambda: outline.fit(stroke, 30), 0.5),
        ("a stroke of 20,000 points fitted at 30", lambda: outline.fit(long_stroke, 30), 0.5),
        (
            "500 letters drawn, with the margins of their holes",
            lambda: (fragment(lettered, str), holes(lettered, 4)),
            0.3,
        ),
        ("the dimensions of a scribble of 600 random places", lambda: dimensions_of(large, [scribbled]), 0.3),
        ("500 letters offset", lambda: outline.offset(letters, 3), 0.5),
        ("a line of 3,000 short sides that crosses itself, offset", lambda: outline.offset(walk, 3), 3.0),
        ("a line of 3,000 sides, each a fifth of its extent, offset", lambda: outline.offset(hatching, 3), 3.0),
        ("3,000 random places joined and offset: every side crosses about 700", lambda: outline.offset(wild, 3), None),
        (f"groups {MAX_DEPTH} deep, made one by one", _deep, 3.0),
    ]
    out = []
    for name, call, limit in rows:
        seconds = best(call, 3, 4.0)
        print(f"  {name}: {seconds:.3f} s")
        out.append((f"{name} ÷ 500 circles", seconds / unit, f"≤ {limit / UNIT:.0f}" if limit else ""))
    return out
