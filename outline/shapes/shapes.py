"""Basic shapes as paths, in sheet units, placed with their box at the origin or about a centre."""

import math

from outline.path.arcs import unit_arc
from outline.path.builder import Builder
from outline.path.errors import OutlineError
from outline.path.path import Path

__all__ = ["ShapeError", "rectangle", "ellipse", "polygon", "star", "boxed"]


class ShapeError(OutlineError, ValueError):
    """A number outside the range of its shape."""


def _size(name: str, value: float) -> float:
    if not (math.isfinite(value) and value > 0):
        raise ShapeError(f"the {name} must be greater than 0, not {value:g}")
    return float(value)


def rectangle(width: float, height: float, radii: tuple[float, float, float, float] = (0, 0, 0, 0)) -> Path:
    """Return a rectangle from (0, 0) with corner radii from top left clockwise.

    Radii that do not fit are scaled down together, as CSS Backgrounds 3, 5.5 does.

    >>> rectangle(4, 2).to_svg()
    'M0 0H4V2H0Z'
    """
    w, h = _size("width", width), _size("height", height)
    if any(not math.isfinite(r) or r < 0 for r in radii):
        raise ShapeError("a corner radius must be 0 or more")
    tl, tr, br, bl = radii
    sides = ((tl + tr, w), (tr + br, h), (br + bl, w), (bl + tl, h))
    fit = min([1.0] + [side / both for both, side in sides if both > 0])
    tl, tr, br, bl = (r * fit for r in radii)
    out = Builder()
    out.move(tl, 0)
    corners = (
        (w - tr, 0.0, w - tr, tr, tr, -90),
        (w, h - br, w - br, h - br, br, 0),
        (bl, h, bl, h - bl, bl, 90),
        (0.0, tl, tl, tl, tl, 180),
    )
    for x, y, cx, cy, r, start in corners:
        if (x, y) != out.point:
            out.line(x, y)
        if r > 0:
            for h1, h2, e in unit_arc(math.radians(start), math.pi / 2, math.pi / 2):
                end = (round(e[0]), round(e[1]))
                out.cubic(*(c + r * v for p in (h1, h2, end) for c, v in zip((cx, cy), p, strict=True)))
    out.close()
    return Path(*out.arrays())


CIRCLE_HANDLE = 4.0 / 3.0 * (math.sqrt(2.0) - 1.0)
"""Handle of a quarter circle of radius 1: its radial error is at most 0.0273 % (common practice)."""


def ellipse(rx: float, ry: float, cx: float = 0.0, cy: float = 0.0) -> Path:
    """Return an ellipse of four cubics about (cx, cy), clockwise on a sheet from its right-hand node."""
    rx, ry = _size("width", rx), _size("height", ry)
    kx, ky = CIRCLE_HANDLE * rx, CIRCLE_HANDLE * ry
    out = Builder()
    out.move(cx + rx, cy)
    out.cubic(cx + rx, cy + ky, cx + kx, cy + ry, cx, cy + ry)
    out.cubic(cx - kx, cy + ry, cx - rx, cy + ky, cx - rx, cy)
    out.cubic(cx - rx, cy - ky, cx - kx, cy - ry, cx, cy - ry)
    out.cubic(cx + kx, cy - ry, cx + rx, cy - ky, cx + rx, cy)
    out.close()
    return Path(*out.arrays())


def polygon(sides: int, radius: float, cx: float = 0.0, cy: float = 0.0) -> Path:
    """Return a regular polygon of 3 to 1000 sides inscribed in a circle, one corner up."""
    if not 3 <= sides <= 1000:
        raise ShapeError(f"a polygon has 3 to 1000 sides, not {sides}")
    r = _size("radius", radius)
    angles = (2 * math.pi * k / sides for k in range(sides))
    return Path.from_points([(cx + r * math.sin(a), cy - r * math.cos(a)) for a in angles])


def star(points: int, radius: float, inner: float, cx: float = 0.0, cy: float = 0.0) -> Path:
    """Return a star of 3 to 1000 points, one tip up; `inner` is the radius of its valleys."""
    if not 3 <= points <= 1000:
        raise ShapeError(f"a star has 3 to 1000 points, not {points}")
    r, s = _size("radius", radius), _size("inner radius", inner)
    tips = [(r if k % 2 == 0 else s, math.pi * k / points) for k in range(2 * points)]
    return Path.from_points([(cx + d * math.sin(a), cy - d * math.cos(a)) for d, a in tips])


def boxed(path: Path, width: float, height: float) -> Path:
    """Return `path` stretched so that its box is `width` by `height` from (0, 0)."""
    x0, y0, x1, y1 = path.bounds or (0.0, 0.0, 1.0, 1.0)
    sx, sy = _size("width", width) / (x1 - x0), _size("height", height) / (y1 - y0)
    return path.transform((sx, 0.0, 0.0, sy, -sx * x0, -sy * y0))
