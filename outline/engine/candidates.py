"""Candidate pairs of monotone curves from a uniform grid over their boxes."""

import math

import numpy as np

from outline.path.kernel import kernel

__all__ = ["candidate_pairs"]


@kernel("float64[:, ::1](float64[:, ::1], float64)")
def boxes_of(s_ctrl, tol):
    """Return the box of each monotone curve, grown by `tol`: left, top, right, bottom."""
    m = s_ctrl.shape[0]
    box = np.empty((m, 4))
    for i in range(m):
        a = s_ctrl[i, 0]
        b = s_ctrl[i, 6]
        c = s_ctrl[i, 1]
        d = s_ctrl[i, 7]
        box[i, 0] = min(a, b) - tol
        box[i, 2] = max(a, b) + tol
        box[i, 1] = min(c, d) - tol
        box[i, 3] = max(c, d) + tol
    return box


@kernel("Tuple((int64, int64, int32[:, ::1]))(float64[:, ::1])")
def grid_of(box):
    """Return the columns and rows of a grid, and the cells that each box reaches: first column and row, last ones.

    Cells are about as large as the mean box, and never more than about four a box.
    """
    m = box.shape[0]
    x0 = np.inf
    y0 = np.inf
    x1 = -np.inf
    y1 = -np.inf
    sum_w = 0.0
    sum_h = 0.0
    for i in range(m):
        x0 = min(x0, box[i, 0])
        x1 = max(x1, box[i, 2])
        y0 = min(y0, box[i, 1])
        y1 = max(y1, box[i, 3])
        sum_w += box[i, 2] - box[i, 0]
        sum_h += box[i, 3] - box[i, 1]
    width = x1 - x0
    height = y1 - y0
    limit = int(2.0 * math.sqrt(m)) + 1
    nx = 1
    ny = 1
    if m >= 24 and sum_w > 0.0 and width > 0.0:
        nx = max(1, min(limit, int(min(1e6, width * m / sum_w))))
    if m >= 24 and sum_h > 0.0 and height > 0.0:
        ny = max(1, min(limit, int(min(1e6, height * m / sum_h))))
    fx = nx / width if width > 0.0 else 0.0
    fy = ny / height if height > 0.0 else 0.0
    span = np.empty((m, 4), np.int32)
    for i in range(m):
        span[i, 0] = min(nx - 1, int((box[i, 0] - x0) * fx))
        span[i, 1] = min(ny - 1, int((box[i, 1] - y0) * fy))
        span[i, 2] = min(nx - 1, int((box[i, 2] - x0) * fx))
        span[i, 3] = min(ny - 1, int((box[i, 3] - y0) * fy))
    return nx, ny, span


@kernel("Tuple((int64[::1], int32[::1]))(int64, int64, int32[:, ::1])")
def fill_grid(nx, ny, span):
    """Return the boxes in each cell of a grid: offsets, and the numbers."""
    start = np.zeros(nx * ny + 1, np.int64)
    for i in range(span.shape[0]):
        for cy in range(span[i, 1], span[i, 3] + 1):
            for cx in range(span[i, 0], span[i, 2] + 1):
                start[cy * nx + cx + 1] += 1
    for c in range(nx * ny):
        start[c + 1] += start[c]
    item = np.empty(start[nx * ny], np.int32)
    fill = start[: nx * ny].copy()
    for i in range(span.shape[0]):
        for cy in range(span[i, 1], span[i, 3] + 1):
            for cx in range(span[i, 0], span[i, 2] + 1):
                c = cy * nx + cx
                item[fill[c]] = i
                fill[c] += 1
    return start, item


@kernel("int32[:, ::1](float64[:, ::1], float64)")
def candidate_pairs(s_ctrl, tol):
    """Return every pair (i < j) of monotone curves whose boxes, grown by `tol`, meet; each once, by cell."""
    box = boxes_of(s_ctrl, tol)
    nx, ny, span = grid_of(box)
    start, item = fill_grid(nx, ny, span)
    capacity = 4 * box.shape[0] + 16
    pairs = np.empty((capacity, 2), np.int32)
    n = 0
    for c in range(nx * ny):
        cy = c // nx
        cx = c - cy * nx
        for p in range(start[c], start[c + 1]):
            i = item[p]
            for q in range(p + 1, start[c + 1]):
                j = item[q]
                if box[i, 0] > box[j, 2] or box[j, 0] > box[i, 2]:
                    continue
                if box[i, 1] > box[j, 3] or box[j, 1] > box[i, 3]:
                    continue
                # a pair that shares several cells belongs to the one with its lower corner
                if max(span[i, 0], span[j, 0]) != cx or max(span[i, 1], span[j, 1]) != cy:
                    continue
                if n == capacity:
                    capacity *= 2
                    more = np.empty((capacity, 2), np.int32)
                    more[:n] = pairs[:n]
                    pairs = more
                pairs[n, 0] = i
                pairs[n, 1] = j
                n += 1
    return pairs[:n]
