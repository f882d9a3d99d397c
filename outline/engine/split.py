"""Vertices and edges of the map: contacts merged, monotone curves split, coinciding edges made one."""

import math

import numpy as np

from outline.path.bezier import bernstein, split_range
from outline.path.kernel import kernel

from .monotone_frame import invert, to_frame

__all__ = ["split_curves"]


@kernel("int64(int64, int64, int64)")
def cell_slot(cx, cy, mask):
    """Return the hash slot of grid cell (cx, cy)."""
    h = ((int(cx) & 0xFFFFFFF) * 73856093) ^ ((int(cy) & 0xFFFFFFF) * 19349663)
    h = ((h ^ (h >> 15)) & 0xFFFFFFF) * 668265263
    return (h ^ (h >> 17)) & mask


@kernel("Tuple((int32[::1], float64[:, ::1]))(float64[:, ::1], float64)")
def merge_points(points, tol):
    """Give each point the nearest earlier vertex within `tol`, or a new one; return (vertex of point, vertices)."""
    n = points.shape[0]
    size = 16
    while size < 2 * n:
        size *= 2
    mask = size - 1
    head = np.full(size, -1, np.int32)
    chain = np.empty(n, np.int32)
    vertex = np.empty(n, np.int32)
    at = np.empty((n, 2))
    m = 0
    inv = 1.0 / (16.0 * tol)
    for p in range(n):
        x = points[p, 0]
        y = points[p, 1]
        gx = x * inv
        gy = y * inv
        cx0 = int(math.floor(gx - 0.0625))
        cx1 = int(math.floor(gx + 0.0625))
        cy0 = int(math.floor(gy - 0.0625))
        cy1 = int(math.floor(gy + 0.0625))
        best = -1
        best_d = tol * tol
        for cy in range(cy0, cy1 + 1):
            for cx in range(cx0, cx1 + 1):
                v = head[cell_slot(cx, cy, mask)]
                while v >= 0:
                    dx = at[v, 0] - x
                    dy = at[v, 1] - y
                    d = dx * dx + dy * dy
                    if d < best_d or (d == best_d and best < 0):
                        best_d = d
                        best = v
                    v = chain[v]
        if best < 0:
            best = m
            at[m, 0] = x
            at[m, 1] = y
            s = cell_slot(int(math.floor(gx)), int(math.floor(gy)), mask)
            chain[m] = head[s]
            head[s] = m
            m += 1
        vertex[p] = best
    return vertex, at[:m]


@kernel("boolean(float64[:, ::1], int64, int64, float64, float64[:, ::1])")
def coincide(e_ctrl, a, b, tol, w):
    """Return whether edges a and b, which share both vertices, are one within the tolerance."""
    dx = e_ctrl[a, 6] - e_ctrl[a, 0]
    dy = e_ctrl[a, 7] - e_ctrl[a, 1]
    q = 1 if dx * dy >= 0.0 else -1
    to_frame(e_ctrl, a, q, w, 0)
    to_frame(e_ctrl, b, q, w, 1)
    span = w[0, 3] - w[0, 0]
    for k in range(1, 4):
        u = w[0, 0] + 0.25 * k * span
        ta = invert(w, 0, u)
        tb = invert(w, 1, u)
        va = bernstein(w[0, 4], w[0, 5], w[0, 6], w[0, 7], ta)
        vb = bernstein(w[1, 4], w[1, 5], w[1, 6], w[1, 7], tb)
        if abs(va - vb) > 3.0 * tol:
            return False
    return True


@kernel("Tuple((int64[::1], float64[::1], int32[::1]))(int32[:, ::1], float64[:, ::1], int32[::1], int64)")
def sort_contacts(who, where, vertex, m):
    """Return the contacts of each of `m` curves in the order of its parameter: offsets, parameters and vertices."""
    n = where.shape[0]
    start = np.zeros(m + 1, np.int64)
    for k in range(n):
        start[who[k, 0] + 1] += 1
        start[who[k, 1] + 1] += 1
    for k in range(m):
        start[k + 1] += start[k]
    c_t = np.empty(2 * n)
    c_v = np.empty(2 * n, np.int32)
    fill = start[:m].copy()
    for k in range(n):
        for side in range(2):
            s = who[k, side]
            c_t[fill[s]] = where[k, side]
            c_v[fill[s]] = vertex[2 * m + k]
            fill[s] += 1
    for k in range(m):
        a = start[k]
        b = start[k + 1]
        if b - a > 32:
            order = np.argsort(c_t[a:b], kind="mergesort")
            part_t = c_t[a:b].copy()
            part_v = c_v[a:b].copy()
            for r in range(b - a):
                c_t[a + r] = part_t[order[r]]
                c_v[a + r] = part_v[order[r]]
        else:
            for r in range(a + 1, b):
                t = c_t[r]
                v = c_v[r]
                s = r
                while s > a and c_t[s - 1] > t:
                    c_t[s] = c_t[s - 1]
                    c_v[s] = c_v[s - 1]
                    s -= 1
                c_t[s] = t
                c_v[s] = v
    return start, c_t, c_v


@kernel("Tuple((int32[:, ::1], float64[:, ::1], int32[::1]))(int64, int32[::1], int64[::1], float64[::1], int32[::1])")
def edge_ends(m, vertex, start, c_t, c_v):
    """Return the two vertices of each edge, the parameters of its curve there, and which of `m` curves that is."""
    capacity = m + c_t.shape[0]
    ends = np.empty((capacity, 2), np.int32)
    spans = np.empty((capacity, 2))
    owner = np.empty(capacity, np.int32)
    n = 0
    for k in range(m):
        va = vertex[2 * k]
        ta = 0.0
        for r in range(start[k], start[k + 1] + 1):
            last = r == start[k + 1]
            tb = 1.0 if last else c_t[r]
            vb = vertex[2 * k + 1] if last else c_v[r]
            if vb == va:
                continue
            ends[n, 0] = va
            ends[n, 1] = vb
            spans[n, 0] = ta
            spans[n, 1] = tb
            owner[n] = k
            n += 1
            va = vb
            ta = tb
    return ends[:n], spans[:n], owner[:n]


@kernel(
    "Tuple((float64[:, ::1], int32[:, ::1], float64[:, ::1]))"
    "(float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1],"
    " int32[::1])"
)
def cut_edges(s_ctrl, s_curve, s_range, s_sign, at, ends, spans, owner):
    """Return control points, numbers and ranges of edges, each the part of its curve between its vertices."""
    n = owner.shape[0]
    e_ctrl = np.empty((n, 8))
    e_num = np.empty((n, 5), np.int32)
    e_range = np.empty((n, 2))
    for e in range(n):
        k = owner[e]
        va = ends[e, 0]
        vb = ends[e, 1]
        ta = spans[e, 0]
        tb = spans[e, 1]
        if s_sign[k, 0] == 0:
            for c in range(2):
                pa = at[va, c]
                pb = at[vb, c]
                e_ctrl[e, c] = pa
                e_ctrl[e, 2 + c] = pa + (pb - pa) / 3.0
                e_ctrl[e, 4 + c] = pb - (pb - pa) / 3.0
                e_ctrl[e, 6 + c] = pb
        else:
            split_range(s_ctrl, k, ta, tb, e_ctrl, e)
            for c in range(2):
                da = at[va, c] - e_ctrl[e, c]
                db = at[vb, c] - e_ctrl[e, 6 + c]
                e_ctrl[e, c] = at[va, c]
                e_ctrl[e, 2 + c] += da
                e_ctrl[e, 4 + c] += db
                e_ctrl[e, 6 + c] = at[vb, c]
        e_num[e, 0] = va
        e_num[e, 1] = vb
        e_num[e, 2] = s_curve[k]
        e_num[e, 3] = e
        e_num[e, 4] = s_sign[k, 0]
        size = s_range[k, 1] - s_range[k, 0]
        e_range[e, 0] = s_range[k, 0] + ta * size if ta > 0.0 else s_range[k, 0]
        # the last of a curve ends where it does, though its last contact may be a little before
        whole = tb >= 1.0 or e + 1 == n or owner[e + 1] != k
        e_range[e, 1] = s_range[k, 1] if whole else s_range[k, 0] + tb * size
    return e_ctrl, e_num, e_range


@kernel("int32[::1](float64[:, ::1], int32[:, ::1], float64)")
def same_edges(e_ctrl, e_num, tol):
    """Return for each edge the first one that coincides with it; itself if none does."""
    n = e_num.shape[0]
    size = 16
    while size < 2 * n:
        size *= 2
    mask = size - 1
    head = np.full(size, -1, np.int32)
    chain = np.empty(n, np.int32)
    rep = np.empty(n, np.int32)
    w = np.empty((2, 9))
    for e in range(n):
        lo = min(e_num[e, 0], e_num[e, 1])
        hi = max(e_num[e, 0], e_num[e, 1])
        slot = cell_slot(lo, hi, mask)
        f = head[slot]
        rep[e] = e
        while f >= 0:
            if min(e_num[f, 0], e_num[f, 1]) == lo and max(e_num[f, 0], e_num[f, 1]) == hi:
                if coincide(e_ctrl, e, f, tol, w):
                    rep[e] = f
                    break
            f = chain[f]
        if rep[e] == e:
            chain[e] = head[slot]
            head[slot] = e
    return rep


@kernel("Tuple((int64[::1], int64[::1], int32[:, ::1], int8[::1]))(int32[:, ::1], int32[::1], int32[::1])")
def wind_edges(e_num, rep, source):
    """Return the windings of the edges that each edge represents.

    Of edge e they are rows `count[e]` to `count[e] + used[e]` of (input, delta) pairs; the last array says where a
    cutter runs.
    """
    n = e_num.shape[0]
    count = np.zeros(n + 1, np.int64)
    for e in range(n):
        count[rep[e] + 1] += 1
    for e in range(n):
        count[e + 1] += count[e]
    pair = np.empty((n, 2), np.int32)
    used = np.zeros(n, np.int64)
    cutter = np.zeros(n, np.int8)
    for e in range(n):
        r = rep[e]
        c = e_num[e, 2]
        if source[c] < 0:
            cutter[r] = 1
            continue
        d = 1 if e_num[e, 0] == e_num[r, 0] else -1
        a = count[r]
        hit = False
        for k in range(used[r]):
            if pair[a + k, 0] == source[c]:
                pair[a + k, 1] += d
                hit = True
                break
        if not hit:
            pair[a + used[r], 0] = source[c]
            pair[a + used[r], 1] = d
            used[r] += 1
    return count, used, pair, cutter


@kernel(
    "Tuple((float64[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1], int32[::1], int32[:, ::1]))"
    "(float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1], int32[::1], int32[:, ::1], float64[:, ::1], float64)"
)
def split_curves(s_ctrl, s_curve, s_range, s_sign, source, who, where, tol):
    """Build the edges of the map.

    `source[c]` is the input that curve c belongs to, -1 for an open cutter, which borders
    nothing. Returns

    * vertices (V, 2), edge control points (E, 8) with ends on their vertices,
    * edge numbers (E, 5): vertex a, vertex b, curve, order number along the curve, kind,
    * edge range (E, 2) of the curve's parameter,
    * and the windings as rows: offsets (E + 1) into (input, delta) pairs.
    """
    m = s_ctrl.shape[0]
    n = where.shape[0]
    points = np.empty((2 * m + n, 2))
    for k in range(m):
        points[2 * k, 0] = s_ctrl[k, 0]
        points[2 * k, 1] = s_ctrl[k, 1]
        points[2 * k + 1, 0] = s_ctrl[k, 6]
        points[2 * k + 1, 1] = s_ctrl[k, 7]
    for k in range(n):
        points[2 * m + k, 0] = where[k, 2]
        points[2 * m + k, 1] = where[k, 3]
    vertex, at = merge_points(points, tol)
    start, c_t, c_v = sort_contacts(who, where, vertex, m)
    ends, spans, owner = edge_ends(m, vertex, start, c_t, c_v)
    e_ctrl, e_num, e_range = cut_edges(s_ctrl, s_curve, s_range, s_sign, at, ends, spans, owner)
    rep = same_edges(e_ctrl, e_num, tol)
    count, used, pair, cutter = wind_edges(e_num, rep, source)
    # drop edges that border nothing: windings that add up to 0, unless a cutter runs there
    n_edges = e_num.shape[0]
    keep = 0
    off = np.empty(n_edges + 1, np.int32)
    flat = np.empty((n_edges, 2), np.int32)
    k_flat = 0
    off[0] = 0
    for e in range(n_edges):
        if rep[e] != e:
            continue
        before = k_flat
        for k in range(used[e]):
            if pair[count[e] + k, 1] != 0:
                flat[k_flat, 0] = pair[count[e] + k, 0]
                flat[k_flat, 1] = pair[count[e] + k, 1]
                k_flat += 1
        if k_flat == before and cutter[e] == 0:
            continue
        for c in range(8):
            e_ctrl[keep, c] = e_ctrl[e, c]
        for c in range(5):
            e_num[keep, c] = e_num[e, c]
        e_range[keep, 0] = e_range[e, 0]
        e_range[keep, 1] = e_range[e, 1]
        keep += 1
        off[keep] = k_flat
    return at, e_ctrl[:keep], e_num[:keep], e_range[:keep], off[: keep + 1], flat[:k_flat]
