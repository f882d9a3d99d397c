"""Lengthening an outline across bands: what is beyond a band moves, straight runs across it grow, repeated edges
get more or fewer teeth, and nothing else changes its form.

What is inside an outer contour, such as letters and ornaments, keeps its form wherever
it would lose it.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Final, TypeAlias

import numpy as np

from outline.engine.operations import union
from outline.path.errors import OutlineError
from outline.path.path import Path

from .bands import EVEN, NARROW, Groups, Interval, ordered_bands
from .repeats import RepeatedEdge, find_repeats, repeated

__all__ = ["Interval", "band_groups", "curves_across", "find_bands", "free_bands", "lengthened", "stretched"]

_Curves: TypeAlias = tuple[np.ndarray, np.ndarray]
"""Control points (n, 8) and kinds (n)."""
_Along: TypeAlias = Callable[[np.ndarray], np.ndarray]
"""Maps positions along the axis to their new ones."""


STRAIGHT: Final = 1e-9
"""How much a run may lean, as a share of the path's extent, and still count as along the axis."""
SPANS: Final = 0.5
"""A contour of at least this share of its outer one spans it, and lengthens with it."""
RULES: Final = 0.4
"""A group's largest contour of at least this share of its box decides for the group."""
CLOSE: Final = 0.6
"""How far apart two inner contours may be, by the size of the smaller, and still belong together."""


@dataclass(frozen=True, slots=True)
class _Contour:
    """One contour: its curves, those of them that run straight along the axis or repeat along it, and its box."""

    ctrl: np.ndarray
    kind: np.ndarray
    closed: bool
    repeats: list[RepeatedEdge]
    free: np.ndarray
    box: tuple[float, float, float, float]


def _contours(path: Path, axis: int) -> list[_Contour]:
    ctrl, kind, starts, closed = path._arrays
    extent = float(np.ptp(ctrl.reshape(-1, 2), axis=0).max()) if len(ctrl) else 0.0
    out = []
    for part, (a, b), shut in zip(path.subpaths, pairwise(starts.tolist()), closed.tolist(), strict=True):
        own, kinds = ctrl[a:b], kind[a:b]
        free = (kinds == 0) & (np.ptp(own[:, 1 - axis :: 2], axis=1) <= STRAIGHT * extent)
        repeats = find_repeats(own, kinds, axis, shut)
        for r in repeats:
            # the run takes the increase, not the bits before and after it
            free[[r.start - 1, r.end % len(own)]] = False
        for r in repeats:
            free[np.arange(r.start, r.end) % len(own)] = True
        out.append(_Contour(own, kinds, shut, repeats, free, part.bounds or (0.0, 0.0, 0.0, 0.0)))
    return out


def _parted(contours: list[_Contour]) -> tuple[list[_Contour], list[list[_Contour]]]:
    """Return the outer contours, and the inner ones in groups that belong together.

    All are outer ones unless one contour is around all the others.
    """
    if len(contours) < 2:
        return contours, []
    boxes = np.array([c.box for c in contours])
    outer = int(((boxes[:, 2:] - boxes[:, :2]).prod(axis=1)).argmax())
    x0, y0, x1, y1 = boxes[outer]
    rest = [k for k in range(len(contours)) if k != outer]
    if any(boxes[k][0] <= x0 or boxes[k][1] <= y0 or boxes[k][2] >= x1 or boxes[k][3] >= y1 for k in rest):
        return contours, []
    groups: list[list[int]] = []
    for k in rest:
        near = [g for g in groups if any(_close(boxes[k], boxes[j]) for j in g)]
        groups = [g for g in groups if g not in near] + [[k, *(j for g in near for j in g)]]
    return [contours[outer]], [[contours[k] for k in sorted(g)] for g in groups]


def _close(a: np.ndarray, b: np.ndarray) -> bool:
    slack = CLOSE * min(max(a[2] - a[0], a[3] - a[1]), max(b[2] - b[0], b[3] - b[1]))
    return bool(a[0] <= b[2] + slack and b[0] <= a[2] + slack and a[1] <= b[3] + slack and b[1] <= a[3] + slack)


def _span(contours: list[_Contour], axis: int) -> Interval:
    return min(c.box[axis] for c in contours), max(c.box[axis + 2] for c in contours)


def _spans(contours: list[_Contour]) -> tuple[Interval, Interval]:
    return _span(contours, 0), _span(contours, 1)


def _is_ruled(group: list[_Contour]) -> bool:
    """Return whether one contour of a group is nearly all of it: for letters none is."""
    (x0, x1), (y0, y1) = _spans(group)
    most = max((c.box[2] - c.box[0]) * (c.box[3] - c.box[1]) for c in group)
    return most >= RULES * (x1 - x0) * (y1 - y0)


def _is_one(group: list[_Contour]) -> bool:
    """Return whether one contour of a group is around all the others."""
    x0, y0, x1, y1 = (f(c.box[k] for c in group) for k, f in enumerate((min, min, max, max)))
    return any(c.box == (x0, y0, x1, y1) for c in group)


def _is_panes(group: list[_Contour]) -> bool:
    """Return whether a group is upright rectangles only, as the panes of a window are; letters are not."""
    return all(
        len(c.kind) == 4 and not c.kind.any() and all(min(abs(r[6] - r[0]), abs(r[7] - r[1])) == 0 for r in c.ctrl)
        for c in group
    )


def _taken(contours: list[_Contour], axis: int) -> list[Interval]:
    """Return the ranges along the axis of curves that would change their form."""
    out = []
    for c in contours:
        at = c.ctrl[~c.free][:, axis::2]
        out += list(zip(at.min(axis=1).tolist(), at.max(axis=1).tolist(), strict=True)) if len(at) else []
    return out


def _left(span: Interval, taken: list[Interval]) -> list[Interval]:
    """Return the bands of a span that are free of those, as wide as possible."""
    out, (at, most) = [], span
    least = at
    for a, b in sorted(taken):
        if a > at:
            out.append((at, min(a, most)))
        at = max(at, b)
    if at < most:
        out.append((at, most))
    return [(a, b) for a, b in out if b - a > 1e-6 * (most - least)]


def free_bands(path: Path, axis: int) -> tuple[Interval, ...]:
    """Return all the bands along an axis (0 for x) that only straight and repeating runs cross, as wide as they are.

    If what is inside takes up all of the outer contour's, they are the outer one's.
    """
    return _free(_contours(path, axis), axis)


def _free(contours: list[_Contour], axis: int) -> tuple[Interval, ...]:
    outer, groups = _parted(contours)
    if not outer:
        return ()
    span = _span(outer, axis)
    taken = _taken(outer, axis)
    inner = [t for g in groups for t in (_taken(g, axis) if _is_one(g) or _is_panes(g) else [_span(g, axis)])]
    return tuple(_left(span, taken + inner) or _left(span, taken))


def band_groups(path: Path, axis: int) -> Groups:
    """Return all the bands along an axis (0 for x), in the order in which they take a difference; none if they are
    only gaps in a single ornament."""
    if path.is_empty:
        return ()
    contours = _contours(path, axis)
    span = _span(contours, axis)
    found = ordered_bands(_free(contours, axis), span)
    return found if found and sum(b - a for a, b in found[0]) >= NARROW * (span[1] - span[0]) else ()


def find_bands(path: Path, axis: int) -> tuple[Interval, ...]:
    """Return where an outline can lengthen along an axis (0 for x) without a curve changing: the first of its groups of
    bands. None if a curve or a slanted run is everywhere."""
    return next(iter(band_groups(path, axis)), ())


def _across(contours: list[_Contour], axis: int, bands: tuple[Interval, ...]) -> int:
    taken = _taken(contours, axis)
    return sum(any(low < b and high > a for a, b in bands) for low, high in taken)


def curves_across(path: Path, axis: int, bands: tuple[Interval, ...]) -> int:
    """Return how many curves and slanted runs cross one of the bands, and would change their form."""
    return _across(_parted(_contours(path, axis))[0], axis, bands)


def lengthened(
    path: Path, axis: int, bands: tuple[Interval, ...], by: float | Sequence[float]
) -> tuple[Path, tuple[Interval, ...]]:
    """Return the path `by` longer along an axis (0 for x), each band grown by an equal share, or by its own number; and
    the new bands. What is before the first band stays.

    A negative length shortens. Raises OutlineError if there is no band, or one would have nothing left.
    """
    if not bands:
        raise OutlineError("there is no band across which that could lengthen")
    shares = [by / len(bands)] * len(bands) if isinstance(by, int | float) else list(by)
    pairs = sorted(((min(b), max(b)), each) for b, each in zip(bands, shares, strict=True))
    bands, shares = tuple(b for b, _ in pairs), [each for _, each in pairs]
    if any(p[1] > q[0] for p, q in pairwise(bands)):
        raise OutlineError("two of the bands lie over one another")
    if any(b - a + each <= 0 for (a, b), each in zip(bands, shares, strict=True)):
        raise OutlineError(f"its straight runs can only be {min(b - a for a, b in bands) * len(bands):.6g} shorter")
    made = _made(path, axis, lambda at: _grown(at, bands, shares), sum(shares), bands)
    return made, tuple((a + sum(shares[:k]), b + sum(shares[: k + 1])) for k, (a, b) in enumerate(bands))


def stretched(path: Path, axis: int, factor: float) -> Path:
    """Return the path scaled by `factor` along an axis (0 for x) from its start: every curve of it changes its
    form, but those inside an outer contour keep theirs."""
    if path.bounds is None:
        return path
    low, high = path.bounds[axis], path.bounds[axis + 2]
    made = _made(path, axis, lambda at: low + (at - low) * factor, (factor - 1) * (high - low), None)
    if _nested(made) == _nested(path):
        return made
    # what is inside would not stay inside: it belongs to the form
    return path.transform(
        (factor, 0, 0, 1, low - factor * low, 0) if axis == 0 else (1, 0, 0, factor, 0, low - factor * low)
    )


def _nested(path: Path) -> tuple[int, int]:
    """Return how many shapes and holes a path has."""
    areas = union([path]).loop_areas()
    return int((areas > 0).sum()), int((areas < 0).sum())


def _made(path: Path, axis: int, along: _Along, by: float, bands: tuple[Interval, ...] | None) -> Path:
    """Return the path, `by` longer, with `along` applied to the outer contours; without bands they are stretched."""
    contours = _contours(path, axis)
    outer, groups = _parted(contours)
    made = {id(c): _mapped(c, axis, along) for c in outer}
    for group in groups:
        inner = _inside(group, _spans(outer), axis, along, by, bands)
        made |= {id(c): one for c, one in zip(group, inner, strict=True)}
    sizes = np.cumsum([0, *(len(made[id(c)][0]) for c in contours)]).astype(np.int32)
    ctrl, kind = (np.concatenate([made[id(c)][k] for c in contours]) for k in (0, 1))
    return Path(ctrl, kind, sizes, path._arrays[3].copy(), fill_rule=path.fill_rule)


def _inside(
    group: list[_Contour],
    outer: tuple[Interval, Interval],
    axis: int,
    along: _Along,
    by: float,
    bands: tuple[Interval, ...] | None,
) -> list[_Curves]:
    """Return the curves of a group inside an outer contour that extended over `outer`."""
    low, high = outer[axis]
    a, b = _span(group, axis)
    if (
        bands
        and _across(group, axis, bands) == 0
        and (_is_one(group) or _is_panes(group) or not _crossed((a, b), bands))
    ):
        return [_mapped(c, axis, along) for c in group]
    spans = [q - p >= SPANS * (to - at) for (p, q), (at, to) in zip(_spans(group), outer, strict=True)]
    own: tuple[Interval, ...] = ()
    if spans[axis] and _is_one(group):
        own = next(iter(ordered_bands(_left((a, b), _taken(group, axis)), (a, b))), ())
    off = float(along(np.array(a))) - a if bands else 0.0
    if own and min(q - p for p, q in own) + by / len(own) > 0:
        shares = [by / len(own)] * len(own)
        return [_moved(_mapped(c, axis, lambda at: _grown(at, own, shares)), axis, off) for c in group]
    if all(spans) and _is_ruled(group) and b - a + by > 0:
        return [_moved(_mapped(c, axis, lambda at: a + (at - a) * (1 + by / (b - a))), axis, off) for c in group]
    even = abs((a - low) - (high - b)) <= EVEN * (high - low)
    return [_moved((c.ctrl, c.kind), axis, by / 2 if even else 0.0 if a - low < high - b else by) for c in group]


def _moved(curves: _Curves, axis: int, off: float) -> _Curves:
    ctrl = curves[0].copy()
    ctrl[:, axis::2] += off
    return ctrl, curves[1]


def _crossed(span: Interval, bands: tuple[Interval, ...]) -> bool:
    return any(a < span[1] and b > span[0] for a, b in bands)


def _grown(at: np.ndarray, bands: tuple[Interval, ...], shares: Sequence[float]) -> np.ndarray:
    """Return coordinates along the axis after each band has grown."""
    total = np.zeros_like(at)
    for (a, b), each in zip(bands, shares, strict=True):
        total += each * np.clip((at - a) / (b - a), 0.0, 1.0) if b > a else each * (at > a)
    out: np.ndarray = at + total
    return out


def _mapped(contour: _Contour, axis: int, along: _Along) -> _Curves:
    """Return the curves of one contour, each position along the axis mapped by an increasing map."""
    moved = contour.ctrl.copy()
    moved[:, axis::2] = along(contour.ctrl[:, axis::2])
    # a line's own handles lie on it, a third from either end
    lines = contour.kind == 0
    first, last = moved[lines, axis], moved[lines, 6 + axis]
    moved[lines, 2 + axis], moved[lines, 4 + axis] = first + (last - first) / 3, last - (last - first) / 3
    if not contour.repeats:
        return moved, contour.kind.copy()
    n, ctrls, kinds = len(moved), [], []
    at = contour.repeats[-1].end - n if contour.repeats[-1].end > n else 0
    end = n + at
    for r in contour.repeats:
        rows = np.arange(at, r.start) % n
        tooth = np.arange(r.start, r.start + r.size) % n
        try:
            teeth = repeated(contour.ctrl[tooth], axis, r.pitch, moved[r.start, :2], moved[(r.end - 1) % n, 6:])
        except ValueError as error:
            raise OutlineError(str(error)) from None
        ctrls += [moved[rows], teeth]
        kinds += [contour.kind[rows], np.tile(contour.kind[tooth], len(teeth) // r.size)]
        at = r.end
    rows = np.arange(at, end) % n
    return np.concatenate([*ctrls, moved[rows]]), np.concatenate([*kinds, contour.kind[rows]])
