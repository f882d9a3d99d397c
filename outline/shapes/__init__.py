"""Shapes by numbers, edges, lettering and ready outlines."""

from .edges import EDGES, edge_run, runs_of
from .lettering import ALIGNMENTS, FONTS, Font, Lettered, Placed, lettering
from .shapes import ShapeError, boxed, ellipse, polygon, rectangle, star

__all__ = [
    "ShapeError",
    "rectangle",
    "ellipse",
    "polygon",
    "star",
    "boxed",
    "EDGES",
    "edge_run",
    "runs_of",
    "FONTS",
    "ALIGNMENTS",
    "Font",
    "Lettered",
    "Placed",
    "lettering",
]
