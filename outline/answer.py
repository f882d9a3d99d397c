"""One question asked of a map of its own, in a single call: small shapes then cost little more than the map."""

import numpy as np

from .border import borders
from .chart import chart
from .kernel import kernel
from .tolerance import DOTTED, FLOAT_NOISE, GROWTH, RELATIVE, TRIES

__all__ = ["answer", "UNION", "INTERSECT", "EXCLUDE", "SUBTRACT"]

UNION = 0
INTERSECT = 1
EXCLUDE = 2
SUBTRACT = 3


@kernel("int32[::1](int64[:, ::1], int64, int64)")
def label_faces(held, n_inputs, question):
    """Return 0 for each face that belongs to the answer and -1 for the others.

    held[f, 0] is twice the number of inputs that hold face f, plus 1 where the first one does.
    """
    n = held.shape[0]
    label = np.full(n, -1, np.int32)
    for f in range(1, n):
        first = held[f, 0] & 1
        count = held[f, 0] >> 1
        if question == 0:
            hit = count > 0
        elif question == 1:
            hit = count == n_inputs
        elif question == 2:
            hit = (count & 1) == 1
        else:
            hit = first == 1 and count == 1
        if hit:
            label[f] = 0
    return label


@kernel(
    "Tuple((int64, float64[:, ::1], int8[::1], int32[::1]))(float64[:, ::1], int8[::1], int64[::1], int8[::1], int64)"
)
def answer(ctrl, kind, counts, rule, question):
    """Ask `question` of paths with `counts[i]` curves each.

    Returns (certificates of failed tries as octal digits, negative where every try
    failed; curve controls, kinds, loop starts).
    """
    n = ctrl.shape[0]
    source = np.empty(n, np.int32)
    k = 0
    for i in range(counts.shape[0]):
        for _ in range(counts[i]):
            source[k] = i
            k += 1
    x0 = np.inf
    y0 = np.inf
    x1 = -np.inf
    y1 = -np.inf
    for i in range(n):
        for c in range(0, 8, 2):
            x0 = min(x0, ctrl[i, c])
            x1 = max(x1, ctrl[i, c])
            y0 = min(y0, ctrl[i, c + 1])
            y1 = max(y1, ctrl[i, c + 1])
    largest = max(max(abs(x0), abs(x1)), max(abs(y0), abs(y1)))
    tol = max(max(RELATIVE * max(x1 - x0, y1 - y0), FLOAT_NOISE * largest), 1e-300)
    weight = np.ones(n, np.int8)
    failures = 0
    dots = np.empty((0, 2))
    for k in range(TRIES):
        status, at, e_ctrl, e_num, e_range, nxt, left, held = chart(ctrl, kind, source, weight, rule, tol, dots, True)
        if status == 0:
            label = label_faces(held, counts.shape[0], question)
            out, out_kind, starts, _names = borders(ctrl, at, e_ctrl, e_num, e_range, nxt, left, label, tol)
            return failures, out, out_kind, starts
        failures = failures * 8 + status
        dots = at
        if k % DOTTED == DOTTED - 1:
            tol *= GROWTH
            dots = np.empty((0, 2))
    return -failures, np.empty((0, 8)), np.empty(0, np.int8), np.zeros(1, np.int32)
