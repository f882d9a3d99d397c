"""Cutting curves where they turn, so that every curve is monotone in x and y and bends one way."""

import numpy as np

from .bezier import bernstein, bernstein_d, is_straight, quad_roots, split_range
from .kernel import kernel

__all__ = ["cut_monotone", "x_at", "LINE", "CUBIC"]

LINE = 0
CUBIC = 1


@kernel("int64(float64[:, ::1], int64, float64[::1], float64[::1])")
def turning_points(ctrl, i, ts, roots):
    """Write the parameters strictly inside (0, 1) where cubic i turns or inflects, sorted; return how many."""
    n = 0
    # derivative / 3 in the power basis: a t² + b t + c
    ax = -ctrl[i, 0] + 3.0 * ctrl[i, 2] - 3.0 * ctrl[i, 4] + ctrl[i, 6]
    bx = 2.0 * (ctrl[i, 0] - 2.0 * ctrl[i, 2] + ctrl[i, 4])
    cx = ctrl[i, 2] - ctrl[i, 0]
    ay = -ctrl[i, 1] + 3.0 * ctrl[i, 3] - 3.0 * ctrl[i, 5] + ctrl[i, 7]
    by = 2.0 * (ctrl[i, 1] - 2.0 * ctrl[i, 3] + ctrl[i, 5])
    cy = ctrl[i, 3] - ctrl[i, 1]
    for which in range(3):
        if which == 0:
            k = quad_roots(ax, bx, cx, roots)
        elif which == 1:
            k = quad_roots(ay, by, cy, roots)
        else:
            # x'y'' - x''y' is a quadratic in t for a cubic: its roots are the inflections
            k = quad_roots(bx * ay - ax * by, 2.0 * (cx * ay - ax * cy), cx * by - bx * cy, roots)
        for r in range(k):
            t = roots[r]
            if t > 1e-9 and t < 1.0 - 1e-9:
                p = n
                while p > 0 and ts[p - 1] > t:
                    ts[p] = ts[p - 1]
                    p -= 1
                ts[p] = t
                n += 1
    m = 0
    for r in range(n):
        if m == 0 or ts[r] - ts[m - 1] > 1e-9:
            ts[m] = ts[r]
            m += 1
    return m


@kernel(
    "Tuple((float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1]))"
    "(float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1])"
)
def doubled(s_ctrl, s_curve, s_range, s_sign):
    """Return arrays of twice the capacity that begin with the contents of these."""
    m = s_curve.shape[0]
    more = 2 * m + 16
    a = np.empty((more, 8))
    a[:m] = s_ctrl
    b = np.empty(more, np.int32)
    b[:m] = s_curve
    c = np.empty((more, 2))
    c[:m] = s_range
    d = np.empty((more, 3), np.int8)
    d[:m] = s_sign
    return a, b, c, d


@kernel("Tuple((float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1]))(float64[:, ::1], int8[::1])")
def cut_monotone(ctrl, kind):
    """Cut every curve where it turns.

    Returns the monotone curves' control points (m, 8), their curve (m), their range of its
    parameter (m, 2), and (kind, sign of dx, sign of dy) (m, 3).
    """
    n = ctrl.shape[0]
    capacity = n * 2 + 16
    s_ctrl = np.empty((capacity, 8))
    s_curve = np.empty(capacity, np.int32)
    s_range = np.empty((capacity, 2))
    s_sign = np.empty((capacity, 3), np.int8)
    ts = np.empty(8)
    roots = np.empty(2)
    m = 0
    for i in range(n):
        straight = kind[i] == 0 or is_straight(ctrl, i)
        k = 0
        if not straight:
            k = turning_points(ctrl, i, ts, roots)
        if m + k + 1 > s_curve.shape[0]:
            s_ctrl, s_curve, s_range, s_sign = doubled(s_ctrl, s_curve, s_range, s_sign)
        ta = 0.0
        for r in range(k + 1):
            tb = 1.0 if r == k else ts[r]
            if straight:
                # evenly spaced, so that a parameter means the same place to every kernel
                for c in range(2):
                    p0 = ctrl[i, c]
                    p3 = ctrl[i, 6 + c]
                    s_ctrl[m, c] = p0
                    s_ctrl[m, 2 + c] = p0 + (p3 - p0) / 3.0
                    s_ctrl[m, 4 + c] = p3 - (p3 - p0) / 3.0
                    s_ctrl[m, 6 + c] = p3
            elif k == 0:
                for c in range(8):
                    s_ctrl[m, c] = ctrl[i, c]
            else:
                split_range(ctrl, i, ta, tb, s_ctrl, m)
                if r > 0:  # the same point to the last bit as the curve before
                    s_ctrl[m, 0] = s_ctrl[m - 1, 6]
                    s_ctrl[m, 1] = s_ctrl[m - 1, 7]
            s_curve[m] = i
            s_range[m, 0] = ta
            s_range[m, 1] = tb
            s_sign[m, 0] = 0 if straight else 1
            for axis in range(2):
                d1 = s_ctrl[m, 6 + axis] - s_ctrl[m, axis]
                s_sign[m, 1 + axis] = 1 if d1 > 0 else (-1 if d1 < 0 else 0)
            m += 1
            ta = tb
    return s_ctrl[:m], s_curve[:m], s_range[:m], s_sign[:m]


@kernel("float64(float64[:, ::1], int64, float64)")
def x_at(e_ctrl, e, y):
    """Return where curve e, monotone in y, reaches height `y`."""
    y0 = e_ctrl[e, 1]
    y1 = e_ctrl[e, 3]
    y2 = e_ctrl[e, 5]
    y3 = e_ctrl[e, 7]
    if y == y0:
        return e_ctrl[e, 0]
    if y == y3:
        return e_ctrl[e, 6]
    up = 1.0 if y3 > y0 else -1.0
    lo = 0.0
    hi = 1.0
    t = (y - y0) / (y3 - y0)
    for _ in range(80):
        f = up * (bernstein(y0, y1, y2, y3, t) - y)
        if f == 0.0:
            break
        if f > 0.0:
            hi = t
        else:
            lo = t
        d = up * bernstein_d(y0, y1, y2, y3, t)
        n = t - f / d if d > 0.0 else -1.0
        if not (n > lo and n < hi):
            n = 0.5 * (lo + hi)
        if abs(n - t) <= 2e-16:
            t = n
            break
        t = n
    return bernstein(e_ctrl[e, 0], e_ctrl[e, 2], e_ctrl[e, 4], e_ctrl[e, 6], t)
