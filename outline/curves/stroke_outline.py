"""The area of a border as an outline.

A line, there and back, is a loop that encloses nothing; grown by half of the border's width
it is the border's area, the turns at its two ends being the caps. For a closed line
both sides are such loops.
"""

import itertools
import math
from collections.abc import Sequence
from typing import Final

import numpy as np

from outline.engine.boolean import SetOperation
from outline.path.errors import OutlineError
from outline.path.path import Path

from .arclength import Chain
from .offset import JOINS, check_join, combined_moved, moved_loops
from .offset_kernels import BEVEL, ROUND

__all__ = ["CAPS", "stroke_outline", "dashed"]

CAPS: Final = ("butt", "round", "square")


def stroke_outline(
    path: Path, width: float, *, join: str = "miter", cap: str = "butt", miter_limit: float = 4.0
) -> Path:
    """Return the region that a border of a width (sheet units) along `path` covers (SVG 2, 13.5).

    `join` says how it turns corners: round, miter (up to `miter_limit`, as in SVG) or bevel,
    and `cap` how open lines end: butt, round or square. A line of no length has a cap alone,
    a dot or a square. Fitted curves stay within 0.4 % of half of the width. Raises OutlineError
    for other joins, caps and numbers.

    >>> stroke_outline(Path.from_svg("M0 0H9"), 2).to_svg()
    'M0 -1H9V1H0Z'
    >>> stroke_outline(Path.from_svg("M0 0H9V9"), 2, join="bevel", cap="square").to_svg()
    'M-1 -1H9L10 0V10H8V1H-1Z'
    """
    check_join(join, miter_limit)
    if cap not in CAPS:
        raise OutlineError(f"“{cap}” is not a cap: use {', '.join(CAPS)}")
    if not (math.isfinite(width) and width > 0):
        raise OutlineError("the width must be a number above 0")
    loops = [loop for part in path.subpaths for loop in _both_ways(part, width / 2, join, cap)]
    if not loops:
        return Path()
    ctrl, kind, joins = (np.concatenate(column) for column in zip(*loops, strict=True))
    starts = np.cumsum([0, *(len(rows) for rows, _, _ in loops)], dtype=np.int32)
    tolerance = 0.004 * width / 2
    cusps, limit = JOINS.index(join), float(miter_limit)
    moved, its_kind, _ = moved_loops(ctrl, kind, starts, width / 2, tolerance, joins, cusps, limit)
    # each place is wound as often as the line's sides swept over it
    return combined_moved(moved, its_kind, [len(moved)], [2], SetOperation.UNION, tolerance)


MAX_DASHES: Final = 20_000
SPECK: Final = 1e-7
"""A dash of no length gets this share of the line's length, so that it still has the line's direction."""


def dashed(path: Path, lengths: Sequence[float]) -> Path:
    """Return the open lines that dashes make of each subpath: lengths (sheet units) of a dash, a gap, and so on; an odd
    list is repeated (SVG 2, 13.5.6). Raises OutlineError for invalid lengths, and for too many
    dashes.

    >>> dashed(Path.from_svg("M0 0H9"), [3, 2]).to_svg(6)
    'M0 0H3M5 0H8'
    """
    if not all(math.isfinite(v) and v >= 0 for v in lengths) or not sum(lengths):
        raise OutlineError("dashes are lengths of 0 or more, and not all of them 0")
    pattern = list(lengths) * (1 + len(lengths) % 2)
    out: list[Path] = []
    for part in path.subpaths:
        ctrl, kind, _, _ = part._arrays
        line = Chain(ctrl, kind)
        if len(out) + line.length / sum(pattern) * len(pattern) / 2 > MAX_DASHES:
            raise OutlineError(f"a line may have {MAX_DASHES:,} dashes at most; this one has more")
        at = 0.0
        for number in itertools.count():
            if at >= line.length:
                break
            long = pattern[number % len(pattern)]
            if number % 2 == 0:
                rows, kinds = line.between(at, min(line.length, max(at + long, at + SPECK * line.length)))
                ends = np.array([0, len(rows)], np.int32)
                out.append(Path(rows, kinds, ends, np.zeros(1, np.bool_)))
            at += long
    return Path.gather(out) if out else Path()


Loop = tuple[np.ndarray, np.ndarray, np.ndarray]
"""Controls (n, 8), kinds (n), and how the corner at the end of each curve is joined (n)."""


def _both_ways(part: Path, reach: float, join: str, cap: str) -> list[Loop]:
    """Return the loops along both sides of one subpath."""
    ctrl, kind, _, closed = part._arrays
    at = ctrl[0, :2]
    long = np.ptp(ctrl.reshape(-1, 4, 2), axis=1).max(axis=1) > 0
    ctrl, kind = ctrl[long], kind[long]
    shut = bool(closed[0])
    if not len(ctrl):
        # SVG 2, 13.5.5: a line of no length points to the right
        if cap == "butt":
            return []
        half = reach if cap == "square" else 1e-6 * reach
        step = np.array([half, 0.0])
        ctrl, kind, shut = _line(at - step, at + step), np.zeros(1, np.int8), False
    elif cap == "square" and not shut:
        first, last = _away(ctrl[0].reshape(4, 2)), _away(ctrl[-1].reshape(4, 2)[::-1])
        before = _line(ctrl[0, :2] + reach * first, ctrl[0, :2])
        behind = _line(ctrl[-1, 6:], ctrl[-1, 6:] + reach * last)
        ctrl = np.concatenate([before, ctrl, behind])
        kind = np.concatenate([np.zeros(1, np.int8), kind, np.zeros(1, np.int8)])
    back = np.ascontiguousarray(ctrl.reshape(-1, 4, 2)[::-1, ::-1].reshape(-1, 8))
    joins = np.full(len(ctrl), JOINS.index(join), np.int8)
    if shut:
        return [(np.ascontiguousarray(ctrl), kind, joins), (back, kind[::-1], joins)]
    joins[-1] = ROUND if cap == "round" else BEVEL
    return [(np.concatenate([ctrl, back]), np.concatenate([kind, kind[::-1]]), np.concatenate([joins, joins]))]


def _line(start: np.ndarray, end: np.ndarray) -> np.ndarray:
    return np.concatenate([start + (end - start) * k / 3 for k in range(4)])[None, :]


def _away(points: np.ndarray) -> np.ndarray:
    """Return the direction (unit vector) from the first of a curve's points away from the others."""
    for other in points[1:]:
        size = math.hypot(*(points[0] - other))
        if size > 0:
            break
    way: np.ndarray = (points[0] - other) / size
    return way
