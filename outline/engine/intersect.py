"""Where two graphs cross or run together.

* Monotone curves of opposite quadrants cross at most once: a monotone equation.
* Monotone curves of one quadrant are compared as graphs: f(u) = g1(u) - g2(u). Intervals are
  dropped where the hulls keep them apart, solved where f is monotone, else halved.
  A run of |f| <= tol inside both monotone curves is *one* contact (a touch or a crossing); a
  run that reaches a common end has its contact there already, and one that reaches
  both is an overlap: a start and an end, never a spray.
"""

import numpy as np

from outline.path.bezier import bernstein, bernstein_d
from outline.path.kernel import kernel

from .monotone_frame import chord_guess, end_slopes, height_over, invert, newton, slope

__all__ = ["meet_opposite", "meet_same", "quick_same"]


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


@kernel("void(float64[:, ::1], float64[:, ::1], int64, int64, float64[::1])")
def narrow_bounds(w, ends, a, b, out):
    """Narrow the bounds of f between ends[a] and ends[b] in out[0], out[1] where the graphs run close together.

    Both curves between these ends have control points whose differences du, dv bound theirs at
    each parameter. A slope s of the second graph leads from one curve's u to the other's, so
    f = dv - s du: what bounds it shrinks with the distance of the curves, not with their bend.
    """
    ta = ends[b, 6] - ends[a, 6]
    tb = ends[b, 7] - ends[a, 7]
    s = 0.5 * (ends[a, 4] + ends[b, 4])
    spread = 0.5 * abs(ends[b, 4] - ends[a, 4])
    low = min(ends[a, 5], ends[b, 5])
    high = max(ends[a, 5], ends[b, 5])
    for at, side in ((a, 1.0), (b, -1.0)):
        t = ends[at, 6]
        du = side / 3.0 * ta * bernstein_d(w[0, 0], w[0, 1], w[0, 2], w[0, 3], t)
        dv = side / 3.0 * ta * bernstein_d(w[0, 4], w[0, 5], w[0, 6], w[0, 7], t)
        t = ends[at, 7]
        du -= side / 3.0 * tb * bernstein_d(w[1, 0], w[1, 1], w[1, 2], w[1, 3], t)
        dv -= side / 3.0 * tb * bernstein_d(w[1, 4], w[1, 5], w[1, 6], w[1, 7], t)
        f = ends[at, 5] + dv - s * du
        low = min(low, f - spread * abs(du))
        high = max(high, f + spread * abs(du))
    out[0] = max(out[0], low)
    out[1] = min(out[1], high)


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


RUN_FROM, RUN_TO, RUN_T1, RUN_T2, RUN_F = 0, 1, 2, 3, 4
"""A run of |f| <= tol: from u to u, the parameters of both graphs where f is nearest to 0, and |f| there, -1 for a
crossing."""
NOTHING, A_RUN, TO_SPLIT = 0, 1, 2


@kernel("void(float64[:, ::1], int64, float64[::1])")
def run_at(ends, at, run):
    """Write what is at ends[at] to a run's parameters and its |f|."""
    run[RUN_T1] = ends[at, 6]
    run[RUN_T2] = ends[at, 7]
    run[RUN_F] = abs(ends[at, 5])


@kernel("int64(float64[:, ::1], float64, float64[:, ::1], int64, int64, boolean, boolean, float64[::1], float64[::1])")
def settle(w, tol, ends, a, b, close, last, run, work):
    """Say what is between ends[a] and ends[b]: NOTHING, A_RUN (written to `run`), or what has TO_SPLIT.

    `close` says that the graphs seem to run together: their bounds are narrowed. Where it is the
    `last` time, nothing is split. `work` has room for two numbers.
    """
    fa = ends[a, 5]
    fb = ends[b, 5]
    difference_bounds(ends, a, b, work)
    if close or (abs(fa) <= tol and abs(fb) <= tol):
        narrow_bounds(w, ends, a, b, work)
    low = work[0]
    high = work[1]
    if low > tol or high < -tol:
        return NOTHING
    crossing = (fa > 0.0 and fb < 0.0) or (fa < 0.0 and fb > 0.0)
    if low >= -tol and high <= tol:
        run[RUN_FROM] = ends[a, 0]
        run[RUN_TO] = ends[b, 0]
        run_at(ends, a if abs(fa) <= abs(fb) else b, run)
        if crossing:
            root_between(w, ends, a, b, tol, work)
            run[RUN_T1] = work[0]
            run[RUN_T2] = work[1]
            run[RUN_F] = -1.0
        return A_RUN
    # graphs that bend away from each other differ by a convex function, which crosses zero once
    # between ends of opposite signs
    up1 = ends[b, 2] - ends[a, 2]
    up2 = ends[b, 4] - ends[a, 4]
    once = crossing and up1 * up2 <= 0.0 and abs(fa) > tol and abs(fb) > tol
    # one graph is steeper than the other all along
    steeper = min(ends[a, 2], ends[b, 2]) >= max(ends[a, 4], ends[b, 4])
    flatter = max(ends[a, 2], ends[b, 2]) <= min(ends[a, 4], ends[b, 4])
    if not (once or steeper or flatter or last or ends[b, 0] - ends[a, 0] <= 1e-3 * tol):
        return TO_SPLIT
    if crossing:
        u = root_between(w, ends, a, b, tol, work)
        run[RUN_T1] = work[0]
        run[RUN_T2] = work[1]
        run[RUN_F] = -1.0
    elif min(abs(fa), abs(fb)) <= tol:
        at = a if abs(fa) < abs(fb) else b
        u = ends[at, 0]
        run_at(ends, at, run)
    else:
        return NOTHING
    run[RUN_FROM] = u if abs(fa) > tol else ends[a, 0]
    run[RUN_TO] = u if abs(fb) > tol else ends[b, 0]
    return A_RUN


@kernel("int64(float64[:, ::1], float64, float64[:, ::1], float64[::1], float64[:, ::1])")
def meet_same(w, tol, ends, work, found):
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
    run = np.empty(5)
    # the run that is being gathered
    whole = np.empty(5)
    gathering = False
    while depth > 0:
        depth -= 1
        a = stack[depth, 0]
        b = stack[depth, 1]
        what = settle(w, tol, ends, a, b, rows >= 16, rows >= 4000, run, work)
        if what == NOTHING:
            continue
        if what == TO_SPLIT:
            # where f' seems to vanish, or in the middle
            da = ends[a, 2] - ends[a, 4]
            db = ends[b, 2] - ends[b, 4]
            share = 0.5
            if da * db < 0.0:
                share = min(0.9, max(0.1, da / (da - db)))
            probe(w, ends[a, 0] + share * (ends[b, 0] - ends[a, 0]), ends, rows)
            stack[depth, 0] = rows
            stack[depth, 1] = b
            stack[depth + 1, 0] = a
            stack[depth + 1, 1] = rows
            depth += 2
            rows += 1
            continue
        # join it to the run before it, or close that run
        if gathering and run[RUN_FROM] <= whole[RUN_TO] + 1e-3 * tol:
            whole[RUN_TO] = max(whole[RUN_TO], run[RUN_TO])
            if run[RUN_F] < whole[RUN_F]:
                whole[RUN_T1:] = run[RUN_T1:]
        else:
            if gathering and whole[RUN_FROM] > ua + 1e-3 * tol and n_found < 16:
                found[n_found, 0] = whole[RUN_T1]
                found[n_found, 1] = whole[RUN_T2]
                n_found += 1
            gathering = True
            whole[:] = run
    inside = gathering and whole[RUN_FROM] > ua + 1e-3 * tol and whole[RUN_TO] < ub - 1e-3 * tol
    if inside and n_found < 16:
        found[n_found, 0] = whole[RUN_T1]
        found[n_found, 1] = whole[RUN_T2]
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
