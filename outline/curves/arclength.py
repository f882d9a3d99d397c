"""Positions on lines by arc length."""

import numpy as np

from .measure import part_of, point_at, slope_at

__all__ = ["Chain"]


class Chain:
    """Curves in a row, addressed by the length (sheet units) along them; lengths of curves within 1e-6."""

    def __init__(self, ctrl: np.ndarray, kind: np.ndarray):
        self.ctrl, self.kind = ctrl, kind
        self.tables = []
        at = [0.0]
        for c, k in zip(ctrl, kind, strict=True):
            if k == 0:
                gone = np.array([0.0, float(np.hypot(*(c[6:] - c[:2])))])
                t = np.array([0.0, 1.0])
            else:
                t = np.linspace(0, 1, 513)
                gone = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(point_at(c, t), axis=0).T))])
            self.tables.append((gone, t))
            at.append(at[-1] + float(gone[-1]))
        self.at = at
        self.length = at[-1]

    def _found(self, s: float) -> tuple[int, float]:
        """Return the curve at length `s`, and the parameter there."""
        k = min(len(self.tables) - 1, max(0, int(np.searchsorted(self.at, s, side="right")) - 1))
        gone, t = self.tables[k]
        return k, float(np.interp(s - self.at[k], gone, t))

    def place(self, s: float) -> tuple[np.ndarray, np.ndarray]:
        """Return the point at length `s` and the direction there."""
        k, u = self._found(s)
        c = self.ctrl[k]
        if self.kind[k] == 0:
            p = c[:2] + u * (c[6:] - c[:2])
            d = c[6:] - c[:2]
        else:
            p = point_at(c, np.array([u]))[0]
            d = slope_at(c, np.array([u]))[0]
            if not d.any():
                d = point_at(c, np.array([min(1.0, u + 1e-4)]))[0] - point_at(c, np.array([max(0.0, u - 1e-4)]))[0]
        return p, d / (np.hypot(*d) or 1.0)

    def between(self, start: float, end: float) -> tuple[np.ndarray, np.ndarray]:
        """Return the curves (n, 8) from one length to another, and their kinds (n)."""
        first, t0 = self._found(start)
        last, t1 = self._found(end)
        ctrl = self.ctrl[first : last + 1].copy()
        if first == last:
            ctrl[0] = part_of(ctrl[0], t0, t1)
        else:
            ctrl[0] = part_of(ctrl[0], t0, 1.0)
            ctrl[-1] = part_of(ctrl[-1], 0.0, t1)
        return ctrl, self.kind[first : last + 1].copy()
