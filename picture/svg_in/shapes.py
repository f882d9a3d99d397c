"""SVG's basic shapes (SVG 2, chapter 10) as live shapes or paths, and fitting a view box into its viewport."""

import re
from collections.abc import Callable
from typing import Any, Final
from xml.etree.ElementTree import Element

from outline import Matrix, Path, PathError
from outline.path.svgpath import mapped, read
from sheet.caching import cached_if_short
from sheet.document.kinds import Ellipse, Rectangle
from sheet.geometry.geometry import own_path

from .css import length, numbers

__all__ = ["SHAPES", "fitted", "is_upright", "outlines_of", "path_data", "shape_of", "viewed"]

SHAPES: Final = {"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"}
_ALIGN: Final = re.compile(r"\s*x(Min|Mid|Max)Y(Min|Mid|Max)")
_SHARE: Final = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}


_POINTS: Final = re.compile(r"[-+\d.eE,\s]*")
"""Anything but a number ends the points (SVG 2, 10.7)."""


_DOT: Final = re.compile(r"([Mm][\s,]*[-+\d.eE]+(?:[\s,]*[-+][\d.eE]+|[\s,]+[-+\d.eE]+))\s*[zZ]")
"""A subpath that closes where it starts."""


_read = cached_if_short(entries=512, longest=2_000)(read)
"""A filter draws twice what is in it, and more than once in others."""


def path_data(own: dict[str, str], matrix: Matrix, report: Callable[[str], None], dots: bool = False) -> str:
    """Return a path's data under a map, up to its first error (SVG 2, 9.5.4); in CSS it is `path("…")` (9.3.2).

    With `dots`, subpaths of no length stay, because their caps are drawn (11.4). Raises
    PathError for impossible coordinates.
    """
    d = own.get("d", "")
    if dots:
        d = _DOT.sub(r"\1h0", d)
    if d.lstrip().startswith(("path('", 'path("')):
        d = d.strip()[6:-2]
    try:
        return mapped(_read(d), matrix)
    except PathError:
        data = mapped(read(d, forgiving=True), matrix)
        report("path with a mistake in it (drawn up to there)" if data else "path that cannot be read")
        return data


def shape_of(name: str, own: dict[str, str], rule: str) -> tuple[Any, Path | None]:
    """Return the live shape and None, or None and its path, in its own coordinates; both None for other elements."""

    def n(key: str, whole: float = 100.0) -> float:
        return length(own.get(key), whole)

    if name == "rect":
        w, h = n("width"), n("height")
        rx, ry = (None if r == "auto" else r for r in (own.get("rx"), own.get("ry")))
        a = length(rx if rx is not None else ry, 100.0)
        b = length(ry if ry is not None else rx, 100.0)
        if w <= 0 or h <= 0:
            return None, None
        if not a or not b or (abs(a - b) < 1e-9 and a <= min(w, h) / 2):
            r = max(0.0, a) if a and b else 0.0
            return (Rectangle(w, h, (r, r, r, r)), n("x"), n("y")), None
        a, b = min(a, w / 2), min(b, h / 2)
        x, y = n("x"), n("y")
        d = (
            f"M{x + a} {y}H{x + w - a}A{a} {b} 0 0 1 {x + w} {y + b}V{y + h - b}A{a} {b} 0 0 1 {x + w - a} {y + h}"
            f"H{x + a}A{a} {b} 0 0 1 {x} {y + h - b}V{y + b}A{a} {b} 0 0 1 {x + a} {y}Z"
        )
        return None, Path.from_svg(d)
    if name in ("circle", "ellipse"):
        # one radius stands for both (SVG 2, 8.7.3: auto)
        rx, ry = ("r", "r") if name == "circle" else ("rx", "ry")
        across, down = (n(key if own.get(key, "auto") != "auto" else other) for key, other in ((rx, ry), (ry, rx)))
        if across <= 0 or down <= 0:
            return None, None
        return (Ellipse(2 * across, 2 * down), n("cx") - across, n("cy") - down), None
    if name == "line":
        d = f"M{n('x1')} {n('y1')}L{n('x2')} {n('y2')}"
    else:
        points = numbers(_POINTS.match(own.get("points", ""))[0])  # type: ignore[index]
        pairs = [f"{x} {y}" for x, y in zip(points[::2], points[1::2], strict=False)]
        d = f"M{'L'.join(pairs)}{'Z' if name == 'polygon' else ''}" if len(pairs) > 1 else ""
    return (None, Path.from_svg(d, "evenodd" if rule == "evenodd" else "nonzero")) if d.strip() else (None, None)


def outlines_of(name: str, own: dict[str, str], rule: str, matrix: Matrix, report: Callable[[str], None]) -> list[Path]:
    """Return the outline of a shape under a map, none if it draws nothing. Raises OutlineError."""
    if name == "path":
        return [Path.from_svg(path_data(own, matrix, report), "evenodd" if rule == "evenodd" else "nonzero")]
    live, path = shape_of(name, own, rule)
    if live is not None:
        shape, x, y = live
        return [own_path(shape).transform(matrix @ Matrix.move(x, y))]
    return [path.transform(matrix)] if path is not None else []


def is_upright(m: Matrix) -> bool:
    """Return whether a map neither turns nor mirrors."""
    return abs(m.b) < 1e-12 and abs(m.c) < 1e-12 and m.a > 0 and m.d > 0


def fitted(text: str, viewport: tuple[float, float], size: tuple[float, float]) -> Matrix:
    """Return the map that fits a size into a viewport by its `preserveAspectRatio` (SVG 2, 8.6)."""
    sx, sy = viewport[0] / size[0], viewport[1] / size[1]
    if text.lstrip().startswith("none"):
        return Matrix.resize(sx, sy)
    s = max(sx, sy) if "slice" in text else min(sx, sy)
    found = _ALIGN.match(text)
    across, down = (_SHARE[found[1]], _SHARE[found[2]]) if found else (0.5, 0.5)
    return Matrix(s, 0, 0, s, across * (viewport[0] - s * size[0]), down * (viewport[1] - s * size[1]))


def size_of(own: dict[str, str], box: list[float]) -> tuple[float, float]:
    """Return width and height (CSS px) of a drawing from its root's declarations and view box (CSS Images 3, 5.3).

    A side given in per cent counts as not given. One side alone follows the box's
    proportion; none at all is the box's own size. Without a box a side that is not given is 0.
    """
    sides = [
        0.0 if own.get(key, "").strip().endswith("%") else length(own.get(key), 0.0) for key in ("width", "height")
    ]
    if len(box) != 4 or box[2] <= 0 or box[3] <= 0:
        return sides[0], sides[1]
    width, height = sides
    if width > 0 and height > 0:
        return width, height
    if width > 0:
        return width, width * box[3] / box[2]
    return (height * box[2] / box[3], height) if height > 0 else (box[2], box[3])


def viewed(element: Element, own: dict[str, str], size: tuple[float, float] | None = None) -> Matrix:
    """Return the map from an element's view box to its size, or to the one given (SVG 2, 8.2)."""
    box = numbers(element.get("viewBox"))
    if len(box) != 4 or box[2] <= 0 or box[3] <= 0:
        return Matrix()
    viewport = length(own.get("width"), box[2], box[2]), length(own.get("height"), box[3], box[3])
    if size is not None:
        viewport = size
    laid = fitted(element.get("preserveAspectRatio", ""), viewport, (box[2], box[3]))
    return laid @ Matrix.move(-box[0], -box[1])
