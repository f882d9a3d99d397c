"""The planar map of several paths, in the order of its stages, and the questions asked of it."""

from .boolean import SetOperation
from .operations import cleaned, divide, exclude, intersect, subtract, union
from .planarmap import Cell, PlanarMap, combined, combined_curves

__all__ = [
    "SetOperation",
    "PlanarMap",
    "Cell",
    "combined",
    "combined_curves",
    "union",
    "subtract",
    "intersect",
    "exclude",
    "divide",
    "cleaned",
]
