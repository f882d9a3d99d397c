"""Inset and outset outlines, and rounded corners.

The outset of a region is the region united with what its border sweeps when moved
outwards along its normals, and with a wedge at each corner that opens; the inset
subtracts what the border sweeps inwards. Each swept band is made of the original curve
and a cubic fitted to its offset, and one planar map unites them all, so that holes that
close up and parts that fall away come out by themselves.
"""

import math
from collections.abc import Mapping

import numpy as np

from .arcs import unit_arc
from .bezier import signed_area
from .builder import Builder
from .errors import OutlineError
from .fitting import reparametrised
from .measure import part_of, point_at, slope_at
from .operations import subtract, union
from .path import Path

__all__ = ["JOINS", "offset", "round_corners"]

JOINS = ("round", "miter", "bevel")


def _unit(v: np.ndarray) -> np.ndarray:
    size = np.hypot(v[..., 0], v[..., 1])
    result: np.ndarray = v / np.where(size > 0, size, 1)[..., None]
    return result


def _end_direction(c: np.ndarray, end: int) -> np.ndarray:
    """Return the unit tangent at the start (0) or end (1), by the limit where a handle lies on its node."""
    q = c.reshape(4, 2)
    order = (q[1] - q[0], q[2] - q[0], q[3] - q[0]) if end == 0 else (q[3] - q[2], q[3] - q[1], q[3] - q[0])
    size = np.hypot(*(q[3] - q[0])) + np.hypot(*(q[1] - q[0])) + np.hypot(*(q[2] - q[3]))
    for d in order:
        if np.hypot(*d) > 1e-9 * size:
            return _unit(d)
    return np.array([1.0, 0.0])


def _tangents(c: np.ndarray, t: np.ndarray) -> np.ndarray:
    d = _unit(slope_at(c, t))
    d[t == 0.0] = _end_direction(c, 0)
    d[t == 1.0] = _end_direction(c, 1)
    return d


_AT = np.linspace(0, 1, 17)


def _offset_curve(c: np.ndarray, d: float, tolerance: float, depth: int = 0) -> list[tuple[np.ndarray, np.ndarray]]:
    """Return (part of c, cubic near its offset by d along the right-hand normal) pairs.

    Right of the direction (dx, dy) is (dy, -dx). Where the curve bends more tightly
    than d towards that side, the offset stops at the centre of curvature: what lies
    beyond is nearer to other points.
    """
    tangent = _tangents(c, _AT)
    normal = np.stack([tangent[:, 1], -tangent[:, 0]], axis=1)
    q = c.reshape(4, 2)
    k = np.diff(q, n=2, axis=0)
    d1 = slope_at(c, _AT)
    d2 = 6 * ((1 - _AT)[:, None] * k[0] + _AT[:, None] * k[1])
    speed = np.maximum(np.hypot(*d1.T), 1e-300)
    bend = (d1[:, 0] * d2[:, 1] - d1[:, 1] * d2[:, 0]) / speed**3
    # towards the right-hand side the curve bends where the turn is negative, for d > 0
    towards = -bend * math.copysign(1.0, d)
    reach = np.where(towards * abs(d) > 1, 1 / np.maximum(towards, 1e-300), abs(d)) * math.copysign(1.0, d)
    target = point_at(c, _AT) + reach[:, None] * normal
    whole = bool((np.abs(reach - d) < 1e-12 * abs(d)).all())
    chord = target[-1] - target[0]
    s = 1 - _AT
    b1, b2 = 3 * s * s * _AT, 3 * s * _AT * _AT
    t0, t1 = (tangent[0], -tangent[-1]) if whole else (_unit(target[1] - target[0]), _unit(target[-2] - target[-1]))
    rest = target - ((s**3 + b1)[:, None] * target[0] + (_AT**3 + b2)[:, None] * target[-1])
    a0, a1 = b1[:, None] * t0, b2[:, None] * t1
    m = np.array([[(a0 * a0).sum(), (a0 * a1).sum()], [(a0 * a1).sum(), (a1 * a1).sum()]])
    v = np.array([(a0 * rest).sum(), (a1 * rest).sum()])
    det = float(np.linalg.det(m))
    if abs(det) > 1e-14 * max(m[0, 0] * m[1, 1], 1e-300):
        alpha, beta = np.linalg.solve(m, v)
    else:
        alpha = beta = float(np.hypot(*chord)) / 3
    if alpha < 0 or beta < 0:
        alpha, beta = max(alpha, 0.0), max(beta, 0.0)
    out = np.concatenate([target[0], target[0] + alpha * t0, target[-1] + beta * t1, target[-1]])
    # the distance of each offset point from the cubic, wherever along it the nearest place is
    t = _AT
    for _ in range(4):
        t = reparametrised(out, target, t)
    error = float(np.hypot(*(point_at(out, t) - target).T).max())
    if error <= tolerance or depth >= 8:
        return [(c, out)]
    return _offset_curve(part_of(c, 0.0, 0.5), d, tolerance, depth + 1) + _offset_curve(
        part_of(c, 0.5, 1.0), d, tolerance, depth + 1
    )


def _band(part: np.ndarray, moved: np.ndarray) -> Path:
    """Return the region between a curve and its offset."""
    out = Builder()
    out.move(*part[:2].tolist())
    out.cubic(*part[2:].tolist())
    out.line(*moved[6:].tolist())
    out.cubic(*moved[4:6].tolist(), *moved[2:4].tolist(), *moved[:2].tolist())
    out.close()
    return Path(*out.arrays())


def _wedge(node: np.ndarray, before: np.ndarray, after: np.ndarray, d: float, join: str, limit: float) -> Path | None:
    """Return what fills the gap at a corner between the normals of two unit directions, or None where none opens."""
    n0 = np.array([before[1], -before[0]]) * d
    n1 = np.array([after[1], -after[0]]) * d
    cross = float(before[0] * after[1] - before[1] * after[0])
    dot = float(before @ after)
    # to the right of the direction a gap opens where the path turns left
    if cross * d <= 1e-9 * abs(d) and not (dot < 0 and abs(cross) <= 1e-9):
        return None
    turn = math.atan2(cross, dot)
    out = Builder()
    out.move(*node.tolist())
    out.line(*(node + n0).tolist())
    if join == "round":
        start = math.atan2(n0[1], n0[0])
        for h1, h2, e in unit_arc(start, turn, math.pi / 2):
            out.cubic(*(float(node[k % 2] + abs(d) * v) for p in (h1, h2, e) for k, v in enumerate(p)))
    elif join == "miter":
        half = math.cos(turn / 2)
        # SVG 2, 13.5.7: the miter length over the stroke width is 1 / sin of half the corner's angle
        if half > 1e-9 and 1 / half <= limit:
            out.line(*(node + (n0 + n1) / (2 * half * half)).tolist())
        out.line(*(node + n1).tolist())
    else:
        out.line(*(node + n1).tolist())
    out.close()
    return Path(*out.arrays())


def offset(path: Path, distance: float, join: str = "round", miter_limit: float = 4.0) -> Path:
    """Return the filled region of `path` grown by `distance` (sheet units), or shrunk where it is negative.

    `join` says how corners that open are filled: round, miter (up to `miter_limit`, as
    in SVG) or bevel. Fitted curves stay within 0.4 % of the distance, or 1e-5 of the
    extent where that is more. Raises OutlineError for other joins and numbers.

    >>> from outline import rectangle
    >>> offset(rectangle(10, 10), 2, "miter").to_svg(9)
    'M-2 -2H12V12H-2Z'
    >>> offset(rectangle(10, 10), -5).is_empty
    True
    """
    if join not in JOINS:
        raise OutlineError(f"“{join}” is no join: use {', '.join(JOINS)}")
    if not math.isfinite(distance):
        raise OutlineError("the distance must be a finite number")
    if not (math.isfinite(miter_limit) and miter_limit >= 1):
        raise OutlineError("the miter limit must be 1 or more")
    region = union([path])
    if distance == 0 or region.is_empty:
        return region
    x0, y0, x1, y1 = region.bounds  # type: ignore[misc]
    extent = max(x1 - x0, y1 - y0)
    tolerance = max(0.004 * abs(distance), 1e-5 * extent)
    swept: list[Path] = []
    for loop in region.subpaths:
        ctrl = loop.arrays[0]
        n = len(ctrl)
        for i in range(n):
            for part, moved in _offset_curve(ctrl[i], distance, tolerance):
                swept.append(_band(part, moved))
            after = ctrl[(i + 1) % n]
            wedge = _wedge(after[:2], _end_direction(ctrl[i], 1), _end_direction(after, 0), distance, join, miter_limit)
            if wedge is not None:
                swept.append(wedge)
    if distance > 0:
        return _cleaned(union([region, *swept]), tolerance)
    return _cleaned(subtract(region, swept), tolerance)


def _cleaned(path: Path, tolerance: float) -> Path:
    """Return the path without loops that are slivers of the fitting error."""
    kept = []
    for loop in path.subpaths:
        ctrl = loop.arrays[0]
        area = sum(signed_area(ctrl, i, ctrl[0, 0], ctrl[0, 1]) for i in range(len(ctrl)))
        size = float(np.hypot(*np.diff(ctrl.reshape(-1, 4, 2), axis=1).reshape(-1, 2).T).sum())
        if abs(area) > tolerance * size:
            kept.append(loop)
    if len(kept) == len(path._closed):
        return path
    return union([Path.gather(kept)]) if kept else Path()


def round_corners(path: Path, radius: float | Mapping[int, float], which: list[int] | None = None) -> Path:
    """Return the path with corners rounded by arcs of `radius` (sheet units).

    `which` are node indices in the order of the curves' starts; None means every
    corner. `radius` may be one for each node to be rounded. Between straight lines the
    arc is a circle's; where a curve meets the corner, a cubic with its end directions
    takes the place of the same length of it. A radius that does not fit is held at what
    does: half of each line is the most a corner takes. Raises OutlineError for a radius below 0.

    >>> from outline import rectangle
    >>> round_corners(rectangle(10, 10), 2).node_count
    8
    """
    radii = radius if isinstance(radius, Mapping) else None
    for r in radii.values() if radii is not None else (radius,):
        if not (isinstance(r, int | float) and math.isfinite(r) and r >= 0):
            raise OutlineError("the radius must be 0 or more")
    wanted = (None if which is None else set(which)) if radii is None else {k for k, r in radii.items() if r > 0}
    out = Builder()
    number = 0
    for loop in path.subpaths:
        ctrl, kind, _, closed_ = loop.arrays
        closed = bool(closed_[0])
        n = len(ctrl)
        lengths = [
            float(np.hypot(*(c[6:] - c[:2]))) if k == 0 else _rough_length(c) for c, k in zip(ctrl, kind, strict=True)
        ]
        cut = np.zeros((n, 2))
        turns = np.zeros(n)
        for i in range(n):
            if (i == 0 and not closed) or (wanted is not None and number + i not in wanted):
                continue
            before, after = _end_direction(ctrl[i - 1], 1), _end_direction(ctrl[i], 0)
            turn = math.atan2(before[0] * after[1] - before[1] * after[0], float(before @ after))
            if abs(turn) < math.radians(1) or abs(turn) > math.radians(179):
                continue
            own = radii[number + i] if radii is not None else float(radius)  # type: ignore[arg-type]
            reach = min(own * math.tan(abs(turn) / 2), lengths[i - 1] / 2, lengths[i] / 2)
            cut[i - 1, 1], cut[i, 0], turns[i] = reach, reach, turn
        pieces = []
        spans = []
        for i in range(n):
            a = _parameter_at(ctrl[i], cut[i, 0], lengths[i], kind[i])
            b = 1 - _parameter_at(ctrl[i].reshape(4, 2)[::-1].reshape(8), cut[i, 1], lengths[i], kind[i])
            spans.append((a, b))
            pieces.append(part_of(ctrl[i], a, b) if (a, b) != (0.0, 1.0) else ctrl[i])
        out.move(*pieces[0][:2].tolist())
        for i in range(n):
            if np.hypot(*(pieces[i][6:] - pieces[i][:2])) > 1e-12 * (1 + np.abs(pieces[i]).max()):
                if kind[i] == 0:
                    out.line(*pieces[i][6:].tolist())
                else:
                    out.cubic(*pieces[i][2:].tolist())
            j = (i + 1) % n
            if turns[j] and (closed or j > 0):
                start, end = pieces[i][6:], pieces[j][:2]
                t0 = _tangents(ctrl[i], np.array([spans[i][1]]))[0]
                t1 = _tangents(ctrl[j], np.array([spans[j][0]]))[0]
                handle = cut[j, 0] / math.tan(abs(turns[j]) / 2) * 4 / 3 * math.tan(abs(turns[j]) / 4)
                out.cubic(*(start + handle * t0).tolist(), *(end - handle * t1).tolist(), *end.tolist())
        if closed:
            out.close()
        else:
            out.finish()
        number += n
    return Path(*out.arrays(), fill_rule=path.fill_rule)


def largest_radius(path: Path, which: list[int] | None = None) -> float:
    """Return the largest radius that `round_corners` draws in full at every corner (or those of `which`)."""
    most = math.inf
    number = 0
    for loop in path.subpaths:
        ctrl, kind, _, closed = loop.arrays
        n = len(ctrl)
        for i in range(n):
            if (i == 0 and not closed[0]) or (which is not None and number + i not in which):
                continue
            before, after = _end_direction(ctrl[i - 1], 1), _end_direction(ctrl[i], 0)
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
    """Return the parameter at which `along` of the curve's length has gone by."""
    if along <= 0 or length <= 0:
        return 0.0
    if kind == 0:
        return along / length
    t = np.linspace(0, 1, 257)
    gone = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(point_at(c, t), axis=0).T))])
    return float(np.interp(along, gone, t))
