"""Vertices and edges of the map: contacts merged, monotone curves split, edges that run together made one."""

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
    """Tell whether edges a and b, which share both vertices, are one within the tolerance."""
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


@kernel(
    "Tuple((float64[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1], int32[::1], int32[:, ::1]))"
    "(float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1], int32[::1], int8[::1],"
    " int32[:, ::1], float64[:, ::1], float64)"
)
def split_curves(s_ctrl, s_curve, s_range, s_sign, source, weight, who, where, tol):
    """Build the edges of the map.

    `source[c]` is the input that curve c belongs to and `weight[c]` is 0 for an open
    cutter, which borders nothing, else 1. Returns

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

    # contacts by curve, each in order of its parameter: counting sort, then a heap-free insertion or argsort
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
    most = 0
    for k in range(m):
        a = start[k]
        b = start[k + 1]
        most = max(most, b - a)
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

    room = m + 2 * n
    e_ctrl = np.empty((room, 8))
    e_num = np.empty((room, 5), np.int32)
    e_range = np.empty((room, 2))
    e_owner = np.empty(room, np.int32)
    n_edges = 0
    for k in range(m):
        va = vertex[2 * k]
        ta = 0.0
        for r in range(start[k], start[k + 1] + 1):
            if r < start[k + 1]:
                tb = c_t[r]
                vb = c_v[r]
            else:
                tb = 1.0
                vb = vertex[2 * k + 1]
            if vb == va:
                continue
            e = n_edges
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
            e_range[e, 1] = s_range[k, 0] + tb * size if tb < 1.0 else s_range[k, 1]
            e_owner[e] = k
            n_edges += 1
            va = vb
            ta = tb
        if n_edges > 0 and e_owner[n_edges - 1] == k:
            e_range[n_edges - 1, 1] = s_range[k, 1]

    # edges between the same two vertices that run together become the first of them
    size = 16
    while size < 2 * n_edges:
        size *= 2
    mask = size - 1
    head = np.full(size, -1, np.int32)
    chain = np.empty(n_edges, np.int32)
    rep = np.empty(n_edges, np.int32)
    w = np.empty((2, 9))
    for e in range(n_edges):
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

    # windings of every kept edge
    count = np.zeros(n_edges + 1, np.int64)
    for e in range(n_edges):
        count[rep[e] + 1] += 1
    for e in range(n_edges):
        count[e + 1] += count[e]
    pair = np.empty((n_edges, 2), np.int32)
    used = np.zeros(n_edges, np.int64)
    cutter = np.zeros(n_edges, np.int8)
    for e in range(n_edges):
        r = rep[e]
        c = e_num[e, 2]
        if weight[c] == 0:
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
    return (
        at,
        e_ctrl[:keep],
        e_num[:keep],
        e_range[:keep],
        off[: keep + 1],
        flat[:k_flat],
    )
