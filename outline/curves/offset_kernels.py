"""The line that a region's border moves to along its normals: kernels of `offset`."""

import math

import numpy as np

from outline.curves.fit_kernels import draw_handles, handle_lengths
from outline.path.bezier import length_of, split_range, start_direction
from outline.path.kernel import kernel

__all__ = ["moved_loops", "ROUND", "MITER", "BEVEL"]

ROUND = 0
MITER = 1
BEVEL = 2
SAMPLES = 17
STRAIGHT = -0.97
"""A curve whose end directions have a larger product than this turns: by more than 14°."""
CUSP = 2.0**-16
"""The shortest part (by the parameter) that a turning curve is cut into: one that turns more than 60° is a cusp."""


@kernel("Tuple((float64[:, ::1], int8[::1]))(float64[:, ::1], int8[::1], int64)")
def grown(out, kind, n):
    """Return the arrays with space for row `n` and some more."""
    if n + 8 < out.shape[0]:
        return out, kind
    more = np.empty((2 * out.shape[0] + 16, 8))
    its = np.empty(2 * out.shape[0] + 16, np.int8)
    more[: out.shape[0]] = out
    its[: out.shape[0]] = kind
    return more, its


@kernel("int64(float64[:, ::1], int8[::1], int64, float64, float64)")
def put_line(out, kind, n, x, y):
    """Append a line from the end of row n - 1 to (x, y), unless it is there already; return the number of rows."""
    x0 = out[n - 1, 6]
    y0 = out[n - 1, 7]
    if x0 == x and y0 == y:
        return n
    dx = (x - x0) / 3.0
    dy = (y - y0) / 3.0
    out[n, 0] = x0
    out[n, 1] = y0
    out[n, 2] = x0 + dx
    out[n, 3] = y0 + dy
    out[n, 4] = x - dx
    out[n, 5] = y - dy
    out[n, 6] = x
    out[n, 7] = y
    kind[n] = 0
    return n + 1


@kernel("boolean(float64[:, ::1], float64, float64[::1], float64[:, ::1], float64[::1])")
def offset_points(c, d, ends, p, t_of):
    """Write SAMPLES points of the offset of cubic `c[0]` by d along the right-hand normal; return whether all are at d.

    `p` gets the points, `t_of` their parameters. `ends` are the directions in which the cubic leaves its ends
    (x, y, x, y). Right of the direction (dx, dy) is (dy, -dx). Where the curve bends more tightly than d towards that
    side, the offset stops at the centre of curvature: what is beyond is nearer to other
    points.
    """
    sign = 1.0 if d > 0 else -1.0
    whole = True
    for s in range(SAMPLES):
        t = s / (SAMPLES - 1.0)
        u = 1.0 - t
        x = u * u * u * c[0, 0] + 3 * u * u * t * c[0, 2] + 3 * u * t * t * c[0, 4] + t * t * t * c[0, 6]
        y = u * u * u * c[0, 1] + 3 * u * u * t * c[0, 3] + 3 * u * t * t * c[0, 5] + t * t * t * c[0, 7]
        ax = c[0, 2] - c[0, 0]
        ay = c[0, 3] - c[0, 1]
        bx = c[0, 4] - c[0, 2]
        by = c[0, 5] - c[0, 3]
        gx = c[0, 6] - c[0, 4]
        gy = c[0, 7] - c[0, 5]
        d1x = 3 * (u * u * ax + 2 * u * t * bx + t * t * gx)
        d1y = 3 * (u * u * ay + 2 * u * t * by + t * t * gy)
        d2x = 6 * (u * (bx - ax) + t * (gx - bx))
        d2y = 6 * (u * (by - ay) + t * (gy - by))
        speed = max(math.sqrt(d1x * d1x + d1y * d1y), 1e-300)
        tx = d1x / speed
        ty = d1y / speed
        if s == 0:
            tx = ends[0]
            ty = ends[1]
        elif s == SAMPLES - 1:
            tx = -ends[2]
            ty = -ends[3]
        # towards the right-hand side the curve bends where the turn is negative, for d > 0
        towards = -(d1x * d2y - d1y * d2x) / max(speed * speed * speed, 1e-300) * sign
        reach = d
        if towards * abs(d) > 1.0:
            reach = sign / towards
        if abs(reach - d) >= 1e-12 * abs(d):
            whole = False
        p[s, 0] = x + reach * ty
        p[s, 1] = y - reach * tx
        t_of[s] = t
    return whole


@kernel("float64(float64[:, ::1], float64[::1], float64)")
def farthest(p, out, near):
    """Return how far any of the points is from the cubic `out`, as exactly as tells whether it is more than `near`."""
    worst = 0.0
    ax = out[2] - out[0]
    ay = out[3] - out[1]
    bx = out[4] - out[2]
    by = out[5] - out[3]
    gx = out[6] - out[4]
    gy = out[7] - out[5]
    for s in range(SAMPLES):
        t = s / (SAMPLES - 1.0)
        off = 0.0
        for turn in range(5):
            u = 1.0 - t
            x = u * u * u * out[0] + 3 * u * u * t * out[2] + 3 * u * t * t * out[4] + t * t * t * out[6] - p[s, 0]
            y = u * u * u * out[1] + 3 * u * u * t * out[3] + 3 * u * t * t * out[5] + t * t * t * out[7] - p[s, 1]
            now = length_of(x, y)
            if turn == 0 or now < off:
                off = now
            if turn == 4 or off <= near:
                break
            d1x = 3 * (u * u * ax + 2 * u * t * bx + t * t * gx)
            d1y = 3 * (u * u * ay + 2 * u * t * by + t * t * gy)
            d2x = 6 * (u * (bx - ax) + t * (gx - bx))
            d2y = 6 * (u * (by - ay) + t * (gy - by))
            f = x * d1x + y * d1y
            g = d1x * d1x + d1y * d1y + x * d2x + y * d2y
            if abs(g) < 1e-300:
                break
            t = min(1.0, max(0.0, t - f / g))
        worst = max(worst, off)
    return worst


@kernel("float64(float64[:, ::1], float64, float64, float64[::1])")
def fit_moved(c, d, near, out):
    """Write the cubic near the offset of cubic `c[0]` by d along the right-hand normal; return how far it is off."""
    p = np.empty((SAMPLES, 2))
    t = np.empty(SAMPLES)
    ends = np.empty(4)
    start_direction(c, 0, False, ends[:2])
    start_direction(c, 0, True, ends[2:])
    turning = ends[0] * ends[2] + ends[1] * ends[3] > STRAIGHT
    m = SAMPLES - 1
    if not offset_points(c, d, ends, p, t):
        size = length_of(p[1, 0] - p[0, 0], p[1, 1] - p[0, 1])
        ends[0] = (p[1, 0] - p[0, 0]) / size if size > 0 else 0.0
        ends[1] = (p[1, 1] - p[0, 1]) / size if size > 0 else 0.0
        size = length_of(p[m - 1, 0] - p[m, 0], p[m - 1, 1] - p[m, 1])
        ends[2] = (p[m - 1, 0] - p[m, 0]) / size if size > 0 else 0.0
        ends[3] = (p[m - 1, 1] - p[m, 1]) / size if size > 0 else 0.0
    lengths = np.empty(2)
    if not handle_lengths(p, 0, m, t, ends, 1e-14, lengths):
        lengths[:] = length_of(p[m, 0] - p[0, 0], p[m, 1] - p[0, 1]) / 3
    lengths[0] = max(lengths[0], 0.0)
    lengths[1] = max(lengths[1], 0.0)
    draw_handles(p, 0, m, ends, lengths, out)
    worst = farthest(p, out, near)
    if not turning:
        return worst
    length = 0.0
    longest = 0.0
    for s in range(m):
        step = length_of(p[s + 1, 0] - p[s, 0], p[s + 1, 1] - p[s, 1])
        length += step
        longest = max(longest, step)
    handles = length_of(out[2] - out[0], out[3] - out[1]) + length_of(out[4] - out[6], out[5] - out[7])
    # what happens between two points, and how far handles reach, the samples do not show
    unseen = longest > 0.35 * length or handles > 1.5 * length
    return max(worst, 2 * near) if unseen and length > near else worst


@kernel("int64(float64[:, ::1], int8[::1], int64, float64[::1], float64[:, ::1], float64, int64, float64)")
def put_join(out, kind, n, place, ways, d, join, limit):
    """Append how the moved line turns where `place` begins (x, y, …); return the number of rows.

    `ways` are the directions (2, 2) before and after. An opening gap is joined, with
    mitres up to `limit`; at a closing one, the line runs back through the place. Takes up to
    seven rows, which `out` must have.
    """
    x = place[0]
    y = place[1]
    n0x = ways[0, 1] * d
    n0y = -ways[0, 0] * d
    n1x = ways[1, 1] * d
    n1y = -ways[1, 0] * d
    cross = ways[0, 0] * ways[1, 1] - ways[0, 1] * ways[1, 0]
    dot = ways[0, 0] * ways[1, 0] + ways[0, 1] * ways[1, 1]
    # a gap opens on the right of the direction if the path turns left
    if cross * d > 1e-9 * abs(d) or (dot < 0 and abs(cross) <= 1e-9):
        n = put_line(out, kind, n, x + n0x, y + n0y)
        # for a full reversal, the sign of a zero cross product does not matter
        turn = math.atan2(cross, dot) if abs(cross) > 1e-9 else math.copysign(math.pi, d)
        if join == ROUND:
            arcs = max(1, math.ceil(abs(turn) / (0.5 * math.pi) - 1e-9))
            step = turn / arcs
            k = 4.0 / 3.0 * math.tan(step / 4.0)
            angle = math.atan2(n0y, n0x)
            size = abs(d)
            for q in range(arcs):
                ca = math.cos(angle + q * step)
                sa = math.sin(angle + q * step)
                cb = math.cos(angle + (q + 1) * step)
                sb = math.sin(angle + (q + 1) * step)
                out[n, 0] = out[n - 1, 6]
                out[n, 1] = out[n - 1, 7]
                out[n, 2] = x + size * (ca - k * sa)
                out[n, 3] = y + size * (sa + k * ca)
                out[n, 4] = x + size * (cb + k * sb)
                out[n, 5] = y + size * (sb - k * cb)
                out[n, 6] = x + size * cb
                out[n, 7] = y + size * sb
                if q == arcs - 1:
                    out[n, 6] = x + n1x
                    out[n, 7] = y + n1y
                kind[n] = 1
                n += 1
        elif join == MITER:
            half = math.cos(turn / 2)
            # SVG 2, 13.5.7: the miter length over the stroke width is 1 / sin of half the corner's angle
            if half > 1e-9 and 1 / half <= limit:
                n = put_line(out, kind, n, x + (n0x + n1x) / (2 * half * half), y + (n0y + n1y) / (2 * half * half))
            n = put_line(out, kind, n, x + n1x, y + n1y)
        else:
            n = put_line(out, kind, n, x + n1x, y + n1y)
    elif abs(cross) > 1e-9:
        n = put_line(out, kind, n, x, y)
    return n


@kernel(
    "Tuple((float64[:, ::1], int8[::1], int64))"
    "(float64[:, ::1], boolean, float64[::1], int64, float64[:, ::1], int8[::1], int64, boolean)"
)
def move_curve(curve, straight, how, cusps, out, out_kind, n, first):
    """Append a curve (1, 8), moved, to n curves, in parts that are near enough; return all of them.

    `how` is the distance, the tolerance, and the limit of mitres. Unless it is the
    `first` of its loop a line leads to it. A cusp within it is joined as `cusps` says.
    """
    d = how[0]
    tol = how[1]
    part = np.empty((1, 8))
    made = np.empty(8)
    before = np.empty(2)
    after = np.empty(2)
    ways = np.empty((2, 2))
    # parts still to move, the next one on top
    low = np.empty(24)
    high = np.empty(24)
    low[0] = 0.0
    high[0] = 1.0
    depth = 1
    begun = False
    while depth > 0:
        depth -= 1
        ta = low[depth]
        tb = high[depth]
        split_range(curve, 0, ta, tb, part, 0)
        if straight:
            start_direction(curve, 0, False, before)
            for c in range(0, 8, 2):
                made[c] = part[0, c] + d * before[1]
                made[c + 1] = part[0, c + 1] - d * before[0]
        else:
            off = fit_moved(part, d, tol, made)
            start_direction(part, 0, False, before)
            start_direction(part, 0, True, after)
            # `after` looks back: near a cusp the direction turns, however short the part is
            turn = before[0] * after[0] + before[1] * after[1]
            if off > tol and tb - ta > (CUSP if turn > STRAIGHT else 1.0 / 200):
                middle = 0.5 * (ta + tb)
                low[depth] = middle
                high[depth] = tb
                low[depth + 1] = ta
                high[depth + 1] = middle
                depth += 2
                continue
            if off > tol and turn > -0.5:
                continue
            # the part after a cusp is joined to the one before it
            if begun and ways[0, 0] * before[0] + ways[0, 1] * before[1] < 0.5:
                out, out_kind = grown(out, out_kind, n)
                ways[1, 0] = before[0]
                ways[1, 1] = before[1]
                n = put_join(out, out_kind, n, part[0], ways, d, cusps, how[2])
            begun = True
            ways[0, 0] = -after[0]
            ways[0, 1] = -after[1]
        out, out_kind = grown(out, out_kind, n)
        if not first:
            n = put_line(out, out_kind, n, made[0], made[1])
        for c in range(8):
            out[n, c] = made[c]
        out_kind[n] = 0 if straight else 1
        n += 1
        first = False
    return out, out_kind, n


@kernel(
    "Tuple((float64[:, ::1], int8[::1], int32[::1]))"
    "(float64[:, ::1], int8[::1], int32[::1], float64, float64, int8[::1], int64, float64)"
)
def moved_loops(ctrl, kind, starts, d, tol, joins, cusps, limit):
    """Return each loop moved by d along its right-hand normals, as closed loops: curves, kinds, starts.

    `joins` says of each curve how a corner at its end is joined where it opens, `cusps` how one
    within any curve is. Where one closes, the line runs back through the node, so that what it
    sweeps is counted. Winding numbers of the result are those of the region plus (outwards) or
    less (inwards) the times that the moving border swept over a place.
    """
    n_loops = starts.shape[0] - 1
    out = np.empty((4 * ctrl.shape[0] + 16, 8))
    out_kind = np.empty(4 * ctrl.shape[0] + 16, np.int8)
    out_starts = np.zeros(n_loops + 1, np.int32)
    n = 0
    how = np.array([d, tol, limit])
    before = np.empty(2)
    after = np.empty(2)
    ways = np.empty((2, 2))
    for loop in range(n_loops):
        a = starts[loop]
        b = starts[loop + 1]
        base = n
        for i in range(a, b):
            out, out_kind, n = move_curve(ctrl[i : i + 1], kind[i] == 0, how, cusps, out, out_kind, n, n == base)
            # the corner at the end of curve i
            j = i + 1 if i + 1 < b else a
            start_direction(ctrl, i, True, before)
            start_direction(ctrl, j, False, after)
            for c in range(2):
                ways[0, c] = -before[c]
                ways[1, c] = after[c]
            out, out_kind = grown(out, out_kind, n)
            n = put_join(out, out_kind, n, ctrl[j], ways, d, joins[i], limit)
        if n > base:
            out, out_kind = grown(out, out_kind, n)
            n = put_line(out, out_kind, n, out[base, 0], out[base, 1])
        out_starts[loop + 1] = n
    return out[:n].copy(), out_kind[:n].copy(), out_starts
