"""Where two monotone curves meet.

An end of one curve within the tolerance of the other is a contact; straight monotone curves
cross by a closed form; the rest are compared as graphs over a diagonal.
"""

import numpy as np

from outline.path.bezier import bernstein, length_of
from outline.path.kernel import kernel

from .intersect import meet_opposite, meet_same, quick_same
from .monotone_frame import invert, near, to_frame

__all__ = ["meet_pairs"]


@kernel("boolean(float64[:, ::1], int64, int64, float64)")
def apart(c, i, j, tol):
    """Return whether monotone curve j's control points all lie on one side of the band about curve i's chord."""
    x0 = c[i, 0]
    y0 = c[i, 1]
    dx = c[i, 6] - x0
    dy = c[i, 7] - y0
    d1 = dx * (c[i, 3] - y0) - dy * (c[i, 2] - x0)
    d2 = dx * (c[i, 5] - y0) - dy * (c[i, 4] - x0)
    slack = 2.0 * tol * (abs(dx) + abs(dy))
    # a cubic keeps to 3/4 of its handles' distance where both lie on one side, to 4/9 else
    f = 0.75 if d1 * d2 > 0.0 else 0.4444444444444445
    low = f * min(0.0, d1, d2) - slack
    high = f * max(0.0, d1, d2) + slack
    d = dx * (c[j, 1] - y0) - dy * (c[j, 0] - x0)
    if d < low:
        for k in range(2, 8, 2):
            if dx * (c[j, k + 1] - y0) - dy * (c[j, k] - x0) >= low:
                return False
        return True
    if d > high:
        for k in range(2, 8, 2):
            if dx * (c[j, k + 1] - y0) - dy * (c[j, k] - x0) <= high:
                return False
        return True
    return False


@kernel("int64(float64[:, ::1], int64, int64, float64, float64[:, ::1])")
def meet_lines(c, i, j, tol, out):
    """Write the contact strictly inside both straight monotone curves to out[0] as ti, tj, x, y; return how many."""
    ax = c[i, 0]
    ay = c[i, 1]
    dx = c[i, 6] - ax
    dy = c[i, 7] - ay
    bx = c[j, 0]
    by = c[j, 1]
    ex = c[j, 6] - bx
    ey = c[j, 7] - by
    li = length_of(dx, dy)
    lj = length_of(ex, ey)
    if li == 0.0 or lj == 0.0:
        return 0
    # signed distances of each line's ends from the other line
    b0 = (dx * (by - ay) - dy * (bx - ax)) / li
    b1 = (dx * (c[j, 7] - ay) - dy * (c[j, 6] - ax)) / li
    a0 = (ex * (ay - by) - ey * (ax - bx)) / lj
    a1 = (ex * (c[i, 7] - by) - ey * (c[i, 6] - bx)) / lj
    if (b0 > 0.0) == (b1 > 0.0) or (a0 > 0.0) == (a1 > 0.0):
        return 0
    if b0 == 0.0 or b1 == 0.0 or a0 == 0.0 or a1 == 0.0:
        return 0
    if (abs(b0) <= tol and abs(b1) <= tol) or (abs(a0) <= tol and abs(a1) <= tol):
        return 0
    ti = a0 / (a0 - a1)
    tj = b0 / (b0 - b1)
    out[0, 0] = ti
    out[0, 1] = tj
    if li <= lj:
        out[0, 2] = ax + ti * dx
        out[0, 3] = ay + ti * dy
    else:
        out[0, 2] = bx + tj * ex
        out[0, 3] = by + tj * ey
    return 1


@kernel("int64(float64[:, ::1], int64, int64, int64, float64, float64[:, ::1], float64[:, ::1], int64)")
def ends_on(c, i, j, q, tol, w, out, n):
    """Append a contact for each end of curve i that lies inside curve j; row 1 of `w` is scratch.

    `q` says which way curve j runs, 0 for a straight one. An end that meets an end is no
    contact: the two points merge as they are.
    """
    x0 = c[j, 0]
    y0 = c[j, 1]
    x1 = c[j, 6]
    y1 = c[j, 7]
    ready = False
    for k in range(2):
        px = c[i, 6 * k]
        py = c[i, 6 * k + 1]
        if px < min(x0, x1) - tol or px > max(x0, x1) + tol or py < min(y0, y1) - tol or py > max(y0, y1) + tol:
            continue
        if (px - x0) ** 2 + (py - y0) ** 2 <= tol * tol or (px - x1) ** 2 + (py - y1) ** 2 <= tol * tol:
            continue
        if q == 0:
            ex = x1 - x0
            ey = y1 - y0
            size = ex * ex + ey * ey
            t = min(1.0, max(0.0, ((px - x0) * ex + (py - y0) * ey) / size)) if size > 0.0 else 0.0
            hx = x0 + t * ex - px
            hy = y0 + t * ey - py
            if hx * hx + hy * hy > tol * tol:
                continue
        else:
            if not ready:
                to_frame(c, j, q, w, 1)
                ready = True
            # the frame is scaled by √2, and a slope of 1 costs another √2
            u = px + q * py
            if near(w, 1, u, py - q * px) > 1.5 * tol:
                continue
            t = invert(w, 1, u)
            t = 1.0 - t if w[1, 8] == 1.0 else t
        out[n, 0] = k
        out[n, 1] = t
        out[n, 2] = px
        out[n, 3] = py
        n += 1
    return n


@kernel("boolean(float64[:, ::1], int64, int64)")
def only_touch(c, i, j):
    """Return whether curves i and j only share an end: their boxes overlap in no more than a point."""
    wide = min(max(c[i, 0], c[i, 6]), max(c[j, 0], c[j, 6])) - max(min(c[i, 0], c[i, 6]), min(c[j, 0], c[j, 6]))
    high = min(max(c[i, 1], c[i, 7]), max(c[j, 1], c[j, 7])) - max(min(c[i, 1], c[i, 7]), min(c[j, 1], c[j, 7]))
    if wide != 0.0 or high != 0.0:
        return False
    for a in range(0, 8, 6):
        for b in range(0, 8, 6):
            if c[i, a] == c[j, b] and c[i, a + 1] == c[j, b + 1]:
                return True
    return False


@kernel(
    "int64(float64[:, ::1], int64, int64, int64, int64, float64, float64[:, ::1],"
    " Tuple((float64[:, ::1], float64[:, ::1], float64[:, ::1], float64[::1])))"
)
def meet_graphs(c, i, j, qi, qj, tol, out, scratch):
    """Write the contacts strictly inside curves i and j, not both straight, to `out`; return how many there are.

    `qi` and `qj` say which way they run, 0 for along an axis. `scratch` has the curves in
    their frame (2, 11), parts that are yet to be looked at (4096, 8), parameters found
    (16, 2), and one that is guessed (2).
    """
    w, ends, found, guess = scratch
    n = 0
    if qi * qj < 0:
        to_frame(c, i, qi, w, 0)
        to_frame(c, j, qi, w, 1)
        t = meet_opposite(w, tol, guess)
        if t >= 0.0:
            ti = guess[0]
            tj = 1.0 - t if w[1, 8] == 1.0 else t
            out[n, 0] = 1.0 - ti if w[0, 8] == 1.0 else ti
            out[n, 1] = tj
            out[n, 2] = bernstein(c[j, 0], c[j, 2], c[j, 4], c[j, 6], tj)
            out[n, 3] = bernstein(c[j, 1], c[j, 3], c[j, 5], c[j, 7], tj)
            n += 1
        return n
    q = qi if qi != 0 else (qj if qj != 0 else 1)
    to_frame(c, i, q, w, 0)
    to_frame(c, j, q, w, 1)
    m = quick_same(w, tol, guess)
    if m < 0:
        m = meet_same(w, tol, ends, guess, found)
    elif m == 1:
        found[0, 0] = guess[0]
        found[0, 1] = guess[1]
    for r in range(m):
        ti = found[r, 0]
        tj = found[r, 1]
        ti = 1.0 - ti if w[0, 8] == 1.0 else ti
        tj = 1.0 - tj if w[1, 8] == 1.0 else tj
        out[n, 0] = ti
        out[n, 1] = tj
        out[n, 2] = bernstein(c[i, 0], c[i, 2], c[i, 4], c[i, 6], ti)
        out[n, 3] = bernstein(c[i, 1], c[i, 3], c[i, 5], c[i, 7], ti)
        n += 1
    return n


@kernel("Tuple((int32[:, ::1], float64[:, ::1]))(float64[:, ::1], int8[:, ::1], int32[:, ::1], float64)")
def meet_pairs(s_ctrl, s_sign, pairs, tol):
    """Return every contact of the candidate pairs: (i, j) and (ti, tj, x, y)."""
    capacity = 2 * pairs.shape[0] + 64
    who = np.empty((capacity, 2), np.int32)
    where = np.empty((capacity, 4))
    w = np.empty((2, 11))
    out = np.empty((32, 4))
    scratch = (w, np.empty((4096, 8)), np.empty((16, 2)), np.empty(2))
    n = 0
    for p in range(pairs.shape[0]):
        i = pairs[p, 0]
        j = pairs[p, 1]
        if only_touch(s_ctrl, i, j) or apart(s_ctrl, i, j, tol) or apart(s_ctrl, j, i, tol):
            continue
        qi = s_sign[i, 1] * s_sign[i, 2]
        qj = s_sign[j, 1] * s_sign[j, 2]
        li = s_sign[i, 0] == 0
        lj = s_sign[j, 0] == 0
        k = ends_on(s_ctrl, i, j, 0 if lj else (qj if qj != 0 else 1), tol, w, out, 0)
        first = k
        k = ends_on(s_ctrl, j, i, 0 if li else (qi if qi != 0 else 1), tol, w, out, k)
        for r in range(first, k):
            t = out[r, 0]
            out[r, 0] = out[r, 1]
            out[r, 1] = t
        if li and lj:
            k += meet_lines(s_ctrl, i, j, tol, out[k:])
        else:
            k += meet_graphs(s_ctrl, i, j, qi, qj, tol, out[k:], scratch)
        if n + k > capacity:
            capacity = 2 * capacity + 64
            more_who = np.empty((capacity, 2), np.int32)
            more_who[:n] = who[:n]
            who = more_who
            more_where = np.empty((capacity, 4))
            more_where[:n] = where[:n]
            where = more_where
        for r in range(k):
            who[n, 0] = i
            who[n, 1] = j
            for c in range(4):
                where[n, c] = out[r, c]
            n += 1
    return who[:n], where[:n]
