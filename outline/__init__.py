"""Pure geometry: paths, and the operations on them, by way of one planar map."""

from .curves import nodes
from .curves.fitting import deviation, fit, flattened, simplify
from .curves.lengthen import band_groups, curves_across, find_bands, free_bands, lengthened, stretched
from .curves.measure import Margins, centroid, distance, inner_point, length, margins, stroke_bounds
from .curves.offset import JOINS as offset_joins
from .curves.offset import largest_radius, offset, round_corners
from .curves.stroke_outline import CAPS, dashed, stroke_outline
from .engine.operations import cleaned, divide, exclude, intersect, subtract, union
from .engine.planarmap import Cell, PlanarMap
from .path.errors import MapError, OutlineError, PathError
from .path.matrix import IDENTITY, Matrix
from .path.path import Path
from .shapes.edges import EDGES, edge_run, runs_of
from .shapes.lettering import ALIGNMENTS, Lettered, lettering
from .shapes.ready import READY, ready
from .shapes.shapes import ShapeError, boxed, ellipse, polygon, rectangle, star
from .shapes.typefaces import FONTS, axes_of, extents, font_name, has_font, own_font, use_fonts

__all__ = [
    "ALIGNMENTS",
    "CAPS",
    "EDGES",
    "band_groups",
    "curves_across",
    "find_bands",
    "free_bands",
    "lengthened",
    "stretched",
    "FONTS",
    "axes_of",
    "extents",
    "font_name",
    "has_font",
    "own_font",
    "use_fonts",
    "Lettered",
    "READY",
    "stroke_outline",
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
