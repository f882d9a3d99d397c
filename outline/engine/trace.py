"""Drawing the border of labelled faces, and joining sub-curves of one curve again."""

import numpy as np

from outline.path.bezier import length_of, signed_area, split_range
from outline.path.kernel import kernel

__all__ = ["trace_regions", "trace_lines", "connected"]


@kernel("boolean(float64[:, ::1], int8[::1], int64, int64, float64)")
def join_into(c, kind, a, b, tol):
    """Join curve b to the end of curve a where both are parts of one line or cubic; tell whether it did."""
    if kind[a] == 0 and kind[b] == 0:
        dx = c[b, 6] - c[a, 0]
        dy = c[b, 7] - c[a, 1]
        size = length_of(dx, dy)
        if size <= tol:
            return False
        mx = c[a, 6] - c[a, 0]
        my = c[a, 7] - c[a, 1]
        if abs(mx * dy - my * dx) > tol * size:
            return False
        # the node must lie between the two ends, well clear of turning back
        along = (mx * dx + my * dy) / size
        if along <= 0.0 or along >= size:
            return False
        for k in range(2):
            c[a, 2 + k] = c[a, k] + (c[b, 6 + k] - c[a, k]) / 3.0
            c[a, 4 + k] = c[b, 6 + k] - (c[b, 6 + k] - c[a, k]) / 3.0
            c[a, 6 + k] = c[b, 6 + k]
        return True
    if kind[a] == 0 or kind[b] == 0:
        return False
    ax = c[a, 6] - c[a, 4]
    ay = c[a, 7] - c[a, 5]
    bx = c[b, 2] - c[b, 0]
    by = c[b, 3] - c[b, 1]
    la = length_of(ax, ay)
    lb = length_of(bx, by)
    if la <= 4.0 * tol or lb <= 4.0 * tol:
        return False
    if ax * bx + ay * by <= 0.0 or abs(ax * by - ay * bx) > 1e-4 * la * lb:
        return False
    # as parts [0, s] and [s, 1] of one cubic their speeds at the joint are as s to 1 - s
    s = la / (la + lb)
    whole = np.empty((1, 8))
    part = np.empty((2, 8))
    for k in range(8):
        part[0, k] = c[a, k] if s >= 0.5 else c[b, k]
    if s >= 0.5:
        split_range(part, 0, 0.0, 1.0 / s, whole, 0)
    else:
        split_range(part, 0, -s / (1.0 - s), 1.0, whole, 0)
    # the far end is known exactly; then both parts of the whole must be the two curves
    if s >= 0.5:
        whole[0, 6] = c[b, 6]
        whole[0, 7] = c[b, 7]
    else:
        whole[0, 0] = c[a, 0]
        whole[0, 1] = c[a, 1]
    split_range(whole, 0, 0.0, s, part, 0)
    split_range(whole, 0, s, 1.0, part, 1)
    for k in range(8):
        if abs(part[0, k] - c[a, k]) > 4.0 * tol or abs(part[1, k] - c[b, k]) > 4.0 * tol:
            return False
    for k in range(8):
        c[a, k] = whole[0, k]
    return True


@kernel(
    "int64(float64[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1], int32[::1], int64, float64[:, ::1],"
    " int8[::1])"
)
def draw_chain(ctrl, at, e_num, e_range, chain, first, out, kind):
    """Draw the half-edges of `chain`, from number `first` round, to the first rows of `out`; return how many there are.

    Half-edges that follow one another on one curve become one curve, cut anew from the
    original.
    """
    n = chain.shape[0]
    t = np.empty((1, 8))
    n_out = 0
    k = 0
    while k < n:
        h = chain[(first + k) % n]
        e = h >> 1
        step = 1 if (h & 1) == 0 else -1
        m = k + 1
        last = h
        while m < n:
            g = chain[(first + m) % n]
            if (g & 1) != (h & 1) or e_num[g >> 1, 2] != e_num[e, 2]:
                break
            if e_num[g >> 1, 3] != e_num[last >> 1, 3] + step:
                break
            last = g
            m += 1
        va = e_num[e, h & 1]
        vb = e_num[last >> 1, 1 - (last & 1)]
        kind[n_out] = e_num[e, 4]
        if e_num[e, 4] == 0:
            for c in range(2):
                pa = at[va, c]
                pb = at[vb, c]
                out[n_out, c] = pa
                out[n_out, 2 + c] = pa + (pb - pa) / 3.0
                out[n_out, 4 + c] = pb - (pb - pa) / 3.0
                out[n_out, 6 + c] = pb
        else:
            ta = e_range[e, 0] if step == 1 else e_range[last >> 1, 0]
            tb = e_range[last >> 1, 1] if step == 1 else e_range[e, 1]
            if ta == 0.0 and tb == 1.0:
                for c in range(8):
                    t[0, c] = ctrl[e_num[e, 2], c]
            else:
                split_range(ctrl, e_num[e, 2], ta, tb, t, 0)
            if step == 1:
                for c in range(8):
                    out[n_out, c] = t[0, c]
            else:
                for c in range(4):
                    out[n_out, 2 * c] = t[0, 6 - 2 * c]
                    out[n_out, 2 * c + 1] = t[0, 7 - 2 * c]
            for c in range(2):
                da = at[va, c] - out[n_out, c]
                db = at[vb, c] - out[n_out, 6 + c]
                out[n_out, c] = at[va, c]
                out[n_out, 2 + c] += da
                out[n_out, 4 + c] += db
                out[n_out, 6 + c] = at[vb, c]
        n_out += 1
        k = m
    return n_out


@kernel("int64(float64[:, ::1], int8[::1], int64, int64, float64)")
def join_neighbours(out, kind, base, n, tol):
    """Join those of the curves from `base` to n that are parts of one line or cubic; return how many are left."""
    w = base
    for k in range(base + 1, n):
        if not join_into(out, kind, w, k, tol):
            w += 1
            if w != k:
                kind[w] = kind[k]
                for c in range(8):
                    out[w, c] = out[k, c]
    return w + 1


@kernel("Tuple((int32[::1], int32[::1]))(int32[:, ::1], int64, int32[::1], int32[::1], int32[::1])")
def walk_borders(e_num, n_vertices, nxt, left, label):
    """Return the loops around every label, as half-edges with the label on their left: offsets, and the half-edges.

    A walk that meets a vertex again splits off a loop, so that none passes a point twice.
    """
    nh = left.shape[0]
    done = np.zeros(nh, np.int8)
    mark = np.full(n_vertices, -1, np.int32)
    walk = np.empty(nh + 1, np.int32)
    loops = np.empty(nh + 1, np.int32)
    loop_start = np.empty(nh + 2, np.int32)
    n_loops = 0
    n_flat = 0
    loop_start[0] = 0
    for h0 in range(nh):
        own = label[left[h0]]
        if done[h0] == 1 or own < 0 or label[left[h0 ^ 1]] == own:
            continue
        n = 0
        h = h0
        while True:
            v = e_num[h >> 1, h & 1]
            if mark[v] >= 0:
                p = mark[v]
                for k in range(p, n):
                    loops[n_flat] = walk[k]
                    n_flat += 1
                    mark[e_num[walk[k] >> 1, walk[k] & 1]] = -1
                n_loops += 1
                loop_start[n_loops] = n_flat
                n = p
            if done[h] == 1:
                break
            done[h] = 1
            mark[v] = n
            walk[n] = h
            n += 1
            g = nxt[h]
            while label[left[g ^ 1]] == own:
                g = nxt[g ^ 1]
            h = g
        for k in range(n):
            mark[e_num[walk[k] >> 1, walk[k] & 1]] = -1
    return loop_start[: n_loops + 1], loops[:n_flat]


@kernel("int64(int32[:, ::1], int32[::1])")
def first_of_loop(e_num, loop):
    """Return where in a loop of half-edges a curve begins, so that it is not cut by the loop's start."""
    for k in range(loop.shape[0]):
        h = loop[k]
        g = loop[k - 1]
        step = 1 if (h & 1) == 0 else -1
        if (g & 1) != (h & 1) or e_num[g >> 1, 2] != e_num[h >> 1, 2]:
            return k
        if e_num[h >> 1, 3] != e_num[g >> 1, 3] + step:
            return k
    return 0


@kernel(
    "Tuple((float64[:, ::1], int8[::1], int32[::1], int32[::1]))"
    "(float64[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1], int32[::1], int32[::1], int32[::1], float64)"
)
def trace_regions(ctrl, at, e_num, e_range, nxt, left, label, tol):
    """Draw the border of every label (negative: outside).

    Returns curve controls (n, 8), kinds (n), loop starts (loops + 1) and each loop's
    label. Outer loops run counter-clockwise (in the sense of a positive area), holes
    the other way, and no loop passes one point twice.
    """
    loop_start, loops = walk_borders(e_num, at.shape[0], nxt, left, label)
    n_loops = loop_start.shape[0] - 1
    out = np.empty((loops.shape[0] + 1, 8))
    kind = np.empty(loops.shape[0] + 1, np.int8)
    starts = np.empty(n_loops + 1, np.int32)
    names = np.empty(n_loops, np.int32)
    starts[0] = 0
    n_out = 0
    kept = 0
    for k in range(n_loops):
        loop = loops[loop_start[k] : loop_start[k + 1]]
        base = n_out
        n_out += draw_chain(ctrl, at, e_num, e_range, loop, first_of_loop(e_num, loop), out[base:], kind[base:])
        n_out = join_neighbours(out, kind, base, n_out, tol)
        # and round the loop's start
        while n_out - base > 2:
            if not join_into(out, kind, n_out - 1, base, tol):
                break
            kind[base] = kind[n_out - 1]
            for c in range(8):
                out[base, c] = out[n_out - 1, c]
            n_out -= 1
        # a loop without area within the tolerance is dropped
        area = 0.0
        size = 0.0
        for c in range(base, n_out):
            area += signed_area(out, c, out[base, 0], out[base, 1])
            size += abs(out[c, 6] - out[c, 0]) + abs(out[c, 7] - out[c, 1])
        if abs(area) <= tol * size:
            n_out = base
            continue
        names[kept] = label[left[loop[0]]]
        kept += 1
        starts[kept] = n_out
    return out[:n_out].copy(), kind[:n_out].copy(), starts[: kept + 1].copy(), names[:kept].copy()


@kernel("int32[::1](int32[::1], int32[::1])")
def connected(left, label):
    """Return labels that tell apart the connected regions of equal label; -1 stays."""
    n = label.shape[0]
    root = np.empty(n, np.int32)
    for f in range(n):
        root[f] = f
    for e in range(left.shape[0] // 2):
        a = left[2 * e]
        b = left[2 * e + 1]
        if label[a] < 0 or label[a] != label[b]:
            continue
        while root[a] != a:
            root[a] = root[root[a]]
            a = root[a]
        while root[b] != b:
            root[b] = root[root[b]]
            b = root[b]
        root[max(a, b)] = min(a, b)
    out = np.full(n, -1, np.int32)
    for f in range(n):
        if label[f] < 0:
            continue
        a = f
        while root[a] != a:
            a = root[a]
        out[f] = a
    return out


@kernel(
    "Tuple((float64[:, ::1], int8[::1], int32[::1], int8[::1]))"
    "(float64[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1], float64)"
)
def trace_lines(ctrl, at, e_num, e_range, tol):
    """Draw every line of the map between crossings: curves, kinds, chain starts, and whether each is closed.

    A crossing is a vertex where other than two edges meet; a border without one is a
    closed chain.
    """
    ne = e_num.shape[0]
    degree = np.zeros(at.shape[0], np.int32)
    mate = np.full((at.shape[0], 2), -1, np.int32)
    for h in range(2 * ne):
        v = e_num[h >> 1, h & 1]
        if degree[v] < 2:
            mate[v, degree[v]] = h
        degree[v] += 1
    done = np.zeros(ne, np.int8)
    out = np.empty((ne + 1, 8))
    kind = np.empty(ne + 1, np.int8)
    starts = np.empty(ne + 1, np.int32)
    closed = np.empty(ne + 1, np.int8)
    chain = np.empty(ne, np.int32)
    starts[0] = 0
    n_out = 0
    kept = 0
    # first the chains that begin at a crossing, then the loops that have none
    for turn in range(2):
        for h0 in range(2 * ne):
            if done[h0 >> 1] == 1 or (turn == 0 and degree[e_num[h0 >> 1, h0 & 1]] == 2):
                continue
            n = 0
            h = h0
            while done[h >> 1] == 0:
                done[h >> 1] = 1
                chain[n] = h
                n += 1
                v = e_num[h >> 1, 1 - (h & 1)]
                if degree[v] != 2:
                    break
                h = mate[v, 1] if mate[v, 0] == (h ^ 1) else mate[v, 0]
            base = n_out
            n_out += draw_chain(ctrl, at, e_num, e_range, chain[:n], 0, out[base:], kind[base:])
            n_out = join_neighbours(out, kind, base, n_out, tol)
            closed[kept] = turn
            kept += 1
            starts[kept] = n_out
    return out[:n_out].copy(), kind[:n_out].copy(), starts[: kept + 1].copy(), closed[:kept].copy()
