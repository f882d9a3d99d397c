"""The whole map in one call: every stage in its order, and again with more care where a certificate fails.

In: the curves of all inputs. Out: vertices, edges, half-edges, faces and what is in each.
"""

import numpy as np

from outline.path.errors import Certificate
from outline.path.kernel import kernel
from outline.path.monotone import cut_monotone
from outline.path.tolerance import DOTTED, GROWTH, TRIES, for_box

from .candidates import candidate_pairs
from .classify import classify_faces
from .faces import find_faces
from .pairs import meet_pairs
from .split import split_curves
from .vertex_order import order_around

__all__ = ["build_map"]


@kernel(
    "Tuple((float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1]))"
    "(float64[:, ::1], float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1])"
)
def with_dots(dots, s_ctrl, s_curve, s_range, s_sign):
    """Return the monotone curves, preceded by one of no length for each dot: curves that pass it are cut there."""
    n = dots.shape[0]
    m = s_ctrl.shape[0]
    ctrl = np.empty((n + m, 8))
    curve = np.full(n + m, -1, np.int32)
    spans = np.zeros((n + m, 2))
    sign = np.zeros((n + m, 3), np.int8)
    for k in range(n):
        for c in range(0, 8, 2):
            ctrl[k, c] = dots[k, 0]
            ctrl[k, c + 1] = dots[k, 1]
    ctrl[n:] = s_ctrl
    curve[n:] = s_curve
    spans[n:] = s_range
    sign[n:] = s_sign
    return ctrl, curve, spans, sign


@kernel(
    "Tuple((int64, float64[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1], int32[::1], int32[::1],"
    " int64[:, ::1]))"
    "(float64[:, ::1], int8[::1], int32[::1], int8[::1], float64, float64[:, ::1], boolean)"
)
def build_once(ctrl, kind, source, rule, tol, dots, count_only):
    """Build the planar map of curves `ctrl` (n, 8), every curve that passes one of `dots` cut there.

    Returns (certificate, vertices, edge controls, edge numbers, edge ranges, next
    half-edge, face on the left of each half-edge, inside-sets by face, or the counts of
    `classify_faces` where `count_only`).
    """
    s_ctrl, s_curve, s_range, s_sign = cut_monotone(ctrl, kind)
    if dots.shape[0] > 0:
        s_ctrl, s_curve, s_range, s_sign = with_dots(dots, s_ctrl, s_curve, s_range, s_sign)
    pairs = candidate_pairs(s_ctrl, tol)
    who, where = meet_pairs(s_ctrl, s_sign, pairs, tol)
    at, e_ctrl, e_num, e_range, off, flat = split_curves(s_ctrl, s_curve, s_range, s_sign, source, who, where, tol)
    nxt, top, rank = order_around(e_ctrl, e_num, at.shape[0], tol)
    status, n_faces, left = find_faces(at, e_ctrl, e_num, nxt, top, rank, tol)
    if status != Certificate.SOUND:
        return status, at, e_ctrl, e_num, e_range, nxt, left, np.zeros((1, 1), np.int64)
    status, bits = classify_faces(n_faces, left, off, flat, rule, rule.shape[0], count_only)
    return status, at, e_ctrl, e_num, e_range, nxt, left, bits


@kernel(
    "Tuple((int64[::1], float64, float64[:, ::1], float64[:, ::1], int32[:, ::1], float64[:, ::1], int32[::1],"
    " int32[::1], int64[:, ::1]))"
    "(float64[:, ::1], int8[::1], int32[::1], int8[::1], boolean)"
)
def build_map(ctrl, kind, source, rule, count_only):
    """Build the map of one or more curves at the tolerance of its extent, or at one as little coarser as needed.

    `source[c]` is the input that curve c belongs to, -1 for an open cutter, `rule[i]` the fill
    rule of input i. Returns (certificates of the tries that failed, tolerance, then what
    `build_once` returns); as many certificates as there are TRIES mean that no map came out right.
    """
    x0 = np.inf
    y0 = np.inf
    x1 = -np.inf
    y1 = -np.inf
    for i in range(ctrl.shape[0]):
        for c in range(0, 8, 2):
            x0 = min(x0, ctrl[i, c])
            x1 = max(x1, ctrl[i, c])
            y0 = min(y0, ctrl[i, c + 1])
            y1 = max(y1, ctrl[i, c + 1])
    tol = for_box(x0, y0, x1, y1)
    certificates = np.zeros(TRIES, np.int64)
    dots = np.empty((0, 2))
    k = 0
    while True:
        status, at, e_ctrl, e_num, e_range, nxt, left, inside = build_once(
            ctrl, kind, source, rule, tol, dots, count_only
        )
        if status == Certificate.SOUND:
            break
        certificates[k] = status
        dots = at
        if k % DOTTED == DOTTED - 1:
            tol *= GROWTH
            dots = np.empty((0, 2))
        k += 1
        if k == TRIES:
            break
    return certificates[:k], tol, at, e_ctrl, e_num, e_range, nxt, left, inside
