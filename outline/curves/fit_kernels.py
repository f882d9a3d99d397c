"""Fitting cubics to many points: kernels of `fitting`."""

import math

import numpy as np

from outline.path.bezier import length_of
from outline.path.kernel import kernel

__all__ = ["direction", "draw_handles", "fit_run", "handle_lengths", "turns"]

BLOCK = 64
"""Points per block of the table that lets a search skip those that are near."""


@kernel("int64(float64[:, ::1], float64[:, ::1], int64, int64, boolean, float64)")
def leaves(p, boxes, i, way, closed, reach):
    """Return the first point from i forward (way 1) or back (way -1) further than `reach` from it, -1 if none is.

    A closed stroke continues past its start. Blocks whose box is wholly within reach are skipped.
    """
    n = p.shape[0]
    x = p[i, 0]
    y = p[i, 1]
    far = reach * reach
    gone = 1
    while gone < n:
        j = i + way * gone
        if j < 0 or j >= n:
            if not closed:
                return -1
            j = j - n if j >= n else j + n
        block = j // BLOCK
        edge = j % BLOCK == 0 if way == 1 else (j % BLOCK == BLOCK - 1 or j == n - 1)
        if edge:
            dx = max(abs(boxes[block, 0] - x), abs(boxes[block, 2] - x))
            dy = max(abs(boxes[block, 1] - y), abs(boxes[block, 3] - y))
            size = min(BLOCK, n - block * BLOCK)
            if dx * dx + dy * dy <= far and gone + size <= n:
                gone += size
                continue
        dx = p[j, 0] - x
        dy = p[j, 1] - y
        if dx * dx + dy * dy > far:
            return j
        gone += 1
    return -1


@kernel("float64[::1](float64[:, ::1], float64, boolean)")
def turns(p, reach, closed):
    """Return by how many degrees the stroke turns at each point, seen from `reach` away; -1 if it ends sooner."""
    n = p.shape[0]
    boxes = np.empty(((n + BLOCK - 1) // BLOCK, 4))
    for k in range(boxes.shape[0]):
        boxes[k, 0] = np.inf
        boxes[k, 1] = np.inf
        boxes[k, 2] = -np.inf
        boxes[k, 3] = -np.inf
    for i in range(n):
        k = i // BLOCK
        boxes[k, 0] = min(boxes[k, 0], p[i, 0])
        boxes[k, 1] = min(boxes[k, 1], p[i, 1])
        boxes[k, 2] = max(boxes[k, 2], p[i, 0])
        boxes[k, 3] = max(boxes[k, 3], p[i, 1])
    out = np.full(n, -1.0)
    for i in range(n):
        if not closed and (i == 0 or i == n - 1):
            continue
        a = leaves(p, boxes, i, -1, closed, reach)
        if a < 0:
            continue
        b = leaves(p, boxes, i, 1, closed, reach)
        if b < 0:
            continue
        ux = p[i, 0] - p[a, 0]
        uy = p[i, 1] - p[a, 1]
        vx = p[b, 0] - p[i, 0]
        vy = p[b, 1] - p[i, 1]
        out[i] = abs(math.degrees(math.atan2(ux * vy - uy * vx, ux * vx + uy * vy)))
    return out


@kernel("void(float64[:, ::1], int64, int64, float64, float64[::1])")
def direction(p, a, b, near, out):
    """Write the unit direction in which the points leave p[a] towards p[b], measured beyond the noise."""
    step = 1 if b >= a else -1
    best = -1.0
    at = a
    k = a
    while k != b + step:
        dx = p[k, 0] - p[a, 0]
        dy = p[k, 1] - p[a, 1]
        d = dx * dx + dy * dy
        if d > best:
            best = d
            at = k
        if d > 4 * near * near:
            break
        k += step
    if at == a and a != b:
        at = a + step
    dx = p[at, 0] - p[a, 0]
    dy = p[at, 1] - p[a, 1]
    size = math.sqrt(dx * dx + dy * dy)
    out[0] = dx / size if size > 0 else 0.0
    out[1] = dy / size if size > 0 else 0.0


@kernel("boolean(float64[:, ::1], int64, int64, float64[::1], float64[::1], float64, float64[::1])")
def handle_lengths(p, a, b, t, ends, least, out):
    """Write the lengths of both handles of the cubic nearest to points a to b at parameters t to out[0] and out[1].

    Its ends are on p[a] and p[b], its handles along the directions in `ends` (x, y, x, y). Least squares (Schneider,
    An algorithm for automatically fitting digitized curves, Graphics Gems, 1990). Returns False, and writes nothing,
    if the determinant is not above the share `least` of its terms.
    """
    c00 = 0.0
    c01 = 0.0
    c11 = 0.0
    x0 = 0.0
    x1 = 0.0
    cos = ends[0] * ends[2] + ends[1] * ends[3]
    one = ends[0] * ends[0] + ends[1] * ends[1]
    two = ends[2] * ends[2] + ends[3] * ends[3]
    for k in range(a, b + 1):
        u = t[k]
        s = 1.0 - u
        b1 = 3 * s * s * u
        b2 = 3 * s * u * u
        rx = p[k, 0] - (s * s * s + b1) * p[a, 0] - (u * u * u + b2) * p[b, 0]
        ry = p[k, 1] - (s * s * s + b1) * p[a, 1] - (u * u * u + b2) * p[b, 1]
        c00 += b1 * b1 * one
        c01 += b1 * b2 * cos
        c11 += b2 * b2 * two
        x0 += b1 * (ends[0] * rx + ends[1] * ry)
        x1 += b2 * (ends[2] * rx + ends[3] * ry)
    det = c00 * c11 - c01 * c01
    if not abs(det) > least * max(c00 * c11, 1e-300):
        return False
    out[0] = (x0 * c11 - x1 * c01) / det
    out[1] = (c00 * x1 - c01 * x0) / det
    return True


@kernel("void(float64[:, ::1], int64, int64, float64[::1], float64[::1], float64[::1])")
def draw_handles(p, a, b, ends, lengths, out):
    """Write the cubic from p[a] to p[b] with handles of two lengths along the directions in `ends`."""
    for k in range(2):
        out[k] = p[a, k]
        out[2 + k] = p[a, k] + lengths[0] * ends[k]
        out[4 + k] = p[b, k] + lengths[1] * ends[2 + k]
        out[6 + k] = p[b, k]


@kernel("void(float64[:, ::1], int64, int64, float64[::1], float64[::1], float64[::1])")
def least_squares(p, a, b, t, ends, out):
    """Write the cubic nearest to points a to b at parameters t, its ends on them, along the directions in `ends`."""
    lengths = np.zeros(2)
    handle_lengths(p, a, b, t, ends, 1e-12, lengths)
    chord = length_of(p[b, 0] - p[a, 0], p[b, 1] - p[a, 1])
    if min(lengths[0], lengths[1]) < 1e-3 * chord or max(lengths[0], lengths[1]) > 3 * chord:
        lengths[:] = chord / 3
    draw_handles(p, a, b, ends, lengths, out)


@kernel("void(float64[::1], float64[:, ::1], int64, int64, float64[::1], float64[::1])")
def nearer(c, p, a, b, t, moved):
    """Move parameters one Newton step towards the nearest points of c, unless they would lose their order."""
    ax = c[2] - c[0]
    ay = c[3] - c[1]
    bx = c[4] - c[2]
    by = c[5] - c[3]
    gx = c[6] - c[4]
    gy = c[7] - c[5]
    before = 0.0
    for k in range(a, b + 1):
        u = t[k]
        s = 1.0 - u
        dx = s * s * s * c[0] + 3 * s * s * u * c[2] + 3 * s * u * u * c[4] + u * u * u * c[6] - p[k, 0]
        dy = s * s * s * c[1] + 3 * s * s * u * c[3] + 3 * s * u * u * c[5] + u * u * u * c[7] - p[k, 1]
        d1x = 3 * (s * s * ax + 2 * s * u * bx + u * u * gx)
        d1y = 3 * (s * s * ay + 2 * s * u * by + u * u * gy)
        d2x = 6 * (s * (bx - ax) + u * (gx - bx))
        d2y = 6 * (s * (by - ay) + u * (gy - by))
        f = dx * d1x + dy * d1y
        g = d1x * d1x + d1y * d1y + dx * d2x + dy * d2y
        now = u - f / g if abs(g) > 1e-300 else u
        now = min(1.0, max(0.0, now))
        if now < before:
            return
        before = now
        moved[k] = now
    for k in range(a, b + 1):
        t[k] = moved[k]


@kernel("int64(float64[::1], float64[:, ::1], int64, int64, float64[::1], float64[::1])")
def furthest(c, p, a, b, t, off):
    """Return which of points a to b is furthest from cubic c at its parameter; off[0] is the distance."""
    worst = a
    most = -1.0
    for k in range(a, b + 1):
        u = t[k]
        s = 1.0 - u
        dx = s * s * s * c[0] + 3 * s * s * u * c[2] + 3 * s * u * u * c[4] + u * u * u * c[6] - p[k, 0]
        dy = s * s * s * c[1] + 3 * s * s * u * c[3] + 3 * s * u * u * c[5] + u * u * u * c[7] - p[k, 1]
        d = dx * dx + dy * dy
        if d > most:
            most = d
            worst = k
    off[0] = math.sqrt(most)
    return worst


ONE_PLACE, FITS = -2, -1


@kernel("int64(float64[:, ::1], int64, int64, float64[::1], float64, float64[::1], float64[::1], float64[::1])")
def fit_span(p, a, b, ends, near, t, moved, c):
    """Write one cubic for points a to b to `c`: FITS, ONE_PLACE if all coincide, else the point to split at.

    `t` and `moved` have space for a parameter per point.
    """
    if b - a == 1:
        draw_handles(p, a, b, ends, np.full(2, length_of(p[b, 0] - p[a, 0], p[b, 1] - p[a, 1]) / 3), c)
        return FITS
    t[a] = 0.0
    for k in range(a + 1, b + 1):
        t[k] = t[k - 1] + length_of(p[k, 0] - p[k - 1, 0], p[k, 1] - p[k - 1, 1])
    total = t[b]
    if total == 0:
        return ONE_PLACE
    for k in range(a, b + 1):
        t[k] /= total
    worst = a
    off = np.empty(1)
    for turn in range(8):
        least_squares(p, a, b, t, ends, c)
        worst = furthest(c, p, a, b, t, off)
        if off[0] <= near:
            return FITS
        if turn >= 3 and off[0] > 4 * near:
            break
        nearer(c, p, a, b, t, moved)
    return worst


@kernel("void(float64[:, ::1], int64, int64, int64, float64, float64[::1])")
def direction_through(p, at, a, b, near, out):
    """Write the unit direction from b to a in which points pass p[at], measured beyond the noise."""
    one = np.empty(2)
    two = np.empty(2)
    direction(p, at, a, near, one)
    direction(p, at, b, near, two)
    x = one[0] - two[0]
    y = one[1] - two[1]
    size = math.sqrt(x * x + y * y)
    out[0] = x / size if size > 0 else one[0]
    out[1] = y / size if size > 0 else one[1]


@kernel("float64[:, ::1](float64[:, ::1], float64[::1], float64)")
def fit_run(p, ends, near):
    """Return the cubics that pass every point within `near`; `ends` are the directions at both ends, inwards."""
    n = p.shape[0]
    out = np.empty((16, 8))
    count = 0
    t = np.empty(n)
    moved = np.empty(n)
    c = np.empty(8)
    m = np.empty(2)
    own = np.empty(4)
    # spans to fit: first and last point, and how often they were split
    spans = np.empty((64, 3), np.int64)
    along = np.empty((64, 4))
    spans[0, 0] = 0
    spans[0, 1] = n - 1
    spans[0, 2] = 0
    along[0] = ends
    depth = 1
    while depth > 0:
        depth -= 1
        a = spans[depth, 0]
        b = spans[depth, 1]
        level = spans[depth, 2]
        own[:] = along[depth]
        if count == out.shape[0]:
            more = np.empty((2 * count, 8))
            more[:count] = out
            out = more
        worst = fit_span(p, a, b, own, near, t, moved, c)
        if worst == ONE_PLACE:
            continue
        if worst == FITS:
            out[count] = c
            count += 1
            continue
        # repeated splits that take off a point or two would make the work quadratic
        if level > 24:
            worst = (a + b) // 2
        worst = min(max(worst, a + 1), b - 1)
        direction_through(p, worst, a, b, near, m)
        # the first part is fitted first
        for half in range(2):
            spans[depth, 0] = worst if half == 0 else a
            spans[depth, 1] = b if half == 0 else worst
            spans[depth, 2] = level + 1
            for k in range(2):
                along[depth, k] = -m[k] if half == 0 else own[k]
                along[depth, 2 + k] = own[2 + k] if half == 0 else m[k]
            depth += 1
    return out[:count].copy()
