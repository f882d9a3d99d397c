"""The path: an immutable value of lines and cubics."""

from collections.abc import Callable, Iterator
from typing import Any, ClassVar

import numpy as np

from . import svgpath
from .builder import Builder
from .errors import PathError
from .kernel import entry
from .matrix import Matrix
from .monotone import cut_monotone, x_at
from .tolerance import MAX_COORDINATE, MAX_CURVES, MIN_COORDINATE

__all__ = ["Path", "FILL_RULES"]

_cut_monotone, _x_at = entry(cut_monotone), entry(x_at)

FILL_RULES = ("nonzero", "evenodd")


class Path:
    """Subpaths of lines and cubics with a fill rule, in sheet units.

    Two paths are equal if all their numbers and their fill rules are.

    >>> square = Path.from_svg("M0 0H10V10H0Z")
    >>> square.area, square.bounds, square.node_count
    (100.0, (0.0, 0.0, 10.0, 10.0), 4)
    >>> Path().area
    0.0
    """

    __slots__ = ("_box", "_closed", "_ctrl", "_fill_rule", "_kind", "_monotone_curves", "_shut", "_simple", "_starts")

    _filled: "ClassVar[Callable[[Path], Path]]"
    """The region a path fills, as loops that do not cross: set by the engine, a higher layer than this package."""

    def __init__(
        self,
        ctrl: np.ndarray | None = None,
        kind: np.ndarray | None = None,
        starts: np.ndarray | None = None,
        closed: np.ndarray | None = None,
        *,
        fill_rule: str = "nonzero",
        simple: bool = False,
    ):
        """Take over arrays as `Builder.arrays` gives them; `simple` promises loops that do not cross.

        Raises PathError for a fill rule other than nonzero or evenodd, for coordinates
        that are not finite or larger than 1e15, and for more than 200,000 curves.
        """
        if fill_rule not in FILL_RULES:
            raise PathError(f"{fill_rule!r} is no fill rule: use nonzero or evenodd")
        if ctrl is None or kind is None or starts is None or closed is None:
            ctrl, kind, starts, closed = Builder().arrays()
        if not simple:
            if len(ctrl) > MAX_CURVES:
                raise PathError(f"a path may have {MAX_CURVES} curves at most; this one has {len(ctrl)}")
            sizes = np.abs(ctrl)
            if not (sizes <= MAX_COORDINATE).all():
                raise PathError(f"every coordinate must be a number up to {MAX_COORDINATE:g}")
            if len(ctrl) and 0 < sizes.max() < MIN_COORDINATE:
                raise PathError(f"a path whose coordinates are all below {MIN_COORDINATE:g} is too small to measure")
        self._ctrl, self._kind, self._starts, self._closed = ctrl, kind, starts, closed
        self._fill_rule = fill_rule
        self._simple = simple
        self._monotone_curves: Any = None
        self._shut: bool | None = None
        self._box: tuple[float, float, float, float] | None = None

    @classmethod
    def _of_loops(cls, ctrl: np.ndarray, kind: np.ndarray, starts: np.ndarray) -> "Path":
        """Return a path of closed loops that do not cross, as the map draws them, without checking it again."""
        path = object.__new__(cls)
        path._ctrl, path._kind, path._starts = ctrl, kind, starts
        path._closed = np.ones(len(starts) - 1, np.bool_)
        path._fill_rule = "nonzero"
        path._simple = path._shut = True
        path._monotone_curves = path._box = None
        return path

    @classmethod
    def from_svg(cls, d: str, fill_rule: str = "nonzero") -> "Path":
        """Read SVG path data. Raises PathError with the position of a mistake.

        >>> Path.from_svg("M0 0 L10 x")
        Traceback (most recent call last):
            ...
        outline.path.errors.PathError: a number is wanted here, not 'x' (at character 9)
        """
        return cls(*svgpath.read(d).arrays(), fill_rule=fill_rule)

    @classmethod
    def from_points(cls, points: Any, *, closed: bool = True, fill_rule: str = "nonzero") -> "Path":
        """Return the polygon, or the open line, through `points` (x, y)."""
        p = np.array(list(points), np.float64).reshape(-1, 2)
        if closed and len(p) > 1 and (p[0] != p[-1]).any():
            p = np.concatenate((p, p[:1]))
        if len(p) < 2:
            return cls(fill_rule=fill_rule)
        # what is not finite is refused below
        with np.errstate(invalid="ignore", over="ignore"):
            third = (p[1:] - p[:-1]) / 3
            inner = p[:-1] + third, p[1:] - third
        ctrl = np.concatenate((p[:-1], *inner, p[1:]), axis=1)
        starts, shut = np.array([0, len(ctrl)], np.int32), np.array([closed])
        return cls(ctrl, np.zeros(len(ctrl), np.int8), starts, shut, fill_rule=fill_rule)

    # -- contents

    @property
    def arrays(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """Controls (n, 8), kinds (n; 0 line, 1 cubic), subpath starts (m + 1), closed flags (m), read-only."""
        ctrl, kind, starts, closed = (array.view() for array in self._arrays)
        for view in (ctrl, kind, starts, closed):
            view.flags.writeable = False
        return ctrl, kind, starts, closed

    @property
    def _arrays(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """The same for this package: kernels are compiled for writable arrays."""
        return self._ctrl, self._kind, self._starts, self._closed

    @property
    def fill_rule(self) -> str:
        """Which points the curves enclose: nonzero or evenodd (SVG 2, 13.4.2)."""
        return self._fill_rule

    @property
    def subpaths(self) -> Iterator["Path"]:
        """Each subpath as a path of its own."""
        for k in range(len(self._closed)):
            a, b = self._starts[k], self._starts[k + 1]
            yield Path(
                self._ctrl[a:b].copy(),
                self._kind[a:b].copy(),
                np.array([0, b - a], np.int32),
                self._closed[k : k + 1].copy(),
                fill_rule=self.fill_rule,
                simple=self._simple,
            )

    @property
    def is_empty(self) -> bool:
        """Whether there is no curve at all."""
        return len(self._ctrl) == 0

    @property
    def is_closed(self) -> bool:
        """Whether every subpath is closed."""
        if self._shut is None:
            self._shut = bool(self._closed.all())
        return self._shut

    @property
    def node_count(self) -> int:
        """Number of nodes: one per curve, one more for each open subpath."""
        return len(self._ctrl) + int((~self._closed).sum())

    # -- measures

    @property
    def area(self) -> float:
        """The area that is filled under the fill rule (square sheet units)."""
        if self.is_empty:
            return 0.0
        region = self if self._simple else Path._filled(self)
        return abs(float(region.loop_areas().sum()))

    def loop_areas(self) -> np.ndarray:
        """Return the signed area of every loop (square sheet units): exact, by Green's theorem.

        An open loop counts as closed by a line.
        """
        if self.is_empty:
            return np.zeros(0)
        ctrl, starts = self._ctrl, self._starts
        first = np.repeat(ctrl[starts[:-1], :2], np.diff(starts), axis=0)
        q = ctrl.reshape(-1, 4, 2) - first[:, None, :]
        x1, y1 = (q[:, 1] - q[:, 0]).T
        x2, y2 = (q[:, 2] - q[:, 0]).T
        x3, y3 = (q[:, 3] - q[:, 0]).T
        swept = (3 * (x1 * y2 - x2 * y1) + 3 * (x1 * y3 - x3 * y1) + 6 * (x2 * y3 - x3 * y2)) / 20
        swept += (q[:, 0, 0] * q[:, 3, 1] - q[:, 3, 0] * q[:, 0, 1]) / 2
        areas: np.ndarray = np.add.reduceat(swept, starts[:-1])
        return areas

    def loop_boxes(self) -> tuple[np.ndarray, np.ndarray]:
        """Return the (low, high) corners (n, 2) of the box of each loop's nodes and handles, which encloses it."""
        points, starts = self._ctrl.reshape(-1, 4, 2), self._starts[:-1]
        return (
            np.minimum.reduceat(points.min(axis=1), starts, axis=0),
            np.maximum.reduceat(points.max(axis=1), starts, axis=0),
        )

    def _monotone(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        if self._monotone_curves is None:
            self._monotone_curves = _cut_monotone(self._ctrl, self._kind)
        monotone: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray] = self._monotone_curves
        return monotone

    @property
    def bounds(self) -> tuple[float, float, float, float] | None:
        """The exact box (x0, y0, x1, y1), or None for an empty path."""
        if self._box is None and not self.is_empty:
            # lines are within the box of their ends
            ctrl = self._monotone()[0] if self._kind.any() else self._ctrl
            ends = ctrl[:, [0, 1, 6, 7]].reshape(-1, 2)
            (x0, y0), (x1, y1) = ends.min(axis=0), ends.max(axis=0)
            self._box = float(x0), float(y0), float(x1), float(y1)
        return self._box

    def closed_curves(self) -> tuple[np.ndarray, np.ndarray]:
        """Return controls (n, 8) and kinds (n), with a line added to each open subpath."""
        if self.is_closed:
            return self._ctrl, self._kind
        ctrl, kind, starts, closed = self._arrays
        rows, kinds = [], []
        for k in range(len(closed)):
            a, b = starts[k], starts[k + 1]
            rows.append(ctrl[a:b])
            kinds.append(kind[a:b])
            (x0, y0), (x1, y1) = ctrl[a, :2], ctrl[b - 1, 6:]
            if (x0, y0) != (x1, y1):
                dx, dy = (x0 - x1) / 3, (y0 - y1) / 3
                rows.append(np.array([[x1, y1, x1 + dx, y1 + dy, x0 - dx, y0 - dy, x0, y0]]))
                kinds.append(np.zeros(1, np.int8))
        return np.concatenate(rows), np.concatenate(kinds)

    def contains(self, point: tuple[float, float]) -> bool:
        """Return whether `point` (x, y) lies in the filled region; open subpaths count as closed."""
        x, y = point
        if self.is_empty:
            return False
        monotone = self._monotone()[0] if self.is_closed else _cut_monotone(*self.closed_curves())[0]
        low, high = np.minimum(monotone[:, 1], monotone[:, 7]), np.maximum(monotone[:, 1], monotone[:, 7])
        beside = (low <= y) & (high > y) & (np.minimum(monotone[:, 0], monotone[:, 6]) <= x)
        winding = 0
        for i in np.flatnonzero(beside).tolist():
            if _x_at(monotone, i, float(y)) <= x:
                winding += 1 if monotone[i, 7] > monotone[i, 1] else -1
        return winding != 0 if self.fill_rule == "nonzero" else winding % 2 == 1

    # -- derived paths

    def transform(self, matrix: Matrix | tuple[float, float, float, float, float, float]) -> "Path":
        """Return the image under an affine map (a, b, c, d, e, f), in SVG's order."""
        m = matrix if isinstance(matrix, Matrix) else Matrix(*matrix)
        ctrl = np.empty_like(self._ctrl)
        xs, ys = self._ctrl[:, 0::2], self._ctrl[:, 1::2]
        ctrl[:, 0::2] = m.a * xs + m.c * ys + m.e
        ctrl[:, 1::2] = m.b * xs + m.d * ys + m.f
        out = Path(ctrl, self._kind.copy(), self._starts.copy(), self._closed.copy(), fill_rule=self.fill_rule)
        out._simple = self._simple
        return out

    def with_fill_rule(self, fill_rule: str) -> "Path":
        """Return the same curves under the other rule."""
        return Path(*self._arrays, fill_rule=fill_rule, simple=self._simple)

    @staticmethod
    def gather(paths: "list[Path]", *, fill_rule: str = "nonzero") -> "Path":
        """Return one path of all subpaths of `paths`, in order."""
        if not paths:
            return Path(fill_rule=fill_rule)
        shift = np.cumsum([0] + [len(p._ctrl) for p in paths])
        starts = [p._starts[:-1] + s for p, s in zip(paths, shift, strict=False)]
        return Path(
            np.concatenate([p._ctrl for p in paths]),
            np.concatenate([p._kind for p in paths]),
            np.concatenate([*starts, shift[-1:]]).astype(np.int32),
            np.concatenate([p._closed for p in paths]),
            fill_rule=fill_rule,
        )

    def to_svg(self, digits: int | None = None) -> str:
        """Return SVG path data; exact by default, or rounded to `digits` decimals.

        >>> Path.from_svg("m0 0 10 0 0 10z").to_svg()
        'M0 0H10V10Z'
        """
        ctrl = self._ctrl
        # all at once if rounding cannot overflow; NumPy rounds by scaling
        if digits is not None and not self.is_empty and float(np.abs(ctrl).max()) < 1e12:
            ctrl, digits = np.round(ctrl, digits), None
        written = np.zeros(ctrl.shape, np.bool_)
        written[:, 6:] = True
        written[self._kind != 0, 2:6] = True
        written[self._starts[:-1], :2] = True
        starts, closed = self._starts.tolist(), self._closed.tolist()
        return svgpath.written(ctrl[written].tolist(), self._kind.tolist(), starts, closed, digits)

    # -- equality

    def _key(self) -> tuple[bytes, bytes, bytes, bytes, str]:
        return (
            self._ctrl.tobytes(),
            self._kind.tobytes(),
            self._starts.tobytes(),
            self._closed.tobytes(),
            self.fill_rule,
        )

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Path):
            return NotImplemented
        return self is other or self._key() == other._key()

    def __hash__(self) -> int:
        return hash(self._ctrl.tobytes())

    def __repr__(self) -> str:
        d = self.to_svg(4)
        return f"Path.from_svg({d if len(d) < 80 else d[:77] + '...'!r}, {self.fill_rule!r})"
