"""Collecting the curves of a path, command by command."""

import math

import numpy as np

from .errors import PathError
from .tolerance import MAX_COORDINATE, MAX_CURVES

__all__ = ["Builder"]


class Builder:
    """Collects lines and cubics; quadratics are raised to cubics. Coordinates in sheet units."""

    def __init__(self, trusting: bool = False) -> None:
        """Start empty; `trusting` skips the checks of coordinates and of the number of curves."""
        self._trusting = trusting
        self.rows: list[tuple[float, ...]] = []
        self.kinds: list[int] = []
        self.starts: list[int] = [0]
        self.closed: list[bool] = []
        self.point: tuple[float, float] = (0.0, 0.0)
        self._first: tuple[float, float] = (0.0, 0.0)
        self._open = False

    def _check(self, *values: float) -> None:
        for v in values:
            if not math.isfinite(v) or abs(v) > MAX_COORDINATE:
                raise PathError(f"{v!r} is no coordinate: it must be a number up to {MAX_COORDINATE:g}")

    def _check_count(self) -> None:
        if len(self.rows) >= MAX_CURVES:
            raise PathError(f"a path may have {MAX_CURVES} curves at most; this one has more")

    def finish(self) -> None:
        """End the current subpath, leaving it open."""
        if self._open and len(self.rows) > self.starts[-1]:
            self.starts.append(len(self.rows))
            self.closed.append(False)
        self._open = False

    def move(self, x: float, y: float) -> None:
        """Start a subpath at (x, y)."""
        if not self._trusting:
            self._check(x, y)
        self.finish()
        # a subpath closed without a curve begins, and ends, here
        self.point = self._first = (x, y)

    def line(self, x: float, y: float) -> None:
        """Add a straight line to (x, y)."""
        if not self._trusting:
            self._check(x, y)
            self._check_count()
        x0, y0 = self.point
        if not self._open:
            self._open = True
            self._first = x0, y0
        dx, dy = (x - x0) / 3, (y - y0) / 3
        self.rows.append((x0, y0, x0 + dx, y0 + dy, x - dx, y - dy, x, y))
        self.kinds.append(0)
        self.point = (x, y)

    def cubic(self, x1: float, y1: float, x2: float, y2: float, x: float, y: float) -> None:
        """Add a cubic with two handles to (x, y)."""
        if not self._trusting:
            self._check(x1, y1, x2, y2, x, y)
            self._check_count()
        if not self._open:
            self._open = True
            self._first = self.point
        self.rows.append((*self.point, x1, y1, x2, y2, x, y))
        self.kinds.append(1)
        self.point = (x, y)

    def quadratic(self, x1: float, y1: float, x: float, y: float) -> None:
        """Add a quadratic as the cubic that equals it."""
        x0, y0 = self.point
        self.cubic(x0 + 2 * (x1 - x0) / 3, y0 + 2 * (y1 - y0) / 3, x + 2 * (x1 - x) / 3, y + 2 * (y1 - y) / 3, x, y)

    def close(self) -> None:
        """Close the current subpath, with a line unless it ends at its start."""
        if self._open and len(self.rows) > self.starts[-1]:
            if self.point != self._first:
                self.line(*self._first)
            self.starts.append(len(self.rows))
            self.closed.append(True)
        self._open = False
        self.point = self._first

    def arrays(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """Return controls (n, 8), kinds (n), subpath starts (m + 1) and closed flags (m)."""
        self.finish()
        ctrl = np.array(self.rows, dtype=np.float64).reshape(-1, 8)
        return (
            ctrl,
            np.array(self.kinds, dtype=np.int8),
            np.array(self.starts, dtype=np.int32),
            np.array(self.closed, dtype=np.bool_),
        )
