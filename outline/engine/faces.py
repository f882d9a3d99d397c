"""Faces of the map: cycles of half-edges, and which face holds which island."""

import numpy as np

from outline.path.bezier import bulge
from outline.path.errors import Certificate
from outline.path.kernel import kernel
from outline.path.monotone import x_at

__all__ = ["find_faces"]


@kernel(
    "Tuple((int64, float64))(float64[:, ::1], int32[:, ::1], float64[::1], int32[::1], int32[::1], float64[::1],"
    " int64, float64)"
)
def west_hit(e_ctrl, e_num, rank, comp, items, point, c, near):
    """Return the half-edge, seen from the east, that a ray to the west from a point hits first, or -1; and the gap.

    Edges of component c are skipped. Edges that leave one vertex upwards and are hit
    within `near` of one another are told apart by their order around it. The gap is how much
    further the next hit is, not counting edges that leave the vertex hit.
    """
    px = point[0]
    py = point[1]
    best_x = -np.inf
    best_h = -1
    best_rank = 0.0
    best_v = -1
    next_x = -np.inf
    for p in range(items.shape[0]):
        e = items[p]
        ya = e_ctrl[e, 1]
        yb = e_ctrl[e, 7]
        # half-open in y, as if the ray ran just above `py`
        if ya == yb or min(ya, yb) > py or max(ya, yb) <= py:
            continue
        if min(e_ctrl[e, 0], e_ctrl[e, 6]) >= px or max(e_ctrl[e, 0], e_ctrl[e, 6]) < next_x:
            continue
        if comp[e_num[e, 0]] == c:
            continue
        x = x_at(e_ctrl, e, py)
        if x >= px or x < next_x:
            continue
        up = 2 * e if yb > ya else 2 * e + 1
        k = rank[up]
        v = e_num[e, up & 1]
        if v == best_v and abs(x - best_x) <= near:
            # just above their vertex rounding decides which is further west: the one that bends east is hit first
            if k < best_rank:
                best_h = up ^ 1
                best_rank = k
            best_x = max(best_x, x)
        elif x > best_x:
            next_x = best_x
            best_x = x
            best_h = up ^ 1
            best_rank = k
            best_v = v
        else:
            next_x = x
    return best_h, best_x - next_x if best_h >= 0 else np.inf


@kernel("int64(float64[:, ::1], int32[:, ::1], int32[::1], int32[::1], int32[::1], float64[::1], int64, float64)")
def east_of_bundle(e_ctrl, e_num, comp, cycle, items, point, c, near):
    """Return the half-edge whose left lies east of a bundle of edges, each nearer than `near` to the next; -1 for none.

    Where edges run this close, rounding may have exchanged them, and the one hit first
    need not be the eastmost of the map. But what is between two of the bundle is east
    of one and west of another, and only what is east of all of them is east of one more.
    """
    px = point[0]
    py = point[1]
    most = 64
    xs = np.empty(most)
    ups = np.empty(most, np.int64)
    n = 0
    for p in range(items.shape[0]):
        e = items[p]
        ya = e_ctrl[e, 1]
        yb = e_ctrl[e, 7]
        if ya == yb or min(ya, yb) > py or max(ya, yb) <= py:
            continue
        if min(e_ctrl[e, 0], e_ctrl[e, 6]) >= px or comp[e_num[e, 0]] == c:
            continue
        x = x_at(e_ctrl, e, py)
        if x >= px:
            continue
        # kept in order, the eastmost first
        k = min(n, most - 1)
        if n == most and x <= xs[most - 1]:
            continue
        while k > 0 and xs[k - 1] < x:
            xs[k] = xs[k - 1]
            ups[k] = ups[k - 1]
            k -= 1
        xs[k] = x
        ups[k] = 2 * e if yb > ya else 2 * e + 1
        n = min(n + 1, most)
    m = min(n, 1)
    while m < n and xs[m - 1] - xs[m] <= near:
        m += 1
    if m == most:
        return -1
    for i in range(m):
        k = cycle[ups[i] ^ 1]
        net = 0
        for j in range(m):
            if cycle[ups[j] ^ 1] == k:
                net += 1
            if cycle[ups[j]] == k:
                net -= 1
        if net > 0:
            return ups[i] ^ 1
    return -1


@kernel("Tuple((int64, int32[::1]))(int32[::1])")
def number_cycles(nxt):
    """Return how many cycles half-edges run in, each followed by `nxt` of it, and the cycle of each."""
    nh = nxt.shape[0]
    cycle = np.full(nh, -1, np.int32)
    n = 0
    for h in range(nh):
        if cycle[h] >= 0:
            continue
        g = h
        while cycle[g] < 0:
            cycle[g] = n
            g = nxt[g]
        n += 1
    return n, cycle


@kernel("Tuple((int64, int32[::1]))(int32[:, ::1], int32[::1])")
def number_components(e_num, top):
    """Return how many connected components there are, and the component of each vertex.

    A vertex without edges (`top` < 0) belongs to none: -1.
    """
    nv = top.shape[0]
    # union-find with halved paths
    root = np.empty(nv, np.int32)
    for v in range(nv):
        root[v] = v
    for e in range(e_num.shape[0]):
        a = e_num[e, 0]
        b = e_num[e, 1]
        while root[a] != a:
            root[a] = root[root[a]]
            a = root[a]
        while root[b] != b:
            root[b] = root[root[b]]
            b = root[b]
        if a != b:
            root[max(a, b)] = min(a, b)
    comp = np.full(nv, -1, np.int32)
    n = 0
    # a root is the least of its vertices, so it is numbered before the others
    for v in range(nv):
        if top[v] < 0:
            continue
        r = v
        while root[r] != r:
            r = root[r]
        root[v] = r
        if r == v:
            comp[v] = n
            n += 1
        else:
            comp[v] = comp[r]
    return n, comp


@kernel(
    "Tuple((boolean, int32[::1], int32[::1]))(float64[:, ::1], int32[:, ::1], int32[::1], int64, int32[::1], int64)"
)
def check_euler(at, e_num, cycle, n_cycles, comp, n_comp):
    """Return whether V - E + F = 2 in each component, the component of each cycle, and each one's west vertex."""
    euler = np.zeros(n_comp, np.int64)
    west = np.full(n_comp, -1, np.int32)
    for v in range(at.shape[0]):
        c = comp[v]
        if c < 0:
            continue
        euler[c] += 1
        w = west[c]
        if w < 0 or at[v, 0] < at[w, 0] or (at[v, 0] == at[w, 0] and at[v, 1] < at[w, 1]):
            west[c] = v
    cycle_comp = np.empty(n_cycles, np.int32)
    for e in range(e_num.shape[0]):
        c = comp[e_num[e, 0]]
        euler[c] -= 1
        cycle_comp[cycle[2 * e]] = c
        cycle_comp[cycle[2 * e + 1]] = c
    for k in range(n_cycles):
        euler[cycle_comp[k]] += 1
    holds = True
    for c in range(n_comp):
        if euler[c] != 2:
            holds = False
    return holds, cycle_comp, west


@kernel("boolean(float64[:, ::1], float64[:, ::1], int32[:, ::1], int32[::1], int8[::1], float64)")
def turn_right(at, e_ctrl, e_num, cycle, is_outer, tol):
    """Return whether cycles turn as they must: outer ones clockwise, all others round their face counter-clockwise.

    A cycle's area says so, to within a sliver: `tol` times its length.
    """
    n = is_outer.shape[0]
    area = np.zeros(n)
    slack = np.zeros(n)
    # each cycle's area is taken about a vertex of its own, which keeps a sliver's sums small
    about = np.full(n, -1, np.int32)
    for h in range(cycle.shape[0]):
        if about[cycle[h]] < 0:
            about[cycle[h]] = e_num[h >> 1, h & 1]
    for e in range(e_ctrl.shape[0]):
        swell = bulge(e_ctrl, e)
        s = abs(e_ctrl[e, 6] - e_ctrl[e, 0]) + abs(e_ctrl[e, 7] - e_ctrl[e, 1])
        for side in range(2):
            k = cycle[2 * e + side]
            x = at[about[k], 0]
            y = at[about[k], 1]
            chord = (e_ctrl[e, 0] - x) * (e_ctrl[e, 7] - y) - (e_ctrl[e, 6] - x) * (e_ctrl[e, 1] - y)
            a = swell + 0.5 * chord
            area[k] += a if side == 0 else -a
            slack[k] += s
    for k in range(n):
        if is_outer[k] == 1:
            if area[k] > tol * slack[k]:
                return False
        elif area[k] < -tol * slack[k]:
            return False
    return True


@kernel("Tuple((int64[::1], int32[::1]))(float64[:, ::1], int64, float64, float64)")
def edges_by_row(e_ctrl, rows, y_lo, f):
    """Return which edges reach into each of so many rows of height 1 / `f` from `y_lo` on: offsets, and the edges."""
    ne = e_ctrl.shape[0]
    count = np.zeros(rows + 1, np.int64)
    for e in range(ne):
        r0 = min(rows - 1, int((min(e_ctrl[e, 1], e_ctrl[e, 7]) - y_lo) * f))
        r1 = min(rows - 1, int((max(e_ctrl[e, 1], e_ctrl[e, 7]) - y_lo) * f))
        for r in range(r0, r1 + 1):
            count[r + 1] += 1
    for r in range(rows):
        count[r + 1] += count[r]
    item = np.empty(count[rows], np.int32)
    fill = count[:rows].copy()
    for e in range(ne):
        r0 = min(rows - 1, int((min(e_ctrl[e, 1], e_ctrl[e, 7]) - y_lo) * f))
        r1 = min(rows - 1, int((max(e_ctrl[e, 1], e_ctrl[e, 7]) - y_lo) * f))
        for r in range(r0, r1 + 1):
            item[fill[r]] = e
            fill[r] += 1
    return count, item


@kernel(
    "int32[::1](float64[:, ::1], float64[:, ::1], int32[:, ::1], int32[::1], float64[::1], int32[::1], int32[::1],"
    " float64)"
)
def parent_cycles(at, e_ctrl, e_num, cycle, rank, comp, west, tol):
    """Return the cycle that each component lies within, -1 for none: what a ray to the west from it hits first."""
    ne = e_ctrl.shape[0]
    nv = at.shape[0]
    n_comp = west.shape[0]
    y_lo = np.inf
    y_hi = -np.inf
    for v in range(nv):
        y_lo = min(y_lo, at[v, 1])
        y_hi = max(y_hi, at[v, 1])
    rows = max(1, min(int(ne**0.5) + 1, n_comp))
    f = rows / (y_hi - y_lo) if y_hi > y_lo else 0.0
    count, item = edges_by_row(e_ctrl, rows, y_lo, f)
    parent = np.full(n_comp, -1, np.int32)
    near = 8.0 * tol
    for c in range(n_comp):
        w = west[c]
        r = min(rows - 1, int((at[w, 1] - y_lo) * f))
        row = item[count[r] : count[r + 1]]
        h, gap = west_hit(e_ctrl, e_num, rank, comp, row, at[w], c, near)
        if h >= 0 and gap <= near:
            # two edges nearer than the tolerance: merging may have crossed them there, so look from elsewhere
            tries = 0
            sure = False
            for v in range(nv):
                if comp[v] != c or v == w:
                    continue
                r = min(rows - 1, int((at[v, 1] - y_lo) * f))
                other = item[count[r] : count[r + 1]]
                g, gap = west_hit(e_ctrl, e_num, rank, comp, other, at[v], c, near)
                tries += 1
                if g < 0 or gap > near:
                    h = g
                    sure = True
                    break
                if tries >= 64:
                    break
            if not sure:
                g = east_of_bundle(e_ctrl, e_num, comp, cycle, row, at[w], c, near)
                h = g if g >= 0 else h
        if h >= 0:
            parent[c] = cycle[h]
    return parent


@kernel("boolean(int32[::1], int32[::1], int32[::1], int8[::1], int32[::1])")
def give_islands(face, outer, parent, is_outer, cycle_comp):
    """Give each component's outer cycle the face it lies in. False where they are within one another in a circle."""
    n_comp = outer.shape[0]
    for c in range(n_comp):
        p = parent[c]
        guard = 0
        # an outer cycle seen from outside: go on from its own component
        while p >= 0 and is_outer[p] == 1 and guard <= n_comp:
            p = parent[cycle_comp[p]]
            guard += 1
        if guard > n_comp:
            return False
        face[outer[c]] = 0 if p < 0 else face[p]
    return True


@kernel(
    "Tuple((int64, int64, int32[::1]))"
    "(float64[:, ::1], float64[:, ::1], int32[:, ::1], int32[::1], int32[::1], float64[::1], float64)"
)
def find_faces(at, e_ctrl, e_num, nxt, top, rank, tol):
    """Return (certificate, number of faces, face on the left of each half-edge).

    Face 0 is the unbounded one. The certificate is SOUND; or EULER where Euler's formula
    V - E + F = 2 fails in a component; or OUTER_CYCLE where a component has not exactly
    one outer cycle.
    """
    nh = 2 * e_ctrl.shape[0]
    left = np.zeros(nh, np.int32)
    n_cycles, cycle = number_cycles(nxt)
    n_comp, comp = number_components(e_num, top)
    if n_comp == 0:
        return Certificate.SOUND, 1, left
    holds, cycle_comp, west = check_euler(at, e_num, cycle, n_cycles, comp, n_comp)
    if not holds:
        return Certificate.EULER, 0, left
    # the cycle that runs below a component's west vertex is its outer one
    outer = np.empty(n_comp, np.int32)
    is_outer = np.zeros(n_cycles, np.int8)
    for c in range(n_comp):
        outer[c] = cycle[top[west[c]]]
        is_outer[outer[c]] = 1
    if not turn_right(at, e_ctrl, e_num, cycle, is_outer, tol):
        return Certificate.OUTER_CYCLE, 0, left
    # every cycle that is not outer is a face of its own
    face = np.full(n_cycles, -1, np.int32)
    n_faces = 1
    for k in range(n_cycles):
        if is_outer[k] == 0:
            face[k] = n_faces
            n_faces += 1
    if n_comp == 1:
        face[outer[0]] = 0
    else:
        parent = parent_cycles(at, e_ctrl, e_num, cycle, rank, comp, west, tol)
        if not give_islands(face, outer, parent, is_outer, cycle_comp):
            return Certificate.OUTER_CYCLE, 0, left
    for h in range(nh):
        left[h] = face[cycle[h]]
    return Certificate.SOUND, n_faces, left
