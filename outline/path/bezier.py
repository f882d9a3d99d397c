"""Kernels on one cubic given as eight numbers x0 y0 x1 y1 x2 y2 x3 y3."""

import math

from .kernel import kernel

__all__ = [
    "length_of",
    "split_range",
    "quad_roots",
    "bulge",
    "signed_area",
    "bernstein",
    "bernstein_d",
    "start_direction",
    "is_straight",
]


@kernel("float64(float64, float64)")
def length_of(x, y):
    """Return the length of (x, y) by what IEEE 754 rounds exactly: the same on every machine, as `hypot` is not."""
    return math.sqrt(x * x + y * y)


@kernel("float64(float64, float64, float64, float64, float64)")
def bernstein(a, b, c, d, t):
    """Return the cubic Bernstein polynomial with coefficients a..d at `t`."""
    s = 1.0 - t
    return s * s * s * a + 3.0 * s * t * (s * b + t * c) + t * t * t * d


@kernel("float64(float64, float64, float64, float64, float64)")
def bernstein_d(a, b, c, d, t):
    """Return its derivative at `t`."""
    s = 1.0 - t
    return 3.0 * (s * s * (b - a) + 2.0 * s * t * (c - b) + t * t * (d - c))


@kernel("int64(float64, float64, float64, float64[::1])")
def quad_roots(a, b, c, out):
    """Write the real roots of a t² + b t + c to `out`, return how many (0, 1 or 2)."""
    scale = max(abs(a), abs(b), abs(c))
    if scale == 0.0:
        return 0
    if abs(a) <= 1e-14 * scale:
        if abs(b) <= 1e-14 * scale:
            return 0
        out[0] = -c / b
        return 1
    disc = b * b - 4.0 * a * c
    if disc < 0.0:
        if disc > -1e-14 * scale * scale:
            out[0] = -b / (2.0 * a)
            return 1
        return 0
    root = math.sqrt(disc)
    q = -0.5 * (b + (root if b >= 0 else -root))
    out[0] = q / a
    if q == 0.0:
        return 1
    out[1] = c / q
    return 2


@kernel("void(float64[:, ::1], int64, float64, float64, float64[:, ::1], int64)")
def split_range(ctrl, i, ta, tb, out, k):
    """Write the part [ta, tb] of cubic `ctrl[i]` to `out[k]` (blossoming)."""
    for axis in range(2):
        p0 = ctrl[i, axis]
        p1 = ctrl[i, 2 + axis]
        p2 = ctrl[i, 4 + axis]
        p3 = ctrl[i, 6 + axis]
        sa = 1.0 - ta
        sb = 1.0 - tb
        a01 = sa * p0 + ta * p1
        a12 = sa * p1 + ta * p2
        a23 = sa * p2 + ta * p3
        b01 = sb * p0 + tb * p1
        b12 = sb * p1 + tb * p2
        b23 = sb * p2 + tb * p3
        aa0 = sa * a01 + ta * a12
        aa1 = sa * a12 + ta * a23
        bb0 = sb * b01 + tb * b12
        bb1 = sb * b12 + tb * b23
        out[k, axis] = p0 if ta == 0.0 else sa * aa0 + ta * aa1
        out[k, 2 + axis] = sb * aa0 + tb * aa1
        out[k, 4 + axis] = sa * bb0 + ta * bb1
        out[k, 6 + axis] = p3 if tb == 1.0 else sb * bb0 + tb * bb1


@kernel("float64(float64[:, ::1], int64)")
def bulge(ctrl, i):
    """Return the signed area between cubic `ctrl[i]` and its chord (Green's theorem, exact)."""
    x0 = ctrl[i, 0]
    y0 = ctrl[i, 1]
    x1 = ctrl[i, 2] - x0
    y1 = ctrl[i, 3] - y0
    x2 = ctrl[i, 4] - x0
    y2 = ctrl[i, 5] - y0
    x3 = ctrl[i, 6] - x0
    y3 = ctrl[i, 7] - y0
    return (3.0 * (x1 * y2 - x2 * y1) + 3.0 * (x1 * y3 - x3 * y1) + 6.0 * (x2 * y3 - x3 * y2)) / 20.0


@kernel("float64(float64[:, ::1], int64, float64, float64)")
def signed_area(ctrl, i, x, y):
    """Return the area that cubic `ctrl[i]` sweeps about the point (x, y)."""
    x0 = ctrl[i, 0] - x
    y0 = ctrl[i, 1] - y
    return bulge(ctrl, i) + 0.5 * (x0 * (ctrl[i, 7] - y) - (ctrl[i, 6] - x) * y0)


@kernel("boolean(float64[:, ::1], int64)")
def is_straight(ctrl, i):
    """Return whether cubic `ctrl[i]` runs straight and forward along its chord, to float noise."""
    dx = ctrl[i, 6] - ctrl[i, 0]
    dy = ctrl[i, 7] - ctrl[i, 1]
    size = dx * dx + dy * dy
    if size == 0.0:
        return False
    before = 0.0
    for k in (2, 4):
        hx = ctrl[i, k] - ctrl[i, 0]
        hy = ctrl[i, k + 1] - ctrl[i, 1]
        if abs(hx * dy - hy * dx) > 1e-14 * size:
            return False
        along = (hx * dx + hy * dy) / size
        if along < before or along > 1.0:
            return False
        before = along
    return True


@kernel("void(float64[:, ::1], int64, boolean, float64[::1])")
def start_direction(ctrl, i, backward, out):
    """Write the unit direction in which cubic `ctrl[i]` leaves its start (or its end, run backward).

    A handle that lies on its node gives the limit tangent: the next control point that differs.
    """
    a = 6 if backward else 0
    step = -2 if backward else 2
    fx = ctrl[i, 6 - a] - ctrl[i, a]
    fy = ctrl[i, 7 - a] - ctrl[i, a + 1]
    size = math.sqrt(fx * fx + fy * fy)
    for n in range(1, 4):
        dx = ctrl[i, a + n * step] - ctrl[i, a]
        dy = ctrl[i, a + n * step + 1] - ctrl[i, a + 1]
        d = math.sqrt(dx * dx + dy * dy)
        if d > 1e-10 * size or n == 3:
            if d == 0.0:
                out[0] = 1.0
                out[1] = 0.0
            else:
                out[0] = dx / d
                out[1] = dy / d
            return
