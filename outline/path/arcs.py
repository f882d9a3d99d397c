"""Elliptical arcs as cubics."""

import math

__all__ = ["arc_to_cubics", "unit_arc"]

Point = tuple[float, float]
Cubic = tuple[Point, Point, Point]

STEP = math.pi / 16
"""Most that one cubic of a general arc turns: its radial error is then below 1e-7 of the radius."""


def unit_arc(start: float, sweep: float, step: float = STEP) -> list[Cubic]:
    """Return cubics for the unit circle from angle `start` on by `sweep` (radians).

    Each is (handle, handle, end). The handle length 4/3 tan(sweep/4) puts the middle of
    each cubic on the circle (common practice; derived in most CAGD textbooks).
    """
    n = max(1, math.ceil(abs(sweep) / step - 1e-9))
    part = sweep / n
    k = 4.0 / 3.0 * math.tan(part / 4.0)
    cubics = []
    for i in range(n):
        a, b = start + i * part, start + (i + 1) * part
        ca, sa, cb, sb = math.cos(a), math.sin(a), math.cos(b), math.sin(b)
        cubics.append(((ca - k * sa, sa + k * ca), (cb + k * sb, sb - k * cb), (cb, sb)))
    return cubics


def arc_to_cubics(
    p0: Point, rx: float, ry: float, rotation: float, large: bool, sweep: bool, p1: Point, step: float = STEP
) -> list[Cubic]:
    """Return cubics for an SVG arc command, by SVG 2 appendix B.2 (implementation notes).

    `rotation` is in degrees; one cubic turns by `step` (radians) at most. Equal ends
    give no cubic and a zero radius a straight one; radii too small are scaled up until the arc reaches (B.2.5).
    """
    if p0 == p1:
        return []
    rx, ry = abs(rx), abs(ry)
    if rx == 0.0 or ry == 0.0:
        (x0, y0), (x1, y1) = p0, p1
        third = ((x1 - x0) / 3, (y1 - y0) / 3)
        return [((x0 + third[0], y0 + third[1]), (x1 - third[0], y1 - third[1]), p1)]
    phi = math.radians(rotation % 360.0)
    c, s = math.cos(phi), math.sin(phi)
    dx, dy = (p0[0] - p1[0]) / 2, (p0[1] - p1[1]) / 2
    x, y = c * dx + s * dy, -s * dx + c * dy
    grow = math.hypot(x / rx, y / ry)
    if grow > 1.0:
        rx, ry = rx * grow, ry * grow
    ux, uy = x / rx, y / ry
    size = ux * ux + uy * uy
    root = math.sqrt(max(0.0, 1.0 / size - 1.0)) if grow < 1.0 else 0.0
    if large == sweep:
        root = -root
    # the centre, in the frame where the ellipse is the unit circle
    cx, cy = root * uy, -root * ux
    start = math.atan2(uy - cy, ux - cx)
    turn = math.atan2(-uy - cy, -ux - cx) - start
    if sweep and turn < 0:
        turn += 2 * math.pi
    elif not sweep and turn > 0:
        turn -= 2 * math.pi
    mx, my = (p0[0] + p1[0]) / 2, (p0[1] + p1[1]) / 2

    def place(p: Point) -> Point:
        px, py = (p[0] + cx) * rx, (p[1] + cy) * ry
        return c * px - s * py + mx, s * px + c * py + my

    cubics = [(place(a), place(b), place(e)) for a, b, e in unit_arc(start, turn, step)]
    cubics[-1] = (cubics[-1][0], cubics[-1][1], p1)
    return cubics
