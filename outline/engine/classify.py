"""Which inputs each face lies in: winding numbers carried from the outside in.

In: the faces and the winding of every input across every edge. Out: one bit set, or one
count, for each face.
"""

import numpy as np

from outline.path.errors import Certificate
from outline.path.kernel import kernel

__all__ = ["classify_faces", "WORD"]

WORD = 62
"""Bits used of each int64 of an inside-set."""


@kernel("boolean(int32, int8)")
def is_inside(wind, rule):
    """Return whether a winding number counts as inside under a fill rule (0 nonzero, 1 evenodd, 2 positive)."""
    if rule == 0:
        return wind != 0
    if rule == 1:
        return (wind & 1) == 1
    return wind > 0


@kernel("Tuple((int32[::1], int32[::1]))(int64, int32[::1])")
def edges_of_faces(n_faces, left):
    """Return the half-edges that have each face on their left: offsets, and the half-edges."""
    nh = left.shape[0]
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
    return start, half


@kernel("int64[::1](int64)")
def number_inputs(n):
    """Return one random number per input (xorshift), so that winding vectors can be compared by a sum."""
    name = np.empty(n, np.int64)
    x = 88172645463325252
    for i in range(n):
        x ^= (x << 13) & 0x7FFFFFFFFFFFFFFF
        x ^= x >> 7
        x ^= (x << 17) & 0x7FFFFFFFFFFFFFFF
        name[i] = x & 0xFFFFFFFFFFFF
    return name


@kernel("int64(int64, int64[::1], int32[::1], int32[::1], int32[:, ::1], int8[::1], int64[::1], boolean)", inline=True)
def cross_edge(h, bits, wind, off, flat, rule, name, count_only):
    """Carry the winding numbers across half-edge h, and the row `bits` of a face; return how the sum grows."""
    e = h >> 1
    s = -1 if (h & 1) == 0 else 1
    grown = np.int64(0)
    for k in range(off[e], off[e + 1]):
        i = flat[k, 0]
        was = is_inside(wind[i], rule[i])
        wind[i] += s * flat[k, 1]
        grown += s * flat[k, 1] * name[i]
        inside = is_inside(wind[i], rule[i])
        if count_only:
            if inside != was:
                step = 3 if i == 0 else 2
                bits[0] += step if inside else -step
            continue
        word = i // WORD
        bit = np.int64(1) << np.int64(i - word * WORD)
        if inside:
            bits[word] |= bit
        else:
            bits[word] &= ~bit
    return grown


@kernel("boolean(int32[::1], int32[::1], int32[:, ::1], int64[::1], int64[::1])")
def add_up(left, off, flat, name, total):
    """Return whether the windings of the faces at both sides of every edge differ by what winds along it."""
    for e in range(left.shape[0] // 2):
        sum_ = total[left[2 * e]] - total[left[2 * e + 1]]
        for k in range(off[e], off[e + 1]):
            sum_ -= flat[k, 1] * name[flat[k, 0]]
        if sum_ != 0:
            return False
    return True


@kernel("Tuple((int64, int64[:, ::1]))(int64, int32[::1], int32[::1], int32[:, ::1], int8[::1], int64, boolean)")
def classify_faces(n_faces, left, off, flat, rule, n_inputs, count_only):
    """Return (certificate, inside-set of each face as bits, one int64 per 62 inputs).

    Where `count_only`, each face has one int64 instead: twice the number of inputs that
    hold it, plus 1 where input 0 does. `rule[i]` is 0 for nonzero, 1 for evenodd and 2
    for what is wound the way of the map's own outer loops.
    The certificate is WINDINGS where they do not add up around some edge, else SOUND.
    """
    words = 1 if count_only else (n_inputs + WORD - 1) // WORD
    bits = np.zeros((n_faces, max(1, words)), np.int64)
    start, half = edges_of_faces(n_faces, left)
    name = number_inputs(n_inputs)
    wind = np.zeros(n_inputs, np.int32)
    total = np.zeros(n_faces, np.int64)
    seen = np.zeros(n_faces, np.int8)
    # from the unbounded face on, depth first; winding numbers are those of the current face
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
            for k in range(bits.shape[1]):
                bits[g, k] = bits[f, k]
            total[g] = total[f] + cross_edge(h, bits[g], wind, off, flat, rule, name, count_only)
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
    if not add_up(left, off, flat, name, total):
        return Certificate.WINDINGS, bits
    for f in range(n_faces):
        if seen[f] == 0:
            return Certificate.WINDINGS, bits
    return Certificate.SOUND, bits
