"""The order of the edges around each vertex.

Half-edge 2e runs along edge e, 2e + 1 runs back. Directions that clearly differ are
ordered by angle; nearer ones by probing both edges at one distance, which is right
however they leave, since edges meet nowhere but at vertices. How near depends on the
edge: a touch found to within the tolerance leaves its tangent open by √(2 κ tol), and
the ends of a short edge may have been moved by the tolerance.
"""

import numpy as np

from outline.path.bezier import bernstein, length_of, start_direction
from outline.path.kernel import kernel

__all__ = ["order_around"]

NEARLY = 0.01
"""Half the difference of `compass` below which two long edges are probed: 0.01 to 0.02 radians."""


@kernel("float64(float64, float64)")
def compass(x, y):
    """Return a number in (-2, 2] that grows with the angle of (x, y) in (-pi, pi], without an arc tangent."""
    size = abs(x) + abs(y)
    if size == 0.0:
        return 0.0
    r = y / size
    if x >= 0.0:
        return r
    return 2.0 - r if y >= 0.0 else -2.0 - r


@kernel("void(float64[:, ::1], int64, float64, float64[::1])")
def point_at_radius(e_ctrl, h, r, out):
    """Write the point of half-edge h at distance r from its start, as a vector from that start."""
    e = h >> 1
    a = 6 if h & 1 else 0
    s = -2 if h & 1 else 2
    ox = e_ctrl[e, a]
    oy = e_ctrl[e, a + 1]
    x1 = e_ctrl[e, a + s] - ox
    y1 = e_ctrl[e, a + s + 1] - oy
    x2 = e_ctrl[e, a + 2 * s] - ox
    y2 = e_ctrl[e, a + 2 * s + 1] - oy
    x3 = e_ctrl[e, a + 3 * s] - ox
    y3 = e_ctrl[e, a + 3 * s + 1] - oy
    lo = 0.0
    hi = 1.0
    x = x3
    y = y3
    for _ in range(50):
        t = 0.5 * (lo + hi)
        x = bernstein(0.0, x1, x2, x3, t)
        y = bernstein(0.0, y1, y2, y3, t)
        if x * x + y * y > r * r:
            hi = t
        else:
            lo = t
    out[0] = x
    out[1] = y


@kernel("float64(float64[:, ::1], int64, int64, float64[::1], float64[::1])")
def side_of(e_ctrl, a, b, pa, pb):
    """Return > 0 where half-edge b leaves counter-clockwise of the nearly parallel half-edge a."""
    ra = length_of(e_ctrl[a >> 1, 6] - e_ctrl[a >> 1, 0], e_ctrl[a >> 1, 7] - e_ctrl[a >> 1, 1])
    rb = length_of(e_ctrl[b >> 1, 6] - e_ctrl[b >> 1, 0], e_ctrl[b >> 1, 7] - e_ctrl[b >> 1, 1])
    r = min(ra, rb)
    best = 0.0
    for k in range(3):
        f = 1.0 if k == 0 else (0.5 if k == 1 else 0.2)
        point_at_radius(e_ctrl, a, f * r, pa)
        point_at_radius(e_ctrl, b, f * r, pb)
        away = (pa[0] * pb[1] - pa[1] * pb[0]) / (f * r)
        if abs(away) > abs(best):
            best = away
    return best


@kernel("Tuple((float64[::1], float64[::1]))(float64[:, ::1], int32[:, ::1], float64)")
def directions(e_ctrl, e_num, tol):
    """Return the compass of each half-edge where it leaves its vertex, and half of what may lie open about it."""
    nh = 2 * e_ctrl.shape[0]
    key = np.empty(nh)
    blur = np.empty(nh)
    d = np.empty(2)
    for h in range(nh):
        e = h >> 1
        back = (h & 1) == 1
        cx = e_ctrl[e, 6] - e_ctrl[e, 0]
        cy = e_ctrl[e, 7] - e_ctrl[e, 1]
        blur[h] = NEARLY + min(0.5, 4.0 * tol / length_of(cx, cy))
        if e_num[e, 4] == 0 or cx * cx + cy * cy < 1e6 * tol * tol:
            if back:
                cx = -cx
                cy = -cy
            key[h] = compass(cx, cy)
        else:
            start_direction(e_ctrl, e, back, d)
            key[h] = compass(d[0], d[1])
    return key, blur


@kernel("Tuple((int32[::1], int32[::1]))(int32[:, ::1], int64)")
def edges_of_vertices(e_num, n_vertices):
    """Return the half-edges that leave each vertex: offsets, and the half-edges."""
    nh = 2 * e_num.shape[0]
    start = np.zeros(n_vertices + 1, np.int32)
    for h in range(nh):
        start[e_num[h >> 1, h & 1] + 1] += 1
    for v in range(n_vertices):
        start[v + 1] += start[v]
    fill = start[:n_vertices].copy()
    ring = np.empty(nh, np.int32)
    for h in range(nh):
        v = e_num[h >> 1, h & 1]
        ring[fill[v]] = h
        fill[v] += 1
    return start, ring


@kernel("int8[::1](int32[::1], int32[::1], float64[::1], float64[::1])")
def sort_rings(start, ring, key, blur):
    """Sort the half-edges of each vertex by their compass; return 1 for each whose ring was turned.

    A ring is turned where a bundle of near directions would lie across its ends.
    """
    nv = start.shape[0] - 1
    turned = np.zeros(nv, np.int8)
    for v in range(nv):
        a = start[v]
        b = start[v + 1]
        n = b - a
        for r in range(a + 1, b):
            h = ring[r]
            s = r
            while s > a and key[ring[s - 1]] > key[h]:
                ring[s] = ring[s - 1]
                s -= 1
            ring[s] = h
        if n < 2 or key[ring[a]] + 4.0 - key[ring[b - 1]] > blur[ring[a]] + blur[ring[b - 1]]:
            continue
        turned[v] = 1
        gap = 0.0
        cut = a
        for r in range(a + 1, b):
            g = key[ring[r]] - key[ring[r - 1]]
            if g > gap:
                gap = g
                cut = r
        other = np.empty(n, np.int32)
        for r in range(n):
            other[r] = ring[a + (cut - a + r) % n]
        for r in range(n):
            ring[a + r] = other[r]
    return turned


@kernel("void(int32[::1], int32[::1], float64[::1], float64[::1], float64[:, ::1])")
def order_bundles(start, ring, key, blur, e_ctrl):
    """Order each bundle of near directions in sorted rings by probing its edges."""
    pa = np.empty(2)
    pb = np.empty(2)
    for v in range(start.shape[0] - 1):
        b = start[v + 1]
        r = start[v]
        while r < b:
            s = r + 1
            while s < b:
                g = key[ring[s]] - key[ring[s - 1]]
                if g < 0.0:
                    g += 4.0
                if g > blur[ring[s]] + blur[ring[s - 1]]:
                    break
                s += 1
            for p in range(r + 1, s):
                h = ring[p]
                q = p
                while q > r and side_of(e_ctrl, ring[q - 1], h, pa, pb) < 0.0:
                    ring[q] = ring[q - 1]
                    q -= 1
                ring[q] = h
            r = s


@kernel("Tuple((int32[::1], int32[::1], float64[::1]))(float64[:, ::1], int32[:, ::1], int64, float64)")
def order_around(e_ctrl, e_num, n_vertices, tol):
    """Return (next half-edge around the face on the left, last half-edge of each vertex, rank of each half-edge).

    Around a vertex, half-edges run counter-clockwise from the west (compass -2); the last one has
    the west on its left wherever all edges leave eastwards. Ranks grow in that order.
    """
    key, blur = directions(e_ctrl, e_num, tol)
    start, ring = edges_of_vertices(e_num, n_vertices)
    turned = sort_rings(start, ring, key, blur)
    first = np.empty(n_vertices)
    for v in range(n_vertices):
        if start[v] < start[v + 1]:
            first[v] = key[ring[start[v]]]
    order_bundles(start, ring, key, blur, e_ctrl)
    nxt = np.empty(ring.shape[0], np.int32)
    top = np.full(n_vertices, -1, np.int32)
    for v in range(n_vertices):
        a = start[v]
        b = start[v + 1]
        if a == b:
            continue
        for r in range(a, b):
            # arriving along the twin of ring[r], the face on the left goes on with the half-edge before it
            nxt[ring[r] ^ 1] = ring[r - 1] if r > a else ring[b - 1]
            # a ring turned so that it begins in the east has those below its beginning last, and they rank first;
            # what is about the west stays in the order that probing found, whichever side of it rounding put it
            below = turned[v] == 1 and key[ring[r]] < first[v] and key[ring[r]] > -1.0
            key[ring[r]] = r - b if below else r - a
        top[v] = ring[b - 1]
    return nxt, top, key
