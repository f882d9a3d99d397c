"""Repeated edges: curves of a contour that recur along an axis, and drawing as many of them as fit."""

from dataclasses import dataclass
from typing import Final

import numpy as np

__all__ = ["RepeatedEdge", "find_repeats", "repeated"]

LEAST: Final = 3
"""How often something must recur to count as a repetition."""
LONGEST: Final = 24
"""The most curves of one tooth."""
AT_ONCE: Final = 1 << 16
"""Pairs of curves that are compared at once."""
ALIKE: Final = 2e-3
"""How much teeth may differ, as a share of the pitch: as numbers with few decimals do."""


@dataclass(frozen=True, slots=True)
class RepeatedEdge:
    """`count` times `size` curves of one contour from curve `start` on, each `pitch` further along the axis."""

    start: int
    size: int
    count: int
    pitch: float

    @property
    def end(self) -> int:
        """The curve after the last; more than the contour's number if it crosses the contour's seam."""
        return self.start + self.size * self.count


def find_repeats(ctrl: np.ndarray, kind: np.ndarray, axis: int, closed: bool) -> list[RepeatedEdge]:
    """Return the repetitions along an axis (0 for x) in the curves (n, 8) of one contour; the longest found first wins.

    Straight runs along the axis do not count, nor does anything that turns back.
    """
    n = len(ctrl)
    if n < LEAST:
        return []
    form = ctrl - np.tile(ctrl[:, :2], 4)
    extent = float(np.abs(np.ptp(ctrl.reshape(-1, 2), axis=0)).max())
    plain = ((kind == 0) & (np.abs(form[:, 7 - axis]) <= 1e-9 * extent)).tolist()
    found: list[RepeatedEdge] = []
    most = min(LONGEST, n // LEAST)
    at_once = max(1, AT_ONCE // n)
    for first in range(1, most + 1, at_once):
        sizes = np.arange(first, min(most + 1, first + at_once))
        following = (np.arange(n) + sizes[:, None]) % n
        step = ctrl[following, :2] - ctrl[:, :2]
        along, across = step[..., axis], step[..., 1 - axis]
        near = np.maximum(ALIKE * np.abs(along), 1e-9 * extent)
        alike = (kind == kind[following]) & (np.abs(across) <= near) & (np.abs(along) > 1e-6 * extent)
        alike &= (np.abs(form - form[following]) <= near[..., None]).all(axis=2)
        if not closed:
            alike &= following >= sizes[:, None]
        for k in np.flatnonzero(alike.any(axis=1)):
            found += _stretches(alike[k].tolist(), along[k].tolist(), plain, int(sizes[k]))
    found.sort(key=lambda r: (-(r.size * r.count), r.size))
    taken = np.zeros(n, bool)
    out = []
    for one in found:
        rows = np.arange(one.start, one.end) % n
        if not taken[rows].any():
            taken[rows] = True
            out.append(one)
    return sorted(out, key=lambda r: r.start)


def _stretches(alike: list[bool], along: list[float], plain: list[bool], size: int) -> list[RepeatedEdge]:
    """Return the stretches of curves that each recur `size` curves later, in the same direction."""
    n = len(alike)
    # a stretch ends where a curve does not recur, or in another direction
    begins = 0 if all(alike) else alike.index(False)
    out, at = [], 0
    while at < n:
        k = (begins + at) % n
        if not alike[k]:
            at += 1
            continue
        pitch, length = along[k], 0
        while (
            at + length < n and alike[(k + length) % n] and abs(along[(k + length) % n] - pitch) <= ALIKE * abs(pitch)
        ):
            length += 1
        count = min((length + size) // size, n // size)
        if count >= LEAST and not all(plain[j % n] for j in range(k, k + size)):
            out.append(RepeatedEdge(k, size, count, pitch))
        at += max(1, length)
    return out


def repeated(tooth: np.ndarray, axis: int, pitch: float, begin: np.ndarray, end: np.ndarray) -> np.ndarray:
    """Return curves (n, 8) from `begin` to `end`, two points: a whole number of teeth, of about that pitch.

    Raises ValueError if not one has room.
    """
    length = float(end[axis] - begin[axis])
    if length * pitch <= 0 or abs(length) < abs(pitch) / 2:
        raise ValueError("no room for a tooth")
    count = max(1, round(length / pitch))
    form = tooth - np.tile(tooth[0, :2], 4)
    # the gap between the end of a tooth and the start of the next is spread along it
    last = form[-1, 6:].copy()
    share = form[:, axis::2] / last[axis]
    form[:, axis::2] = share * (length / count)
    drift = (end[1 - axis] - begin[1 - axis]) / count
    form[:, 1 - axis :: 2] += np.clip(share, 0, 1) * (drift - last[1 - axis])
    out = np.concatenate([form] * count)
    number = np.repeat(np.arange(count), len(tooth))[:, None]
    out[:, axis::2] += begin[axis] + number * (length / count)
    out[:, 1 - axis :: 2] += begin[1 - axis] + number * drift
    # joints have equal coordinates on both sides
    out[1:, :2] = out[:-1, 6:]
    out[0, :2], out[-1, 6:] = begin, end
    return out
