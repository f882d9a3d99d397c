"""Measures of paths: lengths, centroids, distances, margins. Areas and bounds are on `Path` itself."""

import math
from dataclasses import dataclass

import numpy as np

from outline.engine.operations import union
from outline.path.bezier import split_range
from outline.path.errors import OutlineError
from outline.path.kernel import entry
from outline.path.monotone import x_at
from outline.path.path import Path

__all__ = [
    "length",
    "centroid",
    "distance",
    "end_directions",
    "Margins",
    "inner_point",
    "margins",
    "nesting",
    "stroke_bounds",
]

_split_range, _x_at = entry(split_range), entry(x_at)

# nodes and weights on [0, 1]; five points are exact to degree nine, which is all a centroid needs
_GAUSS5 = np.polynomial.legendre.leggauss(5)
_T5, _W5 = (_GAUSS5[0] + 1) / 2, _GAUSS5[1] / 2
_GAUSS16 = np.polynomial.legendre.leggauss(16)
_T16, _W16 = (_GAUSS16[0] + 1) / 2, _GAUSS16[1] / 2


def point_at(c: np.ndarray, t: np.ndarray) -> np.ndarray:
    """Return the points (n, 2) of cubic `c` (8) at parameters `t` (n)."""
    s = 1 - t
    weights = np.stack([s**3, 3 * s * s * t, 3 * s * t * t, t**3], axis=-1)
    result: np.ndarray = weights @ c.reshape(4, 2)
    return result


def slope_at(c: np.ndarray, t: np.ndarray) -> np.ndarray:
    """Return the derivatives (n, 2) of cubic `c` (8) at parameters `t` (n)."""
    d = np.diff(c.reshape(4, 2), axis=0)
    s = 1 - t
    weights = 3 * np.stack([s * s, 2 * s * t, t * t], axis=-1)
    result: np.ndarray = weights @ d
    return result


def part_of(c: np.ndarray, a: float, b: float) -> np.ndarray:
    """Return the part [a, b] of cubic `c` (8)."""
    out = np.empty((1, 8))
    # a copy, since what comes from `Path.arrays` cannot be written
    _split_range(np.array(c, np.float64).reshape(1, 8), 0, a, b, out, 0)
    part: np.ndarray = out[0]
    return part


_HALVES = (
    np.array([[8, 0, 0, 0], [4, 4, 0, 0], [2, 4, 2, 0], [1, 3, 3, 1], [0, 2, 4, 2], [0, 0, 4, 4], [0, 0, 0, 8]]) / 8
)
"""The controls of both halves of a cubic, which have the middle one in common, from its own."""


def _lengths_by_gauss(q: np.ndarray) -> np.ndarray:
    """Return the lengths (n) of cubics (n, 4, 2), by Gauss-Legendre quadrature of 16 points."""
    d = 3 * np.diff(q, axis=1)
    s = 1 - _T16
    slopes = np.einsum("kt,nkc->cnt", np.stack([s * s, 2 * s * _T16, _T16 * _T16]), d)
    lengths: np.ndarray = np.hypot(*slopes) @ _W16
    return lengths


def _curve_lengths(q: np.ndarray, tolerances: np.ndarray) -> float:
    """Return the length of all cubics (n, 4, 2), each to its tolerance: those are halved that are not."""
    total, whole = 0.0, _lengths_by_gauss(q)
    for _ in range(25):
        halves = np.einsum("jk,nkc->njc", _HALVES, q)
        q = np.concatenate([halves[:, :4], halves[:, 3:]])
        parts = _lengths_by_gauss(q)
        both = parts[: len(whole)] + parts[len(whole) :]
        found = np.abs(whole - both) <= tolerances
        total += float(both[found].sum())
        if found.all():
            return total
        goes_on = np.tile(~found, 2)
        q, whole, tolerances = q[goes_on], parts[goes_on], np.tile(tolerances / 2, 2)[goes_on]
    return total + float(whole.sum())


def length(path: Path, *, tolerance: float = 1e-9) -> float:
    """Return the length of all curves, by adaptive Gauss-Legendre quadrature to `tolerance` of it.

    >>> length(Path.from_svg("M0 0H3V4Z"))
    12.0
    """
    ctrl, kind, _, _ = path._arrays
    q = ctrl.reshape(-1, 4, 2)
    lines, curves = q[kind == 0], q[kind != 0]
    total = float(np.hypot(*(lines[:, 3] - lines[:, 0]).T).sum())
    if len(curves):
        handles = np.hypot(*np.diff(curves, axis=1).transpose(2, 0, 1)).sum(axis=1)
        total += _curve_lengths(curves, tolerance * np.maximum(handles, 1e-300))
    return total


def centroid(path: Path) -> tuple[float, float]:
    """Return the centre of mass of the filled region, exactly (Green's theorem, polynomial integrands).

    Raises OutlineError for a path without area.

    >>> tuple(round(v, 9) for v in centroid(Path.from_svg("M0 0H6V2H0Z")))
    (3.0, 1.0)
    """
    region = union([path])
    if region.is_empty:
        raise OutlineError("a path without area has no centroid")
    ctrl = region._arrays[0]
    x0, y0 = ctrl[0, :2]
    area = mx = my = 0.0
    for c in ctrl:
        p = point_at(c, _T5) - (x0, y0)
        d = slope_at(c, _T5)
        x, y, dx, dy = p[:, 0], p[:, 1], d[:, 0], d[:, 1]
        area += float((x * dy - y * dx) @ _W5) / 2
        mx += float((x * x * dy) @ _W5) / 2
        my -= float((y * y * dx) @ _W5) / 2
    return float(x0 + mx / area), float(y0 + my / area)


# where level lines are tried, as shares of the height: the middle first, then golden sections beside it
_LEVELS = (0.5, 0.309, 0.691, 0.118, 0.882, 0.427, 0.573, 0.02, 0.98)


def inner_point(path: Path) -> tuple[float, float]:
    """Return a point inside the filled region: the middle of the widest run of a level line across it.

    Raises OutlineError for a path without area.

    >>> inner_point(Path.from_svg("M0 0H6V2H0Z"))
    (3.0, 1.0)
    """
    region = path if path._simple else union([path])
    if region.bounds is None:
        raise OutlineError("a path without area has no point inside")
    monotone = region._monotone()[0]
    low, high = np.minimum(monotone[:, 1], monotone[:, 7]), np.maximum(monotone[:, 1], monotone[:, 7])
    top, bottom = float(low.min()), float(high.max())
    for share in _LEVELS:
        y = top + share * (bottom - top)
        # a simple region reads the same under both rules: every second run is inside
        xs = sorted(_x_at(monotone, i, y) for i in np.flatnonzero((low <= y) & (high > y)).tolist())
        widest = max(zip(xs[0::2], xs[1::2], strict=False), key=lambda run: run[1] - run[0], default=(0.0, 0.0))
        if widest[1] > widest[0]:
            return float(widest[0] + widest[1]) / 2, y
    raise OutlineError("a region this thin has no point inside")


def _places(path: Path, error: float) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Return a polyline near the path: segment starts and spans, their curve and their range of its parameter."""
    starts, spans, owner, ranges = [], [], [], []
    ctrl, kind, _, _ = path._arrays
    for i, (c, k) in enumerate(zip(ctrl, kind, strict=True)):
        bend = 6 * float(np.hypot(*np.diff(c.reshape(4, 2), n=2, axis=0).T).max()) if k else 0.0
        n = max(1, math.ceil(math.sqrt(bend / (8 * error))))
        t = np.linspace(0, 1, n + 1)
        p = point_at(c, t)
        starts.append(p[:-1])
        spans.append(np.diff(p, axis=0))
        owner.append(np.full(n, i))
        ranges.append(np.stack([t[:-1], t[1:]], axis=1))
    return np.concatenate(starts), np.concatenate(spans), np.concatenate(owner), np.concatenate(ranges)


def _refined(p: np.ndarray, q: np.ndarray, t: tuple[float, float], s: tuple[float, float]) -> float:
    """Return the least distance of two cubics near the ranges t and s of their parameters, by shrinking a grid."""
    low = np.array([t[0], s[0]])
    high = np.array([t[1], s[1]])
    low, high = np.maximum(0, 2 * low - high), np.minimum(1, 2 * high - low)
    best = math.inf
    for _ in range(40):
        grid = np.linspace(low, high, 9)
        d = np.hypot(*np.moveaxis(point_at(p, grid[:, 0])[:, None] - point_at(q, grid[:, 1])[None], 2, 0))
        i, j = divmod(int(d.argmin()), 9)
        now = float(d[i, j])
        if now <= best and best - now <= 1e-15 * best and (high - low).max() < 1e-8:
            return now
        best = min(best, now)
        centre, reach = np.array([grid[i, 0], grid[j, 1]]), (high - low) / 5
        low, high = np.maximum(0, centre - reach), np.minimum(1, centre + reach)
    return best


def distance(a: Path, b: Path) -> float:
    """Return the least distance between two outlines (sheet units); 0 where they cross.

    Polylines within 1e-4 of the extent find the places, which are then refined on the
    curves themselves. Raises OutlineError for an empty path.
    """
    if a.is_empty or b.is_empty:
        raise OutlineError("an empty path is at no distance from anything")
    everything = np.concatenate([a._arrays[0], b._arrays[0]])
    extent = max(float(np.ptp(everything[:, 0::2])), float(np.ptp(everything[:, 1::2])), 1e-300)
    error = 1e-4 * extent
    pa, da, ia, ta = _places(a, error)
    pb, db, ib, tb = _places(b, error)
    # the least distance of two segments is at an end of one of them, unless they cross
    best = np.full((len(pa), len(pb)), np.inf)
    for points, base, span, turned in (
        (pa, pb, db, False),
        (pa + da, pb, db, False),
        (pb, pa, da, True),
        (pb + db, pa, da, True),
    ):
        rel = points[:, None, :] - base[None]
        share = np.clip((rel * span).sum(axis=2) / np.maximum((span**2).sum(axis=1), 1e-300), 0, 1)
        d = np.hypot(*np.moveaxis(rel - share[..., None] * span, 2, 0))
        best = np.minimum(best, d.T if turned else d)
    gap = pb[None] - pa[:, None]
    cross = da[:, None, 0] * db[None, :, 1] - da[:, None, 1] * db[None, :, 0]
    safe = np.where(cross == 0, 1, cross)
    u = (gap[..., 0] * db[None, :, 1] - gap[..., 1] * db[None, :, 0]) / safe
    v = (gap[..., 0] * da[:, None, 1] - gap[..., 1] * da[:, None, 0]) / safe
    if ((cross != 0) & (u >= 0) & (u <= 1) & (v >= 0) & (v <= 1)).any():
        return 0.0
    least = float(best.min())
    found = math.inf
    seen: set[tuple[int, int]] = set()
    for k in np.argsort(best, axis=None)[:200]:
        i, j = divmod(int(k), len(pb))
        pair = (int(ia[i]), int(ib[j]))
        if best[i, j] > least + 4 * error or len(seen) >= 16:
            break
        if pair in seen:
            continue
        seen.add(pair)
        p, q = a._arrays[0][pair[0]], b._arrays[0][pair[1]]
        t, s = ta[i].tolist(), tb[j].tolist()
        found = min(found, _refined(p, q, (t[0], t[1]), (s[0], s[1])))
    return found if found > 1e-12 * extent else 0.0


@dataclass(frozen=True, slots=True)
class Margins:
    """The distances of a hole's box inside the box of its outer border, on four sides (sheet units)."""

    hole: Path
    left: float
    right: float
    top: float
    bottom: float

    @property
    def even(self) -> bool:
        """Whether opposite margins are equal to a billionth of the larger."""
        close = [(self.left, self.right), (self.top, self.bottom)]
        return all(math.isclose(p, q, rel_tol=1e-9, abs_tol=1e-12) for p, q in close)


_T17 = np.linspace(0, 1, 17)


def end_directions(ctrl: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return the unit directions (n, 2) at the starts and ends of cubics (n, 8), by the limit at a handle of 0.

    A curve without a length has none: 0, 0. For kernels it is `start_direction`.
    """
    q = ctrl.reshape(-1, 4, 2)
    size = np.hypot(*np.diff(q, axis=1).transpose(2, 0, 1)).sum(axis=1)
    found = []
    for steps in (
        (q[:, 1] - q[:, 0], q[:, 2] - q[:, 0], q[:, 3] - q[:, 0]),
        (q[:, 3] - q[:, 2], q[:, 3] - q[:, 1], q[:, 3] - q[:, 0]),
    ):
        d = steps[2]
        for step in (steps[1], steps[0]):
            d = np.where((np.hypot(*step.T) > 1e-9 * size)[:, None], step, d)
        found.append(d / np.maximum(np.hypot(*d.T), 1e-300)[:, None])
    return found[0], found[1]


def stroke_bounds(path: Path, width: float, *, miter_limit: float = 4.0) -> tuple[float, float, float, float] | None:
    """Return the box (x0, y0, x1, y1) of a stroke of `width`, with butt caps and mitered joins (SVG 2, 13.5).

    Along an axis, a border reaches furthest where it runs across the axis, at its ends, and at
    the tips of its joins. None for an empty path.

    >>> stroke_bounds(Path.from_svg("M0 0H10V10H0Z"), 2)
    (-1.0, -1.0, 11.0, 11.0)
    >>> stroke_bounds(Path.from_svg("M0 0H10"), 2)
    (0.0, -1.0, 10.0, 1.0)
    """
    if path.is_empty:
        return None
    half = width / 2
    pieces = path._monotone()[0].reshape(-1, 4, 2)
    t, s = _T17[None, :, None], 1 - _T17[None, :, None]
    d = np.diff(pieces, axis=1)[:, :, None, :]
    slopes = s * s * d[:, 0] + 2 * s * t * d[:, 1] + t * t * d[:, 2]
    slopes[:, 0], slopes[:, -1] = end_directions(pieces)
    q = pieces[:, :, None, :]
    points = s**3 * q[:, 0] + 3 * s * s * t * q[:, 1] + 3 * s * t * t * q[:, 2] + t**3 * q[:, 3]
    points[:, 0], points[:, -1] = pieces[:, 0], pieces[:, 3]
    slopes /= np.maximum(np.hypot(slopes[..., 0], slopes[..., 1]), 1e-300)[..., None]
    normals = half * np.stack([-slopes[..., 1], slopes[..., 0]], axis=-1)
    covered = [(points + normals).reshape(-1, 2), (points - normals).reshape(-1, 2)]
    ctrl, _, starts, closed = path._arrays
    into, out = end_directions(ctrl)
    number = np.arange(len(ctrl))
    before = number - 1
    before[starts[:-1]] = starts[1:] - 1
    joined = np.ones(len(ctrl), np.bool_)
    joined[starts[:-1]] = closed
    a, b = out[before][joined], into[joined]
    bend = np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(axis=1))
    cos = np.cos(bend / 2)
    sharp = (np.abs(bend) > 1e-9) & (cos * miter_limit >= 1)
    # the tip lies on the bisector of the two normals, on the outer side of the turn
    side = -np.sign(bend)[:, None] * np.stack([-(a + b)[:, 1], (a + b)[:, 0]], axis=1)
    tips = ctrl[number[joined], :2] + half * side / (2 * np.maximum(cos, 1e-300) ** 2)[:, None]
    covered.append(tips[sharp])
    everything = np.concatenate(covered)
    (x0, y0), (x1, y1) = everything.min(axis=0), everything.max(axis=0)
    return float(x0), float(y0), float(x1), float(y1)


def nesting(region: Path, areas: np.ndarray, which: np.ndarray | None = None) -> tuple[list[Path], np.ndarray]:
    """Return the loops of a region that the map drew, and for each hole the number of the outer loop around it.

    Outer loops, and holes that no loop is around, have -1. `areas` are its `loop_areas`;
    if `which` is given, only the holes numbered in it are examined.
    """
    loops = list(region.subpaths)
    holder = np.full(len(loops), -1, np.int64)
    outer = np.flatnonzero(areas > 0)
    if len(outer) == 0 or len(outer) == len(loops):
        return loops, holder
    ctrl, _, starts, _ = region._arrays
    # the few loops that the boxes leave open are tested exactly
    low, high = region.loop_boxes()
    outer = outer[np.argsort(areas[outer], kind="stable")]
    for k in np.flatnonzero(areas <= 0) if which is None else which:
        spot = point_at(ctrl[starts[k]], np.array([0.5]))[0]
        around = outer[((low[outer] <= spot) & (spot <= high[outer])).all(axis=1) & (areas[outer] > -areas[k])]
        for n, o in enumerate(around):
            # the smallest loop that contains it; a single candidate must be it
            if n == len(around) - 1 or loops[o].contains((float(spot[0]), float(spot[1]))):
                holder[k] = o
                break
    return loops, holder


def margins(path: Path, *, most: int | None = None) -> list[Margins]:
    """Return the margins of every hole of the filled region, or of its `most` largest, in the outer border around it.

    >>> m = margins(Path.from_svg("M0 0H10V8H0ZM2 1V5H7V1Z"))[0]
    >>> m.left, m.right, m.top, m.bottom
    (2.0, 3.0, 1.0, 3.0)
    """
    region = union([path])
    areas = region.loop_areas()
    holes = np.flatnonzero(areas < 0)
    if most is not None and len(holes) > most:
        # plus those equal to the last of them, so that the caller decides among equals
        least = np.sort(areas[holes])[most - 1]
        holes = holes[areas[holes] <= least * (1 - 1e-8)]
    loops, holder = nesting(region, areas, holes)
    found = []
    for k in np.flatnonzero(holder >= 0):
        hole, border = loops[k], loops[holder[k]]
        (hx0, hy0, hx1, hy1), (bx0, by0, bx1, by1) = hole.bounds, border.bounds  # type: ignore[misc]
        found.append(Margins(hole, hx0 - bx0, bx1 - hx1, hy0 - by0, by1 - hy1))
    return found
