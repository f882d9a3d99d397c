"""Where two strands meet.

Each strand is seen in the frame u = x + q y, v = y - q x of the diagonal of its
quadrant (q = 1 where x and y grow together, else -1). There it is a graph v = g(u)
with a slope in [-1, 1], free of inflections, so chord and end tangents enclose it.

* An end of one strand within the tolerance of the other is a contact.
* Strands of opposite quadrants cross at most once: a monotone equation.
* Strands of one quadrant are compared as graphs: f(u) = g1(u) - g2(u). Intervals are
  dropped where the hulls keep them apart, solved where f is monotone, else halved.
  A run of |f| <= tol inside both strands is *one* contact (a touch or a crossing); a
  run that reaches a common end has its contact there already, and one that reaches
  both is an overlap: a start and an end, never a spray.
"""

import numpy as np

from .bezier import bernstein, bernstein_d
from .kernel import kernel

__all__ = ["meet_pairs"]


@kernel("void(float64[:, ::1], int64, int64, float64[:, ::1], int64)")
def to_frame(ctrl, i, q, w, r):
    """Write strand i in the frame q to row r: u0..u3 at 0..3, v0..v3 at 4..7, whether reversed at 8."""
    u0 = ctrl[i, 0] + q * ctrl[i, 1]
    u3 = ctrl[i, 6] + q * ctrl[i, 7]
    w[r, 8] = 1.0 if u3 < u0 else 0.0
    for k in range(4):
        s = 3 - k if u3 < u0 else k
        x = ctrl[i, 2 * s]
        y = ctrl[i, 2 * s + 1]
        w[r, k] = x + q * y
        w[r, 4 + k] = y - q * x


@kernel("float64(float64[:, ::1], int64, float64)")
def invert(w, r, u):
    """Return the parameter in [0, 1] at which row r reaches `u` (Newton kept inside a bracket)."""
    u0 = w[r, 0]
    u1 = w[r, 1]
    u2 = w[r, 2]
    u3 = w[r, 3]
    if u <= u0:
        return 0.0
    if u >= u3:
        return 1.0
    lo = 0.0
    hi = 1.0
    size = u3 - u0
    t = (u - u0) / size
    if 3.0 * (u1 - u0) > 0.1 * size and 3.0 * (u3 - u2) > 0.1 * size:
        # the inverse function's own slopes at both ends make a guess that Newton needs few steps from
        r = 1.0 - t
        t = t * (r * (r * size / (3.0 * (u1 - u0)) - t * size / (3.0 * (u3 - u2))) + t * (3.0 - 2.0 * t))
        t = min(1.0, max(0.0, t))
    for _ in range(80):
        f = bernstein(u0, u1, u2, u3, t) - u
        if f == 0.0:
            return t
        if f > 0.0:
            hi = t
        else:
            lo = t
        d = bernstein_d(u0, u1, u2, u3, t)
        n = t - f / d if d > 0.0 else -1.0
        if not (n > lo and n < hi):
            n = 0.5 * (lo + hi)
        if abs(n - t) <= 2e-16:
            return n
        t = n
    return t


@kernel("float64(float64[:, ::1], int64, float64)")
def slope(w, r, t):
    """Return dv/du of row r at `t`, by the limit where both vanish at an end."""
    du = bernstein_d(w[r, 0], w[r, 1], w[r, 2], w[r, 3], t)
    size = w[r, 3] - w[r, 0]
    if du > 1e-10 * size:
        s = bernstein_d(w[r, 4], w[r, 5], w[r, 6], w[r, 7], t) / du
    else:
        a = 0 if t < 0.5 else 3
        step = 1 if t < 0.5 else -1
        s = 0.0
        for n in range(1, 4):
            du = w[r, a + n * step] - w[r, a]
            if abs(du) > 1e-10 * size or n == 3:
                if du != 0.0:
                    s = (w[r, 4 + a + n * step] - w[r, 4 + a]) / du
                break
    return min(1.0, max(-1.0, s))


@kernel("float64(float64[:, ::1], int64, float64, float64)")
def near(w, r, u, v):
    """Return the distance in v from (u, v) to row r, plus how far u lies outside it."""
    t = invert(w, r, u)
    g = bernstein(w[r, 4], w[r, 5], w[r, 6], w[r, 7], t)
    out = 0.0
    if u < w[r, 0]:
        out = w[r, 0] - u
    elif u > w[r, 3]:
        out = u - w[r, 3]
    return abs(v - g) + out


@kernel("boolean(float64[:, ::1], float64, float64[::1])")
def newton(w, tol, t):
    """Move the parameters t[0], t[1] to where the two rows cross; tell whether they got there inside [0, 1]."""
    t1 = t[0]
    t2 = t[1]
    for k in range(12):
        du = bernstein(w[1, 0], w[1, 1], w[1, 2], w[1, 3], t2) - bernstein(w[0, 0], w[0, 1], w[0, 2], w[0, 3], t1)
        dv = bernstein(w[1, 4], w[1, 5], w[1, 6], w[1, 7], t2) - bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], t1)
        a = bernstein_d(w[0, 0], w[0, 1], w[0, 2], w[0, 3], t1)
        b = bernstein_d(w[0, 4], w[0, 5], w[0, 6], w[0, 7], t1)
        c = bernstein_d(w[1, 0], w[1, 1], w[1, 2], w[1, 3], t2)
        d = bernstein_d(w[1, 4], w[1, 5], w[1, 6], w[1, 7], t2)
        det = b * c - a * d
        if det == 0.0:
            return False
        s1 = (dv * c - du * d) / det
        s2 = (dv * a - du * b) / det
        t1 += s1
        t2 += s2
        if not (t1 > -0.25 and t1 < 1.25 and t2 > -0.25 and t2 < 1.25):
            return False
        if abs(s1) <= 1e-9 and abs(s2) <= 1e-9:
            # quadratic convergence: the next step would be below float noise
            if t1 < 0.0 or t1 > 1.0 or t2 < 0.0 or t2 > 1.0:
                return False
            du = bernstein(w[1, 0], w[1, 1], w[1, 2], w[1, 3], t2) - bernstein(w[0, 0], w[0, 1], w[0, 2], w[0, 3], t1)
            dv = bernstein(w[1, 4], w[1, 5], w[1, 6], w[1, 7], t2) - bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], t1)
            if abs(du) > 1e-4 * tol or abs(dv) > 1e-4 * tol:
                return False
            t[0] = t1
            t[1] = t2
            return True
    return False


@kernel("float64(float64[:, ::1], float64[:, ::1], int64, int64, float64, float64[::1])")
def root_between(w, ends, a, b, tol, t):
    """Return u between ends[a] and ends[b] where g1 = g2, given f of opposite signs there.

    Newton from the secant's guess; where that strays, the Illinois method with halving.
    """
    ua = ends[a, 0]
    ub = ends[b, 0]
    fa = ends[a, 5]
    fb = ends[b, 5]
    share = fa / (fa - fb)
    t[0] = ends[a, 6] + share * (ends[b, 6] - ends[a, 6])
    t[1] = ends[a, 7] + share * (ends[b, 7] - ends[a, 7])
    if newton(w, tol, t):
        u = bernstein(w[0, 0], w[0, 1], w[0, 2], w[0, 3], t[0])
        if u >= ua and u <= ub:
            return u
    lo = ua
    hi = ub
    f0 = fa
    side = 0
    for k in range(100):
        if k % 4 == 3:
            u = 0.5 * (lo + hi)
        else:
            u = (lo * fb - hi * fa) / (fb - fa)
            if not (u > lo and u < hi):
                u = 0.5 * (lo + hi)
        t1 = invert(w, 0, u)
        t2 = invert(w, 1, u)
        f = bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], t1) - bernstein(w[1, 4], w[1, 5], w[1, 6], w[1, 7], t2)
        t[0] = t1
        t[1] = t2
        if abs(f) <= 1e-7 * tol or hi - lo <= 1e-7 * tol:
            return u
        if (f > 0.0) == (f0 > 0.0):
            lo = u
            if side == -1:
                fb *= 0.5
            fa = f
            side = -1
        else:
            hi = u
            if side == 1:
                fa *= 0.5
            fb = f
            side = 1
    return 0.5 * (lo + hi)


@kernel("void(float64[:, ::1], float64, float64[:, ::1], int64)")
def probe(w, u, ends, k):
    """Write what both rows are at `u` to ends[k]: u, v1, s1, v2, s2, f and their parameters."""
    t1 = invert(w, 0, u)
    t2 = invert(w, 1, u)
    ends[k, 0] = u
    ends[k, 1] = bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], t1)
    ends[k, 2] = slope(w, 0, t1)
    ends[k, 3] = bernstein(w[1, 4], w[1, 5], w[1, 6], w[1, 7], t2)
    ends[k, 4] = slope(w, 1, t2)
    ends[k, 5] = ends[k, 1] - ends[k, 3]
    ends[k, 6] = t1
    ends[k, 7] = t2


@kernel("void(float64[:, ::1], int64, int64, float64[::1])")
def difference_bounds(ends, a, b, out):
    """Write the least and the largest f can be between ends[a] and ends[b] to out[0], out[1].

    A bent graph lies between its chord and its two end tangents.
    """
    ua = ends[a, 0]
    ub = ends[b, 0]
    low = min(ends[a, 5], ends[b, 5])
    high = max(ends[a, 5], ends[b, 5])
    width = ub - ua
    for which in range(2):
        v = 1 + 2 * which
        s = 2 + 2 * which
        ov = 3 - 2 * which
        os = 4 - 2 * which
        sa = ends[a, s]
        sb = ends[b, s]
        if sa == sb:
            continue
        # where the two end tangents of this graph meet
        u = ua + (ends[b, v] - ends[a, v] - sb * width) / (sa - sb)
        u = min(ub, max(ua, u))
        tip = ends[a, v] + sa * (u - ua)
        chord = ends[a, ov] + (ends[b, ov] - ends[a, ov]) * ((u - ua) / width)
        oa = ends[a, os]
        ob = ends[b, os]
        tan_a = ends[a, ov] + oa * (u - ua)
        tan_b = ends[b, ov] - ob * (ub - u)
        other_low = chord if ob < oa else max(tan_a, tan_b)
        other_high = min(tan_a, tan_b) if ob < oa else chord
        if which == 0:
            if sb > sa:
                low = min(low, tip - other_high)
            else:
                high = max(high, tip - other_low)
        else:
            if sb > sa:
                high = max(high, other_high - tip)
            else:
                low = min(low, other_low - tip)
    out[0] = low
    out[1] = high


@kernel("boolean(float64[:, ::1], int64, int64, float64)")
def apart(c, i, j, tol):
    """Tell whether strand j's control points all lie on one side of the band about strand i's chord."""
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


@kernel("void(float64[:, ::1])")
def end_slopes(w):
    """Write the slopes at both ends of each row to w[r, 9] and w[r, 10]."""
    for r in range(2):
        size = 1e-10 * (w[r, 3] - w[r, 0])
        du = w[r, 1] - w[r, 0]
        w[r, 9] = min(1.0, max(-1.0, (w[r, 5] - w[r, 4]) / du)) if du > size else slope(w, r, 0.0)
        du = w[r, 3] - w[r, 2]
        w[r, 10] = min(1.0, max(-1.0, (w[r, 7] - w[r, 6]) / du)) if du > size else slope(w, r, 1.0)


@kernel("float64(float64[:, ::1], int64, float64, float64, float64)")
def height_over(w, r, u, v, margin):
    """Return v - g(u) for row r as far as its hull tells it beyond `margin`: of the right sign, or 0.

    The graph's ends go on level.
    """
    if u <= w[r, 0]:
        h = v - w[r, 4]
        return h if abs(h) > margin else 0.0
    if u >= w[r, 3]:
        h = v - w[r, 7]
        return h if abs(h) > margin else 0.0
    ta = w[r, 4] + w[r, 9] * (u - w[r, 0])
    tb = w[r, 7] - w[r, 10] * (w[r, 3] - u)
    chord = w[r, 4] + (w[r, 7] - w[r, 4]) * ((u - w[r, 0]) / (w[r, 3] - w[r, 0]))
    if w[r, 10] > w[r, 9]:
        top = chord
        low = max(ta, tb)
    else:
        top = min(ta, tb)
        low = chord
    if v > top + margin:
        return v - top
    if v < low - margin:
        return v - low
    return 0.0


@kernel("boolean(float64[:, ::1], float64[::1])")
def chord_guess(w, guess):
    """Write the parameters at which the rows' chords cross, kept inside [0, 1]; tell whether they cross at all."""
    au = w[0, 3] - w[0, 0]
    av = w[0, 7] - w[0, 4]
    bu = w[1, 3] - w[1, 0]
    bv = w[1, 7] - w[1, 4]
    det = bu * av - au * bv
    if det == 0.0:
        return False
    cu = w[1, 0] - w[0, 0]
    cv = w[1, 4] - w[0, 4]
    guess[0] = min(1.0, max(0.0, (bu * cv - cu * bv) / det))
    guess[1] = min(1.0, max(0.0, (au * cv - cu * av) / det))
    return True


@kernel("int64(float64[:, ::1], float64, float64[::1])")
def quick_same(w, tol, guess):
    """Settle the plain cases of one quadrant: 0 no contact, 1 one crossing (in `guess`), -1 undecided."""
    end_slopes(w)
    up0 = w[0, 10] > w[0, 9]
    up1 = w[1, 10] > w[1, 9]
    if up0 == up1:
        return -1
    # f at both common ends, where one row ends and the other's hull may tell
    if w[0, 0] >= w[1, 0]:
        fa = height_over(w, 1, w[0, 0], w[0, 4], tol)
    else:
        fa = -height_over(w, 0, w[1, 0], w[1, 4], tol)
    if fa == 0.0:
        return -1
    if w[0, 3] <= w[1, 3]:
        fb = height_over(w, 1, w[0, 3], w[0, 7], tol)
    else:
        fb = -height_over(w, 0, w[1, 3], w[1, 7], tol)
    if fb == 0.0:
        return -1
    if (fa > 0.0) == (fb > 0.0):
        # a convex difference that is negative at both ends stays so, and a concave one positive
        return 0 if (fa > 0.0) != up0 else -1
    if chord_guess(w, guess) and newton(w, tol, guess):
        return 1
    return -1


@kernel("int64(float64[:, ::1], float64, float64[:, ::1], float64[::1], float64[:, ::1], float64[::1])")
def meet_same(w, tol, ends, bounds, found, guess):
    """Write the parameters of every contact strictly inside both graphs to `found`, return how many."""
    ua = max(w[0, 0], w[1, 0])
    ub = min(w[0, 3], w[1, 3])
    if ub - ua <= tol:
        return 0
    probe(w, ua, ends, 0)
    probe(w, ub, ends, 1)
    n_found = 0
    # stack of intervals as pairs of rows of `ends`; rows are handed out and never taken back within a call
    stack = np.empty((128, 2), np.int64)
    stack[0, 0] = 0
    stack[0, 1] = 1
    depth = 1
    rows = 2
    # the run of |f| <= tol being gathered
    run_a = 0.0
    run_b = -1.0
    run_t1 = 0.0
    run_t2 = 0.0
    run_f = np.inf
    open_run = False
    steps = 0
    while depth > 0:
        depth -= 1
        a = stack[depth, 0]
        b = stack[depth, 1]
        steps += 1
        fa = ends[a, 5]
        fb = ends[b, 5]
        xa = ends[a, 0]
        xb = ends[b, 0]
        width = xb - xa
        difference_bounds(ends, a, b, bounds)
        if bounds[0] > tol or bounds[1] < -tol:
            continue
        ra = 0.0
        rb = -1.0
        r1 = 0.0
        r2 = 0.0
        rf = np.inf
        crossing = (fa > 0.0 and fb < 0.0) or (fa < 0.0 and fb > 0.0)
        if bounds[0] >= -tol and bounds[1] <= tol:
            ra = xa
            rb = xb
            at = a if abs(fa) <= abs(fb) else b
            r1 = ends[at, 6]
            r2 = ends[at, 7]
            rf = abs(ends[at, 5])
            if crossing:
                root_between(w, ends, a, b, tol, guess)
                r1 = guess[0]
                r2 = guess[1]
                rf = -1.0
        else:
            s1_low = min(ends[a, 2], ends[b, 2])
            s1_high = max(ends[a, 2], ends[b, 2])
            s2_low = min(ends[a, 4], ends[b, 4])
            s2_high = max(ends[a, 4], ends[b, 4])
            # graphs that bend away from each other differ by a convex function, which crosses zero once
            # between ends of opposite signs
            up1 = ends[b, 2] - ends[a, 2]
            up2 = ends[b, 4] - ends[a, 4]
            once = crossing and up1 * up2 <= 0.0 and abs(fa) > tol and abs(fb) > tol
            if once or s1_low >= s2_high or s1_high <= s2_low or width <= 1e-3 * tol or rows >= 4000:
                if crossing:
                    ru = root_between(w, ends, a, b, tol, guess)
                    r1 = guess[0]
                    r2 = guess[1]
                    rf = -1.0
                    ra = ru if abs(fa) > tol else xa
                    rb = ru if abs(fb) > tol else xb
                elif min(abs(fa), abs(fb)) <= tol:
                    at = a if abs(fa) < abs(fb) else b
                    ru = ends[at, 0]
                    r1 = ends[at, 6]
                    r2 = ends[at, 7]
                    rf = abs(ends[at, 5])
                    ra = ru if abs(fa) > tol else xa
                    rb = ru if abs(fb) > tol else xb
                else:
                    continue
            else:
                # split where f' seems to vanish, or in the middle
                da = ends[a, 2] - ends[a, 4]
                db = ends[b, 2] - ends[b, 4]
                share = 0.5
                if da * db < 0.0:
                    share = min(0.9, max(0.1, da / (da - db)))
                mid = xa + share * width
                probe(w, mid, ends, rows)
                stack[depth, 0] = rows
                stack[depth, 1] = b
                stack[depth + 1, 0] = a
                stack[depth + 1, 1] = rows
                depth += 2
                rows += 1
                continue
        # join the record to the run before it, or close that run
        if open_run and ra <= run_b + 1e-3 * tol:
            run_b = max(run_b, rb)
            if rf < run_f:
                run_f = rf
                run_t1 = r1
                run_t2 = r2
        else:
            if open_run and run_a > ua + 1e-3 * tol and n_found < 16:
                found[n_found, 0] = run_t1
                found[n_found, 1] = run_t2
                n_found += 1
            open_run = True
            run_a = ra
            run_b = rb
            run_t1 = r1
            run_t2 = r2
            run_f = rf
    if open_run and run_a > ua + 1e-3 * tol and run_b < ub - 1e-3 * tol and n_found < 16:
        found[n_found, 0] = run_t1
        found[n_found, 1] = run_t2
        n_found += 1
    return n_found


@kernel("float64(float64[:, ::1], float64, float64[::1])")
def meet_opposite(w, tol, guess):
    """Return the parameter of row 1 at which it crosses row 0's graph, or -1. Both in row 0's frame.

    There row 1 is steep (|du| <= |dv|), so v - g1(u) grows or falls all along it.
    guess[0] is then row 0's parameter.
    """
    end_slopes(w)
    noise = 1e-13 * (abs(w[1, 4]) + abs(w[1, 7]) + abs(w[0, 4]) + abs(w[0, 7]))
    v0 = height_over(w, 0, w[1, 0], w[1, 4], noise)
    v1 = height_over(w, 0, w[1, 3], w[1, 7], noise)
    if v0 != 0.0 and v1 != 0.0 and (v0 > 0.0) == (v1 > 0.0):
        return -1.0
    if v0 * v1 < 0.0 and chord_guess(w, guess) and newton(w, tol, guess):
        return guess[1]
    known = v0 * v1 < 0.0
    if v0 == 0.0 or known:
        v0 = w[1, 4] - bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], invert(w, 0, w[1, 0]))
    if v1 == 0.0 or known:
        v1 = w[1, 7] - bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], invert(w, 0, w[1, 3]))
    if (v0 > 0.0) == (v1 > 0.0) or v0 == 0.0 or v1 == 0.0:
        return -1.0
    if not known and chord_guess(w, guess) and newton(w, tol, guess):
        return guess[1]
    lo = 0.0
    hi = 1.0
    f_lo = v0
    f_hi = v1
    side = 0
    t = 0.5
    for k in range(100):
        if k % 4 == 3:
            t = 0.5 * (lo + hi)
        else:
            t = (lo * f_hi - hi * f_lo) / (f_hi - f_lo)
            if not (t > lo and t < hi):
                t = 0.5 * (lo + hi)
        u = bernstein(w[1, 0], w[1, 1], w[1, 2], w[1, 3], t)
        v = bernstein(w[1, 4], w[1, 5], w[1, 6], w[1, 7], t)
        f = v - bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], invert(w, 0, u))
        if abs(f) <= 1e-7 * tol or hi - lo <= 1e-16:
            break
        if (f > 0.0) == (v0 > 0.0):
            lo = t
            if side == -1:
                f_hi *= 0.5
            f_lo = f
            side = -1
        else:
            hi = t
            if side == 1:
                f_lo *= 0.5
            f_hi = f
            side = 1
    u = bernstein(w[1, 0], w[1, 1], w[1, 2], w[1, 3], t)
    if u <= w[0, 0] or u >= w[0, 3]:
        return -1.0
    guess[0] = invert(w, 0, u)
    return t


@kernel("int64(float64[:, ::1], int64, int64, float64, float64[:, ::1])")
def meet_lines(c, i, j, tol, out):
    """Write the contact strictly inside both straight strands to out[0] as ti, tj, x, y; return how many."""
    ax = c[i, 0]
    ay = c[i, 1]
    dx = c[i, 6] - ax
    dy = c[i, 7] - ay
    bx = c[j, 0]
    by = c[j, 1]
    ex = c[j, 6] - bx
    ey = c[j, 7] - by
    li = (dx * dx + dy * dy) ** 0.5
    lj = (ex * ex + ey * ey) ** 0.5
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


@kernel("int64(float64[:, ::1], int64, int64, int64, int64, float64, float64[:, ::1], float64[:, ::1], int64)")
def ends_on(c, i, j, q, straight, tol, w, out, n):
    """Append a contact for each end of strand i that lies inside strand j; row 1 of `w` is scratch.

    An end that meets an end is no contact: the two points merge as they are.
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
        if straight == 1:
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


@kernel("Tuple((int32[:, ::1], float64[:, ::1]))(float64[:, ::1], int8[:, ::1], int32[:, ::1], float64)")
def meet_pairs(s_ctrl, s_sign, pairs, tol):
    """Return every contact of the candidate pairs: (i, j) and (ti, tj, x, y)."""
    room = 2 * pairs.shape[0] + 64
    who = np.empty((room, 2), np.int32)
    where = np.empty((room, 4))
    w = np.empty((2, 11))
    out = np.empty((32, 4))
    ends = np.empty((4096, 8))
    bounds = np.empty(2)
    found = np.empty((16, 2))
    guess = np.empty(2)
    n = 0
    for p in range(pairs.shape[0]):
        i = pairs[p, 0]
        j = pairs[p, 1]
        # neighbours that only share their end: their boxes overlap in no more than a point
        wide = min(max(s_ctrl[i, 0], s_ctrl[i, 6]), max(s_ctrl[j, 0], s_ctrl[j, 6])) - max(
            min(s_ctrl[i, 0], s_ctrl[i, 6]), min(s_ctrl[j, 0], s_ctrl[j, 6])
        )
        high = min(max(s_ctrl[i, 1], s_ctrl[i, 7]), max(s_ctrl[j, 1], s_ctrl[j, 7])) - max(
            min(s_ctrl[i, 1], s_ctrl[i, 7]), min(s_ctrl[j, 1], s_ctrl[j, 7])
        )
        if wide == 0.0 and high == 0.0:
            same = False
            for a in range(0, 8, 6):
                for b in range(0, 8, 6):
                    if s_ctrl[i, a] == s_ctrl[j, b] and s_ctrl[i, a + 1] == s_ctrl[j, b + 1]:
                        same = True
            if same:
                continue
        if apart(s_ctrl, i, j, tol) or apart(s_ctrl, j, i, tol):
            continue
        qi = s_sign[i, 1] * s_sign[i, 2]
        qj = s_sign[j, 1] * s_sign[j, 2]
        li = s_sign[i, 0] == 0
        lj = s_sign[j, 0] == 0
        k = ends_on(s_ctrl, i, j, qj if qj != 0 else 1, 1 if lj else 0, tol, w, out, 0)
        first = k
        k = ends_on(s_ctrl, j, i, qi if qi != 0 else 1, 1 if li else 0, tol, w, out, k)
        for r in range(first, k):
            t = out[r, 0]
            out[r, 0] = out[r, 1]
            out[r, 1] = t
        if li and lj:
            k += meet_lines(s_ctrl, i, j, tol, out[k:])
        elif qi * qj < 0:
            to_frame(s_ctrl, i, qi, w, 0)
            to_frame(s_ctrl, j, qi, w, 1)
            t = meet_opposite(w, tol, guess)
            if t >= 0.0:
                ti = guess[0]
                tj = 1.0 - t if w[1, 8] == 1.0 else t
                out[k, 0] = 1.0 - ti if w[0, 8] == 1.0 else ti
                out[k, 1] = tj
                out[k, 2] = bernstein(s_ctrl[j, 0], s_ctrl[j, 2], s_ctrl[j, 4], s_ctrl[j, 6], tj)
                out[k, 3] = bernstein(s_ctrl[j, 1], s_ctrl[j, 3], s_ctrl[j, 5], s_ctrl[j, 7], tj)
                k += 1
        else:
            q = qi if qi != 0 else (qj if qj != 0 else 1)
            to_frame(s_ctrl, i, q, w, 0)
            to_frame(s_ctrl, j, q, w, 1)
            m = quick_same(w, tol, guess)
            if m < 0:
                m = meet_same(w, tol, ends, bounds, found, guess)
            elif m == 1:
                found[0, 0] = guess[0]
                found[0, 1] = guess[1]
            for r in range(m):
                ti = found[r, 0]
                tj = found[r, 1]
                ti = 1.0 - ti if w[0, 8] == 1.0 else ti
                tj = 1.0 - tj if w[1, 8] == 1.0 else tj
                out[k, 0] = ti
                out[k, 1] = tj
                out[k, 2] = bernstein(s_ctrl[i, 0], s_ctrl[i, 2], s_ctrl[i, 4], s_ctrl[i, 6], ti)
                out[k, 3] = bernstein(s_ctrl[i, 1], s_ctrl[i, 3], s_ctrl[i, 5], s_ctrl[i, 7], ti)
                k += 1
        if n + k > room:
            room = 2 * room + 64
            more_who = np.empty((room, 2), np.int32)
            more_who[:n] = who[:n]
            who = more_who
            more_where = np.empty((room, 4))
            more_where[:n] = where[:n]
            where = more_where
        for r in range(k):
            who[n, 0] = i
            who[n, 1] = j
            for c in range(4):
                where[n, c] = out[r, c]
            n += 1
    return who[:n], where[:n]
