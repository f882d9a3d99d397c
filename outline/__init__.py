"""Geometry that knows numbers only: paths and the operations on them, by one planar map."""

from .errors import MapError, OutlineError, PathError
from .fitting import deviation, fit, simplify
from .matrix import IDENTITY, Matrix
from .measure import Margins, centroid, distance, length, margins
from .offset import JOINS as offset_joins
from .offset import offset, round_corners
from .operations import divide, exclude, intersect, subtract, union
from .path import Path
from .planarmap import Cell, PlanarMap
from .shapes import ShapeError, ellipse, polygon, rectangle, star

__all__ = [
    "simplify",
    "round_corners",
    "offset",
    "offset_joins",
    "margins",
    "length",
    "fit",
    "distance",
    "deviation",
    "centroid",
    "Margins",
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
