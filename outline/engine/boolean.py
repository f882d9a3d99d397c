"""One operation on a temporary map, in a single call: small shapes then cost little more than the map."""

from enum import IntEnum

import numpy as np

from outline.path.kernel import kernel
from outline.path.tolerance import TRIES

from .build import build_map
from .trace import trace_regions

__all__ = ["combine", "SetOperation"]


class SetOperation(IntEnum):
    """Which faces belong to the result."""

    UNION = 0
    INTERSECT = 1
    EXCLUDE = 2
    SUBTRACT = 3


@kernel("int32[::1](int64[:, ::1], int64, int64)")
def label_faces(counts, n_inputs, operation):
    """Return 0 for each face that belongs to the result and -1 for the others.

    counts[f, 0] is twice the number of inputs that contain face f, plus 1 if the
    first one is among them.
    """
    n = counts.shape[0]
    label = np.full(n, -1, np.int32)
    for f in range(1, n):
        first = counts[f, 0] & 1
        count = counts[f, 0] >> 1
        if operation == SetOperation.UNION:
            hit = count > 0
        elif operation == SetOperation.INTERSECT:
            hit = count == n_inputs
        elif operation == SetOperation.EXCLUDE:
            hit = (count & 1) == 1
        else:
            hit = first == 1 and count == 1
        if hit:
            label[f] = 0
    return label


@kernel(
    "Tuple((int64[::1], float64[:, ::1], int8[::1], int32[::1]))"
    "(float64[:, ::1], int8[::1], int64[::1], int8[::1], int64)"
)
def combine(ctrl, kind, counts, rule, operation):
    """Combine inputs of `counts[i]` curves each, with fill rule `rule[i]`, by one of `SetOperation`.

    Returns (certificates of the tries that failed; curve controls, kinds, loop starts).
    As many certificates as there are TRIES mean that no map came out right.
    """
    n = ctrl.shape[0]
    source = np.empty(n, np.int32)
    k = 0
    for i in range(counts.shape[0]):
        for _ in range(counts[i]):
            source[k] = i
            k += 1
    certificates, tol, at, e_ctrl, e_num, e_range, nxt, left, inside = build_map(ctrl, kind, source, rule, True)
    if certificates.shape[0] == TRIES:
        return certificates, np.empty((0, 8)), np.empty(0, np.int8), np.zeros(1, np.int32)
    label = label_faces(inside, counts.shape[0], operation)
    out, out_kind, starts, _names = trace_regions(ctrl, at, e_num, e_range, nxt, left, label, tol)
    return certificates, out, out_kind, starts
