"""A curve as a graph over the diagonal of its quadrant.

Each curve is seen in the frame u = x + q y, v = y - q x of the diagonal of its
quadrant (q = 1 where x and y grow together, else -1). There it is a graph v = g(u)
with a slope in [-1, 1], free of inflections, so chord and end tangents enclose it.

Kernels take a table `w` of two rows, one a monotone curve: u0..u3 at 0..3, v0..v3 at 4..7,
whether it was reversed at 8, its slopes at both ends at 9 and 10.
"""

from outline.path.bezier import bernstein, bernstein_d
from outline.path.kernel import kernel

__all__ = ["chord_guess", "end_slopes", "height_over", "invert", "near", "newton", "slope", "to_frame"]


@kernel("void(float64[:, ::1], int64, int64, float64[:, ::1], int64)")
def to_frame(ctrl, i, q, w, r):
    """Write curve i in the frame q to row r: u0..u3 at 0..3, v0..v3 at 4..7, whether reversed at 8."""
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
