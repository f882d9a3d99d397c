"""The tolerance of the planar map, and how it may grow."""

from typing import Final

from .kernel import kernel

__all__ = [
    "RELATIVE",
    "FLOAT_NOISE",
    "DOTTED",
    "GROWTH",
    "TRIES",
    "MAX_CURVES",
    "MIN_COORDINATE",
    "MAX_COORDINATE",
    "for_box",
]

RELATIVE: Final = 1e-9
"""Tolerance as a share of the input's extent: far above float noise, far below sight."""

FLOAT_NOISE: Final = 1e-13
"""Least tolerance as a share of the largest coordinate, for small shapes far from the origin."""

DOTTED: Final = 3
"""Tries at one tolerance: after a plain one, some with every vertex of the previous try as a dot.

Merging moves points by up to the tolerance, perhaps across a curve that passes by;
with the vertices as dots, such a curve is cut and joined to them.
"""

GROWTH: Final = 16.0
"""Afterwards the tolerance is multiplied by this."""

TRIES: Final = 9
"""How often a map is tried before `MapError`."""

MAX_CURVES: Final = 200_000
"""The most curves of one path."""

MIN_COORDINATE: Final = 1e-100
"""A path must have a coordinate of at least this, or be all zero: below it squares of lengths vanish."""

MAX_COORDINATE: Final = 1e15
"""Largest coordinate that a path may have."""


@kernel("float64(float64, float64, float64, float64)")
def for_box(x0, y0, x1, y1):
    """Return the tolerance for input whose control points lie in this box (sheet units), never zero."""
    extent = max(x1 - x0, y1 - y0)
    largest = max(abs(x0), abs(y0), abs(x1), abs(y1))
    return max(RELATIVE * extent, FLOAT_NOISE * largest, 1e-300)
