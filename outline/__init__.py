"""Geometry that knows numbers only: paths and the operations on them, by one planar map."""

from . import nodes
from .band import CAPS, band, dashed
from .edges import EDGES, edge_run, runs_of
from .errors import MapError, OutlineError, PathError
from .fitting import deviation, fit, flattened, simplify
from .lengthen import curves_across, find_bands, lengthened
from .lettering import ALIGNMENTS, FONTS, Lettered, lettering
from .matrix import IDENTITY, Matrix
from .measure import Margins, centroid, distance, inner_point, length, margins, stroke_bounds
from .offset import JOINS as offset_joins
from .offset import largest_radius, offset, round_corners
from .operations import cleaned, divide, exclude, intersect, subtract, union
from .path import Path
from .planarmap import Cell, PlanarMap
from .ready import READY, ready
from .shapes import ShapeError, boxed, ellipse, polygon, rectangle, star

__all__ = [
    "ALIGNMENTS",
    "CAPS",
    "EDGES",
    "curves_across",
    "find_bands",
    "lengthened",
    "FONTS",
    "Lettered",
    "READY",
    "band",
    "boxed",
    "edge_run",
    "largest_radius",
    "lettering",
    "nodes",
    "ready",
    "runs_of",
    "simplify",
    "round_corners",
    "offset",
    "offset_joins",
    "inner_point",
    "margins",
    "length",
    "fit",
    "flattened",
    "distance",
    "dashed",
    "deviation",
    "centroid",
    "cleaned",
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
    "stroke_bounds",
    "subtract",
    "union",
]
