"""Few cubics through many points, and fewer cubics for a path.

Least squares with chord-length parameters and Newton reparametrisation, after P. J.
Schneider, "An Algorithm for Automatically Fitting Digitized Curves", Graphics Gems
(1990); split where the error is largest until every point is within the tolerance.
"""

import math
from itertools import pairwise
from typing import Any

import numpy as np

from outline.path.builder import Builder
from outline.path.errors import OutlineError
from outline.path.kernel import entry
from outline.path.path import Path

from .fit_kernels import direction, fit_run, turns
from .measure import point_at, slope_at

__all__ = ["fit", "simplify", "deviation", "flattened"]

_direction, _fit_kernel, _turns = entry(direction), entry(fit_run), entry(turns)

CORNER = 50.0
"""A turn of more degrees than this within a stroke's own grain is a corner."""


def _unit(v: np.ndarray) -> np.ndarray:
    size = float(np.hypot(*v))
    return v / size if size > 0 else np.zeros(2)


def reparametrised(c: np.ndarray, p: np.ndarray, t: np.ndarray) -> np.ndarray:
    """Return parameters one Newton step towards the nearest points of cubic `c` to points `p`."""
    d = point_at(c, t) - p
    d1 = slope_at(c, t)
    k = np.diff(c.reshape(4, 2), n=2, axis=0)
    d2 = 6 * ((1 - t)[:, None] * k[0] + t[:, None] * k[1])
    f = (d * d1).sum(axis=1)
    g = (d1 * d1).sum(axis=1) + (d * d2).sum(axis=1)
    step = np.where(np.abs(g) > 1e-300, f / np.where(g == 0, 1, g), 0.0)
    moved = np.clip(t - step, 0, 1)
    # parameters must stay in order, or the curve would run back on itself
    ordered: np.ndarray = moved if (np.diff(moved) >= 0).all() else t
    return ordered


def _tangent(points: np.ndarray, tolerance: float) -> np.ndarray:
    """Return the direction in which the points leave the first one, measured beyond the noise."""
    out = np.empty(2)
    _direction(np.ascontiguousarray(points), 0, len(points) - 1, tolerance, out)
    return out


def _fit_run(p: np.ndarray, t0: np.ndarray, t1: np.ndarray, tolerance: float, out: list[np.ndarray]) -> None:
    """Append the cubics that fit points p, with end directions t0 and t1 pointing inwards."""
    out.extend(_fit_kernel(np.ascontiguousarray(p), np.concatenate([t0, t1]), tolerance))


def _corners(p: np.ndarray, tolerance: float, closed: bool) -> list[int]:
    """Return the indices of the points at which the stroke turns sharply, measured beyond the noise.

    Of corners nearer than that to each other, the sharpest counts.
    """
    reach = 3 * tolerance
    turn = _turns(np.ascontiguousarray(p), reach, closed)
    found = np.flatnonzero(turn > CORNER)
    # the chosen corners are indexed by the squares of a grid as wide as the reach
    kept: dict[tuple[int, int], list[int]] = {}
    for i in found[np.lexsort((found, turn[found]))[::-1]].tolist():
        cx, cy = math.floor(p[i, 0] / reach), math.floor(p[i, 1] / reach)
        near = (j for x in (-1, 0, 1) for y in (-1, 0, 1) for j in kept.get((cx + x, cy + y), ()))
        if all(math.hypot(p[i, 0] - p[j, 0], p[i, 1] - p[j, 1]) > reach for j in near):
            kept.setdefault((cx, cy), []).append(i)
    return sorted(i for group in kept.values() for i in group)


def fit(points: Any, tolerance: float, *, closed: bool = False) -> Path:
    """Return the path of cubics that passes every one of `points` (n, 2) within `tolerance` (sheet units).

    Corners are kept. Raises OutlineError for fewer than two different points, a
    tolerance that is not greater than 0, or coordinates that are not finite.

    >>> arc = [(math.cos(k / 50), math.sin(k / 50)) for k in range(79)]
    >>> fit(arc, 1e-3).node_count
    2
    """
    p = np.asarray(points, dtype=np.float64)
    if p.ndim != 2 or p.shape[1] != 2 or not np.isfinite(p).all():
        raise OutlineError("points must be pairs of finite numbers")
    if not (tolerance > 0 and math.isfinite(tolerance)):
        raise OutlineError("the tolerance must be greater than 0")
    if len(p):
        keep = np.concatenate([[True], (np.diff(p, axis=0) != 0).any(axis=1)])
        p = p[keep]
    if closed and len(p) > 1 and (p[0] == p[-1]).all():
        p = p[:-1]
    if len(p) < 2:
        raise OutlineError("a curve needs at least two different points")
    corners = _corners(p, tolerance, closed)
    smooth_start = False
    if closed:
        smooth_start = not corners
        first = corners[0] if corners else 0
        p = np.concatenate([p[first:], p[: first + 1]])
        corners = [i - first for i in corners[1:]]
    stops = [0, *corners, len(p) - 1]
    out: list[np.ndarray] = []
    for a, b in pairwise(stops):
        run = p[a : b + 1]
        t0, t1 = _tangent(run, tolerance), _tangent(run[::-1], tolerance)
        if smooth_start:
            t0 = _unit(t0 - t1)
            t1 = -t0
        _fit_run(run, t0, t1, tolerance, out)
    drawn = Builder()
    drawn.move(*out[0][:2].tolist())
    for c in out:
        drawn.cubic(*c[2:].tolist())
    if closed:
        drawn.close()
    return Path(*drawn.arrays())


def _sampled(ctrl: np.ndarray, kind: np.ndarray, step: float) -> np.ndarray:
    """Return points along curves, no two neighbours further apart than `step` along them."""
    points = [ctrl[0, :2].reshape(1, 2)]
    for c, k in zip(ctrl, kind, strict=True):
        sides = np.hypot(*np.diff(c.reshape(4, 2), axis=0).T)
        speed = 3 * float(sides.max()) if k else float(sides.sum())
        n = max(1, min(20_000, math.ceil(speed / step)))
        points.append(point_at(c, np.arange(1, n + 1) / n))
    return np.concatenate(points)


def _flattened(ctrl: np.ndarray, kind: np.ndarray, error: float) -> np.ndarray:
    """Return a polyline that stays within `error` of the curves: a chord of n lies within |B''| / 8n² of its arc."""
    points = [ctrl[0, :2].reshape(1, 2)]
    for c, k in zip(ctrl, kind, strict=True):
        bend = 6 * float(np.hypot(*np.diff(c.reshape(4, 2), n=2, axis=0).T).max()) if k else 0.0
        n = max(1, math.ceil(math.sqrt(bend / (8 * error))))
        points.append(point_at(c, np.arange(1, n + 1) / n))
    return np.concatenate(points)


def flattened(path: Path, error: float) -> list[np.ndarray]:
    """Return a polyline (n, 2) for each subpath that stays within `error` (sheet units) of it, first point first.

    Raises OutlineError for an error that is not greater than 0.
    """
    if not (error > 0 and math.isfinite(error)):
        raise OutlineError("the deviation must be greater than 0")
    return [_flattened(*s._arrays[:2], error) for s in path.subpaths]


def deviation(a: Path, b: Path, step: float) -> float:
    """Return an upper bound of the distance of any point of `a` from `b` (sheet units).

    Points of `a`, at most `step` apart along it, are compared with a polyline within
    a quarter of a step of `b`; the bound adds that quarter, and half a step for points
    between two samples (a distance changes no faster than the point it is measured at).
    """
    points = np.concatenate([_sampled(*s._arrays[:2], step) for s in a.subpaths])
    lines = [_flattened(*s._arrays[:2], step / 4) for s in b.subpaths]
    starts = np.concatenate([q[:-1] for q in lines])
    spans = np.concatenate([np.diff(q, axis=0) for q in lines])
    size = np.maximum((spans**2).sum(axis=1), 1e-300)
    worst = 0.0
    for k in range(0, len(points), 1024):
        rel = points[k : k + 1024, None, :] - starts[None]
        t = np.clip((rel * spans).sum(axis=2) / size, 0, 1)
        d = ((rel - t[..., None] * spans) ** 2).sum(axis=2).min(axis=1)
        worst = max(worst, float(d.max()))
    return math.sqrt(worst) + 0.75 * step


def _node_is_corner(before: np.ndarray, after: np.ndarray) -> bool:
    one, two = slope_at(before, np.array([1.0]))[0], slope_at(after, np.array([0.0]))[0]
    if not one.any():
        one = before[6:] - before[2:4]
    if not two.any():
        two = after[4:6] - after[:2]
    turn = abs(math.degrees(math.atan2(one[0] * two[1] - one[1] * two[0], float(one @ two))))
    return turn > 8.0


def simplify(path: Path, tolerance: float) -> Path:
    """Return a path with fewer nodes that deviates from `path` by no more than `tolerance`, either way.

    Corners stay. Each run between corners is fitted again, and used only if
    `deviation` proves the bound in both directions; otherwise the run stays.
    Raises OutlineError for a tolerance that is not greater than 0.
    """
    if not (tolerance > 0 and math.isfinite(tolerance)):
        raise OutlineError("the tolerance must be greater than 0")
    out = Builder()
    for loop in path.subpaths:
        ctrl, kind, _, closed_ = loop._arrays
        closed = bool(closed_[0])
        n = len(ctrl)
        corner = [i for i in range(n) if (i > 0 or closed) and _node_is_corner(ctrl[i - 1], ctrl[i])]
        if not closed:
            corner = [0, *corner, n]
        elif corner:
            first = corner[0]
            ctrl, kind = np.roll(ctrl, -first, axis=0), np.roll(kind, -first)
            corner = [*(i - first for i in corner), n]
        else:
            corner = [0, n]
        out.move(*ctrl[0, :2].tolist())
        for a, b in pairwise(corner):
            for c, k in zip(*_simpler(ctrl[a:b], kind[a:b], tolerance, closed and len(corner) == 2), strict=True):
                if k == 0:
                    out.line(*c[6:].tolist())
                else:
                    out.cubic(*c[2:].tolist())
        if closed:
            out.close()
        else:
            out.finish()
    return Path(*out.arrays(), fill_rule=path.fill_rule)


def _simpler(ctrl: np.ndarray, kind: np.ndarray, tolerance: float, ring: bool) -> tuple[np.ndarray, np.ndarray]:
    """Return a run of curves with fewer nodes within the tolerance, or the run itself."""
    if len(ctrl) < 2:
        return ctrl, kind
    step = tolerance / 4
    points = _sampled(ctrl, kind, max(step, 1e-3 * float(np.ptp(ctrl))))
    spans = np.array([0, len(ctrl)], np.int32)
    old = Path(ctrl.copy(), kind.copy(), spans, np.array([False]))
    for share in (0.7, 0.4, 0.15):
        t0, t1 = _unit(slope_at(ctrl[0], np.array([1e-6]))[0]), -_unit(slope_at(ctrl[-1], np.array([1 - 1e-6]))[0])
        if ring:
            t0 = _unit(t0 - t1)
            t1 = -t0
        out: list[np.ndarray] = []
        _fit_run(points, t0, t1, share * tolerance, out)
        if len(out) >= len(ctrl):
            continue
        new_ctrl, new_kind = np.array(out), np.ones(len(out), np.int8)
        new = Path(new_ctrl.copy(), new_kind.copy(), np.array([0, len(out)], np.int32), np.array([False]))
        if deviation(old, new, step) <= tolerance and deviation(new, old, step) <= tolerance:
            return new_ctrl, new_kind
    return ctrl, kind
