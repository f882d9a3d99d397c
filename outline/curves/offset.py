"""Inset and outset outlines, and rounded corners.

The outset of a region is the region united with what its border sweeps when moved
outwards along its normals, and with a wedge at each corner that opens; the inset
subtracts what the border sweeps inwards. The moved border, with its wedges, and led
back through the node where a corner closes, is one line (`sweep`): each place is wound
once more (or less) for every time the border swept over it, so one planar map of region
and line is enough, and closing holes and vanishing parts need no special case.
"""

import math
from collections.abc import Mapping
from typing import Final

import numpy as np
from numpy.typing import NDArray

from outline.engine.boolean import SetOperation
from outline.engine.operations import union
from outline.engine.planarmap import combined_curves
from outline.path.arcs import unit_arc
from outline.path.builder import Builder
from outline.path.errors import OutlineError
from outline.path.kernel import entry
from outline.path.path import Path

from .measure import end_directions, nesting, part_of, point_at, slope_at
from .offset_kernels import moved_loops as _moved_loops

__all__ = ["JOINS", "check_join", "largest_radius", "offset", "round_corners", "combined_moved", "moved_loops"]

moved_loops = entry(_moved_loops)

JOINS = ("round", "miter", "bevel")


def _unit(v: np.ndarray) -> np.ndarray:
    size = np.hypot(v[..., 0], v[..., 1])
    result: np.ndarray = v / np.where(size > 0, size, 1)[..., None]
    return result


def _tangents(c: np.ndarray, t: np.ndarray) -> np.ndarray:
    d = _unit(slope_at(c, t))
    starts, ends = end_directions(c)
    d[t == 0.0] = starts[0]
    d[t == 1.0] = ends[0]
    return d


def offset(path: Path, distance: float, *, join: str = "round", miter_limit: float = 4.0) -> Path:
    """Return the filled region of `path` grown by `distance` (sheet units), or shrunk if it is negative.

    `join` says how opening corners are filled: round, miter (up to `miter_limit`, as
    in SVG) or bevel. Fitted curves stay within 0.4 % of the distance, or 1e-5 of the
    extent if that is more. Raises OutlineError for other joins and numbers.

    >>> from outline import rectangle
    >>> offset(rectangle(10, 10), 2, join="miter").to_svg(9)
    'M-2 -2H12V12H-2Z'
    >>> offset(rectangle(10, 10), -5).is_empty
    True
    """
    check_join(join, miter_limit)
    if not math.isfinite(distance):
        raise OutlineError("the distance must be a finite number")
    region = union([path])
    if distance == 0 or region.is_empty:
        return region
    x0, y0, x1, y1 = region.bounds  # type: ignore[misc]
    extent = max(x1 - x0, y1 - y0)
    tolerance = max(0.004 * abs(distance), 1e-5 * extent)
    region = _worth_moving(region, distance)
    if region.is_empty:
        return region
    ctrl, kind, starts, _ = region._arrays
    turn = JOINS.index(join)
    joins = np.full(len(ctrl), turn, np.int8)
    moved, its_kind, _ = moved_loops(ctrl, kind, starts, float(distance), tolerance, joins, turn, float(miter_limit))
    # what the border swept is wound once more, or once less, than the region: one map is enough
    curves, kinds = np.concatenate([ctrl, moved]), np.concatenate([kind, its_kind])
    return combined_moved(
        curves,
        kinds,
        [len(ctrl), len(moved)],
        [0, 2],
        SetOperation.UNION if distance > 0 else SetOperation.INTERSECT,
        tolerance,
    )


def check_join(join: str, miter_limit: float) -> None:
    """Raise OutlineError for an unknown join or wrong limit."""
    if join not in JOINS:
        raise OutlineError(f"“{join}” is not a join: use {', '.join(JOINS)}")
    if not (math.isfinite(miter_limit) and miter_limit >= 1):
        raise OutlineError("the miter limit must be 1 or more")


def combined_moved(
    ctrl: np.ndarray,
    kind: np.ndarray,
    counts: list[int],
    rules: list[int],
    operation: SetOperation,
    tolerance: float,
) -> Path:
    """Return moved lines combined (see `combined_curves`), without slivers of the fitting error."""
    return _without_slivers(combined_curves(ctrl, kind, counts, rules, operation), tolerance)


def _worth_moving(region: Path, distance: float) -> Path:
    """Return the region without what vanishes anyway: holes so narrow that they close, parts that disappear.

    No point in a loop is further from its line than half of the smaller side of its box, or than the radius
    of a disc of its whole area.
    """
    areas = region.loop_areas()
    if len(areas) < 2:
        return region
    low, high = region.loop_boxes()
    goes = (areas <= 0) == (distance > 0)
    goes &= ((high - low).min(axis=1) <= 2 * abs(distance)) | (np.abs(areas) <= math.pi * distance**2)
    if distance < 0 and goes.any():
        # holes go with the part that contains them
        _, holder = nesting(region, areas)
        goes |= (holder >= 0) & goes[holder]
    if not goes.any():
        return region
    kept = [loop for loop, away in zip(region.subpaths, goes, strict=True) if not away]
    return Path.gather(kept) if kept else Path()


def _without_slivers(path: Path, tolerance: float) -> Path:
    """Return the path without loops that are slivers of the fitting error."""
    if path.is_empty:
        return path
    ctrl, _, starts, _ = path._arrays
    legs = np.hypot(*np.diff(ctrl.reshape(-1, 4, 2), axis=1).reshape(-1, 2).T).reshape(-1, 3).sum(axis=1)
    kept = np.abs(path.loop_areas()) > tolerance * np.add.reduceat(legs, starts[:-1])
    if kept.all():
        return path
    loops = [loop for loop, stays in zip(path.subpaths, kept, strict=True) if stays]
    return union([Path.gather(loops)]) if loops else Path()


def _corner_cuts(
    ctrl: NDArray[np.float64], closed: bool, lengths: list[float], radii: list[float | None]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return how much each curve loses at its start and its end (n, 2), and the turn (radians) at each start.

    A corner is at the start of a curve; one whose radius is None, or that hardly turns or reverses, loses
    nothing.
    """
    n = len(ctrl)
    cut, turns = np.zeros((n, 2)), np.zeros(n)
    starts, ends = end_directions(ctrl)
    for i in range(n):
        radius = radii[i]
        if (i == 0 and not closed) or radius is None:
            continue
        before, after = ends[i - 1], starts[i]
        turn = math.atan2(before[0] * after[1] - before[1] * after[0], float(before @ after))
        if math.radians(1) <= abs(turn) <= math.radians(179):
            reach = min(radius * math.tan(abs(turn) / 2), lengths[i - 1] / 2, lengths[i] / 2)
            cut[i - 1, 1], cut[i, 0], turns[i] = reach, reach, turn
    return cut, turns


def round_corners(path: Path, radius: float | Mapping[int, float], *, which: list[int] | None = None) -> Path:
    """Return the path with corners rounded by arcs of `radius` (sheet units).

    `which` are node indices in the order of the curves' starts; None means every
    corner. `radius` may be one number per rounded node. Between straight lines the
    arc is a circle's; if a curve meets the corner, a cubic with its end directions
    replaces the same length of it. A radius that does not fit is reduced to one that
    does: half of each line is the most a corner takes. Raises OutlineError for a radius below 0.

    >>> from outline import rectangle
    >>> round_corners(rectangle(10, 10), 2).node_count
    8
    """
    radii, single = (radius, 0.0) if isinstance(radius, Mapping) else (None, radius)
    for r in radii.values() if radii is not None else (single,):
        if not (isinstance(r, int | float) and math.isfinite(r) and r >= 0):
            raise OutlineError("the radius must be 0 or more")
    wanted = (None if which is None else set(which)) if radii is None else {k for k, r in radii.items() if r > 0}
    out = Builder()
    number = 0
    for loop in path.subpaths:
        ctrl, kind, _, closed_ = loop._arrays
        closed = bool(closed_[0])
        n = len(ctrl)
        lengths = [
            float(np.hypot(*(c[6:] - c[:2]))) if k == 0 else _rough_length(c) for c, k in zip(ctrl, kind, strict=True)
        ]
        nodes = range(number, number + n)
        each = [None if wanted is not None and k not in wanted else radii[k] if radii else single for k in nodes]
        cut, turns = _corner_cuts(ctrl, closed, lengths, each)
        spans = [
            (
                _parameter_at(ctrl[i], cut[i, 0], lengths[i], kind[i]),
                1 - _parameter_at(ctrl[i].reshape(4, 2)[::-1].reshape(8), cut[i, 1], lengths[i], kind[i]),
            )
            for i in range(n)
        ]
        pieces = [part_of(c, *span) if span != (0.0, 1.0) else c for c, span in zip(ctrl, spans, strict=True)]
        out.move(*pieces[0][:2].tolist())
        for i in range(n):
            if np.hypot(*(pieces[i][6:] - pieces[i][:2])) > 1e-12 * (1 + np.abs(pieces[i]).max()):
                if kind[i] == 0:
                    out.line(*pieces[i][6:].tolist())
                else:
                    out.cubic(*pieces[i][2:].tolist())
            j = (i + 1) % n
            if turns[j] and (closed or j > 0):
                t0 = _tangents(ctrl[i], np.array([spans[i][1]]))[0]
                t1 = _tangents(ctrl[j], np.array([spans[j][0]]))[0]
                ends = (pieces[i][6:], pieces[j][:2])
                _add_corner(out, ends, (t0, t1), float(turns[j]), float(cut[j, 0]), bool(kind[i] == kind[j] == 0))
        if closed:
            out.close()
        else:
            out.finish()
        number += n
    return Path(*out.arrays(), fill_rule=path.fill_rule)


def _add_corner(
    out: Builder,
    ends: tuple[np.ndarray, np.ndarray],
    tangents: tuple[np.ndarray, np.ndarray],
    turn: float,
    reach: float,
    straight: bool,
) -> None:
    """Add the rounding of a corner that turns by `turn` (radians) and takes `reach` of each side's length."""
    (start, end), (t0, t1) = ends, tangents
    own = reach / math.tan(abs(turn) / 2)
    if straight and abs(turn) > QUARTER:
        _add_arc(out, start, end, t0, turn, own)
        return
    handle = own * 4 / 3 * math.tan(abs(turn) / 4)
    out.cubic(*(start + handle * t0).tolist(), *(end - handle * t1).tolist(), *end.tolist())


QUARTER: Final = math.pi / 2 + 1e-9
"""The most (radians) that one cubic of a rounded corner turns: its radius is then within 2.8e-4 of the circle's."""


def _add_arc(out: Builder, start: np.ndarray, end: np.ndarray, tangent: np.ndarray, turn: float, radius: float) -> None:
    """Draw the arc of a radius from start to end, leaving along `tangent`, in cubics of a quarter turn at most."""
    inwards = math.copysign(1.0, turn) * np.array([-tangent[1], tangent[0]])
    centre = start + radius * inwards
    cubics = unit_arc(math.atan2(-inwards[1], -inwards[0]), turn, math.pi / 2)
    for k, arc in enumerate(cubics, 1):
        p, q, last = (centre + radius * np.array(point) for point in arc)
        out.cubic(*p.tolist(), *q.tolist(), *(end if k == len(cubics) else last).tolist())


def largest_radius(path: Path, *, which: list[int] | None = None) -> float:
    """Return the largest radius that `round_corners` draws in full at every corner (or those of `which`)."""
    most = math.inf
    number = 0
    for loop in path.subpaths:
        ctrl, kind, _, closed = loop._arrays
        n = len(ctrl)
        starts, ends = end_directions(ctrl)
        for i in range(n):
            if (i == 0 and not closed[0]) or (which is not None and number + i not in which):
                continue
            before, after = ends[i - 1], starts[i]
            turn = abs(math.atan2(before[0] * after[1] - before[1] * after[0], float(before @ after)))
            if math.radians(1) <= turn <= math.radians(179):
                sides = [
                    float(np.hypot(*(ctrl[k][6:] - ctrl[k][:2]))) if kind[k] == 0 else _rough_length(ctrl[k])
                    for k in (i - 1, i)
                ]
                most = min(most, min(sides) / 2 / math.tan(turn / 2))
        number += n
    return most


def _rough_length(c: np.ndarray) -> float:
    return float(np.hypot(*np.diff(point_at(c, np.linspace(0, 1, 33)), axis=0).T).sum())


def _parameter_at(c: np.ndarray, along: float, length: float, kind: int) -> float:
    """Return the parameter at arc length `along` of the curve."""
    if along <= 0 or length <= 0:
        return 0.0
    if kind == 0:
        return along / length
    t = np.linspace(0, 1, 257)
    gone = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(point_at(c, t), axis=0).T))])
    return float(np.interp(along, gone, t))
