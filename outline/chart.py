"""Which inputs hold each face: windings carried from the outside in, and the whole map in one call."""

import numpy as np

from .arrange import arrange
from .faces import find_faces
from .grid import candidate_pairs
from .kernel import kernel
from .meet import meet_pairs
from .rotation import order_around
from .strands import cut_strands

__all__ = ["chart", "WORD"]

WORD = 62
"""Bits used of each int64 of an inside-set."""


@kernel("boolean(int32, int8)")
def holds(wind, rule):
    """Tell whether a winding number counts as inside."""
    if rule == 0:
        return wind != 0
    if rule == 1:
        return (wind & 1) == 1
    return wind > 0


@kernel("Tuple((int64, int64[:, ::1]))(int64, int32[::1], int32[::1], int32[:, ::1], int8[::1], int64, boolean)")
def inside_sets(n_faces, left, off, flat, rule, n_inputs, counted):
    """Return (certificate, inside-set of each face as bits, one int64 per 62 inputs).

    Where `counted`, each face has one int64 instead: twice the number of inputs that
    hold it, plus 1 where input 0 does. `rule[i]` is 0 for nonzero, 1 for evenodd and 2
    for what is wound the way of the map's own outer loops.
    Certificate 3: the windings do not add up around some edge.
    """
    words = 1 if counted else (n_inputs + 61) // 62
    bits = np.zeros((n_faces, max(1, words)), np.int64)
    nh = left.shape[0]
    # half-edges by face
    start = np.zeros(n_faces + 1, np.int32)
    for h in range(nh):
        start[left[h] + 1] += 1
    for f in range(n_faces):
        start[f + 1] += start[f]
    half = np.empty(nh, np.int32)
    fill = start[:n_faces].copy()
    for h in range(nh):
        f = left[h]
        half[fill[f]] = h
        fill[f] += 1
    wind = np.zeros(n_inputs, np.int32)
    # one number per input, so that a whole winding vector can be compared by its sum
    name = np.empty(n_inputs, np.int64)
    x = 88172645463325252
    for i in range(n_inputs):
        x ^= (x << 13) & 0x7FFFFFFFFFFFFFFF
        x ^= x >> 7
        x ^= (x << 17) & 0x7FFFFFFFFFFFFFFF
        name[i] = x & 0xFFFFFFFFFFFF
    total = np.zeros(n_faces, np.int64)
    seen = np.zeros(n_faces, np.int8)
    stack = np.empty(n_faces + 1, np.int32)
    via = np.empty(n_faces + 1, np.int32)
    at = start[:n_faces].copy()
    depth = 1
    stack[0] = 0
    via[0] = -1
    seen[0] = 1
    while depth > 0:
        f = stack[depth - 1]
        if at[f] < start[f + 1]:
            h = half[at[f]]
            at[f] += 1
            g = left[h ^ 1]
            if seen[g] == 1:
                continue
            seen[g] = 1
            e = h >> 1
            s = -1 if (h & 1) == 0 else 1
            for k in range(bits.shape[1]):
                bits[g, k] = bits[f, k]
            sum_ = total[f]
            for k in range(off[e], off[e + 1]):
                i = flat[k, 0]
                was = holds(wind[i], rule[i])
                wind[i] += s * flat[k, 1]
                sum_ += s * flat[k, 1] * name[i]
                held = holds(wind[i], rule[i])
                if counted:
                    if held != was:
                        step = 3 if i == 0 else 2
                        bits[g, 0] += step if held else -step
                    continue
                word = i // 62
                bit = np.int64(1) << np.int64(i - word * 62)
                if held:
                    bits[g, word] |= bit
                else:
                    bits[g, word] &= ~bit
            total[g] = sum_
            stack[depth] = g
            via[depth] = h
            depth += 1
        else:
            depth -= 1
            h = via[depth]
            if h >= 0:
                e = h >> 1
                s = -1 if (h & 1) == 0 else 1
                for k in range(off[e], off[e + 1]):
                    wind[flat[k, 0]] -= s * flat[k, 1]
    for e in range(nh // 2):
        sum_ = total[left[2 * e]] - total[left[2 * e + 1]]
        for k in range(off[e], off[e + 1]):
            sum_ -= flat[k, 1] * name[flat[k, 0]]
        if sum_ != 0:
            return 3, bits
    for f in range(n_faces):
        if seen[f] == 0:
            return 3, bits
    return 0, bits


@kernel(
    "Tuple((float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1]))"
    "(float64[:, ::1], float64[:, ::1], int32[::1], float64[:, ::1], int8[:, ::1])"
)
def with_dots(dots, s_ctrl, s_curve, s_range, s_sign):
    """Return the strands with one strand of no length before them for each dot: what passes it is cut there."""
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
    "(float64[:, ::1], int8[::1], int32[::1], int8[::1], int8[::1], float64, float64[:, ::1], boolean)"
)
def chart(ctrl, kind, source, weight, rule, tol, dots, counted):
    """Build the planar map of curves `ctrl` (n, 8), every curve that passes one of `dots` cut there.

    Returns (certificate, vertices, edge controls, edge numbers, edge ranges, next
    half-edge, face on the left of each half-edge, inside-sets by face, or how many
    inputs hold it where `counted`).
    """
    s_ctrl, s_curve, s_range, s_sign = cut_strands(ctrl, kind)
    if dots.shape[0] > 0:
        s_ctrl, s_curve, s_range, s_sign = with_dots(dots, s_ctrl, s_curve, s_range, s_sign)
    pairs = candidate_pairs(s_ctrl, tol)
    who, where = meet_pairs(s_ctrl, s_sign, pairs, tol)
    at, e_ctrl, e_num, e_range, off, flat = arrange(s_ctrl, s_curve, s_range, s_sign, source, weight, who, where, tol)
    nxt, top, rank = order_around(e_ctrl, e_num, at.shape[0], tol)
    status, n_faces, left = find_faces(at, e_ctrl, e_num, nxt, top, rank, tol)
    if status != 0:
        return status, at, e_ctrl, e_num, e_range, nxt, left, np.zeros((1, 1), np.int64)
    status, bits = inside_sets(n_faces, left, off, flat, rule, rule.shape[0], counted)
    return status, at, e_ctrl, e_num, e_range, nxt, left, bits
