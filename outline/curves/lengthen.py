"""Lengthening an outline across bands: what lies beyond a band moves, straight runs across it grow, nothing else
changes its form."""

from itertools import pairwise
from typing import Final, TypeAlias

import numpy as np

from outline.path.errors import OutlineError
from outline.path.path import Path

__all__ = ["Band", "curves_across", "find_bands", "lengthened"]

Band: TypeAlias = tuple[float, float]
"""From where to where along an axis, in the path's own coordinates."""

STRAIGHT: Final = 1e-9
"""How much of the path's extent a run may lean and still run along the axis."""
EVEN: Final = 0.01
"""How much of the extent two bands may lie off their mirrored places and still be a pair."""


def _spans(path: Path, axis: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return the lowest and highest coordinate of each curve along an axis (0 for x), and which run straight along."""
    ctrl, kind, _, _ = path.arrays
    along, across = ctrl[:, axis::2], ctrl[:, 1 - axis :: 2]
    near = STRAIGHT * float(max(np.ptp(along), np.ptp(across))) if len(ctrl) else 0.0
    straight = (kind == 0) & (np.ptp(across, axis=1) <= near)
    return along.min(axis=1), along.max(axis=1), straight


def _free(path: Path, axis: int) -> list[Band]:
    """Return the bands that only straight runs along the axis cross, as wide as they can be."""
    low, high, straight = _spans(path, axis)
    if len(low) == 0:
        return []
    least, most = float(low.min()), float(high.max())
    out, at = [], least
    for a, b in sorted(zip(low[~straight].tolist(), high[~straight].tolist(), strict=True)):
        if a > at:
            out.append((at, a))
        at = max(at, b)
    if at < most:
        out.append((at, most))
    return [(a, b) for a, b in out if b - a > 1e-6 * (most - least)]


def find_bands(path: Path, axis: int) -> tuple[Band, ...]:
    """Return where an outline can lengthen along an axis (0 for x) without a curve changing.

    One band that holds the middle; else two that lie alike on both sides of it, so that
    what is in the middle stays there; else the widest. None where a curve or a slanted
    run lies everywhere.
    """
    free = _free(path, axis)
    if not free:
        return ()
    low, high, _ = _spans(path, axis)
    least, most = float(low.min()), float(high.max())
    middle, near = (least + most) / 2, EVEN * (most - least)
    for a, b in free:
        if a < middle < b:
            return ((a, b),)
    pairs = [
        (p, q)
        for p in free
        for q in free
        if p[1] <= middle <= q[0] and abs(p[0] + q[1] - 2 * middle) <= near and abs(p[1] + q[0] - 2 * middle) <= near
    ]
    if pairs:
        return max(pairs, key=lambda pair: pair[0][1] - pair[0][0])
    return (max(free, key=lambda band: band[1] - band[0]),)


def curves_across(path: Path, axis: int, bands: tuple[Band, ...]) -> int:
    """Return how many curves and slanted runs lie across one of the bands, and would change their form."""
    low, high, straight = _spans(path, axis)
    across = np.zeros(len(low), bool)
    for a, b in bands:
        across |= (low < b) & (high > a)
    return int((across & ~straight).sum())


def lengthened(path: Path, axis: int, bands: tuple[Band, ...], by: float) -> tuple[Path, tuple[Band, ...]]:
    """Return the path `by` longer along an axis (0 for x), each band grown by its even part; and the bands as they
    then lie. What lies before the first band stays.

    A length below 0 shortens. Raises OutlineError where there is no band, or one would have nothing left.
    """
    if not bands:
        raise OutlineError("there is no band across which that could lengthen")
    bands = tuple(sorted((min(b), max(b)) for b in bands))
    if any(p[1] > q[0] for p, q in pairwise(bands)):
        raise OutlineError("two of the bands lie over one another")
    each = by / len(bands)
    least = min(b - a for a, b in bands)
    if least + each <= 0:
        raise OutlineError(f"its straight runs can only be {least * len(bands):.6g} shorter")
    ctrl, kind, starts, closed = path.arrays
    moved = ctrl.copy()
    at = ctrl[:, axis::2]
    grown = np.zeros_like(at)
    for a, b in bands:
        grown += each * np.clip((at - a) / (b - a), 0.0, 1.0) if b > a else each * (at > a)
    moved[:, axis::2] = at + grown
    # a line's own handles lie on it, a third from either end
    lines = kind == 0
    first, last = moved[lines, axis], moved[lines, 6 + axis]
    moved[lines, 2 + axis], moved[lines, 4 + axis] = first + (last - first) / 3, last - (last - first) / 3
    out = Path(moved, kind.copy(), starts.copy(), closed.copy(), fill_rule=path.fill_rule)
    return out, tuple((a + k * each, b + (k + 1) * each) for k, (a, b) in enumerate(bands))
