"""Geometry that knows numbers only: paths and the operations on them, by one planar map."""

from .errors import MapError, OutlineError, PathError
from .matrix import IDENTITY, Matrix
from .operations import divide, exclude, intersect, subtract, union
from .path import Path
from .planarmap import Cell, PlanarMap
from .shapes import ShapeError, ellipse, polygon, rectangle, star

__all__ = [
    "IDENTITY",
    "Cell",
    "MapError",
    "Matrix",
    "OutlineError",
    "Path",
    "PathError",
    "PlanarMap",
    "ShapeError",
    "divide",
    "ellipse",
    "exclude",
    "intersect",
    "polygon",
    "rectangle",
    "star",
    "subtract",
    "union",
]
